"""Services: what comes round, when it is due, and that it was done."""

from __future__ import annotations

from functools import partial
from typing import Any

from msgspec.structs import replace
from PySide6.QtWidgets import QLineEdit

from weighty_axle.answers.log.timeline import Due, services_due
from weighty_axle.desk.kit.boxes import number_box
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.days import signed, today
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import Edit
from weighty_axle.job.edits.log import drop_service, serviced, set_service
from weighty_axle.job.models.log import Service
from weighty_axle.units import QuantityError, System


def _changed(name: str, row: Due, value: Any) -> Edit:
    """The edit of a cell. Raises QuantityError."""
    old = row.service
    text = str(value).strip()
    if name == "every_months":
        if not text.isdigit() or not 1 <= int(text) <= 240:
            raise QuantityError(tr("Every so many months: 1 to 240."))
        return set_service(replace(old, every_months=int(text)), old.name)
    if name == "about":
        return set_service(replace(old, about=tuple(text.replace(",", " ").split())), old.name)
    return set_service(replace(old, **{name: text}), old.name)


_COLUMNS = (
    Column("Service", lambda row: row.service.name, None, partial(_changed, "name")),
    Column("Every, months", lambda row: str(row.service.every_months), None, partial(_changed, "every_months")),
    Column("Last done", lambda row: row.service.last_on, None, partial(_changed, "last_on"), clears=True),
    Column("About", lambda row: " ".join(row.service.about), None, partial(_changed, "about"), clears=True),
    Column("Due", lambda row: row.on.isoformat() if row.on is not None else tr("never done"), None),
    Column("", lambda row: _when(row), None),
)


def _when(row: Due) -> str:
    if row.days is None:
        return ""
    if row.days < 0:
        return tr("{n} days over").format(n=-row.days)
    return tr("in {n} days").format(n=row.days)


class ServicesLeaf(Leaf):
    """A new service above, all of them below, the next first."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.name = QLineEdit()
        self.name.setPlaceholderText(tr("What comes round: tighten, test, clean"))
        self.name.setAccessibleName(tr("Service"))
        self.name.setMaxLength(80)
        self.name.setMinimumWidth(240)
        self.name.returnPressed.connect(self.add)
        self.months = number_box(tr("Every so many months"), 12, 1, 240)
        self.row_of(self.name, self.months, ("Add", self.add))
        self.row_of(("Done today", self.done), ("Away", self.take_away), ("Write for calendars …", self._ask_calendar))
        self.presses["Add"].setObjectName("firm")
        self.said = SaidLine()
        self.column.addWidget(self.said)
        self.model = Records(session, system, _COLUMNS, self.said.setText, self)
        self.table = table_view(self.model, tr("Services"), wide=0)
        self.column.addWidget(self.table, 1)
        self.told = Label()
        self.column.addWidget(self.told)

    def show_shown(self, shown: Shown) -> None:
        due = services_due(shown.whole, today())
        self.model.put(due)
        soon = sum(one.soon for one in due)
        self.told.setText(
            tr("{soon} of {all} services are due within 30 days.").format(soon=soon, all=len(due))
            if due
            else tr("No service is stated: the first is due so many months after the handover.")
        )

    def add(self) -> None:
        """State a service as it stands above."""
        name = self.name.text().strip()
        if not name:
            self.said.setText(tr("Say what comes round."))
            return
        problem = self.session.apply(set_service(Service(name=name, every_months=round(self.months.value()))))
        self.said.setText(problem or "")
        if not problem:
            self.name.clear()

    @property
    def chosen(self) -> Due | None:
        """The service that is chosen."""
        row = self.table.currentIndex().row()
        return self.model.record(row) if 0 <= row < self.model.rowCount() else None

    def done(self) -> None:
        """The chosen service was done today."""
        if self.chosen is not None:
            self.said.setText(self.session.apply(serviced(self.chosen.service.name, signed()[0])) or "")

    def take_away(self) -> None:
        """Take the chosen service away."""
        if self.chosen is not None:
            self.said.setText(self.session.apply(drop_service(self.chosen.service.name)) or "")

    def _ask_calendar(self) -> None:
        self.wants.emit("services out")
