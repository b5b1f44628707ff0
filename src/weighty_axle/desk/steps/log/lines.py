"""Lines of a comparison: what kind of line, its words, and a value on either side."""

from __future__ import annotations

from typing import NamedTuple

from weighty_axle.desk.kit.records import Column
from weighty_axle.desk.text import tr


class Line(NamedTuple):
    """A line of a comparison."""

    what: str
    name: str
    before: str = ""
    after: str = ""


def line_columns(before: str, after: str) -> tuple[Column, ...]:
    """Columns of a comparison with the words over both sides."""
    return (
        Column("", lambda row: tr(row.what), None),
        Column("What", lambda row: row.name, None),
        Column(before, lambda row: row.before, None),
        Column(after, lambda row: row.after, None),
    )
