"""One way to run long work: frozen inputs in, a frozen result out, progress, cancel, always back on the window's
thread.
"""

from __future__ import annotations

import threading
from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QObject, Signal, Slot
from shiboken6 import isValid

if TYPE_CHECKING:
    from concurrent.futures import Future, ThreadPoolExecutor


class CancelledError(Exception):
    """The user cancelled; raised inside the work by its progress call."""


class Task(QObject):
    """One piece of work. `work(progress)` runs on a thread; the signals arrive on the thread that made the task.

    It belongs to no widget, since it must outlive the thread's use of it; when its owner is gone meanwhile, nobody is
    told.
    """

    progressed = Signal(float, str)
    finished = Signal(object)
    failed = Signal(str)
    _ended = Signal(object, object)

    def __init__(self, title: str, work: Callable[[Callable[[float, str], None]], Any], owner: QObject) -> None:
        super().__init__()
        self.title = title
        self._work, self._owner = work, owner
        self._cancelled = threading.Event()
        self.told = False
        self._ended.connect(self._back)

    def run(self) -> None:
        """Do the work (on the pool's thread)."""
        try:
            result, error = self._work(self._progress), None
        except Exception as raised:
            result, error = None, raised
        self._ended.emit(result, error)

    def cancel(self) -> None:
        """Ask the work to stop at its next progress call."""
        self._cancelled.set()

    def _progress(self, share: float, words: str) -> None:
        if self._cancelled.is_set():
            raise CancelledError
        self.progressed.emit(share, words)

    @Slot(object, object)
    def _back(self, result: object, error: Exception | None) -> None:
        self.told = True
        if not isValid(self._owner):
            return
        if isinstance(error, CancelledError):
            self.failed.emit("")
        elif isinstance(error, OSError):
            self.failed.emit(f"{error.filename or ''}: {error.strerror or error}")
        elif error is not None:
            self.failed.emit(str(error))
            raise error
        else:
            self.finished.emit(result)


class Background(QObject):
    """A small pool of threads for tasks."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._pool: ThreadPoolExecutor | None = None
        self._kept: list[tuple[Task, Future[None]]] = []

    def start(self, task: Task) -> None:
        """Queue a task."""
        if self._pool is None:
            from concurrent.futures import ThreadPoolExecutor

            self._pool = ThreadPoolExecutor(max_workers=2, thread_name_prefix="work")
        # A task is let go here, on the window's thread, once its end was told and its own thread is done with it: never
        # by that thread.
        self._kept = [(one, future) for one, future in self._kept if not (one.told and future.done())]
        self._kept.append((task, self._pool.submit(task.run)))

    def close(self) -> None:
        """Wait for what runs, drop what waits."""
        if self._pool is not None:
            self._pool.shutdown(wait=True, cancel_futures=True)
        self._kept.clear()
