"""Protection: what guards every way, and its fuse, the one above, its copper and its start on one logarithmic chart."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from typing import NamedTuple

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QPolygonF

from weighty_axle.answers.wiring.schedule import guard_words
from weighty_axle.design.wiring.guards import Guard
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.painting import CENTRE, LEFT, RIGHT, Canvas, brush, pen, words
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.physics.electric.fuses import LONGEST_ADIABATIC_S, opens_s
from weighty_axle.units import CURRENT, FRACTION, System, conductor_words, lasting, show

_FASTEST_S, _SLOWEST_S = 0.001, 10_000.0


def _stays(one: Guard) -> str:
    if one.selective_to_a is None:
        return tr("none above")
    if math.isinf(one.selective_to_a):
        return tr("{above} always").format(above=one.above)
    return tr("{above} to {amps}").format(above=one.above, amps=show(one.selective_to_a, "A"))


_COLUMNS = (
    Column("Way", lambda one: one.tag, None),
    Column("Fuse", lambda one: one.rated_a, CURRENT),
    Column("Short behind it", lambda one: one.near_a.value if one.near_a is not None else None, CURRENT),
    Column("Short at the end", lambda one: one.far_a.value, CURRENT),
    Column("Opens then in", lambda one: lasting(one.opens_s.value), None),
    Column("Heat of a short", lambda one: one.heat_share.value, FRACTION),
    Column("Stays closed", _stays, None),
)


class _Start(NamedTuple):
    """What a start draws, and for how long."""

    amps: float
    seconds: float
    words: str


class GuardChart(Canvas):
    """Current across, time up, both logarithmic: each fuse a band from when it may melt to when it has opened."""

    smooth = True

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.tag = ""
        self.setMinimumHeight(250)
        self.setAccessibleName(tr("Fuse, fuse above, copper and start against current and time"))

    def _guard(self, tag: str) -> Guard | None:
        return next((one for one in self._session.shown.design.guards.guards if one.tag == tag), None)

    def start(self, one: Guard) -> _Start | None:
        """The hardest start through a way: an inverter's surge, or a circuit's motor."""
        design = self._session.shown.design
        spec = design.job.inverters.spec
        if one.tag in {f"W-{unit.tag}" for unit in design.job.inverters.units}:
            amps = spec.surge_va / spec.full_load_efficiency / design.bank.nominal_v.value
            return _Start(amps, spec.surge_s, tr("surge"))
        circuit = next((way for way in design.direct.circuits if way.tag == one.tag), None)
        if circuit is not None and circuit.start_a.value > circuit.current_a.value:
            return _Start(circuit.start_a.value, 0.5, tr("start, taken for half a second"))
        return None

    def draw(self, painter: QPainter) -> None:
        one = self._guard(self.tag)
        if one is None:
            words(painter, QRectF(self.rect()), tr("No way is guarded here."), align=CENTRE)
            return
        now, above = look(), self._guard(one.above)
        plot = QRectF(58, 20, self.width() - 250, self.height() - 50)
        ends = [guard.near_a.value for guard in (one, above) if guard is not None and guard.near_a is not None]
        high = 1.6 * max([*ends, one.far_a.value, 12 * one.rated_a])
        scale = _LogLog(plot, 0.8 * one.rated_a, high)
        self._grid(painter, scale)
        painter.save()
        painter.setClipRect(plot)
        if above is not None:
            self._band(painter, scale, above, now.steel)
        self._band(painter, scale, one, now.live)
        self._withstand(painter, scale, one)
        self._shorts(painter, scale, one)
        self._start(painter, scale, one)
        painter.restore()
        self._key(painter, one, above, QRectF(plot.right() + 12, plot.y(), self.width() - plot.right() - 16, 200))
        title = tr("{way}: {amps} {kind}").format(way=one.tag, amps=show(one.rated_a, "A"), kind=guard_words(one))
        words(painter, QRectF(plot.x(), 2, plot.width(), 16), title, size=9.5, bold=True)

    def _grid(self, painter: QPainter, scale: _LogLog) -> None:
        now = look()
        for exponent in range(math.ceil(math.log10(scale.low)), math.floor(math.log10(scale.high)) + 1):
            amps = 10.0**exponent
            x = scale.at(amps, 1.0).x()
            painter.setPen(pen(now.line, 0.8))
            painter.drawLine(QPointF(x, scale.plot.y()), QPointF(x, scale.plot.bottom()))
            label = QRectF(x - 36, scale.plot.bottom() + 4, 72, 14)
            words(painter, label, show(amps, "A"), size=8, colour=now.muted, align=CENTRE)
        for exponent in range(-3, 5):
            y = scale.at(scale.low, 10.0**exponent).y()
            painter.setPen(pen(now.line, 0.8))
            painter.drawLine(QPointF(scale.plot.x(), y), QPointF(scale.plot.right(), y))
            label = QRectF(0, y - 7, 52, 14)
            words(painter, label, lasting(10.0**exponent), size=8, colour=now.muted, align=RIGHT)

    def _band(self, painter: QPainter, scale: _LogLog, one: Guard, colour: str) -> None:
        fast = list(scale.curve(one.melts, one.rated_a))
        slow = list(scale.curve(one.opens, one.rated_a))
        fill = QColor(colour)
        fill.setAlphaF(0.22)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(fill)
        painter.drawPolygon(QPolygonF([*fast, *reversed(slow)]))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for points, style in ((fast, Qt.PenStyle.DotLine), (slow, Qt.PenStyle.SolidLine)):
            painter.setPen(QPen(QColor(colour), 1.8, style))
            painter.drawPolyline(QPolygonF(points))

    def _withstand(self, painter: QPainter, scale: _LogLog, one: Guard) -> None:
        if not one.withstand_a2s:
            return
        start = math.sqrt(one.withstand_a2s / LONGEST_ADIABATIC_S)
        end = math.sqrt(one.withstand_a2s / _FASTEST_S)
        painter.setPen(QPen(QColor(look().check), 2.0, Qt.PenStyle.DashLine))
        painter.drawLine(scale.at(start, LONGEST_ADIABATIC_S), scale.at(end, _FASTEST_S))

    def _shorts(self, painter: QPainter, scale: _LogLog, one: Guard) -> None:
        now = look()
        for figure, text in ((one.far_a, tr("end")), (one.near_a, tr("behind it"))):
            if figure is None:
                continue
            x = scale.at(figure.value, 1.0).x()
            painter.setPen(QPen(QColor(now.ink), 1.2, Qt.PenStyle.DashDotLine))
            painter.drawLine(QPointF(x, scale.plot.y() + 30), QPointF(x, scale.plot.bottom()))
            where = QRectF(x - 122, scale.plot.y() + (2 if figure is one.far_a else 15), 120, 14)
            words(painter, where, f"{text} {show(figure.value, 'A')}", size=8, align=RIGHT)
            self.figures.append((where, figure))

    def _start(self, painter: QPainter, scale: _LogLog, one: Guard) -> None:
        start = self.start(one)
        if start is None:
            return
        now = look()
        bad = opens_s(one.melts, rated_a=one.rated_a, current_a=start.amps) < start.seconds
        end = scale.at(start.amps, start.seconds)
        painter.setPen(QPen(QColor(now.stop if bad else now.ink), 2.2))
        painter.drawLine(scale.at(start.amps, _FASTEST_S), end)
        painter.setBrush(brush(now.stop if bad else now.ink))
        painter.drawEllipse(end, 4, 4)

    def _key(self, painter: QPainter, one: Guard, above: Guard | None, box: QRectF) -> None:
        now, start = look(), self.start(one)
        rows: list[tuple[str, str]] = [(now.live, tr("its fuse: may melt (dotted), has opened"))]
        if above is not None:
            rows.append((now.steel, tr("{above}, {amps}").format(above=above.tag, amps=show(above.rated_a, "A"))))
        size = conductor_words(f"{one.count} x {one.size}" if one.count > 1 else one.size)
        rows.append((now.check, tr("dashed: {size} stands a short this long").format(size=size)))
        rows.append((now.ink, tr("dash and dot: shorts, least at the end, most behind the fuse")))
        if start is not None:
            told = tr("dot: {what}, {amps} for {time}")
            rows.append(
                (now.ink, told.format(what=start.words, amps=show(start.amps, "A"), time=lasting(start.seconds)))
            )
        rows += [(now.muted, tr("fuse at {at}: {why}").format(at=end.at, why=end.why)) for end in one.fused_at]
        y = box.y()
        for colour, text in rows:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(brush(colour))
            painter.drawRect(QRectF(box.x(), y + 4, 9, 9))
            words(painter, QRectF(box.x() + 15, y, box.width() - 15, 30), text, size=8, align=LEFT, wrap=True)
            y += 33


class _LogLog:
    """Pixels of a current and a time."""

    def __init__(self, plot: QRectF, low: float, high: float) -> None:
        self.plot, self.low, self.high = plot, low, high

    def at(self, amps: float, seconds: float) -> QPointF:
        """Pixel of a current and a time."""
        across = math.log(amps / self.low) / math.log(self.high / self.low)
        up = math.log(seconds / _FASTEST_S) / math.log(_SLOWEST_S / _FASTEST_S)
        return QPointF(self.plot.x() + across * self.plot.width(), self.plot.bottom() - up * self.plot.height())

    def curve(self, points: Sequence[tuple[float, float]], rated_a: float) -> Iterator[QPointF]:
        """A fuse's curve from its first point to the right edge."""
        first = rated_a * points[0][0]
        currents = [rated_a * times for times, _ in points]
        yield self.at(first, _SLOWEST_S * 100)
        for amps in (*currents, max(self.high, currents[-1]) * 2):
            yield self.at(amps, opens_s(points, rated_a=rated_a, current_a=amps * (1 + 1e-12)))


class ProtectionLeaf(Leaf):
    """Every way with its guard, and the chart of the one that is chosen."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.said = SaidLine()
        self.model = Records(session, system, _COLUMNS, self.said.setText, self)
        self.table = table_view(self.model, tr("What guards every way"), wide=6)
        self.table.selectionModel().currentRowChanged.connect(self._on_row)
        self.column.addWidget(self.table, 3)
        self.chart = GuardChart(session)
        self.column.addWidget(self.chart, 4)
        self.figures = self.figure_row()
        self.listen(self.chart)
        self.follow(self.table, self.model, lambda one: one.tag)

    def _on_row(self) -> None:
        row = self.table.currentIndex().row()
        if 0 <= row < self.model.rowCount():
            self.session.select(self.model.record(row).tag)
            self._tell(self.model.record(row))

    def _tell(self, one: Guard | None) -> None:
        self.chart.tag = one.tag if one is not None else ""
        near = (one.near_a,) if one is not None and one.near_a is not None else ()
        self.figures.put((*near, one.far_a, one.opens_s, one.heat_share) if one is not None else ())
        self.chart.update()

    def show_shown(self, shown: Shown) -> None:
        found = shown.design.guards.guards
        self.model.put(found)
        row = self.table.currentIndex().row()
        self._tell(found[row] if 0 <= row < len(found) else found[0] if found else None)
