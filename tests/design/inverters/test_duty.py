from __future__ import annotations

import itertools
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from tests.building import ALIKE, APART, TWO_PEAKS, coach, load, told, two_positions, v, words
from weighty_axle.design.derive import derive
from weighty_axle.job.checks.whole import problems
from weighty_axle.job.edits.inverters import set_stacking
from weighty_axle.job.models.brief import Span
from weighty_axle.job.models.inverters import Panel


def test_the_neutral_has_a_worst_minute_of_its_own(clinic):
    """By hand: at 8 h L1 carries 33.3 A and so does the neutral; at 12 h two legs in phase put 2 x 32.5 = 65 A in
    it.
    """
    job = v(coach(clinic, TWO_PEAKS, stacking="legs_in_phase"), "inverters.neutral_a", 50.0)
    currents = derive(job).inverters.currents
    assert currents.lines_a[0].value == pytest.approx(4000 / 120) and "08:00" in currents.lines_a[0].limit
    assert currents.neutral_a.value == pytest.approx(65.0) and "12:00" in currents.neutral_a.limit
    (finding,) = told(job, "inverters.neutral-over")
    assert finding.rule.severity == "stop" and "65 A" in words(finding) and "12:00" in words(finding)
    # 180° apart the same day loads the neutral at 8 h only, and that is sound.
    apart = v(coach(clinic, TWO_PEAKS), "inverters.neutral_a", 50.0)
    assert derive(apart).inverters.currents.neutral_a.value == pytest.approx(4000 / 120) and not told(
        apart, "inverters.neutral-over"
    )


def test_an_adapter_that_feeds_both_legs_alike_is_a_state_of_its_own(clinic):
    """Split-phase units on an in-phase adapter, by hand: 4,380 W a leg are 36.5 A a line and 73 A in a neutral of 50 A
    and a feeder of 6 AWG.
    """
    loads = (load("LDA", "L1", 4380, (9, 17)), load("LDB", "L2", 4380, (9, 17)))
    panels = (Panel(tag="MAIN", name="Main panel", size="6 AWG", breaker_a=50.0),)
    job = coach(clinic, loads, sources=(APART, ALIKE), panels=panels)
    (neutral,), (feeder,) = told(job, "inverters.neutral-over"), told(job, "inverters.feeder-neutral-over")
    for one in (neutral, feeder):
        assert "73 A" in words(one) and "30 A adapter" in words(one) and one.rule.severity == "stop"
    design = derive(job)
    assert design.inverters.currents.neutral_split_a.value == pytest.approx(0) and design.panels.panels[
        0
    ].feeder_a.value == pytest.approx(36.5)
    assert not told(coach(clinic, loads, sources=(APART,), panels=panels), "inverters.neutral-over"), (
        "without the adapter nothing is wrong"
    )


def test_the_other_position_of_a_selector_is_judged_before_anyone_turns_to_it(clinic):
    """Set in phase, a 240 V oven is dead; turned to split-phase it loads both legs beyond their inverters, and the
    neutral is over only the other way.
    """
    oven, lamps = (
        load("LDO", "L1+L2", 9600, (9, 10)),
        (load("LDA", "L1", 3500, (20, 22)), load("LDB", "L2", 3500, (20, 22))),
    )
    job = coach(
        clinic,
        (oven, *lamps),
        stacking="legs_in_phase",
        sources=(APART,),
        selectors=(two_positions(now="Alike"),),
        feed="SEL1",
    )
    assert derive(job).inverters.legs[0].worst_va.value == pytest.approx(3500), "as it is set the oven gets nothing"
    over_ = told(job, "brief.load-over-inverters")
    assert {one.values["leg"] for one in over_} == {"L1", "L2"} and all(
        "SEL1 at" in words(one) and "4.80 kVA" in words(one) for one in over_
    )
    other = v(set_stacking("split_phase").apply(job), "ac.selectors[SEL1].now", "Apart")
    (neutral,) = told(other, "inverters.neutral-over")
    assert "SEL1 at Alike" in words(neutral) and "58.3 A" in words(neutral)


def test_a_feeder_ahead_of_a_selector_carries_what_is_behind_it(clinic):
    """A sub-panel that feeds the inverters through a selector: loads and chargers up to the source's limit, 40 A a
    line, not 0 A.
    """
    selector = replace(
        two_positions(),
        positions=tuple(
            replace(one, contacts=tuple(replace(c, start=c.start.replace("IN1", "SUB")) for c in one.contacts))
            for one in two_positions().positions
        ),
    )
    panels = (Panel(tag="SUB", name="Sub panel", fed_from="IN1"), Panel(tag="MAIN", name="Main panel"))
    job = coach(
        clinic, (load("LDA", "L1", 3000, (9, 17)),), sources=(APART,), panels=panels, selectors=(selector,), feed="SEL1"
    )
    assert problems(job) == []
    board = next(one for one in derive(job).panels.panels if one.tag == "SUB")
    assert board.feeder_a.value == pytest.approx(40.0) and "50 A pedestal" in board.feeder_a.limit
    assert told(v(job, "ac.panels[SUB].breaker_a", 30.0), "inverters.feeder-over")


DAYS = st.lists(
    st.tuples(
        st.sampled_from(["L1", "L2", "L1+L2"]),
        st.integers(50, 4000),
        st.floats(0.5, 1.0),
        st.integers(0, 22),
        st.integers(1, 12),
    ),
    min_size=1,
    max_size=7,
)


@given(DAYS, st.sampled_from(["split_phase", "legs_in_phase"]), st.booleans())
def test_every_current_against_a_scan_of_all_minutes_and_states(clinic, day, stacking, adapter):
    """Brute force: every half hour, legs as the inverters are set and as an adapter feeds them, by the law of cosines
    instead of phasors.
    """
    loads = tuple(
        load(f"LD{at}", leg, watts, (start, min(24, start + hours)), power_factor=factor)
        for at, (leg, watts, factor, start, hours) in enumerate(day)
    )
    job = coach(clinic, loads, stacking=stacking, sources=(ALIKE,) if adapter else ())
    design = derive(job)
    settings = {stacking == "split_phase"} | ({False} if adapter else set())
    neutral, line, pulse, feeder = 0.0, 0.0, 0.0, 0.0
    for half, apart in itertools.product(range(48), settings):
        p, q = {"L1": 0.0, "L2": 0.0, "L1+L2": 0.0}, {"L1": 0.0, "L2": 0.0, "L1+L2": 0.0}
        for leg, watts, factor, start, hours in day:
            if start * 2 <= half < min(24, start + hours) * 2:
                p[leg] += watts
                q[leg] += watts * math.tan(math.acos(factor))
        size = {leg: math.hypot(p[leg], q[leg]) for leg in p}
        angle = {leg: math.atan2(q[leg], p[leg]) for leg in p}
        sign = -1 if apart else 1
        squared = (
            size["L1"] ** 2 + size["L2"] ** 2 + sign * 2 * size["L1"] * size["L2"] * math.cos(angle["L1"] - angle["L2"])
        )
        neutral = max(neutral, math.sqrt(max(0.0, squared)) / 120)
        shared = ("L1+L2",) if apart else ()
        for leg in ("L1", "L2"):
            line = max(
                line, math.hypot(p[leg] + sum(p[x] / 2 for x in shared), q[leg] + sum(q[x] / 2 for x in shared)) / 120
            )
        if apart == (stacking == "split_phase"):
            pulse = max(
                pulse,
                math.hypot(
                    p["L1"] + p["L2"] + sum(p[x] for x in shared), q["L1"] + q["L2"] + sum(q[x] for x in shared)
                ),
            )
        feeder = max(feeder, line)
    currents, board = design.inverters.currents, design.panels.panels[0]
    assert (
        currents.neutral_a.value == pytest.approx(neutral, abs=1e-6) == pytest.approx(board.neutral_a.value, abs=1e-6)
    )
    assert max(one.value for one in currents.lines_a) == pytest.approx(line) == pytest.approx(board.feeder_a.value)
    assert design.inverters.pulsating_va.value == pytest.approx(pulse, abs=1e-6)
    assert (
        design.inverters.effective_va.value
        <= math.hypot(design.inverters.active_w.value, design.inverters.pulsating_va.value / math.sqrt(2)) + 1e-6
    )


def test_days_hooked_up_are_carried_by_the_socket_not_the_inverters(clinic):
    """Good work: 5.5 kW on a leg while hooked up at 50 A; the inverters of 4.5 kVA add what is beyond 40 A at most.

    Off the hook-up it is a Stop.
    """
    hooked = replace(load("LDA", "L1", 5500, (9, 10)), patterns={"HOOKED": (Span(540, 600, 1.0),)})
    job = coach(clinic, (hooked,), sources=(APART,))
    assert not [one for one in told(job) if one.rule.severity == "stop" and one.rule.step in ("brief", "inverters")]
    assert derive(job).sources[0].bank_adds_va["L1"].value == pytest.approx(5500 - 4800)
    assert told(v(job, "loads[LDA].patterns", {"CLINIC": (Span(540, 600, 1.0),)}), "brief.load-over-inverters")
