"""Cutting stock: lengths off reels and off-cuts with the least bought and wasted, and how good it is known to be.

Lengths are whole millimetres inside. OR-Tools' CP-SAT proves it; without it, longest first onto the fullest piece that
takes it, and the bound of the sums.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Sequence
from typing import Any, NamedTuple

from weighty_axle.physics.search.solving import silent, solve

WORTH = 1000
"""Of a millimetre bought or wasted; one of a new reel that an off-cut would have given counts 1."""


class Piece(NamedTuple):
    """A reel or an off-cut with what is cut from it: index of the off-cut (None for a new reel), length, cuts by their
    index, what is left [m].
    """

    off_cut: int | None
    length_m: float
    cuts: tuple[int, ...]
    left_m: float


class Nested(NamedTuple):
    """Pieces in use, new reels bought and left-overs too short to keep [m], and what their sum cannot be below [m]."""

    pieces: tuple[Piece, ...]
    bought_m: float
    scrap_m: float
    bound_m: float

    @property
    def proven(self) -> bool:
        """Whether nothing better exists, to a centimetre."""
        return self.bought_m + self.scrap_m - self.bound_m < 0.01


def nested(
    cuts_m: Sequence[float],
    off_cuts_m: Sequence[float],
    reel_m: float,
    kerf_m: float = 0.0,
    least_useful_m: float = 0.0,
    longest_s: float = 3.0,
    watch: Callable[[], None] = silent,
) -> Nested:
    """Lengths `cuts_m` [m] off the `off_cuts_m` there are [m] and as many new reels of `reel_m` [m] as it takes, with
    `kerf_m` [m] lost at every cut; what is left is waste where it is shorter than `least_useful_m` [m]. The search ends
    after `longest_s` [s], or when `watch`, asked meanwhile, raises; 0: the longest first, at once.

    Returns: the nesting with the least bought and wasted that was found.
    Raises: ValueError for a cut longer than a reel and every off-cut, or a length that is not above 0 [m].
    Source: cutting-stock problem, textbook (P. C. Gilmore, R. E. Gomory 1961).
    """
    asked = _Asked(cuts_m, off_cuts_m, reel_m, kerf_m, least_useful_m)
    if not asked.cuts:
        return Nested((), 0.0, 0.0, 0.0)
    first = asked.first_fit()
    if longest_s <= 0:
        return asked.told(first, asked.least_mm())
    try:
        from ortools.sat.python import cp_model
    except ImportError:
        return asked.told(first, asked.least_mm())
    return _solved(cp_model, asked, first, longest_s, watch)


_Filled = list[tuple[int | None, list[int]]]
"""Pieces while they are filled: off-cut or None, indices of cuts."""


class _Asked:
    """The question in whole millimetres. A cut takes its kerf with it; a piece has one kerf more to give, since the
    last cut may take all of it.
    """

    def __init__(
        self, cuts_m: Sequence[float], off_cuts_m: Sequence[float], reel_m: float, kerf_m: float, least_useful_m: float
    ) -> None:
        if any(not 0 < one < math.inf for one in (*cuts_m, *off_cuts_m, reel_m)) or kerf_m < 0:
            raise ValueError("lengths must be above 0 m")
        # A cut is never cut short, a piece never counted longer than it is.
        self.kerf = round(kerf_m * 1000)
        self.cuts = [math.ceil(one * 1000 - 1e-6) + self.kerf for one in cuts_m]
        self.off = [math.floor(one * 1000 + 1e-6) + self.kerf for one in off_cuts_m]
        self.reel = math.floor(reel_m * 1000 + 1e-6) + self.kerf
        self.useful = math.ceil(least_useful_m * 1000 - 1e-6)
        longest = max(self.cuts, default=0)
        if longest > max(self.reel, *self.off, 0):
            raise ValueError(f"a cut of {(longest - self.kerf) / 1000:g} m is longer than a reel of {reel_m:g} m")

    def size(self, off_cut: int | None) -> int:
        """What a piece gives, its kerf within [mm]."""
        return self.reel if off_cut is None else self.off[off_cut]

    def left(self, off_cut: int | None, cuts: list[int]) -> int:
        """What is left of a piece [mm]."""
        return max(0, self.size(off_cut) - self.kerf - sum(self.cuts[at] for at in cuts))

    def first_fit(self) -> _Filled:
        """Longest first, each onto the fullest piece that takes it, off-cuts before new reels."""
        pieces: _Filled = [(at, []) for at in sorted(range(len(self.off)), key=lambda at: self.off[at])]
        room = {id(piece): self.size(piece[0]) for piece in pieces}
        for at in sorted(range(len(self.cuts)), key=lambda at: -self.cuts[at]):
            fitting = [one for one in pieces if room[id(one)] >= self.cuts[at]]
            if not fitting:
                if self.cuts[at] > self.reel:
                    return self._longest_kept()
                fitting = [(None, [])]
                pieces += fitting
                room[id(fitting[0])] = self.reel
            best = min(fitting, key=lambda one: (one[0] is None, room[id(one)]))
            best[1].append(at)
            room[id(best)] -= self.cuts[at]
        return [one for one in pieces if one[1]]

    def _longest_kept(self) -> _Filled:
        """Where a cut fits an off-cut only: the longest cuts take the longest off-cuts, the rest a reel each."""
        order = sorted(range(len(self.cuts)), key=lambda at: -self.cuts[at])
        free = sorted(range(len(self.off)), key=lambda at: -self.off[at])
        found: _Filled = []
        for at in order:
            if self.cuts[at] > self.reel:
                if not free or self.off[free[0]] < self.cuts[at]:
                    raise ValueError(f"no piece is left for a cut of {(self.cuts[at] - self.kerf) / 1000:g} m")
                found.append((free.pop(0), [at]))
            else:
                found.append((None, [at]))
        return found

    def least_mm(self) -> int:
        """What must be bought at least: all that off-cuts cannot give, in whole reels [mm]."""
        short = sum(self.cuts) - sum(self.off)
        return max(0, math.ceil(short / self.reel)) * (self.reel - self.kerf)

    def scrap(self, left: int) -> int:
        """What of a left-over is waste [mm]."""
        return left if left < self.useful else 0

    def told(self, filled: _Filled, bound_mm: float) -> Nested:
        """Pieces in metres: off-cuts first, the fullest first."""
        order = sorted(filled, key=lambda one: (one[0] is None, self.left(*one)))
        pieces = tuple(
            Piece(
                off_cut,
                (self.size(off_cut) - self.kerf) / 1000,
                tuple(sorted(cuts, key=lambda at: -self.cuts[at])),
                self.left(off_cut, cuts) / 1000,
            )
            for off_cut, cuts in order
        )
        bought = sum(one.length_m for one in pieces if one.off_cut is None)
        scrap = sum(self.scrap(self.left(*one)) for one in order) / 1000
        return Nested(pieces, bought, scrap, min(bound_mm / 1000, bought + scrap))


def _solved(cp: Any, asked: _Asked, first: _Filled, longest_s: float, watch: Callable[[], None]) -> Nested:
    """Proven by CP-SAT: how many cuts of each length every piece gives."""
    lengths = sorted(set(asked.cuts), reverse=True)
    of_length = {length: [at for at, one in enumerate(asked.cuts) if one == length] for length in lengths}
    reels = sum(1 for off_cut, _ in first if off_cut is None)
    pieces: list[int | None] = [*range(len(asked.off)), *([None] * reels)]
    model = cp.CpModel()
    count: dict[tuple[int, int], Any] = {}
    terms, loads = [], []
    for at, off_cut in enumerate(pieces):
        size = asked.size(off_cut)
        row = []
        for length in lengths:
            count[at, length] = model.new_int_var(0, min(len(of_length[length]), size // length), "")
            row.append(length * count[at, length])
        load = model.new_int_var(0, size, "")
        model.add(load == sum(row))
        used = model.new_bool_var("")
        model.add(load <= size * used)
        model.add(load >= used)
        short = model.new_bool_var("")  # what is left is too short to keep
        scrap = model.new_int_var(0, max(0, asked.useful - 1), "")
        model.add(size - load >= asked.useful + asked.kerf).only_enforce_if(short.negated())
        model.add(scrap >= size - asked.kerf - load).only_enforce_if([short, used])
        terms.append(WORTH * scrap)
        if off_cut is None:
            terms += [WORTH * (size - asked.kerf) * used, load]
        loads.append((off_cut, load))
    for length in lengths:
        model.add(sum(count[at, length] for at in range(len(pieces))) == len(of_length[length]))
    new = [load for off_cut, load in loads if off_cut is None]
    for one, other in itertools.pairwise(new):
        model.add(one >= other)  # reels are alike: the fullest first
    model.minimize(sum(terms))
    _hint(model, asked, first, pieces, lengths, count)
    solver, status = _search(cp, model, longest_s, watch)
    if status not in (cp.OPTIMAL, cp.FEASIBLE):
        return asked.told(first, asked.least_mm())
    waiting = {length: list(ats) for length, ats in of_length.items()}
    filled: _Filled = []
    for at, off_cut in enumerate(pieces):
        own = [waiting[length].pop() for length in lengths for _ in range(solver.value(count[at, length]))]
        if own:
            filled.append((off_cut, own))
    found = asked.told(filled, asked.least_mm())
    if status == cp.OPTIMAL:
        return found._replace(bound_m=found.bought_m + found.scrap_m)
    # New reels' loads count one each in what was minimised: they are no part of the bound in metres.
    bound = (solver.best_objective_bound - sum(asked.cuts)) / WORTH / 1000
    return found._replace(bound_m=min(found.bought_m + found.scrap_m, max(bound, asked.least_mm() / 1000)))


def _hint(
    model: Any, asked: _Asked, first: _Filled, pieces: list[int | None], lengths: list[int], count: dict[Any, Any]
) -> None:
    """Begin from the first fit."""
    by_off = {off_cut: cuts for off_cut, cuts in first if off_cut is not None}
    new = sorted((cuts for off_cut, cuts in first if off_cut is None), key=lambda cuts: asked.left(None, cuts))
    for at, off_cut in enumerate(pieces):
        own = by_off.get(off_cut, []) if off_cut is not None else new.pop(0)
        for length in lengths:
            model.add_hint(count[at, length], sum(1 for one in own if asked.cuts[one] == length))


def _search(cp: Any, model: Any, longest_s: float, watch: Callable[[], None]) -> tuple[Any, Any]:
    """Run the solver in one thread, so that the same question has the same answer."""
    solver = cp.CpSolver()
    solver.parameters.num_workers = 1
    solver.parameters.random_seed = 1
    solver.parameters.max_time_in_seconds = max(0.05, longest_s)
    return solver, solve(solver, model, watch)
