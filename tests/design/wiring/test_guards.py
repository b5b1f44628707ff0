"""What guards every way: shorts at both ends, selectivity, ends that need a fuse."""

from __future__ import annotations

import math

import numpy as np
import pytest
from msgspec.structs import replace

from tests import plants
from tests.building import changed
from weighty_axle.demos import demo
from weighty_axle.design.derive import derive
from weighty_axle.job.models.wiring import CurvePoint, Fitted
from weighty_axle.physics.electric.fuses import opens_s
from weighty_axle.reference import hardware


def _guard(job, tag):
    return next(one for one in derive(job).guards.guards if one.tag == tag)


@pytest.mark.parametrize("name", ["eye-clinic", "puppet-theatre", "library-bus"])
def test_shorts_shrink_along_the_way_and_every_fuse_opens(name):
    design = derive(demo(name))
    for one in design.guards.guards:
        if one.near_a is None:
            continue
        assert one.far_a.value < one.near_a.value
        assert one.heat_share.value < 1 and one.opens_s.value < 5, one.tag
        if one.above:
            above = next(up for up in design.guards.guards if up.tag == one.above)
            assert one.near_a.value < above.near_a.value
    main = design.guards.guards[0]
    assert main.near_a.value == pytest.approx(design.bank.prospective_a.value, rel=1e-6)
    if design.job.wiring.board.shunt_a is not None:
        return  # a run's own figure knows nothing of the shunt on the way
    run = next(run for run in design.wiring.runs[1:])
    beside = next(one for one in design.guards.guards if one.tag == run.tag)
    assert beside.near_a.value == pytest.approx(run.prospective_a.value, rel=1e-6), "as the run itself tells it"


def test_selective_up_to_where_the_curves_meet():
    """Independent route: both curves sampled finely; the first current at which the upper one melts no later."""
    design = derive(demo("eye-clinic"))
    one = next(guard for guard in design.guards.guards if guard.tag == "W-INV1")
    above = next(guard for guard in design.guards.guards if guard.tag == one.above)
    melts = hardware.fuse_curves()[above.kind].melts
    grid = np.geomspace(one.rated_a * one.opens[0][0], one.near_a.value, 20_000)
    first = next(
        amps
        for amps in grid
        if opens_s(one.opens, rated_a=one.rated_a, current_a=amps)
        >= opens_s(melts, rated_a=above.rated_a, current_a=amps)
    )
    assert one.selective_to_a == pytest.approx(first, rel=1e-3)


def test_typed_points_stand_in_the_place_of_the_usual_curve(puppet):
    points = (CurvePoint(1.5, 60.0), CurvePoint(4.0, 0.5), CurvePoint(10.0, 0.01))
    fitted = Fitted(tag="FT1", name="As its sheet says", run="W-INV1", amps=160.0, dc_v=80.0, curve=points)
    one = _guard(replace(puppet, fitted=(fitted,)), "W-INV1")
    assert one.opens == one.melts == tuple((point.times, point.seconds) for point in points)
    assert one.rated_a == 160.0
    assert one.opens_s.value == pytest.approx(0.01 * (1600 / one.far_a.value) ** 2)


def test_a_converter_limits_what_flows_and_says_so():
    one = _guard(demo("library-bus"), "DK4")
    assert one.near_a is None and one.far_a.limit == "converters limit it"


def test_both_ends_are_told_where_both_can_deliver(puppet):
    ends = {one.tag: one.fused_at for one in derive(plants.transfer(puppet)).guards.guards}
    assert [end.at for end in ends["W-DCT"]] == ["W-MAIN", "DCT"]
    assert "array" in ends["W-CC1"][1].why and ends["W-CC1"][1].why.startswith("none")
    assert len(ends["W-INV1"]) == 1


def test_thicker_copper_stands_more_and_a_longer_way_opens_later(puppet):
    thin = _guard(changed(puppet, **{"wiring__conductors[W-INV1]": "50 mm2"}), "W-INV1")
    thick = _guard(changed(puppet, **{"wiring__conductors[W-INV1]": "95 mm2"}), "W-INV1")
    assert thick.withstand_a2s > thin.withstand_a2s and thick.heat_share.value < thin.heat_share.value
    longer = _guard(changed(puppet, **{"inverters__units[INV1]__lead_m": 12.0}), "W-INV1")
    assert longer.far_a.value < thin.far_a.value and longer.opens_s.value >= thin.opens_s.value
    assert math.isfinite(longer.opens_s.value)


def test_a_fuse_that_is_fitted_in_a_circuit_is_the_one_that_guards_it():
    job = demo("library-bus")
    fitted = Fitted(tag="FT9", name="As found", run="DK4", amps=10.0, dc_v=32.0)
    assert _guard(replace(job, fitted=(*job.fitted, fitted)), "DK4").rated_a == 10.0
