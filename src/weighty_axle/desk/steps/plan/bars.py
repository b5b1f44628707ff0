"""Bars: the whole plan over days; drag a bar, book hours, say what is done."""

from __future__ import annotations

from datetime import date

from PySide6.QtWidgets import QComboBox

from weighty_axle.answers.plan.plan import Plan, Planned
from weighty_axle.answers.plan.task import PHASE_WORDS
from weighty_axle.desk.kit.boxes import number_box
from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import TwoLines
from weighty_axle.desk.steps.plan.gantt import Gantt
from weighty_axle.desk.steps.plan.planned import PlanLeaf, put_workers
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.days import signed
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.build import booked, say_task
from weighty_axle.job.models.build import Booked
from weighty_axle.units import System

_FIELDS = (Field("Building starts", "build.starts_on", str, empty="today", help="year-month-day"),)


class BarsLeaf(PlanLeaf):
    """Whose tasks, presses, bars, the task that is turned to."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.who = QComboBox()
        self.who.setAccessibleName(tr("Whose tasks"))
        self.who.currentIndexChanged.connect(self._show_rows)
        self.hours = number_box(tr("Hours to book"), 1.0, 0.25, 24.0, unit="h", step=0.25, decimals=2)
        self.fields = Fields(session, system, _FIELDS, 1, whole=True)
        self.row_of(self.who, self.fields, ("Write the plan …", self._write))
        self.row_of(("It is done", self.done), ("Let it go", self.let_go), self.hours, ("Book hours", self.book))
        self.said = TwoLines(bold=True)
        self.column.addWidget(self.said)
        self.chart = Gantt()
        self.chart.turned.connect(self._tell)
        self.chart.moved.connect(self._move)
        self.room = self.scrolled(self.chart)
        self.told = Label()
        self.told.setWordWrap(True)
        self.column.addWidget(self.told)
        self.figures = self.figure_row()

    def _write(self) -> None:
        self.wants.emit("plan out")

    def show_shown(self, shown: Shown) -> None:
        self.fields.show_shown(shown)
        self.ask_plan(shown.house)

    def show_plan(self, found: Plan) -> None:
        put_workers(self.who, found)
        over = (found.ends - found.no_sooner).days
        said = tr("{count} tasks, {starts} to {ends}; no plan ends before {bound}.").format(
            count=len(found.planned),
            starts=found.starts.isoformat(),
            ends=found.ends.isoformat(),
            bound=found.no_sooner.isoformat(),
        )
        if not over:
            said += " " + tr("This one is as short as any can be.")
        self.said.setText(" ".join((said, *found.problems)))
        self._show_rows()

    def _show_rows(self) -> None:
        if self.plan is None:
            return
        self.chart.put(self.plan, self.who.currentData() or "")
        one = self.chart.chosen
        if one is not None:
            self._tell(one)
        else:
            self.told.setText(
                tr("Black: a delay of it delays the end. Drag a bar to another day; arrows do the same by the day.")
            )
            self.figures.put((self.plan.days,))

    def _tell(self, one: Planned) -> None:
        said = [
            f"{one.task.words}: {one.who}, {one.starts:%a %d %b %H:%M} – {one.ends:%a %d %b %H:%M},",
            f"{tr(PHASE_WORDS[one.task.phase])}. {one.task.how}",
        ]
        if one.waits_for and not one.done:
            said.append(tr("Waits for {part}, {day}.").format(part=one.waits_for, day=one.waits_until))
        if one.booked_h:
            said.append(tr("{hours} h are booked.").format(hours=f"{one.booked_h:g}"))
        if self.chart.refused:
            said = [self.chart.refused, *said]
        self.told.setText(" ".join(part for part in said if part))
        self.figures.put((one.task.hours_h, *((self.plan.days,) if self.plan is not None else ())))
        if one.task.about:
            self.session.select(one.task.about[0])
        at = self.chart.row_rect(one)
        self.room.ensureVisible(0, int(at.center().y()), 0, 40)

    def _chosen(self) -> Planned | None:
        if self.chart.chosen is None:
            self.told.setText(tr("Select a task first."))
        return self.chart.chosen

    def _move(self, key: str, day: date) -> None:
        one = self.chart.chosen
        words = one.task.words if one is not None else key
        self.session.apply(say_task(key, f"{words}: not before {day.isoformat()}", not_before=day.isoformat()))

    def done(self) -> None:
        """The task is done today; once more: it is not."""
        one = self._chosen()
        if one is None:
            return
        day, _ = signed()
        words = f"{one.task.words} is {'not done' if one.done else 'done'}"
        on, who = ("", "") if one.done else (day, one.who)
        self.told.setText(self.session.apply(say_task(one.task.key, words, done_on=on, worker=who)) or self.told.text())

    def let_go(self) -> None:
        """The task is moved by nobody any more: as soon as it can."""
        one = self._chosen()
        if one is not None:
            self.session.apply(say_task(one.task.key, f"{one.task.words}: as soon as it can", not_before="", worker=""))

    def book(self) -> None:
        """Hours somebody worked on the task today."""
        one = self._chosen()
        if one is not None:
            day, _ = signed()
            hours = Booked(task=one.task.key, worker=one.who, on=day, hours_h=self.hours.value())
            self.told.setText(self.session.apply(booked(hours)) or self.told.text())
