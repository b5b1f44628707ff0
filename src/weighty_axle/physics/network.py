"""Direct-current networks of resistors and electromotive forces, solved by node voltages."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import NamedTuple


class Branch(NamedTuple):
    """A resistor between two nodes, with an electromotive force in series that drives current from `start` to `end`."""

    start: str
    end: str
    ohm: float
    emf_v: float = 0.0


class Solution(NamedTuple):
    """Voltage of every node against the ground node [V], and current of every branch from start to end [A]."""

    node_v: dict[str, float]
    branch_a: tuple[float, ...]


def solve(branches: Sequence[Branch], *, drawn_a: Mapping[str, float], ground: str) -> Solution:
    """Node voltages and branch currents when currents are drawn out of nodes (and flow back in at the ground node).

    Nodal analysis: for every node the sum of (V - V_other) / R over its branches equals what flows in. The matrix is symmetric and positive
    definite; nodes with the fewest neighbours are eliminated first, so that ladders and bars stay as sparse as they are.

    Parameters: branches - resistors [ohm] with their force [V]; drawn_a - node to current drawn out there [A]; ground - node at 0 V
    Returns: Solution
    Raises: ValueError for a resistance that is not positive, an unknown node, or a part that is not connected to the ground
    Source: textbook relation (Kirchhoff's current law)
    """
    rows: dict[str, dict[str, float]] = {}
    flows: dict[str, float] = {}
    for start, end, ohm, emf_v in branches:
        if not ohm > 0:
            raise ValueError(f"resistance {ohm:g} ohm between {start} and {end} is not positive")
        siemens = 1 / ohm
        for node, other, sign in ((start, end, -1.0), (end, start, 1.0)):
            row = rows.setdefault(node, {})
            row[node] = row.get(node, 0.0) + siemens
            row[other] = row.get(other, 0.0) - siemens
            flows[node] = flows.get(node, 0.0) + sign * emf_v * siemens
    if ground not in rows or not set(drawn_a) <= set(rows):
        raise ValueError(f"node {ground if ground not in rows else sorted(set(drawn_a) - set(rows))[0]} is in no branch")
    for node, amps in drawn_a.items():
        flows[node] -= amps
    for other in rows.pop(ground):
        if other != ground:
            rows[other].pop(ground)
    node_v = _eliminate(rows, flows)
    node_v[ground] = 0.0
    return Solution(node_v, tuple((node_v[start] - node_v[end] + emf_v) / ohm for start, end, ohm, emf_v in branches))


def _eliminate(rows: dict[str, dict[str, float]], flows: dict[str, float]) -> dict[str, float]:
    """Gaussian elimination by least degree, and back substitution."""
    done: list[tuple[str, float, dict[str, float]]] = []
    while rows:
        # Two neighbours or fewer can be taken at once; only a meshed rest has to be searched.
        node = next((one for one, row in rows.items() if len(row) <= 3), "") or min(rows, key=lambda one: len(rows[one]))
        row = rows.pop(node)
        pivot = row.pop(node)
        if pivot <= 1e-12 * (sum(map(abs, row.values())) or 1.0):
            raise ValueError(f"node {node} is not connected to the ground node")
        for other, value in row.items():
            factor = value / pivot
            target = rows[other]
            del target[node]
            flows[other] -= factor * flows[node]
            for third, more in row.items():
                target[third] = target.get(third, 0.0) - factor * more
        done.append((node, pivot, row))
    node_v: dict[str, float] = {}
    for node, pivot, row in reversed(done):
        node_v[node] = (flows[node] - sum(value * node_v[other] for other, value in row.items())) / pivot
    return node_v
