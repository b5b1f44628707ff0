"""Vehicle types to start from: sizes to be measured over, and a whole first job around them."""

from __future__ import annotations

import functools
from pathlib import Path

import msgspec

from weighty_axle.job.edits.edit import Edit
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.inverters import Source
from weighty_axle.job.models.parts import Practice
from weighty_axle.job.models.roof import Obstacle
from weighty_axle.job.models.vehicle import Photo, Vehicle
from weighty_axle.reference import tables
from weighty_axle.reference.tables import Table


class VehicleType(msgspec.Struct, frozen=True, kw_only=True):
    """A usual vehicle with its roof."""

    key: str
    title: str
    practice: Practice
    vehicle: Vehicle
    obstacles: tuple[Obstacle, ...]
    roof_start_m: float
    roof_end_m: float
    roof_width_m: float


class VehicleTypes(Table[VehicleType], frozen=True):
    """All types, and the photos every survey needs."""

    photos: tuple[str, ...]


@functools.cache
def vehicle_types() -> VehicleTypes:
    """Vehicle types that ship with the program."""
    made: VehicleTypes = msgspec.json.decode(
        (Path(__file__).parent / "vehicle_types.json").read_bytes(), type=VehicleTypes, strict=False
    )
    return made


def usual_photos() -> tuple[Photo, ...]:
    """The photo list of every survey, none taken yet."""
    return tuple(Photo(tag=f"PH{index + 1}", subject=subject) for index, subject in enumerate(vehicle_types().photos))


def take_type(kind: VehicleType) -> Edit:
    """Put a type's vehicle, roof outline and roof obstacles into a job; what stands in it keeps its place and is judged
    anew.
    """

    def apply(job: Job) -> Job:
        roof = msgspec.structs.replace(
            job.roof,
            start_m=kind.roof_start_m,
            end_m=kind.roof_end_m,
            width_m=kind.roof_width_m,
            obstacles=kind.obstacles,
        )
        return msgspec.structs.replace(job, vehicle=kind.vehicle, roof=roof)

    return Edit(f"Start from a {kind.title}", apply)


def source_from(row: tables.UsualSource) -> Source:
    """A usual place to plug in as a job states it, its limit at what it is good for."""
    amps = row.amps * (0.8 if row.practice == "north_american" else 1.0)
    return Source(
        tag=row.tag,
        name=row.name,
        kind=row.kind,
        volts=row.volts,
        legs=row.legs,
        legs_in_phase=row.legs_in_phase,
        amps=row.amps,
        limit_a=amps,
        bonded=row.bonded,
        rcd_ma=row.rcd_ma,
        loop_ohm=row.loop_ohm,
        generator=row.generator,
    )
