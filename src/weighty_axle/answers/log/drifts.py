"""A quantity day by day beside the model: what drifts, since when, how surely, in a sentence."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from datetime import date, timedelta

import numpy as np
from msgspec import Struct
from msgspec.structs import replace
from numpy.typing import NDArray

from weighty_axle.design.figures import Figure
from weighty_axle.physics.series.change_points import Change, changes
from weighty_axle.units import show

Floats = NDArray[np.float64]
Days = NDArray[np.int64]
FIRST_OF_1970 = date(1970, 1, 1)
LEAST_DAYS, LEAST_WEEKS, WEEK = 14, 8, 7
"""Days, and weeks, with a value that a drift needs. Source: judgement."""


class Drift(Struct, frozen=True, kw_only=True):
    """A change that was found: the day of it and the days it may be (nine in ten), how likely there is one, whether it
    came at once or grows, the values before and after, and all of it in a sentence.
    """

    on: date
    first: date
    last: date
    probability: float
    grows: bool
    before: float
    after: float
    sentence: str


class Trace(Struct, frozen=True, kw_only=True):
    """A quantity day by day beside what the model says: `days` since 1970, values (NaN: nothing to tell), the whole of
    it in a sentence, drifts, tags of things. `hint`: the symptom of the fault finder it looks like; `times`: what the
    model's figure is multiplied by to stand beside the values.
    """

    key: str
    title: str
    unit: str
    days: Days
    values: Floats
    model: Figure | None
    sentence: str
    drifts: tuple[Drift, ...]
    about: tuple[str, ...] = ()
    hint: str = ""
    times: float = 1.0


def day_of(number: int) -> date:
    """The day so many days after the first of 1970."""
    return FIRST_OF_1970 + timedelta(days=number)


def traced(
    days: Days,
    key: str,
    title: str,
    unit: str,
    values: Floats,
    model: Figure | None,
    *,
    means: Callable[[float, float], str],
    about: tuple[str, ...] = (),
    hint: str = "",
    times: float = 1.0,
    least: float = 0.05,
    least_by: float = 0.0,
    by_best: Floats | None = None,
) -> Trace:
    """A trace with its drifts. `means` says what a change from one value to another means; `least`: by so large a share
    of its level a change has to be to matter, and by so much `least_by` in the trace's unit; `by_best`: the single days
    of which the values are the best of a week.

    Source: physics.series.change_points.
    """
    there = np.flatnonzero(np.isfinite(values))
    if by_best is not None:
        there = there[there % WEEK == WEEK // 2]  # weeks beside one another share no day
    drifts = []
    fewest = LEAST_DAYS if by_best is None else LEAST_WEEKS
    for one in changes(values[there], least_days=fewest // 2) if len(there) >= fewest else ():
        if abs(one.after - one.before) < max(least_by, least * max(abs(one.before), 1e-9)):
            continue
        at, first_at, last_at = (int(there[min(at, len(there) - 1)]) for at in one[:3])
        if by_best is not None:
            at, first_at, last_at = _by_single_days(by_best, at, one)
        on, first, last = (day_of(int(days[0]) + each) for each in (at, first_at, last_at))
        drifts.append(
            Drift(
                on=on,
                first=first,
                last=last,
                probability=one.probability,
                grows=one.kind == "growth",
                before=one.before,
                after=one.after,
                sentence=(
                    f"{title} {'grows' if one.kind == 'growth' else 'changed'} from {said(one.before, unit)} to "
                    f"{said(one.after, unit)} since {on:%Y-%m-%d} (between {first:%m-%d} and {last:%m-%d}; "
                    f"{_sure(one.probability)}): {means(one.before, one.after)}."
                ),
            )
        )
    beside = f", the model says {said(model.value * times, unit)}" if model is not None else ""
    count = f"{len(drifts)} drift{'s' if len(drifts) > 1 else ''}." if drifts else "it does not drift."
    return Trace(
        key=key,
        title=title,
        unit=unit,
        days=days,
        values=values,
        model=model,
        sentence=f"{title}: {said(float(np.nanmedian(values)), unit)} on most days{beside}; {count}",
        drifts=tuple(drifts),
        about=about,
        hint=hint,
        times=times,
    )


def _by_single_days(values: Floats, at: int, change: Change) -> tuple[int, int, int]:
    """The day of a change in the best of many days, and those it may be: clouds only lower a day, so that a day well
    over the lower level tells the higher one for certain.
    """
    falls = change.after < change.before
    lower_side = values[at + 7 : at + 90] if falls else values[max(0, at - 90) : max(0, at - 7)]
    lower_side = lower_side[np.isfinite(lower_side)]
    lower = float(np.percentile(lower_side, 95)) if len(lower_side) else min(change.before, change.after)
    middle, near = 1.03 * lower, 0.95 * lower
    start, end = max(0, at - 60), min(len(values), at + 60)
    known = np.nan_to_num(values[start:end], nan=-np.inf)
    high, clear = np.flatnonzero(known > middle), np.flatnonzero(known > near)
    if falls:
        first = int(high[-1]) + 1 if len(high) else at - start
        after = clear[clear >= first]
        last = int(after[0]) if len(after) else min(len(known) - 1, first + 7)
    else:
        last = int(high[0]) if len(high) else at - start
        before = clear[clear < last]
        first = int(before[-1]) + 1 if len(before) else max(0, last - 7)
    # Where nothing was clear for a while, the middle of it is as good as any day.
    sharp = first if falls else last
    on = sharp if last - first <= WEEK else (first + last) // 2
    return start + on, start + first, start + last


def falls_only(found: dict[str, Trace]) -> Iterator[Trace]:
    """Traces of shares of a whole: where one falls the others seem to rise, and that is not told."""
    falls = [drift.on for one in found.values() for drift in one.drifts if drift.after < drift.before]
    for one in found.values():
        own = tuple(
            drift
            for drift in one.drifts
            if drift.after < drift.before or all(abs((drift.on - fall).days) > 3 for fall in falls)
        )
        count = "it does not drift" if not own else f"{len(own)} drift{'s' if len(own) > 1 else ''}"
        yield replace(one, drifts=own, sentence=f"{one.sentence.rpartition('; ')[0]}; {count}.")


def _sure(probability: float) -> str:
    """How sure, in a number that never claims all."""
    return f"{min(probability, 0.999) * 100:.3g} % sure"


def said(value: float, unit: str) -> str:
    """A value as it is told here: resistances in mΩ, shares with a decimal."""
    return f"{value * 1000:.2f} mΩ" if unit == "ohm" else f"{value:.1f} %" if unit == "%" else show(value, unit)
