"""What charges beside sun and shore as stated: the alternator, and converters from bar to bar."""

from typing import Annotated, Literal

from msgspec import Meta, field

from weighty_axle.job.models.bank import Chemistry
from weighty_axle.job.stated import (
    Amperes,
    Celsius,
    Clear,
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
    Turn,
    Volts,
    Watts,
)

VEHICLE = "VEHICLE"
"""The vehicle's own bar where none is stated: its starting battery and alternator."""


Works = Literal["engine", "always", "switch", "voltage"]


Senses = Literal["unsaid", "wire", "voltage"]
"""How a charger that works by the engine knows that it runs."""


SourceKind = Literal["shore", "generator", "converters", "engine", "sun"]
GIVES_WAY: tuple[SourceKind, ...] = ("shore", "generator", "converters", "engine", "sun")
"""Kinds of source in the usual order in which they give way: bought power first, the sun last."""


class LoadPoint(Stated, frozen=True, array_like=True):
    """Efficiency at a share of the rated output: [share, efficiency]."""

    load_share: Annotated[CountedShare, Meta(title="Share of the output")]
    efficiency: Annotated[Efficiency, Meta(title="Efficiency")]


class SpeedPoint(Stated, frozen=True, array_like=True):
    """A point of an alternator's output curve: [turns a minute of its shaft, amperes]."""

    shaft_rpm: Annotated[float, Meta(ge=100, le=30_000, title="Shaft", description="turns a minute")]
    amps: Annotated[float, Meta(ge=0, le=1000, title="Gives")]


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
    efficiency: Annotated[Efficiency, Meta(title="Efficiency", description="at full output")]
    curve: Annotated[
        tuple[LoadPoint, ...],
        Meta(max_length=12, title="Efficiency by load", description="rising shares; empty: the same at every load"),
    ] = ()
    peak_a: Annotated[
        Annotated[float, Meta(ge=0.1, le=1000)] | None, Meta(title="Peak", description="empty: no more than its output")
    ] = None
    peak_s: Annotated[float, Meta(ge=0, le=600, title="Peak lasts")] = 0.0
    fuse_a: Annotated[
        Annotated[float, Meta(ge=0.1, le=1000)] | None,
        Meta(title="Fuse at its output", description="as the datasheet asks; empty: computed"),
    ] = None
    own_w: Annotated[Watts, Meta(title="Own draw", description="switched on without load")] = 0.0
    mass_kg: Annotated[Kilograms, Meta(title="Mass")]
    size: Annotated[Size, Meta(title="Outer size")]
    clear: Annotated[Clear, Meta(title="Room kept", description="free at its faces")] = Clear()


class Alternator(Stated, frozen=True, kw_only=True):
    """One of the vehicle's alternators.

    `hot_share` is what it may give for hours, hot and slow, `idle_share` with the engine idling, both of its label.
    With a typed `curve` of its hot output these are left aside; the curve holds with air of `curve_c` around it, and
    `bay_c` is what it gets. `low_v` is how far modern management lets it sag while driving, at most for `sag_s`.
    """

    tag: Tag
    rated_a: Annotated[float, Meta(ge=1, le=1000, title="Rating", description="on its label, cold")]
    volts: Annotated[Volts, Meta(title="Voltage", description="charging")]
    low_v: Annotated[
        Volts | None, Meta(title="Sags to", description="while driving, by its management; empty: it holds its voltage")
    ] = None
    sag_s: Annotated[float, Meta(ge=0, le=7200, title="Longest sag")] = 300.0
    hot_share: Annotated[CountedShare, Meta(title="Hot and slow", description="share it gives for hours")]
    idle_share: Annotated[CountedShare, Meta(title="Idling", description="share it gives hot, engine idling")] = 0.4
    curve: Annotated[
        tuple[SpeedPoint, ...],
        Meta(max_length=24, title="Hot output", description="by shaft speed, rising; empty: by the shares"),
    ] = ()
    curve_c: Annotated[Celsius, Meta(title="Curve holds at", description="air around it")] = 90.0
    bay_c: Annotated[Celsius, Meta(title="Air around it", description="engine bay at its hottest")] = 90.0
    ratio: Annotated[
        float, Meta(ge=0.5, le=10, title="Pulley", description="turns of its shaft for one of the engine")
    ] = 2.7
    vehicle_a: Annotated[Amperes, Meta(title="Vehicle takes", description="itself, engine running")]
    margin_a: Annotated[Amperes, Meta(title="Margin", description="kept back from the chargers")] = 0.0
    bar: Annotated[Text, Meta(title="On bar", description="it charges; VEHICLE: the vehicle's own")] = VEHICLE


class Starter(Stated, frozen=True, kw_only=True):
    """The vehicle's own starting battery, where its bar is not stated."""

    chemistry: Annotated[Chemistry, Meta(title="Chemistry")] = "flooded"
    capacity_ah: Annotated[float, Meta(ge=1, le=5000, title="Capacity")] = 200.0
    resistance_ohm: Annotated[
        Annotated[float, Meta(ge=1e-5, le=1)], Meta(title="Resistance", description="of all of it")
    ] = 0.008


class Converter(Stated, frozen=True, kw_only=True):
    """One DC-DC converter or charger in its place, from one bar to another.

    `start` and `end` are tags of bars: VEHICLE is the vehicle's own where none is stated, empty the house bar.
    `both_ways`: it can also carry back. `works` is what turns it on: the engine, always, a switch, or the voltage of
    the bar it takes from, over `on_v` on and under `off_v` off; `back_on_v` and `back_off_v` are the same for the other
    way, at the other bar. One that works by the engine `senses` it by a wire, or by the voltage at its own terminals:
    over `on_v` on, under `off_v` off once that has lasted `delay_s`. Those of one `feed` share a cable of `feed_m` from
    where they start; `branch_m` is each one's own lead from where it leaves that cable.
    """

    tag: Tag
    spec: Annotated[ConverterSpec, Meta(title="Datasheet")]
    start: Annotated[Text, Meta(title="From bar", description="VEHICLE: the vehicle's own; empty: the house bar")] = (
        VEHICLE
    )
    end: Annotated[Text, Meta(title="To bar", description="empty: the house bar")] = ""
    both_ways: Annotated[bool, Meta(title="Both ways")] = False
    works: Annotated[Works, Meta(title="Works by", description="what turns it on")] = "engine"
    senses: Annotated[
        Senses, Meta(title="Engine seen by", description="an ignition wire, or the voltage at its terminals")
    ] = "unsaid"
    delay_s: Annotated[float, Meta(ge=0, le=7200, title="Off after", description="below its off voltage")] = 0.0
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
    branch_m: Annotated[
        Extent | None, Meta(title="Lead from the shared cable", description="measured, one way; empty: next to it")
    ] = None
    place: Annotated[Place, Meta(title="Place")]
    lead_m: Annotated[
        Extent | None, Meta(title="Lead", description="measured, one way; empty: taken from the places")
    ] = None
    turn_deg: Annotated[Turn, Meta(title="Turned", description="seen from above, against the clock")] = 0


class Charging(Stated, frozen=True, kw_only=True):
    """What can fill the bank besides sun and shore, and the ceiling over all of it.

    `gives_way` names the kinds of source in the order in which they give way when all together are too much.
    """

    alternators: Annotated[tuple[Alternator, ...], Meta(max_length=4, title="Alternators")] = ()
    idle_rpm: Annotated[float, Meta(ge=100, le=3000, title="Engine idles at", description="turns a minute")] = 650.0
    slow_rpm: Annotated[float, Meta(ge=100, le=6000, title="Engine in slow traffic", description="turns a minute")] = (
        1100.0
    )
    cruise_rpm: Annotated[float, Meta(ge=100, le=8000, title="Engine at cruise", description="turns a minute")] = 1600.0
    starter: Annotated[Starter, Meta(title="Vehicle's starting battery")] = Starter()
    gives_way: Annotated[
        tuple[SourceKind, ...],
        Meta(min_length=5, max_length=5, title="Gives way", description="kinds of source, the first to give way first"),
    ] = GIVES_WAY
    system_limit_a: Annotated[
        Annotated[float, Meta(ge=0.1, le=10000)] | None,
        Meta(title="Limit over all", description="of charging; empty: the computed one"),
    ] = None
    one_limit: Annotated[
        bool, Meta(title="One limit for all", description="units keep to it by themselves, told over data leads")
    ] = False


class Stage(Stated, frozen=True, kw_only=True):
    """A stage of a conversion: where either-or switches stand, and what is not there yet.

    `stands` gives a bar for switches by tag; `without` are tags of converters, solar controllers, inverters or packs.
    """

    tag: Tag
    name: Annotated[Name, Meta(title="Name")]
    stands: Annotated[dict[str, str], Meta(max_length=8, title="Switches stand", description="bar by switch")] = field(
        default_factory=dict
    )
    without: Annotated[
        tuple[Tag, ...], Meta(max_length=60, title="Not there yet", description="tags of what comes later")
    ] = ()
    left: Annotated[Text, Meta(title="Then", description="what is left to change before the next")] = ""
