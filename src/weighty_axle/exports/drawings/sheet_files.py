"""Sheets of marks as files: SVG for browsers, DXF for drawing programs, and on PDF pages."""

from __future__ import annotations

import io
import os
import sys
import tempfile
from importlib import import_module
from typing import Any, Literal
from xml.sax.saxutils import escape, quoteattr

from reportlab.platypus import Flowable

from weighty_axle.exports.drawings.marks import Box, Cells, Dot, Line, Mark, Sheet, Words
from weighty_axle.exports.letters import draw_words

_PLAIN = str.maketrans({"−": "-", "…": "...", "–": "-"})
"""Signs of ours that not every reader of DXF knows; other letters are written as the format escapes them."""


_APART_MM = 14.0
_HEAD_MM = 8.0
_TALLEST_PT = 660.0
"""Room between the margins of the shorter kind of paper, the heading of the part taken off."""


_PT = 72 / 25.4
_SIDES: dict[str, Literal["left", "middle", "right"]] = {"start": "left", "middle": "middle", "end": "right"}
_CAP = 0.72
"""Height of capital letters over the size of a font, so that sizes in millimetres are those of letters."""


def sheets_svg(sheets: tuple[Sheet, ...], title: str) -> bytes:
    """All sheets below one another, each in a group with its title; black on white."""
    high = sum(sheet.high_mm + _APART_MM for sheet in sheets) + _APART_MM
    wide = max((sheet.wide_mm for sheet in sheets), default=0.0) + 20
    down = 0.0
    lines = [
        '<?xml version="1.0" encoding="UTF-8"?>',
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide:g}mm" height="{high:g}mm" '
        f'viewBox="-10 -10 {wide:g} {high:g}" font-family="B612, sans-serif">',
        f"<title>{escape(title)}</title>",
        f'<rect x="-10" y="-10" width="{wide:g}" height="{high:g}" fill="white"/>',
    ]
    for at, sheet in enumerate(sheets):
        lines.append(f'<g transform="translate(0 {down:.2f})" id="sheet-{at + 1}">')
        down += sheet.high_mm + _APART_MM
        lines.append(_svg(Words(0, 0, sheet.title, 3.2, bold=True)))
        lines += [_svg(mark) for mark in sheet.marks]
        lines.append("</g>")
    return "\n".join([*lines, "</svg>", ""]).encode()


def _svg(mark: Mark) -> str:
    match mark:
        case Line():
            dash = ' stroke-dasharray="1.5 1"' if mark.dashed else ""
            ends = f'x1="{mark.x1:.2f}" y1="{mark.y1:.2f}" x2="{mark.x2:.2f}" y2="{mark.y2:.2f}"'
            return f'<line {ends} stroke="black" stroke-width="{mark.wide:g}"{dash}/>'
        case Box():
            size = f'width="{mark.wide:.3f}" height="{mark.high:.3f}"'
            look = f' fill="{mark.fill}" stroke="black" stroke-width="0.25"' if mark.fill != "black" else ""
            return f'<rect x="{mark.x:.3f}" y="{mark.y:.3f}" {size}{look}/>'
        case Cells():
            high = f"v{mark.high:.3f}"
            path = "".join(f"M{x:.3f} {y:.3f}h{wide:.3f}{high}h{-wide:.3f}z" for x, y, wide in mark.runs)
            return f'<path d="{path}"/>'
        case Dot():
            ring = ' fill="none" stroke="black" stroke-width="0.25"' if mark.ring else ""
            return f'<circle cx="{mark.x:.2f}" cy="{mark.y:.2f}" r="{mark.radius:g}"{ring}/>'
        case Words():
            bold = ' font-weight="bold"' if mark.bold else ""
            anchor = f" text-anchor={quoteattr(mark.anchor)}"
            place = f'x="{mark.x:.2f}" y="{mark.y:.2f}" font-size="{mark.size / _CAP:.2f}"'
            return f"<text {place}{anchor}{bold}>{escape(mark.text)}</text>"


def sheets_dxf(sheets: tuple[Sheet, ...]) -> bytes:
    """All sheets beside one another in millimetres, on layers for wires, parts, joints and words."""
    _import_quietly()
    from ezdxf import units
    from ezdxf._options import options
    from ezdxf.enums import TextEntityAlignment
    from ezdxf.filemanagement import new

    options.write_fixed_meta_data_for_testing = True  # the same drawing is the same file
    document = new("R2000", setup=False)  # the last kind whose letters every reader takes alike
    document.units = units.MM
    for name in ("WIRES", "PARTS", "JOINTS", "WORDS"):
        document.layers.add(name)
    document.linetypes.add("LONG_DASHED", [2.5, 1.5, -1.0])
    document.styles.add("PLAIN", font="arial.ttf")
    space = document.modelspace()
    aligned = {
        "start": TextEntityAlignment.LEFT,
        "middle": TextEntityAlignment.CENTER,
        "end": TextEntityAlignment.RIGHT,
    }
    across = -_APART_MM
    for sheet in sheets:
        across += _APART_MM
        for mark in (Words(0, 0, sheet.title, 3.2, bold=True), *sheet.marks):
            match mark:
                case Line():
                    look = {"layer": "WIRES", "lineweight": round(mark.wide * 100) if mark.wide in (0.25, 0.5) else 100}
                    if mark.dashed:
                        look["linetype"] = "LONG_DASHED"
                    space.add_line((across + mark.x1, -mark.y1), (across + mark.x2, -mark.y2), dxfattribs=look)
                case Box():
                    x, y = across + mark.x, -mark.y
                    corners = [(x, y), (x + mark.wide, y), (x + mark.wide, y - mark.high), (x, y - mark.high)]
                    space.add_lwpolyline(corners, close=True, dxfattribs={"layer": "PARTS"})
                case Cells():
                    for left, top, wide in mark.runs:
                        x, y = across + left, -top
                        corners = [(x, y), (x + wide, y), (x + wide, y - mark.high), (x, y - mark.high)]
                        space.add_lwpolyline(corners, close=True, dxfattribs={"layer": "PARTS"})
                case Dot():
                    space.add_circle((across + mark.x, -mark.y), mark.radius, dxfattribs={"layer": "JOINTS"})
                case Words():
                    plain = mark.text.translate(_PLAIN)
                    words = space.add_text(plain, height=mark.size, dxfattribs={"layer": "WORDS", "style": "PLAIN"})
                    words.set_placement((across + mark.x, -mark.y), align=aligned[mark.anchor])
        across += sheet.wide_mm
    file = io.StringIO()
    document.write(file)
    return file.getvalue().encode(document.output_encoding, "dxfreplace")


def _import_quietly() -> None:
    """The library looks for fonts when it is first imported, and keeps what it found in the user's folder:
    nothing of that is wanted here.
    """
    if "ezdxf" in sys.modules:
        return
    before = os.environ.get("XDG_CACHE_HOME")
    with tempfile.TemporaryDirectory() as nowhere:
        os.environ["XDG_CACHE_HOME"] = nowhere
        try:
            import_module("ezdxf")
        finally:
            if before is None:
                del os.environ["XDG_CACHE_HOME"]
            else:
                os.environ["XDG_CACHE_HOME"] = before


class SheetDrawing(Flowable):
    """A sheet on a PDF page, as large as the page lets it be."""

    def __init__(self, sheet: Sheet, width: float) -> None:
        super().__init__()
        self.sheet = sheet
        self.scale = min(width / sheet.wide_mm, _TALLEST_PT / (sheet.high_mm + _HEAD_MM))
        self.width, self.height = width, (sheet.high_mm + _HEAD_MM) * self.scale

    def draw(self) -> None:
        """Draw on the flowable's own canvas (reportlab calls this)."""
        pen = Pen(self.canv, self.scale, 0.0, self.height - _HEAD_MM / 2 * self.scale)
        for mark in (Words(0, 0, self.sheet.title, 3.2, bold=True), *self.sheet.marks):
            pen.put(mark)


class Pen:
    """Marks on a canvas: points of it to a millimetre, and where the upper left corner is [pt]."""

    def __init__(self, canvas: Any, scale: float, left: float, top: float) -> None:
        self.canvas, self.scale, self.left, self.top = canvas, scale, left, top

    def _at(self, x: float, y: float) -> tuple[float, float]:
        return self.left + x * self.scale, self.top - y * self.scale

    def put(self, mark: Mark) -> None:
        """Draw one mark."""
        canvas = self.canvas
        canvas.setStrokeGray(0)
        match mark:
            case Line():
                canvas.setDash(*((3, 2) if mark.dashed else ()))
                canvas.setLineWidth(mark.wide * _PT)
                canvas.line(*self._at(mark.x1, mark.y1), *self._at(mark.x2, mark.y2))
            case Box():
                canvas.setDash()
                canvas.setLineWidth(0.25 * _PT)
                canvas.setFillGray(0 if mark.fill == "black" else 1)
                x, y = self._at(mark.x, mark.y + mark.high)
                wide, high = mark.wide * self.scale, mark.high * self.scale
                canvas.rect(x, y, wide, high, fill=mark.fill != "none", stroke=mark.fill != "black")
            case Cells():
                canvas.setFillGray(0)
                path = canvas.beginPath()
                for left, top, wide in mark.runs:
                    path.rect(*self._at(left, top + mark.high), wide * self.scale, mark.high * self.scale)
                canvas.drawPath(path, stroke=0, fill=1)
            case Dot():
                canvas.setFillGray(0)
                canvas.setLineWidth(0.25 * _PT)
                canvas.circle(*self._at(mark.x, mark.y), mark.radius * self.scale, fill=not mark.ring, stroke=mark.ring)
            case Words():
                canvas.setFillGray(0)
                x, y = self._at(mark.x, mark.y)
                side: Literal["left", "middle", "right"] = _SIDES[mark.anchor]
                font = "B612-Bold" if mark.bold else "B612"
                draw_words(canvas, x, y, mark.text, font, mark.size / _CAP * self.scale, side)
