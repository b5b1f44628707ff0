"""The year's course: the carpet over a day of it, its figures, and what happens, event by event."""

from __future__ import annotations

from functools import partial
from pathlib import Path
from typing import Any

from PySide6.QtWidgets import QComboBox

from weighty_axle.answers.year.events import Event, events
from weighty_axle.answers.year.lived import Lived
from weighty_axle.answers.year.result import YearResult
from weighty_axle.answers.year.sky import far_words
from weighty_axle.design.table import Design
from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.leaves import Leaf, TwoLines
from weighty_axle.desk.steps.year.carpet import QUANTITIES, Carpet
from weighty_axle.desk.steps.year.day import DayCourse
from weighty_axle.desk.steps.year.kept import YEARS
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.commands import Command
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.reference.importers.weather_file import WeatherFileError, WeatherHours, read_hours
from weighty_axle.units import FRACTION, System

YEAR_FIELDS = (
    Field("Weather drawn", "year.seed", str, wide=2),
    Field("Kept for what must run", "year.reserve_share", FRACTION),
    Field("Inverters sleep", "year.sleeps", bool),
    Field("Generator goes along", "year.generator_along", bool),
)
Answer = tuple[Lived, YearResult, tuple[Event, ...]]


class CourseLeaf(Leaf):
    """Fields, carpet, day, figures."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.fields = Fields(session, system, YEAR_FIELDS, 5)
        self.column.addWidget(self.fields)
        self.choice = QComboBox()
        self.choice.setAccessibleName(tr("What the carpet shows"))
        for one in QUANTITIES:
            self.choice.addItem(tr(one.name), one.key)
        self.choice.currentIndexChanged.connect(self._show_carpet)
        self.weather = QComboBox()
        self.weather.setAccessibleName(tr("Weather"))
        self.weather.addItems([tr("drawn"), tr("measured …")])
        self.weather.activated.connect(self._choose_weather)
        self.carpet = Carpet(system)
        self.carpet.turned.connect(self._turned)
        self.row_of(
            self.choice,
            ("Event before", partial(self.carpet.turn_to_event, -1)),
            ("Next event", partial(self.carpet.turn_to_event, 1)),
            self.weather,
        )
        self.column.addWidget(self.carpet, 3)
        self.sentence = TwoLines()
        self.column.addWidget(self.sentence)
        self.day = DayCourse(system)
        self.column.addWidget(self.day, 3)
        self.figures = self.figure_row()
        self._answer_now: Answer | None = None
        self._told: tuple[str, ...] = ()

    def _choose_weather(self, index: int) -> None:
        if index:
            self._ask()
        else:
            self._told = ()
            self._live_in(None)

    def _ask(self) -> None:
        from PySide6.QtWidgets import QFileDialog

        name, _ = QFileDialog.getOpenFileName(self, tr("Weather file"), "", "EPW, TMY3 (*.epw *.csv)")
        if name:
            self.read(Path(name))
        else:
            self._live_in(YEARS.measured)

    def read(self, path: Path) -> None:
        """Live the year in the hours of a weather file."""
        self.work(tr("Reading {name}").format(name=path.name), partial(_read, path), self._taken, self.sentence.setText)

    def _taken(self, hours: WeatherHours | str) -> None:
        if isinstance(hours, str):
            self.sentence.setText(hours)
            return
        far = far_words(self.session.shown.design, hours)
        self._told = tuple(one for one in (f"Measured at {hours.place}.", *hours.told, far) if one)
        self._live_in(hours)

    def _live_in(self, hours: WeatherHours | None) -> None:
        YEARS.measured = hours
        self.show_shown(self.session.shown)

    def show_shown(self, shown: Shown) -> None:
        self.fields.show_shown(shown)
        self.weather.setCurrentIndex(int(YEARS.measured is not None))
        self.quietly((shown.design, YEARS.measured), partial(_lived, shown.design), self._answered_year)

    def _answered_year(self, answer: Answer | None) -> None:
        self._answer_now = answer
        self._show_carpet()
        if answer is None:
            self.sentence.setText(tr("This year could not be lived."))
            return
        result = answer[1]
        self.figures.put(
            (
                result.missing_share,
                result.sun_wh,
                result.cut_wh,
                result.hookup_wh,
                result.generator_h,
                result.full_cycles,
                result.lowest_share,
            )
        )

    def _show_carpet(self) -> None:
        if self._answer_now is not None:
            year, _, told = self._answer_now
            self.carpet.put(year, told, QUANTITIES[self.choice.currentIndex()])
            self._turned(self.carpet.day)

    def _turned(self, day: int) -> None:
        if self._answer_now is not None:
            year, result, _ = self._answer_now
            self.day.put(year, day)
            self.sentence.setText(" ".join((self.carpet.words_of(day), *result.notes, *self._told)))

    def commands(self) -> list[Command]:
        return [
            Command(tr("Next event of the year"), "", partial(self.carpet.turn_to_event, 1)),
            Command(tr("Event of the year before"), "", partial(self.carpet.turn_to_event, -1)),
        ]


def _read(path: Path, progress: Any) -> WeatherHours | str:
    """The hours of a file, or the sentence of why it is of no use."""
    progress(0.2, tr("Hours"))
    try:
        return read_hours(path)
    except WeatherFileError as error:
        return str(error)


def _lived(design: Design, _progress: Any) -> Answer:
    year, result = YEARS.of(design)
    return year, result, events(year)
