"""Loss of inverters as a curve, from the three figures a datasheet gives."""

from __future__ import annotations

import math
from typing import NamedTuple


class LossCurve(NamedTuple):
    """loss(P) = p0 + r1 P + r2 P2: no-load [W], share [1], quadratic part [1/W]."""

    p0_w: float
    r1: float
    r2_per_w: float

    def loss_w(self, power_w: float) -> float:
        """Loss at an AC output power [W]."""
        return self.p0_w + self.r1 * power_w + self.r2_per_w * power_w**2


def fit_loss(*, no_load_w: float, peak_efficiency: float, full_load_efficiency: float, rated_w: float) -> LossCurve:
    """Loss curve through no-load, best efficiency (wherever it lies below full load) and full-load efficiency.

    From 1/eta = 1 + p0/P + r1 + r2 P with its minimum at P = sqrt(p0/r2):
    sqrt(r2 Pr) = sqrt(p0/Pr) + sqrt(1/eta_full - 1/eta_peak), r1 = 1/eta_peak - 1 - 2 sqrt(p0 r2).

    Parameters: no_load_w [W], peak_efficiency [1], full_load_efficiency [1], rated_w [W]
    Returns: LossCurve
    Raises: ValueError when a figure is out of range or full load is better than the peak
    Source: textbook relation (constant, linear and quadratic loss)
    """
    if no_load_w <= 0 or rated_w <= 0:
        raise ValueError(f"no-load {no_load_w:g} W and rating {rated_w:g} W must be positive")
    if not 0 < full_load_efficiency <= peak_efficiency < 1:
        raise ValueError(
            f"efficiencies {full_load_efficiency:g} at full load and {peak_efficiency:g} at best do not fit"
        )
    root = (math.sqrt(no_load_w / rated_w) + math.sqrt(1 / full_load_efficiency - 1 / peak_efficiency)) / math.sqrt(
        rated_w
    )
    r1 = 1 / peak_efficiency - 1 - 2 * math.sqrt(no_load_w) * root
    return LossCurve(no_load_w, r1, root**2)
