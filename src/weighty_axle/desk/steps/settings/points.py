"""Settings: the ladder of voltages and the sheet of set points."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout

from weighty_axle.design.figures import Figure
from weighty_axle.design.settings.points import SetPoint
from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.painting import Canvas, words
from weighty_axle.desk.kit.records import Column, Records, table_view
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import Edit, set_value
from weighty_axle.units import CHARGE, CURRENT, VOLTAGE, System, parse, show

SETTINGS_FIELDS = (
    Field(
        "Full charge",
        "settings.full_charge",
        (("gentle", "gentle: long life, slow balancing"), ("brim", "brim: quick balancing, more wear")),
    ),
)
_KINDS = {"V": VOLTAGE, "A": CURRENT, "Ah": CHARGE}


def _own(point: SetPoint, text: str) -> Edit:
    """An own value of a set point; typing the computed one, or nothing, gives the computed one back."""
    value = parse(text, _KINDS[point.computed.unit]) if text.strip() else point.computed.value
    back = abs(value - point.computed.value) < 1e-9
    words_ = f"{point.name}: {show(value, point.computed.unit)}"
    if point.key == "system_charge_a":
        return set_value("charging.system_limit_a", value, words_)
    return set_value(f"settings.own_values[{point.key}]", None if back else value, words_)


COLUMNS = (
    Column("Unit", lambda point: point.unit_tag, None),
    Column("Setting", lambda point: point.name, None),
    Column("Value", lambda point: show(point.value, point.computed.unit), None, _own),
    Column("Computed", lambda point: show(point.computed.value, point.computed.unit), None),
    Column("Why", lambda point: point.why, None),
)


class VoltageLadder(Canvas):
    """Set points on one voltage scale, lowest at the bottom, the packs' limits at both ends.

    Press a rung for its workings.
    """

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._figures: dict[str, Figure] = {}
        self.setMinimumWidth(250)
        self.setAccessibleName(tr("Voltage set points in order"))

    def draw(self, painter: QPainter) -> None:
        now, design = look(), self._session.shown.design
        low = design.bank.cells * self._session.shown.job.bank.spec.cell_min_v
        high, managed = design.settings.bms_high_v.value, self._session.shown.job.bank.spec.managed
        rungs = design.settings.ladder
        bottom = min(low, *(point.value for point in rungs))
        top = max(high, *(point.value for point in rungs))
        # The useful part is at the top: everything below the cut-out is drawn at a third of the scale.
        knee = min(point.value for point in rungs)

        def y(volts: float) -> float:
            room = self.height() - 44
            below, above = max(1e-6, (knee - bottom) / 3), max(1e-6, top - knee)
            up = (volts - bottom) / 3 if volts < knee else below + volts - knee
            return self.height() - 22 - room * up / (below + above)

        painter.setPen(QPen(QColor(now.steel), 3))
        painter.drawLine(QPointF(70, y(bottom)), QPointF(70, y(top)))
        ends = ("BMS opens below", "BMS opens above") if managed else ("packs stand from", "packs stand up to")
        for volts, text in ((low, tr(ends[0])), (high, tr(ends[1]))):
            painter.setPen(QPen(QColor(now.stop), 2.4, Qt.PenStyle.DashLine))
            painter.drawLine(QPointF(56, y(volts)), QPointF(self.width() - 8, y(volts)))
            words(
                painter,
                QRectF(84, y(volts) + (3 if volts == low else -17), 190, 14),
                f"{text} {show(volts, 'V')}",
                size=8,
                colour=now.stop,
            )
        self._figures = {}
        placed: list[float] = []
        previous = None
        for point in rungs:
            wrong = previous is not None and point.value <= previous
            previous = point.value
            at = y(point.value)
            label = at - 9
            while any(abs(label - other) < 15 for other in placed):
                label -= 3
            placed.append(label)
            colour = now.stop if wrong else now.live
            painter.setPen(QPen(QColor(colour), 3))
            painter.drawLine(QPointF(58, at), QPointF(82, at))
            painter.setPen(QPen(QColor(now.line), 1))
            painter.drawLine(QPointF(82, at), QPointF(92, label + 9))
            words(painter, QRectF(0, label, 54, 18), show(point.value, "V"), size=9, bold=True, colour=colour)
            words(
                painter,
                QRectF(96, label, self.width() - 98, 18),
                point.name + (tr(" (own)") if point.own else ""),
                size=9,
            )
            self._figures[point.key] = point.computed
            self.areas.append((QRectF(0, label, self.width(), 18), point.key))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        key = self.area_at(event.position())
        if key:
            self.opened.emit(self._figures[key])


class SettingsLeaf(Leaf):
    """School, ladder, sheet."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.fields = Fields(session, system, SETTINGS_FIELDS, 1)
        self.fields.setMaximumWidth(320)
        self.column.addWidget(self.fields)
        row = QHBoxLayout()
        self.ladder = VoltageLadder(session)
        row.addWidget(self.ladder, 2)
        side = QVBoxLayout()
        self._said = Label()
        self._said.setObjectName("stop")
        self._said.setWordWrap(True)
        self.model = Records(session, system, COLUMNS, self._say, self)
        self.table = table_view(self.model, tr("Set points"), wide=4)
        side.addWidget(self.table, 1)
        side.addWidget(self._said)
        row.addLayout(side, 5)
        self.column.addLayout(row, 1)
        self.listen(self.ladder)

    def _say(self, problem: str) -> None:
        self._said.setText(problem)

    def show_shown(self, shown: Shown) -> None:
        self.fields.show_shown(shown)
        self.model.put(shown.design.settings.points)
        self.ladder.update()
