"""The job: everything stated about one vehicle's system, and the items that follow from it."""

from typing import Annotated, Literal

from msgspec import Meta

from weighty_axle.job.models.bank import Bank, Pack, PackSpec
from weighty_axle.job.models.brief import MOST_LOADS, DayKind, Existing, Load, Stay
from weighty_axle.job.models.build import Build, OwnTask, Worker
from weighty_axle.job.models.charging import Alternator, Converter, ConverterSpec, Stage
from weighty_axle.job.models.inverters import (
    Circuit,
    Group,
    Inlet,
    Inverter,
    Inverters,
    InverterSpec,
    Panel,
    Selector,
    Source,
)
from weighty_axle.job.models.log import Log
from weighty_axle.job.models.parts import DesignParts
from weighty_axle.job.models.place import Assembly, Fitting, Hold, Lading, Outlet, Removed
from weighty_axle.job.models.proving import Proving
from weighty_axle.job.models.roof import Controller, ControllerSpec, Lane, Module, Obstacle, RemoteArray, String
from weighty_axle.job.models.variants import Variant
from weighty_axle.job.models.vehicle import Axle, Bay, Photo, Site, Survey, Vehicle, WireWay, Zone
from weighty_axle.job.models.versions import FORMAT_VERSION
from weighty_axle.job.models.wiring import Bar, Board, DcCircuit, DcPanel, DcSwitch, Fitted, FoundStack, Signal
from weighty_axle.job.models.year import Year
from weighty_axle.job.stated import Clear, Name, Place, Size, Stated, Text, turned_clear, turned_size

FORMAT = "weighty-axle job"


class Job(DesignParts, frozen=True, kw_only=True):
    """One vehicle's system, from the survey on. `draw` names the draw of on and off times of loads that cycle."""

    format: Annotated[Literal["weighty-axle job"], Meta(title="Format")] = "weighty-axle job"
    format_version: Annotated[int, Meta(ge=FORMAT_VERSION, le=FORMAT_VERSION, title="Format version")] = FORMAT_VERSION
    name: Annotated[Name, Meta(title="Job")]
    customer: Annotated[Text, Meta(title="Customer")]
    notes: Annotated[Text, Meta(title="Notes")] = ""
    vehicle: Annotated[Vehicle, Meta(title="Vehicle")]
    site: Annotated[Site, Meta(title="Site")]
    day_kinds: Annotated[tuple[DayKind, ...], Meta(min_length=1, max_length=12, title="Kinds of day")]
    loads: Annotated[tuple[Load, ...], Meta(max_length=MOST_LOADS, title="Loads")]
    draw: Annotated[Name, Meta(title="Draw", description="names the draw of on and off times of loads that cycle")] = (
        "first draw"
    )
    stays: Annotated[tuple[Stay, ...], Meta(max_length=120, title="Stays")] = ()
    existing: Annotated[tuple[Existing, ...], Meta(max_length=120, title="Found on board")] = ()
    survey: Annotated[Survey, Meta(title="Survey")] = Survey()
    stages: Annotated[tuple[Stage, ...], Meta(max_length=12, title="Stages of the conversion")] = ()
    ladings: Annotated[tuple[Lading, ...], Meta(max_length=24, title="What comes and goes")] = ()
    year: Annotated[Year, Meta(title="Year")] = Year()
    design_name: Annotated[Name, Meta(title="This design", description="its name among the variants")] = "First design"
    design_why: Annotated[Text, Meta(title="Why", description="what it is to show")] = ""
    variants: Annotated[
        tuple[Variant, ...], Meta(max_length=12, title="Variants", description="other designs over the same survey")
    ] = ()
    build: Annotated[Build, Meta(title="Build")] = Build()
    proving: Annotated[Proving, Meta(title="First power and tests")] = Proving()
    log: Annotated[Log, Meta(title="Log")] = Log()
    removed: Annotated[tuple[Removed, ...], Meta(max_length=100, title="What leaves the vehicle")] = ()


WAS_THERE = ("kept", "starting")
"""Roles of banks that were on board before: the weighbridge has them already."""


ItemKind = Literal["pack", "inverter", "controller", "converter", "board", "fitting"]


Placed = Pack | Inverter | Controller | Converter | Board | Fitting


Bodied = PackSpec | InverterSpec | ControllerSpec | ConverterSpec | Board | Fitting


class Item(Stated, frozen=True, kw_only=True):
    """One physical thing with mass and place, as the placing step sees it; `was_there` when the vehicle was weighed."""

    tag: str
    kind: ItemKind
    name: str
    mass_kg: float
    place: Place
    size: Size
    was_there: bool = False
    clear: Clear = Clear()
    turn_deg: int = 0


Tagged = (
    Item
    | Load
    | Module
    | Obstacle
    | Lane
    | RemoteArray
    | String
    | Stay
    | Existing
    | WireWay
    | Zone
    | Photo
    | DayKind
    | Bay
    | Axle
    | Source
    | Inlet
    | Panel
    | Circuit
    | Selector
    | Group
    | Removed
    | Lading
    | Hold
    | Outlet
    | Assembly
    | Fitted
    | FoundStack
    | Signal
    | DcPanel
    | DcCircuit
    | DcSwitch
    | Alternator
    | Stage
    | Worker
    | OwnTask
)


def items(job: Job) -> tuple[Item, ...]:
    """Every placed item of the job, in a steady order. Modules are on the roof and not among them; a solar input built
    into an inverter is no item of its own.
    """
    return placed_items(
        job.bank,
        job.inverters,
        job.roof.controllers,
        job.converters,
        job.wiring.board,
        job.bars,
        job.groups,
        job.fittings,
    )


def placed_items(
    bank: Bank,
    inverters: Inverters,
    controllers: tuple[Controller, ...],
    converters: tuple[Converter, ...],
    board: Board,
    bars: tuple[Bar, ...],
    groups: tuple[Group, ...],
    fittings: tuple[Fitting, ...],
) -> tuple[Item, ...]:
    """Items from the parts of a job that hold them."""

    def item(kind: ItemKind, owner: Placed, spec: Bodied, was_there: bool = False) -> Item:
        return Item(
            tag=owner.tag,
            kind=kind,
            name=spec.name,
            mass_kg=spec.mass_kg,
            place=owner.place,
            size=turned_size(spec.size, owner.turn_deg),
            was_there=was_there,
            clear=turned_clear(spec.clear, owner.turn_deg),
            turn_deg=owner.turn_deg,
        )

    banks = (bank, *(bar.bank for bar in bars if bar.bank is not None))
    stacks = (inverters, *(group.inverters for group in groups))
    old = {bar.tag for bar in bars if bar.bank is not None and bar.bank.role in WAS_THERE}
    return (
        *(item("pack", pack, one.spec, one.role in WAS_THERE) for one in banks for pack in one.packs),
        *(item("inverter", unit, stack.spec) for stack in stacks for unit in stack.units),
        *(item("controller", one, one.spec) for one in controllers if not one.unit),
        *(item("converter", one, one.spec) for one in converters),
        *(item("board", one, one, one.tag in old) for one in (board, *bars)),
        *(item("fitting", fitting, fitting) for fitting in fittings),
    )
