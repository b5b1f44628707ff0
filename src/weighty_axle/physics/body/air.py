"""Air that carries heat away: its density where it is, what a fan moves, how a bay warms up and cools down."""

from __future__ import annotations

import math

SEA_LEVEL_KG_M3 = 1.225
AIR_J_KGK = 1006.0
"""Specific heat of dry air. Source: textbook."""


def density_kg_m3(*, height_m: float, air_c: float) -> float:
    """Density of dry air at a height and temperature.

    Parameters: height_m (above the sea [m]); air_c (temperature [degC]).
    Returns: density [kg/m3].
    Source: ISO 2533:1975 standard atmosphere for the pressure (recalled), ideal gas for the density.
    """
    pressure: float = 101_325 * (1 - 0.0065 * height_m / 288.15) ** 5.25588
    return pressure / (287.05 * (air_c + 273.15))


def flow_needed_m3_h(*, heat_w: float, rise_k: float, density_kg_m3: float) -> float:
    """Air that carries a heat away with an allowed rise; infinite where none is allowed.

    Parameters: heat_w [W]; rise_k (of the air on its way through [1/K], as a difference); density_kg_m3 [kg/m3].
    Returns: flow [m3/h].
    Source: textbook heat balance.
    """
    return 3600 * heat_w / (density_kg_m3 * AIR_J_KGK * rise_k) if rise_k > 0 else math.inf


def carried_w_per_k(*, flow_m3_h: float, density_kg_m3: float) -> float:
    """What a flow carries away for each degree of its rise.

    Parameters: flow_m3_h [m3/h]; density_kg_m3 [kg/m3].
    Returns: heat per degree [W/K].
    Source: textbook heat balance.
    """
    return flow_m3_h / 3600 * density_kg_m3 * AIR_J_KGK


def left_of_rise(loss_w_k: float, *, capacity_j_k: float, seconds: float) -> float:
    """What is left after a time of the difference between a body's temperature and that at which it would end.

    Parameters: loss_w_k (to what is around, per degree [W/K]); capacity_j_k (of the body [J/K]); seconds [s].
    Returns: share [1].
    Raises: ValueError for a body without capacity.
    Source: textbook: first-order equation with constant coefficients.
    """
    if capacity_j_k <= 0:
        raise ValueError("a body has a heat capacity")
    return math.exp(-loss_w_k * seconds / capacity_j_k)
