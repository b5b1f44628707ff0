"""Sheets of what charges beside the inverters: solar controllers, converters between bars; and of the bank monitor."""

from __future__ import annotations

import math
from collections.abc import Iterator

from msgspec.structs import replace

from weighty_axle.answers.settings.setting import Setting, UnitSheet, Worse, drained, setting
from weighty_axle.design.brief.draws import voltage_class
from weighty_axle.design.charging.engine import Detection
from weighty_axle.design.figures import PRACTICE
from weighty_axle.design.settings.points import SetPoint
from weighty_axle.design.table import Design
from weighty_axle.job.models.bank import PackSpec
from weighty_axle.job.models.charging import VEHICLE, Converter
from weighty_axle.job.models.document import WAS_THERE
from weighty_axle.job.models.settings import FullCharge
from weighty_axle.job.systems import bar_of, bar_tag
from weighty_axle.reference.cells import CELL_POINTS
from weighty_axle.reference.profiles import PROFILES

DATASHEET = "datasheet"
CHARGE_CURRENT = "Charge current"


def point_setting(
    unit: str, point: SetPoint, *, key: str = "", name: str = "", hurts: str = "", worse: Worse = ""
) -> Setting:
    """A set point of the design as a setting of a unit."""
    why = (
        f"{point.why} (own value; {point.computed.value:g} {point.computed.unit} is computed)"
        if point.own
        else point.why
    )
    return setting(
        key or point.key,
        unit,
        name or point.name,
        point.value,
        point.computed.unit,
        why,
        point.computed.source,
        hurts=hurts,
        worse=worse,
        figure=point.computed,
    )


def points_of(own: Design) -> dict[str, SetPoint]:
    """Set points of a system by key."""
    return {one.key: one for one in own.settings.points}


def charging_settings(own: Design, unit: str) -> Iterator[Setting]:
    """Profile, full charge, float, new start, times, equalising, compensation of whatever charges a bank.

    Source: set points of the design; common practice, no source.
    """
    bank, points = own.job.bank, points_of(own)
    spec, school = bank.spec, own.job.settings.full_charge
    profile, cell = PROFILES[spec.chemistry], CELL_POINTS[spec.chemistry]
    lithium = spec.managed
    yield setting(
        "profile",
        unit,
        "Battery type",
        profile.name,
        "",
        "what is not named is charged as something else",
        PRACTICE,
        hurts="another profile brings its own voltages, equalises, and follows the temperature",
        worse="other",
    )
    full = points["absorption_v"]
    hurts = (
        "cells are charged over their limit, or their electronics open under charge"
        if lithium
        else "cells gas, boil dry and run hot"
    )
    other: FullCharge = "brim" if school == "gentle" else "gentle"
    made = point_setting(unit, full, hurts=hurts, worse="above")
    yield replace(made, why=f"{made.why}; the other school, {other}: {own.bank.cells * cell.full(other):.1f} V")
    yield setting(
        "absorption_min",
        unit,
        "Full charge held, at most",
        profile.absorption_min(school),
        "min",
        "the tail current ends it sooner" if lithium else "long enough for the acid to mix; the tail ends it sooner",
        PRACTICE,
    )
    yield setting(
        "tail_a",
        unit,
        "Full charge ends below",
        points["monitor_tail_a"].value,
        "A",
        "current the bank still takes when it is full; with loads on, by time",
        PRACTICE,
        figure=points["monitor_tail_a"].computed,
    )
    yield point_setting(unit, points["float_v"], hurts="cells held too high age, day and night", worse="above")
    yield point_setting(unit, points["rebulk_v"])
    yield setting(
        "equalise",
        unit,
        "Equalising",
        "off" if spec.chemistry != "flooded" else "by hand only",
        "",
        "lithium and sealed cells take none" if spec.chemistry != "flooded" else "only watched, only with loads off",
        PRACTICE,
        hurts="an equalising charge drives cells far over their limit"
        if lithium
        else "it boils cells dry while nobody looks",
        worse="other",
    )
    each = profile.compensation_mv_per_k * own.bank.cells
    yield setting(
        "compensation",
        unit,
        "Temperature compensation",
        "off" if lithium else each,
        "" if lithium else "mV/K",
        "lithium is charged to the same voltage warm and cold"
        if lithium
        else f"{profile.compensation_mv_per_k:g} mV/K of each of {own.bank.cells} cells, from 25 °C, probe at the bank",
        PRACTICE,
        hurts="it raises the voltage in the cold, when the cells can take the least" if lithium else "",
        worse="other" if lithium else "",
    )
    yield from _cold(unit, spec)


def _cold(unit: str, spec: PackSpec) -> Iterator[Setting]:
    if spec.managed:
        yield setting(
            "no_charge_below_c",
            unit,
            "No charging below",
            math.ceil(spec.charge_low_c),
            "°C",
            "cells colder than this are hurt by any charge; the packs' own electronics come second",
            "pack datasheet",
            hurts="lithium plates in the cold: the pack loses capacity for good",
            worse="below",
        )


def controller_sheets(own: Design) -> Iterator[UnitSheet]:
    """Solar controllers of a bank, and solar inputs built into inverters.

    Source: set points of the design; common practice, no source.
    """
    points = points_of(own)
    for one in own.job.roof.controllers:
        built_in = f", in {one.unit}" if one.unit else ""
        made = [
            setting(
                "battery_v",
                one.tag,
                "Battery voltage",
                float(voltage_class(own.bank.nominal_v.value)),
                "V",
                "set by hand: a bank that is flat, or not there, is taken for half of it",
                PRACTICE,
                hurts="another class of voltage charges far too high, or never",
                worse="other",
            ),
            *charging_settings(own, one.tag),
            point_setting(
                one.tag,
                points[f"{one.tag}_charge_a"],
                key="charge_a",
                name=CHARGE_CURRENT,
                hurts="with all sources at work the bank is charged over its limit",
                worse="above",
            ),
        ]
        yield UnitSheet(one.tag, f"solar controller, {one.spec.name}{built_in}", tuple(made))


def charger_sheets(own: Design) -> Iterator[UnitSheet]:
    """Converters that charge this bank, and supplies that start at its bar.

    Source: set points of the design, thresholds of the engine's detection; common practice, no source.
    """
    detected = {one.tag: one for one in own.detections}
    for beside in own.others:
        detected |= {one.tag: one for one in beside.detections}
    told = {one.tag: one.told_a.value for one in own.source_states.told}
    for end in own.ends:
        one = end.converter
        supply = one.spec.output_v is not None
        if supply and end.starts_here:
            yield UnitSheet(one.tag, f"supply, {one.spec.name}", tuple(_supply(own, one)))
        elif not supply and not end.starts_here:
            # A current under 1 A is set as it is.
            left = min(end.gives_a.value, told.get(one.tag, math.inf))
            most = float(math.floor(left + 1e-6)) if left >= 1 else round(left, 1)
            made = (
                setting(
                    "mode",
                    one.tag,
                    "Works as",
                    "charger",
                    "",
                    "it follows the bank through full charge and float",
                    PRACTICE,
                    hurts="as a supply it pushes one voltage for ever and never ends",
                    worse="other",
                ),
                *charging_settings(own, one.tag),
                setting(
                    "charge_a",
                    one.tag,
                    CHARGE_CURRENT,
                    most,
                    "A",
                    "its own rating, what its source spares, and what the other sources leave it",
                    end.gives_a.source,
                    hurts="with all sources at work the bank is charged over its limit, or its source is overloaded",
                    worse="above",
                    figure=end.gives_a,
                ),
                *_engine(one, detected.get(one.tag)),
            )
            yield UnitSheet(one.tag, f"charger from {bar_tag(own.whole, one.start)}, {one.spec.name}", made)


def _engine(one: Converter, seen: Detection | None) -> Iterator[Setting]:
    """How it knows that its source may be taken from."""
    if one.works == "engine":
        by_wire = one.senses == "wire" or (seen is not None and seen.settings is None)
        yield setting(
            "engine",
            one.tag,
            "Engine seen by",
            "ignition wire" if by_wire else "voltage",
            "",
            "no voltage tells a running engine from a resting battery here" if by_wire else "thresholds below",
            PRACTICE,
            hurts="it empties the starting battery, or never charges",
            worse="other",
        )
        if by_wire or seen is None:
            return
    good = seen.settings if seen is not None else None
    on_v = one.on_v if one.on_v is not None else good[0] if good else None
    off_v = one.off_v if one.off_v is not None else good[1] if good else None
    if on_v is None or off_v is None or one.works not in ("engine", "voltage"):
        return
    figure = seen.resting_high_v if seen is not None else None
    yield setting(
        "on_v",
        one.tag,
        "Goes on above",
        round(on_v, 1),
        "V",
        "over the resting battery, under what the alternator holds, at its own terminals",
        PRACTICE,
        hurts="it goes on with the engine off and empties the starting battery",
        worse="below",
        figure=figure,
    )
    yield setting(
        "off_v",
        one.tag,
        "Goes off below",
        round(off_v, 1),
        "V",
        "under the alternator less the drop of its cable, over the battery it would empty",
        PRACTICE,
        hurts="it goes on taking when the engine is off",
        worse="below",
        figure=seen.loaded_low_v if seen is not None else None,
    )
    for key, name, volts in (
        ("back_on_v", "Back: goes on above", one.back_on_v),
        ("back_off_v", "Back: goes off below", one.back_off_v),
    ):
        if one.both_ways and volts is not None:
            yield setting(key, one.tag, name, round(volts, 1), "V", "the other way, at the other bar", "as stated")
    if one.delay_s:
        yield setting(
            "delay_s", one.tag, "Goes off after", one.delay_s, "s", "outlasts what the alternator sags for", PRACTICE
        )


def _supply(own: Design, one: Converter) -> Iterator[Setting]:
    assert one.spec.output_v is not None
    points = points_of(own)
    to_bar = bar_of(own.whole, bar_tag(own.whole, one.end))
    kept = to_bar is not None and to_bar.bank is not None
    yield setting(
        "mode",
        one.tag,
        "Works as",
        "supply",
        "",
        "it holds its voltage for loads; nothing is charged through stages",
        PRACTICE,
        hurts="as a charger it drops to float, or stops, and its loads with it",
        worse="other",
    )
    yield setting(
        "output_v",
        one.tag,
        "Holds",
        one.spec.output_v,
        "V",
        "what keeps the battery there full without wearing it" if kept else "what its loads are made for",
        DATASHEET,
        hurts="the battery there is overcharged" if kept else "its loads get more than they are made for",
        worse="above",
    )
    if one.start != VEHICLE:
        yield setting(
            "input_off_v",
            one.tag,
            "Goes off below, at its input",
            points["cut_out_v"].value,
            "V",
            "with the inverters; what must stay on longer is fed elsewhere",
            PRACTICE,
            figure=points["cut_out_v"].computed,
            hurts=f"it goes on until {drained(own.job.bank.spec)}",
            worse="below",
        )


def limit_sheet(own: Design) -> Iterator[UnitSheet]:
    """The limit over all charging of a bank, where a unit keeps it.

    Source: set points of the design.
    """
    if own.job.bank.role in WAS_THERE:
        return
    tag = "SYS" if not own.system.key else f"SYS-{own.system.key}"
    together = own.job.charging.one_limit
    made = (
        point_setting(
            tag,
            points_of(own)["system_charge_a"],
            key="charge_a",
            hurts="all sources together charge the bank over its limit",
            worse="above",
        ),
        setting(
            "one_limit",
            tag,
            "One limit for all units",
            "on" if together else "off",
            "",
            "units are told over data leads, and keep to it together"
            if together
            else "each unit keeps to its own limit: their sum stays under the bank's",
            "as stated",
        ),
    )
    yield UnitSheet(tag, f"limit over all charging of {own.system.name}", made, stated=False)


def monitor_sheet(own: Design) -> Iterator[UnitSheet]:
    """The bank monitor of a bank that is counted: none on a starting battery, nor on one that was there and stays.

    Source: set points of the design; common practice, no source.
    """
    if own.job.bank.role in WAS_THERE:
        return
    points = points_of(own)
    tag = "MON" if not own.system.key else f"MON-{own.system.key}"
    spec = own.job.bank.spec
    profile = PROFILES[spec.chemistry]
    capacity, tail = points["monitor_capacity_ah"], points["monitor_tail_a"]
    share = round(100 * tail.value / capacity.value, 1) if capacity.value else 0.0
    made = (
        point_setting(tag, capacity, key="capacity_ah"),
        point_setting(tag, points["monitor_charged_v"], key="charged_v"),
        setting("tail_percent", tag, "Tail current", share, "%", tail.why, PRACTICE, figure=tail.computed),
        setting("charged_min", tag, "Held so long", profile.charged_min, "min", "1 to 3 min is usual", PRACTICE),
        setting(
            "efficiency_percent",
            tag,
            "Charge efficiency",
            profile.efficiency_percent,
            "%",
            "of ampere-hours put in, so many come out again",
            PRACTICE,
        ),
        setting(
            "exponent", tag, "Exponent", profile.exponent, "", "how much faster it empties at a high current", PRACTICE
        ),
        setting(
            "alarm_v",
            tag,
            "Low alarm",
            points["alarm_v"].value,
            "V",
            points["alarm_v"].why,
            PRACTICE,
            figure=points["alarm_v"].computed,
        ),
    )
    yield UnitSheet(tag, f"bank monitor of {own.system.name}", made, stated=False)
