"""Rules of step Brief."""

from __future__ import annotations

from collections.abc import Iterator
from typing import cast

from weighty_axle.design.brief.draws import DC_VOLTS
from weighty_axle.design.figures import PRACTICE, Figure, Given, over
from weighty_axle.design.inverters.duty import start_extra_va
from weighty_axle.design.table import Design
from weighty_axle.job.edits.edit import set_value
from weighty_axle.job.edits.inverters import STACKING_WORDS, set_leg, set_stacking
from weighty_axle.job.models.brief import YEAR_DAYS
from weighty_axle.job.models.inverters import LINES, CircuitLeg
from weighty_axle.rules.registry import Hit, hit, rule


@rule(
    "brief.load-over-inverters",
    "stop",
    "{leg} is asked for {worst} ({when}); its inverters give {limit} in a bay at {bay}{more}.",
    PRACTICE,
)
def load_over_inverters(design: Design) -> Iterator[Hit]:
    """Coincident load of a line above the inverters on it, derated, in any setting and selector position."""
    bay = Given("", design.job.site.bay_high_c, "degC")
    for side in design.inverters.sides:
        worst, limit = side.load_va, side.continuous_va
        if over(worst.value, limit.value):
            yield hit(
                *side.units,
                leg=side.tag,
                worst=worst,
                limit=limit,
                when=worst.limit,
                bay=bay,
                more=side.load.more(limit.value),
            )


@rule(
    "brief.start-over-surge",
    "stop",
    "{when}: {leg} reaches {worst}; its inverters give {limit} for a few seconds{more}.",
    PRACTICE,
)
def start_over_surge(design: Design) -> Iterator[Hit]:
    """Worst motor start above the surge rating, in any setting and selector position."""
    for side in design.inverters.sides:
        worst, limit = side.start_va, side.surge_va
        if over(worst.value, limit.value):
            yield hit(
                *side.units, leg=side.tag, worst=worst, limit=limit, when=worst.limit, more=side.start.more(limit.value)
            )


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
    if idle.value < total.value and idle.value > 0.1 * total.value:
        part = Figure.quotient(
            name="Idling share of the day",
            unit="1",
            formula="idling ÷ energy out of the bank",
            inputs=(idle, total),
            source=PRACTICE,
        )
        yield hit(*(unit.tag for unit in design.job.inverters.units), idle=idle, part=part)


@rule("brief.leg-open", "check", "{load} has no leg yet; it is counted on {leg}.", PRACTICE)
def leg_open(design: Design) -> Iterator[Hit]:
    """A load whose leg is still to be decided."""
    lines = LINES[design.job.inverters.stacking]
    if len(lines) == 1:
        return
    decided = {circuit.tag for circuit in design.job.ac.circuits if circuit.leg in lines}
    for load in design.job.loads:
        if load.supply in ("leg_open", "AC") and load.circuit not in decided and design.brief.feeds[load.tag] in lines:
            leg = design.brief.feeds[load.tag]
            yield hit(
                load.tag,
                load=load.name,
                leg=leg,
                remedy=set_leg(design.job, load.circuit or load.tag, cast(CircuitLeg, leg)),
            )


@rule("brief.leg-missing", "stop", "{load} hangs on {supply}, but these inverters give {lines} only.", PRACTICE)
def leg_missing(design: Design) -> Iterator[Hit]:
    """A leg named where there are none."""
    lines = LINES[design.job.inverters.stacking]
    given = "one AC line" if lines == ("AC",) else " and ".join((", ".join(lines[:-1]), lines[-1]))
    remedy_supply = "AC" if lines == ("AC",) else "leg_open"
    for load in design.job.loads:
        if load.supply in ("leg_open", "AC", *DC_VOLTS) or set(load.supply.split("+")) <= set(lines):
            continue
        # What hangs across lines wants their voltage: one line of less is no remedy.
        label = f"Feed {load.name} from {'AC' if len(lines) == 1 else 'a leg to be chosen'}"
        remedy = None if "+" in load.supply else set_value(f"loads[{load.tag}].supply", remedy_supply, label)
        yield hit(load.tag, load=load.name, supply=load.supply, lines=given, remedy=remedy)
    for circuit in design.job.ac.circuits:
        if circuit.leg != "open" and not set(circuit.leg.split("+")) <= set(lines):
            remedy = set_value(f"ac.circuits[{circuit.tag}].leg", "open", f"Leave the leg of {circuit.name} open")
            yield hit(circuit.tag, load=circuit.name, supply=circuit.leg, lines=given, remedy=remedy)


@rule(
    "brief.across-dead",
    "stop",
    "{load} hangs across lines, but {stacking} there is no voltage between them.",
    "textbook relation: |V1 − V2| of equal phasors is zero",
)
def across_dead(design: Design) -> Iterator[Hit]:
    """A load across both legs while they are in phase."""
    for tag in design.inverters.dead_across:
        load = next(one for one in design.job.loads if one.tag == tag)
        stacking = STACKING_WORDS[design.job.inverters.stacking]
        yield hit(tag, load=load.name, stacking=stacking, remedy=set_stacking("split_phase"))


@rule(
    "brief.nothing-painted",
    "note",
    "{load} is never painted on any day, so it counts for nothing but standby.",
    PRACTICE,
)
def nothing_painted(design: Design) -> Iterator[Hit]:
    """A load without any painted stretch."""
    for load in design.job.loads:
        if not any(load.patterns.values()):
            yield hit(load.tag, load=load.name)


@rule(
    "brief.painted-while-off",
    "check",
    "{load} is painted on {day}, when the inverters are off: it will not run.",
    PRACTICE,
)
def painted_while_off(design: Design) -> Iterator[Hit]:
    """AC loads on a day without inverters."""
    for kind in design.job.day_kinds:
        # Charging only at a pedestal, the inverters pass its power through: what is painted runs.
        if kind.inverters_on or kind.use == "hooked_up":
            continue
        for load in design.job.loads:
            if load.patterns.get(kind.tag) and not load.supply.startswith("DC"):
                remedy = set_value(f"loads[{load.tag}].patterns[{kind.tag}]", (), f"Wipe {load.name} on {kind.name}")
                yield hit(load.tag, load=load.name, day=kind.name, remedy=remedy)


@rule(
    "brief.before-unplugged",
    "check",
    "{load} is in a panel before the inverters and painted on {day}, when nothing is plugged in: it will not run.",
    PRACTICE,
)
def before_unplugged(design: Design) -> Iterator[Hit]:
    """Loads before the inverters on a day without hook-up."""
    before = {load for circuit in design.circuits if circuit.panel in design.ac.before for load in circuit.loads}
    for kind in design.job.day_kinds:
        for load in design.job.loads:
            if load.tag in before and load.patterns.get(kind.tag) and kind.use != "hooked_up":
                remedy = set_value(f"loads[{load.tag}].patterns[{kind.tag}]", (), f"Wipe {load.name} on {kind.name}")
                yield hit(load.tag, load=load.name, day=kind.name, remedy=remedy)


@rule(
    "brief.start-outlasts-surge",
    "check",
    "{load} takes {start} to start; the inverters surge for {surge}.",
    "inverter datasheet",
)
def start_outlasts_surge(design: Design) -> Iterator[Hit]:
    """A start that lasts longer than the surge and needs it."""
    spec = design.job.inverters.spec
    most = min((leg.continuous_va.value for leg in design.inverters.legs if leg.units), default=0.0)
    for load in design.job.loads:
        if load.supply not in DC_VOLTS and load.start_s > spec.surge_s and start_extra_va(load) + load.running_w > most:
            yield hit(load.tag, load=load.name, start=Given("", load.start_s, "s"), surge=Given("", spec.surge_s, "s"))


@rule(
    "brief.stay-without-socket",
    "check",
    "{kind} days at {place} count on hook-up, but no source is named there.",
    PRACTICE,
)
def stay_without_socket(design: Design) -> Iterator[Hit]:
    """A hooked-up kind of day without a place to plug in."""
    kinds = {kind.tag: kind for kind in design.job.day_kinds}
    sources = design.job.inverters.sources
    for stay in design.job.stays:
        kind = kinds[stay.day_kind]
        if kind.use == "hooked_up" and not stay.source:
            best = max(sources, key=lambda source: source.volts * source.amps * source.legs, default=None)
            remedy = (
                set_value(f"stays[{stay.tag}].source", best.tag, f"Plug in at {stay.place}: {best.name}")
                if best
                else None
            )
            yield hit(stay.tag, kind=kind.name, place=stay.place, remedy=remedy)


@rule(
    "brief.stay-not-driven",
    "note",
    "{kind} days at {place} have no hours driven: the alternator gives nothing then.",
    PRACTICE,
)
def stay_not_driven(design: Design) -> Iterator[Hit]:
    """A driving kind of day without hours."""
    kinds = {kind.tag: kind for kind in design.job.day_kinds}
    for stay in design.job.stays:
        if kinds[stay.day_kind].use == "driving" and stay.driven_h == 0:
            yield hit(stay.tag, kind=kinds[stay.day_kind].name, place=stay.place)


@rule(
    "brief.nights-over-bank",
    "note",
    (
        "The longest run without hook-up is {nights}; the bank alone lasts {days}: sun, engine or generator carry the "
        "rest."
    ),
    PRACTICE,
)
def nights_over_bank(design: Design) -> Iterator[Hit]:
    """More nights in a row than the bank lasts."""
    nights, days = design.itinerary.longest_off_grid_days, design.bank.days
    if over(nights.value, days.value):
        tags = tuple(
            stay.tag
            for stay, result in zip(
                sorted(design.job.stays, key=lambda one: one.first_day), design.itinerary.stays, strict=True
            )
            if not result.hooked_up
        )
        yield hit(*tags, nights=Given("", nights.value, "days"), days=days)


@rule("brief.year-gaps", "note", "{gap} of the year have no stay yet; they count for nothing.", PRACTICE)
def year_gaps(design: Design) -> Iterator[Hit]:
    """An itinerary with holes."""
    gap = YEAR_DAYS - design.itinerary.planned_days.value
    if design.job.stays and gap > 0:
        yield hit(gap=Given("", gap, "days"))
