"""A bad joint: by hand, and against the design it starts from."""

from __future__ import annotations

import pytest

from weighty_axle.answers.wiring.joint import bad_joint
from weighty_axle.demos import demo
from weighty_axle.design.derive import derive


@pytest.mark.parametrize("tag", ["W-MAIN", "W-INV1", "W-CC1", "DK4"])
def test_no_more_resistance_changes_nothing_and_two_milliohms_are_as_by_hand(tag):
    design = derive(demo("library-bus"))
    for state in design.flow.states:
        if tag not in state.ways:
            continue
        same = bad_joint(design, state, tag, 0.0)
        assert all(at.end_v == pytest.approx(state.ways[one].end_v, abs=2e-3) for one, at in same.ways.items())
        bad = bad_joint(design, state, tag, 0.002)
        amps = abs(bad.ways[tag].amps)
        assert bad.heat_w.value == pytest.approx(amps**2 * 0.002)
        assert not bad.collapsed and amps >= abs(state.ways[tag].amps) - 1e-6
        lost = (state.ways[tag].end_v - bad.ways[tag].end_v) * (1 if state.ways[tag].amps >= 0 else -1)
        assert lost >= bad.lost_v.value * 0.9 - 1e-3


def test_a_joint_bad_enough_brings_everything_down(puppet):
    design = derive(puppet)
    assert bad_joint(design, design.flow.states[0], "W-INV1", 0.05).collapsed
    assert bad_joint(design, design.flow.states[0], "W-NONE", 0.05) is None
