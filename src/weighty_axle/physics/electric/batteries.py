"""Battery arithmetic: current of a constant power, fault current."""

from __future__ import annotations

import math


class VoltageCollapseError(ValueError):
    """A constant-power load has no operating point: more than V2/4R is asked of the source."""


def current_for_power(*, power_w: float, open_circuit_v: float, resistance_ohm: float) -> float:
    """Current that a source with resistance gives into a constant power: I = (V - sqrt(V2 - 4 R P)) / 2 R.

    Parameters: power_w [W], open_circuit_v [V], resistance_ohm [ohm]
    Returns: current [A]
    Raises: VoltageCollapseError when P > V2 / 4R
    Source: textbook relation
    """
    if resistance_ohm == 0:
        return power_w / open_circuit_v
    root = open_circuit_v**2 - 4 * resistance_ohm * power_w
    if root < 0:
        limit_w = open_circuit_v**2 / (4 * resistance_ohm)
        raise VoltageCollapseError(f"{power_w:.0f} W is asked where {limit_w:.0f} W is the most that can be given")
    # The form 2P / (V + sqrt(..)) keeps its digits when R P is small against V2.
    return 2 * power_w / (open_circuit_v + math.sqrt(root))


def prospective_current_a(*, open_circuit_v: float, resistance_ohm: float) -> float:
    """Short-circuit current of a source: V / R. The BMS is not counted on to interrupt it.

    Parameters: open_circuit_v [V], resistance_ohm [ohm]
    Returns: current [A]
    Raises: ValueError when the resistance is not positive
    Source: textbook relation
    """
    if resistance_ohm <= 0:
        raise ValueError(f"resistance {resistance_ohm:g} ohm is not positive")
    return open_circuit_v / resistance_ohm
