"""Inverters beside the model: efficiency, day by day and by load."""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

import numpy as np

from weighty_axle.answers.log.drifts import Trace, traced
from weighty_axle.answers.log.rows import Floats, Rows, spread_by_day
from weighty_axle.design.brief.profiles import loss_curve
from weighty_axle.physics.series.lines import lines_by_group

LEAST_ROWS = 10
"""Rows that a stretch of load needs. Source: judgement."""


class LoadRow(NamedTuple):
    """Efficiency of the inverters in a stretch of load: from, to [W], recorded, by the datasheet, hours."""

    from_w: float
    to_w: float
    recorded: float
    model: float
    hours: float


def _powers(rows: Rows) -> tuple[Floats, Floats] | None:
    """Power into and out of the inverters in rows that have both; None where a column is missing."""
    out, amps = rows.of("ac_w"), rows.of("unit_a")
    volts = rows.get("bar_v")
    volts = rows.get("bank_v") if volts is None else volts
    if not rows.need("Efficiency of the inverters", ac_w=out or None, unit_a=amps or None, bank_v=volts):
        return None
    assert volts is not None
    taken, given = np.sum(list(amps.values()), axis=0) * volts, np.sum(list(out.values()), axis=0)
    return taken, given


def efficiency(rows: Rows) -> tuple[list[Trace], tuple[LoadRow, ...]]:
    """Of each further watt taken, how much is given, day by day; and the efficiency by load in ten stretches."""
    both = _powers(rows)
    stack = rows.design.job.inverters
    if both is None or not stack.units:
        return [], ()
    taken, given = both
    there = np.isfinite(taken) & np.isfinite(given) & (given >= 0)
    slope, _, n = lines_by_group(given[there], taken[there], rows.at_day[there], rows.count)
    swing = spread_by_day(given[there], rows.at_day[there], rows.count)
    slope[(n < 60) | (swing < 0.05 * rows.most_w("ac_w"))] = np.nan
    with np.errstate(all="ignore"):
        shares = np.where(slope > 0.5, 100 / slope, np.nan)
    found = []
    if np.isfinite(shares).any():
        found.append(
            traced(
                rows.days,
                "efficiency",
                "Inverters: of each further watt taken, on the AC side",
                "%",
                shares,
                None,
                hint="hot inverter",
                least=0.02,
                means=lambda _before, _after: "a meter has drifted, or an inverter takes more than it did",
            )
        )
    return found, tuple(_by_load(rows, taken, given))


def _by_load(rows: Rows, taken: Floats, given: Floats) -> Iterator[LoadRow]:
    stack = rows.design.job.inverters
    units, curve = len(stack.units), loss_curve(stack)
    whole = stack.spec.continuous_va * units
    there = np.isfinite(taken) & np.isfinite(given) & (given > 0.005 * whole) & (taken > 0)
    at = np.minimum((given[there] / whole * 10).astype(int), 9)
    got, put = np.bincount(at, given[there], 10), np.bincount(at, taken[there], 10)
    count = np.bincount(at, minlength=10)
    for stretch in range(10):
        if count[stretch] < LEAST_ROWS:
            continue
        mean = got[stretch] / count[stretch] / units
        yield LoadRow(
            from_w=stretch * whole / 10,
            to_w=(stretch + 1) * whole / 10,
            recorded=float(got[stretch] / put[stretch]),
            model=float(mean / (mean + curve.loss_w(mean))),
            hours=float(count[stretch] * rows.recording.step_s / 3600),
        )
