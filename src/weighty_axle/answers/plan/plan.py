"""The work plan: who does what on which day, what is critical, what waits for which part, when all is done."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterator
from datetime import date, datetime, time, timedelta
from functools import partial

from msgspec import Struct

from weighty_axle.answers.parts.listing import PartsList, parts_list
from weighty_axle.answers.plan.task import Task
from weighty_axle.answers.plan.tasks import tasks
from weighty_axle.design.figures import Figure, Given
from weighty_axle.design.table import Design
from weighty_axle.job.models.build import Skill, Worker
from weighty_axle.physics.search.scheduling import CircleError, Levelled, Work, critical_path, levelled, order_of

Progress = Callable[[float, str], None]

SLOTS_PER_H = 4
"""Plans are in quarter hours."""

MORNING = time(8)
"""When a working day begins on paper."""

TWO_FITTERS = (Worker(tag="WK1", name="First fitter"), Worker(tag="WK2", name="Second fitter"))
"""Who builds until people are stated."""

SKILL_WORDS: dict[Skill, str] = {
    "electric": "electrical work",
    "mechanic": "mechanical work",
    "roof": "work on the roof",
    "lifting": "lifting",
}
"""How a skill is said."""


class Planned(Struct, frozen=True, kw_only=True):
    """A task in the plan: who, from when to when; whether a delay delays the end; the part it waits for and the day
    that comes; hours booked; whether it is done.
    """

    task: Task
    who: str
    starts: datetime
    ends: datetime
    stretches: tuple[tuple[datetime, datetime], ...]
    critical: bool
    waits_for: str
    waits_until: date | None
    booked_h: float
    done: bool


class Plan(Struct, frozen=True, kw_only=True):
    """All tasks with their dates, in the order they start; who builds; when all is done, and the day no plan can beat.

    `problems` are sentences on what could not be planned as it was stated.
    """

    planned: tuple[Planned, ...]
    workers: tuple[Worker, ...]
    starts: date
    ends: date
    no_sooner: date
    days: Figure
    problems: tuple[str, ...]

    def of(self, key: str) -> Planned | None:
        """A task by its key."""
        return next((one for one in self.planned if one.task.key == key), None)


class Calendar:
    """Working days as slots: day after day, each as long as the longest day anybody works."""

    def __init__(self, workers: tuple[Worker, ...], start: date, most_days: int = 800) -> None:
        self.per_day = max(1, math.ceil(max(one.hours_h for one in workers) * SLOTS_PER_H))
        saturdays = any(one.saturdays for one in workers)
        self.days: list[date] = []
        day = start
        while len(self.days) < most_days:
            if day.weekday() < (6 if saturdays else 5):
                self.days.append(day)
            day += timedelta(days=1)
        self.at = {day: at for at, day in enumerate(self.days)}

    def away(self, worker: Worker) -> list[tuple[int, int]]:
        """Stretches of slots somebody is not there."""
        off = set(worker.off)
        own = max(1, int(worker.hours_h * SLOTS_PER_H))
        found = []
        for at, day in enumerate(self.days):
            first = at * self.per_day
            if day.isoformat() in off or (day.weekday() == 5 and not worker.saturdays):
                found.append((first, first + self.per_day))
            elif own < self.per_day:
                found.append((first + own, first + self.per_day))
        return found

    def slot(self, day: date) -> int:
        """First slot on a day, or on the next working day after it."""
        at = next((at for at, one in enumerate(self.days) if one >= day), len(self.days) - 1)
        return at * self.per_day

    def moment(self, slot: int, *, end: bool = False) -> datetime:
        """When a slot begins; as an end, when the one before is over."""
        at, into = divmod(slot - 1 if end else slot, self.per_day)
        into += end
        day = self.days[min(at, len(self.days) - 1)]
        return datetime.combine(day, MORNING) + timedelta(hours=into / SLOTS_PER_H)


def plan(
    design: Design,
    today: date,
    longest_s: float = 4.0,
    progress: Progress = lambda _share, _words: None,
    *,
    waiting: bool = True,
    like: Plan | None = None,
) -> Plan:
    """The plan of the whole job from a day on. What is done is left as it is; 0 s: the most urgent first, at once.
    Without `waiting` as if every part were here; `like` a plan from before, people and order stay as
    far as the end lets them.

    Source: physics.search.scheduling; durations by the shop's rates.
    """
    build = design.whole.build
    workers = build.workers or TWO_FITTERS
    start = max(today, date.fromisoformat(build.starts_on)) if build.starts_on else today
    calendar = Calendar(workers, start)
    made = tasks(design)
    listed = parts_list(design, today)
    progress(0.2, "Tasks")
    asked = _Asked(made, workers, calendar, listed if waiting else None, design)
    away = [calendar.away(one) for one in workers]
    kept = asked.like(like) if like is not None else ()
    watch = partial(progress, 0.5, "People and days")
    found = levelled(asked.works, away, _most(workers), longest_s, kept, watch)
    progress(0.95, "Dates")
    return _told(asked, found, start)


def _most(workers: tuple[Worker, ...]) -> int:
    """Work longer than half of the shortest day may stand in two stretches."""
    return max(1, int(min(one.hours_h for one in workers) * SLOTS_PER_H / 2))


class _Asked:
    """The tasks that are open as work for the solver."""

    def __init__(
        self,
        made: tuple[Task, ...],
        workers: tuple[Worker, ...],
        calendar: Calendar,
        listed: PartsList | None,
        design: Design,
    ) -> None:
        build = design.whole.build
        self.made, self.workers, self.calendar = made, workers, calendar
        self.said = {one.task: one for one in build.said}
        self.booked: dict[str, float] = {}
        for one in build.booked:
            self.booked[one.task] = self.booked.get(one.task, 0.0) + one.hours_h
        self.done = {one.task for one in build.said if one.done_on}
        self.open = [one for one in made if one.key not in self.done]
        self.problems: list[str] = []
        at = {one.key: number for number, one in enumerate(self.open)}
        self.waits: dict[str, tuple[str, date | None]] = {
            one.key: self._waits(one, listed) if listed is not None else ("", None) for one in self.open
        }
        self.works = [self._work(one, at) for one in self.open]
        self._no_circle()

    def _waits(self, task: Task, listed: PartsList) -> tuple[str, date | None]:
        """The part a task waits for longest."""
        due = [
            (line.due, part)
            for part in task.parts
            if (line := listed.line(part)) is not None and not line.here and line.due is not None
        ]
        unknown = [part for part in task.parts if listed.line(part) is None and task.key in task.about]
        self.problems += [f"{task.words} waits for {part}, which is not in the parts list." for part in unknown]
        if not due:
            return "", None
        last, part = max(due)
        return part, last

    def _work(self, task: Task, at: dict[str, int]) -> Work:
        known = {one.key for one in self.made}
        for key in task.after:
            if key not in known:
                self.problems.append(f"{task.words} comes after {key}, which is no task of this plan.")
        left = max(0.25, task.hours_h.value - self.booked.get(task.key, 0.0))
        ready = 0
        until = self.waits[task.key][1]
        if until is not None:
            ready = self.calendar.slot(until)
        said = self.said.get(task.key)
        if said is not None and said.not_before:
            ready = max(ready, self.calendar.slot(date.fromisoformat(said.not_before)))
        return Work(
            math.ceil(left * SLOTS_PER_H),
            tuple(at[key] for key in task.after if key in at),
            self._who(task, said.worker if said is not None else ""),
            ready,
        )

    def _who(self, task: Task, wanted: str) -> tuple[int, ...]:
        able = tuple(at for at, one in enumerate(self.workers) if not one.skills or task.skill in one.skills)
        if wanted:
            own = tuple(at for at, one in enumerate(self.workers) if one.tag == wanted)
            if own:
                return own
            self.problems.append(f"{task.words} is to be done by {wanted}, who does not build here.")
        if not able:
            self.problems.append(f"Nobody can do {SKILL_WORDS[task.skill]}: {task.words}. It is given to anybody.")
        return able or tuple(range(len(self.workers)))

    def like(self, before: Plan) -> list[tuple[int, int]]:
        """Whom each open task was given to and its turn in a plan from before; new ones come last, to anybody."""
        at = {one.tag: number for number, one in enumerate(self.workers)}
        turns = {one.task.key: (at.get(one.who, -1), turn) for turn, one in enumerate(before.planned)}
        return [turns.get(one.key, (-1, len(turns))) for one in self.open]

    def _no_circle(self) -> None:
        """Where tasks wait for one another, a link that the shop has stated is left out, and told."""
        own = {number for number, one in enumerate(self.open) if one.key in one.about and one.key not in ("prepare",)}
        while True:
            try:
                order_of(self.works)
                return
            except CircleError as error:
                circle = list(error.circle)
                words = " → ".join(self.open[at].key for at in (*circle, circle[0]))
                self.problems.append(f"These tasks wait for one another: {words}. One link was left out.")
                cut = next((at for at in circle if at in own), circle[0])
                before = next(at for at in self.works[cut].after if at in circle)
                self.works[cut] = self.works[cut]._replace(
                    after=tuple(at for at in self.works[cut].after if at != before)
                )


def _told(asked: _Asked, found: Levelled, start: date) -> Plan:
    path = critical_path(_as_levelled(asked, found))
    planned = sorted(_planned(asked, found, path.latest), key=lambda one: (one.starts, one.ends))
    ends = max((one.ends for one in planned if not one.done), default=datetime.combine(start, MORNING)).date()
    days = sum(1 for day in asked.calendar.days if start <= day <= ends)
    return Plan(
        planned=tuple(planned),
        workers=asked.workers,
        starts=start,
        ends=ends,
        no_sooner=asked.calendar.moment(found.bound, end=True).date() if found.bound else start,
        days=Figure(
            name="Working days to the end",
            value=float(days),
            unit="d",
            formula="days from the start to the end of the last task on which anybody works",
            inputs=(
                Given("Work", sum(work.slots for work in asked.works) / SLOTS_PER_H, "h"),
                Given("People", len(asked.workers), "count"),
                Given("Critical path", path.end / SLOTS_PER_H, "h"),
            ),
            source="people-levelled plan, physics.search.scheduling",
            limit=f"no plan can end before {asked.calendar.moment(found.bound, end=True).date()}"
            if found.bound
            else "",
        ),
        problems=tuple(dict.fromkeys(asked.problems)),
    )


def _as_levelled(asked: _Asked, found: Levelled) -> list[Work]:
    """Work as it is planned, each task also behind the one its worker does before it: what delays the end then."""
    works = [
        work._replace(slots=found.done(at) - found.start(at), ready=found.start(at))
        for at, work in enumerate(asked.works)
    ]
    for worker in range(len(asked.workers)):
        own = sorted((at for at in range(len(works)) if found.who[at] == worker), key=found.start)
        for one, other in itertools.pairwise(own):
            if found.start(other) >= found.done(one):
                works[other] = works[other]._replace(after=(*works[other].after, one))
    return works


def _planned(asked: _Asked, found: Levelled, latest: tuple[int, ...]) -> Iterator[Planned]:
    for at, task in enumerate(asked.open):
        part, until = asked.waits[task.key]
        stretches = tuple(
            (asked.calendar.moment(begins), asked.calendar.moment(ends, end=True))
            for begins, ends in _joined(found.stretches[at])
        )
        yield Planned(
            task=task,
            who=asked.workers[found.who[at]].tag,
            starts=stretches[0][0],
            ends=stretches[-1][1],
            stretches=stretches,
            critical=found.start(at) >= latest[at],
            waits_for=part,
            waits_until=until,
            booked_h=asked.booked.get(task.key, 0.0),
            done=False,
        )
    for task in asked.made:
        if task.key in asked.done:
            day = datetime.combine(date.fromisoformat(asked.said[task.key].done_on), MORNING)
            yield Planned(
                task=task,
                who=asked.said[task.key].worker,
                starts=day,
                ends=day + timedelta(hours=min(8.0, task.hours_h.value)),
                stretches=((day, day + timedelta(hours=min(8.0, task.hours_h.value))),),
                critical=False,
                waits_for="",
                waits_until=None,
                booked_h=asked.booked.get(task.key, 0.0),
                done=True,
            )


def _joined(stretches: tuple[tuple[int, int], ...]) -> list[tuple[int, int]]:
    found = [stretches[0]]
    for begins, ends in stretches[1:]:
        if begins == found[-1][1]:
            found[-1] = (found[-1][0], ends)
        else:
            found.append((begins, ends))
    return found


class Late(Struct, frozen=True, kw_only=True):
    """What a late part does: the end before and after, tasks it holds up, and tasks that are done sooner instead."""

    part: str
    before: Plan
    after: Plan
    held: tuple[Planned, ...]
    sooner: tuple[tuple[Planned, Planned], ...]


def compared(part: str, before: Plan, after: Plan) -> Late:
    """A plan against the one before a part was late.

    Source: the two plans.
    """
    was = {one.task.key: one for one in before.planned}
    held = tuple(one for one in after.planned if one.waits_for == part and not one.done)
    pairs = ((was[one.task.key], one) for one in after.planned if one.task.key in was and not one.done)
    sooner = tuple((old, new) for old, new in pairs if new.starts < old.starts)
    return Late(part=part, before=before, after=after, held=held, sooner=sooner)


def worked_on(found: Plan, day: date, way: int) -> date:
    """A day on which somebody works: the day itself, or the next one that way (1: later, -1: sooner)."""
    last = 5 if any(one.saturdays for one in found.workers) else 4
    while day.weekday() > last:
        day += timedelta(days=way)
    return day


def earliest(found: Plan, key: str) -> tuple[date, str]:
    """The first day a task can be moved to, and why not before: what it comes after, or the part it waits for.

    Raises: KeyError for an unknown task.
    """
    by_key = {one.task.key: one for one in found.planned}
    own = by_key[key]
    day, why = found.starts, "the building starts then"
    for other in own.task.after:
        before = by_key.get(other)
        if before is not None and not before.done and before.ends.date() > day:
            day, why = before.ends.date(), f"it comes after “{before.task.words}”"
    if own.waits_until is not None and own.waits_until > day:
        day, why = own.waits_until, f"it waits for {own.waits_for}"
    return day, why
