"""Rules of bars that converters feed, and of what a drop-out darkens."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.design.figures import PRACTICE, over
from weighty_axle.design.table import Design
from weighty_axle.rules.registry import Hit, hit, rule


@rule(
    "charging.converter-short",
    "stop",
    "The loads on {bar} draw {demand}; its converters give {given}.",
    "converter datasheet",
    "When it drops out, everything on that bar is dark: a larger one, a second one, or a small bank as buffer.",
)
def converter_short(design: Design) -> Iterator[Hit]:
    """A bar without a bank whose loads together are more than its converters give."""
    for bar in design.low_side.bars:
        if bar.converters and over(bar.demand_a.value, bar.given_a.value):
            yield hit(bar.tag, *bar.converters, bar=bar.name, demand=bar.demand_a, given=bar.given_a)


@rule(
    "charging.converter-start",
    "check",
    "On {bar} a start brings the current to {start}; its converters give {peak} for a moment.",
    "converter datasheet",
    "It drops out at that start: a larger one, a slow start, or a small bank as buffer.",
)
def converter_start(design: Design) -> Iterator[Hit]:
    """A start above the peak of a bar's converters."""
    for bar in design.low_side.bars:
        short = over(bar.demand_a.value, bar.given_a.value)
        if bar.converters and not short and over(bar.start_a.value, bar.peak_a.value):
            yield hit(bar.tag, *bar.converters, bar=bar.name, start=bar.start_a, peak=bar.peak_a)


@rule(
    "charging.drop-out-dark",
    "note",
    "When the bank of {bar} switches off, {dark} dark, though needed always.",
    PRACTICE,
    "A small bank of their own, or a converter from a bank that stays.",
)
def drop_out_dark(design: Design) -> Iterator[Hit]:
    """DC loads that must run and die with the bank, in a vehicle that has another."""
    dark = set(design.low_side.drop_out.dark)
    loads = [one for one in design.whole.loads if one.tag in dark and one.must_run and one.supply.startswith("DC")]
    if loads and any(bar.bank is not None for bar in design.whole.bars) and not design.system.shares_bank:
        names = [one.name for one in loads]
        said = f"{names[0]} goes" if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]} go"
        yield hit(*(one.tag for one in loads), bar=design.system.name, dark=said)
