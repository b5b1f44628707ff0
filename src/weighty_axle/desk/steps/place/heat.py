"""Heat: how warm each bay gets through the worst day, when its fan runs, and what its air has to carry."""

from __future__ import annotations

import math
from functools import partial
from typing import Any

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QPolygonF

from weighty_axle.design.place.heat import STEP_MIN, BayHeat
from weighty_axle.design.plainest import plainest
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.painting import CENTRE, LEFT, RIGHT, Canvas, even_step, words
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import WHOLE, Edit, set_value
from weighty_axle.job.models.vehicle import Air
from weighty_axle.units import NUMBER, TEMPERATURE, System, show


def _set(name: str, title: str, row: BayHeat, value: Any) -> Edit:
    def apply(job: Any) -> Any:
        bay = next(one for one in job.vehicle.bays if one.tag == row.tag)
        if bay.air is None:
            job = set_value(f"vehicle.bays[{row.tag}].air", plainest(Air, job), "").apply(job)
        return set_value(f"vehicle.bays[{row.tag}].air.{name}", value, "").apply(job)

    return Edit(f"{title} of {row.name}: {value}", apply, path=f"vehicle.bays[{row.tag}].air.{name}", system=WHOLE)


_COLUMNS = (
    Column("Bay", lambda row: row.name, None),
    Column("Lost at full load, W", lambda row: round(row.loss_w.value), NUMBER),
    Column("Warmest", lambda row: row.peak_c.value, TEMPERATURE),
    Column("Counted on", lambda row: row.allowed_c.value, TEMPERATURE),
    Column(
        "Fan, m³/h",
        lambda row: row.moved_m3_h.value if row.moved_m3_h is not None else None,
        NUMBER,
        partial(_set, "fan_m3_per_h", "Fan"),
    ),
    Column(
        "It takes, m³/h",
        lambda row: round(row.needed_m3_h.value) if math.isfinite(row.needed_m3_h.value) else None,
        NUMBER,
    ),
    Column("Settles at full load", lambda row: row.settles_c.value, TEMPERATURE),
)


class HeatChart(Canvas):
    """The worst day of one bay: its air against the air outside, the limit, and when the fan runs."""

    smooth = True

    def __init__(self, session: Session, system: System) -> None:
        super().__init__()
        self._session, self._system = session, system
        self.tag = ""
        self.setMinimumHeight(210)
        self.setAccessibleName(tr("Temperature of a bay through the worst day"))

    def bay(self) -> BayHeat | None:
        """The bay on show."""
        bays = self._session.shown.design.heat.bays
        return next((one for one in bays if one.tag == self.tag), bays[0] if bays else None)

    def draw(self, painter: QPainter) -> None:
        now, one = look(), self.bay()
        if one is None:
            words(painter, QRectF(self.rect()), tr("Nothing in any bay loses heat."), align=CENTRE)
            return
        plot = QRectF(54, 24, self.width() - 170, self.height() - 58)
        low = min(min(one.outside_c), min(one.curve_c)) - 2
        high = max(max(one.curve_c), one.allowed_c.value) + 3

        def at(minute: float, celsius: float) -> QPointF:
            return QPointF(
                plot.x() + plot.width() * minute / 1440, plot.bottom() - plot.height() * (celsius - low) / (high - low)
            )

        step = even_step(high - low, 6)
        celsius = math.ceil(low / step) * step
        while celsius <= high:
            painter.setPen(QPen(QColor(now.line), 0.8))
            painter.drawLine(at(0, celsius), at(1440, celsius))
            label = QRectF(0, at(0, celsius).y() - 7, 48, 14)
            words(painter, label, show(celsius, "degC", self._system), size=8, colour=now.muted, align=RIGHT)
            celsius += step
        for hour in range(0, 25, 3):
            x = at(60 * hour, low).x()
            words(
                painter,
                QRectF(x - 20, plot.bottom() + 14, 40, 13),
                f"{hour:02d}",
                size=8,
                colour=now.muted,
                align=CENTRE,
            )
        self._fan(painter, one, plot)
        self._line(
            painter, [at(STEP_MIN * step, value) for step, value in enumerate(one.outside_c)], now.steel, dashed=True
        )
        over = one.peak_c.value > one.allowed_c.value
        self._line(
            painter,
            [at(STEP_MIN * step, value) for step, value in enumerate(one.curve_c)],
            now.stop if over else now.live,
        )
        painter.setPen(QPen(QColor(now.ink), 1.4))
        painter.drawLine(at(0, one.allowed_c.value), at(1440, one.allowed_c.value))
        right = plot.right() + 6
        self._end(painter, right, at(1440, one.allowed_c.value).y(), tr("counted on"), now.ink)
        self._end(painter, right, at(1440, one.outside_c[-1]).y(), tr("outside"), now.steel)
        self._end(painter, right, at(1440, one.curve_c[-1]).y() - 10, tr("in the bay"), now.stop if over else now.live)
        title = tr("{bay} on its worst day: {peak}").format(
            bay=one.name, peak=show(one.peak_c.value, "degC", self._system)
        )
        words(painter, QRectF(54, 2, plot.width(), 18), title, size=10, bold=True)
        self.figures.append((plot, one.peak_c))

    def _fan(self, painter: QPainter, one: BayHeat, plot: QRectF) -> None:
        """A bar under the plot where the fan runs, in words beside it."""
        now = look()
        width = plot.width() / len(one.fan_on)
        for step, on in enumerate(one.fan_on):
            if on:
                painter.fillRect(QRectF(plot.x() + step * width, plot.bottom() + 4, width + 0.5, 6), QColor(now.live))
        hours = sum(one.fan_on) * STEP_MIN / 60
        told = tr("fan {hours:.0f} h").format(hours=hours) if one.stated else tr("no fan stated")
        air = next((bay.air for bay in self._session.shown.whole.vehicle.bays if bay.tag == one.tag), None)
        if air is not None and air.noise_db is not None:
            told += f", {air.noise_db:.0f} dB"
        words(painter, QRectF(plot.right() + 6, plot.bottom(), 108, 14), told, size=8.5, align=LEFT)

    def _line(self, painter: QPainter, points: list[QPointF], colour: str, *, dashed: bool = False) -> None:
        style = Qt.PenStyle.DashLine if dashed else Qt.PenStyle.SolidLine
        painter.setPen(QPen(QColor(colour), 1.4 if dashed else 2.2, style))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolyline(QPolygonF(points))

    def _end(self, painter: QPainter, x: float, y: float, text: str, colour: str) -> None:
        words(painter, QRectF(x, y - 8, 108, 14), text, size=8.5, colour=colour, align=LEFT)


class HeatLeaf(Leaf):
    """A row a bay, and the worst day of the one that is chosen."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.chart = HeatChart(session, system)
        self.column.addWidget(self.chart, 3)
        self.said = SaidLine()
        self.model = Records(session, system, _COLUMNS, self.said.setText, self)
        self.table = table_view(self.model, tr("Bays and their air"), wide=0)
        self.table.selectionModel().currentRowChanged.connect(self._on_row)
        self.column.addWidget(self.table, 2)
        self.column.addWidget(self.said)
        self.row_of(("Air and walls on its sheet", self._sheet))
        self.figures = self.figure_row()
        self.follow(self.table, self.model, lambda row: row.tag)
        self.listen(self.chart)

    def _on_row(self) -> None:
        row = self.table.currentIndex().row()
        if 0 <= row < self.model.rowCount():
            self.chart.tag = self.model.record(row).tag
            self.session.select(self.chart.tag)
            self._tell()

    def _sheet(self) -> None:
        one = self.chart.bay()
        if one is not None:
            self.session.sheet_asked.emit(one.tag)

    def show_shown(self, shown: Shown) -> None:
        self.model.put(shown.design.heat.bays)
        self._tell()

    def _tell(self) -> None:
        one = self.chart.bay()
        self.figures.put(() if one is None else (one.loss_w, one.peak_c, one.needed_m3_h, one.settles_c))
        self.chart.update()
