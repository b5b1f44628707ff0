"""The `.axle` container: a ZIP with job.json and, beside it, photos and logs that are carried packed and never unpacked
to judge a job.
"""

from __future__ import annotations

import copy
import os
import shutil
import struct
import zlib
from pathlib import Path, PurePosixPath
from typing import IO, TYPE_CHECKING

from weighty_axle.job import limits
from weighty_axle.job.limits import MB

if TYPE_CHECKING:
    import zipfile

JOB_MEMBER = "job.json"
SIGNATURE = b"PK\x03\x04"
_END, _WIDE_END, _LOCAL = b"PK\x05\x06", b"PK\x06\x07", b"PK\x03\x04"
_DOES_NOT_MATTER = (1980, 1, 1, 0, 0, 0)
"""Time of the job's member: the same job makes the same bytes."""


class ContainerError(Exception):
    """A container that cannot be used; the message is a sentence without its capital."""


def job_text(file: IO[bytes]) -> bytes:
    """The job's own text in an open container. Raises ContainerError."""
    import zipfile

    try:
        _judge_directory(file)
        with zipfile.ZipFile(file) as container:
            _judge_members(container)
            member = container.getinfo(JOB_MEMBER)
            if member.compress_type not in (zipfile.ZIP_STORED, zipfile.ZIP_DEFLATED):
                raise ContainerError(f"{JOB_MEMBER} is packed in a way that is not used here.")
            with container.open(member) as stream:
                # The size in the header can lie: read one byte more than allowed and no further.
                raw = stream.read(limits.JOB_BYTES + 1)
    except KeyError:
        raise ContainerError(f"the container holds no {JOB_MEMBER}.") from None
    except (zipfile.BadZipFile, NotImplementedError, RuntimeError, EOFError, ValueError, OverflowError) as error:
        raise ContainerError(f"the container is damaged ({error}).") from error
    except (zlib.error, struct.error) as error:
        raise ContainerError("the container's data is damaged.") from error
    if len(raw) > limits.JOB_BYTES:
        raise ContainerError(f"{JOB_MEMBER} unpacks to more than {limits.JOB_BYTES // MB} MB.")
    return raw


def _judge_directory(file: IO[bytes]) -> None:
    """The list of files is read as a whole: its size is looked at first."""
    size = file.seek(0, os.SEEK_END)
    file.seek(max(0, size - 65_557 - 20))
    tail = file.read()
    at = tail.rfind(_END)
    if at >= 0 and len(tail) >= at + 22:
        listed = int.from_bytes(tail[at + 12 : at + 16], "little")
        if listed > limits.DIRECTORY_BYTES or _WIDE_END in tail[max(0, at - 20) : at]:
            raise ContainerError(f"the container's list of files is larger than {limits.DIRECTORY_BYTES // MB} MB.")
    file.seek(0)


def _judge_members(container: zipfile.ZipFile) -> None:
    members = container.infolist()
    if len(members) > limits.MEMBERS:
        raise ContainerError(f"the container holds {len(members)} files; at most {limits.MEMBERS} are allowed.")
    names = [member.filename for member in members]
    if len(set(names)) < len(names):
        raise ContainerError("the container holds two files of one name.")
    for member in members:
        name = member.filename
        symlink = (member.external_attr >> 16) & 0o170000 == 0o120000
        if (
            name.startswith(("/", "\\"))
            or ".." in PurePosixPath(name.replace("\\", "/")).parts
            or ":" in name
            or symlink
        ):
            raise ContainerError(f"the container holds the path “{name[:60]}”, which leads outside it.")


def write(file: IO[bytes], text: bytes, carry_from: Path | None, add: dict[str, Path] | None = None) -> bool:
    """Write a container with the job's text, everything else that `carry_from` holds, and files to `add` by their
    names in it where they are not carried.

    Returns whether all of that came along. Raises OSError.

    What is carried is copied packed, byte for byte: neither its size unpacked nor damage in it costs time here.
    """
    import zipfile

    whole = True
    with zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED) as container:
        container.writestr(zipfile.ZipInfo(JOB_MEMBER, _DOES_NOT_MATTER), text, zipfile.ZIP_DEFLATED)
        if carry_from is not None:
            whole = _carry(carry_from, container)
        for name, path in (add or {}).items():
            if name not in container.NameToInfo:
                container.writestr(zipfile.ZipInfo(name, _DOES_NOT_MATTER), path.read_bytes(), zipfile.ZIP_STORED)
    return whole


def _carry(path: Path, target: zipfile.ZipFile) -> bool:
    """Copy everything but the job.

    A container that cannot be read as one, or a file that is not where the list says, is not carried.
    """
    import zipfile

    whole = True
    with path.open("rb") as file:
        if file.read(4) != SIGNATURE:
            return True  # plain JSON: nothing beside the job
        try:
            _judge_directory(file)
            with zipfile.ZipFile(file) as old:
                _judge_members(old)
                members = [member for member in old.infolist() if member.filename != JOB_MEMBER and not member.is_dir()]
        except (ContainerError, zipfile.BadZipFile, NotImplementedError, ValueError, OverflowError, struct.error):
            return False
        for member in members:
            whole = _copy_packed(file, member, target) and whole
    return whole


def _copy_packed(file: IO[bytes], member: zipfile.ZipInfo, target: zipfile.ZipFile) -> bool:
    """One file of a container into another as it is packed. False where its data is not there."""
    size = file.seek(0, os.SEEK_END)
    if not 0 <= member.header_offset <= size - 30:
        return False
    file.seek(member.header_offset)
    head = file.read(30)
    begins = member.header_offset + 30 + int.from_bytes(head[26:28], "little") + int.from_bytes(head[28:30], "little")
    if head[:4] != _LOCAL or begins + member.compress_size > size:
        return False
    carried = copy.copy(member)
    carried.flag_bits &= ~0x08  # sizes stand in the head, not behind the data
    carried.extra = b""
    out = target.fp
    assert out is not None
    carried.header_offset = out.tell()
    out.write(carried.FileHeader())
    file.seek(begins)
    left = member.compress_size
    while left:
        block = file.read(min(left, MB))
        out.write(block)
        left -= len(block)
    # The list at the end is written from these when the container is closed.
    target.filelist.append(carried)
    target.NameToInfo[carried.filename] = carried
    target.start_dir = out.tell()
    return True


def keep_beside(path: Path, ending: str, part: Path) -> None:
    """Keep the file of `path` under its name and an ending, by a link where the file system has them.

    Raises OSError.
    """
    try:
        try:
            os.link(path, part)
        except OSError:  # file systems without hard links (memory sticks)
            shutil.copyfile(path, part)
        os.replace(part, path.with_name(path.name + ending))
    finally:
        part.unlink(missing_ok=True)  # a link onto the very same file is not moved by a replacement
