"""Vehicle: what was measured, and what each axle has left."""

from __future__ import annotations

from weighty_axle.desk.kit.leaves import StepView


class VehicleView(StepView):
    """What was measured: the vehicle itself, its roof, bays and wire ways, and the photo list."""

    leaf_classes = (
        ("Measured", "measured.MeasuredLeaf"),
        ("Roof", "survey.RoofLeaf"),
        ("Bays and ways", "survey.BaysLeaf"),
        ("Photos and sheet", "survey.PhotosLeaf"),
    )
