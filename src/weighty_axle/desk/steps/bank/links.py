"""The bank as it is linked: six ways to take current off, and every pack's share at a load."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPen

from weighty_axle.design.bank.links import TAKE_OFF_WORDS, PackState, Sharing, sharing
from weighty_axle.desk.kit.painting import CENTRE, RIGHT, Canvas, words
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session
from weighty_axle.job.edits.edit import set_value
from weighty_axle.job.models.bank import Bank, Links, TakeOff
from weighty_axle.units import NBSP, digits, show

WAYS: tuple[TakeOff, ...] = ("bar_equal", "groups", "opposite_ends", "middle", "bar_unequal", "same_end")


def states(bank: Bank) -> tuple[PackState, ...]:
    """Packs as sharing sees them."""
    return tuple(PackState(tag=pack.tag, resistance_factor=pack.resistance_factor, out=pack.out) for pack in bank.packs)


def every_way(bank: Bank, *, links_known: bool) -> dict[TakeOff, Sharing]:
    """Sharing of this bank linked in every way."""
    links = bank.links if links_known else Links()
    return {way: sharing(bank.spec, bank.series, states(bank), links, way) for way in WAYS}


class TakeOffs(Canvas):
    """One tile per way of linking: a sketch of where the terminals are, and the busiest pack over the mean.

    One press changes it. `found` is every way worked out, of the bank `found_of`; until that follows the bank on show,
    only the way it is linked has its number.
    """

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.found: dict[TakeOff, Sharing] = {}
        self.found_of: object = None
        self.setFixedHeight(64)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Ways of linking the packs"))

    def draw(self, painter: QPainter) -> None:
        now, bank = look(), self._session.shown.job.bank
        spreads = {bank.links.take_off: self._session.shown.design.bank.sharing.spread}
        if self.found_of is bank:
            spreads |= {way: shared.spread for way, shared in self.found.items()}
        width = self.width() / len(WAYS)
        for index, way in enumerate(WAYS):
            spread = spreads.get(way)
            rect = QRectF(index * width + 2, 2, width - 4, 60)
            chosen = way == bank.links.take_off
            painter.setPen(QPen(QColor(now.live if chosen else now.line), 2 if chosen else 1))
            painter.setBrush(QColor(now.live_soft if chosen else now.paper))
            painter.drawRect(rect)
            self._sketch(painter, QRectF(rect.x() + 8, rect.y() + 6, 42, 22), way)
            over = f"+{digits(100 * (spread - 1), 1)}{NBSP}%" if spread is not None else "…"
            words(
                painter,
                QRectF(rect.x() + 52, rect.y() + 4, rect.width() - 58, 18),
                over,
                size=10,
                bold=True,
                align=RIGHT,
                colour=now.check if spread is not None and spread > 1.1 else now.ink,
            )
            words(
                painter,
                QRectF(rect.x() + 52, rect.y() + 20, rect.width() - 58, 13),
                tr("busiest"),
                size=7.5,
                colour=now.muted,
                align=RIGHT,
            )
            words(
                painter,
                QRectF(rect.x() + 6, rect.y() + 35, rect.width() - 12, 26),
                tr(TAKE_OFF_WORDS[way]),
                size=7.5,
                wrap=True,
            )
            self.areas.append((rect, way))

    def _sketch(self, painter: QPainter, rect: QRectF, way: TakeOff) -> None:
        """Four packs between two lines, with a dot where each pole is taken off."""
        now = look()
        painter.setPen(QPen(QColor(now.ink), 1.2))
        xs = [rect.x() + rect.width() * (index + 0.5) / 4 for index in range(4)]
        top, bottom = rect.top(), rect.bottom()
        for x in xs:
            painter.fillRect(QRectF(x - 3, top + 6, 6, rect.height() - 12), QColor(now.live))
            painter.drawLine(QPointF(x, top), QPointF(x, top + 6))
            painter.drawLine(QPointF(x, bottom - 6), QPointF(x, bottom))
        whole = way != "groups"
        for y in (top, bottom):
            for first, last in ((0, 3),) if whole else ((0, 1), (2, 3)):
                painter.setPen(QPen(QColor(now.ink), 3 if way.startswith("bar") else 1.4))
                painter.drawLine(QPointF(xs[first] - 3, y), QPointF(xs[last] + 3, y))
        plus, minus = {"same_end": (xs[0], xs[0]), "opposite_ends": (xs[0], xs[3]), "middle": (xs[1], xs[2])}.get(
            way, (xs[0] - 6, xs[3] + 6)
        )
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(now.stop))
        painter.drawRect(QRectF(plus - 3, top - 3, 6, 6))
        painter.setBrush(QColor(now.ink))
        painter.drawRect(QRectF(minus - 3, bottom - 3, 6, 6))

    def _choose(self, way: TakeOff) -> None:
        self._session.apply(set_value("bank.links.take_off", way, f"Link the packs by {TAKE_OFF_WORDS[way]}"))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        found = self.area_at(event.position())
        if found:
            self._choose(next(way for way in WAYS if way == found))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            at = WAYS.index(self._session.shown.job.bank.links.take_off) + (
                1 if event.key() == Qt.Key.Key_Right else -1
            )
            self._choose(WAYS[at % len(WAYS)])
        else:
            super().keyPressEvent(event)


class LinkedBank(Canvas):
    """Strings between their poles, drawn as they are linked; each with its current at the load set, its share, and its
    limit as a tick.

    Left and right choose a pack; a press selects it.
    """

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.load_a = 0.0
        self.setMinimumHeight(150)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("The bank as it is linked, with each pack's share of the current"))
        session.selected.connect(self.update)

    def draw(self, painter: QPainter) -> None:
        now, job, bank = look(), self._session.shown.job, self._session.shown.design.bank
        shared, spec = bank.sharing, job.bank.spec
        count = len(shared.strings)
        left, right = 26.0, self.width() - 26.0
        pitch = (right - left) / max(count, 1)
        top, bottom = 30.0, self.height() - 34.0
        losses = self._poles(painter, left, pitch, top, bottom)
        most = 1.15 * max(spec.discharge_a, max((one.share for one in shared.strings), default=0.0) * self.load_a)
        for index, string in enumerate(shared.strings):
            out = string.share == 0
            amps = string.share * self.load_a
            rect = QRectF(left + index * pitch + 4, top + 12, min(pitch - 8, 120), bottom - top - 24)
            lit = any(tag in self._session.selection for tag in string.tags)
            over = amps > spec.discharge_a
            painter.setPen(
                QPen(
                    QColor(now.ink if lit else now.stop if over else now.live),
                    2.4 if lit else 1.2,
                    Qt.PenStyle.DashLine if out else Qt.PenStyle.SolidLine,
                )
            )
            painter.setBrush(QColor(now.paper if out else now.live_soft))
            painter.drawRect(rect)
            level = rect.height() * min(1.0, amps / most)
            painter.fillRect(
                QRectF(rect.x() + 1, rect.bottom() - level, rect.width() - 2, level),
                QColor(now.stop if over else now.live),
            )
            if over:
                painter.fillRect(
                    QRectF(rect.x() + 1, rect.bottom() - level, rect.width() - 2, level), Qt.BrushStyle.BDiagPattern
                )
            y = rect.bottom() - rect.height() * spec.discharge_a / most
            painter.setPen(QPen(QColor(now.ink), 1.6))
            painter.drawLine(QPointF(rect.x() - 3, y), QPointF(rect.right() + 3, y))
            plate = QRectF(rect.x() + 2, rect.y() + 3, rect.width() - 4, 15)
            painter.fillRect(plate, QColor(now.paper))
            words(painter, plate, " ".join(string.tags), size=8.5, bold=True, align=CENTRE)
            said = tr("out") if out else f"{show(amps, 'A')}"
            plate = QRectF(rect.x() + 2, rect.center().y() - 8, rect.width() - 4, 29)
            painter.fillRect(plate, QColor(now.paper))
            words(
                painter,
                QRectF(plate.x(), plate.y(), plate.width(), 15),
                said,
                size=9,
                bold=True,
                align=CENTRE,
                colour=now.stop if over else now.ink,
            )
            words(
                painter,
                QRectF(plate.x(), plate.y() + 14, plate.width(), 14),
                "" if out else f"{100 * string.of_mean:.1f}{NBSP}%",
                size=8,
                colour=now.muted,
                align=CENTRE,
            )
            self.areas.append((rect, string.tags[0]))
        first = tr("{pack} is at its limit first, at {amps} from the bank").format(
            pack=shared.first, amps=show(bank.discharge_limit_a.value, "A")
        )
        words(painter, QRectF(4, self.height() - 16, self.width() - 8, 15), first, size=8.5, colour=now.muted)
        fuse = (
            tr("own fuse {a} each").format(a=show(spec.fuse_a, "A"))
            if spec.fuse_a is not None
            else tr("no fuse of their own")
        )
        lost = tr("tick: one pack's limit · {fuse} · lost in links {w}").format(w=show(losses, "W"), fuse=fuse)
        words(painter, QRectF(60, 0, self.width() - 64, 14), lost, size=7.5, colour=now.muted, align=RIGHT)
        self.figures.append((QRectF(4, self.height() - 16, self.width() / 2, 15), bank.discharge_limit_a))

    def _poles(self, painter: QPainter, left: float, pitch: float, top: float, bottom: float) -> float:
        """Lines and bars of both poles with the loss of each conductor at the load; returns the sum [W]."""
        now, shared = look(), self._session.shown.design.bank.sharing
        count, total = len(shared.strings), 0.0
        centre = [left + (index + 0.5) * pitch - max(0.0, (pitch - 8 - 120) / 2) for index in range(count)]
        for index in range(count):
            painter.setPen(QPen(QColor(now.ink), 1.4))
            painter.drawLine(QPointF(centre[index], top), QPointF(centre[index], top + 12))
            painter.drawLine(QPointF(centre[index], bottom - 12), QPointF(centre[index], bottom))
            if self._session.shown.job.bank.spec.fuse_a is not None:
                painter.setBrush(QColor(now.paper))
                painter.drawRect(QRectF(centre[index] - 4, top + 3, 8, 7))
        bars = shared.take_off.startswith("bar")
        for path in shared.paths:
            loss = (path.share * self.load_a) ** 2 * path.ohm
            total += loss
            if path.name.startswith("lead") and pitch > 44 and path.start[1:].isdigit():
                x = centre[int(path.start[1:])]
                y = top - 17 if path.start.startswith("+") else bottom + 4
                words(painter, QRectF(x - 30, y, 60, 13), show(loss, "W"), size=7, colour=now.muted, align=CENTRE)
            if not path.name.startswith("link"):
                continue
            y = top if path.start.startswith("+") else bottom
            first, last = int(path.start[1:]), int(path.end[1:])
            painter.setPen(QPen(QColor(now.stop if loss > 8 else now.ink), 2.2))
            painter.drawLine(QPointF(centre[first], y), QPointF(centre[last], y))
            if pitch > 44:
                mid = QRectF((centre[first] + centre[last]) / 2 - 30, y - 15 if y == top else y + 1, 60, 13)
                words(painter, mid, show(loss, "W"), size=7, colour=now.muted, align=CENTRE)
        if bars and count:
            for y in (top, bottom):
                painter.fillRect(QRectF(centre[0] - 10, y - 3, centre[-1] - centre[0] + 20, 6), QColor(now.ink))
        if count:
            at = {
                "same_end": (0, 0),
                "opposite_ends": (0, count - 1),
                "middle": ((count - 1) // 2, count - 1 - (count - 1) // 2),
            }.get(shared.take_off, (0, count - 1))
            for sign, y, index in (("+", top, at[0]), ("−", bottom, at[1])):
                painter.fillRect(QRectF(centre[index] - 5, y - 5, 10, 10), QColor(now.stop if sign == "+" else now.ink))
                words(
                    painter,
                    QRectF(centre[index] - 28, y - 20 if sign == "+" else y + 5, 20, 16),
                    sign,
                    size=12,
                    bold=True,
                    align=CENTRE,
                )
        return total

    def mousePressEvent(self, event: QMouseEvent) -> None:
        tag = self.area_at(event.position())
        if tag:
            self._session.select(tag)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        tags = [string.tags[0] for string in self._session.shown.design.bank.sharing.strings]
        if event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right) and tags:
            at = next((index for index, tag in enumerate(tags) if tag in self._session.selection), -1)
            at = max(0, at + (1 if event.key() == Qt.Key.Key_Right else -1))
            self._session.select(tags[min(len(tags) - 1, at)])
        else:
            super().keyPressEvent(event)
