"""Sums of one kind of day: power by feed in exact steps, energy by supply and load, losses of the inverters."""

from __future__ import annotations

from msgspec import Struct

from weighty_axle.design.beside import Beside, BesideDay
from weighty_axle.design.brief.draws import ACROSS, ALL_THREE, CHANNEL, FEEDS, Draw, LoadRow, rows_of, seasons_alike
from weighty_axle.design.brief.seasons import SEASON_WORDS
from weighty_axle.job.models.brief import DayKind, DayUse, Load, Season
from weighty_axle.job.models.inverters import BETWEEN_LINES, LINES, Inverters, Stacking, units_on
from weighty_axle.physics.electric.converters import LossCurve, fit_loss
from weighty_axle.physics.loads.daytime import DAY_MIN, Steps, integral_h, summed

_WATTS, _VARS, _MEANS = 0, len(FEEDS), 2 * len(FEEDS)
"""Where the channels of running power, running reactive power and mean power begin in a day's sums."""
_BESIDE = 3 * len(FEEDS)
"""Channel of what else hangs on the bank."""


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
    beside_wh: float
    idle_wh: float
    converting_wh: float

    @property
    def bank_wh(self) -> float:
        """Energy out of the bank [Wh]: loads, every loss, and what else hangs on the bank."""
        return sum(self.by_supply_wh.values()) + self.converter_wh + self.beside_wh + self.idle_wh + self.converting_wh

    @property
    def season_words(self) -> str:
        """Seasons this stands for, as a phrase; empty when all in which the kind of day is lived are alike."""
        return "" if self.key == self.kind else ", ".join(SEASON_WORDS[season] for season in self.seasons)


def profile(
    key: str,
    kind: DayKind,
    seasons: tuple[Season, ...],
    rows: tuple[LoadRow, ...],
    inverters: Inverters,
    curve: LossCurve,
    beside: tuple[BesideDay, ...],
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
    for other in beside:
        for start, end, watts in zip(other.times_min, other.times_min[1:], other.watts, strict=False):
            if watts:
                stretches.append((_BESIDE, start, end, watts))
    steps = summed(_BESIDE + 1, stretches)
    mean_w = steps.channels(_MEANS, 3 * len(FEEDS))
    units = len(inverters.units) if kind.inverters_on else 0
    running_w, running_var = steps.channels(_WATTS, _VARS), steps.channels(_VARS, _MEANS)
    losses_w = (
        losses_of(curve, inverters, mean_va(mean_w, running_w, running_var))
        if units
        else (0.0,) * len(mean_w.values[0])
    )
    bank_w = tuple([sum(powers) for powers in zip(*mean_w.values, losses_w, steps.values[_BESIDE], strict=True)])
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
        beside_wh=integral_h(mean_w, steps.values[_BESIDE]),
        idle_wh=idle_wh,
        converting_wh=integral_h(mean_w, losses_w) - idle_wh,
    )


ProfilePiece = tuple[str, DayKind, tuple[Season, ...], tuple[LoadRow, ...], Inverters, LossCurve, tuple[BesideDay, ...]]


def profile_pieces(
    day_kinds: tuple[DayKind, ...],
    loads: tuple[Load, ...],
    lived: dict[str, tuple[Season, ...]],
    draws: tuple[Draw, ...],
    before: tuple[str, ...],
    inverters: Inverters,
    curve: LossCurve,
    beside: tuple[Beside, ...],
) -> dict[str, ProfilePiece]:
    """What the sums of each kind of day, and of seasons in which it differs, are made from."""
    found: dict[str, ProfilePiece] = {}
    for kind in day_kinds:
        groups = seasons_alike(loads, kind, lived[kind.tag])
        for seasons in groups:
            key = kind.tag if len(groups) == 1 else f"{kind.tag} {seasons[0]}"
            days = tuple(day for one in beside if (day := one.day(kind.tag, seasons[0])) is not None)
            found[key] = (key, kind, seasons, rows_of(draws, kind, seasons[0], before), inverters, curve, days)
    return found


def leg_power(running_w: Steps, running_var: Steps, stacking: Stacking, leg: str) -> list[complex]:
    """Complex power of a line in every step [VA]: its own loads and its share of what hangs across several, where that
    gets a voltage.
    """
    own = CHANNEL[leg]
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


def mean_va(mean_w: Steps, running_w: Steps, running_var: Steps) -> list[tuple[float, ...]]:
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


def losses_of(curve: LossCurve, inverters: Inverters, mean_va: list[tuple[float, ...]]) -> tuple[float, ...]:
    """Loss of all inverters in every step [W], by the current they carry: apparent power; units of one line share it
    equally, loads across lines evenly.
    """
    p0, r1, r2 = curve
    lines = LINES[inverters.stacking]
    shared = _shared_channels(inverters.stacking)
    on_lines = [
        [
            own + sum(mean_va[channel][step] / part for channel, part in shared)
            for step, own in enumerate(mean_va[CHANNEL[line]])
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


def running_at(profile: Profile, minute: int) -> list[tuple[LoadRow, float]]:
    """Rows painted at a minute with their power [W], largest first."""
    found = [
        (row, row.full_w * span.level)
        for row in profile.rows
        for span in row.spans
        if span.start_min <= minute < span.end_min
    ]
    return sorted(found, key=lambda one: -one[1])
