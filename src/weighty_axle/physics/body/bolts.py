"""Bolts that hold a box: what one carries in shear and in pull, and what the worst one gets."""

from __future__ import annotations

import math

STEEL_SAFETY = 1.25
"""Partial factor of bolts. Source: EN 1993-1-8 table 2.1 (recalled)."""


def shear_limit_n(stress_mm2: float, strength_mpa: float, shear_share: float) -> float:
    """What one bolt carries across, its thread in the joint.

    Parameters: stress_mm2 - stress area [mm2]; strength_mpa - tensile strength [N/mm2]; shear_share - of it [1]
    Returns: force [N]
    Source: EN 1993-1-8 table 3.4 (recalled).
    """
    return shear_share * strength_mpa * stress_mm2 / STEEL_SAFETY


def pull_limit_n(stress_mm2: float, strength_mpa: float) -> float:
    """What one bolt carries along its axis.

    Parameters: stress_mm2 - stress area [mm2]; strength_mpa - tensile strength [N/mm2]
    Returns: force [N]
    Source: EN 1993-1-8 table 3.4 (recalled).
    """
    return 0.9 * strength_mpa * stress_mm2 / STEEL_SAFETY


def worst_pull_n(
    pull_n: float, *, between_rows: tuple[float, float], along_rows: tuple[float, float], bolts: int
) -> float:
    """Pull on the worst bolt of two even rows [N]: its part of the pull, and of the moment each way.

    Parameters: pull_n - all bolts together, negative where the weight presses; between_rows - moment [N m] that one row
    takes against the other, and how far they are apart [m]; along_rows - moment [N m] along the rows, and how long they
    are [m]; bolts - at least 4; of an odd number one is not counted
    Returns: pull [N], never below 0
    Raises: ValueError when rows stand at one place or there are fewer than four bolts
    Source: textbook relation (statics of a rigid box on equal springs)
    """
    row = bolts // 2
    if row < 2 or between_rows[1] <= 0 or along_rows[1] <= 0:
        raise ValueError("a pattern has at least four bolts, in two rows apart from each other")
    between = between_rows[0] / (between_rows[1] * row)
    along = 3 * along_rows[0] * (row - 1) / (along_rows[1] * row * (row + 1))
    return max(0.0, pull_n / (2 * row) + between + along)


def use_share(shear_n: float, pull_n: float, *, shear_limit: float, pull_limit: float) -> float:
    """How much of a bolt is used by shear and pull at once.

    Parameters: shear_n, pull_n - on one bolt [N]; shear_limit, pull_limit - what it carries of either alone [N]
    Returns: share [1]
    Source: EN 1993-1-8 table 3.4, combined shear and tension (recalled).
    """
    return max(shear_n / shear_limit + pull_n / (1.4 * pull_limit), pull_n / pull_limit)


def panel_pull_limit_n(plate_mm: float, hole_mm: float, *, round_plate: bool, crush_mpa: float) -> float:
    """What a washer or square plate behind a panel holds before it is drawn in: its area less the hole × strength.

    Parameters: plate_mm - side or diameter [mm]; hole_mm - diameter [mm]; round_plate - a washer; crush_mpa - strength
    across the grain [N/mm2]
    Returns: force [N]
    Source: textbook relation.
    """
    across = math.pi / 4 * hole_mm**2
    area = math.pi / 4 * plate_mm**2 if round_plate else plate_mm**2
    return max(0.0, area - across) * crush_mpa


def panel_shear_limit_n(diameter_mm: float, panel_mm: float, density_kg_m3: float) -> float:
    """What a bolt carries across before it crushes its hole in plywood: 0.11 × (1 − 0.01 d) × density × d × t.

    Parameters: diameter_mm - of the bolt, d [mm]; panel_mm - thickness, t [mm]; density_kg_m3 - of the panel [kg/m3]
    Returns: force [N]
    Source: EN 1995-1-1 equation 8.20 (recalled).
    """
    return 0.11 * (1 - 0.01 * diameter_mm) * density_kg_m3 * diameter_mm * panel_mm
