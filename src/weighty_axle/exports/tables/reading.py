"""Tables of any kind, in: CSV or XLSX as rows of text; what is far more than a table is refused before it is built."""

from __future__ import annotations

import csv
import io
from collections.abc import Callable, Iterable
from pathlib import Path
from typing import Any

from weighty_axle.exports.tables.cells import heading_of, safe_text
from weighty_axle.job import limits
from weighty_axle.job.files.disk import UnreadableError, read_whole


class TableError(Exception):
    """A table that cannot be read at all; the message is a sentence."""


Rows = list[tuple[int, list[str]]]
"""Rows that hold something, each with its number in the file."""


ENOUGH = 20_000
"""Rows of a table after which reading stops: more settle nothing."""


def _text(name: str, raw: bytes, words: str, known: Callable[[str], bool]) -> tuple[list[str], Rows]:
    try:
        text = raw.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = raw.decode("cp1252", errors="replace")
    if "\x00" in text:
        raise TableError(f"{name} is not a table of text; save it as CSV or XLSX.")
    if len(text.partition("\n")[0]) > limits.HEADING_LINE_LETTERS:
        raise TableError(f"{name}: its first line is far longer than the heading of a table of {words}.")
    try:
        lines = csv.reader(io.StringIO(text, newline=""), delimiter=_delimiter(text, known))
        return _split(name, ((lines.line_num, [cell.strip() for cell in line]) for line in lines))
    except csv.Error as error:
        raise TableError(f"{name} is not a table that can be read ({error}).") from error


def _delimiter(text: str, known: Callable[[str], bool]) -> str:
    """What parts the cells: the mark under which the first row names most columns that are known."""

    def names_known(delimiter: str) -> tuple[int, int]:
        head: list[str] = next(
            (row for row in csv.reader(io.StringIO(text, newline=""), delimiter=delimiter) if row), []
        )
        names = [heading_of(cell).replace(" ", "_") for cell in head]
        return sum(map(known, names)), text.partition("\n")[0].count(delimiter)

    return max(",;\t", key=names_known)


def _sheet(name: str, raw: bytes, words: str) -> tuple[list[str], Rows]:
    import warnings
    import zipfile

    import openpyxl

    try:
        _judge_workbook(name, raw, words)
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")  # openpyxl warns of styles and extensions it passes over
            book = openpyxl.load_workbook(io.BytesIO(raw), read_only=True, data_only=True)
            try:
                rows = book.worksheets[0].iter_rows(values_only=True, max_row=ENOUGH)
                lines = ((number, [_cell_text(value) for value in values]) for number, values in enumerate(rows, 1))
                return _split(name, lines)
            finally:
                book.close()
    except TableError:
        raise
    except zipfile.BadZipFile as error:
        raise TableError(f"{name} is not a workbook that can be read (no ZIP container).") from error
    except Exception as error:  # a damaged workbook fails in many ways inside zip, XML and openpyxl itself
        raise TableError(f"{name} is not a workbook that can be read ({type(error).__name__}).") from error


def _judge_workbook(name: str, raw: bytes, words: str) -> None:
    """Refuse a workbook that is far more than such a table, before anything is built from it: unpacked size and
    marks, read through once.
    """
    import zipfile

    unpacked = marks = 0
    with zipfile.ZipFile(io.BytesIO(raw)) as container:
        for member in container.infolist():
            with container.open(member) as stream:
                while block := stream.read(1 << 20):
                    unpacked += len(block)
                    marks += block.count(b"<")
                    if unpacked > limits.WORKBOOK_UNPACKED_BYTES:
                        raise TableError(f"{name} unpacks to more than {limits.WORKBOOK_UNPACKED_BYTES // 2**20} MB.")
                    if marks > limits.WORKBOOK_MARKS:
                        raise TableError(
                            f"{name} holds far more cells than a table of {words}; keep the {words} alone in it."
                        )


def _cell_text(value: Any) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    return repr(value).removesuffix(".0") if isinstance(value, float) else str(value).strip()


def _split(name: str, lines: Iterable[tuple[int, list[str]]]) -> tuple[list[str], Rows]:
    """Heading and rows that hold something, as many as settle whether the table is of use."""
    full: Rows = []
    for number, line in lines:
        if number > limits.TABLE_LINES:
            raise TableError(f"{name} has more than {limits.TABLE_LINES:,} lines; take the empty ones out.")
        if any(line):
            full.append((number, line))
            if len(full) > ENOUGH:
                break
    if not full:
        raise TableError(f"{name} is empty.")
    return full[0][1], full[1:]


def plain_text(text: str) -> str:
    """Text without the mark that kept a spreadsheet from taking it for a formula."""
    return text[1:] if text[:1] == "'" and safe_text(text[1:]) == text else text


def read_table(path: Path, words: str, known: Callable[[str], bool]) -> tuple[list[str], Rows]:
    """Heading and rows of a table of `words`; `known` tells whether a heading names a column.

    Raises: TableError with a sentence.
    """
    try:
        raw = read_whole(path, limits.TABLE_BYTES, f"a table of {words}")
    except UnreadableError as error:
        raise TableError(str(error)) from error
    if path.suffix.lower() == ".xlsx":
        return _sheet(path.name, raw, words)
    return _text(path.name, raw, words, known)
