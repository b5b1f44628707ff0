"""Yield: what the roof gives by month and on its best day, at home or at a stay; the sky may come from a weather
file.
"""

from __future__ import annotations

from functools import partial
from pathlib import Path
from typing import Any

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QBrush, QColor, QPainter, QPen, QPolygonF
from PySide6.QtWidgets import QComboBox

from weighty_axle.answers.roof.sunny import SunnyPlace, home
from weighty_axle.answers.roof.yields import STEPS_PER_H, YieldResult, elsewhere_year_wh, sun_yield
from weighty_axle.design.brief.seasons import MONTHS
from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.figures import FigureRow
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.painting import CENTRE, RIGHT, Canvas, words
from weighty_axle.desk.kit.records import SaidLine
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.commands import Command
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import set_value
from weighty_axle.reference.importers.weather_file import WeatherFileError, read_weather
from weighty_axle.units import FRACTION, NUMBER, System, show

FIELDS = (
    Field("After dirt", "roof.losses.soiling", FRACTION),
    Field("After wiring", "roof.losses.wiring", FRACTION),
    Field("After mismatch", "roof.losses.mismatch", FRACTION),
    Field("After controller", "roof.losses.controller", FRACTION),
    Field("After shade", "roof.losses.shade", FRACTION),
    Field("Haze (Linke)", "roof.sky.turbidity", NUMBER),
    Field("Over air, °C", "roof.rise_c", NUMBER),
    Field("The sky is from", "roof.sky.source", str, wide=3),
)


class MonthsChart(Canvas):
    """A bar a month: the mean day, with a clear day's tick over it; at the right the best day's curve against the
    controllers.
    """

    smooth = True

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.result: YieldResult | None = None
        self.setMinimumHeight(190)
        self.setAccessibleName(tr("Energy of a day by month, and the best clear day"))

    def draw(self, painter: QPainter) -> None:
        if self.result is None:
            return
        self._months(painter, QRectF(56, 22, self.width() * 0.58 - 60, self.height() - 44), self.result)
        self._best(
            painter, QRectF(self.width() * 0.58 + 56, 22, self.width() * 0.42 - 66, self.height() - 44), self.result
        )

    def _months(self, painter: QPainter, area: QRectF, result: YieldResult) -> None:
        now = look()
        needs = self._session.shown.design.brief.energy_per_day_wh
        most = 1.1 * max(needs.value, *(month.clear_day_wh for month in result.months), 1.0)
        words(
            painter,
            QRectF(0, 2, area.right(), 16),
            tr("A day gives, by month · tick: a clear day · line: what a design day takes"),
            size=8.5,
            bold=True,
        )
        for share in (0.0, 0.5, 1.0):
            y = area.bottom() - area.height() * share
            painter.setPen(QPen(QColor(now.line), 0.7))
            painter.drawLine(QPointF(area.left(), y), QPointF(area.right(), y))
            words(painter, QRectF(0, y - 8, 52, 16), show(most * share, "Wh"), size=7.5, colour=now.muted, align=RIGHT)
        wide = area.width() / 12
        for index, one in enumerate(result.months):
            x = area.left() + index * wide
            high = area.height() * one.day_wh.value / most
            box = QRectF(x + wide * 0.18, area.bottom() - high, wide * 0.64, high)
            painter.fillRect(box, QColor(now.live))
            y = area.bottom() - area.height() * one.clear_day_wh / most
            painter.setPen(QPen(QColor(now.ink), 2))
            painter.drawLine(QPointF(x + wide * 0.1, y), QPointF(x + wide * 0.9, y))
            words(
                painter, QRectF(x, area.bottom() + 2, wide, 14), MONTHS[index], size=7.5, colour=now.muted, align=CENTRE
            )
            self.figures.append((QRectF(x, area.top(), wide, area.height() + 16), one.day_wh))
        y = area.bottom() - area.height() * needs.value / most
        painter.setPen(QPen(QColor(now.check), 1.6))
        painter.drawLine(QPointF(area.left(), y), QPointF(area.right(), y))
        self.figures.append((QRectF(area.left(), y - 5, area.width(), 10), needs))

    def _best(self, painter: QPainter, area: QRectF, result: YieldResult) -> None:
        now, rated = look(), self._session.shown.design.roof.rated_w.value
        words(
            painter,
            QRectF(area.left() - 50, 2, area.width() + 60, 16),
            tr("The best clear day, into the bank"),
            size=8.5,
            bold=True,
        )
        most = max(rated, 1.0)
        for share in (0.0, 0.5, 1.0):
            y = area.bottom() - area.height() * share
            painter.setPen(QPen(QColor(now.line), 0.7))
            painter.drawLine(QPointF(area.left(), y), QPointF(area.right(), y))
            words(
                painter,
                QRectF(area.left() - 58, y - 8, 54, 16),
                show(most * share, "W"),
                size=7.5,
                colour=now.muted,
                align=RIGHT,
            )
        # The band where a good day stands near noon.
        band = QRectF(
            area.left() + area.width() * 11 / 24,
            area.bottom() - area.height() * 0.70,
            area.width() * 2 / 24,
            area.height() * 0.15,
        )
        painter.fillRect(band, QBrush(QColor(now.line)))
        points = [
            QPointF(
                area.left() + area.width() * (at + 0.5) / (24 * STEPS_PER_H),
                area.bottom() - area.height() * min(1.0, watts / most),
            )
            for at, watts in enumerate(result.best_day)
        ]
        painter.setPen(QPen(QColor(now.live), 2))
        painter.drawPolyline(QPolygonF(points))
        for hour in (6, 12, 18):
            words(
                painter,
                QRectF(area.left() + area.width() * hour / 24 - 20, area.bottom() + 2, 40, 14),
                f"{hour:02d}:00",
                size=7.5,
                colour=now.muted,
                align=CENTRE,
            )


class YieldLeaf(Leaf):
    """Place, weather file, fields, chart, figures."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.place = QComboBox()
        self.place.setAccessibleName(tr("Place"))
        self.place.setMinimumContentsLength(18)
        self.place.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.place.activated.connect(lambda _index: self._draw(self.session.shown))
        self.row_of(self.place, ("Sky from a weather file…", self._ask))
        self.fields = Fields(session, system, FIELDS, len(FIELDS))
        self.column.addWidget(self.fields)
        self._said = SaidLine()
        self.column.addWidget(self._said)
        self.chart = MonthsChart(session)
        self.column.addWidget(self.chart, 1)
        self.figures = FigureRow(system)
        self.column.addWidget(self.figures)
        self.elsewhere = FigureRow(system)
        self.column.addWidget(self.elsewhere)
        self.listen(self.chart, self.figures, self.elsewhere)

    def _places(self, shown: Shown) -> list[SunnyPlace]:
        stays = [
            SunnyPlace(
                name=stay.place,
                latitude_deg=stay.latitude_deg,
                longitude_deg=stay.longitude_deg,
                height_m=stay.height_m,
            )
            for stay in shown.job.stays
        ]
        return [home(shown.design), *dict.fromkeys(stays)]

    def _draw(self, shown: Shown) -> None:
        places = self._places(shown)
        place = places[max(0, self.place.currentIndex())]
        result = sun_yield(shown.design, place)
        self.elsewhere.put(elsewhere_year_wh(shown.design, place)[:4])
        self.chart.result = result
        self.chart.update()
        self.figures.put(
            (
                result.year_wh,
                result.noon_share,
                result.cut_year_wh,
                result.cut_year_h,
                min((month.day_wh for month in result.months), key=lambda one: one.value),
            )
        )

    def _ask(self) -> None:
        from PySide6.QtWidgets import QFileDialog

        name, _ = QFileDialog.getOpenFileName(self, tr("Weather file"), "", "EPW, TMY3 (*.epw *.csv)")
        if name:
            self.read(Path(name))

    def read(self, path: Path) -> None:
        """Take the sky of a weather file in the background."""
        self.work(tr("Reading {name}").format(name=path.name), partial(_read, path), self._taken, self._said.setText)

    def _taken(self, sky: Any) -> None:
        if isinstance(sky, str):
            self._said.setText(sky)
            return
        job = self.session.shown.job
        from msgspec.structs import replace

        changed = replace(job.roof.sky, clearness=sky.clearness, air_c=sky.air_c, source=sky.source)
        problem = self.session.apply(set_value("roof.sky", changed, f"Sky from {sky.source}"))
        self._said.setText(problem or " ".join(sky.left_out))

    def show_shown(self, shown: Shown) -> None:
        self.fields.show_shown(shown)
        at = max(0, self.place.currentIndex())
        self.place.clear()
        self.place.addItems([one.name for one in self._places(shown)])
        self.place.setCurrentIndex(min(at, self.place.count() - 1))
        self._draw(shown)

    def commands(self) -> list[Command]:
        return [Command(tr("Take the sky from a weather file…"), "", self._ask, "tables")]


def _read(path: Path, progress: Any) -> Any:
    """The sky of the file, or the sentence of why it is of no use."""
    progress(0.2, tr("Hours"))
    try:
        return read_weather(path)
    except WeatherFileError as error:
        return str(error)
