"""Findings of the step or of the whole job: one sentence each, with its remedy as one press."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget

from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.painting import RIGHT, painting, severity_mark, words
from weighty_axle.desk.kit.theme import look, scaled, severity_colours
from weighty_axle.desk.text import press_words, tip, tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import Edit
from weighty_axle.rules.registry import Finding
from weighty_axle.units import System

MOST_CHOICES = 3
"""Remedies of one finding that are offered as presses."""
_WORDS = {"stop": "STOP", "check": "CHECK", "note": "NOTE"}


class _Card(QFrame):
    """One finding. Cards are kept and refilled, so that an edit does not rebuild widgets."""

    pressed = Signal(object)
    remedied = Signal(object)
    workings = Signal(object)

    def __init__(self) -> None:
        super().__init__()
        self._finding: Finding | None = None
        self._said: tuple[str, ...] = ()
        column = QVBoxLayout(self)
        column.setContentsMargins(10, 24, 8, 4)
        column.setSpacing(2)
        self._sentence = Label()
        self._sentence.setWordWrap(True)
        self._sentence.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        column.addWidget(self._sentence)
        self._advice = Label()
        self._advice.setWordWrap(True)
        self._advice.setFont(scaled(8.5))
        self._advice.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        column.addWidget(self._advice)
        row = QHBoxLayout()
        row.setContentsMargins(0, 0, 0, 0)
        self._remedies = [QPushButton() for _ in range(MOST_CHOICES)]
        self._workings = QPushButton(tr("Workings"))
        self._workings.clicked.connect(self._on_workings)
        for at, press in enumerate(self._remedies):
            press.setFont(scaled(9, bold=True))
            press.setObjectName("plain")
            press.clicked.connect(partial(self._on_remedy, at))
            column.addWidget(press)
        row.addStretch(1)
        row.addWidget(self._workings)
        column.addLayout(row)

    @property
    def finding(self) -> Finding:
        """The finding shown."""
        assert self._finding is not None
        return self._finding

    def show_finding(self, finding: Finding, said: tuple[str, ...]) -> None:
        """Fill the card; `said` are its id, its sentence and the words of its remedies."""
        same = said == self._said
        self._finding, self._said = finding, said
        if same:
            return
        sentence = said[1]
        self._sentence.setText(sentence)
        if self._advice.text() != finding.rule.advice:
            self._advice.setText(finding.rule.advice)
        _see(self._advice, bool(finding.rule.advice))
        self.setAccessibleName(f"{_WORDS[finding.rule.severity]} {sentence}")
        remedies = finding.remedies
        for at, press in enumerate(self._remedies):
            _see(press, at < len(remedies))
            if at < len(remedies):
                label = remedies[at].label
                press.setText(press_words(press.fontMetrics().elidedText(label, Qt.TextElideMode.ElideRight, 222)))
                press.setToolTip(tip(label))
                press.setAccessibleName(label)
        self.update()

    def _on_remedy(self, at: int) -> None:
        self.remedied.emit(self.finding.remedies[at])

    def _on_workings(self) -> None:
        self.workings.emit(self._finding)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        super().mousePressEvent(event)
        self.pressed.emit(self._finding)

    def paintEvent(self, _event: QPaintEvent) -> None:
        if self._finding is None:
            return
        severity = self._finding.rule.severity
        colour, ground = severity_colours(severity)
        with painting(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(ground))
            painter.drawRoundedRect(QRectF(self.rect()), 5, 5)
            severity_mark(painter, QPointF(16, 14), severity)
            words(painter, QRectF(29, 5, 60, 18), _WORDS[severity], size=8.5, bold=True, colour=colour)
            tags = self._finding.tags
            text = " ".join(tags[:2]) + (f" +{len(tags) - 2}" if len(tags) > 2 else "")
            words(painter, QRectF(90, 5, self.width() - 100, 18), text, size=8, colour=look().muted, align=RIGHT)


def _see(part: QWidget, wanted: bool) -> None:
    """Show or hide; what already is so is left alone, since asking again costs a layout."""
    if part.isHidden() == wanted:
        part.setVisible(wanted)


_MOST_CARDS = 100
"""Cards on show: nobody reads thousands, and laying them out would hold the window."""


class FindingsPanel(QWidget):
    """Right edge of the window."""

    workings = Signal(object)
    sheet = Signal()

    def __init__(self, session: Session, system: System, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self.system, self._step, self._all = session, system, "brief", False
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 8, 8, 4)
        head = QHBoxLayout()
        title = Label(tr("Findings"))
        title.setFont(scaled(12.5, bold=True))
        self._which = QPushButton()
        self._which.setCheckable(True)
        self._which.toggled.connect(self._on_which)
        head.addWidget(title)
        head.addStretch(1)
        sheet = QPushButton(tr("Sheet"))
        sheet.setToolTip(tip(tr("Everything that can be stated of what is selected (F2)")))
        sheet.clicked.connect(lambda: self.sheet.emit())
        head.addWidget(sheet)
        head.addWidget(self._which)
        column.addLayout(head)
        self._said = Label()
        self._said.setWordWrap(True)
        column.addWidget(self._said)
        self._holder = QWidget()
        self._cards_column = QVBoxLayout(self._holder)
        self._cards_column.setContentsMargins(0, 0, 6, 0)
        self._cards_column.setSpacing(7)
        self._more = Label()
        self._more.setObjectName("muted")
        self._cards_column.addWidget(self._more)
        self._cards_column.addStretch(1)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setWidget(self._holder)
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        column.addWidget(area, 1)
        self._cards: list[_Card] = []
        self._told: list[tuple[str, ...]] = []
        session.changed.connect(self.show_shown)

    def show_step(self, step: str) -> None:
        """Show a step's findings."""
        self._step = step
        self.show_shown(self._session.shown)

    def _on_which(self, everything: bool) -> None:
        self._all = everything
        self.show_shown(self._session.shown)

    def cards(self) -> list[_Card]:
        """Cards on show, worst first."""
        return [card for card in self._cards if not card.isHidden()]

    def show_shown(self, shown: Shown) -> None:
        """Fill cards with the findings that belong here."""
        found = [one for one in shown.findings if self._all or one.rule.step == self._step]
        left = len(found) - _MOST_CARDS
        self._more.setText(tr("{n} more, none worse than these.").format(n=left))
        _see(self._more, left > 0)
        del found[_MOST_CARDS:]
        said = [(one.id, one.sentence(self.system), *(edit.label for edit in one.remedies)) for one in found]
        while len(self._cards) < len(found):
            self._cards.append(self._new_card())
        # Laying cards out takes longer than all else of an edit: only when their words are others, and then once.
        fresh = said != self._told
        self._told = said
        if fresh:
            self._cards_column.setEnabled(False)
        for index, card in enumerate(self._cards):
            if index < len(found):
                card.show_finding(found[index], said[index])
            _see(card, index < len(found))
        if fresh:
            self._cards_column.setEnabled(True)
            self._cards_column.invalidate()
        total = len(shown.findings)
        self._which.setText(tr("this step only") if self._all else tr("all {n}").format(n=total))
        self._said.setVisible(not found)
        self._said.setText(
            tr("Nothing to say.")
            if self._all or not total
            else tr("Nothing to say on this step; {n} on others.").format(n=total)
        )

    def _new_card(self) -> _Card:
        card = _Card()
        card.pressed.connect(self._on_pressed)
        card.remedied.connect(self._on_remedied)
        card.workings.connect(self.workings)
        self._cards_column.insertWidget(len(self._cards), card)
        return card

    def _on_pressed(self, finding: Finding) -> None:
        self._session.select(*finding.tags)

    def _on_remedied(self, remedy: Edit) -> None:
        refused = self._session.apply(remedy)
        if refused:
            self._said.setText(refused)
            self._said.show()
