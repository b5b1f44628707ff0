"""Demo jobs that ship with the program: invented names, places and figures."""

from __future__ import annotations

from importlib.resources import files

from weighty_axle.job.model import Job
from weighty_axle.job.store import decode


def names() -> tuple[str, ...]:
    """Names of the demo jobs."""
    return tuple(sorted(one.name.removesuffix(".json") for one in files(__package__).iterdir() if one.name.endswith(".json")))


def demo(name: str) -> Job:
    """One demo job. Raises KeyError for an unknown name."""
    if name not in names():
        raise KeyError(name)
    return decode((files(__package__) / f"{name}.json").read_bytes())
