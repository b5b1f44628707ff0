"""Alternators against their chargers, and the low-voltage side, by hand and by facts of the trade."""

from __future__ import annotations

import itertools

import pytest
from msgspec.structs import replace

from tests import jobs, plants
from tests.building import told, v
from weighty_axle.design.derive import derive
from weighty_axle.design.wiring.low_side import efficiency_at
from weighty_axle.job.models.charging import LoadPoint, SpeedPoint
from weighty_axle.job.models.wiring import Fitted

CURVE = (SpeedPoint(1500.0, 60.0), SpeedPoint(3000.0, 150.0), SpeedPoint(5000.0, 190.0))


def _wired(job, **shared):
    """Chargers on one cable from the vehicle's battery."""
    for one in job.converters:
        job = v(job, f"converters[{one.tag}].feed", "Rear cable")
    for name, value in shared.items():
        job = v(job, f"converters[{job.converters[0].tag}].{name}", value)
    return job


def test_three_speeds_by_a_typed_curve(clinic):
    """Pulley 2.7: 650 turns make 1755 of the shaft (75.3 A), 1100 make 2970 (148.2 A), 1600 make 4320 (176.4 A); ten
    kelvin over the curve's air take 2.5 %; 45 A for the vehicle, 12 A margin.
    """
    job = v(
        v(v(clinic, "charging.alternators[AL1].curve", CURVE), "charging.alternators[AL1].bay_c", 100.0),
        "charging.alternators[AL1].margin_a",
        12.0,
    )
    (budget,) = derive(job).budgets
    hot = {speed: one.value for speed, one in budget.spare.gives_a.items()}
    expected = {"idle": 75.3, "slow": 148.2, "cruise": 176.4}
    assert hot == pytest.approx({speed: amps * 0.975 for speed, amps in expected.items()})
    left = {speed: one.value for speed, one in budget.spare.spare_a.items()}
    assert left == pytest.approx({speed: amps * 0.975 - 57 for speed, amps in expected.items()})


def test_half_to_two_thirds_of_the_nameplate_hot_and_slow(clinic):
    """Common practice, no source; the plainest alternator lies there."""
    job = v(clinic, "charging.alternators[AL1].hot_share", 0.6)
    (budget,) = derive(job).budgets
    assert 0.5 * 280 <= budget.spare.gives_a["slow"].value <= 2 / 3 * 280


def test_three_chargers_and_the_sun_make_three_kilowatts(clinic):
    """Common practice, no source: three chargers of 400 W from 24 V and 1.8 kW of modules make 3 kW while driving."""
    specs = tuple(replace(one, spec=replace(one.spec, output_w=400.0, output_a=None)) for one in clinic.converters)
    design = derive(replace(clinic, converters=specs))
    state = next(one for one in design.source_states.states if one.engine == "cruise" and one.sun and not one.plug)
    engine = next(part.amps for part in state.parts if part.kind == "engine")
    assert engine * design.bank.lowest_working_v.value == pytest.approx(1200)
    assert engine * design.bank.lowest_working_v.value + 1800 == pytest.approx(3000)


def test_a_charger_of_fifty_amperes_sits_on_sixty(clinic):
    """Common practice, no source."""
    spec = replace(clinic.converters[0].spec, output_w=None, output_a=50.0)
    design = derive(replace(clinic, converters=(replace(clinic.converters[0], spec=spec),)))
    run = next(one for one in design.wiring.runs if one.tag == "W-ALT1")
    assert run.fuse_a.value == 60


def test_one_cable_for_all_and_a_lead_for_each(clinic):
    """Energy balance: what leaves the bar is what the chargers take and what cables burn; the fuse stands where current
    can come from, and one fitted there is judged.
    """
    job = v(_wired(clinic, feed_m=9.0), "converters[ALT2].branch_m", 4.0)
    design = derive(job)
    (budget,) = design.budgets
    feeds = {one.tag: one for one in design.feeds_in}
    assert feeds["Rear cable"].fused_at == ("VEHICLE",) and feeds["ALT2 branch"].fused_at == ("Rear cable",)
    takes = {one.tag: one.takes_a.value for one in budget.chargers}
    at = {one.tag: one.device_v.value for one in budget.chargers}
    assert takes["ALT2"] * at["ALT2"] == pytest.approx(1000 / 0.92)
    total = sum(takes.values())
    burned = feeds["Rear cable"].loop_ohm * total**2 + feeds["ALT2 branch"].loop_ohm * takes["ALT2"] ** 2
    assert 28 * total == pytest.approx(3 * 1000 / 0.92 + burned)
    assert budget.cable_w.value == pytest.approx(burned)
    assert at["ALT2"] < at["ALT1"] == at["ALT3"] < 28
    assert budget.without("ALT1") == pytest.approx(total - takes["ALT1"])
    small = Fitted(tag="FU1", name="Strip fuse", run="Rear cable", amps=80.0, dc_v=58.0)
    found = told(replace(job, fitted=(small,)), "wiring.fitted-small")
    assert [one.tags for one in found] == [("FU1", "Rear cable")]


def test_both_ways_has_a_fuse_at_both_ends(clinic):
    job = v(_wired(clinic, feed_m=9.0), "converters[ALT3].both_ways", True)
    feed = next(one for one in derive(job).feeds_in if one.tag == "Rear cable")
    assert feed.fused_at == ("VEHICLE", "ALT1 ALT2 ALT3")


def test_who_waits_follows_the_order_of_service(clinic):
    """Idling 67 A are to spare: one charger of 38.8 A is served, the one of the first priority."""
    job = v(clinic, "converters[ALT1].priority", 3)
    job = v(job, "converters[ALT3].priority", 2)
    (budget,) = derive(job).budgets
    assert budget.waits == {"idle": ("ALT1", "ALT3"), "slow": (), "cruise": ()}


def test_a_sag_makes_the_same_chargers_ask_for_more(clinic):
    (high,) = derive(clinic).budgets
    (low,) = derive(v(clinic, "charging.alternators[AL1].low_v", 25.0)).budgets
    assert low.asked_a.value == pytest.approx(high.asked_a.value * 28 / 25)


def test_efficiency_along_a_curve(clinic):
    spec = replace(clinic.converters[0].spec, curve=(LoadPoint(0.1, 0.8), LoadPoint(0.5, 0.94), LoadPoint(1.0, 0.9)))
    assert [efficiency_at(spec, share) for share in (0.0, 0.3, 0.5, 2.0)] == pytest.approx([0.8, 0.87, 0.94, 0.9])
    assert efficiency_at(replace(spec, curve=()), 0.3) == spec.efficiency


def test_what_stays_alive_by_every_way_energy_can_take():
    """By brute force: a bar is alive when some chain of converters leads there from a bank that is."""
    job = plants.staged(jobs.plain("eye-clinic"))
    for bar in ("DB1", "DB12"):
        own = next(one for one in (derive(job), *derive(job).others) if one.system.bar == bar)
        banks = {"DB1", "DB12", "VEHICLE"} - {bar}
        edges = {(one.start or "DB1", one.end or "DB1") for one in job.converters if one.works != "engine"}
        alive = set(banks)
        for chain in itertools.permutations(edges, 2):
            for start, end in chain:
                if start in alive and end != bar:
                    alive.add(end)
        assert set(own.low_side.drop_out.bars_alive) == alive - {"VEHICLE"}
        assert set(own.low_side.drop_out.dark).isdisjoint(own.low_side.drop_out.alive)
        assert len(own.low_side.drop_out.dark) + len(own.low_side.drop_out.alive) == len(job.loads)
