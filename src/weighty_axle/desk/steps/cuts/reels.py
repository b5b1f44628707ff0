"""Reels: every reel and off-cut as a bar with what comes off it; cuts are ticked where they are cut."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import NamedTuple

from PySide6.QtCore import QRectF, Qt, Signal
from PySide6.QtGui import QBrush, QColor, QKeyEvent, QMouseEvent, QPainter, QPen

from weighty_axle.answers.cuts.reels import KindCut, OffPiece, ReelUse, nest
from weighty_axle.design.table import Design
from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.leaves import Leaf, TwoLines
from weighty_axle.desk.kit.painting import CENTRE, Canvas, words
from weighty_axle.desk.kit.signing import InitialsEntry
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.days import signed
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.build import cut_made
from weighty_axle.job.files.disk import UnreadableError
from weighty_axle.job.files.stock import Stock, StockError, read_stock, stock_file
from weighty_axle.job.models.build import CutDone
from weighty_axle.units import LENGTH, NUMBER, System, show

_BAR, _HEAD, _LEFT = 22, 20, 150
_GAP = 5


class Spot(NamedTuple):
    """A cut on its bar."""

    rect: QRectF
    kind: KindCut
    reel: ReelUse
    piece: OffPiece


class ReelsChart(Canvas):
    """Bars conductor by conductor, each to its own scale. Keys: arrows go from cut to cut, Return ticks one as cut."""

    turned = Signal(object)
    ticked = Signal(object)

    def __init__(self, system: System) -> None:
        super().__init__()
        self._system = system
        self.kinds: tuple[KindCut, ...] = ()
        self.known = False
        self.spots: list[Spot] = []
        self.at = ""
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Reels with what comes off them"))

    def put(self, kinds: tuple[KindCut, ...]) -> None:
        """Show kinds of conductor."""
        self.kinds, self.known = kinds, True
        self.setMinimumHeight(sum(_HEAD + max(1, len(one.reels)) * (_BAR + _GAP) for one in kinds) + 8)
        self.update()

    @property
    def chosen(self) -> Spot | None:
        """The cut that is turned to."""
        return next((one for one in self.spots if one.piece.tag == self.at), None)

    def draw(self, painter: QPainter) -> None:
        now = look()
        self.spots = []
        if not self.kinds:
            said = (
                tr("Nothing is left to cut.") if self.known else tr("What comes off which reel is being worked out …")
            )
            words(painter, QRectF(self.rect()), said, colour=now.muted, align=CENTRE)
            return
        y = 2.0
        for kind in self.kinds:
            said = kind.problem or self._said(kind)
            words(
                painter,
                QRectF(4, y, self.width() - 8, _HEAD - 2),
                f"{kind.words}: {said}",
                size=8.5,
                bold=True,
                colour=now.stop if kind.problem else now.ink,
            )
            y += _HEAD
            longest = max((use.length_m for use in kind.reels), default=1.0)
            scale = (self.width() - _LEFT - 12) / longest
            for use in kind.reels:
                self._bar(painter, kind, use, y, scale)
                y += _BAR + _GAP
            if not kind.reels:
                y += _BAR + _GAP

    def _said(self, kind: KindCut) -> str:
        bought, waste = (show(one.value, "m", self._system) for one in (kind.bought_m, kind.scrap_m))
        proof = (
            tr("nothing better exists")
            if kind.proven
            else tr("at most {gap} could be saved").format(gap=show(kind.gap_m, "m", self._system))
        )
        return tr("{bought} bought, {waste} waste; {proof}").format(bought=bought, waste=waste, proof=proof)

    def _bar(self, painter: QPainter, kind: KindCut, use: ReelUse, y: float, scale: float) -> None:
        now = look()
        words(painter, QRectF(4, y, _LEFT - 10, _BAR), use.name, size=8, colour=now.muted)
        x = float(_LEFT)
        painter.setPen(QPen(QColor(now.line), 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(QRectF(x, y, use.length_m * scale, _BAR))
        for piece in use.off:
            rect = QRectF(x, y, max(2.0, piece.cut_m * scale), _BAR)
            here = piece.tag == self.at
            painter.setPen(QPen(QColor(now.ink if here else now.paper), 2 if here else 1))
            painter.setBrush(QColor(now.live_soft))
            painter.drawRect(rect)
            if rect.width() > 26:
                words(painter, rect.adjusted(2, 0, -2, -10), piece.tag, size=7.5, align=CENTRE)
                words(
                    painter, rect.adjusted(2, 10, -2, 0), f"{piece.cut_m:.2f}", size=7, colour=now.muted, align=CENTRE
                )
            self.spots.append(Spot(rect, kind, use, piece))
            x += rect.width()
        rest = QRectF(x, y, max(0.0, _LEFT + use.length_m * scale - x), _BAR)
        if use.kept:
            left = tr("left {length}").format(length=show(use.left_m, "m", self._system))
            words(painter, rest, left, size=7.5, colour=now.muted, align=CENTRE)
        elif rest.width() > 1:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QBrush(QColor(now.check), Qt.BrushStyle.BDiagPattern))
            painter.drawRect(rest)

    def turn(self, tag: str) -> None:
        """Turn to a cut."""
        self.at = tag
        spot = self.chosen
        if spot is not None:
            self.setAccessibleDescription(f"{tag}, {spot.piece.cut_m:g} m, {spot.reel.name}")
            self.turned.emit(spot)
        self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.setFocus()
        spot = next((one for one in self.spots if one.rect.contains(event.position())), None)
        if spot is not None:
            self.turn(spot.piece.tag)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        self.mousePressEvent(event)
        if self.chosen is not None:
            self.ticked.emit(self.chosen)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = Qt.Key(event.key())
        tags = [one.piece.tag for one in self.spots]
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space) and self.chosen is not None:
            self.ticked.emit(self.chosen)
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Up, Qt.Key.Key_Down) and tags:
            by = 1 if key in (Qt.Key.Key_Right, Qt.Key.Key_Down) else -1
            at = tags.index(self.at) + by if self.at in tags else 0
            self.turn(tags[max(0, min(len(tags) - 1, at))])
        else:
            super().keyPressEvent(event)


_FIELDS = (
    Field("Usual reel", "build.reel_m", LENGTH),
    Field("Slack", "build.slack_share", NUMBER, help="share of the route"),
    Field("At each end", "build.end_m", LENGTH, help="bend and strip"),
    Field("Lost at a cut, mm", "build.kerf_mm", NUMBER),
    Field("Off-cuts kept from", "build.least_useful_m", LENGTH),
)


class ReelsLeaf(Leaf):
    """What all cuts are made with, the bars, the cut that is turned to."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.fields = Fields(session, system, _FIELDS, 5, whole=True)
        self.column.addWidget(self.fields)
        self.initials = InitialsEntry()
        self.row_of(("It is cut", self._tick_chosen), self.initials)
        self.presses["It is cut"].setObjectName("firm")
        self.said = TwoLines(bold=True)
        self.column.addWidget(self.said)
        self.chart = ReelsChart(system)
        self.chart.turned.connect(self._tell)
        self.chart.ticked.connect(self.tick)
        self.listen(self.chart)
        self.room = self.scrolled(self.chart)
        self.figures = self.figure_row()

    def show_shown(self, shown: Shown) -> None:
        self.fields.show_shown(shown)
        self.initials.put()
        stock, said = stock_or_why()
        self.said.setText(said or self.said.text())
        self.quietly((shown.house, len(stock.pieces)), partial(_nested, shown.house, stock), self._put)

    def _put(self, kinds: tuple[KindCut, ...] | None) -> None:
        if kinds is None:
            self.said.setText(tr("What comes off which reel could not be worked out."))
            return
        self.chart.put(kinds)
        bought = sum(kind.bought_m.value for kind in kinds)
        waste = sum(kind.scrap_m.value for kind in kinds)
        cuts = sum(len(use.off) for kind in kinds for use in kind.reels)
        self.said.setText(
            tr("{count} conductors to cut: {bought} to buy, {waste} of waste.").format(
                count=cuts, bought=show(bought, "m", self.system), waste=show(waste, "m", self.system)
            )
        )

    def _tell(self, spot: Spot) -> None:
        self.figures.put((spot.kind.bought_m, spot.kind.scrap_m))
        self.room.ensureVisible(int(spot.rect.left()), int(spot.rect.center().y()), 0, 40)
        self.session.select(spot.piece.tag.split(" ")[0])
        self.said.setText(
            tr("{tag}: cut {length} of {kind} off {reel}.").format(
                tag=spot.piece.tag, length=f"{spot.piece.cut_m:.2f} m", kind=spot.kind.words, reel=spot.reel.name
            )
        )

    def _tick_chosen(self) -> None:
        if self.chart.chosen is None:
            self.said.setText(tr("Select a cut first."))
        else:
            self.tick(self.chart.chosen)

    def tick(self, spot: Spot) -> None:
        """The cut is made, off the piece it stands on."""
        on, by = signed()
        done = CutDone(
            conductor=spot.piece.tag,
            size=spot.kind.sold_as,
            colour=spot.kind.colour,
            length_m=spot.piece.cut_m,
            on=on,
            by=by,
            piece=spot.reel.name,
        )
        self.said.setText(self.session.apply(cut_made(done)) or tr("{tag} is cut.").format(tag=spot.piece.tag))


def _nested(house: Design, stock: Stock, progress: Callable[[float, str], None]) -> tuple[KindCut, ...]:
    return nest(house, stock, progress)


def stock_or_why() -> tuple[Stock, str]:
    """The shop's stock, or none and the sentence of why."""
    try:
        return read_stock(stock_file()), ""
    except (StockError, UnreadableError, OSError) as error:
        return Stock(), str(error)
