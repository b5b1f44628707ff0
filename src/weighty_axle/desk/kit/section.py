"""The long section painted: boxes, outlines, names led out, axle bars."""

from __future__ import annotations

import functools

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFontMetricsF, QPainter, QPen, QPolygonF

from weighty_axle.desk.kit.painting import CENTRE, bar, brush, pen, words
from weighty_axle.desk.kit.theme import Look, look, scaled
from weighty_axle.exports.drawings.long_section import WHEEL_RADIUS_M, AxleMark, Section, Shape, placed_labels
from weighty_axle.units import System, digits

_LEAST_HEIGHT_SHARE = 0.4
_TWO_LINES_PX = 92


def section_colours(role: str) -> tuple[str, str | None]:
    """Line and fill colour of a role in the long section."""
    return _colours(look())[role]


@functools.cache
def _colours(now: Look) -> dict[str, tuple[str, str | None]]:
    return {
        "body": (now.steel, None),
        "floor": (now.steel, None),
        "bay": (now.line, now.paper),
        "module": (now.steel, now.steel),
        "obstacle": (now.steel, now.track),
        "pack": (now.live, now.live),
        "unit": (now.ink, now.track),
        "fitting": (now.line, now.track),
        "route": (now.live, None),
        "wheel": (now.ink, now.track),
        "coupling": (now.ink, now.steel),
        "zone": (now.check, None),
    }


class SectionPainter:
    """Maps metres to pixels and draws a section's shapes; heights may be drawn at a smaller scale, and then it is
    said.
    """

    def __init__(self, section: Section, area: QRectF, *, equal: bool) -> None:
        self.section, self.area = section, area
        width_m, height_m = section.right_m - section.left_m, section.top_m + 0.1
        self.x_px = area.width() / width_m
        room = area.height() / height_m
        self.x_px = min(self.x_px, room if equal else room / _LEAST_HEIGHT_SHARE)
        self.z_px = self.x_px if equal else min(self.x_px, room)
        self.left = area.x() + (area.width() - self.x_px * width_m) / 2
        self.bottom = area.bottom()

    def zoom(self, scale: float, along_m: float, up_m: float) -> None:
        """Look nearer: pixels per metre, and the point in the middle of the area."""
        self.x_px = self.z_px = scale
        self.left = self.area.center().x() - (along_m - self.section.left_m) * scale
        self.bottom = self.area.center().y() + up_m * scale

    def at(self, x_m: float, z_m: float) -> QPointF:
        """Pixel of a point of the section."""
        return QPointF(self.left + (x_m - self.section.left_m) * self.x_px, self.bottom - z_m * self.z_px)

    def shape(self, painter: QPainter, shape: Shape, *, lit: bool) -> QRectF:
        """Draw one shape, its name in it unless `labels` finds a place for that; returns its pixel box."""
        line, fill = section_colours(shape.role)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, shape.role in ("body", "wheel"))
        style = Qt.PenStyle.DashLine if shape.role in ("route", "zone") else Qt.PenStyle.SolidLine
        painter.setPen(pen(look().check if lit else line, 2.6 if lit else 1.3, style))
        painter.setBrush(brush(fill))
        if shape.role == "wheel":
            centre, radius = self.at(*shape.points[0]), WHEEL_RADIUS_M * self.z_px
            painter.drawEllipse(centre, radius, radius)
            painter.setBrush(QColor(line))
            painter.drawEllipse(centre, radius * 0.25, radius * 0.25)
            return QRectF(centre.x() - radius, centre.y() - radius, 2 * radius, 2 * radius)
        pixels = QPolygonF([self.at(*point) for point in shape.points])
        if not shape.closed:
            painter.drawPolyline(pixels)
            return QRectF()
        painter.drawPolygon(pixels)
        box = pixels.boundingRect()
        least = 40 if shape.role == "zone" else 20
        if shape.role in ("fitting", "obstacle", "zone") and box.width() > least and box.height() >= 7:
            words(painter, box.adjusted(0, -3, 0, 3), shape.label, size=7.0 if box.height() >= 9 else 6.0, align=CENTRE)
        return box

    def labels(self, painter: QPainter) -> None:
        """Names of units and bays, over all shapes; where they would hide one another they are led out on a line."""
        painter.setFont(scaled(7))
        metrics = QFontMetricsF(painter.font())
        for label in placed_labels(
            self.section, lambda text: (metrics.horizontalAdvance(text) + 4) / self.x_px, 10 / self.z_px
        ):
            foot, wide = self.at(label.x_m, label.z_m), metrics.horizontalAdvance(label.text) + 4
            where = QRectF(foot.x() - wide / 2, foot.y() - 10, wide, 10)
            if label.leads_to is not None:
                painter.setPen(QPen(QColor(look().steel), 0.8))
                painter.drawLine(foot, self.at(*label.leads_to))
                painter.fillRect(where, QColor(look().paper))
            words(
                painter,
                where.adjusted(0, -1, 0, 1),
                label.text,
                size=7,
                colour=look().muted if label.role == "bay" else look().ink,
                align=CENTRE,
            )


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
        words(
            painter,
            QRectF(x - 90, y + 9, 180, 13),
            f"{load} of {plate}",
            size=7.5,
            bold=True,
            colour=colour,
            align=CENTRE,
        )
    else:
        words(painter, QRectF(x - 50, y + 9, 100, 12), load, size=7.5, bold=True, colour=colour, align=CENTRE)
        words(painter, QRectF(x - 50, y + 20, 100, 11), f"of {plate}", size=7, colour=now.muted, align=CENTRE)


def _tonnes(mark: AxleMark, system: System) -> tuple[str, str]:
    """Load and plate in the large unit, short enough for neighbouring axles."""
    size, places, unit = (453.59237, 1, "klb") if system == "us" else (1000.0, 2, "t")
    return digits(mark.load_kg / size, places), f"{digits(mark.limit_kg / size, places)} {unit}"
