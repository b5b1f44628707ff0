"""First fix: every wire way with the cables in it, every wall with where they come out, to scale."""

from __future__ import annotations

from typing import Any

from weighty_axle.answers.place.ways_filled import all_cables, ways_filled
from weighty_axle.exports.drawings.walls import WALLS, closed_words, wall_view
from weighty_axle.exports.pages.page import PackPages
from weighty_axle.job.models.place import Outlet
from weighty_axle.units import show


def pages(on: PackPages) -> list[Any]:
    """Ways, cables and walls; nothing where neither ways nor outlets are stated."""
    job = on.design.whole
    if not job.vehicle.ways and not job.outlets:
        return []
    return [on.text("First fix", on.head), *_ways(on), *_cables(on), *_walls(on)]


def _ways(on: PackPages) -> list[Any]:
    found = ways_filled(on.design)
    if not found:
        return [on.text("No wire ways are stated: lengths are along the axes.")]
    rows = [["Way", "From, to", "Length", "Through", "Filled", "Cables in it"]]
    for one in found:
        way = one.way
        rows.append(
            [
                f"{way.tag} {way.name}",
                f"{way.start}, {way.end}",
                show(way.length_m, "m", on.system),
                way.zone,
                f"{show(one.fill_share.value, '1')} of {show(one.allowed_share, '1')} allowed",
                ", ".join(cable.tag for cable in one.cables) or "none",
            ]
        )
    return [on.table(rows, (0.22, 0.13, 0.09, 0.1, 0.14, 0.32))]


def _cables(on: PackPages) -> list[Any]:
    rows = [["Cable", "From, to", "Carries", "Ways", "Length", ""]]
    for one in all_cables(on.design):
        through = ", ".join(way.tag for way in one.path.ways) if one.path is not None else "no way"
        rows.append(
            [
                one.tag,
                f"{one.start}, {one.end}",
                one.kind.upper(),
                through or "within one space",
                show(one.length_m.value, "m", on.system),
                "measured" if one.length_m.formula == "measured" else "drawn",
            ]
        )
    return [
        on.text("Cables, one way, with what is left at both ends. Measure before cutting."),
        on.table(rows, (0.2, 0.24, 0.1, 0.22, 0.12, 0.12)),
    ]


def _walls(on: PackPages) -> list[Any]:
    from reportlab.platypus import KeepTogether

    from weighty_axle.exports.drawings.walls_pdf import WallDrawing

    job = on.design.whole
    flow: list[Any] = []
    cables = {one.end: one for one in on.design.house.cables}
    for wall in WALLS:
        view = wall_view(on.design, wall)
        here = [mark for mark in view.marks if mark.outlet is not None]
        if not view.marks:
            continue
        drawing = WallDrawing(view, on.width, on.system)
        seen = "from above, right side up" if wall in ("floor", "ceiling") else "seen from inside"
        words = f"{wall}, {seen}" if wall in ("floor", "ceiling") else f"{wall} wall, {seen}"
        title = on.text(f"First fix: {words} ({closed_words(job, wall)}), scale 1:{drawing.scale_to}", on.head)
        flow.append(KeepTogether([title, drawing]))
        if here:
            rows = [["Outlet", "For a", "Above floor", "Along", "Across", "Tail", "Cable, from", "Serves"]]
            rows += [_row(on, mark.outlet, cables.get(mark.tag)) for mark in here if mark.outlet is not None]
            flow.append(on.table(rows, (0.2, 0.08, 0.1, 0.09, 0.09, 0.08, 0.2, 0.16)))
    return flow


def _row(on: PackPages, one: Outlet, cable: Any) -> list[str]:
    vehicle, place = on.design.whole.vehicle, one.place
    length = show(cable.length_m.value, "m", on.system) if cable is not None else "no length"
    return [
        f"{one.tag} {one.name}",
        one.kind,
        *(show(value, "m", on.system) for value in (place.z_m - vehicle.floor_m, place.x_m, place.y_m, one.tail_m)),
        f"{one.cable.upper()}, {length}, from {one.start}",
        ", ".join(one.serves) or "–",
    ]
