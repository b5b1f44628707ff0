from __future__ import annotations

import random

import numpy as np
import pytest

from tests.building import changed, minutes_of, v
from weighty_axle.answers.inverters.balance import balanced
from weighty_axle.design.derive import derive
from weighty_axle.job.edits.inverters import set_stacking


@pytest.mark.parametrize("name", ["clinic", "puppet"])
def test_highest_loads_and_starts_against_a_scan_of_every_minute(request, name):
    job = request.getfixturevalue(name)
    design = derive(job)
    for leg in design.inverters.legs:
        worst, worst_start = 0.0, 0.0
        for kind in job.day_kinds:
            if not kind.inverters_on or kind.use == "hooked_up":
                continue
            feeds = minutes_of(job, kind.tag)
            on_leg = np.abs(feeds[leg.tag] + (feeds["L1+L2"] / 2 if leg.tag != "AC" else 0))
            worst = max(worst, on_leg.max())
            for load in job.loads:
                feed = design.brief.feeds[load.tag]
                if load.start_multiple <= 1 or feed not in (leg.tag, "L1+L2"):
                    continue
                extra = load.running_w / load.power_factor * (load.start_multiple - 1) * (0.5 if feed == "L1+L2" else 1)
                for span in load.patterns.get(kind.tag, ()):
                    worst_start = max(worst_start, (on_leg[span.start_min : span.end_min] + extra).max())
        assert leg.worst_va.value == pytest.approx(worst)
        assert leg.start_va.value == pytest.approx(worst_start)
    for kind in job.day_kinds:
        feeds = minutes_of(job, kind.tag)
        total = sum(feeds[feed].real for feed in ("L1", "L2", "L1+L2", "AC"))
        assert design.brief.days[kind.tag].peak_ac_w.value == pytest.approx(
            total.max() if kind.inverters_on else 0.0, abs=1e-9
        )


def test_loads_without_a_leg_go_where_there_is_less(library_bus):
    job = library_bus
    for load in library_bus.loads:
        if load.supply in ("L1", "L2"):
            job = changed(job, **{f"loads[{load.tag}]__supply": "leg_open"})
    feeds = derive(job).brief.feeds
    on = {leg: sum(load.running_w * load.count for load in job.loads if feeds[load.tag] == leg) for leg in ("L1", "L2")}
    largest = max(load.running_w * load.count for load in job.loads)
    assert abs(on["L1"] - on["L2"]) <= largest


def test_a_single_line_carries_what_both_legs_would(clinic):
    one = derive(changed(set_stacking("parallel").apply(clinic))).inverters
    assert len(one.legs) == 1 and one.currents is None
    assert one.legs[0].continuous_va.value == pytest.approx(9000)
    both = derive(clinic).brief.days["CLINIC"].peak_ac_w.value
    assert derive(set_stacking("parallel").apply(clinic)).brief.days["CLINIC"].peak_ac_w.value == pytest.approx(both)


@pytest.mark.parametrize(("bay", "left"), [(20, 1.0), (25, 1.0), (35, 0.9), (60, 0.65), (150, 0.0)])
def test_derating_in_a_hot_bay(clinic, bay, left):
    assert derive(changed(clinic, site__bay_high_c=float(bay))).inverters.legs[0].continuous_va.value == pytest.approx(
        5000 * left
    )


def test_currents_by_kirchhoff_over_the_figures(clinic):
    """Every current's own worst minute from the brute-force powers, by another formula: |S1/V - S2/V| apart, |S1/V +
    S2/V| together.
    """
    currents = derive(clinic).inverters.currents
    apart, alike, lines, pair = 0.0, 0.0, [0.0, 0.0], 0.0
    for kind in clinic.day_kinds:
        feeds = minutes_of(clinic, kind.tag)
        s1, s2, across = feeds["L1"] / 120, feeds["L2"] / 120, feeds["L1+L2"] / 240
        worst = [np.abs(one).max() for one in (s1 - s2, s1 + s2, s1 + across, s2 + across, across)]
        alike = max(alike, worst[1])
        lines, pair = [max(a, b) for a, b in zip(lines, worst[2:4], strict=True)], max(pair, worst[4])
        if kind.use != "hooked_up":
            apart = max(apart, worst[0])
    assert [one.value for one in currents.lines_a] == pytest.approx(lines) and currents.pair_a.value == pytest.approx(
        pair
    )
    assert currents.neutral_split_a.value == pytest.approx(apart)
    assert currents.neutral_a.value == pytest.approx(alike), "an adapter feeds both legs from one line"


def test_phase_turns_the_neutral(clinic):
    split, together = derive(clinic).inverters, derive(set_stacking("legs_in_phase").apply(clinic)).inverters
    assert split.currents is not None and together.currents is not None
    assert together.currents.between_lines_v.value == 0 and split.currents.between_lines_v.value == 240
    assert together.currents.neutral_a.value > 1.9 * split.currents.neutral_split_a.value
    assert "by adapter" in split.currents.neutral_a.limit and split.currents.neutral_a.value == pytest.approx(
        together.currents.neutral_a.value
    )
    assert together.dead_across == ("LD3",)


@pytest.mark.parametrize("seed", range(10))
def test_legs_move_only_for_a_gain(clinic, seed):
    """From any legs: never worse on the worst line, the bound never above it, and a second go finds nothing to move."""
    dice = random.Random(seed)
    job = clinic
    for circuit in clinic.ac.circuits:
        if circuit.leg in ("L1", "L2"):
            job = v(job, f"ac.circuits[{circuit.tag}].leg", dice.choice(["L1", "L2"]))
    got = balanced(derive(job))
    assert got.after_va.value <= got.before_va.value + 1e-6 and got.bound_va.value <= got.after_va.value + 1e-6
    if got.edit is None:
        assert (got.after_va.value, got.neutral_after_va.value) == (got.before_va.value, got.neutral_before_va.value)
        return
    better_line, better_neutral = (
        got.after_va.value < got.before_va.value - 1e-3,
        got.neutral_after_va.value < got.neutral_before_va.value - 1e-3,
    )
    assert better_line or better_neutral
    moved = got.edit.apply(job)
    again = balanced(derive(moved))
    assert again.edit is None and again.before_va.value == pytest.approx(got.after_va.value, abs=0.1)
    assert again.neutral_before_va.value == pytest.approx(got.neutral_after_va.value, abs=0.1)
