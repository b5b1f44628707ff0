"""How long a unit stands more than its continuous rating, from points of its datasheet."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence


def seconds_to_trip(times_rating: float, points: Sequence[tuple[float, float]]) -> float:
    """Time until a unit switches off at a steady overload: a straight line in log(x2 - 1) against log t through the
    points.

    Heat above what the rating sheds goes with x2 - 1 (x: times the rating), so one point alone gives (x2 - 1) t =
    constant. Below the first point that slope goes on; above the last there is no promise: it switches off at once.

    Parameters: times_rating [1]; points - times the rating [1] and seconds [s], rising in load
    Returns: seconds [s]; infinite up to the rating, 0 above the last point
    Raises: ValueError without points, or when points do not rise in load and fall in time
    Source: textbook relation (adiabatic inverse-time overload); points from the datasheet
    """
    if not points or points[0][0] <= 1 or any(b[0] <= a[0] or b[1] > a[1] for a, b in itertools.pairwise(points)):
        raise ValueError(f"overload points {list(points)} must rise in load from above 1 and fall in time")
    if times_rating <= 1:
        return math.inf
    if times_rating > points[-1][0] * (1 + 1e-9):
        return 0.0
    excess = times_rating**2 - 1
    first_excess, first_s = points[0][0] ** 2 - 1, points[0][1]
    if excess <= first_excess:
        return first_s * first_excess / excess
    (low, low_s), (high, high_s) = next(
        pair for pair in itertools.pairwise(points) if times_rating <= pair[1][0] * (1 + 1e-9)
    )
    low_x, high_x = math.log(low**2 - 1), math.log(high**2 - 1)
    share = min(1.0, (math.log(excess) - low_x) / (high_x - low_x))
    return math.exp(math.log(low_s) + share * (math.log(high_s) - math.log(low_s)))
