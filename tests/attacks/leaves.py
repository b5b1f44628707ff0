"""Every step and leaf of the window for a job: what goes wrong in showing it, and what takes long."""

from __future__ import annotations

import time
from collections.abc import Iterator

from PySide6.QtCore import QEvent
from PySide6.QtWidgets import QApplication

from weighty_axle.desk.frame.window import Window
from weighty_axle.job.models.document import Job
from weighty_axle.job.sheets import stated_paths
from weighty_axle.job.systems import systems
from weighty_axle.steps import STEPS


def show_everything(window: Window, job: Job) -> Iterator[tuple[str, float]]:
    """Open a job and turn to everything; each with the seconds it held the window."""
    began = time.monotonic()
    for name in _turns(window, job):
        window.grab()
        QApplication.processEvents()
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
        yield name, time.monotonic() - began
        began = time.monotonic()


def _turns(window: Window, job: Job) -> Iterator[str]:
    """Turns to one step and leaf after another; names it once it is on show."""
    assert window.start(job, None)
    assert window.bench is not None and window.session is not None
    for system in systems(job):
        window.session.show_system(system.key)
        for step in (one.key for one in STEPS):
            window.go(step)
            view = window.bench.view(step)
            for leaf in view.leaf_names:
                window.bench.turn_to(leaf)
                yield f"{system.key} {step} {leaf}".strip()
    for path in ("", *(path for path, field in stated_paths(job) if field.form == "part")):
        window.bench.sheet.open_path(path)
    yield "sheets"
