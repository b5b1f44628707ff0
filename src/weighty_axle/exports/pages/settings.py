"""The settings sheet."""

from __future__ import annotations

from typing import Any

from weighty_axle.exports.pages.page import PackPages
from weighty_axle.units import show


def pages(on: PackPages) -> list[Any]:
    """Set points to be entered and signed."""
    rows = [["Unit", "Setting", "Value", "Why", "Entered, date, initials"]]
    rows += [
        [
            point.unit_tag,
            point.name,
            show(point.value, point.computed.unit) + (" (own value)" if point.own else ""),
            point.why,
            "................................",
        ]
        for point in on.design.settings.points
    ]
    return [on.text("Settings sheet", on.head), on.table(rows, (0.13, 0.26, 0.15, 0.28, 0.18))]
