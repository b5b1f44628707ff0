"""The year in numbers: month by month, and what each load goes without."""

from __future__ import annotations

from functools import partial
from typing import Any

from weighty_axle.answers.year.result import YearResult
from weighty_axle.design.table import Design
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.steps.year.kept import YEARS
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.units import ENERGY, FRACTION, NUMBER, System

_MONTHS = (
    Column("Month", lambda one: one.month, None),
    Column("Asked", lambda one: one.asked_wh, ENERGY),
    Column("Missing", lambda one: one.missing_wh, ENERGY),
    Column("Sun used", lambda one: one.sun_wh, ENERGY),
    Column("Sun unused", lambda one: one.cut_wh, ENERGY),
    Column("Engine", lambda one: one.engine_wh, ENERGY),
    Column("Hook-up", lambda one: one.hookup_wh, ENERGY),
    Column("Generator, h", lambda one: round(one.generator_h, 1), NUMBER),
    Column("Lowest charge", lambda one: one.lowest_share, FRACTION),
)
_LOADS = (
    Column("Load", lambda one: one.tag, None),
    Column("Name", lambda one: one.name, None),
    Column("Asked", lambda one: one.asked_wh, ENERGY),
    Column("Goes without", lambda one: one.missing_wh, ENERGY),
    Column("Hours", lambda one: round(one.hours), NUMBER),
)


class MonthsLeaf(Leaf):
    """Two tables over the figures."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.said = SaidLine()
        self.months = Records(session, system, _MONTHS, self.said.setText, self)
        self.column.addWidget(table_view(self.months, tr("The year month by month"), wide=0), 3)
        self.loads = Records(session, system, _LOADS, self.said.setText, self)
        self.table = table_view(self.loads, tr("What each load goes without"), wide=1)
        self.column.addWidget(self.table, 2)
        self.figures = self.figure_row()
        self.follow(self.table, self.loads, lambda one: one.tag)

    def show_shown(self, shown: Shown) -> None:
        self.quietly((shown.design, YEARS.measured), partial(_result, shown.design), self._put)

    def _put(self, result: YearResult | None) -> None:
        if result is None:
            self.said.setText(tr("This year could not be lived."))
            return
        self.months.put(result.months)
        self.loads.put(result.without)
        self.figures.put(
            (
                result.asked_wh,
                result.missing_wh,
                result.lost_wh,
                result.heater_wh,
                result.most_in_a,
                result.most_out_a,
                result.least_years,
                result.most_years,
            )
        )


def _result(design: Design, _progress: Any) -> YearResult:
    return YEARS.of(design)[1]
