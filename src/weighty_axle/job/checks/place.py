"""What ladings, fixings, outlets and closed walls cannot be."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.job.checks.problem import Problem
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.place import Assembly, Hold
from weighty_axle.job.tags import tags_of


def hold_problems(job: Job) -> Iterator[Problem]:
    """A thing in two fixings."""
    return _in_two(job.holds, "holds", "is held by {} already.")


def assembly_problems(job: Job) -> Iterator[Problem]:
    """A thing built into two boards."""
    return _in_two(job.assemblies, "assemblies", "is built into {} already.")


def _in_two(owners: tuple[Hold, ...] | tuple[Assembly, ...], path: str, words: str) -> Iterator[Problem]:
    by: dict[str, str] = {}
    for one in owners:
        for tag in one.items:
            if tag in by:
                yield Problem(f"{path}[{one.tag}].items", f"{tag} {words.format(by[tag])}")
            by.setdefault(tag, one.tag)


def lading_problems(job: Job) -> Iterator[Problem]:
    """A most below the least; what fills from itself, from nothing that is there, or from what fills from another."""
    known = {one.tag: one for one in job.ladings}
    taken = [one.takes_from for one in job.ladings if one.takes_from]
    for one in job.ladings:
        place = f"ladings[{one.tag}]"
        if one.full_kg < one.empty_kg:
            yield Problem(f"{place}.full_kg", f"The most of {one.name} is below its least.")
        if not one.takes_from:
            continue
        source = known.get(one.takes_from)
        if source is None:
            yield Problem(f"{place}.takes_from", f"There is no lading {one.takes_from}.")
        elif source is one or source.takes_from:
            yield Problem(f"{place}.takes_from", f"{one.name} cannot fill from {source.name}.")
        elif taken.count(one.takes_from) > 1:
            yield Problem(f"{place}.takes_from", f"Two ladings fill from {source.name}.")


STARTS = ("pack", "inverter", "controller", "converter", "board", "fitting", "panel", "DC panel", "outlet")
"""Kinds of thing a cable to an outlet may come from."""


def outlet_problems(job: Job) -> Iterator[Problem]:
    """A cable from nothing, from itself, or round in a ring; a wall closed twice."""
    if job.outlets:
        starts = set(tags_of(job, *STARTS))
        by = {one.tag: one for one in job.outlets}
        for one in job.outlets:
            place = f"outlets[{one.tag}].start"
            if one.start not in starts:
                yield Problem(place, f"There is no item, panel or outlet {one.start} for {one.tag} to come from.")
                continue
            at, seen = by.get(one.start), {one.tag}
            while at is not None and at.tag not in seen:
                seen.add(at.tag)
                at = by.get(at.start)
            if at is not None and at is one:
                yield Problem(place, f"The cable of {one.tag} would come from itself.")
    walls = [one.wall for one in job.closed]
    for wall in sorted({one for one in walls if walls.count(one) > 1}):
        yield Problem("closed", f"The {wall} is closed twice.")
