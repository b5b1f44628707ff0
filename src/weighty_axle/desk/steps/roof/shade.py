"""Shade: shadows on the plan at any hour, and the year of every wiring under them."""

from __future__ import annotations

from functools import partial
from typing import Any

from msgspec.structs import replace
from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPen
from PySide6.QtWidgets import QGridLayout, QSlider, QWidget

from weighty_axle.answers.roof.shade import (
    AS_STRUNG,
    DAY_STEP_H,
    ShadeDay,
    ShadeResult,
    shade,
    shade_day,
    shadow_outlines,
)
from weighty_axle.answers.roof.sunny import home
from weighty_axle.design.brief.seasons import date_words
from weighty_axle.design.table import Design
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import Leaf, TwoLines
from weighty_axle.desk.kit.painting import CENTRE, RIGHT, Canvas, bar, words
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.steps.roof.plan import RoofPlan
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.commands import Command
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import set_value
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.roof import Losses
from weighty_axle.physics.solar.single_diode import FitError
from weighty_axle.units import System, show


class WaysChart(Canvas):
    """One bar a wiring: the year's energy, and what shade took from it."""

    def __init__(self) -> None:
        super().__init__()
        self.result: ShadeResult | None = None
        self.setMinimumHeight(96)
        self.setAccessibleName(tr("The year of every wiring"))

    def draw(self, painter: QPainter) -> None:
        now = look()
        if self.result is None:
            return
        most = 1.04 * max(way.year_wh.value / (1 - way.lost_share.value) for way in self.result.ways)
        row = min(22.0, (self.height() - 4) / len(self.result.ways))
        for index, one in enumerate(self.result.ways):
            y = 2 + index * row
            name = one.name + (f" ({one.against})" if one.against else "")
            words(
                painter,
                QRectF(0, y, 340, row),
                name,
                size=8.5,
                bold=one.name == AS_STRUNG,
                colour=now.muted if one.against else now.ink,
            )
            box = QRectF(346, y + row * 0.2, self.width() - 346 - 190, row * 0.6)
            whole = one.year_wh.value / (1 - one.lost_share.value)
            bar(
                painter, box, one.year_wh.value / most, now.steel if one.against else now.live, limit_share=whole / most
            )
            text = tr("{wh}, shade takes {part}").format(
                wh=show(one.year_wh.value, "Wh"), part=show(one.lost_share.value, "1")
            )
            words(painter, QRectF(self.width() - 184, y, 184, row), text, size=8.5)
            self.figures.append((QRectF(0, y, self.width() - 190, row), one.year_wh))
            self.figures.append((QRectF(self.width() - 184, y, 184, row), one.lost_share))


class DayChart(Canvas):
    """A clear day under the shadows of the sliders: what the modules give as strung, and hatched what the shadows
    take.
    """

    def __init__(self) -> None:
        super().__init__()
        self.result: ShadeDay | None = None
        self.setMinimumHeight(84)
        self.setAccessibleName(tr("A clear day under these shadows"))

    def draw(self, painter: QPainter) -> None:
        result, now = self.result, look()
        if result is None:
            return
        share = show(result.lost_share.value, "1")
        words(
            painter,
            QRectF(0, 0, self.width(), 15),
            tr("A clear day so, as it is strung: shadows take {share}").format(share=share),
            size=8.5,
            bold=True,
        )
        self.figures.append((QRectF(0, 0, self.width(), 15), result.lost_share))
        area = QRectF(52, 20, self.width() - 60, self.height() - 36)
        most = 1.05 * max(*result.without_w, 1.0)
        words(
            painter, QRectF(0, area.top() - 4, 46, 14), show(most / 1.05, "W"), size=7.5, colour=now.muted, align=RIGHT
        )
        wide = area.width() * DAY_STEP_H / 24
        for hour, given, whole in zip(result.hours, result.with_w, result.without_w, strict=True):
            x = area.left() + (hour - DAY_STEP_H / 2) / 24 * area.width()
            painter.setPen(QPen(QColor(now.live), 0.8))
            for value, brush in (
                (whole, QBrush(QColor(now.live), Qt.BrushStyle.BDiagPattern)),
                (given, QBrush(QColor(now.live_soft))),
            ):
                painter.setBrush(brush)
                tall = area.height() * value / most
                painter.drawRect(QRectF(x, area.bottom() - tall, wide, tall))
        for hour in range(0, 25, 3):
            x = area.left() + hour / 24 * area.width()
            words(
                painter,
                QRectF(x - 20, area.bottom() + 1, 40, 13),
                f"{hour:02d}",
                size=7.5,
                colour=now.muted,
                align=CENTRE,
            )


class ShadeLeaf(Leaf):
    """Sliders, plan with shadows, the day under them, press, sentence, chart of the year."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        box = QWidget()
        grid = QGridLayout(box)
        grid.setContentsMargins(0, 0, 0, 0)
        self.sliders: dict[str, QSlider] = {}
        self.labels: dict[str, Label] = {}
        for at, (name, low, high, value) in enumerate(
            (("Day", 1, 365, 172), ("Hour of the sun", 16, 80, 36), ("Front points to", 0, 359, 0))
        ):
            slider = QSlider(Qt.Orientation.Horizontal)
            slider.setRange(low, high)
            slider.setValue(value)
            slider.setAccessibleName(tr(name))
            slider.valueChanged.connect(self._slid)
            label = Label()
            grid.addWidget(label, 0, at)
            grid.addWidget(slider, 1, at)
            self.sliders[name], self.labels[name] = slider, label
        self.sliders["Front points to"].sliderReleased.connect(self._keep_heading)
        self.column.addWidget(box)
        self.plan = RoofPlan(session, system)
        self.column.addWidget(self.plan, 3)
        self.day = DayChart()
        self.column.addWidget(self.day, 1)
        self.row_of(("Compare wirings through the year", self.start), ("Count this shade in the yield", self._count))
        self.presses["Compare wirings through the year"].setObjectName("firm")
        self.sentence = TwoLines(bold=True)
        self.column.addWidget(self.sentence)
        self.chart = WaysChart()
        self.chart.hide()
        self.column.addWidget(self.chart)
        self.listen(self.plan, self.day, self.chart)
        self._of: Job | None = None

    def start(self) -> None:
        """Compare in the background."""
        design = self.session.shown.design
        self.work(tr("A year of shade"), partial(_shade, design), partial(self._shaded, design), self.sentence.setText)

    def _shaded(self, design: Design, result: ShadeResult | str | None) -> None:
        if isinstance(result, str):
            self.sentence.setText(result)
            return
        self._of = _as_shaded(design.job)
        self.chart.result = result
        self.chart.setVisible(result is not None)
        self.chart.setFixedHeight(int(22 * len(result.ways) + 6) if result else 60)
        self.chart.update()
        self.show_shown(self.session.shown)

    def _count(self) -> None:
        """Take what shade leaves of the year, as it is strung, into the yield."""
        if self.chart.result is not None:
            lost = next(way for way in self.chart.result.ways if way.name == AS_STRUNG).lost_share.value
            # Whole means not counted: next to no shade is still counted as some.
            left = min(0.9999, round(1 - lost, 4))
            self.session.apply(
                set_value("roof.losses.shade", left, f"Count shade in the yield: {100 * left:.1f} % is left")
            )

    def _keep_heading(self) -> None:
        value = float(self.sliders["Front points to"].value())
        self.session.apply(set_value("roof.heading_deg", value, f"Parked with the front to {value:g}°"))

    def _slid(self) -> None:
        day, quarter, heading = (self.sliders[name].value() for name in ("Day", "Hour of the sun", "Front points to"))
        design = self.session.shown.design
        self.plan.shadows, up = shadow_outlines(
            design, home(design), day=day, solar_h=quarter / 4, heading_deg=float(heading)
        )
        self.labels["Day"].setText(date_words(day))
        sun = tr("sun {up:.0f}° high").format(up=up) if up > 0 else tr("the sun is down")
        self.labels["Hour of the sun"].setText(f"{quarter // 4:02d}:{quarter % 4 * 15:02d}, {sun}")
        self.labels["Front points to"].setText(tr("front to {deg}° from north").format(deg=heading))
        self.plan.update()
        stated = design.job
        self.quietly(
            (stated.roof, stated.site, day, heading), partial(_shade_day, design, day, float(heading)), self._day_shaded
        )

    def _day_shaded(self, result: ShadeDay | str | None) -> None:
        self.day.result = None if isinstance(result, str) else result
        if isinstance(result, str):
            self.sentence.setText(result)
        self.day.update()

    def show_shown(self, shown: Shown) -> None:
        heading = shown.job.roof.heading_deg
        slider = self.sliders["Front points to"]
        if heading is not None and not slider.isSliderDown():
            slider.blockSignals(True)
            slider.setValue(round(heading))
            slider.blockSignals(False)
        self._slid()
        if self._of is None:
            any_way = (
                tr("parked any way") if heading is None else tr("parked with the front to {deg:g}°").format(deg=heading)
            )
            text = tr(
                "Hour by hour through the year, {way}: what series, parallel and strings between give with these "
                "shadows."
            ).format(way=any_way)
        elif self._of == _as_shaded(shown.job):
            text = self.chart.result.sentence if self.chart.result is not None else tr("No modules are on strings.")
        else:
            text = tr("The job has changed since: compare again.")
        self.sentence.setText(text)
        self.presses["Count this shade in the yield"].setEnabled(
            self._of == _as_shaded(shown.job) and self.chart.result is not None
        )

    def commands(self) -> list[Command]:
        return [Command(tr("Compare wirings under shade"), "", self.start)]


def _shade_day(design: Design, day: int, heading_deg: float, _progress: Any) -> ShadeDay | str | None:
    try:
        return shade_day(design, home(design), day, heading_deg)
    except FitError as why:
        return _of_datasheet(why)


def _as_shaded(job: Job) -> Job:
    """The job as far as shade depends on it: not on what is counted in the yield."""
    return replace(job, roof=replace(job.roof, losses=Losses()))


def _shade(design: Design, progress: Any) -> ShadeResult | str | None:
    try:
        return shade(design, home(design), progress)
    except FitError as why:
        return _of_datasheet(why)


def _of_datasheet(why: FitError) -> str:
    return tr("Shade needs the modules' curve, and {why}: look at the datasheet again.").format(why=why)
