"""Many years: what the weather does to this design, and what the customer may count on, in sentences."""

from __future__ import annotations

import math
from functools import partial

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QColor, QPainter, QPen

from weighty_axle.answers.year.weathers import YEARS, Progress, Weathers, weathers
from weighty_axle.answers.year.words import sentences
from weighty_axle.design.table import Design
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import Leaf, TwoLines
from weighty_axle.desk.kit.painting import CENTRE, Canvas, even_step, words
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.steps.year.kept import YEARS as KEPT
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.units import System, show

_SHOWN = ("missing_wh", "generator_h", "lowest_share", "sun_wh")
_UNITS = {"missing_wh": "Wh", "generator_h": "h", "lowest_share": "1", "sun_wh": "Wh"}
_WORDS = {"missing_wh": "Missing", "generator_h": "Generator", "lowest_share": "Lowest charge", "sun_wh": "Sun used"}


class Spread(Canvas):
    """A row for each quantity: a tick for every year drawn; taller ones, and the numbers beside, where a tenth, half
    and nine tenths of the years lie under it.
    """

    def __init__(self, system: System) -> None:
        super().__init__()
        self._system = system
        self.result: Weathers | None = None
        self.setMinimumHeight(170)
        self.setAccessibleName(tr("Spread of many years"))

    def draw(self, painter: QPainter) -> None:
        result = self.result
        if result is None:
            return
        shown = [key for key in _SHOWN if result.values(key).max() > 0]
        row = min(64.0, self.height() / len(shown))
        for at, key in enumerate(shown):
            self._row(painter, result, key, at * row, row)

    def _row(self, painter: QPainter, result: Weathers, key: str, top: float, high: float) -> None:
        values, unit, now = result.values(key), _UNITS[key], look()
        least, most = float(values.min()), float(values.max())
        # A spread far from nothing is shown by itself: the marks say where it lies.
        low = least - 0.3 * (most - least) if least > 0.5 * most and most > least else 0.0
        span = max(most - low, 1e-9)
        area = QRectF(110, top + 4, self.width() - 380, high - 22)
        words(painter, QRectF(0, area.top(), 104, area.height()), tr(_WORDS[key]), bold=True)
        painter.setPen(QPen(QColor(now.line), 1))
        painter.drawLine(QPointF(area.left(), area.bottom()), QPointF(area.right(), area.bottom()))
        step = even_step(span, 5)
        mark = math.ceil(low / step) * step
        while mark <= most * (1 + 1e-9):
            x = area.left() + (mark - low) / span * area.width()
            text = show(round(mark, 6), unit, self._system)
            words(painter, QRectF(x - 40, area.bottom() + 1, 80, 13), text, size=7, colour=now.muted, align=CENTRE)
            mark += step
        painter.setPen(QPen(QColor(now.live), 1))
        for value in values:
            x = area.left() + (float(value) - low) / span * area.width()
            painter.drawLine(QPointF(x, area.bottom() - area.height() * 0.5), QPointF(x, area.bottom()))
        painter.setPen(QPen(QColor(now.ink), 2))
        figures = result.percentiles(key)
        for figure in figures:
            x = area.left() + (figure.value - low) / span * area.width()
            painter.drawLine(QPointF(x, area.top()), QPointF(x, area.bottom()))
            self.figures.append((QRectF(x - 5, area.top(), 10, area.height()), figure))
        text = " · ".join(show(figure.value, unit, self._system) for figure in figures)
        rect = QRectF(area.right() + 14, area.top(), 250, area.height())
        words(painter, rect, text, size=8.5, bold=True, colour=now.live)
        self.figures.append((rect, figures[1]))


class WeathersLeaf(Leaf):
    """Press, spread, sentences."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.row_of((f"Live {YEARS} years", self.start))
        self.presses[f"Live {YEARS} years"].setObjectName("firm")
        self.said = TwoLines(bold=True)
        self.column.addWidget(self.said)
        self.spread = Spread(system)
        self.column.addWidget(self.spread, 3)
        self.sentences = Label()
        self.sentences.setWordWrap(True)
        self.sentences.setAccessibleName(tr("What the customer may count on"))
        self.column.addWidget(self.sentences, 2)
        self.figures = self.figure_row()
        self.listen(self.spread)
        self._of: Design | None = None

    def start(self) -> None:
        """Live them in the background."""
        design = self.session.shown.design
        self.work(tr("Many years"), partial(_many, design), partial(self._done, design), self.said.setText)

    def _done(self, design: Design, answer: tuple[Weathers, tuple[str, ...]]) -> None:
        self._of = design
        self.spread.result = answer[0]
        self.spread.update()
        self.sentences.setText("\n".join(answer[1]))
        self.figures.put((*answer[0].percentiles("missing_wh"), *answer[0].percentiles("generator_h")))
        self.show_shown(self.session.shown)

    def show_shown(self, shown: Shown) -> None:
        if self.spread.result is None:
            self.said.setText(tr("One year says little: many show a good, a usual and a bad one."))
        elif self._of is not shown.design:
            self.said.setText(tr("The job has changed since these years were lived: live them again."))
        else:
            many = self.spread.result
            self.said.setText(
                tr("{count} years of “{seed}”, steps of {step} min; year {bad} decides.").format(
                    count=len(many.sums), seed=many.seed, step=many.step_min, bad=many.deciding + 1
                )
            )


def _many(design: Design, progress: Progress) -> tuple[Weathers, tuple[str, ...]]:
    many = weathers(design, progress=progress)
    year, result = KEPT.of(design)
    return many, sentences(year, result, many)
