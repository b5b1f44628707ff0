"""What is wrong in a state: supplies that meet, live pins, loops, wrong voltages, shared neutrals, bonds."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.design.inverters.ac_wiring import AcWiring, LiveCircuit, unit_lines
from weighty_axle.design.inverters.live import LiveState
from weighty_axle.design.inverters.state import STACKING_SHORT, Danger, Energiser, Hazard, PanelState
from weighty_axle.job.models.inverters import Selector


def hazards(
    state: LiveState, circuits: tuple[LiveCircuit, ...], asked: Selector | None, neutral_a: dict[str, float]
) -> tuple[Hazard, ...]:
    """Everything wrong in a settled state. `asked` is the selector whose position asks for another stacking."""
    found = [
        *_supplies(state),
        *_pins(state),
        *_loops(state, circuits),
        *_across(state, circuits),
        *_shared(state, circuits, neutral_a),
        *_bonding(state.panels, state.wiring),
    ]
    if asked is not None and state.inverting:
        position = state.positions[asked.tag]
        words = f"{asked.name} stands at {position} while the inverters are set {STACKING_SHORT[state.stacking]}"
        found.append(Hazard(danger="disagree", tags=(asked.tag,), words=words))
    return tuple(found)


def _supplies(state: LiveState) -> Iterator[Hazard]:
    """Supplies that are not in step on one node, and legs joined."""
    told = set[tuple[str, ...]]()
    for by in state.live.values():
        first = by[0]
        for other in by[1:]:
            names = tuple(sorted((first.name, other.name)))
            if names in told:
                continue
            if other.supply != first.supply:
                told.add(names)
                yield Hazard(
                    danger="paralleled",
                    tags=_tags(first, other),
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
                    tags=_tags(first, other),
                    words=words.replace(f"{first.name} and {first.name}", f"both legs of {first.name}"),
                )


def _tags(*energisers: Energiser) -> tuple[str, ...]:
    return tuple(dict.fromkeys(one.name if one.inverter else one.supply for one in energisers))


def _pins(state: LiveState) -> Iterator[Hazard]:
    free = [inlet for inlet, source in zip(state.wiring.inlets, state.plugged, strict=True) if source is None]
    for inlet in free:
        by = [
            one for pin in range(inlet.lines) for one in state.live.get(state.nodes.of(f"{inlet.tag}.L{pin + 1}"), [])
        ]
        if by:
            yield Hazard(
                danger="pins_live",
                tags=(inlet.tag,),
                words=f"the pins of {inlet.name} are live from {by[0].name} with nothing plugged in",
            )


def _loops(state: LiveState, circuits: tuple[LiveCircuit, ...]) -> Iterator[Hazard]:
    for unit in state.wiring.units:
        for own, _ in unit_lines(unit, state.inverters):
            by = next((one for one in state.live.get(state.nodes.of(f"{unit.tag}.in.{own}"), []) if one.inverter), None)
            if by is not None:
                yield Hazard(
                    danger="energy_loop",
                    tags=(unit.tag,),
                    words=f"the input of {unit.tag} is fed by {by.name}: the bank charges itself",
                )
                break
    for circuit in circuits:
        if circuit.feeds_back:
            by = next((one for line in circuit.lines for one in state.at(circuit.panel, line) if one.inverter), None)
            if by is not None:
                yield Hazard(
                    danger="charger_loop",
                    tags=(circuit.tag, *circuit.loads),
                    words=f"the charger on {circuit.name} is fed by {by.name}: the bank charges itself",
                )


def _across(state: LiveState, circuits: tuple[LiveCircuit, ...]) -> Iterator[Hazard]:
    """Circuits across lines whose lines are alike, or half dead."""
    for circuit in circuits:
        if len(circuit.lines) < 2:
            continue
        by = [state.at(circuit.panel, line) for line in circuit.lines]
        live = [one[0] for one in by if one]
        if not live:
            continue
        if len(live) < len(by):
            yield Hazard(
                danger="across_weak", tags=(circuit.tag,), words=f"{circuit.name} has one pole live and another dead"
            )
        elif len({one.phase_deg for one in live}) < len(live) or len({one.supply for one in live}) > 1:
            kind: Danger = "across_dead" if any(one.inverter for one in live) else "across_weak"
            yield Hazard(
                danger=kind, tags=(circuit.tag,), words=f"{circuit.name} is energised with no voltage between its lines"
            )


def _shared(state: LiveState, circuits: tuple[LiveCircuit, ...], neutral_a: dict[str, float]) -> Iterator[Hazard]:
    """Circuits on one neutral that are fed alike: their currents add in it."""
    by_tag = {circuit.tag: circuit for circuit in circuits}
    for circuit in circuits:
        other = by_tag.get(circuit.circuit.shares_neutral)
        if other is None:
            continue
        one, two = state.at(circuit.panel, circuit.lines[0]), state.at(other.panel, other.lines[0])
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
