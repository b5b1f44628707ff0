"""Rules of clearance: room kept at faces, room to work, walls, doors, switches."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.design.figures import PRACTICE, Given
from weighty_axle.design.place.clear import Tight, words_of
from weighty_axle.design.table import Design
from weighty_axle.rules.place.holds import named
from weighty_axle.rules.registry import Hit, hit, rule


@rule(
    "place.no-clearance",
    "check",
    "{item} has {there} {where} to {against}; its datasheet wants {keep} free.",
    "datasheet",
    "Move it, or the thing before it.",
)
def no_clearance(design: Design) -> Iterator[Hit]:
    """Less room at a face than the datasheet keeps free."""
    yield from _tight(design, "kept")


@rule(
    "place.no-room-to-work",
    "check",
    "{item} has {there} {where} to {against}; {keep} are wanted to work at its terminals.",
    PRACTICE,
    "Turn it, so that its terminals face the door.",
)
def no_room_to_work(design: Design) -> Iterator[Hit]:
    """Less room in front of terminals than a hand with a tool takes."""
    yield from _tight(design, "service")


def _tight(design: Design, kind: str) -> Iterator[Hit]:
    for one in design.clear.tight:
        if one.kind == kind:
            yield hit(
                one.tag,
                one.against,
                item=one.tag,
                there=one.there_mm,
                where=words_of(one.face),
                against=_against(design, one),
                keep=Given("", 1000 * one.keep_m, "mm"),
            )


def _against(design: Design, one: Tight) -> str:
    bay = next((bay for bay in design.whole.vehicle.bays if bay.tag == one.against), None)
    return f"the wall of {bay.name}" if bay is not None else one.against


@rule("place.through-wall", "check", "{item} reaches {over} through the {wall} of {bay}.", "geometry")
def through_wall(design: Design) -> Iterator[Hit]:
    """A thing larger than its bay, or standing through its wall."""
    bays = {bay.tag: bay.name for bay in design.whole.vehicle.bays}
    walls = {"front": "front wall", "rear": "rear wall", "above": "ceiling"}
    for one in design.clear.tight:
        if one.kind == "wall":
            over = Given("", -one.there_mm.value, "mm")
            yield hit(one.tag, one.against, item=one.tag, over=over, wall=walls[one.face], bay=bays[one.against])


@rule(
    "place.switch-out-of-reach",
    "check",
    "{item} is {depth} in from the door of {bay}{behind}: nobody reaches its switch.",
    PRACTICE,
    "Put it in front, or a remote switch by the door.",
)
def switch_out_of_reach(design: Design) -> Iterator[Hit]:
    """A switch that is too deep in a bay, or behind something; inverters with a remote switch need not be reached,
    and of some it is stated that they are not.
    """
    bays = {bay.tag: bay.name for bay in design.whole.vehicle.bays}
    stacks = (design.whole.inverters, *(group.inverters for group in design.whole.groups))
    known = {unit.tag for stack in stacks for unit in stack.units if stack.remote_switch or not unit.reachable}
    known |= {bar.tag for bar in design.whole.bars if bar.main_switch_a is None}
    for one in design.clear.hidden:
        if one.tag not in known:
            behind = f", behind {named(one.behind)}" if one.behind else ""
            yield hit(one.tag, *one.behind, item=one.tag, depth=one.depth_m, bay=bays[one.bay], behind=behind)


@rule("place.through-door", "check", "{item} ({box}) does not go through the door of {bay}: {clear} clear.", "geometry")
def through_door(design: Design) -> Iterator[Hit]:
    """A thing whose smallest face goes through the door in no tilt."""
    yield from _no_door(design, together=False)


@rule(
    "place.board-through-door",
    "check",
    "{item} built on the bench ({box}) does not go through the door of {bay}: {clear} clear.",
    "geometry",
    "Build it in two parts, or in the bay.",
)
def board_through_door(design: Design) -> Iterator[Hit]:
    """A board with everything on it that is larger than its door."""
    yield from _no_door(design, together=True)


def _no_door(design: Design, *, together: bool) -> Iterator[Hit]:
    bays = {bay.tag: bay.name for bay in design.whole.vehicle.bays}
    for one in design.clear.no_door:
        if one.together == together:
            box, clear = (" × ".join(f"{side:g}" for side in sides) + " m" for sides in (one.box_m, one.opening_m))
            yield hit(one.tag, one.bay, item=one.tag, bay=bays[one.bay], box=box, clear=clear)
