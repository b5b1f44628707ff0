"""Circuits shared out over lines: the assignment whose worst line is least, with a proof that nothing better exists."""

from __future__ import annotations

import itertools
import time
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

CLOSE_VA = 5.0
"""Nothing better is sought for less than this: 0.04 A of 120 V."""
GIVEN_UP_SHARE = 0.02
"""So much of the worst line may be given up for a smaller neutral. Source: common practice, no source."""
_MOST_TRIED_BITS = 14
_MOST_TRIED_WHOLE = 2**22
_RESTARTS = 200
_SEARCH_S = 0.12

Powers = NDArray[np.complex128]


class Movable(NamedTuple):
    """Circuits that move together.

    `va`: per choice, what it adds to each line in every step, shape (lines, steps) [VA].
    """

    tags: tuple[str, ...]
    choices: tuple[Powers, ...]


class Balance(NamedTuple):
    """Choice of every item, worst line [VA] (its largest power in any step), and what no assignment can be below [VA].

    `neutral_proven`: of all assignments as good as that (GIVEN_UP_SHARE), this one has the smallest neutral.
    """

    chosen: tuple[int, ...]
    worst_va: float
    bound_va: float
    how: str
    neutral_proven: bool = False

    @property
    def proven(self) -> bool:
        """Whether nothing better exists: within CLOSE_VA, or what was given up for the neutral."""
        given_up = GIVEN_UP_SHARE * self.bound_va if self.neutral_proven else 0.0
        return self.worst_va <= self.bound_va + CLOSE_VA + given_up


def item(
    tags: Sequence[str], va: Sequence[Sequence[complex]], offsets: Sequence[int], lines: int, pinned: int | None = None
) -> Movable:
    """Circuits that move together; each hangs its own offset of lines on from the first.

    Parameters: tags; va - per circuit its power in every step [VA]; offsets [1]; lines - how many there are [1]; pinned
        - line of the first, if fixed
    Returns: Movable
    Source: textbook relation (powers add)
    """
    powers = np.array(va, dtype=np.complex128)
    choices = []
    for line in range(lines) if pinned is None else (pinned,):
        own = np.zeros((lines, powers.shape[1]), dtype=np.complex128)
        for power, offset in zip(powers, offsets, strict=True):
            own[(line + offset) % lines] += power
        choices.append(own)
    return Movable(tuple(tags), tuple(choices))


def best_balance(
    items: Sequence[Movable], fixed: Powers, *, angles_deg: Sequence[float] | None = None, seconds: float = 3.0
) -> Balance:
    """Assignment of least worst line: the largest | sum of powers | on any line in any step; nearly equal ones by the
    smallest neutral in any step.

    Bound: a line carries at least an even share of a step's total (triangle inequality), and in the step that rules
    every assignment of what runs then is tried where there are few enough. Search: descent from many starts. What a gap
    leaves is closed by a mixed-integer programme with tangent cuts.

    Parameters: items; fixed - what hangs across lines or may not move, shape (lines, steps) [VA]; angles_deg - of the
        lines' voltages (none: the neutral counts for nothing); seconds - for the integer programme [s]
    Returns: Balance
    Raises: ValueError when an item has no choice
    Source: textbook relations (triangle inequality; branch and bound, here HiGHS through SciPy)
    """
    if any(not one.choices for one in items):
        raise ValueError("every item needs a choice")
    base = fixed + sum((one.choices[0] for one in items if len(one.choices) == 1), np.zeros_like(fixed))
    free = [index for index, one in enumerate(items) if len(one.choices) > 1]
    stacks = [np.stack(items[index].choices) for index in free]
    turns = (
        np.zeros(len(base), dtype=np.complex128)
        if angles_deg is None
        else np.exp(-1j * np.deg2rad(np.asarray(angles_deg, dtype=np.float64)))
    )
    neutrals, neutral = [np.einsum("l,cls->cs", turns, stack) for stack in stacks], turns @ base
    stacks, base, kept = _ruling_steps(stacks, base)
    if stacks and np.prod([float(len(one)) for one in stacks]) * base.size <= _MOST_TRIED_WHOLE:
        chosen = [0] * len(items)
        best, worst, least = _every_way(stacks, base, neutrals, neutral)
        for index, choice in zip(free, best, strict=True):
            chosen[index] = choice
        ways = int(np.prod([len(one) for one in stacks]))
        return Balance(
            tuple(chosen), worst, least, f"every one of {ways} ways was tried in each of {kept} ruling steps", True
        )
    bound, how = _bound(stacks, base)
    # A line never carries more than all lines together: a step whose whole is below the bound cannot rule.
    whole = np.abs(base.sum(axis=0) + sum((stack[0].sum(axis=0) for stack in stacks), np.zeros(base.shape[1])))
    rules = whole >= bound
    stacks, base = [stack[:, :, rules] for stack in stacks], base[:, rules]
    found, worst = _descent(stacks, base, bound)
    if worst > bound + CLOSE_VA:
        found, worst, bound, how = _programme(stacks, base, found, worst, bound, seconds)
    chosen = [0] * len(items)
    for index, choice in zip(free, found, strict=True):
        chosen[index] = choice
    return Balance(tuple(chosen), worst, min(bound, worst), how.format(steps=kept))


def _ruling_steps(stacks: list[Powers], base: Powers) -> tuple[list[Powers], Powers, int]:
    """Without the steps in which no circuit draws more than it does in some other step: they can never be worst."""
    parts = [
        base,
        *(
            np.abs(stack.real).max(axis=(0, 1))[None] + 1j * np.abs(stack.imag).max(axis=(0, 1))[None]
            for stack in stacks
        ),
    ]
    drawn = np.concatenate([np.concatenate([part.real, part.imag]) for part in parts])
    drawn = np.round(drawn, 6)
    _, first = np.unique(drawn, axis=1, return_index=True)
    first = np.sort(first)
    drawn = drawn[:, first]
    under: NDArray[np.bool_] = np.all(drawn[:, :, None] <= drawn[:, None, :], axis=0) & ~np.eye(
        drawn.shape[1], dtype=np.bool_
    )
    kept = first[~under.any(axis=1)]
    return [stack[:, :, kept] for stack in stacks], base[:, kept], len(kept)


def _every_sum(parts: list[Powers], shape: tuple[int, ...]) -> Powers:
    """Sum of one choice of every part, for all ways of choosing, in the order of itertools.product."""
    totals = np.zeros((1, *shape), dtype=np.complex128)
    for part in parts:
        totals = (totals[:, None] + part[None]).reshape(-1, *shape)
    return totals


def _every_way(
    stacks: list[Powers], base: Powers, neutrals: list[Powers], neutral: Powers
) -> tuple[list[int], float, float]:
    """The best of all assignments: every way of the first half of the circuits against every way of the second.

    Of those whose worst line is nearly the least, the one with the smallest neutral in any step; `neutrals` is what
    every choice adds to it. Returns the choices, their worst line, and the least worst line there is [VA].
    """
    half = len(stacks) // 2
    second = _every_sum(stacks[half:], base.shape)
    worst = np.stack(
        [_worst_of_each(total[None] + second) for total in _every_sum(stacks[:half], base.shape) + base[None]]
    )
    least = float(worst.min())
    near = worst <= max(least + CLOSE_VA, least * (1 + GIVEN_UP_SHARE))
    second_neutral = _every_sum(neutrals[half:], neutral.shape)
    best, at = np.inf, (0, 0)
    for one, total in enumerate(_every_sum(neutrals[:half], neutral.shape) + neutral[None]):
        if near[one].any():
            sizes = np.where(near[one], np.abs(total[None] + second_neutral).max(axis=1), np.inf) + 1e-6 * worst[one]
            if sizes.min() < best:
                best, at = float(sizes.min()), (one, int(sizes.argmin()))
    ways = (
        list(itertools.product(*(range(len(stack)) for stack in stacks[:half]))),
        list(itertools.product(*(range(len(stack)) for stack in stacks[half:]))),
    )
    return [*ways[0][at[0]], *ways[1][at[1]]], float(worst[at]), least


def _worst(total: Powers) -> float:
    return float(np.abs(total).max())


def _worst_of_each(totals: Powers) -> NDArray[np.float64]:
    """Largest power of every assignment, shape (assignments, lines, steps) -> (assignments,) [VA]; squares are much
    faster than sizes.
    """
    largest: NDArray[np.float64] = np.sqrt((totals.real**2 + totals.imag**2).max(axis=(1, 2)))
    return largest


def _bound(stacks: list[Powers], base: Powers) -> tuple[float, str]:
    """Least worst line that no assignment can be below."""
    lines, steps = base.shape
    whole = np.abs(base.sum(axis=0) + sum((stack[0].sum(axis=0) for stack in stacks), np.zeros(steps))) / lines
    bound = max(float(whole.max()), _worst(base))
    how = "an even share of the busiest of {steps} ruling steps"
    for step in np.argsort(-whole):
        running = [stack[:, :, step] for stack in stacks if np.abs(stack[:, :, step]).max() > 0]
        tries = float(np.prod([len(one) for one in running], dtype=float))
        if tries > 2**_MOST_TRIED_BITS:
            continue
        totals = base[None, :, step]
        for one in running:
            totals = (totals[:, None, :] + one[None, :, :]).reshape(-1, lines)
        best = float(np.abs(totals).max(axis=1).min())
        if best > bound:
            bound, how = best, f"all {int(tries)} ways of the step that rules were tried, of {{steps}} ruling steps"
        if whole[step] < bound * 0.5:
            break
    return bound, how


def _descent(stacks: list[Powers], base: Powers, bound: float) -> tuple[list[int], float]:
    """Best of many descents by moving one item, or changing two at once; stops at the bound or when its time is up."""
    if not stacks:
        return [], _worst(base)
    dice, count = np.random.default_rng(5), len(stacks)
    sizes = [np.abs(stack[0]).max() for stack in stacks]
    best: tuple[float, float, list[int]] = (np.inf, np.inf, [])
    until = time.monotonic() + _SEARCH_S
    for start in range(_RESTARTS):
        order = sorted(range(count), key=lambda index: -sizes[index] * (1 if not start else dice.uniform(0.5, 1.5)))
        chosen, total = [0] * count, base.copy()
        for index in order:
            after = _worst_of_each(total[None] + stacks[index])
            chosen[index] = int(after.argmin())
            total = total + stacks[index][chosen[index]]
        chosen, total = _descend(stacks, chosen, total, bound)
        score = (_worst(total), float(np.abs(total - total.mean(axis=0)).max()), chosen)
        if score[0] < best[0] - 1e-9 or (score[0] < best[0] + 1e-9 and score[1] < best[1]):
            best = score
        if best[0] <= bound + CLOSE_VA / 2 or time.monotonic() > until:
            break
    return best[2], best[0]


def _descend(stacks: list[Powers], chosen: list[int], total: Powers, bound: float) -> tuple[list[int], Powers]:
    """Moves that lower the worst line, the best one each time, until none does: one item, or one that relieves the
    worst line and any other.
    """
    moves = [(index, choice) for index, stack in enumerate(stacks) for choice in range(len(stack))]
    owner = np.array([index for index, _ in moves])
    every = np.concatenate(stacks)
    own = np.cumsum([0, *(len(stack) for stack in stacks)])[:-1]
    for _ in range(100):
        sizes = np.abs(total)
        now = float(sizes.max())
        if now <= bound + CLOSE_VA / 2:
            break
        deltas = every - every[own + np.array(chosen)][owner]
        single = _worst_of_each(total[None] + deltas)
        best, pair = float(single.min()), [int(single.argmin())]
        if best > now - 1e-6:
            line, step = np.unravel_index(int(sizes.argmax()), sizes.shape)
            relief = np.abs(total[line, step] + deltas[:, line, step])
            for at in np.argsort(relief)[:24]:
                both = _worst_of_each((total + deltas[at])[None] + deltas)
                both[owner == owner[at]] = np.inf
                if both.min() < best - 1e-9:
                    best, pair = float(both.min()), [int(at), int(both.argmin())]
        if best > now - 1e-6:
            break
        for at in pair:
            index, choice = moves[at]
            total = total + deltas[at]
            chosen[index] = choice
    return chosen, total


def _programme(
    stacks: list[Powers], base: Powers, found: list[int], worst: float, bound: float, seconds: float
) -> tuple[list[int], float, float, str]:
    """The mixed-integer programme: least z with every tangent of every line's power below it; tangents are added where
    the optimum cuts a corner.
    """
    from scipy.optimize import Bounds, LinearConstraint, milp

    lines, steps = base.shape
    starts = np.cumsum([0, *(len(stack) for stack in stacks)])
    count = int(starts[-1])
    whole = base.sum(axis=0) + sum((stack[0].sum(axis=0) for stack in stacks), np.zeros(steps))
    cuts = {
        (line, step, round(float(np.angle(whole[step])) + turn, 3))
        for line, step, turn in itertools.product(range(lines), range(steps), (-0.2, 0.0, 0.2))
    }
    once = np.zeros((len(stacks), count + 1))
    for index in range(len(stacks)):
        once[index, starts[index] : starts[index + 1]] = 1
    objective = np.zeros(count + 1)
    objective[-1] = 1
    flat = np.concatenate(stacks)  # (choices, lines, steps)
    for _ in range(8):
        rows, least = np.zeros((len(cuts), count + 1)), np.zeros(len(cuts))
        for at, (line, step, angle) in enumerate(cuts):
            turn = np.exp(-1j * angle)
            rows[at, :-1] = -(flat[:, line, step] * turn).real
            rows[at, -1], least[at] = 1, (base[line, step] * turn).real
        answer = milp(
            objective,
            integrality=np.append(np.ones(count), 0),
            bounds=Bounds(np.append(np.zeros(count), bound), np.append(np.ones(count), worst)),
            constraints=[LinearConstraint(once, 1, 1), LinearConstraint(rows, least, np.inf)],
            options={"time_limit": seconds, "mip_rel_gap": CLOSE_VA / 4 / max(worst, 1.0)},
        )
        if answer.mip_dual_bound is not None:
            bound = max(bound, min(float(answer.mip_dual_bound), worst))
        if answer.x is None:
            break
        chosen = [int(answer.x[starts[index] : starts[index + 1]].argmax()) for index in range(len(stacks))]
        total = base + sum((stack[choice] for stack, choice in zip(stacks, chosen, strict=True)), np.zeros_like(base))
        if _worst(total) < worst:
            found, worst = chosen, _worst(total)
        if worst <= bound + CLOSE_VA or not answer.success:
            break
        sizes = np.abs(total)
        more = {
            (int(line), int(step), round(float(np.angle(total[line, step])), 3))
            for line, step in np.argwhere(sizes > bound)
        }
        if more <= cuts:
            break
        cuts |= more
    return found, worst, bound, "branch and bound over {steps} ruling steps"
