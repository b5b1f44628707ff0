"""Changes to what is entered in units, read and ticked."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

from msgspec.structs import replace

from weighty_axle.job.edits.edit import WHOLE, Edit
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.proving import Entry, Reading, Rehearsed

Kept = TypeVar("Kept", Entry, Reading)


def read(reading: Reading, words: str) -> Edit:
    """Write down a reading, or tick a check off."""

    def apply(job: Job) -> Job:
        others = tuple(one for one in job.proving.readings if one.check != reading.check)
        return replace(job, proving=replace(job.proving, readings=(*others, reading)))

    said = f"{words}: {reading.value:g}" if reading.value is not None else f"{words}: ticked off"
    return Edit(said, apply, system=WHOLE)


def unread(check: str, words: str) -> Edit:
    """Take a reading or a tick away."""

    def apply(job: Job) -> Job:
        kept = tuple(one for one in job.proving.readings if one.check != check)
        return replace(job, proving=replace(job.proving, readings=kept))

    return Edit(f"{words}: open again", apply, system=WHOLE)


def tried(reading: Reading, words: str) -> Edit:
    """Write down a reading of a test; those before it are kept."""

    def apply(job: Job) -> Job:
        return replace(job, proving=replace(job.proving, trials=(*job.proving.trials, reading)))

    said = f"{words}: {reading.value:g}" if reading.value is not None else f"{words}: passed"
    return Edit(said, apply, system=WHOLE)


def untried(check: str, words: str) -> Edit:
    """Take the last reading of a test away; the one before it stands again."""

    def apply(job: Job) -> Job:
        kept = _without_last(job.proving.trials, lambda one: one.check == check)
        return replace(job, proving=replace(job.proving, trials=kept))

    return Edit(f"{words}: last reading taken away", apply, system=WHOLE)


def entered(entries: tuple[Entry, ...], words: str) -> Edit:
    """Write down what stands in units; what stood there before is kept."""

    def apply(job: Job) -> Job:
        return replace(job, proving=replace(job.proving, entries=(*job.proving.entries, *entries)))

    return Edit(words, apply, system=WHOLE)


def unentered(setting: str, words: str) -> Edit:
    """Take the last entry of a setting away; the one before it stands again."""

    def apply(job: Job) -> Job:
        kept = _without_last(job.proving.entries, lambda one: one.setting == setting)
        return replace(job, proving=replace(job.proving, entries=kept))

    return Edit(f"{words}: last entry taken away", apply, system=WHOLE)


def rehearsed(result: Rehearsed, words: str) -> Edit:
    """Keep how somebody has done a lesson."""

    def apply(job: Job) -> Job:
        return replace(job, proving=replace(job.proving, rehearsed=(*job.proving.rehearsed, result)))

    return Edit(f"{words}: {result.points} points", apply, system=WHOLE)


def _without_last(all_: tuple[Kept, ...], is_it: Callable[[Kept], bool]) -> tuple[Kept, ...]:
    """All but the last of a kind."""
    at = max((at for at, one in enumerate(all_) if is_it(one)), default=None)
    return all_ if at is None else all_[:at] + all_[at + 1 :]
