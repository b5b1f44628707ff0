"""What an alternator gives hot, by the speed of its shaft."""

from __future__ import annotations

from collections.abc import Sequence

from weighty_axle.physics.electric.cells import interpolated

LOST_PER_K = 0.0025
"""Share of its output an alternator loses for every kelvin of the air around it. Source: common practice, no source."""


def hot_output_a(
    *, shaft_rpm: Sequence[float], amps: Sequence[float], at_rpm: float, curve_c: float, air_c: float
) -> float:
    """Output at a speed: along the curve by straight lines, none below its first point, no more than its last above it;
    less in hotter air than the curve's, more in cooler.

    Parameters: shaft_rpm [1/min] - rising; amps [A]; at_rpm [1/min]; curve_c, air_c [degC]
    Returns: current [A]
    Raises: ValueError for an empty curve
    Source: common practice, no source (loss with temperature)
    """
    if not shaft_rpm:
        raise ValueError("a curve needs a point")
    if at_rpm < shaft_rpm[0]:
        return 0.0
    found = amps[0] if len(amps) == 1 else interpolated(min(at_rpm, shaft_rpm[-1]), shaft_rpm, amps)
    return found * max(0.0, 1 - LOST_PER_K * (air_c - curve_c))
