"""Work with files that takes a while: the pack, survey sheets, tables of loads.

Asks where, works in the background, tells the end.
"""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QObject
from PySide6.QtWidgets import QWidget

from weighty_axle.desk.text import tr
from weighty_axle.desk.work import preferences
from weighty_axle.desk.work.asking import agrees, with_ending
from weighty_axle.desk.work.background import Task
from weighty_axle.desk.work.build_work import BUILD_FILES, Taken, WorkFile, read_parts_table, write_day
from weighty_axle.desk.work.commands import Command
from weighty_axle.desk.work.hand_work import HAND_FILES, read_readings_table, write_handover_folder
from weighty_axle.desk.work.prints import (
    Refused,
    write_inlet_card_file,
    write_lesson_page,
    write_selector_card_file,
    write_survey_file,
    write_switch_cards,
)
from weighty_axle.desk.work.session import Shown
from weighty_axle.job.edits.edit import Edit
from weighty_axle.job.models.document import Job
from weighty_axle.units import System

if TYPE_CHECKING:
    from weighty_axle.exports.tables.loads_read import LoadsRead

WORK_FILES = {**BUILD_FILES, **HAND_FILES}
TABLES = "Tables (*.csv *.xlsx)"


class FileWork(QObject):
    """One piece of work at a time, named by what is wanted.

    `shown` and `path` tell what is open and its file (None for none), `units` what prints are in; `begin` does a task
    in the background and `say` tells its end; `preview` shows what a table of loads holds before it is taken in. What
    is asked stands over `parent`.
    """

    def __init__(
        self,
        parent: QWidget,
        *,
        shown: Callable[[], Shown | None],
        path: Callable[[], Path | None],
        units: Callable[[], System],
        begin: Callable[[Task], None],
        say: Callable[[str], None],
        preview: Callable[[LoadsRead, str], None],
        apply: Callable[[Edit], str | None],
    ) -> None:
        super().__init__(parent)
        self._parent = parent
        self._open, self._path, self._units, self._begin, self._say, self._preview = (
            shown,
            path,
            units,
            begin,
            say,
            preview,
        )
        self._apply = apply
        self._task: Task | None = None
        self._ended: Callable[[Any], None] = self._tell_path
        self._asks: dict[str, Callable[[], None]] = {
            "pack": self._ask_pack,
            "survey blank": partial(self._ask_survey, True),
            "survey filled": partial(self._ask_survey, False),
            "loads in": self._ask_loads_in,
            "loads out": self._ask_loads_out,
            "inlet card": self._ask_inlet_card,
            "selector card": self._ask_selector_card,
            "types in": self._ask_types_in,
            "types out": self._ask_types_out,
            "parts in": self._ask_parts_in,
            "cards out": partial(
                self._ask_card, tr("Cards for the vehicle"), "cards.pdf", self.write_print(write_switch_cards)
            ),
            "lesson out": partial(
                self._ask_card, tr("The owner's page"), "owner.pdf", self.write_print(write_lesson_page)
            ),
            "readings in": self._ask_readings_in,
            "handover out": self._ask_handover,
            **{wanted: partial(self._ask_work_file, file) for wanted, file in WORK_FILES.items()},
        }

    def commands(self) -> list[Command]:
        """What can be printed, taken in and written while a job is open."""
        if self._open() is None:
            return []
        return [
            Command(tr("Print the pack…"), "Ctrl+P", self._ask_pack, "print"),
            Command(tr("Print a blank survey sheet…"), "", self._asks["survey blank"], "print"),
            Command(tr("Print the survey sheet as filled so far…"), "", self._asks["survey filled"], "print"),
            *(
                Command(f"{tr(file.title)}…", "", self._asks[wanted], "print" if ".pdf" in file.endings else "tables")
                for wanted, file in WORK_FILES.items()
            ),
            Command(tr("Write the handover…"), "", self._ask_handover, "print"),
            Command(tr("Take in readings from a table…"), "", self._ask_readings_in, "tables"),
            Command(tr("Take in prices and status of parts from a table…"), "", self._ask_parts_in, "tables"),
            Command(tr("Take in loads from a table…"), "", self._ask_loads_in, "tables"),
            Command(tr("Write the loads as a table…"), "", self._ask_loads_out, "tables"),
            Command(tr("Take in own types from a table…"), "", self._ask_types_in, "tables"),
            Command(tr("Write own types as a table…"), "", self._ask_types_out, "tables"),
        ]

    def do(self, wanted: str) -> None:
        """Ask where, and begin."""
        if self._open() is None:
            return
        if wanted.startswith("day out "):
            who, _, day = wanted.removeprefix("day out ").rpartition(" ")
            self._ask_day(who.strip(), date.fromisoformat(day))
        else:
            self._asks[wanted]()

    def cancel(self) -> None:
        """Stop what runs."""
        if self._task is not None:
            self._task.cancel()

    # ---- asking ----

    def _folder(self) -> Path:
        path = self._path()
        return path.parent if path else preferences.home()

    def _ask_pack(self) -> None:
        from PySide6.QtWidgets import QFileDialog

        from weighty_axle.exports.pack import others_in

        name = QFileDialog.getExistingDirectory(self._parent, tr("Folder for the pack"), str(self._folder()))
        others = others_in(Path(name), self._shown().house) if name else ()
        question = tr("{folder} holds {names} of another job. Write over them?").format(
            folder=name, names=", ".join(others)
        )
        if name and (not others or agrees(self._parent, question)):
            self.write_pack(Path(name), over=bool(others))

    def _ask_survey(self, blank: bool) -> None:
        from PySide6.QtWidgets import QFileDialog

        start = self._folder() / ("survey-blank.pdf" if blank else "survey.pdf")
        name, _ = QFileDialog.getSaveFileName(self._parent, tr("Survey sheet"), str(start), "PDF (*.pdf)")
        path = with_ending(self._parent, name, ".pdf") if name else None
        if path is not None:
            self.write_survey(path, blank=blank)

    def _ask_inlet_card(self) -> None:
        self._ask_card(tr("Card for the inlet door"), "inlet-card.pdf", self.write_inlet_card)

    def _ask_selector_card(self) -> None:
        self._ask_card(tr("Card for the selector"), "selector-card.pdf", self.write_selector_card)

    def _ask_card(self, title: str, name: str, write: Callable[[Path], None]) -> None:
        from PySide6.QtWidgets import QFileDialog

        chosen, _ = QFileDialog.getSaveFileName(self._parent, title, str(self._folder() / name), "PDF (*.pdf)")
        path = with_ending(self._parent, chosen, ".pdf") if chosen else None
        if path is not None:
            write(path)

    def _ask_loads_in(self) -> None:
        from PySide6.QtWidgets import QFileDialog

        name, _ = QFileDialog.getOpenFileName(
            self._parent, tr("Take in loads from a table"), str(self._folder()), TABLES
        )
        if name:
            self.read_loads(Path(name))

    def _ask_loads_out(self) -> None:
        from PySide6.QtWidgets import QFileDialog

        name, _ = QFileDialog.getSaveFileName(
            self._parent, tr("Write the loads as a table"), str(self._folder() / "loads.xlsx"), TABLES
        )
        path = with_ending(self._parent, name, ".csv", ".xlsx") if name else None
        if path is not None:
            self.write_loads(path)

    def _ask_types_in(self) -> None:
        from PySide6.QtWidgets import QFileDialog

        name, _ = QFileDialog.getOpenFileName(
            self._parent, tr("Take in own types from a table"), str(self._folder()), TABLES
        )
        if name:
            self.read_types(Path(name))

    def _ask_types_out(self) -> None:
        from PySide6.QtWidgets import QFileDialog

        name, _ = QFileDialog.getSaveFileName(
            self._parent, tr("Write own types as a table"), str(self._folder() / "types.xlsx"), TABLES
        )
        path = with_ending(self._parent, name, ".csv", ".xlsx") if name else None
        if path is not None:
            self.write_types(path)

    def _ask_work_file(self, file: WorkFile) -> None:
        from PySide6.QtWidgets import QFileDialog

        name, _ = QFileDialog.getSaveFileName(self._parent, tr(file.title), str(self._folder() / file.name), file.kinds)
        path = with_ending(self._parent, name, *file.endings) if name else None
        if path is not None:
            self.write_work_file(file, path)

    def _ask_day(self, who: str, day: date) -> None:
        from PySide6.QtWidgets import QFileDialog

        usual = self._folder() / f"day-{day.isoformat()}{f'-{who}' if who else ''}.pdf"
        name, _ = QFileDialog.getSaveFileName(self._parent, tr("List of a day"), str(usual), "PDF (*.pdf)")
        path = with_ending(self._parent, name, ".pdf") if name else None
        if path is not None:
            self._run(tr("Writing the list"), partial(write_day, self._shown(), who, day, path), self._tell_path)

    def _ask_parts_in(self) -> None:
        from PySide6.QtWidgets import QFileDialog

        name, _ = QFileDialog.getOpenFileName(
            self._parent, tr("Take in prices and status of parts"), str(self._folder()), TABLES
        )
        if name:
            self.read_parts(Path(name))

    def _ask_readings_in(self) -> None:
        from PySide6.QtWidgets import QFileDialog

        name, _ = QFileDialog.getOpenFileName(self._parent, tr("Take in readings"), str(self._folder()), TABLES)
        if name:
            self.read_readings(Path(name))

    def _ask_handover(self) -> None:
        from PySide6.QtWidgets import QFileDialog

        name = QFileDialog.getExistingDirectory(self._parent, tr("Folder for the handover"), str(self._folder()))
        if name:
            self.write_print(write_handover_folder)(Path(name))

    # ---- working ----

    def _shown(self) -> Shown:
        shown = self._open()
        assert shown is not None
        return shown

    def _run(
        self, title: str, work: Callable[[Callable[[float, str], None]], Any], ended: Callable[[Any], None]
    ) -> None:
        if self._task is not None:
            return
        self._task, self._ended = Task(title, work, self), ended
        self._task.finished.connect(self._on_finished)
        self._task.failed.connect(self._on_failed)
        self._begin(self._task)

    def _over(self) -> str:
        """The work is over; returns its title."""
        assert self._task is not None
        title = self._task.title
        self._task = None
        return title

    def _on_finished(self, result: Any) -> None:
        self._over()
        if isinstance(result, Refused):
            self._say(result.sentence)
        else:
            self._ended(result)

    def _on_failed(self, why: str) -> None:
        title = self._over()
        self._say(
            tr("{title}: not done. {why}").format(title=title, why=why)
            if why
            else tr("{title}: cancelled.").format(title=title)
        )

    def write_pack(self, folder: Path, *, over: bool = False) -> None:
        """Write the pack into a folder; `over`: also over another job's files."""
        work = partial(_write_pack, self._shown(), folder, date.today(), self._units(), over)
        self._run(tr("Writing the pack"), work, self._tell_pack)

    def _tell_pack(self, paths: list[Path]) -> None:
        said = tr("The pack is in {folder}: {names}.").format(
            folder=paths[0].parent, names=", ".join(path.name for path in paths)
        )
        self._say(f"{said} {_unprintable(self._shown().whole)}".strip())

    def write_survey(self, path: Path, *, blank: bool) -> None:
        """Write a survey sheet."""
        work = partial(write_survey_file, self._shown(), path, blank, date.today(), self._units())
        self._run(tr("Writing the survey sheet"), work, self._tell_path)

    def write_inlet_card(self, path: Path) -> None:
        """Write the card for the inlet door."""
        self._run(
            tr("Writing the card"),
            partial(write_inlet_card_file, self._shown(), path, date.today(), self._units()),
            self._tell_path,
        )

    def write_selector_card(self, path: Path) -> None:
        """Write a card for every selector."""
        self._run(
            tr("Writing the card"),
            partial(write_selector_card_file, self._shown(), path, date.today()),
            self._tell_path,
        )

    def write_work_file(self, file: WorkFile, path: Path) -> None:
        """Write a file of the work."""
        self._run(
            tr(file.title),
            partial(file.write, self._shown(), file.word, path),
            lambda done: self._say(done) if isinstance(done, str) else self._tell_path(done),
        )

    def read_parts(self, path: Path) -> None:
        """Take in prices and status of parts, whole or not at all."""
        self._run(
            tr("Reading {name}").format(name=path.name), partial(read_parts_table, path, self._shown()), self._take
        )

    def read_readings(self, path: Path) -> None:
        """Take in readings, whole or not at all."""
        self._run(
            tr("Reading {name}").format(name=path.name), partial(read_readings_table, path, self._shown()), self._take
        )

    def _take(self, taken: Taken) -> None:
        problem = self._apply(taken.edit) if taken.edit is not None else None
        self._say(problem or taken.words)

    def _asking_for(self, title: str, name: str, work: Callable[..., Path]) -> Callable[[], None]:
        return partial(self._ask_card, title, name, self.write_print(work))

    def write_print(self, work: Callable[..., Path]) -> Callable[[Path], None]:
        """What writes a print of the open job into a file."""
        return lambda path: self._run(tr("Writing"), partial(work, self._shown(), path, self._units()), self._tell_path)

    def write_loads(self, path: Path) -> None:
        """Write the loads as a table."""
        self._run(tr("Writing the loads"), partial(_write_loads, self._shown().whole, path), self._tell_path)

    def _tell_path(self, path: Path) -> None:
        missing = _unprintable(self._shown().whole) if path.suffix == ".pdf" else ""
        self._say(f"{tr('Written: {path}.').format(path=path)} {missing}".strip())

    def read_loads(self, path: Path) -> None:
        """Read a table of loads and show what it holds."""
        self._run(
            tr("Reading {name}").format(name=path.name),
            partial(_read_loads, path, self._shown().whole),
            partial(self._show_loads, path.name),
        )

    def read_types(self, path: Path) -> None:
        """Keep the datasheets of a table for later jobs, whole or not at all."""
        self._run(tr("Reading {name}").format(name=path.name), partial(_read_types, path), self._say)

    def write_types(self, path: Path) -> None:
        """Write the datasheets that are kept as a table."""
        self._run(tr("Writing own types"), partial(_write_types, path), self._tell_path)

    def _show_loads(self, name: str, read: LoadsRead) -> None:
        self._preview(read, name)


def _unprintable(job: Job) -> str:
    """What of a job could not be printed."""
    from weighty_axle.exports.letters import unprintable_words

    return unprintable_words(job)


def _write_pack(
    shown: Shown, folder: Path, today: date, units: System, over: bool, progress: Callable[[float, str], None]
) -> list[Path] | Refused:
    from weighty_axle.exports.pack import InTheWayError, write_pack

    try:
        return write_pack(shown.house, shown.findings, folder, today=today, system=units, over=over, progress=progress)
    except InTheWayError as error:
        return Refused(str(error))


def _write_loads(job: Job, path: Path, progress: Callable[[float, str], None]) -> Path:
    from weighty_axle.exports.tables.loads import write_loads

    progress(0.2, tr("Rows"))
    write_loads(job, path)
    return path


def _read_loads(path: Path, job: Job, progress: Callable[[float, str], None]) -> LoadsRead | Refused:
    """What the table holds, or why it is of no use."""
    from weighty_axle.exports.tables.loads_read import read_loads
    from weighty_axle.exports.tables.reading import TableError

    progress(0.2, tr("Rows"))
    try:
        return read_loads(path, job)
    except TableError as error:
        return Refused(str(error))


def _read_types(path: Path, progress: Callable[[float, str], None]) -> str | Refused:
    """How many datasheets were kept, or why none was."""
    from weighty_axle.exports.tables.reading import TableError
    from weighty_axle.exports.tables.types import read_types
    from weighty_axle.reference.own_types import keep

    progress(0.2, tr("Rows"))
    try:
        found = read_types(path)
        keep(preferences.own_types_file(), found)
    except (TableError, ValueError) as error:
        return Refused(str(error))
    return tr("{n} types kept for later jobs.").format(n=len(found))


def _write_types(path: Path, progress: Callable[[float, str], None]) -> Path | Refused:
    from weighty_axle.exports.tables.types import write_types
    from weighty_axle.reference.own_types import read_own

    progress(0.2, tr("Rows"))
    try:
        write_types(read_own(preferences.own_types_file()), path)
    except ValueError as error:
        return Refused(str(error))
    return path
