from __future__ import annotations

import numpy as np
import pytest
from msgspec.structs import replace

from tests.building import ALIKE, APART, TWO_PEAKS, changed, coach, minutes_of, told, two_positions
from weighty_axle.answers.brief.run_together import run_together
from weighty_axle.design.derive import derive
from weighty_axle.design.inverters.sources import unit_limits
from weighty_axle.job.edits.inverters import set_arrangement
from weighty_axle.job.models.brief import Load, Span
from weighty_axle.job.models.inverters import Inlet, Panel
from weighty_axle.reference import tables


@pytest.mark.parametrize(
    ("tag", "limit", "lines", "alike"), [("P50", 40.0, 2, False), ("P30", 24.0, 1, True), ("P15", 12.0, 1, True)]
)
def test_source_table_by_hand(clinic, tag, limit, lines, alike):
    """Minute by minute on the days hooked up: each line up to its limit x 120 V, one line for both legs through an
    adapter, the rest from the bank.
    """
    design = derive(clinic)
    row = next(one for one in design.sources if one.tag == tag)
    assert (row.recommended_limit_a.value, row.continuous_w.value) == (limit, limit * 120 * lines)
    adds = []
    for kind in (one.tag for one in clinic.day_kinds if one.use == "hooked_up"):
        feeds = minutes_of(clinic, kind)
        across = 0 if alike else feeds["L1+L2"] / 2
        legs = [feeds[leg] + across for leg in ("L1", "L2")]
        for group in [legs] if alike else [[one] for one in legs]:
            asked = sum(np.abs(one) for one in group)
            adds.append(sum(one.real for one in group) * np.maximum(0, 1 - limit * 120 / np.maximum(asked, 1e-9)))
    assert row.bank_adds_w.value == pytest.approx(sum(adds).max())
    assert row.gives_240 == (tag == "P50") and row.peak_w.value > 0 and "Hooked up" in row.day
    assert [(one.units, one.each_a.value) for one in row.unit_limits] == [(2, limit / 2) if alike else (1, limit)]


def test_a_limit_holds_for_each_line(clinic):
    """By hand: 5,600 W on L1 at 40 A a line of 120 V needs 800 W from the bank, however idle L2 is; for how long counts
    full-load efficiency and DC loads.
    """
    heater = Load(
        tag="LDH",
        name="Oven",
        supply="L1",
        running_w=5600.0,
        power_factor=1.0,
        patterns={"HOOKED": (Span(600, 660, 1.0),)},
    )
    lamp = Load(
        tag="LDD",
        name="Lamps",
        supply="DC_48",
        running_w=240.0,
        power_factor=1.0,
        patterns={"HOOKED": (Span(0, 1440, 1.0),)},
    )
    kind = next(one.tag for one in clinic.day_kinds if one.use == "hooked_up")
    loads = tuple(replace(one, patterns={kind: next(iter(one.patterns.values()))}) for one in (heater, lamp))
    design = derive(changed(replace(clinic, loads=loads), ac__circuits=()))
    row = next(one for one in design.sources if one.tag == "P50")
    assert (
        row.bank_adds_w.value == pytest.approx(800)
        and row.bank_adds_va["L1"].value == pytest.approx(800)
        and row.bank_adds_va["L2"].value == 0
    )
    full = clinic.inverters.spec.full_load_efficiency
    assert row.bank_lasts_h.value == pytest.approx(design.bank.usable_energy_wh.value / (800 / full + 240))


def test_units_on_one_line_share_its_limit(clinic):
    """Two units on one 30 A line set to 24 A each would let 48 A through: 12 A each; on a pedestal with a line each, 40
    A.
    """
    job = coach(clinic, TWO_PEAKS, sources=(ALIKE, APART), selectors=(two_positions(),), feed="SEL1")
    design = derive(job)
    by_position = {
        source.tag: {one.position: one.each_a.value for one in source.unit_limits} for source in design.sources
    }
    assert by_position["AD"] == {"SEL1 at Apart": 12.0, "SEL1 at Alike": 12.0}
    assert by_position["P50"] == {"SEL1 at Apart": 40.0, "SEL1 at Alike": 20.0}, "turned to one line both hang on it"
    assert (
        unit_limits(design.sources[1], 40.0, "metric").replace("\u00a0", " ")
        == "SEL1 at Apart: 40 A; SEL1 at Alike: 20 A in each of 2"
    )
    points = {point.computed.name: point.value for point in design.settings.points}
    assert points["Input limit at 30 A adapter, SEL1 at Apart"] == 12.0


def test_a_source_without_an_inverter_credits_nothing(clinic):
    inlets = (*clinic.ac.inlets, Inlet(tag="IN2", name="Heater inlet", amps=16.0, lines=1))
    heater = Panel(tag="HEAT", name="Heater panel", fed_from="IN2", line="L1")
    job = coach(
        clinic,
        TWO_PEAKS,
        sources=(replace(ALIKE, inlet="IN2"),),
        inlets=inlets,
        panels=(Panel(tag="MAIN", name="Main panel"), heater),
    )
    row = derive(job).sources[0]
    assert (row.feeds_inverters, row.accepted, row.continuous_w.value, row.charge_left_a.value) == (
        False,
        False,
        0.0,
        0.0,
    )
    assert (
        told(job, "inverters.source-beside")
        and not told(job, "inverters.source-not-taken")
        and not told(job, "inverters.inlet-idle")
    )
    idle = replace(job, ac=replace(job.ac, panels=job.ac.panels[:1]))
    assert [one.tags for one in told(idle, "inverters.inlet-idle")] == [("IN2",)]


@pytest.mark.parametrize("limit_a", [0.1, 4.0, 500.0])
@pytest.mark.parametrize("stacking", ["split_phase", "legs_in_phase", "one_two_legs", "independent", "parallel"])
def test_a_source_and_the_bank_share_what_runs(clinic, stacking, limit_a):
    """Energy: what the source gives and the bank adds is what the loads and the inverters take; nothing coming in, it
    is the bank alone, plenty, none of it.
    """
    spec = next(
        one
        for one in tables.inverters().rows
        if (one.lines == 2) == (stacking == "one_two_legs") and one.dc_min_v > 30 and one.ac_v in (120, 240)
    )
    job = set_arrangement(spec, 2, stacking).apply(clinic)
    source = replace(
        job.inverters.sources[0],
        amps=600.0,
        limit_a=limit_a,
        legs=1 if stacking in ("parallel", "independent") else 2,
        legs_in_phase=stacking == "legs_in_phase",
    )
    job = replace(
        job,
        inverters=replace(job.inverters, sources=(source,)),
        ac=replace(job.ac, inlets=tuple(replace(one, amps=600.0) for one in job.ac.inlets)),
    )
    design = derive(job)
    everything = tuple(load.tag for load in job.loads if load.supply not in ("DC_12", "DC_24", "DC_48"))
    result = run_together(design, everything)
    (at,) = result.sources
    ac_w = result.running_w.value
    losses = next(one.value for one in at.bank_adds_w.inputs if one.name == "Inverter losses")
    if not design.sources[0].accepted:
        assert at.gives_w.value == 0
    dead_w = sum(load.running_w * load.count for load in job.loads if load.tag in at.dead)
    assert at.gives_w.value + at.bank_adds_w.value == pytest.approx(ac_w - dead_w + losses)
    alone = design.brief.curve
    least = len(job.inverters.units) * alone.loss_w((ac_w - dead_w) / len(job.inverters.units))
    if at.gives_w.value < 0.02 * ac_w:
        assert losses == pytest.approx(least, rel=0.35), "about what two units lose under all of it"
    if limit_a == 500.0 and design.sources[0].accepted and stacking != "independent":
        assert (at.bank_adds_w.value, losses) == (0, 0)
