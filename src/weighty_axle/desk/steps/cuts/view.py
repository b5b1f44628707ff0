"""Cuts: what comes off which reel, what is cut, what is labelled."""

from __future__ import annotations

from weighty_axle.desk.kit.leaves import StepView


class CutsView(StepView):
    """What comes off which reel, what is cut, what is labelled."""

    leaf_classes = (
        ("Reels", "reels.ReelsLeaf"),
        ("List", "listing.ListLeaf"),
        ("Labels", "labels.LabelsLeaf"),
        ("Stock", "stock.StockLeaf"),
        ("Board", "board.BoardLeaf"),
    )
