"""The line of time: what happened, part by part of the vehicle, the newest at the right."""

from __future__ import annotations

from datetime import date, timedelta

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter

from weighty_axle.answers.log.timeline import Happened
from weighty_axle.desk.kit.painting import CENTRE, RIGHT, Canvas, brush, pen, words
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr

LANES: tuple[tuple[str, tuple[str, ...]], ...] = (
    ("Bank", ("pack",)),
    ("Inverters", ("inverter", "inverter group", "panel", "circuit", "source", "inlet", "selector")),
    ("Sun", ("controller", "module", "string", "array")),
    ("Charging", ("converter", "alternator")),
    ("Wiring", ("board", "protection", "signal lead", "DC circuit", "DC panel", "DC switch")),
    ("Whole", ()),
)
"""Parts of the vehicle with the kinds of things that are of them; what is of none is of the whole."""
MARK_PX = 14
_MARKS = {
    "visit": "v",
    "fault": "!",
    "change": "±",
    "reading": "=",
    "photo": "p",
    "parts": "+",
    "hours": "h",
    "setting": "s",
    "test": "t",
    "build": "b",
    "state": "S",
}
"""What stands in the mark of each kind: told apart without colour."""


class TimeLine(Canvas):
    """Marks of what happened over months; a press chooses one, arrows go from one to the next."""

    chosen = Signal(int)

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(tr("Line of time"))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setFixedHeight(len(LANES) * 19 + 26)
        self.events: tuple[Happened, ...] = ()
        self.lanes: tuple[int, ...] = ()
        self.at = -1

    def sizeHint(self) -> QSize:
        return QSize(560, self.height())

    def put(self, events: tuple[Happened, ...], kinds: dict[str, str], at: int) -> None:
        """Show events in their order, the newest first; `kinds` of things by tag, `at`: which one is chosen."""
        if events is not self.events:
            self.lanes = tuple(_lane(one, kinds) for one in events)
        self.events, self.at = events, at
        self.shows(events, at)

    def draw(self, painter: QPainter) -> None:
        now = look()
        rect = QRectF(self.rect())
        painter.fillRect(rect, brush(now.panel))
        left, top = 74.0, 4.0
        for lane, (name, _) in enumerate(LANES):
            y = top + lane * 19
            words(painter, QRectF(2, y, left - 8, 18), tr(name), size=8, colour=now.muted, align=RIGHT)
            painter.setPen(pen(now.track))
            painter.drawLine(QPointF(left, y + 9), QPointF(rect.right() - 6, y + 9))
        days = [_day(one.on) for one in self.events]
        known = [one for one in days if one is not None]
        if not known:
            words(painter, rect.adjusted(left, 0, -8, -20), tr("Nothing has a day yet."), colour=now.muted)
            return
        first, last = min(known), max(known)
        span = max(28, (last - first).days)
        width = rect.width() - left - 24

        def x_of(day: date) -> float:
            return left + 8 + width * (day - first).days / span

        self._months(painter, first, span, rect.bottom() - 18, x_of)
        # However long the log, no more marks than there is room for: several at one spot are one, with their count.
        spots: dict[tuple[int, int], list[int]] = {}
        for at, day in enumerate(days):
            if day is not None:
                spots.setdefault((self.lanes[at], int(x_of(day) / MARK_PX)), []).append(at)
        for (lane, _), several in spots.items():
            at = self.at if self.at in several else several[0]
            day, chosen = days[at], self.at in several
            assert day is not None
            box = QRectF(x_of(day) - 7, top + lane * 19 + 1, 14, 16)
            colour = now.stop if any(self.events[each].open for each in several) else now.ink
            painter.setPen(pen(colour, 2.2 if chosen else 1.0))
            painter.setBrush(brush(now.track if chosen else now.paper))
            painter.drawRect(box)
            mark = _MARKS.get(self.events[at].kind, "·") if len(several) == 1 else str(min(len(several), 99))
            words(painter, box, mark, size=8, colour=colour, align=CENTRE)
            self.areas.append((box, str(at)))

    @staticmethod
    def _months(painter: QPainter, first: date, span: int, y: float, x_of: object) -> None:
        assert callable(x_of)
        now = look()
        every = 1 if span < 400 else 3 if span < 1200 else 12
        month = first.replace(day=1)
        while (month - first).days <= span:
            if month >= first and (month.month - 1) % every == 0:
                x = x_of(month)
                painter.setPen(pen(now.track))
                painter.drawLine(QPointF(x, 4), QPointF(x, y))
                said = f"{month:%Y}" if month.month == 1 else f"{month:%m}"
                words(painter, QRectF(x + 2, y, 40, 16), said, size=7.5, colour=now.muted)
            month = (month + timedelta(days=32)).replace(day=1)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        name = self.area_at(event.position())
        if name:
            self.chosen.emit(int(name))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        by = {Qt.Key.Key_Left: 1, Qt.Key.Key_Right: -1}.get(Qt.Key(event.key()))
        if by is None or not self.events:
            super().keyPressEvent(event)
        else:
            self.chosen.emit(min(max(self.at + by, 0), len(self.events) - 1))


def _lane(one: Happened, kinds: dict[str, str]) -> int:
    """The lane of an event: of the first thing it is about that is of a part."""
    for tag in one.about:
        kind = kinds.get(tag.removeprefix("W-"), "")
        for lane, (_, mine) in enumerate(LANES):
            if kind and kind in mine:
                return lane
    return len(LANES) - 1


def _day(on: str) -> date | None:
    return date.fromisoformat(on) if on else None
