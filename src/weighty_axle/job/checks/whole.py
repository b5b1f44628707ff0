"""What a job must satisfy to be a job at all: bounds, references, order. Judgement of the design is in rules/."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import get_type_hints

import msgspec
from msgspec.structs import replace

from weighty_axle.job.checks.bank import bank_problems
from weighty_axle.job.checks.brief import load_problems, stay_problems
from weighty_axle.job.checks.build import build_problems
from weighty_axle.job.checks.charging import charging_problems
from weighty_axle.job.checks.inverters import ac_problems, inverter_problems
from weighty_axle.job.checks.place import assembly_problems, hold_problems, lading_problems, outlet_problems
from weighty_axle.job.checks.problem import Problem
from weighty_axle.job.checks.roof import roof_problems
from weighty_axle.job.checks.vehicle import vehicle_problems
from weighty_axle.job.checks.wiring import direct_problems
from weighty_axle.job.models.brief import MOST_LOADS
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.log import MOST_ENTRIES
from weighty_axle.job.tags import RESERVED, tagged

_PARTS = tuple((name, kind) for name, kind in get_type_hints(Job, include_extras=True).items())
"""Parts of a job with their types and bounds."""


def problems(job: Job, since: Job | None = None) -> list[Problem]:
    """Everything that makes this job unacceptable; empty when it is sound.

    What `since` holds already was judged then.
    """
    for name, kind in _PARTS:
        part = getattr(job, name)
        old = getattr(since, name) if since is not None else None
        if part is old:
            continue
        if name == "loads" and old is not None and len(part) <= MOST_LOADS:
            known = set(map(id, old))
            part = tuple(load for load in part if id(load) not in known)
        if name == "log" and old is not None and len(part.entries) <= MOST_ENTRIES:
            known = set(map(id, old.entries))
            part = replace(part, entries=tuple(one for one in part.entries if id(one) not in known))
        plain = msgspec.to_builtins(part)
        try:
            msgspec.convert(plain, kind)
        except msgspec.ValidationError as error:
            found = problem_from(str(error))
            return [Problem(_joined(name, found.place), found.message)]
        tiny = next(_tiny(plain, ""), None)
        if tiny is not None:
            return [Problem(_joined(name, tiny), f"It must be 0 or at least {_plain(LEAST)} in size.")]
    return list(_meaning(job))


LEAST = 1e-9
"""Smallest size of a number that means anything here; smaller ones are slips or damage, and dividing by them overflows.
"""


def _tiny(value: object, place: str) -> Iterator[str]:
    """Places of numbers that are nearly nothing, and not nothing."""
    if isinstance(value, float):
        if 0 < abs(value) < LEAST:
            yield place
    elif isinstance(value, dict):
        for key, inner in value.items():
            yield from _tiny(inner, f"{place}.{key}")
    elif isinstance(value, list | tuple):
        for at, inner in enumerate(value):
            yield from _tiny(inner, f"{place}[{at}]")


def _joined(part: str, place: str) -> str:
    return f"{part}{'' if place.startswith(('[', '.')) or not place else '.'}{place}"


_BOUND = re.compile(r"Expected `(?:float|int|int \| float)` (>=|<=|>|<) (-?[\d.]+(?:e-?\d+)?)")


_UNKNOWN = re.compile(r"Object contains unknown field `([^`]*)`")


_LENGTH = re.compile(r"Expected `(str|array|object)` of length <= (\d+)")


_BOUND_WORDS = {">=": "at least", "<=": "at most", ">": "more than", "<": "less than"}


def _plain(value: float) -> str:
    """A bound as people write it, without powers of ten."""
    return f"{value + 0.0:.9f}".rstrip("0").rstrip(".")


def problem_from(text: str) -> Problem:
    """Problem from the decoder's own words, `Expected ... - at `$.bank.packs[0]``, with bounds as a sentence."""
    message, _, where = text.partition(" - at `")
    bound = _BOUND.match(message)
    if bound:
        message = f"It must be {_BOUND_WORDS[bound[1]]} {_plain(float(bound[2]))}."
    elif unknown := _UNKNOWN.match(message):
        message = f"There is no “{unknown[1]}” here: a newer program may have written it."
    elif "of length >= 1" in message:
        message = "It must not be empty."
    elif longest := _LENGTH.match(message):
        message = f"It must have at most {longest[2]} {'letters' if longest[1] == 'str' else 'entries'}."
    elif "matching regex" in message and "d{4}" in message:
        message = "A day is written as 2027-03-01."
    elif "matching regex" in message and "0-9a-f" in message:
        message = "A photo is named by its sixteen signs."
    elif "matching regex" in message and "A-Z" not in message:
        message = "It must not be blank."
    elif "matching regex" in message:
        message = "A tag is a letter and then letters, digits, _ and -."
    return Problem(where.rstrip("`").removeprefix("$").lstrip("."), message.replace("`", ""))


def _meaning(job: Job) -> Iterator[Problem]:
    yield from _variants(job)
    yield from _tags(job)
    yield from vehicle_problems(job.vehicle)
    yield from load_problems(job)
    yield from stay_problems(job)
    yield from bank_problems(job.bank)
    yield from inverter_problems(job.inverters.spec, "inverters")
    yield from ac_problems(job)
    for group in job.groups:
        yield from inverter_problems(group.inverters.spec, f"groups[{group.tag}].inverters")
        yield from ac_problems(replace(job, inverters=group.inverters, ac=group.ac), f"groups[{group.tag}].")
    yield from roof_problems(job)
    yield from charging_problems(job)
    yield from hold_problems(job)
    yield from assembly_problems(job)
    yield from lading_problems(job)
    yield from outlet_problems(job)
    yield from direct_problems(job)
    yield from build_problems(job.build, job.proving, job.log)
    if job.site.record_low_c >= job.site.design_high_c:
        yield Problem("site.record_low_c", "The record low must be below the design high.")


def _variants(job: Job) -> Iterator[Problem]:
    """Names of designs are their own."""
    seen = {job.design_name}
    for at, one in enumerate(job.variants):
        if one.name in seen:
            yield Problem(f"variants[{at}].name", f"Two designs are called {one.name}; each needs its own name.")
        seen.add(one.name)


def _tags(job: Job) -> Iterator[Problem]:
    seen: dict[str, str] = {}
    for kind, thing in tagged(job):
        word = "item" if kind.placed else kind.word
        place = f"{word} {thing.tag}"
        if thing.tag in RESERVED:
            yield Problem(place, f"{thing.tag} has a meaning of its own; choose another tag.")
        if thing.tag in seen:
            said = f"The tag {thing.tag} is used twice: {seen[thing.tag]} has it too; every item needs its own."
            yield Problem(place, said)
        seen[thing.tag] = f"a {word}" if word[0] not in "aeio" else f"an {word}"
