"""What alternators can spare by engine speed, and what the chargers on their bar ask of them through their cable."""

from __future__ import annotations

import math
from typing import Literal

from msgspec import Struct

from weighty_axle.design.brief.draws import DC_VOLTS
from weighty_axle.design.charging.converters import input_w, takes_from
from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Figure, Given
from weighty_axle.job.models.brief import Load
from weighty_axle.job.models.charging import VEHICLE, Alternator, Converter
from weighty_axle.job.models.document import Job
from weighty_axle.job.systems import System, bar_of, load_bar
from weighty_axle.physics.electric.alternators import LOST_PER_K, hot_output_a
from weighty_axle.physics.electric.batteries import VoltageCollapseError
from weighty_axle.physics.electric.feeds import Branch, Fed, shared_feed

Speed = Literal["idle", "slow", "cruise"]
SPEEDS: tuple[Speed, ...] = ("idle", "slow", "cruise")
SPEED_WORDS: dict[Speed, str] = {"idle": "idling", "slow": "in slow traffic", "cruise": "at cruise"}


class Spare(Struct, frozen=True, kw_only=True):
    """Alternators on one bar: the lowest voltage they run at, what the vehicle takes, and by engine speed what they
    give hot and what that leaves for chargers.
    """

    bar: str
    name: str
    tags: tuple[str, ...]
    lowest_v: Figure
    vehicle_a: Figure
    gives_a: dict[Speed, Figure]
    spare_a: dict[Speed, Figure]


class ChargerAsk(Struct, frozen=True, kw_only=True):
    """What one charger takes from the alternators' bar, and the drop on its way there.

    `device_v` is the voltage at its terminals at full output; not a number where the cable cannot carry it.
    """

    tag: str
    name: str
    priority: int
    takes_a: Figure
    device_v: Figure
    drop_share: Figure
    loop_ohm: float


class Budget(Struct, frozen=True, kw_only=True):
    """Alternators on one bar at every engine speed against the chargers there.

    `tag` is that of the bar; `waits` names by speed the chargers that find nothing left, served in the order of their
    priority.
    """

    tag: str
    spare: Spare
    chargers: tuple[ChargerAsk, ...]
    asked_a: Figure
    cable_w: Figure
    waits: dict[Speed, tuple[str, ...]]

    def without(self, tag: str) -> float:
        """What is asked with one charger off [A]."""
        return self.asked_a.value - sum(one.takes_a.value for one in self.chargers if one.tag == tag)


def loads_on_alternators(whole: Job, loads: tuple[Load, ...]) -> tuple[tuple[str, Given], ...]:
    """DC loads on bars that alternators charge, all on: bar, name and power."""
    bars = {one.bar for one in whole.charging.alternators}
    return tuple(
        (bar, Given(load.name, load.running_w * load.count, "W"))
        for load in loads
        if load.supply in DC_VOLTS and (bar := load_bar(whole, load)) in bars
    )


def spares(whole: Job, on_bars: tuple[tuple[str, Given], ...]) -> tuple[Spare, ...]:
    """What alternators of the whole job can spare, bar by bar.

    Source: common practice (what an alternator gives hot).
    """
    bars = dict.fromkeys(one.bar for one in whole.charging.alternators)
    return tuple(_spare(whole, bar, tuple(given for on, given in on_bars if on == bar)) for bar in bars)


def _spare(whole: Job, bar: str, on_bar: tuple[Given, ...]) -> Spare:
    stated = whole.charging
    several = tuple(one for one in stated.alternators if one.bar == bar)
    lowest = Figure.least(
        name="Lowest voltage, engine running",
        unit="V",
        formula="the lowest any of them holds or sags to",
        inputs=tuple(
            Given(f"{one.tag} {'sags to' if one.low_v else 'holds'}", one.low_v or one.volts, "V") for one in several
        ),
        source="as stated",
    )
    vehicle = Figure(
        name="Vehicle takes",
        value=sum(one.vehicle_a for one in several) + sum(given.value for given in on_bar) / lowest.value,
        unit="A",
        formula="Σ vehicle's own loads + DC loads on this bar, all on ÷ lowest voltage",
        inputs=(lowest, *(Given(f"Vehicle's own, {one.tag}", one.vehicle_a, "A") for one in several), *on_bar),
        source=TEXTBOOK,
    )
    named = bar_of(whole, bar)
    rpm = {"idle": stated.idle_rpm, "slow": stated.slow_rpm, "cruise": stated.cruise_rpm}
    gives: dict[Speed, Figure] = {
        speed: Figure.total(
            name=f"Alternator gives {SPEED_WORDS[speed]}",
            unit="A",
            formula="Σ hot output at this speed",
            inputs=tuple(_hot(one, speed, rpm[speed]) for one in several),
            source=PRACTICE,
        )
        for speed in SPEEDS
    }
    margin = Given("Margin", sum(one.margin_a for one in several), "A")
    shared = "" if any(one.curve for one in several) else "half to two thirds of nameplate when hot and slow"
    return Spare(
        bar=bar,
        name=named.name if named is not None else "the vehicle's own bar" if bar == VEHICLE else "House",
        tags=tuple(one.tag for one in several),
        lowest_v=lowest,
        vehicle_a=vehicle,
        gives_a=gives,
        spare_a={
            speed: Figure.difference(
                name=f"To spare {SPEED_WORDS[speed]}",
                unit="A",
                formula="hot output − vehicle − margin",
                inputs=(gives[speed], vehicle, margin),
                source=PRACTICE,
                limit=shared,
            )
            for speed in SPEEDS
        },
    )


def _hot(one: Alternator, speed: Speed, rpm: float) -> Figure:
    """What one alternator gives hot at an engine speed."""
    name = f"{one.tag} hot, {SPEED_WORDS[speed]}"
    if not one.curve:
        share = one.idle_share if speed == "idle" else one.hot_share
        return Figure.product(
            name=name,
            unit="A",
            formula="nameplate × hot share",
            inputs=(Given("Nameplate", one.rated_a, "A"), Given("Share, hot", share, "1")),
            source=PRACTICE,
        )
    shaft = Given("Shaft", rpm * one.ratio, "1/min")
    return Figure(
        name=name,
        value=hot_output_a(
            shaft_rpm=[point.shaft_rpm for point in one.curve],
            amps=[point.amps for point in one.curve],
            at_rpm=shaft.value,
            curve_c=one.curve_c,
            air_c=one.bay_c,
        ),
        unit="A",
        formula="curve at the shaft's speed × (1 − loss per kelvin × (air around it − air of the curve))",
        inputs=(
            shaft,
            *(Given(f"At {point.shaft_rpm:g} 1/min", point.amps, "A") for point in one.curve),
            Given("Loss per kelvin", LOST_PER_K, "1"),
            Given("Air around it", one.bay_c, "degC"),
            Given("Air of the curve", one.curve_c, "degC"),
        ),
        source=PRACTICE,
    )


def served(chargers: list[tuple[int, str, float]], spare_a: float) -> set[str]:
    """Which of some chargers (priority, tag, what each takes [A]) an alternator serves, in the order of priority."""
    left, found = spare_a, set[str]()
    for _, tag, takes in sorted(chargers, key=lambda one: one[0]):
        if takes <= left + 1e-9:
            left -= takes
            found.add(tag)
    return found


def budgets(whole: Job, there: tuple[Spare, ...], ohms: dict[str, float], system: System) -> tuple[Budget, ...]:
    """A budget for every bar of this system with alternators; those on the vehicle's own bar belong to the house.

    `ohms` is the resistance of cables out and back, by their tag.

    Source: converter datasheets; textbook relations.
    """
    if system.shares_bank:
        return ()
    own = [one for one in there if one.bar == system.bar or (one.bar == VEHICLE and not system.key)]
    return tuple(_budget(whole, one, ohms) for one in own)


def _budget(whole: Job, spare: Spare, ohms: dict[str, float]) -> Budget:
    chargers, cable = _chargers(whole, ohms, spare.bar, spare.lowest_v)
    asked = Figure.total(
        name="Chargers ask of the alternator",
        unit="A",
        formula="Σ input of the chargers, all at full output",
        inputs=tuple(one.takes_a for one in chargers),
        source="converter datasheet",
        limit=f"at {spare.lowest_v.value:.1f} V",
    )
    each = [(one.priority, one.tag, one.takes_a.value) for one in chargers]
    waits: dict[Speed, tuple[str, ...]] = {}
    for speed in SPEEDS:
        fed = served(each, spare.spare_a[speed].value)
        waits[speed] = tuple(one.tag for one in chargers if one.tag not in fed)
    return Budget(tag=spare.bar, spare=spare, chargers=chargers, asked_a=asked, cable_w=cable, waits=waits)


def _chargers(whole: Job, ohms: dict[str, float], bar: str, lowest: Figure) -> tuple[tuple[ChargerAsk, ...], Figure]:
    """What every charger takes behind its cable, and what the cables lose."""
    there = takes_from(whole, bar)
    cables: dict[str, list[tuple[Converter, str]]] = {}
    for one, to in there:
        cables.setdefault(one.feed or (f"{one.tag} feed" if bar == VEHICLE else f"W-{one.tag}"), []).append((one, to))
    found, lost, lines = dict[str, ChargerAsk](), 0.0, list[Given]()
    for name, several in cables.items():
        shared = ohms.get(name, 0.0)
        branches = tuple(
            Branch(input_w(whole, one, to), ohms.get(f"{one.tag} branch", 0.0), one.spec.input_a or math.inf)
            for one, to in several
        )
        try:
            fed = shared_feed(source_v=lowest.value, shared_ohm=shared, branches=branches)
        except VoltageCollapseError:
            amps = tuple(min(one.power_w / lowest.value, one.most_a) for one in branches)
            fed = Fed(amps, math.nan, tuple(math.nan for _ in branches))
        begins = Given(f"Voltage behind {name}", fed.common_v, "V")
        for (one, to), branch, amp, volt in zip(several, branches, fed.amps, fed.device_v, strict=True):
            found[one.tag] = _ask(one, to, branch, amp, volt, lowest, begins, shared)
            lost += 0.0 if math.isnan(volt) else (lowest.value - volt) * amp
        lines.append(Given(f"Cable {name}, out and back", shared, "ohm"))
    cable = Figure(
        name="Lost in the chargers' cables",
        value=lost,
        unit="W",
        formula="Σ (voltage of the bar − at the charger) × its current",
        inputs=(lowest, *lines),
        source=TEXTBOOK,
    )
    return tuple(found[one.tag] for one, _ in there), cable


def _ask(
    one: Converter, to: str, branch: Branch, amp: float, volt: float, lowest: Figure, begins: Given, shared_ohm: float
) -> ChargerAsk:
    own = Given("Own lead, out and back", branch.loop_ohm, "ohm")
    takes = Figure(
        name=f"{one.tag} takes",
        value=amp,
        unit="A",
        formula="I = 2 P ÷ (V + √(V² − 4 R P)) behind its cables, at most its input limit",
        inputs=(
            Given(f"Input at full output into {to}", branch.power_w, "W"),
            begins,
            own,
            *((Given("Input, most", one.spec.input_a, "A"),) if one.spec.input_a is not None else ()),
        ),
        source="converter datasheet; " + TEXTBOOK,
    )
    device = Figure(
        name=f"Voltage at {one.tag}",
        value=volt,
        unit="V",
        formula="voltage where its lead begins − current × resistance of its lead",
        inputs=(begins, takes, own),
        source=TEXTBOOK,
    )
    return ChargerAsk(
        tag=one.tag,
        name=one.spec.name,
        priority=one.priority,
        takes_a=takes,
        device_v=device,
        drop_share=Figure(
            name=f"Drop to {one.tag}",
            value=(lowest.value - volt) / lowest.value,
            unit="1",
            formula="(voltage of the bar − at the charger) ÷ voltage of the bar",
            inputs=(lowest, device),
            source=TEXTBOOK,
        ),
        loop_ohm=shared_ohm + branch.loop_ohm,
    )
