"""Generator: what it gives where it stands, how it is loaded, when it may run and for how long it must."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPen, QPolygonF
from PySide6.QtWidgets import QComboBox

from weighty_axle.answers.charging.day import STEPS, GeneratorDay, balance, generator_day
from weighty_axle.design.charging.generators import GeneratorRun
from weighty_axle.design.figures import Figure
from weighty_axle.design.plainest import plainest
from weighty_axle.desk.kit.fields import Entry, Field, Fields
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import Leaf, TwoLines
from weighty_axle.desk.kit.painting import CENTRE, RIGHT, Canvas, bar, words
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.steps.charging.curves import fill_days
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.commands import Command
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import set_value
from weighty_axle.job.models.inverters import Generator, Source
from weighty_axle.job.tags import next_tag
from weighty_axle.units import FRACTION, NUMBER, POWER, QuantityError, System, parse, show, typed

_AT = "inverters.sources[{tag}].generator."
FIELDS = (
    Field("Rating, VA", _AT + "rated_va", NUMBER),
    Field("Power factor", _AT + "power_factor", NUMBER),
    Field("For hours", _AT + "continuous_share", FRACTION),
    Field("Lost per 300 m", _AT + "lost_per_300_m", FRACTION),
    Field("Lost per 10 °C", _AT + "lost_per_10_c", FRACTION),
    Field("Fuel full, l/h", _AT + "full_l_per_h", NUMBER, empty="typical"),
    Field("Fuel half, l/h", _AT + "half_l_per_h", NUMBER, empty="typical"),
    Field("Starts below", _AT + "start_below", FRACTION),
    Field("Stops above", _AT + "stop_above", FRACTION),
    Field("Starts above load", _AT + "start_load_w", POWER, empty="by charge only"),
    Field("Quiet from, h", _AT + "quiet_from_h", NUMBER),
    Field("Quiet to, h", _AT + "quiet_to_h", NUMBER),
    Field("Bond looked at", _AT + "bond_seen", bool),
)


class DayClock(Canvas):
    """The chosen day as a strip: quiet hours hatched, running hours filled, the charge as a line; under it how hard the
    set is loaded and what the night takes.
    """

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.run: GeneratorRun | None = None
        self.day: GeneratorDay | None = None
        self.setMinimumHeight(150)
        self.setAccessibleName(tr("When the generator may run and must"))

    def draw(self, painter: QPainter) -> None:
        run, day, now = self.run, self.day, look()
        if run is None or day is None:
            text = tr("No generator is stated: add one, and what it does for the bank stands here.")
            words(painter, QRectF(0, 20, self.width(), 20), text, size=10, colour=now.muted)
            return
        made = next(one.generator for one in self._session.shown.job.inverters.sources if one.tag == run.tag)
        assert made is not None
        area = QRectF(20, 6, self.width() - 80, max(40.0, self.height() - 110))
        painter.fillRect(area, QColor(now.track))
        self._stretches(painter, area, day, made)
        painter.setPen(QPen(QColor(now.ink), 1.2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(area)
        for hour in range(0, 25, 3):
            x = area.left() + hour / 24 * area.width()
            painter.drawLine(QPointF(x, area.bottom()), QPointF(x, area.bottom() + 4))
            words(painter, QRectF(x - 20, area.bottom() + 5, 40, 14), f"{hour:02d}", size=7.5, align=CENTRE)
        line = [
            QPointF(area.left() + (at + 1) / STEPS * area.width(), area.bottom() - share * area.height())
            for at, share in enumerate(day.soc)
        ]
        painter.setPen(QPen(QColor(now.check), 2.2))
        painter.drawPolyline(QPolygonF(line))
        for share in (0.0, 0.5, 1.0):
            y = area.bottom() - share * area.height()
            words(painter, QRectF(area.right() + 4, y - 8, 52, 16), show(share, "1"), size=7.5, colour=now.check)
        self.figures.append((area, day.hours_h))
        y = area.bottom() + 30
        self._measure(painter, y, tr("Loaded to"), run.load_share, 1.0, now.live)
        self._measure(painter, y + 26, tr("The night takes"), run.night_share, made.start_below, now.steel)
        words(
            painter,
            QRectF(170, y + 44, self.width() - 280, 14),
            tr("tick: it starts below {share}; what the quiet hours take must fit under it").format(
                share=show(made.start_below, "1")
            ),
            size=8,
            colour=now.muted,
        )

    def _stretches(self, painter: QPainter, area: QRectF, day: GeneratorDay, made: Generator) -> None:
        """Running hours and quiet hours."""
        now, wide = look(), area.width() / STEPS
        for at, on in enumerate(day.on):
            hour = (at + 0.5) * 24 / STEPS
            box = QRectF(area.left() + at * wide, area.top(), wide + 0.5, area.height())
            if on:
                painter.fillRect(box, QColor(now.live))
            elif (hour - made.quiet_from_h) % 24 < (made.quiet_to_h - made.quiet_from_h) % 24:
                painter.fillRect(box, QColor(now.paper))
                painter.fillRect(box, QBrush(QColor(now.muted), Qt.BrushStyle.BDiagPattern))

    def _measure(self, painter: QPainter, y: float, name: str, figure: Figure, limit: float, colour: str) -> None:
        words(painter, QRectF(20, y, 150, 18), name, size=9.5)
        track = QRectF(170, y + 2, self.width() - 280, 14)
        bar(painter, track, figure.value, colour, limit_share=limit)
        words(painter, QRectF(self.width() - 100, y, 80, 18), show(figure.value, "1"), bold=True, align=RIGHT)
        self.figures.append((track, figure))


class GeneratorLeaf(Leaf):
    """Generator, its statements, the day, fuel."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.which = QComboBox()
        self.which.setAccessibleName(tr("Generator"))
        self.which.setMinimumContentsLength(22)
        self.which.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.which.activated.connect(lambda _index: self.show_shown(session.shown))
        self.row_of(self.which, ("Add a generator", self.add))
        self._from = 0.5
        self.day = QComboBox()
        self.day.setAccessibleName(tr("Day"))
        self.day.setMinimumContentsLength(18)
        self.day.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.day.activated.connect(lambda _index: self._reday())
        self.start = Entry(self._commit_start, tr("Charge at midnight"))
        self.start.setFixedWidth(58)
        self.row_of(Label(tr("Today:")), self.day, Label(tr("beginning with")), self.start)
        self.fields = Fields(session, system, FIELDS, 7)
        self.column.addWidget(self.fields)
        self.chart = DayClock(session)
        self.column.addWidget(self.chart, 1)
        self.said = TwoLines(bold=True)
        self.column.addWidget(self.said)
        self.power, self.fuel = self.figure_row(), self.figure_row()
        self.listen(self.chart)

    def add(self) -> None:
        """One more source of these inverters: a generator with the plainest values."""
        job, whole = self.session.shown.job, self.session.shown.whole
        american = job.practice == "north_american"
        plain = plainest(Generator, whole)
        assert isinstance(plain, Generator)
        made = Source(
            tag=next_tag(whole, "source"),
            name=tr("Generator"),
            kind="generator",
            volts=120.0 if american else 230.0,
            legs=1,
            legs_in_phase=False,
            amps=25.0 if american else 13.0,
            limit_a=20.0 if american else 11.0,
            generator=plain,
        )
        self.session.apply(set_value("inverters.sources", (*job.inverters.sources, made), f"Add {made.tag}"))
        self.which.setCurrentIndex(self.which.findData(made.tag))
        self.show_shown(self.session.shown)

    def _commit_start(self, text: str) -> str:
        try:
            share = parse(text, FRACTION, self.system)
        except QuantityError as error:
            return str(error)
        if not 0 <= share <= 1:
            return tr("A charge lies between 0 and 100 %.")
        self._from = share
        self._reday()
        return ""

    def _reday(self) -> None:
        """Walk through the chosen day."""
        design, run, asked = self.session.shown.design, self.chart.run, self.day.currentData()
        self.start.put(typed(self._from, FRACTION, self.system))
        if run is None or asked is None:
            self.chart.day = None
            self.said.setText("")
            self.fuel.put(())
        else:
            day = balance(design, asked, self._from)
            self.chart.day = found = generator_day(design, day, run, self._from)
            self.said.setText(found.words)
            self.fuel.put((found.hours_h, found.fuel_l, run.run_l, run.fuel_l_per_h, run.fuel_l_per_kwh))
        self.chart.update()

    def show_shown(self, shown: Shown) -> None:
        kept, runs = self.which.currentData(), shown.design.generators
        self.which.clear()
        for run in runs:
            self.which.addItem(f"{run.tag} {run.name}", run.tag)
        self.which.setCurrentIndex(max(0, self.which.findData(kept)))
        tag = str(self.which.currentData() or "")
        self.chart.run = chosen = next((run for run in runs if run.tag == tag), None)
        self.fields.setVisible(chosen is not None)
        self.fields.show_shown(shown, tag)
        fill_days(self.day, shown)
        if chosen is None:
            self.power.put(())
        else:
            self.power.put((chosen.gives_w, chosen.charge_w, chosen.load_share, chosen.run_h, chosen.day_h))
        self._reday()

    def commands(self) -> list[Command]:
        return [Command(tr("Add a generator"), "", self.add)]
