"""Jobs nobody would draw by hand: made from the models themselves, with slips, bounds and odd counts, as far as the
checks accept them.
"""

from __future__ import annotations

import copy
import json
import random
from collections.abc import Callable, Iterator
from typing import Any

import msgspec
from msgspec import inspect

from tests.jobs import names, plain
from tests.plants import SHAPES
from weighty_axle import demos
from weighty_axle.job.checks.problem import JobError
from weighty_axle.job.files import store
from weighty_axle.job.models.document import Job
from weighty_axle.reference.first_job import first_job
from weighty_axle.reference.vehicle_types import vehicle_types

Site = tuple[tuple[Any, ...], Any]
"""A place in a document and the model's type of what stands there."""
SLIPS = (0.001, 0.01, 0.1, 0.1, 0.5, 0.9, 1.1, 2.0, 10.0, 10.0, 100.0, 1000.0)
WORDS = (
    "=1+1",
    "+a",
    "-b",
    "@c",
    "'quoted'",
    "<b>bold</b>",
    "<img src=x>",
    "&amp;",
    "a;b",
    'a"b',
    "line\nbreak",
    "car\rriage",
    "tab\there",
    " blank ",
    "\u00a0",
    "żółw Łódź",
    "Říp ěšč",
    "Ștefan țară",
    "Ğüş",
    "Ωμέγα",
    "Київ",
    "日本",
    "🚌",
    "\u202eright",
    "\u0301",
    "x" * 79,
    "day Parked day",
    "100%",
    "0",
    "nul\x00esc\x1b",
    "\ufeffmark",
)


def bases() -> list[Job]:
    """The demo jobs, a new job around every vehicle type, and demos in every shape of plant."""
    shipped = [demos.demo(name) for name in demos.names()]
    shaped = [shape(plain(name)) for shape in SHAPES.values() for name in names()]
    return [*shipped, *(first_job(kind) for kind in vehicle_types().rows), *shaped]


def accepted(seed: int) -> Job:
    """A generated job that the checks accept; the same one for the same seed."""
    dice = random.Random(seed)
    document = json.loads(store.encode(dice.choice(_BASES or _BASES.extend(bases()) or _BASES)))
    job = store.decode(json.dumps(document).encode())
    hard, part = dice.choice((0.1, 0.5, 0.95)), dice.choice(("", "", *(one for one in _PARTS if document[one])))
    for _ in range(dice.choice((4, 10, 25, 60))):
        # A change the checks refuse is taken back; the others stand.
        tried = copy.deepcopy(document)
        for _ in range(dice.choice((1, 1, 2, 4))):
            change(tried, dice, hard, part)
        try:
            job = store.decode(json.dumps(tried).encode())
        except JobError:
            continue
        document = tried
    return job


_BASES: list[Job] = []
_MODEL = inspect.type_info(Job)
_PARTS = (
    "bank",
    "inverters",
    "ac",
    "roof",
    "charging",
    "wiring",
    "vehicle",
    "loads",
    "bars",
    "groups",
    "converters",
    "dc",
    "ladings",
    "holds",
)


def change(document: Any, dice: random.Random, hard: float, part: str) -> None:
    """One change in a document or one part of it; every field of the models has the same chance.

    `hard` is the share of numbers put to a bound.
    """
    sites = list(_sites(document, _MODEL, ()))
    by_field: dict[tuple[Any, ...], list[Site]] = {}
    for site in sites:
        if part and site[0][0] != part:
            continue
        by_field.setdefault(tuple("#" if isinstance(one, int) else one for one in site[0]), []).append(site)
    if not by_field:  # this document states nothing there
        return
    # How many of a thing there are breaks more than any one of its numbers: lists come up more often than their share.
    lists = [name for name, found in by_field.items() if isinstance(_bare(found[0][1]), inspect.VarTupleType)]
    names = lists if lists and dice.random() < 0.2 else list(by_field)
    path, kind = dice.choice(by_field[dice.choice(names)])
    *way, last = path
    owner = document
    for step in way:
        owner = owner[step]
    owner[last] = _other(owner[last], kind, dice, hard)


def _bare(kind: Any) -> Any:
    """A type without title and help around it."""
    while isinstance(kind, inspect.Metadata):
        kind = kind.type
    return kind


def _sites(value: Any, kind: Any, path: tuple[Any, ...]) -> Iterator[Site]:
    kind = _bare(kind)
    if path and path[-1] not in ("format", "format_version"):
        yield path, kind
    if isinstance(kind, inspect.UnionType):
        kind = _bare(next((one for one in kind.types if not isinstance(one, inspect.NoneType)), kind))
    if isinstance(kind, inspect.StructType) and value is not None:
        for at, field in enumerate(kind.fields):
            yield from _sites(
                value[at if kind.array_like else field.name], field.type, (*path, at if kind.array_like else field.name)
            )
    elif isinstance(kind, inspect.VarTupleType) and value:
        for at, inner in enumerate(value):
            yield from _sites(inner, kind.item_type, (*path, at))
    elif isinstance(kind, inspect.DictType):
        for key, inner in value.items():
            yield from _sites(inner, kind.value_type, (*path, key))


def _other(value: Any, kind: Any, dice: random.Random, hard: float) -> Any:
    kind = _bare(kind)
    if isinstance(kind, inspect.UnionType):
        some = [_bare(one) for one in kind.types if not isinstance(one, inspect.NoneType)]
        if value is not None and len(some) < len(kind.types) and dice.random() < 0.3:
            return None
        return _other(value, dice.choice(some), dice, hard)
    makers: dict[type, Callable[[], Any]] = {
        inspect.FloatType: lambda: _number(value, kind, dice, hard),
        inspect.IntType: lambda: round(_number(value, kind, dice, hard)),
        inspect.BoolType: lambda: not value,
        inspect.LiteralType: lambda: dice.choice(kind.values),
        inspect.StrType: lambda: _words(value, kind, dice),
        inspect.VarTupleType: lambda: _several(value, kind, dice),
    }
    return makers[type(kind)]() if type(kind) in makers else value


def _number(value: Any, kind: Any, dice: random.Random, hard: float) -> float:
    """A slip of the value, a bound, the smallest number past an open bound, or anything between the bounds."""
    low = kind.ge if kind.ge is not None else kind.gt
    high = kind.le if kind.le is not None else kind.lt
    if isinstance(value, int | float) and not isinstance(value, bool) and dice.random() > hard:
        return min(max(value * dice.choice(SLIPS), low if low is not None else -1e9), high if high is not None else 1e9)
    low, high = (low if low is not None else -1000.0), (high if high is not None else 1000.0)
    edge = dice.choice((0, 1, 2, 3))
    if edge == 0:
        return (
            low
            if kind.gt is None
            else low + dice.choice((1e-300, 1e-12, 1e-6, 1e-3))
            if isinstance(kind, inspect.FloatType)
            else low + 1
        )
    if edge == 1:
        return high if kind.lt is None else high - 1e-9
    return dice.uniform(low, high) if edge == 2 else dice.choice((0, 1, 2, 3))


def _words(value: Any, kind: Any, dice: random.Random) -> str:
    if kind.pattern:
        return (
            value
            if isinstance(value, str) and dice.random() < 0.5
            else dice.choice(("A.B", "L1", "MAIN", "INV1", "ROOF", "x", "A" * 12))
        )
    return dice.choice(("", *WORDS, "w" * min(kind.max_length or 50, 2000)))[: kind.max_length]


def _several(value: list[Any], kind: Any, dice: random.Random) -> list[Any]:
    """None of them, one, all but one, in another order, or many more, each with a tag of its own."""
    if not value:
        return value
    made = dice.choice(("none", "one", "fewer", "order", "twice", "most"))
    if made == "none":
        return []
    if made == "one":
        return [dice.choice(value)]
    if made == "fewer":
        return [one for one in value if one is not dice.choice(value)]
    if made == "order":
        return dice.sample(value, len(value))
    count = 2 * len(value) if made == "twice" else dice.choice((kind.max_length or 40, 40))
    several = [copy.deepcopy(value[at % len(value)]) for at in range(min(count, kind.max_length or 40))]
    for at, one in enumerate(several[len(value) :]):
        if isinstance(one, dict) and "tag" in one:
            one["tag"] = f"{one['tag'][:6]}x{at}"
    return several


def same(job: Job, other: Job) -> bool:
    """Whether two jobs say the same."""
    return msgspec.json.encode(job) == msgspec.json.encode(other)
