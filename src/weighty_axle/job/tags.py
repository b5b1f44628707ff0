"""The one registry of tagged things: what kinds there are, where a job states them, how their tags begin."""

from __future__ import annotations

import itertools
from collections.abc import Iterator
from operator import attrgetter
from typing import NamedTuple

from weighty_axle.job.models.document import Job, Tagged
from weighty_axle.job.models.inverters import FROM_INVERTERS, IMPLIED_INLET, IMPLIED_PANEL
from weighty_axle.job.models.vehicle import WAY_ENDS

RESERVED = (FROM_INVERTERS, IMPLIED_INLET)
"""Tags that mean something of their own; nothing may have them."""
KEPT_FREE = (IMPLIED_PANEL, *WAY_ENDS)
"""Tags that are never given of the program's own accord, so that nothing is mistaken for the implied panel or an end of
a wire way.
"""


class Kind(NamedTuple):
    """A kind of tagged thing: the word for one, where a job states them, how new tags begin, whether it has a place."""

    word: str
    path: str
    stem: str
    placed: bool = False


KINDS = (
    Kind("pack", "bank.packs", "BP", placed=True),
    Kind("inverter", "inverters.units", "INV", placed=True),
    Kind("controller", "roof.controllers", "CC", placed=True),
    Kind("alternator charger", "charging.alternator_chargers", "AC", placed=True),
    Kind("board", "wiring.board", "DB", placed=True),
    Kind("fitting", "fittings", "F", placed=True),
    Kind("load", "loads", "LD"),
    Kind("axle", "vehicle.axles", "AX"),
    Kind("bay", "vehicle.bays", "B"),
    Kind("wire way", "vehicle.ways", "WW"),
    Kind("source", "inverters.sources", "SRC"),
    Kind("kind of day", "day_kinds", "DAY"),
    Kind("stay", "stays", "ST"),
    Kind("equipment", "existing", "EX"),
    Kind("photo", "survey.photos", "PH"),
    Kind("inlet", "ac.inlets", "IN"),
    Kind("panel", "ac.panels", "PNL"),
    Kind("circuit", "ac.circuits", "CK"),
    Kind("selector", "ac.selectors", "SEL"),
    Kind("module", "roof.modules", "PV"),
    Kind("obstacle", "roof.obstacles", "OB"),
    Kind("lane", "roof.lanes", "LN"),
    Kind("string", "roof.strings", "S"),
    Kind("array", "roof.remote", "RA"),
)
"""Every kind of thing that has a tag. A new one is added here, and edits, checks and tables know it."""
_STEMS = {kind.word: kind.stem for kind in KINDS}


def _of(job: Job, kind: Kind) -> tuple[Tagged, ...]:
    """Things of a kind in a job."""
    found = attrgetter(kind.path)(job)
    return found if isinstance(found, tuple) else (found,)


def tagged(job: Job) -> Iterator[tuple[Kind, Tagged]]:
    """Everything with a tag, each with its kind."""
    return ((kind, thing) for kind in KINDS for thing in _of(job, kind))


def path_of(job: Job, tag: str) -> str | None:
    """Where a tagged thing with a place is stated, such as `bank.packs[BP1]`; None where there is none."""
    for kind in KINDS:
        if kind.placed and any(thing.tag == tag for thing in _of(job, kind)):
            return f"{kind.path}[{tag}]" if isinstance(attrgetter(kind.path)(job), tuple) else kind.path
    return None


def used_tags(job: Job) -> set[str]:
    """Every tag that is taken, those with a meaning of their own among them."""
    return {thing.tag for _, thing in tagged(job)} | {*RESERVED, *KEPT_FREE}


def free_tags(job: Job, word: str) -> Iterator[str]:
    """Free tags for a kind of thing, in order: LD1, LD2 ... for a load."""
    used, stem = used_tags(job), _STEMS[word]
    return (f"{stem}{number}" for number in itertools.count(1) if f"{stem}{number}" not in used)


def next_tag(job: Job, word: str) -> str:
    """First free tag for a kind of thing."""
    return next(free_tags(job, word))
