"""Loads that switch on and off by thermostat: drawn days, repeatable by the name of the draw."""

from __future__ import annotations

import functools
import random
from collections.abc import Iterator, Sequence
from typing import TYPE_CHECKING, NamedTuple

from weighty_axle.physics.daytime import DAY_MIN

if TYPE_CHECKING:
    import numpy as np

    Floats = np.ndarray[tuple[int, ...], np.dtype[np.float32]]

STEP_MIN = 5
STEPS_A_DAY = DAY_MIN // STEP_MIN
DRAWN_DAYS = 200


@functools.lru_cache(maxsize=4096)
def phases(draw: str, tag: str, units: int, days: int = DRAWN_DAYS) -> tuple[tuple[float, ...], ...]:
    """Where in its cycle each unit of a load stands at midnight of each drawn day: independent and even over the cycle.

    The same draw and tag give the same phases on every machine (Mersenne Twister, seeded with both names).

    Parameters: draw, tag - names; units [1]; days [1]
    Returns: per day, per unit, a phase in [0, 1)
    Raises: ValueError for a count under 1
    """
    if units < 1 or days < 1:
        raise ValueError(f"{units} units over {days} days cannot be drawn")
    dice = random.Random(f"{draw}/{tag}")
    return tuple(tuple(dice.random() for _ in range(units)) for _ in range(days))


def is_on(minute: float, *, phase: float, duty: float, cycle_min: float) -> bool:
    """Whether a cycling unit is on at a minute: the first `duty` of every cycle is on.

    Parameters: minute [min], phase [1], duty [1], cycle_min [min]
    Returns: on or off
    Source: textbook relation (periodic switching with duty d)
    """
    return (minute / cycle_min + phase) % 1.0 < duty


def on_stretches(start_min: int, end_min: int, *, phase: float, duty: float, cycle_min: float) -> Iterator[tuple[float, float]]:
    """Stretches inside start..end in which a cycling unit is on, in order.

    Parameters: start_min [min], end_min [min], phase [1], duty [1], cycle_min [min]
    Returns: pairs of start and end [min]
    Source: as `is_on`
    """
    if duty >= 1:
        yield start_min, end_min
        return
    begin = (-((start_min / cycle_min + phase) % 1.0)) * cycle_min + start_min
    while begin < end_min:
        on_from, on_to = max(begin, start_min), min(begin + duty * cycle_min, end_min)
        if on_to > on_from:
            yield on_from, on_to
        begin += cycle_min


Stretch = tuple[int, int, float]
"""First step, step after the last, and level or power between them."""


class Switching(NamedTuple):
    """One cycling load as the drawn days need it: power of one unit [W], and when it may run at what level."""

    tag: str
    unit_w: float
    units: int
    duty: float
    cycle_min: float
    stretches: tuple[Stretch, ...]


@functools.lru_cache(maxsize=1024)
def _states(draw: str, tag: str, units: int, duty: float, cycle_min: float) -> Floats:
    """How many units are on at the start of every step of every drawn day: shape (288, days)."""
    import numpy as np

    phase = np.array(phases(draw, tag, units), dtype=np.float64).T
    at = np.arange(STEPS_A_DAY) * (STEP_MIN / cycle_min)
    on = (at[None, :, None] + phase[:, None, :]) % 1.0 < duty
    counted: Floats = on.sum(axis=0).astype(np.float32)
    return counted


def drawn_powers(draw: str, steady: Sequence[Stretch], loads: Sequence[Switching]) -> Floats:
    """Power at 5-minute instants of 200 drawn days: the steady stretches plus every cycling load by its own on and off times.

    Parameters: draw - name; steady - stretches with their power [W]; loads - cycling loads
    Returns: powers [W], shape (288, days)
    Source: Monte-Carlo draw; at one instant the count of units that are on is binomial
    """
    import numpy as np

    powers = np.zeros((STEPS_A_DAY, DRAWN_DAYS), dtype=np.float32)
    for first, last, watts in steady:
        powers[first:last] += np.float32(watts)
    for one in loads:
        on = _states(draw, one.tag, one.units, one.duty, one.cycle_min)
        for first, last, level in one.stretches:
            powers[first:last] += on[first:last] * np.float32(one.unit_w * level)
    return powers


class DrawnDays(NamedTuple):
    """What the drawn days show: per step mean [W] and the power that 95 of 100 days stay under [W]; each day's highest [W], rising."""

    mean_w: tuple[float, ...]
    p95_w: tuple[float, ...]
    highest_w: tuple[float, ...]

    @property
    def p95_highest_w(self) -> float:
        """The power that the highest of a day stays under on 95 of 100 drawn days [W] (nearest rank)."""
        return self.highest_w[rank95(len(self.highest_w))]


def rank95(count: int) -> int:
    """Index of the 95th percentile in `count` rising values, by nearest rank: the smallest that 95 % do not exceed.

    Parameters: count [1]
    Returns: index
    Source: nearest-rank definition of a percentile (textbook)
    """
    return -(-95 * count // 100) - 1


def drawn_days(powers_w: Floats) -> DrawnDays:
    """Mean, 95th percentile and daily highest of drawn powers.

    Parameters: powers_w [W] - shape (288, days)
    Returns: DrawnDays
    Source: nearest-rank percentile over the drawn days
    """
    import numpy as np

    index = rank95(powers_w.shape[1])
    ranked = np.partition(powers_w, index, axis=1)[:, index]
    return DrawnDays(tuple(powers_w.mean(axis=1).tolist()), tuple(ranked.tolist()), tuple(np.sort(powers_w.max(axis=0)).tolist()))
