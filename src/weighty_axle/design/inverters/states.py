"""State table: every combination of what is plugged in, what the inverters do and where selectors stand, and what that
makes live.

Nothing here is typed in: each state follows from the wiring. Terminals joined by conductors, closed contacts and closed
relays are one node; a node is live when something energises it; its neutral is bonded wherever that neutral's node
meets earth.
"""

from __future__ import annotations

import cmath
import itertools
import math
from collections.abc import Iterator
from typing import Literal

from msgspec import Struct

from weighty_axle.design.inverters.ac_wiring import AcWiring, LiveCircuit, unit_lines
from weighty_axle.design.inverters.terminals import Nodes, close_contacts, joined_terminals
from weighty_axle.job.models.inverters import (
    FROM_INVERTERS,
    Inverter,
    Inverters,
    Panel,
    Position,
    Selector,
    Source,
    Stacking,
    line_v,
    voltage_fits,
)
from weighty_axle.reference import tables

Mode = Literal["off", "charger_only", "on"]
MODE_WORDS: dict[Mode, str] = {"off": "inverters off", "charger_only": "inverters charging only", "on": "inverters on"}
Danger = Literal[
    "two_bonds",
    "no_bond",
    "paralleled",
    "legs_joined",
    "energy_loop",
    "charger_loop",
    "pins_live",
    "across_dead",
    "across_weak",
    "shared_neutral",
    "disagree",
]
PHASES: dict[Stacking, dict[str, int]] = {
    "single": {"L1": 0},
    "parallel": {"L1": 0},
    "split_phase": {"L1": 0, "L2": 180},
    "one_two_legs": {"L1": 0, "L2": 180},
    "legs_in_phase": {"L1": 0, "L2": 0},
    "independent": {"L1": 0, "L2": 0},
    "three_phase": {"L1": 0, "L2": 240, "L3": 120},
}
"""Angle of each line of a stacking [deg]."""
STACKING_SHORT: dict[Stacking, str] = {
    "single": "single",
    "parallel": "in parallel",
    "split_phase": "180° apart",
    "one_two_legs": "180° apart",
    "legs_in_phase": "in phase",
    "independent": "independent",
    "three_phase": "120° apart",
}


class Hazard(Struct, frozen=True, kw_only=True):
    """One thing wrong in a state: its kind, the tags concerned, and what exactly."""

    danger: Danger
    tags: tuple[str, ...]
    words: str


class Phase(Struct, frozen=True, array_like=True):
    """How a live line stands: its angle [deg] and the supply it is in step with."""

    angle_deg: int
    supply: str

    @property
    def turn(self) -> complex:
        """A unit phasor at its angle."""
        return cmath.exp(1j * math.radians(self.angle_deg))


class Joined(Struct, frozen=True, kw_only=True):
    """Units whose inputs or outputs are joined on a line, each once for every line of its own, and the things and lines
    of theirs it is joined to.
    """

    units: tuple[str, ...]
    things: tuple[str, ...]
    lines: tuple[str, ...]


class PanelState(Struct, frozen=True, kw_only=True):
    """A panel in a state: its live lines with their phases, the way its current comes (from its feeder up to a unit
    that inverts or an inlet), what feeds it, where its neutral is bonded, and the residual-current devices on the
    way to it.
    """

    tag: str
    lines: tuple[str, ...]
    phases: tuple[Phase, ...]
    way: tuple[str, ...]
    fed_by: tuple[str, ...]
    bonds: tuple[str, ...]
    rcds: tuple[str, ...]
    rcds_ma: tuple[float, ...]


class State(Struct, frozen=True, kw_only=True):
    """One combination.

    `plugged` holds source tags; `stacking` is what the inverters are set to; `positions` are (selector, position).

    `input_way` is the way from the inverters' input up to what feeds it; `outputs` are the units side by side on each
    line and the lines of panels they feed, `inputs` those fed by a line of an inlet. `short` is what figures say.
    """

    plugged: tuple[str, ...]
    mode: Mode
    stacking: Stacking
    positions: tuple[tuple[str, str], ...]
    passing: tuple[str, ...]
    inverting: tuple[str, ...]
    input_way: tuple[str, ...]
    inputs: tuple[Joined, ...]
    outputs: tuple[Joined, ...]
    panels: tuple[PanelState, ...]
    hazards: tuple[Hazard, ...]
    words: str
    short: str


class StatesResult(Struct, frozen=True):
    """All states that can be reached; `shut_out` counts those an interlock makes impossible."""

    states: tuple[State, ...]
    shut_out: int

    def with_danger(self, danger: Danger) -> tuple[State, ...]:
        """States in which something of a kind is wrong."""
        return tuple(state for state in self.states if any(one.danger == danger for one in state.hazards))


class _Energiser(Struct, frozen=True, kw_only=True):
    """What makes a node live: its name, the supply it is in step with, its angle [deg] and voltage [V]."""

    name: str
    supply: str
    phase_deg: int
    volts: float
    inverter: bool


def stackings(wiring: AcWiring, inverters: Inverters) -> list[Stacking]:
    """What the inverters may be set to: as stated, and whatever a selector's position asks for."""
    asked = (position.stacking for selector in wiring.selectors for position in selector.positions)
    return list(dict.fromkeys((inverters.stacking, *(one for one in asked if one is not None))))


def states(wiring: AcWiring, circuits: tuple[LiveCircuit, ...], inverters: Inverters) -> StatesResult:
    """Every state of the AC side.

    Source: textbook relations (nodes and Kirchhoff's laws); one bond at a time: NEC 250.6 and 551.54, IEC 60364-4-41
        and 60364-7-717, recalled.
    """
    nodes = joined_terminals(wiring, inverters)
    choices = [
        (None, *(source for source in inverters.sources if source.inlet == inlet.tag or (not source.inlet and at == 0)))
        for at, inlet in enumerate(wiring.inlets)
    ]
    settings = stackings(wiring, inverters)
    modes: list[tuple[Mode, Stacking]] = [
        ("off", settings[0]),
        ("charger_only", settings[0]),
        *(("on", one) for one in settings),
    ]
    places = list(itertools.product(*(selector.positions for selector in wiring.selectors)))
    neutral_a = {
        row.size: row.amps for row in tables.ac_conductors().rows
    }  # sizes of the two practices have names of their own
    found, shut_out = [], 0
    for standing in places:
        placed = nodes.fork()
        for selector, position in zip(wiring.selectors, standing, strict=True):
            close_contacts(placed, selector, position)
        for (mode, stacking), plugged in itertools.product(modes, itertools.product(*choices)):
            state = _State(wiring, inverters, placed.fork(), plugged, mode, stacking, standing)
            asked = state.disagreement()
            if asked is not None and asked.interlocked:
                shut_out += 1
                continue
            found.append(state.made(circuits, asked, neutral_a))
    return StatesResult(tuple(found), shut_out)


class _State:
    """One state while it is worked out."""

    def __init__(
        self,
        wiring: AcWiring,
        inverters: Inverters,
        nodes: Nodes,
        plugged: tuple[Source | None, ...],
        mode: Mode,
        stacking: Stacking,
        standing: tuple[Position, ...],
    ) -> None:
        self.wiring, self.inverters, self.nodes, self.plugged = wiring, inverters, nodes, plugged
        self.mode, self.stacking, self.standing = mode, stacking, standing
        self.sources = [
            (inlet, source) for inlet, source in zip(wiring.inlets, plugged, strict=True) if source is not None
        ]
        self.passing: list[Inverter] = []
        self.supply_of_stack = ""

    def disagreement(self) -> Selector | None:
        """The selector whose position asks for another stacking than the running inverters have."""
        if self.mode != "on":
            return None
        pairs = zip(self.wiring.selectors, self.standing, strict=True)
        return next(
            (
                selector
                for selector, position in pairs
                if position.stacking is not None and position.stacking != self.stacking
            ),
            None,
        )

    def made(self, circuits: tuple[LiveCircuit, ...], asked: Selector | None, neutral_a: dict[str, float]) -> State:
        """The finished state."""
        inputs = self._joined("in", {inlet.tag: ("L1", "L2", "L3")[: inlet.lines] for inlet in self.wiring.inlets})
        outputs = self._joined("out", {panel.tag: self.wiring.lines for panel in self.wiring.panels})
        self._close_relays()
        self.inverting = [unit for unit in self.wiring.units if self.mode == "on" and unit not in self.passing]
        if not self.inverters.spec.opens_neutral:
            for unit in self.wiring.units:
                self.nodes.join(f"{unit.tag}.in.N", f"{unit.tag}.out.N")
        self.live = self._live()
        self.bonds = self._bonds()
        hazards = [
            *self._supplies(),
            *self._pins(),
            *self._loops(circuits),
            *self._across(circuits),
            *self._shared(circuits, neutral_a),
        ]
        panels = tuple(self._panel(panel) for panel in self.wiring.panels)
        hazards += _bonding(panels, self.wiring)
        positions = tuple(
            (selector.tag, position.name)
            for selector, position in zip(self.wiring.selectors, self.standing, strict=True)
        )
        if asked is not None and self.inverting:
            position = dict(positions)[asked.tag]
            words = f"{asked.name} stands at {position} while the inverters are set {STACKING_SHORT[self.stacking]}"
            hazards.append(Hazard(danger="disagree", tags=(asked.tag,), words=words))
        return State(
            plugged=tuple(source.tag for _, source in self.sources),
            mode=self.mode,
            stacking=self.stacking,
            positions=positions,
            passing=tuple(unit.tag for unit in self.passing),
            inverting=tuple(unit.tag for unit in self.inverting),
            input_way=tuple(self._way_of_input()),
            inputs=inputs,
            outputs=outputs,
            panels=panels,
            hazards=tuple(hazards),
            words=self._words(),
            short=self._short(),
        )

    def _words(self) -> str:
        plugged = " and ".join(source.name for _, source in self.sources) or "nothing plugged in"
        several = len(stackings(self.wiring, self.inverters)) > 1
        doing = MODE_WORDS[self.mode] + (
            f", set {STACKING_SHORT[self.stacking]}" if several and self.mode == "on" else ""
        )
        standing = [
            f"{selector.name} at {position.name}"
            for selector, position in zip(self.wiring.selectors, self.standing, strict=True)
        ]
        return ", ".join((plugged, doing, *standing))

    def _short(self) -> str:
        """The state as a figure names it: where it is plugged in, selectors, and only what is not as usual."""
        plugged = " and ".join(source.name for _, source in self.sources) or "unplugged"
        standing = [
            f"{selector.tag} at {position.name}"
            for selector, position in zip(self.wiring.selectors, self.standing, strict=True)
        ]
        return ", ".join((plugged, *([MODE_WORDS[self.mode]] if self.mode != "on" else []), *standing))

    # ---- what is live ----

    def _from_sources(self) -> dict[int, list[_Energiser]]:
        live: dict[int, list[_Energiser]] = {}
        for inlet, source in self.sources:
            pins = inlet.lines if source.legs_in_phase else min(source.legs, inlet.lines)
            angles = (
                (0,) * 3
                if source.legs_in_phase or source.legs == 1
                else (0, 180)
                if source.legs == 2
                else (0, 240, 120)
            )
            for pin in range(pins):
                self._energise(
                    live,
                    f"{inlet.tag}.L{pin + 1}",
                    _Energiser(
                        name=source.name, supply=source.tag, phase_deg=angles[pin], volts=source.volts, inverter=False
                    ),
                )
        return live

    def _energise(self, live: dict[int, list[_Energiser]], name: str, energiser: _Energiser) -> None:
        node = self.nodes.of(name)
        if node >= 0:
            live.setdefault(node, []).append(energiser)

    def _close_relays(self) -> None:
        """Transfer relays of inverters whose inputs are fed as they are set; a relay that closes may feed the next
        one's input.
        """
        waiting = list(self.wiring.units) if self.mode != "off" else []
        while waiting:
            live = self._from_sources()
            ready = [unit for unit in waiting if self._accepts(unit, live)]
            # A stack lets its source through together or not at all; units of their own do as each finds it.
            if not ready or (self.stacking != "independent" and len(ready) < len(waiting)):
                return
            for unit in ready:
                for own, _ in unit_lines(unit, self.inverters):
                    self.nodes.join(f"{unit.tag}.in.{own}", f"{unit.tag}.out.{own}")
                self.nodes.join(f"{unit.tag}.in.N", f"{unit.tag}.out.N")
                self.passing.append(unit)
                waiting.remove(unit)

    def _accepts(self, unit: Inverter, live: dict[int, list[_Energiser]]) -> bool:
        """Whether a unit takes what its input gets: fed, and at the angle it is set to (or with all legs alike, where
        it can do that).
        """
        wanted = PHASES[self.stacking]
        for own, line in unit_lines(unit, self.inverters):
            fed = live.get(self.nodes.of(f"{unit.tag}.in.{own}"))
            if not fed or not voltage_fits(fed[0].volts, self.inverters):
                return False
            angle = wanted.get(line, 0)
            if fed[0].phase_deg != angle and not (
                fed[0].phase_deg == 0 and self.stacking == "split_phase" and self.inverters.spec.takes_in_phase
            ):
                return False
            self.supply_of_stack = fed[0].supply
        return True

    def _live(self) -> dict[int, list[_Energiser]]:
        """Everything that energises a node, sources and inverters.

        Stacked units are in step with one another and with what passes through one of them.
        """
        live = self._from_sources()
        for unit in self.inverting:
            alone = self.stacking == "independent"
            supply = f"unit {unit.tag}" if alone else self.supply_of_stack or "inverters"
            for own, line in unit_lines(unit, self.inverters):
                angle = PHASES[self.stacking].get(line, 0)
                self._energise(
                    live,
                    f"{unit.tag}.out.{own}",
                    _Energiser(
                        name=unit.tag, supply=supply, phase_deg=angle, volts=line_v(self.inverters), inverter=True
                    ),
                )
        return live

    def _bonds(self) -> dict[int, list[str]]:
        """Where each neutral node is tied to earth."""
        tied = [(f"{inlet.tag}.N", f"at {source.name}") for inlet, source in self.sources if source.bonded]
        tied += [(f"{panel.tag}.N", f"in {panel.name}") for panel in self.wiring.panels if panel.bonded]
        tied += [(f"{unit.tag}.out.N", f"in {unit.tag}") for unit in self.inverting if unit.bonds]
        bonds: dict[int, list[str]] = {}
        for name, words in tied:
            bonds.setdefault(self.nodes.of(name), []).append(words)
        return bonds

    def _at(self, panel: str, line: str) -> list[_Energiser]:
        return self.live.get(self.nodes.of(f"{panel}.{line}"), [])

    def _panel(self, panel: Panel) -> PanelState:
        by_line = {line: self._at(panel.tag, line) for line in self.wiring.lines}
        lines = tuple(line for line, by in by_line.items() if by)
        fed_by = tuple(dict.fromkeys(one.name for by in by_line.values() for one in by))
        bonds = tuple(self.bonds.get(self.nodes.of(f"{panel.tag}.N"), [])) if lines else ()
        way = tuple(self._way(panel.fed_from, panel.tag)) if lines else ()
        guards = tuple(self._rcds((panel.tag, *way)))
        phases = tuple(Phase(by[0].phase_deg, by[0].supply) for by in by_line.values() if by)
        return PanelState(
            tag=panel.tag,
            lines=lines,
            phases=phases,
            way=way,
            fed_by=fed_by,
            bonds=bonds,
            rcds=tuple(f"{name}, {ma:g} mA" for name, ma in guards),
            rcds_ma=tuple(ma for _, ma in guards),
        )

    def _way(self, feed: str, to: str) -> Iterator[str]:
        """Panels, units and the inlet that current comes through on its way to something; a unit that inverts ends the
        way.
        """
        panels, units = {one.tag: one for one in self.wiring.panels}, {unit.tag for unit in self.wiring.units}
        passing, inlets, seen = {unit.tag for unit in self.passing}, {inlet.tag for inlet in self.wiring.inlets}, {to}
        feed = self._through(feed, to)
        while feed:
            if feed == FROM_INVERTERS:
                feed = self.wiring.units[0].tag
            if feed in seen:
                return
            seen.add(feed)
            yield feed
            if feed in panels:
                feed = self._through(panels[feed].fed_from, feed)
            elif feed in units and feed in passing:
                feed = self._through(self.wiring.fed_from, feed)
            elif feed in units or feed in inlets:
                return

    def _joined(self, side: str, things: dict[str, tuple[str, ...]]) -> tuple[Joined, ...]:
        """Inputs or outputs of the units with the lines of things joined to them, before any relay closes."""
        units: dict[int, list[str]] = {}
        for unit in self.wiring.units:
            for own, _ in unit_lines(unit, self.inverters):
                units.setdefault(self.nodes.of(f"{unit.tag}.{side}.{own}"), []).append(unit.tag)
        found: dict[int, list[tuple[str, str]]] = {node: [] for node in units}
        for tag, lines in things.items():
            for line in lines:
                found.get(self.nodes.of(f"{tag}.{line}"), []).append((tag, line))
        return tuple(
            Joined(
                units=tuple(tags),
                things=tuple(dict.fromkeys(tag for tag, _ in found[node])),
                lines=tuple(dict.fromkeys(line for _, line in found[node])),
            )
            for node, tags in units.items()
            if found[node]
        )

    def _way_of_input(self) -> Iterator[str]:
        """The way to the input of the first unit that passes, or of the first."""
        return self._way(self.wiring.fed_from, (self.passing or self.wiring.units)[0].tag)

    def _rcds(self, way: tuple[str, ...]) -> Iterator[tuple[str, float]]:
        """Residual-current devices [mA] on a way: those of panels, and the source's."""
        panels, sources = (
            {one.tag: one for one in self.wiring.panels},
            {inlet.tag: source for inlet, source in self.sources},
        )
        for tag in way:
            device = panels.get(tag) or sources.get(tag)
            if device is not None and device.rcd_ma:
                yield device.name, device.rcd_ma

    def _through(self, feed: str, to: str) -> str:
        """What a selector has on the way in its present position; anything else is its own feed."""
        for selector, position in zip(self.wiring.selectors, self.standing, strict=True):
            if selector.tag == feed:
                return next(
                    (contact.start.split(".")[0] for contact in position.contacts if contact.end.split(".")[0] == to),
                    "",
                )
        return feed

    # ---- what is wrong ----

    def _supplies(self) -> Iterator[Hazard]:
        """Supplies that are not in step on one node, and legs joined."""
        told = set[tuple[str, ...]]()
        for by in self.live.values():
            first = by[0]
            for other in by[1:]:
                names = tuple(sorted((first.name, other.name)))
                if names in told:
                    continue
                if other.supply != first.supply:
                    told.add(names)
                    yield Hazard(
                        danger="paralleled",
                        tags=self._tags(first, other),
                        words=f"{first.name} and {other.name} feed the same conductor and are not in step",
                    )
                elif other.phase_deg != first.phase_deg:
                    told.add(names)
                    turn = (other.phase_deg - first.phase_deg) % 360
                    words = (
                        f"{first.name} and {other.name} are joined {min(turn, 360 - turn)}° apart: a short circuit "
                        "between legs"
                    )
                    yield Hazard(
                        danger="legs_joined",
                        tags=self._tags(first, other),
                        words=words.replace(f"{first.name} and {first.name}", f"both legs of {first.name}"),
                    )

    @staticmethod
    def _tags(*energisers: _Energiser) -> tuple[str, ...]:
        return tuple(dict.fromkeys(one.name if one.inverter else one.supply for one in energisers))

    def _pins(self) -> Iterator[Hazard]:
        free = [inlet for inlet, source in zip(self.wiring.inlets, self.plugged, strict=True) if source is None]
        for inlet in free:
            by = [
                one for pin in range(inlet.lines) for one in self.live.get(self.nodes.of(f"{inlet.tag}.L{pin + 1}"), [])
            ]
            if by:
                yield Hazard(
                    danger="pins_live",
                    tags=(inlet.tag,),
                    words=f"the pins of {inlet.name} are live from {by[0].name} with nothing plugged in",
                )

    def _loops(self, circuits: tuple[LiveCircuit, ...]) -> Iterator[Hazard]:
        for unit in self.wiring.units:
            for own, _ in unit_lines(unit, self.inverters):
                by = next(
                    (one for one in self.live.get(self.nodes.of(f"{unit.tag}.in.{own}"), []) if one.inverter), None
                )
                if by is not None:
                    yield Hazard(
                        danger="energy_loop",
                        tags=(unit.tag,),
                        words=f"the input of {unit.tag} is fed by {by.name}: the bank charges itself",
                    )
                    break
        for circuit in circuits:
            if circuit.charges_bank:
                by = next(
                    (one for line in circuit.lines for one in self._at(circuit.panel, line) if one.inverter), None
                )
                if by is not None:
                    yield Hazard(
                        danger="charger_loop",
                        tags=(circuit.tag, *circuit.loads),
                        words=f"the charger on {circuit.name} is fed by {by.name}: the bank charges itself",
                    )

    def _across(self, circuits: tuple[LiveCircuit, ...]) -> Iterator[Hazard]:
        """Circuits across lines whose lines are alike, or half dead."""
        for circuit in circuits:
            if len(circuit.lines) < 2:
                continue
            by = [self._at(circuit.panel, line) for line in circuit.lines]
            live = [one[0] for one in by if one]
            if not live:
                continue
            if len(live) < len(by):
                yield Hazard(
                    danger="across_weak",
                    tags=(circuit.tag,),
                    words=f"{circuit.name} has one pole live and another dead",
                )
            elif len({one.phase_deg for one in live}) < len(live) or len({one.supply for one in live}) > 1:
                kind: Danger = "across_dead" if any(one.inverter for one in live) else "across_weak"
                yield Hazard(
                    danger=kind,
                    tags=(circuit.tag,),
                    words=f"{circuit.name} is energised with no voltage between its lines",
                )

    def _shared(self, circuits: tuple[LiveCircuit, ...], neutral_a: dict[str, float]) -> Iterator[Hazard]:
        """Circuits on one neutral that are fed alike: their currents add in it."""
        by_tag = {circuit.tag: circuit for circuit in circuits}
        for circuit in circuits:
            other = by_tag.get(circuit.circuit.shares_neutral)
            if other is None:
                continue
            one, two = self._at(circuit.panel, circuit.lines[0]), self._at(other.panel, other.lines[0])
            if not one or not two or one[0].phase_deg != two[0].phase_deg:
                continue
            total, stands = circuit.circuit.breaker_a + other.circuit.breaker_a, neutral_a.get(other.circuit.size, 0.0)
            if total > stands:
                words = (
                    f"{circuit.name} and {other.name} share a neutral and are in phase: up to {total:g} A in a "
                    f"conductor for {stands:g} A"
                )
                yield Hazard(danger="shared_neutral", tags=(circuit.tag, other.tag), words=words)


def _bonding(panels: tuple[PanelState, ...], wiring: AcWiring) -> Iterator[Hazard]:
    """Neutrals bonded twice, or not at all; panels with the same bonds are told of once."""
    names = {panel.tag: panel.name for panel in wiring.panels}
    grouped: dict[tuple[str, ...], list[str]] = {}
    for panel in panels:
        if panel.lines and len(panel.bonds) != 1:
            grouped.setdefault(panel.bonds, []).append(panel.tag)
    for bonds, tags in grouped.items():
        where = " and ".join(names[tag] for tag in tags)
        if bonds:
            yield Hazard(
                danger="two_bonds",
                tags=tuple(tags),
                words=f"the neutral of {where} is tied to earth {len(bonds)} times: {' and '.join(bonds)}",
            )
        else:
            yield Hazard(
                danger="no_bond",
                tags=tuple(tags),
                words=f"the neutral of {where} is tied to earth nowhere: a fault trips no breaker",
            )
