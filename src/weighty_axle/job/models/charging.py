"""What charges beside sun and shore as stated: the alternator and its chargers."""

from typing import Annotated

from msgspec import Meta

from weighty_axle.job.stated import (
    Amperes,
    CountedShare,
    Efficiency,
    Extent,
    Kilograms,
    Name,
    Place,
    Size,
    Stated,
    Tag,
    Volts,
)


class AlternatorChargerSpec(Stated, frozen=True, kw_only=True):
    """A DC-DC charger between the starting battery and the bank; its datasheet states `output_a`, or `output_w`, or
    both and then it gives the less.
    """

    name: Name
    output_w: Annotated[float, Meta(ge=1, le=20_000)] | None = None
    output_a: Annotated[float, Meta(ge=0.1, le=500)] | None = None
    efficiency: Efficiency
    mass_kg: Kilograms
    size: Size


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
