"""The switches of the vehicle as levers in rows, in the order they sit in it; what is live is drawn live."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPen

from weighty_axle.desk.kit.painting import CENTRE, LEFT, Canvas, words
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.plant.plant import Plant

WIDE, HIGH, HEAD = 76, 62, 84
"""Of a lever, and of what stands before a row [px]."""


class SwitchBoard(Canvas):
    """Press a lever, or go to it by the arrows and turn it with Space."""

    turned = Signal(str, str)

    def __init__(self) -> None:
        super().__init__()
        self.plant: Plant | None = None
        self.chosen = ""
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Switches of the vehicle"))

    def put(self, plant: Plant) -> None:
        """Show a plant."""
        self.plant = plant
        if self.chosen not in plant.controls:
            self.chosen = next(iter(plant.controls), "")
        self._tell()
        self.setMinimumHeight(self._rows(max(self.width(), 400))[1])
        self.update()

    def _tell(self) -> None:
        if self.plant is not None and self.chosen:
            control = self.plant.controls[self.chosen]
            said = tr(self.plant.at[self.chosen])
            self.setAccessibleDescription(f"{control.tag or control.words} {control.words}: {said}")

    def _rows(self, width: int) -> tuple[list[tuple[str, str, int, int]], int]:
        """Where every lever stands: its key, its group where it begins a row, x and y; and the height of all."""
        assert self.plant is not None
        found: list[tuple[str, str, int, int]] = []
        x, y, group = HEAD, 0, ""
        for control in self.plant.controls.values():
            first = control.group != group
            if (first and group) or x + WIDE > width:
                x, y = HEAD, y + HIGH + (8 if first else 0)
            found.append((control.key, control.group if first else "", x, y))
            x, group = x + WIDE, control.group
        return found, y + HIGH + 4

    def draw(self, painter: QPainter) -> None:
        if self.plant is None:
            return
        now = look()
        for key, group, x, y in self._rows(self.width())[0]:
            if group:
                words(painter, QRectF(0, y + 6, HEAD - 8, 18), tr(group), size=9, colour=now.muted, align=LEFT)
            control, at = self.plant.controls[key], self.plant.at[key]
            place = control.positions.index(at)
            on = place > 0
            broken = key in self.plant.tripped
            colour = now.stop if broken else now.live if on else now.steel
            area = QRectF(x + 2, y + 2, WIDE - 4, HIGH - 6)
            painter.setPen(QPen(QColor(now.live if key == self.chosen and self.hasFocus() else now.line), 1.5))
            painter.setBrush(QColor(now.live_soft if on and not broken else now.panel))
            painter.drawRect(area)
            # The lever: down at rest, up when on, slanted between.
            foot = QPointF(area.center().x(), area.top() + 19)
            reach = 12 * (2 * place / max(1, len(control.positions) - 1) - 1)
            painter.setPen(QPen(QColor(colour), 5, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
            painter.drawLine(foot, QPointF(foot.x() + (0 if abs(reach) == 12 else 8), foot.y() - reach))
            named = control.tag or tr(control.words)
            name_area, at_area = (QRectF(area.left(), area.top() + y_px, area.width(), 13) for y_px in (31, 42))
            words(painter, name_area, named, size=8, bold=True, align=CENTRE)
            said = tr("tripped") if broken else tr(at) if key != "pre-charge" else f"{tr('fill')} {tr(at)}"
            words(painter, at_area, said, size=7.5, align=CENTRE)
            self.areas.append((area, key))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        key = self.area_at(event.position())
        if key:
            self.chosen = key
            self._turn(-1 if event.button() == Qt.MouseButton.RightButton else 1)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if self.plant is None:
            return
        keys = list(self.plant.controls)
        at = keys.index(self.chosen)
        if event.key() in (Qt.Key.Key_Right, Qt.Key.Key_Down):
            self.chosen = keys[min(at + 1, len(keys) - 1)]
        elif event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Up):
            self.chosen = keys[max(at - 1, 0)]
        elif event.key() in (Qt.Key.Key_Space, Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._turn(1)
        else:
            super().keyPressEvent(event)
            return
        self._tell()
        self.update()

    def _turn(self, by: int) -> None:
        assert self.plant is not None
        positions = self.plant.controls[self.chosen].positions
        now = positions.index(self.plant.at[self.chosen])
        self.turned.emit(self.chosen, positions[(now + by) % len(positions)])
