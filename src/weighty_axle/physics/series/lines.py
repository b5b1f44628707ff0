"""Straight lines through many points, and how sure they are."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


class Line(NamedTuple):
    """A line y = offset + slope·x with the standard error of its slope, and how many points it goes through."""

    slope: float
    offset: float
    slope_error: float
    points: int


def line_through(x: Floats, y: Floats) -> Line | None:
    """Least-squares line; None for fewer than three points, or x that are all the same.

    Parameters: x [any], y [any] of the same length
    Returns: Line, or None
    Source: ordinary least squares (textbook).
    """
    n = len(x)
    if n < 3:
        return None
    middle_x, middle_y = float(x.mean()), float(y.mean())
    across = x - middle_x
    spread = float(across @ across)
    if spread <= 1e-12 * max(1.0, float(x @ x)):
        return None
    slope = float(across @ (y - middle_y)) / spread
    offset = middle_y - slope * middle_x
    left = y - offset - slope * x
    return Line(slope, offset, float(np.sqrt(max(0.0, float(left @ left)) / (n - 2) / spread)), n)


def lines_by_group(x: Floats, y: Floats, group: NDArray[np.int64], groups: int) -> tuple[Floats, Floats, Floats]:
    """Lines of many groups of points at once: slope and its standard error by group (NaN where there is none), and how
    many points each has.

    Parameters: x [any], y [any], group [1] of each point from 0 on, groups [1] in all
    Returns: slopes, their standard errors, points by group
    Source: ordinary least squares, sums by group
    """
    n = np.bincount(group, minlength=groups).astype(float)
    with np.errstate(all="ignore"):
        middle_x = np.bincount(group, x, groups) / n
        middle_y = np.bincount(group, y, groups) / n
        across, up = x - middle_x[group], y - middle_y[group]
        spread = np.bincount(group, across * across, groups)
        slope = np.bincount(group, across * up, groups) / spread
        left = up - slope[group] * across
        error = np.sqrt(np.bincount(group, left * left, groups) / (n - 2) / spread)
    none = (n < 3) | (spread <= 1e-9)
    slope[none] = np.nan
    error[none] = np.nan
    return slope, error, n
