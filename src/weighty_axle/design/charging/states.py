"""Every state of sources that can occur: plug, engine and sun; what each gives, and what each unit is told."""

from __future__ import annotations

import math
from typing import Literal, NamedTuple

from msgspec import Struct

from weighty_axle.design.bank.packs import BankRatings
from weighty_axle.design.beside import Beside
from weighty_axle.design.charging.budget import SPEED_WORDS, SPEEDS, Spare, Speed, served
from weighty_axle.design.charging.converters import ConverterEnd, input_w, takes_from
from weighty_axle.design.charging.mixes import ChargingResult
from weighty_axle.design.charging.outlets import ac_chargers
from weighty_axle.design.charging.paths import ChargerLoad
from weighty_axle.design.figures import PRACTICE, Figure, Given
from weighty_axle.design.inverters.sources import SourceRow
from weighty_axle.job.models.bank import Chemistry
from weighty_axle.job.models.brief import Load
from weighty_axle.job.models.charging import Charging, SourceKind
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.inverters import Inverters

Engine = Literal["off", "idle", "slow", "cruise"]
ENGINE: tuple[Engine, ...] = ("off", *SPEEDS)
KIND_WORDS: dict[SourceKind, str] = {
    "shore": "Shore",
    "generator": "Generator",
    "converters": "Converters",
    "engine": "Engine",
    "sun": "Sun",
}


class Unit(NamedTuple):
    """What one unit gives in a state [A], and the most it could: with a cold alternator all its chargers work."""

    tag: str
    amps: float
    most_a: float


class SourcePart(NamedTuple):
    """What one kind of source gives in a state, through which units."""

    kind: SourceKind
    units: tuple[Unit, ...]

    @property
    def amps(self) -> float:
        """All its units together, as they are counted on [A]."""
        return sum(one.amps for one in self.units)

    @property
    def most_a(self) -> float:
        """All its units together at their most [A]."""
        return sum(one.most_a for one in self.units)


class SourceState(NamedTuple):
    """One state that can occur: the source plugged in (empty: none), the engine, whether the sun shines at its best,
    and what comes in of each kind.
    """

    plug: str
    plug_name: str
    engine: Engine
    sun: bool
    parts: tuple[SourcePart, ...]

    @property
    def total_a(self) -> float:
        """All kinds together, as they are counted on [A]."""
        return sum(part.amps for part in self.parts)

    @property
    def most_a(self) -> float:
        """All kinds together at their most [A]."""
        return sum(part.most_a for part in self.parts)

    @property
    def name(self) -> str:
        """The state in words: 'sun, P50, engine idling'."""
        engine = f"engine {SPEED_WORDS[self.engine]}" if self.engine != "off" else ""
        return ", ".join(one for one in ("sun" if self.sun else "", self.plug, engine) if one) or "nothing"


class Told(Struct, frozen=True, kw_only=True):
    """What one unit can give, and what it is told to give at most so that all together stay under the limit."""

    tag: str
    kind: SourceKind
    most_a: float
    told_a: Figure


class StatesOfSources(Struct, frozen=True, kw_only=True):
    """All states, the limit they are held to, and what each unit is told so that every state keeps to it."""

    states: tuple[SourceState, ...]
    held_to_a: Figure
    worst: SourceState
    worst_a: Figure
    told: tuple[Told, ...]
    too_much: int

    def given_way(self, state: SourceState) -> dict[SourceKind, float]:
        """What each kind gives in a state once those that give way have [A]."""
        left, found = self.held_to_a.value, dict[SourceKind, float]()
        for part in reversed(state.parts):
            found[part.kind] = min(part.most_a, left)
            left -= found[part.kind]
        return found


def states_of_sources(
    whole: Job,
    stated: Charging,
    inverters: Inverters,
    ladder: tuple[SourceRow, ...],
    bank: BankRatings,
    ends: tuple[ConverterEnd, ...],
    there: tuple[Spare, ...],
    beside: tuple[Beside, ...],
    mixed: ChargingResult,
    loads: tuple[Load, ...],
    chargers: tuple[ChargerLoad, ...],
    bar: str,
    chemistry: Chemistry,
) -> StatesOfSources:
    """Every plug with every engine speed, with and without sun.

    On shore power the engine only idles; a generator that goes along runs on the road too. Chargers of the alternator
    work as far as it can spare, in their order; one straight on a lead-acid bank adds nothing to the sum, for it gives
    what other sources leave the bank to take.

    Source: sums; what each source gives as in the mixes.
    """
    order = {kind: at for at, kind in enumerate(stated.gives_way)}
    suns = {key: _sun(mixed, key) for key in ("parked", "driving")}
    straight = None if chemistry in ("flooded", "agm") else next((one for one in there if one.bar == bar), None)
    engines = {engine: _engine(whole, ends, there, straight, engine) for engine in ENGINE}
    on_ac = ac_chargers(loads, chargers, bar, bank)
    always = [_full(end.converter.tag, end.gives_a.value) for end in ends if not end.by_engine and end.gives_a.value]
    always += [_full(one.tag, one.gives_a.value) for one in on_ac if one.always]
    plugged = [_full(one.tag, one.gives_a.value) for one in on_ac if not one.always]
    plugged += [_full(one.tag, one.shore_a.value) for one in beside if one.shore_a is not None and one.shore_a.value]
    plugs: list[tuple[str, str, SourceKind, tuple[Unit, ...]]] = [("", "", "shore", ())]
    for row, source in zip(ladder, inverters.sources, strict=True):
        units = _through_inverters(inverters, row, bank)
        given = (*units, *plugged)
        if given:
            plugs.append((row.tag, source.name, source.kind, given))
    found = []
    for plug, name, kind, given in plugs:
        for engine in ENGINE if any(engines[one] for one in SPEEDS) else ENGINE[:1]:
            if plug and kind == "shore" and engine in ("slow", "cruise"):
                continue
            for sun in (False, True):
                shining = suns["parked" if engine in ("off", "idle") else "driving"] if sun else ()
                if sun and not shining:
                    continue
                kinds: dict[SourceKind, tuple[Unit, ...]] = {
                    "converters": tuple(always),
                    "engine": engines[engine],
                    "sun": shining,
                }
                kinds[kind] = given
                parts = [SourcePart(key, units) for key, units in kinds.items() if units]
                parts.sort(key=lambda part: order[part.kind])
                found.append(SourceState(plug, name, engine, sun, tuple(parts)))
    worst = max(found, key=lambda state: state.most_a)
    limit = Figure.least(
        name="All charging is held to",
        unit="A",
        formula="the lower of the safe limit and the limit set",
        inputs=(
            mixed.safe_limit_a,
            *((Given("Limit set", stated.system_limit_a, "A"),) if stated.system_limit_a is not None else ()),
        ),
        source=PRACTICE,
    )
    return StatesOfSources(
        states=tuple(found),
        held_to_a=limit,
        worst=worst,
        worst_a=Figure.total(
            name="Sources at their most",
            unit="A",
            formula="Σ of the sources in that state",
            inputs=tuple(Given(KIND_WORDS[part.kind], part.most_a, "A") for part in worst.parts),
            source=PRACTICE,
            limit=worst.name,
        ),
        told=_told(found, limit, stated),
        too_much=sum(state.most_a > limit.value * (1 + 1e-9) for state in found),
    )


def _full(tag: str, amps: float) -> Unit:
    return Unit(tag, amps, amps)


def _sun(mixed: ChargingResult, key: str) -> tuple[Unit, ...]:
    """What the controllers give, parked or on the road, unit by unit."""
    mix = next(
        (one for one in mixed.mixes if one.name == ("Parked in sun" if key == "parked" else "Driving in sun")),
        mixed.mixes[0],
    )
    found: dict[str, float] = {}
    for part in mix.parts:
        if part.name == "Sun":
            for one in part.inputs:
                tag = one.name.removeprefix("Solar inputs of ").removesuffix(" output")
                found[tag] = found.get(tag, 0.0) + one.value
        elif part.name.startswith("Arrays"):
            found["arrays"] = found.get("arrays", 0.0) + part.value
    return tuple(_full(tag, amps) for tag, amps in found.items() if amps > 0)


def _engine(
    whole: Job, ends: tuple[ConverterEnd, ...], there: tuple[Spare, ...], straight: Spare | None, engine: Engine
) -> tuple[Unit, ...]:
    """What chargers that work by the engine give at a speed, as far as their alternators can spare, and alternators
    straight on this bar.
    """
    if engine == "off":
        return ()
    found = []
    if straight is not None:
        cold_a = sum(one.rated_a - one.vehicle_a for one in whole.charging.alternators if one.bar == straight.bar)
        found.append(Unit(" ".join(straight.tags), max(0.0, straight.spare_a[engine].value), max(0.0, cold_a)))
    by_bar = {one.bar: _served_at(whole, one, engine) for one in there}
    for end in ends:
        if end.by_engine and end.gives_a.value:
            fed = by_bar.get(end.other)
            works = fed is None or end.converter.tag in fed
            found.append(Unit(end.converter.tag, end.gives_a.value if works else 0.0, end.gives_a.value))
    return tuple(found)


def _served_at(whole: Job, spare: Spare, speed: Speed) -> set[str]:
    asked = [
        (one.priority, one.tag, min(input_w(whole, one, to) / spare.lowest_v.value, one.spec.input_a or math.inf))
        for one, to in takes_from(whole, spare.bar)
    ]
    return served(asked, spare.spare_a[speed].value)


def _through_inverters(inverters: Inverters, row: SourceRow, bank: BankRatings) -> tuple[Unit, ...]:
    """What the inverter-chargers give at a source, unit by unit: no more than its plug lets through."""
    if not inverters.units or not row.accepted:
        return ()
    spec = inverters.spec
    let = row.continuous_w.value * spec.charge_share / bank.lowest_working_v.value
    each = min(spec.charge_a, let / len(inverters.units))
    return tuple(_full(unit.tag, each) for unit in inverters.units) if each > 0 else ()


def _told(states: list[SourceState], limit: Figure, stated: Charging) -> tuple[Told, ...]:
    """What each unit is told: kinds that give way last are served first, out of what the worst state leaves.

    A kind is told the least that any state leaves it, so that one setting serves every state.
    """
    ratios: dict[SourceKind, float] = {}
    most: dict[str, tuple[SourceKind, float]] = {}
    kinds: dict[str, set[SourceKind]] = {}
    for state in states:
        left = limit.value
        for part in reversed(state.parts):
            share = min(part.most_a, max(0.0, left))
            left -= share
            ratio = share / part.most_a if part.most_a else 1.0
            ratios[part.kind] = min(ratio, ratios.get(part.kind, 1.0))
            for unit in part.units:
                kinds.setdefault(unit.tag, set()).add(part.kind)
                if unit.most_a >= most.get(unit.tag, (part.kind, 0.0))[1]:
                    most[unit.tag] = (part.kind, unit.most_a)
    found = []
    for tag, (kind, amps) in most.items():
        ratio = min(ratios[one] for one in kinds[tag])
        told = Figure(
            name=f"{tag} is told",
            value=amps if ratio >= 1 - 1e-9 else float(math.floor(amps * ratio + 1e-6)),
            unit="A",
            formula="its most × the least share any state leaves to its kind, to 1 A",
            inputs=(Given("Its most", amps, "A"), Given("Left to its kind", ratio, "1"), limit),
            source=PRACTICE,
        )
        found.append(Told(tag=tag, kind=kind, most_a=amps, told_a=told))
    found.sort(key=lambda one: -stated.gives_way.index(one.kind))
    return tuple(found)
