"""The job: everything stated about one vehicle's system, and the items that follow from it."""

from typing import Annotated, Literal

from msgspec import Meta

from weighty_axle.job.models.bank import Bank, Pack, PackSpec
from weighty_axle.job.models.brief import MOST_LOADS, DayKind, Existing, Load, Stay
from weighty_axle.job.models.charging import AlternatorCharger, AlternatorChargerSpec, Charging
from weighty_axle.job.models.inverters import (
    AcSide,
    Circuit,
    Inlet,
    Inverter,
    Inverters,
    InverterSpec,
    Panel,
    Selector,
    Source,
)
from weighty_axle.job.models.place import Fitting
from weighty_axle.job.models.roof import Controller, ControllerSpec, Lane, Module, Obstacle, RemoteArray, Roof, String
from weighty_axle.job.models.settings import Settings
from weighty_axle.job.models.vehicle import Axle, Bay, Photo, Site, Survey, Vehicle, WireWay
from weighty_axle.job.models.versions import FORMAT_VERSION
from weighty_axle.job.models.wiring import Board, Wiring
from weighty_axle.job.stated import Name, Place, Size, Stated, Text

FORMAT = "weighty-axle job"


Practice = Literal["north_american", "international"]


class Job(Stated, frozen=True, kw_only=True):
    """One vehicle's system, from the survey on. `draw` names the draw of on and off times of loads that cycle."""

    format: Literal["weighty-axle job"] = "weighty-axle job"
    format_version: Annotated[int, Meta(ge=FORMAT_VERSION, le=FORMAT_VERSION)] = FORMAT_VERSION
    name: Name
    customer: Text
    notes: Text = ""
    practice: Practice
    vehicle: Vehicle
    site: Site
    day_kinds: Annotated[tuple[DayKind, ...], Meta(min_length=1, max_length=12)]
    loads: Annotated[tuple[Load, ...], Meta(max_length=MOST_LOADS)]
    draw: Name = "first draw"
    stays: Annotated[tuple[Stay, ...], Meta(max_length=120)] = ()
    existing: Annotated[tuple[Existing, ...], Meta(max_length=120)] = ()
    survey: Survey = Survey()
    bank: Bank
    inverters: Inverters
    ac: AcSide = AcSide()
    roof: Roof
    charging: Charging
    wiring: Wiring
    settings: Settings
    fittings: Annotated[tuple[Fitting, ...], Meta(max_length=200)] = ()


ItemKind = Literal["pack", "inverter", "controller", "alternator_charger", "board", "fitting"]


Placed = Pack | Inverter | Controller | AlternatorCharger | Board | Fitting


Bodied = PackSpec | InverterSpec | ControllerSpec | AlternatorChargerSpec | Board | Fitting


class Item(Stated, frozen=True, kw_only=True):
    """One physical thing with mass and place, as the placing step sees it."""

    tag: str
    kind: ItemKind
    name: str
    mass_kg: float
    place: Place
    size: Size


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
    | Photo
    | DayKind
    | Bay
    | Axle
    | Source
    | Inlet
    | Panel
    | Circuit
    | Selector
)


def items(job: Job) -> tuple[Item, ...]:
    """Every placed item of the job, in a steady order. Modules are on the roof and not among them."""
    return placed_items(job.bank, job.inverters, job.roof, job.charging, job.wiring, job.fittings)


def placed_items(
    bank: Bank, inverters: Inverters, roof: Roof, charging: Charging, wiring: Wiring, fittings: tuple[Fitting, ...]
) -> tuple[Item, ...]:
    """Items from the parts of a job that hold them."""

    def item(kind: ItemKind, owner: Placed, spec: Bodied) -> Item:
        return Item(tag=owner.tag, kind=kind, name=spec.name, mass_kg=spec.mass_kg, place=owner.place, size=spec.size)

    return (
        *(item("pack", pack, bank.spec) for pack in bank.packs),
        *(item("inverter", unit, inverters.spec) for unit in inverters.units),
        *(item("controller", controller, controller.spec) for controller in roof.controllers),
        *(item("alternator_charger", charger, charger.spec) for charger in charging.alternator_chargers),
        item("board", wiring.board, wiring.board),
        *(item("fitting", fitting, fitting) for fitting in fittings),
    )
