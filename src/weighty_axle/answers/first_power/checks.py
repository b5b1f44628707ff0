"""What is checked before power: from this design, each reading with what it should be, and what a wrong one means."""

from __future__ import annotations

import math
from collections.abc import Iterator

from weighty_axle.answers.first_power.check import Check, Checks, Verdict
from weighty_axle.answers.first_power.sun import cells_now
from weighty_axle.answers.plan.torques import joints_due
from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Figure, Given
from weighty_axle.design.table import Design
from weighty_axle.job.models.inverters import line_v
from weighty_axle.job.models.roof import spec_of

GROUPS = ("Joints", "Packs", "Isolation", "Polarity", "Arrays", "Around it")
"""Groups of checks in the order they are made: each must be done before the next card is taken up."""

METER_SHARE, METER_V = 0.01, 0.1
"""What a usual multimeter may be off on direct voltage: share of the reading and volts.

Source: common practice, no source; write down the meter's own class.
"""

ISOLATION_MOHM = 1.0
"""Least resistance of an AC circuit to earth at 500 V direct. Source: IEC 60364-6 table 6A (recalled)."""

SUN_BAND = 0.05
"""Share an array's open voltage may differ by from what sun and air say. Source: common practice, no source."""

OPEN_CELL_V = {"lfp": (2.9, 3.65), "nmc": (3.2, 4.2), "flooded": (1.95, 2.2), "agm": (1.95, 2.2)}
"""Open voltage of a cell between empty and freshly charged. Source: common practice, no source."""


def checks(design: Design) -> tuple[Check, ...]:
    """Every check of the whole job before anything is energised.

    Source: common practice, no source; IEC 60364-6 (recalled) for isolation; voltages from the design.
    """
    made = _Checks(design)
    found = tuple(made.all())
    return tuple(one for group in GROUPS for one in found if one.group == group)


def missing(design: Design) -> tuple[Check, ...]:
    """Checks that are open or bad.

    Source: the checks.
    """
    return tuple(one for one in checks(design) if not one.done)


class _Checks(Checks):
    """The checks while they are made."""

    def __init__(self, design: Design) -> None:
        super().__init__(design, design.whole.proving.readings)
        self.banks = [one for one in (design, *design.others) if not one.system.shares_bank]

    def all(self) -> Iterator[Check]:
        """All of them."""
        yield from self._joints()
        for own in self.banks:
            yield from self._packs(own)
        yield from self._isolation()
        for own in self.banks:
            yield from self._polarity(own)
            yield from self._arrays(own)
        yield from self._around()

    def _joints(self) -> Iterator[Check]:
        due = joints_due(self.design)
        open_ = [one.key for one in due if one.record is None]
        off = [one.key for one in due if one.off]
        verdict: Verdict = "open" if open_ else "bad" if off else "good"
        says = (
            f"{len(open_)} of {len(due)} joints have no record: {', '.join(open_[:3])}{' …' if len(open_) > 3 else ''}"
            if open_
            else f"off their value: {', '.join(off)}"
            if off
            else ""
        )
        yield Check(
            key="joints",
            group="Joints",
            words="Every joint is tightened to its value, marked and written down (step Plan, Joints)",
            tags=(),
            verdict=verdict,
            says=says,
        )

    def _packs(self, own: Design) -> Iterator[Check]:
        bank = own.job.bank
        cell = OPEN_CELL_V[bank.spec.chemistry]
        cells = bank.spec.cells_in_series
        for pack in bank.packs:
            wanted = Figure.product(
                name=f"{pack.tag}: open voltage",
                unit="V",
                formula="cells × nominal cell voltage",
                inputs=(Given("Cells in series", cells, "count"), Given("Nominal cell", bank.spec.cell_nominal_v, "V")),
                source=PRACTICE,
                limit="between an empty and a freshly charged cell",
            )
            yield self._read(
                f"{pack.tag} voltage",
                "Packs",
                f"{pack.tag}: voltage at its own terminals, red lead on plus, nothing connected",
                (pack.tag,),
                wanted,
                cells * cell[0],
                cells * cell[1],
                "V",
                "a pack that is not this type, deeply discharged, or switched off by its own electronics",
            )

    def _isolation(self) -> Iterator[Check]:
        for own in (self.design, *self.design.others):
            for circuit in own.circuits if own.job.inverters.units else ():
                yield self._read(
                    f"{circuit.tag} isolation",
                    "Isolation",
                    f"{circuit.tag} {circuit.name}: line and neutral to earth at 500 V direct, loads unplugged",
                    (circuit.tag,),
                    None,
                    ISOLATION_MOHM,
                    math.inf,
                    "MΩ",
                    "a nicked or pinched cable, moisture, or a load still connected",
                )

    def _polarity(self, own: Design) -> Iterator[Check]:
        for run in own.wiring.runs:
            yield self.tick(
                f"{own.system.key} {run.tag} polarity".strip(),
                "Polarity",
                f"{run.tag}: plus runs to plus and minus to minus, by ohmmeter from end to end, fuse out",
                (run.tag,),
            )

    def _arrays(self, own: Design) -> Iterator[Check]:
        roof = own.job.roof
        for string in own.roof.strings:
            if not string.modules:
                continue
            specs = [spec_of(roof, one) for one in roof.modules if one.tag in string.modules]
            cell_c = cells_now(self.design)
            wanted = Figure(
                name=f"{string.tag}: open voltage now",
                value=sum(spec.voc_v * (1 + spec.voc_per_c * (cell_c.value - 25)) for spec in specs),
                unit="V",
                formula="Σ of its modules: Voc × (1 + coefficient × (cells − 25))",
                inputs=(
                    Given("Modules", len(specs), "count"),
                    Given("Voc, together", sum(spec.voc_v for spec in specs), "V"),
                    Given("Coefficient of the first", specs[0].voc_per_c, "1/K"),
                    cell_c,
                ),
                source=TEXTBOOK,
                limit="in any sun worth the name: the voltage is there from some 100 W/m²",
            )
            yield self._read(
                f"{string.tag} open",
                "Arrays",
                f"{string.tag}: open voltage at its isolator, isolator open, plus on red",
                (string.tag,),
                wanted,
                wanted.value * (1 - SUN_BAND),
                wanted.value * (1 + SUN_BAND),
                "V",
                "a module left out or doubled, a plug not in, or shade on a whole module",
            )

    def _around(self) -> Iterator[Check]:
        design = self.design
        yield self.tick("loose ends", "Around it", "No loose end anywhere: every conductor is landed or capped", ())
        yield self.tick("tools out", "Around it", "No tools, washers or swarf on boards, bars and packs", ())
        for own in self.banks:
            board = own.job.wiring.board
            yield self.tick(
                f"{board.tag} off",
                "Around it",
                f"{board.tag}: main switch open, all fuses and breakers out or off",
                (board.tag,),
            )
        for stack in (design.job.inverters, *(group.inverters for group in design.whole.groups)):
            for unit in stack.units:
                yield self.tick(
                    f"{unit.tag} off",
                    "Around it",
                    f"{unit.tag}: its own switch is off, AC input unplugged",
                    (unit.tag,),
                )
        volts = line_v(design.job.inverters) if design.job.inverters.units else 0
        if volts:
            yield self.tick(
                "covers",
                "Around it",
                f"Covers of everything that carries {volts:.0f} V are on but where you measure",
                (),
            )
        yield self.tick("photos", "Around it", "Every board, panel and joint is photographed", ())
        yield self.tick("extinguisher", "Around it", "Extinguisher, way out and somebody within call", ())

    def _read(
        self,
        key: str,
        group: str,
        words: str,
        tags: tuple[str, ...],
        wanted: Figure | None,
        low: float,
        high: float,
        unit: str,
        means: str,
    ) -> Check:
        slack = METER_SHARE * (high if math.isfinite(high) else low) + (METER_V if unit == "V" else 0.0)
        return self.read(key, group, words, tags, wanted, low, high, unit, means, slack)
