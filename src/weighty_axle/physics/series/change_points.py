"""When a series changed: steps and slow growth, each with its day, the days it may be, and how sure it is.

Every day is weighed as the day of the change against none at all (information criterion of Schwarz as an approximation
of Bayes' rule, all days as likely beforehand, half for no change). Days that follow one another resemble one another:
the evidence counts as that of so many independent days.
"""

from __future__ import annotations

from typing import Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

LEAST_DAYS = 7
"""A change needs so many days on either side. Source: judgement."""
SURE = 0.95
"""From this probability on a change is told. Source: judgement."""
OUTLIER_TIMES = 6.0
"""Values farther from their neighbours' median than so many times the usual distance are drawn in. Source:
judgement.
"""


class Change(NamedTuple):
    """A change: the first value of the new state, the first and last it may be (nine in ten), how likely there is one,
    its kind, and the values before and after (of growth: at its end).
    """

    at: int
    first: int
    last: int
    probability: float
    kind: Literal["step", "growth"]
    before: float
    after: float


def changes(values: Floats, *, most: int = 4, sure: float = SURE, least_days: int = LEAST_DAYS) -> tuple[Change, ...]:
    """Changes of a series without gaps, in the order they came: the likeliest first, then those of the parts before and
    behind it.

    Parameters: values [any], most [1] changes at most, sure [1] the least probability, least_days [1] on either side
    Returns: changes, levels in the values' own unit
    Source: Bayes' rule with the approximation of Schwarz (1978, recalled); binary segmentation.
    """
    tame = drawn_in(values)
    found: list[Change] = []
    waiting = [(0, len(tame))]
    while waiting and len(found) < most:
        start, end = waiting.pop(0)
        one = likeliest(tame[start:end], least_days=least_days)
        if one is None or one.probability < sure:
            continue
        found.append(one._replace(at=one.at + start, first=one.first + start, last=one.last + start))
        waiting.append((start, start + one.at))
        if one.kind == "step":  # growth goes on to the end of its part
            waiting.append((start + one.at, end))
    found.sort()
    return tuple(_between(tame, one, found, at) for at, one in enumerate(found))


def _between(values: Floats, one: Change, found: list[Change], at: int) -> Change:
    """A step with its levels as they are between its neighbours, not over all that comes before and after."""
    if one.kind == "growth":
        return one
    before = found[at - 1].at if at else 0
    after = found[at + 1].at if at + 1 < len(found) else len(values)
    return one._replace(before=float(values[before : one.at].mean()), after=float(values[one.at : after].mean()))


def drawn_in(values: Floats) -> Floats:
    """The series with single wild values drawn in to their neighbours.

    Parameters: values [any]
    Returns: values of the same shape [any]
    Source: median of seven, distances in medians (Hampel's identifier, recalled).
    """
    if len(values) < LEAST_DAYS:
        return values
    around = np.lib.stride_tricks.sliding_window_view(np.pad(values, 3, mode="reflect"), 7)
    middle = np.median(around, axis=1)
    far = np.abs(values - middle)
    usual = 1.4826 * float(np.median(far)) + 1e-12
    tame: Floats = np.clip(values, middle - OUTLIER_TIMES * usual, middle + OUTLIER_TIMES * usual)
    return tame


def likeliest(values: Floats, *, least_days: int = LEAST_DAYS) -> Change | None:
    """The likeliest single change of a series; None where it is too short for one.

    Parameters: values [any], least_days [1] on either side
    Returns: the change, or None
    Source: as changes
    """
    n = len(values)
    if n < 2 * least_days:
        return None
    size = float(np.abs(values).max())
    if size == 0.0 or float(np.ptp(values)) <= 1e-9 * size:
        return None
    values = values / size
    cuts = np.arange(least_days, n - least_days + 1)
    none_sse = float(((values - values.mean()) ** 2).sum())
    step_sse, before, after = _steps(values, cuts)
    growth_sse, level, end = _growths(values, cuts)
    floor = n * 1e-16
    by_step = int(step_sse.argmin())
    best_residual = np.concatenate(
        [values[: cuts[by_step]] - before[by_step], values[cuts[by_step] :] - after[by_step]]
    )
    counted = max(4.0, n * _independent_share(best_residual))

    def evidence(sse: Floats, free: int) -> Floats:
        weighed: Floats = -counted / 2 * np.log((sse + floor) / n) - free / 2 * np.log(counted)
        return weighed

    nothing = float(evidence(np.array([none_sse]), 2)[0])
    both = np.concatenate([evidence(step_sse, 3), evidence(growth_sse, 3)]) - np.log(2 * len(cuts))
    top = max(nothing, float(both.max()))
    weight = np.exp(both - top)
    probability = float(weight.sum() / (weight.sum() + np.exp(nothing - top)))
    at = int(both.argmax())
    grows = at >= len(cuts)
    own = weight[len(cuts) :] if grows else weight[: len(cuts)]
    share = np.cumsum(own) / own.sum()
    cut = at - len(cuts) if grows else at
    return Change(
        at=int(cuts[cut]),
        first=int(cuts[min(int(np.searchsorted(share, 0.05)), cut)]),
        last=int(cuts[max(min(int(np.searchsorted(share, 0.95)), len(cuts) - 1), cut)]),
        probability=probability,
        kind="growth" if grows else "step",
        before=float((level if grows else before)[cut]) * size,
        after=float((end if grows else after)[cut]) * size,
    )


def _steps(values: Floats, cuts: NDArray[np.int64]) -> tuple[Floats, Floats, Floats]:
    """Squares left by two levels for every cut, and the levels."""
    n = len(values)
    sums = np.concatenate([[0.0], np.cumsum(values)])
    squares = float((values**2).sum())
    before = sums[cuts] / cuts
    after = (sums[n] - sums[cuts]) / (n - cuts)
    sse = squares - cuts * before**2 - (n - cuts) * after**2
    return np.maximum(sse, 0.0), before, after


def _growths(values: Floats, cuts: NDArray[np.int64]) -> tuple[Floats, Floats, Floats]:
    """Squares left by a level that grows evenly from every cut on, the level, and where it ends. Growth counts 1, 2, 3
    ...
    from the cut; its sums are known, those with the values come from sums of sums.
    """
    n = len(values)
    left = (n - cuts).astype(np.float64)
    once, squared = left * (left + 1) / 2, left * (left + 1) * (2 * left + 1) / 6
    middle = values.mean()
    later = np.cumsum((values - middle)[::-1])[::-1]
    with_values = np.cumsum(later[::-1])[::-1][cuts]
    spread = squared - once**2 / n
    slope = with_values / spread
    sse = float(((values - middle) ** 2).sum()) - slope**2 * spread
    level = middle - slope * once / n
    return np.maximum(sse, 0.0), level, level + slope * left


def _independent_share(values: Floats) -> float:
    """How many of the values count as independent, by how each resembles the one before: distances over two days
    against those over one, by their medians, so that changes themselves do not count.

    Source: a first-order autoregression has distances over two steps of 1 + r times the square of those over one
    (textbook), and as many independent values as (1 − r) / (1 + r) of all.
    """
    one, two = (float(np.median(np.abs(values[by:] - values[:-by]))) for by in (1, 2))
    if one <= 0.0:  # more than half are as the one before: they stand still, and tell as much as their steps
        return max(1, int(np.count_nonzero(np.diff(values)))) / len(values)
    alike = min(max((two / one) ** 2 - 1.0, 0.0), 0.9)
    return (1 - alike) / (1 + alike)
