"""Rules of the house circuits: spare ways, disconnects, relays, converters side by side."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.design.figures import PRACTICE, over
from weighty_axle.design.table import Design
from weighty_axle.job.edits.edit import of_whole, set_value
from weighty_axle.rules.registry import Hit, amps, hit, rule, volts


@rule("wiring.dc-spare", "check", "{panel} has {free} ways free; {spare} are to stay spare.", PRACTICE)
def dc_spare(design: Design) -> Iterator[Hit]:
    """Fewer free ways than are kept for later."""
    spare = {one.tag: one.spare for one in design.whole.dc.panels}
    for one in design.direct.panels:
        if 0 <= one.ways_free < spare[one.tag]:
            yield hit(one.tag, panel=one.name, free=str(one.ways_free), spare=str(spare[one.tag]))


@rule(
    "wiring.cut-off-late",
    "check",
    "{panel} is cut off below {cut}; its bank switches off at {bank} already: the disconnect never acts.",
    PRACTICE,
)
def cut_off_late(design: Design) -> Iterator[Hit]:
    """A low-voltage disconnect under what the bank itself switches off at."""
    spec, stated = design.job.bank.spec, {one.tag: one for one in design.whole.dc.panels}
    bank_off_v = spec.cell_min_v * spec.cells_in_series * design.job.bank.series
    for one in design.direct.panels:
        cut = stated[one.tag].cut_off_v
        if cut is not None and one.bar == design.system.bar and over(bank_off_v, cut):
            yield hit(one.tag, panel=one.name, cut=volts(cut), bank=volts(bank_off_v))


@rule(
    "wiring.cut-off-early",
    "check",
    "{panel} is cut off below {cut}; {low} is left there at the bank's lowest planned voltage: it drops out early.",
    PRACTICE,
)
def cut_off_early(design: Design) -> Iterator[Hit]:
    """A low-voltage disconnect above what the panel is left with while the bank still works as planned."""
    stated = {one.tag: one for one in design.whole.dc.panels}
    for one in design.direct.panels:
        cut = stated[one.tag].cut_off_v
        lasting = [
            state.ways[one.tag].end_v
            for state in design.flow.states
            if one.tag in state.ways and not state.charges and state.key != "surge"
        ]
        if cut is not None and lasting and over(cut, min(lasting)):
            yield hit(one.tag, panel=one.name, cut=volts(cut), low=volts(min(lasting)))


@rule("wiring.relay-small", "stop", "{circuit} draws {current}; its relay is for {relay}.", PRACTICE)
def relay_small(design: Design) -> Iterator[Hit]:
    """A relay under what its circuit draws, the start counted."""
    stated = {one.tag: one for one in design.whole.dc.circuits}
    for one in design.direct.circuits:
        relay = stated[one.tag].relay_a
        if relay is not None and over(max(one.current_a.value, one.start_a.value), relay):
            yield hit(one.tag, *one.loads, circuit=one.name, current=one.start_a, relay=amps(relay))


@rule(
    "wiring.sources-differ",
    "check",
    "{bar} is held by converters at {low} and {high}: the higher one carries all until it can no more.",
    PRACTICE,
    "Set them alike, or keep one switched off in reserve.",
)
def sources_differ(design: Design) -> Iterator[Hit]:
    """Converters side by side on a bar without a bank that hold different voltages."""
    for root in design.tree.roots[1:]:
        held = {one.tag: one.spec.output_v for one in design.whole.converters if one.tag in root.converters}
        levels = sorted({value for value in held.values() if value is not None})
        if len(levels) > 1:
            yield hit(root.bar, *held, bar=root.bar, low=volts(levels[0]), high=volts(levels[-1]))


@rule(
    "wiring.way-unfed",
    "check",
    "{circuit} draws nothing that is painted; its fuse and wire are judged for nothing.",
    PRACTICE,
)
def way_unfed(design: Design) -> Iterator[Hit]:
    """A circuit with loads of which none is painted on any kind of day."""
    for one in design.direct.circuits:
        if one.loads and not one.current_a.value:
            yield hit(one.tag, *one.loads, circuit=one.name)


@rule("wiring.switch-unnamed", "note", "{count} lighting circuits have no switch stated: {circuits}.", PRACTICE)
def switch_unnamed(design: Design) -> Iterator[Hit]:
    """Lights whose switch nobody has named."""
    stated = {one.tag: one for one in design.whole.dc.circuits}
    groups = {load.tag: load.group.lower() for load in design.whole.loads}
    bare = [
        one
        for one in design.direct.circuits
        if one.loads and all(groups[tag] == "lights" for tag in one.loads) and not stated[one.tag].switch
    ]
    if bare:
        names = ", ".join(one.tag for one in bare[:6])
        remedy = of_whole(set_value(f"dc.circuits[{bare[0].tag}].switch", "switch 1", f"Switch of {bare[0].tag}"))
        yield hit(
            *(one.tag for one in bare), count=str(len(bare)), circuits=names, remedy=remedy if len(bare) == 1 else None
        )
