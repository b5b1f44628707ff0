"""Rules of the year's plan: only what is known before the year is lived."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.answers.year.days import plan_notes
from weighty_axle.design.figures import PRACTICE
from weighty_axle.design.table import Design
from weighty_axle.rules.registry import Hit, hit, rule


@rule("year.unplanned", "note", "{words}.", PRACTICE)
def unplanned(design: Design) -> Iterator[Hit]:
    """Days that nobody has planned, once somebody has begun to plan."""
    if design.system.key or not design.job.stays:
        return
    for words in plan_notes(design):
        yield hit(words=words.removesuffix("."))
