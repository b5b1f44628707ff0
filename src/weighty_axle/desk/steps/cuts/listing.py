"""List: every conductor as it is cut, with both ends; ticked off with day and initials."""

from __future__ import annotations

from PySide6.QtWidgets import QCheckBox, QLineEdit

from weighty_axle.answers.cuts.cut import Cut, Landing, colour_words
from weighty_axle.answers.cuts.reels import CutState, in_no_design, states
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.kit.signing import InitialsEntry
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.days import signed
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.build import cut_made, cut_undone
from weighty_axle.job.models.build import CutDone
from weighty_axle.units import LENGTH, System, conductor_words


def _of(cut: Cut) -> str:
    cores = f", {cut.cores} {tr('cores')}" if cut.cores > 1 else ""
    colour = f", {tr(colour_words(cut.colour))}" if cut.colour != "cable" else ""
    return f"{conductor_words(cut.size)}{cores}{colour}"


def _with(cut: Cut, end: Landing) -> str:
    """What an end is landed with, the size left away that stands beside it."""
    return end.fitting.replace(f" {cut.size}", "").replace("lug ×", tr("lug"))


_COLUMNS = (
    Column("Conductor", lambda row: row.cut.tag, None),
    Column("Cut at", lambda row: row.cut.cut_m.value, LENGTH),
    Column("Of", lambda row: _of(row.cut), None),
    Column("Cut", lambda row: f"{row.done.on} {row.done.by}".strip() if row.done is not None else "", None),
    Column("End 1", lambda row: f"{row.cut.start.at}, {_with(row.cut, row.cut.start)}", None),
    Column("End 2", lambda row: f"{row.cut.end.at}, {_with(row.cut, row.cut.end)}", None),
)


class ListLeaf(Leaf):
    """Search, table, what differs."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.search = QLineEdit()
        self.search.setPlaceholderText(tr("Tag or conductor"))
        self.search.setAccessibleName(tr("Tag or conductor"))
        self.search.textChanged.connect(self._show_rows)
        self.open_only = QCheckBox(tr("only what is to cut"))
        self.open_only.toggled.connect(self._show_rows)
        self.initials = InitialsEntry()
        self.row_of(self.search, self.open_only)
        self.row_of(
            ("It is cut", self.tick), ("It is not", self.untick), self.initials, ("Write as a table …", self._write)
        )
        self.said = SaidLine()
        self.model = Records(session, system, _COLUMNS, self.said.setText, self)
        self.table = table_view(self.model, tr("Conductors to cut"), wide=4)
        self.table.selectionModel().currentRowChanged.connect(self._tell)
        self.column.addWidget(self.table, 1)
        self.column.addWidget(self.said)
        self.told = Label()
        self.told.setWordWrap(True)
        self.column.addWidget(self.told)
        self.figures = self.figure_row()
        self._states: tuple[CutState, ...] = ()
        self._left: tuple[CutDone, ...] = ()
        self.follow(self.table, self.model, lambda row: row.cut.way)

    def _write(self) -> None:
        self.wants.emit("cuts out")

    @property
    def chosen(self) -> CutState | None:
        """The conductor that is selected."""
        row = self.table.currentIndex().row()
        return self.model.record(row) if 0 <= row < self.model.rowCount() else None

    def tick(self) -> None:
        """The conductor is cut, off no reel in particular."""
        row = self.chosen
        if row is None:
            self.said.setText(tr("Select a conductor first."))
            return
        on, by = signed()
        cut = row.cut
        done = CutDone(conductor=cut.tag, size=cut.sold_as, colour=cut.colour, length_m=cut.cut_m.value, on=on, by=by)
        self.said.setText(self.session.apply(cut_made(done)) or "")

    def untick(self) -> None:
        """It is not cut after all."""
        row = self.chosen
        self.said.setText((self.session.apply(cut_undone(row.cut.tag)) or "") if row is not None else "")

    def show_shown(self, shown: Shown) -> None:
        self.initials.put()
        self._states = states(shown.house)
        self._left = in_no_design(shown.house, tuple(one.cut for one in self._states))
        self._show_rows()

    def _show_rows(self) -> None:
        typed = self.search.text().strip().lower()
        rows = tuple(
            one
            for one in self._states
            if (not typed or typed in one.cut.tag.lower() or typed in one.cut.sold_as.lower())
            and (one.to_cut or not self.open_only.isChecked())
        )
        self.model.put(rows)
        self._tell()

    def _tell(self) -> None:
        row = self.chosen
        done = sum(1 for one in self._states if not one.to_cut)
        said = tr("{done} of {all} conductors are cut.").format(done=done, all=len(self._states))
        if self._left:
            gone = ", ".join(one.conductor for one in self._left)
            said += " " + tr("Cut and in no design now: {tags}; keep them as off-cuts.").format(tags=gone)
        if row is not None:
            turn = tr(" Lugs {turn}.").format(turn=row.cut.turn) if row.cut.turn else ""
            said = f"{row.cut.start.label}; {row.cut.end.label}. {row.cut.insulation}.{turn}"
            said += f" {row.differs[0].upper()}{row.differs[1:]}." if row.differs else ""
            self.figures.put((row.cut.cut_m,))
        else:
            self.figures.put(())
        self.told.setText(said)
