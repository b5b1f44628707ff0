"""Tests: predicted bands, what was measured, what it means; room to write in."""

from __future__ import annotations

from datetime import date
from pathlib import Path
from typing import Any

from weighty_axle.answers.proving.step_load import rest_v
from weighty_axle.answers.proving.trials import GROUPS, trials
from weighty_axle.design.table import Design
from weighty_axle.exports.pages.first_power import check_tables
from weighty_axle.exports.pages.page import PackPages, Pages, write_pdf
from weighty_axle.units import System, show


def pages(on: PackPages) -> list[Any]:
    """Tests group by group; what is open or out of its band is said with it."""
    return [*_heading(on, on.design, on.system), *check_tables(on, GROUPS, trials(on.design), on.system)]


def _heading(on: Pages, design: Design, system: System) -> list[Any]:
    rest = show(rest_v(design), "V", system)
    return [
        on.text("Acceptance tests", on.head),
        on.text(f"Predicted with the bank at {rest} at rest; bands hold what usual meters are off by."),
    ]


def write_tests(design: Design, path: Path, *, today: date, system: System) -> Path:
    """Write the acceptance tests by themselves. Raises OSError."""

    def story(width: float) -> list[Any]:
        return [*_heading(Pages(width), design, system), *check_tables(Pages(width), GROUPS, trials(design), system)]

    foot = f"{design.whole.name} · {today.isoformat()}"
    write_pdf(path, f"{design.whole.name}: acceptance tests", foot, design.whole.practice, story)
    return path
