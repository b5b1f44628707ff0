"""The cautions shown until they were read."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QGridLayout, QPushButton, QWidget

from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.theme import look, scaled
from weighty_axle.desk.text import tr

SAFETY = (
    "Weighty Axle helps a competent person. It does not approve an installation: local electrical codes, vehicle "
    "rules, makers' manuals and "
    "licensed trades outrank it.",
    (
        "Bank terminals cannot be switched off. Arrays are live in light. 120, 230 and 240 V AC kill. Mind gas lines, "
        "lifting and work at height."
    ),
    "Table values marked ‘recalled’ are written from memory: check them against your own copy.",
)


class SafetyNote(QWidget):
    """The cautions, with one press to say they were read. Not in the way of anything."""

    read = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setStyleSheet(f"SafetyNote {{ background: {look().check_soft}; }}")
        grid = QGridLayout(self)
        grid.setContentsMargins(16, 8, 16, 8)
        title = Label(tr("Before you rely on a number"))
        title.setFont(scaled(10.5, bold=True))
        grid.addWidget(title, 0, 0)
        text = Label(" ".join(tr(line) for line in SAFETY))
        text.setWordWrap(True)
        grid.addWidget(text, 1, 0)
        press = QPushButton(tr("I have read this"))
        press.setObjectName("firm")
        press.clicked.connect(self.read)
        grid.addWidget(press, 0, 1, 2, 1)
        grid.setColumnStretch(0, 1)
