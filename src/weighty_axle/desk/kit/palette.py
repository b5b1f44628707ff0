"""Find or do: every command, step, item, finding and figure by typing a few letters."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QEvent, QObject, QStringListModel, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QFrame, QLineEdit, QListView, QVBoxLayout, QWidget

from weighty_axle.desk.text import tr
from weighty_axle.desk.work.commands import Command, matches


class CommandPalette(QFrame):
    """A list that opens over the window; typing narrows it, Return does, Escape leaves."""

    def __init__(self, window: QWidget, commands: Callable[[], list[Command]], asks: str = "Find or do") -> None:
        super().__init__(window)
        self._window = window
        self._commands, self._all, self._shown = commands, list[Command](), list[Command]()
        self.setAutoFillBackground(True)
        self.setFrameShape(QFrame.Shape.Box)
        column = QVBoxLayout(self)
        column.setContentsMargins(6, 6, 6, 6)
        self._entry = QLineEdit()
        self._entry.setPlaceholderText(f"{tr(asks)}…")
        self._entry.setAccessibleName(tr(asks))
        self._entry.textChanged.connect(self._narrow)
        self._entry.installEventFilter(self)
        self._list = QListView()
        self._list.setAccessibleName(tr("Matches"))
        self._list.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._list.setUniformItemSizes(True)
        self._model = QStringListModel(self)
        self._list.setModel(self._model)
        self._list.clicked.connect(self._do)
        column.addWidget(self._entry)
        column.addWidget(self._list)
        self.hide()

    def open(self, typed: str = "") -> None:
        """Open over the middle of the window."""
        width = min(640, self._window.width() - 40)
        self.setGeometry((self._window.width() - width) // 2, 44, width, min(430, self._window.height() - 90))
        self._all = self._commands()
        self._entry.setText(typed)
        self._narrow()
        self.show()
        self.raise_()
        self._entry.setFocus()

    def _narrow(self) -> None:
        self._shown = matches(self._entry.text(), self._all)[:200]
        self._model.setStringList([f"{one.words}    {one.key}".rstrip() for one in self._shown])
        if self._shown:
            self._list.setCurrentIndex(self._model.index(0))

    def _do(self) -> None:
        row = self._list.currentIndex().row()
        self.hide()
        self._window.setFocus()
        if 0 <= row < len(self._shown):
            self._shown[row].do()

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.FocusOut and not self.isAncestorOf(self.window().focusWidget() or self.window()):
            self.hide()
        if event.type() != QEvent.Type.KeyPress or not isinstance(event, QKeyEvent):
            return super().eventFilter(watched, event)
        row = self._list.currentIndex().row()
        if event.key() == Qt.Key.Key_Escape:
            self.hide()
            self._window.setFocus()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._do()
        elif event.key() == Qt.Key.Key_Down:
            self._list.setCurrentIndex(self._model.index(min(row + 1, len(self._shown) - 1)))
        elif event.key() == Qt.Key.Key_Up:
            self._list.setCurrentIndex(self._model.index(max(row - 1, 0)))
        else:
            return super().eventFilter(watched, event)
        return True
