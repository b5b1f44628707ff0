"""The system in figures."""

from __future__ import annotations

from typing import Any

from weighty_axle.exports.pages.page import PackPages
from weighty_axle.units import show


def pages(on: PackPages) -> list[Any]:
    """Figures of the whole job with formula and source."""
    d = on.design
    figures = [
        d.brief.energy_per_day_wh,
        d.bank.nominal_energy_wh,
        d.bank.usable_energy_wh,
        d.bank.capacity_ah,
        d.bank.equivalent_12v_ah,
        d.bank.days,
        d.bank.max_v,
        d.bank.continuous_a,
        d.bank.discharge_limit_a,
        d.bank.charge_limit_a,
        d.bank.prospective_a,
        *(
            figure
            for leg in d.inverters.legs
            for figure in (leg.worst_va, leg.continuous_va, leg.start_va, leg.surge_va)
        ),
        d.roof.rated_w,
        d.roof.noon_low_w,
        d.roof.noon_high_w,
        *(string.cold_voc_v for string in d.roof.strings),
        d.charging.worst_a,
        d.charging.into_bank_a,
        d.wiring.worst_drop_share,
        d.flow.worst_drop_share,
    ]
    rows = [["Figure", "Value", "How", "Source"]]
    rows += [
        [figure.name, show(figure.value, figure.unit, on.system), figure.formula, figure.source] for figure in figures
    ]
    return [on.text("System summary", on.head), on.table(rows, (0.27, 0.12, 0.36, 0.25))]
