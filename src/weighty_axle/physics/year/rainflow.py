"""Cycles in a course of charge, counted by rainflow."""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Sequence
from typing import NamedTuple


class Cycle(NamedTuple):
    """A cycle: how far it goes, about which mean, and whether it is a whole one or a half [1]."""

    span: float
    mean: float
    times: float


def turns(course: Sequence[float]) -> list[float]:
    """First and last value of a course, and where it turns between them.

    Parameters: course [any]
    Returns: values [any]
    Source: ASTM E1049-85 (2017), clause 4, recalled
    """
    found: list[float] = []
    for value in course:
        if found and value == found[-1]:
            continue
        if len(found) > 1 and (found[-1] - found[-2]) * (value - found[-1]) > 0:
            found[-1] = value
        else:
            found.append(value)
    return found


def cycles(course: Sequence[float]) -> list[Cycle]:
    """Cycles of a course; what is left at its end counts in halves.

    Parameters: course [any]
    Returns: cycles in the order in which they close
    Source: ASTM E1049-85 (2017), clause 5.4.4, recalled
    """
    return list(_cycles(turns(course)))


def _cycles(reversals: list[float]) -> Iterator[Cycle]:
    points: list[float] = []
    for value in reversals:
        points.append(value)
        while len(points) >= 3:
            newest, before = abs(points[-1] - points[-2]), abs(points[-2] - points[-3])
            if newest < before:
                break
            if len(points) == 3:
                # The one before holds the start: half a cycle.
                yield _cycle(points[0], points[1], 0.5)
                points.pop(0)
            else:
                yield _cycle(points[-3], points[-2], 1.0)
                del points[-3:-1]
    for one, other in itertools.pairwise(points):
        yield _cycle(one, other, 0.5)


def _cycle(one: float, other: float, times: float) -> Cycle:
    return Cycle(abs(one - other), (one + other) / 2, times)
