"""A design's year: energy closes, sums agree by several routes, weather means what the months say, events are true."""

from __future__ import annotations

import numpy as np
import pytest
from msgspec.structs import replace

from tests.building import changed
from weighty_axle.answers.roof.sunny import SunnyPlace
from weighty_axle.answers.roof.yields import sun_yield
from weighty_axle.answers.year.days import days_of, plan_notes
from weighty_axle.answers.year.events import events
from weighty_axle.answers.year.inputs import first_weather, in_weather, year_inputs
from weighty_axle.answers.year.lived import live
from weighty_axle.answers.year.result import course_of, imbalance_w, year_result
from weighty_axle.answers.year.weathers import weathers
from weighty_axle.answers.year.words import sentences
from weighty_axle.demos import demo
from weighty_axle.design.derive import derive
from weighty_axle.job.checks.whole import problems
from weighty_axle.job.models.brief import Stay
from weighty_axle.physics.year import columns as at


@pytest.fixture(scope="module")
def touring(library_bus):
    return live(derive(library_bus), step_min=30)


def test_energy_closes_and_the_months_make_the_year(touring):
    """Demand Y1: to one part in a million in every step."""
    result = year_result(touring)
    assert np.abs(imbalance_w(touring)).max() < 1e-6 * touring.series[:, at.LOAD_W].max()
    for of_month, of_year in (
        ("missing_wh", result.missing_wh),
        ("sun_wh", result.sun_wh),
        ("cut_wh", result.cut_wh),
        ("engine_wh", result.engine_wh),
        ("hookup_wh", result.hookup_wh),
        ("asked_wh", result.asked_wh),
    ):
        assert sum(getattr(one, of_month) for one in result.months) == pytest.approx(of_year.value, rel=1e-9), of_month
    assert min(one.lowest_share for one in result.months) == pytest.approx(result.lowest_share.value)
    assert result.least_years.value <= result.most_years.value


def test_loads_that_wait_go_without_in_their_order_and_those_that_must_run_last(touring):
    result = year_result(touring)
    design = touring.design
    must = {load.tag for load in design.job.loads if load.must_run}
    shares = {one.tag: one.missing_wh / one.asked_wh for one in result.without if one.asked_wh}
    assert must and max(shares[tag] for tag in must & shares.keys()) <= max(shares.values())
    tag = next(load.tag for load in design.job.loads if not load.must_run and shares.get(load.tag))
    early = replace(
        design.job, loads=tuple(replace(load, waits=1 if load.tag == tag else 3) for load in design.job.loads)
    )
    late = replace(
        design.job, loads=tuple(replace(load, waits=3 if load.tag == tag else 1) for load in design.job.loads)
    )
    first, last = (live(derive(job), step_min=60) for job in (early, late))
    assert course_of(first, tag)[1].sum() > course_of(last, tag)[1].sum()


def test_the_sum_of_what_each_load_asks_is_what_the_profiles_say(touring):
    by_load = sum(course_of(touring, load.tag)[0] for load in touring.design.job.loads)
    rows = touring.arrays.loads[touring.arrays.days[:, at.LOAD_ROW], 0]
    whole = (rows[..., at.DC_W] + rows[..., at.AC_W]).ravel()
    beside = sum(
        np.repeat([0.0 if one.day(d.kind, d.season) is None else 1.0 for d in touring.inputs.days], 48)
        for one in touring.design.beside
    )
    on = np.repeat((touring.arrays.days[:, at.INVERTERS_ON] > 0) | (touring.arrays.days[:, at.PLUG_ROW] >= 0), 48)
    alone = on & ~(np.asarray(beside) > 0) if len(touring.design.beside) else on
    assert alone.any() and by_load[alone] == pytest.approx(whole[alone], rel=1e-9)


def test_drawn_years_give_the_sun_that_the_months_mean(clinic):
    """By another route: mean days of the Roof step, month by month, against forty drawn years without any limit."""
    design = derive(clinic)
    inputs = year_inputs(design, 24)
    site = design.job.site
    means = sun_yield(
        design, SunnyPlace(name="home", latitude_deg=site.latitude_deg, longitude_deg=0.0, height_m=site.height_m)
    )
    drawn = [in_weather(design, inputs, first_weather(design, inputs, year)).roof_w.sum(axis=1) for year in range(40)]
    year = np.mean(drawn, axis=0).sum()
    assert year == pytest.approx(means.year_wh.value, rel=0.03)


def test_the_same_name_is_the_same_year_and_another_is_not(clinic):
    one, again = (live(derive(clinic), step_min=60) for _ in range(2))
    assert (one.series == again.series).all()
    other = live(derive(changed(clinic, year__seed="another")), step_min=60)
    assert not (one.series == other.series).all()


def test_hours_and_quarters_differ_and_both_are_told(library_bus):
    quarter, hour = (year_result(live(derive(library_bus), step_min=step)) for step in (15, 60))
    assert quarter.step_min == 15 and "15 min" in quarter.missing_wh.limit and "60 min" in hour.missing_wh.limit
    assert quarter.missing_wh.value == pytest.approx(hour.missing_wh.value, rel=0.1)
    assert quarter.missing_wh.value != hour.missing_wh.value


def _stay(tag, first, days, **more):
    values = {"latitude_deg": -35.0, "longitude_deg": 10.0, "height_m": 0.0, "place": f"Place {tag}", "day_kind": "X"}
    return Stay(tag=tag, first_day=first, days=days, **(values | more))


def test_stays_that_overlap_are_refused_and_days_in_none_are_stored(library_bus):
    kind = library_bus.day_kinds[0].tag
    stays = (_stay("SA", 360, 6, day_kind=kind), _stay("SB", 2, 6, day_kind=kind))
    design = derive(replace(library_bus, stays=stays))
    days = days_of(design)
    assert [one.stay.tag if one.stay else "" for one in days[:8]] == ["", *["SB"] * 6, ""]
    assert days[1].season == "summer" and days[0].season == "winter" and days[-1].stay.tag == "SA"
    assert plan_notes(design) == ("353 days are in no stay: they are taken as stored at home.",)
    twice = replace(library_bus, stays=(_stay("SA", 1, 10, day_kind=kind), _stay("SB", 5, 9, day_kind=kind)))
    assert [one.message for one in problems(twice)] == ["The stays at Place SA and Place SB overlap."]


@pytest.mark.parametrize(
    "edit",
    [
        lambda job: replace(job, loads=()),
        lambda job: replace(job, stays=()),
        lambda job: replace(
            job,
            stays=(),
            roof=replace(job.roof, modules=(), strings=(), controllers=(), remote=()),
            charging=replace(job.charging, alternators=()),
            converters=(),
        ),
    ],
)
def test_a_year_without_loads_stays_or_sources_is_lived_and_said(puppet, edit):
    year = live(derive(edit(puppet)), step_min=60)
    result = year_result(year)
    assert np.isfinite(year.series).all() and np.abs(imbalance_w(year)).max() < 1e-6
    assert sentences(year, result, None) and 0 <= result.missing_share.value <= 1


@pytest.mark.parametrize("must", ["longest", "nothing"])
def test_the_customer_is_told_what_must_run_and_goes_without(must):
    """What lacks most energy need not be what is dark longest."""
    bare = demo("library-bus")
    without = year_result(live(derive(bare), step_min=60)).without
    dark = max(without, key=lambda one: one.hours)
    assert dark.hours > 24
    loads = tuple(replace(one, must_run=must == "longest" and one.tag == dark.tag) for one in bare.loads)
    year = live(derive(replace(bare, loads=loads)), step_min=60)
    result = year_result(year)
    said = " ".join(sentences(year, result, None))
    assert f"{result.without[0].name} goes without most" in said
    now = next(one for one in result.without if one.tag == dark.tag)
    assert (f"Of what must run, {dark.name} goes without longest, {now.hours:.0f} h" in said) is (must == "longest")


def test_a_group_that_shares_a_bank_says_whose_year_it_is():
    shared = [one for one in derive(demo("library-bus")).others if one.system.shares_bank]
    assert shared and all("the house's" in plan_notes(one)[0] for one in shared)


def test_events_name_the_day_on_which_the_bank_is_empty(touring):
    told = {one.day: one for one in events(touring)}
    unmet = touring.series[:, at.UNMET_W].reshape(365, 48)
    empty = {day + 1 for day in range(365) if unmet[day].sum() * 0.5 >= 50}
    assert empty == {day for day, one in told.items() if one.grave}
    assert all(one.words.endswith(".") and one.words[0].isdigit() for one in told.values())


def test_many_years_have_the_percentiles_of_a_general_library(clinic):
    many = weathers(derive(clinic), years=12, step_min=60)
    values = np.sort(many.values("missing_wh"))
    found = [one.value for one in many.percentiles("missing_wh")]
    assert found == pytest.approx(np.quantile(values, [0.1, 0.5, 0.9]))
    assert many.values("missing_wh")[many.deciding] == values[-1]


def test_the_heater_keeps_the_box_and_the_cold_keeps_the_sun_out(library_bus):
    frozen = changed(library_bus, bank__box__heater_w=0.0, bank__box__inside=False, site__record_low_c=-35.0)
    heated = changed(library_bus, bank__box__heater_w=2000.0, bank__box__heats_asleep=True, site__record_low_c=-35.0)
    cold, warm = (live(derive(job), step_min=60) for job in (frozen, heated))
    assert cold.series[:, at.CELLS_C].min() < -5 < warm.series[:, at.CELLS_C].min()
    assert any("too cold to charge" in one.words for one in events(cold))
    low = cold.series[:, at.CELLS_C] < library_bus.bank.spec.charge_low_c
    rises = np.diff(cold.series[:, at.STORED_WH], prepend=cold.inputs.candidate[at.BEGIN_WH])
    assert low.any() and rises[low].max() <= 1e-9
