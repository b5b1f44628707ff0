"""Cutting stock and people-levelled plans against known optima, brute force, and a library of graphs."""

from __future__ import annotations

import itertools
import random

import networkx as nx
import pytest
from hypothesis import given
from hypothesis import strategies as st

from weighty_axle.physics.search.cutting import nested
from weighty_axle.physics.search.scheduling import CircleError, Work, critical_path, levelled, order_of

# ---- cutting ----

# W. L. Winston, Operations Research, example Woodco: 25 of 3 ft, 20 of 5 ft and 15 of 9 ft from boards of 17 ft; 19
# boards are fewest (the sums alone ask for 18.2). Recalled. Lengths in feet as if they were metres.
WOODCO = [3.0] * 25 + [5.0] * 20 + [9.0] * 15
# E. Falkenauer 1996, the idea of his triplets: threes that fill a bin of 1000 each exactly. Made here, so that the
# optimum is known: every three lengths sum to a reel.
TRIPLETS = [0.38, 0.36, 0.26, 0.47, 0.28, 0.25, 0.41, 0.33, 0.26, 0.49, 0.255, 0.255, 0.355, 0.35, 0.295]


@pytest.mark.parametrize(("cuts", "reel", "reels"), [(WOODCO, 17.0, 19), (TRIPLETS, 1.0, 5)])
def test_known_optima_are_found_and_proven(cuts, reel, reels):
    found = nested(cuts, (), reel, longest_s=20.0)
    assert found.bought_m == pytest.approx(reels * reel) and found.proven
    assert sorted(at for piece in found.pieces for at in piece.cuts) == list(range(len(cuts)))


def _worth(cuts, off_cuts, reel, kerf, useful):
    """The least of bought and wasted by trying every way to lay cuts on pieces [m]."""
    sizes = [*off_cuts, *([reel] * len(cuts))]
    best = float("inf")
    for on in itertools.product(range(len(sizes)), repeat=len(cuts)):
        total = 0.0
        for piece in set(on):
            own = [cut for cut, at in zip(cuts, on, strict=True) if at == piece]
            left = sizes[piece] - sum(own) - kerf * (len(own) - 1)
            if left < -1e-9:
                break
            left = max(0.0, left - kerf)  # the last cut takes a kerf too, where anything is left
            total += (reel if piece >= len(off_cuts) else 0.0) + (left if left < useful - 1e-9 else 0.0)
        else:
            best = min(best, total)
    return best


LENGTH = st.integers(1, 60).map(lambda cm: cm / 10)


@given(st.lists(LENGTH, min_size=1, max_size=4), st.lists(LENGTH, max_size=2), st.sampled_from([0.0, 0.1]))
def test_no_way_to_lay_few_cuts_is_better(cuts, off_cuts, kerf):
    found = nested(cuts, off_cuts, 6.0, kerf, 1.0, longest_s=5.0)
    assert found.proven
    assert found.bought_m + found.scrap_m == pytest.approx(_worth(cuts, off_cuts, 6.0, kerf, 1.0), abs=2e-3)
    for piece in found.pieces:
        used = sum(cuts[at] for at in piece.cuts) + kerf * (len(piece.cuts) - 1)
        assert used <= piece.length_m + 1e-9
    quick = nested(cuts, off_cuts, 6.0, kerf, 1.0, longest_s=0.0)
    assert quick.bound_m - 1e-9 <= found.bought_m + found.scrap_m <= quick.bought_m + quick.scrap_m + 1e-9


@pytest.mark.parametrize("cuts", [[7.0], [0.0], [float("nan")], [-1.0]])
def test_cuts_no_reel_holds_and_lengths_that_are_none_are_refused(cuts):
    with pytest.raises(ValueError, match="m"):
        nested(cuts, (5.0,), 6.0)


# ---- plans ----

# R. L. Graham 1969, bounds on multiprocessing anomalies: 5 5 4 4 3 3 3 on three machines end at 9; the longest first
# alone gives 11.
GRAHAM = [5, 5, 4, 4, 3, 3, 3]


def test_the_longest_first_is_beaten_where_it_is_known_to_fail():
    found = levelled([Work(slots, (), (0, 1, 2)) for slots in GRAHAM], [[], [], []], 100)
    assert (found.end, found.bound) == (9, 9)


WORKS = st.lists(
    st.tuples(
        st.integers(1, 6),
        st.lists(st.integers(1, 4), max_size=2),
        st.sampled_from([(0,), (1,), (0, 1)]),
        st.integers(0, 3),
    ),
    min_size=1,
    max_size=12,
)


def _works(rows):
    return [
        Work(slots, tuple({at - back for back in backs if at - back >= 0}), who, ready)
        for at, (slots, backs, who, ready) in enumerate(rows)
    ]


@given(WORKS)
def test_the_critical_path_is_the_longest_way_through_the_graph(rows):
    works = _works(rows)
    graph = nx.DiGraph()
    for at, work in enumerate(works):
        graph.add_edge("start", at, weight=work.ready)
        graph.add_edge(at, "end", weight=work.slots)
        for before in work.after:
            graph.add_edge(before, at, weight=works[before].slots)
    path = critical_path(works)
    assert path.end == nx.dag_longest_path_length(graph)
    assert all(early <= late for early, late in zip(path.earliest, path.latest, strict=True))
    assert any(path.critical(at) for at in range(len(works)))
    assert sorted(order_of(works)) == list(range(len(works)))


@given(WORKS, st.sets(st.integers(0, 24), max_size=12))
def test_plans_keep_what_they_must(rows, off):
    works = _works(rows)
    away = [[(slot, slot + 1) for slot in sorted(off)], []]
    found = levelled(works, away, 4, longest_s=2.0)
    busy: dict[int, list[tuple[int, int]]] = {0: list(away[0]), 1: []}
    for at, work in enumerate(works):
        stretches = found.stretches[at]
        assert sum(end - start for start, end in stretches) == work.slots
        assert found.who[at] in work.who and stretches[0][0] >= work.ready
        assert all(found.start(at) >= found.done(before) for before in work.after)
        busy[found.who[at]] += stretches
    assert not any(_overlapping(own) for own in busy.values())
    # So few tasks are always proven: the plan told is as good as what was proven.
    assert critical_path(works).end <= found.bound == found.end == max(found.done(at) for at in range(len(works)))


@pytest.mark.parametrize("search", ["people", "reels"])
def test_a_search_is_called_off_while_it_runs(search):
    """Asked for an hour, it ends with the third look of who watches."""
    looks = iter(range(3))

    def watch():
        if next(looks, None) is None:
            raise KeyboardInterrupt

    dice = random.Random(4)
    with pytest.raises(KeyboardInterrupt):
        if search == "people":
            works = [
                Work(dice.choice([2, 8, 24]), tuple(dice.sample(range(at), min(at, 2))), (at % 3, (at + 1) % 3))
                for at in range(120)
            ]
            levelled(works, [[], [(6, 30)], []], 16, 3600.0, watch=watch)
        else:
            nested([dice.uniform(0.3, 7.0) for _ in range(160)], [3.1] * 12, 25.0, 0.003, 0.5, 3600.0, watch)
    assert next(looks, None) is None


def _overlapping(stretches):
    order = sorted(stretches)
    return any(one[1] > other[0] for one, other in itertools.pairwise(order))


def test_tasks_that_wait_for_one_another_are_named():
    with pytest.raises(CircleError) as caught:
        order_of([Work(1), Work(1, (3,)), Work(1, (1,)), Work(1, (2,))])
    assert set(caught.value.circle) == {1, 2, 3}
    with pytest.raises(ValueError, match="nobody"):
        levelled([Work(1)], [[]], 4)
