"""What was entered, read and ticked before power and after: of the real vehicle, in no variant."""

from typing import Annotated

from msgspec import Meta

from weighty_axle.job.models.build import Day
from weighty_axle.job.stated import Celsius, Stated, Text, Volts


class Reading(Stated, frozen=True, kw_only=True):
    """A check that somebody made: `check` is its key; a reading has a value in the check's own unit, a tick none."""

    check: Annotated[str, Meta(min_length=1, max_length=60, title="Check", description="its key")]
    value: Annotated[
        Annotated[float, Meta(ge=-100_000, le=100_000)] | None, Meta(title="Read", description="empty: ticked off")
    ] = None
    on: Annotated[Day, Meta(title="On", description="year-month-day")] = ""
    by: Annotated[Text, Meta(title="By", description="initials")] = ""
    note: Annotated[Text, Meta(title="Note")] = ""


class Entry(Stated, frozen=True, kw_only=True):
    """What stands in a unit since a day: `setting` is its key on the sheet, `said` its value as the unit shows it.

    The first of a setting is commissioning, every later one a change: who, when, why.
    """

    setting: Annotated[str, Meta(min_length=1, max_length=80, title="Setting", description="its key")]
    said: Annotated[str, Meta(min_length=1, max_length=60, title="In the unit", description="number or word")]
    on: Annotated[Day, Meta(title="On", description="year-month-day")] = ""
    by: Annotated[Text, Meta(title="By", description="initials")] = ""
    why: Annotated[Text, Meta(title="Why", description="of a change")] = ""


class Rehearsed(Stated, frozen=True, kw_only=True):
    """A lesson somebody has been through on the simulated plant: points of a hundred, and why points were lost."""

    lesson: Annotated[str, Meta(min_length=1, max_length=40, title="Lesson", description="its key")]
    by: Annotated[Text, Meta(title="By", description="initials")] = ""
    on: Annotated[Day, Meta(title="On", description="year-month-day")] = ""
    points: Annotated[int, Meta(ge=0, le=100, title="Points", description="of a hundred")] = 0
    lost: Annotated[tuple[Text, ...], Meta(max_length=60, title="Lost", description="why points were lost")] = ()


class Handover(Stated, frozen=True, kw_only=True):
    """Who hands over to whom, when, and what both know to be open."""

    by: Annotated[Text, Meta(title="Handed over by", description="name and firm")] = ""
    licence: Annotated[Text, Meta(title="Licence", description="of who is answerable for mains voltage")] = ""
    to: Annotated[Text, Meta(title="Taken over by", description="the owner, or who acts for them")] = ""
    on: Annotated[Day, Meta(title="On", description="year-month-day")] = ""
    left_open: Annotated[Text, Meta(title="Left open", description="what both know is still to be done")] = ""


class Proving(Stated, frozen=True, kw_only=True):
    """Readings before power and of tests, the sun, air and charge they were taken in, and what was entered in units."""

    air_c: Annotated[Celsius, Meta(title="Air now")] = 20.0
    sun_w_per_m2: Annotated[
        float, Meta(ge=0, le=1500, title="Sun now", description="on the modules; 0: not measured")
    ] = 0.0
    clear_on: Annotated[
        Day, Meta(title="Clear sky on", description="without a meter: day of a clear sky, modules flat")
    ] = ""
    clear_h: Annotated[
        Annotated[float, Meta(ge=0, le=24)] | None,
        Meta(title="Clear sky at", description="hour by the sun: 12 when it stands highest; empty: by the meter"),
    ] = None
    readings: Annotated[tuple[Reading, ...], Meta(max_length=4000, title="Readings before power")] = ()
    rest_v: Annotated[
        Volts | None, Meta(title="Bank at rest", description="read before the load is put on; empty: nominal")
    ] = None
    trials: Annotated[
        tuple[Reading, ...], Meta(max_length=8000, title="Readings of tests", description="repeats are kept")
    ] = ()
    entries: Annotated[
        tuple[Entry, ...], Meta(max_length=8000, title="Entered in units", description="the first, then every change")
    ] = ()
    handover: Annotated[Handover, Meta(title="Handover")] = Handover()
    rehearsed: Annotated[tuple[Rehearsed, ...], Meta(max_length=2000, title="Rehearsed")] = ()
