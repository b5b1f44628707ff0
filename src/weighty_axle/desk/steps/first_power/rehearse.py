"""Rehearse: the switches in any order on the simulated plant, what follows, points against the card, a meter."""

from __future__ import annotations

from PySide6.QtCore import QTimer
from PySide6.QtGui import QHideEvent, QShowEvent
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QPushButton

from weighty_axle.design.table import Design
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import Leaf, TwoLines
from weighty_axle.desk.kit.records import Column, Records, table_view
from weighty_axle.desk.steps.first_power.board import SwitchBoard
from weighty_axle.desk.text import press_words, tr
from weighty_axle.desk.work.days import signed
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.proving import rehearsed
from weighty_axle.job.models.proving import Rehearsed
from weighty_axle.plant.faults import KINDS, Fault, faults_of
from weighty_axle.plant.plant import Event
from weighty_axle.plant.rehearsal import LESSONS, Lost, Rehearsal, clamps_of, points_of
from weighty_axle.units import System, show

TICK_MS = 500
_EVENTS = (
    Column("At", lambda row: f"{row.at_s:.0f} s", None),
    Column("Where", lambda row: row.tag, None),
    Column("What happened", lambda row: tr("{what}, because {cause}").format(what=row.what, cause=row.cause), None),
)
_LOST = (Column("Points", lambda row: f"−{row.points}", None), Column("Why", lambda row: row.why, None))


class RehearseLeaf(Leaf):
    """A lesson, the switches, what happened, what was lost, the meter, and what somebody thinks is wrong."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.lesson = QComboBox()
        self.lesson.setAccessibleName(tr("Lesson"))
        for one in LESSONS:
            self.lesson.addItem(tr(one.title), one.key)
        self.lesson.currentIndexChanged.connect(self.begin)
        presses = (("Begin again", self.begin), ("A minute on", self.minute), ("Finish and keep", self.keep))
        self.row_of(self.lesson, *presses)
        self.told = TwoLines(bold=True)
        self.column.addWidget(self.told)
        self.board = SwitchBoard()
        self.board.turned.connect(self._turned)
        self.room = self.scrolled(self.board)
        self.red, self.black = QComboBox(), QComboBox()
        self.red.setAccessibleName(tr("Red tip, or clamp"))
        self.black.setAccessibleName(tr("Black tip"))
        self.meter = Label()
        self.guessed = QComboBox()
        self.guessed.setAccessibleName(tr("What is wrong"))
        row = QHBoxLayout()
        for part, wide in ((self.red, 2), (self.black, 2), (self.meter, 1), (self.guessed, 3)):
            row.addWidget(part, wide)
            part.setMinimumWidth(60)
        self.column.addLayout(row)
        self.tell_it = QPushButton(press_words("That is it"))
        self.tell_it.clicked.connect(self.guess)
        row.addWidget(self.tell_it)
        for box in (self.red, self.black):
            box.currentIndexChanged.connect(self._measure)
        self.events = Records(session, system, _EVENTS, self._say, self)
        self.lost = Records(session, system, _LOST, self._say, self)
        tables = QHBoxLayout()
        for model, name, wide in ((self.events, tr("What happened"), 2), (self.lost, tr("Points lost"), 1)):
            table = table_view(model, name, wide=wide)
            table.setFixedHeight(112)
            tables.addWidget(table, 3 if model is self.events else 2)
        self.column.addLayout(tables)
        self.before = Label()
        self.before.setWordWrap(True)
        self.column.addWidget(self.before)
        self.said = Label()
        self.said.setObjectName("stop")
        self.said.setWordWrap(True)
        self.column.addWidget(self.said)
        self.going: Rehearsal | None = None
        self._house: Design | None = None
        self._goes = 0
        self.clock = QTimer(self)
        self.clock.setInterval(TICK_MS)
        self.clock.timeout.connect(self._tick)

    def show_shown(self, shown: Shown) -> None:
        # Only another design makes another plant: a result that is kept, or a reading, does not.
        house = shown.house
        if self._house is None or house.whole.bank is not self._house.whole.bank or house.flow is not self._house.flow:
            self._house = house
            self.begin()

    def hideEvent(self, event: QHideEvent) -> None:
        self.clock.stop()
        super().hideEvent(event)

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self.clock.start()

    def _say(self, words: str) -> None:
        self.said.setText(words)

    def begin(self) -> None:
        """A new go at the lesson; another fault is hidden."""
        if self._house is None:
            return
        lesson = LESSONS[max(0, self.lesson.currentIndex())]
        self._goes += 1
        self.going = Rehearsal(self._house, lesson, self._goes)
        self.board.put(self.going.plant)
        stops = sum(one.rule.severity == "stop" for one in self.session.shown.findings)
        warned = tr("This design has {n} findings at Stop; it may be rehearsed all the same.").format(n=stops)
        self._say(warned if stops else "")
        self._choices()
        self._refresh()

    def _choices(self) -> None:
        assert self.going is not None and self._house is not None
        places = list(points_of(self.going.plant))
        clamps = [f"clamp {one}" for one in clamps_of(self.going.plant)]
        for box, first in ((self.red, [*places, *clamps]), (self.black, places)):
            kept = box.currentText()
            box.blockSignals(True)
            box.clear()
            box.addItems(first)
            box.setCurrentIndex(max(0, box.findText(kept)))
            box.blockSignals(False)
        self.guessed.clear()
        for one in faults_of(self._house) if self.going.lesson.hidden else ():
            self.guessed.addItem(f"{tr(KINDS[one.kind].words)}: {one.place}", one)

    def _refresh(self) -> None:
        assert self.going is not None
        events: tuple[Event, ...] = tuple(reversed(self.going.plant.events))
        lost: tuple[Lost, ...] = self.going.lost
        self.events.put(events)
        self.lost.put(lost)
        key = self.going.lesson.key
        kept = [one for one in self.session.shown.whole.proving.rehearsed if one.lesson == key]
        done = "; ".join(f"{one.by or '–'} {one.points} ({one.on})" for one in reversed(kept[-4:]))
        self.before.setText(tr("Done before: {done}").format(done=done) if done else "")
        flow = self.going.plant.flow
        now = tr("{volts} at the bank, {amps} out of it").format(
            volts=show(flow.bank_v, "V"), amps=show(sum(one.amps for one in self.going.plant.packs.strings), "A")
        )
        self.told.setText(f"{tr(self.going.lesson.task)} {self.going.points} {tr('points')}. {now}.")
        self.board.update()
        self._measure()

    def _turned(self, key: str, position: str) -> None:
        assert self.going is not None
        self.going.turn(key, position)
        self._refresh()

    def _tick(self) -> None:
        if self.going is not None:
            self.going.plant.run(TICK_MS / 1000)
            self._refresh()

    def minute(self) -> None:
        """Let a minute pass."""
        if self.going is not None:
            self.going.plant.run(60.0)
            self._refresh()

    def _measure(self) -> None:
        if self.going is None:
            return
        plant, red = self.going.plant, self.red.currentText()
        if red.startswith("clamp "):
            self.meter.setText(show(clamps_of(plant).get(red.removeprefix("clamp "), 0.0), "A"))
            return
        volts = points_of(plant)
        self.meter.setText(f"{volts.get(red, 0.0) - volts.get(self.black.currentText(), 0.0):.3f} V")

    def guess(self) -> None:
        """Say what is wrong."""
        fault = self.guessed.currentData()
        if self.going is None or fault is None:
            self._say(tr("Nothing is hidden in this lesson."))
            return
        right = self.going.guess(Fault(*fault))
        self._refresh()
        self._say(tr("That is it.") if right else tr("It is not that: measure again."))

    def keep(self) -> None:
        """Keep the result in the job, by initials."""
        if self.going is None:
            return
        self.going.finished = True
        self._refresh()
        on, by = signed()
        lost = tuple(one.why[:300] for one in self.going.lost[:60])
        result = Rehearsed(lesson=self.going.lesson.key, by=by, on=on, points=self.going.points, lost=lost)
        self._say(self.session.apply(rehearsed(result, tr(self.going.lesson.title))) or tr("Kept in the job."))
        self._refresh()
