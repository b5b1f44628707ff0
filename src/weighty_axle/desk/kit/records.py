"""A table for things people really work on by rows; every cell edit is one undo step."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from msgspec import Struct
from PySide6.QtCore import QAbstractTableModel, QModelIndex, QPersistentModelIndex, Qt
from PySide6.QtWidgets import QAbstractItemView, QHeaderView, QTableView, QWidget

from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.painting import alike
from weighty_axle.desk.text import tip, tr
from weighty_axle.desk.work.session import Session
from weighty_axle.job.edits.edit import Edit
from weighty_axle.units import Kind, QuantityError, System, parse, show, typed

Index = QModelIndex | QPersistentModelIndex
MEASURED_ROWS = 200
"""Rows by which columns are fitted: measuring all of a long table takes longer than reading it."""


class Column(Struct, frozen=True):
    """One column: heading, how a row's value is read (None: not known), its kind (None: text), and the edit of a typed
    value (None: fixed). `clears`: an emptied cell states nothing (the edit gets None).
    """

    heading: str
    value: Callable[[Any], Any]
    kind: Kind | None
    edit: Callable[[Any, Any], Edit] | None = None
    clears: bool = False


class Records(QAbstractTableModel):
    """Rows of frozen records. A refused entry is kept and said through `said`."""

    def __init__(
        self,
        session: Session,
        system: System,
        columns: tuple[Column, ...],
        said: Callable[[str], None],
        parent: QWidget,
    ) -> None:
        super().__init__(parent)
        self._session, self._system, self._columns, self._said = session, system, columns, said
        self._rows: tuple[Any, ...] = ()
        self._beside: tuple[object, ...] = ()

    def put(self, rows: tuple[Any, ...], *beside: object) -> None:
        """Show other rows in place, so that the selection stays. A row that is as it was is left alone, unless anything
        `beside` the rows that cells read has changed.
        """
        same = alike(beside, self._beside)
        self._beside = beside
        before = self._rows
        old, new = len(self._rows), len(rows)
        if new < old:
            self.beginRemoveRows(QModelIndex(), new, old - 1)
            self._rows = rows
            self.endRemoveRows()
        elif new > old:
            self.beginInsertRows(QModelIndex(), old, new - 1)
            self._rows = rows
            self.endInsertRows()
        self._rows = rows
        # New rows too: a table fits its columns to what is told to have changed.
        changed = [at for at, row in enumerate(rows) if at >= old or not same or _differs(row, before[at])]
        if changed:
            self.dataChanged.emit(self.index(changed[0], 0), self.index(changed[-1], len(self._columns) - 1))

    def rowCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008  # Qt's own signature
        return 0 if parent.isValid() else len(self._rows)

    def columnCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008  # Qt's own signature
        return 0 if parent.isValid() else len(self._columns)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if orientation == Qt.Orientation.Horizontal and role == Qt.ItemDataRole.DisplayRole:
            return tr(self._columns[section].heading)
        return None

    def data(self, index: Index, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if not index.isValid():
            return None
        column = self._columns[index.column()]
        value = column.value(self._rows[index.row()])
        if value is None:  # nothing is known there yet
            shown = {Qt.ItemDataRole.DisplayRole: "–", Qt.ItemDataRole.EditRole: ""}
            return shown.get(Qt.ItemDataRole(role))
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.ToolTipRole):
            said = str(value) if column.kind is None else _words(float(value), column.kind, self._system)
            return tip(said) if role == Qt.ItemDataRole.ToolTipRole else said
        if role == Qt.ItemDataRole.EditRole:
            return str(value) if column.kind is None else typed(float(value), column.kind, self._system)
        if role == Qt.ItemDataRole.TextAlignmentRole and column.kind is not None:
            return int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        return None

    def flags(self, index: Index) -> Qt.ItemFlag:
        if not index.isValid():
            return Qt.ItemFlag.NoItemFlags
        base = Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable
        return base | Qt.ItemFlag.ItemIsEditable if self._columns[index.column()].edit else base

    def setData(self, index: Index, value: Any, role: int = Qt.ItemDataRole.EditRole) -> bool:
        column = self._columns[index.column()]
        if role != Qt.ItemDataRole.EditRole or column.edit is None:
            return False
        row = self._rows[index.row()]
        if str(value) == self.data(index, Qt.ItemDataRole.EditRole):
            return False
        try:
            text = str(value).strip()
            if column.kind is None:
                read: Any = text
            else:
                read = None if column.clears and not text else parse(text, column.kind, self._system)
            edit = column.edit(row, read)
        except QuantityError as error:
            self._said(str(error))
            return False
        problem = self._session.apply(edit) or ""
        self._said(problem)
        return not problem

    def record(self, row: int) -> Any:
        """The record in a row."""
        return self._rows[row]


def _words(value: float, kind: Kind, system: System) -> str:
    """A value as a cell shows it; a plain number stays plain."""
    return f"{value:g}" if kind.stored == "1" and not kind.bare else show(value, kind.stored, system)


def _differs(row: Any, was: Any) -> bool:
    """Whether a row is not what it was."""
    return row is not was and bool(row != was)


def table_view(model: Records, name: str, *, wide: int | None = None) -> QTableView:
    """A view that fits its columns and edits on typing; the column `wide` (or the last) takes the room that is left."""
    view = QTableView()
    view.setModel(model)
    view.setAccessibleName(name)
    view.verticalHeader().hide()
    view.verticalHeader().setDefaultSectionSize(24)
    view.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
    view.horizontalHeader().setResizeContentsPrecision(MEASURED_ROWS)
    view.horizontalHeader().setStretchLastSection(wide is None)
    if wide is not None:
        view.horizontalHeader().setSectionResizeMode(wide, QHeaderView.ResizeMode.Stretch)
    view.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
    view.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
    view.setEditTriggers(
        QAbstractItemView.EditTrigger.DoubleClicked
        | QAbstractItemView.EditTrigger.AnyKeyPressed
        | QAbstractItemView.EditTrigger.EditKeyPressed
    )
    view.setTabKeyNavigation(False)
    return view


class SaidLine(Label):
    """The line under a table that says why an entry was refused; it takes no room while there is nothing to say."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("stop")
        self.setWordWrap(True)
        self.hide()

    def setText(self, text: str) -> None:
        super().setText(text)
        self.setHidden(not text)
