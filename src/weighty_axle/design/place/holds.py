"""How things are held: what a hard stop, a turn and a bump ask of bolts and straps, and what they carry."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator, Mapping
from typing import Literal, NamedTuple

from msgspec import Struct
from msgspec.structs import replace

from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.job.models.document import Item, Job
from weighty_axle.job.models.place import MOST_HOLDS, Hold
from weighty_axle.job.models.vehicle import Vehicle
from weighty_axle.job.stated import Size
from weighty_axle.job.tags import used_tags
from weighty_axle.physics.body.bolts import (
    panel_pull_limit_n,
    panel_shear_limit_n,
    pull_limit_n,
    shear_limit_n,
    use_share,
    worst_pull_n,
)
from weighty_axle.reference.tables import HoldFactors, bolt_grades, bolts, hold_factors

GRAVITY_M_PER_S2 = 9.80665
"""Standard gravity. Source: third general conference on weights and measures, 1901."""

CRUSH_MPA = 2.5
"""Softwood and plywood across the grain. Source: EN 338, class C24 (recalled)."""

PLYWOOD_KG_PER_M3 = 500.0
"""Density of birch-faced plywood, low. Source: common practice, no source."""

LIGHT_KG = 2.0
"""What weighs less is not asked about. Source: common practice, no source."""

_BOLTS = "EN 1993-1-8 tables 2.1 and 3.4, ISO 898-1 (recalled; check against your copy)"
_PANEL = "EN 1995-1-1 equation 8.20, EN 338 class C24 (recalled; check against your copy)"


class Asked(NamedTuple):
    """What fixings are asked to hold, in times of the weight, and why."""

    forward_g: float
    sideways_g: float
    up_g: float
    words: str
    source: str


class HoldResult(Struct, frozen=True, kw_only=True):
    """One fixing: what it holds, what is asked of it, and how much of it is used at its worst.

    `shear_n` and `pull_n` are of the worst bolt in the case that uses most; None for straps.
    """

    tag: str
    items: tuple[str, ...]
    mass_kg: Figure
    forward_n: Figure
    sideways_n: Figure
    up_n: Figure
    shear_n: Figure | None
    pull_n: Figure | None
    use_share: Figure


class HoldsResult(Struct, frozen=True, kw_only=True):
    """Every fixing, and new things of some weight that no fixing is stated for."""

    asked: str
    factors_g: tuple[float, float, float]
    holds: dict[str, HoldResult]
    loose: tuple[str, ...]


def asked_of(vehicle: Vehicle) -> Asked:
    """Factors by the vehicle's class, those that were stated instead of them."""
    table = hold_factors()
    row = next(one for one in table.rows if _is_of(one, vehicle))
    own = (vehicle.hold_forward_g, vehicle.hold_sideways_g, vehicle.hold_up_g)
    usual = (row.forward_g, row.sideways_g, row.up_g)
    forward, sideways, up = (mine if mine is not None else theirs for mine, theirs in zip(own, usual, strict=True))
    stated = any(one is not None for one in own)
    return Asked(
        forward, sideways, up, f"{row.words}{', own factors' if stated else ''}", "stated" if stated else table.cited
    )


def _is_of(row: HoldFactors, vehicle: Vehicle) -> bool:
    driven = vehicle.kind in ("coach", "rigid_truck")
    people = vehicle.kind == "coach"
    return row.driven == driven and row.carries_people == people and vehicle.gross_limit_kg <= row.most_kg


def holds(vehicle: Vehicle, items: tuple[Item, ...], stated: tuple[Hold, ...]) -> HoldsResult:
    """Every stated fixing against what its vehicle's class asks.

    Source: textbook relations (statics of a rigid box); physics.bolts.
    """
    asked = asked_of(vehicle)
    by_tag = {item.tag: item for item in items}
    held = {tag for one in stated for tag in one.items}
    found = {
        one.tag: _result(one, asked, by_tag)
        for one in stated
        if any(tag in by_tag and by_tag[tag].mass_kg > 0 for tag in one.items)
    }
    loose = (item.tag for item in items if not item.was_there and item.mass_kg >= LIGHT_KG and item.tag not in held)
    return HoldsResult(
        asked=asked.words, factors_g=(asked.forward_g, asked.sideways_g, asked.up_g), holds=found, loose=tuple(loose)
    )


class Box(NamedTuple):
    """What one fixing holds, as one rigid box: mass [kg], outer size [m]."""

    mass_kg: float
    size: Size


def box_of(items: list[Item]) -> Box:
    """The outline around items that are fixed as one."""
    length = max(one.place.x_m + one.size.length_m / 2 for one in items) - min(
        one.place.x_m - one.size.length_m / 2 for one in items
    )
    width = max(one.place.y_m + one.size.width_m / 2 for one in items) - min(
        one.place.y_m - one.size.width_m / 2 for one in items
    )
    height = max(one.place.z_m + one.size.height_m for one in items) - min(one.place.z_m for one in items)
    return Box(sum(one.mass_kg for one in items), Size(length_m=length, width_m=width, height_m=height))


def _result(hold: Hold, asked: Asked, by_tag: Mapping[str, Item]) -> HoldResult:
    items = [by_tag[tag] for tag in hold.items if tag in by_tag]
    mass = Figure.total(
        name=f"{hold.tag} holds",
        unit="kg",
        formula="Σ mass",
        inputs=tuple(Given(one.tag, one.mass_kg, "kg") for one in items),
        source="datasheet",
    )
    forces = tuple(
        Figure.product(
            name=f"{hold.tag} {words}",
            unit="N",
            formula="mass × standard gravity × factor",
            inputs=(mass, Given("Gravity", GRAVITY_M_PER_S2, "m/s²"), Given(f"Factor, {asked.words}", factor, "1")),
            source=asked.source,
        )
        for words, factor in (
            ("forward", asked.forward_g),
            ("sideways", asked.sideways_g),
            ("up, beyond the weight", asked.up_g),
        )
    )
    weight_n = mass.value * GRAVITY_M_PER_S2
    cases = {
        "in a hard stop": (forces[0].value, 0.0, -weight_n),
        "in a turn or a blow from the side": (0.0, forces[1].value, -weight_n),
        "thrown up": (0.0, 0.0, forces[2].value),
        "in a dip": (0.0, 0.0, -weight_n - forces[2].value),
    }
    if hold.how == "straps":
        shear, pull, use = None, None, _straps(hold, cases)
    else:
        shear, pull, use = _bolted(hold, items, cases)
    return HoldResult(
        tag=hold.tag,
        items=tuple(one.tag for one in items),
        mass_kg=mass,
        forward_n=forces[0],
        sideways_n=forces[1],
        up_n=forces[2],
        shear_n=shear,
        pull_n=pull,
        use_share=use,
    )


Force = tuple[float, float, float]
"""Along, across and up [N]; up includes the weight."""


def _straps(hold: Hold, cases: Mapping[str, Force]) -> Figure:
    """Straps by themselves: half of them pull against a force along the floor, all of them against one upward."""
    angle = math.radians(hold.strap_deg)
    level = hold.straps / 2 * hold.strap_n * math.cos(angle) * math.cos(math.radians(45))
    upward = hold.straps * hold.strap_n * math.sin(angle)
    asked = {words: max(math.hypot(fx, fy) / level, max(0.0, fz) / upward) for words, (fx, fy, fz) in cases.items()}
    case = max(asked, key=asked.__getitem__)
    return Figure(
        name=f"{hold.tag} used",
        value=asked[case],
        unit="1",
        formula="worst of: force ÷ (half the straps × rating × cos angle × cos 45°), upward ÷ (straps × rating × "
        "sin angle)",
        inputs=(
            Given("Straps", hold.straps, "count"),
            Given("Rated, one strap", hold.strap_n, "N"),
            Given("Above the floor", hold.strap_deg, "deg"),
            *(Given(f"{words}, level", math.hypot(fx, fy), "N") for words, (fx, fy, _) in cases.items()),
            *(Given(f"{words}, upward", max(0.0, fz), "N") for words, (*_, fz) in cases.items()),
        ),
        source=f"{TEXTBOOK}; direct lashing at 45° from above, no friction counted (EN 12195-1, recalled)",
        limit=case,
    )


class _Pattern(NamedTuple):
    """A bolt pattern in its plane: depth of the centre of gravity from it [m], rows apart either way [m]."""

    depth_m: float
    rows_m: float
    other_m: float


def _pattern(hold: Hold, items: list[Item]) -> _Pattern:
    box = box_of(items)
    size, bottom = box.size, min(one.place.z_m for one in items)
    centre = sum(one.mass_kg * (one.place.z_m + one.size.height_m / 2 - bottom) for one in items) / box.mass_kg
    depth, first, second = {
        "floor": (centre, size.length_m, size.width_m),
        "ceiling": (size.height_m - centre, size.length_m, size.width_m),
        "wall": (size.width_m / 2, size.length_m, size.height_m),
        "cross_wall": (size.length_m / 2, size.width_m, size.height_m),
    }[hold.how]
    return _Pattern(depth, hold.rows_m or first, hold.other_rows_m or second)


def _in_plane(how: str, force: Force) -> tuple[float, float, float]:
    """A force as pull off the plane and its two parts in it: along the first rows' way, along the other."""
    fx, fy, fz = force
    if how == "wall":
        return abs(fy), fx, fz
    if how == "cross_wall":
        return abs(fx), fy, fz
    return (-fz if how == "ceiling" else fz), fx, fy


def _bolted(hold: Hold, items: list[Item], cases: Mapping[str, Force]) -> tuple[Figure, Figure, Figure]:
    pattern = _pattern(hold, items)
    bolt = next(one for one in bolts().rows if one.size == hold.bolt)
    grade = next(one for one in bolt_grades().rows if one.name == hold.grade)
    shear_limit = shear_limit_n(bolt.stress_mm2, grade.strength_mpa, grade.shear_share)
    pull_limit = pull_limit_n(bolt.stress_mm2, grade.strength_mpa)
    found: list[tuple[float, str, str, float, float]] = []
    for words, force in cases.items():
        off, one, other = _in_plane(hold.how, force)
        shear = math.hypot(one, other) / hold.bolts
        turning = sorted(
            ((abs(one) * pattern.depth_m, pattern.rows_m), (abs(other) * pattern.depth_m, pattern.other_m)),
            key=lambda each: each[1],
        )
        pull = worst_pull_n(off, between_rows=turning[0], along_rows=turning[1], bolts=hold.bolts)
        found.append((use_share(shear, pull, shear_limit=shear_limit, pull_limit=pull_limit), words, "", shear, pull))
        if hold.into == "plywood":
            found += [
                (part, words, f", the panel {how}", shear, pull)
                for part, how in (
                    (shear / panel_shear_limit_n(bolt.diameter_mm, hold.panel_mm, PLYWOOD_KG_PER_M3), "at the holes"),
                    (pull / _panel_pull_limit(hold, bolt.washer_mm, bolt.hole_mm), "behind the washers"),
                )
            ]
    use, case, panel, shear, pull = max(found, key=lambda one: one[0])
    limits = [Given("One bolt across", shear_limit, "N"), Given("One bolt along its axis", pull_limit, "N")]
    if hold.into == "plywood":
        limits += [
            Given("Panel at a hole", panel_shear_limit_n(bolt.diameter_mm, hold.panel_mm, PLYWOOD_KG_PER_M3), "N"),
            Given("Panel behind a washer or plate", _panel_pull_limit(hold, bolt.washer_mm, bolt.hole_mm), "N"),
        ]
    across = Figure(
        name=f"{hold.tag} worst bolt, across",
        value=shear,
        unit="N",
        formula="force in the plane ÷ bolts",
        inputs=(Given("Force in the plane", shear * hold.bolts, "N"), Given("Bolts", hold.bolts, "count")),
        source=TEXTBOOK,
        limit=case,
    )
    off, one, other = _in_plane(hold.how, cases[case])
    along = Figure(
        name=f"{hold.tag} worst bolt, pull",
        value=pull,
        unit="N",
        formula="off ÷ bolts + moment between rows ÷ (apart × bolts of a row r) + 3 × moment along rows × (r − 1) ÷ "
        "(length × r × (r + 1)), a moment being force × depth; not below 0",
        inputs=(
            Given("Force off the plane", off, "N"),
            Given("In the plane, first way", abs(one), "N"),
            Given("Bolts apart, first way", pattern.rows_m, "m"),
            Given("In the plane, other way", abs(other), "N"),
            Given("Bolts apart, other way", pattern.other_m, "m"),
            Given("Depth of its centre of gravity", pattern.depth_m, "m"),
            Given("Bolts", hold.bolts, "count"),
        ),
        source=TEXTBOOK,
        limit=case,
    )
    used = Figure(
        name=f"{hold.tag} used",
        value=use,
        unit="1",
        formula="worst of: across ÷ its limit + pull ÷ (1.4 × its limit), pull ÷ its limit, and of the panel's",
        inputs=(across, along, *limits),
        source=f"{_BOLTS}{f'; {_PANEL}' if hold.into == 'plywood' else ''}",
        limit=f"{case}{panel}",
    )
    return across, along, used


def _panel_pull_limit(hold: Hold, washer_mm: float, hole_mm: float) -> float:
    return panel_pull_limit_n(
        hold.plate_mm or washer_mm, hole_mm, round_plate=hold.plate_mm is None, crush_mpa=CRUSH_MPA
    )


_HOWS = {
    "floor": "on the floor",
    "wall": "on a side wall",
    "cross_wall": "on a cross wall",
    "ceiling": "under a ceiling",
}


def fixed_words(hold: Hold) -> str:
    """How something is fixed, in words."""
    if hold.how == "straps":
        return f"{hold.straps} straps of {hold.strap_n:g} N"
    into = "structure" if hold.into == "frame" else f"{hold.panel_mm:g} mm plywood"
    return f"{_HOWS[hold.how]}, {hold.bolts} × {hold.bolt} {hold.grade} into {into}"


def enough(hold: Hold, vehicle: Vehicle, items: tuple[Item, ...]) -> Hold | None:
    """The same fixing with the fewest, then the smallest bolts that carry everything; None where none of the table do.

    Straps become bolts through the floor into structure; so does a panel that cannot carry them.
    """
    start = hold if hold.how != "straps" else replace(hold, how="floor")
    for into in dict.fromkeys((start.into, "frame")):
        for count, size in _tries():
            tried = replace(start, bolts=count, bolt=size, into=into)
            found = holds(vehicle, items, (tried,)).holds.get(hold.tag)
            if found is not None and found.use_share.value <= 1:
                return tried
    return None


def _tries() -> Iterator[tuple[int, str]]:
    for count in (4, 6, 8, 12):
        for bolt in bolts().rows:
            yield count, bolt.size


def hold_all(job: Job, items: tuple[Item, ...], loose: tuple[str, ...]) -> tuple[tuple[Hold, ...], tuple[str, ...]]:
    """A fixing of its own for each loose thing, and one for what is built as one, with the fewest bolts that carry it;
    and the tags none of them carry.

    What stands on a floor is bolted down, what touches a ceiling hangs from it, what is in between goes to the side
    wall.
    """
    built = {tag: one.items for one in job.assemblies for tag in one.items}
    done: set[str] = set()
    taken, made, left = used_tags(job), list[Hold](), list[str]()
    names = (name for at in itertools.count(1) if (name := f"HD{at}") not in taken)
    for item in items:
        if item.tag not in loose or item.tag in done:
            continue
        together = tuple(tag for tag in built.get(item.tag, (item.tag,)) if tag in loose)
        done |= set(together)
        how = _held_by(job.vehicle, [one for one in items if one.tag in together])
        better = enough(Hold(tag="HD0", items=together, how=how), job.vehicle, items)
        if better is None or len(job.holds) + len(made) >= MOST_HOLDS:
            left += together
        else:
            made.append(replace(better, tag=next(names)))
    return tuple(made), tuple(left)


def _held_by(vehicle: Vehicle, items: list[Item]) -> Literal["floor", "wall", "ceiling"]:
    """What things that are fixed as one are fixed to: a floor under them, a ceiling they touch, or the side wall."""
    bottom = min(item.place.z_m for item in items)
    top = max(item.place.z_m + item.size.height_m for item in items)
    bays = [bay for bay in vehicle.bays if bay.start_m <= items[0].place.x_m <= bay.end_m]
    floors = (*(bay.bottom_m for bay in bays), vehicle.floor_m)
    if not all(bottom - floor > 0.1 or bottom < floor for floor in floors):
        return "floor"
    ceilings = (*(bay.top_m for bay in bays if bay.bottom_m <= bottom < bay.top_m), vehicle.roof_m)
    return "ceiling" if any(abs(ceiling - top) <= 0.05 for ceiling in ceilings) else "wall"
