"""What all acceptance tests share: bands of usual meters, a prediction with its working."""

from __future__ import annotations

from weighty_axle.answers.first_power.check import Checks
from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Figure, Given
from weighty_axle.design.table import Design

CLAMP_SHARE, CLAMP_A = 0.02, 1.0
"""What a usual clamp meter may be off on direct current. Source: common practice, no source."""


class Trials(Checks):
    """Tests of one system while they are made; those beside the house are named with their system."""

    def __init__(self, own: Design) -> None:
        key, name = own.system.key, own.system.name
        before, where = (f"{key} ", f"{name}, ") if key else ("", "")
        super().__init__(own, own.whole.proving.trials, before, where)


def predicted(name: str, value: float, unit: str, formula: str, given: tuple[Given, ...]) -> Figure:
    """What a meter should show, with its working."""
    return Figure(name=name, value=value, unit=unit, formula=formula, inputs=given, source=TEXTBOOK, limit=PRACTICE)
