"""Tools: what this job asks for, from its own conductors, torques, voltages, heights and weights."""

from __future__ import annotations

from weighty_axle.answers.plan.tools import tools
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.units import System

_COLUMNS = (
    Column("Tool", lambda row: row.name, None),
    Column("Must", lambda row: row.must, None),
    Column("For", lambda row: row.because, None),
)


class ToolsLeaf(Leaf):
    """The table."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.said = SaidLine()
        self.model = Records(session, system, _COLUMNS, self.said.setText, self)
        self.column.addWidget(table_view(self.model, tr("Tools for this job"), wide=2), 1)
        self.column.addWidget(self.said)

    def show_shown(self, shown: Shown) -> None:
        self.model.put(tools(shown.house))
