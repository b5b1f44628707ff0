"""AC cables: cords, feeders and circuits, each with its conduit, and the conduit that holds all of a panel's."""

from __future__ import annotations

from typing import Any

from weighty_axle.answers.wiring.conduit import AcCable, ac_cables, bundles
from weighty_axle.answers.wiring.cords import cords_of
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import Edit, set_value
from weighty_axle.units import CURRENT, FRACTION, LENGTH, QuantityError, System, conductor_words


def _field(row: AcCable, cord: str, circuit: str, feeder: str) -> str:
    """The field behind a cable's cell: of an inlet, of a circuit, of a panel."""
    if row.cord:
        return f"ac.inlets[{row.about}].{cord}"
    return f"ac.circuits[{row.about}].{circuit}" if row.panel else f"ac.panels[{row.about}].{feeder}"


def _set_length(row: AcCable, value: Any) -> Edit:
    return set_value(
        _field(row, "cord_m", "length_m", "length_m"), value, f"Length of {row.conductor.tag}: {value:g} m"
    )


def _set_size(row: AcCable, text: Any) -> Edit:
    if not str(text).strip():
        raise QuantityError(tr("A size such as 6 AWG or 4 mm2."))
    return set_value(_field(row, "cord_size", "size", "size"), str(text), f"{row.conductor.tag} of {text}")


_COLUMNS = (
    Column("Cable", lambda row: row.conductor.tag, None),
    Column("For", lambda row: row.conductor.words, None),
    Column("From", lambda row: row.conductor.start, None),
    Column("Wire", lambda row: conductor_words(row.conductor.size), None, _set_size),
    Column("One way", lambda row: row.conductor.length_m, LENGTH, _set_length),
    Column("Guard", lambda row: row.conductor.fuse_a, CURRENT),
    Column("Carries", lambda row: row.conductor.current_a, CURRENT),
    Column("Drop", lambda row: row.conductor.drop_share, FRACTION),
    Column("Conduit", lambda row: "–" if row.cord else row.conduit or tr("none"), None),
)
_BUNDLES = (
    Column("Panel", lambda row: row.panel, None),
    Column("Name", lambda row: row.name, None),
    Column("Circuits", lambda row: row.cables, None),
    Column("All in one conduit", lambda row: row.conduit or tr("more than one"), None),
)


class AcCablesLeaf(Leaf):
    """Cables above, panels below."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.said = SaidLine()
        self.model = Records(session, system, _COLUMNS, self.said.setText, self)
        self.table = table_view(self.model, tr("AC cables"), wide=1)
        self.table.selectionModel().currentRowChanged.connect(self._on_row)
        self.column.addWidget(self.table, 3)
        self.figures = self.figure_row()
        self.together = Records(session, system, _BUNDLES, self.said.setText, self)
        self.column.addWidget(table_view(self.together, tr("Conduits of panels"), wide=1), 1)
        self.column.addWidget(self.said)
        self.follow(self.table, self.model, lambda row: row.about)

    def _on_row(self) -> None:
        row = self.table.currentIndex().row()
        if 0 <= row < self.model.rowCount():
            self.session.select(self.model.record(row).about)
            self._tell(self.model.record(row))

    def _tell(self, row: AcCable) -> None:
        design = self.session.shown.design
        tag = row.conductor.tag
        boards = {one.tag: (one.feeder_a, one.drop_share) for one in design.panels.panels}
        circuits = zip(design.circuits, design.panels.circuits, strict=True)
        circuit = {one.tag: (found.running_a, found.drop_share) for one, found in circuits}
        cords = {one.tag: (one.length_m, one.drop_share) for one in cords_of(design)}
        self.figures.put(circuit.get(tag) or boards.get(tag) or cords.get(tag) or ())

    def show_shown(self, shown: Shown) -> None:
        found = ac_cables(shown.design)
        self.model.put(found)
        self.together.put(bundles(shown.design, found))
        row = self.table.currentIndex().row()
        if found:
            self._tell(found[row] if 0 <= row < len(found) else found[0])
        else:
            self.figures.put(())
