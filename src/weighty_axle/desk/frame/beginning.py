"""The three things that shape a new job, asked above it and not in the way: practice, voltage class, kind of AC."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial
from typing import Any

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QPushButton, QWidget

from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.theme import look, scaled
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session
from weighty_axle.reference.first_job import AC_KINDS, Beginning, begin_with, begun_as
from weighty_axle.reference.vehicle_types import VehicleType

_PRACTICE = (("north_american", "North American"), ("international", "International"))
_VOLTS = ((12, "12 V"), (24, "24 V"), (48, "48 V"))
_AC_WORDS = {
    "none": "none: DC only",
    "one_line": "one line",
    "split_phase": "120/240 V split-phase",
    "three_phase": "three-phase",
}


_Press = tuple[str, bool, Callable[[], None]]


class BeginningNote(QWidget):
    """Asks while what the answers make is as it was made, so that no press takes away what was worked on; each press
    acts at once and can be undone.

    `decides_later` asks for the comparison of the voltages.
    """

    done = Signal()
    decides_later = Signal()

    def __init__(self, session: Session, kind: VehicleType, parent: QWidget) -> None:
        super().__init__(parent)
        self._session, self._kind = session, kind
        self.presses: dict[str, QPushButton] = {}
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setStyleSheet(f"BeginningNote {{ background: {look().live_soft}; }}")
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(16, 6, 16, 6)
        self._grid.setHorizontalSpacing(18)
        self._grid.setVerticalSpacing(2)
        title = Label(tr("What shapes this job"))
        title.setFont(scaled(10.5, bold=True))
        self._grid.addWidget(title, 0, 0)
        close = QPushButton(tr("Go on"))
        close.setObjectName("firm")
        close.clicked.connect(self.done)
        self._grid.addWidget(close, 0, 4)
        self._grid.setColumnStretch(3, 1)
        self._rows: list[QWidget] = []
        self._shape: Beginning | None = None
        self._follow()
        session.changed.connect(self._follow)

    def _follow(self) -> None:
        """Ask as the job now is."""
        shape = begun_as(self._session.shown.whole, self._kind)
        if shape is not None and shape != self._shape:
            self._fill(shape)
        self._shape = shape
        self.setVisible(shape is not None and self._session.begun is not None)

    def _fill(self, shape: Beginning) -> None:
        """The presses of a shape."""
        for row in self._rows:
            row.deleteLater()
        self._rows, self.presses = [], {}
        practice, volts, ac = shape
        self._row(
            0,
            tr("Practice"),
            [(tr(words), one == practice, partial(self._take, practice=one)) for one, words in _PRACTICE],
        )
        classes: list[_Press] = [(words, one == volts, partial(self._take, volts=one)) for one, words in _VOLTS]
        self._row(1, tr("Bank"), [*classes, (tr("decide later"), False, self.decides_later.emit)])
        self._row(
            2, tr("AC"), [(tr(_AC_WORDS[one]), one == ac, partial(self._take, ac=one)) for one in AC_KINDS[practice]]
        )

    def _row(self, at: int, words: str, presses: Sequence[_Press]) -> None:
        holder = QWidget()
        row = QHBoxLayout(holder)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(4)
        label = Label(words)
        label.setObjectName("muted")
        row.addWidget(label)
        for text, chosen, do in presses:
            press = QPushButton(text)
            press.setCheckable(True)
            press.setChecked(chosen)
            press.setAccessibleName(f"{words}: {text}")
            press.clicked.connect(lambda _checked, do=do: do())
            self.presses[f"{words}: {text}"] = press
            row.addWidget(press)
        row.addStretch(1)
        self._grid.addWidget(holder, 1, at)
        self._rows.append(holder)

    def _take(self, **changed: Any) -> None:
        assert self._shape is not None
        shape = self._shape._replace(**changed)
        if shape.ac not in AC_KINDS[shape.practice]:
            shape = shape._replace(ac=AC_KINDS[shape.practice][0])
        words = f"{dict(_PRACTICE)[shape.practice]}, {shape.volts} V, {_AC_WORDS[shape.ac]}"
        self._session.apply(begin_with(self._kind, shape, f"Begin with {words}"))
        self._fill(self._shape)
