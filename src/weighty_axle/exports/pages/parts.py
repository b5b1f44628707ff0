"""Parts: everything that is bought, with boxes to tick."""

from __future__ import annotations

from typing import Any

from weighty_axle.answers.parts.listing import STATUS_WORDS
from weighty_axle.exports.pages.page import PackPages


def pages(on: PackPages) -> list[Any]:
    """All parts by kind, then what is bought and not wanted any more."""
    listed = on.build.listed
    currency = on.design.whole.year.currency
    rows = [["☐", "Part", "Wanted", "To buy", f"Price {currency}".strip(), "Status", "For"]]
    for one in listed.lines:
        unit = " m" if one.by_metre else ""
        status = STATUS_WORDS[one.status]
        due = f", {one.due.isoformat()}" if one.due is not None and one.status == "ordered" else ""
        tags = ", ".join(one.of[:8]) + (f" and {len(one.of) - 8} more" if len(one.of) > 8 else "")
        rows.append(
            [
                "☐",
                one.part,
                f"{one.wanted.value:.4g}{unit}",
                f"{one.to_buy.value:.4g}{unit}",
                f"{one.total:,.2f}" if one.total is not None else "–",
                f"{status}{due}{'. ' + one.differs if one.differs else ''}",
                tags,
            ]
        )
    cost = listed.cost
    flow = [
        on.text("Parts", on.head),
        on.text(
            f"{len(listed.lines)} parts with spares in whole packs. {cost.name}: {cost.value:,.2f}. "
            f"{cost.limit.capitalize()}. {listed.mass_kg.name}: {listed.mass_kg.value:.0f} kg."
        ),
        on.table(rows, (0.03, 0.29, 0.08, 0.08, 0.11, 0.15, 0.26)),
    ]
    if listed.left_over:
        flow.append(on.text("Bought, and in no design now: give back or keep", on.head))
        flow += [on.text(f"{one.part}: {STATUS_WORDS[one.status]}") for one in listed.left_over]
    return flow
