"""Work shared out over people and days: the critical path, and plans that end soon, with the end no plan can beat.

Time is whole slots of working time. OR-Tools' CP-SAT proves it; without it, the most urgent first, each to who ends it
soonest, and the bound of path and sums.
"""

from __future__ import annotations

import bisect
import heapq
import itertools
import math
from collections.abc import Callable, Sequence
from typing import Any, NamedTuple

from weighty_axle.physics.search.solving import silent, solve

WORK_A_SECOND = 0.1
"""What the solver counts as its work in a second of one core, about."""


class Work(NamedTuple):
    """A task: how many slots it takes one person, tasks that must be done before (by index), who can do it, and the
    slot it may start at the earliest.
    """

    slots: int
    after: tuple[int, ...] = ()
    who: tuple[int, ...] = ()
    ready: int = 0


class Path(NamedTuple):
    """Earliest and latest start of every task, and the slot all is done with people without end."""

    earliest: tuple[int, ...]
    latest: tuple[int, ...]
    end: int

    def critical(self, at: int) -> bool:
        """Whether a delay of the task delays the end."""
        return self.earliest[at] == self.latest[at]


class Levelled(NamedTuple):
    """Who does every task in which stretches of slots, the slot all is done, and what no plan can end before."""

    who: tuple[int, ...]
    stretches: tuple[tuple[tuple[int, int], ...], ...]
    end: int
    bound: int

    def start(self, at: int) -> int:
        """First slot of a task."""
        return self.stretches[at][0][0]

    def done(self, at: int) -> int:
        """Slot a task is done at."""
        return self.stretches[at][-1][1]


class CircleError(ValueError):
    """Tasks that wait for one another; `circle` are their indices in order."""

    def __init__(self, circle: tuple[int, ...]) -> None:
        super().__init__("tasks wait for one another in a circle")
        self.circle = circle


def order_of(works: Sequence[Work]) -> tuple[int, ...]:
    """Tasks of `works` in an order in which each stands behind all it waits for.

    Returns: their indices [1].
    Raises: CircleError.
    Source: topological order, textbook (A. B. Kahn 1962).
    """
    waits = [len(set(work.after)) for work in works]
    behind: list[list[int]] = [[] for _ in works]
    for at, work in enumerate(works):
        for before in set(work.after):
            behind[before].append(at)
    free = [at for at, count in enumerate(waits) if not count]
    found: list[int] = []
    while free:
        at = free.pop(0)
        found.append(at)
        for other in behind[at]:
            waits[other] -= 1
            if not waits[other]:
                bisect.insort(free, other)
    if len(found) < len(works):
        raise CircleError(_circle(works, set(found)))
    return tuple(found)


def _circle(works: Sequence[Work], placed: set[int]) -> tuple[int, ...]:
    at = next(at for at in range(len(works)) if at not in placed)
    way: list[int] = []
    while at not in way:
        way.append(at)
        at = next(before for before in works[at].after if before not in placed)
    return tuple(reversed(way[way.index(at) :]))


def critical_path(works: Sequence[Work]) -> Path:
    """Earliest and latest starts of `works` with people without end.

    Returns: starts in slots [1].
    Raises: CircleError.
    Source: critical path method, two passes, textbook (J. E. Kelley, M. R. Walker 1959).
    """
    order = order_of(works)
    earliest = [0] * len(works)
    for at in order:
        earliest[at] = max((earliest[one] + works[one].slots for one in works[at].after), default=0)
        earliest[at] = max(earliest[at], works[at].ready)
    end = max((earliest[at] + work.slots for at, work in enumerate(works)), default=0)
    latest = [end - work.slots for work in works]
    for at in reversed(order):
        for before in works[at].after:
            latest[before] = min(latest[before], latest[at] - works[before].slots)
    return Path(tuple(earliest), tuple(latest), end)


def levelled(
    works: Sequence[Work],
    blocked: Sequence[Sequence[tuple[int, int]]],
    most_slots: int,
    longest_s: float = 5.0,
    like: Sequence[tuple[int, int]] = (),
    watch: Callable[[], None] = silent,
) -> Levelled:
    """A plan of `works` for as many people as `blocked` has rows, each the stretches of slots they are away; longer
    work is done in parts of at most `most_slots` slots [1]. The search ends after the work
    of about `longest_s` [s], 0: only the most urgent first. `like` is whom each task
    was given to and its turn in a plan from before: it is kept to as far as the end lets it. `watch` is asked while it
    searches, and ends the search by what it raises.

    Returns: the plan that ends soonest of those found, each task as early as its people let it.
    Raises: CircleError; ValueError for work nobody can do.
    Source: resource-constrained project scheduling, serial generation by latest start, textbook (R. Kolisch 1996).
    """
    for work in works:
        if not work.who:
            raise ValueError("there is work nobody can do")
    path = critical_path(works)
    tries: list[tuple[Sequence[Work], Sequence[int]]] = [(works, path.latest)]
    tries.append((_given(works, _shared_out(works, blocked)), path.latest))
    if like:
        tries.insert(0, (_given(works, [who for who, _ in like]), [turn for _, turn in like]))
    quick = min((_urgent_first(one, blocked, most_slots, turns) for one, turns in tries), key=lambda plan: plan.end)
    bound = max(path.end, _sums(works, blocked))
    if longest_s <= 0 or quick.end <= bound or not works:
        return quick._replace(bound=min(bound, quick.end))
    try:
        from ortools.sat.python import cp_model
    except ImportError:
        return quick._replace(bound=bound)
    return _solved(cp_model, works, blocked, most_slots, quick, bound, longest_s, watch)


def _given(works: Sequence[Work], who: Sequence[int]) -> list[Work]:
    return [work._replace(who=(one,)) if one in work.who else work for work, one in zip(works, who, strict=True)]


def _shared_out(works: Sequence[Work], blocked: Sequence[Sequence[tuple[int, int]]]) -> list[int]:
    """Whom to give each task, so that all have about alike to do: first what few can do, the longest first."""
    rate = [1.0] * len(blocked)
    for at, away in enumerate(blocked):
        until = max((end for _, end in away), default=0)
        # Who is there half of the time has done half as much by any day.
        rate[at] = max(0.05, _free(away, 0, until) / until) if until else 1.0
    load, who = [0.0] * len(blocked), [0] * len(works)
    for at in sorted(range(len(works)), key=lambda at: (len(works[at].who), -works[at].slots)):
        who[at] = min(works[at].who, key=lambda one: (load[one] + works[at].slots / rate[one], one))
        load[who[at]] += works[at].slots / rate[who[at]]
    return who


def _sums(works: Sequence[Work], blocked: Sequence[Sequence[tuple[int, int]]]) -> int:
    """The slot before which those who can cannot have done all of some kind of work."""
    import numpy as np  # rules read this module before the first paint

    away = [stretch for own in blocked for stretch in own]
    latest = sum(work.slots for work in works) + max((work.ready for work in works), default=0)
    there = np.ones((len(blocked), latest + sum(end - start for start, end in away) + 1), dtype=np.int64)
    for one, own in enumerate(blocked):
        for start, end in own:
            there[one, start:end] = 0
    least = 0
    for kind in {work.who for work in works}:
        people = set(kind)
        theirs = [work for work in works if set(work.who) <= people]
        ready = min(work.ready for work in theirs)
        done = np.cumsum(there[sorted(people), ready:].sum(axis=0))
        least = max(least, ready + int(np.searchsorted(done, sum(work.slots for work in theirs))) + 1)
    return least


def _free(away: Sequence[tuple[int, int]], start: int, end: int) -> int:
    return max(0, end - start) - sum(max(0, min(end, b) - max(start, a)) for a, b in away)


def _parts(slots: int, most: int) -> list[int]:
    """Work in parts of about one length, none longer than the most."""
    count = max(1, math.ceil(slots / most))
    return [slots // count + (at < slots % count) for at in range(count)]


def _urgent_first(
    works: Sequence[Work], blocked: Sequence[Sequence[tuple[int, int]]], most: int, urgency: Sequence[int]
) -> Levelled:
    """Each task in turn, the most urgent of those that can start first, to whoever ends it soonest."""
    busy: list[list[tuple[int, int]]] = [sorted(away) for away in blocked]
    stretches: list[tuple[tuple[int, int], ...]] = [()] * len(works)
    who = [0] * len(works)
    waits_for = [set(work.after) for work in works]
    followers: list[list[int]] = [[] for _ in works]
    for at, before in enumerate(waits_for):
        for one in before:
            followers[one].append(at)
    can_start = [(urgency[at], at) for at, before in enumerate(waits_for) if not before]
    heapq.heapify(can_start)
    while can_start:
        _, at = heapq.heappop(can_start)
        work = works[at]
        start = max((stretches[one][-1][1] for one in work.after), default=0)
        start = max(start, work.ready)
        tries = [(_placed(busy[one], start, _parts(work.slots, most)), one) for one in work.who]
        stretches[at], who[at] = min(tries, key=lambda one: (one[0][-1][1], one[1]))
        for stretch in stretches[at]:
            bisect.insort(busy[who[at]], stretch)
        for one in followers[at]:
            waits_for[one].remove(at)
            if not waits_for[one]:
                heapq.heappush(can_start, (urgency[one], one))
    return Levelled(tuple(who), tuple(stretches), max((one[-1][1] for one in stretches), default=0), 0)


def _moved_early(
    works: Sequence[Work],
    blocked: Sequence[Sequence[tuple[int, int]]],
    most: int,
    who: Sequence[int],
    starts: Sequence[Sequence[int]],
) -> Levelled:
    """A plan with every part as early as its people let it, in the order the parts start: none starts later, as what
    came before it on the same person has ended no later than it did.
    """
    firsts = list(itertools.accumulate((len(own) for own in starts), initial=0))
    parts = [
        Work(
            slots,
            (firsts[at] + number - 1,) if number else tuple(firsts[other + 1] - 1 for other in work.after),
            (who[at],),
            work.ready,
        )
        for at, work in enumerate(works)
        for number, slots in enumerate(_parts(work.slots, most))
    ]
    early = _urgent_first(parts, blocked, most, [start for own in starts for start in own])
    stretches = tuple(
        tuple(stretch for one in early.stretches[first:end] for stretch in one)
        for first, end in itertools.pairwise(firsts)
    )
    return Levelled(tuple(who), stretches, early.end, 0)


def _placed(busy: list[tuple[int, int]], start: int, parts: list[int]) -> tuple[tuple[int, int], ...]:
    """Parts one after another in the first gaps that take them."""
    found = []
    for part in parts:
        for begins, ends in busy:
            if begins >= start + part:
                break
            start = max(start, ends)
        found.append((start, start + part))
        start += part
    return tuple(found)


def _solved(
    cp: Any,
    works: Sequence[Work],
    blocked: Sequence[Sequence[tuple[int, int]]],
    most: int,
    quick: Levelled,
    bound: int,
    longest_s: float,
    watch: Callable[[], None],
) -> Levelled:
    """The end proven or narrowed by CP-SAT, then every task moved as early as its people let it."""
    model = cp.CpModel()
    horizon = quick.end
    of_worker: list[list[Any]] = [
        [model.new_fixed_size_interval_var(start, end - start, "") for start, end in away if start < horizon]
        for away in blocked
    ]
    starts: list[list[Any]] = []
    chosen: list[dict[int, Any]] = []
    end = model.new_int_var(bound, horizon, "")
    for at, work in enumerate(works):
        mine = {one: model.new_bool_var("") for one in work.who}
        model.add_exactly_one(mine.values())
        starts.append([])
        done = None
        for number, part in enumerate(_parts(work.slots, most)):
            start = model.new_int_var(work.ready, horizon, "")
            if done is not None:
                model.add(start >= done)
            starts[at].append(start)
            done = start + part
            model.add_hint(start, quick.stretches[at][number][0])
            for one, is_mine in mine.items():
                of_worker[one].append(model.new_optional_fixed_size_interval_var(start, part, is_mine, ""))
        for one, is_mine in mine.items():
            model.add_hint(is_mine, one == quick.who[at])
        chosen.append(mine)
        model.add(end >= done)
    for at, work in enumerate(works):
        for other in work.after:
            model.add(starts[at][0] >= starts[other][-1] + _parts(works[other].slots, most)[-1])
    for one, intervals in enumerate(of_worker):
        model.add_no_overlap(intervals)
        own = [work.slots * mine[one] for work, mine in zip(works, chosen, strict=True) if one in mine]
        away = sum(b - a for a, b in blocked[one] if b <= bound)
        model.add(sum(own) + away <= end)  # implied; it tells the relaxation what one person can do
    model.minimize(end)

    solver = cp.CpSolver()
    # Searches that take turns by work done, not by the clock: the same question has the same plan on every machine.
    solver.parameters.num_workers = 4
    solver.parameters.interleave_search = True
    solver.parameters.interleave_batch_size = 4
    solver.parameters.random_seed = 1
    solver.parameters.max_deterministic_time = longest_s * WORK_A_SECOND
    solver.parameters.max_time_in_seconds = 4 * longest_s  # where a machine is far slower than most
    status = solve(solver, model, watch)
    if status not in (cp.OPTIMAL, cp.FEASIBLE):
        return quick._replace(bound=bound)
    who = [next(one for one, is_mine in mine.items() if solver.value(is_mine)) for mine in chosen]
    tidy = _moved_early(works, blocked, most, who, [[solver.value(one) for one in own] for own in starts])
    least = max(bound, math.ceil(solver.best_objective_bound - 1e-6))
    best = min((quick, tidy), key=lambda one: one.end)
    return best._replace(bound=min(least, best.end))
