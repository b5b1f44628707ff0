"""Selectors: the usual ones, and the order in which a selector and the inverters' configuration are changed so that
they never disagree.
"""

from __future__ import annotations

from msgspec.structs import replace

from weighty_axle.design.inverters.ac_wiring import IMPLIED_FEEDER, AcWiring
from weighty_axle.design.inverters.state import StatesResult
from weighty_axle.job.edits.edit import Edit, with_value
from weighty_axle.job.edits.inverters import STACKING_WORDS, add_selector
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.inverters import (
    BETWEEN_LINES,
    IMPLIED_PANEL,
    Contact,
    Inverters,
    Panel,
    Position,
    Selector,
    Source,
    Stacking,
    line_v,
    voltage_words,
)
from weighty_axle.job.tags import next_tag

OFF = "Off"


def stacking_selector(job: Job, wiring: AcWiring) -> Edit | None:
    """Two one-line inverters fed from one line of the inlet or from one each, with off in the middle; None for any
    other set of inverters.
    """
    if (
        len(job.inverters.units) < 2
        or job.inverters.spec.lines != 1
        or job.inverters.stacking not in ("split_phase", "legs_in_phase")
    ):
        return None
    inlet = wiring.inlets[0].tag
    apart = tuple(Contact(f"{inlet}.{unit.leg}", f"{unit.tag}.in") for unit in job.inverters.units)
    alike = tuple(Contact(f"{inlet}.L1", f"{unit.tag}.in") for unit in job.inverters.units)
    positions = (
        Position(name="In phase", contacts=alike, stacking="legs_in_phase"),
        Position(name=OFF),
        Position(name="Split-phase", contacts=apart, stacking="split_phase"),
    )
    now = "Split-phase" if job.inverters.stacking == "split_phase" else "In phase"
    return add_selector(
        Selector(
            tag=next_tag(job, "selector"), name="Stacking selector", positions=positions, now=now, interlocked=True
        ),
        feeds_inverters=True,
    )


def bypass_selector(job: Job, wiring: AcWiring) -> Edit:
    """The panel behind the inverters fed from them, from nothing, or straight from the inlet when an inverter is out
    for repair.
    """
    inlet = wiring.inlets[0].tag
    behind = [panel for panel in wiring.panels if panel.tag not in wiring.before]
    panel = (
        behind[0]
        if behind
        else Panel(tag=IMPLIED_PANEL, name="Panel behind the inverters", size=IMPLIED_FEEDER[job.practice])
    )
    one = job.inverters.spec.lines == 1
    inverted = tuple(
        Contact(f"{unit.tag}.out" + ("" if one else f".{line}"), f"{panel.tag}.{line}")
        for line in wiring.lines
        for unit in job.inverters.units
        if not one or unit.leg in (line, "AC")
    )
    straight = tuple(
        Contact(f"{inlet}.{line}", f"{panel.tag}.{line}") for line in wiring.lines[: wiring.inlets[0].lines]
    )
    positions = (
        Position(name="Inverters", contacts=inverted),
        Position(name=OFF),
        Position(name="Shore straight", contacts=straight),
    )
    tag = next_tag(job, "selector")
    made = add_selector(
        Selector(tag=tag, name="Bypass selector", positions=positions, now="Inverters", switches_neutral=True),
        feeds_inverters=False,
    )

    def apply(job: Job) -> Job:
        changed = made.apply(job)
        if not changed.ac.panels:
            return with_value(changed, "ac.panels", (replace(panel, fed_from=tag),))
        return with_value(changed, f"ac.panels[{panel.tag}].fed_from", tag)

    return Edit(made.label, apply)


def change_order(selector: Selector, to: str, inverters: Inverters) -> tuple[str, ...]:
    """Steps from where a selector stands to another position, in the order that never energises a circuit wrongly.

    Source: common practice, no source: two changes that must agree, made dead, through centre off.
    """
    position = next(one for one in selector.positions if one.name == to)
    steps = [
        "Switch off the AC breakers of the loads.",
        "Turn the inverters off; a remote switch turns off all of them.",
        *(
            ["Stop the generator, and wait until it stands still."]
            if any(source.kind == "generator" for source in inverters.sources)
            else []
        ),
        "Unplug the lead at the inlet.",
    ]
    centre = next((one.name for one in selector.positions if not one.contacts), None)
    if centre is not None and to != centre:
        steps.append(f"{selector.name} to {centre}. Wait until every inverter's lamp is out.")
    wanted = position.stacking
    if wanted is not None:
        steps.append(
            f"Configure every inverter {STACKING_WORDS[wanted]}; check each one's reading, not only the first."
        )
    steps.append(f"{selector.name} to {to}.")
    if wanted is not None:
        steps += [
            f"Inverters on, still unplugged: {_measured(wanted, inverters)}.",
            "Plug in, or start the generator; check the source limit; only then the load breakers, one at a time.",
        ]
    elif to != centre:
        steps.append("Plug in or turn the inverters on; measure before the load breakers go on, one at a time.")
    return tuple(steps)


def accepted_at(table: StatesResult, selector: Selector, position: str, sources: tuple[Source, ...]) -> tuple[str, ...]:
    """Names of the sources that come through with a selector in a position."""
    taken = {
        tag
        for state in table.states
        if state.passing
        and state.mode == "on"
        and (selector.tag, position) in state.positions
        and not any(hazard.danger == "disagree" for hazard in state.hazards)
        for tag in state.plugged
    }
    return tuple(source.name for source in sources if source.tag in taken)


def _measured(stacking: Stacking, inverters: Inverters) -> str:
    """What a meter must read between the lines."""
    volts = line_v(inverters)
    if stacking in BETWEEN_LINES:
        return f"measure {voltage_words(inverters, stacking)} line to neutral and line to line"
    return f"measure {volts:.0f} V on every line to neutral and 0 V between lines"
