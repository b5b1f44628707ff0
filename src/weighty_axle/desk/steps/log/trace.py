"""A trace: a quantity day by day with what the model says, and drifts on the days they came."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QPainter

from weighty_axle.answers.log.drifts import Trace, day_of, said
from weighty_axle.desk.kit.painting import RIGHT, Canvas, brush, even_step, pen, words
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr


class TraceChart(Canvas):
    """Days from left to right, values as points, the model as a broken line, drifts as bars over the days they may
    be.
    """

    smooth = True

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(tr("Day by day"))
        self.setMinimumHeight(100)
        self.trace: Trace | None = None

    def sizeHint(self) -> QSize:
        return QSize(560, 200)

    def put(self, trace: Trace | None) -> None:
        """Show a trace, or none."""
        self.trace = trace
        self.shows(trace)

    def draw(self, painter: QPainter) -> None:
        now = look()
        rect = QRectF(self.rect())
        painter.fillRect(rect, brush(now.panel))
        trace = self.trace
        if trace is None:
            words(painter, rect.adjusted(8, 4, -8, -4), tr("Choose a line below."), colour=now.muted)
            return
        known = [(at, float(value)) for at, value in enumerate(trace.values) if math.isfinite(value)]
        values = [value for _, value in known]
        model = trace.model.value * trace.times if trace.model is not None else None
        middle = sorted(values)[len(values) // 20 : max(1, len(values) - len(values) // 50)]
        low, high = min(middle), max(middle)
        if model is not None:
            low, high = min(low, model), max(high, model)
        pad = 0.08 * (high - low) or abs(high) * 0.1 or 1.0
        low, high = low - pad, high + pad
        plot = rect.adjusted(64, 8, -12, -22)
        count = max(1, len(trace.values) - 1)

        def spot(at: float, value: float) -> QPointF:
            share = (min(max(value, low), high) - low) / (high - low)
            return QPointF(plot.left() + plot.width() * at / count, plot.bottom() - plot.height() * share)

        step = even_step(high - low, 4)
        tick = math.ceil(low / step) * step
        while tick <= high:
            y = spot(0, tick).y()
            painter.setPen(pen(now.track))
            painter.drawLine(QPointF(plot.left(), y), QPointF(plot.right(), y))
            words(painter, QRectF(0, y - 8, 58, 16), said(tick, trace.unit), size=7.5, colour=now.muted, align=RIGHT)
            tick += step
        self._months(painter, trace, plot, count)
        start = int(trace.days[0])
        for drift in trace.drifts:
            first = spot(drift.first.toordinal() - day_of(start).toordinal() - 0.5, low)
            last = spot(drift.last.toordinal() - day_of(start).toordinal() + 0.5, high)
            painter.fillRect(
                QRectF(first.x(), plot.top(), max(2.0, last.x() - first.x()), plot.height()), brush(now.track)
            )
            at = spot(drift.on.toordinal() - day_of(start).toordinal(), low).x()
            painter.setPen(pen(now.stop, 1.5))
            painter.drawLine(QPointF(at, plot.top()), QPointF(at, plot.bottom()))
            words(painter, QRectF(at + 3, plot.top(), 90, 14), f"{drift.on:%Y-%m-%d}", size=7.5, colour=now.stop)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(brush(now.ink))
        for at_day, value in known:
            painter.drawEllipse(spot(at_day, value), 1.4, 1.4)
        if model is not None:
            painter.setPen(pen(now.live, 1.4, Qt.PenStyle.DashLine))
            painter.drawLine(spot(0, model), spot(count, model))
            y = spot(0, model).y()
            words(
                painter,
                QRectF(plot.right() - 120, y - 15, 118, 14),
                tr("the model"),
                size=7.5,
                colour=now.live,
                align=RIGHT,
            )

    @staticmethod
    def _months(painter: QPainter, trace: Trace, plot: QRectF, count: int) -> None:
        now = look()
        every = 1 if count < 400 else 3
        for at, number in enumerate(trace.days):
            day = day_of(int(number))
            if day.day == 1 and (day.month - 1) % every == 0:
                x = plot.left() + plot.width() * at / count
                painter.setPen(pen(now.track))
                painter.drawLine(QPointF(x, plot.top()), QPointF(x, plot.bottom()))
                said_ = f"{day:%Y}" if day.month == 1 else f"{day:%m}"
                words(painter, QRectF(x + 2, plot.bottom() + 3, 40, 14), said_, size=7.5, colour=now.muted)
