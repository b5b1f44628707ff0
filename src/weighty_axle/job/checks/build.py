"""What the build cannot be: days that are none, parts named twice, people who never come."""

from __future__ import annotations

import functools
from collections.abc import Iterator, Sequence
from datetime import date
from typing import Any

from weighty_axle.job.checks.problem import Problem
from weighty_axle.job.models.build import Build
from weighty_axle.job.models.log import Log
from weighty_axle.job.models.proving import Proving


def build_problems(build: Build, proving: Proving, log: Log) -> Iterator[Problem]:
    """Days that do not exist, and what is said twice of one thing."""
    yield from _days(build, proving, log)
    for path, names in (
        ("build.parts", [one.part for one in build.parts]),
        ("build.reels", [one.size for one in build.reels]),
        ("build.cuts", [one.conductor for one in build.cuts]),
        ("build.said", [one.task for one in build.said]),
        ("build.torques", [one.end for one in build.torques]),
        ("build.mounts", [one.type for one in build.mounts]),
        ("proving.readings", [one.check for one in proving.readings]),
        ("log.states", [one.name for one in log.states]),
        ("log.services", [one.name for one in log.services]),
    ):
        seen: set[str] = set()
        for at, name in enumerate(names):
            if name in seen:
                yield Problem(f"{path}[{at}]", f"{name} is said twice.")
            seen.add(name)


def _days(build: Build, proving: Proving, log: Log) -> Iterator[Problem]:
    alone = {
        "build.starts_on": build.starts_on,
        "proving.handover.on": proving.handover.on,
        "proving.clear_on": proving.clear_on,
    }
    for place, day in alone.items():
        yield from _day(place, day)
    for one in build.workers:
        for day in one.off:
            yield from _day(f"build.workers[{one.tag}].off", day)
    lists: tuple[tuple[str, str, Sequence[Any]], ...] = (
        ("build.parts", "due", build.parts),
        ("build.cuts", "on", build.cuts),
        ("build.said", "not_before", build.said),
        ("build.said", "done_on", build.said),
        ("build.booked", "on", build.booked),
        ("build.torques", "on", build.torques),
        ("build.log", "on", build.log),
        ("proving.trials", "on", proving.trials),
        ("proving.readings", "on", proving.readings),
        ("proving.rehearsed", "on", proving.rehearsed),
        ("proving.entries", "on", proving.entries),
        ("log.entries", "on", log.entries),
        ("log.entries", "mended_on", log.entries),
        ("log.states", "on", log.states),
        ("log.services", "last_on", log.services),
    )
    for path, field, entries in lists:
        for at, one in enumerate(entries):
            day = getattr(one, field)
            if _wrong(day):  # a long log is gone through at every stroke
                yield from _day(f"{path}[{at}].{field}", day)


def _day(place: str, day: str) -> Iterator[Problem]:
    wrong = _wrong(day)
    if wrong:
        yield Problem(place, wrong)


@functools.lru_cache(4096)
def _wrong(day: str) -> str:
    """What is wrong with a day; empty: nothing."""
    if not day:
        return ""
    try:
        found = date.fromisoformat(day)
    except ValueError:
        return f"There is no day {day}."
    return "" if 2000 <= found.year <= 2100 else f"{day} is no day of this work: between 2000 and 2100."
