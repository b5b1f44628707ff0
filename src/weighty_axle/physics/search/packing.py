"""Rectangles packed on a level area: how many fit clear of blocked boxes, several ways, and what no way can be
above.
"""

from __future__ import annotations

import itertools
import math
import time
from collections.abc import Callable, Iterator, Sequence
from typing import NamedTuple

import numpy as np

Rectangle = tuple[float, float, float, float]
"""On the roof: rear-most and front-most along, left and right across [m]: x0, x1, y0, y1."""
_SLACK_M = 1e-6


class RectangleKind(NamedTuple):
    """A rectangle that may be placed: its two sides [m], its worth (watts), and which ways it may lie (turned: long
    side across).
    """

    name: str
    length_m: float
    width_m: float
    worth: float
    ways: tuple[bool, ...] = (False, True)


class Placed(NamedTuple):
    """One rectangle in its place: kind by index, lower corner [m], and whether its long side lies across."""

    kind: int
    x_m: float
    y_m: float
    turned: bool


class Area(NamedTuple):
    """The area: its box, what is blocked in it, and the gap kept between rectangles [m].

    Blocked boxes are whole: nothing may touch them.
    """

    box: Rectangle
    blocked: tuple[Rectangle, ...]
    gap_m: float


class Packing(NamedTuple):
    """Rectangles placed, their worth together, and how they were found."""

    placed: tuple[Placed, ...]
    worth: float
    how: str


def sides(kind: RectangleKind, turned: bool) -> tuple[float, float]:
    """Extent along and across of a rectangle.

    Parameters: kind; turned - long side across
    Returns: along [m], across [m]
    Source: textbook geometry
    """
    return (kind.width_m, kind.length_m) if turned else (kind.length_m, kind.width_m)


def boxes(packing: Sequence[Placed], kinds: Sequence[RectangleKind]) -> list[Rectangle]:
    """Boxes of what is placed.

    Parameters: packing; kinds
    Returns: boxes [m]
    Source: textbook geometry
    """
    made = []
    for one in packing:
        along, across = sides(kinds[one.kind], one.turned)
        made.append((one.x_m, one.x_m + along, one.y_m, one.y_m + across))
    return made


def _meets(one: Rectangle, other: Rectangle) -> bool:
    return (
        one[0] < other[1] - _SLACK_M
        and other[0] < one[1] - _SLACK_M
        and one[2] < other[3] - _SLACK_M
        and other[2] < one[3] - _SLACK_M
    )


def _free(low: float, high: float, blocked: Iterator[tuple[float, float]]) -> list[tuple[float, float]]:
    """Free stretches between blocked ones."""
    found, at = [], low
    for start, end in sorted(blocked):
        if start > at + _SLACK_M:
            found.append((at, min(start, high)))
        at = max(at, end)
        if at >= high:
            break
    if at < high - _SLACK_M:
        found.append((at, high))
    return [(start, end) for start, end in found if end > start]


def _fits(length: float, side: float, gap: float) -> int:
    """How many sides with gaps between fit on a length."""
    return math.floor((length + gap + _SLACK_M) / (side + gap))


# ---- strips ----------------------------------------------------------------------------------------------------


def in_strips(area: Area, kinds: Sequence[RectangleKind], *, along: bool, step_m: float = 0.01) -> Packing:
    """The best packing of straight strips: columns one after another along the area, or rows across it, every strip
    full of one kind lying one way.

    Exact over strips that start on a grid of `step_m`, by dynamic programming. Rows hold what a plain filling row by
    row does.

    Parameters: area; kinds; along - strips follow one another along the area (columns), else across it (rows); step_m
    Returns: Packing
    Source: textbook relation (dynamic programming over guillotine strips)
    """
    x0, x1, y0, y1 = area.box if along else (area.box[2], area.box[3], area.box[0], area.box[1])
    blocked = area.blocked if along else tuple((one[2], one[3], one[0], one[1]) for one in area.blocked)
    count = math.floor((x1 - x0) / step_m + _SLACK_M)
    strips = []
    for index, kind in enumerate(kinds):
        for turned in kind.ways:
            wide, high = sides(kind, turned) if along else sides(kind, turned)[::-1]
            strips.append((index, turned, wide, high, math.ceil((wide + area.gap_m) / step_m - _SLACK_M)))
    best = [0.0] * (count + 2)
    chosen: list[tuple[int, bool, int] | None] = [None] * (count + 2)
    for at in range(count - 1, -1, -1):
        best[at], chosen[at] = best[at + 1], None
        left = x0 + at * step_m
        for index, turned, wide, high, steps in strips:
            if left + wide > x1 + _SLACK_M:
                continue
            stretches = _free(
                y0,
                y1,
                (
                    (b[2] - area.gap_m, b[3] + area.gap_m)
                    for b in blocked
                    if b[0] < left + wide - _SLACK_M and left < b[1] - _SLACK_M
                ),
            )
            worth = sum(_fits(end - start, high, area.gap_m) for start, end in stretches) * kinds[index].worth
            after = best[min(at + steps, count + 1)] if at + steps <= count else 0.0
            if worth and worth + after > best[at] + 1e-9:
                best[at], chosen[at] = worth + after, (index, turned, steps)
    placed, at = [], 0
    while at < count:
        pick = chosen[at]
        if pick is None:
            at += 1
            continue
        index, turned, steps = pick
        wide, high = sides(kinds[index], turned) if along else sides(kinds[index], turned)[::-1]
        left = x0 + at * step_m
        for start, end in _free(
            y0,
            y1,
            (
                (b[2] - area.gap_m, b[3] + area.gap_m)
                for b in blocked
                if b[0] < left + wide - _SLACK_M and left < b[1] - _SLACK_M
            ),
        ):
            for number in range(_fits(end - start, high, area.gap_m)):
                other = start + number * (high + area.gap_m)
                placed.append(Placed(index, left, other, turned) if along else Placed(index, other, left, turned))
        at += steps
    return Packing(tuple(placed), sum(kinds[one.kind].worth for one in placed), "columns" if along else "rows")


# ---- what no way can be above ----------------------------------------------------------------------------------


def bound(area: Area, kinds: Sequence[RectangleKind]) -> float:
    """Worth no packing can be above: on every line across (and along) the area only so many rectangles can be crossed
    at once.

    A rectangle of extent a is crossed by lines over a length a, so worth = integral of the sum of worth / a over what a
    line crosses; the integrand is at most the best the free stretches of that line hold. The smaller of both
    directions, and of both together cut down to what counts allow.

    Parameters: area; kinds
    Returns: worth
    Source: textbook relation (bar relaxation of two-dimensional packing)
    """
    return min(_bar_bound(area, kinds, along=True), _bar_bound(area, kinds, along=False))


def _bar_bound(area: Area, kinds: Sequence[RectangleKind], *, along: bool) -> float:
    x0, x1, y0, y1 = area.box if along else (area.box[2], area.box[3], area.box[0], area.box[1])
    blocked = area.blocked if along else tuple((one[2], one[3], one[0], one[1]) for one in area.blocked)
    # Bars across: (height on the line, worth per metre of the line's travel). A gap may be counted as part of each
    # rectangle once the area grows by one.
    bars = []
    for kind in kinds:
        for turned in kind.ways:
            wide, high = sides(kind, turned) if along else sides(kind, turned)[::-1]
            bars.append((high + area.gap_m, kind.worth / (wide + area.gap_m)))
    edges = sorted(
        {x0, x1 + area.gap_m, *(min(max(b[0], x0), x1) for b in blocked), *(min(max(b[1], x0), x1) for b in blocked)}
    )
    total, known = 0.0, dict[float, float]()
    for left, right in itertools.pairwise(edges):
        middle = (left + right) / 2
        value = 0.0
        for start, end in _free(
            y0, y1, ((b[2] - area.gap_m, b[3] + area.gap_m) for b in blocked if b[0] < middle < b[1])
        ):
            length = round(end - start + area.gap_m, 6)
            if length not in known:
                known[length] = _best_bars(length, bars)
            value += known[length]
        total += value * (right - left)
    return total


def _best_bars(length: float, bars: list[tuple[float, float]]) -> float:
    """Most worth of bars that fit on a length, by trying all counts."""
    if not bars:
        return 0.0
    (high, worth), rest = bars[0], bars[1:]
    return max(
        number * worth + _best_bars(length - number * high, rest)
        for number in range(math.floor((length + _SLACK_M) / high) + 1)
    )


# ---- the integer programme -------------------------------------------------------------------------------------


class Solved(NamedTuple):
    """Best packing found and what no packing can be above."""

    packing: Packing
    bound: float


def packed(
    area: Area,
    kinds: Sequence[RectangleKind],
    *,
    seconds: float = 2.5,
    progress: Callable[[float], None] = lambda _share: None,
) -> Solved:
    """Best packing: columns and rows first, then an integer programme over places that are pushed to the front and one
    side.

    Places: coordinates reached from an edge or a blocked box by sides laid end to end (normal patterns). Where there
    are few enough, all of them are given to the programme, and what it proves is a bound; where there are many, those
    closer than a step are merged and only the bar relaxation bounds. Programme: choose places; no point of the area in
    two of them (a constraint for every cell of the places' own grid), by HiGHS through SciPy.

    Parameters: area; kinds; seconds - for the programme [s]; progress - told the share done
    Returns: Solved
    Source: normal patterns (Christofides and Whitlock 1977), set packing; bound of the bar relaxation
    """
    until = time.monotonic() + seconds
    best = max((in_strips(area, kinds, along=True), in_strips(area, kinds, along=False)), key=lambda one: one.worth)
    progress(0.3)
    limit = bound(area, kinds)
    least = min(kind.worth for kind in kinds)
    if limit - best.worth >= least - 1e-6:
        places = _patterns(area, kinds, _ROUND_M)
        whole = len(places) <= _MOST_PLACES
        if not whole:
            places = _fewer(area, kinds)
        progress(0.5)
        better, proven = _programme([*best.placed, *places], kinds, area.gap_m, max(0.3, until - time.monotonic()))
        if better is not None and better.worth > best.worth + 1e-6:
            best = better
        if whole:
            limit = min(limit, max(proven, best.worth))
    progress(1.0)
    return Solved(best, limit)


_ROUND_M = 1e-4
_MOST_PLACES = 1200


def _fewer(area: Area, kinds: Sequence[RectangleKind]) -> list[Placed]:
    """Normal patterns on a step wide enough for there to be few."""
    step = 0.02
    found = _patterns(area, kinds, step)
    while len(found) > _MOST_PLACES and step < 0.5:
        step *= 1.4
        found = _patterns(area, kinds, step)
    return found


def _programme(
    places: list[Placed], kinds: Sequence[RectangleKind], gap_m: float, seconds: float
) -> tuple[Packing | None, float]:
    """Best choice of places, and what the programme proves no choice can be above."""
    from scipy.optimize import Bounds, LinearConstraint, milp
    from scipy.sparse import csr_array

    if not places:
        return None, 0.0
    outlines = np.array(boxes(places, kinds))
    outlines[:, 1] += gap_m
    outlines[:, 3] += gap_m
    xs, ys = np.unique(np.round(outlines[:, 0], 6)), np.unique(np.round(outlines[:, 2], 6))
    # Two boxes overlap just when some cell of the grid of all lower corners lies in both.
    first, last = (np.searchsorted(xs, outlines[:, at] - 1e-6) for at in (0, 1))
    low, high = (np.searchsorted(ys, outlines[:, at] - 1e-6) for at in (2, 3))
    rows, columns = [], []
    for index in range(len(places)):
        cells = (
            np.arange(first[index], last[index])[:, None] * len(ys) + np.arange(low[index], high[index])[None, :]
        ).ravel()
        rows.append(cells)
        columns.append(np.full(len(cells), index))
    cell, inverse = np.unique(np.concatenate(rows), return_inverse=True)
    matrix = csr_array((np.ones(len(inverse)), (inverse, np.concatenate(columns))), shape=(len(cell), len(places)))
    worth = np.array([kinds[place.kind].worth for place in places])
    answer = milp(
        -worth,
        integrality=np.ones(len(places), dtype=np.int64),
        bounds=Bounds(0, 1),
        constraints=[LinearConstraint(matrix[_largest_rows(matrix)], -np.inf, 1)],
        options={"time_limit": seconds, "mip_rel_gap": 1e-6},
    )
    proven = -float(answer.mip_dual_bound) if answer.mip_dual_bound is not None else float("inf")
    if answer.x is None:
        return None, proven
    chosen = tuple(one for one, value in zip(places, answer.x, strict=True) if value > 0.5)
    return Packing(chosen, float(worth[answer.x > 0.5].sum()), "integer programme"), proven


def _largest_rows(matrix: object) -> list[int]:
    """Rows that are not part of another row: cells covered by the same places, or fewer, say nothing more."""
    sets: dict[frozenset[int], int] = {}
    indptr, indices = matrix.indptr, matrix.indices  # type: ignore[attr-defined]  # a compressed sparse matrix
    for row in range(len(indptr) - 1):
        sets.setdefault(frozenset(indices[indptr[row] : indptr[row + 1]].tolist()), row)
    return sorted(sets.values())


def _patterns(area: Area, kinds: Sequence[RectangleKind], step: float) -> list[Placed]:
    x0, x1, y0, y1 = area.box
    lengths = sorted({side + area.gap_m for kind in kinds for side in (kind.length_m, kind.width_m)})
    xs = _reached([x0, *(b[1] + area.gap_m for b in area.blocked)], lengths, x1, step)
    ys = _reached([y0, *(b[3] + area.gap_m for b in area.blocked)], lengths, y1, step)
    found = []
    for index, kind in enumerate(kinds):
        for turned in kind.ways:
            along, across = sides(kind, turned)
            for x in xs:
                if x + along > x1 + _SLACK_M:
                    continue
                near = [
                    b
                    for b in area.blocked
                    if b[0] - area.gap_m < x + along - _SLACK_M and x < b[1] + area.gap_m - _SLACK_M
                ]
                for y in ys:
                    if y + across > y1 + _SLACK_M:
                        continue
                    if not any(
                        _meets(
                            (x, x + along, y, y + across),
                            (b[0] - area.gap_m, b[1] + area.gap_m, b[2] - area.gap_m, b[3] + area.gap_m),
                        )
                        for b in near
                    ):
                        found.append(Placed(index, x, y, turned))
    return found


def _reached(starts: Sequence[float], lengths: Sequence[float], end: float, step: float) -> list[float]:
    """Coordinates reached from the starts by laying lengths end to end; of those closer than a step the first is
    kept.
    """
    found = {round(one, 4) for one in starts if one < end}
    waiting = list(found)
    while waiting:
        at = waiting.pop()
        for length in lengths:
            after = round(at + length, 4)
            if after < end and after not in found:
                found.add(after)
                waiting.append(after)
    kept: list[float] = []
    for one in sorted(found):
        if not kept or one - kept[-1] >= step - 1e-9:
            kept.append(one)
    return kept
