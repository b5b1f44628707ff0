"""The plan of all bonds: DC negative, AC earth, cases and frames, each at its one place."""

from __future__ import annotations

from collections.abc import Iterator

from msgspec import Struct

from weighty_axle.design.conductors import conductor_area_mm2
from weighty_axle.design.table import Design
from weighty_axle.design.wiring.earthing import earth_size
from weighty_axle.job.models.inverters import FROM_INVERTERS
from weighty_axle.job.models.parts import Practice
from weighty_axle.reference import tables

CHASSIS_LEAST_MM2 = 16.0
"""The least conductor between DC negative and chassis [mm2]. Source: common practice, no source."""


FRAMES_MM2 = {"north_american": "6 AWG", "international": "6 mm2"}
"""Conductor of frames of modules. Source: NEC 690.45 and 250.120(C), IEC 60364-7-712, recalled."""


class Bond(Struct, frozen=True, kw_only=True):
    """One bonding conductor: from where to where, its size, and why that."""

    what: str
    start: str
    end: str
    size: str
    why: str


def bonds(design: Design) -> tuple[Bond, ...]:
    """Every bond, each at its one place: DC negative, AC earth, cases, frames; of a group that shares a bank those of
    its inverters and its AC side.

    Source: NEC table 250.122, IEC 60364-5-54 (recalled); common practice, no source.
    """
    return tuple(_bonds(design))


def chassis_size(design: Design) -> str:
    """What joins DC negative and chassis: half the main run's copper, at least the least.

    Source: common practice, no source.
    """
    stated = design.job.wiring.chassis_size
    if stated is not None:
        return stated
    main = design.wiring.main.chosen
    wanted = max(CHASSIS_LEAST_MM2, (_area(main.size) * main.count / 2) if main is not None else 0.0)
    return _next_size(design.job.practice, wanted)


def _next_size(practice: Practice, wanted_mm2: float) -> str:
    table = tables.ampacity_tables()["enclosed_awg"]
    sizes = (
        [row.size for row in table.rows]
        if practice == "north_american"
        else [row.size for row in tables.iec_conductors().rows]
    )
    rising = sorted(sizes, key=_area)
    return next((size for size in rising if _area(size) >= wanted_mm2 - 1e-9), rising[-1])


def _bonds(design: Design) -> Iterator[Bond]:
    job, practice = design.job, design.job.practice
    board = job.wiring.board
    if not design.system.shares_bank:
        yield Bond(
            what=f"DC negative of {board.tag}",
            start=f"minus bar of {board.tag}",
            end=job.wiring.chassis_at or "chassis, at one place",
            size=chassis_size(design),
            why="half the copper of the main run, at least 16 mm²; the only place where DC meets the chassis",
        )
    guards = {one.tag: one for one in design.guards.guards}
    for unit in job.inverters.units:
        guard = guards.get(f"W-{unit.tag}")
        if guard is not None:
            size = earth_size(practice, guard.rated_a, guard.size)
            yield Bond(
                what=f"case of {unit.tag}",
                start=unit.tag,
                end="chassis",
                size=size,
                why=f"carries a DC fault until its {guard.rated_a:g} A fuse opens",
            )
    bonded = [panel for panel in design.ac.panels if panel.bonded]
    for panel in design.ac.panels if job.inverters.units else ():
        neutral = "; neutral and earth meet here" if panel in bonded else "; neutral kept apart from earth here"
        start = panel.fed_from if panel.fed_from != FROM_INVERTERS else " and ".join(u.tag for u in job.inverters.units)
        yield Bond(
            what=f"earth of {panel.tag}",
            start=start,
            end=panel.tag,
            size=earth_size(practice, panel.breaker_a, panel.size),
            why=f"with its feeder of {panel.breaker_a:g} A{neutral}",
        )
    if job.inverters.units and design.ac.panels:
        first = bonded[0] if bonded else design.ac.panels[0]
        yield Bond(
            what="AC earth",
            start=first.tag,
            end="chassis, at one place",
            size=earth_size(practice, first.breaker_a, first.size),
            why="one place, beside that of DC negative",
        )
    for inlet in design.ac.inlets if job.inverters.units else ():
        yield Bond(
            what=f"earth of {inlet.tag}",
            start=inlet.tag,
            end=design.ac.fed_from if design.ac.fed_from != inlet.tag else "the inverters' inputs",
            size=earth_size(practice, inlet.amps, FRAMES_MM2[practice]),
            why=f"with its lines of {inlet.amps:g} A",
        )
    if job.roof.modules and not design.system.shares_bank:
        yield Bond(
            what="frames of the modules and their rails",
            start="roof",
            end="chassis",
            size=FRAMES_MM2[practice],
            why="every rail; toothed washers through the anodising",
        )


def _area(size: str) -> float:
    try:
        return conductor_area_mm2(size)
    except ValueError:
        return 0.0
