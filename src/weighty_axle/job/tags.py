"""The one registry of tagged things: what kinds there are, where a job states them, how their tags begin."""

from __future__ import annotations

import itertools
from collections.abc import Iterator
from typing import Any, NamedTuple

from weighty_axle.job.models.charging import VEHICLE
from weighty_axle.job.models.document import Job, Tagged
from weighty_axle.job.models.inverters import FROM_INVERTERS, IMPLIED_INLET, IMPLIED_PANEL
from weighty_axle.job.models.vehicle import WAY_ENDS

RESERVED = (FROM_INVERTERS, IMPLIED_INLET, VEHICLE)
"""Tags that mean something of their own; nothing may have them."""
KEPT_FREE = (IMPLIED_PANEL, *WAY_ENDS)
"""Tags that are never given of the program's own accord, so that nothing is mistaken for the implied panel or an end of
a wire way.
"""


class Kind(NamedTuple):
    """A kind of tagged thing: the word for one, where jobs state them, how new tags begin, whether it has a place."""

    word: str
    paths: tuple[str, ...]
    stem: str
    placed: bool = False


KINDS = (
    Kind("pack", ("bank.packs", "bars.bank.packs"), "BP", placed=True),
    Kind("inverter", ("inverters.units", "groups.inverters.units"), "INV", placed=True),
    Kind("controller", ("roof.controllers",), "CC", placed=True),
    Kind("converter", ("converters",), "DC", placed=True),
    Kind("board", ("wiring.board", "bars"), "DB", placed=True),
    Kind("fitting", ("fittings",), "F", placed=True),
    Kind("load", ("loads",), "LD"),
    Kind("axle", ("vehicle.axles",), "AX"),
    Kind("bay", ("vehicle.bays",), "B"),
    Kind("zone", ("vehicle.zones",), "Z"),
    Kind("wire way", ("vehicle.ways",), "WW"),
    Kind("source", ("inverters.sources", "groups.inverters.sources"), "SRC"),
    Kind("kind of day", ("day_kinds",), "DAY"),
    Kind("stay", ("stays",), "ST"),
    Kind("equipment", ("existing",), "EX"),
    Kind("photo", ("survey.photos",), "PH"),
    Kind("inlet", ("ac.inlets", "groups.ac.inlets"), "IN"),
    Kind("panel", ("ac.panels", "groups.ac.panels"), "PNL"),
    Kind("circuit", ("ac.circuits", "groups.ac.circuits"), "CK"),
    Kind("selector", ("ac.selectors", "groups.ac.selectors"), "SEL"),
    Kind("inverter group", ("groups",), "G"),
    Kind("DC panel", ("dc.panels",), "DP"),
    Kind("DC circuit", ("dc.circuits",), "DK"),
    Kind("DC switch", ("dc.switches",), "DS"),
    Kind("protection", ("fitted",), "FT"),
    Kind("signal lead", ("signals",), "SL"),
    Kind("stud as found", ("stacks",), "TS"),
    Kind("removed thing", ("removed",), "OUT"),
    Kind("fixing", ("holds",), "HD"),
    Kind("board built on the bench", ("assemblies",), "PB"),
    Kind("outlet", ("outlets",), "OU"),
    Kind("lading", ("ladings",), "LO"),
    Kind("module", ("roof.modules",), "PV"),
    Kind("obstacle", ("roof.obstacles",), "OB"),
    Kind("lane", ("roof.lanes",), "LN"),
    Kind("string", ("roof.strings",), "S"),
    Kind("array", ("roof.remote",), "RA"),
    Kind("alternator", ("charging.alternators",), "AL"),
    Kind("stage", ("stages",), "SG"),
    Kind("worker", ("build.workers",), "WK"),
    Kind("task of the shop", ("build.own",), "TK"),
)
"""Every kind of thing that has a tag. A new one is added here, and edits, checks, sheets and tables know it."""
_STEMS = {kind.word: kind.stem for kind in KINDS}


def _walk(owner: Any, steps: list[str], base: str) -> Iterator[tuple[str, Tagged]]:
    """Things at the end of a path with where each is stated; lists on the way are gone through one by one."""
    if owner is None:
        return
    if isinstance(owner, tuple):
        for one in owner:
            yield from _walk(one, steps, f"{base}[{one.tag}]")
    elif not steps:
        yield base, owner
    else:
        yield from _walk(getattr(owner, steps[0]), steps[1:], f"{base}.{steps[0]}" if base else steps[0])


def _of(job: Job, kind: Kind) -> Iterator[tuple[str, Tagged]]:
    """Things of a kind in a job, each with where it is stated."""
    for path in kind.paths:
        yield from _walk(job, path.split("."), "")


def tagged(job: Job) -> Iterator[tuple[Kind, Tagged]]:
    """Everything with a tag, each with its kind."""
    return ((kind, thing) for kind in KINDS for _, thing in _of(job, kind))


def new_tags(before: Job, after: Job) -> dict[str, Kind]:
    """Tags a changed job has and the one before had not, with their kinds; only parts that are others are gone
    through.
    """
    found = {}
    for kind in KINDS:
        for path in kind.paths:
            head, *rest = path.split(".")
            was, now = getattr(before, head), getattr(after, head)
            if was is not now:
                known = {thing.tag for _, thing in _walk(was, rest, head)}
                found.update({thing.tag: kind for _, thing in _walk(now, rest, head) if thing.tag not in known})
    return found


def stated_at(job: Job) -> dict[str, str]:
    """Where every tagged thing is stated, such as `bank.packs[BP1]`, by tag."""
    return {thing.tag: path for kind in KINDS for path, thing in _of(job, kind)}


def path_of(job: Job, tag: str) -> str | None:
    """Where a tagged thing with a place is stated; None where there is none."""
    return next((path for kind in KINDS if kind.placed for path, thing in _of(job, kind) if thing.tag == tag), None)


def tags_of(job: Job, *words: str) -> tuple[str, ...]:
    """Tags of things of some kinds."""
    return tuple(thing.tag for kind in KINDS if kind.word in words for _, thing in _of(job, kind))


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
