"""The main DC runs as a tree along the current, and the candidates for the selected run."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QWidget

from weighty_axle.answers.wiring.abreast import sides_of
from weighty_axle.answers.wiring.losses import loss_a_year
from weighty_axle.answers.year.cost import price_of_run
from weighty_axle.design.conductors import conductor_area_mm2
from weighty_axle.design.wiring.choices import ConductorChoice, choice_name
from weighty_axle.design.wiring.runs import Run
from weighty_axle.desk.kit.painting import CENTRE, RIGHT, Canvas, words
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session
from weighty_axle.job.edits.edit import set_value
from weighty_axle.units import System, conductor_words, show

_AGAINST = {"": "fits", "next_up": "fits, fuse one up", "ampacity": "too thin for its fuse", "drop": "drops too much"}


class RunTree(Canvas):
    """Bank, main fuse and run, board, then a branch per unit; line width follows the copper.

    Up and down choose a run.
    """

    smooth = True

    def __init__(self, session: Session, system: System, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._system = session, system
        self.setMinimumHeight(122)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Main DC runs"))
        session.selected.connect(self.update)

    def chosen(self) -> Run:
        """The selected run; the main run when none is."""
        runs = self._session.shown.design.wiring.runs
        return next(
            (run for run in runs if run.tag in self._session.selection or run.end in self._session.selection), runs[0]
        )

    def draw(self, painter: QPainter) -> None:
        now, design = look(), self._session.shown.design
        main, *branches = design.wiring.runs
        row = min(54.0, (self.height() - 26) / max(1, len(branches)))
        middle = 4 + row * len(branches) / 2
        board_x = self.width() * 0.42
        self._node(painter, QRectF(4, middle - 22, 84, 44), tr("bank"), show(design.bank.lowest_working_v.value, "V"))
        drop_main = main.chosen.drop_v if main.chosen else 0.0
        self._run(painter, main, QPointF(88, middle), QPointF(board_x - 40, middle), label_above=True)
        at_board = design.bank.lowest_working_v.value - drop_main
        painter.setPen(QPen(QColor(now.ink), 6))
        painter.drawLine(QPointF(board_x - 40, 6), QPointF(board_x - 40, 2 + row * len(branches)))
        words(
            painter,
            QRectF(board_x - 100, 4 + row * len(branches), 120, 18),
            f"{main.end} {show(at_board, 'V')}",
            size=8.5,
            bold=True,
            align=CENTRE,
        )
        for index, run in enumerate(branches):
            y = 4 + row * (index + 0.5)
            self._run(painter, run, QPointF(board_x - 40, y), QPointF(self.width() - 112, y), label_above=False)
            volts = at_board - (run.chosen.drop_v if run.chosen else 0.0)
            beside = (
                show(volts, "V")
                if run.end in {unit.tag for unit in self._session.shown.job.inverters.units}
                else show(run.drop_share.value, "1")
            )
            self._node(painter, QRectF(self.width() - 110, y - row * 0.4, 106, row * 0.8), run.end, beside)

    def _node(self, painter: QPainter, rect: QRectF, name: str, value: str) -> None:
        painter.setPen(QPen(QColor(look().ink), 1.3))
        painter.setBrush(QColor(look().paper))
        painter.drawRoundedRect(rect, 3, 3)
        if rect.height() > 34:
            words(painter, rect.adjusted(0, 4, 0, -rect.height() / 2), name, size=9, bold=True, align=CENTRE)
            words(painter, rect.adjusted(0, rect.height() / 2 - 4, 0, 0), value, size=8.5, align=CENTRE)
        else:
            words(painter, rect.adjusted(6, 0, -50, 0), name, size=8.5, bold=True)
            words(painter, rect.adjusted(40, 0, -6, 0), value, size=8.5, align=RIGHT)

    def _run(self, painter: QPainter, run: Run, start: QPointF, end: QPointF, *, label_above: bool) -> None:
        now = look()
        lit = run is self.chosen()
        bad = run.chosen is None or run.chosen.against != ""
        area = conductor_area_mm2(run.chosen.size) * run.chosen.count if run.chosen else 1.0
        width = max(1.2, min(9.0, area**0.5 / 1.3))
        painter.setPen(
            QPen(
                QColor(now.stop if bad else now.live if lit else now.steel),
                width,
                Qt.PenStyle.DashLine if bad else Qt.PenStyle.SolidLine,
            )
        )
        painter.drawLine(start, end)
        fuse = QRectF(start.x() + 10, start.y() - 7, 50, 14)
        painter.setPen(QPen(QColor(now.ink), 1.1))
        painter.setBrush(QColor(now.paper))
        painter.drawRect(fuse)
        self.figures.append((QRectF(start.x() + 62, start.y() - 44, end.x() - start.x() - 62, 52), run.drop_share))
        self.figures.append((fuse, run.fuse_a))
        words(painter, fuse, show(run.fuse_a.value, "A"), size=7.5, align=CENTRE)
        size = conductor_words(choice_name(run.chosen)) if run.chosen else tr("no size fits")
        text = f"{run.tag}  {show(run.current_a.value, 'A')}  {size}  {show(run.length_m.value, 'm', self._system)}" + (
            tr("  own choice") if run.own_choice else ""
        )
        if label_above:
            box = QRectF(start.x() + 8, start.y() - 44, end.x() - start.x() - 8, 16)
            words(painter, box, f"{run.tag}  {show(run.current_a.value, 'A')}", size=8.5, bold=lit)
            words(
                painter,
                box.translated(0, 14),
                f"{size}  {show(run.length_m.value, 'm', self._system)}  −{show(run.drop_share.value, '1')}",
                size=8,
            )
        else:
            box = QRectF(start.x() + 66, start.y() - 8, end.x() - start.x() - 74, 16)
            metrics = painter.fontMetrics()
            ground = QRectF(box.x() - 3, box.y(), min(box.width(), metrics.horizontalAdvance(text) * 1.18 + 8), 16)
            painter.fillRect(ground, QColor(now.live_soft if lit else now.panel))
            words(painter, box, text, size=8.5, bold=lit)
        self.areas.append((QRectF(start.x(), start.y() - 18, end.x() - start.x(), 34), run.tag))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        tag = self.area_at(event.position())
        if tag:
            self._session.select(tag)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() not in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            super().keyPressEvent(event)
            return
        tags = [run.tag for run in self._session.shown.design.wiring.runs]
        at = tags.index(self.chosen().tag) + (1 if event.key() == Qt.Key.Key_Down else -1)
        self._session.select(tags[at % len(tags)])


_VERDICT, _LEAST_ROW = 0.75, 13.5
"""Where the verdict stands, and the least height of a row that can be read."""


class CandidateChart(Canvas):
    """Every size for the selected run: does its ampacity hold the fuse, does its drop stay allowed.

    Press one to choose it.
    """

    def __init__(self, session: Session, tree: RunTree, system: System) -> None:
        super().__init__()
        self._session, self._tree, self._system = session, tree, system
        self._at = 0
        self.setMinimumHeight(122)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Conductor sizes for the selected run"))

    def _offered(self) -> list[ConductorChoice]:
        """Single sizes, and pairs from where they are usual; the least sensible many-fold ones are left out."""
        run = self._tree.chosen()
        return (
            [candidate for candidate in run.candidates if candidate.count == 1 or candidate is run.chosen][-12:]
            if run.candidates
            else []
        )

    def draw(self, painter: QPainter) -> None:
        now, run = look(), self._tree.chosen()
        offered = self._offered()
        head = tr("{run}: fuse {fuse}, allowed drop {drop}").format(
            run=run.tag, fuse=show(run.fuse_a.value, "A"), drop=show(self._session.shown.job.wiring.drop_allowed, "1")
        )
        sides = sides_of(self._session.shown.design, run)
        if sides:
            shares = ", ".join(show(one.carries_a.value, "A") for one in sides)
            head += tr("; side by side as cut: {shares}").format(shares=shares)
        words(painter, QRectF(0, 0, self.width(), 16), head, size=9.5, bold=True)
        columns = (
            ("size", 0.0, 0.16),
            ("ampacity", 0.16, 0.12),
            ("drop", 0.28, 0.1),
            ("loss", 0.38, 0.1),
            ("loss a year", 0.48, 0.11),
            ("copper", 0.59, 0.09),
            ("price", 0.68, 0.07),
            ("", 0.76, 0.24),
        )
        for title, at, share in columns:
            words(
                painter,
                QRectF(at * self.width(), 18, share * self.width() - 8, 14),
                tr(title) if title else "",
                size=7.5,
                colour=now.muted,
                align=RIGHT if 0 < at < _VERDICT else Qt.AlignmentFlag.AlignLeft,
            )
        # Where not all have room, those around the chosen one are shown; the arrows bring the others.
        count = max(1, min(len(offered), int((self.height() - 34) / _LEAST_ROW)))
        row = min(19.0, (self.height() - 34) / count)
        middle = self._at if self.hasFocus() else next((i for i, o in enumerate(offered) if o is run.chosen), 0)
        first = max(0, min(middle - count // 2, len(offered) - count))
        for index, one in list(enumerate(offered))[first : first + count]:
            y = 33 + (index - first) * row
            chosen = one is run.chosen
            box = QRectF(0, y, self.width(), row)
            if chosen:
                painter.fillRect(box, QColor(now.live_soft))
            if self.hasFocus() and index == self._at:
                painter.setPen(QPen(QColor(now.live), 1.4))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawRect(box.adjusted(1, 0, -1, 0))
            year = loss_a_year(self._session.shown.design, run, one)
            price = price_of_run(self._session.shown.design, one, run.length_m.value)
            verdict = (
                tr(_AGAINST["next_up" if one.next_up and not one.against else one.against])
                + (tr(", chosen") if chosen else "")
                + (tr(" by hand") if chosen and run.own_choice else "")
            )
            cells = (
                conductor_words(choice_name(one)),
                show(one.ampacity_a, "A"),
                show(one.drop_share, "1"),
                show(one.loss_w, "W"),
                show(year.value, "Wh") if year is not None else "–",
                show(one.copper_kg, "kg", self._system),
                f"{price:.0f}" if price is not None else "–",
                verdict,
            )
            for (_, at, share), text in zip(columns, cells, strict=True):
                wrong = bool(one.against) and at > _VERDICT
                words(
                    painter,
                    QRectF(at * self.width() + (4 if at == 0 else 0), y, share * self.width() - 8, row),
                    text,
                    size=8.5,
                    bold=chosen,
                    colour=now.stop if wrong else now.ink,
                    align=RIGHT if 0 < at < _VERDICT else Qt.AlignmentFlag.AlignVCenter,
                )
            self.areas.append((box, str(index)))

    def _choose(self, index: int) -> None:
        run, one = self._tree.chosen(), self._offered()[index]
        self._session.apply(
            set_value(f"wiring.conductors[{run.tag}]", choice_name(one), f"Make {run.tag} {choice_name(one)}")
        )

    def mousePressEvent(self, event: QMouseEvent) -> None:
        area = self.area_at(event.position())
        if area:
            self._at = int(area)
            self._choose(self._at)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        count = len(self._offered())
        if event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down) and count:
            self._at = (self._at + (1 if event.key() == Qt.Key.Key_Down else -1)) % count
            self.update()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space) and count:
            self._choose(min(self._at, count - 1))
        else:
            super().keyPressEvent(event)
