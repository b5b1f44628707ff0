"""Sources: what each place to plug in gives, what runs from it, and what the bank must add."""

from __future__ import annotations

import math

from msgspec import Struct

from weighty_axle.design.bank.packs import BankRatings
from weighty_axle.design.brief.day import BriefResult, when
from weighty_axle.design.brief.profiles import Profile
from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.design.inverters.ladder import Rung, Supply, source_kinds
from weighty_axle.design.inverters.source_days import FedConductor, MeanStep, SourceDay
from weighty_axle.design.inverters.state import State
from weighty_axle.job.models.brief import Stay
from weighty_axle.job.models.inverters import AcSide, Inverters, Source
from weighty_axle.units import System, show


class UnitLimit(Struct, frozen=True, kw_only=True):
    """What to set in each unit where several share one line of the source: they take the sum of their limits.

    `position` names the selectors' positions, empty where there is none.
    """

    position: str
    units: int
    each_a: Figure


class SourceRow(Struct, frozen=True, kw_only=True):
    """What one place to plug in can give, and what the bank must add on the days it is used.

    `lines_fed`: lines of the system that get power, `lines_own`: how many of them have a conductor of their own.
    `accepted`: the inverters let it through in some setting and position that can occur, `position` says which where it
    is not how things stand; `feeds_inverters`: its inlet leads to their input at all. `dead` are loads across lines
    that get nothing there.
    """

    tag: str
    lines_fed: int
    lines_own: int
    gives_240: bool
    accepted: bool
    feeds_inverters: bool
    position: str
    day: str
    conductors: tuple[FedConductor, ...]
    rungs: tuple[Rung, ...]
    recommended_limit_a: Figure
    unit_limits: tuple[UnitLimit, ...]
    continuous_w: Figure
    inlet_v: Figure
    peak_w: Figure
    bank_adds_w: Figure
    bank_adds_va: dict[str, Figure]
    bank_lasts_h: Figure
    charge_left_a: Figure
    net_day_wh: Figure
    full_h: Figure
    dead: tuple[str, ...]

    @property
    def weakest(self) -> Rung:
        """What limits it."""
        return min(self.rungs, key=lambda rung: rung.good_a)


SourcePiece = tuple[Profile, tuple[FedConductor, ...], tuple[str, ...], bool]


def source_pieces(
    ladder: tuple[Supply, ...], stays: tuple[Stay, ...], brief: BriefResult
) -> dict[tuple[str, str], SourcePiece]:
    """What a day at a source is made from, by source and kind of day."""
    return {
        (supply.source.tag, key): (one, supply.conductors, supply.lines, supply.across)
        for supply in ladder
        for kinds in (source_kinds(supply.source, stays, brief),)
        for key, one in brief.profiles.items()
        if one.kind in kinds
    }


def sources(
    stated: Inverters,
    ac: AcSide,
    ladder: tuple[Supply, ...],
    days: dict[tuple[str, str], SourceDay],
    brief: BriefResult,
    bank: BankRatings,
) -> tuple[SourceRow, ...]:
    """A row for each source, from its ladder and its kinds of day. `days`: by source and kind of day."""
    own = {
        supply.source.tag: tuple(day for (tag, _), day in days.items() if tag == supply.source.tag) for supply in ladder
    }
    return tuple(_row(supply, own[supply.source.tag], stated, ac, brief, bank) for supply in ladder)


def _unit_limits(source: Source, states: tuple[State, ...], limit: Figure) -> tuple[UnitLimit, ...]:
    """The limit of each unit, by selector position: units on one line of the source take the sum of what each is set
    to.
    """
    found: dict[str, UnitLimit] = {}
    for state in states:
        shared = [joined.units for joined in state.inputs if set(joined.units) & set(state.passing)]
        if source.legs_in_phase or source.legs == 1:
            shared = [tuple(dict.fromkeys(unit for units in shared for unit in units))]
        count = max((len(set(units)) for units in shared), default=1) or 1
        position = ", ".join(f"{tag} at {name}" for tag, name in state.positions)
        each = Figure(
            name=f"Limit of each unit at {source.name}",
            value=math.floor(limit.value / count * 10 + 1e-6) / 10,
            unit="A",
            formula="limit of the line ÷ units on it, rounded down to 0.1 A",
            inputs=(limit, Given("Units on one line", count, "count")),
            source=TEXTBOOK,
            limit=position,
        )
        found.setdefault(position, UnitLimit(position=position, units=count, each_a=each))
    return tuple(found.values())


def _row(
    supply: Supply, days: tuple[SourceDay, ...], stated: Inverters, ac: AcSide, brief: BriefResult, bank: BankRatings
) -> SourceRow:
    """What a source gives at its limit; the bank adds the rest of the peak, and what is left charges."""
    spec, source = stated.spec, supply.source
    state = supply.passing[0] if supply.passing else None
    conductors, recommended, across = supply.conductors, supply.recommended, supply.across
    own = sum(conductor.gives_va > 0 for conductor in conductors)
    fed = sum(len(conductor.lines) for conductor in conductors if conductor.gives_va > 0)
    limit = Given("Limit set", source.limit_a, "A")
    why = (
        ""
        if state is not None
        else "its inlet leads to no inverter"
        if not supply.leads
        else "the inverters, as they are set, do not let it through"
    )
    continuous = Figure(
        name=f"Power from {source.name}",
        value=supply.counted_a * source.volts * own,
        unit="W",
        formula="the lower of the limit set and the limit to set × volts × lines with a conductor of their own",
        inputs=(limit, recommended, Given("Volts", source.volts, "V"), Given("Lines", own, "count")),
        source=TEXTBOOK,
        limit=why,
    )
    inlet_v = Figure(
        name=f"Voltage at the inlet, {source.name}",
        value=source.volts - source.limit_a * source.loop_ohm,
        unit="V",
        formula="volts − limit × resistance out and back as far as the inlet",
        inputs=(Given("Volts", source.volts, "V"), limit, Given("Resistance out and back", source.loop_ohm, "ohm")),
        source=TEXTBOOK,
        limit="stated or assumed: measure it with a load on",
    )
    most = max(days, key=lambda day: (day.worst.lack.adds_w, day.worst.asked_w))
    at, lack = most.worst, most.worst.lack
    words = when(brief, most.profile, at.start_min)
    peak = Figure(
        name=f"AC power in the worst minute at {source.name}",
        value=at.asked_w,
        unit="W",
        formula="Σ of the lines; what gets no voltage there left out",
        inputs=tuple(Given(f"On {line}", va.real, "W") for line, va in at.lines_va.items()),
        source=TEXTBOOK,
        limit=words,
    )
    given = tuple(
        part
        for conductor in conductors
        for part in (
            Given(
                f"{' and '.join(conductor.lines)} asked",
                sum(abs(at.lines_va.get(line, 0j)) for line in conductor.lines),
                "VA",
            ),
            Given("given", conductor.gives_va, "VA"),
            Given("Active", sum(at.lines_va.get(line, 0j).real for line in conductor.lines), "W"),
        )
    )
    adds = Figure(
        name=f"Bank adds at {source.name}",
        value=lack.adds_w,
        unit="W",
        formula="Σ active power × (1 − given ÷ asked), line by line",
        inputs=given,
        source=TEXTBOOK,
        limit=words,
    )
    each = {line: _adds_to(line, source, days, brief) for line in supply.lines}
    means = [step for day in days for step in day.mean]
    dc_w = max(step.dc_w for step in means)
    drawn_w = adds.value / spec.full_load_efficiency + dc_w
    lasts = Figure(
        name=f"Bank lasts at the peak, {source.name}",
        value=bank.usable_energy_wh.value / drawn_w if adds.value else math.inf,
        unit="h",
        formula="usable energy ÷ (what the bank adds ÷ full-load efficiency + DC loads)",
        inputs=(
            bank.usable_energy_wh,
            adds,
            Given("Efficiency at full load", spec.full_load_efficiency, "1"),
            Given("DC loads, mean", dc_w, "W"),
        ),
        source=TEXTBOOK,
    )
    charger_a = len(stated.units) * spec.charge_a if state is not None else 0.0
    spare_w = min(step.spare_w for step in means)
    left = Figure(
        name=f"Charge left at {source.name}",
        value=min(charger_a, spare_w * spec.charge_share / bank.nominal_v.value),
        unit="A",
        formula="least power to spare × efficiency ÷ bank voltage, at most the chargers' rating",
        inputs=(
            Given("Least to spare beside the mean loads, line by line", spare_w, "W"),
            Given("Efficiency, power factor counted", spec.charge_share, "1"),
            bank.nominal_v,
            Given("Chargers' rating", charger_a, "A"),
        ),
        source=TEXTBOOK,
    )
    busiest = max(days, key=lambda day: day.profile.bank_wh)
    net = _net(source, continuous, busiest.mean, charger_a, stated, bank, brief.days[busiest.profile.kind].name)
    full = Figure(
        name=f"Empty to full at {source.name}",
        value=bank.usable_energy_wh.value / net.value * 24 if net.value > 0 else math.inf,
        unit="h",
        formula="usable energy ÷ what a day adds × 24 h",
        inputs=(bank.usable_energy_wh, net),
        source=TEXTBOOK,
        limit="with that day's loads running; absorption left out",
    )
    dead = tuple(tag for tag, feed in brief.feeds.items() if "+" in feed) if state is not None and not across else ()
    standing = {selector.tag: selector.now for selector in ac.selectors}
    turned = (
        "" if state is None else ", ".join(f"{tag} at {name}" for tag, name in state.positions if standing[tag] != name)
    )
    return SourceRow(
        tag=source.tag,
        lines_fed=fed,
        lines_own=own,
        gives_240=bool(state) and across and len(supply.lines) == 2,
        accepted=state is not None,
        feeds_inverters=supply.leads,
        position=turned,
        day=words,
        conductors=conductors,
        rungs=supply.rungs,
        recommended_limit_a=recommended,
        unit_limits=_unit_limits(source, supply.passing, recommended),
        continuous_w=continuous,
        inlet_v=inlet_v,
        peak_w=peak,
        bank_adds_w=adds,
        bank_adds_va=each,
        bank_lasts_h=lasts,
        charge_left_a=left,
        net_day_wh=net,
        full_h=full,
        dead=dead,
    )


def _adds_to(line: str, source: Source, days: tuple[SourceDay, ...], brief: BriefResult) -> Figure:
    """The most the inverters must add to a line, at its own worst minute."""
    day = max(days, key=lambda one: one.each[line].lack.adds_va.get(line, 0.0))
    at = day.each[line]
    asked_va, adds_va = abs(at.lines_va[line]), at.lack.adds_va.get(line, 0.0)
    given = (Given(f"Asked of {line}", asked_va, "VA"), Given("From the source", asked_va - adds_va, "VA"))
    return Figure(
        name=f"Bank adds to {line} at {source.name}",
        value=adds_va,
        unit="VA",
        formula="asked − from the source",
        inputs=given,
        source=TEXTBOOK,
        limit=when(brief, day.profile, at.start_min),
    )


def _net(
    source: Source,
    continuous: Figure,
    steps: tuple[MeanStep, ...],
    charger_a: float,
    stated: Inverters,
    bank: BankRatings,
    day: str,
) -> Figure:
    """What a day hooked up puts into the bank or takes from it: each line first runs its AC loads, what is to spare
    charges and feeds DC loads.
    """
    spec = stated.spec
    most_w = charger_a * bank.nominal_v.value
    gained = sum(
        step.hours
        * (min(most_w, step.spare_w * spec.charge_share) - step.adds_w / spec.full_load_efficiency - step.dc_w)
        for step in steps
    )
    return Figure(
        name=f"A day at {source.name} adds",
        value=gained,
        unit="Wh",
        formula="Σ hours × (spare × efficiency, at most the chargers, less lack ÷ full-load efficiency, less DC loads)",
        inputs=(
            continuous,
            Given("Efficiency, power factor counted", spec.charge_share, "1"),
            Given("Efficiency at full load", spec.full_load_efficiency, "1"),
            Given("Chargers' rating", most_w, "W"),
        ),
        source=TEXTBOOK,
        limit=f"{day}, mean loads",
    )


def unit_limits(row: SourceRow, limit_a: float, system: System) -> str:
    """What to set in each unit, by selector position where they differ; the limit of the line is shared by the units on
    it.
    """
    made = {
        limit.position: (limit.units, math.floor(limit_a / limit.units * 10 + 1e-6) / 10) for limit in row.unit_limits
    }
    words = {
        position: f"{show(each, 'A', system)}" + (f" in each of {units}" if units > 1 else "")
        for position, (units, each) in made.items()
    }
    if len(set(words.values())) <= 1:
        return next(iter(words.values()), "–")
    return "; ".join(f"{position}: {text}" for position, text in words.items())
