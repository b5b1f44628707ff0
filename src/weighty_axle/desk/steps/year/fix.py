"""What would fix it: the smallest changes after which the year meets what is wanted."""

from __future__ import annotations

from functools import partial

from weighty_axle.answers.year.fix import Fix, FixResult, fixes
from weighty_axle.answers.year.weathers import Progress
from weighty_axle.design.table import Design
from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.leaves import Leaf, TwoLines
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.units import FRACTION, MASS, NUMBER, SMALL_SHARE, System

FIX_FIELDS = (
    Field("Generator hours wanted, at most", "year.most_generator_h", NUMBER),
    Field("May be missing", "year.most_unmet_share", SMALL_SHARE),
)
_COLUMNS = (
    Column("Change", lambda one: one.words, None),
    Column("Missing then", lambda one: one.missing_share, FRACTION),
    Column("Generator, h", lambda one: round(one.generator_h, 1), NUMBER),
    Column("Cost more", lambda one: one.cost, NUMBER),
    Column("Mass more", lambda one: one.mass_kg, MASS),
    Column("Meets it", lambda one: tr("yes") if one.meets else tr("not quite"), None),
)


class FixLeaf(Leaf):
    """Goals, press, sentence, table; one press makes the chosen change."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.fields = Fields(session, system, FIX_FIELDS, 4)
        self.column.addWidget(self.fields)
        self.row_of(("Find what would fix it", self.start), ("Make this change", self._take))
        self.presses["Find what would fix it"].setObjectName("firm")
        self.sentence = TwoLines(bold=True)
        self.column.addWidget(self.sentence)
        self.said = SaidLine()
        self.model = Records(session, system, _COLUMNS, self.said.setText, self)
        self.table = table_view(self.model, tr("Changes that would fix it"), wide=0)
        self.column.addWidget(self.table, 1)
        self.column.addWidget(self.said)
        self._of: Design | None = None
        self._result: FixResult | None = None

    def start(self) -> None:
        """Search in the background."""
        design = self.session.shown.design
        self.work(tr("What would fix it"), partial(_search, design), partial(self._done, design), self.sentence.setText)

    def _done(self, design: Design, result: FixResult) -> None:
        self._of, self._result = design, result
        self.model.put(result.fixes)
        if result.fixes:
            self.table.selectRow(0)
        self.show_shown(self.session.shown)

    def _take(self) -> None:
        row = self.table.currentIndex().row()
        if self._of is not self.session.shown.design or not 0 <= row < self.model.rowCount():
            self.said.setText(tr("Search for the design as it is now, and choose a change."))
            return
        one: Fix = self.model.record(row)
        self.said.setText(self.session.apply(one.edit) or "")

    def show_shown(self, shown: Shown) -> None:
        self.fields.show_shown(shown)
        if self._result is None:
            self.sentence.setText(
                tr("Modules, packs, inverters, alternator chargers and habits are tried against the goals above.")
            )
        elif self._of is not shown.design:
            self.sentence.setText(tr("The job has changed since this was searched."))
        else:
            self.sentence.setText(self._result.words)


def _search(design: Design, progress: Progress) -> FixResult:
    return fixes(design, progress)
