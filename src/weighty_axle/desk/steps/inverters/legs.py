"""Legs: the beam with its circuits, what they carry, and the best legs with their proof."""

from __future__ import annotations

from functools import partial
from typing import Any

from PySide6.QtWidgets import QHBoxLayout, QPushButton

from weighty_axle.answers.inverters.balance import Balanced, balanced
from weighty_axle.answers.inverters.faults import open_neutral
from weighty_axle.design.table import Design
from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.figures import FigureRow
from weighty_axle.desk.kit.leaves import Leaf, TwoLines
from weighty_axle.desk.steps.inverters.beam import LegBeam
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.commands import Command
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import Edit
from weighty_axle.job.edits.inverters import STACKING_WORDS, remove_unit, set_arrangement, set_stacking
from weighty_axle.job.models.document import Job
from weighty_axle.physics.search.balance import CLOSE_VA
from weighty_axle.reference.tables import inverters
from weighty_axle.units import APPARENT, CURRENT, FRACTION, POWER, System, show


def _choose_spec(job: Job, _path: str, name: Any) -> Edit:
    spec = next(row for row in inverters().rows if row.name == name)
    stacking = job.inverters.stacking
    if spec.lines == 2:
        stacking = "one_two_legs"
    elif stacking == "one_two_legs":
        stacking = "split_phase" if len(job.inverters.units) > 1 else "single"
    return set_arrangement(spec, len(job.inverters.units), stacking)


INVERTER_FIELDS = (
    Field(
        "Inverter type",
        "inverters.spec.name",
        tuple((one.name, one.name) for one in inverters().rows),
        make=_choose_spec,
        wide=3,
    ),
    Field(
        "Stacking",
        "inverters.stacking",
        tuple(STACKING_WORDS.items()),
        make=lambda _job, _path, value: set_stacking(value),
        wide=2,
    ),
    Field("For hours, one", "inverters.spec.continuous_va", APPARENT),
    Field("Surge, one", "inverters.spec.surge_va", APPARENT),
    Field("No-load, one", "inverters.spec.no_load_w", POWER),
    Field("Asleep, one", "inverters.spec.sleep_w", POWER, empty="not known"),
    Field("At full load", "inverters.spec.full_load_efficiency", FRACTION),
    Field("Neutral rated", "inverters.neutral_a", CURRENT),
)


class LegsLeaf(Leaf):
    """Fields, beam, balance, figures."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.fields = Fields(session, system, INVERTER_FIELDS, len(INVERTER_FIELDS))
        self.column.addWidget(self.fields)
        self.beam = LegBeam(session)
        self.column.addWidget(self.beam, 1)
        row = QHBoxLayout()
        self.balance = QPushButton(tr("Balance for me"))
        self.balance.setObjectName("firm")
        self.balance.clicked.connect(self.balance_legs)
        row.addWidget(self.balance)
        self.less = QPushButton(tr("Remove inverter"))
        self.less.clicked.connect(self.remove_unit)
        row.addWidget(self.less)
        self.said = TwoLines()
        row.addWidget(self.said, 1)
        self.column.addLayout(row)
        self.figures = FigureRow(system)
        self.column.addWidget(self.figures)
        self.listen(self.beam, self.figures)

    def _unit(self) -> str:
        """The inverter that is selected, or the last; empty where there is none."""
        units = [unit.tag for unit in self.session.shown.job.inverters.units]
        return next((tag for tag in (*self.session.selection, *reversed(units)) if tag in units), "")

    def remove_unit(self) -> None:
        """Take an inverter away; what it fed is fed from those that are left."""
        self.said.setVisible(True)
        self.said.setText(self.session.apply(remove_unit(self._unit())) or "")

    def _told(self, design: Design, found: Balanced | None) -> None:
        """Whether other legs would do better, before anyone asks."""
        if found is None or self.session.shown.design is not design:
            return
        if found.edit is None:
            self.said.setText(tr("These legs are as good as any: {how}.").format(how=found.proof))
            return
        before, after = show(found.before_va.value, "VA"), show(found.after_va.value, "VA")
        names = {circuit.tag: circuit.name for circuit in design.circuits}
        moves = ", ".join(f"{names[tag]} → {leg}" for tag, leg in list(found.moves.items())[:4])
        self.said.setText(
            tr("Better: worst line {after} instead of {before}, by {moves}.").format(
                before=before, after=after, moves=moves
            )
        )

    def balance_legs(self) -> None:
        """Find the best legs in the background and hang the circuits so."""
        design = self.session.shown.design
        self.work(
            tr("Balancing the legs"), partial(_balance, design), partial(self._balanced, design), self.said.setText
        )

    def _balanced(self, design: Design, found: Balanced | None) -> None:
        if found is None:
            return
        if self.session.shown.design is not design:
            self.said.setText(tr("The job has changed meanwhile; balance again."))
            return
        problem = self.session.apply(found.edit) if found.edit is not None else None
        if problem:
            self.said.setText(problem)
            return
        before, after, bound = (show(one.value, "VA") for one in (found.before_va, found.after_va, found.bound_va))
        if found.edit is None:
            costs = found.bound_va.value + CLOSE_VA < found.after_va.value
            words = (
                tr("Nothing moves: a worst line of {bound} instead of {after} would cost a larger neutral.")
                if costs
                else tr("Nothing moves: no other legs have a worst line below {after}.")
            )
            text = words.format(bound=bound, after=after)
        else:
            neutral = tr("neutral {a} instead of {b}").format(
                a=show(found.neutral_after_va.value, "VA"), b=show(found.neutral_before_va.value, "VA")
            )
            text = tr("{n} moved: worst line {after} instead of {before}, {neutral}.").format(
                n=len(found.moves), before=before, after=after, neutral=neutral
            )
        proof = tr("Proof: {how}.") if found.proven else tr("Not proven best: nothing can be below {bound} ({how}).")
        self.said.setText(f"{text} {proof.format(how=found.proof, bound=bound)}")

    def commands(self) -> list[Command]:
        chosen = next(
            (
                tag
                for tag in self.session.selection
                if any(circuit.tag == tag for circuit in self.session.shown.job.ac.circuits)
            ),
            "",
        )
        found = [Command(tr("Balance the legs"), "", self.balance_legs)]
        if chosen:
            found.append(
                Command(
                    tr("Pin {tag} to its leg, or let it go").format(tag=chosen), "P", partial(self.beam.pin, chosen)
                )
            )
        return found

    def show_shown(self, shown: Shown) -> None:
        self.fields.show_shown(shown)
        result, lost = shown.design.inverters, open_neutral(shown.design)
        self.less.setText(tr("Remove {tag}").format(tag=self._unit()))
        self.less.setEnabled(len(shown.job.inverters.units) > 1)
        self.balance.setVisible(result.currents is not None)
        self.said.setVisible(result.currents is not None)
        if result.currents is not None:
            others = [
                one for one in (result.currents.neutral_split_a, result.currents.neutral_in_phase_a) if one is not None
            ]
            self.figures.put(
                (*others, result.currents.leg_balance, *((lost.worst,) if lost else ()), result.pulsating_va)
            )
        else:
            leg = result.legs[0]
            self.figures.put((leg.worst_va, leg.continuous_va, leg.start_va, leg.surge_va, result.pulsating_va))
        self.beam.update()
        if result.currents is not None:
            self.quietly((shown.design,), partial(_balance, shown.design), partial(self._told, shown.design))


def _balance(design: Design, progress: Any) -> Balanced | None:
    progress(0.1, tr("Searching, then proving"))
    found = balanced(design)
    progress(1.0, tr("Done"))
    return found
