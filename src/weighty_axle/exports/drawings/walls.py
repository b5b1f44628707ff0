"""The first fix wall by wall: where every cable comes out of a wall, the floor or the ceiling, in metres on that face.

Walls are seen from inside the vehicle, floor and ceiling from above with the right side up.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import get_args

from msgspec import Struct

from weighty_axle.design.table import Design
from weighty_axle.exports.drawings.long_section import spread
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.place import Outlet, Wall
from weighty_axle.job.models.vehicle import Vehicle
from weighty_axle.job.stated import Place

WALLS: tuple[Wall, ...] = get_args(Wall)
NEAR_M = 0.15
"""How near a wall a wire way opens to be drawn on it."""


class WallMark(Struct, frozen=True):
    """A cable's mouth on a face: across and up it [m]; the height told is above the vehicle's floor."""

    tag: str
    across_m: float
    up_m: float
    height_m: float
    outlet: Outlet | None


class WallView(Struct, frozen=True):
    """A face to scale, how far its lower edge is above the ground, and what comes out of it."""

    wall: Wall
    wide_m: float
    high_m: float
    bottom_m: float
    boxes: tuple[tuple[float, float, float, float, str], ...]
    marks: tuple[WallMark, ...]


def wall_view(design: Design, wall: Wall) -> WallView:
    """One face with outlets, mouths of wire ways, and what stands before it."""
    job = design.whole
    vehicle = job.vehicle
    flat = wall in ("floor", "ceiling")
    wide = vehicle.width_m if wall in ("front", "rear") else vehicle.length_m
    high = vehicle.width_m if flat else vehicle.roof_m - vehicle.skirt_m
    marks = [_mark(vehicle, wall, one.place, one.tag, one) for one in job.outlets if one.wall == wall]
    marks += [
        _mark(vehicle, wall, mouth.place, mouth.way.tag, None)
        for mouth in design.ways.mouths
        if _from_wall_m(vehicle, wall, mouth.place) <= NEAR_M
    ]
    boxes = tuple(_box(vehicle, wall, one.start_m, one.end_m, one.bottom_m, one.top_m, one.tag) for one in vehicle.bays)
    return WallView(wall, wide, high, 0.0 if flat else vehicle.skirt_m, () if flat else boxes, tuple(marks))


def led_out(
    view: WallView, wide_m: Callable[[str], float], words: Callable[[WallMark], str]
) -> list[tuple[WallMark, float]]:
    """Where along the face the words of each mark stand so that none touch: outlets' over it, ways' under it."""
    found: list[tuple[WallMark, float]] = []
    for outlets in (True, False):
        row = sorted(
            (mark for mark in view.marks if (mark.outlet is not None) == outlets), key=lambda one: one.across_m
        )
        apart = spread([mark.across_m for mark in row], [wide_m(words(mark)) for mark in row], 0.0)
        found += zip(row, apart, strict=True)
    return found


def on_wall(vehicle: Vehicle, wall: Wall, place: Place) -> tuple[float, float]:
    """Across and up a face of a place [m]."""
    half = vehicle.width_m / 2
    up = place.z_m - vehicle.skirt_m
    return {
        "left": (vehicle.length_m - place.x_m, up),
        "right": (place.x_m, up),
        "front": (place.y_m + half, up),
        "rear": (half - place.y_m, up),
        "floor": (place.x_m, place.y_m + half),
        "ceiling": (place.x_m, place.y_m + half),
    }[wall]


def from_wall(vehicle: Vehicle, wall: Wall, across_m: float, up_m: float) -> Place:
    """The place of a point of a face."""
    half = vehicle.width_m / 2
    up = vehicle.skirt_m + up_m
    x, y, z = {
        "left": (vehicle.length_m - across_m, -half, up),
        "right": (across_m, half, up),
        "front": (0.0, across_m - half, up),
        "rear": (vehicle.length_m, half - across_m, up),
        "floor": (across_m, up_m - half, vehicle.floor_m),
        "ceiling": (across_m, up_m - half, vehicle.roof_m - 0.05),
    }[wall]
    return Place(x_m=round(x, 3), y_m=round(y, 3), z_m=round(z, 3))


def closed_words(job: Job, wall: Wall) -> str:
    """Whether a face is closed, and since when."""
    one = next((closed for closed in job.closed if closed.wall == wall), None)
    if one is None:
        return "open"
    return f"closed on {one.closed_on}" if one.closed_on else "closed"


def _mark(vehicle: Vehicle, wall: Wall, place: Place, tag: str, outlet: Outlet | None) -> WallMark:
    across, up = on_wall(vehicle, wall, place)
    return WallMark(tag, across, up, place.z_m - vehicle.floor_m, outlet)


def _from_wall_m(vehicle: Vehicle, wall: Wall, place: Place) -> float:
    half = vehicle.width_m / 2
    return {
        "left": abs(place.y_m + half),
        "right": abs(half - place.y_m),
        "front": abs(place.x_m),
        "rear": abs(vehicle.length_m - place.x_m),
        "floor": abs(place.z_m - vehicle.floor_m),
        "ceiling": abs(vehicle.roof_m - place.z_m),
    }[wall]


def _box(
    vehicle: Vehicle, wall: Wall, start: float, end: float, bottom: float, top: float, tag: str
) -> tuple[float, float, float, float, str]:
    """A bay as it lies behind a face: left, right, bottom, top."""
    if wall in ("front", "rear"):
        return 0.0, 0.0, 0.0, 0.0, ""
    left, right = (vehicle.length_m - end, vehicle.length_m - start) if wall == "left" else (start, end)
    return left, right, bottom - vehicle.skirt_m, top - vehicle.skirt_m, tag
