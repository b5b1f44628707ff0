"""The long section of the vehicle: always on screen, map and navigation."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, QTimer
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from weighty_axle.desk.kit.painting import CENTRE, RIGHT, Canvas, words
from weighty_axle.desk.kit.section import SectionPainter, draw_axle
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session
from weighty_axle.exports.drawings.long_section import long_section
from weighty_axle.units import System, show

_BELOW_PX = 46


class SectionStrip(Canvas):
    """The strip under the top bar. Click or arrow keys select an item; the selected one is drawn heavier."""

    def __init__(self, session: Session, system: System, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self.system = session, system
        # What is drawn, and what it was drawn from: never one of one job with the other of the next.
        self._shown, self._section = session.shown, long_section(session.shown.design)
        self.setFixedHeight(178)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setAccessibleName(tr("Long section of the vehicle"))
        # The map may follow an edit a frame later; figures and findings come first.
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(25)
        self._later.timeout.connect(self._catch_up)
        session.changed.connect(self._on_changed)
        session.selected.connect(self.update)

    def sizeHint(self) -> QSize:
        return QSize(900, 178)

    def _on_changed(self) -> None:
        if not self._later.isActive():
            self._later.start()

    def _catch_up(self) -> None:
        self._shown = self._session.shown
        section = long_section(self._shown.design)
        if section != self._section:
            self._section = section
            self.update()

    def draw(self, painter: QPainter) -> None:
        now = look()
        painter.fillRect(self.rect(), QColor(now.paper))
        area = QRectF(24, 16, self.width() - 48, self.height() - 16 - _BELOW_PX)
        view = SectionPainter(self._section, area, equal=False)
        for shape in self._section.shapes:
            box = view.shape(painter, shape, lit=bool(shape.tag) and shape.tag in self._session.selection)
            if shape.tag and not box.isNull():
                self.areas.append((box.adjusted(-2, -3, 2, 3), shape.tag))
        view.labels(painter)
        self._bank_label(painter, view)
        self._ruler(painter, view)
        loads = {axle.tag: axle.load_kg for axle in self._shown.design.place.axles}
        for mark in self._section.axles:
            x, width = view.at(mark.x_m, 0).x(), mark.bar_m * view.x_px
            draw_axle(painter, mark, x, area.bottom() + 4, width, self.system)
            self.figures.append((QRectF(x - width / 2, area.bottom(), width, 34), loads[mark.tag]))
        words(
            painter,
            QRectF(self.width() - 512, 2, 500, 14),
            " · ".join(self._remarks(view)),
            size=7.5,
            colour=now.muted,
            align=RIGHT,
        )

    def _remarks(self, view: SectionPainter) -> list[str]:
        """What the drawing cannot show: how the sides differ, and that heights are drawn smaller."""
        side, remarks = self._shown.design.place.right_minus_left_kg.value, []
        if abs(side) >= 1:
            words_ = tr("added: right side {more} heavier") if side > 0 else tr("added: left side {more} heavier")
            remarks.append(words_.format(more=show(abs(side), "kg", self.system)))
        if view.z_px < 0.95 * view.x_px:
            remarks.append(tr("heights drawn at {share}").format(share=show(view.z_px / view.x_px, "1")))
        return remarks

    def _bank_label(self, painter: QPainter, view: SectionPainter) -> None:
        own = {pack.tag for pack in self._shown.job.bank.packs}
        packs = [item for item in self._shown.design.items if item.tag in own]
        x = sum(item.place.x_m for item in packs) / len(packs)
        point = view.at(x, self._shown.job.vehicle.skirt_m)
        text = tr("bank of {count}").format(count=len(packs))
        words(
            painter,
            QRectF(point.x() - 60, point.y(), 120, 13),
            text,
            size=7.5,
            bold=True,
            colour=look().live,
            align=CENTRE,
        )

    def _ruler(self, painter: QPainter, view: SectionPainter) -> None:
        y, foot = self.height() - 13, self.system == "us"
        step, unit = (0.3048 * 5, "ft") if foot else (2.0, "m")
        painter.setPen(QPen(QColor(look().line), 1))
        count = int(self._shown.job.vehicle.length_m / step) + 1
        for index in range(count):
            x = view.at(index * step, 0).x()
            painter.setPen(QPen(QColor(look().line), 1))
            painter.drawLine(QPointF(x, y - 8), QPointF(x, y - 3))
            words(
                painter,
                QRectF(x - 25, y - 2, 50, 13),
                f"{index * 5 if foot else index * 2} {unit}",
                size=7,
                colour=look().muted,
                align=CENTRE,
            )

    def mousePressEvent(self, event: QMouseEvent) -> None:
        tag = self.area_at(event.position())
        self._session.select(*((tag,) if tag else ()))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() not in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            super().keyPressEvent(event)
            return
        tags = [item.tag for item in sorted(self._session.shown.design.items, key=lambda item: item.place.x_m)]
        now = self._session.selection[0] if self._session.selection else ""
        step = 1 if event.key() == Qt.Key.Key_Right else -1
        at = tags.index(now) + step if now in tags else 0
        self._session.select(tags[at % len(tags)])
