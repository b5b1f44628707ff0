"""A day's balance: with these hours driven, this sun and this hook-up, does the bank end the day higher or lower?"""

from __future__ import annotations

from msgspec import Struct

from weighty_axle.answers.roof.sunny import SunnyPlace, home
from weighty_axle.answers.roof.yields import STEPS_PER_H, sun_day_w
from weighty_axle.design.brief.profiles import Profile
from weighty_axle.design.brief.seasons import MONTHS, month_start, season_of
from weighty_axle.design.charging.generators import GeneratorRun
from weighty_axle.design.charging.states import SourceState
from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.design.inverters.source_days import MeanStep, source_day
from weighty_axle.design.table import Design
from weighty_axle.job.models.brief import Stay
from weighty_axle.physics.loads.daytime import means
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


def days_at_home(design: Design) -> tuple[tuple[str, DayAsked], ...]:
    """Every kind of day at home in the middle of summer and of winter, neither plugged in nor driven, by name."""
    place = home(design)
    return tuple(
        (
            f"{kind.name}, {place.name}, {MONTHS[month]}",
            DayAsked(
                kind=kind.tag, place=place, day=month_start(month) + 15, source="", driven_from_h=8.0, driven_h=0.0
            ),
        )
        for kind in design.job.day_kinds
        for month in (5, 11)
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
    drawn = means(profile.mean_w.times_min, profile.bank_w, STEPS)
    row = next((row for row in design.sources if row.tag == asked.source), None)
    hooked = [0.0] * STEPS
    loads = drawn
    if row is not None and row.accepted:
        mean = source_day(profile, row.conductors, design.ac.lines, not row.dead).mean
        given, left = _hooked(design, profile, mean)
        loads = [one if on_road else other for one, other, on_road in zip(drawn, left, driving, strict=True)]
        hooked = [0.0 if on_road else one for one, on_road in zip(given, driving, strict=True)]
    amps = engine_a(design)
    engine = [amps * design.bank.nominal_v.value if on_road else 0.0 for on_road in driving]
    return _summed(design, asked, from_soc, loads, sun, engine, hooked, MONTHS[month])


def _driving(asked: DayAsked, hour: float) -> bool:
    """Whether the engine runs at an hour; a drive may go past midnight."""
    return (hour - asked.driven_from_h) % 24 < asked.driven_h


def _hooked(design: Design, profile: Profile, mean: tuple[MeanStep, ...]) -> tuple[list[float], list[float]]:
    """What the hook-up puts into the bank, and what the bank still gives beside it [W]."""
    inverters = design.job.inverters
    spec = inverters.spec
    most_w = len(inverters.units) * spec.charge_a * design.bank.nominal_v.value
    into = tuple(min(most_w, one.spare_w * spec.charge_share) for one in mean)
    times = profile.mean_w.times_min
    out = tuple(one.adds_w / spec.full_load_efficiency + one.dc_w for one in mean)
    return means(times, into, STEPS), means(times, out, STEPS)


def engine_a(design: Design) -> float:
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
    bank, kept = design.bank, CELL_POINTS[design.job.bank.spec.chemistry].charge_efficiency
    store = _Store(design, from_soc)
    for load, shine, drive, plug in zip(loads, sun, engine, hooked, strict=True):
        store.step(shine + drive + plug - load)
    socs, wasted, lacking = store.socs, store.wasted_wh, store.lacking_wh
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
            Given("Chargers at cruise", engine_a(design), "A"),
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


class _Store:
    """The bank through a day: what it takes and gives, quarter of an hour by quarter of an hour."""

    def __init__(self, design: Design, from_soc: float) -> None:
        bank = design.bank
        self._kept = CELL_POINTS[design.job.bank.spec.chemistry].charge_efficiency
        held_a = min(bank.charge_limit_a.value, design.source_states.held_to_a.value)
        self._limit_w, self._whole_wh = held_a * bank.nominal_v.value, bank.nominal_energy_wh.value
        self._floor_wh = (1 - design.job.bank.usable_share) * self._whole_wh
        self._stored_wh = from_soc * self._whole_wh
        self.socs: list[float] = []
        self.wasted_wh = self.lacking_wh = 0.0

    def usable_share(self) -> float:
        """What is left of the usable energy."""
        return (self._stored_wh - self._floor_wh) / (self._whole_wh - self._floor_wh)

    def step(self, net_w: float) -> None:
        """A quarter of an hour with so much more coming in than going out; what is over the limit gives way."""
        taken = min(net_w, self._limit_w)
        self.wasted_wh += (net_w - taken) * STEP_H
        then_wh = self._stored_wh + taken * STEP_H * (self._kept if taken > 0 else 1.0)
        if then_wh > self._whole_wh:
            self.wasted_wh += (then_wh - self._whole_wh) / self._kept
            then_wh = self._whole_wh
        lowest = min(self._floor_wh, self._stored_wh)
        if then_wh < lowest:
            self.lacking_wh += lowest - then_wh
            then_wh = lowest
        self._stored_wh = then_wh
        self.socs.append(then_wh / self._whole_wh)


class GeneratorDay(Struct, frozen=True, kw_only=True):
    """A generator through a day: when it runs [quarter of an hour by quarter of an hour], the charge with it, and the
    answer in words.
    """

    on: tuple[bool, ...]
    soc: tuple[float, ...]
    hours_h: Figure
    fuel_l: Figure
    words: str


def generator_day(design: Design, day: DayBalance, run: GeneratorRun, from_soc: float) -> GeneratorDay:
    """A generator that starts and stops by charge, by load where that is stated, and never in its quiet hours.

    While it runs it carries the AC loads and charges as on its own; on the road it stands still.

    Source: sums; what it gives as in design.charging.generators.
    """
    source = next(one for one in design.job.inverters.sources if one.tag == run.tag)
    made = source.generator
    assert made is not None
    store, on, running, missed = _Store(design, from_soc), list[bool](), False, 0
    dc_w = design.brief.days[design.brief.design_day].dc_energy_wh.value / 24
    for at, load in enumerate(day.loads_w):
        hour = (at + 0.5) * STEP_H
        quiet = (hour - made.quiet_from_h) % 24 < (made.quiet_to_h - made.quiet_from_h) % 24
        wanted = store.usable_share() < made.start_below or (made.start_load_w is not None and load > made.start_load_w)
        running = (running or wanted) and store.usable_share() < made.stop_above
        works = running and not quiet and not day.engine_w[at]
        missed += wanted and quiet
        given = day.sun_w[at] + day.engine_w[at] + day.hooked_w[at]
        # It carries what runs on AC; DC loads stay with the bank.
        store.step(given + run.charge_w.value - min(load, dc_w) if works else given - load)
        on.append(works)
    hours = Figure(
        name=f"{run.tag} runs that day",
        value=sum(on) * STEP_H,
        unit="h",
        formula="Σ quarters of an hour between start and stop, outside the quiet hours",
        inputs=(
            Given("At first", from_soc, "1"),
            Given("Starts below", made.start_below, "1"),
            Given("Stops above", made.stop_above, "1"),
            run.charge_w,
            day.change_wh,
        ),
        source=TEXTBOOK,
        limit=day.asked.place.name,
    )
    fuel = Figure.product(
        name=f"{run.tag} burns that day",
        unit="l",
        formula="hours × fuel an hour",
        inputs=(hours, run.fuel_l_per_h),
        source=TEXTBOOK,
    )
    lowest = min(store.socs)
    if hours.value:
        first = next(at for at, one in enumerate(on) if one)
        minutes = round(first * STEP_H * 60)
        words = (
            f"It must run {hours.value:g} h, from {minutes // 60:02d}:{minutes % 60:02d}, and burns {fuel.value:.1f} l."
        )
    elif missed:
        words = "It would start, but only in the quiet hours: it does not run."
    else:
        words = f"It need not run: the charge stays above {lowest:.0%}."
    if store.lacking_wh > 0:
        words += f" The bank runs empty all the same: {store.lacking_wh / 1000:.1f} kWh cannot be given."
    return GeneratorDay(on=tuple(on), soc=tuple(store.socs), hours_h=hours, fuel_l=fuel, words=words)


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
