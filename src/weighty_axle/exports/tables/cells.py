"""Cells that spreadsheets take as they are meant."""

from __future__ import annotations

import csv
import io
import re

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
