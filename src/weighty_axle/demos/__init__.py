"""Demo jobs that ship with the program: invented names, places and figures."""

from __future__ import annotations

from pathlib import Path

from weighty_axle.job.files.store import decode
from weighty_axle.job.models.document import Job

_FOLDER = Path(__file__).parent


def names() -> tuple[str, ...]:
    """Names of the demo jobs."""
    return tuple(sorted(one.stem for one in _FOLDER.glob("*.json")))


def demo(name: str) -> Job:
    """One demo job. Raises KeyError for an unknown name."""
    if name not in names():
        raise KeyError(name)
    return decode((_FOLDER / f"{name}.json").read_bytes())
