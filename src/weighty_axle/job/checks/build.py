"""What the build cannot be: days that are none, parts named twice, people who never come."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date

from weighty_axle.job.checks.problem import Problem
from weighty_axle.job.models.build import Build


def build_problems(build: Build) -> Iterator[Problem]:
    """Days that do not exist, and what is said twice of one thing."""
    yield from _days(build)
    for path, names in (
        ("parts", [one.part for one in build.parts]),
        ("reels", [one.size for one in build.reels]),
        ("cuts", [one.conductor for one in build.cuts]),
        ("said", [one.task for one in build.said]),
        ("torques", [one.end for one in build.torques]),
        ("mounts", [one.type for one in build.mounts]),
    ):
        seen: set[str] = set()
        for at, name in enumerate(names):
            if name in seen:
                yield Problem(f"build.{path}[{at}]", f"{name} is said twice.")
            seen.add(name)


def _days(build: Build) -> Iterator[Problem]:
    stated = [("starts_on", build.starts_on)]
    stated += [(f"parts[{at}].due", one.due) for at, one in enumerate(build.parts)]
    stated += [(f"cuts[{at}].on", one.on) for at, one in enumerate(build.cuts)]
    stated += [(f"workers[{one.tag}].off", day) for one in build.workers for day in one.off]
    stated += [(f"said[{at}].not_before", one.not_before) for at, one in enumerate(build.said)]
    stated += [(f"said[{at}].done_on", one.done_on) for at, one in enumerate(build.said)]
    stated += [(f"booked[{at}].on", one.on) for at, one in enumerate(build.booked)]
    stated += [(f"torques[{at}].on", one.on) for at, one in enumerate(build.torques)]
    stated += [(f"log[{at}].on", one.on) for at, one in enumerate(build.log)]
    for place, day in stated:
        if not day:
            continue
        try:
            found = date.fromisoformat(day)
        except ValueError:
            yield Problem(f"build.{place}", f"There is no day {day}.")
            continue
        if not 2000 <= found.year <= 2100:
            yield Problem(f"build.{place}", f"{day} is no day of this work: between 2000 and 2100.")
