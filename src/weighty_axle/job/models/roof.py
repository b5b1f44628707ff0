"""The roof as stated: its outline, what stands on it, modules, strings, controllers, arrays elsewhere, the sky over
it.
"""

from typing import Annotated, Literal

from msgspec import Meta

from weighty_axle.job.stated import (
    Celsius,
    Clear,
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
    Turn,
    Volts,
)


class ModuleSpec(Stated, frozen=True, kw_only=True):
    """One solar module as its datasheet states it at 1000 W/m2 and 25 degC; coefficients per kelvin of the 25 degC
    value.

    `reverse_a` is the largest series fuse. `sections` have a bypass diode each, side by side across the short side;
    `half_cut` modules carry each twice.
    """

    name: Annotated[Name, Meta(title="Type", description="as the job calls it")]
    length_m: Annotated[float, Meta(ge=0.05, le=60, title="Length")]
    width_m: Annotated[float, Meta(ge=0.05, le=60, title="Width")]
    pmp_w: Annotated[float, Meta(ge=1, le=2000, title="Power (Pmp)", description="at 1000 W/m² and 25 °C")]
    voc_v: Annotated[Volts, Meta(title="Voc", description="open, at 25 °C")]
    isc_a: Annotated[float, Meta(ge=0.01, le=100, title="Isc", description="shorted, at 25 °C")]
    vmp_v: Annotated[Volts, Meta(title="Vmp", description="at full power")]
    imp_a: Annotated[float, Meta(ge=0.01, le=100, title="Imp", description="at full power")]
    voc_per_c: Annotated[Coefficient, Meta(title="Voc per degree", description="share of the value at 25 °C, negative")]
    pmp_per_c: Annotated[
        Coefficient, Meta(title="Power per degree", description="share of the value at 25 °C, negative")
    ]
    isc_per_c: Annotated[
        float, Meta(ge=-0.002, le=0.002, title="Isc per degree", description="share of the value at 25 °C")
    ] = 0.0005
    system_limit_v: Annotated[Volts, Meta(title="System voltage", description="highest the module is made for")]
    reverse_a: Annotated[
        float, Meta(ge=0.1, le=200, title="Series fuse, largest", description="what may flow back")
    ] = 25.0
    sections: Annotated[int, Meta(ge=1, le=12, title="Sections", description="with a bypass diode each")] = 3
    half_cut: Annotated[bool, Meta(title="Half-cut", description="carries every section twice")] = False
    mass_kg: Annotated[Kilograms, Meta(title="Mass")]


class ControllerSpec(Stated, frozen=True, kw_only=True):
    """One charge controller as its datasheet states it.

    To start it wants the modules `start_margin_v` over the bank, or an absolute `start_v`; once it runs, `run_margin_v`
    over the bank is enough.
    """

    name: Annotated[Name, Meta(title="Type", description="as the job calls it")]
    max_pv_v: Annotated[Volts, Meta(title="PV, highest", description="what ends it, not what it works at")]
    max_isc_a: Annotated[
        float, Meta(ge=0.1, le=500, title="PV current, most", description="short-circuit current of what is connected")
    ]
    output_a: Annotated[float, Meta(ge=0.1, le=500, title="Output", description="into the bank")]
    start_margin_v: Annotated[float, Meta(ge=0, le=100, title="Starts above the bank", description="by so much")]
    run_margin_v: Annotated[float, Meta(ge=0, le=100, title="Runs above the bank", description="by so much")] = 1.0
    start_v: Annotated[
        Annotated[float, Meta(ge=0.1, le=1000)] | None,
        Meta(title="Starts at", description="absolute; empty: over the bank only"),
    ] = None
    mass_kg: Annotated[Kilograms, Meta(title="Mass")]
    size: Annotated[Size, Meta(title="Outer size")]
    clear: Annotated[Clear, Meta(title="Room kept", description="free at its faces")] = Clear()
    built_in: Annotated[
        bool, Meta(title="Part of an inverter", description="an input that is not bought by itself")
    ] = False


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
    x_m: Annotated[Metres, Meta(title="Along", description="from the front of the body to its middle")]
    y_m: Annotated[Metres, Meta(title="Across", description="from the centre line to its middle")]
    turned: Annotated[bool, Meta(title="Turned", description="long side across the vehicle")] = False
    string: Annotated[str, Meta(title="String", description="empty: not strung")] = ""
    kind: Annotated[Text, Meta(title="Type", description="empty: the roof's main type")] = ""


class _OnRoof(Stated, frozen=True, kw_only=True):
    """Something with a footprint on the roof, its middle at x and y."""

    tag: Tag
    name: Annotated[Name, Meta(title="Name")]
    x_m: Annotated[Metres, Meta(title="Along")]
    y_m: Annotated[Metres, Meta(title="Across")]
    length_m: Annotated[Extent, Meta(title="Length")]
    width_m: Annotated[Extent, Meta(title="Width")]


class Obstacle(_OnRoof, frozen=True, kw_only=True):
    """Something on the roof that modules must keep clear of; `service_m` is the room kept around it to work, given up
    only for a stated reason.
    """

    height_m: Annotated[Extent, Meta(title="Height", description="over the roof: it throws a shadow")]
    kind: Annotated[ObstacleKind, Meta(title="Kind")] = "other"
    service_m: Annotated[_Length, Meta(title="Room to work", description="kept around it")] = 0.0
    service_given_up: Annotated[Text, Meta(title="Given up because", description="the reason stands in the job")] = ""


class Lane(_OnRoof, frozen=True, kw_only=True):
    """A strip kept free to walk or kneel on."""


class String(Stated, frozen=True, kw_only=True):
    """Modules in series, on one controller; `order` is the way the rope goes (empty: from front to rear)."""

    tag: Tag
    controller: Annotated[Tag, Meta(title="Controller")]
    order: Annotated[
        tuple[Tag, ...], Meta(max_length=200, title="Order", description="of the modules; empty: from front to rear")
    ] = ()


class Controller(Stated, frozen=True, kw_only=True):
    """One charge controller in its place.

    `entry_m` is where its roof cable comes through the roof, along the vehicle (empty: above it).
    """

    tag: Tag
    spec: Annotated[ControllerSpec, Meta(title="Datasheet")]
    bar: Annotated[Text, Meta(title="Bar", description="it charges; empty: the house bar")] = ""
    unit: Annotated[
        Text, Meta(title="Input of", description="the inverter it is built into; empty: a controller of its own")
    ] = ""
    place: Annotated[Place, Meta(title="Place")]
    lead_m: Annotated[
        Extent | None, Meta(title="DC lead", description="measured, one way; empty: taken from the places")
    ] = None
    entry_m: Annotated[Metres | None, Meta(title="Roof entry", description="along the vehicle; empty: above it")] = None
    plug: Annotated[Text, Meta(title="Plug key", description="of its socket for arrays elsewhere")] = ""
    turn_deg: Annotated[Turn, Meta(title="Turned", description="seen from above, against the clock")] = 0


class RemoteArray(Stated, frozen=True, kw_only=True):
    """Modules that are not on the roof: on a trailer, on the ground, on a building. They plug into one controller.

    `plug` is the key of its plug and the controller's socket. `stays` names the stays it is there (empty: all). A flat
    trailer roof has tilt 0.
    """

    tag: Tag
    name: Annotated[Name, Meta(title="Name")]
    where: Annotated[Literal["trailer", "ground", "building"], Meta(title="Where")] = "ground"
    controller: Annotated[Tag, Meta(title="Controller", description="it plugs into")]
    module: Annotated[ModuleSpec, Meta(title="Module datasheet")]
    series: Annotated[int, Meta(ge=1, le=40, title="In series")] = 2
    parallel: Annotated[int, Meta(ge=1, le=20, title="Side by side", description="strings")] = 1
    tilt_deg: Annotated[float, Meta(ge=0, le=90, title="Tilt", description="0: flat")] = 30.0
    azimuth_deg: Annotated[
        Annotated[float, Meta(ge=0, le=360)] | None,
        Meta(title="Azimuth", description="from north, clockwise; empty: as it comes"),
    ] = None
    cable_m: Annotated[float, Meta(ge=0.01, le=200, title="Cable", description="one way")] = 15.0
    size: Annotated[Name, Meta(title="Conductor")] = "10 AWG"
    plug: Annotated[Text, Meta(title="Plug key", description="of its plug")] = ""
    stays: Annotated[tuple[Tag, ...], Meta(max_length=120, title="At stays", description="tags; empty: all")] = ()


class Sky(Stated, frozen=True, kw_only=True):
    """The sky over the vehicle's home: share of the light beyond the air that reaches the ground by month, mean daytime
    air, haze, ground.

    `air_c` is empty until measured: then it follows from the site's record low and design high. `source` says where the
    numbers are from.
    """

    clearness: Annotated[
        tuple[
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
        ],
        Meta(title="Clearness", description="by month: share of the light beyond the air that comes down"),
    ] = USUAL_CLEARNESS
    air_c: Annotated[
        tuple[Celsius, ...],
        Meta(max_length=12, title="Daytime air", description="by month; empty: from record low and design high"),
    ] = ()
    turbidity: Annotated[float, Meta(ge=1, le=10, title="Haze", description="Linke turbidity")] = 3.0
    albedo: Annotated[Share, Meta(title="Ground", description="share of light it throws back")] = 0.2
    source: Annotated[Text, Meta(title="Source", description="of these numbers")] = (
        "typical of a northern middle latitude, recalled"
    )


class Fixing(Stated, frozen=True, kw_only=True):
    """How modules are held: fixings each, what one may be pulled with, the speed and lift to hold against, and the
    roof's members.

    `lift_coefficient` is an assumption. `member_pitch_m` is 0 while the members are not found.
    """

    each: Annotated[int, Meta(ge=1, le=40, title="Fixings", description="of a module")] = 8
    allowed_n: Annotated[float, Meta(ge=1, le=100000, title="Pull allowed", description="on one")] = 600.0
    speed_km_per_h: Annotated[float, Meta(ge=0, le=200, title="Speed", description="to hold against")] = 110.0
    headwind_km_per_h: Annotated[float, Meta(ge=0, le=200, title="Headwind", description="on top")] = 40.0
    lift_coefficient: Annotated[float, Meta(ge=0.01, le=5, title="Lift coefficient", description="an assumption")] = 1.0
    safety: Annotated[float, Meta(ge=1, le=10, title="Safety", description="factor")] = 2.0
    members_from_m: Annotated[Metres, Meta(title="First member", description="from the front")] = 0.5
    member_pitch_m: Annotated[_Length, Meta(title="Members apart", description="0: not found yet")] = 0.0
    allowed_roof_kg_per_m2: Annotated[float, Meta(ge=0.1, le=2000, title="Roof carries")] = 100.0


class Losses(Stated, frozen=True, kw_only=True):
    """What keeps sun from the bank: shares that get through.

    `shade` is of the year's energy, 1 until the shadows are counted.
    """

    soiling: Annotated[PositiveShare, Meta(title="Through dirt", description="share that gets through")] = 0.95
    wiring: Annotated[CountedShare, Meta(title="Through wiring", description="share that gets through")] = 0.98
    mismatch: Annotated[CountedShare, Meta(title="Through mismatch", description="share that gets through")] = 0.98
    controller: Annotated[CountedShare, Meta(title="Through the controller", description="share that gets through")] = (
        0.97
    )
    shade: Annotated[PositiveShare, Meta(title="Through shade", description="of the year's energy")] = 1.0


class Roof(Stated, frozen=True, kw_only=True):
    """The roof: what is on it and how the modules are strung. `rise_c` is cell over air temperature in full sun.

    `front_width_m` is the width at the front where the roof tapers to `width_m` at the rear; `crown_m` how much the
    middle stands over the edges; `overhang_m` how far modules may stand out over the edge. `more_modules` are other
    types beside `module`. `heading_deg` is where the front points when parked (empty: any way, and the year is the mean
    of several).
    """

    start_m: Annotated[Metres, Meta(title="From", description="along the vehicle; below 0: it overhangs the front")]
    end_m: Annotated[Metres, Meta(title="To", description="along the vehicle; it may overhang the rear")]
    width_m: Annotated[float, Meta(ge=0.1, le=60, title="Width")]
    front_width_m: Annotated[
        Annotated[float, Meta(ge=0.1, le=60)] | None,
        Meta(title="Width in front", description="where it tapers; empty: the same"),
    ] = None
    crown_m: Annotated[float, Meta(ge=0, le=1, title="Crown", description="the middle stands over the edges")] = 0.0
    overhang_m: Annotated[
        float, Meta(ge=0, le=0.5, title="Overhang", description="modules may stand out over the edge")
    ] = 0.0
    margin_m: Annotated[float, Meta(ge=0, le=2, title="Margin", description="kept free along the edge")]
    gap_m: Annotated[float, Meta(ge=0, le=0.5, title="Gap", description="between modules")] = 0.02
    rise_c: Annotated[float, Meta(ge=0, le=70, title="Cells over air", description="in full sun")]
    heading_deg: Annotated[
        Annotated[float, Meta(ge=0, le=360)] | None,
        Meta(title="Heading", description="of the front when parked; empty: any way"),
    ] = None
    module: Annotated[ModuleSpec, Meta(title="Main module")]
    more_modules: Annotated[tuple[ModuleSpec, ...], Meta(max_length=6, title="Further modules")] = ()
    modules: Annotated[tuple[Module, ...], Meta(max_length=200, title="Modules")] = ()
    obstacles: Annotated[tuple[Obstacle, ...], Meta(max_length=200, title="Obstacles")] = ()
    lanes: Annotated[tuple[Lane, ...], Meta(max_length=40, title="Lanes")] = ()
    strings: Annotated[tuple[String, ...], Meta(max_length=60, title="Strings")] = ()
    controllers: Annotated[tuple[Controller, ...], Meta(max_length=24, title="Controllers")] = ()
    remote: Annotated[tuple[RemoteArray, ...], Meta(max_length=12, title="Arrays elsewhere")] = ()
    cable: Annotated[Name, Meta(title="Roof cable", description="conductor")] = "10 AWG"
    sky: Annotated[Sky, Meta(title="Sky")] = Sky()
    fixing: Annotated[Fixing, Meta(title="Fixings")] = Fixing()
    losses: Annotated[Losses, Meta(title="Losses")] = Losses()


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
