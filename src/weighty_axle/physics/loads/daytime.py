"""Powers that change in steps over the day, kept exactly: no sampling, so that no short start is missed."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from itertools import accumulate
from typing import NamedTuple

DAY_MIN = 1440


class Steps(NamedTuple):
    """Several quantities over one day, constant between times.

    times_min: n + 1 rising times from 0 to 1440 [min]; values: per channel n values.
    """

    times_min: tuple[int, ...]
    values: tuple[tuple[float, ...], ...]

    def hours(self) -> tuple[float, ...]:
        """Length of each step [h]."""
        return tuple((end - start) / 60 for start, end in zip(self.times_min, self.times_min[1:], strict=False))

    def channels(self, first: int, last: int) -> Steps:
        """Some of the channels, `last` not included, over the same times."""
        return Steps(self.times_min, self.values[first:last])


def summed(channels: int, stretches: Iterable[tuple[int, int, int, float]]) -> Steps:
    """Sum of stretches (channel, start, end, value) of constant value over one day.

    Parameters: channels [1] - how many quantities; stretches - channel [1], start [min], end [min], value [any]
    Returns: Steps with a time wherever anything changes
    Raises: ValueError for a stretch outside the day or of no length
    """
    jumps: list[dict[int, float]] = [{} for _ in range(channels)]
    changes = {0, DAY_MIN}
    for channel, start, end, value in stretches:
        if not 0 <= start < end <= DAY_MIN:
            raise ValueError(f"stretch {start}-{end} min is not inside the day")
        own = jumps[channel]
        own[start] = own.get(start, 0.0) + value
        own[end] = own.get(end, 0.0) - value
    changes.update(*jumps)
    times = sorted(changes)
    starts = times[:-1]
    return Steps(tuple(times), tuple(_levels(starts, own) for own in jumps))


def _levels(starts: list[int], jumps: dict[int, float]) -> tuple[float, ...]:
    """Running sum of the jumps; sums of many jumps leave rounding dust where the true value is zero."""
    if not jumps:
        return (0.0,) * len(starts)
    return tuple(
        [
            level if level > 1e-9 or level < -1e-9 else 0.0
            for level in accumulate([jumps.get(time, 0.0) for time in starts])
        ]
    )


def integral_h(steps: Steps, values: Sequence[float]) -> float:
    """Integral over the day of a quantity given per step: sum of value x hours.

    Parameters: steps - the times; values - one per step [any]
    Returns: integral [any x h]
    """
    return sum(value * hours for value, hours in zip(values, steps.hours(), strict=True))


def means(times_min: Sequence[int], values: Sequence[float], count: int) -> list[float]:
    """Means over even parts of the day of a quantity that changes in steps.

    Parameters: times_min - the times [min]; values - one per step [any]; count - parts of the day [1]
    Returns: means [any]
    Source: sums
    """
    part = DAY_MIN / count
    found = [0.0] * count
    for start, end, value in zip(times_min, times_min[1:], values, strict=False):
        for at in range(int(start // part), min(count, math.ceil(end / part))):
            found[at] += value * max(0.0, min(end, (at + 1) * part) - max(start, at * part)) / part
    return found
