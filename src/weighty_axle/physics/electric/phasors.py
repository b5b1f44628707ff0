"""Line and neutral currents of a three-wire supply by phasors."""

from __future__ import annotations

import cmath
from collections.abc import Sequence
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


def star_currents(volts: Sequence[complex], own_va: Sequence[complex], shared_va: complex = 0j) -> tuple[complex, ...]:
    """Line currents of a star with its neutral: I = conj(S / V) of each line's own load and an even part of a balanced
    load over all lines.

    Parameters: volts [V] - each line against neutral; own_va [VA]; shared_va [VA]
    Returns: current of each line [A]; the neutral carries minus their sum
    Source: textbook relation (Kirchhoff's current law)
    """
    return tuple(((va + shared_va / len(volts)) / v).conjugate() for v, va in zip(volts, own_va, strict=True))


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


class WireBranch(NamedTuple):
    """A conductor or source between two nodes: impedance [ohm] in series with an electromotive force [V] that drives
    current from `start` to `end`.
    """

    start: str
    end: str
    ohm: complex
    emf_v: complex = 0j


class Drawn(NamedTuple):
    """A load between two nodes: what it takes [VA] at its nominal voltage [V].

    `steady`: it takes that power at any voltage; else it is an impedance.
    """

    start: str
    end: str
    va: complex
    nominal_v: float
    steady: bool = True


class Network(NamedTuple):
    """Voltage of every node against the ground node [V], current of every branch [A] from start to end, and of every
    load [A].
    """

    node_v: dict[str, complex]
    branch_a: tuple[complex, ...]
    load_a: tuple[complex, ...]

    def between_v(self, start: str, end: str) -> float:
        """Size of the voltage between two nodes [V]."""
        return abs(self.node_v[start] - self.node_v[end])


LEAST_SHARE = 0.5
"""Below this share of its nominal voltage a steady load is taken as an impedance: nothing draws its full power from
next to no voltage.
"""
_MOST_ROUNDS = 200


def network(branches: Sequence[WireBranch], loads: Sequence[Drawn], *, ground: str) -> Network:
    """Alternating-current network by node voltages: Y v = i, loads as admittances and, where they are steady, a
    correcting current found by iteration.

    Parameters: branches - with impedance [ohm] and force [V]; loads - with power [VA] at nominal voltage [V]; ground -
        the node that stands at 0 V
    Returns: Network
    Raises: ValueError for an impedance of zero, a node tied to nothing, or loads the supply cannot feed (voltage
        collapse)
    Source: textbook relation (Kirchhoff's current law; fixed-point power flow)
    """
    at, matrix, forced, siemens = _assembled(branches, loads, ground)
    order = _factor(matrix)
    names = list(at)

    def known(volts: list[complex]) -> dict[str, complex]:
        return {**dict(zip(names, volts, strict=True)), ground: 0j}

    volts = _substitute(matrix, order, forced)
    for _ in range(_MOST_ROUNDS):
        put_in, stands = list(forced), known(volts)
        for load, admittance in zip(loads, siemens, strict=True):
            across = stands[load.start] - stands[load.end]
            more = _taken_a(load, admittance, across) - admittance * across
            for node, sign in ((load.start, -1), (load.end, 1)):
                if node in at:
                    put_in[at[node]] += sign * more
        after = _substitute(matrix, order, put_in)
        step = max((abs(new - old) for new, old in zip(after, volts, strict=True)), default=0.0)
        volts = after
        if step < 1e-9 * max(1.0, *map(abs, volts)):
            break
    else:
        raise ValueError("the supply cannot feed these loads: the voltage collapses")
    stands = known(volts)
    branch_a = tuple((stands[start] - stands[end] + emf_v) / ohm for start, end, ohm, emf_v in branches)
    load_a = tuple(
        _taken_a(load, admittance, stands[load.start] - stands[load.end])
        for load, admittance in zip(loads, siemens, strict=True)
    )
    return Network(stands, branch_a, load_a)


def _taken_a(load: Drawn, siemens: complex, across: complex) -> complex:
    """Current of a load at the voltage across it."""
    held = load.steady and abs(across) >= LEAST_SHARE * load.nominal_v
    return (load.va / across).conjugate() if held else siemens * across


def _assembled(
    branches: Sequence[WireBranch], loads: Sequence[Drawn], ground: str
) -> tuple[dict[str, int], list[list[complex]], list[complex], list[complex]]:
    """Places of the nodes, admittance matrix, currents forced into the nodes, and the loads as admittances."""
    ends = [(part.start, part.end) for part in branches] + [(part.start, part.end) for part in loads]
    names = [one for one in dict.fromkeys(node for pair in ends for node in pair) if one != ground]
    at = {name: index for index, name in enumerate(names)}
    count = len(names)
    matrix = [[0j] * count for _ in range(count)]
    forced = [0j] * count

    def join(start: str, end: str, siemens: complex) -> None:
        for one, other in ((start, end), (end, start)):
            if one in at:
                matrix[at[one]][at[one]] += siemens
                if other in at:
                    matrix[at[one]][at[other]] -= siemens

    for start, end, ohm, emf_v in branches:
        if ohm == 0:
            raise ValueError(f"no impedance between {start} and {end}")
        join(start, end, 1 / ohm)
        for node, sign in ((start, -1), (end, 1)):
            if node in at:
                forced[at[node]] += sign * emf_v / ohm
    siemens = [load.va.conjugate() / load.nominal_v**2 for load in loads]
    for load, admittance in zip(loads, siemens, strict=True):
        join(load.start, load.end, admittance)
    return at, matrix, forced, siemens


def _factor(matrix: list[list[complex]]) -> list[int]:
    """Lower and upper triangle in place, rows exchanged for the largest pivot; returns the order of the rows.

    Raises ValueError when singular.
    """
    count, order = len(matrix), list(range(len(matrix)))
    largest = max((abs(value) for row in matrix for value in row), default=0.0)
    for column in range(count):
        best = max(range(column, count), key=lambda row: abs(matrix[row][column]))
        if abs(matrix[best][column]) <= 1e-13 * largest:
            raise ValueError("a node is tied to nothing")
        matrix[column], matrix[best] = matrix[best], matrix[column]
        order[column], order[best] = order[best], order[column]
        pivot_row = matrix[column]
        for row in matrix[column + 1 :]:
            factor = row[column] = row[column] / pivot_row[column]
            if factor:
                for other in range(column + 1, count):
                    row[other] -= factor * pivot_row[other]
    return order


def _substitute(triangles: list[list[complex]], order: list[int], right: list[complex]) -> list[complex]:
    """Solution for one right-hand side."""
    count = len(order)
    found = [right[row] for row in order]
    for row in range(count):
        for column in range(row):
            found[row] -= triangles[row][column] * found[column]
    for row in reversed(range(count)):
        for column in range(row + 1, count):
            found[row] -= triangles[row][column] * found[column]
        found[row] /= triangles[row][row]
    return found


def pulsating_va(volts: Sequence[complex], amps: Sequence[complex]) -> float:
    """Size of the power that swings at twice the mains frequency: | sum of V I |, currents not conjugated; it vanishes
    for balanced three-phase.

    Parameters: volts [V], amps [A] - effective phasors of each line against neutral
    Returns: amplitude of the swing about the mean [VA]
    Source: textbook relation (instantaneous power of sinusoids)
    """
    return abs(sum(v * i for v, i in zip(volts, amps, strict=True)))
