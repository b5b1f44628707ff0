"""Sky of a place from an hourly weather file: EPW, or TMY3 (CSV). Only monthly clearness and daytime air are kept."""

from __future__ import annotations

import csv
from pathlib import Path

from msgspec import Struct

MOST_BYTES = 16 * 1024 * 1024
_LEAST_W_PER_M2 = 5.0


class WeatherFileError(Exception):
    """A file that is no use; the message is a sentence."""


class WeatherSky(Struct, frozen=True):
    """Share of the light beyond the air that reaches the ground, and mean air by day, month by month [degC]; where they are from."""

    clearness: tuple[float, ...]
    air_c: tuple[float, ...]
    source: str


def read_weather(path: Path) -> WeatherSky:
    """Monthly sky of an hourly file.

    Raises: WeatherFileError with a sentence.
    Source: EPW data dictionary (fields 7 dry bulb, 11 extraterrestrial horizontal, 14 global horizontal); TMY3 users' manual (columns by name). Recalled.
    """
    try:
        if path.stat().st_size > MOST_BYTES:
            raise WeatherFileError(f"{path.name} is larger than {MOST_BYTES // 2**20} MB.")
        lines = path.read_text(encoding="utf-8-sig", errors="replace").splitlines()
    except OSError as error:
        raise WeatherFileError(f"{path.name} cannot be read ({error.strerror or error}).") from error
    rows = list(csv.reader(lines))
    if rows and rows[0] and rows[0][0].strip().upper() == "LOCATION":
        name, hours = (rows[0][1] if len(rows[0]) > 1 else path.stem), _epw(rows)
    else:
        name, hours = _tmy3(path, rows)
    months: list[list[tuple[float, float, float]]] = [[] for _ in range(12)]
    for month, beyond, ground, air in hours:
        months[month - 1].append((beyond, ground, air))
    if any(len(one) < 24 for one in months):
        raise WeatherFileError(f"{path.name} does not hold every month of a year hour by hour.")
    clearness, air_c = [], []
    for one in months:
        beyond, ground = sum(hour[0] for hour in one), sum(hour[1] for hour in one)
        lit = [hour[2] for hour in one if hour[1] > _LEAST_W_PER_M2]
        if beyond <= 0 or not lit:
            clearness.append(0.05)  # a month of polar night: nothing to share
            air_c.append(round(sum(hour[2] for hour in one) / len(one), 1))
        else:
            clearness.append(round(min(0.85, max(0.05, ground / beyond)), 3))
            air_c.append(round(sum(lit) / len(lit), 1))
    return WeatherSky(tuple(clearness), tuple(air_c), f"{name.strip()}, {path.name}"[:200])


def _epw(rows: list[list[str]]) -> list[tuple[int, float, float, float]]:
    found = []
    for number, row in enumerate(rows[8:], 9):
        if len(row) < 14:
            continue
        try:
            found.append((int(row[1]), float(row[10]), float(row[13]), float(row[6])))
        except ValueError:
            raise WeatherFileError(f"Line {number} is no hour of weather.") from None
    return found


def _tmy3(path: Path, rows: list[list[str]]) -> tuple[str, list[tuple[int, float, float, float]]]:
    heads = {"beyond": "ETR (W/m^2)", "ground": "GHI (W/m^2)", "air": "Dry-bulb (C)"}
    if len(rows) < 3 or not all(one in rows[1] for one in heads.values()):
        raise WeatherFileError(f"{path.name} is neither EPW nor TMY3: its second line must name {', '.join(heads.values())}.")
    at = {key: rows[1].index(head) for key, head in heads.items()}
    found = []
    for number, row in enumerate(rows[2:], 3):
        try:
            found.append((int(row[0].split("/")[0]), float(row[at["beyond"]]), float(row[at["ground"]]), float(row[at["air"]])))
        except (ValueError, IndexError):
            raise WeatherFileError(f"Line {number} is no hour of weather.") from None
    return (rows[0][1] if len(rows[0]) > 1 else path.stem), found
