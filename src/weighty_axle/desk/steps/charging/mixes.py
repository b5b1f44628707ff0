"""Charging: every mix of sources stacked against what the bank takes."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QWidget

from weighty_axle.design.figures import Figure
from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.painting import RIGHT, Canvas, bar, words
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.units import CURRENT, FRACTION, POWER, VOLTAGE, System, show

CHARGING_FIELDS = (
    Field("System charge limit", "charging.system_limit_a", CURRENT, empty="no limit set"),
    Field("Alternator, nameplate", "charging.alternator.rated_a", CURRENT),
    Field("Its voltage", "charging.alternator.volts", VOLTAGE),
    Field("Share hot and slow", "charging.alternator.hot_share", FRACTION),
    Field("Vehicle's own loads", "charging.alternator.vehicle_a", CURRENT),
    Field("Shore charger, one", "inverters.spec.charge_a", CURRENT),
)
CONVERTER_FIELDS = (
    Field("Its most, as a current", "converters[{tag}].spec.output_a", CURRENT, empty="not stated"),
    Field("Its most, as a power", "converters[{tag}].spec.output_w", POWER, empty="not stated"),
    Field("Efficiency", "converters[{tag}].spec.efficiency", FRACTION),
)
_FILLS = {
    "Sun": Qt.BrushStyle.SolidPattern,
    "Shore": Qt.BrushStyle.BDiagPattern,
    "Alternator": Qt.BrushStyle.Dense4Pattern,
    "Converters": Qt.BrushStyle.FDiagPattern,
    "Held back": Qt.BrushStyle.NoBrush,
    "Arrays elsewhere": Qt.BrushStyle.HorPattern,
    "Arrays on the trailer": Qt.BrushStyle.HorPattern,
}


class MixChart(Canvas):
    """One bar per mix; sources told apart by pattern and named in the bar. Press a bar for its workings."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._totals: list[Figure] = []
        self.setMinimumHeight(260)
        self.setAccessibleName(tr("Charge sources against the bank's limit"))

    def draw(self, painter: QPainter) -> None:
        now, design = look(), self._session.shown.design
        result, stated = design.charging, self._session.shown.job.charging
        limit = design.bank.charge_limit_a.value
        self._totals = [mix.total_a for mix in result.mixes]
        budget = 70 if result.alternator_budget_a is not None else 0
        row = min(58.0, (self.height() - 34 - budget) / len(result.mixes))
        left, width = 200.0, self.width() - 200 - 90
        most = 1.08 * max(limit, result.worst_a.value)
        for index, mix in enumerate(result.mixes):
            y = 26 + index * row
            over = mix.total_a.value > limit
            words(painter, QRectF(0, y, left - 10, row - 12), tr(mix.name), size=9.5)
            x = left
            painter.fillRect(QRectF(left, y, width, row - 14), QColor(now.track))
            for part in mix.parts:
                part_width = width * part.value / most
                if part.value < 0:  # what a shared limit keeps back: the bar ends so much earlier
                    x += part_width
                    continue
                rect = QRectF(x, y, part_width, row - 14)
                painter.setPen(QPen(QColor(now.live), 1.2))
                painter.setBrush(QColor(now.live_soft))
                painter.drawRect(rect)
                if _FILLS[part.name] != Qt.BrushStyle.SolidPattern:
                    colour = QColor(now.live)
                    colour.setAlphaF(0.4)
                    painter.setBrush(QBrush(colour, _FILLS[part.name]))
                    painter.drawRect(rect)
                told = f"{tr(part.name)} {show(part.value, 'A')}"
                label = QRectF(rect.x() + 4, rect.center().y() - 8, min(part_width - 8, 6.0 * len(told)), 16)
                if part_width > 60:
                    painter.fillRect(label, QColor(now.live_soft))
                    words(painter, label, told, size=7.5)
                x += part_width
            words(
                painter,
                QRectF(self.width() - 86, y, 84, row - 14),
                show(mix.total_a.value, "A"),
                size=11,
                bold=True,
                colour=now.stop if over else now.ink,
                align=RIGHT,
            )
            self.areas.append((QRectF(0, y, self.width(), row - 6), str(index)))
        bottom = 26 + row * len(result.mixes) - 8
        self._line(
            painter, left + width * limit / most, bottom, tr("bank takes {a}").format(a=show(limit, "A")), now.stop
        )
        if stated.system_limit_a is not None and stated.system_limit_a < most:
            self._line(
                painter, left + width * stated.system_limit_a / most, bottom, tr("system limit"), now.live, low=True
            )
        if result.alternator_budget_a is not None and result.alternator_demand_a is not None:
            self._budget(
                painter,
                QRectF(0, bottom + 14, self.width(), 44),
                result.alternator_demand_a,
                result.alternator_budget_a,
            )

    def _line(self, painter: QPainter, x: float, bottom: float, text: str, colour: str, *, low: bool = False) -> None:
        painter.setPen(QPen(QColor(colour), 2, Qt.PenStyle.DashLine))
        painter.drawLine(QPointF(x, 20), QPointF(x, bottom))
        where = QRectF(x - 254, bottom - 2, 250, 14) if low else QRectF(x - 254, 3, 250, 15)
        words(painter, where, text, size=8.5, bold=True, colour=colour, align=RIGHT)

    def _budget(self, painter: QPainter, rect: QRectF, demand: Figure, budget: Figure) -> None:
        now, over = look(), demand.value > budget.value
        words(painter, QRectF(0, rect.y(), 190, 20), tr("Alternator chargers take"), size=9.5)
        most = 1.08 * max(demand.value, budget.value)
        bar(
            painter,
            QRectF(200, rect.y() + 2, self.width() - 290, 16),
            demand.value / most,
            now.stop if over else now.steel,
            limit_share=budget.value / most,
        )
        words(
            painter,
            QRectF(self.width() - 86, rect.y(), 84, 20),
            show(demand.value, "A"),
            size=11,
            bold=True,
            colour=now.stop if over else now.ink,
            align=RIGHT,
        )
        words(
            painter,
            QRectF(200, rect.y() + 22, 420, 14),
            tr("tick: hot and slow the alternator can spare {a}").format(a=show(budget.value, "A")),
            size=8,
            colour=now.muted,
        )

    def mousePressEvent(self, event: QMouseEvent) -> None:
        area = self.area_at(event.position())
        if area:
            self.opened.emit(self._totals[int(area)])


class ChargingLeaf(Leaf):
    """Fields and the chart."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.fields = Fields(session, system, CHARGING_FIELDS, 6)
        self.column.addWidget(self.fields)
        self.charger = QComboBox()
        self.charger.setAccessibleName(tr("Converter"))
        self.charger.activated.connect(lambda _index: self.show_shown(session.shown))
        self.of_charger = Fields(session, system, CONVERTER_FIELDS, len(CONVERTER_FIELDS))
        self.chargers = QWidget()
        row = QHBoxLayout(self.chargers)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self.charger, 0, Qt.AlignmentFlag.AlignBottom)
        row.addWidget(self.of_charger, 1)
        self.column.addWidget(self.chargers)
        self.chart = MixChart(session)
        self.column.addWidget(self.chart, 1)
        self.figures = self.figure_row()
        self.listen(self.chart)

    def show_shown(self, shown: Shown) -> None:
        self.fields.show_shown(shown)
        chargers, kept = shown.job.converters, self.charger.currentText()
        self.charger.clear()
        self.charger.addItems([charger.tag for charger in chargers])
        self.charger.setCurrentIndex(max(0, self.charger.findText(kept)))
        self.chargers.setVisible(bool(chargers))
        self.of_charger.show_shown(shown, self.charger.currentText())
        result = shown.design.charging
        extra = (result.alternator_budget_a,) if result.alternator_budget_a is not None else ()
        self.figures.put((result.into_bank_a, result.safe_limit_a, *extra))
        self.chart.update()
