"""Run cards: check after check with the band it should be in; a reading is judged as it is typed."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QCheckBox

from weighty_axle.answers.first_power.check import Check
from weighty_axle.design.table import Design
from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import Leaf, TwoLines
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.kit.signing import InitialsEntry
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.days import signed
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import Edit
from weighty_axle.job.models.proving import Reading
from weighty_axle.units import NUMBER, QuantityError, System

CLEAR_SKY = (
    Field("or clear sky on", "proving.clear_on", str, help="year-month-day, where there is no meter"),
    Field("at, by the sun", "proving.clear_h", NUMBER, empty="no clear sky", help="12 when it stands highest"),
)
"""Fields of a sun nobody measured."""

READ_COLUMN = 3
"""Where a reading is typed."""

VERDICT_WORDS = {"open": "open", "good": "good", "bad": "not right", "asked": "look again"}


def band_words(row: Check) -> str:
    """The band a reading should be in."""
    if row.low is None or row.high is None:
        return "–"
    low = f"{row.low:.4g}"
    return f"≥ {low} {row.unit}" if math.isinf(row.high) else f"{low} – {row.high:.4g} {row.unit}"


def _value(row: Check) -> float | None:
    return row.reading.value if row.reading is not None else None


def signed_words(row: Check) -> str:
    """Initials and day of a reading."""
    return f"{row.reading.by} {row.reading.on}".strip() if row.reading is not None else ""


class RunCardLeaf(Leaf):
    """What the readings are taken in, presses, what is next, the checks. A subclass says which checks, in which groups,
    how a reading is written down and taken away, and what is said when all are good.
    """

    groups: tuple[str, ...]
    fields_shown: tuple[Field, ...]
    all_good: str
    wide = 1
    """Column that takes the room that is left."""

    def columns(self) -> tuple[Column, ...]:
        """Columns of the table."""
        return (
            Column("Group", lambda row: tr(row.group), None),
            Column("Check", lambda row: row.words, None),
            Column("Should be", band_words, None),
            Column("Read", _value, NUMBER, self.typed, clears=True),
            Column("", lambda row: tr(VERDICT_WORDS[row.verdict]), None),
            Column("By", signed_words, None),
        )

    def more_presses(self) -> tuple[tuple[str, Callable[[], object]], ...]:
        """Presses beside ticking off and opening again."""
        return ()

    def shows(self, one: Check) -> bool:
        """Whether a check is among those looked at."""
        return not one.done or not self.open_only.isChecked()

    def found(self, house: Design) -> tuple[Check, ...]:
        """The checks of a design."""
        raise NotImplementedError

    def write_down(self, reading: Reading) -> Edit:
        """The edit of a reading."""
        raise NotImplementedError

    def take_away(self, one: Check) -> Edit:
        """The edit that takes the last reading of a check away."""
        raise NotImplementedError

    def refused(self, one: Check) -> str:
        """Why a check is not ticked off here; empty: it is."""
        del one
        return ""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.fields = Fields(session, system, self.fields_shown, len(self.fields_shown), whole=True)
        self.column.addWidget(self.fields)
        self.open_only = QCheckBox(tr("only what is open"))
        self.open_only.toggled.connect(self._show_rows)
        self.initials = InitialsEntry()
        own = (("It is so", self.tick), ("Open again", self.untick))
        self.row_of(*own, self.initials, self.open_only)
        if self.more_presses():
            self.row_of(*self.more_presses())
        self.presses["It is so"].setObjectName("firm")
        self.told = TwoLines(bold=True)
        self.column.addWidget(self.told)
        self.said = SaidLine()
        self.model = Records(session, system, self.columns(), self.said.setText, self)
        self.table = table_view(self.model, tr("Checks"), wide=self.wide)
        self.table.verticalHeader().setDefaultSectionSize(30)
        self.table.installEventFilter(self)
        self._after = ""
        self.table.selectionModel().currentRowChanged.connect(self._tell)
        self.column.addWidget(self.table, 1)
        self.column.addWidget(self.said)
        self.means = Label()
        self.means.setWordWrap(True)
        self.column.addWidget(self.means)
        self.figures = self.figure_row()
        self._found: tuple[Check, ...] = ()

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Return goes on: it ticks off, or opens the cell of the reading; a good reading goes to the next by itself."""
        pressed = event.type() == QEvent.Type.KeyPress and watched is self.table and self.table.hasFocus()
        key = event.key() if pressed and isinstance(event, QKeyEvent) else None
        # While a cell is open it has the focus, and Return is its own.
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.chosen is not None:
            if self.ticks(self.chosen):
                self.tick()
            else:
                self.table.edit(self.model.index(self.table.currentIndex().row(), READ_COLUMN))
            return True
        return super().eventFilter(watched, event)

    def ticks(self, one: Check) -> bool:
        """Whether a check is ticked off rather than read."""
        return one.low is None

    def _go_on(self) -> None:
        """To the next row once what was typed is good; else it stays, to be read what it means."""
        rows = [self.model.record(at) for at in range(self.model.rowCount())]
        at = next((at for at, one in enumerate(rows) if one.key == self._after), None)
        self._after = ""
        if at is not None and rows[at].done and at + 1 < len(rows):
            self.table.setCurrentIndex(self.model.index(at + 1, READ_COLUMN))

    def show_shown(self, shown: Shown) -> None:
        self.fields.show_shown(shown)
        self.initials.put()
        self._found = self.found(shown.house)
        self._show_rows()
        self._go_on()

    def _show_rows(self) -> None:
        self.model.put(tuple(one for one in self._found if self.shows(one)))
        done = sum(one.done for one in self._found)
        said = tr("{done} of {all} are good.").format(done=done, all=len(self._found))
        group = next(
            (name for name in self.groups if any(not one.done for one in self._found if one.group == name)), ""
        )
        if group:
            first = next(one for one in self._found if one.group == group and not one.done)
            said += " " + tr("Next: {group}. {check}").format(group=tr(group), check=first.says or first.words)
        else:
            said += " " + tr(self.all_good)
        self.told.setText(said)
        self._tell()

    @property
    def chosen(self) -> Check | None:
        """The check that is selected."""
        row = self.table.currentIndex().row()
        return self.model.record(row) if 0 <= row < self.model.rowCount() else None

    def _tell(self) -> None:
        one = self.chosen
        self.means.setText(self.meaning(one) if one is not None else "")
        self.figures.put((one.wanted,) if one is not None and one.wanted is not None else ())
        if one is not None and one.tags:
            self.session.select(*one.tags)

    def meaning(self, one: Check) -> str:
        """What is said under the table of the selected check."""
        return f"{one.words}. {one.says}".strip()

    def typed(self, row: Check, value: Any) -> Edit:
        """The edit of a reading that is typed. Raises QuantityError."""
        if row.low is None:
            raise QuantityError(tr("This one is ticked off; there is nothing to read."))
        if value is None:
            return self.take_away(row)
        if not math.isfinite(value) or abs(value) > 100_000:
            raise QuantityError(tr("No meter reads that."))
        self._after = row.key
        on, by = signed()
        return self.write_down(Reading(check=row.key, value=value, on=on, by=by))

    def tick(self) -> None:
        """The check is done; one with a reading wants that."""
        one = self.chosen
        if one is None:
            self.said.setText(tr("Select a check first."))
        elif not self.ticks(one):
            self.said.setText(tr("Type what was read; it is judged at once."))
        elif self.refused(one):
            self.said.setText(tr(self.refused(one)))
        else:
            self._after = one.key
            on, by = signed()
            self.said.setText(self.session.apply(self.write_down(Reading(check=one.key, on=on, by=by))) or "")

    def untick(self) -> None:
        """It is open again."""
        one = self.chosen
        if one is not None and one.reading is not None:
            self.said.setText(self.session.apply(self.take_away(one)) or "")
