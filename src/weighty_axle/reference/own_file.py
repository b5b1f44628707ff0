"""What an installer keeps for later jobs: a file of records, read with a sentence when damaged, written beside and
renamed.
"""

from __future__ import annotations

from pathlib import Path
from typing import TypeVar

import msgspec

from weighty_axle.job import limits
from weighty_axle.job.files.disk import UnreadableError, read_whole, replacing

Kept = TypeVar("Kept", bound=msgspec.Struct)


def read_kept(path: Path, kind: type[Kept], words: str) -> tuple[Kept, ...]:
    """Records of a file; none when there is no file. Raises ValueError when it is damaged."""
    if not path.exists():
        return ()
    try:
        raw = read_whole(path, limits.OWN_FILE_BYTES, f"a file of own {words}")
        # A type given at run time.
        own: tuple[Kept, ...] = msgspec.json.decode(raw, type=tuple[kind, ...])  # type: ignore[valid-type]
    except UnreadableError as error:
        raise ValueError(str(error)) from error
    except (msgspec.MsgspecError, RecursionError) as error:
        raise ValueError(f"Your own {words} in {path} cannot be read ({error}).") from error
    return own


def write_kept(path: Path, records: tuple[msgspec.Struct, ...]) -> None:
    """Write all records. Raises OSError."""
    path.parent.mkdir(parents=True, exist_ok=True)
    with replacing(path, follow=True) as file:
        file.write(msgspec.json.format(msgspec.json.encode(records)))
