"""Charging: what fills the bank, how long it takes, what must never be asked of an alternator, and who gives way."""

from __future__ import annotations

from weighty_axle.desk.kit.leaves import StepView


class ChargingView(StepView):
    """Sources, filling, alternator, engine, low voltage, generator and stages of a conversion."""

    leaf_classes = (
        ("Mix", "mixes.ChargingLeaf"),
        ("Filling", "curves.FillingLeaf"),
        ("Budget", "budget.BudgetLeaf"),
        ("Engine", "engine.EngineLeaf"),
        ("Low voltage", "bars.BarsLeaf"),
        ("Generator", "generator.GeneratorLeaf"),
        ("Stages", "stages.StagesLeaf"),
    )
