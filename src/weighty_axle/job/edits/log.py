"""Changes to the log: entries, recorded states, services, and how recordings are read."""

from __future__ import annotations

import itertools
from typing import Any

from msgspec.structs import replace

from weighty_axle.job.edits.edit import WHOLE, Edit, EditRefusedError
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.log import ColumnMap, Log, LogEntry, RecordedState, Service

OF_THE_VEHICLE = ("build", "proving", "log")
"""Parts of a job that are of the real vehicle: what was built, read and written down stays when a state is put back."""


def _changed(label: str, merge: str = "", **parts: Any) -> Edit:
    """An edit of parts of the log, each by a function of it."""

    def apply(job: Job) -> Job:
        return replace(job, log=replace(job.log, **{name: make(job.log) for name, make in parts.items()}))

    return Edit(label, apply, merge, system=WHOLE)


def written(entry: LogEntry) -> Edit:
    """Write an entry."""
    return _changed(f"Log: {entry.kind}", entries=lambda log: (*log.entries, entry))


def rewritten(at: int, label: str, **changes: Any) -> Edit:
    """Change an entry."""

    def entries(log: Log) -> tuple[LogEntry, ...]:
        if at >= len(log.entries):
            raise EditRefusedError("There is no such entry any more.")
        return (*log.entries[:at], replace(log.entries[at], **changes), *log.entries[at + 1 :])

    return _changed(label, entries=entries)


def unwritten(at: int) -> Edit:
    """Take an entry away."""
    return _changed("Take an entry away", entries=lambda log: (*log.entries[:at], *log.entries[at + 1 :]))


def keep_state(state: RecordedState) -> Edit:
    """Keep a state of the job; its name is made one of its own."""

    def states(log: Log) -> tuple[RecordedState, ...]:
        taken = {one.name for one in log.states}
        free = (f"{state.name[:74]} {number}" for number in itertools.count(2))
        name = state.name if state.name not in taken else next(one for one in free if one not in taken)
        return (*log.states, replace(state, name=name))

    return _changed(f"Record the state “{state.name}”", states=states)


def drop_state(name: str) -> Edit:
    """Let a recorded state go. One of a handover stays."""

    def states(log: Log) -> tuple[RecordedState, ...]:
        if any(one.name == name and one.handover for one in log.states):
            raise EditRefusedError(f"“{name}” is the state of a handover: it is kept for good.")
        return tuple(one for one in log.states if one.name != name)

    return _changed(f"Let the state “{name}” go", states=states)


def put_back(then: Job, name: str, now_kept: RecordedState) -> Edit:
    """Put a recorded state back: survey, design and variants as they stood.

    What was built, read and written down stays, and what stands now is recorded first.
    """

    def apply(job: Job) -> Job:
        kept = {part: getattr(job, part) for part in OF_THE_VEHICLE}
        return keep_state(now_kept).apply(replace(then, **kept))

    return Edit(f"Put back the state “{name}”", apply, system=WHOLE)


def serviced(name: str, on: str) -> Edit:
    """Say that a service was done."""

    def services(log: Log) -> tuple[Service, ...]:
        return tuple(replace(one, last_on=on) if one.name == name else one for one in log.services)

    return _changed(f"{name}: done on {on}", services=services)


def set_service(service: Service, old: str = "") -> Edit:
    """State a service that comes round, new or in the place of an old one."""

    def services(log: Log) -> tuple[Service, ...]:
        if any(one.name == service.name and one.name != old for one in log.services):
            raise EditRefusedError(f"There is a service called {service.name} already.")
        if not old:
            return (*log.services, service)
        return tuple(service if one.name == old else one for one in log.services)

    return _changed(f"Service: {service.name}", services=services)


def drop_service(name: str) -> Edit:
    """Take a service away."""
    return _changed(f"No service “{name}”", services=lambda log: tuple(x for x in log.services if x.name != name))


def remember_map(made: ColumnMap) -> Edit:
    """Remember how recordings with these headings are read."""
    headings = tuple(one.heading for one in made.columns)

    def maps(log: Log) -> tuple[ColumnMap, ...]:
        others = tuple(one for one in log.maps if tuple(each.heading for each in one.columns) != headings)
        return (*others[-39:], made)

    return _changed("How a recording is read", maps=maps)
