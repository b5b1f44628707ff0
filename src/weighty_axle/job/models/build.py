"""The build: what is ordered, cut, tightened and booked, who builds, and how long things take.

It is of the real vehicle, not of a design: what was ordered or cut stays when the design changes.
"""

from typing import Annotated, Literal

from msgspec import Meta

from weighty_axle.job.stated import Extent, Kilograms, Name, Share, Stated, Tag, Text

Day = Annotated[str, Meta(max_length=10, pattern=r"^(\d{4}-\d{2}-\d{2})?$(?!\n)")]
"""A day as 2027-03-01; empty: not said."""


Count = Annotated[float, Meta(ge=0, le=1_000_000)]


Minutes = Annotated[float, Meta(ge=0, le=6000)]


Status = Literal["to_order", "ordered", "here", "fitted"]


Skill = Literal["electric", "mechanic", "roof", "lifting"]


Colour = Literal["red", "black", "brown", "grey", "green_yellow", "cable"]
"""Colour of a single conductor; a cable holds its own."""


class PartState(Stated, frozen=True, kw_only=True):
    """How far a part is: `part` is its name in the parts list. What it costs stands among the prices of the year.

    `count` is how many were ordered, or are here; empty: as many as the design wanted when it was said.
    """

    part: Annotated[Name, Meta(title="Part", description="as the parts list names it")]
    status: Annotated[Status, Meta(title="Status")] = "to_order"
    count: Annotated[Count | None, Meta(title="So many", description="ordered or here; empty: not counted")] = None
    due: Annotated[Day, Meta(title="Comes on", description="year-month-day; empty: by its lead time")] = ""
    lead_days: Annotated[
        Annotated[int, Meta(ge=0, le=730)] | None, Meta(title="Lead time", description="days from order; empty: usual")
    ] = None
    supplier: Annotated[Text, Meta(title="Supplier")] = ""
    pack_of: Annotated[
        Annotated[float, Meta(ge=0.01, le=100_000)] | None,
        Meta(title="Sold by", description="so many, or so many metres; empty: usual"),
    ] = None
    spare_share: Annotated[Share | None, Meta(title="Spare", description="share on top; empty: usual of its kind")] = (
        None
    )
    mass_kg: Annotated[Kilograms | None, Meta(title="Mass", description="of one, or a metre; empty: not known")] = None
    other: Annotated[Text, Meta(title="Instead", description="what would do as well")] = ""


class Reel(Stated, frozen=True, kw_only=True):
    """A length a conductor is bought by."""

    size: Annotated[Name, Meta(title="Conductor", description="as the cut list names it")]
    length_m: Annotated[float, Meta(ge=0.5, le=2000, title="On a reel")]


class CutDone(Stated, frozen=True, kw_only=True):
    """A conductor that is cut: what it was then, and what it came off."""

    conductor: Annotated[
        str, Meta(min_length=1, max_length=40, title="Conductor", description="as the cut list names it")
    ]
    size: Annotated[Name, Meta(title="Size", description="it was cut of")]
    length_m: Annotated[float, Meta(ge=0.01, le=400, title="Cut at")]
    colour: Annotated[Colour, Meta(title="Colour")] = "cable"
    on: Annotated[Day, Meta(title="On", description="year-month-day")] = ""
    by: Annotated[Text, Meta(title="By", description="initials")] = ""
    piece: Annotated[Text, Meta(title="Off", description="reel or off-cut")] = ""
    booked: Annotated[bool, Meta(title="Taken off the stock", description="of the shop")] = False


class Worker(Stated, frozen=True, kw_only=True):
    """Somebody who builds: what they can do, and when they are there."""

    tag: Tag
    name: Annotated[Name, Meta(title="Name")]
    skills: Annotated[tuple[Skill, ...], Meta(max_length=4, title="Can do", description="empty: anything")] = ()
    hours_h: Annotated[float, Meta(ge=0.5, le=14, title="Hours a day")] = 8.0
    saturdays: Annotated[bool, Meta(title="Works Saturdays")] = False
    off: Annotated[tuple[Day, ...], Meta(max_length=200, title="Days off", description="year-month-day each")] = ()


class Rates(Stated, frozen=True, kw_only=True):
    """How long things take one person. Common practice, no source: a shop writes its own."""

    survey_min: Annotated[Minutes, Meta(title="Prepare the vehicle", description="clear, cover, disconnect")] = 240.0
    item_min: Annotated[Minutes, Meta(title="Place a unit", description="of up to 25 kg; more by its mass")] = 30.0
    hole_min: Annotated[Minutes, Meta(title="Drill and fix", description="a hole")] = 4.0
    crimp_min: Annotated[Minutes, Meta(title="Crimp", description="a lug with its shrink")] = 6.0
    ferrule_min: Annotated[Minutes, Meta(title="Ferrule", description="strip, press, land")] = 2.0
    joint_min: Annotated[Minutes, Meta(title="Tighten and mark", description="a stud")] = 3.0
    metre_min: Annotated[Minutes, Meta(title="Pull and clip", description="a metre of cable")] = 3.0
    module_min: Annotated[Minutes, Meta(title="Mount a module")] = 45.0
    label_min: Annotated[Minutes, Meta(title="Label", description="an end")] = 1.0
    test_min: Annotated[Minutes, Meta(title="Test", description="a circuit or run")] = 10.0


class TaskSaid(Stated, frozen=True, kw_only=True):
    """What is said of a task of the plan: `task` is its key."""

    task: Annotated[str, Meta(min_length=1, max_length=60, title="Task", description="its key in the plan")]
    hours_h: Annotated[
        Annotated[float, Meta(ge=0.1, le=400)] | None,
        Meta(title="Takes", description="hours of one person; empty: computed"),
    ] = None
    not_before: Annotated[Day, Meta(title="Not before", description="year-month-day; empty: as soon as it can")] = ""
    worker: Annotated[Text, Meta(title="By", description="a worker's tag; empty: whoever can")] = ""
    done_on: Annotated[Day, Meta(title="Done on", description="year-month-day; empty: open")] = ""


class OwnTask(Stated, frozen=True, kw_only=True):
    """A task the shop adds to those that follow from the design."""

    tag: Tag
    name: Annotated[Name, Meta(title="Task")]
    hours_h: Annotated[float, Meta(ge=0.1, le=400, title="Takes", description="hours of one person")] = 2.0
    skill: Annotated[Skill, Meta(title="Needs")] = "mechanic"
    after: Annotated[
        tuple[str, ...], Meta(max_length=40, title="After", description="keys of tasks that must be done first")
    ] = ()
    part: Annotated[Text, Meta(title="Waits for", description="a part of the parts list; empty: for none")] = ""


class Booked(Stated, frozen=True, kw_only=True):
    """Hours somebody worked on a task."""

    task: Annotated[str, Meta(min_length=1, max_length=60, title="Task", description="its key in the plan")]
    worker: Annotated[Text, Meta(title="Who")] = ""
    on: Annotated[Day, Meta(title="On", description="year-month-day")] = ""
    hours_h: Annotated[float, Meta(ge=0, le=24, title="Hours")]


class Torque(Stated, frozen=True, kw_only=True):
    """A joint somebody has tightened: `end` as 'W-INV1 end +'."""

    end: Annotated[str, Meta(min_length=1, max_length=40, title="Joint", description="way, end and pole")]
    torque_nm: Annotated[float, Meta(ge=0.1, le=500, title="Tightened to", description="N m")]
    on: Annotated[Day, Meta(title="On", description="year-month-day")] = ""
    by: Annotated[Text, Meta(title="By", description="who")] = ""
    seen_by: Annotated[Text, Meta(title="Looked at by", description="who inspected it; empty: nobody yet")] = ""


class Noted(Stated, frozen=True, kw_only=True):
    """An entry of the build log: about a task, a joint or a thing, in words, with a photo where one was taken."""

    about: Annotated[str, Meta(min_length=1, max_length=60, title="About", description="a task, joint or tag")]
    words: Annotated[Text, Meta(title="Note")] = ""
    on: Annotated[Day, Meta(title="On", description="year-month-day")] = ""
    by: Annotated[Text, Meta(title="By")] = ""
    photo: Annotated[
        str, Meta(max_length=80, pattern=r"^([0-9a-f]{16}\.jpg)?$(?!\n)", title="Photo", description="in the job file")
    ] = ""


class Mount(Stated, frozen=True, kw_only=True):
    """Holes a type of thing is fixed by: their distances, seen from where it is worked at, and their size."""

    type: Annotated[Name, Meta(title="Type", description="name of its datasheet")]
    wide_mm: Annotated[float, Meta(ge=1, le=3000, title="Holes apart, across")]
    high_mm: Annotated[float, Meta(ge=1, le=3000, title="Holes apart, up")]
    hole_mm: Annotated[float, Meta(ge=1, le=40, title="Hole")] = 6.5


LabelSize = Literal["labels_24", "labels_21", "labels_65", "letter_30", "letter_10", "own"]


class Labels(Stated, frozen=True, kw_only=True):
    """What labels are printed on; own ones by their measures."""

    sheet: Annotated[LabelSize, Meta(title="Sheet", description="by its measures")] = "labels_65"
    wide_mm: Annotated[float, Meta(ge=5, le=200, title="Own label, wide")] = 50.0
    high_mm: Annotated[float, Meta(ge=5, le=280, title="Own label, high")] = 25.0


class Build(Stated, frozen=True, kw_only=True):
    """How far the build is, and what it is built with."""

    starts_on: Annotated[Day, Meta(title="Building starts", description="year-month-day; empty: today")] = ""
    parts: Annotated[tuple[PartState, ...], Meta(max_length=1000, title="Parts, how far")] = ()
    reels: Annotated[tuple[Reel, ...], Meta(max_length=100, title="Reels", description="lengths bought by")] = ()
    reel_m: Annotated[float, Meta(ge=0.5, le=2000, title="Usual reel", description="where none is said")] = 25.0
    slack_share: Annotated[Share, Meta(title="Slack", description="share of the route")] = 0.05
    end_m: Annotated[Extent, Meta(title="At each end", description="bend and strip")] = 0.10
    kerf_mm: Annotated[float, Meta(ge=0, le=50, title="Lost at a cut")] = 2.0
    least_useful_m: Annotated[Extent, Meta(title="Off-cuts kept from", description="shorter is waste")] = 1.0
    cuts: Annotated[tuple[CutDone, ...], Meta(max_length=4000, title="Cut")] = ()
    workers: Annotated[tuple[Worker, ...], Meta(max_length=24, title="Who builds")] = ()
    rates: Annotated[Rates, Meta(title="How long things take")] = Rates()
    said: Annotated[tuple[TaskSaid, ...], Meta(max_length=600, title="Said of tasks")] = ()
    own: Annotated[tuple[OwnTask, ...], Meta(max_length=100, title="Own tasks")] = ()
    booked: Annotated[tuple[Booked, ...], Meta(max_length=4000, title="Hours booked")] = ()
    torques: Annotated[tuple[Torque, ...], Meta(max_length=4000, title="Joints tightened")] = ()
    log: Annotated[tuple[Noted, ...], Meta(max_length=4000, title="Build log")] = ()
    mounts: Annotated[tuple[Mount, ...], Meta(max_length=100, title="Holes of types")] = ()
    labels: Annotated[Labels, Meta(title="Labels")] = Labels()
    plate_gap_mm: Annotated[float, Meta(ge=0, le=300, title="Between units on a board")] = 40.0
    duct_mm: Annotated[float, Meta(ge=0, le=200, title="Wire ducts on a board")] = 60.0
