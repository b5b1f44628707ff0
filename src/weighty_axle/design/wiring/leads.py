"""What the leads of inverters carry, and which inverters hang on a bar."""

from __future__ import annotations

import math

from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.inverters import Inverters, InverterSpec
from weighty_axle.job.systems import System, systems


def inverter_current(inverters: Inverters, low: Figure) -> Figure:
    """What an inverter's lead carries: full load or charging, whichever is more; with solar inputs of its own, these
    charge through the same lead.
    """
    spec = inverters.spec
    each = Figure.quotient(
        name="Current of one inverter at full load",
        unit="A",
        formula="rating ÷ efficiency ÷ lowest working voltage",
        inputs=(
            Given("Rating", spec.continuous_va, "W"),
            Given("Efficiency at full load", spec.full_load_efficiency, "1"),
            low,
        ),
        source=TEXTBOOK,
    )
    charge = charge_through_lead(spec)
    return charge if charge.value > each.value else each


def charge_through_lead(spec: InverterSpec) -> Figure:
    """What an inverter-charger can charge through its lead: charger and solar inputs, at most what they share."""
    solar_a = spec.solar_charge_a or 0.0
    if not solar_a:
        return Figure(
            name="Charge current of one inverter",
            value=spec.charge_a,
            unit="A",
            formula="charger's rating",
            inputs=(Given("Rating", spec.charge_a, "A"),),
            source="inverter datasheet",
        )
    shared = Given("Charge, all together", spec.dc_charge_a or math.inf, "A")
    return Figure(
        name="Charge current of one inverter",
        value=min(spec.charge_a + solar_a, shared.value),
        unit="A",
        formula="charger's rating + solar inputs, at most what they share",
        inputs=(Given("Rating", spec.charge_a, "A"), Given("Solar inputs", solar_a, "A"), shared),
        source="inverter datasheet",
    )


def stacks_at(whole: Job, system: System, own: Inverters) -> tuple[Inverters, ...]:
    """All inverters on a system's bar: its own, and those of groups that share its bank."""
    if system.shares_bank:
        return (own,)
    sharing = {one.key for one in systems(whole) if one.shares_bank and one.bar == system.bar}
    return (own, *(group.inverters for group in whole.groups if group.tag in sharing))
