"""What a year is lived on, from the Design: loads by kind of day, sources, the bank, the weather."""

from __future__ import annotations

import math

import numpy as np
from msgspec import Struct

from weighty_axle.answers.charging.day import engine_a
from weighty_axle.answers.year.days import YearDay, days_of
from weighty_axle.answers.year.sky import SunnyYear, Weather, drawn_weather, sun_power, sunny_year
from weighty_axle.design.brief.draws import DC_CHANNEL
from weighty_axle.design.brief.profiles import Profile, losses_of, mean_va, profile
from weighty_axle.design.inverters.source_days import source_day
from weighty_axle.design.place.heat import CAPACITY_J_KGK
from weighty_axle.design.table import Design
from weighty_axle.job.models.brief import Load
from weighty_axle.job.models.charging import SourceKind
from weighty_axle.job.models.inverters import Source
from weighty_axle.physics.electric.cells import interpolated
from weighty_axle.physics.electric.converters import LossCurve
from weighty_axle.physics.electric.generators import HALF_SHARE, LITRES_PER_KWH
from weighty_axle.physics.loads.daytime import means
from weighty_axle.physics.year import columns as at
from weighty_axle.physics.year.arrays import Floats, Whole, YearArrays
from weighty_axle.reference.cells import CELL_POINTS
from weighty_axle.reference.tables import cold_capacity, open_circuit

NEVER_W = 1e12
"""Load that starts no generator, heater that has no limit [W]."""
NEAR_FULL = 0.95
"""Charge from which a lithium bank is held at its voltage. Source: common practice, no source."""
KIND_AT: dict[SourceKind, int] = {
    "shore": at.SHORE,
    "generator": at.GENERATOR,
    "converters": at.CONVERTERS,
    "engine": at.ENGINE,
    "sun": at.SUN,
}


class YearInputs(Struct, frozen=True, kw_only=True):
    """Everything a year of one design is lived on.

    `rows` names the kind of day and season of each row of loads; `asks_w` what each load takes at the bar, row by row
    and step by step.
    """

    days: tuple[YearDay, ...]
    sunny: SunnyYear
    arrays: YearArrays
    candidate: Floats
    rows: tuple[str, ...]
    asks_w: dict[str, Floats]
    generator: str


def tier_of(load: Load) -> int:
    """How early a load waits: 1 at first, 3 at last, 4 never."""
    return at.TIERS + 1 if load.must_run else load.waits


def year_inputs(design: Design, per_day: int) -> YearInputs:
    """What a year of a design is lived on, with the first weather of its name.

    Source: the answers it is read from; weather as physics.year.weather.
    """
    days = days_of(design)
    sunny = sunny_year(design, days, per_day)
    keys = list(dict.fromkeys(_row_key(design, one) for one in days))
    loads, asks = _loads(design, keys, per_day)
    plugs, plug_rows = _plugs(design, days, per_day)
    source = _generator(design)
    table = next(row for row in cold_capacity().rows if row.chemistry == design.job.bank.spec.chemistry)
    placed: Whole = np.zeros((len(days), at.DAY_COLUMNS), dtype=np.int64)
    kinds = {kind.tag: kind for kind in design.job.day_kinds}
    for row, one in enumerate(days):
        kind = kinds.get(one.kind)
        placed[row, at.LOAD_ROW] = keys.index(_row_key(design, one))
        placed[row, at.PLUG_ROW] = plug_rows[row]
        placed[row, at.INVERTERS_ON] = kind is not None and kind.inverters_on
        placed[row, at.STORED] = kind is None or kind.use == "stored"
        placed[row, at.GENERATOR_THERE] = source is not None and plug_rows[row] < 0 and not placed[row, at.STORED]
    order = [KIND_AT[kind] for kind in reversed(design.job.charging.gives_way)]
    nothing = np.zeros((0, 0))
    arrays = YearArrays(
        loads=loads,
        plugs=plugs,
        days=placed,
        weather=nothing,
        roof_w=nothing,
        away_w=nothing,
        limits_w=np.zeros(0),
        cold_c=np.array(table.cell_c),
        cold_share=np.array(table.share),
        order=np.array(order, dtype=np.int64),
    )
    return YearInputs(
        days=days,
        sunny=sunny,
        arrays=arrays,
        candidate=_candidate(design, source),
        rows=tuple(keys),
        asks_w=asks,
        generator=source.tag if source is not None else "",
    )


def in_weather(design: Design, inputs: YearInputs, weather: Weather) -> YearArrays:
    """The arrays with a weather in them."""
    made = sun_power(design, inputs.days, inputs.sunny, weather)
    around = np.empty((len(weather.air_c), 2))
    box = design.job.bank.box
    stored = np.repeat(inputs.arrays.days[:, at.STORED] > 0, inputs.sunny.per_day)
    kept = np.maximum(weather.air_c, box.inside_low_c) if box.inside else weather.air_c
    around[:, at.AIR_C] = np.where(stored, weather.air_c, kept)
    around[:, at.DRIVING] = _driving(inputs.days, inputs.sunny)
    return inputs.arrays._replace(weather=around, roof_w=made.roof_w, away_w=made.away_w, limits_w=made.limits_w)


def first_weather(design: Design, inputs: YearInputs, year: int = 0) -> Weather:
    """One of the weathers of the job's name."""
    return drawn_weather(inputs.sunny, design.job.year.seed, year)


def _row_key(design: Design, one: YearDay) -> str:
    """Profile of a day; empty for one on which nothing runs."""
    return design.brief.profile(one.kind, one.season).key if one.kind else ""


def _loads(design: Design, keys: list[str], per_day: int) -> tuple[Floats, dict[str, Floats]]:
    """Loads of every kind of day by tiers that wait; and what each load takes at the bar."""
    job, tiers = design.job, {load.tag: tier_of(load) for load in design.job.loads}
    found = np.zeros((len(keys), at.TIERS + 1, per_day, at.LOAD_COLUMNS))
    asks = {load.tag: np.zeros((len(keys), per_day)) for load in job.loads}
    kinds = {kind.tag: kind for kind in job.day_kinds}
    for row, key in enumerate(keys):
        if not key:
            continue
        whole = design.brief.profiles[key]
        days = tuple(day for one in design.beside if (day := one.day(whole.kind, whole.seasons[0])) is not None)
        for level in range(at.TIERS + 1):
            left = tuple(one for one in whole.rows if tiers[one.tag] > level)
            if level and left == whole.rows:
                found[row, level] = found[row, level - 1]
                continue
            part = profile(key, kinds[whole.kind], whole.seasons, left, job.inverters, design.brief.curve, days)
            found[row, level] = _columns(design, part, per_day)
        for one in whole.rows:
            alone = profile(key, kinds[whole.kind], whole.seasons, (one,), job.inverters, design.brief.curve, ())
            asks[one.tag][row] = sum(
                (
                    np.array(means(alone.mean_w.times_min, values, per_day))
                    for values in alone.mean_w.values
                    if any(values)
                ),
                np.zeros(per_day),
            )
    return found, asks


def _columns(design: Design, one: Profile, per_day: int) -> Floats:
    """A kind of day in the columns of the kernel."""
    inverters, times = design.job.inverters, one.mean_w.times_min
    ac = [sum(powers[:DC_CHANNEL]) for powers in zip(*one.mean_w.values, strict=True)]
    va = mean_va(one.mean_w, one.running_w, one.running_var)
    beside = [
        whole - sum(powers) - loss
        for whole, powers, loss in zip(
            one.bank_w,
            zip(*one.mean_w.values, strict=True),
            losses_of(design.brief.curve, inverters, va) if _inverting(design, one) else (0.0,) * len(ac),
            strict=True,
        )
    ]
    dc = [own + other for own, other in zip(one.mean_w.values[DC_CHANNEL], beside, strict=True)]
    steps = (
        dc,
        ac,
        losses_of(LossCurve(0.0, 1.0, 0.0), inverters, va),
        losses_of(LossCurve(0.0, 0.0, 1.0), inverters, va),
        [1.0 if power > 0 else 0.0 for power in ac],
    )
    return np.array([means(times, values, per_day) for values in steps]).T


def _inverting(design: Design, one: Profile) -> bool:
    return bool(design.job.inverters.units) and next(
        kind.inverters_on for kind in design.job.day_kinds if kind.tag == one.kind
    )


def _plugs(design: Design, days: tuple[YearDay, ...], per_day: int) -> tuple[Floats, list[int]]:
    """Kinds of day at a source, and the row of each day; −1 where nothing or a generator is plugged in."""
    sets = {source.tag for source in design.job.inverters.sources if source.kind == "generator"}
    rows = {row.tag: row for row in design.sources}
    found: dict[tuple[str, str], int] = {}
    tables, which = list[Floats](), list[int]()
    for one in days:
        key = (_row_key(design, one), one.source)
        if not key[0] or not one.source or one.source in sets:
            which.append(-1)
            continue
        if key not in found:
            found[key] = len(tables)
            row, own = rows[one.source], design.brief.profiles[key[0]]
            mean = source_day(own, row.conductors, design.ac.lines, not row.dead).mean
            times = own.mean_w.times_min
            spare, adds = [step.spare_w for step in mean], [step.adds_w for step in mean]
            tables.append(np.array([means(times, spare, per_day), means(times, adds, per_day)]).T)
        which.append(found[key])
    return (np.array(tables) if tables else np.zeros((1, per_day, 2))), which


def _generator(design: Design) -> Source | None:
    """The generator that goes along: the first that is stated and that the inverters take."""
    accepted = {row.tag for row in design.sources if row.accepted}
    if not design.job.year.generator_along:
        return None
    return next(
        (one for one in design.job.inverters.sources if one.generator is not None and one.tag in accepted), None
    )


def _driving(days: tuple[YearDay, ...], sunny: SunnyYear) -> Floats:
    """Part of every step in which the engine drives."""
    step_h = 24 / sunny.per_day
    starts = np.arange(sunny.per_day) * step_h
    found = np.zeros((len(days), sunny.per_day))
    for row, one in enumerate(days):
        if one.stay is not None and one.stay.driven_h > 0:
            first, last = one.stay.driven_from_h, one.stay.driven_from_h + one.stay.driven_h
            for turn in (0.0, 24.0):
                found[row] += np.maximum(
                    0.0, np.minimum(starts + step_h, last - turn) - np.maximum(starts, first - turn)
                )
    return np.minimum(1.0, found / step_h).ravel()


def _candidate(design: Design, source: Source | None) -> Floats:
    """The design in numbers."""
    p = np.zeros(at.CANDIDATE_COLUMNS)
    _of_bank(design, p)
    _of_inverters(design, p)
    p[at.SUN_SCALE] = p[at.LIMIT_SCALE] = 1.0
    volts = design.bank.nominal_v.value
    p[at.ENGINE_W] = engine_a(design) * volts
    always = next((part for part in design.source_states.states[0].parts if part.kind == "converters"), None)
    p[at.CONVERTERS_W] = always.amps * volts if always is not None else 0.0
    p[at.RESERVE] = design.job.year.reserve_share
    p[at.START_LOAD_W] = NEVER_W
    if source is not None and source.generator is not None:
        made, run = source.generator, next(one for one in design.generators if one.tag == source.tag)
        full_w = made.rated_va * made.power_factor
        full = made.full_l_per_h if made.full_l_per_h is not None else full_w / 1000 * LITRES_PER_KWH
        half = made.half_l_per_h if made.half_l_per_h is not None else full * HALF_SHARE
        p[at.GENERATOR_W] = run.gives_w.value
        p[at.FUEL_L_PER_WH] = (full - half) / (full_w / 2)
        p[at.FUEL_L_PER_H] = half - p[at.FUEL_L_PER_WH] * full_w / 2
        p[at.START_BELOW], p[at.STOP_ABOVE] = made.start_below, made.stop_above
        p[at.QUIET_FROM_H], p[at.QUIET_TO_H] = made.quiet_from_h, made.quiet_to_h
        if made.start_load_w is not None:
            p[at.START_LOAD_W] = made.start_load_w
    return p


def _of_bank(design: Design, p: Floats) -> None:
    bank, stated, spec = design.bank, design.job.bank, design.job.bank.spec
    box, volts = stated.box, design.bank.nominal_v.value
    p[at.FULL_WH] = bank.nominal_energy_wh.value
    p[at.FLOOR_WH] = (1 - stated.usable_share) * p[at.FULL_WH]
    p[at.BEGIN_WH] = p[at.FULL_WH]
    p[at.CHARGE_W] = min(bank.charge_limit_a.value, design.source_states.held_to_a.value) * volts
    p[at.DISCHARGE_W] = bank.discharge_limit_a.value * volts
    p[at.OHM], p[at.VOLTS] = bank.resistance_ohm.value, volts
    points = CELL_POINTS[spec.chemistry]
    p[at.KEPT] = points.charge_efficiency
    p[at.ACCEPTS_PER_H] = points.accepts_per_h
    if math.isinf(points.accepts_per_h):
        # Held at its voltage near full: what then drives the current is what is left to the rest voltage.
        curve = next(row for row in open_circuit().rows if row.chemistry == spec.chemistry)
        full_v = points.full(design.job.settings.full_charge)
        left_v = max(0.01, full_v - interpolated(NEAR_FULL, curve.soc, curve.cell_v)) * bank.nominal_v.value
        left_v /= spec.cell_nominal_v
        p[at.ACCEPTS_PER_H] = left_v / bank.resistance_ohm.value / bank.capacity_ah.value / (1 - NEAR_FULL)
    storage = design.job.ac.storage
    # Only packs with electronics of their own draw.
    packs = len(stated.packs) if spec.managed else 0
    p[at.OWN_W] = packs * storage.pack_w + len(design.job.roof.controllers) * storage.controller_w
    p[at.BOX_W_PER_K] = design.cold.skin_w_per_k.value
    p[at.BOX_H] = len(stated.packs) * spec.mass_kg * CAPACITY_J_KGK / p[at.BOX_W_PER_K] / 3600
    p[at.KEEP_C], p[at.HEATS_ASLEEP] = box.keep_c, float(box.heats_asleep)
    p[at.HEATER_MOST_W] = NEVER_W if spec.heated else box.heater_w
    p[at.CHARGE_LOW_C], p[at.CHARGE_HIGH_C], p[at.CHARGE_COOL_C] = (
        spec.charge_low_c,
        spec.charge_high_c,
        spec.charge_cool_c,
    )
    p[at.CHARGE_COOL_W] = NEVER_W if spec.charge_cool_a is None else spec.charge_cool_a * bank.working * volts
    p[at.DISCHARGE_LOW_C] = spec.discharge_low_c


def _of_inverters(design: Design, p: Floats) -> None:
    inverters, spec, curve = design.job.inverters, design.job.inverters.spec, design.brief.curve
    units = len(inverters.units)
    p[at.IDLE_W] = units * curve.p0_w
    sleeps = design.job.year.sleeps and spec.sleep_w is not None
    p[at.SLEEP_W] = units * spec.sleep_w if sleeps and spec.sleep_w is not None else p[at.IDLE_W]
    p[at.OFF_W] = units * spec.off_w
    p[at.R1], p[at.R2_PER_VA] = (curve.r1, curve.r2_per_w) if units else (0.0, 0.0)
    p[at.CHARGER_W] = units * spec.charge_a * design.bank.nominal_v.value
    p[at.CHARGERS_SHARE] = spec.charge_share
