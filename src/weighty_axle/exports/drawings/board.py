"""A board as a drawing in true millimetres: plate, units, ducts, drilling centres from its lower left corner."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.answers.plan.board import BoardPlan, Hole
from weighty_axle.exports.drawings.marks import Box, Dot, Line, Mark, Sheet, Words

ROW_MM = 5.0


def board_sheet(board: BoardPlan, *, table: bool = True) -> Sheet:
    """The board at 1:1, seen from where it is worked at; the table of holes below it."""
    marks: list[Mark] = [*_plate(board), *_units(board), *_holes(board)]
    if table:
        marks += _table(board)
    title = f"{board.tag} {board.name}: {board.wide_mm:.0f} × {board.high_mm:.0f} mm, {board.mass_kg.value:.1f} kg"
    return Sheet(title, tuple(marks), max(board.wide_mm, 120.0))


def _down(board: BoardPlan, y_mm: float) -> float:
    """Drawings count down from the top, boards up from below; the title stands over it."""
    return 6.0 + board.high_mm - y_mm


def _plate(board: BoardPlan) -> Iterator[Mark]:
    yield Box(0, _down(board, board.high_mm), board.wide_mm, board.high_mm, "none")
    for duct in board.ducts:
        top = _down(board, duct.y_mm + duct.high_mm)
        yield Box(duct.x_mm, top, duct.wide_mm, duct.high_mm, "none")
        yield Words(duct.x_mm + 4, top + duct.high_mm / 2 + 2, "wire duct", 4)
    x, y = board.middle_mm[0], _down(board, board.middle_mm[1])
    yield Line(x - 8, y, x + 8, y, 0.5)
    yield Line(x, y - 8, x, y + 8, 0.5)
    yield Words(x + 3, y - 2, "middle of the weight", 3)


def _units(board: BoardPlan) -> Iterator[Mark]:
    for unit in board.units:
        top = _down(board, unit.y_mm + unit.high_mm)
        yield Box(unit.x_mm, top, unit.wide_mm, unit.high_mm, "none")
        size = min(8.0, unit.high_mm / 4, unit.wide_mm / max(4, len(unit.tag)) / 0.9)
        yield Words(unit.x_mm + 4, top + size + 4, unit.tag, size, bold=True)
        small = min(3.5, unit.wide_mm / max(8, len(unit.name)) / 0.7)
        yield Words(unit.x_mm + 4, top + size + 6 + small, unit.name, small)


def _holes(board: BoardPlan) -> Iterator[Mark]:
    for number, hole in enumerate(board.holes, 1):
        x, y, reach = hole.x_mm, _down(board, hole.y_mm), hole.hole_mm / 2 + 2.5
        yield Dot(x, y, hole.hole_mm / 2, ring=True)
        yield Line(x - reach, y, x + reach, y, 0.25)
        yield Line(x, y - reach, x, y + reach, 0.25)
        yield Words(x + reach, y - reach / 2, str(number), 2.6)


def hole_rows(board: BoardPlan) -> list[tuple[int, Hole, str]]:
    """Every hole with its number, and what to check of it."""
    usual = {unit.tag for unit in board.units if unit.usual_holes}
    return [
        (number, hole, "taken from its outline: hold the part against it" if hole.tag in usual else "")
        for number, hole in enumerate(board.holes, 1)
    ]


def _table(board: BoardPlan) -> Iterator[Mark]:
    top = _down(board, 0) + 8
    yield Words(0, top, "Hole, across and up from the lower left corner, diameter, for (mm)", 3, bold=True)
    for at, (number, hole, check) in enumerate(hole_rows(board), 1):
        words = f"{number}   {hole.x_mm:.1f}   {hole.y_mm:.1f}   ø {hole.hole_mm:g}   {hole.tag}   {check}"
        yield Words(0, top + at * ROW_MM, words, 2.6)
    facts = (
        f"Weighs {board.mass_kg.value:.1f} kg without cables, its middle {board.middle_mm[0]:.0f} across and "
        f"{board.middle_mm[1]:.0f} up.",
        f"Keep {board.bend_mm.value:.0f} mm for the thickest conductor to bend.",
        f"It {board.door}.",
        *board.faults,
    )
    below = top + (len(board.holes) + 2) * ROW_MM
    for at, words in enumerate(facts):
        yield Words(0, below + at * ROW_MM, words, 3)
