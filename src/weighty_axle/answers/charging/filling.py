"""How long it takes from one charge to another in a state of the sources: current and voltage against time."""

from __future__ import annotations

import math

from msgspec import Struct

from weighty_axle.design.charging.states import SourceState
from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Figure, Given
from weighty_axle.design.inverters.sources import SourceRow
from weighty_axle.design.table import Design
from weighty_axle.job.models.settings import FullCharge
from weighty_axle.physics.electric.filling import Filling, fill
from weighty_axle.reference.cells import CELL_POINTS
from weighty_axle.reference.tables import open_circuit


class FillResult(Struct, frozen=True, kw_only=True):
    """A filling curve with its figures; `curve.ended` says how it ends."""

    state: SourceState
    school: FullCharge
    curve: Filling
    hours_h: Figure
    held_from_h: Figure
    charge_ah: Figure
    energy_wh: Figure
    source_a: Figure
    drawn_w: Figure


def filling(
    design: Design,
    state: SourceState,
    from_soc: float,
    to_soc: float = 1.0,
    school: FullCharge | None = None,
    *,
    with_loads: bool = False,
) -> FillResult:
    """Filling of a system's bank in one state of its sources, held to the limit over all charging.

    With loads the mean of the design day runs beside it: what an inlet feeds itself is not drawn from the bank, and is
    taken off what its charger gets.

    Source: physics.electric.filling; rest voltages and set points of reference/.
    """
    bank, spec = design.bank, design.job.bank.spec
    school = school or design.job.settings.full_charge
    points = CELL_POINTS[spec.chemistry]
    row = next(row for row in open_circuit().rows if row.chemistry == spec.chemistry)
    source, drawn = _source(design, state, with_loads), _drawn(design, state, with_loads)
    tail = points.tail_share * bank.capacity_ah.value
    curve = fill(
        from_soc=from_soc,
        to_soc=to_soc,
        capacity_ah=bank.capacity_ah.value,
        resistance_ohm=bank.resistance_ohm.value,
        soc=row.soc,
        rest_v=[bank.cells * volts for volts in row.cell_v],
        held_v=bank.cells * points.full(school),
        source_a=source.value,
        source_w=math.inf,
        bank_a=min(bank.charge_limit_a.value, design.source_states.held_to_a.value),
        drawn_w=drawn.value,
        tail_a=tail,
        charge_efficiency=points.charge_efficiency,
        accepts_per_h=points.accepts_per_h,
    )
    given = (
        Given("From", from_soc, "1"),
        Given("To", to_soc, "1"),
        bank.capacity_ah,
        bank.resistance_ohm,
        Given("Held at", bank.cells * points.full(school), "V"),
        source,
        drawn,
        Given("Ends at a tail of", tail, "A"),
        Given("Ampere-hours kept", points.charge_efficiency, "1"),
    )
    ends = {
        "full": "to the tail current: full",
        "reached": "to the charge asked for",
        "never": "what comes in is no more than what is drawn",
    }[curve.ended]
    never = curve.ended == "never"
    # Between two points charge goes in evenly; the voltage of the pair is taken in its middle.
    moved_wh = sum(
        (one + other) / 2 * (then - at) * bank.capacity_ah.value / points.charge_efficiency
        for one, other, at, then in zip(curve.volts, curve.volts[1:], curve.soc, curve.soc[1:], strict=False)
    )
    return FillResult(
        state=state,
        school=school,
        curve=curve,
        hours_h=Figure(
            name=f"Time to fill, {state.name}",
            value=math.inf if never else curve.hours[-1],
            unit="h",
            formula="Σ charge of a step ÷ its current: the least of sources, bank's limit and what holds the voltage",
            inputs=given,
            source=TEXTBOOK,
            limit=ends + ("; sun at its best throughout" if state.sun else ""),
        ),
        held_from_h=Figure(
            name="Voltage held from",
            value=curve.held_from_h,
            unit="h",
            formula="when the terminals reach the voltage held",
            inputs=given,
            source=TEXTBOOK,
        ),
        charge_ah=Figure(
            name="Charge put in",
            value=(curve.soc[-1] - curve.soc[0]) * bank.capacity_ah.value / points.charge_efficiency,
            unit="Ah",
            formula="(end − start) × capacity ÷ ampere-hours kept",
            inputs=(
                Given("Start", curve.soc[0], "1"),
                Given("End", curve.soc[-1], "1"),
                bank.capacity_ah,
                Given("Ampere-hours kept", points.charge_efficiency, "1"),
            ),
            source=TEXTBOOK,
        ),
        energy_wh=Figure(
            name="Energy put in",
            value=moved_wh,
            unit="Wh",
            formula="Σ voltage at the terminals × charge of a step",
            inputs=given,
            source=TEXTBOOK,
        ),
        source_a=source,
        drawn_w=drawn,
    )


def _source(design: Design, state: SourceState, with_loads: bool) -> Figure:
    """What the sources give into the bank and its loads."""
    held = design.source_states.held_to_a
    row = next((row for row in design.sources if row.tag == state.plug), None)
    units = {unit.tag for unit in design.job.inverters.units}
    parts = []
    for part in state.parts:
        through = sum(one.amps for one in part.units if one.tag in units)
        beside = part.amps - through
        if beside:
            parts.append(Given(part.kind.capitalize(), beside, "A"))
        if through:
            left = _left(design, row, through) if with_loads and row is not None else through
            parts.append(Given(f"{part.kind.capitalize()} through inverter-chargers", left, "A"))
    total = sum(one.value for one in parts)
    return Figure(
        name=f"Sources, {state.name}",
        value=min(total, held.value),
        unit="A",
        formula="Σ of the sources, at most the limit over all charging",
        inputs=(*parts, held),
        source=PRACTICE,
        limit="beside the mean loads there" if with_loads and row is not None else "",
    )


def _left(design: Design, row: SourceRow, through_a: float) -> float:
    """What a hook-up gives into the bank in the mean of its busiest day [A]: what its AC loads leave, less what the
    bank must add; below none where they take more than it gives.
    """
    dc_w = design.brief.days[design.brief.design_day].dc_energy_wh.value / 24
    mean_w = row.net_day_wh.value / 24 + dc_w
    return min(through_a, mean_w / design.bank.nominal_v.value)


def _drawn(design: Design, state: SourceState, with_loads: bool) -> Figure:
    """What loads draw from bank and sources meanwhile."""
    day = design.brief.days[design.brief.design_day]
    row = next((row for row in design.sources if row.tag == state.plug), None)
    fed = row is not None and row.accepted
    energy = day.dc_energy_wh if fed else day.bank_energy_wh
    counted = Given("Counted", 1.0 if with_loads else 0.0, "1")
    return Figure(
        name="Loads meanwhile",
        value=energy.value / 24 * counted.value,
        unit="W",
        formula="energy a day ÷ 24 h, where loads are counted",
        inputs=(energy, counted),
        source=TEXTBOOK,
        limit=day.name,
    )


def state_named(design: Design, text: str) -> SourceState | None:
    """The state of the sources of a name, however its parts are put in order: 'P50, sun'."""
    wanted = {part.strip().lower() for part in text.split(",") if part.strip()}
    return next(
        (
            state
            for state in design.source_states.states
            if {part.strip().lower() for part in state.name.split(",")} == wanted
        ),
        None,
    )
