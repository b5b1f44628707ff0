"""Rules of DC circuits, panels and bars."""

from __future__ import annotations

import math
from collections.abc import Iterator

from weighty_axle.design.figures import PRACTICE, Figure, over
from weighty_axle.design.table import Design
from weighty_axle.design.wiring.direct import DcCircuitResult, DcPanelResult
from weighty_axle.design.wiring.runs import LOAD_FACTOR
from weighty_axle.job.edits.edit import Edit, set_value
from weighty_axle.job.models.wiring import DcCircuit, DcPanel
from weighty_axle.physics.electric.protection import next_rating_a
from weighty_axle.reference.tables import fuse_ratings
from weighty_axle.rules.registry import Hit, amps, hit, rule
from weighty_axle.units import conductor_words


def _larger_fuse(design: Design, path: str, tag: str, current: Figure) -> Edit | None:
    ratings = fuse_ratings(design.job.practice).amps
    needed = current.value * LOAD_FACTOR
    if needed > ratings[-1]:
        return None
    rating = next_rating_a(needed, ratings)
    return set_value(f"{path}.fuse_a", rating, f"Fuse of {tag}: {rating:g} A")


@rule(
    "wiring.dc-circuit-over",
    "stop",
    "{circuit} carries {current}; its fuse of {fuse} is under 1.25 times that.",
    "NEC 210.20 (125 %), recalled",
)
def dc_circuit_over(design: Design) -> Iterator[Hit]:
    """A DC circuit above its fuse."""
    for one, stated in _circuits(design):
        if over(one.current_a.value * LOAD_FACTOR, stated.fuse_a):
            remedy = _larger_fuse(design, f"dc.circuits[{one.tag}]", one.tag, one.current_a)
            yield hit(
                one.tag, *one.loads, circuit=one.name, current=one.current_a, fuse=amps(stated.fuse_a), remedy=remedy
            )


def _circuits(design: Design) -> list[tuple[DcCircuitResult, DcCircuit]]:
    known = {one.tag: one for one in design.whole.dc.circuits}
    return [(one, known[one.tag]) for one in design.direct.circuits]


def _panels(design: Design) -> list[tuple[DcPanelResult, DcPanel]]:
    known = {one.tag: one for one in design.whole.dc.panels}
    return [(one, known[one.tag]) for one in design.direct.panels]


def _wires(design: Design) -> list[tuple[DcCircuitResult | DcPanelResult, DcCircuit | DcPanel]]:
    """Circuits and feeders of panels alike."""
    return [*_circuits(design), *_panels(design)]


@rule(
    "wiring.dc-copper",
    "stop",
    "{circuit}: {size} carries {ampacity}, but its fuse is {fuse}: the cable burns before the fuse opens.",
    "NEC 240.4 (conductor protected at its ampacity), recalled",
)
def dc_copper(design: Design) -> Iterator[Hit]:
    """Copper of a DC circuit or feeder thinner than its fuse."""
    for one, stated in _wires(design):
        if over(stated.fuse_a, one.ampacity_a.value):
            yield hit(
                one.tag,
                circuit=one.name,
                size=conductor_words(stated.size),
                ampacity=one.ampacity_a,
                fuse=amps(stated.fuse_a),
            )


@rule(
    "wiring.dc-copper-unknown",
    "check",
    "{circuit} is of {size}: the job's ampacity table does not have it, so nothing is judged.",
    PRACTICE,
)
def dc_copper_unknown(design: Design) -> Iterator[Hit]:
    """A size of the other practice, or of no table."""
    for one, stated in _wires(design):
        if math.isnan(one.ampacity_a.value):
            yield hit(one.tag, circuit=one.name, size=conductor_words(stated.size))


@rule(
    "wiring.dc-start",
    "check",
    "{circuit} draws {start} as it starts; its fuse is {fuse}.",
    PRACTICE,
    "A motor's start lasts a moment: a slow fuse may hold, one of twice the start surely does.",
)
def dc_start(design: Design) -> Iterator[Hit]:
    """A start above the fuse."""
    for one, stated in _circuits(design):
        if over(one.start_a.value, stated.fuse_a) and not over(one.current_a.value * LOAD_FACTOR, stated.fuse_a):
            yield hit(one.tag, *one.loads, circuit=one.name, start=one.start_a, fuse=amps(stated.fuse_a))


@rule("wiring.dc-panel-over", "stop", "{panel} carries {current} together; its {what} is for {limit}.", PRACTICE)
def dc_panel_over(design: Design) -> Iterator[Hit]:
    """A panel above its block or its feeder's fuse."""
    for one, stated in _panels(design):
        if over(one.current_a.value, stated.block_a):
            yield hit(one.tag, panel=one.name, current=one.current_a, what="block", limit=amps(stated.block_a))
        elif over(one.current_a.value * LOAD_FACTOR, stated.fuse_a):
            remedy = _larger_fuse(design, f"dc.panels[{one.tag}]", one.tag, one.current_a)
            yield hit(
                one.tag,
                panel=one.name,
                current=one.current_a,
                what="feeder fuse",
                limit=amps(stated.fuse_a),
                remedy=remedy,
            )


@rule(
    "wiring.dc-block-fuse",
    "stop",
    "{panel} is made for {block}; its feeder fuse of {fuse} lets more through.",
    PRACTICE,
)
def dc_block_fuse(design: Design) -> Iterator[Hit]:
    """A feeder fuse above the block's own rating."""
    for one, stated in _panels(design):
        if over(stated.fuse_a, stated.block_a):
            yield hit(
                one.tag,
                panel=one.name,
                block=amps(stated.block_a),
                fuse=amps(stated.fuse_a),
                remedy=set_value(
                    f"dc.panels[{one.tag}].fuse_a", stated.block_a, f"Feeder fuse of {one.tag}: {stated.block_a:g} A"
                ),
            )


@rule("wiring.dc-ways", "stop", "{panel} has {ways} ways; {taken} circuits are in it.", PRACTICE)
def dc_ways(design: Design) -> Iterator[Hit]:
    """More circuits than ways."""
    for one, stated in _panels(design):
        if one.ways_free < 0:
            yield hit(one.tag, panel=one.name, ways=str(stated.ways), taken=str(one.ways_taken))


@rule("wiring.switch-small", "stop", "{panel} carries {current}; {switch} is rated {rating}.", PRACTICE)
def switch_small(design: Design) -> Iterator[Hit]:
    """An either-or switch too small for what it feeds."""
    by_tag = {one.tag: one for one in design.direct.panels}
    for switch in design.whole.dc.switches:
        panel = by_tag.get(switch.feeds)
        if panel is not None and over(panel.current_a.value, switch.amps):
            yield hit(
                switch.tag,
                panel.tag,
                panel=panel.name,
                current=panel.current_a,
                switch=switch.name,
                rating=amps(switch.amps),
            )


@rule("wiring.bar-over", "stop", "{bar} carries {current}; its {what} is for {limit}.", PRACTICE)
def bar_over(design: Design) -> Iterator[Hit]:
    """Bars, main switch or shunt under the largest current of the main run."""
    board, main = design.job.wiring.board, design.wiring.main
    for what, rated in (("bars", board.rated_a), ("main switch", board.main_switch_a), ("shunt", board.shunt_a)):
        if rated is not None and over(main.current_a.value, rated):
            yield hit(board.tag, bar=board.name, current=main.current_a, what=what, limit=amps(rated))


@rule(
    "wiring.bar-ways", "check", "{bar} has {ways} fused ways; {taken} are taken and {spare} are to stay free.", PRACTICE
)
def bar_ways(design: Design) -> Iterator[Hit]:
    """More leads than ways, those kept spare counted."""
    board = design.job.wiring.board
    if board.ways is None:
        return
    straight = [one for one in design.direct.circuits if not one.panel and one.bar == board.tag]
    panels = [one for one in design.direct.panels if one.bar == board.tag]
    taken = len(design.wiring.runs) - 1 + len(straight) + len(panels)
    if taken + board.spare > board.ways:
        yield hit(board.tag, bar=board.name, ways=str(board.ways), taken=str(taken), spare=str(board.spare))
