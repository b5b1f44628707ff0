"""What a moved thing comes to rest against: floor, ceiling, walls, neighbours, and the room kept between them."""

from __future__ import annotations

from collections.abc import Iterable
from typing import NamedTuple

from weighty_axle.design.place.clear import Box
from weighty_axle.job.models.document import Item
from weighty_axle.job.models.vehicle import Vehicle
from weighty_axle.job.stated import Clear

Shift = tuple[float, float, float]
"""How far something is moved along, across and up [m]."""
_SIDES = (("front_m", "rear_m"), ("left_m", "right_m"), ("below_m", "above_m"))
"""Room kept at the low and the high face of each axis."""


class Gap(NamedTuple):
    """The nearest thing before a face: axis, which way, how far [m], and what it is."""

    axis: int
    way: int
    gap_m: float
    name: str


def space_around(vehicle: Vehicle, box: Box) -> Box:
    """The bay the middle of a box is in; elsewhere the room above the floor, as wide as the vehicle."""
    middle = tuple((low + high) / 2 for low, high in zip(box.low, box.high, strict=True))
    half = vehicle.width_m / 2
    for bay in vehicle.bays:
        if bay.start_m <= middle[0] <= bay.end_m and bay.bottom_m <= middle[2] <= bay.top_m:
            return Box((bay.start_m, -half, bay.bottom_m), (bay.end_m, half, bay.top_m))
    return Box((0.0, -half, vehicle.floor_m), (vehicle.length_m, half, vehicle.roof_m))


def snapped(
    box: Box, by: Shift, clear: Clear, others: Iterable[tuple[Box, Clear]], space: Box, within_m: float
) -> Shift:
    """A shift changed so that the box comes to rest against what is within reach, axis by axis; only axes it is moved
    along change.

    Source: geometry.
    """
    near = list(others)
    found = list(by)
    for axis in range(3):
        if not by[axis]:
            continue
        low, high = box.low[axis] + by[axis], box.high[axis] + by[axis]
        kept = tuple(float(getattr(clear, side)) for side in _SIDES[axis])
        rests = [space.low[axis] - low, space.high[axis] - high]
        rests += [space.low[axis] + kept[0] - low, space.high[axis] - kept[1] - high]
        for other, its in near:
            if not _beside(box, by, other, axis, within_m):
                continue
            its_kept = tuple(float(getattr(its, side)) for side in _SIDES[axis])
            rests += [other.high[axis] - low, other.low[axis] - high, other.low[axis] - low, other.high[axis] - high]
            rests.append(other.high[axis] + max(kept[0], its_kept[1]) - low)
            rests.append(other.low[axis] - max(kept[1], its_kept[0]) - high)
        best = min(rests, key=abs)
        if abs(best) <= within_m:
            found[axis] = round(by[axis] + best, 4)
    return found[0], found[1], found[2]


def _beside(box: Box, by: Shift, other: Box, axis: int, within_m: float) -> bool:
    """Whether another box lies on the way of a moved one, or in line with it within reach."""
    return all(
        other.low[k] <= box.high[k] + by[k] + within_m and other.high[k] >= box.low[k] + by[k] - within_m
        for k in range(3)
        if k != axis
    )


def gaps(box: Box, others: Iterable[tuple[str, Box]], space: Box) -> tuple[Gap, ...]:
    """How far each face of a box is from the nearest thing straight before it, or from the wall."""
    found = []
    near = list(others)
    for axis in range(3):
        for way in (-1, 1):
            wall = box.low[axis] - space.low[axis] if way < 0 else space.high[axis] - box.high[axis]
            best = Gap(axis, way, wall, "")
            for name, one in near:
                gap = box.low[axis] - one.high[axis] if way < 0 else one.low[axis] - box.high[axis]
                if -1e-9 <= gap < best.gap_m and all(
                    one.low[k] < box.high[k] - 1e-6 and one.high[k] > box.low[k] + 1e-6 for k in range(3) if k != axis
                ):
                    best = Gap(axis, way, gap, name)
            found.append(best)
    return tuple(found)


def rest_against(box: Box, space: Box, axis: int, way: int) -> Shift:
    """The shift that brings a box to a wall, the floor or the ceiling of its space."""
    by = space.low[axis] - box.low[axis] if way < 0 else space.high[axis] - box.high[axis]
    shift = [0.0, 0.0, 0.0]
    shift[axis] = round(by, 4)
    return shift[0], shift[1], shift[2]


def boxes_of(items: Iterable[Item], without: Iterable[str]) -> list[Item]:
    """Items that are not moved themselves."""
    gone = set(without)
    return [item for item in items if item.tag not in gone]
