"""Inverters: legs, sources, panels, states, selectors, size, sleep."""

from __future__ import annotations

from weighty_axle.desk.kit.leaves import StepView


class InvertersView(StepView):
    """The leaves of the AC side."""

    leaf_classes = (
        ("Legs", "legs.LegsLeaf"),
        ("Sources", "sources.SourcesLeaf"),
        ("Panels", "panels.PanelsLeaf"),
        ("States", "states.StatesLeaf"),
        ("Selectors", "selectors.SelectorsLeaf"),
        ("Size", "size.SizeLeaf"),
        ("Sleep", "asleep.AsleepLeaf"),
    )
