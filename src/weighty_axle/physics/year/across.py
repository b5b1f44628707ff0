"""The year of many candidates at once on NumPy: for machines without the compiler, and a check on the kernel.

Written apart from `kernel`, from the same relations: every quantity is a row with a value for each candidate.
"""

from __future__ import annotations

import numpy as np

from weighty_axle.physics.year import columns as at
from weighty_axle.physics.year.arrays import Flags, Floats, Whole, YearArrays
from weighty_axle.physics.year.kernel import COMES_BACK, NEARLY


def across(arrays: YearArrays, candidates: Floats, sums: Floats) -> None:
    """Years of several candidates, side by side through the steps.

    Parameters: arrays - what all candidates share; candidates - one in each row; sums - results
    Returns: nothing; the results stand in `sums`
    Source: as kernel.live
    """
    p = np.ascontiguousarray(candidates.T)
    per_day = arrays.loads.shape[2]
    hours = 24.0 / per_day
    stays = np.where(p[at.BOX_H] > 0, np.exp(-hours / np.where(p[at.BOX_H] > 0, p[at.BOX_H], 1.0)), 0.0)
    usable_wh = p[at.FULL_WH] - p[at.FLOOR_WH]
    ohm = p[at.OHM] / p[at.VOLTS] ** 2
    stored = p[at.BEGIN_WH].copy()
    first_c = arrays.weather[0, at.AIR_C]
    cells = np.where(p[at.HEATER_MOST_W] > 0, np.maximum(first_c, p[at.KEEP_C]), first_c)
    level = np.zeros(len(candidates), dtype=np.int64)
    running = np.zeros(len(candidates), dtype=bool)
    total: dict[int, Floats] = {column: np.zeros(len(candidates)) for column in range(at.SUM_COLUMNS)}
    total[at.LOWEST_WH] = stored.copy()
    may_run = [_may_run(p, (quarter + 0.5) * hours) for quarter in range(per_day)]
    for t, (air_c, driving) in enumerate(arrays.weather):
        day, quarter = divmod(t, per_day)
        row, plug, on, asleep, there = arrays.days[day]
        level = _waiting(level, (stored - p[at.FLOOR_WH]) / usable_wh, p[at.RESERVE])
        dc, ac, va, square, awake = np.ascontiguousarray(arrays.loads[row, :, quarter].T).take(level, axis=1)
        whole_dc, whole_ac = arrays.loads[row, 0, quarter, at.DC_W], arrays.loads[row, 0, quarter, at.AC_W]
        before = running
        running = _running(p, before, (stored - p[at.FLOOR_WH]) / usable_wh, ac)
        running = running & may_run[quarter] & bool(there) & (driving <= 0)
        ac = ac if on or plug >= 0 else np.zeros_like(ac)
        idle = p[at.IDLE_W] * awake + p[at.SLEEP_W] * (1 - awake) if on else p[at.OFF_W]
        alone = idle + p[at.R1] * va + p[at.R2_PER_VA] * square if on else p[at.OFF_W]
        if plug >= 0:
            fed: Floats = np.full(len(candidates), 1.0 - driving)
            lacking = arrays.plugs[plug, quarter, at.ADDS_W] - (whole_ac - ac)
            spare = arrays.plugs[plug, quarter, at.SPARE_W] + np.maximum(0, -lacking)
        else:
            fed = running * 1.0
            lacking = np.where(running, ac - p[at.GENERATOR_W], 0.0)
            spare = np.where(running, np.maximum(0, -lacking), 0.0)
        adds = np.maximum(0, lacking)
        part = np.divide(adds, ac, out=np.zeros_like(adds), where=ac > 0)
        fed_loss = (p[at.R1] * va + p[at.R2_PER_VA] * square * part) * part if on else 0.0
        charger = np.clip((np.maximum(0, spare) - idle) * p[at.CHARGERS_SHARE], None, p[at.CHARGER_W])
        charger = fed * np.maximum(0, charger)
        carried = fed * (ac - adds + idle)
        load = dc + (1 - fed) * (ac if on else 0.0) + fed * adds
        loss = (1 - fed) * alone + fed * fed_loss
        by_itself = air_c + (cells - air_c) * stays
        heats = (p[at.HEATER_MOST_W] > 0) & ~((asleep > 0) & (p[at.HEATS_ASLEEP] < 0.5)) & (stays < 1)
        wanted = p[at.BOX_W_PER_K] * (p[at.KEEP_C] - by_itself) / np.where(stays < 1, 1 - stays, 1.0)
        heater = np.where(heats, np.clip(wanted, 0, p[at.HEATER_MOST_W]), 0.0)
        warmed = np.divide(heater, p[at.BOX_W_PER_K], out=np.zeros_like(heater), where=p[at.BOX_W_PER_K] > 0)
        cells = by_itself + warmed * (1 - stays)
        need = load + loss + p[at.OWN_W] + heater

        made = arrays.roof_w[t][:, None] * p[at.SUN_SCALE] + arrays.away_w[t][:, None]
        sun = np.minimum(made, arrays.limits_w[:, None] * p[at.LIMIT_SCALE]).sum(axis=0)
        offers: dict[int, Floats] = {
            at.SHORE: np.where(running, 0.0, charger),
            at.GENERATOR: np.where(running, charger, 0.0),
            at.CONVERTERS: p[at.CONVERTERS_W],
            at.ENGINE: p[at.ENGINE_W] * driving,
            at.SUN: sun,
        }
        left = need + _accepts(p, stored, cells, hours)
        used: dict[int, Floats] = {}
        for kind in arrays.order:
            used[int(kind)] = np.minimum(offers[int(kind)], left)
            left = left - used[int(kind)]
        net = sum(used.values(), np.zeros(len(candidates))) - need
        into = np.maximum(0, net)
        cells_w = into - ohm * into**2
        can = _gives(p, stored, cells, np.interp(cells, arrays.cold_c, arrays.cold_share), hours, ohm)
        given = np.minimum(np.maximum(0, -net), can)
        unmet = np.maximum(0, -net) - given
        stored = stored + cells_w * p[at.KEPT] * hours - (given + ohm * given**2) * hours
        waste = into - cells_w * p[at.KEPT] + ohm * given**2
        shed = whole_dc - dc + (whole_ac - ac if on or plug >= 0 else 0.0)
        for column, watts in (
            (at.SUN_WH, used[at.SUN]),
            (at.CUT_WH, sun - used[at.SUN]),
            (at.ENGINE_WH, used[at.ENGINE]),
            (at.CONVERTERS_WH, used[at.CONVERTERS]),
            (at.SHORE_WH, used[at.SHORE]),
            (at.GENERATOR_WH, used[at.GENERATOR]),
            (at.CARRIED_WH, carried),
            (at.SERVED_WH, load),
            (at.LOSS_WH, loss),
            (at.OWN_WH, p[at.OWN_W]),
            (at.HEATER_WH, heater),
            (at.WASTE_WH, waste),
            (at.UNMET_WH, unmet),
            (at.UNMET_H, unmet > NEARLY),
            (at.SHED_WH, shed),
            (at.GENERATOR_H, running),
            (at.CHARGED_WH, into),
            (at.DRAWN_WH, given),
            (at.FULL_H, stored >= p[at.FULL_WH] * (1 - 1e-3)),
        ):
            total[column] = total[column] + watts * hours
        total[at.GENERATOR_STARTS] += running & ~before
        taken = carried + np.where(running, used[at.GENERATOR], used[at.SHORE]) / p[at.CHARGERS_SHARE]
        burnt = np.maximum(0, p[at.FUEL_L_PER_H] + p[at.FUEL_L_PER_WH] * taken)
        total[at.FUEL_L] += np.where(running, burnt * hours, 0.0)
        if plug >= 0:
            total[at.HOOKUP_WH] += np.where(running, 0.0, taken * hours)
        total[at.PEAK_IN_W] = np.maximum(total[at.PEAK_IN_W], into)
        total[at.PEAK_OUT_W] = np.maximum(total[at.PEAK_OUT_W], given)
        lower = stored < total[at.LOWEST_WH]
        total[at.LOWEST_WH] = np.where(lower, stored, total[at.LOWEST_WH])
        total[at.LOWEST_AT] = np.where(lower, float(t), total[at.LOWEST_AT])
    total[at.END_WH] = stored
    for column, values in total.items():
        sums[:, column] = values


def _waiting(level: Whole, usable: Floats, reserve: Floats) -> Whole:
    wanted = np.zeros_like(level)
    for tier in range(at.TIERS):
        below = reserve * (at.TIERS - tier) / at.TIERS + np.where(tier < level, COMES_BACK, 0.0)
        wanted = np.where(usable < below, tier + 1, wanted)
    return wanted


def _may_run(p: Floats, hour: float) -> Flags:
    quiet = (hour - p[at.QUIET_FROM_H]) % 24 < (p[at.QUIET_TO_H] - p[at.QUIET_FROM_H]) % 24
    made: Flags = (p[at.GENERATOR_W] > 0) & ~quiet
    return made


def _running(p: Floats, running: Flags, usable: Floats, ac: Floats) -> Flags:
    wanted = (usable < p[at.START_BELOW]) | (ac > p[at.START_LOAD_W])
    made: Flags = (running | wanted) & (usable < p[at.STOP_ABOVE])
    return made


def _accepts(p: Floats, stored: Floats, cells: Floats, hours: float) -> Floats:
    lacks = p[at.FULL_WH] - stored
    most = np.where(cells < p[at.CHARGE_COOL_C], np.minimum(p[at.CHARGE_W], p[at.CHARGE_COOL_W]), p[at.CHARGE_W])
    most = np.minimum(np.minimum(most, p[at.ACCEPTS_PER_H] * lacks), lacks / (p[at.KEPT] * hours))
    out = (cells < p[at.CHARGE_LOW_C]) | (cells > p[at.CHARGE_HIGH_C])
    made: Floats = np.where(out, 0.0, np.maximum(0, most))
    return made


def _gives(p: Floats, stored: Floats, cells: Floats, share: Floats, hours: float, ohm: Floats) -> Floats:
    left = np.maximum(0, (stored - p[at.FLOOR_WH] - (1 - share) * p[at.FULL_WH]) / hours)
    safe = np.where(ohm > 0, ohm, 1.0)
    most = np.where(ohm > 0, (np.sqrt(1 + 4 * ohm * left) - 1) / (2 * safe), left)
    made: Floats = np.where(cells < p[at.DISCHARGE_LOW_C], 0.0, np.minimum(most, p[at.DISCHARGE_W]))
    return made
