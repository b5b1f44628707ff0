"""Words on screen as they are: a customer's `<b>` or `&` is three letters or one, never markup."""

from __future__ import annotations

import html

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLabel, QWidget


class Label(QLabel):
    """A label that shows its text letter by letter."""

    def __init__(self, text: str = "", parent: QWidget | None = None) -> None:
        super().__init__(text, parent)
        self.setTextFormat(Qt.TextFormat.PlainText)


def tip(text: str) -> str:
    """A text for a tool tip or a question, which would read markup in it."""
    return f"<qt>{html.escape(text)}</qt>".replace("\n", "<br>") if "<" in text or "&" in text else text


def press_words(text: str) -> str:
    """A text for a press or a menu, which would take `&` for the mark of its key."""
    return text.replace("&", "&&")
