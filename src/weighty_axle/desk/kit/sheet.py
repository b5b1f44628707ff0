"""The sheet of a thing: everything that can be stated of it, in groups, made from the models themselves."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from msgspec.structs import replace
from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget

from weighty_axle.design.plainest import addable, plainest
from weighty_axle.desk.kit.fields import Field, Fields, Options
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.theme import scaled
from weighty_axle.desk.text import press_words, tip, tr
from weighty_axle.desk.work.own_types import keep_type, lists_of
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import WHOLE, Edit, EditRefusedError, value_at
from weighty_axle.job.edits.sheet import add_entry, read_values, remove_entry, set_stated, values_words
from weighty_axle.job.models.charging import VEHICLE
from weighty_axle.job.models.document import Job
from weighty_axle.job.sheets import StatedField, choice_words, sheet_of
from weighty_axle.job.stated import Stated
from weighty_axle.job.tags import tagged, tags_of
from weighty_axle.units import (
    AREA,
    CHARGE,
    CURRENT,
    DURATION,
    ENERGY,
    FRACTION,
    LENGTH,
    MASS,
    NUMBER,
    POWER,
    RESISTANCE,
    SMALL_SHARE,
    TEMPERATURE,
    VOLTAGE,
    Kind,
    QuantityError,
    System,
)

_KINDS: dict[str, Kind] = {
    "V": VOLTAGE,
    "A": CURRENT,
    "W": POWER,
    "VA": Kind("an apparent power", "VA"),
    "Wh": ENERGY,
    "Ah": CHARGE,
    "ohm": RESISTANCE,
    "kg": MASS,
    "m": LENGTH,
    "mm": Kind("a length", "mm"),
    "mA": Kind("a current", "mA"),
    "mm2": AREA,
    "s": DURATION,
    "degC": TEMPERATURE,
}
_TITLE_PX, _HALF_PX = 150, 100
MOST_INLINE = 8
"""Fields up to which a part stands on its owner's sheet."""
ELSEWHERE = {"patterns": "brief", "format": "", "format_version": ""}
"""Fields that have an instrument of their own instead: the days are painted on the Brief."""


class SheetPanel(QWidget):
    """Opens in the right column; `opened` carries the path it shows, empty for the whole job."""

    opened = Signal(str)
    closed = Signal()

    def __init__(self, session: Session, system: System) -> None:
        super().__init__()
        self.session, self.system = session, system
        self.path = ""
        self._shape: tuple[object, ...] = ()
        self._fields: list[Fields] = []
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 6, 8, 6)
        column.setSpacing(3)
        head = QHBoxLayout()
        self.title = Label()
        self.title.setFont(scaled(12.5, bold=True))
        self._up = QPushButton(tr("Up"))
        self._up.setToolTip(tip(tr("To what this is part of")))
        self._up.clicked.connect(self.go_up)
        self._remove = QPushButton(tr("Remove"))
        self._remove.clicked.connect(self._take_away)
        close = QPushButton(tr("Close"))
        close.clicked.connect(self._close)
        head.addWidget(self.title, 1)
        for press in (self._up, self._remove, close):
            head.addWidget(press)
        column.addLayout(head)
        self.said = Label()
        self.said.setObjectName("stop")
        self.said.setWordWrap(True)
        self.said.hide()
        column.addWidget(self.said)
        self._area = QScrollArea()
        self._area.setWidgetResizable(True)
        self._area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        column.addWidget(self._area, 1)
        self.presses: dict[str, QPushButton] = {}
        session.changed.connect(self._on_changed)
        self.hide()

    # ---- what is on show ----

    def open_path(self, path: str) -> None:
        """Show the sheet of a path; of the nearest owner that is there where it is gone."""
        self._tell("")
        while path and self._value(path) is None:
            path = _owner(path)
        self.path = path
        self._fill()
        self.show()
        self.opened.emit(path)

    def go_up(self) -> None:
        """Show the owner's sheet."""
        self.open_path(_owner(self.path))

    def _value(self, path: str) -> Any:
        whole = self.session.shown.whole
        try:
            return value_at(whole, path) if path else whole
        except EditRefusedError:
            return None

    def _close(self) -> None:
        self.hide()
        self.closed.emit()

    def _on_changed(self, shown: Shown) -> None:
        if not self.isVisible():
            return
        if self._value(self.path) is None:
            self.open_path(_owner(self.path))
        elif self._shape_now() != self._shape:
            self._fill()
        else:
            for fields in self._fields:
                fields.show_shown(shown)

    def _shape_now(self) -> tuple[object, ...]:
        """What the sheet is built for: which parts and entries are there, and what a press is called after."""
        value = self._value(self.path)
        return tuple(_shape(getattr(value, field.name), field) for field in sheet_of(type(value)))

    # ---- building ----

    def _fill(self) -> None:
        value = self._value(self.path)
        self._shape, self._fields, self.presses = self._shape_now(), [], {}
        title = _title(self.path, value)
        self.title.setText(self.title.fontMetrics().elidedText(title, Qt.TextElideMode.ElideRight, _TITLE_PX))
        self.title.setToolTip(tip(title))
        self._up.setEnabled(bool(self.path))
        self._remove.setVisible(self.path.endswith("]") or _optional(self.session.shown.whole, self.path))
        holder = QWidget()
        column = QVBoxLayout(holder)
        column.setContentsMargins(0, 0, 6, 0)
        column.setSpacing(6)
        self._group(column, self.path, value)
        column.addStretch(1)
        old = self._area.takeWidget()
        if old is not None:
            old.deleteLater()  # what was typed into it may be what turned the page
        self._area.setWidget(holder)
        for fields in self._fields:
            fields.show_shown(self.session.shown)

    def _group(self, column: QVBoxLayout, path: str, value: Stated) -> None:
        """Fields of one part, then its parts and entries."""
        base = f"{path}." if path else ""
        sheet = [field for field in sheet_of(type(value)) if field.name not in ELSEWHERE]
        lists = lists_of(type(value))
        if lists:
            column.addLayout(self._from_list(path, lists))
        plain = tuple(
            _field_of(f"{base}{field.name}", field, self.system)
            for field in sheet
            if field.form not in ("part", "entries", "named")
        )
        if plain:
            fields = Fields(self.session, self.system, plain, 2, whole=True)
            self._fields.append(fields)
            column.addWidget(fields)
        for field in sheet:
            if field.form == "part":
                self._part(column, f"{base}{field.name}", getattr(value, field.name), field)
            elif field.form == "entries":
                self._entries(column, f"{base}{field.name}", getattr(value, field.name), field)
            elif field.form == "named":
                self._named(column, f"{base}{field.name}", getattr(value, field.name), field)

    def _part(self, column: QVBoxLayout, path: str, value: Stated | None, field: StatedField) -> None:
        if value is None:
            column.addWidget(
                self._press(tr("State: {title}").format(title=tr(field.title)), partial(self._state, path))
            )
            return
        inner = sheet_of(type(value))
        simple = all(one.form not in ("part", "entries", "named") for one in inner)
        if simple and len(inner) <= MOST_INLINE and self.path != "" and not lists_of(type(value)):
            column.addWidget(_heading(field))
            self._group(column, path, value)
            return
        words = getattr(value, "name", "")
        text = f"{tr(field.title)}: {words}" if words and words != field.title else tr(field.title)
        column.addWidget(self._press(f"{text} …", partial(self.open_path, path), tip_words=field.words))

    def _entries(self, column: QVBoxLayout, path: str, value: tuple[Any, ...], field: StatedField) -> None:
        column.addWidget(_heading(field, f" ({len(value)})"))
        grid = QGridLayout()
        grid.setSpacing(3)
        for at, one in enumerate(value):
            key = getattr(one, "tag", str(at))
            words = f"{key} {getattr(one, 'name', '')}".strip() if hasattr(one, "tag") else _entry_words(one, at)
            press = self._press(words, partial(self.open_path, f"{path}[{key}]"), key=f"{path}[{key}]")
            grid.addWidget(press, at // 2, at % 2)
        room = field.most is None or len(value) < field.most
        if room and field.part is not None and addable(field.part):
            add = self._press(tr("Add"), partial(self._add, path, field), key=f"add {path}")
            add.setAccessibleName(tr("Add to {title}").format(title=tr(field.title)))
            grid.addWidget(add, len(value) // 2, len(value) % 2)
        column.addLayout(grid)

    def _named(self, column: QVBoxLayout, path: str, value: dict[str, Any], field: StatedField) -> None:
        """Values by name: one line for all of them."""
        column.addWidget(_heading(field, f" ({len(value)})"))
        of_words = any(isinstance(one, str) for one in value.values()) or field.name == "conductors"
        line = Field(
            tr("name = value; …"),
            path,
            str,
            make=lambda _job, path, text: set_stated(path, _named_from(text, of_words), field.title),
            say=lambda found: "; ".join(
                f"{name} = {one:g}" if not of_words else f"{name} = {one}" for name, one in found.items()
            ),
        )
        fields = Fields(self.session, self.system, (line,), 1, whole=True)
        self._fields.append(fields)
        column.addWidget(fields)

    def _from_list(self, path: str, lists: tuple[Stated, ...]) -> QHBoxLayout:
        """Take another datasheet from the lists."""
        row = QHBoxLayout()
        choice = QComboBox()
        choice.setAccessibleName(tr("From the list"))
        choice.setPlaceholderText(tr("from the list…"))
        for one in lists:
            choice.addItem(str(getattr(one, "name", "")), one)
        choice.setCurrentIndex(-1)
        choice.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        choice.setMinimumContentsLength(12)
        choice.activated.connect(lambda index: self._apply(set_stated(path, lists[index], f"{choice.itemText(index)}")))
        row.addWidget(choice, 1)
        row.addWidget(self._press(tr("Keep"), partial(self._keep, path), tip_words=tr("Keep this type for later jobs")))
        return row

    def _press(self, words: str, do: Callable[[], None], *, key: str = "", tip_words: str = "") -> QPushButton:
        press = QPushButton()
        press.setObjectName("plain")
        wide = _HALF_PX if key else 2 * _HALF_PX
        press.setText(press_words(press.fontMetrics().elidedText(words, Qt.TextElideMode.ElideRight, wide)))
        press.setToolTip(tip(tip_words or words))
        press.setAccessibleName(words)
        press.clicked.connect(lambda _checked=False: do())
        self.presses[key or words] = press
        return press

    # ---- edits ----

    def _tell(self, problem: str) -> None:
        self.said.setText(problem)
        self.said.setVisible(bool(problem))

    def _apply(self, edit: Edit) -> bool:
        problem = self.session.apply(replace(edit, system=WHOLE)) or ""
        self._tell(problem)
        return not problem

    def _keep(self, path: str) -> None:
        """Keep a datasheet for later jobs."""
        self._tell(keep_type(self._value(path)))

    def _state(self, path: str) -> None:
        """State a part that was not there, with the plainest values."""
        whole, owner = self.session.shown.whole, self._value(_owner(path))
        field = next(one for one in sheet_of(type(owner)) if one.name == path.rpartition(".")[2])
        assert field.part is not None
        if self._apply(set_stated(path, plainest(field.part, whole), f"State {field.title.lower()}")):
            self.open_path(path)

    def _add(self, path: str, field: StatedField) -> None:
        assert field.part is not None
        made = plainest(field.part, self.session.shown.whole)
        if self._apply(add_entry(path, made, field.title)):
            there = self._value(path)
            self.open_path(f"{path}[{getattr(there[-1], 'tag', len(there) - 1)}]")

    def _take_away(self) -> None:
        path = self.path
        if self._apply(remove_entry(path, self.title.text())):
            self.open_path(_owner(path))


def _owner(path: str) -> str:
    """Path of what a path is part of; a list's entry belongs to what holds the list."""
    return path.rpartition(".")[0]


def _optional(whole: Job, path: str) -> bool:
    """Whether a path is a part that need not be stated."""
    if not path or path.endswith("]"):
        return False
    owner = value_at(whole, _owner(path)) if _owner(path) else whole
    name = path.rpartition(".")[2]
    return any(field.optional for field in sheet_of(type(owner)) if field.name == name)


def _shape(value: Any, field: StatedField) -> object:
    if field.form == "entries":
        return tuple((getattr(one, "tag", ""), getattr(one, "name", "")) for one in value)
    if field.form == "part":
        return None if value is None else (getattr(value, "name", ""),)
    return len(value) if field.form == "named" else ""


def _title(path: str, value: Any) -> str:
    if not path:
        return tr("The whole job")
    tag, name = getattr(value, "tag", ""), getattr(value, "name", "")
    if tag or name:
        return f"{tag} {name}".strip()
    return path.rpartition(".")[2].replace("_", " ").capitalize()


def _entry_words(one: Any, at: int) -> str:
    """Words of an entry without a tag."""
    if hasattr(one, "name"):
        return str(one.name)
    return " ".join(f"{getattr(one, field.name)}" for field in sheet_of(type(one))[:2]) or f"{at + 1}"


def _heading(field: StatedField, more: str = "") -> Label:
    label = Label(f"{tr(field.title)}{more}")
    label.setFont(scaled(9, bold=True))
    label.setToolTip(tip(field.words))
    return label


def _field_of(path: str, field: StatedField, _system: System) -> Field:
    """The field of a stated value: its quantity by its unit, its choices, what it may name."""
    title = field.title if field.unit in _KINDS or not field.unit else f"{field.title} [{field.unit}]"

    def make(_job: Job, at: str, value: Any) -> Edit:
        return set_stated(at, value, f"{field.title} of {_named_place(at)}")

    empty = tr("not stated") if field.optional else ""
    if field.form == "yes_no":
        return Field(title, path, bool, make=make, help=field.words)
    if field.form == "choice":
        options: Options = tuple((one, choice_words(one)) for one in field.choices)
        if field.optional:
            options = ((None, tr("not stated")), *options)
        return Field(title, path, options, make=make, help=field.words)
    if field.form == "values":
        return Field(
            title,
            path,
            str,
            make=lambda _job, at, text: set_stated(at, read_values(text, numbers=_numbers(path)), title),
            say=values_words,
            help=field.words,
            wide=2,
        )
    if field.form == "text":
        if field.refers:
            return Field(title, path, partial(_named_things, field.refers, path), make=make, help=field.words)
        return Field(title, path, str, make=make, help=field.words, say=str)
    if field.form == "whole":
        return Field(title, path, int, empty=empty, make=make, help=field.words)
    return Field(title, path, _kind_of(field), empty=empty, make=make, help=field.words)


def _kind_of(field: StatedField) -> Kind:
    if field.unit in _KINDS:
        return _KINDS[field.unit]
    if not field.unit and field.high is not None and field.high <= 1:
        return SMALL_SHARE if field.high <= 0.3 else FRACTION
    return NUMBER


_ON_VEHICLE = ("converters[", "charging.alternators[")
"""What may be on the vehicle's own bar."""


def _named_things(kinds: tuple[str, ...], path: str, job: Job) -> Options:
    """Tags a field may name, and what stands there already."""
    now = value_at(job, path)
    tags = tags_of(job, *kinds)
    more = ("INVERTERS",) if path.endswith("fed_from") and "panels" in path else ()
    more = (VEHICLE,) if path.endswith((".start", ".bar")) and path.startswith(_ON_VEHICLE) else more
    known = ("", *more, *tags)
    names = {thing.tag: getattr(thing, "name", "") for _, thing in tagged(job)}
    empty = tr("the house bar") if "board" in kinds and not path.endswith((".on", ".charges")) else tr("none")

    def words(tag: str) -> str:
        return f"{tag} {names.get(tag, '')}".strip() or empty

    return tuple((one, words(one)) for one in (*known, *((now,) if now not in known else ())))


def _named_place(path: str) -> str:
    """Words for where a value is: the last tag on its path, or its owner."""
    owner = _owner(path)
    return owner.rpartition("[")[2].partition("]")[0] if "[" in owner else owner.replace("_", " ") or "the job"


def _numbers(path: str) -> bool:
    return path.endswith(("clearness", "air_c"))


def _named_from(text: str, of_words: bool) -> dict[str, Any]:
    """Values by name from `name = value; name = value`. Raises QuantityError."""
    found: dict[str, Any] = {}
    for part in filter(None, (one.strip() for one in text.split(";"))):
        name, between, value = part.partition("=")
        if not between or not name.strip():
            raise QuantityError(tr("“{part}” is not a name and a value; write name = value.").format(part=part[:40]))
        try:
            found[name.strip()] = value.strip() if of_words else float(value.replace(",", "."))
        except ValueError:
            raise QuantityError(tr("“{value}” is not a number.").format(value=value.strip()[:20])) from None
    return found
