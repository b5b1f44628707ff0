"""Inverters: legs, sources, panels, states, selectors, size, sleep."""

from __future__ import annotations

from functools import partial

from weighty_axle.desk.session import Session
from weighty_axle.desk.steps.inverters.legs import LegsLeaf
from weighty_axle.desk.steps.view import LeafedView, late
from weighty_axle.units import System


class InvertersView(LeafedView):
    """The leaves of the AC side."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(
            session, system, "Inverters", "legs, sources, panels and their states",
            {
                "Legs": partial(LegsLeaf, session, system),
                "Sources": partial(late, "inverters.sources", "SourcesLeaf", session, system),
                "Panels": partial(late, "inverters.panels", "PanelsLeaf", session, system),
                "States": partial(late, "inverters.states", "StatesLeaf", session, system),
                "Selectors": partial(late, "inverters.selectors", "SelectorsLeaf", session, system),
                "Size": partial(late, "inverters.size", "SizeLeaf", session, system),
                "Sleep": partial(late, "inverters.asleep", "AsleepLeaf", session, system),
            },
        )  # fmt: skip
