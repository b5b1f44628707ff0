"""People: who builds, what they can do, when they are there; how long things take in this shop; own tasks."""

from __future__ import annotations

from functools import partial
from typing import Any

from PySide6.QtWidgets import QTableView

from weighty_axle.design.plainest import plainest
from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import Edit, of_whole, set_value
from weighty_axle.job.edits.sheet import add_entry, remove_entry
from weighty_axle.job.models.build import OwnTask, Skill, Worker
from weighty_axle.units import NUMBER, QuantityError, System

_SKILLS: dict[str, Skill] = {one: one for one in ("electric", "mechanic", "roof", "lifting")}


def _set(path: str) -> Any:
    return lambda row, value: of_whole(set_value(f"build.{path.format(tag=row.tag)}", value, f"{row.tag}: {value}"))


def _skills(row: Worker, text: Any) -> Edit:
    words = [one.strip().lower() for one in str(text).replace(";", ",").split(",") if one.strip()]
    bad = next((one for one in words if one not in _SKILLS and one != "anything"), None)
    if bad is not None:
        raise QuantityError(
            tr("{word} is no skill; there are {skills}, or nothing for anything.").format(
                word=bad, skills=", ".join(_SKILLS)
            )
        )
    value = tuple(_SKILLS[one] for one in words if one in _SKILLS)
    return of_whole(set_value(f"build.workers[{row.tag}].skills", value, f"{row.tag} can do {text or 'anything'}"))


def _days(row: Worker, text: Any) -> Edit:
    days = tuple(one for one in str(text).replace(",", " ").replace(";", " ").split() if one)
    return of_whole(set_value(f"build.workers[{row.tag}].off", days, f"Days off of {row.tag}"))


def _after(row: OwnTask, text: Any) -> Edit:
    keys = tuple(one.strip() for one in str(text).split(";") if one.strip())
    return of_whole(set_value(f"build.own[{row.tag}].after", keys, f"{row.tag} after {text or 'nothing'}"))


def _skill(row: OwnTask, text: Any) -> Edit:
    word = str(text).strip().lower()
    if word not in _SKILLS:
        raise QuantityError(tr("{word} is no skill; there are {skills}.").format(word=word, skills=", ".join(_SKILLS)))
    return of_whole(set_value(f"build.own[{row.tag}].skill", _SKILLS[word], f"{row.tag} needs {word}"))


_WORKERS = (
    Column("Tag", lambda row: row.tag, None),
    Column("Name", lambda row: row.name, None, _set("workers[{tag}].name")),
    Column("Can do", lambda row: ", ".join(row.skills) or tr("anything"), None, _skills),
    Column("Hours a day", lambda row: row.hours_h, NUMBER, _set("workers[{tag}].hours_h")),
    Column("Days off", lambda row: " ".join(row.off), None, _days),
)
_OWN = (
    Column("Tag", lambda row: row.tag, None),
    Column("Own task", lambda row: row.name, None, _set("own[{tag}].name")),
    Column("Hours", lambda row: row.hours_h, NUMBER, _set("own[{tag}].hours_h")),
    Column("Needs", lambda row: row.skill, None, _skill),
    Column("After (keys, parted by ;)", lambda row: "; ".join(row.after), None, _after),
    Column("Waits for the part", lambda row: row.part, None, _set("own[{tag}].part")),
)
_RATES = tuple(
    Field(words, f"build.rates.{name}", NUMBER)
    for words, name in (
        ("Prepare, min", "survey_min"),
        ("Place a unit", "item_min"),
        ("Hole", "hole_min"),
        ("Crimp", "crimp_min"),
        ("Ferrule", "ferrule_min"),
        ("Joint", "joint_min"),
        ("Metre", "metre_min"),
        ("Module", "module_min"),
        ("Label", "label_min"),
        ("Test", "test_min"),
    )
)


class PeopleLeaf(Leaf):
    """Two tables and the rates."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.row_of(("Somebody more", self._more), ("Take away", self._less), ("A task of the shop", self._add_task))
        self.said = SaidLine()
        self.model = Records(session, system, _WORKERS, self.said.setText, self)
        self.table = table_view(self.model, tr("Who builds"), wide=4)
        self.column.addWidget(self.table, 2)
        self.own = Records(session, system, _OWN, self.said.setText, self)
        self.own_table = table_view(self.own, tr("Tasks of the shop"), wide=4)
        self.column.addWidget(self.own_table, 2)
        self._last = self.table
        for table in (self.table, self.own_table):
            table.selectionModel().currentRowChanged.connect(partial(self._on_select, table))
        self.column.addWidget(self.said)
        self.told = Label()
        self.told.setWordWrap(True)
        self.column.addWidget(self.told)
        self.column.addWidget(Label(tr("How long things take one person, in minutes")))
        self.fields = Fields(session, system, _RATES, 5, whole=True)
        self.column.addWidget(self.fields)

    def show_shown(self, shown: Shown) -> None:
        self.fields.show_shown(shown)
        self.model.put(shown.whole.build.workers)
        self.own.put(shown.whole.build.own)
        self.told.setText(
            ""
            if shown.whole.build.workers
            else tr("Nobody is stated: two fitters who can do anything are planned with.")
        )

    def _more(self) -> None:
        whole = self.session.shown.whole
        self.said.setText(self.session.apply(add_entry("build.workers", plainest(Worker, whole), "Worker")) or "")

    def _add_task(self) -> None:
        whole = self.session.shown.whole
        self.said.setText(self.session.apply(add_entry("build.own", plainest(OwnTask, whole), "Task")) or "")

    def _less(self) -> None:
        """Take the selected worker, or the selected own task, away: whichever was selected last."""
        model, path = (self.own, "own") if self._last is self.own_table else (self.model, "workers")
        row = self._last.currentIndex().row()
        if not 0 <= row < model.rowCount():
            self.said.setText(tr("Select somebody, or a task, first."))
            return
        tag = model.record(row).tag
        self.said.setText(self.session.apply(remove_entry(f"build.{path}[{tag}]", tag)) or "")

    def _on_select(self, table: QTableView, *_rows: object) -> None:
        self._last = table
