"""Everything that happened to the vehicle, on one line of time: own entries, and what other steps wrote down with a
day.
"""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date

from msgspec import Struct

from weighty_axle.design.wiring.runs import MAIN_RUN
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.log import LogEntry, Service
from weighty_axle.job.tags import used_tags
from weighty_axle.units import show

KIND_WORDS = {
    "visit": "visit",
    "fault": "fault",
    "change": "change",
    "reading": "reading",
    "photo": "photo",
    "parts": "parts",
    "hours": "hours",
    "setting": "setting",
    "test": "test",
    "build": "build",
    "state": "state",
    "service": "service",
}
"""Kinds of what happened, in words; the first seven are written in the log itself."""
OWN_KINDS = tuple(KIND_WORDS)[:7]
SERVICE_SOON_DAYS = 30
"""So long before it is due a service is told. Source: judgement."""


class Happened(Struct, frozen=True, kw_only=True):
    """Something that happened: day (empty: not said), kind, words, tags, who; `at` is its place among the entries of
    the log, None for what another step wrote down.
    """

    on: str
    kind: str
    words: str
    about: tuple[str, ...] = ()
    by: str = ""
    at: int | None = None
    photo: str = ""
    open: bool = False

    @property
    def said(self) -> str:
        """All of it in small letters, to be searched."""
        return f"{self.on} {self.kind} {' '.join(self.about)} {self.by} {self.words}".casefold()


def happened(job: Job) -> tuple[Happened, ...]:
    """Everything with a day, the newest first; what has none comes last.

    Source: the job's log, settings, tests and build.
    """
    found = [*_own(job), *_of_settings(job), *_of_tests(job), *_of_build(job), *_of_states(job)]
    return tuple(sorted(found, key=lambda one: (one.on, one.at if one.at is not None else -1), reverse=True))


def entry_words(entry: LogEntry) -> str:
    """An entry in words, with how much where it counts something."""
    words = entry.words
    if entry.value is not None:
        amount = show(entry.value, "h") if entry.kind == "hours" else f"{entry.value:g} {entry.unit}".strip()
        words = f"{words}: {amount}" if words else amount
    if entry.kind == "fault":
        words += f" (mended on {entry.mended_on})" if entry.mended_on else " (open)"
    return words


def _own(job: Job) -> Iterator[Happened]:
    for at, one in enumerate(job.log.entries):
        yield Happened(
            on=one.on,
            kind=one.kind,
            words=entry_words(one),
            about=one.about,
            by=one.by,
            at=at,
            photo=one.photo,
            open=one.kind == "fault" and not one.mended_on,
        )


def _of_settings(job: Job) -> Iterator[Happened]:
    """Values that were changed after they were first entered; the first of a setting is commissioning."""
    before: dict[str, str] = {}
    for one in job.proving.entries:
        was = before.get(one.setting)
        before[one.setting] = one.said
        if was is not None and was != one.said:
            tag = one.setting.partition(" ")[0]
            words = f"{one.setting}: {was} → {one.said}" + (f", {one.why}" if one.why else "")
            yield Happened(on=one.on, kind="setting", words=words, about=(tag,), by=one.by)


def _of_tests(job: Job) -> Iterator[Happened]:
    for one in job.proving.trials:
        read = f"{one.check}: {one.value:g}" if one.value is not None else f"{one.check}: passed"
        yield Happened(on=one.on, kind="test", words=f"{read} {one.note}".strip(), by=one.by)


def _of_build(job: Job) -> Iterator[Happened]:
    for one in job.build.log:
        words = f"{one.about}: {one.words}" if one.words else one.about
        yield Happened(on=one.on, kind="build", words=words, about=(one.about,), by=one.by, photo=one.photo)


def _of_states(job: Job) -> Iterator[Happened]:
    handover = job.proving.handover
    if handover.on:
        yield Happened(
            on=handover.on, kind="state", words=f"Handed over to {handover.to or 'the owner'}", by=handover.by
        )
    for one in job.log.states:
        words = f"State “{one.name}” recorded" + (", kept for good" if one.handover else "")
        yield Happened(on=one.on, kind="state", words=words, by=one.by)


def thing_of(job: Job, place: str) -> str:
    """The tagged thing a place belongs to, for an entry to be about: of a lead its unit, of the main run its board;
    empty: none.
    """
    known = used_tags(job)
    if place in known:
        return place
    tag = job.wiring.board.tag if place == MAIN_RUN else place.removeprefix("W-")
    return tag if tag in known else ""


class Asked(Struct, frozen=True):
    """A search: words that must all be there, and days between which it happened (empty: any)."""

    words: tuple[str, ...]
    since: str = ""
    until: str = ""


def asked(text: str) -> Asked:
    """A search as typed: words, and `since:2027-03`, `until:2027-05-10`."""
    words, since, until = [], "", ""
    for part in text.casefold().split():
        name, _, value = part.partition(":")
        if name == "since" and value:
            since = value
        elif name == "until" and value:
            until = value
        else:
            words.append(part)
    return Asked(tuple(words), since, until)


class Search:
    """What happened, ready to be searched as somebody types."""

    def __init__(self, events: tuple[Happened, ...]) -> None:
        self.events = events
        self._said = [one.said for one in events]

    def found(self, text: str) -> tuple[Happened, ...]:
        """Events in which every word stands, within the days, in their order."""
        wanted = asked(text)
        return tuple(
            one
            for one, said in zip(self.events, self._said, strict=True)
            if all(word in said for word in wanted.words)
            and (not wanted.since or one.on >= wanted.since)
            and (not wanted.until or (one.on and one.on[: len(wanted.until)] <= wanted.until))
        )


class Due(Struct, frozen=True, kw_only=True):
    """A service with the day it is due next (None: it was never done, and nobody handed over), and how many days from a
    day it is.
    """

    service: Service
    on: date | None
    days: int | None

    @property
    def soon(self) -> bool:
        """Whether it is due, or will be within SERVICE_SOON_DAYS."""
        return self.days is None or self.days <= SERVICE_SOON_DAYS


def services_due(job: Job, today: date) -> tuple[Due, ...]:
    """Services with when they are due, the next first: so many months after the last, else after the handover.

    Source: the stated services.
    """
    found = []
    for one in job.log.services:
        last = one.last_on or job.proving.handover.on
        on = months_after(date.fromisoformat(last), one.every_months) if last else None
        found.append(Due(service=one, on=on, days=(on - today).days if on is not None else None))
    return tuple(sorted(found, key=lambda due: (due.on is not None, due.on or today, due.service.name)))


def months_after(day: date, months: int) -> date:
    """The same day so many months on; the last of a month that has no such day."""
    year, month = divmod(day.year * 12 + day.month - 1 + months, 12)
    for last in (day.day, 30, 29, 28):
        try:
            return date(year, month + 1, last)
        except ValueError:
            continue
    raise AssertionError("a month has 28 days")
