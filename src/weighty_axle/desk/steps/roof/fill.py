"""Fill: the best layouts side by side, looked at on the plan before one is taken."""

from __future__ import annotations

from functools import partial
from pathlib import Path
from typing import Any

from PySide6.QtWidgets import QMenu, QPushButton

from weighty_axle.design.roof.fill import Layout, fill
from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.figures import FigureRow
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import Leaf, TwoLines
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.steps.roof.plan import RoofPlan
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.commands import Command
from weighty_axle.desk.work.preferences import own_types_file
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import set_value
from weighty_axle.job.models.roof import ModuleSpec, Roof
from weighty_axle.reference.importers.module_table import ModuleTableError, read_modules
from weighty_axle.reference.own_types import keep, read_own
from weighty_axle.units import FRACTION, LENGTH, NUMBER, POWER, System

FIELDS = (
    Field("Between modules", "roof.gap_m", LENGTH),
    Field("Edge margin", "roof.margin_m", LENGTH),
    Field("Over the edge", "roof.overhang_m", LENGTH),
    Field("Wide", "roof.width_m", LENGTH),
    Field("Wide in front", "roof.front_width_m", LENGTH, empty="as wide"),
)
COLUMNS = (
    Column("Layout", lambda one: one.name, None),
    Column("Modules", lambda one: len(one.modules), NUMBER),
    Column("Rated", lambda one: one.rated_w.value, POWER),
    Column("None above", lambda one: one.bound_w.value, POWER),
    Column("Gap", lambda one: one.gap_share.value, FRACTION),
    Column("Found by", lambda one: one.how, None),
)


class FillLeaf(Leaf):
    """Press, fields, table, plan with the chosen layout, figures."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.types = QPushButton(tr("Module types"))
        self.types.setMenu(QMenu(self.types))
        self.types.menu().aboutToShow.connect(self.show_types)
        self.row_of(("Fill the roof", self.start), ("Take this layout", self._take), self.types)
        self.presses["Fill the roof"].setObjectName("firm")
        self.fields = Fields(session, system, FIELDS, len(FIELDS))
        self.column.addWidget(self.fields)
        self.sentence = TwoLines()
        self.column.addWidget(self.sentence)
        self._said = SaidLine()
        self.model = Records(session, system, COLUMNS, self._said.setText, self)
        self.table = table_view(self.model, tr("Layouts"), wide=0)
        self.table.selectionModel().currentRowChanged.connect(lambda *_: self._turn())
        self.table.setMinimumHeight(28 + 24 * 3 + 6)
        self.column.addWidget(self.table, 1)
        self.column.addWidget(self._said)
        self.chosen = Label()
        self.column.addWidget(self.chosen)
        self.plan = RoofPlan(session, system)
        self.column.addWidget(self.plan, 3)
        self.figures = FigureRow(system)
        self.column.addWidget(self.figures)
        self.listen(self.plan, self.figures)
        self._of: Roof | None = None

    def start(self) -> None:
        """Fill in the background."""
        job = self.session.shown.job
        self.work(
            tr("Filling the roof"),
            partial(_fill, job.roof, job.vehicle.width_m),
            partial(self._filled, job.roof),
            self._said.setText,
        )

    def _filled(self, roof: Roof, found: tuple[Layout, ...]) -> None:
        self._of = roof
        self.model.put(found)
        if found:
            self.table.selectRow(0)
        self.show_shown(self.session.shown)

    def _layout(self) -> Layout | None:
        at = self.table.currentIndex().row()
        found: Layout | None = self.model.record(at) if 0 <= at < self.model.rowCount() else None
        return found

    def _take(self) -> None:
        one = self._layout()
        if one is not None:
            self._said.setText(self.session.apply(one.edit) or "")

    def _ask_table(self) -> None:
        from PySide6.QtWidgets import QFileDialog

        name, _ = QFileDialog.getOpenFileName(self, tr("Take in module types from a table"), "", "CSV (*.csv)")
        if name:
            self.read_table(Path(name))

    def read_table(self, path: Path) -> None:
        """Take in the module types of a table, whole or not at all."""
        roof = self.session.shown.job.roof
        try:
            found = read_modules(path)
        except ModuleTableError as error:
            self._said.setText(str(error))
            return
        have = {roof.module.name, *(one.name for one in roof.more_modules)}
        fresh = tuple(one for one in found if one.name not in have)
        self._said.setText(
            self.session.apply(
                set_value("roof.more_modules", (*roof.more_modules, *fresh), f"Take in {len(fresh)} module types")
            )
            or ""
        )

    def _keep(self) -> None:
        """Keep the job's types for later jobs."""
        roof = self.session.shown.job.roof
        try:
            keep(own_types_file(), (roof.module, *roof.more_modules))
        except (OSError, ValueError) as error:
            self._said.setText(str(error))
            return
        self._said.setText(tr("Kept for later jobs."))

    def _kept(self) -> tuple[ModuleSpec, ...]:
        """Types of one's own that the job does not have."""
        roof = self.session.shown.job.roof
        have = {roof.module.name, *(one.name for one in roof.more_modules)}
        try:
            return tuple(one for one in read_own(own_types_file()).modules if one.name not in have)
        except ValueError as error:
            self._said.setText(str(error))
            return ()

    def _add_own(self, one: ModuleSpec) -> None:
        roof = self.session.shown.job.roof
        self._said.setText(
            self.session.apply(set_value("roof.more_modules", (*roof.more_modules, one), f"Module type {one.name}"))
            or ""
        )

    def show_types(self) -> None:
        """What can be done about module types, with those of one's own that the job lacks."""
        menu = self.types.menu()
        menu.clear()
        menu.addAction(tr("Take in from a table…"), self._ask_table)
        menu.addAction(tr("Keep this job's for later jobs"), self._keep)
        menu.addSeparator()
        for one in self._kept():
            menu.addAction(tr("Add {name}").format(name=one.name), partial(self._add_own, one))

    def _turn(self) -> None:
        one = self._layout()
        self.presses["Take this layout"].setEnabled(one is not None)
        self.plan.ghosts = one.modules if one is not None else None
        self.plan.ghost_types = one.other_types if one is not None else ()
        self.chosen.setText(
            tr("{name}: gives up {what}.").format(name=one.name, what=one.gives_up) if one is not None else ""
        )
        self.plan.update()
        self.figures.put((one.rated_w, one.bound_w, one.gap_share) if one is not None else ())

    def show_shown(self, shown: Shown) -> None:
        self.fields.show_shown(shown)
        if self._of is None:
            text = tr(
                "As many watts as fit clear of everything that is kept, of this job's module types and those of "
                "the table; with what no layout can be above."
            )
        elif self._of is shown.job.roof:
            text = tr(
                "Obstacles, lanes and the room to work on what needs service are kept. Taking a layout takes "
                "modules off their strings."
            )
        else:
            text = tr("The roof has changed since: fill it again.")
        self.sentence.setText(text)
        self._turn()

    def commands(self) -> list[Command]:
        return [
            Command(tr("Fill the roof"), "", self.start),
            Command(tr("Take in module types from a table…"), "", self._ask_table, "tables"),
        ]


def _fill(roof: Roof, width_m: float, progress: Any) -> tuple[Layout, ...]:
    return fill(roof, width_m, progress)
