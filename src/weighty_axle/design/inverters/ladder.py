"""The ladder of a source: what its current comes through before it reaches the vehicle, and what is left for hours."""

from __future__ import annotations

import math

from msgspec import Struct

from weighty_axle.design.brief.day import BriefResult
from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Figure, Given
from weighty_axle.design.inverters.ac_wiring import AcWiring, LiveCircuit
from weighty_axle.design.inverters.source_days import FedConductor
from weighty_axle.design.inverters.state import State, StatesResult
from weighty_axle.job.models.brief import Load, Stay
from weighty_axle.job.models.inverters import (
    BETWEEN_LINES,
    IMPLIED_INLET,
    LINES,
    AcSide,
    Inlet,
    Inverters,
    Source,
    line_v,
)
from weighty_axle.job.models.parts import Practice
from weighty_axle.job.models.vehicle import Site
from weighty_axle.physics.electric.phasors import complex_power

CONTINUOUS_SHARE: dict[Practice, float] = {"north_american": 0.8, "international": 1.0}
"""Share of a socket's rating for hours on end. Source: NEC 210.19 and 210.20 (125 % of continuous load), recalled."""


class Rung(Struct, frozen=True):
    """One thing the current comes through, and what it is good for per line [A] for hours."""

    name: str
    good_a: float


class Supply(Struct, frozen=True, kw_only=True):
    """What can be said of a source before any day: the plainest state in which it is let through, what it comes
    through, and what feeds which line.

    `lines` are the system's; `across` says whether they have a voltage between them there.
    """

    source: Source
    passing: tuple[State, ...]
    leads: bool
    rungs: tuple[Rung, ...]
    recommended: Figure
    counted_a: float
    conductors: tuple[FedConductor, ...]
    lines: tuple[str, ...]
    across: bool


def supplies(
    stated: Inverters,
    ac: AcSide,
    practice: Practice,
    site: Site,
    stays: tuple[Stay, ...],
    table: StatesResult,
    before_a: Figure,
) -> tuple[Supply, ...]:
    """The ladder of every source; a generator is derated for the highest place it may run at.

    Source: NEC 210.20, recalled; generator derating common practice; textbook relations.
    """
    lines: tuple[str, ...] = tuple("L1" if line == "AC" else line for line in LINES[stated.stacking])
    found = []
    for source in stated.sources:
        passing, leads = _taken(source, table, ac)
        generator = generator_w(source, site, highest_use(source, site, stays))
        rungs = _rungs(source, ac, practice, generator)
        recommended = _recommended(source, practice, rungs, generator, before_a)
        # A limit set too high is found fault with; until then no more is counted on than comes through for hours.
        counted_a = min(source.limit_a, recommended.value)
        conductors = _conductors(source, passing[0], counted_a) if passing else ()
        across = stated.stacking in BETWEEN_LINES and (not passing or _between_lines(passing[0]))
        found.append(
            Supply(
                source=source,
                passing=passing,
                leads=leads,
                rungs=rungs,
                recommended=recommended,
                counted_a=counted_a,
                conductors=conductors or tuple(FedConductor((line,), 0.0) for line in lines),
                lines=lines,
                across=across,
            )
        )
    return tuple(found)


def before_current(
    circuits: tuple[LiveCircuit, ...], wiring: AcWiring, loads: tuple[Load, ...], inverters: Inverters
) -> Figure:
    """What panels before the inverters draw from the same socket, on the busiest line, everything in them at once."""
    by_tag = {load.tag: load for load in loads}
    found = [
        (
            line,
            by_tag[tag],
            abs(complex_power(by_tag[tag].running_w * by_tag[tag].count, by_tag[tag].power_factor))
            / len(circuit.lines),
        )
        for circuit in circuits
        if circuit.panel in wiring.before
        for tag in circuit.loads
        for line in circuit.lines
    ]
    on = {line: sum(va for one, _, va in found if one == line) for line in wiring.lines}
    worst = max(on, key=lambda line: on[line])
    given = tuple(Given(load.name, va, "VA") for line, load, va in found if line == worst)
    return Figure(
        name="Drawn before the inverters",
        value=on[worst] / line_v(inverters),
        unit="A",
        formula="Σ running apparent power ÷ line voltage",
        inputs=given,
        source=TEXTBOOK,
        limit="all at once",
    )


def highest_use(source: Source, site: Site, stays: tuple[Stay, ...]) -> Given:
    """Height of the highest place a source that goes along may run at: home, and stays with it or without any
    hook-up.
    """
    places = [
        (site.height_m, site.home),
        *((stay.height_m, stay.place) for stay in stays if stay.source in ("", source.tag)),
    ]
    height_m, name = max(places, key=lambda place: place[0])
    return Given(f"Height of {name}", height_m, "m")


def generator_w(source: Source, site: Site, height: Given) -> Figure | None:
    """What a generator gives for hours at a height and in the heat of the design high."""
    made = source.generator
    if made is None:
        return None
    thin = min(1.0, max(0.0, 1 - made.lost_per_300_m * height.value / 300))
    heat = max(0.0, 1 - made.lost_per_10_c * max(0.0, site.design_high_c - made.full_to_c) / 10)
    return Figure(
        name=f"{source.name} for hours",
        value=made.rated_va * made.power_factor * thin * heat * made.continuous_share,
        unit="W",
        formula=(
            "rating × power factor × (1 − loss per 300 m × height ÷ 300 m) × (1 − loss per 10 °C × (heat − full-power "
            "temperature) ÷ 10 °C) × continuous share"
        ),
        inputs=(
            Given("Rating", made.rated_va, "VA"),
            Given("Power factor", made.power_factor, "1"),
            height,
            Given("Loss per 300 m", made.lost_per_300_m, "1"),
            Given("Design high", site.design_high_c, "degC"),
            Given("Full power to", made.full_to_c, "degC"),
            Given("Loss per 10 °C", made.lost_per_10_c, "1"),
            Given("Continuous share", made.continuous_share, "1"),
        ),
        source=PRACTICE,
        limit="at the highest place it may run at",
    )


def _inlet(source: Source, ac: AcSide) -> Inlet | None:
    return next((inlet for inlet in ac.inlets if inlet.tag == source.inlet), ac.inlets[0] if ac.inlets else None)


def _rungs(source: Source, ac: AcSide, practice: Practice, generator: Figure | None) -> tuple[Rung, ...]:
    share, inlet = CONTINUOUS_SHARE[practice], _inlet(source, ac)
    found = [Rung("socket" if source.kind == "shore" else "generator's socket", source.amps * share)]
    if source.adapter_a is not None:
        found.append(Rung("adapter or lead", source.adapter_a * share))
    if inlet is not None:
        found.append(Rung(inlet.name, inlet.amps * share))
    if generator is not None:
        found.append(Rung("generator", generator.value / source.volts / (1 if source.legs_in_phase else source.legs)))
    return tuple(found)


def _taken(source: Source, table: StatesResult, ac: AcSide) -> tuple[tuple[State, ...], bool]:
    """States in which this source alone is plugged in and passes through, the plainest first; and whether its inlet
    leads to the inverters at all.
    """
    alone = [state for state in table.states if state.plugged == (source.tag,) and state.mode == "on"]
    inlet = source.inlet or (ac.inlets[0].tag if ac.inlets else IMPLIED_INLET)
    stands = {selector.tag: selector.now for selector in ac.selectors}
    passing = sorted(
        (one for one in alone if one.passing), key=lambda one: sum(stands[tag] != name for tag, name in one.positions)
    )
    return tuple(passing), any(inlet in joined.things for state in alone for joined in state.inputs) or any(
        inlet in one.input_way for one in alone
    )


def source_kinds(source: Source, stays: tuple[Stay, ...], brief: BriefResult) -> tuple[str, ...]:
    """Kinds of day a source is judged by: those of the stays that name it, else those hooked up, else the design
    day.
    """
    named = dict.fromkeys(stay.day_kind for stay in stays if stay.source == source.tag)
    hooked = dict.fromkeys(profile.kind for profile in brief.profiles.values() if profile.use == "hooked_up")
    return tuple(named or hooked) or (brief.design_day,)


def _conductors(source: Source, state: State, limit_a: float) -> tuple[FedConductor, ...]:
    """What feeds which lines while units pass a source on: one conductor each, or one for all that are alike."""
    passing = set(state.passing)
    fed = tuple(dict.fromkeys(line for joined in state.outputs if passing & set(joined.units) for line in joined.lines))
    dark = tuple(line for joined in state.outputs for line in joined.lines if line not in fed)
    if source.legs_in_phase or source.legs == 1:
        lines = [FedConductor(fed, limit_a * source.volts)] if fed else []
    else:
        lines = [FedConductor((line,), limit_a * source.volts) for line in fed]
    return (*lines, *(FedConductor((line,), 0.0) for line in dict.fromkeys(dark)))


def _between_lines(state: State) -> bool:
    """Whether any panel behind the inverters has a voltage between its lines."""
    return any(
        len({phase.angle_deg for phase in panel.phases}) > 1
        for panel in state.panels
        if set(panel.way) & {*state.passing, *state.inverting}
    )


def _recommended(
    source: Source, practice: Practice, rungs: tuple[Rung, ...], generator: Figure | None, before_a: Figure
) -> Figure:
    """The limit of one line of a source."""
    least = min(rungs, key=lambda rung: rung.good_a)
    return Figure(
        name=f"Limit to set at {source.name}",
        value=math.floor(max(0.1, least.good_a - before_a.value) * 10 + 1e-9) / 10,
        unit="A",
        formula=(
            "least of what the current comes through, for hours, less what panels before the inverters draw, rounded "
            "down to 0.1 A"
        ),
        inputs=(
            Given("Socket rating", source.amps, "A"),
            Given("Continuous share", CONTINUOUS_SHARE[practice], "1"),
            *(Given(f"{rung.name}, good for", rung.good_a, "A") for rung in rungs),
            before_a,
            *((generator,) if generator else ()),
        ),
        source="NEC 210.20 (125 % of continuous load), recalled" if practice == "north_american" else PRACTICE,
        limit=f"{least.name} limits; one line, all units on it together",
    )
