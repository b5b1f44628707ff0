"""Source ladder: what each place to plug in gives through pedestal, adapter, inlet and generator, what runs, and what the bank must add."""

from __future__ import annotations

import math

from msgspec import Struct

from weighty_axle.design.ac_wiring import AcWiring, LiveCircuit
from weighty_axle.design.bank import BankRatings
from weighty_axle.design.brief import DC_CHANNEL, BriefResult
from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Figure, Given
from weighty_axle.job.ac import BETWEEN_LINES, LINES, AcSide, Inlet, Inverters, Source, line_v, voltage_fits
from weighty_axle.job.model import Load, Practice, Stay
from weighty_axle.job.survey import Site
from weighty_axle.physics.phasors import complex_power

CONTINUOUS_SHARE: dict[Practice, float] = {"north_american": 0.8, "international": 1.0}
"""Share of a socket's rating for hours on end. Source: NEC 210.19 and 210.20 (125 % of continuous load), recalled."""


class Rung(Struct, frozen=True):
    """One thing the current comes through, and what it is good for per line [A] for hours."""

    name: str
    good_a: float


class SourceRow(Struct, frozen=True):
    """What one place to plug in can give, and what the bank must add.

    `lines_fed`: lines of the system that get power, `lines_own`: how many of them have a conductor of their own. `accepted`: the inverters let it through
    as they are set. `dead` are loads across lines that get nothing there.
    """

    tag: str
    lines_fed: int
    lines_own: int
    gives_240: bool
    accepted: bool
    rungs: tuple[Rung, ...]
    recommended_limit_a: Figure
    continuous_w: Figure
    inlet_v: Figure
    assist_w: Figure
    assist_lasts_h: Figure
    charge_left_a: Figure
    net_day_wh: Figure
    full_h: Figure
    dead: tuple[str, ...]

    @property
    def weakest(self) -> Rung:
        """What limits it."""
        return min(self.rungs, key=lambda rung: rung.good_a)


def sources(
    stated: Inverters, ac: AcSide, practice: Practice, site: Site, stays: tuple[Stay, ...], brief: BriefResult, bank: BankRatings, before_a: Figure
) -> tuple[SourceRow, ...]:  # fmt: skip
    """The ladder, a row for each source; a generator is derated for the highest place it may run at.

    Source: NEC 210.20, recalled; generator derating common practice; textbook relations.
    """
    return tuple(
        _row(source, stated, ac, practice, generator_w(source, site, highest_use(source, site, stays)), brief, bank, before_a)
        for source in stated.sources
    )


def before_current(circuits: tuple[LiveCircuit, ...], wiring: AcWiring, loads: tuple[Load, ...], inverters: Inverters) -> Figure:
    """What panels before the inverters draw from the same socket, on the busiest line, everything in them at once."""
    by_tag = {load.tag: load for load in loads}
    found = [
        (line, by_tag[tag], abs(complex_power(by_tag[tag].running_w * by_tag[tag].count, by_tag[tag].power_factor)) / len(circuit.lines))
        for circuit in circuits if circuit.panel in wiring.before for tag in circuit.loads for line in circuit.lines
    ]  # fmt: skip
    on = {line: sum(va for one, _, va in found if one == line) for line in wiring.lines}
    worst = max(on, key=lambda line: on[line])
    given = tuple(Given(load.name, va, "VA") for line, load, va in found if line == worst)
    return Figure(
        "Drawn before the inverters", on[worst] / line_v(inverters), "A", "Σ running apparent power ÷ line voltage", given, TEXTBOOK, "all at once"
    )


def highest_use(source: Source, site: Site, stays: tuple[Stay, ...]) -> Given:
    """Height of the highest place a source that goes along may run at: home, and stays with it or without any hook-up."""
    places = [(site.height_m, site.home), *((stay.height_m, stay.place) for stay in stays if stay.source in ("", source.tag))]
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
        f"{source.name} for hours", made.rated_va * made.power_factor * thin * heat * made.continuous_share, "W",
        "rating × power factor × (1 − loss per 300 m × height ÷ 300 m) × (1 − loss per 10 °C × (heat − full-power temperature) ÷ 10 °C) × continuous share",
        (
            Given("Rating", made.rated_va, "VA"), Given("Power factor", made.power_factor, "1"), height, Given("Loss per 300 m", made.lost_per_300_m, "1"),
            Given("Design high", site.design_high_c, "degC"), Given("Full power to", made.full_to_c, "degC"), Given("Loss per 10 °C", made.lost_per_10_c, "1"),
            Given("Continuous share", made.continuous_share, "1"),
        ),
        PRACTICE, "at the highest place it may run at",
    )  # fmt: skip


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


def accepts(source: Source, stated: Inverters) -> bool:
    """Whether inverters set as they are let a source through: voltage near theirs, angles as they are set, or all alike where they take that."""
    if not voltage_fits(source.volts, stated):
        return False
    if stated.stacking == "three_phase":
        return source.legs == 3 and not source.legs_in_phase
    if stated.stacking == "legs_in_phase":
        return source.legs_in_phase or source.legs == 1
    if stated.stacking in ("split_phase", "one_two_legs"):
        alike = stated.stacking == "split_phase" and stated.spec.takes_in_phase and source.legs_in_phase
        return alike or (source.legs == 2 and not source.legs_in_phase)
    return True


def _row(source: Source, stated: Inverters, ac: AcSide, practice: Practice, generator: Figure | None, brief: BriefResult, bank: BankRatings, before_a: Figure) -> SourceRow:  # fmt: skip
    """What a source gives at its limit; the bank adds the rest of the peak, and what is left charges."""
    spec, day = stated.spec, brief.days[brief.design_day]
    lines, inlet = len(LINES[stated.stacking]), _inlet(source, ac)
    pins = inlet.lines if inlet is not None else 3
    own = 1 if source.legs_in_phase else min(source.legs, lines, pins)
    fed = min(lines, pins) if source.legs_in_phase else own
    accepted = accepts(source, stated)
    apart = stated.stacking in BETWEEN_LINES and own >= 2
    rungs = _rungs(source, ac, practice, generator)
    least = min(rungs, key=lambda rung: rung.good_a)
    recommended = Figure(
        f"Limit to set at {source.name}", math.floor(max(0.1, least.good_a - before_a.value) * 10 + 1e-9) / 10, "A", "least of what the current comes through, for hours, less what panels before the inverters draw, rounded down to 0.1 A",
        (Given("Socket rating", source.amps, "A"), Given("Continuous share", CONTINUOUS_SHARE[practice], "1"), *(Given(f"{rung.name}, good for", rung.good_a, "A") for rung in rungs), before_a, *((generator,) if generator else ())),
        "NEC 210.20 (125 % of continuous load), recalled" if practice == "north_american" else PRACTICE, f"{least.name} limits",
    )  # fmt: skip
    limit = Given("Limit set", source.limit_a, "A")
    # A limit set too high is found fault with; until then no more is counted on than comes through for hours.
    gives = min(source.limit_a, recommended.value) * source.volts * own if accepted else 0.0
    continuous = Figure(
        f"Power from {source.name}", gives, "W", "the lower of the limit set and the limit to set × volts × lines with a conductor of their own",
        (limit, recommended, Given("Volts", source.volts, "V"), Given("Lines", own, "count")), TEXTBOOK, "" if accepted else "the inverters, as they are set, do not let it through",
    )  # fmt: skip
    inlet_v = Figure(
        f"Voltage at the inlet, {source.name}", source.volts - source.limit_a * source.loop_ohm, "V", "volts − limit × resistance of the line as far as the inlet",
        (Given("Volts", source.volts, "V"), limit, Given("Resistance of the line", source.loop_ohm, "ohm")), TEXTBOOK, "stated or assumed: measure it with a load on",
    )  # fmt: skip
    profile = brief.profiles[day.profile]
    mean = [sum(powers[:DC_CHANNEL]) for powers in zip(*profile.mean_w.values, strict=True)]
    assist = Figure(
        f"Bank adds at {source.name}", max(0.0, day.peak_ac_w.value - gives), "W", "highest AC power together − power from the source",
        (day.peak_ac_w, continuous), TEXTBOOK,
    )  # fmt: skip
    lasts = Figure(
        f"Bank lasts at the peak, {source.name}", bank.usable_energy_wh.value * spec.peak_efficiency / assist.value if assist.value else math.inf, "h",
        "usable energy × efficiency ÷ what the bank adds", (bank.usable_energy_wh, Given("Efficiency", spec.peak_efficiency, "1"), assist), TEXTBOOK,
    )  # fmt: skip
    charger_a = len(stated.units) * spec.charge_a
    left_w = max(0.0, gives - max(mean))
    left = Figure(
        f"Charge left at {source.name}", min(charger_a, left_w * spec.peak_efficiency / bank.nominal_v.value), "A", "(power from the source − busiest mean load) × efficiency ÷ bank voltage, at most the chargers' rating",
        (continuous, Given("Busiest mean AC load", max(mean), "W"), Given("Efficiency", spec.peak_efficiency, "1"), bank.nominal_v, Given("Chargers' rating", charger_a, "A")), TEXTBOOK,
    )  # fmt: skip
    net = _net(
        source, continuous, mean, [powers[DC_CHANNEL] for powers in zip(*profile.mean_w.values, strict=True)], profile.mean_w.hours(), stated, bank
    )
    full = Figure(
        f"Empty to full at {source.name}", bank.usable_energy_wh.value / net.value * 24 if net.value > 0 else math.inf, "h", "usable energy ÷ what a day adds × 24 h",
        (bank.usable_energy_wh, net), TEXTBOOK, "with the design day's loads running; absorption left out",
    )  # fmt: skip
    dead = tuple(tag for tag, feed in brief.feeds.items() if "+" in feed) if accepted and not apart else ()
    return SourceRow(
        source.tag, fed, own, own >= 2 and lines == 2 and not source.legs_in_phase, accepted, rungs, recommended, continuous, inlet_v, assist, lasts, left,
        net, full, dead,
    )  # fmt: skip


def _net(
    source: Source, continuous: Figure, ac_w: list[float], dc_w: list[float], hours: tuple[float, ...], stated: Inverters, bank: BankRatings
) -> Figure:
    """What a day hooked up puts into the bank or takes from it: the source first runs the AC loads, then charges and feeds DC loads."""
    spec = stated.spec
    most_w = len(stated.units) * spec.charge_a * bank.nominal_v.value
    gained = 0.0
    for power, dc, length in zip(ac_w, dc_w, hours, strict=True):
        spare = continuous.value - power
        gained += length * ((min(most_w, spare * spec.peak_efficiency) if spare > 0 else spare / spec.peak_efficiency) - dc)
    return Figure(
        f"A day at {source.name} adds", gained, "Wh", "Σ hours × (spare × efficiency, at most the chargers, or lack ÷ efficiency, less DC loads)",
        (continuous, Given("Efficiency", spec.peak_efficiency, "1"), Given("Chargers' rating", most_w, "W")), TEXTBOOK, "design day, mean loads",
    )  # fmt: skip
