"""A computed figure carries its working: formula, numbers put in, source. Made where the number is made."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from msgspec import Struct

TEXTBOOK = "textbook relation"
PRACTICE = "common practice, no source"


SAME = 1e-5
"""Share within which a value counts as equal to its limit: rounding never makes a Stop. Far below any meter, far above rounding of sums."""


def over(value: float, limit: float) -> bool:
    """Whether a value is above a limit, the two being equal when they differ by rounding only."""
    return value > limit + SAME * abs(limit)


class Given(Struct, frozen=True):
    """A number that was stated, measured or read from a table."""

    name: str
    value: float
    unit: str


class Figure(Struct, frozen=True):
    """A computed number. Inputs that are figures themselves can be opened in turn. `limit` says what bounds it."""

    name: str
    value: float
    unit: str
    formula: str
    inputs: tuple[Given | Figure, ...]
    source: str
    limit: str = ""


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
