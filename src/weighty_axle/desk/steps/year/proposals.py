"""Proposals: whole first designs at three levels, each with its year and every choice with its reason."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QListWidget

from weighty_axle.answers.year.weathers import Progress
from weighty_axle.desk.kit.leaves import Leaf, TwoLines
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import EditRefusedError
from weighty_axle.job.edits.variants import turn_to
from weighty_axle.job.models.document import Job
from weighty_axle.studies.propose import LEVELS, Proposal, free_name, propose
from weighty_axle.units import ENERGY, FRACTION, MASS, NUMBER, POWER, System

_COLUMNS = (
    Column("Level", lambda one: one.level.name, None),
    Column("Bank", lambda one: one.design.bank.usable_energy_wh.value, ENERGY),
    Column("Modules", lambda one: one.design.roof.rated_w.value, POWER),
    Column("Inverters", lambda one: f"{len(one.job.inverters.units)} × {one.job.inverters.spec.name}", None),
    Column("Missing", lambda one: one.result.missing_share.value, FRACTION),
    Column("Gen. h", lambda one: round(one.result.generator_h.value), NUMBER),
    Column("Mass", lambda one: one.mass_kg, MASS),
    Column("Cost", lambda one: round(one.bill.total.value) or None, NUMBER),
    Column("Stop", lambda one: len(one.stops), None),
)


class ProposalsLeaf(Leaf):
    """Press, table, reasons of the one that is chosen."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.row_of(
            ("Propose three designs", self.start),
            ("Put it beside this one", self._beside),
            ("Go on with it", self._go_on),
        )
        self.presses["Propose three designs"].setObjectName("firm")
        self.sentence = TwoLines(bold=True)
        self.column.addWidget(self.sentence)
        self.said = SaidLine()
        self.model = Records(session, system, _COLUMNS, self.said.setText, self)
        self.table = table_view(self.model, tr("Proposals"), wide=3)
        self.table.selectionModel().currentRowChanged.connect(self._tell)
        self.column.addWidget(self.table, 1)
        self.reasons = QListWidget()
        self.reasons.setAccessibleName(tr("What was chosen, and why"))
        self.reasons.setWordWrap(True)
        self.reasons.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.column.addWidget(self.reasons, 2)
        self.column.addWidget(self.said)
        self._of: Job | None = None
        self._made: tuple[Proposal, ...] = ()

    def start(self) -> None:
        """Make them in the background; each shows as soon as it is there."""
        job = self.session.shown.whole
        self._made = ()
        self.work(tr("Proposals"), partial(self._propose, job), partial(self._done, job), self._failed)
        if self._task is not None:
            self._task.progressed.connect(self._look)

    def _propose(self, job: Job, progress: Progress) -> str:
        """On the work's thread: what is made so far is kept for the window to look at; a sentence where nothing is."""
        made: tuple[Proposal, ...] = ()
        self._of = job
        try:
            for one in propose(job, progress):
                made = (*made, one)
                self._made = made
                progress(len(made) / len(LEVELS), one.level.name)
        except EditRefusedError as error:
            return str(error)
        return ""

    def _look(self, _share: float, _words: str) -> None:
        if len(self._made) != self.model.rowCount():
            self.model.put(self._made)
            if len(self._made) == 1:
                self.table.selectRow(0)

    def _failed(self, why: str) -> None:
        self.sentence.setText(why)

    def _done(self, job: Job, refused: str) -> None:
        self._of = job
        self.model.put(self._made)
        if self._made and self.table.currentIndex().row() < 0:
            self.table.selectRow(0)
        self.show_shown(self.session.shown)
        if refused:
            self.sentence.setText(refused)

    def _tell(self) -> None:
        self.reasons.clear()
        one = self._chosen()
        if one is None:
            return
        for choice in one.choices:
            self.reasons.addItem(f"{choice.what}: {choice.why}")
        self.reasons.addItem(one.limits)
        for finding in one.stops:
            self.reasons.addItem(tr("Stop: {words}").format(words=finding.sentence(self.system)))

    def _chosen(self) -> Proposal | None:
        row = self.table.currentIndex().row()
        return self._made[row] if 0 <= row < len(self._made) else None

    def _beside(self) -> bool:
        one = self._chosen()
        if one is None or self._of is not self.session.shown.whole:
            self.said.setText(tr("Propose for the job as it is now, and choose one."))
            return False
        why = self.session.apply(one.edit)
        self._of = self.session.shown.whole  # with one more variant the rest is as it was
        self.said.setText(why or "")
        return why is None

    def _go_on(self) -> None:
        one = self._chosen()
        name = free_name(self.session.shown.whole, one.level.name) if one is not None else ""
        if self._beside():
            self.said.setText(self.session.apply(turn_to(name)) or "")

    def show_shown(self, shown: Shown) -> None:
        if not self._made:
            text = tr(
                "Voltage, inverters, roof, strings, packs, chargers and places from what is to run, where and when."
            )
        elif self._of is not shown.whole:
            text = tr("The job has changed since these were proposed.")
        else:
            text = tr(
                "Three levels; none is left with a Stop of its own. Take one as a start and change what you like."
            )
        self.sentence.setText(text)
