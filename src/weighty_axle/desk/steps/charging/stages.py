"""Stages: what feeds what at each stage of a conversion, what is dangerous at each, and what is next."""

from __future__ import annotations

from functools import partial
from typing import Any, NamedTuple

from msgspec.structs import replace
from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QScrollArea

from weighty_axle.design.charging.stages import StageBar, changes, stage_bars, stage_job, usual_stages
from weighty_axle.design.derive import derive
from weighty_axle.design.plainest import plainest
from weighty_axle.desk.kit.leaves import Leaf, TwoLines
from weighty_axle.desk.kit.painting import TOP, Canvas, severity_mark, words
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.commands import Command
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.checks.whole import problems
from weighty_axle.job.edits.edit import WHOLE, Edit
from weighty_axle.job.edits.sheet import add_entry
from weighty_axle.job.models.charging import Stage
from weighty_axle.job.models.document import Job
from weighty_axle.rules.judge import judge
from weighty_axle.rules.registry import Severity
from weighty_axle.units import System

_WIDE, _TOP = 250, 34


class StageShown(NamedTuple):
    """A stage with its bars, what is to be done before it, the findings that are its own and how many hold at every
    stage; `refused` says why it cannot be.
    """

    stage: Stage
    bars: tuple[StageBar, ...]
    before: tuple[str, ...]
    findings: tuple[tuple[Severity, str], ...]
    everywhere: int
    refused: str


def shown_stages(whole: Job, progress: Any) -> tuple[StageShown, ...]:
    """Every stage derived and judged; what is wrong at every stage anyway is only counted."""
    stages, made = usual_stages(whole), list[StageShown]()
    told: dict[str, list[tuple[Severity, str]]] = {}
    last = whole
    for at, stage in enumerate(stages):
        progress(at / len(stages), stage.name)
        job = stage_job(whole, stage)
        wrong = problems(job)
        if wrong:
            made.append(StageShown(stage, (), (), (), 0, wrong[0].message))
            continue
        told[stage.tag] = [
            (one.rule.severity, one.sentence()) for one in judge(derive(job)) if one.rule.severity != "note"
        ]
        made.append(StageShown(stage, stage_bars(job), changes(last, job) if at else (), (), 0, ""))
        last = job
    common = set.intersection(*({text for _, text in each} for each in told.values())) if len(told) > 1 else set[str]()
    return tuple(
        one
        if one.refused
        else one._replace(
            findings=tuple(each for each in told[one.stage.tag] if each[1] not in common), everywhere=len(common)
        )
        for one in made
    )


class StageStrip(Canvas):
    """A column a stage: bars with what feeds them and their loads, then what is wrong at this stage and not before."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.stages: tuple[StageShown, ...] = ()
        self.chosen = ""
        self.setAccessibleName(tr("Stages of the conversion"))

    def sizeHint(self) -> QSize:
        tallest = max((60 * len(one.bars) + 46 * min(6, len(one.findings)) + 40 for one in self.stages), default=100)
        return QSize(_WIDE * max(1, len(self.stages)) + 10, _TOP + 70 + tallest)

    def minimumSizeHint(self) -> QSize:
        return self.sizeHint()

    def draw(self, painter: QPainter) -> None:
        now = look()
        if not self.stages:
            text = tr("No stages: an either-or switch between two bars makes them, or add one.")
            words(painter, QRectF(4, 10, self.width(), 20), text, size=10, colour=now.muted)
            return
        wide = max(float(_WIDE), self.width() / len(self.stages))
        names = {load.tag: load.name for load in self._session.shown.whole.loads}
        for index, one in enumerate(self.stages):
            self._column(painter, one, QRectF(index * wide + 4, 2, wide - 10, self.height() - 6), index, names)

    def _column(self, painter: QPainter, one: StageShown, rect: QRectF, index: int, names: dict[str, str]) -> None:
        now = look()
        lit = one.stage.tag == self.chosen
        painter.setPen(QPen(QColor(now.live if lit else now.line), 2 if lit else 1))
        painter.setBrush(QColor(now.paper))
        painter.drawRect(rect)
        head = QRectF(rect.x() + 8, rect.y() + 4, rect.width() - 16, 20)
        words(painter, head, f"{index + 1}. {one.stage.name}", size=10.5, bold=True)
        self.areas.append((rect, one.stage.tag))
        y = rect.y() + _TOP
        line = QRectF(rect.x() + 8, y, rect.width() - 16, 26)
        if one.refused:
            words(painter, line.adjusted(0, 0, 0, 30), one.refused, size=8.5, colour=now.stop, wrap=True)
            return
        if one.before:
            words(painter, line, tr("To do: {what}").format(what="; ".join(one.before)), size=8, wrap=True)
        y += 28
        for bar in one.bars:
            painter.setPen(QPen(QColor(now.ink), 3))
            painter.drawLine(int(rect.x() + 8), int(y + 15), int(rect.right() - 8), int(y + 15))
            row = QRectF(rect.x() + 8, y, rect.width() - 16, 14)
            words(painter, row, f"{bar.tag} {bar.name} · {bar.bank}", size=8, bold=True)
            fed = tr("in: {tags}").format(tags=" ".join(bar.fed_by)) if bar.fed_by else tr("in: nothing")
            words(painter, row.translated(0, 18), fed, size=8, colour=now.muted)
            loads = ", ".join(names[tag] for tag in bar.loads)
            words(painter, row.translated(0, 32), tr("out: {loads}").format(loads=loads or tr("no DC loads")), size=8)
            y += 60
        for severity, text in one.findings[:6]:
            severity_mark(painter, QPointF(rect.x() + 14, y + 9), severity)
            words(painter, QRectF(rect.x() + 26, y, rect.width() - 34, 42), text, size=8, wrap=True, align=TOP)
            y += 46
        more = len(one.findings) - 6
        said = [tr("{count} more of its own").format(count=more)] if more > 0 else []
        said += [tr("{count} hold at every stage").format(count=one.everywhere)] if one.everywhere else []
        if not one.findings:
            said.insert(0, tr("nothing wrong that is this stage's own"))
        words(painter, QRectF(rect.x() + 8, y, rect.width() - 16, 14), "; ".join(said), size=8, colour=now.muted)
        y += 18
        if one.stage.left:
            words(painter, QRectF(rect.x() + 8, y, rect.width() - 16, 26), one.stage.left, size=8, wrap=True)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        tag = self.area_at(event.position())
        if tag:
            self.chosen = tag
            self.update()
        super().mousePressEvent(event)


class StagesLeaf(Leaf):
    """The strip, and presses to add a stage, to open its sheet, and to stand as it does."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.strip = StageStrip(session)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setWidget(self.strip)
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.column.addWidget(area, 1)
        self.said = TwoLines()
        self.column.addWidget(self.said)
        self.row_of(("Add a stage", self.add), ("Its sheet", self._sheet), ("Stand like this", self.stand))
        self.listen(self.strip)

    def add(self) -> None:
        """One more stage; the usual ones are stated first, so that they stay."""
        whole = self.session.shown.whole
        stated = whole if whole.stages else _stated(whole)

        def apply(job: Job) -> Job:
            base = job if job.stages else _stated(job)
            return add_entry("stages", plainest(Stage, base), "Stages").apply(base)

        made = plainest(Stage, stated)
        if not self.session.apply(Edit("Add a stage", apply, path="stages", system=WHOLE)):
            self.strip.chosen = str(getattr(made, "tag", ""))
            self.session.sheet_asked.emit(self.strip.chosen)

    def _sheet(self) -> None:
        if any(one.tag == self.strip.chosen for one in self.session.shown.whole.stages):
            self.session.sheet_asked.emit(self.strip.chosen)
        elif self.session.shown.whole.dc.switches:
            self.session.sheet_asked.emit(self.session.shown.whole.dc.switches[0].tag)

    def stand(self) -> None:
        """Turn the job's either-or switches as the chosen stage has them."""
        stage = next((one.stage for one in self.strip.stages if one.stage.tag == self.strip.chosen), None)
        if stage is None:
            self.said.setText(tr("Choose a stage first."))
            return

        def apply(job: Job) -> Job:
            switches = tuple(replace(one, now=stage.stands.get(one.tag, one.now)) for one in job.dc.switches)
            return replace(job, dc=replace(job.dc, switches=switches))

        self.session.apply(Edit(f"Switches as at {stage.name}", apply, path="dc.switches", system=WHOLE))

    def show_shown(self, shown: Shown) -> None:
        whole = shown.whole
        known = {one.tag for one in usual_stages(whole)}
        for press in self.presses.values():
            press.setEnabled(bool(known) or press is self.presses["Add a stage"])
        self.said.setText(
            tr("The trial bank and the old one are never joined: the switch is either-or.") if known else ""
        )
        if not known:
            self._put(())
        else:
            self.quietly((whole,), partial(_ask, whole), self._put)

    def _put(self, found: tuple[StageShown, ...] | None) -> None:
        self.strip.stages = found or ()
        if self.strip.chosen not in {one.stage.tag for one in self.strip.stages}:
            self.strip.chosen = self.strip.stages[0].stage.tag if self.strip.stages else ""
        self.strip.updateGeometry()
        self.strip.update()

    def commands(self) -> list[Command]:
        return [Command(tr("Add a stage of the conversion"), "", self.add)]


def _ask(whole: Job, progress: Any) -> tuple[StageShown, ...]:
    return shown_stages(whole, progress)


def _stated(job: Job) -> Job:
    """The job with its usual stages stated."""
    return replace(job, stages=usual_stages(job))
