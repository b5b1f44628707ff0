"""Pre-charge: what fills the inverters' capacitors, how long it takes, and what the contact then closes onto."""

from __future__ import annotations

from msgspec import Struct

from weighty_axle.design.bank.packs import BankRatings
from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Figure, Given
from weighty_axle.design.wiring.tree import DcTree
from weighty_axle.job.models.inverters import Inverters
from weighty_axle.job.models.wiring import Board, Precharge
from weighty_axle.physics.electric.precharge import FILLED_SHARE, Filling, Inrush, after_closing, filling, inrush

MF_PER_KVA = 3.0
"""Capacitors at the input of an inverter for a 48 V bank [mF per kVA]; more at lower voltage.

Source: typical, common practice, no source.
"""


HENRY_PER_M = 1e-6
"""Inductance of a two-wire run, both poles side by side [H per m]. Source: typical, common practice, no source."""


LONGEST_S = 3.0
"""How long the computed resistor may take to 95 %. Source: common practice, no source ('a few seconds')."""


E12 = (1.0, 1.2, 1.5, 1.8, 2.2, 2.7, 3.3, 3.9, 4.7, 5.6, 6.8, 8.2)
"""Preferred values of resistors. Source: IEC 60063."""


class PrechargeResult(Struct, frozen=True, kw_only=True):
    """Filling and closing of one bar: figures, and the physics they are read from for the time course.

    `pinned`: a standby load holds the capacitors where it starts. `most_s` is how long the resistor is in use.
    """

    bar: str
    fitted: bool
    units: tuple[str, ...]
    pinned: bool
    capacitors_mf: Figure
    resistor_ohm: Figure
    filled_s: Figure
    held_s: Figure
    left_v: Figure
    energy_j: Figure
    start_w: Figure
    peak_a: Figure
    peak_without_a: Figure
    highest_without_v: Figure
    course: Filling
    loop_ohm: float
    loop_henry: float

    def after(self, from_v: float, at_s: float) -> tuple[float, float]:
        """Current, and voltage of the capacitors, a time after the contact closed onto them at a voltage."""
        own = self.course
        return after_closing(
            source_v=own.source_v, ohm=self.loop_ohm, henry=self.loop_henry, farad=own.farad, from_v=from_v, at_s=at_s
        )


def precharge(
    board: Board, stacks: tuple[Inverters, ...], ratings: BankRatings, tree: DcTree
) -> PrechargeResult | None:
    """Pre-charge of a bar with a full bank; None where no inverter hangs on it or its bank is another's.

    Source: first-order and series RLC circuits, physics.electric.precharge.
    """
    units = tuple(unit.tag for stack in stacks for unit in stack.units)
    if not units or not tree.roots:
        return None
    how, source = board.precharging, ratings.max_v
    capacitors = _capacitors(stacks, ratings.nominal_v.value)
    farad = capacitors.value / 1000
    resistor = _resistor(how, capacitors)
    starts_v = how.standby_from_v if how.standby_from_v is not None else min(one.spec.dc_min_v for one in stacks)
    course = filling(source_v=source.value, ohm=resistor.value, farad=farad, load_w=how.standby_w, starts_v=starts_v)
    standby = (Given("Standby", how.standby_w, "W"), Given("It starts at", starts_v, "V")) if how.standby_w else ()
    filled = Figure(
        name="Filled to 95 % after",
        value=course.time_to(FILLED_SHARE * source.value),
        unit="s",
        formula="−R × C × ln(1 − 0.95); with a standby load by the time course",
        inputs=(resistor, capacitors, source, *standby),
        source=TEXTBOOK,
        limit="pinned where the standby load starts" if course.pinned else "",
    )
    held = Figure(
        name="Resistor in use for",
        value=how.held_s if how.held_s is not None else filled.value,
        unit="s",
        formula="as stated" if how.held_s is not None else "until 95 %",
        inputs=(Given("Held for", how.held_s, "s"),) if how.held_s is not None else (filled,),
        source=PRACTICE,
    )
    # Of one that never fills, what it does in ten time constants is told.
    used_s = min(held.value, 10 * resistor.value * farad)
    at_close_v = course.voltage(used_s)
    loop_ohm, loop_henry, parts = _loop(ratings, tree, units)
    closing = _closing(source.value, loop_ohm, loop_henry, farad, at_close_v)
    without = _closing(source.value, loop_ohm, loop_henry, farad, 0.0)
    loop: tuple[Figure | Given, ...] = (*parts, Given("Inductance of the loop", loop_henry * 1e6, "µH"), capacitors)
    left = Figure.difference(
        name="Left when the contact closes",
        unit="V",
        formula="bank's highest − capacitors then",
        inputs=(source, Given("Capacitors then", at_close_v, "V")),
        source=TEXTBOOK,
    )
    return PrechargeResult(
        bar=board.tag,
        fitted=board.precharge,
        units=units,
        pinned=course.pinned,
        capacitors_mf=capacitors,
        resistor_ohm=resistor,
        filled_s=filled,
        held_s=held,
        left_v=left,
        energy_j=Figure(
            name="Energy of one filling in the resistor",
            value=course.resistor_j(used_s),
            unit="J",
            formula="what the source gives − what is stored and what a standby load takes",
            inputs=(source, capacitors, resistor, Given("In use for", used_s, "s"), *standby),
            source=TEXTBOOK,
        ),
        start_w=Figure(
            name="Power of the resistor at the start",
            value=source.value**2 / resistor.value,
            unit="W",
            formula="voltage² ÷ resistance",
            inputs=(source, resistor),
            source=TEXTBOOK,
        ),
        peak_a=_peak("Peak when the contact closes", closing, (left, *loop)),
        peak_without_a=_peak("Peak without pre-charge", without, (source, *loop)),
        highest_without_v=Figure(
            name="Capacitors ring up to, without pre-charge",
            value=without.highest_v,
            unit="V",
            formula="series RLC circuit: voltage of the source + overshoot",
            inputs=(source, *loop),
            source=f"{TEXTBOOK}; inductance {PRACTICE}",
        ),
        course=course,
        loop_ohm=loop_ohm,
        loop_henry=loop_henry,
    )


def _capacitors(stacks: tuple[Inverters, ...], nominal_v: float) -> Figure:
    given = []
    for stack in stacks:
        spec = stack.spec
        each = (
            spec.input_uf / 1000
            if spec.input_uf is not None
            else spec.continuous_va / 1000 * MF_PER_KVA * 48 / nominal_v
        )
        given += [Given(unit.tag, each, "mF") for unit in stack.units]
    stated = all(stack.spec.input_uf is not None for stack in stacks)
    return Figure.total(
        name="Capacitors of all inverters",
        unit="mF",
        formula="Σ capacitors at their inputs",
        inputs=tuple(given),
        source="inverter datasheet" if stated else f"typical of the rating; {PRACTICE}",
        limit="" if stated else "ask for the value: everything here goes with it",
    )


def _resistor(how: Precharge, capacitors: Figure) -> Figure:
    """As stated, or the largest preferred value that fills in time."""
    longest = LONGEST_S / 3 / (capacitors.value / 1000)
    values = [step * ten for ten in (0.1, 1.0, 10.0, 100.0, 1000.0) for step in E12]
    computed = max((round(value, 3) for value in values if value <= longest), default=values[0])
    return Figure(
        name="Pre-charge resistor",
        value=how.resistor_ohm if how.resistor_ohm is not None else computed,
        unit="ohm",
        formula="as stated"
        if how.resistor_ohm is not None
        else "largest preferred value with 3 × R × C within the time",
        inputs=(Given("Time", LONGEST_S, "s"), capacitors),
        source="IEC 60063 (E12); " + PRACTICE,
    )


def _loop(ratings: BankRatings, tree: DcTree, units: tuple[str, ...]) -> tuple[float, float, tuple[Given, ...]]:
    """Least resistance and inductance of the way from the bank into all units side by side."""
    ways = {way.tag: way for way in tree.roots[0].ways}
    main = next(way for way in tree.roots[0].ways if way.kind == "main")
    leads = [ways[f"W-{unit}"] for unit in units if f"W-{unit}" in ways]
    conductance = sum(1 / max(lead.least_ohm, 1e-6) for lead in leads)
    side = 1 / conductance if conductance else 0.0
    ohm = ratings.least_resistance_ohm.value + main.least_ohm + side
    lead_m = 1 / sum(1 / max(lead.length_m, 0.05) for lead in leads) if leads else 0.0
    henry = HENRY_PER_M * (main.length_m + lead_m)
    given = (
        Given("Bank", ratings.least_resistance_ohm.value, "ohm"),
        Given("Main run, cold", main.least_ohm, "ohm"),
        Given("Leads side by side, cold", side, "ohm"),
    )
    return max(ohm, 1e-5), max(henry, 1e-8), given


def _closing(source_v: float, ohm: float, henry: float, farad: float, from_v: float) -> Inrush:
    return inrush(source_v=source_v, ohm=ohm, henry=henry, farad=farad, from_v=from_v)


def _peak(name: str, found: Inrush, inputs: tuple[Figure | Given, ...]) -> Figure:
    return Figure(
        name=name,
        value=found.peak_a,
        unit="A",
        formula="series RLC circuit: largest current after the step",
        inputs=inputs,
        source=f"{TEXTBOOK}; inductance {PRACTICE}",
        limit=f"{found.at_s * 1000:.2g} ms after closing; contacts and what the capacitors resist not counted",
    )
