"""The tell line: figures of the whole job that move while you edit, each with its change since the last step."""

from __future__ import annotations

from msgspec import Struct
from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QWidget

from weighty_axle.design.figures import Figure
from weighty_axle.design.table import Design
from weighty_axle.desk.kit.painting import Canvas, words
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session
from weighty_axle.units import System, show


class Tell(Struct, frozen=True):
    """One cell: heading, the figure, what the number means beside it, and whether more is better."""

    heading: str
    figure: Figure
    beside: str
    more_is_better: bool


def _legs(design: Design) -> tuple[Figure, str]:
    if design.inverters.currents is not None:
        return design.inverters.currents.leg_balance, tr("on the heavier leg")
    leg = design.inverters.legs[0]
    return leg.worst_va, tr("at most, AC")


def tells(design: Design) -> tuple[Tell, ...]:
    """The cells of a design."""
    worst = min(design.roof.strings, key=lambda string: string.cold_margin_v.value, default=None)
    axle = min(design.place.axles, key=lambda one: one.margin_kg.value)
    balance, beside = _legs(design)
    cells = [
        Tell(tr("Energy a day"), design.brief.energy_per_day_wh, "", False),
        Tell(tr("Bank lasts"), design.bank.days, "", True),
        Tell(tr("Legs") if design.inverters.currents else tr("Highest load"), balance, beside, False),
        Tell(tr("Cold string margin"), worst.cold_margin_v, worst.tag, True) if worst else None,
        Tell(
            tr("Charge, worst case"),
            design.charging.into_bank_a,
            tr("of {limit}").format(limit=show(design.bank.charge_limit_a.value, "A")),
            False,
        ),
        Tell(tr("Tightest axle"), axle.margin_kg, tr("left, {axle}").format(axle=axle.tag), True),
        Tell(tr("Worst drop"), design.flow.worst_drop_share, design.flow.worst_way, False),
    ]
    return tuple(cell for cell in cells if cell is not None)


class TellLine(Canvas):
    """Bottom line of the window. Press a cell to open its workings."""

    def __init__(self, session: Session, system: System, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self.system = session, system
        self._at = 0
        self.setFixedHeight(58)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setAccessibleName(tr("Tell line: figures of the whole job"))
        session.changed.connect(self._on_changed)

    def _on_changed(self) -> None:
        """Paint again where a figure, or its change, is another than the one on show."""
        cells, before = tells(self._session.shown.design), tells(self._session.shown.before)
        self.shows(
            *(part for cell in cells for part in (cell.heading, cell.figure.value, cell.beside)),
            *(part for cell in before for part in (cell.heading, cell.figure.value)),
        )

    def draw(self, painter: QPainter) -> None:
        now = look()
        painter.fillRect(self.rect(), QColor(now.paper))
        painter.setPen(QPen(QColor(now.ink), 1.4))
        painter.drawLine(0, 0, self.width(), 0)
        cells, before = tells(self._session.shown.design), tells(self._session.shown.before)
        old = {cell.heading: cell.figure.value for cell in before}
        width = self.width() / len(cells)
        for index, cell in enumerate(cells):
            rect = QRectF(index * width + 12, 6, width - 16, 46)
            self.areas.append((QRectF(index * width, 0, width, 58), str(index)))
            if index:
                painter.setPen(QPen(QColor(now.line), 1))
                painter.drawLine(int(index * width), 10, int(index * width), 48)
            heading = QRectF(rect.x(), rect.y(), rect.width(), 15)
            words(
                painter,
                heading,
                cell.heading,
                size=7.5,
                colour=now.live if self.hasFocus() and index == self._at else now.muted,
                bold=self.hasFocus() and index == self._at,
            )
            value = show(cell.figure.value, cell.figure.unit, self.system)
            words(painter, QRectF(rect.x(), rect.y() + 16, rect.width(), 24), value, size=12.5, bold=True)
            used = painter.fontMetrics().horizontalAdvance(value) + 7
            rest = QRectF(rect.x() + used, rect.y() + 18, max(0.0, rect.width() - used), 22)
            self._beside(painter, rest, cell, old.get(cell.heading))

    def _beside(self, painter: QPainter, rect: QRectF, cell: Tell, old: float | None) -> None:
        """The change since the last step where there is one, else what the number means."""
        now, change = look(), cell.figure.value - old if old is not None else 0.0
        text = show(abs(change), cell.figure.unit, self.system)
        if change == change and abs(change) != float("inf") and text != show(0.0, cell.figure.unit, self.system):
            better = (change > 0) == cell.more_is_better
            words(
                painter, rect, f"{'+' if change > 0 else '−'}{text}", size=8.5, colour=now.live if better else now.check
            )
        else:
            words(painter, rect, cell.beside, size=8, colour=now.muted)

    def _open(self, index: int) -> None:
        self.opened.emit(tells(self._session.shown.design)[index].figure)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        area = self.area_at(event.position())
        if area:
            self._at = int(area)
            self._open(self._at)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        count = len(tells(self._session.shown.design))
        if event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self._at = (self._at + (1 if event.key() == Qt.Key.Key_Right else -1)) % count
            self.update()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self._open(min(self._at, count - 1))
        else:
            super().keyPressEvent(event)
