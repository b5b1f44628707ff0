"""Rules of earth and bonds."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.answers.wiring.bonding import CHASSIS_LEAST_MM2, chassis_size
from weighty_axle.design.conductors import conductor_area_mm2
from weighty_axle.design.figures import PRACTICE, Given, over
from weighty_axle.design.table import Design
from weighty_axle.design.wiring.earthing import FaultLoop
from weighty_axle.rules.registry import Hit, hit, rule
from weighty_axle.units import conductor_words


def _unguarded(design: Design) -> Iterator[FaultLoop]:
    """Stated circuits without a residual-current device on the way: those with sockets, and every one where the
    practice asks for a device in all of a vehicle's circuits (IEC 60364-7-721 clause 721.415.1, recalled).
    """
    every = design.job.practice == "international"
    asked = {one.tag for one in design.circuits if one.stated and (every or one.circuit.outlets)}
    return (one for one in design.loops if not one.guarded and one.tag in asked)


@rule(
    "wiring.inverter-cannot-trip",
    "check",
    "{circuits}: on the inverters alone a fault draws {fault}; {breaker} opens at once from {at_once}: it needs a "
    "residual-current device.",
    "IEC 60364-4-41 clause 411.4 (disconnection), recalled",
)
def inverter_cannot_trip(design: Design) -> Iterator[Hit]:
    """Circuits whose breaker an inverter cannot open at once, without a residual-current device on the way."""
    found = [one for one in _unguarded(design) if not one.trips]
    if found:
        worst = max(found, key=lambda one: one.at_once_a.value - one.on_inverters_a.value)
        circuits = worst.name if len(found) == 1 else f"{worst.name} and {len(found) - 1} more"
        yield hit(
            *(one.tag for one in found),
            circuits=circuits,
            fault=worst.on_inverters_a,
            breaker=f"a {worst.breaker_a:g} A breaker",
            at_once=worst.at_once_a,
        )


@rule(
    "wiring.shore-cannot-trip",
    "check",
    "{circuit}: plugged in, a fault at its end draws {fault}; its breaker opens at once from {at_once}.",
    "IEC 60364-4-41 clause 411.4 (loop impedance), recalled",
    "More copper, a smaller breaker, or a residual-current device.",
)
def shore_cannot_trip(design: Design) -> Iterator[Hit]:
    """A circuit too long for its breaker even on shore power."""
    for one in _unguarded(design):
        if one.on_shore_a is not None and over(one.at_once_a.value, one.on_shore_a.value):
            yield hit(one.tag, circuit=one.name, fault=one.on_shore_a, at_once=one.at_once_a)


@rule(
    "wiring.chassis-thin",
    "stop",
    "DC negative and chassis are joined with {size}; a fault of the main run wants {wanted} at least.",
    PRACTICE,
)
def chassis_thin(design: Design) -> Iterator[Hit]:
    """A stated bond of DC negative thinner than what a fault wants."""
    stated = design.job.wiring.chassis_size
    main = design.wiring.main.chosen
    if stated is None or main is None or design.system.shares_bank:
        return
    wanted = max(CHASSIS_LEAST_MM2, conductor_area_mm2(main.size) * main.count / 2)
    try:
        area = conductor_area_mm2(stated)
    except ValueError:
        return
    if over(wanted, area):
        yield hit(design.job.wiring.board.tag, size=conductor_words(stated), wanted=Given("", round(wanted, 1), "mm2"))


@rule(
    "wiring.chassis-unknown",
    "check",
    "DC negative and chassis are joined with {size}, which no table has: nothing is judged.",
    PRACTICE,
)
def chassis_unknown(design: Design) -> Iterator[Hit]:
    """A stated bond of a size that no table has."""
    stated = design.job.wiring.chassis_size
    if stated is None or design.system.key:
        return
    try:
        conductor_area_mm2(stated)
    except ValueError:
        yield hit(design.job.wiring.board.tag, size=stated)


@rule(
    "wiring.chassis-unsaid",
    "note",
    "Nobody has said where DC negative meets the chassis: one place, {size}, beside the AC earth's.",
    PRACTICE,
)
def chassis_unsaid(design: Design) -> Iterator[Hit]:
    """A bond that is planned and has no place yet, where somebody has begun to say how it is joined."""
    wiring = design.job.wiring
    if wiring.chassis_size is not None and not wiring.chassis_at and not design.system.key:
        yield hit(wiring.board.tag, size=conductor_words(chassis_size(design)))


@rule(
    "wiring.earth-over-line",
    "note",
    "{circuit}: an earth of {earth} is asked for beside a line of {line}; both of {earth} are the same work.",
    PRACTICE,
)
def earth_over_line(design: Design) -> Iterator[Hit]:
    """A line thinner than the earth its guard asks for: mostly a breaker too large for it."""
    for one in design.loops:
        try:
            thinner = over(conductor_area_mm2(one.earth), conductor_area_mm2(one.size))
        except ValueError:
            continue
        if thinner:
            yield hit(one.tag, circuit=one.name, earth=conductor_words(one.earth), line=conductor_words(one.size))
