"""What a new user sees first: what this is, and where to begin."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PySide6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from weighty_axle import demos
from weighty_axle.desk.kit.label import Label
from weighty_axle.desk.kit.theme import scaled
from weighty_axle.desk.text import press_words, tip, tr
from weighty_axle.job.files.disk import path_of, shown
from weighty_axle.reference.vehicle_types import vehicle_types


class StartPage(QWidget):
    """Demo jobs, a new job, recent jobs."""

    def __init__(
        self,
        open_name: Callable[[str], None],
        new_from_type: Callable[[str], None],
        browse: Callable[[], None],
        show_fleet: Callable[[], None],
        recent: tuple[str, ...],
    ) -> None:
        super().__init__()
        outer = QVBoxLayout(self)
        outer.addStretch(1)
        column = QVBoxLayout()
        column.setContentsMargins(120, 0, 120, 0)
        title = Label("Weighty Axle")
        title.setFont(scaled(24, bold=True))
        column.addWidget(title)
        column.addWidget(
            Label(
                tr(
                    "Design, prove, build and hand over 24 V and 48 V power systems in buses, coaches and large "
                    "trailers."
                )
            )
        )
        column.addSpacing(18)
        self._heading(column, tr("Look around in a finished job"))
        for name in demos.names():
            self._press(column, demos.demo(name).name, partial(open_name, f"demo:{name}"))
        self._heading(column, tr("Start a new job from a vehicle type; its sizes are measured over later"))
        for kind in vehicle_types().rows:
            self._press(column, kind.title, partial(new_from_type, kind.key))
        self._heading(column, tr("Open"))
        self._press(column, tr("A job file…"), browse)
        self._press(column, tr("A folder of jobs, as a fleet…"), show_fleet)
        for path in recent[:6]:
            self._press(column, shown(path_of(path)), partial(open_name, path)).setToolTip(tip(path))
        outer.addLayout(column)
        outer.addStretch(2)

    def _heading(self, column: QVBoxLayout, text: str) -> None:
        label = Label(text)
        label.setObjectName("muted")
        column.addSpacing(10)
        column.addWidget(label)

    def _press(self, column: QVBoxLayout, text: str, do: Callable[[], None]) -> QPushButton:
        press = QPushButton(press_words(text))
        press.setObjectName("plain")
        press.clicked.connect(lambda: do())
        column.addWidget(press)
        return press
