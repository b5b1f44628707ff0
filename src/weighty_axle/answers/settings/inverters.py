"""Sheets of inverters: role, output, charging, cut-out, limits at every place to plug in."""

from __future__ import annotations

import math
from collections.abc import Iterator

from weighty_axle.answers.settings.chargers import CHARGE_CURRENT, charging_settings, point_setting, points_of
from weighty_axle.answers.settings.setting import Setting, UnitSheet, drained, setting
from weighty_axle.design.figures import PRACTICE, Figure, Given
from weighty_axle.design.settings.points import source_limits
from weighty_axle.design.table import Design
from weighty_axle.job.models.inverters import Inverter, line_v
from weighty_axle.reference.profiles import LOW_LINE_V

STACK_WORDS = {
    "single": "alone",
    "parallel": "in parallel",
    "split_phase": "half a turn apart",
    "legs_in_phase": "in phase on both legs",
    "one_two_legs": "alone, two legs",
    "independent": "each for itself",
    "three_phase": "a third of a turn apart",
}


def inverter_sheets(own: Design) -> Iterator[UnitSheet]:
    """The sheet of every inverter of a system.

    Source: set points of the design; common practice, no source.
    """
    stack = own.job.inverters
    for unit in stack.units:
        made = (
            *_role(own, unit),
            *(charging_settings(own, unit.tag) if stack.spec.charge_a else ()),
            *_charge_current(own, unit),
            *_discharging(own, unit),
            *_inputs(own, unit),
        )
        yield UnitSheet(unit.tag, f"inverter, {stack.spec.name}, {unit.leg}", made)


def _role(own: Design, unit: Inverter) -> Iterator[Setting]:
    stack = own.job.inverters
    together = len(stack.units) > 1 and stack.stacking not in ("independent", "single")
    if together:
        lead = stack.units[0]
        role = "leads" if unit is lead else f"follows {lead.tag}"
        yield setting(
            "role",
            unit.tag,
            "Role",
            f"{role}, {unit.leg}, {STACK_WORDS[stack.stacking]}",
            "",
            "one gives the beat; every other keeps to it on its own line",
            PRACTICE,
            hurts="two that lead push against each other the moment they meet",
            worse="other",
        )
    volts = line_v(stack)
    yield setting(
        "ac_v",
        unit.tag,
        "Output voltage",
        f"{stack.spec.ac_v:g} V",
        "",
        "of the sockets on board",
        "inverter datasheet",
        hurts="everything plugged in gets the wrong voltage",
        worse="other",
    )
    low = volts < LOW_LINE_V
    yield setting(
        "frequency",
        unit.tag,
        "Frequency",
        "60 Hz" if low else "50 Hz",
        "",
        f"usual with {volts:g} V; it must be that of the supplies it is plugged into",
        PRACTICE,
        hurts="it refuses every supply, and motors and clocks run wrong",
        worse="other",
    )
    yield setting(
        "earth_relay",
        unit.tag,
        "Neutral to earth while inverting",
        "on" if unit.bonds else "off",
        "",
        "its relay makes the one bond, and opens it with a source"
        if unit.bonds
        else "the bond is elsewhere: a second one trips residual-current devices",
        "states of the AC side",
        hurts="without a bond no residual-current device can trip; with two they trip for nothing",
        worse="other",
    )
    yield setting(
        "sleep",
        unit.tag,
        "Sleeps without loads",
        "on" if own.whole.year.sleeps and stack.spec.sleep_w is not None else "off",
        "",
        "as the year is lived" if own.whole.year.sleeps else "small loads would not wake it",
        "as stated",
    )


def _charge_current(own: Design, unit: Inverter) -> Iterator[Setting]:
    stack, points = own.job.inverters, points_of(own)
    if not stack.spec.charge_a:
        yield setting("charger", unit.tag, "Charger", "off", "", "it has none that is used", "inverter datasheet")
        return
    hurts = "with all sources at work the bank is charged over its limit"
    if not own.system.shares_bank:
        point = points["inverter_charge_a"]
        yield point_setting(unit.tag, point, key="charge_a", name=CHARGE_CURRENT, hurts=hurts, worse="above")
        return
    told = next((one for one in own.source_states.told if one.tag == own.system.key), None)
    left = told.told_a.value if told is not None else own.charging.safe_limit_a.value
    figure = Figure(
        name=f"{unit.tag} charge current",
        value=float(math.floor(min(stack.spec.charge_a, left / len(stack.units)) + 1e-6)),
        unit="A",
        formula="the smaller of its rating and what the other sources leave ÷ units, down to 1 A",
        inputs=(
            Given("Charger rating", stack.spec.charge_a, "A"),
            Given("Left to it", left, "A"),
            Given("Units", len(stack.units), "count"),
        ),
        source=PRACTICE,
    )
    yield setting(
        "charge_a",
        unit.tag,
        CHARGE_CURRENT,
        figure.value,
        "A",
        "it shares the bank: what the other sources leave it",
        PRACTICE,
        hurts=hurts,
        worse="above",
        figure=figure,
    )


def _discharging(own: Design, unit: Inverter) -> Iterator[Setting]:
    points = points_of(own)
    yield point_setting(
        unit.tag,
        points["cut_out_v"],
        hurts="the packs' electronics open first: all goes dark, and the inverter may be hurt"
        if own.job.bank.spec.managed
        else drained(own.job.bank.spec),
        worse="below",
    )
    yield point_setting(unit.tag, points["alarm_v"])
    yield point_setting(unit.tag, points["restart_v"])
    full, high = points["absorption_v"].value, own.settings.bms_high_v
    figure = Figure(
        name="High-voltage alarm",
        value=math.floor((full + high.value) / 2 * 10 + 1e-6) / 10,
        unit="V",
        formula="half way from full charge to the most the packs stand, down to 0.1 V",
        inputs=(Given("Full charge", full, "V"), high),
        source=PRACTICE,
    )
    yield setting(
        "high_alarm_v",
        unit.tag,
        figure.name,
        figure.value,
        "V",
        "over every charger's full charge" + (", under where the packs open" if own.job.bank.spec.managed else ""),
        PRACTICE,
        figure=figure,
    )


def _inputs(own: Design, unit: Inverter) -> Iterator[Setting]:
    """What it may take at each place, and whether the bank helps a weak supply."""
    stack = own.job.inverters
    for key, _, figure, why in source_limits(own.sources, stack):
        yield setting(
            key.replace("_limit_a", " limit").replace("_", " "),
            unit.tag,
            figure.name,
            figure.value,
            "A",
            why,
            PRACTICE,
            hurts="the breaker ashore trips, or the adapter and its plug burn",
            worse="above",
            figure=figure,
        )
    if stack.sources:
        lines = zip(stack.sources, own.sources, strict=True)
        weak = any(
            min(source.limit_a, row.recommended_limit_a.value) * source.volts < stack.spec.continuous_va
            for source, row in lines
        )
        yield setting(
            "help",
            unit.tag,
            "Bank helps the supply",
            "on" if weak else "off",
            "",
            "a place gives less than the loads may ask for" if weak else "every place gives all it can carry",
            PRACTICE,
        )
