"""One design through a year, step by step: time inside, one candidate at a time, on plain arrays.

The same code runs as it stands and compiled (`compiled`); `columns` says what stands where. Energy closes at every
step: what came in, and what could not be served, is what was asked for, what the bank lost and what it now holds more.

Parts take numbers, not arrays, wherever they run in every step: compiled, an array handed on is counted as held and
let go again, which takes longer than what most parts do.
"""

from __future__ import annotations

import math

import numpy as np

from weighty_axle.physics.year import columns as at
from weighty_axle.physics.year.arrays import Floats, YearArrays

Numbers = tuple[float, ...]
"""A candidate, by the columns of `columns`."""

NEARLY = 1e-9
COMES_BACK = 0.05
"""Loads that wait come back with so much more of the usable energy. Source: common practice, no source."""


def _share_at(celsius: float, points_c: Floats, shares: Floats) -> float:
    """Capacity the cells give at a temperature, between the points of a table."""
    if celsius <= points_c[0]:
        return float(shares[0])
    if celsius >= points_c[points_c.shape[0] - 1]:
        return float(shares[points_c.shape[0] - 1])
    for one in range(1, points_c.shape[0]):
        if celsius <= points_c[one]:
            part = (celsius - points_c[one - 1]) / (points_c[one] - points_c[one - 1])
            return float(shares[one - 1] + part * (shares[one] - shares[one - 1]))
    return float(shares[points_c.shape[0] - 1])


def _heater_w(p: Numbers, cells_c: float, air_c: float, kept: float, stored: int) -> float:
    """What the heater takes in a step to hold the box, as far as it can; `kept` is what stays of the difference to the
    air by itself.
    """
    if p[at.HEATER_MOST_W] <= 0.0 or (stored and p[at.HEATS_ASLEEP] < 0.5) or kept >= 1.0:
        return 0.0
    by_itself = air_c + (cells_c - air_c) * kept
    if by_itself >= p[at.KEEP_C]:
        return 0.0
    needed = p[at.BOX_W_PER_K] * (p[at.KEEP_C] - by_itself) / (1.0 - kept)
    return float(needed if needed < p[at.HEATER_MOST_W] else p[at.HEATER_MOST_W])


def _shed_level(level: int, usable: float, reserve: float) -> int:
    """How many tiers of loads wait: the first below the whole reserve, the last below a third of it; each comes back a
    little above where it went.
    """
    if usable >= reserve + COMES_BACK:
        return 0
    wanted = 0
    for tier in range(at.TIERS):
        below = reserve * (at.TIERS - tier) / at.TIERS
        if tier < level:
            below += COMES_BACK
        if usable < below:
            wanted = tier + 1
    return wanted


def _may_run(p: Numbers, quarter: int, hours: float) -> bool:
    """Whether a generator may run in a step of the day: outside the quiet hours, which may go past midnight."""
    hour = (quarter + 0.5) * hours
    quiet = (hour - p[at.QUIET_FROM_H]) % 24.0 < (p[at.QUIET_TO_H] - p[at.QUIET_FROM_H]) % 24.0
    return bool(p[at.GENERATOR_W] > 0.0 and not quiet)


def _generator_runs(p: Numbers, running: bool, usable: float, ac_w: float) -> bool:
    """Whether a generator that may run does in a step: by charge, and by load where that is stated."""
    wanted = usable < p[at.START_BELOW] or ac_w > p[at.START_LOAD_W]
    return bool((running or wanted) and usable < p[at.STOP_ABOVE])


def _accepts_w(p: Numbers, stored_wh: float, cells_c: float, fills_per_h: float) -> float:
    """What the bank takes at most in a step: its limit, less near full, cool or cold; never more than makes it full.

    `fills_per_h` is the power that fills what lacks within the step, over what lacks.
    """
    if cells_c < p[at.CHARGE_LOW_C] or cells_c > p[at.CHARGE_HIGH_C]:
        return 0.0
    most = p[at.CHARGE_W]
    if cells_c < p[at.CHARGE_COOL_C] and p[at.CHARGE_COOL_W] < most:
        most = p[at.CHARGE_COOL_W]
    lacks = p[at.FULL_WH] - stored_wh
    near = p[at.ACCEPTS_PER_H] * lacks
    most = most if most < near else near
    fills = lacks * fills_per_h
    most = most if most < fills else fills
    return most if most > 0.0 else 0.0


def _gives_w(p: Numbers, stored_wh: float, cells_c: float, cold_share: float, per_hour: float, ohm: float) -> float:
    """What the bank gives at most in a step, of which `per_hour` are in an hour: down to its floor, what the cold takes
    left out, up to its limit.
    """
    if cells_c < p[at.DISCHARGE_LOW_C]:
        return 0.0
    floor = p[at.FLOOR_WH] + (1.0 - cold_share) * p[at.FULL_WH]
    left = (stored_wh - floor) * per_hour
    if left <= 0.0:
        return 0.0
    if left >= p[at.DISCHARGE_W] * (1.0 + ohm * p[at.DISCHARGE_W]):
        return float(p[at.DISCHARGE_W])
    # x + ohm x² = left, for the power x that comes out; `ohm` is over the square of the voltage.
    most = (math.sqrt(1.0 + 4.0 * ohm * left) - 1.0) / (2.0 * ohm) if ohm > 0.0 else left
    return float(most if most < p[at.DISCHARGE_W] else p[at.DISCHARGE_W])


def _numbers(p: Floats) -> Numbers:
    """A candidate's row as numbers; compiled, this is the compiler's own."""
    return tuple(p.tolist())


def _demand(
    asked: tuple[float, float, float, float, float, float, float],
    source: tuple[float, float],
    p: Numbers,
    on: int,
    plug: int,
    plugged: float,
    running: bool,
) -> tuple[float, float, float, float, float]:
    """What loads and the loss of inverters ask of the bar in a step, power of the chargers of hook-up and generator,
    what these carry themselves, and what waits.

    `asked` is DC with nothing waiting, DC, AC with nothing waiting, AC, its apparent power, the square of that, and the
    part with anything on; `source` what the hook-up spares and needs added, `plug` its row (−1: none). `plugged` is the
    part of the step in which the hook-up feeds; a generator feeds all of it.
    """
    full_dc, dc, full_ac, ac, va, square, awake = asked
    if not on and plug < 0:
        ac, full_ac = 0.0, 0.0
    idle = p[at.IDLE_W] * awake + p[at.SLEEP_W] * (1.0 - awake) if on else p[at.OFF_W]
    alone_loss = idle + p[at.R1] * va + p[at.R2_PER_VA] * square if on else idle
    fed, adds, spare = 0.0, 0.0, 0.0
    if plug >= 0:
        fed = plugged
        adds = source[1] - (full_ac - ac)
        spare = source[0] + (-adds if adds < 0.0 else 0.0)
    elif running:
        fed = 1.0
        adds = ac - p[at.GENERATOR_W]
        spare = -adds
    adds = 0.0 if adds < 0.0 else adds
    spare = 0.0 if spare < 0.0 else spare
    part = adds / ac if adds > 0.0 else 0.0
    fed_loss = (p[at.R1] * va + p[at.R2_PER_VA] * square * part) * part if on else 0.0
    charger = (spare - idle) * p[at.CHARGERS_SHARE]
    charger = charger if charger < p[at.CHARGER_W] else p[at.CHARGER_W]
    alone = ac if on else 0.0
    load = dc + (1.0 - fed) * alone + fed * adds
    loss = (1.0 - fed) * alone_loss + fed * fed_loss
    charger = fed * charger if charger > 0.0 else 0.0
    return load, loss, charger, fed * (ac - adds + idle), full_dc - dc + full_ac - ac


def live(arrays: YearArrays, candidate: Floats, series: Floats, sums: Floats) -> None:
    """A candidate's year, into `sums` and, where that has rows, step by step into `series`.

    Parameters: arrays - what all candidates share; candidate - its row; series, sums - results
    Returns: nothing; the results stand in `series` and `sums`
    Source: sums step by step; textbook relations (first-order warming, loss in a resistance)
    """
    p = _numbers(candidate)
    loads, plugs, days, weather = arrays.loads, arrays.plugs, arrays.days, arrays.weather
    roof_w, away_w, limits_w, order = arrays.roof_w, arrays.away_w, arrays.limits_w, arrays.order
    cold_c, cold_share = arrays.cold_c, arrays.cold_share
    steps, per_day = weather.shape[0], loads.shape[2]
    hours = 24.0 / per_day
    told = series.shape[0] == steps
    kept = math.exp(-hours / p[at.BOX_H]) if p[at.BOX_H] > 0.0 else 0.0
    stored = p[at.BEGIN_WH]
    cells_c = weather[0, at.AIR_C]
    if p[at.HEATER_MOST_W] > 0.0 and cells_c < p[at.KEEP_C]:
        cells_c = p[at.KEEP_C]
    per_usable_wh = 1.0 / (p[at.FULL_WH] - p[at.FLOOR_WH])
    ohm = p[at.OHM] / (p[at.VOLTS] * p[at.VOLTS])
    warmed = (1.0 - kept) / p[at.BOX_W_PER_K] if p[at.BOX_W_PER_K] > 0.0 else 0.0
    per_hour, fills_per_h = 1.0 / hours, 1.0 / (p[at.KEPT] * hours)
    level, running = 0, False
    most = np.zeros(at.KINDS)
    sums[:] = 0.0
    sums[at.LOWEST_WH] = stored
    may_run = np.zeros(per_day)
    for quarter in range(per_day):
        may_run[quarter] = 1.0 if _may_run(p, quarter, hours) else 0.0
    for day in range(days.shape[0]):
        row, plug, on = days[day, at.LOAD_ROW], days[day, at.PLUG_ROW], days[day, at.INVERTERS_ON]
        there, asleep = days[day, at.GENERATOR_THERE] > 0, days[day, at.STORED]
        for quarter in range(per_day):
            t = day * per_day + quarter
            driving = weather[t, at.DRIVING]
            usable = (stored - p[at.FLOOR_WH]) * per_usable_wh
            level = _shed_level(level, usable, p[at.RESERVE])
            before = running
            running = (
                may_run[quarter] > 0.0
                and there
                and driving <= 0.0
                and _generator_runs(p, running, usable, loads[row, level, quarter, at.AC_W])
            )
            asked = (
                loads[row, 0, quarter, at.DC_W],
                loads[row, level, quarter, at.DC_W],
                loads[row, 0, quarter, at.AC_W],
                loads[row, level, quarter, at.AC_W],
                loads[row, level, quarter, at.VA],
                loads[row, level, quarter, at.VA_SQUARE],
                loads[row, level, quarter, at.AWAKE],
            )
            # Of no hook-up there may be no row to look at.
            spare_w = plugs[plug, quarter, at.SPARE_W] if plug >= 0 else 0.0
            adds_w = plugs[plug, quarter, at.ADDS_W] if plug >= 0 else 0.0
            load, loss, charger, carried, shed = _demand(asked, (spare_w, adds_w), p, on, plug, 1.0 - driving, running)
            air_c = weather[t, at.AIR_C]
            heater = _heater_w(p, cells_c, air_c, kept, asleep)
            cells_c = air_c + (cells_c - air_c) * kept + heater * warmed
            need = load + loss + p[at.OWN_W] + heater

            sun = 0.0
            for group in range(limits_w.shape[0]):  # modules on the roof and elsewhere, up to each controller's output
                made = roof_w[t, group] * p[at.SUN_SCALE] + away_w[t, group]
                limit = limits_w[group] * p[at.LIMIT_SCALE]
                sun += made if made < limit else limit
            # In the order of the kinds, as they are used while there is less than is taken.
            shore, generated = (0.0, charger) if running else (charger, 0.0)
            used = (shore, generated, p[at.CONVERTERS_W], p[at.ENGINE_W] * driving, sun)
            left = need + _accepts_w(p, stored, cells_c, fills_per_h)
            total = used[0] + used[1] + used[2] + used[3] + used[4]
            if total > left:
                total = left
                most[0], most[1], most[2], most[3], most[4] = used
                for one in range(at.KINDS):
                    kind = order[one]
                    most[kind] = most[kind] if most[kind] < left else left
                    left -= most[kind]
                used = (most[0], most[1], most[2], most[3], most[4])

            net, unmet, waste = total - need, 0.0, 0.0
            if net >= 0.0:
                cells_w = net - net * net * ohm
                stored += cells_w * p[at.KEPT] * hours
                waste = net - cells_w * p[at.KEPT]
            else:
                can = _gives_w(p, stored, cells_c, _share_at(cells_c, cold_c, cold_share), per_hour, ohm)
                given = -net if -net < can else can
                unmet = -net - given
                waste = given * given * ohm
                stored -= (given + waste) * hours
                net = -given
            cut = sun - used[at.SUN]

            if told:
                state = (stored, cells_c, float(level), 1.0 if running else 0.0)
                _tell(series, t, used, state, (cut, carried, load, loss, p[at.OWN_W], heater, waste, unmet, shed))
            _count(p, sums, used, (load, loss, carried), cut, heater, waste, unmet, shed, net, hours)
            if running:
                sums[at.GENERATOR_H] += hours
                sums[at.GENERATOR_STARTS] += 0.0 if before else 1.0
                burnt = p[at.FUEL_L_PER_H] + p[at.FUEL_L_PER_WH] * (carried + used[at.GENERATOR] / p[at.CHARGERS_SHARE])
                sums[at.FUEL_L] += burnt * hours if burnt > 0.0 else 0.0
            elif plug >= 0:
                sums[at.HOOKUP_WH] += (carried + used[at.SHORE] / p[at.CHARGERS_SHARE]) * hours
            if stored >= p[at.FULL_WH] * (1.0 - 1e-3):
                sums[at.FULL_H] += hours
            if stored < sums[at.LOWEST_WH]:
                sums[at.LOWEST_WH], sums[at.LOWEST_AT] = stored, t
    sums[at.END_WH] = stored


def many(arrays: YearArrays, candidates: Floats, sums: Floats) -> None:
    """Years of several candidates, row by row into `sums`.

    Parameters: arrays - what all candidates share; candidates - one in each row; sums - results
    Returns: nothing; the results stand in `sums`
    Source: as `live`
    """
    nothing = np.zeros((0, at.STEP_COLUMNS))
    for row in range(candidates.shape[0]):
        live(arrays, candidates[row], nothing, sums[row])


def _tell(series: Floats, t: int, used: Numbers, state: Numbers, powers: Numbers) -> None:
    """A step into its row: charge, cells, tiers that wait and the generator; each source; the powers that follow."""
    for one in range(4):
        series[t, at.STORED_WH + one] = state[one]
    for kind in range(at.KINDS):
        series[t, at.SHORE_W + kind] = used[kind]
    for one in range(9):
        series[t, at.CUT_W + one] = powers[one]


def _count(
    p: Numbers,
    sums: Floats,
    used: Numbers,
    asked: tuple[float, float, float],
    cut: float,
    heater: float,
    waste: float,
    unmet: float,
    shed: float,
    net: float,
    hours: float,
) -> None:
    """A step's energies onto the year's; `asked` are loads, loss of the inverters, and what AC sources carried."""
    load, loss, carried = asked
    sums[at.SUN_WH] += used[at.SUN] * hours
    sums[at.CUT_WH] += cut * hours
    sums[at.ENGINE_WH] += used[at.ENGINE] * hours
    sums[at.CONVERTERS_WH] += used[at.CONVERTERS] * hours
    sums[at.SHORE_WH] += used[at.SHORE] * hours
    sums[at.GENERATOR_WH] += used[at.GENERATOR] * hours
    sums[at.CARRIED_WH] += carried * hours
    sums[at.SERVED_WH] += load * hours
    sums[at.LOSS_WH] += loss * hours
    sums[at.OWN_WH] += p[at.OWN_W] * hours
    sums[at.HEATER_WH] += heater * hours
    sums[at.WASTE_WH] += waste * hours
    sums[at.UNMET_WH] += unmet * hours
    sums[at.SHED_WH] += shed * hours
    if unmet > NEARLY:
        sums[at.UNMET_H] += hours
    if net > 0.0:
        sums[at.CHARGED_WH] += net * hours
        sums[at.PEAK_IN_W] = net if net > sums[at.PEAK_IN_W] else sums[at.PEAK_IN_W]
    else:
        sums[at.DRAWN_WH] -= net * hours
        sums[at.PEAK_OUT_W] = -net if -net > sums[at.PEAK_OUT_W] else sums[at.PEAK_OUT_W]
