"""What DC bars, panels, circuits and switches cannot be."""

from __future__ import annotations

import itertools
from collections.abc import Iterator

from weighty_axle.job.checks.bank import bank_problems
from weighty_axle.job.checks.problem import Problem
from weighty_axle.job.models.document import Job


def direct_problems(job: Job) -> Iterator[Problem]:
    """Panels, circuits, switches, groups and controllers on what is not there; a bar's own bank that cannot be."""
    bars = {job.wiring.board.tag, *(bar.tag for bar in job.bars)}
    panels = {panel.tag for panel in job.dc.panels}
    for bar in job.bars:
        if bar.bank is not None:
            yield from bank_problems(bar.bank, f"bars[{bar.tag}].bank")
    named = [(f"dc.panels[{one.tag}].bar", one.bar) for one in job.dc.panels]
    named += [(f"dc.circuits[{one.tag}].bar", one.bar) for one in job.dc.circuits]
    named += [(f"roof.controllers[{one.tag}].bar", one.bar) for one in job.roof.controllers]
    named += [(f"dc.switches[{one.tag}].bars", tag) for one in job.dc.switches for tag in one.bars]
    for place, tag in named:
        if tag and tag not in bars:
            yield Problem(place, f"There is no bar {tag}.")
    for circuit in job.dc.circuits:
        if circuit.panel and circuit.panel not in panels:
            yield Problem(f"dc.circuits[{circuit.tag}].panel", f"There is no DC panel {circuit.panel}.")
    for switch in job.dc.switches:
        if switch.feeds not in panels:
            yield Problem(f"dc.switches[{switch.tag}].feeds", f"There is no DC panel {switch.feeds}.")
        if switch.now not in switch.bars:
            yield Problem(f"dc.switches[{switch.tag}].now", f"{switch.name} does not stand at one of its bars.")
    for fitted in job.fitted:
        pairs = itertools.pairwise(fitted.curve)
        if any(after.times <= point.times or after.seconds > point.seconds for point, after in pairs):
            yield Problem(f"fitted[{fitted.tag}].curve", "Points of a curve must rise in current and fall in time.")
    yield from _group_problems(job, bars)


def _group_problems(job: Job, bars: set[str]) -> Iterator[Problem]:
    """Groups need a bar with a bank, inputs the inverter they are built into."""
    with_bank = {job.wiring.board.tag, *(bar.tag for bar in job.bars if bar.bank is not None)}
    for group in job.groups:
        if group.bar and group.bar not in bars:
            yield Problem(f"groups[{group.tag}].bar", f"There is no bar {group.bar}.")
        elif group.bar and group.bar not in with_bank:
            yield Problem(f"groups[{group.tag}].bar", f"{group.bar} has no bank that inverters could work from.")
    units = {unit.tag for unit in job.inverters.units}
    units |= {unit.tag for group in job.groups for unit in group.inverters.units}
    for one in job.roof.controllers:
        if one.unit and one.unit not in units:
            yield Problem(f"roof.controllers[{one.tag}].unit", f"There is no inverter {one.unit}.")
    known = {*bars, *(group.tag for group in job.groups)}
    for load in job.loads:
        if load.on and load.on not in known:
            yield Problem(f"loads[{load.tag}].on", f"There is no bar or inverter group {load.on}.")
