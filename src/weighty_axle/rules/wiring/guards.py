"""Rules of what guards a way: shorts at both ends, conductors in a short, fuses one behind the other, starts."""

from __future__ import annotations

import math
from collections.abc import Iterator

from weighty_axle.design.figures import PRACTICE, Figure, Given, over
from weighty_axle.design.table import Design
from weighty_axle.design.wiring.direct import wire_ampacity
from weighty_axle.design.wiring.guards import Guard
from weighty_axle.physics.electric.fuses import LONGEST_ADIABATIC_S, opens_s
from weighty_axle.rules.registry import Hit, amps, hit, rule
from weighty_axle.units import conductor_words, lasting

WORTH_A = 1000.0
"""Prospective current from which it matters whether a device says what it interrupts. Source: common practice, no
source.
"""


def _known(design: Design) -> Iterator[Guard]:
    """Guards of ways whose conductor and length are known."""
    known = {way.tag for way in design.tree.ways if way.known}
    return (one for one in design.guards.guards if one.tag in known)


def _near(one: Guard) -> Figure:
    return one.near_a if one.near_a is not None else one.far_a


@rule(
    "wiring.short-burns",
    "stop",
    "{way}: a short of {short} heats {size} to {share} of what it stands before its {fuse} fuse has opened.",
    "IEC 60364-4-43 clause 434.5.2 (k²S² ≥ I²t), recalled",
    "A faster fuse, a smaller one, or more copper.",
)
def short_burns(design: Design) -> Iterator[Hit]:
    """A conductor that a short burns before its fuse opens."""
    for one in _known(design):
        if over(one.heat_share.value, 1.0):
            yield hit(
                one.tag,
                way=one.tag,
                short=_near(one),
                size=conductor_words(one.size),
                share=one.heat_share,
                fuse=amps(one.rated_a),
            )


@rule(
    "wiring.far-short-slow",
    "check",
    "{way}: a short at its end draws no more than {short}; its {fuse} fuse {opens}.",
    "IEC 60364-4-41 table 41.1 (5 s for distribution), recalled",
    "A smaller fuse, or more copper on the way.",
)
def far_short_slow(design: Design) -> Iterator[Hit]:
    """A short at the far end that its fuse hardly feels; where a converter limits it, that is told beside."""
    fed = {way.tag for root in design.tree.roots[1:] for way in root.ways}
    for one in _known(design):
        if one.tag not in fed and over(one.opens_s.value, LONGEST_ADIABATIC_S):
            never = math.isinf(one.opens_s.value)
            opens = "never opens" if never else f"takes {lasting(one.opens_s.value)} to open"
            yield hit(one.tag, way=one.tag, short=one.far_a, fuse=amps(one.rated_a), opens=opens)


@rule(
    "wiring.converter-cannot-open",
    "note",
    "{way}: its converters give {short} at most; that does not open its {fuse} fuse within seconds, they shut down.",
    PRACTICE,
    "So be it where the copper carries that current for hours; else a smaller fuse.",
)
def converter_cannot_open(design: Design) -> Iterator[Hit]:
    """A circuit behind a converter whose fuse only a larger source would open."""
    circuits = {way.tag for root in design.tree.roots[1:] for way in root.ways if way.kind == "circuit"}
    for one in _known(design):
        if one.tag in circuits and over(one.opens_s.value, LONGEST_ADIABATIC_S):
            yield hit(one.tag, way=one.tag, short=one.far_a, fuse=amps(one.rated_a))


@rule(
    "wiring.not-selective",
    "note",
    "A short behind {ways} of more than {from_a} can open {above} too: everything behind that goes dark with it.",
    PRACTICE,
    "A slower or larger fuse above, or a faster one below.",
)
def not_selective(design: Design) -> Iterator[Hit]:
    """Fuses one behind the other that open together; told once for each fuse above."""
    by_above: dict[str, list[Guard]] = {}
    for one in _known(design):
        if one.selective_to_a is not None and math.isfinite(one.selective_to_a):
            by_above.setdefault(one.above, []).append(one)
    for above, those in by_above.items():
        first = min(those, key=lambda one: one.selective_to_a or 0.0)
        ways = first.tag if len(those) == 1 else f"{first.tag} and {len(those) - 1} more"
        yield hit(above, *(one.tag for one in those), ways=ways, from_a=amps(first.selective_to_a or 0.0), above=above)


@rule(
    "wiring.surge-opens",
    "check",
    "{way}: {unit} draws {surge} for {lasts} at its surge; its {fuse} fuse may open after {time}.",
    PRACTICE,
)
def surge_opens(design: Design) -> Iterator[Hit]:
    """An inverter's surge that outlasts the fuse in its lead."""
    spec = design.job.inverters.spec
    volts = design.bank.nominal_v.value
    for unit in design.job.inverters.units:
        one = next((guard for guard in _known(design) if guard.tag == f"W-{unit.tag}"), None)
        if one is None:
            continue
        surge = spec.surge_va / spec.full_load_efficiency / volts
        melts = opens_s(one.melts, rated_a=one.rated_a, current_a=surge)
        if melts < spec.surge_s:
            yield hit(
                one.tag,
                unit.tag,
                way=one.tag,
                unit=unit.tag,
                surge=amps(surge),
                lasts=Given("", spec.surge_s, "s"),
                fuse=amps(one.rated_a),
                time=Given("", melts, "s"),
            )


@rule(
    "wiring.pack-lead-thin",
    "stop",
    "Links of {size} carry {ampacity}; the fuse inside each pack is {fuse}: the link burns before it opens.",
    "NEC 240.4 (conductor protected at its ampacity), recalled",
)
def pack_lead_thin(design: Design) -> Iterator[Hit]:
    """Links and leads thinner than the pack's own fuse."""
    bank = design.job.bank
    if bank.spec.fuse_a is None or design.system.shares_bank:
        return
    carries = wire_ampacity(design.job.wiring, "Links", bank.links.size)
    if over(bank.spec.fuse_a, carries.value):
        yield hit(
            *(pack.tag for pack in bank.packs),
            size=conductor_words(bank.links.size),
            ampacity=carries,
            fuse=amps(bank.spec.fuse_a),
        )


@rule(
    "wiring.packs-unfused",
    "check",
    "{count} strings side by side without a fuse of their own: a short in one is fed {short} by the others.",
    PRACTICE,
    "A fuse that breaks this at every string's positive, or packs that have one inside.",
)
def packs_unfused(design: Design) -> Iterator[Hit]:
    """Strings side by side that nothing parts from one another."""
    ratings, spec = design.bank, design.job.bank.spec
    if spec.fuse_a is not None or ratings.working < 2 or design.system.shares_bank:
        return
    strings = ratings.working
    if strings >= 2:
        short = ratings.prospective_a.value * (strings - 1) / strings
        yield hit(*(pack.tag for pack in design.job.bank.packs), count=str(strings), short=amps(short))


@rule(
    "wiring.fitted-breaking-unsaid",
    "check",
    "{name} in {run} does not say what it interrupts; {prospective} can flow into a short there.",
    PRACTICE,
)
def fitted_breaking_unsaid(design: Design) -> Iterator[Hit]:
    """A fitted fuse or breaker near a large bank that does not say its breaking capacity."""
    guards = {one.tag: one for one in design.guards.guards}
    for one in design.whole.fitted:
        guard = guards.get(one.run)
        if guard is None or one.kind == "switch" or one.breaks_a is not None or guard.near_a is None:
            continue
        if over(guard.near_a.value, WORTH_A):
            yield hit(one.tag, one.run, name=one.name, run=one.run, prospective=guard.near_a)
