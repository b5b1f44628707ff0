"""Heat in bays: air against the standard atmosphere, warming against an integrator, the settled bay against a root
finder, the day against its own balance.
"""

from __future__ import annotations

import numpy as np
import pytest
from msgspec.structs import replace
from scipy.integrate import solve_ivp
from scipy.optimize import brentq

from tests.building import told, v
from weighty_axle.demos import demo
from weighty_axle.design.derive import derive
from weighty_axle.job.edits.edit import move
from weighty_axle.job.models.vehicle import Air
from weighty_axle.physics.body.air import carried_w_per_k, density_kg_m3, flow_needed_m3_h, left_of_rise


@pytest.mark.parametrize(("height_m", "air_c", "kg_m3"), [(0, 15, 1.225), (1500, 5.25, 1.0581), (3000, -4.5, 0.90925)])
def test_density_against_the_standard_atmosphere(height_m, air_c, kg_m3):
    """ISO 2533:1975, table of density; recalled."""
    assert density_kg_m3(height_m=height_m, air_c=air_c) == pytest.approx(kg_m3, rel=1e-3)


def test_a_fixed_fan_cools_a_fifth_less_at_1600_m():
    """Common practice, no source; the same volume of the same temperature."""
    low, high = (carried_w_per_k(flow_m3_h=300, density_kg_m3=density_kg_m3(height_m=h, air_c=30)) for h in (0, 1600))
    assert 0.16 < 1 - high / low < 0.21


def test_air_for_a_kilowatt():
    """1 kW with 10 K of rise in air of 1.2 kg/m3 takes about 0.3 m3/h for each watt and kelvin: common practice."""
    assert flow_needed_m3_h(heat_w=1000, rise_k=10, density_kg_m3=1.2) == pytest.approx(298, rel=0.01)
    assert flow_needed_m3_h(heat_w=1000, rise_k=0, density_kg_m3=1.2) == float("inf")


@pytest.mark.parametrize(("heat_w", "loss_w_k"), [(300.0, 25.0), (0.0, 4.0), (-50.0, 9.0)])
def test_warming_against_an_integrator(heat_w, loss_w_k):
    def rate(_t, at):
        return (heat_w - loss_w_k * (at - 18.0)) / 90_000.0

    ends = solve_ivp(rate, (0, 3600), [31.0], rtol=1e-9, atol=1e-9).y[0, -1]
    settled = 18.0 + heat_w / loss_w_k
    left = left_of_rise(loss_w_k, capacity_j_k=90_000.0, seconds=3600.0)
    assert settled + (31.0 - settled) * left == pytest.approx(ends, abs=1e-5)
    with pytest.raises(ValueError, match="capacity"):
        left_of_rise(1.0, capacity_j_k=0.0, seconds=1.0)


def _bay(job, tag="B2"):
    return next(one for one in derive(job).heat.bays if one.tag == tag)


def _aired(job, **air):
    return v(job, "vehicle.bays[B2].air", replace(Air(intake="left", outlet="right"), **air))


def test_loss_at_full_load_by_hand(clinic):
    """Two inverters, two controllers at noon, three alternator chargers and a converter."""
    spec = clinic.inverters.spec
    inverters = 2 * spec.continuous_va * (1 / spec.full_load_efficiency - 1)
    strings = {string.tag for string in clinic.roof.strings}
    modules = sum(one.string in strings for one in clinic.roof.modules) * clinic.roof.module.pmp_w
    changing = sum(
        (one.spec.output_w or one.spec.output_a * (one.spec.output_v or 51.2)) * (1 / one.spec.efficiency - 1)
        for one in clinic.converters
        if one.tag in ("ALT1", "ALT2", "ALT3", "DC1")
    )
    assert _bay(clinic).loss_w.value == pytest.approx(inverters + 0.8 * modules * (1 / 0.97 - 1) + changing, rel=1e-3)


@pytest.mark.parametrize("fan", [0.0, 150.0, 900.0])
def test_where_a_bay_settles_against_a_root_finder(fan):
    """The same balance solved by brentq: an inverter gives 1 - derating x (air - full-power temperature) of its rating
    and loses by its curve.
    """
    job = _aired(demo("eye-clinic"), fan_m3_per_h=fan)
    one = _bay(job)
    given = {each.name: each.value for each in one.settles_c.inputs}
    spec = job.inverters.spec
    fixed = one.loss_w.value - 2 * spec.continuous_va * (1 / spec.full_load_efficiency - 1)
    root = np.sqrt(spec.no_load_w / spec.continuous_va) + np.sqrt(
        1 / spec.full_load_efficiency - 1 / spec.peak_efficiency
    )
    r2 = root**2 / spec.continuous_va
    r1 = 1 / spec.peak_efficiency - 1 - 2 * np.sqrt(spec.no_load_w * r2)

    def out(at):
        power = spec.continuous_va * max(0.0, 1 - spec.derate_per_c * max(0.0, at - spec.full_to_c))
        heat = fixed + 2 * (spec.no_load_w + r1 * power + r2 * power**2)
        walls = given["Walls for each degree"] * (at - given["Around, in the sun"])
        return walls + given["Fan for each degree"] * (at - given["Outside"]) - heat

    assert one.settles_c.value == pytest.approx(brentq(out, 0, 300), abs=0.2)


def test_a_day_gives_off_what_it_takes_in():
    """Without a fan and derating the mean of a day that repeats is the mean around + mean loss over the walls."""
    job = demo("library-bus")
    job = v(job, "inverters.spec.derate_per_c", 0.0)
    job = replace(job, groups=(), converters=(), roof=replace(job.roof, strings=(), modules=()))
    design = derive(job)
    one = next(each for each in design.heat.bays if each.tag == "B2")
    kind = next(tag.tag for tag in job.day_kinds if one.peak_c.limit.startswith(tag.name))
    profile = next(one for one in design.brief.profiles.values() if one.kind == kind and "summer" in one.seasons)
    walls = next(each.value for each in one.peak_c.inputs if each.name == "Walls for each degree")
    bay = next(each for each in job.vehicle.bays if each.tag == "B2")
    long, high, wide = bay.end_m - bay.start_m, bay.top_m - bay.bottom_m, job.vehicle.width_m
    assert walls == pytest.approx(4.0 * 2 * (long * high + long * wide + wide * high))
    sunlit = long * high / (walls / 4.0)
    # Losses of the inverters over the day, as the brief has them, are what this bay takes in beside the packs' own.
    loss_wh = profile.idle_wh + profile.converting_wh
    around = np.mean(one.outside_c) + sunlit * 18.0 / np.pi
    taken = (np.mean(one.curve_c) - around) * walls * 24
    assert taken == pytest.approx(loss_wh, rel=0.06)


def test_heat_comes_back_to_the_inverters():
    """A bay warmer than was counted on leaves them less; otherwise the stated temperature holds."""
    job = v(demo("eye-clinic"), "site.bay_high_c", 35.0)
    much, little = (derive(_aired(job, fan_m3_per_h=fan)) for fan in (900.0, 20.0))
    assert little.heat.bay_c > much.heat.bay_c
    assert little.inverters.legs[0].continuous_va.value < much.inverters.legs[0].continuous_va.value
    unsaid = derive(v(job, "vehicle.bays[B2].air", None))
    assert unsaid.heat.bay_c == job.site.bay_high_c
    assert much.heat.bay_c == job.site.bay_high_c, "a good fan never makes less of what was counted on"


def test_the_thermostat_runs_the_fan_only_when_it_is_warm():
    one = _bay(_aired(demo("eye-clinic"), fan_m3_per_h=400.0, on_c=29.0, off_c=26.0))
    assert any(one.fan_on) and not all(one.fan_on)
    assert all(on for on, at in zip(one.fan_on[1:], one.curve_c, strict=False) if at > 29.0)
    assert not any(on for on, at in zip(one.fan_on[1:], one.curve_c, strict=False) if at < 26.0)


def test_heat_stays_as_it_is_while_a_thing_moves_within_its_bay():
    """The very object: a drag within a bay does not work heat out again."""
    from weighty_axle.design.derive import Deriver

    deriver, job = Deriver(), demo("eye-clinic")
    first = deriver.derive(job).heat
    assert deriver.derive(move(("INV1",), dx_m=0.01).apply(job)).heat is first
    assert deriver.derive(move(("INV1",), dx_m=2.0).apply(job)).heat is not first


def test_a_fan_that_goes_off_above_where_it_comes_on_is_refused():
    from weighty_axle.job.checks.whole import problems

    assert any("goes off at a lower" in one.message for one in problems(_aired(demo("eye-clinic"), on_c=25.0)))
    assert not told(demo("eye-clinic"), "place.bay-too-hot")
