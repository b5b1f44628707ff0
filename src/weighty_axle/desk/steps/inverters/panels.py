"""Panels: the way from inlet to circuit with what every feeder carries, the circuits as a table, loads put on them."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QComboBox, QHBoxLayout

from weighty_axle.answers.inverters.panel_proposals import circuits_for_loads
from weighty_axle.design.inverters.ac_wiring import LiveCircuit
from weighty_axle.design.inverters.panels import CircuitResult, PanelResult
from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.figures import FigureRow
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.painting import Canvas, bar, words
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.commands import Command
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import Edit, set_value
from weighty_axle.job.edits.inverters import add_circuit, add_inlet, add_panel, remove_part, set_leg, set_wiring
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.inverters import FROM_INVERTERS, IMPLIED_INLET, Panel
from weighty_axle.units import CURRENT, LENGTH, NUMBER, QuantityError, System, read_conductor, show

CircuitRow = tuple[LiveCircuit, CircuitResult]
_BOX_W, _BOX_H, _GAP = 168.0, 50.0, 8.0


class WayIn(Canvas):
    """Boxes from the inlets over selectors and inverters to panels; each line says what it carries and what it is.

    A press or the arrows choose a box.
    """

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("The way from the inlets to the panels"))
        session.selected.connect(self.update)

    def _columns(self) -> list[list[str]]:
        """Tags of boxes by how far they are from the inlet."""
        ac = self._session.shown.design.ac
        panels = {panel.tag: panel for panel in ac.panels}

        def depth(tag: str, seen: tuple[str, ...] = ()) -> int:
            if tag in seen:
                return 0
            if any(inlet.tag == tag for inlet in ac.inlets):
                return 0
            if tag == FROM_INVERTERS or any(unit.tag == tag for unit in ac.units):
                return 1 + depth(ac.fed_from, (*seen, tag))
            if tag in panels:
                return 1 + max((depth(feed, (*seen, tag)) for feed in ac.feeders(panels[tag])), default=0)
            return 1

        tags = (
            [inlet.tag for inlet in ac.inlets]
            + [selector.tag for selector in ac.selectors]
            + [FROM_INVERTERS]
            + list(panels)
        )
        columns: list[list[str]] = []
        for tag in tags:
            at = depth(tag)
            while len(columns) <= at:
                columns.append([])
            columns[at].append(tag)
        return [column for column in columns if column]

    def fit(self) -> None:
        """Be as high as the tallest column of boxes needs, within reason."""
        tallest = max(map(len, self._columns()))
        self.setFixedHeight(int(8 + min(tallest, 4) * (_BOX_H + _GAP)))
        self.update()

    def draw(self, painter: QPainter) -> None:
        columns = self._columns()
        pitch = min(_BOX_W + 90, (self.width() - 16 - _BOX_W) / max(1, len(columns) - 1)) if len(columns) > 1 else 0.0
        boxes: dict[str, QRectF] = {}
        for index, column in enumerate(columns):
            height = min(_BOX_H, (self.height() - 8) / len(column) - _GAP)
            for row, tag in enumerate(column):
                boxes[tag] = QRectF(
                    8 + index * pitch, 4 + row * (height + _GAP), min(_BOX_W, pitch - 12 if pitch else _BOX_W), height
                )
        self._lines(painter, boxes)
        for tag, box in boxes.items():
            self._box(painter, tag, box)

    def _lines(self, painter: QPainter, boxes: dict[str, QRectF]) -> None:
        now, ac = look(), self._session.shown.design.ac
        units = {unit.tag for unit in ac.units}
        pairs = [(ac.fed_from, FROM_INVERTERS)]
        pairs += [(ac.second_input, FROM_INVERTERS)] if ac.second_input else []
        for panel in ac.panels:
            pairs += [(FROM_INVERTERS if feed in units else feed, panel.tag) for feed in ac.feeders(panel)]
        painter.setPen(QPen(QColor(now.ink), 1.4))
        for start, end in pairs:
            if start in boxes and end in boxes:
                a, b = boxes[start], boxes[end]
                middle = (a.right() + b.left()) / 2
                points = (
                    QPointF(a.right(), a.center().y()),
                    QPointF(middle, a.center().y()),
                    QPointF(middle, b.center().y()),
                    QPointF(b.left(), b.center().y()),
                )
                painter.drawPolyline(points)

    def _box(self, painter: QPainter, tag: str, box: QRectF) -> None:
        now, design = look(), self._session.shown.design
        lit = tag in self._session.selection
        painter.setPen(QPen(QColor(now.live if lit else now.line), 2 if lit else 1.2))
        painter.setBrush(QColor(now.live_soft if lit else now.paper))
        painter.drawRect(box)
        name, second = self._said(tag)
        words(painter, box.adjusted(6, 2, -6, -box.height() / 2), name, size=8.5, bold=True)
        board = next((one for one in design.panels.panels if one.tag == tag), None)
        if board is None:
            words(painter, box.adjusted(6, box.height() / 2 - 2, -6, -2), second, size=8, colour=now.muted)
        else:
            panel = next(one for one in design.ac.panels if one.tag == tag)
            self._load(painter, box, panel, board)
        self.areas.append((box, tag))

    def _said(self, tag: str) -> tuple[str, str]:
        """Name of a box and what it is."""
        design = self._session.shown.design
        for inlet in design.ac.inlets:
            if inlet.tag == tag:
                return inlet.name, tr("{a}, {n} lines").format(a=show(inlet.amps, "A"), n=inlet.lines)
        for selector in design.ac.selectors:
            if selector.tag == tag:
                return selector.name, tr("at {position}").format(position=selector.now)
        for panel in design.ac.panels:
            if panel.tag == tag:
                return panel.name, ""
        through = max(design.panels.relays, key=lambda relay: relay.passes_a.value).passes_a
        return tr("{n} inverters").format(n=len(design.ac.units)), tr("relay passes {a}").format(
            a=show(through.value, "A")
        )

    def _load(self, painter: QPainter, box: QRectF, panel: Panel, board: PanelResult) -> None:
        now = look()
        most = 1.08 * max(board.feeder_a.value, panel.breaker_a, 1.0)
        over = board.feeder_a.value > min(panel.breaker_a, panel.bus_a)
        strip = QRectF(box.x() + 6, box.center().y() - 2, box.width() - 12, 7)
        bar(
            painter,
            strip,
            board.feeder_a.value / most,
            now.stop if over else now.steel,
            limit_share=panel.breaker_a / most,
        )
        text = tr("{a} of {b}, {size}").format(
            a=show(board.feeder_a.value, "A"), b=show(panel.breaker_a, "A"), size=panel.size
        )
        words(
            painter,
            QRectF(box.x() + 6, strip.bottom() + 3, box.width() - 12, 12),
            text,
            size=7.5,
            colour=now.stop if over else now.muted,
        )
        self.figures.append((box, board.feeder_a))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        tag = self.area_at(event.position())
        self._session.select(*((tag,) if tag else ()))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        order = [tag for column in self._columns() for tag in column]
        if event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Up, Qt.Key.Key_Down) and order:
            at = next((index for index, tag in enumerate(order) if tag in self._session.selection), -1)
            step = 1 if event.key() in (Qt.Key.Key_Right, Qt.Key.Key_Down) else -1
            self._session.select(order[(at + step) % len(order)])
        else:
            super().keyPressEvent(event)


def _feeders(job: Job) -> tuple[tuple[Any, str], ...]:
    ac = job.ac
    inlets = tuple((inlet.tag, inlet.name) for inlet in ac.inlets) or ((IMPLIED_INLET, tr("the inlet")),)
    return (
        (FROM_INVERTERS, tr("all inverters")),
        *inlets,
        *((selector.tag, selector.name) for selector in ac.selectors),
        *((panel.tag, panel.name) for panel in ac.panels),
        *((unit.tag, unit.tag) for unit in job.inverters.units),
    )


def _inputs(job: Job) -> tuple[tuple[Any, str], ...]:
    ac = job.ac
    named = (
        *((inlet.tag, inlet.name) for inlet in ac.inlets),
        *((selector.tag, selector.name) for selector in ac.selectors),
        *((panel.tag, panel.name) for panel in ac.panels),
    )
    return (("", tr("the first inlet")), *named)


def _size(_job: Job, path: str, text: Any) -> Edit:
    size = read_conductor(text)
    return set_value(path, size, f"{path.split('[')[1].split(']')[0]}: {size}")


def _wire(_job: Job, path: str, value: Any) -> Edit:
    return set_wiring(
        path,
        value,
        f"{path.split('[')[1].split(']')[0]}: {path.rpartition('.')[2].replace('_', ' ')} {value or tr('as usual')}",
    )


PANEL_FIELDS = (
    Field("Panel", "ac.panels[{tag}].name", str, wide=3),
    Field("Fed from", "ac.panels[{tag}].fed_from", _feeders, make=_wire, wide=2),
    Field(
        "Takes",
        "ac.panels[{tag}].line",
        (("", "every line"), ("L1", "L1 only"), ("L2", "L2 only"), ("L3", "L3 only")),
        make=_wire,
    ),
    Field("Feeder", "ac.panels[{tag}].size", str, make=_size),
    Field("Length", "ac.panels[{tag}].length_m", LENGTH, empty="drawn, or 2 m"),
    Field("Its breaker", "ac.panels[{tag}].breaker_a", CURRENT),
    Field("Bus", "ac.panels[{tag}].bus_a", CURRENT),
    Field("RCD, mA", "ac.panels[{tag}].rcd_ma", NUMBER),
    Field("Bonded for good", "ac.panels[{tag}].bonded", bool),
)


def _leg(job: Job, path: str, leg: Any) -> Edit:
    return set_leg(job, path.split("[")[1].split("]")[0], leg)


def _panels(job: Job) -> tuple[tuple[Any, str], ...]:
    return (("", tr("the first behind the inverters")), *((panel.tag, panel.name) for panel in job.ac.panels))


def _neutrals(job: Job) -> tuple[tuple[Any, str], ...]:
    return (("", tr("one of its own")), *((circuit.tag, circuit.name) for circuit in job.ac.circuits))


CIRCUIT_FIELDS = (
    Field("Circuit", "ac.circuits[{tag}].name", str, wide=3),
    Field("Panel", "ac.circuits[{tag}].panel", _panels, make=_wire, wide=2),
    Field(
        "Leg",
        "ac.circuits[{tag}].leg",
        tuple((leg, leg) for leg in ("open", "L1", "L2", "L3", "L1+L2", "L1+L2+L3")),
        make=_leg,
    ),
    Field("Pinned", "ac.circuits[{tag}].pinned", bool),
    Field("Breaker", "ac.circuits[{tag}].breaker_a", CURRENT),
    Field("Poles", "ac.circuits[{tag}].poles", int),
    Field("Wire", "ac.circuits[{tag}].size", str, make=_size),
    Field("Length", "ac.circuits[{tag}].length_m", LENGTH, empty="drawn, or 5 m"),
    Field("RCD, mA", "ac.circuits[{tag}].rcd_ma", NUMBER),
    Field("Sockets", "ac.circuits[{tag}].outlets", bool),
    Field("Neutral", "ac.circuits[{tag}].shares_neutral", _neutrals, wide=2),
)
INLET_FIELDS = (
    Field("Inlet", "ac.inlets[{tag}].name", str, wide=3),
    Field("Rated", "ac.inlets[{tag}].amps", CURRENT),
    Field("Lines", "ac.inlets[{tag}].lines", int),
)
INPUT_FIELDS = (
    Field("Inverters' input", "ac.inverters_fed_from", _inputs, wide=2),
    Field(
        "Second input",
        "ac.second_input",
        lambda job: (("", tr("none")), *((one.tag, one.name) for one in job.ac.inlets[1:])),
        wide=2,
    ),
)


class PanelsLeaf(Leaf):
    """Way in, fields of the chosen box, circuits, loads of the chosen circuit."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.row_of(
            ("Add a circuit", self._add_circuit),
            ("A circuit for every load", self._circuits),
            ("Add a panel", lambda: self._apply(add_panel())),
            ("Add an inlet", lambda: self._apply(add_inlet())),
            ("Remove", self._remove),
        )
        self.way = WayIn(session)
        self.column.addWidget(self.way)
        self.panel_fields = Fields(session, system, PANEL_FIELDS, len(PANEL_FIELDS))
        self.inlet_fields = Fields(session, system, INLET_FIELDS, len(INLET_FIELDS))
        self.circuit_fields = Fields(session, system, CIRCUIT_FIELDS, 6)
        self._said = SaidLine()
        self.model = Records(session, system, self._columns(), self._said.setText, self)
        self.table = table_view(self.model, tr("Circuits"), wide=7)
        self.table.selectionModel().currentRowChanged.connect(lambda *_: self._turn())
        self.column.addWidget(self.table, 3)
        self.column.addWidget(self._said)
        for fields in (self.panel_fields, self.inlet_fields, self.circuit_fields):
            self.column.addWidget(fields)
        put = QHBoxLayout()
        self.input = Fields(session, system, INPUT_FIELDS, 1)
        put.addWidget(self.input, 1)
        self.loads = QComboBox()
        self.loads.setAccessibleName(tr("Put a load on this circuit"))
        self.loads.activated.connect(self._put_load)
        self.loads.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        put.addWidget(self.loads, 2)
        self.figures = FigureRow(system)
        put.addWidget(self.figures, 3)
        self.column.addLayout(put)
        self.listen(self.way, self.figures)
        self.follow(self.table, self.model, lambda row: row[0].tag)
        session.selected.connect(self._on_selected)

    def _columns(self) -> tuple[Column, ...]:
        return (
            Column("Circuit", lambda row: row[0].name, None),
            Column("Panel", lambda row: row[0].panel, None),
            Column(
                "Leg", lambda row: "+".join(row[0].lines) if len(self.session.shown.design.ac.lines) > 1 else "–", None
            ),
            Column("Breaker", lambda row: row[0].circuit.breaker_a, CURRENT, self._breaker),
            Column("Draws", lambda row: row[1].running_a.value, CURRENT),
            Column("Wire", lambda row: row[0].circuit.size if row[0].stated else "–", None),
            Column("RCD", lambda row: f"{row[0].circuit.rcd_ma:g} mA" if row[0].circuit.rcd_ma else "–", None),
            Column("Loads", lambda row: ", ".join(self._names(row[0].loads)), None),
        )

    def _names(self, tags: tuple[str, ...]) -> list[str]:
        return [load.name for load in self.session.shown.job.loads if load.tag in tags]

    def _breaker(self, row: CircuitRow, amps: float) -> Edit:
        if not row[0].stated:
            raise QuantityError(tr("This load is on no circuit yet: press “A circuit for every load”."))
        return set_value(f"ac.circuits[{row[0].tag}].breaker_a", amps, f"{row[0].name}: breaker {amps:g} A")

    # ---- doing ----

    def _apply(self, edit: Edit) -> None:
        self._said.setText(self.session.apply(edit) or "")

    def _add_circuit(self) -> None:
        chosen = next(
            (
                tag
                for tag in self.session.selection
                if any(panel.tag == tag for panel in self.session.shown.job.ac.panels)
            ),
            "",
        )
        before = {one.tag for one in self.session.shown.job.ac.circuits}
        self._apply(add_circuit(chosen))
        made = {one.tag for one in self.session.shown.job.ac.circuits} - before
        # It may be refused, and a system without inverters shows none.
        for at in range(self.model.rowCount()):
            if self.model.record(at)[0].tag in made:
                self.table.selectRow(at)

    def _circuits(self) -> None:
        self._apply(circuits_for_loads(self.session.shown.design))

    def _remove(self) -> None:
        """The chosen box of the way in, or the chosen circuit."""
        ac = self.session.shown.job.ac
        boxes = (
            {inlet.tag for inlet in ac.inlets}
            | {panel.tag for panel in ac.panels}
            | {selector.tag for selector in ac.selectors}
            | {circuit.tag for circuit in ac.circuits}
        )
        tag = next((tag for tag in self.session.selection if tag in boxes), "")
        if tag:
            self._apply(remove_part(tag))

    def _row(self) -> CircuitRow | None:
        at = self.table.currentIndex().row()
        found: CircuitRow | None = self.model.record(at) if 0 <= at < self.model.rowCount() else None
        return found

    def _turn(self) -> None:
        row = self._row()
        self.loads.clear()
        if row is None or not row[0].stated:
            self.loads.setEnabled(False)
            self.loads.addItem(tr("choose a circuit to put a load on it"))
            self.figures.put(() if row is None else (row[1].running_a, row[1].drop_share))
            return
        self.session.select(row[0].tag)
        self.loads.setEnabled(True)
        self.loads.addItem(tr("put a load on {circuit}, or take one off…").format(circuit=row[0].name), "")
        for load in self.session.shown.job.loads:
            if not load.supply.startswith("DC"):
                self.loads.addItem(
                    tr("take {load} off").format(load=load.name) if load.circuit == row[0].tag else load.name, load.tag
                )
        self.figures.put(
            (row[1].running_a, *((row[1].copper_a,) if row[1].copper_a is not None else ()), row[1].drop_share)
        )

    def _put_load(self, index: int) -> None:
        tag, row = self.loads.itemData(index), self._row()
        if not tag or row is None:
            return
        load = next(one for one in self.session.shown.job.loads if one.tag == tag)
        circuit = "" if load.circuit == row[0].tag else row[0].tag
        label = f"{load.name} on {row[0].name}" if circuit else f"{load.name} off {row[0].name}"
        self._apply(set_value(f"loads[{tag}].circuit", circuit, label))

    def _on_selected(self) -> None:
        self._show_box(self.session.shown)

    def _show_box(self, shown: Shown) -> None:
        """Fields of the chosen panel, inlet or circuit."""
        chosen = set(self.session.selection)
        panel = next((one.tag for one in shown.job.ac.panels if one.tag in chosen), "")
        inlet = next((one.tag for one in shown.job.ac.inlets if one.tag in chosen), "")
        circuit = next((one.tag for one in shown.job.ac.circuits if one.tag in chosen), "")
        for fields, tag in ((self.panel_fields, panel), (self.inlet_fields, inlet), (self.circuit_fields, circuit)):
            fields.setVisible(bool(tag))
            if tag:
                fields.show_shown(shown, tag)

    def show_shown(self, shown: Shown) -> None:
        rows = tuple(zip(shown.design.circuits, shown.design.panels.circuits, strict=True))
        self.model.put(rows, shown.job.loads, shown.design.ac)
        self.presses["A circuit for every load"].setEnabled(
            any(not circuit.stated for circuit in shown.design.circuits)
        )
        self.input.show_shown(shown)
        self._show_box(shown)
        self._turn()
        self.way.fit()

    def commands(self) -> list[Command]:
        return [
            Command(tr("Make a circuit for every load"), "", self._circuits),
            Command(tr("Add a circuit"), "", self._add_circuit),
        ]
