"""Rules of what is bought, against what the design wants now. Silent until the first part is ordered."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.answers.kept import kept
from weighty_axle.answers.parts.listing import STATUS_WORDS
from weighty_axle.answers.parts.needed import needs
from weighty_axle.design.figures import PRACTICE
from weighty_axle.design.table import Design
from weighty_axle.job.edits.build import drop_part
from weighty_axle.rules.registry import Hit, hit, rule


def _wanted(design: Design) -> dict[str, float]:
    """How many of every part the design wants; nothing where nobody has bought anything, or for another system."""
    if design.system.key or all(one.status == "to_order" for one in design.whole.build.parts):
        return {}
    return _counted(design)


@kept(asks=(needs,))
def _counted(design: Design) -> dict[str, float]:
    found: dict[str, float] = {}
    for need in needs(design):
        found[need.part] = found.get(need.part, 0.0) + need.many
    return found


@rule(
    "parts.too-few",
    "check",
    "{part}: {have}, the design now wants {wanted}.",
    PRACTICE,
    "Order what is missing, or go back to the design it was ordered for.",
)
def too_few(design: Design) -> Iterator[Hit]:
    """A part of which fewer are bought than the design wants now."""
    wanted = _wanted(design)
    for one in design.whole.build.parts if wanted else ():
        many = wanted.get(one.part, 0.0)
        if one.status != "to_order" and one.count is not None and one.count < many - 0.01:
            yield hit(part=one.part, have=f"{one.count:g} {STATUS_WORDS[one.status]}", wanted=f"{many:.4g}")


@rule(
    "parts.not-wanted",
    "note",
    "{part} is {status} and no part of the design any more.",
    PRACTICE,
    "Give it back, or keep it for another job.",
)
def not_wanted(design: Design) -> Iterator[Hit]:
    """A part that was bought and is in no design any more."""
    wanted = _wanted(design)
    for one in design.whole.build.parts if wanted else ():
        if one.status != "to_order" and one.part not in wanted:
            yield hit(remedy=drop_part(one.part), part=one.part, status=STATUS_WORDS[one.status])
