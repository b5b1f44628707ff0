"""The working drawing: the whole vehicle from the side and above, or one bay opened; things are dragged, nudged, turned
and brought to rest, and the axles answer.
"""

from __future__ import annotations

import itertools
from typing import NamedTuple

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPen, QWheelEvent
from PySide6.QtWidgets import QWidget

from weighty_axle.design.place.clear import Box, box_of, union
from weighty_axle.design.place.snap import boxes_of, gaps, rest_against, snapped, space_around
from weighty_axle.desk.kit.painting import CENTRE, LEFT, Canvas, words
from weighty_axle.desk.kit.section import SectionPainter, draw_axle, section_colours
from weighty_axle.desk.kit.theme import look, scaled
from weighty_axle.desk.steps.place.panes import Look, Pane, bay_box, bay_panes, door_box, room_for_bars, whole_panes
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session
from weighty_axle.exports.drawings.long_section import Section, long_section
from weighty_axle.job.edits.edit import move, turn
from weighty_axle.job.models.document import Item
from weighty_axle.job.models.vehicle import Bay, Zone
from weighty_axle.job.stated import Clear
from weighty_axle.job.systems import part_of, systems
from weighty_axle.units import System, show

_NUDGE_M = 0.01
_SNAP_PX = 7.0
_MOST_ZOOM = 40.0
_drags = itertools.count(1)
_RESTS = {Qt.Key.Key_F: (2, -1), Qt.Key.Key_C: (2, 1), Qt.Key.Key_L: (1, -1), Qt.Key.Key_R: (1, 1)}
"""Keys that bring what is chosen to rest: floor, ceiling, left wall, right wall."""


class _Drag(NamedTuple):
    """What is dragged, where the hand was and where the box was when it began, and what has been moved so far."""

    tags: tuple[str, ...]
    pane: Pane
    start: QPointF
    box: Box
    done: tuple[float, float, float]
    merge: str


class PlaceDrawing(Canvas):
    """Whole vehicle, or one bay opened. Dragging a pack moves its bank, dragging a part of a board the board; with Ctrl
    one thing alone. On empty ground a frame chooses, with the middle button the drawing is moved; the wheel looks
    nearer.
    """

    def __init__(self, session: Session, system: System, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._system = session, system
        self._drag: _Drag | None = None
        self._frame: tuple[QPointF, QPointF] | None = None
        self._pulled: QPointF | None = None
        self.bay = ""
        self.look = Look()
        self.setMinimumHeight(330)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Working drawing with everything in its place"))
        session.selected.connect(self.update)

    # ---- views ----

    def opened_bay(self) -> Bay | None:
        """The bay that is opened; None for the whole vehicle."""
        return next((bay for bay in self._session.shown.job.vehicle.bays if bay.tag == self.bay), None)

    def panes(self) -> list[Pane]:
        """The views on show."""
        return self._panes(long_section(self._session.shown.design) if self.opened_bay() is None else None)

    def _panes(self, section: Section | None) -> list[Pane]:
        vehicle, bay = self._session.shown.job.vehicle, self.opened_bay()
        if bay is not None:
            return bay_panes(self.width(), self.height(), vehicle, bay, self.look)
        assert section is not None
        extent = (section.left_m, section.right_m, section.top_m)
        return whole_panes(self.width(), self.height(), vehicle, extent, self.look)

    def open_bay(self, tag: str) -> None:
        """Open a bay, or with an empty tag show the whole vehicle."""
        self.bay, self.look = tag, Look()
        self.update()

    def nearer(self, by: float, at: QPointF | None = None) -> None:
        """Look nearer or farther; the point under the hand stays where it is."""
        zoom = min(_MOST_ZOOM, max(1.0, self.look.zoom * by))
        pane = next((one for one in self.panes() if at is not None and one.area.contains(at)), None)
        moved = self.look.moved
        if zoom == 1.0:
            moved = (0.0, 0.0, 0.0)
        elif pane is not None and at is not None:
            off = pane.shift(at.x() - pane.area.center().x(), at.y() - pane.area.center().y())
            keep = 1 - self.look.zoom / zoom
            moved = (moved[0] + off[0] * keep, moved[1] + off[1] * keep, moved[2] + off[2] * keep)
        self.look = Look(zoom, moved)
        self.update()

    # ---- drawing ----

    def draw(self, painter: QPainter) -> None:
        bay = self.opened_bay()
        if bay is None:
            section = long_section(self._session.shown.design)
            panes = self._panes(section)
            self._side(painter, section, panes[0])
            self._top(painter, panes[1])
        else:
            panes = self._panes(None)
            self._bay(painter, bay, panes)
        if self._drag is not None:
            self._told(painter, panes)
        if self._frame is not None:
            painter.setPen(QPen(QColor(look().live), 1, Qt.PenStyle.DashLine))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(*self._frame).normalized())

    def _side(self, painter: QPainter, section: Section, pane: Pane) -> None:
        side = SectionPainter(section, pane.area, equal=True)
        side.zoom(pane.scale, pane.middle[0], pane.middle[2])
        selection = self._session.selection
        painter.save()
        painter.setClipRect(pane.area.adjusted(-12, -4, 12, 0))
        for shape in section.shapes:
            box = side.shape(painter, shape, lit=bool(shape.tag) and shape.tag in selection)
            if shape.role in ("pack", "unit", "fitting"):
                self._area(box, pane, shape.tag)
        side.labels(painter)
        painter.restore()
        loads = {axle.tag: axle.load_kg for axle in self._session.shown.design.place.axles}
        for mark in section.axles:
            x, width = side.at(mark.x_m, 0).x(), min(mark.bar_m * side.x_px, 220.0)
            if pane.area.left() - 20 <= x <= pane.area.right() + 20:
                draw_axle(painter, mark, x, pane.area.bottom() + 5, width, self._system)
                self.figures.append((QRectF(x - width / 2, pane.area.bottom(), width, 36), loads[mark.tag]))

    def _top(self, painter: QPainter, pane: Pane) -> None:
        now, vehicle = look(), self._session.shown.job.vehicle
        half = vehicle.width_m / 2
        painter.save()
        painter.setClipRect(pane.area.adjusted(-12, -1, 12, 1))
        painter.setPen(QPen(QColor(now.steel), 1.4))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(pane.rect(Box((0.0, -half, 0.0), (vehicle.length_m, half, 0.0))))
        painter.setPen(QPen(QColor(now.line), 1, Qt.PenStyle.DashDotLine))
        painter.drawLine(pane.at((0.0, 0.0, 0.0)), pane.at((vehicle.length_m, 0.0, 0.0)))
        self._things(painter, pane)
        painter.restore()
        words(
            painter,
            QRectF(pane.area.x() + 4, pane.area.y() - 15, 200, 14),
            tr("from above; right side up"),
            size=7.5,
            colour=now.muted,
        )

    def _bay(self, painter: QPainter, bay: Bay, panes: list[Pane]) -> None:
        now, vehicle = look(), self._session.shown.job.vehicle
        told = {
            "side": tr("{bay} from its left side; dashed: door").format(bay=bay.name),
            "end": tr("from behind; left is left"),
            "top": tr("from above; right side up"),
        }
        door = bay.door_side != "none"
        for pane in panes:
            words(painter, QRectF(pane.area.x(), pane.area.y() - 16, pane.area.width(), 14), told[pane.view], size=8)
            painter.save()
            painter.setClipRect(pane.area)
            painter.fillRect(pane.area, QColor(now.panel))
            painter.setPen(QPen(QColor(now.steel), 1.6))
            painter.setBrush(QColor(now.paper))
            painter.drawRect(pane.rect(bay_box(vehicle, bay)))
            self._things(painter, pane)
            if pane.view == "side" and door:
                painter.setPen(QPen(QColor(now.live), 1.2, Qt.PenStyle.DashLine))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawRect(pane.rect(door_box(vehicle, bay)).adjusted(2, 2, -2, -2))
            painter.restore()
        area = room_for_bars(panes, self.width())
        section = long_section(self._session.shown.design)
        loads = {axle.tag: axle.load_kg for axle in self._session.shown.design.place.axles}
        step = min(64.0, area.height() / max(1, len(section.axles)))
        for index, mark in enumerate(section.axles):
            width, y = min(area.width() - 50, 220.0), area.y() + index * step
            words(painter, QRectF(area.x(), y - 4, 46, 15), mark.tag, size=9, bold=True)
            draw_axle(painter, mark, area.x() + 50 + width / 2, y, width, self._system)
            self.figures.append((QRectF(area.x() + 50, y - 4, width, 34), loads[mark.tag]))

    def _things(self, painter: QPainter, pane: Pane) -> None:
        """Zones and items of a view, those farther off first."""
        place = self._session.shown.design.place
        wrong = set(place.outside) | {tag for pair in place.clashes for tag in pair}
        wrong |= {one.tag for one in self._session.shown.design.room.near}
        wrong |= {one.tag for one in self._session.shown.design.clear.tight}
        bay, vehicle = self.opened_bay(), self._session.shown.job.vehicle
        ground = bay_box(vehicle, bay) if bay is not None else None
        for zone in vehicle.zones:
            if _within(box_of(zone.place, zone.size), ground):
                self._zone(painter, zone, pane.rect(box_of(zone.place, zone.size)))
        # The axis one looks along: from the left, from above, from behind.
        deep = {"side": lambda one: -one.place.y_m, "top": lambda one: one.place.z_m, "end": lambda one: one.place.x_m}
        shown = []
        for item in sorted(self._session.shown.design.items, key=deep[pane.view]):
            box = box_of(item.place, item.size)
            rect = pane.rect(box)
            if rect.intersects(pane.area) and _within(box, ground):
                self._item(painter, item, rect, pane, item.tag in wrong)
                shown.append((item, rect))
        self._names(painter, shown)

    def _zone(self, painter: QPainter, zone: Zone, rect: QRectF) -> None:
        """What is kept away from: a dashed box, and its name where there is room."""
        now = look()
        lit = zone.tag in self._session.selection
        painter.setPen(QPen(QColor(now.check), 2.6 if lit else 1.1, Qt.PenStyle.DashLine))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(rect)
        if rect.width() > 26 and rect.height() > 9:
            words(painter, rect, zone.tag, size=7, align=CENTRE)

    def _item(self, painter: QPainter, item: Item, rect: QRectF, pane: Pane, wrong: bool) -> None:
        now, lit = look(), item.tag in self._session.selection
        line, fill = section_colours("pack" if item.kind == "pack" else "fitting" if item.kind == "fitting" else "unit")
        painter.setPen(QPen(QColor(now.stop if wrong else now.check if lit else line), 2.6 if wrong or lit else 1.1))
        painter.setBrush(QColor(fill or now.paper))
        painter.drawRect(rect)
        if item.clear.service != "none":
            self._terminals(painter, item, rect, pane)
        self._area(rect, pane, item.tag)

    def _names(self, painter: QPainter, shown: list[tuple[Item, QRectF]]) -> None:
        """Tags where they fit and nothing nearer hides them."""
        now = look()
        painter.setFont(scaled(7))
        metrics = QFontMetricsF(painter.font())
        for at, (item, rect) in enumerate(shown):
            wide = metrics.horizontalAdvance(item.tag) + 2
            name = QRectF(rect.center().x() - wide / 2, rect.center().y() - 5, wide, 10)
            hidden = any(other.intersects(name) for _, other in shown[at + 1 :])
            if rect.width() > wide and rect.height() > 9 and not hidden:
                colour = now.paper if item.kind == "pack" else now.ink
                words(painter, rect, item.tag, size=7, colour=colour, align=CENTRE)

    def _terminals(self, painter: QPainter, item: Item, rect: QRectF, pane: Pane) -> None:
        """A thick line at the face that is worked at, in views that show it edge on."""
        ends = {
            ("side", "front"): (rect.topLeft(), rect.bottomLeft()),
            ("side", "rear"): (rect.topRight(), rect.bottomRight()),
            ("side", "above"): (rect.topLeft(), rect.topRight()),
            ("top", "front"): (rect.topLeft(), rect.bottomLeft()),
            ("top", "rear"): (rect.topRight(), rect.bottomRight()),
            ("top", "left"): (rect.bottomLeft(), rect.bottomRight()),
            ("top", "right"): (rect.topLeft(), rect.topRight()),
            ("end", "left"): (rect.topLeft(), rect.bottomLeft()),
            ("end", "right"): (rect.topRight(), rect.bottomRight()),
            ("end", "above"): (rect.topLeft(), rect.topRight()),
        }.get((pane.view, item.clear.service))
        if ends is not None:
            painter.setPen(QPen(QColor(look().live), 3.5))
            painter.drawLine(*ends)

    def _area(self, rect: QRectF, pane: Pane, tag: str) -> None:
        seen = rect.intersected(pane.area)
        if not seen.isEmpty():
            self.areas.append((seen, f"{pane.view} {tag}"))

    def _told(self, painter: QPainter, panes: list[Pane]) -> None:
        """Where what is dragged is, and how far it is from what is before it."""
        assert self._drag is not None
        items = {item.tag: item for item in self._session.shown.design.items}
        known = [items[tag] for tag in self._drag.tags if tag in items]
        if not known:
            return
        place = known[0].place
        parts = [
            f"{name} {show(value, 'm', self._system)}"
            for name, value in ((tr("along"), place.x_m), (tr("right"), place.y_m), (tr("up"), place.z_m))
        ]
        strip = QRectF(self.width() / 2 - 160, 0, 320, 17)
        painter.fillRect(strip, QColor(look().paper))
        words(painter, strip, f"{known[0].tag}: {' · '.join(parts)}", size=9, bold=True, align=CENTRE)
        box = union([box_of(one.place, one.size) for one in known])
        others = [(one.tag, box_of(one.place, one.size)) for one in boxes_of(items.values(), self._drag.tags)]
        space = space_around(self._session.shown.job.vehicle, box)
        pane = next(one for one in panes if one.view == self._drag.pane.view)
        painter.save()
        painter.setClipRect(pane.area.adjusted(-12, -4, 12, 4))
        for gap in gaps(box, others, space):
            if gap.axis in pane.axes:
                self._distance(painter, pane, box, gap.axis, gap.way, gap.gap_m)
        painter.restore()

    def _distance(self, painter: QPainter, pane: Pane, box: Box, axis: int, way: int, gap_m: float) -> None:
        middle = [(low + high) / 2 for low, high in zip(box.low, box.high, strict=True)]
        start, end = list(middle), list(middle)
        start[axis] = box.high[axis] if way > 0 else box.low[axis]
        end[axis] = start[axis] + way * gap_m
        a, b = pane.at((start[0], start[1], start[2])), pane.at((end[0], end[1], end[2]))
        painter.setPen(QPen(QColor(look().live if gap_m >= 0 else look().stop), 1.2))
        painter.drawLine(a, b)
        where = QRectF((a.x() + b.x()) / 2 - 34, (a.y() + b.y()) / 2 - 7, 68, 13)
        if axis == pane.axes[1]:
            where.translate(37, 0)
        else:
            where.translate(0, -9)
        words(
            painter,
            where,
            show(gap_m, "m", self._system),
            size=8,
            bold=True,
            colour=look().live,
            align=LEFT if axis == pane.axes[1] else CENTRE,
        )

    # ---- moving ----

    def _group(self, tag: str, alone: bool) -> tuple[str, ...]:
        """What moves with a thing: the board it is built on, its bank, or nothing."""
        if alone:
            return (tag,)
        whole = self._session.shown.whole
        built = next((one.items for one in whole.assemblies if tag in one.items), ())
        if built:
            return (tag, *(one for one in built if one != tag and self._known(one)))
        banks = (part_of(whole, one.key).bank for one in systems(whole))
        packs = next((bank.packs for bank in banks if any(pack.tag == tag for pack in bank.packs)), ())
        return tuple(pack.tag for pack in packs) if packs else (tag,)

    def _known(self, tag: str) -> bool:
        return any(item.tag == tag for item in self._session.shown.design.items)

    def chosen(self) -> tuple[str, ...]:
        """Placed things among what is selected."""
        return tuple(tag for tag in self._session.selection if self._known(tag))

    def _box(self, tags: tuple[str, ...]) -> Box:
        return union([box_of(one.place, one.size) for one in self._session.shown.design.items if one.tag in tags])

    def _hit(self, at: QPointF) -> str:
        """What a hand is on: of several over one another what is chosen already, else the nearest to the eye."""
        found = [name for rect, name in reversed(self.areas) if rect.contains(at)]
        return next((name for name in found if name.split(" ", 1)[1] in self._session.selection), (found or [""])[0])

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() == Qt.MouseButton.MiddleButton:
            self._pulled = event.position()
            return
        area = self._hit(event.position())
        if not area:
            self._frame = (event.position(), event.position())
            if not event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
                self._session.select()
            return
        view, tag = area.split(" ", 1)
        if event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            chosen = self.chosen()
            self._session.select(*((one for one in chosen if one != tag) if tag in chosen else (*chosen, tag)))
            return
        group = self._group(tag, bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier))
        # Of several chosen, all move.
        tags = self.chosen() if tag in self.chosen() and len(self.chosen()) > len(group) else group
        self._session.select(*tags)
        pane = next(one for one in self.panes() if one.view == view)
        merge = f"place drag {next(_drags)}"
        self._drag = _Drag(tags, pane, event.position(), self._box(tags), (0.0, 0.0, 0.0), merge)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        at = event.position()
        if self._pulled is not None:
            pane = next((one for one in self.panes() if one.area.contains(self._pulled)), None)
            if pane is not None:
                by = pane.shift(at.x() - self._pulled.x(), at.y() - self._pulled.y())
                was = self.look.moved
                self.look = Look(self.look.zoom, (was[0] - by[0], was[1] - by[1], was[2] - by[2]))
            self._pulled = at
            self.update()
        elif self._frame is not None:
            self._frame = (self._frame[0], at)
            self.update()
        elif self._drag is not None:
            self._drag_to(at, free=bool(event.modifiers() & Qt.KeyboardModifier.AltModifier))

    def _drag_to(self, at: QPointF, *, free: bool) -> None:
        """Move what is dragged from where it began: whole centimetres, or to rest against what is near."""
        assert self._drag is not None
        drag = self._drag
        by = drag.pane.shift(at.x() - drag.start.x(), at.y() - drag.start.y())
        # Whole centimetres, so that what is dragged reads as it will be measured.
        wanted = (round(by[0], 2), round(by[1], 2), round(by[2], 2))
        if not free:
            wanted = self._rested(drag, wanted)
        dx, dy, dz = (round(new - old, 4) for new, old in zip(wanted, drag.done, strict=True))
        if (dx or dy or dz) and self._session.apply(
            move(drag.tags, dx_m=dx, dy_m=dy, dz_m=dz, merge=drag.merge)
        ) is None:
            self._drag = drag._replace(done=wanted)

    def _rested(self, drag: _Drag, by: tuple[float, float, float]) -> tuple[float, float, float]:
        items = self._session.shown.design.items
        others = [(box_of(one.place, one.size), one.clear) for one in boxes_of(items, drag.tags)]
        clear = next((one.clear for one in items if (one.tag,) == drag.tags), Clear())
        moved = Box(
            (drag.box.low[0] + by[0], drag.box.low[1] + by[1], drag.box.low[2] + by[2]),
            (drag.box.high[0] + by[0], drag.box.high[1] + by[1], drag.box.high[2] + by[2]),
        )
        space = space_around(self._session.shown.job.vehicle, moved)
        return snapped(drag.box, by, clear, others, space, _SNAP_PX / drag.pane.scale)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._frame is not None:
            self._choose(QRectF(*self._frame).normalized(), event.modifiers())
        self._drag = self._frame = self._pulled = None
        self.update()

    def _choose(self, frame: QRectF, modifiers: Qt.KeyboardModifier) -> None:
        """Everything that lies whole in a frame."""
        if frame.width() < 3 and frame.height() < 3:
            return
        found = [area.split(" ", 1)[1] for rect, area in self.areas if frame.contains(rect)]
        kept = self.chosen() if modifiers & Qt.KeyboardModifier.ShiftModifier else ()
        self._session.select(*dict.fromkeys((*kept, *found)))

    def wheelEvent(self, event: QWheelEvent) -> None:
        self.nearer(1.2 ** (event.angleDelta().y() / 120), event.position())

    def turn_chosen(self) -> None:
        """A quarter turn of what is chosen, as one."""
        if self.chosen():
            self._session.apply(turn(self.chosen()))

    def rest_chosen(self, axis: int, way: int) -> None:
        """Bring what is chosen to the floor, the ceiling or a wall of its space, as one."""
        tags = self.chosen()
        if tags:
            box = self._box(tags)
            dx, dy, dz = rest_against(box, space_around(self._session.shown.job.vehicle, box), axis, way)
            if dx or dy or dz:
                self._session.apply(move(tags, dx_m=dx, dy_m=dy, dz_m=dz))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Arrows move along and across by 10 mm (Shift 100 mm), Page up and down in height; T turns; F, C, L, R bring
        to floor, ceiling, left, right; N and P choose, G what moves with it; B opens the bay, Escape closes it; + and
        - look nearer, Ctrl and arrows move the drawing.
        """
        key = Qt.Key(event.key())
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier and key in _PULLS:
            self._pull(_PULLS[key])
        elif not self._key_moves(key, event) and not self._key_looks(key):
            super().keyPressEvent(event)

    def _pull(self, by: tuple[float, float]) -> None:
        pane = self.panes()[0]
        shift = pane.shift(by[0] * pane.area.width() / 8, by[1] * pane.area.height() / 8)
        was = self.look.moved
        # What is up in the side view is right in the view from above.
        self.look = Look(self.look.zoom, (was[0] + shift[0], was[1] + shift[2], was[2] + shift[2]))
        self.update()

    def _key_moves(self, key: Qt.Key, event: QKeyEvent) -> bool:
        step = 0.1 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else _NUDGE_M
        moves = {
            Qt.Key.Key_Left: (-step, 0.0, 0.0),
            Qt.Key.Key_Right: (step, 0.0, 0.0),
            Qt.Key.Key_Up: (0.0, step, 0.0),
            Qt.Key.Key_Down: (0.0, -step, 0.0),
            Qt.Key.Key_PageUp: (0.0, 0.0, step),
            Qt.Key.Key_PageDown: (0.0, 0.0, -step),
        }
        chosen = self.chosen()
        if key in moves and chosen:
            dx, dy, dz = moves[key]
            self._session.apply(move(chosen, dx_m=dx, dy_m=dy, dz_m=dz, merge=f"nudge {chosen}"))
        elif key in _RESTS and chosen:
            self.rest_chosen(*_RESTS[key])
        elif key == Qt.Key.Key_T and chosen:
            self.turn_chosen()
        else:
            return False
        return True

    def _key_looks(self, key: Qt.Key) -> bool:
        tags = [item.tag for item in self._session.shown.design.items]
        chosen = self.chosen()
        if key in (Qt.Key.Key_N, Qt.Key.Key_P):
            at = tags.index(chosen[-1]) + (1 if key == Qt.Key.Key_N else -1) if chosen else 0
            self._session.select(tags[at % len(tags)])
        elif key == Qt.Key.Key_G and chosen:
            self._session.select(*self._group(chosen[-1], False))
        elif key == Qt.Key.Key_B:
            self.open_bay(self._bay_of(chosen))
        elif key == Qt.Key.Key_Escape and self.bay:
            self.open_bay("")
        elif key in (Qt.Key.Key_Plus, Qt.Key.Key_Equal, Qt.Key.Key_Minus):
            self.nearer(1 / 1.25 if key == Qt.Key.Key_Minus else 1.25)
        else:
            return False
        return True

    def _bay_of(self, chosen: tuple[str, ...]) -> str:
        """The bay of what is chosen; without any the next one in the order they stand."""
        bays = [bay.tag for bay in self._session.shown.job.vehicle.bays]
        if chosen:
            place = next(item.place for item in self._session.shown.design.items if item.tag == chosen[-1])
            space = self._session.shown.design.ways.space_of(place)
            return space if space in bays else ""
        at = bays.index(self.bay) + 1 if self.bay in bays else 0
        return bays[at] if at < len(bays) else ""


def _within(box: Box, ground: Box | None) -> bool:
    """Whether a box reaches into an opened bay or stands by its walls; everything does where none is opened."""
    return ground is None or all(
        low <= top + 0.1 and high >= bottom - 0.1
        for low, high, bottom, top in zip(box.low, box.high, ground.low, ground.high, strict=True)
    )


_PULLS = {
    Qt.Key.Key_Left: (-1.0, 0.0),
    Qt.Key.Key_Right: (1.0, 0.0),
    Qt.Key.Key_Up: (0.0, -1.0),
    Qt.Key.Key_Down: (0.0, 1.0),
}
"""Keys that move the drawing with Ctrl held, in eighths of a view."""
