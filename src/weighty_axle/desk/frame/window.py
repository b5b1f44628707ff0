"""The window: top bar, notices, and the workbench of the open job."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from msgspec.structs import replace
from PySide6.QtCore import QTimer
from PySide6.QtGui import QCloseEvent, QDragEnterEvent, QDropEvent, QKeySequence, QShortcut, QShowEvent
from PySide6.QtWidgets import QApplication, QVBoxLayout, QWidget

from weighty_axle.desk.frame.look_commands import look_commands
from weighty_axle.desk.frame.topbar import NoticeBar, Said, TopBar
from weighty_axle.desk.frame.workbench import Workbench
from weighty_axle.desk.kit.theme import apply_look, sheet
from weighty_axle.desk.text import tr
from weighty_axle.desk.work import preferences
from weighty_axle.desk.work.background import Background, Task
from weighty_axle.desk.work.commands import Command, in_menu
from weighty_axle.desk.work.error_log import log_error
from weighty_axle.desk.work.file_work import FileWork
from weighty_axle.desk.work.job_files import ENDINGS, JobFiles
from weighty_axle.desk.work.preferences import Preferences
from weighty_axle.desk.work.session import Origin, Session, Shown
from weighty_axle.job.edits.edit import Edit
from weighty_axle.job.files.disk import text_of
from weighty_axle.job.models.document import Job
from weighty_axle.steps import STEPS, shortcut
from weighty_axle.units import System

if TYPE_CHECKING:
    from weighty_axle.desk.kit.palette import CommandPalette
    from weighty_axle.exports.tables.loads_read import LoadsRead

_LOOK_AFTER_MS = 2000


class Window(QWidget):
    """One window, at most one open job."""

    def __init__(self, kept: Preferences, journal_root: Path | None) -> None:
        super().__init__()
        self.preferences, self._journal_root = kept, journal_root
        self.session: Session | None = None
        self.bench: Workbench | None = None
        self._background = Background(self)
        self.files = FileWork(
            self,
            shown=self._shown,
            path=self._path,
            units=self._units,
            begin=self.work,
            say=self.say,
            preview=self._preview_loads,
            apply=self._taken_in,
        )
        self.jobs = JobFiles(self, self)
        self._told_problem = ""
        self.setWindowTitle("Weighty Axle")
        self.resize(1280, 800)
        self.setMinimumSize(1024, 700)
        self.setAcceptDrops(True)
        self.setStyleSheet(sheet())
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(0)
        self.bar: TopBar | None = None
        self.notice: NoticeBar | None = None
        self._body: QWidget | None = None
        self._palette: CommandPalette | None = None
        # The journal is written on a thread of its own; what goes wrong there is looked at now and then.
        self._look_after = QTimer(self)
        self._look_after.timeout.connect(self._tell_autosave)
        self._look_after.start(_LOOK_AFTER_MS)
        self._old: tuple[str, str, Said | None] = ("brief", "", None)
        self._anew = QTimer(self)
        self._anew.setSingleShot(True)
        self._anew.timeout.connect(self._restyle)
        for keys, do in self._keys():
            QShortcut(QKeySequence(keys), self, do)

    def _keys(self) -> list[tuple[str, Callable[[], None]]]:
        keys: list[tuple[str, Callable[[], None]]] = [
            ("Ctrl+K", self.find_or_do),
            ("F1", self.find_or_do),
            ("Ctrl+Z", self.undo),
            ("Ctrl+Shift+Z", self.redo),
            ("Ctrl+Y", self.redo),
            ("Ctrl+S", self.save),
            ("Ctrl+Shift+S", self.jobs.save_as),
            ("Ctrl+O", self.jobs.browse),
            ("Ctrl+Shift+O", self.show_fleet),
            ("Ctrl+P", self.print_pack),
            ("F9", self.toggle_strip),
        ]
        return keys + [(shortcut(at), partial(self.go, step.key)) for at, step in enumerate(STEPS)]

    @property
    def palette_list(self) -> CommandPalette:
        """Find or do, made when first asked for."""
        if self._palette is None:
            from weighty_axle.desk.kit.palette import CommandPalette

            self._palette = CommandPalette(self, self.commands)
        return self._palette

    def find_or_do(self) -> None:
        """Open find or do."""
        self.palette_list.open()

    def show_fleet(self) -> None:
        """Show a folder of jobs in a window of its own."""
        from weighty_axle.desk.frame.fleet import fleet_over

        fleet_over(self, self.open_name)

    # ---- building ----

    def _build(self, step: str) -> None:
        """Build everything that carries colours and units; the session stays."""
        for old in self._parts():
            self._column.removeWidget(old)
            old.hide()
            old.deleteLater()  # it may be what the press came from
        self.bar = TopBar(self.find_or_do, self.undo, self.print_pack, self.save, self._menu)
        self.notice = NoticeBar()
        self._column.addWidget(self.bar)
        self._column.addWidget(self.notice)
        self._body = QWidget()
        inner = QVBoxLayout(self._body)
        inner.setContentsMargins(0, 0, 0, 0)
        inner.setSpacing(0)
        if not self.preferences.safety_read:
            from weighty_axle.desk.frame.safety_note import SafetyNote

            note = SafetyNote()
            note.read.connect(self._safety_read)
            inner.addWidget(note)
        if self.session is not None:
            self.bench = Workbench(self.session, self.preferences.units, step)
            self.bench.wants.connect(self.files.do)
            self.bench.works.connect(self.work_quietly)
            self.bench.wishes.connect(self.apply)
            inner.addWidget(self.bench, 1)
            self.bar.show_session(self.session)
        else:
            self.bench = None
            from weighty_axle.desk.frame.start_page import StartPage

            starts = (self.open_name, self.jobs.new_from_type, self.jobs.browse, self.show_fleet)
            inner.addWidget(StartPage(*starts, self.preferences.recent), 1)
        self._column.addWidget(self._body, 1)

    def _parts(self) -> list[QWidget]:
        """Everything that is made anew."""
        return [one for one in (self.bar, self.notice, self._body) if one is not None]

    def _safety_read(self) -> None:
        self._remember(safety_read=True)
        note = self.sender()
        if isinstance(note, QWidget):
            note.hide()
            note.deleteLater()

    def _remember(self, **changes: object) -> None:
        self.preferences = replace(self.preferences, **changes)
        preferences.keep(self.preferences)

    def _step(self) -> str:
        return self.bench.step if self.bench is not None else "brief"

    # ---- jobs ----

    def start(self, job: Job, path: Path | None, origin: Origin | None = None) -> bool:
        """Open a job in the window. False when it cannot be worked out: that is said, and what was open stays."""
        old = self.session
        try:
            session = Session(job, path, self._journal_root, self, origin)
        except Exception as error:  # whatever it is, the program goes on
            log = log_error(error)
            text = tr("{name} cannot be worked out. Its file was left as it is; the details are in {log}.")
            self.say(text.format(name=job.name, log=log))
            return False
        self.session = session
        self.session.file_changed.connect(self._show_file)
        self._build("brief")
        self._show_file()
        if old is not None:
            old.close()
            old.deleteLater()
        return True

    def leave(self) -> None:
        """Close the open job; the start page is shown."""
        self.hide_notice()
        if self.session is not None:
            self.session.close()
            self.session.deleteLater()
        self.session = None
        self._build("brief")

    def add_recent(self, path: Path) -> None:
        """Remember a file that was opened or saved."""
        full = text_of(path.absolute())
        self._remember(recent=(full, *(one for one in self.preferences.recent if one != full))[:12])

    def open_name(self, name: str) -> None:
        """Open a demo or a file."""
        self.jobs.open_name(name)

    def save(self) -> None:
        """Save where the job came from, or ask where."""
        self.jobs.save()

    def tell_error(self, log: Path) -> None:
        """Tell of an error nobody expected."""
        self.say(
            tr("Something went wrong that should not have. Your edits are kept safe; the details are in {log}.").format(
                log=log
            )
        )

    def undo(self) -> None:
        """Take the last step back."""
        if self.session is not None:
            self.session.undo()

    def redo(self) -> None:
        """Do it again."""
        if self.session is not None:
            self.session.redo()

    def _taken_in(self, edit: Edit) -> str | None:
        """Carry out an edit that came from a file; why not, where it is refused."""
        return self.session.apply(edit) if self.session is not None else None

    def apply(self, edit: Edit) -> None:
        """Carry out an edit, and say it when it is refused."""
        refused = self.session.apply(edit) if self.session is not None else None
        if refused:
            self.say(refused)

    def go(self, step: str) -> None:
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
        self._make_anew()

    def set_text_scale(self, scale: float) -> None:
        """Larger or smaller text."""
        self._remember(text_scale=max(0.8, min(1.6, scale)))
        self._make_anew()

    def set_units(self, units: System) -> None:
        """Metric or US units on screen."""
        self._remember(units=units)
        self._make_anew()

    def _make_anew(self) -> None:
        """Make what is on show anew: other colours, sizes or units.

        Old parts go first, since dressing them only to make them anew takes several times as long.
        """
        if self._anew.isActive():
            return
        self._old = (
            self._step(),
            self.bench.leaf_name if self.bench is not None else "",
            self.notice.said if self.notice is not None else None,
        )
        self.setUpdatesEnabled(False)
        for old in self._parts():
            self._column.removeWidget(old)
            old.hide()
            old.deleteLater()  # it may be what the press came from
        self.bar, self.notice, self._body, self.bench = None, None, None, None
        self._anew.start()

    def _restyle(self) -> None:
        """Once the old parts are gone: dress and build."""
        application = QApplication.instance()
        assert isinstance(application, QApplication)
        step, leaf, said = self._old
        try:
            apply_look(application, self.preferences.look, self.preferences.text_scale)
            self.setStyleSheet(sheet())
            self._build(step)
            if self.bench is not None:
                self.bench.turn_to(leaf)
            if said is not None and self.notice is not None:
                self.notice.say_again(said)
        finally:
            self.setUpdatesEnabled(True)
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

    def work_silently(self, task: Task) -> None:
        """Work that is usually over before a notice could be read: none is shown."""
        self._background.start(task)

    def work_quietly(self, task: Task) -> None:
        """Long work whose end is told where it was asked for: the notice goes away by itself."""
        task.finished.connect(self.hide_notice)
        task.failed.connect(self.hide_notice)
        self.work(task)

    def _on_progress(self, share: float, words: str) -> None:
        if self.notice is not None:
            self.notice.progress(share, words)

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

    def hide_sentence(self) -> None:
        """Take the notice away, unless it shows work that still runs."""
        if self.notice is not None and (self.notice.said is None or self.notice.said.task is None):
            self.notice.hide()

    def hide_notice(self) -> None:
        """Take the notice away."""
        if self.notice is not None:
            self.notice.hide()

    def _show_file(self) -> None:
        if self.session is None or self.bar is None:
            return
        self.bar.show_session(self.session)
        mark = " *" if self.session.dirty else ""
        self.setWindowTitle(f"{self.session.shown.job.name}{mark} — Weighty Axle")
        self._tell_autosave()

    def _tell_autosave(self) -> None:
        """Say that edits are not being kept safe, once for each reason, and when they are again."""
        problem = self.session.autosave_problem if self.session is not None else ""
        if problem != self._told_problem:
            self._told_problem = problem
            if problem:
                self.say(tr("Edits are not being kept safe on disk: {why}. Save soon.").format(why=problem))
            else:
                self.say(tr("Edits are being kept safe on disk again."))

    # ---- commands ----

    def commands(self) -> list[Command]:
        """Everything that can be found or done."""
        found = self.jobs.commands()
        if self.session is not None and self.bench is not None:
            if self.session.undo_label:
                found.append(Command(tr("Undo: {label}").format(label=self.session.undo_label), "Ctrl+Z", self.undo))
            if self.session.redo_label:
                found.append(
                    Command(tr("Redo: {label}").format(label=self.session.redo_label), "Ctrl+Shift+Z", self.redo)
                )
            found += self.files.commands()
            found.append(Command(tr("Show or fold the long section"), "F9", self.toggle_strip, "look"))
            found += self.bench.commands()
        fleet = Command(tr("A folder of jobs…"), "Ctrl+Shift+O", self.show_fleet, "job")
        looks = look_commands(self.set_look, self.set_text_scale, self.set_units, self.preferences.text_scale)
        return [*found, fleet, *looks, *self.jobs.other_jobs()]

    def _menu(self) -> list[Command]:
        """Commands of the Job menu; a step of the undo list takes back everything after it too."""
        undone = self.session.undo_steps()[:12] if self.session is not None else ()
        undo = [
            Command(tr("Undo: {label}").format(label=label), "", partial(self.undo_times, at + 1), "undo")
            for at, label in enumerate(undone)
        ]
        return in_menu(self.commands() + undo)

    # ---- what work with files asks for ----

    def _shown(self) -> Shown | None:
        return self.session.shown if self.session is not None else None

    def _path(self) -> Path | None:
        return self.session.path if self.session is not None else None

    def _units(self) -> System:
        return self.preferences.units

    def _preview_loads(self, read: LoadsRead, name: str) -> None:
        """Show what a table of loads holds before it is taken in."""
        from weighty_axle.desk.steps.brief.view import BriefView

        self.hide_notice()
        self.go("brief")
        assert self.bench is not None
        view = self.bench.view("brief")
        assert isinstance(view, BriefView)
        view.show_read(read, name)

    def undo_times(self, count: int) -> None:
        """Take several steps back."""
        if self.session is not None:
            self.session.undo(count)

    # ---- Qt events ----

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        if any(url.toLocalFile().endswith(ENDINGS) for url in event.mimeData().urls()):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        name = next(url.toLocalFile() for url in event.mimeData().urls() if url.toLocalFile().endswith(ENDINGS))
        self.open_name(name)

    def closeEvent(self, event: QCloseEvent) -> None:
        if not self.jobs.may_leave():
            event.ignore()
            return
        self.files.cancel()
        self._background.close()
        if self.session is not None:
            self.session.close()
        event.accept()
