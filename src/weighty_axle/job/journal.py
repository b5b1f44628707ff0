"""The autosave journal: every edit is on disk a moment after it is made, whatever happens to the program.

One folder per running program under the state directory, locked while the program lives. A folder whose lock is free
was left by a crash; its last whole record is the job to recover. A record is one line: checksum, size, header, job.
"""

from __future__ import annotations

import fcntl
import os
import time
import zlib
from pathlib import Path

import msgspec
from msgspec import Struct

from weighty_axle.job.checks import JobError
from weighty_axle.job.model import Job
from weighty_axle.job.store import decode

_LOG, _LOCK = "edits.log", "lock"
_START_AFRESH_BYTES = 4 * 1024 * 1024
_STARTING_S = 10.0


class Header(msgspec.Struct, frozen=True):
    """What a record says beside the job: where it belongs, how many edits it is from the saved state, and the last one."""

    path: str
    unsaved_edits: int
    last_edit: str
    when: float


class Recovered(Struct, frozen=True):
    """A job found in the journal of a program that did not end properly."""

    folder: Path
    header: Header
    job: Job


class Journal:
    """Appends job states to this program's own journal folder; not thread-safe: one writer thread uses it."""

    def __init__(self, root: Path) -> None:
        self.folder = root / f"{int(time.time() * 1000):x}-{os.getpid()}"
        self.folder.mkdir(parents=True)
        self._lock = (self.folder / _LOCK).open("w")
        fcntl.flock(self._lock, fcntl.LOCK_EX)
        self._log = (self.folder / _LOG).open("ab")

    def record(self, job: Job, header: Header) -> None:
        """Write one state through to the disk."""
        body = msgspec.json.encode(header) + b"\t" + zlib.compress(msgspec.json.encode(job), 1)
        line = b"%08x %08x " % (zlib.crc32(body), len(body)) + body + b"\n"
        if self._log.tell() > _START_AFRESH_BYTES:
            self._start_afresh(line)
        else:
            self._log.write(line)
            self._log.flush()
            os.fsync(self._log.fileno())

    def _start_afresh(self, line: bytes) -> None:
        """Begin a new log with this record; the old one stands until the new one is whole."""
        fresh = self.folder / f"{_LOG}.new"
        with fresh.open("wb") as file:
            file.write(line)
            file.flush()
            os.fsync(file.fileno())
        self._log.close()
        os.replace(fresh, self.folder / _LOG)
        self._log = (self.folder / _LOG).open("ab")

    def close(self) -> None:
        """End properly: nothing to recover is left behind."""
        self._log.close()
        self._lock.close()
        discard(self.folder)


def left_behind(root: Path) -> list[Recovered]:
    """Jobs with unsaved edits from programs that are gone, newest first; empty or finished journals are cleared away."""
    found = []
    for folder in sorted(root.iterdir()) if root.is_dir() else []:
        if not folder.is_dir() or _alive(folder):
            continue
        recovered = _last_whole(folder)
        if recovered is not None and recovered.header.unsaved_edits:
            found.append(recovered)
        else:
            discard(folder)
    return sorted(found, key=lambda one: one.header.when, reverse=True)


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
        return time.time() - folder.stat().st_mtime < _STARTING_S
    return False


def _last_whole(folder: Path) -> Recovered | None:
    """Newest record that is complete; a torn one at the end is passed over."""
    try:
        raw = (folder / _LOG).read_bytes()
    except OSError:
        return None
    at, last = 0, None
    while at + 18 <= len(raw):
        try:
            checksum, size = int(raw[at : at + 8], 16), int(raw[at + 9 : at + 17], 16)
        except ValueError:
            break
        body = raw[at + 18 : at + 18 + size]
        if len(body) < size or zlib.crc32(body) != checksum:
            break
        last, at = body, at + 18 + size + 1
    if last is None:
        return None
    header, _, packed = last.partition(b"\t")
    try:
        return Recovered(folder, msgspec.json.decode(header, type=Header), decode(zlib.decompress(packed)))
    except (msgspec.MsgspecError, zlib.error, JobError):
        return None
