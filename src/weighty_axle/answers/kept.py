"""Answers on demand that rules ask for after every edit: worked out again only when what they read has changed."""

from __future__ import annotations

import functools
from collections.abc import Callable
from operator import attrgetter
from typing import Any, TypeVar

from weighty_axle.design.alike import alike
from weighty_axle.design.table import Design

Found = TypeVar("Found")

READS: dict[Callable[[Design], Any], tuple[str, ...]] = {}
"""What each answer that is kept reads in a design and in those beside it: a test gives it nothing else."""


def kept(
    *reads: str, asks: tuple[Callable[[Design], Any], ...] = (), asks_each: tuple[Callable[[Design], Any], ...] = ()
) -> Callable[[Callable[[Design], Found]], Callable[[Design], Found]]:
    """Keep the last result of an answer for each system, with what it was made from: the paths it reads, and other
    answers on demand it `asks` for, of the design or of each system.

    Raises: AttributeError at the first call for a path no design has.
    """
    of_each = tuple(attrgetter(path) for path in reads if not path.startswith("whole."))
    of_all = tuple(attrgetter(path) for path in reads if path.startswith("whole."))

    def keeping(answer: Callable[[Design], Found]) -> Callable[[Design], Found]:
        last: dict[str, tuple[Design, tuple[Any, ...], Found]] = {}

        @functools.wraps(answer)
        def found(design: Design) -> Found:
            was = last.get(design.system.key)
            if was is not None and was[0] is design:
                return was[2]
            parts = (
                *(read(design) for read in of_all),
                *(read(own) for own in (design, *design.others) for read in of_each),
                *(ask(design) for ask in asks),
                *(ask(own) for own in (design, *design.others) for ask in asks_each),
            )
            if was is not None and len(was[1]) == len(parts) and all(map(alike, was[1], parts)):
                result = was[2]
            else:
                result = answer(design)
                if was is not None and alike(was[2], result):
                    result = was[2]  # what asks for it stays as it is
            last[design.system.key] = design, parts, result
            return result

        READS[found] = (*reads, *(path for ask in (*asks, *asks_each) for path in READS[ask]))
        return found

    return keeping
