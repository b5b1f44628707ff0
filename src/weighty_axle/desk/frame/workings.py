"""Workings: how a figure was computed, from what, by which source; inputs that are figures open in turn."""

from __future__ import annotations

from html import escape

from PySide6.QtCore import QUrl, Signal
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QTextBrowser, QVBoxLayout, QWidget

from weighty_axle.design.figures import Figure
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.theme import look, scaled
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.exports.data.figures import working_lines
from weighty_axle.rules.registry import Finding
from weighty_axle.units import System, show


class WorkingsPanel(QWidget):
    """Opens under the findings.

    Pinned workings stay and follow the job; an opened one replaces the last that is not pinned.
    """

    closed = Signal()

    def __init__(self, session: Session, system: System, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.system = system
        self._figures: list[Figure] = []
        self._trail: list[Figure] = []
        self._pinned: list[str] = []
        self._current = ""
        self._finding: Finding | None = None
        self._session = session
        column = QVBoxLayout(self)
        column.setContentsMargins(12, 6, 8, 6)
        column.setSpacing(3)
        head = QHBoxLayout()
        title = Label(tr("Workings"))
        title.setFont(scaled(12.5, bold=True))
        self._back = QPushButton(tr("Back"))
        self._back.clicked.connect(self._go_back)
        self._pin = QPushButton(tr("Pin"))
        self._pin.setCheckable(True)
        self._pin.clicked.connect(self._toggle_pin)
        copy = QPushButton(tr("Copy"))
        copy.clicked.connect(self._copy)
        close = QPushButton(tr("Close"))
        close.clicked.connect(self._close)
        head.addWidget(title)
        head.addStretch(1)
        for button in (self._back, self._pin, copy, close):
            head.addWidget(button)
        column.addLayout(head)
        self._text = QTextBrowser()
        self._text.setOpenLinks(False)
        self._text.setAccessibleName(tr("Workings"))
        self._text.anchorClicked.connect(self._on_link)
        column.addWidget(self._text, 1)
        session.changed.connect(self._on_changed)
        self.hide()

    def open_figure(self, figure: Figure) -> None:
        """Show one figure's working."""
        self._finding = None
        self._trail = []
        self._show(figure)

    def open_finding(self, finding: Finding) -> None:
        """Show what stands behind a finding: its source and every figure in its sentence."""
        self._finding = finding
        self._trail = []
        self._current = finding.figures[0].name if finding.figures else ""
        self._fill()
        self.show()

    def _show(self, figure: Figure) -> None:
        self._trail.append(figure)
        self._current = figure.name
        self._fill()
        self.show()

    def _go_back(self) -> None:
        if len(self._trail) > 1:
            self._trail.pop()
            self._current = self._trail[-1].name
            self._fill()
        elif self._finding is not None and self._trail:
            self.open_finding(self._finding)

    def _toggle_pin(self) -> None:
        if not self._current:
            return
        if self._current in self._pinned:
            self._pinned.remove(self._current)
        else:
            self._pinned.append(self._current)
        self._fill()

    def _copy(self) -> None:
        """Put what is open on the clipboard as plain lines, for a letter or a note."""
        shown = self._trail[-1:] or (list(self._finding.figures) if self._finding is not None else [])
        QGuiApplication.clipboard().setText(
            "\n\n".join("\n".join(working_lines(figure, self.system)) for figure in shown)
        )

    def _close(self) -> None:
        self._pinned = []
        self.hide()
        self.closed.emit()

    def _on_link(self, url: QUrl) -> None:
        index = int(url.path())
        if 0 <= index < len(self._figures):
            self._show(self._figures[index])

    def _on_changed(self, shown: Shown) -> None:
        """Follow the job: show the new value of what is open."""
        if not self.isVisible():
            return
        by_name = {figure.name: figure for _, figure in shown.design.figures()}
        self._trail = [by_name.get(figure.name, figure) for figure in self._trail]
        if self._finding is not None:
            self._finding = next(
                (finding for finding in shown.findings if finding.id == self._finding.id), self._finding
            )
        self._fill()

    def _fill(self) -> None:
        self._figures = []
        by_name = {figure.name: figure for _, figure in self._session.shown.design.figures()}
        parts = []
        if self._trail:
            figure = self._trail[-1]
            if self._finding is None and figure.name not in by_name:
                parts.append(
                    f"<p><b>{tr('This figure is no longer part of the design; it is shown as it was.')}</b></p>"
                )
            parts.append(self._working(figure))
        elif self._finding is not None:
            finding = self._finding
            parts.append(
                f"<p><b>{escape(finding.sentence(self.system))}</b><br><span "
                f"style='color:{look().muted}'>{tr('Source')}: {escape(finding.rule.source)}</span></p>"
            )
            parts += [self._working(figure) for figure in finding.figures]
        parts += [
            f"<p style='color:{look().muted}'>{tr('Pinned')}</p>" + self._working(by_name[name])
            for name in self._pinned
            if name in by_name and name != self._current
        ]
        self._pin.setChecked(self._current in self._pinned)
        self._back.setEnabled(len(self._trail) > 1 or (self._finding is not None and bool(self._trail)))
        self._text.setHtml(f"<div style='line-height:125%'>{''.join(parts)}</div>")

    def _working(self, figure: Figure) -> str:
        now = look()
        rows = []
        for given in figure.inputs:
            name = escape(given.name)
            if isinstance(given, Figure):
                self._figures.append(given)
                name = f"<a style='color:{now.live}' href='figure:{len(self._figures) - 1}'>{name}</a>"
            rows.append(
                f"<tr><td style='padding-right:10px'>{name}</td><td "
                f"align='right'>{escape(show(given.value, given.unit, self.system))}</td></tr>"
            )
        limit = f"<br>{escape(figure.limit[0].upper() + figure.limit[1:])}" if figure.limit else ""
        return (
            f"<p><b>{escape(figure.name)}: {escape(show(figure.value, figure.unit, self.system))}</b><br>= "
            f"{escape(figure.formula)}</p>"
            f"<table cellspacing='0' cellpadding='1'>{''.join(rows)}</table>"
            f"<p style='color:{now.muted}'>{tr('Source')}: {escape(figure.source)}{limit}</p>"
        )
