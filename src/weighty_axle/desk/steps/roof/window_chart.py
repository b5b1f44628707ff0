"""Each string's voltage band from hot to cold against its controller's window."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QWidget

from weighty_axle.desk.kit.painting import CENTRE, RIGHT, Canvas, words
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session
from weighty_axle.units import show


class WindowChart(Canvas):
    """One row per string: start voltage needed, hot Vmp to cold Voc, the controller's limit.

    Press a row to select it.
    """

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.setMinimumHeight(90)
        self.setAccessibleName(tr("String voltages against the controllers' windows"))

    def draw(self, painter: QPainter) -> None:
        now, design = look(), self._session.shown.design
        strings, specs = (
            design.roof.strings,
            {controller.tag: controller for controller in self._session.shown.job.roof.controllers},
        )
        if not strings:
            words(painter, QRectF(0, 0, self.width(), 20), tr("No strings yet."), colour=now.muted)
            return
        results = {controller.tag: controller for controller in design.roof.controllers}
        top_v = 1.06 * max(max(specs[one.controller].spec.max_pv_v, one.cold_voc_v.value) for one in strings)
        row = min(34.0, (self.height() - 18) / len(strings))
        left, width = 92.0, self.width() - 92 - 256

        def x(volts: float) -> float:
            return left + width * volts / top_v

        for step in range(0, int(top_v) + 1, 25 if top_v < 260 else 50):
            words(painter, QRectF(x(step) - 25, 0, 50, 13), f"{step} V", size=7.5, colour=now.muted, align=CENTRE)
            painter.setPen(QPen(QColor(now.line), 0.8))
            painter.drawLine(QPointF(x(step), 14), QPointF(x(step), 16 + row * len(strings)))
        for index, string in enumerate(strings):
            y = 16 + index * row
            limit, run = specs[string.controller].spec.max_pv_v, results[string.controller].run_v.value
            hot, cold = string.hot_vmp_v.value, string.cold_voc_v.value
            bad = cold > limit or hot < run
            lit = string.tag in self._session.selection
            words(painter, QRectF(0, y, 86, row), f"{string.tag} → {string.controller}", size=9, bold=lit)
            band = QRectF(x(run), y + row * 0.18, x(limit) - x(run), row * 0.64)
            painter.fillRect(band, QColor(now.track))
            painter.setPen(QPen(QColor(now.stop if bad else now.live), 1.6))
            painter.setBrush(
                QBrush(
                    QColor(now.stop if bad else now.live),
                    Qt.BrushStyle.Dense4Pattern if bad else Qt.BrushStyle.SolidPattern,
                )
            )
            painter.drawRect(QRectF(x(hot), y + row * 0.3, max(1.0, x(cold) - x(hot)), row * 0.4))
            painter.setPen(QPen(QColor(now.ink), 2))
            for volts in (run, limit):
                painter.drawLine(QPointF(x(volts), y + row * 0.1), QPointF(x(volts), y + row * 0.9))
            allowed = results[string.controller]
            text = tr("{hot} hot … {cold} cold, {low} to {high} in series").format(
                hot=show(hot, "V"), cold=show(cold, "V"), low=allowed.fewest_in_series, high=allowed.most_in_series
            )
            words(
                painter,
                QRectF(self.width() - 252, y, 250, row),
                text,
                size=8.5,
                bold=bad,
                colour=now.stop if bad else now.ink,
                align=RIGHT,
            )
            self.areas.append((QRectF(0, y, self.width(), row), string.tag))
            self.figures.append((QRectF(x(hot), y, (x(cold) - x(hot)) / 2, row), string.hot_vmp_v))
            self.figures.append((QRectF((x(hot) + x(cold)) / 2, y, (x(cold) - x(hot)) / 2, row), string.cold_voc_v))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        tag = self.area_at(event.position())
        self._session.select(*((tag,) if tag else ()))
