"""Roof: modules, strings and the controllers' windows."""

from __future__ import annotations

from typing import Any

from PySide6.QtWidgets import QComboBox

from weighty_axle.desk.session import Session, Shown
from weighty_axle.desk.steps.roof.plan import RoofPlan
from weighty_axle.desk.steps.roof.window_chart import WindowChart
from weighty_axle.desk.steps.view import StepView
from weighty_axle.desk.text import tr
from weighty_axle.desk.widgets.fields import Field, Fields
from weighty_axle.job.edits import Edit, remove, set_value
from weighty_axle.job.model import Job
from weighty_axle.job.roof_edits import add_module, add_obstacle, new_string, turn_module
from weighty_axle.reference.tables import modules
from weighty_axle.units import CURRENT, LENGTH, NUMBER, POWER, VOLTAGE, System


def _choose_module(_job: Job, _path: str, name: Any) -> Edit:
    spec = next(one for one in modules().rows if one.name == name)
    return set_value("roof.module", spec, f"Modules: {spec.name}")


ROOF_FIELDS = (
    Field("Module type", "roof.module.name", tuple((one.name, one.name) for one in modules().rows), make=_choose_module, wide=3),
    Field("Rated", "roof.module.pmp_w", POWER),
    Field("Voc", "roof.module.voc_v", VOLTAGE),
    Field("Vmp", "roof.module.vmp_v", VOLTAGE),
    Field("Isc", "roof.module.isc_a", CURRENT),
    Field("Edge margin", "roof.margin_m", LENGTH),
    Field("Roof from", "roof.start_m", LENGTH),
    Field("Roof to", "roof.end_m", LENGTH),
)


OBSTACLE_FIELDS = (
    Field("Obstacle", "roof.obstacles[{tag}].name", str, wide=2),
    Field("Along", "roof.obstacles[{tag}].length_m", LENGTH),
    Field("Across", "roof.obstacles[{tag}].width_m", LENGTH),
    Field("High", "roof.obstacles[{tag}].height_m", LENGTH),
    Field("Cells over air, °C", "roof.rise_c", NUMBER),
)


class RoofView(StepView):
    """Plan above, voltage windows below; the selected module's string in the head."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system, "Roof", "modules, strings and controller windows")
        self._string = QComboBox()
        self._string.setFixedWidth(112)
        self._string.setAccessibleName(tr("String of the selected module"))
        self._string.activated.connect(self._assign)
        self.head.addWidget(self._string)
        self.add = self.button("Add a module", self._add)
        self.add_obstacle = self.button("Add an obstacle", self._add_obstacle)
        self.turn = self.button("Turn", self._turn)
        self.take = self.button("Remove", self._remove)
        self.fields = Fields(session, system, ROOF_FIELDS, 8)
        self.column.addWidget(self.fields)
        self.obstacle_fields = Fields(session, system, OBSTACLE_FIELDS, 5)
        self.column.addWidget(self.obstacle_fields)
        self.plan = RoofPlan(session, system)
        self.column.addWidget(self.plan, 4)
        self.chart = WindowChart(session)
        self.column.addWidget(self.chart, 3)
        self.figures = self.figure_row()
        session.selected.connect(self._on_selected)

    def _on_selected(self, _tags: tuple[str, ...]) -> None:
        if self.isVisible():
            self._show_head(self.session.shown)
            self.chart.update()

    def _show_head(self, shown: Shown) -> None:
        module = self.plan.module()
        obstacle = self.plan.obstacle()
        for press in (self._string, self.turn):
            press.setEnabled(module is not None)
        self.take.setEnabled(module is not None or obstacle is not None)
        first = shown.job.roof.obstacles[0].tag if shown.job.roof.obstacles else ""
        self.obstacle_fields.show_shown(shown, obstacle.tag if obstacle else first)
        self._string.clear()
        self._string.addItem(tr("no string"), "")
        for string in shown.job.roof.strings:
            self._string.addItem(f"{string.tag} → {string.controller}", string.tag)
        for controller in shown.job.roof.controllers:
            self._string.addItem(tr("new string → {controller}").format(controller=controller.tag), f"new {controller.tag}")
        self._string.setCurrentIndex(self._string.findData(module.string) if module else -1)

    def show_shown(self, shown: Shown) -> None:
        self.fields.show_shown(shown)
        self._show_head(shown)
        roof = shown.design.roof
        worst = min(roof.strings, key=lambda one: one.cold_margin_v.value, default=None)
        margin = (worst.cold_voc_v, worst.cold_margin_v) if worst else ()
        self.figures.put((roof.rated_w, roof.noon_high_w, *margin))
        self.plan.update()
        self.chart.update()

    def _assign(self, index: int) -> None:
        module = self.plan.module()
        if module is not None:
            string = str(self._string.itemData(index))
            if string.startswith("new "):
                self.session.apply(new_string(module.tag, string.removeprefix("new ")))
                return
            self.session.apply(
                set_value(
                    f"roof.modules[{module.tag}].string", string, f"Put {module.tag} on {string}" if string else f"Take {module.tag} off its string"
                )
            )

    def _add(self) -> None:
        module, strings = self.plan.module(), self.session.shown.job.roof.strings
        self.session.apply(add_module(module.string if module else strings[-1].tag if strings else ""))
        self.session.select(self.session.shown.job.roof.modules[-1].tag)

    def _turn(self) -> None:
        module = self.plan.module()
        if module is not None:
            self.session.apply(turn_module(module.tag))

    def _add_obstacle(self) -> None:
        self.session.apply(add_obstacle())
        self.session.select(self.session.shown.job.roof.obstacles[-1].tag)

    def _remove(self) -> None:
        module, obstacle = self.plan.module(), self.plan.obstacle()
        if module is not None:
            self.session.apply(remove(f"roof.modules[{module.tag}]", module.tag))
        elif obstacle is not None:
            self.session.apply(remove(f"roof.obstacles[{obstacle.tag}]", obstacle.name))
