"""Room to keep: how near each part of the system stands to gas, fuel, heat, exhaust and water."""

from __future__ import annotations

import math

from msgspec import Struct

from weighty_axle.design.figures import Figure, Given
from weighty_axle.job.models.document import Item
from weighty_axle.job.models.vehicle import Vehicle, Zone
from weighty_axle.job.stated import Place, Size


class Near(Struct, frozen=True, kw_only=True):
    """A part nearer to a zone than is to be kept: the gap between the two boxes."""

    tag: str
    zone: str
    what: str
    gap_m: Figure
    keep_m: float


class Room(Struct, frozen=True, kw_only=True):
    """Everything that stands too near, nearest of what is to be kept first."""

    near: tuple[Near, ...]


def room(vehicle: Vehicle, items: tuple[Item, ...]) -> Room:
    """Every new part of the system against every zone. Furniture and tanks may stand by them.

    Source: geometry.
    """
    found = (
        _near(item, zone) for zone in vehicle.zones for item in items if item.kind != "fitting" and not item.was_there
    )
    near = [one for one in found if one.gap_m.value < one.keep_m - 1e-6]
    return Room(near=tuple(sorted(near, key=lambda one: (one.gap_m.value - one.keep_m, one.tag, one.zone))))


def _near(item: Item, zone: Zone) -> Near:
    gap = Figure(
        name=f"{item.tag} to {zone.tag}",
        value=gap_m(item.place, item.size, zone.place, zone.size),
        unit="m",
        formula="√(gap along² + gap across² + gap up²) between the boxes, 0 where they overlap",
        inputs=tuple(
            Given(f"{tag} {words}", value, "m")
            for tag, place in ((item.tag, item.place), (zone.tag, zone.place))
            for words, value in (("along", place.x_m), ("across", place.y_m), ("up", place.z_m))
        ),
        source="geometry",
    )
    return Near(tag=item.tag, zone=zone.tag, what=f"{zone.name} ({zone.kind})", gap_m=gap, keep_m=zone.keep_m)


def gap_m(one: Place, its: Size, other: Place, others: Size) -> float:
    """Shortest distance between two upright boxes [m], 0 where they touch or overlap.

    Source: geometry.
    """
    along = abs(one.x_m - other.x_m) - (its.length_m + others.length_m) / 2
    across = abs(one.y_m - other.y_m) - (its.width_m + others.width_m) / 2
    up = max(one.z_m - other.z_m - others.height_m, other.z_m - one.z_m - its.height_m)
    return math.hypot(*(max(0.0, each) for each in (along, across, up)))
