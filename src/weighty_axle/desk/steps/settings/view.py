"""Settings: the ladder of voltages, the sheet of every unit, what was changed since."""

from __future__ import annotations

from weighty_axle.desk.kit.leaves import StepView


class SettingsView(StepView):
    """The ladder of voltages, the sheet of every unit, what was changed since."""

    leaf_classes = (
        ("Set points", "points.SettingsLeaf"),
        ("Sheets", "sheets.SheetsLeaf"),
        ("Changes", "sheets.ChangesLeaf"),
    )
