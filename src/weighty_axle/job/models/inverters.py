"""The AC side as stated: where it plugs in, inverters and how they act together, panels, circuits, selectors, storage.

Conductors are named by their line: L1, L2, L3 where there are several, AC where there is one. A terminal is a thing's
tag and a line (`IN1.L1`, `MAIN.L2`); an inverter of one line has `INV1.in` and `INV1.out`, one of two lines
`INV1.in.L1` and so on.
"""

from typing import Annotated, Literal

from msgspec import Meta

from weighty_axle.job.stated import (
    Amperes,
    Celsius,
    Clear,
    CountedShare,
    Efficiency,
    Extent,
    Kilograms,
    Name,
    Ohms,
    Place,
    Share,
    Size,
    Stated,
    Tag,
    Text,
    Turn,
    Volts,
    Watts,
)


class OverloadPoint(Stated, frozen=True, array_like=True):
    """How long an inverter stands a load: [times its continuous rating, seconds until it switches off]."""

    times: Annotated[float, Meta(ge=1.001, le=10, title="Times the rating", description="continuous")]
    seconds: Annotated[float, Meta(ge=0.001, le=7200, title="Seconds", description="until it switches off")]


class InverterSpec(Stated, frozen=True, kw_only=True):
    """One inverter-charger as its datasheet states it; `overload` holds typed points besides the surge, rising.

    `lines` is 2 for a unit that gives two legs with their neutral; `ac_v` is then the voltage across both. `sleep_w` is
    taken while it looks for loads (empty: it cannot), `off_w` while switched off. `opens_neutral`: its relay opens the
    neutral to the input while it inverts. `takes_in_phase`: stacked with others, it accepts a source that feeds both
    legs alike.
    """

    name: Annotated[Name, Meta(title="Type", description="as the job calls it")]
    ac_v: Annotated[float, Meta(ge=12, le=1000, title="AC voltage", description="across both legs for a unit of two")]
    lines: Annotated[
        int, Meta(ge=1, le=2, title="Lines", description="2: one unit gives two legs with their neutral")
    ] = 1
    continuous_va: Annotated[
        float, Meta(ge=10, le=100000, title="Continuous", description="at the temperature beside it")
    ]
    full_to_c: Annotated[Celsius, Meta(title="Full up to", description="warmest air with the whole rating")]
    derate_per_c: Annotated[float, Meta(ge=0, le=0.1, title="Less per degree", description="above that")]
    surge_va: Annotated[float, Meta(ge=10, le=300000, title="Surge", description="for the time beside it")]
    surge_s: Annotated[float, Meta(ge=0.001, le=600, title="Surge lasts")]
    overload: Annotated[
        tuple[OverloadPoint, ...],
        Meta(max_length=8, title="Overload points", description="beside the surge, rising in load"),
    ] = ()
    no_load_w: Annotated[float, Meta(ge=0.01, le=1000, title="Own draw", description="switched on without load")]
    peak_efficiency: Annotated[Efficiency, Meta(title="Efficiency, best")]
    full_load_efficiency: Annotated[Efficiency, Meta(title="Efficiency, full load")]
    dc_min_v: Annotated[Volts, Meta(title="DC, lowest", description="it works from here")]
    dc_max_v: Annotated[Volts, Meta(title="DC, highest", description="and up to here")]
    input_uf: Annotated[
        Annotated[float, Meta(ge=10, le=2_000_000)] | None,
        Meta(title="Capacitors at its input", description="of one unit; empty: typical of its rating"),
    ] = None
    charge_a: Annotated[Amperes, Meta(title="Charger", description="DC current of one unit; 0: no charger")]
    charge_power_factor: Annotated[
        CountedShare, Meta(title="Charger's power factor", description="of what it takes on AC")
    ] = 1.0
    transfer_a: Annotated[Amperes, Meta(title="Pass-through", description="AC current it lets through")]
    sleep_w: Annotated[
        Annotated[float, Meta(ge=0, le=1000)] | None,
        Meta(title="Draw while looking", description="for loads; empty: it cannot"),
    ] = None
    off_w: Annotated[float, Meta(ge=0, le=100, title="Draw switched off")] = 0.5
    opens_neutral: Annotated[bool, Meta(title="Opens the neutral", description="to the input while it inverts")] = True
    takes_in_phase: Annotated[
        bool, Meta(title="Takes legs in phase", description="stacked, from a source whose legs are alike")
    ] = True
    mass_kg: Annotated[Kilograms, Meta(title="Mass", description="of one")]
    size: Annotated[Size, Meta(title="Outer size", description="with the room its cooling needs")]
    solar_inputs: Annotated[int, Meta(ge=0, le=8, title="Solar inputs", description="it has of its own; 0: none")] = 0
    solar_charge_a: Annotated[
        Annotated[float, Meta(ge=0.1, le=1000)] | None,
        Meta(title="Solar charge, all inputs", description="DC current they share; empty: no common limit"),
    ] = None
    solar_w: Annotated[
        Annotated[float, Meta(ge=1, le=100_000)] | None,
        Meta(title="Solar power, all inputs", description="they share; empty: no common limit"),
    ] = None
    dc_charge_a: Annotated[
        Annotated[float, Meta(ge=0.1, le=2000)] | None,
        Meta(title="DC charge, all together", description="solar and AC charger share; empty: they add"),
    ] = None

    @property
    def charge_share(self) -> float:
        """What its charger puts into the bank of the apparent power it takes: efficiency times power factor."""
        return self.peak_efficiency * self.charge_power_factor

    clear: Annotated[Clear, Meta(title="Room kept", description="free at its faces")] = Clear()


Stacking = Literal["single", "parallel", "split_phase", "legs_in_phase", "one_two_legs", "independent", "three_phase"]


Line = Literal["L1", "L2", "L3", "AC"]


CircuitLeg = Literal["open", "L1", "L2", "L3", "L1+L2", "L1+L2+L3"]


LINES: dict[Stacking, tuple[Line, ...]] = {
    "single": ("AC",),
    "parallel": ("AC",),
    "split_phase": ("L1", "L2"),
    "legs_in_phase": ("L1", "L2"),
    "one_two_legs": ("L1", "L2"),
    "independent": ("L1", "L2"),
    "three_phase": ("L1", "L2", "L3"),
}
"""Lines a stacking gives."""


BETWEEN_LINES: tuple[Stacking, ...] = ("split_phase", "one_two_legs", "three_phase")
"""Stackings with a useful voltage between two lines."""


FROM_INVERTERS = "INVERTERS"
"""What a panel is fed from when all inverters together feed it."""


IMPLIED_INLET, IMPLIED_PANEL = "INLET", "MAIN"
"""Tags of the one inlet and one panel that are meant where none are stated."""


Current = Annotated[float, Meta(ge=0.1, le=800)]


ResidualMilliamps = Annotated[float, Meta(ge=0, le=1000)]
"""Rated residual current of an RCD [mA]; 0: there is none."""


class Generator(Stated, frozen=True, kw_only=True):
    """A generator set: its label, what height and heat take from it, what it burns, and when it runs by itself.

    Shares are of the rating, those of charge of the bank's usable energy.
    """

    rated_va: Annotated[float, Meta(ge=10, le=200000, title="Rating", description="on its label")]
    power_factor: Annotated[CountedShare, Meta(title="Power factor", description="of its rating")] = 1.0
    lost_per_300_m: Annotated[Share, Meta(title="Lost per 300 m", description="of height")] = 0.035
    full_to_c: Annotated[float, Meta(ge=-20, le=60, title="Full up to", description="air temperature")] = 25.0
    lost_per_10_c: Annotated[Share, Meta(title="Lost per 10 degrees", description="above that")] = 0.02
    continuous_share: Annotated[CountedShare, Meta(title="For hours", description="share of the rating")] = 0.9
    full_l_per_h: Annotated[
        Annotated[float, Meta(ge=0.05, le=200)] | None,
        Meta(title="Fuel at full load", description="empty: typical of its rating"),
    ] = None
    half_l_per_h: Annotated[
        Annotated[float, Meta(ge=0.02, le=200)] | None,
        Meta(title="Fuel at half load", description="empty: typical of its rating"),
    ] = None
    start_below: Annotated[Share, Meta(title="Starts below", description="charge of the bank")] = 0.3
    stop_above: Annotated[Share, Meta(title="Stops above", description="charge of the bank")] = 0.8
    start_load_w: Annotated[
        Annotated[float, Meta(ge=1, le=1_000_000)] | None,
        Meta(title="Starts above", description="AC load; empty: by charge only"),
    ] = None
    quiet_from_h: Annotated[float, Meta(ge=0, le=24, title="Quiet from", description="hour of the day")] = 22.0
    bond_seen: Annotated[
        bool, Meta(title="Bond looked at", description="somebody has seen whether neutral and frame are tied in it")
    ] = False
    quiet_to_h: Annotated[float, Meta(ge=0, le=24, title="Quiet to", description="hour of the day")] = 8.0


class Source(Stated, frozen=True, kw_only=True):
    """A place to plug in: a pedestal, socket or generator with its adapter.

    `volts` and `amps` are per line; `adapter_a` is the adapter's or lead's own rating where it is less. `bonded`: its
    neutral is tied to earth on its side. `loop_ohm` is the resistance out and back, line and neutral, as far as the
    inlet. `inlet` is empty where there is one only.
    """

    tag: Tag
    name: Annotated[Name, Meta(title="Name")]
    kind: Annotated[Literal["shore", "generator"], Meta(title="Kind")] = "shore"
    volts: Annotated[Volts, Meta(title="Voltage", description="of a line")]
    legs: Annotated[int, Meta(ge=1, le=3, title="Lines")]
    legs_in_phase: Annotated[bool, Meta(title="Lines in phase", description="no voltage between them")]
    amps: Annotated[float, Meta(ge=0.1, le=400, title="Rating", description="of each line")]
    limit_a: Annotated[float, Meta(ge=0.1, le=400, title="Limit", description="set for it in the inverters")]
    adapter_a: Annotated[
        Current | None, Meta(title="Adapter", description="rating of adapter or lead where it is less")
    ] = None
    inlet: Annotated[Text, Meta(title="Inlet", description="it goes into; empty: the only one")] = ""
    bonded: Annotated[bool, Meta(title="Neutral bonded", description="to earth on its side")] = True
    rcd_ma: Annotated[ResidualMilliamps, Meta(title="Residual current device", description="0: there is none")] = 0.0
    loop_ohm: Annotated[Ohms, Meta(title="Loop resistance", description="line and neutral as far as the inlet")] = 0.3
    generator: Annotated[Generator | None, Meta(title="Generator set", description="where it is one")] = None


class Inverter(Stated, frozen=True, kw_only=True):
    """One inverter in its place, on a line. `lead_m` is the measured one-way DC lead; empty: taken from the places.

    `bonds`: its relay ties the output's neutral to earth while it inverts. `reachable`: its own switch can be reached
    as built.
    """

    tag: Tag
    leg: Annotated[Literal["L1", "L2", "L3", "AC", "L1+L2"], Meta(title="Line")]
    place: Annotated[Place, Meta(title="Place")]
    lead_m: Annotated[
        Extent | None, Meta(title="DC lead", description="measured, one way; empty: taken from the places")
    ] = None
    bonds: Annotated[
        bool, Meta(title="Bonds the neutral", description="its relay ties neutral to earth while it inverts")
    ] = False
    reachable: Annotated[bool, Meta(title="Switch can be reached", description="as built")] = True
    turn_deg: Annotated[Turn, Meta(title="Turned", description="seen from above, against the clock")] = 0


class Inverters(Stated, frozen=True, kw_only=True):
    """Inverters of one type and how they act together; none where the bar feeds DC only.

    `remote_switch`: one switch at hand turns all of them off."""

    spec: Annotated[InverterSpec, Meta(title="Datasheet")]
    stacking: Annotated[Stacking, Meta(title="Act together")]
    units: Annotated[tuple[Inverter, ...], Meta(max_length=12, title="Units")]
    neutral_a: Annotated[Current, Meta(title="Neutral rated", description="conductor of the panel's neutral")]
    sources: Annotated[tuple[Source, ...], Meta(max_length=24, title="Places to plug in")] = ()
    remote_switch: Annotated[
        bool, Meta(title="Remote switch", description="one switch at hand turns all of them off")
    ] = False


class Inlet(Stated, frozen=True, kw_only=True):
    """An inlet in the vehicle's side; one cord at a time goes into it. `lines` as its pins have. `cord_m` and
    `cord_size` as the cord is; empty: a usual length, the size its rating asks for.
    """

    tag: Tag
    name: Annotated[Name, Meta(title="Name")]
    amps: Annotated[Current, Meta(title="Rating", description="of its pins")]
    lines: Annotated[int, Meta(ge=1, le=3, title="Lines", description="as its pins have")] = 2
    cord_m: Annotated[Extent | None, Meta(title="Cord", description="its length; empty: a usual one")] = None
    cord_size: Annotated[Name | None, Meta(title="Its conductors", description="as found; empty: computed")] = None


class Panel(Stated, frozen=True, kw_only=True):
    """An AC panel and the feeder to it.

    `fed_from`: an inlet, a selector, another panel, one inverter, or INVERTERS (all of them). `line`: empty for all
    lines that come, or the one it takes. `bonded`: its neutral is tied to earth in it for good. `breaker_a` guards the
    feeder, `bus_a` is what the panel itself carries.
    """

    tag: Tag
    name: Annotated[Name, Meta(title="Name")]
    fed_from: Annotated[
        Tag, Meta(title="Fed from", description="an inlet, selector, panel, one inverter, or all of them")
    ] = FROM_INVERTERS
    line: Annotated[Literal["", "L1", "L2", "L3"], Meta(title="Line", description="empty: all that come")] = ""
    size: Annotated[Name, Meta(title="Feeder", description="conductor")] = "6 AWG"
    length_m: Annotated[
        Extent | None, Meta(title="Feeder length", description="measured, one way; empty: along the ways, or 2 m")
    ] = None
    place: Annotated[Place | None, Meta(title="Place", description="empty: not placed")] = None
    breaker_a: Annotated[Current, Meta(title="Breaker", description="of the feeder")] = 50.0
    bus_a: Annotated[Current, Meta(title="Bars", description="what the panel itself carries")] = 100.0
    rcd_ma: Annotated[ResidualMilliamps, Meta(title="Residual current device", description="0: there is none")] = 0.0
    bonded: Annotated[bool, Meta(title="Neutral bonded here", description="to earth, for good")] = False


class Circuit(Stated, frozen=True, kw_only=True):
    """A branch circuit with its breaker.

    Loads name the circuit they are on. `pinned`: its leg stays when legs are balanced.

    `shares_neutral` names the circuit whose neutral conductor it uses. `outlets`: it ends in socket outlets.
    """

    tag: Tag
    name: Annotated[Name, Meta(title="Name")]
    panel: Annotated[Text, Meta(title="Panel", description="empty: the first behind the inverters")] = ""
    leg: Annotated[CircuitLeg, Meta(title="Leg")] = "open"
    pinned: Annotated[bool, Meta(title="Pinned", description="its leg stays when legs are balanced")] = False
    breaker_a: Annotated[Current, Meta(title="Breaker")] = 20.0
    poles: Annotated[int, Meta(ge=1, le=4, title="Poles")] = 1
    size: Annotated[Name, Meta(title="Conductor")] = "12 AWG"
    length_m: Annotated[
        Extent | None, Meta(title="Length", description="measured, one way; empty: to its outlets, or 5 m")
    ] = None
    rcd_ma: Annotated[ResidualMilliamps, Meta(title="Residual current device", description="0: there is none")] = 0.0
    outlets: Annotated[bool, Meta(title="Socket outlets", description="it ends in")] = False
    shares_neutral: Annotated[
        Text, Meta(title="Shares the neutral of", description="another circuit; empty: it has its own")
    ] = ""


class Contact(Stated, frozen=True, array_like=True):
    """A closed contact between two terminals: [from, to]."""

    start: Annotated[str, Meta(min_length=3, max_length=24, title="From", description="a terminal such as IN1.L1")]
    end: Annotated[str, Meta(min_length=3, max_length=24, title="To", description="a terminal such as INV1.in")]


class Position(Stated, frozen=True, kw_only=True):
    """One position of a selector: what it closes, and the stacking the inverters must be set to (empty: any)."""

    name: Annotated[Name, Meta(title="Name")]
    contacts: Annotated[
        tuple[Contact, ...], Meta(max_length=24, title="Contacts", description="closed in this position")
    ] = ()
    stacking: Annotated[Stacking | None, Meta(title="Inverters set", description="empty: any way")] = None


class Selector(Stated, frozen=True, kw_only=True):
    """A change-over switch. `now` is the position it stands in.

    `switches_neutral`: neutrals follow the contacts, otherwise they are tied together. `interlocked`: the inverters
    cannot run set otherwise than its position asks for (an auxiliary contact or a key). `amps` is its rating.
    """

    tag: Tag
    name: Annotated[Name, Meta(title="Name")]
    positions: Annotated[tuple[Position, ...], Meta(min_length=1, max_length=6, title="Positions")]
    now: Annotated[Name, Meta(title="Stands at")]
    amps: Annotated[Current, Meta(title="Rating")] = 63.0
    switches_neutral: Annotated[bool, Meta(title="Switches neutrals", description="they follow the contacts")] = False
    interlocked: Annotated[bool, Meta(title="Interlocked", description="inverters cannot run set otherwise")] = False


class Storage(Stated, frozen=True, kw_only=True):
    """How the vehicle is put to sleep: the one switch, what stays alive behind it (tags of loads and items), and for
    how long.
    """

    switch: Annotated[
        str, Meta(max_length=80, title="Storage switch", description="the one that puts the vehicle to sleep")
    ] = ""
    alive: Annotated[
        tuple[Tag, ...], Meta(max_length=60, title="Stays alive", description="tags of what the switch leaves on")
    ] = ()
    months: Annotated[float, Meta(ge=0.1, le=36, title="Stored for")] = 4.0
    pack_w: Annotated[Watts, Meta(title="Draw of a pack", description="its own electronics")] = 0.5
    controller_w: Annotated[Watts, Meta(title="Draw of a controller", description="at night")] = 0.6


class AcSide(Stated, frozen=True, kw_only=True):
    """Inlets, panels, circuits and selectors.

    Where none are stated the plainest wiring is meant: one inlet, the inverters, one panel.

    `inverters_fed_from`: the inlet, selector or panel at the inverters' AC input (empty: the first inlet).
    `second_input`: the inlet at a second input, which the inverters take while nothing comes in at the first.
    """

    inlets: Annotated[tuple[Inlet, ...], Meta(max_length=6, title="Inlets")] = ()
    inverters_fed_from: Annotated[
        Text, Meta(title="Inverters fed from", description="inlet, selector or panel; empty: the first inlet")
    ] = ""
    second_input: Annotated[
        Text, Meta(title="Second AC input", description="inlet of a unit with two: taken while the first is dead")
    ] = ""
    panels: Annotated[tuple[Panel, ...], Meta(max_length=24, title="AC panels")] = ()
    circuits: Annotated[tuple[Circuit, ...], Meta(max_length=200, title="AC circuits")] = ()
    selectors: Annotated[tuple[Selector, ...], Meta(max_length=4, title="Selectors")] = ()
    storage: Annotated[Storage, Meta(title="Storage")] = Storage()


class Group(Stated, frozen=True, kw_only=True):
    """Inverters beside the first ones that act by themselves: their own type, inlets, panels and selectors.

    `bar` is empty for the house bar.
    """

    tag: Tag
    name: Annotated[Name, Meta(title="Name")]
    bar: Annotated[Text, Meta(title="Bar", description="its inverters hang on; empty: the house bar")] = ""
    inverters: Annotated[Inverters, Meta(title="Inverters")]
    ac: Annotated[AcSide, Meta(title="AC side")]


def units_on(inverters: Inverters, line: str) -> tuple[Inverter, ...]:
    """Inverters that feed a line: all of them on the one line, or where each has both legs."""
    if line == "AC" or inverters.stacking == "one_two_legs":
        return inverters.units
    return tuple(unit for unit in inverters.units if unit.leg == line)


def panel_lines(ac: AcSide, inverters: Inverters) -> dict[str, tuple[str, ...]]:
    """Lines that can ever reach each panel, L1 standing for the one line: a circuit on any other is dead."""
    lines = tuple("L1" if line == "AC" else line for line in LINES[inverters.stacking])
    panels = {panel.tag: panel for panel in ac.panels}
    pins = {inlet.tag: ("L1", "L2", "L3")[: inlet.lines] for inlet in ac.inlets}
    legs = {unit.tag: ("L1",) if unit.leg == "AC" else tuple(unit.leg.split("+")) for unit in inverters.units}
    switched: dict[str, set[str]] = {}
    for selector in ac.selectors:
        for contact in (contact for position in selector.positions for contact in position.contacts):
            for end in (contact.start, contact.end):
                switched.setdefault(f"{selector.tag} {end.split('.')[0]}", set()).add(end.rpartition(".")[2])

    def reach(tag: str, depth: int = 0) -> tuple[str, ...]:
        panel = panels[tag]
        feed = panel.fed_from
        if feed in panels:
            coming = reach(feed, depth + 1) if depth <= len(panels) else ()
        elif any(selector.tag == feed for selector in ac.selectors):
            coming = tuple(switched.get(f"{feed} {tag}", ()))
        else:
            coming = pins.get(feed) or legs.get(feed) or lines
        return tuple(line for line in lines if line in coming and panel.line in ("", line))

    return {tag: reach(tag) for tag in panels} or {IMPLIED_PANEL: lines}


def voltage_words(inverters: Inverters, stacking: Stacking | None = None) -> str:
    """Voltages of the AC side as people name them, as the inverters are stacked or would be: 120/240 V, 230/400 V, 230
    V.
    """
    volts, chosen = line_v(inverters), stacking or inverters.stacking
    if chosen in BETWEEN_LINES:
        across = volts * (2 if len(LINES[chosen]) == 2 else 3**0.5)
        return f"{volts:.0f}/{400 if abs(across - 400) < 5 else across:.0f} V"
    return f"{volts:.0f} V"


def line_v(inverters: Inverters) -> float:
    """Voltage of a line against its neutral [V]; a unit of two legs is named by the voltage across both."""
    return inverters.spec.ac_v / inverters.spec.lines


def voltage_fits(volts: float, inverters: Inverters) -> bool:
    """Whether a line voltage is near enough to the inverters' for them to let it through.

    Source: common practice, no source (15 %).
    """
    return abs(volts / line_v(inverters) - 1) <= 0.15
