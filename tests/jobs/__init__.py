"""Jobs of one bank and one group of inverters that tests compute with; they stay as they are when demos change."""

from __future__ import annotations

from pathlib import Path

from weighty_axle.job.files.store import decode
from weighty_axle.job.models.document import Job

_FOLDER = Path(__file__).parent


def names() -> tuple[str, ...]:
    """Names of the jobs."""
    return tuple(sorted(one.stem for one in _FOLDER.glob("*.json")))


def plain(name: str) -> Job:
    """One of the jobs."""
    return decode((_FOLDER / f"{name}.json").read_bytes())
