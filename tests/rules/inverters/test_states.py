from __future__ import annotations

import pytest
from msgspec.structs import replace

from tests.building import load, told, v, words
from weighty_axle.design.derive import derive
from weighty_axle.job.models.brief import DayKind, Span
from weighty_axle.job.models.inverters import Contact, Inlet, Position, Selector


def test_one_unswitched_neutral_is_one_finding(puppet):
    """Shore or inverter on the panel by a selector that ties neutrals: bonded at both in every such state, told once,
    with the one press that mends it.
    """
    positions = (
        Position(name="Shore", contacts=(Contact("IN1.L1", "MAIN.L1"),)),
        Position(name="Off"),
        Position(name="Inverter", contacts=(Contact("INV1.out", "MAIN.L1"),)),
    )
    job = v(
        v(puppet, "ac.selectors", (Selector(tag="SEL9", name="Bypass", positions=positions, now="Inverter"),)),
        "ac.panels[MAIN].fed_from",
        "SEL9",
    )
    job = v(
        v(job, "ac.inlets", (*job.ac.inlets, Inlet(tag="IN2", name="Charging inlet", amps=16.0, lines=1))),
        "ac.inverters_fed_from",
        "IN2",
    )
    (finding,) = told(job, "inverters.two-bonds")
    assert (
        finding.tags == ("SEL9",) and "does not switch the neutral" in words(finding) and "more state" in words(finding)
    )
    assert not told(finding.remedy.apply(job), "inverters.two-bonds")


def test_charging_only_at_a_pedestal_passes_power_through(clinic):
    kinds = (*clinic.day_kinds, DayKind(tag="DOCK", name="Docked", inverters_on=False, use="hooked_up"))
    job = replace(
        clinic,
        day_kinds=kinds,
        loads=(replace(load("LDA", "L1", 1000, (8, 10)), patterns={"DOCK": (Span(480, 600, 1.0),)}),),
    )
    assert not told(job, "brief.painted-while-off")
    assert derive(job).brief.days["DOCK"].ac_energy_wh.value == pytest.approx(2000)
    assert derive(job).brief.days["DOCK"].no_load_energy_wh.value == 0
    assert told(v(job, "day_kinds[DOCK].use", "parked"), "brief.painted-while-off")
