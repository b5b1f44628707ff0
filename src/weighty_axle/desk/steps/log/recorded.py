"""Recorded: a file of readings beside the model; what its columns are is looked at once and remembered."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any, NamedTuple

from msgspec.structs import replace
from PySide6.QtWidgets import QComboBox, QLineEdit, QPushButton, QStackedWidget

from weighty_axle.answers.log.drifts import Drift, Trace
from weighty_axle.answers.log.layout import Layout, RecordingError, look_at
from weighty_axle.answers.log.mapping import column_map, remembered, wrong_map
from weighty_axle.answers.log.timeline import thing_of
from weighty_axle.design.table import Design
from weighty_axle.desk.kit.leaves import Leaf, TwoLines
from weighty_axle.desk.kit.records import Column, Records, table_view
from weighty_axle.desk.steps.log.trace import TraceChart
from weighty_axle.desk.text import tip, tr
from weighty_axle.desk.work.commands import Command
from weighty_axle.desk.work.days import signed
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import Edit
from weighty_axle.job.edits.log import remember_map, written
from weighty_axle.job.models.log import ColumnMap, LogEntry, MappedColumn
from weighty_axle.job.tags import used_tags
from weighty_axle.reference.quantities import BY_KEY, QUANTITIES
from weighty_axle.units import QuantityError, System

Tell = Callable[[float, str], None]


class _Mapped(NamedTuple):
    """A column of the file with its first values."""

    at: int
    column: MappedColumn
    first: str


class _Row(NamedTuple):
    """A line of what a recording tells: a drift, a trace, or a sentence."""

    on: str
    kind: str
    words: str
    trace: Trace | None = None
    drift: Drift | None = None


_TOLD = (
    Column("On", lambda row: row.on, None),
    Column("", lambda row: tr(row.kind), None),
    Column("What it tells", lambda row: row.words, None),
)


class RecordedLeaf(Leaf):
    """The file and its clock above; its columns, or what it tells with the chart of the chosen line."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.zone = QLineEdit()
        self.zone.setPlaceholderText(tr("Time zone: Europe/Oslo, +02:00"))
        self.zone.setAccessibleName(tr("Time zone of its clock"))
        self.zone.setToolTip(tip(tr("Empty: the file says it itself, or its clock is UTC")))
        self.zone.setMaximumWidth(200)
        self.columns_press = QPushButton(tr("Columns"))
        self.columns_press.setCheckable(True)
        self.columns_press.toggled.connect(self._turn)
        self.row_of(
            ("Open a recording …", self._ask),
            self.zone,
            self.columns_press,
            ("Read it", self.read),
            ("Into the log", self.note),
        )
        self.presses["Read it"].setObjectName("firm")
        self.presses["Into the log"].setToolTip(tip(tr("The drift that is chosen becomes an open fault of the log")))
        self.said = TwoLines()
        self.column.addWidget(self.said)
        self.stack = QStackedWidget()
        self.column.addWidget(self.stack, 1)
        self.mapped = Records(
            session,
            system,
            (
                Column("Heading", lambda row: row.column.heading, None),
                Column("First values", lambda row: row.first, None),
                Column("Is", lambda row: tr(BY_KEY[row.column.quantity].words) if row.column.quantity else "", None),
                Column("Of", lambda row: row.column.of, None, self._set_tag, clears=True),
                Column("Times", lambda row: f"{row.column.scale:g}", None, self._set_scale),
            ),
            self.said.setText,
            self,
        )
        self.columns_table = table_view(self.mapped, tr("Columns of the recording"), wide=1)
        self.quantity = QComboBox()
        self.quantity.setAccessibleName(tr("What the chosen column is"))
        self.quantity.addItem(tr("left out"), "")
        for one in QUANTITIES:
            self.quantity.addItem(f"{tr(one.words)}, {one.unit}", one.key)
        self.quantity.activated.connect(self._choose_quantity)
        self.columns_table.selectionModel().currentRowChanged.connect(self._show_quantity)
        self.stack.addWidget(_under(self.quantity, self.columns_table))
        self.chart = TraceChart()
        self.model = Records(session, system, _TOLD, self.said.setText, self)
        self.table = table_view(self.model, tr("What the recording tells"), wide=2)
        self.table.selectionModel().currentRowChanged.connect(self._tell)
        self.stack.addWidget(_under(self.chart, self.table))
        self.told = TwoLines()
        self.column.addWidget(self.told)
        self.path: Path | None = None
        self.layout_found: Layout | None = None
        self.map: ColumnMap | None = None
        self.read_beside = session.shown.design.system.key
        self.said.setText(
            tr("Open what a monitor or controller has recorded, as CSV: any columns, any separator, any clock.")
        )

    def show_shown(self, shown: Shown) -> None:
        if self.model.rowCount() and shown.design.system.key != self.read_beside:
            # What was told beside one system's model is not true beside another's.
            self.model.put(())
            self._tell()
            self._say(
                tr("Another system is on show: read {name} again, beside its model.").format(
                    name=self.path.name if self.path else ""
                )
            )
        self.presses["Read it"].setEnabled(self.map is not None)
        self.presses["Into the log"].setEnabled(self._drift() is not None)

    # ---- the file and its columns ----

    def _ask(self) -> None:
        from PySide6.QtWidgets import QFileDialog

        name, _ = QFileDialog.getOpenFileName(
            self, tr("A recording"), "", tr("Recorded data (*.csv *.txt *.tsv);;All (*)")
        )
        if name:
            self.open(Path(name))

    def open(self, path: Path) -> None:
        """Look at a recording: how it is written, what its columns are."""
        design = self.session.shown.design
        self.work(
            tr("Looking at {name}").format(name=path.name), partial(_looked, design, path), self._looked, self._say
        )

    def _say(self, words: str) -> None:
        self.said.setText(words)

    def _looked(self, found: tuple[Path, Layout, ColumnMap] | str) -> None:
        if isinstance(found, str):
            self._say(found)
            return
        self.path, self.layout_found, self.map = found
        known = remembered(self.session.shown.whole, self.layout_found) is not None
        self.zone.setText(self.map.zone)
        self._show_columns()
        count = sum(bool(one.quantity) for one in self.map.columns)
        words = tr("{name}: {count} of {all} columns are known").format(
            name=self.path.name, count=count, all=len(self.map.columns)
        )
        how = (
            tr("as remembered.")
            if known
            else tr("by their headings and values; put right what is not so, then read it.")
        )
        self._say(f"{words}, {how}")
        self.columns_press.setChecked(not known)
        self._turn()
        self.show_shown(self.session.shown)
        if known:
            self.read()

    def _show_columns(self) -> None:
        assert self.layout_found is not None and self.map is not None
        rows = self.layout_found.rows[:3]
        first = [", ".join(row[at] for row in rows) for at in range(len(self.map.columns))]
        self.mapped.put(tuple(_Mapped(at, one, first[at][:60]) for at, one in enumerate(self.map.columns)))

    def _turn(self, *_checked: bool) -> None:
        self.stack.setCurrentIndex(0 if self.columns_press.isChecked() else 1)

    def _changed(self, at: int, **changes: Any) -> Edit:
        """The map with another column: remembered at once, as an edit of the job."""
        assert self.map is not None
        columns = list(self.map.columns)
        columns[at] = replace(columns[at], **changes)
        made = replace(self.map, columns=tuple(columns))
        self.map = made
        self._show_columns()
        return remember_map(made)

    def _set_tag(self, row: _Mapped, value: Any) -> Edit:
        text = str(value).strip()
        if text and text not in used_tags(self.session.shown.whole):
            raise QuantityError(tr("There is no {tag} in this job.").format(tag=text[:20]))
        return self._changed(row.at, of=text)

    def _set_scale(self, row: _Mapped, value: Any) -> Edit:
        try:
            scale = float(str(value).replace(",", "."))
        except ValueError:
            raise QuantityError(tr("“{text}” is no number.").format(text=str(value)[:20])) from None
        return self._changed(row.at, scale=scale)

    def _show_quantity(self) -> None:
        row = self.columns_table.currentIndex().row()
        if 0 <= row < self.mapped.rowCount():
            self.quantity.setCurrentIndex(self.quantity.findData(self.mapped.record(row).column.quantity))

    def _choose_quantity(self) -> None:
        row = self.columns_table.currentIndex().row()
        if self.map is None or not 0 <= row < self.mapped.rowCount():
            self._say(tr("Choose a column first."))
            return
        self._say(self.session.apply(self._changed(row, quantity=self.quantity.currentData())) or "")

    # ---- reading ----

    def read(self) -> None:
        """Read the recording and lay it beside the model, in the background."""
        if self.path is None or self.layout_found is None or self.map is None:
            return
        design = self.session.shown.design
        made = replace(self.map, zone=self.zone.text().strip())
        wrong = wrong_map(design, made)
        if wrong:
            self._say(" ".join(wrong[:3]))
            self.columns_press.setChecked(True)
            return
        self.map = made
        if remembered(self.session.shown.whole, self.layout_found) != made:
            problem = self.session.apply(remember_map(made))
            if problem:
                self._say(problem)
                return
        work = partial(_read, design, self.path, self.layout_found, made)
        self.work(
            tr("Reading {name}").format(name=self.path.name), work, partial(self._read, design.system.key), self._say
        )

    def _read(self, key: str, found: Any) -> None:
        if isinstance(found, str):
            self._say(found)
            return
        rows = [_Row(one.on.isoformat(), "drift", one.sentence, trace, one) for trace, one in found.drifts]
        rows += [_Row("", "trace", one.sentence, one) for one in found.traces]
        rows += [_Row("", "whole", words) for words in _whole(found)]
        rows += [_Row("", "put right", words) for words in found.told]
        rows += [_Row("", "cannot be told", words) for words in found.unknown]
        self.model.put(tuple(rows))
        self.read_beside = key
        self.columns_press.setChecked(False)
        self._turn()
        self._say(
            tr("{rows} rows from {first} to {last}; {n} drifts.").format(
                rows=found.rows, first=found.first, last=found.last, n=len(found.drifts)
            )
        )
        if rows:
            self.table.selectRow(0)
        self._tell()
        self.show_shown(self.session.shown)  # another system may have been chosen meanwhile

    def _row(self) -> _Row | None:
        at = self.table.currentIndex().row()
        return self.model.record(at) if 0 <= at < self.model.rowCount() else None

    def _drift(self) -> Drift | None:
        row = self._row()
        return row.drift if row is not None else None

    def _tell(self) -> None:
        row = self._row()
        self.chart.put(row.trace if row is not None else None)
        self.told.setText(row.words if row is not None else "")
        self.presses["Into the log"].setEnabled(self._drift() is not None)
        if row is not None and row.trace is not None and row.trace.about:
            self.session.select(*row.trace.about)

    def note(self) -> None:
        """Write the chosen drift into the log as an open fault of its day."""
        row = self._row()
        if row is None or row.drift is None or row.trace is None:
            return
        job = self.session.shown.whole
        about = tuple(dict.fromkeys(thing for one in row.trace.about if (thing := thing_of(job, one))))
        entry = LogEntry(
            kind="fault", on=row.drift.on.isoformat(), words=row.drift.sentence, about=about, by=signed()[1]
        )
        self._say(
            self.session.apply(written(entry)) or tr("Written into the log as a fault of {on}.").format(on=row.on)
        )

    def commands(self) -> list[Command]:
        return [
            Command(tr("Open a recording…"), "", self._ask),
            Command(tr("Invent a year of readings with three drifts, and open it…"), "", self._ask_invented),
        ]

    def _ask_invented(self) -> None:
        from PySide6.QtWidgets import QFileDialog

        if self.session.shown.design.system.key:
            self._say(tr("The year is invented of the house: choose it on the left first."))
            return
        name, _ = QFileDialog.getSaveFileName(self, tr("An invented year"), "year.csv", "CSV (*.csv)")
        if name:
            self.invent(Path(name))

    def invent(self, path: Path) -> None:
        """Write a year of invented readings of this plant, three drifts in it, and open it: to see what this can do."""
        work = partial(_invented, self.session.shown.house, path)
        self.work(tr("Inventing a year"), work, self._invented, self._say)

    def _invented(self, found: Path | str) -> None:
        if isinstance(found, str):
            self._say(found)
        else:
            self.open(found)


def _under(above: Any, table: Any) -> Any:
    from PySide6.QtWidgets import QVBoxLayout, QWidget

    room = QWidget()
    column = QVBoxLayout(room)
    column.setContentsMargins(0, 0, 0, 0)
    column.addWidget(above)
    column.addWidget(table, 1)
    return room


def _whole(found: Any) -> list[str]:
    """Sun and efficiency of the whole recording, in sentences."""
    parts = []
    lit = [one for one in found.hours if one.clear_w > 1]
    if lit:
        share = sum(one.recorded_w for one in lit) / sum(one.clear_w for one in lit)
        parts.append(tr("Sun: {share:.0%} of a clear sky over all.").format(share=share))
        by_hour = ", ".join(f"{one.hour} h {one.ratio:.0%}" for one in lit if one.ratio == one.ratio)
        parts.append(tr("Sun by hour, of a clear sky: {hours}.").format(hours=by_hour))
    if found.loads:
        stretches = "; ".join(
            tr("{low:.0f} to {high:.0f} W {is_:.1%} ({model:.1%})").format(
                low=one.from_w, high=one.to_w, is_=one.recorded, model=one.model
            )
            for one in found.loads
        )
        parts.append(tr("Inverters by load (by the datasheet): {stretches}.").format(stretches=stretches))
    return parts


def _invented(design: Design, path: Path, progress: Tell) -> Path | str:
    from weighty_axle.plant.recording import write_demo_year

    if not design.job.inverters.units or not any(one.modules for one in design.roof.strings):
        return "A year can only be invented for a plant with inverters and strings."
    progress(0.1, tr("Clouds, loads, faults"))
    try:
        return write_demo_year(design, None, path)
    except OSError as error:
        return f"{path.name}: {error.strerror or error}"


def _looked(design: Design, path: Path, progress: Tell) -> tuple[Path, Layout, ColumnMap] | str:
    progress(0.3, path.name)
    try:
        layout = look_at(path)
    except RecordingError as error:
        return str(error)
    return path, layout, column_map(design, layout)


def _read(design: Design, path: Path, layout: Layout, columns: ColumnMap, progress: Tell) -> Any:
    from weighty_axle.answers.log.beside import beside_model
    from weighty_axle.answers.log.recording import read_recording

    try:
        recording = read_recording(path, layout, columns, progress)
        return beside_model(design, recording, columns, progress)
    except RecordingError as error:
        return str(error)
    except OSError as error:
        return f"{path.name}: {error.strerror or error}"
