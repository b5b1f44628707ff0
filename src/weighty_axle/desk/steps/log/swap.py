"""Swap: a unit for one of another type: what differs, which leads are too short, what must change, all as one edit."""

from __future__ import annotations

from functools import partial
from typing import Any

from PySide6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit

from weighty_axle.design.table import Design
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import Leaf, TwoLines
from weighty_axle.desk.kit.records import Records, table_view
from weighty_axle.desk.steps.log.lines import Line, line_columns
from weighty_axle.desk.text import tip, tr
from weighty_axle.desk.work.commands import Command
from weighty_axle.desk.work.days import signed
from weighty_axle.desk.work.own_types import lists_of
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.checks.problem import JobError
from weighty_axle.job.edits.edit import WHOLE, Edit, EditRefusedError, value_at
from weighty_axle.job.edits.log import keep_state
from weighty_axle.job.files.states import recorded
from weighty_axle.job.models.document import Job, items
from weighty_axle.job.stated import Place
from weighty_axle.job.tags import tags_of
from weighty_axle.reference.own_types import Datasheet
from weighty_axle.studies.swap import Swap, spec_path, swap
from weighty_axle.units import System

UNITS = ("inverter", "pack", "controller", "converter")


class SwapLeaf(Leaf):
    """Unit, type and place above; what must change first below, then leads and datasheets."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.unit = QComboBox()
        self.unit.setAccessibleName(tr("Unit"))
        self.unit.currentIndexChanged.connect(self._offer)
        self.type = QComboBox()
        self.type.setAccessibleName(tr("New type"))
        self.type.currentIndexChanged.connect(self._compare)
        top = QHBoxLayout()
        top.addWidget(self.unit)
        top.addWidget(self.type, 1)
        self.column.addLayout(top)
        self.places: dict[str, QLineEdit] = {}
        for name, words in (("x_m", "along"), ("y_m", "across"), ("z_m", "up")):
            entry = QLineEdit()
            entry.setPlaceholderText(tr(words))
            entry.setAccessibleName(tr("New place, {words}").format(words=tr(words)))
            entry.setToolTip(tip(tr("Its new place in metres; empty: where the old one is")))
            entry.setMaximumWidth(70)
            entry.editingFinished.connect(self._compare)
            self.places[name] = entry
        self.row_of(*self.places.values(), ("Swap it", self.swap_it))
        self.presses["Swap it"].setObjectName("firm")
        self.presses["Swap it"].setToolTip(tip(tr("One step that can be undone; what stands now is recorded first")))
        self.said = TwoLines(bold=True)
        self.column.addWidget(self.said)
        self.model = Records(session, system, line_columns("Old", "New"), self.said.setText, self)
        self.table = table_view(self.model, tr("Old against new"), wide=1)
        self.table.setWordWrap(True)
        self.column.addWidget(self.table, 1)
        self.told = Label()
        self.column.addWidget(self.told)
        self.found: Swap | None = None
        self._types: tuple[Datasheet, ...] = ()

    def show_shown(self, shown: Shown) -> None:
        tags = list(tags_of(shown.whole, *UNITS))
        if [self.unit.itemData(at) for at in range(self.unit.count())] != tags:
            chosen = self.unit.currentData()
            self.unit.blockSignals(True)
            self.unit.clear()
            for tag in tags:
                self.unit.addItem(f"{tag}: {_spec(shown.whole, tag).name}", tag)
            self.unit.setCurrentIndex(max(0, self.unit.findData(chosen)))
            self.unit.blockSignals(False)
        self._offer()

    def _offer(self, *_index: int) -> None:
        """Types the unit can be swapped for: own ones first."""
        tag = self.unit.currentData()
        if not tag:
            self.said.setText(tr("There is no unit to swap."))
            return
        old = _spec(self.session.shown.whole, tag)
        self._types = tuple(one for one in lists_of(type(old)) if one != old)
        names = [one.name for one in self._types]
        if [self.type.itemText(at) for at in range(self.type.count())] != names:
            self.type.blockSignals(True)
            self.type.clear()
            self.type.addItems(names)
            self.type.blockSignals(False)
        self._compare()

    def _place(self) -> Place | None:
        """The new place; None where the old one stays. Raises ValueError."""
        typed = {name: entry.text().strip().replace(",", ".") for name, entry in self.places.items()}
        if not any(typed.values()):
            return None
        job = self.session.shown.whole
        old = next(one.place for one in items(job) if one.tag == self.unit.currentData())
        return Place(**{name: float(text) if text else getattr(old, name) for name, text in typed.items()})

    def _compare(self, *_index: int) -> None:
        at = self.type.currentIndex()
        tag = self.unit.currentData()
        self.presses["Swap it"].setEnabled(False)
        if not tag or not 0 <= at < len(self._types):
            self.model.put(())
            return
        try:
            place = self._place()
        except ValueError:
            self.said.setText(tr("A place is three numbers in metres."))
            return
        house = self.session.shown.house
        key = (house, self._types[at], tag, str(place))
        self.quietly(key, partial(_compared, house, tag, self._types[at], place), self._compared)

    def _compared(self, found: Swap | str | None) -> None:
        self.found = found if isinstance(found, Swap) else None
        if not isinstance(found, Swap):
            self.model.put(())
            self.said.setText(found or tr("They could not be compared."))
            return
        lines = [Line("must change", words) for words in found.must]
        lines += [
            Line("lead", f"{one.tag}: {one.lands}", f"{one.has_m:.2f} m", f"{one.needs_m:.2f} m") for one in found.leads
        ]
        lines += [Line("datasheet", one.title, one.before, one.after) for one in found.differs if one.title != "Type"]
        lines += [Line("goes away", one.sentence()) for one in found.went]
        self.model.put(tuple(lines))
        short = sum(one.short_m > 0 for one in found.leads)
        self.said.setText(
            tr("{units}: {n} things must change, {short} of {all} leads are too short.").format(
                units=", ".join(found.together), n=len(found.must), short=short, all=len(found.leads)
            )
        )
        cut = sum(one.cut for one in found.leads)
        self.told.setText(
            tr("{cut} of {all} leads are said to be cut; the others are taken as the cut list has them.").format(
                cut=cut, all=len(found.leads)
            )
        )
        self.presses["Swap it"].setEnabled(True)

    def swap_it(self) -> None:
        """Swap, with what stands now recorded first, as one edit; written into the log."""
        if self.found is None:
            return
        made = self.found
        on, by = signed()
        try:
            now = recorded(self.session.shown.whole, tr("Before {tag} was swapped").format(tag=made.tag), on, by)
        except JobError as error:
            self.said.setText(str(error))
            return

        def apply(job: Job) -> Job:
            return made.edit.apply(keep_state(now).apply(job))

        self.said.setText(self.session.apply(Edit(made.edit.label, apply, system=WHOLE)) or made.edit.label)

    def commands(self) -> list[Command]:
        return [
            Command(tr("Swap {tag}").format(tag=self.unit.itemData(at)), "", partial(self.unit.setCurrentIndex, at))
            for at in range(self.unit.count())
        ]


def _spec(job: Job, tag: str) -> Datasheet:
    found: Datasheet = value_at(job, spec_path(job, tag))
    return found


def _compared(design: Design, tag: str, new: Datasheet, place: Place | None, progress: Any) -> Swap | str:
    progress(0.1, tr("Old against new"))
    on, by = signed()
    try:
        return swap(design, tag, new, place=place, on=on, by=by)
    except EditRefusedError as error:
        return str(error)
