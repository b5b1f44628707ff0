"""Every measurement the fault finder knows for a design."""

from __future__ import annotations

from weighty_axle.answers.log.finder.measure import Measure
from weighty_axle.answers.log.finder.measures_ac import ac_measures, inverter_measures, setting_measures
from weighty_axle.answers.log.finder.measures_charge import charger_measures, sun_measures
from weighty_axle.answers.log.finder.measures_dc import bank_measures, quiet_measures, way_measures
from weighty_axle.design.table import Design

_MAKERS = (
    way_measures,
    bank_measures,
    inverter_measures,
    ac_measures,
    sun_measures,
    charger_measures,
    setting_measures,
    quiet_measures,
)


def measures(design: Design) -> dict[str, Measure]:
    """Every measurement for a system, by key.

    Source: nodal analysis at the largest test load; bands common practice, no source.
    """
    return {one.key: one for make in _MAKERS for one in make(design)}
