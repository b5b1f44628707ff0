"""The settings sheets: every unit with room for a tick, day and initials; what was changed since."""

from __future__ import annotations

from datetime import date
from pathlib import Path
from typing import Any

from weighty_axle.answers.settings.setting import Setting, UnitSheet
from weighty_axle.answers.settings.sheet import alike, changes, sheets
from weighty_axle.design.table import Design
from weighty_axle.exports.pages.page import PackPages, Pages, write_pdf

MOST_ABREAST = 4
"""Units side by side: more leave no room to sign."""


def pages(on: PackPages) -> list[Any]:
    """Settings to be entered and signed, all systems."""
    return settings_flow(on, on.design)


def settings_flow(on: Pages, design: Design) -> list[Any]:
    """Sheets of the whole job, units set alike side by side, then changes."""
    flow = [
        on.text("Settings", on.head),
        on.text("Marked !: settings that hide in menus and hurt. Read each back from the unit after it is entered."),
    ]
    for group in alike(sheets(design)):
        for at in range(0, len(group), MOST_ABREAST):
            flow += _group(on, group[at : at + MOST_ABREAST])
    changed = changes(design)
    if changed:
        rows = [["Day", "Setting", "Was", "Is", "By", "Why"]]
        rows += [
            [one.entry.on, one.setting, one.old, one.entry.said, one.entry.by, one.entry.why or "not said"]
            for one in changed
        ]
        flow += [on.text("Changed since", on.head), on.table(rows, (0.12, 0.26, 0.12, 0.12, 0.1, 0.28))]
    return flow


def _group(on: Pages, group: tuple[UnitSheet, ...]) -> list[Any]:
    from reportlab.platypus import CondPageBreak

    title = f"{', '.join(one.tag for one in group)}: {group[0].words if len(group) == 1 else _kind(group[0])}"
    ticks = min(0.4, 0.13 * len(group))
    rows = [["", "Setting", "Value", "Why", *(f"{one.tag}: entered, day, initials" for one in group)]]
    for several in zip(*(one.settings for one in group), strict=True):
        first = several[0]
        same = len({one.shown for one in several}) == 1
        value = first.shown if same else "\n".join(f"{one.group}: {one.shown}" for one in several)
        why = f"{first.why}. Else: {first.hurts}" if first.hurts else first.why
        rows.append(["!" if first.worse else "", first.words, value, why, *(_entered(one) for one in several)])
    shares = (0.03, 0.2, 0.17, 0.6 - ticks, *([ticks / len(group)] * len(group)))
    return [CondPageBreak(90), on.text(title, on.head), on.table(rows, shares)]


def _kind(sheet: UnitSheet) -> str:
    return ", ".join(sheet.words.split(", ")[:2])


def _entered(one: Setting) -> str:
    """What stands in the unit, or a line to sign."""
    if not one.entries:
        return "☐"
    last = one.entries[-1]
    said = "☒" if one.done else f"{last.said}: not as it should be"
    return " ".join(part for part in (said, last.on, last.by) if part)


def write_settings(design: Design, path: Path, *, today: date) -> Path:
    """Write the settings sheets by themselves. Raises OSError."""

    def story(width: float) -> list[Any]:
        return settings_flow(Pages(width), design)

    foot = f"{design.whole.name} · {today.isoformat()}"
    write_pdf(path, f"{design.whole.name}: settings", foot, design.whole.practice, story)
    return path
