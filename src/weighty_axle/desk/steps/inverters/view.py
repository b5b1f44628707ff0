"""Inverters: the legs, and what every place to plug in gives."""

from __future__ import annotations

from typing import Any

from PySide6.QtWidgets import QLabel

from weighty_axle.design.inverters import SourceRow
from weighty_axle.desk.session import Session, Shown
from weighty_axle.desk.steps.inverters.beam import LegBeam
from weighty_axle.desk.steps.view import StepView
from weighty_axle.desk.text import tr
from weighty_axle.desk.theme import look
from weighty_axle.desk.widgets.fields import Field, Fields
from weighty_axle.desk.widgets.records import Column, Records, table_view
from weighty_axle.job.edits import STACKING_WORDS, Edit, set_stacking, set_value
from weighty_axle.job.model import Job, Source
from weighty_axle.job.parts import InverterSpec
from weighty_axle.reference.tables import inverters
from weighty_axle.units import APPARENT, CURRENT, FRACTION, POWER, System

Row = tuple[Source, SourceRow]


def _choose_spec(_job: Job, name: Any) -> Edit:
    spec: InverterSpec = next(one for one in inverters().rows if one.name == name)
    return set_value("inverters.spec", spec, f"Inverters: {spec.name}")


INVERTER_FIELDS = (
    Field("Inverter type", "inverters.spec.name", tuple((one.name, one.name) for one in inverters().rows), make=_choose_spec, wide=3),
    Field("Stacking", "inverters.stacking", tuple(STACKING_WORDS.items()), make=lambda _job, value: set_stacking(value)),
    Field("Continuous, one", "inverters.spec.continuous_va", APPARENT),
    Field("Surge, one", "inverters.spec.surge_va", APPARENT),
    Field("No-load, one", "inverters.spec.no_load_w", POWER),
    Field("Best efficiency", "inverters.spec.peak_efficiency", FRACTION),
    Field("At full load", "inverters.spec.full_load_efficiency", FRACTION),
    Field("Neutral rated", "inverters.neutral_a", CURRENT),
)


def _limit(row: Row, value: float) -> Edit:
    return set_value(f"inverters.sources[{row[0].tag}].limit_a", value, f"Limit {row[0].name} to {value:g} A")


SOURCE_COLUMNS = (
    Column("Where", lambda row: row[0].name, None),
    Column("240 V", lambda row: "yes" if row[1].gives_240 else "no" if row[0].volts < 200 else "–", None),
    Column("Socket", lambda row: row[0].amps, CURRENT),
    Column("Good for hours", lambda row: row[1].recommended_limit_a.value, CURRENT),
    Column("Limit set", lambda row: row[0].limit_a, CURRENT, _limit),
    Column("Gives", lambda row: row[1].continuous_w.value, POWER),
    Column("Bank adds at peak", lambda row: row[1].assist_w.value, POWER),
    Column("Left to charge", lambda row: row[1].charge_left_a.value, CURRENT),
)


class InvertersView(StepView):
    """Fields, the beam, the source table."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system, "Inverters", "what hangs on each leg, and what each source gives")
        self.fields = Fields(session, system, INVERTER_FIELDS, 8)
        self.column.addWidget(self.fields)
        self.beam = LegBeam(session)
        self.column.addWidget(self.beam, 3)
        self._said = QLabel(tr("Where it plugs in"))
        self.column.addWidget(self._said)
        self.model = Records(session, system, SOURCE_COLUMNS, self._say, self)
        self.table = table_view(self.model, tr("Sources"))
        self.table.setFixedHeight(28 + 24 * 4 + 4)
        self.column.addWidget(self.table)
        self.figures = self.figure_row()

    def _say(self, problem: str) -> None:
        self._said.setText(problem or tr("Where it plugs in"))
        self._said.setStyleSheet(f"color: {look().stop}" if problem else "")

    def show_shown(self, shown: Shown) -> None:
        self.fields.show_shown(shown)
        result = shown.design.inverters
        self.model.put(tuple(zip(shown.job.inverters.sources, result.sources, strict=True)))
        if result.currents is not None:
            self.figures.put((result.currents.neutral_split_a, result.currents.neutral_in_phase_a, result.currents.leg_balance))
        else:
            leg = result.legs[0]
            self.figures.put((leg.worst_va, leg.continuous_va, leg.start_va))
        self.beam.update()
