"""Photos of entries: shown as large as there is room, taken in by the background."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtGui import QPixmap, QResizeEvent
from PySide6.QtWidgets import QLabel, QSizePolicy

from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.text import tr
from weighty_axle.job.files.photos import PhotoError, take_in


class Picture(QLabel):
    """The photo of the entry that is selected, as large as there is room."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(tr("Photo of the entry"))
        self.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.setMinimumSize(180, 120)
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Ignored)
        self._whole = QPixmap()

    def put(self, raw: bytes | None) -> None:
        """Show a photo, or none."""
        self._whole = QPixmap()
        if raw is not None:
            self._whole.loadFromData(raw)
        self._fit()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._fit()

    def _fit(self) -> None:
        if self._whole.isNull():
            self.setText(tr("No photo"))
            return
        how, smooth = Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation
        self.setPixmap(self._whole.scaled(self.size(), how, smooth))


class PhotoTaking:
    """Photos for the entries of a leaf: each is kept before an entry names it."""

    def __init__(self, leaf: Leaf, said: Callable[[str], None], add: Callable[[str], None]) -> None:
        self._leaf, self._said, self._add = leaf, said, add

    def ask(self) -> None:
        """Ask for a picture, and add an entry with it."""
        from PySide6.QtWidgets import QFileDialog

        kinds = tr("Pictures (*.jpg *.jpeg *.png *.tif *.tiff *.webp)")
        name, _ = QFileDialog.getOpenFileName(self._leaf, tr("A photo"), "", kinds)
        if name:
            self.take(Path(name))

    def take(self, path: Path) -> None:
        """Take a photo in beside the window, and add an entry with it."""
        self._leaf.work(tr("The photo"), partial(_take_in, path), self._taken, self._said)

    def _taken(self, found: tuple[str, str]) -> None:
        name, problem = found
        if problem:
            self._said(problem)
        else:
            self._add(name)


def _take_in(path: Path, progress: Callable[[float, str], None]) -> tuple[str, str]:
    """Take a photo in, as a task does it: its name, or the sentence of why not."""
    del progress
    try:
        return take_in(path), ""
    except PhotoError as error:
        return "", str(error)
    except OSError as error:
        return "", f"{path.name}: {error.strerror or error}"
