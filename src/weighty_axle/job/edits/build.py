"""Changes to the build: status of parts, cuts made, joints tightened, hours, notes, dates."""

from __future__ import annotations

from typing import Any

from msgspec.structs import replace

from weighty_axle.job.edits.edit import WHOLE, Edit
from weighty_axle.job.models.build import Booked, Build, CutDone, Mount, Noted, PartState, Reel, TaskSaid, Torque
from weighty_axle.job.models.document import Job


def set_part(part: str, label: str = "", **changes: Any) -> Edit:
    """Say how far a part is, when it comes, from whom, in what packs."""

    def apply(job: Job) -> Job:
        old = next((one for one in job.build.parts if one.part == part), PartState(part=part))
        new = replace(old, **changes)
        others = tuple(one for one in job.build.parts if one.part != part)
        return replace(job, build=replace(job.build, parts=(*others, new)))

    words = ", ".join(f"{name.replace('_', ' ')} {value}" for name, value in changes.items())
    return Edit(label or f"{part}: {words}", apply, system=WHOLE)


def set_parts(states: tuple[PartState, ...], label: str) -> Edit:
    """Say how far several parts are, all at once; of the others nothing changes."""

    def apply(job: Job) -> Job:
        said = {one.part for one in states}
        others = tuple(one for one in job.build.parts if one.part not in said)
        return replace(job, build=replace(job.build, parts=(*others, *states)))

    return Edit(label, apply, system=WHOLE)


def drop_part(part: str) -> Edit:
    """Say nothing more of a part: it is in no design and put away."""
    return _changed(f"{part} put away", parts=lambda build: tuple(one for one in build.parts if one.part != part))


def _changed(label: str, **by: Any) -> Edit:
    """An edit of parts of the build, each by a function of it."""

    def apply(job: Job) -> Job:
        return replace(job, build=replace(job.build, **{name: make(job.build) for name, make in by.items()}))

    return Edit(label, apply, system=WHOLE)


def cut_made(done: CutDone) -> Edit:
    """Tick a conductor as cut."""
    return _changed(
        f"{done.conductor} is cut",
        cuts=lambda build: (*(one for one in build.cuts if one.conductor != done.conductor), done),
    )


def cut_undone(tag: str) -> Edit:
    """Take the tick of a conductor away."""
    return _changed(f"{tag} is not cut", cuts=lambda build: tuple(one for one in build.cuts if one.conductor != tag))


def cuts_booked() -> Edit:
    """All that is cut is taken off the stock."""
    return _changed(
        "Off-cuts booked into the stock", cuts=lambda build: tuple(replace(one, booked=True) for one in build.cuts)
    )


def set_reel(size: str, length_m: float | None) -> Edit:
    """Say what length a conductor is bought by; nothing: the usual reel."""

    def reels(build: Build) -> tuple[Reel, ...]:
        others = tuple(one for one in build.reels if one.size != size)
        return (*others, Reel(size=size, length_m=length_m)) if length_m is not None else others

    words = f"{size} comes on {length_m:g} m" if length_m is not None else f"{size} comes on the usual reel"
    return _changed(words, reels=reels)


def tightened(record: Torque) -> Edit:
    """Write down a joint's torque."""
    return _changed(
        f"{record.end} tightened to {record.torque_nm:g} N m",
        torques=lambda build: (*(one for one in build.torques if one.end != record.end), record),
    )


def loosened(end: str) -> Edit:
    """Take a joint's record away: it was opened again."""
    return _changed(f"{end} opened again", torques=lambda build: tuple(one for one in build.torques if one.end != end))


def noted(entry: Noted) -> Edit:
    """Add an entry to the build log."""
    return _changed(f"Note on {entry.about}", log=lambda build: (*build.log, entry))


def unnoted(at: int) -> Edit:
    """Take an entry of the build log away."""
    return _changed("Take a note away", log=lambda build: tuple(one for n, one in enumerate(build.log) if n != at))


def booked(hours: Booked) -> Edit:
    """Book hours on a task."""
    return _changed(f"{hours.hours_h:g} h on {hours.task}", booked=lambda build: (*build.booked, hours))


def say_task(task: str, label: str, merge: str = "", **changes: Any) -> Edit:
    """Say something of a task: its hours, not before when, by whom, done on which day."""

    def said(build: Build) -> tuple[TaskSaid, ...]:
        old = next((one for one in build.said if one.task == task), TaskSaid(task=task))
        new = replace(old, **changes)
        others = tuple(one for one in build.said if one.task != task)
        return (*others, new) if new != TaskSaid(task=task) else others

    return replace(_changed(label, said=said), merge=merge)


def set_mount(mount: Mount) -> Edit:
    """State the holes a type of thing is fixed by."""
    return _changed(
        f"Holes of {mount.type}", mounts=lambda build: (*(one for one in build.mounts if one.type != mount.type), mount)
    )


def starts_on(day: str) -> Edit:
    """Say on which day the building starts."""
    return _changed(f"Building starts on {day}" if day else "Building starts today", starts_on=lambda _build: day)
