"""All loads together: stacked mean power over the day under the outline of everything at once, with the ceilings."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPen, QPolygonF
from PySide6.QtWidgets import QWidget

from weighty_axle.design.brief import Day
from weighty_axle.design.inverters import clock
from weighty_axle.desk.session import Session
from weighty_axle.desk.steps.brief.ribbons import END, LABELS
from weighty_axle.desk.text import tr
from weighty_axle.desk.theme import look
from weighty_axle.desk.widgets.painting import RIGHT, Canvas, words
from weighty_axle.units import show

# Channel of the day's steps, its words, its pattern: fed from the bottom up.
_FEEDS = (
    (4, "DC", Qt.BrushStyle.Dense2Pattern), (3, "AC", Qt.BrushStyle.SolidPattern), (0, "L1", Qt.BrushStyle.SolidPattern),
    (1, "L2", Qt.BrushStyle.BDiagPattern), (2, "240 V", Qt.BrushStyle.DiagCrossPattern),
)  # fmt: skip


class Silhouette(Canvas):
    """Under the ribbons, on the same hours."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.day_kind = session.shown.job.day_kinds[0].tag
        self.setMinimumHeight(116)
        self.setAccessibleName(tr("Power of all loads together over the day"))

    def draw(self, painter: QPainter) -> None:
        design = self._session.shown.design
        day = design.brief.days[self.day_kind]
        self._facts(painter, day)
        ceilings = [(tr("inverters, continuous at bay heat"), sum(leg.continuous_va.value for leg in design.inverters.legs), look().stop)]
        ceilings += [
            (row.continuous_w.name.replace("Power from ", ""), row.continuous_w.value, look().check) for row in design.inverters.sources[1:2]
        ]
        totals = [sum(powers) for powers in zip(*day.running_w.values, strict=True)]
        top = 1.12 * max(500.0, max(totals), *(value for _, value, _ in ceilings if value < 2.5 * max(max(totals), 500.0)))
        area = QRectF(LABELS, 18, self.width() - LABELS - END, self.height() - 24)
        self._axis(painter, area, top)
        self._stack(painter, area, top, day)
        self._outline(painter, area, top, day, totals)
        for text, value, colour in ceilings:
            y = area.bottom() - area.height() * value / top
            if y < area.top():
                continue
            painter.setPen(QPen(QColor(colour), 1.4, Qt.PenStyle.DashLine))
            painter.drawLine(QPointF(area.left(), y), QPointF(area.right(), y))
            words(painter, QRectF(area.left() + 4, y - 14, 320, 13), f"{text}  {show(value, 'W')}", size=7.5, colour=colour)

    def _facts(self, painter: QPainter, day: Day) -> None:
        now = look()
        words(painter, QRectF(4, 0, LABELS - 40, 18), tr("All together"), size=10, bold=True)
        words(painter, QRectF(4, 17, LABELS - 44, 26), show(day.peak_ac_w.value, "W"), size=14, bold=True)
        names = {load.tag: load.name for load in self._session.shown.job.loads}
        self.figures.append((QRectF(4, 17, LABELS - 44, 26), day.peak_ac_w))
        if day.peak_ac_w.value > 0:
            leading = ", ".join(names[tag] for tag in day.peak_loads[:3])
            text = tr("highest AC power, {time}: {loads}").format(time=clock(day.peak_at_min), loads=leading)
            words(painter, QRectF(4, 42, LABELS - 46, 48), text, size=8, colour=now.muted, wrap=True)

    def _axis(self, painter: QPainter, area: QRectF, top: float) -> None:
        step = 10 ** math.floor(math.log10(top / 3))
        step *= 2 if top / step > 8 else 1
        for index in range(int(top / step) + 1):
            y = area.bottom() - area.height() * index * step / top
            words(painter, QRectF(area.left() - 60, y - 8, 54, 16), f"{index * step / 1000:g} kW", size=7.5, colour=look().muted, align=RIGHT)
            painter.setPen(QPen(QColor(look().line), 0.7))
            painter.drawLine(QPointF(area.left(), y), QPointF(area.right(), y))

    def _stack(self, painter: QPainter, area: QRectF, top: float, day: Day) -> None:
        """Mean power by feed, from the bottom; feeds are told apart by pattern and named at the right."""
        steps, x = day.mean_w, area.right() - 8
        base = [0.0] * len(steps.values[0])
        for channel, name, pattern in _FEEDS:
            if max(steps.values[channel]) <= 0:
                continue
            upper = [low + more for low, more in zip(base, steps.values[channel], strict=True)]
            points = _stairs(area, top, steps.times_min, upper) + list(reversed(_stairs(area, top, steps.times_min, base)))
            _fill(painter, QPolygonF(points), pattern)
            base = upper
            x -= 58
            _fill(painter, QPolygonF(QRectF(x, 2, 14, 10)), pattern)
            words(painter, QRectF(x + 18, 0, 40, 14), tr(name), size=7.5, colour=look().muted)

    def _outline(self, painter: QPainter, area: QRectF, top: float, day: Day, totals: list[float]) -> None:
        painter.setPen(QPen(QColor(look().ink), 1.3))
        painter.drawPolyline(QPolygonF(_stairs(area, top, day.running_w.times_min, totals)))


def _stairs(area: QRectF, top: float, times_min: tuple[int, ...], values: list[float]) -> list[QPointF]:
    """Pixel corners of a quantity that is constant between times."""
    points = []
    for start, end, value in zip(times_min, times_min[1:], values, strict=False):
        y = area.bottom() - area.height() * value / top
        points += [QPointF(area.left() + area.width() * start / 1440, y), QPointF(area.left() + area.width() * end / 1440, y)]
    return points


def _fill(painter: QPainter, shape: QPolygonF, pattern: Qt.BrushStyle) -> None:
    now = look()
    painter.setPen(QPen(QColor(now.live), 0.6))
    painter.setBrush(QColor(now.live_soft))
    painter.drawPolygon(shape)
    colour = QColor(now.live)
    colour.setAlphaF(0.25 if pattern == Qt.BrushStyle.SolidPattern else 0.7)
    painter.setBrush(QBrush(colour, pattern))
    painter.drawPolygon(shape)
