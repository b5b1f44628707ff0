"""A wall on a PDF page, to a round scale: bays behind it, outlets as crosses with tag and height."""

from __future__ import annotations

from reportlab.lib.units import mm
from reportlab.platypus import Flowable

from weighty_axle.exports.drawings.walls import WallMark, WallView, led_out
from weighty_axle.exports.letters import draw_words, width_of
from weighty_axle.units import System, show

_SCALES = (5, 10, 20, 25, 30, 40, 50, 75, 100, 150, 200)
_TALLEST_PT = 260.0
_SMALL = ("B612", 5.5)


class WallDrawing(Flowable):
    """One face; `scale_to` is how many metres on the vehicle are one on paper."""

    def __init__(self, view: WallView, width: float, system: System) -> None:
        super().__init__()
        self.view, self.system = view, system
        self.scale_to = next(
            (
                one
                for one in _SCALES
                if view.wide_m * 1000 / one * mm <= width and view.high_m * 1000 / one * mm <= _TALLEST_PT
            ),
            400,
        )
        self._pt = 1000 / self.scale_to * mm
        self.width, self.height = width, view.high_m * self._pt + 36

    def draw(self) -> None:
        """Draw on the flowable's own canvas (reportlab calls this)."""
        canvas, view, pt, low = self.canv, self.view, self._pt, 24.0
        canvas.setLineWidth(1.0)
        canvas.rect(0, low, view.wide_m * pt, view.high_m * pt)
        canvas.setLineWidth(0.4)
        canvas.setDash(2, 2)
        for left, right, bottom, top, tag in view.boxes:
            if tag:
                canvas.rect(left * pt, low + bottom * pt, (right - left) * pt, (top - bottom) * pt)
                draw_words(canvas, left * pt + 2, low + top * pt - 7, tag, "B612", 5.5)
        canvas.setDash()
        for metre in range(int(view.wide_m) + 1):
            # Seen from inside, the front is at the right of the left wall.
            x = (view.wide_m - metre if view.wall == "left" else metre) * pt
            canvas.line(x, low, x, low - 3)
            draw_words(canvas, x, low - 8, f"{metre} m" if metre == 0 else str(metre), "B612", 5, "middle")
        for mark, label_m in led_out(view, lambda text: (width_of(text, *_SMALL) + 4) / pt, self._words):
            x, y = mark.across_m * pt, low + mark.up_m * pt
            over = mark.outlet is not None
            label = label_m * pt, low + (view.high_m * pt + 4 if over else -18)
            canvas.setLineWidth(0.8)
            if over:
                canvas.line(x - 3, y, x + 3, y)
                canvas.line(x, y - 3, x, y + 3)
            else:
                canvas.circle(x, y, 3)
            canvas.setLineWidth(0.3)
            canvas.line(x, y, label[0], label[1] + (-1 if over else 6))
            draw_words(canvas, *label, self._words(mark), *_SMALL, "middle")

    def _words(self, mark: WallMark) -> str:
        return f"{mark.tag} {show(mark.height_m, 'm', self.system)}"
