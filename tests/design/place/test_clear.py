"""Clearances by brute force: boxes through openings over every tilt, room before faces by points, turns by rotation."""

from __future__ import annotations

import itertools
import math
import random

import numpy as np
import pytest
from msgspec.structs import replace

from tests.building import told
from weighty_axle.design.derive import derive
from weighty_axle.design.place.clear import _FACES, box_of
from weighty_axle.job.edits.edit import move
from weighty_axle.job.models.place import Assembly, Fitting
from weighty_axle.job.stated import Clear, Place, Size, turned_clear, turned_size
from weighty_axle.physics.body.fits import fits_through


@pytest.mark.parametrize("seed", range(10))
def test_a_box_through_an_opening_over_every_tilt_and_face(seed):
    """The box around a tilted face, over a fine grid of tilts and all three faces; near the edge either may be said."""
    dice = random.Random(seed)
    tilts = np.linspace(0, math.pi / 2, 4001)
    said = []
    for _ in range(60):
        sides = tuple(dice.uniform(0.1, 1.6) for _ in range(3))
        opening = (dice.uniform(0.2, 1.5), dice.uniform(0.2, 1.5))
        best = min(
            np.maximum(
                (a * np.cos(tilts) + b * np.sin(tilts)) / opening[0],
                (a * np.sin(tilts) + b * np.cos(tilts)) / opening[1],
            ).min()
            for a, b in itertools.permutations(sides, 2)
        )
        if abs(best - 1) > 1e-3:
            said.append(fits_through(sides_m=sides, opening_m=opening))
            assert said[-1] == (best <= 1)
    assert {True, False} == set(said)


def test_what_only_goes_through_tilted():
    """A plate of 1.05 m by 5 mm through a square metre: a little tilt is enough; at 1.41 m none is."""
    assert fits_through(sides_m=(2.0, 1.05, 0.005), opening_m=(1.0, 1.0))
    assert not fits_through(sides_m=(2.0, 1.41, 0.1), opening_m=(1.0, 1.0))


@pytest.mark.parametrize("turn_deg", [0, 90, 180, 270])
def test_turns_against_a_rotation(turn_deg):
    """Faces as vectors turned against the clock, seen from above: along to the right of the drawing, right side up."""
    looks = {"front": -1 + 0j, "rear": 1 + 0j, "left": -1j, "right": 1j}
    clear = Clear(front_m=0.1, rear_m=0.2, left_m=0.3, right_m=0.4, above_m=0.5, service="front")
    turned = turned_clear(clear, turn_deg)
    by = 1j ** (turn_deg // 90)
    for face, look in looks.items():
        now = next(name for name, one in looks.items() if abs(one - look * by) < 1e-9)
        assert getattr(turned, f"{now}_m") == getattr(clear, f"{face}_m")
        assert (turned.service == now) == (clear.service == face)
    size = turned_size(Size(length_m=0.6, width_m=0.2, height_m=0.3), turn_deg)
    assert (size.length_m, size.width_m) == ((0.6, 0.2) if turn_deg % 180 == 0 else (0.2, 0.6))


@pytest.mark.parametrize("seed", range(8))
def test_room_before_a_face_by_points(clinic, seed):
    """Points of the room kept before a face: the nearest that lies in another thing is as far off as is said."""
    dice = random.Random(seed)
    face = dice.choice(list(_FACES))
    keep = 0.3
    clear = Clear(**{f"{face}_m": keep})
    one = _thing("F1", dice, Size(length_m=0.4, width_m=0.3, height_m=0.2), clear, at=Place(x_m=9.5, y_m=0.0, z_m=2.0))
    others = tuple(
        _thing(f"F{n}", dice, Size(length_m=0.3, width_m=0.4, height_m=0.3), Clear(), at=None) for n in range(2, 8)
    )
    job = replace(clinic, fittings=(one, *others), bars=(), holds=())
    boxes = [box_of(each.place, each.size) for each in others]
    axis, way = _FACES[face]
    box = box_of(one.place, one.size)
    grid = [np.linspace(low + 1e-4, high - 1e-4, 60) for low, high in zip(box.low, box.high, strict=True)]
    start = box.high[axis] if way > 0 else box.low[axis]
    steps = np.arange(0, keep, 0.002)
    grid[axis] = start + way * (steps + 1e-6)
    points = np.stack(np.meshgrid(*grid, indexing="ij"), axis=-1)
    inside = np.zeros(points.shape[:3], dtype=bool)
    for other in boxes:
        inside |= np.all((points > other.low) & (points < other.high), axis=-1)
    there = np.any(inside, axis=tuple(k for k in range(3) if k != axis))
    found = next((each for each in derive(job).clear.tight if each.tag == "F1"), None)
    if there.any():
        assert found is not None
        assert found.there_mm.value == pytest.approx(1000 * steps[there.argmax()], abs=3.0)
    else:
        assert found is None


def _thing(tag, dice, size, clear, at):
    at = at or Place(x_m=9.5 + dice.uniform(-0.8, 0.8), y_m=dice.uniform(-0.8, 0.8), z_m=2.0 + dice.uniform(-0.6, 0.6))
    return Fitting(tag=tag, name=tag, mass_kg=1.0, place=at, size=size, clear=clear)


def test_a_bank_in_front_hides_a_switch_and_a_remote_one_reaches_it(clinic):
    """INV1 stands 0.21 m in from the right door; six packs slid in front of it."""
    assert not told(clinic, "place.switch-out-of-reach")
    alone = replace(clinic, inverters=replace(clinic.inverters, remote_switch=False))
    deep = move(("INV1",), dy_m=-0.75).apply(alone)
    wall = Fitting(
        tag="F9",
        name="Cupboard",
        mass_kg=1.0,
        place=Place(x_m=5.45, y_m=-0.9, z_m=0.5),
        size=Size(length_m=0.6, width_m=0.3, height_m=0.6),
    )
    deep = replace(deep, fittings=(*deep.fittings, wall))
    assert [one.tags[0] for one in told(deep, "place.switch-out-of-reach")] == ["INV1"]
    switched = replace(deep, inverters=replace(deep.inverters, remote_switch=True))
    assert not told(switched, "place.switch-out-of-reach")


def test_a_board_built_on_the_bench_is_measured_with_all_on_it(clinic):
    """Each alone goes through 0.6 by 0.6 m; one over the other they are 0.69 m high, and tilting does not help."""
    bays = tuple(replace(bay, door_m=0.6, door_high_m=0.6) if bay.tag == "B2" else bay for bay in clinic.vehicle.bays)
    job = replace(clinic, vehicle=replace(clinic.vehicle, bays=bays))
    job = move(("INV2",), dz_m=0.45).apply(job)
    assert not told(job, "place.through-door")
    built = replace(job, assemblies=(Assembly(tag="PB1", name="Inverter board", items=("INV1", "INV2")),))
    assert [one.tags for one in told(built, "place.board-through-door")] == [("PB1", "B2")]
