"""The single-line drawing, cable and fuse schedules, bars with their studs, and how the parts lie on a stud."""

from __future__ import annotations

from typing import Any

from weighty_axle.answers.wiring.joints import joints
from weighty_axle.answers.wiring.schedule import guard_words, schedule
from weighty_axle.design.table import Design
from weighty_axle.exports.drawings.sheet_files import SheetDrawing
from weighty_axle.exports.drawings.single_line import single_line
from weighty_axle.exports.pages.page import PackPages
from weighty_axle.units import conductor_words, lasting, show


def pages(on: PackPages) -> list[Any]:
    """Every sheet of the drawing, then the schedules; of all systems."""
    from reportlab.platypus import CondPageBreak, Spacer

    flow: list[Any] = [on.text("Single-line drawing", on.head)]
    for sheet in single_line(on.design, on.system):
        drawing = SheetDrawing(sheet, on.width)
        flow += [CondPageBreak(drawing.height + 12), drawing, Spacer(1, 12)]
    for own in (on.design, *on.design.others):
        name = f" of {own.system.name}" if on.design.others else ""
        flow += [on.text(f"Cable schedule{name}", on.head), _cables(on, own)]
        if not own.system.shares_bank and own.guards.guards:
            flow += [on.text(f"Fuse schedule{name}", on.head), _fuses(on, own)]
            flow += [on.text(f"Bars{name}", on.head), _bars(on, own)]
    flow += [on.text("On every stud", on.head), _stacks(on)]
    return flow


def _cables(on: PackPages, own: Design) -> Any:
    rows = [["Tag", "From – to", "Conductor", "Length", "Fuse or breaker", "Drop", "Starts on", "Ends on"]]
    for one in schedule(own):
        size = conductor_words(f"{one.count} x {one.size}" if one.count > 1 else one.size)
        guard = f"{show(one.fuse_a, 'A')} {one.guard}" if one.fuse_a is not None else one.guard
        rows.append(
            [
                one.tag,
                f"{one.start} – {one.end}",
                size,
                show(one.length_m, "m", on.system),
                guard,
                show(one.drop_share, "1") if one.drop_share is not None else "–",
                conductor_words(_landed(one.start_on, one.start_nm)),
                conductor_words(_landed(one.end_on, one.end_nm)),
            ]
        )
    return on.table(rows, (0.1, 0.17, 0.1, 0.08, 0.16, 0.07, 0.16, 0.16))


def _landed(what: str, torque_nm: float | None) -> str:
    return f"{what}, {torque_nm:g} N m" if torque_nm is not None else what


def _fuses(on: PackPages, own: Design) -> Any:
    rows = [["In", "Rating", "Kind", "Short behind it", "Short at the end", "Opens then in", "Stands at"]]
    rows += [
        [
            one.tag,
            show(one.rated_a, "A"),
            guard_words(one),
            show(one.near_a.value, "A") if one.near_a is not None else "limited",
            show(one.far_a.value, "A"),
            lasting(one.opens_s.value),
            " / ".join(f"{end.at}: {end.why}" for end in one.fused_at),
        ]
        for one in own.guards.guards
    ]
    return on.table(rows, (0.11, 0.09, 0.16, 0.12, 0.12, 0.1, 0.3))


def _bars(on: PackPages, own: Design) -> Any:
    rows = [["Bar", "Studs in order", "Spare"]]
    for root in own.tree.roots:
        board = own.job.wiring.board
        spare = max(board.spare, (board.ways or 0) - len(root.studs) + 1) if board.tag == root.bar else 0
        rows.append([root.bar, ", ".join(f"{at + 1} {tag}" for at, tag in enumerate(root.studs)), str(spare)])
    return on.table(rows, (0.14, 0.76, 0.1))


def _stacks(on: PackPages) -> Any:
    """The order of the parts, from the bar or terminal outwards, once for each kind of end."""
    rows = [["Ends", "From the face outwards"]]
    found: dict[tuple[str, ...], list[str]] = {}
    for one in joints(on.design):
        for name, end in (("start", one.start), ("end", one.end)):
            if end.order:
                found.setdefault(tuple(end.order), []).append(f"{one.tag} {name}")
    for order, ends in found.items():
        words = ", ".join(part.replace("_", " ") for part in order)
        rows.append([", ".join(ends), f"{words}; nothing else between bar, fuse and lug; mark it once tight"])
    return on.table(rows, (0.5, 0.5))
