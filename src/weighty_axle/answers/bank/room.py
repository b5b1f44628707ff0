"""Room for more packs, and what one more changes today. Made on demand: it derives the job anew."""

from __future__ import annotations

import itertools
from collections.abc import Iterator

from msgspec import Struct
from msgspec.structs import replace

from weighty_axle.design.derive import derive
from weighty_axle.design.figures import Figure
from weighty_axle.design.table import Design
from weighty_axle.job.edits.bank import set_pack_count
from weighty_axle.job.models.bank import Pack
from weighty_axle.job.stated import Place

_GAP_M = 0.02
_MOST_PACKS = 64
_MOST_CELLS = 4000


class Room(Struct, frozen=True, kw_only=True):
    """How many strings more each thing leaves room for, and how that is known."""

    what: str
    more: int
    why: str


class Change(Struct, frozen=True):
    """One figure before and after."""

    before: Figure
    after: Figure


class Expansion(Struct, frozen=True, kw_only=True):
    """Room by room, the least of them, and the changes with one string more (none when it cannot be tried)."""

    rooms: tuple[Room, ...]
    more: int
    changes: tuple[Change, ...]


def expansion(design: Design) -> Expansion:
    """Room in the bays, on the bars, under the packs' parallel limit and under the main fuse.

    Source: geometry and the statements of the job.
    """
    bank, spec = design.job.bank, design.job.bank.spec
    strings = design.bank.parallel
    free = free_places(design)
    fuse = design.wiring.main
    by_fuse = next(
        (
            n
            for n in range(64)
            if design.bank.prospective_a.value * (strings + n + 1) / strings > fuse.fuse_kind.breaks_a
        ),
        63,
    )
    rooms = (
        Room(
            what="bays that hold packs",
            more=len(free) // bank.series,
            why=f"{len(free)} free places of {spec.size.length_m:g} × {spec.size.width_m:g} × {spec.size.height_m:g} m",
        ),
        Room(
            what="ways on the bars",
            more=max(0, bank.links.bar_ways - strings),
            why=f"{bank.links.bar_ways} ways, {strings} taken",
        ),
        Room(
            what="the packs' own limit",
            more=max(0, spec.parallel_limit - strings),
            why=f"{spec.parallel_limit} in parallel at most, pack datasheet",
        ),
        Room(
            what="the main fuse's breaking capacity",
            more=by_fuse,
            why=f"{fuse.fuse_kind.name} breaks {fuse.fuse_kind.breaks_a / 1000:g} kA",
        ),
    )
    return Expansion(rooms=rooms, more=min(room.more for room in rooms), changes=_changes(design))


def free_places(design: Design) -> tuple[Place, ...]:
    """Places in the bays that hold packs where one more would stand clear of everything, on a grid of its own size,
    floor first.

    No more than a bank can have packs are looked for, and not in more than so many cells of the grid: a pack of a
    slipped size would have millions.
    """
    size = design.job.bank.spec.size
    boxes = [_box(item.place, item.size.length_m, item.size.width_m, item.size.height_m) for item in design.items]
    found: list[Place] = []
    for place in itertools.islice(_grid(design), _MOST_CELLS):
        box = _box(place, size.length_m, size.width_m, size.height_m)
        if not any(_meet(box, other) for other in boxes):
            found.append(place)
            boxes.append(box)
            if len(found) >= _MOST_PACKS:
                break
    return tuple(found)


def _grid(design: Design) -> Iterator[Place]:
    """Cells of a pack's size in the bays that hold packs."""
    size, half_width = design.job.bank.spec.size, design.job.vehicle.width_m / 2
    for bay in design.job.vehicle.bays:
        if not any(bay.start_m <= pack.place.x_m <= bay.end_m for pack in design.job.bank.packs):
            continue
        for z in _cells(bay.bottom_m, bay.top_m, size.height_m, middle=False):
            for x in _cells(bay.start_m, bay.end_m, size.length_m):
                for y in _cells(-half_width, half_width, size.width_m):
                    yield Place(x_m=round(x, 3), y_m=round(y, 3), z_m=round(z, 3))


def _cells(start_m: float, end_m: float, wide_m: float, *, middle: bool = True) -> Iterator[float]:
    """Middles (or lower edges) of as many cells as stand between two ends."""
    at = start_m + _GAP_M
    while at + wide_m <= end_m + 1e-9:
        yield at + wide_m / 2 if middle else at
        at += wide_m + _GAP_M


Space = tuple[float, float, float, float, float, float]


def _box(place: Place, length_m: float, width_m: float, height_m: float) -> Space:
    return (
        place.x_m - length_m / 2,
        place.x_m + length_m / 2,
        place.y_m - width_m / 2,
        place.y_m + width_m / 2,
        place.z_m,
        place.z_m + height_m,
    )


def _meet(one: Space, other: Space) -> bool:
    return all(one[axis] < other[axis + 1] - 0.001 and other[axis] < one[axis + 1] - 0.001 for axis in (0, 2, 4))


def _changes(design: Design) -> tuple[Change, ...]:
    bank = design.job.bank
    if len(bank.packs) + bank.series > _MOST_PACKS:
        return ()
    more = derive(set_pack_count(len(bank.packs) + bank.series).apply(design.job))
    free = free_places(design)
    if len(free) >= bank.series:
        packs = tuple(
            Pack(tag=pack.tag, place=place)
            for pack, place in zip(more.job.bank.packs[-bank.series :], free, strict=False)
        )
        grown = replace(more.job, bank=replace(more.job.bank, packs=(*bank.packs, *packs)))
        more = derive(grown)
    names = (
        "usable_energy_wh",
        "days",
        "discharge_limit_a",
        "one_pack_out_a",
        "charge_limit_a",
        "prospective_a",
        "spread_share",
        "mass_kg",
    )
    changes = [Change(getattr(design.bank, name), getattr(more.bank, name)) for name in names]
    changes.append(Change(design.place.gross_margin_kg, more.place.gross_margin_kg))
    return (
        *changes,
        *(Change(old.margin_kg, new.margin_kg) for old, new in zip(design.place.axles, more.place.axles, strict=True)),
    )
