"""Filling a bank: constant current or power first, then a held voltage while the current falls away."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Sequence
from typing import NamedTuple

from weighty_axle.physics.electric.cells import interpolated

STEPS = 200


class Filling(NamedTuple):
    """A bank on charge, point by point: hours since the start [h], state of charge [1], current [A], voltage at its
    terminals [V], and voltage of its cells at rest [V].

    `held_from_h` is when the voltage is first held; `ended` says why it stopped: "full" (the current fell to the tail),
    "reached" (the charge asked for), "never" (what comes in is no more than what is drawn).
    """

    hours: tuple[float, ...]
    soc: tuple[float, ...]
    amps: tuple[float, ...]
    volts: tuple[float, ...]
    rest_v: tuple[float, ...]
    held_from_h: float
    ended: str


def fill(
    *,
    from_soc: float,
    to_soc: float,
    capacity_ah: float,
    resistance_ohm: float,
    soc: Sequence[float],
    rest_v: Sequence[float],
    held_v: float,
    source_a: float,
    source_w: float,
    bank_a: float,
    drawn_w: float,
    tail_a: float,
    charge_efficiency: float = 1.0,
    accepts_per_h: float = math.inf,
) -> Filling:
    """Charge of a bank from one state to another, or until the current has fallen to its tail.

    The current is what the sources give (in amperes, and in watts at the voltage there), less what is drawn beside it,
    at most what the bank may take, and no more than holds the terminals at `held_v`: through its resistance, and in
    lead-acid no more than its ampere-hours missing times `accepts_per_h` (ampere-hour rule). The time of a step in
    charge is exact where the current changes in a straight line with it, as it does on a straight piece of the rest
    voltage.

    Parameters: from_soc, to_soc [1]; capacity_ah [Ah]; resistance_ohm [ohm]; soc [1], rest_v [V] - table of the whole
        bank; held_v [V]; source_a [A]; source_w [W]; bank_a [A]; drawn_w [W]; tail_a [A]; charge_efficiency [1];
        accepts_per_h [1/h]
    Returns: Filling
    Raises: ValueError when capacity, resistance or tail is not positive
    Source: textbook relations (Ohm's law, charge balance); ampere-hour rule: Vinal, Storage Batteries, recalled
    """
    if capacity_ah <= 0 or resistance_ohm <= 0 or tail_a <= 0:
        raise ValueError(
            f"capacity {capacity_ah:g} Ah, resistance {resistance_ohm:g} ohm and tail {tail_a:g} A must be positive"
        )

    def rest(charge: float) -> float:
        return interpolated(min(max(charge, soc[0]), soc[-1]), soc, rest_v)

    def holds(charge: float) -> float:
        """The current at which the terminals are at the held voltage."""
        through = (held_v - rest(charge)) / resistance_ohm
        return through if math.isinf(accepts_per_h) else min(through, accepts_per_h * capacity_ah * (1 - charge))

    def pushed(charge: float) -> float:
        """What sources less loads push in, whatever the voltage held."""
        at = rest(charge)
        watts = math.inf if math.isinf(source_w) else _into(source_w, at, resistance_ohm)
        by_w = min(source_a, watts)
        # Loads take their power at the voltage the bank then has.
        left = by_w - drawn_w / max(at + resistance_ohm * max(by_w, 0.0), 1e-9)
        return min(left, bank_a)

    def current(charge: float) -> float:
        return min(pushed(charge), holds(charge))

    inner = [
        from_soc + (to_soc - from_soc) * (1 - math.cos(math.pi * step / STEPS)) / 2 for step in range(STEPS + 1)
    ]  # close together at both ends, where the current changes
    corners = [one for one in soc if from_soc < one < to_soc]
    nodes = sorted({*inner, *corners})
    nodes = _with_turn(nodes, lambda charge: holds(charge) - pushed(charge))
    hours, charges, amps = [0.0], [from_soc], [current(from_soc)]
    held_from = 0.0 if holds(from_soc) <= pushed(from_soc) else math.inf
    ended = "reached"
    if amps[0] <= tail_a:
        ended = "full" if holds(from_soc) <= tail_a else "never"
        nodes = nodes[:1]
    for before, after in itertools.pairwise(nodes):
        first, then = amps[-1], current(after)
        if then <= tail_a:
            falls = holds(after) <= pushed(after)
            ended = "full" if falls else "never"
            if not falls:
                break
            share = (first - tail_a) / (first - then)
            after, then = before + share * (after - before), tail_a
        hours.append(hours[-1] + (after - before) * capacity_ah / charge_efficiency / _mean(first, then))
        charges.append(after)
        amps.append(then)
        if math.isinf(held_from) and holds(after) <= pushed(after) * (1 + 1e-12):
            held_from = hours[-1]
        if ended == "full":
            break
    at_rest = tuple(rest(one) for one in charges)
    volts = tuple(
        held_v if hour >= held_from else one + amp * resistance_ohm
        for hour, one, amp in zip(hours, at_rest, amps, strict=True)
    )
    return Filling(tuple(hours), tuple(charges), tuple(amps), volts, at_rest, held_from, ended)


def _into(power_w: float, rest_v: float, resistance_ohm: float) -> float:
    """Current a power pushes into a bank: (V + I R) I = P, so I = 2 P / (V + sqrt(V2 + 4 R P))."""
    return 2 * power_w / (rest_v + math.sqrt(rest_v**2 + 4 * resistance_ohm * power_w))


def _with_turn(nodes: list[float], short: Callable[[float], float]) -> list[float]:
    """The nodes with the one at which the voltage begins to be held: where `short` turns negative."""
    for before, after in itertools.pairwise(nodes):
        if short(before) > 0 >= short(after):
            for _ in range(50):
                middle = (before + after) / 2
                before, after = (middle, after) if short(middle) > 0 else (before, middle)
            return sorted({*nodes, after})
    return nodes


def _mean(first: float, then: float) -> float:
    """The even current that takes as long as one going from one to the other in a straight line: their logarithmic
    mean.
    """
    if abs(first - then) < 1e-9 * max(first, then):
        return (first + then) / 2
    return (first - then) / math.log(first / then)
