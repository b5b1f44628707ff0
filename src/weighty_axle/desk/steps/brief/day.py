"""The day: ribbons over the silhouette, the chosen load's figures between them."""

from __future__ import annotations

import sys
from functools import partial
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QButtonGroup, QComboBox, QHBoxLayout, QPushButton, QScrollArea, QWidget

from weighty_axle.answers.brief.peaks import honest_peak
from weighty_axle.design.brief.seasons import SEASONS
from weighty_axle.design.figures import Figure
from weighty_axle.design.table import Design
from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.steps.brief.hours import Hours
from weighty_axle.desk.steps.brief.ribbons import Ribbons
from weighty_axle.desk.steps.brief.silhouette import Silhouette
from weighty_axle.desk.text import press_words, tr
from weighty_axle.desk.work.background import Background, Task
from weighty_axle.desk.work.commands import Command
from weighty_axle.desk.work.preferences import own_appliances_file
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.brief import add_load, copy_day
from weighty_axle.job.edits.edit import Edit, remove, set_value
from weighty_axle.job.models.brief import DayKind, Load, Pattern, Season, Span, Supply
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.inverters import LINES
from weighty_axle.job.tags import next_tag
from weighty_axle.units import DURATION, FRACTION, NUMBER, POWER, System, show

if TYPE_CHECKING:
    from weighty_axle.desk.kit.palette import CommandPalette
    from weighty_axle.desk.steps.brief.loads_in import LoadsIn
    from weighty_axle.exports.tables.loads_read import LoadsRead
    from weighty_axle.reference.appliances import Appliance

SUPPLIES = (
    ("leg_open", "leg open"),
    ("L1", "leg L1"),
    ("L2", "leg L2"),
    ("L3", "leg L3"),
    ("L1+L2", "across both legs"),
    ("L1+L2+L3", "three-phase"),
    ("AC", "AC, one line"),
    ("DC_12", "12 V DC"),
    ("DC_24", "24 V DC"),
    ("DC_48", "48 V DC"),
)
LOAD_FIELDS = (
    Field("Name", "loads[{tag}].name", str, wide=3),
    Field("Supply", "loads[{tag}].supply", SUPPLIES, wide=2),
    Field("How many", "loads[{tag}].count", int),
    Field("Running, each", "loads[{tag}].running_w", POWER),
    Field("Start, times", "loads[{tag}].start_multiple", NUMBER),
    Field("Duty", "loads[{tag}].duty", FRACTION),
    Field("Must run", "loads[{tag}].must_run", bool),
    Field("Waits", "loads[{tag}].waits", ((1, "at first"), (2, "then"), (3, "at last"))),
)


def _season_edit(season: str) -> Any:
    def make(_job: Job, path: str, value: float) -> Edit:
        tag = path.split("[")[1].split("]")[0]
        return set_value(path, value, f"{season.title()} of {tag}: {show(value, '1')}")

    return make


def _bars(job: Job) -> tuple[tuple[str, str], ...]:
    """DC bars a load can be a charger of."""
    boards = (job.wiring.board, *job.bars)
    return (("", tr("no bank")), *((one.tag, f"{one.tag} {one.name}") for one in boards))


MORE_FIELDS = (
    Field("Group", "loads[{tag}].group", str, wide=2),
    Field("Power factor", "loads[{tag}].power_factor", NUMBER),
    Field("Start lasts", "loads[{tag}].start_s", DURATION),
    Field("Cycle, min", "loads[{tag}].cycle_min", NUMBER),
    Field("Standby", "loads[{tag}].standby_w", POWER),
    *(
        Field(f"In {season}", f"loads[{{tag}}].seasons.{season}", FRACTION, make=_season_edit(season))
        for season in SEASONS
    ),
    Field("Charges", "loads[{tag}].charges", _bars),
    Field("Values from", "loads[{tag}].note", str, wide=2),
)


class DayLeaf(Leaf):
    """Kinds of day and season on top, then ribbons, fields, silhouette."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        row = QHBoxLayout()
        row.setSpacing(4)
        # Many kinds of day, or a narrow window: first the presses that the menu has too give way, then the kinds scroll
        # sideways.
        self._holder = QWidget()
        self._kinds_row = QHBoxLayout(self._holder)
        self._kinds_row.setContentsMargins(0, 0, 0, 0)
        self._kinds_row.setSpacing(4)
        self._kinds_row.addStretch(1)
        self._kinds_area = QScrollArea()
        self._kinds_area.setWidgetResizable(True)
        self._kinds_area.setWidget(self._holder)
        self._kinds_area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._kinds_area.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._kinds_area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        row.addWidget(self._kinds_area, 1)
        self._kinds_area.setMinimumWidth(120)
        self._kinds_area.setFixedHeight(QPushButton("x").sizeHint().height() + 2)
        self._days = QButtonGroup(self)
        self._days.buttonClicked.connect(self._on_day)
        self.season = QComboBox()
        self.season.setAccessibleName(tr("Season"))
        self.season.addItem(tr("worst season"), None)
        for season in SEASONS:
            self.season.addItem(tr(season), season)
        self.season.activated.connect(self._on_season)
        add, take, self._more = self._doing = (
            QPushButton(tr("Add a load")),
            QPushButton(tr("Remove")),
            QPushButton(tr("More…")),
        )
        add.clicked.connect(self.add)
        take.clicked.connect(self._remove)
        self._more.clicked.connect(self._open_menu)
        self.season.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.season.setMinimumContentsLength(10)
        self.season.setMinimumWidth(80)
        for part in (self.season, add, take, self._more):
            row.addWidget(part)
        self.column.addLayout(row)
        hours = Hours()
        self.ribbons = Ribbons(session, hours)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setWidget(self.ribbons)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._area = area
        self.column.addWidget(area, 60)
        self.fields = Fields(session, system, LOAD_FIELDS, len(LOAD_FIELDS))
        self.more_fields = Fields(session, system, MORE_FIELDS, len(MORE_FIELDS))
        self.more_fields.hide()
        self.column.addWidget(self.fields)
        self.column.addWidget(self.more_fields)
        self._said = Label()
        self._said.setObjectName("muted")
        self._said.setWordWrap(True)
        self._said.hide()
        self.column.addWidget(self._said)
        self.silhouette = Silhouette(session, hours)
        self.column.addWidget(self.silhouette, 1)
        self.listen(self.silhouette)
        self.ribbons.zoomed.connect(self._on_zoomed)
        self._finder: CommandPalette | None = None
        self._incoming: LoadsIn | None = None
        self._kinds: tuple[DayKind, ...] = ()
        self._show_kinds(session.shown.job)
        # Honest peaks need numpy, which the first screen does not wait for.
        if "numpy" in sys.modules:
            self.silhouette.ready = True
        else:
            self.silhouette.stands.connect(self._on_stands, Qt.ConnectionType.SingleShotConnection)

    def _on_stands(self) -> None:
        QTimer.singleShot(300, self, self._fetch_numpy)

    def _fetch_numpy(self) -> None:
        task = Task("numpy", lambda _progress: _import_numpy(), self)
        task.finished.connect(self._on_numpy)
        self._numpy = Background(self)
        self._numpy.start(task)

    def _on_numpy(self) -> None:
        self.silhouette.ready = True
        self.silhouette.update()
        self._draw_peak()

    def _draw_peak(self) -> None:
        """Have the honest peak of what is on show worked out once the hand rests."""
        if self.silhouette.ready:
            design, kind, season = self.session.shown.design, self.silhouette.day_kind, self.silhouette.season
            self.quietly(
                (design, kind, season or ""),
                partial(honest_peak, design, kind, season),
                partial(self._on_peak, design, kind, season),
            )

    def _on_peak(self, design: Design, kind: str, season: Season | None, peak: Figure | None) -> None:
        if peak is not None:
            self.silhouette.put_peak(design, kind, season, peak)

    # ---- kinds of day and seasons ----

    @property
    def kind(self) -> DayKind:
        """The kind of day on show."""
        return next(kind for kind in self.session.shown.job.day_kinds if kind.tag == self.ribbons.day_kind)

    def _show_kinds(self, job: Job) -> None:
        if job.day_kinds == self._kinds:
            return
        self._kinds = job.day_kinds
        for press in self._days.buttons():
            self._days.removeButton(press)
            press.deleteLater()
        for index, kind in enumerate(job.day_kinds):
            press = QPushButton(press_words(kind.name))
            press.setCheckable(True)
            press.setProperty("tag", kind.tag)
            self._days.addButton(press)
            self._kinds_row.insertWidget(index, press)
        if self.ribbons.day_kind not in {kind.tag for kind in job.day_kinds}:
            self.ribbons.day_kind = self.silhouette.day_kind = job.day_kinds[0].tag
        for press in self._days.buttons():
            press.setChecked(press.property("tag") == self.ribbons.day_kind)

    def _on_day(self, press: QWidget) -> None:
        self._kinds_area.ensureWidgetVisible(press, 4, 0)
        self.ribbons.day_kind = self.silhouette.day_kind = str(press.property("tag"))
        self.show_shown(self.session.shown)

    def _on_season(self) -> None:
        season: Season | None = self.season.currentData()
        self.ribbons.season = self.silhouette.season = season
        self.show_shown(self.session.shown)

    def _on_zoomed(self) -> None:
        self._fit()
        self.silhouette.update()

    # ---- showing ----

    def _load(self, shown: Shown) -> str:
        loads = shown.job.loads
        return next((load.tag for load in loads if load.tag in self.session.selection), loads[0].tag if loads else "")

    def show_shown(self, shown: Shown) -> None:
        self._show_kinds(shown.job)
        tag = self._load(shown)
        self.fields.show_shown(shown, tag)
        if not self.more_fields.isHidden():
            self.more_fields.show_shown(shown, tag)
        self._fit()
        self.ribbons.show_job(shown.job)
        self.silhouette.show_design(shown.design)
        self._draw_peak()
        # Rows that have just come are laid out first.
        QTimer.singleShot(0, self, self._bring_into_sight)

    def _bring_into_sight(self) -> None:
        load = next((one for one in self.session.shown.job.loads if one.tag in self.session.selection), None)
        if load is not None and load in self.ribbons.lines():
            self._area.ensureVisible(0, int(self.ribbons.row_y(load.tag)) + 10, 0, 24)

    def _fit(self) -> None:
        whole = sum(part.sizeHint().width() + 4 for part in (self._holder, self.season, *self._doing))
        for press in self._doing[:2]:
            press.setVisible(whole <= self.width())
        self.ribbons.updateGeometry()
        self._area.setMaximumHeight(self.ribbons.sizeHint().height() + 2)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._fit()

    def _say(self, text: str) -> None:
        self._said.setText(text)
        self._said.setVisible(bool(text))

    # ---- loads ----

    def add(self) -> None:
        """Find an appliance by a few letters and add it."""
        if self._finder is None:
            from weighty_axle.desk.kit.palette import CommandPalette

            self._finder = CommandPalette(self.window(), self._offered, "Add a load: kettle, fridge, air conditioner")
            self.destroyed.connect(self._finder.deleteLater)  # it hangs on the window, what it offers on this leaf
        self._finder.open()

    def _offered(self) -> list[Command]:
        from weighty_axle.reference.appliances import appliances, read_own

        try:
            own = read_own(own_appliances_file())
            self._say("")
        except ValueError as error:
            own = ()
            self._say(str(error))
        blank = Command(tr("An empty load, to be typed"), "", self._add_blank)
        shipped = [row for row in appliances().rows if row.name not in {mine.name for mine in own}]
        return [blank] + [self._offer(one, tr("own")) for one in own] + [self._offer(one, one.group) for one in shipped]

    def _offer(self, one: Appliance, beside: str) -> Command:
        return Command(f"{one.name}, {show(one.running_w, 'W')} ({beside})", "", partial(self.add_appliance, one))

    def add_appliance(self, one: Appliance) -> None:
        """Add a load from the library, painted for the middle of the day (all day when it must run)."""
        from weighty_axle.reference.appliances import load_of

        job = self.session.shown.job
        patterns: dict[str, Pattern] = (
            {kind.tag: (Span(0, 1440, 1.0),) for kind in job.day_kinds if kind.use != "stored"}
            if one.must_run
            else {self.kind.tag: _MIDDAY}
        )
        self._put(load_of(one, next_tag(self.session.shown.whole, "load"), job.inverters, patterns=patterns))

    def _add_blank(self) -> None:
        job = self.session.shown.job
        supply: Supply = "leg_open" if len(LINES[job.inverters.stacking]) > 1 else "AC"
        self._put(
            Load(
                tag=next_tag(self.session.shown.whole, "load"),
                name="New load",
                supply=supply,
                running_w=100.0,
                power_factor=1.0,
                patterns={self.kind.tag: _MIDDAY},
            )
        )

    def _apply(self, edit: Edit) -> None:
        self._say(self.session.apply(edit) or "")

    def _put(self, load: Load) -> None:
        self._apply(add_load(load))
        self.session.select(load.tag)

    def _remove(self) -> None:
        tag = self._load(self.session.shown)
        if tag:
            name = next(load.name for load in self.session.shown.job.loads if load.tag == tag)
            self.session.apply(remove(f"loads[{tag}]", name))

    def _keep(self) -> None:
        from weighty_axle.reference.appliances import appliance_of, keep_own

        tag = self._load(self.session.shown)
        load = next(one for one in self.session.shown.job.loads if one.tag == tag)
        try:
            keep_own(own_appliances_file(), appliance_of(load))
            self._say(tr("{name} is kept among your own appliances, for later jobs.").format(name=load.name))
        except (OSError, ValueError) as error:
            self._say(tr("{name} was not kept: {why}").format(name=load.name, why=error))

    # ---- more ----

    def commands(self) -> list[Command]:
        job, kind = self.session.shown.job, self.kind
        tag = self._load(self.session.shown)
        found = [Command(tr("Add a load…"), "", self.add)]
        if tag:
            name = next(load.name for load in job.loads if load.tag == tag)
            others = [one for one in job.day_kinds if one.tag != kind.tag]
            found += [
                Command(
                    tr("Fewer details of the load")
                    if not self.more_fields.isHidden()
                    else tr("All details of the load"),
                    "",
                    self._toggle_more,
                )
            ]
            found += [
                Command(
                    tr("Copy {load} to {day}").format(load=name, day=one.name),
                    "",
                    partial(self._apply, copy_day(kind, one, (tag,))),
                )
                for one in others
            ]
            found += [
                Command(
                    tr("Copy the whole {day} to {other}").format(day=kind.name, other=one.name),
                    "",
                    partial(self._apply, copy_day(kind, one)),
                )
                for one in others
            ]
            found += [
                Command(tr("Mirror {load} about noon").format(load=name), "M", self.ribbons.mirror),
                Command(tr("Copy the ribbon of {load}").format(load=name), "C", self.ribbons.copy),
                Command(tr("Put the copied ribbon on {load}").format(load=name), "V", self.ribbons.put),
                Command(tr("Shift {load} up").format(load=name), "Alt+Up", partial(self.ribbons.shift, -1)),
                Command(tr("Shift {load} down").format(load=name), "Alt+Down", partial(self.ribbons.shift, 1)),
                Command(tr("Keep {load} for later jobs").format(load=name), "", self._keep),
                Command(tr("Remove {load}").format(load=name), "", self._remove),
            ]
        found += [
            Command(tr("Draw the cycling loads anew"), "", self._draw_anew),
            Command(tr("Look at the whole day"), "Home", partial(self.ribbons.zoom, 24.0, 0.0)),
            Command(tr("Look closer"), "Ctrl++", partial(self.ribbons.zoom, 0.5, 720.0)),
        ]
        return found

    def _open_menu(self) -> None:
        from PySide6.QtWidgets import QMenu

        menu = QMenu(self)
        tables = [
            Command(tr("Take in loads from a table…"), "", partial(self.wants.emit, "loads in")),
            Command(tr("Write the loads as a table…"), "", partial(self.wants.emit, "loads out")),
        ]
        for command in self.commands() + tables:
            menu.addAction(f"{command.words}\t{command.key}" if command.key else command.words, command.do)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        menu.popup(self._more.mapToGlobal(self._more.rect().bottomLeft()))

    def _toggle_more(self) -> None:
        self.more_fields.setVisible(self.more_fields.isHidden())
        self.show_shown(self.session.shown)

    def _draw_anew(self) -> None:
        """Another draw of on and off times, by its next name."""
        stem, _, number = self.session.shown.job.draw.rpartition(" ")
        name = f"{stem} {int(number) + 1}" if stem and number.isdigit() else f"{self.session.shown.job.draw} 2"
        self.session.apply(set_value("draw", name[-80:], f"Draw the cycling loads anew: {name}"))

    # ---- a table taken in ----

    def show_read(self, read: LoadsRead, name: str) -> None:
        """What a table holds, above the ribbons, until it is taken in or left."""
        if self._incoming is None:
            from weighty_axle.desk.steps.brief.loads_in import LoadsIn

            self._incoming = LoadsIn(self.session, self.system)
            self.column.insertWidget(0, self._incoming)
        self._incoming.put(read, name)


_MIDDAY: Pattern = (Span(9 * 60, 17 * 60, 1.0),)


def _import_numpy() -> None:
    import numpy  # noqa: F401  # only to have it loaded
