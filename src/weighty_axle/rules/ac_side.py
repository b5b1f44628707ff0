"""Rules of the AC side: states that endanger, circuits, feeders, residual-current protection, selectors, sleep."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from weighty_axle.design.ac_wiring import ac_wiring, terminals
from weighty_axle.design.derive import Design
from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Figure, Given, over
from weighty_axle.design.panel_proposals import circuits_for_loads
from weighty_axle.design.panels import CONTINUOUS_LOAD_SHARE
from weighty_axle.design.states import Danger, State, states
from weighty_axle.job.ac import IMPLIED_INLET, IMPLIED_PANEL, LINES
from weighty_axle.job.ac_edits import STACKING_WORDS
from weighty_axle.job.edits import Edit, set_value
from weighty_axle.reference import tables
from weighty_axle.rules.registry import Hit, Severity, amps, hit, rule, share

BOND_SOURCE = "one bond at a time: NEC 250.6, 250.142 and 551.54, IEC 60364-4-41 411.3 and 60364-7-717, recalled"
DROP_SHARE = 0.05
"""Drop from the inverters to the end of a circuit. Source: NEC 210.19 informational note 4 and IEC 60364-5-52 annex G, recalled."""
MOST_RCD_MA = {"north_american": 6.0, "international": 30.0}
"""Residual current at which people are still protected: ground-fault class A, 6 mA (UL 943), and 30 mA (IEC 60364-4-41 411.3.3), both recalled."""


# ---- states --------------------------------------------------------------------------------------------------

_DANGERS: dict[Danger, tuple[Severity, str, str]] = {
    "two_bonds": ("stop", BOND_SOURCE, "Leave one bond: the source's when plugged in, one inverter's relay when not."),
    "no_bond": ("stop", BOND_SOURCE, "Give the state one bond: an inverter's relay, or a bonded source."),
    "paralleled": ("stop", "two supplies that are not in step short each other: common practice, no source", "Put a break-before-make selector between them."),
    "legs_joined": ("stop", "textbook relation: two phasors apart joined are a short circuit", "Take the joining contact away."),
    "energy_loop": ("stop", PRACTICE, "Feed the inverters from the inlet only."),
    "charger_loop": ("stop", PRACTICE, "Put the charger on a panel before the inverters, or take it out: the inverter-chargers charge."),
    "pins_live": ("stop", "IEC 60309 and NEC 406.7, recalled: plugs' pins must be dead when withdrawn", "Take away the contact that leads back to the inlet."),
    "across_dead": ("stop", "textbook relation: |V1 − V2| of equal phasors is zero", "Open that circuit's breaker in this state, or keep the inverters split-phase."),
    "across_weak": ("check", PRACTICE, "Switch it off there, or let the inverters run it from the bank."),
    "shared_neutral": ("stop", "textbook relation: Kirchhoff's current law; NEC 210.4, recalled", "Give each circuit a neutral of its own."),
    "disagree": ("stop", "two changes that must agree: common practice, no source", "Interlock the selector: an auxiliary contact or a key that keeps the inverters off."),
}  # fmt: skip


def _endangered(danger: Danger, design: Design) -> Iterator[Hit]:
    """What is wrong in the simplest state it happens in, and in how many more. What one unswitched neutral does is told once."""
    by_words: dict[str, list[tuple[State, tuple[str, ...]]]] = {}
    for state in design.states.with_danger(danger):
        for one in state.hazards:
            if one.danger == danger:
                by_words.setdefault(one.words, []).append((state, one.tags))
    if danger == "two_bonds":
        yield from _unswitched_neutrals(design, by_words)
    stands = {selector.tag: selector.now for selector in design.ac.selectors}
    for words, found in by_words.items():
        state, tags = min(found, key=lambda pair: (sum(stands[tag] != name for tag, name in pair[0].positions), len(pair[0].plugged)))
        more = _more(len(found))
        selector = next((one for one in design.ac.selectors if one.tag in tags), None)
        remedy = None
        if danger == "disagree" and selector is not None:
            remedy = set_value(f"ac.selectors[{selector.tag}].interlocked", True, f"Interlock {selector.name}")
        if danger == "no_bond":
            remedy = _bond(design, state)
        implied = {IMPLIED_INLET, IMPLIED_PANEL} - {panel.tag for panel in design.job.ac.panels}
        yield hit(*(tag for tag in tags if tag not in implied), what=words[0].upper() + words[1:], state=state.words, more=more, remedy=remedy)


def _more(states: int) -> str:
    """In how many more states, as words."""
    return "" if states == 1 else f" (and in {states - 1} more state{'s' if states > 2 else ''})"


def _unswitched_neutrals(design: Design, by_words: dict[str, list[tuple[State, tuple[str, ...]]]]) -> Iterator[Hit]:
    """Double bonds that are gone once a selector switches its neutral: one finding for the selector; they are taken out of `by_words`."""
    for selector in design.job.ac.selectors:
        if selector.switches_neutral or not by_words:
            continue
        remedy = set_value(f"ac.selectors[{selector.tag}].switches_neutral", True, f"{selector.name} switches the neutral too")
        job = remedy.apply(design.job)
        wiring = ac_wiring(job.ac, job.inverters)
        left = {
            (_key(state), one.words) for state in states(wiring, design.circuits, job.inverters).with_danger("two_bonds") for one in state.hazards
        }  # fmt: skip
        caused = [(state, words) for words, found in by_words.items() for state, _ in found if (_key(state), words) not in left]
        if caused:
            state, words = min(caused, key=lambda pair: len(pair[0].plugged))
            for one in {words for _, words in caused}:
                kept = [(state, tags) for state, tags in by_words.pop(one) if (_key(state), one) in left]
                if kept:
                    by_words[one] = kept
            what = f"{selector.name} does not switch the neutral: {words}"
            yield hit(selector.tag, what=what, state=state.words, more=_more(len({_key(state) for state, _ in caused})), remedy=remedy)


def _key(state: State) -> tuple[object, ...]:
    return state.plugged, state.mode, state.stacking, state.positions


def _bond(design: Design, state: State) -> Edit | None:
    """A bond where a state has none: in the first inverter, or at the source that floats."""
    if state.inverting:
        tag = state.inverting[0]
        return set_value(f"inverters.units[{tag}].bonds", True, f"Let the relay of {tag} bond the neutral")
    floating = next((one for one in design.job.inverters.sources if one.tag in state.plugged and not one.bonded), None)
    return set_value(f"inverters.sources[{floating.tag}].bonded", True, f"Bond the neutral at {floating.name} (bonding plug)") if floating else None


for _danger, (_severity, _source, _advice) in _DANGERS.items():
    rule(f"inverters.{_danger.replace('_', '-')}", _severity, "{what}: {state}{more}.", _source, _advice)(partial(_endangered, _danger))


@rule("inverters.selector-now", "stop", "{selector} stands at {position}, which asks for inverters {wanted}; they are set otherwise.", PRACTICE)
def selector_now(design: Design) -> Iterator[Hit]:
    """Position and configuration as stated do not agree."""
    for selector in design.ac.selectors:
        position = next(one for one in selector.positions if one.name == selector.now)
        fits = next((one for one in selector.positions if one.stacking == design.job.inverters.stacking), None)
        if position.stacking is not None and position.stacking != design.job.inverters.stacking:
            remedy = set_value(f"ac.selectors[{selector.tag}].now", fits.name, f"{selector.name} stands at {fits.name}") if fits else None
            yield hit(selector.tag, selector=selector.name, position=selector.now, wanted=STACKING_WORDS[position.stacking], remedy=remedy)


@rule("inverters.contact-nowhere", "stop", "{selector}, position {position}, closes a contact at {terminal}: there is no such terminal.", PRACTICE)
def contact_nowhere(design: Design) -> Iterator[Hit]:
    """A contact to a line the thing does not have."""
    known = set(terminals(design.ac, design.job.inverters))
    for selector in design.ac.selectors:
        for position in selector.positions:
            for name in dict.fromkeys(end for contact in position.contacts for end in (contact.start, contact.end) if end not in known):
                yield hit(selector.tag, selector=selector.name, position=position.name, terminal=name)


@rule("inverters.selector-without-off", "check", "{selector} has no position in which every contact is open: it cannot be changed dead.", PRACTICE)
def selector_without_off(design: Design) -> Iterator[Hit]:
    """No centre off."""
    for selector in design.ac.selectors:
        if all(position.contacts for position in selector.positions):
            yield hit(selector.tag, selector=selector.name)


@rule("inverters.selector-over", "stop", "{source} can bring {limit} a line; {selector} is rated {rating}.", PRACTICE)
def selector_over(design: Design) -> Iterator[Hit]:
    """A selector weaker than what a source's limit lets through one of its contacts; units on one line have a contact each."""
    inlets = {inlet.tag for inlet in design.ac.inlets}
    first = design.ac.inlets[0].tag
    for selector in design.ac.selectors:
        through = {contact.start.split(".")[0] for position in selector.positions for contact in position.contacts} & inlets
        for source, row in zip(design.job.inverters.sources, design.sources, strict=True):
            shared = min((one.units for one in row.unit_limits), default=1) if source.legs_in_phase else 1
            if (source.inlet or first) in through and over(source.limit_a, selector.amps * shared):
                yield hit(
                    selector.tag, source.tag, source=source.name, limit=amps(source.limit_a), selector=selector.name, rating=amps(selector.amps)
                )


@rule("inverters.panel-unfed", "stop", "{panel} is live in no state: nothing ever reaches its feeder.", PRACTICE)
def panel_unfed(design: Design) -> Iterator[Hit]:
    """A panel without a feeder that is ever live."""
    for panel in design.ac.panels:
        if not any(own.lines for state in design.states.states for own in state.panels if own.tag == panel.tag):
            yield hit(panel.tag, panel=panel.name)


@rule(
    "inverters.source-not-taken", "check", "The inverters, as they are set, let nothing of {source} through.", PRACTICE,
    "Set them so that they take it (at an unknown site: in phase first, it accepts one line and two), or use another adapter.",
)  # fmt: skip
def source_not_taken(design: Design) -> Iterator[Hit]:
    """A source the inverters refuse, with no selector position that would take it."""
    for source, row in zip(design.job.inverters.sources, design.sources, strict=True):
        if not row.accepted and row.feeds_inverters:
            yield hit(source.tag, source=source.name)


@rule(
    "inverters.source-beside",
    "check",
    "{source} goes into {inlet}, which leads to no inverter: it charges nothing and runs no load behind them.",
    PRACTICE,
)
def source_beside(design: Design) -> Iterator[Hit]:
    """A source whose inlet feeds panels only, or nothing at all (the inlet is told then)."""
    useful = _inlets_in_use(design)
    inlets = {inlet.tag: inlet for inlet in design.ac.inlets}
    for source, row in zip(design.job.inverters.sources, design.sources, strict=True):
        inlet = inlets[source.inlet or design.ac.inlets[0].tag]
        if not row.feeds_inverters and inlet.tag in useful:
            yield hit(source.tag, inlet.tag, source=source.name, inlet=inlet.name)


@rule("inverters.inlet-idle", "check", "{inlet} feeds nothing: no inverter and no panel hangs on it.", PRACTICE)
def inlet_idle(design: Design) -> Iterator[Hit]:
    """An inlet with nothing behind it."""
    useful = _inlets_in_use(design)
    for inlet in design.job.ac.inlets:
        if inlet.tag not in useful:
            yield hit(inlet.tag, inlet=inlet.name)


def _line(design: Design, line: str) -> str:
    """A line as people call it: where there is only one it has no number."""
    return line if len(design.ac.lines) > 1 else "the line"


def _inlets_in_use(design: Design) -> set[str]:
    """Inlets that a panel, the inverters or a selector's contact hangs on."""
    wiring = design.ac
    contacts = {
        end.split(".")[0]
        for one in wiring.selectors
        for position in one.positions
        for contact in position.contacts
        for end in (contact.start, contact.end)
    }
    return {wiring.fed_from, *(panel.fed_from for panel in wiring.panels), *contacts}


# ---- circuits and feeders ------------------------------------------------------------------------------------


@rule("inverters.leg-named-twice", "check", "{load} names {own}, its circuit {circuit} hangs on {leg}; the circuit counts.", PRACTICE)
def leg_named_twice(design: Design) -> Iterator[Hit]:
    """A load and its circuit that do not agree on the leg."""
    circuits = {circuit.tag: circuit for circuit in design.job.ac.circuits}
    lines = LINES[design.job.inverters.stacking]
    for load in design.job.loads:
        circuit = circuits.get(load.circuit)
        if circuit is None or len(lines) == 1 or circuit.leg == "open" or load.supply in ("leg_open", "AC", circuit.leg):
            continue
        if load.supply.startswith("DC"):
            yield hit(load.tag, load=load.name, own="DC", circuit=circuit.name, leg=circuit.leg)
            continue
        remedy = set_value(f"loads[{load.tag}].supply", circuit.leg, f"{load.name} on {circuit.leg}")
        yield hit(load.tag, circuit.tag, load=load.name, own=load.supply, circuit=circuit.name, leg=circuit.leg, remedy=remedy)


@rule("inverters.circuit-over-breaker", "stop", "{circuit} draws {current} ({when}); its breaker is {breaker}.", PRACTICE)
def circuit_over_breaker(design: Design) -> Iterator[Hit]:
    """A circuit that trips its breaker by what hangs on it."""
    for circuit, result in zip(design.circuits, design.panels.circuits, strict=True):
        if circuit.stated and over(result.running_a.value, circuit.circuit.breaker_a):
            yield hit(
                circuit.tag, circuit=circuit.name, current=result.running_a, when=result.running_a.limit, breaker=amps(circuit.circuit.breaker_a)
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
        if circuit.stated and result.hours_on_end and over(result.running_a.value, part * breaker) and not over(result.running_a.value, breaker):
            yield hit(circuit.tag, circuit=circuit.name, current=result.running_a, breaker=amps(breaker), good=amps(part * breaker))


@rule(
    "inverters.breaker-over-copper", "stop", "{what}: breaker {breaker} on {size}, which may have {limit}.", "reference/ac_conductors.json, recalled"
)
def breaker_over_copper(design: Design) -> Iterator[Hit]:
    """A breaker the conductor burns under before it trips."""
    for circuit, result in zip(design.circuits, design.panels.circuits, strict=True):
        one = circuit.circuit
        if circuit.stated and result.copper_a is not None and over(one.breaker_a, result.copper_a.value):
            remedy = set_value(f"ac.circuits[{circuit.tag}].breaker_a", result.copper_a.value, f"{circuit.name}: breaker {result.copper_a.value:g} A")
            yield hit(circuit.tag, what=circuit.name, breaker=amps(one.breaker_a), size=one.size, limit=result.copper_a, remedy=remedy)
    stated = {panel.tag for panel in design.job.ac.panels}
    for panel, board in zip(design.ac.panels, design.panels.panels, strict=True):
        if panel.tag in stated and board.copper_a is not None and over(panel.breaker_a, board.copper_a.value):
            remedy = set_value(
                f"ac.panels[{panel.tag}].breaker_a", board.copper_a.value, f"Feeder of {panel.name}: breaker {board.copper_a.value:g} A"
            )
            yield hit(panel.tag, what=f"Feeder of {panel.name}", breaker=amps(panel.breaker_a), size=panel.size, limit=board.copper_a, remedy=remedy)


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
                panel.tag, panel=panel.name, current=board.feeder_a, line=_line(design, board.line), when=board.feeder_a.limit, what=what, limit=amps(limit),
                more=board.feeder.more(limit),
            )  # fmt: skip


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
                panel.tag, panel=panel.name, current=board.neutral_a, when=board.neutral_a.limit, size=panel.size, limit=amps(limit), more=board.neutral.more(limit)
            )  # fmt: skip


@rule(
    "inverters.feeder-small",
    "check",
    "{panel}: branch breakers add up to {sum} on {line}; its feeder breaker is {breaker} and no more than {inlet} can give.",
    PRACTICE,
)
def feeder_small(design: Design) -> Iterator[Hit]:
    """An old inlet feeding a panel that has grown: the feeder's breaker is above the inlet's own rating."""
    inlets = {inlet.tag: inlet for inlet in design.ac.inlets}
    for panel, board in zip(design.ac.panels, design.panels.panels, strict=True):
        inlet = inlets.get(panel.fed_from)
        if inlet is not None and panel.breaker_a > inlet.amps:
            remedy = set_value(f"ac.panels[{panel.tag}].breaker_a", inlet.amps, f"Feeder of {panel.name}: breaker {inlet.amps:g} A")
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
            yield hit(source.tag, inlet.tag, source=source.name, limit=amps(source.limit_a), inlet=inlet.name, rating=amps(inlet.amps), remedy=remedy)


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
            yield hit(*tags, line=line, current=relay.passes_a, when=relay.passes_a.limit, limit=amps(rating), more=relay.passes.more(rating))


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
            figure = Figure(f"Drop as far as {circuit.name}", lost, "1", "Σ of circuit and feeders", tuple(parts), TEXTBOOK)
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
            yield hit(circuit, circuit=_name(design, circuit), state=state.words, guard=f"{min(found):g} mA", limit=f"{limit:g} mA")


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


# ---- reach and sleep -----------------------------------------------------------------------------------------


@rule("inverters.switch-buried", "check", "The switch of {unit} cannot be reached as built, and there is no remote switch.", PRACTICE)
def switch_buried(design: Design) -> Iterator[Hit]:
    """A buried unit without a remote switch."""
    if design.job.inverters.remote_switch:
        return
    for unit in design.job.inverters.units:
        if not unit.reachable:
            yield hit(unit.tag, unit=unit.tag, remedy=set_value("inverters.remote_switch", True, "Put in a remote switch"))


@rule("inverters.no-storage-switch", "check", "Nothing puts the vehicle to sleep with one switch: left as it is, a month takes {month}.", PRACTICE)
def no_storage_switch(design: Design) -> Iterator[Hit]:
    """No storage isolation."""
    if not design.job.ac.storage.switch:
        yield hit(month=design.storage.awake_month_wh)


@rule(
    "inverters.storage-drain",
    "check",
    "Asleep the bank lasts {lasts}; it is to be stored for {stored}.",
    PRACTICE,
    "Fill it in between, or leave less alive.",
)
def storage_drain(design: Design) -> Iterator[Hit]:
    """A bank that does not last as long as it is stored."""
    days = design.job.ac.storage.months * 30.4
    if design.job.ac.storage.switch and over(days, design.storage.lasts_days.value):
        yield hit(*design.job.ac.storage.alive, lasts=design.storage.lasts_days, stored=Given("", days, "days"))


@rule("inverters.must-run-asleep", "check", "The storage switch turns off what must run: {loads}.", PRACTICE)
def must_run_asleep(design: Design) -> Iterator[Hit]:
    """Loads that must run, dark while the vehicle sleeps."""
    dark = [one for one in design.storage.sleepers if one.why == "must run" and not one.alive]
    if dark:
        kept = (*design.job.ac.storage.alive, *(one.tag for one in dark))
        remedy = set_value("ac.storage.alive", kept, "Keep what must run alive asleep")
        yield hit(*(one.tag for one in dark), loads=", ".join(one.name for one in dark), remedy=remedy)
