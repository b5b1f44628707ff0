"""Data links between the packs, and room for more of them with what one more changes."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QColor, QPainter, QPen

from weighty_axle.answers.bank.room import Change, expansion
from weighty_axle.design.bank.data_links import ChainLink, data_chain
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.painting import CENTRE, Canvas, words
from weighty_axle.desk.kit.records import Column, Records, table_view
from weighty_axle.desk.kit.theme import look, scaled
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.units import System, show


class Chain(Canvas):
    """Packs in a row, their addresses, the cables between their ports, a terminator at each end."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__()
        self._session, self._system = session, system
        self.setFixedHeight(92)
        self.setAccessibleName(tr("Data links between the packs"))

    def draw(self, painter: QPainter) -> None:
        now, chain = look(), data_chain(self._session.shown.job.bank.packs)
        pitch = (self.width() - 150) / max(1, len(chain))
        words(painter, QRectF(2, 24, 66, 30), tr("inverters, monitor"), size=7.5, wrap=True, colour=now.muted)
        for index, link in enumerate(chain):
            rect = QRectF(74 + index * pitch, 18, min(pitch - 26, 96), 40)
            painter.setPen(QPen(QColor(now.live), 2 if link.master else 1.2))
            painter.setBrush(QColor(now.live_soft))
            painter.drawRect(rect)
            words(painter, QRectF(rect.x(), rect.y() + 3, rect.width(), 16), link.tag, size=9, bold=True, align=CENTRE)
            role = tr("master, {n}") if link.master else tr("address {n}")
            words(
                painter,
                QRectF(rect.x(), rect.y() + 20, rect.width(), 14),
                role.format(n=link.address),
                size=7.5,
                align=CENTRE,
            )
            painter.setPen(QPen(QColor(now.ink), 1.4))
            painter.drawLine(QPointF(rect.left() - (26 if index else 10), 38), QPointF(rect.left(), 38))
            if link.cable_m:
                words(
                    painter,
                    QRectF(rect.right() - 10, 60, 46, 14),
                    show(link.cable_m, "m", self._system),
                    size=7.5,
                    colour=now.muted,
                    align=CENTRE,
                )
            else:
                painter.drawLine(QPointF(rect.right(), 38), QPointF(rect.right() + 14, 38))
                painter.fillRect(QRectF(rect.right() + 14, 31, 5, 14), QColor(now.ink))
                words(painter, QRectF(rect.right() - 4, 60, 70, 14), tr("terminator"), size=7.5, colour=now.muted)
            if index == 0:
                painter.fillRect(QRectF(rect.x() + 4, 60, 5, 14), QColor(now.ink))
                words(painter, QRectF(rect.x() + 12, 74, 80, 14), tr("terminator"), size=7.5, colour=now.muted)


PORT_COLUMNS = (
    Column("Pack", lambda link: link.tag, None),
    Column("Address", lambda link: link.address, None),
    Column("Port in", lambda link: link.port_in, None),
    Column("Port out", lambda link: link.port_out, None),
    Column("Cable to the next", lambda link: show(link.cable_m, "m") if link.cable_m else "–", None),
)
ROOM_COLUMNS = (
    Column("Room for more strings", lambda room: room.what, None),
    Column("More", lambda room: room.more, None),
    Column("How it is known", lambda room: room.why, None),
)


def _difference(change: Change) -> str:
    difference = change.after.value - change.before.value
    sign = "+" if difference > 0 else "−" if difference < 0 else "±"
    return f"{sign}{show(abs(difference), change.before.unit)}"


CHANGE_COLUMNS = (
    Column("One string more changes", lambda change: change.before.name, None),
    Column("Now", lambda change: show(change.before.value, change.before.unit), None),
    Column("Then", lambda change: show(change.after.value, change.after.unit), None),
    Column("Change", _difference, None),
)


class RoomLeaf(Leaf):
    """Chain and ports, then room and changes."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.chain = Chain(session, system)
        self.column.addWidget(self.chain)
        self.models: list[Records] = []
        self._more = Label()
        self._more.setFont(scaled(11, bold=True))
        self._table(tr("Ports of the data links"), PORT_COLUMNS, 2)
        self.column.addWidget(self._more)
        self._table(tr("Room for more packs"), ROOM_COLUMNS, 2)
        self._table(tr("What one more changes"), CHANGE_COLUMNS, 0)
        self.listen(self.chain)

    def _table(self, name: str, columns: tuple[Column, ...], wide: int) -> None:
        model = Records(self.session, self.system, columns, self._more.setText, self)
        self.models.append(model)
        self.column.addWidget(table_view(model, name, wide=wide), 1)

    def show_shown(self, shown: Shown) -> None:
        grown = expansion(shown.design)
        chain: tuple[ChainLink, ...] = data_chain(shown.job.bank.packs)
        for model, rows in zip(self.models, (chain, grown.rooms, grown.changes), strict=True):
            model.put(rows)
        least = min(grown.rooms, key=lambda room: room.more)
        self._more.setText(tr("Room for {n} more; first to run out: {what}.").format(n=grown.more, what=tr(least.what)))
        self.chain.update()
