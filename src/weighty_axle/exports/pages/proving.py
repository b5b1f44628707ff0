"""Tests: predicted bands, what was measured, what it means; room to write in."""

from __future__ import annotations

from typing import Any

from weighty_axle.answers.proving.step_load import rest_v
from weighty_axle.answers.proving.trials import GROUPS, trials
from weighty_axle.exports.pages.first_power import check_tables
from weighty_axle.exports.pages.page import PackPages
from weighty_axle.units import show


def pages(on: PackPages) -> list[Any]:
    """Tests group by group; what is open or out of its band is said with it."""
    rest = show(rest_v(on.design), "V", on.system)
    return [
        on.text("Acceptance tests", on.head),
        on.text(f"Predicted with the bank at {rest} at rest; bands hold what usual meters are off by."),
        *check_tables(on, GROUPS, trials(on.design)),
    ]
