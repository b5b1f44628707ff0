"""Bank: packs as they are linked, and what is asked against what they allow; voltage, joining, cold, room and datasheet
beside it.
"""

from __future__ import annotations

from functools import partial
from typing import Any

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QMouseEvent, QPainter
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QSlider

from weighty_axle.design.bank.links import Sharing
from weighty_axle.design.figures import Figure
from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.figures import FigureRow
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.painting import RIGHT, Canvas, bar, words
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.steps.bank.links import LinkedBank, TakeOffs, every_way
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.bank import set_pack, set_pack_count
from weighty_axle.job.edits.edit import Edit, set_value
from weighty_axle.job.models.bank import Bank, TakeOff
from weighty_axle.job.models.document import Job
from weighty_axle.reference.tables import packs
from weighty_axle.units import AREA, CURRENT, FRACTION, LENGTH, NUMBER, RESISTANCE, System, read_conductor, show


def _choose_pack(job: Job, _path: str, name: Any) -> Edit:
    spec = next(row for row in packs().rows if row.name == name)
    return set_pack(spec, min(job.bank.series, spec.series_limit))


BANK_FIELDS = (
    Field(
        "Pack type", "bank.spec.name", tuple((one.name, one.name) for one in packs().rows), make=_choose_pack, wide=3
    ),
    Field("In series", "bank.series", int),
    Field("Usable share", "bank.usable_share", FRACTION),
    Field("Days wanted", "bank.days_wanted", NUMBER),
    Field("Charge each", "bank.spec.charge_a", CURRENT),
    Field("Discharge each", "bank.spec.discharge_a", CURRENT),
    Field("Resistance each", "bank.spec.resistance_ohm", RESISTANCE),
    Field("Heated", "bank.spec.heated", bool),
)


def _set_size(_job: Job, path: str, text: Any) -> Edit:
    size = read_conductor(text)
    return set_value(path, size, f"Links of {size}")


LINK_FIELDS = (
    Field("Links and leads", "bank.links.size", str, make=_set_size),
    Field("Link", "bank.links.link_m", LENGTH),
    Field("Lead", "bank.links.lead_m", LENGTH),
    Field("Each next", "bank.links.lead_step_m", LENGTH),
    Field("Lug", "bank.links.lug_ohm", RESISTANCE),
    Field("Bar", "bank.links.bar_mm2", AREA),
    Field("Pitch", "bank.links.bar_pitch_m", LENGTH),
    Field("Ways", "bank.links.bar_ways", int),
    Field("In a group", "bank.links.group_size", int),
)


class Limits(Canvas):
    """Currents asked against what the packs allow. Press a bar to open its workings."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._pairs: dict[str, Figure] = {}
        self.setMinimumSize(190, 172)
        self.setAccessibleName(tr("Currents against the packs' limits"))

    def draw(self, painter: QPainter) -> None:
        self._currents(painter, QRectF(0, 0, self.width(), self.height()))

    def _currents(self, painter: QPainter, area: QRectF) -> None:
        now, design = look(), self._session.shown.design
        bank, units = design.bank, design.job.inverters.units
        of = tr("BMS") if design.job.bank.spec.managed else tr("datasheet")
        full = tr("Inverters at full load") if units else tr("DC loads together")
        surge = tr("Inverters at surge") if units else tr("At their most")
        rows = (
            (full, bank.continuous_a, bank.discharge_limit_a, tr("{of}, continuous").format(of=of)),
            (surge, bank.surge_a, bank.peak_limit_a, tr("{of}, moments").format(of=of)),
            (
                tr("Full load, one pack out"),
                bank.continuous_a,
                bank.one_pack_out_a,
                tr("{of} of the rest").format(of=of),
            ),
            (
                tr("All charging together"),
                design.charging.into_bank_a,
                bank.charge_limit_a,
                tr("{of}, charging").format(of=of),
            ),
        )
        most = 1.08 * max(max(asked.value, limit.value) for _, asked, limit, _ in rows)
        self._pairs = {}
        height = min(60.0, self.height() / len(rows))
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
            rect = QRectF(area.x(), y + 17, area.width(), 11)
            bar(painter, rect, asked.value / most, now.stop if over else now.steel, limit_share=limit.value / most)
            words(
                painter,
                QRectF(area.x(), y + 29, area.width(), 13),
                f"{tr('tick')}: {limit_words}",
                size=7.5,
                colour=now.muted,
            )
            name = f"figure {index}"
            self._pairs[name] = asked
            self.areas.append((QRectF(area.x(), y, area.width(), height - 6), name))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        name = self.area_at(event.position())
        if name in self._pairs:
            self.opened.emit(self._pairs[name])


class BankLeaf(Leaf):
    """Pack choice, ways of linking, the bank at a load, limits, energy three ways."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.fields = Fields(session, system, BANK_FIELDS, 8)
        self.column.addWidget(self.fields)
        self.take_offs = TakeOffs(session)
        self.column.addWidget(self.take_offs)
        middle = QHBoxLayout()
        self.linked, self.limits_chart = LinkedBank(session), Limits(session)
        middle.addWidget(self.linked, 7)
        middle.addWidget(self.limits_chart, 4)
        self.column.addLayout(middle, 1)
        row = QHBoxLayout()
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setAccessibleName(tr("Current drawn from the bank"))
        self.slider.setMinimumWidth(60)
        self.slider.valueChanged.connect(self._on_load)
        self._load = Label()
        row.addWidget(self._load)
        row.addWidget(self.slider, 1)
        self._out = QPushButton()
        self._out.clicked.connect(self._toggle_out)
        for press, do in (
            (self._out, None),
            (QPushButton(tr("One pack fewer")), self._less),
            (QPushButton(tr("One pack more")), self._more),
        ):
            if do is not None:
                press.clicked.connect(do)
            row.addWidget(press)
        self.column.addLayout(row)
        self.link_fields = Fields(session, system, LINK_FIELDS, len(LINK_FIELDS))
        self.column.addWidget(self.link_fields)
        self.energy, self.limits = FigureRow(system), FigureRow(system)
        self.column.addWidget(self.energy)
        self.column.addWidget(self.limits)
        self.listen(self.take_offs, self.linked, self.limits_chart, self.energy, self.limits)
        session.selected.connect(self._on_selected)

    def _on_selected(self) -> None:
        self._show_pack(self.session.shown)

    def _pack(self, shown: Shown) -> str:
        return next(
            (pack.tag for pack in shown.job.bank.packs if pack.tag in self.session.selection),
            shown.job.bank.packs[0].tag,
        )

    def _on_load(self, amps: int) -> None:
        self.linked.load_a = float(amps)
        self._load.setText(tr("At {amps}").format(amps=show(float(amps), "A")))
        self.linked.update()

    def _toggle_out(self) -> None:
        tag = self._pack(self.session.shown)
        pack = next(one for one in self.session.shown.job.bank.packs if one.tag == tag)
        self.session.apply(
            set_value(f"bank.packs[{tag}].out", not pack.out, f"{'Put back' if pack.out else 'Take out'} {tag}")
        )

    def _less(self) -> None:
        bank = self.session.shown.job.bank
        if len(bank.packs) > bank.series:
            self.session.apply(set_pack_count(len(bank.packs) - bank.series))

    def _more(self) -> None:
        bank = self.session.shown.job.bank
        self.session.apply(set_pack_count(len(bank.packs) + bank.series))

    def _show_pack(self, shown: Shown) -> None:
        tag = self._pack(shown)
        pack = next(one for one in shown.job.bank.packs if one.tag == tag)
        self._out.setText(tr("Put {tag} back").format(tag=tag) if pack.out else tr("Take {tag} out").format(tag=tag))

    def _ways_found(self, stated: Bank, found: dict[TakeOff, Sharing] | None) -> None:
        if found is not None:
            self.take_offs.found, self.take_offs.found_of = found, stated
            self.take_offs.update()

    def show_shown(self, shown: Shown) -> None:
        self.fields.show_shown(shown)
        self.link_fields.show_shown(shown)
        bank = shown.design.bank
        most = max(bank.surge_a.value, bank.discharge_limit_a.value, 10.0)
        fresh = self.slider.maximum() == 99
        self.slider.setRange(0, min(20_000, int(most * 1.2)))
        if fresh:
            self.slider.setValue(round(bank.continuous_a.value))
        self._on_load(self.slider.value())
        self._show_pack(shown)
        self.energy.put((bank.nominal_energy_wh, bank.usable_energy_wh, bank.capacity_ah, bank.equivalent_12v_ah))
        self.limits.put(
            (bank.days, bank.max_v, bank.c_rate, bank.prospective_a, bank.spread_share, shown.design.ripple.effective_a)
        )
        stated = shown.job.bank
        self.take_offs.shows(stated.packs, stated.links, stated.spec, stated.series, bank.links_known)
        if self.take_offs.found_of is not stated:
            work = partial(_every_way, stated, bank.links_known)
            self.quietly((stated, bank.links_known), work, partial(self._ways_found, stated))
        self.linked.update()
        self.limits_chart.update()


def _every_way(stated: Bank, links_known: bool, _progress: Any) -> dict[TakeOff, Sharing]:
    return every_way(stated, links_known=links_known)
