"""State table: every combination of what is plugged in, what the inverters do and where selectors stand."""

from __future__ import annotations

import itertools

from weighty_axle.design.inverters.ac_wiring import AcWiring, LiveCircuit, on_second_input
from weighty_axle.design.inverters.hazards import hazards
from weighty_axle.design.inverters.live import LiveState, stackings
from weighty_axle.design.inverters.state import Mode, StatesResult
from weighty_axle.design.inverters.terminals import close_contacts, joined_terminals
from weighty_axle.job.models.inverters import Inverters, Stacking
from weighty_axle.reference import tables


def states(wiring: AcWiring, circuits: tuple[LiveCircuit, ...], inverters: Inverters) -> StatesResult:
    """Every state of the AC side.

    Source: textbook relations (nodes and Kirchhoff's laws); one bond at a time: NEC 250.6 and 551.54, IEC 60364-4-41
        and 60364-7-717, recalled.
    """
    ways = [(wiring, joined_terminals(wiring, inverters))]
    if wiring.second_input:
        second = on_second_input(wiring, inverters)
        ways.append((second, joined_terminals(second, inverters)))
    tags = [inlet.tag for inlet in wiring.inlets]
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
    # Sizes of the two practices have names of their own.
    neutral_a = {row.size: row.amps for row in tables.ac_conductors().rows}
    found, shut_out = [], 0
    for standing in places:
        placed = [(way, nodes.fork()) for way, nodes in ways]
        for (_, nodes), (selector, position) in itertools.product(placed, zip(wiring.selectors, standing, strict=True)):
            close_contacts(nodes, selector, position)
        for (mode, stacking), plugged in itertools.product(modes, itertools.product(*choices)):
            live = {tag for tag, source in zip(tags, plugged, strict=True) if source is not None}
            way, nodes = placed[wiring.second_input in live and wiring.fed_from not in live]
            state = LiveState(way, inverters, nodes.fork(), plugged, mode, stacking, standing)
            asked = state.disagreement()
            if asked is not None and asked.interlocked:
                shut_out += 1
                continue
            state.settle()
            found.append(state.finished(hazards(state, circuits, asked, neutral_a)))
    return StatesResult(tuple(found), shut_out)
