"""One day of the year: what comes in stacked over the line, what goes out under it, charge and bank voltage."""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPen, QPolygonF

from weighty_axle.answers.year.lived import Lived
from weighty_axle.answers.year.volts import bank_v
from weighty_axle.desk.kit.painting import CENTRE, RIGHT, Canvas, words
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.physics.year import columns as at
from weighty_axle.physics.year.arrays import Floats
from weighty_axle.units import System, show

_LEFT, _RIGHT, _LEGEND = 54, 54, 16


class DayCourse(Canvas):
    """Sources over the line and what they feed under it; missing energy hatched below; charge as a full line, voltage
    of the bank as a dashed one.
    """

    def __init__(self, system: System) -> None:
        super().__init__()
        self._system = system
        self.year: Lived | None = None
        self.day = 1
        self.setMinimumHeight(112)
        self.setAccessibleName(tr("One day of the year"))

    def put(self, year: Lived, day: int) -> None:
        """Show a day."""
        self.year, self.day = year, day
        self.update()

    def draw(self, painter: QPainter) -> None:
        if self.year is None:
            return
        now, year = look(), self.year
        per_day = year.inputs.sunny.per_day
        steps = slice((self.day - 1) * per_day, self.day * per_day)
        rows = year.series[steps]
        solid, dense, slant, cross, dots = (
            Qt.BrushStyle.SolidPattern,
            Qt.BrushStyle.Dense4Pattern,
            Qt.BrushStyle.BDiagPattern,
            Qt.BrushStyle.DiagCrossPattern,
            Qt.BrushStyle.Dense6Pattern,
        )
        carried, running = rows[:, at.CARRIED_W], rows[:, at.GENERATOR_ON] > 0
        over = [
            ("sun", rows[:, at.SUN_W], now.live, solid),
            ("engine", rows[:, at.DRIVEN_W] + rows[:, at.CONVERTED_W], now.live, dense),
            ("hook-up", np.where(running, 0, rows[:, at.SHORE_W] + carried), now.live, slant),
            (
                "generator",
                rows[:, at.GENERATED_W] + np.where(rows[:, at.GENERATOR_ON] > 0, carried, 0),
                now.check,
                cross,
            ),
        ]
        used = rows[:, at.LOAD_W] + carried - rows[:, at.UNMET_W]
        lost = rows[:, (at.LOSS_W, at.HEATER_W, at.OWN_USED_W)].sum(axis=1)
        missing = rows[:, at.UNMET_W] + rows[:, at.SHED_W]
        under = [
            ("loads", np.maximum(used, 0), now.steel, solid),
            ("losses and heater", lost, now.steel, dots),
            ("missing", missing, now.stop, slant),
        ]
        area = QRectF(_LEFT, _LEGEND + 4, self.width() - _LEFT - _RIGHT, self.height() - _LEGEND - 22)
        up, down = (max(1.0, float(np.sum([one[1] for one in side], axis=0).max())) for side in (over, under))
        scale = area.height() / (up + down)
        zero = area.top() + up * scale
        self._stack(painter, area, over, zero, -scale)
        self._stack(painter, area, under, zero, scale)
        painter.setPen(QPen(QColor(now.ink), 1.2))
        painter.drawLine(QPointF(area.left(), zero), QPointF(area.right(), zero))
        words(painter, QRectF(0, area.top() - 4, _LEFT - 4, 14), show(up, "W", self._system), size=7.5, align=RIGHT)
        words(
            painter, QRectF(0, area.bottom() - 8, _LEFT - 4, 14), show(down, "W", self._system), size=7.5, align=RIGHT
        )
        self._lines(painter, area, year, steps)
        self._legend(painter, [one for one in (*over, *under) if one[1].max() > 1.0])
        for hour in range(0, 25, 3):
            x = area.left() + hour / 24 * area.width()
            words(painter, QRectF(x - 20, area.bottom() + 2, 40, 14), f"{hour:02d}", size=7.5, align=CENTRE)

    def _stack(
        self,
        painter: QPainter,
        area: QRectF,
        parts: list[tuple[str, Floats, str, Qt.BrushStyle]],
        zero: float,
        scale: float,
    ) -> None:
        """Parts on one another, as steps."""
        so_far = np.zeros(len(parts[0][1]))
        wide = area.width() / len(so_far)
        xs = [area.left() + at_step * wide for at_step in range(len(so_far) + 1)]
        for _, values, colour, style in parts:
            top = so_far + values
            if values.max() > 0.5:
                outline = [
                    QPointF(x, zero + scale * y) for a, b, y in zip(xs, xs[1:], top, strict=False) for x in (a, b)
                ]
                back = [
                    QPointF(x, zero + scale * y)
                    for a, b, y in zip(reversed(xs[:-1]), reversed(xs[1:]), so_far[::-1], strict=True)
                    for x in (b, a)
                ]
                shape = QPolygonF([*outline, *back])
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(QColor(look().live_soft if colour != look().stop else look().stop_soft))
                painter.drawPolygon(shape)
                painter.setBrush(QBrush(QColor(colour), style))
                painter.drawPolygon(shape)
            so_far = top

    def _lines(self, painter: QPainter, area: QRectF, year: Lived, steps: slice) -> None:
        now = look()
        charge = year.series[steps, at.STORED_WH] / year.inputs.candidate[at.FULL_WH]
        volts = bank_v(year, steps)
        low, high = float(volts.min()), float(volts.max())
        low, high = (low - 0.2, high + 0.2) if high - low < 0.4 else (low, high)
        wide = area.width() / len(charge)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, True)
        for values, colour, style in (
            (charge, now.ink, Qt.PenStyle.SolidLine),
            ((volts - low) / (high - low), now.check, Qt.PenStyle.DashLine),
        ):
            painter.setPen(QPen(QColor(colour), 1.8, style))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPolyline(
                QPolygonF(
                    [
                        QPointF(area.left() + (step + 1) * wide, area.bottom() - float(value) * area.height())
                        for step, value in enumerate(values)
                    ]
                )
            )
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        for share in (0.0, 0.5, 1.0):
            y = area.bottom() - share * area.height()
            words(painter, QRectF(area.right() + 4, y - 13, _RIGHT - 4, 13), show(share, "1"), size=7)
            text = show(low + share * (high - low), "V")
            words(painter, QRectF(area.right() + 4, y - 2, _RIGHT - 4, 13), text, size=7, colour=now.check)

    def _legend(self, painter: QPainter, parts: list[tuple[str, Floats, str, Qt.BrushStyle]]) -> None:
        x, now = float(_LEFT), look()
        for name, _, colour, style in parts:
            box = QRectF(x, 3, 14, 10)
            painter.setPen(QPen(QColor(now.line), 1))
            painter.setBrush(QColor(now.live_soft))
            painter.drawRect(box)
            painter.setBrush(QBrush(QColor(colour), style))
            painter.drawRect(box)
            words(painter, QRectF(x + 18, 0, 110, _LEGEND), tr(name), size=7.5, colour=now.muted)
            x += 28 + 6.5 * len(tr(name))
        for name, colour, pen_style in (
            ("charge", now.ink, Qt.PenStyle.SolidLine),
            ("bank voltage", now.check, Qt.PenStyle.DashLine),
        ):
            painter.setPen(QPen(QColor(colour), 1.8, pen_style))
            painter.drawLine(QPointF(x, 8), QPointF(x + 16, 8))
            words(painter, QRectF(x + 20, 0, 110, _LEGEND), tr(name), size=7.5, colour=now.muted)
            x += 30 + 6.5 * len(tr(name))
