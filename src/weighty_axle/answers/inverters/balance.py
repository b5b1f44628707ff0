"""Balance of the legs: which circuits may move, what each draws in every step, and the assignment nothing better exists
than.
"""

from __future__ import annotations

import cmath
import math
from typing import cast

import numpy as np
from msgspec import Struct

from weighty_axle.answers.inverters.leg_loads import across_powers, circuit_powers, movable
from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.design.inverters.ac_wiring import LiveCircuit
from weighty_axle.design.inverters.legs import line_phasors
from weighty_axle.design.table import Design
from weighty_axle.job.edits.edit import Edit
from weighty_axle.job.edits.inverters import set_legs
from weighty_axle.job.models.inverters import CircuitLeg, line_v, panel_lines
from weighty_axle.physics.search.balance import CLOSE_VA, Balance, Movable, Powers, best_balance, item


class Balanced(Struct, frozen=True, kw_only=True):
    """The best legs found: what moves, the worst line before and after, what no assignment can be below, and the proof
    in words.
    """

    moves: dict[str, CircuitLeg]
    before_va: Figure
    after_va: Figure
    neutral_before_va: Figure
    neutral_after_va: Figure
    bound_va: Figure
    proven: bool
    proof: str

    @property
    def edit(self) -> Edit | None:
        """The change that brings the legs about; None when they are as good already."""
        return set_legs(self.moves, "Balance the legs") if self.moves else None


def balanced(design: Design, seconds: float = 3.0) -> Balanced | None:
    """Best legs of everything that may move; pins and shared neutrals are kept. None where there is one line only.

    Circuits that share a neutral stay on different lines. A circuit in a panel of one line, and one pinned, stays where
    it is.
    Source: physics.balance.
    """
    lines = design.ac.lines
    if len(lines) < 2:
        return None
    drawn = circuit_powers(design, design.circuits)
    powers = {tag: np.array(one) for tag, one in drawn.items()}
    steps = len(next(iter(powers.values()))) if powers else 1
    fixed = np.array(across_powers(design, drawn))
    single = movable(design)
    groups = _groups(single)
    items = [_item(group, lines, powers, design) for group in groups]
    now = fixed.copy()
    for circuit in single:
        now[lines.index(circuit.lines[0])] += powers[circuit.tag]
    before = float(np.abs(now).max())
    turns = (
        None
        if design.job.inverters.stacking in ("independent", "legs_in_phase")
        else [math.degrees(cmath.phase(v)) for v in line_phasors(design.job.inverters)]
    )
    found = best_balance(items, fixed, angles_deg=turns, seconds=seconds)
    after = fixed + sum(
        (one.choices[choice] for one, choice in zip(items, found.chosen, strict=True)), np.zeros_like(fixed)
    )
    neutral_before, neutral_after = _neutral_va(now, turns), _neutral_va(after, turns)
    gains = found.worst_va < before - CLOSE_VA or (
        found.worst_va <= before + CLOSE_VA and neutral_after < neutral_before - CLOSE_VA
    )
    moves: dict[str, CircuitLeg] = _moves(groups, items, found, lines) if gains else {}
    if not moves:  # as good already: nothing moves for the sake of moving
        found, neutral_after = found._replace(worst_va=before, bound_va=min(found.bound_va, before)), neutral_before
    volts = Given("Line voltage", line_v(design.job.inverters), "V")
    given = (
        Given("Circuits that may move", sum(len(one.choices) > 1 for one in items), "count"),
        Given("Steps of the painted days", steps, "count"),
        volts,
    )
    bound = Figure(
        name="No assignment is below",
        value=found.bound_va,
        unit="VA",
        formula="largest over the steps of a floor for that step",
        inputs=given,
        source=TEXTBOOK,
        limit=found.how,
    )
    return Balanced(
        moves=moves,
        before_va=Figure(
            name="Worst line as it is",
            value=before,
            unit="VA",
            formula="largest | Σ P + jQ | of a line in any step",
            inputs=given,
            source=TEXTBOOK,
        ),
        after_va=Figure(
            name="Worst line, best legs",
            value=found.worst_va,
            unit="VA",
            formula="largest | Σ P + jQ | of a line in any step",
            inputs=(*given, bound),
            source=TEXTBOOK,
        ),
        neutral_before_va=Figure(
            name="Neutral as it is",
            value=neutral_before,
            unit="VA",
            formula="largest | Σ S of the lines, turned by their angles | in any step",
            inputs=given,
            source=TEXTBOOK,
        ),
        neutral_after_va=Figure(
            name="Neutral, best legs",
            value=neutral_after,
            unit="VA",
            formula="largest | Σ S of the lines, turned by their angles | in any step",
            inputs=given,
            source=TEXTBOOK,
        ),
        bound_va=bound,
        proven=found.proven,
        proof=found.how,
    )


def _neutral_va(totals: Powers, turns: list[float] | None) -> float:
    """Largest neutral current in any step times the line voltage [VA]; 0 where legs cannot change it."""
    if turns is None:
        return 0.0
    return float(np.abs(np.tensordot(np.exp(-1j * np.deg2rad(turns)), totals, axes=(0, 0))).max())


def _groups(circuits: list[LiveCircuit]) -> list[list[LiveCircuit]]:
    """Circuits that must move together: those that share a neutral, the owner of the neutral first."""
    by_tag = {circuit.tag: circuit for circuit in circuits}
    groups: dict[str, list[LiveCircuit]] = {
        circuit.tag: [circuit] for circuit in circuits if circuit.circuit.shares_neutral not in by_tag
    }
    for circuit in circuits:
        owner = circuit.circuit.shares_neutral
        if owner in groups:
            groups[owner].append(circuit)
        elif circuit.tag not in groups:
            groups[circuit.tag] = [circuit]
    return list(groups.values())


def _item(group: list[LiveCircuit], lines: tuple[str, ...], powers: dict[str, Powers], design: Design) -> Movable:
    reach = panel_lines(design.job.ac, design.job.inverters)
    offsets = [index % len(lines) for index in range(len(group))]
    pinned = None
    for circuit, offset in zip(group, offsets, strict=True):
        # A panel that lacks a line keeps its circuits where they are: a move could kill one.
        if circuit.circuit.pinned or len(reach[circuit.panel]) < len(lines):
            pinned = (lines.index(circuit.lines[0]) - offset) % len(lines)
            break
    return item(
        [circuit.tag for circuit in group],
        [list(powers[circuit.tag]) for circuit in group],
        offsets,
        len(lines),
        pinned,
    )


def _moves(
    groups: list[list[LiveCircuit]], items: list[Movable], found: Balance, lines: tuple[str, ...]
) -> dict[str, CircuitLeg]:
    moves: dict[str, CircuitLeg] = {}
    for group, one, choice in zip(groups, items, found.chosen, strict=True):
        if len(one.choices) == 1:
            continue
        for offset, circuit in enumerate(group):
            line = lines[(choice + offset) % len(lines)]
            if circuit.lines != (line,):
                moves[circuit.tag] = cast(CircuitLeg, line)
    return moves
