"""Rules of cords to the inlets."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.answers.wiring.cords import cords_of
from weighty_axle.design.figures import PRACTICE, over
from weighty_axle.design.table import Design
from weighty_axle.rules.registry import Hit, amps, hit, rule, share
from weighty_axle.units import conductor_words

DROP_SHARE = 0.05
"""Most a cord may lose. Source: NEC 210.19 informational note, recalled."""


@rule(
    "wiring.cord-thin",
    "stop",
    "The cord of {inlet} is of {size}; its {rating} ask for {wanted}.",
    "NEC table 400.5(A)(1), IEC 60364-7-721 (recalled)",
    "Another cord, or a smaller inlet: what it is plugged in to opens only above its rating.",
)
def cord_thin(design: Design) -> Iterator[Hit]:
    """A stated cord thinner than the inlet's rating asks for."""
    for one in cords_of(design):
        if one.fits is False and one.wanted is not None:
            yield hit(
                one.inlet.tag,
                inlet=one.inlet.name,
                size=conductor_words(one.size),
                rating=amps(one.inlet.amps),
                wanted=conductor_words(one.wanted),
            )


@rule("wiring.cord-unknown", "check", "The cord of {inlet}: {why}.", PRACTICE)
def cord_unknown(design: Design) -> Iterator[Hit]:
    """A cord of which nothing can be told: a rating beyond the table, or a size no table has."""
    for one in cords_of(design):
        if one.fits is None:
            why = (
                f"no cord of the table carries {one.inlet.amps:g} A"
                if one.wanted is None
                else f"no table has {one.size}, nothing is judged"
            )
            yield hit(one.inlet.tag, inlet=one.inlet.name, why=why)


@rule(
    "wiring.cord-drop",
    "check",
    "The cord of {inlet} loses {drop} of the voltage at its whole rating, {length} long; {limit} is usual at most.",
    "NEC 210.19 informational note, IEC 60364-5-52 annex G, recalled",
    "A shorter or a thicker one, or a lower source limit.",
)
def cord_drop(design: Design) -> Iterator[Hit]:
    """A cord that loses more than is usual."""
    for one in cords_of(design):
        if over(one.drop_share.value, DROP_SHARE):
            yield hit(
                one.inlet.tag, inlet=one.inlet.name, drop=one.drop_share, length=one.length_m, limit=share(DROP_SHARE)
            )
