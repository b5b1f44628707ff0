"""Where a day's energy goes: supplies and every loss as slices, for each kind of day and season."""

from __future__ import annotations

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPen
from PySide6.QtWidgets import QScrollArea

from weighty_axle.design.brief.day import SUPPLY_WORDS
from weighty_axle.design.brief.profiles import Profile
from weighty_axle.desk.kit.figures import FigureRow
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.painting import Canvas, words
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.steps.brief.silhouette import fill_pattern
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.units import System, show

_SUPPLIES = (
    ("AC", Qt.BrushStyle.SolidPattern),
    ("L1", Qt.BrushStyle.SolidPattern),
    ("L2", Qt.BrushStyle.BDiagPattern),
    ("L3", Qt.BrushStyle.FDiagPattern),
    ("L1+L2", Qt.BrushStyle.DiagCrossPattern),
    ("L1+L2+L3", Qt.BrushStyle.CrossPattern),
    ("DC_12", Qt.BrushStyle.Dense5Pattern),
    ("DC_24", Qt.BrushStyle.Dense3Pattern),
    ("DC_48", Qt.BrushStyle.Dense2Pattern),
)
_LOSSES = (
    ("lost in converters", Qt.BrushStyle.HorPattern),
    ("lost idling", Qt.BrushStyle.VerPattern),
    ("lost converting", Qt.BrushStyle.CrossPattern),
)
_ROW, _LEFT = 54, 150


def slices(profile: Profile) -> list[tuple[str, str, float, Qt.BrushStyle, bool]]:
    """Slices of a day: key, words, energy [Wh], pattern, and whether it is a loss."""
    found = [
        (supply, SUPPLY_WORDS[supply], profile.by_supply_wh[supply], pattern, False)
        for supply, pattern in _SUPPLIES
        if profile.by_supply_wh.get(supply, 0.0) > 0
    ]
    if profile.beside_wh > 0:
        found.append(("others", tr("others on the bank"), profile.beside_wh, Qt.BrushStyle.Dense6Pattern, False))
    losses = (profile.converter_wh, profile.idle_wh, profile.converting_wh)
    return found + [
        (key, tr(key), wh, pattern, True) for (key, pattern), wh in zip(_LOSSES, losses, strict=True) if wh > 0
    ]


class EnergyBands(Canvas):
    """One band per kind of day (and season where loads differ), all to one scale; losses stand apart at the end,
    greyer.
    """

    def __init__(self, session: Session, system: System) -> None:
        super().__init__()
        self._session, self._system = session, system
        self.setAccessibleName(tr("Energy of each kind of day by supply and loss"))

    def bands(self) -> list[Profile]:
        """Profiles in the order of the kinds of day."""
        return list(self._session.shown.design.brief.profiles.values())

    def sizeHint(self) -> QSize:
        return QSize(640, 30 + _ROW * len(self.bands()))

    def minimumSizeHint(self) -> QSize:
        return QSize(420, self.sizeHint().height())

    def draw(self, painter: QPainter) -> None:
        bands, brief = self.bands(), self._session.shown.design.brief
        most = max((band.bank_wh for band in bands), default=0.0) or 1.0
        self._legend(painter, bands)
        for index, band in enumerate(bands):
            self._band(painter, band, 28 + index * _ROW, most, brief.days[band.kind].profile == band.key)

    def _legend(self, painter: QPainter, bands: list[Profile]) -> None:
        seen: dict[str, tuple[str, Qt.BrushStyle, bool]] = {}
        for band in bands:
            for key, text, _, pattern, loss in slices(band):
                seen.setdefault(key, (text, pattern, loss))
        x = float(_LEFT)
        for text, pattern, loss in sorted(seen.values(), key=lambda one: one[2]):
            fill_pattern(painter, QRectF(x, 4, 13, 11), pattern, look().steel if loss else "")
            words(painter, QRectF(x + 17, 2, 110, 15), text, size=8, colour=look().muted)
            x += 27 + painter.fontMetrics().horizontalAdvance(text)

    def _band(self, painter: QPainter, band: Profile, y: float, most: float, worst: bool) -> None:
        now, brief = look(), self._session.shown.design.brief
        day = brief.days[band.kind]
        words(painter, QRectF(4, y, _LEFT - 12, 18), day.name, size=9.5, bold=worst)
        scale = (self.width() - _LEFT - 90) / most
        x, parts, lost = float(_LEFT), [], 0.0
        for _, text, wh, pattern, loss in slices(band):
            rect = QRectF(x, y + 2, max(1.0, wh * scale), 22)
            fill_pattern(painter, rect, pattern, now.steel if loss else "")
            lost += wh if loss else 0.0
            parts.append(f"{text.removeprefix('lost ')} {show(wh, 'Wh')}")
            x += wh * scale
        words(painter, QRectF(x + 6, y + 2, 84, 22), show(band.bank_wh, "Wh"), size=10.5, bold=True)
        share = tr("{share} of it lost").format(share=show(lost / band.bank_wh, "1")) if band.bank_wh else ""
        words(painter, QRectF(4, y + 17, _LEFT - 12, 13), band.season_words, size=7.5, colour=now.muted)
        words(painter, QRectF(4, y + 30, _LEFT - 12, 13), share, size=7.5, colour=now.muted)
        words(
            painter, QRectF(_LEFT, y + 26, self.width() - _LEFT - 6, 15), " · ".join(parts), size=7.5, colour=now.muted
        )
        painter.setPen(QPen(QColor(now.line), 1))
        painter.drawLine(4, int(y + _ROW - 7), self.width() - 8, int(y + _ROW - 7))
        if worst:
            self.figures.append((QRectF(4, y, self.width() - 8, _ROW - 8), day.bank_energy_wh))


class EnergyLeaf(Leaf):
    """Bands in a scroll area, and the figures of the busiest day without hook-up."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.bands = EnergyBands(session, system)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setWidget(self.bands)
        self.column.addWidget(area, 1)
        self.figures = FigureRow(system)
        self.column.addWidget(self.figures)
        self.listen(self.bands, self.figures)

    def show_shown(self, shown: Shown) -> None:
        day = shown.design.brief.days[shown.design.brief.design_day]
        self.figures.put(
            (
                day.bank_energy_wh,
                day.ac_energy_wh,
                day.dc_energy_wh,
                day.converter_energy_wh,
                day.no_load_energy_wh,
                day.inverter_loss_energy_wh,
            )
        )
        self.bands.updateGeometry()
        self.bands.update()
