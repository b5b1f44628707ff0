"""Size: arrangements of inverters side by side for this job's loads, and the one to use."""

from __future__ import annotations

from functools import partial
from typing import Any

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QPolygonF
from PySide6.QtWidgets import QHBoxLayout, QPushButton

from weighty_axle.answers.inverters.size import Arrangement, candidates
from weighty_axle.design.table import Design
from weighty_axle.desk.kit.figures import FigureRow
from weighty_axle.desk.kit.leaves import Leaf, TwoLines
from weighty_axle.desk.kit.painting import CENTRE, RIGHT, Canvas, words
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.commands import Command
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.inverters import STACKING_WORDS
from weighty_axle.units import FRACTION, MASS, System, show


def _verdict(one: Arrangement) -> str:
    """What it runs, worst first."""
    if one.dead:
        return tr("not {loads}").format(loads=", ".join(one.dead))
    if one.over:
        return tr("too small on {lines}").format(lines=" and ".join(one.over))
    if one.start_share.value > 1:
        return tr("too weak for the worst start")
    return tr("all, one out too") if one.runs_all_with_one_out else tr("all")


def _short(one: Arrangement) -> str:
    """Name of the unit without what all of them share: the kind and the bank's voltage."""
    return one.spec.name.removeprefix("Inverter-charger ").partition(" V ")[2] or one.spec.name


def _one_out(one: Arrangement) -> str:
    if one.left_dark:
        return tr("{n} loads dark").format(n=len(one.left_dark))
    return show(one.left_share.value, "1")


COLUMNS = (
    Column("Arrangement", lambda one: f"{one.count} × {_short(one)}" + (f" · {tr('now')}" if one.now else ""), None),
    Column("Stacking", lambda one: STACKING_WORDS[one.stacking], None),
    Column("Minute", lambda one: one.worst_share.value, FRACTION),
    Column("Start", lambda one: one.start_share.value, FRACTION),
    Column("Lost a day", lambda one: show(one.loss_day_wh.value, "Wh"), None),
    Column("Mass", lambda one: one.mass_kg.value, MASS),
    Column("One out leaves", _one_out, None),
    Column("Runs", _verdict, None),
)


class LossChart(Canvas):
    """Loss over AC power of the chosen arrangement and of the present one, with the day's mean and peak."""

    smooth = True

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.pair: tuple[Arrangement, ...] = ()
        self.setFixedHeight(118)
        self.setAccessibleName(tr("Loss of the arrangements over the power drawn"))

    def draw(self, painter: QPainter) -> None:
        if not self.pair:
            return
        now, design = look(), self._session.shown.design
        area = QRectF(66, 18, self.width() - 240, self.height() - 38)
        top_w = max(one.continuous_va.value for one in self.pair)
        most = max(one.loss_w(one.continuous_va.value) for one in self.pair)
        words(painter, QRectF(4, 0, area.width(), 15), tr("Loss over the power drawn"), size=8.5, bold=True)
        for share in (0.0, 0.5, 1.0):
            y = area.bottom() - area.height() * share
            painter.setPen(QPen(QColor(now.line), 0.7))
            painter.drawLine(QPointF(area.left(), y), QPointF(area.right(), y))
            words(painter, QRectF(0, y - 8, 60, 16), show(most * share, "W"), size=7.5, colour=now.muted, align=RIGHT)
            words(
                painter,
                QRectF(area.left() + area.width() * share - 40, area.bottom() + 3, 80, 14),
                show(top_w * share, "W"),
                size=7.5,
                colour=now.muted,
                align=CENTRE,
            )
        for index, one in enumerate(self.pair):
            steps = [one.continuous_va.value * step / 40 for step in range(41)]
            line = [
                QPointF(area.left() + area.width() * w / top_w, area.bottom() - area.height() * one.loss_w(w) / most)
                for w in steps
            ]
            painter.setPen(
                QPen(
                    QColor(now.steel if index else now.live),
                    2,
                    Qt.PenStyle.DashLine if index else Qt.PenStyle.SolidLine,
                )
            )
            painter.drawPolyline(QPolygonF(line))
            key = QRectF(area.right() + 14, area.top() + 18 * index, 160, 16)
            painter.drawLine(QPointF(key.x(), key.center().y()), QPointF(key.x() + 18, key.center().y()))
            words(
                painter,
                key.adjusted(24, 0, 0, 0),
                f"{one.count} × {_short(one)}" + (f" · {tr('now')}" if one.now else ""),
                size=8,
            )
        day = design.brief.days[design.brief.design_day]
        for value, text in ((day.ac_energy_wh.value / 24, tr("mean")), (day.peak_ac_w.value, tr("peak"))):
            x = area.left() + area.width() * min(1.0, value / top_w)
            painter.setPen(QPen(QColor(now.ink), 1, Qt.PenStyle.DotLine))
            painter.drawLine(QPointF(x, area.top()), QPointF(x, area.bottom()))
            words(painter, QRectF(x + 3, area.top() - 3, 60, 12), text, size=7.5, colour=now.muted)


class SizeLeaf(Leaf):
    """Sentence, table, what is chosen in words, figures."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        row = QHBoxLayout()
        self.compare = QPushButton(tr("Compare arrangements"))
        self.compare.setObjectName("firm")
        self.compare.clicked.connect(self.start)
        self.use = QPushButton(tr("Use this arrangement"))
        self.use.clicked.connect(self._use)
        row.addWidget(self.compare)
        row.addWidget(self.use)
        row.addStretch(1)
        self.column.addLayout(row)
        self.sentence = TwoLines()
        self.column.addWidget(self.sentence)
        self._said = SaidLine()
        self.model = Records(session, system, COLUMNS, self._said.setText, self)
        self.table = table_view(self.model, tr("Arrangements of inverters"), wide=7)
        self.table.selectionModel().currentRowChanged.connect(lambda *_: self._turn())
        self.column.addWidget(self.table, 1)
        self.column.addWidget(self._said)
        self.chosen = TwoLines(bold=True)
        self.column.addWidget(self.chosen)
        self.chart = LossChart(session)
        self.column.addWidget(self.chart)
        self.figures = FigureRow(system)
        self.column.addWidget(self.figures)
        self.listen(self.figures)
        self._of: Design | None = None

    def start(self) -> None:
        """Compare in the background."""
        design = self.session.shown.design
        self.work(
            tr("Comparing arrangements"), partial(_compare, design), partial(self._compared, design), self._said.setText
        )

    def _compared(self, design: Design, found: tuple[Arrangement, ...]) -> None:
        self._of = design
        self.model.put(found)
        self.table.selectRow(0)
        self.show_shown(self.session.shown)

    def _candidate(self) -> Arrangement | None:
        at = self.table.currentIndex().row()
        found: Arrangement | None = self.model.record(at) if 0 <= at < self.model.rowCount() else None
        return found

    def _use(self) -> None:
        one = self._candidate()
        if one is not None:
            self._said.setText(self.session.apply(one.edit) or "")

    def _turn(self) -> None:
        one = self._candidate()
        self.use.setEnabled(one is not None and not one.now)
        current = tuple(row for row in (self.model.record(at) for at in range(self.model.rowCount())) if row.now)
        self.chart.pair = () if one is None else (one, *(row for row in current[:1] if row is not one))
        self.chart.update()
        if one is None:
            self.chosen.setText("")
            self.figures.put(())
            return
        if one.left_dark:
            left = tr("With one out these are dark: {loads}.").format(loads=", ".join(one.left_dark))
        else:
            left = tr("With one out {part} of the worst minute is still carried.").format(
                part=show(one.left_share.value, "1")
            )
        runs = tr("runs everything") if one.runs_all else _verdict(one)
        self.chosen.setText(f"{one.count} × {one.spec.name}, {STACKING_WORDS[one.stacking]}: {runs}. {left}")
        asleep = (one.sleep_day_wh,) if one.sleep_day_wh is not None else ()
        self.figures.put((one.worst_share, one.start_share, one.loss_day_wh, one.idle_day_wh, *asleep, one.left_share))

    def show_shown(self, shown: Shown) -> None:
        if self._of is None:
            text = tr(
                "Every arrangement of the inverters in the table that fits this bank and voltage, for these loads "
                "on these days."
            )
        elif self._of is shown.design:
            text = tr(
                "For the job as it is. Worst minute and start are shares of what the inverters give in the hottest bay."
            )
        else:
            text = tr("The job has changed since: compare again.")
        self.sentence.setText(text)
        self._turn()

    def commands(self) -> list[Command]:
        return [Command(tr("Compare arrangements of inverters"), "", self.start)]


def _compare(design: Design, progress: Any) -> tuple[Arrangement, ...]:
    return candidates(design, progress)
