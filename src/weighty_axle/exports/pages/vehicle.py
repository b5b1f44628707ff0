"""Vehicle and axle loads."""

from __future__ import annotations

from typing import Any

from weighty_axle.exports.pages.page import PackPages
from weighty_axle.units import show


def pages(on: PackPages) -> list[Any]:
    """The long section and what each axle has left."""
    from weighty_axle.exports.drawings.long_section_pdf import SectionDrawing

    rows = [["Axle", "Before", "Added", "Now", "Plate", "Left"]]
    for axle, result in zip(on.design.job.vehicle.axles, on.design.place.axles, strict=True):
        before = show(axle.weighed_kg, "kg", on.system)
        rows.append(
            [
                axle.tag,
                before,
                *(
                    show(v, "kg", on.system)
                    for v in (result.added_kg.value, result.load_kg.value, axle.limit_kg, result.margin_kg.value)
                ),
            ]
        )
    place = on.design.place
    gross = (
        f"Gross {show(place.gross_kg.value, 'kg', on.system)}, {show(place.gross_margin_kg.value, 'kg', on.system)} "
        "left. "
    )
    side = f"Added, right minus left: {show(place.right_minus_left_kg.value, 'kg', on.system)}."
    return [
        on.text("Vehicle and axle loads", on.head),
        SectionDrawing(on.design, on.width, on.system),
        on.table(rows, (0.16, 0.17, 0.17, 0.17, 0.17, 0.16)),
        on.text(gross + side),
    ]
