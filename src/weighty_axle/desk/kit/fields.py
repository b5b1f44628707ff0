"""Fields for stated values: any unit and simple sums may be typed; a wrong entry says why and loses nothing."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from msgspec import Struct
from msgspec.structs import replace
from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtGui import QKeyEvent, QResizeEvent
from PySide6.QtWidgets import QComboBox, QGridLayout, QLineEdit, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.theme import look, scaled
from weighty_axle.desk.text import tip, tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import WHOLE, Edit, EditRefusedError, set_value, value_at
from weighty_axle.job.models.document import Job
from weighty_axle.units import Kind, QuantityError, System, parse, show, typed

Options = tuple[tuple[Any, str], ...]


class Field(Struct, frozen=True):
    """One stated value: its words, where it stands ({tag} is the selected thing's), and what it may be.

    `kind` is a quantity Kind, int, str, bool, the options of a choice, or a function that gives a job's options.
    `empty` says what an empty field means; `wide` is its share of the row. `make` builds another edit than plain
    replacement; it gets job, path and value, and raises QuantityError for a value it refuses. `say` writes the value
    when plain text will not do; `help` is what the tip tells.
    """

    words: str
    path: str
    kind: Kind | type | Options | Callable[[Job], Options]
    empty: str = ""
    wide: int = 1
    make: Callable[[Job, str, Any], Edit] | None = None
    say: Callable[[Any], str] | None = None
    help: str = ""

    @property
    def chosen(self) -> bool:
        """Whether the value is one of options."""
        return isinstance(self.kind, tuple) or (callable(self.kind) and not isinstance(self.kind, type))

    def options(self, job: Job) -> Options:
        """Options of a choice for a job."""
        if isinstance(self.kind, tuple):
            return self.kind
        assert callable(self.kind) and not isinstance(self.kind, type)
        return self.kind(job)


class Entry(QLineEdit):
    """Line for one quantity, number or text. Return or leaving commits, Escape puts the old value back."""

    def __init__(self, commit: Callable[[str], str], name: str) -> None:
        super().__init__()
        self._commit_text, self._shown_text = commit, ""
        self.setAccessibleName(name)
        self.setMinimumWidth(48)
        self.editingFinished.connect(self._commit)

    def put(self, text: str) -> None:
        """Show the job's value, unless something wrong is still being put right."""
        if self.objectName() == "wrong" and text == self._shown_text:
            return
        self._shown_text = text
        self._mark("")
        if self.text() != text:
            self.setText(text)
            self.setCursorPosition(0)

    def _commit(self) -> None:
        if self.text() == self._shown_text:
            self._mark("")
            return
        entered = self.text()
        problem = self._commit_text(entered)
        self._mark(problem)
        if not problem:
            self.setToolTip(tip(tr("typed: {text}").format(text=entered)))

    def _mark(self, problem: str) -> None:
        if (self.objectName() == "wrong") != bool(problem):
            self.setObjectName("wrong" if problem else "")
            self.style().unpolish(self)
            self.style().polish(self)
        cell = self.parent()
        if isinstance(cell, _Cell):
            cell.say(problem)
        self.setAccessibleDescription(problem)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self._mark("")
            self.setText(self._shown_text)
        else:
            super().keyPressEvent(event)


class _Cell(QWidget):
    """Words above, entry below, the problem under it when there is one."""

    def __init__(self, words: str, entry: QWidget, help: str) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(1)
        label = Label(words)
        label.setFont(scaled(8))
        label.setObjectName("muted")
        label.setBuddy(entry)
        # In a narrow window the words give way before the entry; the tip has them whole.
        label.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        label.setToolTip(tip(help or words))
        column.addWidget(label)
        column.addWidget(entry)
        self.entry, self.words_px = entry, label.sizeHint().width()
        self._column = column
        self._problem: Label | None = None
        column.addStretch(1)

    def say(self, problem: str) -> None:
        """Show what is wrong under the entry, or nothing."""
        if self._problem is None and problem:
            self._problem = Label()
            self._problem.setWordWrap(True)
            self._problem.setFont(scaled(8))
            self._problem.setObjectName("stop")
            self._column.insertWidget(2, self._problem)
        if self._problem is not None:
            self._problem.setText(problem)
            self._problem.setVisible(bool(problem))


class _NoWheel(QObject):
    """Keeps the wheel from changing a choice the pointer only passes over."""

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.Wheel and isinstance(watched, QWidget) and not watched.hasFocus():
            event.ignore()
            return True
        return False


def _fill(choice: QComboBox, options: Options) -> None:
    """Put options into a choice, unless it has them already."""
    if [(choice.itemData(i), choice.itemText(i)) for i in range(choice.count())] == [
        (value, tr(words)) for value, words in options
    ]:
        return
    choice.clear()
    for value, words in options:
        choice.addItem(tr(words), value)


_GAP_PX = 8
_ENTRY_PX = 62


class Fields(QWidget):
    """A few fields in a grid, bound to the session: shows the job's values and sends edits.

    At most `columns` stand side by side; in a narrow window fewer, so that words and values are whole. `whole`: paths
    are those of the job as it is stated, not of the system on show.
    """

    def __init__(
        self, session: Session, system: System, fields: tuple[Field, ...], columns: int, *, whole: bool = False
    ) -> None:
        super().__init__()
        self._whole = whole
        self._session, self._system, self._fields = session, system, fields
        self._tag = ""
        self._no_wheel = _NoWheel(self)
        self.entries = [self._entry(field) for field in fields]
        self._cells = [
            _Cell(tr(field.words), entry, tr(field.help)) for field, entry in zip(fields, self.entries, strict=True)
        ]
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setHorizontalSpacing(_GAP_PX)
        self._grid.setVerticalSpacing(4)
        self._most, self._columns = columns, 0
        self._flow(min(columns, len(fields)))

    def _job(self, shown: Shown) -> Job:
        return shown.whole if self._whole else shown.job

    def _flow(self, columns: int) -> None:
        """Put the cells into so many columns."""
        if columns == self._columns:
            return
        for column in range(self._columns):
            self._grid.setColumnStretch(column, 0)
        self._columns = columns
        for index, cell in enumerate(self._cells):
            self._grid.addWidget(cell, index // columns, index % columns)
        for column, wide in enumerate(self._widths(columns)):
            self._grid.setColumnStretch(column, wide)

    def _widths(self, columns: int) -> list[int]:
        return [max(field.wide for field in self._fields[column::columns]) for column in range(columns)]

    def _fitting(self, width_px: int) -> int:
        """The most columns in which no words are cut and every entry shows its value."""
        count = len(self._cells)
        for columns in range(min(self._most, count), 1, -1):
            wide = self._widths(columns)
            part = (width_px - _GAP_PX * (columns - 1)) / sum(wide)
            needs = [
                max(_ENTRY_PX, *(cell.words_px for cell in self._cells[column::columns])) for column in range(columns)
            ]
            if all(part * share >= need for share, need in zip(wide, needs, strict=True)):
                return -(-count // -(-count // columns))  # as even as the rows allow
        return 1

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._flow(self._fitting(event.size().width()))

    def _entry(self, field: Field) -> QWidget:
        if field.chosen:
            choice = QComboBox()
            _fill(choice, field.options(self._job(self._session.shown)))
            choice.setAccessibleName(tr(field.words))
            choice.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            choice.setMinimumContentsLength(5)
            choice.setPlaceholderText(tr("choose…"))
            choice.installEventFilter(self._no_wheel)
            choice.activated.connect(
                lambda index, field=field, choice=choice: self._send(
                    field, choice.itemData(index), choice.itemText(index)
                )
            )
            return choice
        if field.kind is bool:
            press = QPushButton(tr("no"))
            press.setCheckable(True)
            press.setAccessibleName(tr(field.words))
            press.setStyleSheet(f"border: 1px solid {look().line};")
            press.clicked.connect(lambda on, field=field: self._send(field, bool(on), tr("yes") if on else tr("no")))
            return press
        entry = Entry(partial(self._typed, field), tr(field.words))
        entry.setPlaceholderText(tr(field.empty))
        return entry

    def _typed(self, field: Field, text: str) -> str:
        """Commit typed text; returns the sentence of what is wrong, or ''."""
        if field.empty and not text.strip():
            return self._send(field, None, tr(field.empty))
        try:
            return self._send(field, *self._read(field, text))
        except QuantityError as error:
            return str(error)

    def _read(self, field: Field, text: str) -> tuple[Any, str]:
        if field.kind is str:
            return text.strip(), text.strip()
        if field.kind is int:
            try:
                return int(text), text.strip()
            except ValueError:
                raise QuantityError(tr("“{text}” is not a whole number.").format(text=text.strip())) from None
        assert isinstance(field.kind, Kind)
        value = parse(text, field.kind, self._system)
        return value, show(
            value, field.kind.stored, self._system
        ) if field.kind.stored != "1" or field.kind.bare else f"{value:g}"

    def _send(self, field: Field, value: Any, words: str) -> str:
        path = field.path.format(tag=self._tag)
        if field.make is not None:
            edit = field.make(self._job(self._session.shown), path, value)
        else:
            where = f" of {self._tag}" if self._tag else ""
            edit = set_value(path, value, f"{field.words}{where}: {words}")
        if self._whole:
            edit = replace(edit, system=WHOLE)
        problem = self._session.apply(edit) or ""
        if problem and (field.chosen or field.kind is bool):
            # A choice goes back to what holds; typed text stays, to be put right.
            self.show_shown(self._session.shown, self._tag)
        return problem

    def show_shown(self, shown: Shown, tag: str = "") -> None:
        """Show the job's values, of the thing `tag` where paths name one."""
        self._tag = tag
        for field, entry in zip(self._fields, self.entries, strict=True):
            try:
                value = value_at(self._job(shown), field.path.format(tag=tag))
            except EditRefusedError:
                entry.setEnabled(False)
                continue
            entry.setEnabled(True)
            if isinstance(entry, QComboBox):
                if not isinstance(field.kind, tuple):
                    _fill(entry, field.options(self._job(shown)))
                entry.setCurrentIndex(next((i for i in range(entry.count()) if entry.itemData(i) == value), -1))
            elif isinstance(entry, QPushButton):
                entry.setChecked(value)
                entry.setText(tr("yes") if value else tr("no"))
            elif isinstance(entry, Entry):
                entry.put(self._words(field, value))

    def _words(self, field: Field, value: Any) -> str:
        if value is None:
            return ""
        if field.say is not None:
            return field.say(value)
        return typed(value, field.kind, self._system) if isinstance(field.kind, Kind) else str(value)
