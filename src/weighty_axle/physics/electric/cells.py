"""Cells at rest: open-circuit voltage against state of charge, and two packs settling once they are joined."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Sequence
from typing import NamedTuple


def interpolated(x: float, xs: Sequence[float], ys: Sequence[float]) -> float:
    """Value of a table between its points, by straight lines.

    Parameters: x, xs [any] - rising; ys [any]
    Returns: value [any]
    Raises: ValueError outside the table
    Source: textbook relation (linear interpolation)
    """
    if not xs[0] <= x <= xs[-1]:
        raise ValueError(f"{x:g} lies outside the table, which goes from {xs[0]:g} to {xs[-1]:g}")
    at = min(bisect_right(xs, x), len(xs) - 1)
    share = (x - xs[at - 1]) / (xs[at] - xs[at - 1])
    return ys[at - 1] + share * (ys[at] - ys[at - 1])


class Settling(NamedTuple):
    """Two packs joined: current at first [A], charge that flows [Ah], time until the current has fallen to the tail
    [h].
    """

    first_a: float
    moved_ah: float
    hours: float


def settle(
    *,
    low_soc: float,
    high_soc: float,
    capacity_ah: float,
    loop_ohm: float,
    cells: int,
    soc: Sequence[float],
    cell_v: Sequence[float],
    tail_a: float,
) -> Settling:
    """Charge flowing from the fuller pack to the emptier one through the resistance of both, until less than the tail
    current flows.

    dq/dt = (V(high) - V(low)) / R with both open-circuit voltages moving as charge moves; steps of a two-hundredth of
    the charge left.

    Parameters: low_soc, high_soc [1]; capacity_ah [Ah] - of each; loop_ohm [ohm]; cells [1] - in series; soc [1],
        cell_v [V] - table; tail_a [A]
    Returns: Settling
    Raises: ValueError when the resistance, capacity or tail is not positive, or the packs do not settle
    Source: textbook relation (Kirchhoff's voltage law)
    """
    if loop_ohm <= 0 or capacity_ah <= 0 or tail_a <= 0:
        raise ValueError(
            f"resistance {loop_ohm:g} ohm, capacity {capacity_ah:g} Ah and tail {tail_a:g} A must be positive"
        )

    def amps(moved_ah: float) -> float:
        high, low = (
            interpolated(max(0.0, min(1.0, one)), soc, cell_v)
            for one in (high_soc - moved_ah / capacity_ah, low_soc + moved_ah / capacity_ah)
        )
        return cells * (high - low) / loop_ohm

    whole_ah = (high_soc - low_soc) / 2 * capacity_ah
    first_a = current_a = amps(0.0)
    moved_ah, hours = 0.0, 0.0
    for _ in range(5000):
        step_ah = (whole_ah - moved_ah) / 200
        if current_a <= tail_a or step_ah < 1e-9 * capacity_ah:
            break
        next_a = amps(moved_ah + step_ah)
        part = min(1.0, (current_a - tail_a) / (current_a - next_a)) if next_a < tail_a else 1.0
        hours += 2 * part * step_ah / (current_a + max(next_a, tail_a))
        moved_ah += part * step_ah
        current_a = next_a
    else:
        raise ValueError(f"the packs did not settle in 5000 steps: {current_a:.3g} A still flow")
    return Settling(first_a, moved_ah, hours)
