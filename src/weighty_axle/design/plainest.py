"""The plainest of everything that can be added to a job: what a new entry says until the installer says otherwise."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from weighty_axle.design.charging.converters import house_class
from weighty_axle.design.free_room import beside_board
from weighty_axle.job.models import (
    bank,
    brief,
    build,
    charging,
    inverters,
    log,
    place,
    proving,
    roof,
    vehicle,
    wiring,
    year,
)
from weighty_axle.job.models.document import Job
from weighty_axle.job.stated import Clear, Place, Size, Stated
from weighty_axle.job.tags import next_tag
from weighty_axle.reference import tables

_BOX = Size(length_m=0.3, width_m=0.2, height_m=0.2)


def addable(kind: type[Stated]) -> bool:
    """Whether a plain one can be added: states, variants, maps of columns are made by their instruments."""
    return kind in _MAKERS


def plainest(kind: type[Stated], job: Job) -> Stated:
    """A new thing of a class for a job.

    Raises: KeyError for a class nothing can be added of.
    """
    return _MAKERS[kind](job)


def _lead_acid(job: Job, count: int = 1) -> bank.Bank:
    """The usual old bank of a 12 V bar."""
    spec = next(row for row in tables.packs().rows if row.chemistry == "agm")
    tag, at = next_tag(job, "pack"), beside_board(job, spec.size)
    return bank.Bank(
        role="kept", spec=spec, series=count, packs=(bank.Pack(tag=tag, place=at),), usable_share=0.5, days_wanted=1.0
    )


def _at_rear(job: Job) -> Place:
    """By the rear wall, on the right: clear of what is usually built."""
    body = job.vehicle
    return Place(x_m=round(body.length_m - 0.2, 3), y_m=round(body.width_m / 2 - 0.15, 3), z_m=body.floor_m)


def _pack(job: Job) -> bank.Pack:
    last = job.bank.packs[-1].place
    beside = round(last.x_m + job.bank.spec.size.length_m + 0.02, 3)
    return bank.Pack(tag=next_tag(job, "pack"), place=type(last)(x_m=beside, y_m=last.y_m, z_m=last.z_m))


def _inverter(job: Job) -> inverters.Inverter:
    size = job.inverters.spec.size
    line = inverters.LINES[job.inverters.stacking][0]
    leg: Any = "L1+L2" if job.inverters.stacking == "one_two_legs" else line
    return inverters.Inverter(tag=next_tag(job, "inverter"), leg=leg, place=beside_board(job, size))


def inverter_type(job: Job) -> inverters.InverterSpec:
    """The smallest typical inverter of the bank's class and the practice's voltage."""
    volts, ac = house_class(job), (120, 240) if job.practice == "north_american" else (230,)
    fitting = [
        row for row in tables.inverters().rows if f" {volts} V" in row.name and row.ac_v in ac and row.lines == 1
    ]
    return min(fitting or list(tables.inverters().rows), key=lambda row: row.continuous_va)


def _inverters(job: Job) -> inverters.Inverters:
    spec = inverter_type(job)
    unit = inverters.Inverter(tag=next_tag(job, "inverter"), leg="AC", place=beside_board(job, spec.size), bonds=True)
    return inverters.Inverters(spec=spec, stacking="single", units=(unit,), neutral_a=50.0)


def _group(job: Job) -> inverters.Group:
    return inverters.Group(
        tag=next_tag(job, "inverter group"), name="Second inverter", inverters=_inverters(job), ac=inverters.AcSide()
    )


def _source(job: Job) -> inverters.Source:
    american = job.practice == "north_american"
    return inverters.Source(
        tag=next_tag(job, "source"),
        name="New place to plug in",
        volts=120.0 if american else 230.0,
        legs=1,
        legs_in_phase=False,
        amps=15.0 if american else 16.0,
        limit_a=12.0 if american else 16.0,
    )


def _selector(job: Job) -> inverters.Selector:
    off = inverters.Position(name="Off")
    return inverters.Selector(tag=next_tag(job, "selector"), name="New selector", positions=(off,), now="Off")


def _controller(job: Job) -> roof.Controller:
    alone = [one.spec for one in job.roof.controllers if not one.spec.built_in]
    spec = alone[-1] if alone else tables.controllers().rows[4]
    return roof.Controller(tag=next_tag(job, "controller"), spec=spec, place=beside_board(job, spec.size))


def _array(job: Job) -> roof.RemoteArray:
    first = job.roof.controllers[0].tag if job.roof.controllers else ""
    return roof.RemoteArray(
        tag=next_tag(job, "array"),
        name="Array elsewhere",
        controller=first or "CC1",
        module=job.roof.module,
        size=_size("10 AWG", "6 mm2")(job),
    )


def _string(job: Job) -> roof.String:
    first = job.roof.controllers[0].tag if job.roof.controllers else "CC1"
    return roof.String(tag=next_tag(job, "string"), controller=first)


def _converter(job: Job) -> charging.Converter:
    """A charger from the vehicle's bar where nothing else is stated, else a supply from the house bar."""
    volts = house_class(job)
    fed = next((bar for bar in job.bars if not any(one.end == bar.tag for one in job.converters)), None)
    words = f"{volts} to {fed.volts} V" if fed is not None else f"to {volts} V"
    spec = next((row for row in tables.converters().rows if words in row.name), tables.converters().rows[0])
    start, end, works = ("", fed.tag, "always") if fed is not None else (charging.VEHICLE, "", "engine")
    return charging.Converter(
        tag=next_tag(job, "converter"),
        spec=spec,
        start=start,
        end=end,
        works="always" if works == "always" else "engine",
        place=beside_board(job, spec.size),
    )


def _speed_point(job: Job) -> charging.SpeedPoint:
    """The next point of a curve: faster than any stated, so that it can stand at the end."""
    points = [point for one in job.charging.alternators for point in one.curve]
    fastest = max((point.shaft_rpm for point in points), default=1000.0)
    return charging.SpeedPoint(min(fastest + 1000.0, 30_000.0), max((point.amps for point in points), default=40.0))


def _load_point(job: Job) -> charging.LoadPoint:
    points = [point for one in job.converters for point in one.spec.curve]
    return charging.LoadPoint(min(1.0, round(max((point.load_share for point in points), default=0.0) + 0.1, 3)), 0.9)


def _curve_point(job: Job) -> wiring.CurvePoint:
    """The next point of a curve: more current than any stated, and no longer."""
    points = [point for one in job.fitted for point in one.curve]
    most = max((point.times for point in points), default=1.0)
    return wiring.CurvePoint(min(100.0, most * 2), min((point.seconds for point in points), default=600.0))


def _bar(job: Job) -> wiring.Bar:
    return wiring.Bar(
        tag=next_tag(job, "board"),
        name="12 V bar" if house_class(job) != 12 else "Second bar",
        volts=12,
        place=beside_board(job, _BOX),
        size=_BOX,
        mass_kg=2.0,
    )


def _existing_bay(job: Job) -> str:
    return job.vehicle.bays[0].tag if job.vehicle.bays else "CAB"


def _stay(job: Job) -> brief.Stay:
    taken = {day for stay in job.stays for day in range(stay.first_day, stay.first_day + stay.days)}
    free = next((day for day in range(1, 366) if day not in taken), 365)
    return brief.Stay(
        tag=next_tag(job, "stay"),
        place="New place",
        latitude_deg=job.site.latitude_deg,
        longitude_deg=job.site.longitude_deg,
        height_m=job.site.height_m,
        first_day=free,
        days=1,
        day_kind=job.day_kinds[0].tag,
    )


def _size(american: str, metric: str) -> Callable[[Job], str]:
    return lambda job: american if job.practice == "north_american" else metric


_THIN, _MIDDLE = _size("14 AWG", "2.5 mm2"), _size("6 AWG", "16 mm2")


def _outlet(job: Job) -> place.Outlet:
    """In the right wall, at the usual height of a socket, fed from the board until it is said otherwise."""
    body = job.vehicle
    at = Place(x_m=round(body.length_m / 2, 2), y_m=body.width_m / 2, z_m=round(body.floor_m + 0.4, 2))
    return place.Outlet(tag=next_tag(job, "outlet"), name="New outlet", place=at, start=job.wiring.board.tag)


_MAKERS: dict[type[Stated], Callable[[Job], Stated]] = {
    Place: _at_rear,
    place.Outlet: _outlet,
    place.Assembly: lambda job: place.Assembly(tag=next_tag(job, "board built on the bench"), name="Board", items=()),
    vehicle.Air: lambda _job: vehicle.Air(intake="left", outlet="right"),
    Clear: lambda _job: Clear(),
    place.ClosedWall: lambda _job: place.ClosedWall(wall="right"),
    place.ClosedAt: lambda job: place.ClosedAt(outlet=next_tag(job, "outlet"), place=_at_rear(job)),
    bank.Bank: _lead_acid,
    bank.Pack: _pack,
    inverters.Inverter: _inverter,
    inverters.Group: _group,
    inverters.Source: _source,
    inverters.Inlet: lambda job: inverters.Inlet(tag=next_tag(job, "inlet"), name="New inlet", amps=30.0, lines=1),
    inverters.Panel: lambda job: inverters.Panel(
        tag=next_tag(job, "panel"), name="New panel", size=_size("6 AWG", "10 mm2")(job)
    ),
    inverters.Circuit: lambda job: inverters.Circuit(
        tag=next_tag(job, "circuit"), name="New circuit", size=_size("12 AWG", "2.5 mm2")(job)
    ),
    inverters.Selector: _selector,
    inverters.Position: lambda job: inverters.Position(name=f"Position {len(job.ac.selectors) + 2}"),
    inverters.Contact: lambda job: inverters.Contact("IN1.L1", f"{_first_unit(job)}.in"),
    inverters.OverloadPoint: lambda _job: inverters.OverloadPoint(1.2, 600.0),
    inverters.Generator: lambda _job: inverters.Generator(rated_va=3000.0),
    roof.ModuleSpec: lambda job: tables.modules().rows[len(job.roof.more_modules) % len(tables.modules().rows)],
    roof.Module: lambda job: roof.Module(
        tag=next_tag(job, "module"), x_m=round((job.roof.start_m + job.roof.end_m) / 2, 3), y_m=0.0
    ),
    roof.Obstacle: lambda job: roof.Obstacle(
        tag=next_tag(job, "obstacle"),
        name="New obstacle",
        x_m=round((job.roof.start_m + job.roof.end_m) / 2, 3),
        y_m=0.0,
        length_m=0.4,
        width_m=0.4,
        height_m=0.1,
    ),
    roof.Lane: lambda job: roof.Lane(
        tag=next_tag(job, "lane"),
        name="New lane",
        x_m=round((job.roof.start_m + job.roof.end_m) / 2, 3),
        y_m=0.0,
        length_m=1.0,
        width_m=0.4,
    ),
    roof.String: _string,
    roof.Controller: _controller,
    roof.RemoteArray: _array,
    charging.Converter: _converter,
    charging.Alternator: lambda job: charging.Alternator(
        tag=next_tag(job, "alternator"), rated_a=150.0, volts=28.0, hot_share=0.6, vehicle_a=30.0
    ),
    charging.SpeedPoint: _speed_point,
    charging.LoadPoint: _load_point,
    wiring.CurvePoint: _curve_point,
    build.Worker: lambda job: build.Worker(tag=next_tag(job, "worker"), name=f"Fitter {len(job.build.workers) + 1}"),
    build.OwnTask: lambda job: build.OwnTask(tag=next_tag(job, "task of the shop"), name="Another task"),
    build.PartState: lambda job: build.PartState(part=f"Part {len(job.build.parts) + 1}"),
    build.Reel: lambda job: build.Reel(size=f"Conductor {len(job.build.reels) + 1}", length_m=25.0),
    build.CutDone: lambda job: build.CutDone(
        conductor=f"Conductor {len(job.build.cuts) + 1}", size="10 AWG conductor", length_m=1.0
    ),
    build.TaskSaid: lambda job: build.TaskSaid(task=f"task {len(job.build.said) + 1}"),
    build.Booked: lambda _: build.Booked(task="prepare", hours_h=1.0),
    build.Torque: lambda job: build.Torque(end=f"joint {len(job.build.torques) + 1}", torque_nm=9.0),
    build.Noted: lambda _: build.Noted(about="prepare"),
    build.Mount: lambda job: build.Mount(type=f"Type {len(job.build.mounts) + 1}", wide_mm=100.0, high_mm=100.0),
    log.Service: lambda job: log.Service(name=f"Service {len(job.log.services) + 1}"),
    log.LogEntry: lambda _job: log.LogEntry(kind="visit"),
    year.Price: lambda job: year.Price(part=f"Part {len(job.year.prices) + 1}", amount=0.0),
    proving.Reading: lambda job: proving.Reading(check=f"check {len(job.proving.readings) + 1}"),
    charging.Stage: lambda job: charging.Stage(
        tag=next_tag(job, "stage"),
        name=f"Stage {len(job.stages) + 1}",
        stands={one.tag: one.now for one in job.dc.switches},
    ),
    wiring.Bar: _bar,
    wiring.DcPanel: lambda job: wiring.DcPanel(tag=next_tag(job, "DC panel"), name="New DC panel", size=_MIDDLE(job)),
    wiring.DcCircuit: lambda job: wiring.DcCircuit(
        tag=next_tag(job, "DC circuit"), name="New DC circuit", size=_THIN(job)
    ),
    wiring.DcSwitch: lambda job: wiring.DcSwitch(
        tag=next_tag(job, "DC switch"),
        name="New DC switch",
        feeds=job.dc.panels[0].tag if job.dc.panels else "DP1",
        bars=(job.wiring.board.tag, job.bars[0].tag if job.bars else "DB2"),
        now=job.wiring.board.tag,
    ),
    wiring.Signal: lambda job: wiring.Signal(
        tag=next_tag(job, "signal lead"), name="New signal lead", start=job.wiring.board.tag, end=job.bank.packs[0].tag
    ),
    wiring.Abreast: lambda _job: wiring.Abreast(run="W-MAIN", lengths_m=(1.0, 1.0)),
    wiring.FoundStack: lambda job: wiring.FoundStack(
        tag=next_tag(job, "stud as found"), way="W-MAIN", order=("bar", "fuse", "lug", "washer", "spring_washer", "nut")
    ),
    wiring.Fitted: lambda job: wiring.Fitted(
        tag=next_tag(job, "protection"), name="Fuse found", run="W-MAIN", amps=200.0
    ),
    place.Fitting: lambda job: place.Fitting(
        tag=next_tag(job, "fitting"), name="New fitting", mass_kg=10.0, place=beside_board(job, _BOX), size=_BOX
    ),
    vehicle.Zone: lambda job: vehicle.Zone(
        tag=next_tag(job, "zone"), name="Gas locker", kind="gas", place=_at_rear(job), size=_BOX
    ),
    place.Hold: lambda job: place.Hold(tag=next_tag(job, "fixing"), items=()),
    place.Lading: lambda job: place.Lading(
        tag=next_tag(job, "lading"), name="Fresh water", kind="water", full_kg=200.0, place=beside_board(job, _BOX)
    ),
    place.Removed: lambda job: place.Removed(
        tag=next_tag(job, "removed thing"), name="Old equipment", mass_kg=30.0, place=beside_board(job, _BOX)
    ),
    vehicle.Axle: lambda job: vehicle.Axle(
        tag=next_tag(job, "axle"),
        group="rear",
        x_m=round(job.vehicle.length_m * 0.8, 2),
        share=LEAST_SHARE,
        limit_kg=1000.0,
        weighed_kg=0.0,
    ),
    vehicle.Bay: lambda job: vehicle.Bay(
        tag=next_tag(job, "bay"),
        name="New bay",
        start_m=round(job.vehicle.length_m * 0.4, 2),
        end_m=round(job.vehicle.length_m * 0.5, 2),
        bottom_m=job.vehicle.skirt_m,
        top_m=job.vehicle.floor_m,
    ),
    vehicle.WireWay: lambda job: vehicle.WireWay(
        tag=next_tag(job, "wire way"),
        name="New wire way",
        start=_existing_bay(job),
        end="ROOF",
        length_m=4.0,
        zone="bay",
        clear_mm=40.0,
    ),
    vehicle.Photo: lambda job: vehicle.Photo(tag=next_tag(job, "photo"), subject="New photo"),
    vehicle.Trailer: lambda job: vehicle.Trailer(
        name="Trailer", mass_kg=1500.0, coupling_kg=90.0, coupling_x_m=job.vehicle.length_m
    ),
    brief.DayKind: lambda job: brief.DayKind(tag=next_tag(job, "kind of day"), name="New kind of day"),
    brief.Load: lambda job: brief.Load(
        tag=next_tag(job, "load"), name="New load", supply="DC_12", running_w=20.0, power_factor=1.0
    ),
    brief.Stay: _stay,
    brief.Existing: lambda job: brief.Existing(
        tag=next_tag(job, "equipment"), name="Found on board", kind="other", nominal_v=12.0
    ),
}
LEAST_SHARE = 0.0001
"""Share of a new axle: the installer says how much it takes, and what the others of its group lose."""


def _first_unit(job: Job) -> str:
    return job.inverters.units[0].tag if job.inverters.units else "INV1"
