"""What stands in the plant's units: as their sheets say, or what a fault left in them."""

from __future__ import annotations

from collections.abc import Sequence

from weighty_axle.answers.settings.setting import Setting, number_of
from weighty_axle.answers.settings.sheet import all_settings
from weighty_axle.design.table import Design
from weighty_axle.plant.faults import LOW_SHARE, Fault

LEAD_FULL_V, LEAD_EQUALISE_V = 2.40, 2.58
"""Full charge of a lead-acid default, and its equalising [V a lead-acid cell]. Source: common practice, no source."""


def standing(design: Design, faults: Sequence[Fault]) -> dict[str, str]:
    """Every setting of every unit as it stands in it, by key, in the order of the sheets.

    Source: the sheets; common practice, no source.
    """
    return {one.key: _stands(design, faults, one) for one in all_settings(design)}


def _stands(design: Design, faults: Sequence[Fault], one: Setting) -> str:
    tag, _, name = one.key.partition(" ")
    kinds = {fault.kind for fault in faults if fault.place == tag}
    cells = 6 * max(1, round(design.bank.nominal_v.value / 12.8))
    if name == "profile" and "wrong profile" in kinds:
        return "flooded lead-acid"
    if name == "equalise" and "equalising" in kinds:
        return "on"
    if name == "absorption_v" and "equalising" in kinds:
        return f"{cells * LEAD_EQUALISE_V:.1f}"
    if name == "absorption_v" and "wrong profile" in kinds:
        return f"{cells * LEAD_FULL_V:.1f}"
    if name == "cut_out_v" and "cut-out high" in kinds:
        return f"{design.bank.nominal_v.value:.1f}"
    if name == "charge_a" and kinds & {"charge set low", "controller set low"}:
        return f"{LOW_SHARE * (number_of(one.said) or 0.0):.3g}"
    if name == "capacity_ah" and any(fault.kind == "wrong capacity" for fault in faults):
        return f"{2 * (number_of(one.said) or 0.0):.3g}"
    if name == "mode" and "supply mode" in kinds:
        return "supply"
    if name.endswith(" limit") and any(fault.kind == "source limit" for fault in faults):
        return f"{max(source.limit_a for source in design.job.inverters.sources):g}"
    if name == "role" and "leg swapped" in kinds:
        return one.said.replace("L2", "L1")
    return one.said
