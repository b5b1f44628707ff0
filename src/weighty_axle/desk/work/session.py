"""The session: current job, its design and findings, undo, selection, file and journal.

Views read it and send edits.
"""

from __future__ import annotations

import time
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from msgspec import Struct
from PySide6.QtCore import QObject, Signal

from weighty_axle.design.derive import Deriver
from weighty_axle.design.table import Design
from weighty_axle.desk.work.error_log import log_error
from weighty_axle.desk.work.keeping import Keeper, KeptState
from weighty_axle.job.checks.whole import problems
from weighty_axle.job.edits.edit import Edit, EditRefusedError
from weighty_axle.job.files import store
from weighty_axle.job.files.disk import text_of
from weighty_axle.job.files.journal import Header
from weighty_axle.job.models.document import Job
from weighty_axle.job.systems import HOUSE
from weighty_axle.rules.judge import Judged, judge
from weighty_axle.rules.registry import Finding

if TYPE_CHECKING:
    from weighty_axle.reference.vehicle_types import VehicleType

MOST_UNDO = 1000


class Shown(Struct, frozen=True):
    """What views show: the design of the system on show, the findings of all, and that design before the last step;
    `house` is the first system's with those of all others beside it.
    """

    design: Design
    findings: tuple[Finding, ...]
    before: Design
    house: Design

    @property
    def job(self) -> Job:
        """The system on show, as a job of its own."""
        return self.design.job

    @property
    def whole(self) -> Job:
        """The job as it is stated."""
        return self.design.whole


def _one_of(house: Design, key: str) -> Design:
    """The design of a system; the house's where there is no such system any more."""
    return next((one for one in house.others if one.system.key == key), house)


class FileChangedError(Exception):
    """The file is not what was last read or written here: another program or window saved it."""


class Saved(Struct, frozen=True):
    """What was written where."""

    job: Job
    path: Path
    stamp: store.Stamp


class Origin(Struct, frozen=True, kw_only=True):
    """Where an opened job is from: `stamp` is what its file was when it was read, `in_file` the job that held where it
    is another, `follows` the journal a recovered job is from, `begun` the vehicle type a new one is around.
    """

    stamp: store.Stamp | None = None
    in_file: Job | None = None
    follows: str = ""
    begun: VehicleType | None = None


class _Done(Struct, frozen=True):
    label: str
    before: Job
    merge: str


class Session(QObject):
    """One open job. `begun` is the vehicle type a new one began around, while its shape is still asked;
    `sheet_asked` asks for the sheet of a tag."""

    changed = Signal(object)
    file_changed = Signal()
    selected = Signal(object)
    sheet_asked = Signal(str)

    def __init__(
        self,
        job: Job,
        path: Path | None,
        journal_root: Path | None,
        parent: QObject | None = None,
        origin: Origin | None = None,
    ) -> None:
        """A job that is from nowhere has no `origin`."""
        super().__init__(parent)
        self.path = path
        origin = origin or Origin()
        self.begun, self._stamp, self.follows = origin.begun, origin.stamp, origin.follows
        self.selection: tuple[str, ...] = ()
        self._deriver = Deriver()
        self._done: list[_Done] = []
        self._undone: list[tuple[str, Job]] = []
        self._saved_job: Job | None = job
        self._unsaved_edits = 0
        self._in_file: tuple[Job, ...] = (origin.in_file or job,) if path is not None else ()
        self.system = HOUSE
        self._judged_others = Judged()
        design = self._deriver.derive(job)
        self.shown = Shown(design, judge(design, self._judged_others), design, design)
        # Last: a job that cannot be derived leaves no thread behind.
        self._keeper = Keeper(journal_root) if journal_root is not None else None

    # ---- edits ----

    def apply(self, edit: Edit) -> str | None:
        """Carry out an edit. Returns a sentence when it is refused; then nothing has changed."""
        try:
            job = edit.on(self.shown.whole, self.system)
        except EditRefusedError as error:
            return str(error)
        except Exception as error:  # whatever it is, the job stays as it was and the user is told
            return _cannot(error)
        if job == self.shown.whole:
            return None
        wrong = problems(job, self.shown.whole)
        if wrong:
            return wrong[0].message
        judged = self._judged(job)
        if isinstance(judged, str):
            return judged
        goes_on = bool(edit.merge) and bool(self._done) and self._done[-1].merge == edit.merge and not self._undone
        if not goes_on:
            self._done.append(_Done(edit.label, self.shown.whole, edit.merge))
            del self._done[:-MOST_UNDO]
        self._undone.clear()
        self._show(judged, self.shown.before if goes_on else self.shown.design, edit.label)
        return None

    def _judged(self, job: Job) -> tuple[Design, tuple[Finding, ...]] | str:
        """Design and findings of a job, or the sentence of why there are none; nothing has changed then."""
        try:
            design = self._deriver.derive(job)
            return design, judge(design, self._judged_others)
        except Exception as error:  # as above
            return _cannot(error)

    def show_system(self, key: str) -> None:
        """Show another system of the job."""
        self.system = key
        design = _one_of(self.shown.house, key)
        self.shown = Shown(design, self.shown.findings, design, self.shown.house)
        self.changed.emit(self.shown)
        self.file_changed.emit()

    def undo(self, count: int = 1) -> None:
        """Take the last steps back."""
        job, label = self.shown.whole, ""
        for done in reversed(self._done[-count:]):
            self._undone.append((done.label, job))
            job, label = done.before, done.label
        if job is not self.shown.whole:
            del self._done[-count:]
            self._go_back_to(job, f"Undo: {label}")

    def redo(self) -> None:
        """Do the last undone step again."""
        if self._undone:
            label, job = self._undone.pop()
            self._done.append(_Done(label, self.shown.whole, ""))
            self._go_back_to(job, label)

    def _go_back_to(self, job: Job, label: str) -> None:
        """Show a job that was shown before."""
        design = self._deriver.derive(job)
        self._show((design, judge(design, self._judged_others)), self.shown.design, label)

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

    def _show(self, judged: tuple[Design, tuple[Finding, ...]], before: Design, label: str) -> None:
        house, findings = judged
        self.shown = Shown(_one_of(house, self.system), findings, before, house)
        self.system = self.shown.design.system.key
        self._unsaved_edits += 1
        self._keep(label)
        self.changed.emit(self.shown)
        self.file_changed.emit()

    def _keep(self, label: str, path: Path | None = None) -> None:
        """Have the present state written to the journal; `path` where its file is about to be another."""
        if self._keeper is not None:
            unsaved = max(1, self._unsaved_edits) if self.dirty else 0
            path = path or self.path
            header = Header(
                text_of(path) if path is not None else "", unsaved, label, time.time(), follows=self.follows
            )
            self._keeper.keep(KeptState(self.shown.whole, header, self._in_file))

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
        return self.shown.whole is not self._saved_job and self.shown.whole != self._saved_job

    def mark_unsaved(self) -> None:
        """Treat the job as not saved: a recovered one."""
        self._saved_job = None
        self._unsaved_edits = 1
        self._keep("Recovered")
        self.file_changed.emit()

    def save_work(self, path: Path, *, over: bool = False) -> Callable[[], Saved]:
        """Writing the present job to a file, as work for any thread. `over`: whatever the file is now.

        The work raises FileChangedError, OSError or JobError; nothing has changed then. `saved` takes what it returns.
        """
        job = self.shown.whole
        self._in_file = (*self._in_file[-1:], job)
        self._keep("Save", path)  # that it may be in the file is on the disk before it is
        known = None if over or path != self.path else (self._stamp,)
        return partial(_save, job, path, self.path, known, self.flush)

    def saved(self, saved: Saved) -> None:
        """The present job's file is this one from now on."""
        self.path, self._stamp, self._saved_job = saved.path, saved.stamp, saved.job
        self._in_file = (saved.job,)
        self._unsaved_edits = 0 if self.shown.whole is saved.job else 1
        self._keep("Save")
        self.file_changed.emit()

    def save(self, path: Path) -> None:
        """Write the job to a file and wait for it.

        Raises FileChangedError, OSError, JobError; then the session is as before.
        """
        self.saved(self.save_work(path)())

    @property
    def saved_at(self) -> float:
        """When the file was last written as far as is known here, in seconds; 0 when it is not known."""
        return self._stamp.time_ns / 1e9 if self._stamp is not None else 0.0

    @property
    def autosave_problem(self) -> str:
        """Why edits are not reaching the journal (disk full ...); empty when all is well."""
        return self._keeper.problem if self._keeper is not None else ""

    def flush(self) -> None:
        """Wait until every edit so far is in the journal."""
        if self._keeper is not None:
            self._keeper.flush()

    def close(self) -> None:
        """End properly; the journal goes."""
        if self._keeper is not None:
            self._keeper.close()
            self._keeper = None


def _cannot(error: Exception) -> str:
    """The sentence of a change that failed by a mistake of ours; the details go into the log."""
    log = log_error(error)
    return f"This change cannot be worked out; the job is as it was. The details are in {log}."


def _save(
    job: Job, path: Path, carry_from: Path | None, known: tuple[store.Stamp | None] | None, flush: Callable[[], None]
) -> Saved:
    flush()
    if known is not None and store.changed_since(path, known[0]):
        raise FileChangedError(path.name)
    stamp = store.save(job, path, carry_from=carry_from if carry_from is not None and carry_from.is_file() else None)
    return Saved(job, path, stamp)
