"""Questions about files, asked over a window."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import QWidget

from weighty_axle.desk.text import tip, tr
from weighty_axle.job.files.disk import is_there, shown


def agrees(parent: QWidget, question: str) -> bool:
    """Whether a question is answered with yes."""
    from PySide6.QtWidgets import QMessageBox

    buttons = QMessageBox.StandardButton
    return QMessageBox.question(parent, "Weighty Axle", tip(question), buttons.Yes | buttons.No) == buttons.Yes


def with_ending(parent: QWidget, name: str, *endings: str) -> Path | None:
    """The path of a typed name, with the first ending unless it has one of them; None when the user would not have it
    replaced.
    """
    path = Path(name)
    if path.suffix.lower() in endings:
        return path
    # The dialog asked about the name as typed, not about the one with its ending.
    path = path.with_name(path.name + endings[0])
    if not is_there(path) or agrees(parent, tr("{name} is there already. Replace it?").format(name=shown(path))):
        return path
    return None
