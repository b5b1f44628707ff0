"""Choosing protection."""

from __future__ import annotations

from collections.abc import Sequence


def next_rating_a(current_a: float, ratings_a: Sequence[float]) -> float:
    """Smallest standard rating that is not below a current.

    Parameters: current_a [A], ratings_a [A] - rising
    Returns: rating [A]
    Raises: ValueError beyond the largest rating
    """
    for rating in ratings_a:
        if rating >= current_a - 1e-9:
            return rating
    raise ValueError(f"{current_a:.0f} A is above the largest standard rating of {ratings_a[-1]:.0f} A")
