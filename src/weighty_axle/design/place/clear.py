"""Clearances: room kept at faces, room to work at terminals, bay walls, doors, and what hides a switch."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal, NamedTuple

from msgspec import Struct

from weighty_axle.design.figures import Figure, Given
from weighty_axle.design.ways import bay_at
from weighty_axle.job.models.document import Item
from weighty_axle.job.models.place import Assembly
from weighty_axle.job.models.vehicle import Bay, Vehicle
from weighty_axle.job.stated import Face, Place, Size
from weighty_axle.physics.body.fits import fits_through

REACH_M = 0.7
"""How far into a bay an arm reaches a switch from its door. Source: common practice, no source."""
HIDES_SHARE = 0.6
"""Share of a face that something before it covers from which a hand does not get past. Source: common practice, no
source.
"""
_STEP_M = 0.15
WALL_SLACK_M = 0.01
"""How far a thing may stand over a bay's measured end before it is said: what a survey is off by."""


class Tight(Struct, frozen=True, kw_only=True):
    """A face with less room than is to be kept, or a thing through a wall: what is before it, how much there is.

    `kind`: kept free by the datasheet, to work at terminals, or the wall of its bay.
    """

    tag: str
    kind: Literal["kept", "service", "wall"]
    face: str
    against: str
    there_mm: Figure
    keep_m: float


class Hidden(Struct, frozen=True, kw_only=True):
    """A switch nobody reaches from the door: how deep in the bay it is, and what stands before it."""

    tag: str
    bay: str
    depth_m: Figure
    behind: tuple[str, ...]


class NoDoor(Struct, frozen=True, kw_only=True):
    """What does not go through the door of its bay, alone or built together."""

    tag: str
    bay: str
    opening_m: tuple[float, float]
    box_m: tuple[float, float, float]
    together: bool


class ClearResult(Struct, frozen=True, kw_only=True):
    """Everything that is too near, hidden, or too large for its door."""

    tight: tuple[Tight, ...]
    hidden: tuple[Hidden, ...]
    no_door: tuple[NoDoor, ...]


class Box(NamedTuple):
    """Low and high corners of an upright box [m]."""

    low: tuple[float, float, float]
    high: tuple[float, float, float]


_FACES: dict[str, tuple[int, int]] = {
    "front": (0, -1),
    "rear": (0, 1),
    "left": (1, -1),
    "right": (1, 1),
    "below": (2, -1),
    "above": (2, 1),
}
"""Axis of each face, and which way it looks."""


def box_of(place: Place, size: Size) -> Box:
    """Corners of a thing."""
    return Box(
        (place.x_m - size.length_m / 2, place.y_m - size.width_m / 2, place.z_m),
        (place.x_m + size.length_m / 2, place.y_m + size.width_m / 2, place.z_m + size.height_m),
    )


def union(boxes: list[Box]) -> Box:
    """The box around several."""
    lows, highs = zip(*boxes, strict=True)
    return Box(tuple(map(min, zip(*lows, strict=True))), tuple(map(max, zip(*highs, strict=True))))


def clearances(vehicle: Vehicle, items: tuple[Item, ...], assemblies: tuple[Assembly, ...]) -> ClearResult:
    """Every face against what stands before it and the walls of its bay; switches against doors; boxes against doors.

    Source: geometry; physics.body.fits.
    """
    boxes = {item.tag: box_of(item.place, item.size) for item in items}
    bays = {item.tag: bay_at(vehicle, item.place) for item in items}
    together = {tag: one.tag for one in assemblies for tag in one.items}
    new = [item for item in items if not item.was_there]
    tight = [one for item in new for one in _faces(item, boxes, bays[item.tag], vehicle, together)]
    hidden = [one for item in new if (bay := bays[item.tag]) is not None for one in _hidden(item, boxes, bay, vehicle)]
    return ClearResult(
        tight=tuple(sorted(tight, key=lambda one: (one.there_mm.value / 1000 - one.keep_m, one.tag, one.face))),
        hidden=tuple(hidden),
        no_door=tuple(_no_door(new, boxes, bays, assemblies)),
    )


def _faces(
    item: Item, boxes: dict[str, Box], bay: Bay | None, vehicle: Vehicle, together: dict[str, str]
) -> Iterator[Tight]:
    box = boxes[item.tag]
    if bay is not None and item.kind != "fitting":
        yield from _walls(item, box, bay)
    clear = item.clear
    asked: list[tuple[Literal["kept", "service"], str, float]] = [
        ("kept", face, keep) for face in _FACES if (keep := float(getattr(clear, f"{face}_m"))) > 0
    ]
    if clear.service != "none":
        asked.append(("service", clear.service, clear.service_m))
    for kind, face, keep in asked:
        found = _nearest(item.tag, box, face, keep, boxes, together)
        # To work at terminals one stands outside: through the door there is room.
        wall = (
            _wall(box, face, bay, vehicle)
            if bay is not None and not (kind == "service" and _door_at(bay, face))
            else None
        )
        if wall is not None and wall < (found[0] if found else keep):
            found = (wall, f"{bay.tag}" if bay is not None else "")
        if found is not None and found[0] < keep - 1e-6:
            yield _tight(item.tag, kind, face, found, keep)


def _tight(
    tag: str, kind: Literal["kept", "service", "wall"], face: str, found: tuple[float, str], keep: float
) -> Tight:
    axis = ("along", "across", "up")[_FACES[face][0]]
    there = Figure(
        name=f"{tag}, {face}, to {found[1]}",
        value=1000 * found[0],
        unit="mm",
        formula=f"gap {axis} between face and what is before it; less than nothing where they are in one another",
        inputs=(Given("To be kept", 1000 * keep, "mm"),),
        source="geometry",
    )
    return Tight(tag=tag, kind=kind, face=face, against=found[1], there_mm=there, keep_m=keep)


def _nearest(
    tag: str, box: Box, face: str, keep: float, boxes: dict[str, Box], together: dict[str, str]
) -> tuple[float, str] | None:
    """The nearest thing within the room kept before a face, and how far it is; what is built on the same board as the
    thing is judged too: it was laid out by someone.
    """
    axis, way = _FACES[face]
    others = [other for other in range(3) if other != axis]
    best: tuple[float, str] | None = None
    for name, one in boxes.items():
        if name == tag:
            continue
        gap = one.low[axis] - box.high[axis] if way > 0 else box.low[axis] - one.high[axis]
        past = one.high[axis] - box.high[axis] if way > 0 else box.low[axis] - one.low[axis]
        if gap >= keep or past <= 1e-6:
            continue
        if all(one.low[k] < box.high[k] - 1e-6 and one.high[k] > box.low[k] + 1e-6 for k in others):
            # A plate that carries the thing is what it is fixed to, not what is in its way.
            if gap <= 1e-6 and tag in together and together.get(name) == together[tag]:
                continue
            if best is None or gap < best[0]:
                best = (max(gap, 0.0), name)
    return best


def _wall(box: Box, face: str, bay: Bay, vehicle: Vehicle) -> float:
    """How far a face is from the wall of the bay before it."""
    half = vehicle.width_m / 2
    return {
        "front": box.low[0] - bay.start_m,
        "rear": bay.end_m - box.high[0],
        "left": box.low[1] + half,
        "right": half - box.high[1],
        "below": box.low[2] - bay.bottom_m,
        "above": bay.top_m - box.high[2],
    }[face]


def _door_at(bay: Bay, face: str) -> bool:
    return face in ("left", "right") and bay.door_side in (face, "both")


def _walls(item: Item, box: Box, bay: Bay) -> Iterator[Tight]:
    """Where a thing stands through the wall of its bay."""
    for face, over in (
        ("front", bay.start_m - box.low[0]),
        ("rear", box.high[0] - bay.end_m),
        ("above", box.high[2] - bay.top_m),
    ):
        if over > WALL_SLACK_M:
            yield _tight(item.tag, "wall", face, (-over, bay.tag), 0.0)


def _hidden(item: Item, boxes: dict[str, Box], bay: Bay, vehicle: Vehicle) -> Iterator[Hidden]:
    """A thing with a switch whose face towards every door is too deep, or covered."""
    inside = bay.bottom_m >= vehicle.floor_m - _STEP_M
    if item.kind not in ("inverter", "board") or bay.door_side == "none" or inside:
        return  # who stands on the floor of the vehicle gets at everything
    box, half = boxes[item.tag], vehicle.width_m / 2
    ways = []
    for side in ("left", "right") if bay.door_side == "both" else (bay.door_side,):
        depth = half - box.high[1] if side == "right" else box.low[1] + half
        behind = tuple(
            name
            for name, one in boxes.items()
            if name != item.tag
            and (one.low[1] >= box.high[1] - 1e-6 if side == "right" else one.high[1] <= box.low[1] + 1e-6)
            and _covered(box, one) >= HIDES_SHARE
        )
        ways.append((depth, behind, side))
    if any(depth <= REACH_M and not behind for depth, behind, _ in ways):
        return
    depth, behind, side = min(ways, key=lambda one: (len(one[1]), one[0]))
    figure = Figure(
        name=f"{item.tag}, from the {side} door",
        value=depth,
        unit="m",
        formula="half the vehicle's width − its face across",
        inputs=(Given("Half the width", half, "m"), Given("An arm reaches", REACH_M, "m")),
        source="geometry",
    )
    yield Hidden(tag=item.tag, bay=bay.tag, depth_m=figure, behind=behind)


def _covered(box: Box, one: Box) -> float:
    """Share of a thing's side face that another covers."""
    along = min(box.high[0], one.high[0]) - max(box.low[0], one.low[0])
    up = min(box.high[2], one.high[2]) - max(box.low[2], one.low[2])
    whole = (box.high[0] - box.low[0]) * (box.high[2] - box.low[2])
    return max(0.0, along) * max(0.0, up) / whole if whole else 0.0


def opening(bay: Bay) -> tuple[float, float] | None:
    """Clear opening of a bay's door; None where none was measured."""
    if bay.door_m is None and bay.door_high_m is None:
        return None
    wide = bay.door_m if bay.door_m is not None else bay.end_m - bay.start_m
    high = bay.door_high_m if bay.door_high_m is not None else bay.top_m - bay.bottom_m
    return wide, high


def _no_door(
    items: list[Item], boxes: dict[str, Box], bays: dict[str, Bay | None], assemblies: tuple[Assembly, ...]
) -> Iterator[NoDoor]:
    groups: list[tuple[tuple[str, ...], str, bool]] = [((one.tag,), one.tag, False) for one in items]
    groups += [(one.items, one.tag, True) for one in assemblies]
    for tags, tag, together in groups:
        known = [boxes[one] for one in tags if one in boxes]
        bay = next((bays[one] for one in tags if bays.get(one) is not None), None)
        clear = opening(bay) if bay is not None else None
        if not known or bay is None or clear is None:
            continue
        around = union(known)
        sides = tuple(round(high - low, 6) for low, high in zip(around.low, around.high, strict=True))
        if not fits_through(sides_m=(sides[0], sides[1], sides[2]), opening_m=clear):
            yield NoDoor(tag=tag, bay=bay.tag, opening_m=clear, box_m=(sides[0], sides[1], sides[2]), together=together)


def words_of(face: Face | str) -> str:
    """A face as people say it: in front of it, behind it, above it."""
    return {
        "front": "in front",
        "rear": "behind",
        "left": "at its left",
        "right": "at its right",
        "above": "above",
        "below": "below",
    }[face]
