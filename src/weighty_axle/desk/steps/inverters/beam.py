"""The leg beam: circuits hang on the lines and tip it; drag one to another line, or use the keys, to move it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import cast

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QWidget

from weighty_axle.design.inverters.ac_wiring import LiveCircuit
from weighty_axle.design.inverters.legs import Currents, Leg
from weighty_axle.desk.kit.painting import CENTRE, RIGHT, Canvas, bar, polygon, words
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session
from weighty_axle.job.edits.edit import set_value
from weighty_axle.job.edits.inverters import set_leg
from weighty_axle.job.models.inverters import CircuitLeg
from weighty_axle.units import show

_ROW, _LEAST_ROW, _LEAST_COLUMN = 18.0, 12.0, 78.0
_MOST_TIP_DEG = 4.0


class LegBeam(Canvas):
    """Two lines: a beam with its circuits. Three: a bar with a hanger each. One: its circuits under one bar.

    Left and right move the chosen circuit from line to line, P pins it; drag does the same. A dot marks a pinned
    circuit, a ring one that shares a neutral.
    """

    smooth = True

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._drag: tuple[str, QPointF] | None = None
        self._grab = QPointF()
        self.setMinimumHeight(230)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Legs with their circuits"))
        session.selected.connect(self.update)

    # ---- what hangs where ----

    def _watts(self, circuit: LiveCircuit) -> float:
        return sum(load.running_w * load.count for load in self._session.shown.job.loads if load.tag in circuit.loads)

    def _on(self, *lines: str) -> list[LiveCircuit]:
        """Circuits on just these lines, heaviest first."""
        found = [circuit for circuit in self._session.shown.design.circuits if circuit.lines == lines]
        return sorted(found, key=lambda circuit: -self._watts(circuit))

    def _across(self) -> list[LiveCircuit]:
        return [circuit for circuit in self._session.shown.design.circuits if len(circuit.lines) > 1]

    def draw(self, painter: QPainter) -> None:
        legs, currents = self._session.shown.design.inverters.legs, self._session.shown.design.inverters.currents
        width, height = self.width(), self.height()
        if currents is None:
            self._leg(painter, legs[0], QRectF(30, 8, width - 60, 40))
            self._circuits(painter, self._on("L1"), QRectF(30, 62, width - 60, height - 66), columns=2)
            return
        across = self._across()
        if len(legs) == 3:
            self._hangers(painter, currents)
            bottom = height - (_ROW * math.ceil(len(across) / 3) + 18 if across else 0)
            for index, leg in enumerate(legs):
                rect = QRectF(index * width / 3 + 8, 84, width / 3 - 16, 40)
                self._leg(painter, leg, rect)
                self._circuits(painter, self._on(leg.tag), QRectF(rect.x(), 136, rect.width(), bottom - 140))
            if across:
                words(painter, QRectF(8, bottom, width - 16, 16), tr("on all three"), size=9, bold=True)
                self._circuits(painter, across, QRectF(8, bottom + 16, width - 16, height - bottom - 16), columns=3)
            return
        third = width / 3
        self._beam(painter, currents)
        for index, leg in enumerate(legs):
            rect = QRectF(2 * index * third + 10, 102, third - 20, 40)
            self._leg(painter, leg, rect)
            self._circuits(painter, self._on(leg.tag), QRectF(rect.x(), 154, rect.width(), height - 158))
        if across:
            words(
                painter,
                QRectF(third + 10, 126, third - 20, 16),
                tr("across both legs"),
                size=9,
                bold=True,
                align=CENTRE,
            )
            self._circuits(painter, across, QRectF(third + 10, 154, third - 20, height - 158))

    # ---- the beam ----

    def _current(self, painter: QPainter, currents: Currents, index: int, box: QRectF) -> None:
        figure = currents.lines_a[index]
        words(painter, box, f"L{index + 1}  {show(figure.value, 'A')}", size=11, bold=True, align=CENTRE)
        self.figures.append((box, figure))

    def _neutral(self, painter: QPainter, currents: Currents, middle: float) -> None:
        now = look()
        over = currents.neutral_a.value > self._session.shown.job.inverters.neutral_a
        box = QRectF(middle - 110, 2, 220, 20)
        words(
            painter,
            box,
            f"N  {show(currents.neutral_a.value, 'A')}",
            size=11,
            bold=True,
            align=CENTRE,
            colour=now.stop if over else now.ink,
        )
        self.figures.append((box, currents.neutral_a))
        box = QRectF(middle - 110, 100, 220, 16) if len(currents.lines_a) == 2 else QRectF(middle + 100, 4, 200, 16)
        between = tr("{v} between the legs").format(v=show(currents.between_lines_v.value, "V"))
        words(painter, box, between, size=8.5, colour=now.muted, align=CENTRE)
        self.figures.append((box, currents.between_lines_v))

    def _beam(self, painter: QPainter, currents: Currents) -> None:
        """The beam leans to the leg with more current in the worst minute."""
        now = look()
        l1, l2 = (one.value for one in currents.lines_a)
        lean = (l2 - l1) / max(l1 + l2, 1e-9)
        middle, half = QPointF(self.width() / 2, 66), self.width() * 0.36
        angle = math.radians(_MOST_TIP_DEG) * max(-1.0, min(1.0, 2 * lean))
        ends = [
            QPointF(middle.x() + sign * half * math.cos(angle), middle.y() + sign * half * math.sin(angle))
            for sign in (-1, 1)
        ]
        painter.setPen(QPen(QColor(now.ink), 5, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
        painter.drawLine(*ends)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(now.steel))
        painter.drawPolygon(
            polygon(
                [(middle.x(), middle.y() + 3), (middle.x() - 14, middle.y() + 26), (middle.x() + 14, middle.y() + 26)]
            )
        )
        for index, end in enumerate(ends):
            painter.setPen(QPen(QColor(now.line), 1.2))
            painter.drawLine(end, QPointF(end.x(), 100))
            self._current(painter, currents, index, QRectF(end.x() - 70, end.y() - 26, 140, 20))
        self._neutral(painter, currents, middle.x())

    def _hangers(self, painter: QPainter, currents: Currents) -> None:
        """Three lines hang from a level bar, the busiest lowest."""
        now, count = look(), len(currents.lines_a)
        most = max(max(one.value for one in currents.lines_a), 1e-9)
        painter.setPen(QPen(QColor(now.ink), 5, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
        painter.drawLine(QPointF(self.width() * 0.1, 28), QPointF(self.width() * 0.9, 28))
        for index, figure in enumerate(currents.lines_a):
            x, y = self.width() * (index + 0.5) / count, 40 + 24 * figure.value / most
            painter.setPen(QPen(QColor(now.line), 1.2))
            painter.drawLine(QPointF(x, 28), QPointF(x, y))
            self._current(painter, currents, index, QRectF(x - 70, y, 140, 18))
        self._neutral(painter, currents, self.width() / 2)

    def _leg(self, painter: QPainter, leg: Leg, rect: QRectF) -> None:
        now = look()
        limit, worst = leg.continuous_va.value, leg.worst_va.value
        most = 1.08 * max(limit, worst, 1.0)
        over = worst > limit
        bar(
            painter,
            QRectF(rect.x(), rect.y() + 17, rect.width(), 12),
            worst / most,
            now.stop if over else now.steel,
            limit_share=limit / most,
        )
        text = tr("{leg}: {worst} of {limit}").format(leg=leg.tag, worst=show(worst, "VA"), limit=show(limit, "VA"))
        if leg.units > 1:
            text += tr(", {n} × {va}").format(n=leg.units, va=show(worst / leg.units, "VA"))
        words(
            painter,
            QRectF(rect.x(), rect.y(), rect.width(), 16),
            text,
            size=9.5,
            bold=True,
            colour=now.stop if over else now.ink,
        )
        self.figures.append((QRectF(rect.x(), rect.y(), rect.width() / 2, 31), leg.worst_va))
        self.figures.append((QRectF(rect.x() + rect.width() / 2, rect.y(), rect.width() / 2, 31), leg.continuous_va))
        box = QRectF(rect.x(), rect.y() + 33, rect.width(), 14)
        self.figures.append((box, leg.start_va))
        start = tr("worst start {va} of {surge}").format(
            va=show(leg.start_va.value, "VA"), surge=show(leg.surge_va.value, "VA")
        )
        words(painter, box, start, size=8, colour=now.stop if leg.start_va.value > leg.surge_va.value else now.muted)

    def _circuits(self, painter: QPainter, circuits: Sequence[LiveCircuit], rect: QRectF, columns: int = 1) -> None:
        """Circuits in rows; many make the rows lower and the columns narrower, too many are counted."""
        if not circuits:
            return
        while (
            rect.height() / math.ceil(len(circuits) / columns) < _LEAST_ROW
            and rect.width() / (columns + 1) > _LEAST_COLUMN
        ):
            columns += 1
        now, width = look(), rect.width() / columns
        row = max(_LEAST_ROW, min(_ROW, rect.height() / math.ceil(len(circuits) / columns)))
        per_column = max(1, int(rect.height() // row))
        room = per_column * columns
        for index, circuit in enumerate(circuits[: room - 1 if len(circuits) > room else room]):
            column, at = divmod(index, per_column)
            box = QRectF(rect.x() + column * width, rect.y() + at * row, width - 8, row - 2)
            if self._drag is not None and self._drag[0] == circuit.tag:
                box.translate(self._drag[1].x(), self._drag[1].y())
            lit = circuit.tag in self._session.selection or any(tag in self._session.selection for tag in circuit.loads)
            painter.setPen(QPen(QColor(now.live if lit else now.line), 1.6 if lit else 1))
            painter.setBrush(QColor(now.live_soft if lit else now.paper))
            painter.drawRoundedRect(box, 2, 2)
            self._marks(painter, circuit, box)
            size = 8.5 if row > 14 else 7
            figure = 64 if width > 150 else 0
            words(painter, box.adjusted(16, 0, -6 - figure, 0), circuit.name, size=size)
            if figure:
                words(painter, box.adjusted(60, 0, -6, 0), show(self._watts(circuit), "W"), size=size, align=RIGHT)
            self.areas.append((box, circuit.tag))
        if len(circuits) > room:
            left = tr("and {n} more").format(n=len(circuits) - room + 1)
            words(painter, QRectF(rect.x(), rect.bottom() - row, width, row), left, size=7.5, colour=now.muted)

    def _marks(self, painter: QPainter, circuit: LiveCircuit, box: QRectF) -> None:
        now, centre = look(), QPointF(box.x() + 8, box.center().y())
        if circuit.circuit.pinned:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(now.ink))
            painter.drawEllipse(centre, 2.6, 2.6)
        elif circuit.circuit.shares_neutral:
            painter.setPen(QPen(QColor(now.ink), 1.2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(centre, 3, 3)

    # ---- moving ----

    def _move(self, tag: str, line: str) -> None:
        circuit = next((one for one in self._session.shown.design.circuits if one.tag == tag), None)
        if circuit is None:
            return
        if len(circuit.lines) == 1 and len(self._session.shown.design.ac.lines) > 1 and circuit.lines != (line,):
            self._session.apply(set_leg(self._session.shown.job, tag, cast(CircuitLeg, line)))

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
        lines = self._session.shown.design.ac.lines
        if self._drag is not None and abs(self._drag[1].x()) > 30:
            at = int(event.position().x() / self.width() * len(lines))
            self._move(self._drag[0], lines[max(0, min(len(lines) - 1, at))])
        self._drag = None
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        lines = self._session.shown.design.ac.lines
        hung = [circuit for line in lines for circuit in self._on(line)]
        order = [circuit.tag for circuit in (*hung, *self._across())]
        chosen = next((tag for tag in self._session.selection if tag in order), "")
        if event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down) and order:
            at = order.index(chosen) + (1 if event.key() == Qt.Key.Key_Down else -1) if chosen else 0
            self._session.select(order[at % len(order)])
        elif event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right) and chosen:
            circuit = next(one for one in self._session.shown.design.circuits if one.tag == chosen)
            at = lines.index(circuit.lines[0]) + (1 if event.key() == Qt.Key.Key_Right else -1)
            self._move(chosen, lines[max(0, min(len(lines) - 1, at))])
        elif event.key() == Qt.Key.Key_P and chosen:
            self.pin(chosen)
        else:
            super().keyPressEvent(event)

    def pin(self, tag: str) -> None:
        """Pin a circuit to its leg, or let it go again; a load without a circuit cannot be pinned."""
        circuit = next((one for one in self._session.shown.job.ac.circuits if one.tag == tag), None)
        if circuit is not None:
            label = f"Let {circuit.name} go" if circuit.pinned else f"Pin {circuit.name}"
            self._session.apply(set_value(f"ac.circuits[{tag}].pinned", not circuit.pinned, label))
