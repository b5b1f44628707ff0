"""Joining: measured voltages in, what may be joined now out; the open-circuit curve says what a voltage can tell."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QColor, QPainter, QPen, QPolygonF

from weighty_axle.answers.bank.joining import Joining, PackJoin, curve, joining
from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.figures import FigureRow
from weighty_axle.desk.kit.leaves import Leaf, TwoLines
from weighty_axle.desk.kit.painting import CENTRE, RIGHT, Canvas, words
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import Edit, set_value
from weighty_axle.job.models.bank import Pack
from weighty_axle.physics.electric.cells import interpolated
from weighty_axle.units import CURRENT, NUMBER, VOLTAGE, QuantityError, System, parse, show

FIELDS = (Field("Current allowed while joining", "bank.join_a", CURRENT, empty="one pack's charge limit"),)
JoinRow = tuple[Pack, PackJoin | None]


def _measure(row: JoinRow, text: str) -> Edit:
    tag = row[0].tag
    if not text:
        return set_value(f"bank.packs[{tag}].open_v", None, f"{tag} not measured")
    volts = parse(text, VOLTAGE)
    return set_value(f"bank.packs[{tag}].open_v", volts, f"{tag} measured {volts:g} V")


def _age(row: JoinRow, factor: float) -> Edit:
    return set_value(
        f"bank.packs[{row[0].tag}].resistance_factor",
        factor,
        f"{row[0].tag} at {factor:g} times the datasheet's resistance",
    )


def _address(row: JoinRow, text: str) -> Edit:
    tag = row[0].tag
    if text in ("", "–"):
        return set_value(f"bank.packs[{tag}].address", None, f"{tag}: address by its place")
    if not text.isdigit():
        raise QuantityError(tr("An address is a whole number."))
    return set_value(f"bank.packs[{tag}].address", int(text), f"{tag}: address {text}")


def _soc(row: JoinRow) -> str:
    if row[1] is None:
        return "–"
    low, high = show(row[1].soc_low, "1"), show(row[1].soc_high, "1")
    return low if low == high else f"{low} – {high}"


def _verdict(row: JoinRow) -> str:
    if row[1] is None:
        return tr("not measured")
    return tr("may be joined") if row[1].joins else row[1].advice


COLUMNS = (
    Column("Pack", lambda row: row[0].tag, None),
    Column("Measured at rest", lambda row: "" if row[0].open_v is None else f"{row[0].open_v:.2f} V", None, _measure),
    Column("May hold", _soc, None),
    Column("Would carry at first", lambda row: "–" if row[1] is None else show(row[1].current_a.value, "A"), None),
    Column("Verdict", _verdict, None),
    Column("× resistance", lambda row: row[0].resistance_factor, NUMBER, _age),
    Column("Address", lambda row: "–" if row[0].address is None else row[0].address, None, _address),
)


class RestCurve(Canvas):
    """Open-circuit voltage of the pack over state of charge, with every measured pack as the range its voltage
    allows.
    """

    smooth = True

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.result: Joining | None = None
        self.setMinimumHeight(150)
        self.setAccessibleName(tr("Voltage at rest over state of charge"))

    def draw(self, painter: QPainter) -> None:
        now, design = look(), self._session.shown.design
        table, cells = curve(design), design.job.bank.spec.cells_in_series
        # The steep start is left out: what matters is how flat the rest is.
        low, high = interpolated(0.05, table.soc, table.cell_v) * cells, table.cell_v[-1] * cells
        area = QRectF(54, 20, self.width() - 70, self.height() - 46)

        def at(soc: float, volts: float) -> QPointF:
            return QPointF(
                area.left() + area.width() * soc, area.bottom() - area.height() * (volts - low) / (high - low)
            )

        title = tr(
            "At rest, 25 °C. On the plateau a voltage says little about the charge; 0 and 100 % are {empty} and "
            "{full} a cell."
        ).format(empty=show(table.empty_v, "V"), full=show(table.full_v, "V"))
        words(painter, QRectF(4, 0, self.width() - 8, 16), title, size=8.5, colour=now.muted)
        for step in range(6):
            volts = low + (high - low) * step / 5
            painter.setPen(QPen(QColor(now.line), 0.7))
            painter.drawLine(at(0, volts), at(1, volts))
            words(
                painter,
                QRectF(0, at(0, volts).y() - 8, 48, 16),
                f"{volts:.1f} V",
                size=7.5,
                colour=now.muted,
                align=RIGHT,
            )
            words(
                painter,
                QRectF(at(step / 5, low).x() - 20, area.bottom() + 2, 40, 14),
                f"{20 * step} %",
                size=7.5,
                colour=now.muted,
                align=CENTRE,
            )
        painter.setPen(QPen(QColor(now.live), 2))
        painter.drawPolyline(
            QPolygonF(
                [at(soc, cell_v * cells) for soc, cell_v in zip(table.soc, table.cell_v, strict=True) if soc >= 0.05]
            )
        )
        for index, pack in enumerate(self.result.packs if self.result else ()):
            volts = max(low, min(high, pack.open_v))
            left, right = at(pack.soc_low, volts), at(pack.soc_high, volts)
            painter.setPen(QPen(QColor(now.live if pack.joins else now.stop), 5))
            painter.drawLine(QPointF(left.x() - 2, left.y()), QPointF(right.x() + 2, right.y()))
            name = f"{pack.tag}{'' if pack.joins else ' ' + tr('apart')}"
            y = left.y() - 18 - 11 * (index % 3) if index % 6 < 3 else left.y() + 5 + 11 * (index % 3)
            words(
                painter,
                QRectF(right.x() - 34, y, 90, 13),
                name,
                size=7.5,
                bold=not pack.joins,
                colour=now.ink if pack.joins else now.stop,
            )


class JoinLeaf(Leaf):
    """Table, sentence, curve."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self._sentence = TwoLines(bold=True)
        self.column.addWidget(self._sentence)
        self._said = SaidLine()
        self.model = Records(session, system, COLUMNS, self._said.setText, self)
        self.table = table_view(self.model, tr("Packs to be joined"), wide=4)
        self.column.addWidget(self.table, 4)
        self.column.addWidget(self._said)
        self.fields = Fields(session, system, FIELDS, 1)
        self.column.addWidget(self.fields)
        self.curve = RestCurve(session)
        self.column.addWidget(self.curve, 2)
        caution = TwoLines()
        caution.setText(
            tr(
                "Joining packs: covers on, insulated tools, no metal on hands; a fuse or breaker of its own in "
                "every pack's lead, off while the last lug goes on."
            )
        )
        caution.setObjectName("muted")
        self.column.addWidget(caution)
        self.figures = FigureRow(system)
        self.column.addWidget(self.figures)
        self.listen(self.curve, self.figures)

    def show_shown(self, shown: Shown) -> None:
        result = joining(shown.design)
        by_tag: dict[str, Any] = {pack.tag: pack for pack in result.packs}
        self.model.put(tuple((pack, by_tag.get(pack.tag)) for pack in shown.job.bank.packs))
        self._sentence.setText(result.sentence)
        self.fields.show_shown(shown)
        self.figures.put((result.loop_ohm, result.allowed_v))
        self.curve.result = result
        self.curve.update()
