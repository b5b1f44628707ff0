"""Roof plan to scale: modules are dragged, nudged and turned; distances show while dragging."""

from __future__ import annotations

import itertools

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QKeyEvent, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QWidget

from weighty_axle.design.roof_geometry import Box, flat_box, module_box
from weighty_axle.desk.session import Session
from weighty_axle.desk.text import tr
from weighty_axle.desk.theme import look
from weighty_axle.desk.widgets.painting import CENTRE, Canvas, words
from weighty_axle.job.roof import Module, Obstacle, spec_of
from weighty_axle.job.roof_edits import move_on_roof, turn_module
from weighty_axle.units import System, show

PATTERNS = (
    Qt.BrushStyle.BDiagPattern, Qt.BrushStyle.HorPattern, Qt.BrushStyle.FDiagPattern, Qt.BrushStyle.VerPattern, Qt.BrushStyle.CrossPattern,
    Qt.BrushStyle.DiagCrossPattern, Qt.BrushStyle.Dense6Pattern, Qt.BrushStyle.Dense7Pattern,
)  # fmt: skip
_NUDGE_M = 0.01
_SNAP_M = 0.04
_drags = itertools.count(1)


class RoofPlan(Canvas):
    """Seen from above, front at the left. Arrow keys nudge by 10 mm (Shift 100 mm), T turns, Tab leaves."""

    def __init__(self, session: Session, system: System, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._system = session, system
        self._drag: tuple[str, float, float, str] | None = None
        self.setMinimumHeight(190)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Roof plan"))
        session.selected.connect(self.update)

    # ---- geometry ----

    def _scale(self) -> tuple[float, float, float]:
        """Pixels per metre, and the pixel of the roof's front centre."""
        roof = self._session.shown.job.roof
        length = roof.end_m - roof.start_m
        scale = min((self.width() - 40) / length, (self.height() - 34) / roof.width_m)
        return scale, (self.width() - scale * length) / 2 - roof.start_m * scale, 18 + (self.height() - 34) / 2

    def _rect(self, box: Box) -> QRectF:
        scale, left, middle = self._scale()
        x0, x1, y0, y1 = box
        return QRectF(left + x0 * scale, middle + y0 * scale, (x1 - x0) * scale, (y1 - y0) * scale)

    def module(self) -> Module | None:
        """The selected module."""
        return next((one for one in self._session.shown.job.roof.modules if one.tag in self._session.selection), None)

    def obstacle(self) -> Obstacle | None:
        """The selected obstacle."""
        return next((one for one in self._session.shown.job.roof.obstacles if one.tag in self._session.selection), None)

    # ---- drawing ----

    def draw(self, painter: QPainter) -> None:
        now, shown = look(), self._session.shown
        roof, half = shown.job.roof, shown.job.roof.width_m / 2
        painter.setPen(QPen(QColor(now.steel), 1.6))
        painter.setBrush(QColor(now.paper))
        painter.drawRect(self._rect((roof.start_m, roof.end_m, -half, half)))
        margin = roof.margin_m
        painter.setPen(QPen(QColor(now.line), 1, Qt.PenStyle.DashLine))
        painter.drawRect(self._rect((roof.start_m + margin, roof.end_m - margin, -half + margin, half - margin)))
        for one in roof.obstacles:
            rect = self._rect(flat_box(one))
            lit = one.tag in self._session.selection
            painter.setPen(QPen(QColor(now.check if lit else now.steel), 3 if lit else 1.4))
            painter.setBrush(QColor(now.track))
            painter.drawRect(rect)
            words(painter, rect, one.tag, size=8, colour=now.muted, align=CENTRE)
            self.areas.append((rect, one.tag))
        wrong = {tag for pair in shown.design.roof.clashes for tag in pair} | set(shown.design.roof.strays)
        order = {string.tag: index for index, string in enumerate(roof.strings)}
        for module in roof.modules:
            self._module(painter, module, module.tag in wrong, order.get(module.string))
        for string in roof.strings:
            self._rope(painter, string.tag, order[string.tag])
        words(painter, QRectF(4, 0, 200, 16), tr("front"), size=8, colour=now.muted)
        if self._drag is not None:
            self._distances(painter)

    def _module(self, painter: QPainter, module: Module, wrong: bool, string: int | None) -> None:
        now, rect = look(), self._rect(module_box(module, spec_of(self._session.shown.job.roof, module)))
        lit = module.tag in self._session.selection or module.string in self._session.selection
        painter.setPen(QPen(QColor(now.stop if wrong else now.check if lit else now.live), 3 if wrong or lit else 1.2))
        painter.setBrush(QColor(now.live_soft if string is not None else now.panel))
        painter.drawRect(rect)
        if string is not None:
            colour = QColor(now.live)
            colour.setAlphaF(0.22)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QBrush(colour, PATTERNS[string % len(PATTERNS)]))
            painter.drawRect(rect.adjusted(2, 2, -2, -2))
        label = f"{module.tag} {module.string}" if module.string else module.tag
        words(painter, rect, label, size=8, bold=lit, align=CENTRE)
        self.areas.append((rect, module.tag))

    def _rope(self, painter: QPainter, tag: str, index: int) -> None:
        """A string as a rope from module to module in order along the roof."""
        modules = sorted((one for one in self._session.shown.job.roof.modules if one.string == tag), key=lambda one: (one.x_m, one.y_m))
        scale, left, middle = self._scale()
        points = [QPointF(left + one.x_m * scale, middle + one.y_m * scale + 9) for one in modules]
        style = (Qt.PenStyle.SolidLine, Qt.PenStyle.DashLine, Qt.PenStyle.DotLine, Qt.PenStyle.DashDotLine)[index % 4]
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(QColor(look().ink), 1.8, style))
        painter.drawPolyline(points)
        for point in points:
            painter.setBrush(QColor(look().ink))
            painter.drawEllipse(point, 2.2, 2.2)

    def _distances(self, painter: QPainter) -> None:
        module, obstacle = self.module(), self.obstacle()
        roof = self._session.shown.job.roof
        if module is None and obstacle is None:
            return
        tag = module.tag if module else obstacle.tag if obstacle else ""
        x0, x1, y0, y1 = module_box(module, spec_of(roof, module)) if module else flat_box(obstacle) if obstacle else (0.0, 0.0, 0.0, 0.0)
        rect = self._rect((x0, x1, y0, y1))
        boxes = [module_box(one, spec_of(roof, one)) for one in roof.modules if one.tag != tag] + [
            flat_box(one) for one in roof.obstacles if one.tag != tag
        ]
        beside = [box for box in boxes if box[2] < y1 and y0 < box[3]]
        ahead = x0 - max((box[1] for box in beside if box[1] <= x0 + 0.001), default=roof.start_m)
        behind = min((box[0] for box in beside if box[0] >= x1 - 0.001), default=roof.end_m) - x1
        edge = roof.width_m / 2 - max(abs(y0), abs(y1))
        text = tr("ahead {a} · behind {b} · edge {e}").format(
            a=show(ahead, "m", self._system), b=show(behind, "m", self._system), e=show(edge, "m", self._system)
        )
        box = QRectF(max(0.0, rect.center().x() - 130), max(0.0, rect.top() - 19), 260, 17)
        painter.fillRect(box, QColor(look().paper))
        words(painter, box, text, size=8.5, bold=True, align=CENTRE)

    # ---- mouse and keys ----

    def mousePressEvent(self, event: QMouseEvent) -> None:
        tag = self.area_at(event.position())
        self._session.select(*((tag,) if tag else ()))
        picked = self.module() or self.obstacle()
        if picked is not None:
            self._drag = (tag, event.position().x(), event.position().y(), f"roof drag {next(_drags)}")
            self._from = (picked.x_m, picked.y_m)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._drag is None:
            return
        tag, x, y, merge = self._drag
        scale = self._scale()[0]
        to_x, to_y = self._from[0] + (event.position().x() - x) / scale, self._from[1] + (event.position().y() - y) / scale
        self._session.apply(move_on_roof(tag, self._snapped(tag, to_x), to_y, merge))
        self.update()

    def _snapped(self, tag: str, x_m: float) -> float:
        """Along the roof, line up with a neighbour's place when close to it."""
        others = [one.x_m for one in self._session.shown.job.roof.modules if one.tag != tag]
        nearest = min(others, key=lambda one: abs(one - x_m), default=x_m)
        return nearest if abs(nearest - x_m) < _SNAP_M else x_m

    def mouseReleaseEvent(self, _event: QMouseEvent) -> None:
        self._drag = None
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        module = self.module()
        picked = module or self.obstacle()
        step = 0.1 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else _NUDGE_M
        moves = {Qt.Key.Key_Left: (-step, 0.0), Qt.Key.Key_Right: (step, 0.0), Qt.Key.Key_Up: (0.0, -step), Qt.Key.Key_Down: (0.0, step)}
        modules = self._session.shown.job.roof.modules
        if event.key() in (Qt.Key.Key_N, Qt.Key.Key_P) and modules:
            at = modules.index(module) + (1 if event.key() == Qt.Key.Key_N else -1) if module else 0
            self._session.select(modules[at % len(modules)].tag)
        elif picked is not None and Qt.Key(event.key()) in moves:
            dx, dy = moves[Qt.Key(event.key())]
            self._session.apply(move_on_roof(picked.tag, picked.x_m + dx, picked.y_m + dy, f"nudge {picked.tag}"))
        elif module is not None and event.key() == Qt.Key.Key_T:
            self._session.apply(turn_module(module.tag))
        else:
            super().keyPressEvent(event)
