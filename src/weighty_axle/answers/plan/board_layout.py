"""Boards laid out: units in rows on their plate, or one of them moved by hand; the places follow in the vehicle."""

from __future__ import annotations

import math

from msgspec.structs import replace

from weighty_axle.answers.plan.board import MARGIN_MM, SIZE, Plane, Unit, bend_of, parts_of, plane_of, unit_of
from weighty_axle.design.table import Design
from weighty_axle.job.edits.edit import WHOLE, Edit, place_path, with_value
from weighty_axle.job.models.document import Item, Job
from weighty_axle.job.models.place import Assembly
from weighty_axle.job.stated import Place


def laid_out(design: Design, one: Assembly) -> Edit | None:
    """Units of a board in rows on its plate, the heaviest lowest, with gaps, room kept, and a duct and bend room below
    every row; None where the plate is too small for them, or none is stated.

    Source: shelf packing, textbook; common practice, no source.
    """
    build = design.whole.build
    plate, on = parts_of({item.tag: item for item in design.items}, one)
    if plate is None or not on:
        return None
    plane = plane_of(plate, on)
    bend = max(bend_of(design, one).value, build.duct_mm + 2 * 10)
    units = sorted((unit_of(item, plane, build) for item in on), key=lambda unit: (-unit.mass_kg, unit.tag))
    spots = _shelved(units, plane, build.plate_gap_mm, bend)
    if spots is None:
        return None
    by_tag = {item.tag: item for item in on}
    places = {tag: _place(by_tag[tag], plane, x, y) for tag, (x, y) in spots.items()}

    def apply(job: Job) -> Job:
        for tag, place in places.items():
            job = with_value(job, f"{place_path(job, tag)}.place", place)
        return job

    return Edit(f"Lay out {one.name}", apply, system=WHOLE)


def _shelved(units: list[Unit], plane: Plane, gap_mm: float, below_mm: float) -> dict[str, tuple[float, float]] | None:
    """Lower left corners row by row from below; None where they do not fit."""
    spots: dict[str, tuple[float, float]] = {}
    x, floor, top, after = MARGIN_MM, below_mm, below_mm, 0.0
    for unit in units:
        left, right, below, above = unit.keep
        start = x + max(left, after, gap_mm if spots and x > MARGIN_MM else 0.0)
        if start + unit.wide_mm + max(right, 0.0) > plane.size[0] - MARGIN_MM and x > MARGIN_MM:
            floor = top + below_mm
            start, after = MARGIN_MM + left, 0.0
        if start + unit.wide_mm > plane.size[0] - MARGIN_MM + 0.5:
            return None
        spots[unit.tag] = (start, floor + max(0.0, below - below_mm))
        top = max(top, spots[unit.tag][1] + unit.high_mm + above)
        x, after = start + unit.wide_mm, right
        if spots[unit.tag][1] + unit.high_mm > plane.size[1] - MARGIN_MM + 0.5:
            return None
    return spots


def _place(item: Item, plane: Plane, x_mm: float, y_mm: float) -> Place:
    """Where in the vehicle a unit stands whose lower left corner is at a spot of the plate, its back on the plate."""
    wide = getattr(item.size, SIZE[plane.across]) * 1000
    if plane.mirrored:
        x_mm = plane.size[0] - x_mm - wide
    at = {f"{plane.across}_m": plane.low[0] + (x_mm + wide / 2) / 1000}
    high = getattr(item.size, SIZE[plane.up])
    at[f"{plane.up}_m"] = plane.low[1] + y_mm / 1000 + (0.0 if plane.up == "z" else high / 2)
    deep = getattr(item.size, SIZE[plane.through])
    now = getattr(item.place, f"{plane.through}_m")
    middle = now + (deep / 2 if plane.through == "z" else 0.0)
    side = math.copysign(1.0, middle - plane.outer)
    through = plane.outer + side * deep / 2
    at[f"{plane.through}_m"] = through - (deep / 2 if plane.through == "z" else 0.0)
    return replace(item.place, **{key: round(value, 4) for key, value in at.items()})


def shifted(design: Design, one: Assembly, tag: str, x_mm: float, y_mm: float, merge: str = "") -> Edit:
    """A unit of a board with its lower left corner at a spot of the plate.

    Raises: KeyError for a unit that is not on the board.
    Source: the plate's place.
    """
    plate, on = parts_of({item.tag: item for item in design.items}, one)
    plane = plane_of(plate, on)
    item = {each.tag: each for each in on}[tag]
    place = _place(item, plane, x_mm, y_mm)
    return Edit(
        f"Move {tag} on {one.name}",
        lambda job: with_value(job, f"{place_path(job, tag)}.place", place),
        merge,
        system=WHOLE,
    )
