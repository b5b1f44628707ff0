"""The DC wiring as stated: bars with their boards, DC panels, circuits and switches, what is fitted already, conductors
by their table, fuses by their kind.
"""

from typing import Annotated, Literal

from msgspec import Meta, field

from weighty_axle.job.models.bank import Bank
from weighty_axle.job.models.settings import FullCharge, SetPoint
from weighty_axle.job.stated import (
    Celsius,
    Clear,
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

AmpacityKey = Literal["enclosed_awg", "small_craft_awg", "small_craft_mm2"]


FuseKey = Literal["blade_32", "bolt_strip_32", "stud_block_58", "bolt_strip_80", "knife_blade_250", "fast_cylinder_125"]


InsulationClass = Literal[60, 70, 75, 90, 105]


StudSize = Literal["M4", "M5", "M6", "M8", "M10", "M12"]


StackPart = Literal["bar", "fuse", "lug", "washer", "spring_washer", "nut"]
"""What lies on a stud, named from the bar or terminal outwards."""


FittedKind = Literal["fuse", "breaker", "switch"]


VoltageClass = Literal[12, 24, 48]
"""Voltage class of a bar."""


Bearing = Annotated[float, Meta(ge=0.1, le=5000)]
"""A rated DC current [A]."""


class Precharge(Stated, frozen=True, kw_only=True):
    """How capacitors of inverters are filled before the main contact closes onto them.

    `kind`: a switch of two positions held by hand, or a relay that closes by itself. While it fills a standby load may
    start: `standby_w` from `standby_from_v` on.
    """

    kind: Annotated[Literal["switch", "automatic"], Meta(title="Closed by", description="hand, or by itself")] = (
        "switch"
    )
    resistor_ohm: Annotated[
        Annotated[float, Meta(ge=0.1, le=10_000)] | None, Meta(title="Resistor", description="empty: the computed one")
    ] = None
    held_s: Annotated[
        Annotated[float, Meta(ge=0.05, le=600)] | None,
        Meta(title="Held for", description="before the contact closes; empty: until 95 %"),
    ] = None
    pulse_j: Annotated[
        Annotated[float, Meta(ge=0.01, le=1_000_000)] | None,
        Meta(title="Resistor stands", description="energy of one pulse; empty: it does not say"),
    ] = None
    standby_w: Annotated[Watts, Meta(title="Standby while filling", description="of all units together")] = 0.0
    standby_from_v: Annotated[
        Volts | None, Meta(title="Standby starts at", description="empty: the inverters' lowest voltage")
    ] = None


class Board(Stated, frozen=True, kw_only=True):
    """A DC distribution board with its bus bars: where every lead of a bar meets.

    `rated_a`, `main_switch_a` and `shunt_a` are what is on them where chosen already; `spare` ways are kept free of the
    `ways` there are.
    """

    tag: Tag
    name: Annotated[Name, Meta(title="Name")] = "DC board"
    place: Annotated[Place, Meta(title="Place")]
    size: Annotated[Size, Meta(title="Outer size")]
    mass_kg: Annotated[Kilograms, Meta(title="Mass")]
    rated_a: Annotated[Bearing | None, Meta(title="Bars carry", description="empty: not chosen yet")] = None
    ways: Annotated[
        Annotated[int, Meta(ge=1, le=100)] | None,
        Meta(title="Fused ways", description="the board has; empty: as many as it takes"),
    ] = None
    spare: Annotated[int, Meta(ge=0, le=50, title="Ways kept spare", description="for what comes later")] = 0
    main_switch_a: Annotated[Bearing | None, Meta(title="Main switch", description="empty: not chosen yet")] = None
    precharge: Annotated[bool, Meta(title="Pre-charge", description="a way to fill the inverters' capacitors")] = False
    precharging: Annotated[Precharge, Meta(title="Pre-charge, how")] = Precharge()
    shunt_a: Annotated[Bearing | None, Meta(title="Shunt", description="empty: none yet")] = None
    turn_deg: Annotated[Turn, Meta(title="Turned", description="seen from above, against the clock")] = 0
    clear: Annotated[Clear, Meta(title="Room kept", description="free at its faces")] = Clear()


class Bar(Board, frozen=True, kw_only=True):
    """A DC bar beside the house bar: the vehicle's own, one of another voltage, a second system.

    `bank` hangs on it where it has one of its own; without, converters feed it.
    """

    volts: Annotated[VoltageClass, Meta(title="Voltage class")]
    bank: Annotated[Bank | None, Meta(title="Bank", description="of this bar; empty: converters feed it")] = None
    full_charge: Annotated[FullCharge, Meta(title="Full charge")] = "gentle"
    own_values: Annotated[dict[str, SetPoint], Meta(title="Own set points", description="by key")] = field(
        default_factory=dict
    )
    charge_limit_a: Annotated[
        Bearing | None, Meta(title="Limit over all charging", description="empty: the computed one")
    ] = None


class DcPanel(Stated, frozen=True, kw_only=True):
    """A panel of fused DC ways on one feeder. `bar` is empty for the house bar."""

    tag: Tag
    name: Annotated[Name, Meta(title="Name")]
    bar: Annotated[Text, Meta(title="Bar", description="it hangs on; empty: the house bar")] = ""
    block_a: Annotated[Bearing, Meta(title="Block carries", description="rating of the panel itself")] = 100.0
    ways: Annotated[int, Meta(ge=1, le=100, title="Ways")] = 12
    spare: Annotated[int, Meta(ge=0, le=50, title="Ways kept spare", description="for what comes later")] = 0
    cut_off_v: Annotated[
        Volts | None,
        Meta(title="Cut off below", description="by a low-voltage disconnect before it; empty: there is none"),
    ] = None
    fuse_a: Annotated[Bearing, Meta(title="Feeder fuse")] = 60.0
    size: Annotated[Name, Meta(title="Feeder", description="conductor")] = "6 AWG"
    length_m: Annotated[
        Extent | None, Meta(title="Feeder length", description="measured, one way; empty: along the ways, or 3 m")
    ] = None
    place: Annotated[Place | None, Meta(title="Place", description="empty: not placed")] = None


class DcCircuit(Stated, frozen=True, kw_only=True):
    """A fused DC way with its wire; loads name it. In a panel, or straight on a bar where `panel` is empty."""

    tag: Tag
    name: Annotated[Name, Meta(title="Name")]
    panel: Annotated[Text, Meta(title="Panel", description="empty: straight on the bar")] = ""
    bar: Annotated[Text, Meta(title="Bar", description="where it is in no panel; empty: the house bar")] = ""
    fuse_a: Annotated[Bearing, Meta(title="Fuse")] = 15.0
    size: Annotated[Name, Meta(title="Conductor")] = "14 AWG"
    length_m: Annotated[
        Extent | None, Meta(title="Length", description="measured, one way; empty: to its outlets, or 5 m")
    ] = None
    switch: Annotated[Text, Meta(title="Switch", description="what turns it on, where anything does")] = ""
    relay_a: Annotated[
        Bearing | None, Meta(title="Relay", description="rating of a relay that switches it; empty: there is none")
    ] = None


class DcSwitch(Stated, frozen=True, kw_only=True):
    """An either-or switch: a panel or bar hangs on one of several bars, never on two. `now` is where it stands."""

    tag: Tag
    name: Annotated[Name, Meta(title="Name")]
    feeds: Annotated[Tag, Meta(title="Feeds", description="a DC panel")]
    bars: Annotated[
        tuple[Tag, ...], Meta(min_length=2, max_length=4, title="Bars", description="it chooses from, by tag")
    ]
    now: Annotated[Tag, Meta(title="Stands at", description="one of these bars")]
    amps: Annotated[Bearing, Meta(title="Rating")] = 100.0


class DcSide(Stated, frozen=True, kw_only=True):
    """DC panels, their circuits, and switches between bars. Nothing stated: every load has a fused way of its own."""

    panels: Annotated[tuple[DcPanel, ...], Meta(max_length=24, title="DC panels")] = ()
    circuits: Annotated[tuple[DcCircuit, ...], Meta(max_length=200, title="DC circuits")] = ()
    switches: Annotated[tuple[DcSwitch, ...], Meta(max_length=8, title="DC switches")] = ()


class CurvePoint(Stated, frozen=True, array_like=True):
    """A point of a fuse's curve: [times its rating, seconds until it opens]."""

    times: Annotated[float, Meta(ge=1.0, le=100, title="Times the rating")]
    seconds: Annotated[float, Meta(ge=0.0001, le=360_000, title="Opens after, s")]


class Fitted(Stated, frozen=True, kw_only=True):
    """A fuse, breaker or switch the installer has chosen or found: it is judged in place of the computed one.

    `run` is the tag of the run, circuit, feeder or solar string it is in; `dc_v` the DC voltage it may break,
    `breaks_a` the current it may interrupt.
    """

    tag: Tag
    name: Annotated[Name, Meta(title="Name")]
    run: Annotated[
        str, Meta(min_length=1, max_length=24, title="In", description="tag of the run, circuit or string, as W-MAIN")
    ]
    kind: Annotated[FittedKind, Meta(title="Kind")] = "fuse"
    amps: Annotated[Bearing, Meta(title="Rating")]
    dc_v: Annotated[Volts | None, Meta(title="Breaks up to", description="DC; empty: it does not say")] = None
    breaks_a: Annotated[
        Annotated[float, Meta(ge=1, le=500_000)] | None,
        Meta(title="Interrupts", description="breaking capacity; empty: it does not say"),
    ] = None
    curve: Annotated[
        tuple[CurvePoint, ...],
        Meta(max_length=16, title="Curve", description="typed points, rising; empty: usual of its kind"),
    ] = ()


SignalKind = Literal[
    "temperature",
    "sense",
    "shunt_supply",
    "shunt_data",
    "pack_data",
    "bank_data",
    "stacking",
    "remote",
    "video",
    "usb",
    "probe",
    "relay",
    "sender",
]


class Signal(Stated, frozen=True, kw_only=True):
    """A signal or sense lead that is stated: beside those that follow from the parts, or in the place of one of these
    with the same kind and ends.

    `own_supply`: a USB screen has a supply of its own and does not hang on its lead.
    """

    tag: Tag
    name: Annotated[Name, Meta(title="Name")]
    kind: Annotated[SignalKind, Meta(title="Kind")] = "probe"
    start: Annotated[Tag, Meta(title="From", description="a thing with a place, by tag")]
    end: Annotated[Tag, Meta(title="To", description="a thing with a place, or an outlet, by tag")]
    measured_m: Annotated[Extent | None, Meta(title="Measured", description="length; empty: along the ways")] = None
    fuse_a: Annotated[
        Annotated[float, Meta(ge=0.1, le=30)] | None,
        Meta(title="Fuse", description="at its source; empty: as usual for its kind"),
    ] = None
    fused: Annotated[bool, Meta(title="Fused", description="it has the fuse its kind wants, at its source")] = True
    own_supply: Annotated[bool, Meta(title="Own supply", description="the screen does not hang on its USB lead")] = (
        False
    )


class FoundStack(Stated, frozen=True, kw_only=True):
    """How the parts lie on a stud as somebody found them: from the bar or the terminal's face outwards.

    `way` is the tag of a run, panel or circuit, `end` which of its ends.
    """

    tag: Tag
    way: Annotated[str, Meta(min_length=1, max_length=24, title="Way", description="its tag, as W-INV1")]
    end: Annotated[Literal["start", "end"], Meta(title="End", description="where its current comes from, or goes")] = (
        "start"
    )
    order: Annotated[
        tuple[StackPart, ...],
        Meta(min_length=1, max_length=16, title="Lies in order", description="from the bar or terminal outwards"),
    ]


class Abreast(Stated, frozen=True, kw_only=True):
    """Conductors of one run side by side as they were cut: the length of each, both poles alike."""

    run: Annotated[str, Meta(min_length=1, max_length=24, title="Run", description="its tag, as W-MAIN")]
    lengths_m: Annotated[
        tuple[Extent, ...], Meta(min_length=2, max_length=4, title="Lengths", description="one for each conductor, m")
    ]


class Wiring(Stated, frozen=True, kw_only=True):
    """Choices for the main DC runs. `conductors` holds the installer's own choice of size by run tag.

    `runs_together` is how many two-wire runs lie in one conduit or bundle; `terminals_c` is what the units' terminals
    are made for (empty: as usual).
    """

    board: Annotated[Board, Meta(title="DC board")]
    main_lead_m: Annotated[
        Extent | None, Meta(title="Main lead", description="bank to board, one way; empty: taken from the places")
    ] = None
    ampacity_table: Annotated[AmpacityKey, Meta(title="Ampacity table")]
    insulation_c: Annotated[InsulationClass, Meta(title="Insulation", description="temperature class")]
    ambient_c: Annotated[Celsius, Meta(title="Air around cables")]
    runs_together: Annotated[
        int, Meta(ge=1, le=16, title="Runs together", description="two-wire runs in one conduit or bundle")
    ] = 1
    terminals_c: Annotated[
        InsulationClass | None, Meta(title="Terminals", description="temperature they are made for; empty: as usual")
    ] = None
    main_fuse: Annotated[FuseKey, Meta(title="Main fuse", description="kind")]
    branch_fuse: Annotated[FuseKey, Meta(title="Branch fuses", description="kind")]
    drop_allowed: Annotated[
        float, Meta(ge=0.001, le=0.2, title="Drop allowed", description="share of the nominal voltage")
    ]
    converter_efficiency: Annotated[
        Efficiency, Meta(title="Converters", description="efficiency where a load hangs behind one")
    ]
    conductors: Annotated[
        dict[str, Name], Meta(title="Own conductors", description="size chosen by the installer, by run")
    ] = field(default_factory=dict)
    abreast: Annotated[
        tuple[Abreast, ...], Meta(max_length=24, title="Cut unalike", description="conductors side by side, as cut")
    ] = ()
    chassis_at: Annotated[
        Text, Meta(title="DC negative meets the chassis", description="at the one place; empty: not said")
    ] = ""
    chassis_size: Annotated[
        Name | None, Meta(title="Its conductor", description="as found or chosen; empty: the computed one")
    ] = None
    studs: Annotated[
        dict[str, StudSize],
        Meta(max_length=400, title="Own studs", description="by way and end, as 'W-INV1 end'; else as usual"),
    ] = field(default_factory=dict)
