"""Sun beside the model: each controller under the clearest sky, beside its neighbours, and by hour of the day."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from weighty_axle.answers.log.drifts import Trace, falls_only, traced
from weighty_axle.answers.log.rows import Floats, Rows

CLEAR_SHARE, NOT_FULL = 0.3, 95.0
"""Sun is compared while it could give so much of its best, and while the bank can take it [% of charge]. Source:
judgement.
"""


class HourRow(NamedTuple):
    """Sun at an hour of the day by the sun: recorded and under a clear sky [W], and their ratio (NaN: dark)."""

    hour: int
    recorded_w: float
    clear_w: float
    ratio: float


class _Lit(NamedTuple):
    """A controller's power, what a clear sky would give [W], and the rows in which they can be compared."""

    watts: Floats
    clear: Floats
    can: NDArray[np.bool_]


def _powers(rows: Rows) -> dict[str, Floats]:
    """Power by controller, recorded or current times voltage."""
    found = {tag: watts for tag, watts in rows.of("sun_w").items() if not tag or tag in rows.clear.watts}
    volts = rows.get("bank_v")
    for tag, amps in rows.of("sun_a").items():
        if tag not in found and volts is not None:
            found[tag] = amps * volts
    return found


def sun(rows: Rows) -> Iterator[Trace]:
    """Sun of each controller under the clearest sky of the day, and beside its neighbours, which clouds spare."""
    found = _powers(rows)
    if not rows.need("Sun", sun_w=found or None):
        return
    soc, light = rows.get("soc"), rows.get("sun_per_m2")
    if soc is None:
        rows.unknown.append(
            "Whether the sun was cut because the bank was full: there is no charge of the bank; afternoons may look "
            "worse than the array is."
        )
    if light is None:
        rows.unknown.append("Clouds apart from dirt: without light measured on the roof only clear hours count.")
    lit: dict[str, _Lit] = {}
    for tag, watts in found.items():
        clear = _clear_w(rows, tag)
        if light is not None:
            with np.errstate(all="ignore"):
                lit_by = rows.clear.light_w_per_m2
                clear = clear * np.where(lit_by > 1, light / lit_by, 0.0)
        can = np.isfinite(watts) & (clear > CLEAR_SHARE * float(np.nanmax(clear, initial=0.0)))
        if soc is not None:
            can &= ~(soc > NOT_FULL)
        lit[tag] = _Lit(watts, clear, can)
    for tag, one in lit.items():
        single = _clearest(rows, one)
        best = _best_of_week(single)
        if np.isfinite(best).any():
            yield traced(
                rows.days,
                f"sun {tag}".strip(),
                f"{tag or 'Sun'}: clearest half hour of a week, share of a clear sky",
                "%",
                best * 100,
                None,
                about=(tag,) if tag else (),
                hint="half sun",
                by_best=single * 100,
                least=0.08 if len(lit) == 1 else math.inf,  # neighbours tell it apart from clouds
                means=lambda before, after: (
                    "dirt, shade, or a string that is gone" if after < before else "cleaned, or more of it is lit"
                ),
            )
    if len(lit) > 1:
        yield from _beside_neighbours(rows, lit)


def _clear_w(rows: Rows, tag: str) -> Floats:
    if tag:
        return rows.clear.watts[tag]
    whole: Floats = np.sum(list(rows.clear.watts.values()), axis=0)
    return whole


def _clearest(rows: Rows, lit: _Lit) -> Floats:
    """The best half hour of each day as a share of a clear sky."""
    half = rows.solar_s // 1800
    half = half - half[0]
    size = int(half[-1]) + 1
    got = np.bincount(half[lit.can], lit.watts[lit.can], size)
    could = np.bincount(half[lit.can], lit.clear[lit.can], size)
    full = np.bincount(half[lit.can], minlength=size) >= max(1, 0.8 * 1800 / rows.recording.step_s)
    day = ((np.arange(size) + rows.solar_s[0] // 1800) * 1800 // 86_400 - rows.day[0]).clip(0, rows.count - 1)
    with np.errstate(all="ignore"):
        ratio = np.where(full & (could > 0), got / could, -np.inf)
    best = np.full(rows.count, -np.inf)
    np.maximum.at(best, day, ratio)
    best[~np.isfinite(best)] = np.nan
    return best


def _best_of_week(best: Floats) -> Floats:
    """The best of each day and the three on either side."""
    week = np.lib.stride_tricks.sliding_window_view(np.pad(best, 3, constant_values=np.nan), 7)
    known = np.isfinite(week).any(axis=1)
    found = np.full(len(best), np.nan)
    found[known] = np.nanmax(week[known], axis=1)
    return found


def _beside_neighbours(rows: Rows, lit: dict[str, _Lit]) -> Iterator[Trace]:
    """Each controller beside the others, by day: clouds pass over all of them."""
    found: dict[str, Trace] = {}
    for tag, own in lit.items():
        others = [one for other, one in lit.items() if other != tag]
        both = own.can & np.logical_and.reduce([one.can for one in others])

        def by_day(values: Floats, both: NDArray[np.bool_] = both) -> Floats:
            return np.bincount(rows.at_day[both], values[both], rows.count).astype(np.float64).astype(np.float64)

        got, could = by_day(own.watts), by_day(own.clear)
        theirs = by_day(np.sum([one.watts for one in others], axis=0))
        could_they = by_day(np.sum([one.clear for one in others], axis=0))
        with np.errstate(all="ignore"):
            ratio = np.where(theirs > 0.05 * could_they, got / theirs * could_they / could, np.nan)
        if np.isfinite(ratio).any():
            found[tag] = traced(
                rows.days,
                f"sun {tag} beside",
                f"{tag}: sun beside the other controllers'",
                "%",
                ratio * 100,
                None,
                about=(tag,),
                hint="half sun",
                least=0.03,
                means=lambda before, after: (
                    "shade, dirt or a dead section that the others have not"
                    if after < before
                    else "it was cleaned, or the others fell"
                ),
            )
    yield from falls_only(found)


def by_hour(rows: Rows) -> Iterator[HourRow]:
    """Sun by hour of the day, all controllers together."""
    found = _powers(rows)
    if not found:
        return
    there = np.isfinite(np.sum(list(found.values()), axis=0))
    watts = np.sum(list(found.values()), axis=0)[there]
    clear = np.sum([_clear_w(rows, tag) for tag in found], axis=0)[there]
    hour = rows.solar_h.astype(int)[there]
    count = np.maximum(1, np.bincount(hour, minlength=24))
    got, could = np.bincount(hour, watts, 24) / count, np.bincount(hour, clear, 24) / count
    for at in range(24):
        ratio = got[at] / could[at] if could[at] > 1 else math.nan
        yield HourRow(at, float(got[at]), float(could[at]), float(ratio))
