"""Lesson: the owner's page as it prints."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QVBoxLayout, QWidget

from weighty_axle.answers.proving.lesson import lesson
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.kit.theme import scaled
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.units import System


class LessonLeaf(Leaf):
    """The press, and the page in large letters."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.row_of(("Print the owner's page …", partial(self.wants.emit, "lesson out")))
        self.page = QWidget()
        self.lines = QVBoxLayout(self.page)
        self.lines.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.room = self.scrolled(self.page)
        self.room.setAccessibleName(tr("The owner's page"))
        self._said: tuple[object, ...] = ()

    def show_shown(self, shown: Shown) -> None:
        chapters = lesson(shown.house, self.system)
        if chapters == self._said:
            return
        self._said = chapters
        while self.lines.count():
            gone = self.lines.takeAt(0)
            widget = gone.widget() if gone is not None else None
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        for chapter in chapters:
            title = Label(tr(chapter.title))
            title.setFont(scaled(12, bold=True))
            self.lines.addWidget(title)
            for line in chapter.lines:
                label = Label(line)
                label.setFont(scaled(11))
                label.setWordWrap(True)
                self.lines.addWidget(label)
