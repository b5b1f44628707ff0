"""The one registry of tags: everything in a job that has one. Edits, checks and tables ask here."""

from __future__ import annotations

import itertools
from collections.abc import Iterator

from weighty_axle.job.models.document import Job, Tagged, items
from weighty_axle.job.models.inverters import FROM_INVERTERS, IMPLIED_INLET, IMPLIED_PANEL
from weighty_axle.job.models.vehicle import WAY_ENDS

RESERVED = (FROM_INVERTERS, IMPLIED_INLET)
"""Tags that mean something of their own; nothing may have them."""
KEPT_FREE = (IMPLIED_PANEL, *WAY_ENDS)
"""Tags that are never given of the program's own accord, so that nothing is mistaken for the implied panel or an end of
a wire way.
"""


def tagged(job: Job) -> Iterator[tuple[str, Tagged]]:
    """Everything with a tag, each with the word for what it is."""
    roof, ac, vehicle = job.roof, job.ac, job.vehicle
    groups: tuple[tuple[str, tuple[Tagged, ...]], ...] = (
        ("item", items(job)),
        ("load", job.loads),
        ("axle", vehicle.axles),
        ("bay", vehicle.bays),
        ("wire way", vehicle.ways),
        ("source", job.inverters.sources),
        ("kind of day", job.day_kinds),
        ("stay", job.stays),
        ("equipment", job.existing),
        ("photo", job.survey.photos),
        ("inlet", ac.inlets),
        ("panel", ac.panels),
        ("circuit", ac.circuits),
        ("selector", ac.selectors),
        ("module", roof.modules),
        ("obstacle", roof.obstacles),
        ("lane", roof.lanes),
        ("string", roof.strings),
        ("array", roof.remote),
    )
    return ((word, one) for word, group in groups for one in group)


def used_tags(job: Job) -> set[str]:
    """Every tag that is taken, those with a meaning of their own among them."""
    return {one.tag for _, one in tagged(job)} | {*RESERVED, *KEPT_FREE}


def free_tags(job: Job, stem: str) -> Iterator[str]:
    """Free tags of a stem, in order: LD1, LD2 ..."""
    used = used_tags(job)
    return (f"{stem}{number}" for number in itertools.count(1) if f"{stem}{number}" not in used)


def next_tag(job: Job, stem: str) -> str:
    """First free tag of the stem."""
    return next(free_tags(job, stem))
