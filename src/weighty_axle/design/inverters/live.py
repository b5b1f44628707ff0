"""One state of the AC side while it is worked out: nodes, relays, what is live and where neutrals are bonded."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.design.inverters.ac_wiring import AcWiring, unit_lines
from weighty_axle.design.inverters.state import (
    MODE_WORDS,
    PHASES,
    STACKING_SHORT,
    Energiser,
    Hazard,
    Joined,
    Mode,
    PanelState,
    Phase,
    State,
)
from weighty_axle.design.inverters.terminals import Nodes
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


def stackings(wiring: AcWiring, inverters: Inverters) -> list[Stacking]:
    """What the inverters may be set to: as stated, and whatever a selector's position asks for."""
    asked = (position.stacking for selector in wiring.selectors for position in selector.positions)
    return list(dict.fromkeys((inverters.stacking, *(ask for ask in asked if ask is not None))))


class LiveState:
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

    def settle(self) -> None:
        """Close relays and find what is live and where neutrals are bonded."""
        self.inputs = self._joined("in", {inlet.tag: ("L1", "L2", "L3")[: inlet.lines] for inlet in self.wiring.inlets})
        self.outputs = self._joined("out", {panel.tag: self.wiring.lines for panel in self.wiring.panels})
        self._close_relays()
        self.inverting = [unit for unit in self.wiring.units if self.mode == "on" and unit not in self.passing]
        if not self.inverters.spec.opens_neutral:
            for unit in self.wiring.units:
                self.nodes.join(f"{unit.tag}.in.N", f"{unit.tag}.out.N")
        self.live = self._live()
        self.bonds = self._bonds()
        self.panels = tuple(self._panel(panel) for panel in self.wiring.panels)
        self.positions = {
            selector.tag: position.name for selector, position in zip(self.wiring.selectors, self.standing, strict=True)
        }

    def finished(self, hazards: tuple[Hazard, ...]) -> State:
        """The finished state."""
        return State(
            plugged=tuple(source.tag for _, source in self.sources),
            mode=self.mode,
            stacking=self.stacking,
            positions=tuple(self.positions.items()),
            passing=tuple(unit.tag for unit in self.passing),
            inverting=tuple(unit.tag for unit in self.inverting),
            input_way=tuple(self._way_of_input()),
            inputs=self.inputs,
            outputs=self.outputs,
            panels=self.panels,
            hazards=hazards,
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

    def _from_sources(self) -> dict[int, list[Energiser]]:
        live: dict[int, list[Energiser]] = {}
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
                    Energiser(
                        name=source.name, supply=source.tag, phase_deg=angles[pin], volts=source.volts, inverter=False
                    ),
                )
        return live

    def _energise(self, live: dict[int, list[Energiser]], name: str, energiser: Energiser) -> None:
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

    def _accepts(self, unit: Inverter, live: dict[int, list[Energiser]]) -> bool:
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

    def _live(self) -> dict[int, list[Energiser]]:
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
                    Energiser(
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

    def at(self, panel: str, line: str) -> list[Energiser]:
        """What energises a line of a panel or input."""
        return self.live.get(self.nodes.of(f"{panel}.{line}"), [])

    def _panel(self, panel: Panel) -> PanelState:
        by_line = {line: self.at(panel.tag, line) for line in self.wiring.lines}
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
        panels, units = {panel.tag: panel for panel in self.wiring.panels}, {unit.tag for unit in self.wiring.units}
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
        units = self.passing or self.wiring.units
        return self._way(self.wiring.fed_from, units[0].tag) if units else iter(())

    def _rcds(self, way: tuple[str, ...]) -> Iterator[tuple[str, float]]:
        """Residual-current devices [mA] on a way: those of panels, and the source's."""
        panels, sources = (
            {panel.tag: panel for panel in self.wiring.panels},
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
