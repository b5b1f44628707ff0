"""Bank: packs, energy three ways, and what is asked against what the packs allow."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QColor, QMouseEvent, QPainter, QPen

from weighty_axle.design.figures import Figure
from weighty_axle.desk.session import Session, Shown
from weighty_axle.desk.steps.view import StepView
from weighty_axle.desk.text import tr
from weighty_axle.desk.theme import look
from weighty_axle.desk.widgets.fields import Field, Fields
from weighty_axle.desk.widgets.painting import CENTRE, RIGHT, Canvas, bar, words
from weighty_axle.job.edits import Edit, set_pack, set_pack_count
from weighty_axle.job.model import Job
from weighty_axle.reference.tables import packs
from weighty_axle.units import CURRENT, FRACTION, NUMBER, RESISTANCE, System, show


def _choose_pack(job: Job, _path: str, name: Any) -> Edit:
    spec = next(one for one in packs().rows if one.name == name)
    return set_pack(spec, min(job.bank.series, spec.series_limit))


BANK_FIELDS = (
    Field("Pack type", "bank.spec.name", tuple((one.name, one.name) for one in packs().rows), make=_choose_pack, wide=3),
    Field("In series", "bank.series", int),
    Field("Usable share", "bank.usable_share", FRACTION),
    Field("Days wanted", "bank.days_wanted", NUMBER),
    Field("Charge, one pack", "bank.spec.charge_a", CURRENT),
    Field("Discharge, one", "bank.spec.discharge_a", CURRENT),
    Field("Resistance, one", "bank.spec.resistance_ohm", RESISTANCE),
    Field("Heated", "bank.spec.heated", bool),
)


class BankDrawing(Canvas):
    """Packs between their bars, and beside them currents against limits. Press a bar to open its workings."""

    smooth = True

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._pairs: dict[str, Figure] = {}
        self.setMinimumHeight(200)
        self.setAccessibleName(tr("The bank with its currents against the packs' limits"))

    def draw(self, painter: QPainter) -> None:
        split = self.width() * 0.42
        self._packs(painter, QRectF(0, 0, split - 20, self.height()))
        self._currents(painter, QRectF(split, 0, self.width() - split, self.height()))

    def _packs(self, painter: QPainter, area: QRectF) -> None:
        now, job, result = look(), self._session.shown.job, self._session.shown.design.bank
        words(
            painter,
            QRectF(0, 0, area.width(), 18),
            tr("{s} in series × {p} in parallel").format(s=job.bank.series, p=result.parallel),
            size=10,
            bold=True,
        )
        words(painter, QRectF(0, 17, area.width(), 16), job.bank.spec.name, size=8.5, colour=now.muted)
        columns, rows = result.parallel, job.bank.series
        width = min(76.0, (area.width() - 30) / max(1, columns))
        height = min(104.0, (area.height() - 96) / rows)
        top, left = 58.0, 14.0
        right = left + width * columns
        for y, sign in ((top - 9, "+"), (top + height * rows + 9, "−")):
            painter.setPen(QPen(QColor(now.ink), 4))
            painter.drawLine(QPointF(left, y), QPointF(right, y))
            words(painter, QRectF(right + 4, y - 9, 16, 18), sign, size=12, bold=True)
        for column in range(columns):
            for row in range(rows):
                index = column * rows + row
                tag = job.bank.packs[index].tag
                rect = QRectF(left + column * width + 4, top + row * height + 3, width - 8, height - 6)
                lit = tag in self._session.selection
                painter.setPen(QPen(QColor(now.check if lit else now.live), 3 if lit else 1.4))
                painter.setBrush(QColor(now.live_soft))
                painter.drawRoundedRect(rect, 3, 3)
                words(painter, rect, tag, size=8.5, bold=True, align=CENTRE)
                self.areas.append((rect, f"tag {tag}"))
            x = left + column * width + width / 2
            painter.setPen(QPen(QColor(now.ink), 1.6))
            painter.drawLine(QPointF(x, top - 9), QPointF(x, top + 3))
            painter.drawLine(QPointF(x, top + height * rows - 3), QPointF(x, top + height * rows + 9))
        foot = QRectF(0, top + height * rows + 20, area.width(), 18)
        each = result.continuous_a.value / columns
        words(painter, foot, tr("{amps} a pack at full load, if they share equally").format(amps=show(each, "A")), size=8.5, colour=now.muted)

    def _currents(self, painter: QPainter, area: QRectF) -> None:
        now, design = look(), self._session.shown.design
        rows = (
            (tr("Inverters at full load"), design.bank.continuous_a, design.bank.discharge_limit_a, tr("BMS, continuous")),
            (tr("Inverters at surge"), design.bank.surge_a, design.bank.peak_limit_a, tr("BMS, moments")),
            (tr("Full load, one pack out"), design.bank.continuous_a, design.bank.one_pack_out_a, tr("BMS of the rest")),
            (tr("All charging together"), design.charging.into_bank_a, design.bank.charge_limit_a, tr("BMS, charging")),
        )
        most = 1.08 * max(max(asked.value, limit.value) for _, asked, limit, _ in rows)
        self._pairs = {}
        height = min(74.0, self.height() / len(rows))
        for index, (title, asked, limit, limit_words) in enumerate(rows):
            y = index * height
            over = asked.value > limit.value
            words(painter, QRectF(area.x(), y, area.width() * 0.5, 17), title, size=9.5)
            text = f"{show(asked.value, 'A')} {tr('of')} {show(limit.value, 'A')}"
            words(
                painter,
                QRectF(area.x() + area.width() * 0.4, y, area.width() * 0.6, 17),
                text,
                size=10,
                bold=True,
                colour=now.stop if over else now.ink,
                align=RIGHT,
            )
            rect = QRectF(area.x(), y + 19, area.width(), 13)
            bar(painter, rect, asked.value / most, now.stop if over else now.steel, limit_share=limit.value / most)
            words(painter, QRectF(area.x(), y + 34, area.width(), 13), f"{tr('tick')}: {limit_words}", size=7.5, colour=now.muted)
            name = f"figure {index}"
            self._pairs[name] = asked
            self.areas.append((QRectF(area.x(), y, area.width(), height - 6), name))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        name = self.area_at(event.position())
        if name.startswith("tag "):
            self._session.select(name[4:])
        elif name in self._pairs:
            self.opened.emit(self._pairs[name])


class BankView(StepView):
    """Pack choice, the drawing, and the energy three ways."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system, "Bank", "energy, currents and limits of all packs together")
        self.less = self.button("One pack fewer", self._less)
        self.more = self.button("One pack more", self._more)
        self.fields = Fields(session, system, BANK_FIELDS, 8)
        self.column.addWidget(self.fields)
        self.drawing = BankDrawing(session)
        self.column.addWidget(self.drawing, 1)
        self.energy, self.limits = self.figure_row(), self.figure_row()
        session.selected.connect(self.drawing.update)

    def _less(self) -> None:
        bank = self.session.shown.job.bank
        if len(bank.packs) > bank.series:
            self.session.apply(set_pack_count(len(bank.packs) - bank.series))

    def _more(self) -> None:
        bank = self.session.shown.job.bank
        self.session.apply(set_pack_count(len(bank.packs) + bank.series))

    def show_shown(self, shown: Shown) -> None:
        self.fields.show_shown(shown)
        bank = shown.design.bank
        self.less.setEnabled(len(shown.job.bank.packs) > shown.job.bank.series)
        self.energy.put((bank.nominal_energy_wh, bank.usable_energy_wh, bank.capacity_ah, bank.equivalent_12v_ah))
        self.limits.put((bank.days, bank.max_v, bank.c_rate, bank.prospective_a))
        self.drawing.update()
