"""The log: what happened to the vehicle since, states of the job that were recorded, services that come round, and how
recorded data is read. Of the real vehicle, in no variant.
"""

from typing import Annotated, Literal

from msgspec import Meta

from weighty_axle.job.models.build import Day
from weighty_axle.job.stated import Name, Stated, Tag, Text

MOST_ENTRIES = 12_000
MOST_STATES = 200
STATE_LETTERS = 2_000_000
"""Letters of a recorded state: packed, the largest job is a tenth of it."""

LogKind = Literal["visit", "fault", "change", "reading", "photo", "parts", "hours"]


class LogEntry(Stated, frozen=True, kw_only=True):
    """Something that happened on a day: its kind, words, the things it is about, and what its kind has besides.

    A fault is open until `mended_on`. A reading has a value and its unit, parts a count, hours so many.
    """

    kind: Annotated[LogKind, Meta(title="Kind")] = "visit"
    on: Annotated[Day, Meta(title="On", description="year-month-day")] = ""
    words: Annotated[Text, Meta(title="What happened")] = ""
    about: Annotated[tuple[Tag, ...], Meta(max_length=40, title="About", description="tags of things")] = ()
    by: Annotated[Text, Meta(title="By", description="initials")] = ""
    value: Annotated[
        Annotated[float, Meta(ge=-1e9, le=1e9)] | None,
        Meta(title="How much", description="read, of parts, or hours; empty: not counted"),
    ] = None
    unit: Annotated[str, Meta(max_length=20, title="Unit", description="of what was read or counted")] = ""
    photo: Annotated[
        str, Meta(max_length=80, pattern=r"^([0-9a-f]{16}\.jpg)?$(?!\n)", title="Photo", description="in the job file")
    ] = ""
    mended_on: Annotated[Day, Meta(title="Mended on", description="of a fault, year-month-day; empty: open")] = ""


class RecordedState(Stated, frozen=True, kw_only=True):
    """The whole job as it stood on a day, without its log: JSON as in a job file of that day's format, deflated, in
    base64. One of a handover is kept for good.
    """

    name: Annotated[Name, Meta(title="State")]
    on: Annotated[Day, Meta(title="On", description="year-month-day")] = ""
    by: Annotated[Text, Meta(title="By", description="initials")] = ""
    handover: Annotated[bool, Meta(title="Of a handover", description="kept for good")] = False
    packed: Annotated[
        str,
        Meta(
            min_length=1,
            max_length=STATE_LETTERS,
            pattern=r"^[A-Za-z0-9+/]+={0,2}$(?!\n)",
            title="The job then",
            description="base64 of deflated JSON",
        ),
    ]


class Service(Stated, frozen=True, kw_only=True):
    """A service that comes round."""

    name: Annotated[Name, Meta(title="Service")]
    every_months: Annotated[int, Meta(ge=1, le=240, title="Every", description="months")] = 12
    last_on: Annotated[Day, Meta(title="Last done on", description="year-month-day; empty: never")] = ""
    about: Annotated[tuple[Tag, ...], Meta(max_length=40, title="About", description="tags of things")] = ()


class MappedColumn(Stated, frozen=True, kw_only=True):
    """What a column of a recording is: a quantity, the thing it belongs to, and what its numbers are multiplied by."""

    heading: Annotated[str, Meta(max_length=200, title="Heading", description="as the file has it")]
    quantity: Annotated[str, Meta(max_length=40, title="Quantity", description="its key; empty: left out")] = ""
    of: Annotated[str, Meta(max_length=12, title="Of", description="tag of a thing; empty: of the whole")] = ""
    scale: Annotated[float, Meta(ge=-1e6, le=1e6, title="Times", description="-1 turns a sign")] = 1.0


class ColumnMap(Stated, frozen=True, kw_only=True):
    """How recordings with these headings are read: remembered once it was looked at."""

    columns: Annotated[tuple[MappedColumn, ...], Meta(min_length=1, max_length=200, title="Columns")]
    zone: Annotated[str, Meta(max_length=60, title="Time zone", description="as Europe/Oslo; empty: UTC")] = ""
    day_first: Annotated[bool, Meta(title="Day before month", description="where a date can be read both ways")] = True


class Log(Stated, frozen=True, kw_only=True):
    """All that is kept of the time after the handover."""

    entries: Annotated[tuple[LogEntry, ...], Meta(max_length=MOST_ENTRIES, title="Entries")] = ()
    states: Annotated[tuple[RecordedState, ...], Meta(max_length=MOST_STATES, title="Recorded states")] = ()
    services: Annotated[tuple[Service, ...], Meta(max_length=60, title="Services")] = ()
    maps: Annotated[tuple[ColumnMap, ...], Meta(max_length=40, title="How recordings are read")] = ()
