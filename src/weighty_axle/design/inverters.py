"""Step Inverters: what each leg carries, line and neutral currents, and what each source gives."""

from __future__ import annotations

import cmath
from bisect import bisect_left

from msgspec import Struct

from weighty_axle.design.brief import ACROSS, ALL_THREE, FEEDS, BriefResult, Profile, leg_power
from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.job.ac import BETWEEN_LINES, LINES, Inverters, line_v, units_on
from weighty_axle.job.model import Load
from weighty_axle.physics.phasors import complex_power, leg_voltages, pulsating_va, star_currents, three_wire


class Leg(Struct, frozen=True):
    """One leg (or the one AC line): ratings of the units on it and the worst it is asked for."""

    tag: str
    units: int
    continuous_va: Figure
    surge_va: Figure
    worst_va: Figure
    worst_profile: str
    worst_at_min: int
    start_va: Figure
    start_load: str


class Currents(Struct, frozen=True):
    """Phasor currents in the worst minute, of every line and the neutral; and for two legs, what the neutral would carry the other way."""

    lines_a: tuple[Figure, ...]
    neutral_a: Figure
    neutral_split_a: Figure | None
    neutral_in_phase_a: Figure | None
    between_lines_v: Figure
    leg_balance: Figure


class InvertersResult(Struct, frozen=True):
    """Lines, their currents where there are several, the swing the bank sees, and loads across lines that get nothing.

    `pulsating_va`: power that swings at twice the mains frequency and reaches the bank as ripple.
    """

    legs: tuple[Leg, ...]
    currents: Currents | None
    pulsating_va: Figure
    dead_across: tuple[str, ...]


def inverters(stated: Inverters, loads: tuple[Load, ...], bay_high_c: float, brief: BriefResult) -> InvertersResult:
    """Load of each line against its inverters; currents by phasors.

    Source: physics.phasors; derating as the datasheet states it.
    """
    legs = tuple(_leg(name, stated, loads, bay_high_c, brief) for name in LINES[stated.stacking])
    across = tuple(tag for tag, feed in brief.feeds.items() if "+" in feed)
    worst = max(legs, key=lambda leg: leg.worst_va.value)
    moment = _moment(worst, stated, brief)
    return InvertersResult(
        legs, _currents(stated, moment) if len(legs) > 1 else None, _pulsating(stated, moment), () if stated.stacking in BETWEEN_LINES else across
    )


def _leg(name: str, stated: Inverters, loads: tuple[Load, ...], bay_high_c: float, brief: BriefResult) -> Leg:
    spec = stated.spec
    units, part = len(units_on(stated, name)), 1 / spec.lines
    left = max(0.0, 1 - spec.derate_per_c * max(0.0, bay_high_c - spec.full_to_c))
    count, bay = Given("Units on the line", units, "count"), Given("Hottest bay", bay_high_c, "degC")
    half = (Given("Share of a unit on one of its two legs", part, "1"),) if spec.lines == 2 else ()
    continuous = Figure(
        f"{name} continuous at bay heat", units * spec.continuous_va * part * left, "VA", "units × rating × (1 − derating × (bay − full-power temperature))",
        (count, Given("Rating of one", spec.continuous_va, "VA"), bay, Given("Full power up to", spec.full_to_c, "degC"), Given("Derating per °C", spec.derate_per_c, "1"), *half),
        "inverter datasheet",
    )  # fmt: skip
    surge = Figure(
        f"{name} surge",
        units * spec.surge_va * part,
        "VA",
        "units × surge of one",
        (count, Given("Surge of one", spec.surge_va, "VA"), *half),
        "inverter datasheet",
        f"for {spec.surge_s:g} s",
    )
    key = max(brief.profiles, key=lambda one: brief.profiles[one].highest_va[name])
    profile = brief.profiles[key]
    step = profile.leg_va[name].index(profile.highest_va[name])
    power = leg_power(profile.running_w, profile.running_var, stated.stacking, name)[step]
    start, starter = _worst_start(name, loads, brief, stated.stacking not in BETWEEN_LINES)
    minute = profile.running_w.times_min[step]
    return Leg(
        name, units, continuous, surge,
        Figure(f"{name} highest load", abs(power), "VA", "| Σ P + jQ | of all loads painted in the worst minute", (Given("Active", power.real, "W"), Given("Reactive", power.imag, "var")), TEXTBOOK, when(brief, profile, minute)),
        key, minute,
        start, starter,
    )  # fmt: skip


def when(brief: BriefResult, profile: Profile, minute: int) -> str:
    """Kind of day, season where it matters, and time, as a phrase."""
    season = f", {profile.season_words}" if profile.season_words else ""
    return f"{brief.days[profile.kind].name}{season}, {clock(minute)}"


def clock(minute: int) -> str:
    """Time of day as people write it."""
    return f"{minute // 60:02d}:{minute % 60:02d}"


def _worst_start(name: str, loads: tuple[Load, ...], brief: BriefResult, dead_across: bool) -> tuple[Figure, str]:
    """Largest (running total + one motor's extra at start); magnitudes are added, which is on the safe side."""
    best, best_tag, words, running = 0.0, "", "no load with a start surge", 0.0
    motors = {load.tag: load for load in loads if load.start_multiple > 1}
    for profile in brief.profiles.values():
        times, size = profile.running_w.times_min, profile.leg_va[name]
        for row in profile.rows:
            motor = motors.get(row.tag)
            feed = FEEDS[row.channel]
            if motor is None or (feed != name and (name not in feed.split("+") or dead_across)):
                continue
            extra = start_extra_va(motor) / len(feed.split("+"))
            for span in row.spans:
                first, last = bisect_left(times, span.start_min), bisect_left(times, span.end_min)
                step = max(range(first, last), key=size.__getitem__)
                if size[step] + extra > best:
                    best, best_tag, running = size[step] + extra, row.tag, size[step]
                    words = f"{motor.name} starts, {when(brief, profile, times[step])}"
    return Figure(
        f"{name} worst start",
        best,
        "VA",
        "running load + running power × (start multiple − 1) of one motor",
        (Given("Running", running, "VA"), Given("Extra at the start", best - running, "VA")),
        TEXTBOOK,
        words,
    ), best_tag


def start_extra_va(load: Load) -> float:
    """What one unit takes above its running power while it starts [VA]."""
    return abs(complex_power(load.running_w, load.power_factor)) * (load.start_multiple - 1)


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


class _Moment(Struct, frozen=True):
    """Complex power of every feed in the worst minute [VA]."""

    own_va: tuple[complex, ...]
    across_va: complex
    all_three_va: complex
    words: str


def _moment(worst: Leg, stated: Inverters, brief: BriefResult) -> _Moment:
    profile = brief.profiles[worst.worst_profile]
    step = profile.running_w.times_min.index(worst.worst_at_min)
    va = tuple(complex(w[step], var[step]) for w, var in zip(profile.running_w.values, profile.running_var.values, strict=True))
    own = tuple(va[FEEDS.index(line)] for line in LINES[stated.stacking])
    return _Moment(own, va[ACROSS], va[ALL_THREE], when(brief, profile, worst.worst_at_min))


def _solved(stated: Inverters, moment: _Moment, *, in_phase: bool) -> tuple[tuple[complex, ...], tuple[complex, ...]]:
    """Voltage and current of every line."""
    volts, count = line_v(stated), len(moment.own_va)
    if count == 2:
        l1_v, l2_v = leg_voltages(volts, in_phase=in_phase)
        found = three_wire(l1_v=l1_v, l2_v=l2_v, l1_va=moment.own_va[0], l2_va=moment.own_va[1], across_va=moment.across_va)
        return (l1_v, l2_v), (found.l1_a, found.l2_a)
    phases = line_phasors(stated)
    return phases, star_currents(phases, moment.own_va, moment.all_three_va)


def _currents(stated: Inverters, moment: _Moment) -> Currents:
    names, apart = LINES[stated.stacking], stated.stacking in BETWEEN_LINES
    volts, amps = _solved(stated, moment, in_phase=not apart)
    leg_v = Given("Line voltage", line_v(stated), "V")
    inputs = (
        leg_v, *(part for line, va in zip(names, moment.own_va, strict=True) for part in (Given(f"On {line}", va.real, "W"), Given(f"On {line}, reactive", va.imag, "var"))),
        Given("Across lines", (moment.across_va + moment.all_three_va).real, "W"), Given("Across lines, reactive", (moment.across_va + moment.all_three_va).imag, "var"),
    )  # fmt: skip

    def figure(name: str, value: float, formula: str) -> Figure:
        return Figure(name, value, "A", formula, inputs, TEXTBOOK, moment.words)

    lines = tuple(
        figure(f"Current in {line}", abs(one), "conj(S ÷ V) of its own loads and its part of those across lines")
        for line, one in zip(names, amps, strict=True)
    )
    sizes = [abs(one) for one in amps]
    total = sum(sizes)
    split = phase = None
    if len(names) == 2:
        split = figure("Neutral, legs 180° apart", abs(sum(_solved(stated, moment, in_phase=False)[1])), "−(I1 + I2), V2 = −V1")
        phase = figure("Neutral, legs in phase", abs(sum(_solved(stated, moment, in_phase=True)[1])), "−(I1 + I2), V2 = V1")
    if stated.stacking == "independent":
        neutral = figure("Current in the neutral", max(sizes), "each system has its own neutral: the larger line current")
        between = Figure("Voltage between the lines", 0.0, "V", "systems not in step have no steady voltage between them", (leg_v,), TEXTBOOK)
    else:
        neutral = figure("Current in the neutral", abs(sum(amps)), "−Σ I of all lines")
        between = Figure("Voltage between the legs", abs(volts[0] - volts[1]), "V", "| V1 − V2 |", (leg_v,), TEXTBOOK)
    balance = Figure(
        "Share of the heaviest leg",
        max(sizes) / total if total else 1 / len(sizes),
        "1",
        "largest line current ÷ sum of all",
        lines,
        TEXTBOOK,
        moment.words,
    )
    return Currents(lines, neutral, split, phase, between, balance)


def _pulsating(stated: Inverters, moment: _Moment) -> Figure:
    volts, amps = _solved(stated, moment, in_phase=stated.stacking not in BETWEEN_LINES)
    formula, value = "| Σ V I |, currents not conjugated, over all lines", pulsating_va(volts, amps)
    given = tuple(Given(f"Line {at + 1}", abs(v * i), "VA") for at, (v, i) in enumerate(zip(volts, amps, strict=True)))
    if stated.stacking == "independent":
        formula, value = "Σ | V I |: systems not in step may swing together", sum(abs(v * i) for v, i in zip(volts, amps, strict=True))
    return Figure("Power swinging at twice the mains frequency", value, "VA", formula, given, TEXTBOOK, moment.words)
