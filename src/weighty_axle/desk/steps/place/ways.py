"""Ways: what lies in every wire way, and how long every cable is along them."""

from __future__ import annotations

from functools import partial
from typing import Any

from weighty_axle.answers.place.ways_filled import WayFilled, all_cables, ways_filled
from weighty_axle.design.cables import Cable
from weighty_axle.design.figures import PRACTICE, Figure
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import Edit, of_whole, set_value
from weighty_axle.units import FRACTION, LENGTH, NUMBER, System


def _set(name: str, title: str, row: WayFilled, value: Any) -> Edit:
    return of_whole(set_value(f"vehicle.ways[{row.way.tag}].{name}", value, f"{title} of {row.way.tag}: {value}"))


def _through(cable: Cable) -> str:
    if cable.path is None:
        return tr("no way leads there")
    return " · ".join(way.tag for way in cable.path.ways) or tr("within one space")


_WAYS = (
    Column("Tag", lambda row: row.way.tag, None),
    Column("Wire way", lambda row: row.way.name, None, partial(_set, "name", "Name")),
    Column("From", lambda row: row.way.start, None),
    Column("To", lambda row: row.way.end, None),
    Column("Length", lambda row: row.way.length_m, LENGTH, partial(_set, "length_m", "Length")),
    Column("Through", lambda row: row.way.zone, None),
    Column("Clear, mm", lambda row: row.way.clear_mm, NUMBER, partial(_set, "clear_mm", "Clear width")),
    Column("Cables", lambda row: sum(one.count for one in row.cables), NUMBER),
    Column("Filled", lambda row: row.fill_share.value, FRACTION),
    Column("May be", lambda row: row.allowed_share, FRACTION),
)
_CABLES = (
    Column("Cable", lambda one: one.tag, None),
    Column("What it joins", lambda one: one.words, None),
    Column("Carries", lambda one: one.kind.upper(), None),
    Column("Ways", _through, None),
    Column("Length, one way", lambda one: one.length_m.value, LENGTH),
    Column("", lambda one: tr("measured") if one.length_m.formula == "measured" else tr("drawn"), None),
)


class WaysLeaf(Leaf):
    """Ways with their fill above, every cable with its way and length below."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.said = SaidLine()
        self._telling = False
        self.ways = Records(session, system, _WAYS, self.said.setText, self)
        self.way_table = table_view(self.ways, tr("Wire ways"), wide=1)
        self.way_table.selectionModel().currentRowChanged.connect(self._on_way)
        self.cables = Records(session, system, _CABLES, self.said.setText, self)
        self.table = table_view(self.cables, tr("Cables"), wide=1)
        self.table.selectionModel().currentRowChanged.connect(self._on_cable)
        self.column.addWidget(self.way_table, 2)
        self.column.addWidget(self.said)
        self.row_of(("Sheet of the way", self._sheet))
        self.column.addWidget(self.table, 3)
        self.figures = self.figure_row()
        self.follow(self.way_table, self.ways, lambda row: row.way.tag)
        self.follow(self.table, self.cables, lambda one: one.tag)

    def _sheet(self) -> None:
        row = self.way_table.currentIndex().row()
        if 0 <= row < self.ways.rowCount():
            self.session.sheet_asked.emit(self.ways.record(row).way.tag)

    def _on_way(self) -> None:
        row = self.way_table.currentIndex().row()
        if 0 <= row < self.ways.rowCount():
            found = self.ways.record(row)
            self._telling = True
            self.session.select(found.way.tag, *(one.tag for one in found.cables))
            self._telling = False

    def _on_cable(self) -> None:
        row = self.table.currentIndex().row()
        if 0 <= row < self.cables.rowCount() and not self._telling:
            one = self.cables.record(row)
            self.session.select(one.tag, one.start, one.end)

    def show_shown(self, shown: Shown) -> None:
        ways, cables = ways_filled(shown.design), all_cables(shown.design)
        self.ways.put(ways)
        self.cables.put(cables)
        told: list[Figure] = []
        if cables:
            told.append(max((one.length_m for one in cables), key=lambda one: one.value))
            told.append(
                Figure.total(
                    name="All cables, one way",
                    unit="m",
                    formula="Σ length of every cable with both ends in their places",
                    inputs=tuple(one.length_m for one in cables),
                    source=PRACTICE,
                )
            )
        if ways:
            told.append(max((one.fill_share for one in ways), key=lambda one: one.value))
        self.figures.put(tuple(told))
        none = tr("No wire ways are stated in Vehicle yet: cables are taken along the axes.")
        self.said.setText("" if ways else none)
