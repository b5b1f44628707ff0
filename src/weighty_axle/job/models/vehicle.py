"""What the survey finds: the vehicle with its axles, bays and wire ways, where it lives, photos."""

from typing import Annotated, Literal

from msgspec import Meta

from weighty_axle.job.stated import Celsius, Extent, Kilograms, Metres, Name, Outline, PositiveShare, Stated, Tag, Text

VehicleKind = Literal["coach", "rigid_truck", "semi_trailer", "drawbar_trailer", "centre_axle_trailer"]


WAY_ENDS = ("ROOF", "CAB")
"""Ends of a wire way besides the bays."""


class Axle(Stated, frozen=True, kw_only=True):
    """One axle, or a coupling that carries load (king pin, ball): where it stands and what it may carry.

    `share` is the part of its group's load that it takes; the shares of one group add up to 1.
    `weighed_kg` is the weighbridge reading before the installation.
    """

    tag: Tag
    group: Literal["front", "rear"]
    x_m: Metres
    share: PositiveShare
    limit_kg: Annotated[float, Meta(ge=1, le=100_000)]
    weighed_kg: Kilograms
    coupling: bool = False


class Bay(Stated, frozen=True, kw_only=True):
    """A space items can be put in, as seen from the side."""

    tag: Tag
    name: Name
    start_m: Metres
    end_m: Metres
    bottom_m: Metres
    top_m: Metres


class WireWay(Stated, frozen=True, kw_only=True):
    """A way cable can take, as measured on the vehicle. Its ends are bay tags, or `ROOF` or `CAB`."""

    tag: Tag
    name: Name
    start: Tag
    end: Tag
    length_m: Extent
    zone: Literal["bay", "living", "roof", "engine", "outside"]
    clear_mm: Annotated[float, Meta(ge=1, le=1000)]


class Vehicle(Stated, frozen=True, kw_only=True):
    """The vehicle as measured at the survey."""

    kind: VehicleKind
    description: Name
    length_m: Outline
    width_m: Outline
    roof_m: Outline
    floor_m: Metres
    skirt_m: Metres
    track_m: Outline
    gross_limit_kg: Annotated[float, Meta(ge=1, le=100_000)]
    axles: Annotated[tuple[Axle, ...], Meta(min_length=2, max_length=8)]
    bays: Annotated[tuple[Bay, ...], Meta(max_length=40)] = ()
    ways: Annotated[tuple[WireWay, ...], Meta(max_length=60)] = ()


class Photo(Stated, frozen=True, kw_only=True):
    """One photo the survey needs: of what, and whether it was taken."""

    tag: Tag
    subject: Name
    taken: bool = False


class Survey(Stated, frozen=True, kw_only=True):
    """Who surveyed and when, and the photo list."""

    surveyed_by: Text = ""
    surveyed_on: Text = ""
    photos: Annotated[tuple[Photo, ...], Meta(max_length=100)] = ()


class Site(Stated, frozen=True, kw_only=True):
    """Where the vehicle works: the temperatures the design must stand."""

    home: Name
    latitude_deg: Annotated[float, Meta(ge=-90, le=90)]
    longitude_deg: Annotated[float, Meta(ge=-180, le=180)]
    height_m: Annotated[float, Meta(ge=-430, le=6000)]
    record_low_c: Celsius
    design_high_c: Celsius
    bay_high_c: Celsius
