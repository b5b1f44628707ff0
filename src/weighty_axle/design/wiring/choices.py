"""Conductors a run may be made of: each with its ampacity in place, drop, loss and mass."""

from __future__ import annotations

import math

from msgspec import Struct

from weighty_axle.design.conductors import conductor_area_mm2, conductor_ohm_per_km
from weighty_axle.job.models.wiring import Wiring
from weighty_axle.physics.electric import conductors
from weighty_axle.reference.tables import AmpacityRow, AmpacityTable

MOST_IN_PARALLEL = 3


SMALLEST_MM2 = 4.0


class ConductorChoice(Struct, frozen=True):
    """One way to make a run: `count` conductors of a size in parallel, and what speaks against it ('' if nothing)."""

    size: str
    count: int
    ampacity_a: float
    drop_v: float
    drop_share: float
    loss_w: float
    copper_kg: float
    against: str


def choice_name(candidate: ConductorChoice) -> str:
    """How a choice is written: `4/0 AWG`, `2 x 70 mm2`."""
    return candidate.size if candidate.count == 1 else f"{candidate.count} x {candidate.size}"


def conductor_choices(
    stated: Wiring, table: AmpacityTable, length_m: float, current_a: float, fuse_a: float, nominal_v: float
) -> tuple[ConductorChoice, ...]:
    """Every way to make a two-wire run from a table's sizes, single ones first, each with what speaks against it."""
    return tuple(
        _candidate(table, row, count, stated, length_m, current_a, fuse_a, nominal_v)
        for count in range(1, MOST_IN_PARALLEL + 1)
        for row in table.rows
        if stated.insulation_c in row.amps and conductor_area_mm2(row.size) >= (SMALLEST_MM2 if count == 1 else 50.0)
    )


def _candidate(
    table: AmpacityTable,
    row: AmpacityRow,
    count: int,
    stated: Wiring,
    length_m: float,
    current_a: float,
    fuse_a: float,
    nominal_v: float,
) -> ConductorChoice:
    size, terminal_a = row.size, table.terminal_a(row, stated.terminals_c)
    each = row.amps[stated.insulation_c] * _ambient_factor(table, stated) * _bundle_factor(table, stated, count)
    ampacity = min(each, math.inf if terminal_a is None else terminal_a) * count
    ohm = conductors.at_temperature(conductor_ohm_per_km(size) / 1000 * 2 * length_m / count, stated.insulation_c)
    drop_v = ohm * current_a
    share = drop_v / nominal_v
    against = ""
    if ampacity < fuse_a:
        against = "ampacity"
    elif share > stated.drop_allowed:
        against = "drop"
    copper = conductors.copper_mass_kg(area_mm2=conductor_area_mm2(size) * count, length_m=2 * length_m)
    return ConductorChoice(size, count, ampacity, drop_v, share, drop_v * current_a, copper, against)


def _bundle_factor(table: AmpacityTable, stated: Wiring, count: int) -> float:
    """Correction for loaded conductors together: both wires of a run, each as often as it is laid, of every run in the
    bundle.

    In free air a run by itself is laid with room between its conductors.
    """
    return table.bundle_factor(2 * count * stated.runs_together) if table.enclosed or stated.runs_together > 1 else 1.0


def _ambient_factor(table: AmpacityTable, stated: Wiring) -> float:
    """Correction for the air around the cable; never above 1, so that cool air is not counted on."""
    if stated.ambient_c >= stated.insulation_c:
        return 0.0
    return min(
        1.0,
        conductors.ambient_factor(
            insulation_c=stated.insulation_c, ambient_c=stated.ambient_c, table_ambient_c=table.ambient_c
        ),
    )
