from __future__ import annotations

import pytest
from msgspec.structs import replace

from tests.building import APART, changed, coach, load, v
from tests.plants import integrated
from weighty_axle.design.derive import derive
from weighty_axle.job.checks.whole import problems
from weighty_axle.job.models.inverters import Source


def test_mixes_by_hand(clinic):
    """Sun 2 x 2640 W / 48 V, shore 2 x 70 A, alternator 3 x 1000 W / 48 V: a power gives most amperes into the lowest
    voltage.
    """
    result = derive(clinic).charging
    sun, shore, engine = 2 * 2640 / 48.0, 140.0, 3000 / 48.0
    totals = {mix.name: mix.total_a.value for mix in result.mixes}
    assert totals == pytest.approx(
        {
            "Parked in sun": sun,
            "Hooked up, night": shore,
            "Hooked up in sun": sun + shore,
            "Driving in sun": sun + engine,
            "Hooked up, engine running": sun + shore + engine,
        }
    )
    (budget,) = derive(clinic).budgets
    assert budget.spare.spare_a["slow"].value == pytest.approx(280 * 0.6 - 45)
    assert budget.asked_a.value == pytest.approx(3000 / 0.92 / 28)
    assert derive(changed(clinic, charging__system_limit_a=150.0)).charging.into_bank_a.value == 150


def test_shore_gives_no_more_than_its_socket(clinic):
    """By hand: 16 A x 230 V x 0.95 / 48.0 V = 72.8 A, not the 140 A of two chargers; what is rated in amperes is not
    turned into watts.
    """
    blue = Source(
        tag="BLUE", name="16 A blue", kind="shore", volts=120.0, legs=2, legs_in_phase=True, amps=16.0, limit_a=16.0
    )
    job = replace(clinic, inverters=replace(clinic.inverters, sources=(blue,)))
    design = derive(job)
    shore = next(part for mix in design.charging.mixes for part in mix.parts if part.name == "Shore")
    assert shore.value == pytest.approx(16 * 120 * 0.95 / design.bank.lowest_working_v.value)
    spec = replace(job.converters[0].spec, output_w=None, output_a=20.0)
    chargers = tuple(replace(one, spec=spec) for one in job.converters)
    amps = derive(replace(job, converters=chargers))
    engine = next(part for mix in amps.charging.mixes for part in mix.parts if part.name == "Alternator")
    assert engine.value == pytest.approx(20.0 * len(chargers))
    run = next(one for one in amps.wiring.runs if one.tag == f"W-{chargers[0].tag}")
    assert run.current_a.value == pytest.approx(20.0) and run.fuse_a.value >= 1.2 * 20
    bare = replace(spec, output_a=None)
    refused = replace(job, converters=(replace(chargers[0], spec=bare),))
    assert [one.message for one in problems(refused)] == [f"{chargers[0].tag} needs an output in A or in W."]


def test_an_inverter_with_solar_inputs_holds_back_what_passes_its_own_limit(clinic):
    """One input on the first unit gives at most 55 A (2640 W / 48 V); with its charger of 70 A and a limit of 100 A it
    holds 25 A back, whether the engine runs or not.
    """
    job = v(integrated(clinic), "inverters.spec.dc_charge_a", 100.0)
    found = {mix.name: {part.name: part.value for part in mix.parts} for mix in derive(job).charging.mixes}
    for name in ("Hooked up in sun", "Hooked up, engine running"):
        assert found[name]["Held back"] == pytest.approx(-(2640 / 48.0 + 70 - 100))
    assert "Held back" not in found["Hooked up, night"] and "Held back" not in found["Parked in sun"]


@pytest.mark.parametrize(("dc_max_v", "full_v"), [(16.5, 14.4), (33.0, 28.8), (66.0, 57.6)])
def test_chargers_on_the_ac_side_by_their_class(clinic, dc_max_v, full_v):
    """70 A into a class of 12 V at 14.4 V and 95 % takes 1,061 W, 8.8 A of 120 V; at twice the voltage twice that."""
    job = coach(clinic, (load("LDA", "L1", 10, (8, 9)),), sources=(replace(APART, limit_a=200.0, amps=200.0),))
    job = v(v(job, "inverters.spec.dc_min_v", 9.0), "inverters.spec.dc_max_v", dc_max_v)
    relay = derive(job).panels.relays[0].passes_a
    assert relay.value == pytest.approx(70 * full_v / 0.95 / 120 + 10 / 120)
