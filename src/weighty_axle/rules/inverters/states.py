"""Rules of the AC side: states that endanger, selectors, what leads nowhere, reach and sleep."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from weighty_axle.design.figures import PRACTICE, Given, over
from weighty_axle.design.inverters.ac_wiring import ac_wiring, terminals
from weighty_axle.design.inverters.state import Danger, State
from weighty_axle.design.inverters.states import states
from weighty_axle.design.table import Design
from weighty_axle.job.edits.edit import Edit, set_value
from weighty_axle.job.edits.inverters import STACKING_WORDS
from weighty_axle.job.models.inverters import IMPLIED_INLET, IMPLIED_PANEL
from weighty_axle.rules.registry import Hit, Severity, amps, hit, rule

BOND_SOURCE = "one bond at a time: NEC 250.6, 250.142 and 551.54, IEC 60364-4-41 411.3 and 60364-7-717, recalled"


# ---- states --------------------------------------------------------------------------------------------------

_DANGERS: dict[Danger, tuple[Severity, str, str]] = {
    "two_bonds": ("stop", BOND_SOURCE, "Leave one bond: the source's when plugged in, one inverter's relay when not."),
    "no_bond": ("stop", BOND_SOURCE, "Give the state one bond: an inverter's relay, or a bonded source."),
    "paralleled": (
        "stop",
        "two supplies that are not in step short each other: common practice, no source",
        "Put a break-before-make selector between them.",
    ),
    "legs_joined": (
        "stop",
        "textbook relation: two phasors apart joined are a short circuit",
        "Take the joining contact away.",
    ),
    "energy_loop": ("stop", PRACTICE, "Feed the inverters from the inlet only."),
    "charger_loop": (
        "stop",
        PRACTICE,
        "Put the charger on a panel before the inverters, or take it out: the inverter-chargers charge.",
    ),
    "pins_live": (
        "stop",
        "IEC 60309 and NEC 406.7, recalled: plugs' pins must be dead when withdrawn",
        "Take away the contact that leads back to the inlet.",
    ),
    "across_dead": (
        "stop",
        "textbook relation: |V1 − V2| of equal phasors is zero",
        "Open that circuit's breaker in this state, or keep the inverters split-phase.",
    ),
    "across_weak": ("check", PRACTICE, "Switch it off there, or let the inverters run it from the bank."),
    "shared_neutral": (
        "stop",
        "textbook relation: Kirchhoff's current law; NEC 210.4, recalled",
        "Give each circuit a neutral of its own.",
    ),
    "disagree": (
        "stop",
        "two changes that must agree: common practice, no source",
        "Interlock the selector: an auxiliary contact or a key that keeps the inverters off.",
    ),
}


def _endangered(danger: Danger, design: Design) -> Iterator[Hit]:
    """What is wrong in the simplest state it happens in, and in how many more.

    What one unswitched neutral does is told once.
    """
    by_words: dict[str, list[tuple[State, tuple[str, ...]]]] = {}
    for state in design.states.with_danger(danger):
        for hazard in state.hazards:
            if hazard.danger == danger:
                by_words.setdefault(hazard.words, []).append((state, hazard.tags))
    if danger == "two_bonds":
        yield from _unswitched_neutrals(design, by_words)
    stands = {selector.tag: selector.now for selector in design.ac.selectors}
    for words, found in by_words.items():
        state, tags = min(
            found, key=lambda pair: (sum(stands[tag] != name for tag, name in pair[0].positions), len(pair[0].plugged))
        )
        more = _more(len(found))
        selector = next((one for one in design.ac.selectors if one.tag in tags), None)
        remedy = None
        if danger == "disagree" and selector is not None:
            remedy = set_value(f"ac.selectors[{selector.tag}].interlocked", True, f"Interlock {selector.name}")
        if danger == "no_bond":
            remedy = _bond(design, state)
        implied = {IMPLIED_INLET, IMPLIED_PANEL} - {panel.tag for panel in design.job.ac.panels}
        yield hit(
            *(tag for tag in tags if tag not in implied),
            what=words[0].upper() + words[1:],
            state=state.words,
            more=more,
            remedy=remedy,
        )


def _more(states: int) -> str:
    """In how many more states, as words."""
    return "" if states == 1 else f" (and in {states - 1} more state{'s' if states > 2 else ''})"


def _unswitched_neutrals(design: Design, by_words: dict[str, list[tuple[State, tuple[str, ...]]]]) -> Iterator[Hit]:
    """Double bonds that are gone once a selector switches its neutral: one finding for the selector; they are taken out
    of `by_words`.
    """
    for selector in design.job.ac.selectors:
        if selector.switches_neutral or not by_words:
            continue
        remedy = set_value(
            f"ac.selectors[{selector.tag}].switches_neutral", True, f"{selector.name} switches the neutral too"
        )
        job = remedy.apply(design.job)
        wiring = ac_wiring(job.ac, job.inverters, job.practice)
        left = {
            (_key(state), hazard.words)
            for state in states(wiring, design.circuits, job.inverters).with_danger("two_bonds")
            for hazard in state.hazards
        }
        caused = [
            (state, words)
            for words, found in by_words.items()
            for state, _ in found
            if (_key(state), words) not in left
        ]
        if caused:
            state, words = min(caused, key=lambda pair: len(pair[0].plugged))
            for one in {words for _, words in caused}:
                kept = [(state, tags) for state, tags in by_words.pop(one) if (_key(state), one) in left]
                if kept:
                    by_words[one] = kept
            what = f"{selector.name} does not switch the neutral: {words}"
            yield hit(
                selector.tag,
                what=what,
                state=state.words,
                more=_more(len({_key(state) for state, _ in caused})),
                remedy=remedy,
            )


def _key(state: State) -> tuple[object, ...]:
    return state.plugged, state.mode, state.stacking, state.positions


def _bond(design: Design, state: State) -> Edit | None:
    """A bond where a state has none: in the first inverter, or at the source that floats."""
    if state.inverting:
        tag = state.inverting[0]
        return set_value(f"inverters.units[{tag}].bonds", True, f"Let the relay of {tag} bond the neutral")
    floating = next(
        (source for source in design.job.inverters.sources if source.tag in state.plugged and not source.bonded), None
    )
    return (
        set_value(
            f"inverters.sources[{floating.tag}].bonded", True, f"Bond the neutral at {floating.name} (bonding plug)"
        )
        if floating
        else None
    )


DANGERS = tuple(
    rule(f"inverters.{danger.replace('_', '-')}", severity, "{what}: {state}{more}.", source, advice)(
        partial(_endangered, danger)
    )
    for danger, (severity, source, advice) in _DANGERS.items()
)
"""A rule for each danger."""


@rule(
    "inverters.selector-now",
    "stop",
    "{selector} stands at {position}, which asks for inverters {wanted}; they are set otherwise.",
    PRACTICE,
)
def selector_now(design: Design) -> Iterator[Hit]:
    """Position and configuration as stated do not agree."""
    for selector in design.ac.selectors:
        position = next(one for one in selector.positions if one.name == selector.now)
        fits = next((one for one in selector.positions if one.stacking == design.job.inverters.stacking), None)
        if position.stacking is not None and position.stacking != design.job.inverters.stacking:
            remedy = (
                set_value(f"ac.selectors[{selector.tag}].now", fits.name, f"{selector.name} stands at {fits.name}")
                if fits
                else None
            )
            yield hit(
                selector.tag,
                selector=selector.name,
                position=selector.now,
                wanted=STACKING_WORDS[position.stacking],
                remedy=remedy,
            )


@rule(
    "inverters.contact-nowhere",
    "stop",
    "{selector}, position {position}, closes a contact at {terminal}: there is no such terminal.",
    PRACTICE,
)
def contact_nowhere(design: Design) -> Iterator[Hit]:
    """A contact to a line the thing does not have."""
    known = set(terminals(design.ac, design.job.inverters))
    for selector in design.ac.selectors:
        for position in selector.positions:
            for name in dict.fromkeys(
                end for contact in position.contacts for end in (contact.start, contact.end) if end not in known
            ):
                yield hit(selector.tag, selector=selector.name, position=position.name, terminal=name)


@rule(
    "inverters.selector-without-off",
    "check",
    "{selector} has no position in which every contact is open: it cannot be changed dead.",
    PRACTICE,
)
def selector_without_off(design: Design) -> Iterator[Hit]:
    """No centre off."""
    for selector in design.ac.selectors:
        if all(position.contacts for position in selector.positions):
            yield hit(selector.tag, selector=selector.name)


@rule("inverters.selector-over", "stop", "{source} can bring {limit} a line; {selector} is rated {rating}.", PRACTICE)
def selector_over(design: Design) -> Iterator[Hit]:
    """A selector weaker than what a source's limit lets through one of its contacts; units on one line have a contact
    each.
    """
    inlets = {inlet.tag for inlet in design.ac.inlets}
    first = design.ac.inlets[0].tag
    for selector in design.ac.selectors:
        through = {
            contact.start.split(".")[0] for position in selector.positions for contact in position.contacts
        } & inlets
        for source, row in zip(design.job.inverters.sources, design.sources, strict=True):
            shared = min((limit.units for limit in row.unit_limits), default=1) if source.legs_in_phase else 1
            if (source.inlet or first) in through and over(source.limit_a, selector.amps * shared):
                yield hit(
                    selector.tag,
                    source.tag,
                    source=source.name,
                    limit=amps(source.limit_a),
                    selector=selector.name,
                    rating=amps(selector.amps),
                )


@rule("inverters.panel-unfed", "stop", "{panel} is live in no state: nothing ever reaches its feeder.", PRACTICE)
def panel_unfed(design: Design) -> Iterator[Hit]:
    """A panel without a feeder that is ever live."""
    for panel in design.ac.panels if design.job.ac.panels or design.job.inverters.units else ():
        if not any(own.lines for state in design.states.states for own in state.panels if own.tag == panel.tag):
            yield hit(panel.tag, panel=panel.name)


@rule(
    "inverters.source-not-taken",
    "check",
    "The inverters, as they are set, let nothing of {source} through.",
    PRACTICE,
    (
        "Set them so that they take it (at an unknown site: in phase first, it accepts one line and two), or use "
        "another adapter."
    ),
)
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


def _inlets_in_use(design: Design) -> set[str]:
    """Inlets that a panel, the inverters or a selector's contact hangs on."""
    wiring = design.ac
    contacts = {
        end.split(".")[0]
        for selector in wiring.selectors
        for position in selector.positions
        for contact in position.contacts
        for end in (contact.start, contact.end)
    }
    return {wiring.fed_from, *(panel.fed_from for panel in wiring.panels), *contacts}


# ---- reach and sleep -----------------------------------------------------------------------------------------


@rule(
    "inverters.switch-buried",
    "check",
    "The switch of {unit} cannot be reached as built, and there is no remote switch.",
    PRACTICE,
)
def switch_buried(design: Design) -> Iterator[Hit]:
    """A buried unit without a remote switch."""
    if design.job.inverters.remote_switch:
        return
    for unit in design.job.inverters.units:
        if not unit.reachable:
            yield hit(
                unit.tag, unit=unit.tag, remedy=set_value("inverters.remote_switch", True, "Put in a remote switch")
            )


@rule(
    "inverters.no-storage-switch",
    "check",
    "Nothing puts the vehicle to sleep with one switch: left as it is, a month takes {month}.",
    PRACTICE,
)
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
    dark = [sleeper for sleeper in design.storage.sleepers if sleeper.why == "must run" and not sleeper.alive]
    if dark:
        kept = (*design.job.ac.storage.alive, *(one.tag for one in dark))
        remedy = set_value("ac.storage.alive", kept, "Keep what must run alive asleep")
        yield hit(*(one.tag for one in dark), loads=", ".join(one.name for one in dark), remedy=remedy)
