"""Rules of joints: studs, lugs, and how the parts lie on a stud."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.answers.wiring.joints import ENDS, MOST_LUGS, Joint, joints, stacks_judged, stud_row
from weighty_axle.design.conductors import conductor_area_mm2
from weighty_axle.design.figures import PRACTICE, Given, over
from weighty_axle.design.table import Design
from weighty_axle.job.edits.edit import of_whole, set_value
from weighty_axle.rules.registry import Hit, amps, hit, rule
from weighty_axle.units import conductor_words

PART_WORDS = {
    "bar": "bar",
    "fuse": "fuse",
    "lug": "lug",
    "washer": "washer",
    "spring_washer": "spring washer",
    "nut": "nut",
}


BAR_A_PER_MM2 = 2.0
"""Current density of a bare copper bar in still air [A/mm2]. Source: common practice, no source."""


def _looked_at(design: Design) -> tuple[Joint, ...]:
    """Joints, where somebody has looked at any."""
    return joints(design) if design.whole.stacks else ()


@rule(
    "wiring.stack-order",
    "stop",
    "{stud}: a {part} lies between faces that carry current; about {heat} in it at {current}: it can melt the holder.",
    PRACTICE,
    "The fuse flat on the bar, the lug on the fuse, washers and nut on top: nothing else between.",
)
def stack_order(design: Design) -> Iterator[Hit]:
    """Parts between current faces that are not metal meant for it, as found at an inspection."""
    made = _looked_at(design)
    by_tag = {one.tag: one for one in made}
    for one in stacks_judged(design, made):
        if one.heat_w is not None:
            joint = by_tag[one.found.way]
            words = f"{one.found.tag}: put in order"
            right = joint.of(one.found.end).order
            remedy = set_value(f"stacks[{one.found.tag}].order", right, words) if right else None
            yield hit(
                one.found.tag,
                one.found.way,
                stud=f"{one.found.way}, {one.found.end}",
                part=PART_WORDS[one.between[0]],
                heat=one.heat_w,
                current=amps(joint.amps),
                remedy=of_whole(remedy) if remedy is not None else None,
            )


@rule(
    "wiring.stack-lugs",
    "check",
    "{stud}: {count} lugs on one stud; {most} are the most that stay tight.",
    PRACTICE,
    "Another stud, or a bar between; the lug that carries most lies lowest.",
)
def stack_lugs(design: Design) -> Iterator[Hit]:
    """More lugs on a stud than stay tight, as found at an inspection."""
    for one in stacks_judged(design, _looked_at(design)):
        count = one.found.order.count("lug")
        if count > MOST_LUGS:
            stud = f"{one.found.way}, {one.found.end}"
            yield hit(one.found.tag, one.found.way, stud=stud, count=str(count), most=str(MOST_LUGS))


@rule("wiring.stack-loose", "check", "{stud}: no spring washer and nut on top; it works loose on the road.", PRACTICE)
def stack_loose(design: Design) -> Iterator[Hit]:
    """A stud without what keeps it tight."""
    for one in stacks_judged(design, _looked_at(design)):
        if not one.locked:
            yield hit(one.found.tag, one.found.way, stud=f"{one.found.way}, {one.found.end}")


@rule("wiring.stack-nowhere", "check", "{tag} is said to be on {way}; there is no such way.", PRACTICE)
def stack_nowhere(design: Design) -> Iterator[Hit]:
    """A stud of a way that is not there."""
    if design.system.key:
        return
    known = {way.tag for one in (design, *design.others) for way in one.tree.ways}
    for one in design.whole.stacks:
        if one.way not in known:
            yield hit(one.tag, tag=one.tag, way=one.way)


@rule("wiring.stud-small", "stop", "{end}: {current} through a stud of {stud}, which carries {limit}.", PRACTICE)
def stud_small(design: Design) -> Iterator[Hit]:
    """A stated stud under what flows through it."""
    flows = {one.tag: one for one in design.flow.ways}
    for name, size in design.job.wiring.studs.items():
        way, _, end = name.rpartition(" ")
        row = stud_row(size)
        if way in flows and end in ENDS and over(abs(flows[way].most_a.value), row.carries_a):
            yield hit(way, end=name, current=flows[way].most_a, stud=size, limit=amps(row.carries_a))


@rule("wiring.stud-no-lug", "check", "{end}: lugs for {size} are not made for a stud of {stud}.", PRACTICE)
def stud_no_lug(design: Design) -> Iterator[Hit]:
    """A conductor too thick for a stated stud's lug."""
    ways = {way.tag: way for way in design.tree.ways if way.known}
    for name, size in design.job.wiring.studs.items():
        way, _, end = name.rpartition(" ")
        if way in ways and end in ENDS and over(conductor_area_mm2(ways[way].size), stud_row(size).largest_mm2):
            yield hit(way, end=name, size=conductor_words(ways[way].size), stud=size)


@rule("wiring.stud-nowhere", "check", "A stud is stated for {end}; there is no such end of a way.", PRACTICE)
def stud_nowhere(design: Design) -> Iterator[Hit]:
    """A stud of an end that is not there."""
    if design.system.key:
        return
    known = {f"{way.tag} {end}" for one in (design, *design.others) for way in one.tree.ways for end in ENDS}
    for name in design.whole.wiring.studs:
        if name not in known:
            yield hit(end=name)


@rule(
    "wiring.bar-hot",
    "check",
    "{bar}: {current} flows along a bar of {section}: {density} for each square millimetre, {limit} is usual.",
    PRACTICE,
)
def bar_hot(design: Design) -> Iterator[Hit]:
    """Current density of a bar between two studs."""
    links = design.job.bank.links
    if not design.tree.roots or not design.flow.states:
        return
    root = design.tree.roots[0]
    segments = [way.tag for way in root.ways if way.kind == "bar"]
    lasting = [state for state in design.flow.states if state.key != "surge"]
    most = max((abs(state.ways[tag].amps) for state in lasting for tag in segments if tag in state.ways), default=0.0)
    if over(most / links.bar_mm2, BAR_A_PER_MM2):
        yield hit(
            root.bar,
            bar=root.bar,
            current=amps(most),
            section=Given("", links.bar_mm2, "mm2"),
            density=amps(most / links.bar_mm2),
            limit=amps(BAR_A_PER_MM2),
        )
