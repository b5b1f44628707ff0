"""Signals: every sense, data and switch lead with its cable, ends, length and fuse."""

from __future__ import annotations

from typing import Any

from weighty_axle.design.plainest import plainest
from weighty_axle.design.wiring.signals import LaidSignal
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.commands import Command
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import Edit, of_whole, set_value, with_value
from weighty_axle.job.edits.sheet import add_entry
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.wiring import Signal
from weighty_axle.job.tags import next_tag
from weighty_axle.units import CURRENT, LENGTH, System, show


def _state(row: LaidSignal, name: str, value: Any, words: str) -> Edit:
    """Set a value of a stated lead; one that follows from the parts is stated first."""
    if row.stated:
        return of_whole(set_value(f"signals[{row.tag}].{name}", value, words))

    def apply(job: Job) -> Job:
        tag = next_tag(job, "signal lead")
        made = Signal(tag=tag, name=row.name, kind=row.lead.kind, start=row.start, end=row.end)
        job = with_value(job, "signals", (*job.signals, made))
        return set_value(f"signals[{tag}].{name}", value, "").apply(job)

    return of_whole(Edit(words, apply, path="signals"))


_COLUMNS = (
    Column("Lead", lambda row: row.tag, None),
    Column("What", lambda row: row.name, None),
    Column("From", lambda row: row.start, None),
    Column("To", lambda row: row.end, None),
    Column("Cable", lambda row: row.lead.cable, None),
    Column(
        "Long",
        lambda row: row.length_m.value,
        LENGTH,
        lambda row, value: _state(row, "measured_m", value, f"Length of {row.tag}"),
        clears=True,
    ),
    Column("Works to", lambda row: row.lead.longest_m, LENGTH),
    Column(
        "Fuse",
        lambda row: row.fuse_a if row.fused else None,
        CURRENT,
        lambda row, value: _state(row, "fuse_a", value, f"Fuse of {row.tag}"),
        clears=True,
    ),
)


class SignalsLeaf(Leaf):
    """The table, what it adds up to, a press to add a lead."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.said = SaidLine()
        self.model = Records(session, system, _COLUMNS, self.said.setText, self)
        self.table = table_view(self.model, tr("Signal and sense leads"), wide=1)
        self.table.selectionModel().currentRowChanged.connect(self._on_row)
        self.column.addWidget(self.table, 1)
        self.column.addWidget(self.said)
        self.total = Label()
        self.row_of(("Add a signal lead", self.add), self.total)
        self.figures = self.figure_row()
        self.follow(self.table, self.model, lambda row: row.tag)

    def add(self) -> None:
        """State a lead and open its sheet."""
        made = plainest(Signal, self.session.shown.whole)
        refused = self.session.apply(of_whole(add_entry("signals", made, "signals")))
        self.said.setText(refused or "")
        if not refused:
            self.session.sheet_asked.emit(str(getattr(made, "tag", "")))

    def commands(self) -> list[Command]:
        return [Command(tr("Add a signal lead"), "", self.add)]

    def _on_row(self) -> None:
        row = self.table.currentIndex().row()
        if 0 <= row < self.model.rowCount():
            one = self.model.record(row)
            self.session.select(*((one.tag,) if one.stated else (one.start, one.end)))
            self.figures.put((one.length_m,))

    def show_shown(self, shown: Shown) -> None:
        found = shown.design.signals
        self.model.put(found)
        metres = sum(one.length_m.value for one in found)
        self.total.setText(
            tr("{count} leads, {metres} in all").format(count=len(found), metres=show(metres, "m", self.system))
        )
        row = self.table.currentIndex().row()
        self.figures.put((found[row].length_m,) if 0 <= row < len(found) else ())
