"""Cold and heat: what the bank still gives, what its box loses, what the heater takes."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QColor, QPainter, QPen

from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.figures import FigureRow
from weighty_axle.desk.kit.leaves import Leaf, TwoLines
from weighty_axle.desk.kit.painting import CENTRE, Canvas, words
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.units import NUMBER, POWER, TEMPERATURE, System, show

FIELDS = (
    Field("Skin of the box, m²", "bank.box.area_m2", NUMBER),
    Field("Insulation, mm", "bank.box.insulation_mm", NUMBER),
    Field("Conductivity, W/(m K)", "bank.box.conductivity_w_per_mk", NUMBER),
    Field("Kept at", "bank.box.keep_c", TEMPERATURE),
    Field("Heater in the box", "bank.box.heater_w", POWER),
    Field("Packs heat themselves", "bank.spec.heated", bool),
    Field("In the living space", "bank.box.inside", bool),
    Field("Which stays over", "bank.box.inside_low_c", TEMPERATURE),
    Field("Heats while stored", "bank.box.heats_asleep", bool),
    Field("Charges from", "bank.spec.charge_low_c", TEMPERATURE),
    Field("Charges up to", "bank.spec.charge_high_c", TEMPERATURE),
    Field("Gives from", "bank.spec.discharge_low_c", TEMPERATURE),
    Field("Gives up to", "bank.spec.discharge_high_c", TEMPERATURE),
    Field("Record low", "site.record_low_c", TEMPERATURE),
    Field("Hottest bay", "site.bay_high_c", TEMPERATURE),
)


class ColdChart(Canvas):
    """Usable energy by cell temperature as bars, with the range the cells may charge in and the coldest they get."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.setMinimumHeight(190)
        self.setAccessibleName(tr("Usable energy by cell temperature"))

    def draw(self, painter: QPainter) -> None:
        now, design = look(), self._session.shown.design
        cold, spec, site = design.cold, design.job.bank.spec, design.job.site
        low_c, high_c = -32.0, 62.0
        area = QRectF(10, 56, self.width() - 20, self.height() - 100)
        most = max(figure.value for figure in cold.usable_wh.values()) or 1.0

        def x(cell_c: float) -> float:
            return area.left() + area.width() * (max(low_c, min(high_c, cell_c)) - low_c) / (high_c - low_c)

        words(
            painter, QRectF(4, 0, self.width() - 8, 18), tr("Usable energy at a cell temperature"), size=9.5, bold=True
        )
        for key, figure in cold.usable_wh.items():
            height = area.height() * figure.value / most
            rect = QRectF(x(float(key)) - 22, area.bottom() - height, 44, height)
            painter.fillRect(rect, QColor(now.live_soft))
            painter.setPen(QPen(QColor(now.live), 1))
            painter.drawRect(rect)
            words(
                painter,
                QRectF(rect.x() - 16, rect.y() - 15, 76, 14),
                show(figure.value, "Wh"),
                size=8.5,
                bold=True,
                align=CENTRE,
            )
            words(
                painter,
                QRectF(rect.x() - 16, area.bottom() + 2, 76, 14),
                f"{float(key):g} °C".replace("-", "−"),
                size=8,
                colour=now.muted,
                align=CENTRE,
            )
            self.figures.append((rect, figure))
        y = area.bottom() + 20
        for start, end, text in (
            (spec.charge_low_c, spec.charge_high_c, tr("charges")),
            (spec.discharge_low_c, spec.discharge_high_c, tr("gives")),
        ):
            painter.fillRect(QRectF(x(start), y, x(end) - x(start), 8), QColor(now.steel))
            words(painter, QRectF(x(end) + 6, y - 4, 80, 15), text, size=8)
            y += 12
        for cell_c, text, colour in (
            (cold.coldest_c.value, tr("coldest cells"), now.check),
            (site.bay_high_c, tr("hottest bay"), now.stop),
        ):
            painter.setPen(QPen(QColor(colour), 1.6))
            painter.drawLine(QPointF(x(cell_c), area.top() - 34), QPointF(x(cell_c), y))
            words(
                painter,
                QRectF(x(cell_c) + 4, area.top() - 36, 130, 14),
                f"{text} {show(cell_c, 'degC')}",
                size=8,
                colour=colour,
            )


class ColdLeaf(Leaf):
    """Fields, chart, sentence, figures."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.fields = Fields(session, system, FIELDS, 6)
        self.column.addWidget(self.fields)
        self.chart = ColdChart(session)
        self.column.addWidget(self.chart, 1)
        self._said = TwoLines()
        self.column.addWidget(self._said)
        self.figures = FigureRow(system)
        self.column.addWidget(self.figures)
        self.listen(self.chart, self.figures)

    def show_shown(self, shown: Shown) -> None:
        self.fields.show_shown(shown)
        cold, spec = shown.design.cold, shown.job.bank.spec
        held = (
            tr("the packs' own heaters hold it")
            if spec.heated
            else tr("the heater holds it")
            if cold.held
            else tr("nothing holds it: no charging in frost")
        )
        text = tr(
            "At {low} around it the box loses {w}, {wh} on the coldest day; {held}. Leave a finger's width between "
            "packs: they need air in the heat as well."
        )
        around = shown.job.bank.box.inside_low_c if shown.job.bank.box.inside else shown.job.site.record_low_c
        low, loss, day = show(around, "degC"), show(cold.heater_w.value, "W"), show(cold.heater_day_wh.value, "Wh")
        self._said.setText(text.format(low=low, w=loss, wh=day, held=held))
        self.figures.put((cold.days, cold.coldest_c, cold.heater_w, cold.heater_day_wh, cold.stored_c, cold.asleep_w))
        self.chart.update()
