"""String voltages and currents of solar modules from datasheet values."""

from __future__ import annotations


def open_voltage_v(*, voc_v: float, voc_per_c: float, cell_c: float) -> float:
    """Open-circuit voltage of a module at a cell temperature: Voc (1 + beta (T - 25)).

    Parameters: voc_v [V], voc_per_c [1/K], cell_c [degC]
    Returns: voltage [V]
    Raises: ValueError when the coefficient is not negative
    Source: IEC 60891 linear correction
    """
    if voc_per_c >= 0:
        raise ValueError(f"voltage coefficient {voc_per_c:g} per K must be negative")
    return voc_v * (1 + voc_per_c * (cell_c - 25))


def worst_open_voltage_v(*, voc_v: float, voc_per_c: float, cell_c: float, code_factor: float) -> float:
    """Open-circuit voltage that equipment must stand in the cold: the larger of the linear coefficient and the code's
    factor.

    Parameters: voc_v [V], voc_per_c [1/K], cell_c [degC], code_factor [1] - of the code's table at that temperature
    Returns: voltage [V]
    Raises: ValueError when the coefficient is not negative
    Source: IEC 60891; NEC (NFPA 70) 2023 690.7(A), recalled
    """
    return max(open_voltage_v(voc_v=voc_v, voc_per_c=voc_per_c, cell_c=cell_c), voc_v * code_factor)


def peak_power_voltage_v(*, vmp_v: float, voc_v: float, voc_per_c: float, pmp_per_c: float, cell_c: float) -> float:
    """Voltage at maximum power of a warm module; the lower of two estimates is returned.

    (a) Vmp falls by as many volts per kelvin as Voc: Vmp + Voc beta (T - 25).
    (b) the power coefficient falls on the voltage (current hardly changes): Vmp (1 + gamma (T - 25)).
    The percent coefficient of Voc put on Vmp would be several percent optimistic in heat.

    Parameters: vmp_v [V], voc_v [V], voc_per_c [1/K], pmp_per_c [1/K], cell_c [degC]
    Returns: voltage [V]
    Raises: ValueError when a coefficient is not negative
    Source: textbook relation (single-diode model: both voltages shift by about the same volts)
    """
    if voc_per_c >= 0 or pmp_per_c >= 0:
        raise ValueError(f"coefficients {voc_per_c:g} and {pmp_per_c:g} per K must be negative")
    over = cell_c - 25
    return min(vmp_v + voc_v * voc_per_c * over, vmp_v * (1 + pmp_per_c * over))


def design_current_a(*, isc_a: float, strings: int) -> float:
    """Current that wiring and inputs of an array must stand: 1.25 Isc per string (bright cloud edges).

    Parameters: isc_a [A], strings [1]
    Returns: current [A]
    Source: NEC (NFPA 70) 2023 690.8(A)(1), recalled
    """
    return 1.25 * isc_a * strings
