"""Changes to what was measured: bays, wire ways, photos."""

from __future__ import annotations

from msgspec.structs import replace

from weighty_axle.job.edits.edit import Edit
from weighty_axle.job.models.vehicle import Bay, Photo, WireWay


def add_bay(bay: Bay) -> Edit:
    """One more bay."""
    return Edit(
        f"Add {bay.name}", lambda job: replace(job, vehicle=replace(job.vehicle, bays=(*job.vehicle.bays, bay)))
    )


def add_way(way: WireWay) -> Edit:
    """One more wire way."""
    return Edit(
        f"Add {way.name}", lambda job: replace(job, vehicle=replace(job.vehicle, ways=(*job.vehicle.ways, way)))
    )


def add_photos(photos: tuple[Photo, ...]) -> Edit:
    """More photos to take."""
    return Edit(
        "Add to the photo list",
        lambda job: replace(job, survey=replace(job.survey, photos=(*job.survey.photos, *photos))),
    )
