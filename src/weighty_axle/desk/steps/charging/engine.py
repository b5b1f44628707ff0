"""Engine: the voltages a charger sees, with the engine on and off, and thresholds that tell the two apart."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QComboBox

from weighty_axle.design.charging.engine import Detection, Verdict
from weighty_axle.design.table import Design
from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.leaves import Leaf, TwoLines
from weighty_axle.desk.kit.painting import CENTRE, RIGHT, Canvas, words
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.commands import Command
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import WHOLE, Edit, set_value
from weighty_axle.job.models.charging import Converter
from weighty_axle.job.models.document import Job
from weighty_axle.units import DURATION, VOLTAGE, System, show

SENSES = (("unsaid", "nobody has said"), ("wire", "an ignition wire"), ("voltage", "the voltage it sees"))
FIELDS = (
    Field("Sees the engine by", "converters[{tag}].senses", SENSES, wide=2),
    Field("On above", "converters[{tag}].on_v", VOLTAGE, empty="not stated"),
    Field("Off below", "converters[{tag}].off_v", VOLTAGE, empty="not stated"),
    Field("Off after", "converters[{tag}].delay_s", DURATION),
)
_WORDS: dict[Verdict, str] = {
    "works": "These thresholds tell the engine.",
    "wire": "An ignition wire tells the engine, whatever the voltages.",
    "unsaid": "Nobody has said how it sees the engine.",
    "hunts": "It switches on and off for ever in the hatched band.",
    "never_on": "It never goes on: the alternator does not reach its on voltage.",
    "drops": "It goes off while driving: the alternator sags below its off voltage.",
    "empties": "It stays on with the engine off, and empties the starting battery.",
}


def all_detections(house: Design) -> list[Detection]:
    """Every charger by the engine in the job."""
    banks = [house, *(one for one in house.others if not one.system.shares_bank)]
    return [one for design in banks for one in design.detections]


class VoltageChart(Canvas):
    """One charger on a scale of volts: four bands one under the other, thresholds as lines through all of them."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.shown: Detection | None = None
        self.setMinimumHeight(250)
        self.setAccessibleName(tr("Voltages at the charger, engine on and off"))

    def draw(self, painter: QPainter) -> None:
        one, now = self.shown, look()
        if one is None:
            text = tr("No charger works by the engine on a bar with an alternator.")
            words(painter, QRectF(0, 20, self.width(), 20), text, size=10, colour=now.muted)
            return
        bands = (
            (tr("engine on, no current"), one.running_low_v, one.running_high_v, now.live),
            (tr("engine on, full current"), one.loaded_low_v, one.running_high_v, now.live),
            (tr("engine off"), one.resting_loaded_v, one.resting_high_v, now.steel),
        )
        limits = [figure.value for _, low, high, _ in bands for figure in (low, high)]
        limits += [volts for volts in (one.on_v, one.off_v) if volts is not None]
        span = max(max(limits) - min(limits), 0.5)
        low, high = min(limits) - 0.12 * span, max(limits) + 0.12 * span
        area = QRectF(170, 40, self.width() - 190, self.height() - 84)

        def x(volts: float) -> float:
            return area.left() + (volts - low) / (high - low) * area.width()

        step = next(one for one in (0.1, 0.2, 0.5, 1, 2, 5, 10, 1e9) if (high - low) / one <= 12)
        mark = step * int(low / step + 1)
        while mark < high:
            painter.setPen(QPen(QColor(now.line), 0.8))
            painter.drawLine(QPointF(x(mark), area.top()), QPointF(x(mark), area.bottom()))
            rect = QRectF(x(mark) - 30, area.bottom() + 3, 60, 14)
            words(painter, rect, f"{mark:.1f} V", size=7.5, colour=now.muted, align=CENTRE)
            mark += step
        row = area.height() / 4
        for index, (name, first, last, colour) in enumerate(bands):
            y = area.top() + index * row
            words(painter, QRectF(4, y, 158, row - 8), name, size=9, align=RIGHT)
            box = QRectF(x(first.value), y, max(3.0, x(last.value) - x(first.value)), row - 10)
            painter.fillRect(box, QColor(colour))
            half = box.width() / 2
            self.figures += [(box.adjusted(-4, 0, -half, 0), first), (box.adjusted(half, 0, 4, 0), last)]
        y = area.top() + 3 * row
        words(painter, QRectF(4, y, 158, row - 8), tr("thresholds that work"), size=9, align=RIGHT)
        if one.good_on_v is None or one.good_off_v is None:
            said = tr("none: only an ignition wire will do")
            words(painter, QRectF(area.left(), y, area.width(), row - 8), said, size=9.5, bold=True, colour=now.stop)
        else:
            for name, (first_v, last_v), top in ((tr("off"), one.good_off_v, 0.0), (tr("on"), one.good_on_v, 0.5)):
                box = QRectF(x(first_v), y + top * (row - 8), max(3.0, x(last_v) - x(first_v)), (row - 8) / 2 - 1)
                painter.setPen(QPen(QColor(now.live), 1.2))
                painter.setBrush(QColor(now.live_soft))
                painter.drawRect(box)
                words(painter, box.adjusted(5, 0, 0, 0), name, size=7.5)
        if one.hunts_v is not None:
            left, right = x(max(low, one.hunts_v[0])), x(min(high, one.hunts_v[1]))
            box = QRectF(left, area.top() - 6, max(4.0, right - left), 3 * row + 2)
            painter.setPen(QPen(QColor(now.stop), 1))
            painter.setBrush(QBrush(QColor(now.stop), Qt.BrushStyle.BDiagPattern))
            painter.drawRect(box)
        for name, volts, level in ((tr("on above"), one.on_v, 0), (tr("off below"), one.off_v, 1)):
            if volts is not None and one.senses != "wire":
                style = Qt.PenStyle.SolidLine if level == 0 else Qt.PenStyle.DashLine
                painter.setPen(QPen(QColor(now.ink), 2.2, style))
                painter.drawLine(QPointF(x(volts), area.top() - 8), QPointF(x(volts), area.bottom()))
                rect = QRectF(x(volts) - 70, 4 + 14 * level, 140, 14)
                words(painter, rect, f"{name} {show(volts, 'V')}", size=8.5, bold=True, align=CENTRE)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if self.shown is not None:
            self._session.select(self.shown.tag)
        super().mousePressEvent(event)


class EngineLeaf(Leaf):
    """Charger, how it sees the engine, the scale, and settings that work."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.which = QComboBox()
        self.which.setAccessibleName(tr("Charger"))
        self.which.setMinimumContentsLength(16)
        self.which.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.which.activated.connect(lambda _index: self.show_shown(session.shown))
        self.row_of(
            self.which, ("Set what works", self.set_good), ("By a wire", self.set_wire), ("All alike", self.set_alike)
        )
        self.fields = Fields(session, system, FIELDS, len(FIELDS), whole=True)
        self.column.addWidget(self.fields)
        self.verdict = TwoLines(bold=True)
        self.column.addWidget(self.verdict)
        self.chart = VoltageChart(session)
        self.column.addWidget(self.chart, 1)
        self.figures = self.figure_row()
        self.listen(self.chart)

    def _tag(self) -> str:
        return str(self.which.currentData() or "")

    def _set(self, label: str, values: dict[str, object], tags: tuple[str, ...]) -> None:
        """Set some values of chargers in one step, whatever their order would be refused for."""

        def apply(job: Job) -> Job:
            for tag in tags:
                for name, value in values.items():
                    job = set_value(f"converters[{tag}].{name}", value, "").apply(job)
            return job

        self.session.apply(Edit(label, apply, path=f"converters[{tags[0]}]", system=WHOLE))

    def set_good(self) -> None:
        """Set thresholds in the middle of what works; by a wire where nothing does."""
        one = self.chart.shown
        good = one.settings if one is not None else None
        if one is None or good is None:
            self.set_wire()
            return
        values: dict[str, object] = {"senses": "voltage", "on_v": good[0], "off_v": good[1]}
        self._set(f"{one.tag} on above {good[0]:g} V, off below {good[1]:g} V", values, (one.tag,))

    def set_wire(self) -> None:
        """Let the chosen charger see the engine by a wire."""
        if self._tag():
            self._set(f"An ignition wire to {self._tag()}", {"senses": "wire"}, (self._tag(),))

    def set_alike(self) -> None:
        """Set every charger by the engine as the chosen one is."""
        known = {one.tag: one for one in self.session.shown.whole.converters}
        chosen: Converter | None = known.get(self._tag())
        others = tuple(one.tag for one in all_detections(self.session.shown.house) if one.tag != self._tag())
        if chosen is not None and others:
            values = {name: getattr(chosen, name) for name in ("senses", "on_v", "off_v", "delay_s")}
            self._set(f"Every charger sees the engine as {chosen.tag} does", values, others)

    def show_shown(self, shown: Shown) -> None:
        found, kept = all_detections(shown.house), self.which.currentData()
        self.which.clear()
        for each in found:
            self.which.addItem(f"{each.tag} {each.name}", each.tag)
        self.which.setCurrentIndex(max(0, self.which.findData(kept)))
        self.chart.shown = one = next((one for one in found if one.tag == self._tag()), None)
        for press in self.presses.values():
            press.setEnabled(one is not None)
        self.presses["All alike"].setEnabled(len(found) > 1)
        self.fields.setVisible(one is not None)
        self.fields.show_shown(shown, self._tag())
        if one is None:
            self.verdict.setText("")
            self.figures.put(())
        else:
            good = one.settings
            works = (
                tr(" On above {on} and off below {off} works.").format(on=show(good[0], "V"), off=show(good[1], "V"))
                if good is not None
                else tr(" Only an ignition wire will do.")
            )
            more = works if one.verdict not in ("works", "wire") else ""
            self.verdict.setText(tr(_WORDS[one.verdict]) + more)
            self.figures.put(
                (one.running_low_v, one.loaded_low_v, one.resting_high_v, one.resting_loaded_v, one.drop_v)
            )
        self.chart.update()

    def commands(self) -> list[Command]:
        return [Command(tr("Set thresholds that tell the engine"), "", self.set_good)]
