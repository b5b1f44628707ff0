"""Measured: the vehicle's sizes and axles, and what each axle has left."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter

from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.figures import FigureRow
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.painting import RIGHT, Canvas, bar, words
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import Edit, set_value
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.vehicle import Axle
from weighty_axle.reference.vehicle_types import take_type, vehicle_types
from weighty_axle.units import FRACTION, LENGTH, MASS, TEMPERATURE, Kind, System, show

KINDS = (
    ("coach", "coach or bus"),
    ("rigid_truck", "rigid truck"),
    ("semi_trailer", "semi-trailer"),
    ("drawbar_trailer", "drawbar trailer"),
    ("centre_axle_trailer", "centre-axle trailer"),
)
PRACTICES = (("north_american", "North American"), ("international", "international"))


def _take_type(_job: Job, _path: str, key: Any) -> Edit:
    return take_type(next(row for row in vehicle_types().rows if row.key == key))


VEHICLE_FIELDS = (
    Field("Job", "name", str),
    Field("Customer", "customer", str),
    Field("Practice", "practice", PRACTICES),
    Field("Kind", "vehicle.kind", KINDS),
    Field(
        "Start from a type",
        "vehicle.description",
        tuple((one.key, one.title) for one in vehicle_types().rows),
        make=_take_type,
    ),
    Field("Described as", "vehicle.description", str),
    Field("Length", "vehicle.length_m", LENGTH),
    Field("Width", "vehicle.width_m", LENGTH),
    Field("Roof above ground", "vehicle.roof_m", LENGTH),
    Field("Floor above ground", "vehicle.floor_m", LENGTH),
    Field("Underside", "vehicle.skirt_m", LENGTH),
    Field("Track", "vehicle.track_m", LENGTH),
    Field("Gross limit", "vehicle.gross_limit_kg", MASS),
    Field("Home", "site.home", str),
    Field("Record low", "site.record_low_c", TEMPERATURE),
    Field("Design high", "site.design_high_c", TEMPERATURE),
    Field("Hottest bay", "site.bay_high_c", TEMPERATURE),
)


def _column(heading: str, name: str, kind: Kind) -> Column:
    def edit(axle: Axle, value: float) -> Edit:
        return set_value(
            f"vehicle.axles[{axle.tag}].{name}", value, f"{heading} of {axle.tag}: {show(value, kind.stored)}"
        )

    return Column(heading, lambda axle: getattr(axle, name), kind, edit)


AXLE_COLUMNS = (
    Column("Axle", lambda axle: axle.tag + (" (coupling)" if axle.coupling else ""), None),
    Column("Group", lambda axle: axle.group, None),
    _column("From the front", "x_m", LENGTH),
    _column("Share of its group", "share", FRACTION),
    _column("Weighed before", "weighed_kg", MASS),
    _column("Plate", "limit_kg", MASS),
)


class AxleBars(Canvas):
    """Before, added and left of every axle against its plate."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__()
        self._session, self._system = session, system
        self.setMinimumHeight(130)
        self.setAccessibleName(tr("Axle loads against their plates"))

    def draw(self, painter: QPainter) -> None:
        now, design = look(), self._session.shown.design
        axles = list(zip(self._session.shown.job.vehicle.axles, design.place.axles, strict=True))
        most = 1.08 * max(max(axle.limit_kg, result.load_kg.value) for axle, result in axles)
        height = min(46.0, self.height() / len(axles))
        for index, (axle, result) in enumerate(axles):
            y = index * height + 4
            rect = QRectF(60, y, self.width() - 330, height - 16)
            words(painter, QRectF(4, y, 52, height - 16), axle.tag, size=10, bold=True)
            over = result.margin_kg.value < 0
            bar(
                painter,
                rect,
                result.load_kg.value / most,
                now.stop if over else now.steel,
                limit_share=axle.limit_kg / most,
            )
            start = rect.x() + rect.width() * axle.weighed_kg / most
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QBrush(QColor(now.live), Qt.BrushStyle.SolidPattern))
            painter.drawRect(
                QRectF(start, rect.y(), max(0.0, rect.width() * result.added_kg.value / most), rect.height())
            )
            text = tr("{before} before, {added} added").format(
                before=show(axle.weighed_kg, "kg", self._system), added=show(result.added_kg.value, "kg", self._system)
            )
            laden = result.load_kg.value - axle.weighed_kg - result.added_kg.value
            if result.load_kg.limit:
                text += tr(", {laden} lading").format(laden=show(laden, "kg", self._system))
            words(painter, QRectF(rect.right() + 8, y, 258, 16), text, size=8.5, colour=now.muted, align=RIGHT)
            self.figures.append((rect, result.load_kg))
            self.figures.append((QRectF(rect.right() + 8, y, 258, 32), result.margin_kg))
            left = show(abs(result.margin_kg.value), "kg", self._system)
            words(
                painter,
                QRectF(rect.right() + 8, y + 14, 258, 16),
                tr("{m} over its plate").format(m=left) if over else tr("{m} left").format(m=left),
                size=10,
                bold=True,
                colour=now.stop if over else now.ink,
                align=RIGHT,
            )


class MeasuredLeaf(Leaf):
    """Measured numbers, the axles by row, and their bars."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.fields = Fields(session, system, VEHICLE_FIELDS, 6)
        self.column.addWidget(self.fields)
        self._said = SaidLine()
        self.model = Records(session, system, AXLE_COLUMNS, self._said.setText, self)
        self.table = table_view(self.model, tr("Axles"))
        self.table.setMinimumHeight(108)
        self.table.setMaximumHeight(140)
        self.column.addWidget(self.table, 2)
        self.column.addWidget(self._said)
        self.bars = AxleBars(session, system)
        self.column.addWidget(self.bars, 3)
        self.figures = FigureRow(system)
        self.column.addWidget(self.figures)
        self.listen(self.bars, self.figures)

    def show_shown(self, shown: Shown) -> None:
        self.fields.show_shown(shown)
        self.model.put(shown.job.vehicle.axles)
        place = shown.design.place
        self.figures.put((place.added_kg, place.gross_kg, place.gross_margin_kg, place.right_minus_left_kg))
        self.bars.update()
