"""What every circuit draws in every step of the painted days, and the one move that helps the legs most."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Sequence
from typing import cast

from weighty_axle.design.brief.profiles import leg_power
from weighty_axle.design.inverters.ac_wiring import LiveCircuit
from weighty_axle.design.table import Design
from weighty_axle.job.models.inverters import BETWEEN_LINES, CircuitLeg, panel_lines


def circuit_powers(design: Design, circuits: Sequence[LiveCircuit]) -> dict[str, list[complex]]:
    """Complex power of circuits in every step of every kind of day, one after another [VA]; standby where nothing
    runs.
    """
    found: dict[str, list[complex]] = {circuit.tag: [] for circuit in circuits}
    owner = {load: circuit.tag for circuit in circuits for load in circuit.loads}
    for profile in design.brief.profiles.values():
        count, times = len(profile.running_w.values[0]), profile.running_w.times_min
        day = {tag: [0j] * count for tag in found}
        for row in profile.rows:
            if row.tag not in owner:
                continue
            own = day[owner[row.tag]]
            if row.standby_w:
                own[:] = [so_far + row.standby_w for so_far in own]
            for span in row.spans:
                first, last = bisect_left(times, span.start_min), bisect_left(times, span.end_min)
                more = complex(row.full_w * span.level - row.standby_w, row.full_var * span.level)
                own[first:last] = [so_far + more for so_far in own[first:last]]
        for tag, powers in day.items():
            found[tag] += powers
    return found


def movable(design: Design) -> list[LiveCircuit]:
    """Circuits on one line each."""
    return [circuit for circuit in design.circuits if len(circuit.lines) == 1]


def across_powers(design: Design, powers: dict[str, list[complex]]) -> list[list[complex]]:
    """What hangs across lines, shared evenly by them, per line and step [VA]; nothing where there is no voltage between
    lines.
    """
    lines = design.ac.lines
    steps = len(next(iter(powers.values()))) if powers else 1
    fixed = [[0j] * steps for _ in lines]
    for circuit in design.circuits:
        if len(circuit.lines) > 1 and design.job.inverters.stacking in BETWEEN_LINES:
            for line in circuit.lines:
                at = lines.index(line)
                fixed[at] = [
                    own + more / len(circuit.lines) for own, more in zip(fixed[at], powers[circuit.tag], strict=True)
                ]
    return fixed


def best_move(design: Design, least_gain: float) -> tuple[str, CircuitLeg, float] | None:
    """The one circuit whose move lowers the worst line most, its leg, and the part of the worst line it takes away;
    None when none takes `least_gain`.
    """
    lines, single, stacking = design.ac.lines, movable(design), design.job.inverters.stacking
    profiles = design.brief.profiles.values()
    total = [
        [va for profile in profiles for va in leg_power(profile.running_w, profile.running_var, stacking, line)]
        for line in lines
    ]
    sizes = [[abs(one) for one in line] for line in total]
    worst = [max(one) for one in sizes]
    before, start = max(worst), worst.index(max(worst))
    step = sizes[start].index(before)
    orders = [sorted(range(len(line)), key=line.__getitem__, reverse=True) for line in sizes]
    shared = {circuit.circuit.shares_neutral for circuit in single}
    best = None
    allowed = before * (1 - least_gain)
    # It must come off the worst line, be free to move, and be large enough in the worst step to matter.
    free = [
        one
        for one in single
        if one.lines == (lines[start],)
        and not one.circuit.pinned
        and not one.circuit.shares_neutral
        and one.tag not in shared
    ]
    drawn = _drawn_then(design, step)
    heavy = [one for one in free if sum(drawn.get(tag, 0.0) for tag in one.loads) >= least_gain * before]
    powers, reach = circuit_powers(design, heavy), panel_lines(design.job.ac, design.job.inverters)
    for circuit in heavy:
        own = powers[circuit.tag]
        lighter = _largest(total[start], sizes[start], own, -1, orders[start], allowed)
        for end, line in enumerate(lines):
            if end == start or lighter is None or line not in reach[circuit.panel]:
                continue
            heavier = _largest(total[end], sizes[end], own, 1, orders[end], allowed)
            rest = max((size for at, size in enumerate(worst) if at not in (start, end)), default=0.0)
            if heavier is not None and rest <= allowed:
                allowed = max(lighter, heavier, rest)
                best = (circuit.tag, cast(CircuitLeg, line), 1 - allowed / before if before else 0.0)
    return best


def _drawn_then(design: Design, step: int) -> dict[str, float]:
    """Apparent power of every load that is painted in a step, counted through all kinds of day [VA]."""
    for profile in design.brief.profiles.values():
        count = len(profile.running_w.values[0])
        if step < count:
            minute = profile.running_w.times_min[step]
            return {
                row.tag: abs(complex(row.full_w, row.full_var)) * span.level
                for row in profile.rows
                for span in row.spans
                if span.start_min <= minute < span.end_min
            }
        step -= count
    raise IndexError(step)


def _largest(
    total: list[complex], sizes: list[float], change: list[complex], sign: int, order: list[int], allowed: float
) -> float | None:
    """Largest | total ± change | over the steps, the busiest first; None as soon as it is over what is allowed.

    No step can be larger than its size now and, where something is added, the most that is; powers lie in one quadrant,
    so taking off never adds.
    """
    largest, most = 0.0, max(map(abs, change)) if sign > 0 else 0.0
    for step in order:
        if sizes[step] + most <= largest:
            break
        size = abs(total[step] + sign * change[step])
        if size > allowed:
            return None
        largest = max(largest, size)
    return largest
