"""A day's balance: with these hours driven, this sun and this hook-up, does the bank end the day higher or lower?"""

from __future__ import annotations

import math

from msgspec import Struct

from weighty_axle.answers.roof.yields import STEPS_PER_H, SunnyPlace, sun_day_w
from weighty_axle.design.brief.profiles import Profile
from weighty_axle.design.brief.seasons import MONTHS, month_start, season_of
from weighty_axle.design.charging.states import SourceState
from weighty_axle.design.derive import Design
from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.design.inverters.source_days import MeanStep, source_day
from weighty_axle.job.models.brief import Stay
from weighty_axle.reference.cells import CELL_POINTS

STEPS = 24 * STEPS_PER_H
STEP_H = 1 / STEPS_PER_H


class DayAsked(Struct, frozen=True, kw_only=True):
    """A day to be balanced: its kind, where and when, what is plugged in (empty: nothing), and when the engine runs."""

    kind: str
    place: SunnyPlace
    day: int
    source: str
    driven_from_h: float
    driven_h: float
    stay: str = ""


class DayBalance(Struct, frozen=True, kw_only=True):
    """Power into the bank by source and out of it, quarter of an hour by quarter of an hour [W], and the charge after
    each [1].

    `change_wh` is what the day adds or takes with nothing lost; `wasted_wh` what finds the bank full; `lacking_wh` what
    it cannot give once it is empty.
    """

    asked: DayAsked
    loads_w: tuple[float, ...]
    sun_w: tuple[float, ...]
    engine_w: tuple[float, ...]
    hooked_w: tuple[float, ...]
    soc: tuple[float, ...]
    loads_wh: Figure
    sun_wh: Figure
    engine_wh: Figure
    hooked_wh: Figure
    change_wh: Figure
    end_soc: Figure
    wasted_wh: Figure
    lacking_wh: Figure
    words: str


def asked_of(design: Design, stay: Stay) -> DayAsked:
    """The middle day of a stay."""
    return DayAsked(
        kind=stay.day_kind,
        place=SunnyPlace(
            name=stay.place, latitude_deg=stay.latitude_deg, longitude_deg=stay.longitude_deg, height_m=stay.height_m
        ),
        day=(stay.first_day + stay.days // 2 - 1) % 365 + 1,
        source=stay.source if any(row.tag == stay.source for row in design.sources) else "",
        driven_from_h=stay.driven_from_h,
        driven_h=stay.driven_h,
        stay=stay.tag,
    )


def balance(design: Design, asked: DayAsked, from_soc: float) -> DayBalance:
    """The balance of a day that begins with a charge; plugged in except while it drives.

    Sun of the month's mean day by the sun's time; the alternator as far as it can spare at cruise; loads in the mean.

    Source: sums of what was painted; yields; what sources give as in the mixes.
    """
    month = next(at for at in reversed(range(12)) if month_start(at) <= asked.day) if asked.day > 0 else 0
    season = season_of(asked.day, asked.place.latitude_deg)
    profile = design.brief.profile(asked.kind, season)
    driving = [_driving(asked, (step + 0.5) * STEP_H) for step in range(STEPS)]
    sun = [float(one) for one in sun_day_w(design, asked.place, month, asked.stay)]
    drawn = _quarters(profile.mean_w.times_min, profile.bank_w)
    row = next((row for row in design.sources if row.tag == asked.source), None)
    hooked = [0.0] * STEPS
    loads = drawn
    if row is not None and row.accepted:
        mean = source_day(profile, row.conductors, design.ac.lines, not row.dead).mean
        given, left = _hooked(design, profile, mean)
        loads = [one if on_road else other for one, other, on_road in zip(drawn, left, driving, strict=True)]
        hooked = [0.0 if on_road else one for one, on_road in zip(given, driving, strict=True)]
    amps = _engine_a(design)
    engine = [amps * design.bank.nominal_v.value if on_road else 0.0 for on_road in driving]
    return _summed(design, asked, from_soc, loads, sun, engine, hooked, MONTHS[month])


def _driving(asked: DayAsked, hour: float) -> bool:
    """Whether the engine runs at an hour; a drive may go past midnight."""
    return (hour - asked.driven_from_h) % 24 < asked.driven_h


def _quarters(times_min: tuple[int, ...], watts: tuple[float, ...]) -> list[float]:
    """Means over quarters of an hour of a power that changes in steps."""
    step = 60 * STEP_H
    found = [0.0] * STEPS
    for start, end, value in zip(times_min, times_min[1:], watts, strict=False):
        for at in range(int(start // step), min(STEPS, math.ceil(end / step))):
            found[at] += value * max(0.0, min(end, (at + 1) * step) - max(start, at * step)) / step
    return found


def _hooked(design: Design, profile: Profile, mean: tuple[MeanStep, ...]) -> tuple[list[float], list[float]]:
    """What the hook-up puts into the bank, and what the bank still gives beside it [W]."""
    inverters = design.job.inverters
    spec = inverters.spec
    most_w = len(inverters.units) * spec.charge_a * design.bank.nominal_v.value
    into = tuple(min(most_w, one.spare_w * spec.peak_efficiency) for one in mean)
    out = tuple(one.adds_w / spec.full_load_efficiency + one.dc_w for one in mean)
    return _quarters(profile.mean_w.times_min, into), _quarters(profile.mean_w.times_min, out)


def _engine_a(design: Design) -> float:
    """What the engine puts into the bank at cruise, as far as the alternators can spare [A]."""
    state: SourceState | None = next(
        (one for one in design.source_states.states if one.engine == "cruise" and not one.plug and not one.sun), None
    )
    return sum(part.amps for part in state.parts if part.kind == "engine") if state is not None else 0.0


def _summed(
    design: Design,
    asked: DayAsked,
    from_soc: float,
    loads: list[float],
    sun: list[float],
    engine: list[float],
    hooked: list[float],
    month: str,
) -> DayBalance:
    spec, bank = design.job.bank.spec, design.bank
    kept = CELL_POINTS[spec.chemistry].charge_efficiency
    limit_w = min(bank.charge_limit_a.value, design.source_states.held_to_a.value) * bank.nominal_v.value
    whole_wh = bank.nominal_energy_wh.value
    stored, socs, wasted, lacking = from_soc * whole_wh, list[float](), 0.0, 0.0
    floor_wh = (1 - design.job.bank.usable_share) * whole_wh
    for load, shine, drive, plug in zip(loads, sun, engine, hooked, strict=True):
        into = shine + drive + plug
        net = into - load
        # What is over the limit is not taken: sun, engine and plug give way.
        taken = min(net, limit_w)
        wasted += (net - taken) * STEP_H
        then_wh = stored + taken * STEP_H * (kept if taken > 0 else 1.0)
        if then_wh > whole_wh:
            wasted += (then_wh - whole_wh) / kept
            then_wh = whole_wh
        lowest = min(floor_wh, stored)
        if then_wh < lowest:
            lacking += lowest - then_wh
            then_wh = lowest
        stored = then_wh
        socs.append(stored / whole_wh)
    words_at = f"{asked.place.name}, {month}"

    def sum_of(name: str, watts: list[float], formula: str) -> Figure:
        return Figure(
            name=name,
            value=sum(watts) * STEP_H,
            unit="Wh",
            formula=formula,
            inputs=(Given("Quarters of an hour", STEPS, "count"),),
            source=TEXTBOOK,
            limit=words_at,
        )

    out = sum_of("Out of the bank in the day", loads, "Σ mean power of the loads × 0.25 h")
    shone = sum_of("Sun into the bank", sun, "Σ power of the mean day × 0.25 h")
    driven = Figure(
        name="Engine into the bank",
        value=sum(engine) * STEP_H,
        unit="Wh",
        formula="what the chargers give at cruise × bank voltage × hours driven",
        inputs=(
            Given("Chargers at cruise", _engine_a(design), "A"),
            bank.nominal_v,
            Given("Driven", sum(one > 0 for one in engine) * STEP_H, "h"),
        ),
        source=TEXTBOOK,
    )
    plugged = sum_of("Hook-up can put into the bank", hooked, "Σ (spare × efficiency, at most the chargers) × 0.25 h")
    change = Figure(
        name="The day adds",
        value=shone.value + driven.value + plugged.value - out.value,
        unit="Wh",
        formula="sun + engine + hook-up − out of the bank",
        inputs=(shone, driven, plugged, out),
        source=TEXTBOOK,
        limit=words_at,
    )
    end = Figure(
        name="Charge at the end of the day",
        value=socs[-1],
        unit="1",
        formula="charge at its beginning + Σ what the bank takes or gives ÷ its energy, between empty and full",
        inputs=(Given("At its beginning", from_soc, "1"), change, bank.nominal_energy_wh, Given("Kept", kept, "1")),
        source=TEXTBOOK,
    )
    lost = _plain("Finds the bank full, or is over the limit", wasted, change)
    short = _plain("The bank cannot give", lacking, change)
    return DayBalance(
        asked=asked,
        loads_w=tuple(loads),
        sun_w=tuple(sun),
        engine_w=tuple(engine),
        hooked_w=tuple(hooked),
        soc=tuple(socs),
        loads_wh=out,
        sun_wh=shone,
        engine_wh=driven,
        hooked_wh=plugged,
        change_wh=change,
        end_soc=end,
        wasted_wh=lost,
        lacking_wh=short,
        words=_words(from_soc, socs, change.value, lacking),
    )


def _plain(name: str, value: float, change: Figure) -> Figure:
    return Figure(
        name=name,
        value=value,
        unit="Wh",
        formula="Σ of what is over, quarter by quarter",
        inputs=(change,),
        source=TEXTBOOK,
    )


def _words(start: float, socs: list[float], change_wh: float, lacking_wh: float) -> str:
    """The day in one sentence."""
    end, kwh = socs[-1], f"{abs(change_wh) / 1000:.1f} kWh"
    if lacking_wh > 0:
        return f"The bank runs empty: {lacking_wh / 1000:.1f} kWh of the day cannot be given."
    if end < start - 1e-6:
        return f"The day ends {100 * (start - end):.0f} % lower than it began: {kwh} short."
    full = next((at for at, one in enumerate(socs) if one >= 1 - 1e-9), None)
    if full is not None:
        minutes = round((full + 1) * STEP_H * 60)
        by = f"by {minutes // 60:02d}:{minutes % 60:02d}"
        left = "and at the end of the day" if end >= 1 - 1e-9 else f"and at {end:.0%} at the end of the day"
        return f"The bank is full {by} {left}."
    if abs(end - start) <= 1e-6:
        return "The day ends as it began."
    return f"The day ends {100 * (end - start):.0f} % higher than it began: {kwh} to the good."
