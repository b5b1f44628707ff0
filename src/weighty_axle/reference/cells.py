"""Voltages of cells by chemistry: where they are worked, warned, charged and held."""

from __future__ import annotations

import math
from typing import NamedTuple

from weighty_axle.job.models.bank import Chemistry
from weighty_axle.job.models.settings import FullCharge


class CellPoints(NamedTuple):
    """Set points of one cell [V], rising; `tail_share` is the current at which it counts as full, over its capacity,
    `charge_efficiency` what comes out again of the ampere-hours put in, `accepts_per_h` the current it accepts at its
    highest voltage over the ampere-hours it lacks (ampere-hour rule; Vinal, Storage Batteries, recalled).

    Source: common practice, no source.
    """

    cut_out: float
    alarm: float
    restart: float
    rebulk: float
    float_: float
    gentle: float
    brim: float
    tail_share: float
    charge_efficiency: float
    accepts_per_h: float

    def full(self, school: FullCharge) -> float:
        """Voltage of a full cell in a school of charging [V]."""
        return self.gentle if school == "gentle" else self.brim


_LITHIUM = CellPoints(3.0, 3.10, 3.20, 3.30, 3.375, 3.50, 3.60, 0.03, 0.995, math.inf)
CELL_POINTS: dict[Chemistry, CellPoints] = {
    "lfp": _LITHIUM,
    "nmc": _LITHIUM,  # not its own: a rule says that its maker's are to be used
    "flooded": CellPoints(1.90, 1.95, 2.08, 2.12, 2.25, 2.40, 2.45, 0.02, 0.85, 1.0),
    "agm": CellPoints(1.90, 1.95, 2.08, 2.13, 2.27, 2.37, 2.42, 0.01, 0.9, 1.0),
}
"""Set points by chemistry. Source: common practice, no source."""
