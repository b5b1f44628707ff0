"""Charging: every mix of sources stacked against what the bank takes."""

from __future__ import annotations

from weighty_axle.desk.kit.leaves import StepView


class ChargingView(StepView):
    """Every mix of sources stacked against what the bank takes."""

    leaf_classes = (("Sources", "mixes.ChargingLeaf"), ("Bars", "bars.BarsLeaf"))
