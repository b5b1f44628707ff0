"""Live: readings of a plant beside predictions, once a second; its settings read back, and put right unit by unit."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QTimer
from PySide6.QtGui import QHideEvent, QShowEvent
from PySide6.QtWidgets import QComboBox, QFileDialog, QLineEdit

from weighty_axle.answers.first_power.check import Check
from weighty_axle.answers.settings.sheet import all_settings
from weighty_axle.design.table import Design
from weighty_axle.desk.kit.boxes import number_box
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import Leaf, TwoLines
from weighty_axle.desk.kit.records import Column, Records, table_view
from weighty_axle.desk.kit.run_card import VERDICT_WORDS, band_words
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.asking import agrees
from weighty_axle.desk.work.background import Background, Task
from weighty_axle.desk.work.days import signed
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.plant.faults import KINDS, Fault, faults_of
from weighty_axle.units import System

if TYPE_CHECKING:
    from weighty_axle.plant.reader import Reader
    from weighty_axle.plant.registers import Live
    from weighty_axle.plant.server import PlantServer

EVERY_MS = 1000
Tell = Callable[[float, str], None]

_COLUMNS = (
    Column("Where", lambda row: tr(row.group), None),
    Column("What", lambda row: row.words, None),
    Column("Read", lambda row: f"{row.reading.value:.4g} {row.unit}" if row.reading is not None else "–", None),
    Column("Should be", lambda row: band_words(row), None),
    Column("", lambda row: tr(VERDICT_WORDS[row.verdict]), None),
)


class LiveLeaf(Leaf):
    """Where to read, what it says, what it means; a simulated plant to practise on."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.host = QLineEdit("127.0.0.1")
        self.host.setAccessibleName(tr("Host"))
        self.host.setMaximumWidth(150)
        self.port = number_box(tr("Port"), 5020, 1, 65535)
        self.fault = QComboBox()
        self.fault.setAccessibleName(tr("Fault that is planted"))
        self.row_of(self.fault, ("Simulated plant here", self.plant_here))
        self.row_of(self.host, self.port, ("Read", self.read), ("Stop", self.stop))
        self.row_of(
            ("Read the settings back", self.settings_back),
            ("Put settings right …", self.put_right),
            ("Record …", self.record),
        )
        self.told = TwoLines(bold=True)
        self.column.addWidget(self.told)
        self.model = Records(session, system, _COLUMNS, self.told.setText, self)
        self.table = table_view(self.model, tr("Readings"), wide=1)
        self.table.selectionModel().currentRowChanged.connect(self._tell)
        self.column.addWidget(self.table, 1)
        self.means = Label()
        self.means.setObjectName("stop")
        self.means.setWordWrap(True)
        self.column.addWidget(self.means)
        self.server: PlantServer | None = None
        self.reader: Reader | None = None
        self.record_to: Path | None = None
        self._busy = False
        self._faults: tuple[Fault, ...] | None = None
        self.link_work = Background(self)
        self.clock = QTimer(self)
        self.clock.setInterval(EVERY_MS)
        self.clock.timeout.connect(self.poll)

    def show_shown(self, shown: Shown) -> None:
        found = faults_of(shown.house)
        if found == self._faults:
            return
        self._faults = found
        self.fault.clear()
        self.fault.addItem(tr("no fault"), None)
        for one in found:
            self.fault.addItem(f"{tr(KINDS[one.kind].words)}: {one.place}", one)

    def hideEvent(self, event: QHideEvent) -> None:
        self.clock.stop()
        super().hideEvent(event)

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        if self.reader is not None:
            self.clock.start()

    # ---- who is read ----

    def plant_here(self) -> None:
        """Start a simulated plant of this design, running, and read it."""
        self.stop()
        chosen = self.fault.currentData()
        planted = (Fault(*chosen),) if chosen is not None else ()
        self.told.setText(tr("The plant is being started."))
        task = Task("", partial(_safely, partial(_started, self.session.shown.house, planted)), self)
        task.finished.connect(self._plant_is_here)
        self.link_work.start(task)

    def _plant_is_here(self, server: PlantServer | Exception) -> None:
        if isinstance(server, Exception):
            self.told.setText(str(server))
            return
        self.server = server
        self.port.setValue(server.port)
        self.host.setText("127.0.0.1")
        self.read()

    def read(self) -> None:
        """Begin to read, once a second; a host that is not this machine is asked about first."""
        from weighty_axle.plant.reader import Reader, is_loopback

        host = self.host.text().strip()
        question = tr("{host} is another machine. Read it? Nothing is written to it.").format(host=host)
        if not host or (not is_loopback(host) and not agrees(self, question)):
            return
        self._let_go()
        self.reader = Reader(host, int(self.port.value()))
        self.told.setText(tr("Reading {host}.").format(host=host))
        self.clock.start()
        self.poll()

    def stop(self) -> None:
        """Read no more; a simulated plant that was started here ends."""
        self._let_go()
        if self.server is not None:
            self.link_work.start(Task("", partial(_end, self.server), self))
            self.server = None
        self.told.setText(tr("Nothing is read."))

    def _let_go(self) -> None:
        self.clock.stop()
        if self.reader is not None:
            self.link_work.start(Task("", partial(_close, self.reader), self))
            self.reader = None

    # ---- what it says ----

    def _do(self, work: Callable[[Tell], Any], ended: Callable[[Any], None]) -> None:
        """Some work with the link, in the background; one piece at a time."""
        if self._busy:
            return
        self._busy = True

        def over(result: Any) -> None:
            self._busy = False
            if self.reader is None:
                return  # stopped meanwhile
            if isinstance(result, Exception):
                self.told.setText(str(result))
            else:
                ended(result)

        task = Task("", partial(_safely, work), self)
        task.finished.connect(over)
        task.failed.connect(lambda why: over(RuntimeError(why)))
        self.link_work.start(task)

    def poll(self) -> None:
        """Ask once; the answer comes later, however slow it is."""
        if self.reader is not None:
            self._do(partial(_all, self.reader, False), self._came)

    def _came(self, live: Live) -> None:
        from weighty_axle.plant.beside import beside, recorded, write_row

        found: tuple[Check, ...] = beside(self.session.shown.house, live)
        self.model.put(found)
        bad = [one for one in found if one.verdict == "bad"]
        who = live.common.get("Md") or self.host.text()
        said = tr("{who}: {n} readings, {bad} not as predicted.").format(who=who, n=len(found), bad=len(bad))
        self.told.setText(f"{said} {bad[0].thing}: {bad[0].says}." if bad else said)
        self._tell()
        if self.record_to is not None:
            try:
                write_row(self.record_to, datetime.now().isoformat(timespec="seconds"), recorded(live))
            except OSError as error:
                self.told.setText(tr("Not recorded: {why}").format(why=error.strerror or error))
                self.record_to = None

    def _tell(self) -> None:
        row = self.table.currentIndex().row()
        one = self.model.record(row) if 0 <= row < self.model.rowCount() else None
        self.means.setText(one.says if one is not None else "")

    def record(self) -> None:
        """Write every reading into a table from now on."""
        name, _ = QFileDialog.getSaveFileName(self, tr("Record into"), "readings-live.csv", tr("Tables (*.csv)"))
        if name:
            self.record_to = Path(name)
            self.told.setText(tr("Recorded into {path}.").format(path=self.record_to))

    # ---- settings ----

    def settings_back(self) -> None:
        """Read what units are set to; what differs from their sheets becomes findings."""
        if self.reader is None:
            self.told.setText(tr("Read something first."))
            return
        if self._busy:
            QTimer.singleShot(50, self.settings_back)
            return
        self._do(partial(_all, self.reader, True), self._settings_came)

    def _settings_came(self, live: Live) -> None:
        from weighty_axle.exports.tables.readings import take_readings
        from weighty_axle.plant.beside import settings_read
        from weighty_axle.plant.registers import NonsenseError

        house = self.session.shown.house
        try:
            found = settings_read(house, live)
        except NonsenseError as error:
            self.told.setText(str(error))
            return
        on, by = signed()
        problem = self.session.apply(take_readings(found, house, on, by))
        wrong = [one for one in all_settings(self.session.shown.house) if not one.done]
        said = tr("{n} settings were read back, {wrong} differ from their sheets.").format(
            n=len(found.read), wrong=len(wrong)
        )
        self.told.setText(problem or said)

    def put_right(self) -> None:
        """Write the sheet's values into the simulated plant, unit by unit, each after a question."""
        if self.reader is None or self.server is None:
            self.told.setText(tr("Only a simulated plant that was started here is written to."))
            return
        every = all_settings(self.session.shown.house)
        wrong = [one for one in every if one.entries and not one.done]
        for unit in dict.fromkeys(one.group for one in wrong):
            theirs = [one for one in wrong if one.group == unit]
            values = ", ".join(f"{one.words}: {one.shown}" for one in theirs)
            question = tr("Write into {unit}: {values}?").format(unit=unit, values=values)
            if agrees(self, question):
                pairs = tuple((one.key, one.said) for one in theirs)
                keys = tuple(one.key for one in every)
                self._do(partial(_write, self.reader, keys, pairs), self._written)
                return
        self.told.setText(tr("Nothing that was read back differs from its sheet.") if not wrong else "")

    def _written(self, said: str) -> None:
        self.told.setText(said)
        self.settings_back()


def _safely(work: Callable[[Tell], Any], tell: Tell) -> Any:
    """A link that fails is an answer, not an error of the program."""
    from weighty_axle.plant.reader import LinkError
    from weighty_axle.plant.registers import NonsenseError
    from weighty_axle.plant.server import NoServerError

    try:
        return work(tell)
    except (LinkError, NonsenseError, NoServerError) as error:
        return error


def _started(house: Design, planted: tuple[Fault, ...], _tell: Tell) -> PlantServer:
    from weighty_axle.plant.server import PlantServer
    from weighty_axle.plant.serving import running

    server = PlantServer(running(house, planted))
    server.start()
    return server


def _all(reader: Reader, with_settings: bool, _tell: Tell) -> Live:
    return reader.all(with_settings=with_settings)


def _end(server: PlantServer, _tell: Tell) -> None:
    server.stop()


def _close(reader: Reader, _tell: Tell) -> None:
    reader.close()


def _write(reader: Reader, keys: tuple[str, ...], pairs: tuple[tuple[str, str], ...], _tell: Tell) -> str:
    for key, said in pairs:
        reader.write_setting(key, keys, said)
    return tr("{n} settings were written and read back.").format(n=len(pairs))
