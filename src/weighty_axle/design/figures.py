"""A computed figure carries its working: formula, numbers put in, source. Made where the number is made."""

from __future__ import annotations

import math
from collections.abc import Iterator
from functools import reduce
from operator import sub, truediv
from typing import Any, NotRequired, TypedDict, Unpack

from msgspec import Struct

TEXTBOOK = "textbook relation"
PRACTICE = "common practice, no source"


SAME = 1e-5
"""Share within which a value counts as equal to its limit: rounding never makes a Stop.

Far below any meter, far above rounding of sums.
"""


def over(value: float, limit: float) -> bool:
    """Whether a value is above a limit, the two being equal when they differ by rounding only."""
    return value > limit + SAME * abs(limit)


class Given(Struct, frozen=True):
    """A number that was stated, measured or read from a table."""

    name: str
    value: float
    unit: str


class Said(TypedDict):
    """What a figure says beside its value."""

    name: str
    unit: str
    formula: str
    inputs: tuple[Given | Figure, ...]
    source: str
    limit: NotRequired[str]


class Figure(Struct, frozen=True, kw_only=True):
    """A computed number. Inputs that are figures themselves can be opened in turn. `limit` says what bounds it.

    Where the formula is a sum, product, difference, quotient, or the largest or least of its inputs, the constructors
    below make it: they compute the value from the very inputs it shows, so that the two cannot part.
    """

    name: str
    value: float
    unit: str
    formula: str
    inputs: tuple[Given | Figure, ...]
    source: str
    limit: str = ""

    @classmethod
    def total(cls, **said: Unpack[Said]) -> Figure:
        """The sum of its inputs; 0 of none."""
        return cls(value=sum(given.value for given in said["inputs"]), **said)

    @classmethod
    def product(cls, **said: Unpack[Said]) -> Figure:
        """The product of its inputs."""
        return cls(value=math.prod(given.value for given in said["inputs"]), **said)

    @classmethod
    def difference(cls, **said: Unpack[Said]) -> Figure:
        """The first of its inputs less all others."""
        return cls(value=reduce(sub, (given.value for given in said["inputs"])), **said)

    @classmethod
    def quotient(cls, *, by_zero: float | None = None, **said: Unpack[Said]) -> Figure:
        """The first of its inputs divided by all others.

        `by_zero` is the value where one of these is 0; without it that raises ZeroDivisionError.
        """
        if by_zero is not None and any(given.value == 0 for given in said["inputs"][1:]):
            return cls(value=by_zero, **said)
        return cls(value=reduce(truediv, (given.value for given in said["inputs"])), **said)

    @classmethod
    def largest(cls, **said: Unpack[Said]) -> Figure:
        """The largest of its inputs."""
        return cls(value=max(given.value for given in said["inputs"]), **said)

    @classmethod
    def least(cls, **said: Unpack[Said]) -> Figure:
        """The least of its inputs."""
        return cls(value=min(given.value for given in said["inputs"]), **said)


def figures_in(result: Any, path: str = "") -> Iterator[tuple[str, Figure]]:
    """Every figure inside a result, with its dotted path; result types are walked, nothing is listed by hand."""
    if isinstance(result, Figure):
        yield path, result
    elif isinstance(result, dict):
        for key, inner in result.items():
            yield from figures_in(inner, f"{path}[{key}]")
    elif isinstance(result, tuple) and not hasattr(result, "_fields"):  # plain numbers of physics hold no figures
        for index, inner in enumerate(result):
            yield from figures_in(inner, f"{path}[{getattr(inner, 'tag', index)}]")
    elif isinstance(result, Struct):
        for name in result.__struct_fields__:
            yield from figures_in(getattr(result, name), f"{path}.{name}".lstrip("."))
