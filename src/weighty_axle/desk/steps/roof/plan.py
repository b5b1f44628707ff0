"""Roof plan to scale: modules, obstacles and lanes are dragged, nudged and turned; distances show while dragging;
shadows where asked for.
"""

from __future__ import annotations

import itertools
from typing import TYPE_CHECKING

from msgspec.structs import replace
from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QBrush, QColor, QKeyEvent, QMouseEvent, QPainter, QPen, QPixmap, QPolygonF
from PySide6.QtWidgets import QWidget

from weighty_axle.design.roof.geometry import (
    allowed_half_m,
    flat_box,
    half_width_m,
    module_box,
    module_boxes,
    pull_m,
    service_box,
    stand_off_m,
)
from weighty_axle.design.roof.strings import rope
from weighty_axle.desk.kit.painting import CENTRE, Canvas, words
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session
from weighty_axle.job.edits.roof import align_on_roof, move_all_on_roof, turn_module
from weighty_axle.job.models.roof import Lane, Module, ModuleSpec, Obstacle, String, spec_of
from weighty_axle.units import System, show

if TYPE_CHECKING:
    from weighty_axle.physics.search.packing import Rectangle


PATTERNS = (
    Qt.BrushStyle.BDiagPattern,
    Qt.BrushStyle.HorPattern,
    Qt.BrushStyle.FDiagPattern,
    Qt.BrushStyle.VerPattern,
    Qt.BrushStyle.CrossPattern,
    Qt.BrushStyle.DiagCrossPattern,
    Qt.BrushStyle.Dense6Pattern,
    Qt.BrushStyle.Dense7Pattern,
)
_NUDGE_M = 0.01
_SNAP_M = 0.04
_FEW = 24
_LEAST_NAMED = 16
_drags = itertools.count(1)


class RoofPlan(Canvas):
    """Seen from above, front at the left, so the right side is up.

    Arrow keys nudge by 10 mm (Shift 100 mm), T turns, R lines up in a row, L in a line across; Ctrl adds to the choice.

    `clicked` tells of a press on a module while `stringing`: then nothing is dragged.
    """

    clicked = Signal(str)

    def __init__(self, session: Session, system: System, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._system = session, system
        self._drag: tuple[str, float, float, str] | None = None
        self._from = (0.0, 0.0)
        self.stringing = False
        self.shadows: tuple[tuple[tuple[float, float], ...], ...] = ()
        self.ghosts: tuple[Module, ...] | None = None
        self.ghost_types: tuple[ModuleSpec, ...] = ()
        self._scaled: tuple[float, float, float] | None = None
        self._still: tuple[object, QPixmap, list[tuple[QRectF, str]]] | None = None
        self.setMinimumHeight(130)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Roof plan"))
        session.selected.connect(self.update)

    # ---- geometry ----

    def _scale(self) -> tuple[float, float, float]:
        """Pixels per metre, and the pixel of the roof's front centre, as last painted."""
        return self._scaled or self._fit()

    def _fit(self) -> tuple[float, float, float]:
        roof = self._session.shown.job.roof
        length, widest = roof.end_m - roof.start_m, max(roof.width_m, roof.front_width_m or 0.0) + 2 * roof.overhang_m
        scale = min((self.width() - 40) / length, (self.height() - 34) / widest)
        return scale, (self.width() - scale * length) / 2 - roof.start_m * scale, 18 + (self.height() - 34) / 2

    def _rect(self, box: Rectangle) -> QRectF:
        scale, left, middle = self._scale()
        x0, x1, y0, y1 = box
        return QRectF(left + x0 * scale, middle - y1 * scale, (x1 - x0) * scale, (y1 - y0) * scale)

    def _point(self, x_m: float, y_m: float) -> QPointF:
        scale, left, middle = self._scale()
        return QPointF(left + x_m * scale, middle - y_m * scale)

    def chosen(self) -> list[Module | Obstacle | Lane]:
        """Everything on the roof that is selected."""
        roof = self._session.shown.job.roof
        groups: tuple[tuple[Module | Obstacle | Lane, ...], ...] = (roof.modules, roof.obstacles, roof.lanes)
        return [one for group in groups for one in group if one.tag in self._session.selection]

    def module(self) -> Module | None:
        """The selected module."""
        return next((one for one in self._session.shown.job.roof.modules if one.tag in self._session.selection), None)

    def obstacle(self) -> Obstacle | None:
        """The selected obstacle."""
        return next((one for one in self._session.shown.job.roof.obstacles if one.tag in self._session.selection), None)

    def lane(self) -> Lane | None:
        """The selected lane."""
        return next((one for one in self._session.shown.job.roof.lanes if one.tag in self._session.selection), None)

    # ---- drawing ----

    def draw(self, painter: QPainter) -> None:
        """All that lies still while something is dragged or only the sun moves is kept as a picture."""
        self._scaled = self._fit()
        moving = frozenset(self._session.selection) if self._drag is not None else frozenset()
        picture, areas = self._still_picture(moving)
        painter.drawPixmap(0, 0, picture)
        self.areas = list(areas)
        if self._drag is not None:
            self._things(painter, moving, on_top=True)
        if self.ghosts is None:
            self._wrong(painter)
            if self._drag is None:
                self._shadows(painter)
        if self._drag is not None:
            self._distances(painter)

    def _still_picture(self, moving: frozenset[str]) -> tuple[QPixmap, list[tuple[QRectF, str]]]:
        """The roof without what moves, painted anew when anything it shows has changed."""
        design, now = self._session.shown.design, look()
        roof = design.job.roof
        modules, obstacles, lanes = (
            tuple(one for one in group if one.tag not in moving) for group in (roof.modules, roof.obstacles, roof.lanes)
        )
        stays = replace(roof, modules=modules, obstacles=obstacles, lanes=lanes)
        ratio = self.devicePixelRatio()
        key = (moving, stays, self._session.selection, self.size().toTuple(), now.paper, self.ghosts, ratio)
        if self._still is None or self._still[0] != key:
            picture = QPixmap(self.size() * ratio)
            picture.setDevicePixelRatio(ratio)
            picture.fill(Qt.GlobalColor.transparent)
            own = QPainter(picture)
            try:
                self._outline(own)
                self._things(own, moving, on_top=False)
            finally:
                own.end()
            self._still = (key, picture, self.areas)
        return self._still[1], self._still[2]

    def _wrong(self, painter: QPainter) -> None:
        """Outlines of modules that lie on something, over the edge or in room that is kept."""
        result = self._session.shown.design.roof
        wrong = (
            {tag for pair in result.clashes for tag in pair}
            | set(result.strays)
            | {module for module, _ in result.taken}
        )
        painter.setPen(QPen(QColor(look().stop), 3))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for tag, box in result.boxes.items():
            if tag in wrong:
                painter.drawRect(self._rect(box))

    def _things(self, painter: QPainter, moving: frozenset[str], *, on_top: bool) -> None:
        """What moves with the ropes on it, on top; or what lies still."""
        now, shown = look(), self._session.shown
        roof = shown.job.roof
        for lane in roof.lanes:
            if (lane.tag in moving) == on_top:
                self._kept(painter, flat_box(lane), lane.name, lane.tag)
        obstacles = [one for one in roof.obstacles if (one.tag in moving) == on_top]
        for one in obstacles:
            kept = service_box(one)
            if kept is not None:
                self._kept(painter, kept, "", "")
        for one in obstacles:
            rect = self._rect(flat_box(one))
            lit = one.tag in self._session.selection
            painter.setPen(QPen(QColor(now.check if lit else now.steel), 3 if lit else 1.4))
            painter.setBrush(QColor(now.track))
            painter.drawRect(rect)
            if rect.width() > _LEAST_NAMED:
                words(
                    painter,
                    rect.adjusted(0, 2, 0, 0),
                    one.tag,
                    size=8,
                    colour=now.muted,
                    align=Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignTop,
                )
            self.areas.append((rect, one.tag))
        if self.ghosts is not None:
            if not on_top:
                self._ghosts(painter, self.ghosts)
            return
        boxes = shown.design.roof.boxes
        order = {string.tag: index for index, string in enumerate(roof.strings)}
        for module in roof.modules:
            if (module.tag in moving) == on_top:
                self._module(painter, module, boxes[module.tag], order.get(module.string))
        roped = {module.string for module in roof.modules if module.tag in moving}
        for string in roof.strings:
            if (string.tag in roped) == on_top:
                self._rope(painter, string, order[string.tag])
        words(painter, QRectF(4, 0, 200, 16), tr("front; right side up"), size=8, colour=now.muted)

    def _outline(self, painter: QPainter) -> None:
        """Edge of the roof, how far modules may reach, and its members."""
        now, roof = look(), self._session.shown.job.roof
        front, rear = half_width_m(roof, roof.start_m), half_width_m(roof, roof.end_m)
        painter.setPen(QPen(QColor(now.steel), 1.6))
        painter.setBrush(QColor(now.paper))
        corners = [(roof.start_m, -front), (roof.end_m, -rear), (roof.end_m, rear), (roof.start_m, front)]
        painter.drawPolygon(QPolygonF([self._point(x, y) for x, y in corners]))
        painter.setPen(QPen(QColor(now.line), 1, Qt.PenStyle.DashLine))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        x0, x1 = roof.start_m + roof.margin_m, roof.end_m - roof.margin_m
        front, rear = allowed_half_m(roof, x0), allowed_half_m(roof, x1)
        painter.drawPolygon(
            QPolygonF([self._point(x, y) for x, y in ((x0, -front), (x1, -rear), (x1, rear), (x0, front))])
        )
        painter.setPen(QPen(QColor(now.line), 1, Qt.PenStyle.DotLine))
        for x in self._session.shown.design.fixings.members_m:
            if roof.start_m <= x <= roof.end_m:
                half = half_width_m(roof, x)
                painter.drawLine(self._point(x, -half), self._point(x, half))

    def _kept(self, painter: QPainter, box: Rectangle, name: str, tag: str) -> None:
        """Room that is kept free, hatched."""
        now, rect = look(), self._rect(box)
        lit = bool(tag) and tag in self._session.selection
        painter.setPen(QPen(QColor(now.check if lit else now.steel), 2 if lit else 0.8, Qt.PenStyle.DashLine))
        painter.setBrush(QBrush(QColor(now.line), Qt.BrushStyle.BDiagPattern))
        painter.drawRect(rect)
        if name:
            words(painter, rect.adjusted(2, 0, -2, 0), name, size=7.5, colour=now.muted, align=CENTRE)
        if tag:
            self.areas.append((rect, tag))

    def _ghosts(self, painter: QPainter, modules: tuple[Module, ...]) -> None:
        """A layout that is only looked at."""
        now, roof = look(), self._session.shown.job.roof
        kinds = {one.kind for one in modules}
        for module in modules:
            spec = next((one for one in self.ghost_types if one.name == module.kind), roof.module)
            rect = self._rect(module_box(module, spec))
            painter.setPen(QPen(QColor(now.live), 1.4, Qt.PenStyle.DashLine if module.kind else Qt.PenStyle.SolidLine))
            painter.setBrush(QColor(now.live_soft))
            painter.drawRect(rect)
            words(
                painter,
                rect,
                module.tag if len(kinds) < 2 else f"{module.tag} {show(spec.pmp_w, 'W')}",
                size=7.5,
                align=CENTRE,
            )

    def _shadows(self, painter: QPainter) -> None:
        colour = QColor(look().ink)
        colour.setAlphaF(0.42)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(colour)
        for one in self.shadows:
            painter.drawPolygon(QPolygonF([self._point(x, y) for x, y in one]))

    def _module(self, painter: QPainter, module: Module, box: Rectangle, string: int | None) -> None:
        now, rect = look(), self._rect(box)
        lit = module.tag in self._session.selection or module.string in self._session.selection
        painter.setPen(QPen(QColor(now.check if lit else now.live), 3 if lit else 1.2))
        painter.setBrush(QColor(now.live_soft if string is not None else now.panel))
        painter.drawRect(rect)
        if string is not None:
            colour = QColor(now.live)
            colour.setAlphaF(0.22)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QBrush(colour, PATTERNS[string % len(PATTERNS)]))
            painter.drawRect(rect.adjusted(2, 2, -2, -2))
        label = f"{module.tag} {module.string}" if module.string else module.tag
        # In a corner, where ropes from middle to middle seldom run.
        words(
            painter,
            rect.adjusted(4, 2, -2, 0),
            label,
            size=8,
            bold=lit,
            align=Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop,
        )
        self.areas.append((rect, module.tag))

    def _rope(self, painter: QPainter, string: String, index: int) -> None:
        """A string as a rope from module to module, in the order it was clicked, with its tag at the first."""
        points = [self._point(one.x_m, one.y_m) for one in rope(self._session.shown.job.roof, string)]
        if not points:
            return
        style = (Qt.PenStyle.SolidLine, Qt.PenStyle.DashLine, Qt.PenStyle.DotLine, Qt.PenStyle.DashDotLine)[index % 4]
        # Smooth dashed lines are slow; on a crowded roof speed counts more.
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, len(self._session.shown.job.roof.modules) <= _FEW)
        painter.setPen(QPen(QColor(look().ink), 1.8, style))
        painter.drawPolyline(points)
        painter.setBrush(QColor(look().ink))
        for at, point in enumerate(points):
            painter.drawEllipse(point, 4 if at == 0 else 2.2, 4 if at == 0 else 2.2)

    def _distances(self, painter: QPainter) -> None:
        picked = self.chosen()
        roof = self._session.shown.job.roof
        if not picked:
            return
        one = picked[0]
        x0, x1, y0, y1 = module_box(one, spec_of(roof, one)) if isinstance(one, Module) else flat_box(one)
        rect = self._rect((x0, x1, y0, y1))
        boxes = [box for tag, box in module_boxes(roof).items() if tag != one.tag] + [
            flat_box(other) for other in roof.obstacles if other.tag != one.tag
        ]
        beside = [box for box in boxes if box[2] < y1 and y0 < box[3]]
        ahead = x0 - max((box[1] for box in beside if box[1] <= x0 + 0.001), default=roof.start_m)
        behind = min((box[0] for box in beside if box[0] >= x1 - 0.001), default=roof.end_m) - x1
        edge = min(half_width_m(roof, x0), half_width_m(roof, x1)) - max(abs(y0), abs(y1))
        text = tr("ahead {a} · behind {b} · edge {e}").format(
            a=show(ahead, "m", self._system), b=show(behind, "m", self._system), e=show(edge, "m", self._system)
        )
        if roof.crown_m:
            text += tr(" · gap {g}").format(g=show(stand_off_m(roof, (x0, x1, y0, y1)), "m", self._system))
        box = QRectF(max(0.0, min(rect.center().x() - 160, self.width() - 320)), max(0.0, rect.top() - 19), 320, 17)
        painter.fillRect(box, QColor(look().paper))
        words(painter, box, text, size=8.5, bold=True, align=CENTRE)

    # ---- mouse and keys ----

    def _aimed_at(self, point: QPointF) -> str:
        """What a press means where things lie on one another: the smallest; of equals the one on top."""
        under = [
            (rect.width() * rect.height(), -at, name)
            for at, (rect, name) in enumerate(self.areas)
            if rect.contains(point)
        ]
        return min(under)[2] if under else ""

    def mousePressEvent(self, event: QMouseEvent) -> None:
        tag, kept = self._aimed_at(event.position()), self._session.selection
        if self.stringing:
            if any(one.tag == tag for one in self._session.shown.job.roof.modules):
                self.clicked.emit(tag)
            return
        if tag and event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self._session.select(*(one for one in kept if one != tag), *(() if tag in kept else (tag,)))
            return
        if tag not in kept:
            self._session.select(*((tag,) if tag else ()))
        picked = next((one for one in self.chosen() if one.tag == tag), None)
        if picked is not None:
            self._drag = (tag, event.position().x(), event.position().y(), f"roof drag {next(_drags)}")
            self._from = (picked.x_m, picked.y_m)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._drag is None:
            return
        tag, x, y, merge = self._drag
        scale = self._scale()[0]
        to_x, to_y = (
            self._from[0] + (event.position().x() - x) / scale,
            self._from[1] - (event.position().y() - y) / scale,
        )
        picked = self.chosen()
        now = next((one for one in picked if one.tag == tag), None)
        if now is not None:
            tags = tuple(one.tag for one in picked)
            roof, by_x, by_y = self._session.shown.job.roof, to_x - now.x_m, to_y - now.y_m
            x0, x1, y0, y1 = module_box(now, spec_of(roof, now)) if isinstance(now, Module) else flat_box(now)
            pull_x, pull_y = pull_m(roof, (x0 + by_x, x1 + by_x, y0 + by_y, y1 + by_y), frozenset(tags), _SNAP_M)
            self._session.apply(move_all_on_roof(tags, by_x + pull_x, by_y + pull_y, merge))
        self.update()

    def mouseReleaseEvent(self, _event: QMouseEvent) -> None:
        self._drag = None
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        module, picked = self.module(), self.chosen()
        tags = tuple(one.tag for one in picked)
        step = 0.1 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else _NUDGE_M
        moves = {
            Qt.Key.Key_Left: (-step, 0.0),
            Qt.Key.Key_Right: (step, 0.0),
            Qt.Key.Key_Up: (0.0, step),
            Qt.Key.Key_Down: (0.0, -step),
        }
        modules = self._session.shown.job.roof.modules
        if event.key() in (Qt.Key.Key_N, Qt.Key.Key_P) and modules:
            at = modules.index(module) + (1 if event.key() == Qt.Key.Key_N else -1) if module else 0
            self._session.select(modules[at % len(modules)].tag)
        elif self.stringing and module is not None and event.key() == Qt.Key.Key_Space:
            self.clicked.emit(module.tag)
        elif picked and Qt.Key(event.key()) in moves:
            self._session.apply(move_all_on_roof(tags, *moves[Qt.Key(event.key())], f"nudge {tags}"))
        elif module is not None and event.key() == Qt.Key.Key_T:
            self._session.apply(turn_module(module.tag))
        elif (
            event.key() in (Qt.Key.Key_R, Qt.Key.Key_L) and len([one for one in picked if isinstance(one, Module)]) > 1
        ):
            own = tuple(one for one in self._session.selection if any(each.tag == one for each in modules))
            self._session.apply(align_on_roof(own, across=event.key() == Qt.Key.Key_R))
        else:
            super().keyPressEvent(event)
