"""How a recording is written: its letters, what parts its columns, decimal commas, headings, and how it tells the
time.
"""

from __future__ import annotations

import re
from pathlib import Path

from msgspec import Struct

from weighty_axle.job import limits
from weighty_axle.job.files.disk import why

LOOKED_AT = 256 * 1024
"""Bytes of a recording that are looked at to see how it is written."""
SEPARATORS = (";", "\t", ",", "|")
_NUMBER = re.compile(r"^[+-]?(\d{1,3}([ '’]\d{3})+|\d+)?([.,]\d+)?(e[+-]?\d+)?$", re.IGNORECASE)
_DAY = re.compile(r"^(\d{4})[-/.](\d{1,2})[-/.](\d{1,2})$|^(\d{1,2})[-/.](\d{1,2})[-/.](\d{4}|\d{2})$")
_CLOCK = re.compile(
    r"^(\d{1,2}):(\d{2})(?::(\d{2}))?(?:[.,]\d+)?\s*([ap]\.?m\.?)?(z|[+-]\d{2}:?\d{2})?$", re.IGNORECASE
)
_MISSING = frozenset(("", "-", "--", "---", "nan", "na", "n/a", "null", "none", "#n/a", "?"))
MOST_ARE = 0.9
"""A column is one of times where so many of its first cells are: others are damaged rows. Source: judgement."""
LATEST_S = 4_102_444_800
"""Seconds since 1970 at the end of 2099."""


class RecordingError(Exception):
    """A recording that cannot be read; the message is a sentence."""


class Layout(Struct, frozen=True, kw_only=True):
    """How a recording is written: encoding, separator, decimal comma, the lines before its rows, headings, first rows,
    and which columns tell the time: one, a day and a clock apart, or seconds since 1970 (`ticks` a second).
    """

    encoding: str
    separator: str
    comma: bool
    skipped: int
    headings: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    time_at: int
    clock_at: int | None = None
    ticks: int = 0
    day_first: bool = True
    unsure_day: bool = False


def look_at(path: Path) -> Layout:
    """How a recording is written. Raises RecordingError with a sentence."""
    try:
        if not path.is_file():
            raise RecordingError(f"{path.name} is no file that can be read.")
        if path.stat().st_size > limits.RECORDED_BYTES:
            raise RecordingError(f"{path.name} is larger than {limits.RECORDED_BYTES // limits.MB} MB.")
        with path.open("rb") as file:
            raw = file.read(LOOKED_AT)
    except (OSError, ValueError) as error:
        raise RecordingError(f"{path.name} cannot be read ({why(error)}).") from error
    encoding = encoding_of(raw)
    lines = raw.decode(encoding, errors="replace").splitlines()
    if len(raw) == LOOKED_AT:
        lines = lines[:-1]
    if not any(line.strip() for line in lines):
        raise RecordingError(f"{path.name} is empty.")
    return layout_of(path.name, encoding, lines)


def encoding_of(raw: bytes) -> str:
    """Encoding by the marks at the beginning, else UTF-8 where it is that, else the one of Western Europe."""
    if raw.startswith((b"\xff\xfe", b"\xfe\xff")):
        return "utf-16"
    if raw.startswith(b"\xef\xbb\xbf"):
        return "utf-8-sig"
    try:
        raw[:-4].decode("utf-8")
        return "utf-8"
    except UnicodeDecodeError:
        return "cp1252"


def layout_of(name: str, encoding: str, lines: list[str]) -> Layout:
    """How lines are written. Raises RecordingError."""
    separator = _separator(lines)
    cut = [tuple(cell.strip().strip('"').strip() for cell in line.split(separator)) for line in lines]
    first = _first_row(cut)
    if first is None:
        raise RecordingError(f"{name} has no rows with a time and numbers in columns.")
    width = len(cut[first])
    rows = tuple(row for row in cut[first:] if len(row) == width)
    headings = (
        cut[first - 1] if first and len(cut[first - 1]) == width else tuple(f"column {at + 1}" for at in range(width))
    )
    comma = separator != "," and _decimal_comma(rows)
    time_at, clock_at, ticks = _time_columns(rows)
    if time_at is None:
        raise RecordingError(f"{name} has no column that tells the time.")
    day_first, unsure = _day_order([row[time_at] for row in rows])
    return Layout(
        encoding=encoding,
        separator=separator,
        comma=comma,
        skipped=first,
        headings=_apart(headings),
        rows=rows[:200],
        time_at=time_at,
        clock_at=clock_at,
        ticks=ticks,
        day_first=day_first,
        unsure_day=unsure,
    )


def _apart(headings: tuple[str, ...]) -> tuple[str, ...]:
    """Headings by which every column is known: one that was there before gets a number."""
    seen: dict[str, int] = {}
    found = []
    for one in (heading[:190] for heading in headings):
        seen[one] = seen.get(one, 0) + 1
        found.append(one if seen[one] == 1 else f"{one} {seen[one]}")
    return tuple(found)


def _separator(lines: list[str]) -> str:
    """The sign that parts most lines into the same number of columns."""
    sample = [line for line in lines[-200:] if line.strip()]

    def score(sign: str) -> tuple[float, int]:
        counts = [line.count(sign) for line in sample]
        usual = max(set(counts), key=counts.count)
        return (counts.count(usual) / len(counts) if usual else 0.0, usual)

    # A comma that stands in most numbers as their decimal sign parts as evenly as a semicolon: that one comes first.
    return max(SEPARATORS, key=lambda sign: (round(score(sign)[0], 1), -SEPARATORS.index(sign)))


def is_number(cell: str) -> bool:
    """Whether a cell is a number, or says that there is none."""
    return cell.casefold() in _MISSING or (bool(_NUMBER.match(cell)) and any(sign.isdigit() for sign in cell))


def _first_row(cut: list[tuple[str, ...]]) -> int | None:
    """Where the rows begin: the first line of the usual width that has a time, or numbers and nothing else."""
    widths = [len(row) for row in cut[-200:]]
    usual = max(set(widths), key=widths.count)
    if usual < 2:
        return None
    for at, row in enumerate(cut):
        if len(row) == usual and any(cell for cell in row):
            other = [cell for cell in row if not is_number(cell)]
            if all(_day_of(cell) or _CLOCK.match(cell) for cell in other) and any(_tells(cell) for cell in row):
                return at
    return None


def _tells(cell: str) -> bool:
    return bool(_day_of(cell)) or bool(cell.isdigit() and 9 <= len(cell) <= 13)


def _day_of(cell: str) -> re.Match[str] | None:
    """The day in a cell that begins with one."""
    return _DAY.match(re.split(r"[ T]", cell, maxsplit=1)[0])


def _decimal_comma(rows: tuple[tuple[str, ...], ...]) -> bool:
    cells = [cell for row in rows[:200] for cell in row]
    return sum(bool(re.match(r"^[+-]?\d+,\d+$", cell)) for cell in cells) > sum(
        bool(re.match(r"^[+-]?\d+\.\d+$", cell)) for cell in cells
    )


def _time_columns(rows: tuple[tuple[str, ...], ...]) -> tuple[int | None, int | None, int]:
    """Column of the time, of a clock of its own, and ticks a second where it is counted from 1970."""
    sample = rows[:100]
    for at in range(len(rows[0])):
        cells = [row[at] for row in sample if row[at]]
        if cells and sum(bool(_day_of(cell)) for cell in cells) >= MOST_ARE * len(cells):
            if any(re.search(r"[ T]\d{1,2}:", cell) for cell in cells):
                return at, None, 0
            clock = next(
                (
                    other
                    for other in range(len(rows[0]))
                    if other != at
                    and all(_CLOCK.match(row[other]) for row in sample if row[other])
                    and sample[0][other]
                ),
                None,
            )
            return at, clock, 0
    for at in range(len(rows[0])):
        cells = [row[at] for row in sample if row[at]]
        for ticks, letters in ((1, 10), (1000, 13)):
            fits = sum(cell.isdigit() and len(cell) == letters and int(cell) // ticks < LATEST_S for cell in cells)
            if cells and fits >= MOST_ARE * len(cells):
                return at, None, ticks
    return None, None, 0


def _day_order(cells: list[str]) -> tuple[bool, bool]:
    """Whether the day stands before the month, and whether it can be read both ways."""
    found = [match for cell in cells if (match := _day_of(cell))]
    if found and found[0].group(1):
        return True, False
    first = {int(match.group(4)) for match in found if match.group(4)}
    second = {int(match.group(5)) for match in found if match.group(5)}
    if any(one > 12 for one in second):
        return False, False
    if any(one > 12 for one in first):
        return True, False
    # A recording goes on day by day: what changes faster is the day.
    if len(first) != len(second):
        return len(first) > len(second), len(first) + len(second) < 4
    dotted = any("." in cell for cell in cells[:3])
    return True, not dotted


def day_number(cell: str, *, day_first: bool) -> int | None:
    """Days since 1970 of a written day; None where it is none."""
    from datetime import date

    match = _DAY.match(cell)
    if match is None:
        return None
    if match.group(1):
        year, month, day = (int(match.group(at)) for at in (1, 2, 3))
    else:
        one, two, year = (int(match.group(at)) for at in (4, 5, 6))
        day, month = (one, two) if day_first else (two, one)
        year += 2000 if year < 100 else 0
    try:
        return date(year, month, day).toordinal() - 719_163
    except ValueError:
        return None


def clock_seconds(cell: str) -> tuple[int, int | None] | None:
    """Seconds of a written clock, and what it is ahead of UTC where it says so [s]; None where it is none."""
    match = _CLOCK.match(cell.strip())
    if match is None:
        return None
    hours, minutes, seconds = int(match[1]), int(match[2]), int(match[3] or 0)
    half = (match[4] or "").casefold()[:1]
    if half:
        hours = hours % 12 + (12 if half == "p" else 0)
    if hours > 24 or minutes > 59 or seconds > 60:
        return None
    ahead = None
    if match[5]:
        sign = match[5].casefold()
        digits = sign[1:].replace(":", "")
        ahead = 0 if sign == "z" else (1 if sign[0] == "+" else -1) * (int(digits[:2]) * 3600 + int(digits[2:]) * 60)
    return hours * 3600 + minutes * 60 + seconds, ahead
