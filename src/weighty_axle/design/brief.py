"""Step Brief: what must run, when and together; energy per day and the highest coincident power."""

from __future__ import annotations

from collections.abc import Iterator

from msgspec import Struct

from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Figure, Given
from weighty_axle.job.model import DayKind, Inverters, Load, Stacking
from weighty_axle.physics.converters import LossCurve, fit_loss
from weighty_axle.physics.daytime import DAY_MIN, Steps, integral_h, summed
from weighty_axle.physics.phasors import complex_power

FEEDS = ("L1", "L2", "L1+L2", "AC", "DC")
"""Where a load's power is taken: a leg, across both legs, the one AC line, or the bank."""


class Day(Struct, frozen=True):
    """One kind of day. Steps have a channel per feed and share their times.

    running_w: everything painted drawing its full power at once [W]; mean_w: with duty and standby [W];
    bank_w: mean power out of the bank, losses in [W per step of mean_w].
    """

    tag: str
    name: str
    running_w: Steps
    running_var: Steps
    mean_w: Steps
    bank_w: tuple[float, ...]
    ac_energy_wh: Figure
    dc_energy_wh: Figure
    no_load_energy_wh: Figure
    inverter_loss_energy_wh: Figure
    bank_energy_wh: Figure
    peak_ac_w: Figure
    peak_at_min: int
    peak_loads: tuple[str, ...]


class BriefResult(Struct, frozen=True):
    """All kinds of day; the design day is the one that takes most from the bank."""

    days: dict[str, Day]
    design_day: str
    energy_per_day_wh: Figure
    feeds: dict[str, str]
    curve: LossCurve


def two_legs(stacking: Stacking) -> bool:
    """Whether the inverters give two legs."""
    return stacking in ("split_phase", "legs_in_phase")


def brief(loads: tuple[Load, ...], day_kinds: tuple[DayKind, ...], inverters: Inverters, converter_efficiency: float) -> BriefResult:
    """Energy and coincident power of every kind of day.

    Source: sums of what was painted; loss curve of physics.converters.
    """
    spec = inverters.spec
    curve = fit_loss(
        no_load_w=spec.no_load_w, peak_efficiency=spec.peak_efficiency, full_load_efficiency=spec.full_load_efficiency, rated_w=spec.continuous_va
    )
    feeds = _feeds(loads, inverters.stacking)
    days = {kind.tag: _day(kind, loads, feeds, inverters, curve, converter_efficiency) for kind in day_kinds}
    design_day = max(days.values(), key=lambda day: day.bank_energy_wh.value)
    return BriefResult(days, design_day.tag, design_day.bank_energy_wh, feeds, curve)


def _feeds(loads: tuple[Load, ...], stacking: Stacking) -> dict[str, str]:
    """Feed of every load. A load without a leg hangs on the leg with less on it so far, largest first."""
    feeds: dict[str, str] = {}
    on_leg = {"L1": 0.0, "L2": 0.0}
    open_loads = []
    for load in loads:
        if load.supply.startswith("DC"):
            feeds[load.tag] = "DC"
        elif not two_legs(stacking):
            feeds[load.tag] = "AC"
        elif load.supply in ("leg_open", "AC"):
            open_loads.append(load)
        else:
            feeds[load.tag] = load.supply
            if load.supply in on_leg:
                on_leg[load.supply] += load.running_w * load.count
    for load in sorted(open_loads, key=lambda one: -one.running_w * one.count):
        leg = min(on_leg, key=lambda name: on_leg[name])
        feeds[load.tag] = leg
        on_leg[leg] += load.running_w * load.count
    return feeds


def _runs(load: Load, kind: DayKind) -> bool:
    return kind.inverters_on or load.supply.startswith("DC")


def _stretches(load: Load, kind: DayKind) -> Iterator[tuple[int, int, float]]:
    """Painted stretches and, between them, standby: start, end [min], level (0 for standby)."""
    last = 0
    for span in load.patterns.get(kind.tag, ()):
        if span.start_min > last:
            yield last, span.start_min, 0.0
        yield span.start_min, span.end_min, span.level
        last = span.end_min
    if last < DAY_MIN:
        yield last, DAY_MIN, 0.0


def _day(kind: DayKind, loads: tuple[Load, ...], feeds: dict[str, str], inverters: Inverters, curve: LossCurve, converter_efficiency: float) -> Day:
    running, reactive, mean = [], [], []
    for load in loads:
        if not _runs(load, kind):
            continue
        channel = FEEDS.index(feeds[load.tag])
        at_bank = converter_efficiency if load.supply == "DC_low" else 1.0
        full_w = load.running_w * load.count / at_bank
        var = complex_power(full_w, load.power_factor).imag if channel < 4 else 0.0
        standby_w = load.standby_w * load.count / at_bank
        for start, end, level in _stretches(load, kind):
            if level:
                running.append((channel, start, end, full_w * level))
                reactive.append((channel, start, end, var * level))
                mean.append((channel, start, end, full_w * level * load.duty))
            elif standby_w:
                running.append((channel, start, end, standby_w))
                reactive.append((channel, start, end, 0.0))
                mean.append((channel, start, end, standby_w))
    running_w, running_var, mean_w = summed(5, running), summed(5, reactive), summed(5, mean)
    ac_energy, dc_energy = sum(integral_h(mean_w, mean_w.values[i]) for i in range(4)), integral_h(mean_w, mean_w.values[4])
    losses_w = [inverter_loss_w(curve, inverters, powers) if kind.inverters_on else 0.0 for powers in zip(*mean_w.values, strict=True)]
    bank_w = tuple(sum(powers) + loss for powers, loss in zip(zip(*mean_w.values, strict=True), losses_w, strict=True))
    units = len(inverters.units) if kind.inverters_on else 0
    no_load_wh = units * curve.p0_w * 24
    ac, dc, no_load, loss, bank = _energies(kind.name, ac_energy, dc_energy, no_load_wh, integral_h(mean_w, losses_w) - no_load_wh, curve, units)
    totals = [sum(powers[:4]) for powers in zip(*running_w.values, strict=True)]
    at = max(range(len(totals)), key=totals.__getitem__)
    start = running_w.times_min[at]
    together = _running_at(loads, kind, start)
    return Day(
        kind.tag, kind.name, running_w, running_var, mean_w, bank_w, ac, dc, no_load, loss, bank,
        Figure(
            f"Highest AC power together, {kind.name}", totals[at], "W", "largest sum of all painted AC loads at their full running power",
            tuple(Given(load.name, load.running_w * load.count * level, "W") for load, level in together if feeds[load.tag] != "DC"),
            TEXTBOOK, "duty is not counted on: all may run in the same minute",
        ),
        start,
        tuple(load.tag for load, _ in together if feeds[load.tag] != "DC"),
    )  # fmt: skip


def _running_at(loads: tuple[Load, ...], kind: DayKind, minute: int) -> list[tuple[Load, float]]:
    """Loads painted at a minute with their level, largest first."""
    found = [(load, level) for load in loads if _runs(load, kind) for start, end, level in _stretches(load, kind) if level and start <= minute < end]
    return sorted(found, key=lambda one: -one[0].running_w * one[0].count * one[1])


def inverter_loss_w(curve: LossCurve, inverters: Inverters, powers: tuple[float, ...]) -> float:
    """Loss of all inverters [W] when the feeds carry `powers` [W]; units of one leg share it equally."""
    l1, l2, across, ac = powers[:4]
    if not two_legs(inverters.stacking):
        count = len(inverters.units)
        return count * curve.loss_w(ac / count)
    total = 0.0
    for leg, power in (("L1", l1 + across / 2), ("L2", l2 + across / 2)):
        count = sum(unit.leg == leg for unit in inverters.units)
        total += count * curve.loss_w(power / count) if count else 0.0
    return total


def _energies(
    name: str, ac_wh: float, dc_wh: float, no_load_wh: float, loss_wh: float, curve: LossCurve, units: int
) -> tuple[Figure, Figure, Figure, Figure, Figure]:
    ac = Figure(f"AC loads, {name}", ac_wh, "Wh", "Σ running power × count × level × duty × hours + standby", (), TEXTBOOK)
    dc = Figure(
        f"DC loads at the bank, {name}", dc_wh, "Wh", "Σ running power × count × level × duty × hours ÷ converter efficiency + standby", (), TEXTBOOK
    )
    no_load = Figure(
        f"Inverters idling, {name}", no_load_wh, "Wh", "units × no-load power × 24 h",
        (Given("Units on", units, "count"), Given("No-load power of one", curve.p0_w, "W")), TEXTBOOK,
    )  # fmt: skip
    loss = Figure(
        f"Inverters converting, {name}", loss_wh, "Wh", "Σ (r1 P + r2 P²) × hours, P the share of one unit",
        (Given("r1", curve.r1, "ratio"), Given("r2 × 1 kW", curve.r2_per_w * 1000, "ratio")), TEXTBOOK,
    )  # fmt: skip
    bank = Figure(
        f"Energy out of the bank, {name}", ac_wh + dc_wh + no_load_wh + loss_wh, "Wh", "AC loads + DC loads + idling + converting",
        (ac, dc, no_load, loss), TEXTBOOK + "; no-load in every sum: " + PRACTICE,
    )  # fmt: skip
    return ac, dc, no_load, loss, bank
