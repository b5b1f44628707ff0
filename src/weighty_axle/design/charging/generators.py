"""Generators: what they give where they stand, what a run from start to stop takes, and the quiet hours between."""

from __future__ import annotations

import math

from msgspec import Struct

from weighty_axle.design.bank.packs import BankRatings
from weighty_axle.design.brief.day import BriefResult
from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Figure, Given
from weighty_axle.design.inverters.sources import SourceRow
from weighty_axle.job.models.inverters import Generator, Inverters, Source
from weighty_axle.physics.electric.generators import HALF_SHARE, LITRES_PER_KWH, fuel_l_per_h

DAY_H = 24.0


class GeneratorRun(Struct, frozen=True, kw_only=True):
    """One generator: what it can give, what it then carries, and a run from its start to its stop.

    `day_h` is how long it must run to make up a design day without sun; `open_h` the hours it may.
    """

    tag: str
    name: str
    gives_w: Figure
    charge_w: Figure
    load_share: Figure
    fuel_l_per_h: Figure
    fuel_l_per_kwh: Figure
    run_h: Figure
    run_l: Figure
    day_h: Figure
    day_l: Figure
    open_h: Figure
    night_share: Figure


def generator_runs(
    inverters: Inverters, ladder: tuple[SourceRow, ...], bank: BankRatings, brief: BriefResult
) -> tuple[GeneratorRun, ...]:
    """A run for each generator that is a source of these inverters.

    Source: derating as in the ladder of sources; Willans line; textbook relations.
    """
    rows = {row.tag: row for row in ladder}
    return tuple(
        _run(source, source.generator, rows[source.tag], inverters, bank, brief)
        for source in inverters.sources
        if source.generator is not None and source.tag in rows
    )


def _run(
    source: Source, made: Generator, row: SourceRow, inverters: Inverters, bank: BankRatings, brief: BriefResult
) -> GeneratorRun:
    spec, day = inverters.spec, brief.days[brief.design_day]
    gives = row.continuous_w
    ac_w = Given("AC loads, mean of the design day", day.ac_energy_wh.value / DAY_H, "W")
    count = Given("Inverter-chargers", len(inverters.units) if row.accepted else 0, "count")
    rated_w = Given("Charger of one at the bank's voltage", spec.charge_a * bank.nominal_v.value, "W")
    efficiency = Given("Charger: efficiency × power factor", spec.charge_share, "1")
    charge = Figure(
        name=f"{source.tag} puts into the bank",
        value=max(0.0, min(count.value * rated_w.value, (gives.value - ac_w.value) * efficiency.value)),
        unit="W",
        formula="(what it gives − AC loads) × efficiency, at most the chargers",
        inputs=(gives, ac_w, efficiency, count, rated_w),
        source=TEXTBOOK,
    )
    full_w = Given("Rated", made.rated_va * made.power_factor, "W")
    load = Figure(
        name=f"{source.tag} is loaded to",
        value=(charge.value / efficiency.value + min(ac_w.value, gives.value)) / full_w.value,
        unit="1",
        formula="(into the bank ÷ efficiency + AC loads) ÷ rated power",
        inputs=(charge, efficiency, ac_w, full_w),
        source=TEXTBOOK,
    )
    full = _litres(made.full_l_per_h, "Fuel at full load", full_w.value / 1000 * LITRES_PER_KWH)
    half = _litres(made.half_l_per_h, "Fuel at half load", full.value * HALF_SHARE)
    fuel = Figure(
        name=f"{source.tag} burns",
        value=fuel_l_per_h(
            load_w=load.value * full_w.value, full_w=full_w.value, full_l_per_h=full.value, half_l_per_h=half.value
        ),
        unit="l/h",
        formula="fuel at half load + (at full − at half) ÷ half the rating × (load − half the rating)",
        inputs=(load, full_w, full, half),
        source="textbook relation (Willans line)",
    )
    carried_w = charge.value + min(ac_w.value, gives.value)
    per_kwh = Figure(
        name=f"{source.tag} burns per kWh",
        value=fuel.value / carried_w * 1000 if carried_w else math.inf,
        unit="l/kWh",
        formula="fuel an hour ÷ (into the bank + AC loads)",
        inputs=(fuel, charge, ac_w),
        source=TEXTBOOK,
    )
    between = Given("From start to stop", max(0.0, made.stop_above - made.start_below), "1")
    dc_w = Given("DC loads, mean of the design day", day.dc_energy_wh.value / DAY_H, "W")
    run = Figure(
        name=f"{source.tag} runs from start to stop",
        value=between.value * bank.usable_energy_wh.value / (charge.value - dc_w.value)
        if charge.value > dc_w.value
        else math.inf,
        unit="h",
        formula="(stop − start) × usable energy ÷ (into the bank − DC loads)",
        inputs=(between, bank.usable_energy_wh, charge, dc_w),
        source=TEXTBOOK,
        limit="the taper near full left out: stop before it",
    )
    need = day.bank_energy_wh
    saved = Given("AC loads it carries itself, through the inverters", ac_w.value / spec.full_load_efficiency, "W")
    day_h = Figure(
        name=f"{source.tag} must run a day",
        value=need.value / (charge.value + saved.value) if charge.value + saved.value > 0 else math.inf,
        unit="h",
        formula="energy out of the bank a day ÷ (into the bank + what the bank need not give meanwhile)",
        inputs=(need, charge, saved),
        source=TEXTBOOK,
        limit=f"{day.name}, without sun",
    )
    quiet = (made.quiet_to_h - made.quiet_from_h) % DAY_H
    hours = Figure(
        name=f"{source.tag} may run a day",
        value=DAY_H - quiet,
        unit="h",
        formula="24 h − quiet hours",
        inputs=(Given("Quiet from", made.quiet_from_h, "h"), Given("Quiet to", made.quiet_to_h, "h")),
        source="as stated",
    )
    night_wh = Given("Out of the bank in the quiet hours", _between_wh(brief, made), "Wh")
    return GeneratorRun(
        tag=source.tag,
        name=source.name,
        gives_w=gives,
        charge_w=charge,
        load_share=load,
        fuel_l_per_h=fuel,
        fuel_l_per_kwh=per_kwh,
        run_h=run,
        run_l=_product(f"{source.tag} burns in a run", run, fuel),
        day_h=day_h,
        day_l=_product(f"{source.tag} burns a day", day_h, fuel),
        open_h=hours,
        night_share=Figure.quotient(
            name="Charge the quiet hours take",
            unit="1",
            formula="energy in the quiet hours of the design day ÷ usable energy",
            inputs=(night_wh, bank.usable_energy_wh),
            source=TEXTBOOK,
            by_zero=math.inf,
        ),
    )


def _litres(stated: float | None, name: str, typical: float) -> Given:
    return Given(name if stated is not None else f"{name}, typical", stated if stated is not None else typical, "l/h")


def _product(name: str, hours: Figure, fuel: Figure) -> Figure:
    return Figure.product(name=name, unit="l", formula="hours × fuel an hour", inputs=(hours, fuel), source=PRACTICE)


def _between_wh(brief: BriefResult, made: Generator) -> float:
    """Energy out of the bank in the quiet hours of the design day [Wh]."""
    profile = brief.profiles[brief.days[brief.design_day].profile]
    start, end = made.quiet_from_h * 60, made.quiet_to_h * 60
    quiet = ((start, end),) if start <= end else ((start, 1440.0), (0.0, end))
    times = profile.mean_w.times_min
    return sum(
        watts * max(0.0, min(then, last) - max(at, first)) / 60
        for at, then, watts in zip(times, times[1:], profile.bank_w, strict=False)
        for first, last in quiet
    )
