"""Changes to where cables come out and which walls are closed."""

from __future__ import annotations

from msgspec.structs import replace

from weighty_axle.job.edits.edit import WHOLE, Edit
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.place import ClosedAt, ClosedWall, Wall
from weighty_axle.job.stated import Place


def close_wall(wall: Wall, on: str) -> Edit:
    """A wall is closed: what comes out of it now is kept, so that changes afterwards are told."""

    def apply(job: Job) -> Job:
        there = tuple(
            ClosedAt(outlet=one.tag, place=one.place, serves=one.serves) for one in job.outlets if one.wall == wall
        )
        others = tuple(one for one in job.closed if one.wall != wall)
        return replace(job, closed=(*others, ClosedWall(wall=wall, closed_on=on, outlets=there)))

    return Edit(f"Close the {wall}", apply, path="closed", system=WHOLE)


def open_wall(wall: Wall) -> Edit:
    """A closed wall is opened again."""

    def apply(job: Job) -> Job:
        return replace(job, closed=tuple(one for one in job.closed if one.wall != wall))

    return Edit(f"Open the {wall}", apply, path="closed", system=WHOLE)


def put_outlet(tag: str, place: Place, merge: str) -> Edit:
    """An outlet at another place."""

    def apply(job: Job) -> Job:
        moved = tuple(replace(one, place=place) if one.tag == tag else one for one in job.outlets)
        return replace(job, outlets=moved)

    return Edit(f"Move {tag}", apply, merge, path=f"outlets[{tag}].place", system=WHOLE)
