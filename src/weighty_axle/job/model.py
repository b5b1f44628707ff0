"""The job: immutable, typed statements about one vehicle's system, and the items that follow from them."""

from typing import Annotated, Literal

from msgspec import Meta, field

from weighty_axle.job.ac import AcSide, Circuit, Inlet, Inverter, Inverters, Panel, Selector, Source
from weighty_axle.job.parts import AlternatorChargerSpec, ControllerSpec, InverterSpec, PackSpec
from weighty_axle.job.roof import Controller, Lane, Module, Obstacle, RemoteArray, Roof, String
from weighty_axle.job.stated import (
    Amperes,
    Celsius,
    CountedShare,
    Efficiency,
    Extent,
    Kilograms,
    Minute,
    Name,
    Place,
    PositiveShare,
    Share,
    Size,
    Stated,
    Tag,
    Text,
    Volts,
    Watts,
)
from weighty_axle.job.survey import Axle, Bay, Existing, Photo, Site, Survey, Vehicle, WireWay

FORMAT = "weighty-axle job"
FORMAT_VERSION = 4
MOST_LOADS = 400
YEAR_DAYS = 365

Practice = Literal["north_american", "international"]
Supply = Literal["leg_open", "L1", "L2", "L3", "L1+L2", "L1+L2+L3", "AC", "DC_12", "DC_24", "DC_48"]
Season = Literal["winter", "spring", "summer", "autumn"]
TakeOff = Literal["same_end", "opposite_ends", "middle", "bar_equal", "bar_unequal", "groups"]
DayUse = Literal["parked", "driving", "hooked_up", "stored"]
AmpacityKey = Literal["enclosed_awg", "small_craft_awg", "small_craft_mm2"]
FuseKey = Literal["blade_32", "bolt_strip_32", "stud_block_58", "bolt_strip_80", "knife_blade_250", "fast_cylinder_125"]
InsulationClass = Literal[60, 70, 75, 90, 105]
FullCharge = Literal["gentle", "brim"]


# ---- loads and days -----------------------------------------------------------------------------------------


class Span(Stated, frozen=True, array_like=True):
    """A stretch of the day at one level: [start minute, end minute, level 0 to 1]."""

    start_min: Minute
    end_min: Minute
    level: PositiveShare


class DayKind(Stated, frozen=True, kw_only=True):
    """A kind of day the vehicle has."""

    tag: Tag
    name: Name
    inverters_on: bool = True
    use: DayUse = "parked"


class Stay(Stated, frozen=True, kw_only=True):
    """Days in a row at one place. `first_day` counts from 1 January in a year of 365 days; `source` is empty without hook-up."""

    tag: Tag
    place: Name
    latitude_deg: Annotated[float, Meta(ge=-90, le=90)]
    longitude_deg: Annotated[float, Meta(ge=-180, le=180)]
    height_m: Annotated[float, Meta(ge=-430, le=6000)]
    first_day: Annotated[int, Meta(ge=1, le=365)]
    days: Annotated[int, Meta(ge=1, le=365)]
    day_kind: Tag
    source: Text = ""
    driven_h: Annotated[float, Meta(ge=0, le=24)] = 0.0


class Seasons(Stated, frozen=True, kw_only=True):
    """Share of its duty that a load keeps in each season; 0: it does not run then."""

    winter: Share = 1.0
    spring: Share = 1.0
    summer: Share = 1.0
    autumn: Share = 1.0


ALL_YEAR = Seasons()
Pattern = Annotated[tuple[Span, ...], Meta(max_length=288)]


class Load(Stated, frozen=True, kw_only=True):
    """Something that uses power. `running_w` is for one; `duty` is the share of painted time it really draws.

    A load with a duty under 1 switches on and off in cycles of `cycle_min`. It keeps drawing its start for `start_s`. On a `circuit` (empty: one of
    its own) it takes that circuit's leg. `charges_bank`: it is a charger of the house bank.
    """

    tag: Tag
    name: Name
    group: Annotated[str, Meta(max_length=40)] = ""
    supply: Supply
    count: Annotated[int, Meta(ge=1, le=500)] = 1
    running_w: Watts
    power_factor: CountedShare
    start_multiple: Annotated[float, Meta(ge=1, le=12)] = 1.0
    start_s: Annotated[float, Meta(ge=0, le=600)] = 0.0
    duty: PositiveShare = 1.0
    cycle_min: Annotated[float, Meta(ge=1, le=720)] = 20.0
    standby_w: Watts = 0.0
    must_run: bool = False
    circuit: Text = ""
    charges_bank: bool = False
    seasons: Seasons = ALL_YEAR
    note: Text = ""
    patterns: dict[str, Pattern] = field(default_factory=dict)


# ---- bank ----------------------------------------------------------------------------------------------------


class Pack(Stated, frozen=True, kw_only=True):
    """One pack in its place.

    `resistance_factor` is its resistance over the datasheet's (age, unlike cells); `out` takes it out of service. `open_v` is the open-circuit
    voltage measured before joining, `address` what its switches say (empty: in the order of the packs).
    """

    tag: Tag
    place: Place
    resistance_factor: Annotated[float, Meta(ge=0.2, le=10)] = 1.0
    out: bool = False
    open_v: Volts | None = None
    address: Annotated[int, Meta(ge=0, le=255)] | None = None


class Links(Stated, frozen=True, kw_only=True):
    """How packs are linked. `size` is the conductor of links and leads; lengths are of one conductor; a lead to a bar has a length per pole."""

    take_off: TakeOff = "bar_equal"
    size: Name = "70 mm2"
    link_m: Extent = 0.25
    lead_m: Extent = 0.6
    lead_step_m: Annotated[float, Meta(ge=0, le=10)] = 0.3
    lug_ohm: Annotated[float, Meta(ge=1e-6, le=0.1)] = 0.00003
    bar_mm2: Annotated[float, Meta(ge=5, le=5000)] = 300.0
    bar_pitch_m: Annotated[float, Meta(ge=0.005, le=2)] = 0.06
    bar_ways: Annotated[int, Meta(ge=1, le=64)] = 8
    group_size: Annotated[int, Meta(ge=1, le=16)] = 2


class Box(Stated, frozen=True, kw_only=True):
    """The insulated box the packs stand in: its skin, what it is kept at, and the heater's rating.

    `inside`: it stands in the living space, whose air does not fall under `inside_low_c` while the vehicle is used; `heats_asleep`: the heater goes on
    while the vehicle is stored.
    """

    area_m2: Annotated[float, Meta(ge=0.01, le=100)] = 4.0
    insulation_mm: Annotated[float, Meta(ge=0.1, le=500)] = 30.0
    conductivity_w_per_mk: Annotated[float, Meta(ge=0.001, le=2)] = 0.035
    keep_c: Celsius = 8.0
    heater_w: Watts = 0.0
    inside: bool = False
    inside_low_c: Celsius = 10.0
    heats_asleep: bool = False


class Bank(Stated, frozen=True, kw_only=True):
    """All packs acting as one battery; packs are named string by string. `join_a` is the current allowed while joining (empty: a pack's charge limit)."""

    spec: PackSpec
    series: Annotated[int, Meta(ge=1, le=16)]
    packs: Annotated[tuple[Pack, ...], Meta(min_length=1, max_length=64)]
    usable_share: CountedShare
    days_wanted: Annotated[float, Meta(ge=0.01, le=30)]
    links: Links = Links()
    box: Box = Box()
    join_a: Annotated[float, Meta(ge=0.1, le=5000)] | None = None


# ---- charging, wiring, settings ------------------------------------------------------------------------------


class Alternator(Stated, frozen=True, kw_only=True):
    """The vehicle's alternator; `hot_share` is what it may give for hours, hot and slow."""

    rated_a: Annotated[float, Meta(ge=1, le=1000)]
    volts: Volts
    hot_share: CountedShare
    vehicle_a: Amperes


class AlternatorCharger(Stated, frozen=True, kw_only=True):
    """One alternator charger in its place."""

    tag: Tag
    spec: AlternatorChargerSpec
    place: Place
    lead_m: Extent | None = None


class Charging(Stated, frozen=True, kw_only=True):
    """What can fill the bank besides sun and shore, and the ceiling over all of it."""

    alternator: Alternator | None = None
    alternator_chargers: Annotated[tuple[AlternatorCharger, ...], Meta(max_length=12)] = ()
    system_limit_a: Annotated[float, Meta(ge=0.1, le=10_000)] | None = None


class Board(Stated, frozen=True, kw_only=True):
    """The DC distribution board with the bus bars: where every lead meets."""

    tag: Tag
    name: Name = "DC board"
    place: Place
    size: Size
    mass_kg: Kilograms


class Wiring(Stated, frozen=True, kw_only=True):
    """Choices for the main DC runs. `conductors` holds the installer's own choice of size by run tag.

    `runs_together` is how many two-wire runs lie in one conduit or bundle; `terminals_c` is what the units' terminals are made for (empty: as usual).
    """

    board: Board
    main_lead_m: Extent | None = None
    ampacity_table: AmpacityKey
    insulation_c: InsulationClass
    ambient_c: Celsius
    runs_together: Annotated[int, Meta(ge=1, le=16)] = 1
    terminals_c: InsulationClass | None = None
    main_fuse: FuseKey
    branch_fuse: FuseKey
    drop_allowed: Annotated[float, Meta(ge=0.001, le=0.2)]
    converter_efficiency: Efficiency
    conductors: dict[str, Name] = field(default_factory=dict)


class Settings(Stated, frozen=True, kw_only=True):
    """How full the bank is charged, and set points the installer chose against the computed ones (by key)."""

    full_charge: FullCharge
    own_values: dict[str, Annotated[float, Meta(ge=0, le=10_000)]] = field(default_factory=dict)


class Fitting(Stated, frozen=True, kw_only=True):
    """Anything else that adds weight: a tank, a desk, a cabinet."""

    tag: Tag
    name: Name
    mass_kg: Kilograms
    place: Place
    size: Size


class Job(Stated, frozen=True, kw_only=True):
    """One vehicle's system, from the survey on. `draw` names the draw of on and off times of loads that cycle."""

    format: Literal["weighty-axle job"] = "weighty-axle job"
    format_version: Literal[4] = 4
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


def placed_items(bank: Bank, inverters: Inverters, roof: Roof, charging: Charging, wiring: Wiring, fittings: tuple[Fitting, ...]) -> tuple[Item, ...]:
    """Items from the parts of a job that hold them."""

    def item(kind: ItemKind, owner: Placed, spec: Bodied) -> Item:
        return Item(tag=owner.tag, kind=kind, name=spec.name, mass_kg=spec.mass_kg, place=owner.place, size=spec.size)

    return (
        *(item("pack", pack, bank.spec) for pack in bank.packs),
        *(item("inverter", unit, inverters.spec) for unit in inverters.units),
        *(item("controller", one, one.spec) for one in roof.controllers),
        *(item("alternator_charger", one, one.spec) for one in charging.alternator_chargers),
        item("board", wiring.board, wiring.board),
        *(item("fitting", fitting, fitting) for fitting in fittings),
    )
