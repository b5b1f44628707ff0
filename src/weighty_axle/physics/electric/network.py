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
    network = Network(branches, ground)
    return [network.solve(drawn) for drawn in draws]


class Network:
    """A network whose resistances stay: eliminated once, then solved for any drawn currents and forces.

    Source: textbook relation (Kirchhoff's current law; Gaussian elimination by least degree)
    """

    def __init__(self, branches: Sequence[Branch], ground: str) -> None:
        self.branches, self.ground = tuple(branches), ground
        rows: dict[str, dict[str, float]] = {}
        for start, end, ohm, _ in self.branches:
            if not ohm > 0:
                raise ValueError(f"resistance {ohm:g} ohm between {start} and {end} is not positive")
            siemens = 1 / ohm
            for node, other in ((start, end), (end, start)):
                row = rows.setdefault(node, {})
                row[node] = row.get(node, 0.0) + siemens
                row[other] = row.get(other, 0.0) - siemens
        self._known = frozenset(rows)
        if ground not in rows:
            raise ValueError(f"node {ground} is in no branch")
        for other in rows.pop(ground):
            if other != ground:
                rows[other].pop(ground)
        self._steps = _eliminated(rows)

    def solve(self, drawn_a: Mapping[str, float], emf_v: Sequence[float] | None = None) -> Solution:
        """Voltages and currents when currents are drawn out of nodes, with other forces in the branches where given.

        Parameters: drawn_a - node to current drawn out there [A]; emf_v - force of every branch [V]
        Returns: Solution
        Raises: ValueError for an unknown node
        """
        forces = [one.emf_v for one in self.branches] if emf_v is None else emf_v
        flows = dict.fromkeys(self._known, 0.0)
        for (start, end, ohm, _), force in zip(self.branches, forces, strict=True):
            if force:
                flows[start] -= force / ohm
                flows[end] += force / ohm
        for node, amps in drawn_a.items():
            if node not in flows:
                raise ValueError(f"node {node} is in no branch")
            flows[node] -= amps
        for node, _, factors in self._steps:
            flow = flows[node]
            if flow:
                for other, factor in factors:
                    flows[other] += factor * flow
        node_v = {self.ground: 0.0}
        for node, pivot, factors in reversed(self._steps):
            left = flows[node] / pivot
            for other, factor in factors:
                left += factor * node_v[other]
            node_v[node] = left
        return Solution(
            node_v,
            tuple(
                [
                    (node_v[start] - node_v[end] + force) / ohm
                    for (start, end, ohm, _), force in zip(self.branches, forces, strict=True)
                ]
            ),
        )


class Settled(NamedTuple):
    """A network with loads of constant power: its voltages and currents, whether there is a working point at all, how
    many passes it took, and what the last one still changed anywhere [V].
    """

    solution: Solution
    collapsed: bool
    passes: int
    residual_v: float


def settle(
    network: Network,
    *,
    drawn_w: Mapping[str, float],
    drawn_a: Mapping[str, float],
    emf_v: Sequence[float] | None = None,
    within_v: float = 1e-7,
    most_passes: int = 400,
) -> Settled:
    """The working point of loads that take their power whatever the voltage: current and voltage in turn until neither
    moves.

    From no load downwards the voltages fall, pass by pass, towards the upper of the two points a constant power has,
    and get there wherever there is one; beyond V2/4R there is none, and the voltages run away: a collapse.

    Parameters: network; drawn_w - node to power drawn there [W], against the ground; drawn_a - node to current [A];
        emf_v - force of every branch [V]; within_v - where it stops [V]; most_passes - bound [1]
    Returns: Settled
    Raises: ValueError for an unknown node
    Source: textbook relation (fixed point of I = P / V)
    """
    found = network.solve(drawn_a, emf_v)
    moved_v = 0.0
    for passed in range(1, most_passes + 1):
        drawn, before_v = dict(drawn_a), found.node_v
        for node, watts in drawn_w.items():
            volts = before_v[node]
            if volts <= 0:
                return Settled(found, True, passed, moved_v)
            drawn[node] = drawn.get(node, 0.0) + watts / volts
        after = network.solve(drawn, emf_v)
        after_v = after.node_v
        moved_v = max([abs(after_v[node] - before_v[node]) for node in drawn_w], default=0.0)
        found = after
        if moved_v <= within_v:
            return Settled(found, False, passed, moved_v)
    return Settled(found, True, most_passes, moved_v)


def _eliminated(rows: dict[str, dict[str, float]]) -> list[tuple[str, float, tuple[tuple[str, float], ...]]]:
    """Gaussian elimination by least degree: of every node its pivot and the parts of it that its neighbours took."""
    done: list[tuple[str, float, tuple[tuple[str, float], ...]]] = []
    # Two neighbours or fewer can be taken at once; only a meshed rest has to be searched.
    few = [node for node, row in rows.items() if len(row) <= 3]
    while rows:
        node = few.pop() if few else min(rows, key=lambda one: len(rows[one]))
        if node not in rows:
            continue
        row = rows.pop(node)
        pivot = row.pop(node)
        if pivot <= 1e-12 * (sum(map(abs, row.values())) or 1.0):
            raise ValueError(f"node {node} is not connected to the ground node")
        taken = []
        for other, value in row.items():
            factor = -value / pivot
            taken.append((other, factor))
            target = rows[other]
            del target[node]
            for third, more in row.items():
                target[third] = target.get(third, 0.0) + factor * more
            if len(target) <= 3:
                few.append(other)
        done.append((node, pivot, tuple(taken)))
    return done
