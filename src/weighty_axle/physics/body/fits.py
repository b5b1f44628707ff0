"""What goes through an opening: a rectangle, upright, lying or tilted."""

from __future__ import annotations

import math


def fits_through(*, sides_m: tuple[float, float, float], opening_m: tuple[float, float]) -> bool:
    """Whether a box can be pushed straight through a rectangular opening, with any of its faces first and tilted as it
    suits.

    Parameters: sides_m (of the box [m]); opening_m (width and height [m]).
    Returns: True where its smallest face goes through, in any tilt.
    Source: J. Wetzel, Rectangles in rectangles, Mathematics Magazine 2000, after L. Carver 1957, recalled.
    """
    small, middle, _ = sorted(sides_m)
    return _rectangle_in(middle, small, *sorted(opening_m, reverse=True))


def _rectangle_in(long: float, short: float, wide: float, high: float) -> bool:
    """A rectangle within another, `long` and `wide` being the longer sides."""
    if long <= wide and short <= high:
        return True
    if long <= wide or short > high:
        return False
    # Tilted: the smallest height that takes it at this width.
    square = long * long + short * short
    under = square - wide * wide
    return under >= 0 and high >= (2 * long * short * wide + (long * long - short * short) * math.sqrt(under)) / square
