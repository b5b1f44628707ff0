"""Run together: tick loads with a thumb; the verdict stands large beside them."""

from __future__ import annotations

import math
import re
from typing import Any

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPen, QPolygonF
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QScrollArea, QVBoxLayout

from weighty_axle.answers.brief.run_together import Limit, Together, run_together
from weighty_axle.design.brief.day import clock
from weighty_axle.design.brief.profiles import running_at
from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.painting import RIGHT, Canvas, bar, words
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tip, tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import Edit, set_value
from weighty_axle.job.models.brief import Load
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.inverters import OverloadPoint
from weighty_axle.units import APPARENT, DURATION, FRACTION, NBSP, QuantityError, System, parse, show

TILE, GAP = 40, 4


def duration_words(seconds: float) -> str:
    """A time as people say it: `42 s`, `8 min`, `3 h 20 min`, `2 days`; without end as `for ever`."""
    if math.isinf(seconds):
        return "for ever"
    if seconds < 90:
        return f"{seconds:.0f}{NBSP}s"
    if seconds < 5400:
        return f"{seconds / 60:.0f}{NBSP}min"
    if seconds < 2 * 86400:
        hours, minutes = divmod(round(seconds / 600) * 10, 60)
        return f"{hours}{NBSP}h" + (f" {minutes}{NBSP}min" if minutes and hours < 12 else "")
    return f"{seconds / 86400:.1f}{NBSP}days"


def read_overload(text: str) -> tuple[OverloadPoint, ...]:
    """Points typed as `110 % 30 min, 130 % 60 s`. Raises QuantityError."""
    points = []
    for part in (one for one in re.split(r"[,;]", text) if one.strip()):
        found = re.fullmatch(r"\s*([\d.]+\s*%)\s*(?:for)?\s*(.+)", part)
        if not found:
            raise QuantityError(f"“{part.strip()}” is not a point; write 130 % 60 s.")
        points.append(OverloadPoint(parse(found[1], FRACTION), parse(found[2], DURATION)))
    return tuple(points)


def overload_words(points: tuple[OverloadPoint, ...]) -> str:
    """Points as they are typed."""
    return ", ".join(f"{point.times * 100:g}{NBSP}% {point.seconds:g}{NBSP}s" for point in points)


def _set_overload(_job: Job, path: str, text: Any) -> Edit:
    points = read_overload(text or "")
    return set_value(path, points, f"Overload points: {overload_words(points) or 'only the surge'}")


FIELDS = (
    Field(
        "Inverter overload from its datasheet, besides the surge",
        "inverters.spec.overload",
        str,
        empty="such as 110 % 30 min, 130 % 60 s",
        make=_set_overload,
        say=overload_words,
        wide=3,
    ),
    Field("Surge, one", "inverters.spec.surge_va", APPARENT),
    Field("Surge lasts", "inverters.spec.surge_s", DURATION),
)


class TickBoard(Canvas):
    """Every load as a tile wide enough for a thumb. Arrows move, Space ticks."""

    ticked = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.tags: set[str] = set()
        self._at = 0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Loads to run together"))

    def _loads(self) -> tuple[Load, ...]:
        return self._session.shown.job.loads

    def sizeHint(self) -> QSize:
        return QSize(360, (TILE + GAP) * -(-len(self._loads()) // 2) + 4)

    def minimumSizeHint(self) -> QSize:
        return QSize(210, self.sizeHint().height())

    def draw(self, painter: QPainter) -> None:
        now, width = look(), (self.width() - 3 * GAP) / 2
        for index, load in enumerate(self._loads()):
            row, column = divmod(index, 2)
            rect = QRectF(GAP + column * (width + GAP), GAP + row * (TILE + GAP), width, TILE)
            on = load.tag in self.tags
            painter.setPen(QPen(QColor(now.live if on else now.line), 2 if on else 1))
            painter.setBrush(QColor(now.live_soft if on else now.paper))
            painter.drawRect(rect.adjusted(0.5, 0.5, -0.5, -0.5))
            box = QRectF(rect.x() + 9, rect.y() + 13, 14, 14)
            painter.setPen(QPen(QColor(now.ink), 1.4))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(box)
            if on:
                painter.setPen(QPen(QColor(now.live), 2.6))
                painter.drawPolyline(
                    QPolygonF(
                        [
                            QPointF(box.x() + 2, box.y() + 7),
                            QPointF(box.x() + 6, box.y() + 11),
                            QPointF(box.x() + 13, box.y() + 1),
                        ]
                    )
                )
            words(painter, QRectF(rect.x() + 30, rect.y() + 3, rect.width() - 34, 18), load.name, size=9, bold=on)
            words(
                painter,
                QRectF(rect.x() + 30, rect.y() + 20, rect.width() - 34, 16),
                show(load.running_w * load.count, "W"),
                size=8.5,
                colour=now.muted,
            )
            if self.hasFocus() and index == self._at:
                painter.setPen(QPen(QColor(now.ink), 1.2, Qt.PenStyle.DotLine))
                painter.drawRect(rect.adjusted(3, 3, -3, -3))
            self.areas.append((rect, load.tag))

    def tick(self, tag: str) -> None:
        """Tick a load, or untick it."""
        self.tags ^= {tag}
        self.update()
        self.ticked.emit()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        tag = self.area_at(event.position())
        if tag:
            self._at = next(index for index, load in enumerate(self._loads()) if load.tag == tag)
            self.tick(tag)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1, Qt.Key.Key_Up: -2, Qt.Key.Key_Down: 2}.get(
            Qt.Key(event.key())
        )
        if step is not None and self._loads():
            self._at = max(0, min(len(self._loads()) - 1, self._at + step))
            self.update()
        elif event.key() in (Qt.Key.Key_Space, Qt.Key.Key_Return) and self._loads():
            self.tick(self._loads()[self._at].tag)
        else:
            super().keyPressEvent(event)


class Verdict(Canvas):
    """What gives way first and when; a bar for each limit; what every source changes."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.result: Together | None = None
        self.setMinimumWidth(290)
        self.setAccessibleName(tr("What running them together does"))

    def minimumSizeHint(self) -> QSize:
        result = self.result
        return QSize(290, 216 + (34 * len(result.limits) + 30 * len(result.sources) if result else 0))

    def sentence(self) -> tuple[str, bool]:
        """The verdict in words, and whether it is bad."""
        result = self.result
        if result is None or not result.tags:
            return tr("Tick what should run together."), False
        first, start = result.first, result.worst_start
        if first is not None:
            after = (
                tr("at once")
                if first.seconds.value < 0.5
                else tr("after {time}").format(time=duration_words(first.seconds.value))
            )
            return tr("First to give way: {what}, {after}.").format(what=first.what, after=after), True
        if start.value > 1:
            return tr("It would run, but it cannot be started: {what} asks for {share} of the surge.").format(
                what=start.limit, share=show(start.value, "1")
            ), True
        return tr("It holds. From full, the bank lasts {time}.").format(
            time=duration_words(result.lasts_h.value * 3600)
        ), False

    def draw(self, painter: QPainter) -> None:
        now, width = look(), self.width() - 14
        text, bad = self.sentence()
        words(
            painter,
            QRectF(8, 2, width, 46),
            text,
            size=12.5,
            bold=True,
            colour=now.stop if bad else now.live,
            wrap=True,
        )
        result = self.result
        if result is None or not result.tags:
            return
        line = tr("{power} together, {amps} from a nearly empty bank").format(
            power=show(result.running_w.value, "W"), amps=show(result.bank_a.value, "A")
        )
        words(painter, QRectF(8, 48, width, 15), line, size=8.5, colour=now.muted)
        lasts = tr("From full, the bank would last {time}").format(time=duration_words(result.lasts_h.value * 3600))
        words(painter, QRectF(8, 62, width, 15), lasts, size=8.5, colour=now.muted)
        self.figures += [
            (QRectF(8, 48, width / 2, 14), result.running_w),
            (QRectF(8 + width / 2, 48, width / 2, 14), result.bank_a),
            (QRectF(8, 62, width, 15), result.lasts_h),
        ]
        y = 84.0
        for limit in result.limits:
            self._limit(painter, limit, QRectF(8, y, width, 30))
            y += 34
        y = self._start(painter, result, y, width)
        y = self._dead(painter, result, y, width)
        if result.sources:
            words(
                painter,
                QRectF(8, y + 4, width, 16),
                tr("With each place to plug in, at the limit set"),
                size=9.5,
                bold=True,
            )
            y += 22
        for source in result.sources:
            self._source(painter, source.tag, QRectF(8, y, width, 28))
            y += 30

    def _limit(self, painter: QPainter, limit: Limit, rect: QRectF) -> None:
        now, over = look(), limit.share > 1
        most = max(1.25, min(limit.share, 3.0) * 1.05)
        words(painter, QRectF(rect.x(), rect.y(), 104, 16), limit.what, size=9, bold=over)
        bar(
            painter,
            QRectF(rect.x() + 108, rect.y() + 3, rect.width() - 230, 11),
            min(limit.share, 3.0) / most,
            now.stop if over else now.steel,
            limit_share=1 / most,
        )
        held = (
            tr("holds")
            if math.isinf(limit.seconds.value)
            else tr("at once")
            if limit.seconds.value < 0.5
            else duration_words(limit.seconds.value)
        )
        words(
            painter,
            QRectF(rect.right() - 116, rect.y(), 112, 16),
            held,
            size=9,
            bold=True,
            colour=now.stop if over else now.ink,
            align=RIGHT,
        )
        text = tr("{asked} of {stands} · {why}").format(
            asked=show(limit.asked.value, limit.asked.unit),
            stands=show(limit.stands.value, limit.stands.unit),
            why=tr(limit.why),
        )
        words(painter, QRectF(rect.x() + 108, rect.y() + 15, rect.width() - 112, 14), text, size=7.5, colour=now.muted)
        self.figures += [
            (QRectF(rect.x(), rect.y(), rect.width() - 120, 16), limit.asked),
            (QRectF(rect.right() - 116, rect.y(), 112, 16), limit.seconds),
            (QRectF(rect.x() + 108, rect.y() + 15, rect.width() - 112, 14), limit.stands),
        ]

    def _start(self, painter: QPainter, result: Together, y: float, width: float) -> float:
        start = result.worst_start
        if start.value <= 0:
            return y
        text = tr("Worst start: {what}, {share} of the surge").format(what=start.limit, share=show(start.value, "1"))
        words(
            painter,
            QRectF(8, y, width, 30),
            text,
            size=8.5,
            colour=look().stop if start.value > 1 else look().ink,
            wrap=True,
        )
        self.figures.append((QRectF(8, y, width, 30), start))
        return y + 32

    def _dead(self, painter: QPainter, result: Together, y: float, width: float) -> float:
        if not result.dead:
            return y
        names = ", ".join(load.name for load in self._session.shown.job.loads if load.tag in result.dead)
        words(
            painter,
            QRectF(8, y, width, 16),
            tr("No 240 V with both legs in phase: {loads} does not run").format(loads=names),
            size=8.5,
            colour=look().stop,
        )
        return y + 18

    def _source(self, painter: QPainter, tag: str, rect: QRectF) -> None:
        assert self.result is not None
        source = next(one for one in self.result.sources if one.tag == tag)
        stated = next(one for one in self._session.shown.job.inverters.sources if one.tag == tag)
        words(
            painter,
            QRectF(rect.x(), rect.y(), rect.width() * 0.55, 15),
            f"{stated.name}, {show(stated.limit_a, 'A')}",
            size=8.5,
            bold=True,
        )
        if source.inverters_hold.value < source.lasts_h.value * 3600:
            text = tr("inverters add more than they hold: out after {time}").format(
                time=duration_words(source.inverters_hold.value)
            )
        elif source.bank_adds_w.value <= 0.5:
            text = tr("nothing from the bank")
        else:
            text = tr("bank adds {power}, lasts {time}").format(
                power=show(source.bank_adds_w.value, "W"), time=duration_words(source.lasts_h.value * 3600)
            )
        text = (
            tr("gives {power}; ").format(power=show(source.gives_w.value, "W"))
            + text
            + (tr(" · no 240 V") if source.dead else "")
        )
        words(painter, QRectF(rect.x(), rect.y() + 13, rect.width(), 14), text, size=7.5, colour=look().muted)
        self.figures += [
            (QRectF(rect.x(), rect.y(), rect.width() / 2, 28), source.gives_w),
            (QRectF(rect.x() + rect.width() / 2, rect.y(), rect.width() / 2, 28), source.bank_adds_w),
        ]


class RunTogetherLeaf(Leaf):
    """Tiles at the left, verdict at the right."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        presses = QHBoxLayout()
        for text, do in (
            (tr("All"), self._all),
            (tr("None"), self._none),
            (tr("What must run"), self._must),
            (tr("The worst minute"), self._worst),
        ):
            press = QPushButton(text)
            press.clicked.connect(do)
            presses.addWidget(press)
        presses.addStretch(1)
        self.column.addLayout(presses)
        self.board, self.verdict = TickBoard(session), Verdict(session)
        both = QHBoxLayout()
        for part, share in ((self.board, 10), (self.verdict, 11)):
            area = QScrollArea()
            area.setWidgetResizable(True)
            area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
            area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            area.setWidget(part)
            both.addWidget(area, share)
        self.column.addLayout(both, 1)
        lower = QVBoxLayout()
        self.fields = Fields(session, system, FIELDS, len(FIELDS))
        lower.addWidget(self.fields)
        self.column.addLayout(lower)
        self.listen(self.verdict)
        self.board.ticked.connect(self._judge)
        self._worst()

    def _choose(self, tags: set[str]) -> None:
        self.board.tags = tags
        self.board.update()
        self._judge()

    def _all(self) -> None:
        self._choose({load.tag for load in self.session.shown.job.loads})

    def _none(self) -> None:
        self._choose(set())

    def _must(self) -> None:
        self._choose({load.tag for load in self.session.shown.job.loads if load.must_run})

    def _worst(self) -> None:
        """Tick what is painted in the minute of the highest AC power of the busiest day."""
        brief = self.session.shown.design.brief
        day = brief.days[brief.design_day]
        self._choose({row.tag for row, _ in running_at(brief.profiles[day.profile], day.peak_at_min)})
        self.board.setToolTip(tip(tr("{day}, {time}").format(day=day.name, time=clock(day.peak_at_min))))

    def _judge(self) -> None:
        tags = tuple(load.tag for load in self.session.shown.job.loads if load.tag in self.board.tags)
        self.verdict.result = run_together(self.session.shown.design, tags)
        self.verdict.updateGeometry()
        self.verdict.update()

    def show_shown(self, shown: Shown) -> None:
        self.board.tags &= {load.tag for load in shown.job.loads}
        self.board.updateGeometry()
        self.board.update()
        self.fields.show_shown(shown)
        self._judge()
