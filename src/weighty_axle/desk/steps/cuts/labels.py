"""Labels: the sheets as they print, at the size of the labels that are there."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QKeyEvent, QPainter, QPen

from weighty_axle.answers.cuts.conductors import cuts
from weighty_axle.design.table import Design
from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.painting import CENTRE, Canvas, words
from weighty_axle.desk.kit.theme import scaled
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.exports.drawings.labels import PAPER_MM, label_sheets_of
from weighty_axle.exports.drawings.marks import Box, Cells, Dot, Line, Mark, Sheet, Words
from weighty_axle.job.models.document import Job
from weighty_axle.reference.hardware import label_sheets
from weighty_axle.units import NUMBER, System


def _sheets(_job: Job) -> tuple[tuple[str, str], ...]:
    return (*((key, row.name) for key, row in label_sheets().items()), ("own", "own labels, by their measures"))


_FIELDS = (
    Field("Sheet", "build.labels.sheet", _sheets, wide=3),
    Field("Own label, wide, mm", "build.labels.wide_mm", NUMBER),
    Field("Own label, high, mm", "build.labels.high_mm", NUMBER),
)


class SheetView(Canvas):
    """One page on its paper. Keys: Page Up and Page Down turn the pages."""

    smooth = False

    def __init__(self) -> None:
        super().__init__()
        self.sheets: tuple[Sheet, ...] = ()
        self.page = 0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumHeight(220)
        self.setAccessibleName(tr("Labels as they print"))

    def put(self, sheets: tuple[Sheet, ...]) -> None:
        """Show pages."""
        self.sheets = sheets
        self.turn(self.page)

    def turn(self, page: int) -> None:
        """Turn to a page."""
        self.page = max(0, min(len(self.sheets) - 1, page))
        if self.sheets:
            self.setAccessibleDescription(f"{self.sheets[self.page].title}, {self.page + 1} / {len(self.sheets)}")
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        by = {Qt.Key.Key_PageUp: -1, Qt.Key.Key_PageDown: 1, Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}
        if Qt.Key(event.key()) in by:
            self.turn(self.page + by[Qt.Key(event.key())])
        else:
            super().keyPressEvent(event)

    def draw(self, painter: QPainter) -> None:
        if not self.sheets:
            words(painter, QRectF(self.rect()), tr("Labels are being laid out …"), align=CENTRE)
            return
        sheet = self.sheets[self.page]
        high = next((tall for wide, tall in PAPER_MM.values() if abs(wide - sheet.wide_mm) < 0.01), sheet.high_mm)
        # As wide as there is room: what does not fit below is turned to by its page.
        scale = min((self.width() - 20) / sheet.wide_mm, (self.height() - 8) / high * 1.9)
        shown = min(high, (self.height() - 8) / scale)
        left = (self.width() - sheet.wide_mm * scale) / 2
        paper = QRectF(left, 4, sheet.wide_mm * scale, shown * scale)
        painter.fillRect(paper, QColor("white"))
        painter.setPen(QPen(QColor("#888888"), 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(paper)
        painter.setClipRect(paper)
        for mark in sheet.marks:
            self._mark(painter, mark, left, scale)

    def _mark(self, painter: QPainter, mark: Mark, left: float, scale: float) -> None:
        ink = QColor("black")

        def at(x: float, y: float) -> QPointF:
            return QPointF(left + x * scale, 4 + y * scale)

        match mark:
            case Box():
                rect = QRectF(at(mark.x, mark.y), at(mark.x + mark.wide, mark.y + mark.high))
                if mark.fill == "black":
                    painter.fillRect(rect, ink)
                else:
                    painter.setPen(QPen(QColor("#777777"), 1))
                    painter.drawRect(rect)
            case Cells():
                for x, y, wide in mark.runs:
                    painter.fillRect(QRectF(at(x, y), at(x + wide, y + mark.high)), ink)
            case Line():
                painter.setPen(QPen(ink, max(1.0, mark.wide * scale)))
                painter.drawLine(at(mark.x1, mark.y1), at(mark.x2, mark.y2))
            case Words():
                font = scaled(9, bold=mark.bold)
                font.setPixelSize(max(4, round(mark.size / 0.72 * scale)))
                painter.setFont(font)
                painter.setPen(ink)
                painter.drawText(at(mark.x, mark.y), mark.text)
            case Dot():
                painter.setPen(QPen(ink, 1))
                painter.drawEllipse(at(mark.x, mark.y), mark.radius * scale, mark.radius * scale)


class LabelsLeaf(Leaf):
    """Which sheet, presses, the page."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.fields = Fields(session, system, _FIELDS, 3, whole=True)
        self.column.addWidget(self.fields)
        self.row_of(
            ("Page before", partial(self._turn, -1)),
            ("Page after", partial(self._turn, 1)),
            ("Print the labels …", partial(self.wants.emit, "labels out")),
        )
        self.sheet = SheetView()
        self.column.addWidget(self.sheet, 1)
        self.told = Label()
        self.column.addWidget(self.told)

    def _turn(self, by: int) -> None:
        self.sheet.turn(self.sheet.page + by)
        self._tell()

    def show_shown(self, shown: Shown) -> None:
        self.fields.show_shown(shown)
        self.quietly((shown.house,), partial(_laid_out, shown.house), self._put)

    def _put(self, sheets: tuple[Sheet, ...] | None) -> None:
        if sheets is not None:
            self.sheet.put(sheets)
        self._tell()

    def _tell(self) -> None:
        if not self.sheet.sheets:
            return
        one = self.sheet.sheets[self.sheet.page]
        self.told.setText(
            tr(
                "{title}, page {page} of {all}. Print at 100 %; the last page shows whether the printer keeps it."
            ).format(title=one.title, page=self.sheet.page + 1, all=len(self.sheet.sheets))
        )


def _laid_out(house: Design, progress: Callable[[float, str], None]) -> tuple[Sheet, ...]:
    del progress
    return label_sheets_of(house, cuts(house))
