"""The long section on a PDF page: black, white and hatching-free greys that survive a photocopier."""

from __future__ import annotations

from typing import Any

from reportlab.platypus import Flowable

from weighty_axle.design.table import Design
from weighty_axle.exports.drawings.long_section import (
    WHEEL_RADIUS_M,
    AxleMark,
    Role,
    Section,
    long_section,
    placed_labels,
)
from weighty_axle.exports.letters import draw_words, runs, width_of
from weighty_axle.units import System, show

_FILL: dict[Role, float | None] = {
    "ground": None,
    "body": None,
    "floor": None,
    "bay": 0.96,
    "module": 0.25,
    "obstacle": 0.85,
    "pack": 0.35,
    "unit": 0.75,
    "fitting": 0.92,
    "route": None,
    "wheel": 0.9,
    "coupling": 0.3,
    "zone": None,
}
_BELOW_PT = 44
_TALLEST_PT = 300
_SMALL = ("B612", 4.5)


class SectionDrawing(Flowable):
    """The section to scale over the full width, with axle loads under it."""

    def __init__(self, design: Design, width: float, system: System) -> None:
        super().__init__()
        self.section: Section = long_section(design)
        self.system = system
        # A slipped height makes the drawing small, not larger than its page.
        self.scale = min(width / (self.section.right_m - self.section.left_m), _TALLEST_PT / self.section.top_m)
        self.width = width
        self.height = self.section.top_m * self.scale + _BELOW_PT

    def _at(self, x_m: float, z_m: float) -> tuple[float, float]:
        return (x_m - self.section.left_m) * self.scale, _BELOW_PT + z_m * self.scale

    def draw(self) -> None:
        """Draw on the flowable's own canvas (reportlab calls this)."""
        canvas = self.canv
        for shape in self.section.shapes:
            self._shape(canvas, shape.role, shape.points, shape.closed, shape.label)
        self._labels(canvas)
        for mark in self.section.axles:
            self._mark(canvas, mark)

    def _shape(
        self, canvas: Any, role: Role, points: tuple[tuple[float, float], ...], closed: bool, label: str
    ) -> None:
        canvas.setLineWidth(1.0 if role in ("body", "wheel") else 0.5)
        canvas.setDash(*((2, 2) if role in ("route", "zone") else ()))
        fill = _FILL[role]
        canvas.setFillGray(1.0 if fill is None else fill)
        if role == "wheel":
            x, y = self._at(*points[0])
            canvas.circle(x, y, WHEEL_RADIUS_M * self.scale, fill=1)
            return
        path = canvas.beginPath()
        path.moveTo(*self._at(*points[0]))
        for point in points[1:]:
            path.lineTo(*self._at(*point))
        if closed:
            path.close()
        canvas.drawPath(path, fill=int(fill is not None and closed), stroke=1)
        if label and role == "obstacle":
            (x0, z0), (x1, z1) = points[0], points[2]
            middle, bottom = self._at((x0 + x1) / 2, (z0 + z1) / 2)
            canvas.setFillGray(0)
            draw_words(canvas, middle, bottom - 1.5, label, *_SMALL, "middle")

    def _labels(self, canvas: Any) -> None:
        """Names of units and bays; where they would hide one another they are led out on a line."""
        canvas.setDash()
        canvas.setLineWidth(0.3)
        for label in placed_labels(self.section, lambda text: (_wide(text) + 2) / self.scale, 5 / self.scale):
            x, y = self._at(label.x_m, label.z_m)
            if label.leads_to is not None:
                wide = _wide(label.text)
                canvas.line(x, y, *self._at(*label.leads_to))
                canvas.setFillGray(1)
                canvas.rect(x - wide / 2 - 0.5, y - 0.5, wide + 1, 5, fill=1, stroke=0)
            canvas.setFillGray(0)
            draw_words(canvas, x, y + 0.5, label.text, *_SMALL, "middle")

    def _mark(self, canvas: Any, mark: AxleMark) -> None:
        x, _ = self._at(mark.x_m, 0)
        half = mark.bar_m * self.scale / 2
        canvas.setDash()
        canvas.setLineWidth(0.6)
        canvas.rect(x - half, 26, 2 * half, 5)
        canvas.setFillGray(0.35)
        canvas.rect(x - half, 26, 2 * half * max(0.0, min(1.0, mark.load_kg / mark.limit_kg)), 5, fill=1)
        canvas.setFillGray(0)
        draw_words(canvas, x, 17, f"{mark.tag}: {show(mark.load_kg, 'kg', self.system)}", "B612-Bold", 6.5, "middle")
        draw_words(canvas, x, 9, f"of {show(mark.limit_kg, 'kg', self.system)}", "B612", 6, "middle")


def _wide(text: str) -> float:
    return sum(width_of(part, font, _SMALL[1]) for font, part in runs(text, _SMALL[0]))
