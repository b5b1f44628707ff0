"""A page per vehicle of a fleet: how it stands, what is due, what is open."""

from __future__ import annotations

from datetime import date
from pathlib import Path
from typing import Any

from weighty_axle.exports.pages.page import Pages, write_pdf
from weighty_axle.studies.fleet import Vehicle


def write_fleet(rows: tuple[Vehicle, ...], path: Path, *, today: date) -> Path:
    """Write a page for every vehicle, the next service first on it. Raises OSError."""
    from reportlab.platypus import PageBreak

    def story(width: float) -> list[Any]:
        on = Pages(width)
        flow: list[Any] = []
        for at, row in enumerate(rows):
            flow += [PageBreak()] if at else []
            flow += _vehicle(on, row, today)
        return flow or [on.text("No vehicle.")]

    write_pdf(path, "Fleet", f"{len(rows)} vehicles · {today.isoformat()}", "international", story)
    return path


def _vehicle(on: Pages, row: Vehicle, today: date) -> list[Any]:
    """The page of one vehicle."""
    flow = [
        on.text(row.name or row.file.stem, on.title),
        on.text(" · ".join(x for x in (row.customer, row.vehicle) if x)),
    ]
    if row.wrong:
        return [*flow, on.text("Its file cannot be used", on.head), on.text(row.wrong), on.text(row.path, on.small)]
    facts = [
        ["", ""],
        ["State", row.state],
        ["Last entry", row.last_on or "none"],
        ["Last reading", row.last_reading or "none"],
        ["Findings", "not judged yet" if row.stops is None else f"{row.stops} Stop, {row.checks} Check"],
        ["Types", ", ".join(row.types) or "none"],
        ["File", row.path],
    ]
    flow.append(on.table(facts, (0.2, 0.8)))
    flow.append(on.text("Services", on.head))
    due = sorted(row.services, key=lambda one: one.on)
    rows = [["Due", "Service", "About", "Done: day, initials"]]
    rows += [[_due_words(one.on, today), one.name, ", ".join(one.about), ""] for one in due]
    flow.append(on.table(rows, (0.25, 0.35, 0.15, 0.25), write_pt=24) if due else on.text("None stated."))
    flow.append(on.text("Open faults", on.head))
    flow += [on.text(f"☐ {words}") for words in row.open_faults] or [on.text("None.")]
    return flow


def _due_words(on: str, today: date) -> str:
    if not on:
        return "never done"
    days = (date.fromisoformat(on) - today).days
    return f"{on}, {-days} days over" if days < 0 else f"{on}, in {days} days"
