"""Weather drawn day by day: how much of each day's sky is clear, and how far its air is off the month's."""

from __future__ import annotations

import zlib
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from weighty_axle.physics.year.arrays import Floats

SKY_HOLDS = 0.29
"""Correlation of the sky with the day's before. Source: Graham, Hollands and Huget 1988, recalled."""
SKY_EVENNESS = 1.0
"""Sum of the two exponents of the beta distribution of clear shares: 1 makes wholly clear and wholly overcast days the
most frequent. Source: common practice, no source."""
AIR_HOLDS, AIR_SPREAD_K = 0.7, 4.0
"""Correlation of the air with the day's before, and its spread. Source: common practice, no source."""
HOTTEST_H = 15.0
DAYTIME_SHARE = 0.45
"""Mean of the daily wave between six and eighteen o'clock: (24 / (2π × 12)) × (sin(2π × 3/24) − sin(−2π × 9/24))."""


class DrawnDays(NamedTuple):
    """Share of clear sky [1] and air over the month's mean [K], day by day."""

    clear_share: Floats
    warmer_k: Floats


def drawn_days(seed: str, year: int, clear_shares: Sequence[float]) -> DrawnDays:
    """A year's skies: each day's clear share follows the day before's and has the mean of its place and season.

    Parameters: seed - a name; year [1] - which draw of it; clear_shares [1] - mean of each day
    Returns: DrawnDays
    Raises: ValueError for a share outside 0 to 1
    Source: first-order autoregression with beta-distributed values (Graham, Hollands and Huget 1988, recalled)
    """
    from scipy.special import betaincinv, ndtr

    means = np.asarray(clear_shares, dtype=np.float64)
    if not ((means >= 0) & (means <= 1)).all():
        raise ValueError(f"a share of clear sky is {float(means.min()):g} to {float(means.max()):g}, outside 0 to 1")
    draw = np.random.Generator(np.random.PCG64([zlib.crc32(seed.encode()), year]))
    sky = _following(draw.standard_normal(len(means)), SKY_HOLDS)
    air = _following(draw.standard_normal(len(means)), AIR_HOLDS)
    inner = np.clip(means, 0.01, 0.99)
    shares = betaincinv(inner * SKY_EVENNESS, (1 - inner) * SKY_EVENNESS, ndtr(sky))
    return DrawnDays(np.where((means > 0) & (means < 1), shares, means), AIR_SPREAD_K * air)


def _following(shocks: Floats, holds: float) -> Floats:
    """Values with unit spread, each correlated with the one before."""
    made = np.empty_like(shocks)
    made[0] = shocks[0]
    rest = (1 - holds * holds) ** 0.5
    for day in range(1, len(shocks)):
        made[day] = holds * made[day - 1] + rest * shocks[day]
    return made


def air_c(daytime_c: Floats, warmer_k: Floats, hours: Floats, swing_k: float) -> Floats:
    """Air through days whose mean between six and eighteen o'clock is given.

    Parameters: daytime_c [degC], warmer_k [degC] - one for each step; hours [h] - of the day; swing_k [degC]
    Returns: air [degC]
    Source: cosine wave, hottest at three in the afternoon; common practice, no source
    """
    wave = np.cos(2 * np.pi * (hours - HOTTEST_H) / 24) - DAYTIME_SHARE
    made: Floats = daytime_c + warmer_k + swing_k / 2 * wave
    return made
