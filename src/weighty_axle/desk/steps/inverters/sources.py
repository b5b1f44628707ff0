"""Sources: the ladder each current comes down, what is left for loads and bank, and the limit to set."""

from __future__ import annotations

import math
from typing import Any

from msgspec.structs import replace
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPen
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QPushButton

from weighty_axle.answers.inverters.faults import far_end
from weighty_axle.design.inverters.ladder import CONTINUOUS_SHARE
from weighty_axle.design.inverters.sources import SourceRow, unit_limits
from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.figures import FigureRow
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.painting import RIGHT, Canvas, bar, words
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.commands import Command
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import Edit, remove, set_value
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.inverters import Generator, Source
from weighty_axle.reference.tables import UsualSource, usual_sources
from weighty_axle.reference.vehicle_types import source_from
from weighty_axle.units import (
    APPARENT,
    CURRENT,
    FRACTION,
    NUMBER,
    POWER,
    RESISTANCE,
    SMALL_SHARE,
    TEMPERATURE,
    VOLTAGE,
    System,
    show,
)

LadderRow = tuple[Source, SourceRow]


def _limit(row: LadderRow, value: float) -> Edit:
    return set_value(f"inverters.sources[{row[0].tag}].limit_a", value, f"Limit {row[0].name} to {value:g} A")


def _between(row: LadderRow) -> str:
    return tr("yes") if row[1].gives_240 else tr("no") if row[0].volts < 200 else "–"


def _each(row: LadderRow) -> str:
    """Limit of each unit where the positions agree; else they stand on the card."""
    found = {min(row[0].limit_a, row[1].recommended_limit_a.value) / limit.units for limit in row[1].unit_limits}
    return show(math.floor(found.pop() * 10 + 1e-6) / 10, "A") if len(found) == 1 else tr("see card") if found else "–"


def _hours(value: float) -> str:
    return tr("for ever") if math.isinf(value) else show(value, "h")


COLUMNS = (
    Column("Where", lambda row: row[0].name, None),
    Column("240 V", _between, None),
    Column("Taken", lambda row: tr("yes") if row[1].accepted else tr("no"), None),
    Column("Good for", lambda row: row[1].recommended_limit_a.value, CURRENT),
    Column("Line set to", lambda row: row[0].limit_a, CURRENT, _limit),
    Column("Each unit", _each, None),
    Column("Gives", lambda row: row[1].continuous_w.value, POWER),
    Column("Bank adds", lambda row: row[1].bank_adds_w.value, POWER),
    Column("for", lambda row: _hours(row[1].bank_lasts_h.value), None),
    Column("Charges", lambda row: row[1].charge_left_a.value, CURRENT),
    Column(
        "Fills in", lambda row: tr("never") if math.isinf(row[1].full_h.value) else show(row[1].full_h.value, "h"), None
    ),
)


def _inlets(job: Job) -> tuple[tuple[Any, str], ...]:
    return (("", tr("the first")), *((inlet.tag, inlet.name) for inlet in job.ac.inlets))


def _kind(job: Job, path: str, kind: Any) -> Edit:
    """A generator has a label of its own; a socket has none."""
    tag = path.split("[")[1].split("]")[0]
    source = next(one for one in job.inverters.sources if one.tag == tag)
    made = source.generator or Generator(rated_va=source.volts * source.amps * source.legs)
    changed = replace(source, kind=kind, generator=made if kind == "generator" else None)
    return set_value(f"inverters.sources[{tag}]", changed, f"{source.name}: {kind}")


AT = "inverters.sources[{tag}]."
FIELDS = (
    Field("Name", AT + "name", str, wide=3),
    Field("Kind", AT + "kind", (("shore", "socket"), ("generator", "generator")), make=_kind, wide=2),
    Field("Volts a line", AT + "volts", VOLTAGE),
    Field("Lines", AT + "legs", int),
    Field("All alike", AT + "legs_in_phase", bool),
    Field("Socket", AT + "amps", CURRENT),
    Field("Adapter or lead", AT + "adapter_a", CURRENT, empty="no less"),
    Field("Inlet", AT + "inlet", _inlets, wide=2),
    Field("Neutral bonded", AT + "bonded", bool),
    Field("RCD, mA", AT + "rcd_ma", NUMBER),
    Field("Lead, both ways", AT + "loop_ohm", RESISTANCE),
)
GENERATOR_FIELDS = (
    Field("Rated", AT + "generator.rated_va", APPARENT),
    Field("Power factor", AT + "generator.power_factor", NUMBER),
    Field("Lost each 300 m up", AT + "generator.lost_per_300_m", SMALL_SHARE),
    Field("Full power to", AT + "generator.full_to_c", TEMPERATURE),
    Field("Lost each 10 °C more", AT + "generator.lost_per_10_c", SMALL_SHARE),
    Field("For hours", AT + "generator.continuous_share", FRACTION),
)


class CurrentLadder(Canvas):
    """One source: every rung its current comes through, the limit across all of them, then what it gives against the
    peak.
    """

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.tag = ""
        self.setFixedHeight(152)
        self.setAccessibleName(tr("The rungs of one source, and what it gives"))

    def draw(self, painter: QPainter) -> None:
        design = self._session.shown.design
        pair = next(
            (one for one in zip(design.job.inverters.sources, design.sources, strict=True) if one[0].tag == self.tag),
            None,
        )
        if pair is None:
            words(
                painter,
                QRectF(8, 8, self.width() - 16, 20),
                tr("No source yet: add one of the usual ones."),
                colour=look().muted,
            )
            return
        source, row = pair
        half = self.width() * 0.47
        self._rungs(painter, QRectF(8, 4, half, self.height() - 8), source, row)
        self._power(painter, QRectF(half + 40, 4, self.width() - half - 52, self.height() - 8), row)

    @staticmethod
    def _shares(painter: QPainter, box: QRectF, first: float, last: float, pattern: QBrush | None) -> None:
        """The track, what runs from the source, and behind it what the bank adds (hatched) or the source has to spare
        (pale).
        """
        now = look()
        painter.fillRect(box, QColor(now.track))
        painter.fillRect(QRectF(box.x(), box.y(), box.width() * first, box.height()), QColor(now.steel))
        rest = QRectF(box.x() + box.width() * first, box.y(), box.width() * (last - first), box.height())
        painter.fillRect(rest, QColor(now.live_soft))
        if pattern is not None:
            painter.fillRect(rest, pattern)

    def _rungs(self, painter: QPainter, area: QRectF, source: Source, row: SourceRow) -> None:
        now = look()
        title = tr("What the current comes through, good for hours a line")
        words(painter, QRectF(area.x(), area.y(), area.width(), 16), title, size=9, bold=True)
        most = 1.1 * max(*(rung.good_a for rung in row.rungs), source.limit_a)
        left, width = area.x() + 150, area.width() - 220
        x = left + width * source.limit_a / most
        bottom = area.y() + 21 + 19 * len(row.rungs)
        over = source.limit_a > row.recommended_limit_a.value + 0.05
        for index, rung in enumerate(row.rungs):
            y = area.y() + 21 + 19 * index
            weakest = rung == row.weakest
            words(painter, QRectF(area.x(), y, 145, 18), rung.name, size=9, bold=weakest)
            bar(painter, QRectF(left, y + 3, width, 12), rung.good_a / most, now.live if weakest else now.steel)
            words(painter, QRectF(left + width + 6, y, 64, 18), show(rung.good_a, "A"), size=9, bold=weakest)
        painter.setPen(QPen(QColor(now.stop if over else now.ink), 2))
        painter.drawLine(QPointF(x, area.y() + 19), QPointF(x, bottom))
        set_to = tr("line set to {a}, good for {r}").format(
            a=show(source.limit_a, "A"), r=show(row.recommended_limit_a.value, "A")
        )
        shared = max((limit.units for limit in row.unit_limits), default=1)
        if shared > 1:
            set_to += tr(": in each unit {each}").format(
                each=unit_limits(row, min(source.limit_a, row.recommended_limit_a.value), "metric")
            )
        box = QRectF(area.x(), bottom + 2, area.width(), 15)
        words(painter, box, set_to, size=9, bold=over, colour=now.stop if over else now.ink)
        self.figures.append((box, row.recommended_limit_a))
        lines = " ".join(self._session.shown.design.ac.lines[: row.lines_fed])
        live = (
            tr("live: {lines}, all from one line").format(lines=lines)
            if row.lines_fed > row.lines_own
            else tr("live: {lines}").format(lines=lines)
        )
        words(
            painter,
            QRectF(area.x(), bottom + 34, area.width(), 15),
            live if row.accepted else tr("live: nothing"),
            size=9,
            colour=now.muted,
        )
        box = QRectF(area.x(), bottom + 18, area.width(), 15)
        words(
            painter,
            box,
            tr("voltage at the inlet at that limit: {v}").format(v=show(row.inlet_v.value, "V")),
            size=9,
            colour=now.muted,
        )
        self.figures.append((box, row.inlet_v))

    def _power(self, painter: QPainter, area: QRectF, row: SourceRow) -> None:
        now, design = look(), self._session.shown.design
        peak, gives, adds = row.peak_w, row.continuous_w, row.bank_adds_w
        most = 1.08 * max(peak.value, gives.value, 1.0)
        title = tr("Worst there: {day}, {w}").format(day=row.day, w=show(peak.value, "W"))
        words(painter, QRectF(area.x(), area.y(), area.width(), 16), title, size=9, bold=True)
        self.figures.append((QRectF(area.x(), area.y(), area.width(), 16), peak))
        box = QRectF(area.x(), area.y() + 23, area.width(), 18)
        self._shares(
            painter,
            box,
            min(gives.value, peak.value) / most,
            max(gives.value, peak.value) / most,
            QBrush(QColor(now.live), Qt.BrushStyle.FDiagPattern) if adds.value > 0 else None,
        )
        x = box.x() + box.width() * peak.value / most
        painter.setPen(QPen(QColor(now.ink), 2))
        painter.drawLine(QPointF(x, box.y() - 4), QPointF(x, box.bottom() + 4))
        lines = (
            (tr("the source gives {w}").format(w=show(gives.value, "W")), gives),
            (
                tr("the bank adds {w}, for {h}").format(w=show(adds.value, "W"), h=_hours(row.bank_lasts_h.value)),
                row.bank_lasts_h,
            )
            if adds.value > 0
            else (tr("the bank adds nothing"), adds),
            (
                tr("left to charge with beside the busiest load {a}").format(a=show(row.charge_left_a.value, "A")),
                row.charge_left_a,
            ),
            (
                tr("a whole day there could put {wh} into the bank").format(wh=show(row.net_day_wh.value, "Wh")),
                row.net_day_wh,
            ),
        )
        for index, (text, figure) in enumerate(lines):
            line = QRectF(area.x(), area.y() + 48 + 17 * index, area.width(), 16)
            words(painter, line, text, size=9)
            self.figures.append((line, figure))
        names = {load.tag: load.name for load in design.job.loads}
        dark = ", ".join(names[tag] for tag in row.dead)
        if not row.feeds_inverters:
            last = tr("Its inlet leads to no inverter.")
        elif not row.accepted:
            last = tr("The inverters, as they are set, do not let it through.")
        else:
            last = tr("does not run there: {loads}").format(loads=dark) if dark else tr("everything runs there")
        words(
            painter,
            QRectF(area.x(), area.y() + 116, area.width() - 10, 18),
            last,
            size=9,
            bold=bool(dark),
            wrap=True,
            colour=now.check if dark or not row.accepted else now.muted,
        )
        words(
            painter,
            QRectF(area.x(), area.bottom() - 14, area.width(), 14),
            tr("tick: the peak · hatched: from the bank · pale: to spare"),
            size=7.5,
            colour=now.muted,
            align=RIGHT,
        )


class SourcesLeaf(Leaf):
    """Table, ladder of the chosen row, its fields."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        row = QHBoxLayout()
        self.usual = QComboBox()
        self.usual.setAccessibleName(tr("Add a usual source"))
        self.usual.activated.connect(self._add)
        self.usual.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.usual.setMinimumContentsLength(16)
        row.addWidget(self.usual)
        for text, do in (
            (tr("Remove source"), self._remove),
            (tr("Print the inlet card"), lambda: self.wants.emit("inlet card")),
        ):
            press = QPushButton(text)
            press.clicked.connect(do)
            row.addWidget(press)
        row.addStretch(1)
        self.column.addLayout(row)
        self._said = SaidLine()
        self.model = Records(session, system, COLUMNS, self._said.setText, self)
        self.table = table_view(self.model, tr("Sources"), wide=0)
        self.table.selectionModel().currentRowChanged.connect(lambda *_: self._turn())
        self.table.setMinimumHeight(28 + 24 * 2 + 8)
        # Room comes and goes with a generator's fields: the chosen row stays in sight.
        self.table.verticalScrollBar().rangeChanged.connect(lambda *_: self.table.scrollTo(self.table.currentIndex()))
        self.column.addWidget(self.table, 1)
        self.column.addWidget(self._said)
        self.ladder = CurrentLadder(session)
        self.column.addWidget(self.ladder)
        self.fields = Fields(session, system, FIELDS, 6)
        self.generator = Fields(session, system, GENERATOR_FIELDS, len(GENERATOR_FIELDS))
        self.column.addWidget(self.fields)
        self.column.addWidget(self.generator)
        self.figures = FigureRow(system)
        self.column.addWidget(self.figures)
        self.listen(self.ladder, self.figures)
        self.follow(self.table, self.model, lambda row: row[0].tag)

    def _chosen(self) -> Source | None:
        at = max(0, self.table.currentIndex().row())
        source: Source | None = self.model.record(at)[0] if at < self.model.rowCount() else None
        # While the last row goes, the table still holds what the job no longer has.
        return (
            source
            if source is not None and any(one.tag == source.tag for one in self.session.shown.job.inverters.sources)
            else None
        )

    def _offered(self) -> list[UsualSource]:
        """Usual sources of the job's practice that it does not have yet."""
        job = self.session.shown.job
        have = {source.tag for source in job.inverters.sources}
        return [row for row in usual_sources().rows if row.practice == job.practice and row.tag not in have]

    def _add(self, index: int) -> None:
        if index > 0:
            row = self._offered()[index - 1]
            made = replace(source_from(row), limit_a=row.amps * CONTINUOUS_SHARE[row.practice])
            self.session.apply(
                set_value("inverters.sources", (*self.session.shown.job.inverters.sources, made), f"Add {row.name}")
            )
            self.table.selectRow(self.model.rowCount() - 1)

    def _remove(self) -> None:
        source = self._chosen()
        if source is not None:
            self._said.setText(self.session.apply(remove(f"inverters.sources[{source.tag}]", source.name)) or "")

    def _turn(self) -> None:
        source, shown = self._chosen(), self.session.shown
        self.ladder.tag = source.tag if source is not None else ""
        self.ladder.update()
        self.fields.setVisible(source is not None)
        self.generator.setVisible(source is not None and source.generator is not None)
        if source is None:
            self.figures.put(())
            return
        self.fields.show_shown(shown, source.tag)
        if source.generator is not None:
            self.generator.show_shown(shown, source.tag)
        row = next(one for one in shown.design.sources if one.tag == source.tag)
        far = far_end(shown.design, source)
        self.figures.put(
            (row.recommended_limit_a, row.full_h, *((far.running_v, far.starting_v) if far is not None else ()))
        )

    def show_shown(self, shown: Shown) -> None:
        self.usual.clear()
        self.usual.addItems([tr("add a source…"), *(row.name for row in self._offered())])
        self.model.put(tuple(zip(shown.job.inverters.sources, shown.design.sources, strict=True)))
        self._turn()

    def commands(self) -> list[Command]:
        return [Command(tr("Print the inlet card…"), "", lambda: self.wants.emit("inlet card"), "print")]
