"""The fleet: a folder of job files as a table in a window of its own; asked over all of them, opened one by one."""

from __future__ import annotations

import queue
import re
from collections.abc import Callable
from datetime import UTC, datetime
from functools import partial
from pathlib import Path
from typing import Any

from PySide6.QtCore import QAbstractTableModel, QModelIndex, QPersistentModelIndex, Qt, QTimer
from PySide6.QtGui import QCloseEvent
from PySide6.QtWidgets import QHBoxLayout, QHeaderView, QLineEdit, QPushButton, QTableView, QVBoxLayout, QWidget

from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.text import tip, tr
from weighty_axle.desk.work import preferences
from weighty_axle.desk.work.asking import with_ending
from weighty_axle.desk.work.background import Background, Task
from weighty_axle.desk.work.days import today
from weighty_axle.studies.fleet import Fleet, Vehicle, asked

Index = QModelIndex | QPersistentModelIndex
SHOWN_EVERY_MS, STARTS_AFTER_MS = 400, 150

_COLUMNS: tuple[tuple[str, Callable[[Vehicle], str]], ...] = (
    ("Vehicle", lambda row: row.name),
    ("State", lambda row: tr("cannot be used") if row.wrong else row.state or "…"),
    ("Next service", lambda row: _due(row)),
    ("Open faults", lambda row: str(len(row.open_faults)) if row.open_faults else ""),
    ("Last reading", lambda row: row.last_reading),
    ("Stop", lambda row: "…" if row.stops is None and not row.wrong else str(row.stops or "")),
    ("Check", lambda row: "…" if row.checks is None and not row.wrong else str(row.checks or "")),
    ("Customer", lambda row: row.customer),
    ("File", lambda row: row.file.name),
)


def natural(text: str) -> tuple[tuple[int, int, str], ...]:
    """A key by which words with numbers in them come as people count."""
    parts = re.findall(r"\d+|\D+", text.casefold())
    return tuple((0, int(part), "") if part.isdigit() else (1, 0, part) for part in parts)


def _due(row: Vehicle) -> str:
    due = row.next_service
    if due is None:
        return ""
    return f"{due.on} {due.name}" if due.on else tr("{name}, never done").format(name=due.name)


class _Rows(QAbstractTableModel):
    """Rows of the fleet that a question leaves."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.rows: tuple[Vehicle, ...] = ()

    def put(self, rows: tuple[Vehicle, ...]) -> None:
        """Show other rows; where their number stays they change in place."""
        if len(rows) == len(self.rows):
            self.rows = rows
            if not rows:
                return
            self.dataChanged.emit(self.index(0, 0), self.index(len(rows) - 1, len(_COLUMNS) - 1))
            return
        self.beginResetModel()
        self.rows = rows
        self.endResetModel()

    def rowCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008  # Qt's own signature
        return 0 if parent.isValid() else len(self.rows)

    def columnCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008  # Qt's own signature
        return 0 if parent.isValid() else len(_COLUMNS)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if orientation == Qt.Orientation.Horizontal and role == Qt.ItemDataRole.DisplayRole:
            return tr(_COLUMNS[section][0])
        return None

    def data(self, index: Index, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if not index.isValid():
            return None
        row = self.rows[index.row()]
        if role == Qt.ItemDataRole.DisplayRole:
            return _COLUMNS[index.column()][1](row)
        if role == Qt.ItemDataRole.ToolTipRole:
            return tip(row.wrong or "; ".join((row.path, *row.open_faults, *row.types)))
        return None


class FleetWindow(QWidget):
    """The folder, a question, the rows, and what is made of them."""

    def __init__(self, parent: QWidget, open_name: Callable[[str], None]) -> None:
        super().__init__(parent, Qt.WindowType.Window)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setWindowTitle(tr("Fleet"))
        self.resize(1120, 640)
        self._open_name = open_name
        self.fleet: Fleet | None = None
        self.all: dict[str, Vehicle] = {}
        self._arrived: queue.SimpleQueue[tuple[Vehicle, ...]] = queue.SimpleQueue()
        self._background = Background(self)
        self._task: Task | None = None
        column = QVBoxLayout(self)
        self.ask = QLineEdit()
        self.ask.setPlaceholderText(tr("Ask: a type, a name, a fault, state:fault, due:2027-06"))
        self.ask.setAccessibleName(tr("Question over all jobs"))
        self.ask.setClearButtonEnabled(True)
        self.ask.textChanged.connect(self._show)
        top = QHBoxLayout()
        self.presses: dict[str, QPushButton] = {}
        for words, do in (
            ("Folder …", self._ask_folder),
            ("Look again", self.look_again),
            ("Open", self.open_chosen),
            ("Dates for calendars …", self._ask_calendar),
            ("A page each …", self._ask_pages),
        ):
            press = self.presses[words] = QPushButton(tr(words))
            press.clicked.connect(do)
            top.addWidget(press)
        top.addStretch(1)
        column.addLayout(top)
        column.addWidget(self.ask)
        self.model = _Rows(self)
        self.table = QTableView()
        self.table.setModel(self.model)
        self.table.setAccessibleName(tr("Fleet"))
        self.table.verticalHeader().hide()
        self.table.verticalHeader().setDefaultSectionSize(24)
        self.table.setSelectionBehavior(QTableView.SelectionBehavior.SelectRows)
        self.table.doubleClicked.connect(self.open_chosen)
        header = self.table.horizontalHeader()
        header.setSectionResizeMode(QHeaderView.ResizeMode.Interactive)
        header.setSectionsClickable(True)
        header.sectionClicked.connect(self.sort_by)
        self.sorted_by = 0
        for at, wide in enumerate((200, 90, 210, 95, 160, 50, 60, 200, 160)):
            self.table.setColumnWidth(at, wide)
        column.addWidget(self.table, 1)
        self.said = Label()
        column.addWidget(self.said)
        self._timer = QTimer(self)
        self._timer.setInterval(SHOWN_EVERY_MS)
        self._timer.timeout.connect(self._take_arrived)

    # ---- looking ----

    def _ask_folder(self) -> None:
        from PySide6.QtWidgets import QFileDialog

        start = self.fleet.folder if self.fleet is not None else preferences.home()
        name = QFileDialog.getExistingDirectory(self, tr("A folder of jobs"), str(start))
        if name:
            self.look_at(Path(name))

    def look_at(self, folder: Path) -> None:
        """Show a folder: at once what is known of it, the rest as it is read."""
        self._stop()
        self.fleet = Fleet(folder)
        self.all = {}
        self._show()
        self.setWindowTitle(f"{tr('Fleet')}: {folder}")
        self._run(partial(_found, self.fleet), self._show_found)

    def _run(self, work: Callable[[Callable[[float, str], None]], Any], ended: Callable[[Any], None]) -> None:
        """One piece of looking at a time, away from the window."""
        task = self._task = Task("", work, self)
        task.finished.connect(partial(self._if_now, task, ended))
        task.failed.connect(partial(self._if_now, task, self._failed))
        self._background.start(task)

    def _if_now(self, task: Task, ended: Callable[[Any], None], result: Any) -> None:
        """The end of work that is still wanted: another folder may have been chosen meanwhile."""
        if task is self._task:
            ended(result)

    def _show_found(self, rows: tuple[Vehicle, ...]) -> None:
        """What is known of a folder; the rest is read once that is painted."""
        self._task = None
        self.all = {one.path: one for one in rows}
        self._show()
        self._timer.start()
        QTimer.singleShot(STARTS_AFTER_MS, self._refresh)

    def _refresh(self) -> None:
        if self.fleet is None or self._task is not None:
            return
        self._run(partial(_refreshed, self.fleet, tuple(self.all.values()), self._arrived), self._over)

    def look_again(self) -> None:
        """Look at the folder again: what has changed, come or gone."""
        if self.fleet is not None:
            self.look_at(self.fleet.folder)

    def _take_arrived(self) -> None:
        """Take in what has been read meanwhile."""
        some = False
        while True:
            try:
                rows = self._arrived.get_nowait()
            except queue.Empty:
                break
            self.all.update({one.path: one for one in rows if one.path in self.all})
            some = True
        if some:
            self._show()

    def _over(self, _result: object = None) -> None:
        self._task = None
        self._take_arrived()
        self._timer.stop()
        self._show()

    def _failed(self, why: str) -> None:
        self._over()
        if why:
            self.said.setText(why)

    def _stop(self) -> None:
        if self._task is not None:
            self._task.cancel()
            self._task = None
        self._timer.stop()
        while not self._arrived.empty():
            self._arrived.get_nowait()

    def _show(self, *_text: str) -> None:
        rows = asked(tuple(self.all.values()), self.ask.text())
        cell = _COLUMNS[self.sorted_by][1]
        self.model.put(
            tuple(sorted(rows, key=lambda one: (bool(one.wrong), not cell(one), natural(cell(one)), one.path)))
        )
        unread = sum(not one.read for one in self.all.values())
        unjudged = sum(one.read and one.stops is None and not one.wrong for one in self.all.values())
        parts = [tr("{shown} of {all} jobs").format(shown=len(rows), all=len(self.all))]
        if unread:
            parts.append(tr("{n} still to be read").format(n=unread))
        if unjudged:
            parts.append(tr("{n} still to be judged").format(n=unjudged))
        self.said.setText("; ".join(parts) + ".")

    def sort_by(self, column: int) -> None:
        """Sort by a column: numbers within words by their size, empty cells last."""
        self.sorted_by = column
        self._show()

    # ---- what is made of it ----

    @property
    def chosen(self) -> Vehicle | None:
        """The job that is chosen."""
        at = self.table.currentIndex().row()
        return self.model.rows[at] if 0 <= at < len(self.model.rows) else None

    def open_chosen(self, *_at: object) -> None:
        """Open the chosen job in the program's own window."""
        one = self.chosen
        if one is not None:
            self._open_name(one.path)

    def _ask_calendar(self) -> None:
        self._ask_file(tr("Dates of services"), "services.ics", ".ics", self.write_calendar)

    def _ask_pages(self) -> None:
        self._ask_file(tr("A page per vehicle"), "fleet.pdf", ".pdf", self.write_pages)

    def _ask_file(self, title: str, name: str, ending: str, write: Callable[[Path], None]) -> None:
        from PySide6.QtWidgets import QFileDialog

        start = self.fleet.folder if self.fleet is not None else preferences.home()
        chosen, _ = QFileDialog.getSaveFileName(self, title, str(start / name), f"*{ending}")
        path = with_ending(self, chosen, ending) if chosen else None
        if path is not None:
            write(path)

    def write_calendar(self, path: Path) -> None:
        """Write the service dates of the rows on show."""
        self._write(partial(_calendar, self.model.rows, path))

    def write_pages(self, path: Path) -> None:
        """Write a page for each of the rows on show."""
        self._write(partial(_pages, self.model.rows, path))

    def _write(self, work: Callable[[Callable[[float, str], None]], Path]) -> None:
        task = Task("", work, self)
        task.finished.connect(lambda path: self.said.setText(tr("Written: {path}.").format(path=path)))
        task.failed.connect(self.said.setText)
        self._background.start(task)

    def closeEvent(self, event: QCloseEvent) -> None:
        self._stop()
        super().closeEvent(event)


def _found(fleet: Fleet, progress: Callable[[float, str], None]) -> tuple[Vehicle, ...]:
    progress(0.0, str(fleet.folder))
    return fleet.found()


def _refreshed(
    fleet: Fleet,
    found: tuple[Vehicle, ...],
    arrived: queue.SimpleQueue[tuple[Vehicle, ...]],
    progress: Callable[[float, str], None],
) -> None:
    for rows in fleet.refresh(progress, found, apart=True):
        arrived.put(rows)


def _calendar(rows: tuple[Vehicle, ...], path: Path, progress: Callable[[float, str], None]) -> Path:
    from weighty_axle.exports.data.calendar import services_ics
    from weighty_axle.job.files.disk import replacing

    progress(0.5, path.name)
    with replacing(path) as file:
        file.write(services_ics(rows, datetime.now(UTC)))
    return path


def _pages(rows: tuple[Vehicle, ...], path: Path, progress: Callable[[float, str], None]) -> Path:
    from weighty_axle.exports.pages.fleet import write_fleet

    progress(0.3, path.name)
    return write_fleet(rows, path, today=today())


def fleet_over(parent: QWidget, open_name: Callable[[str], None]) -> FleetWindow:
    """The fleet in a window of its own; one that is open already comes to the front."""
    found = next((one for one in parent.findChildren(FleetWindow)), None)
    made = found if found is not None else FleetWindow(parent, open_name)
    made.show()
    made.raise_()
    return made
