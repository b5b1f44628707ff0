"""The sweep: thousands of mixes on one chart, the efficient ones joined; any of them opens as the design."""

from __future__ import annotations

from functools import partial
from time import monotonic

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QComboBox

from weighty_axle.answers.year.mixes import as_design, change_words
from weighty_axle.answers.year.sweep import Point, Swept, begin, points, sweep, usual_axes
from weighty_axle.answers.year.weathers import Progress
from weighty_axle.design.table import Design
from weighty_axle.desk.kit.leaves import Leaf, TwoLines
from weighty_axle.desk.kit.painting import CENTRE, RIGHT, Canvas, even_step, words
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.units import System, show

_LEFT, _BOTTOM, _TOP = 74, 34, 16
_LOOK_S = 0.5
"""Time between two partial pictures."""


class SweepChart(Canvas):
    """A dot for each mix: to the right what it costs or weighs more than the design, upwards what the year lacks.

    Efficient ones are large and joined. Keys: left and right go from one of them to the next.
    """

    chosen_at = Signal(object)

    def __init__(self, system: System) -> None:
        super().__init__()
        self._system = system
        self.points: tuple[Point, ...] = ()
        self.by_cost = False
        self._spans: tuple[float, float, float] = (0.0, 1.0, 1.0)
        self.chosen: Point | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumHeight(200)
        self.setAccessibleName(tr("Mixes by what is missing and what they weigh or cost"))

    def put(self, found: tuple[Point, ...]) -> None:
        """Show mixes."""
        self.points = found
        if self.chosen not in found:
            self.chosen = None
        self.measure()

    def measure(self) -> None:
        """How far the mixes go: looked at once, not for every dot."""
        xs = [self.x_of(one) for one in self.points] or [0.0]
        most = max((one.missing_wh for one in self.points), default=0.0)
        self._spans = (min(xs), max(max(xs) - min(xs), 1e-9), max(1.0, most))
        self.update()

    def x_of(self, one: Point) -> float:
        """Cost or mass more."""
        return one.cost if self.by_cost and one.cost is not None else one.mass_kg

    @property
    def efficient(self) -> list[Point]:
        """The efficient ones, cheapest or lightest first."""
        return sorted((one for one in self.points if one.efficient), key=lambda one: (self.x_of(one), one.missing_wh))

    def _scale(self) -> tuple[QRectF, float, float, float]:
        area = QRectF(_LEFT, _TOP, self.width() - _LEFT - 16, self.height() - _TOP - _BOTTOM)
        return area, *self._spans

    def _at(self, one: Point) -> QPointF:
        area, low, span, most = self._scale()
        x = area.left() + (self.x_of(one) - low) / span * area.width()
        return QPointF(x, area.bottom() - one.missing_wh / most * area.height())

    def draw(self, painter: QPainter) -> None:
        now = look()
        if not self.points:
            return
        area, low, span, most = self._scale()
        unit = "money" if self.by_cost else "kg"
        self._axes(painter, area, (low, span, most), unit)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(now.note))
        for one in self.points:
            at = self._at(one)
            painter.drawRect(QRectF(at.x() - 1, at.y() - 1, 2, 2))
        line = [self._at(one) for one in self.efficient]
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, True)
        painter.setPen(QPen(QColor(now.live), 1))
        painter.setBrush(QColor(now.live))
        for at in line:
            painter.drawEllipse(at, 3.2, 3.2)
        x = area.left() + (0.0 - low) / span * area.width()
        painter.setPen(QPen(QColor(now.ink), 1, Qt.PenStyle.DotLine))
        painter.drawLine(QPointF(x, area.top()), QPointF(x, area.bottom()))
        words(painter, QRectF(x + 3, area.top() - 14, 140, 13), tr("as much as the design"), size=7.5)
        if self.chosen is not None:
            painter.setPen(QPen(QColor(now.ink), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(self._at(self.chosen), 7, 7)

    def _axes(self, painter: QPainter, area: QRectF, scale: tuple[float, float, float], unit: str) -> None:
        now, (low, span, most) = look(), scale
        step = even_step(span, 7)
        mark = step * round(low / step)
        painter.setPen(QPen(QColor(now.line), 1))
        while mark <= low + span * (1 + 1e-9):
            if mark >= low - 1e-9:
                x = area.left() + (mark - low) / span * area.width()
                painter.setPen(QPen(QColor(now.line), 1))
                painter.drawLine(QPointF(x, area.top()), QPointF(x, area.bottom()))
                text = show(round(mark, 6), unit, self._system)
                words(painter, QRectF(x - 40, area.bottom() + 2, 80, 13), text, size=7.5, align=CENTRE)
            mark += step
        under = tr("cost more than the design") if self.by_cost else tr("mass more than the design")
        words(painter, QRectF(area.left(), area.bottom() + 16, area.width(), 14), under, size=8, align=CENTRE)
        step, mark = even_step(most, 5), 0.0
        while mark <= most * (1 + 1e-9):
            y = area.bottom() - mark / most * area.height()
            painter.setPen(QPen(QColor(now.line), 1))
            painter.drawLine(QPointF(area.left(), y), QPointF(area.right(), y))
            words(painter, QRectF(0, y - 7, _LEFT - 5, 14), show(mark, "Wh", self._system), size=7.5, align=RIGHT)
            mark += step
        words(painter, QRectF(0, 0, 150, 13), tr("missing in the year"), size=8)

    def choose(self, one: Point) -> None:
        """Choose a mix."""
        self.chosen = one
        self.chosen_at.emit(one)
        self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.setFocus()
        if self.points:
            near = event.position()
            self.choose(min(self.points, key=lambda one: (self._at(one) - near).manhattanLength() - 6 * one.efficient))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        order = self.efficient
        if event.key() not in (Qt.Key.Key_Left, Qt.Key.Key_Right) or not order:
            super().keyPressEvent(event)
            return
        at = order.index(self.chosen) if self.chosen in order else -1
        by = 1 if event.key() == Qt.Key.Key_Right else -1
        self.choose(order[max(0, min(len(order) - 1, at + by))])


def _more_or_less(value: float, unit: str, system: System) -> str:
    return f"{show(abs(value), unit, system)} {tr('more') if value >= 0 else tr('less')}"


class SweepLeaf(Leaf):
    """Presses, chart, sentence of the mix that is chosen."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.axis = QComboBox()
        self.axis.setAccessibleName(tr("Across"))
        self.axis.addItem(tr("by mass"), False)
        self.axis.addItem(tr("by cost"), True)
        self.axis.currentIndexChanged.connect(self._turn_axis)
        self.row_of(("Live every mix", self.start), self.axis, ("Make the design so", self._take))
        self.presses["Live every mix"].setObjectName("firm")
        self.said = TwoLines(bold=True)
        self.column.addWidget(self.said)
        self.chart = SweepChart(system)
        self.chart.chosen_at.connect(self._tell)
        self.column.addWidget(self.chart, 1)
        self.told = TwoLines()
        self.column.addWidget(self.told)
        self._of: Design | None = None
        self._so_far: Swept | None = None
        self._shown: tuple[Point, ...] = ()

    def start(self) -> None:
        """Live what is not lived yet, in the background; what was stopped goes on where it was."""
        design = self.session.shown.design
        before = self._so_far if self._of is design else None
        self._of = design
        self.work(
            tr("Every mix of a sweep"), partial(self._sweep, design, before), partial(self._done, design), self._stopped
        )
        if self._task is not None:
            self._task.progressed.connect(self._look)

    def _sweep(self, design: Design, before: Swept | None, progress: Progress) -> tuple[Point, ...]:
        """On the work's thread: what is lived so far is kept for the window to look at."""
        looked = monotonic()

        def partly(swept: Swept) -> None:
            nonlocal looked
            self._so_far = swept
            if monotonic() - looked > _LOOK_S:
                looked = monotonic()
                self._shown = points(design, swept)

        start = before if before is not None else begin(usual_axes(design))
        self._so_far = swept = sweep(design, start, progress=progress, partial=partly)
        return points(design, swept)

    def _look(self, _share: float, what: str) -> None:
        if self._shown is not self.chart.points:
            self.chart.put(self._shown)
        self.said.setText(what)

    def _stopped(self, why: str) -> None:
        done = int(self._so_far.done.sum()) if self._so_far is not None else 0
        self.said.setText(
            tr("{why} {done} designs are lived; the press goes on from there.").format(why=why, done=done)
        )

    def _done(self, design: Design, found: tuple[Point, ...]) -> None:
        self._of = design
        self._shown = found
        self.chart.put(found)
        self.show_shown(self.session.shown)

    def _turn_axis(self) -> None:
        wanted = bool(self.axis.currentData())
        known = all(one.cost is not None for one in self.chart.points)
        self.chart.by_cost = wanted and known
        self.chart.measure()
        if wanted and not known:
            self.told.setText(tr("A price of modules, packs, inverters or chargers is missing: see Prices."))

    def _tell(self, one: Point) -> None:
        design = self._of
        if design is None:
            return
        parts = [
            change_words(design, one).capitalize(),
            tr("{missing} missing").format(missing=show(one.missing_wh, "Wh", self.system)),
            tr("generator {hours}").format(hours=show(one.generator_h, "h")) if one.generator_h else "",
            _more_or_less(one.mass_kg, "kg", self.system),
            _more_or_less(one.cost, "money", self.system) + tr(" to pay") if one.cost is not None else "",
            tr("more {axis} would help most").format(axis=tr(one.binds)) if one.binds else tr("more of nothing helps"),
            "" if one.carries_peak else tr("too few inverters for the highest load"),
        ]
        self.told.setText(", ".join(part for part in parts if part) + ".")

    def _take(self) -> None:
        """Make the design so; what the job refuses is said."""
        if self.chart.chosen is None or self._of is not self.session.shown.design:
            self.told.setText(tr("Live every mix of the design as it is now, and choose one."))
            return
        why = self.session.apply(as_design(self._of, self.chart.chosen))
        if why is not None:
            self.told.setText(why)

    def show_shown(self, shown: Shown) -> None:
        if not self.chart.points:
            self.said.setText(
                tr("Modules, packs, inverters and alternator chargers in every mix, each through the same year.")
            )
        elif self._of is not shown.design:
            self.said.setText(tr("The job has changed since this was lived."))
        else:
            count = sum(one.efficient for one in self.chart.points)
            self.said.setText(
                tr(
                    "{all} designs lived, {count} of them efficient: none is better in all of missing, mass and cost."
                ).format(all=len(self.chart.points), count=count)
            )
