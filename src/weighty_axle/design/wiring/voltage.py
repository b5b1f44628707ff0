"""Why 48 V: the same job at 12, 24 and 48 V on its real main run."""

from __future__ import annotations

import math

from msgspec import Struct

from weighty_axle.design.bank.packs import BankResult
from weighty_axle.design.brief.draws import voltage_class
from weighty_axle.design.conductors import conductor_area_mm2, ohm_per_m
from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.design.wiring.choices import ConductorChoice, choice_name, conductor_choices
from weighty_axle.design.wiring.runs import LOAD_FACTOR, WiringResult
from weighty_axle.job.models.parts import Practice
from weighty_axle.job.models.wiring import Wiring
from weighty_axle.physics.electric.conductors import COPPER_DENSITY
from weighty_axle.physics.electric.protection import next_rating_a
from weighty_axle.reference import tables
from weighty_axle.reference.cells import CELL_POINTS
from weighty_axle.units import conductor_words, show

CELLS = {12: 4, 24: 8, 48: 16}
LFP_NOMINAL_V, LFP_HIGHEST_V = 3.2, 3.65
HANDY_FUSE_A = 300.0
"""Main fuse up to which one conductor and one switch are ordinary goods. Source: common practice, no source."""


class VoltageChoice(Struct, frozen=True, kw_only=True):
    """The job at one system voltage, LFP cells."""

    volts: int
    continuous_a: Figure
    surge_a: Figure
    fuse_a: Figure
    conductor: ConductorChoice | None
    drop_share: Figure
    loss_w: Figure
    copper_kg: Figure
    prospective_a: Figure
    fuses: tuple[str, ...]
    isolators: tuple[str, ...]


class VoltagesResult(Struct, frozen=True, kw_only=True):
    """All three, the one recommended, and the reason in a sentence."""

    choices: tuple[VoltageChoice, ...]
    recommended: int
    reason: str


def voltages(stated: Wiring, practice: Practice, bank: BankResult, runs: WiringResult) -> VoltagesResult:
    """Currents, conductor, drop, loss and copper of the main run at 12, 24 and 48 V; 12 V only for comparison.

    Source: textbook relations; ampacity and fuse tables of reference/. A bank of the same energy and cells:
        short-circuit current goes with 1 / V.
    """
    length = runs.main.length_m
    choices = tuple(_choice(volts, stated, practice, bank, length) for volts in CELLS)
    recommended = 24 if _easy(choices[1]) else 48
    return VoltagesResult(choices=choices, recommended=recommended, reason=_reason(choices, recommended))


def _choice(volts: int, stated: Wiring, practice: Practice, bank: BankResult, length: Figure) -> VoltageChoice:
    cells = CELLS[volts]
    lowest = Given("Lowest working voltage", cells * CELL_POINTS["lfp"].cut_out, "V")
    here = bank.lowest_working_v

    def amps(name: str, figure: Figure) -> Figure:
        watts = Given("Power into inverters and DC loads", figure.value * here.value, "W")
        return Figure.quotient(
            name=f"{name} at {volts} V",
            unit="A",
            formula="power ÷ lowest working voltage",
            inputs=(watts, lowest),
            source=TEXTBOOK,
        )

    continuous, surge = amps("Bank current, full load", bank.continuous_a), amps("Bank current, surge", bank.surge_a)
    ratings = tables.fuse_ratings(practice)
    needed = continuous.value * LOAD_FACTOR
    rating = next_rating_a(needed, ratings.amps) if needed <= max(ratings.amps) else needed
    fuse = Figure(
        name=f"Main fuse at {volts} V",
        value=rating,
        unit="A",
        formula="current × factor, next standard rating",
        inputs=(continuous, Given("Factor", LOAD_FACTOR, "ratio")),
        source=f"{ratings.source} (recalled; check against your copy)",
    )
    table, nominal = tables.ampacity_tables()[stated.ampacity_table], cells * LFP_NOMINAL_V
    chosen = next(
        (
            one
            for one in conductor_choices(stated, table, length.value, continuous.value, rating, nominal)
            if not one.against
        ),
        None,
    )
    one = chosen or ConductorChoice(
        size="none",
        count=1,
        ampacity_a=0.0,
        drop_v=math.nan,
        drop_share=math.nan,
        loss_w=math.nan,
        copper_kg=math.nan,
        against="",
    )
    words = f"with {conductor_words(choice_name(one))}"
    metre = Given(f"Resistance per metre at {stated.insulation_c} °C", ohm_per_m(one.size, stated.insulation_c), "ohm")
    count, volts_given = Given("Conductors in parallel", one.count, "count"), Given("Nominal voltage", nominal, "V")
    drop = Figure(
        name=f"Drop of the main run at {volts} V",
        value=one.drop_share,
        unit="1",
        formula="2 × length × resistance per metre × current ÷ conductors ÷ nominal voltage",
        inputs=(length, metre, continuous, count, volts_given),
        source=TEXTBOOK,
        limit=words,
    )
    copper = (
        Given("Density of copper", COPPER_DENSITY, "kg_per_m3"),
        Given("Area of one", conductor_area_mm2(one.size) if chosen else 0.0, "mm2"),
        count,
        length,
    )
    prospective = Figure(
        name=f"Short-circuit current at {volts} V",
        value=bank.prospective_a.value * voltage_class(bank.nominal_v.value) / volts,
        unit="A",
        formula="this bank's × its voltage ÷ the other voltage: same energy, same cells",
        inputs=(bank.prospective_a,),
        source=TEXTBOOK,
    )
    highest = cells * LFP_HIGHEST_V
    return VoltageChoice(
        volts=volts,
        continuous_a=continuous,
        surge_a=surge,
        fuse_a=fuse,
        conductor=chosen,
        drop_share=drop,
        loss_w=Figure(
            name=f"Loss in the main run at {volts} V",
            value=one.loss_w,
            unit="W",
            formula="drop × nominal voltage × current",
            inputs=(drop, volts_given, continuous),
            source=TEXTBOOK,
            limit=words,
        ),
        copper_kg=Figure(
            name=f"Copper of the main run at {volts} V",
            value=one.copper_kg,
            unit="kg",
            formula="density × area × conductors × 2 × length",
            inputs=copper,
            source="IEC 60028 density",
            limit=words,
        ),
        prospective_a=prospective,
        fuses=tuple(
            kind.name
            for kind in tables.fuse_kinds().values()
            if kind.volts >= highest and kind.breaks_a >= prospective.value and kind.largest_a >= rating
        ),
        isolators=tuple(
            row.name for row in tables.isolators().rows if row.volts >= highest and row.amps >= continuous.value
        ),
    )


def _easy(choice: VoltageChoice) -> bool:
    """Whether one ordinary conductor, fuse and switch carry it."""
    return (
        choice.conductor is not None
        and choice.conductor.count == 1
        and choice.fuse_a.value <= HANDY_FUSE_A
        and bool(choice.fuses)
        and bool(choice.isolators)
    )


def _words(choice: VoltageChoice) -> str:
    conductor = conductor_words(choice_name(choice.conductor)) if choice.conductor else "no conductor of the table"
    return f"{show(choice.continuous_a.value, 'A')} in {conductor}"


def _reason(choices: tuple[VoltageChoice, ...], recommended: int) -> str:
    twelve, twenty_four, forty_eight = choices
    if recommended == 24:
        return (
            f"24 V is enough: {_words(twenty_four)} behind a {show(twenty_four.fuse_a.value, 'A')} fuse; 48 V would "
            f"take {_words(forty_eight)}, 12 V {_words(twelve)}."
        )
    return f"48 V: {_words(forty_eight)}, where 24 V takes {_words(twenty_four)} and 12 V {_words(twelve)}."
