"""Step Inverters: what each leg carries, line and neutral currents, and what each source gives."""

from __future__ import annotations

import math
from bisect import bisect_left

from msgspec import Struct

from weighty_axle.design.bank import BankRatings
from weighty_axle.design.brief import FEEDS, BriefResult, Profile, leg_power, two_legs
from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Figure, Given
from weighty_axle.job.model import Inverters, Load, Practice, Source
from weighty_axle.physics.phasors import ThreeWire, complex_power, leg_voltages, three_wire

CONTINUOUS_SHARE: dict[Practice, float] = {"north_american": 0.8, "international": 1.0}
"""Share of a socket's rating for hours on end. Source: NEC 210.19 and 210.20 (125 % of continuous load), recalled."""


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
    """Phasor currents in the worst minute: as stacked now, and as the neutral would be the other way."""

    l1_a: Figure
    l2_a: Figure
    neutral_a: Figure
    neutral_split_a: Figure
    neutral_in_phase_a: Figure
    between_lines_v: Figure
    leg_balance: Figure


class SourceRow(Struct, frozen=True):
    """What one place to plug in can give and what the bank must add."""

    tag: str
    gives_240: bool
    continuous_w: Figure
    recommended_limit_a: Figure
    assist_w: Figure
    charge_left_a: Figure


class InvertersResult(Struct, frozen=True):
    """Legs, line currents (two-leg systems) and the source table."""

    legs: tuple[Leg, ...]
    currents: Currents | None
    sources: tuple[SourceRow, ...]
    dead_across: tuple[str, ...]


def inverters(
    stated: Inverters, loads: tuple[Load, ...], practice: Practice, bay_high_c: float, brief: BriefResult, bank: BankRatings
) -> InvertersResult:
    """Load of each leg against its inverters; currents by phasors; sources.

    Source: physics.phasors; derating as the datasheet states it.
    """
    in_phase = stated.stacking == "legs_in_phase"
    names = ("L1", "L2") if two_legs(stated.stacking) else ("AC",)
    legs = tuple(_leg(name, stated, loads, bay_high_c, brief) for name in names)
    across = tuple(tag for tag, feed in brief.feeds.items() if feed == "L1+L2")
    return InvertersResult(
        legs,
        _currents(stated, brief, legs) if len(legs) == 2 else None,
        tuple(_source(source, stated, practice, brief, bank) for source in stated.sources),
        across if in_phase else (),
    )


def _leg(name: str, stated: Inverters, loads: tuple[Load, ...], bay_high_c: float, brief: BriefResult) -> Leg:
    spec = stated.spec
    units = sum(unit.leg == name for unit in stated.units) if name != "AC" else len(stated.units)
    left = max(0.0, 1 - spec.derate_per_c * max(0.0, bay_high_c - spec.full_to_c))
    count, bay = Given("Units on the leg", units, "count"), Given("Hottest bay", bay_high_c, "degC")
    continuous = Figure(
        f"{name} continuous at bay heat", units * spec.continuous_va * left, "VA", "units × rating × (1 − derating × (bay − full-power temperature))",
        (count, Given("Rating of one", spec.continuous_va, "VA"), bay, Given("Full power up to", spec.full_to_c, "degC"), Given("Derating per °C", spec.derate_per_c, "1")),
        "inverter datasheet",
    )  # fmt: skip
    surge = Figure(
        f"{name} surge",
        units * spec.surge_va,
        "VA",
        "units × surge of one",
        (count, Given("Surge of one", spec.surge_va, "VA")),
        "inverter datasheet",
        f"for {spec.surge_s:g} s",
    )
    key = max(brief.profiles, key=lambda one: brief.profiles[one].highest_va[name])
    profile = brief.profiles[key]
    step = profile.leg_va[name].index(profile.highest_va[name])
    power = leg_power(profile.running_w, profile.running_var, stated.stacking, name)[step]
    start, starter = _worst_start(name, loads, brief, stated.stacking == "legs_in_phase")
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
            if motor is None or (feed != name and not (feed == "L1+L2" and name != "AC" and not dead_across)):
                continue
            extra = start_extra_va(motor) * (0.5 if feed == "L1+L2" else 1.0)
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


def _currents(stated: Inverters, brief: BriefResult, legs: tuple[Leg, ...]) -> Currents:
    volts, in_phase = stated.spec.ac_v, stated.stacking == "legs_in_phase"
    worst = max(legs, key=lambda leg: leg.worst_va.value)
    profile = brief.profiles[worst.worst_profile]
    step = profile.running_w.times_min.index(worst.worst_at_min)
    va = tuple(complex(profile.running_w.values[i][step], profile.running_var.values[i][step]) for i in range(3))

    def solved(together: bool) -> ThreeWire:
        l1_v, l2_v = leg_voltages(volts, in_phase=together)
        return three_wire(l1_v=l1_v, l2_v=l2_v, l1_va=va[0], l2_va=va[1], across_va=va[2])

    now, split, phase = solved(in_phase), solved(False), solved(True)
    moment = when(brief, profile, worst.worst_at_min)
    inputs = (
        Given("Leg voltage", volts, "V"), Given("On L1", abs(va[0]), "VA"), Given("On L2", abs(va[1]), "VA"), Given("Across both", abs(va[2]), "VA"),
    )  # fmt: skip

    def amps(name: str, current: complex, formula: str) -> Figure:
        return Figure(name, abs(current), "A", formula, inputs, TEXTBOOK, moment)

    l1, l2 = abs(now.l1_a), abs(now.l2_a)
    line1 = amps("Current in L1", now.l1_a, "conj(S1 ÷ V1) + conj(S12 ÷ V12)")
    line2 = amps("Current in L2", now.l2_a, "conj(S2 ÷ V2) − conj(S12 ÷ V12)")
    return Currents(
        line1, line2,
        amps("Current in the neutral", now.neutral_a, "−(I1 + I2)"),
        amps("Neutral, legs 180° apart", split.neutral_a, "−(I1 + I2), V2 = −V1"),
        amps("Neutral, legs in phase", phase.neutral_a, "−(I1 + I2), V2 = V1"),
        Figure("Voltage between the legs", abs(now.between_lines_v), "V", "| V1 − V2 |", inputs[:1], TEXTBOOK),
        Figure("Share of the heavier leg", max(l1, l2) / (l1 + l2) if l1 + l2 else 0.5, "1", "larger line current ÷ sum of both", (line1, line2), TEXTBOOK, moment),
    )  # fmt: skip


def _source(source: Source, stated: Inverters, practice: Practice, brief: BriefResult, bank: BankRatings) -> SourceRow:
    """What a source gives at its limit; the bank adds the rest of the peak, and what is left charges."""
    spec, day = stated.spec, brief.days[brief.design_day]
    share = CONTINUOUS_SHARE[practice]
    # Legs fed alike from one line share that line's current.
    lines = source.legs if not source.legs_in_phase else 1
    amps = Given("Socket rating", source.amps, "A")
    safe = source.amps * share
    recommended = Figure(
        f"Limit to set at {source.name}",
        math.floor(safe * 10 + 1e-9) / 10,
        "A",
        "socket rating × continuous share, rounded down to 0.1 A",
        (amps, Given("Continuous share", share, "1")),
        "NEC 210.20 (125 % of continuous load), recalled" if practice == "north_american" else PRACTICE,
    )
    limit = Given("Limit set", source.limit_a, "A")
    continuous = Figure(
        f"Power from {source.name}",
        source.limit_a * source.volts * lines,
        "W",
        "limit × volts × lines",
        (limit, Given("Volts", source.volts, "V"), Given("Lines", lines, "count")),
        TEXTBOOK,
    )
    mean_ac = max(sum(powers[:4]) for powers in zip(*brief.profiles[day.profile].mean_w.values, strict=True))
    assist = Figure(
        f"Bank adds at {source.name}",
        max(0.0, day.peak_ac_w.value - continuous.value),
        "W",
        "highest AC power together − power from the source",
        (day.peak_ac_w, continuous),
        TEXTBOOK,
    )
    charger_a = len(stated.units) * spec.charge_a
    left_w = max(0.0, continuous.value - mean_ac)
    left = Figure(
        f"Charge left at {source.name}", min(charger_a, left_w * spec.peak_efficiency / bank.nominal_v.value), "A", "(power from the source − busiest mean load) × efficiency ÷ bank voltage, at most the chargers' rating",
        (continuous, Given("Busiest mean AC load", mean_ac, "W"), Given("Efficiency", spec.peak_efficiency, "1"), bank.nominal_v, Given("Chargers' rating", charger_a, "A")), TEXTBOOK,
    )  # fmt: skip
    return SourceRow(source.tag, source.legs == 2 and not source.legs_in_phase, continuous, recommended, assist, left)
