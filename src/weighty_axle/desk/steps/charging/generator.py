"""Generator: what it gives where it stands, how it is loaded, when it may run and for how long it must."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPen
from PySide6.QtWidgets import QComboBox

from weighty_axle.design.charging.generators import GeneratorRun
from weighty_axle.design.plainest import plainest
from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.leaves import Leaf, TwoLines
from weighty_axle.desk.kit.painting import CENTRE, RIGHT, Canvas, bar, words
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.commands import Command
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import set_value
from weighty_axle.job.models.inverters import Generator, Source
from weighty_axle.job.tags import next_tag
from weighty_axle.units import FRACTION, NUMBER, POWER, System, show

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
    """The day as a strip: quiet hours hatched, the hours a design day without sun asks for filled in after them; under
    it how hard the set is loaded.
    """

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.run: GeneratorRun | None = None
        self.setMinimumHeight(170)
        self.setAccessibleName(tr("When the generator may run and must"))

    def draw(self, painter: QPainter) -> None:
        run, now = self.run, look()
        if run is None:
            text = tr("No generator is stated: add one, and what it does for the bank stands here.")
            words(painter, QRectF(0, 20, self.width(), 20), text, size=10, colour=now.muted)
            return
        made = next(one.generator for one in self._session.shown.job.inverters.sources if one.tag == run.tag)
        assert made is not None
        area = QRectF(20, 40, self.width() - 40, 34)
        words(
            painter, QRectF(20, 4, area.width(), 16), tr("A day like the design day, without sun"), size=9.5, bold=True
        )
        painter.fillRect(area, QColor(now.track))

        def stretch(start_h: float, hours: float, brush: QBrush) -> None:
            for first, last in ((start_h, min(24.0, start_h + hours)), (0.0, start_h + hours - 24.0)):
                if last > first:
                    x = area.left() + first / 24 * area.width()
                    painter.fillRect(QRectF(x, area.top(), (last - first) / 24 * area.width(), area.height()), brush)

        needed = min(24.0, run.day_h.value)
        stretch(made.quiet_to_h, needed, QBrush(QColor(now.live)))
        quiet = 24 - run.open_h.value
        stretch(made.quiet_from_h, quiet, QBrush(QColor(now.paper)))
        stretch(made.quiet_from_h, quiet, QBrush(QColor(now.muted), Qt.BrushStyle.BDiagPattern))
        painter.setPen(QPen(QColor(now.ink), 1.2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(area)
        for hour in range(0, 25, 3):
            x = area.left() + hour / 24 * area.width()
            painter.drawLine(QPointF(x, area.bottom()), QPointF(x, area.bottom() + 4))
            words(painter, QRectF(x - 20, area.bottom() + 5, 40, 14), f"{hour:02d}", size=7.5, align=CENTRE)
        over = run.day_h.value > run.open_h.value
        said = tr("must run {need}, may run {open}").format(
            need=tr("for ever") if math.isinf(run.day_h.value) else show(run.day_h.value, "h"),
            open=show(run.open_h.value, "h"),
        )
        words(painter, QRectF(20, 22, area.width(), 16), said, size=9, colour=now.stop if over else now.ink)
        self.figures.append((area, run.day_h))
        y = area.bottom() + 34
        words(painter, QRectF(20, y, 150, 18), tr("Loaded to"), size=9.5)
        track = QRectF(170, y + 2, self.width() - 280, 14)
        bar(painter, track, run.load_share.value, now.live, limit_share=1.0)
        words(painter, QRectF(self.width() - 100, y, 80, 18), show(run.load_share.value, "1"), bold=True, align=RIGHT)
        self.figures.append((track, run.load_share))
        words(painter, QRectF(20, y + 26, 150, 18), tr("The night takes"), size=9.5)
        track = QRectF(170, y + 28, self.width() - 280, 14)
        bar(painter, track, run.night_share.value, now.steel, limit_share=made.start_below)
        words(
            painter,
            QRectF(self.width() - 100, y + 26, 80, 18),
            show(run.night_share.value, "1"),
            bold=True,
            align=RIGHT,
        )
        words(
            painter,
            QRectF(170, y + 46, self.width() - 280, 14),
            tr("tick: it starts below {share}; what the quiet hours take must fit under it").format(
                share=show(made.start_below, "1")
            ),
            size=8,
            colour=now.muted,
        )
        self.figures.append((track, run.night_share))


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
        self.fields = Fields(session, system, FIELDS, 7)
        self.column.addWidget(self.fields)
        self.chart = DayClock(session)
        self.column.addWidget(self.chart, 1)
        self.said = TwoLines()
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
        if chosen is None:
            self.said.setText("")
            self.power.put(())
            self.fuel.put(())
        else:
            self.said.setText(
                tr(
                    "From start to stop it runs {hours} and burns {litres}; a day like the design day burns {day}."
                ).format(
                    hours=tr("for ever") if math.isinf(chosen.run_h.value) else show(chosen.run_h.value, "h"),
                    litres=show(chosen.run_l.value, "l"),
                    day=show(chosen.day_l.value, "l"),
                )
            )
            self.power.put((chosen.gives_w, chosen.charge_w, chosen.load_share, chosen.run_h, chosen.day_h))
            self.fuel.put((chosen.fuel_l_per_h, chosen.fuel_l_per_kwh, chosen.run_l, chosen.day_l, chosen.night_share))
        self.chart.update()

    def commands(self) -> list[Command]:
        return [Command(tr("Add a generator"), "", self.add)]
