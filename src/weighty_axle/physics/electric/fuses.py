"""How long a fuse takes, and what a conductor stands meanwhile."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence

LONGEST_ADIABATIC_S = 5.0
"""Up to this long a short heats a conductor faster than it cools. Source: IEC 60364-4-43 clause 434.5.2, recalled."""


def opens_s(points: Sequence[tuple[float, float]], *, rated_a: float, current_a: float) -> float:
    """Time along a curve: straight between its points on logarithmic scales, beyond the last one by I2t.

    Parameters: points - (times the rating, seconds), rising in the first; rated_a [A]; current_a [A]
    Returns: time [s], infinite under the first point
    Raises: ValueError without points
    Source: textbook relation (constant I2t of a fuse that melts faster than it cools)
    """
    if not points:
        raise ValueError("a curve needs points")
    times = current_a / rated_a
    if times < points[0][0]:
        return math.inf
    for (low, slow), (high, fast) in itertools.pairwise(points):
        if times <= high:
            share = math.log(times / low) / math.log(high / low)
            return math.exp(math.log(slow) + share * math.log(fast / slow))
    last, seconds = points[-1]
    return seconds * (last / times) ** 2


def withstand_k(initial_c: float, final_c: float) -> float:
    """What copper stands in a short, per area: k = 226 sqrt(ln(1 + (Tf - Ti) / (234.5 + Ti))).

    Parameters: initial_c [degC]; final_c [degC] - what the insulation stands for a moment
    Returns: k, amperes times the root of a second for a square millimetre [any]
    Raises: ValueError when the final temperature is not above the initial one
    Source: IEC 60364-5-54 annex A (recalled); IEC 60949
    """
    if final_c <= initial_c:
        raise ValueError(f"{final_c:g} degC is not above {initial_c:g} degC")
    return 226 * math.sqrt(math.log(1 + (final_c - initial_c) / (234.5 + initial_c)))
