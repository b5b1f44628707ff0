"""Sheets of marks as pages of a PDF at true size, each page as large as its sheet asks for."""

from __future__ import annotations

import io
from typing import Any

from weighty_axle.exports.drawings.marks import Sheet
from weighty_axle.exports.drawings.sheet_files import Pen
from weighty_axle.exports.letters import register_fonts

PT_PER_MM = 72 / 25.4


def true_size_pdf(sheets: tuple[Sheet, ...], title: str, margin_mm: float = 0.0) -> bytes:
    """A page for every sheet, a millimetre of it a millimetre of paper."""
    from reportlab.pdfgen.canvas import Canvas

    register_fonts()
    whole = io.BytesIO()
    canvas: Any = Canvas(whole, invariant=1)
    canvas.setTitle(title)
    canvas.setAuthor("Weighty Axle")
    for sheet in sheets:
        wide, high = (value + 2 * margin_mm for value in (sheet.wide_mm, sheet.high_mm))
        canvas.setPageSize((wide * PT_PER_MM, high * PT_PER_MM))
        canvas.bookmarkPage(sheet.title)
        canvas.addOutlineEntry(sheet.title, sheet.title, 0)
        pen = Pen(canvas, PT_PER_MM, margin_mm * PT_PER_MM, (high - margin_mm) * PT_PER_MM)
        for mark in sheet.marks:
            pen.put(mark)
        canvas.showPage()
    if not sheets:
        canvas.showPage()
    canvas.save()
    return whole.getvalue()
