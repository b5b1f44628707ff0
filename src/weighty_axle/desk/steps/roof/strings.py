"""Strings: click along the modules, or take one of the ranked ways to string them; windows and protection below."""

from __future__ import annotations

from functools import partial
from typing import Any

from PySide6.QtWidgets import QComboBox

from weighty_axle.answers.roof.string_plans import Plan, controller_plans, string_plans
from weighty_axle.answers.roof.sunny import home
from weighty_axle.design.table import Design
from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.figures import FigureRow
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.steps.roof.plan import RoofPlan
from weighty_axle.desk.steps.roof.window_chart import WindowChart
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.commands import Command
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import set_value
from weighty_axle.job.edits.roof import click_into_string
from weighty_axle.job.models.roof import Roof, String
from weighty_axle.job.tags import next_tag
from weighty_axle.units import MASS, VOLTAGE, System, show

COLUMNS = (
    Column(
        "Strings", lambda one: one.words + (f" ({one.controllers.label})" if one.controllers is not None else ""), None
    ),
    Column("Left out", lambda one: ", ".join(one.left_out) or "–", None),
    Column("Year", lambda one: show(one.year_wh.value, "Wh"), None),
    Column("Cut off", lambda one: show(one.cut_wh.value, "Wh"), None),
    Column("Cold margin", lambda one: one.cold_margin_v.value, VOLTAGE),
    Column("Copper", lambda one: one.copper_kg.value, MASS),
)

CONTROLLER_FIELDS = (
    Field("Controller's most, V", "roof.controllers[{tag}].spec.max_pv_v", VOLTAGE),
    Field("Starts this far over the bank", "roof.controllers[{tag}].spec.start_margin_v", VOLTAGE),
    Field("Runs this far over the bank", "roof.controllers[{tag}].spec.run_margin_v", VOLTAGE),
    Field("Starts only from", "roof.controllers[{tag}].spec.start_v", VOLTAGE, empty="not stated"),
)


class StringsLeaf(Leaf):
    """The string that clicks go to, plan, ranked plans, windows, protection."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.which = QComboBox()
        self.which.setAccessibleName(tr("Clicks go to string"))
        self.which.activated.connect(self._new)
        self.which.currentIndexChanged.connect(self._show_guard)
        self.row_of(self.which, ("Remove string", self._remove))
        self.plan = RoofPlan(session, system)
        self.plan.stringing = True
        self.plan.clicked.connect(self._click)
        self.column.addWidget(self.plan, 3)
        self.row_of(
            ("Rank ways to string", self.start),
            ("On other controllers", self.start_others),
            ("String it this way", self._take),
        )
        self.presses["Rank ways to string"].setObjectName("firm")
        self._said = SaidLine()
        self._asked_of: Roof | None = None
        self.model = Records(session, system, COLUMNS, self._said.setText, self)
        self.table = table_view(self.model, tr("Ways to string"), wide=0)
        self.column.addWidget(self.table, 2)
        self.column.addWidget(self._said)
        self.fields = Fields(session, system, CONTROLLER_FIELDS, len(CONTROLLER_FIELDS))
        self.column.addWidget(self.fields)
        self.chart = WindowChart(session)
        self.column.addWidget(self.chart, 2)
        self.figures = FigureRow(system)
        self.column.addWidget(self.figures)
        self.listen(self.plan, self.chart, self.figures)

    def start(self) -> None:
        """Rank in the background."""
        design = self.session.shown.design
        self._asked_of = design.job.roof
        self.work(tr("Ranking ways to string"), partial(_rank, design), self._ranked, self._said.setText)

    def start_others(self) -> None:
        """Rank the best way on every controller of the table in the background."""
        design = self.session.shown.design
        self._asked_of = design.job.roof
        self.work(tr("Trying other controllers"), partial(_others, design), self._ranked, self._said.setText)

    def _ranked(self, found: tuple[Plan, ...] | None) -> None:
        if found is None:
            return
        self.model.put(found)
        self._said.setText("" if found else tr("No string of these modules fits the controllers' windows."))
        if found:
            self.table.selectRow(0)

    def _ranked_unasked(self, found: tuple[Plan, ...] | None) -> None:
        """A ranking nobody pressed for never takes the place of one somebody did, of the same roof."""
        if self._asked_of != self.session.shown.job.roof:
            self._ranked(found)

    def _take(self) -> None:
        at = self.table.currentIndex().row()
        if 0 <= at < self.model.rowCount():
            self._said.setText(self.session.apply(self.model.record(at).edit) or "")

    def _click(self, tag: str) -> None:
        string = self.which.currentData()
        self.session.select(tag)
        if string:
            self._said.setText(self.session.apply(click_into_string(tag, str(string))) or "")

    def _new(self, index: int) -> None:
        data = str(self.which.itemData(index))
        if data.startswith("new "):
            job = self.session.shown.job
            made = String(tag=next_tag(self.session.shown.whole, "string"), controller=data.removeprefix("new "))
            self.session.apply(set_value("roof.strings", (*job.roof.strings, made), f"New string on {made.controller}"))
            self.which.setCurrentIndex(self.which.findData(made.tag))

    def _remove(self) -> None:
        """Take the string away; its modules stay on the roof."""
        tag, roof = self.which.currentData(), self.session.shown.job.roof
        if any(string.tag == tag for string in roof.strings):
            for module in roof.modules:
                if module.string == tag:
                    self.session.apply(click_into_string(module.tag, str(tag)))
            self.session.apply(set_value(f"roof.strings[{tag}]", None, f"Remove {tag}"))

    def show_shown(self, shown: Shown) -> None:
        kept = self.which.currentData()
        self.which.clear()
        for string in shown.job.roof.strings:
            self.which.addItem(
                tr("clicks go to {string} → {controller}").format(string=string.tag, controller=string.controller),
                string.tag,
            )
        for controller in shown.job.roof.controllers:
            self.which.addItem(
                tr("new string → {controller}").format(controller=controller.tag), f"new {controller.tag}"
            )
        self.which.setCurrentIndex(max(0, self.which.findData(kept)))
        self.presses["Remove string"].setEnabled(bool(shown.job.roof.strings))
        self._show_guard()
        self.plan.update()
        self.chart.update()
        if shown.job.roof.modules and shown.job.roof.controllers:
            self.quietly(
                (shown.job.roof, shown.job.bank, shown.job.site), partial(_rank, shown.design), self._ranked_unasked
            )

    def _show_guard(self) -> None:
        """Protection at the controller of the string that clicks go to."""
        design, tag = self.session.shown.design, str(self.which.currentData() or "").removeprefix("new ")
        controller = next((string.controller for string in design.job.roof.strings if string.tag == tag), tag)
        self.fields.show_shown(self.session.shown, controller)
        guard = next((one for one in design.protection if one.controller == controller), None)
        cable = guard.cable if guard is not None else None
        found = (
            ()
            if guard is None
            else (guard.isolator_v, guard.isolator_a, *((cable.drop_share, cable.carries_a) if cable else ()))
        )
        self.figures.put(tuple(one for one in found if one is not None))

    def commands(self) -> list[Command]:
        return [
            Command(tr("Rank ways to string the roof"), "", self.start),
            Command(tr("Try other charge controllers"), "", self.start_others),
        ]


def _rank(design: Design, progress: Any) -> tuple[Plan, ...]:
    progress(0.1, tr("The year of every mix"))
    return string_plans(design, home(design))


def _others(design: Design, progress: Any) -> tuple[Plan, ...]:
    return controller_plans(design, home(design), progress)
