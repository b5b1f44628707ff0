"""Conductors by the names tables list them under: area and resistance."""

from __future__ import annotations

import functools

from weighty_axle.physics import conductors
from weighty_axle.reference import tables

SUN_CABLE_C = 70.0
"""Air at cable in the sun on a roof [degC]. Source: NEC 310.15(B)(2) on conduits in sun, recalled, rounded; common practice, no source."""


@functools.cache
def conductor_area_mm2(size: str) -> float:
    """Area of a size named in the tables [mm2]. Raises ValueError for an unknown name."""
    return float(size.removesuffix(" mm2")) if size.endswith("mm2") else conductors.awg_area_mm2(conductors.gauge_number(size))


@functools.cache
def conductor_ohm_per_km(size: str) -> float:
    """Resistance at 20 degC [ohm/km]: the standard's largest for metric flexible cable, ASTM B258 + 2 % for AWG. Raises ValueError."""
    if not size.endswith("mm2"):
        return conductors.stranded_ohm_per_km(conductor_area_mm2(size))
    for row in tables.iec_conductors().rows:
        if row.size == size:
            return row.ohm_per_km
    raise ValueError(f"{size!r} is not in the table of conductors")


def ohm_per_m(size: str, temperature_c: float = 20.0) -> float:
    """Resistance of copper at a temperature [ohm/m]; 0 for a size in no table, which a rule stops at."""
    try:
        return conductors.at_temperature(conductor_ohm_per_km(size) / 1000, temperature_c)
    except ValueError:
        return 0.0
