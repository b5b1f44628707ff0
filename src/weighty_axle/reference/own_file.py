"""What an installer keeps for later jobs: a file of records, read with a sentence when damaged, written beside and renamed."""

from __future__ import annotations

import os
from pathlib import Path
from typing import TypeVar

import msgspec

Kept = TypeVar("Kept", bound=msgspec.Struct)


def read_kept(path: Path, kind: type[Kept], words: str) -> tuple[Kept, ...]:
    """Records of a file; none when there is no file. Raises ValueError when it is damaged."""
    try:
        raw = path.read_bytes()
    except FileNotFoundError:
        return ()
    try:
        own: tuple[Kept, ...] = msgspec.json.decode(raw, type=tuple[kind, ...])  # type: ignore[valid-type]  # a type given at run time
    except msgspec.MsgspecError as error:
        raise ValueError(f"Your own {words} in {path} cannot be read ({error}).") from error
    return own


def write_kept(path: Path, records: tuple[msgspec.Struct, ...]) -> None:
    """Write all records. Raises OSError."""
    path.parent.mkdir(parents=True, exist_ok=True)
    part = path.with_suffix(".part")
    with part.open("wb") as file:
        file.write(msgspec.json.format(msgspec.json.encode(records)))
        file.flush()
        os.fsync(file.fileno())
    part.replace(path)
