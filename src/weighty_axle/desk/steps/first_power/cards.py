"""Cards: starting up, shutting down, storage, waking, emergency; large enough for a dark bay, step by step."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QComboBox, QWidget

from weighty_axle.answers.first_power.cards import Card, cards
from weighty_axle.answers.first_power.checks import missing
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.theme import scaled
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.units import System


class OneStep(QWidget):
    """A place for the keys: Return or Right goes on, Left goes back."""

    def __init__(self, leaf: CardsLeaf) -> None:
        super().__init__()
        self._leaf = leaf
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Step of the card"))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = Qt.Key(event.key())
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Right, Qt.Key.Key_Space):
            self._leaf.go(1)
        elif key == Qt.Key.Key_Left:
            self._leaf.go(-1)
        else:
            super().keyPressEvent(event)


class CardsLeaf(Leaf):
    """Which card, what stands in its way, the step on show, presses as large as a thumb."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.which = QComboBox()
        self.which.setAccessibleName(tr("Card"))
        self.which.setMinimumWidth(200)
        self.which.currentIndexChanged.connect(self._on_card)
        self.row_of(self.which, ("Print the cards …", partial(self.wants.emit, "cards out")))
        self.blocked = Label()
        self.blocked.setObjectName("stop")
        self.blocked.setWordWrap(True)
        self.column.addWidget(self.blocked)
        self.at = self._open = 0
        self.step = OneStep(self)
        self.column.addWidget(self.step)
        self.count, self.tag, self.do, self.see, self.if_not = (Label() for _ in range(5))
        for label, size in ((self.count, 10), (self.tag, 20), (self.do, 20), (self.see, 14), (self.if_not, 12)):
            label.setFont(scaled(size, bold=size == 20))
            label.setWordWrap(True)
            self.column.addWidget(label)
        self.column.addStretch(1)
        self.row_of(("Back", partial(self.go, -1)), ("Done, next", partial(self.go, 1)))
        for press in self.presses.values():
            press.setMinimumHeight(36)
        self.presses["Done, next"].setObjectName("firm")
        for words in ("Back", "Done, next"):
            self.presses[words].setMinimumSize(150, 56)
        self._cards: tuple[Card, ...] = ()

    @property
    def card(self) -> Card | None:
        """The card on show."""
        at = self.which.currentIndex()
        return self._cards[at] if 0 <= at < len(self._cards) else None

    def show_shown(self, shown: Shown) -> None:
        self._cards = cards(shown.house, self.system)
        titles = [tr(one.title) for one in self._cards]
        if [self.which.itemText(at) for at in range(self.which.count())] != titles:
            self.which.blockSignals(True)
            self.which.clear()
            self.which.addItems(titles)
            self.which.blockSignals(False)
        self._open = len(missing(shown.house))
        self._show_step()

    def _on_card(self) -> None:
        self.at = 0
        self._show_step()

    def go(self, by: int) -> None:
        """The step after or before."""
        card = self.card
        if card is not None:
            self.at = max(0, min(len(card.steps) - 1, self.at + by))
            self._show_step()

    def _show_step(self) -> None:
        card = self.card
        if card is None or not card.steps:
            return
        self.at = min(self.at, len(card.steps) - 1)
        step = card.steps[self.at]
        starts = card.key.endswith("start")
        self.blocked.setText(
            tr("{count} checks before power are open or not right: do them first (Before power).").format(
                count=self._open
            )
            if starts and self._open
            else ""
        )
        self.blocked.setHidden(not self.blocked.text())
        self.count.setText(
            tr("Step {at} of {all}. Use: {when}.").format(at=self.at + 1, all=len(card.steps), when=card.when)
        )
        self.tag.setText(step.tag)
        self.do.setText(step.do[0].upper() + step.do[1:] + ".")
        self.see.setText(tr("You should see: {what}.").format(what=step.see) if step.see else "")
        self.if_not.setText(tr("If not: {what}.").format(what=step.if_not) if step.if_not else "")
        self.step.setAccessibleDescription(f"{step.tag} {step.do}. {step.see}")
        if step.tag:
            self.session.select(step.tag)
