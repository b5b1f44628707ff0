"""What every step's view has: a title with its purpose, leaves that are made when first turned to, figures that can be
opened.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from importlib import import_module
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QObject, Qt, QTimer, Signal
from PySide6.QtGui import QKeySequence, QShortcut, QShowEvent
from PySide6.QtWidgets import (
    QAbstractButton,
    QButtonGroup,
    QHBoxLayout,
    QPushButton,
    QScrollArea,
    QSizePolicy,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.painting import Canvas, alike
from weighty_axle.desk.kit.theme import scaled
from weighty_axle.desk.text import tip, tr
from weighty_axle.desk.work.background import Background, Task
from weighty_axle.desk.work.commands import Command
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.steps import Step
from weighty_axle.units import System

if TYPE_CHECKING:
    from PySide6.QtWidgets import QTableView

    from weighty_axle.desk.kit.records import Records
from weighty_axle.desk.kit.figures import FigureRow

MOST_WITH_PURPOSE = 8
"""Leaves beyond which there is no room for the step's purpose beside them."""


FEW_LEAVES = 6
"""Leaves up to which their presses have room to breathe in the smallest window."""


class TwoLines(Label):
    """Room for two lines of a sentence that does not depend on the words, so that nothing jumps or scrolls."""

    def __init__(self, *, bold: bool = False) -> None:
        super().__init__()
        self.setWordWrap(True)
        if bold:
            self.setFont(scaled(11, bold=True))
        self.setFixedHeight(2 * self.fontMetrics().lineSpacing() + 4)

    def hasHeightForWidth(self) -> bool:
        return False


class Leaf(QWidget):
    """A page of a step: what the step is worked with.

    `column` is filled by the subclass, which also shows a design when told.

    `opened` carries a figure whose workings are asked for; `wants` names work with files that the window does, `works`
    is long work for the background.
    """

    opened = Signal(object)
    wants = Signal(str)
    works = Signal(object)

    def __init__(self, session: Session, system: System) -> None:
        super().__init__()
        self.session, self.system = session, system
        self._task: Task | None = None
        self._rest: QTimer | None = None
        self._background: Background | None = None
        self._asked: (
            tuple[tuple[object, ...], Callable[[Callable[[float, str], None]], Any], Callable[[Any], None]] | None
        ) = None
        self._answered: tuple[object, ...] = ()
        self._answering = False
        self.presses: dict[str, QPushButton] = {}
        self.in_head: list[QPushButton] = []
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.column.setSpacing(6)

    def show_shown(self, shown: Shown) -> None:
        """Show a design."""
        raise NotImplementedError

    def row_of(self, *parts: QWidget | tuple[str, Callable[[], object]]) -> None:
        """A row of widgets, and of presses by their words and what they do; `presses` finds those again."""
        row = QHBoxLayout()
        for part in parts:
            if isinstance(part, QWidget):
                row.addWidget(part)
                continue
            text, do = part
            press = self.presses[text] = QPushButton(tr(text))
            press.clicked.connect(do)
            row.addWidget(press)
        row.addStretch(1)
        self.column.addLayout(row)

    def scrolled(self, widget: QWidget) -> QScrollArea:
        """The rest of the column for a widget that may be larger, without a frame."""
        room = QScrollArea()
        room.setWidgetResizable(True)
        room.setWidget(widget)
        room.setFrameShape(QScrollArea.Shape.NoFrame)
        self.column.addWidget(room, 1)
        return room

    def press_in_head(self, text: str, do: Callable[[], None]) -> QPushButton:
        """A press that stands in the head of the step while this leaf is on show."""
        press = QPushButton(tr(text))
        press.clicked.connect(do)
        self.in_head.append(press)
        return press

    def figure_row(self) -> FigureRow:
        """A row of figures at the bottom so far, whose presses open workings."""
        row = FigureRow(self.system)
        self.column.addWidget(row)
        self.listen(row)
        return row

    def follow(self, table: QTableView, model: Records, tag_of: Callable[[Any], str]) -> None:
        """Turn the table to the record that is selected elsewhere: by a finding, on the strip, in another
        instrument.
        """

        self.session.selected.connect(_Follower(table, model, tag_of).turn)

    def listen(self, *parts: Canvas | FigureRow) -> None:
        """Pass on the figures that parts ask to open."""
        for part in parts:
            part.opened.connect(self.opened)

    def work(
        self,
        title: str,
        do: Callable[[Callable[[float, str], None]], Any],
        ended: Callable[[Any], None],
        said: Callable[[str], None],
    ) -> None:
        """Long work in the background; one piece at a time. `said` tells when it failed or was cancelled."""
        if self._task is not None:
            return

        def over(then: Callable[[Any], None], result: Any) -> None:
            self._task = None
            then(result)

        self._task = Task(title, do, self)
        self._task.finished.connect(partial(over, ended))
        self._task.failed.connect(partial(over, lambda why: said(why or tr("Cancelled."))))
        self.works.emit(self._task)

    def quietly(
        self, key: tuple[object, ...], do: Callable[[Callable[[float, str], None]], Any], ended: Callable[[Any], None]
    ) -> None:
        """An answer that costs under a second, worked out in the background a moment after the last change and without
        a notice.

        `key` is what it depends on: what is known already is not worked out again, what the job has outgrown meanwhile
        is dropped.
        """
        self._asked = (key, do, ended)
        if self._rest is None:
            self._rest = QTimer(self)
            self._rest.setSingleShot(True)
            self._rest.setInterval(250)
            self._rest.timeout.connect(self._answer)
            self._background = Background(self)
        self._rest.start()

    @property
    def settled(self) -> bool:
        """Whether what was asked quietly is answered."""
        return self._asked is None or alike(self._asked[0], self._answered)

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        if self._rest is not None:
            self._rest.start()  # what was asked while it was out of sight

    def _answer(self) -> None:
        if self._asked is None or self.settled or self._answering or not self.isVisible():
            return
        key, do, ended = self._asked
        self._answering = True

        def over(result: Any) -> None:
            self._answering = False
            if self._asked is not None and alike(self._asked[0], key):
                self._answered = key
                ended(result)
            elif self._rest is not None:
                self._rest.start()

        task = Task("", do, self)
        task.finished.connect(over)
        task.failed.connect(partial(_failed, over))
        assert self._background is not None
        self._background.start(task)

    def commands(self) -> list[Command]:
        """What find-or-do offers while this leaf is on show."""
        return []


class _Follower(QObject):
    """Turns a table to what is selected elsewhere; it goes with its table, and so does its connection."""

    def __init__(self, table: QTableView, model: Records, tag_of: Callable[[Any], str]) -> None:
        super().__init__(table)
        self._table, self._model, self._tag_of = table, model, tag_of

    def turn(self, tags: tuple[str, ...]) -> None:
        """Turn to the first record of these tags."""
        model = self._model
        at = next((row for row in range(model.rowCount()) if self._tag_of(model.record(row)) in tags), None)
        if at is not None and at != self._table.currentIndex().row():
            self._table.selectRow(at)


def _failed(over: Callable[[Any], None], _why: str) -> None:
    over(None)


class StepView(QWidget):
    """A step: its title and purpose over its leaves, each made when it is first turned to.

    Only the leaf on show is refreshed.

    A subclass names its leaves: words for the press, and module and class under the step's folder. One leaf alone has
    no press.
    """

    leaf_classes: tuple[tuple[str, str], ...]
    opened = Signal(object)
    wants = Signal(str)
    works = Signal(object)

    def __init__(self, step: Step, session: Session, system: System) -> None:
        super().__init__()
        self.step, self.session, self.system = step, session, system
        self._stale = False
        self.leaves: dict[str, Leaf] = {}
        self._classes = dict(self.leaf_classes)
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(16, 8, 14, 8)
        self.column.setSpacing(6)
        self.head = QHBoxLayout()
        self.head.setSpacing(6)
        name = Label(tr(step.title))
        name.setFont(scaled(14, bold=True))
        why = Label(tr(step.purpose))
        why.setObjectName("muted")
        if len(self.leaf_names) > MOST_WITH_PURPOSE:
            name.setToolTip(tip(tr(step.purpose)))
            why.setText("")
        self.head.addWidget(name)
        self.head.addSpacing(12)
        # In a narrow window the purpose gives way first.
        why.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self.head.addWidget(why, 1)
        self.column.addLayout(self.head)
        self._stack = QStackedWidget()
        self._presses = QButtonGroup(self)
        # More leaves than one row holds in the smallest window stand in two.
        second = QHBoxLayout()
        in_first = len(self.leaf_names) if len(self.leaf_names) <= MOST_WITH_PURPOSE else len(self.leaf_names) // 2
        for number, leaf in enumerate(self.leaf_names) if len(self.leaf_names) > 1 else ():
            press = QPushButton(tr(leaf))
            press.setCheckable(True)
            press.setProperty("leaf", leaf)
            if len(self.leaf_names) > FEW_LEAVES:
                press.setObjectName("narrow")
            self._presses.addButton(press)
            (self.head if number < in_first else second).addWidget(press)
        if in_first < len(self.leaf_names):
            second.insertStretch(0, 1)
            self.column.addLayout(second)
        self._presses.buttonClicked.connect(self._on_press)
        self.column.addWidget(self._stack, 1)
        self.leaf_name = ""
        self.turn_to(self.leaf_names[0])
        for keys, by in (("Ctrl+PgDown", 1), ("Ctrl+PgUp", -1)):
            QShortcut(
                QKeySequence(keys),
                self,
                partial(self._turn_by, by),
                context=Qt.ShortcutContext.WidgetWithChildrenShortcut,
            )
        session.changed.connect(self._on_changed)

    def _on_changed(self, shown: Shown) -> None:
        if self.isVisible():
            self.show_shown(shown)
        else:
            self._stale = True

    def come_up(self) -> None:
        """Called when the step comes on show."""
        if self._stale:
            self.show_shown(self.session.shown)
            self._stale = False

    @property
    def leaf_names(self) -> tuple[str, ...]:
        """The leaves in the order they stand in."""
        return tuple(self._classes)

    @property
    def leaf(self) -> Leaf:
        """The leaf on show."""
        return self.leaves[self.leaf_name]

    def turn_to(self, name: str) -> None:
        """Bring a leaf on show."""
        if name == self.leaf_name:
            return
        if name not in self.leaves:
            self._make(name)
        self.leaf_name = name
        self._stack.setCurrentWidget(self.leaf)
        for press in self._presses.buttons():
            press.setChecked(press.property("leaf") == name)
        for made in self.leaves.values():
            for press in made.in_head:
                press.setVisible(made is self.leaf)
        self.leaf.show_shown(self.session.shown)

    def _make(self, name: str) -> None:
        """Make a leaf, imported only now: the first screen pays only for itself."""
        module, _, of_class = self._classes[name].rpartition(".")
        maker: Callable[[Session, System], Leaf] = getattr(
            import_module(f"weighty_axle.desk.steps.{self.step.key}.{module}"), of_class
        )
        made = self.leaves[name] = maker(self.session, self.system)
        made.opened.connect(self.opened)
        made.wants.connect(self.wants)
        made.works.connect(self.works)
        for press in made.in_head:
            self.head.addWidget(press)
        self._stack.addWidget(made)

    def _on_press(self, press: QAbstractButton) -> None:
        self.turn_to(str(press.property("leaf")))

    def _turn_by(self, by: int) -> None:
        names = self.leaf_names
        self.turn_to(names[(names.index(self.leaf_name) + by) % len(names)])

    def show_shown(self, shown: Shown) -> None:
        """Show a design on the leaf that is turned to."""
        self.leaf.show_shown(shown)

    def commands(self) -> list[Command]:
        """What find-or-do offers while this step is on show."""
        names = self.leaf_names if len(self.leaf_names) > 1 else ()
        turning = [
            Command(tr("Turn to {leaf}").format(leaf=tr(name)), "", partial(self.turn_to, name)) for name in names
        ]
        return turning + self.leaf.commands()
