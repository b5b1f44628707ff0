"""Brief: what must run, when and together; the day, its energy, run-together, the year's stays, what is on board already."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from importlib import import_module
from typing import TYPE_CHECKING

from weighty_axle.desk.session import Session
from weighty_axle.desk.steps.brief.day import DayLeaf
from weighty_axle.desk.steps.view import Leaf, LeafedView
from weighty_axle.units import System

if TYPE_CHECKING:
    from weighty_axle.exports.loads_table import LoadsRead


def _late(module: str, name: str, session: Session, system: System) -> Leaf:
    """A leaf that is imported when it is first turned to."""
    maker: Callable[[Session, System], Leaf] = getattr(import_module(f"weighty_axle.desk.steps.brief.{module}"), name)
    return maker(session, system)


class BriefView(LeafedView):
    """The leaves of the brief. Selecting a thing turns to the leaf that shows it."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(
            session, system, "Brief", "what must run, when, and together",
            {
                "Day": partial(DayLeaf, session, system),
                "Energy": partial(_late, "energy", "EnergyLeaf", session, system),
                "Run together": partial(_late, "run_together", "RunTogetherLeaf", session, system),
                "Stays": partial(_late, "stays", "StaysLeaf", session, system),
                "On board": partial(_late, "on_board", "OnBoardLeaf", session, system),
            },
        )  # fmt: skip
        session.selected.connect(self._on_selected)

    @property
    def day(self) -> DayLeaf:
        """The leaf with the ribbons, which is always made."""
        leaf = self.leaves["Day"]
        assert isinstance(leaf, DayLeaf)
        return leaf

    def _on_selected(self, tags: tuple[str, ...]) -> None:
        job = self.session.shown.job
        homes = [name for name, things in (("Stays", job.stays), ("On board", job.existing)) if any(one.tag in tags for one in things)]
        if not homes and self.leaf_name in ("Energy", "Stays", "On board") and any(load.tag in tags for load in job.loads):
            homes = ["Day"]
        if homes and homes[0] != self.leaf_name:
            self.turn_to(homes[0])
        else:
            self.leaf.show_shown(self.session.shown)

    def show_read(self, read: LoadsRead, name: str) -> None:
        """Show what a table of loads holds before it is taken in."""
        self.turn_to("Day")
        self.day.show_read(read, name)
