"""Acceptance: the predicted band against the measured mark, test after test; repeats are kept."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import partial

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QPolygonF

from weighty_axle.answers.first_power.check import Check
from weighty_axle.answers.proving.trials import GROUPS, repeats, trials
from weighty_axle.design.table import Design
from weighty_axle.desk.kit.fields import Field
from weighty_axle.desk.kit.painting import CENTRE, LEFT, Canvas, words
from weighty_axle.desk.kit.run_card import CLEAR_SKY, RunCardLeaf
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session
from weighty_axle.job.edits.edit import Edit
from weighty_axle.job.edits.proving import tried, untried
from weighty_axle.job.models.proving import Reading
from weighty_axle.units import NUMBER, VOLTAGE, System


class BandChart(Canvas):
    """The band a reading should be in, what is predicted as a line, readings as marks, the last one large."""

    def __init__(self) -> None:
        super().__init__()
        self.check: Check | None = None
        self.before: tuple[Reading, ...] = ()
        self.setFixedHeight(64)
        self.setAccessibleName(tr("Predicted band and measured marks"))

    def put(self, check: Check | None, before: tuple[Reading, ...]) -> None:
        """Show a test with all its readings."""
        self.check, self.before = check, before
        self.setAccessibleDescription(f"{check.words}. {check.says}" if check is not None else "")
        self.update()

    def draw(self, painter: QPainter) -> None:
        now, one = look(), self.check
        if one is None or one.low is None or one.high is None or (one.verdict == "open" and math.isinf(one.high)):
            said = one.words if one is not None else tr("Select a test.")
            words(painter, QRectF(self.rect()), said, colour=now.muted, align=CENTRE)
            return
        values = [each.value for each in self.before if each.value is not None]
        top = one.high if math.isfinite(one.high) else max(2 * one.low, *values, 1.0)
        low, high = min(one.low, *values, top), max(top, *values, one.low)
        span = (high - low) or 1.0
        low, high = low - 0.12 * span, high + 0.12 * span
        area = QRectF(16, 22, self.width() - 32, 22)

        def x(value: float) -> float:
            return area.left() + (value - low) / (high - low) * area.width()

        painter.setPen(QPen(QColor(now.line), 1))
        painter.setBrush(QColor(now.track))
        painter.drawRect(area)
        painter.setBrush(QColor(now.live_soft))
        painter.drawRect(QRectF(x(one.low), area.top(), x(top) - x(one.low), area.height()))
        if one.wanted is not None:
            painter.setPen(QPen(QColor(now.live), 2))
            painter.drawLine(
                QPointF(x(one.wanted.value), area.top() - 4), QPointF(x(one.wanted.value), area.bottom() + 4)
            )
            self.figures.append((QRectF(x(one.wanted.value) - 20, 0, 40, area.bottom()), one.wanted))
            said = f"{one.wanted.value:.4g} {one.unit}"
            words(painter, QRectF(x(one.wanted.value) + 4, 2, 120, 16), said, size=8.5, align=LEFT)
        for at, value in enumerate(values):
            last = at == len(values) - 1
            good = one.low <= value <= one.high
            painter.setPen(QPen(QColor(now.ink), 2 if last else 1))
            painter.setBrush(QColor(now.ink if good else now.stop) if last else Qt.BrushStyle.NoBrush)
            reach = 7.0 if last else 4.0
            y = area.bottom() + 2
            mark = [
                QPointF(x(value), y - reach),
                QPointF(x(value) - reach, y + reach),
                QPointF(x(value) + reach, y + reach),
            ]
            painter.drawPolygon(QPolygonF(mark))
            if last:
                words(
                    painter,
                    QRectF(x(value) - 60, y + reach, 120, 16),
                    f"{value:g} {one.unit}",
                    size=8.5,
                    bold=True,
                    align=CENTRE,
                )


class AcceptanceLeaf(RunCardLeaf):
    """Bank at rest and sun, presses, the band of the selected test, all tests."""

    groups = GROUPS
    fields_shown = (
        Field("Bank at rest", "proving.rest_v", VOLTAGE, empty="nominal", help="read before the load is put on"),
        Field("Sun now, W/m²", "proving.sun_w_per_m2", NUMBER, help="on the modules, by an irradiance meter"),
        *CLEAR_SKY,
    )
    all_good = "Every test is passed: it may be handed over."

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.chart = BandChart()
        self.column.insertWidget(4, self.chart)
        self.listen(self.chart)

    def more_presses(self) -> tuple[tuple[str, Callable[[], object]], ...]:
        return (
            ("Take in …", partial(self.wants.emit, "readings in")),
            ("Write …", partial(self.wants.emit, "tests out")),
        )

    def found(self, house: Design) -> tuple[Check, ...]:
        return trials(house)

    def write_down(self, reading: Reading) -> Edit:
        return tried(reading, reading.check)

    def take_away(self, one: Check) -> Edit:
        return untried(one.key, one.key)

    def _tell(self) -> None:
        super()._tell()
        one = self.chosen
        self.chart.put(one, repeats(self.session.shown.house, one.key) if one is not None else ())
