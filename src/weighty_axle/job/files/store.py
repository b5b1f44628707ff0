"""Job files: `.axle` containers (ZIP with job.json) and plain JSON, read with suspicion and written atomically."""

from __future__ import annotations

import contextlib
import os
import re
import stat
from pathlib import Path
from typing import IO, Any

import msgspec
from msgspec import Struct

from weighty_axle.job import limits
from weighty_axle.job.checks.problem import JobError, Problem
from weighty_axle.job.checks.whole import problem_from, problems
from weighty_axle.job.files import container
from weighty_axle.job.files.disk import part_beside, replacing, why
from weighty_axle.job.files.photos import waiting
from weighty_axle.job.limits import MB
from weighty_axle.job.models.document import FORMAT, Job
from weighty_axle.job.models.versions import COPIED_BELOW, FORMAT_VERSION, STEPS

PREVIOUS, DAMAGED = "~", ".damaged"
"""Endings of what is kept beside a job file: the version before, and one whose photos and logs could not be carried
over.
"""


class Stamp(Struct, frozen=True):
    """What a file was when it was last read or written here: size, time, and a hash of all of it; empty for one too
    large to hash in passing.
    """

    size: int
    time_ns: int
    sha256: str


def load(path: Path) -> Job:
    """Job in a file. Raises JobError with every problem found; never changes the file."""
    return load_stamped(path)[0]


def load_stamped(path: Path) -> tuple[Job, Stamp]:
    """Job in a file, and what the file is, to notice later that another program changed it. Raises JobError."""
    try:
        # Not waiting: a pipe without a writer would hold the program for ever.
        with os.fdopen(os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC), "rb") as file:
            known = os.fstat(file.fileno())
            if stat.S_ISDIR(known.st_mode):
                raise _refusal("this is a folder, not a job file.")
            if not stat.S_ISREG(known.st_mode):
                raise _refusal("this is a pipe or a device, not a job file.")
            if known.st_size > limits.FILE_BYTES:
                raise _refusal(
                    f"the file is {known.st_size // MB} MB; a job file has at most {limits.FILE_BYTES // MB} MB."
                )
            packed = file.read(4) == container.SIGNATURE
            file.seek(0)
            raw = container.job_text(file) if packed else file.read(limits.JOB_BYTES + 1)
            if len(raw) > limits.JOB_BYTES:
                raise _refusal(f"the job text is larger than {limits.JOB_BYTES // MB} MB.")
            file.seek(0)
            stamp = Stamp(known.st_size, known.st_mtime_ns, _hash(file, known.st_size))
    except container.ContainerError as error:
        raise _refusal(str(error)) from error
    except (OSError, ValueError) as error:  # ValueError: a NUL in the name
        raise _refusal(f"the file cannot be read ({why(error)}).") from error
    return decode(raw), stamp


def changed_since(path: Path, stamp: Stamp | None) -> bool:
    """Whether a file is there that is not the one last read or written here."""
    try:
        known = path.stat()
        if stamp is None or known.st_size != stamp.size:
            return True
        if known.st_mtime_ns == stamp.time_ns:
            return False
        with path.open("rb") as file:
            return not stamp.sha256 or _hash(file, known.st_size) != stamp.sha256
    except FileNotFoundError:
        return False
    except OSError:
        return True


def _hash(file: IO[bytes], size: int) -> str:
    """Hash of an open file; of a large one there is none, since a job is opened on the window's thread."""
    import hashlib  # as in the journal

    if size > limits.HASHED_BYTES:
        return ""
    # Any binary file will do.
    return hashlib.file_digest(file, "sha256").hexdigest()  # type: ignore[arg-type]


def _refusal(sentence: str) -> JobError:
    return JobError([Problem("", sentence[0].upper() + sentence[1:])])


def decode(raw: bytes) -> Job:
    """Job from JSON text of any known format version. Raises JobError with every problem found."""
    try:
        document = msgspec.json.decode(raw)
    except RecursionError:
        raise _refusal("the job text is nested too deeply.") from None
    except (msgspec.DecodeError, UnicodeDecodeError) as error:
        raise _refusal(f"this is not readable JSON ({error}).") from error
    if not isinstance(document, dict) or document.get("format") != FORMAT:
        raise _refusal(f"this is not a Weighty Axle job (no format “{FORMAT}”).")
    document = _present_version(document)
    try:
        job = msgspec.convert(document, Job)
    except msgspec.ValidationError as error:
        listed = _every_problem(document) if len(raw) <= limits.SCHEMA_BYTES else []
        raise JobError(listed or [problem_from(str(error))]) from error
    wrong = problems(job)
    if wrong:
        raise JobError(wrong)
    return job


def _present_version(document: dict[str, Any]) -> dict[str, Any]:
    version = document.get("format_version")
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise JobError([Problem("format_version", f"{str(version)[:60]!r} is not a version number.")])
    if version > FORMAT_VERSION:
        raise JobError(
            [
                Problem(
                    "format_version",
                    (
                        f"This file is of version {version}; this program reads up to {FORMAT_VERSION}. A newer "
                        "program wrote it; it was left as it is."
                    ),
                )
            ]
        )
    if version < COPIED_BELOW and _has_a_longer_list(document, limits.OLD_LIST):
        raise _refusal(f"a list of the version {version} document has more than {limits.OLD_LIST} entries.")
    while version < FORMAT_VERSION:
        try:
            document = {**STEPS[version - 1](document), "format_version": version + 1}
        except (AttributeError, TypeError, ValueError, KeyError, ArithmeticError) as error:
            raise _refusal(
                f"the version {version} document is damaged and cannot be brought up to date ({str(error)[:200]})."
            ) from error
        version += 1
    return document


def _has_a_longer_list(document: object, most: int) -> bool:
    """Whether anything in a document holds more entries than that; older versions are copied piece by piece, which a
    bomb would multiply.
    """
    waiting = [document]
    while waiting:
        one = waiting.pop()
        if isinstance(one, dict | list):
            if len(one) > most:
                return True
            waiting += one.values() if isinstance(one, dict) else one
    return False


def _every_problem(document: dict[str, Any]) -> list[Problem]:
    """All the places where a document breaks the schema; only run once decoding has failed."""
    import jsonschema

    found = []
    for error in jsonschema.Draft202012Validator(schema()).iter_errors(document):
        # A choice of shapes reports once for the whole; its parts say more.
        for part in error.context or [error]:
            place = "".join(f"[{step}]" if isinstance(step, int) else f".{step}" for step in part.absolute_path)
            found.append(Problem(place.lstrip(".")[:200], _UNKNOWN.sub(_NEWER, part.message)[:300]))
        if len(found) >= 200:
            break
    return sorted(found, key=lambda problem: problem.place)


_UNKNOWN = re.compile(r"^Additional properties are not allowed \((.*) (?:was|were) unexpected\)$", re.DOTALL)
_NEWER = r"There is no \1 here: a newer program may have written it."


def schema() -> dict[str, Any]:
    """JSON Schema of the job document, made from the models."""
    made = msgspec.json.schema(Job)
    # Models give both a value of their own, so that a new job has them; a document must state them.
    made["$defs"]["Job"]["required"] = ["format", "format_version", *made["$defs"]["Job"]["required"]]
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", "title": "Weighty Axle job", **made}


def encode(job: Job) -> bytes:
    """JSON text of a job: UTF-8, keys sorted, two spaces, newline at the end; a very large one without the spaces."""
    plain = msgspec.json.encode(job, order="sorted")
    return (msgspec.json.format(plain, indent=2) if len(plain) <= limits.JOB_BYTES // 8 else plain) + b"\n"


def save(job: Job, path: Path, *, carry_from: Path | None = None) -> Stamp:
    """Write a job to `path` so that at any moment the old or the new file is whole; the old one stays as `NAME~`.

    Raises OSError, JobError.

    Everything else in the container `carry_from` (photos, logs) is carried over, packed as it is; where that cannot be
    read, that file is kept as `NAME.damaged` and saving goes on. A link stays a link. Returns what the file is now.
    """
    wrong = problems(job)
    if wrong:
        raise JobError(wrong)
    text = encode(job)
    if len(text) > limits.JOB_BYTES:
        raise _refusal(
            f"the job's text would be {len(text) // MB} MB; only {limits.JOB_BYTES // MB} MB can be opened again. "
            "Shorten notes or painted days."
        )
    target = path.resolve() if path.is_symlink() else path
    with replacing(target) as file:
        if path.suffix == ".json":
            file.write(text)
        elif not container.write(file, text, carry_from, waiting(job)) and carry_from is not None:
            container.keep_beside(carry_from, DAMAGED, part_beside(carry_from))
        file.flush()
        if target.is_file():
            with contextlib.suppress(OSError):  # a name too long for one letter more has no version before
                container.keep_beside(target, PREVIOUS, part_beside(target))
    known = path.stat()
    with path.open("rb") as written:
        return Stamp(known.st_size, known.st_mtime_ns, _hash(written, known.st_size))
