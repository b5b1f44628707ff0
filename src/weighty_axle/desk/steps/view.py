"""What every step's view has: a title with its purpose, a place for the instrument, and figures that can be opened."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QFrame, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from weighty_axle.design.figures import Figure
from weighty_axle.desk.session import Session, Shown
from weighty_axle.desk.text import tr
from weighty_axle.desk.theme import look, scaled
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
        why.setStyleSheet(f"color: {look().muted}")
        self.head.addWidget(name)
        self.head.addSpacing(12)
        self.head.addWidget(why)
        self.head.addStretch(1)
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

    def button(self, words: str, do: Callable[[], None]) -> QPushButton:
        """A press in the head of the step."""
        press = QPushButton(tr(words))
        press.clicked.connect(do)
        self.head.addWidget(press)
        return press


class FigureRow(QFrame):
    """A row of figures; each is a press that opens its workings."""

    opened = Signal(object)

    def __init__(self, system: System) -> None:
        super().__init__()
        self._system = system
        self._row = QHBoxLayout(self)
        self._row.setContentsMargins(0, 0, 0, 0)
        self._row.setSpacing(4)
        self._row.addStretch(1)
        self._buttons: list[QPushButton] = []
        self._figures: tuple[Figure, ...] = ()

    def put(self, figures: tuple[Figure, ...]) -> None:
        """Show these figures."""
        self._figures = figures
        while len(self._buttons) < len(figures):
            press = QPushButton()
            press.setStyleSheet("text-align: left; padding: 2px 6px;")
            press.clicked.connect(self._on_clicked)
            self._row.insertWidget(len(self._buttons), press)
            self._buttons.append(press)
        for index, press in enumerate(self._buttons):
            press.setVisible(index < len(figures))
            if index < len(figures):
                press.setText(f"{figures[index].name}  {show(figures[index].value, figures[index].unit, self._system)}")
                press.setToolTip(tr("Open the workings"))

    def _on_clicked(self) -> None:
        self.opened.emit(self._figures[next(i for i, press in enumerate(self._buttons) if press is self.sender())])
