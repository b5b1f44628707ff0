"""The roof as stated: its outline, what stands on it, modules, strings, controllers, arrays elsewhere, the sky over
it.
"""

from typing import Annotated, Literal

from msgspec import Meta

from weighty_axle.job.stated import (
    Celsius,
    Coefficient,
    CountedShare,
    Extent,
    Kilograms,
    Metres,
    Name,
    Place,
    PositiveShare,
    Share,
    Size,
    Stated,
    Tag,
    Text,
    Volts,
)


class ModuleSpec(Stated, frozen=True, kw_only=True):
    """One solar module as its datasheet states it at 1000 W/m2 and 25 degC; coefficients per kelvin of the 25 degC
    value.

    `reverse_a` is the largest series fuse. `sections` have a bypass diode each, side by side across the short side;
    `half_cut` modules carry each twice.
    """

    name: Name
    length_m: Annotated[float, Meta(ge=0.05, le=60)]
    width_m: Annotated[float, Meta(ge=0.05, le=60)]
    pmp_w: Annotated[float, Meta(ge=1, le=2000)]
    voc_v: Volts
    isc_a: Annotated[float, Meta(ge=0.01, le=100)]
    vmp_v: Volts
    imp_a: Annotated[float, Meta(ge=0.01, le=100)]
    voc_per_c: Coefficient
    pmp_per_c: Coefficient
    isc_per_c: Annotated[float, Meta(ge=-0.002, le=0.002)] = 0.0005
    system_limit_v: Volts
    reverse_a: Annotated[float, Meta(ge=0.1, le=200)] = 25.0
    sections: Annotated[int, Meta(ge=1, le=12)] = 3
    half_cut: bool = False
    mass_kg: Kilograms


class ControllerSpec(Stated, frozen=True, kw_only=True):
    """One charge controller as its datasheet states it.

    To start it wants the modules `start_margin_v` over the bank, or an absolute `start_v`; once it runs, `run_margin_v`
    over the bank is enough.
    """

    name: Name
    max_pv_v: Volts
    max_isc_a: Annotated[float, Meta(ge=0.1, le=500)]
    output_a: Annotated[float, Meta(ge=0.1, le=500)]
    start_margin_v: Annotated[float, Meta(ge=0, le=100)]
    run_margin_v: Annotated[float, Meta(ge=0, le=100)] = 1.0
    start_v: Annotated[float, Meta(ge=0.1, le=1000)] | None = None
    mass_kg: Kilograms
    size: Size


ObstacleKind = Literal["other", "air_conditioner", "hatch", "aerial", "rail", "duct", "box"]


Months = tuple[float, float, float, float, float, float, float, float, float, float, float, float]


USUAL_CLEARNESS: Months = (0.40, 0.45, 0.48, 0.50, 0.51, 0.53, 0.54, 0.53, 0.50, 0.45, 0.39, 0.36)
"""Monthly clearness of a northern middle latitude, recalled as typical; common practice, no source."""


_Clearness = Annotated[float, Meta(ge=0.05, le=0.85)]


_Length = Annotated[float, Meta(ge=0, le=10)]


class Module(Stated, frozen=True, kw_only=True):
    """One module on the roof; `turned` lays its long side across the vehicle.

    `string` is empty while unassigned, `kind` for the roof's main type.
    """

    tag: Tag
    x_m: Metres
    y_m: Metres
    turned: bool = False
    string: str = ""
    kind: Text = ""


class _OnRoof(Stated, frozen=True, kw_only=True):
    """Something with a footprint on the roof, its middle at x and y."""

    tag: Tag
    name: Name
    x_m: Metres
    y_m: Metres
    length_m: Extent
    width_m: Extent


class Obstacle(_OnRoof, frozen=True, kw_only=True):
    """Something on the roof that modules must keep clear of; `service_m` is the room kept around it to work, given up
    only for a stated reason.
    """

    height_m: Extent
    kind: ObstacleKind = "other"
    service_m: _Length = 0.0
    service_given_up: Text = ""


class Lane(_OnRoof, frozen=True, kw_only=True):
    """A strip kept free to walk or kneel on."""


class String(Stated, frozen=True, kw_only=True):
    """Modules in series, on one controller; `order` is the way the rope goes (empty: from front to rear)."""

    tag: Tag
    controller: Tag
    order: Annotated[tuple[Tag, ...], Meta(max_length=200)] = ()


class Controller(Stated, frozen=True, kw_only=True):
    """One charge controller in its place.

    `entry_m` is where its roof cable comes through the roof, along the vehicle (empty: above it).
    """

    tag: Tag
    spec: ControllerSpec
    place: Place
    lead_m: Extent | None = None
    entry_m: Metres | None = None
    plug: Text = ""


class RemoteArray(Stated, frozen=True, kw_only=True):
    """Modules that are not on the roof: on a trailer, on the ground, on a building. They plug into one controller.

    `plug` is the key of its plug and the controller's socket. `stays` names the stays it is there (empty: all). A flat
    trailer roof has tilt 0.
    """

    tag: Tag
    name: Name
    where: Literal["trailer", "ground", "building"] = "ground"
    controller: Tag
    module: ModuleSpec
    series: Annotated[int, Meta(ge=1, le=40)] = 2
    parallel: Annotated[int, Meta(ge=1, le=20)] = 1
    tilt_deg: Annotated[float, Meta(ge=0, le=90)] = 30.0
    towards_deg: Annotated[float, Meta(ge=0, le=360)] | None = None
    cable_m: Annotated[float, Meta(ge=0.01, le=200)] = 15.0
    size: Name = "10 AWG"
    plug: Text = ""
    stays: Annotated[tuple[Tag, ...], Meta(max_length=120)] = ()


class Sky(Stated, frozen=True, kw_only=True):
    """The sky over the vehicle's home: share of the light beyond the air that reaches the ground by month, mean daytime
    air, haze, ground.

    `air_c` is empty until measured: then it follows from the site's record low and design high. `source` says where the
    numbers are from.
    """

    clearness: tuple[
        _Clearness,
        _Clearness,
        _Clearness,
        _Clearness,
        _Clearness,
        _Clearness,
        _Clearness,
        _Clearness,
        _Clearness,
        _Clearness,
        _Clearness,
        _Clearness,
    ] = USUAL_CLEARNESS
    air_c: Annotated[tuple[Celsius, ...], Meta(max_length=12)] = ()
    turbidity: Annotated[float, Meta(ge=1, le=10)] = 3.0
    albedo: Share = 0.2
    source: Text = "typical of a northern middle latitude, recalled"


class Fixing(Stated, frozen=True, kw_only=True):
    """How modules are held: fixings each, what one may be pulled with, the speed and lift to hold against, and the
    roof's members.

    `lift_coefficient` is an assumption. `member_pitch_m` is 0 while the members are not found.
    """

    each: Annotated[int, Meta(ge=1, le=40)] = 8
    allowed_n: Annotated[float, Meta(ge=1, le=100_000)] = 600.0
    speed_km_per_h: Annotated[float, Meta(ge=0, le=200)] = 110.0
    headwind_km_per_h: Annotated[float, Meta(ge=0, le=200)] = 40.0
    lift_coefficient: Annotated[float, Meta(ge=0.01, le=5)] = 1.0
    safety: Annotated[float, Meta(ge=1, le=10)] = 2.0
    members_from_m: Metres = 0.5
    member_pitch_m: _Length = 0.0
    allowed_roof_kg_per_m2: Annotated[float, Meta(ge=0.1, le=2000)] = 100.0


class Losses(Stated, frozen=True, kw_only=True):
    """What keeps sun from the bank: shares that get through.

    `shade` is of the year's energy, 1 until the shadows are counted.
    """

    soiling: PositiveShare = 0.95
    wiring: CountedShare = 0.98
    mismatch: CountedShare = 0.98
    controller: CountedShare = 0.97
    shade: PositiveShare = 1.0


class Roof(Stated, frozen=True, kw_only=True):
    """The roof: what is on it and how the modules are strung. `rise_c` is cell over air temperature in full sun.

    `front_width_m` is the width at the front where the roof tapers to `width_m` at the rear; `crown_m` how much the
    middle stands over the edges; `overhang_m` how far modules may stand out over the edge. `more_modules` are other
    types beside `module`. `heading_deg` is where the front points when parked (empty: any way, and the year is the mean
    of several).
    """

    start_m: Metres
    end_m: Metres
    width_m: Annotated[float, Meta(ge=0.1, le=60)]
    front_width_m: Annotated[float, Meta(ge=0.1, le=60)] | None = None
    crown_m: Annotated[float, Meta(ge=0, le=1)] = 0.0
    overhang_m: Annotated[float, Meta(ge=0, le=0.5)] = 0.0
    margin_m: Annotated[float, Meta(ge=0, le=2)]
    gap_m: Annotated[float, Meta(ge=0, le=0.5)] = 0.02
    rise_c: Annotated[float, Meta(ge=0, le=70)]
    heading_deg: Annotated[float, Meta(ge=0, le=360)] | None = None
    module: ModuleSpec
    more_modules: Annotated[tuple[ModuleSpec, ...], Meta(max_length=6)] = ()
    modules: Annotated[tuple[Module, ...], Meta(max_length=200)] = ()
    obstacles: Annotated[tuple[Obstacle, ...], Meta(max_length=200)] = ()
    lanes: Annotated[tuple[Lane, ...], Meta(max_length=40)] = ()
    strings: Annotated[tuple[String, ...], Meta(max_length=60)] = ()
    controllers: Annotated[tuple[Controller, ...], Meta(max_length=24)] = ()
    remote: Annotated[tuple[RemoteArray, ...], Meta(max_length=12)] = ()
    cable: Name = "10 AWG"
    sky: Sky = Sky()
    fixing: Fixing = Fixing()
    losses: Losses = Losses()


def spec_of(roof: Roof, module: Module) -> ModuleSpec:
    """Type of a module: the one its kind names, or the roof's main type."""
    if not module.kind:
        return roof.module
    return next((spec for spec in roof.more_modules if spec.name == module.kind), roof.module)


def controller_of(roof: Roof, tag: str) -> Controller:
    """The controller of a tag; job.checks sees to it that there is one."""
    return next(controller for controller in roof.controllers if controller.tag == tag)


def array_of(roof: Roof, tag: str) -> RemoteArray:
    """The array elsewhere of a tag."""
    return next(array for array in roof.remote if array.tag == tag)
