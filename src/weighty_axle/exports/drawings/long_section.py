"""The vehicle's long section as shapes in metres: one drawing for the screen, the pack and files."""

from __future__ import annotations

from collections.abc import Callable
from typing import Literal

from msgspec import Struct

from weighty_axle.design.roof.geometry import flat_box, module_box
from weighty_axle.design.table import Design
from weighty_axle.job.models.document import Item
from weighty_axle.job.models.roof import spec_of
from weighty_axle.job.models.vehicle import Vehicle, Zone

Role = Literal[
    "ground",
    "body",
    "floor",
    "bay",
    "module",
    "obstacle",
    "pack",
    "unit",
    "fitting",
    "route",
    "wheel",
    "coupling",
    "zone",
]
Point = tuple[float, float]


class Shape(Struct, frozen=True):
    """A closed or open polygon [m], with what it stands for and the tag it answers to ('' for none)."""

    role: Role
    points: tuple[Point, ...]
    closed: bool
    tag: str = ""
    label: str = ""


class AxleMark(Struct, frozen=True):
    """Load of one axle, drawn as a bar under it, as wide as its neighbours leave room for."""

    tag: str
    x_m: float
    bar_m: float
    load_kg: float
    limit_kg: float
    coupling: bool


class Section(Struct, frozen=True):
    """The whole drawing: shapes from back to front, axle marks, extent [m]."""

    shapes: tuple[Shape, ...]
    axles: tuple[AxleMark, ...]
    left_m: float
    right_m: float
    top_m: float


class Caption(Struct, frozen=True):
    """A name: middle of its foot [m]; where it cannot be read in its own box, the point its line leads to."""

    text: str
    role: Role
    x_m: float
    z_m: float
    leads_to: Point | None = None


WHEEL_RADIUS_M = 0.48
_MODULE_EDGE_M = 0.06
_BAR_M = 1.5
_DRAWBAR_M = -1.4


def long_section(design: Design) -> Section:
    """Side view with items, roof, routes and axles; the front is at the left."""
    job, vehicle = design.job, design.job.vehicle
    shapes = [
        Shape("body", _outline(vehicle), True),
        Shape("floor", ((0.0, vehicle.floor_m), (vehicle.length_m, vehicle.floor_m)), False),
    ]
    shapes += [
        Shape("bay", _rect(bay.start_m, bay.end_m, bay.bottom_m, bay.top_m), True, bay.tag, bay.name)
        for bay in vehicle.bays
    ]
    shapes += [_zone_shape(zone) for zone in vehicle.zones]
    roof_z = vehicle.roof_m
    shapes += [
        Shape(
            "obstacle",
            _rect(*flat_box(obstacle)[:2], roof_z, roof_z + obstacle.height_m),
            True,
            obstacle.tag,
            obstacle.tag,
        )
        for obstacle in job.roof.obstacles
    ]
    shapes += [
        Shape(
            "module",
            _rect(*module_box(module, spec_of(job.roof, module))[:2], roof_z + 0.05, roof_z + 0.05 + _MODULE_EDGE_M),
            True,
            module.tag,
        )
        for module in job.roof.modules
    ]
    shapes += _routes(design)
    # Seen from the left: what is nearer hides what is farther; but packs, large and alike, never hide a unit.
    depth = {"fitting": 0, "pack": 1}
    shapes += [
        _item_shape(item) for item in sorted(design.items, key=lambda item: (depth.get(item.kind, 2), -item.place.y_m))
    ]
    marks = []
    for axle, result in zip(vehicle.axles, design.place.axles, strict=True):
        nearest = min(abs(axle.x_m - other.x_m) for other in vehicle.axles if other is not axle)
        marks.append(
            AxleMark(
                axle.tag, axle.x_m, min(_BAR_M, 0.92 * nearest), result.load_kg.value, axle.limit_kg, axle.coupling
            )
        )
        shapes.append(_axle_shape(axle.tag, axle.x_m, axle.coupling, vehicle))
    if vehicle.kind == "drawbar_trailer":
        front = min(axle.x_m for axle in vehicle.axles)
        height = vehicle.skirt_m + 0.05
        shapes.insert(
            0,
            Shape(
                "coupling",
                ((front, height), (_DRAWBAR_M, height - 0.05), (_DRAWBAR_M, height + 0.05), (front, height + 0.12)),
                True,
            ),
        )
    left = -1.6 if vehicle.kind in ("drawbar_trailer", "centre_axle_trailer") else -0.4
    top = roof_z + max((obstacle.height_m for obstacle in job.roof.obstacles), default=0.2) + 0.1
    return Section(tuple(shapes), tuple(marks), left, vehicle.length_m + 0.4, top)


def placed_labels(section: Section, wide_m: Callable[[str], float], high_m: float) -> tuple[Caption, ...]:
    """Names of units and bays: in their boxes where they can be read there, else side by side above the floor, or above
    the boxes, on a line.

    `wide_m` and `high_m` are the size of a name at the drawing's scale.
    """
    floor_m = next(shape.points[0][1] for shape in section.shapes if shape.role == "floor")
    placed: list[Caption] = []
    out: dict[bool, list[tuple[float, Shape, Point]]] = {}
    for index, shape in enumerate(section.shapes):
        if shape.role not in ("unit", "bay") or not shape.label:
            continue
        (x0, z0), (x1, z1) = shape.points[0], shape.points[2]
        half, x_m = wide_m(shape.label) / 2, (x0 + x1) / 2
        foot_m = z1 - high_m if shape.role == "bay" else (z0 + z1 - high_m) / 2
        hidden = any(
            one.role in ("unit", "pack", "fitting")
            and one.points[0][0] < x_m + half
            and one.points[2][0] > x_m - half
            and one.points[0][1] < foot_m + high_m
            and one.points[2][1] > foot_m
            for one in section.shapes[index + 1 :]
        )
        if not hidden and x1 - x0 >= 2 * half and z1 - z0 >= 0.75 * high_m:
            placed.append(Caption(shape.label, shape.role, x_m, foot_m))
        else:
            at = x0 + half if shape.role == "bay" else x_m
            out.setdefault(z1 <= floor_m + 0.01, []).append((at, shape, (x0 if shape.role == "bay" else x_m, z1)))
    for below, several in out.items():
        several.sort(key=lambda one: one[0])
        level_m = floor_m if below else max(point[1] for _, _, point in several)
        apart = spread([at for at, _, _ in several], [wide_m(shape.label) for _, shape, _ in several], 0.3 * high_m)
        placed += [
            Caption(shape.label, shape.role, at, level_m + 0.4 * high_m, point)
            for at, (_, shape, point) in zip(apart, several, strict=True)
        ]
    return tuple(placed)


def spread(middles: list[float], widths: list[float], gap: float) -> list[float]:
    """Middles moved apart so that none touch: halfway between pushing all to the right and all to the left."""
    right, left = list(middles), list(middles)
    for at in range(1, len(middles)):
        right[at] = max(right[at], right[at - 1] + (widths[at - 1] + widths[at]) / 2 + gap)
    for at in reversed(range(len(middles) - 1)):
        left[at] = min(left[at], left[at + 1] - (widths[at] + widths[at + 1]) / 2 - gap)
    return [(a + b) / 2 for a, b in zip(right, left, strict=True)]


def _zone_shape(zone: Zone) -> Shape:
    place, size = zone.place, zone.size
    sides = _rect(place.x_m - size.length_m / 2, place.x_m + size.length_m / 2, place.z_m, place.z_m + size.height_m)
    return Shape("zone", sides, True, zone.tag, zone.name)


def _rect(x0: float, x1: float, z0: float, z1: float) -> tuple[Point, ...]:
    return ((x0, z0), (x1, z0), (x1, z1), (x0, z1))


def _outline(vehicle: Vehicle) -> tuple[Point, ...]:
    length, roof, skirt, floor = vehicle.length_m, vehicle.roof_m, vehicle.skirt_m, vehicle.floor_m
    if vehicle.kind == "coach":
        return (
            (0.0, skirt),
            (-0.06, floor),
            (0.12, roof - 0.25),
            (0.35, roof),
            (length - 0.05, roof),
            (length, roof - 0.1),
            (length, skirt),
        )
    if vehicle.kind == "rigid_truck":
        return ((0.0, skirt), (0.0, roof - 1.2), (0.3, roof - 0.4), (0.9, roof), (length, roof), (length, skirt))
    return ((0.0, skirt), (0.0, roof), (length, roof), (length, skirt))


def _axle_shape(tag: str, x_m: float, coupling: bool, vehicle: Vehicle) -> Shape:
    if coupling:
        return Shape("coupling", _rect(x_m - 0.08, x_m + 0.08, vehicle.skirt_m - 0.2, vehicle.skirt_m), True, tag)
    return Shape("wheel", ((x_m, WHEEL_RADIUS_M),), True, tag)


def _item_shape(item: Item) -> Shape:
    half = item.size.length_m / 2
    box = _rect(item.place.x_m - half, item.place.x_m + half, item.place.z_m, item.place.z_m + item.size.height_m)
    role: Role = "pack" if item.kind == "pack" else "fitting" if item.kind == "fitting" else "unit"
    return Shape(role, box, True, item.tag, item.tag if item.kind != "fitting" else item.name)


def _routes(design: Design) -> list[Shape]:
    """Cables of the system as thin lines along their ways, strings from where they come through the roof on to their
    nearest module.
    """
    middles = {item.tag: item.place.z_m + item.size.height_m / 2 for item in design.items}
    shapes = []
    for cable in design.cables:
        points = cable.path.points if cable.path is not None else ()
        ends = [(point.x_m, point.z_m) for point in points]
        if not ends:
            continue
        if cable.kind == "pv":
            xs = [module.x_m for module in design.job.roof.modules if module.string == cable.tag]
            ends.insert(0, (min(xs, key=lambda one, at=ends[0][0]: abs(one - at)), ends[0][1]))  # type: ignore[misc]
        # Within its space a cable goes along first, then up or down; it ends at the middle of a thing.
        ends[-1] = (ends[-1][0], middles.get(cable.end, ends[-1][1]))
        line = [ends[0]]
        for x, z in ends[1:]:
            line += [(x, line[-1][1]), (x, z)]
        shapes.append(Shape("route", tuple(dict.fromkeys(line)), False, cable.tag))
    return shapes
