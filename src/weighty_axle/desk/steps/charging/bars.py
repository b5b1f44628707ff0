"""Low voltage: every DC bar with what feeds it and what its loads draw, and what stays alive when a bank drops out."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QScrollArea

from weighty_axle.design.plainest import plainest
from weighty_axle.design.table import Design
from weighty_axle.design.wiring.direct import BarResult
from weighty_axle.desk.kit.leaves import Leaf, TwoLines
from weighty_axle.desk.kit.painting import LEFT, RIGHT, Canvas, words
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.commands import Command
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.sheet import add_entry
from weighty_axle.job.models.charging import VEHICLE, Converter
from weighty_axle.job.models.wiring import Bar
from weighty_axle.job.stated import Stated
from weighty_axle.job.systems import bar_of, bar_tag
from weighty_axle.units import System, show

_ROW, _LEFT = 96, 214


def rows(house: Design) -> list[tuple[Design, BarResult]]:
    """Every bar of the job, each with the design of the bank that feeds it."""
    banks = [house, *(one for one in house.others if not one.system.shares_bank)]
    return [(design, bar) for design in banks for bar in design.direct.bars]


class BarChart(Canvas):
    """One band per bar: the copper as a line, what comes in above it, what is drawn below; press one for its sheet."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__()
        self._session, self._system = session, system
        self.setAccessibleName(tr("DC bars, what feeds them and what they draw"))

    def sizeHint(self) -> QSize:
        return QSize(640, 12 + _ROW * len(rows(self._session.shown.house)))

    def minimumSizeHint(self) -> QSize:
        return QSize(420, self.sizeHint().height())

    def draw(self, painter: QPainter) -> None:
        for index, (design, bar) in enumerate(rows(self._session.shown.house)):
            self._row(painter, design, bar, 8.0 + index * _ROW)

    def _row(self, painter: QPainter, design: Design, bar: BarResult, y: float) -> None:
        now, width = look(), float(self.width())
        lit = bar.tag in self._session.selection
        words(painter, QRectF(4, y, _LEFT - 14, 18), f"{bar.name}", size=10.5, bold=True, align=LEFT)
        words(
            painter,
            QRectF(4, y + 17, _LEFT - 14, 15),
            tr("{tag} · {volts} V class").format(tag=bar.tag, volts=bar.volts),
            size=8,
            colour=now.muted,
            align=LEFT,
        )
        painter.setPen(QPen(QColor(now.live if lit else now.ink), 5 if lit else 4))
        painter.drawLine(QPointF(_LEFT, y + 36), QPointF(width - 12, y + 36))
        words(painter, QRectF(_LEFT, y, width - _LEFT - 12, 30), self._comes_in(design, bar), size=8.5, wrap=True)
        drawn = tr("loads together {amps}").format(amps=show(bar.demand_a.value, "A"))
        groups = [one for one in design.beside if bar.given_a is None]
        for one in groups:
            drawn += tr(" + {name} up to {watts}").format(name=one.name, watts=show(one.full_w.value, "W"))
        limit = bar.given_a
        if limit is not None:
            drawn += tr(" of {amps} that its converters give").format(amps=show(limit.value, "A"))
        words(
            painter,
            QRectF(_LEFT, y + 42, width - _LEFT - 130, 16),
            f"{drawn} ({bar.demand_a.limit})",
            size=8.5,
            colour=now.stop if limit is not None and bar.demand_a.value > limit.value else now.ink,
        )
        if limit is not None and limit.value:
            track = QRectF(_LEFT, y + 62, width - _LEFT - 130, 7)
            painter.fillRect(track, QColor(now.track))
            share = min(1.0, bar.demand_a.value / limit.value)
            painter.fillRect(QRectF(track.x(), track.y(), track.width() * share, 7), QColor(now.steel))
            self._moment(painter, design, bar, QRectF(_LEFT, y + 70, width - _LEFT - 130, 14))
        words(
            painter,
            QRectF(width - 128, y + 42, 116, 18),
            show(bar.energy_wh.value, "Wh"),
            size=10.5,
            bold=True,
            align=RIGHT,
        )
        words(painter, QRectF(width - 128, y + 59, 116, 14), tr("a day"), size=8, colour=now.muted, align=RIGHT)
        self.figures.append((QRectF(width - 128, y + 40, 120, 36), bar.energy_wh))
        self.figures.append((QRectF(_LEFT, y + 40, width - _LEFT - 130, 30), bar.demand_a))
        self.areas.append((QRectF(0, y, width, 40), bar.tag))
        painter.setPen(QPen(QColor(now.line), 1, Qt.PenStyle.SolidLine))
        painter.drawLine(QPointF(4, y + _ROW - 8), QPointF(width - 8, y + _ROW - 8))

    def _moment(self, painter: QPainter, design: Design, bar: BarResult, rect: QRectF) -> None:
        """What the hardest start asks of converters for a moment."""
        fed = next((one for one in design.low_side.bars if one.tag == bar.tag), None)
        if fed is None:
            return
        over = fed.start_a.value > fed.peak_a.value * (1 + 1e-6)
        text = tr("a start brings it to {start} of {peak} for a moment · efficiency {eta}").format(
            start=show(fed.start_a.value, "A"),
            peak=show(fed.peak_a.value, "A"),
            eta=show(fed.efficiency_share.value, "1"),
        )
        words(painter, rect, text, size=7.5, colour=look().stop if over else look().muted)
        self.figures.append((rect, fed.start_a))

    def _comes_in(self, design: Design, bar: BarResult) -> str:
        """What feeds a bar, in words: its bank, converters with their current, and where they start."""
        whole, parts = design.whole, []
        if bar.given_a is None:
            role = {"house": "", "kept": tr("kept "), "starting": tr("starting "), "trial": tr("trial ")}
            parts.append(
                tr("{role}bank {wh}").format(
                    role=role[design.job.bank.role], wh=show(design.bank.usable_energy_wh.value, "Wh")
                )
            )
        for one in sorted(whole.converters, key=lambda one: one.priority):
            into, back = bar_tag(whole, one.end) == bar.tag, one.both_ways and bar_tag(whole, one.start) == bar.tag
            if into or back:
                other = bar_tag(whole, one.start if into else one.end)
                stated = bar_of(whole, other)
                name = tr("the vehicle") if other == VEHICLE else stated.name if stated is not None else other
                parts.append(tr("{tag} from {name}").format(tag=one.tag, name=name))
        suns = [one.tag for one in whole.roof.controllers if bar_tag(whole, one.bar) == bar.tag]
        parts += [tr("sun by {tags}").format(tags=" ".join(suns))] if suns else []
        return " + ".join(parts) or tr("nothing feeds it")

    def mousePressEvent(self, event: QMouseEvent) -> None:
        tag = self.area_at(event.position())
        if tag:
            self._session.select(tag)
        else:
            super().mousePressEvent(event)


class BarsLeaf(Leaf):
    """The bars in a scroll area, with presses to add one, or a converter."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.chart = BarChart(session, system)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setWidget(self.chart)
        self.column.addWidget(area, 1)
        self.dropped = TwoLines()
        self.column.addWidget(self.dropped)
        self.row_of(
            ("Add a bar", partial(self.add, "bars", Bar)),
            ("Add a converter", partial(self.add, "converters", Converter)),
        )
        self.figures = self.figure_row()
        self.listen(self.chart)
        session.selected.connect(self._on_selected)

    def _on_selected(self, _tags: tuple[str, ...]) -> None:
        if self.isVisible():
            self.chart.update()

    def add(self, path: str, kind: type[Stated]) -> None:
        """Add a bar or a converter, and open its sheet."""
        made = plainest(kind, self.session.shown.whole)
        if not self.session.apply(add_entry(path, made, path)):
            self.session.sheet_asked.emit(str(getattr(made, "tag", "")))

    def commands(self) -> list[Command]:
        return [
            Command(tr("Add a bar"), "", partial(self.add, "bars", Bar)),
            Command(tr("Add a converter"), "", partial(self.add, "converters", Converter)),
        ]

    def show_shown(self, shown: Shown) -> None:
        side = shown.design.low_side
        self.dropped.setText(_drop_words(shown.design))
        figures = [figure for bar in side.bars for figure in (bar.demand_a, bar.given_a, bar.peak_a)]
        self.figures.put((side.own_w, *figures[:4]))
        self.chart.updateGeometry()
        self.chart.update()


def _drop_words(design: Design) -> str:
    """What stays alive once the bank of the system on show has switched off."""
    names = {load.tag: load.name for load in design.whole.loads}
    drop = design.low_side.drop_out
    dc = {load.tag for load in design.whole.loads if load.supply.startswith("DC")}
    alive = [names[tag] for tag in drop.alive if tag in dc]
    dark = [names[tag] for tag in drop.dark if tag in dc]
    text = tr("When the bank of {name} switches off, unplugged: ").format(name=design.system.name)
    text += tr("alive on DC: {loads}").format(loads=_few(alive)) if alive else tr("nothing on DC stays alive")
    return text + (tr("; dark: {loads}.").format(loads=_few(dark)) if dark else ".")


def _few(names: list[str]) -> str:
    """The first few names, and how many more."""
    more = len(names) - 4
    return ", ".join(names[:4]) + (tr(" and {more} more").format(more=more) if more > 0 else "")
