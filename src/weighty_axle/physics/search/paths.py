"""Shortest paths in a small graph."""

from __future__ import annotations

import heapq
from collections.abc import Mapping, Sequence

Neighbours = Mapping[int, Sequence[tuple[int, float]]]
"""What each node is joined to, and how far that is [m]."""


def shortest_from(source: int, neighbours: Neighbours) -> tuple[dict[int, float], dict[int, int]]:
    """Shortest distance to every node that can be reached, and the node before each on the way.

    Parameters: source (a node); neighbours (node: nodes beside it with distances [m], never negative).
    Returns: distances [m] by node, the source itself at 0; the node before each, without the source.
    Raises: ValueError for a negative distance.
    Source: E. W. Dijkstra, A note on two problems in connexion with graphs, 1959.
    """
    found: dict[int, float] = {}
    before: dict[int, int] = {}
    best = {source: 0.0}
    waiting = [(0.0, source)]
    while waiting:
        far, node = heapq.heappop(waiting)
        if node in found:
            continue
        found[node] = far
        for other, more in neighbours.get(node, ()):
            if more < 0:
                raise ValueError("a distance is negative")
            if other not in found and far + more < best.get(other, float("inf")):
                best[other] = far + more
                before[other] = node
                heapq.heappush(waiting, (far + more, other))
    return found, before
