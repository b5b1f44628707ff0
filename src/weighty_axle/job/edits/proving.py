"""Changes to what is read and ticked before power."""

from __future__ import annotations

from msgspec.structs import replace

from weighty_axle.job.edits.edit import WHOLE, Edit
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.proving import Reading


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
        kept = list(job.proving.trials)
        last = next((at for at in range(len(kept) - 1, -1, -1) if kept[at].check == check), None)
        if last is not None:
            kept.pop(last)
        return replace(job, proving=replace(job.proving, trials=tuple(kept)))

    return Edit(f"{words}: last reading taken away", apply, system=WHOLE)
