"""Ways for cable: from which space to which, where each opens, and the shortest allowed path between two places."""

from __future__ import annotations

import itertools
from typing import NamedTuple

from weighty_axle.job.models.vehicle import Bay, CableKind, Vehicle, WireWay
from weighty_axle.job.stated import Place
from weighty_axle.physics.search.paths import shortest_from

BEND_M = 0.05
"""Cable a bend takes; there is one at each end of a way. Source: common practice, no source."""
_ROOF_M = 0.001
_MOST_KEPT = 5000


class Path(NamedTuple):
    """How a cable goes: through which ways, in order; the points it turns at; its length in the ways, outside of them
    and in bends [m].
    """

    ways: tuple[WireWay, ...]
    points: tuple[Place, ...]
    in_ways_m: float
    outside_m: float
    bends_m: float

    @property
    def total_m(self) -> float:
        """Its whole length, without what is left at its ends."""
        return self.in_ways_m + self.outside_m + self.bends_m


class Mouth(NamedTuple):
    """Where a way opens: the way, the space, the place, and whether it is where the way starts."""

    way: WireWay
    space: str
    place: Place
    starts: bool


class Ways:
    """The wire ways of a vehicle as a graph of their mouths. Paths are worked out when first asked for."""

    def __init__(self, vehicle: Vehicle) -> None:
        self.vehicle = vehicle
        self.mouths: tuple[Mouth, ...] = tuple(
            Mouth(way, _space(vehicle, end), place or _facing(vehicle, end, other), starts)
            for way in vehicle.ways
            for end, other, place, starts in (
                (way.start, way.end, way.start_at, True),
                (way.end, way.start, way.end_at, False),
            )
        )
        self._in: dict[str, list[int]] = {}
        for at, mouth in enumerate(self.mouths):
            self._in.setdefault(mouth.space, []).append(at)
        self._found: dict[tuple[CableKind, int], tuple[dict[int, float], dict[int, int]]] = {}
        self._paths: dict[tuple[Place, Place, CableKind], Path | None] = {}
        self._graphs: dict[CableKind, dict[int, list[tuple[int, float]]]] = {}

    def space_of(self, place: Place) -> str:
        """The bay a place is in, the roof, or the living room."""
        if place.z_m >= self.vehicle.roof_m - _ROOF_M:
            return "ROOF"
        bay = bay_at(self.vehicle, place)
        return bay.tag if bay is not None else "LIVING"

    def path(self, one: Place, other: Place, kind: CableKind) -> Path | None:
        """The shortest allowed path of a cable; None where no way leads there.

        Within one space none is needed, and where no ways are stated everything goes straight.

        Source: shortest path, physics.search.paths.
        """
        key = (one, other, kind)
        if key not in self._paths:
            if len(self._paths) > _MOST_KEPT:
                self._paths.clear()
            self._paths[key] = self._path(one, other, kind)
        return self._paths[key]

    def _path(self, one: Place, other: Place, kind: CableKind) -> Path | None:
        here, there = self.space_of(one), self.space_of(other)
        if here == there or not self.mouths:
            return Path((), (one, other), 0.0, apart_m(one, other), 0.0)
        best: tuple[float, int, int] | None = None
        for start in self._open(here, kind):
            to_m = apart_m(one, self.mouths[start].place)
            far, _ = self._from(start, kind)
            for end in self._open(there, kind):
                if end in far:
                    total = to_m + far[end] + apart_m(self.mouths[end].place, other)
                    if best is None or total < best[0]:
                        best = (total, start, end)
        return None if best is None else self._told(one, other, *best[1:], kind)

    def _told(self, one: Place, other: Place, start: int, end: int, kind: CableKind) -> Path:
        before = self._from(start, kind)[1]
        nodes = [end]
        while nodes[-1] != start:
            nodes.append(before[nodes[-1]])
        mouths = [self.mouths[at] for at in reversed(nodes)]
        taken = tuple(a.way for a, b in itertools.pairwise(mouths) if a.way is b.way)
        points = (one, *(mouth.place for mouth in mouths), other)
        outside = apart_m(one, mouths[0].place) + apart_m(mouths[-1].place, other)
        outside += sum(apart_m(a.place, b.place) for a, b in itertools.pairwise(mouths) if a.way is not b.way)
        in_ways = sum(way.length_m for way in taken)
        return Path(taken, points, in_ways, outside, 2 * BEND_M * len(taken))

    def _open(self, space: str, kind: CableKind) -> list[int]:
        return [at for at in self._in.get(space, ()) if _takes(self.mouths[at].way, kind)]

    def _from(self, source: int, kind: CableKind) -> tuple[dict[int, float], dict[int, int]]:
        key = (kind, source)
        if key not in self._found:
            self._found[key] = shortest_from(source, self._graph(kind))
        return self._found[key]

    def _graph(self, kind: CableKind) -> dict[int, list[tuple[int, float]]]:
        if kind not in self._graphs:
            made: dict[int, list[tuple[int, float]]] = {}
            for at, mouth in enumerate(self.mouths):
                if _takes(mouth.way, kind):
                    beside = [(at + 1 if mouth.starts else at - 1, mouth.way.length_m + 2 * BEND_M)]
                    beside += [
                        (other, apart_m(mouth.place, self.mouths[other].place))
                        for other in self._open(mouth.space, kind)
                        if self.mouths[other].way is not mouth.way
                    ]
                    made[at] = beside
            self._graphs[kind] = made
        return self._graphs[kind]


def ways_of(vehicle: Vehicle) -> Ways:
    """The wire ways of a vehicle."""
    return Ways(vehicle)


def bay_at(vehicle: Vehicle, place: Place) -> Bay | None:
    """The bay a place is in, as seen from the side; None for the room above the floor and everything else."""
    return next(
        (
            bay
            for bay in vehicle.bays
            if bay.start_m <= place.x_m <= bay.end_m and bay.bottom_m <= place.z_m < bay.top_m
        ),
        None,
    )


def apart_m(one: Place, other: Place) -> float:
    """Distance along, across and up, as cable is laid [m]."""
    return abs(one.x_m - other.x_m) + abs(one.y_m - other.y_m) + abs(one.z_m - other.z_m)


def _takes(way: WireWay, kind: CableKind) -> bool:
    return not way.only or kind in way.only


def _space(vehicle: Vehicle, end: str) -> str:
    """In a coach the driver sits in the room above the floor."""
    return "LIVING" if end == "CAB" and vehicle.kind == "coach" else end


def _facing(vehicle: Vehicle, end: str, other: str) -> Place:
    """Where a way opens that does not say: on the centre line, on the side that faces its other end."""
    x0, x1, z0, z1 = _extent(vehicle, end)
    a0, a1, b0, b1 = _extent(vehicle, other)
    return Place(x_m=round(min(max((a0 + a1) / 2, x0), x1), 3), y_m=0.0, z_m=round(min(max((b0 + b1) / 2, z0), z1), 3))


def _extent(vehicle: Vehicle, space: str) -> tuple[float, float, float, float]:
    """From, to, bottom and top of a space."""
    bay = next((one for one in vehicle.bays if one.tag == space), None)
    if bay is not None:
        return bay.start_m, bay.end_m, bay.bottom_m, bay.top_m
    if space == "ROOF":
        return 0.0, vehicle.length_m, vehicle.roof_m, vehicle.roof_m
    return 0.0, 1.5 if space == "CAB" else vehicle.length_m, vehicle.floor_m, vehicle.roof_m - 0.05
