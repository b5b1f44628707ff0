"""A table of loads before it is taken in: every bad row and why; all or nothing."""

from __future__ import annotations

from PySide6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QVBoxLayout

from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.records import Column, Records, table_view
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session
from weighty_axle.exports.tables.loads_read import LoadsRead
from weighty_axle.job.edits.brief import take_loads
from weighty_axle.job.models.brief import Load
from weighty_axle.units import System, show

PROBLEM_COLUMNS = (
    Column("Row", lambda one: one.row, None),
    Column("Column", lambda one: one.column, None),
    Column("What stands there", lambda one: one.text or "nothing", None),
    Column("Why it is refused", lambda one: one.why, None),
)
LOAD_COLUMNS = (
    Column("Load", lambda load: load.name, None),
    Column("Supply", lambda load: load.supply, None),
    Column("How many", lambda load: load.count, None),
    Column("Running, each", lambda load: show(load.running_w, "W"), None),
    Column("Days painted", lambda load: sum(bool(spans) for spans in load.patterns.values()), None),
)


class LoadsIn(QFrame):
    """The preview: a sentence, the rows, and two presses."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__()
        self._session, self._read, self._name = session, LoadsRead((), (), 0, ()), ""
        self.setObjectName("loads_in")
        self.setStyleSheet(f"#loads_in {{ background: {look().note_soft}; border-radius: 4px; }}")
        column = QVBoxLayout(self)
        self.said = Label()
        self.said.setWordWrap(True)
        column.addWidget(self.said)
        self.problems = Records(session, system, PROBLEM_COLUMNS, self.said.setText, self)
        self._problem_table = table_view(self.problems, tr("Rows that are refused"))
        self.loads = Records(session, system, LOAD_COLUMNS, self.said.setText, self)
        self._load_table = table_view(self.loads, tr("Loads that would be taken in"))
        for table in (self._problem_table, self._load_table):
            table.setMaximumHeight(170)
            column.addWidget(table)
        row = QHBoxLayout()
        self._take, leave = QPushButton(), QPushButton(tr("Leave it"))
        self._take.setObjectName("firm")
        self._take.clicked.connect(self._on_take)
        leave.clicked.connect(self.hide)
        row.addStretch(1)
        row.addWidget(self._take)
        row.addWidget(leave)
        column.addLayout(row)

    def put(self, read: LoadsRead, name: str) -> None:
        """Show what a table holds."""
        self._read, self._name = read, name
        bad_rows = len({problem.row for problem in read.problems})
        have = {load.tag for load in self._session.shown.job.loads}
        replaced = sum(load.tag in have for load in read.loads)
        if read.problems:
            text = tr(
                "{name}: {bad} of {rows} rows cannot be read. Nothing is taken in until every row is right; put "
                "them right in the table and read it again."
            )
        else:
            text = tr("{name}: {rows} rows are sound; {replaced} replace loads of the same tag, {new} are new.")
        text = text.format(name=name, bad=bad_rows, rows=read.rows, replaced=replaced, new=len(read.loads) - replaced)
        if read.passed_over:
            text += " " + tr("Columns passed over: {columns}.").format(columns=", ".join(read.passed_over[:8]))
        self.said.setText(text)
        self.problems.put(read.problems)
        self.loads.put(read.loads)
        self._problem_table.setVisible(bool(read.problems))
        self._load_table.setVisible(not read.problems)
        self._take.setText(tr("Take in {n} loads").format(n=len(read.loads)))
        self._take.setVisible(not read.problems and bool(read.loads))
        self.show()

    def _on_take(self) -> None:
        loads: tuple[Load, ...] = self._read.loads
        problem = self._session.apply(take_loads(loads, self._name))
        if problem:
            self.said.setText(problem)
        else:
            self.hide()
