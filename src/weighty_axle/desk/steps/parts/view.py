"""Parts: what to order, what is here, and what is late."""

from __future__ import annotations

from weighty_axle.desk.kit.leaves import StepView


class PartsView(StepView):
    """What to order, what is here, and what is late."""

    leaf_classes = (("Arrivals", "arrivals.ArrivalsLeaf"), ("List", "listing.ListLeaf"))
