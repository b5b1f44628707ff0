"""Copper conductors: areas, resistances, temperature."""

from __future__ import annotations

import math

COPPER_RESISTIVITY_20C = 1.7241e-8
"""Annealed copper at 20 degC [ohm m]. Source: IEC 60028 (100 % IACS)."""

COPPER_PER_K_20C = 0.00393
"""Resistance change of annealed copper per kelvin, referred to 20 degC [1/K]. Source: IEC 60028."""

COPPER_DENSITY = 8890.0
"""Copper [kg/m3]. Source: IEC 60028."""


def gauge_number(size: str) -> int:
    """Gauge number of an AWG size name: `2/0 AWG` is -1, `6 AWG` is 6.

    Parameters: size - name as tables list it
    Returns: gauge number, 1/0 being 0
    Raises: ValueError for any other text
    Source: ASTM B258
    """
    number = size.removesuffix(" AWG")
    if number == size:
        raise ValueError(f"{size!r} is not an AWG size")
    return 1 - int(number[:-2]) if number.endswith("/0") else int(number)


def awg_area_mm2(gauge: int) -> float:
    """Area of a gauge number: d = 0.127 mm x 92^((36 - n) / 39), A = pi d2 / 4.

    Parameters: gauge [1]
    Returns: solid area [mm2]
    Raises: ValueError outside -3 (4/0) to 40
    Source: ASTM B258
    """
    if not -3 <= gauge <= 40:
        raise ValueError(f"gauge {gauge} is outside 4/0 to 40")
    diameter_mm: float = 0.127 * 92.0 ** ((36 - gauge) / 39)
    return math.pi * diameter_mm**2 / 4


def stranded_ohm_per_km(area_mm2: float) -> float:
    """Resistance of a stranded copper conductor at 20 degC: rho / A x 1.02 (strand lay).

    Parameters: area_mm2 [mm2]
    Returns: resistance [ohm/km]
    Raises: ValueError when the area is not positive
    Source: ASTM B8 lay allowance of 2 %; IEC 60028 resistivity
    """
    if area_mm2 <= 0:
        raise ValueError(f"area {area_mm2:g} mm2 is not positive")
    return COPPER_RESISTIVITY_20C / (area_mm2 * 1e-6) * 1000 * 1.02


def at_temperature(ohm_20c: float, temperature_c: float) -> float:
    """Copper resistance at a temperature: R = R20 (1 + 0.00393 (T - 20)).

    Parameters: ohm_20c [ohm], temperature_c [degC]
    Returns: resistance [ohm]
    Source: IEC 60028
    """
    return ohm_20c * (1 + COPPER_PER_K_20C * (temperature_c - 20))


def ambient_factor(*, insulation_c: float, ambient_c: float, table_ambient_c: float) -> float:
    """Ampacity correction for air other than the table's: sqrt((Tc - Ta) / (Tc - Tt)).

    Parameters: insulation_c [degC], ambient_c [degC], table_ambient_c [degC]
    Returns: factor [1]
    Raises: ValueError when the air is as hot as the insulation may get
    Source: NEC (NFPA 70) 2023 equation 310.15(B)(1), recalled
    """
    if ambient_c >= insulation_c:
        raise ValueError(f"air at {ambient_c:g} degC leaves no room under insulation of {insulation_c:g} degC")
    return math.sqrt((insulation_c - ambient_c) / (insulation_c - table_ambient_c))


def copper_mass_kg(*, area_mm2: float, length_m: float) -> float:
    """Mass of bare copper: density x area x length.

    Parameters: area_mm2 [mm2], length_m [m]
    Returns: mass [kg]
    Source: IEC 60028 density
    """
    return COPPER_DENSITY * area_mm2 * 1e-6 * length_m
