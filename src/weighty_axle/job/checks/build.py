"""What the build cannot be: days that are none, parts named twice, people who never come."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date

from weighty_axle.job.checks.problem import Problem
from weighty_axle.job.models.build import Build
from weighty_axle.job.models.proving import Proving


def build_problems(build: Build, proving: Proving) -> Iterator[Problem]:
    """Days that do not exist, and what is said twice of one thing."""
    yield from _days(build, proving)
    for path, names in (
        ("build.parts", [one.part for one in build.parts]),
        ("build.reels", [one.size for one in build.reels]),
        ("build.cuts", [one.conductor for one in build.cuts]),
        ("build.said", [one.task for one in build.said]),
        ("build.torques", [one.end for one in build.torques]),
        ("build.mounts", [one.type for one in build.mounts]),
        ("proving.readings", [one.check for one in proving.readings]),
    ):
        seen: set[str] = set()
        for at, name in enumerate(names):
            if name in seen:
                yield Problem(f"{path}[{at}]", f"{name} is said twice.")
            seen.add(name)


def _days(build: Build, proving: Proving) -> Iterator[Problem]:
    stated = [("build.starts_on", build.starts_on), ("proving.handover.on", proving.handover.on)]
    stated.append(("proving.clear_on", proving.clear_on))
    stated += [(f"build.parts[{at}].due", one.due) for at, one in enumerate(build.parts)]
    stated += [(f"build.cuts[{at}].on", one.on) for at, one in enumerate(build.cuts)]
    stated += [(f"build.workers[{one.tag}].off", day) for one in build.workers for day in one.off]
    stated += [(f"build.said[{at}].not_before", one.not_before) for at, one in enumerate(build.said)]
    stated += [(f"build.said[{at}].done_on", one.done_on) for at, one in enumerate(build.said)]
    stated += [(f"build.booked[{at}].on", one.on) for at, one in enumerate(build.booked)]
    stated += [(f"build.torques[{at}].on", one.on) for at, one in enumerate(build.torques)]
    stated += [(f"build.log[{at}].on", one.on) for at, one in enumerate(build.log)]
    stated += [(f"proving.trials[{at}].on", one.on) for at, one in enumerate(proving.trials)]
    stated += [(f"proving.readings[{at}].on", one.on) for at, one in enumerate(proving.readings)]
    stated += [(f"proving.rehearsed[{at}].on", one.on) for at, one in enumerate(proving.rehearsed)]
    stated += [(f"proving.entries[{at}].on", one.on) for at, one in enumerate(proving.entries)]
    for place, day in stated:
        if not day:
            continue
        try:
            found = date.fromisoformat(day)
        except ValueError:
            yield Problem(place, f"There is no day {day}.")
            continue
        if not 2000 <= found.year <= 2100:
            yield Problem(place, f"{day} is no day of this work: between 2000 and 2100.")
