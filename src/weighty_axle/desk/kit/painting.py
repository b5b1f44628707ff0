"""Small painting helpers shared by the instruments."""

from __future__ import annotations

import contextlib
import functools
import math
import sys
from collections.abc import Iterator, Sequence

from PySide6.QtCore import QEvent, QPointF, QRect, QRectF, Qt, Signal
from PySide6.QtGui import QBrush, QColor, QFontMetricsF, QHelpEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QToolTip, QWidget

from weighty_axle.design.figures import Figure
from weighty_axle.desk.kit.theme import look, scaled, severity_colours
from weighty_axle.desk.text import tip, tr
from weighty_axle.rules.registry import Severity

LEFT = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
TOP = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop
RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
CENTRE = Qt.AlignmentFlag.AlignCenter
_WIDEST_PX_PER_POINT = 1.15


@contextlib.contextmanager
def painting(widget: QWidget) -> Iterator[QPainter]:
    """A painter of a widget that is always ended: one left open stops the whole window from painting, and ends the
    program later.

    A picture that fails says so in its place, and the error is told; everything else goes on.
    """
    painter = QPainter(widget)
    try:
        yield painter
    except Exception:
        painter.end()
        painter.begin(widget)  # none of what was set before: neither clip nor scale
        painter.fillRect(widget.rect(), _colour(look().panel))
        words(
            painter,
            QRectF(widget.rect()).adjusted(8, 4, -8, -4),
            tr("This picture could not be drawn."),
            size=8,
            colour=look().stop,
            wrap=True,
        )
        sys.excepthook(*sys.exc_info())
    finally:
        painter.end()


def alike(new: tuple[object, ...], old: tuple[object, ...]) -> bool:
    """Whether two keys name the very same things; designs are large and compared by identity."""
    return len(new) == len(old) and all(
        a is b or (isinstance(a, str | int | float) and a == b) for a, b in zip(new, old, strict=True)
    )


class Canvas(QWidget):
    """A painted widget: subclasses draw in `draw(painter)`; hit areas are named rectangles noted while
    drawing, and so are the places of figures: a double click there opens the workings.

    `smooth` is for slanted and round edges; level and upright ones are crisper, and many times faster, without.
    """

    smooth = False
    opened = Signal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.areas: list[tuple[QRectF, str]] = []
        self.figures: list[tuple[QRectF, Figure]] = []
        self.asked = QRect()
        self._showed: tuple[object, ...] = ()

    def shows(self, *parts: object) -> None:
        """Paint again when anything of what it shows has changed: results by identity, plain values by value."""
        if not alike(parts, self._showed):
            self._showed = parts
            self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        self.asked = event.rect()
        with painting(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing, self.smooth)
            self.areas, self.figures = [], []
            self.draw(painter)
            if self.hasFocus():
                painter.setPen(QPen(QColor(look().live), 1.5, Qt.PenStyle.DotLine))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawRect(QRectF(self.rect()).adjusted(1, 1, -1, -1))

    def draw(self, painter: QPainter) -> None:
        """Paint the instrument."""
        raise NotImplementedError

    def figure_at(self, point: QPointF) -> Figure | None:
        """Figure whose number stands under a point."""
        return next((figure for rect, figure in reversed(self.figures) if rect.contains(point)), None)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        figure = self.figure_at(event.position())
        if figure is not None:
            self.opened.emit(figure)
        else:
            self.mousePressEvent(event)

    def event(self, event: QEvent) -> bool:
        if event.type() == QEvent.Type.ToolTip and isinstance(event, QHelpEvent):
            figure = self.figure_at(QPointF(event.pos()))
            if figure is not None:
                QToolTip.showText(event.globalPos(), tip(f"{figure.name}: {tr('double-click for the workings')}"), self)
                return True
        return super().event(event)

    def area_at(self, point: QPointF) -> str:
        """Name of the topmost area under a point, '' for none."""
        return next((name for rect, name in reversed(self.areas) if rect.contains(point)), "")


@functools.cache
def _colour(name: str) -> QColor:
    """Colour of a name, read once; never changed by those who get it."""
    return QColor(name)


@functools.cache
def pen(colour: str, width: float = 1.0, style: Qt.PenStyle = Qt.PenStyle.SolidLine) -> QPen:
    """A pen, made once; never changed by those who get it."""
    return QPen(_colour(colour), width, style)


@functools.cache
def brush(colour: str | None) -> QBrush:
    """A brush, made once, none at all without a colour; never changed by those who get it."""
    return QBrush(_colour(colour)) if colour else QBrush()


def words(
    painter: QPainter,
    rect: QRectF,
    text: str,
    *,
    size: float = 9.0,
    colour: str | None = None,
    bold: bool = False,
    align: Qt.AlignmentFlag = LEFT,
    wrap: bool = False,
) -> None:
    """Draw text in a rectangle; too long a text ends in dots rather than running into its neighbour."""
    painter.setFont(scaled(size, bold=bold))
    painter.setPen(_colour(colour or look().ink))
    if wrap:
        painter.drawText(rect, int(align) | int(Qt.TextFlag.TextWordWrap), text)
        return
    # Measuring is slow; text that fits even if every letter were a wide one is not measured.
    if len(text) * painter.font().pointSizeF() * _WIDEST_PX_PER_POINT > rect.width():
        text = QFontMetricsF(painter.font()).elidedText(text, Qt.TextElideMode.ElideRight, rect.width() + 1)
    painter.drawText(rect, int(align) | int(Qt.TextFlag.TextSingleLine), text)


def bar(painter: QPainter, rect: QRectF, share: float, colour: str, *, limit_share: float | None = None) -> None:
    """A level bar on its track, with a tick at a limit; over the limit the surplus is hatched so that it shows without
    colour.
    """
    now = look()
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor(now.track))
    painter.drawRect(rect)
    filled = QRectF(rect.x(), rect.y(), rect.width() * max(0.0, min(1.0, share)), rect.height())
    painter.setBrush(QColor(colour))
    painter.drawRect(filled)
    if limit_share is not None:
        x = rect.x() + rect.width() * limit_share
        if share > limit_share:
            painter.setBrush(QBrush(QColor(now.paper), Qt.BrushStyle.BDiagPattern))
            painter.drawRect(QRectF(x, rect.y(), filled.right() - x, rect.height()))
        painter.setPen(QPen(QColor(now.ink), 1.6))
        painter.drawLine(QPointF(x, rect.y() - 3), QPointF(x, rect.bottom() + 3))


def even_step(span: float, most: int) -> float:
    """A step of 1, 2 or 5 and noughts, so that at most so many fit into a span."""
    ten = 10.0 ** math.floor(math.log10(span / most)) if span > 0 else 1.0
    return next(step * ten for step in (1, 2, 5, 10) if span / (step * ten) <= most)


def severity_mark(painter: QPainter, centre: QPointF, severity: Severity, size: float = 6.5) -> None:
    """Octagon for Stop, triangle for Check, disc for Note: told apart without colour."""
    colour, _ = severity_colours(severity)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor(colour))
    x, y = centre.x(), centre.y()
    if severity == "stop":
        k = size * 0.42
        points = [(-k, -size), (k, -size), (size, -k), (size, k), (k, size), (-k, size), (-size, k), (-size, -k)]
        painter.drawPolygon(QPolygonF([QPointF(x + dx, y + dy) for dx, dy in points]))
    elif severity == "check":
        painter.drawPolygon(
            QPolygonF([QPointF(x, y - size), QPointF(x + size, y + size * 0.8), QPointF(x - size, y + size * 0.8)])
        )
    else:
        painter.drawEllipse(centre, size * 0.8, size * 0.8)


def polygon(points: Sequence[tuple[float, float]]) -> QPolygonF:
    """Polygon from pixel points."""
    return QPolygonF([QPointF(x, y) for x, y in points])
