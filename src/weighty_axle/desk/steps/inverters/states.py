"""States: every combination of what is plugged in, what the inverters do and where selectors stand; what is live,
bonded and guarded then.
"""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QScrollArea

from weighty_axle.design.inverters.state import MODE_WORDS, STACKING_SHORT, PanelState, State
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.painting import CENTRE, Canvas, severity_mark, words
from weighty_axle.desk.kit.theme import look
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.units import System

_ROW, _HEAD = 26.0, 40.0


class StateTable(Canvas):
    """One row a state: plugged, inverters, selectors, and for each panel its live lines, its bonds and what guards it.

    Up and down choose a row.
    """

    turned = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.only_wrong = False
        self.at = 0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Table of states"))

    @property
    def rows(self) -> tuple[State, ...]:
        """States shown."""
        found = self._session.shown.design.states.states
        return tuple(state for state in found if state.hazards) if self.only_wrong else found

    @property
    def chosen(self) -> State | None:
        """State whose row is chosen."""
        rows = self.rows
        return rows[min(self.at, len(rows) - 1)] if rows else None

    def refresh(self) -> None:
        """Fit the height to the rows and paint."""
        self.setMinimumHeight(int(_HEAD + _ROW * max(1, len(self.rows)) + 2))
        self.update()

    def _columns(self) -> list[tuple[str, float, float]]:
        """Heading, left edge and width of every column."""
        ac, width = self._session.shown.design.ac, float(self.width())
        left = [
            (tr("Plugged in"), 0.24),
            (tr("Inverters"), 0.15),
            *((selector.name, 0.10) for selector in ac.selectors),
        ]
        used = sum(share for _, share in left)
        shares = [*left, *((panel.name, max(0.09, (1 - used) / len(ac.panels))) for panel in ac.panels)]
        whole, x, found = sum(share for _, share in shares), 22.0, []
        for name, share in shares:
            wide = (width - 26) * share / whole
            found.append((name, x, wide))
            x += wide
        return found

    def draw(self, painter: QPainter) -> None:
        now, columns = look(), self._columns()
        clip = painter.clipBoundingRect() if painter.hasClipping() else QRectF(self.visibleRegion().boundingRect())
        for name, x, wide in columns:
            words(painter, QRectF(x, 2, wide - 6, _HEAD - 8), name, size=8.5, bold=True, wrap=True)
        painter.setPen(QPen(QColor(now.ink), 1))
        painter.drawLine(QPointF(0, _HEAD - 2), QPointF(self.width(), _HEAD - 2))
        if not self.rows:
            words(
                painter,
                QRectF(22, _HEAD, self.width() - 30, _ROW),
                tr("Nothing is wrong in any state."),
                size=9,
                colour=now.muted,
            )
        for index, state in enumerate(self.rows):
            y = _HEAD + index * _ROW
            if y + _ROW >= clip.top() and y <= clip.bottom():
                self._row(painter, state, index, y, columns)

    def _row(
        self, painter: QPainter, state: State, index: int, y: float, columns: list[tuple[str, float, float]]
    ) -> None:
        now, design = look(), self._session.shown.design
        box = QRectF(0, y, self.width(), _ROW)
        if state is self.chosen:
            painter.fillRect(box, QColor(now.live_soft))
        painter.setPen(QPen(QColor(now.line), 0.7))
        painter.drawLine(box.bottomLeft(), box.bottomRight())
        if state.hazards:
            weak = all(hazard.danger == "across_weak" for hazard in state.hazards)
            severity_mark(painter, QPointF(11, box.center().y()), "check" if weak else "stop")
        names = {source.tag: source.name for source in design.job.inverters.sources}
        setting = f", {STACKING_SHORT[state.stacking]}" if state.mode == "on" and design.ac.selectors else ""
        texts = [
            ", ".join(names[tag] for tag in state.plugged) or tr("nothing"),
            MODE_WORDS[state.mode].removeprefix("inverters ") + setting,
            *(name for _, name in state.positions),
        ]
        for text, (_, x, wide) in zip(texts, columns, strict=False):
            words(painter, QRectF(x, y, wide - 6, _ROW), text, size=8.5)
        for panel, (_, x, wide) in zip(state.panels, columns[len(texts) :], strict=True):
            self._panel(painter, panel, QRectF(x, y, wide - 6, _ROW))
        self.areas.append((box, str(index)))

    def _panel(self, painter: QPainter, panel: PanelState, box: QRectF) -> None:
        """Lamps of the lines, bonds, guards; a dark panel is a dash."""
        now, lines = look(), self._session.shown.design.ac.lines
        for index, line in enumerate(lines):
            lamp = QRectF(box.x() + 24 * index, box.center().y() - 7, 20, 14)
            live = line in panel.lines
            painter.setPen(QPen(QColor(now.live if live else now.line), 1))
            painter.setBrush(QColor(now.live) if live else Qt.BrushStyle.NoBrush)
            painter.drawRect(lamp)
            words(
                painter,
                lamp,
                line if len(lines) > 1 else "L",
                size=7.5,
                bold=live,
                align=CENTRE,
                colour=now.paper if live else now.muted,
            )
        rest = box.adjusted(24 * len(lines) + 4, 0, 0, 0)
        if not panel.lines:
            words(painter, rest, tr("dark"), size=8, colour=now.muted)
            return
        bonds = tr("no bond") if not panel.bonds else tr("bond {where}").format(where=" + ".join(panel.bonds))
        guard = f" · {min(panel.rcds_ma):g} mA" if panel.rcds_ma else ""
        wrong = len(panel.bonds) != 1
        words(painter, rest, bonds + guard, size=8, bold=wrong, colour=now.stop if wrong else now.ink)

    def choose(self, at: int) -> None:
        """Choose a row and select what its hazards concern."""
        self.at = max(0, min(len(self.rows) - 1, at))
        state = self.chosen
        self._session.select(*dict.fromkeys(tag for one in (state.hazards if state else ()) for tag in one.tags))
        self.turned.emit()
        self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        at = self.area_at(event.position())
        if at:
            self.choose(int(at))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self.choose(self.at + (1 if event.key() == Qt.Key.Key_Down else -1))
        else:
            super().keyPressEvent(event)


class StatesLeaf(Leaf):
    """Sentence, table, what is wrong in the chosen row."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        row = QHBoxLayout()
        self.sentence = Label()
        row.addWidget(self.sentence, 1)
        self.only = QPushButton(tr("Only what is wrong"))
        self.only.setCheckable(True)
        self.only.toggled.connect(self._toggle)
        row.addWidget(self.only)
        self.column.addLayout(row)
        self.table = StateTable(session)
        scroll = QScrollArea()
        scroll.setWidget(self.table)
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.area = scroll
        self.column.addWidget(scroll, 1)
        self.detail = Label()
        self.detail.setWordWrap(True)
        self.detail.setMinimumHeight(4 * self.detail.fontMetrics().lineSpacing())
        self.detail.setAlignment(Qt.AlignmentFlag.AlignTop | Qt.AlignmentFlag.AlignLeft)
        self.column.addWidget(self.detail)
        self.table.turned.connect(self._tell)

    def _toggle(self, on: bool) -> None:
        self.table.only_wrong = on
        self.table.at = 0
        self.table.refresh()
        self._tell()

    def _tell(self) -> None:
        state = self.table.chosen
        if state is None:
            self.detail.setText("")
            return
        self.area.ensureVisible(0, int(_HEAD + (self.table.at + 0.5) * _ROW), 0, int(_ROW))
        head = state.words[0].upper() + state.words[1:]
        told = "\n".join(f"– {hazard.words[0].upper()}{hazard.words[1:]}." for hazard in state.hazards[:6])
        more = tr("\n… and {n} more").format(n=len(state.hazards) - 6) if len(state.hazards) > 6 else ""
        live = any(panel.lines for panel in state.panels)
        sound = (
            tr("Nothing is wrong here: one bond, no loop, every line as it should be.")
            if live
            else tr("Nothing is live here.")
        )
        feeds = "; ".join(f"{panel.tag} {tr('by')} {', '.join(panel.fed_by)}" for panel in state.panels if panel.fed_by)
        self.detail.setText(f"{head}. {feeds}\n{told or sound}{more}")

    def show_shown(self, shown: Shown) -> None:
        result = shown.design.states
        wrong = sum(bool(state.hazards) for state in result.states)
        shut = tr(", {n} more made impossible by interlocks").format(n=result.shut_out) if result.shut_out else ""
        bad = tr("something is wrong in {n}").format(n=wrong) if wrong else tr("nothing is wrong in any")
        self.sentence.setText(tr("{n} states{shut}; {bad}.").format(n=len(result.states), shut=shut, bad=bad))
        self.table.refresh()
        self._tell()
