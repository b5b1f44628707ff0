"""The AC side: where it plugs in, circuits, panels, states, selectors, sleep."""

from __future__ import annotations

from typing import Any

from weighty_axle.design.cables import AC_FEEDER_M
from weighty_axle.exports.pages.cards import selector_part, sources_part
from weighty_axle.exports.pages.page import PackPages
from weighty_axle.units import conductor_words, show


def pages(on: PackPages) -> list[Any]:
    """Places to plug in, circuits, panels, states that are wrong, selectors, and what sleep leaves alive."""
    design = on.design
    names = {load.tag: load.name for load in design.job.loads}
    circuits = [["Circuit", "Panel", "Line", "Breaker", "Wire", "RCD", "Draws", "Loads"]]
    circuits += [
        [
            circuit.name,
            circuit.panel,
            "+".join(circuit.lines),
            show(circuit.circuit.breaker_a, "A"),
            conductor_words(circuit.circuit.size),
            f"{circuit.circuit.rcd_ma:g} mA" if circuit.circuit.rcd_ma else "–",
            show(result.running_a.value, "A"),
            ", ".join(names[tag] for tag in circuit.loads),
        ]
        for circuit, result in zip(design.circuits, design.panels.circuits, strict=True)
        if circuit.stated
    ]
    lengths = on.design.house
    boards = [["Panel", "Fed from", "Feeder", "Breaker", "Carries", "Drop"]]
    boards += [
        [
            panel.name,
            panel.fed_from,
            f"{conductor_words(panel.size)}, {show(lengths.length_m(panel.tag, AC_FEEDER_M).value, 'm', on.system)}",
            show(panel.breaker_a, "A"),
            show(board.feeder_a.value, "A") + (f" on {board.line}" if len(on.design.ac.lines) > 1 else ""),
            show(board.drop_share.value, "1"),
        ]
        for panel, board in zip(design.ac.panels, design.panels.panels, strict=True)
    ]
    asleep = design.storage
    switch = design.job.ac.storage.switch or "no switch named"
    sleep = (
        f"Put to sleep with: {switch}. Then {show(asleep.alive_w.value, 'W')} stay; the bank lasts "
        f"{show(asleep.lasts_days.value, 'days')}."
    )
    wrong = sum(bool(state.hazards) for state in design.states.states)
    flow = [*sources_part(on, design, on.system)] if design.sources else []
    flow += [on.text("Panels", on.head), on.table(boards, (0.24, 0.16, 0.22, 0.12, 0.16, 0.1))]
    if len(circuits) > 1:
        flow += [on.text("Circuits", on.head), on.table(circuits, (0.2, 0.09, 0.08, 0.1, 0.1, 0.08, 0.1, 0.25))]
    for selector in design.job.ac.selectors:
        flow += selector_part(on, design, selector)
    return [
        *flow,
        on.text(f"{len(design.states.states)} states of the AC side were gone through; something is wrong in {wrong}."),
        on.text(sleep),
    ]
