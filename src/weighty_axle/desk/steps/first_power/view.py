"""First power: what is checked before it, and in what order it comes alive."""

from __future__ import annotations

from weighty_axle.desk.kit.leaves import StepView


class FirstPowerView(StepView):
    """What is checked before it, and in what order it comes alive."""

    leaf_classes = (
        ("Before power", "before.BeforeLeaf"),
        ("Cards", "cards.CardsLeaf"),
        ("Rehearse", "rehearse.RehearseLeaf"),
    )
