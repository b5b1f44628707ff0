"""Sheets of labels at true size: cable ends, sleeves, legends, warnings, each with its code; and a test page."""

from __future__ import annotations

import functools
import math
from collections.abc import Iterator
from typing import NamedTuple

from weighty_axle.answers.cuts.cut import Cut
from weighty_axle.answers.cuts.labels import LabelText, labels, plain
from weighty_axle.design.conductors import outer_mm
from weighty_axle.design.table import Design
from weighty_axle.exports.drawings.marks import Box, Cells, Line, Mark, Sheet, Words
from weighty_axle.job.models.build import Labels
from weighty_axle.reference.hardware import LabelSheet, label_sheets, shrinks

PAPER_MM = {"A4": (210.0, 297.0), "Letter": (215.9, 279.4)}
"""Paper. Source: ISO 216; ANSI Y14.1 size A."""

QUIET = 2
"""Free modules around a code on a label: four are usual, two are read where the label around it is white.

Source: ISO/IEC 18004 asks for four (recalled); the label's own margin gives the rest.
"""

SLEEVE_MM = 45.0
"""Length of a sleeve. Source: common practice, no source."""


class _Spot(NamedTuple):
    """Where a label goes on its page: upper left corner and size [mm]."""

    x: float
    y: float
    wide: float
    high: float


def label_sheets_of(design: Design, made: tuple[Cut, ...]) -> tuple[Sheet, ...]:
    """Pages in the size of their paper: cable labels, then legends and warnings, sleeves, the test page."""
    stated = design.whole.build.labels
    sheet = _sheet(stated, "Letter" if design.whole.practice == "north_american" else "A4")
    found = labels(design, made)
    cables = [one for one in found if one.kind == "cable"]
    others = [one for one in found if one.kind != "cable"]
    wide_sheet = label_sheets()["letter_10"] if sheet.page == "Letter" else label_sheets()["labels_24"]
    cut = stated.sheet == "own"
    return (
        *_pages("Cable labels", cables, sheet, outlined=cut),
        *_pages("Legends and warnings", others, _roomier(sheet, wide_sheet), outlined=cut),
        *_sleeves(made, plain(design.whole.name), sheet.page),
        _test_page(sheet),
    )


def _roomier(one: LabelSheet, other: LabelSheet) -> LabelSheet:
    return one if one.wide_mm * one.high_mm >= other.wide_mm * other.high_mm else other


def _sheet(stated: Labels, page: str) -> LabelSheet:
    if stated.sheet != "own":
        return label_sheets()[stated.sheet]
    wide, high = PAPER_MM[page]
    gap, margin = 3.0, 10.0
    across = max(1, int((wide - 2 * margin + gap) // (stated.wide_mm + gap)))
    down = max(1, int((high - 2 * margin + gap) // (stated.high_mm + gap)))
    return LabelSheet(
        key="own",
        name=f"own, {stated.wide_mm:g} × {stated.high_mm:g} mm",
        page="Letter" if page == "Letter" else "A4",
        across=across,
        down=down,
        wide_mm=stated.wide_mm,
        high_mm=stated.high_mm,
        left_mm=margin,
        top_mm=margin,
        step_x_mm=stated.wide_mm + gap,
        step_y_mm=stated.high_mm + gap,
    )


def _pages(title: str, some: list[LabelText], sheet: LabelSheet, *, outlined: bool) -> Iterator[Sheet]:
    each = sheet.across * sheet.down
    for first in range(0, len(some), each):
        marks: list[Mark] = []
        for at, one in enumerate(some[first : first + each]):
            row, column = divmod(at, sheet.across)
            spot = _Spot(
                sheet.left_mm + column * sheet.step_x_mm,
                sheet.top_mm + row * sheet.step_y_mm,
                sheet.wide_mm,
                sheet.high_mm,
            )
            if outlined:
                marks.append(Box(spot.x, spot.y, spot.wide, spot.high, "none"))
            marks += _label(one, spot)
        yield _paper(title, marks, sheet.page)


def _paper(title: str, marks: list[Mark], page: str) -> Sheet:
    """A page as large as its paper: a mark too small to be seen stands in its last corner."""
    wide, high = PAPER_MM[page]
    return Sheet(title, (*marks, Line(wide, high - 0.001, wide, high, 0.001)), wide)


def _label(one: LabelText, spot: _Spot) -> Iterator[Mark]:
    """Code at the left, words beside it, as large as they fit."""
    margin = 1.5
    side = min(spot.high - 2 * margin, spot.wide * 0.36)
    yield code_mark(one.code, spot.x + margin, spot.y + (spot.high - side) / 2, side)
    left = spot.x + margin + side + 1.0
    room = spot.x + spot.wide - margin - left
    lines = one.lines
    step = (spot.high - 2 * margin) / max(3, len(lines))
    for at, line in enumerate(lines):
        size = min(step * 0.62, 3.4 if at == 0 else 2.6, _fitting(line, room, 0.86 if at == 0 else 0.72))
        yield Words(left, spot.y + margin + step * (at + 0.75), line, max(0.7, size), bold=at == 0)


def _fitting(line: str, room_mm: float, letter: float = 0.72) -> float:
    """Height of letters at which a line fits: bold ones are about 0.86 as wide as a capital is high in this font."""
    return room_mm / max(1, len(line)) / letter


def code_mark(text: str, x: float, y: float, side_mm: float) -> Cells:
    """A QR code of a text, `side_mm` wide with its quiet zone.

    Source: ISO/IEC 18004, by segno.
    """
    size, runs = _runs(text)
    cell = side_mm / (size + 2 * QUIET)
    # A hair taller than a cell, so that no line of white shows between rows.
    return Cells(
        cell * 1.02, tuple((x + (at + QUIET) * cell, y + (down + QUIET) * cell, long * cell) for down, at, long in runs)
    )


@functools.lru_cache(maxsize=4096)
def _runs(text: str) -> tuple[int, tuple[tuple[int, int, int], ...]]:
    """Size of a code, and its black runs: row, column, length. The mask is fixed: weighing all eight takes most of the
    time, and every reader takes any.
    """
    import segno

    rows = [bytes(row) for row in segno.make(text, micro=False, error="m", boost_error=False, mask=4).matrix]
    found = []
    for down, row in enumerate(rows):
        at = 0
        while (at := row.find(1, at)) >= 0:
            end = row.find(0, at)
            end = len(row) if end < 0 else end
            found.append((down, at, end - at))
            at = end
    return len(rows), tuple(found)


def _sleeves(made: tuple[Cut, ...], job: str, page: str) -> Iterator[Sheet]:
    """Heat-shrink sleeves for both ends of every single conductor, flat, thickest first."""
    wide, high = PAPER_MM[page]
    margin, gap = 10.0, 2.0
    x = y = margin
    row = 0.0
    marks: list[Mark] = []
    singles = [cut for cut in made if cut.cores == 1 and cut.carries != "signal"]
    for cut in sorted(singles, key=lambda one: -outer_mm(one.size)):
        flat = _flat_mm(cut.size)
        for number, end in enumerate((cut.start, cut.end), 1):
            if x + SLEEVE_MM > wide - margin:
                x, y, row = margin, y + row + gap, 0.0
            if y + flat > high - margin:
                yield _paper("Sleeves", marks, page)
                marks, x, y, row = [], margin, margin, 0.0
            marks.append(Box(x, y, SLEEVE_MM, flat, "none"))
            one = LabelText(
                kind="cable", lines=(cut.tag, f"to {end.at}"), tag=cut.tag, code=f"{job}/{plain(cut.tag)}/{number}"
            )
            marks += _sleeve(one, _Spot(x, y, SLEEVE_MM, flat))
            x, row = x + SLEEVE_MM + gap, max(row, flat)
    if marks:
        yield _paper("Sleeves", marks, page)


def _sleeve(one: LabelText, spot: _Spot) -> Iterator[Mark]:
    """Words only where a code would be too small to read."""
    if spot.high >= 12:
        yield from _label(one, spot)
        return
    for at, line in enumerate(one.lines):
        size = min(spot.high / 2 * 0.6, 2.4, _fitting(line, spot.wide - 3))
        yield Words(spot.x + 1.5, spot.y + spot.high * (0.42 + 0.44 * at), line, size, bold=at == 0)


def _flat_mm(size: str) -> float:
    """A sleeve pressed flat: half of its circumference.

    Source: circle, textbook; reference/shrink.json.
    """
    cable = outer_mm(size)
    supplied = next((row.supplied_mm for row in shrinks().rows if row.supplied_mm >= 1.35 * cable), 30.0)
    return round(math.pi * supplied / 2, 1)


def _test_page(sheet: LabelSheet) -> Sheet:
    """Rulers and a square to see whether the printer keeps the size, and the outlines of the labels."""
    marks: list[Mark] = [
        Words(20, 20, "Test page: print at 100 %, no fitting to the page", 3.2, bold=True),
        Words(20, 26, "The rulers must measure 100 mm, the square 50 mm. Hold it over a sheet of labels.", 2.4),
    ]
    for at in range(0, 101, 5):
        tall = 6.0 if at % 10 == 0 else 3.0
        marks += [Line(20 + at, 40, 20 + at, 40 - tall, 0.1), Line(20, 50 + at, 20 + tall, 50 + at, 0.1)]
    marks += [Line(20, 40, 120, 40, 0.2), Line(20, 50, 20, 150, 0.2), Box(40, 60, 50, 50, "none")]
    marks += [Words(70, 34 - 2, "100 mm", 2.2), Words(58, 86, "50 mm", 2.4)]
    for row in range(sheet.down):
        for column in range(sheet.across):
            x, y = sheet.left_mm + column * sheet.step_x_mm, sheet.top_mm + row * sheet.step_y_mm
            marks.append(Box(x, y, sheet.wide_mm, sheet.high_mm, "none"))
    return _paper(f"Test page, {sheet.name}", marks, sheet.page)
