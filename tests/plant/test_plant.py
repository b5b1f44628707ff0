"""The simulated plant: energy, determinism, consequences with their causes, faults told from readings alone."""

from __future__ import annotations

import functools

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import solve_ivp
from scipy.optimize import brentq

from tests.building import v
from weighty_axle import demos
from weighty_axle.answers.settings.under_load import under_load
from weighty_axle.design.derive import derive
from weighty_axle.design.wiring.runs import MAIN_RUN
from weighty_axle.exports.tables.readings import Read, ReadingsRead, everything, take_readings
from weighty_axle.physics.electric.overload import seconds_to_trip
from weighty_axle.plant.controls import controls
from weighty_axle.plant.faults import KINDS, Fault, faults_of
from weighty_axle.plant.measuring import acceptance
from weighty_axle.plant.plant import Plant


@functools.cache
def design_of(name):
    return derive(demos.demo(name))


def started(name="eye-clinic", *on, faults=(), soc=0.6):
    """A plant started by the book: packs, pre-charge held, main switch, then what is named."""
    plant = Plant(design_of(name), faults, soc)
    for key, one in plant.controls.items():
        if one.group == "Bank":
            plant.turn(key, "on")
    if "pre-charge" in plant.controls:
        plant.turn("pre-charge", "on")
        plant.run(30)
    else:
        plant.cap_v = plant.packs.behind(plant.packs.strings)[0]  # filled by hand, through a lamp
    assert plant.turn("main", "on") == ()
    for key in on:
        plant.turn(key, plant.controls[key].up)
    plant.run(0.001)
    return plant


@settings(max_examples=25, deadline=None)
@given(
    st.lists(st.tuples(st.integers(0, 200), st.integers(0, 9), st.floats(0.1, 40)), min_size=3, max_size=25),
    st.floats(0, 1000),
    st.floats(0, 9000),
    st.sampled_from(demos.names()),
)
def test_energy_closes_and_the_same_turns_give_the_same_plant(turns, sun, heater, name):
    made = []
    for _ in range(2):
        plant = Plant(design_of(name), soc=0.7)
        plant.sun_w_per_m2, plant.heater_w = sun, heater
        keys = list(plant.controls)
        for key in keys[:9]:
            plant.turn(key, plant.controls[key].up)
        for at, where, seconds in turns:
            control = plant.controls[keys[at % len(keys)]]
            plant.turn(control.key, control.positions[where % len(control.positions)])
            plant.run(seconds)
            assert all(0 <= one.soc <= 1.05 for one in plant.packs.strings)
        assert plant.energy.error_share < 1e-6
        made.append((plant.events, plant.flow, plant.energy, plant.at, plant.cap_v))
    assert made[0] == made[1]


def test_what_leaves_the_cells_is_what_their_charge_loses(monkeypatch):
    """Charge and current by another route: ampere-hours are the sum of currents times time."""
    plant = started("puppet-theatre", "INV1")
    plant.heater_w = 2000.0
    before = [one.soc for one in plant.packs.strings]
    total = 0.0
    for _ in range(600):
        plant.run(1.0)
        total += plant.flow.ways[MAIN_RUN].amps / 3600
    lost = sum(was - one.soc for was, one in zip(before, plant.packs.strings, strict=True)) * plant.packs.capacity_ah
    assert lost == pytest.approx(total, rel=1e-9)
    assert plant.flow.ways["W-INV1"].end_v < plant.flow.bar_v < plant.flow.bank_v


def test_a_charger_holds_its_voltage_and_lets_go(monkeypatch):
    plant = started("puppet-theatre", "CC1", "S1", "S2", soc=0.985)
    plant.sun_w_per_m2 = 900.0
    plant.run(1)
    first = plant.flow.charge_a["CC1"]
    plant.run(1800)
    assert plant.flow.bank_v == pytest.approx(28.0, abs=0.05) and plant.flow.charge_a.get("CC1", 0.0) < first / 2
    assert not plant.events


@pytest.mark.parametrize("held_s", [0.3, 1.0, 3.0])
def test_pre_charge_and_what_the_contact_closes_onto_against_an_integrator(held_s):
    """RC filling, then the series RLC circuit: scipy's integrator; the event names its peak."""
    plant = Plant(design_of("eye-clinic"))
    for pack in plant.job.bank.packs:
        plant.turn(pack.tag, "on")
    filling = plant.design.precharge
    plant.turn("pre-charge", "on")
    plant.run(held_s)
    volts, ohm = plant.packs.behind(plant.packs.strings)
    done = solve_ivp(
        lambda _t, v: (volts - v) / filling.course.ohm / filling.course.farad, (0, held_s), [0.0], rtol=1e-10, atol=1e-9
    )
    assert plant.cap_v == pytest.approx(done.y[0][-1], rel=1e-6)
    from_v = plant.cap_v
    events = plant.turn("main", "on")
    if from_v >= 0.9 * volts:
        assert not events
        return
    loop = max(filling.loop_ohm, ohm)
    ring = solve_ivp(
        lambda _t, y: [(volts - y[1] - loop * y[0]) / filling.loop_henry, y[0] / filling.course.farad],
        (0, 0.02),
        [0.0, from_v],
        rtol=1e-9,
        atol=1e-9,
        max_step=1e-5,
    )
    said = float(events[0].what.split(": ")[1].split(" A")[0])
    assert said == pytest.approx(np.max(ring.y[0]), rel=0.01)
    assert "pre-charge" in events[0].cause and events[0].harm


def test_contacts_weld_when_it_is_done_again_and_again():
    plant = Plant(design_of("eye-clinic"))
    for pack in plant.job.bank.packs:
        plant.turn(pack.tag, "on")
    for _ in range(3):
        plant.turn("main", "on")
        plant.turn("main", "off")
        plant.cap_v = 0.0
    assert plant.at["main"] == "on" and "welded" in plant.events[-1].cause
    assert [one.tag for one in plant.events if "closed onto 0 V" in one.what] == ["DB1"] * 3


@pytest.mark.parametrize(
    ("name", "on", "turns", "tag", "what", "cause"),
    [
        ("eye-clinic", ("INV1", "INV2"), (("main", "off"),), "DB1", "an arc", "still on"),
        ("eye-clinic", ("S1",), (), "CC1", "nowhere to put it", "before the battery"),
        ("eye-clinic", ("CC1", "S1"), (("CC1", "off"),), "CC1", "nowhere to put it", "left on after it"),
        ("eye-clinic", ("CC1", "S1"), (("main", "off"),), None, "", ""),
        ("library-bus", ("INV1", "INV2"), (("SEL1", "In phase"),), "SEL1", "under load", "still on"),
        (
            "library-bus",
            ("INV1", "INV2"),
            (("plug", "P50"), ("plug", "nothing")),
            "plug",
            "arc at the pins",
            "still on",
        ),
    ],
)
def test_what_is_done_in_the_wrong_order_has_its_consequence_and_cause(name, on, turns, tag, what, cause):
    plant = started(name)
    plant.sun_w_per_m2, plant.heater_w = 800.0, 6000.0
    for key in on:
        plant.turn(key, plant.controls[key].up)
        plant.run(2)
    for key, position in turns:
        plant.turn(key, position)
        plant.run(2)
    told = [one for one in plant.events if one.tag == tag]
    assert (tag is None and not [one for one in plant.events if one.tag == "CC1"]) or (
        what in told[-1].what and cause in told[-1].cause
    )


@pytest.mark.parametrize("times", [1.3, 1.6, 2.5])
def test_an_overload_trips_when_its_datasheet_says(times):
    plant = started("puppet-theatre", "INV1")
    spec = plant.job.inverters.spec
    plant.heater_w = times * spec.continuous_va
    points = sorted(
        {(spec.surge_va / spec.continuous_va, spec.surge_s), *((p.times, p.seconds) for p in spec.overload)}
    )
    expected = seconds_to_trip(times, points)
    plant.run(max(expected - 1.5, 0.0))
    assert expected < 2 or not plant.tripped
    plant.run(min(expected, 400) + 3)
    assert plant.tripped.get("INV1") == "overload"
    plant.turn("INV1", "off")
    plant.heater_w = 500.0
    plant.turn("INV1", "on")
    plant.run(1)
    assert "INV1" not in plant.tripped


def test_packs_that_stand_apart_are_not_joined_unpunished():
    """Two packs in parallel: (E1 - E2) ÷ (R1 + R2), by hand."""
    plant = Plant(design_of("puppet-theatre"))
    first, second, *_ = plant.packs.strings
    first.soc, second.soc = 0.05, 0.98
    plant.turn(second.tags[0], "on")
    (event,) = plant.turn(first.tags[0], "on")
    amps = (plant.packs.rest_v(0.98) - plant.packs.rest_v(0.05)) / (first.ohm + second.ohm)
    assert f"{amps:.0f} A" in event.what and first.opened and not second.opened


def test_an_equalising_charge_drives_the_packs_out():
    plant = started("puppet-theatre", "CC1", "S1", "S2", faults=(Fault("equalising", "CC1"),), soc=0.999)
    plant.sun_w_per_m2 = 1000.0
    plant.run(7200)
    opened = [one for one in plant.events if "over their limit" in one.cause]
    assert opened and all(one.opened for one in plant.packs.strings)


def test_a_restart_too_near_makes_the_inverter_hunt_as_the_rule_says():
    """The rule of the settings and the plant, each by its own way: over what it springs back to, it stays off."""
    design = design_of("puppet-theatre")
    found = under_load(design)
    for apart, hunts in ((-0.15, True), (0.3, False)):
        plant = started("puppet-theatre", "INV1")
        soc = brentq(lambda soc, packs=plant.packs: packs.rest_v(soc) - found.back_v.value + 0.02, 0.0, 1.0)
        for string in plant.packs.strings:
            string.soc = soc
        plant.heater_w = plant.job.inverters.spec.continuous_va
        plant.stands["INV1 restart_v"] = f"{found.back_v.value + apart:.3f}"
        plant.run(20)
        stops = [one for one in plant.events if "stops at" in one.what]
        assert len(stops) > 3 if hunts else len(stops) == 1
        assert plant.energy.error_share < 1e-6


def test_a_residual_device_trips_at_its_test_only_when_it_is_live():
    plant = started("puppet-theatre", "INV1")
    (dead,) = plant.turn("MAIN", "test")
    assert "does not move" in dead.what and plant.at["MAIN"] == "off"
    plant.turn("MAIN", "on")
    (alive,) = plant.turn("MAIN", "test")
    assert "as it should" in alive.what and plant.at["MAIN"] == "off" and not alive.harm
    assert plant.controls["MAIN"].up == "on"


@pytest.mark.parametrize(("times", "opens"), [(1.05, False), (1.5, True)])
def test_a_panel_s_breaker_holds_a_little_over_and_opens_well_over(times, opens):
    """IEC 60898-1 (recalled): no tripping at 1.13 times the rating, tripping within the hour at 1.45 times."""
    job = v(demos.demo("puppet-theatre"), "ac.panels[MAIN].breaker_a", 6.0)
    plant = Plant(derive(job), soc=0.9)
    for key in (*(pack.tag for pack in job.bank.packs), "main", "INV1", "MAIN"):
        plant.turn(key, "on")
    plant.heater_w = times * 6.0 * 230.0
    plant.run(600)
    opened = [one for one in plant.events if "its breaker of 6 A opens" in one.what]
    assert bool(opened) == opens and plant.at["MAIN"] == ("off" if opens else "on") and not plant.tripped


def test_cold_cells_take_no_charge_and_warm_up_as_they_carry():
    design = design_of("puppet-theatre")
    cold = derive(v(design.whole, "proving.air_c", -5.0))
    plant = Plant(cold, soc=0.5)
    for key, one in plant.controls.items():
        if one.group == "Bank":
            plant.turn(key, "on")
    plant.cap_v = plant.packs.behind(plant.packs.strings)[0]
    for key in ("main", "CC1", "S1", "S2"):
        plant.turn(key, "on")
    plant.sun_w_per_m2 = 800.0
    plant.run(10)
    assert not plant.flow.charge_a and [one.tag for one in plant.events] == ["bank"]
    assert "in the cold" in plant.events[0].cause
    plant.turn("INV1", "on")
    plant.heater_w = 2500.0
    before = plant.packs.strings[0].cells_c
    plant.run(600)
    string = plant.packs.strings[0]
    # Heat by hand: current² × resistance × time over mass × 1000 J/(kg K).
    by_hand = string.amps**2 * string.ohm * 600 / (cold.job.bank.spec.mass_kg * 1000)
    assert string.cells_c - before == pytest.approx(by_hand, rel=0.05)
    for one in plant.packs.strings:
        one.cells_c = 3.0
    plant.run(5)
    assert plant.flow.charge_a and plant.energy.error_share < 1e-6


def test_two_bonds_and_a_wrong_limit_trip_ashore():
    plant = started("library-bus", "INV1", "INV2", faults=(Fault("source limit", "P15"),))
    plant.heater_w = 7000.0
    plant.turn("plug", "P15")
    plant.run(90)
    assert plant.tripped["plug"] == "overload" and "limit of another place" in plant.events[-1].cause


def test_switches_stand_in_the_order_of_the_work_and_refuse_what_they_have_not():
    for name in demos.names():
        found = controls(design_of(name))
        groups = list(dict.fromkeys(one.group for one in found))
        assert groups[0] == "Bank" and groups[1] == "Board" and len({one.key for one in found}) == len(found)
        assert len(groups) == len([one for at, one in enumerate(found) if at == 0 or found[at - 1].group != one.group])
    with pytest.raises(ValueError, match="no position"):
        Plant(design_of("puppet-theatre")).turn("main", "halfway")


# ---- faults from readings alone --------------------------------------------------------------------------------

WORDS = {
    "bad joint": ("mΩ more",),
    "washer": ("mΩ more",),
    "swapped sense": ("other way round",),
    "dead string": ("gives nothing", "without"),
    "shaded string": ("shade",),
    "wrong profile": ("lead-acid", "another profile"),
    "equalising": ("equalising",),
    "pack off": ("carries nothing",),
    "unequal pack": ("tired pack",),
    "leg swapped": ("leg is swapped",),
    "two bonds": ("two bonds",),
    "lost neutral": ("neutral is lost",),
    "supply mode": ("as a supply",),
    "engine wire": ("see the engine", "engine not seen"),
    "source limit": ("breaker ashore",),
    "selector": ("leg is swapped",),
}


def told_of(name, faults):
    design = design_of(name)
    job, readings = acceptance(design, faults)
    tested = derive(job)
    known = everything(tested)
    assert set(readings) <= set(known)
    read = ReadingsRead(tuple(Read(key, said, "", "") for key, said in readings.items()), (), ())
    told = everything(derive(take_readings(read, tested, "", "").on(job)))
    return [told[key] for key in readings if told[key].verdict != "good"]


@pytest.mark.parametrize("name", demos.names())
def test_a_sound_plant_passes_every_test_it_can_be_given(name):
    assert [(one.key, one.says) for one in told_of(name, ())] == []


PLANTED = [
    (name, fault) for name in demos.names() for fault in {f.kind: f for f in faults_of(design_of(name))}.values()
]


@pytest.mark.parametrize(("name", "fault"), PLANTED, ids=lambda one: one if isinstance(one, str) else one.kind)
def test_every_kind_of_fault_is_told_from_the_readings_alone(name, fault):
    said = " ".join(f"{one.key}: {one.says}" for one in told_of(name, (fault,)))
    assert all(words in said for words in WORDS[fault.kind]), said
    if fault.kind in ("bad joint", "dead string", "pack off", "unequal pack", "wrong profile", "engine wire"):
        assert fault.place in said


def test_all_sixteen_kinds_can_be_planted_somewhere():
    assert set(WORDS) == set(KINDS) == {fault.kind for _, fault in PLANTED} and len(KINDS) == 16
