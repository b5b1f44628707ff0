"""Figures as presses that open their workings."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QFontMetricsF, QPaintEvent, QPen, QResizeEvent
from PySide6.QtWidgets import QAbstractButton, QFrame, QHBoxLayout, QSizePolicy

from weighty_axle.design.figures import Figure
from weighty_axle.desk.kit.painting import painting, words
from weighty_axle.desk.kit.theme import look, scaled
from weighty_axle.desk.text import tip, tr
from weighty_axle.units import System, show

if TYPE_CHECKING:
    pass


NAME_POINTS = 7.5


_ONE_LINE_PX, _TWO_LINES_PX = 36, 48


class FigureButton(QAbstractButton):
    """One figure: its name small, on two lines where it is long, its value large; pressing opens the workings."""

    def __init__(self, system: System) -> None:
        super().__init__()
        self._system = system
        self.figure: Figure | None = None
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def put(self, figure: Figure) -> None:
        """Show a figure."""
        self.figure = figure
        said = f"{figure.name} {show(figure.value, figure.unit, self._system)}"
        if said != self.accessibleName():
            self.setAccessibleName(said)
            self.setToolTip(tip(f"{said}: {tr('open the workings')}"))
            self.update()

    def sizeHint(self) -> QSize:
        return QSize(120, _ONE_LINE_PX)

    def paintEvent(self, _event: QPaintEvent) -> None:
        if self.figure is None:
            return
        now = look()
        with painting(self) as painter:
            if self.underMouse():
                painter.fillRect(self.rect(), QColor(now.live_soft))
            name = QRectF(6, 0, self.width() - 8, self.height() - 20)
            words(
                painter,
                name,
                self.figure.name,
                size=NAME_POINTS,
                colour=now.muted,
                align=Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignBottom,
                wrap=True,
            )
            words(
                painter,
                QRectF(6, self.height() - 20, self.width() - 8, 19),
                show(self.figure.value, self.figure.unit, self._system),
                size=10.5,
                bold=True,
                colour=now.live,
            )
            if self.hasFocus():
                painter.setPen(QPen(QColor(now.live), 1.2, Qt.PenStyle.DotLine))
                painter.drawRect(self.rect().adjusted(1, 1, -1, -1))


class FigureRow(QFrame):
    """A row of figures; each is a press that opens its workings."""

    opened = Signal(object)

    def __init__(self, system: System) -> None:
        super().__init__()
        self._system = system
        self.row = QHBoxLayout(self)
        self.row.setContentsMargins(0, 0, 0, 0)
        self.row.setSpacing(4)
        self._buttons: list[FigureButton] = []

    def put(self, figures: tuple[Figure, ...]) -> None:
        """Show these figures."""
        while len(self._buttons) < len(figures):
            press = FigureButton(self._system)
            press.clicked.connect(self._on_clicked)
            self.row.insertWidget(len(self._buttons), press, 1)
            self._buttons.append(press)
        for index, press in enumerate(self._buttons):
            press.setVisible(index < len(figures))
            if index < len(figures):
                press.put(figures[index])

        self._give_room()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._give_room()

        if self.row.geometry() != self.rect():  # another height within the resize: the layout has not heard of it
            self.row.setGeometry(self.rect())

    def _give_room(self) -> None:
        """Two lines for the names where one of them is too long for one."""
        seen = [press for press in self._buttons if not press.isHidden() and press.figure is not None]
        room_px = (self.width() - self.row.spacing() * (len(seen) - 1)) / max(1, len(seen)) - 8
        metrics = QFontMetricsF(scaled(NAME_POINTS))
        long = any(
            press.figure is not None and metrics.horizontalAdvance(press.figure.name) > room_px for press in seen
        )
        self.setFixedHeight((_TWO_LINES_PX if long else _ONE_LINE_PX) if seen else 0)

    def _on_clicked(self) -> None:
        self.opened.emit(next(press.figure for press in self._buttons if press is self.sender()))
