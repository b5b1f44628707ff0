"""Every state of the sources, who gives way, what each unit is told, energy going round, stages."""

from __future__ import annotations

import itertools

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from tests import jobs, plants
from tests.building import load, told, v
from weighty_axle.design.charging.paths import charger_loads, rounds
from weighty_axle.design.charging.stages import changes, stage_bars, stage_job, usual_stages
from weighty_axle.design.derive import derive
from weighty_axle.job.checks.whole import problems
from weighty_axle.job.models.charging import GIVES_WAY, Stage
from weighty_axle.job.models.inverters import Circuit, Panel


def test_states_that_can_occur(clinic):
    """Three pedestals or none, the engine at three speeds or off, sun or none; nobody drives on a pedestal."""
    found = derive(clinic).source_states.states
    assert len(found) == len({one.name for one in found}) == 2 * (4 + 3 * 2)
    assert not [one for one in found if one.plug and one.engine in ("slow", "cruise")]


@pytest.mark.parametrize("limit", [None, 100.0, 180.0, 299.0])
def test_what_is_set_in_units_keeps_the_sum_under_the_limit_or_trusts_one_limit(clinic, limit):
    """Where units do not keep to one limit by themselves, the sheet sets what the mix tells; where they do, what each
    may give alone.
    """
    job = v(clinic, "charging.system_limit_a", limit)
    design = derive(job)
    told_a = {one.tag: one.told_a.value for one in design.source_states.told}
    set_a = {point.key: point.value for point in design.settings.points}
    assert set_a["inverter_charge_a"] == int(told_a["INV1"]) < 70
    by_tag = {**told_a, **{f"INV{at}": set_a["inverter_charge_a"] for at in (1, 2)}}
    by_tag |= {f"CC{at}": set_a[f"CC{at}_charge_a"] for at in (1, 2)}
    assert sum(by_tag.values()) <= design.source_states.held_to_a.value + 1e-6
    alone = {one.key: one.value for one in derive(v(job, "charging.one_limit", True)).settings.points}
    assert alone["inverter_charge_a"] == 70 and alone["CC1_charge_a"] == 60


@settings(max_examples=30, deadline=None)
@given(order=st.permutations(GIVES_WAY), limit=st.one_of(st.none(), st.floats(20, 400)))
def test_what_is_told_keeps_every_state_under_the_limit(order, limit):
    """Whatever the order and the limit: the sum of what units are told passes it in no state; who gives way last is cut
    only once all others are gone.
    """
    job = v(v(jobs.plain("eye-clinic"), "charging.gives_way", tuple(order)), "charging.system_limit_a", limit)
    found = derive(job).source_states
    held = found.held_to_a.value
    by_tag = {one.tag: one.told_a.value for one in found.told}
    for state in found.states:
        units = [unit for part in state.parts for unit in part.units]
        assert sum(min(unit.most_a, by_tag[unit.tag]) for unit in units) <= held * (1 + 1e-9)
        kept = found.given_way(state)
        assert sum(kept.values()) == pytest.approx(min(state.most_a, held))
        parts = {part.kind: part.most_a for part in state.parts}
        for sooner, later in itertools.combinations([kind for kind in order if kind in parts], 2):
            assert kept[sooner] < 1e-9 or kept[later] == pytest.approx(parts[later])


def test_a_source_counts_for_no_more_than_its_plug_gives(clinic):
    """15 A of 120 V at 12 A set: 1440 W x 0.95 / 48 V."""
    design = derive(clinic)
    state = next(one for one in design.source_states.states if one.name == "P15")
    assert state.total_a == pytest.approx(12 * 120 * 0.95 / 48.0)


@pytest.mark.parametrize("factor", [1.0, 0.7])
def test_a_charger_of_a_poor_power_factor_gets_less_out_of_the_same_plug(clinic, factor):
    """Amperes on AC are apparent power: what arrives is that times power factor times efficiency; its relay carries the
    more for it.
    """
    job = v(clinic, "inverters.spec.charge_power_factor", factor)
    design = derive(job)
    state = next(one for one in design.source_states.states if one.name == "P15")
    assert state.total_a == pytest.approx(12 * 120 * 0.95 * factor / 48.0)
    loose = v(v(job, "inverters.sources[P50].limit_a", 50.0), "inverters.sources[P50].amps", 63.0)
    relay = derive(loose).panels.relays[0].passes_a.value
    flat = derive(v(loose, "inverters.spec.charge_power_factor", 1.0)).panels.relays[0].passes_a.value
    assert relay >= flat if factor < 1 else relay == flat


def _with_charger(job, fed_from, charges, circuit_panel="AUX"):
    panels = (Panel(tag="MAIN", name="Main panel"), Panel(tag="AUX", name="Other panel", fed_from=fed_from))
    circuit = Circuit(tag="CKC", name="Charger", panel=circuit_panel, leg="L1")
    charger = load("LDC", "L1", 960, (8, 9), circuit="CKC", charges=charges, charge_a=18.0)
    return replace(job, ac=replace(job.ac, panels=panels, circuits=(circuit,)), loads=(*job.loads, charger))


@pytest.mark.parametrize(
    ("fed_from", "charges", "counts", "loop"),
    [
        ("IN1", "DB1", True, False),
        ("MAIN", "DB1", False, True),
        ("INVERTERS", "DB1", False, True),
        ("IN1", "", False, False),
    ],
)
def test_a_charger_on_the_wrong_side_of_an_inverter_never_counts(clinic, fed_from, charges, counts, loop):
    job = _with_charger(clinic, fed_from, charges)
    design = derive(job)
    plugged = [one for one in design.source_states.states if one.plug == "P50"]
    found = {unit.tag: unit.amps for one in plugged for part in one.parts for unit in part.units}
    assert (found.get("LDC") == 18.0) == counts
    assert bool(told(job, "inverters.charger-loop")) == loop
    bare = [one for one in design.source_states.states if not one.plug]
    assert not any(unit.tag == "LDC" for one in bare for part in one.parts for unit in part.units)


def test_a_round_is_found_through_any_number_of_steps(clinic):
    """House bank, inverter, charger of the 12 V bar, converter back to the house: three steps, no field says so."""
    job = plants.transfer(clinic)
    job = replace(job, converters=(replace(job.converters[-1], both_ways=False, start="DB12", end="", works="always"),))
    job = _with_charger(job, "MAIN", "DB12")
    (ring,) = rounds(job, charger_loads(job.loads, job.groups, job.ac, job.inverters, "DB1"))
    assert {tag for step in ring for tag in step.tags} == {"LDC", "DCT"}
    assert told(job, "charging.goes-round") and told(job, "inverters.charger-loop")
    apart = replace(job, converters=())
    assert rounds(apart, charger_loads(apart.loads, apart.groups, apart.ac, apart.inverters, "DB1")) == ()
    assert not told(apart, "inverters.charger-loop"), "a charger of another bank feeds nothing back"


def test_a_maintainer_below_the_alternator_is_no_round(clinic):
    """It gives nothing while the engine runs."""
    job = plants.staged(clinic)
    keeper = replace(job.converters[-1], tag="DCK", end="DB12")
    charger = replace(job.converters[0], tag="DCA", start="DB12", end="", works="engine")
    alternator = replace(job.charging.alternators[0], bar="DB12", volts=14.2)
    for held, expected in ((13.5, 0), (14.6, 1)):
        spec = replace(keeper.spec, output_v=held)
        whole = replace(
            job,
            converters=(replace(keeper, spec=spec), charger),
            charging=replace(job.charging, alternators=(alternator,)),
        )
        assert len(told(whole, "charging.goes-round")) == expected


def test_stages_of_a_conversion():
    """Without being stated they are the ways of the switch; each is a job of its own that derives, and the next says
    what is to be done.
    """
    job = plants.staged(jobs.plain("puppet-theatre"))
    first, second = usual_stages(job)
    assert (first.stands, second.stands) == ({"DS1": "DB12"}, {"DS1": "DBF"})
    assert changes(stage_job(job, first), stage_job(job, second)) == ("DS1 from DB12 to DBF",)
    early = Stage(tag="SG1", name="Before", stands={"DS1": "DB12"}, without=("DCX", "CC1", "INV1", "BP4"))
    stated = replace(job, stages=(early,))
    assert problems(stated) == [] and usual_stages(stated) == (early,)
    then = stage_job(stated, early)
    assert problems(then) == []
    there = {bar.tag: bar for bar in stage_bars(then)}
    assert there["DBF"].fed_by == () and there["DB12"].loads and not there["DBF"].loads
    assert "INV1" not in there["DB1"].fed_by and "CC1" not in there["DB1"].fed_by
    assert derive(then).bank.working == derive(job).bank.working - 1
    assert changes(then, stage_job(job, second)) == ("BP4 INV1 CC1 DCX go in", "DS1 from DB12 to DBF")


@pytest.mark.parametrize(
    ("stage", "sentence"),
    [
        (Stage(tag="SG1", name="A", stands={"DS9": "DB12"}), "There is no DC switch DS9."),
        (Stage(tag="SG1", name="A", stands={"DS1": "DB1"}), "DS1 does not choose DB1."),
        (
            Stage(tag="SG1", name="A", without=("LD1",)),
            "LD1 is no pack, inverter, controller or converter of this job.",
        ),
    ],
)
def test_what_a_stage_cannot_be(stage, sentence):
    job = replace(plants.staged(jobs.plain("puppet-theatre")), stages=(stage,))
    assert [one.message for one in problems(job)] == [sentence]
