"""Parts as a table, out and back: prices, status, dates and suppliers come back in whole or not at all."""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from datetime import date, datetime
from pathlib import Path

import msgspec

from weighty_axle.answers.parts.listing import STATUS_WORDS, PartsList
from weighty_axle.exports.tables.cells import csv_bytes, heading_of, write_table
from weighty_axle.exports.tables.reading import Rows, TableError, plain_text, read_table
from weighty_axle.job.edits.edit import WHOLE, Edit
from weighty_axle.job.models.build import PartState, Status
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.year import Price

HEADER = (
    "part",
    "kind",
    "wanted",
    "unit",
    "to_buy",
    "sold_by",
    "price",
    "total",
    "mass_kg",
    "status",
    "counted",
    "due",
    "lead_days",
    "supplier",
    "instead",
    "differs",
    "for",
)


def part_rows(listed: PartsList) -> list[tuple[object, ...]]:
    """A row for every part, then what was bought and is in no design any more."""
    rows: list[tuple[object, ...]] = [
        (
            one.part,
            one.kind,
            round(one.wanted.value, 3),
            "m" if one.by_metre else "pieces",
            one.to_buy.value,
            one.pack_of,
            one.price,
            round(one.total, 2) if one.total is not None else None,
            one.mass_kg,
            STATUS_WORDS[one.status],
            one.counted,
            one.due.isoformat() if one.due is not None and one.status == "ordered" else None,
            one.lead_days,
            one.supplier,
            one.other,
            one.differs,
            " ".join(one.of),
        )
        for one in listed.lines
    ]
    return rows + [
        (
            one.part,
            "",
            0,
            "",
            0,
            None,
            None,
            None,
            None,
            STATUS_WORDS[one.status],
            one.count,
            None,
            None,
            one.supplier,
            one.other,
            "in no design now: give back or keep",
            "",
        )
        for one in listed.left_over
    ]


def parts_csv(listed: PartsList) -> bytes:
    """All parts as CSV."""
    return csv_bytes(HEADER, part_rows(listed))


def write_parts(listed: PartsList, path: Path) -> None:
    """All parts as CSV or XLSX, by the file's ending. Raises OSError."""
    write_table(HEADER, part_rows(listed), path, "Parts")


# ---- in ----


class PartProblem(msgspec.Struct, frozen=True):
    """One thing wrong in a row: row as the spreadsheet counts it, column, what stood there, why it is refused."""

    row: int
    column: str
    text: str
    why: str

    @property
    def words(self) -> str:
        """As a sentence."""
        return f"Row {self.row}, {self.column}: “{self.text}” {self.why}"


class PartsRead(msgspec.Struct, frozen=True):
    """What a table says: prices and states of parts; problems; names no part of the design has."""

    prices: tuple[Price, ...]
    states: tuple[PartState, ...]
    problems: tuple[PartProblem, ...]
    unknown: tuple[str, ...]


_IN = ("part", "price", "status", "counted", "due", "lead_days", "supplier", "instead", "sold_by", "mass_kg")


def read_parts(path: Path, job: Job, listed: PartsList) -> PartsRead:
    """Prices and states of a table of parts; every bad cell is told, and nothing is half taken in.

    Raises: TableError when the file as a whole is of no use.
    """
    header, rows = read_table(path, "parts", lambda name: name in HEADER)
    columns = {name: at for at, cell in enumerate(header) if (name := heading_of(cell).replace(" ", "_")) in _IN}
    if "part" not in columns:
        raise TableError(f"{path.name} has no column “part”; nothing was taken in.")
    return _Read(columns, job, listed).all(rows)


class _Read:
    """A table while it is read."""

    def __init__(self, columns: dict[str, int], job: Job, listed: PartsList) -> None:
        self.columns = columns
        self.known = {one.part: one for one in listed.lines}
        self.states = {one.part: one for one in job.build.parts}
        self.problems: list[PartProblem] = []

    def all(self, rows: Rows) -> PartsRead:
        """Every row."""
        prices: dict[str, Price] = {}
        states: dict[str, PartState] = {}
        unknown: list[str] = []
        for number, line in rows:
            part = plain_text(self._cell(line, "part"))
            if not part:
                self.problems.append(PartProblem(number, "part", "", "names no part."))
                continue
            if part in states:
                self.problems.append(PartProblem(number, "part", part, "stands in the table twice."))
                continue
            if part not in self.known and part not in self.states:
                unknown.append(part)
                continue
            states[part] = self._state(number, line, part)
            amount = self._number(number, line, "price", most=10_000_000)
            if amount is not None:
                line_of = self.known.get(part)
                name = line_of.priced_as if line_of is not None else part
                if name in prices and prices[name].amount != amount:
                    self.problems.append(
                        PartProblem(number, "price", f"{amount:g}", f"is not what {name} costs in a row above.")
                    )
                prices[name] = Price(part=name, amount=amount)
        return PartsRead(tuple(prices.values()), tuple(states.values()), tuple(self.problems), tuple(unknown))

    def _cell(self, line: list[str], name: str) -> str:
        at = self.columns.get(name)
        return line[at].strip() if at is not None and at < len(line) else ""

    def _state(self, number: int, line: list[str], part: str) -> PartState:
        old = self.states.get(part, PartState(part=part))
        changed = {}
        takers: dict[str, Callable[[], object]] = {
            "status": lambda: self._status(number, line),
            "count": lambda: self._number(number, line, "counted", most=1_000_000),
            "due": lambda: self._day(number, line),
            "supplier": lambda: plain_text(self._cell(line, "supplier"))[:2000],
            "other": lambda: plain_text(self._cell(line, "instead"))[:2000],
        }
        columns = {"count": "counted", "other": "instead"}
        for field, take in takers.items():
            if columns.get(field, field) in self.columns:
                changed[field] = take()
        line_of = self.known.get(part)
        for field, column, low, high in (
            ("lead_days", "lead_days", 0, 730),
            ("pack_of", "sold_by", 0.01, 100_000),
            ("mass_kg", "mass_kg", 0, 100_000),
        ):
            if column in self.columns:
                found = self._number(number, line, column, least=low, most=high)
                usual = getattr(line_of, column if column != "sold_by" else "pack_of", None) if line_of else None
                if found is not None and found != usual:
                    changed[field] = int(found) if field == "lead_days" else found
        kept = {name: value for name, value in changed.items() if value is not _BAD}
        return msgspec.structs.replace(old, **kept)

    def _status(self, number: int, line: list[str]) -> object:
        text = self._cell(line, "status").lower().replace("_", " ")
        by_words = {words: status for status, words in STATUS_WORDS.items()}
        if not text:
            return _BAD
        if text not in by_words:
            why = f"is no status; there are {', '.join(by_words)}."
            self.problems.append(PartProblem(number, "status", text, why))
            return _BAD
        status: Status = by_words[text]
        return status

    def _day(self, number: int, line: list[str]) -> object:
        text = self._cell(line, "due").partition(" ")[0]
        if not text:
            return ""
        for form in ("%Y-%m-%d", "%d.%m.%Y"):
            try:
                found = datetime.strptime(text, form).date()
            except ValueError:
                continue
            if date(2000, 1, 1) <= found <= date(2100, 12, 31):
                return found.isoformat()
        self.problems.append(PartProblem(number, "due", text, "is no day such as 2027-03-01."))
        return _BAD

    def _number(
        self, number: int, line: list[str], name: str, *, least: float = 0.0, most: float = math.inf
    ) -> float | None:
        text = self._cell(line, name)
        if not text:
            return None
        found = _amount(text)
        if found is None or not math.isfinite(found):
            self.problems.append(PartProblem(number, name, text, "is no number: digits with one point or comma."))
            return None
        if not least <= found <= most or 0 < found < 1e-9:
            self.problems.append(PartProblem(number, name, text, f"must be between {least:g} and {most:g}."))
            return None
        return found


_BOUNDS = (
    ("lead_days", "lead_days", 0, 730),
    ("pack_of", "sold_by", 0.01, 100_000),
    ("mass_kg", "mass_kg", 0, 100_000),
)
"""Fields of a state with their columns, least and most."""

_BAD = object()
"""A cell that says nothing, or nothing that can be taken."""

_NUMBER = re.compile(r"^-?\d+(?:[.,]\d+)?$")
_GROUPED = re.compile(r"^-?\d{1,3}(?:,\d{3})+\.\d+$|^-?\d{1,3}(?:[. ]\d{3})+,\d+$")


def _amount(text: str) -> float | None:
    """A number with one point or comma, or with thousands apart and the other mark for what follows."""
    if _NUMBER.match(text):
        return float(text.replace(",", "."))
    if _GROUPED.match(text):
        comma_last = text.rfind(",") > text.rfind(".")
        plain = text.replace(".", "").replace(" ", "").replace(",", ".") if comma_last else text.replace(",", "")
        return float(plain)
    return None


def take_parts(found: PartsRead) -> Edit:
    """Everything a table says, as one edit."""

    def apply(job: Job) -> Job:
        priced = {one.part for one in found.prices}
        said = {one.part for one in found.states}
        plain = {PartState(part=one.part) for one in found.states}
        states = tuple(one for one in found.states if one not in plain)
        prices = (*(one for one in job.year.prices if one.part not in priced), *found.prices)
        parts = (*(one for one in job.build.parts if one.part not in said), *states)
        return msgspec.structs.replace(
            job,
            year=msgspec.structs.replace(job.year, prices=prices),
            build=msgspec.structs.replace(job.build, parts=parts),
        )

    return Edit(f"Take in prices and status of {len(found.states)} parts", apply, system=WHOLE)
