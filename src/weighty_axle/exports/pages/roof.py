"""Strings, protection, fixings, arrays elsewhere, the year's sun."""

from __future__ import annotations

from typing import Any

from weighty_axle.design.roof.protection import RoofCable
from weighty_axle.exports.pages.page import PackPages
from weighty_axle.units import System, digits, show


def pages(on: PackPages) -> list[Any]:
    """Strings with their windows, protection and labels of every input, what holds the modules, arrays elsewhere."""
    design = on.design
    if not design.protection:
        return []
    strings = [["String", "Controller", "Modules in order", "Hot Vmp", "Cold Voc", "Margin"]]
    strings += [
        [
            string.tag,
            string.controller,
            ", ".join(string.modules),
            show(string.hot_vmp_v.value, "V"),
            show(string.cold_voc_v.value, "V"),
            show(string.cold_margin_v.value, "V"),
        ]
        for string in design.roof.strings
    ]
    guards = [["Input", "Two-pole DC isolator", "String fuses", "Cable, longest", "Surge arrester", "Labels"]]
    guards += [
        [
            guard.controller,
            f"{show(guard.isolator_v.value, 'V')}, {show(guard.isolator_a.value, 'A')}",
            "none" if guard.fuse_a is None else show(guard.fuse_a.value, "A"),
            _roof_cable(guard.cable, on.system),
            "yes" if guard.surge else "not asked for",
            "; ".join(guard.labels),
        ]
        for guard in design.protection
    ]
    held = design.fixings
    fixing = (
        f"Each module: {held.needed_count.value:.0f} fixings at least; one is pulled with "
        f"{show(held.pull_n.value, 'N')} at road speed (lift coefficient assumed)."
    )
    flow = [
        on.text("Roof", on.head),
        *([on.table(strings, (0.1, 0.12, 0.38, 0.13, 0.14, 0.13))] if design.roof.strings else []),
        on.table(guards, (0.09, 0.17, 0.12, 0.15, 0.13, 0.34)),
        on.text(fixing),
    ]
    if design.remote:
        away = [["Array elsewhere", "Into", "Plug", "Cold Voc", "Hot Vmp", "Cable loses"]]
        away += [
            [
                array.name,
                one.controller,
                array.plug,
                show(one.cold_voc_v.value, "V"),
                show(one.hot_vmp_v.value, "V"),
                show(one.drop_share.value, "1"),
            ]
            for array, one in zip(design.job.roof.remote, design.remote, strict=True)
        ]
        flow.append(on.table(away, (0.3, 0.12, 0.14, 0.15, 0.15, 0.14)))
    return flow + _year_of_sun(on)


def _year_of_sun(on: PackPages) -> list[Any]:
    """What the roof gives at home, month by month."""
    # numpy only when something is printed.
    from weighty_axle.answers.roof.sunny import home
    from weighty_axle.answers.roof.yields import sun_yield

    if not on.design.roof.rated_w.value:
        return []
    year = sun_yield(on.design, home(on.design))
    rows = [["A day gives, kWh", *(month.month for month in year.months)]]
    rows.append(["mean", *(digits(month.day_wh.value / 1000, 1) for month in year.months)])
    rows.append(["clear", *(digits(month.clear_day_wh / 1000, 1) for month in year.months)])
    left = on.design.job.roof.losses.shade
    shade = f"shade takes {show(1 - left, '1')}" if left < 1 else "shade is not counted"
    told = (
        f"Into the bank at {year.place.name}, {show(year.year_wh.value, 'Wh')} a year; {shade}; sky: "
        f"{on.design.job.roof.sky.source}. A computed mean: real years differ."
    )
    return [on.table(rows, (0.16, *[0.07] * 12)), on.text(told)]


def _roof_cable(cable: RoofCable | None, system: System) -> str:
    return "–" if cable is None else f"{show(cable.length_m.value, 'm', system)}, {show(cable.drop_share.value, '1')}"
