"""Rules of room: gas, fuel, heat and water near by, and what burns behind a hot thing."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.design.figures import PRACTICE, Given
from weighty_axle.design.table import Design
from weighty_axle.rules.place.holds import named
from weighty_axle.rules.registry import Hit, hit, rule

HOT = ("pack", "inverter", "controller", "converter")
"""Kinds of thing that get hot, or burn, when they fail."""


@rule(
    "place.by-zone",
    "stop",
    "{item} stands {gap} from {zone}; {keep} are to be kept.",
    "as surveyed; local codes and licensed trades decide what is to be kept",
    "Move it, or have the line or tank moved by who may.",
)
def by_zone(design: Design) -> Iterator[Hit]:
    """A part of the system nearer to gas, fuel, heat, exhaust or water than was stated."""
    for one in design.room.near:
        keep = Given("", one.keep_m, "m")
        yield hit(one.tag, one.zone, item=one.tag, gap=one.gap_m, zone=one.what, keep=keep)


@rule(
    "place.burns-behind",
    "check",
    "{hold} holds {items} on plywood without anything behind them that does not burn.",
    PRACTICE,
    "Cement board or sheet metal between the plywood and whatever gets hot.",
)
def burns_behind(design: Design) -> Iterator[Hit]:
    """What gets hot fixed straight on plywood."""
    hot = {item.tag for item in design.items if item.kind in HOT}
    for hold in design.whole.holds:
        found = tuple(tag for tag in hold.items if tag in hot)
        if found and hold.into == "plywood" and hold.backing == "none":
            yield hit(hold.tag, *found, hold=hold.tag, items=named(found))
