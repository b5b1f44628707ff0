"""The open job's file: opening, saving in the background, what a crash left, and a file that another program changed
meanwhile.
"""

from __future__ import annotations

import threading
from collections.abc import Callable
from datetime import datetime
from functools import partial
from pathlib import Path
from typing import Protocol

from msgspec.structs import replace
from PySide6.QtCore import QEventLoop, QObject
from PySide6.QtWidgets import QWidget

from weighty_axle import demos
from weighty_axle.desk.text import tip, tr
from weighty_axle.desk.work import preferences
from weighty_axle.desk.work.asking import with_ending
from weighty_axle.desk.work.background import Task
from weighty_axle.desk.work.commands import Command
from weighty_axle.desk.work.session import FileChangedError, Origin, Saved, Session
from weighty_axle.job.checks.problem import JobError
from weighty_axle.job.files import journal, store
from weighty_axle.job.files.disk import is_there, path_of, shown, tidy, why
from weighty_axle.job.models.document import Job

FILTER = "Weighty Axle jobs (*.axle *.json)"
ENDINGS = (".axle", ".json")


def when_words(when: float) -> str:
    """The time of day of a moment in seconds, or of none: a damaged journal may say anything."""
    try:
        return datetime.fromtimestamp(when).strftime("%H:%M")
    except (OverflowError, ValueError, OSError):
        return tr("an unknown time")


class Desk(Protocol):
    """What opening and saving ask of the window they are done for."""

    session: Session | None
    preferences: preferences.Preferences

    def start(self, job: Job, path: Path | None, origin: Origin | None = None) -> bool:
        """Open a job; False when it cannot be worked out."""

    def leave(self) -> None:
        """Close the open job."""

    def add_recent(self, path: Path) -> None:
        """Remember a file that was opened or saved."""

    def say(self, text: str, actions: tuple[tuple[str, Callable[[], None]], ...] = ()) -> None:
        """Say a sentence, with presses."""

    def hide_notice(self) -> None:
        """Take back what was said."""

    def hide_sentence(self) -> None:
        """Take back what was said, unless it shows work that runs."""

    def work_silently(self, task: Task) -> None:
        """Work that is usually over before a notice could be read."""


class JobFiles(QObject):
    """Opens and saves for the window; one saving at a time. What it asks stands over `parent`."""

    def __init__(self, desk: Desk, parent: QWidget) -> None:
        super().__init__(parent)
        self._desk, self._parent = desk, parent
        self._saving: Task | None = None
        self._rescuing: Task | None = None
        self._next: tuple[Path, bool] | None = None
        self._loop: QEventLoop | None = None
        self._waiting: list[journal.Recovered] = []

    def commands(self) -> list[Command]:
        """What opens and saves."""
        found = [Command(tr("Open a job…"), "Ctrl+O", self.browse, "job")]
        if self._desk.session is not None:
            found.append(Command(tr("Save"), "Ctrl+S", self.save, "job"))
            found.append(Command(tr("Save as…"), "Ctrl+Shift+S", self.save_as, "job"))
        return found

    def other_jobs(self) -> list[Command]:
        """Demos, new jobs and those opened of late."""
        from weighty_axle.reference.vehicle_types import vehicle_types

        names = demos.names()
        found = [
            Command(tr("Open demo {name}").format(name=name), "", partial(self.open_name, f"demo:{name}"), "demos")
            for name in names
        ]
        found += [
            Command(tr("New job from a {title}").format(title=kind.title), "", partial(self.new_from_type, kind.key))
            for kind in vehicle_types().rows
        ]
        found += [
            Command(tr("New job like {name}").format(name=name), "", partial(self.new_like, name)) for name in names
        ]
        recent = self._desk.preferences.recent
        return found + [
            Command(tr("Open {path}").format(path=path), "", partial(self.open_name, path), "recent") for path in recent
        ]

    # ---- opening ----

    def open_name(self, name: str) -> None:
        """Open a demo or a file; what is wrong with it is said in the window."""
        if not self.may_leave():
            return
        if name.startswith("demo:"):
            self._open_demo(name.removeprefix("demo:"))
        else:
            self.open_file(path_of(name))

    def _open_demo(self, name: str) -> None:
        if name in demos.names():
            self._desk.start(demos.demo(name), None)
        else:
            self._desk.say(
                tr("There is no demo job {name}; there are {names}.").format(
                    name=name[:40], names=", ".join(demos.names())
                )
            )

    def open_file(self, path: Path) -> None:
        """Open a file without asking for the job that is open."""
        try:
            job, stamp = store.load_stamped(path)
        except JobError as error:
            lines = "\n".join(str(problem)[:300] for problem in error.problems[:12])
            more = f"\n… {len(error.problems) - 12} more" if len(error.problems) > 12 else ""
            words = tr("{name} cannot be opened:").format(name=shown(path)) + f"\n{lines}{more}"
            offered = path.is_file() and not any("newer program" in one.message for one in error.problems)
            self._desk.say(words, ((tr("Save what can be saved"), partial(self.rescue, path)),) if offered else ())
            return
        if self._desk.start(job, path, Origin(stamp=stamp)):
            threading.Thread(target=tidy, args=(path.parent,), name="tidy", daemon=True).start()
            self._desk.add_recent(path)

    def rescue(self, path: Path) -> None:
        """Open what can be saved of a damaged file as a job of its own; the file stays as it is."""
        if not self.may_leave():
            return
        task = Task(tr("Saving what can be saved of {name}").format(name=shown(path)), partial(_rescued, path), self)
        task.finished.connect(partial(self._show_rescued, path))
        task.failed.connect(self._desk.say)
        self._rescuing = task
        self._desk.work_silently(task)

    def _show_rescued(self, path: Path, found: tuple[Job, tuple[str, ...]] | str) -> None:
        if isinstance(found, str):
            self._desk.say(found)
            return
        job, told = found
        if self._desk.start(job, None):
            lost = "\n".join(one[:200] for one in told[:10]) or tr("Nothing was lost.")
            self._desk.say(tr("Saved from {name}; it has no file yet.").format(name=shown(path)) + f"\n{lost}")

    def new_like(self, name: str) -> None:
        """A new job that begins as a demo job does."""
        if self.may_leave():
            self._desk.start(replace(demos.demo(name), name="New job", customer="", notes=""), None)

    def new_from_type(self, key: str) -> None:
        """A new job around a vehicle type: the plainest, and three questions that shape it stand above."""
        if self.may_leave():
            from weighty_axle.reference.first_job import first_job
            from weighty_axle.reference.vehicle_types import vehicle_types

            kind = next(row for row in vehicle_types().rows if row.key == key)
            self._desk.start(first_job(kind), None, Origin(begun=kind))

    def browse(self) -> None:
        """Choose a file to open."""
        from PySide6.QtWidgets import QFileDialog

        name, _ = QFileDialog.getOpenFileName(self._parent, tr("Open a job"), str(preferences.home()), FILTER)
        if name:
            self.open_name(name)

    # ---- saving ----

    def save(self) -> None:
        """Save where the job came from, or ask where."""
        session = self._desk.session
        if session is None:
            return
        if session.path is None:
            self.save_as()
        else:
            self._save_to(session.path)

    def save_as(self) -> None:
        """Ask where, and save there."""
        if self._desk.session is None:
            return
        from PySide6.QtWidgets import QFileDialog

        start = f"{self._desk.session.shown.job.name.replace('/', '-')[:60]}.axle"
        name, _ = QFileDialog.getSaveFileName(self._parent, tr("Save the job"), start, FILTER)
        path = with_ending(self._parent, name, *ENDINGS) if name else None
        if path is not None:
            self._save_to(path, over=True)

    def _save_to(self, path: Path, *, over: bool = False) -> None:
        if self._saving is not None:
            self._next = (path, over)
            return
        session = self._desk.session
        assert session is not None
        work = session.save_work(path, over=over)
        self._saving = Task(tr("Saving {name}").format(name=shown(path)), partial(_save, work), self)
        self._saving.finished.connect(partial(self._on_saved, session))
        self._saving.failed.connect(partial(self._on_saved, session))
        self._desk.work_silently(self._saving)

    def _over(self) -> None:
        assert self._saving is not None
        self._saving = None

    def _on_saved(self, session: Session, saved: Saved | FileChangedError | str) -> None:
        self._over()
        if session is not self._desk.session:
            saved = ""  # another job is open by now: this one's file is written, and that is all
        elif isinstance(saved, Saved):
            session.saved(saved)
            self._forget_recovered(session)
            self._desk.hide_sentence()
            self._desk.add_recent(saved.path)
        elif isinstance(saved, FileChangedError):
            self._tell_changed()
        else:
            self._desk.say(tr("The job was not saved: {why}").format(why=saved))
        if self._next is not None and isinstance(saved, Saved):
            # Asked for again meanwhile: what was edited since goes too.
            (path, over), self._next = self._next, None
            self._save_to(path, over=over)
            return
        self._next = None
        if self._loop is not None:
            self._loop.quit()

    def _tell_changed(self) -> None:
        """The file is not what was read: nothing is overwritten before the user has chosen."""
        session = self._desk.session
        assert session is not None and session.path is not None
        path = session.path
        beside = _free_name(path)
        text = tr("{name} was changed by another program or window since it was read here. Nothing was overwritten.")
        self._desk.say(
            text.format(name=shown(path)),
            (
                (tr("Save mine as {name}").format(name=shown(beside)), partial(self._save_to, beside, over=True)),
                (tr("Open theirs, put mine aside"), partial(self._open_theirs, path)),
                (
                    tr("Replace theirs (kept as {name})").format(name=shown(path) + store.PREVIOUS),
                    partial(self._save_to, path, over=True),
                ),
            ),
        )

    def _open_theirs(self, path: Path) -> None:
        """Open what the file holds now; the open job, with what was edited in it, is kept as a job file of its own."""
        session = self._desk.session
        assert session is not None
        try:
            aside = journal.save_aside(session.shown.whole, preferences.state_folder())
        except (OSError, JobError) as error:
            self._desk.say(tr("Yours could not be put aside, so theirs was not opened: {why}").format(why=why(error)))
            return
        self.open_file(path)
        self._desk.say(tr("This is theirs. Yours is kept as {path}.").format(path=aside))

    def may_leave(self) -> bool:
        """Whether the open job may be left; asks when there is something to save, and waits for it."""
        self.wait()
        session = self._desk.session
        if session is None or not session.dirty:
            return True
        from PySide6.QtWidgets import QMessageBox

        buttons = QMessageBox.StandardButton
        answer = QMessageBox.question(
            self._parent,
            "Weighty Axle",
            tip(tr("Save the changes to {name}?").format(name=session.shown.job.name)),
            buttons.Save | buttons.Discard | buttons.Cancel,
        )
        if answer == buttons.Save:
            self.save()
            self.wait()
            return not session.dirty
        if answer == buttons.Discard:
            self._forget_recovered(session)
        return answer == buttons.Discard

    def wait(self) -> None:
        """Wait for a saving that runs; the window goes on being painted."""
        if self._saving is not None and self._loop is None:
            self._loop = QEventLoop()
            self._loop.exec(QEventLoop.ProcessEventsFlag.ExcludeUserInputEvents)
            self._loop = None

    # ---- what a crash left ----

    def offer_recovery(self, found: list[journal.Recovered]) -> None:
        """Show the newest job a crash left; others wait in their journals for the next start."""
        aside = [words for one in found if one.stale and (words := _put_aside(one))]
        self._waiting = [one for one in found if not one.stale]
        while self._waiting and not self._start_recovered(self._waiting[0]):
            aside.append(_put_aside(self._waiting.pop(0)))
        if not self._waiting:
            if aside:
                self._desk.say("\n".join(aside))
            return
        newest = self._waiting[0]
        text = tr("The program ended without saving. {n} edits up to {when} were recovered, the last: {edit}.")
        told = text.format(
            n=newest.header.unsaved_edits, when=when_words(newest.header.when), edit=newest.header.last_edit[:120]
        )
        self._desk.say(
            "\n".join((told, *aside)),
            ((tr("Keep"), self._keep_recovered), (tr("Go back to what was saved"), self._drop_recovered)),
        )

    def _start_recovered(self, recovered: journal.Recovered) -> bool:
        path, in_file, stamp = (path_of(recovered.header.path) if recovered.header.path else None), None, None
        if path is not None:
            try:
                in_file, stamp = store.load_stamped(path)
            except JobError:
                stamp = None  # it is gone, or damaged: saving there asks first
        origin = Origin(stamp=stamp, in_file=in_file, follows=recovered.folder.name)
        if not self._desk.start(recovered.job, path, origin):
            return False
        session = self._desk.session
        assert session is not None
        session.mark_unsaved()
        session.flush()
        return True

    def mention_recovery(self, found: list[journal.Recovered]) -> None:
        """Say that a crash left work, without taking the asked-for job away."""
        self._desk.say(
            tr("Unsaved work on {name} was found.").format(name=found[0].job.name),
            ((tr("Open it"), partial(self._open_recovered, found)), (tr("Later"), self._desk.hide_notice)),
        )

    def _open_recovered(self, found: list[journal.Recovered]) -> None:
        if self.may_leave():
            self.offer_recovery(found)

    def _keep_recovered(self) -> None:
        self._forget_recovered(self._desk.session)
        self._desk.hide_notice()

    def _forget_recovered(self, session: Session | None) -> None:
        """What the open job was recovered from has had its answer: it is kept in this program's own journal, saved, or
        not wanted.
        """
        if session is not None and self._waiting and session.follows == self._waiting[0].folder.name:
            journal.discard(self._waiting.pop(0).folder)

    def _drop_recovered(self) -> None:
        recovered = self._waiting[0]
        self._forget_recovered(self._desk.session)
        self._desk.leave()
        path = path_of(recovered.header.path) if recovered.header.path else None
        if path is not None and is_there(path):
            self.open_file(path)


def _save(work: Callable[[], Saved], _progress: Callable[[float, str], None]) -> Saved | FileChangedError | str:
    """What was saved, or why not."""
    try:
        return work()
    except FileChangedError as error:
        return error
    except (OSError, JobError) as error:
        return why(error)


def _put_aside(one: journal.Recovered) -> str:
    """Put a recovered job that cannot be offered beside the journals, and say where."""
    try:
        path = journal.put_aside(one)
    except (OSError, JobError) as error:
        return tr("Unsaved work on {name} could not be put aside: {why}").format(name=one.job.name, why=why(error))
    text = tr("Unsaved work on {name} is not newer than its file, or cannot be worked out; it was put aside as {path}.")
    return text.format(name=one.job.name, path=path)


def _free_name(path: Path) -> Path:
    """A name beside a file that nothing has."""
    number = 2
    while (free := path.with_name(f"{path.stem} ({number}){path.suffix}")).exists():
        number += 1
    return free


def _rescued(path: Path, progress: Callable[[float, str], None]) -> tuple[Job, tuple[str, ...]] | str:
    """What can be saved of a file and what was lost, or the sentence of why nothing can."""
    from weighty_axle.studies.rescue import RescueError, rescue

    progress(0.2, path.name)
    try:
        found = rescue(path)
    except RescueError as error:
        return str(error)
    return found.job, found.told
