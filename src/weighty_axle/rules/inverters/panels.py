"""Rules of the AC side: circuits, feeders, relays, drop, residual-current protection."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.answers.inverters.panel_proposals import circuits_for_loads
from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Figure, over
from weighty_axle.design.inverters.panels import CONTINUOUS_LOAD_SHARE
from weighty_axle.design.inverters.state import State
from weighty_axle.design.table import Design
from weighty_axle.job.edits.edit import set_value
from weighty_axle.job.models.inverters import LINES
from weighty_axle.reference import tables
from weighty_axle.rules.registry import Hit, amps, hit, rule, share

DROP_SHARE = 0.05
"""Drop from the inverters to the end of a circuit.

Source: NEC 210.19 informational note 4 and IEC 60364-5-52 annex G, recalled.
"""
MOST_RCD_MA = {"north_american": 6.0, "international": 30.0}
"""Residual current at which people are still protected: ground-fault class A, 6 mA (UL 943), and 30 mA (IEC 60364-4-41
411.3.3), both recalled.
"""


def _line(design: Design, line: str) -> str:
    """A line as people call it: where there is only one it has no number."""
    return line if len(design.ac.lines) > 1 else "the line"


@rule(
    "inverters.leg-named-twice",
    "check",
    "{load} names {own}, its circuit {circuit} hangs on {leg}; the circuit counts.",
    PRACTICE,
)
def leg_named_twice(design: Design) -> Iterator[Hit]:
    """A load and its circuit that do not agree on the leg."""
    circuits = {circuit.tag: circuit for circuit in design.job.ac.circuits}
    lines = LINES[design.job.inverters.stacking]
    for load in design.job.loads:
        circuit = circuits.get(load.circuit)
        if (
            circuit is None
            or len(lines) == 1
            or circuit.leg == "open"
            or load.supply in ("leg_open", "AC", circuit.leg)
        ):
            continue
        if load.supply.startswith("DC"):
            yield hit(load.tag, load=load.name, own="DC", circuit=circuit.name, leg=circuit.leg)
            continue
        remedy = set_value(f"loads[{load.tag}].supply", circuit.leg, f"{load.name} on {circuit.leg}")
        yield hit(
            load.tag, circuit.tag, load=load.name, own=load.supply, circuit=circuit.name, leg=circuit.leg, remedy=remedy
        )


@rule(
    "inverters.circuit-over-breaker", "stop", "{circuit} draws {current} ({when}); its breaker is {breaker}.", PRACTICE
)
def circuit_over_breaker(design: Design) -> Iterator[Hit]:
    """A circuit that trips its breaker by what hangs on it."""
    for circuit, result in zip(design.circuits, design.panels.circuits, strict=True):
        if circuit.stated and over(result.running_a.value, circuit.circuit.breaker_a):
            yield hit(
                circuit.tag,
                circuit=circuit.name,
                current=result.running_a,
                when=result.running_a.limit,
                breaker=amps(circuit.circuit.breaker_a),
            )


@rule(
    "inverters.circuit-for-hours",
    "check",
    "{circuit} draws {current} for hours; a breaker of {breaker} is good for {good} of that kind.",
    "NEC 210.20(A), recalled",
)
def circuit_for_hours(design: Design) -> Iterator[Hit]:
    """Continuous load above the breaker's share."""
    part = CONTINUOUS_LOAD_SHARE[design.job.practice]
    for circuit, result in zip(design.circuits, design.panels.circuits, strict=True):
        breaker = circuit.circuit.breaker_a
        if (
            circuit.stated
            and result.hours_on_end
            and over(result.running_a.value, part * breaker)
            and not over(result.running_a.value, breaker)
        ):
            yield hit(
                circuit.tag,
                circuit=circuit.name,
                current=result.running_a,
                breaker=amps(breaker),
                good=amps(part * breaker),
            )


@rule(
    "inverters.breaker-over-copper",
    "stop",
    "{what}: breaker {breaker} on {size}, which may have {limit}.",
    "reference/ac_conductors.json, recalled",
)
def breaker_over_copper(design: Design) -> Iterator[Hit]:
    """A breaker the conductor burns under before it trips."""
    for circuit, result in zip(design.circuits, design.panels.circuits, strict=True):
        one = circuit.circuit
        if circuit.stated and result.copper_a is not None and over(one.breaker_a, result.copper_a.value):
            remedy = set_value(
                f"ac.circuits[{circuit.tag}].breaker_a",
                result.copper_a.value,
                f"{circuit.name}: breaker {result.copper_a.value:g} A",
            )
            yield hit(
                circuit.tag,
                what=circuit.name,
                breaker=amps(one.breaker_a),
                size=one.size,
                limit=result.copper_a,
                remedy=remedy,
            )
    stated = {panel.tag for panel in design.job.ac.panels}
    for panel, board in zip(design.ac.panels, design.panels.panels, strict=True):
        if panel.tag in stated and board.copper_a is not None and over(panel.breaker_a, board.copper_a.value):
            remedy = set_value(
                f"ac.panels[{panel.tag}].breaker_a",
                board.copper_a.value,
                f"Feeder of {panel.name}: breaker {board.copper_a.value:g} A",
            )
            yield hit(
                panel.tag,
                what=f"Feeder of {panel.name}",
                breaker=amps(panel.breaker_a),
                size=panel.size,
                limit=board.copper_a,
                remedy=remedy,
            )


@rule(
    "inverters.copper-unknown",
    "check",
    "{what} is of {size}: this practice's table of AC conductors does not have it, so nothing is judged.",
    "reference/ac_conductors.json, recalled",
)
def copper_unknown(design: Design) -> Iterator[Hit]:
    """A size the table does not list."""
    known = {row.size for row in tables.ac_conductors().rows if row.practice == design.job.practice}
    for circuit in design.job.ac.circuits:
        if circuit.size not in known:
            yield hit(circuit.tag, what=circuit.name, size=circuit.size)
    for panel in design.job.ac.panels:
        if panel.size not in known:
            yield hit(panel.tag, what=f"The feeder of {panel.name}", size=panel.size)


@rule(
    "inverters.feeder-over",
    "stop",
    "The feeder of {panel} carries {current} on {line} ({when}); {what} is good for {limit}{more}.",
    "textbook relation: the feeder carries the sum",
)
def feeder_over(design: Design) -> Iterator[Hit]:
    """The sum of what a panel feeds above its feeder's breaker or its own bus."""
    for panel, board in zip(design.ac.panels, design.panels.panels, strict=True):
        if panel not in design.job.ac.panels:
            continue
        what, limit = min((("its breaker", panel.breaker_a), ("its bus", panel.bus_a)), key=lambda pair: pair[1])
        if over(board.feeder_a.value, limit):
            yield hit(
                panel.tag,
                panel=panel.name,
                current=board.feeder_a,
                line=_line(design, board.line),
                when=board.feeder_a.limit,
                what=what,
                limit=amps(limit),
                more=board.feeder.more(limit),
            )


@rule(
    "inverters.feeder-neutral-over",
    "stop",
    "The neutral to {panel} carries {current} ({when}); {size} is good for {limit}{more}. No breaker guards a neutral.",
    "textbook relation: Kirchhoff's current law; reference/ac_conductors.json, recalled",
    "A heavier feeder, or less on it where both legs are fed alike.",
)
def feeder_neutral_over(design: Design) -> Iterator[Hit]:
    """A feeder's neutral above what its copper or the panel's bar carries: lines that are fed alike add in it."""
    for panel, board in zip(design.ac.panels, design.panels.panels, strict=True):
        if panel not in design.job.ac.panels or board.copper_a is None:
            continue
        limit = min(board.copper_a.value, panel.bus_a)
        if over(board.neutral_a.value, limit):
            yield hit(
                panel.tag,
                panel=panel.name,
                current=board.neutral_a,
                when=board.neutral_a.limit,
                size=panel.size,
                limit=amps(limit),
                more=board.neutral.more(limit),
            )


@rule(
    "inverters.feeder-small",
    "check",
    (
        "{panel}: branch breakers add up to {sum} on {line}; its feeder breaker is {breaker} and no more than {inlet} "
        "can give."
    ),
    PRACTICE,
)
def feeder_small(design: Design) -> Iterator[Hit]:
    """An old inlet feeding a panel that has grown: the feeder's breaker is above the inlet's own rating."""
    inlets = {inlet.tag: inlet for inlet in design.ac.inlets}
    for panel, board in zip(design.ac.panels, design.panels.panels, strict=True):
        inlet = inlets.get(panel.fed_from)
        if inlet is not None and panel.breaker_a > inlet.amps:
            remedy = set_value(
                f"ac.panels[{panel.tag}].breaker_a", inlet.amps, f"Feeder of {panel.name}: breaker {inlet.amps:g} A"
            )
            words = f"{inlet.name} ({inlet.amps:g} A)"
            yield hit(
                panel.tag,
                inlet.tag,
                panel=panel.name,
                sum=board.breakers_a,
                line=_line(design, board.line),
                breaker=amps(panel.breaker_a),
                inlet=words,
                remedy=remedy,
            )


@rule("inverters.inlet-under-source", "stop", "{source} is set to {limit}; {inlet} is rated {rating}.", PRACTICE)
def inlet_under_source(design: Design) -> Iterator[Hit]:
    """An inlet weaker than the limit set for what is plugged into it."""
    inlets = {inlet.tag: inlet for inlet in design.job.ac.inlets}
    for source, row in zip(design.job.inverters.sources, design.sources, strict=True):
        inlet = inlets.get(source.inlet) or next(iter(inlets.values()), None)
        if inlet is not None and source.limit_a > inlet.amps:
            safe = row.recommended_limit_a.value
            remedy = set_value(f"inverters.sources[{source.tag}].limit_a", safe, f"Limit {source.name} to {safe:g} A")
            yield hit(
                source.tag,
                inlet.tag,
                source=source.name,
                limit=amps(source.limit_a),
                inlet=inlet.name,
                rating=amps(inlet.amps),
                remedy=remedy,
            )


@rule(
    "inverters.relay-through",
    "stop",
    "Plugged in, one transfer relay on {line} passes {current} ({when}); it carries {limit}{more}.",
    "inverter datasheet",
)
def relay_through(design: Design) -> Iterator[Hit]:
    """Loads and chargers through one relay above its rating."""
    rating = design.job.inverters.spec.transfer_a
    for relay in design.panels.relays:
        if over(relay.passes_a.value, rating):
            line = _line(design, relay.line)
            tags = tuple(unit.tag for unit in design.job.inverters.units)
            yield hit(
                *tags,
                line=line,
                current=relay.passes_a,
                when=relay.passes_a.limit,
                limit=amps(rating),
                more=relay.passes.more(rating),
            )


@rule(
    "inverters.drop",
    "check",
    "{circuit} loses {drop} of its voltage to its end, feeders counted; {limit} is usual at most.",
    "NEC 210.19 informational note, IEC 60364-5-52 annex G, recalled",
)
def drop(design: Design) -> Iterator[Hit]:
    """Voltage lost on the way to a circuit's end."""
    boards = {board.tag: board for board in design.panels.panels}
    fed_from = {panel.tag: panel.fed_from for panel in design.ac.panels}
    for circuit, result in zip(design.circuits, design.panels.circuits, strict=True):
        parts, feed = [result.drop_share], circuit.panel
        while feed in boards:
            parts.append(boards[feed].drop_share)
            feed = fed_from[feed]
        lost = sum(part.value for part in parts)
        if circuit.stated and lost > DROP_SHARE:
            figure = Figure(
                name=f"Drop as far as {circuit.name}",
                value=lost,
                unit="1",
                formula="Σ of circuit and feeders",
                inputs=tuple(parts),
                source=TEXTBOOK,
            )
            yield hit(circuit.tag, circuit=circuit.name, drop=figure, limit=share(DROP_SHARE))


@rule(
    "inverters.no-circuits",
    "note",
    "{count} AC loads are on no circuit yet: breakers, wires and residual-current devices are not judged for them.",
    PRACTICE,
)
def no_circuits(design: Design) -> Iterator[Hit]:
    """Loads that still want a circuit; the remedy makes one for each."""
    loose = [circuit.tag for circuit in design.circuits if not circuit.stated]
    if loose:
        yield hit(*loose, count=str(len(loose)), remedy=circuits_for_loads(design))


@rule(
    "inverters.rcd-missing",
    "stop",
    "{circuit} ends in sockets and no residual-current device guards it: {state}.",
    "NEC 551.40(C) and 210.8, IEC 60364-4-41 411.3.3 and 60364-7-717, recalled",
)
def rcd_missing(design: Design) -> Iterator[Hit]:
    """Sockets without a residual-current device in some state in which they are live."""
    for circuit, state, found in _guards(design):
        if not found:
            yield hit(circuit, circuit=_name(design, circuit), state=state.words)


@rule(
    "inverters.rcd-slow",
    "check",
    "{circuit} ends in sockets; what guards it trips at {guard}, people need {limit} or less: {state}.",
    "UL 943 class A and NEC 210.8; IEC 60364-4-41 411.3.3, recalled",
)
def rcd_slow(design: Design) -> Iterator[Hit]:
    """Sockets behind a device too coarse for people."""
    limit = MOST_RCD_MA[design.job.practice]
    for circuit, state, found in _guards(design):
        if found and min(found) > limit:
            yield hit(
                circuit,
                circuit=_name(design, circuit),
                state=state.words,
                guard=f"{min(found):g} mA",
                limit=f"{limit:g} mA",
            )


def _name(design: Design, tag: str) -> str:
    return next(circuit.name for circuit in design.circuits if circuit.tag == tag)


def _guards(design: Design) -> Iterator[tuple[str, State, tuple[float, ...]]]:
    """Every circuit of sockets with the state in which it is guarded worst, and the devices on the way then [mA]."""
    for circuit in design.job.ac.circuits:
        if not circuit.outlets:
            continue
        panel = next(one.panel for one in design.circuits if one.tag == circuit.tag)
        worst: tuple[State, tuple[float, ...]] | None = None
        for state in design.states.states:
            own = next(one for one in state.panels if one.tag == panel)
            if not own.lines:
                continue
            found = (*((circuit.rcd_ma,) if circuit.rcd_ma else ()), *own.rcds_ma)
            if worst is None or min(found, default=1e9) > min(worst[1], default=1e9):
                worst = (state, found)
        if worst is not None:
            yield circuit.tag, *worst
