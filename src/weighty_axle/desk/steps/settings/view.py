"""Settings: the ladder of voltages and the sheet of set points."""

from __future__ import annotations

from weighty_axle.desk.kit.leaves import StepView


class SettingsView(StepView):
    """The ladder of voltages and the sheet of set points."""

    leaf_classes = (("Settings", "points.SettingsLeaf"),)
