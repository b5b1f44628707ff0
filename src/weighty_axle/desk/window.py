"""The window: top bar, notices, and the workbench of the open job."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from msgspec.structs import replace
from PySide6.QtGui import QCloseEvent, QDragEnterEvent, QDropEvent, QKeySequence, QShortcut, QShowEvent
from PySide6.QtWidgets import QApplication, QVBoxLayout, QWidget

from weighty_axle import demos
from weighty_axle.desk import preferences
from weighty_axle.desk.background import Background, Task
from weighty_axle.desk.commands import Command
from weighty_axle.desk.file_work import FileWork
from weighty_axle.desk.preferences import Preferences
from weighty_axle.desk.session import Session
from weighty_axle.desk.text import tr
from weighty_axle.desk.theme import apply_look
from weighty_axle.desk.topbar import NoticeBar, TopBar
from weighty_axle.desk.widgets.rail import TITLES
from weighty_axle.desk.workbench import Workbench
from weighty_axle.job import journal, store
from weighty_axle.job.checks import JobError
from weighty_axle.job.edits import Edit
from weighty_axle.job.model import Job
from weighty_axle.rules.registry import Step
from weighty_axle.units import System

if TYPE_CHECKING:
    from weighty_axle.desk.widgets.command_palette import CommandPalette

FILTER = "Weighty Axle jobs (*.axle *.json)"


class Window(QWidget):
    """One window, at most one open job."""

    def __init__(self, kept: Preferences, journal_root: Path | None) -> None:
        super().__init__()
        self.preferences, self._journal_root = kept, journal_root
        self.session: Session | None = None
        self.bench: Workbench | None = None
        self._background = Background(self)
        self.files = FileWork(self)
        self._waiting: list[journal.Recovered] = []
        self.setWindowTitle("Weighty Axle")
        self.resize(1280, 800)
        self.setMinimumSize(1024, 700)
        self.setAcceptDrops(True)
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(0)
        self.bar: TopBar | None = None
        self.notice: NoticeBar | None = None
        self._body: QWidget | None = None
        self._palette: CommandPalette | None = None
        for keys, do in self._keys():
            QShortcut(QKeySequence(keys), self, do)

    def _keys(self) -> list[tuple[str, Callable[[], None]]]:
        keys: list[tuple[str, Callable[[], None]]] = [
            ("Ctrl+K", self.find_or_do), ("Ctrl+Z", self.undo), ("Ctrl+Shift+Z", self.redo), ("Ctrl+Y", self.redo), ("Ctrl+S", self.save),
            ("Ctrl+Shift+S", self.save_as), ("Ctrl+O", self.browse), ("Ctrl+P", self.print_pack), ("F1", self.find_or_do), ("F9", self.toggle_strip),
        ]  # fmt: skip
        return keys + [(str(index + 1), partial(self.go, step)) for index, step in enumerate(TITLES)]

    @property
    def palette_list(self) -> CommandPalette:
        """Find or do, made when first asked for."""
        if self._palette is None:
            from weighty_axle.desk.widgets.command_palette import CommandPalette

            self._palette = CommandPalette(self, self.commands)
        return self._palette

    def find_or_do(self) -> None:
        """Open find or do."""
        self.palette_list.open()

    # ---- building ----

    def _build(self, step: Step) -> None:
        """Build everything that carries colours and units; the session stays."""
        for old in (self.bar, self.notice, self._body):
            if old is not None:
                self._column.removeWidget(old)
                old.hide()
                old.deleteLater()
        self.bar = TopBar(self.find_or_do, self.undo, self.print_pack, self.save, self._menu)
        self.notice = NoticeBar()
        self._column.addWidget(self.bar)
        self._column.addWidget(self.notice)
        self._body = QWidget()
        inner = QVBoxLayout(self._body)
        inner.setContentsMargins(0, 0, 0, 0)
        inner.setSpacing(0)
        if not self.preferences.safety_read:
            from weighty_axle.desk.safety_note import SafetyNote

            note = SafetyNote()
            note.read.connect(self._safety_read)
            inner.addWidget(note)
        if self.session is not None:
            self.bench = Workbench(self.session, self.preferences.units, step)
            self.bench.wants.connect(self.files.do)
            self.bench.works.connect(self.work_quietly)
            inner.addWidget(self.bench, 1)
            self.bar.show_session(self.session)
        else:
            self.bench = None
            from weighty_axle.desk.start_page import StartPage

            inner.addWidget(StartPage(self.open_name, self.new_from_type, self.browse, self.preferences.recent), 1)
        self._column.addWidget(self._body, 1)

    def _safety_read(self) -> None:
        self._remember(safety_read=True)
        note = self.sender()
        if isinstance(note, QWidget):
            note.hide()
            note.deleteLater()

    def _remember(self, **changes: object) -> None:
        self.preferences = replace(self.preferences, **changes)
        preferences.keep(self.preferences)

    def _step(self) -> Step:
        return self.bench.step if self.bench is not None else "brief"

    # ---- jobs ----

    def start(self, job: Job, path: Path | None) -> None:
        """Open a job in the window."""
        old = self.session
        self.session = Session(job, path, self._journal_root, self)
        self.session.file_changed.connect(self._show_file)
        self._build("brief")
        self._show_file()
        if old is not None:
            old.close()
            old.deleteLater()

    def open_name(self, name: str) -> None:
        """Open a demo or a file; what is wrong with it is said in the window."""
        if not self._may_leave():
            return
        if name.startswith("demo:"):
            self.start(demos.demo(name.removeprefix("demo:")), None)
            return
        path = Path(name)
        try:
            job = store.load(path)
        except JobError as error:
            lines = "\n".join(str(problem) for problem in error.problems[:12])
            more = f"\n… {len(error.problems) - 12} more" if len(error.problems) > 12 else ""
            self.say(tr("{name} cannot be opened:").format(name=path.name) + f"\n{lines}{more}")
            return
        self.start(job, path)
        self._add_recent(path)

    def new_like(self, name: str) -> None:
        """A new job that begins as a demo job does."""
        if self._may_leave():
            self.start(replace(demos.demo(name), name="New job", customer="", notes=""), None)

    def new_from_type(self, key: str) -> None:
        """A new job around a vehicle type."""
        if self._may_leave():
            from weighty_axle.reference.vehicle_types import first_job, vehicle_types

            self.start(first_job(next(one for one in vehicle_types().rows if one.key == key)), None)

    def browse(self) -> None:
        """Choose a file to open."""
        from PySide6.QtWidgets import QFileDialog

        name, _ = QFileDialog.getOpenFileName(self, tr("Open a job"), str(Path.home()), FILTER)
        if name:
            self.open_name(name)

    def save(self) -> None:
        """Save where the job came from, or ask where."""
        if self.session is None:
            return
        if self.session.path is None:
            self.save_as()
        else:
            self._save_to(self.session.path)

    def save_as(self) -> None:
        """Ask where, and save there."""
        if self.session is None:
            return
        from PySide6.QtWidgets import QFileDialog

        name, _ = QFileDialog.getSaveFileName(self, tr("Save the job"), f"{self.session.shown.job.name}.axle", FILTER)
        if name:
            path = Path(name)
            self._save_to(path if path.suffix in (".axle", ".json") else path.with_name(path.name + ".axle"))

    def _save_to(self, path: Path) -> None:
        assert self.session is not None
        try:
            self.session.save(path)
        except (OSError, JobError) as error:
            self.say(tr("{name} was not saved: {why}").format(name=path.name, why=getattr(error, "strerror", None) or error))
            return
        self._add_recent(path)

    def _add_recent(self, path: Path) -> None:
        full = str(path.resolve())
        self._remember(recent=(full, *(one for one in self.preferences.recent if one != full))[:12])

    def offer_recovery(self, found: list[journal.Recovered]) -> None:
        """Show the newest job a crash left; others wait in their journals for the next start."""
        self._waiting = found
        if not found:
            return
        newest = found[0]
        path = Path(newest.header.path) if newest.header.path else None
        self.start(newest.job, path)
        assert self.session is not None
        self.session.mark_unsaved()
        self.session.flush()
        when = datetime.fromtimestamp(newest.header.when).strftime("%H:%M")
        text = tr("The program ended without saving. {n} edits up to {when} were recovered, the last: {edit}.")
        self.say(
            text.format(n=newest.header.unsaved_edits, when=when, edit=newest.header.last_edit),
            ((tr("Keep"), self._keep_recovered), (tr("Go back to what was saved"), self._drop_recovered)),
        )

    def mention_recovery(self, found: list[journal.Recovered]) -> None:
        """Say that a crash left work, without taking the asked-for job away."""
        self.say(
            tr("Unsaved work on {name} was found.").format(name=found[0].job.name),
            ((tr("Open it"), partial(self.offer_recovery, found)), (tr("Later"), self.hide_notice)),
        )

    def tell_error(self, log: Path) -> None:
        """Tell of an error nobody expected."""
        self.say(tr("Something went wrong that should not have. Your edits are kept safe; the details are in {log}.").format(log=log))

    def _keep_recovered(self) -> None:
        journal.discard(self._waiting[0].folder)
        self.hide_notice()

    def _drop_recovered(self) -> None:
        recovered = self._waiting.pop(0)
        journal.discard(recovered.folder)
        self.hide_notice()
        path = Path(recovered.header.path) if recovered.header.path else None
        assert self.session is not None
        self.session.close()
        self.session = None
        self._build("brief")
        if path is not None and path.exists():
            self.open_name(str(path))

    def _may_leave(self) -> bool:
        """Whether the open job may be left; asks when there is something to save."""
        if self.session is None or not self.session.dirty:
            return True
        from PySide6.QtWidgets import QMessageBox

        buttons = QMessageBox.StandardButton
        answer = QMessageBox.question(
            self,
            "Weighty Axle",
            tr("Save the changes to {name}?").format(name=self.session.shown.job.name),
            buttons.Save | buttons.Discard | buttons.Cancel,
        )
        if answer == buttons.Save:
            self.save()
            return not self.session.dirty
        return answer == buttons.Discard

    # ---- doing ----

    def undo(self) -> None:
        """Take the last step back."""
        if self.session is not None:
            self.session.undo()

    def redo(self) -> None:
        """Do it again."""
        if self.session is not None:
            self.session.redo()

    def apply(self, edit: Edit) -> None:
        """Carry out an edit, and say it when it is refused."""
        refused = self.session.apply(edit) if self.session is not None else None
        if refused:
            self.say(refused)

    def go(self, step: Step) -> None:
        """Show a step."""
        if self.bench is not None:
            self.bench.show_step(step)

    def toggle_strip(self) -> None:
        """Fold the long section away, or back."""
        if self.bench is not None:
            self.bench.fold_strip()

    def set_look(self, name: str) -> None:
        """Workshop or night look."""
        self._remember(look=name)
        self._restyle()

    def set_text_scale(self, scale: float) -> None:
        """Larger or smaller text."""
        self._remember(text_scale=max(0.8, min(1.6, scale)))
        self._restyle()

    def set_units(self, units: System) -> None:
        """Metric or US units on screen."""
        self._remember(units=units)
        self._build(self._step())

    def _restyle(self) -> None:
        application = QApplication.instance()
        assert isinstance(application, QApplication)
        apply_look(application, self.preferences.look, self.preferences.text_scale)
        self._build(self._step())
        self._show_file()

    def print_pack(self) -> None:
        """Ask for a folder and write the pack there in the background."""
        self.files.do("pack")

    def work(self, task: Task) -> None:
        """Do long work in the background, with its progress in the notice bar."""
        if self.notice is None:
            self._build("brief")
        assert self.notice is not None
        task.progressed.connect(self._on_progress)
        self.notice.show_task(task)
        self._background.start(task)

    def work_quietly(self, task: Task) -> None:
        """Long work whose end is told where it was asked for: the notice goes away by itself."""
        task.finished.connect(self.hide_notice)
        task.failed.connect(self.hide_notice)
        self.work(task)

    def _on_progress(self, share: float, words: str) -> None:
        if self.notice is not None:
            self.notice.progress(share, words)

    # ---- saying ----

    def showEvent(self, event: QShowEvent) -> None:
        """Without a job the start page is shown."""
        if self._body is None:
            self._build("brief")
        super().showEvent(event)

    def say(self, text: str, actions: tuple[tuple[str, Callable[[], None]], ...] = ()) -> None:
        """Say a sentence under the top bar, with presses."""
        if self.notice is None:
            self._build("brief")
        assert self.notice is not None
        self.notice.say(text, actions)

    def hide_notice(self) -> None:
        """Take the notice away."""
        assert self.notice is not None
        self.notice.hide()

    def _show_file(self) -> None:
        if self.session is None or self.bar is None:
            return
        self.bar.show_session(self.session)
        mark = " *" if self.session.dirty else ""
        self.setWindowTitle(f"{self.session.shown.job.name}{mark} — Weighty Axle")
        if self.session.autosave_problem:
            self.say(tr("Edits are not being kept safe on disk: {why}. Save soon.").format(why=self.session.autosave_problem))

    # ---- commands ----

    def commands(self) -> list[Command]:
        """Everything that can be found or done."""
        from weighty_axle.desk.command_list import all_commands

        return all_commands(self)

    def _menu(self) -> list[Command]:
        """Commands of the Job menu."""
        from weighty_axle.desk.command_list import menu_commands

        return menu_commands(self)

    def undo_times(self, count: int) -> None:
        """Take several steps back."""
        for _ in range(count):
            self.undo()

    # ---- Qt events ----

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        if any(url.toLocalFile().endswith((".axle", ".json")) for url in event.mimeData().urls()):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        name = next(url.toLocalFile() for url in event.mimeData().urls() if url.toLocalFile().endswith((".axle", ".json")))
        self.open_name(name)

    def closeEvent(self, event: QCloseEvent) -> None:
        if not self._may_leave():
            event.ignore()
            return
        self.files.cancel()
        self._background.close()
        if self.session is not None:
            self.session.close()
        event.accept()
