"""Brief: what must run, when and together."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QButtonGroup, QPushButton, QScrollArea

from weighty_axle.desk.session import Session, Shown
from weighty_axle.desk.steps.brief.ribbons import Ribbons
from weighty_axle.desk.steps.brief.silhouette import Silhouette
from weighty_axle.desk.steps.view import StepView
from weighty_axle.desk.text import tr
from weighty_axle.desk.widgets.fields import Field, Fields
from weighty_axle.job.edits import add_load, next_tag, remove
from weighty_axle.job.model import Load, Pattern, Span, Supply
from weighty_axle.units import FRACTION, NUMBER, POWER, System

SUPPLIES = (
    ("L1", "leg L1"), ("L2", "leg L2"), ("L1+L2", "240 V, both legs"), ("leg_open", "leg open"), ("AC", "AC"), ("DC", "DC, bank"), ("DC_low", "DC, converter"),
)  # fmt: skip
LOAD_FIELDS = (
    Field("Name", "loads[{tag}].name", str, wide=2),
    Field("Supply", "loads[{tag}].supply", SUPPLIES),
    Field("How many", "loads[{tag}].count", int),
    Field("Running, each", "loads[{tag}].running_w", POWER),
    Field("Power factor", "loads[{tag}].power_factor", NUMBER),
    Field("Start, times", "loads[{tag}].start_multiple", NUMBER),
    Field("Duty", "loads[{tag}].duty", FRACTION),
    Field("Standby, each", "loads[{tag}].standby_w", POWER),
    Field("Must run", "loads[{tag}].must_run", bool),
)


class BriefView(StepView):
    """Ribbons over the silhouette; the chosen load's figures between them."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system, "Brief", "what must run, when, and together")
        self._days = QButtonGroup(self)
        for kind in session.shown.job.day_kinds:
            press = QPushButton(kind.name)
            press.setCheckable(True)
            press.setProperty("tag", kind.tag)
            self._days.addButton(press)
            self.head.addWidget(press)
        self._days.buttons()[0].setChecked(True)
        self._days.buttonClicked.connect(self._on_day)
        self.ribbons = Ribbons(session)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setWidget(self.ribbons)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._area = area
        self.column.addWidget(area, 60)
        self.figures = self.figure_row()
        add, take = QPushButton(tr("Add a load")), QPushButton(tr("Remove"))
        add.clicked.connect(self._add)
        take.clicked.connect(self._remove)
        self.figures.row.addWidget(add)
        self.figures.row.addWidget(take)
        self.fields = Fields(session, system, LOAD_FIELDS, 9)
        self.column.addWidget(self.fields)
        self.silhouette = Silhouette(session)
        self.column.addWidget(self.silhouette, 1)
        session.selected.connect(self._on_selected)

    def _on_day(self) -> None:
        tag = next(str(press.property("tag")) for press in self._days.buttons() if press.isChecked())
        self.ribbons.day_kind = self.silhouette.day_kind = tag
        self.show_shown(self.session.shown)

    def _on_selected(self, _tags: tuple[str, ...]) -> None:
        self._show_fields(self.session.shown)

    def _load(self, shown: Shown) -> str:
        loads = shown.job.loads
        return next((load.tag for load in loads if load.tag in self.session.selection), loads[0].tag if loads else "")

    def _show_fields(self, shown: Shown) -> None:
        self.fields.show_shown(shown, self._load(shown))

    def show_shown(self, shown: Shown) -> None:
        kinds = {kind.tag for kind in shown.job.day_kinds}
        if self.ribbons.day_kind not in kinds:
            self.ribbons.day_kind = self.silhouette.day_kind = shown.job.day_kinds[0].tag
        day = shown.design.brief.days[self.ribbons.day_kind]
        start = max((leg.start_va for leg in shown.design.inverters.legs), key=lambda one: one.value)
        self.figures.put((day.bank_energy_wh, day.no_load_energy_wh, day.peak_ac_w, start))
        self._show_fields(shown)
        self.ribbons.updateGeometry()
        self._area.setMaximumHeight(self.ribbons.sizeHint().height() + 2)
        self.ribbons.update()
        self.silhouette.update()

    def _add(self) -> None:
        job = self.session.shown.job
        tag = next_tag(job, "LD")
        supply: Supply = "AC" if job.inverters.stacking in ("single", "parallel") else "leg_open"
        patterns: dict[str, Pattern] = {self.ribbons.day_kind: (Span(9 * 60, 17 * 60, 1.0),)}
        self.session.apply(add_load(Load(tag=tag, name="New load", supply=supply, running_w=100.0, power_factor=1.0, patterns=patterns)))
        self.session.select(tag)

    def _remove(self) -> None:
        tag = self._load(self.session.shown)
        if tag:
            name = next(load.name for load in self.session.shown.job.loads if load.tag == tag)
            self.session.apply(remove(f"loads[{tag}]", name))
