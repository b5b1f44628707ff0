"""Joining packs of unequal state: what may be joined now, what would flow, what to do first.

Made on demand from measured voltages.
"""

from __future__ import annotations

import math

from msgspec import Struct

from weighty_axle.design.conductors import conductor_ohm_per_km
from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.design.table import Design
from weighty_axle.physics.electric.cells import interpolated, settle
from weighty_axle.reference.tables import OpenCircuit, open_circuit
from weighty_axle.units import show

METER_V = 0.02
"""What a hand meter may be off on a pack's voltage; within it nothing is told apart.

Source: common practice, no source.
"""
TAIL_SHARE = 0.01
"""Current over capacity at which joined packs count as settled. Source: common practice, no source."""


class PackJoin(Struct, frozen=True, kw_only=True):
    """One pack: state of charge that its voltage allows (low, high), current against the group, and what to do."""

    tag: str
    open_v: float
    soc_low: float
    soc_high: float
    current_a: Figure
    joins: bool
    advice: str


class Joining(Struct, frozen=True, kw_only=True):
    """Packs with a measured voltage, and the sentence over all.

    `allowed_v` is the difference that keeps to the allowed current.
    """

    packs: tuple[PackJoin, ...]
    unmeasured: tuple[str, ...]
    allowed_v: Figure
    loop_ohm: Figure
    settled_h: float
    sentence: str


def curve(design: Design) -> OpenCircuit:
    """Open-circuit curve of the packs' chemistry."""
    return next(row for row in open_circuit().rows if row.chemistry == design.job.bank.spec.chemistry)


def soc_range(cell_v: float, table: OpenCircuit, meter_v: float) -> tuple[float, float]:
    """States of charge whose voltage lies within the meter's error and the table's own: on the plateau a wide range,
    which is the point.
    """
    low, high = (
        max(table.cell_v[0], min(table.cell_v[-1], cell_v + sign * (meter_v + table.error_v))) for sign in (-1, 1)
    )
    return interpolated(low, table.cell_v, table.soc), interpolated(high, table.cell_v, table.soc)


def joining(design: Design) -> Joining:
    """Which packs may be joined as they are, against the largest group that may.

    Source: difference of open-circuit voltages ÷ loop resistance; open-circuit tables of reference/.
    """
    bank, spec = design.job.bank, design.job.bank.spec
    links = bank.links if design.bank.links_known else type(bank.links)()
    measured = [(pack.tag, pack.open_v) for pack in bank.packs if pack.open_v is not None]
    unmeasured = tuple(pack.tag for pack in bank.packs if pack.open_v is None)
    # Of packs in series each bears its part of the leads; a pack better than its datasheet lets more flow, an aged one
    # is not counted on.
    lead = 2 * (links.lead_m * conductor_ohm_per_km(links.size) / 1000 + 2 * links.lug_ohm) / bank.series
    pack_ohm = spec.resistance_ohm * min(1.0, *(pack.resistance_factor for pack in bank.packs))
    others = max(1, len(measured) - 1)
    loop = Figure(
        name="Loop resistance, one pack and the rest",
        value=(pack_ohm + lead) * (1 + 1 / others),
        unit="ohm",
        formula="(pack + its leads) × (1 + 1 ÷ other packs)",
        inputs=(
            Given("Pack resistance", pack_ohm, "ohm"),
            Given("Leads of one pack, both poles", lead, "ohm"),
            Given("Other packs", others, "count"),
        ),
        source=TEXTBOOK,
        limit="the last pack joins all the others at once, side by side",
    )
    allowed_a = Given("Current allowed while joining", bank.join_a or spec.charge_a, "A")
    allowed = Figure.product(
        name="Difference allowed",
        unit="V",
        formula="allowed current × loop resistance",
        inputs=(allowed_a, loop),
        source=TEXTBOOK,
    )
    group = _largest_group([volts for _, volts in measured], allowed.value)
    middle = sum(group) / len(group) if group else 0.0
    table, cells = curve(design), spec.cells_in_series
    packs = tuple(_join(tag, volts, group, middle, allowed, loop, table, cells) for tag, volts in measured)
    hours = _settled_h(packs, 2 * (pack_ohm + lead), table, design)
    return Joining(
        packs=packs,
        unmeasured=unmeasured,
        allowed_v=allowed,
        loop_ohm=loop,
        settled_h=hours,
        sentence=_sentence(packs, unmeasured, allowed, hours),
    )


def _largest_group(volts: list[float], allowed_v: float) -> list[float]:
    """Most voltages that lie within the allowed difference of each other; the higher group where two are as large."""
    best: list[float] = []
    ordered = sorted(volts)
    for index, low in enumerate(ordered):
        group = [one for one in ordered[index:] if one - low <= allowed_v + 1e-9]
        if len(group) >= len(best):
            best = group
    return best


def _join(
    tag: str,
    volts: float,
    group: list[float],
    middle: float,
    allowed: Figure,
    loop: Figure,
    table: OpenCircuit,
    cells: int,
) -> PackJoin:
    low, high = soc_range(volts / cells, table, METER_V / cells)
    furthest = max(group, key=lambda one: abs(one - volts))
    gap = Given("Difference to the furthest of the group", abs(volts - furthest), "V")
    current = Figure.quotient(
        name=f"{tag} would carry at first",
        unit="A",
        formula="difference ÷ loop resistance",
        inputs=(gap, loop),
        source=TEXTBOOK,
    )
    joins = gap.value <= allowed.value + 1e-9
    advice = (
        ""
        if joins
        else f"{'charge' if volts < middle else 'discharge'} it alone to {show(middle, 'V')}, "
        "let it rest, measure again"
    )
    return PackJoin(tag=tag, open_v=volts, soc_low=low, soc_high=high, current_a=current, joins=joins, advice=advice)


def _settled_h(packs: tuple[PackJoin, ...], pair_ohm: float, table: OpenCircuit, design: Design) -> float:
    """Time until the lowest and the highest of the group have settled with each other, taken at the middles of their
    ranges.
    """
    joined = [pack for pack in packs if pack.joins]
    if len(joined) < 2:
        return 0.0
    socs = sorted((pack.soc_low + pack.soc_high) / 2 for pack in joined)
    if socs[-1] - socs[0] < 1e-4:
        return 0.0
    capacity = design.job.bank.spec.capacity_ah
    return settle(
        low_soc=socs[0],
        high_soc=socs[-1],
        capacity_ah=capacity,
        loop_ohm=pair_ohm,
        cells=design.job.bank.spec.cells_in_series,
        soc=table.soc,
        cell_v=table.cell_v,
        tail_a=TAIL_SHARE * capacity,
    ).hours


def _sentence(packs: tuple[PackJoin, ...], unmeasured: tuple[str, ...], allowed: Figure, hours: float) -> str:
    if len(packs) < 2:
        return "Measure each pack at rest, nothing connected, and type its voltage."
    joins = [pack.tag for pack in packs if pack.joins]
    apart = [pack for pack in packs if not pack.joins]
    text = f"{', '.join(joins)} may be joined now"
    if hours > 0 and math.isfinite(hours):
        text += f" and settle in about {show(hours, 'h')}: feel for warm leads, no load till then"
    text += (
        "."
        if not apart
        else f"; {', '.join(pack.tag for pack in apart)} not: more than {show(allowed.value, 'V')} apart."
    )
    return text + (f" Not measured: {', '.join(unmeasured)}." if unmeasured else "")
