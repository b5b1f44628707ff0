"""Where should it go: places for the bank or the inverters, best first, each at one press."""

from __future__ import annotations

from functools import partial

from PySide6.QtWidgets import QComboBox

from weighty_axle.answers.place.where import What, where
from weighty_axle.desk.kit.leaves import Leaf, TwoLines
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.commands import Command
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.units import FRACTION, LENGTH, MASS, TEMPERATURE, System

_COLUMNS = (
    Column("Place", lambda row: row.words + (tr(" (as it is)") if row.now else ""), None),
    Column("Axle", lambda row: row.axle, None),
    Column("Left on it", lambda row: row.margin_kg.value, MASS),
    Column("Right minus left", lambda row: row.side_kg.value, MASS),
    Column("Cable", lambda row: row.lead_m.value, LENGTH),
    Column("Drop", lambda row: row.drop_share.value, FRACTION),
    Column("Warmest", lambda row: row.warmest_c.value if row.warmest_c is not None else None, TEMPERATURE),
)
_WHAT: tuple[tuple[What, str], ...] = (("bank", "the bank"), ("inverters", "the inverters"))


def _subject(shown: Shown) -> tuple[object, ...]:
    """What an answer is about: system, vehicle, and the things that are placed."""
    job = shown.job
    return (
        shown.design.system,
        job.vehicle,
        tuple(pack.tag for pack in job.bank.packs),
        tuple(unit.tag for unit in job.inverters.units),
    )


class WhereLeaf(Leaf):
    """Ask, look at the places, take one."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        told = TwoLines()
        told.setText(
            tr(
                "Every place and turn in every bay it fits in is worked out: axles, sides, cable, warmth, door, what "
                "is kept away from. Best is what uses least of all its limits together."
            )
        )
        self.column.addWidget(told)
        self.what = QComboBox()
        self.what.setAccessibleName(tr("What is to be placed"))
        for key, words in _WHAT:
            self.what.addItem(tr(words), key)
        self.row_of(self.what, ("Where should it go?", self.ask), ("Put it there", self.take))
        self._asked_of: tuple[object, ...] = ()
        self.said = SaidLine()
        self.model = Records(session, system, _COLUMNS, self.said.setText, self)
        self.table = table_view(self.model, tr("Places, best first"), wide=0)
        self.table.selectionModel().currentRowChanged.connect(self._on_row)
        self.column.addWidget(self.table, 1)
        self.column.addWidget(self.said)
        self.figures = self.figure_row()

    def ask(self) -> None:
        """Work the places out in the background."""
        design = self.session.shown.design
        self._asked_of = _subject(self.session.shown)
        self.work(
            tr("Where should it go"), partial(where, design, self.what.currentData()), self._told, self.said.setText
        )

    def _told(self, found: object) -> None:
        assert isinstance(found, tuple)
        if self._asked_of != _subject(self.session.shown):
            found = ()  # the job has outgrown the answer
        self.model.put(found)
        if found:
            self.table.selectRow(0)  # its reason is told
        else:
            self.said.setText(tr("It fits in no bay: state bays in Vehicle, or make room."))

    def take(self) -> None:
        """Put it where the chosen line says."""
        row = self.table.currentIndex().row()
        if 0 <= row < self.model.rowCount():
            self.said.setText(self.session.apply(self.model.record(row).edit) or "")
        else:
            self.said.setText(tr("Ask first, then choose a line."))

    def _on_row(self) -> None:
        row = self.table.currentIndex().row()
        if 0 <= row < self.model.rowCount():
            one = self.model.record(row)
            self.said.setText(one.reason)
            self.figures.put((one.margin_kg, one.side_kg, one.lead_m, one.drop_share))

    def show_shown(self, shown: Shown) -> None:
        """Places stay as they were worked out, as long as they are for these things in this vehicle."""
        if self._asked_of != _subject(shown):
            self.model.put(())

    def commands(self) -> list[Command]:
        return [Command(tr("Where should it go?"), "", self.ask)]
