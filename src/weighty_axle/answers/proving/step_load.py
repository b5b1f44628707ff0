"""The bank side at a load on the AC side: currents and voltages of every way, by the network of the DC tree."""

from __future__ import annotations

from typing import NamedTuple

from weighty_axle.design.brief.profiles import loss_curve
from weighty_axle.design.table import Design
from weighty_axle.design.wiring.flow import STIFF_OHM, AtWay, Drawn, network_of, solved


class StepLoad(NamedTuple):
    """The bank side at a load on the AC side: power, the main run and its current, voltage at the bank, every way."""

    ac_w: float
    main_tag: str
    main_a: float
    bank_v: float
    ways: dict[str, AtWay]


def step_load(
    design: Design, ac_w: float, at_rest_v: float | None = None, *, with_groups: bool = False
) -> StepLoad | None:
    """Currents and voltages with a load shared alike by all inverters, nothing else on; None where nothing feeds them,
    or nothing can. `at_rest_v` is the bank's voltage before; empty: as it was read. `with_groups`: inverters of other
    groups on this bank are at their full load too.

    Source: nodal analysis, physics.electric.network; the inverters' loss curve.
    """
    units = design.job.inverters.units
    root = next((one for one in design.tree.roots if not one.converters), None)
    if root is None or not units:
        return None
    each = ac_w / len(units)
    dc_w = each + loss_curve(design.job.inverters).loss_w(each)
    watts = {f"W-{unit.tag}": dc_w for unit in units}
    for own in design.others if with_groups else ():
        if own.system.shares_bank and own.system.bar == design.system.bar:
            full_w = own.job.inverters.spec.continuous_va
            loss_w = loss_curve(own.job.inverters).loss_w(full_w)
            watts |= {f"W-{unit.tag}": full_w + loss_w for unit in own.job.inverters.units}
    rest = rest_v(design) if at_rest_v is None else at_rest_v
    network = network_of(root, max(design.bank.resistance_ohm.value, STIFF_OHM), {})
    done = solved(root, network, Drawn(watts, {}, {}), rest)
    if done.collapsed:
        return None
    nodes = done.solution.node_v
    amps = done.solution.branch_a[len(done.solution.branch_a) - len(root.ways) :]
    ways = {
        way.tag: AtWay(carried, nodes[way.start], nodes[way.end]) for way, carried in zip(root.ways, amps, strict=True)
    }
    main = next(way for way in root.ways if way.kind == "main")
    return StepLoad(ac_w, main.tag, ways[main.tag].amps, nodes[main.start], ways)


def rest_v(design: Design) -> float:
    """The bank's voltage at rest: as it was read, or nominal [V]."""
    stated = design.whole.proving.rest_v
    return stated if stated is not None else design.bank.nominal_v.value
