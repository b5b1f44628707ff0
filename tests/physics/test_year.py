"""The year's kernel: energy closes, cases by hand, an independent plain script, the compiled code the same; rainflow
and weather against published examples and means.
"""

from __future__ import annotations

import math
import random

import numpy as np
import pytest
import rainflow
from hypothesis import given, settings
from hypothesis import strategies as st

from weighty_axle.physics.year import columns as at
from weighty_axle.physics.year import kernel
from weighty_axle.physics.year.across import across
from weighty_axle.physics.year.arrays import YearArrays
from weighty_axle.physics.year.compiled import compiled
from weighty_axle.physics.year.rainflow import cycles
from weighty_axle.physics.year.weather import air_c, drawn_days


def arrays(days=20, per_day=24, *, dc=100.0, ac=(400.0, 300.0, 200.0, 100.0), sun=None, plug=False, driving=None):
    """A small world: the same loads every day, one source, one controller of 2500 W, a bar that drives where said."""
    steps = per_day * days
    loads = np.zeros((1, at.TIERS + 1, per_day, at.LOAD_COLUMNS))
    loads[..., at.DC_W] = dc
    loads[0, :, :, at.AC_W] = np.array(ac)[:, None]
    loads[0, :, :, at.VA] = loads[0, :, :, at.AC_W] * 1.1
    loads[0, :, :, at.VA_SQUARE] = loads[0, :, :, at.VA] ** 2
    loads[0, :, :, at.AWAKE] = 1.0
    which = np.zeros((days, at.DAY_COLUMNS), dtype=np.int64)
    which[:, at.PLUG_ROW] = -1
    if plug:
        which[days // 2 :, at.PLUG_ROW] = 0
    which[:, at.INVERTERS_ON] = 1
    which[:, at.GENERATOR_THERE] = 1
    plugs = np.zeros((1, per_day, 2))
    plugs[..., at.SPARE_W], plugs[..., at.ADDS_W] = 1500.0, 50.0
    hours = (np.arange(steps) % per_day + 0.5) * 24 / per_day
    weather = np.zeros((steps, 2))
    weather[:, at.AIR_C] = 4 + 12 * np.sin(np.arange(steps) / 60)
    if driving is not None:
        weather[:, at.DRIVING] = driving(hours)
    shine = np.maximum(0, np.sin((hours - 6) / 12 * np.pi)) * 3000 if sun is None else sun(hours)
    return YearArrays(
        loads,
        plugs,
        which,
        weather,
        shine[:, None].copy(),
        np.zeros((steps, 1)),
        np.array([2500.0]),
        np.array([-20.0, 0.0, 25.0]),
        np.array([0.6, 0.85, 1.0]),
        np.array([at.SUN, at.ENGINE, at.CONVERTERS, at.GENERATOR, at.SHORE]),
    )


USUAL = {
    "SUN_SCALE": 1,
    "LIMIT_SCALE": 1,
    "FULL_WH": 12000,
    "FLOOR_WH": 1200,
    "BEGIN_WH": 9000,
    "CHARGE_W": 3000,
    "DISCHARGE_W": 10000,
    "OHM": 0.02,
    "VOLTS": 51.2,
    "KEPT": 0.97,
    "ACCEPTS_PER_H": 5,
    "OWN_W": 5,
    "IDLE_W": 30,
    "SLEEP_W": 6,
    "OFF_W": 1,
    "R1": 0.02,
    "R2_PER_VA": 1e-5,
    "CHARGER_W": 1200,
    "CHARGERS_SHARE": 0.9,
    "ENGINE_W": 600,
    "CONVERTERS_W": 20,
    "GENERATOR_W": 1500,
    "FUEL_L_PER_H": 0.5,
    "FUEL_L_PER_WH": 3e-4,
    "START_BELOW": 0.2,
    "STOP_ABOVE": 0.5,
    "START_LOAD_W": 1e9,
    "QUIET_FROM_H": 22,
    "QUIET_TO_H": 8,
    "RESERVE": 0.3,
    "BOX_W_PER_K": 2,
    "BOX_H": 30,
    "KEEP_C": 5,
    "HEATER_MOST_W": 60,
    "CHARGE_LOW_C": 0,
    "CHARGE_HIGH_C": 45,
    "CHARGE_COOL_C": 5,
    "CHARGE_COOL_W": 1000,
    "DISCHARGE_LOW_C": -20,
}


def candidate(**values):
    made = np.zeros(at.CANDIDATE_COLUMNS)
    for name, value in (USUAL | values).items():
        made[getattr(at, name)] = value
    return made


def run(world, one, live=kernel.live):
    series, sums = np.zeros((len(world.weather), at.STEP_COLUMNS)), np.zeros(at.SUM_COLUMNS)
    live(world, one, series, sums)
    return series, sums


@given(
    sun=st.floats(0, 3),
    begin=st.floats(0.1, 1),
    ohm=st.floats(0, 0.1),
    reserve=st.floats(0, 0.9),
    gives=st.sampled_from([0.0, 900.0, 4000.0]),
    keep=st.floats(-5, 15),
    plug=st.booleans(),
    on=st.integers(0, 1),
)
@settings(max_examples=40, deadline=None)
def test_energy_closes_at_every_step_and_nothing_leaves_its_bounds(sun, begin, ohm, reserve, gives, keep, plug, on):
    world = arrays(days=6, plug=plug, driving=lambda hours: ((hours > 9) & (hours < 11)) * 1.0)
    world.days[2, at.INVERTERS_ON] = on
    one = candidate(SUN_SCALE=sun, BEGIN_WH=begin * 12000, OHM=ohm, RESERVE=reserve, GENERATOR_W=gives, KEEP_C=keep)
    series, sums = run(world, one)
    into = series[:, at.SHORE_W : at.SHORE_W + at.KINDS].sum(axis=1) + series[:, at.UNMET_W]
    out = series[:, (at.LOAD_W, at.LOSS_W, at.OWN_USED_W, at.HEATER_W, at.WASTE_W)].sum(axis=1)
    held = np.diff(series[:, at.STORED_WH], prepend=one[at.BEGIN_WH])
    assert np.abs(into - out - held).max() < 1e-6 * np.maximum(into, 1).max()
    assert (series[:, at.STORED_WH] <= 12000 * (1 + 1e-12)).all() and (series >= -60).all()
    assert (series[:, at.STORED_WH] >= min(1200, begin * 12000) - 1e-6).all()
    assert sums[at.SUN_WH] + sums[at.CUT_WH] == pytest.approx(np.minimum(world.roof_w[:, 0] * sun, 2500).sum())
    assert sums[at.END_WH] == series[-1, at.STORED_WH]


def test_constant_load_and_square_sun_in_closed_form():
    """240 W all day, 1000 W of sun from 8 to 16 o'clock, nothing lost: the bank rises 760 × 8 and falls 240 × 16 Wh a
    day, and once full it swings by 3840 Wh for good.
    """
    world = arrays(days=30, per_day=96, dc=240.0, ac=(0.0,) * 4, sun=lambda h: np.where((h > 8) & (h < 16), 1000.0, 0))
    one = candidate(OHM=0, KEPT=1, ACCEPTS_PER_H=1e9, OWN_W=0, IDLE_W=0, HEATER_MOST_W=0, GENERATOR_W=0, CONVERTERS_W=0)
    one[[at.CHARGE_LOW_C, at.CHARGE_COOL_C]] = -60.0
    world.weather[:, at.AIR_C] = 25.0
    series, sums = run(world, one)
    rises = 760 * 8 - 240 * 16
    days_to_full = math.ceil((12000 - 9000 + 240 * 8 - 760 * 8) / rises) + 1
    assert series[96 * days_to_full + 4 * 16 - 1, at.STORED_WH] == pytest.approx(12000, rel=1e-6)
    assert series[-1, at.STORED_WH] == pytest.approx(12000 - 240 * 8, rel=1e-6)
    assert series[96 * 20 + 4 * 8 - 1, at.STORED_WH] == pytest.approx(12000 - 240 * 16, rel=1e-6)
    assert sums[at.CUT_WH] == pytest.approx(30 * 8000 - 30 * 24 * 240 - (sums[at.END_WH] - 9000), rel=1e-6)


def _plain_days(world, one):
    """Twenty days by another route: a script with names and dictionaries, written from the manual's words alone."""
    u = {name: float(one[getattr(at, name)]) for name in USUAL}
    stored, cells = u["BEGIN_WH"], max(float(world.weather[0, at.AIR_C]), u["KEEP_C"])
    waiting, generator, course = 0, False, []
    stays = math.exp(-1 / u["BOX_H"])
    for t, (air, driving) in enumerate(world.weather):
        day, hour = divmod(t, 24)
        plugged = world.days[day, at.PLUG_ROW] >= 0 and driving < 1
        usable = (stored - u["FLOOR_WH"]) / (u["FULL_WH"] - u["FLOOR_WH"])
        limits = [u["RESERVE"] * part + (0.05 if at_ < waiting else 0) for at_, part in enumerate((1, 2 / 3, 1 / 3))]
        waiting = max([at_ + 1 for at_, limit in enumerate(limits) if usable < limit], default=0)
        ac = float(world.loads[0, waiting, hour, at.AC_W])
        may_run = driving == 0 and not world.days[day, at.PLUG_ROW] >= 0 and 8 <= hour + 0.5 < 22
        generator = may_run and (generator or usable < u["START_BELOW"]) and usable < u["STOP_ABOVE"]
        va = 1.1 * ac
        loss = u["IDLE_W"] + u["R1"] * va + u["R2_PER_VA"] * va * va
        if generator:
            bank_ac, charger = max(0, ac - u["GENERATOR_W"]), (u["GENERATOR_W"] - ac - u["IDLE_W"]) * 0.9
        elif plugged:
            short = 50.0 - (400.0 - ac)
            bank_ac, charger = max(0, short), (1500.0 + max(0, -short) - u["IDLE_W"]) * 0.9
        else:
            bank_ac, charger = ac, 0.0
        if generator or plugged:
            part = bank_ac / ac
            loss = u["R1"] * va * part + u["R2_PER_VA"] * (va * part) ** 2
        charger = min(max(charger, 0), u["CHARGER_W"])
        cold = air + (cells - air) * stays
        heat = min(u["HEATER_MOST_W"], max(0, u["BOX_W_PER_K"] * (u["KEEP_C"] - cold) / (1 - stays)))
        cells = cold + heat / u["BOX_W_PER_K"] * (1 - stays)
        need = 100.0 + bank_ac + loss + u["OWN_W"] + heat
        takes = min(
            u["CHARGE_W"] if cells >= 5 else u["CHARGE_COOL_W"],
            u["ACCEPTS_PER_H"] * (u["FULL_WH"] - stored),
            (u["FULL_WH"] - stored) / u["KEPT"],
        )
        takes = takes if cells >= 0 else 0
        offers = [min(2500.0, float(world.roof_w[t, 0])), u["ENGINE_W"] * driving, u["CONVERTERS_W"], charger]
        total = min(sum(offers), need + takes)
        if total >= need:
            net = total - need
            stored += (net - net**2 * u["OHM"] / u["VOLTS"] ** 2) * u["KEPT"]
        else:
            share = np.interp(cells, world.cold_c, world.cold_share)
            left = stored - u["FLOOR_WH"] - (1 - share) * u["FULL_WH"]
            k = u["OHM"] / u["VOLTS"] ** 2
            out = min(need - total, max(0, (math.sqrt(1 + 4 * k * max(left, 0)) - 1) / (2 * k)))
            stored -= out + k * out**2
        course.append(stored)
    return np.array(course)


@pytest.mark.parametrize("sun", [0.15, 0.6, 1.4])
def test_twenty_days_agree_with_an_independent_plain_script(sun):
    world = arrays(plug=True, driving=lambda hours: ((hours > 12) & (hours < 14)) * 1.0)
    one = candidate(SUN_SCALE=1)
    world.roof_w[:] *= sun
    series, _ = run(world, one)
    assert series[:, at.STORED_WH] == pytest.approx(_plain_days(world, one), rel=1e-9)


def test_compiled_and_plain_code_live_the_same_year(tmp_path_factory):
    fast = compiled(str(tmp_path_factory.getbasetemp().parent / "compiled"))
    assert fast is not None
    world = arrays(days=30, plug=True, driving=lambda hours: ((hours > 12) & (hours < 14)) * 1.0)
    many = np.array([candidate(SUN_SCALE=scale, FULL_WH=whole) for scale in (0.1, 1.0) for whole in (6000, 20000)])
    sums = np.zeros((len(many), at.SUM_COLUMNS))
    fast.many(world, many, sums)
    for one, told in zip(many, sums, strict=True):
        series, plain = run(world, one)
        quick, quick_sums = run(world, one, fast.live)
        assert quick == pytest.approx(series, rel=1e-9, abs=1e-9)
        assert quick_sums == pytest.approx(plain, rel=1e-9, abs=1e-9)
        assert told == pytest.approx(plain, rel=1e-9, abs=1e-9)


@pytest.mark.parametrize("plug", [True, False])
def test_candidates_side_by_side_live_the_same_years_as_one_by_one(plug):
    world = arrays(days=40, plug=plug, driving=lambda hours: ((hours > 12) & (hours < 14)) * 1.0)
    world.days[5:9, at.INVERTERS_ON], world.days[5:9, at.STORED] = 0, 1
    many = np.array(
        [
            candidate(SUN_SCALE=scale, FULL_WH=whole, GENERATOR_W=gives, OHM=ohm)
            for scale in (0.1, 0.7)
            for whole in (9500, 20000)
            for gives, ohm in ((0.0, 0.02), (1500.0, 0.0), (250.0, 0.05))
        ]
    )
    sums = np.zeros((len(many), at.SUM_COLUMNS))
    across(world, many, sums)
    for one, told in zip(many, sums, strict=True):
        assert told == pytest.approx(run(world, one)[1], rel=1e-9, abs=1e-6)


def test_cycles_are_those_of_the_standards_example():
    """ASTM E1049-85 (2017) figure 6: half cycles of 3, 4, 8, 9, 8, 6 and one whole of 4."""
    found = sorted((one.span, one.times) for one in cycles([-2, 1, -3, 5, -1, 3, -4, 4, -2]))
    assert found == [(3, 0.5), (4, 0.5), (4, 1.0), (6, 0.5), (8, 0.5), (8, 0.5), (9, 0.5)]


def test_cycles_agree_with_a_general_package():
    draw = random.Random(4)
    for _ in range(200):
        course = [draw.randint(-9, 9) for _ in range(draw.randint(3, 60))]
        counted: dict[float, float] = {}
        for one in cycles(course):
            counted[one.span] = counted.get(one.span, 0) + one.times
        assert sorted(counted.items()) == list(rainflow.count_cycles(course))


def test_two_values_are_half_a_cycle_and_a_flat_course_none():
    assert [(one.span, one.times) for one in cycles([0.2, 0.9])] == [(pytest.approx(0.7), 0.5)]
    assert cycles([0.5, 0.5, 0.5]) == []


@pytest.mark.parametrize("mean", [0.1, 0.5, 0.8])
def test_drawn_skies_have_their_mean_their_memory_and_come_again(mean):
    years = np.array([drawn_days("a name", year, [mean] * 365).clear_share for year in range(60)])
    assert years.mean() == pytest.approx(mean, abs=0.01) and 0 <= years.min() <= years.max() <= 1
    follows = np.corrcoef(years[:, :-1].ravel(), years[:, 1:].ravel())[0, 1]
    assert 0.15 < follows < 0.3  # 0.29 of what the shares are made from
    assert (drawn_days("a name", 3, [mean] * 365).clear_share == years[3]).all()
    assert not (drawn_days("another", 3, [mean] * 365).clear_share == years[3]).any()


def test_air_keeps_its_daytime_mean():
    hours = (np.arange(96) + 0.5) / 4
    air = air_c(np.full(96, 11.0), np.zeros(96), hours, 12.0)
    assert air[(hours > 6) & (hours < 18)].mean() == pytest.approx(11.0, abs=0.02)
    assert hours[air.argmax()] == pytest.approx(15, abs=0.2)
