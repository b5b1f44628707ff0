"""Why 48 V: three conductors to one scale, with what they carry, lose and weigh."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QColor, QPainter, QPen

from weighty_axle.design.conductors import conductor_area_mm2
from weighty_axle.design.figures import Figure
from weighty_axle.design.wiring.choices import choice_name
from weighty_axle.design.wiring.voltage import VoltageChoice
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.painting import CENTRE, RIGHT, Canvas, words
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tip, tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.units import System, conductor_words, show

_MOST_PX = 88.0


class Conductors(Canvas):
    """12, 24 and 48 V side by side; circles are the conductors' copper to scale, one pole of the main run."""

    smooth = True

    def __init__(self, session: Session, system: System) -> None:
        super().__init__()
        self._session, self._system = session, system
        self.setMinimumSize(420, 380)
        self.setAccessibleName(tr("The job at 12, 24 and 48 V, conductors to scale"))

    def draw(self, painter: QPainter) -> None:
        result, now = self._session.shown.design.voltages, look()
        words(
            painter, QRectF(4, 0, self.width() - 8, 40), result.reason, size=11, bold=True, colour=now.live, wrap=True
        )
        third = self.width() / 3
        areas = [conductor_area_mm2(one.conductor.size) if one.conductor else 0.0 for one in result.choices]
        across = [math.sqrt(area * 4 / math.pi) for area in areas]
        room = [
            (third - 24 - 4 * one.conductor.count) / one.conductor.count / mm
            for one, mm in zip(result.choices, across, strict=True)
            if one.conductor
        ]
        per_mm = min([_MOST_PX / max([*across, 1.0]), *room])
        for index, choice in enumerate(result.choices):
            rect = QRectF(index * third + 4, 46, third - 8, self.height() - 50)
            recommended = choice.volts == result.recommended
            painter.setPen(QPen(QColor(now.live if recommended else now.line), 2 if recommended else 1))
            painter.setBrush(QColor(now.paper))
            painter.drawRect(rect)
            title = f"{choice.volts} V" + (
                f" · {tr('recommended')}" if recommended else f" · {tr('to compare')}" if choice.volts == 12 else ""
            )
            words(painter, QRectF(rect.x() + 8, rect.y() + 4, rect.width() - 16, 20), title, size=11, bold=True)
            self._circles(
                painter, QRectF(rect.x(), rect.y() + 26, rect.width(), _MOST_PX + 10), choice, areas[index], per_mm
            )
            self._facts(
                painter,
                QRectF(rect.x() + 8, rect.y() + _MOST_PX + 38, rect.width() - 16, rect.height() - _MOST_PX - 42),
                choice,
            )

    def _circles(self, painter: QPainter, rect: QRectF, choice: VoltageChoice, area_mm2: float, per_mm: float) -> None:
        now = look()
        if choice.conductor is None:
            words(painter, rect, tr("no conductor of the table"), size=9, colour=now.stop, align=CENTRE)
            return
        across = math.sqrt(area_mm2 * 4 / math.pi) * per_mm
        count = choice.conductor.count
        for index in range(count):
            x = rect.center().x() + (index - (count - 1) / 2) * (across + 4)
            painter.setPen(QPen(QColor(now.ink), 1.2))
            painter.setBrush(QColor(now.live_soft))
            painter.drawEllipse(QPointF(x, rect.center().y()), across / 2, across / 2)
            words(
                painter,
                QRectF(x - across / 2, rect.center().y() - 8, across, 16),
                f"{area_mm2:.0f} mm²",
                size=7.5,
                align=CENTRE,
            )

    def _facts(self, painter: QPainter, rect: QRectF, choice: VoltageChoice) -> None:
        now = look()
        conductor = conductor_words(choice_name(choice.conductor)) if choice.conductor else "–"
        rows: list[tuple[str, str, Figure | None]] = [
            (tr("conductor"), conductor, None),
            (tr("at full load"), show(choice.continuous_a.value, "A"), choice.continuous_a),
            (tr("at surge"), show(choice.surge_a.value, "A"), choice.surge_a),
            (tr("main fuse"), show(choice.fuse_a.value, "A"), choice.fuse_a),
            (tr("drop"), show(choice.drop_share.value, "1"), choice.drop_share),
            (tr("lost in the run"), show(choice.loss_w.value, "W"), choice.loss_w),
            (tr("copper"), show(choice.copper_kg.value, "kg", self._system), choice.copper_kg),
            (tr("short circuit"), show(choice.prospective_a.value, "A"), choice.prospective_a),
        ]
        y = rect.y()
        for name, value, figure in rows:
            words(painter, QRectF(rect.x(), y, rect.width() * 0.5, 16), name, size=8.5, colour=now.muted)
            words(
                painter,
                QRectF(rect.x() + rect.width() * 0.3, y, rect.width() * 0.7, 16),
                value,
                size=9.5,
                bold=True,
                align=RIGHT,
            )
            if figure is not None:
                self.figures.append((QRectF(rect.x(), y, rect.width(), 16), figure))
            y += 18
        for name, found in ((tr("fuses that break it"), choice.fuses), (tr("isolators"), choice.isolators)):
            said = (
                ", ".join(found[:2]) + (f" +{len(found) - 2}" if len(found) > 2 else "")
                if found
                else tr("none of the usual kinds")
            )
            words(
                painter,
                QRectF(rect.x(), y + 2, rect.width(), 42),
                f"{name}: {said}",
                size=8,
                colour=now.muted if found else now.stop,
                wrap=True,
            )
            y += 40


class VoltageLeaf(Leaf):
    """The comparison."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.conductors = Conductors(session, system)
        self.column.addWidget(self.conductors, 1)
        self.listen(self.conductors)

    def show_shown(self, shown: Shown) -> None:
        result = shown.design.voltages
        self.conductors.setToolTip(tip(result.reason))
        self.conductors.update()
