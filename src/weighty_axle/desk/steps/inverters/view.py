"""Inverters: the legs, and what every place to plug in gives."""

from __future__ import annotations

from typing import Any

from PySide6.QtWidgets import QComboBox, QLabel

from weighty_axle.design.inverters import CONTINUOUS_SHARE, SourceRow
from weighty_axle.desk.session import Session, Shown
from weighty_axle.desk.steps.inverters.beam import LegBeam
from weighty_axle.desk.steps.view import StepView
from weighty_axle.desk.text import tr
from weighty_axle.desk.theme import look
from weighty_axle.desk.widgets.fields import Field, Fields
from weighty_axle.desk.widgets.records import Column, Records, table_view
from weighty_axle.job.ac import Source
from weighty_axle.job.ac_edits import STACKING_WORDS, set_stacking
from weighty_axle.job.edits import Edit, remove, set_value
from weighty_axle.job.model import Job
from weighty_axle.job.parts import InverterSpec
from weighty_axle.reference.tables import UsualSource, inverters, usual_sources
from weighty_axle.units import APPARENT, CURRENT, FRACTION, POWER, System

Row = tuple[Source, SourceRow]


def _choose_spec(_job: Job, _path: str, name: Any) -> Edit:
    spec: InverterSpec = next(one for one in inverters().rows if one.name == name)
    return set_value("inverters.spec", spec, f"Inverters: {spec.name}")


INVERTER_FIELDS = (
    Field("Inverter type", "inverters.spec.name", tuple((one.name, one.name) for one in inverters().rows), make=_choose_spec, wide=3),
    Field("Stacking", "inverters.stacking", tuple(STACKING_WORDS.items()), make=lambda _job, _path, value: set_stacking(value)),
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
        self.sources = QComboBox()
        self.sources.setAccessibleName(tr("Add a usual source"))
        self.sources.activated.connect(self._add_source)
        self.head.addWidget(self.sources)
        self.remove = self.button("Remove source", self._remove_source)
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

    def _offered(self) -> list[UsualSource]:
        """Usual sources of the job's practice that it does not have yet."""
        job = self.session.shown.job
        have = {source.tag for source in job.inverters.sources}
        return [row for row in usual_sources().rows if row.practice == job.practice and row.tag not in have]

    def _add_source(self, index: int) -> None:
        if index > 0:
            row = self._offered()[index - 1]
            limit_a = row.amps * CONTINUOUS_SHARE[row.practice]
            made = Source(
                tag=row.tag,
                name=row.name,
                kind=row.kind,
                volts=row.volts,
                legs=row.legs,
                legs_in_phase=row.legs_in_phase,
                amps=row.amps,
                limit_a=limit_a,
            )
            have = self.session.shown.job.inverters.sources
            self.session.apply(set_value("inverters.sources", (*have, made), f"Add {row.name}"))

    def _remove_source(self) -> None:
        row = self.table.currentIndex().row()
        if 0 <= row < self.model.rowCount():
            source = self.model.record(row)[0]
            self.session.apply(remove(f"inverters.sources[{source.tag}]", source.name))

    def show_shown(self, shown: Shown) -> None:
        self.sources.clear()
        self.sources.addItems([tr("add a source…"), *(row.name for row in self._offered())])
        self.fields.show_shown(shown)
        result = shown.design.inverters
        self.model.put(tuple(zip(shown.job.inverters.sources, result.sources, strict=True)))
        if result.currents is not None:
            self.figures.put((result.currents.neutral_split_a, result.currents.neutral_in_phase_a, result.currents.leg_balance))
        else:
            leg = result.legs[0]
            self.figures.put((leg.worst_va, leg.continuous_va, leg.start_va))
        self.beam.update()
