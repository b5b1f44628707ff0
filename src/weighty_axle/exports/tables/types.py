"""Own types as a table, out and in: CSV and XLSX, one row a datasheet, a column for every field of any kind."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import msgspec

from weighty_axle.exports.tables.cells import write_table
from weighty_axle.exports.tables.reading import TableError, plain_text, read_table
from weighty_axle.job.models.inverters import OverloadPoint
from weighty_axle.job.sheets import StatedField, sheet_of
from weighty_axle.job.stated import Stated
from weighty_axle.reference.own_types import LISTS, Datasheet, OwnTypes

KINDS: dict[str, type[Datasheet]] = {name.removesuffix("s"): kind for kind, name in LISTS.items()}
"""Kinds as the first column names them: pack, inverter, module, controller, converter."""


def _columns() -> dict[str, StatedField]:
    """Every column with its field; parts of a size have a column each."""
    found: dict[str, StatedField] = {}
    for kind in KINDS.values():
        for field in sheet_of(kind):
            if field.form == "part" and field.part is not None:
                found.update({f"{field.name}.{inner.name}": inner for inner in sheet_of(field.part)})
            else:
                found[field.name] = field
    return found


def types_table(own: OwnTypes) -> tuple[tuple[str, ...], list[tuple[object, ...]]]:
    """Heading and rows."""
    columns = _columns()
    rows: list[tuple[object, ...]] = []
    for name, kind in KINDS.items():
        rows += [(name, *(_cell(one, column) for column in columns)) for one in own.of(kind)]
    return ("kind", *columns), rows


def _cell(one: Datasheet, column: str) -> object:
    value: Any = one
    for step in column.split("."):
        value = getattr(value, step, None)
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, tuple):
        return "; ".join(_point_words(point) for point in value)
    return "" if value is None else value


def _point_words(point: Stated) -> str:
    """A point of a curve: two numbers, seconds named."""
    first, then = (getattr(point, name) for name in point.__struct_fields__)
    return f"{first:g} x {then:g}{' s' if isinstance(point, OverloadPoint) else ''}"


def write_types(own: OwnTypes, path: Path) -> None:
    """Write all own types to a CSV or XLSX file. Raises OSError."""
    header, rows = types_table(own)
    write_table(header, rows, path, "Types")


def read_types(path: Path) -> tuple[Datasheet, ...]:
    """Datasheets of a table, whole or not at all.

    Raises: TableError with a sentence that names row and column.
    """
    columns = _columns()
    heading, rows = read_table(path, "types", lambda name: name in columns or name == "kind")
    if "kind" not in heading or "name" not in heading:
        raise TableError(f"{path.name} needs the columns kind and name; the first row must name them.")
    unknown = [one for one in heading if one and one != "kind" and one not in columns]
    if unknown:
        raise TableError(f"{path.name} has a column “{unknown[0][:40]}” that no datasheet has.")
    found = [
        _row(path.name, number, dict(zip(heading, map(plain_text, row), strict=False)), columns) for number, row in rows
    ]
    if len({(type(one), one.name) for one in found}) < len(found):
        raise TableError(f"{path.name} names a type twice.")
    return tuple(found)


def _row(file: str, number: int, cells: dict[str, str], columns: dict[str, StatedField]) -> Datasheet:
    kind = KINDS.get(cells.get("kind", "").strip().lower())
    if kind is None:
        raise TableError(f"{file}, row {number}: the kind must be one of {', '.join(KINDS)}.")
    own = {field.name for field in sheet_of(kind)}
    values: dict[str, Any] = {}
    for column, text in cells.items():
        owner, _, inner = column.partition(".")
        if column in ("", "kind") or owner not in own or not text.strip():
            continue
        value = _value(file, number, column, text.strip(), columns[column])
        if inner:
            values.setdefault(owner, {})[inner] = value
        else:
            values[column] = value
    try:
        return msgspec.convert(values, kind)
    except msgspec.ValidationError as error:
        words = str(error).replace("`", "").replace(" - at $.", " in ")
        raise TableError(f"{file}, row {number}: {words}.") from None


def _value(file: str, number: int, column: str, text: str, field: StatedField) -> Any:
    if field.form == "yes_no":
        if text.lower() not in ("yes", "no"):
            raise TableError(f"{file}, row {number}, {column}: write yes or no.")
        return text.lower() == "yes"
    if field.form == "entries":
        return [_point(file, number, column, one) for one in text.split(";") if one.strip()]
    if field.form not in ("number", "whole"):
        return text
    try:
        value = float(text.replace(",", "."))
    except ValueError:
        raise TableError(f"{file}, row {number}, {column}: “{text[:40]}” is not a number.") from None
    if field.form == "whole":
        if value != int(value):
            raise TableError(f"{file}, row {number}, {column}: “{text[:40]}” is not a whole number.")
        return int(value)
    return value


def _point(file: str, number: int, column: str, text: str) -> tuple[float, float]:
    """A point of a curve, such as `1.5 x 30 s` of an overload or `0.5 x 0.93` of an efficiency by load."""
    first, _, then = text.replace("s", "").partition("x")
    try:
        return float(first), float(then)
    except ValueError:
        like = "0.5 x 0.93; 1 x 0.9" if column == "curve" else "1.5 x 30 s; 2 x 5 s"
        raise TableError(f"{file}, row {number}, {column}: write points as {like}.") from None
