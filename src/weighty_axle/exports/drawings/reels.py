"""Reels and off-cuts as bars, each conductor to its own scale, with what comes off them."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.answers.cuts.reels import KindCut, ReelUse
from weighty_axle.exports.drawings.marks import HIGH_MM, WIDE_MM, Box, Line, Mark, Sheet, Words

_BAR, _ROW, _HEAD = 6.0, 10.0, 8.0


def reel_sheets(kinds: tuple[KindCut, ...]) -> tuple[Sheet, ...]:
    """Sheets of bars, conductor by conductor; hatched: waste, plain: what is left and kept."""
    sheets: list[Sheet] = []
    marks: list[Mark] = []
    down = 8.0
    for kind in kinds:
        if marks and down + _HEAD + _ROW > HIGH_MM:
            sheets.append(Sheet("Reels", tuple(marks)))
            marks, down = [], 8.0
        said = kind.problem or (
            f"{kind.bought_m.value:.1f} m bought, {kind.scrap_m.value:.2f} m waste; "
            + ("nothing better exists" if kind.proven else f"at most {kind.gap_m:.2f} m could be saved")
        )
        marks.append(Words(0, down + 3, f"{kind.words}: {said}", 2.4, bold=True))
        down += _HEAD
        longest = max((use.length_m for use in kind.reels), default=1.0)
        for use in kind.reels:
            if down + _ROW > HIGH_MM:
                sheets.append(Sheet("Reels", tuple(marks)))
                marks, down = [], 8.0
            marks += _bar(use, down, (WIDE_MM - 34) / longest)
            down += _ROW
    return (*sheets, Sheet("Reels", tuple(marks))) if marks else tuple(sheets)


def _bar(use: ReelUse, down: float, scale: float) -> Iterator[Mark]:
    yield Words(0, down + 4, use.name[:26], 2.0)
    left = 32.0
    yield Box(left, down, use.length_m * scale, _BAR, "none")
    for piece in use.off:
        wide = piece.cut_m * scale
        yield Box(left, down, wide, _BAR)
        size = min(1.8, wide / max(1, len(piece.tag)) / 0.75)
        if size > 0.8:
            yield Words(left + wide / 2, down + 2.6, piece.tag, size, "middle")
            yield Words(left + wide / 2, down + 5.0, f"{piece.cut_m:.2f}", size, "middle")
        left += wide
    rest = use.left_m * scale
    if not use.kept and rest > 0.5:
        at = 0.0
        while at < rest:
            yield Line(left + at, down + _BAR, min(left + at + _BAR / 2, left + rest), down, 0.15)
            at += 1.5
    elif use.kept:
        yield Words(left + rest / 2, down + 3.8, f"left {use.left_m:.1f} m", 1.8, "middle")
