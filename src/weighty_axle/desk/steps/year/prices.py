"""Prices: every part that is bought, with what it costs as the installer states it."""

from __future__ import annotations

from typing import Any

from weighty_axle.answers.year.cost import BillRow, bill
from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import Edit
from weighty_axle.job.edits.year import set_price
from weighty_axle.units import NUMBER, QuantityError, System


def _set_price(row: BillRow, value: Any) -> Edit:
    if value is not None and value < 0:
        raise QuantityError(tr("A price is 0 or more."))
    return set_price(row.part, value)


_COLUMNS = (
    Column("Part", lambda row: row.part, None),
    Column("Kind", lambda row: row.kind, None),
    Column("How many", lambda row: row.count, NUMBER),
    Column("By", lambda row: tr("metre") if row.by_metre else tr("piece"), None),
    Column("Price", lambda row: row.price, NUMBER, _set_price, clears=True),
    Column("All of it", lambda row: round(row.total, 2) if row.total is not None else None, NUMBER),
)


class PricesLeaf(Leaf):
    """Currency, table, sum."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.fields = Fields(session, system, (Field("Currency", "year.currency", str, wide=2),), 3, whole=True)
        self.column.addWidget(self.fields)
        self.said = SaidLine()
        self.model = Records(session, system, _COLUMNS, self.said.setText, self)
        self.table = table_view(self.model, tr("Prices of parts"), wide=0)
        self.column.addWidget(self.table, 1)
        self.column.addWidget(self.said)
        self.told = Label()
        self.column.addWidget(self.told)
        self.figures = self.figure_row()

    def show_shown(self, shown: Shown) -> None:
        self.fields.show_shown(shown)
        found = bill(shown.house)
        self.model.put(found.rows)
        self.figures.put((found.total,))
        if found.unpriced:
            self.told.setText(tr("{count} parts have no price: the sum is of the others.").format(count=found.unpriced))
        else:
            self.told.setText(tr("All parts have a price."))
