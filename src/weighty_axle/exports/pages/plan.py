"""Plan: who does what and when, tools, boards with their holes, what was written down."""

from __future__ import annotations

from datetime import date
from pathlib import Path
from typing import Any

from weighty_axle.answers.plan.board import board_plans
from weighty_axle.answers.plan.plan import Plan, Planned
from weighty_axle.answers.plan.tools import tools
from weighty_axle.answers.plan.torques import joints_due
from weighty_axle.design.table import Design
from weighty_axle.exports.drawings.board import board_sheet, hole_rows
from weighty_axle.exports.drawings.gantt import gantt_sheets
from weighty_axle.exports.drawings.sheet_files import SheetDrawing
from weighty_axle.exports.pages.page import PackPages, Pages, write_pdf


def pages(on: PackPages) -> list[Any]:
    """Bars, tasks, tools, boards, joints."""
    found = on.build.planned
    people = ", ".join(f"{one.tag} {one.name}" for one in found.workers)
    flow = [
        on.text("Work plan", on.head),
        on.text(f"{people}. From {found.starts.isoformat()} to {found.ends.isoformat()}; {found.days.limit}."),
        *(on.text(words) for words in found.problems),
        *(SheetDrawing(sheet, on.width) for sheet in gantt_sheets(found)),
        _tasks(on, found),
        on.text("Tools for this job", on.head),
        on.table(
            [["☐", "Tool", "Must", "For"], *(["☐", one.name, one.must, one.because] for one in tools(on.design))],
            (0.04, 0.34, 0.3, 0.32),
        ),
    ]
    for board in board_plans(on.design):
        holes = [
            [str(n), f"{hole.x_mm:.1f}", f"{hole.y_mm:.1f}", f"{hole.hole_mm:g}", hole.tag, why]
            for n, hole, why in hole_rows(board)
        ]
        flow += [
            on.text(f"Board {board.tag} {board.name}", on.head),
            on.text(
                f"{board.plate}, {board.wide_mm:.0f} × {board.high_mm:.0f} mm; {board.mass_kg.value:.1f} kg without "
                f"cables. It {board.door}. Bends of its thickest conductor: {board.bend_mm.value:.0f} mm."
            ),
            *(on.text(fault) for fault in board.faults),
            SheetDrawing(board_sheet(board, table=False), on.width),
            on.table([["Hole", "Across", "Up", "ø mm", "For", ""], *holes], (0.08, 0.12, 0.12, 0.1, 0.2, 0.38)),
        ]
    return [*flow, *_joints(on), *_log(on)]


def _tasks(on: Pages, found: Plan) -> Any:
    rows = [["☐", "When", "Who", "Task", "h", "After", "Waits for"]]
    rows += [
        [
            "☒" if one.done else "☐",
            f"{one.starts:%Y-%m-%d %H:%M}",
            one.who,
            f"{one.task.words}{' (critical)' if one.critical else ''}. {one.task.how}".strip(),
            f"{one.task.hours_h.value:g}",
            ", ".join(one.task.after[:4]) + (f" and {len(one.task.after) - 4} more" if len(one.task.after) > 4 else ""),
            f"{one.waits_for}, {one.waits_until}" if one.waits_for else "",
        ]
        for one in found.planned
    ]
    return on.table(rows, (0.03, 0.14, 0.06, 0.36, 0.05, 0.2, 0.16))


def _joints(on: PackPages) -> list[Any]:
    due = joints_due(on.design)
    if not due:
        return []
    rows = [["☐", "Joint", "At", "Stud", "N m", "Tightened to, who, when", "Looked at"]]
    rows += [
        [
            "☒" if one.record is not None else "☐",
            one.key,
            one.at,
            one.stud,
            f"{one.wanted_nm:g}",
            f"{one.record.torque_nm:g}, {one.record.by}, {one.record.on}" if one.record is not None else "",
            one.record.seen_by if one.record is not None else "",
        ]
        for one in due
    ]
    return [
        on.text("Joints: torque and record", on.head),
        on.text("The value on the part wins. Tighten, mark, write down; nothing is energised before all are."),
        on.table(rows, (0.03, 0.2, 0.2, 0.08, 0.08, 0.27, 0.14)),
    ]


def _log(on: PackPages) -> list[Any]:
    entries = on.design.whole.build.log
    if not entries:
        return []
    rows = [["When", "By", "About", "Note", "Photo"]]
    rows += [[one.on, one.by, one.about, one.words, one.photo] for one in entries]
    return [on.text("Build log", on.head), on.table(rows, (0.12, 0.12, 0.18, 0.4, 0.18))]


def today_of(found: Plan, who: str, day: date) -> tuple[Planned, ...]:
    """What somebody does on a day, in order; empty for anybody."""
    return tuple(
        one
        for one in found.planned
        if not one.done
        and (not who or one.who == who)
        and any(starts.date() <= day <= ends.date() for starts, ends in one.stretches)
    )


def write_today(design: Design, found: Plan, who: str, day: date, path: Path) -> Path:
    """One person's list for a day: tasks, how, parts to have at hand, hours to write in. Raises OSError."""
    name = next((one.name for one in found.workers if one.tag == who), "Everybody")

    def story(width: float) -> list[Any]:
        on = Pages(width)
        some = today_of(found, who, day)
        rows = [["☐", "From, to", "Task", "How", "Have at hand", "Hours"]]
        rows += [
            [
                "☐",
                f"{one.starts:%H:%M} to {one.ends:%H:%M}"
                if one.starts.date() == one.ends.date() == day
                else f"{one.starts:%d %b %H:%M} to {one.ends:%d %b %H:%M}",
                one.task.words,
                one.task.how,
                ", ".join(one.task.parts[:10]),
                "",
            ]
            for one in some
        ]
        flow = [on.text(f"{name}: {day:%A}, {day.isoformat()}", on.title), on.text(design.whole.name)]
        if not some:
            return [*flow, on.text("Nothing is planned for this day.")]
        return [*flow, on.table(rows, (0.04, 0.14, 0.26, 0.24, 0.24, 0.08), write_pt=38)]

    foot = f"{design.whole.name} · {day.isoformat()}"
    write_pdf(path, f"{name}, {day.isoformat()}", foot, design.whole.practice, story)
    return path
