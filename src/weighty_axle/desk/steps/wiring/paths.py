"""The tree: every way from the bank to the last light with volts, amps and heat, in a state or each at its worst."""

from __future__ import annotations

from typing import NamedTuple

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter
from PySide6.QtWidgets import QScrollArea, QSlider

from weighty_axle.answers.wiring.joint import BadJoint, bad_joint
from weighty_axle.design.figures import Figure
from weighty_axle.design.wiring.flow import AtWay, DcState, WayFlow
from weighty_axle.design.wiring.tree import TreeWay
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.painting import CENTRE, RIGHT, Canvas, brush, pen, words
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.rules.wiring.flow import CRITICAL_DROP, OTHER_DROP
from weighty_axle.units import NUMBER, System, conductor_words, show

WORST = "worst"
_ROW, _INDENT = 19, 14
_MOST_MOHM = 20.0


class StateRow(NamedTuple):
    """A row of the states: its key, its words, and the state; None for each way at its own worst."""

    key: str
    name: str
    state: DcState | None


def state_rows(shown: Shown) -> tuple[StateRow, ...]:
    """Every state that was solved, after the worst of all."""
    states = shown.design.flow.states
    return (
        StateRow(WORST, tr("each way at its own worst"), None),
        *(StateRow(state.key, state.name, state) for state in states),
    )


_COLUMNS = (
    Column("State", lambda row: row.name, None),
    Column(
        "Source, V",
        lambda row: round(next(iter(row.state.source_v.values())), 1) if row.state is not None else None,
        NUMBER,
    ),
    Column("Heat in all ways, W", lambda row: round(row.state.lost_w) if row.state is not None else None, NUMBER),
    Column(
        "Settled",
        lambda row: (
            ""
            if row.state is None
            else tr("no working point: {bars}").format(bars=", ".join(row.state.collapsed))
            if row.state.collapsed
            else tr("in {passes} passes").format(passes=row.state.passes)
        ),
        None,
    ),
)


class PathPicture(Canvas):
    """A row a way, under what feeds it: current and which way it flows, a staircase of the drop from the source to its
    end, volts left there, heat. Up and down choose a way.
    """

    def __init__(self, session: Session, system: System) -> None:
        super().__init__()
        self._session, self._system = session, system
        self.state: DcState | None = None
        self.joint: BadJoint | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Volts, amps and heat of every DC way"))
        session.selected.connect(self.update)

    def ways(self) -> list[TreeWay]:
        """Ways on show, each after what feeds it."""
        found: list[TreeWay] = []
        for root in self._session.shown.design.tree.roots:
            own = [way for way in root.ways if way.kind != "bar"]
            below: dict[str, list[TreeWay]] = {}
            for way in own:
                below.setdefault(way.above, []).append(way)
            waiting = list(reversed(below.get("", [])))
            while waiting:
                way = waiting.pop()
                found.append(way)
                waiting += reversed(below.get(way.tag, []))
        return found

    def chosen(self) -> TreeWay | None:
        """The way that is selected, the first where none is."""
        ways, tags = self.ways(), self._session.selection
        return next((way for way in ways if way.tag in tags), ways[0] if ways else None)

    def _at(self, way: TreeWay) -> tuple[AtWay | None, float]:
        """A way in the state on show, its joint counted, and the voltage of its source."""
        state = self.state
        if state is None:
            own = next(one for one in self._session.shown.design.flow.ways if one.tag == way.tag)
            name = own.drop_share.limit
            state = next(one for one in self._session.shown.design.flow.states if one.name == name)
        at = state.ways.get(way.tag)
        if self.joint is not None and self.state is not None:
            at = self.joint.ways.get(way.tag, at)
        return at, state.source_v.get(way.bar, 0.0)

    def _depth(self, way: TreeWay, by_tag: dict[str, TreeWay]) -> list[TreeWay]:
        """The ways above one, nearest to the source first."""
        above: list[TreeWay] = []
        at = by_tag.get(way.above)
        while at is not None:
            above.insert(0, at)
            at = by_tag.get(at.above)
        return above

    def draw(self, painter: QPainter) -> None:
        ways, flows = self.ways(), {one.tag: one for one in self._session.shown.design.flow.ways}
        if not ways:
            words(painter, QRectF(self.rect()), tr("Its leads are those of the bank it shares."), align=CENTRE)
            return
        by_tag = {way.tag: way for way in ways}
        share = max((flow.drop_share.value for flow in flows.values() if flow.told), default=0.0)
        scale = max(0.04, 1.1 * min(share, 0.25))
        left, right = 316.0, self.width() - 128.0
        self._axis(painter, left, right, scale)
        chosen = self.chosen()
        worst = self._session.shown.design.flow.worst_way
        for row, way in enumerate(ways):
            y = 20.0 + row * _ROW
            box = QRectF(0, y, self.width(), _ROW)
            if way is chosen:
                painter.fillRect(box, QColor(look().live_soft))
            above = self._depth(way, by_tag)
            self._names(painter, way, y, len(above), way.tag == worst)
            at, source = self._at(way)
            if at is not None and source > 0:
                self._stairs(painter, way, [*above, way], source, QRectF(left, y, right - left, _ROW), scale)
                self._numbers(painter, at, flows[way.tag], y, right)
            self.areas.append((box, way.tag))

    def _axis(self, painter: QPainter, left: float, right: float, scale: float) -> None:
        now = look()
        words(painter, QRectF(4, 2, 190, 15), tr("way"), size=7.5, colour=now.muted)
        words(painter, QRectF(226, 2, 84, 15), tr("current"), size=7.5, colour=now.muted, align=RIGHT)
        words(painter, QRectF(right + 4, 2, 64, 15), tr("at its end"), size=7.5, colour=now.muted, align=RIGHT)
        words(painter, QRectF(right + 72, 2, 52, 15), tr("heat"), size=7.5, colour=now.muted, align=RIGHT)
        for allowed in (0.0, CRITICAL_DROP, OTHER_DROP):
            if allowed <= scale:
                x = left + (right - left) * allowed / scale
                painter.setPen(pen(now.line, 1.0, Qt.PenStyle.SolidLine if not allowed else Qt.PenStyle.DashLine))
                painter.drawLine(QPointF(x, 17), QPointF(x, self.height()))
                if allowed:
                    words(
                        painter, QRectF(x - 30, 2, 60, 15), show(allowed, "1"), size=7.5, colour=now.muted, align=CENTRE
                    )
        words(painter, QRectF(left + 4, 2, 200, 15), tr("drop"), size=7.5, colour=now.muted)

    def _names(self, painter: QPainter, way: TreeWay, y: float, depth: int, worst: bool) -> None:
        now = look()
        x = 4.0 + depth * _INDENT
        if depth:
            painter.setPen(pen(now.line, 1.0))
            painter.drawLine(QPointF(x - 8, y), QPointF(x - 8, y + _ROW / 2))
            painter.drawLine(QPointF(x - 8, y + _ROW / 2), QPointF(x - 2, y + _ROW / 2))
        size = f"{way.count} x {way.size}" if way.count > 1 else way.size
        text = f"{way.tag}  {conductor_words(size) if way.known else tr('not known')}"
        wiring = self._session.shown.design.wiring
        thin = {run.tag for run in wiring.runs if run.chosen is None or run.chosen.against}
        colour = now.stop if way.tag in thin else now.ink
        words(painter, QRectF(x, y, 232 - x, _ROW), text, size=8.5, bold=worst or way.tag in thin, colour=colour)

    def _stairs(
        self, painter: QPainter, way: TreeWay, path: list[TreeWay], source: float, box: QRectF, scale: float
    ) -> None:
        """The drop from the source, a step for every way of its path; what lies between two ways is the bar's."""
        now, level = look(), 0.0
        state_ends = []
        for one in path:
            at, _ = self._at_in_same_state(one, way)
            if at is not None:
                state_ends.append((one, abs(source - at.end_v) / source))
        for number, (one, share) in enumerate(state_ends):
            start, end = min(level, scale), min(share, scale)
            wide = box.width() / scale
            rect = QRectF(box.x() + wide * min(start, end), box.y() + 5, max(1.0, wide * abs(end - start)), _ROW - 10)
            own = one is way
            allowed = OTHER_DROP if way.kind == "circuit" else 1.0
            colour = now.stop if own and share > allowed else now.live if own else now.steel
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(brush(colour) if number % 2 == 0 or own else brush(now.line))
            painter.drawRect(rect)
            level = share
        if state_ends and state_ends[-1][1] > scale:
            words(painter, box.adjusted(0, 0, -2, 0), "»", size=9, bold=True, colour=now.stop, align=RIGHT)

    def _at_in_same_state(self, one: TreeWay, way: TreeWay) -> tuple[AtWay | None, float]:
        """A way of another's path, in the state that other is shown in."""
        if self.state is not None:
            return self._at(one)
        own = next(flow for flow in self._session.shown.design.flow.ways if flow.tag == way.tag)
        state = next(s for s in self._session.shown.design.flow.states if s.name == own.drop_share.limit)
        return state.ways.get(one.tag), state.source_v.get(one.bar, 0.0)

    def _numbers(self, painter: QPainter, at: AtWay, flow: WayFlow, y: float, right: float) -> None:
        now = look()
        amps, heat = at.amps, abs(at.watts)
        if self.state is None:
            amps, heat = flow.most_a.value, flow.heat_w.value
        arrow = "" if abs(amps) < 0.05 else "→ " if amps > 0 else "← "
        current = QRectF(226, y, 84, _ROW)
        words(painter, current, f"{arrow}{show(abs(amps), 'A')}", size=8.5, align=RIGHT)
        end = QRectF(right + 4, y, 64, _ROW)
        words(painter, end, show(at.end_v, "V"), size=8.5, align=RIGHT)
        hot = QRectF(right + 72, y, 52, _ROW)
        words(painter, hot, show(heat, "W"), size=8.5, align=RIGHT, colour=now.ink)
        if self.state is None:
            self.figures += [(current, flow.most_a), (end, flow.drop_share), (hot, flow.heat_w)]

    def mousePressEvent(self, event: QMouseEvent) -> None:
        tag = self.area_at(event.position())
        if tag:
            self._session.select(tag)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        ways, chosen = self.ways(), self.chosen()
        if event.key() not in (Qt.Key.Key_Up, Qt.Key.Key_Down) or chosen is None:
            super().keyPressEvent(event)
            return
        at = ways.index(chosen) + (1 if event.key() == Qt.Key.Key_Down else -1)
        self._session.select(ways[at % len(ways)].tag)


class PathsLeaf(Leaf):
    """States, the picture, and a joint to make bad."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.said = SaidLine()
        self.model = Records(session, system, _COLUMNS, self.said.setText, self)
        self.table = table_view(self.model, tr("States of the DC side"), wide=0)
        self.table.setFixedHeight(118)
        self.table.selectionModel().currentRowChanged.connect(self._on_state)
        self.column.addWidget(self.table)
        self.picture = PathPicture(session, system)
        self.window_on = QScrollArea()
        self.window_on.setWidgetResizable(True)
        self.window_on.setWidget(self.picture)
        self.column.addWidget(self.window_on, 1)
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setRange(0, int(10 * _MOST_MOHM))
        self.slider.setMinimumWidth(180)
        self.slider.setAccessibleName(tr("Resistance of a bad joint in the chosen way"))
        self.slider.valueChanged.connect(self._on_joint)
        self.told = Label()
        self.row_of(Label(tr("A bad joint there:")), self.slider, self.told)
        self.figures = self.figure_row()
        self.listen(self.picture)
        session.selected.connect(self._on_selected)

    def _row(self) -> StateRow:
        row = self.table.currentIndex().row()
        found: StateRow = self.model.record(row if 0 <= row < self.model.rowCount() else 0)
        return found

    def _on_state(self) -> None:
        self.picture.state = self._row().state
        self._on_joint()

    def _on_selected(self) -> None:
        if self.isVisible():
            self._on_joint()

    def _on_joint(self) -> None:
        """Solve again with the joint as bad as the slider says, in the state on show or the worst of the way."""
        way, milliohm = self.picture.chosen(), self.slider.value() / 10
        self.picture.joint = None
        flows = {one.tag: one for one in self.session.shown.design.flow.ways}
        if way is None or way.tag not in flows:
            self.told.setText("")
            self.figures.put(())
            return
        self.window_on.ensureVisible(0, 20 + _ROW * self.picture.ways().index(way) + _ROW // 2, 0, _ROW)
        flow = flows[way.tag]
        state = self.picture.state or self._state_of(flow.most_a.limit)
        joint = bad_joint(self.session.shown.design, state, way.tag, milliohm / 1000) if state and milliohm else None
        figures: tuple[Figure, ...] = (flow.most_a, flow.drop_share, flow.heat_w)
        if joint is None:
            self.told.setText(tr("none in {way}").format(way=way.tag))
        else:
            self.picture.joint = joint
            self.told.setText(
                tr("{milliohm:.1f} mΩ in {way}, {state}: {heat} in it, {volts} lost{end}").format(
                    milliohm=milliohm,
                    way=way.tag,
                    state=joint.heat_w.limit,
                    heat=show(joint.heat_w.value, "W"),
                    volts=show(joint.lost_v.value, "V"),
                    end=tr("; nothing behind it works") if joint.collapsed else "",
                )
            )
            figures = (joint.heat_w, joint.lost_v, *figures)
        self.figures.put(figures)
        self.picture.update()

    def _state_of(self, name: str) -> DcState | None:
        return next((one for one in self.session.shown.design.flow.states if one.name == name), None)

    def show_shown(self, shown: Shown) -> None:
        self.model.put(state_rows(shown))
        self.picture.setMinimumHeight(30 + _ROW * len(self.picture.ways()))
        self._on_state()
        self.picture.update()
