"""The working drawing as it is painted: the whole vehicle from the side and above, or one bay opened."""

from __future__ import annotations

from typing import NamedTuple

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFontMetricsF, QPainter, QPen
from PySide6.QtWidgets import QWidget

from weighty_axle.design.place.clear import Box, box_of, union
from weighty_axle.design.place.snap import boxes_of, gaps, space_around
from weighty_axle.desk.kit.painting import CENTRE, LEFT, Canvas, brush, pen, words
from weighty_axle.desk.kit.section import SectionPainter, draw_axle, section_colours
from weighty_axle.desk.kit.theme import look, scaled
from weighty_axle.desk.steps.place.panes import Look, Pane, bay_box, bay_panes, door_box, room_for_bars, whole_panes
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session
from weighty_axle.exports.drawings.long_section import Section, long_section
from weighty_axle.job.models.document import Item
from weighty_axle.job.models.vehicle import Bay, Zone
from weighty_axle.units import System, show

_MOST_ZOOM = 40.0


class Drag(NamedTuple):
    """What is dragged, where the hand was and where the box was when it began, and what has been moved so far."""

    tags: tuple[str, ...]
    pane: Pane
    start: QPointF
    box: Box
    done: tuple[float, float, float]
    merge: str


class PlacePicture(Canvas):
    """Whole vehicle, or one bay opened, with what is dragged and how far it is from what is before it."""

    def __init__(self, session: Session, system: System, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._system = session, system
        self._drag: Drag | None = None
        self._frame: tuple[QPointF, QPointF] | None = None
        self._pulled: QPointF | None = None
        self.bay = ""
        self.look = Look()
        self.setMinimumHeight(330)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Working drawing with everything in its place"))
        session.selected.connect(self.update)

    # ---- views ----

    def opened_bay(self) -> Bay | None:
        """The bay that is opened; None for the whole vehicle."""
        return next((bay for bay in self._session.shown.job.vehicle.bays if bay.tag == self.bay), None)

    def panes(self) -> list[Pane]:
        """The views on show."""
        return self._panes(long_section(self._session.shown.design) if self.opened_bay() is None else None)

    def _panes(self, section: Section | None) -> list[Pane]:
        vehicle, bay = self._session.shown.job.vehicle, self.opened_bay()
        if bay is not None:
            return bay_panes(self.width(), self.height(), vehicle, bay, self.look)
        assert section is not None
        extent = (section.left_m, section.right_m, section.top_m)
        return whole_panes(self.width(), self.height(), vehicle, extent, self.look)

    def open_bay(self, tag: str) -> None:
        """Open a bay, or with an empty tag show the whole vehicle."""
        self.bay, self.look = tag, Look()
        self.update()

    def nearer(self, by: float, at: QPointF | None = None) -> None:
        """Look nearer or farther; the point under the hand stays where it is."""
        zoom = min(_MOST_ZOOM, max(1.0, self.look.zoom * by))
        pane = next((one for one in self.panes() if at is not None and one.area.contains(at)), None)
        moved = self.look.moved
        if zoom == 1.0:
            moved = (0.0, 0.0, 0.0)
        elif pane is not None and at is not None:
            off = pane.shift(at.x() - pane.area.center().x(), at.y() - pane.area.center().y())
            keep = 1 - self.look.zoom / zoom
            moved = (moved[0] + off[0] * keep, moved[1] + off[1] * keep, moved[2] + off[2] * keep)
        self.look = Look(zoom, moved)
        self.update()

    # ---- drawing ----

    def draw(self, painter: QPainter) -> None:
        bay = self.opened_bay()
        if bay is None:
            section = long_section(self._session.shown.design)
            panes = self._panes(section)
            self._side(painter, section, panes[0])
            self._top(painter, panes[1])
        else:
            panes = self._panes(None)
            self._bay(painter, bay, panes)
        if self._drag is not None:
            self._told(painter, panes)
        if self._frame is not None:
            painter.setPen(QPen(QColor(look().live), 1, Qt.PenStyle.DashLine))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(*self._frame).normalized())

    def _side(self, painter: QPainter, section: Section, pane: Pane) -> None:
        side = SectionPainter(section, pane.area, equal=True)
        side.zoom(pane.scale, pane.middle[0], pane.middle[2])
        selection = self._session.selection
        painter.save()
        painter.setClipRect(pane.area.adjusted(-12, -4, 12, 0))
        for shape in section.shapes:
            box = side.shape(painter, shape, lit=bool(shape.tag) and shape.tag in selection)
            if shape.role in ("pack", "unit", "fitting"):
                self._area(box, pane, shape.tag)
        side.labels(painter)
        painter.restore()
        loads = {axle.tag: axle.load_kg for axle in self._session.shown.design.place.axles}
        for mark in section.axles:
            x, width = side.at(mark.x_m, 0).x(), min(mark.bar_m * side.x_px, 220.0)
            if pane.area.left() - 20 <= x <= pane.area.right() + 20:
                draw_axle(painter, mark, x, pane.area.bottom() + 5, width, self._system)
                self.figures.append((QRectF(x - width / 2, pane.area.bottom(), width, 36), loads[mark.tag]))

    def _top(self, painter: QPainter, pane: Pane) -> None:
        now, vehicle = look(), self._session.shown.job.vehicle
        half = vehicle.width_m / 2
        painter.save()
        painter.setClipRect(pane.area.adjusted(-12, -1, 12, 1))
        painter.setPen(QPen(QColor(now.steel), 1.4))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(pane.rect(Box((0.0, -half, 0.0), (vehicle.length_m, half, 0.0))))
        painter.setPen(QPen(QColor(now.line), 1, Qt.PenStyle.DashDotLine))
        painter.drawLine(pane.at((0.0, 0.0, 0.0)), pane.at((vehicle.length_m, 0.0, 0.0)))
        self._things(painter, pane)
        painter.restore()
        words(
            painter,
            QRectF(pane.area.x() + 4, pane.area.y() - 15, 200, 14),
            tr("from above; right side up"),
            size=7.5,
            colour=now.muted,
        )

    def _bay(self, painter: QPainter, bay: Bay, panes: list[Pane]) -> None:
        now, vehicle = look(), self._session.shown.job.vehicle
        told = {
            "side": tr("{bay} from its left side; dashed: door").format(bay=bay.name),
            "end": tr("from behind; left is left"),
            "top": tr("from above; right side up"),
        }
        door = bay.door_side != "none"
        for pane in panes:
            words(painter, QRectF(pane.area.x(), pane.area.y() - 16, pane.area.width(), 14), told[pane.view], size=8)
            painter.save()
            painter.setClipRect(pane.area)
            painter.fillRect(pane.area, QColor(now.panel))
            painter.setPen(QPen(QColor(now.steel), 1.6))
            painter.setBrush(QColor(now.paper))
            painter.drawRect(pane.rect(bay_box(vehicle, bay)))
            self._things(painter, pane)
            if pane.view == "side" and door:
                painter.setPen(QPen(QColor(now.live), 1.2, Qt.PenStyle.DashLine))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawRect(pane.rect(door_box(vehicle, bay)).adjusted(2, 2, -2, -2))
            painter.restore()
        area = room_for_bars(panes, self.width())
        section = long_section(self._session.shown.design)
        loads = {axle.tag: axle.load_kg for axle in self._session.shown.design.place.axles}
        step = min(64.0, area.height() / max(1, len(section.axles)))
        for index, mark in enumerate(section.axles):
            width, y = min(area.width() - 50, 220.0), area.y() + index * step
            words(painter, QRectF(area.x(), y - 4, 46, 15), mark.tag, size=9, bold=True)
            draw_axle(painter, mark, area.x() + 50 + width / 2, y, width, self._system)
            self.figures.append((QRectF(area.x() + 50, y - 4, width, 34), loads[mark.tag]))

    def _things(self, painter: QPainter, pane: Pane) -> None:
        """Zones and items of a view, those farther off first."""
        place = self._session.shown.design.place
        wrong = set(place.outside) | {tag for pair in place.clashes for tag in pair}
        wrong |= {one.tag for one in self._session.shown.design.room.near}
        wrong |= {one.tag for one in self._session.shown.design.clear.tight}
        bay, vehicle = self.opened_bay(), self._session.shown.job.vehicle
        ground = bay_box(vehicle, bay) if bay is not None else None
        for zone in vehicle.zones:
            if _within(box_of(zone.place, zone.size), ground):
                self._zone(painter, zone, pane.rect(box_of(zone.place, zone.size)))
        # The axis one looks along: from the left, from above, from behind.
        deep = {"side": lambda one: -one.place.y_m, "top": lambda one: one.place.z_m, "end": lambda one: one.place.x_m}
        shown = []
        for item in sorted(self._session.shown.design.items, key=deep[pane.view]):
            box = box_of(item.place, item.size)
            rect = pane.rect(box)
            if rect.intersects(pane.area) and _within(box, ground):
                self._item(painter, item, rect, pane, item.tag in wrong)
                shown.append((item, rect))
        self._names(painter, shown)

    def _zone(self, painter: QPainter, zone: Zone, rect: QRectF) -> None:
        """What is kept away from: a dashed box, and its name where there is room."""
        now = look()
        lit = zone.tag in self._session.selection
        painter.setPen(QPen(QColor(now.check), 2.6 if lit else 1.1, Qt.PenStyle.DashLine))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(rect)
        if rect.width() > 26 and rect.height() > 9:
            words(painter, rect, zone.tag, size=7, align=CENTRE)

    def _item(self, painter: QPainter, item: Item, rect: QRectF, pane: Pane, wrong: bool) -> None:
        now, lit = look(), item.tag in self._session.selection
        line, fill = section_colours("pack" if item.kind == "pack" else "fitting" if item.kind == "fitting" else "unit")
        painter.setPen(pen(now.stop if wrong else now.check if lit else line, 2.6 if wrong or lit else 1.1))
        painter.setBrush(brush(fill or now.paper))
        painter.drawRect(rect)
        if item.clear.service != "none":
            self._terminals(painter, item, rect, pane)
        self._area(rect, pane, item.tag)

    def _names(self, painter: QPainter, shown: list[tuple[Item, QRectF]]) -> None:
        """Tags where they fit and nothing nearer hides them."""
        now = look()
        painter.setFont(scaled(7))
        metrics = QFontMetricsF(painter.font())
        for at, (item, rect) in enumerate(shown):
            wide = metrics.horizontalAdvance(item.tag) + 2
            if rect.width() <= wide or rect.height() <= 9:
                continue
            name = QRectF(rect.center().x() - wide / 2, rect.center().y() - 5, wide, 10)
            if not any(other.intersects(name) for _, other in shown[at + 1 :]):
                colour = now.paper if item.kind == "pack" else now.ink
                words(painter, rect, item.tag, size=7, colour=colour, align=CENTRE)

    def _terminals(self, painter: QPainter, item: Item, rect: QRectF, pane: Pane) -> None:
        """A thick line at the face that is worked at, in views that show it edge on."""
        ends = {
            ("side", "front"): (rect.topLeft(), rect.bottomLeft()),
            ("side", "rear"): (rect.topRight(), rect.bottomRight()),
            ("side", "above"): (rect.topLeft(), rect.topRight()),
            ("top", "front"): (rect.topLeft(), rect.bottomLeft()),
            ("top", "rear"): (rect.topRight(), rect.bottomRight()),
            ("top", "left"): (rect.bottomLeft(), rect.bottomRight()),
            ("top", "right"): (rect.topLeft(), rect.topRight()),
            ("end", "left"): (rect.topLeft(), rect.bottomLeft()),
            ("end", "right"): (rect.topRight(), rect.bottomRight()),
            ("end", "above"): (rect.topLeft(), rect.topRight()),
        }.get((pane.view, item.clear.service))
        if ends is not None:
            painter.setPen(QPen(QColor(look().live), 3.5))
            painter.drawLine(*ends)

    def _area(self, rect: QRectF, pane: Pane, tag: str) -> None:
        seen = rect.intersected(pane.area)
        if not seen.isEmpty():
            self.areas.append((seen, f"{pane.view} {tag}"))

    def _told(self, painter: QPainter, panes: list[Pane]) -> None:
        """Where what is dragged is, and how far it is from what is before it."""
        assert self._drag is not None
        items = {item.tag: item for item in self._session.shown.design.items}
        known = [items[tag] for tag in self._drag.tags if tag in items]
        if not known:
            return
        place = known[0].place
        parts = [
            f"{name} {show(value, 'm', self._system)}"
            for name, value in ((tr("along"), place.x_m), (tr("right"), place.y_m), (tr("up"), place.z_m))
        ]
        strip = QRectF(self.width() / 2 - 160, 0, 320, 17)
        painter.fillRect(strip, QColor(look().paper))
        words(painter, strip, f"{known[0].tag}: {' · '.join(parts)}", size=9, bold=True, align=CENTRE)
        box = union([box_of(one.place, one.size) for one in known])
        others = [(one.tag, box_of(one.place, one.size)) for one in boxes_of(items.values(), self._drag.tags)]
        space = space_around(self._session.shown.job.vehicle, box)
        pane = next(one for one in panes if one.view == self._drag.pane.view)
        painter.save()
        painter.setClipRect(pane.area.adjusted(-12, -4, 12, 4))
        for gap in gaps(box, others, space):
            if gap.axis in pane.axes:
                self._distance(painter, pane, box, gap.axis, gap.way, gap.gap_m)
        painter.restore()

    def _distance(self, painter: QPainter, pane: Pane, box: Box, axis: int, way: int, gap_m: float) -> None:
        middle = [(low + high) / 2 for low, high in zip(box.low, box.high, strict=True)]
        start, end = list(middle), list(middle)
        start[axis] = box.high[axis] if way > 0 else box.low[axis]
        end[axis] = start[axis] + way * gap_m
        a, b = pane.at((start[0], start[1], start[2])), pane.at((end[0], end[1], end[2]))
        painter.setPen(QPen(QColor(look().live if gap_m >= 0 else look().stop), 1.2))
        painter.drawLine(a, b)
        where = QRectF((a.x() + b.x()) / 2 - 34, (a.y() + b.y()) / 2 - 7, 68, 13)
        if axis == pane.axes[1]:
            where.translate(37, 0)
        else:
            where.translate(0, -9)
        words(
            painter,
            where,
            show(gap_m, "m", self._system),
            size=8,
            bold=True,
            colour=look().live,
            align=LEFT if axis == pane.axes[1] else CENTRE,
        )


def _within(box: Box, ground: Box | None) -> bool:
    """Whether a box reaches into an opened bay or stands by its walls; everything does where none is opened."""
    return ground is None or all(
        low <= top + 0.1 and high >= bottom - 0.1
        for low, high, bottom, top in zip(box.low, box.high, ground.low, ground.high, strict=True)
    )
