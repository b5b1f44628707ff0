"""Job files: `.axle` containers (ZIP with job.json) and plain JSON, read with suspicion and written atomically."""

from __future__ import annotations

import os
from pathlib import Path, PurePosixPath
from typing import TYPE_CHECKING, Any

import msgspec

from weighty_axle.job.checks import JobError, Problem, problem_from, problems
from weighty_axle.job.migrations import STEPS
from weighty_axle.job.model import FORMAT, FORMAT_VERSION, Job

if TYPE_CHECKING:
    import zipfile

MAX_FILE_BYTES = 512 * 1024 * 1024
MAX_JOB_BYTES = 8 * 1024 * 1024
MAX_MEMBERS = 5000
_MEMBER = "job.json"


def load(path: Path) -> Job:
    """Job in a file. Raises JobError with every problem found; never changes the file."""
    try:
        size = path.stat().st_size
        if path.is_dir():
            raise _refusal("this is a folder, not a job file.")
        if size > MAX_FILE_BYTES:
            raise _refusal(f"the file is {size // 2**20} MB; a job file has at most {MAX_FILE_BYTES // 2**20} MB.")
        with path.open("rb") as file:
            container = file.read(4) == b"PK\x03\x04"
        raw = _job_member(path) if container else _limited(path)
    except OSError as error:
        raise _refusal(f"the file cannot be read ({error.strerror or error}).") from error
    return decode(raw)


def _refusal(sentence: str) -> JobError:
    return JobError([Problem("", sentence[0].upper() + sentence[1:])])


def _limited(path: Path) -> bytes:
    with path.open("rb") as file:
        raw = file.read(MAX_JOB_BYTES + 1)
    if len(raw) > MAX_JOB_BYTES:
        raise _refusal(f"the job text is larger than {MAX_JOB_BYTES // 2**20} MB.")
    return raw


def _job_member(path: Path) -> bytes:
    import zipfile

    try:
        with zipfile.ZipFile(path) as container:
            _judge_members(container)
            with container.open(_MEMBER) as member:
                # The size in the header can lie: read one byte more than allowed and no further.
                raw = member.read(MAX_JOB_BYTES + 1)
    except KeyError:
        raise _refusal(f"the container holds no {_MEMBER}.") from None
    except (zipfile.BadZipFile, NotImplementedError, RuntimeError, EOFError, ValueError) as error:
        raise _refusal(f"the container is damaged ({error}).") from error
    except Exception as error:
        # zlib.error and lzma's errors share no base class; damaged data must end in a sentence, not a traceback.
        if type(error).__module__ in ("zlib", "lzma", "_lzma", "struct"):
            raise _refusal("the container's data is damaged.") from error
        raise
    if len(raw) > MAX_JOB_BYTES:
        raise _refusal(f"{_MEMBER} unpacks to more than {MAX_JOB_BYTES // 2**20} MB.")
    return raw


def _judge_members(container: zipfile.ZipFile) -> None:
    members = container.infolist()
    if len(members) > MAX_MEMBERS:
        raise _refusal(f"the container holds {len(members)} files; at most {MAX_MEMBERS} are allowed.")
    names = [member.filename for member in members]
    if len(set(names)) < len(names):
        raise _refusal("the container holds two files of one name.")
    for member in members:
        name = member.filename
        symlink = (member.external_attr >> 16) & 0o170000 == 0o120000
        if name.startswith(("/", "\\")) or ".." in PurePosixPath(name.replace("\\", "/")).parts or ":" in name or symlink:
            raise _refusal(f"the container holds the path “{name[:60]}”, which leads outside it.")


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
        raise JobError(_every_problem(document) or [problem_from(str(error))]) from error
    wrong = problems(job)
    if wrong:
        raise JobError(wrong)
    return job


def _present_version(document: dict[str, Any]) -> dict[str, Any]:
    version = document.get("format_version")
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise JobError([Problem("format_version", f"{version!r} is not a version number.")])
    if version > FORMAT_VERSION:
        raise JobError(
            [
                Problem(
                    "format_version",
                    f"This file is of version {version}; this program reads up to {FORMAT_VERSION}. A newer program wrote it; it was left as it is.",
                )
            ]
        )
    while version < FORMAT_VERSION:
        try:
            document = STEPS[version](document)
        except (AttributeError, TypeError, ValueError, KeyError) as error:
            raise _refusal(f"the version {version} document is damaged and cannot be brought up to date ({error}).") from error
        version += 1
    return document


def _every_problem(document: dict[str, Any]) -> list[Problem]:
    """All the places where a document breaks the schema; only run once decoding has failed."""
    import jsonschema

    found = []
    for error in jsonschema.Draft202012Validator(schema()).iter_errors(document):
        # A choice of shapes reports once for the whole; its parts say more.
        for part in error.context or [error]:
            place = "".join(f"[{step}]" if isinstance(step, int) else f".{step}" for step in part.absolute_path)
            found.append(Problem(place.lstrip("."), part.message[:300]))
        if len(found) >= 200:
            break
    return sorted(found, key=lambda problem: problem.place)


def schema() -> dict[str, Any]:
    """JSON Schema of the job document, made from the models."""
    made = msgspec.json.schema(Job)
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", "title": "Weighty Axle job", **made}


def encode(job: Job) -> bytes:
    """JSON text of a job: UTF-8, keys sorted, two spaces, newline at the end."""
    return msgspec.json.format(msgspec.json.encode(job, order="sorted"), indent=2) + b"\n"


def save(job: Job, path: Path, *, carry_from: Path | None = None) -> None:
    """Write a job to `path` so that at any moment the old or the new file is whole; the old one stays as `NAME~`.

    Everything else in the container `carry_from` (photos, logs) is carried over. Raises OSError, JobError.
    """
    wrong = problems(job)
    if wrong:
        raise JobError(wrong)
    import tempfile

    handle, name = tempfile.mkstemp(prefix=f".{path.name}.", suffix=".part", dir=path.parent)
    part = Path(name)
    try:
        with os.fdopen(handle, "wb") as file:
            if path.suffix == ".json":
                file.write(encode(job))
            else:
                _write_container(file, job, carry_from)
            file.flush()
            os.fsync(file.fileno())
        part.chmod(path.stat().st_mode & 0o777 if path.exists() else 0o644)
        if path.exists():
            _keep_previous(path)
        os.replace(part, path)
    except BaseException:
        part.unlink(missing_ok=True)
        raise
    _flush_folder(path.parent)


def _write_container(file: Any, job: Job, carry_from: Path | None) -> None:
    import zipfile

    with zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED) as container:
        container.writestr(zipfile.ZipInfo(_MEMBER, (1980, 1, 1, 0, 0, 0)), encode(job), zipfile.ZIP_DEFLATED)
        if carry_from is None or not zipfile.is_zipfile(carry_from):
            return
        with zipfile.ZipFile(carry_from) as old:
            _judge_members(old)
            for member in old.infolist():
                if member.filename == _MEMBER or member.is_dir():
                    continue
                with old.open(member) as source, container.open(member.filename, "w") as target:
                    while block := source.read(1 << 20):
                        target.write(block)


def _keep_previous(path: Path) -> None:
    spare = path.with_name(f".{path.name}.previous")
    spare.unlink(missing_ok=True)
    try:
        os.link(path, spare)
    except OSError:  # file systems without hard links (memory sticks)
        spare.write_bytes(path.read_bytes())
    os.replace(spare, path.with_name(path.name + "~"))


def _flush_folder(folder: Path) -> None:
    descriptor = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(descriptor)
    except OSError:  # some network folders cannot be flushed; the file itself was
        pass
    finally:
        os.close(descriptor)
