"""Recorded states: the job as it stood, packed to be kept inside it, and read again whatever version wrote it."""

from __future__ import annotations

import base64
import binascii
import zlib

import msgspec
from msgspec.structs import replace

from weighty_axle.job import limits
from weighty_axle.job.checks.problem import JobError, Problem
from weighty_axle.job.files.store import decode
from weighty_axle.job.limits import MB
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.log import STATE_LETTERS, Log, RecordedState


def recorded(job: Job, name: str, on: str, by: str, *, handover: bool = False) -> RecordedState:
    """The job as it stands, without its log. Raises JobError where it is too large to be kept."""
    text = msgspec.json.encode(replace(job, log=Log()), order="sorted")
    packed = base64.b64encode(zlib.compress(text, 9)).decode()
    if len(packed) > STATE_LETTERS:
        raise JobError([Problem("log.states", f"The job is too large to be kept as a state: {len(text) // MB} MB.")])
    return RecordedState(name=name, on=on, by=by, handover=handover, packed=packed)


def job_then(state: RecordedState) -> Job:
    """The job of a recorded state, brought to the present version. Raises JobError where it is damaged or newer."""
    try:
        opened = zlib.decompressobj()
        text = opened.decompress(base64.b64decode(state.packed, validate=True), limits.JOB_BYTES + 1)
    except (binascii.Error, ValueError, zlib.error) as error:
        raise _refused(state, f"its packed text is damaged ({error})") from None
    if len(text) > limits.JOB_BYTES:
        raise _refused(state, f"it unpacks to more than {limits.JOB_BYTES // MB} MB")
    if not opened.eof or opened.unused_data:
        raise _refused(state, "its packed text is not whole")
    try:
        return decode(text)
    except JobError as error:
        raise _refused(state, " ".join(str(one) for one in error.problems[:3])) from error


def _refused(state: RecordedState, why: str) -> JobError:
    return JobError([Problem("log.states", f"The state “{state.name}” cannot be opened: {why}.")])
