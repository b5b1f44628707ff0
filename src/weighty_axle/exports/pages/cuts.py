"""Cuts: every conductor with both ends and labels, and the reels they come off."""

from __future__ import annotations

from typing import Any

from weighty_axle.answers.cuts.cut import Landing, colour_words
from weighty_axle.answers.cuts.labels import labels
from weighty_axle.exports.drawings.reels import reel_sheets
from weighty_axle.exports.drawings.sheet_files import SheetDrawing
from weighty_axle.exports.pages.page import PackPages
from weighty_axle.units import conductor_words, show


def pages(on: PackPages) -> list[Any]:
    """Cut list, reels, what is labelled."""
    all_states = on.build.states
    rows = [["☐", "Conductor", "Of", "Cut at", "End 1", "End 2", "Turn", "Date, initials"]]
    for one in all_states:
        cut = one.cut
        done = f"{one.done.on} {one.done.by}" if one.done is not None else ""
        rows.append(
            [
                "☒" if one.done is not None and not one.differs else "☐",
                cut.tag,
                f"{conductor_words(cut.sold_as)}, {colour_words(cut.colour)}",
                show(cut.cut_m.value, "m", on.system),
                _end(cut.start),
                _end(cut.end),
                cut.turn,
                f"{done}{'. ' + one.differs if one.differs else ''}",
            ]
        )
    made = tuple(one.cut for one in all_states)
    others = [one for one in labels(on.design, made) if one.kind != "cable"]
    return [
        on.text("Cut list", on.head),
        on.text("Measure the real way before cutting. Pull every crimp. Label both ends before it goes in."),
        on.table(rows, (0.03, 0.12, 0.16, 0.08, 0.21, 0.21, 0.08, 0.11)),
        on.text("Reels", on.head),
        on.text("Without off-cuts of the shop; the step Cuts takes these into account."),
        *(SheetDrawing(sheet, on.width) for sheet in reel_sheets(on.build.reels)),
        on.text("Labels", on.head),
        on.text(
            f"{2 * len(made)} cable labels, two for each conductor of the cut list, and these legends and warnings:"
        ),
        on.table(
            [["Label", "At", "Says"], *([one.kind, one.tag, ". ".join(one.lines)] for one in others)],
            (0.12, 0.12, 0.76),
        ),
    ]


def _end(end: Landing) -> str:
    through = f", gland {end.gland}" if end.gland else ""
    shrink = f", shrink {end.shrink}" if end.shrink else ""
    return f"{end.at}: {end.fitting}{shrink}{through}"
