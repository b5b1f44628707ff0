"""The plan that is on show in all leaves of the step: made in the background, kept as long as its design is shown."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PySide6.QtWidgets import QComboBox

from weighty_axle.answers.plan.plan import Plan, plan
from weighty_axle.design.table import Design
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.days import today

SEARCH_S = 4.0
"""The search for a better plan takes this long at most; a plan is there at once."""


class PlanLeaf(Leaf):
    """A leaf that shows the plan: at once as it is quickly made, then as good as the search finds it."""

    plan: Plan | None = None

    def ask_plan(self, house: Design) -> None:
        """Make the plan of a design: the quick one now, the better one in the background."""
        day = today()
        self.plan = plan(house, day, longest_s=0)
        self.show_plan(self.plan)
        self.quietly((house, day.toordinal()), partial(_searched, house), self._better)

    def _better(self, found: Plan | None) -> None:
        if found is not None:
            self.plan = found
            self.show_plan(found)

    def show_plan(self, found: Plan) -> None:
        """Show a plan."""
        raise NotImplementedError


def put_workers(who: QComboBox, found: Plan) -> None:
    """Offer everybody and each worker of a plan; what is chosen stays where it still can."""
    names = [("", tr("everybody")), *((one.tag, f"{one.tag} {one.name}") for one in found.workers)]
    if [(who.itemData(at), who.itemText(at)) for at in range(who.count())] == names:
        return
    chosen = who.currentData()
    who.blockSignals(True)
    who.clear()
    for tag, name in names:
        who.addItem(name, tag)
    who.setCurrentIndex(max(0, who.findData(chosen)))
    who.blockSignals(False)


def _searched(house: Design, progress: Callable[[float, str], None]) -> Plan:
    return plan(house, today(), SEARCH_S, progress)
