"""The session: current job, its design and findings, undo, selection, file and journal. Views read it and send edits."""

from __future__ import annotations

import threading
import time
from pathlib import Path
from queue import SimpleQueue

from msgspec import Struct
from PySide6.QtCore import QObject, Signal

from weighty_axle.design.derive import Deriver, Design
from weighty_axle.job import store
from weighty_axle.job.checks import problems
from weighty_axle.job.edits import Edit, EditRefusedError
from weighty_axle.job.journal import Header, Journal
from weighty_axle.job.model import Job
from weighty_axle.rules.judge import judge
from weighty_axle.rules.registry import Finding

MOST_UNDO = 1000


class Shown(Struct, frozen=True):
    """What views show: the design with its findings, and the design before the last step."""

    design: Design
    findings: tuple[Finding, ...]
    before: Design

    @property
    def job(self) -> Job:
        """The job the design belongs to."""
        return self.design.job


class _Done(Struct, frozen=True):
    label: str
    before: Job
    merge: str


class Session(QObject):
    """One open job."""

    changed = Signal(object)
    file_changed = Signal()
    selected = Signal(object)

    def __init__(self, job: Job, path: Path | None, journal_root: Path | None, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.path = path
        self.selection: tuple[str, ...] = ()
        self._deriver = Deriver()
        self._done: list[_Done] = []
        self._undone: list[tuple[str, Job]] = []
        self._saved_job: Job | None = job
        self._unsaved_edits = 0
        self._writer = _JournalWriter(journal_root) if journal_root is not None else None
        design = self._deriver.derive(job)
        self.shown = Shown(design, judge(design), design)

    # ---- edits ----

    def apply(self, edit: Edit) -> str | None:
        """Carry out an edit. Returns a sentence when it is refused; then nothing has changed."""
        try:
            job = edit.apply(self.shown.job)
        except EditRefusedError as error:
            return str(error)
        if job == self.shown.job:
            return None
        wrong = problems(job, self.shown.job)
        if wrong:
            return wrong[0].message
        goes_on = bool(edit.merge) and bool(self._done) and self._done[-1].merge == edit.merge and not self._undone
        if not goes_on:
            self._done.append(_Done(edit.label, self.shown.job, edit.merge))
            del self._done[:-MOST_UNDO]
        self._undone.clear()
        self._show(job, self.shown.before if goes_on else self.shown.design, edit.label)
        return None

    def undo(self) -> None:
        """Take the last step back."""
        if self._done:
            done = self._done.pop()
            self._undone.append((done.label, self.shown.job))
            self._show(done.before, self.shown.design, f"Undo: {done.label}")

    def redo(self) -> None:
        """Do the last undone step again."""
        if self._undone:
            label, job = self._undone.pop()
            self._done.append(_Done(label, self.shown.job, ""))
            self._show(job, self.shown.design, label)

    @property
    def undo_label(self) -> str:
        """Words of the step undo takes back; empty when there is none."""
        return self._done[-1].label if self._done else ""

    @property
    def redo_label(self) -> str:
        """Words of the step redo does again; empty when there is none."""
        return self._undone[-1][0] if self._undone else ""

    def undo_steps(self) -> tuple[str, ...]:
        """Words of all steps that can be undone, newest first."""
        return tuple(done.label for done in reversed(self._done))

    def _show(self, job: Job, before: Design, label: str) -> None:
        design = self._deriver.derive(job)
        self.shown = Shown(design, judge(design), before)
        self._unsaved_edits += 1
        if self._writer is not None:
            path = str(self.path) if self.path else ""
            unsaved = self._unsaved_edits if self.dirty else 0
            self._writer.write(job, Header(path, unsaved, label, time.time()))
        self.changed.emit(self.shown)
        self.file_changed.emit()

    # ---- selection ----

    def select(self, *tags: str) -> None:
        """Select things by tag; everything that shows them lights them up."""
        if tags != self.selection:
            self.selection = tags
            self.selected.emit(tags)

    # ---- file ----

    @property
    def dirty(self) -> bool:
        """Whether there is something to save."""
        return self.shown.job is not self._saved_job and self.shown.job != self._saved_job

    def mark_unsaved(self) -> None:
        """Treat the job as not saved: a recovered one."""
        self._saved_job = None
        self._unsaved_edits = 1
        if self._writer is not None:
            self._writer.write(self.shown.job, Header(str(self.path or ""), 1, "Recovered", time.time()))
        self.file_changed.emit()

    def save(self, path: Path) -> None:
        """Write the job to a file. Raises OSError, JobError; then the session is as before."""
        store.save(self.shown.job, path, carry_from=self.path if self.path and self.path.exists() else None)
        self.path = path
        self._saved_job = self.shown.job
        self._unsaved_edits = 0
        if self._writer is not None:
            self._writer.write(self.shown.job, Header(str(path), 0, "Save", time.time()))
        self.file_changed.emit()

    @property
    def autosave_problem(self) -> str:
        """Why edits are not reaching the journal (disk full ...); empty when all is well."""
        return self._writer.problem if self._writer is not None else ""

    def flush(self) -> None:
        """Wait until every edit so far is in the journal."""
        if self._writer is not None:
            self._writer.flush()

    def close(self) -> None:
        """End properly; the journal goes."""
        if self._writer is not None:
            self._writer.close()
            self._writer = None


class _JournalWriter:
    """Writes the newest state on a thread of its own; states that are overtaken while one is being written are skipped."""

    def __init__(self, root: Path) -> None:
        self._journal = Journal(root)
        self._queue: SimpleQueue[tuple[Job, Header] | threading.Event | None] = SimpleQueue()
        self._thread = threading.Thread(target=self._run, name="journal", daemon=True)
        self._thread.start()
        self.problem = ""

    def write(self, job: Job, header: Header) -> None:
        self._queue.put((job, header))

    def flush(self) -> None:
        done = threading.Event()
        self._queue.put(done)
        done.wait()

    def close(self) -> None:
        self._queue.put(None)
        self._thread.join()
        self._journal.close()

    def _run(self) -> None:
        """Take everything that waits, write the newest state in it, then tell those who wait for the flush."""
        while True:
            waiting = [self._queue.get()]
            while not self._queue.empty():
                waiting.append(self._queue.get())
            newest = next((one for one in reversed(waiting) if isinstance(one, tuple)), None)
            if newest is not None:
                self._record(*newest)
            for one in waiting:
                if isinstance(one, threading.Event):
                    one.set()
            if None in waiting:
                return

    def _record(self, job: Job, header: Header) -> None:
        try:
            self._journal.record(job, header)
            self.problem = ""
        except OSError as error:
            self.problem = error.strerror or str(error)
