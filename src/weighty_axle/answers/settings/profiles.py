"""What a charging voltage at a lithium bank says that belongs to lead-acid cells: a default was left in."""

from __future__ import annotations

from weighty_axle.job.models.bank import Bank, Chemistry
from weighty_axle.reference.cells import CELL_POINTS
from weighty_axle.reference.profiles import PROFILES

AS_LEAD_ACID_V = 0.012
"""So near a lead-acid cell's charging voltage, a set point is taken for that default [V a cell]. Source: judgement."""

LEAD_ACID: tuple[Chemistry, ...] = ("flooded", "agm")


def lead_acid_words(volts: float, bank: Bank) -> str:
    """What a charging voltage at a lithium bank says that is a lead-acid default; empty where it is not.

    Source: set points by chemistry, common practice.
    """
    spec = bank.spec
    if not spec.managed:
        return ""
    if abs(volts / (spec.cells_in_series * bank.series) - CELL_POINTS[spec.chemistry].float_) <= AS_LEAD_ACID_V:
        return ""  # its own float is that of a lead-acid cell too
    nominal = spec.cells_in_series * bank.series * spec.cell_nominal_v
    # 51.2 V is where 48 V of lead-acid stood: 24 cells.
    cells = 6 * max(1, round(nominal / 12.8))
    for chemistry in LEAD_ACID:
        points = CELL_POINTS[chemistry]
        for name, cell_v in (("full charge", points.gentle), ("full charge", points.brim), ("float", points.float_)):
            if abs(volts / cells - cell_v) <= AS_LEAD_ACID_V:
                return (
                    f"that is {volts / cells:.2f} V for each of {cells} lead-acid cells, the {name} of "
                    f"{PROFILES[chemistry].name}: a default was left in. Choose the profile, equalising off, "
                    "compensation off, and look at every voltage again"
                )
    return ""
