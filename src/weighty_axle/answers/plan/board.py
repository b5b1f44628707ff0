"""A board built on the bench: its units on the plate, wire ducts, drilling centres, weight, lifting, and the bay door.

Seen from where it is worked at: across from the left edge, up from the lower one, in millimetres.
"""

from __future__ import annotations

from typing import Literal, NamedTuple

from msgspec import Struct

from weighty_axle.answers.kept import kept
from weighty_axle.answers.wiring.joints import joints
from weighty_axle.design.conductors import outer_mm
from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Figure, Given
from weighty_axle.design.place.clear import words_of
from weighty_axle.design.table import Design
from weighty_axle.job.models.build import Build
from weighty_axle.job.models.document import Item
from weighty_axle.job.models.place import Assembly
from weighty_axle.job.stated import Clear

BEND_TIMES = 6.0
"""Least radius of a bend in cable diameters, fine-stranded. Source: common practice, no source."""

EDGE_MM = 12.0
"""Taken from the edge of a unit to its holes until these are stated. Source: common practice, no source."""

HOLE_MM = 6.5
"""Taken for their size: M6 passes. Source: ISO 273, medium fit 6.6 mm, recalled; rounded to a usual drill."""

MARGIN_MM = 30.0
"""Kept free along the edges of a plate. Source: common practice, no source."""

LIFT_MM = 11.0
"""Holes to lift at: M10 passes. Source: ISO 273, medium fit, recalled."""

Axis = Literal["x", "y", "z"]


class Hole(NamedTuple):
    """A drilling centre from the lower left corner [mm], its size, and what it is for."""

    x_mm: float
    y_mm: float
    hole_mm: float
    tag: str


class Unit(Struct, frozen=True, kw_only=True):
    """A unit on the plate: its lower left corner and size on it, how far it stands off, and the room kept around it."""

    tag: str
    name: str
    x_mm: float
    y_mm: float
    wide_mm: float
    high_mm: float
    deep_mm: float
    mass_kg: float
    keep: tuple[float, float, float, float]
    holes: tuple[Hole, ...]
    usual_holes: bool


class Duct(NamedTuple):
    """A wire duct: lower left corner and size [mm]."""

    x_mm: float
    y_mm: float
    wide_mm: float
    high_mm: float


class BoardPlan(Struct, frozen=True, kw_only=True):
    """A board as it is built. `faults` are sentences: what overlaps, stands over the edge or has too little room."""

    tag: str
    name: str
    plate: str
    plate_stated: bool
    wide_mm: float
    high_mm: float
    units: tuple[Unit, ...]
    ducts: tuple[Duct, ...]
    lift: tuple[Hole, ...]
    mass_kg: Figure
    middle_mm: tuple[float, float]
    bend_mm: Figure
    door: str
    faults: tuple[str, ...]

    @property
    def holes(self) -> tuple[Hole, ...]:
        """All drilling centres, unit by unit, then those to lift at."""
        return (*(hole for unit in self.units for hole in unit.holes), *self.lift)


class Plane(NamedTuple):
    """How a plate stands: the axis through it, the axes across and up, whether across runs backwards, its place and
    size.
    """

    through: Axis
    across: Axis
    up: Axis
    mirrored: bool
    outer: float
    low: tuple[float, float]
    size: tuple[float, float]


@kept(
    "clear",
    "direct",
    "flow.ways",
    "items",
    "job.wiring",
    "tree.ways",
    "whole.assemblies",
    "whole.build.duct_mm",
    "whole.build.mounts",
)
def board_plans(design: Design) -> tuple[BoardPlan, ...]:
    """Every board built on the bench, as its units are placed.

    Source: the places; bends and margins common practice, no source.
    """
    there = {item.tag for item in design.items}
    return tuple(board_plan(design, one) for one in design.whole.assemblies if there & set(one.items))


def board_plan(design: Design, one: Assembly) -> BoardPlan:
    """A board as its units are placed.

    Source: the places; textbook statics.
    """
    build = design.whole.build
    items = {item.tag: item for item in design.items}
    plate, on = parts_of(items, one)
    plane = plane_of(plate, on)
    units = tuple(unit_of(item, plane, build) for item in on)
    bend = bend_of(design, one)
    mass = Figure.total(
        name=f"{one.tag} weighs",
        unit="kg",
        formula="Σ of what it is made of",
        inputs=tuple(Given(item.tag, item.mass_kg, "kg") for item in (*on, *([plate] if plate is not None else []))),
        source=TEXTBOOK,
        limit="without cables and small parts",
    )
    middle = _middle(units, plane, plate)
    return BoardPlan(
        tag=one.tag,
        name=one.name,
        plate=plate.name if plate is not None else "no plate stated: around its units",
        plate_stated=plate is not None,
        wide_mm=plane.size[0],
        high_mm=plane.size[1],
        units=units,
        ducts=_ducts(units, plane, build),
        lift=_lift(middle, plane, units),
        mass_kg=mass,
        middle_mm=middle,
        bend_mm=bend,
        door=_door(design, one),
        faults=tuple(_faults(units, plane, bend.value)),
    )


def parts_of(items: dict[str, Item], one: Assembly) -> tuple[Item | None, list[Item]]:
    """The plate, which is a flat fitting, and what stands on it."""
    own = [items[tag] for tag in one.items if tag in items]
    flat = [item for item in own if item.kind == "fitting"]
    plate = max(flat, key=lambda item: _sides(item)[-1] * _sides(item)[-2], default=None)
    return plate, [item for item in own if item is not plate]


def _sides(item: Item) -> list[float]:
    return sorted((item.size.length_m, item.size.width_m, item.size.height_m))


SIZE: dict[Axis, str] = {"x": "length_m", "y": "width_m", "z": "height_m"}


def _extent(item: Item, axis: Axis) -> tuple[float, float]:
    size: float = getattr(item.size, SIZE[axis])
    at: float = getattr(item.place, f"{axis}_m")
    return (at, at + size) if axis == "z" else (at - size / 2, at + size / 2)


def plane_of(plate: Item | None, on: list[Item]) -> Plane:
    """The plate's plane; without one, the upright plane along the vehicle around all units."""
    flat = plate if plate is not None else on[0]
    through: Axis = min(("x", "y", "z"), key=lambda axis: getattr(flat.size, SIZE[axis])) if plate is not None else "y"
    across: Axis = "y" if through == "x" else "x"
    up: Axis = "y" if through == "z" else "z"
    around = [plate] if plate is not None else on
    spans = [[_extent(item, axis) for item in around] for axis in (across, up)]
    low = (min(one[0] for one in spans[0]), min(one[0] for one in spans[1]))
    size = tuple((max(one[1] for one in span) - start) * 1000 for span, start in zip(spans, low, strict=True))
    behind = _extent(flat, through)
    off = [sum(_extent(item, through)) / 2 for item in on] or [behind[1]]
    far = sum(off) / len(off) >= sum(behind) / 2
    # Looked at from the side the units are on: along is to the right seen from the left side of the vehicle.
    mirrored = (through == "y" and far) or (through == "x" and not far)
    return Plane(through, across, up, mirrored, behind[1] if far else behind[0], low, (size[0], size[1]))


def unit_of(item: Item, plane: Plane, build: Build) -> Unit:
    """A thing as a unit of a plate, with its holes as stated for its type or taken from its outline."""
    across, up = _extent(item, plane.across), _extent(item, plane.up)
    deep = _extent(item, plane.through)
    wide, high = (across[1] - across[0]) * 1000, (up[1] - up[0]) * 1000
    x, y = (across[0] - plane.low[0]) * 1000, (up[0] - plane.low[1]) * 1000
    if plane.mirrored:
        x = plane.size[0] - x - wide
    mount = next((one for one in build.mounts if one.type == item.name), None)
    inside = (
        (mount.wide_mm, mount.high_mm)
        if mount is not None
        else (max(wide - 2 * EDGE_MM, wide / 2), max(high - 2 * EDGE_MM, high / 2))
    )
    size = mount.hole_mm if mount is not None else HOLE_MM
    holes = tuple(
        Hole(round(x + wide / 2 + a * inside[0] / 2, 1), round(y + high / 2 + b * inside[1] / 2, 1), size, item.tag)
        for b in (-1, 1)
        for a in (-1, 1)
    )
    return Unit(
        tag=item.tag,
        name=item.name,
        x_mm=round(x, 1),
        y_mm=round(y, 1),
        wide_mm=round(wide, 1),
        high_mm=round(high, 1),
        deep_mm=round((deep[1] - deep[0]) * 1000, 1),
        mass_kg=item.mass_kg,
        keep=_keep(item.clear, plane),
        holes=holes,
        usual_holes=mount is None,
    )


_TOWARDS: dict[Axis, tuple[str, str]] = {"x": ("front", "rear"), "y": ("left", "right"), "z": ("below", "above")}
"""Faces at the low and the high end of an axis."""


def _keep(clear: Clear, plane: Plane) -> tuple[float, float, float, float]:
    """Room kept at the left, right, lower and upper side as the board is looked at [mm]."""
    low, high = (getattr(clear, f"{face}_m") * 1000 for face in _TOWARDS[plane.across])
    if plane.mirrored:
        low, high = high, low
    below, above = (getattr(clear, f"{face}_m") * 1000 for face in _TOWARDS[plane.up])
    return low, high, below, above


def bend_of(design: Design, one: Assembly) -> Figure:
    """Room the thickest conductor that lands on the board needs to bend."""
    ends = set(one.items)
    sizes = [
        joint.size
        for own in (design, *design.others)
        for joint in joints(own)
        if ends & {*joint.start.at.split(), *joint.end.at.split()}
    ]
    thickest = max((outer_mm(size) for size in sizes), default=0.0)
    return Figure.product(
        name=f"{one.tag}: bend of its thickest conductor",
        unit="mm",
        formula="outer diameter × times",
        inputs=(Given("Outer diameter", thickest, "mm"), Given("Times", BEND_TIMES, "ratio")),
        source=PRACTICE,
    )


def _middle(units: tuple[Unit, ...], plane: Plane, plate: Item | None) -> tuple[float, float]:
    """Centre of gravity on the plate [mm]."""
    masses = [(unit.mass_kg, unit.x_mm + unit.wide_mm / 2, unit.y_mm + unit.high_mm / 2) for unit in units]
    if plate is not None:
        masses.append((plate.mass_kg, plane.size[0] / 2, plane.size[1] / 2))
    total = sum(one[0] for one in masses)
    if not total:
        return plane.size[0] / 2, plane.size[1] / 2
    across, up = (round(sum(one[0] * one[at] for one in masses) / total, 1) for at in (1, 2))
    return across, up


def _lift(middle: tuple[float, float], plane: Plane, units: tuple[Unit, ...]) -> tuple[Hole, ...]:
    """Two holes at the upper edge, as far left as right of the centre of gravity, so that it hangs level."""
    reach = min(middle[0], plane.size[0] - middle[0]) - MARGIN_MM
    if reach <= MARGIN_MM or middle[1] >= plane.size[1] - MARGIN_MM:
        return ()
    top = plane.size[1] - MARGIN_MM / 2
    found = tuple(Hole(round(middle[0] + side * reach, 1), top, LIFT_MM, "to lift") for side in (-1, 1))
    covered = any(
        unit.x_mm < hole.x_mm < unit.x_mm + unit.wide_mm and unit.y_mm + unit.high_mm > hole.y_mm
        for unit in units
        for hole in found
    )
    return () if covered else found


def _rows(units: tuple[Unit, ...]) -> list[list[Unit]]:
    """Units row by row from below: those whose middles lie within another's height stand in its row."""
    rows: list[list[Unit]] = []
    for unit in sorted(units, key=lambda one: one.y_mm):
        middle = unit.y_mm + unit.high_mm / 2
        row = next((row for row in rows if row[0].y_mm <= middle <= row[0].y_mm + row[0].high_mm), None)
        if row is not None:
            row.append(unit)
        else:
            rows.append([unit])
    return rows


def _ducts(units: tuple[Unit, ...], plane: Plane, build: Build) -> tuple[Duct, ...]:
    """A duct below every row that leaves room for one, as wide as the plate."""
    found = []
    floor = 0.0
    for row in _rows(units):
        low = min(unit.y_mm for unit in row)
        if build.duct_mm and low - floor >= build.duct_mm:
            found.append(
                Duct(
                    MARGIN_MM,
                    round(low - (low - floor) / 2 - build.duct_mm / 2, 1),
                    max(0.0, plane.size[0] - 2 * MARGIN_MM),
                    build.duct_mm,
                )
            )
        floor = max(unit.y_mm + unit.high_mm for unit in row)
    return tuple(found)


def _door(design: Design, one: Assembly) -> str:
    """Whether it goes through the door of its bay, as the step Place has it."""
    bad = next((found for found in design.clear.no_door if found.tag == one.tag), None)
    if bad is None:
        return "goes through the door of its bay, as far as one is stated"
    wide, high = (value * 1000 for value in bad.opening_m)
    return f"does not go through the door of {bad.bay}, {wide:.0f} × {high:.0f} mm: build it there, or in two parts"


def _faults(units: tuple[Unit, ...], plane: Plane, bend_mm: float) -> list[str]:
    found = []
    for unit in units:
        left, right, below, above = unit.keep
        over = (
            unit.x_mm < -0.5
            or unit.y_mm < -0.5
            or unit.x_mm + unit.wide_mm > plane.size[0] + 0.5
            or unit.y_mm + unit.high_mm > plane.size[1] + 0.5
        )
        if over:
            found.append(f"{unit.tag} stands over the edge of the plate.")
        for other in units:
            if other is unit:
                continue
            gap_x = max(other.x_mm - unit.x_mm - unit.wide_mm, unit.x_mm - other.x_mm - other.wide_mm)
            gap_y = max(other.y_mm - unit.y_mm - unit.high_mm, unit.y_mm - other.y_mm - other.high_mm)
            if gap_x < -0.5 and gap_y < -0.5:
                if unit.tag < other.tag:
                    found.append(f"{unit.tag} and {other.tag} lie over one another.")
                continue
            if gap_y < 0 <= gap_x:
                side, room = ("right", right) if other.x_mm > unit.x_mm else ("left", left)
            elif gap_x < 0 <= gap_y:
                side, room = ("above", above) if other.y_mm > unit.y_mm else ("below", below)
            else:
                continue
            gap = max(gap_x, gap_y)
            if gap < room - 0.5:
                where = words_of(side) if side in ("above", "below") else f"at its {side}"
                found.append(f"{unit.tag} wants {room:.0f} mm free {where}; {other.tag} leaves {gap:.0f} mm.")
    return [*found, *_tight(units, bend_mm)]


def _tight(units: tuple[Unit, ...], bend_mm: float) -> list[str]:
    """Rows that leave no room below for the thickest conductor to bend."""
    found, floor = [], 0.0
    for row in _rows(units):
        low = min(unit.y_mm for unit in row)
        if bend_mm and low - floor < bend_mm - 0.5:
            tags = ", ".join(unit.tag for unit in row)
            found.append(
                f"Below {tags} there are {low - floor:.0f} mm; the thickest conductor bends in {bend_mm:.0f} mm."
            )
        floor = max(unit.y_mm + unit.high_mm for unit in row)
    return found
