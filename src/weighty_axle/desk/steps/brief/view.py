"""Brief: what must run, when and together; the day, its energy, run-together, the year's stays, what is on board
already.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from weighty_axle.desk.kit.leaves import StepView
from weighty_axle.desk.steps.brief.day import DayLeaf
from weighty_axle.desk.work.session import Session
from weighty_axle.steps import Step
from weighty_axle.units import System

if TYPE_CHECKING:
    from weighty_axle.exports.tables.loads_read import LoadsRead


class BriefView(StepView):
    """The leaves of the brief. Selecting a thing turns to the leaf that shows it."""

    leaf_classes = (
        ("Day", "day.DayLeaf"),
        ("Energy", "energy.EnergyLeaf"),
        ("Run together", "run_together.RunTogetherLeaf"),
        ("Stays", "stays.StaysLeaf"),
        ("On board", "equipment.OnBoardLeaf"),
    )

    def __init__(self, step: Step, session: Session, system: System) -> None:
        super().__init__(step, session, system)
        session.selected.connect(self._on_selected)

    @property
    def day(self) -> DayLeaf:
        """The leaf with the ribbons, which is always made."""
        leaf = self.leaves["Day"]
        assert isinstance(leaf, DayLeaf)
        return leaf

    def _on_selected(self, tags: tuple[str, ...]) -> None:
        job = self.session.shown.job
        homes = [
            name
            for name, things in (("Stays", job.stays), ("On board", job.existing))
            if any(one.tag in tags for one in things)
        ]
        if (
            not homes
            and self.leaf_name in ("Energy", "Stays", "On board")
            and any(load.tag in tags for load in job.loads)
        ):
            homes = ["Day"]
        if homes and homes[0] != self.leaf_name:
            self.turn_to(homes[0])
        else:
            self.leaf.show_shown(self.session.shown)

    def show_read(self, read: LoadsRead, name: str) -> None:
        """Show what a table of loads holds before it is taken in."""
        self.turn_to("Day")
        self.day.show_read(read, name)
