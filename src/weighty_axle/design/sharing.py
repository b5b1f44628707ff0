"""What other systems of a job take from a bank: groups that share it, converters that carry to bars with banks; and
what each reads of the others.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import TYPE_CHECKING

from weighty_axle.design.beside import Beside, BesideDay
from weighty_axle.design.brief.seasons import SEASONS
from weighty_axle.design.charging.converters import output_w, volts_of
from weighty_axle.design.charging.paths import charger_loads
from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.job.models.charging import Converter
from weighty_axle.job.models.document import Job, items
from weighty_axle.job.models.inverters import Inverters
from weighty_axle.job.systems import HOUSE, System, bar_tag, systems
from weighty_axle.physics.loads.daytime import DAY_MIN

if TYPE_CHECKING:
    from weighty_axle.design.table import Design


def in_order(job: Job) -> tuple[System, ...]:
    """Systems such that what takes from a bank comes before it: groups, then bars as converters feed them, the house
    last. Of bars that feed one another in a ring, one has to come first.
    """
    found = systems(job)
    feeds = {(bar_tag(job, one.start), bar_tag(job, one.end)) for one in job.converters}
    left = [one for one in found if not one.shares_bank and one.key != HOUSE]
    ordered = [one for one in found if one.shares_bank]
    while left:
        free = [one for one in left if not any((one.bar, other.bar) in feeds for other in left if other is not one)]
        ordered += free or left[:1]
        left = [one for one in left if one not in ordered]
    return (*ordered, next(one for one in found if one.key == HOUSE))


def beside(job: Job, system: System, designs: Mapping[str, Design]) -> tuple[Beside, ...]:
    """What hangs on a system's bank beside its own; nothing on a group's view of a bank it shares.

    `designs` are those of the systems that come before.
    """
    if system.shares_bank:
        return ()
    others = [one for one in systems(job) if one.key in designs]
    groups = [_group(one, designs[one.key]) for one in others if one.shares_bank and one.bar == system.bar]
    return (
        *groups,
        *_converters(job, system.bar, {one.bar: one.key for one in others if not one.shares_bank}, designs),
    )


def _group(system: System, design: Design) -> Beside:
    stated = design.job.inverters
    return Beside(
        tag=system.key,
        name=system.name,
        full_w=_into(stated, f"{system.name} at full load", stated.spec.continuous_va, "Rating of one"),
        surge_w=_into(stated, f"{system.name} at surge", stated.spec.surge_va, "Surge of one"),
        days=tuple(
            BesideDay(kind=one.kind, seasons=one.seasons, times_min=one.mean_w.times_min, watts=one.bank_w)
            for one in design.brief.profiles.values()
        ),
        shore_a=next((part for mix in design.charging.mixes for part in mix.parts if part.name == "Shore"), None),
    )


def _into(stated: Inverters, name: str, each: float, words: str) -> Figure:
    efficiency = stated.spec.full_load_efficiency
    units = Given("Inverters", len(stated.units), "count")
    return Figure(
        name=name,
        value=units.value * each / efficiency,
        unit="W",
        formula="units × rating ÷ efficiency",
        inputs=(units, Given(words, each, "W"), Given("Efficiency at full load", efficiency, "1")),
        source=TEXTBOOK,
    )


def _converters(job: Job, bar: str, keys: dict[str, str], designs: Mapping[str, Design]) -> Iterator[Beside]:
    for one in job.converters:
        end = bar_tag(job, one.end)
        if one.works != "engine" and one.both_ways and end == bar:
            yield _carries_back(job, one)
        if bar_tag(job, one.start) != bar or one.works == "engine":
            continue
        design = designs.get(keys.get(end, "none")) if end in keys else None
        if design is None and not one.spec.own_w:
            continue
        most = output_w(one.spec, volts_of(job, end)[1]) / one.spec.efficiency if design is not None else 0.0
        figure = Figure(
            name=f"{one.tag} at full output",
            value=most + one.spec.own_w,
            unit="W",
            formula="output ÷ efficiency + own draw",
            inputs=(
                Given("Output", most * one.spec.efficiency, "W"),
                Given("Efficiency", one.spec.efficiency, "1"),
                Given("Own draw", one.spec.own_w, "W"),
            ),
            source="converter datasheet",
        )
        yield Beside(
            tag=one.tag,
            name=one.spec.name,
            full_w=figure,
            surge_w=figure,
            days=tuple(_carried(one, kind.tag, design, most) for kind in job.day_kinds),
        )


def _carries_back(job: Job, one: Converter) -> Beside:
    """What a converter that works both ways takes from the bar at its end; when it does, nobody states."""
    output = Given("Output at the other end", output_w(one.spec, volts_of(job, bar_tag(job, one.start))[1]), "W")
    figure = Figure(
        name=f"{one.tag} carrying back",
        value=output.value / one.spec.efficiency,
        unit="W",
        formula="output ÷ efficiency",
        inputs=(output, Given("Efficiency", one.spec.efficiency, "1")),
        source="converter datasheet",
    )
    return Beside(tag=one.tag, name=one.spec.name, full_w=figure, surge_w=figure, days=())


def _carried(one: Converter, kind: str, design: Design | None, most: float) -> BesideDay:
    """A day of a converter that makes up for what the other bank gives, evenly over the day."""
    need = design.brief.days[kind].bank_energy_wh.value / 24 / one.spec.efficiency if design is not None else 0.0
    watts = min(most, need) + one.spec.own_w
    return BesideDay(kind=kind, seasons=SEASONS, times_min=(0, DAY_MIN), watts=(watts,))


def plant_of(whole: Job) -> tuple[object, ...]:
    """What bars, converters and groups follow from. Answers about these read `plant`: a job that states all of it
    as the present one does, and stays the very object while it does. How cables are laid is not among it: what asks
    for that reads `job.wiring`.
    """
    return (
        whole.converters,
        whole.dc,
        whole.bars,
        whole.groups,
        whole.wiring.board,
        whole.wiring.converter_efficiency,
        whole.charging,
        whole.practice,
        whole.bank.spec,
        whole.bank.series,
    )


def of_house(whole: Job) -> tuple[object, ...]:
    """What other systems read of the house: its voltage class, its bar's tag, the alternators, what is on the roof,
    where every load hangs and what it takes, which chargers hang on its AC side, and where cables start from.
    """
    hung = tuple(
        (one.tag, one.supply, one.circuit, one.on, one.charges, one.charge_a, one.running_w, one.count)
        for one in whole.loads
    )
    chargers = charger_loads(whole.loads, whole.groups, whole.ac, whole.inverters, whole.wiring.board.tag)
    # Circuits of one system may start from what stands in another.
    starts = (tuple((one.tag, one.place) for one in items(whole)), whole.ac.panels) if whole.outlets else ()
    return (
        whole.bank.spec,
        whole.bank.series,
        whole.wiring.board.tag,
        whole.charging,
        whole.roof,
        hung,
        chargers,
        starts,
    )
