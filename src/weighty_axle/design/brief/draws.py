"""What every load draws and where: its feed, its converter, its rows on each kind of day."""

from __future__ import annotations

from typing import NamedTuple

from weighty_axle.job.models.brief import ALL_YEAR, DayKind, Load, Pattern, Season, Supply
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.inverters import LINES, AcSide, Inverters, panel_lines
from weighty_axle.job.systems import bar_of, bar_tag, load_bar
from weighty_axle.physics.electric.phasors import complex_power

FEEDS = ("L1", "L2", "L3", "L1+L2", "L1+L2+L3", "AC", "DC")
"""Where a load's power is taken: a leg, across two legs, all three, the one AC line, or the bank."""


CHANNEL = {feed: channel for channel, feed in enumerate(FEEDS)}


ACROSS, ALL_THREE, DC_CHANNEL = CHANNEL["L1+L2"], CHANNEL["L1+L2+L3"], CHANNEL["DC"]


DC_VOLTS: dict[Supply, int] = {"DC_12": 12, "DC_24": 24, "DC_48": 48}


class LoadRow(NamedTuple):
    """One load on one kind of day in one season, as the sums need it. Powers are of all units, at the feed [W, var]."""

    tag: str
    channel: int
    supply: str
    full_w: float
    full_var: float
    mean_share: float
    standby_w: float
    at_load_share: float
    spans: Pattern


def feeds_of(loads: tuple[Load, ...], ac: AcSide, inverters: Inverters) -> dict[str, str]:
    """Feed of every load: its circuit's leg, or its own.

    What has no leg yet hangs on the leg with less on it so far that its panel has, largest first.

    Source: common practice, no source.
    """
    lines = LINES[inverters.stacking]
    legs = {circuit.tag: circuit.leg for circuit in ac.circuits}
    allowed = lines_allowed(ac, inverters)
    feeds: dict[str, str] = {}
    on_leg: dict[str, float] = dict.fromkeys(lines, 0.0)
    waiting: dict[str, list[Load]] = {}
    for load in loads:
        if load.supply in DC_VOLTS:
            feeds[load.tag] = "DC"
        elif lines == ("AC",):
            feeds[load.tag] = "AC"
        elif "+" in load.supply or "+" in legs.get(load.circuit, ""):
            feeds[load.tag] = "L1+L2+L3" if len(lines) == 3 else "L1+L2"
        else:
            leg: str = legs.get(load.circuit, load.supply)
            if leg in on_leg:
                feeds[load.tag] = leg
                on_leg[leg] += load.running_w * load.count
            else:
                waiting.setdefault(load.circuit if load.circuit in legs else f"load {load.tag}", []).append(load)
    sizes = {name: sum(load.running_w * load.count for load in group) for name, group in waiting.items()}
    for name in sorted(waiting, key=lambda one: -sizes[one]):
        line = min(allowed.get(name) or on_leg, key=lambda one: on_leg[one])
        feeds.update((load.tag, line) for load in waiting[name])
        on_leg[line] += sizes[name]
    return feeds


def lines_allowed(ac: AcSide, inverters: Inverters) -> dict[str, tuple[str, ...]]:
    """Lines each circuit may hang on: those that reach its panel; empty where none does, or the panel is not said."""
    reach = panel_lines(ac, inverters)
    return {circuit.tag: reach.get(circuit.panel, ()) for circuit in ac.circuits}


def voltage_class(nominal_v: float) -> int:
    """12, 24 or 48: the class a bank's nominal voltage belongs to (4, 8 or 16 LFP cells have 12.8, 25.6, 51.2 V)."""
    return min((12, 24, 48), key=lambda volts: abs(volts * 12.8 / 12 - nominal_v))


class Draw(NamedTuple):
    """What a load draws whatever the day: where, of what supply, and how much of all units at the feed [W, var]."""

    load: Load
    channel: int
    supply: str
    full_w: float
    full_var: float
    standby_w: float
    at_load_share: float


def dc_shares(loads: tuple[Load, ...], whole: Job, bank_class: int, bar: str) -> dict[str, float]:
    """Share of what each DC load takes from the bank that reaches it: all on its own bar, less behind a converter.

    Behind stated converters to a bar the least efficient counts; where none is stated, the usual one of the job.
    """
    usual = whole.wiring.converter_efficiency
    behind: dict[str, float] = {}
    for one in whole.converters:
        end = bar_tag(whole, one.end)
        behind[end] = min(behind.get(end, 1.0), one.spec.efficiency)
    found = {}
    for load in loads:
        volts = DC_VOLTS.get(load.supply)
        if volts is None:
            continue
        on = load_bar(whole, load)
        own = on == bar or (bar_of(whole, on) is None and on != bar)
        found[load.tag] = (1.0 if volts == bank_class else usual) if own else behind.get(on, usual)
    return found


def draws_of(loads: tuple[Load, ...], feeds: dict[str, str], shares: dict[str, float]) -> tuple[Draw, ...]:
    """What every load draws. A DC load of another voltage than the bank's is behind a converter."""
    draws = []
    for load in loads:
        supply, feed = load.supply, feeds[load.tag]
        dc_volts = DC_VOLTS.get(supply)
        at_load = shares.get(load.tag, 1.0)
        full_w = load.running_w * load.count / at_load
        var = 0.0 if dc_volts or load.power_factor == 1 else complex_power(full_w, load.power_factor).imag
        draws.append(
            Draw(
                load,
                CHANNEL[feed],
                supply if dc_volts else feed,
                full_w,
                var,
                load.standby_w * load.count / at_load,
                at_load,
            )
        )
    return tuple(draws)


def rows_of(draws: tuple[Draw, ...], kind: DayKind, season: Season, before: tuple[str, ...]) -> tuple[LoadRow, ...]:
    """What runs or stands by on a kind of day in a season; loads `before` the inverters only on days hooked up."""
    rows, tag, inverters_on = [], kind.tag, kind.inverters_on
    dark = set() if kind.use == "hooked_up" else set(before)
    for load, channel, supply, full_w, full_var, standby_w, at_load in draws:
        spans = load.patterns.get(tag, ())
        # Charging only at a pedestal, the inverters still pass its power through.
        if not (spans or standby_w) or not (inverters_on or channel == DC_CHANNEL or kind.use == "hooked_up"):
            continue
        season_share = 1.0 if load.seasons is ALL_YEAR else getattr(load.seasons, season)
        if season_share and load.tag not in dark:
            rows.append(
                LoadRow(
                    load.tag, channel, supply, full_w, full_var, load.duty * season_share, standby_w, at_load, spans
                )
            )
    return tuple(rows)


def seasons_alike(loads: tuple[Load, ...], kind: DayKind, lived: tuple[Season, ...]) -> list[tuple[Season, ...]]:
    """Seasons a kind of day is lived in, grouped where every load runs the same."""
    uneven = [
        load.seasons
        for load in loads
        if load.seasons is not ALL_YEAR and (load.patterns.get(kind.tag) or load.standby_w)
    ]
    groups: dict[tuple[float, ...], list[Season]] = {}
    for season in lived:
        groups.setdefault(tuple(getattr(one, season) for one in uneven), []).append(season)
    return [tuple(group) for group in groups.values()]
