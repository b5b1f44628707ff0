"""Rules of step Settings."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import pairwise

from weighty_axle.design.figures import PRACTICE, Given, over
from weighty_axle.design.settings.points import SetPoint
from weighty_axle.design.table import Design
from weighty_axle.job.edits.edit import Edit, set_value
from weighty_axle.rules.registry import Hit, amps, hit, rule, volts


def _computed(point: SetPoint) -> Edit:
    return set_value(f"settings.own_values[{point.key}]", None, f"Use the computed {point.name.lower()}")


@rule("settings.order", "stop", "{lower} at {low} must be below {upper} at {high}.", "order of set points; " + PRACTICE)
def order(design: Design) -> Iterator[Hit]:
    """Voltages of the ladder out of order."""
    for lower, upper in pairwise(design.settings.ladder):
        if lower.value >= upper.value:
            own = upper if upper.own else lower
            yield hit(
                lower=lower.name,
                low=volts(lower.value),
                upper=upper.name.lower(),
                high=volts(upper.value),
                remedy=_computed(own),
            )


@rule(
    "settings.full-over-bms",
    "stop",
    "Full charge at {full} is not below the BMS limit of {limit}: the BMS would open under charge.",
    "pack datasheet",
)
def full_over_bms(design: Design) -> Iterator[Hit]:
    """Charging voltage at or above the BMS limit."""
    full, limit = design.settings.ladder[-1], design.settings.bms_high_v
    if full.value >= limit.value:
        yield hit(full=volts(full.value), limit=limit, remedy=_computed(full) if full.own else None)


@rule(
    "settings.cut-out-under-bms", "stop", "The cut-out at {low} is not above the BMS's own {limit}.", "pack datasheet"
)
def cut_out_under_bms(design: Design) -> Iterator[Hit]:
    """Cut-out at or under the BMS's lowest."""
    low, limit = design.settings.ladder[0], design.bank.cells * design.job.bank.spec.cell_min_v
    if low.value <= limit:
        yield hit(low=volts(low.value), limit=volts(limit), remedy=_computed(low) if low.own else None)


@rule(
    "settings.charge-over-bank",
    "stop",
    "The inverters would charge with {sum} together; the bank takes {limit}.",
    "pack datasheet",
)
def charge_over_bank(design: Design) -> Iterator[Hit]:
    """Own charge current above the bank's limit."""
    point = next((one for one in design.settings.points if one.key == "inverter_charge_a"), None)
    if point is None:
        return
    total = point.value * len(design.job.inverters.units)
    if over(total, design.bank.charge_limit_a.value):
        yield hit(sum=amps(total), limit=design.bank.charge_limit_a, remedy=_computed(point))


@rule("settings.own-value", "note", "{name} is set to {own} by hand; {computed} is computed.", PRACTICE)
def own_value(design: Design) -> Iterator[Hit]:
    """A set point the installer chose."""
    for point in design.settings.points:
        if point.own and point.key != "system_charge_a":
            yield hit(name=point.name, own=Given("", point.value, point.computed.unit), computed=point.computed)
