"""The long section of the vehicle: always on screen, map and navigation."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, QTimer
from PySide6.QtGui import QColor, QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from weighty_axle.desk.session import Session
from weighty_axle.desk.text import tr
from weighty_axle.desk.theme import look, scaled
from weighty_axle.desk.widgets.painting import CENTRE, RIGHT, Canvas, bar, polygon, words
from weighty_axle.exports.long_section import WHEEL_RADIUS_M, AxleMark, Section, Shape, long_section, placed_labels
from weighty_axle.units import System, digits, show

_BELOW_PX = 46
_LEAST_HEIGHT_SHARE = 0.4
_TWO_LINES_PX = 92


def section_colours(role: str) -> tuple[str, str | None]:
    """Line and fill colour of a role in the long section."""
    now = look()
    return {
        "body": (now.steel, None), "floor": (now.steel, None), "bay": (now.line, now.paper), "module": (now.steel, now.steel),
        "obstacle": (now.steel, now.track), "pack": (now.live, now.live), "unit": (now.ink, now.track), "fitting": (now.line, now.track),
        "route": (now.live, None), "wheel": (now.ink, now.track), "coupling": (now.ink, now.steel),
    }[role]  # fmt: skip


class SectionPainter:
    """Maps metres to pixels and draws a section's shapes; heights may be drawn at a smaller scale, and then it is said."""

    def __init__(self, section: Section, area: QRectF, *, equal: bool) -> None:
        self.section, self.area = section, area
        width_m, height_m = section.right_m - section.left_m, section.top_m + 0.1
        self.x_px = area.width() / width_m
        room = area.height() / height_m
        self.x_px = min(self.x_px, room if equal else room / _LEAST_HEIGHT_SHARE)
        self.z_px = self.x_px if equal else min(self.x_px, room)
        self.left = area.x() + (area.width() - self.x_px * width_m) / 2

    def at(self, x_m: float, z_m: float) -> QPointF:
        """Pixel of a point of the section."""
        return QPointF(self.left + (x_m - self.section.left_m) * self.x_px, self.area.bottom() - z_m * self.z_px)

    def shape(self, painter: QPainter, shape: Shape, *, lit: bool) -> QRectF:
        """Draw one shape, its name in it unless `labels` finds a place for that; returns its pixel box."""
        line, fill = section_colours(shape.role)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, shape.role in ("body", "wheel"))
        style = Qt.PenStyle.DashLine if shape.role == "route" else Qt.PenStyle.SolidLine
        painter.setPen(QPen(QColor(look().check if lit else line), 2.6 if lit else 1.3, style))
        painter.setBrush(QColor(fill) if fill else Qt.BrushStyle.NoBrush)
        if shape.role == "wheel":
            centre, radius = self.at(*shape.points[0]), WHEEL_RADIUS_M * self.z_px
            painter.drawEllipse(centre, radius, radius)
            painter.setBrush(QColor(line))
            painter.drawEllipse(centre, radius * 0.25, radius * 0.25)
            return QRectF(centre.x() - radius, centre.y() - radius, 2 * radius, 2 * radius)
        pixels = polygon([(p.x(), p.y()) for p in (self.at(*point) for point in shape.points)])
        if not shape.closed:
            painter.drawPolyline(pixels)
            return QRectF()
        painter.drawPolygon(pixels)
        box = pixels.boundingRect()
        if shape.role in ("fitting", "obstacle") and box.width() > 20 and box.height() >= 7:
            words(painter, box.adjusted(0, -3, 0, 3), shape.label, size=7.0 if box.height() >= 9 else 6.0, align=CENTRE)
        return box

    def labels(self, painter: QPainter) -> None:
        """Names of units and bays, over all shapes; where they would hide one another they are led out on a line."""
        painter.setFont(scaled(7))
        metrics = QFontMetricsF(painter.font())
        for label in placed_labels(self.section, lambda text: (metrics.horizontalAdvance(text) + 4) / self.x_px, 10 / self.z_px):
            foot, wide = self.at(label.x_m, label.z_m), metrics.horizontalAdvance(label.text) + 4
            where = QRectF(foot.x() - wide / 2, foot.y() - 10, wide, 10)
            if label.leads_to is not None:
                painter.setPen(QPen(QColor(look().steel), 0.8))
                painter.drawLine(foot, self.at(*label.leads_to))
                painter.fillRect(where, QColor(look().paper))
            words(painter, where.adjusted(0, -1, 0, 1), label.text, size=7, colour=look().muted if label.role == "bay" else look().ink, align=CENTRE)


def draw_axle(painter: QPainter, mark: AxleMark, x: float, y: float, width: float, system: System) -> None:
    """Bar of an axle's load with a tick at its plate, and the numbers under it."""
    now = look()
    share = mark.load_kg / mark.limit_kg
    colour = now.stop if share > 1 else now.check if share > 0.98 else now.steel
    full = max(1.1, share * 1.02)
    bar(painter, QRectF(x - width / 2, y, width, 7), share / full, colour, limit_share=1 / full)
    load, plate = _tonnes(mark, system)
    colour = colour if share > 0.98 else now.ink
    if width >= _TWO_LINES_PX:
        words(painter, QRectF(x - 90, y + 9, 180, 13), f"{load} of {plate}", size=7.5, bold=True, colour=colour, align=CENTRE)
    else:
        words(painter, QRectF(x - 50, y + 9, 100, 12), load, size=7.5, bold=True, colour=colour, align=CENTRE)
        words(painter, QRectF(x - 50, y + 20, 100, 11), f"of {plate}", size=7, colour=now.muted, align=CENTRE)


def _tonnes(mark: AxleMark, system: System) -> tuple[str, str]:
    """Load and plate in the large unit, short enough for neighbouring axles."""
    size, places, unit = (453.59237, 1, "klb") if system == "us" else (1000.0, 2, "t")
    return digits(mark.load_kg / size, places), f"{digits(mark.limit_kg / size, places)} {unit}"


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
        words(painter, QRectF(self.width() - 512, 2, 500, 14), " · ".join(self._remarks(view)), size=7.5, colour=now.muted, align=RIGHT)

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
        packs = [item for item in self._shown.design.items if item.kind == "pack"]
        x = sum(item.place.x_m for item in packs) / len(packs)
        point = view.at(x, self._shown.job.vehicle.skirt_m)
        text = tr("bank of {count}").format(count=len(packs))
        words(painter, QRectF(point.x() - 60, point.y(), 120, 13), text, size=7.5, bold=True, colour=look().live, align=CENTRE)

    def _ruler(self, painter: QPainter, view: SectionPainter) -> None:
        y, foot = self.height() - 13, self.system == "us"
        step, unit = (0.3048 * 5, "ft") if foot else (2.0, "m")
        painter.setPen(QPen(QColor(look().line), 1))
        count = int(self._shown.job.vehicle.length_m / step) + 1
        for index in range(count):
            x = view.at(index * step, 0).x()
            painter.setPen(QPen(QColor(look().line), 1))
            painter.drawLine(QPointF(x, y - 8), QPointF(x, y - 3))
            words(painter, QRectF(x - 25, y - 2, 50, 13), f"{index * 5 if foot else index * 2} {unit}", size=7, colour=look().muted, align=CENTRE)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        tag = self.area_at(event.position())
        self._session.select(*((tag,) if tag else ()))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() not in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            super().keyPressEvent(event)
            return
        tags = [item.tag for item in sorted(self._session.shown.design.items, key=lambda one: one.place.x_m)]
        now = self._session.selection[0] if self._session.selection else ""
        step = 1 if event.key() == Qt.Key.Key_Right else -1
        at = tags.index(now) + step if now in tags else 0
        self._session.select(tags[at % len(tags)])
