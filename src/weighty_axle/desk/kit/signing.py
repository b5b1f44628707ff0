"""The field for the initials that stand under what is ticked off."""

from __future__ import annotations

from PySide6.QtWidgets import QLineEdit

from weighty_axle.desk.text import tip, tr
from weighty_axle.desk.work.days import Signing


class InitialsEntry(QLineEdit):
    """Whoever ticks off; the same in every step."""

    def __init__(self) -> None:
        super().__init__(Signing.initials)
        self.setAccessibleName(tr("Initials"))
        self.setPlaceholderText(tr("Initials"))
        self.setToolTip(tip(tr("They stand with the day under everything that is ticked off")))
        self.setMaxLength(12)
        self.setFixedWidth(86)
        self.textChanged.connect(self._keep)

    def _keep(self, text: str) -> None:
        Signing.initials = text.strip()

    def put(self) -> None:
        """Show what another step has asked."""
        if self.text().strip() != Signing.initials:
            self.setText(Signing.initials)
