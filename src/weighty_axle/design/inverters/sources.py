"""Source ladder: what each place to plug in gives through pedestal, adapter, inlet and generator, what runs, and what
the bank must add.
"""

from __future__ import annotations

import math

from msgspec import Struct

from weighty_axle.design.bank.packs import BankRatings
from weighty_axle.design.brief.day import BriefResult, Profile, when
from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Figure, Given
from weighty_axle.design.inverters.ac_wiring import AcWiring, LiveCircuit
from weighty_axle.design.inverters.source_days import FedConductor, MeanStep, SourceDay
from weighty_axle.design.inverters.states import State, StatesResult
from weighty_axle.job.models.brief import Load, Stay
from weighty_axle.job.models.document import Practice
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
from weighty_axle.job.models.vehicle import Site
from weighty_axle.physics.electric.phasors import complex_power
from weighty_axle.units import System, show

CONTINUOUS_SHARE: dict[Practice, float] = {"north_american": 0.8, "international": 1.0}
"""Share of a socket's rating for hours on end. Source: NEC 210.19 and 210.20 (125 % of continuous load), recalled."""


class Rung(Struct, frozen=True):
    """One thing the current comes through, and what it is good for per line [A] for hours."""

    name: str
    good_a: float


class UnitLimit(Struct, frozen=True, kw_only=True):
    """What to set in each unit where several share one line of the source: they take the sum of their limits.

    `position` names the selectors' positions, empty where there is none.
    """

    position: str
    units: int
    each_a: Figure


class SourceRow(Struct, frozen=True, kw_only=True):
    """What one place to plug in can give, and what the bank must add on the days it is used.

    `lines_fed`: lines of the system that get power, `lines_own`: how many of them have a conductor of their own.
    `accepted`: the inverters let it through in some setting and position that can occur, `position` says which where it
    is not how things stand; `feeds_inverters`: its inlet leads to their input at all. `dead` are loads across lines
    that get nothing there.
    """

    tag: str
    lines_fed: int
    lines_own: int
    gives_240: bool
    accepted: bool
    feeds_inverters: bool
    position: str
    day: str
    conductors: tuple[FedConductor, ...]
    rungs: tuple[Rung, ...]
    recommended_limit_a: Figure
    unit_limits: tuple[UnitLimit, ...]
    continuous_w: Figure
    inlet_v: Figure
    peak_w: Figure
    bank_adds_w: Figure
    bank_adds_va: dict[str, Figure]
    bank_lasts_h: Figure
    charge_left_a: Figure
    net_day_wh: Figure
    full_h: Figure
    dead: tuple[str, ...]

    @property
    def weakest(self) -> Rung:
        """What limits it."""
        return min(self.rungs, key=lambda rung: rung.good_a)


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


SourcePiece = tuple[Profile, tuple[FedConductor, ...], tuple[str, ...], bool]


def source_pieces(
    ladder: tuple[Supply, ...], stays: tuple[Stay, ...], brief: BriefResult
) -> dict[tuple[str, str], SourcePiece]:
    """What a day at a source is made from, by source and kind of day."""
    return {
        (supply.source.tag, key): (one, supply.conductors, supply.lines, supply.across)
        for supply in ladder
        for kinds in (source_kinds(supply.source, stays, brief),)
        for key, one in brief.profiles.items()
        if one.kind in kinds
    }


def sources(
    stated: Inverters,
    ac: AcSide,
    ladder: tuple[Supply, ...],
    days: dict[tuple[str, str], SourceDay],
    brief: BriefResult,
    bank: BankRatings,
) -> tuple[SourceRow, ...]:
    """A row for each source, from its ladder and its kinds of day. `days`: by source and kind of day."""
    own = {
        supply.source.tag: tuple(day for (tag, _), day in days.items() if tag == supply.source.tag) for supply in ladder
    }
    return tuple(_row(supply, own[supply.source.tag], stated, ac, brief, bank) for supply in ladder)


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
    height_m, name = max(places, key=lambda one: one[0])
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
    hooked = dict.fromkeys(one.kind for one in brief.profiles.values() if one.use == "hooked_up")
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


def _unit_limits(source: Source, states: tuple[State, ...], limit: Figure) -> tuple[UnitLimit, ...]:
    """The limit of each unit, by selector position: units on one line of the source take the sum of what each is set
    to.
    """
    found: dict[str, UnitLimit] = {}
    for state in states:
        shared = [joined.units for joined in state.inputs if set(joined.units) & set(state.passing)]
        if source.legs_in_phase or source.legs == 1:
            shared = [tuple(dict.fromkeys(unit for units in shared for unit in units))]
        count = max((len(set(units)) for units in shared), default=1) or 1
        position = ", ".join(f"{tag} at {name}" for tag, name in state.positions)
        each = Figure(
            name=f"Limit of each unit at {source.name}",
            value=math.floor(limit.value / count * 10 + 1e-6) / 10,
            unit="A",
            formula="limit of the line ÷ units on it, rounded down to 0.1 A",
            inputs=(limit, Given("Units on one line", count, "count")),
            source=TEXTBOOK,
            limit=position,
        )
        found.setdefault(position, UnitLimit(position=position, units=count, each_a=each))
    return tuple(found.values())


def _row(
    supply: Supply, days: tuple[SourceDay, ...], stated: Inverters, ac: AcSide, brief: BriefResult, bank: BankRatings
) -> SourceRow:
    """What a source gives at its limit; the bank adds the rest of the peak, and what is left charges."""
    spec, source = stated.spec, supply.source
    state = supply.passing[0] if supply.passing else None
    conductors, recommended, across = supply.conductors, supply.recommended, supply.across
    own = sum(one.gives_va > 0 for one in conductors)
    fed = sum(len(one.lines) for one in conductors if one.gives_va > 0)
    limit = Given("Limit set", source.limit_a, "A")
    why = (
        ""
        if state is not None
        else "its inlet leads to no inverter"
        if not supply.leads
        else "the inverters, as they are set, do not let it through"
    )
    continuous = Figure(
        name=f"Power from {source.name}",
        value=supply.counted_a * source.volts * own,
        unit="W",
        formula="the lower of the limit set and the limit to set × volts × lines with a conductor of their own",
        inputs=(limit, recommended, Given("Volts", source.volts, "V"), Given("Lines", own, "count")),
        source=TEXTBOOK,
        limit=why,
    )
    inlet_v = Figure(
        name=f"Voltage at the inlet, {source.name}",
        value=source.volts - source.limit_a * source.loop_ohm,
        unit="V",
        formula="volts − limit × resistance out and back as far as the inlet",
        inputs=(Given("Volts", source.volts, "V"), limit, Given("Resistance out and back", source.loop_ohm, "ohm")),
        source=TEXTBOOK,
        limit="stated or assumed: measure it with a load on",
    )
    most = max(days, key=lambda one: (one.worst.lack.adds_w, one.worst.asked_w))
    at, lack = most.worst, most.worst.lack
    words = when(brief, most.profile, at.start_min)
    peak = Figure(
        name=f"AC power in the worst minute at {source.name}",
        value=at.asked_w,
        unit="W",
        formula="Σ of the lines; what gets no voltage there left out",
        inputs=tuple(Given(f"On {line}", va.real, "W") for line, va in at.lines_va.items()),
        source=TEXTBOOK,
        limit=words,
    )
    given = tuple(
        part
        for one in conductors
        for part in (
            Given(f"{' and '.join(one.lines)} asked", sum(abs(at.lines_va.get(line, 0j)) for line in one.lines), "VA"),
            Given("given", one.gives_va, "VA"),
            Given("Active", sum(at.lines_va.get(line, 0j).real for line in one.lines), "W"),
        )
    )
    adds = Figure(
        name=f"Bank adds at {source.name}",
        value=lack.adds_w,
        unit="W",
        formula="Σ active power × (1 − given ÷ asked), line by line",
        inputs=given,
        source=TEXTBOOK,
        limit=words,
    )
    each = {line: _adds_to(line, source, days, brief) for line in supply.lines}
    means = [step for one in days for step in one.mean]
    dc_w = max(step.dc_w for step in means)
    drawn_w = adds.value / spec.full_load_efficiency + dc_w
    lasts = Figure(
        name=f"Bank lasts at the peak, {source.name}",
        value=bank.usable_energy_wh.value / drawn_w if adds.value else math.inf,
        unit="h",
        formula="usable energy ÷ (what the bank adds ÷ full-load efficiency + DC loads)",
        inputs=(
            bank.usable_energy_wh,
            adds,
            Given("Efficiency at full load", spec.full_load_efficiency, "1"),
            Given("DC loads, mean", dc_w, "W"),
        ),
        source=TEXTBOOK,
    )
    charger_a = len(stated.units) * spec.charge_a if state is not None else 0.0
    spare_w = min(step.spare_w for step in means)
    left = Figure(
        name=f"Charge left at {source.name}",
        value=min(charger_a, spare_w * spec.peak_efficiency / bank.nominal_v.value),
        unit="A",
        formula="least power to spare × efficiency ÷ bank voltage, at most the chargers' rating",
        inputs=(
            Given("Least to spare beside the mean loads, line by line", spare_w, "W"),
            Given("Efficiency", spec.peak_efficiency, "1"),
            bank.nominal_v,
            Given("Chargers' rating", charger_a, "A"),
        ),
        source=TEXTBOOK,
    )
    busiest = max(days, key=lambda one: one.profile.bank_wh)
    net = _net(source, continuous, busiest.mean, charger_a, stated, bank, brief.days[busiest.profile.kind].name)
    full = Figure(
        name=f"Empty to full at {source.name}",
        value=bank.usable_energy_wh.value / net.value * 24 if net.value > 0 else math.inf,
        unit="h",
        formula="usable energy ÷ what a day adds × 24 h",
        inputs=(bank.usable_energy_wh, net),
        source=TEXTBOOK,
        limit="with that day's loads running; absorption left out",
    )
    dead = tuple(tag for tag, feed in brief.feeds.items() if "+" in feed) if state is not None and not across else ()
    standing = {selector.tag: selector.now for selector in ac.selectors}
    turned = (
        "" if state is None else ", ".join(f"{tag} at {name}" for tag, name in state.positions if standing[tag] != name)
    )
    return SourceRow(
        tag=source.tag,
        lines_fed=fed,
        lines_own=own,
        gives_240=bool(state) and across and len(supply.lines) == 2,
        accepted=state is not None,
        feeds_inverters=supply.leads,
        position=turned,
        day=words,
        conductors=conductors,
        rungs=supply.rungs,
        recommended_limit_a=recommended,
        unit_limits=_unit_limits(source, supply.passing, recommended),
        continuous_w=continuous,
        inlet_v=inlet_v,
        peak_w=peak,
        bank_adds_w=adds,
        bank_adds_va=each,
        bank_lasts_h=lasts,
        charge_left_a=left,
        net_day_wh=net,
        full_h=full,
        dead=dead,
    )


def _adds_to(line: str, source: Source, days: tuple[SourceDay, ...], brief: BriefResult) -> Figure:
    """The most the inverters must add to a line, at its own worst minute."""
    day = max(days, key=lambda one: one.each[line].lack.adds_va.get(line, 0.0))
    at = day.each[line]
    asked_va, adds_va = abs(at.lines_va[line]), at.lack.adds_va.get(line, 0.0)
    given = (Given(f"Asked of {line}", asked_va, "VA"), Given("From the source", asked_va - adds_va, "VA"))
    return Figure(
        name=f"Bank adds to {line} at {source.name}",
        value=adds_va,
        unit="VA",
        formula="asked − from the source",
        inputs=given,
        source=TEXTBOOK,
        limit=when(brief, day.profile, at.start_min),
    )


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


def _net(
    source: Source,
    continuous: Figure,
    steps: tuple[MeanStep, ...],
    charger_a: float,
    stated: Inverters,
    bank: BankRatings,
    day: str,
) -> Figure:
    """What a day hooked up puts into the bank or takes from it: each line first runs its AC loads, what is to spare
    charges and feeds DC loads.
    """
    spec = stated.spec
    most_w = charger_a * bank.nominal_v.value
    gained = sum(
        step.hours
        * (min(most_w, step.spare_w * spec.peak_efficiency) - step.adds_w / spec.full_load_efficiency - step.dc_w)
        for step in steps
    )
    return Figure(
        name=f"A day at {source.name} adds",
        value=gained,
        unit="Wh",
        formula="Σ hours × (spare × efficiency, at most the chargers, less lack ÷ full-load efficiency, less DC loads)",
        inputs=(
            continuous,
            Given("Efficiency", spec.peak_efficiency, "1"),
            Given("Efficiency at full load", spec.full_load_efficiency, "1"),
            Given("Chargers' rating", most_w, "W"),
        ),
        source=TEXTBOOK,
        limit=f"{day}, mean loads",
    )


def unit_limits(row: SourceRow, limit_a: float, system: System) -> str:
    """What to set in each unit, by selector position where they differ; the limit of the line is shared by the units on
    it.
    """
    made = {one.position: (one.units, math.floor(limit_a / one.units * 10 + 1e-6) / 10) for one in row.unit_limits}
    words = {
        position: f"{show(each, 'A', system)}" + (f" in each of {units}" if units > 1 else "")
        for position, (units, each) in made.items()
    }
    if len(set(words.values())) <= 1:
        return next(iter(words.values()), "–")
    return "; ".join(f"{position}: {text}" for position, text in words.items())
