"""Rules of protection that is fitted already: it is judged in place of the computed one."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.design.figures import PRACTICE, Figure, Given, over
from weighty_axle.design.table import Design
from weighty_axle.design.wiring.runs import CHARGER_FACTOR, LOAD_FACTOR
from weighty_axle.job.edits.edit import set_value
from weighty_axle.job.models.roof import spec_of
from weighty_axle.job.models.wiring import Fitted
from weighty_axle.rules.registry import Hit, amps, hit, rule, volts


def _carried(design: Design) -> Iterator[tuple[Fitted, Figure, float, float, float | None]]:
    """What is fitted in this system: with the current it carries, the factor over it, the highest voltage there and the
    short-circuit current where that is known.
    """
    runs = {run.tag: run for run in design.wiring.runs}
    units = {unit.tag for unit in design.job.inverters.units}
    parts = {one.tag: one.current_a for one in design.direct.wires}
    strings = {one.tag: one for one in design.roof.strings}
    feeds = {one.tag: one for one in design.feeds_in}
    for one in design.whole.fitted:
        if one.run in runs:
            run = runs[one.run]
            factor = LOAD_FACTOR if run.end in units or run.start == "bank" else CHARGER_FACTOR
            yield one, run.current_a, factor, design.bank.max_v.value, run.prospective_a.value
        elif one.run in feeds:
            yield one, feeds[one.run].current_a, LOAD_FACTOR, feeds[one.run].high_v, None
        elif one.run in parts:
            yield one, parts[one.run], LOAD_FACTOR, design.bank.max_v.value, None
        elif one.run in strings:
            string = strings[one.run]
            yield one, _string_current(design, string.modules), 1.0, string.cold_voc_v.value, None


def _string_current(design: Design, modules: tuple[str, ...]) -> Figure:
    """Design current of a solar string: 1.25 times its largest Isc (NEC 690.8(A)(1), recalled)."""
    roof = design.job.roof
    isc_a = max((spec_of(roof, one).isc_a for one in roof.modules if one.tag in modules), default=0.0)
    return Figure.product(
        name="Design current of the string",
        unit="A",
        formula="1.25 × largest Isc",
        inputs=(Given("Factor", 1.25, "ratio"), Given("Largest Isc", isc_a, "A")),
        source="NEC (NFPA 70) 2023 690.8(A)(1) (recalled; check against your copy)",
    )


@rule(
    "wiring.fitted-small",
    "stop",
    "{name} in {run} is rated {rating}; it carries {current} for hours.",
    "NEC 210.20 (125 %), recalled",
)
def fitted_small(design: Design) -> Iterator[Hit]:
    """A fitted fuse, breaker or switch under what it carries."""
    for one, current, factor, _, _ in _carried(design):
        needed = current.value * (1.0 if one.kind == "switch" else factor)
        if over(needed, one.amps):
            yield hit(one.tag, one.run, name=one.name, run=one.run, rating=amps(one.amps), current=current)


@rule(
    "wiring.fitted-voltage",
    "stop",
    "{name} in {run} breaks {rated} DC; up to {highest} stands there: it may not put out the arc.",
    PRACTICE,
)
def fitted_voltage(design: Design) -> Iterator[Hit]:
    """A fitted device for less than the voltage it must break."""
    for one, _, _, highest, _ in _carried(design):
        if one.dc_v is not None and over(highest, one.dc_v):
            yield hit(one.tag, one.run, name=one.name, run=one.run, rated=volts(one.dc_v), highest=volts(highest))


@rule(
    "wiring.fitted-unrated",
    "check",
    "{name} in {run} does not say what DC voltage it breaks; up to {highest} stands there.",
    PRACTICE,
)
def fitted_unrated(design: Design) -> Iterator[Hit]:
    """A fitted device without a DC rating, above what automotive parts are made for."""
    for one, _, _, highest, _ in _carried(design):
        if one.dc_v is None and highest > 32:
            yield hit(one.tag, one.run, name=one.name, run=one.run, highest=volts(highest))


@rule(
    "wiring.fitted-breaking",
    "stop",
    "{name} in {run} interrupts {breaks}; up to {prospective} can flow into a short there.",
    PRACTICE,
)
def fitted_breaking(design: Design) -> Iterator[Hit]:
    """A fitted device with too little breaking capacity."""
    for one, _, _, _, prospective in _carried(design):
        if one.kind == "switch" or one.breaks_a is None or prospective is None:
            continue
        if over(prospective, one.breaks_a):
            yield hit(
                one.tag, one.run, name=one.name, run=one.run, breaks=amps(one.breaks_a), prospective=amps(prospective)
            )


@rule(
    "wiring.fitted-nowhere",
    "check",
    "{name} is said to be in {run}; there is no such run, circuit or string.",
    PRACTICE,
)
def fitted_nowhere(design: Design) -> Iterator[Hit]:
    """A fitted device in something that is not there."""
    if design.system.key:
        return
    known = set[str]()
    for one in (design, *design.others):
        known |= {run.tag for run in one.wiring.runs} | {part.tag for part in one.direct.wires}
        known |= {string.tag for string in one.roof.strings} | {feed.tag for feed in one.feeds_in}
    for fitted in design.whole.fitted:
        if fitted.run not in known:
            yield hit(
                fitted.tag,
                name=fitted.name,
                run=fitted.run,
                remedy=set_value(f"fitted[{fitted.tag}]", None, f"Remove {fitted.name}"),
            )
