from __future__ import annotations

import pytest

from tests.building import found, v
from weighty_axle.design.derive import derive
from weighty_axle.job.edits.edit import move


@pytest.mark.parametrize("over_kg", [1.0, 4.0, 30.0])
@pytest.mark.parametrize("axle", ["A1", "A2"])
def test_the_bank_is_moved_just_far_enough_and_only_where_it_fits(clinic, axle, over_kg):
    """The press takes the axle under its plate; a centimetre less would not; where the body ends there is no press."""
    load = next(one.load_kg.value for one in derive(clinic).place.axles if one.tag == axle)
    job = v(clinic, f"vehicle.axles[{axle}].limit_kg", load - over_kg)
    remedy = found(job, "place.axle-over-plate").remedy
    packs = tuple(pack.tag for pack in job.bank.packs)
    after = remedy.apply(job)
    dx = after.bank.packs[0].place.x_m - job.bank.packs[0].place.x_m

    def margin(moved):
        return next(one.margin_kg.value for one in derive(moved).place.axles if one.tag == axle)

    assert margin(after) >= 0 and margin(move(packs, dx_m=dx - 0.011 * (1 if dx > 0 else -1)).apply(job)) < 0
    half = job.bank.spec.size.length_m / 2
    ends = job.vehicle.length_m - half if dx > 0 else half
    edge = ends - (max if dx > 0 else min)(pack.place.x_m for pack in job.bank.packs)
    job = move(packs, dx_m=round(edge, 3)).apply(job)
    again = next(one.load_kg.value for one in derive(job).place.axles if one.tag == axle)
    assert found(v(job, f"vehicle.axles[{axle}].limit_kg", again - over_kg), "place.axle-over-plate").remedy is None
