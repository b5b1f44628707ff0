"""What a year says: its sums as figures, its months, what each load went without."""

from __future__ import annotations

import numpy as np
from msgspec import Struct

from weighty_axle.answers.year.days import plan_notes
from weighty_axle.answers.year.inputs import tier_of
from weighty_axle.answers.year.lived import Lived
from weighty_axle.answers.year.sky import MONTH_OF_DAY
from weighty_axle.design.brief.seasons import MONTHS, date_words
from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.physics.year import columns as at
from weighty_axle.physics.year.arrays import Floats
from weighty_axle.physics.year.rainflow import cycles
from weighty_axle.reference.tables import bank_lives

_STEPS = "Σ power × length of a step"


class YearMonth(Struct, frozen=True, kw_only=True):
    """One month's energies [Wh], hours, and the lowest charge [1]."""

    month: str
    asked_wh: float
    missing_wh: float
    sun_wh: float
    cut_wh: float
    engine_wh: float
    hookup_wh: float
    generator_h: float
    lowest_share: float


class WentWithout(Struct, frozen=True, kw_only=True):
    """What a load went without in the year."""

    tag: str
    name: str
    asked_wh: float
    missing_wh: float
    hours: float


class YearResult(Struct, frozen=True, kw_only=True):
    """A year of a design. Shares of charge are of the whole bank."""

    step_min: int
    seed: str
    notes: tuple[str, ...]
    asked_wh: Figure
    missing_wh: Figure
    missing_share: Figure
    unmet_h: Figure
    waits_h: Figure
    sun_wh: Figure
    cut_wh: Figure
    engine_wh: Figure
    hookup_wh: Figure
    generator_h: Figure
    fuel_l: Figure
    lost_wh: Figure
    heater_wh: Figure
    full_cycles: Figure
    least_years: Figure
    most_years: Figure
    lowest_share: Figure
    lowest_day: int
    full_h: Figure
    most_in_a: Figure
    most_out_a: Figure
    closes_wh: float
    months: tuple[YearMonth, ...]
    without: tuple[WentWithout, ...]


def year_result(year: Lived) -> YearResult:
    """Sums, months and loads of a year that was lived.

    Source: sums; rainflow by ASTM E1049-85; lives of banks in reference/ (recalled).
    """
    design, sums, hours = year.design, year.sums, year.hours
    given = (Given("Steps", len(year.series), "count"), Given("Length of a step", year.step_min, "min"))
    words = f"weather “{design.job.year.seed}”, steps of {year.step_min} min"

    def total(name: str, value: float, unit: str = "Wh", limit: str = words) -> Figure:
        return Figure(
            name=name, value=float(value), unit=unit, formula=_STEPS, inputs=given, source=TEXTBOOK, limit=limit
        )

    without = went_without(year)
    asked = total("Loads ask for", sum(one.asked_wh for one in without))
    missing = total("Energy that is missing", sum(one.missing_wh for one in without))
    waits = float((year.series[:, at.SHED_W] > 1e-9).sum()) * hours
    lowest_at = int(sums[at.LOWEST_AT])
    lowest_day = lowest_at // year.inputs.sunny.per_day + 1
    full = year.inputs.candidate[at.FULL_WH]
    volts = design.bank.nominal_v
    turned = _full_cycles(year)
    life = next(row for row in bank_lives().rows if row.chemistry == design.job.bank.spec.chemistry)
    return YearResult(
        step_min=year.step_min,
        seed=design.job.year.seed,
        notes=plan_notes(design),
        asked_wh=asked,
        missing_wh=missing,
        missing_share=Figure.quotient(
            name="Missing, of what is asked",
            unit="1",
            formula="missing ÷ asked",
            inputs=(missing, asked),
            source=TEXTBOOK,
            limit=words,
            by_zero=0.0,
        ),
        unmet_h=total("Hours in which the bank is empty", sums[at.UNMET_H], "h"),
        waits_h=total("Hours in which loads wait", waits, "h"),
        sun_wh=total("Sun used", sums[at.SUN_WH]),
        cut_wh=total("Sun that finds no taker", sums[at.CUT_WH]),
        engine_wh=total("Engine gives", sums[at.ENGINE_WH]),
        hookup_wh=total("Taken from hook-ups", sums[at.HOOKUP_WH]),
        generator_h=total("Generator runs", sums[at.GENERATOR_H], "h"),
        fuel_l=total("Generator burns", sums[at.FUEL_L], "l"),
        lost_wh=total("Lost in inverters and bank", sums[at.LOSS_WH] + sums[at.WASTE_WH]),
        heater_wh=total("Heater of the bank", sums[at.HEATER_WH]),
        full_cycles=turned,
        least_years=_life("at least", turned, life.cycles[0], life.years[0]),
        most_years=_life("at most", turned, life.cycles[1], life.years[1]),
        lowest_share=Figure(
            name="Lowest charge",
            value=float(sums[at.LOWEST_WH] / full),
            unit="1",
            formula="least energy held ÷ whole energy",
            inputs=(
                Given("Least energy held", float(sums[at.LOWEST_WH]), "Wh"),
                Given("Whole energy", float(full), "Wh"),
            ),
            source=TEXTBOOK,
            limit=f"{date_words(lowest_day)}, {_clock(year, lowest_at)}",
        ),
        lowest_day=lowest_day,
        full_h=total("Hours in which the bank is full", sums[at.FULL_H], "h"),
        most_in_a=_amps("Highest current into the bank", float(sums[at.PEAK_IN_W]), volts, words),
        most_out_a=_amps("Highest current out of the bank", float(sums[at.PEAK_OUT_W]), volts, words),
        closes_wh=float(np.abs(imbalance_w(year)).max() * hours),
        months=_months(year, without),
        without=without,
    )


def imbalance_w(year: Lived) -> Floats:
    """What does not add up in each step [W]: everything that came in and was lacking, less loads, losses, heater, what
    units take themselves, and what the bank holds more.
    """
    series = year.series
    into = series[:, at.SHORE_W : at.SHORE_W + at.KINDS].sum(axis=1) + series[:, at.UNMET_W]
    held = np.diff(series[:, at.STORED_WH], prepend=year.inputs.candidate[at.BEGIN_WH]) / year.hours
    used = (at.LOAD_W, at.LOSS_W, at.OWN_USED_W, at.HEATER_W, at.WASTE_W)
    out: Floats = series[:, used].sum(axis=1) + held
    made: Floats = into - out
    return made


def course_of(year: Lived, tag: str) -> tuple[Floats, Floats]:
    """What a load asks for and what it goes without, step by step [W]: all of it while its tier waits or nothing feeds
    AC; with the bank empty the same part of it as of everything else.
    """
    load = next(one for one in year.design.job.loads if one.tag == tag)
    days, per_day = year.arrays.days, year.inputs.sunny.per_day
    asks = year.inputs.asks_w[tag][days[:, at.LOAD_ROW]].ravel()
    series = year.series
    need = series[:, [at.LOAD_W, at.LOSS_W, at.OWN_USED_W, at.HEATER_W]].sum(axis=1)
    lacking = np.divide(series[:, at.UNMET_W], need, out=np.zeros(len(need)), where=need > 0)
    waits = series[:, at.LEVEL] >= tier_of(load)
    if year.design.brief.feeds[tag] != "DC":
        plugged = (days[:, at.PLUG_ROW] >= 0) | (days[:, at.INVERTERS_ON] > 0)
        asks = asks * np.repeat(plugged, per_day)
        carried = series[:, at.CARRIED_W] > 0
        lacking = np.where(carried, 0.0, lacking)
    return asks, np.where(waits, asks, asks * lacking)


def went_without(year: Lived) -> tuple[WentWithout, ...]:
    """Every load with what it asked for and went without, worst first."""
    found = []
    for load in year.design.job.loads:
        asks, missing = course_of(year, load.tag)
        found.append(
            WentWithout(
                tag=load.tag,
                name=load.name,
                asked_wh=float(asks.sum() * year.hours),
                missing_wh=float(missing.sum() * year.hours),
                hours=float((missing > 1e-9).sum() * year.hours),
            )
        )
    return tuple(sorted(found, key=lambda one: -one.missing_wh))


def _clock(year: Lived, step: int) -> str:
    minute = step % year.inputs.sunny.per_day * year.step_min
    return f"{minute // 60:02d}:{minute % 60:02d}"


def _amps(name: str, watts: float, volts: Figure, words: str) -> Figure:
    return Figure.quotient(
        name=name,
        unit="A",
        formula="highest mean power of a step ÷ bank voltage",
        inputs=(Given("Highest mean power", watts, "W"), volts),
        source=TEXTBOOK,
        limit=words,
    )


def _full_cycles(year: Lived) -> Figure:
    shares = year.series[:, at.STORED_WH] / year.inputs.candidate[at.FULL_WH]
    found = cycles([float(one) for one in shares])
    return Figure(
        name="Full cycles in the year",
        value=sum(one.span * one.times for one in found),
        unit="count",
        formula="Σ depth × cycles of that depth",
        inputs=(Given("Cycles counted", sum(one.times for one in found), "count"),),
        source="ASTM E1049-85, rainflow (recalled)",
    )


def _life(which: str, turned: Figure, most_cycles: float, most_years: float) -> Figure:
    by_cycles = most_cycles / turned.value if turned.value else most_years
    return Figure(
        name=f"Bank lasts, {which}",
        value=min(most_years, by_cycles),
        unit="years",
        formula="the lesser of its years and its full cycles ÷ those of a year",
        inputs=(
            Given("Full cycles it lasts", most_cycles, "count"),
            Given("Years it lasts whatever is asked", most_years, "years"),
            turned,
        ),
        source=bank_lives().cited,
        limit="a range, not a promise: heat, depth and handling decide",
    )


def _months(year: Lived, without: tuple[WentWithout, ...]) -> tuple[YearMonth, ...]:
    per_day, hours, series = year.inputs.sunny.per_day, year.hours, year.series
    month = np.repeat(MONTH_OF_DAY, per_day)
    asked, missing = np.zeros(len(series)), np.zeros(len(series))
    for one in without:
        asks, lacks = course_of(year, one.tag)
        asked, missing = asked + asks, missing + lacks
    hooked = np.where(series[:, at.GENERATOR_ON] > 0, 0.0, series[:, at.CARRIED_W])
    hooked = hooked + series[:, at.SHORE_W] / (year.inputs.candidate[at.CHARGERS_SHARE] or 1.0)
    full = year.inputs.candidate[at.FULL_WH]
    found = []
    for at_month, name in enumerate(MONTHS):
        own = month == at_month
        found.append(
            YearMonth(
                month=name,
                asked_wh=float(asked[own].sum() * hours),
                missing_wh=float(missing[own].sum() * hours),
                sun_wh=float(series[own, at.SUN_W].sum() * hours),
                cut_wh=float(series[own, at.CUT_W].sum() * hours),
                engine_wh=float(series[own, at.DRIVEN_W].sum() * hours),
                hookup_wh=float(hooked[own].sum() * hours),
                generator_h=float((series[own, at.GENERATOR_ON] > 0).sum() * hours),
                lowest_share=float(series[own, at.STORED_WH].min() / full),
            )
        )
    return tuple(found)
