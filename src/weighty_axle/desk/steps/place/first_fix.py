"""First fix: wall by wall where every cable comes out, before the wall is closed."""

from __future__ import annotations

import itertools
from datetime import date
from functools import partial
from typing import Any

from msgspec.structs import replace
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QButtonGroup, QPushButton

from weighty_axle.design.plainest import plainest
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.painting import CENTRE, TOP, Canvas, words
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.kit.theme import look, scaled
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.commands import Command
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.exports.drawings.walls import (
    WALLS,
    WallMark,
    WallView,
    closed_words,
    from_wall,
    led_out,
    on_wall,
    wall_view,
)
from weighty_axle.job.edits.edit import Edit, of_whole, remove, set_value, value_words
from weighty_axle.job.edits.place import close_wall, open_wall, put_outlet
from weighty_axle.job.edits.sheet import add_entry
from weighty_axle.job.models.place import Outlet, Wall
from weighty_axle.units import LENGTH, System, show

_drags = itertools.count(1)
_NUDGE_M = 0.01


def _set(name: str, title: str, row: Outlet, value: Any) -> Edit:
    return of_whole(set_value(f"outlets[{row.tag}].{name}", value, f"{title} of {row.tag}: {value_words(value)}"))


_COLUMNS = (
    Column("Tag", lambda one: one.tag, None),
    Column("Outlet", lambda one: one.name, None, partial(_set, "name", "Name")),
    Column("For a", lambda one: one.kind, None),
    Column("Out of", lambda one: one.wall, None),
    Column("Along", lambda one: one.place.x_m, LENGTH, partial(_set, "place.x_m", "Along")),
    Column("Across", lambda one: one.place.y_m, LENGTH, partial(_set, "place.y_m", "Across")),
    Column("Up", lambda one: one.place.z_m, LENGTH, partial(_set, "place.z_m", "Up")),
    Column("Comes from", lambda one: one.start, None),
    Column("Serves", lambda one: " ".join(one.serves) or "–", None),
    Column("Tail", lambda one: one.tail_m, LENGTH, partial(_set, "tail_m", "Tail")),
    Column("Measured", lambda one: one.measured_m, LENGTH, partial(_set, "measured_m", "Length"), clears=True),
)


class WallDrawing(Canvas):
    """One face to scale: bays behind it, wire ways that open in it, outlets to drag or nudge."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__()
        self._session, self._system = session, system
        self.wall: Wall = "right"
        self._dragged = ""
        self._merge = ""
        self.setMinimumHeight(230)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("A wall with what comes out of it"))
        session.selected.connect(self.update)

    def _frame(self) -> tuple[WallView, float, QPointF]:
        """The view, pixels per metre, and the pixel of its lower left corner."""
        view = wall_view(self._session.shown.design, self.wall)
        scale = min((self.width() - 40) / view.wide_m, (self.height() - 64) / view.high_m)
        left = (self.width() - view.wide_m * scale) / 2
        return view, scale, QPointF(left, (self.height() - 20 + view.high_m * scale) / 2 + 8)

    def draw(self, painter: QPainter) -> None:
        now = look()
        view, scale, corner = self._frame()
        painter.setPen(QPen(QColor(now.steel), 1.4))
        painter.setBrush(QColor(now.paper))
        painter.drawRect(QRectF(corner.x(), corner.y() - view.high_m * scale, view.wide_m * scale, view.high_m * scale))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(QColor(now.line), 1, Qt.PenStyle.DashLine))
        for left, right, bottom, top, tag in view.boxes:
            if tag:
                box = QRectF(
                    corner.x() + left * scale, corner.y() - top * scale, (right - left) * scale, (top - bottom) * scale
                )
                painter.drawRect(box)
                words(painter, box.adjusted(4, 2, 0, 0), tag, size=7.5, colour=now.muted, align=TOP)
                painter.setPen(QPen(QColor(now.line), 1, Qt.PenStyle.DashLine))
        if not self.wall.startswith(("floor", "ceiling")):
            floor = corner.y() - (self._session.shown.whole.vehicle.floor_m - view.bottom_m) * scale
            painter.drawLine(QPointF(corner.x(), floor), QPointF(corner.x() + view.wide_m * scale, floor))
            words(painter, QRectF(corner.x() + 4, floor - 14, 60, 13), tr("floor"), size=7.5, colour=now.muted)
        painter.setFont(scaled(8))
        metrics = QFontMetricsF(painter.font())
        led = led_out(view, lambda text: (metrics.horizontalAdvance(text) + 10) / scale, self._words)
        for mark, label_m in led:
            at = QPointF(corner.x() + mark.across_m * scale, corner.y() - mark.up_m * scale)
            lit = mark.tag in self._session.selection
            painter.setPen(QPen(QColor(now.check if lit else now.ink), 2.4 if lit else 1.6))
            if mark.outlet is None:
                painter.setBrush(QColor(now.track))
                painter.drawEllipse(at, 5, 5)
            else:
                painter.drawLine(at - QPointF(6, 0), at + QPointF(6, 0))
                painter.drawLine(at - QPointF(0, 6), at + QPointF(0, 6))
                self.areas.append((QRectF(at.x() - 10, at.y() - 10, 20, 20), mark.tag))
            x = corner.x() + label_m * scale
            # Outlets are named over the face, wire ways under it.
            y = corner.y() - view.high_m * scale - 16 if mark.outlet is not None else corner.y() + 3
            painter.setPen(QPen(QColor(now.line), 0.8))
            painter.drawLine(QPointF(x, y + (14 if mark.outlet is not None else 0)), at)
            words(painter, QRectF(x - 60, y, 120, 13), self._words(mark), size=8, bold=lit, align=CENTRE)
        state = closed_words(self._session.shown.whole, self.wall)
        seen = tr("from above, right side up") if self.wall in ("floor", "ceiling") else tr("seen from inside")
        words(
            painter,
            QRectF(8, 2, self.width() - 16, 15),
            tr("{wall}, {seen}; {state}. Heights are above the floor.").format(
                wall=tr(self.wall).capitalize(), seen=seen, state=tr(state)
            ),
            size=8.5,
            colour=now.muted,
        )

    def _words(self, mark: WallMark) -> str:
        return f"{mark.tag} {show(mark.height_m, 'm', self._system)}"

    def _place(self, tag: str) -> tuple[float, float]:
        one = next(one for one in self._session.shown.whole.outlets if one.tag == tag)
        return on_wall(self._session.shown.whole.vehicle, self.wall, one.place)

    def put(self, tag: str, across_m: float, up_m: float, merge: str) -> None:
        """Move an outlet on this face, kept within it."""
        view = self._frame()[0]
        across, up = (min(max(0.0, value), most) for value, most in ((across_m, view.wide_m), (up_m, view.high_m)))
        place = from_wall(self._session.shown.whole.vehicle, self.wall, round(across, 2), round(up, 2))
        self._session.apply(put_outlet(tag, place, merge))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._dragged = self.area_at(event.position())
        self._merge = f"outlet drag {next(_drags)}"
        if self._dragged:
            self._session.select(self._dragged)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._dragged:
            _, scale, corner = self._frame()
            at = event.position()
            self.put(self._dragged, (at.x() - corner.x()) / scale, (corner.y() - at.y()) / scale, self._merge)

    def mouseReleaseEvent(self, _event: QMouseEvent) -> None:
        self._dragged = ""

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Arrows move what is chosen on this face by 10 mm, with Shift by 100 mm; N and P choose."""
        here = [one.tag for one in self._session.shown.whole.outlets if one.wall == self.wall]
        chosen = next((tag for tag in self._session.selection if tag in here), "")
        step = 0.1 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else _NUDGE_M
        moves = {
            Qt.Key.Key_Left: (-step, 0.0),
            Qt.Key.Key_Right: (step, 0.0),
            Qt.Key.Key_Up: (0.0, step),
            Qt.Key.Key_Down: (0.0, -step),
        }
        if event.key() in (Qt.Key.Key_N, Qt.Key.Key_P) and here:
            at = here.index(chosen) + (1 if event.key() == Qt.Key.Key_N else -1) if chosen else 0
            self._session.select(here[at % len(here)])
        elif chosen and Qt.Key(event.key()) in moves:
            across, up = self._place(chosen)
            more = moves[Qt.Key(event.key())]
            self.put(chosen, across + more[0], up + more[1], f"nudge {chosen}")
        else:
            super().keyPressEvent(event)


class FirstFixLeaf(Leaf):
    """A wall at a time, and the table of everything that comes out anywhere."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.drawing = WallDrawing(session, system)
        self._walls = QButtonGroup(self)
        presses = []
        for wall in WALLS:
            press = QPushButton(tr(wall).capitalize())
            press.setCheckable(True)
            press.setChecked(wall == self.drawing.wall)
            press.clicked.connect(partial(self.turn, wall))
            self._walls.addButton(press)
            presses.append(press)
        self.row_of(*presses, ("Close this wall", self.close_or_open))
        self.column.addWidget(self.drawing, 3)
        self.said = SaidLine()
        self.model = Records(session, system, _COLUMNS, self.said.setText, self)
        self.table = table_view(self.model, tr("Where cables come out"), wide=1)
        self.table.selectionModel().currentRowChanged.connect(self._on_row)
        self.column.addWidget(self.table, 2)
        self.column.addWidget(self.said)
        self.row_of(("Add an outlet here", self.add), ("Its sheet", self._sheet), ("Remove it", self._remove))
        self.follow(self.table, self.model, lambda one: one.tag)
        self.listen(self.drawing)

    def turn(self, wall: Wall) -> None:
        """Show another wall."""
        self.drawing.wall = wall
        for press, one in zip(self._walls.buttons(), WALLS, strict=True):
            press.setChecked(one == wall)
        self.show_shown(self.session.shown)

    def close_or_open(self) -> None:
        """The wall on show is closed now, or opened again."""
        wall = self.drawing.wall
        closed = any(one.wall == wall for one in self.session.shown.whole.closed)
        edit = open_wall(wall) if closed else close_wall(wall, date.today().isoformat())
        self.said.setText(self.session.apply(edit) or "")

    def add(self) -> None:
        """One more outlet, in the middle of the wall on show."""
        shown, wall = self.session.shown, self.drawing.wall
        made = plainest(Outlet, shown.whole)
        assert isinstance(made, Outlet)
        view = wall_view(shown.design, wall)
        flat = wall in ("floor", "ceiling")
        up = view.high_m / 2 if flat else shown.whole.vehicle.floor_m - view.bottom_m + 0.4
        place = from_wall(shown.whole.vehicle, wall, view.wide_m / 2, up)
        refused = self.session.apply(add_entry("outlets", replace(made, wall=wall, place=place), tr("An outlet")))
        self.said.setText(refused or "")
        self.session.select(made.tag)

    def _row(self) -> Outlet | None:
        row = self.table.currentIndex().row()
        return self.model.record(row) if 0 <= row < self.model.rowCount() else None

    def _sheet(self) -> None:
        row = self._row()
        if row is not None:
            self.session.sheet_asked.emit(row.tag)

    def _remove(self) -> None:
        row = self._row()
        if row is not None:
            self.said.setText(self.session.apply(of_whole(remove(f"outlets[{row.tag}]", row.name))) or "")

    def _on_row(self) -> None:
        row = self._row()
        if row is not None:
            self.session.select(row.tag)
            if row.wall != self.drawing.wall:
                self.turn(row.wall)

    def show_shown(self, shown: Shown) -> None:
        self.model.put(shown.whole.outlets)
        closed = any(one.wall == self.drawing.wall for one in shown.whole.closed)
        self.presses["Close this wall"].setText(tr("Open this wall") if closed else tr("Close this wall"))
        self.drawing.update()

    def commands(self) -> list[Command]:
        return [Command(tr("Add an outlet on this wall"), "", self.add)]
