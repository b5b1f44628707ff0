"""The year as a carpet, day by hour, over the stays it is lived at."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QImage, QKeyEvent, QMouseEvent, QPainter, QPen, QPolygonF

from weighty_axle.answers.year.events import Event
from weighty_axle.answers.year.lived import Lived
from weighty_axle.design.brief.seasons import MONTHS, date_words, month_start
from weighty_axle.desk.kit.painting import CENTRE, RIGHT, Canvas, words
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.job.models.brief import YEAR_DAYS
from weighty_axle.physics.year import columns as at
from weighty_axle.physics.year.arrays import Floats
from weighty_axle.units import System, show

_LEFT, _RIGHT, _STAYS, _MONTHS, _MARKS = 34, 78, 20, 15, 9


class Quantity(NamedTuple):
    """What a carpet shows: words, unit, and its colours from least to most; lightness alone tells them apart."""

    key: str
    name: str
    unit: str
    colours: tuple[str, ...]


QUANTITIES = (
    Quantity("charge", "Charge of the bank", "1", ("#3a0f0c", "#8a3a22", "#c99a4a", "#d8d7a2", "#e6f0e2")),
    Quantity("missing", "Energy that is missing", "W", ("#f3efe6", "#dba98a", "#a8452c", "#4a120d")),
    Quantity("unused", "Sun that finds no taker", "W", ("#f3efe6", "#dcc37c", "#a87a1c", "#4f3604")),
    Quantity("cells", "Cells of the bank", "degC", ("#1d2f4d", "#5a7fa0", "#dfe4dc", "#cf9b62", "#8a2f1d")),
    Quantity("bay", "Air beside the inverters", "degC", ("#1d2f4d", "#5a7fa0", "#dfe4dc", "#cf9b62", "#8a2f1d")),
)


def values_of(year: Lived, key: str) -> Floats:
    """A quantity of the carpet in every step of a year."""
    series = year.series
    made: Floats
    if key == "charge":
        made = series[:, at.STORED_WH] / year.inputs.candidate[at.FULL_WH]
    elif key == "missing":
        made = series[:, at.UNMET_W] + series[:, at.SHED_W]
    elif key == "unused":
        made = series[:, at.CUT_W]
    elif key == "cells":
        made = series[:, at.CELLS_C]
    else:
        made = bay_c(year)
    return made


def bay_c(year: Lived) -> Floats:
    """Air beside the inverters: outside, and warmer by as much as their loss is of the loss at which the bay was worked
    out in Place; the same as outside where that was not done.

    Source: textbook relation (steady heat balance, in proportion)
    """
    design = year.design
    units = {unit.tag for unit in design.job.inverters.units}
    bays = [bay for bay in design.heat.bays if units & set(bay.hot)] or list(design.heat.bays[:1])
    if not bays:
        return year.weather.air_c
    rise = max(0.0, bays[0].settles_c.value - design.job.site.design_high_c)
    per_w = rise / bays[0].loss_w.value if bays[0].loss_w.value else 0.0
    made: Floats = year.weather.air_c + per_w * year.series[:, at.LOSS_W]
    return made


class Carpet(Canvas):
    """365 days from left to right, midnight to midnight downwards; stays under it; a mark over each day on which the
    bank is empty. Keys: left and right move by a day (with Ctrl a week), Page Up and Page Down to the event before and
    after.
    """

    turned = Signal(int)

    def __init__(self, system: System) -> None:
        super().__init__()
        self._system = system
        self.year: Lived | None = None
        self.events: tuple[Event, ...] = ()
        self.quantity = QUANTITIES[0]
        self.day = 1
        self._image: QImage | None = None
        self._range = (0.0, 1.0)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setMinimumHeight(132)
        self.setAccessibleName(tr("The year, day by hour"))

    def put(self, year: Lived, told: tuple[Event, ...], quantity: Quantity) -> None:
        """Show a year."""
        self.year, self.events, self.quantity = year, told, quantity
        values = values_of(year, quantity.key)
        low, high = (0.0, 1.0) if quantity.key == "charge" else (float(values.min()), float(values.max()))
        if quantity.unit == "W":
            low = 0.0
        self._range = (low, high if high > low else low + 1)
        self._image = _image(values.reshape(YEAR_DAYS, -1), self._range, quantity.colours)
        self._say()
        self.update()

    def turn(self, day: int) -> None:
        """Choose a day."""
        day = max(1, min(YEAR_DAYS, day))
        if day != self.day:
            self.day = day
            self._say()
            self.turned.emit(day)
            self.update()

    def turn_to_event(self, by: int) -> None:
        """Choose the event before or after the day."""
        days = [one.day for one in self.events]
        found = [day for day in days if (day > self.day if by > 0 else day < self.day)]
        if found:
            self.turn(found[0] if by > 0 else found[-1])

    def words_of(self, day: int) -> str:
        """What happens on a day, in a sentence."""
        told = next((one.words for one in self.events if one.day == day), "")
        return told or tr("{date}: nothing to tell.").format(date=date_words(day))

    def _say(self) -> None:
        self.setAccessibleName(f"{tr(self.quantity.name)}: {self.words_of(self.day)}")

    @property
    def area(self) -> QRectF:
        """Where the days are."""
        return QRectF(_LEFT, _MARKS, self.width() - _LEFT - _RIGHT, self.height() - _MARKS - _STAYS - _MONTHS)

    def _x(self, day: float) -> float:
        return self.area.left() + (day - 1) / YEAR_DAYS * self.area.width()

    def draw(self, painter: QPainter) -> None:
        now, area = look(), self.area
        if self.year is None or self._image is None:
            words(painter, QRectF(self.rect()), tr("The year is being lived …"), colour=now.muted, align=CENTRE)
            return
        painter.drawImage(area, self._image)
        painter.setPen(QPen(QColor(now.line), 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(area)
        for hour in (0, 6, 12, 18, 24):
            y = area.top() + hour / 24 * area.height()
            words(painter, QRectF(0, y - 7, _LEFT - 5, 14), f"{hour:02d}", size=7.5, colour=now.muted, align=RIGHT)
        self._marks(painter, area)
        self._stays(painter, area)
        for month in range(12):
            x, next_x = self._x(month_start(month)), self._x(month_start(month + 1))
            rect = QRectF(x, self.height() - _MONTHS, next_x - x, _MONTHS)
            words(painter, rect, MONTHS[month], size=7.5, colour=now.muted, align=CENTRE)
        self._scale(painter, area)
        x = self._x(self.day)
        painter.setPen(QPen(QColor(now.ink), 1.4))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(QRectF(x - 1, area.top() - 2, max(3.0, area.width() / YEAR_DAYS + 2), area.height() + _STAYS))

    def _marks(self, painter: QPainter, area: QRectF) -> None:
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(look().stop))
        for one in self.events:
            if one.grave:
                x = self._x(one.day + 0.5)
                painter.drawPolygon(QPolygonF([QPointF(x - 2, 1), QPointF(x + 2, 1), QPointF(x, area.top() - 2)]))

    def _stays(self, painter: QPainter, area: QRectF) -> None:
        """What each day is: the kind of hatching says how it is spent, words say where."""
        now, year = look(), self.year
        assert year is not None
        y, days = area.bottom() + 3, year.inputs.days
        first = 0
        for end in range(1, len(days) + 1):
            if end < len(days) and days[end].stay is days[first].stay:
                continue
            one = days[first]
            x, next_x = self._x(first + 1), self._x(end + 1)
            rect = QRectF(x, y, next_x - x, _STAYS - 5)
            painter.setPen(QPen(QColor(now.paper), 1))
            painter.setBrush(QColor(now.live_soft if one.stay is not None else now.track))
            painter.drawRect(rect)
            if one.source:
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(QColor(now.steel))
                painter.drawRect(QRectF(x, rect.bottom() - 3, rect.width(), 3))
            if rect.width() > 24 and one.stay is not None:
                words(painter, rect.adjusted(3, 0, -2, -2), one.place.name, size=7.5)
            first = end

    def _scale(self, painter: QPainter, area: QRectF) -> None:
        """The scale at the right, most on top."""
        now, (low, high) = look(), self._range
        column = np.linspace(1.0, 0.0, 64).reshape(1, -1)
        painter.drawImage(
            QRectF(area.right() + 8, area.top() + 8, 10, area.height() - 16),
            _image(column, (0.0, 1.0), self.quantity.colours),
        )
        for share in (0.0, 0.5, 1.0):
            y = area.bottom() - 8 - share * (area.height() - 16)
            text = show(round(low + share * (high - low), 3), self.quantity.unit, self._system)
            words(painter, QRectF(area.right() + 21, y - 7, _RIGHT - 22, 14), text, size=7.5, colour=now.muted)

    def _day_at(self, point: QPointF) -> int:
        return int((point.x() - self.area.left()) / max(1.0, self.area.width()) * YEAR_DAYS) + 1

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.setFocus()
        self.turn(self._day_at(event.position()))

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if event.buttons() & Qt.MouseButton.LeftButton:
            self.turn(self._day_at(event.position()))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        week = 7 if event.modifiers() & Qt.KeyboardModifier.ControlModifier else 1
        match event.key():
            case Qt.Key.Key_Left:
                self.turn(self.day - week)
            case Qt.Key.Key_Right:
                self.turn(self.day + week)
            case Qt.Key.Key_PageDown:
                self.turn_to_event(1)
            case Qt.Key.Key_PageUp:
                self.turn_to_event(-1)
            case _:
                super().keyPressEvent(event)


def _image(values: Floats, span: tuple[float, float], colours: tuple[str, ...]) -> QImage:
    """Days as columns, steps as rows."""
    stops = np.array([[one.red(), one.green(), one.blue()] for one in map(QColor, colours)], dtype=np.float64)
    shares = np.clip((values - span[0]) / (span[1] - span[0]), 0.0, 1.0) * (len(stops) - 1)
    lower = np.minimum(shares.astype(np.int64), len(stops) - 2)
    part = (shares - lower)[..., None]
    rgb = (stops[lower] * (1 - part) + stops[lower + 1] * part).round().astype(np.uint32)
    packed = (0xFF000000 | rgb[..., 0] << 16 | rgb[..., 1] << 8 | rgb[..., 2]).astype(np.uint32)
    rows = np.ascontiguousarray(packed.T)
    high, wide = rows.shape
    return QImage(rows.data, wide, high, wide * 4, QImage.Format.Format_RGB32).copy()
