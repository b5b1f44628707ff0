"""Pages all prints share: size by practice, the caution on every sheet, text and tables.

Black on white, text selectable.
"""

from __future__ import annotations

import io
from collections.abc import Callable
from datetime import date
from pathlib import Path
from typing import Any

from weighty_axle.design.table import Design
from weighty_axle.exports.letters import draw_words, marked, register_fonts
from weighty_axle.job.files.disk import replacing
from weighty_axle.job.models.parts import Practice
from weighty_axle.rules.registry import Finding
from weighty_axle.units import System

CAUTION = "A help for competent people; codes, makers' manuals and licensed trades outrank it."


def write_pdf(path: Path, title: str, foot: str, practice: Practice, story: Callable[[float], list[Any]]) -> None:
    """Write a PDF; `story` gets the width between the margins [pt] and returns the flow. Raises OSError."""
    from reportlab.lib.pagesizes import A4, letter
    from reportlab.lib.units import mm
    from reportlab.platypus import SimpleDocTemplate

    register_fonts()
    size = letter if practice == "north_american" else A4
    margin = 16 * mm
    whole = io.BytesIO()
    document = SimpleDocTemplate(
        whole,
        pagesize=size,
        leftMargin=margin,
        rightMargin=margin,
        topMargin=18 * mm,
        bottomMargin=18 * mm,
        title=title,
        author="Weighty Axle",
        invariant=1,
    )

    def frame(canvas: Any, _document: Any) -> None:
        draw_words(canvas, margin, 10 * mm, f"{foot} · Weighty Axle", "B612", 7.5)
        draw_words(canvas, size[0] - margin, 10 * mm, f"Page {canvas.getPageNumber()}", "B612", 7.5, "right")
        draw_words(canvas, size[0] / 2, size[1] - 11 * mm, CAUTION, "B612", 7.5, "middle")

    document.build(story(size[0] - 2 * margin), onFirstPage=frame, onLaterPages=frame)
    with replacing(path) as file:
        file.write(whole.getbuffer())


class Pages:
    """Styles, paragraphs and tables of a print that is `width` wide [pt]."""

    def __init__(self, width: float) -> None:
        from reportlab.lib.styles import ParagraphStyle

        self.width = width
        self.body = ParagraphStyle("body", fontName="B612", fontSize=9, leading=12.5)
        self.small = ParagraphStyle("small", fontName="B612", fontSize=7.5, leading=10)
        self.head = ParagraphStyle("head", fontName="B612-Bold", fontSize=13, leading=17, spaceBefore=8, spaceAfter=5)
        self.title = ParagraphStyle("title", fontName="B612-Bold", fontSize=22, leading=28)

    def text(self, words: str, style: Any = None) -> Any:
        """A paragraph."""
        from reportlab.platypus import Paragraph

        style = style or self.body
        return Paragraph(marked(words, style.fontName), style)

    def table(self, rows: list[list[str]], shares: tuple[float, ...], *, write_pt: float = 0.0) -> Any:
        """A table with a heading row; columns by share of the width; `write_pt` gives rows that are filled in by hand
        their height.
        """
        from reportlab.lib import colors
        from reportlab.platypus import Table, TableStyle

        cells = [[self.text(cell, self.small) for cell in row] for row in rows]
        heights = [None, *([write_pt] * (len(rows) - 1))] if write_pt else None
        table = Table(
            cells,
            colWidths=[self.width * share for share in shares],
            rowHeights=heights,
            repeatRows=1,
            hAlign="LEFT",
            splitInRow=1,
        )
        ruled = (
            [("INNERGRID", (0, 1), (-1, -1), 0.3, colors.grey), ("BOX", (0, 1), (-1, -1), 0.3, colors.grey)]
            if write_pt
            else []
        )
        table.setStyle(
            TableStyle(
                [
                    ("LINEBELOW", (0, 0), (-1, 0), 1.0, colors.black),
                    ("LINEBELOW", (0, 1), (-1, -1), 0.3, colors.grey),
                    ("VALIGN", (0, 0), (-1, -1), "TOP"),
                    ("TOPPADDING", (0, 0), (-1, -1), 2),
                    ("BOTTOMPADDING", (0, 0), (-1, -1), 2),
                    *ruled,
                ]
            )
        )
        return table


class PackPages(Pages):
    """Pages of the pack: what they print, for whom, in which units."""

    def __init__(
        self, design: Design, findings: tuple[Finding, ...], today: date, system: System, width: float
    ) -> None:
        super().__init__(width)
        self.design, self.findings, self.today, self.system = design, findings, today, system
