"""Rules of filling the inverters' capacitors before the main contact closes."""

from __future__ import annotations

import math
from collections.abc import Iterator

from weighty_axle.design.figures import PRACTICE, Given, over
from weighty_axle.design.table import Design
from weighty_axle.design.wiring.precharge import PrechargeResult
from weighty_axle.job.edits.edit import Edit, set_value
from weighty_axle.physics.electric.precharge import FILLED_SHARE
from weighty_axle.rules.registry import Hit, hit, rule, volts

LONGEST_HELD_S = 30.0
"""How long anyone holds a switch. Source: common practice, no source."""


def _fitted(design: Design) -> Iterator[PrechargeResult]:
    """The pre-charge of a bar where there is one."""
    if design.precharge is not None and design.precharge.fitted:
        yield design.precharge


def _without(design: Design) -> Iterator[PrechargeResult]:
    """Where a main switch closes onto capacitors that nothing has filled."""
    found = design.precharge
    if found is not None and not found.fitted and design.job.wiring.board.main_switch_a is not None:
        yield found


def _set(design: Design, name: str, value: object, words: str) -> Edit | None:
    """An edit of the board's pre-charge; the house board's only."""
    return None if design.system.key else set_value(f"wiring.board.{name}", value, words)


@rule(
    "wiring.no-precharge",
    "check",
    "{bar} has a main switch and no pre-charge: it closes onto the empty capacitors of {units}, {peak} for a moment.",
    PRACTICE,
    "A switch of two positions with a resistor, or a relay that fills them first.",
)
def no_precharge(design: Design) -> Iterator[Hit]:
    """A main switch that closes straight onto inverters."""
    for one in _without(design):
        remedy = _set(design, "precharge", True, f"Pre-charge on {one.bar}")
        yield hit(
            one.bar,
            *one.units,
            bar=design.job.wiring.board.name,
            units=" and ".join(one.units),
            peak=one.peak_without_a,
            remedy=remedy,
        )


@rule(
    "wiring.rings-over-inverter",
    "check",
    "Without pre-charge the capacitors of {units} ring up to {highest}; the inverters stand {limit}.",
    "textbook relation (series RLC circuit)",
    "What the capacitors resist themselves damps some of it: a pre-charge takes all of it away.",
)
def rings_over(design: Design) -> Iterator[Hit]:
    """Overshoot above what an inverter stands."""
    limit = design.job.inverters.spec.dc_max_v
    for one in _without(design):
        if over(one.highest_without_v.value, limit):
            yield hit(
                *one.units,
                units=" and ".join(one.units),
                highest=one.highest_without_v,
                limit=volts(limit),
                remedy=_set(design, "precharge", True, f"Pre-charge on {one.bar}"),
            )


@rule(
    "wiring.precharge-pinned",
    "stop",
    "{bar}: standby of {load} from {start} on takes what the resistor gives; the capacitors never get past that.",
    "textbook relation (constant power behind a resistor)",
    "A smaller resistor, or standby off until the contact has closed.",
)
def precharge_pinned(design: Design) -> Iterator[Hit]:
    """A standby load that holds the capacitors where it starts."""
    how = design.job.wiring.board.precharging
    for one in _fitted(design):
        if one.pinned:
            yield hit(
                one.bar, *one.units, bar=one.bar, load=Given("", how.standby_w, "W"), start=volts(one.course.starts_v)
            )


@rule(
    "wiring.precharge-short-of-full",
    "stop",
    "{bar}: the standby load lets the capacitors reach {ends}, where {full} count as filled: they never get there.",
    "textbook relation (constant power behind a resistor)",
    "A smaller resistor, or standby off until the contact has closed.",
)
def precharge_short_of_full(design: Design) -> Iterator[Hit]:
    """A standby load that keeps the capacitors from 95 % for ever."""
    for one in _fitted(design):
        full = FILLED_SHARE * one.course.source_v
        if not one.pinned and over(full, one.course.ends_v):
            yield hit(one.bar, *one.units, bar=one.bar, ends=volts(one.course.ends_v), full=volts(full))


@rule(
    "wiring.precharge-held-short",
    "check",
    "{bar}: held for {held}, the resistor leaves {left}; the contact then closes onto {peak}.",
    PRACTICE,
    "95 % is reached only after the time told: hold it longer, or take a smaller resistor.",
)
def precharge_held_short(design: Design) -> Iterator[Hit]:
    """A contact that closes before the capacitors are filled."""
    for one in _fitted(design):
        if math.isfinite(one.filled_s.value) and over(one.filled_s.value, one.held_s.value):
            remedy = _set(design, "precharging.held_s", None, f"Hold the pre-charge of {one.bar} until 95 %")
            yield hit(
                one.bar, *one.units, bar=one.bar, held=one.held_s, left=one.left_v, peak=one.peak_a, remedy=remedy
            )


@rule(
    "wiring.precharge-long",
    "note",
    "{bar}: the capacitors take {filled} to fill; nobody holds a switch that long.",
    PRACTICE,
)
def precharge_long(design: Design) -> Iterator[Hit]:
    """A hand-held pre-charge that takes too long."""
    for one in _fitted(design):
        by_hand = design.job.wiring.board.precharging.kind == "switch"
        if by_hand and math.isfinite(one.filled_s.value) and over(one.filled_s.value, LONGEST_HELD_S):
            yield hit(one.bar, bar=one.bar, filled=one.filled_s)


@rule(
    "wiring.precharge-resistor",
    "stop",
    "{bar}: one filling puts {energy} into the resistor; it stands {limit}.",
    PRACTICE,
)
def precharge_resistor(design: Design) -> Iterator[Hit]:
    """A resistor that a single filling is too much for."""
    limit = design.job.wiring.board.precharging.pulse_j
    for one in _fitted(design):
        if limit is not None and over(one.energy_j.value, limit):
            yield hit(one.bar, bar=one.bar, energy=one.energy_j, limit=Given("", limit, "J"))


@rule(
    "wiring.precharge-unrated",
    "note",
    "{bar}: the pre-charge resistor takes {energy} and {power} at the start; its pulse rating is not stated.",
    PRACTICE,
)
def precharge_unrated(design: Design) -> Iterator[Hit]:
    """A resistor whose pulse rating nobody has looked up."""
    for one in _fitted(design):
        if design.job.wiring.board.precharging.pulse_j is None:
            yield hit(one.bar, bar=one.bar, energy=one.energy_j, power=one.start_w)
