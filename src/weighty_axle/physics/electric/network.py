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

    Nodal analysis: for every node the sum of (V - V_other) / R over its branches equals what flows in. The matrix is
    symmetric and positive definite; nodes with the fewest neighbours are eliminated first, so that ladders and bars
    stay as sparse as they are.

    Parameters: branches - resistors [ohm] with their force [V]; drawn_a - node to current drawn out there [A]; ground -
        node at 0 V
    Returns: Solution
    Raises: ValueError for a resistance that is not positive, an unknown node, or a part that is not connected to the
        ground
    Source: textbook relation (Kirchhoff's current law)
    """
    return _solve_all(branches, [drawn_a], ground)[0]


def opened_one_by_one(
    branches: Sequence[Branch], *, drawn_a: Mapping[str, float], ground: str, indices: Sequence[int]
) -> list[tuple[float, ...]]:
    """Branch currents with each of some branches opened in turn, from one elimination.

    A current y put in at the branch's start and taken out at its end cancels what flows in it when y equals its own
    current then: y = i / (1 - t), t being the part of such a current that the branch itself carries. By superposition
    every other branch gains y times its part.

    Parameters: branches, drawn_a, ground - as for `solve`, without electromotive forces; indices - branches to open,
        none of them the only way
    Returns: for each index the currents of all branches from start to end [A]; its own is 0
    Raises: ValueError as `solve`, and where a branch is the only way
    Source: textbook relation (superposition, compensation theorem)
    """
    probes = [{branches[index].start: -1.0, branches[index].end: 1.0} for index in indices]
    whole, *parts = _solve_all(branches, [drawn_a, *probes], ground)
    found = []
    for index, part in zip(indices, parts, strict=True):
        left = 1 - part.branch_a[index]
        if left < 1e-9:
            raise ValueError(f"nothing but one branch joins {branches[index].start} and {branches[index].end}")
        put_in_a = whole.branch_a[index] / left
        found.append(
            tuple(
                0.0 if at == index else amps + put_in_a * more
                for at, (amps, more) in enumerate(zip(whole.branch_a, part.branch_a, strict=True))
            )
        )
    return found


def _solve_all(branches: Sequence[Branch], draws: Sequence[Mapping[str, float]], ground: str) -> list[Solution]:
    """One solution for each set of drawn currents."""
    rows: dict[str, dict[str, float]] = {}
    forced: dict[str, float] = {}
    for start, end, ohm, emf_v in branches:
        if not ohm > 0:
            raise ValueError(f"resistance {ohm:g} ohm between {start} and {end} is not positive")
        siemens = 1 / ohm
        for node, other, sign in ((start, end, -1.0), (end, start, 1.0)):
            row = rows.setdefault(node, {})
            row[node] = row.get(node, 0.0) + siemens
            row[other] = row.get(other, 0.0) - siemens
            forced[node] = forced.get(node, 0.0) + sign * emf_v * siemens
    named = {ground}.union(*draws)
    if not named <= set(rows):
        raise ValueError(f"node {ground if ground not in rows else sorted(named - set(rows))[0]} is in no branch")
    flows = {node: [amps - drawn.get(node, 0.0) for drawn in draws] for node, amps in forced.items()}
    for other in rows.pop(ground):
        if other != ground:
            rows[other].pop(ground)
    node_v = _eliminate(rows, flows)
    node_v[ground] = [0.0] * len(draws)
    return [
        Solution(
            {node: volts[at] for node, volts in node_v.items()},
            tuple((node_v[start][at] - node_v[end][at] + emf_v) / ohm for start, end, ohm, emf_v in branches),
        )
        for at in range(len(draws))
    ]


def _eliminate(rows: dict[str, dict[str, float]], flows: dict[str, list[float]]) -> dict[str, list[float]]:
    """Gaussian elimination by least degree, and back substitution, of as many right-hand sides as `flows` has
    columns.
    """
    done: list[tuple[str, float, dict[str, float]]] = []
    while rows:
        # Two neighbours or fewer can be taken at once; only a meshed rest has to be searched.
        node = next((one for one, row in rows.items() if len(row) <= 3), "") or min(
            rows, key=lambda one: len(rows[one])
        )
        row = rows.pop(node)
        pivot = row.pop(node)
        if pivot <= 1e-12 * (sum(map(abs, row.values())) or 1.0):
            raise ValueError(f"node {node} is not connected to the ground node")
        flow = flows[node]
        for other, value in row.items():
            factor = value / pivot
            target = rows[other]
            del target[node]
            flows[other] = [old - factor * amps for old, amps in zip(flows[other], flow, strict=True)]
            for third, more in row.items():
                target[third] = target.get(third, 0.0) - factor * more
        done.append((node, pivot, row))
    node_v: dict[str, list[float]] = {}
    for node, pivot, row in reversed(done):
        left = flows[node]
        for other, value in row.items():
            left = [amps - value * volts for amps, volts in zip(left, node_v[other], strict=True)]
        node_v[node] = [amps / pivot for amps in left]
    return node_v
