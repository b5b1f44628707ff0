"""Rules of generators, of energy going round, and of charging in the cold."""

from __future__ import annotations

import math
from collections.abc import Iterator

from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Given, over
from weighty_axle.design.table import Design
from weighty_axle.job.edits.edit import Edit, set_value
from weighty_axle.rules.registry import Hit, hit, rule, share


def _limit(value: float) -> Edit:
    return set_value("charging.system_limit_a", float(math.floor(value)), f"Limit all charging to {value:.0f} A")


@rule(
    "charging.over-cold",
    "check",
    "Charging reaches {charge}; with its cells {coldest} the bank takes {limit}.",
    "pack datasheet",
    "A lower limit in winter, or chargers that follow the cells' temperature.",
)
def over_cold(design: Design) -> Iterator[Hit]:
    """Charging that is right for warm cells and too much for the coldest."""
    charge, limit = design.charging.into_bank_a, design.charging.cold_limit_a
    if 0 < limit.value < design.bank.charge_limit_a.value and over(charge.value, limit.value):
        yield hit(charge=charge, coldest=design.cold.coldest_c, limit=limit, remedy=_limit(max(1.0, limit.value)))


@rule(
    "charging.goes-round",
    "check",
    "{way} carry energy round from {bar} back to {bar}{when}: each turn only makes heat.",
    TEXTBOOK,
    "Let one of them work only while the other does not.",
)
def goes_round(design: Design) -> Iterator[Hit]:
    """Converters and chargers in a ring that can all be on at once."""
    if design.system.key:
        return
    held = {one.tag: one.spec.output_v for one in design.whole.converters}
    lowest = {spare.bar: spare.lowest_v.value for spare in design.spares}
    for ring in design.rounds:
        # A supply whose voltage lies under what a running alternator holds gives nothing then.
        quiet = any(
            held.get(step.tags[0]) is not None
            and step.end in lowest
            and any(other.by_engine for other in ring)
            and (held[step.tags[0]] or 0.0) < lowest[step.end]
            for step in ring
        )
        by_switch = any(
            one.tag == step.tags[0] and one.works in ("switch", "voltage")
            for step in ring
            for one in design.whole.converters
        )
        if quiet or by_switch:
            continue
        tags = tuple(tag for step in ring for tag in step.tags)
        yield hit(
            *tags,
            way=" and ".join(tags),
            bar=ring[0].start,
            when=" while the engine runs" if any(step.by_engine for step in ring) else "",
        )


@rule(
    "charging.generator-light",
    "check",
    "{generator} runs at {load} of its rating while it charges: little for its fuel, and its engine soots.",
    PRACTICE,
    "Charge harder for a shorter time, or a smaller set.",
)
def generator_light(design: Design) -> Iterator[Hit]:
    """A set under a quarter of its load."""
    for one in design.generators:
        if one.charge_w.value > 0 and one.load_share.value < 0.25:
            yield hit(one.tag, generator=one.name, load=one.load_share)


@rule(
    "charging.generator-never-full",
    "stop",
    "{generator} started at {start} would run for ever: it gives {gives}, and the loads take all of it.",
    TEXTBOOK,
)
def generator_never_full(design: Design) -> Iterator[Hit]:
    """A set that cannot fill the bank beside the mean loads."""
    for one in design.generators:
        source = next(source for source in design.job.inverters.sources if source.tag == one.tag)
        row = next(row for row in design.sources if row.tag == one.tag)
        if source.generator is not None and math.isinf(one.run_h.value) and row.accepted:
            yield hit(one.tag, generator=one.name, start=share(source.generator.start_below), gives=one.gives_w)


@rule(
    "charging.generator-hours",
    "check",
    "{generator} needs {hours} for a day like the design day without sun; its quiet hours leave {open}.",
    "as stated",
    "A larger set or charger, a larger bank, or other hours.",
)
def generator_hours(design: Design) -> Iterator[Hit]:
    """More hours than the quiet ones leave."""
    for one in design.generators:
        if math.isfinite(one.day_h.value) and over(one.day_h.value, one.open_h.value):
            yield hit(one.tag, generator=one.name, hours=one.day_h, open=one.open_h)


@rule(
    "charging.generator-quiet",
    "check",
    "{generator} starts below {start}; the quiet hours take {night} of the bank: it runs empty before that may start.",
    "as stated",
)
def generator_quiet(design: Design) -> Iterator[Hit]:
    """A start so low that the night's draw empties the bank."""
    for one in design.generators:
        source = next(source for source in design.job.inverters.sources if source.tag == one.tag)
        made = source.generator
        if made is not None and over(one.night_share.value, made.start_below):
            index = f"inverters.sources[{one.tag}].generator.start_below"
            needed = min(0.95, math.ceil(one.night_share.value * 20) / 20)
            remedy = set_value(index, needed, f"Start {one.name} below {needed:.0%}")
            yield hit(
                one.tag,
                generator=one.name,
                start=share(made.start_below),
                night=one.night_share,
                remedy=remedy if needed < made.stop_above and needed >= one.night_share.value else None,
            )


@rule(
    "charging.generator-order",
    "stop",
    "{generator} stops above {stop} and starts below {start}: it must stop above where it starts.",
    PRACTICE,
)
def generator_order(design: Design) -> Iterator[Hit]:
    """Start and stop the wrong way round."""
    for source in design.job.inverters.sources:
        made = source.generator
        if made is not None and made.stop_above <= made.start_below:
            yield hit(source.tag, generator=source.name, stop=share(made.stop_above), start=share(made.start_below))


@rule(
    "charging.generator-load-start",
    "check",
    "{generator} starts above {load}; the inverters give {rated} at most: they are overloaded before it comes.",
    "inverter datasheet",
)
def generator_load_start(design: Design) -> Iterator[Hit]:
    """A start by load above what the inverters carry."""
    spec, units = design.job.inverters.spec, design.job.inverters.units
    rated = spec.continuous_va * len(units)
    for source in design.job.inverters.sources:
        made = source.generator
        if made is not None and made.start_load_w is not None and units and over(made.start_load_w, rated):
            yield hit(
                source.tag, generator=source.name, load=Given("", made.start_load_w, "W"), rated=Given("", rated, "W")
            )


@rule(
    "charging.generator-bond",
    "check",
    "Nobody has looked whether neutral and frame are tied in {generator}; the job says {said}.",
    "NEC 250.30/445.20 and IEC 60364-5-55 (551), recalled: where the neutral of a generating set is bonded",
    "Look before it is connected; two bonds or none are both dangerous.",
)
def generator_bond(design: Design) -> Iterator[Hit]:
    """A generator whose bond was assumed."""
    for source in design.job.inverters.sources:
        made = source.generator
        if made is not None and not made.bond_seen:
            yield hit(source.tag, generator=source.name, said="they are" if source.bonded else "they are not")
