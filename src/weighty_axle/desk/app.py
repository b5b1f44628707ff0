"""Starting the window: application, fonts, last resort for errors, signals from the terminal."""

from __future__ import annotations

import gc
import signal
import sys
import threading
from pathlib import Path
from types import TracebackType

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QApplication

from weighty_axle.desk.frame.window import Window
from weighty_axle.desk.kit.theme import apply_look, load_fonts
from weighty_axle.desk.work import preferences
from weighty_axle.desk.work.error_log import log_error
from weighty_axle.job.files import journal
from weighty_axle.job.files.disk import tidy

# As many new things before each look at the young, the older and all of them; common figures are 700, 10, 10.
_COLLECT_AFTER = (20_000, 20, 100)
ICON = Path(__file__).parent.parent / "assets" / "icons" / "weighty-axle.svg"


def make_application() -> QApplication:
    """The application with fonts and names; the look is applied from the preferences."""
    running = QApplication.instance()
    application = running if isinstance(running, QApplication) else QApplication(["weighty-axle"])
    application.setApplicationName("weighty-axle")
    application.setApplicationDisplayName("Weighty Axle")
    application.setDesktopFileName("weighty-axle")
    load_fonts()
    return application


def run(name: str | None) -> int:
    """Open the window, with a job file or `demo:NAME` if given; returns the exit status."""
    application = make_application()
    kept = preferences.load()
    apply_look(application, kept.look, kept.text_scale)
    root = preferences.state_folder() / "journal"
    found = journal.left_behind(root)
    window = Window(kept, root)
    sys.excepthook = _Hook(window)
    signal.signal(signal.SIGINT, lambda *_: window.close())
    # Python sees a signal only between its own instructions; a slow tick gives it the chance.
    tick = QTimer()
    tick.timeout.connect(lambda: None)
    tick.start(400)
    if found and name is None:
        window.jobs.offer_recovery(found)
    elif name is not None:
        window.open_name(name)
        if found:
            window.jobs.mention_recovery(found)
    window.show()
    settle_memory()
    threading.Thread(target=_tidy, args=(kept.recent,), name="tidy", daemon=True).start()
    # Drawing the icon loads another Qt plugin: not before the first screen stands.
    QTimer.singleShot(0, lambda: _set_icon(application))
    return application.exec()


def settle_memory() -> None:
    """Pass over what stands by now, as it lives as long as the window, and look for what else is left over more
    rarely: collecting does not show while dragging.
    """
    gc.freeze()
    gc.set_threshold(*_COLLECT_AFTER)
    gc.enable()


def _tidy(recent: tuple[str, ...]) -> None:
    """Take away what a crash left half-written where jobs were saved of late; a slow folder holds nobody up."""
    for folder in {preferences.state_folder().parent, *(Path(one).parent for one in recent)}:
        tidy(folder)


def _set_icon(application: QApplication) -> None:
    from PySide6.QtGui import QIcon

    application.setWindowIcon(QIcon(str(ICON)))


class _Hook:
    """Last resort: an error nobody expected is logged once and told in a sentence; the autosave keeps the work."""

    def __init__(self, window: Window) -> None:
        self._window = window

    def __call__(self, kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        if issubclass(kind, KeyboardInterrupt):
            self._window.close()
            return
        self._window.tell_error(log_error(error.with_traceback(trace)))
