"""Top bar and the notices under it."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from msgspec import Struct
from PySide6.QtCore import Qt
from PySide6.QtGui import QColor, QPaintEvent, QPen
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QWidget

from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.painting import painting
from weighty_axle.desk.kit.theme import look, scaled
from weighty_axle.desk.text import press_words, tip, tr
from weighty_axle.desk.work.background import Task
from weighty_axle.desk.work.commands import Command
from weighty_axle.desk.work.job_files import when_words
from weighty_axle.desk.work.session import Session
from weighty_axle.job.edits.inverters import STACKING_WORDS
from weighty_axle.job.models.inverters import voltage_words
from weighty_axle.units import show

if TYPE_CHECKING:
    from PySide6.QtWidgets import QProgressBar


class TopBar(QWidget):
    """Job name and kind, find or do, undo, print, saved state."""

    def __init__(
        self,
        find: Callable[[], None],
        undo: Callable[[], None],
        pack: Callable[[], None],
        save: Callable[[], None],
        menu: Callable[[], list[Command]],
    ) -> None:
        super().__init__()
        self._menu_commands = menu
        self.setFixedHeight(40)
        row = QHBoxLayout(self)
        row.setContentsMargins(10, 0, 12, 0)
        self._job = QPushButton(tr("Job"))
        self._job.setAccessibleName(tr("Job menu"))
        self._job.clicked.connect(self._open_menu)
        row.addWidget(self._job)
        self._name = Label("Weighty Axle")
        self._name.setFont(scaled(12, bold=True))
        row.addWidget(self._name)
        self._kind = Label()
        self._kind.setObjectName("muted")
        row.addSpacing(14)
        row.addWidget(self._kind)
        row.addStretch(1)
        search = QPushButton(tr("Find or do…        Ctrl K"))
        search.setFixedWidth(230)
        search.setStyleSheet(
            f"border: 1px solid {look().line}; background: {look().panel}; color: {look().muted}; text-align: "
            "left; padding: 4px 10px;"
        )
        search.setAccessibleName(tr("Find or do"))
        search.clicked.connect(find)
        row.addWidget(search)
        row.addStretch(1)
        self._undo = QPushButton(tr("Undo"))
        self._undo.clicked.connect(undo)
        self._pack = QPushButton(tr("Print"))
        self._pack.clicked.connect(pack)
        self._save = QPushButton(tr("Save"))
        self._save.clicked.connect(save)
        for press in (self._undo, self._pack, self._save):
            press.setVisible(False)
            row.addWidget(press)

    def show_session(self, session: Session) -> None:
        """Show what is open, what undo takes back, and whether it is saved."""
        job = session.shown.job
        self._name.setText(job.name)
        volts = show(session.shown.design.bank.nominal_v.value, "V")
        ac = f"{voltage_words(job.inverters)} {STACKING_WORDS[job.inverters.stacking]}"
        kind = ac if job.inverters.units else tr("DC only")
        self._kind.setText(f"{job.vehicle.description} · {volts} · {kind}")
        for press in (self._undo, self._pack, self._save):
            press.setVisible(True)
        label = session.undo_label
        self._undo.setEnabled(bool(label))
        self._undo.setToolTip(tip(label))
        text = tr("Undo: {label}").format(label=label) if label else tr("Undo")
        self._undo.setText(press_words(self._undo.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, 180)))
        if session.dirty:
            self._save.setText(tr("Save"))
        elif session.path is not None:
            self._save.setText(
                tr("Saved {time}").format(time=when_words(session.saved_at)) if session.saved_at else tr("Save")
            )
        else:
            self._save.setText(tr("Save as…"))

    def _open_menu(self) -> None:
        from PySide6.QtWidgets import QMenu

        menu = QMenu(self)
        group: str | None = "job"
        for command in self._menu_commands():
            if command.menu != group:
                menu.addSeparator()
                group = command.menu
            words = press_words(command.words)
            menu.addAction(f"{words}\t{command.key}" if command.key else words, command.do)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        menu.popup(self._job.mapToGlobal(self._job.rect().bottomLeft()))

    def paintEvent(self, _event: QPaintEvent) -> None:
        with painting(self) as painter:
            painter.fillRect(self.rect(), QColor(look().paper))
            painter.setPen(QPen(QColor(look().line), 1))
            painter.drawLine(0, self.height() - 1, self.width(), self.height() - 1)


Actions = tuple[tuple[str, Callable[[], None]], ...]


class Said(Struct, frozen=True):
    """What a notice says: a sentence with presses, or work with how far it is."""

    text: str
    actions: Actions
    task: Task | None = None


class NoticeBar(QWidget):
    """One notice at a time, under the top bar: a sentence with presses, or long work with progress and cancel."""

    def __init__(self) -> None:
        super().__init__()
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setStyleSheet(f"NoticeBar {{ background: {look().live_soft}; }}")
        self._row = QHBoxLayout(self)
        self._row.setContentsMargins(16, 4, 8, 4)
        self.text = Label()
        self.text.setWordWrap(True)
        self.text.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self._row.addWidget(self.text, 1)
        self._bar: QProgressBar | None = None
        self._presses: list[QPushButton] = []
        self._said: Said | None = None
        self.hide()

    @property
    def said(self) -> Said | None:
        """What is on show."""
        return None if self.isHidden() else self._said

    def say_again(self, said: Said) -> None:
        """What another bar showed."""
        if said.task is not None:
            self.show_task(said.task)
        else:
            self.say(said.text, said.actions)

    def say(self, text: str, actions: Actions = ()) -> None:
        """Say a sentence, with presses."""
        self._said = Said(text, actions)
        self._fill(text, actions or ((tr("Close"), self.hide),))
        if self._bar is not None:
            self._bar.hide()

    def show_task(self, task: Task) -> None:
        """Show long work."""
        from PySide6.QtWidgets import QProgressBar

        if self._bar is None:
            self._bar = QProgressBar()
            self._bar.setFixedWidth(220)
            self._row.addWidget(self._bar)
        self._said = Said("", (), task)
        self._fill(task.title, ((tr("Cancel"), task.cancel),))
        self._bar.setRange(0, 100)
        self._bar.setValue(0)
        self._bar.show()

    def progress(self, share: float, words: str) -> None:
        """Show how far the work is."""
        if self._bar is not None:
            self._bar.setValue(round(share * 100))
            self._bar.setFormat(f"{words} %p %")

    def _fill(self, text: str, actions: Actions) -> None:
        self.text.setText(text)
        for press in self._presses:
            press.deleteLater()
        self._presses = []
        for words, do in actions:
            press = QPushButton(press_words(words))
            press.clicked.connect(do)
            self._row.addWidget(press)
            self._presses.append(press)
        self.show()
