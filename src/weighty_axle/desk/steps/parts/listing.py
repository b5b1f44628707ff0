"""List: every part with how many, price, status, date; out to a table and back."""

from __future__ import annotations

from functools import partial
from typing import Any

from PySide6.QtWidgets import QComboBox, QLineEdit

from weighty_axle.answers.parts.listing import STATUS_WORDS, PartLine, PartsList, parts_list
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.days import today
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.build import drop_part, set_part
from weighty_axle.job.edits.edit import Edit
from weighty_axle.job.edits.year import set_price
from weighty_axle.job.models.build import Status
from weighty_axle.units import NUMBER, QuantityError, System

_BY_WORDS: dict[str, Status] = {words: status for status, words in STATUS_WORDS.items()}


def _status(row: PartLine, text: Any) -> Edit:
    status = _BY_WORDS.get(str(text).strip().lower())
    if status is None:
        raise QuantityError(tr("A status is {words}.").format(words=", ".join(_BY_WORDS)))
    return reached(row, status)


def reached(row: PartLine, status: Status) -> Edit:
    """A part that got so far: as many as are bought are counted, unless others were said."""
    count = row.counted if row.counted is not None else row.to_buy.value
    changes: dict[str, Any] = {"status": status, "count": None if status == "to_order" else count}
    if status in ("here", "fitted"):
        changes["due"] = ""
    return set_part(row.part, f"{row.part} is {STATUS_WORDS[status]}", **changes)


def _count(row: PartLine, value: Any) -> Edit:
    return set_part(row.part, f"{row.part}: {value:g} counted" if value is not None else "", count=value)


def _due(row: PartLine, text: Any) -> Edit:
    return set_part(row.part, f"{row.part} comes on {text}" if text else f"{row.part}: no day said", due=str(text))


def _price(row: PartLine, value: Any) -> Edit:
    if value is not None and value < 0:
        raise QuantityError(tr("A price is 0 or more."))
    return set_price(row.priced_as, value)


def _supplier(row: PartLine, text: Any) -> Edit:
    return set_part(row.part, supplier=str(text))


def _pack(row: PartLine, value: Any) -> Edit:
    return set_part(row.part, pack_of=value)


def _many(row: PartLine, value: float) -> str:
    return f"{value:.4g} m" if row.by_metre else f"{value:g}"


_COLUMNS = (
    Column("Part", lambda row: row.part, None),
    Column("Wanted", lambda row: _many(row, row.wanted.value), None),
    Column("Pack", lambda row: row.pack_of, NUMBER, _pack, clears=True),
    Column("Buy", lambda row: _many(row, row.to_buy.value), None),
    Column("Price", lambda row: row.price, NUMBER, _price, clears=True),
    Column("All", lambda row: round(row.total, 2) if row.total is not None else None, NUMBER),
    Column("Status", lambda row: tr(STATUS_WORDS[row.status]), None, _status),
    Column("Counted", lambda row: row.counted, NUMBER, _count, clears=True),
    Column("Comes", lambda row: row.due.isoformat() if row.due is not None else "", None, _due),
    Column("Supplier", lambda row: row.supplier, None, _supplier),
)
_ALL = "all kinds"


class ListLeaf(Leaf):
    """Search and kind, table, what differs, presses."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.search = QLineEdit()
        self.search.setPlaceholderText(tr("Part or tag"))
        self.search.setAccessibleName(tr("Part or tag"))
        self.search.textChanged.connect(self._show_rows)
        self.kind = QComboBox()
        self.kind.setAccessibleName(tr("Kind"))
        self.kind.currentIndexChanged.connect(self._show_rows)
        self.row_of(self.search, self.kind)
        self.row_of(
            ("Ordered", partial(self._reach, "ordered")),
            ("Here", partial(self._reach, "here")),
            ("Fitted", partial(self._reach, "fitted")),
            ("Write as a table …", partial(self.wants.emit, "parts out")),
            ("Take in a table …", partial(self.wants.emit, "parts in")),
        )
        self.said = SaidLine()
        self.model = Records(session, system, _COLUMNS, self.said.setText, self)
        self.table = table_view(self.model, tr("Parts"), wide=0)
        self.table.selectionModel().currentRowChanged.connect(self._tell)
        self.column.addWidget(self.table, 1)
        self.column.addWidget(self.said)
        self.told = Label()
        self.told.setWordWrap(True)
        self.column.addWidget(self.told)
        self.figures = self.figure_row()
        self._listed: PartsList | None = None

    @property
    def chosen(self) -> PartLine | None:
        """The part that is selected."""
        row = self.table.currentIndex().row()
        return self.model.record(row) if 0 <= row < self.model.rowCount() else None

    def _reach(self, status: Status) -> None:
        row = self.chosen
        self.said.setText(
            (self.session.apply(reached(row, status)) or "") if row is not None else tr("Select a part first.")
        )

    def show_shown(self, shown: Shown) -> None:
        self._listed = parts_list(shown.house, today())
        kinds = [_ALL, *dict.fromkeys(one.kind for one in self._listed.lines)]
        if [self.kind.itemText(at) for at in range(self.kind.count())] != [tr(one) for one in kinds]:
            self.kind.blockSignals(True)
            self.kind.clear()
            for one in kinds:
                self.kind.addItem(tr(one), one)
            self.kind.blockSignals(False)
        self._show_rows()

    def _show_rows(self) -> None:
        if self._listed is None:
            return
        typed, kind = self.search.text().strip().lower(), self.kind.currentData()
        rows = tuple(
            one
            for one in self._listed.lines
            if kind in (None, _ALL, one.kind)
            and (not typed or typed in one.part.lower() or any(typed in tag.lower() for tag in one.of))
        )
        self.model.put(rows)
        self._tell()

    def _tell(self) -> None:
        if self._listed is None:
            return
        row = self.chosen
        if row is not None:
            self.figures.put((self._listed.cost, self._listed.mass_kg, row.wanted, row.to_buy))
            words = [tr("For {tags}.").format(tags=", ".join(row.of[:14]) + (" …" if len(row.of) > 14 else ""))]
            words += [row.differs + "."] if row.differs else []
            self.told.setText(" ".join(words))
        else:
            self.figures.put((self._listed.cost, self._listed.mass_kg))
            left = ", ".join(one.part for one in self._listed.left_over)
            self.told.setText(tr("Bought and in no design now: {parts}.").format(parts=left) if left else "")

    def put_away(self, part: str) -> None:
        """Say nothing more of a part that is in no design."""
        self.said.setText(self.session.apply(drop_part(part)) or "")
