"""Rules of step Settings."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import pairwise

from weighty_axle.answers.settings.under_load import under_load
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
    "Full charge at {full} is not below {limit}, the most the packs stand.",
    "pack datasheet",
)
def full_over_bms(design: Design) -> Iterator[Hit]:
    """Charging voltage at or above what the packs stand: lithium ones open under charge."""
    full, limit = design.settings.ladder[-1], design.settings.bms_high_v
    if full.value >= limit.value:
        yield hit(full=volts(full.value), limit=limit, remedy=_computed(full) if full.own else None)


@rule(
    "settings.cut-out-under-bms",
    "stop",
    "The cut-out at {low} is not above {limit}, the least the packs stand.",
    "pack datasheet",
)
def cut_out_under_bms(design: Design) -> Iterator[Hit]:
    """Cut-out at or under what the packs stand: lithium ones open first."""
    low, limit = design.settings.ladder[0], design.bank.cells * design.job.bank.spec.cell_min_v
    if low.value <= limit:
        yield hit(low=volts(low.value), limit=volts(limit), remedy=_computed(low) if low.own else None)


@rule(
    "settings.charge-over-bank",
    "stop",
    "{units} would charge with {sum} together; the bank takes {limit}.",
    "pack datasheet",
)
def charge_over_bank(design: Design) -> Iterator[Hit]:
    """Own charge currents above the bank's limit: of the inverters, or of all that charges where each unit has its own
    limit.
    """
    points = {one.key: one for one in design.settings.points if one.key.endswith("_charge_a")}
    inverters = points.get("inverter_charge_a")
    units = len(design.job.inverters.units)
    limit = design.bank.charge_limit_a
    if inverters is not None and over(inverters.value * units, limit.value):
        total, words, own = inverters.value * units, "The inverters", inverters
    elif design.job.charging.one_limit or not any(one.own for one in points.values() if one.unit_tag != "system"):
        return
    else:
        own = max((one for one in points.values() if one.own and one.unit_tag != "system"), key=_over_computed)
        total, words = sum(_charges(design, points)), "All units by their own limits"
    if over(total, limit.value):
        yield hit(units=words, sum=amps(total), limit=limit, remedy=_computed(own))


def _over_computed(point: SetPoint) -> float:
    return point.value - point.computed.value


def _charges(design: Design, points: dict[str, SetPoint]) -> Iterator[float]:
    """What each unit that charges can give by its own setting [A]."""
    for one in design.source_states.told:
        shared = one.tag in {unit.tag for unit in design.job.inverters.units}
        point = points.get("inverter_charge_a") if shared else points.get(f"{one.tag}_charge_a")
        yield min(point.value, one.most_a) if point is not None else one.told_a.value


@rule(
    "settings.springs-back",
    "check",
    "{unit} stops at full load with {bank} at the bank; without the load it is back at {back}, over its restart of "
    "{restart}: it would switch on and off.",
    "network of the DC side; rest voltages of reference/",
    "Raise the restart, or lose less on the way to it.",
)
def springs_back(design: Design) -> Iterator[Hit]:
    """A restart that the voltage passes by itself once the load is gone."""
    points = {one.key: one for one in design.settings.ladder}
    found = under_load(design)
    restart = points["restart_v"]
    if found is not None and found.back_v.value >= restart.value:
        remedy = _computed(restart) if restart.own else None
        yield hit(
            found.unit_tag,
            unit=found.unit_tag,
            bank=found.bank_v,
            back=found.back_v,
            restart=volts(restart.value),
            remedy=remedy,
        )


EARLY_SHARE = 0.15
"""More than this above what is planned to stay in the bank is lost to the drop. Source: judgement."""


@rule(
    "settings.stops-early",
    "check",
    "At full load {unit} stops with {left} left in the bank: its cut-out is reached by the drop on the way.",
    "network of the DC side; rest voltages of reference/",
    "Lower the cut-out if the packs allow it, or lose less on the way to it.",
)
def stops_early(design: Design) -> Iterator[Hit]:
    """A cut-out under load that leaves much in the bank."""
    found = under_load(design)
    planned = 1 - design.job.bank.usable_share
    if found is not None and found.left_share.value > planned + EARLY_SHARE:
        yield hit(found.unit_tag, unit=found.unit_tag, left=found.left_share)


@rule("settings.own-value", "note", "{name} is set to {own} by hand; {computed} is computed.", PRACTICE)
def own_value(design: Design) -> Iterator[Hit]:
    """A set point the installer chose."""
    for point in design.settings.points:
        if point.own and point.key != "system_charge_a":
            yield hit(name=point.name, own=Given("", point.value, point.computed.unit), computed=point.computed)
