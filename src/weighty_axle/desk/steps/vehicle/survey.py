"""The survey beyond the plate: roof, bays, wire ways, photos. Tables, since this is work by rows."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from operator import attrgetter
from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QTableView

from weighty_axle.design.place.clear import opening
from weighty_axle.design.plainest import plainest
from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import Edit, remove, set_value
from weighty_axle.job.edits.roof import add_obstacle
from weighty_axle.job.edits.sheet import add_entry
from weighty_axle.job.edits.vehicle import add_bay, add_photos, add_way
from weighty_axle.job.models.vehicle import Bay, Photo, WireWay, Zone
from weighty_axle.job.tags import free_tags, next_tag
from weighty_axle.reference.vehicle_types import usual_photos
from weighty_axle.units import LENGTH, NUMBER, Kind, QuantityError, System, show


def _column(heading: str, path: str, name: str, kind: Kind | None) -> Column:
    """An editable column of tagged things at a path such as `vehicle.bays`."""

    def edit(row: Any, value: Any) -> Edit:
        words = str(value) if kind is None else show(value, kind.stored) if kind.stored != "1" else f"{value:g}"
        return set_value(f"{path}[{row.tag}].{name}", value, f"{heading} of {row.tag}: {words}")

    return Column(heading, attrgetter(name), kind, edit)


OBSTACLE_COLUMNS = (
    Column("Tag", lambda one: one.tag, None),
    _column("On the roof", "roof.obstacles", "name", None),
    _column("From the front", "roof.obstacles", "x_m", LENGTH),
    _column("Right of the middle", "roof.obstacles", "y_m", LENGTH),
    _column("Along", "roof.obstacles", "length_m", LENGTH),
    _column("Across", "roof.obstacles", "width_m", LENGTH),
    _column("High", "roof.obstacles", "height_m", LENGTH),
)
BAY_COLUMNS = (
    Column("Tag", lambda one: one.tag, None),
    _column("Bay", "vehicle.bays", "name", None),
    _column("Starts", "vehicle.bays", "start_m", LENGTH),
    _column("Ends", "vehicle.bays", "end_m", LENGTH),
    _column("Bottom", "vehicle.bays", "bottom_m", LENGTH),
    _column("Top", "vehicle.bays", "top_m", LENGTH),
    Column("Door", lambda one: _door(one), None),
    Column("Air", lambda one: _air(one), None),
)


def _one_of(heading: str, path: str, name: str, choices: tuple[str, ...]) -> Column:
    """A column whose values are one of a few words."""

    def edit(row: Any, text: str) -> Edit:
        if text not in choices:
            raise QuantityError(
                tr("{heading} is one of: {choices}.").format(heading=heading, choices=", ".join(choices))
            )
        return set_value(f"{path}[{row.tag}].{name}", text, f"{heading} of {row.tag}: {text}")

    return Column(heading, attrgetter(name), None, edit)


ZONE_COLUMNS = (
    Column("Tag", lambda one: one.tag, None),
    _column("Keep away from", "vehicle.zones", "name", None),
    _one_of("Kind", "vehicle.zones", "kind", ("gas", "fuel", "heat", "exhaust", "water")),
    _column("Along", "vehicle.zones", "place.x_m", LENGTH),
    _column("Across", "vehicle.zones", "place.y_m", LENGTH),
    _column("Up", "vehicle.zones", "place.z_m", LENGTH),
    _column("Long", "vehicle.zones", "size.length_m", LENGTH),
    _column("Wide", "vehicle.zones", "size.width_m", LENGTH),
    _column("High", "vehicle.zones", "size.height_m", LENGTH),
    _column("Keep", "vehicle.zones", "keep_m", LENGTH),
)


def _openings(way: WireWay) -> str:
    """How many of its two openings are measured; its sheet has them. Where none is it opens facing its other end."""
    measured = (way.start_at is not None) + (way.end_at is not None)
    return tr("facing") if not measured else tr("one measured") if measured == 1 else tr("measured")


def _door(bay: Bay) -> str:
    """Clear opening of a bay's door and its side."""
    clear = opening(bay)
    if bay.door_side == "none":
        return tr("none")
    return tr(bay.door_side) + ("" if clear is None else f", {clear[0]:g} × {clear[1]:g} m")


def _air(bay: Bay) -> str:
    """How a bay is aired."""
    if bay.air is None:
        return tr("with the engine") if bay.engine else tr("not stated")
    return f"{bay.air.fan_m3_per_h:g} m³/h"


WAY_COLUMNS = (
    Column("Tag", lambda one: one.tag, None),
    _column("Wire way", "vehicle.ways", "name", None),
    _column("From", "vehicle.ways", "start", None),
    _column("To", "vehicle.ways", "end", None),
    _column("Length as cable lies", "vehicle.ways", "length_m", LENGTH),
    _one_of("Zone", "vehicle.ways", "zone", ("bay", "living", "roof", "engine", "outside")),
    _column("Clear, mm", "vehicle.ways", "clear_mm", NUMBER),
    Column("Openings", lambda one: _openings(one), None),
    Column("Only for", lambda one: " ".join(one.only) or tr("any"), None),
)


def _set_taken(photo: Photo, text: str) -> Edit:
    if text.lower() not in ("yes", "no", "taken"):
        raise QuantityError(tr("Say yes or no."))
    taken = text.lower() != "no"
    return set_value(f"survey.photos[{photo.tag}].taken", taken, f"{photo.tag} {'taken' if taken else 'not taken'}")


PHOTO_COLUMNS = (
    Column("Tag", lambda one: one.tag, None),
    _column("Of what", "survey.photos", "subject", None),
    Column("Taken", lambda one: tr("yes") if one.taken else tr("no"), None, _set_taken),
)


class _TableLeaf(Leaf):
    """A leaf made of tables with presses to add and take rows; refused entries are said at the bottom."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.said = SaidLine()
        self.models: dict[str, Records] = {}
        self.tables: dict[str, QTableView] = {}

    def part(
        self, title: str, columns: tuple[Column, ...], path: str, add: tuple[tuple[str, Callable[[], None]], ...]
    ) -> None:
        """A titled table of the tagged things at `path`."""
        row = QHBoxLayout()
        row.addWidget(Label(tr(title)), 1)
        for words, do in add:
            press = QPushButton(tr(words))
            press.clicked.connect(do)
            row.addWidget(press)
        take = QPushButton(tr("Remove row"))
        take.clicked.connect(partial(self._take, path))
        row.addWidget(take)
        self.column.addLayout(row)
        model = Records(self.session, self.system, columns, self.said.setText, self)
        table = table_view(model, tr(title), wide=1)
        self.models[path], self.tables[path] = model, table
        self.column.addWidget(table, 1)

    def end(self) -> None:
        """The line for refusals, after all parts."""
        self.column.addWidget(self.said)

    def _take(self, path: str) -> None:
        row, model = self.tables[path].currentIndex().row(), self.models[path]
        if 0 <= row < model.rowCount():
            one = model.record(row)
            self.apply(remove(f"{path}[{one.tag}]", getattr(one, "name", one.tag)))

    def apply(self, edit: Edit) -> None:
        """Carry out an edit, and say it when it is refused."""
        self.said.setText(self.session.apply(edit) or "")


class RoofLeaf(_TableLeaf):
    """Outline and what stands on the roof; the step Roof draws it."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        outline = (
            Field("Clear roof from", "roof.start_m", LENGTH),
            Field("to", "roof.end_m", LENGTH),
            Field("Width", "roof.width_m", LENGTH),
            Field("Edge margin", "roof.margin_m", LENGTH),
        )
        self.fields = Fields(session, system, outline, 4)
        self.column.addWidget(self.fields)
        self.part(
            "Hatches, air conditioners, aerials, rails",
            OBSTACLE_COLUMNS,
            "roof.obstacles",
            (("Add to the roof", lambda: self.apply(add_obstacle())),),
        )
        self.end()

    def show_shown(self, shown: Shown) -> None:
        self.fields.show_shown(shown)
        self.models["roof.obstacles"].put(shown.job.roof.obstacles)


class BaysLeaf(_TableLeaf):
    """Bays as seen from the side, and the ways cable can take between them."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.part("Bays", BAY_COLUMNS, "vehicle.bays", (("Add a bay", self._add_bay),))
        self.part(
            "Wire ways, between bays, ROOF, CAB and LIVING",
            WAY_COLUMNS,
            "vehicle.ways",
            (("Add a way", self._add_way),),
        )
        self.part("Gas, fuel, heat, exhaust, water", ZONE_COLUMNS, "vehicle.zones", (("Add one", self._add_zone),))
        self.end()

    def _add_zone(self) -> None:
        made = plainest(Zone, self.session.shown.whole)
        self.apply(add_entry("vehicle.zones", made, tr("What is kept away from")))

    def _add_bay(self) -> None:
        vehicle = self.session.shown.job.vehicle
        start = max((bay.end_m for bay in vehicle.bays), default=vehicle.length_m / 3)
        start = min(start + 0.1, vehicle.length_m - 1.0)
        tag = next_tag(self.session.shown.whole, "bay")
        bay = Bay(
            tag=tag,
            name=f"Bay {tag[1:]}",
            start_m=round(start, 2),
            end_m=round(start + 1.0, 2),
            bottom_m=round(vehicle.skirt_m + 0.02, 3),
            top_m=vehicle.floor_m,
        )
        self.apply(add_bay(bay))

    def _add_way(self) -> None:
        bays = self.session.shown.job.vehicle.bays
        tag = next_tag(self.session.shown.whole, "wire way")
        self.apply(
            add_way(
                WireWay(
                    tag=tag,
                    name=tr("New way"),
                    start=bays[0].tag if bays else "CAB",
                    end="ROOF",
                    length_m=3.0,
                    zone="living",
                    clear_mm=40.0,
                )
            )
        )

    def show_shown(self, shown: Shown) -> None:
        self.models["vehicle.bays"].put(shown.job.vehicle.bays)
        self.models["vehicle.ways"].put(shown.job.vehicle.ways)
        self.models["vehicle.zones"].put(shown.job.vehicle.zones)


class PhotosLeaf(_TableLeaf):
    """Who surveyed, the photo list, and the sheet to print."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        row = QHBoxLayout()
        self.fields = Fields(
            session,
            system,
            (Field("Surveyed by", "survey.surveyed_by", str), Field("on", "survey.surveyed_on", str)),
            2,
        )
        row.addWidget(self.fields, 1)
        for words, wanted in (("Blank sheet…", "survey blank"), ("Filled sheet…", "survey filled")):
            press = QPushButton(tr(words))
            press.clicked.connect(partial(self.wants.emit, wanted))
            row.addWidget(press, 0, Qt.AlignmentFlag.AlignBottom)
        self.column.addLayout(row)
        self._count = Label()
        self._count.setObjectName("muted")
        self.part(
            "Photos to take",
            PHOTO_COLUMNS,
            "survey.photos",
            (("Taken, or not", self._toggle), ("Add the usual", self._add_usual), ("Add a photo", self._add)),
        )
        self.column.addWidget(self._count)
        self.end()

    def _toggle(self) -> None:
        row, model = self.tables["survey.photos"].currentIndex().row(), self.models["survey.photos"]
        if 0 <= row < model.rowCount():
            photo = model.record(row)
            self.apply(_set_taken(photo, "no" if photo.taken else "yes"))

    def _add_usual(self) -> None:
        have = {photo.subject for photo in self.session.shown.job.survey.photos}
        fresh = [photo.subject for photo in usual_photos() if photo.subject not in have]
        if fresh:
            tags = free_tags(self.session.shown.whole, "photo")
            self.apply(add_photos(tuple(Photo(tag=next(tags), subject=subject) for subject in fresh)))

    def _add(self) -> None:
        self.apply(add_photos((Photo(tag=next_tag(self.session.shown.whole, "photo"), subject=tr("New photo")),)))

    def show_shown(self, shown: Shown) -> None:
        self.fields.show_shown(shown)
        photos = shown.job.survey.photos
        self.models["survey.photos"].put(photos)
        self._count.setText(
            tr("{taken} of {all} taken").format(taken=sum(photo.taken for photo in photos), all=len(photos))
        )
