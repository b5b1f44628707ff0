"""Plan: the roof as it is laid out, with voltage windows below."""

from __future__ import annotations

from typing import Any

from PySide6.QtWidgets import QComboBox

from weighty_axle.design.roof.geometry import module_boxes
from weighty_axle.design.roof.room import add_module
from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.figures import FigureRow
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.records import SaidLine
from weighty_axle.desk.steps.roof.plan import RoofPlan
from weighty_axle.desk.steps.roof.window_chart import WindowChart
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import Edit, remove, set_value
from weighty_axle.job.edits.roof import add_lane, add_obstacle, new_string, turn_module
from weighty_axle.job.models.document import Job
from weighty_axle.reference.tables import modules
from weighty_axle.units import CURRENT, LENGTH, NUMBER, POWER, VOLTAGE, System


def _choose_module(_job: Job, _path: str, name: Any) -> Edit:
    spec = next(row for row in modules().rows if row.name == name)
    return set_value("roof.module", spec, f"Modules: {spec.name}")


def _own_types(job: Job) -> tuple[tuple[Any, str], ...]:
    names = dict.fromkeys((job.roof.module.name, *(row.name for row in modules().rows)))
    return tuple((name, name) for name in names)


ROOF_FIELDS = (
    Field("Module type", "roof.module.name", _own_types, make=_choose_module, wide=3),
    Field("Rated", "roof.module.pmp_w", POWER),
    Field("Voc", "roof.module.voc_v", VOLTAGE),
    Field("Vmp", "roof.module.vmp_v", VOLTAGE),
    Field("Isc", "roof.module.isc_a", CURRENT),
    Field("Edge margin", "roof.margin_m", LENGTH),
    Field("Over the edge", "roof.overhang_m", LENGTH),
    Field("Roof from", "roof.start_m", LENGTH),
    Field("Roof to", "roof.end_m", LENGTH),
    Field("Wide", "roof.width_m", LENGTH),
    Field("Wide in front", "roof.front_width_m", LENGTH, empty="as wide"),
    Field("Crown", "roof.crown_m", LENGTH),
)
OBSTACLE_FIELDS = (
    Field("Obstacle", "roof.obstacles[{tag}].name", str, wide=2),
    Field(
        "Kind",
        "roof.obstacles[{tag}].kind",
        (
            ("other", "other"),
            ("air_conditioner", "air conditioner"),
            ("hatch", "hatch"),
            ("aerial", "aerial"),
            ("rail", "rail"),
            ("duct", "duct"),
            ("box", "box"),
        ),
        wide=2,
    ),
    Field("Along", "roof.obstacles[{tag}].length_m", LENGTH),
    Field("Across", "roof.obstacles[{tag}].width_m", LENGTH),
    Field("High", "roof.obstacles[{tag}].height_m", LENGTH),
    Field("Room to work", "roof.obstacles[{tag}].service_m", LENGTH),
    Field("Given up, because", "roof.obstacles[{tag}].service_given_up", str, wide=2),
    Field("Cells over air, °C", "roof.rise_c", NUMBER),
)
LANE_FIELDS = (
    Field("Lane", "roof.lanes[{tag}].name", str, wide=3),
    Field("Along", "roof.lanes[{tag}].length_m", LENGTH),
    Field("Across", "roof.lanes[{tag}].width_m", LENGTH),
    Field("From the front", "roof.lanes[{tag}].x_m", LENGTH),
)


class PlanLeaf(Leaf):
    """Presses, fields, plan, windows."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self._string = QComboBox()
        self._string.setMinimumContentsLength(5)
        self._string.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self._string.setAccessibleName(tr("String of the selected module"))
        self._string.setPlaceholderText(tr("its string"))
        self._string.activated.connect(self._assign)
        self.row_of(
            self._string,
            ("Add a module", self._add),
            ("Add an obstacle", self._add_obstacle),
            ("Add a lane", self._add_lane),
            ("Turn", self._turn),
            ("Remove", self._remove),
        )
        self._said = SaidLine()
        self.column.addWidget(self._said)
        self.fields = Fields(session, system, ROOF_FIELDS, 6)
        self.column.addWidget(self.fields)
        self.obstacle_fields = Fields(session, system, OBSTACLE_FIELDS, len(OBSTACLE_FIELDS))
        self.lane_fields = Fields(session, system, LANE_FIELDS, len(LANE_FIELDS))
        self.column.addWidget(self.obstacle_fields)
        self.column.addWidget(self.lane_fields)
        self.plan = RoofPlan(session, system)
        self.column.addWidget(self.plan, 4)
        self.chart = WindowChart(session)
        self._charted: tuple[object, ...] = ()
        self.column.addWidget(self.chart, 2)
        self.figures = FigureRow(system)
        self.column.addWidget(self.figures)
        self.listen(self.plan, self.chart, self.figures)
        session.selected.connect(self._on_selected)

    def _on_selected(self, _tags: tuple[str, ...]) -> None:
        if self.isVisible():
            self._show_head(self.session.shown)
            self.chart.update()

    def _show_head(self, shown: Shown) -> None:
        module, obstacle, lane = self.plan.module(), self.plan.obstacle(), self.plan.lane()
        self._string.setEnabled(module is not None)
        self.presses["Turn"].setEnabled(module is not None)
        self.presses["Remove"].setEnabled(bool(self.plan.chosen()))
        for fields, one in ((self.obstacle_fields, obstacle), (self.lane_fields, lane)):
            fields.setVisible(one is not None)
            if one is not None:
                fields.show_shown(shown, one.tag)
        self._string.clear()
        self._string.addItem(tr("no string"), "")
        for string in shown.job.roof.strings:
            self._string.addItem(f"{string.tag} → {string.controller}", string.tag)
        for controller in shown.job.roof.controllers:
            self._string.addItem(
                tr("new string → {controller}").format(controller=controller.tag), f"new {controller.tag}"
            )
        self._string.setCurrentIndex(self._string.findData(module.string) if module else -1)

    def show_shown(self, shown: Shown) -> None:
        self.fields.show_shown(shown)
        self._show_head(shown)
        roof = shown.design.roof
        worst = min(roof.strings, key=lambda string: string.cold_margin_v.value, default=None)
        margin = (worst.cold_voc_v, worst.cold_margin_v) if worst else ()
        self.figures.put(
            (
                roof.rated_w,
                *((roof.placed_w,) if roof.unassigned else ()),
                roof.noon_high_w,
                *margin,
                *((roof.stand_off_m,) if shown.job.roof.crown_m else ()),
            )
        )
        self.plan.update()
        # A module moved about changes no voltage: the chart is not painted for nothing.
        charted = (roof.strings, tuple(controller.run_v for controller in roof.controllers))
        if charted != self._charted:
            self._charted = charted
            self.chart.update()

    def _assign(self, index: int) -> None:
        module = self.plan.module()
        if module is not None:
            string = str(self._string.itemData(index))
            if string.startswith("new "):
                self.session.apply(new_string(module.tag, string.removeprefix("new ")))
                return
            label = f"Put {module.tag} on {string}" if string else f"Take {module.tag} off its string"
            self.session.apply(set_value(f"roof.modules[{module.tag}].string", string, label))

    def _add(self) -> None:
        module, roof = self.plan.module(), self.session.shown.job.roof
        string = module.string if module else roof.strings[-1].tag if roof.strings else ""
        own = {one.tag for one in roof.modules}
        beside = [box for tag, box in module_boxes(self.session.shown.whole.roof).items() if tag not in own]
        problem = self.session.apply(add_module(string, beside))
        self._said.setText(problem or "")
        if not problem:
            self.session.select(self.session.shown.job.roof.modules[-1].tag)

    def _turn(self) -> None:
        module = self.plan.module()
        if module is not None:
            self.session.apply(turn_module(module.tag))

    def _add_obstacle(self) -> None:
        self.session.apply(add_obstacle())
        self.session.select(self.session.shown.job.roof.obstacles[-1].tag)

    def _add_lane(self) -> None:
        self.session.apply(add_lane())
        self.session.select(self.session.shown.job.roof.lanes[-1].tag)

    def _remove(self) -> None:
        roof = self.session.shown.job.roof
        for one in self.plan.chosen():
            group = next(
                name
                for name in ("modules", "obstacles", "lanes")
                if any(each.tag == one.tag for each in getattr(roof, name))
            )
            self.session.apply(remove(f"roof.{group}[{one.tag}]", getattr(one, "name", one.tag)))
