"""Loads that switch on and off by thermostat: drawn days, repeatable by the name of the draw."""

from __future__ import annotations

import functools
import random
import threading
from collections.abc import Callable, Iterator, Sequence
from typing import TYPE_CHECKING, Any, NamedTuple

from weighty_axle.physics.loads.daytime import DAY_MIN

if TYPE_CHECKING:
    import numpy as np

    Floats = np.ndarray[tuple[int, ...], np.dtype[np.float32]]

STEP_MIN = 5
STEPS_A_DAY = DAY_MIN // STEP_MIN
DRAWN_DAYS = 200


def phases(draw: str, tag: str, units: int, days: int = DRAWN_DAYS) -> tuple[tuple[float, ...], ...]:
    """Where in its cycle each unit of a load stands at midnight of each drawn day: independent and even over the cycle.

    The same draw and tag give the same phases on every machine (Mersenne Twister, seeded with both names).

    Parameters: draw, tag - names; units [1]; days [1]
    Returns: per day, per unit, a phase in [0, 1)
    Raises: ValueError for a count under 1
    Source: Mersenne Twister, seeded with both names; every phase as likely as any other
    """
    if units < 1 or days < 1:
        raise ValueError(f"{units} units over {days} days cannot be drawn")
    dice = random.Random(f"{draw}/{tag}")
    return tuple(tuple(dice.random() for _ in range(units)) for _ in range(days))


@functools.lru_cache(maxsize=4096)
def first_phase(draw: str, tag: str) -> float:
    """Where a load's first unit stands at midnight of the first drawn day: what a ribbon draws."""
    return phases(draw, tag, 1, 1)[0][0]


class _Kept:
    """The last arrays made, as many as fit into so many bytes: 500 units on 200 days are not kept like one."""

    def __init__(self, most_bytes: int) -> None:
        self._most, self._bytes = most_bytes, 0
        self._arrays: dict[Any, Any] = {}
        self._lock = threading.Lock()  # asked from several threads

    def get(self, key: Any, make: Callable[[], Any]) -> Any:
        """The array of a key, made when it is not kept."""
        with self._lock:
            found = self._arrays.pop(key, None)
            if found is None:
                found = make()
                self._bytes += found.nbytes
            self._arrays[key] = found
            while self._bytes > self._most and len(self._arrays) > 1:
                self._bytes -= self._arrays.pop(next(iter(self._arrays))).nbytes
        return found


_phases_kept, _states_kept = _Kept(64 * 2**20), _Kept(64 * 2**20)


def _phase_array(draw: str, tag: str, units: int) -> Any:
    """Phases of every drawn day, rising: shape (days, units)."""
    import numpy as np

    return _phases_kept.get(
        (draw, tag, units), lambda: np.sort(np.array(phases(draw, tag, units), dtype=np.float64), axis=1)
    )


def is_on(minute: float, *, phase: float, duty: float, cycle_min: float) -> bool:
    """Whether a cycling unit is on at a minute: the first `duty` of every cycle is on.

    Parameters: minute [min], phase [1], duty [1], cycle_min [min]
    Returns: on or off
    Source: textbook relation (periodic switching with duty d)
    """
    return (minute / cycle_min + phase) % 1.0 < duty


def on_stretches(
    start_min: int, end_min: int, *, phase: float, duty: float, cycle_min: float
) -> Iterator[tuple[float, float]]:
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
"""First step or minute, the one after the last, and level or power between them."""


class Switching(NamedTuple):
    """One cycling load as the drawn days need it: power of one unit [W], and when it may run at what level."""

    tag: str
    unit_w: float
    units: int
    duty: float
    cycle_min: float
    stretches: tuple[Stretch, ...]


def _states(draw: str, one: Switching) -> Any:
    """How many units are on at the start of every step of every drawn day: shape (288, days)."""
    import numpy as np

    def made() -> Any:
        # Day by day: all units of all days at once would take hundreds of MB.
        at = np.arange(STEPS_A_DAY) * float(STEP_MIN)
        days = [_units_on(at, own, one) for own in _phase_array(draw, one.tag, one.units)]
        return np.array(days, dtype=np.uint16).T

    return _states_kept.get((draw, one.tag, one.units, one.duty, one.cycle_min), made)


def drawn_powers(draw: str, steady: Sequence[Stretch], loads: Sequence[Switching]) -> Floats:
    """Power at 5-minute instants of 200 drawn days: the steady stretches plus every cycling load by its own on and off
    times.

    Parameters: draw - name; steady - stretches with their power [W]; loads - cycling loads
    Returns: powers [W], shape (288, days)
    Source: Monte-Carlo draw; at one instant the count of units that are on is binomial
    """
    import numpy as np

    powers = np.zeros((STEPS_A_DAY, DRAWN_DAYS), dtype=np.float32)
    for first, last, watts in steady:
        powers[first:last] += np.float32(watts)
    for load in loads:
        on = _states(draw, load)
        for first, last, level in load.stretches:
            powers[first:last] += on[first:last] * np.float32(load.unit_w * level)
    return powers


MOST_LOOKS = 250_000
"""Times of a day by loads that are looked at; a day of more switchings is looked at in as many of them, evenly spread.
"""
_AFTER_MIN = 1e-6


def highest_powers(draw: str, steady: Sequence[Stretch], loads: Sequence[Switching]) -> Floats:
    """Highest power of each drawn day, at the exact times at which anything switches on.

    Power rises only where a unit or a painted stretch begins, so looking just after each of these misses nothing,
    however short it is on.

    Parameters: draw - name; steady - stretches [min] with their power [W]; loads - cycling loads, their stretches in
        minutes
    Returns: highest powers [W], shape (days,)
    Source: Monte-Carlo draw; exact switching times
    """
    import numpy as np

    begins = {0, *(start for start, _, _ in steady), *(start for load in loads for start, _, _ in load.stretches)}
    edges = np.array(sorted(begins), dtype=np.float64)
    found = np.zeros(DRAWN_DAYS, dtype=np.float32)
    painted = [
        _by_minute([(first, last, load.unit_w * level) for first, last, level in load.stretches]) for load in loads
    ]
    always = _by_minute(steady)
    most = max(len(edges), MOST_LOOKS // max(1, len(loads)))
    drawn = [_phase_array(draw, load.tag, load.units) for load in loads]
    for day in range(DRAWN_DAYS):
        times = [edges]
        for one, own, watts in zip(loads, drawn, painted, strict=True):
            switchings = (int(DAY_MIN / one.cycle_min) + 1) * one.units
            each = (
                np.arange(switchings) if switchings <= most else np.linspace(0, switchings - 1, most).astype(np.int64)
            )
            on_at = (each // one.units + 1 - own[day][each % one.units]) * one.cycle_min
            on_at = on_at[on_at < DAY_MIN]
            times.append(on_at[watts[on_at.astype(np.int64)] > 0])
        looks = np.concatenate(times)
        if len(looks) > most:
            looks = looks[np.linspace(0, len(looks) - 1, most).astype(np.int64)]
        looks = np.minimum(looks + _AFTER_MIN, DAY_MIN - _AFTER_MIN)
        minute = looks.astype(np.int64)
        power = always[minute]
        for one, own, watts in zip(loads, drawn, painted, strict=True):
            power = power + watts[minute] * _units_on(looks, own[day], one)
        found[day] = power.max()
    return found


def _by_minute(stretches: Sequence[Stretch]) -> Floats:
    """Power in every minute of the day."""
    import numpy as np

    power = np.zeros(DAY_MIN, dtype=np.float32)
    for first, last, watts in stretches:
        power[first:last] += np.float32(watts)
    return power


def _units_on(looks: Any, own: Any, one: Switching) -> Any:
    """How many units of a load are on at some times: those whose phase lies within one on-time behind it, round the
    cycle.
    """
    import numpy as np

    # On while (t / cycle + phase) mod 1 < duty: phases from 1 - f round to 1 - f + duty, f being t's place in the
    # cycle.
    first = (1 - (looks / one.cycle_min) % 1.0) % 1.0
    last = first + one.duty
    below = np.searchsorted(own, last, side="left") - np.searchsorted(own, first, side="left")
    return below + np.searchsorted(own, last - 1.0, side="left") * (last > 1.0)


class DrawnDays(NamedTuple):
    """What the drawn days show: per step mean [W] and the power that 95 of 100 days stay under at that instant [W]."""

    mean_w: tuple[float, ...]
    p95_w: tuple[float, ...]


def rank95(count: int) -> int:
    """Index of the 95th percentile in `count` rising values, by nearest rank: the smallest that 95 % do not exceed.

    Parameters: count [1]
    Returns: index
    Source: nearest-rank definition of a percentile (textbook)
    """
    return -(-95 * count // 100) - 1


def drawn_days(powers_w: Floats) -> DrawnDays:
    """Mean and 95th percentile of drawn powers.

    Parameters: powers_w [W] - shape (288, days)
    Returns: DrawnDays
    Source: nearest-rank percentile over the drawn days
    """
    import numpy as np

    index = rank95(powers_w.shape[1])
    ranked = np.partition(powers_w, index, axis=1)[:, index]
    return DrawnDays(tuple(powers_w.mean(axis=1).tolist()), tuple(ranked.tolist()))
