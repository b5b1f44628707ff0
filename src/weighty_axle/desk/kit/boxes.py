"""Boxes for a number that is said for the next press, not stated in the job."""

from __future__ import annotations

from PySide6.QtWidgets import QDoubleSpinBox


def number_box(
    name: str, value: float, low: float, high: float, *, unit: str = "", step: float = 1.0, decimals: int = 0
) -> QDoubleSpinBox:
    """A box with arrows; its name is read out for the line in it too."""
    box = QDoubleSpinBox()
    box.setDecimals(decimals)
    box.setRange(low, high)
    box.setSingleStep(step)
    box.setValue(value)
    box.setSuffix(f" {unit}" if unit else "")
    box.setAccessibleName(name)
    box.lineEdit().setAccessibleName(name)
    return box
