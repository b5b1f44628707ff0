"""Step Inverters: what each line carries against its inverters, line and neutral currents, each at its own worst minute
in its own worst state.
"""

from __future__ import annotations

import cmath
from collections.abc import Callable
from typing import Any

from msgspec import Struct

from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.design.inverters.duty import NOTHING, Asked, Duty, GroupWorst, Painted, Reached, Start, phases_of
from weighty_axle.design.inverters.duty_cases import BEHIND, INVERTED, Case, units_key
from weighty_axle.design.inverters.state import Joined, StatesResult
from weighty_axle.job.models.brief import Load
from weighty_axle.job.models.inverters import BETWEEN_LINES, LINES, Inverters, line_v, units_on
from weighty_axle.physics.electric.phasors import leg_voltages


class Leg(Struct, frozen=True, kw_only=True):
    """One leg (or the one AC line) as the inverters are set: ratings of the units on it and the worst it is asked for,
    unplugged.
    """

    tag: str
    units: int
    continuous_va: Figure
    surge_va: Figure
    worst_va: Figure
    start_va: Figure
    start_load: str


class Side(Struct, frozen=True, kw_only=True):
    """Units side by side on a line, as any setting and selector position has them: what they are asked for unplugged,
    and what they give.
    """

    tag: str
    units: tuple[str, ...]
    load_va: Figure
    load: Duty
    continuous_va: Figure
    start_va: Figure
    start: Duty
    surge_va: Figure


class Currents(Struct, frozen=True, kw_only=True):
    """Currents at the inverters' outputs, each at its own worst minute in its own worst state; for two legs also what
    the neutral would carry the other way.

    `pair_a` flows across two lines; `neutral` tells the neutral of every other set of states. `heaviest` is the line
    that `leg_balance` is about.
    """

    lines_a: tuple[Figure, ...]
    neutral_a: Figure
    neutral: Duty
    neutral_split_a: Figure | None
    neutral_in_phase_a: Figure | None
    pair_a: Figure | None
    between_lines_v: Figure
    leg_balance: Figure
    heaviest: str


class InvertersResult(Struct, frozen=True, kw_only=True):
    """Lines, their currents where there are several, the swing the bank sees, and loads across lines that get nothing.

    `pulsating_va`: power that swings at twice the mains frequency and reaches the bank as ripple; `effective_va` is
    √(P² + swing² ÷ 2) of one minute.
    """

    legs: tuple[Leg, ...]
    sides: tuple[Side, ...]
    currents: Currents | None
    active_w: Figure
    pulsating_va: Figure
    effective_va: Figure
    dead_across: tuple[str, ...]


def inverters(
    stated: Inverters, loads: tuple[Load, ...], bay_high_c: float, table: StatesResult, painted: Painted
) -> InvertersResult:
    """Load of each line against its inverters; currents by phasors.

    Source: textbook relations (Kirchhoff's current law on phasors); derating as the datasheet states it.
    """
    lines, names = LINES[stated.stacking], {load.tag: load.name for load in loads}
    across = tuple(tag for tag, feed in painted.brief.feeds.items() if "+" in feed)
    outputs = dict.fromkeys(output for state in table.states if state.inverting for output in state.outputs)
    inverted = painted.found.of(INVERTED)
    return InvertersResult(
        legs=tuple(_leg(line, stated, bay_high_c, painted, names) for line in lines),
        sides=tuple(_side(output, stated, bay_high_c, painted, names) for output in outputs),
        currents=_currents(stated, painted) if len(lines) > 1 else None,
        active_w=_power(
            "Active power together", "W", "Σ P of all lines", stated, painted, inverted, lambda one: one.active
        ),
        pulsating_va=_power(
            "Power swinging at twice the mains frequency",
            "VA",
            "| Σ V I |, currents not conjugated, over all lines",
            stated,
            painted,
            inverted,
            lambda one: one.swing,
        ),
        effective_va=_power(
            "Power with its swing", "VA", "√((Σ P)² + swing² ÷ 2)", stated, painted, inverted, lambda one: one.effective
        ),
        dead_across=() if stated.stacking in BETWEEN_LINES else across,
    )


# ---- units against what they are asked for -------------------------------------------------------------------


def _ratings(line: str, units: int, stated: Inverters, bay_high_c: float) -> tuple[Figure, Figure]:
    """Continuous rating at bay heat and surge of units side by side on a line."""
    spec = stated.spec
    part, left = 1 / spec.lines, max(0.0, 1 - spec.derate_per_c * max(0.0, bay_high_c - spec.full_to_c))
    count, bay = Given("Units on the line", units, "count"), Given("Hottest bay", bay_high_c, "degC")
    half = (Given("Share of a unit on one of its two legs", part, "1"),) if spec.lines == 2 else ()
    continuous = Figure(
        name=f"{line} continuous at bay heat",
        value=units * spec.continuous_va * part * left,
        unit="VA",
        formula="units × rating × (1 − derating × (bay − full-power temperature))",
        inputs=(
            count,
            Given("Rating of one", spec.continuous_va, "VA"),
            bay,
            Given("Full power up to", spec.full_to_c, "degC"),
            Given("Derating per °C", spec.derate_per_c, "1"),
            *half,
        ),
        source="inverter datasheet",
    )
    surge = Figure(
        name=f"{line} surge",
        value=units * spec.surge_va * part,
        unit="VA",
        formula="units × surge of one",
        inputs=(count, Given("Surge of one", spec.surge_va, "VA"), *half),
        source="inverter datasheet",
        limit=f"for {spec.surge_s:g} s",
    )
    return continuous, surge


def _leg(line: str, stated: Inverters, bay_high_c: float, painted: Painted, names: dict[str, str]) -> Leg:
    units, own = len(units_on(stated, line)), "L1" if line == "AC" else line
    cases = tuple(case for case in painted.found.of(INVERTED) if case.state.stacking == stated.stacking)
    load, start, motor = _asked_of(
        line, (own,), painted, cases, names, lambda one: one.minute
    )  # as set: no state to tell
    continuous, surge = _ratings(line, units, stated, bay_high_c)
    return Leg(
        tag=line,
        units=units,
        continuous_va=continuous,
        surge_va=surge,
        worst_va=load.worst,
        start_va=start.worst,
        start_load=motor,
    )


def _side(output: Joined, stated: Inverters, bay_high_c: float, painted: Painted, names: dict[str, str]) -> Side:
    line = "AC" if LINES[stated.stacking] == ("AC",) else "+".join(output.lines)
    load, start, _ = _asked_of(
        line, output.lines, painted, painted.found.of(units_key(output)), names, lambda one: one.words
    )
    continuous, surge = _ratings(line, len(output.units), stated, bay_high_c)
    return Side(
        tag=line,
        units=tuple(dict.fromkeys(output.units)),
        load_va=load.worst,
        load=load,
        continuous_va=continuous,
        start_va=start.worst,
        start=start,
        surge_va=surge,
    )


def _asked_of(
    line: str,
    lines: tuple[str, ...],
    painted: Painted,
    cases: tuple[Case, ...],
    names: dict[str, str],
    told: Callable[[Asked[Any]], str],
) -> tuple[Duty, Duty, str]:
    """Highest load and worst start of one line, or of several that stand side by side as one; and the motor that
    starts.
    """

    def load(one: Asked[Reached]) -> Figure:
        on = phases_of(painted.found.groups[one.case.group])
        va = sum(power for name, power in zip(on, one.reached.totals_va, strict=False) if name in lines)
        given = (Given("Active", va.real, "W"), Given("Reactive", va.imag, "var"))
        return Figure(
            name=f"{line} highest load",
            value=abs(va),
            unit="VA",
            formula="| Σ P + jQ | of all loads painted in the worst minute",
            inputs=given,
            source=TEXTBOOK,
            limit=told(one),
        )

    def begun(one: Asked[Start]) -> Figure:
        given = (
            Given("Running", one.reached.running_va, "VA"),
            Given("Extra at the start", one.reached.extra_va, "VA"),
        )
        words = f"{names[one.reached.motor]} starts, {told(one)}" if one.reached.motor else "no load with a start surge"
        formula = "running load + running power × (start multiple − 1) of one motor"
        return Figure(
            name=f"{line} worst start",
            value=one.reached.size,
            unit="VA",
            formula=formula,
            inputs=given,
            source=TEXTBOOK,
            limit=words,
        )

    def starts(worst: GroupWorst) -> Start:
        return worst.start_on(lines)

    most = max((one.reached for one in painted.asked(cases, starts)), key=lambda one: one.size, default=None)
    return (
        painted.duty(f"{line} highest load", "VA", cases, lambda worst: worst.load_on(lines), load),
        painted.duty(f"{line} worst start", "VA", cases, starts, begun),
        most.motor if most is not None else "",
    )


def part_on(line: str, feed: str) -> float:
    """Share of a feed's power that a line carries: all of its own, an even part of what hangs across several."""
    lines = feed.split("+")
    return 1 / len(lines) if line in lines else 0.0


def line_phasors(stated: Inverters) -> tuple[complex, ...]:
    """Voltage of every line against its neutral as the inverters are stacked [V]."""
    volts, count = line_v(stated), len(LINES[stated.stacking])
    if count == 2:
        return leg_voltages(volts, in_phase=stated.stacking not in BETWEEN_LINES)
    return tuple(volts * cmath.exp(-2j * cmath.pi * line / 3) for line in range(count))


# ---- currents ------------------------------------------------------------------------------------------------


def _given(one: Asked[Reached], stated: Inverters, painted: Painted) -> tuple[Given, ...]:
    """Powers in the worst minute, and how the lines stand to one another."""
    phases = phases_of(painted.found.groups[one.case.group])
    parts = [Given("Line voltage", line_v(stated), "V")]
    for (line, phase), va in zip(phases.items(), one.reached.own_va, strict=False):
        parts += [
            Given(f"On {line}", va.real, "W"),
            Given(f"On {line}, reactive", va.imag, "var"),
            Given(f"Angle of {line}", phase.angle_deg, "deg"),
        ]
    return (
        *parts,
        Given("Across lines", one.reached.shared_va.real, "W"),
        Given("Across lines, reactive", one.reached.shared_va.imag, "var"),
    )


def _power(
    name: str,
    unit: str,
    formula: str,
    stated: Inverters,
    painted: Painted,
    cases: tuple[Case, ...],
    pick: Callable[[GroupWorst], Reached],
) -> Figure:
    return painted.duty(
        name,
        unit,
        cases,
        pick,
        lambda one: Figure(
            name=name,
            value=one.reached.size,
            unit=unit,
            formula=formula,
            inputs=_given(one, stated, painted),
            source=TEXTBOOK,
            limit=one.words,
        ),
    ).worst


def _currents(stated: Inverters, painted: Painted) -> Currents:
    names, volts = LINES[stated.stacking], line_v(stated)
    leg_v = Given("Line voltage", volts, "V")
    behind, inverted = painted.found.of(BEHIND), painted.found.of(INVERTED)

    def duty(name: str, formula: str, cases: tuple[Case, ...], pick: Callable[[GroupWorst], Reached]) -> Duty:
        def figure(one: Asked[Reached]) -> Figure:
            return Figure(
                name=name,
                value=one.reached.size / volts,
                unit="A",
                formula=formula,
                inputs=_given(one, stated, painted),
                source=TEXTBOOK,
                limit=one.words,
            )

        return painted.duty(name, "A", cases, pick, figure)

    def line_of(line: str) -> Callable[[GroupWorst], Reached]:
        return lambda worst: worst.lines.get(line, NOTHING)

    lines = tuple(
        duty(
            f"Current in {line}",
            "conj(S ÷ V) of its own loads and its part of those across lines",
            behind,
            line_of(line),
        ).worst
        for line in names
    )
    two = len(names) == 2
    apart = stated.stacking in BETWEEN_LINES
    if stated.stacking == "independent":
        neutral = duty(
            "Current in the neutral",
            "each system has its own neutral: the larger line current",
            behind,
            lambda worst: worst.largest,
        )
        between = Figure(
            name="Voltage between the lines",
            value=0.0,
            unit="V",
            formula="systems not in step have no steady voltage between them",
            inputs=(leg_v,),
            source=TEXTBOOK,
        )
    else:
        neutral = duty("Current in the neutral", "−Σ I of all lines", behind, lambda worst: worst.neutral)
        v1, v2 = line_phasors(stated)[:2]
        between = Figure(
            name="Voltage between the legs",
            value=abs(v1 - v2),
            unit="V",
            formula="| V1 − V2 |",
            inputs=(leg_v,),
            source=TEXTBOOK,
        )
    balance, heaviest = _balance(stated, painted, inverted)
    return Currents(
        lines_a=lines,
        neutral_a=neutral.worst,
        neutral=neutral,
        neutral_split_a=duty(
            "Neutral, legs 180° apart", "−(I1 + I2), V2 = −V1", inverted, lambda worst: worst.apart
        ).worst
        if two
        else None,
        neutral_in_phase_a=duty(
            "Neutral, legs in phase", "−(I1 + I2), V2 = V1", inverted, lambda worst: worst.alike
        ).worst
        if two
        else None,
        pair_a=duty(
            "Current across two lines",
            "conj(S ÷ (V1 − V2)) of the loads across lines",
            behind,
            lambda worst: worst.pair,
        ).worst
        if apart and two
        else None,
        between_lines_v=between,
        leg_balance=balance,
        heaviest=heaviest,
    )


def _balance(stated: Inverters, painted: Painted, cases: tuple[Case, ...]) -> tuple[Figure, str]:
    """Share of the heaviest leg, and which it is, in the minute in which it is most above the mean: a lone lamp at
    night is no imbalance.
    """
    name, formula = (
        "Share of the heaviest leg",
        "largest line power ÷ sum of all, in the minute of the largest difference",
    )

    most = max(painted.asked(cases, lambda worst: worst.uneven), key=lambda one: one.reached.size, default=None)
    if most is None or not most.reached.size:
        return Figure(
            name=name,
            value=1 / len(LINES[stated.stacking]),
            unit="1",
            formula=formula,
            inputs=(),
            source=TEXTBOOK,
            limit="nothing painted",
        ), ""
    sizes = dict(zip(phases_of(painted.found.groups[most.case.group]), map(abs, most.reached.totals_va), strict=True))
    heaviest = max(sizes, key=lambda line: sizes[line])
    given = tuple(Given(f"On {line}", size, "VA") for line, size in sizes.items())
    return Figure(
        name=name,
        value=sizes[heaviest] / sum(sizes.values()),
        unit="1",
        formula=formula,
        inputs=given,
        source=TEXTBOOK,
        limit=most.words,
    ), heaviest
