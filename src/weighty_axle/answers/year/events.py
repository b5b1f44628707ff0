"""What happens in a year, day by day in sentences."""

from __future__ import annotations

import numpy as np
from msgspec import Struct

from weighty_axle.answers.year.lived import Lived
from weighty_axle.design.brief.seasons import date_words
from weighty_axle.physics.year import columns as at

LEAST_TOLD_KWH = 0.05
"""Energy that waits or is missing from which a day is told."""
NEARLY_FULL = 0.98
"""Charge from which it does not matter that the cold keeps the sun out."""


class Event(Struct, frozen=True, kw_only=True):
    """One day on which something happens, in a sentence; `grave` where the bank is empty."""

    day: int
    words: str
    grave: bool


def events(year: Lived) -> tuple[Event, ...]:
    """Days on which the bank is empty, loads wait, the generator runs, or the cold keeps the sun out."""
    per_day, hours = year.inputs.sunny.per_day, year.hours
    by_day = year.series.reshape(-1, per_day, at.STEP_COLUMNS)
    low_c = year.inputs.candidate[at.CHARGE_LOW_C]
    nearly_wh = NEARLY_FULL * year.inputs.candidate[at.FULL_WH]
    found = []
    for day, steps in enumerate(by_day):
        words = []
        unmet = steps[:, at.UNMET_W]
        empty = unmet.sum() * hours / 1000 >= LEAST_TOLD_KWH
        if empty:
            first = int(np.argmax(unmet > 1e-9))
            words.append(f"bank empty {_clock(year, first)}, {unmet.sum() * hours / 1000:.1f} kWh missing")
        waiting = steps[:, at.SHED_W].sum() * hours / 1000
        if waiting >= LEAST_TOLD_KWH and not words:
            first = int(np.argmax(steps[:, at.SHED_W] > 1e-9))
            words.append(f"loads wait from {_clock(year, first)}, {waiting:.1f} kWh")
        running = float((steps[:, at.GENERATOR_ON] > 0).sum()) * hours
        if running:
            words.append(f"generator {running:.1f} h")
        cold = (steps[:, at.CELLS_C] < low_c) & (steps[:, at.CUT_W] > 1.0) & (steps[:, at.STORED_WH] < nearly_wh)
        if cold.any():
            words.append(f"too cold to charge: {steps[cold, at.CUT_W].sum() * hours / 1000:.1f} kWh of sun not taken")
        if words:
            found.append(Event(day=day + 1, words=f"{date_words(day + 1)}: {', '.join(words)}.", grave=bool(empty)))
    return tuple(found)


def _clock(year: Lived, step: int) -> str:
    minute = step * year.step_min
    return f"{minute // 60:02d}:{minute % 60:02d}"
