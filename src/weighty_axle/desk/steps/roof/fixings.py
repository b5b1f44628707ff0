"""Fixings: wind lift against what holds, weight, members; the protection each input needs and its labels."""

from __future__ import annotations

from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.figures import FigureRow
from weighty_axle.desk.kit.leaves import Leaf, TwoLines
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.steps.roof.plan import RoofPlan
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.units import LENGTH, NUMBER, System, show

FIELDS = (
    Field("Fixings each", "roof.fixing.each", int),
    Field("One may take, N", "roof.fixing.allowed_n", NUMBER),
    Field("Road speed, km/h", "roof.fixing.speed_km_per_h", NUMBER),
    Field("Headwind, km/h", "roof.fixing.headwind_km_per_h", NUMBER),
    Field("Lift coefficient", "roof.fixing.lift_coefficient", NUMBER),
    Field("Safety", "roof.fixing.safety", NUMBER),
    Field("First member", "roof.fixing.members_from_m", LENGTH),
    Field("Members every", "roof.fixing.member_pitch_m", LENGTH),
    Field("Roof stands, kg/m²", "roof.fixing.allowed_roof_kg_per_m2", NUMBER),
)
COLUMNS = (
    Column("Input", lambda one: one.controller, None),
    Column(
        "Isolator, two poles", lambda one: f"{show(one.isolator_v.value, 'V')}, {show(one.isolator_a.value, 'A')}", None
    ),
    Column("Back into a string", lambda one: show(one.back_a.value, "A"), None),
    Column("String fuses", lambda one: "–" if one.fuse_a is None else show(one.fuse_a.value, "A"), None),
    Column("Cable", lambda one: "–" if one.cable is None else show(one.cable.length_m.value, "m"), None),
    Column("Drop", lambda one: "–" if one.cable is None else show(one.cable.drop_share.value, "1"), None),
    Column("Surge arrester", lambda one: tr("yes") if one.surge else tr("not asked for"), None),
)


class FixingsLeaf(Leaf):
    """Fields, plan with members, protection, figures."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.fields = Fields(session, system, FIELDS, 5)
        self.column.addWidget(self.fields)
        self.plan = RoofPlan(session, system)
        self.column.addWidget(self.plan, 2)
        self._said = SaidLine()
        self.model = Records(session, system, COLUMNS, self._said.setText, self)
        self.table = table_view(self.model, tr("Protection of the inputs"), wide=6)
        self.table.selectionModel().currentRowChanged.connect(lambda *_: self._tell())
        self.column.addWidget(self.table, 1)
        self.labels = TwoLines()
        self.column.addWidget(self.labels)
        self.column.addWidget(self._said)
        self.figures = FigureRow(system)
        self.column.addWidget(self.figures)
        self.listen(self.plan, self.figures)
        self.follow(self.table, self.model, lambda guard: guard.controller)

    def _tell(self) -> None:
        """Labels of the chosen input."""
        at = max(0, self.table.currentIndex().row())
        labels = self.model.record(at).labels if at < self.model.rowCount() else ()
        self.labels.setText(tr("Labels: {labels}").format(labels=" · ".join(labels)) if labels else "")

    def show_shown(self, shown: Shown) -> None:
        self.fields.show_shown(shown)
        self.model.put(shown.design.protection)
        held = shown.design.fixings
        self.figures.put(
            (
                held.lift_n,
                held.pull_n,
                held.needed_count,
                held.roof_load_kg_per_m2,
                held.foot_kg,
                shown.design.roof.stand_off_m,
            )
        )
        self._tell()
        self.plan.update()
