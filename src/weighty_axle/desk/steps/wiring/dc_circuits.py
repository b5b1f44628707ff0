"""DC circuits: panels and their fused ways, each at its own worst minute."""

from __future__ import annotations

from functools import partial
from typing import Any

from msgspec import Struct
from PySide6.QtWidgets import QLineEdit

from weighty_axle.design.brief.draws import voltage_class
from weighty_axle.design.plainest import plainest
from weighty_axle.design.wiring.direct import DcCircuitResult, DcPanelResult
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.commands import Command
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import Edit, set_value, value_words
from weighty_axle.job.edits.sheet import add_entry
from weighty_axle.job.edits.wiring import lighting, read_lights
from weighty_axle.job.models.wiring import DcCircuit, DcPanel, DcSwitch
from weighty_axle.job.stated import Stated
from weighty_axle.units import CURRENT, FRACTION, LENGTH, System, read_conductor


class Way(Struct, frozen=True):
    """A row: a panel's feeder, or a circuit under it."""

    path: str
    stated: DcPanel | DcCircuit
    result: DcPanelResult | DcCircuitResult
    whole_drop: float | None

    @property
    def told(self) -> str:
        """How full a panel is, or what hangs on a circuit."""
        if isinstance(self.result, DcPanelResult):
            return tr("{free} ways free").format(free=self.result.ways_free)
        return " ".join(self.result.loads) or tr("nothing on it")


def ways(shown: Shown) -> tuple[Way, ...]:
    """Panels of the system on show, each with its circuits; circuits straight on a bar last."""
    direct, dc = shown.design.direct, shown.whole.dc
    drops = {one.tag: one.drop_share.value for one in shown.design.flow.ways if one.told}
    panels, circuits = {one.tag: one for one in dc.panels}, {one.tag: one for one in dc.circuits}
    found: list[Way] = []
    for panel in direct.panels:
        found.append(Way(f"dc.panels[{panel.tag}]", panels[panel.tag], panel, drops.get(panel.tag)))
        found += [_way(circuits, one, drops) for one in direct.circuits if one.panel == panel.tag]
    return (*found, *(_way(circuits, one, drops) for one in direct.circuits if not one.panel))


def _way(circuits: dict[str, DcCircuit], one: DcCircuitResult, drops: dict[str, float]) -> Way:
    return Way(f"dc.circuits[{one.tag}]", circuits[one.tag], one, drops.get(one.tag))


def _set(name: str, words: str, way: Way, value: Any) -> Edit:
    return set_value(f"{way.path}.{name}", value, f"{words} of {way.result.tag}: {value_words(value)}")


def _set_size(way: Way, text: str) -> Edit:
    size = read_conductor(text)
    return set_value(f"{way.path}.size", size, f"Conductor of {way.result.tag}: {size}")


_COLUMNS = (
    Column("Tag", lambda way: way.result.tag if isinstance(way.stated, DcPanel) else f"   {way.result.tag}", None),
    Column("Name", lambda way: way.result.name, None, partial(_set, "name", "Name")),
    Column("Bar", lambda way: way.result.bar, None),
    Column("Carries", lambda way: way.result.current_a.value, CURRENT),
    Column("Fuse", lambda way: way.stated.fuse_a, CURRENT, partial(_set, "fuse_a", "Fuse")),
    Column("Wire", lambda way: way.stated.size, None, _set_size),
    Column("One way", lambda way: way.result.length_m.value, LENGTH, partial(_set, "length_m", "Length"), clears=True),
    Column("Drop", lambda way: way.result.drop_share.value, FRACTION),
    Column("In all", lambda way: way.whole_drop, FRACTION),
    Column("On it", lambda way: way.told, None),
)


class DcCircuitsLeaf(Leaf):
    """The table with figures of the row chosen, and presses to add."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.said = SaidLine()
        self.model = Records(session, system, _COLUMNS, self.said.setText, self)
        self.table = table_view(self.model, tr("DC panels and circuits"), wide=9)
        self.table.selectionModel().currentRowChanged.connect(self._on_row)
        self.column.addWidget(self.table, 1)
        self.column.addWidget(self.said)
        self.row_of(
            ("Add a DC panel", partial(self.add, "dc.panels", DcPanel)),
            ("Add a DC circuit", partial(self.add, "dc.circuits", DcCircuit)),
            ("Add an either-or switch", partial(self.add, "dc.switches", DcSwitch)),
        )
        self.quick = QLineEdit()
        self.quick.setMinimumWidth(230)
        self.quick.returnPressed.connect(self.add_lights)
        self.quick.setAccessibleName(tr("Lights in one go"))
        self.quick.setPlaceholderText(tr("12 lights of 4 W on 3 switches"))
        self.row_of(Label(tr("In one go:")), self.quick, ("Add the lights", self.add_lights))
        self.figures = self.figure_row()
        self.follow(self.table, self.model, lambda way: way.result.tag)

    def add(self, path: str, kind: type[Stated]) -> None:
        """Add one and open its sheet."""
        made = plainest(kind, self.session.shown.whole)
        if isinstance(made, DcCircuit) and self.session.shown.design.direct.panels:
            panel = self.session.shown.design.direct.panels[-1].tag
            made = type(made)(tag=made.tag, name=made.name, size=made.size, panel=panel)
        refused = self.session.apply(add_entry(path, made, path))
        self.said.setText(refused or "")
        if not refused:
            self.session.sheet_asked.emit(str(getattr(made, "tag", "")))

    def add_lights(self) -> None:
        """Circuits, switches and loads of what is typed, in the panel that is chosen, the first, or on the bar."""
        shown = self.session.shown
        try:
            asked = read_lights(self.quick.text())
        except ValueError as error:
            self.said.setText(str(error))
            return
        row = self.table.currentIndex().row()
        panels = [one.tag for one in shown.design.direct.panels]
        chosen = self.model.record(row).stated if 0 <= row < self.model.rowCount() else None
        panel = chosen.tag if isinstance(chosen, DcPanel) else getattr(chosen, "panel", "") or next(iter(panels), "")
        refused = self.session.apply(lighting(asked, panel, voltage_class(shown.design.bank.nominal_v.value)))
        self.said.setText(refused or "")
        if not refused:
            self.quick.clear()

    def _on_row(self) -> None:
        row = self.table.currentIndex().row()
        if 0 <= row < self.model.rowCount():
            self.session.select(self.model.record(row).result.tag)
            self._tell(self.model.record(row))

    def _tell(self, way: Way) -> None:
        start = (way.result.start_a,) if isinstance(way.result, DcCircuitResult) else ()
        self.figures.put((way.result.current_a, *start, way.result.ampacity_a, way.result.drop_share))

    def commands(self) -> list[Command]:
        return [
            Command(tr("Add a DC panel"), "", partial(self.add, "dc.panels", DcPanel)),
            Command(tr("Add a DC circuit"), "", partial(self.add, "dc.circuits", DcCircuit)),
            Command(tr("Add an either-or switch"), "", partial(self.add, "dc.switches", DcSwitch)),
        ]

    def show_shown(self, shown: Shown) -> None:
        found = ways(shown)
        self.model.put(found)
        row = self.table.currentIndex().row()
        if found:
            self._tell(found[row] if 0 <= row < len(found) else found[0])
        else:
            self.figures.put(())
