"""Gaps between boxes by brute force; gas near an inverter; what burns behind a hot thing."""

from __future__ import annotations

import itertools
import random

import numpy as np
import pytest
from msgspec.structs import replace

from tests.building import told
from weighty_axle.design.derive import derive
from weighty_axle.design.place.room import gap_m
from weighty_axle.job.models.place import Hold
from weighty_axle.job.models.vehicle import Zone
from weighty_axle.job.stated import Place, Size


def _box(dice):
    place = Place(x_m=dice.uniform(1, 4), y_m=dice.uniform(-1, 1), z_m=dice.uniform(0, 2))
    return place, Size(length_m=dice.uniform(0.1, 1), width_m=dice.uniform(0.1, 1), height_m=dice.uniform(0.1, 1))


def _points(place, size, steps=7):
    """A grid over a box, faces and corners with it."""
    low = np.array([place.x_m - size.length_m / 2, place.y_m - size.width_m / 2, place.z_m])
    sides = np.array([size.length_m, size.width_m, size.height_m])
    grid = np.linspace(0, 1, steps)
    return low + np.array(list(itertools.product(grid, grid, grid))) * sides


@pytest.mark.parametrize("seed", range(12))
def test_the_gap_between_boxes_by_brute_force(seed):
    """All pairs of points of two grids: never nearer than said, and not much farther; the same either way round."""
    dice = random.Random(seed)
    (one, its), (other, others) = _box(dice), _box(dice)
    near = np.linalg.norm(_points(one, its)[:, None] - _points(other, others)[None], axis=2).min()
    said = gap_m(one, its, other, others)
    assert said <= near + 1e-9 and near - said < 0.2
    assert gap_m(other, others, one, its) == said


def _with_zone(job, dx_m, keep_m=0.3):
    """The job with a gas locker that far behind the last edge of INV1, level with it."""
    item = next(one for one in derive(job).items if one.tag == "INV1")
    start = item.place.x_m + item.size.length_m / 2 + dx_m
    zone = Zone(
        tag="Z1",
        name="Gas locker",
        kind="gas",
        place=replace(item.place, x_m=start + 0.2),
        size=Size(length_m=0.4, width_m=0.4, height_m=0.5),
        keep_m=keep_m,
    )
    return replace(job, vehicle=replace(job.vehicle, zones=(zone,)))


@pytest.mark.parametrize(("dx_m", "fires"), [(0.1, True), (0.299, True), (0.3, False), (-0.2, True)])
def test_gas_near_an_inverter(puppet, dx_m, fires):
    """Nearer than what is to be kept, by the millimetre; inside counts as touching."""
    near = [one for one in derive(_with_zone(puppet, dx_m)).room.near if one.tag == "INV1"]
    assert bool(near) is fires
    if fires:
        assert near[0].gap_m.value == pytest.approx(max(0.0, dx_m))
        assert any("Gas locker (gas)" in one.sentence() for one in told(_with_zone(puppet, dx_m), "place.by-zone"))


@pytest.mark.parametrize(
    ("items", "into", "backing", "fires"),
    [
        (("INV1",), "plywood", "none", True),
        (("INV1",), "plywood", "cement_board", False),
        (("INV1",), "frame", "none", False),
        (("TK1",), "plywood", "none", False),
    ],
)
def test_what_burns_behind_a_hot_thing(clinic, items, into, backing, fires):
    job = replace(clinic, holds=(Hold(tag="HD1", items=items, into=into, backing=backing),))
    assert bool(told(job, "place.burns-behind")) is fires
