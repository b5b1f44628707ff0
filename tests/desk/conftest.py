"""The real window, offscreen or under Xvfb. Unexpected errors in slots fail the test (pytest-qt), so do Qt warnings."""

from __future__ import annotations

import os

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy  # noqa: F401  # there from the start, so that what is shown does not depend on when its import ends
import pytest
from PySide6.QtTest import QTest

from tests.desk.hands import Hands
from weighty_axle.desk.app import make_application
from weighty_axle.desk.frame.window import Window
from weighty_axle.desk.kit.theme import apply_look
from weighty_axle.desk.work import preferences


@pytest.fixture(autouse=True)
def own_folders(tmp_path, monkeypatch, request):
    """Preferences and journals of a test stay in its own folder; an error that was logged and told in a sentence fails
    it, unless it is about that.
    """
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path / "config"))
    yield
    log = tmp_path / "state" / "weighty-axle" / "errors.log"
    if request.node.get_closest_marker("logs_errors") is None and log.exists():
        pytest.fail(log.read_text())


@pytest.fixture(scope="session")
def qapp_cls():
    return lambda _args: make_application()


@pytest.fixture
def open_window(qapp, qtbot, tmp_path):
    """Opens the window with a demo or file; closes it without asking at the end."""

    def opened(name: str | None = "demo:eye-clinic", **kept) -> Window:
        apply_look(qapp, kept.get("look", "light"), 1.0)
        window = Window(
            preferences.Preferences(**{"safety_read": True, **kept}), tmp_path / "state" / "weighty-axle" / "journal"
        )
        if name is not None:
            window.open_name(name)
        window.show()
        window.activateWindow()
        QTest.qWaitForWindowActive(window)
        qtbot.addWidget(window, before_close_func=_forget_changes)
        return window

    return opened


def _forget_changes(window: Window) -> None:
    """Closing must not ask."""
    if window.session is not None:
        window.session._saved_job = window.session.shown.whole


@pytest.fixture
def window(open_window):
    return open_window()


@pytest.fixture
def hands(open_window):
    """An installer at an empty window, with a vehicle and answers to the first questions."""

    def opened(vehicle, *answers):
        return Hands(open_window(None), vehicle, *answers)

    return opened
