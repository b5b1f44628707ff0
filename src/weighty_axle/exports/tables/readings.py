"""Settings, checks and tests as tables, out and back: what stands in units and what meters said comes back in whole or
not at all.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from pathlib import Path

import msgspec

from weighty_axle.answers.first_power.check import Check
from weighty_axle.answers.first_power.checks import checks
from weighty_axle.answers.proving.trials import trials
from weighty_axle.answers.settings.setting import Setting, number_of
from weighty_axle.answers.settings.sheet import all_settings
from weighty_axle.design.table import Design
from weighty_axle.exports.tables.cells import csv_bytes, heading_of
from weighty_axle.exports.tables.reading import TableError, plain_text, read_table
from weighty_axle.job.edits.edit import WHOLE, Edit
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.proving import Entry, Reading

SETTINGS_HEADER = (
    "key",
    "unit",
    "setting",
    "value",
    "of",
    "in_the_unit",
    "on",
    "by",
    "verdict",
    "says",
    "reason",
    "source",
    "harm",
)
READINGS_HEADER = ("key", "group", "check", "from", "to", "of", "read", "on", "by", "verdict", "says")
_READ = ("in the unit", "read", "value read")
"""Headings of the column that says what was read."""


def settings_csv(found: Iterable[Setting]) -> bytes:
    """Every setting with what stands in its unit."""
    rows: list[tuple[object, ...]] = [
        (
            one.key,
            one.group,
            one.words,
            one.said,
            one.unit,
            one.entries[-1].said if one.entries else "",
            one.entries[-1].on if one.entries else "",
            one.entries[-1].by if one.entries else "",
            one.verdict,
            one.says,
            one.why,
            one.source,
            one.hurts,
        )
        for one in found
    ]
    return csv_bytes(SETTINGS_HEADER, rows)


def readings_csv(found: Iterable[Check]) -> bytes:
    """Every check and test with its band and what was read."""
    return csv_bytes(READINGS_HEADER, [_row(one) for one in found])


def _row(one: Check) -> tuple[object, ...]:
    read = one.reading
    high = one.high if one.high is not None and math.isfinite(one.high) else None
    value: object = None
    if read is not None:
        value = read.value if read.value is not None else "done"
    signed = (read.on, read.by) if read is not None else ("", "")
    return (one.key, one.group, one.words, one.low, high, one.unit, value, *signed, one.verdict, one.says)


class Read(msgspec.Struct, frozen=True):
    """What a table says of one check: its key, what was read as it stands there, day, initials."""

    key: str
    said: str
    on: str
    by: str


class ReadingsRead(msgspec.Struct, frozen=True):
    """What a table says; every bad cell in a sentence; keys that nothing here has."""

    read: tuple[Read, ...]
    problems: tuple[str, ...]
    unknown: tuple[str, ...]


def read_readings(path: Path, known: Mapping[str, Check]) -> ReadingsRead:
    """What was read, by the keys of settings, checks and tests; rows without a reading are passed over.

    Raises: TableError when the file as a whole is of no use.
    """
    wanted = {"key", "on", "by", *_READ}
    header, rows = read_table(path, "readings", lambda name: name in wanted)
    columns = {heading_of(cell): at for at, cell in enumerate(header) if heading_of(cell) in wanted}
    at_read = next((columns[name] for name in _READ if name in columns), None)
    if "key" not in columns or at_read is None:
        raise TableError(f"{path.name} has no columns “key” and “read”; nothing was taken in.")
    found: dict[str, Read] = {}
    problems: list[str] = []
    unknown: list[str] = []

    def cell(line: list[str], at: int | None) -> str:
        return plain_text(line[at].strip()) if at is not None and at < len(line) else ""

    for number, line in rows:
        key, said = cell(line, columns["key"]), cell(line, at_read)
        if not said:
            continue
        if key not in known:
            unknown.append(key)
            continue
        problem = _problem(known[key], said, key in found)
        if problem:
            problems.append(f"Row {number}, {key}: “{said[:60]}” {problem}")
            continue
        found[key] = Read(key, said, cell(line, columns.get("on"))[:10], cell(line, columns.get("by"))[:12])
    return ReadingsRead(tuple(found.values()), tuple(problems), tuple(unknown))


def _problem(one: Check, said: str, twice: bool) -> str:
    """Why a reading cannot be taken; empty where it can."""
    if twice:
        return "stands in the table twice."
    if len(said) > 60:
        return "is too long."
    number = number_of(said)
    if isinstance(one, Setting):
        # A word in a number's place is a reading all the same: it is told as such beside the sheet.
        return "" if number is None or abs(number) <= 100_000 else "is read by no unit."
    if one.low is None:
        return "" if said.casefold() in ("done", "yes", "x", "ok") else "is no tick: done, yes or x."
    if number is None or not math.isfinite(number):
        return "is no number."
    return "" if abs(number) <= 100_000 else "is read by no meter."


def everything(design: Design) -> dict[str, Check]:
    """Settings of units, checks before power and tests, by key."""
    found: tuple[Check, ...] = (*all_settings(design), *checks(design), *trials(design))
    return {one.key: one for one in found}


def take_readings(found: ReadingsRead, design: Design, on: str, by: str) -> Edit:
    """All that a table says as one edit; what was read already with the same value is not written down again. Day and
    initials stand where the table has none.
    """
    known, of_before = everything(design), {one.key for one in checks(design)}
    entries, before, tests = list[Entry](), list[Reading](), list[Reading]()
    for one in found.read:
        check = known[one.key]
        day, who = one.on or on, one.by or by
        if isinstance(check, Setting):
            if not check.entries or check.entries[-1].said != one.said:
                entries.append(Entry(setting=one.key, said=one.said, on=day, by=who, why="read back"))
            continue
        value = number_of(one.said) if check.low is not None else None
        if check.reading is None or check.reading.value != value:
            reading = Reading(check=one.key, value=value, on=day, by=who)
            (before if one.key in of_before else tests).append(reading)

    def apply(job: Job) -> Job:
        was = job.proving
        said = {one.check for one in before}
        return msgspec.structs.replace(
            job,
            proving=msgspec.structs.replace(
                was,
                entries=(*was.entries, *entries),
                readings=(*(one for one in was.readings if one.check not in said), *before),
                trials=(*was.trials, *tests),
            ),
        )

    return Edit(f"Take in {len(entries) + len(before) + len(tests)} readings", apply, system=WHOLE)
