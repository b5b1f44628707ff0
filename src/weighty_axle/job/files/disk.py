"""Files read with suspicion and written so that at any moment the old or the new one is whole; strays of a crash are
found again.
"""

from __future__ import annotations

import contextlib
import fcntl
import os
import stat
import time
from collections.abc import Iterator
from pathlib import Path
from typing import BinaryIO

from weighty_axle.job.limits import MB

_STRAY = ".weighty-axle-"
_STRAY_AFTER_S = 10.0


class UnreadableError(Exception):
    """A file that is not read; the message is a sentence that begins with its name."""


def read_whole(path: Path, most_bytes: int, words: str) -> bytes:
    """All of a plain file. Folders, pipes and devices are refused without waiting on them. Raises UnreadableError."""
    try:
        # Not waiting: a pipe without a writer would hold the program for ever.
        with os.fdopen(os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC), "rb") as file:
            kind, size = os.fstat(file.fileno()).st_mode, os.fstat(file.fileno()).st_size
            if stat.S_ISDIR(kind):
                raise UnreadableError(f"{shown(path)} is a folder, not {words}.")
            if not stat.S_ISREG(kind):
                raise UnreadableError(f"{shown(path)} is a pipe or a device, not {words}.")
            if size > most_bytes:
                raise UnreadableError(f"{shown(path)} is {size // MB} MB; {words} has at most {most_bytes // MB} MB.")
            return file.read(most_bytes)
    except (OSError, ValueError) as error:  # ValueError: a NUL in the name
        raise UnreadableError(f"{shown(path)} cannot be read ({why(error)}).") from error


def shown(path: Path) -> str:
    """A file's name as it can be shown: letters the file system holds and no encoding has become marks, and long ones
    are cut.
    """
    name = path.name.encode("utf-8", "replace").decode("utf-8", "replace")
    return name if len(name) <= 90 else f"{name[:60]}…{name[-20:]}"


def is_there(path: Path) -> bool:
    """Whether something has this name; a name nothing can have is not there."""
    try:
        return path.exists()
    except (OSError, ValueError):
        return False


def text_of(path: Path) -> str:
    """A path as text that can be written down: names the file system holds and no encoding has stand as an address."""
    text = str(path)
    try:
        text.encode("utf-8")
    except UnicodeEncodeError:
        return path.absolute().as_uri()
    return text


def path_of(text: str) -> Path:
    """The path of such a text."""
    if not text.startswith("file:///"):
        return Path(text)
    from urllib.parse import unquote_to_bytes

    return Path(os.fsdecode(unquote_to_bytes(text.removeprefix("file://"))))


def why(error: Exception) -> str:
    """The reason in an error's own words."""
    return (error.strerror if isinstance(error, OSError) else "") or str(error)


@contextlib.contextmanager
def replacing(path: Path, *, follow: bool = False) -> Iterator[BinaryIO]:
    """A file to write that takes the place of `path` once it is whole and on the disk; on any error `path` stays as it
    was.

    A new file follows the umask, one that is replaced keeps its mode. `follow`: a link stays a link, and what it leads
    to is replaced; otherwise the link itself is. Raises OSError.
    """
    target = path.resolve() if follow and path.is_symlink() else path
    part = part_beside(target)
    try:
        with os.fdopen(os.open(part, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_CLOEXEC, 0o666), "wb") as file:
            with contextlib.suppress(OSError):  # some network folders know no locks
                fcntl.flock(file, fcntl.LOCK_EX)
            yield file
            file.flush()
            os.fsync(file.fileno())
            if target.is_file() and not target.is_symlink():
                with contextlib.suppress(OSError):  # memory sticks know no modes
                    part.chmod(target.stat().st_mode & 0o7777)
            os.replace(part, target)
    except BaseException as error:
        with contextlib.suppress(OSError):
            part.unlink(missing_ok=True)
        if isinstance(error, OSError) and error.filename == str(part):
            error.filename = str(path)  # what is told names the file the user knows
        raise
    _flush_folder(target.parent)


def part_beside(path: Path) -> Path:
    """A name for a file on its way, short enough wherever `path` itself is, and known again when a crash leaves it."""
    return path.with_name(f"{_STRAY}{os.getpid()}-{os.urandom(4).hex()}.part")


def tidy(folder: Path) -> None:
    """Take away what a crash left half-written in a folder; what another program is writing now stays."""
    with contextlib.suppress(OSError, ValueError):
        for path in folder.iterdir():
            if path.name.startswith(_STRAY) and path.suffix == ".part":
                with contextlib.suppress(OSError):
                    _take_stray(path)


def _take_stray(path: Path) -> None:
    with path.open("rb") as file:
        fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        # Between being made and being locked it belongs to a program that runs.
        maker = path.name.removeprefix(_STRAY).partition("-")[0]
        if not Path(f"/proc/{maker}").exists() or time.time() - path.stat().st_mtime > _STRAY_AFTER_S:
            path.unlink()


def _flush_folder(folder: Path) -> None:
    with contextlib.suppress(OSError):  # some network folders cannot be flushed; the file itself was
        descriptor = os.open(folder, os.O_RDONLY)
        try:
            os.fsync(descriptor)
        finally:
            os.close(descriptor)
