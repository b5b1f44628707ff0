"""Module types from an open table (CSV): one row a type, columns by what a datasheet calls them."""

from __future__ import annotations

import csv
import io
import itertools
import re
from pathlib import Path

import msgspec

from weighty_axle.job import limits
from weighty_axle.job.files.disk import UnreadableError, read_whole
from weighty_axle.job.models.roof import ModuleSpec

MOST_ROWS = 6
_COLUMNS = {
    "name": "name",
    "type": "name",
    "model": "name",
    "length": "length_m",
    "length_m": "length_m",
    "width": "width_m",
    "width_m": "width_m",
    "pmax": "pmp_w",
    "pmp": "pmp_w",
    "pmp_w": "pmp_w",
    "stc": "pmp_w",
    "power": "pmp_w",
    "voc": "voc_v",
    "voc_v": "voc_v",
    "v_oc_ref": "voc_v",
    "isc": "isc_a",
    "isc_a": "isc_a",
    "i_sc_ref": "isc_a",
    "vmp": "vmp_v",
    "vmp_v": "vmp_v",
    "v_mp_ref": "vmp_v",
    "imp": "imp_a",
    "imp_a": "imp_a",
    "i_mp_ref": "imp_a",
    "beta_voc": "voc_per_c",
    "voc_per_c": "voc_per_c",
    "gamma_pmp": "pmp_per_c",
    "pmp_per_c": "pmp_per_c",
    "alpha_isc": "isc_per_c",
    "isc_per_c": "isc_per_c",
    "mass": "mass_kg",
    "mass_kg": "mass_kg",
    "weight": "mass_kg",
    "system_limit_v": "system_limit_v",
    "max_system_voltage": "system_limit_v",
    "series_fuse": "reverse_a",
    "reverse_a": "reverse_a",
}
_NEEDED = ("name", "length_m", "width_m", "pmp_w", "voc_v", "isc_a", "vmp_v", "imp_a", "voc_per_c", "pmp_per_c")
_PERCENT = ("voc_per_c", "pmp_per_c", "isc_per_c")


class ModuleTableError(Exception):
    """A table that cannot be used; the message is a sentence that names row and column."""


def read_modules(path: Path) -> tuple[ModuleSpec, ...]:
    """Module types of a CSV table: lengths in metres (or millimetres over 50), coefficients per kelvin as shares or in
    percent (over 0.05 in size).

    Raises: ModuleTableError with a sentence; nothing is taken in then.
    """
    try:
        text = read_whole(path, limits.TABLE_BYTES, "a table of module types").decode("utf-8-sig")
        head = text.partition("\n")[0]
        rows = csv.reader(io.StringIO(text, newline=""), delimiter=";" if head.count(";") > head.count(",") else ",")
        lines = list(
            itertools.islice((one for one in enumerate(rows, 1) if any(cell.strip() for cell in one[1])), 1000)
        )
    except UnreadableError as error:
        raise ModuleTableError(str(error)) from error
    except UnicodeDecodeError as error:
        raise ModuleTableError(f"{path.name} cannot be read (it is not UTF-8 text).") from error
    except csv.Error as error:
        raise ModuleTableError(f"{path.name} is not a table that can be read ({error}).") from error
    if len(lines) < 2:
        raise ModuleTableError(f"{path.name} has no rows under its heading.")
    names = [
        _COLUMNS.get(
            re.sub(r"[\s\-]+", "_", re.sub(r"\s*[\[(].*?[\])]", "", head[: limits.HEADING_LETTERS]).strip().lower()), ""
        )
        for head in lines[0][1]
    ]
    missing = [one for one in _NEEDED if one not in names]
    if missing:
        raise ModuleTableError(f"{path.name} has no column for {', '.join(missing)}; the first row must name them.")
    found = [_row(path.name, number, dict(zip(names, line, strict=False))) for number, line in lines[1 : 2 * MOST_ROWS]]
    if len(found) > MOST_ROWS:
        raise ModuleTableError(
            f"{path.name} holds {len(lines) - 1} types; a job keeps {MOST_ROWS} beside its own. Keep the rows you want."
        )
    if len({one.name for one in found}) < len(found):
        raise ModuleTableError(f"{path.name} names a type twice.")
    return tuple(found)


def _row(file: str, number: int, cells: dict[str, str]) -> ModuleSpec:
    values: dict[str, object] = {"system_limit_v": 600.0, "mass_kg": 20.0}
    for name, cell in cells.items():
        text = cell.strip()
        if not name or not text:
            continue
        if name == "name":
            values[name] = text
            continue
        try:
            value = float(text.rstrip("%").replace(",", "."))
        except ValueError:
            raise ModuleTableError(f"{file}, row {number}, {name}: “{text[:40]}” is not a number.") from None
        if name in ("length_m", "width_m") and value > 50:
            value /= 1000
        if name in _PERCENT and (text.endswith("%") or abs(value) > 0.05):
            value /= 100
        values[name] = value
    try:
        made = msgspec.convert(values, ModuleSpec)
    except msgspec.ValidationError as error:
        raise ModuleTableError(
            f"{file}, row {number}: {str(error).replace('`', '').replace(' - at $.', ' in ')}."
        ) from None
    if made.vmp_v >= made.voc_v or made.imp_a >= made.isc_a:
        raise ModuleTableError(f"{file}, row {number}: Vmp must be below Voc and Imp below Isc.")
    if made.voc_per_c >= 0:
        raise ModuleTableError(f"{file}, row {number}: the voltage coefficient must be below zero.")
    return made
