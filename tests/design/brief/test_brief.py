"""The brief: energy, honest peaks, running together, stays, and equipment on board."""

from __future__ import annotations

import datetime
import itertools
import math

import numpy as np
import pandas as pd
import pytest
import scipy.stats
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from tests import jobs
from weighty_axle import demos
from weighty_axle.answers.brief.peaks import coincidence, honest_peak
from weighty_axle.answers.brief.run_together import overload_points, run_together
from weighty_axle.design.brief import seasons
from weighty_axle.design.brief.draws import DC_VOLTS
from weighty_axle.design.brief.profiles import running_at
from weighty_axle.design.derive import Deriver, derive
from weighty_axle.job.checks.whole import problems
from weighty_axle.job.edits.brief import (
    add_stay,
    copy_day,
    free_stretch,
    mirrored,
    paint,
    place_stay,
    remove_day_kind,
    take_loads,
)
from weighty_axle.job.edits.edit import set_value
from weighty_axle.job.edits.inverters import set_stacking
from weighty_axle.job.models.brief import ALL_YEAR, Load, Seasons, Span, Stay
from weighty_axle.job.models.inverters import OverloadPoint
from weighty_axle.physics.electric.overload import seconds_to_trip
from weighty_axle.physics.electric.phasors import complex_power
from weighty_axle.physics.loads.cycling import (
    DRAWN_DAYS,
    Switching,
    drawn_days,
    drawn_powers,
    highest_powers,
    is_on,
    on_stretches,
    phases,
    rank95,
)
from weighty_axle.rules.judge import judge


@pytest.fixture(scope="module")
def library():
    return jobs.plain("library-bus")


def load(tag, watts, supply="AC", spans=((0, 1440, 1.0),), **more):
    return Load(
        tag=tag,
        name=tag,
        supply=supply,
        running_w=watts,
        power_factor=1.0,
        patterns={"SHOW": tuple(Span(*span) for span in spans)},
        **more,
    )


# ---- energy --------------------------------------------------------------------------------------------------


def test_energy_worked_by_hand(puppet):
    """The example of docs/methods.md: 24 V bank, one 3 kVA inverter, converter 92 %."""
    job = replace(
        puppet,
        stays=(),
        loads=(
            load("LAMP", 60.0, "DC_12", ((1080, 1320, 1.0),), count=2),
            load("COLD", 150.0, duty=0.4),
            load("HEAT", 1000.0, spans=((420, 540, 0.5),), duty=0.6, seasons=Seasons(summer=0.0)),
        ),
    )
    brief = derive(job).brief
    winter, summer = brief.profile("SHOW", "winter"), brief.profile("SHOW", "summer")
    assert winter.by_supply_wh == pytest.approx({"AC": 2040, "DC_12": 480})
    assert winter.converter_wh == pytest.approx(41.74, abs=0.005)
    assert winter.idle_wh == 384
    assert winter.converting_wh == pytest.approx(46.98, abs=0.01)
    assert winter.bank_wh == pytest.approx(2992.72, abs=0.02)
    assert summer.by_supply_wh == pytest.approx({"AC": 1440, "DC_12": 480})
    assert summer.bank_wh == pytest.approx(2373.78, abs=0.02)
    assert brief.days["SHOW"].bank_energy_wh.value == winter.bank_wh, "the season that takes most sizes the bank"
    assert "winter, spring, autumn" in brief.days["SHOW"].bank_energy_wh.name


@pytest.mark.parametrize("name", demos.names())
def test_energy_against_pandas(name):
    """Every demo, kind of day and season, by an independent sum: a frame of minutes by loads."""
    job, design = jobs.plain(name), derive(jobs.plain(name))
    bank_volts = 24 if job.bank.spec.cells_in_series * job.bank.series == 8 else 48
    for profile in design.brief.profiles.values():
        kind = next(one for one in job.day_kinds if one.tag == profile.kind)
        frame = pd.DataFrame(index=pd.RangeIndex(1440))
        running, reactive = pd.DataFrame(index=frame.index), pd.DataFrame(index=frame.index)
        supplies, lost = {}, {}
        for one in job.loads:
            season = getattr(one.seasons, profile.seasons[0])
            dc = one.supply in DC_VOLTS
            if season == 0 or not (dc or kind.inverters_on or kind.use == "hooked_up"):
                continue
            watts = pd.Series(one.standby_w * one.count, index=frame.index)
            for span in one.patterns.get(kind.tag, ()):
                watts.loc[span.start_min : span.end_min - 1] = (
                    one.running_w * one.count * span.level * one.duty * season
                )
            supplies[one.tag] = one.supply if dc else design.brief.feeds[one.tag]
            # Losses go with the current: of each feed the mean power over the power factor of all that is painted then.
            running[one.tag], reactive[one.tag] = (
                pd.Series(one.standby_w * one.count, index=frame.index),
                pd.Series(0.0, index=frame.index),
            )
            for span in one.patterns.get(kind.tag, ()):
                full = one.running_w * one.count * span.level
                running.loc[span.start_min : span.end_min - 1, one.tag] = full
                reactive.loc[span.start_min : span.end_min - 1, one.tag] = full * math.tan(math.acos(one.power_factor))
            lost[one.tag] = (
                1 / job.wiring.converter_efficiency - 1 if dc and DC_VOLTS[one.supply] != bank_volts else 0.0
            )
            frame[one.tag] = watts
        by_supply = (frame.sum() / 60).groupby(pd.Series(supplies)).sum()
        by_supply = by_supply[by_supply > 0]
        assert {k: v for k, v in profile.by_supply_wh.items() if v > 0} == pytest.approx(dict(by_supply))
        assert profile.converter_wh == pytest.approx((frame.sum() / 60 * pd.Series(lost)).sum())
        legs = {}
        for leg in ("L1", "L2", "L1+L2", "AC"):
            tags = [tag for tag, feed in supplies.items() if feed == leg]
            watts, var = running[tags].sum(axis=1), reactive[tags].sum(axis=1)
            legs[leg] = frame[tags].sum(axis=1) * (np.hypot(watts, var) / watts.replace(0, 1)).where(watts > 0, 1.0)
        curve, units = design.brief.curve, len(job.inverters.units)
        powers = (
            [legs["L1"] + legs["L1+L2"] / 2, legs["L2"] + legs["L1+L2"] / 2]
            if units == 2
            else [legs["AC"] / units] * units
        )
        loss = (
            sum((curve.p0_w + curve.r1 * power + curve.r2_per_w * power**2).sum() / 60 for power in powers)
            if kind.inverters_on
            else 0.0
        )
        assert profile.idle_wh + profile.converting_wh == pytest.approx(loss, rel=1e-9)


def test_a_painted_kind_of_day_leaves_the_others_as_they_are(library):
    """The very objects: an edit recomputes only what depends on it."""
    deriver = Deriver()
    before = deriver.derive(library).brief.profiles
    after = deriver.derive(paint(library.loads[0], "ROUND", 600, 660, 1.0).apply(library)).brief.profiles
    assert before.keys() <= after.keys() | {"ROUND"}
    assert all(after[key] is one for key, one in before.items() if one.kind != "ROUND")
    assert sum(after[key].bank_wh for key in after if key.startswith("ROUND")) > before["ROUND"].bank_wh


def test_seasons_are_only_counted_where_a_kind_is_lived(library):
    lived = seasons.seasons_lived(library.stays, library.day_kinds)
    assert lived["ROUND"] == ("spring", "autumn") and lived["VILLAGE"] == seasons.SEASONS
    alone = replace(library, stays=())
    assert len(derive(alone).brief.profiles) > len(derive(library).brief.profiles)
    southern = replace(library, stays=tuple(replace(stay, latitude_deg=-40.0) for stay in library.stays))
    assert derive(southern).brief.days["ROUND"].bank_energy_wh.value == pytest.approx(
        derive(library).brief.days["ROUND"].bank_energy_wh.value
    )


# ---- honest peaks --------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("duty", "units", "cycle"), [(0.3, 12, 20.0), (0.7, 5, 15.0), (0.05, 40, 33.0), (0.95, 8, 7.0)]
)
def test_drawn_units_are_binomial_at_any_instant(duty, units, cycle):
    """At one instant the count of units that are on is binomial (scipy.stats): chi-square over bins of five or more,
    and the mean.
    """
    days = drawn_days(drawn_powers("test", [], [Switching("X", 1.0, units, duty, cycle, ((0, 288, 1.0),))]))
    law = scipy.stats.binom(units, duty)
    # Days are independent, steps of one day are not: the mean over 200 days of one step has the spread of binom / 200.
    assert days.mean_w[100] == pytest.approx(law.mean(), abs=4 * law.std() / math.sqrt(DRAWN_DAYS))
    on = [
        sum(is_on(500, phase=phase, duty=duty, cycle_min=cycle) for phase in day) for day in phases("test", "X", units)
    ]
    counts = np.bincount(on, minlength=units + 1)
    expected = law.pmf(np.arange(units + 1)) * DRAWN_DAYS
    bins = np.searchsorted(np.cumsum(expected), np.arange(5, DRAWN_DAYS - 4, max(5, DRAWN_DAYS // 8)))
    observed, theory = (np.array([part.sum() for part in np.split(one, bins)]) for one in (counts, expected))
    kept = theory > 1
    assert scipy.stats.chisquare(observed[kept], theory[kept] * observed[kept].sum() / theory[kept].sum()).pvalue > 1e-3
    assert law.ppf(0.90) <= days.p95_w[100] <= law.ppf(0.985), "a 95th percentile of 200 draws"


def test_the_honest_peak_against_an_independent_draw(puppet):
    """Short on-times and a stretch that begins within a cycle: against 600 days of one-second steps drawn by numpy's
    own generator.
    """
    loads = (
        load("A", 1200.0, duty=0.05, cycle_min=20.0),
        load("B", 700.0, duty=0.08, cycle_min=35.0, count=3),
        load("C", 400.0),
        load("D", 900.0, duty=0.1, cycle_min=10.0, spans=((607, 700, 1.0),)),
    )
    job = replace(puppet, loads=loads)
    found = honest_peak(derive(job), "SHOW").value
    dice, at = np.random.default_rng(7), np.arange(86_400) / 60
    highest = []
    for _ in range(600):
        total = np.full(86_400, 400.0)
        for watts, units, duty, cycle, first, last in (
            (1200.0, 1, 0.05, 20.0, 0, 1440),
            (700.0, 3, 0.08, 35.0, 0, 1440),
            (900.0, 1, 0.1, 10.0, 607, 700),
        ):
            for phase in dice.random(units):
                total += watts * (((at / cycle + phase) % 1 < duty) & (first <= at) & (at < last))
        highest.append(total.max())
    # Two percentiles of finite draws: within what 200 days can tell.
    low, high = (np.quantile(highest, share, method="inverted_cdf") for share in (0.92, 0.98))
    assert low <= found <= high and found > 3000
    assert np.mean(coincidence(derive(job), "SHOW").all_feeds.mean_w) == pytest.approx(
        400 + 60 + 168 + 90 * 93 / 1440, rel=0.06
    )
    assert found <= derive(job).brief.days["SHOW"].peak_ac_w.value


@pytest.mark.parametrize("units", [1, 3, 12])
def test_the_highest_of_a_drawn_day_is_exact(units):
    """Against every instant between two switchings, from the stretches of each unit."""
    one = Switching("X", 100.0, units, 0.13, 17.0, ((95, 430, 0.5), (430, 1100, 1.0)))
    found = highest_powers("test", [(300, 301, 250.0)], [one])
    for day, own in list(enumerate(phases("test", "X", units)))[:12]:
        spans = [
            (a, b, 50.0) for phase in own for a, b in on_stretches(95, 430, phase=phase, duty=0.13, cycle_min=17.0)
        ]
        spans += [
            (a, b, 100.0) for phase in own for a, b in on_stretches(430, 1100, phase=phase, duty=0.13, cycle_min=17.0)
        ] + [(300, 301, 250.0)]
        edges = sorted({edge for a, b, _ in spans for edge in (a, b)})
        worst = max(
            sum(w for a, b, w in spans if a <= middle < b)
            for middle in ((a + b) / 2 for a, b in itertools.pairwise(edges) if b - a > 1e-5)
        )
        assert found[day] == pytest.approx(worst)


@pytest.mark.parametrize("name", demos.names())
def test_mean_stays_under_honest_and_honest_under_everything_at_once(name):
    design = derive(jobs.plain(name))
    for kind in design.brief.days:
        found, profile = coincidence(design, kind).all_feeds, design.brief.profile(kind)
        worst = [0.0] * 288
        for start, end, powers in zip(
            profile.running_w.times_min,
            profile.running_w.times_min[1:],
            zip(*profile.running_w.values, strict=True),
            strict=False,
        ):
            for step in range(start // 5, -(-end // 5)):
                worst[step] = max(worst[step], sum(powers))
        assert all(p95 <= top + 0.5 for p95, top in zip(found.p95_w, worst, strict=True))
        peak = honest_peak(design, kind).value
        assert peak <= design.brief.days[kind].peak_ac_w.value + 0.5


def test_a_draw_is_repeatable_by_its_name(library):
    one, again = coincidence(derive(library), "VILLAGE"), coincidence(derive(jobs.plain("library-bus")), "VILLAGE")
    assert one.all_feeds == again.all_feeds
    other = coincidence(derive(set_value("draw", "second draw", "").apply(library)), "VILLAGE")
    assert other.all_feeds != one.all_feeds
    # The first phases of this draw, bit for bit on any machine (Mersenne Twister of the standard library).
    assert phases("first draw", "LD1", 1)[0][0] == phases("first draw", "LD1", 1, 5)[0][0]
    assert [round(day[0], 6) for day in phases("first draw", "LD1", 1, 2)] == PINNED
    with pytest.raises(ValueError, match="cannot be drawn"):
        phases("x", "y", 0)


PINNED = [0.044034, 0.838301]


@settings(max_examples=40)
@given(st.lists(st.tuples(st.integers(0, 1439), st.integers(1, 90), st.sampled_from([0.25, 0.5, 1.0])), max_size=25))
def test_steady_loads_stand_in_every_five_minutes_they_touch(puppet, strokes):
    """Against a minute-by-minute brush: a step shows the highest minute in it, however short, and the days do not
    differ.
    """
    job = replace(puppet, loads=(load("A", 800.0, spans=()), load("B", 100.0)))
    brush = np.zeros(1440)
    for start, length, level in strokes:
        end = min(1440, start + length)
        job = paint(job.loads[0], "SHOW", start, end, level).apply(job)
        brush[start:end] = 800.0 * level
    found = coincidence(derive(job), "SHOW").all_feeds
    expected = brush.reshape(288, 5).max(axis=1) + 100.0
    assert found.p95_w == pytest.approx(expected) and found.mean_w == pytest.approx(expected)
    assert honest_peak(derive(job), "SHOW").value == pytest.approx(brush.max() + 100.0)


@given(st.integers(0, 1430), st.integers(1, 600), st.floats(0, 0.999), st.floats(0.01, 1), st.floats(1, 300))
def test_on_stretches_are_where_the_unit_is_on(start, length, phase, duty, cycle):
    end = min(1440, start + length)
    stretches = list(on_stretches(start, end, phase=phase, duty=duty, cycle_min=cycle))
    assert all(start <= a < b <= end for a, b in stretches)
    assert all(b <= c + 1e-6 for (_, b), (c, _) in itertools.pairwise(stretches))
    for a, b in stretches:
        assert duty >= 1 or is_on((a + b) / 2, phase=phase, duty=duty, cycle_min=cycle)
    for (_, b), (c, _) in itertools.pairwise(stretches):
        if c - b > 1e-3:
            assert not is_on((b + c) / 2, phase=phase, duty=duty, cycle_min=cycle)


@pytest.mark.parametrize("count", [1, 2, 19, 20, 21, 100, 200])
def test_nearest_rank(count):
    assert rank95(count) == math.ceil(0.95 * count) - 1 or count == 1
    assert np.arange(count)[rank95(count)] == np.quantile(np.arange(count), 0.95, method="inverted_cdf")


# ---- running together ----------------------------------------------------------------------------------------

POINTS = ((1.1, 1800.0), (1.3, 60.0), (2.0, 5.0))


@given(st.floats(1.0001, 3.0), st.floats(1.0001, 3.0))
def test_more_overload_never_holds_longer(one, other):
    low, high = sorted((one, other))
    assert seconds_to_trip(low, POINTS) >= seconds_to_trip(high, POINTS)


def test_overload_by_hand():
    assert seconds_to_trip(1.0, POINTS) == math.inf
    assert [seconds_to_trip(x, POINTS) for x, _ in POINTS] == pytest.approx([t for _, t in POINTS])
    # One point of 2 times for 5 s: (x2 - 1) t = 15, so sqrt(2) holds 15 s and 1.05 holds 15 / 0.1025.
    assert seconds_to_trip(math.sqrt(2), ((2.0, 5.0),)) == pytest.approx(15)
    assert seconds_to_trip(1.05, ((2.0, 5.0),)) == pytest.approx(15 / 0.1025)
    assert seconds_to_trip(2.01, POINTS) == 0
    # Half way in log(x2 - 1) between the first two points is the geometric mean of their times.
    middle = math.sqrt(1 + math.sqrt(0.21 * 0.69))
    assert seconds_to_trip(middle, POINTS) == pytest.approx(math.sqrt(1800 * 60))
    for wrong in ((), ((0.9, 5.0),), ((2.0, 5.0), (1.5, 9.0)), ((1.5, 5.0), (2.0, 9.0))):
        with pytest.raises(ValueError, match="overload points"):
            seconds_to_trip(1.5, wrong)


def test_running_together_by_hand(puppet):
    """Kettle and friends on one 3 kVA inverter in a bay at 35 degC: 2700 VA for ever, 6000 VA for 5 s."""
    job = replace(
        puppet,
        loads=(
            load("KETTLE", 2000.0),
            load("OVEN", 1500.0),
            load("PUMP", 500.0, start_multiple=5.0),
            load("LAMP", 100.0, "DC_24"),
        ),
    )
    design = derive(job)
    pair = run_together(design, ("KETTLE", "OVEN"))
    x = 3500 / 2700
    assert pair.first is not None and pair.first.what == "AC inverters"
    assert pair.first.seconds.value == pytest.approx(5 * (2.0**2 - 1) / (x**2 - 1))
    alone = run_together(design, ("KETTLE",))
    curve = design.brief.curve
    bank_w = 2000 + curve.loss_w(2000)
    assert alone.first is None
    assert alone.lasts_h.value == pytest.approx(design.bank.usable_energy_wh.value / bank_w)
    v, r = 24.0, design.bank.resistance_ohm.value
    amps = alone.bank_a.value
    assert amps * (v - r * amps) == pytest.approx(bank_w), "volts left at the terminals times amperes is the power"
    start = run_together(design, ("KETTLE", "PUMP")).worst_start
    assert start.value == pytest.approx((2500 + 500 * 4) / 6000)
    dc = run_together(design, ("LAMP",))
    assert dc.running_w.value == 100, "24 V loads on a 24 V bank need no converter"
    source = {one.tag: one for one in pair.sources}["P10"]
    assert source.gives_w.value == 2300 and source.bank_adds_w.value == pytest.approx(1200 + curve.loss_w(1200))
    assert source.inverters_hold.value == math.inf, "1200 W to add is well within 2700 VA"
    generous = {one.tag: one for one in run_together(design, ("OVEN", "LAMP")).sources}["P16"]
    assert generous.bank_adds_w.value == pytest.approx(0) and generous.gives_w.value == pytest.approx(
        1500 + 100 / 0.94
    ), "DC by way of the charger"
    weak = {one.tag: one for one in run_together(design, ("KETTLE", "OVEN", "PUMP")).sources}["GEN1"]
    x = (4000 - 3.7 * 230) / 2700
    assert weak.inverters_hold.value == pytest.approx(5 * 3 / (x**2 - 1))
    assert run_together(design, ()).lasts_h.value == pytest.approx(design.bank.usable_energy_wh.value / 16), (
        "only idling"
    )


def test_what_gives_way_first_is_the_soonest(clinic):
    everything = tuple(one.tag for one in clinic.loads)
    result = run_together(derive(clinic), everything)
    times = [one.seconds.value for one in result.limits]
    assert times == sorted(times) and result.first is result.limits[0]
    weak = set_value("bank.spec.peak_a", 30.0, "").apply(set_value("bank.spec.discharge_a", 20.0, "").apply(clinic))
    assert run_together(derive(weak), everything).first.what == "packs' BMS"
    assert run_together(derive(weak), everything).first.seconds.value == 0
    limp = set_value("bank.spec.resistance_ohm", 5.0, "").apply(clinic)
    assert run_together(derive(limp), everything).bank_a.value == math.inf
    phase = run_together(derive(set_stacking("legs_in_phase").apply(clinic)), everything)
    assert phase.dead == ("LD3",)
    neutral = next(one for one in phase.limits if one.what == "neutral")
    assert neutral.asked.value > next(one for one in result.limits if one.what == "neutral").asked.value
    assert all(len(one.dead) == (0 if one.tag == "P50" else 1) for one in result.sources)
    adapter = next(one for one in result.sources if one.tag == "P30")
    alive = [one for one in clinic.loads if one.tag != "LD3"]
    ac_w = sum(one.running_w * one.count for one in alive if one.supply not in DC_VOLTS)
    dc_w = (
        sum(one.running_w * one.count for one in alive if one.supply in DC_VOLTS) / clinic.wiring.converter_efficiency
    )
    # One line of 24 A at 120 V, shared by both legs as they ask: 2880 VA at the loads' own power factor.
    feeds = derive(clinic).brief.feeds
    on = {
        leg: sum(complex_power(one.running_w * one.count, one.power_factor) for one in alive if feeds[one.tag] == leg)
        for leg in ("L1", "L2")
    }
    part = 1 - 2880 / sum(map(abs, on.values()))
    assert adapter.gives_w.value == pytest.approx(ac_w * (1 - part))
    curve, lack = derive(clinic).brief.curve, ac_w * part
    loss = sum(curve.loss_w(abs(va) * part) for va in on.values())
    assert adapter.bank_adds_w.value == pytest.approx(lack + loss + dc_w), "both legs share the one line in proportion"


SUBSETS = st.lists(st.integers(0, 30), max_size=14, unique=True)


@pytest.mark.parametrize("name", ["library-bus", "puppet-theatre"])
@given(SUBSETS, SUBSETS)
def test_more_loads_together_never_ask_less_or_last_longer(name, some, more):
    """Adding appliances never lowers a leg, the bank's current or the worst start, and nothing that gives way gives way
    later.

    The neutral is left out: there a load on the other leg takes current away.
    """
    design = derive(jobs.plain(name))
    named = [one.tag for one in design.job.loads]
    few = tuple(named[index] for index in some if index < len(named))
    many = few + tuple(named[index] for index in more if index < len(named) and named[index] not in few)
    one, other = run_together(design, few), run_together(design, many)
    assert one.running_w.value <= other.running_w.value and one.bank_a.value <= other.bank_a.value * (1 + 1e-12)
    assert all(a.value <= b.value * (1 + 1e-12) for a, b in zip(one.legs_va, other.legs_va, strict=True))
    assert one.lasts_h.value >= other.lasts_h.value * (
        1 - 1e-12
    ) and one.worst_start.value <= other.worst_start.value * (1 + 1e-12)
    before, after = (
        {limit.what: limit.seconds.value for limit in found.limits if limit.what != "neutral"} for found in (one, other)
    )
    assert before.keys() == after.keys() and all(
        after[what] <= seconds * (1 + 1e-9) for what, seconds in before.items()
    )


@pytest.mark.parametrize("name", ["library-bus"])
@given(SUBSETS)
def test_legs_and_sources_balance_by_complex_numbers(name, some):
    """Every leg by numpy's complex sums; at every source what comes from the line and from the bank is what goes in,
    losses included.
    """
    design = derive(jobs.plain(name))
    job, feeds = design.job, design.brief.feeds
    ticked = [job.loads[index] for index in some if index < len(job.loads)]
    found = run_together(design, tuple(one.tag for one in ticked))
    va = {
        one.tag: one.running_w * one.count * (1 + 1j * math.tan(math.acos(one.power_factor)))
        for one in ticked
        if one.supply not in DC_VOLTS and one.tag not in found.dead
    }
    for leg, figure in zip(design.inverters.legs, found.legs_va, strict=True):
        own = np.sum(
            [
                power * (0.5 if feeds[tag] == "L1+L2" else 1)
                for tag, power in va.items()
                if feeds[tag] in (leg.tag, "L1+L2")
            ]
        )
        assert figure.value == pytest.approx(abs(own), abs=1e-6)
    dc_w = found.running_w.value - sum(power.real for power in va.values())
    assert dc_w >= sum(one.running_w * one.count for one in ticked if one.supply in DC_VOLTS) - 1e-6
    for source, row in zip(found.sources, design.sources, strict=True):
        assert -1e-9 <= source.gives_w.value <= row.continuous_w.value * (1 + 1e-9)
        fed = dc_w + sum(power.real for tag, power in va.items() if tag not in source.dead)
        in_w = source.gives_w.value + source.bank_adds_w.value
        assert (
            fed - 1e-6
            <= in_w
            <= fed / job.inverters.spec.full_load_efficiency * 1.15
            + 2 * len(job.inverters.units) * job.inverters.spec.no_load_w
        )


def test_typed_points_hold_before_the_surge_alone_would(clinic):
    typed = set_value("inverters.spec.overload", (OverloadPoint(1.1, 1800.0), OverloadPoint(1.3, 60.0)), "").apply(
        clinic
    )
    assert problems(typed) == []
    assert overload_points(derive(typed)) == ((1.1, 1800.0), (1.3, 60.0), (1.8, 5.0))
    assert overload_points(derive(clinic)) == ((1.8, 5.0),)
    wrong = set_value("inverters.spec.overload", (OverloadPoint(1.3, 60.0), OverloadPoint(1.1, 1800.0)), "").apply(
        clinic
    )
    assert "rise in load" in problems(wrong)[0].message


def test_what_is_painted_in_a_minute(clinic):
    design = derive(clinic)
    day = design.brief.days["CLINIC"]
    rows = running_at(design.brief.profile("CLINIC"), day.peak_at_min)
    assert sum(power for row, power in rows if row.channel < 4) == pytest.approx(day.peak_ac_w.value)
    assert [power for _, power in rows] == sorted((power for _, power in rows), reverse=True)


# ---- days and stays ------------------------------------------------------------------------------------------


@pytest.mark.parametrize("day", [1, 31, 32, 59, 60, 181, 182, 365])
def test_dates_against_the_calendar(day):
    """Against datetime in a year of 365 days."""
    date = datetime.date(2026, 1, 1) + datetime.timedelta(days=day - 1)
    assert seasons.date_words(day) == f"{date.day} {date:%b}"
    for text in (seasons.date_words(day), f"{date:%b} {date.day}", f"{date:%m-%d}", f"{date.day}. {date:%B}"):
        assert seasons.day_of(text) == day
    north = (
        "winter",
        "winter",
        "spring",
        "spring",
        "spring",
        "summer",
        "summer",
        "summer",
        "autumn",
        "autumn",
        "autumn",
        "winter",
    )[date.month - 1]
    south = {"winter": "summer", "spring": "autumn", "summer": "winter", "autumn": "spring"}[north]
    assert (seasons.season_of(day, 50.0), seasons.season_of(day, -33.0)) == (north, south)


@pytest.mark.parametrize("text", ["", "31 Feb", "0 Jan", "Smarch 3", "13-01", "12", "1 J"])
def test_what_is_no_date_is_refused(text):
    with pytest.raises(ValueError, match="try 14 Jan"):
        seasons.day_of(text)


def test_the_year_by_hand(library):
    year = derive(library).itinerary
    assert year.planned_days.value == sum(stay.days for stay in library.stays)
    assert year.off_grid_days.value == 40 + 45 + 2 + 60 + 70 + 60 + 2, "stays without a source, storage left out"
    assert year.longest_off_grid_days.value == 45 + 2 + 60
    assert year.driven_h.value == pytest.approx(40 + 67.5 + 12 + 30 + 70 + 60 + 10 + 17.5)
    for stay, result in zip(library.stays, year.stays, strict=True):
        days = seasons.season_days(stay)
        brief = derive(library).brief
        assert sum(days.values()) == stay.days
        assert result.energy_wh.value == pytest.approx(
            sum(n * brief.profile(stay.day_kind, season).bank_wh for season, n in days.items())
        )


@given(
    st.lists(
        st.tuples(
            st.integers(0, 20),
            st.integers(1, 40),
            st.sampled_from(["VILLAGE", "DEPOT", "STORED"]),
            st.booleans(),
            st.booleans(),
        ),
        max_size=9,
    )
)
def test_the_year_against_a_calendar_day_by_day(library_bus, laid):
    """Random years, counted by walking through pandas' calendar of an ordinary year: days, runs without hook-up, energy
    by meteorological season.
    """
    stays, first = [], 1
    for index, (gap, days, kind, plugged, south) in enumerate(laid):
        first += gap
        if first + days > 366:
            break
        stays.append(
            Stay(
                tag=f"ST{index}",
                place=f"Quay {index}",
                latitude_deg=-41.0 if south else 52.0,
                longitude_deg=0.0,
                height_m=0.0,
                first_day=first,
                days=days,
                day_kind=kind,
                source=library_bus.inverters.sources[0].tag if plugged else "",
            )
        )
        first += days
    job = replace(library_bus, stays=tuple(stays))
    assert problems(job) == []
    design = derive(job)
    days_of = pd.date_range("2025-01-01", "2025-12-31")
    north = {
        12: "winter",
        1: "winter",
        2: "winter",
        3: "spring",
        4: "spring",
        5: "spring",
        6: "summer",
        7: "summer",
        8: "summer",
    }
    opposite = {"winter": "summer", "summer": "winter", "spring": "autumn", "autumn": "spring"}
    at = {day: stay for stay in stays for day in range(stay.first_day, stay.first_day + stay.days)}
    out, energy = [], 0.0
    for number, date in enumerate(days_of, 1):
        stay = at.get(number)
        out.append(stay is not None and not stay.source and stay.day_kind != "STORED")
        if stay:
            season = north.get(date.month, "autumn")
            energy += design.brief.profile(stay.day_kind, season if stay.latitude_deg > 0 else opposite[season]).bank_wh
    year = design.itinerary
    assert year.planned_days.value == len(at) and year.off_grid_days.value == sum(out)
    assert year.longest_off_grid_days.value == max(
        (len(list(group)) for away, group in itertools.groupby(out) if away), default=0
    )
    assert year.energy_wh.value == pytest.approx(energy)


@given(st.lists(st.tuples(st.integers(-50, 420), st.integers(1, 400)), min_size=1, max_size=12))
def test_stays_never_overlap_however_they_are_dragged(moves):
    job = jobs.plain("puppet-theatre")
    for index in range(4):
        first, days = free_stretch(job.stays, 30)
        job = add_stay(
            Stay(
                tag=f"ST{index}",
                place="Yard",
                latitude_deg=50,
                longitude_deg=1,
                height_m=1,
                first_day=first,
                days=days,
                day_kind="SHOW",
            )
        ).apply(job)
    for index, (first, days) in enumerate(moves):
        job = place_stay(f"ST{index % 4}", first, days).apply(job)
        assert problems(job) == []


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"day_kind": "NONE"}, "no day kind"),
        ({"source": "P99"}, "no source"),
        ({"first_day": 360, "days": 10}, "past the end of the year"),
        ({"tag": "ST2", "first_day": 5}, "overlap"),
    ],
)
def test_impossible_stays_are_refused(puppet, change, words):
    first = Stay(
        tag="ST1", place="Yard", latitude_deg=50, longitude_deg=1, height_m=1, first_day=1, days=8, day_kind="SHOW"
    )
    wrong = replace(first, **change)
    job = replace(puppet, stays=(wrong,) if wrong.tag == "ST1" else (first, wrong))
    assert any(words in problem.message for problem in problems(job))


def test_days_are_copied_mirrored_and_taken_away(library):
    village, depot = library.day_kinds[0], library.day_kinds[2]
    copied = copy_day(village, depot).apply(library)
    assert all(one.patterns.get("DEPOT", ()) == one.patterns.get("VILLAGE", ()) for one in copied.loads)
    single = copy_day(village, depot, ("LD1",)).apply(library)
    assert (
        single.loads[0].patterns["DEPOT"] == library.loads[0].patterns["VILLAGE"]
        and single.loads[1:] == library.loads[1:]
    )
    pattern = library.loads[16].patterns["VILLAGE"]
    assert mirrored(mirrored(pattern)) == pattern and mirrored(pattern)[0] == Span(1440 - 915, 1440 - 900, 1.0)
    fewer = remove_day_kind(village).apply(library)
    assert problems(fewer) == [] and {stay.day_kind for stay in fewer.stays} == {"ROUND", "DEPOT", "STORED"}
    assert problems(remove_day_kind(fewer.day_kinds[0]).apply(replace(fewer, day_kinds=fewer.day_kinds[:1]))), (
        "a job keeps one kind of day"
    )


def test_loads_taken_in_replace_by_tag(puppet):
    fresh = (replace(puppet.loads[2], running_w=77.0), load("NEW1", 5.0))
    job = take_loads(fresh, "x").apply(puppet)
    assert [one.tag for one in job.loads] == [one.tag for one in puppet.loads] + ["NEW1"] and job.loads[
        2
    ].running_w == 77


def test_bad_values_never_reach_the_job(puppet):
    for path, value in (
        ("running_w", -1.0),
        ("duty", 1.2),
        ("duty", 0.0),
        ("cycle_min", 0.0),
        ("supply", "L9"),
        ("patterns", {"SHOW": (Span(10, 1500, 1.0),)}),
        ("patterns", {"SHOW": (Span(60, 30, 1.0),)}),
        ("seasons", Seasons(winter=2.0)),
        ("start_s", -1.0),
        ("count", 0),
        ("power_factor", 0.0),
    ):
        assert problems(set_value(f"loads[LD1].{path}", value, "").apply(puppet)), path
    assert puppet.loads[0].seasons == ALL_YEAR


# ---- equipment on board --------------------------------------------------------------------------------------


def test_consolidation_says_what_feeds_what_afterwards(library, clinic):
    feeds = {feed.consumer: feed for feed in derive(library).equipment.feeds}
    assert set(feeds) == {"12 V house loads", "24 V house loads", "AC circuits of the old inverter", "Starting battery"}
    assert "48 to 12 V" in feeds["12 V house loads"].through and feeds["Starting battery"].source.startswith(
        "alternator"
    )
    assert set(feeds["24 V house loads"].tags) == {"EX3", "EX15"}
    assert derive(library).equipment.house_volts == (12, 24)
    assert derive(clinic).equipment.feeds == ()


@settings(max_examples=30)
@given(
    st.lists(
        st.sampled_from(["keep", "remove", "replace", "isolate", "reprogram", "undecided"]), min_size=30, max_size=30
    )
)
def test_what_leaves_is_no_longer_found_fault_with(library_bus, decisions):
    """Whatever is decided, the audit names only what stays connected, and never grows when one more piece leaves."""
    job = library_bus
    for one, decision in zip(job.existing, decisions, strict=False):
        job = set_value(f"existing[{one.tag}].disposition", decision, "").apply(job)
    assert problems(job) == []
    leaving = {one.tag for one in job.existing if one.disposition in ("remove", "replace", "isolate")}
    stops = [
        one
        for one in judge(derive(job))
        if one.rule.severity == "stop" and any(tag.startswith("EX") for tag in one.tags)
    ]
    assert not [one.sentence() for one in stops if set(one.tags) <= leaving]
    for tag in sorted({tag for one in stops for tag in one.tags if tag.startswith("EX")} - leaving)[:2]:
        gone = set_value(f"existing[{tag}].disposition", "remove", "").apply(job)
        assert not [one for one in judge(derive(gone)) if one.rule.severity == "stop" and one.tags == (tag,)]


def test_one_press_after_another_settles_what_can_be_settled(library):
    """Remedies alone bring every finding about equipment down to what only hands can do."""
    job = library
    for _ in range(40):
        edits = [
            one.remedy for one in judge(derive(job)) if one.remedy and any(tag.startswith("EX") for tag in one.tags)
        ]
        if not edits:
            break
        job = edits[0].apply(job)
        assert problems(job) == []
    left = {one.rule.id for one in judge(derive(job)) if any(tag.startswith("EX") for tag in one.tags)}
    assert left == {"brief.unprotected-cable", "brief.mixed-banks", "brief.undecided"}
