"""The steps in the order of the work, in groups; each says how it stands in words."""

from __future__ import annotations

from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QPaintEvent, QPen
from PySide6.QtWidgets import QAbstractButton, QButtonGroup, QComboBox, QVBoxLayout, QWidget

from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.painting import LEFT, RIGHT, painting, words
from weighty_axle.desk.kit.theme import look, scaled
from weighty_axle.desk.text import tip, tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.systems import systems
from weighty_axle.rules.registry import Severity
from weighty_axle.steps import STEPS, shortcut


class _StepButton(QAbstractButton):
    """One step: title, and the count of its worst findings."""

    def __init__(self, key: str, title: str) -> None:
        super().__init__()
        self.setText(title)
        self.setCheckable(True)
        self.setFixedHeight(26)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setToolTip(tip(tr("{title} (key {key})").format(title=title, key=key)))
        self._state: tuple[str, Severity] = ("", "note")

    def set_state(self, text: str, severity: Severity) -> None:
        if (text, severity) == self._state:
            return
        self._state = (text, severity)
        self.setAccessibleName(f"{self.text()} {text}".strip())
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(150, 26)

    def paintEvent(self, _event: QPaintEvent) -> None:
        now = look()
        with painting(self) as painter:
            if self.isChecked():
                painter.fillRect(self.rect(), QColor(now.panel))
                painter.fillRect(QRectF(6, 1, 4, self.height() - 2), QColor(now.live))
            words(painter, QRectF(20, 0, 80, self.height()), self.text(), size=9.5, bold=self.isChecked(), align=LEFT)
            text, severity = self._state
            colour = {"stop": now.stop, "check": now.check, "note": now.muted}[severity]
            words(painter, QRectF(84, 0, self.width() - 92, self.height()), text, size=7.5, colour=colour, align=RIGHT)
            if self.hasFocus():
                painter.setPen(QPen(QColor(now.live), 1.5, Qt.PenStyle.DotLine))
                painter.drawRect(QRectF(self.rect()).adjusted(1, 1, -1, -1))


class Rail(QWidget):
    """Left edge of the window."""

    chosen = Signal(str)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFixedWidth(150)
        self.setAutoFillBackground(True)
        self._buttons: dict[str, _StepButton] = {}
        group = QButtonGroup(self)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 6, 0, 6)
        column.setSpacing(0)
        self.system = QComboBox()
        self.system.setAccessibleName(tr("System on show"))
        self.system.setToolTip(tip(tr("Which bank and inverters the steps show")))
        self.system.activated.connect(lambda index: session.show_system(self.system.itemData(index)))
        column.addWidget(self.system)
        heading = ""
        for at, step in enumerate(STEPS):
            if step.group != heading:
                heading = step.group
                label = Label(tr(heading).upper())
                label.setContentsMargins(14, 9, 0, 3)
                label.setFont(scaled(7.5))
                label.setObjectName("muted")
                column.addWidget(label)
            button = self._buttons[step.key] = _StepButton(shortcut(at), tr(step.title))
            button.clicked.connect(self._on_clicked)
            group.addButton(button)
            column.addWidget(button)
        column.addStretch(1)
        session.changed.connect(self.show_shown)
        self.show_shown(session.shown)

    def show_shown(self, shown: Shown) -> None:
        """Count the findings of every step; with several systems, name the one on show."""
        named = [(one.name, one.key) for one in (systems(shown.whole) if shown.house.others else ())]
        if named != [(self.system.itemText(at), self.system.itemData(at)) for at in range(self.system.count())]:
            self.system.clear()
            for name, key in named:
                self.system.addItem(name, key)
        self.system.setCurrentIndex(self.system.findData(shown.design.system.key))
        self.system.setVisible(bool(named))
        for step, button in self._buttons.items():
            own = [finding.rule.severity for finding in shown.findings if finding.rule.step == step]
            stops, checks = own.count("stop"), own.count("check")
            if stops:
                button.set_state(tr("{n} stop").format(n=stops), "stop")
            elif checks:
                button.set_state(tr("{n} check").format(n=checks), "check")
            else:
                button.set_state("", "note")

    def _on_clicked(self) -> None:
        self.chosen.emit(next(step for step, button in self._buttons.items() if button is self.sender()))

    def choose(self, step: str) -> None:
        """Show a step as the current one."""
        self._buttons[step].setChecked(True)

    def paintEvent(self, _event: QPaintEvent) -> None:
        with painting(self) as painter:
            painter.fillRect(self.rect(), QColor(look().rail))
