"""Mix: every state of the sources stacked against what the bank takes, who gives way, and what each unit is told."""

from __future__ import annotations

import math
from functools import partial
from typing import Any

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QComboBox, QPushButton

from weighty_axle.answers.charging.filling import filling
from weighty_axle.design.charging.states import KIND_WORDS, SourceState
from weighty_axle.design.figures import Figure
from weighty_axle.design.table import Design
from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import Leaf, TwoLines
from weighty_axle.desk.kit.painting import RIGHT, Canvas, words
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import press_words, tip, tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import WHOLE, Edit, set_value
from weighty_axle.job.models.charging import SourceKind
from weighty_axle.units import CURRENT, System, show

LIMIT_FIELDS = (
    Field("System charge limit", "charging.system_limit_a", CURRENT, empty="no limit set"),
    Field("Shore charger, one", "inverters.spec.charge_a", CURRENT),
    Field("Pack takes", "bank.spec.charge_a", CURRENT),
    Field("Pack takes, cool", "bank.spec.charge_cool_a", CURRENT, empty="not stated"),
)
_FILLS: dict[SourceKind, Qt.BrushStyle] = {
    "sun": Qt.BrushStyle.SolidPattern,
    "engine": Qt.BrushStyle.Dense4Pattern,
    "converters": Qt.BrushStyle.FDiagPattern,
    "generator": Qt.BrushStyle.HorPattern,
    "shore": Qt.BrushStyle.BDiagPattern,
}
FILL_FROM = 0.2


class MixChart(Canvas):
    """One bar per state at the chosen plug; sources told apart by pattern and named in the bar. What gives way is cut
    off and left open. Press a bar for its working.
    """

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.plug = ""
        self.hours: dict[str, float] = {}
        self._shown: list[SourceState] = []
        self.setMinimumHeight(150)
        self.setAccessibleName(tr("Charge sources against the bank's limit"))

    def states(self) -> list[SourceState]:
        """States at the chosen plug in which something comes in."""
        return [one for one in self._session.shown.design.source_states.states if one.plug == self.plug and one.parts]

    def draw(self, painter: QPainter) -> None:
        now, design = look(), self._session.shown.design
        found = design.source_states
        self._shown = self.states()
        if not self._shown:
            words(painter, QRectF(0, 30, self.width(), 20), tr("Nothing charges in this state."), colour=now.muted)
            return
        limits = [
            (tr("bank takes"), design.bank.charge_limit_a, now.stop),
            (tr("one pack out"), design.bank.one_pack_out_charge_a, now.check),
            (tr("coldest"), design.charging.cold_limit_a, now.steel),
            (tr("held to"), found.held_to_a, now.live),
        ]
        row = min(52.0, (self.height() - 52) / len(self._shown))
        left, width = 206.0, self.width() - 206 - 128
        most = 1.05 * max(design.bank.charge_limit_a.value, *(one.most_a for one in self._shown))
        for index, state in enumerate(self._shown):
            self._row(painter, state, index, QRectF(left, 44 + index * row, width, row), most)
        bottom = 44 + row * len(self._shown)
        # Limits from the left, each named over its line, on a line of its own where two stand close.
        whole = design.bank.charge_limit_a.value
        shown = [one for one in limits if one[1].value <= most and (one[1].value != whole or one is limits[0])]
        lines = [(left + width * figure.value / most, *one) for one in shown for figure in (one[1],)]
        for x, _, _, colour in lines:
            painter.setPen(QPen(QColor(colour), 2, Qt.PenStyle.DashLine))
            painter.drawLine(QPointF(x, 40), QPointF(x, bottom))
        last_x, level = -999.0, 0
        for x, name, figure, colour in sorted(lines, key=lambda one: one[0]):
            level = (level + 1) % 3 if x - last_x < 150 else 0
            last_x = x
            text = f"{name} {show(figure.value, 'A')}"
            rect = QRectF(x - 7.0 * len(text), 1 + 13 * level, 7.0 * len(text), 13)
            words(painter, rect, text, size=8, bold=True, colour=colour, align=RIGHT)
            painter.setPen(QPen(QColor(colour), 1))
            painter.drawLine(QPointF(x + 2, rect.center().y()), QPointF(x + 2, 40))
            self.figures.append((rect, figure))

    def _row(self, painter: QPainter, state: SourceState, index: int, rect: QRectF, most: float) -> None:
        now, design = look(), self._session.shown.design
        high = rect.height() - 10
        words(painter, QRectF(0, rect.y(), rect.x() - 10, high), tr(_capital(state.name)), size=9)
        painter.fillRect(QRectF(rect.x(), rect.y(), rect.width(), high), QColor(now.track))
        x, kept = rect.x(), design.source_states.given_way(state)
        for part in reversed(state.parts):
            for amps, solid in ((min(part.amps, kept[part.kind]), True), (part.amps - kept[part.kind], False)):
                if amps <= 0:
                    continue
                wide = rect.width() * amps / most
                box = QRectF(x, rect.y(), wide, high)
                painter.setPen(QPen(QColor(now.live if solid else now.stop), 1.2))
                painter.setBrush(QColor(now.live_soft if solid else now.paper))
                painter.drawRect(box)
                if solid and _FILLS[part.kind] != Qt.BrushStyle.SolidPattern:
                    colour = QColor(now.live)
                    colour.setAlphaF(0.4)
                    painter.setBrush(QBrush(colour, _FILLS[part.kind]))
                    painter.drawRect(box)
                told = f"{tr(KIND_WORDS[part.kind])} {show(amps, 'A')}" if solid else tr("gives way")
                label = QRectF(box.x() + 4, box.center().y() - 8, min(wide - 8, 6.4 * len(told)), 16)
                if wide > 54:
                    painter.fillRect(label, QColor(now.live_soft if solid else now.paper))
                    words(painter, label, told, size=7.5, colour=now.ink if solid else now.stop)
                x += wide
        over = state.most_a > design.bank.charge_limit_a.value * (1 + 1e-6)
        words(
            painter,
            QRectF(rect.right() + 6, rect.y(), 56, high),
            show(state.total_a, "A"),
            size=11,
            bold=True,
            colour=now.stop if over else now.ink,
            align=RIGHT,
        )
        hours = self.hours.get(state.name)
        if hours is not None:
            said = tr("never") if math.isinf(hours) else show(hours, "h")
            words(painter, QRectF(rect.right() + 66, rect.y(), 60, high), said, size=9.5, align=RIGHT)
        self.areas.append((QRectF(0, rect.y(), self.width(), rect.height()), str(index)))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        area = self.area_at(event.position())
        if area:
            self.opened.emit(_working(self._shown[int(area)], self._session.shown.design))


def _capital(text: str) -> str:
    return text[:1].upper() + text[1:]


def _working(state: SourceState, design: Design) -> Figure:
    """The working of a bar."""
    from weighty_axle.design.figures import PRACTICE, Given

    return Figure.total(
        name=f"Charge current: {state.name}",
        unit="A",
        formula="Σ of every unit that charges in this state",
        inputs=tuple(Given(unit.tag, unit.amps, "A") for part in state.parts for unit in part.units),
        source=PRACTICE,
        limit=tr("with a cold alternator {a}; held to {held}").format(
            a=show(state.most_a, "A"), held=show(design.source_states.held_to_a.value, "A")
        )
        if state.most_a > state.total_a
        else "",
    )


class ChargingLeaf(Leaf):
    """Plug, limits, order of giving way, chart, and what each unit is told."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.fields = Fields(session, system, LIMIT_FIELDS, len(LIMIT_FIELDS))
        self.column.addWidget(self.fields)
        self.plug = QComboBox()
        self.plug.setAccessibleName(tr("Plugged in"))
        self.plug.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.plug.setMinimumContentsLength(16)
        self.plug.activated.connect(self._turn_plug)
        self.order = [QPushButton() for _ in KIND_WORDS]
        for at, press in enumerate(self.order):
            press.setObjectName("narrow")
            press.clicked.connect(partial(self._sooner, at))
        self.row_of(self.plug)
        self.row_of(Label(tr("Gives way first:")), *self.order)
        self.chart = MixChart(session)
        self.column.addWidget(self.chart, 1)
        self.told = TwoLines()
        self.column.addWidget(self.told)
        self.figures = self.figure_row()
        self.listen(self.chart)

    def _turn_plug(self, _index: int) -> None:
        self.chart.plug = str(self.plug.currentData() or "")
        self._ask_times()
        self.chart.update()

    def _sooner(self, at: int) -> None:
        """Let a kind of source give way one place sooner; the first goes last."""
        order = list(self.session.shown.job.charging.gives_way)
        kind = order.pop(at)
        order.insert(at - 1 if at else len(order), kind)
        edit = set_value("charging.gives_way", tuple(order), f"{KIND_WORDS[kind]} gives way sooner")
        self.session.apply(Edit(edit.label, edit.apply, path=edit.path, system=WHOLE))

    def _ask_times(self) -> None:
        design, states = self.session.shown.design, tuple(self.chart.states())
        key = (design.source_states, design.bank, design.job.settings, self.chart.plug)
        self.quietly(key, partial(_times, design, states), self._timed)

    def _timed(self, found: dict[str, float] | None) -> None:
        self.chart.hours = found or {}
        self.chart.update()

    def show_shown(self, shown: Shown) -> None:
        self.fields.show_shown(shown)
        found = shown.design.source_states
        plugs = dict.fromkeys((one.plug, one.plug_name) for one in found.states)
        self.plug.clear()
        for plug, name in plugs:
            self.plug.addItem(f"{plug} {name}" if plug else tr("nothing plugged in"), plug)
        at = self.plug.findData(self.chart.plug)
        strongest = self.plug.findData(found.worst.plug)
        self.plug.setCurrentIndex(at if at >= 0 and self.chart.hours else max(0, strongest))
        self.chart.plug = str(self.plug.currentData() or "")
        for press, kind in zip(self.order, shown.job.charging.gives_way, strict=True):
            press.setText(press_words(tr(KIND_WORDS[kind])))
            press.setToolTip(tip(tr("{kind}: press to let it give way sooner").format(kind=tr(KIND_WORDS[kind]))))
        self.told.setText(_told_words(shown.design))
        result = shown.design.charging
        self.figures.put((found.worst_a, result.into_bank_a, result.safe_limit_a, result.cold_limit_a))
        self.chart.update()
        self._ask_times()


def _told_words(design: Design) -> str:
    """What each unit is told, in a line."""
    parts = []
    for one in design.source_states.told:
        told, most = show(one.told_a.value, "A"), show(one.most_a, "A")
        cut = one.told_a.value < one.most_a * (1 - 1e-9)
        parts.append(
            tr("{tag} {told} of {most}").format(tag=one.tag, told=told, most=most) if cut else f"{one.tag} {told}"
        )
    if not parts:
        return tr("Nothing charges this bank.")
    head = tr("Tell each unit, so that no state passes {a}:").format(a=show(design.source_states.held_to_a.value, "A"))
    return f"{head} {' · '.join(parts)}"


def _times(design: Design, states: tuple[SourceState, ...], progress: Any) -> dict[str, float]:
    """Hours from a fifth to full in each state."""
    found = {}
    for at, state in enumerate(states):
        progress(at / len(states), state.name)
        found[state.name] = filling(design, state, FILL_FROM).hours_h.value
    return found
