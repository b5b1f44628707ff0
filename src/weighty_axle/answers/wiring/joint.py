"""What one bad joint does: the DC side solved again with some milliohms more in one way."""

from __future__ import annotations

from msgspec import Struct

from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.design.table import Design
from weighty_axle.design.wiring.flow import STIFF_OHM, AtWay, DcState, network_of
from weighty_axle.design.wiring.tree import Root
from weighty_axle.physics.electric.network import settle


class BadJoint(Struct, frozen=True, kw_only=True):
    """A joint gone bad in a state: its heat, the volts it takes, and every way of its bar as it then is.

    `collapsed`: nothing works behind it any more.
    """

    tag: str
    heat_w: Figure
    lost_v: Figure
    ways: dict[str, AtWay]
    collapsed: bool


def bad_joint(design: Design, state: DcState, tag: str, ohm: float) -> BadJoint | None:
    """A way's joint with so much more resistance; None for a way that is not in the state.

    What is drawn stays the same power at every end, what charges the same current; bars above a converter are not
    solved again.

    Source: nodal analysis, physics.electric.network.
    """
    root = next((one for one in design.tree.roots if any(way.tag == tag for way in one.ways)), None)
    if root is None or tag not in state.ways:
        return None
    net_a, volts, sources = _drawn(root, state)
    network = network_of(root, STIFF_OHM, {tag: ohm})
    source_v = max(volts[node] for node in sources)
    drawn_w = {node: amps * volts[node] for node, amps in net_a.items() if amps > 0}
    drawn_a = {node: amps for node, amps in net_a.items() if amps < 0}
    forces = [one.emf_v * source_v for one in network.branches]
    done = settle(network, drawn_w=drawn_w, drawn_a=drawn_a, emf_v=forces, within_v=1e-5)
    nodes = done.solution.node_v
    amps = done.solution.branch_a[len(done.solution.branch_a) - len(root.ways) :]
    ways = {
        way.tag: AtWay(carried, nodes[way.start], nodes[way.end]) for way, carried in zip(root.ways, amps, strict=True)
    }
    through = Given(f"Current of {tag}", abs(ways[tag].amps), "A")
    joint = Given("Joint", ohm, "ohm")
    return BadJoint(
        tag=tag,
        heat_w=Figure(
            name=f"Heat of a joint in {tag}",
            value=through.value**2 * ohm,
            unit="W",
            formula="current² × resistance",
            inputs=(through, joint),
            source=TEXTBOOK,
            limit=state.name,
        ),
        lost_v=Figure.product(
            name=f"Volts a joint in {tag} takes",
            unit="V",
            formula="current × resistance",
            inputs=(through, joint),
            source=TEXTBOOK,
            limit=state.name,
        ),
        ways=ways,
        collapsed=done.collapsed,
    )


def _drawn(root: Root, state: DcState) -> tuple[dict[str, float], dict[str, float], set[str]]:
    """Current drawn out of every node but the sources, voltages, and the sources."""
    net: dict[str, float] = {}
    volts: dict[str, float] = {}
    for way in root.ways:
        at = state.ways[way.tag]
        net[way.end] = net.get(way.end, 0.0) + at.amps
        net[way.start] = net.get(way.start, 0.0) - at.amps
        volts |= {way.start: at.start_v, way.end: at.end_v}
    sources = {way.start for way in root.ways if way.kind == "main" or way.start in root.converters}
    return {node: amps for node, amps in net.items() if node not in sources and abs(amps) > 1e-6}, volts, sources
