"""Pages all prints share: size by practice, the caution on every sheet, text and tables.

Black on white, text selectable.
"""

from __future__ import annotations

import functools
import io
from collections.abc import Callable
from datetime import date
from pathlib import Path
from typing import Any

from weighty_axle.design.table import Design
from weighty_axle.exports.build_pack import BuildPack
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


@functools.cache
def _told() -> Any:
    """A paragraph that notes on which page its words came to stand, with a bookmark where it is a heading.

    Made when first asked for: start-up does without reportlab.
    """
    from reportlab.platypus import Paragraph

    class Told(Paragraph):  # type: ignore[misc, unused-ignore]
        """Tells the page it is drawn on; what is split off it tells nothing more."""

        words = ""
        seen: dict[str, list[int]] | None = None
        heading = False

        def draw(self) -> None:
            """Draw, and note the page (reportlab calls this)."""
            page = self.canv.getPageNumber()
            if self.seen is not None:
                for word in {part.strip(".,:;()") for part in self.words.split()}:
                    pages = self.seen.setdefault(word, [])
                    if page not in pages:
                        pages.append(page)
            if self.heading:
                key = f"{page} {self.words}"
                self.canv.bookmarkPage(key)
                self.canv.addOutlineEntry(self.words, key, 0, 0)
            super().draw()

    return Told


class Pages:
    """Styles, paragraphs and tables of a print that is `width` wide [pt]."""

    def __init__(self, width: float) -> None:
        from reportlab.lib.styles import ParagraphStyle

        self.width = width
        self.seen: dict[str, list[int]] = {}
        self.body = ParagraphStyle("body", fontName="B612", fontSize=9, leading=12.5)
        self.small = ParagraphStyle("small", fontName="B612", fontSize=7.5, leading=10)
        self.head = ParagraphStyle("head", fontName="B612-Bold", fontSize=13, leading=17, spaceBefore=8, spaceAfter=5)
        self.title = ParagraphStyle("title", fontName="B612-Bold", fontSize=22, leading=28)

    def text(self, words: str, style: Any = None) -> Any:
        """A paragraph."""
        style = style or self.body
        made = _told()(marked(words, style.fontName), style)
        made.words, made.seen, made.heading = words, self.seen, style is self.head or style is self.title
        return made

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
        self, design: Design, findings: tuple[Finding, ...], today: date, system: System, width: float, build: BuildPack
    ) -> None:
        super().__init__(width)
        self.design, self.findings, self.today, self.system = design, findings, today, system
        self.build = build
