"""Fixing: what holds each thing, and how much of it a hard stop, a turn and a bump use."""

from __future__ import annotations

from functools import partial
from typing import Any, NamedTuple

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QColor, QPainter, QPen

from weighty_axle.design.place.holds import HoldResult, enough, fixed_words, hold_all
from weighty_axle.desk.kit.leaves import Leaf, TwoLines
from weighty_axle.desk.kit.painting import RIGHT, Canvas, words
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.commands import Command
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import WHOLE, Edit, of_whole, set_value, value_words, with_value
from weighty_axle.job.models.place import Hold
from weighty_axle.units import LENGTH, MASS, NUMBER, System, show

_ROW = 20.0


class HoldRow(NamedTuple):
    """A fixing as stated, and its result where it holds anything."""

    hold: Hold
    result: HoldResult | None


def _set(name: str, title: str, row: HoldRow, value: Any) -> Edit:
    label = f"{title} of {row.hold.tag}: {value_words(value)}"
    return of_whole(set_value(f"holds[{row.hold.tag}].{name}", value, label))


_COLUMNS = (
    Column("Tag", lambda row: row.hold.tag, None),
    Column("Holds", lambda row: ", ".join(row.hold.items), None),
    Column("Mass", lambda row: row.result.mass_kg.value if row.result else None, MASS),
    Column(
        "Bolts",
        lambda row: None if row.hold.how == "straps" else row.hold.bolts,
        NUMBER,
        lambda row, value: _set("bolts", "Bolts", row, round(value)),
    ),
    Column("Fixed", lambda row: fixed_words(row.hold), None),
    Column("Rows apart", lambda row: row.hold.rows_m, LENGTH, partial(_set, "rows_m", "Rows apart"), clears=True),
)


class UseChart(Canvas):
    """A row a fixing: how much of it is used at its worst, against all of it; the worst first."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__()
        self._session, self._system = session, system
        self.setMinimumHeight(120)
        self.setAccessibleName(tr("How much of each fixing is used"))

    def draw(self, painter: QPainter) -> None:
        rows = sorted(self._session.shown.design.holds.holds.values(), key=lambda one: -one.use_share.value)
        fits = max(1, int((self.height() - 4) // _ROW))
        shown = rows if len(rows) <= fits else rows[: fits - 1]
        top = max(1.25, min(3.0, max((one.use_share.value for one in rows), default=1.0)))
        for at, one in enumerate(shown):
            self._row(painter, one, 2 + at * _ROW, top)
        if len(rows) > len(shown):
            rest = tr("and {count} more, used less").format(count=len(rows) - len(shown))
            words(painter, QRectF(64, 2 + len(shown) * _ROW, self.width() - 64, _ROW), rest, size=9)

    def _row(self, painter: QPainter, one: HoldResult, y: float, top: float) -> None:
        now, use = look(), one.use_share
        left, width = 64.0, self.width() - 64 - 400
        words(painter, QRectF(4, y, 58, 18), one.tag, size=10, bold=True)
        track = QRectF(left, y + 3, width, 12)
        painter.fillRect(track, QColor(now.track))
        colour = QColor(now.stop if use.value > 1 + 1e-6 else now.steel)
        painter.fillRect(QRectF(left, y + 3, min(1.0, use.value / top) * width, 12), colour)
        painter.setPen(QPen(QColor(now.ink), 2))
        painter.drawLine(QPointF(left + width / top, y), QPointF(left + width / top, y + 18))
        told = f"{show(use.value, '1', self._system)} {use.limit}"
        words(painter, QRectF(self.width() - 396, y, 394, 18), told, size=9, align=RIGHT)
        self.figures.append((track, use))


class FixingLeaf(Leaf):
    """The table of fixings, how much of each is used, and what is loose."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.asked = TwoLines()
        self.column.addWidget(self.asked)
        self.said = SaidLine()
        self.model = Records(session, system, _COLUMNS, self.said.setText, self)
        self.table = table_view(self.model, tr("Fixings"), wide=1)
        self.table.selectionModel().currentRowChanged.connect(self._on_row)
        self.column.addWidget(self.table, 3)
        self.column.addWidget(self.said)
        self.row_of(
            ("Hold what is loose", self.hold_loose),
            ("Enough bolts for this one", self.enough_here),
            ("Its sheet", self._sheet),
        )
        self.chart = UseChart(session, system)
        self.column.addWidget(self.chart, 2)
        self.figures = self.figure_row()
        self.follow(self.table, self.model, lambda row: row.hold.tag)
        self.listen(self.chart)

    def hold_loose(self) -> None:
        """A fixing for everything that has none, with the fewest bolts that carry it."""
        shown = self.session.shown
        made, left = hold_all(shown.whole, shown.design.items, shown.design.holds.loose)
        if made:
            edit = Edit(
                f"Hold {len(made)} loose things",
                lambda job: with_value(job, "holds", (*job.holds, *made)),
                path="holds",
                system=WHOLE,
            )
            said = self.session.apply(edit)
            if said:
                self.said.setText(said)
                return
        if left:
            self.said.setText(tr("No bolts of the table carry {items} alone.").format(items=", ".join(left)))
        elif not made:
            self.said.setText(tr("Nothing is loose."))

    def enough_here(self) -> None:
        """The fewest bolts that carry what the chosen fixing holds."""
        row = self._row()
        if row is None:
            return
        better = enough(row.hold, self.session.shown.whole.vehicle, self.session.shown.design.items)
        if better is None or better == row.hold:
            self.said.setText(tr("No other bolts of the table are better for it."))
            return
        path = f"holds[{row.hold.tag}]"
        label = f"{row.hold.tag}: {better.bolts} × {better.bolt}"
        edit = Edit(label, lambda job: with_value(job, path, better), path=path, system=WHOLE)
        self.said.setText(self.session.apply(edit) or "")

    def _row(self) -> HoldRow | None:
        row = self.table.currentIndex().row()
        return self.model.record(row) if 0 <= row < self.model.rowCount() else None

    def _sheet(self) -> None:
        row = self._row()
        if row is not None:
            self.session.sheet_asked.emit(row.hold.tag)

    def _on_row(self) -> None:
        row = self._row()
        if row is not None:
            self.session.select(row.hold.tag)

    def show_shown(self, shown: Shown) -> None:
        found = shown.design.holds
        self.model.put(tuple(HoldRow(one, found.holds.get(one.tag)) for one in shown.whole.holds))
        factors = " · ".join(
            tr("{words} {factor:g} × its weight").format(words=tr(words_), factor=factor)
            for words_, factor in zip(("forward", "sideways", "up, beyond it"), found.factors_g, strict=True)
        )
        loose = tr("Loose: {items}.").format(items=", ".join(found.loose)) if found.loose else tr("Nothing is loose.")
        self.asked.setText(tr("{class_}: {factors}. {loose}").format(class_=found.asked, factors=factors, loose=loose))
        worst = sorted(found.holds.values(), key=lambda one: -one.use_share.value)[:1]
        self.figures.put(tuple(one for each in worst for one in (each.mass_kg, each.forward_n, each.use_share)))
        self.chart.update()

    def commands(self) -> list[Command]:
        return [Command(tr("Hold everything that is loose"), "", self.hold_loose)]
