"""The work area of one open job: rail, long section, the step on show, findings and workings, tell line."""

from __future__ import annotations

from collections.abc import Callable
from importlib import import_module
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QColor, QPaintEvent, QPen
from PySide6.QtWidgets import QHBoxLayout, QScrollArea, QStackedWidget, QVBoxLayout, QWidget

from weighty_axle.design.figures import Figure
from weighty_axle.desk.session import Session
from weighty_axle.desk.steps.view import LeafedView, StepView
from weighty_axle.desk.theme import look
from weighty_axle.desk.widgets.findings_panel import FindingsPanel
from weighty_axle.desk.widgets.painting import Canvas, painting
from weighty_axle.desk.widgets.rail import Rail
from weighty_axle.desk.widgets.section_strip import SectionStrip
from weighty_axle.desk.widgets.tell_line import TellLine
from weighty_axle.rules.registry import STEPS, Finding, Step
from weighty_axle.units import System

if TYPE_CHECKING:
    from weighty_axle.desk.widgets.workings_panel import WorkingsPanel


def _view_class(step: Step) -> Callable[[Session, System], StepView]:
    """View of a step, imported when it is first shown: the first screen pays only for itself."""
    module = import_module(f"weighty_axle.desk.steps.{step}.view")
    view: Callable[[Session, System], StepView] = getattr(module, f"{step.title()}View")
    return view


class _Right(QWidget):
    """Findings over workings, with a line to its left."""

    def paintEvent(self, _event: QPaintEvent) -> None:
        with painting(self) as painter:
            painter.fillRect(self.rect(), QColor(look().paper))
            painter.setPen(QPen(QColor(look().line), 1))
            painter.drawLine(0, 0, 0, self.height())


class Workbench(QWidget):
    """Built anew when another job is opened or the look changes."""

    step_changed = Signal(str)
    wants = Signal(str)
    works = Signal(object)

    def __init__(self, session: Session, system: System, step: Step) -> None:
        super().__init__()
        self.session, self.system = session, system
        self.views: dict[Step, StepView] = {}
        self._areas: dict[Step, QScrollArea] = {}
        self.rail = Rail(session)
        self.strip = SectionStrip(session, system)
        self.stack = QStackedWidget()
        self.findings = FindingsPanel(session, system)
        self._workings: WorkingsPanel | None = None
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
        self.step: Step = step
        self._folded = False
        self.show_step(step)

    @property
    def workings(self) -> WorkingsPanel:
        """The workings panel, made when first asked for."""
        if self._workings is None:
            from weighty_axle.desk.widgets.workings_panel import WorkingsPanel

            self._workings = WorkingsPanel(self.session, self.system)
            self._right_column.addWidget(self._workings, 4)
        return self._workings

    def view(self, step: Step) -> StepView:
        """The step's view, made when first asked for."""
        if step not in self.views:
            made = _view_class(step)(self.session, self.system)
            made.opened.connect(self.open_figure)
            made.wants.connect(self.wants)
            made.works.connect(self.works)
            for part in vars(made).values():
                if isinstance(part, Canvas):
                    part.opened.connect(self.open_figure)
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
        self.step = next(one for one in STEPS if one == step)
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
        """The leaf on show; empty on a step without leaves."""
        view = self.views[self.step]
        return view.leaf_name if isinstance(view, LeafedView) else ""

    def turn_to(self, leaf: str) -> None:
        """Bring a leaf of the step on show."""
        view = self.views[self.step]
        if leaf and isinstance(view, LeafedView):
            view.turn_to(leaf)

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
