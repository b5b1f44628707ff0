"""The chart of fuses, driven as the desk does it."""

from __future__ import annotations

import pytest

from tests.desk.driving import leaf
from weighty_axle.job.edits.edit import set_value


@pytest.mark.parametrize("tag", ["W-MAIN", "W-INV2", "DK4", "W-CC1"])
def test_a_way_that_is_selected_anywhere_is_charted_with_the_fuse_above(open_window, tag):
    window = open_window("demo:library-bus")
    part = leaf(window, "wiring", "Protection")
    window.session.select(tag)
    part.chart.grab()
    one = next(guard for guard in window.session.shown.design.guards.guards if guard.tag == tag)
    assert part.chart.tag == tag
    shorts = {figure.name for _, figure in part.chart.figures}
    assert one.far_a.name in shorts and (one.near_a is None or one.near_a.name in shorts)
    assert (part.chart.start(one) is not None) == (tag == "W-INV2" or (tag == "DK4" and one.tag in _starting(window)))


def _starting(window):
    ways = window.session.shown.design.direct.circuits
    return {way.tag for way in ways if way.start_a.value > way.current_a.value}


def test_a_surge_longer_than_the_fuse_stands_is_told_and_drawn(open_window):
    window = open_window("demo:puppet-theatre")
    part = leaf(window, "wiring", "Protection")
    window.session.select("W-INV1")
    assert window.session.apply(set_value("wiring.branch_fuse", "bolt_strip_32", "")) is None
    assert window.session.apply(set_value("inverters.spec.surge_s", 400.0, "")) is None
    assert "wiring.surge-opens" in {one.rule.id for one in window.session.shown.findings}
    part.chart.grab()
