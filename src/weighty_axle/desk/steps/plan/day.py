"""Day: what one person does on a day, large enough to be read from a step away; printed for the pocket."""

from __future__ import annotations

from datetime import date, timedelta

from PySide6.QtWidgets import QComboBox, QDateEdit

from weighty_axle.answers.plan.plan import Plan, Planned
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.steps.plan.planned import PlanLeaf, put_workers
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.days import signed, today
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.exports.pages.plan import today_of
from weighty_axle.job.edits.build import say_task
from weighty_axle.units import NUMBER, System

_COLUMNS = (
    Column("From", lambda row: f"{row.starts:%d %b %H:%M}", None),
    Column("To", lambda row: f"{row.ends:%d %b %H:%M}", None),
    Column("Who", lambda row: row.who, None),
    Column("Task", lambda row: row.task.words, None),
    Column("h", lambda row: row.task.hours_h.value, NUMBER),
)


class DayLeaf(PlanLeaf):
    """Who and which day, the tasks, what to have at hand."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.who = QComboBox()
        self.who.setAccessibleName(tr("Whose day"))
        self.who.currentIndexChanged.connect(self._show_rows)
        self.day = QDateEdit()
        self.day.setCalendarPopup(True)
        self.day.setDisplayFormat("yyyy-MM-dd")
        self.day.setAccessibleName(tr("Day"))
        self.day.lineEdit().setAccessibleName(tr("Day"))
        self._day_set = False
        self.row_of(self.who, self.day, ("Day before", self._before), ("Day after", self._after))
        self.row_of(("It is done", self.done), ("Print this day …", self._print))
        self.said = SaidLine()
        self.model = Records(session, system, _COLUMNS, self.said.setText, self)
        self.table = table_view(self.model, tr("Tasks of the day"), wide=3)
        self.table.verticalHeader().setDefaultSectionSize(34)
        self.table.selectionModel().currentRowChanged.connect(self._tell)
        self.column.addWidget(self.table, 1)
        self.column.addWidget(self.said)
        self.told = Label()
        self.told.setWordWrap(True)
        self.column.addWidget(self.told)
        self.day.dateChanged.connect(self._show_rows)

    @property
    def on(self) -> date:
        """The day on show."""
        chosen = self.day.date()
        return date(chosen.year(), chosen.month(), chosen.day())

    def turn_to_day(self, day: date) -> None:
        """Show a day."""
        from PySide6.QtCore import QDate

        self._day_set = True
        self.day.setDate(QDate(day.year, day.month, day.day))

    def _before(self) -> None:
        self.turn_to_day(self.on - timedelta(days=1))

    def _after(self) -> None:
        self.turn_to_day(self.on + timedelta(days=1))

    def _print(self) -> None:
        self.wants.emit(f"day out {self.who.currentData() or ''} {self.on.isoformat()}")

    def show_shown(self, shown: Shown) -> None:
        self.ask_plan(shown.house)

    def show_plan(self, found: Plan) -> None:
        put_workers(self.who, found)
        if not self._day_set:
            self.turn_to_day(max(today(), found.starts))
        self._show_rows()

    def _show_rows(self) -> None:
        if self.plan is None:
            return
        rows = today_of(self.plan, self.who.currentData() or "", self.on)
        self.model.put(rows)
        self._tell()

    @property
    def chosen(self) -> Planned | None:
        """The task that is selected."""
        row = self.table.currentIndex().row()
        return self.model.record(row) if 0 <= row < self.model.rowCount() else None

    def _tell(self) -> None:
        one = self.chosen
        if one is not None:
            parts = ", ".join(one.task.parts[:8]) + (" …" if len(one.task.parts) > 8 else "")
            at_hand = " " + tr("Have at hand: {parts}.").format(parts=parts) if parts else ""
            self.told.setText(f"{one.task.how}{at_hand}".strip())
        elif self.model.rowCount() == 0 and self.plan is not None:
            coming = next((each for each in self.plan.planned if each.starts.date() > self.on and not each.done), None)
            after = (
                " " + tr("Next: {task}, {day}.").format(task=coming.task.words, day=f"{coming.starts:%a %d %b}")
                if coming is not None
                else ""
            )
            self.told.setText(tr("Nothing is planned for this day.") + after)
        else:
            self.told.setText("")

    def done(self) -> None:
        """The task is done today."""
        one = self.chosen
        if one is None:
            self.said.setText(tr("Select a task first."))
            return
        day, _ = signed()
        self.said.setText(
            self.session.apply(say_task(one.task.key, f"{one.task.words} is done", done_on=day, worker=one.who)) or ""
        )
