"""The autosave journal: every edit is on disk a moment after it is made, whatever happens to the program.

One folder per running program under the state directory, locked while the program lives. A folder whose lock is free
was left by a crash; its last whole record is the job to recover, unless its file holds that or something newer already.
A record is one line: checksum, size, header, job. What is newer is counted, not read off a clock: clocks go backwards.
"""

from __future__ import annotations

import contextlib
import fcntl
import itertools
import os
import re
import time
import zlib
from collections.abc import Iterator
from pathlib import Path

import msgspec
from msgspec import Struct

from weighty_axle.job import limits
from weighty_axle.job.checks.problem import JobError
from weighty_axle.job.files.disk import UnreadableError, path_of, read_whole, replacing, tidy
from weighty_axle.job.files.store import decode, load
from weighty_axle.job.models.document import Job

_LOG, _LOCK, _COUNT = "edits.log", "lock", "count"
_HEAD = re.compile(rb"([0-9a-f]{8}) ([0-9a-f]{8}) ")
_START_AFRESH_BYTES = 4 * limits.MB
_STARTING_S = 10.0


class Header(msgspec.Struct, frozen=True):
    """What a record says beside the job: where it belongs, how many edits it is from the saved state, and the last one.

    `order` counts records over all programs. `digest` is of this record's job, `bases` of the jobs its file held when
    it was last read or written here, and may hold now; `follows` names the journal this one goes on from.
    """

    path: str
    unsaved_edits: int
    last_edit: str
    when: float
    order: int = 0
    digest: str = ""
    bases: tuple[str, ...] = ()
    follows: str = ""


class Recovered(Struct, frozen=True):
    """A job found in the journal of a program that did not end properly.

    `stale`: its file was saved by other hands since, and may be newer.
    """

    folder: Path
    header: Header
    job: Job
    stale: bool = False


def digest_of(job: Job) -> str:
    """What tells one job from another."""
    return _digest(msgspec.json.encode(job))


def _digest(encoded: bytes) -> str:
    import hashlib  # not before the first picture: it brings a whole library for cyphers along

    return hashlib.sha256(encoded).hexdigest()[:24]


class Journal:
    """Appends job states to this program's own journal folder; not thread-safe: one writer thread uses it.

    Everything in it is for its owner only.
    """

    def __init__(self, root: Path) -> None:
        self._root = root
        self._open()

    def _open(self) -> None:
        """Make the folder, its lock and its log. Raises OSError."""
        self._root.mkdir(mode=0o700, parents=True, exist_ok=True)
        self.folder = self._root / f"{os.getpid():x}-{time.monotonic_ns():x}-{os.urandom(3).hex()}"
        self.folder.mkdir(mode=0o700)
        self._lock = os.open(self.folder / _LOCK, os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, 0o600)
        fcntl.flock(self._lock, fcntl.LOCK_EX)
        self._log = os.open(self.folder / _LOG, os.O_WRONLY | os.O_CREAT | os.O_APPEND | os.O_CLOEXEC, 0o600)
        self._good_bytes = 0

    def record(self, job: Job, header: Header) -> bool:
        """Write one state through to the disk.

        Returns whether the folder had gone and was made again. Raises OSError; a torn record is cut off again.
        """
        gone = not (self.folder / _LOG).exists()
        if gone:
            self._let_go()
            self._open()
        encoded = msgspec.json.encode(job)
        header = msgspec.structs.replace(header, order=self._next(), digest=_digest(encoded))
        body = msgspec.json.encode(header) + b"\t" + zlib.compress(encoded, 1)
        line = b"%08x %08x " % (zlib.crc32(body), len(body)) + body + b"\n"
        if self._good_bytes > _START_AFRESH_BYTES:
            self._start_afresh(line)
        else:
            self._append(line)
        return gone

    def _append(self, line: bytes) -> None:
        try:
            left = memoryview(line)
            while left:
                left = left[os.write(self._log, left) :]
            os.fsync(self._log)
            self._good_bytes += len(line)
        except OSError:
            # A torn record would hide all that come after it.
            os.ftruncate(self._log, self._good_bytes)
            raise

    def _start_afresh(self, line: bytes) -> None:
        """Begin a new log with this record; the old one stands until the new one is whole."""
        with replacing(self.folder / _LOG) as file:
            file.write(line)
        os.close(self._log)
        self._log = os.open(self.folder / _LOG, os.O_WRONLY | os.O_APPEND | os.O_CLOEXEC)
        self._good_bytes = len(line)

    def _next(self) -> int:
        """The next number of the count all programs share; without a file to keep it, of this one's own."""
        try:
            with os.fdopen(os.open(self._root / _COUNT, os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, 0o600), "r+b") as file:
                fcntl.flock(file, fcntl.LOCK_EX)
                text = file.read(20).strip()
                order = (
                    int(text) + 1
                    if text.isdigit() and len(text) <= 15
                    else 1 + max((_last_order(one) for one in self._root.iterdir()), default=0)
                )
                file.seek(0)
                file.write(b"%-20d" % order)
                return order
        except (OSError, ValueError):
            return 0

    def _let_go(self) -> None:
        os.close(self._log)
        os.close(self._lock)

    def close(self) -> None:
        """End properly: nothing to recover is left behind."""
        self._let_go()
        discard(self.folder)


def left_behind(root: Path) -> list[Recovered]:
    """Jobs with unsaved edits from programs that are gone, newest first; journals whose last state is in its file, or
    goes on in another, are let go.
    """
    found: list[Recovered] = []
    try:
        folders = sorted(one for one in root.iterdir() if one.is_dir())
    except OSError:
        return []
    followed = set[str]()
    for folder in folders:
        records = list(_records(folder))
        if records:
            followed.add(records[-1][0].follows)
        if _alive(folder):
            continue
        last = _whole(folder, records)
        if last is None or not last.header.unsaved_edits:
            discard(folder)
            continue
        in_file = _digest_in(last.header.path)
        if in_file == records[-1][0].digest:
            discard(folder)  # it ended after saving, and before it could say so
            continue
        ours = {header.digest for header, _ in records} | set(last.header.bases)
        found.append(
            msgspec.structs.replace(last, stale=bool(in_file) and bool(last.header.bases) and in_file not in ours)
        )
        tidy(folder)
    for one in found:
        if one.folder.name in followed:
            discard(one.folder)
    return sorted(
        (one for one in found if one.folder.name not in followed),
        key=lambda one: (one.header.order, one.header.when),
        reverse=True,
    )


def put_aside(one: Recovered) -> Path:
    """Keep a recovered job as a job file of its own beside the journals, and let its journal go.

    Raises OSError, JobError.
    """
    path = save_aside(one.job, one.folder.parent.parent)
    discard(one.folder)
    return path


def save_aside(job: Job, folder: Path) -> Path:
    """Keep a job as a file under a name nothing has, in `set-aside` of a folder. Raises OSError, JobError."""
    from weighty_axle.job.files.store import save

    aside = folder / "set-aside"
    aside.mkdir(mode=0o700, parents=True, exist_ok=True)
    words = re.sub(r"[^\w.-]+", " ", job.name).strip()[:40] or "job"
    number = next(n for n in itertools.count(1) if not (aside / f"{words} {n}.axle").exists())
    path = aside / f"{words} {number}.axle"
    save(job, path)
    return path


def _digest_in(path: str) -> str:
    """Digest of the job in a file; empty when there is no sound one."""
    if not path:
        return ""
    try:
        return digest_of(load(path_of(path)))
    except JobError:
        return ""


def discard(folder: Path) -> None:
    """Forget a journal that was recovered or is not wanted."""
    import shutil

    shutil.rmtree(folder, ignore_errors=True)


def _alive(folder: Path) -> bool:
    try:
        with (folder / _LOCK).open("r") as lock:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        return True
    except OSError:
        # A program that is just starting has made its folder but not its lock yet.
        with contextlib.suppress(OSError, ValueError):
            maker = int(folder.name.partition("-")[0], 16)
            return Path(f"/proc/{maker}").exists() and time.time() - folder.stat().st_mtime < _STARTING_S
        return False
    return False


def _records(folder: Path) -> Iterator[tuple[Header, bytes]]:
    """Whole records of a log in order: header and packed job; a torn one ends it."""
    try:
        raw = read_whole(folder / _LOG, limits.JOURNAL_BYTES, "a journal")
    except UnreadableError:
        return
    at = 0
    while head := _HEAD.match(raw, at):
        checksum, size = int(head[1], 16), int(head[2], 16)
        body = raw[at + 18 : at + 18 + size]
        if len(body) < size or zlib.crc32(body) != checksum:
            return
        header, _, packed = body.partition(b"\t")
        try:
            yield msgspec.json.decode(header, type=Header), packed
        except msgspec.MsgspecError:
            return
        at += 18 + size + 1


def _last_order(folder: Path) -> int:
    return max((header.order for header, _ in _records(folder)), default=0)


def _whole(folder: Path, records: list[tuple[Header, bytes]]) -> Recovered | None:
    """The newest record that holds a sound job."""
    for header, packed in reversed(records):
        try:
            unpacked = zlib.decompressobj()
            raw = unpacked.decompress(packed, limits.JOB_BYTES)
            if not unpacked.unconsumed_tail:
                return Recovered(folder, header, decode(raw))
        except (zlib.error, JobError):
            continue
    return None
