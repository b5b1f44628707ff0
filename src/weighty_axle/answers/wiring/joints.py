"""What every end of every way is made of: lug by conductor and stud, torque, shrink, and how the parts lie."""

from __future__ import annotations

import functools
from typing import Literal, NamedTuple

from msgspec import Struct

from weighty_axle.answers.kept import kept
from weighty_axle.design.conductors import conductor_area_mm2, outer_mm
from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Figure, Given
from weighty_axle.design.table import Design
from weighty_axle.design.wiring.tree import TreeWay
from weighty_axle.job.models.document import Item
from weighty_axle.job.models.wiring import FoundStack, StackPart, StudSize
from weighty_axle.job.stated import Clear
from weighty_axle.reference.hardware import Stud, shrinks, studs

EndName = Literal["start", "end"]
ENDS: tuple[EndName, EndName] = ("start", "end")


WASHER_OHM = 0.0004
"""A steel washer between two faces that carry current [ohm]. Source: common practice, no source, an order of size."""


MOST_LUGS = 4
"""Lugs on one stud at most. Source: common practice, no source."""


SMALL_MM2 = 10.0
"""Up to this area an end in a panel or at a load is a ferrule under a screw rather than a lug on a stud.

Source: common practice, no source.
"""


class WayEnd(Struct, frozen=True, kw_only=True):
    """One end of a way: where it is, what is on it, how tight, and how the parts lie from the face outwards.

    `stud` is None for a ferrule under a screw, whose torque the part itself says. `own`: the stud was stated.
    """

    at: str
    stud: StudSize | None
    own: bool
    fitting: str
    torque_nm: Figure | None
    shrink: str
    boot: str
    order: tuple[StackPart, ...]


class Joint(Struct, frozen=True, kw_only=True):
    """A way as it is made up: conductor of each pole, both its ends, and how the two lugs are turned to each other."""

    tag: str
    words: str
    size: str
    count: int
    length_m: float
    amps: float
    start: WayEnd
    end: WayEnd
    turn: str

    def of(self, end: EndName) -> WayEnd:
        """One of its ends."""
        return self.start if end == "start" else self.end


class StackJudged(NamedTuple):
    """A stud as somebody found it: parts between faces that carry current, what they heat, and whether it is locked."""

    found: FoundStack
    between: tuple[StackPart, ...]
    heat_w: Figure | None
    locked: bool


@kept("direct", "flow.ways", "items", "job.wiring.studs", "tree.ways")
def joints(design: Design) -> tuple[Joint, ...]:
    """Every way of a system with what its ends are made of.

    Source: reference/studs.json, reference/shrink.json; order of the parts: common practice, no source.
    """
    amps = {one.tag: one.most_a.value for one in design.flow.ways}
    items = {item.tag: item for item in design.items}
    return tuple(_joint(design, way, abs(amps[way.tag]), items) for way in design.tree.ways if way.kind != "bar")


def stacks_judged(design: Design, made: tuple[Joint, ...]) -> tuple[StackJudged, ...]:
    """Every stud that was looked at, of ways of this system.

    Source: heat current² × resistance; the washer's resistance common practice, no source.
    """
    by_tag = {one.tag: one for one in made}
    return tuple(_judged(one, by_tag[one.way]) for one in design.whole.stacks if one.way in by_tag)


def _joint(design: Design, way: TreeWay, amps: float, items: dict[str, Item]) -> Joint:
    starts, ends = _places(design, way)
    return Joint(
        tag=way.tag,
        words=way.words,
        size=way.size,
        count=way.count,
        length_m=way.length_m,
        amps=amps,
        start=_end(design, way, "start", starts, fused=True, amps=amps),
        end=_end(design, way, "end", ends, fused=False, amps=amps),
        turn=_turn(items.get(way.start, items.get(way.bar)), items.get(way.end.removeprefix("W-"))),
    )


def _places(design: Design, way: TreeWay) -> tuple[str, str]:
    """Where a way's ends are, in words."""
    start = "bank +" if way.kind == "main" else way.start if way.start else way.bar
    if way.kind == "circuit" and way.above in {one.tag for one in design.direct.panels}:
        return f"{way.above}, a way", ", ".join(_loads(design, way.tag)) or "not used yet"
    if way.kind == "circuit":
        return f"stud {start}", ", ".join(_loads(design, way.tag)) or "not used yet"
    end = way.end.removeprefix("W-")
    return (start if way.kind == "main" else f"stud {start}"), (f"stud {end}" if way.kind == "main" else f"{end} +")


def _loads(design: Design, circuit: str) -> tuple[str, ...]:
    return next((one.loads for one in design.direct.circuits if one.tag == circuit), ())


def _end(design: Design, way: TreeWay, name: EndName, at: str, *, fused: bool, amps: float) -> WayEnd:
    area = _area(way.size)
    own = design.job.wiring.studs.get(f"{way.tag} {name}")
    small = way.kind == "circuit" and own is None and area <= SMALL_MM2
    boot = "" if small else "stud boot, red on plus, black on minus"
    if small:
        return WayEnd(
            at=at,
            stud=None,
            own=False,
            fitting=f"ferrule {way.size}" if name == "start" else f"ferrule or splice {way.size}",
            torque_nm=None,
            shrink="",
            boot=boot,
            order=(),
        )
    row = stud_row(own) if own is not None else _usual(area, max(amps, way.fuse_a))
    order: tuple[StackPart, ...] = ("bar", "lug", "washer", "spring_washer", "nut")
    if fused and way.fuse_kind != "breaker":
        order = ("bar", "fuse", "lug", "washer", "spring_washer", "nut")
    count = f"{way.count} lugs" if way.count > 1 else "lug"
    return WayEnd(
        at=at,
        stud=row.stud,
        own=own is not None,
        fitting=f"{count} {way.size} × {row.stud}",
        torque_nm=Figure(
            name=f"{way.tag} {name}: torque",
            value=row.torque_nm,
            unit="N m",
            formula="by the stud",
            inputs=(Given(f"Stud {row.stud}", row.hole_mm, "mm"),),
            source=studs().cited,
            limit="the value on the part wins; mark it once it is tight",
        ),
        shrink=shrink_for(way.size),
        boot=boot,
        order=order,
    )


def stud_row(size: StudSize) -> Stud:
    """A stud of the table."""
    return next(row for row in studs().rows if row.stud == size)


def _usual(area_mm2: float, amps: float) -> Stud:
    """The thinnest stud that carries the current and has lugs for the conductor; the thickest where none does."""
    rows = studs().rows
    return next((row for row in rows if row.carries_a >= amps and row.largest_mm2 >= area_mm2), rows[-1])


@functools.cache
def shrink_for(size: str) -> str:
    """Adhesive heat shrink that goes over the lug's barrel and still grips the cable."""
    cable = outer_mm(size)
    row = next((row for row in shrinks().rows if row.supplied_mm >= 1.35 * cable), shrinks().rows[-1])
    return f"{row.supplied_mm:g} mm × {max(30, round(cable * 3, -1)):.0f} mm"


def _turn(one: Item | None, other: Item | None) -> str:
    """How the second lug is turned to the first, by the faces the two things are worked at."""
    if one is None or other is None or "none" in (one.clear.service, other.clear.service):
        return "lay out first"
    return {0: "alike", 1: "a quarter apart", 2: "half a turn apart"}[_apart(one.clear, other.clear)]


_OPPOSITE = {"front": "rear", "rear": "front", "left": "right", "right": "left", "above": "below", "below": "above"}


def _apart(one: Clear, other: Clear) -> int:
    if one.service == other.service:
        return 0
    return 2 if _OPPOSITE[one.service] == other.service else 1


def _area(size: str) -> float:
    try:
        return conductor_area_mm2(size)
    except ValueError:
        return 0.0


_FACES: tuple[StackPart, ...] = ("bar", "fuse", "lug")


def _judged(found: FoundStack, joint: Joint) -> StackJudged:
    faces = [at for at, part in enumerate(found.order) if part in _FACES]
    between = tuple(
        part for at, part in enumerate(found.order) if faces and faces[0] < at < faces[-1] and part not in _FACES
    )
    heat = None
    if between:
        amps, each = Given(f"Current of {joint.tag}", joint.amps, "A"), Given("Each", WASHER_OHM, "ohm")
        heat = Figure(
            name=f"Heat in the joint of {joint.tag}",
            value=amps.value**2 * each.value * len(between),
            unit="W",
            formula="current² × resistance × parts between the faces",
            inputs=(amps, each, Given("Parts between", len(between), "count")),
            source=f"{TEXTBOOK}; resistance {PRACTICE}",
        )
    last = found.order[faces[-1] + 1 :] if faces else found.order
    return StackJudged(found, between, heat, "nut" in last and "spring_washer" in last)
