"""What charges beside sun and shore as stated: the alternator, and converters from bar to bar."""

from typing import Annotated, Literal

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
    Text,
    Volts,
    Watts,
)

VEHICLE = "VEHICLE"
"""The vehicle's own bar where none is stated: its starting battery and alternator."""


Works = Literal["engine", "always", "switch", "voltage"]


class ConverterSpec(Stated, frozen=True, kw_only=True):
    """A DC-DC converter or charger as its datasheet states it: `output_a`, or `output_w`, or both and then it gives the
    less.

    `output_v` is what a supply holds (empty: a charger follows its battery); `input_a` is the most it draws.
    """

    name: Annotated[Name, Meta(title="Type", description="as the job calls it")]
    output_w: Annotated[
        Annotated[float, Meta(ge=1, le=20000)] | None,
        Meta(title="Output in W", description="where the datasheet says so"),
    ] = None
    output_a: Annotated[
        Annotated[float, Meta(ge=0.1, le=500)] | None,
        Meta(title="Output in A", description="where the datasheet says so"),
    ] = None
    output_v: Annotated[Volts | None, Meta(title="Holds", description="a supply's voltage; empty: a charger")] = None
    input_a: Annotated[
        Annotated[float, Meta(ge=0.1, le=1000)] | None, Meta(title="Input, most", description="empty: as it needs")
    ] = None
    efficiency: Annotated[Efficiency, Meta(title="Efficiency")]
    own_w: Annotated[Watts, Meta(title="Own draw", description="switched on without load")] = 0.0
    mass_kg: Annotated[Kilograms, Meta(title="Mass")]
    size: Annotated[Size, Meta(title="Outer size")]


class Alternator(Stated, frozen=True, kw_only=True):
    """The vehicle's alternator; `hot_share` is what it may give for hours, hot and slow."""

    rated_a: Annotated[float, Meta(ge=1, le=1000, title="Rating", description="on its label, cold")]
    volts: Annotated[Volts, Meta(title="Voltage", description="charging")]
    hot_share: Annotated[CountedShare, Meta(title="Hot and slow", description="share it gives for hours")]
    vehicle_a: Annotated[Amperes, Meta(title="Vehicle takes", description="itself, engine running")]


class Converter(Stated, frozen=True, kw_only=True):
    """One DC-DC converter or charger in its place, from one bar to another.

    `start` and `end` are tags of bars: VEHICLE is the vehicle's own where none is stated, empty the house bar.
    `both_ways`: it can also carry back. `works` is what turns it on: the engine, always, a switch, or the voltage of
    the bar it takes from, over `on_v` on and under `off_v` off; `back_on_v` and `back_off_v` are the same for the other
    way, at the other bar. Those of one `feed` share a cable from where they start.
    """

    tag: Tag
    spec: Annotated[ConverterSpec, Meta(title="Datasheet")]
    start: Annotated[Text, Meta(title="From bar", description="VEHICLE: the vehicle's own; empty: the house bar")] = (
        VEHICLE
    )
    end: Annotated[Text, Meta(title="To bar", description="empty: the house bar")] = ""
    both_ways: Annotated[bool, Meta(title="Both ways")] = False
    works: Annotated[Works, Meta(title="Works by", description="what turns it on")] = "engine"
    on_v: Annotated[Volts | None, Meta(title="On above", description="of the bar it takes from")] = None
    off_v: Annotated[Volts | None, Meta(title="Off below", description="of the bar it takes from")] = None
    back_on_v: Annotated[Volts | None, Meta(title="Back: on above", description="of the other bar")] = None
    back_off_v: Annotated[Volts | None, Meta(title="Back: off below", description="of the other bar")] = None
    priority: Annotated[int, Meta(ge=1, le=9, title="Priority", description="1 is served first")] = 1
    feed: Annotated[
        Text, Meta(title="Shared cable", description="name of the cable it shares from where it starts")
    ] = ""
    feed_m: Annotated[
        Extent | None, Meta(title="Cable before it", description="measured, one way; empty: taken from the places")
    ] = None
    place: Annotated[Place, Meta(title="Place")]
    lead_m: Annotated[
        Extent | None, Meta(title="Lead", description="measured, one way; empty: taken from the places")
    ] = None


class Charging(Stated, frozen=True, kw_only=True):
    """What can fill the bank besides sun and shore, and the ceiling over all of it."""

    alternator: Annotated[Alternator | None, Meta(title="Alternator")] = None
    alternator_bar: Annotated[
        Text, Meta(title="Alternator on bar", description="it charges; VEHICLE: the vehicle's own, not stated further")
    ] = VEHICLE
    system_limit_a: Annotated[
        Annotated[float, Meta(ge=0.1, le=10000)] | None,
        Meta(title="Limit over all", description="of charging; empty: the computed one"),
    ] = None
