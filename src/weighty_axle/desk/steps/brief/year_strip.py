"""The year as a strip: stays are dragged along it, stretched at their ends, and named."""

from __future__ import annotations

import itertools

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QBrush, QColor, QKeyEvent, QMouseEvent, QPainter, QPen

from weighty_axle.design.brief.seasons import MONTH_DAYS, MONTHS, SEASONS, date_words, month_start, season_of
from weighty_axle.desk.kit.painting import CENTRE, LEFT, Canvas, words
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session
from weighty_axle.job.edits.brief import place_stay
from weighty_axle.job.edits.edit import remove
from weighty_axle.job.models.brief import YEAR_DAYS, DayUse, Stay

_EDGE_PX, _PAD = 6, 8
_PATTERNS: dict[DayUse, Qt.BrushStyle] = {
    "parked": Qt.BrushStyle.SolidPattern,
    "driving": Qt.BrushStyle.BDiagPattern,
    "hooked_up": Qt.BrushStyle.DiagCrossPattern,
    "stored": Qt.BrushStyle.Dense6Pattern,
}
USE_WORDS: dict[DayUse, str] = {"parked": "parked", "driving": "driving", "hooked_up": "hooked up", "stored": "stored"}
_strokes = itertools.count(1)


class YearStrip(Canvas):
    """Two half years, one under the other. Drag a stay to move it, its ends to stretch it.

    Keys: up and down choose, left and right move by a day (with Ctrl a week), Shift stretches, Delete removes.
    """

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._drag: tuple[str, str, int, Stay, str] | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setMinimumHeight(132)
        self.setAccessibleName(tr("Stays through the year"))
        session.selected.connect(self.update)

    def sizeHint(self) -> QSize:
        return QSize(640, 190)

    # ---- geometry: January to June above, July to December below ----

    def day_x(self, day: float, half: int) -> float:
        """Pixel of a day in one half of the year."""
        first, last = (1, month_start(6)) if half == 0 else (month_start(6), YEAR_DAYS + 1)
        return _PAD + (self.width() - 2 * _PAD) * (day - first) / (last - first)

    def half_y(self, half: int) -> float:
        """Top of a half."""
        return 4 + half * (self.height() - 20) / 2

    def _day(self, x: float, y: float) -> int:
        half = 0 if y < self.half_y(1) else 1
        first, last = (1, month_start(6)) if half == 0 else (month_start(6), YEAR_DAYS + 1)
        return max(1, min(YEAR_DAYS, int(first + (x - _PAD) / max(1.0, self.width() - 2 * _PAD) * (last - first))))

    def rects(self, stay: Stay) -> list[QRectF]:
        """Where a stay is drawn: one box, or two when it crosses midsummer."""
        end = stay.first_day + stay.days
        found = []
        for half, (first, last) in enumerate(((1, month_start(6)), (month_start(6), YEAR_DAYS + 1))):
            low, high = max(stay.first_day, first), min(end, last)
            if low < high:
                found.append(
                    QRectF(
                        self.day_x(low, half),
                        self.half_y(half) + 18,
                        self.day_x(high, half) - self.day_x(low, half),
                        (self.height() - 20) / 2 - 40,
                    )
                )
        return found

    # ---- drawing ----

    def draw(self, painter: QPainter) -> None:
        now = look()
        for month in range(12):
            half = month // 6
            left, right = self.day_x(month_start(month), half), self.day_x(month_start(month) + MONTH_DAYS[month], half)
            season = season_of(month_start(month), self._session.shown.job.site.latitude_deg)
            rect = QRectF(left, self.half_y(half) + 18, right - left, (self.height() - 20) / 2 - 40)
            painter.fillRect(rect, QColor(now.track if SEASONS.index(season) % 2 else now.note_soft))
            painter.setPen(QPen(QColor(now.panel), 1))
            painter.drawLine(rect.topLeft(), rect.bottomLeft())
            words(
                painter,
                QRectF(left + 3, self.half_y(half), right - left, 17),
                f"{MONTHS[month]} · {tr(season)}",
                size=7.5,
                colour=now.muted,
            )
        uses = {kind.tag: kind.use for kind in self._session.shown.job.day_kinds}
        for stay in self._session.shown.job.stays:
            self._stay(painter, stay, uses[stay.day_kind])
        self._legend(painter, set(uses.values()))
        if not self._session.shown.job.stays:
            rect = QRectF(_PAD, self.half_y(0) + 18, self.width() - 2 * _PAD, (self.height() - 20) / 2 - 40)
            words(
                painter,
                rect,
                tr("No stays yet. “Add a stay” puts one into the first free days; drag it where it belongs."),
                size=9.5,
                align=CENTRE,
            )

    def _stay(self, painter: QPainter, stay: Stay, use: DayUse) -> None:
        now, lit = look(), stay.tag in self._session.selection
        for rect in self.rects(stay):
            painter.setPen(QPen(QColor(now.ink if lit else now.live), 2 if lit else 1))
            painter.setBrush(QColor(now.live_soft))
            painter.drawRect(rect)
            soft = QColor(now.live)
            soft.setAlphaF(0.22 if _PATTERNS[use] == Qt.BrushStyle.SolidPattern else 0.5)
            painter.setBrush(QBrush(soft, _PATTERNS[use]))
            painter.drawRect(rect)
            if stay.source:
                painter.fillRect(QRectF(rect.x(), rect.bottom() - 4, rect.width(), 4), QColor(now.check))
            self.areas.append((rect, stay.tag))
            if rect.width() > 30:
                box = QRectF(rect.x() + 3, rect.y() + 2, rect.width() - 6, 15)
                painter.fillRect(
                    QRectF(box.x(), box.y(), min(box.width(), 6.2 * len(stay.place) + 6), 14), QColor(now.paper)
                )
                words(painter, box.adjusted(2, 0, 0, 0), stay.place, size=7.5, bold=lit, align=LEFT)
        if lit:
            rect = self.rects(stay)[0]
            text = f"{date_words(stay.first_day)} – {date_words(stay.first_day + stay.days - 1)}, {stay.days} days"
            words(
                painter,
                QRectF(min(rect.x(), self.width() - 190), rect.bottom() + 2, 190, 14),
                text,
                size=7.5,
                bold=True,
            )

    def _legend(self, painter: QPainter, uses: set[DayUse]) -> None:
        now, x, y = look(), float(_PAD), self.height() - 16.0
        for use in (one for one in USE_WORDS if one in uses):
            painter.setPen(QPen(QColor(now.live), 1))
            painter.setBrush(QColor(now.live_soft))
            painter.drawRect(QRectF(x, y + 2, 12, 10))
            soft = QColor(now.live)
            soft.setAlphaF(0.22 if _PATTERNS[use] == Qt.BrushStyle.SolidPattern else 0.6)
            painter.setBrush(QBrush(soft, _PATTERNS[use]))
            painter.drawRect(QRectF(x, y + 2, 12, 10))
            words(painter, QRectF(x + 16, y, 70, 14), tr(USE_WORDS[use]), size=7.5, colour=now.muted)
            x += 84
        painter.fillRect(QRectF(x, y + 6, 14, 4), QColor(now.check))
        words(painter, QRectF(x + 18, y, 160, 14), tr("with a place to plug in"), size=7.5, colour=now.muted)

    # ---- mouse ----

    def _grip(self, stay: Stay, x: float, y: float) -> str:
        """Which part of a stay is under a point: its start, its end, or the whole."""
        rects = self.rects(stay)
        if abs(x - rects[0].left()) <= _EDGE_PX and rects[0].top() <= y <= rects[0].bottom():
            return "start"
        if abs(x - rects[-1].right()) <= _EDGE_PX and rects[-1].top() <= y <= rects[-1].bottom():
            return "end"
        return "whole"

    def mousePressEvent(self, event: QMouseEvent) -> None:
        tag = self.area_at(event.position())
        stay = next((one for one in self._session.shown.job.stays if one.tag == tag), None)
        if stay is None:
            return
        self._session.select(tag)
        grip = self._grip(stay, event.position().x(), event.position().y())
        self._drag = (tag, grip, self._day(event.position().x(), event.position().y()), stay, f"stay {next(_strokes)}")

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._drag is None:
            tag = self.area_at(event.position())
            stay = next((one for one in self._session.shown.job.stays if one.tag == tag), None)
            edge = stay is not None and self._grip(stay, event.position().x(), event.position().y()) != "whole"
            self.setCursor(Qt.CursorShape.SizeHorCursor if edge else Qt.CursorShape.ArrowCursor)
            return
        tag, grip, start, stay, stroke = self._drag
        by = self._day(event.position().x(), event.position().y()) - start
        self._place(stay, grip, by, stroke)

    def _place(self, stay: Stay, grip: str, by: int, merge: str = "") -> None:
        if grip == "whole":
            self._session.apply(place_stay(stay.tag, stay.first_day + by, stay.days, merge))
        elif grip == "end":
            self._session.apply(place_stay(stay.tag, stay.first_day, max(1, stay.days + by), merge))
        else:
            by = min(by, stay.days - 1)
            self._session.apply(place_stay(stay.tag, stay.first_day + by, stay.days - by, merge))

    def mouseReleaseEvent(self, _event: QMouseEvent) -> None:
        self._drag = None
        self.update()

    # ---- keys ----

    def keyPressEvent(self, event: QKeyEvent) -> None:
        stays = sorted(self._session.shown.job.stays, key=lambda stay: stay.first_day)
        chosen = next((stay for stay in stays if stay.tag in self._session.selection), None)
        key = event.key()
        if key in (Qt.Key.Key_Up, Qt.Key.Key_Down) and stays:
            at = stays.index(chosen) + (1 if key == Qt.Key.Key_Down else -1) if chosen else 0
            self._session.select(stays[max(0, min(len(stays) - 1, at))].tag)
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right) and chosen is not None:
            by = (7 if event.modifiers() & Qt.KeyboardModifier.ControlModifier else 1) * (
                1 if key == Qt.Key.Key_Right else -1
            )
            self._place(chosen, "end" if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else "whole", by)
        elif key == Qt.Key.Key_Delete and chosen is not None:
            self._session.apply(remove(f"stays[{chosen.tag}]", chosen.place))
        else:
            super().keyPressEvent(event)
