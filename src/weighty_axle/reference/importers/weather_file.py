"""Sky of a place from an hourly weather file: EPW, or TMY3 (CSV). Only monthly clearness and daytime air are kept."""

from __future__ import annotations

import csv
import math
from collections import Counter
from collections.abc import Iterator
from pathlib import Path
from typing import NamedTuple

from msgspec import Struct

from weighty_axle.job import limits
from weighty_axle.job.files.disk import UnreadableError, read_whole

MOST_LINES = 10_000
MONTH_HOURS = tuple(24 * days for days in (31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31))
LEAST_KEPT = 0.9
"""Share of a month's hours that must have values for it to be summed. Source: common practice, no source."""
_LEAST_W_PER_M2 = 5.0
_AIR_C = (-60.0, 60.0)
_LIGHT_W_PER_M2 = (0.0, 1500.0)


class WeatherFileError(Exception):
    """A file that is no use; the message is a sentence."""


class WeatherSky(Struct, frozen=True):
    """Share of the light beyond the air that reaches the ground, and mean air by day, month by month [degC]; where they
    are from.

    `left_out` says in sentences what of the file was not counted.
    """

    clearness: tuple[float, ...]
    air_c: tuple[float, ...]
    source: str
    left_out: tuple[str, ...]


class _Hour(NamedTuple):
    """One hour: when, light beyond the air and on the ground [W/m2], air [degC]."""

    month: int
    day: int
    hour: int
    beyond: float
    ground: float
    air_c: float

    @property
    def missing(self) -> bool:
        """Whether a value is a code for a missing one (9999, 99.9, −9900) or cannot be: outside what light and air can
        be.
        """
        lit = all(_LIGHT_W_PER_M2[0] <= one <= _LIGHT_W_PER_M2[1] for one in (self.beyond, self.ground))
        return not (lit and _AIR_C[0] <= self.air_c <= _AIR_C[1])


def read_weather(path: Path) -> WeatherSky:
    """Monthly sky of an hourly file. Hours without values and hours that come twice are left out and told.

    Raises: WeatherFileError with a sentence, also where a month is short of hours.
    Source: EPW data dictionary (fields 2 to 4 month, day and hour, 7 dry bulb, missing 99.9, 11 extraterrestrial
        horizontal, missing 9999, 14 global horizontal, missing 9999); TMY3 users' manual (columns by name, missing
        −9900). Recalled.
    """
    name, _, hours = _parsed(path)
    kept, left_out = _sound(path.name, hours)
    clearness, air_c = [], []
    for one in kept:
        beyond, ground = math.fsum(hour.beyond for hour in one), math.fsum(hour.ground for hour in one)
        lit = [hour.air_c for hour in one if hour.ground > _LEAST_W_PER_M2]
        if beyond <= 0 or not lit:
            clearness.append(0.05)  # a month of polar night: nothing to share
            air_c.append(round(math.fsum(hour.air_c for hour in one) / len(one), 1))
        else:
            clearness.append(round(min(0.85, max(0.05, ground / beyond)), 3))
            air_c.append(round(math.fsum(lit) / len(lit), 1))
    return WeatherSky(tuple(clearness), tuple(air_c), f"{name.strip()}, {path.name}"[:200], left_out)


def _parsed(path: Path) -> tuple[str, list[str], list[_Hour]]:
    """Name of the place, its latitude, longitude, zone and height as they are written, and the hours.

    Raises WeatherFileError with a sentence.
    """
    try:
        lines = (
            read_whole(path, limits.WEATHER_BYTES, "a weather file").decode("utf-8-sig", errors="replace").splitlines()
        )
    except UnreadableError as error:
        raise WeatherFileError(str(error)) from error
    if len(lines) > MOST_LINES:
        raise WeatherFileError(f"{path.name} has {len(lines):,} lines; a year hour by hour has 8,760 and a heading.")
    try:
        rows = list(csv.reader(lines))
    except csv.Error as error:
        raise WeatherFileError(f"{path.name} is no table of hours ({error}).") from error
    if rows and rows[0] and rows[0][0].strip().upper() == "LOCATION":
        name, hours = (rows[0][1] if len(rows[0]) > 1 else path.stem), list(_epw(rows))
        return name, rows[0][6:10], hours
    name, hours = _tmy3(path, rows)
    head = rows[0]
    return name, [head[4], head[5], head[3], head[6]] if len(head) > 6 else [], hours


class WeatherHours(NamedTuple):
    """A year hour by hour where it was measured: light on the ground [W/m2] and air [degC] of 8,760 hours from 1
    January in the place's standard time, each the mean of the hour that begins then.

    `told` says in sentences what was filled in.
    """

    place: str
    latitude_deg: float
    longitude_deg: float
    zone_h: float
    height_m: float
    ground_w_per_m2: tuple[float, ...]
    air_c: tuple[float, ...]
    told: tuple[str, ...]


def read_hours(path: Path) -> WeatherHours:
    """A whole year hour by hour. Hours without values take those of the same hour of the day before (or after).

    Raises: WeatherFileError with a sentence, also where a month is short of hours or the place is not said.
    Source: as `read_weather`; line 1 of EPW and TMY3 (latitude, longitude, zone, height), recalled.
    """
    name, where, hours = _parsed(path)
    _, left_out = _sound(path.name, hours)
    try:
        latitude, longitude, zone, height = (float(one) for one in where)
    except ValueError:
        raise WeatherFileError(
            f"{path.name} does not say where it was measured: its first line has no place."
        ) from None
    if not (-90 <= latitude <= 90 and -180 <= longitude <= 180 and -14 <= zone <= 14):
        raise WeatherFileError(f"{path.name} is of no place there is: {latitude:g}, {longitude:g}, zone {zone:g}.")
    count = sum(MONTH_HOURS)
    starts = [sum(MONTH_HOURS[:month]) for month in range(12)]
    slots: list[_Hour | None] = [None] * count
    for one in hours:
        # An hour is named by its end; 24 is the last of its day, and the 29th of February has no place in the year.
        at = starts[one.month - 1] + 24 * (one.day - 1) + (one.hour - 1 if one.hour else 0)
        if not one.missing and at < (starts[one.month] if one.month < 12 else count) and slots[at] is None:
            slots[at] = one
    absent = sum(one is None for one in slots)
    for turn in (-24, 24, -48, 48, -72, 72, -96, 96):
        for at, slot in enumerate(slots):
            if slot is None:
                slots[at] = slots[(at + turn) % count]
    filled = [one for one in slots if one is not None]
    if len(filled) < count:
        raise WeatherFileError(f"{path.name} has days on end without values.")
    told = (*left_out, f"{absent} hours were filled from the days beside them.") if absent else left_out
    return WeatherHours(
        name.strip(),
        latitude,
        longitude,
        zone,
        height,
        tuple(one.ground for one in filled),
        tuple(one.air_c for one in filled),
        told,
    )


def _sound(name: str, hours: list[_Hour]) -> tuple[list[list[_Hour]], tuple[str, ...]]:
    """Hours by month, each once and with values; and sentences on what is not among them.

    Raises WeatherFileError for a month that is short.
    """
    months: list[list[_Hour]] = [[] for _ in range(12)]
    seen = set[tuple[int, int, int]]()
    told: Counter[str] = Counter()
    for hour in hours:
        when = hour.month, hour.day, hour.hour
        if hour.missing:
            told["without values"] += 1
        elif when in seen:
            told["that come twice"] += 1
        else:
            months[hour.month - 1].append(hour)
        seen.add(when)
    # A leap day is one more than counted; nothing is short then.
    short = [(at, len(one)) for at, one in enumerate(months) if len(one) < LEAST_KEPT * MONTH_HOURS[at]]
    if short:
        at, count = short[0]
        raise WeatherFileError(
            f"{name} does not hold every month hour by hour: month {at + 1} has {count} of {MONTH_HOURS[at]} hours "
            "with values."
        )
    absent = (
        sum(max(0, full - len({hour[:3] for hour in one})) for full, one in zip(MONTH_HOURS, months, strict=True))
        - told["without values"]
    )
    sentences = [f"{count} hours {what} were left out." for what, count in told.items() if count]
    if absent > 0:
        sentences.append(f"{absent} hours of the year are absent.")
    order = [hour.month for hour in hours]
    if order != sorted(order):
        sentences.append("Its months are not in order; each is summed by its own number.")
    return months, tuple(sentences)


def _hour(number: int, values: tuple[str, str, str, str, str, str]) -> _Hour:
    """One hour from its cells. Raises WeatherFileError with the line."""
    try:
        month, day, hour = (int(value) for value in values[:3])
        found = _Hour(month, day, hour, *(float(value) for value in values[3:]))
    except (ValueError, OverflowError):
        raise WeatherFileError(f"Line {number} is no hour of weather.") from None
    if not (1 <= found.month <= 12 and 1 <= found.day <= 31 and 0 <= found.hour <= 24):
        raise WeatherFileError(
            f"Line {number} is of no day there is: month {found.month}, day {found.day}, hour {found.hour}."
        )
    return found


def _epw(rows: list[list[str]]) -> Iterator[_Hour]:
    for number, row in enumerate(rows[8:], 9):
        if not row:
            continue
        if len(row) < 14:
            raise WeatherFileError(f"Line {number} is no hour of weather: it has {len(row)} of 14 values.")
        yield _hour(number, (row[1], row[2], row[3], row[10], row[13], row[6]))


def _tmy3(path: Path, rows: list[list[str]]) -> tuple[str, list[_Hour]]:
    heads = {"beyond": "ETR (W/m^2)", "ground": "GHI (W/m^2)", "air": "Dry-bulb (C)"}
    if len(rows) < 3 or not all(one in rows[1] for one in heads.values()):
        raise WeatherFileError(
            f"{path.name} is neither EPW nor TMY3: its second line must name {', '.join(heads.values())}."
        )
    beyond, ground, air = (rows[1].index(heads[key]) for key in ("beyond", "ground", "air"))
    found = []
    for number, row in enumerate(rows[2:], 3):
        if len(row) <= max(1, beyond, ground, air):
            raise WeatherFileError(f"Line {number} is no hour of weather: it has {len(row)} values.")
        month, day, *_ = (*row[0].split("/"), "", "")
        found.append(_hour(number, (month, day, row[1].split(":")[0], row[beyond], row[ground], row[air])))
    return (rows[0][1] if len(rows[0]) > 1 else path.stem), found
