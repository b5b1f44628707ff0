"""Rules of signal and sense leads."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.design.figures import PRACTICE, Given, over
from weighty_axle.design.table import Design
from weighty_axle.design.wiring.signals import AT_HAND, LaidSignal
from weighty_axle.rules.registry import Hit, amps, hit, rule

SENSE_FUSE_A = 1.0
"""Largest fuse of a sense lead. Source: common practice, no source."""


def _house(design: Design) -> tuple[LaidSignal, ...]:
    """Leads that are stated, once for the whole vehicle."""
    return tuple(one for one in design.signals if one.stated) if not design.system.key else ()


@rule("wiring.signal-nowhere", "check", "{name} goes to {end}; there is no such thing with a place.", PRACTICE)
def signal_nowhere(design: Design) -> Iterator[Hit]:
    """A stated lead with an end that is not there."""
    known = {item.tag for item in design.items} | {one.tag for one in design.whole.outlets} | {AT_HAND}
    for one in _house(design):
        for end in (one.start, one.end):
            if end not in known:
                yield hit(one.tag, name=one.name, end=end)


@rule(
    "wiring.signal-long",
    "check",
    "{name} is {length} long; {what} works to {limit}.",
    PRACTICE,
    "A repeater or converter on the way, or the two things nearer to one another.",
)
def signal_long(design: Design) -> Iterator[Hit]:
    """A lead longer than its kind works."""
    for one in design.signals:
        if one.lead.kind != "usb" and over(one.length_m.value, one.lead.longest_m):
            yield hit(
                one.tag,
                name=one.name,
                length=one.length_m,
                what=one.lead.name,
                limit=Given("", one.lead.longest_m, "m"),
            )


@rule(
    "wiring.usb-long", "check", "{name} is {length} long: beyond {limit} the screen gets a supply of its own.", PRACTICE
)
def usb_long(design: Design) -> Iterator[Hit]:
    """A USB screen too far from what feeds it."""
    for one in design.signals:
        if one.lead.kind == "usb" and not one.own_supply and over(one.length_m.value, one.lead.longest_m):
            yield hit(one.tag, name=one.name, length=one.length_m, limit=Given("", one.lead.longest_m, "m"))


@rule(
    "wiring.sense-unfused",
    "stop",
    "{name} has no fuse at its source: chafed through, it burns along its whole length.",
    PRACTICE,
)
def sense_unfused(design: Design) -> Iterator[Hit]:
    """A lead that begins at the bank's voltage without a fuse."""
    for one in _house(design):
        if one.lead.fuse_a is not None and not one.fused:
            yield hit(one.tag, name=one.name)


@rule("wiring.sense-fuse-large", "check", "{name} has a fuse of {fuse}; {limit} is enough for it.", PRACTICE)
def sense_fuse_large(design: Design) -> Iterator[Hit]:
    """A sense lead with a fuse above what its wire needs."""
    for one in _house(design):
        if one.lead.kind in ("sense", "shunt_supply") and one.fused and over(one.fuse_a or 0.0, SENSE_FUSE_A):
            yield hit(one.tag, name=one.name, fuse=amps(one.fuse_a or 0.0), limit=amps(SENSE_FUSE_A))


@rule(
    "wiring.data-beside-power",
    "check",
    "In {way} {leads} beside {power}: keep data leads apart from power, or cross at a right angle.",
    PRACTICE,
    "Another way, or a metal divider between them.",
)
def data_beside_power(design: Design) -> Iterator[Hit]:
    """Data leads in one way with the leads of inverters."""
    leads = {f"W-{unit.tag}" for unit in design.job.inverters.units} | {"W-MAIN"}
    power: dict[str, str] = {}
    for cable in design.cables:
        if cable.tag in leads and cable.path is not None:
            power |= {way.tag: cable.tag for way in cable.path.ways}
    beside: dict[str, list[str]] = {}
    for one in design.signals:
        for way in one.path.ways if one.path is not None else ():
            if way.tag in power:
                beside.setdefault(way.tag, []).append(one.tag)
    for where, those in beside.items():
        told = f"{those[0]} lies" if len(those) == 1 else f"{those[0]} and {len(those) - 1} more lie"
        yield hit(where, *those, leads=told, way=where, power=power[where])
