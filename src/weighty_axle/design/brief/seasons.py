"""Seasons and days of the year: which season a day lies in, and how dates are written."""

from __future__ import annotations

import bisect
import itertools
import re

from weighty_axle.job.models.brief import DayKind, Season, Stay

SEASONS: tuple[Season, ...] = ("winter", "spring", "summer", "autumn")
SEASON_WORDS: dict[Season, str] = {"winter": "winter", "spring": "spring", "summer": "summer", "autumn": "autumn"}
MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")
MONTH_DAYS = (31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31)
_STARTS = tuple(itertools.accumulate(MONTH_DAYS, initial=1))


def month_start(month: int) -> int:
    """Day of the year of the first of a month (0 to 12; 12 is the day after the year)."""
    return _STARTS[month]


def date_words(day: int) -> str:
    """A day of the year as `14 Jan`."""
    month = bisect.bisect(_STARTS, day) - 1
    return f"{day - month_start(month) + 1} {MONTHS[month]}"


def day_of(text: str) -> int:
    """Day of the year from `14 Jan`, `Jan 14` or `01-14`. Raises ValueError with a sentence."""
    found = re.fullmatch(
        r"\s*(\d{1,2})[ .]*([A-Za-z]{3,})\.?\s*|\s*([A-Za-z]{3,})\.?\s*(\d{1,2})\s*|\s*(\d{2})-(\d{2})\s*", text
    )
    if found:
        name, number = found[2] or found[3], int(found[1] or found[4] or found[6])
        names = [month.lower() for month in MONTHS]
        month = int(found[5]) - 1 if found[5] else names.index(name[:3].lower()) if name[:3].lower() in names else -1
        if 0 <= month < 12 and 1 <= number <= MONTH_DAYS[month]:
            return month_start(month) + number - 1
    raise ValueError(f"“{text.strip()}” is not a date; try 14 Jan.")


def season_of(day: int, latitude_deg: float) -> Season:
    """Meteorological season of a day of the year: December to February is winter in the north, summer in the south.

    Source: the usual definition in meteorology (three whole months each).
    """
    month = bisect.bisect(_STARTS, day) - 1
    season = (month + 1) % 12 // 3
    return SEASONS[(season + 2) % 4 if latitude_deg < 0 else season]


def season_days(stay: Stay) -> dict[Season, int]:
    """Days of a stay in each season it touches."""
    counted: dict[Season, int] = {}
    for day in range(stay.first_day, stay.first_day + stay.days):
        season = season_of(day, stay.latitude_deg)
        counted[season] = counted.get(season, 0) + 1
    return counted


def seasons_lived(stays: tuple[Stay, ...], day_kinds: tuple[DayKind, ...]) -> dict[str, tuple[Season, ...]]:
    """Seasons in which each kind of day occurs; all of them for a kind that no stay uses."""
    found: dict[str, set[Season]] = {kind.tag: set() for kind in day_kinds}
    for stay in stays:
        found[stay.day_kind].update(season_days(stay))
    return {tag: tuple(season for season in SEASONS if season in lived) or SEASONS for tag, lived in found.items()}
