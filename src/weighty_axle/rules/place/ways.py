"""Rules of wire ways: what no way leads to, what is too full, what joins nothing."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.answers.place.ways_filled import all_cables, ways_filled
from weighty_axle.design.figures import PRACTICE, over
from weighty_axle.design.table import Design
from weighty_axle.rules.registry import Hit, hit, rule, share


@rule(
    "place.no-way",
    "check",
    "No wire way leads from {start} to {end}: {cable} is taken along the axes, {length}.",
    "geometry",
    "State the way it takes in Vehicle, or measure it.",
)
def no_way(design: Design) -> Iterator[Hit]:
    """A cable between two spaces that no stated way joins; one that was measured has its length."""
    for one in all_cables(design):
        if one.path is None and one.length_m.formula != "measured":
            ends = tuple(tag for tag in (one.start, one.end) if tag not in ("bank", "ROOF"))
            yield hit(one.tag, *ends, start=one.start, end=one.end, cable=one.tag, length=one.length_m)


@rule(
    "place.way-full",
    "check",
    "{way} is filled to {fill} by {count} cables; {allowed} is what can be pulled and cooled.",
    "NEC chapter 9 table 1 (recalled)",
    "A wider way, or a second one.",
)
def way_full(design: Design) -> Iterator[Hit]:
    """More in a way than its section takes."""
    for one in ways_filled(design):
        if over(one.fill_share.value, one.allowed_share):
            yield hit(
                one.way.tag,
                *(cable.tag for cable in one.cables[:6]),
                way=one.way.name,
                fill=one.fill_share,
                count=str(sum(cable.count for cable in one.cables)),
                allowed=share(one.allowed_share),
            )


@rule("place.way-joins-nothing", "check", "{way} starts and ends in {space}.", "geometry", "State its other end.")
def way_joins_nothing(design: Design) -> Iterator[Hit]:
    """A way with both ends in one space."""
    for way in design.whole.vehicle.ways:
        if way.start == way.end:
            yield hit(way.tag, way=way.name, space=way.start)


@rule(
    "place.outlet-from-nowhere",
    "check",
    "{outlet} comes from {start}, which has no place: its cable has no length.",
    "geometry",
    "Give the panel a place.",
)
def outlet_from_nowhere(design: Design) -> Iterator[Hit]:
    """An outlet whose cable starts at something without a place."""
    drawn = {one.end for one in design.house.cables}
    for one in design.whole.outlets:
        if one.tag not in drawn and one.measured_m is None:
            yield hit(one.tag, one.start, outlet=one.name, start=one.start)


@rule(
    "place.behind-closed-wall",
    "check",
    "{outlet} {change} since the {wall} was closed; its cable is behind it.",
    PRACTICE,
    "Open the wall, or put it back.",
)
def behind_closed_wall(design: Design) -> Iterator[Hit]:
    """What was changed on a wall that is closed."""
    now = {one.tag: one for one in design.whole.outlets}
    for closed in design.whole.closed:
        then = {one.outlet: one for one in closed.outlets}
        for tag, was in then.items():
            one = now.get(tag)
            if one is None or one.wall != closed.wall:
                yield hit(tag, outlet=tag, change="has gone", wall=wall_words(closed.wall))
            elif one.place != was.place:
                yield hit(tag, outlet=tag, change="has moved", wall=wall_words(closed.wall))
            elif one.serves != was.serves:
                yield hit(tag, outlet=tag, change="serves something else", wall=wall_words(closed.wall))
        for one in design.whole.outlets:
            if one.wall == closed.wall and one.tag not in then:
                yield hit(one.tag, outlet=one.tag, change="is new", wall=wall_words(closed.wall))


def wall_words(wall: str) -> str:
    """A wall, floor or ceiling as people say it."""
    return wall if wall in ("floor", "ceiling") else f"{wall} wall"
