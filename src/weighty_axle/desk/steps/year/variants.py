"""Variants: the designs of the job side by side; turned to, kept, taken from; the schools by one press."""

from __future__ import annotations

from functools import partial
from typing import Any

from PySide6.QtWidgets import QComboBox

from weighty_axle.answers.year.schools import SCHOOLS
from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.commands import Command
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.exports.data.compare import Compared, compare
from weighty_axle.job.edits.edit import Edit, EditRefusedError
from weighty_axle.job.edits.variants import PART_WORDS, add_variant, drop, keep_as, names, take_part, turn_to
from weighty_axle.job.models.document import Job
from weighty_axle.units import ENERGY, FRACTION, MASS, NUMBER, POWER, Kind, System


def _figure(key: str) -> Any:
    def value(one: Compared) -> float | None:
        figure = one.figures.get(key)
        return figure.value if figure is not None else None

    return value


def _count(severity: str) -> Any:
    return lambda one: one.findings.get(severity)


def _column(words: str, key: str, kind: Kind) -> Column:
    return Column(words, _figure(key), kind)


_COLUMNS = (
    Column("Design", lambda one: one.name, None),
    Column("Stop", _count("stop"), None),
    Column("Check", _count("check"), None),
    _column("Bank", "bank", ENERGY),
    _column("Modules", "sun", POWER),
    _column("Drop", "drop", FRACTION),
    _column("Axle", "axle", MASS),
    _column("Mass", "mass", MASS),
    Column("Cost", lambda one: round(one.figures["cost"].value) if "cost" in one.figures else None, NUMBER),
    _column("Missing", "missing", ENERGY),
    Column("Gen. h", lambda one: round(one.figures["generator"].value) if "generator" in one.figures else None, NUMBER),
)
_FIELDS = (
    Field("This design is called", "design_name", str, wide=2),
    Field("It is to show", "design_why", str, wide=3),
)
_SHOWN = ("energy", "days", "charge", "cold", "hookup", "unused", "lowest")


class VariantsLeaf(Leaf):
    """Name of this design, presses, table of all, figures of the one that is chosen."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.fields = Fields(session, system, _FIELDS, 2, whole=True)
        self.column.addWidget(self.fields)
        self.school = QComboBox()
        self.school.setAccessibleName(tr("Compare with the other school"))
        self.school.addItem(tr("Compare with the other school …"))
        for one in SCHOOLS:
            self.school.addItem(tr(one.question), one.key)
        self.school.activated.connect(self._compare_school)
        self.part = QComboBox()
        self.part.setAccessibleName(tr("Take a part of the chosen design"))
        self.part.addItem(tr("Take a part of it …"))
        for name in PART_WORDS:
            self.part.addItem(tr(name), name)
        self.part.activated.connect(self._take)
        self.row_of(("Keep a copy", self._keep), self.school)
        self.row_of(("Turn to it", self._turn), ("Drop it", self._drop), self.part)
        self.said = SaidLine()
        self.model = Records(session, system, _COLUMNS, self.said.setText, self)
        self.table = table_view(self.model, tr("Designs side by side"), wide=0)
        self.table.selectionModel().currentRowChanged.connect(self._on_row)
        self.column.addWidget(self.table, 1)
        self.told = Label()
        self.told.setWordWrap(True)
        self.column.addWidget(self.told)
        self.column.addWidget(self.said)
        self.figures = self.figure_row()

    @property
    def chosen(self) -> Compared | None:
        """The design whose row is chosen."""
        row = self.table.currentIndex().row()
        return self.model.record(row) if 0 <= row < self.model.rowCount() else None

    def _apply(self, edit: Edit) -> None:
        self.said.setText(self.session.apply(edit) or "")

    def _keep(self) -> None:
        known = names(self.session.shown.whole)
        number = next(at for at in range(2, 99) if f"Design {at}" not in known)
        self._apply(keep_as(f"Design {number}", tr("as it was when it was kept")))

    def _with_chosen(self, make: Any) -> None:
        one = self.chosen
        if one is None or one.name == self.session.shown.whole.design_name:
            self.said.setText(tr("Choose another design than the one that is worked on."))
            return
        self._apply(make(one.name))

    def _turn(self) -> None:
        self._with_chosen(turn_to)

    def _drop(self) -> None:
        self._with_chosen(drop)

    def _take(self, index: int) -> None:
        part = self.part.itemData(index)
        self.part.setCurrentIndex(0)
        if part:
            self._with_chosen(lambda name: take_part(name, part))

    def _compare_school(self, index: int) -> None:
        """The other way to do it, as a variant beside this one."""
        key = self.school.itemData(index)
        self.school.setCurrentIndex(0)
        one = next((school for school in SCHOOLS if school.key == key), None)
        if one is None:
            return
        try:
            name, made = one.other(self.session.shown.house)
        except EditRefusedError as error:
            self.said.setText(str(error))
            return
        self._apply(add_variant(made, name, f"{one.question}. {one.buys}"))

    def show_shown(self, shown: Shown) -> None:
        self.fields.show_shown(shown)
        job = shown.whole
        self.quietly((job,), partial(_compared, job), self._put)
        if not job.variants:
            self.told.setText(
                tr("One design so far: keep a copy and change this one, or compare with the other school.")
            )

    def _put(self, found: tuple[Compared, ...] | None) -> None:
        if found is None:
            self.said.setText(tr("The designs could not be compared."))
            return
        before = self.chosen.name if self.chosen is not None else ""
        self.model.put(found)
        at = next((row for row, one in enumerate(found) if one.name == before), 0)
        self.table.selectRow(at)
        self._on_row()

    def _on_row(self) -> None:
        one = self.chosen
        if one is None:
            return
        here = one.name == self.session.shown.whole.design_name
        words = tr("{name} is worked on.") if here else "{name}: {why}"
        self.told.setText(one.refused or words.format(name=one.name, why=one.why or tr("no reason is stated")))
        self.figures.put(tuple(one.figures[key] for key in _SHOWN if key in one.figures))

    def commands(self) -> list[Command]:
        return [
            Command(tr("Turn to the design {name}").format(name=one.name), "", partial(self._apply, turn_to(one.name)))
            for one in self.session.shown.whole.variants
        ]


def _compared(job: Job, _progress: Any) -> tuple[Compared, ...]:
    return compare(job)
