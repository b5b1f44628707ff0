"""Times to full and balances of days, by hand."""

from __future__ import annotations

import math

import pytest

from tests import jobs, plants
from tests.building import v
from weighty_axle.answers.charging.day import DayAsked, asked_of, balance
from weighty_axle.answers.charging.filling import filling, state_named
from weighty_axle.answers.roof.sunny import home
from weighty_axle.answers.roof.yields import sun_yield
from weighty_axle.design.derive import derive


def _state(design, name):
    found = state_named(design, name)
    assert found is not None
    return found


def test_constant_current_by_hand(clinic):
    """From 20 to 80 % the voltage is not held: 60 % of 600 Ah / 0.995 at 140 A from the pedestal, held to 249 A."""
    design = derive(clinic)
    found = filling(design, _state(design, "P50"), 0.2, 0.8)
    assert found.hours_h.value == pytest.approx(0.6 * 600 / 0.995 / 140)
    assert found.curve.ended == "reached" and math.isinf(found.held_from_h.value)
    sunny = filling(design, _state(design, "sun, P50, engine idling"), 0.2, 0.8)
    assert sunny.source_a.value == design.source_states.held_to_a.value == 249


def test_loads_take_their_part_and_a_pedestal_carries_its_own(clinic):
    """Off the pedestal all of the day's mean comes out of what charges; on it only DC loads do, and the charger has
    what the AC loads leave.
    """
    design = derive(clinic)
    day = design.brief.days[design.brief.design_day]
    sun = filling(design, _state(design, "sun"), 0.2, with_loads=True)
    assert sun.drawn_w.value == pytest.approx(day.bank_energy_wh.value / 24)
    plug = filling(design, _state(design, "P30"), 0.2, with_loads=True)
    row = next(one for one in design.sources if one.tag == "P30")
    dc_w = day.dc_energy_wh.value / 24
    assert plug.drawn_w.value == pytest.approx(dc_w)
    assert plug.source_a.value == pytest.approx((row.net_day_wh.value / 24 + dc_w) / design.bank.nominal_v.value)
    idle = filling(design, _state(design, "engine idling"), 0.2, with_loads=True)
    assert idle.curve.ended == "never" and math.isinf(idle.hours_h.value)


@pytest.mark.parametrize("school", ["gentle", "brim"])
def test_both_schools_hold_their_own_voltage(clinic, school):
    design = derive(clinic)
    found = filling(design, _state(design, "P50"), 0.5, 1.0, school)
    assert max(found.curve.volts) == pytest.approx(16 * {"gentle": 3.5, "brim": 3.6}[school], abs=0.01)
    assert found.curve.amps[-1] == pytest.approx(0.03 * 600)


def test_lead_acid_takes_less_the_fuller_it_is():
    """Ampere-hour rule (Vinal, Storage Batteries, recalled): never more amperes than ampere-hours missing."""
    design = derive(plants.staged(jobs.plain("eye-clinic")))
    old = next(one for one in design.others if one.system.key == "DB12")
    state = next(one for one in old.source_states.states if one.parts)
    curve = filling(old, state, 0.5).curve
    capacity = old.bank.capacity_ah.value
    assert all(amps <= capacity * (1 - soc) + 1e-6 for amps, soc in zip(curve.amps, curve.soc, strict=True))


def _day(job, design, month=5, **more):
    asked = {"kind": "CLINIC", "source": "", "driven_from_h": 8.0, "driven_h": 0.0}
    day = (16, 47, 75, 106, 136, 167, 197, 228, 259, 289, 320, 350)[month]
    return DayAsked(place=home(design), day=day, **(asked | more))


def test_a_day_adds_up(clinic):
    """Loads as the Brief sums them, sun as the Roof's Yield, the engine as its chargers give: energy closes, and the
    charge follows it.
    """
    design = derive(clinic)
    found = balance(design, _day(clinic, design, driven_h=2.5), 0.6)
    profile = design.brief.profile("CLINIC", "summer")
    assert found.loads_wh.value == pytest.approx(profile.bank_wh, rel=1e-9)
    june = sun_yield(design, home(design)).months[5].day_wh.value
    assert found.sun_wh.value == pytest.approx(june, rel=1e-6)
    assert found.engine_wh.value == pytest.approx(2.5 * 51.2 * 3000 / 48.0)
    change = june + found.engine_wh.value - profile.bank_wh
    assert found.change_wh.value == pytest.approx(change)
    moved = (found.soc[-1] - 0.6) * design.bank.nominal_energy_wh.value
    # What went in keeps 99.5 % of its ampere-hours.
    into = sum(max(0.0, s + e - o) for s, e, o in zip(found.sun_w, found.engine_w, found.loads_w, strict=True)) / 4
    assert moved == pytest.approx(
        change - 0.005 * into + found.lacking_wh.value - found.wasted_wh.value * 0.995, rel=1e-6
    )


def test_a_round_all_day_says_that_it_ends_short(clinic):
    """No sun to speak of and no hook-up: plainly short."""
    job = v(clinic, "roof.modules", ())
    design = derive(job)
    found = balance(design, _day(job, design, 11), 0.9)
    assert found.soc[-1] < 0.9 and ("lower than it began" in found.words or "runs empty" in found.words)
    assert found.change_wh.value == pytest.approx(-found.loads_wh.value)


def test_a_drive_over_midnight_and_a_hook_up_meanwhile(library_bus):
    design = derive(library_bus)
    stay = next(one for one in library_bus.stays if one.source == "P50")
    asked = asked_of(design, stay)
    found = balance(design, asked, 0.3)
    assert found.hooked_wh.value > 0 and found.soc[-1] == pytest.approx(1.0)
    from msgspec.structs import replace

    driven = balance(design, replace(asked, driven_from_h=23.0, driven_h=2.0), 0.3)
    on_road = [at for at, watts in enumerate(driven.engine_w) if watts]
    assert on_road == [0, 1, 2, 3, 92, 93, 94, 95] and all(driven.hooked_w[at] == 0 for at in on_road)
