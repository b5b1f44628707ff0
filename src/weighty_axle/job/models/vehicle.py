"""What the survey finds: the vehicle with its axles, bays and wire ways, where it lives, photos."""

from typing import Annotated, Literal

from msgspec import Meta

from weighty_axle.job.stated import (
    Celsius,
    Extent,
    Kilograms,
    Metres,
    Name,
    Outline,
    Place,
    PositiveShare,
    Size,
    Stated,
    Tag,
    Text,
)

VehicleKind = Literal["coach", "rigid_truck", "semi_trailer", "drawbar_trailer", "centre_axle_trailer"]


WAY_ENDS = ("ROOF", "CAB", "LIVING")
"""Ends of a wire way besides the bays: on the roof, at the driver, and the room above the floor that is no bay."""


CableKind = Literal["dc", "ac", "pv", "data"]
"""What a cable carries: battery voltage, mains voltage, a string of modules, or signals and remote switches."""


class Axle(Stated, frozen=True, kw_only=True):
    """One axle, or a coupling that carries load (king pin, ball): where it stands and what it may carry.

    `share` is the part of its group's load that it takes; the shares of one group add up to 1.
    `weighed_kg` is the weighbridge reading before the installation.
    """

    tag: Tag
    group: Annotated[Literal["front", "rear"], Meta(title="Group")]
    x_m: Annotated[Metres, Meta(title="Along", description="from the front of the body")]
    share: Annotated[PositiveShare, Meta(title="Share", description="of its group's load")]
    limit_kg: Annotated[float, Meta(ge=1, le=100000, title="Limit")]
    weighed_kg: Annotated[Kilograms, Meta(title="Weighed", description="before the installation")]
    coupling: Annotated[bool, Meta(title="Coupling", description="king pin or ball that carries load")] = False
    weighed_left_kg: Annotated[
        Annotated[float, Meta(ge=0, le=100_000)] | None,
        Meta(title="Weighed, left", description="of it under the left wheels; empty: taken as half"),
    ] = None
    after_kg: Annotated[
        Annotated[float, Meta(ge=0, le=100_000)] | None,
        Meta(title="Weighed after", description="once everything is in; empty: not yet"),
    ] = None
    tyre_kg: Annotated[
        Annotated[float, Meta(ge=1, le=20_000)] | None,
        Meta(title="One tyre carries", description="by its load index; empty: not stated"),
    ] = None
    tyres: Annotated[int, Meta(ge=2, le=8, title="Tyres", description="on both sides together")] = 2
    track_m: Annotated[Outline | None, Meta(title="Own track", description="empty: the vehicle's")] = None
    lifts: Annotated[bool, Meta(title="Can be lifted", description="the others of its group then carry its part")] = (
        False
    )


Side = Literal["none", "left", "right", "front", "rear", "below", "living"]
"""Where air comes into a bay or leaves it; none: nowhere."""


class Air(Stated, frozen=True, kw_only=True):
    """How a bay is aired: a fan with a thermostat, where the air comes in and where it goes out."""

    fan_m3_per_h: Annotated[float, Meta(ge=0, le=5000, title="Fan moves", description="all fans of it; 0: none")] = 0.0
    intake: Annotated[Side, Meta(title="Comes in", description="side")] = "none"
    outlet: Annotated[Side, Meta(title="Goes out", description="side")] = "none"
    on_c: Annotated[Celsius, Meta(title="Fan on from", description="its thermostat")] = 30.0
    off_c: Annotated[Celsius, Meta(title="Fan off below", description="its thermostat")] = 27.0
    noise_db: Annotated[
        Annotated[float, Meta(ge=0, le=120)] | None, Meta(title="Noise", description="at full speed; for information")
    ] = None


class Bay(Stated, frozen=True, kw_only=True):
    """A space items can be put in, as seen from the side."""

    tag: Tag
    name: Annotated[Name, Meta(title="Name")]
    start_m: Annotated[Metres, Meta(title="From", description="along the vehicle")]
    end_m: Annotated[Metres, Meta(title="To", description="along the vehicle")]
    bottom_m: Annotated[Metres, Meta(title="Bottom", description="above the ground")]
    top_m: Annotated[Metres, Meta(title="Top", description="above the ground")]
    door_m: Annotated[
        Annotated[float, Meta(ge=0.05, le=20)] | None,
        Meta(title="Door, along", description="clear opening; empty: as long as the bay"),
    ] = None
    door_high_m: Annotated[
        Annotated[float, Meta(ge=0.05, le=5)] | None,
        Meta(title="Door, high", description="clear opening; empty: as high as the bay"),
    ] = None
    door_side: Annotated[
        Literal["left", "right", "both", "none"], Meta(title="Door at", description="side it is reached from")
    ] = "both"
    door_x_m: Annotated[
        Metres | None, Meta(title="Door's middle", description="along the vehicle; empty: the bay's")
    ] = None
    engine: Annotated[bool, Meta(title="Engine in it", description="no place for what wants cool air")] = False
    air: Annotated[Air | None, Meta(title="Air", description="empty: not stated")] = None
    wall_w_per_m2k: Annotated[
        float, Meta(ge=0.1, le=10, title="Walls let through", description="for each degree; bare sheet metal about 6")
    ] = 4.0
    door_z_m: Annotated[Metres | None, Meta(title="Door's sill", description="above the ground; empty: its bottom")] = (
        None
    )


class Zone(Stated, frozen=True, kw_only=True):
    """What electrical things keep away from: where it is, and how far off they stay."""

    tag: Tag
    name: Annotated[Name, Meta(title="Name")]
    kind: Annotated[Literal["gas", "fuel", "heat", "exhaust", "water"], Meta(title="Kind")]
    place: Annotated[Place, Meta(title="Place")]
    size: Annotated[Size, Meta(title="Outer size")]
    keep_m: Annotated[float, Meta(ge=0.01, le=5, title="Keep", description="clear of it on every side")] = 0.3


class WireWay(Stated, frozen=True, kw_only=True):
    """A way cable can take, as measured on the vehicle. Its ends are bay tags, or `ROOF`, `CAB` or `LIVING`.

    `start_at` and `end_at` are where it opens (empty: in the middle of the side that faces its other end).
    """

    tag: Tag
    name: Annotated[Name, Meta(title="Name")]
    start: Annotated[Tag, Meta(title="From", description="a bay, ROOF, CAB or LIVING")]
    end: Annotated[Tag, Meta(title="To", description="a bay, ROOF, CAB or LIVING")]
    length_m: Annotated[Extent, Meta(title="Length")]
    zone: Annotated[Literal["bay", "living", "roof", "engine", "outside"], Meta(title="Zone")]
    clear_mm: Annotated[float, Meta(ge=1, le=1000, title="Clear width")]
    start_at: Annotated[Place | None, Meta(title="Opens at", description="its start; empty: facing its end")] = None
    end_at: Annotated[Place | None, Meta(title="Comes out at", description="its end; empty: facing its start")] = None
    only: Annotated[
        tuple[CableKind, ...], Meta(max_length=4, title="Only for", description="kinds of cable; empty: any")
    ] = ()


class Trailer(Stated, frozen=True, kw_only=True):
    """What the vehicle tows: its mass as laden, what its coupling puts on the vehicle, and where."""

    name: Annotated[Name, Meta(title="Trailer")]
    mass_kg: Annotated[Kilograms, Meta(title="Mass", description="laden")]
    coupling_kg: Annotated[Kilograms, Meta(title="On the coupling", description="it puts on the vehicle")]
    coupling_x_m: Annotated[Metres, Meta(title="Coupling, along", description="from the front of the body")]


class Vehicle(Stated, frozen=True, kw_only=True):
    """The vehicle as measured at the survey."""

    kind: Annotated[VehicleKind, Meta(title="Kind")]
    description: Annotated[Name, Meta(title="Vehicle")]
    length_m: Annotated[Outline, Meta(title="Length")]
    width_m: Annotated[Outline, Meta(title="Width")]
    roof_m: Annotated[Outline, Meta(title="Roof", description="above the ground")]
    floor_m: Annotated[Metres, Meta(title="Floor", description="above the ground")]
    skirt_m: Annotated[Metres, Meta(title="Skirt", description="lower edge above the ground")]
    track_m: Annotated[Outline, Meta(title="Track")]
    cog_m: Annotated[
        Annotated[float, Meta(ge=0.1, le=5)] | None,
        Meta(title="Centre of gravity", description="height before the installation; empty: not known"),
    ] = None
    gross_limit_kg: Annotated[float, Meta(ge=1, le=100000, title="Gross limit")]
    hold_forward_g: Annotated[
        Annotated[float, Meta(ge=0.1, le=50)] | None,
        Meta(title="Fixings hold, forward", description="times the weight; empty: by its class"),
    ] = None
    hold_sideways_g: Annotated[
        Annotated[float, Meta(ge=0.1, le=50)] | None,
        Meta(title="Fixings hold, sideways", description="times the weight; empty: by its class"),
    ] = None
    hold_up_g: Annotated[
        Annotated[float, Meta(ge=0.1, le=50)] | None,
        Meta(title="Fixings hold, up", description="times the weight; empty: by its class"),
    ] = None
    trailer: Annotated[Trailer | None, Meta(title="Trailer behind it")] = None
    combination_limit_kg: Annotated[
        Annotated[float, Meta(ge=1, le=200_000)] | None,
        Meta(title="Combination limit", description="vehicle and trailer together; empty: not stated"),
    ] = None
    axles: Annotated[tuple[Axle, ...], Meta(min_length=2, max_length=8, title="Axles")]
    bays: Annotated[tuple[Bay, ...], Meta(max_length=40, title="Bays")] = ()
    zones: Annotated[tuple[Zone, ...], Meta(max_length=40, title="Keep away from")] = ()
    ways: Annotated[tuple[WireWay, ...], Meta(max_length=60, title="Wire ways")] = ()


class Photo(Stated, frozen=True, kw_only=True):
    """One photo the survey needs: of what, and whether it was taken."""

    tag: Tag
    subject: Annotated[Name, Meta(title="Of")]
    taken: Annotated[bool, Meta(title="Taken")] = False


class Survey(Stated, frozen=True, kw_only=True):
    """Who surveyed and when, and the photo list."""

    surveyed_by: Annotated[Text, Meta(title="Surveyed by")] = ""
    surveyed_on: Annotated[Text, Meta(title="Surveyed on")] = ""
    photos: Annotated[tuple[Photo, ...], Meta(max_length=100, title="Photos")] = ()


class Site(Stated, frozen=True, kw_only=True):
    """Where the vehicle works: the temperatures the design must stand."""

    home: Annotated[Name, Meta(title="Home")]
    latitude_deg: Annotated[float, Meta(ge=-90, le=90, title="Latitude", description="north positive")]
    longitude_deg: Annotated[float, Meta(ge=-180, le=180, title="Longitude", description="east positive")]
    height_m: Annotated[float, Meta(ge=-430, le=6000, title="Height", description="above the sea")]
    record_low_c: Annotated[Celsius, Meta(title="Record low", description="for the strings' voltage")]
    design_high_c: Annotated[Celsius, Meta(title="Design high")]
    bay_high_c: Annotated[Celsius, Meta(title="Bay, highest", description="air around the inverters")]
