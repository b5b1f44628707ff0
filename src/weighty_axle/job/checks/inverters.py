"""What the AC side cannot be: references to what is not there, feeders in a ring, a datasheet that contradicts
itself.
"""

from __future__ import annotations

import itertools
from collections.abc import Iterator

from weighty_axle.job.checks.problem import Problem
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.inverters import FROM_INVERTERS, IMPLIED_INLET, IMPLIED_PANEL, AcSide, InverterSpec, Panel


def inverter_problems(inverter: InverterSpec, place: str) -> Iterator[Problem]:
    """What a datasheet of an inverter cannot say."""
    if inverter.full_load_efficiency > inverter.peak_efficiency:
        yield Problem(
            f"{place}.spec.full_load_efficiency", "Efficiency at full load cannot exceed the peak efficiency."
        )
    if inverter.surge_va < inverter.continuous_va:
        yield Problem(f"{place}.spec.surge_va", "Surge cannot be below the continuous rating.")
    points = inverter.overload
    if any(after.times <= point.times or after.seconds > point.seconds for point, after in itertools.pairwise(points)):
        yield Problem(f"{place}.spec.overload", "Overload points must rise in load and fall in time.")
    if inverter.dc_min_v >= inverter.dc_max_v:
        yield Problem(f"{place}.spec.dc_min_v", "The lowest DC voltage must be below the highest.")


def ac_problems(job: Job, base: str = "") -> Iterator[Problem]:
    """References of the AC side: what each thing is fed from, is in, or belongs to must exist, and no feeder runs in a
    ring.
    """
    ac = job.ac
    inlets = {inlet.tag for inlet in ac.inlets} or {IMPLIED_INLET}
    panels = {one.tag: one for one in ac.panels}
    selectors, circuits = {selector.tag for selector in ac.selectors}, {one.tag for one in ac.circuits}
    units = {unit.tag for unit in job.inverters.units}
    for panel in ac.panels:
        place = f"{base}ac.panels[{panel.tag}].fed_from"
        if panel.fed_from not in {*inlets, *selectors, *panels, *units, FROM_INVERTERS}:
            yield Problem(place, f"{panel.name} has no feeder: there is no {panel.fed_from}.")
        elif _in_a_ring(panel, panels):
            yield Problem(place, f"The feeder of {panel.name} comes back to it.")
    if ac.inverters_fed_from and ac.inverters_fed_from not in {*inlets, *selectors, *panels}:
        yield Problem(f"{base}ac.inverters_fed_from", f"There is no {ac.inverters_fed_from} to feed the inverters.")
    if ac.second_input and ac.second_input not in inlets - {ac.inverters_fed_from}:
        yield Problem(f"{base}ac.second_input", f"There is no other inlet {ac.second_input} for a second input.")
    for circuit in ac.circuits:
        if circuit.panel and circuit.panel not in (panels or {IMPLIED_PANEL}):
            yield Problem(f"{base}ac.circuits[{circuit.tag}].panel", f"There is no panel {circuit.panel}.")
        if circuit.shares_neutral and circuit.shares_neutral not in circuits - {circuit.tag}:
            yield Problem(
                f"{base}ac.circuits[{circuit.tag}].shares_neutral",
                f"There is no other circuit {circuit.shares_neutral}.",
            )
    for source in job.inverters.sources:
        if source.inlet and source.inlet not in inlets:
            yield Problem(f"{base}inverters.sources[{source.tag}].inlet", f"There is no inlet {source.inlet}.")
    known = {*inlets, *units, *(panels or {IMPLIED_PANEL})}
    yield from _selector_problems(ac, known, base)


def _selector_problems(ac: AcSide, known: set[str], base: str) -> Iterator[Problem]:
    """Positions of one name, none to stand at, and contacts to nothing; `known` are the things that have terminals."""
    for selector in ac.selectors:
        place, names = f"{base}ac.selectors[{selector.tag}]", [position.name for position in selector.positions]
        if len(set(names)) < len(names):
            yield Problem(f"{place}.positions", f"Two positions of {selector.name} have one name.")
        if selector.now not in names:
            yield Problem(f"{place}.now", f"{selector.name} has no position {selector.now}.")
        for name in [
            end
            for position in selector.positions
            for contact in position.contacts
            for end in (contact.start, contact.end)
        ]:
            if name.split(".")[0] not in known or "." not in name:
                yield Problem(
                    f"{place}.positions",
                    f"{selector.name} has a contact to {name}, and there is no such thing; write IN1.L1 or INV1.in.",
                )


def _in_a_ring(panel: Panel, panels: dict[str, Panel]) -> bool:
    """Whether following the feeders from a panel leads back to it."""
    feed = panel.fed_from
    for _ in panels:
        if feed == panel.tag:
            return True
        if feed not in panels:
            return False
        feed = panels[feed].fed_from
    return False
