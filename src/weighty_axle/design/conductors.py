"""Conductors by the names tables list them under: area and resistance."""

from __future__ import annotations

import functools
import math

from weighty_axle.physics.electric import conductors
from weighty_axle.reference import tables

SUN_CABLE_C = 70.0
"""Air at cable in the sun on a roof [degC].

Source: NEC 310.15(B)(2) on conduits in sun, recalled, rounded; common practice, no source.
"""


AC_COPPER_C = 70.0
"""Copper of AC wiring at its hottest: insulation for 70 °C (IEC 60364-5-52), terminals for 75 °C (NEC 110.14(C));
recalled, the drop differs by 2 % [degC].
"""


@functools.cache
def conductor_area_mm2(size: str) -> float:
    """Area of a size named in the tables [mm2]. Raises ValueError for an unknown name."""
    return (
        float(size.removesuffix(" mm2"))
        if size.endswith("mm2")
        else conductors.awg_area_mm2(conductors.gauge_number(size))
    )


@functools.cache
def conductor_ohm_per_km(size: str) -> float:
    """Resistance at 20 degC [ohm/km]: the standard's largest for metric flexible cable, ASTM B258 + 2 % for AWG.

    Raises ValueError.
    """
    if not size.endswith("mm2"):
        return conductors.stranded_ohm_per_km(conductor_area_mm2(size))
    for row in tables.iec_conductors().rows:
        if row.size == size:
            return row.ohm_per_km
    raise ValueError(f"{size!r} is not in the table of conductors")


def ohm_per_m(size: str, temperature_c: float = 20.0) -> float:
    """Resistance of copper at a temperature [ohm/m]; not a number for a size in no table, which a rule stops at:
    nothing is told of it then.
    """
    try:
        return conductors.at_temperature(conductor_ohm_per_km(size) / 1000, temperature_c)
    except ValueError:
        return math.nan


@functools.cache
def least_ohm_per_km(size: str) -> float:
    """Least resistance a size can have at 20 degC [ohm/km]: pure copper of its nominal area, for fault currents.

    Raises ValueError for an unknown name.
    """
    return conductors.COPPER_RESISTIVITY_20C / (conductor_area_mm2(size) * 1e-6) * 1000


@functools.cache
def outer_mm(size: str, cores: int = 1) -> float:
    """Outer diameter of a cable of one or more conductors of a size [mm]: the next thicker row of the table; several
    lie in a round sheath. A size no table has counts as the thickest.

    Source: reference/cable_outer.json; circles in a circle, textbook.
    """
    rows = tables.cable_outer().rows
    try:
        area = conductor_area_mm2(size)
    except ValueError:
        area = rows[-1].area_mm2
    one = next((row.outer_mm for row in rows if row.area_mm2 >= area - 1e-6), rows[-1].outer_mm)
    return one if cores == 1 else round(one * _ROUND[cores] + 2 * _SHEATH_MM, 1)


_ROUND = {2: 2.0, 3: 2.155, 4: 2.414, 5: 2.701}
"""Circle around so many equal circles, in their diameters. Source: R. L. Graham et al. 1998, recalled."""
_SHEATH_MM = 1.2
