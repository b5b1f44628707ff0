"""Day ribbons: when each load runs, painted on 24 hours by mouse, wheel or keys."""

from __future__ import annotations

import itertools

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPen, QWheelEvent
from PySide6.QtWidgets import QWidget

from weighty_axle.design.inverters import clock
from weighty_axle.desk.session import Session
from weighty_axle.desk.text import tr
from weighty_axle.desk.theme import look
from weighty_axle.desk.widgets.painting import CENTRE, RIGHT, Canvas, words
from weighty_axle.job.brief_edits import paint
from weighty_axle.job.model import Load, Span
from weighty_axle.units import show

ROW, TOP, LABELS, END = 20, 18, 250, 10
SNAP_MIN, KEY_MIN = 5, 15
SUPPLY_WORDS = {"L1": "L1", "L2": "L2", "L1+L2": "L1+L2", "leg_open": "leg?", "AC": "AC", "DC": "DC", "DC_low": "DC low"}
_strokes = itertools.count(1)


class Ribbons(Canvas):
    """One row per load. Drag paints, right drag wipes, the wheel changes the level under the pointer.

    Keys: up and down choose the load, left and right move the cursor, Shift widens it, Space paints or wipes,
    plus and minus change the level.
    """

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self.day_kind = session.shown.job.day_kinds[0].tag
        self._cursor, self._anchor = 8 * 60, 8 * 60
        self._drag: tuple[str, int, bool, str] | None = None
        self._drag_to = 0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName(tr("Day ribbons"))
        session.selected.connect(self.update)

    def sizeHint(self) -> QSize:
        return QSize(640, TOP + ROW * max(1, len(self._session.shown.job.loads)) + 4)

    def minimumSizeHint(self) -> QSize:
        return QSize(420, self.sizeHint().height())

    # ---- geometry ----

    def _x(self, minute: float) -> float:
        return LABELS + (self.width() - LABELS - END) * minute / 1440

    def _minute(self, x: float) -> int:
        raw = (x - LABELS) / max(1.0, self.width() - LABELS - END) * 1440
        return max(0, min(1440, round(raw / SNAP_MIN) * SNAP_MIN))

    def _row_of(self, y: float) -> Load | None:
        loads, row = self._session.shown.job.loads, int((y - TOP) // ROW)
        return loads[row] if 0 <= row < len(loads) and y >= TOP else None

    def _selected(self) -> Load | None:
        return next((one for one in self._session.shown.job.loads if one.tag in self._session.selection), None)

    # ---- drawing ----

    def draw(self, painter: QPainter) -> None:
        now = look()
        for hour in range(0, 25, 3):
            x = self._x(hour * 60)
            words(painter, QRectF(x - 20, 0, 40, TOP - 3), f"{hour:02d}", size=8, colour=now.muted, align=CENTRE)
        for index, load in enumerate(self._session.shown.job.loads):
            self._ribbon(painter, load, TOP + index * ROW)
        painter.setPen(QPen(QColor(now.panel), 1))
        for hour in range(3, 24, 3):
            painter.drawLine(QPointF(self._x(hour * 60), TOP), QPointF(self._x(hour * 60), TOP + ROW * len(self._session.shown.job.loads)))
        if self._drag is not None:
            self._drag_words(painter)

    def _ribbon(self, painter: QPainter, load: Load, y: float) -> None:
        now, lit = look(), load.tag in self._session.selection
        if lit:
            painter.fillRect(QRectF(0, y, self.width(), ROW), QColor(now.live_soft))
        words(painter, QRectF(4, y, 144, ROW), load.name, size=9, bold=lit)
        words(painter, QRectF(148, y, 42, ROW), tr(SUPPLY_WORDS[load.supply]), size=7.5, colour=now.muted, align=RIGHT)
        words(painter, QRectF(190, y, 54, ROW), show(load.running_w * load.count, "W"), size=8.5, align=RIGHT)
        track = QRectF(self._x(0), y + 3, self._x(1440) - self._x(0), ROW - 6)
        painter.fillRect(track, QColor(now.paper if lit else now.track))
        for span in load.patterns.get(self.day_kind, ()):
            height = (ROW - 6) * (0.25 + 0.75 * span.level)
            rect = QRectF(self._x(span.start_min), y + ROW - 3 - height, self._x(span.end_min) - self._x(span.start_min), height)
            painter.fillRect(rect, QColor(now.live))
        if lit and self.hasFocus():
            start, end = sorted((self._cursor, self._anchor))
            painter.setPen(QPen(QColor(now.ink), 1.5))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(self._x(start), y + 1, self._x(min(1440, end + KEY_MIN)) - self._x(start), ROW - 2))

    def _drag_words(self, painter: QPainter) -> None:
        assert self._drag is not None
        _, start, wipe, _ = self._drag
        first, last = sorted((start, self._drag_to))
        text = f"{clock(first)}–{clock(last)}" + (f" {tr('wiped')}" if wipe else "")
        x = min(self._x(last) + 6, self.width() - 110)
        row = next(i for i, one in enumerate(self._session.shown.job.loads) if one.tag == self._drag[0])
        rect = QRectF(x, TOP + row * ROW + 1, 104, ROW - 2)
        painter.fillRect(rect, QColor(look().paper))
        words(painter, rect, text, size=8.5, bold=True, align=CENTRE)

    # ---- mouse ----

    def mousePressEvent(self, event: QMouseEvent) -> None:
        load = self._row_of(event.position().y())
        if load is None:
            return
        self._session.select(load.tag)
        if event.position().x() >= LABELS:
            wipe = event.button() == Qt.MouseButton.RightButton
            start = self._minute(event.position().x())
            self._drag = (load.tag, start, wipe, f"stroke {next(_strokes)}")
            self._drag_to = start

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._drag is None:
            under = self._row_of(event.position().y())
            if under is not None and event.position().x() >= LABELS:
                self.setToolTip(f"{under.name}, {clock(self._minute(event.position().x()))}")
            return
        self._drag_to = self._minute(event.position().x())
        tag, start, wipe, stroke = self._drag
        first, last = sorted((start, self._drag_to))
        if last > first:
            load = next(one for one in self._session.shown.job.loads if one.tag == tag)
            self._session.apply(paint(load, self.day_kind, first, last, 0.0 if wipe else 1.0, stroke))
        self.update()

    def mouseReleaseEvent(self, _event: QMouseEvent) -> None:
        self._drag = None
        self.update()

    def wheelEvent(self, event: QWheelEvent) -> None:
        load = self._row_of(event.position().y())
        minute = (event.position().x() - LABELS) / max(1.0, self.width() - LABELS - END) * 1440
        span = self._span_at(load, minute) if load is not None and event.modifiers() & Qt.KeyboardModifier.ControlModifier else None
        if load is None or span is None:
            event.ignore()
            return
        self._change_level(load, span, 0.1 if event.angleDelta().y() > 0 else -0.1)

    def _span_at(self, load: Load, minute: float) -> Span | None:
        return next((one for one in load.patterns.get(self.day_kind, ()) if one.start_min <= minute < one.end_min), None)

    def _change_level(self, load: Load, span: Span, by: float) -> None:
        level = min(1.0, max(0.1, round(span.level + by, 2)))
        merge = f"level {load.tag} {span.start_min}"
        self._session.apply(paint(load, self.day_kind, span.start_min, span.end_min, level, merge))

    # ---- keys ----

    def keyPressEvent(self, event: QKeyEvent) -> None:
        loads, load = self._session.shown.job.loads, self._selected()
        key = event.key()
        if key in (Qt.Key.Key_Up, Qt.Key.Key_Down) and loads:
            at = loads.index(load) + (1 if key == Qt.Key.Key_Down else -1) if load else 0
            self._session.select(loads[max(0, min(len(loads) - 1, at))].tag)
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self._cursor = max(0, min(1440 - KEY_MIN, self._cursor + (KEY_MIN if key == Qt.Key.Key_Right else -KEY_MIN)))
            if not event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
                self._anchor = self._cursor
        elif key == Qt.Key.Key_Space and load is not None:
            first, last = sorted((self._cursor, self._anchor))
            wipe = self._span_at(load, first) is not None
            self._session.apply(paint(load, self.day_kind, first, last + KEY_MIN, 0.0 if wipe else 1.0))
        elif key in (Qt.Key.Key_Plus, Qt.Key.Key_Minus) and load is not None:
            span = self._span_at(load, self._cursor)
            if span is not None:
                self._change_level(load, span, 0.1 if key == Qt.Key.Key_Plus else -0.1)
        else:
            super().keyPressEvent(event)
            return
        self.update()
