"""Texts on screen go through Qt's translation."""

from __future__ import annotations

from PySide6.QtCore import QCoreApplication


def tr(words: str) -> str:
    """Translated text of the desk."""
    return QCoreApplication.translate("desk", words)
