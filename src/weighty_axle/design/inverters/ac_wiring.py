"""The AC wiring as a graph of terminals: what is joined for good, and what each selector and relay may join."""

from __future__ import annotations

from collections.abc import Iterator

from msgspec import Struct
from msgspec.structs import replace

from weighty_axle.job.models.brief import Load
from weighty_axle.job.models.inverters import (
    FROM_INVERTERS,
    IMPLIED_INLET,
    IMPLIED_PANEL,
    LINES,
    AcSide,
    Circuit,
    Contact,
    Inlet,
    Inverter,
    Inverters,
    Panel,
    Selector,
    panel_lines,
)
from weighty_axle.job.models.parts import Practice

IMPLIED_FEEDER: dict[Practice, str] = {"north_american": "6 AWG", "international": "10 mm2"}
"""Feeder of a panel that is not stated, for its breaker of 50 A. Source: reference/ac_conductors.json."""
IMPLIED_WIRE: dict[Practice, str] = {"north_american": "12 AWG", "international": "2.5 mm2"}
"""Conductor of a circuit that is not stated, for its breaker of 20 A. Source: reference/ac_conductors.json."""


class LiveCircuit(Struct, frozen=True, kw_only=True):
    """A circuit with the lines it is on.

    A load that names no circuit makes one of its own (`stated` is false), in the first panel behind the inverters.
    """

    tag: str
    name: str
    panel: str
    lines: tuple[str, ...]
    loads: tuple[str, ...]
    circuit: Circuit
    stated: bool
    feeds_back: bool


class AcWiring(Struct, frozen=True, kw_only=True):
    """Inlets, panels and selectors in force, and the joints that never change.

    `lines` are the system's, L1 standing for the one line.
    """

    inlets: tuple[Inlet, ...]
    panels: tuple[Panel, ...]
    selectors: tuple[Selector, ...]
    units: tuple[Inverter, ...]
    fed_from: str
    second_input: str
    lines: tuple[str, ...]
    joints: tuple[Contact, ...]

    @property
    def before(self) -> tuple[str, ...]:
        """Tags of panels that are live only when plugged in: no inverter feeds them."""
        return tuple(panel.tag for panel in self.panels if not self._behind(panel.tag))

    def _behind(self, tag: str, depth: int = 0) -> bool:
        panel = next((one for one in self.panels if one.tag == tag), None)
        if panel is None or depth > len(self.panels):
            return False
        feeds = self.feeders(panel)
        return any(
            feed == FROM_INVERTERS or any(unit.tag == feed for unit in self.units) or self._behind(feed, depth + 1)
            for feed in feeds
        )

    def feeders(self, panel: Panel) -> tuple[str, ...]:
        """What a panel may be fed from: its feeder, or the things a selector can put on it."""
        selector = next((one for one in self.selectors if one.tag == panel.fed_from), None)
        if selector is None:
            return (panel.fed_from,)
        contacts = (contact for position in selector.positions for contact in position.contacts)
        return tuple(
            dict.fromkeys(contact.start.split(".")[0] for contact in contacts if contact.end.split(".")[0] == panel.tag)
        )

    def children(self, tag: str) -> tuple[Panel, ...]:
        """Panels fed from a panel."""
        return tuple(panel for panel in self.panels if tag in self.feeders(panel))


def live_circuits(
    wiring: AcWiring,
    ac: AcSide,
    loads: tuple[Load, ...],
    feeds: dict[str, str],
    inverters: Inverters,
    feeding: tuple[str, ...],
    practice: Practice,
) -> tuple[LiveCircuit, ...]:
    """Stated circuits with their lines, then one for every AC load that names none.

    `feeding` are the bars from which energy gets to the inverters' own: a charger of one of these feeds back.
    """
    known = {circuit.tag: circuit for circuit in ac.circuits}
    members: dict[str, list[Load]] = {}
    loose = []
    for load in loads:
        if feeds[load.tag] == "DC":
            continue
        if load.circuit in known:
            members.setdefault(load.circuit, []).append(load)
        else:
            loose.append(load)
    panels = {panel.tag for panel in ac.panels}
    reach = panel_lines(ac, inverters)
    behind = [panel.tag for panel in wiring.panels if panel.tag not in wiring.before] or [wiring.panels[0].tag]

    def usual(lines: tuple[str, ...]) -> str:
        """The first panel behind the inverters that has these lines."""
        return next((tag for tag in behind if set(lines) <= set(reach[tag])), behind[0])

    found = []
    for circuit in ac.circuits:
        own = members.get(circuit.tag, [])
        wide = next((load for load in own if "+" in feeds[load.tag]), None)
        leg = feeds[wide.tag] if wide is not None else feeds[own[0].tag] if own else circuit.leg
        lines = _lines_of(leg, inverters)
        panel = circuit.panel if circuit.panel in panels else usual(lines)
        charger = any(load.charges in feeding for load in own)
        found.append(
            LiveCircuit(
                tag=circuit.tag,
                name=circuit.name,
                panel=panel,
                lines=lines,
                loads=tuple(load.tag for load in own),
                circuit=circuit,
                stated=True,
                feeds_back=charger,
            )
        )
    for load in loose:
        leg = feeds[load.tag]
        circuit = Circuit(tag=load.tag, name=load.name, size=IMPLIED_WIRE[practice])
        lines = _lines_of(leg, inverters)
        found.append(
            LiveCircuit(
                tag=load.tag,
                name=load.name,
                panel=usual(lines),
                lines=lines,
                loads=(load.tag,),
                circuit=circuit,
                stated=False,
                feeds_back=load.charges in feeding,
            )
        )
    return tuple(found)


def before_loads(ac: AcSide, loads: tuple[Load, ...], wiring: AcWiring) -> tuple[str, ...]:
    """Tags of loads in panels before the inverters: they run only when plugged in."""
    before = {circuit.tag for circuit in ac.circuits if circuit.panel in wiring.before}
    return tuple(load.tag for load in loads if load.circuit in before)


def _lines_of(leg: str, inverters: Inverters) -> tuple[str, ...]:
    return ("L1",) if leg in ("AC", "open") or LINES[inverters.stacking] == ("AC",) else tuple(leg.split("+"))


def ac_wiring(ac: AcSide, inverters: Inverters, practice: Practice) -> AcWiring:
    """The wiring in force; where nothing is stated, the plainest: one inlet, the inverters, one panel."""
    lines = tuple("L1" if line == "AC" else line for line in LINES[inverters.stacking])
    most = max((source.legs for source in inverters.sources), default=1)
    inlets = ac.inlets or (
        Inlet(
            tag=IMPLIED_INLET,
            name="Inlet",
            amps=max((s.amps for s in inverters.sources), default=16.0),
            lines=max(most, len(lines)),
        ),
    )
    panels = ac.panels or (Panel(tag=IMPLIED_PANEL, name="Panel behind the inverters", size=IMPLIED_FEEDER[practice]),)
    fed_from = ac.inverters_fed_from or inlets[0].tag
    made = AcWiring(
        inlets=inlets,
        panels=panels,
        selectors=ac.selectors,
        units=inverters.units,
        fed_from=fed_from,
        second_input=ac.second_input,
        lines=lines,
        joints=(),
    )
    return replace(made, joints=tuple(_joints(made, inverters)))


def on_second_input(wiring: AcWiring, inverters: Inverters) -> AcWiring:
    """The wiring while the inverters take their second input."""
    made = replace(wiring, fed_from=wiring.second_input)
    return replace(made, joints=tuple(_joints(made, inverters)))


def unit_lines(unit: Inverter, inverters: Inverters) -> tuple[tuple[str, str], ...]:
    """A unit's own terminals and the system's line each is on: (L, L2) for a unit of one line on leg L2."""
    if inverters.spec.lines == 2:
        return (("L1", "L1"), ("L2", "L2"))
    return (("L", "L1" if unit.leg == "AC" else unit.leg),)


def _joints(wiring: AcWiring, inverters: Inverters) -> Iterator[Contact]:
    selectors = {selector.tag for selector in wiring.selectors}
    if wiring.fed_from not in selectors:
        pins = next((inlet.lines for inlet in wiring.inlets if inlet.tag == wiring.fed_from), len(wiring.lines))
        for unit in wiring.units:
            yield Contact(f"{wiring.fed_from}.N", f"{unit.tag}.in.N")
            for own, line in unit_lines(unit, inverters):
                # With both legs in phase and one line coming in, that line feeds every unit.
                feed = line if pins > 1 or inverters.stacking != "legs_in_phase" else "L1"
                yield Contact(f"{wiring.fed_from}.{feed}", f"{unit.tag}.in.{own}")
    by_tag = {unit.tag: unit for unit in wiring.units}
    for panel in wiring.panels:
        if panel.fed_from in selectors:
            continue
        feeding = (
            wiring.units
            if panel.fed_from == FROM_INVERTERS
            else (by_tag[panel.fed_from],)
            if panel.fed_from in by_tag
            else ()
        )
        for unit in feeding:
            yield Contact(f"{unit.tag}.out.N", f"{panel.tag}.N")
            for own, line in unit_lines(unit, inverters):
                if panel.line in ("", line):
                    yield Contact(f"{unit.tag}.out.{own}", f"{panel.tag}.{line}")
        if not feeding:
            for line in ("N", *(wiring.lines if not panel.line else (panel.line,))):
                yield Contact(f"{panel.fed_from}.{line}", f"{panel.tag}.{line}")


def terminal(name: str) -> str:
    """A terminal as the graph names it: an inverter's single line is L."""
    return f"{name}.L" if name.endswith((".in", ".out")) else name


def neutral_of(name: str) -> str:
    """Neutral terminal beside a line's: INV1.in.N for INV1.in.L, MAIN.N for MAIN.L2."""
    return f"{terminal(name).rsplit('.', 1)[0]}.N"


def terminals(wiring: AcWiring, inverters: Inverters) -> tuple[str, ...]:
    """Every line terminal a selector's contact may name, as people write them."""
    units = [
        f"{unit.tag}.{side}" + ("" if inverters.spec.lines == 1 else f".{own}")
        for unit in wiring.units
        for side in ("in", "out")
        for own, _ in unit_lines(unit, inverters)
    ]
    inlets = [f"{inlet.tag}.L{pin + 1}" for inlet in wiring.inlets for pin in range(inlet.lines)]
    panels = [f"{panel.tag}.{line}" for panel in wiring.panels for line in wiring.lines]
    return (*inlets, *units, *panels)
