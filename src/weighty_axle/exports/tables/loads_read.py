"""Loads as a table, in: every bad row is told, and nothing is half taken in."""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import msgspec

from weighty_axle.exports.tables.cells import heading_of, table_text
from weighty_axle.exports.tables.loads import FIELDS, SEASON_COLUMNS, SUPPLIES, day_headings
from weighty_axle.exports.tables.reading import ENOUGH, Rows, TableError, plain_text, read_table
from weighty_axle.job.checks.whole import problem_from
from weighty_axle.job.models.brief import MOST_LOADS, DayKind, Load, Pattern, Seasons, Span, Supply
from weighty_axle.job.models.document import Job
from weighty_axle.job.stated import LEAST_LEVEL
from weighty_axle.job.tags import free_tags, tags_of, used_tags
from weighty_axle.units import FRACTION, NUMBER, Kind, QuantityError, parse

_OTHER_NAMES = {
    "load": "name",
    "appliance": "name",
    "watts": "running_w",
    "running": "running_w",
    "power": "running_w",
    "w": "running_w",
    "how_many": "count",
    "quantity": "count",
    "qty": "count",
    "leg": "supply",
    "standby": "standby_w",
    "cycle": "cycle_min",
    "cos_phi": "power_factor",
    "tags": "tag",
}


class RowProblem(msgspec.Struct, frozen=True):
    """One thing wrong in a row: row as the spreadsheet counts it, column, what stood there, why it is refused."""

    row: int
    column: str
    text: str
    why: str


class LoadsRead(msgspec.Struct, frozen=True):
    """What a table holds: sound loads, problems, columns that say nothing here."""

    loads: tuple[Load, ...]
    problems: tuple[RowProblem, ...]
    rows: int
    passed_over: tuple[str, ...]


# ---- in ------------------------------------------------------------------------------------------------------


def read_loads(path: Path, job: Job) -> LoadsRead:
    """Loads of a table, judged against a job. Raises TableError when the file as a whole is of no use."""
    header, rows = read_table(path, "loads", lambda name: _OTHER_NAMES.get(name, name) in FIELDS)
    if len(rows) > MOST_LOADS:
        raise TableError(
            f"{path.name} has {'more than ' if len(rows) >= ENOUGH else ''}{len(rows):,} rows; a job holds "
            f"{MOST_LOADS} loads at most. Nothing was taken in."
        )
    return _judge(path.name, header, rows, job)


def _judge(file: str, header: list[str], rows: Rows, job: Job) -> LoadsRead:
    columns, passed_over = _columns(file, header, job.day_kinds)
    tags = free_tags(job, "load")
    have = {load.tag: load for load in job.loads}
    taken: set[str] = {
        cell for _, line in rows for name, at in columns.items() if name == "tag" for cell in line[at : at + 1] if cell
    }
    loads, problems = [], []
    seen: dict[str, int] = {}
    used = used_tags(job)
    circuits = set(tags_of(job, "circuit", "DC circuit"))
    bars = set(tags_of(job, "board", "inverter group"))
    for number, line in rows:
        cells = {name: plain_text(line[at]) if at < len(line) else "" for name, at in columns.items()}
        reader = _RowReader(number, cells, job.day_kinds)
        tag = cells.get("tag") or next(free for free in tags if free not in taken)
        if tag in seen:
            reader.wrong("tag", f"row {seen[tag]} has the same tag")
        seen[tag] = number
        if tag not in have and tag in used:
            reader.wrong("tag", "something else in the job has this tag")
        if cells.get("circuit") and cells["circuit"] not in circuits:
            reader.wrong("circuit", "there is no circuit with this tag")
        if cells.get("on") and cells["on"] not in bars:
            reader.wrong("on", "there is no bar or inverter group with this tag")
        if cells.get("charges") and cells["charges"] not in tags_of(job, "board"):
            reader.wrong("charges", "there is no bar with this tag")
        load = reader.load(tag, have.get(tag))
        problems += reader.problems
        if load is not None:
            loads.append(load)
    total = len(set(have) | {load.tag for load in loads})
    if total > MOST_LOADS:
        raise TableError(
            f"With {file} the job would have {total} loads; it holds {MOST_LOADS} at most. Nothing was taken in."
        )
    return LoadsRead(tuple(loads), tuple(problems), len(rows), passed_over)


def _columns(file: str, header: list[str], kinds: tuple[DayKind, ...]) -> tuple[dict[str, int], tuple[str, ...]]:
    days = {heading_of(f"day {kind.tag}"): f"day {kind.tag}" for kind in kinds}
    days |= {heading_of(heading): f"day {tag}" for tag, heading in day_headings(kinds).items()}
    columns: dict[str, int] = {}
    passed_over = []
    for index, heading in enumerate(header):
        plain = heading_of(heading)
        name = days.get(plain, plain.replace(" ", "_"))
        name = _OTHER_NAMES.get(name, name)
        if name not in FIELDS and not name.startswith("day "):
            if heading:
                passed_over.append(heading)
        elif name in columns:
            raise TableError(f"{file} has two columns for {heading}.")
        elif name.startswith("day ") and name not in days.values():
            passed_over.append(heading)
        else:
            columns[name] = index
    missing = [name for name in ("name", "running_w") if name not in columns]
    if missing:
        raise TableError(
            f"{file} has no column {' and no column '.join(missing)}; the first row must name the columns."
        )
    return columns, tuple(passed_over)


class _RowReader:
    """Reads one row; every cell that is wrong is noted with its column and the reason."""

    def __init__(self, number: int, cells: dict[str, str], kinds: tuple[DayKind, ...]) -> None:
        self._number, self._cells, self._kinds = number, cells, kinds
        self.problems: list[RowProblem] = []

    def wrong(self, column: str, why: str) -> None:
        """Note a problem of a cell."""
        why = why.replace(f"“{self._cells.get(column, '').strip()}” ", "") or why
        self.problems.append(
            RowProblem(self._number, column, self._cells.get(column, ""), why[0].upper() + why[1:].rstrip(".") + ".")
        )

    def load(self, tag: str, old: Load | None) -> Load | None:
        """The row's load, or None when anything in it is wrong. What a table does not say stays as it was."""
        if not self._cells.get("name"):
            self.wrong("name", "every load needs a name")
        if not self._cells.get("running_w"):
            self.wrong("running_w", "every load needs its running power")
        values = {
            name: read
            for name, kind in FIELDS.items()
            if name not in ("tag", "supply") and (read := self._value(name, kind)) is not None
        }
        kept = old.seasons if old else Seasons()
        shares = {season: values.pop(season) for season in SEASON_COLUMNS if season in values}
        shares = {season: share for season, share in shares.items() if not _came_back(getattr(kept, season), share)}
        patterns = dict(old.patterns) if old else {}
        for column in (name for name in self._cells if name.startswith("day ")):
            pattern = self._try(column, lambda text: _pattern(text))
            kind = column.removeprefix("day ")
            if pattern or patterns.get(kind):
                patterns[kind] = pattern or ()
        supply = self._try("supply", _supply) if "supply" in self._cells else (old.supply if old else "leg_open")
        if self.problems:
            return None
        if old is not None:
            values = {name: value for name, value in values.items() if not _came_back(getattr(old, name), value)}
        base = msgspec.structs.asdict(old) if old else {"power_factor": 1.0}
        seasons = msgspec.structs.replace(kept, **shares)
        made = {**base, **values, "tag": tag, "supply": supply, "patterns": patterns, "seasons": seasons}
        try:
            return msgspec.convert(msgspec.to_builtins(made), Load)
        except msgspec.ValidationError as error:
            self.wrong("tag", problem_from(str(error)).message)
            return None

    def _value(self, name: str, kind: Kind | type) -> Any:
        if not self._cells.get(name):
            return None
        return self._try(name, lambda text: _bounded(name, _read(text, kind)))

    def _try(self, column: str, read: Callable[[str], Any]) -> Any:
        try:
            return read(self._cells[column])
        except ValueError as error:
            self.wrong(column, str(error))
            return None


def _came_back(old: Any, read: Any) -> bool:
    """Whether a value is what a table can hold of the old one: text without control signs and outer spaces, numbers to
    fifteen digits.
    """
    if isinstance(read, str):
        return table_text(old).strip() == read
    return isinstance(read, float) and math.isclose(old, read, rel_tol=1e-13)


def _read(text: str, kind: Kind | type) -> Any:
    if kind is str:
        return text
    if kind is bool:
        word = text.strip().lower()
        if word not in ("yes", "no", "true", "false", "1", "0", "x", "must", "may wait"):
            raise QuantityError("say yes or no")
        return word in ("yes", "true", "1", "x", "must")
    if kind is int:
        value = parse(text, NUMBER)
        if value != int(value):
            raise QuantityError("a whole number is needed")
        return int(value)
    assert isinstance(kind, Kind)
    if kind is FRACTION and re.fullmatch(r"\s*(?:1(?:[.,]0*)?|0?[.,]\d+|\d(?:\.\d+)?e-\d+)\s*", text):
        return float(text.replace(",", "."))  # in a table 1 stands for all of it: tables were always written so
    return parse(text, kind)


def _bounded(name: str, value: Any) -> Any:
    """The value, when the job's own bounds for it allow it. Raises QuantityError with the bound."""
    probe = {"tag": "LD1", "name": "probe", "supply": "AC", "running_w": 1.0, "power_factor": 1.0}
    changed = {"seasons": {name: value}} if name in SEASON_COLUMNS else {name: value}
    try:
        msgspec.convert({**probe, **changed}, Load)
    except msgspec.ValidationError as error:
        raise QuantityError(problem_from(str(error)).message) from None
    return value


def _supply(text: str) -> Supply:
    found = SUPPLIES.get(text.strip().lower().replace("\u00a0", " "))
    if found is None:
        raise QuantityError(
            "there is no such supply; use leg open, L1, L2, L3, 240 V, three-phase, AC, 12 V, 24 V or 48 V"
        )
    return found


_STRETCH = re.compile(
    r"\s*(\d{1,2}):(\d{2})\s*[-–]\s*(\d{1,2}):(\d{2})\s*(?:@\s*(?:(\d+(?:\.\d+)?)\s*%|(0?\.\d+|\d\.?\d*e-\d+)))?\s*"
)


def _pattern(text: str) -> Pattern:
    return tuple(_spans(text))


def _spans(text: str) -> Iterator[Span]:
    last = 0
    for part in (one for one in text.split(";") if one.strip()):
        found = _STRETCH.fullmatch(part)
        if not found:
            raise QuantityError(
                f"“{part.strip()[:30]}” is not a stretch of the day; write 08:00-12:30 or 08:00-12:30 @50%"
            )
        start, end = int(found[1]) * 60 + int(found[2]), int(found[3]) * 60 + int(found[4])
        level = float(found[5]) / 100 if found[5] else float(found[6] or 1.0)
        if not (last <= start < end <= 1440 and int(found[2]) < 60 and int(found[4]) < 60):
            raise QuantityError(f"“{part.strip()}” is outside the day, backwards, or overlaps the stretch before it")
        if not LEAST_LEVEL <= level <= 1:
            raise QuantityError(f"the level in “{part.strip()}” must be at least {LEAST_LEVEL:.2%} and at most 100 %")
        yield Span(start, end, level)
        last = end
