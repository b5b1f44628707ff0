"""Arrivals: when parts come against the day they are needed; what a late parcel does, and what is done meanwhile."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date, timedelta
from functools import partial
from typing import NamedTuple

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QBrush, QColor, QKeyEvent, QMouseEvent, QPainter, QPen

from weighty_axle.answers.parts.listing import STATUS_WORDS, PartLine, PartsList, parts_list
from weighty_axle.answers.plan.plan import Late, Plan, compared, plan
from weighty_axle.design.derive import derive
from weighty_axle.design.table import Design
from weighty_axle.desk.kit.boxes import number_box
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.painting import Canvas, words
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.days import today
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.build import set_part
from weighty_axle.job.edits.edit import Edit
from weighty_axle.units import System

_ROW, _HEAD, _LEFT, _DATE = 19, 22, 250, 48


class Arrival(NamedTuple):
    """A part that is not here: the day it comes, the task that waits for it first, and the day that could start."""

    line: PartLine
    comes: date
    task: str
    needed: date


def arrivals(listed: PartsList, without: Plan) -> tuple[Arrival, ...]:
    """Parts that are not here, the one that holds up longest first; `without` is the plan as if all were here."""
    first: dict[str, tuple[date, str]] = {}
    for one in without.planned:
        for part in one.task.parts:
            day = one.starts.date()
            if not one.done and (part not in first or day < first[part][0]):
                first[part] = (day, one.task.words)
    found = [
        Arrival(line, line.due, first[line.part][1], first[line.part][0])
        for line in listed.lines
        if line.due is not None and line.part in first
    ]
    return tuple(sorted(found, key=lambda one: (one.needed - one.comes, one.line.part)))


class ArrivalsChart(Canvas):
    """A bar for each part from today to the day it comes; a tick where it would be needed. Hatched: too late for it."""

    turned = Signal(object)

    def __init__(self) -> None:
        super().__init__()
        self.rows: tuple[Arrival, ...] = ()
        self.at = 0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("When parts come, against the day they are needed"))

    def put(self, rows: tuple[Arrival, ...]) -> None:
        """Show parts."""
        self.rows = rows
        self.at = min(self.at, max(0, len(rows) - 1))
        self.setMinimumHeight(_HEAD + _ROW * len(rows) + 6)
        self.update()

    @property
    def chosen(self) -> Arrival | None:
        """The part that is turned to."""
        return self.rows[self.at] if self.rows else None

    def turn(self, at: int) -> None:
        """Turn to a part."""
        if self.rows:
            self.at = max(0, min(len(self.rows) - 1, at))
            one = self.rows[self.at]
            self.setAccessibleDescription(f"{one.line.part}: {one.comes.isoformat()}")
            self.turned.emit(one)
            self.update()

    def draw(self, painter: QPainter) -> None:
        now = look()
        if not self.rows:
            words(painter, QRectF(self.rect()), tr("Every part that a task waits for is here."), colour=now.muted)
            return
        begins = today()
        last = max(max(one.comes, one.needed) for one in self.rows)
        days = max(7, (last - begins).days + 2)
        scale = (self.width() - _LEFT - 130) / days
        step = next((step for step in (1, 7, 14) if step * scale >= _DATE), 28)
        for day in range(0, days + 1, step):
            x = _LEFT + day * scale
            painter.setPen(QPen(QColor(now.line), 1))
            painter.drawLine(QPointF(x, _HEAD - 4), QPointF(x, self.height()))
            words(
                painter, QRectF(x + 2, 2, 60, 14), f"{begins + timedelta(days=day):%d %b}", size=7.5, colour=now.muted
            )
        for row, one in enumerate(self.rows):
            y = _HEAD + row * _ROW
            if row == self.at:
                painter.fillRect(QRectF(0, y, self.width(), _ROW), QColor(now.track))
            words(painter, QRectF(4, y, _LEFT - 10, _ROW), one.line.part, size=8.5)
            late = one.comes > one.needed
            wide = max(3.0, (one.comes - begins).days * scale)
            painter.setPen(QPen(QColor(now.stop if late else now.live), 1))
            colour = QColor(now.stop if late else now.live)
            ordered = one.line.status == "ordered"
            style = Qt.BrushStyle.BDiagPattern if late else Qt.BrushStyle.SolidPattern
            painter.setBrush(QBrush(colour, style) if ordered or late else Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(_LEFT, y + 5, wide, _ROW - 10))
            x = _LEFT + (one.needed - begins).days * scale
            painter.setPen(QPen(QColor(now.ink), 2))
            painter.drawLine(QPointF(x, y + 2), QPointF(x, y + _ROW - 2))
            said = tr(STATUS_WORDS[one.line.status])
            if late:
                said += tr(", waits {n} d").format(n=(one.comes - one.needed).days)
            words(painter, QRectF(_LEFT + max(wide, x - _LEFT) + 6, y, 130, _ROW), said, size=8, colour=now.ink)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.setFocus()
        self.turn(int((event.position().y() - _HEAD) // _ROW))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        by = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()))
        if by is None:
            super().keyPressEvent(event)
        else:
            self.turn(self.at + by)


class ArrivalsLeaf(Leaf):
    """Chart, what a late part would do, and the press that makes it so."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.days = number_box(tr("Later by"), 14, 1, 365, unit=tr("days"))
        self.row_of(
            ("Ordered", partial(self._say, "ordered")),
            ("Here", partial(self._say, "here")),
            Label(tr("This is late by")),
            self.days,
            ("What now?", self.ask),
            ("It is so", self._accept),
        )
        self.presses["What now?"].setObjectName("firm")
        self.chart = ArrivalsChart()
        self.chart.turned.connect(self._on_turn)
        self.room = self.scrolled(self.chart)
        self.told = Label()
        self.told.setWordWrap(True)
        self.column.addWidget(self.told)
        self.late: Late | None = None

    def show_shown(self, shown: Shown) -> None:
        self.quietly((shown.house, today().toordinal()), partial(_looked, shown.house), self._put)

    def _put(self, found: tuple[Arrival, ...] | None) -> None:
        if found is None:
            return
        self.chart.put(found)
        late = sum(1 for one in found if one.comes > one.needed)
        self.told.setText(
            tr("{count} parts are not here; {late} of them hold up a task that could start before they come.").format(
                count=len(found), late=late
            )
            if found
            else ""
        )

    def _on_turn(self, one: Arrival) -> None:
        self.late = None
        self.room.ensureVisible(0, _HEAD + int((self.chart.at + 0.5) * _ROW), 0, 40)
        self.told.setText(
            tr("{part}: comes on {day}. First needed for “{task}”, which could start on {needed}.").format(
                part=one.line.part, day=one.comes.isoformat(), task=one.task, needed=one.needed.isoformat()
            )
        )

    def _say(self, status: str) -> None:
        one = self.chart.chosen
        if one is not None:
            count = one.line.counted if one.line.counted is not None else one.line.to_buy.value
            due = "" if status == "here" else one.comes.isoformat()
            self.told.setText(
                self.session.apply(
                    set_part(one.line.part, f"{one.line.part} is {status}", status=status, count=count, due=due)
                )
                or ""
            )

    def _new_day(self, one: Arrival) -> str:
        return (one.comes + timedelta(days=int(self.days.value()))).isoformat()

    def ask(self) -> None:
        """What a late part does, worked out in the background."""
        one = self.chart.chosen
        if one is None:
            self.told.setText(tr("Select a part first."))
            return
        edit = set_part(one.line.part, due=self._new_day(one))
        self.work(
            tr("The plan with a late part"),
            partial(_late, self.session.shown.house, one.line.part, edit),
            self._tell_late,
            self.told.setText,
        )

    def _tell_late(self, late: Late) -> None:
        self.late = late
        self.told.setText(late_words(late))

    def _accept(self) -> None:
        one = self.chart.chosen
        if one is not None:
            day = self._new_day(one)
            label = f"{one.line.part} comes on {day}"
            self.told.setText(self.session.apply(set_part(one.line.part, label, due=day)) or label + ".")


def _looked(house: Design, progress: Callable[[float, str], None]) -> tuple[Arrival, ...]:
    del progress
    listed = parts_list(house, today())
    return arrivals(listed, plan(house, today(), longest_s=0, waiting=False))


def _late(house: Design, part: str, edit: Edit, progress: Callable[[float, str], None]) -> Late:
    before = plan(house, today(), longest_s=2.0)
    progress(0.5, tr("With the new day"))
    return compared(part, before, plan(derive(edit.on(house.whole)), today(), longest_s=2.0, like=before))


def late_words(late: Late) -> str:
    """What a late part does, in sentences."""
    by = (late.after.ends - late.before.ends).days
    end = (
        tr("The end moves by {n} days to {day}.").format(n=by, day=late.after.ends.isoformat())
        if by > 0
        else tr("The end stays on {day}.").format(day=late.after.ends.isoformat())
    )
    held = tr("It holds up {count} tasks: {tasks}.").format(
        count=len(late.held), tasks=", ".join(one.task.words for one in late.held[:4])
    )
    sooner = (
        tr("Done sooner instead: {tasks}.").format(
            tasks=", ".join(f"{new.task.words} ({new.starts:%d %b, %H:%M})" for _, new in late.sooner[:5])
        )
        if late.sooner
        else tr("Nothing else can be pulled forward.")
    )
    return " ".join((end, held, sooner) if late.held else (end,))
