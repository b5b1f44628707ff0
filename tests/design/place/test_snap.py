"""Coming to rest: against brute force over every plane, and gaps against points."""

from __future__ import annotations

import itertools
import random

import pytest
from msgspec.structs import replace

from weighty_axle.design.derive import derive
from weighty_axle.design.place.clear import Box, box_of
from weighty_axle.design.place.snap import gaps, rest_against, snapped, space_around
from weighty_axle.job.edits.edit import turn
from weighty_axle.job.stated import Clear

ROOM = Box((0.0, -1.0, 0.0), (4.0, 1.0, 1.0))


def _box(dice):
    low = (dice.uniform(0.2, 3), dice.uniform(-0.8, 0.4), dice.uniform(0.05, 0.6))
    return Box(low, (low[0] + dice.uniform(0.1, 0.5), low[1] + dice.uniform(0.1, 0.4), low[2] + dice.uniform(0.1, 0.3)))


@pytest.mark.parametrize("seed", range(20))
def test_a_shift_changes_by_no_more_than_the_reach_and_ends_on_a_plane(seed):
    dice = random.Random(seed)
    box, others = _box(dice), [_box(dice) for _ in range(4)]
    by = (dice.uniform(-0.3, 0.3), 0.0, dice.uniform(-0.2, 0.2))
    within = 0.06
    found = snapped(box, by, Clear(), [(one, Clear()) for one in others], ROOM, within)
    assert found[1] == 0.0, "an axis it is not moved along stays"
    for axis in (0, 2):
        assert abs(found[axis] - by[axis]) <= within + 1e-4
        faces = (box.low[axis] + found[axis], box.high[axis] + found[axis])
        planes = [ROOM.low[axis], ROOM.high[axis], *(face[axis] for one in others for face in one)]
        rests = min(abs(face - plane) for face, plane in itertools.product(faces, planes)) < 2e-4
        assert rests or found[axis] == by[axis]


def test_room_kept_is_a_place_to_rest_and_so_is_touching():
    """A neighbour wants 0.15 m in front: one comes to rest there, and nearer by against it."""
    box, other = Box((1.0, 0.0, 0.0), (1.4, 0.3, 0.2)), Box((2.0, 0.0, 0.0), (2.4, 0.3, 0.2))
    kept = [(other, Clear(front_m=0.15))]
    for wanted, ends in ((0.43, 0.45), (0.47, 0.45), (0.58, 0.60), (0.30, 0.30)):
        assert snapped(box, (wanted, 0.0, 0.0), Clear(), kept, ROOM, 0.04)[0] == pytest.approx(ends)


@pytest.mark.parametrize(("axis", "way"), list(itertools.product(range(3), (-1, 1))))
def test_at_rest_there_is_no_gap_left(axis, way):
    box = Box((1.0, 0.1, 0.2), (1.4, 0.3, 0.4))
    by = rest_against(box, ROOM, axis, way)
    moved = Box(*(tuple(value + more for value, more in zip(corner, by, strict=True)) for corner in box))
    told = next(one for one in gaps(moved, [], ROOM) if (one.axis, one.way) == (axis, way))
    assert told.gap_m == pytest.approx(0.0, abs=1e-4)
    assert sum(bool(one) for one in by) <= 1


def test_the_space_around_is_the_bay_or_the_room_above(clinic):
    pack = clinic.bank.packs[0]
    around = space_around(clinic.vehicle, box_of(pack.place, clinic.bank.spec.size))
    assert (around.low[0], around.high[0]) == (6.8, 8.6)
    high = box_of(replace(pack.place, z_m=2.0), clinic.bank.spec.size)
    assert space_around(clinic.vehicle, high).low[2] == clinic.vehicle.floor_m


def test_four_turns_are_none_and_one_turns_a_group_as_one(clinic):
    tags = ("INV1", "INV2", "DB1")
    job = clinic
    for _ in range(4):
        job = turn(tags).apply(job)
    assert [item.place for item in derive(job).items] == [item.place for item in derive(clinic).items]
    once = {item.tag: item for item in derive(turn(tags).apply(clinic)).items}
    before = {item.tag: item for item in derive(clinic).items}
    apart = [before["INV2"].place.x_m - before["INV1"].place.x_m, once["INV2"].place.y_m - once["INV1"].place.y_m]
    assert apart[0] == pytest.approx(apart[1])
    assert once["DB1"].size.length_m == before["DB1"].size.width_m
