"""What the drop under full load makes of cut-out and restart: where the bank really is when the inverters stop."""

from __future__ import annotations

from typing import NamedTuple

from weighty_axle.answers.kept import kept
from weighty_axle.answers.proving.step_load import step_load
from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.design.table import Design
from weighty_axle.physics.electric.cells import interpolated
from weighty_axle.reference.tables import open_circuit


class UnderLoad(NamedTuple):
    """With all inverters on the bank at full load the farthest one stops at its cut-out: voltage at the bank's
    terminals then, voltage once the load is gone, and what is left in the bank (share of its capacity by its rest
    voltage).
    """

    unit_tag: str
    bank_v: Figure
    back_v: Figure
    left_share: Figure


@kept("system", "job.bank.spec", "job.inverters", "bank.cells", "bank.resistance_ohm", "settings.points", "tree.roots")
def under_load(design: Design) -> UnderLoad | None:
    """Cut-out at full load through the real network; None where nothing feeds the inverters or they cannot run.

    Source: nodal analysis; rest voltages of reference/.
    """
    stack = design.job.inverters
    points = {one.key: one.value for one in design.settings.points}
    groups = [one for one in design.others if one.system.shares_bank and one.system.bar == design.system.bar]
    units = {f"W-{unit.tag}" for own in (design, *groups) for unit in own.job.inverters.units}
    full_w = stack.spec.continuous_va * len(stack.units)
    cut_out, rest = points["cut_out_v"], points["cut_out_v"]
    for _ in range(12):
        step = step_load(design, full_w, rest, with_groups=True)
        if step is None:
            # So low a bank cannot carry it at all: look from higher up.
            rest *= 1.05
            continue
        unit, at_unit = min(((tag, way.end_v) for tag, way in step.ways.items() if tag in units), key=_volts)
        if abs(at_unit - cut_out) < 1e-4:
            break
        rest += cut_out - at_unit
    else:
        return None
    given = (
        Given("Cut-out", cut_out, "V"),
        Given("On the AC side", full_w, "W"),
        Given("Current of the main run", step.main_a, "A"),
    )
    tag = unit.removeprefix("W-")
    bank_v = Figure(
        name=f"Bank when {tag} stops at full load",
        value=step.bank_v,
        unit="V",
        formula="cut-out + drop from the bank to the inverter",
        inputs=given,
        source=TEXTBOOK,
    )
    back_v = Figure(
        name=f"{tag} once the load is gone",
        value=rest,
        unit="V",
        formula="bank when it stops + current × the bank's resistance",
        inputs=(*given, bank_v, design.bank.resistance_ohm),
        source=TEXTBOOK,
    )
    spec = design.job.bank.spec
    row = next(row for row in open_circuit().rows if row.chemistry == spec.chemistry)
    cell_v = rest / design.bank.cells
    share = interpolated(min(max(cell_v, row.cell_v[0]), row.cell_v[-1]), row.cell_v, row.soc)
    left = Figure(
        name="Left in the bank then",
        value=share,
        unit="1",
        formula="rest voltage of a cell, by the table of its chemistry",
        inputs=(back_v, Given("Cells in series", design.bank.cells, "count")),
        source=open_circuit().cited,
    )
    return UnderLoad(tag, bank_v, back_v, left)


def _volts(one: tuple[str, float]) -> float:
    return one[1]
