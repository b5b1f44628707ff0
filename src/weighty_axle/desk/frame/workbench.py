"""The work area of one open job: rail, long section, the step on show, findings and workings, tell line."""

from __future__ import annotations

from functools import partial
from importlib import import_module
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QColor, QKeySequence, QPaintEvent, QPen, QShortcut
from PySide6.QtWidgets import QHBoxLayout, QScrollArea, QStackedWidget, QVBoxLayout, QWidget

from weighty_axle.design.figures import Figure
from weighty_axle.desk.frame.findings import FindingsPanel
from weighty_axle.desk.frame.rail import Rail
from weighty_axle.desk.frame.strip import SectionStrip
from weighty_axle.desk.frame.tell_line import TellLine
from weighty_axle.desk.kit.leaves import StepView
from weighty_axle.desk.kit.painting import painting
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.commands import Command
from weighty_axle.desk.work.session import Session
from weighty_axle.job.edits.edit import value_at
from weighty_axle.job.sheets import stated_paths
from weighty_axle.job.systems import systems
from weighty_axle.job.tags import stated_at, tagged
from weighty_axle.rules.registry import Finding
from weighty_axle.steps import STEPS, Step, shortcut, step_of
from weighty_axle.units import System

if TYPE_CHECKING:
    from weighty_axle.desk.frame.beginning import BeginningNote
    from weighty_axle.desk.frame.workings import WorkingsPanel
    from weighty_axle.desk.kit.sheet import SheetPanel
    from weighty_axle.reference.vehicle_types import VehicleType


def view_class(step: Step) -> type[StepView]:
    """Class of a step's view, imported when it is first asked for: the first screen pays only for itself."""
    module = import_module(f"weighty_axle.desk.steps.{step.key}.view")
    view: type[StepView] = getattr(module, step.view_class)
    return view


class _Right(QWidget):
    """Findings over workings, with a line to its left."""

    def paintEvent(self, _event: QPaintEvent) -> None:
        with painting(self) as painter:
            painter.fillRect(self.rect(), QColor(look().paper))
            painter.setPen(QPen(QColor(look().line), 1))
            painter.drawLine(0, 0, 0, self.height())


class Workbench(QWidget):
    """Built anew when another job is opened or the look changes. `wishes` carries an edit that a command asks for."""

    step_changed = Signal(str)
    wants = Signal(str)
    works = Signal(object)
    wishes = Signal(object)

    def __init__(self, session: Session, system: System, step: str) -> None:
        super().__init__()
        self.session, self.system = session, system
        self.views: dict[str, StepView] = {}
        self._areas: dict[str, QScrollArea] = {}
        self.rail = Rail(session)
        self.strip = SectionStrip(session, system)
        self.stack = QStackedWidget()
        self.findings = FindingsPanel(session, system)
        self._workings: WorkingsPanel | None = None
        self._sheet: SheetPanel | None = None
        self.tell = TellLine(session, system)
        right = _Right()
        right.setFixedWidth(292)
        right_column = QVBoxLayout(right)
        right_column.setContentsMargins(1, 0, 0, 0)
        right_column.setSpacing(0)
        right_column.addWidget(self.findings, 3)
        self._right_column = right_column
        lower = QHBoxLayout()
        lower.setSpacing(0)
        lower.addWidget(self.stack, 1)
        lower.addWidget(right)
        middle = QVBoxLayout()
        middle.setSpacing(0)
        self._middle = middle
        middle.addWidget(self.strip)
        middle.addLayout(lower, 1)
        upper = QHBoxLayout()
        upper.setSpacing(0)
        upper.addWidget(self.rail)
        upper.addLayout(middle, 1)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addLayout(upper, 1)
        column.addWidget(self.tell)
        self.rail.chosen.connect(self.show_step)
        self.tell.opened.connect(self.open_figure)
        self.strip.opened.connect(self.open_figure)
        self.findings.workings.connect(self.open_finding)
        self.findings.sheet.connect(self.open_sheet)
        self.beginning: BeginningNote | None = None
        session.sheet_asked.connect(self.open_sheet)
        QShortcut(QKeySequence("F2"), self, self.open_sheet)
        self.step = step
        self._folded = False
        self.show_step(step)
        if session.begun is not None:
            self._ask_beginning(session.begun)

    @property
    def workings(self) -> WorkingsPanel:
        """The workings panel, made when first asked for."""
        if self._workings is None:
            from weighty_axle.desk.frame.workings import WorkingsPanel

            self._workings = WorkingsPanel(self.session, self.system)
            self._right_column.addWidget(self._workings, 4)
        return self._workings

    def _ask_beginning(self, kind: VehicleType) -> None:
        """Ask what shapes a new job, above the long section."""
        from weighty_axle.desk.frame.beginning import BeginningNote

        self.beginning = note = BeginningNote(self.session, kind, self)
        note.done.connect(self._ask_no_more)
        note.decides_later.connect(self._compare_voltages)
        self._middle.insertWidget(0, note)

    def _ask_no_more(self) -> None:
        self.session.begun = None
        if self.beginning is not None:
            self.beginning.hide()

    def _compare_voltages(self) -> None:
        """The voltage is decided when the loads are known: where it is compared."""
        self._ask_no_more()
        self.show_step("bank")
        self.turn_to("Why 48 V")

    @property
    def sheet(self) -> SheetPanel:
        """The sheet panel, made when first asked for."""
        if self._sheet is None:
            from weighty_axle.desk.kit.sheet import SheetPanel

            self._sheet = SheetPanel(self.session, self.system)
            self._right_column.addWidget(self._sheet, 7)
            self.session.selected.connect(self._sheet_follows)
        return self._sheet

    def _sheet_follows(self, tags: tuple[str, ...]) -> None:
        """An open sheet turns to what is selected."""
        if tags and self._sheet is not None and self._sheet.isVisible():
            self.open_sheet(tags[0])

    def open_sheet(self, tag: str = "") -> None:
        """Open the sheet of a tagged thing; without one that of the selection, or of what the step is about."""
        where = stated_at(self.session.shown.whole)
        tag = tag or next((one for one in self.session.selection if one in where), "")
        step = self.step if self.step in type(self.session.shown.whole).__struct_fields__ else ""
        self.sheet.open_path(where.get(tag) or step)

    def _open_part(self, path: str) -> None:
        self.sheet.open_path(path)

    def view(self, step: str) -> StepView:
        """The step's view, made when first asked for."""
        if step not in self.views:
            made = view_class(step_of(step))(step_of(step), self.session, self.system)
            made.opened.connect(self.open_figure)
            made.wants.connect(self.wants)
            made.works.connect(self.works)
            self.views[step] = made
            # In a window too low for the step, it scrolls instead of squeezing.
            area = QScrollArea()
            area.setWidgetResizable(True)
            area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
            area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            area.setWidget(made)
            self._areas[step] = area
            self.stack.addWidget(area)
        return self.views[step]

    def show_step(self, step: str) -> None:
        """Bring a step on show."""
        self.step = step_of(step).key
        view = self.view(self.step)
        self.stack.setCurrentWidget(self._areas[self.step])
        # On Place the long section opens up to the working drawing; the strip would only repeat it.
        self.strip.setVisible(self.step != "place" and not self._folded)
        view.come_up()
        self.rail.choose(self.step)
        self.findings.show_step(self.step)
        self.step_changed.emit(self.step)

    @property
    def leaf_name(self) -> str:
        """The leaf on show."""
        return self.views[self.step].leaf_name

    def turn_to(self, leaf: str) -> None:
        """Bring a leaf of the step on show."""
        if leaf:
            self.views[self.step].turn_to(leaf)

    def fold_strip(self) -> None:
        """Fold the long section away, or back."""
        self._folded = not self._folded
        self.strip.setVisible(self.step != "place" and not self._folded)

    def open_figure(self, figure: Figure) -> None:
        """Open a figure's workings."""
        self.workings.open_figure(figure)

    def open_finding(self, finding: Finding) -> None:
        """Open what stands behind a finding."""
        self.workings.open_finding(finding)

    def commands(self) -> list[Command]:
        """Steps to go to, what the step on show offers, remedies, items and figures of the job."""
        shown = self.session.shown
        found = [
            Command(tr("Go to {step}").format(step=tr(step.title)), shortcut(at), partial(self.show_step, step.key))
            for at, step in enumerate(STEPS)
        ]
        found += self.view(self.step).commands()
        remedies = (remedy for finding in shown.findings for remedy in finding.remedies)
        found += [
            Command(tr("Put right: {label}").format(label=remedy.label), "", partial(self.wishes.emit, remedy))
            for remedy in remedies
        ]
        items = shown.design.items
        found += [
            Command(
                tr("Find {tag}: {name}").format(tag=item.tag, name=item.name),
                "",
                partial(self.session.select, item.tag),
            )
            for item in items
        ]
        found += [
            Command(
                tr("Sheet of {tag}").format(tag=f"{thing.tag} {getattr(thing, 'name', '')}".strip()),
                "",
                partial(self.open_sheet, thing.tag),
            )
            for _, thing in tagged(shown.whole)
        ]
        found += [
            Command(tr("Sheet: {title}").format(title=tr(field.title)), "", partial(self._open_part, path))
            for path, field in stated_paths(shown.whole)
            if field.form == "part" and "[" not in path and value_at(shown.whole, path) is not None
        ]
        found += [
            Command(tr("Show system: {name}").format(name=one.name), "", partial(self.session.show_system, one.key))
            for one in (systems(shown.whole) if shown.house.others else ())
        ]
        figures = (figure for _, figure in shown.design.figures())
        return found + [
            Command(tr("Workings: {name}").format(name=one.name), "", partial(self.open_figure, one)) for one in figures
        ]
