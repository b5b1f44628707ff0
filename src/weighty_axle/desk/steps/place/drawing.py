"""Side and top view to scale: items are dragged or nudged, and the axles answer."""

from __future__ import annotations

import itertools
from typing import Literal

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QWidget

from weighty_axle.desk.kit.painting import CENTRE, Canvas, words
from weighty_axle.desk.kit.section import SectionPainter, draw_axle, section_colours
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session
from weighty_axle.exports.drawings.long_section import long_section
from weighty_axle.job.edits.edit import move
from weighty_axle.job.models.document import Item
from weighty_axle.job.models.vehicle import Zone
from weighty_axle.job.systems import part_of, systems
from weighty_axle.units import System, show

_NUDGE_M = 0.01
_drags = itertools.count(1)


class PlaceDrawing(Canvas):
    """Side view above, top view below, both to one scale.

    Dragging a pack moves the whole bank; hold Ctrl for one pack.
    """

    def __init__(self, session: Session, system: System, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._system = session, system
        self._drag: tuple[tuple[str, ...], str, QPointF, Literal["side", "top"]] | None = None
        self.setMinimumHeight(330)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Side and top view with everything in its place"))
        session.selected.connect(self.update)

    # ---- drawing ----

    def _views(self) -> tuple[SectionPainter, float, float]:
        """The side view's painter, pixels per metre, and the top view's centre line."""
        section = long_section(self._session.shown.design)
        vehicle = self._session.shown.job.vehicle
        metres_up = section.top_m + 0.1 + vehicle.width_m
        scale = min((self.width() - 30) / (section.right_m - section.left_m), (self.height() - 84) / metres_up)
        height = scale * (section.top_m + 0.1)
        side = SectionPainter(section, QRectF(15, 4, self.width() - 30, height), equal=True)
        return side, side.x_px, 4 + height + 62 + vehicle.width_m * side.x_px / 2

    def draw(self, painter: QPainter) -> None:
        side, scale, middle = self._views()
        selection = self._session.selection
        for shape in side.section.shapes:
            box = side.shape(painter, shape, lit=bool(shape.tag) and shape.tag in selection)
            if shape.role in ("pack", "unit", "fitting"):
                self.areas.append((box, f"side {shape.tag}"))
        side.labels(painter)
        loads = {axle.tag: axle.load_kg for axle in self._session.shown.design.place.axles}
        for mark in side.section.axles:
            x, width = side.at(mark.x_m, 0).x(), mark.bar_m * side.x_px
            draw_axle(painter, mark, x, side.area.bottom() + 5, width, self._system)
            self.figures.append((QRectF(x - width / 2, side.area.bottom(), width, 36), loads[mark.tag]))
        self._top(painter, side, scale, middle)
        if self._drag is not None:
            self._where(painter)

    def _top(self, painter: QPainter, side: SectionPainter, scale: float, middle: float) -> None:
        now, vehicle = look(), self._session.shown.job.vehicle
        half = vehicle.width_m / 2 * scale
        front, rear = side.at(0, 0).x(), side.at(vehicle.length_m, 0).x()
        painter.setPen(QPen(QColor(now.steel), 1.4))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(QRectF(front, middle - half, rear - front, 2 * half))
        painter.setPen(QPen(QColor(now.line), 1, Qt.PenStyle.DashDotLine))
        painter.drawLine(QPointF(front, middle), QPointF(rear, middle))
        words(
            painter,
            QRectF(front + 4, middle - half - 15, 200, 14),
            tr("from above; right side up"),
            size=7.5,
            colour=now.muted,
        )
        wrong = set(self._session.shown.design.place.outside) | {
            tag for pair in self._session.shown.design.place.clashes for tag in pair
        }
        wrong |= {one.tag for one in self._session.shown.design.room.near}
        for zone in vehicle.zones:
            self._zone(painter, zone, self._from_above(zone, side, scale, middle))
        for item in sorted(self._session.shown.design.items, key=lambda one: one.kind != "fitting"):
            self._item(painter, item, side, scale, middle, item.tag in wrong)

    def _from_above(self, one: Item | Zone, side: SectionPainter, scale: float, middle: float) -> QRectF:
        x, y = side.at(one.place.x_m, 0).x(), middle - one.place.y_m * scale
        long, wide = one.size.length_m * scale, one.size.width_m * scale
        return QRectF(x - long / 2, y - wide / 2, long, wide)

    def _zone(self, painter: QPainter, zone: Zone, rect: QRectF) -> None:
        """What is kept away from: a dashed box, and its name where there is room."""
        now = look()
        lit = zone.tag in self._session.selection
        painter.setPen(QPen(QColor(now.check), 2.6 if lit else 1.1, Qt.PenStyle.DashLine))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(rect)
        if rect.width() > 26 and rect.height() > 9:
            words(painter, rect, zone.tag, size=7, align=CENTRE)

    def _item(
        self, painter: QPainter, item: Item, side: SectionPainter, scale: float, middle: float, wrong: bool
    ) -> None:
        now, lit = look(), item.tag in self._session.selection
        rect = self._from_above(item, side, scale, middle)
        line, fill = section_colours("pack" if item.kind == "pack" else "fitting" if item.kind == "fitting" else "unit")
        painter.setPen(QPen(QColor(now.stop if wrong else now.check if lit else line), 2.6 if wrong or lit else 1.1))
        painter.setBrush(QColor(fill or now.paper))
        painter.drawRect(rect)
        if rect.width() > 26 and rect.height() > 9:
            words(painter, rect, item.tag, size=7, colour=now.paper if item.kind == "pack" else now.ink, align=CENTRE)
        self.areas.append((rect, f"top {item.tag}"))

    def _where(self, painter: QPainter) -> None:
        assert self._drag is not None
        item = next((one for one in self._session.shown.design.items if one.tag == self._drag[1]), None)
        if item is None:
            return
        parts = [
            f"{name} {show(value, 'm', self._system)}"
            for name, value in (
                (tr("along"), item.place.x_m),
                (tr("right"), item.place.y_m),
                (tr("up"), item.place.z_m),
            )
        ]
        box = QRectF(self.width() / 2 - 150, 2, 300, 18)
        painter.fillRect(box, QColor(look().paper))
        words(painter, box, f"{item.tag}: {' · '.join(parts)}", size=9, bold=True, align=CENTRE)

    # ---- moving ----

    def _group(self, tag: str, alone: bool) -> tuple[str, ...]:
        whole = self._session.shown.whole
        banks = (part_of(whole, one.key).bank for one in systems(whole))
        packs = next((bank.packs for bank in banks if any(pack.tag == tag for pack in bank.packs)), ())
        return tuple(pack.tag for pack in packs) if packs and not alone else (tag,)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        area = self.area_at(event.position())
        if not area:
            self._session.select()
            return
        view, tag = area.split(" ", 1)
        tags = self._group(tag, bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier))
        self._session.select(*tags)
        self._drag = (tags, tag, event.position(), "side" if view == "side" else "top")
        self._merge = f"place drag {next(_drags)}"

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._drag is None:
            return
        tags, tag, last, view = self._drag
        scale = self._views()[1]
        # Whole centimetres, so that what is dragged reads as it will be measured.
        dx = round((event.position().x() - last.x()) / scale, 2)
        other = round((event.position().y() - last.y()) / scale, 2)
        dy, dz = (-other, 0.0) if view == "top" else (0.0, -other)
        if dx or dy or dz:
            refused = self._session.apply(move(tags, dx_m=dx, dy_m=dy, dz_m=dz, merge=self._merge))
            if refused is None:
                moved = QPointF(last.x() + dx * scale, last.y() - (dy + dz) * scale)
                self._drag = (tags, tag, moved, view)

    def mouseReleaseEvent(self, _event: QMouseEvent) -> None:
        self._drag = None
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Arrows move along and across by 10 mm (Shift 100 mm), Page up and down move in height, N and P choose."""
        step = 0.1 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else _NUDGE_M
        moves = {
            Qt.Key.Key_Left: (-step, 0.0, 0.0),
            Qt.Key.Key_Right: (step, 0.0, 0.0),
            Qt.Key.Key_Up: (0.0, step, 0.0),
            Qt.Key.Key_Down: (0.0, -step, 0.0),
            Qt.Key.Key_PageUp: (0.0, 0.0, step),
            Qt.Key.Key_PageDown: (0.0, 0.0, -step),
        }
        tags = [item.tag for item in self._session.shown.design.items]
        chosen = tuple(tag for tag in self._session.selection if tag in tags)
        if event.key() in (Qt.Key.Key_N, Qt.Key.Key_P):
            at = tags.index(chosen[-1]) + (1 if event.key() == Qt.Key.Key_N else -1) if chosen else 0
            self._session.select(tags[at % len(tags)])
        elif chosen and Qt.Key(event.key()) in moves:
            dx, dy, dz = moves[Qt.Key(event.key())]
            self._session.apply(move(chosen, dx_m=dx, dy_m=dy, dz_m=dz, merge=f"nudge {chosen}"))
        else:
            super().keyPressEvent(event)
