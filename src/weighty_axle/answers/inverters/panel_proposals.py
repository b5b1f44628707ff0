"""Circuits proposed for loads that have none: breaker, poles and copper from what each draws."""

from __future__ import annotations

from typing import cast

from msgspec.structs import replace

from weighty_axle.design.inverters.panels import CONTINUOUS_LOAD_SHARE
from weighty_axle.design.table import Design
from weighty_axle.job.edits.edit import Edit
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.inverters import LINES, Circuit, CircuitLeg
from weighty_axle.job.models.parts import Practice
from weighty_axle.job.tags import free_tags
from weighty_axle.physics.electric.protection import next_rating_a
from weighty_axle.reference import tables

BREAKERS_A: dict[Practice, tuple[float, ...]] = {
    "north_american": (15, 20, 25, 30, 40, 50, 60, 70, 80, 90, 100),
    "international": (6, 10, 16, 20, 25, 32, 40, 50, 63, 80, 100),
}
"""Usual ratings of branch breakers. Source: NEC 240.6(A), IEC 60898-1, recalled."""
RCD_MA: dict[Practice, float] = {"north_american": 0.0, "international": 30.0}
"""Residual-current device of a new circuit; elsewhere only sockets have one. Source: IEC 60364-7-717, recalled."""


def circuits_for_loads(design: Design) -> Edit:
    """One circuit for each AC load without one: next breaker over its running current for hours, least copper that may
    have it, one pole a line; a residual-current device of its own where that is usual.

    Source: NEC 210.20(A), recalled; reference/ac_conductors.json.
    """
    loose = [
        (circuit, result)
        for circuit, result in zip(design.circuits, design.panels.circuits, strict=True)
        if not circuit.stated
    ]
    lines, practice = LINES[design.job.inverters.stacking], design.job.practice
    volts, by_tag = (
        design.job.inverters.spec.ac_v / design.job.inverters.spec.lines,
        {load.tag: load for load in design.job.loads},
    )

    rows = sorted((row for row in tables.ac_conductors().rows if row.practice == practice), key=lambda row: row.amps)

    def apply(job: Job) -> Job:
        tags = free_tags(job, "circuit")
        made, owner = [], {}
        for circuit, result in loose:
            load = by_tag[circuit.loads[0]]
            stated_a = load.running_w * load.count / load.power_factor / volts / len(circuit.lines)
            amps = max(result.running_a.value, stated_a) / CONTINUOUS_LOAD_SHARE[practice]
            # What no breaker takes gets the largest; the rules then say that it draws more.
            breaker = next_rating_a(min(amps, BREAKERS_A[practice][-1]), BREAKERS_A[practice])
            leg = "open" if len(lines) == 1 else "+".join(circuit.lines)
            size = next((row.size for row in rows if row.amps >= breaker), rows[-1].size)
            poles = len(circuit.lines)
            made.append(
                Circuit(
                    tag=next(tags),
                    name=circuit.name,
                    panel=circuit.panel if job.ac.panels else "",
                    leg=cast(CircuitLeg, leg),
                    breaker_a=breaker,
                    poles=poles,
                    size=size,
                    rcd_ma=RCD_MA[practice],
                )
            )
            owner[circuit.tag] = made[-1].tag
        loads = tuple(replace(load, circuit=owner.get(load.tag, load.circuit)) for load in job.loads)
        return replace(job, loads=loads, ac=replace(job.ac, circuits=(*job.ac.circuits, *made)))

    return Edit(f"A circuit for each of {len(loose)} loads", apply)
