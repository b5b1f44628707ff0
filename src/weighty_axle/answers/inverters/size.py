"""Arrangements of inverters side by side: what each runs and does not, loses a day, weighs, and leaves when one unit is
out.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator

from msgspec import Struct

from weighty_axle.design.brief.draws import DC_CHANNEL, voltage_class
from weighty_axle.design.derive import Deriver
from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.design.inverters.legs import part_on
from weighty_axle.design.table import Design
from weighty_axle.job.edits.edit import Edit
from weighty_axle.job.edits.inverters import set_arrangement
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.inverters import BETWEEN_LINES, LINES, InverterSpec, Stacking, line_v, units_on
from weighty_axle.physics.electric.converters import LossCurve
from weighty_axle.reference import tables

MOST_UNITS = 6


class Arrangement(Struct, frozen=True):
    """One arrangement for this job's loads.

    `worst_share`: of the continuous rating at bay heat, on the worst line; `start_share`: of the surge. `dead`: loads
    that get no voltage. `over`: lines asked for more than they give. `left_share`: part of the worst minute that is
    still carried with one unit out; `left_dark`: loads that are dark then.
    """

    spec: InverterSpec
    count: int
    stacking: Stacking
    continuous_va: Figure
    worst_share: Figure
    start_share: Figure
    loss_day_wh: Figure
    idle_day_wh: Figure
    sleep_day_wh: Figure | None
    mass_kg: Figure
    left_share: Figure
    left_dark: tuple[str, ...]
    dead: tuple[str, ...]
    over: tuple[str, ...]
    now: bool
    curve: LossCurve

    def loss_w(self, power_w: float) -> float:
        """Loss of all its inverters at an AC power that they share [W]."""
        return self.count * self.curve.loss_w(power_w / self.count)

    @property
    def runs_all(self) -> bool:
        """Whether nothing is dead, overloaded, or too weak for the worst start."""
        return not self.dead and not self.over and self.start_share.value <= 1

    @property
    def runs_all_with_one_out(self) -> bool:
        """Whether the worst minute is still carried with one unit out."""
        return self.runs_all and self.left_share.value >= 1 and not self.left_dark

    @property
    def edit(self) -> Edit:
        """The change that brings it about."""
        return set_arrangement(self.spec, self.count, self.stacking)


def _silent(_share: float, _words: str) -> None:
    """Progress nobody watches."""


def candidates(design: Design, progress: Callable[[float, str], None] = _silent) -> tuple[Arrangement, ...]:
    """Every arrangement of the inverters in the table that fits the bank and the practice's voltage: those that run
    everything first, lightest first.

    Of arrangements alike but for the number of units, those needed for everything, with and without one out, are kept,
    and the one before.
    """
    offered = list(_offered(design))
    deriver, found = Deriver(), []
    for index, (spec, count, stacking) in enumerate(offered):
        progress(index / len(offered), f"{count} × {spec.name}")
        found.append(_candidate(deriver, design.job, spec, count, stacking))
    kept = [one for one in found if one.now or _wanted(one, found)]
    return tuple(
        sorted(
            kept,
            key=lambda one: (
                not one.now,
                not one.runs_all,
                -one.worst_share.value if not one.runs_all else 0,
                one.mass_kg.value,
            ),
        )
    )


def _wanted(one: Arrangement, found: list[Arrangement]) -> bool:
    """The fewest units that run everything, the fewest that do with one out, and where none do, the most."""
    alike = [other for other in found if other.spec == one.spec and other.stacking == one.stacking]
    enough = [other.count for other in alike if other.runs_all]
    spare = [other.count for other in alike if other.runs_all_with_one_out]
    if not enough:
        return one.count == max(other.count for other in alike)
    return one.count in (min(enough), min(spare, default=0))


def _offered(design: Design) -> Iterator[tuple[InverterSpec, int, Stacking]]:
    job = design.job
    bank = voltage_class(design.bank.nominal_v.value)
    volts = line_v(job.inverters)
    specs = [job.inverters.spec, *(row for row in tables.inverters().rows if row.name != job.inverters.spec.name)]
    for spec in specs:
        if voltage_class(spec.dc_max_v / 1.25) != bank or abs(spec.ac_v / spec.lines / volts - 1) > 0.15:
            continue
        for count in range(1, MOST_UNITS + 1):
            for stacking in _stackings(spec, count, volts):
                yield spec, count, stacking
    if (job.inverters.spec, len(job.inverters.units), job.inverters.stacking) not in _plain(specs, volts):
        yield job.inverters.spec, len(job.inverters.units), job.inverters.stacking


def _plain(specs: list[InverterSpec], volts: float) -> set[tuple[InverterSpec, int, Stacking]]:
    return {
        (specs[0], count, stacking)
        for count in range(1, MOST_UNITS + 1)
        for stacking in _stackings(specs[0], count, volts)
    }


def _stackings(spec: InverterSpec, count: int, volts: float) -> tuple[Stacking, ...]:
    """Ways in which so many of a unit can act together; legs 180° apart are for 120 V, three-phase for 230 V."""
    if spec.lines == 2:
        return ("one_two_legs",)
    if count == 1:
        return ("single",)
    found: list[Stacking] = ["parallel"]
    if volts < 150 and count % 2 == 0:
        found.append("split_phase")
    if count == 2:
        found.append("independent")
    if volts > 200 and count % 3 == 0:
        found.append("three_phase")
    return tuple(found)


def _candidate(deriver: Deriver, job: Job, spec: InverterSpec, count: int, stacking: Stacking) -> Arrangement:
    made = set_arrangement(spec, count, stacking).apply(job)
    design = deriver.derive(made)
    legs, day = design.inverters.legs, design.brief.days[design.brief.design_day]
    names = {load.tag: load.name for load in made.loads}
    worst = max(legs, key=lambda leg: leg.worst_va.value / max(leg.continuous_va.value, 1e-9))
    start = max(legs, key=lambda leg: leg.start_va.value / max(leg.surge_va.value, 1e-9))
    total = Figure.total(
        name="Continuous together",
        unit="VA",
        formula="Σ of the lines, at bay heat",
        inputs=tuple(leg.continuous_va for leg in legs),
        source=TEXTBOOK,
    )
    units = Given("Units", count, "count")
    asleep = None if spec.sleep_w is None else _asleep(design, units, Given("Asleep, one", spec.sleep_w, "W"))
    left, dark = _one_out(design)
    return Arrangement(
        spec,
        count,
        stacking,
        total,
        Figure(
            name="Worst minute",
            value=worst.worst_va.value / max(worst.continuous_va.value, 1e-9),
            unit="1",
            formula="highest load of a line ÷ its continuous rating at bay heat",
            inputs=(worst.worst_va, worst.continuous_va),
            source=TEXTBOOK,
            limit=worst.worst_va.limit,
        ),
        Figure(
            name="Worst start",
            value=start.start_va.value / max(start.surge_va.value, 1e-9),
            unit="1",
            formula="worst start of a line ÷ its surge",
            inputs=(start.start_va, start.surge_va),
            source=TEXTBOOK,
            limit=f"for {spec.surge_s:g} s",
        ),
        Figure.total(
            name="Lost in the inverters a day",
            unit="Wh",
            formula="idling + conversion",
            inputs=(day.no_load_energy_wh, day.inverter_loss_energy_wh),
            source=TEXTBOOK,
            limit=day.name,
        ),
        day.no_load_energy_wh,
        asleep,
        Figure.product(
            name="Mass",
            unit="kg",
            formula="units × mass",
            inputs=(units, Given("One", spec.mass_kg, "kg")),
            source=TEXTBOOK,
        ),
        left,
        tuple(names[tag] for tag in dark),
        tuple(load.name for load in made.loads if "+" in load.supply and stacking not in BETWEEN_LINES),
        tuple(leg.tag for leg in legs if leg.worst_va.value > leg.continuous_va.value),
        (spec, count, stacking) == (job.inverters.spec, len(job.inverters.units), job.inverters.stacking),
        design.brief.curve,
    )


def _asleep(design: Design, units: Given, sleep_w: Given) -> Figure:
    """A day's idling when the inverters sleep while no AC load draws anything."""
    day = design.brief.days[design.brief.design_day]
    mean = design.brief.profiles[day.profile].mean_w
    drawn = [sum(powers) for powers in zip(*mean.values[:DC_CHANNEL], strict=True)]
    free = sum(hours for power, hours in zip(drawn, mean.hours(), strict=True) if power == 0)
    awake = design.job.inverters.spec.no_load_w
    return Figure(
        name="Idling a day, asleep between loads",
        value=units.value * (sleep_w.value * free + awake * (24 - free)),
        unit="Wh",
        formula="units × (power asleep × hours without any AC load + no-load power × the others)",
        inputs=(units, sleep_w, Given("No-load, one", awake, "W"), Given("Hours without any AC load", free, "h")),
        source=TEXTBOOK,
        limit=day.name,
    )


def _one_out(design: Design) -> tuple[Figure, tuple[str, ...]]:
    """Part of the worst line's highest load that is left with the unit out that hurts most, and the loads that are dark
    then.
    """
    stated, feeds = design.job.inverters, design.brief.feeds
    shares, dark = [], set[str]()
    for leg in design.inverters.legs:
        units = len(units_on(stated, leg.tag))
        left_va = leg.continuous_va.value * (units - 1) / units if units else 0.0
        shares.append((left_va / leg.worst_va.value if leg.worst_va.value else 1.0, leg, left_va))
        if units <= 1 and (not dark or stated.stacking == "one_two_legs"):  # both legs of one unit go together
            dark |= {tag for tag, feed in feeds.items() if part_on(leg.tag, feed)}
    if any(len(units_on(stated, line)) <= 1 for line in LINES[stated.stacking]) and stated.stacking in BETWEEN_LINES:
        dark |= {tag for tag, feed in feeds.items() if "+" in feed}
    share, leg, left_va = min(shares, key=lambda one: one[0])
    figure = Figure(
        name="Carried with one unit out",
        value=min(1.0, share),
        unit="1",
        formula="rating left on the line ÷ its highest load, at most all",
        inputs=(Given("Rating left on the line", left_va, "VA"), leg.worst_va),
        source=TEXTBOOK,
        limit=f"{leg.tag}, the unit out that hurts most",
    )
    return figure, tuple(sorted(dark))
