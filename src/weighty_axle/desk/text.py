"""Texts on screen: they go through Qt's translation, and are shown as they are, never as markup."""

from __future__ import annotations

from PySide6.QtCore import QCoreApplication


def tip(text: str) -> str:
    """A text for a tool tip or a question, which would read markup in it."""
    if "<" not in text and "&" not in text:
        return text
    # Three letters need no module: importing one costs more than all tips of a day.
    plain = text.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")
    return f"<qt>{plain}</qt>".replace("\n", "<br>")


def press_words(text: str) -> str:
    """A text for a press or a menu, which would take `&` for the mark of its key."""
    return text.replace("&", "&&")


def tr(words: str) -> str:
    """Translated text of the desk."""
    return QCoreApplication.translate("desk", words)
