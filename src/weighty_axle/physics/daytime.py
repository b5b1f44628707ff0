"""Powers that change in steps over the day, kept exactly: no sampling, so that no short start is missed."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
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


def summed(channels: int, stretches: Iterable[tuple[int, int, int, float]]) -> Steps:
    """Sum of stretches (channel, start, end, value) of constant value over one day.

    Parameters: channels [1] - how many quantities; stretches - channel [1], start [min], end [min], value [any]
    Returns: Steps with a time wherever anything changes
    Raises: ValueError for a stretch outside the day or of no length
    """
    jumps: dict[int, list[float]] = {0: [0.0] * channels, DAY_MIN: [0.0] * channels}
    for channel, start, end, value in stretches:
        if not 0 <= start < end <= DAY_MIN:
            raise ValueError(f"stretch {start}-{end} min is not inside the day")
        for time, jump in ((start, value), (end, -value)):
            jumps.setdefault(time, [0.0] * channels)[channel] += jump
    times = sorted(jumps)
    running = [0.0] * channels
    rows: list[tuple[float, ...]] = []
    for time in times[:-1]:
        running = [level + jump for level, jump in zip(running, jumps[time], strict=True)]
        # Sums of many jumps leave rounding dust where the true value is zero.
        rows.append(tuple(level if abs(level) > 1e-9 else 0.0 for level in running))
    return Steps(tuple(times), tuple(zip(*rows, strict=True)))


def integral_h(steps: Steps, values: Sequence[float]) -> float:
    """Integral over the day of a quantity given per step: sum of value x hours.

    Parameters: steps - the times; values - one per step [any]
    Returns: integral [any x h]
    """
    return sum(value * hours for value, hours in zip(values, steps.hours(), strict=True))
