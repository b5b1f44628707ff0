"""The leg beam: circuits hang on L1 and L2 and tip it; drag one across, or use the keys, to move it."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QWidget

from weighty_axle.design.inverters import Leg
from weighty_axle.desk.session import Session
from weighty_axle.desk.text import tr
from weighty_axle.desk.theme import look
from weighty_axle.desk.widgets.painting import CENTRE, RIGHT, Canvas, bar, polygon, words
from weighty_axle.job.edits import set_value
from weighty_axle.job.model import Load
from weighty_axle.units import show

_ROW = 17
_MOST_TIP_DEG = 7.0


class LegBeam(Canvas):
    """Two legs: a beam with its circuits. One line: its circuits under one bar."""

    smooth = True

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._drag: tuple[str, QPointF] | None = None
        self.setMinimumHeight(208)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Legs with their circuits"))
        session.selected.connect(self.update)

    def _on(self, *feeds: str) -> list[Load]:
        found = [load for load in self._session.shown.job.loads if self._session.shown.design.brief.feeds[load.tag] in feeds]
        return sorted(found, key=lambda load: -load.running_w * load.count)

    def draw(self, painter: QPainter) -> None:
        legs = self._session.shown.design.inverters.legs
        if len(legs) == 1:
            self._leg(painter, legs[0], QRectF(30, 34, self.width() - 60, 40))
            self._circuits(painter, self._on("AC"), QRectF(30, 104, self.width() - 60, self.height() - 110), columns=2)
            return
        third = self.width() / 3
        self._beam(painter)
        self._leg(painter, legs[0], QRectF(10, 84, third - 20, 40))
        self._leg(painter, legs[1], QRectF(2 * third + 10, 84, third - 20, 40))
        self._circuits(painter, self._on("L1"), QRectF(10, 148, third - 20, self.height() - 150))
        self._circuits(painter, self._on("L2"), QRectF(2 * third + 10, 148, third - 20, self.height() - 150))
        words(painter, QRectF(third + 10, 112, third - 20, 16), tr("240 V, across both legs"), size=9, bold=True, align=CENTRE)
        self._circuits(painter, self._on("L1+L2"), QRectF(third + 10, 130, third - 20, self.height() - 132))

    def _beam(self, painter: QPainter) -> None:
        """The beam leans to the leg with more load in the worst minute."""
        now, currents = look(), self._session.shown.design.inverters.currents
        assert currents is not None
        l1, l2 = currents.l1_a.value, currents.l2_a.value
        lean = (l2 - l1) / max(l1 + l2, 1e-9)
        middle, half = QPointF(self.width() / 2, 52), self.width() * 0.36
        angle = math.radians(_MOST_TIP_DEG) * max(-1.0, min(1.0, 2 * lean))
        left = QPointF(middle.x() - half * math.cos(angle), middle.y() - half * math.sin(angle))
        right = QPointF(middle.x() + half * math.cos(angle), middle.y() + half * math.sin(angle))
        painter.setPen(QPen(QColor(now.ink), 5, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
        painter.drawLine(left, right)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(now.steel))
        painter.drawPolygon(polygon([(middle.x(), middle.y() + 3), (middle.x() - 14, middle.y() + 26), (middle.x() + 14, middle.y() + 26)]))
        painter.setPen(QPen(QColor(now.line), 1.2))
        painter.drawLine(left, QPointF(left.x(), 82))
        painter.drawLine(right, QPointF(right.x(), 82))
        for name, amps, x in (("L1", l1, left.x()), ("L2", l2, right.x())):
            y = (left if name == "L1" else right).y()
            box = QRectF(x - 70, y - 26, 140, 20)
            words(painter, box, f"{name}  {show(amps, 'A')}", size=11, bold=True, align=CENTRE)
            self.figures.append((box, currents.l1_a if name == "L1" else currents.l2_a))
        neutral = f"N  {show(currents.neutral_a.value, 'A')}"
        words(painter, QRectF(middle.x() - 90, 4, 180, 20), neutral, size=11, bold=True, align=CENTRE)
        self.figures.append((QRectF(middle.x() - 90, 4, 180, 20), currents.neutral_a))
        self.figures.append((QRectF(middle.x() - 110, 84, 220, 16), currents.between_lines_v))
        between = tr("{v} between the legs").format(v=show(currents.between_lines_v.value, "V"))
        words(painter, QRectF(middle.x() - 110, 84, 220, 16), between, size=8.5, colour=now.muted, align=CENTRE)

    def _leg(self, painter: QPainter, leg: Leg, rect: QRectF) -> None:
        now = look()
        limit, worst = leg.continuous_va.value, leg.worst_va.value
        most = 1.08 * max(limit, worst, 1.0)
        over = worst > limit
        bar(painter, QRectF(rect.x(), rect.y() + 17, rect.width(), 12), worst / most, now.stop if over else now.steel, limit_share=limit / most)
        text = tr("{leg}: {worst} of {limit}").format(leg=leg.tag, worst=show(worst, "VA"), limit=show(limit, "VA"))
        words(painter, QRectF(rect.x(), rect.y(), rect.width(), 16), text, size=9.5, bold=True, colour=now.stop if over else now.ink)
        self.figures.append((QRectF(rect.x(), rect.y(), rect.width() / 2, 31), leg.worst_va))
        self.figures.append((QRectF(rect.x() + rect.width() / 2, rect.y(), rect.width() / 2, 31), leg.continuous_va))
        self.figures.append((QRectF(rect.x(), rect.y() + 33, rect.width(), 14), leg.start_va))
        start = tr("worst start {va} of {surge}").format(va=show(leg.start_va.value, "VA"), surge=show(leg.surge_va.value, "VA"))
        words(
            painter,
            QRectF(rect.x(), rect.y() + 33, rect.width(), 14),
            start,
            size=8,
            colour=now.stop if leg.start_va.value > leg.surge_va.value else now.muted,
        )

    def _circuits(self, painter: QPainter, loads: list[Load], rect: QRectF, columns: int = 1) -> None:
        now = look()
        width = rect.width() / columns
        per_column = max(1, int(rect.height() // _ROW))
        for index, load in enumerate(loads[: per_column * columns]):
            column, row = divmod(index, per_column)
            box = QRectF(rect.x() + column * width, rect.y() + row * _ROW, width - 8, _ROW - 2)
            if self._drag is not None and self._drag[0] == load.tag:
                box.translate(self._drag[1].x(), self._drag[1].y())
            lit = load.tag in self._session.selection
            painter.setPen(QPen(QColor(now.live if lit else now.line), 1.6 if lit else 1))
            painter.setBrush(QColor(now.live_soft if lit else now.paper))
            painter.drawRoundedRect(box, 2, 2)
            words(painter, box.adjusted(6, 0, -70, 0), load.name, size=8.5)
            words(painter, box.adjusted(60, 0, -6, 0), show(load.running_w * load.count, "W"), size=8.5, align=RIGHT)
            self.areas.append((box, load.tag))

    # ---- moving ----

    def _move(self, tag: str, supply: str) -> None:
        load = next(one for one in self._session.shown.job.loads if one.tag == tag)
        if load.supply != supply and len(self._session.shown.design.inverters.legs) == 2 and load.supply != "L1+L2":
            self._session.apply(set_value(f"loads[{tag}].supply", supply, f"Move {load.name} to {supply}"))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        tag = self.area_at(event.position())
        self._session.select(*((tag,) if tag else ()))
        self._grab = event.position()
        self._drag = (tag, QPointF(0, 0)) if tag else None

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._drag is not None:
            self._drag = (self._drag[0], event.position() - self._grab)
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._drag is not None and abs(self._drag[1].x()) > 30:
            self._move(self._drag[0], "L1" if event.position().x() < self.width() / 2 else "L2")
        self._drag = None
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        order = [load.tag for load in (*self._on("L1"), *self._on("L1+L2"), *self._on("L2"), *self._on("AC"))]
        chosen = next((tag for tag in self._session.selection if tag in order), "")
        if event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down) and order:
            at = order.index(chosen) + (1 if event.key() == Qt.Key.Key_Down else -1) if chosen else 0
            self._session.select(order[at % len(order)])
        elif event.key() == Qt.Key.Key_Left and chosen:
            self._move(chosen, "L1")
        elif event.key() == Qt.Key.Key_Right and chosen:
            self._move(chosen, "L2")
        else:
            super().keyPressEvent(event)
