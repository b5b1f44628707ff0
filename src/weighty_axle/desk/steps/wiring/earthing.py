"""AC and bonding: earth and loop of every circuit, what trips on the inverters alone, and the plan of all bonds."""

from __future__ import annotations

from weighty_axle.answers.wiring.bonding import bonds
from weighty_axle.design.wiring.earthing import FaultLoop
from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.units import CURRENT, RESISTANCE, System, conductor_words

BOND_FIELDS = (
    Field("DC negative meets the chassis at", "wiring.chassis_at", str, wide=3, empty="not said"),
    Field("With", "wiring.chassis_size", str, empty="computed"),
)


def _opens(one: FaultLoop) -> str:
    if one.guarded:
        return tr("{ma:g} mA device").format(ma=one.rcd_ma)
    return tr("its breaker") if one.trips else tr("nothing at once")


_COLUMNS = (
    Column("Circuit", lambda one: one.tag, None),
    Column("Name", lambda one: one.name, None),
    Column("Breaker", lambda one: one.breaker_a, CURRENT),
    Column("Wire", lambda one: conductor_words(one.size), None),
    Column("Earth", lambda one: conductor_words(one.earth), None),
    Column("Loop", lambda one: one.loop_ohm.value, RESISTANCE),
    Column("Inverters give", lambda one: one.on_inverters_a.value, CURRENT),
    Column("Shore gives", lambda one: one.on_shore_a.value if one.on_shore_a is not None else None, CURRENT),
    Column("At once from", lambda one: one.at_once_a.value, CURRENT),
    Column("Opened by", _opens, None),
)
_BONDS = (
    Column("Bond", lambda one: one.what, None),
    Column("From", lambda one: one.start, None),
    Column("To", lambda one: one.end, None),
    Column("Size", lambda one: conductor_words(one.size), None),
    Column("Why", lambda one: one.why, None),
)


class EarthingLeaf(Leaf):
    """Circuits above, bonds below."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.said = SaidLine()
        self.model = Records(session, system, _COLUMNS, self.said.setText, self)
        self.table = table_view(self.model, tr("Circuits in a fault to earth"), wide=1)
        self.table.selectionModel().currentRowChanged.connect(self._on_row)
        self.column.addWidget(self.table, 1)
        self.figures = self.figure_row()
        self.fields = Fields(session, system, BOND_FIELDS, 4)
        self.column.addWidget(self.fields)
        self.plan = Records(session, system, _BONDS, self.said.setText, self)
        self.bonds = table_view(self.plan, tr("Plan of all bonds"), wide=4)
        self.column.addWidget(self.bonds, 1)
        self.column.addWidget(self.said)
        self.follow(self.table, self.model, lambda one: one.tag)

    def _on_row(self) -> None:
        row = self.table.currentIndex().row()
        if 0 <= row < self.model.rowCount():
            self.session.select(self.model.record(row).tag)
            self._tell(self.model.record(row))

    def _tell(self, one: FaultLoop) -> None:
        shore = (one.on_shore_a,) if one.on_shore_a is not None else ()
        self.figures.put((one.loop_ohm, one.on_inverters_a, *shore, one.at_once_a))

    def show_shown(self, shown: Shown) -> None:
        found = shown.design.loops
        self.model.put(found)
        self.plan.put(bonds(shown.design))
        self.fields.show_shown(shown)
        row = self.table.currentIndex().row()
        if found:
            self._tell(found[row] if 0 <= row < len(found) else found[0])
        else:
            self.figures.put(())
