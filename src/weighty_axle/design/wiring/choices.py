"""Conductors a run may be made of: each with its ampacity in place, drop, loss and mass."""

from __future__ import annotations

import functools
import math
from typing import NamedTuple

from msgspec import Struct

from weighty_axle.design.conductors import conductor_area_mm2, conductor_ohm_per_km
from weighty_axle.job.models.parts import Practice
from weighty_axle.job.models.wiring import Wiring
from weighty_axle.physics.electric import conductors
from weighty_axle.reference.tables import AmpacityTable, ampacity_tables, fuse_ratings

MOST_IN_PARALLEL = 3
SMALLEST_MM2 = 4.0
NEXT_UP_TO_A = 800.0
"""Up to this rating the next standard one above an ampacity is permitted.

Source: NEC (NFPA 70) 2023 240.4(B), recalled.
"""


class ConductorChoice(Struct, frozen=True, kw_only=True):
    """One way to make a run: `count` conductors of a size in parallel, and what speaks against it ('' if nothing).

    `next_up`: its fuse is the next standard rating above its ampacity, which the practice permits.
    """

    size: str
    count: int
    ampacity_a: float
    drop_v: float
    drop_share: float
    loss_w: float
    copper_kg: float
    against: str
    next_up: bool = False


def none_fits(*, copper_kg: float) -> ConductorChoice:
    """What stands for a run that no conductor of the table serves."""
    return ConductorChoice(
        size="none",
        count=1,
        ampacity_a=0.0,
        drop_v=math.nan,
        drop_share=math.nan,
        loss_w=math.nan,
        copper_kg=copper_kg,
        against="",
    )


def choice_name(candidate: ConductorChoice) -> str:
    """How a choice is written: `4/0 AWG`, `2 x 70 mm2`."""
    return candidate.size if candidate.count == 1 else f"{candidate.count} x {candidate.size}"


def conductor_choices(
    stated: Wiring,
    table: AmpacityTable,
    length_m: float,
    current_a: float,
    fuse_a: float,
    nominal_v: float,
    needed_a: float = math.inf,
) -> tuple[ConductorChoice, ...]:
    """Every way to make a two-wire run from a table's sizes, single ones first, each with what speaks against it.

    `needed_a` is what the conductor must carry anyhow where its fuse may be the next rating above: NEC (NFPA 70) 2023
    240.4(B), recalled.
    """
    laid = _laid(table.key, stated.insulation_c, stated.ambient_c, stated.terminals_c, stated.runs_together)
    found = []
    for size, count, ampacity, ohm_per_m, area_mm2 in laid:
        ohm = conductors.at_temperature(ohm_per_m * 2 * length_m / count, stated.insulation_c)
        drop_v = ohm * current_a
        share = drop_v / nominal_v
        against, next_up = "", False
        if ampacity < fuse_a:
            next_up = ampacity >= needed_a and _next_up(table, ampacity) == fuse_a
            against = "" if next_up else "ampacity"
        if not against and share > stated.drop_allowed:
            against = "drop"
        copper = conductors.copper_mass_kg(area_mm2=area_mm2 * count, length_m=2 * length_m)
        found.append(
            ConductorChoice(
                size=size,
                count=count,
                ampacity_a=ampacity,
                drop_v=drop_v,
                drop_share=share,
                loss_w=drop_v * current_a,
                copper_kg=copper,
                against=against,
                next_up=next_up,
            )
        )
    return tuple(found)


@functools.lru_cache(maxsize=512)
def _next_up_rating(practice: Practice, ampacity_a: float) -> float:
    return next((rating for rating in fuse_ratings(practice).amps if rating >= ampacity_a), math.inf)


def _next_up(table: AmpacityTable, ampacity_a: float) -> float:
    """The standard rating above an ampacity, where conductors of this table may have it: up to 800 A; else none."""
    permitted = table.practice == "north_american" and table.enclosed and ampacity_a < NEXT_UP_TO_A
    return _next_up_rating(table.practice, ampacity_a) if permitted else math.inf


class _Laid(NamedTuple):
    """So many conductors of a size as they are laid: together they may carry, each resists and measures."""

    size: str
    abreast: int
    ampacity_a: float
    ohm_per_m: float
    area_mm2: float


@functools.lru_cache(maxsize=256)
def _laid(key: str, insulation_c: int, ambient_c: float, terminals_c: int | None, runs: int) -> tuple[_Laid, ...]:
    """A look-up in constant tables: what every size carries as it is laid, the same for every run of a job."""
    table = ampacity_tables()[key]
    air = ambient_factor(table, insulation_c, ambient_c)
    found = []
    for count in range(1, MOST_IN_PARALLEL + 1):
        bundle = bundle_factor(table, runs, count)
        for row in table.rows:
            area = conductor_area_mm2(row.size)
            if insulation_c not in row.amps or area < (SMALLEST_MM2 if count == 1 else 50.0):
                continue
            terminal_a = table.terminal_a(row, terminals_c)
            each = row.amps[insulation_c] * air * bundle
            ampacity = min(each, math.inf if terminal_a is None else terminal_a) * count
            found.append(_Laid(row.size, count, ampacity, conductor_ohm_per_km(row.size) / 1000, area))
    return tuple(found)


def bundle_factor(table: AmpacityTable, runs: int, count: int) -> float:
    """Correction for loaded conductors together: both wires of a run, each as often as it is laid, of every run in the
    bundle.

    In free air a run by itself is laid with room between its conductors.
    """
    return table.bundle_factor(2 * count * runs) if table.enclosed or runs > 1 else 1.0


def ambient_factor(table: AmpacityTable, insulation_c: int, ambient_c: float) -> float:
    """Correction for the air around the cable; never above 1, so that cool air is not counted on."""
    if ambient_c >= insulation_c:
        return 0.0
    return min(
        1.0, conductors.ambient_factor(insulation_c=insulation_c, ambient_c=ambient_c, table_ambient_c=table.ambient_c)
    )
