"""What every circuit draws in every step of the painted days, and the one move that helps the legs most."""

from __future__ import annotations

from bisect import bisect_left
from typing import cast

from weighty_axle.design.ac_wiring import LiveCircuit
from weighty_axle.design.derive import Design
from weighty_axle.job.ac import BETWEEN_LINES, CircuitLeg


def circuit_powers(design: Design) -> dict[str, list[complex]]:
    """Complex power of every circuit in every step of every kind of day, one after another [VA]; standby where it does not run."""
    found: dict[str, list[complex]] = {circuit.tag: [] for circuit in design.circuits}
    owner = {load: circuit.tag for circuit in design.circuits for load in circuit.loads}
    for one in design.brief.profiles.values():
        count, times = len(one.running_w.values[0]), one.running_w.times_min
        day = {tag: [0j] * count for tag in found}
        for row in one.rows:
            if row.tag not in owner:
                continue
            drawn = [complex(row.standby_w)] * count
            for span in row.spans:
                first, last = bisect_left(times, span.start_min), bisect_left(times, span.end_min)
                drawn[first:last] = [complex(row.full_w, row.full_var) * span.level] * (last - first)
            own = day[owner[row.tag]]
            day[owner[row.tag]] = [a + b for a, b in zip(own, drawn, strict=True)]
        for tag, powers in day.items():
            found[tag] += powers
    return found


def movable(design: Design) -> list[LiveCircuit]:
    """Circuits on one line each."""
    return [circuit for circuit in design.circuits if len(circuit.lines) == 1]


def across_powers(design: Design, powers: dict[str, list[complex]]) -> list[list[complex]]:
    """What hangs across lines, shared evenly by them, per line and step [VA]; nothing where there is no voltage between lines."""
    lines = design.ac.lines
    steps = len(next(iter(powers.values()))) if powers else 1
    fixed = [[0j] * steps for _ in lines]
    for circuit in design.circuits:
        if len(circuit.lines) > 1 and design.job.inverters.stacking in BETWEEN_LINES:
            for line in circuit.lines:
                at = lines.index(line)
                fixed[at] = [own + more / len(circuit.lines) for own, more in zip(fixed[at], powers[circuit.tag], strict=True)]
    return fixed


def best_move(design: Design) -> tuple[str, CircuitLeg, float] | None:
    """The one circuit whose move lowers the worst line most, its leg, and the part of the worst line it takes away; None when none does."""
    lines, powers, single = design.ac.lines, circuit_powers(design), movable(design)
    total = across_powers(design, powers)
    for circuit in single:
        at = lines.index(circuit.lines[0])
        total[at] = [own + more for own, more in zip(total[at], powers[circuit.tag], strict=True)]
    worst = [max(map(abs, one)) for one in total]
    before, best = max(worst), None
    shared = {circuit.circuit.shares_neutral for circuit in single}
    for circuit in single:
        if circuit.circuit.pinned or circuit.circuit.shares_neutral or circuit.tag in shared:
            continue
        start = lines.index(circuit.lines[0])
        lighter = max(abs(own - less) for own, less in zip(total[start], powers[circuit.tag], strict=True))
        for end, line in enumerate(lines):
            if end == start:
                continue
            heavier = max(abs(own + more) for own, more in zip(total[end], powers[circuit.tag], strict=True))
            after = max(lighter, heavier, *(size for at, size in enumerate(worst) if at not in (start, end)))
            gain = 1 - after / before if before else 0.0
            if gain > (best[2] if best else 0.0):
                best = (circuit.tag, cast(CircuitLeg, line), gain)
    return best
