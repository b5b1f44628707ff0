"""What can be saved of a damaged job file: as much of its text as is whole, without what no job can hold, and the rest
told. The file itself is never touched.
"""

from __future__ import annotations

import json
import re
import struct
import zlib
from pathlib import Path
from typing import Any, NamedTuple

import msgspec
from msgspec.structs import replace

from weighty_axle.job import limits
from weighty_axle.job.checks.problem import JobError
from weighty_axle.job.files.container import JOB_MEMBER, SIGNATURE
from weighty_axle.job.files.disk import UnreadableError, read_whole
from weighty_axle.job.files.store import PREVIOUS, decode
from weighty_axle.job.models.document import FORMAT, Job
from weighty_axle.job.models.log import MOST_ENTRIES, LogEntry
from weighty_axle.job.models.versions import FORMAT_VERSION
from weighty_axle.reference.first_job import first_job
from weighty_axle.reference.vehicle_types import vehicle_types

MOST_ROUNDS = 400
"""So many places are mended before it is given up."""
LEAST_PARTS = 3
"""Parts of a job that have to be there for it to be taken for one. Source: judgement."""
_PARTS = dict.fromkeys(Job.__struct_fields__)
_WORDS = ("format", "format_version", "name", "customer", "notes", "draw", "design_name", "design_why", "practice")
"""Parts that are a mere word or number: others have fields of the same name."""
_OPENS, _CLOSES = {"{": "}", "[": "]"}, "}]"


class Rescued(NamedTuple):
    """A job that was saved, and what was lost or put in its place, in sentences."""

    job: Job
    told: tuple[str, ...]


class RescueError(Exception):
    """Nothing could be saved; the message is a sentence."""


def rescue(path: Path) -> Rescued:
    """Save what can be saved of a file. Raises RescueError with a sentence, OSError."""
    try:
        raw = read_whole(path, limits.FILE_BYTES, "a job file")
    except UnreadableError as error:
        raise RescueError(str(error)) from None
    told: list[str] = []
    text = _text_of(raw, told)
    document = _document(text, told)
    if document.get("format") != FORMAT:
        if "format" in document or len(_PARTS.keys() & document.keys()) < LEAST_PARTS:
            raise RescueError(f"{path.name} is no job of this program: too little in it is of one.")
        document["format"] = FORMAT
    version = document.get("format_version")
    if isinstance(version, int) and version > FORMAT_VERSION:
        raise RescueError(
            f"{path.name} is of version {version}, and this program reads up to {FORMAT_VERSION}: it is not "
            f"damaged, it is "
            "newer. Open it with the newer program."
        )
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        told.append(f"Its version was lost: it was taken for {FORMAT_VERSION}.")
        document["format_version"] = FORMAT_VERSION
    job = _mended(document, told)
    before = path.with_name(path.name + PREVIOUS)
    if told and before.is_file():
        told.append(f"{before.name} is the version before it: perhaps it has more.")
    if told:
        words = f"Rescued from the damaged file {path.name}; look at all of it. {' '.join(told)}"[:2000]
        entry = LogEntry(kind="fault", words=words)
        job = replace(job, log=replace(job.log, entries=(*job.log.entries[: MOST_ENTRIES - 1], entry)))
    return Rescued(job, tuple(told))


def _text_of(raw: bytes, told: list[str]) -> str:
    """The job's text: of a container as much as still unpacks."""
    if raw[:4] == SIGNATURE or (JOB_MEMBER.encode() in raw[:65_536] and b"PK" in raw[:4]):
        raw = _unpacked(raw, told)
    text = raw[: limits.JOB_BYTES].decode("utf-8", errors="replace")
    if "�" in text:
        told.append("Letters that were damaged stand as �.")
    return text.replace("\x00", "")


def _unpacked(raw: bytes, told: list[str]) -> bytes:
    """The job's member of a container, found by its own head: the list at the end may be gone."""
    name = JOB_MEMBER.encode()
    at = raw.find(SIGNATURE)
    while at >= 0 and at + 30 <= len(raw):
        flags, method, check, size, length, extra = (
            struct.unpack_from("<H", raw, at + 6)[0],
            struct.unpack_from("<H", raw, at + 8)[0],
            struct.unpack_from("<I", raw, at + 14)[0],
            struct.unpack_from("<I", raw, at + 18)[0],
            struct.unpack_from("<H", raw, at + 26)[0],
            struct.unpack_from("<H", raw, at + 28)[0],
        )
        begins = at + 30 + length + extra
        if raw[at + 30 : at + 30 + length] == name and method in (0, 8):
            packed = raw[begins : begins + size] if size and method == 0 else raw[begins:]
            found = packed if method == 0 else _inflated(packed, told)
            behind = flags & 0x08  # then the check sum stands behind the data
            if not told and not behind and zlib.crc32(found) != check:
                # Damage may unpack into a job that only looks whole.
                told.append("Its check sum does not fit: something in it is not as it was saved, nobody can tell what.")
            return found
        at = raw.find(SIGNATURE, at + 4)
    raise RescueError(f"The container holds no {JOB_MEMBER} any more.")


def _inflated(packed: bytes, told: list[str]) -> bytes:
    """As much as unpacks, a few bytes at a time once it fails."""
    made = bytearray()
    opened = zlib.decompressobj(-15)
    try:
        for start in range(0, len(packed), 64):
            made += opened.decompress(packed[start : start + 64], limits.JOB_BYTES)
            if opened.eof or len(made) > limits.JOB_BYTES:
                break
    except zlib.error:
        told.append(f"The container is damaged: {len(made)} bytes of the job still unpack.")
    if not opened.eof and not told:
        told.append(f"The container ends too early: {len(made)} bytes of the job still unpack.")
    return bytes(made)


def _document(text: str, told: list[str]) -> dict[str, Any]:
    """The text as a document: whole, else part by part, each as far as it is whole."""
    try:
        found = msgspec.json.decode(text)
        return found if isinstance(found, dict) else {}
    except (msgspec.DecodeError, RecursionError):
        pass
    starts = {name: at for name in _PARTS if (at := _start_of(name, text)) is not None}
    if not starts:
        raise RescueError("Nothing in it is whole enough to be a job.")
    told.append("The text is damaged: it was read part by part.")
    document: dict[str, Any] = {}
    order = sorted(starts.items(), key=lambda one: one[1])
    for (name, at), end in zip(order, [*(at for _, at in order[1:]), len(text)], strict=True):
        value = _value(text[at:], text[at:end])
        if value is _NOTHING:
            told.append(f"{_title(name)} could not be read.")
            continue
        if isinstance(value, _Cut):
            told.append(f"{_title(name)}: its end could not be read; what stands before it was kept.")
            value = value.value
        document[name] = value
    return document


class _Cut(NamedTuple):
    """A value that breaks off."""

    value: Any


_NOTHING = object()
_DECODER = json.JSONDecoder()


def _start_of(name: str, text: str) -> int | None:
    """Where the value of a part of a job begins: at the outermost level as it is written, else, for what is no mere
    word, anywhere.
    """
    outer = re.search(rf'(?:^|\n)(?:  |\{{)"{name}": ?', text)
    if outer is not None:
        return outer.end()
    if name in _WORDS:
        return None
    inner = re.search(rf'"{name}": ?(?=[{{\[])', text)
    return inner.end() if inner is not None else None


def _value(rest: str, own: str) -> Any:
    """A value as it stands, or as far as it goes within its own stretch; _NOTHING where nothing of it can be read."""
    try:
        return _DECODER.raw_decode(rest)[0]
    except (ValueError, RecursionError):
        pass
    for cut, closing in reversed(_ends(own)):
        try:
            return _Cut(msgspec.json.decode(own[:cut] + closing))
        except (msgspec.DecodeError, RecursionError):
            continue
    return _NOTHING


def _title(name: str) -> str:
    return name.replace("_", " ").capitalize()


def _ends(text: str, most: int = 2000) -> list[tuple[int, str]]:
    """Places at which the text could end, with what closes it there, the last of them."""
    found: list[tuple[int, str]] = []
    open_: list[str] = []
    within = escaped = False
    for at, sign in enumerate(text):
        if within:
            within = escaped or sign != '"'
            escaped = sign == "\\" and not escaped
            continue
        if sign == '"':
            within = True
        elif sign in _OPENS:
            open_.append(_OPENS[sign])
        elif sign in _CLOSES:
            if not open_ or open_[-1] != sign:
                break
            open_.pop()
            found.append((at + 1, "".join(reversed(open_))))
        elif sign == ",":
            found.append((at, "".join(reversed(open_))))
        if len(found) > 2 * most:
            found = found[-most:]
    return found[-most:]


def _mended(document: dict[str, Any], told: list[str]) -> Job:
    """The document as a job: what no job can hold goes, one place after the other; what must be there and is lost comes
    from a plain job.
    """
    plain: dict[str, Any] | None = None
    for _ in range(MOST_ROUNDS):
        try:
            return decode(msgspec.json.encode(document))
        except JobError as error:
            place, message = error.problems[0].place, error.problems[0].message
        if "required field" in message or "required property" in message:
            plain = plain if plain is not None else _plain()
            if _filled(document, plain, place, message, told):
                continue
        if not _dropped(document, place, told, message):
            raise RescueError(f"It cannot be mended: {place}: {message}")
    raise RescueError(f"More than {MOST_ROUNDS} places are damaged.")


def _plain() -> dict[str, Any]:
    found: dict[str, Any] = msgspec.json.decode(msgspec.json.encode(first_job(vehicle_types().rows[0])))
    return found


_MISSING = re.compile(r"[`'‘“]([a-z_0-9]+)['`’”]")


def _filled(document: dict[str, Any], plain: dict[str, Any], place: str, message: str, told: list[str]) -> bool:
    """Put what is required and missing at the top from a plain job; False where it is missing deeper down."""
    match = _MISSING.search(message)
    if match is None or place or match[1] not in plain:
        return False
    document[match[1]] = plain[match[1]]
    told.append(f"{_title(match[1])}: lost; a plain job's stands in its place.")
    return True


_STEP = re.compile(r"([A-Za-z_0-9]+)|\[([^\]]+)\]")


def _dropped(document: dict[str, Any], place: str, told: list[str], message: str) -> bool:
    """Take away the smallest thing at a place that can go: an entry of a list, or a value that need not be stated."""
    steps = [word or inner for word, inner in _STEP.findall(place)]
    named = re.match(r"[a-z ]+ ([A-Za-z][A-Za-z0-9_-]*)$", place)
    if named and (steps and steps[0] not in document):
        return _drop_tagged(document, named[1], told, message)
    trail: list[tuple[Any, Any]] = []
    here: Any = document
    for step in steps:
        key = _key(here, step)
        if key is None:
            break
        trail.append((here, key))
        here = here[key]
    for owner, key in reversed(trail):
        if isinstance(owner, list):
            gone = owner.pop(key)
            told.append(f"{place}: left out ({message}) {_words(gone)}".rstrip())
            return True
        if isinstance(owner, dict) and (owner is not document or len(trail) == 1):
            gone = owner.pop(key)
            told.append(f"{place}: left out ({message}) {_words(gone)}".rstrip())
            return True
    return False


def _key(owner: Any, step: str) -> Any:
    """The key of a step in a dict or list: by name, by place, by tag."""
    if isinstance(owner, dict):
        return step if step in owner else None
    if isinstance(owner, list):
        if step.isdigit() and int(step) < len(owner):
            return int(step)
        return next((at for at, one in enumerate(owner) if isinstance(one, dict) and one.get("tag") == step), None)
    return None


def _drop_tagged(owner: Any, tag: str, told: list[str], message: str) -> bool:
    """Take the last thing with a tag away, wherever it stands."""
    if isinstance(owner, list):
        for at in reversed(range(len(owner))):
            if isinstance(owner[at], dict) and owner[at].get("tag") == tag:
                owner.pop(at)
                told.append(f"{tag}: left out ({message})")
                return True
    values = owner.values() if isinstance(owner, dict) else owner if isinstance(owner, list) else ()
    return any(_drop_tagged(one, tag, told, message) for one in list(values) if isinstance(one, dict | list))


def _words(value: Any) -> str:
    """What was left out, in short."""
    return str(value)[:80] if not isinstance(value, dict | list) else ""
