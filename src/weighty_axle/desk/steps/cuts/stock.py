"""Stock: reels and off-cuts of the shop, for all its jobs; what was cut here is taken off it by one press."""

from __future__ import annotations

from typing import Any

import msgspec
from PySide6.QtWidgets import QComboBox

from weighty_axle.answers.cuts.conductors import cuts
from weighty_axle.answers.cuts.cut import colour_words
from weighty_axle.answers.cuts.reels import booked_into
from weighty_axle.desk.kit.boxes import number_box
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.build import cuts_booked
from weighty_axle.job.files.disk import UnreadableError
from weighty_axle.job.files.stock import Stock, StockError, StockPiece, read_stock, stock_file, write_stock
from weighty_axle.job.models.build import Colour
from weighty_axle.units import LENGTH, System, conductor_words

_COLUMNS = (
    Column("Piece", lambda row: row.name, None),
    Column("Conductor", lambda row: row.conductor, None),
    Column("Colour", lambda row: tr(colour_words(row.colour)), None),
    Column("Left on it", lambda row: row.length_m, LENGTH),
    Column("From", lambda row: row.origin, None),
)


class StockLeaf(Leaf):
    """Table of pieces, presses, what stands to be booked."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.row_of(("Take what was cut off the stock", self.book), ("Take the selected piece out", self.drop))
        self.presses["Take what was cut off the stock"].setObjectName("firm")
        self.kind = QComboBox()
        self.kind.setAccessibleName(tr("Conductor of the piece"))
        self.length = number_box(tr("Length of the piece"), 5.0, 0.05, 2000.0, unit="m", decimals=2)
        self.row_of(Label(tr("A piece that lies there:")), self.kind, self.length, ("Put it in", self.add))
        self.said = SaidLine()
        self.model = Records(session, system, _COLUMNS, self.said.setText, self)
        self.table = table_view(self.model, tr("Stock of conductors"), wide=4)
        self.column.addWidget(self.table, 1)
        self.column.addWidget(self.said)
        self.told = Label()
        self.told.setWordWrap(True)
        self.column.addWidget(self.told)
        self.stock = Stock()
        self._kinds: tuple[tuple[str, Colour], ...] = ()

    def show_shown(self, shown: Shown) -> None:
        self._read()
        self.model.put(self.stock.pieces)
        kinds = tuple(dict.fromkeys(cut.kind for cut in cuts(shown.house)))
        if kinds != self._kinds:
            self._kinds, chosen = kinds, self.kind.currentText()
            self.kind.clear()
            self.kind.addItems([f"{conductor_words(one)}, {tr(colour_words(colour))}" for one, colour in kinds])
            self.kind.setCurrentIndex(max(0, self.kind.findText(chosen)))
        open_ = [one for one in shown.whole.build.cuts if not one.booked]
        named = sum(1 for one in open_ if one.piece)
        self.told.setText(
            tr(
                "{count} conductors are cut and not yet taken off the stock, {named} of them off a named reel. "
                "The stock is the shop's: what is booked here is not undone with the job. It stands in {file}."
            ).format(count=len(open_), named=named, file=stock_file())
        )

    def _read(self) -> bool:
        try:
            self.stock = read_stock(stock_file())
        except (StockError, UnreadableError, OSError) as error:
            self.said.setText(str(error))
            return False
        return True

    def _write(self, stock: Stock) -> bool:
        try:
            write_stock(stock_file(), stock)
        except OSError as error:
            self.said.setText(tr("The stock could not be written: {why}.").format(why=error.strerror or error))
            return False
        self.stock = stock
        self.model.put(stock.pieces)
        return True

    def book(self) -> None:
        """Take what was cut off the stock; reels that were begun join it."""
        whole = self.session.shown.whole
        if not any(not one.booked for one in whole.build.cuts):
            self.said.setText(tr("Nothing was cut since the stock was last written."))
            return
        if not self._read():  # another program may have written it
            return
        if self._write(booked_into(self.stock, whole.build.cuts, whole.build, whole.name)):
            self.said.setText(self.session.apply(cuts_booked()) or "")

    def add(self) -> None:
        """Put a piece in that lies in the shop."""
        if self.kind.currentIndex() < 0 or not self._read():
            return
        conductor, colour = self._kinds[self.kind.currentIndex()]
        piece = StockPiece(
            name=self._free(f"{conductor}, {colour_words(colour)}"),
            conductor=conductor,
            colour=colour,
            length_m=round(self.length.value(), 3),
            origin=tr("counted in the shop"),
        )
        self._write(msgspec.structs.replace(self.stock, pieces=(*self.stock.pieces, piece)))

    def _free(self, stem: str) -> str:
        names = {one.name for one in self.stock.pieces}
        return next(name for at in range(1, len(names) + 2) if (name := f"{stem[:70]} {at}") not in names)

    def drop(self) -> None:
        """Take a piece out of the stock."""
        row = self.table.currentIndex().row()
        if not 0 <= row < self.model.rowCount():
            self.said.setText(tr("Select a piece first."))
            return
        gone: Any = self.model.record(row)
        if self._read():
            self._write(
                msgspec.structs.replace(
                    self.stock, pieces=tuple(one for one in self.stock.pieces if one.name != gone.name)
                )
            )
