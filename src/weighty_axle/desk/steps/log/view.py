"""Log: what happened since the handover, what was recorded, and what is to be done about it."""

from __future__ import annotations

from weighty_axle.desk.kit.leaves import StepView


class LogView(StepView):
    """What happened since."""

    leaf_classes = (
        ("Entries", "entries.EntriesLeaf"),
        ("Recorded", "recorded.RecordedLeaf"),
        ("Find", "find.FindLeaf"),
        ("Swap", "swap.SwapLeaf"),
        ("States", "states.StatesLeaf"),
        ("Services", "services.ServicesLeaf"),
    )
