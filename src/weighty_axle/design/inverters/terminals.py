"""Terminals of the AC side: what conductors and closed contacts join is one node."""

from __future__ import annotations

from weighty_axle.design.inverters.ac_wiring import AcWiring, neutral_of, terminal, unit_lines
from weighty_axle.job.models.inverters import Inverters, Position, Selector


class Nodes:
    """Terminals joined into nodes (union-find); `fork` gives a copy to join further."""

    def __init__(self, index: dict[str, int], parent: list[int]) -> None:
        self.index, self.parent = index, parent

    def fork(self) -> Nodes:
        """A copy to join further."""
        return Nodes(self.index, self.parent[:])

    def of(self, name: str) -> int:
        """Node a terminal belongs to; -1 for one that does not exist."""
        at = self.index.get(name, -1)
        parent = self.parent
        while at >= 0 and parent[at] != at:
            parent[at] = parent[parent[at]]
            at = parent[at]
        return at

    def join(self, one: str, other: str) -> None:
        """Make two terminals one node; terminals that do not exist join nothing."""
        a, b = self.of(one), self.of(other)
        if a >= 0 and b >= 0:
            self.parent[a] = b


def joined_terminals(wiring: AcWiring, inverters: Inverters) -> Nodes:
    """All terminals, joined by what conductors join for good."""
    names = [f"{inlet.tag}.{pin}" for inlet in wiring.inlets for pin in ("L1", "L2", "L3")[: inlet.lines]]
    names += [f"{panel.tag}.{line}" for panel in wiring.panels for line in wiring.lines]
    names += [
        f"{unit.tag}.{side}.{own}"
        for unit in wiring.units
        for side in ("in", "out")
        for own, _ in unit_lines(unit, inverters)
    ]
    names += [
        f"{tag}.N" for tag in (*(inlet.tag for inlet in wiring.inlets), *(panel.tag for panel in wiring.panels))
    ] + [f"{unit.tag}.{side}.N" for unit in wiring.units for side in ("in", "out")]
    nodes = Nodes({name: at for at, name in enumerate(names)}, list(range(len(names))))
    for joint in wiring.joints:
        nodes.join(joint.start, joint.end)
    for selector in wiring.selectors:
        if not selector.switches_neutral:
            for position in selector.positions:
                for contact in position.contacts:
                    nodes.join(neutral_of(contact.start), neutral_of(contact.end))
    return nodes


def close_contacts(nodes: Nodes, selector: Selector, position: Position) -> None:
    """Join what a selector's position closes."""
    for contact in position.contacts:
        nodes.join(terminal(contact.start), terminal(contact.end))
        if selector.switches_neutral:
            nodes.join(neutral_of(contact.start), neutral_of(contact.end))
