"""What every step's view has: a title with its purpose, a place for the instrument, and figures that can be opened."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QAbstractButton, QFrame, QHBoxLayout, QLabel, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from weighty_axle.design.figures import Figure
from weighty_axle.desk.session import Session, Shown
from weighty_axle.desk.text import tr
from weighty_axle.desk.theme import look, scaled
from weighty_axle.desk.widgets.painting import words
from weighty_axle.units import System, show


class StepView(QWidget):
    """Base of all step views. Only the view on show is refreshed; the others catch up when they come up."""

    opened = Signal(object)

    def __init__(self, session: Session, system: System, title: str, purpose: str) -> None:
        super().__init__()
        self.session, self.system = session, system
        self._stale = True
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(16, 8, 14, 8)
        self.column.setSpacing(6)
        self.head = QHBoxLayout()
        self.head.setSpacing(6)
        name = QLabel(tr(title))
        name.setFont(scaled(14, bold=True))
        why = QLabel(tr(purpose))
        why.setProperty("tone", "muted")
        self.head.addWidget(name)
        self.head.addSpacing(12)
        # In a narrow window the purpose gives way first.
        why.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self.head.addWidget(why, 1)
        self.column.addLayout(self.head)
        session.changed.connect(self._on_changed)

    def _on_changed(self, shown: Shown) -> None:
        if self.isVisible():
            self.show_shown(shown)
        else:
            self._stale = True

    def come_up(self) -> None:
        """Called when the step comes on show."""
        if self._stale:
            self.show_shown(self.session.shown)
            self._stale = False

    def show_shown(self, shown: Shown) -> None:
        """Show a design."""
        raise NotImplementedError

    def figure_row(self) -> FigureRow:
        """A row of figures at the bottom so far, whose presses open workings."""
        row = FigureRow(self.system)
        row.opened.connect(self.opened)
        self.column.addWidget(row)
        return row

    def button(self, words: str, do: Callable[[], None]) -> QPushButton:
        """A press in the head of the step."""
        press = QPushButton(tr(words))
        press.clicked.connect(do)
        self.head.addWidget(press)
        return press


class _FigureButton(QAbstractButton):
    """One figure: its name small, its value large; pressing opens the workings."""

    def __init__(self, system: System) -> None:
        super().__init__()
        self._system = system
        self.figure: Figure | None = None
        self.setFixedHeight(36)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def put(self, figure: Figure) -> None:
        """Show a figure."""
        self.figure = figure
        value = show(figure.value, figure.unit, self._system)
        self.setAccessibleName(f"{figure.name} {value}")
        self.setToolTip(f"{figure.name} {value}: {tr('open the workings')}")
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(120, 36)

    def paintEvent(self, _event: QPaintEvent) -> None:
        if self.figure is None:
            return
        now, painter = look(), QPainter(self)
        if self.underMouse():
            painter.fillRect(self.rect(), QColor(now.live_soft))
        words(painter, QRectF(6, 2, self.width() - 8, 14), self.figure.name, size=7.5, colour=now.muted)
        words(
            painter,
            QRectF(6, 15, self.width() - 8, 19),
            show(self.figure.value, self.figure.unit, self._system),
            size=10.5,
            bold=True,
            colour=now.live,
        )
        if self.hasFocus():
            painter.setPen(QPen(QColor(now.live), 1.2, Qt.PenStyle.DotLine))
            painter.drawRect(self.rect().adjusted(1, 1, -1, -1))
        painter.end()


class FigureRow(QFrame):
    """A row of figures; each is a press that opens its workings."""

    opened = Signal(object)

    def __init__(self, system: System) -> None:
        super().__init__()
        self._system = system
        self.row = QHBoxLayout(self)
        self.row.setContentsMargins(0, 0, 0, 0)
        self.row.setSpacing(4)
        self._buttons: list[_FigureButton] = []

    def put(self, figures: tuple[Figure, ...]) -> None:
        """Show these figures."""
        while len(self._buttons) < len(figures):
            press = _FigureButton(self._system)
            press.clicked.connect(self._on_clicked)
            self.row.insertWidget(len(self._buttons), press, 1)
            self._buttons.append(press)
        for index, press in enumerate(self._buttons):
            press.setVisible(index < len(figures))
            if index < len(figures):
                press.put(figures[index])

    def _on_clicked(self) -> None:
        self.opened.emit(next(press.figure for press in self._buttons if press is self.sender()))
