"""Pre-charge: the capacitors filling through the resistor, and the contact closing with and without it."""

from __future__ import annotations

import math
from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QPolygonF

from weighty_axle.design.wiring.precharge import PrechargeResult
from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.painting import CENTRE, LEFT, RIGHT, Canvas, even_step, words
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.exports.data.precharge import course_times
from weighty_axle.units import NUMBER, POWER, RESISTANCE, VOLTAGE, System, show

PRECHARGE_FIELDS = (
    Field("Pre-charge", "wiring.board.precharge", ((False, "none"), (True, "fitted"))),
    Field("Closed by", "wiring.board.precharging.kind", (("switch", "hand"), ("automatic", "itself"))),
    Field("Resistor", "wiring.board.precharging.resistor_ohm", RESISTANCE, empty="computed"),
    Field("Held for, s", "wiring.board.precharging.held_s", NUMBER, empty="until 95 %"),
    Field("Stands, J", "wiring.board.precharging.pulse_j", NUMBER, empty="not said"),
    Field("Standby", "wiring.board.precharging.standby_w", POWER),
    Field("Standby starts at", "wiring.board.precharging.standby_from_v", VOLTAGE, empty="lowest DC"),
    Field("Capacitors of one, µF", "inverters.spec.input_uf", NUMBER, empty="typical"),
)
_PERIODS = 2.5


class PrechargeChart(Canvas):
    """On the left the capacitors' voltage while they fill, on the right the current after the contact closes: full with
    the pre-charge, dashed without.
    """

    smooth = True

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.setMinimumHeight(230)
        self.setAccessibleName(tr("Capacitors filling, and the contact closing"))

    def draw(self, painter: QPainter) -> None:
        one = self._session.shown.design.precharge
        if one is None:
            words(painter, QRectF(self.rect()), tr("No inverter hangs on this bar."), align=CENTRE)
            return
        half = self.width() / 2
        self._filling(painter, one, QRectF(52, 26, half - 76, self.height() - 60))
        self._closing(painter, one, QRectF(half + 62, 26, half - 92, self.height() - 60))

    def _filling(self, painter: QPainter, one: PrechargeResult, plot: QRectF) -> None:
        now, times = look(), course_times(one)
        high = 1.1 * one.course.source_v
        at = _At(plot, times[-1], high)
        self._axes(
            painter,
            plot,
            (times[-1], "s"),
            (high, "V"),
            tr("capacitors filling through {ohm}").format(ohm=show(one.resistor_ohm.value, "ohm")),
        )
        for level, text, above in ((one.course.source_v, tr("bank"), 14), (0.95 * one.course.source_v, "95 %", -1)):
            painter.setPen(QPen(QColor(now.line), 1, Qt.PenStyle.DashLine))
            painter.drawLine(at(0, level), at(times[-1], level))
            words(painter, QRectF(plot.right() - 60, at(0, level).y() - above, 58, 13), text, size=8, align=RIGHT)
        wrong = one.pinned or not math.isfinite(one.filled_s.value)
        self._line(painter, [at(t, one.course.voltage(t)) for t in times], now.stop if wrong else now.live, 2.4)
        if wrong:
            said = tr("the standby load holds it at {volts}").format(volts=show(one.course.ends_v, "V"))
            words(
                painter,
                QRectF(plot.x() + 8, at(0, one.course.ends_v).y() + 4, plot.width(), 15),
                said,
                size=9,
                bold=True,
                colour=now.stop,
            )
        self.figures.append((plot, one.filled_s))

    def _closing(self, painter: QPainter, one: PrechargeResult, plot: QRectF) -> None:
        now = look()
        period = 2 * math.pi * math.sqrt(one.loop_henry * one.course.farad)
        end, high = _PERIODS * period, 1.15 * one.peak_without_a.value
        at = _At(plot, end, high, low=-0.6 * high)
        title = tr("current as the contact closes")
        self._axes(painter, plot, (end * 1000, "ms"), (high, "A"), title, low=-0.6 * high)
        before = one.course.source_v - one.left_v.value
        steps = [end * step / 240 for step in range(241)]
        for from_v, colour, style, figure, text in (
            (0.0, now.steel, Qt.PenStyle.DashLine, one.peak_without_a, tr("without: {amps}")),
            (before, now.live, Qt.PenStyle.SolidLine, one.peak_a, tr("with: {amps}")),
        ):
            self._line(painter, [at(t, one.after(from_v, t)[0]) for t in steps], colour, 2.0, style)
            top = at(figure_time(steps, one, from_v), figure.value)
            place = QRectF(top.x() + 6, top.y() - 18, 150, 15)
            words(
                painter, place, text.format(amps=show(figure.value, "A")), size=9, bold=True, colour=colour, align=LEFT
            )
            self.figures.append((place, figure))

    def _axes(
        self,
        painter: QPainter,
        plot: QRectF,
        across: tuple[float, str],
        up: tuple[float, str],
        title: str,
        low: float = 0.0,
    ) -> None:
        now = look()
        at = _At(plot, across[0], up[0], low=low)
        words(painter, QRectF(plot.x(), 2, plot.width(), 16), title, size=9, bold=True)
        step = even_step(up[0] - low, 5)
        level = math.ceil(low / step) * step
        while level <= up[0]:
            painter.setPen(QPen(QColor(now.line), 0.7))
            painter.drawLine(at(0, level), at(across[0], level))
            words(
                painter,
                QRectF(plot.x() - 58, at(0, level).y() - 7, 52, 14),
                show(level, up[1]),
                size=8,
                align=RIGHT,
                colour=now.muted,
            )
            level += step
        step = even_step(across[0], 5)
        value = 0.0
        while value <= across[0]:
            x = at(value, low).x()
            words(
                painter,
                QRectF(x - 30, plot.bottom() + 3, 60, 14),
                f"{value:.4g} {across[1]}",
                size=8,
                align=CENTRE,
                colour=now.muted,
            )
            value += step

    def _line(
        self,
        painter: QPainter,
        points: Sequence[QPointF],
        colour: str,
        width: float,
        style: Qt.PenStyle = Qt.PenStyle.SolidLine,
    ) -> None:
        painter.setPen(QPen(QColor(colour), width, style))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolyline(QPolygonF(list(points)))


def figure_time(steps: Sequence[float], one: PrechargeResult, from_v: float) -> float:
    """When the current is largest [s]."""
    return max(steps, key=lambda at: one.after(from_v, at)[0])


class _At:
    """Pixels of a value over a time."""

    def __init__(self, plot: QRectF, end: float, high: float, low: float = 0.0) -> None:
        self.plot, self.end, self.high, self.low = plot, end or 1.0, high, low

    def __call__(self, across: float, up: float) -> QPointF:
        share = (up - self.low) / ((self.high - self.low) or 1.0)
        return QPointF(
            self.plot.x() + self.plot.width() * across / self.end, self.plot.bottom() - self.plot.height() * share
        )


class PrechargeLeaf(Leaf):
    """What is fitted, the two courses, the figures."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.fields = Fields(session, system, PRECHARGE_FIELDS, 4)
        self.column.addWidget(self.fields)
        self.chart = PrechargeChart(session)
        self.column.addWidget(self.chart, 1)
        self.first, self.second = self.figure_row(), self.figure_row()
        self.listen(self.chart)

    def show_shown(self, shown: Shown) -> None:
        self.fields.show_shown(shown)
        one = shown.design.precharge
        self.first.put((one.capacitors_mf, one.resistor_ohm, one.filled_s, one.energy_j, one.start_w) if one else ())
        self.second.put((one.left_v, one.peak_a, one.peak_without_a, one.highest_without_v) if one else ())
        self.chart.update()
