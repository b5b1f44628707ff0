"""What ladings and fixings cannot be."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.job.checks.problem import Problem
from weighty_axle.job.models.document import Job


def hold_problems(job: Job) -> Iterator[Problem]:
    """A thing in two fixings."""
    by: dict[str, str] = {}
    for one in job.holds:
        for tag in one.items:
            if tag in by:
                yield Problem(f"holds[{one.tag}].items", f"{tag} is held by {by[tag]} already.")
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
