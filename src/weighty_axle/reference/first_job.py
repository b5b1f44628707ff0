"""A whole first job around a vehicle type, by the three things that shape all else: practice, voltage class, kind of
AC.
"""

from __future__ import annotations

from typing import Literal, NamedTuple

from msgspec.structs import replace

from weighty_axle.job.edits.edit import WHOLE, Edit
from weighty_axle.job.models.bank import Bank, Links, Pack
from weighty_axle.job.models.brief import DayKind
from weighty_axle.job.models.charging import Charging
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.inverters import Inverter, Inverters, Line, Stacking
from weighty_axle.job.models.parts import Practice
from weighty_axle.job.models.roof import Roof
from weighty_axle.job.models.settings import Settings
from weighty_axle.job.models.vehicle import Site, Survey
from weighty_axle.job.models.wiring import Board, VoltageClass, Wiring
from weighty_axle.job.stated import Place, Size
from weighty_axle.reference import tables
from weighty_axle.reference.vehicle_types import VehicleType, source_from, usual_photos

AcKind = Literal["none", "one_line", "split_phase", "three_phase"]
AC_KINDS: dict[Practice, tuple[AcKind, ...]] = {
    "north_american": ("one_line", "split_phase", "none"),
    "international": ("one_line", "three_phase", "none"),
}
"""Kinds of AC that are usual where."""


class Beginning(NamedTuple):
    """What shapes a new job."""

    practice: Practice
    volts: VoltageClass
    ac: AcKind


_FIRST_SOURCES = ("P50", "P30", "P15", "P16", "P10")
_THREE_PHASE_SOURCES = ("P16X3",)
"""Of three lines stacked, none lets a source of one line through."""
_PACKS: dict[VoltageClass, str] = {
    12: "Block 12 V 200 Ah",
    24: "Heated block 24 V 200 Ah",
    48: "Heated rack pack 48 V 100 Ah",
}
_AC: dict[AcKind, tuple[Stacking, tuple[tuple[Line, float], ...]]] = {
    "none": ("single", ()),
    "one_line": ("single", (("AC", -0.7),)),
    "split_phase": ("split_phase", (("L1", -0.7), ("L2", 0.9))),
    "three_phase": ("three_phase", (("L1", -0.7), ("L2", 0.9), ("L3", -0.3))),
}
"""How the first inverters act together, and where across they stand."""
_SHAPED = ("practice", "bank", "inverters", "ac", "wiring", "settings")
"""What a shape makes of a job."""


def first_job(kind: VehicleType, shape: Beginning | None = None) -> Job:
    """A job to begin with: the type's vehicle, one modest system in its first bay, the usual sources and kinds of day,
    no loads yet. `shape` says what shapes all else; without it the plainest.
    """
    shape = shape or Beginning(kind.practice, 48, "split_phase" if kind.practice == "north_american" else "one_line")
    american = shape.practice == "north_american"
    bay = next(one for one in kind.vehicle.bays if not one.engine)
    pack = next(row for row in tables.packs().rows if row.name == _PACKS[shape.volts])
    rating = {12: "2 kVA", 24: "3 kVA", 48: "5 kVA"}[shape.volts]
    inverter = next(
        row
        for row in tables.inverters().rows
        if row.name == f"Inverter-charger {shape.volts} V {rating} {120 if american else 230} V"
    )

    def at(along_m: float, y_m: float) -> Place:
        return Place(x_m=round(bay.start_m + along_m, 3), y_m=y_m, z_m=round(bay.bottom_m + 0.02, 3))

    stacking, legs = _AC[shape.ac]
    units = tuple(
        Inverter(tag=f"INV{index + 1}", leg=leg, place=at(0.9, y_m), bonds=index == 0)
        for index, (leg, y_m) in enumerate(legs)
    )
    count = 5 if shape.ac == "three_phase" and shape.volts == 48 else 4  # what three chargers together give, they take
    sources = tuple(
        source_from(row)
        for row in tables.usual_sources().rows
        if row.practice == shape.practice
        and row.tag in (_THREE_PHASE_SOURCES if shape.ac == "three_phase" else _FIRST_SOURCES)
    )
    return Job(
        name="New job",
        customer="",
        practice=shape.practice,
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
            packs=tuple(Pack(tag=f"BP{n + 1}", place=at(0.3, round(-0.9 + 0.45 * n, 2))) for n in range(count)),
            usable_share=0.9,
            days_wanted=1.0,
            links=Links(size="2/0 AWG" if american else "70 mm2"),
        ),
        inverters=Inverters(
            spec=inverter, stacking=stacking, units=units, neutral_a=50.0, sources=sources if units else ()
        ),
        roof=Roof(
            start_m=kind.roof_start_m,
            end_m=kind.roof_end_m,
            width_m=kind.roof_width_m,
            margin_m=0.05,
            rise_c=33.0,
            cable="10 AWG" if american else "6 mm2",
            module=tables.modules().rows[1],
            obstacles=kind.obstacles,
        ),
        charging=Charging(),
        wiring=Wiring(
            board=Board(
                tag="DB1",
                place=at(min(1.24, round(bay.end_m - bay.start_m - 0.27, 2)), 0.5),
                size=Size(length_m=0.5, width_m=0.25, height_m=0.3),
                mass_kg=9.0,
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


def begin_with(kind: VehicleType, shape: Beginning, label: str) -> Edit:
    """Begin a new job otherwise: bank, inverters, wiring and what charges are made anew, the rest stays."""

    def apply(job: Job) -> Job:
        made = first_job(kind, shape)
        return replace(job, **{name: getattr(made, name) for name in _SHAPED})

    return Edit(label, apply, system=WHOLE)


def begun_as(job: Job, kind: VehicleType) -> Beginning | None:
    """The shape whose parts a job still has as they were made; None once any of them has been worked on."""
    shapes = [
        Beginning(practice, volts, ac) for practice, kinds in AC_KINDS.items() for volts in _PACKS for ac in kinds
    ]
    return next((shape for shape in shapes if _parts(job) == _parts(first_job(kind, shape))), None)


def _parts(job: Job) -> tuple[object, ...]:
    return tuple(getattr(job, name) for name in _SHAPED)
