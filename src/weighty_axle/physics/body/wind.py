"""Lift of the wind on modules lying on a roof."""

from __future__ import annotations

AIR_KG_PER_M3 = 1.225


def dynamic_pressure_pa(speed_m_per_s: float) -> float:
    """Dynamic pressure of moving air: rho v2 / 2.

    Parameters: speed_m_per_s
    Returns: pressure in pascal
    Raises: ValueError for a negative speed
    Source: textbook relation; air of 1.225 kg per cubic metre (ISO 2533 at sea level)
    """
    if speed_m_per_s < 0:
        raise ValueError(f"a speed of {speed_m_per_s:g} m/s is below zero")
    return AIR_KG_PER_M3 * speed_m_per_s**2 / 2
