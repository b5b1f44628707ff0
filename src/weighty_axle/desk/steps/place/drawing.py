"""The working drawing under the hand: things are dragged, nudged, turned and brought to rest, and the axles answer."""

from __future__ import annotations

import itertools

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QKeyEvent, QMouseEvent, QWheelEvent

from weighty_axle.design.place.clear import Box, box_of, union
from weighty_axle.design.place.snap import boxes_of, rest_against, snapped, space_around
from weighty_axle.desk.steps.place.panes import Look
from weighty_axle.desk.steps.place.picture import Drag, PlacePicture
from weighty_axle.job.edits.edit import move, turn
from weighty_axle.job.stated import Clear
from weighty_axle.job.systems import part_of, systems

_NUDGE_M = 0.01
_SNAP_PX = 7.0
_drags = itertools.count(1)
_RESTS = {Qt.Key.Key_F: (2, -1), Qt.Key.Key_C: (2, 1), Qt.Key.Key_L: (1, -1), Qt.Key.Key_R: (1, 1)}
"""Keys that bring what is chosen to rest: floor, ceiling, left wall, right wall."""


class PlaceDrawing(PlacePicture):
    """Dragging a pack moves its bank, dragging a part of a board the board; with Ctrl one thing alone. On empty ground
    a frame chooses, with the middle button the drawing is moved; the wheel looks nearer.
    """

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
        self._drag = Drag(tags, pane, event.position(), self._box(tags), (0.0, 0.0, 0.0), merge)

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

    def _rested(self, drag: Drag, by: tuple[float, float, float]) -> tuple[float, float, float]:
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


_PULLS = {
    Qt.Key.Key_Left: (-1.0, 0.0),
    Qt.Key.Key_Right: (1.0, 0.0),
    Qt.Key.Key_Up: (0.0, -1.0),
    Qt.Key.Key_Down: (0.0, 1.0),
}
"""Keys that move the drawing with Ctrl held, in eighths of a view."""
