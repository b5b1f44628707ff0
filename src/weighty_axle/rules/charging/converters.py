"""Rules of converters between bars."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.design.charging.converters import BAR_V, output_a, volts_of
from weighty_axle.design.charging.paths import charger_loads, feeding
from weighty_axle.design.figures import PRACTICE, over
from weighty_axle.design.table import Design
from weighty_axle.job.edits.edit import set_value
from weighty_axle.job.models.charging import VEHICLE
from weighty_axle.job.systems import System, bar_of, bar_tag, load_bar
from weighty_axle.reference.cells import CELL_POINTS
from weighty_axle.rules.registry import Hit, amps, hit, rule, volts


@rule("charging.bar-unfed", "stop", "Nothing feeds {bar}: it has no bank, and no converter ends there.", PRACTICE)
def bar_unfed(design: Design) -> Iterator[Hit]:
    """A bar with loads, and neither bank nor converter."""
    if design.system.key:
        return
    for bar in design.whole.bars:
        hung = any(load_bar(design.whole, load) == bar.tag for load in design.whole.loads)
        if hung and bar.bank is None and not any(one.end == bar.tag for one in design.whole.converters):
            yield hit(bar.tag, bar=bar.name)


@rule(
    "charging.converter-unfed",
    "stop",
    "{converter} takes from {bar}, and nothing leads there: no bank, no alternator, no converter from one.",
    PRACTICE,
)
def converter_unfed(design: Design) -> Iterator[Hit]:
    """A converter with no way back to a source."""
    whole = design.whole
    if design.system.key:
        return
    chargers = charger_loads(whole.loads, whole.groups, whole.ac, whole.inverters, whole.wiring.board.tag)
    banks = {whole.wiring.board.tag, VEHICLE, *(bar.tag for bar in whole.bars if bar.bank is not None)}
    banks |= {one.bar for one in whole.charging.alternators}
    for one in whole.converters:
        start = bar_tag(whole, one.start)
        if banks.isdisjoint(feeding(whole, chargers, System(start, start, start))):
            yield hit(one.tag, start, converter=one.tag, bar=start)


@rule("charging.converter-class", "stop", "{converter} holds {held}; {bar} is a bar of {volts}.", "converter datasheet")
def converter_class(design: Design) -> Iterator[Hit]:
    """A supply whose voltage is not its bar's."""
    if design.system.key:
        return
    for one in design.whole.converters:
        bar = bar_of(design.whole, one.end)
        if bar is None or one.spec.output_v is None:
            continue
        low, high = BAR_V[bar.volts]
        if not 0.95 * low <= one.spec.output_v <= 1.05 * high:
            yield hit(
                one.tag, bar.tag, converter=one.tag, held=volts(one.spec.output_v), bar=bar.name, volts=volts(bar.volts)
            )


@rule(
    "charging.supply-over-cells",
    "stop",
    "{converter} holds {held} at {bar}; its {chemistry} cells take {full} at most.",
    PRACTICE,
)
def supply_over_cells(design: Design) -> Iterator[Hit]:
    """A supply with a fixed voltage over what the cells of the bar's bank stand."""
    spec = design.job.bank.spec
    full = CELL_POINTS[spec.chemistry].brim * design.bank.cells
    for end in design.ends:
        held = end.converter.spec.output_v
        if held is not None and end.gives_a.value and over(held, full):
            yield hit(
                end.converter.tag,
                converter=end.converter.tag,
                held=volts(held),
                bar=design.system.name,
                chemistry=_CHEMISTRY[spec.chemistry],
                full=volts(full),
            )


_CHEMISTRY = {"lfp": "LFP", "nmc": "NMC", "flooded": "flooded lead-acid", "agm": "AGM"}


@rule(
    "charging.thresholds-missing",
    "check",
    "{converter} works by the voltage of its bar, but no voltage is stated at which it goes on and off{way}.",
    PRACTICE,
)
def thresholds_missing(design: Design) -> Iterator[Hit]:
    """A converter by voltage without voltages."""
    if design.system.key:
        return
    for one in design.whole.converters:
        if one.works != "voltage":
            continue
        if one.on_v is None or one.off_v is None:
            yield hit(one.tag, converter=one.tag, way="")
        elif one.both_ways and (one.back_on_v is None or one.back_off_v is None):
            yield hit(one.tag, converter=one.tag, way=", carrying back")


@rule(
    "charging.transfer-hunts",
    "stop",
    "{converter} goes on above {on} and off below {off}; while it takes {taken} its bank sags by {sag} more than that: "
    "it would switch on and off for ever.",
    "textbook relation: the sag of a bank under load",
    "Set the two further apart, or take less.",
)
def transfer_hunts(design: Design) -> Iterator[Hit]:
    """Thresholds closer than the bank's own sag."""
    bank = design.bank
    for end in design.ends:
        one = end.converter
        forward = end.other != design.system.bar and one.start in ("", design.system.bar)
        on_v, off_v = (one.on_v, one.off_v) if forward else (one.back_on_v, one.back_off_v)
        if one.works != "voltage" or on_v is None or off_v is None or not end.takes_a.value:
            continue
        sag = end.takes_a.value * bank.resistance_ohm.value
        if over(sag, on_v - off_v):
            yield hit(one.tag, converter=one.tag, on=volts(on_v), off=volts(off_v), taken=end.takes_a, sag=volts(sag))


@rule(
    "charging.transfer-round",
    "stop",
    "{converter} brings {bar} to {brought}, and carries back from {back}: the two banks would pass energy to and fro.",
    PRACTICE,
    "Let it carry back only above what it charges to itself, or by a switch.",
)
def transfer_round(design: Design) -> Iterator[Hit]:
    """Both ways on at once by what one way does to the other bank."""
    bank, spec = design.bank, design.job.bank.spec
    for end in design.ends:
        one = end.converter
        into = one.end in (design.system.bar,) or (not one.end and not design.system.key)
        if not (one.both_ways and one.works == "voltage" and into) or one.back_on_v is None:
            continue
        brought = one.spec.output_v or CELL_POINTS[spec.chemistry].full(design.job.settings.full_charge) * bank.cells
        if one.back_on_v <= brought:
            yield hit(
                one.tag, converter=one.tag, bar=design.system.name, brought=volts(brought), back=volts(one.back_on_v)
            )


@rule(
    "charging.feed-unmeasured",
    "check",
    "Nobody has measured the cable from the vehicle's battery to {converters}: neither copper nor drop can be told.",
    PRACTICE,
)
def feed_unmeasured(design: Design) -> Iterator[Hit]:
    """A feed without a length: nothing of it is sized, ordered or cut."""
    for feed in design.feeds_in:
        if feed.length_m is None:
            yield hit(*feed.converters, converters=" and ".join(feed.converters))


@rule(
    "charging.feed-no-conductor",
    "stop",
    "No conductor carries {current} over {length} on {feed} within the allowed drop.",
    PRACTICE,
)
def feed_no_conductor(design: Design) -> Iterator[Hit]:
    """A feed no conductor of the table serves."""
    for feed in design.feeds_in:
        if feed.length_m is not None and feed.chosen is None:
            yield hit(*feed.converters, current=feed.current_a, length=feed.length_m, feed=feed.tag)


@rule(
    "charging.own-way",
    "note",
    "{converters} share the cable {feed}: each has its own fuse where its lead leaves it.",
    PRACTICE,
)
def own_way(design: Design) -> Iterator[Hit]:
    """Several converters on one cable."""
    for feed in design.feeds_in:
        if len(feed.converters) > 1 and feed.start == VEHICLE:
            yield hit(*feed.converters, converters=" and ".join(feed.converters), feed=feed.tag)


@rule(
    "charging.charger-as-supply",
    "check",
    "{converter} holds a fixed {held}, as a supply does, and is to charge {bar}: set it to charge, by the engine.",
    PRACTICE,
)
def charger_as_supply(design: Design) -> Iterator[Hit]:
    """A supply used as alternator charger."""
    for end in design.ends:
        one = end.converter
        if end.by_engine and one.spec.output_v is not None and end.gives_a.value:
            yield hit(one.tag, converter=one.tag, held=volts(one.spec.output_v), bar=design.system.name)


@rule(
    "charging.input-limit",
    "check",
    "{converter} may draw {most}; for its full output it needs {needs}.",
    "converter datasheet",
)
def input_limit(design: Design) -> Iterator[Hit]:
    """An input limit that keeps a converter from its output."""
    low = design.bank.lowest_working_v.value
    for end in design.ends:
        spec = end.converter.spec
        if spec.input_a is None or end.converter.start not in ("", design.system.bar):
            continue
        other_v = volts_of(design.whole, end.other)[0]
        needs = output_a(spec, other_v) * (spec.output_v or other_v) / spec.efficiency / low
        if over(needs, spec.input_a):
            yield hit(end.converter.tag, converter=end.converter.tag, most=amps(spec.input_a), needs=amps(needs))


@rule("charging.switch-classes", "stop", "{switch} changes between {bars}, bars of different voltages.", PRACTICE)
def switch_classes(design: Design) -> Iterator[Hit]:
    """An either-or switch between bars of different classes."""
    whole = design.whole
    if design.system.key:
        return
    house = design.direct.bars[0].volts if design.direct.bars else 0
    for one in whole.dc.switches:
        found = {tag: (bar.volts if (bar := bar_of(whole, tag)) is not None else house) for tag in one.bars}
        if len(set(found.values())) > 1:
            words = " and ".join(f"{tag} ({value} V)" for tag, value in found.items())
            yield hit(one.tag, *one.bars, switch=one.name, bars=words)


@rule("charging.wrong-bar-voltage", "stop", "{load} is for {stated} and hangs on {bar}, a bar of {volts}.", PRACTICE)
def wrong_bar_voltage(design: Design) -> Iterator[Hit]:
    """A DC load on a stated bar of another voltage."""
    classes = {bar.tag: bar for bar in design.direct.bars}
    for circuit in design.direct.circuits:
        bar = classes[circuit.bar]
        for load in (one for one in design.job.loads if one.tag in circuit.loads):
            stated = int(load.supply.removeprefix("DC_"))
            if stated != bar.volts:
                yield hit(
                    load.tag,
                    circuit.tag,
                    load=load.name,
                    stated=volts(stated),
                    bar=bar.name,
                    volts=volts(bar.volts),
                    remedy=set_value(
                        f"loads[{load.tag}].supply", f"DC_{bar.volts}", f"State {load.name} for {bar.volts} V"
                    ),
                )
