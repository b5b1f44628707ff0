"""A window with nothing of the user's: own folders, no dialogs, and a list of everything it was told went wrong."""

from __future__ import annotations

import contextlib
import os
import sys
import tempfile
import traceback
from collections.abc import Iterator
from pathlib import Path

import numpy  # noqa: F401  # there from the start, as a moment after any start
from PySide6.QtCore import qInstallMessageHandler
from PySide6.QtWidgets import QFileDialog, QMessageBox

from weighty_axle.desk.app import make_application
from weighty_axle.desk.frame.window import Window
from weighty_axle.desk.kit.theme import apply_look
from weighty_axle.desk.work import session
from weighty_axle.desk.work.preferences import Preferences

_OF_THE_PLATFORM = ("This plugin does not support",)
"""What Qt says of the platform without a screen."""


@contextlib.contextmanager
def screen() -> Iterator[tuple[Window, list[str]]]:
    """A window with a demo open, and what goes wrong in it."""
    told: list[str] = []

    def hook(kind: type[BaseException], error: BaseException, trace: object) -> None:
        frames = traceback.extract_tb(error.__traceback__)[-3:]
        told.append(
            f"{kind.__name__} {' < '.join(f'{Path(one.filename).name}:{one.lineno}' for one in reversed(frames))}: "
            f"{str(error)[:120]}"
        )

    def warned(_kind: object, _context: object, message: str) -> None:
        if not message.startswith(_OF_THE_PLATFORM):
            told.append(f"Qt: {message[:160]}")

    def logged(error: BaseException) -> Path:
        hook(type(error), error, None)
        return Path()

    with tempfile.TemporaryDirectory() as folder, contextlib.ExitStack() as stack:
        for name in ("XDG_STATE_HOME", "XDG_CONFIG_HOME", "XDG_DATA_HOME"):
            os.environ[name] = str(Path(folder) / name.lower())
        for owner, name, stand_in in (
            (QFileDialog, "getSaveFileName", staticmethod(lambda *_: ("", ""))),
            (QFileDialog, "getOpenFileName", staticmethod(lambda *_: ("", ""))),
            (QFileDialog, "getExistingDirectory", staticmethod(lambda *_: "")),
            (QMessageBox, "question", staticmethod(lambda *_: QMessageBox.StandardButton.Discard)),
            (sys, "excepthook", hook),
            (session, "log_error", logged),
        ):
            stack.callback(setattr, owner, name, getattr(owner, name))
            setattr(owner, name, stand_in)
        stack.callback(qInstallMessageHandler, qInstallMessageHandler(warned))
        application = make_application()
        apply_look(application, "light", 1.0)
        window = Window(Preferences(safety_read=True), Path(folder) / "journal")
        window.open_name("demo:eye-clinic")
        window.show()
        try:
            yield window, told
        finally:
            if window.session is not None:
                window.session._saved_job = window.session.shown.job
            window.close()
            application.processEvents()
