"""All loads together over the day: mean by feed, what 19 of 20 days stay under, everything at once, starts, and the
ceilings.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QBrush, QColor, QPainter, QPainterPath, QPen
from PySide6.QtWidgets import QWidget

from weighty_axle.answers.brief.peaks import Coincidence, coincidence
from weighty_axle.design.brief.day import clock
from weighty_axle.design.brief.profiles import Profile
from weighty_axle.design.figures import Figure
from weighty_axle.design.inverters.duty import start_extra_va
from weighty_axle.design.table import Design
from weighty_axle.desk.kit.painting import RIGHT, Canvas, words
from weighty_axle.desk.kit.theme import look, scaled
from weighty_axle.desk.steps.brief.hours import LABELS, Hours
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session
from weighty_axle.job.models.brief import Season
from weighty_axle.physics.loads.cycling import STEP_MIN
from weighty_axle.physics.loads.daytime import DAY_MIN
from weighty_axle.units import show

# Channel of the day's steps, its words, its pattern: fed from the bottom up.
FEED_PATTERNS = (
    (4, "DC", Qt.BrushStyle.Dense2Pattern),
    (3, "AC", Qt.BrushStyle.SolidPattern),
    (0, "L1", Qt.BrushStyle.SolidPattern),
    (1, "L2", Qt.BrushStyle.BDiagPattern),
    (2, "240 V", Qt.BrushStyle.DiagCrossPattern),
)
_Ceiling = tuple[str, float, str]
_STEP_TIMES = range(0, DAY_MIN + 1, STEP_MIN)


class Silhouette(Canvas):
    """Under the ribbons, on the same hours.

    Until `ready` it draws without drawn days, and says each time that it stands.
    """

    stands = Signal()

    def __init__(self, session: Session, hours: Hours, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self.hours = session, hours
        self.day_kind = session.shown.job.day_kinds[0].tag
        self.season: Season | None = None
        self.ready = False
        self._kept: tuple[Profile, str, Coincidence] | None = None
        self._peak: tuple[Profile, str, Figure] | None = None
        self.setMinimumHeight(146)
        self.setAccessibleName(tr("Power of all loads together over the day"))

    def honest(self, design: Design) -> Coincidence | None:
        """Drawn days of what is on show; None until numpy is there (it comes after the first paint)."""
        if not self.ready:
            return None
        profile, draw = design.brief.profile(self.day_kind, self.season), design.job.draw
        if self._kept is None or self._kept[0] is not profile or self._kept[1] != draw:
            self._kept = (profile, draw, coincidence(design, self.day_kind, self.season))
        return self._kept[2]

    def peak(self, design: Design) -> Figure | None:
        """The honest peak of what is on show; None until it is worked out."""
        profile, draw = design.brief.profile(self.day_kind, self.season), design.job.draw
        return self._peak[2] if self._peak is not None and self._peak[0] is profile and self._peak[1] == draw else None

    def put_peak(self, design: Design, kind: str, season: Season | None, peak: Figure) -> None:
        """Keep an honest peak with what it belongs to."""
        self._peak = (design.brief.profile(kind, season), design.job.draw, peak)
        self.update()

    def show_design(self, design: Design) -> None:
        """Paint again where anything it draws has changed."""
        self.shows(
            design.brief,
            design.inverters,
            design.job.loads,
            design.job.draw,
            str(_ceilings(design)),
            self.day_kind,
            self.season,
            self.ready,
            self.peak(design),
        )

    def draw(self, painter: QPainter) -> None:
        design = self._session.shown.design
        profile, honest = design.brief.profile(self.day_kind, self.season), self.honest(design)
        self._facts(painter, design, profile)
        totals = [sum(powers) for powers in zip(*profile.running_w.values, strict=True)]
        starts = _starts(design, profile, totals)
        highest = max([500.0, *totals, *(top for _, _, top in starts)])
        ceilings = [one for one in _ceilings(design) if one[1] < 2.2 * highest]
        top = 1.12 * max([highest, *(value for _, value, _ in ceilings)])
        area = QRectF(LABELS, 18, self.hours.right_px - LABELS, self.height() - 24)
        _axis(painter, area, top)
        painter.save()
        painter.setClipRect(area.adjusted(-1, -2, 1, 2))
        self._stack(painter, area, top, profile)
        self._lines(painter, area, top, profile, totals, honest)
        painter.setPen(QPen(QColor(look().stop), 1.6))
        for minute, base, peak in starts:
            x = self.hours.x(minute)
            painter.drawLine(
                QPointF(x, area.bottom() - area.height() * base / top),
                QPointF(x, area.bottom() - area.height() * peak / top),
            )
        painter.restore()
        self._ceilings(painter, area, top, ceilings)
        self._legend(painter, area, profile, honest)
        if not self.ready:
            self.stands.emit()

    def _facts(self, painter: QPainter, design: Design, profile: Profile) -> None:
        """What sets the peak and the worst start, in sentences, at the left."""
        now, day, wide = look(), design.brief.days[self.day_kind], LABELS - 48
        names = {load.tag: load.name for load in design.job.loads}
        words(
            painter, QRectF(4, 0, wide, 16), tr("Energy out of the bank, losses included"), size=7.5, colour=now.muted
        )
        words(painter, QRectF(4, 15, wide, 22), show(profile.bank_wh, "Wh"), size=14, bold=True)
        if day.profile == profile.key:
            self.figures.append((QRectF(4, 0, wide, 35), day.bank_energy_wh))
        if day.peak_ac_w.value <= 0:
            return
        leading = ", ".join(names[tag] for tag in day.peak_loads[:3])
        text = tr("{power} at {time}, all at once: {loads}").format(
            power=show(day.peak_ac_w.value, "W"), time=clock(day.peak_at_min), loads=leading
        )
        self._sentence(painter, QRectF(4, 37, wide, 40), text, now.ink)
        self.figures.append((QRectF(4, 37, wide, 40), day.peak_ac_w))
        peak = self.peak(design)
        if peak is not None:
            text = tr("19 of 20 days stay under {power} of AC").format(power=show(peak.value, "W"))
            self._sentence(painter, QRectF(4, 78, wide, 14), text, now.ink)
            self.figures.append((QRectF(4, 78, wide, 14), peak))
        worst = max((leg.start_va for leg in design.inverters.legs), key=lambda one: one.value)
        if worst.value > 0:
            text = tr("Worst start {power}: {what}").format(power=show(worst.value, "VA"), what=worst.limit)
            self._sentence(painter, QRectF(4, 93, wide, 40), text, now.stop)
            self.figures.append((QRectF(4, 93, wide, 40), worst))

    def _sentence(self, painter: QPainter, rect: QRectF, text: str, colour: str) -> None:
        words(
            painter,
            rect,
            text,
            size=7.5,
            colour=colour,
            wrap=True,
            align=Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop,
        )

    def _stack(self, painter: QPainter, area: QRectF, top: float, profile: Profile) -> None:
        """Mean power by feed; feeds are told apart by pattern.

        The sums are drawn from the highest down, each over what lies behind.
        """
        steps, sums = profile.mean_w, []
        base: list[float] | tuple[float, ...] = (0.0,) * len(steps.values[0])
        for channel, _, pattern in FEED_PATTERNS:
            if max(steps.values[channel]) > 0:
                base = [low + more for low, more in zip(base, steps.values[channel], strict=True)]
                sums.append((base, pattern))
        for upper, pattern in reversed(sums):
            outline = self._stairs(area, top, steps.times_min, upper)
            outline.lineTo(self.hours.x(1440.0), area.bottom())
            outline.lineTo(self.hours.x(0.0), area.bottom())
            outline.closeSubpath()
            fill_pattern(painter, outline, pattern)

    def _lines(
        self,
        painter: QPainter,
        area: QRectF,
        top: float,
        profile: Profile,
        totals: list[float],
        honest: Coincidence | None,
    ) -> None:
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(QColor(look().ink), 1, Qt.PenStyle.DotLine))
        painter.drawPath(self._stairs(area, top, profile.running_w.times_min, totals))
        if honest is not None:
            painter.setPen(QPen(QColor(look().ink), 1.4))
            painter.drawPath(self._stairs(area, top, _STEP_TIMES, honest.all_feeds.p95_w))

    def _stairs(self, area: QRectF, top: float, times_min: Sequence[int], values: Sequence[float]) -> QPainterPath:
        """A quantity that is constant between times, as a line of stairs in pixels."""
        left, per_min = self.hours.x(0.0), self.hours.x(1.0) - self.hours.x(0.0)
        bottom, per_unit = area.bottom(), area.height() / top
        stairs = QPainterPath(QPointF(left, bottom - per_unit * values[0]))
        line_to = stairs.lineTo  # a path takes plain numbers: a third of the time that points take
        for start, end, value in zip(times_min, times_min[1:], values, strict=False):
            y = bottom - per_unit * value
            line_to(left + per_min * start, y)
            line_to(left + per_min * end, y)
        return stairs

    def _ceilings(self, painter: QPainter, area: QRectF, top: float, ceilings: list[_Ceiling]) -> None:
        """Dashed lines with their words on them; words that would hide another line or its words step aside, or hang
        under their own.
        """
        heights = [area.bottom() - area.height() * value / top for _, value, _ in ceilings]
        placed: list[QRectF] = []
        labels = []
        painter.setFont(scaled(7.5))
        for text, value, colour in sorted(ceilings, key=lambda one: -one[1]):
            y = area.bottom() - area.height() * value / top
            painter.setPen(QPen(QColor(colour), 1.4, Qt.PenStyle.DashLine))
            painter.drawLine(QPointF(area.left(), y), QPointF(area.right(), y))
            said = f"{text}  {show(value, 'W')}"
            wide = painter.fontMetrics().horizontalAdvance(said) + 8
            beside = max((one.right() + 4 for one in placed), default=area.left())
            tries = [
                QRectF(x + 2, at, wide, 11)
                for at in (y - 13, y + 2)
                for x in (area.left(), beside)
                if x + wide <= area.right()
            ]
            free = [
                one
                for one in tries
                if not any(one.intersects(other) for other in placed)
                and not any(one.top() <= line <= one.bottom() for line in heights)
            ]
            where = next(iter(free or tries), QRectF(area.left() + 2, y - 13, area.width() - 2, 11))
            placed.append(where)
            labels.append((said, colour, where))
        for said, colour, where in labels:
            painter.fillRect(where, QColor(look().panel))
            words(painter, where.adjusted(3, -1, 3, 0), said, size=7.5, colour=colour)

    def _legend(self, painter: QPainter, area: QRectF, profile: Profile, honest: Coincidence | None) -> None:
        x, now = area.right() + 4, look()
        entries = [
            (tr(name), pattern) for channel, name, pattern in FEED_PATTERNS if max(profile.mean_w.values[channel]) > 0
        ]
        for name, pattern in entries:
            x -= 52
            fill_pattern(painter, QRectF(x, 2, 12, 10), pattern)
            words(painter, QRectF(x + 15, 0, 36, 14), name, size=7.5, colour=now.muted)
        lines = [
            (tr("start"), Qt.PenStyle.SolidLine, now.stop, 46),
            (tr("all at once"), Qt.PenStyle.DotLine, now.ink, 82),
        ]
        if honest is not None:
            lines.append((tr("19 of 20 days"), Qt.PenStyle.SolidLine, now.ink, 94))
        lines.append((tr("mean, by feed:"), Qt.PenStyle.NoPen, now.ink, 84)) if entries else None
        for text, style, colour, wide in reversed(lines):
            x -= wide
            if x < LABELS:
                return  # a narrow window keeps the entries nearest to the chart's end
            if style == Qt.PenStyle.NoPen:
                words(painter, QRectF(x, 0, wide - 4, 14), text, size=7.5, colour=now.muted)
                continue
            painter.setPen(QPen(QColor(colour), 1.4, style))
            painter.drawLine(QPointF(x, 7), QPointF(x + 14, 7))
            words(painter, QRectF(x + 18, 0, wide - 18, 14), text, size=7.5, colour=now.muted)


def _ceilings(design: Design) -> list[_Ceiling]:
    """Inverters, the strongest inlet, and every generator."""
    now, sources = look(), list(zip(design.job.inverters.sources, design.sources, strict=True))
    found = [
        (
            tr("inverters, continuous at bay heat"),
            sum(leg.continuous_va.value for leg in design.inverters.legs),
            now.stop,
        )
    ]
    inlets = [(source.name, row.continuous_w.value, now.check) for source, row in sources if source.kind == "shore"]
    return (
        found
        + sorted(inlets, key=lambda inlet: -inlet[1])[:2]
        + [(source.name, row.continuous_w.value, now.steel) for source, row in sources if source.kind == "generator"]
    )


def _starts(design: Design, profile: Profile, totals: list[float]) -> list[tuple[float, float, float]]:
    """Starts of motors at the beginning of their stretches: minute, running total then [W], with the start on top
    [VA].
    """
    motors = {load.tag: load for load in design.job.loads if load.start_multiple > 1}
    base = dict(zip(profile.running_w.times_min, totals, strict=False))
    return [
        (span.start_min, base[span.start_min], base[span.start_min] + start_extra_va(motors[row.tag]))
        for row in profile.rows
        if row.tag in motors
        for span in row.spans
    ]


def _axis(painter: QPainter, area: QRectF, top: float) -> None:
    step = 10 ** math.floor(math.log10(top / 3))
    step *= 2 if top / step > 8 else 1
    for index in range(int(top / step) + 1):
        y = area.bottom() - area.height() * index * step / top
        words(
            painter,
            QRectF(area.left() - 46, y - 8, 40, 16),
            f"{index * step / 1000:g} kW",
            size=7.5,
            colour=look().muted,
            align=RIGHT,
        )
        painter.setPen(QPen(QColor(look().line), 0.7))
        painter.drawLine(QPointF(area.left(), y), QPointF(area.right(), y))


def fill_pattern(painter: QPainter, shape: QPainterPath | QRectF, pattern: Qt.BrushStyle, tone: str = "") -> None:
    """Fill a shape with a soft ground and a pattern, so that parts are told apart without colour."""
    now = look()
    strong = QColor(tone or now.live)
    colour = QColor(strong)
    colour.setAlphaF(0.25 if pattern == Qt.BrushStyle.SolidPattern else 0.7)
    painter.setPen(QPen(strong, 0.6))
    for brush in (QBrush(QColor(now.track if tone else now.live_soft)), QBrush(colour, pattern)):
        painter.setBrush(brush)
        if isinstance(shape, QRectF):
            painter.drawRect(shape)
        else:
            painter.drawPath(shape)
