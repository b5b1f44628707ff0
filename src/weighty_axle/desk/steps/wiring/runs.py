"""Wiring: the main DC runs, their conductors and fuses."""

from __future__ import annotations

from typing import Any, get_args

from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.leaves import Leaf
from weighty_axle.desk.steps.wiring.run_tree import CandidateChart, RunTree
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import Edit, set_value
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.wiring import InsulationClass
from weighty_axle.reference.tables import ampacity_tables, fuse_kinds
from weighty_axle.units import LENGTH, SMALL_SHARE, TEMPERATURE, System, read_conductor

CLASSES = tuple((celsius, f"{celsius} °C") for celsius in get_args(InsulationClass))
FUSES = tuple((kind.key, kind.name) for kind in fuse_kinds().values())


def _own_size(_job: Job, path: str, typed: Any) -> Edit:
    """The installer's own conductor for the selected run, as typed; nothing gives the computed one back."""
    size = read_conductor(typed) if typed else None
    return set_value(path, size, f"Own size {size}" if size else "Use the computed conductor")


WIRING_FIELDS = (
    Field("Main fuse", "wiring.main_fuse", FUSES, wide=2),
    Field("Branch fuses", "wiring.branch_fuse", FUSES, wide=2),
    Field(
        "Ampacity table",
        "wiring.ampacity_table",
        tuple((table.key, table.title) for table in ampacity_tables().values()),
        wide=2,
    ),
    Field("Insulation", "wiring.insulation_c", CLASSES),
    Field("Air around", "wiring.ambient_c", TEMPERATURE),
    Field("Runs in one bundle", "wiring.runs_together", int),
    Field("Terminals made for", "wiring.terminals_c", ((None, "as usual"), *CLASSES)),
    Field("Drop allowed", "wiring.drop_allowed", SMALL_SHARE),
    Field("Own size, this run", "wiring.conductors[{tag}]", str, empty="computed", make=_own_size),
    Field("Main run, measured", "wiring.main_lead_m", LENGTH, empty="from the drawing"),
)


class WiringLeaf(Leaf):
    """Fields, the tree, the candidates."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.fields = Fields(session, system, WIRING_FIELDS, 5)
        self.column.addWidget(self.fields)
        self.tree = RunTree(session, system)
        self.column.addWidget(self.tree, 4)
        self.chart = CandidateChart(session, self.tree, system)
        self.column.addWidget(self.chart, 4)
        self.row_of(("Use the computed size", self._use_computed))
        self.computed = self.presses["Use the computed size"]
        self.figures = self.figure_row()
        self.listen(self.tree, self.chart)
        session.selected.connect(self._on_selected)

    def _on_selected(self, _tags: tuple[str, ...]) -> None:
        if self.isVisible():
            self.show_shown(self.session.shown)

    def _use_computed(self) -> None:
        run = self.tree.chosen()
        self.session.apply(set_value(f"wiring.conductors[{run.tag}]", None, f"Use the computed conductor on {run.tag}"))

    def show_shown(self, shown: Shown) -> None:
        run = self.tree.chosen()
        self.fields.show_shown(shown, run.tag)
        self.computed.setEnabled(run.own_choice)
        self.figures.put(
            (run.ampacity_a, run.fuse_a, run.drop_share, run.prospective_a, shown.design.ripple.inverter_v)
        )
        self.tree.update()
        self.chart.update()
