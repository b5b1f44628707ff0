"""Roof: plan, fill, strings, shade, yield, fixings, arrays elsewhere."""

from __future__ import annotations

from weighty_axle.desk.kit.leaves import StepView


class RoofView(StepView):
    """The leaves of the roof."""

    leaf_classes = (
        ("Plan", "layout.PlanLeaf"),
        ("Fill", "fill.FillLeaf"),
        ("Strings", "strings.StringsLeaf"),
        ("Shade", "shade.ShadeLeaf"),
        ("Yield", "yields.YieldLeaf"),
        ("Fixings", "fixings.FixingsLeaf"),
        ("Elsewhere", "elsewhere.ElsewhereLeaf"),
    )
