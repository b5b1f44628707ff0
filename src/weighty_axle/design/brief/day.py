"""Step Brief: what must run, when and together; energy per day and the highest coincident power."""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from msgspec import Struct

from weighty_axle.design.brief.seasons import SEASON_WORDS, SEASONS
from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Figure, Given
from weighty_axle.job.models.brief import ALL_YEAR, DayKind, DayUse, Load, Pattern, Season, Supply
from weighty_axle.job.models.inverters import BETWEEN_LINES, LINES, AcSide, Inverters, Stacking, panel_lines, units_on
from weighty_axle.physics.electric.converters import LossCurve, fit_loss
from weighty_axle.physics.electric.phasors import complex_power
from weighty_axle.physics.loads.daytime import DAY_MIN, Steps, integral_h, summed

FEEDS = ("L1", "L2", "L3", "L1+L2", "L1+L2+L3", "AC", "DC")
"""Where a load's power is taken: a leg, across two legs, all three, the one AC line, or the bank."""
_CHANNEL = {feed: channel for channel, feed in enumerate(FEEDS)}
ACROSS, ALL_THREE, DC_CHANNEL = _CHANNEL["L1+L2"], _CHANNEL["L1+L2+L3"], _CHANNEL["DC"]
_WATTS, _VARS, _MEANS = 0, len(FEEDS), 2 * len(FEEDS)
"""Where the channels of running power, running reactive power and mean power begin in a day's sums."""
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


class Profile(Struct, frozen=True, kw_only=True):
    """One kind of day in the seasons that are alike. Steps have a channel per feed and share their times.

    running_w: everything painted drawing its full power at once [W]; mean_w: with duty and standby [W];
    bank_w: mean power out of the bank, losses in [W per step of mean_w]; by_supply_wh, by_load_wh: energy at the loads.
    """

    key: str
    kind: str
    use: DayUse
    seasons: tuple[Season, ...]
    rows: tuple[LoadRow, ...]
    running_w: Steps
    running_var: Steps
    mean_w: Steps
    bank_w: tuple[float, ...]
    by_supply_wh: dict[str, float]
    by_load_wh: dict[str, float]
    converter_wh: float
    idle_wh: float
    converting_wh: float

    @property
    def bank_wh(self) -> float:
        """Energy out of the bank [Wh]: loads and every loss."""
        return sum(self.by_supply_wh.values()) + self.converter_wh + self.idle_wh + self.converting_wh

    @property
    def season_words(self) -> str:
        """Seasons this stands for, as a phrase; empty when all are alike."""
        return "" if len(self.seasons) == len(SEASONS) else ", ".join(SEASON_WORDS[season] for season in self.seasons)


class Day(Struct, frozen=True, kw_only=True):
    """One kind of day in the season that takes most from the bank."""

    tag: str
    name: str
    profile: str
    supply_energy_wh: dict[str, Figure]
    ac_energy_wh: Figure
    dc_energy_wh: Figure
    converter_energy_wh: Figure
    no_load_energy_wh: Figure
    inverter_loss_energy_wh: Figure
    bank_energy_wh: Figure
    peak_ac_w: Figure
    peak_at_min: int
    peak_loads: tuple[str, ...]


class BriefResult(Struct, frozen=True, kw_only=True):
    """All kinds of day; the design day is the one without hook-up that takes most from the bank.

    `seasonal` leads to profiles.
    """

    days: dict[str, Day]
    profiles: dict[str, Profile]
    seasonal: dict[str, dict[Season, str]]
    design_day: str
    energy_per_day_wh: Figure
    feeds: dict[str, str]
    curve: LossCurve

    def profile(self, kind: str, season: Season | None = None) -> Profile:
        """Profile of a kind of day in a season, or in the season that takes most."""
        return self.profiles[self.seasonal[kind][season] if season else self.days[kind].profile]


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


def draws_of(
    loads: tuple[Load, ...], feeds: dict[str, str], bank_class: int, converter_efficiency: float
) -> tuple[Draw, ...]:
    """What every load draws. A DC load of another voltage than the bank's is behind a converter."""
    draws = []
    for load in loads:
        supply, feed = load.supply, feeds[load.tag]
        dc_volts = DC_VOLTS.get(supply)
        at_load = converter_efficiency if dc_volts and dc_volts != bank_class else 1.0
        full_w = load.running_w * load.count / at_load
        var = 0.0 if dc_volts or load.power_factor == 1 else complex_power(full_w, load.power_factor).imag
        draws.append(
            Draw(
                load,
                _CHANNEL[feed],
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


def profile(
    key: str,
    kind: DayKind,
    seasons: tuple[Season, ...],
    rows: tuple[LoadRow, ...],
    inverters: Inverters,
    curve: LossCurve,
) -> Profile:
    """Sums of one kind of day.

    Source: sums of what was painted; loss curve of physics.converters.
    """
    stretches: list[tuple[int, int, int, float]] = []
    by_supply, by_load, converter_wh = dict[str, float](), dict[str, float](), 0.0
    for tag, channel, supply, full_w, full_var, mean_share, standby_w, at_load, spans in rows:
        level_min, last, standby_min = 0.0, 0, DAY_MIN
        for start, end, level in [(span.start_min, span.end_min, span.level) for span in spans]:
            stretches.append((channel, start, end, full_w * level))
            stretches.append((channel + _MEANS, start, end, full_w * level * mean_share))
            if full_var:
                stretches.append((channel + _VARS, start, end, full_var * level))
            if standby_w and start > last:
                stretches += [(channel, last, start, standby_w), (channel + _MEANS, last, start, standby_w)]
            level_min += (end - start) * level
            standby_min -= end - start
            last = end
        if standby_w and last < DAY_MIN:
            stretches += [(channel, last, DAY_MIN, standby_w), (channel + _MEANS, last, DAY_MIN, standby_w)]
        at_feed_wh = (full_w * mean_share * level_min + standby_w * standby_min) / 60
        by_load[tag] = at_feed_wh * at_load
        by_supply[supply] = by_supply.get(supply, 0.0) + by_load[tag]
        converter_wh += at_feed_wh * (1 - at_load)
    steps = summed(3 * len(FEEDS), stretches)
    mean_w = steps.channels(_MEANS, 3 * len(FEEDS))
    units = len(inverters.units) if kind.inverters_on else 0
    running_w, running_var = steps.channels(_WATTS, _VARS), steps.channels(_VARS, _MEANS)
    losses_w = (
        _losses_w(curve, inverters, _mean_va(mean_w, running_w, running_var))
        if units
        else (0.0,) * len(mean_w.values[0])
    )
    bank_w = tuple([sum(powers) for powers in zip(*mean_w.values, losses_w, strict=True)])
    idle_wh = units * curve.p0_w * 24
    return Profile(
        key=key,
        kind=kind.tag,
        use=kind.use,
        seasons=seasons,
        rows=rows,
        running_w=running_w,
        running_var=running_var,
        mean_w=mean_w,
        bank_w=bank_w,
        by_supply_wh=by_supply,
        by_load_wh=by_load,
        converter_wh=converter_wh,
        idle_wh=idle_wh,
        converting_wh=integral_h(mean_w, losses_w) - idle_wh,
    )


ProfilePiece = tuple[str, DayKind, tuple[Season, ...], tuple[LoadRow, ...], Inverters, LossCurve]


def profile_pieces(
    day_kinds: tuple[DayKind, ...],
    loads: tuple[Load, ...],
    lived: dict[str, tuple[Season, ...]],
    draws: tuple[Draw, ...],
    before: tuple[str, ...],
    inverters: Inverters,
    curve: LossCurve,
) -> dict[str, ProfilePiece]:
    """What the sums of each kind of day, and of seasons in which it differs, are made from."""
    found: dict[str, ProfilePiece] = {}
    for kind in day_kinds:
        groups = seasons_alike(loads, kind, lived[kind.tag])
        for seasons in groups:
            key = kind.tag if len(groups) == 1 else f"{kind.tag} {seasons[0]}"
            found[key] = (key, kind, seasons, rows_of(draws, kind, seasons[0], before), inverters, curve)
    return found


def leg_power(running_w: Steps, running_var: Steps, stacking: Stacking, leg: str) -> list[complex]:
    """Complex power of a line in every step [VA]: its own loads and its share of what hangs across several, where that
    gets a voltage.
    """
    own = _CHANNEL[leg]
    power = [complex(w, var) for w, var in zip(running_w.values[own], running_var.values[own], strict=True)]
    for channel, part in _shared_channels(stacking):
        if any(running_w.values[channel]):
            shared = zip(power, running_w.values[channel], running_var.values[channel], strict=True)
            power = [so_far + complex(w, var) / part for so_far, w, var in shared]
    return power


def _shared_channels(stacking: Stacking) -> tuple[tuple[int, int], ...]:
    """Channels of loads across several lines, with the number of lines that share them evenly."""
    lines = LINES[stacking]
    if stacking not in BETWEEN_LINES:
        return ()
    return ((ACROSS, 2),) if len(lines) == 2 else ((ALL_THREE, 3),)


def _mean_va(mean_w: Steps, running_w: Steps, running_var: Steps) -> list[tuple[float, ...]]:
    """Mean apparent power of every feed in every step [VA]: what runs keeps its power factor."""
    return [
        tuple(
            [
                mean * abs(complex(watts, var)) / watts if watts and var else mean
                for mean, watts, var in zip(*channels, strict=True)
            ]
        )
        if any(channels[2])
        else channels[0]
        for channels in zip(mean_w.values, running_w.values, running_var.values, strict=True)
    ]


def _losses_w(curve: LossCurve, inverters: Inverters, mean_va: list[tuple[float, ...]]) -> tuple[float, ...]:
    """Loss of all inverters in every step [W], by the current they carry: apparent power; units of one line share it
    equally, loads across lines evenly.
    """
    p0, r1, r2 = curve
    lines = LINES[inverters.stacking]
    shared = _shared_channels(inverters.stacking)
    on_lines = [
        [
            own + sum(mean_va[channel][step] / part for channel, part in shared)
            for step, own in enumerate(mean_va[_CHANNEL[line]])
        ]
        for line in lines
    ]
    if inverters.stacking == "one_two_legs":
        on_lines, counts = [[sum(powers) for powers in zip(*on_lines, strict=True)]], [len(inverters.units)]
    else:
        counts = [len(units_on(inverters, line)) for line in lines]
    losses = [0.0] * len(mean_va[0])
    for powers, count in zip(on_lines, counts, strict=True):
        if count:
            losses = [
                loss + count * p0 + r1 * power + r2 * power * power / count
                for loss, power in zip(losses, powers, strict=True)
            ]
    return tuple(losses)


def loss_curve(inverters: Inverters) -> LossCurve:
    """Loss curve of one inverter, from its datasheet figures."""
    spec = inverters.spec
    return fit_loss(
        no_load_w=spec.no_load_w,
        peak_efficiency=spec.peak_efficiency,
        full_load_efficiency=spec.full_load_efficiency,
        rated_w=spec.continuous_va,
    )


def brief(
    profiles: dict[str, Profile],
    loads: tuple[Load, ...],
    day_kinds: tuple[DayKind, ...],
    feeds: dict[str, str],
    inverters: Inverters,
    curve: LossCurve,
) -> BriefResult:
    """Energy and coincident power of every kind of day.

    Source: sums of what was painted; loss curve of physics.converters.
    """
    seasonal: dict[str, dict[Season, str]] = {kind.tag: {} for kind in day_kinds}
    for one in profiles.values():
        seasonal[one.kind].update(dict.fromkeys(one.seasons, one.key))
    for kind in seasonal.values():
        # A season the kind is not lived in shows its neighbour's sums rather than nothing.
        spare = next(iter(kind.values()))
        for season in SEASONS:
            kind.setdefault(season, spare)
    named = {load.tag: load for load in loads}
    units = len(inverters.units)
    days = {
        kind.tag: _day(
            max((one for one in profiles.values() if one.kind == kind.tag), key=lambda one: one.bank_wh),
            kind,
            named,
            curve,
            units,
        )
        for kind in day_kinds
    }
    off_grid = [days[kind.tag] for kind in day_kinds if kind.use != "hooked_up"] or list(days.values())
    design_day = max(off_grid, key=lambda day: day.bank_energy_wh.value)
    return BriefResult(
        days=days,
        profiles=profiles,
        seasonal=seasonal,
        design_day=design_day.tag,
        energy_per_day_wh=design_day.bank_energy_wh,
        feeds=feeds,
        curve=curve,
    )


def when(brief: BriefResult, profile: Profile, minute: int) -> str:
    """Kind of day, season where it matters, and time, as a phrase."""
    season = f", {profile.season_words}" if profile.season_words else ""
    return f"{brief.days[profile.kind].name}{season}, {clock(minute)}"


def clock(minute: int) -> str:
    """Time of day as people write it."""
    return f"{minute // 60:02d}:{minute % 60:02d}"


def running_at(profile: Profile, minute: int) -> list[tuple[LoadRow, float]]:
    """Rows painted at a minute with their power [W], largest first."""
    found = [
        (row, row.full_w * span.level)
        for row in profile.rows
        for span in row.spans
        if span.start_min <= minute < span.end_min
    ]
    return sorted(found, key=lambda one: -one[1])


def _day(profile: Profile, kind: DayKind, named: dict[str, Load], curve: LossCurve, units: int) -> Day:
    name = f"{kind.name}, {profile.season_words}" if profile.season_words else kind.name
    totals = [sum(powers[:DC_CHANNEL]) for powers in zip(*profile.running_w.values, strict=True)]
    at = max(range(len(totals)), key=totals.__getitem__)
    start = profile.running_w.times_min[at]
    together = [(row, power) for row, power in running_at(profile, start) if row.channel < DC_CHANNEL]
    standby_w = totals[at] - sum(power for _, power in together)
    supplies = {supply: _supply_energy(name, supply, profile, named) for supply in profile.by_supply_wh}
    energies = dict(_energies(name, profile, supplies, curve, units if kind.inverters_on else 0))
    return Day(
        tag=kind.tag,
        name=kind.name,
        profile=profile.key,
        supply_energy_wh=supplies,
        **energies,
        peak_ac_w=Figure(
            name=f"Highest AC power together, {name}",
            value=totals[at],
            unit="W",
            formula="largest sum of all painted AC loads at their full running power",
            inputs=tuple(Given(named[row.tag].name, power, "W") for row, power in together)
            + ((Given("On standby", standby_w, "W"),) if standby_w > 1e-9 else ()),
            source=TEXTBOOK,
            limit="duty is not counted on: all may run in the same minute",
        ),
        peak_at_min=start,
        peak_loads=tuple(row.tag for row, _ in together),
    )


def _supply_energy(name: str, supply: str, profile: Profile, named: dict[str, Load]) -> Figure:
    given = tuple(
        Given(named[row.tag].name, profile.by_load_wh[row.tag], "Wh") for row in profile.rows if row.supply == supply
    )
    return Figure(
        name=f"Loads on {SUPPLY_WORDS[supply]}, {name}",
        value=profile.by_supply_wh[supply],
        unit="Wh",
        formula="Σ running power × count × level × duty × season × hours + standby",
        inputs=given,
        source=TEXTBOOK,
    )


SUPPLY_WORDS = {
    "leg_open": "Leg open",
    "L1": "L1",
    "L2": "L2",
    "L3": "L3",
    "L1+L2": "240 V",
    "L1+L2+L3": "Three-phase",
    "AC": "AC",
    "DC_12": "12 V DC",
    "DC_24": "24 V DC",
    "DC_48": "48 V DC",
}


def _energies(
    name: str, profile: Profile, supplies: dict[str, Figure], curve: LossCurve, units: int
) -> Iterator[tuple[str, Figure]]:
    ac_fed = tuple(one for supply, one in supplies.items() if supply not in DC_VOLTS)
    dc_fed = tuple(one for supply, one in supplies.items() if supply in DC_VOLTS)
    ac = Figure.total(name=f"AC loads, {name}", unit="Wh", formula="Σ of every feed", inputs=ac_fed, source=TEXTBOOK)
    dc = Figure.total(name=f"DC loads, {name}", unit="Wh", formula="Σ of every feed", inputs=dc_fed, source=TEXTBOOK)
    converter = Figure(
        name=f"Converters, {name}",
        value=profile.converter_wh,
        unit="Wh",
        formula="Σ DC energy of another voltage × (1 ÷ converter efficiency − 1)",
        inputs=(dc,),
        source=TEXTBOOK,
    )
    no_load = Figure(
        name=f"Inverters idling, {name}",
        value=profile.idle_wh,
        unit="Wh",
        formula="units × no-load power × 24 h",
        inputs=(Given("Units on", units, "count"), Given("No-load power of one", curve.p0_w, "W")),
        source=TEXTBOOK,
    )
    loss = Figure(
        name=f"Inverters converting, {name}",
        value=profile.converting_wh,
        unit="Wh",
        formula="Σ (r1 S + r2 S²) × hours, S the apparent power of one unit",
        inputs=(Given("r1", curve.r1, "ratio"), Given("r2 × 1 kW", curve.r2_per_w * 1000, "ratio")),
        source=TEXTBOOK,
    )
    yield "ac_energy_wh", ac
    yield "dc_energy_wh", dc
    yield "converter_energy_wh", converter
    yield "no_load_energy_wh", no_load
    yield "inverter_loss_energy_wh", loss
    yield (
        "bank_energy_wh",
        Figure(
            name=f"Energy out of the bank, {name}",
            value=profile.bank_wh,
            unit="Wh",
            formula="AC loads + DC loads + converters + idling + converting",
            inputs=(ac, dc, converter, no_load, loss),
            source=TEXTBOOK + "; no-load in every sum: " + PRACTICE,
        ),
    )
