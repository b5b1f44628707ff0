"""The log: open faults, services, everything that happened, the newest first, and the states that are kept."""

from __future__ import annotations

from datetime import date
from pathlib import Path
from typing import Any

from weighty_axle.answers.log.timeline import happened, services_due
from weighty_axle.design.table import Design
from weighty_axle.exports.pages.page import PackPages, Pages, write_pdf

MOST_ENTRIES = 400
"""Entries that are printed; older ones are counted."""


def pages(on: PackPages) -> list[Any]:
    """The log; nothing where nothing was written down."""
    log = on.design.whole.log
    return log_flow(on, on.design, on.today) if log.entries or log.services or log.states else []


def log_flow(on: Pages, design: Design, today: date) -> list[Any]:
    """Open faults, services, entries, states."""
    job = design.whole
    events = happened(job)
    flow = [on.text("Log", on.head)]
    faults = [one for one in events if one.open]
    flow += [on.text(f"☐ {one.on} {' '.join(one.about)}: {one.words}") for one in faults]
    due = services_due(job, today)
    if due:
        rows = [["Due", "Service", "Every, months", "Last done", "About"]]
        rows += [
            [
                one.on.isoformat() if one.on is not None else "never done",
                one.service.name,
                str(one.service.every_months),
                one.service.last_on,
                " ".join(one.service.about),
            ]
            for one in due
        ]
        flow.append(on.table(rows, (0.14, 0.36, 0.14, 0.14, 0.22)))
    if events:
        rows = [["On", "Kind", "About", "What happened", "By"]]
        rows += [[one.on, one.kind, " ".join(one.about), one.words, one.by] for one in events[:MOST_ENTRIES]]
        flow.append(on.table(rows, (0.12, 0.1, 0.16, 0.52, 0.1)))
    if len(events) > MOST_ENTRIES:
        flow.append(on.text(f"And {len(events) - MOST_ENTRIES} older ones."))
    return flow


def write_log(design: Design, path: Path, *, today: date) -> Path:
    """Write the log by itself. Raises OSError."""

    def story(width: float) -> list[Any]:
        return log_flow(Pages(width), design, today)

    foot = f"{design.whole.name} · {today.isoformat()}"
    write_pdf(path, f"{design.whole.name}: log", foot, design.whole.practice, story)
    return path
