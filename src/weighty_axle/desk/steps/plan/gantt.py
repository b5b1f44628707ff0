"""Tasks as bars over days; a bar is dragged to another day, and what it comes after says how far."""

from __future__ import annotations

from datetime import date, datetime, timedelta

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QBrush, QColor, QKeyEvent, QMouseEvent, QPainter, QPen

from weighty_axle.answers.plan.plan import Plan, Planned, earliest, worked_on
from weighty_axle.answers.plan.task import PHASE_WORDS
from weighty_axle.desk.kit.painting import CENTRE, Canvas, words
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr

_ROW, _HEAD, _LEFT = 19, 34, 290


class Gantt(Canvas):
    """A row for each task in the order they start. Keys: up and down go from task to task, left and right move one by
    a day.
    """

    turned = Signal(object)
    moved = Signal(str, object)

    def __init__(self) -> None:
        super().__init__()
        self.plan: Plan | None = None
        self.rows: tuple[Planned, ...] = ()
        self.key = ""
        self.drag_days = 0
        self.refused = ""
        self._grab: float | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Work plan, task by task"))

    def put(self, plan: Plan, who: str) -> None:
        """Show a plan, all of it or what one does."""
        self.plan = plan
        self.rows = tuple(one for one in plan.planned if not who or one.who == who)
        self.setMinimumHeight(_HEAD + _ROW * len(self.rows) + 8)
        self.update()

    @property
    def chosen(self) -> Planned | None:
        """The task that is turned to."""
        return next((one for one in self.rows if one.task.key == self.key), None)

    def row_rect(self, one: Planned) -> QRectF:
        """Where the row of a task is."""
        at = next((number for number, row in enumerate(self.rows) if row.task.key == one.task.key), 0)
        return QRectF(0, _HEAD + at * _ROW, self.width(), _ROW)

    def _span(self) -> tuple[date, int, float]:
        """First day on show, days, and pixels of a day."""
        begins = min((one.starts for one in self.rows), default=datetime.now()).date()
        ends = max((one.ends for one in self.rows), default=datetime.now()).date()
        days = max(5, (ends - begins).days + 2)
        return begins, days, (self.width() - _LEFT - 14) / days

    def _x(self, when: datetime) -> float:
        """A working day fills its day: eight to eighteen."""
        begins, _, scale = self._span()
        share = min(1.0, max(0.0, (when.hour + when.minute / 60 - 8) / 10))
        return _LEFT + ((when.date() - begins).days + share) * scale

    def draw(self, painter: QPainter) -> None:
        now = look()
        if self.plan is None:
            words(painter, QRectF(self.rect()), tr("The plan is being made …"), colour=now.muted, align=CENTRE)
            return
        begins, days, scale = self._span()
        self._days(painter, begins, days, scale)
        first = max(0, int((self.asked.top() - _HEAD) // _ROW))
        last = min(len(self.rows), int((self.asked.bottom() - _HEAD) // _ROW) + 1)
        for at in range(first, last):
            self._row(painter, at, scale)
        self._links(painter)

    def _days(self, painter: QPainter, begins: date, days: int, scale: float) -> None:
        now = look()
        step = next((step for step in (1, 7, 14) if step * scale >= (35 if step == 1 else 48)), 28)
        monday = (7 - begins.weekday()) % 7
        for day in range(days + 1):
            when = begins + timedelta(days=day)
            x = _LEFT + day * scale
            if when.weekday() >= 5:
                painter.fillRect(QRectF(x, _HEAD - 4, scale, self.height()), QColor(now.track))
            if step == 1 or (day - monday) % step == 0:
                painter.setPen(QPen(QColor(now.line), 1))
                painter.drawLine(QPointF(x, _HEAD - 14), QPointF(x, self.height()))
                words(painter, QRectF(x + 3, 2, 70, 15), f"{when:%d %b}", size=8, colour=now.muted)

    def _row(self, painter: QPainter, at: int, scale: float) -> None:
        now, one = look(), self.rows[at]
        y = _HEAD + at * _ROW
        here = one.task.key == self.key
        if here:
            painter.fillRect(QRectF(0, y, self.width(), _ROW), QColor(now.live_soft))
        words(painter, QRectF(4, y, 44, _ROW), one.who, size=8, colour=now.muted)
        words(
            painter,
            QRectF(48, y, _LEFT - 54, _ROW),
            one.task.words,
            size=8.5,
            colour=now.muted if one.done else now.ink,
        )
        shift = self.drag_days * scale if here else 0.0
        for starts, ends in one.stretches:
            left = self._x(starts) + shift
            rect = QRectF(left, y + 4, max(4.0, self._x(ends) + shift - left), _ROW - 8)
            if one.done:
                painter.setPen(QPen(QColor(now.line), 1))
                painter.setBrush(QBrush(QColor(now.muted), Qt.BrushStyle.BDiagPattern))
            elif one.critical:
                painter.setPen(QPen(QColor(now.ink), 1))
                painter.setBrush(QColor(now.ink))
            else:
                painter.setPen(QPen(QColor(now.live), 1))
                painter.setBrush(QColor(now.live_soft if here else now.panel))
            painter.drawRect(rect)
        if one.waits_until is not None and not one.done and one.starts.date() <= one.waits_until + timedelta(days=3):
            x = self._x(one.starts) + shift
            painter.setPen(QPen(QColor(now.check), 2))
            painter.drawLine(QPointF(x - 3, y + 3), QPointF(x - 3, y + _ROW - 3))

    def _links(self, painter: QPainter) -> None:
        """What the task comes after, and what comes after it."""
        one = self.chosen
        if one is None:
            return
        at = {row.task.key: number for number, row in enumerate(self.rows)}
        painter.setPen(QPen(QColor(look().muted), 1, Qt.PenStyle.DotLine))
        end = QPointF(self._x(one.starts), _HEAD + (at[self.key] + 0.5) * _ROW)
        for key in one.task.after:
            if key in at:
                row = self.rows[at[key]]
                start = QPointF(self._x(row.ends), _HEAD + (at[key] + 0.5) * _ROW)
                painter.drawLine(start, QPointF(start.x(), end.y()))
                painter.drawLine(QPointF(start.x(), end.y()), end)

    def turn(self, key: str) -> None:
        """Turn to a task."""
        self.key, self.refused = key, ""
        one = self.chosen
        if one is not None:
            self.setAccessibleDescription(
                f"{one.task.words}, {one.who}, {one.starts:%d %B %H:%M}, {tr(PHASE_WORDS[one.task.phase])}"
            )
            self.turned.emit(one)
        self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.setFocus()
        row = int((event.position().y() - _HEAD) // _ROW)
        if 0 <= row < len(self.rows):
            self.turn(self.rows[row].task.key)
            self._grab = event.position().x()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._grab is None or self.chosen is None:
            return
        days = round((event.position().x() - self._grab) / self._span()[2])
        if days != self.drag_days:
            self.drag_days = days
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        del event
        days, self._grab, self.drag_days = self.drag_days, None, 0
        if days:
            self.shift(days)
        self.update()

    def shift(self, days: int) -> None:
        """Move the task by days: later as asked, sooner as far as what it comes after and its parts let it."""
        one = self.chosen
        if one is None or self.plan is None or one.done:
            return
        wanted = worked_on(self.plan, one.starts.date() + timedelta(days=days), 1 if days > 0 else -1)
        self.refused = ""
        if days < 0:
            day, why = earliest(self.plan, one.task.key)
            if wanted < day:
                self.refused = tr("“{task}” cannot start before {day}: {why}.").format(
                    task=one.task.words, day=day.isoformat(), why=why
                )
                wanted = day
        self.moved.emit(one.task.key, wanted)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = Qt.Key(event.key())
        keys = [one.task.key for one in self.rows]
        if key in (Qt.Key.Key_Up, Qt.Key.Key_Down) and keys:
            at = keys.index(self.key) if self.key in keys else 0
            self.turn(keys[max(0, min(len(keys) - 1, at + (1 if key == Qt.Key.Key_Down else -1)))])
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self.shift(1 if key == Qt.Key.Key_Right else -1)
        else:
            super().keyPressEvent(event)
