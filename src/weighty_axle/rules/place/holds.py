"""Rules of fixing: bolts and straps that carry less than they are asked to, and what nothing holds."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.design.figures import PRACTICE, over
from weighty_axle.design.place.holds import enough
from weighty_axle.design.table import Design
from weighty_axle.job.edits.edit import WHOLE, Edit, with_value
from weighty_axle.job.models.place import Hold
from weighty_axle.rules.registry import Hit, hit, rule

MOST_NAMED = 6
"""Tags a sentence names before it counts."""


@rule(
    "place.hold-too-weak",
    "stop",
    "{hold} holds {items} and is asked for {use} of what it carries {case}.",
    "UN Regulation 100, EN 12195-1, EN 1993-1-8 (recalled)",
    "More or larger bolts, rows further apart, plates behind the panel, or bolts into structure.",
)
def hold_too_weak(design: Design) -> Iterator[Hit]:
    """A fixing used beyond what it carries; the remedy is the fewest bolts that do, into structure where needed."""
    stated = {one.tag: one for one in design.whole.holds}
    for one in design.holds.holds.values():
        if over(one.use_share.value, 1.0):
            yield hit(
                one.tag,
                *one.items,
                hold=one.tag,
                items=named(one.items),
                use=one.use_share,
                case=one.use_share.limit,
                remedy=_enough(design, stated[one.tag]),
            )


def _enough(design: Design, hold: Hold) -> Edit | None:
    better = enough(hold, design.whole.vehicle, design.items)
    if better is None:
        return None
    words = f"Hold it with {better.bolts} × {better.bolt}{' into structure' if better.into != hold.into else ''}"
    path = f"holds[{hold.tag}]"
    return Edit(words, lambda job: with_value(job, path, better), path=path, system=WHOLE)


@rule("place.hold-of-nothing", "note", "{hold} names {items}, which this vehicle has not.", "geometry")
def hold_of_nothing(design: Design) -> Iterator[Hit]:
    """Tags that no item has: it was taken out, or was on the roof."""
    known = {item.tag for item in design.items}
    for hold in design.whole.holds:
        missing = tuple(tag for tag in hold.items if tag not in known)
        if missing:
            yield hit(hold.tag, hold=hold.tag, items=named(missing))


@rule(
    "place.loose",
    "note",
    "No fixing is stated for {items}.",
    PRACTICE,
    "In Place, leaf Fixing: hold everything that is loose, with the fewest bolts that carry it.",
)
def loose(design: Design) -> Iterator[Hit]:
    """New things of some weight without a stated fixing."""
    if design.holds.loose:
        yield hit(*design.holds.loose, items=named(design.holds.loose))


def named(tags: tuple[str, ...]) -> str:
    """Tags as a sentence names them, the rest counted."""
    if len(tags) <= MOST_NAMED:
        return ", ".join(tags)
    return f"{', '.join(tags[:MOST_NAMED])} and {len(tags) - MOST_NAMED} more"
