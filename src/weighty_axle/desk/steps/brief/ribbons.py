"""Day ribbons: when each load runs, painted on 24 hours by mouse, wheel or keys."""

from __future__ import annotations

import itertools

from msgspec import Struct
from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import (
    QBrush,
    QColor,
    QKeyEvent,
    QKeySequence,
    QMouseEvent,
    QPainter,
    QPen,
    QResizeEvent,
    QWheelEvent,
)
from PySide6.QtWidgets import QWidget

from weighty_axle.design.brief.day import clock
from weighty_axle.desk.kit.painting import CENTRE, RIGHT, Canvas, words
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.steps.brief.hours import END, LABELS, Hours, tick_words
from weighty_axle.desk.text import tip, tr
from weighty_axle.desk.work.session import Session
from weighty_axle.job.edits.brief import mirrored, move_load, paint, set_pattern
from weighty_axle.job.edits.edit import remove
from weighty_axle.job.models.brief import Load, Pattern, Season, Span
from weighty_axle.job.models.document import Job
from weighty_axle.physics.loads.cycling import first_phase, on_stretches
from weighty_axle.units import show

ROW, TOP = 20, 18


SNAP_MIN, KEY_MIN = 5, 15


SUPPLY_MARKS = {
    "L1": "L1",
    "L2": "L2",
    "L3": "L3",
    "L1+L2": "L1+L2",
    "L1+L2+L3": "3-ph",
    "leg_open": "leg?",
    "AC": "AC",
    "DC_12": "12 V",
    "DC_24": "24 V",
    "DC_48": "48 V",
}


_strokes = itertools.count(1)


class _Heading(Struct, frozen=True):
    """Heading of a group of loads."""

    name: str
    count: int


_Line = Load | _Heading


class Ribbons(Canvas):
    """One row per load, under its group's heading.

    Drag paints, right drag wipes; the wheel over a painted stretch of the chosen load changes its level; Ctrl and the
    wheel look closer.

    Keys: up and down choose the load, left and right move the cursor, Shift widens it, Space paints or wipes, plus and
    minus change the level; C copies the day, V puts it on the chosen load, M mirrors it about noon; Alt with up and
    down shifts the load.
    """

    zoomed = Signal()

    def __init__(self, session: Session, hours: Hours, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self.hours = session, hours
        self.day_kind = session.shown.job.day_kinds[0].tag
        self.season: Season | None = None
        self._cursor, self._anchor = 8 * 60, 8 * 60
        self._drag: tuple[str, int, bool, str] | None = None
        self._drag_to = 0
        self._copied: Pattern | None = None
        self._folded: set[str] = set()
        self._frame: object = None
        self._painted: tuple[Load, ...] = ()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName(tr("Day ribbons"))
        session.selected.connect(self.update)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.hours.right_px = float(self.width() - END)
        self.zoomed.emit()

    # ---- rows ----

    def lines(self) -> list[_Line]:
        """Rows from the top: loads without a group, then each group under its heading, folded ones without their
        loads.
        """
        groups: dict[str, list[Load]] = {}
        for load in self._session.shown.job.loads:
            groups.setdefault(load.group, []).append(load)
        found: list[_Line] = list(groups.pop("", []))
        for name, loads in groups.items():
            found.append(_Heading(name, len(loads)))
            if name not in self._folded:
                found += loads
        return found

    def sizeHint(self) -> QSize:
        return QSize(640, TOP + ROW * max(1, len(self.lines())) + 4)

    def minimumSizeHint(self) -> QSize:
        return QSize(420, self.sizeHint().height())

    def row_y(self, tag: str) -> float:
        """Top of a load's row."""
        return TOP + ROW * next(
            index for index, line in enumerate(self.lines()) if isinstance(line, Load) and line.tag == tag
        )

    # ---- geometry ----

    def _x(self, minute: float) -> float:
        return self.hours.x(minute)

    def _minute(self, x: float) -> int:
        return max(0, min(1440, round(self.hours.minute(x) / SNAP_MIN) * SNAP_MIN))

    def _line_of(self, y: float) -> _Line | None:
        lines, row = self.lines(), int((y - TOP) // ROW)
        return lines[row] if 0 <= row < len(lines) and y >= TOP else None

    def _load(self, tag: str) -> Load | None:
        return next((load for load in self._session.shown.job.loads if load.tag == tag), None)

    def _selected(self) -> Load | None:
        return next((load for load in self._session.shown.job.loads if load.tag in self._session.selection), None)

    # ---- drawing ----

    def show_job(self, job: Job) -> None:
        """Paint again what has changed: a stroke changes one row."""
        rows = [line if isinstance(line, _Heading) else line.tag for line in self.lines()]
        frame = (self.day_kind, self.season, job.draw, self._session.selection, rows)
        before, self._painted = self._painted, job.loads
        if frame != self._frame:
            self._frame = frame
            self.update()
            return
        for load, old in zip(job.loads, before, strict=True):
            if load is not old and load.tag in rows:
                self.update(0, TOP + ROW * rows.index(load.tag), self.width(), ROW)

    def draw(self, painter: QPainter) -> None:
        now, lines = look(), self.lines()
        seen = self.asked
        for minute in self.hours.ticks():
            words(
                painter,
                QRectF(self._x(minute) - 20, 0, 40, TOP - 3),
                tick_words(minute, self.hours),
                size=8,
                colour=now.muted,
                align=CENTRE,
            )
        for index, line in enumerate(lines):
            y = TOP + index * ROW
            if isinstance(line, _Heading):
                self.areas.append((QRectF(0, y, LABELS, ROW), f"group {line.name}"))
            if y + ROW <= seen.top() or y > seen.bottom():
                continue
            if isinstance(line, Load):
                self._ribbon(painter, line, y)
            else:
                self._heading(painter, line, y)
        painter.setPen(QPen(QColor(now.panel), 1))
        for minute in self.hours.ticks():
            if 0 < minute < 1440:
                painter.drawLine(QPointF(self._x(minute), TOP), QPointF(self._x(minute), TOP + ROW * len(lines)))
        if self._drag is not None and any(isinstance(line, Load) and line.tag == self._drag[0] for line in lines):
            self._drag_words(painter)
        if not lines:
            text = tr(
                "Nothing yet. Add what must run: “Add a load” finds it by a few letters; then drag along its "
                "ribbon to paint when it runs."
            )
            words(painter, QRectF(4, TOP, self.width() - 8, 2 * ROW), text, size=9, colour=now.muted, wrap=True)

    def _heading(self, painter: QPainter, line: _Heading, y: float) -> None:
        folded = line.name in self._folded
        mark = "▸" if folded else "▾"
        words(painter, QRectF(4, y, 240, ROW), f"{mark} {line.name}", size=8.5, bold=True, colour=look().muted)
        if folded:
            text = tr("{n} loads folded away").format(n=line.count)
            words(painter, QRectF(LABELS, y, 200, ROW), text, size=8, colour=look().muted)

    def _ribbon(self, painter: QPainter, load: Load, y: float) -> None:
        now, lit = look(), load.tag in self._session.selection
        if lit:
            painter.fillRect(QRectF(0, y, self.width(), ROW), QColor(now.live_soft))
        words(
            painter, QRectF(4 + 10 * bool(load.group), y, 144 - 10 * bool(load.group), ROW), load.name, size=9, bold=lit
        )
        words(painter, QRectF(148, y, 42, ROW), tr(SUPPLY_MARKS[load.supply]), size=7.5, colour=now.muted, align=RIGHT)
        words(painter, QRectF(190, y, 54, ROW), show(load.running_w * load.count, "W"), size=8.5, align=RIGHT)
        painter.save()
        painter.setClipRect(QRectF(LABELS, y, self.hours.right_px - LABELS, ROW))
        painter.fillRect(
            QRectF(LABELS, y + 3, self.hours.right_px - LABELS, ROW - 6), QColor(now.paper if lit else now.track)
        )
        asleep = self.season is not None and getattr(load.seasons, self.season) == 0
        for span in load.patterns.get(self.day_kind, ()):
            self._span(painter, load, span, y, asleep=asleep)
        painter.restore()
        if asleep and load.patterns.get(self.day_kind):
            words(
                painter,
                QRectF(self.width() - END - 120, y, 116, ROW),
                tr("not in {season}").format(season=self.season),
                size=7.5,
                colour=now.muted,
                align=RIGHT,
            )
        if lit and self.hasFocus():
            start, end = sorted((self._cursor, self._anchor))
            painter.setPen(QPen(QColor(now.ink), 1.5))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(self._x(start), y + 1, self._x(min(1440, end + KEY_MIN)) - self._x(start), ROW - 2))

    def _span(self, painter: QPainter, load: Load, span: Span, y: float, *, asleep: bool) -> None:
        """A painted stretch: solid when it runs through, with its drawn on times when it cycles, hollow out of
        season.
        """
        now, live = look(), QColor(look().live)
        height = (ROW - 6) * (0.25 + 0.75 * span.level)
        left, right = self._x(span.start_min), self._x(span.end_min)
        rect = QRectF(left, y + ROW - 3 - height, right - left, height)
        if asleep:
            painter.setPen(QPen(live, 1, Qt.PenStyle.DotLine))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(rect.adjusted(0.5, 0.5, -0.5, -0.5))
            return
        cycle_px = (right - left) * load.cycle_min / max(1, span.end_min - span.start_min)
        if load.duty >= 1:
            painter.fillRect(rect, live)
        else:
            pale = QColor(live)
            pale.setAlphaF(0.35)
            painter.fillRect(rect, pale)
            if cycle_px >= 4:
                phase = first_phase(self._session.shown.job.draw, load.tag)
                for start, end in on_stretches(
                    span.start_min, span.end_min, phase=phase, duty=load.duty, cycle_min=load.cycle_min
                ):
                    painter.fillRect(QRectF(self._x(start), rect.y(), self._x(end) - self._x(start), height), live)
            else:
                painter.fillRect(rect, QBrush(live, Qt.BrushStyle.Dense4Pattern))
        if load.start_multiple > 1:
            painter.fillRect(QRectF(left, y + 1, 2, ROW - 2), QColor(now.ink))

    def _drag_words(self, painter: QPainter) -> None:
        assert self._drag is not None
        tag, start, wipe, _ = self._drag
        first, last = sorted((start, self._drag_to))
        text = f"{clock(first)}–{clock(last)}" + (f" {tr('wiped')}" if wipe else "")
        x = min(self._x(last) + 6, self.width() - 110)
        rect = QRectF(x, self.row_y(tag) + 1, 104, ROW - 2)
        painter.fillRect(rect, QColor(look().paper))
        words(painter, rect, text, size=8.5, bold=True, align=CENTRE)

    # ---- mouse ----

    def mousePressEvent(self, event: QMouseEvent) -> None:
        line = self._line_of(event.position().y())
        if isinstance(line, _Heading):
            self.fold(line.name)
        if not isinstance(line, Load):
            return
        self._session.select(line.tag)
        if event.position().x() >= LABELS:
            wipe = event.button() == Qt.MouseButton.RightButton
            start = self._minute(event.position().x())
            self._drag = (line.tag, start, wipe, f"stroke {next(_strokes)}")
            self._drag_to = start

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._drag is None:
            under = self._line_of(event.position().y())
            if isinstance(under, Load) and event.position().x() >= LABELS:
                self.setToolTip(tip(f"{under.name}, {clock(self._minute(event.position().x()))}"))
            return
        self._drag_to = self._minute(event.position().x())
        tag, start, wipe, stroke = self._drag
        first, last = sorted((start, self._drag_to))
        if last > first:
            load = self._load(tag)
            if load is None:  # gone with an undo while the button was held
                self._drag = None
            else:
                self._session.apply(paint(load, self.day_kind, first, last, 0.0 if wipe else 1.0, stroke))
        self.update()

    def mouseReleaseEvent(self, _event: QMouseEvent) -> None:
        self._drag = None
        self.update()

    def wheelEvent(self, event: QWheelEvent) -> None:
        up = event.angleDelta().y() > 0
        minute = self.hours.minute(event.position().x())
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.zoom(0.8 if up else 1.25, max(0.0, min(1440.0, minute)))
            return
        line = self._line_of(event.position().y())
        span = (
            self._span_at(line, minute)
            if isinstance(line, Load) and line.tag in self._session.selection and event.position().x() >= LABELS
            else None
        )
        if not isinstance(line, Load) or span is None:
            event.ignore()
            return
        self._change_level(line, span, 0.1 if up else -0.1)

    def _span_at(self, load: Load, minute: float) -> Span | None:
        return next(
            (one for one in load.patterns.get(self.day_kind, ()) if one.start_min <= minute < one.end_min), None
        )

    def _change_level(self, load: Load, span: Span, by: float) -> None:
        level = min(1.0, max(0.1, round(span.level + by, 2)))
        merge = f"level {load.tag} {span.start_min}"
        self._session.apply(paint(load, self.day_kind, span.start_min, span.end_min, level, merge))

    # ---- doing ----

    def zoom(self, factor: float, about_min: float) -> None:
        """Look closer at a time of day, or step back."""
        self.hours.zoom(factor, about_min)
        self.update()
        self.zoomed.emit()

    def fold(self, group: str) -> None:
        """Fold a group of loads away, or back."""
        self._folded ^= {group}
        self.updateGeometry()
        self.update()
        self.zoomed.emit()

    def copy(self) -> None:
        """Keep the chosen load's day for `put`."""
        load = self._selected()
        if load is not None:
            self._copied = load.patterns.get(self.day_kind, ())

    def put(self) -> None:
        """Give the chosen load the copied day."""
        load = self._selected()
        if load is not None and self._copied is not None:
            self._session.apply(set_pattern(load, self.day_kind, self._copied, f"Put the copied day on {load.name}"))

    def mirror(self) -> None:
        """Turn the chosen load's day round about noon."""
        load = self._selected()
        if load is not None:
            self._session.apply(
                set_pattern(
                    load,
                    self.day_kind,
                    mirrored(load.patterns.get(self.day_kind, ())),
                    f"Mirror {load.name} about noon",
                )
            )

    def shift(self, places: int) -> None:
        """Shift the chosen load up or down the list."""
        load = self._selected()
        if load is not None:
            self._session.apply(move_load(load.tag, places))

    # ---- keys ----

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key, load = event.key(), self._selected()
        if key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            down = key == Qt.Key.Key_Down
            if event.modifiers() & Qt.KeyboardModifier.AltModifier:
                self.shift(1 if down else -1)
            else:
                self._choose(1 if down else -1)
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self._cursor = max(
                0, min(1440 - KEY_MIN, self._cursor + (KEY_MIN if key == Qt.Key.Key_Right else -KEY_MIN))
            )
            if not event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
                self._anchor = self._cursor
        elif event.matches(QKeySequence.StandardKey.ZoomIn) or event.matches(QKeySequence.StandardKey.ZoomOut):
            self.zoom(0.8 if event.matches(QKeySequence.StandardKey.ZoomIn) else 1.25, self._cursor)
        elif key == Qt.Key.Key_Home:
            self.zoom(24.0, 0.0)
        elif load is None or not self._act(key, load):
            super().keyPressEvent(event)
            return
        self.update()

    def _choose(self, by: int) -> None:
        shown = [line for line in self.lines() if isinstance(line, Load)]
        load = self._selected()
        if shown:
            at = shown.index(load) + by if load in shown else 0
            self._session.select(shown[max(0, min(len(shown) - 1, at))].tag)

    def _act(self, key: int, load: Load) -> bool:
        """Carry out a key on the chosen load; False when it means nothing here."""
        span = self._span_at(load, self._cursor)
        if key == Qt.Key.Key_Space:
            first, last = sorted((self._cursor, self._anchor))
            wipe = self._span_at(load, first) is not None
            self._session.apply(paint(load, self.day_kind, first, last + KEY_MIN, 0.0 if wipe else 1.0))
        elif key in (Qt.Key.Key_Plus, Qt.Key.Key_Minus):
            if span is not None:
                self._change_level(load, span, 0.1 if key == Qt.Key.Key_Plus else -0.1)
        elif key == Qt.Key.Key_C:
            self.copy()
        elif key == Qt.Key.Key_V:
            self.put()
        elif key == Qt.Key.Key_M:
            self.mirror()
        elif key == Qt.Key.Key_Delete:
            self._session.apply(remove(f"loads[{load.tag}]", load.name))
        else:
            return False
        return True
