"""Log: what was done, seen and photographed while building, entry by entry."""

from __future__ import annotations

from PySide6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit

from weighty_axle.answers.plan.plan import Plan
from weighty_axle.answers.plan.torques import joints_due
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.picture import PhotoTaking, Picture
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.kit.signing import InitialsEntry
from weighty_axle.desk.steps.plan.planned import PlanLeaf
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.days import signed
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.build import noted, unnoted
from weighty_axle.job.files.photos import photo
from weighty_axle.job.models.build import Noted
from weighty_axle.job.stated import Stated
from weighty_axle.units import System


class _Entry(Stated, frozen=True, kw_only=True):
    """An entry with where it stands in the log."""

    at: int
    noted: Noted


_COLUMNS = (
    Column("On", lambda row: row.noted.on, None),
    Column("By", lambda row: row.noted.by, None),
    Column("About", lambda row: row.noted.about, None),
    Column("Note", lambda row: row.noted.words, None),
    Column("Photo", lambda row: tr("yes") if row.noted.photo else "", None),
)


class LogLeaf(PlanLeaf):
    """A new entry above, entries below with the photo beside them."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.photos = PhotoTaking(self, lambda words_: self.said.setText(words_), self._add)
        self.about = QComboBox()
        self.about.setEditable(True)
        self.about.setAccessibleName(tr("About"))
        self.about.setFixedWidth(200)
        self.words = QLineEdit()
        self.words.setPlaceholderText(tr("What was done or seen"))
        self.words.setAccessibleName(tr("Note"))
        self.words.setMinimumWidth(250)
        self.words.returnPressed.connect(self.add)
        self.initials = InitialsEntry()
        self.row_of(self.about, self.words, self.initials)
        self.row_of(("Note it", self.add), ("With a photo …", self.photos.ask), ("Take the entry away", self.take_away))
        self.presses["Note it"].setObjectName("firm")
        self.said = SaidLine()
        self.column.addWidget(self.said)
        self.model = Records(session, system, _COLUMNS, self.said.setText, self)
        self.table = table_view(self.model, tr("Build log"), wide=3)
        self.table.selectionModel().currentRowChanged.connect(self._tell)
        self.picture = Picture()
        beside = QHBoxLayout()
        beside.addWidget(self.table, 3)
        beside.addWidget(self.picture, 2)
        self.column.addLayout(beside, 1)
        self.told = Label()
        self.column.addWidget(self.told)

    def show_shown(self, shown: Shown) -> None:
        self.initials.put()
        log = shown.whole.build.log
        self.model.put(tuple(_Entry(at=at, noted=log[at]) for at in reversed(range(len(log)))))
        hours = sum(one.hours_h for one in shown.whole.build.booked)
        self.told.setText(tr("{count} entries; {hours} h are booked.").format(count=len(log), hours=f"{hours:g}"))
        self.ask_plan(shown.house)

    def show_plan(self, found: Plan) -> None:
        house = self.session.shown.house
        keys = [one.task.key for one in found.planned] + [one.key for one in joints_due(house)]
        if [self.about.itemText(at) for at in range(self.about.count())] != keys:
            typed = self.about.currentText()
            self.about.clear()
            self.about.addItems(keys)
            if typed:
                self.about.setEditText(typed)

    def _entry(self, name: str = "") -> Noted | None:
        about = self.about.currentText().strip()[:60]
        if not about:
            self.said.setText(tr("Say what the entry is about."))
            return None
        if not name and not self.words.text().strip():
            self.said.setText(tr("Write what was done or seen."))
            return None
        on, by = signed()
        return Noted(about=about, words=self.words.text().strip()[:2000], on=on, by=by, photo=name)

    def add(self) -> None:
        """Add an entry as it is written."""
        self._add("")

    def _add(self, name: str) -> None:
        entry = self._entry(name)
        if entry is not None:
            problem = self.session.apply(noted(entry))
            self.said.setText(problem or "")
            if not problem:
                self.words.clear()

    def take_away(self) -> None:
        """Take the selected entry away; its photo stays in the file."""
        row = self.table.currentIndex().row()
        if 0 <= row < self.model.rowCount():
            self.said.setText(self.session.apply(unnoted(self.model.record(row).at)) or "")

    def _tell(self) -> None:
        row = self.table.currentIndex().row()
        one = self.model.record(row).noted if 0 <= row < self.model.rowCount() else None
        raw = photo(one.photo, self.session.path) if one is not None and one.photo else None
        self.picture.put(raw)
        if one is not None and one.photo and raw is None:
            self.said.setText(
                tr("The photo {name} is neither in the job file nor on this machine.").format(name=one.photo)
            )
