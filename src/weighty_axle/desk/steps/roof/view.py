"""Roof: plan, fill, strings, shade, yield, fixings, arrays elsewhere."""

from __future__ import annotations

from functools import partial

from weighty_axle.desk.session import Session
from weighty_axle.desk.steps.roof.layout import PlanLeaf
from weighty_axle.desk.steps.view import LeafedView, late
from weighty_axle.units import System


class RoofView(LeafedView):
    """The leaves of the roof."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(
            session, system, "Roof", "modules, strings and controller windows",
            {
                "Plan": partial(PlanLeaf, session, system),
                "Fill": partial(late, "roof.filling", "FillLeaf", session, system),
                "Strings": partial(late, "roof.stringing", "StringsLeaf", session, system),
                "Shade": partial(late, "roof.shading", "ShadeLeaf", session, system),
                "Yield": partial(late, "roof.yielding", "YieldLeaf", session, system),
                "Fixings": partial(late, "roof.holding", "FixingsLeaf", session, system),
                "Elsewhere": partial(late, "roof.elsewhere", "ElsewhereLeaf", session, system),
            },
        )  # fmt: skip
