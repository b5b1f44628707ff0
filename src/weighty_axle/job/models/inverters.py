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
    Volts,
    Watts,
)


class OverloadPoint(Stated, frozen=True, array_like=True):
    """How long an inverter stands a load: [times its continuous rating, seconds until it switches off]."""

    times: Annotated[float, Meta(ge=1.001, le=10)]
    seconds: Annotated[float, Meta(ge=0.001, le=7200)]


class InverterSpec(Stated, frozen=True, kw_only=True):
    """One inverter-charger as its datasheet states it; `overload` holds typed points besides the surge, rising.

    `lines` is 2 for a unit that gives two legs with their neutral; `ac_v` is then the voltage across both. `sleep_w` is
    taken while it looks for loads (empty: it cannot), `off_w` while switched off. `opens_neutral`: its relay opens the
    neutral to the input while it inverts. `takes_in_phase`: stacked with others, it accepts a source that feeds both
    legs alike.
    """

    name: Name
    ac_v: Annotated[float, Meta(ge=12, le=1000)]
    lines: Annotated[int, Meta(ge=1, le=2)] = 1
    continuous_va: Annotated[float, Meta(ge=10, le=100_000)]
    full_to_c: Celsius
    derate_per_c: Annotated[float, Meta(ge=0, le=0.1)]
    surge_va: Annotated[float, Meta(ge=10, le=300_000)]
    surge_s: Annotated[float, Meta(ge=0.001, le=600)]
    overload: Annotated[tuple[OverloadPoint, ...], Meta(max_length=8)] = ()
    no_load_w: Annotated[float, Meta(ge=0.01, le=1000)]
    peak_efficiency: Efficiency
    full_load_efficiency: Efficiency
    dc_min_v: Volts
    dc_max_v: Volts
    charge_a: Amperes
    transfer_a: Amperes
    sleep_w: Annotated[float, Meta(ge=0, le=1000)] | None = None
    off_w: Annotated[float, Meta(ge=0, le=100)] = 0.5
    opens_neutral: bool = True
    takes_in_phase: bool = True
    mass_kg: Kilograms
    size: Size


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
    """A generator set: its label, and what height and heat take from it. Shares are of the rating."""

    rated_va: Annotated[float, Meta(ge=10, le=200_000)]
    power_factor: CountedShare = 1.0
    lost_per_300_m: Share = 0.035
    full_to_c: Annotated[float, Meta(ge=-20, le=60)] = 25.0
    lost_per_10_c: Share = 0.02
    continuous_share: CountedShare = 0.9


class Source(Stated, frozen=True, kw_only=True):
    """A place to plug in: a pedestal, socket or generator with its adapter.

    `volts` and `amps` are per line; `adapter_a` is the adapter's or lead's own rating where it is less. `bonded`: its
    neutral is tied to earth on its side. `loop_ohm` is the resistance out and back, line and neutral, as far as the
    inlet. `inlet` is empty where there is one only.
    """

    tag: Tag
    name: Name
    kind: Literal["shore", "generator"] = "shore"
    volts: Volts
    legs: Annotated[int, Meta(ge=1, le=3)]
    legs_in_phase: bool
    amps: Annotated[float, Meta(ge=0.1, le=400)]
    limit_a: Annotated[float, Meta(ge=0.1, le=400)]
    adapter_a: Current | None = None
    inlet: Text = ""
    bonded: bool = True
    rcd_ma: ResidualMilliamps = 0.0
    loop_ohm: Ohms = 0.3
    generator: Generator | None = None


class Inverter(Stated, frozen=True, kw_only=True):
    """One inverter in its place, on a line. `lead_m` is the measured one-way DC lead; empty: taken from the places.

    `bonds`: its relay ties the output's neutral to earth while it inverts. `reachable`: its own switch can be reached
    as built.
    """

    tag: Tag
    leg: Literal["L1", "L2", "L3", "AC", "L1+L2"]
    place: Place
    lead_m: Extent | None = None
    bonds: bool = False
    reachable: bool = True


class Inverters(Stated, frozen=True, kw_only=True):
    """All inverters (alike) and how they act together. `remote_switch`: one switch at hand turns all of them off."""

    spec: InverterSpec
    stacking: Stacking
    units: Annotated[tuple[Inverter, ...], Meta(min_length=1, max_length=12)]
    neutral_a: Current
    sources: Annotated[tuple[Source, ...], Meta(max_length=24)] = ()
    remote_switch: bool = False


class Inlet(Stated, frozen=True, kw_only=True):
    """An inlet in the vehicle's side; one lead at a time goes into it. `lines` as its pins have."""

    tag: Tag
    name: Name
    amps: Current
    lines: Annotated[int, Meta(ge=1, le=3)] = 2


class Panel(Stated, frozen=True, kw_only=True):
    """An AC panel and the feeder to it.

    `fed_from`: an inlet, a selector, another panel, one inverter, or INVERTERS (all of them). `line`: empty for all
    lines that come, or the one it takes. `bonded`: its neutral is tied to earth in it for good. `breaker_a` guards the
    feeder, `bus_a` is what the panel itself carries.
    """

    tag: Tag
    name: Name
    fed_from: Tag = FROM_INVERTERS
    line: Literal["", "L1", "L2", "L3"] = ""
    size: Name = "6 AWG"
    length_m: Extent = 2.0
    breaker_a: Current = 50.0
    bus_a: Current = 100.0
    rcd_ma: ResidualMilliamps = 0.0
    bonded: bool = False


class Circuit(Stated, frozen=True, kw_only=True):
    """A branch circuit with its breaker.

    Loads name the circuit they are on. `pinned`: its leg stays when legs are balanced.

    `shares_neutral` names the circuit whose neutral conductor it uses. `outlets`: it ends in socket outlets.
    """

    tag: Tag
    name: Name
    panel: Text = ""
    leg: CircuitLeg = "open"
    pinned: bool = False
    breaker_a: Current = 20.0
    poles: Annotated[int, Meta(ge=1, le=4)] = 1
    size: Name = "12 AWG"
    length_m: Extent = 5.0
    rcd_ma: ResidualMilliamps = 0.0
    outlets: bool = False
    shares_neutral: Text = ""


class Contact(Stated, frozen=True, array_like=True):
    """A closed contact between two terminals: [from, to]."""

    start: Annotated[str, Meta(min_length=3, max_length=24)]
    end: Annotated[str, Meta(min_length=3, max_length=24)]


class Position(Stated, frozen=True, kw_only=True):
    """One position of a selector: what it closes, and the stacking the inverters must be set to (empty: any)."""

    name: Name
    contacts: Annotated[tuple[Contact, ...], Meta(max_length=24)] = ()
    stacking: Stacking | None = None


class Selector(Stated, frozen=True, kw_only=True):
    """A change-over switch. `now` is the position it stands in.

    `switches_neutral`: neutrals follow the contacts, otherwise they are tied together. `interlocked`: the inverters
    cannot run set otherwise than its position asks for (an auxiliary contact or a key). `amps` is its rating.
    """

    tag: Tag
    name: Name
    positions: Annotated[tuple[Position, ...], Meta(min_length=1, max_length=6)]
    now: Name
    amps: Current = 63.0
    switches_neutral: bool = False
    interlocked: bool = False


class Storage(Stated, frozen=True, kw_only=True):
    """How the vehicle is put to sleep: the one switch, what stays alive behind it (tags of loads and items), and for
    how long.
    """

    switch: Annotated[str, Meta(max_length=80)] = ""
    alive: Annotated[tuple[Tag, ...], Meta(max_length=60)] = ()
    months: Annotated[float, Meta(ge=0.1, le=36)] = 4.0
    pack_w: Watts = 0.5
    controller_w: Watts = 0.6


class AcSide(Stated, frozen=True, kw_only=True):
    """Inlets, panels, circuits and selectors.

    Where none are stated the plainest wiring is meant: one inlet, the inverters, one panel.

    `inverters_fed_from`: the inlet, selector or panel at the inverters' AC input (empty: the first inlet).
    """

    inlets: Annotated[tuple[Inlet, ...], Meta(max_length=6)] = ()
    inverters_fed_from: Text = ""
    panels: Annotated[tuple[Panel, ...], Meta(max_length=24)] = ()
    circuits: Annotated[tuple[Circuit, ...], Meta(max_length=200)] = ()
    selectors: Annotated[tuple[Selector, ...], Meta(max_length=4)] = ()
    storage: Storage = Storage()


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
