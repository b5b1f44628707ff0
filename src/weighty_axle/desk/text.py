"""Texts on screen: they go through Qt's translation, and are shown as they are, never as markup."""

from __future__ import annotations

import html

from PySide6.QtCore import QCoreApplication


def tip(text: str) -> str:
    """A text for a tool tip or a question, which would read markup in it."""
    return f"<qt>{html.escape(text)}</qt>".replace("\n", "<br>") if "<" in text or "&" in text else text


def press_words(text: str) -> str:
    """A text for a press or a menu, which would take `&` for the mark of its key."""
    return text.replace("&", "&&")


def tr(words: str) -> str:
    """Translated text of the desk."""
    return QCoreApplication.translate("desk", words)
