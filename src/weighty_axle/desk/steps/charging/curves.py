"""Filling: current and voltage against time in a state of the sources, and the balance of a day under it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import partial
from typing import Any

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QPolygonF
from PySide6.QtWidgets import QComboBox

from weighty_axle.answers.charging.day import STEPS, DayAsked, DayBalance, asked_of, balance, days_at_home
from weighty_axle.answers.charging.filling import FillResult, filling
from weighty_axle.design.charging.states import SourceState
from weighty_axle.design.table import Design
from weighty_axle.desk.kit.fields import Entry
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.painting import CENTRE, LEFT, RIGHT, Canvas, even_step, words
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.models.settings import FullCharge
from weighty_axle.units import FRACTION, QuantityError, System, parse, show, typed


class FillChart(Canvas):
    """Current as a line from the left scale, voltage from the right one, charge as the filled ground; the school in use
    drawn full, the other thin.
    """

    smooth = True

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.results: tuple[FillResult, ...] = ()
        self.setMinimumHeight(150)
        self.setAccessibleName(tr("Current and voltage while the bank fills"))

    def draw(self, painter: QPainter) -> None:
        if not self.results:
            return
        now, used = look(), self._session.shown.job.settings.full_charge
        area = QRectF(54, 20, self.width() - 118, self.height() - 40)
        chosen = next(one for one in self.results if one.school == used)
        if chosen.curve.ended == "never":
            said = tr("It never fills: {source} come in and {drawn} are drawn.").format(
                source=show(chosen.source_a.value, "A"), drawn=show(chosen.drawn_w.value, "W")
            )
            words(painter, area, said, size=11, bold=True, colour=now.stop, align=CENTRE)
            self.figures += [(area, chosen.source_a)]
            return
        hours = max(one.curve.hours[-1] for one in self.results) * 1.04 or 1.0
        amps = max(max(one.curve.amps) for one in self.results) * 1.15 or 1.0
        low = min(min(one.curve.volts) for one in self.results)
        high = max(max(one.curve.volts) for one in self.results)
        low, high = low - 0.1 * (high - low) - 0.01, high + 0.1 * (high - low) + 0.01
        self._axes(painter, area, hours, amps, (low, high))
        for one in sorted(self.results, key=lambda one: one.school == used):
            self._curve(painter, area, one, (hours, amps, low, high), full=one.school == used)
        self.figures.append((QRectF(area.x(), area.y(), area.width(), area.height()), chosen.hours_h))

    def _axes(self, painter: QPainter, area: QRectF, hours: float, amps: float, volts: tuple[float, float]) -> None:
        now = look()
        step, at = even_step(amps, 5), 0.0
        while at <= amps:
            y = area.bottom() - at / amps * area.height()
            painter.setPen(QPen(QColor(now.line), 0.8))
            painter.drawLine(QPointF(area.left(), y), QPointF(area.right(), y))
            words(painter, QRectF(0, y - 8, 50, 16), show(at, "A"), size=7.5, colour=now.live, align=RIGHT)
            at += step
        step = even_step(volts[1] - volts[0], 5)
        at = step * math.ceil(volts[0] / step)
        while at <= volts[1]:
            y = area.bottom() - (at - volts[0]) / (volts[1] - volts[0]) * area.height()
            rect = QRectF(area.right() + 4, y - 8, 58, 16)
            words(painter, rect, show(round(at, 6), "V"), size=7.5, colour=now.check, align=LEFT)
            at += step
        step = _step(hours)
        at = 0.0
        while at <= hours:
            x = area.left() + at / hours * area.width()
            painter.setPen(QPen(QColor(now.line), 0.8))
            painter.drawLine(QPointF(x, area.top()), QPointF(x, area.bottom()))
            words(painter, QRectF(x - 24, area.bottom() + 2, 48, 14), f"{at:g} h", size=7.5, align=CENTRE)
            at = round(at + step, 6)

    def _curve(
        self, painter: QPainter, area: QRectF, one: FillResult, scale: tuple[float, float, float, float], *, full: bool
    ) -> None:
        now = look()
        hours, amps, low, high = scale
        xs = [area.left() + at / hours * area.width() for at in one.curve.hours]

        def line(values: Sequence[float], first: float, last: float) -> QPolygonF:
            return QPolygonF(
                [
                    QPointF(x, area.bottom() - (value - first) / (last - first) * area.height())
                    for x, value in zip(xs, values, strict=True)
                ]
            )

        if full:
            ground = line(one.curve.soc, 0.0, 1.0)
            ground.append(QPointF(xs[-1], area.bottom()))
            ground.append(QPointF(xs[0], area.bottom()))
            painter.setPen(Qt.PenStyle.NoPen)
            soft = QColor(now.track)
            soft.setAlphaF(0.55)
            painter.setBrush(soft)
            painter.drawPolygon(ground)
            painter.setBrush(Qt.BrushStyle.NoBrush)
        style = Qt.PenStyle.SolidLine if full else Qt.PenStyle.DotLine
        painter.setPen(QPen(QColor(now.live), 2.4 if full else 1.4, style))
        painter.drawPolyline(line(one.curve.amps, 0.0, amps))
        painter.setPen(QPen(QColor(now.check), 2.0 if full else 1.2, Qt.PenStyle.DashLine if full else style))
        painter.drawPolyline(line(one.curve.volts, low, high))
        if full and math.isfinite(one.curve.held_from_h):
            x = area.left() + one.curve.held_from_h / hours * area.width()
            painter.setPen(QPen(QColor(now.ink), 1, Qt.PenStyle.DotLine))
            painter.drawLine(QPointF(x, area.top()), QPointF(x, area.bottom()))
            rect = QRectF(x - 154, area.top() - 1, 150, 13)
            words(painter, rect, tr("voltage held from here"), size=7.5, align=RIGHT)


def _step(hours: float) -> float:
    """Hours between marks: about eight of them."""
    return next(one for one in (0.1, 0.25, 0.5, 1, 2, 4, 6, 12, 24, 48, 1e9) if hours / one <= 9)


class DayChart(Canvas):
    """The day in quarters of an hour: what comes in above the line, what is drawn below it, the charge as a line."""

    def __init__(self) -> None:
        super().__init__()
        self.result: DayBalance | None = None
        self.setMinimumHeight(150)
        self.setAccessibleName(tr("What comes in and what is drawn through the day"))

    def draw(self, painter: QPainter) -> None:
        day = self.result
        if day is None:
            return
        now = look()
        area = QRectF(54, 8, self.width() - 108, self.height() - 26)
        into = [sum(one) for one in zip(day.sun_w, day.engine_w, day.hooked_w, strict=True)]
        most = max(max(into), max(day.loads_w), 1.0)
        zero = area.top() + area.height() * max(into) / (max(into) + max(day.loads_w) or 1.0)
        scale = area.height() / (max(into) + max(day.loads_w) or 1.0)
        wide = area.width() / STEPS
        kinds = (
            (day.sun_w, now.live, Qt.BrushStyle.SolidPattern),
            (day.engine_w, now.live, Qt.BrushStyle.Dense4Pattern),
            (day.hooked_w, now.live, Qt.BrushStyle.BDiagPattern),
        )
        for at in range(STEPS):
            x, y = area.left() + at * wide, zero
            for series, colour, style in kinds:
                high = series[at] * scale
                if high > 0:
                    box = QRectF(x, y - high, wide + 0.3, high)
                    painter.fillRect(box, QColor(now.live_soft))
                    fill = QColor(colour)
                    fill.setAlphaF(0.75)
                    painter.setPen(Qt.PenStyle.NoPen)
                    painter.setBrush(fill)
                    if style != Qt.BrushStyle.SolidPattern:
                        brush = painter.brush()
                        brush.setStyle(style)
                        painter.setBrush(brush)
                    painter.drawRect(box)
                    y -= high
            painter.fillRect(QRectF(x, zero, wide + 0.3, day.loads_w[at] * scale), QColor(now.steel))
        painter.setPen(QPen(QColor(now.ink), 1.2))
        painter.drawLine(QPointF(area.left(), zero), QPointF(area.right(), zero))
        words(painter, QRectF(0, area.top(), 50, 14), show(most, "W"), size=7.5, align=RIGHT)
        words(painter, QRectF(0, zero - 8, 50, 16), tr("in / out"), size=7.5, colour=now.muted, align=RIGHT)
        line = QPolygonF(
            [
                QPointF(area.left() + (at + 1) * wide, area.bottom() - share * area.height())
                for at, share in enumerate(day.soc)
            ]
        )
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, True)
        painter.setPen(QPen(QColor(now.check), 2.2))
        painter.drawPolyline(line)
        for share in (0.0, 0.5, 1.0):
            y = area.bottom() - share * area.height()
            words(painter, QRectF(area.right() + 4, y - 8, 48, 16), show(share, "1"), size=7.5, colour=now.check)
        for hour in range(0, 25, 3):
            x = area.left() + hour / 24 * area.width()
            words(painter, QRectF(x - 20, area.bottom() + 2, 40, 14), f"{hour:02d}", size=7.5, align=CENTRE)
        self.figures.append((area, day.change_wh))


def fill_days(choice: QComboBox, shown: Shown) -> None:
    """Days to choose from: stays first, then days at home; the place in the list stays."""
    at = max(0, choice.currentIndex())
    choice.clear()
    for stay in shown.job.stays:
        choice.addItem(f"{stay.tag} {stay.place}", asked_of(shown.design, stay))
    for name, asked in days_at_home(shown.design):
        choice.addItem(name, asked)
    choice.setCurrentIndex(min(at, choice.count() - 1))


class FillingLeaf(Leaf):
    """State, start and end, curve; under it a day of a stay."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self._from, self._to = 0.2, 1.0
        self.state = QComboBox()
        self.state.setAccessibleName(tr("State of the sources"))
        self.state.setMinimumContentsLength(14)
        self.state.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.state.activated.connect(lambda _index: self._refill())
        self.start, self.end = Entry(self._commit_start, tr("From")), Entry(self._commit_end, tr("To"))
        for entry in (self.start, self.end):
            entry.setFixedWidth(58)
        self.loads = QComboBox()
        self.loads.setAccessibleName(tr("Loads meanwhile"))
        self.loads.addItems([tr("loads off"), tr("the day's mean loads on")])
        self.loads.activated.connect(lambda _index: self._refill())
        self.row_of(self.state, Label(tr("from")), self.start, Label(tr("to")), self.end, self.loads)
        self.chart = FillChart(session)
        self.column.addWidget(self.chart, 3)
        self.figures = self.figure_row()
        self.stay = QComboBox()
        self.stay.setAccessibleName(tr("Stay"))
        self.stay.setMinimumContentsLength(14)
        self.stay.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.stay.activated.connect(lambda _index: self._reday())
        self.words = Label()
        self.words.setWordWrap(True)
        self.row_of(Label(tr("A day at")), self.stay, self.words)
        self.day = DayChart()
        self.column.addWidget(self.day, 3)
        self.day_figures = self.figure_row()
        self.listen(self.chart, self.day)

    def _commit_start(self, text: str) -> str:
        return self._commit(text, start=True)

    def _commit_end(self, text: str) -> str:
        return self._commit(text, start=False)

    def _commit(self, text: str, *, start: bool) -> str:
        try:
            share = parse(text, FRACTION, self.system)
        except QuantityError as error:
            return str(error)
        if not 0 <= share <= 1:
            return tr("A charge lies between 0 and 100 %.")
        first, last = (share, self._to) if start else (self._from, share)
        if first >= last:
            return tr("It fills from less to more.")
        self._from, self._to = first, last
        self._refill()
        return ""

    def _chosen(self) -> SourceState | None:
        states = [one for one in self.session.shown.design.source_states.states if one.parts]
        return next((one for one in states if one.name == self.state.currentText()), states[0] if states else None)

    def _refill(self, *, at_once: bool = True) -> None:
        """Fill and walk through the day; after an edit the other school and the day follow a moment later."""
        design, state = self.session.shown.design, self._chosen()
        self.start.put(typed(self._from, FRACTION, self.system))
        self.end.put(typed(self._to, FRACTION, self.system))
        if state is None:
            self.chart.results = ()
            self.figures.put(())
        else:
            on, school = self.loads.currentIndex() == 1, design.job.settings.full_charge
            used = filling(design, state, self._from, self._to, school, with_loads=on)
            self.chart.results = (used,)
            self.figures.put((used.hours_h, used.held_from_h, used.charge_ah, used.energy_wh, used.source_a))
        self.chart.update()
        asked = (state, self._from, self._to, self.loads.currentIndex(), self.stay.currentData())
        if at_once:
            self._asked = None  # what was asked before is overtaken
            self._rest_known(_rest(design, *asked))
        else:
            key = (design.source_states, design.brief, design.job, *map(str, asked[1:4]), self.stay.currentIndex())
            self.quietly(key, partial(_rest_later, design, asked), self._rest_known)

    def _rest_known(self, found: tuple[FillResult | None, DayBalance | None] | None) -> None:
        """The other school's curve and the day are there."""
        other, day = found or (None, None)
        if other is not None and len(self.chart.results) == 1:
            self.chart.results = (*self.chart.results, other)
            self.chart.update()
        if day is not None:
            self.day.result = day
            self.words.setText(day.words)
            self.day_figures.put((day.sun_wh, day.engine_wh, day.hooked_wh, day.loads_wh, day.change_wh))
            self.day.update()

    def _reday(self) -> None:
        self._asked = None
        self._rest_known((None, balance(self.session.shown.design, self.stay.currentData(), self._from)))

    def show_shown(self, shown: Shown) -> None:
        kept, names = self.state.currentText(), [one.name for one in shown.design.source_states.states if one.parts]
        self.state.clear()
        self.state.addItems(names)
        self.state.setCurrentIndex(max(0, self.state.findText(kept)))
        fill_days(self.stay, shown)
        self._refill(at_once=self.day.result is None)


def _rest(
    design: Design, state: SourceState | None, first: float, last: float, loads: int, asked: DayAsked | None
) -> tuple[FillResult | None, DayBalance | None]:
    """The curve of the school that is not in use, and the balance of the day."""
    school: FullCharge = "brim" if design.job.settings.full_charge == "gentle" else "gentle"
    other = filling(design, state, first, last, school, with_loads=loads == 1) if state is not None else None
    return other, balance(design, asked, first) if asked is not None else None


def _rest_later(
    design: Design, asked: tuple[SourceState | None, float, float, int, DayAsked | None], _progress: Any
) -> tuple[FillResult | None, DayBalance | None]:
    return _rest(design, *asked)
