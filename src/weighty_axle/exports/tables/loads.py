"""Loads as a table, out: CSV and XLSX."""

from __future__ import annotations

from collections import Counter
from pathlib import Path

from weighty_axle.exports.tables.cells import heading_of, write_table
from weighty_axle.job.models.brief import DayKind, Load, Pattern, Supply
from weighty_axle.job.models.document import Job
from weighty_axle.units import CURRENT, DURATION, FRACTION, NUMBER, POWER, Kind

FIELDS: dict[str, Kind | type] = {
    "tag": str,
    "name": str,
    "group": str,
    "supply": str,
    "count": int,
    "running_w": POWER,
    "power_factor": NUMBER,
    "start_multiple": NUMBER,
    "start_s": DURATION,
    "duty": FRACTION,
    "cycle_min": NUMBER,
    "standby_w": POWER,
    "must_run": bool,
    "waits": int,
    "circuit": str,
    "on": str,
    "charges": str,
    "charge_a": CURRENT,
    "winter": FRACTION,
    "spring": FRACTION,
    "summer": FRACTION,
    "autumn": FRACTION,
    "note": str,
}


SEASON_COLUMNS = ("winter", "spring", "summer", "autumn")


SUPPLIES: dict[str, Supply] = {
    "": "leg_open",
    "leg open": "leg_open",
    "leg_open": "leg_open",
    "l1": "L1",
    "l2": "L2",
    "l3": "L3",
    "l1+l2": "L1+L2",
    "l1+l2+l3": "L1+L2+L3",
    "three-phase": "L1+L2+L3",
    "240 v": "L1+L2",
    "240": "L1+L2",
    "ac": "AC",
    "230 v": "AC",
    "230": "AC",
    "120 v": "leg_open",
    "120": "leg_open",
    "12 v": "DC_12",
    "12": "DC_12",
    "dc_12": "DC_12",
    "24 v": "DC_24",
    "24": "DC_24",
    "dc_24": "DC_24",
    "48 v": "DC_48",
    "48": "DC_48",
    "dc_48": "DC_48",
}


# ---- out -----------------------------------------------------------------------------------------------------


def pattern_text(pattern: Pattern) -> str:
    """A painted day as text: `08:00-12:15; 13:00-17:15 @50%`."""
    parts = []
    for span in pattern:
        level = "" if span.level == 1 else f" @{_level_text(span.level)}"
        parts.append(f"{_clock(span.start_min)}-{_clock(span.end_min)}{level}")
    return "; ".join(parts)


def _level_text(level: float) -> str:
    """A level in percent, or as the bare share where percent would not come back as the same number."""
    percent = f"{level * 100:.12g}"
    return f"{percent}%" if float(percent) / 100 == level else repr(level)


def _clock(minute: int) -> str:
    return f"{minute // 60:02d}:{minute % 60:02d}"


def loads_rows(job: Job) -> tuple[tuple[str, ...], list[tuple[object, ...]]]:
    """Header and rows of all loads; a column `day NAME` for each kind of day."""
    header = (*FIELDS, *day_headings(job.day_kinds).values())

    def cell(load: Load, field: str) -> object:
        value = getattr(load.seasons if field in SEASON_COLUMNS else load, field)
        return ("yes" if value else "no") if isinstance(value, bool) else value

    rows: list[tuple[object, ...]] = [
        (
            *(cell(load, field) for field in FIELDS),
            *(pattern_text(load.patterns.get(kind.tag, ())) for kind in job.day_kinds),
        )
        for load in job.loads
    ]
    return header, rows


def day_headings(kinds: tuple[DayKind, ...]) -> dict[str, str]:
    """Heading of each kind of day's column, by tag: its name, or its tag where the name would be taken for
    another's.
    """
    names = Counter(heading_of(name) for kind in kinds for name in {heading_of(kind.name), heading_of(kind.tag)})
    return {kind.tag: f"day {kind.name if names[heading_of(kind.name)] == 1 else kind.tag}" for kind in kinds}


def write_loads(job: Job, path: Path) -> None:
    """Write the loads as CSV, or XLSX by the file's ending.

    Text that looks like a formula stays text. Raises OSError.
    """
    write_table(*loads_rows(job), path, "Loads")
