"""Entries: what happened, on a line of time and in words; searched as somebody types; a new one written above."""

from __future__ import annotations

from functools import partial
from typing import Any

from PySide6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit

from weighty_axle.answers.log.timeline import KIND_WORDS, OWN_KINDS, Happened, Search, happened
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.picture import PhotoTaking, Picture
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.kit.signing import InitialsEntry
from weighty_axle.desk.steps.log.line import TimeLine
from weighty_axle.desk.text import tip, tr
from weighty_axle.desk.work.commands import Command
from weighty_axle.desk.work.days import signed
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import Edit
from weighty_axle.job.edits.log import rewritten, unwritten, written
from weighty_axle.job.files.photos import photo
from weighty_axle.job.models.log import LogEntry, LogKind
from weighty_axle.job.tags import tagged, used_tags
from weighty_axle.units import QuantityError, System

_UNITS = {"hours": "h", "parts": "pcs"}


def _set_day(row: Happened, value: Any) -> Edit:
    if row.at is None:
        raise QuantityError(tr("This was written down in another step: it is changed there."))
    return rewritten(row.at, tr("Day of an entry"), on=str(value).strip())


def _set_about(row: Happened, value: Any) -> Edit:
    if row.at is None:
        raise QuantityError(tr("This was written down in another step: it is changed there."))
    return rewritten(row.at, tr("What an entry is about"), about=_tags(str(value)))


def _tags(text: str) -> tuple[str, ...]:
    return tuple(text.replace(",", " ").split())


_COLUMNS = (
    Column("On", lambda row: row.on, None, _set_day, clears=True),
    Column("Kind", lambda row: tr(KIND_WORDS[row.kind]), None),
    Column("About", lambda row: " ".join(row.about), None, _set_about, clears=True),
    Column("What happened", lambda row: row.words, None),
    Column("By", lambda row: row.by, None),
)


class EntriesLeaf(Leaf):
    """A new entry, the line of time, the search, what it found, and the photo beside it."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.photos = PhotoTaking(self, lambda words_: self.said.setText(words_), self._add)
        self.kind = QComboBox()
        self.kind.setAccessibleName(tr("Kind of entry"))
        for kind in OWN_KINDS:
            self.kind.addItem(tr(KIND_WORDS[kind]), kind)
        self.words = QLineEdit()
        self.words.setPlaceholderText(tr("What happened; tags in it are linked"))
        self.words.setAccessibleName(tr("What happened"))
        self.words.setMaxLength(2000)
        self.words.returnPressed.connect(self.add)
        self.amount = QLineEdit()
        self.amount.setPlaceholderText(tr("how much"))
        self.amount.setAccessibleName(tr("How much"))
        self.amount.setToolTip(tip(tr("Read, counted, or hours: 52.4 V, 2, 1.5")))
        self.amount.setMaximumWidth(90)
        self.initials = InitialsEntry()
        top = QHBoxLayout()
        for part, share in ((self.kind, 0), (self.words, 1), (self.amount, 0), (self.initials, 0)):
            top.addWidget(part, share)
        self.column.addLayout(top)
        self.search = QLineEdit()
        self.search.setPlaceholderText(tr("Search: words, tags, kinds, 2027-03, since:2027-01"))
        self.search.setAccessibleName(tr("Search"))
        self.search.setClearButtonEnabled(True)
        self.search.textChanged.connect(self._show_rows)
        self.row_of(
            ("Write it", self.add),
            ("With a photo …", self.photos.ask),
            ("Mended", self.mend),
            ("Away", self.take_away),
            ("Print …", partial(self.wants.emit, "log out")),
        )
        self.presses["Write it"].setObjectName("firm")
        self.presses["Mended"].setToolTip(tip(tr("The fault that is chosen was mended today")))
        self.line = TimeLine()
        self.line.chosen.connect(self._turn)
        self.column.addWidget(self.line)
        self.column.addWidget(self.search)
        self.said = SaidLine()
        self.model = Records(session, system, _COLUMNS, self.said.setText, self)
        self.table = table_view(self.model, tr("Log"), wide=3)
        self.table.selectionModel().currentRowChanged.connect(self._pick)
        self.picture = Picture()
        beside = QHBoxLayout()
        beside.addWidget(self.table, 3)
        beside.addWidget(self.picture, 1)
        self.column.addLayout(beside, 1)
        self.column.addWidget(self.said)
        self.told = Label()
        self.column.addWidget(self.told)
        self._search = Search(())
        self._of: tuple[object, ...] = ()
        self._found: tuple[Happened, ...] = ()

    def show_shown(self, shown: Shown) -> None:
        self.initials.put()
        job = shown.whole
        of = (job.log, job.proving, job.build.log)
        if len(self._of) != len(of) or any(a is not b for a, b in zip(of, self._of, strict=True)):
            self._of, self._search = of, Search(happened(job))
        self._show_rows()

    def _show_rows(self) -> None:
        self._found = self._search.found(self.search.text())
        self.model.put(self._found)
        open_ = sum(one.open for one in self._search.events)
        self.told.setText(
            tr("{found} of {all} shown; {open} faults open.").format(
                found=len(self._found), all=len(self._search.events), open=open_
            )
        )
        self._tell()

    def _show_line(self) -> None:
        kinds = {thing.tag: kind.word for kind, thing in tagged(self.session.shown.whole)}
        self.line.put(self._found, kinds, self.table.currentIndex().row())

    @property
    def chosen(self) -> Happened | None:
        """The entry that is chosen."""
        row = self.table.currentIndex().row()
        return self.model.record(row) if 0 <= row < self.model.rowCount() else None

    def _turn(self, at: int) -> None:
        self.table.selectRow(at)

    def _pick(self) -> None:
        """An entry was chosen: what it is about is chosen everywhere."""
        self._tell()
        one = self.chosen
        known = used_tags(self.session.shown.whole)
        about = [tag for tag in one.about if tag in known] if one is not None else []
        if about:
            self.session.select(*about)

    def _tell(self) -> None:
        one = self.chosen
        self.presses["Mended"].setEnabled(one is not None and one.open)
        self.presses["Away"].setEnabled(one is not None and one.at is not None)
        raw = photo(one.photo, self.session.path) if one is not None and one.photo else None
        self.picture.put(raw)
        self.picture.setVisible(one is not None and bool(one.photo))
        if one is not None and one.photo and raw is None:
            self.said.setText(
                tr("The photo {name} is neither in the job file nor on this machine.").format(name=one.photo)
            )
        self._show_line()

    # ---- writing ----

    def _entry(self, name: str = "") -> LogEntry | None:
        words = self.words.text().strip()
        amount, _, unit = self.amount.text().strip().partition(" ")
        value: float | None = None
        if amount:
            try:
                value = float(amount.replace(",", "."))
            except ValueError:
                self.said.setText(tr("“{amount}” is no number.").format(amount=amount[:20]))
                return None
        if not words and not name and value is None:
            self.said.setText(tr("Write what happened."))
            return None
        kind: LogKind = self.kind.currentData()
        kind = "photo" if name and kind == "visit" else kind
        known = used_tags(self.session.shown.whole)
        about = tuple(dict.fromkeys(one.strip(".,:;()") for one in words.split() if one.strip(".,:;()") in known))
        on, by = signed()
        unit = (unit or _UNITS.get(kind, ""))[:20]
        return LogEntry(kind=kind, on=on, words=words, about=about[:40], by=by, value=value, unit=unit, photo=name)

    def add(self) -> None:
        """Write the entry as it stands above."""
        self._add("")

    def _add(self, name: str) -> None:
        entry = self._entry(name)
        if entry is None:
            return
        problem = self.session.apply(written(entry))
        self.said.setText(problem or "")
        if not problem:
            self.words.clear()
            self.amount.clear()

    def mend(self) -> None:
        """The chosen fault was mended today."""
        one = self.chosen
        if one is not None and one.at is not None and one.open:
            self._do(rewritten(one.at, tr("A fault is mended"), mended_on=signed()[0]))

    def take_away(self) -> None:
        """Take the chosen entry away; its photo stays in the file."""
        one = self.chosen
        if one is not None and one.at is not None:
            self._do(unwritten(one.at))

    def _do(self, edit: Edit) -> None:
        self.said.setText(self.session.apply(edit) or "")

    def commands(self) -> list[Command]:
        return [
            Command(tr("Search the log"), "", self.search.setFocus),
            Command(tr("Write in the log"), "", self.words.setFocus),
        ]
