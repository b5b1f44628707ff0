"""Find: from what the customer says to the cause, measurement by measurement, with this job's own numbers."""

from __future__ import annotations

from collections.abc import Iterable
from functools import partial
from typing import Any

from PySide6.QtCore import QRectF, QSize
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit, QPushButton, QSizePolicy, QWidget

from weighty_axle.answers.log.finder.cause import SYMPTOMS
from weighty_axle.answers.log.finder.finder import Answer, Finder, Hunt, Next, Suspect
from weighty_axle.answers.log.finder.interim import Repair, repair
from weighty_axle.answers.log.finder.measure import Measure
from weighty_axle.answers.log.timeline import thing_of
from weighty_axle.design.table import Design
from weighty_axle.design.wiring.runs import MAIN_RUN
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.painting import RIGHT, Canvas, brush, pen, words
from weighty_axle.desk.kit.records import Column, Records, table_view
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tip, tr
from weighty_axle.desk.work.commands import Command
from weighty_axle.desk.work.days import signed
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.log import written
from weighty_axle.job.models.log import LogEntry
from weighty_axle.units import System

MOST_SUSPECTS, LEAST_SHOWN = 6, 0.005
_NEXT = (
    Column("Next", lambda row: row.measure.do, None),
    Column("Minutes", lambda row: f"{row.measure.minutes:g}", None),
    Column("Tells a minute", lambda row: f"{1000 * row.bit_per_min:.0f} mbit", None),
)


class Suspects(Canvas):
    """Causes, the likeliest first: a bar for how likely each is now, a tick for how likely it was before anything was
    measured.
    """

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(tr("Likely causes"))
        self.setFixedHeight(MOST_SUSPECTS * 20 + 4)
        self.hunt: Hunt | None = None
        self.suspects: tuple[Suspect, ...] = ()

    def sizeHint(self) -> QSize:
        return QSize(560, self.height())

    def put(self, hunt: Hunt | None) -> None:
        """Show how far a search is."""
        self.hunt = hunt
        likely = [one for one in hunt.suspects if one.probability >= LEAST_SHOWN] if hunt is not None else []
        self.suspects = tuple(likely[:MOST_SUSPECTS])
        self.setFixedHeight(max(2, len(self.suspects)) * 20 + 4)
        self.shows(hunt)

    def draw(self, painter: QPainter) -> None:
        now = look()
        rect = QRectF(self.rect())
        painter.fillRect(rect, brush(now.panel))
        if self.hunt is None:
            words(painter, rect.adjusted(8, 4, -8, -4), tr("Say what is wrong."), colour=now.muted)
            return
        for at, one in enumerate(self.suspects):
            y = 2 + at * 20.0
            track = QRectF(8, y + 3, 150, 13)
            painter.fillRect(track, brush(now.track))
            painter.fillRect(QRectF(track.x(), track.y(), track.width() * one.probability, 13), brush(now.ink))
            x = track.x() + track.width() * one.before
            painter.setPen(pen(now.live, 1.6))
            painter.drawLine(int(x), int(track.y() - 2), int(x), int(track.bottom() + 2))
            words(painter, QRectF(162, y, 48, 18), f"{one.probability:.1%}", size=8, align=RIGHT)
            words(painter, QRectF(218, y, rect.width() - 224, 18), one.words, size=8.5, bold=at == 0)
            self.areas.append((QRectF(0, y, rect.width(), 20), one.place))


class FindLeaf(Leaf):
    """Symptom above, causes, the measurement to make next, its answers; what follows from the likeliest cause below."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.symptom = QComboBox()
        self.symptom.setAccessibleName(tr("What is wrong"))
        self._offer(SYMPTOMS)
        self.symptom.currentIndexChanged.connect(self.begin)
        self.symptom.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.symptom.setMinimumContentsLength(24)
        self.near = QComboBox()
        self.near.setAccessibleName(tr("Where"))
        self.near.setMinimumWidth(100)
        self.near.currentIndexChanged.connect(self._again)
        top = QHBoxLayout()
        top.addWidget(self.symptom, 1)
        top.addWidget(self.near)
        self.column.addLayout(top)
        self.suspects = Suspects()
        self.column.addWidget(self.suspects)
        self.do = Label()
        self.do.setWordWrap(True)
        self.column.addWidget(self.do)
        self.reading = QLineEdit()
        self.reading.setAccessibleName(tr("Reading"))
        self.reading.setMaximumWidth(90)
        self.reading.returnPressed.connect(self.take_reading)
        self.row_of(
            self.reading,
            ("Take it", self.take_reading),
            ("One back", self.one_back),
            ("Anew", self.begin),
            ("Into the log", self.note),
        )
        self.outcomes = QWidget()
        self._row = QHBoxLayout(self.outcomes)
        self._row.setContentsMargins(0, 0, 0, 0)
        self.column.addWidget(self.outcomes)
        self.model = Records(session, system, _NEXT, self._say, self)
        self.table = table_view(self.model, tr("Measurements, the most telling first"), wide=0)
        self.table.selectionModel().currentRowChanged.connect(self._tell)
        # The sentences grow and the table gives way, so that all of it stands in one view.
        self.table.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Ignored)
        self.table.setMinimumHeight(76)
        self.follows = Label()
        self.follows.setWordWrap(True)
        self.column.addWidget(self.follows)
        self.figures = self.figure_row()
        self.column.addWidget(self.table, 1)
        self.finder: Finder | None = None
        self.hunt: Hunt | None = None
        self._of: Design | None = None

    def show_shown(self, shown: Shown) -> None:
        design = shown.design
        if self._of is design:
            return
        self._of = design
        self.quietly((design,), partial(_made, design), self._made)

    def _made(self, finder: Finder | None) -> None:
        self.finder = finder
        if finder is None:
            self._say(tr("The fault finder could not be made for this job."))
            return
        self._offer(finder.symptoms)
        places = dict.fromkeys(place for some in finder.places.values() for place in some)
        chosen = self.near.currentData()
        self.near.blockSignals(True)
        self.near.clear()
        self.near.addItem(tr("anywhere"), "")
        for place in places:
            self.near.addItem(place, place)
        self.near.setCurrentIndex(max(0, self.near.findData(chosen)))
        self.near.blockSignals(False)
        kept = self.hunt.answers if self.hunt is not None and self.hunt.symptom == self.symptom.currentData() else ()
        self._go(tuple(one for one in kept if one.measure in finder.measures))

    def _offer(self, symptoms: Iterable[str]) -> None:
        """Offer symptoms; what is chosen stays where it still can."""
        chosen = self.symptom.currentData()
        self.symptom.blockSignals(True)
        self.symptom.clear()
        for key in symptoms:
            self.symptom.addItem(tr(SYMPTOMS[key]), key)
        self.symptom.setCurrentIndex(max(0, self.symptom.findData(chosen)))
        self.symptom.blockSignals(False)

    # ---- the search ----

    def begin(self, *_index: int) -> None:
        """Begin anew with the symptom that is chosen."""
        self._go(())

    def _again(self, *_index: int) -> None:
        self._go(self.hunt.answers if self.hunt is not None else ())

    def _go(self, answers: tuple[Answer, ...]) -> None:
        if self.finder is None:
            return
        self.hunt = self.finder.hunt(self.symptom.currentData(), answers, self.near.currentData() or "")
        self.suspects.put(self.hunt)
        self.model.put(self.hunt.next)
        if self.hunt.next:
            self.table.selectRow(0)
        self.reading.clear()
        self._tell()
        self._show_repair()

    @property
    def chosen(self) -> Measure | None:
        """The measurement that is chosen; the first as long as none is."""
        row = self.table.currentIndex().row()
        found: Next | None = self.model.record(row) if 0 <= row < self.model.rowCount() else None
        return found.measure if found is not None else None

    def _tell(self) -> None:
        measure = self.chosen
        while self._row.count():
            item = self._row.takeAt(0)
            widget = item.widget() if item is not None else None
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        self.reading.setVisible(measure is not None and bool(measure.unit))
        self.presses["Take it"].setVisible(measure is not None and bool(measure.unit))
        self.presses["One back"].setEnabled(bool(self.hunt is not None and self.hunt.answers))
        if measure is None:
            self.do.setText(tr("Nothing that is left to measure would tell more."))
            return
        caution = tr("On live parts: insulated tools, one hand, nobody alone.") if measure.live else ""
        self.do.setText(f"{measure.do} {caution}".strip())
        self.reading.setPlaceholderText(measure.unit)
        for outcome in measure.outcomes:
            press = QPushButton(tr(outcome.words))
            press.setToolTip(tip(tr("It came out so")))
            press.clicked.connect(partial(self.answer, outcome.key))
            self._row.addWidget(press)
        self._row.addStretch(1)

    def answer(self, outcome: str, *_pressed: object, reading: float | None = None) -> None:
        """Take an answer to the chosen measurement."""
        measure = self.chosen
        if measure is not None and self.hunt is not None:
            self._go((*self.hunt.answers, Answer(measure=measure.key, outcome=outcome, reading=reading)))

    def take_reading(self) -> None:
        """Take what was typed: which outcome it is follows from this job's numbers."""
        measure = self.chosen
        text = self.reading.text().strip().removesuffix(measure.unit if measure is not None else "").strip()
        if measure is None or not text:
            return
        try:
            value = float(text.replace(",", ".").replace("−", "-"))
        except ValueError:
            self.do.setText(
                tr("“{text}” is no number in {unit}. {do}").format(text=text[:20], unit=measure.unit, do=measure.do)
            )
            return
        self.answer(measure.outcome_of(value), reading=value)

    def one_back(self) -> None:
        """Take the last answer back."""
        if self.hunt is not None:
            self._go(self.hunt.answers[:-1])

    # ---- what follows ----

    def _show_repair(self) -> None:
        hunt, finder = self.hunt, self.finder
        if hunt is None or finder is None or not hunt.suspects:
            self.follows.setText("")
            self.figures.setVisible(False)
            return
        first = hunt.suspects[0]
        if hunt.answers and (first.probability >= 0.5 or not hunt.next):
            made = repair(finder.design, hunt, first, finder.measures)
            self.follows.setText(_repair_words(hunt, first, made))
            self.figures.put(made.figures)
            self.figures.setVisible(bool(made.figures))
            self.session.select(first.place)
        else:
            self.follows.setText(
                tr("Nothing is likely enough yet: make the measurement above, or another of the list.")
            )
            self.figures.put(())

    def note(self) -> None:
        """Write the search so far into the log as an open fault."""
        hunt = self.hunt
        if hunt is None or not hunt.suspects:
            return
        first = hunt.suspects[0]
        answers = "; ".join(
            f"{one.measure}: {one.outcome}" + (f" ({one.reading:g})" if one.reading is not None else "")
            for one in hunt.answers
        )
        words_ = f"{SYMPTOMS[hunt.symptom]}. {first.words} ({first.probability:.0%}). {answers}".strip()
        shown = self.session.shown
        # The main run of another system is told by its bar.
        other = bool(shown.design.system.key) and first.place == MAIN_RUN
        thing = thing_of(shown.whole, shown.design.job.wiring.board.tag if other else first.place)
        about = (thing,) if thing else ()
        on, by = signed()
        entry = LogEntry(kind="fault", on=on, words=words_[:2000], about=about, by=by)
        self._say(self.session.apply(written(entry)) or tr("Written into the log as an open fault."))

    def _say(self, words_: str) -> None:
        if words_:
            self.do.setText(words_)

    def commands(self) -> list[Command]:
        return [
            Command(
                tr("Find: {symptom}").format(symptom=self.symptom.itemText(at)),
                "",
                partial(self.symptom.setCurrentIndex, at),
            )
            for at in range(self.symptom.count())
        ]


def _made(design: Design, progress: Any) -> Finder:
    progress(0.2, tr("Causes"))
    return Finder(design)


def _repair_words(hunt: Hunt, suspect: Suspect, made: Repair) -> str:
    sure = tr("As good as proved") if hunt.found is not None else tr("Likeliest so far")
    lines = [
        f"{sure}: {suspect.words}.",
        f"{tr('Until it is mended')}: {made.interim}",
        f"{tr('Repair')}: {made.mend} {tr('Parts')}: {made.parts}.",
        f"{tr('Proof')}: {'; '.join(made.proof)}",
        tr(
            "Work on live parts and on mains voltage is for those who may; local codes and makers' manuals "
            "outrank this."
        ),
    ]
    return "\n".join(lines)
