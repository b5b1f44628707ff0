"""Rules of step Inverters."""

from __future__ import annotations

from collections.abc import Iterator
from typing import cast

from weighty_axle.answers.inverters.leg_loads import best_move
from weighty_axle.design.figures import PRACTICE, over
from weighty_axle.design.inverters.legs import part_on
from weighty_axle.design.table import Design
from weighty_axle.job.edits.edit import Edit, set_value
from weighty_axle.job.edits.inverters import STACKING_WORDS, fit_stacking, set_leg, set_stacking
from weighty_axle.job.models.inverters import CircuitLeg, panel_lines, units_on
from weighty_axle.rules.registry import Hit, amps, hit, rule, share

HEAVY_LEG = 0.65
"""Share of the heavier leg from which the legs count as badly balanced. Source: common practice, no source."""
WORTH_MOVING = 0.03
"""Part of the worst line a single move must take away to be worth the work. Source: common practice, no source."""


@rule(
    "inverters.leg-heavy", "check", "{leg} carries {part} of the line current in the worst minute ({when}).", PRACTICE
)
def leg_heavy(design: Design) -> Iterator[Hit]:
    """Legs far out of balance where one move would lower the worst line; the remedy is that move."""
    currents = design.inverters.currents
    if currents is None or currents.leg_balance.value <= HEAVY_LEG:
        return
    move = best_move(design, WORTH_MOVING)
    if move is None:
        return
    heavy = currents.heaviest
    units = tuple(unit.tag for unit in units_on(design.job.inverters, heavy))
    yield hit(
        *units,
        leg=heavy,
        part=currents.leg_balance,
        when=currents.leg_balance.limit,
        remedy=set_leg(design.job, move[0], move[1]),
    )


@rule(
    "inverters.neutral-over",
    "stop",
    (
        "The neutral of the inverters carries {current} ({when}); it is rated {limit}{more}. Fed alike, the legs add "
        "in the neutral."
    ),
    "textbook relation: Kirchhoff's current law",
    "Run less there, lay a heavier neutral, or plug in where the legs are apart.",
)
def neutral_over(design: Design) -> Iterator[Hit]:
    """Neutral current above its rating at its own worst minute in any state."""
    currents, limit = design.inverters.currents, design.job.inverters.neutral_a
    if currents is not None and over(currents.neutral_a.value, limit):
        yield hit(
            *(unit.tag for unit in design.job.inverters.units),
            current=currents.neutral_a,
            when=currents.neutral_a.limit,
            limit=amps(limit),
            more=currents.neutral.more(limit),
        )


@rule("inverters.leg-without-unit", "stop", "{leg} has loads but no inverter feeds it.", PRACTICE)
def leg_without_unit(design: Design) -> Iterator[Hit]:
    """A leg nobody feeds."""
    for leg in design.inverters.legs:
        if not leg.units and any(part_on(leg.tag, feed) for feed in design.brief.feeds.values()):
            yield hit(*(unit.tag for unit in design.job.inverters.units), leg=leg.tag, remedy=fit_stacking(design.job))


@rule(
    "inverters.circuit-dead",
    "stop",
    "{circuit} hangs on {leg}, which {panel} does not have: it is dead.",
    PRACTICE,
    "Move it to a line its panel has, or to another panel.",
)
def circuit_dead(design: Design) -> Iterator[Hit]:
    """A circuit on a line that never reaches its panel; a line no inverter makes is told by itself."""
    nobody = {leg.tag for leg in design.inverters.legs if not leg.units}
    reach = panel_lines(design.job.ac, design.job.inverters)
    for circuit in design.circuits:
        missing = [line for line in circuit.lines if line not in reach[circuit.panel] and line not in nobody]
        if missing and (circuit.loads or circuit.stated):
            panel = next(one for one in design.ac.panels if one.tag == circuit.panel)
            remedy = (
                set_leg(design.job, circuit.tag, cast(CircuitLeg, reach[circuit.panel][0]))
                if len(circuit.lines) == 1 and reach[circuit.panel]
                else None
            )
            yield hit(
                circuit.tag,
                *circuit.loads,
                circuit=circuit.name,
                leg=" and ".join(missing) if len(design.ac.lines) > 1 else "the line",
                panel=panel.name,
                remedy=remedy,
            )


@rule("inverters.limit-over-socket", "stop", "{source} is set to {limit}; the socket gives {rating}.", PRACTICE)
def limit_over_socket(design: Design) -> Iterator[Hit]:
    """Source limit above the socket."""
    for source, row in zip(design.job.inverters.sources, design.sources, strict=True):
        if over(source.limit_a, source.amps):
            yield hit(
                source.tag,
                source=source.name,
                limit=amps(source.limit_a),
                rating=amps(source.amps),
                remedy=_set_limit(source.tag, source.name, row.recommended_limit_a.value),
            )


@rule(
    "inverters.limit-over-continuous",
    "check",
    "{source} is set to {limit}; {what} is good for {safe} for hours on end.",
    "NEC 210.20 (125 % of continuous load), recalled",
)
def limit_over_continuous(design: Design) -> Iterator[Hit]:
    """Source limit above what the socket gives for hours."""
    for source, row in zip(design.job.inverters.sources, design.sources, strict=True):
        safe = row.recommended_limit_a
        if safe.value + 0.05 < source.limit_a <= source.amps:
            yield hit(
                source.tag,
                source=source.name,
                limit=amps(source.limit_a),
                what=row.weakest.name,
                safe=safe,
                remedy=_set_limit(source.tag, source.name, safe.value),
            )


def _set_limit(tag: str, name: str, limit_a: float) -> Edit:
    return set_value(f"inverters.sources[{tag}].limit_a", limit_a, f"Limit {name} to {limit_a:g} A")


@rule(
    "inverters.relay-over",
    "stop",
    "{source} can pass {current} a line; the transfer relays of {inverter} on it carry {limit}.",
    "inverter datasheet",
)
def relay_over(design: Design) -> Iterator[Hit]:
    """Pass-through above the transfer relays that share a line of the source."""
    spec = design.job.inverters.spec
    for source, row in zip(design.job.inverters.sources, design.sources, strict=True):
        fewest = min((limit.units for limit in row.unit_limits), default=1)
        if row.feeds_inverters and over(source.limit_a, spec.transfer_a * fewest):
            yield hit(
                source.tag,
                source=source.name,
                current=amps(source.limit_a),
                inverter=spec.name,
                limit=amps(spec.transfer_a * fewest),
            )


@rule(
    "inverters.adds-over",
    "check",
    "At {source} the inverters on {leg} must add {adds} ({when}); they give {limit}.",
    PRACTICE,
    "Run less there, or plug in where there is more.",
)
def adds_over(design: Design) -> Iterator[Hit]:
    """What a weak source leaves to the inverters, on the days it is used, above what they can add."""
    legs = {"L1" if leg.tag == "AC" else leg.tag: leg for leg in design.inverters.legs}
    for source, row in zip(design.job.inverters.sources, design.sources, strict=True):
        for line, adds in row.bank_adds_va.items():
            leg = legs[line]
            if row.accepted and leg.units and over(adds.value, leg.continuous_va.value):
                yield hit(
                    source.tag, source=source.name, leg=leg.tag, adds=adds, when=adds.limit, limit=leg.continuous_va
                )


@rule(
    "inverters.single-with-several",
    "stop",
    "{count} inverters, but stacking is single: they would fight over one line.",
    PRACTICE,
)
def single_with_several(design: Design) -> Iterator[Hit]:
    """Several units without stacking."""
    count = len(design.job.inverters.units)
    if design.job.inverters.stacking == "single" and count > 1:
        yield hit(*(unit.tag for unit in design.job.inverters.units), count=str(count), remedy=set_stacking("parallel"))


@rule(
    "inverters.stacking-misfit",
    "stop",
    "{inverter} gives {lines}; it cannot be stacked “{stacking}”.",
    "inverter datasheet",
)
def stacking_misfit(design: Design) -> Iterator[Hit]:
    """A unit of two legs stacked as one of one line, or the other way round."""
    stated = design.job.inverters
    if stated.units and (stated.spec.lines == 2) != (stated.stacking == "one_two_legs"):
        lines = "two legs" if stated.spec.lines == 2 else "one line"
        remedy = set_stacking("one_two_legs") if stated.spec.lines == 2 else None
        yield hit(
            *(unit.tag for unit in stated.units),
            inverter=stated.spec.name,
            lines=lines,
            stacking=STACKING_WORDS[stated.stacking],
            remedy=remedy,
        )


@rule("inverters.half-power-per-leg", "note", "One inverter out leaves {part} of the power on {leg}.", PRACTICE)
def half_power_per_leg(design: Design) -> Iterator[Hit]:
    """What a lost unit leaves on a leg that has a spare one."""
    for leg in design.inverters.legs:
        if leg.units > 1:
            yield hit(leg=leg.tag, part=share((leg.units - 1) / leg.units))


@rule(
    "inverters.charge-from-low-source",
    "note",
    "At {source} nothing is left to charge with while the busiest load runs; the bank adds {adds}.",
    PRACTICE,
)
def charge_from_low_source(design: Design) -> Iterator[Hit]:
    """A source that cannot charge and run at once."""
    for source, row in zip(design.job.inverters.sources, design.sources, strict=True):
        if row.accepted and row.charge_left_a.value <= 0 and row.bank_adds_w.value > 0:
            yield hit(source.tag, source=source.name, adds=row.bank_adds_w)
