"""Lading: what comes and goes, and each axle between its lightest and its heaviest state, left and right."""

from __future__ import annotations

from functools import partial
from typing import Any

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QColor, QPainter, QPen

from weighty_axle.design.place.axles import AxleResult
from weighty_axle.design.plainest import plainest
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.painting import LEFT, RIGHT, Canvas, words
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.commands import Command
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import Edit, of_whole, set_value
from weighty_axle.job.edits.sheet import add_entry
from weighty_axle.job.models.place import Lading
from weighty_axle.units import LENGTH, MASS, System, show


def _set(name: str, title: str, row: Lading, value: Any) -> Edit:
    return of_whole(set_value(f"ladings[{row.tag}].{name}", value, f"{title} of {row.tag}: {value}"))


_COLUMNS = (
    Column("Tag", lambda one: one.tag, None),
    Column("What", lambda one: one.name, None, partial(_set, "name", "Name")),
    Column("Least", lambda one: one.empty_kg, MASS, partial(_set, "empty_kg", "Least")),
    Column("Most", lambda one: one.full_kg, MASS, partial(_set, "full_kg", "Most")),
    Column("Weighed with", lambda one: one.weighed_kg, MASS, partial(_set, "weighed_kg", "Weighed with")),
    Column("Fills from", lambda one: one.takes_from or "–", None),
    Column("Along", lambda one: one.place.x_m, LENGTH, partial(_set, "place.x_m", "Along")),
    Column("Across", lambda one: one.place.y_m, LENGTH, partial(_set, "place.y_m", "Across")),
)


class RangeChart(Canvas):
    """A row an axle: a bar from its lightest to its heaviest state against the plate; under it the heavier load of each
    side's wheels.
    """

    def __init__(self, session: Session, system: System) -> None:
        super().__init__()
        self._session, self._system = session, system
        self.setMinimumHeight(180)
        self.setAccessibleName(tr("Axle loads from the lightest to the heaviest state"))

    def draw(self, painter: QPainter) -> None:
        place = self._session.shown.design.place
        row = min(64.0, (self.height() - 8) / len(place.axles))
        most = 1.06 * max(max(one.limit_kg, one.load_kg.value) for one in place.axles)
        for index, one in enumerate(place.axles):
            self._row(painter, one, QRectF(0, 4 + index * row, self.width(), row), most)

    def _row(self, painter: QPainter, one: AxleResult, rect: QRectF, most: float) -> None:
        now, left, width = look(), 64.0, rect.width() - 64 - 160
        over = one.load_kg.value > one.limit_kg * (1 + 1e-6)
        words(painter, QRectF(4, rect.y(), 56, 18), one.tag, size=10.5, bold=True)
        track = QRectF(left, rect.y() + 2, width, 14)
        painter.fillRect(track, QColor(now.track))
        low, high = (max(0.0, value) / most * width for value in (one.least_kg.value, one.load_kg.value))
        soft = QColor(now.stop if over else now.steel)
        soft.setAlphaF(0.45)
        painter.fillRect(QRectF(left, track.y(), low, 14), soft)
        painter.fillRect(
            QRectF(left + low, track.y(), max(2.0, high - low), 14), QColor(now.stop if over else now.steel)
        )
        x = left + one.limit_kg / most * width
        painter.setPen(QPen(QColor(now.ink), 2))
        painter.drawLine(QPointF(x, track.y() - 3), QPointF(x, track.bottom() + 3))
        told = tr("{load} of {plate}").format(
            load=show(one.load_kg.value, "kg", self._system), plate=show(one.limit_kg, "kg", self._system)
        )
        words(painter, QRectF(rect.right() - 156, rect.y(), 154, 18), told, size=9, bold=True, align=RIGHT)
        state = one.load_kg.limit or tr("one state only")
        words(painter, QRectF(left, rect.y() + 18, width, 14), tr("heaviest: {state}").format(state=state), size=8)
        if not one.coupling:
            sides = tr("wheels left {left}, right {right}; the two assumptions are {spread} apart").format(
                left=show(one.left_kg.value, "kg", self._system),
                right=show(one.right_kg.value, "kg", self._system),
                spread=show(one.spread_kg.value, "kg", self._system),
            )
            words(painter, QRectF(left, rect.y() + 31, width, 14), sides, size=8, colour=now.muted, align=LEFT)
        self.figures.append((track, one.load_kg))
        self.figures.append((QRectF(left, rect.y() + 31, width / 2, 14), one.left_kg))
        self.figures.append((QRectF(left + width / 2, rect.y() + 31, width / 2, 14), one.right_kg))


class LadingLeaf(Leaf):
    """The table of what comes and goes, and the chart."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.said = SaidLine()
        self.model = Records(session, system, _COLUMNS, self.said.setText, self)
        self.table = table_view(self.model, tr("What comes and goes"), wide=1)
        self.table.selectionModel().currentRowChanged.connect(self._on_row)
        self.column.addWidget(self.table, 2)
        self.column.addWidget(self.said)
        self.row_of(("Add what comes and goes", self.add), ("Its sheet", self._sheet))
        self.chart = RangeChart(session, system)
        self.column.addWidget(self.chart, 3)
        self.figures = self.figure_row()
        self.follow(self.table, self.model, lambda one: one.tag)
        self.listen(self.chart)

    def add(self) -> None:
        """One more, with the plainest values."""
        self.said.setText(
            self.session.apply(add_entry("ladings", plainest(Lading, self.session.shown.whole), "What comes and goes"))
            or ""
        )

    def _sheet(self) -> None:
        row = self.table.currentIndex().row()
        if 0 <= row < self.model.rowCount():
            self.session.sheet_asked.emit(self.model.record(row).tag)

    def _on_row(self) -> None:
        row = self.table.currentIndex().row()
        if 0 <= row < self.model.rowCount():
            self.session.select(self.model.record(row).tag)

    def show_shown(self, shown: Shown) -> None:
        self.model.put(shown.whole.ladings)
        place = shown.design.place
        more = tuple(one for one in (place.cog_m, place.rollover_share, place.coupling_least_share) if one is not None)
        self.figures.put((place.gross_kg, place.gross_margin_kg, place.payload_kg, *more[:2]))
        self.chart.update()

    def commands(self) -> list[Command]:
        return [Command(tr("Add water, fuel, passengers or tools"), "", self.add)]
