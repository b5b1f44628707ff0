"""Fuel of a generator set by its load."""

from __future__ import annotations

LITRES_PER_KWH, HALF_SHARE = 0.36, 0.62
"""Fuel of a small set at full load [l/kWh], and the share of it that it burns in an hour at half load.

Source: common practice, no source.
"""


def fuel_l_per_h(*, load_w: float, full_w: float, full_l_per_h: float, half_l_per_h: float) -> float:
    """Fuel an hour: a straight line through half and full load (Willans line), never less than none.

    Parameters: load_w, full_w [W]; full_l_per_h, half_l_per_h [l/h]
    Returns: fuel [l/h]
    Raises: ValueError when the full load is not positive
    Source: textbook relation (Willans line)
    """
    if full_w <= 0:
        raise ValueError(f"full load {full_w:g} W is not positive")
    slope = (full_l_per_h - half_l_per_h) / (full_w / 2)
    return max(0.0, half_l_per_h + slope * (load_w - full_w / 2))
