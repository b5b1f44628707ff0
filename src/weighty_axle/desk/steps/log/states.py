"""States: the job as it stood, recorded, compared with now, looked at, and put back."""

from __future__ import annotations

from functools import partial
from pathlib import Path
from typing import Any

from msgspec.structs import replace
from PySide6.QtWidgets import QLineEdit

from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import Leaf, TwoLines
from weighty_axle.desk.kit.records import Column, Records, table_view
from weighty_axle.desk.steps.log.lines import Line, line_columns
from weighty_axle.desk.text import tip, tr
from weighty_axle.desk.work.beside import open_beside, write_beside
from weighty_axle.desk.work.commands import Command
from weighty_axle.desk.work.days import signed
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.checks.problem import JobError
from weighty_axle.job.edits.log import drop_state, keep_state, put_back
from weighty_axle.job.files.states import job_then, recorded
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.log import RecordedState
from weighty_axle.rules.registry import Finding
from weighty_axle.studies.changes import Comparing, Difference
from weighty_axle.units import System, show

_STATES = (
    Column("On", lambda row: row.on, None),
    Column("State", lambda row: row.name, None),
    Column("Kept", lambda row: tr("for good") if row.handover else "", None),
    Column("By", lambda row: row.by, None),
)


class StatesLeaf(Leaf):
    """States above, the difference of the chosen one to now below."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.name = QLineEdit()
        self.name.setPlaceholderText(tr("Name of the state"))
        self.name.setAccessibleName(tr("Name of the state"))
        self.name.setMaxLength(80)
        self.name.setMaximumWidth(240)
        self.row_of(self.name, ("Record", self.record), ("Record the handover", partial(self.record, handover=True)))
        self.presses["Record"].setObjectName("firm")
        self.presses["Record the handover"].setToolTip(tip(tr("Kept for good: what was handed over")))
        self.row_of(("Look at it", self.look_at), ("Put it back", self.put_it_back), ("Let it go", self.let_go))
        self.presses["Look at it"].setToolTip(tip(tr("In a window of its own; its file is not touched")))
        self.said = TwoLines()
        self.model = Records(session, system, _STATES, self.said.setText, self)
        self.table = table_view(self.model, tr("Recorded states"), wide=1)
        self.table.setMaximumHeight(170)
        self.table.selectionModel().currentRowChanged.connect(self._tell)
        self.column.addWidget(self.table)
        self.column.addWidget(self.said)
        self.lines = Records(session, system, line_columns("Then", "Now"), self.said.setText, self)
        self.differs = table_view(self.lines, tr("Then and now"), wide=1)
        self.column.addWidget(self.differs, 1)
        self.told = Label()
        self.column.addWidget(self.told)
        self._then: tuple[str, Job] | None = None
        self._comparing = Comparing()

    def show_shown(self, shown: Shown) -> None:
        states = shown.whole.log.states
        self.model.put(tuple(reversed(states)))
        self.told.setText(tr("{n} states are recorded.").format(n=len(states)))
        if states and self.table.currentIndex().row() < 0:
            self.table.selectRow(0)
        self._tell()

    @property
    def chosen(self) -> RecordedState | None:
        """The state that is chosen."""
        row = self.table.currentIndex().row()
        return self.model.record(row) if 0 <= row < self.model.rowCount() else None

    def record(self, *_pressed: object, handover: bool = False) -> None:
        """Record the job as it stands."""
        job = self.session.shown.whole
        on, by = signed()
        usual = tr("Handover {day}") if handover else tr("State of {day}")
        name = self.name.text().strip() or usual.format(day=job.proving.handover.on or on)
        try:
            made = recorded(job, name, on, by, handover=handover)
        except JobError as error:
            self.said.setText(str(error))
            return
        problem = self.session.apply(keep_state(made))
        self.said.setText(problem or "")
        if not problem:
            self.name.clear()
            self.table.selectRow(0)

    def _tell(self) -> None:
        one = self.chosen
        for name in ("Look at it", "Put it back", "Let it go"):
            self.presses[name].setEnabled(one is not None)
        if one is None:
            self.lines.put(())
            self.said.setText(tr("Record a state before anything is changed; then what changed since is told here."))
            return
        self.quietly(
            (one, self.session.shown.whole),
            partial(_compared, self._comparing, one, self.session.shown.whole),
            self._compared,
        )

    def _compared(self, found: tuple[Job, Difference] | str | None) -> None:
        if found is None or isinstance(found, str):
            self._then = None
            self.lines.put(())
            self.said.setText(found or tr("The state could not be compared."))
            return
        one = self.chosen
        assert one is not None
        then, differs = found
        self._then = (one.name, then)
        self.lines.put(tuple(_lines(differs)))
        self.said.setText(
            tr("Nothing differs from now.")
            if differs.nothing
            else tr("{stated} stated differently, {moved} figures moved, {came} findings came, {went} went.").format(
                stated=len(differs.stated), moved=len(differs.moved), came=len(differs.came), went=len(differs.went)
            )
        )

    def look_at(self) -> None:
        """Look at the chosen state in a window of its own."""
        if self._then is not None:
            name, then = self._then
            self.work(
                tr("Opening {name}").format(name=name), partial(write_beside, then, name), self._written, self._say
            )

    def _say(self, words: str) -> None:
        self.said.setText(words)

    def _written(self, path: Path) -> None:
        started = open_beside(path)
        self._say("" if started else tr("No second window could be opened; the state is in {path}.").format(path=path))

    def put_it_back(self) -> None:
        """Put the chosen state back; what stands now is recorded first."""
        one = self.chosen
        if one is None:
            return
        job = self.session.shown.whole
        on, by = signed()
        try:
            then = job_then(one)
            now = recorded(job, tr("Before “{name}” was put back").format(name=one.name)[:80], on, by)
        except JobError as error:
            self.said.setText(str(error))
            return
        self.said.setText(self.session.apply(put_back(then, one.name, now)) or "")

    def let_go(self) -> None:
        """Let the chosen state go; one of a handover stays."""
        one = self.chosen
        if one is not None:
            self.said.setText(self.session.apply(drop_state(one.name)) or "")

    def commands(self) -> list[Command]:
        return [Command(tr("Record this state of the job"), "", self.record)]


def _compared(comparing: Comparing, state: RecordedState, now: Job, progress: Any) -> tuple[Job, Difference] | str:
    """A state beside now, its log left out."""
    progress(0.1, tr("Opening the state"))
    try:
        then = job_then(state)
    except JobError as error:
        return str(error)
    return then, comparing.difference(then, replace(now, log=then.log))


def _lines(found: Difference) -> list[Line]:
    lines = [Line("stated", one.path, one.before, one.after) for one in found.stated]
    for moved in found.moved:
        figure = moved.after or moved.before
        assert figure is not None
        before, after = (show(one.value, one.unit) if one is not None else "" for one in (moved.before, moved.after))
        lines.append(Line("moved", figure.name, before, after))
    lines += [Line("came", _severity(one), "", one.sentence()) for one in found.came]
    lines += [Line("went", _severity(one), one.sentence(), "") for one in found.went]
    return lines


def _severity(one: Finding) -> str:
    return tr({"stop": "Stop", "check": "Check", "note": "Note"}[one.rule.severity])
