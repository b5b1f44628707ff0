"""On board already: each piece, what becomes of it, and what feeds what afterwards."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QItemSelectionModel, QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPen
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QScrollArea

from weighty_axle.design.brief.equipment import KIND_WORDS
from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import Leaf, TwoLines
from weighty_axle.desk.kit.painting import Canvas, words
from weighty_axle.desk.kit.records import Column, Records, table_view
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tip, tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.brief import add_existing
from weighty_axle.job.edits.edit import remove, set_value
from weighty_axle.job.models.brief import Disposition, Existing
from weighty_axle.job.tags import next_tag
from weighty_axle.rules.brief.equipment import DISPOSITION_WORDS
from weighty_axle.units import CHARGE, VOLTAGE, System, show

KINDS = tuple(KIND_WORDS.items())
FED = (
    ("none", "nothing"),
    ("shore", "shore"),
    ("inverter", "an inverter"),
    ("alternator", "alternator"),
    ("tow_vehicle", "towing vehicle"),
    ("modules", "modules"),
    ("starter_battery", "starting battery"),
    ("house_battery", "house battery"),
    ("generator", "generator"),
)
TIES = (
    ("none", "nothing"),
    ("house_bank", "house bank"),
    ("starter_battery", "starting battery"),
    ("other_battery", "another battery"),
    ("loads", "loads"),
)
EXISTING_FIELDS = (
    Field("Piece", "existing[{tag}].name", str, wide=2),
    Field("Kind", "existing[{tag}].kind", KINDS, wide=2),
    Field("Volts", "existing[{tag}].nominal_v", VOLTAGE),
    Field("Or set to", "existing[{tag}].also_v", VOLTAGE, empty="no other"),
    Field("Fed from", "existing[{tag}].fed_from", FED),
    Field("Ties to", "existing[{tag}].ties_to", TIES),
    Field(
        "Chemistry", "existing[{tag}].chemistry", (("none", "none"), ("lead_acid", "lead-acid"), ("lithium", "lithium"))
    ),
    Field("Capacity", "existing[{tag}].capacity_ah", CHARGE),
    Field("Charges up to", "existing[{tag}].charge_max_v", VOLTAGE, empty="not a charger"),
    Field("Equalises", "existing[{tag}].equalises", bool),
    Field("May break", "existing[{tag}].rated_v", VOLTAGE, empty="no switch"),
    Field("Fused at its source", "existing[{tag}].fused", bool),
    Field("Has lithium settings", "existing[{tag}].can_reprogram", bool),
)
_DECISIONS: tuple[Disposition, ...] = ("keep", "reprogram", "isolate", "replace", "remove")
_FED_WORDS, _TIES_WORDS = dict(FED), dict(TIES)


class FeedsAfter(Canvas):
    """Consumer, what lies between, and the source, as lines to read from left to right."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.setAccessibleName(tr("What feeds what afterwards"))

    def sizeHint(self) -> QSize:
        return QSize(640, 24 + 34 * max(1, len(self._session.shown.design.equipment.feeds)))

    def minimumSizeHint(self) -> QSize:
        return QSize(400, self.sizeHint().height())

    def draw(self, painter: QPainter) -> None:
        now, feeds = look(), self._session.shown.design.equipment.feeds
        words(painter, QRectF(4, 0, 400, 20), tr("What feeds what afterwards"), size=9.5, bold=True)
        if not feeds:
            words(
                painter,
                QRectF(4, 22, self.width() - 8, 20),
                tr("Nothing found on board has to be fed."),
                size=9,
                colour=now.muted,
            )
        third = self.width() / 3
        for index, feed in enumerate(feeds):
            y = 24.0 + 34 * index
            lit = any(tag in self._session.selection for tag in feed.tags)
            painter.setPen(QPen(QColor(now.live if lit else now.steel), 2 if lit else 1.2))
            painter.drawLine(QPointF(third * 0.78, y + 10), QPointF(third * 0.98, y + 10))
            painter.drawLine(QPointF(third * 2.12, y + 10), QPointF(third * 2.3, y + 10))
            words(painter, QRectF(4, y, third * 0.76, 20), feed.source, size=8.5)
            words(painter, QRectF(third, y, third * 1.12, 20), feed.through, size=8.5, bold=True)
            words(painter, QRectF(third * 2.32, y, third * 0.66, 20), feed.consumer, size=8.5)
            words(painter, QRectF(third, y + 15, third * 1.9, 15), feed.mind, size=7.5, colour=now.muted)


class OnBoardLeaf(Leaf):
    """The list, the decision for the chosen piece, its facts, and the feeds afterwards."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self._findings: dict[str, list[str]] = {}
        head = QHBoxLayout()
        self._count = Label()
        self._count.setObjectName("muted")
        head.addWidget(self._count, 1)
        for text, do in ((tr("Add a piece"), self._add), (tr("Take off the list"), self._take)):
            press = QPushButton(text)
            press.clicked.connect(do)
            head.addWidget(press)
        self.column.addLayout(head)
        columns = (
            Column("Tag", lambda one: one.tag, None),
            Column("Piece", lambda one: one.name, None),
            Column(
                "Volts", lambda one: show(one.nominal_v, "V") if one.nominal_v % 1 else f"{one.nominal_v:.0f} V", None
            ),
            Column("Fed from", lambda one: tr(_FED_WORDS[one.fed_from]), None),
            Column("Ties to", lambda one: tr(_TIES_WORDS[one.ties_to]), None),
            Column("Decision", lambda one: tr(DISPOSITION_WORDS[one.disposition]), None),
            Column("Audit", self._audit, None),
        )
        self.model = Records(session, system, columns, self._say, self)
        self.table = table_view(self.model, tr("Equipment on board"), wide=1)
        self.table.selectionModel().currentRowChanged.connect(self._on_row)
        self.column.addWidget(self.table, 3)
        row = QHBoxLayout()
        row.addWidget(Label(tr("Decide:")))
        self._presses: dict[Disposition, QPushButton] = {}
        for disposition in _DECISIONS:
            word = DISPOSITION_WORDS[disposition]
            press = QPushButton(tr(word[0].upper() + word[1:]))
            press.setCheckable(True)
            press.setMinimumHeight(30)
            press.clicked.connect(partial(self._decide, disposition))
            self._presses[disposition] = press
            row.addWidget(press)
        row.addStretch(1)
        self.column.addLayout(row)
        self._said = TwoLines()
        self.column.addWidget(self._said)
        self.fields = Fields(session, system, EXISTING_FIELDS, 6)
        self.column.addWidget(self.fields)
        self.feeds = FeedsAfter(session)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        area.setWidget(self.feeds)
        self.column.addWidget(area, 2)

    def _audit(self, one: Existing) -> str:
        count = len(self._findings.get(one.tag, []))
        return tr("{n} to settle").format(n=count) if count else tr("settled")

    def _say(self, problem: str) -> None:
        self._said.setText(problem)

    def _chosen(self, shown: Shown) -> Existing | None:
        """The selected piece, or the first with something to settle."""
        existing = shown.job.existing
        first = next((piece for piece in existing if self._findings.get(piece.tag)), existing[0] if existing else None)
        return next((piece for piece in existing if piece.tag in self.session.selection), first)

    def show_shown(self, shown: Shown) -> None:
        self._findings = {}
        for finding in shown.findings:
            for tag in finding.tags:
                self._findings.setdefault(tag, []).append(f"{finding.sentence(self.system)} {finding.rule.advice}")
        self.model.put(shown.job.existing, shown.findings)
        unsettled = sum(piece.tag in self._findings for piece in shown.job.existing)
        self._count.setText(
            tr("{all} pieces, {open} with something to settle").format(all=len(shown.job.existing), open=unsettled)
        )
        one = self._chosen(shown)
        self.fields.setEnabled(one is not None)
        for press in self._presses.values():
            press.setEnabled(one is not None)
        if one is None:
            self._said.setText(
                tr(
                    "What is on board already? “Add a piece” for every battery, charger, link, controller, "
                    "inverter, breaker and panel found."
                )
            )
        else:
            self.fields.show_shown(shown, one.tag)
            for disposition, press in self._presses.items():
                press.setChecked(one.disposition == disposition)
            said = self._findings.get(one.tag, [])
            self._said.setToolTip(tip("\n".join(said)))
            self._said.setText(said[0] if said else tr("{piece}: nothing to say against it.").format(piece=one.name))
            row = shown.job.existing.index(one)
            if self.table.currentIndex().row() != row:
                flags = QItemSelectionModel.SelectionFlag.ClearAndSelect | QItemSelectionModel.SelectionFlag.Rows
                self.table.selectionModel().setCurrentIndex(self.model.index(row, 0), flags)
        self.feeds.updateGeometry()
        self.feeds.update()

    def _on_row(self) -> None:
        row = self.table.currentIndex().row()
        if 0 <= row < self.model.rowCount():
            self.session.select(self.model.record(row).tag)

    def _decide(self, disposition: Disposition) -> None:
        one = self._chosen(self.session.shown)
        if one is not None:
            word = DISPOSITION_WORDS[disposition]
            self.session.apply(
                set_value(f"existing[{one.tag}].disposition", disposition, f"{word[0].upper()}{word[1:]} {one.name}")
            )
            self.show_shown(self.session.shown)

    def _add(self) -> None:
        tag = next_tag(self.session.shown.whole, "equipment")
        self.session.apply(add_existing(Existing(tag=tag, name=tr("New piece"), kind="battery", nominal_v=12.0)))
        self.session.select(tag)

    def _take(self) -> None:
        one = self._chosen(self.session.shown)
        if one is not None:
            self.session.apply(remove(f"existing[{one.tag}]", one.name))
