"""Board: the board built on the bench, as it is drilled; its units are moved on it, or laid out by one press."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QComboBox

from weighty_axle.answers.plan.board import BoardPlan, Unit, board_plans
from weighty_axle.answers.plan.board_layout import laid_out, shifted
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.painting import CENTRE, Canvas, words
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.build import set_mount
from weighty_axle.job.models.build import Mount
from weighty_axle.units import System, show

_EDGE = 26
_NUDGE_MM, _FAR_MM = 5.0, 50.0


class BoardDrawing(Canvas):
    """The plate with its units, ducts and holes, to scale. Keys: arrows shift the unit that is selected by 5 mm, with
    Shift by 50.
    """

    def __init__(self, session: Session, system: System) -> None:
        super().__init__()
        self._session, self._system = session, system
        self.board: BoardPlan | None = None
        self.at = ""
        self._grab: tuple[QPointF, Unit] | None = None
        self._grabs = 0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumHeight(200)
        self.setAccessibleName(tr("Board built on the bench"))

    def put(self, board: BoardPlan | None) -> None:
        """Show a board."""
        self.board = board
        self.update()

    @property
    def unit(self) -> Unit | None:
        """The unit that is selected."""
        if self.board is None:
            return None
        return next((one for one in self.board.units if one.tag == self.at), None)

    @property
    def scale(self) -> float:
        """Pixels to a millimetre."""
        assert self.board is not None
        return min(
            (self.width() - 2 * _EDGE) / max(1.0, self.board.wide_mm),
            (self.height() - 2 * _EDGE) / max(1.0, self.board.high_mm),
        )

    def _rect(self, x: float, y: float, wide: float, high: float) -> QRectF:
        assert self.board is not None
        left = (self.width() - self.board.wide_mm * self.scale) / 2
        top = (self.height() - self.board.high_mm * self.scale) / 2
        return QRectF(
            left + x * self.scale,
            top + (self.board.high_mm - y - high) * self.scale,
            wide * self.scale,
            high * self.scale,
        )

    def draw(self, painter: QPainter) -> None:
        now, board = look(), self.board
        if board is None:
            said = tr("No board is built on the bench yet: in Place, select what stands on it and build it as one.")
            words(painter, QRectF(self.rect()).adjusted(20, 0, -20, 0), said, colour=now.muted, align=CENTRE, wrap=True)
            return
        painter.setPen(QPen(QColor(now.ink), 2))
        painter.setBrush(QColor(now.panel))
        painter.drawRect(self._rect(0, 0, board.wide_mm, board.high_mm))
        for duct in board.ducts:
            rect = self._rect(duct.x_mm, duct.y_mm, duct.wide_mm, duct.high_mm)
            painter.setPen(QPen(QColor(now.line), 1, Qt.PenStyle.DashLine))
            painter.setBrush(QColor(now.track))
            painter.drawRect(rect)
            words(painter, rect, tr("wire duct"), size=7.5, colour=now.muted, align=CENTRE)
        for unit in board.units:
            rect = self._rect(unit.x_mm, unit.y_mm, unit.wide_mm, unit.high_mm)
            here = unit.tag == self.at
            painter.setPen(QPen(QColor(now.live if here else now.ink), 2 if here else 1))
            painter.setBrush(QColor(now.live_soft if here else now.paper))
            painter.drawRect(rect)
            words(painter, rect.adjusted(4, 2, -4, -rect.height() / 2), unit.tag, size=9, bold=True)
            words(painter, rect.adjusted(4, rect.height() / 2 - 4, -4, 0), unit.name, size=7.5, colour=now.muted)
            self.areas.append((rect, unit.tag))
        for hole in board.holes:
            centre = self._rect(hole.x_mm, hole.y_mm, 0, 0).topLeft()
            reach = max(2.5, hole.hole_mm / 2 * self.scale)
            painter.setPen(QPen(QColor(now.ink), 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(centre, reach, reach)
            painter.drawLine(QPointF(centre.x() - reach - 2, centre.y()), QPointF(centre.x() + reach + 2, centre.y()))
            painter.drawLine(QPointF(centre.x(), centre.y() - reach - 2), QPointF(centre.x(), centre.y() + reach + 2))
        middle = self._rect(board.middle_mm[0], board.middle_mm[1], 0, 0).topLeft()
        painter.setPen(QPen(QColor(now.check), 2))
        painter.drawLine(middle - QPointF(7, 0), middle + QPointF(7, 0))
        painter.drawLine(middle - QPointF(0, 7), middle + QPointF(0, 7))
        size = f"{board.wide_mm:.0f} × {board.high_mm:.0f} mm"
        below = self._rect(0, 0, board.wide_mm, 0)
        words(painter, QRectF(below.left(), below.top() + 4, below.width(), 16), size, size=8, align=CENTRE)

    def select(self, tag: str) -> None:
        """Select a unit."""
        self.at = tag
        self._session.select(tag)
        unit = self.unit
        if unit is not None:
            self.setAccessibleDescription(f"{tag}, {unit.x_mm:.0f} / {unit.y_mm:.0f} mm")
        self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.setFocus()
        tag = self.area_at(event.position())
        if tag:
            self.select(tag)
            if self.unit is not None:
                self._grab = (event.position(), self.unit)
                self._grabs += 1

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._grab is None or self.board is None:
            return
        start, unit = self._grab
        moved = event.position() - start
        self._shift(
            unit.x_mm + moved.x() / self.scale, unit.y_mm - moved.y() / self.scale, f"drag {self._grabs} on the board"
        )

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        del event
        self._grab = None

    def _shift(self, x_mm: float, y_mm: float, merge: str = "") -> None:
        if self.board is not None and self.board.plate_stated and self.at:
            house = self._session.shown.house
            one = next(each for each in house.whole.assemblies if each.tag == self.board.tag)
            self._session.apply(shifted(house, one, self.at, round(x_mm), round(y_mm), merge))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        ways = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, 1), Qt.Key.Key_Down: (0, -1)}
        way, unit = ways.get(Qt.Key(event.key())), self.unit
        if way is None or unit is None:
            super().keyPressEvent(event)
            return
        by = _FAR_MM if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else _NUDGE_MM
        self._shift(unit.x_mm + way[0] * by, unit.y_mm + way[1] * by, f"nudge {unit.tag}")


class BoardLeaf(Leaf):
    """Which board, presses, the drawing, holes of the unit that is selected."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.which = QComboBox()
        self.which.setAccessibleName(tr("Board"))
        self.which.currentIndexChanged.connect(self._on_which)
        self.row_of(
            self.which,
            ("Lay out", self.lay_out),
            ("State its holes", self.state_holes),
            ("Write the drawing …", partial(self.wants.emit, "board out")),
        )
        self.drawing = BoardDrawing(session, system)
        self.column.addWidget(self.drawing, 1)
        self.told = Label()
        self.told.setWordWrap(True)
        self.column.addWidget(self.told)
        self.figures = self.figure_row()
        self._boards: tuple[BoardPlan, ...] = ()
        session.selected.connect(self._on_selected)

    def _on_selected(self, tags: tuple[str, ...]) -> None:
        own = next((unit.tag for board in self._boards for unit in board.units if unit.tag in tags), None)
        if own is not None and own != self.drawing.at:
            self.drawing.at = own
            self.drawing.update()

    @property
    def board(self) -> BoardPlan | None:
        """The board on show."""
        at = self.which.currentIndex()
        return self._boards[at] if 0 <= at < len(self._boards) else None

    def show_shown(self, shown: Shown) -> None:
        self._boards = board_plans(shown.house)
        names = [f"{one.tag} {one.name}" for one in self._boards]
        if [self.which.itemText(at) for at in range(self.which.count())] != names:
            self.which.blockSignals(True)
            self.which.clear()
            self.which.addItems(names)
            self.which.blockSignals(False)
        self._on_which()

    def _on_which(self) -> None:
        board = self.board
        self.drawing.put(board)
        if board is None:
            self.told.setText("")
            self.figures.put(())
            return
        self.figures.put((board.mass_kg, board.bend_mm))
        size = show(board.mass_kg.value, "kg", self.system)
        said = [
            tr("{plate}; {mass} without cables. It {door}.").format(plate=board.plate, mass=size, door=board.door),
            *board.faults,
        ]
        if any(unit.usual_holes for unit in board.units):
            said.append(tr("Holes are taken from outlines until they are stated: hold every part against them."))
        self.told.setText(" ".join(said))

    def lay_out(self) -> None:
        """Lay the board out."""
        board = self.board
        if board is None:
            return
        house = self.session.shown.house
        edit = laid_out(house, next(one for one in house.whole.assemblies if one.tag == board.tag))
        if edit is None:
            self.told.setText(tr("The plate is too small for its units, their gaps and ducts; or none is stated."))
        else:
            self.told.setText(self.session.apply(edit) or self.told.text())

    def state_holes(self) -> None:
        """State the holes of the selected unit's type as they are taken now; the sheet of the job has them then."""
        unit = self.drawing.unit
        if unit is None:
            self.told.setText(tr("Select a unit on the board first."))
            return
        first, last = unit.holes[0], unit.holes[-1]
        mount = Mount(
            type=unit.name, wide_mm=last.x_mm - first.x_mm, high_mm=last.y_mm - first.y_mm, hole_mm=first.hole_mm
        )
        said = self.session.apply(set_mount(mount))
        self.told.setText(said or tr("Stated; put them right on the sheet of the job, under “Holes of types”."))
