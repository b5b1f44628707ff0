"""Vehicle types to start from: sizes to be measured over, and a whole first job around them."""

from __future__ import annotations

import functools
from pathlib import Path

import msgspec

from weighty_axle.job.edits.edit import Edit
from weighty_axle.job.models.bank import Bank, Links, Pack
from weighty_axle.job.models.brief import DayKind
from weighty_axle.job.models.charging import Charging
from weighty_axle.job.models.document import Job, Practice
from weighty_axle.job.models.inverters import Inverter, Inverters, Line, Source
from weighty_axle.job.models.roof import Obstacle, Roof
from weighty_axle.job.models.settings import Settings
from weighty_axle.job.models.vehicle import Photo, Site, Survey, Vehicle
from weighty_axle.job.models.wiring import Board, Wiring
from weighty_axle.job.stated import Place, Size
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


_FIRST_SOURCES = ("P50", "P30", "P15", "P16", "P10")


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


def first_job(kind: VehicleType) -> Job:
    """A job to begin with: the type's vehicle, one modest 48 V system in its first bay, the usual sources and kinds of
    day, no loads yet.
    """
    american = kind.practice == "north_american"
    bay = next(one for one in kind.vehicle.bays if one.tag != "ENG")
    pack = next(row for row in tables.packs().rows if row.name == "Heated rack pack 48 V 100 Ah")
    inverter = next(
        row
        for row in tables.inverters().rows
        if row.name == f"Inverter-charger 48 V 5 kVA {120 if american else 230} V"
    )

    def at(along_m: float, y_m: float) -> Place:
        return Place(x_m=round(bay.start_m + along_m, 3), y_m=y_m, z_m=round(bay.bottom_m + 0.02, 3))

    legs: tuple[tuple[Line, float], ...] = (("L1", -0.7), ("L2", -0.3)) if american else (("AC", -0.7),)
    units = tuple(
        Inverter(tag=f"INV{index + 1}", leg=leg, place=at(0.9, y_m), bonds=index == 0)
        for index, (leg, y_m) in enumerate(legs)
    )
    sources = tuple(
        source_from(row)
        for row in tables.usual_sources().rows
        if row.practice == kind.practice and row.tag in _FIRST_SOURCES
    )
    return Job(
        name="New job",
        customer="",
        practice=kind.practice,
        vehicle=kind.vehicle,
        site=Site(
            home="Home",
            latitude_deg=45.0,
            longitude_deg=0.0,
            height_m=100.0,
            record_low_c=-20.0,
            design_high_c=33.0,
            bay_high_c=35.0,
        ),
        day_kinds=(
            DayKind(tag="PARKED", name="Parked day"),
            DayKind(tag="DRIVE", name="Driving day", use="driving"),
            DayKind(tag="HOOKED", name="Hooked up", use="hooked_up"),
            DayKind(tag="STORED", name="Stored", inverters_on=False, use="stored"),
        ),
        loads=(),
        survey=Survey(photos=usual_photos()),
        bank=Bank(
            spec=pack,
            series=1,
            packs=tuple(Pack(tag=f"BP{n + 1}", place=at(0.3, round(-0.9 + 0.45 * n, 2))) for n in range(4)),
            usable_share=0.9,
            days_wanted=1.0,
            links=Links(size="2/0 AWG" if american else "70 mm2"),
        ),
        inverters=Inverters(
            spec=inverter,
            stacking="split_phase" if american else "single",
            units=units,
            neutral_a=50.0,
            sources=sources,
        ),
        roof=Roof(
            start_m=kind.roof_start_m,
            end_m=kind.roof_end_m,
            width_m=kind.roof_width_m,
            margin_m=0.05,
            rise_c=33.0,
            module=tables.modules().rows[1],
            obstacles=kind.obstacles,
        ),
        charging=Charging(),
        wiring=Wiring(
            board=Board(
                tag="DB1", place=at(0.95, 0.45), size=Size(length_m=0.5, width_m=0.25, height_m=0.3), mass_kg=9.0
            ),
            ampacity_table="small_craft_awg" if american else "small_craft_mm2",
            insulation_c=90,
            ambient_c=40.0,
            main_fuse="fast_cylinder_125",
            branch_fuse="fast_cylinder_125",
            drop_allowed=0.03,
            converter_efficiency=0.92,
        ),
        settings=Settings(full_charge="gentle"),
    )
