"""Named changes to the AC side: stacking, legs, inlets, panels, circuits, selectors."""

from __future__ import annotations

from typing import Any

from msgspec.structs import replace

from weighty_axle.job.edits.bank import GAP_M
from weighty_axle.job.edits.edit import Edit, EditRefusedError, value_at, with_value
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.inverters import (
    FROM_INVERTERS,
    LINES,
    AcSide,
    Circuit,
    CircuitLeg,
    Inlet,
    Inverter,
    InverterSpec,
    Panel,
    Selector,
    Stacking,
    panel_lines,
)
from weighty_axle.job.tags import next_tag

STACKING_WORDS: dict[Stacking, str] = {
    "single": "single",
    "parallel": "in parallel",
    "split_phase": "split-phase",
    "legs_in_phase": "with both legs in phase",
    "one_two_legs": "two legs from each unit",
    "independent": "independent",
    "three_phase": "three-phase",
}


def set_stacking(stacking: Stacking) -> Edit:
    """Other stacking; lines of the inverters follow, in turn over the lines there are."""

    def apply(job: Job) -> Job:
        return open_dead_legs(
            replace(
                job, inverters=replace(job.inverters, stacking=stacking, units=legs_for(stacking, job.inverters.units))
            )
        )

    return Edit(f"Stack the inverters {STACKING_WORDS[stacking]}", apply)


def legs_for(stacking: Stacking, units: tuple[Inverter, ...]) -> tuple[Inverter, ...]:
    """Inverters each on a line the stacking has: as they are where that fits, in turn where it does not."""
    lines = LINES[stacking]
    if stacking == "one_two_legs":
        return tuple(replace(unit, leg="L1+L2") for unit in units)
    return tuple(
        unit if unit.leg in lines else replace(unit, leg=lines[index % len(lines)]) for index, unit in enumerate(units)
    )


# ---- circuits ------------------------------------------------------------------------------------------------


def set_leg(job: Job, tag: str, leg: CircuitLeg) -> Edit:
    """Move a circuit with its loads, or a load that has none, to a leg.

    Refused where the circuit's panel does not have that leg.
    """
    known = {circuit.tag: circuit for circuit in job.ac.circuits}
    if tag in known:

        def apply(job: Job) -> Job:
            circuit: Circuit = value_at(job, f"ac.circuits[{tag}]")
            reach = panel_lines(job.ac, job.inverters).get(circuit.panel)
            if leg != "open" and reach is not None and not set(leg.split("+")) <= set(reach):
                panel = next((one.name for one in job.ac.panels if one.tag == circuit.panel), circuit.panel)
                raise EditRefusedError(f"{panel} has no {leg}: {circuit.name} would be dead there.")
            follow = tuple(
                replace(load, supply=leg) if load.circuit == tag and load.supply in ("L1", "L2", "L3") else load
                for load in job.loads
            )
            return replace(with_value(job, f"ac.circuits[{tag}].leg", leg), loads=follow)

        return Edit(f"Move {known[tag].name} to {leg}", apply)
    name = value_at(job, f"loads[{tag}]").name
    return Edit(f"Move {name} to {leg}", lambda job: with_value(job, f"loads[{tag}].supply", leg))


def set_legs(legs: dict[str, CircuitLeg], label: str) -> Edit:
    """Move several circuits, and loads that have none, at once."""

    def apply(job: Job) -> Job:
        for tag, leg in legs.items():
            job = set_leg(job, tag, leg).apply(job)
        return job

    return Edit(label, apply)


def set_wiring(path: str, value: Any, label: str) -> Edit:
    """Another panel for a circuit, or another feeder or line for a panel; circuits that lose their leg by it get one
    their panel has.
    """
    return Edit(label, lambda job: open_dead_legs(with_value(job, path, value)))


# ---- parts ---------------------------------------------------------------------------------------------------


def add_inlet() -> Edit:
    """One more inlet with as many lines as the inverters have."""

    def apply(job: Job) -> Job:
        lines = len(LINES[job.inverters.stacking])
        made = Inlet(
            tag=next_tag(job, "inlet"),
            name=f"Inlet {len(job.ac.inlets) + 1}",
            amps=50.0 if lines == 2 else 32.0,
            lines=lines,
        )
        return _with(job, inlets=(*job.ac.inlets, made))

    return Edit("Add an inlet", apply)


def add_panel(fed_from: str = FROM_INVERTERS) -> Edit:
    """One more panel."""

    def apply(job: Job) -> Job:
        made = Panel(tag=next_tag(job, "panel"), name=f"Panel {len(job.ac.panels) + 1}", fed_from=fed_from)
        return _with(job, panels=(*job.ac.panels, made))

    return Edit("Add a panel", apply)


def add_circuit(panel: str = "") -> Edit:
    """One more circuit in a panel."""

    def apply(job: Job) -> Job:
        made = Circuit(tag=next_tag(job, "circuit"), name="New circuit", panel=panel)
        return _with(job, circuits=(*job.ac.circuits, made))

    return Edit("Add a circuit", apply)


def add_selector(made: Selector, feeds_inverters: bool) -> Edit:
    """A selector; where it feeds the inverters, their input is taken from it."""

    def apply(job: Job) -> Job:
        changed = _with(job, selectors=(*job.ac.selectors, made))
        return _with(changed, inverters_fed_from=made.tag) if feeds_inverters else changed

    return Edit(f"Add {made.name}", apply)


def remove_part(tag: str) -> Edit:
    """Take an inlet, panel, circuit or selector away; what named it goes back to the plainest: first inlet, feeder's
    feeder, no circuit.
    """

    def apply(job: Job) -> Job:
        ac = job.ac
        gone = next((panel for panel in ac.panels if panel.tag == tag), None)
        inlets = tuple(inlet for inlet in ac.inlets if inlet.tag != tag)
        first = inlets[0].tag if inlets else FROM_INVERTERS
        feed = (
            gone.fed_from
            if gone is not None
            else first
            if any(inlet.tag == tag for inlet in ac.inlets)
            else FROM_INVERTERS
        )
        panels = tuple(
            replace(panel, fed_from=feed) if panel.fed_from == tag else panel for panel in ac.panels if panel.tag != tag
        )
        circuits = tuple(
            replace(
                circuit,
                panel="" if circuit.panel == tag else circuit.panel,
                shares_neutral="" if circuit.shares_neutral == tag else circuit.shares_neutral,
            )
            for circuit in ac.circuits
            if circuit.tag != tag
        )
        selectors = tuple(_without(selector, tag) for selector in ac.selectors if selector.tag != tag)
        fed_from = "" if ac.inverters_fed_from == tag else ac.inverters_fed_from
        second = "" if ac.second_input == tag else ac.second_input
        loads = tuple(replace(load, circuit="") if load.circuit == tag else load for load in job.loads)
        sources = tuple(
            replace(source, inlet="") if source.inlet == tag else source for source in job.inverters.sources
        )
        changed = replace(
            ac,
            inlets=inlets,
            panels=panels,
            circuits=circuits,
            selectors=selectors,
            inverters_fed_from=fed_from,
            second_input=second,
        )
        return open_dead_legs(replace(job, ac=changed, loads=loads, inverters=replace(job.inverters, sources=sources)))

    return Edit(f"Remove {tag}", apply)


def _without(selector: Selector, tag: str) -> Selector:
    def keeps(name: str) -> bool:
        return name.split(".")[0] != tag

    positions = tuple(
        replace(position, contacts=tuple(one for one in position.contacts if keeps(one.start) and keeps(one.end)))
        for position in selector.positions
    )
    return replace(selector, positions=positions)


def _with(job: Job, **parts: Any) -> Job:
    changed: AcSide = replace(job.ac, **parts)
    return replace(job, ac=changed)


def set_arrangement(spec: InverterSpec, count: int, stacking: Stacking) -> Edit:
    """Other inverters: their type, how many, and how they act together.

    Units keep tags and places; new ones stand beside the last.
    """

    def apply(job: Job) -> Job:
        for unit in job.inverters.units[count:]:
            job = _without_unit(job, unit.tag)
        units = job.inverters.units
        while len(units) < count:
            last, grown = units[-1], replace(job, inverters=replace(job.inverters, units=units))
            beside = replace(last.place, x_m=round(last.place.x_m + spec.size.length_m + GAP_M, 3))
            units = (*units, Inverter(tag=next_tag(grown, "inverter"), leg="AC", place=beside))
        changed = replace(job.inverters, spec=spec, stacking=stacking, units=legs_for(stacking, units))
        return open_dead_legs(replace(job, inverters=changed))

    return Edit(f"{count} × {spec.name}, {STACKING_WORDS[stacking]}", apply)


def remove_unit(tag: str) -> Edit:
    """Take one inverter away: what it fed is fed from all that are left, and the rest act together as so many can."""

    def apply(job: Job) -> Job:
        if len(job.inverters.units) < 2:
            raise EditRefusedError(f"{tag} is the only inverter; choose another type under Size instead.")
        left = _without_unit(job, tag)
        return fit_stacking(left).apply(left)

    return Edit(f"Remove {tag}", apply)


def fit_stacking(job: Job) -> Edit:
    """A stacking in which every line has a unit: as it is where that holds, else one line of all units."""
    stated = job.inverters
    served = stated.stacking == "one_two_legs" or all(
        line == "AC" or any(unit.leg == line for unit in stated.units) for line in LINES[stated.stacking]
    )
    if served and not (stated.stacking == "parallel" and len(stated.units) == 1):
        return set_stacking(stated.stacking)
    return set_stacking("single" if len(stated.units) == 1 else "parallel")


def _without_unit(job: Job, tag: str) -> Job:
    """The job without an inverter and without anything that names it."""
    ac = job.ac
    units = tuple(unit for unit in job.inverters.units if unit.tag != tag)
    # The one bond between neutral and earth goes on to the next unit.
    if units and not any(unit.bonds for unit in units) and any(unit.bonds for unit in job.inverters.units):
        units = (replace(units[0], bonds=True), *units[1:])
    panels = tuple(replace(panel, fed_from=FROM_INVERTERS) if panel.fed_from == tag else panel for panel in ac.panels)
    selectors = tuple(_without(selector, tag) for selector in ac.selectors)
    if len(units) < 2:  # one unit alone cannot be set this way or that
        selectors = tuple(
            replace(selector, positions=tuple(replace(position, stacking=None) for position in selector.positions))
            for selector in selectors
        )
    storage = replace(ac.storage, alive=tuple(one for one in ac.storage.alive if one != tag))
    conductors = {run: size for run, size in job.wiring.conductors.items() if run != f"W-{tag}"}
    return replace(
        job,
        inverters=replace(job.inverters, units=units),
        ac=replace(ac, panels=panels, selectors=selectors, storage=storage),
        wiring=replace(job.wiring, conductors=conductors),
    )


def open_dead_legs(job: Job) -> Job:
    """Loads, circuits and panels on a line that is no longer there, or does not reach their panel: one AC line, or a
    leg to be chosen.

    What hangs across lines keeps saying so.
    """
    lines = LINES[job.inverters.stacking]
    fallback = "AC" if lines == ("AC",) else "leg_open"

    def fits(leg: str) -> bool:
        return leg.startswith("DC") or "+" in leg or leg in (fallback, "open") or (lines != ("AC",) and leg in lines)

    panels = tuple(
        panel if not panel.line or panel.line in lines else replace(panel, line="") for panel in job.ac.panels
    )
    loads = tuple(load if fits(load.supply) else replace(load, supply=fallback) for load in job.loads)
    circuits = tuple(circuit if fits(circuit.leg) else replace(circuit, leg="open") for circuit in job.ac.circuits)
    changed = replace(job.ac, panels=panels, circuits=circuits)
    reach = panel_lines(changed, job.inverters)
    kept = tuple(
        circuit
        if circuit.leg == "open" or "+" in circuit.leg or circuit.leg in reach.get(circuit.panel, (circuit.leg,))
        else replace(circuit, leg="open")
        for circuit in circuits
    )
    return replace(job, loads=loads, ac=replace(changed, circuits=kept))
