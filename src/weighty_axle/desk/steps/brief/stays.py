"""Stays: where the vehicle is through the year, and the kinds of day it has."""

from __future__ import annotations

from typing import Any

from PySide6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout

from weighty_axle.design.brief.seasons import date_words, day_of
from weighty_axle.desk.kit.fields import Field, Fields, Options
from weighty_axle.desk.kit.figures import FigureRow
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.records import Column, Records, table_view
from weighty_axle.desk.steps.brief.year_strip import USE_WORDS, YearStrip
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.brief import add_day_kind, add_stay, free_stretch, place_stay, remove_day_kind
from weighty_axle.job.edits.edit import Edit, remove, set_value, value_at
from weighty_axle.job.models.brief import DayKind, Stay
from weighty_axle.job.models.document import Job
from weighty_axle.job.tags import next_tag
from weighty_axle.units import ENERGY, LENGTH, NUMBER, QuantityError, System, show


def _kinds(job: Job) -> Options:
    return tuple((kind.tag, kind.name) for kind in job.day_kinds)


def _sources(job: Job) -> Options:
    return (("", "none"), *((source.tag, source.name) for source in job.inverters.sources))


def _stay_at(job: Job, path: str) -> Stay:
    stay: Stay = value_at(job, path.rpartition(".")[0])
    return stay


def _set_first(job: Job, path: str, text: Any) -> Edit:
    stay = _stay_at(job, path)
    try:
        return place_stay(stay.tag, day_of(text), stay.days)
    except ValueError as error:
        raise QuantityError(str(error)) from None


def _set_days(job: Job, path: str, days: Any) -> Edit:
    stay = _stay_at(job, path)
    if days < 1:
        raise QuantityError("A stay lasts at least a day.")
    return place_stay(stay.tag, stay.first_day, days)


STAY_FIELDS = (
    Field("Place", "stays[{tag}].place", str, wide=2),
    Field("From", "stays[{tag}].first_day", str, make=_set_first, say=date_words),
    Field("Days", "stays[{tag}].days", int, make=_set_days),
    Field("Kind of day", "stays[{tag}].day_kind", _kinds),
    Field("Plugs in at", "stays[{tag}].source", _sources, wide=2),
    Field("Hours driven a day", "stays[{tag}].driven_h", NUMBER),
    Field("Latitude, °", "stays[{tag}].latitude_deg", NUMBER),
    Field("Longitude, °", "stays[{tag}].longitude_deg", NUMBER),
    Field("Height", "stays[{tag}].height_m", LENGTH),
)
_USES = {words: use for use, words in USE_WORDS.items()}
KindRow = tuple[DayKind, float, int]


def _name_kind(row: KindRow, name: str) -> Edit:
    return set_value(f"day_kinds[{row[0].tag}].name", name, f"Call {row[0].name} {name}")


def _use_kind(row: KindRow, text: str) -> Edit:
    if text.lower() not in _USES:
        raise QuantityError(tr("A kind of day is one of: {words}.").format(words=", ".join(_USES)))
    return set_value(f"day_kinds[{row[0].tag}].use", _USES[text.lower()], f"{row[0].name}: {text.lower()}")


def _switch_kind(row: KindRow, text: str) -> Edit:
    if text.lower() not in ("yes", "no"):
        raise QuantityError(tr("Say yes or no."))
    return set_value(
        f"day_kinds[{row[0].tag}].inverters_on",
        text.lower() == "yes",
        f"{row[0].name}: inverters {'on' if text.lower() == 'yes' else 'off'}",
    )


KIND_COLUMNS = (
    Column("Kind of day", lambda row: row[0].name, None, _name_kind),
    Column("Used for", lambda row: USE_WORDS[row[0].use], None, _use_kind),
    Column("Inverters on", lambda row: "yes" if row[0].inverters_on else "no", None, _switch_kind),
    Column("Energy a day, at most", lambda row: row[1], ENERGY),
    Column("Days in the year", lambda row: row[2], None),
)


class StaysLeaf(Leaf):
    """The strip, the chosen stay, then the kinds of day."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.strip = YearStrip(session)
        self.column.addWidget(self.strip, 1)
        row = QHBoxLayout()
        self._said = Label()
        self._said.setObjectName("muted")
        row.addWidget(self._said, 1)
        for text, do in ((tr("Add a stay"), self._add), (tr("Remove stay"), self._remove)):
            press = QPushButton(text)
            press.clicked.connect(do)
            row.addWidget(press)
        self.column.addLayout(row)
        self.fields = Fields(session, system, STAY_FIELDS, 5)
        self.column.addWidget(self.fields)
        self.model = Records(session, system, KIND_COLUMNS, self._said.setText, self)
        self.table = table_view(self.model, tr("Kinds of day"), wide=0)
        self.table.setFixedHeight(28 + 24 * 4 + 4)
        kinds, presses = QHBoxLayout(), QVBoxLayout()
        kinds.addWidget(self.table, 1)
        for text, do in ((tr("Add a kind"), self._add_kind), (tr("Remove kind"), self._remove_kind)):
            press = QPushButton(text)
            press.clicked.connect(do)
            presses.addWidget(press)
        presses.addStretch(1)
        kinds.addLayout(presses)
        self.column.addLayout(kinds)
        self.figures = FigureRow(system)
        self.column.addWidget(self.figures)
        self.listen(self.strip, self.figures)

    def _chosen(self, shown: Shown) -> str:
        stays = shown.job.stays
        return next((stay.tag for stay in stays if stay.tag in self.session.selection), stays[0].tag if stays else "")

    def show_shown(self, shown: Shown) -> None:
        tag = self._chosen(shown)
        self.fields.setEnabled(bool(tag))
        if tag:
            self.fields.show_shown(shown, tag)
            result = next(stay for stay in shown.design.itinerary.stays if stay.tag == tag)
            place = next(stay.place for stay in shown.job.stays if stay.tag == tag)
            self._said.setText(
                tr("{place}: {energy} a day").format(place=place, energy=show(result.energy_per_day_wh.value, "Wh"))
            )
        year, days = shown.design.itinerary, shown.design.brief.days
        self.model.put(
            tuple(
                (kind, days[kind.tag].bank_energy_wh.value, year.days_of_kind[kind.tag]) for kind in shown.job.day_kinds
            )
        )
        self.figures.put(
            (year.planned_days, year.off_grid_days, year.longest_off_grid_days, year.driven_h, year.energy_wh)
        )
        self.strip.update()

    # ---- doing ----

    def _add(self) -> None:
        job = self.session.shown.job
        free = free_stretch(job.stays, 14)
        if free is None:
            self._said.setText(tr("The year is full: shorten a stay first."))
            return
        last = max(job.stays, key=lambda stay: stay.first_day, default=None)
        site, tag = job.site, next_tag(self.session.shown.whole, "stay")
        made = Stay(
            tag=tag,
            place=tr("New stay"),
            latitude_deg=last.latitude_deg if last else site.latitude_deg,
            longitude_deg=last.longitude_deg if last else site.longitude_deg,
            height_m=last.height_m if last else site.height_m,
            first_day=free[0],
            days=free[1],
            day_kind=job.day_kinds[0].tag,
        )
        self.session.apply(add_stay(made))
        self.session.select(tag)

    def _remove(self) -> None:
        tag = self._chosen(self.session.shown)
        if tag:
            place = next(stay.place for stay in self.session.shown.job.stays if stay.tag == tag)
            self.session.apply(remove(f"stays[{tag}]", place))

    def _add_kind(self) -> None:
        self.session.apply(add_day_kind(tr("New kind of day")))

    def _remove_kind(self) -> None:
        row = self.table.currentIndex().row()
        if 0 <= row < self.model.rowCount():
            kind: DayKind = self.model.record(row)[0]
            self._said.setText(self.session.apply(remove_day_kind(kind)) or "")
