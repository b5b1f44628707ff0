"""Words on screen as they are: a customer's `<b>` or `&` is three letters or one, never markup."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLabel, QWidget


class Label(QLabel):
    """A label that shows its text letter by letter."""

    def __init__(self, text: str = "", parent: QWidget | None = None) -> None:
        super().__init__(text, parent)
        self.setTextFormat(Qt.TextFormat.PlainText)
