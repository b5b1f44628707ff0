"""Joints: every stud with its torque; what was tightened is written down with day and initials, and looked at."""

from __future__ import annotations

from functools import partial
from typing import Any

from msgspec.structs import replace
from PySide6.QtWidgets import QCheckBox

from weighty_axle.answers.plan.torques import JointDue, joints_due
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.kit.signing import InitialsEntry
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.days import signed
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.build import loosened, tightened
from weighty_axle.job.edits.edit import Edit
from weighty_axle.job.models.build import Torque
from weighty_axle.units import NUMBER, QuantityError, System


def _record(row: JointDue, nm: float) -> Edit:
    on, by = signed()
    return tightened(Torque(end=row.key, torque_nm=nm, on=on, by=by))


def _typed(row: JointDue, value: Any) -> Edit:
    if value is None:
        return loosened(row.key)
    if not 0.1 <= value <= 500:
        raise QuantityError(tr("A torque between 0.1 and 500 N m."))
    return _record(row, value)


def _tightened(row: JointDue) -> float | None:
    return row.record.torque_nm if row.record is not None else None


_COLUMNS = (
    Column("Joint", lambda row: row.key, None),
    Column("At", lambda row: row.at, None),
    Column("Stud", lambda row: row.stud, None),
    Column("Wanted, N m", lambda row: row.wanted_nm, NUMBER),
    Column(
        "Tightened to",
        lambda row: row.record.torque_nm if row.record is not None else None,
        NUMBER,
        _typed,
        clears=True,
    ),
    Column("By", lambda row: f"{row.record.by} {row.record.on}".strip() if row.record is not None else "", None),
    Column("Looked at", lambda row: row.record.seen_by if row.record is not None else "", None),
)


class JointsLeaf(Leaf):
    """Presses, table, how many are open."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.open_only = QCheckBox(tr("only what is open"))
        self.open_only.toggled.connect(self._show_rows)
        self.initials = InitialsEntry()
        self.row_of(
            ("Tightened as wanted", self.tighten),
            ("Looked at", self.look_at),
            ("Opened again", self.loosen),
            self.initials,
        )
        self.row_of(self.open_only)
        self.presses["Tightened as wanted"].setObjectName("firm")
        self.said = SaidLine()
        self.model = Records(session, system, _COLUMNS, self.said.setText, self)
        self.table = table_view(self.model, tr("Joints to tighten"), wide=1)
        self.table.verticalHeader().setDefaultSectionSize(30)
        self.column.addWidget(self.table, 1)
        self.column.addWidget(self.said)
        self.told = Label()
        self.told.setWordWrap(True)
        self.column.addWidget(self.told)
        self._due: tuple[JointDue, ...] = ()
        self.follow(self.table, self.model, lambda row: row.way)

    def show_shown(self, shown: Shown) -> None:
        self.initials.put()
        self._due = joints_due(shown.house)
        self._show_rows()

    def _show_rows(self) -> None:
        rows = tuple(one for one in self._due if one.record is None or not self.open_only.isChecked())
        self.model.put(rows)
        done = sum(1 for one in self._due if one.record is not None)
        off = ", ".join(one.key for one in self._due if one.off)
        said = tr("{done} of {all} joints are tightened and written down; all must be before first power.").format(
            done=done, all=len(self._due)
        )
        self.told.setText(said + (" " + tr("Off their value: {joints}.").format(joints=off) if off else ""))

    def _with(self, make: partial[Edit] | Any) -> None:
        at = self.table.currentIndex().row()
        if not 0 <= at < self.model.rowCount():
            self.said.setText(tr("Select a joint first."))
            return
        edit = make(self.model.record(at))
        if edit is None:
            self.said.setText(tr("This joint has no record yet."))
            return
        self.said.setText(self.session.apply(edit) or "")
        # The next one under it, so that one press after another does a whole board.
        if not self.open_only.isChecked() and at + 1 < self.model.rowCount():
            self.table.selectRow(at + 1)

    def tighten(self) -> None:
        """The joint is tightened to what is wanted."""
        self._with(lambda row: _record(row, row.wanted_nm))

    def loosen(self) -> None:
        """The joint was opened again."""
        self._with(lambda row: loosened(row.key) if row.record is not None else None)

    def look_at(self) -> None:
        """Somebody else has looked at the joint."""
        _, by = signed()
        self._with(
            lambda row: tightened(replace(row.record, seen_by=by or tr("seen"))) if row.record is not None else None
        )
