"""Rules of how packs are linked: sharing, links, bars, the packs' own fuses."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.design.bank.links import TAKE_OFF_WORDS, PackState, sharing
from weighty_axle.design.figures import PRACTICE, Figure, Given, over
from weighty_axle.design.table import Design
from weighty_axle.job.edits.edit import Edit, set_value
from weighty_axle.job.models.bank import Links
from weighty_axle.rules.bank.packs import pack_tags
from weighty_axle.rules.registry import Hit, amps, hit, rule, volts
from weighty_axle.units import conductor_words

# ---- sharing, links, own fuses -------------------------------------------------------------------------------

SERIES_APART_CELL_V = 0.0125
"""Difference per cell up to which blocks may be joined in series: 0.05 V on a 12 V block.

Source: common practice, no source.
"""


UNEVEN = 1.1
"""Largest share over the mean from which sharing counts as uneven. Source: common practice, no source."""


@rule(
    "bank.sharing-uneven",
    "check",
    "{pack} carries {part} of the mean current, {how}: it ages first, and the bank gives {limit} in all.",
    "textbook relation: Kirchhoff's laws",
)
def sharing_uneven(design: Design) -> Iterator[Hit]:
    """One string far above the mean; the remedy is the way of linking that shares best."""
    shared = design.bank.sharing
    if shared.spread <= UNEVEN:
        return
    bank, states = (
        design.job.bank,
        tuple(
            PackState(tag=pack.tag, resistance_factor=pack.resistance_factor, out=pack.out)
            for pack in design.job.bank.packs
        ),
    )
    links = bank.links if design.bank.links_known else Links()
    spreads = {way: sharing(bank.spec, bank.series, states, links, way).spread for way in TAKE_OFF_WORDS}
    best = min(spreads, key=lambda way: spreads[way])
    remedy = (
        set_value("bank.links.take_off", best, f"Link the packs by {TAKE_OFF_WORDS[best]}")
        if spreads[best] < shared.spread - 0.01
        else None
    )
    yield hit(
        shared.first,
        pack=shared.first,
        part=design.bank.spread_share,
        how=TAKE_OFF_WORDS[shared.take_off],
        limit=design.bank.discharge_limit_a,
        remedy=remedy,
    )


@rule(
    "bank.link-size",
    "check",
    "The links' conductor {size} is not in this job's ampacity table; its current is not judged.",
    "table of ampacities",
)
def link_size(design: Design) -> Iterator[Hit]:
    """Links of an unknown or foreign size."""
    if _link_ampacity(design) is None:
        main = design.wiring.main.chosen
        remedy = set_value("bank.links.size", main.size, f"Links of {conductor_words(main.size)}") if main else None
        yield hit(size=conductor_words(design.job.bank.links.size), remedy=remedy)


def _link_ampacity(design: Design) -> float | None:
    size = design.job.bank.links.size
    return next(
        (
            candidate.ampacity_a
            for candidate in design.wiring.main.candidates
            if candidate.size == size and candidate.count == 1
        ),
        None,
    )


@rule(
    "bank.link-ampacity", "stop", "{link} carries {current}{state}; {size} may carry {ampacity}.", "table of ampacities"
)
def link_ampacity(design: Design) -> Iterator[Hit]:
    """The busiest link or lead above its conductor's ampacity, every pack in or any one out; bars and terminals are not
    cable.
    """
    ampacity, cable = _link_ampacity(design), design.bank.cable
    if ampacity is None or cable is None:
        return
    total = max(design.bank.continuous_a, design.charging.into_bank_a, key=lambda one: one.value)
    lost = cable.one_out > cable.share
    share = max(cable.share, cable.one_out)
    given = (total, Given("Its share of the bank's current", share, "1"))
    current = Figure(
        name="Busiest link or lead",
        value=share * total.value,
        unit="A",
        formula="bank current × share by Kirchhoff's laws",
        inputs=given,
        source="textbook relation (nodal analysis)",
    )
    if over(current.value, ampacity):
        yield hit(
            link=f"{cable.name[0].upper()}{cable.name[1:]}",
            current=current,
            state=" with one pack out" if lost else "",
            size=conductor_words(design.job.bank.links.size),
            ampacity=Given("", ampacity, "A"),
            remedy=_wider_links(design, current.value),
        )


@rule(
    "bank.link-under-fuse",
    "stop",
    (
        "A pack's own fuse of {fuse} guards links and leads of {size}, which may carry {ampacity}: they burn before it "
        "opens."
    ),
    "NEC 240.4 (conductor protected at its ampacity), recalled",
)
def link_under_fuse(design: Design) -> Iterator[Hit]:
    """Conductors at a pack thinner than its own fuse."""
    ampacity, fuse = _link_ampacity(design), design.job.bank.spec.fuse_a
    if ampacity is not None and fuse is not None and design.bank.cable is not None and over(fuse, ampacity):
        size = conductor_words(design.job.bank.links.size)
        yield hit(
            *pack_tags(design),
            fuse=amps(fuse),
            size=size,
            ampacity=Given("", ampacity, "A"),
            remedy=_wider_links(design, fuse),
        )


def _wider_links(design: Design, need_a: float) -> Edit | None:
    """Links that carry a current and the packs' own fuses."""
    need = max(need_a, design.job.bank.spec.fuse_a or 0.0)
    wide = next(
        (
            candidate
            for candidate in design.wiring.main.candidates
            if candidate.count == 1 and candidate.ampacity_a >= need
        ),
        None,
    )
    return set_value("bank.links.size", wide.size, f"Links of {conductor_words(wide.size)}") if wide else None


@rule(
    "bank.series-unequal",
    "check",
    "{low} at {low_v} is to be joined in series with {high} at {high_v}: the fuller one is full long before the other.",
    PRACTICE,
    (
        "Charge each alone to full and let it rest before they are joined; a balancer across blocks in series keeps "
        "them alike."
    ),
)
def series_unequal(design: Design) -> Iterator[Hit]:
    """Packs of one string whose measured voltages differ by more than the meter's error and the table's: series blocks
    are not joined unequal.
    """
    bank = design.job.bank
    for at in range(0, len(bank.packs), bank.series):
        measured = [(pack.open_v, pack.tag) for pack in bank.packs[at : at + bank.series] if pack.open_v is not None]
        if bank.series > 1 and len(measured) > 1:
            (low_v, low), (high_v, high) = min(measured), max(measured)
            if high_v - low_v > SERIES_APART_CELL_V * bank.spec.cells_in_series:
                yield hit(low, high, low=low, low_v=volts(low_v), high=high, high_v=volts(high_v))


@rule("bank.bar-full", "stop", "{strings} strings on bars of {ways} ways.", "geometry")
def bar_full(design: Design) -> Iterator[Hit]:
    """More leads than the bars have ways."""
    links, strings = design.job.bank.links, design.bank.parallel
    if links.take_off in ("bar_equal", "bar_unequal") and strings > links.bar_ways:
        yield hit(
            *pack_tags(design),
            strings=str(strings),
            ways=str(links.bar_ways),
            remedy=set_value("bank.links.bar_ways", strings, f"Bars of {strings} ways"),
        )


@rule(
    "bank.pack-fuse-missing", "check", "{pack} has no fuse or breaker of its own; in parallel each needs one.", PRACTICE
)
def pack_fuse_missing(design: Design) -> Iterator[Hit]:
    """Several strings of lithium packs, no own protection."""
    spec = design.job.bank.spec
    if spec.managed and spec.fuse_a is None and design.bank.parallel > 1:
        yield hit(*pack_tags(design), pack=spec.name)


@rule(
    "bank.pack-fuse-small",
    "stop",
    "{pack} carries {current} at full load; its own fuse of {fuse} is under 1.25 times that.",
    PRACTICE,
)
def pack_fuse_small(design: Design) -> Iterator[Hit]:
    """Own fuse under 1.25 times the busiest string's current."""
    fuse, shared = design.job.bank.spec.fuse_a, design.bank.sharing
    busiest = max((string.share for string in shared.strings), default=0.0) * design.bank.continuous_a.value
    if fuse is not None and over(1.25 * busiest, fuse):
        yield hit(shared.first, pack=shared.first, current=amps(busiest), fuse=amps(fuse))


@rule(
    "bank.no-balancer",
    "check",
    "{packs} packs in series drift apart, each with its own BMS; nothing evens them out.",
    PRACTICE,
    "A balancer across every string, or one pack of the whole voltage.",
)
def no_balancer(design: Design) -> Iterator[Hit]:
    """Lithium packs in series without a balancer."""
    bank = design.job.bank
    if bank.series > 1 and not bank.balanced and bank.spec.managed:
        remedy = set_value("bank.balanced", True, "A balancer evens out the packs in series")
        yield hit(*pack_tags(design), packs=str(bank.series), remedy=remedy)
