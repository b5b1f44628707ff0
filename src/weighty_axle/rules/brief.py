"""Rules of step Brief."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.design.brief import two_legs
from weighty_axle.design.derive import Design
from weighty_axle.design.figures import PRACTICE, Figure, Given
from weighty_axle.design.inverters import Leg
from weighty_axle.job.edits import set_stacking, set_value
from weighty_axle.rules.registry import Hit, hit, rule


@rule("brief.load-over-inverters", "stop", "{leg} is asked for {worst} ({when}); its inverters give {limit} in a bay at {bay}.", PRACTICE)
def load_over_inverters(design: Design) -> Iterator[Hit]:
    """Coincident load of a leg above its inverters, derated."""
    bay = Given("", design.job.site.bay_high_c, "degC")
    for leg in design.inverters.legs:
        if leg.units and leg.worst_va.value > leg.continuous_va.value:
            yield hit(*_units(design, leg), leg=leg.tag, worst=leg.worst_va, limit=leg.continuous_va, when=leg.worst_va.limit, bay=bay)


@rule("brief.start-over-surge", "stop", "{when}: {leg} reaches {worst}; its inverters give {limit} for a few seconds.", PRACTICE)
def start_over_surge(design: Design) -> Iterator[Hit]:
    """Worst motor start above the surge rating."""
    for leg in design.inverters.legs:
        if leg.units and leg.start_va.value > leg.surge_va.value:
            yield hit(leg.start_load, leg=leg.tag, worst=leg.start_va, limit=leg.surge_va, when=leg.start_va.limit)


def _units(design: Design, leg: Leg) -> tuple[str, ...]:
    return tuple(unit.tag for unit in design.job.inverters.units if leg.tag in ("AC", unit.leg))


@rule(
    "brief.idle-share",
    "check",
    "Idling inverters take {idle} a day, {part} of all energy; switch off or sleep the ones not needed at night.",
    PRACTICE,
)
def idle_share(design: Design) -> Iterator[Hit]:
    """No-load energy above a tenth of the design day."""
    day = design.brief.days[design.brief.design_day]
    idle, total = day.no_load_energy_wh, day.bank_energy_wh
    if total.value and idle.value > 0.1 * total.value:
        part = Figure("Idling share of the day", idle.value / total.value, "1", "idling ÷ energy out of the bank", (idle, total), PRACTICE)
        yield hit(*(unit.tag for unit in design.job.inverters.units), idle=idle, part=part)


@rule("brief.leg-open", "check", "{load} has no leg yet; it is counted on {leg}.", PRACTICE)
def leg_open(design: Design) -> Iterator[Hit]:
    """A load whose leg is still to be decided."""
    if not two_legs(design.job.inverters.stacking):
        return
    for load in design.job.loads:
        if load.supply in ("leg_open", "AC"):
            leg = design.brief.feeds[load.tag]
            yield hit(load.tag, load=load.name, leg=leg, remedy=set_value(f"loads[{load.tag}].supply", leg, f"Hang {load.name} on {leg}"))


@rule("brief.leg-missing", "stop", "{load} hangs on {supply}, but these inverters give one AC line only.", PRACTICE)
def leg_missing(design: Design) -> Iterator[Hit]:
    """A leg named where there are none."""
    if two_legs(design.job.inverters.stacking):
        return
    for load in design.job.loads:
        if load.supply in ("L1", "L2", "L1+L2"):
            yield hit(load.tag, load=load.name, supply=load.supply, remedy=set_value(f"loads[{load.tag}].supply", "AC", f"Feed {load.name} from AC"))


@rule(
    "brief.across-dead",
    "stop",
    "{load} needs 240 V, but with both legs in phase there is none between them.",
    "textbook relation: |V1 − V2| of equal phasors is zero",
)
def across_dead(design: Design) -> Iterator[Hit]:
    """A load across both legs while they are in phase."""
    for tag in design.inverters.dead_across:
        load = next(one for one in design.job.loads if one.tag == tag)
        yield hit(tag, load=load.name, remedy=set_stacking("split_phase"))


@rule("brief.nothing-painted", "note", "{load} is never painted on any day, so it counts for nothing but standby.", PRACTICE)
def nothing_painted(design: Design) -> Iterator[Hit]:
    """A load without any painted stretch."""
    for load in design.job.loads:
        if not any(load.patterns.values()):
            yield hit(load.tag, load=load.name)


@rule("brief.painted-while-off", "check", "{load} is painted on {day}, when the inverters are off: it will not run.", PRACTICE)
def painted_while_off(design: Design) -> Iterator[Hit]:
    """AC loads on a day without inverters."""
    for kind in design.job.day_kinds:
        if kind.inverters_on:
            continue
        for load in design.job.loads:
            if load.patterns.get(kind.tag) and not load.supply.startswith("DC"):
                remedy = set_value(f"loads[{load.tag}].patterns[{kind.tag}]", (), f"Wipe {load.name} on {kind.name}")
                yield hit(load.tag, load=load.name, day=kind.name, remedy=remedy)
