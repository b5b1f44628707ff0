"""What sits in the vehicle and has weight beside the system's own parts."""

from typing import Annotated, Literal

from msgspec import Meta

from weighty_axle.job.models.vehicle import CableKind
from weighty_axle.job.stated import Clear, Extent, Kilograms, Name, Place, Size, Stated, Tag, Text, Turn


class Fitting(Stated, frozen=True, kw_only=True):
    """Anything else that adds weight: a tank, a desk, a cabinet."""

    tag: Tag
    name: Annotated[Name, Meta(title="Name")]
    mass_kg: Annotated[Kilograms, Meta(title="Mass")]
    place: Annotated[Place, Meta(title="Place")]
    size: Annotated[Size, Meta(title="Outer size")]
    turn_deg: Annotated[Turn, Meta(title="Turned", description="seen from above, against the clock")] = 0
    clear: Annotated[Clear, Meta(title="Room kept", description="free at its faces")] = Clear()


class Lading(Stated, frozen=True, kw_only=True):
    """What comes and goes: water, fuel, passengers, tools. `weighed_kg` of it was on board on the weighbridge.

    `takes_from` names what fills it: waste water is full only once the fresh water is gone.
    """

    tag: Tag
    name: Annotated[Name, Meta(title="Name")]
    kind: Annotated[
        Literal["water", "waste_water", "fuel", "passengers", "tools", "other"], Meta(title="Kind of lading")
    ] = "other"
    empty_kg: Annotated[Kilograms, Meta(title="Least", description="of it on board")] = 0.0
    full_kg: Annotated[Kilograms, Meta(title="Most", description="of it on board")]
    weighed_kg: Annotated[Kilograms, Meta(title="Weighed with", description="on board on the weighbridge")] = 0.0
    takes_from: Annotated[Text, Meta(title="Fills from", description="another lading; empty: by itself")] = ""
    place: Annotated[Place, Meta(title="Place", description="of its middle")]


MOST_HOLDS = 120
"""Fixings a job may state."""


class Hold(Stated, frozen=True, kw_only=True):
    """What holds things to the vehicle: bolts in two rows through their feet, or straps.

    `items` that are fixed as one (a board with what is on it) count as one box. `rows_m` is how far bolts are apart
    along the vehicle (across on a cross wall), `other_rows_m` the other way; empty: as far as what they hold is wide.
    """

    tag: Tag
    items: Annotated[tuple[Tag, ...], Meta(max_length=40, title="Holds", description="tags; several: fixed as one")]
    how: Annotated[Literal["floor", "wall", "cross_wall", "ceiling", "straps"], Meta(title="Fixed")] = "floor"
    bolts: Annotated[int, Meta(ge=4, le=40, title="Bolts", description="in two rows")] = 4
    bolt: Annotated[Literal["M6", "M8", "M10", "M12"], Meta(title="Bolt")] = "M8"
    grade: Annotated[Literal["4.8", "5.6", "8.8", "10.9", "A2-70"], Meta(title="Grade")] = "8.8"
    into: Annotated[Literal["frame", "plywood"], Meta(title="Into", description="structure, or a panel")] = "frame"
    backing: Annotated[
        Literal["none", "cement_board", "metal"], Meta(title="Behind it", description="what does not burn")
    ] = "none"
    panel_mm: Annotated[float, Meta(ge=3, le=60, title="Panel, thick")] = 18.0
    plate_mm: Annotated[
        Annotated[float, Meta(ge=20, le=400)] | None,
        Meta(title="Plate behind each bolt", description="square; empty: a large washer"),
    ] = None
    rows_m: Annotated[Extent | None, Meta(title="Bolts apart", description="empty: as far as it is wide")] = None
    other_rows_m: Annotated[Extent | None, Meta(title="Bolts apart, other way", description="empty: as wide")] = None
    straps: Annotated[int, Meta(ge=2, le=24, title="Straps", description="half pull each way")] = 4
    strap_n: Annotated[float, Meta(ge=100, le=100_000, title="One strap holds", description="rated, straight")] = 5000.0
    strap_deg: Annotated[float, Meta(ge=10, le=80, title="Straps rise", description="above the floor")] = 45.0


class Removed(Stated, frozen=True, kw_only=True):
    """Old equipment that leaves the vehicle: what it weighed, and where it stood."""

    tag: Tag
    name: Annotated[Name, Meta(title="Name")]
    mass_kg: Annotated[Kilograms, Meta(title="Mass", description="that leaves")]
    place: Annotated[Place, Meta(title="Stood at")]


class Assembly(Stated, frozen=True, kw_only=True):
    """A board built on the bench: things that are moved, turned, lifted in and judged as one. Its plate is one of them,
    a fitting.
    """

    tag: Tag
    name: Annotated[Name, Meta(title="Built as one")]
    items: Annotated[tuple[Tag, ...], Meta(max_length=60, title="Is made of", description="items, by tag")]


Wall = Literal["left", "right", "front", "rear", "floor", "ceiling"]
"""Inner faces of the vehicle a cable comes out of."""


class Outlet(Stated, frozen=True, kw_only=True):
    """Where a cable comes out of a wall, floor or ceiling: what it serves and where it comes from.

    `start` is what it comes from: an item, a panel with a place, or another outlet it is carried on from. `serves`
    names circuits and loads. `outer_mm` is the whole cable's diameter.
    """

    tag: Tag
    name: Annotated[Name, Meta(title="Outlet")]
    kind: Annotated[Literal["socket", "switch", "light", "screen", "remote", "other"], Meta(title="For a")] = "socket"
    wall: Annotated[Wall, Meta(title="Out of", description="wall, floor or ceiling")] = "right"
    place: Annotated[Place, Meta(title="Place", description="where the cable comes out")]
    start: Annotated[Tag, Meta(title="Comes from", description="an item, a panel, or another outlet")]
    serves: Annotated[
        tuple[Tag, ...], Meta(max_length=20, title="Serves", description="circuits or loads, by tag")
    ] = ()
    cable: Annotated[CableKind, Meta(title="Cable", description="what it carries")] = "ac"
    outer_mm: Annotated[float, Meta(ge=1, le=60, title="Cable, outside", description="diameter")] = 10.0
    tail_m: Annotated[Extent, Meta(title="Tail", description="left hanging out")] = 0.3
    measured_m: Annotated[
        Extent | None, Meta(title="Measured", description="length of its cable; empty: along the ways")
    ] = None


class ClosedAt(Stated, frozen=True, kw_only=True):
    """Where an outlet was when its wall was closed."""

    outlet: Annotated[Tag, Meta(title="Outlet")]
    place: Annotated[Place, Meta(title="Place")]
    serves: Annotated[tuple[Tag, ...], Meta(max_length=20, title="Served")] = ()


class ClosedWall(Stated, frozen=True, kw_only=True):
    """A wall, floor or ceiling that is closed, and what came out of it then."""

    wall: Annotated[Wall, Meta(title="Closed")]
    closed_on: Annotated[Text, Meta(title="On")] = ""
    outlets: Annotated[tuple[ClosedAt, ...], Meta(max_length=200, title="What came out")] = ()
