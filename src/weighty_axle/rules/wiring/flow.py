"""Rules of the DC side as it is solved: every state, every path."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Given, over
from weighty_axle.design.table import Design
from weighty_axle.rules.registry import Hit, hit, rule, volts

CRITICAL_DROP, OTHER_DROP = 0.03, 0.10
"""Drop allowed on the way to what must run, and to the rest. Source: common practice, no source."""


RISE = 0.02
"""Rise at a charger over the bank from which it ends too early without a sense lead.

Source: common practice, no source.
"""


@rule(
    "wiring.collapse",
    "stop",
    "{bar}, {state}: more power is asked than its cables can carry at any voltage; nothing there works.",
    f"{TEXTBOOK} (a path carries at most V²/4R)",
)
def collapse(design: Design) -> Iterator[Hit]:
    """No working point of a bar in a state that can occur."""
    told = set[str]()
    for state in design.flow.states:
        for bar in state.collapsed:
            if bar not in told:
                told.add(bar)
                yield hit(bar, bar=bar, state=state.name)


@rule(
    "wiring.opens-in-use",
    "stop",
    "{way} carries {current}, {state}: its fuse of {fuse} opens in use.",
    f"{TEXTBOOK} (nodal analysis; what asks for power draws the more, the less volts reach it)",
    "More copper on the way to it, so that less is lost; then a fuse for what is left.",
)
def opens_in_use(design: Design) -> Iterator[Hit]:
    """A way that carries more than its fuse in a state that lasts, as the whole network is solved."""
    fuses = {way.tag: way.fuse_a for way in design.tree.ways}
    for way in design.flow.ways:
        if way.told and over(abs(way.most_a.value), fuses[way.tag]):
            fuse = Given("", fuses[way.tag], "A")
            current = Given("", abs(way.most_a.value), "A")
            yield hit(way.tag, way=way.tag, current=current, state=way.most_a.limit, fuse=fuse)


@rule("wiring.dc-drop", "check", "{circuit} drops {drop} on its whole way, {state}; {allowed} is allowed.", PRACTICE)
def dc_drop(design: Design) -> Iterator[Hit]:
    """Drop from the source of a bar to the end of a DC circuit, with feeder, bar, fuses and lugs."""
    must = {load.tag for load in design.whole.loads if load.must_run}
    ways = {one.tag: one for one in design.flow.ways if one.told}
    for one in design.direct.circuits:
        allowed = CRITICAL_DROP if must & set(one.loads) else OTHER_DROP
        way = ways.get(one.tag)
        if way is not None and over(way.drop_share.value, allowed):
            yield hit(
                one.tag,
                circuit=one.name,
                drop=way.drop_share,
                state=way.drop_share.limit,
                allowed=Given("", allowed, "1"),
            )


@rule(
    "wiring.inverter-starved",
    "stop",
    "{unit}: {found} is left at its terminals, {state}; it switches off under {least}.",
    PRACTICE,
    "A thicker or shorter lead, or a larger bank.",
)
def inverter_starved(design: Design) -> Iterator[Hit]:
    """Voltage at an inverter's terminals under what it works from, in any state with it loaded."""
    least = design.job.inverters.spec.dc_min_v
    for unit in design.job.inverters.units:
        there = [
            (state.ways[f"W-{unit.tag}"].end_v, state)
            for state in design.flow.states
            if f"W-{unit.tag}" in state.ways and not state.charges and not state.collapsed
        ]
        # What the bank itself falls to is judged with the bank: here it is the cable's part that decides.
        low = [one for one in there if one[0] < least <= one[1].source_v.get(design.system.bar, 0.0)]
        if low:
            found, state = min(low, key=lambda one: one[0])
            yield hit(
                unit.tag, f"W-{unit.tag}", unit=unit.tag, found=volts(found), state=state.name, least=volts(least)
            )


@rule(
    "wiring.charger-rise",
    "note",
    "{way} lifts {unit} by {rise} over the bank, {state}: unless its sense lead is landed it ends charging early.",
    PRACTICE,
)
def charger_rise(design: Design) -> Iterator[Hit]:
    """A charger that sees its own cable as charge of the bank."""
    controllers = {f"W-{one.tag}": one.tag for one in design.job.roof.controllers if not one.unit}
    chargers = controllers | {f"W-{one.converter.tag}": one.converter.tag for one in design.ends if not one.starts_here}
    charging = {state.name for state in design.flow.states if state.charges}
    for way in design.flow.ways:
        unit = chargers.get(way.tag)
        if unit and way.told and way.drop_share.limit in charging and over(way.drop_share.value, RISE):
            yield hit(unit, way.tag, way=way.tag, unit=unit, rise=way.drop_share, state=way.drop_share.limit)
