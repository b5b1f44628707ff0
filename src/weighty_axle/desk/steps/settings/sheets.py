"""Sheets: what is entered in every unit, ticked with day and initials, read back, and changed later with a reason."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from PySide6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit

from weighty_axle.answers.first_power.check import Check
from weighty_axle.answers.settings.setting import Change, Setting
from weighty_axle.answers.settings.sheet import changes, sheets
from weighty_axle.design.table import Design
from weighty_axle.desk.kit.fields import Field
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.records import Column, Records, table_view
from weighty_axle.desk.kit.run_card import VERDICT_WORDS, RunCardLeaf, signed_words
from weighty_axle.desk.text import tip, tr
from weighty_axle.desk.work.days import signed
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import Edit
from weighty_axle.job.edits.proving import entered, unentered
from weighty_axle.job.models.proving import Entry, Reading
from weighty_axle.units import QuantityError, System


class SheetsLeaf(RunCardLeaf):
    """Unit by unit: what the sheet says, what stands in the unit, who entered it, why it was changed."""

    fields_shown = (
        Field(
            "Full charge",
            "settings.full_charge",
            (("gentle", "gentle: long life, slow balancing"), ("brim", "brim: quick balancing, more wear")),
        ),
        Field("One limit for all", "charging.one_limit", bool, help="units keep to it by themselves, over data leads"),
    )
    all_good = "Every unit is set as its sheet says."
    wide = 1

    def __init__(self, session: Session, system: System) -> None:
        self.groups: tuple[str, ...] = ()
        self.which = QComboBox()
        self.why = QLineEdit()
        super().__init__(session, system)
        self.which.setAccessibleName(tr("Unit"))
        self.which.currentIndexChanged.connect(self._show_rows)
        self.why.setPlaceholderText(tr("Why it is changed"))
        self.why.setAccessibleName(tr("Why it is changed"))
        self.why.setToolTip(tip(tr("Stands beside a value that is changed after it was entered")))
        self.why.setMaxLength(200)
        row = QHBoxLayout()
        row.addWidget(self.which, 3)
        row.addWidget(self.why, 2)
        self.column.insertLayout(1, row)

    def columns(self) -> tuple[Column, ...]:
        return (
            Column("Unit", lambda row: row.group, None),
            Column("Setting", lambda row: f"! {row.words}" if row.worse else row.words, None),
            Column("To be entered", lambda row: row.shown, None),
            Column("In the unit", _stands, None, self.typed, clears=True),
            Column("", lambda row: tr(VERDICT_WORDS[row.verdict]), None),
            Column("By", signed_words, None),
        )

    def more_presses(self) -> tuple[tuple[str, Callable[[], object]], ...]:
        return (
            ("All of this unit", self.tick_unit),
            ("Read back …", partial(self.wants.emit, "readings in")),
            ("Write …", partial(self.wants.emit, "settings out")),
        )

    def found(self, house: Design) -> tuple[Check, ...]:
        found = sheets(house)
        self.groups = tuple(one.tag for one in found)
        self._put_units([(one.tag, f"{one.tag}: {one.words}") for one in found])
        return tuple(one for sheet in found for one in sheet.settings)

    def _put_units(self, units: list[tuple[str, str]]) -> None:
        words = [("", tr("All units")), *units]
        if [self.which.itemData(at) for at in range(self.which.count())] == [tag for tag, _ in words]:
            return
        chosen = self.which.currentData()
        self.which.blockSignals(True)
        self.which.clear()
        for tag, said in words:
            self.which.addItem(said, tag)
        self.which.setCurrentIndex(max(0, self.which.findData(chosen)))
        self.which.blockSignals(False)

    def shows(self, one: Check) -> bool:
        return super().shows(one) and self.which.currentData() in ("", None, one.group)

    def meaning(self, one: Check) -> str:
        assert isinstance(one, Setting)
        if one.says:
            return f"{one.words}: {one.says}."
        said = [f"{one.words}: {one.why} ({one.source})."]
        if one.hurts:
            said.append(f"{tr('Set otherwise')}: {one.hurts}.")
        return " ".join(said)

    # ---- entering ----

    def _entry(self, one: Setting, said: str) -> Entry:
        """What is written down. Raises QuantityError where a change has no reason."""
        changed = bool(one.entries) and one.entries[-1].said != said
        why = self.why.text().strip()
        if changed and not why:
            raise QuantityError(tr("This was entered before: say why it is changed first."))
        on, by = signed()
        return Entry(setting=one.key, said=said, on=on, by=by, why=why if changed else "")

    def typed(self, row: Check, value: Any) -> Edit:
        assert isinstance(row, Setting)
        if value is None or not str(value).strip():
            return self.take_away(row)
        said = str(value).strip()
        if len(said) > 60:
            raise QuantityError(tr("That is too long for what a unit shows."))
        entry = self._entry(row, said)
        self._after = row.key
        return entered((entry,), f"{row.thing}: {said}")

    def write_down(self, reading: Reading) -> Edit:
        one = next(each for each in self._found if each.key == reading.check)
        assert isinstance(one, Setting)
        return entered((self._entry(one, one.said),), f"{one.thing}: {one.said}")

    def refused(self, one: Check) -> str:
        assert isinstance(one, Setting)
        try:
            self._entry(one, one.said)
        except QuantityError as error:
            return str(error)
        return ""

    def take_away(self, one: Check) -> Edit:
        return unentered(one.key, one.key)

    def tick_unit(self) -> None:
        """All that is open of the chosen unit is as the sheet says."""
        tag = self.which.currentData() or (self.chosen.group if self.chosen is not None else "")
        if not tag:
            self.said.setText(tr("Choose a unit first."))
            return
        open_ = [one for one in self._found if isinstance(one, Setting) and one.group == tag and not one.entries]
        if not open_:
            self.said.setText(tr("Nothing of {unit} is open.").format(unit=tag))
            return
        made = tuple(self._entry(one, one.said) for one in open_)
        words = tr("{unit}: {count} settings entered").format(unit=tag, count=len(made))
        self.said.setText(self.session.apply(entered(made, words)) or words)


def _stands(row: Setting) -> str:
    return row.entries[-1].said if row.entries else ""


_CHANGES = (
    Column("Day", lambda row: row.entry.on, None),
    Column("Setting", lambda row: row.setting, None),
    Column("Was", lambda row: row.old, None),
    Column("Is", lambda row: row.entry.said, None),
    Column("By", lambda row: row.entry.by, None),
    Column("Why", lambda row: row.entry.why or tr("not said"), None),
)


class ChangesLeaf(Leaf):
    """What was changed in units since it was first entered."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.told = Label()
        self.told.setWordWrap(True)
        self.column.addWidget(self.told)
        self.model = Records(session, system, _CHANGES, self.told.setText, self)
        self.table = table_view(self.model, tr("Changes"), wide=5)
        self.column.addWidget(self.table, 1)

    def show_shown(self, shown: Shown) -> None:
        found: tuple[Change, ...] = changes(shown.house)
        self.model.put(found)
        said = tr("{n} values were changed after they were first entered.").format(n=len(found))
        self.told.setText(said if found else tr("Nothing was changed since it was first entered."))
