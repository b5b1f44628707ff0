"""Budget: what alternators give hot at three engine speeds, and the chargers stacked on what is left."""

from __future__ import annotations

import math
from functools import partial

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QWidget

from weighty_axle.design.charging.budget import SPEED_WORDS, SPEEDS, Budget, Speed
from weighty_axle.design.plainest import plainest
from weighty_axle.design.table import Design
from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.leaves import Leaf, TwoLines
from weighty_axle.desk.kit.painting import CENTRE, RIGHT, Canvas, even_step, words
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.commands import Command
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.sheet import add_entry
from weighty_axle.job.models.charging import Alternator
from weighty_axle.units import CURRENT, FRACTION, LENGTH, NUMBER, POWER, VOLTAGE, System, show

FIELDS = (
    Field("Nameplate", "charging.alternators[{tag}].rated_a", CURRENT),
    Field("Hot and slow", "charging.alternators[{tag}].hot_share", FRACTION),
    Field("Idling", "charging.alternators[{tag}].idle_share", FRACTION),
    Field("Vehicle takes", "charging.alternators[{tag}].vehicle_a", CURRENT),
    Field("Margin", "charging.alternators[{tag}].margin_a", CURRENT),
    Field("Holds", "charging.alternators[{tag}].volts", VOLTAGE),
    Field("Sags to", "charging.alternators[{tag}].low_v", VOLTAGE, empty="does not"),
)
SPEED_FIELDS = (
    Field("Engine idles, 1/min", "charging.idle_rpm", NUMBER),
    Field("In slow traffic, 1/min", "charging.slow_rpm", NUMBER),
    Field("At cruise, 1/min", "charging.cruise_rpm", NUMBER),
)


CONVERTER_FIELDS = (
    Field("Its most, as a current", "converters[{tag}].spec.output_a", CURRENT, empty="not stated"),
    Field("Its most, as a power", "converters[{tag}].spec.output_w", POWER, empty="not stated"),
    Field("Efficiency", "converters[{tag}].spec.efficiency", FRACTION),
    Field("Served", "converters[{tag}].priority", int),
    Field("Shared cable", "converters[{tag}].feed_m", LENGTH, empty="not measured"),
    Field("Own lead", "converters[{tag}].branch_m", LENGTH, empty="next to it"),
)


def all_budgets(house: Design) -> list[tuple[Design, Budget]]:
    """Every bar with alternators in the job, with the design it is part of."""
    banks = [house, *(one for one in house.others if not one.system.shares_bank)]
    return [(design, budget) for design in banks for budget in design.budgets]


class BudgetChart(Canvas):
    """Three columns, one an engine speed: the hot output as an outline, the vehicle at the bottom, chargers on top of
    one another. At the right every charger; press it to see the day it is off.
    """

    def __init__(self, session: Session, system: System) -> None:
        super().__init__()
        self._session, self._system = session, system
        self.bar = ""
        self.off: set[str] = set()
        self.setMinimumHeight(200)
        self.setAccessibleName(tr("What alternators give and what is asked of them"))

    def budget(self) -> Budget | None:
        """The bar on show."""
        found = [budget for _, budget in all_budgets(self._session.shown.house)]
        return next((one for one in found if one.spare.bar == self.bar), found[0] if found else None)

    def draw(self, painter: QPainter) -> None:
        budget, now = self.budget(), look()
        if budget is None:
            text = tr("No alternator is stated: add one, and the chargers on its bar stand here.")
            words(painter, QRectF(0, 20, self.width(), 20), text, size=10, colour=now.muted)
            return
        right = max(250.0, self.width() * 0.36)
        area = QRectF(50, 22, self.width() - right - 70, self.height() - 60)
        asked = sum(one.takes_a.value for one in budget.chargers if one.tag not in self.off)
        spare = budget.spare
        most = 1.1 * max(*(one.value for one in spare.gives_a.values()), spare.vehicle_a.value + asked, 1.0)
        step, at = even_step(most, 5), 0.0
        while at <= most:
            y = area.bottom() - at / most * area.height()
            painter.setPen(QPen(QColor(now.line), 0.8))
            painter.drawLine(QPointF(area.left(), y), QPointF(area.right(), y))
            words(painter, QRectF(0, y - 8, 46, 16), show(at, "A"), size=7.5, align=RIGHT)
            at += step
        for index, speed in enumerate(SPEEDS):
            self._column(painter, budget, speed, area, index, most, asked)
        self._list(painter, budget, QRectF(area.right() + 24, 22, right - 8, self.height() - 30))

    def _column(
        self, painter: QPainter, budget: Budget, speed: Speed, area: QRectF, index: int, most: float, asked: float
    ) -> None:
        now, spare = look(), budget.spare
        part = area.width() / 3
        x, wide = area.left() + part * index + part * 0.16, part * 0.68

        def high(amps: float) -> float:
            return area.height() * amps / most

        y = area.bottom() - high(spare.vehicle_a.value)
        box = QRectF(x, y, wide, high(spare.vehicle_a.value))
        painter.setPen(QPen(QColor(now.steel), 1))
        painter.setBrush(QColor(now.track))
        painter.drawRect(box)
        words(painter, box, tr("vehicle {a}").format(a=show(spare.vehicle_a.value, "A")), size=8, align=CENTRE)
        self.figures.append((box, spare.vehicle_a))
        limit_y = area.bottom() - high(spare.gives_a[speed].value)
        margin = spare.gives_a[speed].value - spare.vehicle_a.value - spare.spare_a[speed].value
        for one in budget.chargers:
            if one.tag in self.off:
                continue
            tall = high(one.takes_a.value)
            rect = QRectF(x, y - tall, wide, tall)
            over = rect.top() < limit_y + high(margin) - 0.5
            painter.setPen(QPen(QColor(now.stop if over else now.live), 1.2))
            painter.setBrush(QColor(now.stop_soft if over else now.live_soft))
            painter.drawRect(rect)
            if over:  # told without colour too
                painter.setBrush(QBrush(QColor(now.stop), Qt.BrushStyle.BDiagPattern))
                painter.drawRect(rect)
            if tall > 13:
                text = f"{one.tag} {show(one.takes_a.value, 'A')}"
                label = QRectF(rect.center().x() - 3.4 * len(text), rect.center().y() - 7, 6.8 * len(text), 14)
                painter.fillRect(label, QColor(now.stop_soft if over else now.live_soft))
                words(painter, label, text, size=8, align=CENTRE)
            self.figures.append((rect, one.takes_a))
            y -= tall
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(QColor(now.ink), 2))
        painter.drawRect(QRectF(x - 8, limit_y, wide + 16, area.bottom() - limit_y))
        if margin > 0:
            painter.fillRect(
                QRectF(x - 8, limit_y, wide + 16, high(margin)), QBrush(QColor(now.muted), Qt.BrushStyle.HorPattern)
            )
        told = QRectF(x - 30, limit_y - 17, wide + 60, 15)
        gives = tr("gives {a} hot").format(a=show(spare.gives_a[speed].value, "A"))
        ground = QRectF(told.center().x() - 3.3 * len(gives), told.y(), 6.6 * len(gives), 15)
        painter.fillRect(ground, QColor(now.panel))
        words(painter, told, gives, size=8.5, align=CENTRE)
        self.figures.append((told, spare.gives_a[speed]))
        foot = QRectF(area.left() + part * index, area.bottom() + 3, part, 15)
        words(painter, foot, tr(SPEED_WORDS[speed]).capitalize(), size=9, bold=True, align=CENTRE)
        left = spare.spare_a[speed].value - asked
        text = tr("{a} left").format(a=show(left, "A")) if left >= 0 else tr("{a} short").format(a=show(-left, "A"))
        words(painter, foot.translated(0, 15), text, size=9, colour=now.ink if left >= 0 else now.stop, align=CENTRE)
        self.figures.append((foot.adjusted(0, 0, 0, 16), spare.spare_a[speed]))

    def _list(self, painter: QPainter, budget: Budget, rect: QRectF) -> None:
        now = look()
        words(
            painter, QRectF(rect.x(), 2, rect.width(), 16), tr("Chargers on it; press one to switch it off"), size=8.5
        )
        row = min(46.0, (rect.height() - 24) / max(1, len(budget.chargers)))
        for index, one in enumerate(budget.chargers):
            y, off = rect.y() + index * row, one.tag in self.off
            lit = one.tag in self._session.selection
            painter.setPen(QPen(QColor(now.live if lit else now.line), 1.6 if lit else 1))
            painter.setBrush(QColor(now.paper))
            box = QRectF(rect.x(), y, rect.width() - 12, row - 6)
            painter.drawRect(box)
            words(
                painter,
                box.adjusted(8, 2, -8, -box.height() / 2 + 2),
                f"{one.tag} · {one.name}" + (tr(" · off") if off else ""),
                size=8.5,
                bold=True,
                colour=now.muted if off else now.ink,
            )
            at = tr("cable cannot carry it") if math.isnan(one.device_v.value) else show(one.device_v.value, "V")
            text = tr("takes {a} · {v} at it · drop {d}").format(
                a=show(one.takes_a.value, "A"), v=at, d=show(one.drop_share.value, "1")
            )
            waits = [tr(SPEED_WORDS[speed]) for speed in SPEEDS if one.tag in budget.waits[speed]]
            if waits and row > 40:
                text += tr(" · waits {when}").format(when=", ".join(waits))
            words(painter, box.adjusted(8, box.height() / 2, -8, -2), text, size=8, colour=now.muted)
            self.areas.append((box, one.tag))
            self.figures.append((QRectF(box.right() - 90, box.y(), 90, box.height()), one.drop_share))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        tag = self.area_at(event.position())
        if tag:
            self.off ^= {tag}
            self._session.select(tag)
            self.update()
        else:
            super().mousePressEvent(event)


class BudgetLeaf(Leaf):
    """Alternator, speeds, chart."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.which = QComboBox()
        self.which.setAccessibleName(tr("Alternator"))
        self.which.setMinimumContentsLength(14)
        self.which.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.which.activated.connect(lambda _index: self.show_shown(session.shown))
        self.row_of(self.which, ("Add an alternator", self.add), ("All of it", self._sheet))
        self.fields = Fields(session, system, FIELDS, len(FIELDS), whole=True)
        self.column.addWidget(self.fields)
        self.speeds = Fields(session, system, SPEED_FIELDS, len(SPEED_FIELDS), whole=True)
        self.column.addWidget(self.speeds)
        self.charger = QComboBox()
        self.charger.setAccessibleName(tr("Converter"))
        self.charger.activated.connect(lambda _index: self.show_shown(session.shown))
        self.of_charger = Fields(session, system, CONVERTER_FIELDS, len(CONVERTER_FIELDS), whole=True)
        self.chargers = QWidget()
        row = QHBoxLayout(self.chargers)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self.charger, 0, Qt.AlignmentFlag.AlignBottom)
        row.addWidget(self.of_charger, 1)
        self.column.addWidget(self.chargers)
        self.chart = BudgetChart(session, system)
        self.column.addWidget(self.chart, 1)
        self.said = TwoLines()
        self.column.addWidget(self.said)
        self.figures = self.figure_row()
        self.listen(self.chart)

    def add(self) -> None:
        """Add an alternator with the plainest values."""
        made = plainest(Alternator, self.session.shown.whole)
        self.session.apply(add_entry("charging.alternators", made, "Alternators"))

    def _sheet(self) -> None:
        if self.which.currentData():
            self.session.sheet_asked.emit(str(self.which.currentData()))

    def show_shown(self, shown: Shown) -> None:
        kept = self.which.currentData()
        self.which.clear()
        for one in shown.whole.charging.alternators:
            self.which.addItem(tr("{tag} on {bar}").format(tag=one.tag, bar=one.bar), one.tag)
        self.which.setCurrentIndex(max(0, self.which.findData(kept)))
        tag = str(self.which.currentData() or "")
        self.presses["All of it"].setEnabled(bool(tag))
        chosen = next((one for one in shown.whole.charging.alternators if one.tag == tag), None)
        self.fields.setVisible(bool(tag))
        self.speeds.setVisible(chosen is not None and bool(chosen.curve))  # shares know no turns a minute
        self.fields.show_shown(shown, tag)
        self.speeds.show_shown(shown)
        converter = self.charger.currentText()
        self.charger.clear()
        self.charger.addItems([one.tag for one in shown.whole.converters])
        self.charger.setCurrentIndex(max(0, self.charger.findText(converter)))
        self.chargers.setVisible(bool(shown.whole.converters))
        self.of_charger.show_shown(shown, self.charger.currentText())
        self.chart.bar = chosen.bar if chosen is not None else ""
        budget = self.chart.budget()
        if budget is None:
            self.figures.put(())
            self.said.setText("")
        else:
            spare = budget.spare
            self.figures.put(
                (budget.asked_a, spare.spare_a["slow"], spare.spare_a["idle"], spare.lowest_v, budget.cable_w)
            )
            self.said.setText(_off_words(budget))
        self.chart.update()

    def commands(self) -> list[Command]:
        return [Command(tr("Add an alternator"), "", partial(self.add))]


def _off_words(budget: Budget) -> str:
    """What is asked with each charger off."""
    if len(budget.chargers) < 2:
        return tr("Hours the engine runs stand with the stays; what it brings in a day is on Filling.")
    parts = [
        tr("without {tag} {a}").format(tag=one.tag, a=show(budget.without(one.tag), "A")) for one in budget.chargers
    ]
    return tr("One off: {parts}.").format(parts=" · ".join(parts))
