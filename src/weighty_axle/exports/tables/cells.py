"""Cells that spreadsheets take as they are meant."""

from __future__ import annotations

import csv
import io
import re
from pathlib import Path
from typing import BinaryIO

from weighty_axle.job import limits
from weighty_axle.job.files.disk import replacing

_FORMULA = re.compile(r"'*[=+\-@\t\r]")


_CONTROL = re.compile(r"[\x00-\x08\x0b\x0c\x0e-\x1f\x7f\ud800-\udfff\ufffe\uffff]")


def safe_text(text: str) -> str:
    """Text that a spreadsheet will not take for a formula: a mark stands before it, and before what would look like a
    marked one.
    """
    return f"'{text}" if _FORMULA.match(text) else text


def table_text(text: str) -> str:
    """Text as a cell can hold it: without control signs, line ends as one sign."""
    return _CONTROL.sub("", text.replace("\r\n", "\n").replace("\r", "\n"))


def csv_bytes(header: tuple[str, ...], rows: list[tuple[object, ...]]) -> bytes:
    """A table as CSV (RFC 4180) that opens with its letters in a spreadsheet: UTF-8 with its mark; text that looks like
    a formula stays text.
    """
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    for row in (header, *rows):
        writer.writerow([safe_text(table_text(cell)) if isinstance(cell, str) else cell for cell in row])
    return out.getvalue().encode("utf-8-sig")


def heading_of(text: str) -> str:
    """A heading as it is compared: case and the width of gaps say nothing."""
    return re.sub(r"[\s_]+", " ", table_text(text[: 2 * limits.HEADING_LETTERS])).strip().lower()


def write_table(header: tuple[str, ...], rows: list[tuple[object, ...]], path: Path, title: str) -> None:
    """Write a table as CSV, or XLSX by the file's ending.

    Text that looks like a formula stays text. Raises OSError.
    """
    with replacing(path) as file:
        if path.suffix.lower() == ".xlsx":
            _write_xlsx(header, rows, file, title)
        else:
            file.write(csv_bytes(header, rows))


def xlsx_bytes(header: tuple[str, ...], rows: list[tuple[object, ...]], title: str) -> bytes:
    """A table as XLSX."""
    file = io.BytesIO()
    _write_xlsx(header, rows, file, title)
    return file.getvalue()


def _write_xlsx(header: tuple[str, ...], rows: list[tuple[object, ...]], file: BinaryIO, title: str) -> None:
    import openpyxl

    book = openpyxl.Workbook()
    sheet = book.active
    assert sheet is not None
    sheet.title = title
    for row, values in enumerate((header, *rows), 1):
        for column, value in enumerate(values, 1):
            cell = sheet.cell(row, column)
            if isinstance(value, str):
                cell.value = safe_text(table_text(value))
                cell.data_type = "s"
            else:
                cell.value = value  # type: ignore[assignment]  # int or float
    sheet.freeze_panes = "C2"
    book.save(file)
