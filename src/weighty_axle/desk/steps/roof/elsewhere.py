"""Elsewhere: arrays on trailers, on the ground and on buildings, each with its plug, cable and controller."""

from __future__ import annotations

from typing import Any

from PySide6.QtWidgets import QComboBox, QHBoxLayout, QPushButton

from weighty_axle.answers.roof.sunny import home
from weighty_axle.answers.roof.yields import remote_day_wh
from weighty_axle.design.roof.elsewhere import RemoteResult
from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.figures import FigureRow
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import Edit, remove, set_value
from weighty_axle.job.edits.roof import add_remote
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.roof import RemoteArray
from weighty_axle.reference.tables import modules
from weighty_axle.units import LENGTH, NUMBER, POWER, VOLTAGE, System, read_conductor, show

ArrayRow = tuple[RemoteArray, RemoteResult]
AT = "roof.remote[{tag}]."


def _controllers(job: Job) -> tuple[tuple[Any, str], ...]:
    return tuple((controller.tag, f"{controller.tag} {controller.spec.name}") for controller in job.roof.controllers)


def _types(job: Job) -> tuple[tuple[Any, str], ...]:
    names = dict.fromkeys(
        (*(array.module.name for array in job.roof.remote), job.roof.module.name, *(row.name for row in modules().rows))
    )
    return tuple((name, name) for name in names)


def _choose(job: Job, path: str, name: Any) -> Edit:
    known = (job.roof.module, *job.roof.more_modules, *(array.module for array in job.roof.remote), *modules().rows)
    spec = next(one for one in known if one.name == name)
    return set_value(path.removesuffix(".name"), spec, f"Modules of an array: {spec.name}")


def _size(_job: Job, path: str, text: Any) -> Edit:
    size = read_conductor(text)
    return set_value(path, size, f"Cable of {size}")


FIELDS = (
    Field("Name", AT + "name", str, wide=2),
    Field(
        "Where",
        AT + "where",
        (("trailer", "trailer roof"), ("ground", "on the ground"), ("building", "a building")),
        wide=2,
    ),
    Field("Controller", AT + "controller", _controllers, wide=2),
    Field("Plug's key", AT + "plug", str),
    Field("Module type", AT + "module.name", _types, make=_choose, wide=2),
    Field("In series", AT + "series", int),
    Field("Side by side", AT + "parallel", int),
    Field("Tilt, °", AT + "tilt_deg", NUMBER),
    Field("Towards, ° from north", AT + "azimuth_deg", NUMBER, empty="the noon sun"),
    Field("Cable", AT + "cable_m", LENGTH),
    Field("Of", AT + "size", str, make=_size),
)
COLUMNS = (
    Column("Array", lambda row: row[0].name, None),
    Column("Into", lambda row: row[0].controller, None),
    Column("Plug", lambda row: row[0].plug or "–", None),
    Column("Rated", lambda row: row[1].rated_w.value, POWER),
    Column("Cold Voc", lambda row: row[1].cold_voc_v.value, VOLTAGE),
    Column("Hot Vmp", lambda row: row[1].hot_vmp_v.value, VOLTAGE),
    Column("Cable loses", lambda row: show(row[1].drop_share.value, "1"), None),
    Column("Present", lambda row: ", ".join(row[0].stays) or "always", None),
)


class ElsewhereLeaf(Leaf):
    """Table, fields of the chosen array, stays it is at, figures."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        row = QHBoxLayout()
        self.add = QPushButton(tr("Add an array"))
        self.add.clicked.connect(self._add)
        self.take = QPushButton(tr("Remove array"))
        self.take.clicked.connect(self._remove)
        self.stays = QComboBox()
        self.stays.setAccessibleName(tr("Present at a stay, or not"))
        self.stays.setMinimumContentsLength(18)
        self.stays.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.stays.activated.connect(self._stay)
        for part in (self.add, self.take, self.stays):
            row.addWidget(part)
        row.addStretch(1)
        self.column.addLayout(row)
        self._said = SaidLine()
        self.model = Records(session, system, COLUMNS, self._said.setText, self)
        self.table = table_view(self.model, tr("Arrays elsewhere"), wide=0)
        self.table.selectionModel().currentRowChanged.connect(lambda *_: self._turn())
        self.column.addWidget(self.table, 1)
        self.column.addWidget(self._said)
        self.fields = Fields(session, system, FIELDS, 6)
        self.column.addWidget(self.fields)
        self.figures = FigureRow(system)
        self.column.addWidget(self.figures)
        self.listen(self.figures)
        self.follow(self.table, self.model, lambda row: row[0].tag)

    def _chosen(self) -> ArrayRow | None:
        at = max(0, self.table.currentIndex().row())
        found: ArrayRow | None = self.model.record(at) if at < self.model.rowCount() else None
        # While the last row goes, the table still holds what the job no longer has.
        return (
            found
            if found is not None and any(array.tag == found[0].tag for array in self.session.shown.job.roof.remote)
            else None
        )

    def _add(self) -> None:
        controllers = self.session.shown.job.roof.controllers
        if not controllers:
            self._said.setText(tr("There is no controller to plug into."))
            return
        self._said.setText(self.session.apply(add_remote(controllers[-1].tag)) or "")
        self.table.selectRow(self.model.rowCount() - 1)

    def _remove(self) -> None:
        row = self._chosen()
        if row is not None:
            self._said.setText(self.session.apply(remove(f"roof.remote[{row[0].tag}]", row[0].name)) or "")

    def _stay(self, index: int) -> None:
        tag, row = self.stays.itemData(index), self._chosen()
        if tag and row is not None:
            stays = row[0].stays
            changed = tuple(stay for stay in stays if stay != tag) if tag in stays else (*stays, tag)
            self.session.apply(set_value(f"roof.remote[{row[0].tag}].stays", changed, f"{row[0].name}: stays it is at"))

    def _turn(self) -> None:
        row, shown = self._chosen(), self.session.shown
        self.fields.setVisible(row is not None)
        self.take.setEnabled(row is not None)
        self.stays.setEnabled(row is not None and bool(shown.job.stays))
        self.stays.clear()
        self.stays.addItem(tr("present always, or only at…"), "")
        for stay in shown.job.stays:
            here = row is not None and stay.tag in row[0].stays
            self.stays.addItem(("✓ " if here else "") + stay.place, stay.tag)
        if row is None:
            self.figures.put(())
            return
        self.fields.show_shown(shown, row[0].tag)
        result = row[1]
        days = remote_day_wh(shown.design, row[0], home(shown.design))
        self.figures.put((result.cold_voc_v, result.hot_vmp_v, result.isc_a, result.drop_share, days[5], days[11]))

    def show_shown(self, shown: Shown) -> None:
        self.model.put(tuple(zip(shown.job.roof.remote, shown.design.remote, strict=True)))
        self._turn()
