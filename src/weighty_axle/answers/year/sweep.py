"""Thousands of designs through the same year: modules, packs, inverters and alternator chargers in every mix."""

from __future__ import annotations

import itertools
import os
import threading
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from weighty_axle.answers.charging.day import engine_a
from weighty_axle.answers.year.cost import price_of
from weighty_axle.answers.year.inputs import first_weather, in_weather, year_inputs
from weighty_axle.answers.year.lived import fast_kernel
from weighty_axle.answers.year.weathers import Progress
from weighty_axle.design.roof.room import add_module
from weighty_axle.design.table import Design
from weighty_axle.job.edits.edit import EditRefusedError
from weighty_axle.job.models.charging import ConverterSpec
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.inverters import LINES
from weighty_axle.physics.year import columns as at
from weighty_axle.physics.year.across import across
from weighty_axle.physics.year.arrays import Flags, Floats, YearArrays
from weighty_axle.reference.tables import converters

Rows = NDArray[np.intp]
CHUNK = 64
"""Designs lived between two looks at progress and cancel."""
WORKERS = os.cpu_count() or 1
AXES = ("modules", "packs", "inverters", "chargers")
MOST_MODULES, MOST_PACKS, MOST_CHARGERS = 40, 24, 4


class Axes(Struct, frozen=True, kw_only=True):
    """How many of each are tried, rising."""

    modules: tuple[int, ...]
    packs: tuple[int, ...]
    inverters: tuple[int, ...]
    chargers: tuple[int, ...]

    @property
    def counts(self) -> tuple[tuple[int, ...], ...]:
        """In the order of AXES."""
        return (self.modules, self.packs, self.inverters, self.chargers)


class Point(Struct, frozen=True, kw_only=True):
    """One mix: how many of each, what its year says, what it costs (None: prices are missing) and weighs beside the
    design, and which of the four more of would help most (empty: none of them).
    """

    modules: int
    packs: int
    inverters: int
    chargers: int
    missing_wh: float
    generator_h: float
    cut_wh: float
    lowest_share: float
    cost: float | None
    mass_kg: float
    carries_peak: bool
    efficient: bool
    binds: str


class Swept(Struct, frozen=True, kw_only=True):
    """What is lived so far: axes, sums row by row in the order of `itertools.product` over them, and which rows are
    done.
    """

    axes: Axes
    sums: Floats
    done: Flags

    @property
    def whole(self) -> bool:
        """Whether all of it is lived."""
        return bool(self.done.all())


def usual_axes(design: Design) -> Axes:
    """What is worth trying around a design, some two thousand mixes at most."""
    job = design.job
    modules, packs = len(job.roof.modules), len(job.bank.packs)
    step = job.bank.series
    most = min(job.bank.spec.parallel_limit * step, max(2 * packs, packs + 4 * step), MOST_PACKS * step)
    lines = len(LINES[job.inverters.stacking]) if job.inverters.units else 1
    units = len(job.inverters.units)
    each = max(1, lines if job.inverters.spec.lines == 1 else 1)
    chargers = sum(end.by_engine and end.gives_a.value > 0 for end in design.ends)
    can_drive = bool(job.charging.alternators)
    return Axes(
        modules=tuple(range(_room_for(job, min(MOST_MODULES, 2 * modules)) + 1)) if modules else (0,),
        packs=tuple(range(step, most + 1, step)),
        inverters=tuple(range(each, max(units, each) + each + 1, each)) if units else (0,),
        chargers=tuple(range(min(MOST_CHARGERS, chargers + 1) + 1)) if can_drive else (0,),
    )


def _room_for(job: Job, most: int) -> int:
    """How many modules the roof holds, those there are left where they lie."""
    while len(job.roof.modules) < most:
        try:
            job = one_module_more(job)
        except EditRefusedError:
            break
    return len(job.roof.modules)


def one_module_more(job: Job) -> Job:
    """A module more on the shortest string. Raises EditRefusedError where the roof has no room."""
    lengths = {one.tag: 0 for one in job.roof.strings}
    for module in job.roof.modules:
        if module.string in lengths:
            lengths[module.string] += 1
    return add_module(min(lengths, key=lambda tag: lengths[tag]) if lengths else "").apply(job)


def begin(axes: Axes) -> Swept:
    """Nothing lived yet."""
    count = int(np.prod([len(one) for one in axes.counts]))
    return Swept(axes=axes, sums=np.zeros((count, at.SUM_COLUMNS)), done=np.zeros(count, dtype=bool))


def sweep(
    design: Design,
    so_far: Swept,
    *,
    step_min: int = 15,
    fast: bool = True,
    progress: Progress | None = None,
    partial: Callable[[Swept], None] | None = None,
) -> Swept:
    """Live what is not lived yet. Each mix is lived by itself: the answer does not depend on where it was stopped.

    Without the compiler whole hours are lived. Source: physics.year.kernel.
    """
    compiled = fast_kernel() if fast else None
    step_min = step_min if compiled is not None else max(step_min, 60)
    inputs = year_inputs(design, 1440 // step_min)
    arrays = in_weather(design, inputs, first_weather(design, inputs))
    rows = candidates(design, so_far.axes, inputs.candidate)
    sums, done = so_far.sums.copy(), so_far.done.copy()
    many = compiled.many if compiled is not None else across
    left = np.flatnonzero(~done)
    chunks = [left[first : first + CHUNK] for first in range(0, len(left), CHUNK)]
    with ThreadPoolExecutor(max_workers=WORKERS, initializer=_behind) as pool:
        for number, (chunk, found) in enumerate(_lived(pool, many, arrays, rows, chunks)):
            sums[chunk], done[chunk] = found, True
            if partial is not None:
                partial(Swept(axes=so_far.axes, sums=sums.copy(), done=done.copy()))
            if progress is not None:
                progress((number + 1) / len(chunks), f"{int(done.sum())} of {len(done)} designs")
    return Swept(axes=so_far.axes, sums=sums, done=done)


def _lived(
    pool: ThreadPoolExecutor,
    many: Callable[[YearArrays, Floats, Floats], None],
    arrays: YearArrays,
    rows: Floats,
    chunks: list[Rows],
) -> Iterator[tuple[Rows, Floats]]:
    """Chunks as they are done, few in flight at a time, so that a cancel is answered at once."""

    def work(chunk: Rows) -> tuple[Rows, Floats]:
        found = np.zeros((len(chunk), at.SUM_COLUMNS))
        many(arrays, rows[chunk], found)
        return chunk, found

    ahead = WORKERS + 1
    waiting = [pool.submit(work, one) for one in chunks[:ahead]]
    for number in range(len(chunks)):
        if number + ahead < len(chunks):
            waiting.append(pool.submit(work, chunks[number + ahead]))
        yield waiting[number].result()


def _behind() -> None:
    """Every core lives years, each thread behind whatever else wants to run: the window goes first."""
    with suppress(AttributeError, OSError):  # where threads have no rank of their own
        os.setpriority(os.PRIO_PROCESS, threading.get_native_id(), 10)


def candidates(design: Design, axes: Axes, base: Floats) -> Floats:
    """A row of the kernel's numbers for every mix."""
    job = design.job
    modules, packs, units = len(job.roof.modules), len(job.bank.packs), len(job.inverters.units)
    controllers = len(job.roof.controllers)
    mixes = list(itertools.product(*axes.counts))
    rows = np.tile(base, (len(mixes), 1))
    spec, volts = job.inverters.spec, design.bank.nominal_v.value
    each_w, most_w = _engine(design)
    # All charging is held to what the installer set; else to whatever the packs take.
    limit_a = job.charging.system_limit_a
    held_w = np.inf if limit_a is None else limit_a * volts
    for row, (m, n, u, c) in zip(rows, mixes, strict=True):
        row[at.SUN_SCALE] = m / modules if modules else 1.0
        # More modules get more controllers, whole ones.
        row[at.LIMIT_SCALE] = -(-m * controllers // modules) / controllers if modules and controllers else 1.0
        for column in (at.FULL_WH, at.FLOOR_WH, at.BEGIN_WH, at.DISCHARGE_W, at.CHARGE_COOL_W, at.BOX_H):
            row[column] *= n / packs
        row[at.CHARGE_W] = min(base[at.CHARGE_W] / packs * n, held_w)
        row[at.OHM] *= packs / n
        row[at.ACCEPTS_PER_H] = base[at.ACCEPTS_PER_H]
        if units:
            for column in (at.IDLE_W, at.SLEEP_W, at.OFF_W):
                row[column] *= u / units
            row[at.R2_PER_VA] *= units / u
            row[at.CHARGER_W] = u * spec.charge_a * volts
        row[at.ENGINE_W] = min(c * each_w, most_w)
    return rows


def charger_type(design: Design) -> ConverterSpec:
    """The alternator charger of the job, or the first typical one into its class of bank."""
    own = next((end.converter.spec for end in design.ends if end.by_engine and end.gives_a.value), None)
    return own or next(one for one in converters().rows if one.output_v is None)


def _engine(design: Design) -> tuple[float, float]:
    """What one alternator charger puts into the bank at cruise, and the most that the alternators can spare [W]."""
    volts = design.bank.nominal_v.value
    own = [end for end in design.ends if end.by_engine and end.gives_a.value]
    each = own[0].gives_a.value * volts if own else (charger_type(design).output_w or 0.0)
    spare = sum(
        one.spare_a["cruise"].value * one.lowest_v.value
        for one in design.spares
        if not own or one.bar in {end.other for end in own}
    )
    return each, max(engine_a(design) * volts, spare * charger_type(design).efficiency)


def points(design: Design, swept: Swept) -> tuple[Point, ...]:
    """What is lived so far as points; efficient ones have no other that is no worse in missing energy, cost (where all
    prices are known) and mass, and better in one.
    """
    mixes = np.array(list(itertools.product(*swept.axes.counts)))
    missing = swept.sums[:, at.UNMET_WH] + swept.sums[:, at.SHED_WH]
    mass, cost = _mass_kg(design, mixes), _cost(design, mixes)
    carries = _carries(design, mixes[:, 2])
    fair = swept.done & carries
    measures = [np.round(missing, 3), np.round(mass, 6)] + ([np.round(cost, 6)] if cost is not None else [])
    efficient = _efficient(np.column_stack(measures), fair)
    binds = _binding(swept, missing)
    wholes = np.array([one * design.bank.nominal_energy_wh.value for one in mixes[:, 1] / len(design.job.bank.packs)])
    return tuple(
        Point(
            modules=int(mix[0]),
            packs=int(mix[1]),
            inverters=int(mix[2]),
            chargers=int(mix[3]),
            missing_wh=float(missing[row]),
            generator_h=float(swept.sums[row, at.GENERATOR_H]),
            cut_wh=float(swept.sums[row, at.CUT_WH]),
            lowest_share=float(swept.sums[row, at.LOWEST_WH] / wholes[row]),
            cost=float(cost[row]) if cost is not None else None,
            mass_kg=float(mass[row]),
            carries_peak=bool(carries[row]),
            efficient=bool(efficient[row]),
            binds=binds[row],
        )
        for row, mix in enumerate(mixes)
        if swept.done[row]
    )


def _more(design: Design, mixes: Floats) -> Floats:
    """How many more of each than the design has."""
    job = design.job
    chargers = sum(end.by_engine and end.gives_a.value > 0 for end in design.ends)
    has = np.array([len(job.roof.modules), len(job.bank.packs), len(job.inverters.units), chargers])
    made: Floats = mixes - has
    return made


def _mass_kg(design: Design, mixes: Floats) -> Floats:
    job = design.job
    each = np.array(
        [job.roof.module.mass_kg, job.bank.spec.mass_kg, job.inverters.spec.mass_kg, charger_type(design).mass_kg]
    )
    made: Floats = _more(design, mixes) @ each
    return made


def _cost(design: Design, mixes: Floats) -> Floats | None:
    """What a mix costs more than the design; None where a price it takes is not stated."""
    job = design.whole
    names = (job.roof.module.name, design.job.bank.spec.name, design.job.inverters.spec.name, charger_type(design).name)
    prices = [price_of(job, name) for name in names]
    more = _more(design, mixes)
    if any(price is None and more[:, at_axis].any() for at_axis, price in enumerate(prices)):
        return None
    made: Floats = more @ np.array([price or 0.0 for price in prices])
    return made


def _carries(design: Design, inverters: Floats) -> Flags:
    """Whether so many inverters carry the highest AC power together."""
    peak_w = max((day.peak_ac_w.value for day in design.brief.days.values()), default=0.0)
    made: Flags = inverters * design.job.inverters.spec.continuous_va >= min(
        peak_w, len(design.job.inverters.units) * design.job.inverters.spec.continuous_va
    )
    return made


def _efficient(measures: Floats, fair: Flags) -> Flags:
    found = np.zeros(len(measures), dtype=bool)
    rows = np.flatnonzero(fair)
    own = measures[rows]
    for row, one in zip(rows, own, strict=True):
        better = (own <= one).all(axis=1) & (own < one).any(axis=1)
        found[row] = not better.any()
    return found


def _binding(swept: Swept, missing: Floats) -> list[str]:
    """Of every mix the axis along which one step more takes away most of what is missing."""
    shape = tuple(len(one) for one in swept.axes.counts)
    grid = np.where(swept.done, missing, np.nan).reshape(shape)
    best, which = np.zeros(shape), np.full(shape, -1)
    for axis in range(len(shape)):
        gain = np.zeros(shape)
        here = [slice(None)] * len(shape)
        then = [slice(None)] * len(shape)
        here[axis], then[axis] = slice(0, -1), slice(1, None)
        gain[tuple(here)] = np.nan_to_num(grid[tuple(here)] - grid[tuple(then)])
        better = gain > np.maximum(best, 1.0)
        best, which = np.where(better, gain, best), np.where(better, axis, which)
    return [AXES[axis] if axis >= 0 else "" for axis in which.ravel()]
