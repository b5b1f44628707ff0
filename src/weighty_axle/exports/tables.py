"""Items and settings as CSV for other programs."""

from __future__ import annotations

import csv
import io

from weighty_axle.design.derive import Design


def safe_text(text: str) -> str:
    """Text that a spreadsheet will not take for a formula."""
    return f"'{text}" if text[:1] in ("=", "+", "-", "@", "\t", "\r") else text


def csv_text(header: tuple[str, ...], rows: list[tuple[object, ...]]) -> str:
    """CSV text of a table; text that looks like a formula is marked so that it stays text."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(header)
    for row in rows:
        writer.writerow([safe_text(cell) if isinstance(cell, str) else cell for cell in row])
    return out.getvalue()


def items_csv(design: Design) -> str:
    """Every placed item and module: tag, kind, name, mass, place."""
    rows: list[tuple[object, ...]] = [
        (item.tag, item.kind, item.name, item.mass_kg, item.place.x_m, item.place.y_m, item.place.z_m) for item in design.items
    ]
    module, roof_z = design.job.roof.module, design.job.vehicle.roof_m
    rows += [(one.tag, "module", module.name, module.mass_kg, one.x_m, one.y_m, roof_z) for one in design.job.roof.modules]
    return csv_text(("tag", "kind", "name", "mass_kg", "x_m", "y_m", "z_m"), rows)


def settings_csv(design: Design) -> str:
    """Every set point: unit, name, value, unit of measure, computed value, why, source."""
    rows: list[tuple[object, ...]] = [
        (point.unit_tag, point.key, point.name, point.value, point.computed.unit, point.computed.value, point.why, point.computed.source)
        for point in design.settings.points
    ]
    return csv_text(("applies_to", "key", "setting", "value", "unit", "computed", "why", "source"), rows)
