"""Line and neutral currents of a three-wire supply by phasors."""

from __future__ import annotations

import cmath
from typing import NamedTuple


class ThreeWire(NamedTuple):
    """Currents of two lines and their neutral [A, complex], and the voltage between the lines [V, complex].

    Line currents flow out of the source, the neutral current back into it counts as l1 + l2 + n = 0.
    """

    l1_a: complex
    l2_a: complex
    neutral_a: complex
    between_lines_v: complex


def leg_voltages(volts: float, *, in_phase: bool) -> tuple[complex, complex]:
    """Phasors of L1 and L2 against neutral: 180 degrees apart, or both in phase.

    Parameters: volts [V] - each leg; in_phase - both legs fed alike
    Returns: two phasors [V]
    Source: textbook relation
    """
    return complex(volts), complex(volts if in_phase else -volts)


def three_wire(*, l1_v: complex, l2_v: complex, l1_va: complex, l2_va: complex, across_va: complex) -> ThreeWire:
    """Currents into loads of constant complex power on L1-N, L2-N and L1-L2: I = conj(S / V).

    A load across two lines of (nearly) one voltage sees nothing and takes nothing.

    Parameters: l1_v [V], l2_v [V], l1_va [VA], l2_va [VA], across_va [VA]
    Returns: ThreeWire
    Source: textbook relation (Kirchhoff's current law)
    """
    between = l1_v - l2_v
    i1 = (l1_va / l1_v).conjugate()
    i2 = (l2_va / l2_v).conjugate()
    across = (across_va / between).conjugate() if abs(between) > 0.05 * abs(l1_v) else 0j
    line1, line2 = i1 + across, i2 - across
    return ThreeWire(line1, line2, -(line1 + line2), between)


def complex_power(power_w: float, power_factor: float) -> complex:
    """Complex power of a lagging load: P + j P tan(arccos pf).

    Parameters: power_w [W], power_factor [1]
    Returns: complex power [VA]
    Raises: ValueError when the power factor is not in (0, 1]
    Source: textbook relation
    """
    if not 0 < power_factor <= 1:
        raise ValueError(f"power factor {power_factor:g} is not in (0, 1]")
    return power_w / power_factor * cmath.exp(1j * cmath.acos(power_factor).real)
