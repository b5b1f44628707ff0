"""Marks of drawings in millimetres, which become SVG, DXF and PDF alike."""

from __future__ import annotations

from typing import Literal

from msgspec import Struct

WIDE_MM, HIGH_MM = 178.0, 240.0
"""Room on a sheet of either size of paper, margins and heading taken off."""


Anchor = Literal["start", "middle", "end"]


class Line(Struct, frozen=True):
    """A line between two points, so wide [mm]."""

    x1: float
    y1: float
    x2: float
    y2: float
    wide: float = 0.25
    dashed: bool = False


class Box(Struct, frozen=True):
    """An upright box, white inside, black, or with what is under it showing."""

    x: float
    y: float
    wide: float
    high: float
    fill: Literal["white", "black", "none"] = "white"


class Dot(Struct, frozen=True):
    """A round dot: a joint, or the ring of a hole."""

    x: float
    y: float
    radius: float
    ring: bool = False


class Words(Struct, frozen=True):
    """Words whose base line begins, has its middle or ends at a point; `size` is the height of letters [mm]."""

    x: float
    y: float
    text: str
    size: float = 2.2
    anchor: Anchor = "start"
    bold: bool = False


class Cells(Struct, frozen=True):
    """Black level runs of one height, as a code has them: (left, top, wide) of each."""

    high: float
    runs: tuple[tuple[float, float, float], ...]


Mark = Line | Box | Dot | Words | Cells


class Sheet(Struct, frozen=True):
    """A sheet: its title, marks in millimetres from the upper left corner, and how wide it is."""

    title: str
    marks: tuple[Mark, ...]
    wide_mm: float = WIDE_MM

    @property
    def high_mm(self) -> float:
        """How far down its marks go."""
        return max((_lowest(mark) for mark in self.marks), default=0.0)


def _lowest(mark: Mark) -> float:
    match mark:
        case Line():
            return max(mark.y1, mark.y2)
        case Box():
            return mark.y + mark.high
        case Cells():
            return max((top for _, top, _ in mark.runs), default=0.0) + mark.high
        case _:
            return mark.y + 1
