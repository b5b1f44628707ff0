"""What every step's view has: a title with its purpose, a place for the instrument, and figures that can be opened."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from importlib import import_module
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QObject, QRectF, QSize, Qt, QTimer, Signal
from PySide6.QtGui import QColor, QFontMetricsF, QKeySequence, QPaintEvent, QPen, QResizeEvent, QShortcut, QShowEvent
from PySide6.QtWidgets import (
    QAbstractButton,
    QButtonGroup,
    QFrame,
    QHBoxLayout,
    QPushButton,
    QSizePolicy,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)  # fmt: skip

from weighty_axle.design.figures import Figure
from weighty_axle.desk.background import Background, Task
from weighty_axle.desk.commands import Command
from weighty_axle.desk.session import Session, Shown
from weighty_axle.desk.text import tr
from weighty_axle.desk.theme import look, scaled
from weighty_axle.desk.widgets.painting import Canvas, painting, words
from weighty_axle.desk.widgets.plain import Label, tip
from weighty_axle.units import System, show

if TYPE_CHECKING:
    from PySide6.QtWidgets import QTableView

    from weighty_axle.desk.widgets.records import Records


class StepView(QWidget):
    """Base of all step views. Only the view on show is refreshed; the others catch up when they come up.

    `opened` carries a figure whose workings are asked for; `wants` names work with files that the window does, `works` is long work for the background.
    """

    opened = Signal(object)
    wants = Signal(str)
    works = Signal(object)

    def __init__(self, session: Session, system: System, title: str, purpose: str) -> None:
        super().__init__()
        self.session, self.system = session, system
        self._stale = True
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(16, 8, 14, 8)
        self.column.setSpacing(6)
        self.head = QHBoxLayout()
        self.head.setSpacing(6)
        name = Label(tr(title))
        name.setFont(scaled(14, bold=True))
        why = Label(tr(purpose))
        why.setProperty("tone", "muted")
        self.head.addWidget(name)
        self.head.addSpacing(12)
        # In a narrow window the purpose gives way first.
        why.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self.head.addWidget(why, 1)
        self.column.addLayout(self.head)
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

    def show_shown(self, shown: Shown) -> None:
        """Show a design."""
        raise NotImplementedError

    def commands(self) -> list[Command]:
        """What find-or-do offers while this step is on show."""
        return []

    def figure_row(self) -> FigureRow:
        """A row of figures at the bottom so far, whose presses open workings."""
        row = FigureRow(self.system)
        row.opened.connect(self.opened)
        self.column.addWidget(row)
        return row

    def button(self, words: str, do: Callable[[], None]) -> QPushButton:
        """A press in the head of the step."""
        press = QPushButton(tr(words))
        press.clicked.connect(do)
        self.head.addWidget(press)
        return press


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
    """One page of a step that has several. `column` is filled by the subclass."""

    opened = Signal(object)
    wants = Signal(str)
    works = Signal(object)

    def __init__(self, session: Session, system: System) -> None:
        super().__init__()
        self.session, self.system = session, system
        self._task: Task | None = None
        self._rest: QTimer | None = None
        self._background: Background | None = None
        self._asked: tuple[tuple[object, ...], Callable[[Callable[[float, str], None]], Any], Callable[[Any], None]] | None = None
        self._answered: tuple[object, ...] = ()
        self._answering = False
        self.presses: dict[str, QPushButton] = {}
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

    def follow(self, table: QTableView, model: Records, tag_of: Callable[[Any], str]) -> None:
        """Turn the table to the record that is selected elsewhere: by a finding, on the strip, in another instrument."""

        self.session.selected.connect(_Follower(table, model, tag_of).turn)

    def listen(self, *parts: Canvas | FigureRow) -> None:
        """Pass on the figures that parts ask to open."""
        for part in parts:
            part.opened.connect(self.opened)

    def work(self, title: str, do: Callable[[Callable[[float, str], None]], Any], ended: Callable[[Any], None], said: Callable[[str], None]) -> None:
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

    def quietly(self, key: tuple[object, ...], do: Callable[[Callable[[float, str], None]], Any], ended: Callable[[Any], None]) -> None:
        """An answer that costs under a second, worked out in the background a moment after the last change and without a notice.

        `key` is what it depends on: what is known already is not worked out again, what the job has outgrown meanwhile is dropped.
        """
        self._asked = (key, do, ended)
        if self._rest is None:
            self._rest = QTimer(self)
            self._rest.setSingleShot(True)
            self._rest.setInterval(250)
            self._rest.timeout.connect(self._answer)
            self._background = Background(self)
        self._rest.start()

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        if self._rest is not None:
            self._rest.start()  # what was asked while it was out of sight

    def _answer(self) -> None:
        if self._asked is None or self._answering or not self.isVisible() or _alike(self._asked[0], self._answered):
            return
        key, do, ended = self._asked
        self._answering = True

        def over(result: Any) -> None:
            self._answering = False
            if self._asked is not None and _alike(self._asked[0], key):
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


def _alike(one: tuple[object, ...], other: tuple[object, ...]) -> bool:
    """Whether two keys name the very same things; designs are large and compared by identity."""
    return len(one) == len(other) and all(a is b or (isinstance(a, str | int | float) and a == b) for a, b in zip(one, other, strict=True))


def _failed(over: Callable[[Any], None], _why: str) -> None:
    over(None)


def late(module: str, name: str, session: Session, system: System) -> Leaf:
    """A leaf that is imported when it is first turned to; `module` is under desk.steps."""
    maker: Callable[[Session, System], Leaf] = getattr(import_module(f"weighty_axle.desk.steps.{module}"), name)
    return maker(session, system)


class LeafedView(StepView):
    """A step with several leaves; each is made when it is first turned to."""

    def __init__(self, session: Session, system: System, title: str, purpose: str, leaves: dict[str, Callable[[], Leaf]]) -> None:
        super().__init__(session, system, title, purpose)
        self._makers = leaves
        self.leaves: dict[str, Leaf] = {}
        self._stack = QStackedWidget()
        self._presses = QButtonGroup(self)
        for name in leaves:
            press = QPushButton(tr(name))
            press.setCheckable(True)
            press.setProperty("leaf", name)
            self._presses.addButton(press)
            self.head.addWidget(press)
        self._presses.buttonClicked.connect(self._on_press)
        self.column.addWidget(self._stack, 1)
        self.leaf_name = ""
        self.turn_to(next(iter(leaves)))
        for keys, by in (("Ctrl+PgDown", 1), ("Ctrl+PgUp", -1)):
            QShortcut(QKeySequence(keys), self, partial(self._turn_by, by), context=Qt.ShortcutContext.WidgetWithChildrenShortcut)

    @property
    def leaf(self) -> Leaf:
        """The leaf on show."""
        return self.leaves[self.leaf_name]

    def turn_to(self, name: str) -> None:
        """Bring a leaf on show."""
        if name == self.leaf_name:
            return
        if name not in self.leaves:
            made = self.leaves[name] = self._makers[name]()
            made.opened.connect(self.opened)
            made.wants.connect(self.wants)
            made.works.connect(self.works)
            self._stack.addWidget(made)
        self.leaf_name = name
        self._stack.setCurrentWidget(self.leaf)
        for press in self._presses.buttons():
            press.setChecked(press.property("leaf") == name)
        self.leaf.show_shown(self.session.shown)

    def _on_press(self, press: QAbstractButton) -> None:
        self.turn_to(str(press.property("leaf")))

    def _turn_by(self, by: int) -> None:
        names = list(self._makers)
        self.turn_to(names[(names.index(self.leaf_name) + by) % len(names)])

    def show_shown(self, shown: Shown) -> None:
        self.leaf.show_shown(shown)

    def commands(self) -> list[Command]:
        turning = [Command(tr("Turn to {leaf}").format(leaf=tr(name)), "", partial(self.turn_to, name)) for name in self._makers]
        return turning + self.leaf.commands()


NAME_POINTS = 7.5
_ONE_LINE_PX, _TWO_LINES_PX = 36, 48


class FigureButton(QAbstractButton):
    """One figure: its name small, on two lines where it is long, its value large; pressing opens the workings."""

    def __init__(self, system: System) -> None:
        super().__init__()
        self._system = system
        self.figure: Figure | None = None
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def put(self, figure: Figure) -> None:
        """Show a figure."""
        self.figure = figure
        value = show(figure.value, figure.unit, self._system)
        self.setAccessibleName(f"{figure.name} {value}")
        self.setToolTip(tip(f"{figure.name} {value}: {tr('open the workings')}"))
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(120, _ONE_LINE_PX)

    def paintEvent(self, _event: QPaintEvent) -> None:
        if self.figure is None:
            return
        now = look()
        with painting(self) as painter:
            if self.underMouse():
                painter.fillRect(self.rect(), QColor(now.live_soft))
            name = QRectF(6, 0, self.width() - 8, self.height() - 20)
            words(
                painter,
                name,
                self.figure.name,
                size=NAME_POINTS,
                colour=now.muted,
                align=Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignBottom,
                wrap=True,
            )
            words(
                painter,
                QRectF(6, self.height() - 20, self.width() - 8, 19),
                show(self.figure.value, self.figure.unit, self._system),
                size=10.5,
                bold=True,
                colour=now.live,
            )
            if self.hasFocus():
                painter.setPen(QPen(QColor(now.live), 1.2, Qt.PenStyle.DotLine))
                painter.drawRect(self.rect().adjusted(1, 1, -1, -1))


class FigureRow(QFrame):
    """A row of figures; each is a press that opens its workings."""

    opened = Signal(object)

    def __init__(self, system: System) -> None:
        super().__init__()
        self._system = system
        self.row = QHBoxLayout(self)
        self.row.setContentsMargins(0, 0, 0, 0)
        self.row.setSpacing(4)
        self._buttons: list[FigureButton] = []

    def put(self, figures: tuple[Figure, ...]) -> None:
        """Show these figures."""
        while len(self._buttons) < len(figures):
            press = FigureButton(self._system)
            press.clicked.connect(self._on_clicked)
            self.row.insertWidget(len(self._buttons), press, 1)
            self._buttons.append(press)
        for index, press in enumerate(self._buttons):
            press.setVisible(index < len(figures))
            if index < len(figures):
                press.put(figures[index])

        self._give_room()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._give_room()

    def _give_room(self) -> None:
        """Two lines for the names where one of them is too long for one."""
        seen = [press for press in self._buttons if not press.isHidden() and press.figure is not None]
        room_px = (self.width() - self.row.spacing() * (len(seen) - 1)) / max(1, len(seen)) - 8
        metrics = QFontMetricsF(scaled(NAME_POINTS))
        long = any(press.figure is not None and metrics.horizontalAdvance(press.figure.name) > room_px for press in seen)
        self.setFixedHeight((_TWO_LINES_PX if long else _ONE_LINE_PX) if seen else 0)

    def _on_clicked(self) -> None:
        self.opened.emit(next(press.figure for press in self._buttons if press is self.sender()))
