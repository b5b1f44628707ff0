"""Place: where everything sits, and what the axles say."""

from __future__ import annotations

from weighty_axle.desk.kit.leaves import StepView


class PlaceView(StepView):
    """Where everything sits, and what the axles say."""

    leaf_classes = (
        ("Place", "places.PlaceLeaf"),
        ("Where", "where.WhereLeaf"),
        ("Lading", "lading.LadingLeaf"),
        ("Heat", "heat.HeatLeaf"),
        ("Fixing", "fixing.FixingLeaf"),
        ("Ways", "ways.WaysLeaf"),
        ("First fix", "first_fix.FirstFixLeaf"),
    )
