"""What loads and stays cannot be."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.job.checks.problem import Problem
from weighty_axle.job.models.brief import YEAR_DAYS, Stay
from weighty_axle.job.models.document import Job
from weighty_axle.job.tags import tags_of


def load_problems(job: Job) -> Iterator[Problem]:
    """Painted days that name no kind of day or overlap."""
    kinds = {kind.tag for kind in job.day_kinds}
    circuits = set(tags_of(job, "circuit", "DC circuit"))
    for load in job.loads:
        if load.circuit and load.circuit not in circuits:
            yield Problem(f"loads[{load.tag}].circuit", f"There is no circuit {load.circuit}.")
        for kind, spans in load.patterns.items():
            place = f"loads[{load.tag}].patterns.{kind}"
            if kind not in kinds:
                yield Problem(place, f"There is no day kind {kind}.")
            last = 0
            for span in spans:
                if span.end_min <= span.start_min or span.start_min < last:
                    yield Problem(place, "Painted stretches must follow one another without overlap.")
                    break
                last = span.end_min


def stay_problems(job: Job) -> Iterator[Problem]:
    """Stays that overlap, run past the year or name what is not there."""
    kinds, sources = {kind.tag for kind in job.day_kinds}, set(tags_of(job, "source"))
    before: Stay | None = None
    for stay in sorted(job.stays, key=lambda one: one.first_day):
        place = f"stays[{stay.tag}]"
        if stay.day_kind not in kinds:
            yield Problem(f"{place}.day_kind", f"There is no day kind {stay.day_kind}.")
        if stay.source and stay.source not in sources:
            yield Problem(f"{place}.source", f"There is no source {stay.source}.")
        if stay.first_day + stay.days > YEAR_DAYS + 1:
            yield Problem(f"{place}.days", f"The stay at {stay.place} runs past the end of the year; split it there.")
        if before is not None and stay.first_day < before.first_day + before.days:
            yield Problem(place, f"The stays at {before.place} and {stay.place} overlap.")
        before = stay
