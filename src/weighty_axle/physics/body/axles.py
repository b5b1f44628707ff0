"""Axle loads by statics: two groups of axles (or a coupling and a group) carry the vehicle like a beam."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple


class Support(NamedTuple):
    """One axle or coupling: along [m], share of its group's load [1], front or rear group."""

    x_m: float
    share: float
    front: bool


def loads_kg(supports: Sequence[Support], weights: Sequence[tuple[float, float]]) -> tuple[float, ...]:
    """Load on every support from weights (mass [kg], along [m]), negative where a weight lifts it.

    Each group acts at the mean of its places weighted by share; moments about the rear group give the front load.
    Parameters: supports - front and rear groups; weights - mass [kg] and place along [m]
    Returns: one load per support [kg], adding up to the weights
    Raises: ValueError when a group is empty, its shares do not add up to 1, or the groups stand at one place
    Source: textbook relation (statics of a beam on two supports)
    """
    front_m, rear_m = _acting_at(supports, front=True), _acting_at(supports, front=False)
    base_m = rear_m - front_m
    if base_m <= 0:
        raise ValueError(f"wheel base {base_m:g} m is not positive")
    total_kg = sum(mass for mass, _ in weights)
    front_kg = sum(mass * (rear_m - x_m) for mass, x_m in weights) / base_m
    rear_kg = total_kg - front_kg
    return tuple((front_kg if one.front else rear_kg) * one.share for one in supports)


def _acting_at(supports: Sequence[Support], *, front: bool) -> float:
    group = [one for one in supports if one.front == front]
    if not group or abs(sum(one.share for one in group) - 1) > 1e-6:
        raise ValueError("each group needs supports whose shares add up to 1")
    return sum(one.share * one.x_m for one in group)


def side_difference_kg(weights: Sequence[tuple[float, float]], *, track_m: float) -> float:
    """Right wheels minus left wheels, whole vehicle, from weights (mass [kg], across [m], right positive): 2 sum(m y) /
    track.

    How the difference splits between axles is not decided by statics and is not said.
    Parameters: weights - mass [kg] and place across [m]; track_m [m]
    Returns: difference [kg]
    Raises: ValueError when the track is not positive
    Source: textbook relation (moments about the centre line)
    """
    if track_m <= 0:
        raise ValueError(f"track {track_m:g} m is not positive")
    return 2 * sum(mass * y_m for mass, y_m in weights) / track_m
