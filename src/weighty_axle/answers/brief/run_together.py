"""Run together: what any set of loads does to legs, sockets, inverters and bank, what gives way first and when."""

from __future__ import annotations

import math

from msgspec import Struct

from weighty_axle.design.brief.draws import DC_VOLTS, FEEDS, voltage_class
from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Figure, Given
from weighty_axle.design.inverters.duty import start_extra_va
from weighty_axle.design.inverters.legs import Leg, line_phasors, part_on
from weighty_axle.design.inverters.source_days import lacking
from weighty_axle.design.table import Design
from weighty_axle.job.models.brief import Load
from weighty_axle.job.models.inverters import BETWEEN_LINES, LINES, Source, units_on
from weighty_axle.physics.electric.batteries import VoltageCollapseError, current_for_power
from weighty_axle.physics.electric.overload import seconds_to_trip
from weighty_axle.physics.electric.phasors import complex_power, star_currents


class Limit(Struct, frozen=True, kw_only=True):
    """One thing that may give way: what it is asked and what it stands, and after how long it gives way [s]."""

    what: str
    tags: tuple[str, ...]
    asked: Figure
    stands: Figure
    seconds: Figure
    why: str

    @property
    def share(self) -> float:
        """Asked over what is stood."""
        return self.asked.value / self.stands.value if self.stands.value else math.inf


class AtSource(Struct, frozen=True, kw_only=True):
    """The same loads with one place to plug in: what it gives at its limit, what the bank adds, how long that and the
    inverters hold.

    `dead` are 240 V loads that get nothing while this source feeds both legs from one line.
    """

    tag: str
    gives_w: Figure
    bank_adds_w: Figure
    lasts_h: Figure
    inverters_hold: Figure
    dead: tuple[str, ...]


class Together(Struct, frozen=True, kw_only=True):
    """A set of loads at once. `limits` are sorted by when they give way, then by share."""

    tags: tuple[str, ...]
    running_w: Figure
    legs_va: tuple[Figure, ...]
    bank_a: Figure
    lasts_h: Figure
    limits: tuple[Limit, ...]
    worst_start: Figure
    sources: tuple[AtSource, ...]
    dead: tuple[str, ...]

    @property
    def first(self) -> Limit | None:
        """What gives way first, if anything does before the bank is empty."""
        found = self.limits[0] if self.limits else None
        return found if found is not None and found.seconds.value < self.lasts_h.value * 3600 else None


def run_together(design: Design, tags: tuple[str, ...]) -> Together:
    """All loads named, every one at its full running power.

    Source: sums and phasors; overload by the datasheet's points (physics.overload); limits of the packs' BMS.
    """
    loads = tuple(load for load in design.job.loads if load.tag in tags)
    across_dead = design.job.inverters.stacking not in BETWEEN_LINES
    dead = tuple(load.tag for load in loads if across_dead and "+" in design.brief.feeds[load.tag])
    alive = tuple(load for load in loads if load.tag not in dead)
    va = {feed: sum((_va(load) for load in alive if design.brief.feeds[load.tag] == feed), 0j) for feed in FEEDS}
    legs = tuple(_leg_va(leg, va) for leg in design.inverters.legs)
    ac_w = sum(power.real for power in va.values())
    dc_w = sum(_dc_w(load, design) for load in alive)
    running = Figure(
        name="Running together",
        value=ac_w + dc_w,
        unit="W",
        formula="Σ running power × count, DC at the bank",
        inputs=tuple(Given(load.name, load.running_w * load.count, "W") for load in alive),
        source=TEXTBOOK,
    )
    bank_w = _bank_w(design, legs, ac_w, dc_w)
    bank_a = _bank_a(design, bank_w)
    lasts = _lasts("The bank lasts", design, bank_w)
    limits = [*_inverter_limits(design, legs), *_bank_limits(design, bank_a), *_neutral(design, va)]
    start = _start(design, alive, legs)
    limits.sort(key=lambda one: (one.seconds.value, -one.share))
    sources = tuple(_at_source(design, source, alive, dc_w) for source in design.job.inverters.sources)
    return Together(
        tags=tags,
        running_w=running,
        legs_va=legs,
        bank_a=bank_a,
        lasts_h=lasts,
        limits=tuple(limits),
        worst_start=start,
        sources=sources,
        dead=dead,
    )


def _va(load: Load) -> complex:
    return 0j if load.supply in DC_VOLTS else complex_power(load.running_w * load.count, load.power_factor)


def _dc_w(load: Load, design: Design) -> float:
    if load.supply not in DC_VOLTS:
        return 0.0
    direct = DC_VOLTS[load.supply] == voltage_class(design.bank.nominal_v.value)
    return load.running_w * load.count / (1.0 if direct else design.job.wiring.converter_efficiency)


def _leg_va(leg: Leg, va: dict[str, complex]) -> Figure:
    own = sum((power * part_on(leg.tag, feed) for feed, power in va.items()), 0j)
    return Figure(
        name=f"On {leg.tag}",
        value=abs(own),
        unit="VA",
        formula="| Σ P + jQ |, loads across lines shared evenly by them",
        inputs=(Given("Active", own.real, "W"), Given("Reactive", own.imag, "var")),
        source=TEXTBOOK,
    )


def _bank_w(design: Design, legs: tuple[Figure, ...], ac_w: float, dc_w: float) -> Figure:
    loss = _losses_w(design, {leg.tag: figure.value for leg, figure in zip(design.inverters.legs, legs, strict=True)})
    return Figure.total(
        name="Power out of the bank",
        unit="W",
        formula="AC + DC + inverter losses",
        inputs=(Given("AC", ac_w, "W"), Given("DC at the bank", dc_w, "W"), Given("Inverter losses", loss, "W")),
        source=TEXTBOOK,
    )


def _losses_w(design: Design, line_va: dict[str, float]) -> float:
    """Loss of the inverters of these lines [W], by apparent power; units side by side share their line, units of two
    legs the sum of both.
    """
    stated, curve = design.job.inverters, design.brief.curve
    if stated.stacking == "one_two_legs":
        return len(stated.units) * curve.loss_w(sum(line_va.values()) / len(stated.units)) if line_va else 0.0
    counts = {line: len(units_on(stated, line)) for line in line_va}
    return sum(counts[line] * curve.loss_w(power / counts[line]) for line, power in line_va.items() if counts[line])


def _bank_a(design: Design, bank_w: Figure) -> Figure:
    """Current at the lowest working voltage, sag included; what a bank cannot give at all is infinite."""
    lowest, resistance = design.bank.lowest_working_v, design.bank.resistance_ohm
    try:
        amps, limit = (
            current_for_power(power_w=bank_w.value, open_circuit_v=lowest.value, resistance_ohm=resistance.value),
            "bank nearly empty",
        )
    except VoltageCollapseError as error:
        amps, limit = math.inf, f"voltage collapse: {error}"
    return Figure(
        name="Bank current",
        value=amps,
        unit="A",
        formula="(V − √(V² − 4 R P)) ÷ 2 R",
        inputs=(lowest, resistance, bank_w),
        source=TEXTBOOK,
        limit=limit,
    )


def _lasts(name: str, design: Design, from_bank_w: Figure) -> Figure:
    usable = design.bank.usable_energy_wh
    hours = usable.value / from_bank_w.value if from_bank_w.value > 0 else math.inf
    return Figure(
        name=name,
        value=hours,
        unit="h",
        formula="usable energy ÷ power out of the bank",
        inputs=(usable, from_bank_w),
        source=TEXTBOOK,
        limit="from full",
    )


def _inverter_limits(design: Design, legs: tuple[Figure, ...]) -> list[Limit]:
    spec, found = design.job.inverters.spec, []
    points = overload_points(design)
    for leg, asked in zip(design.inverters.legs, legs, strict=True):
        if not leg.units:
            continue
        times = asked.value / leg.continuous_va.value if leg.continuous_va.value else math.inf
        seconds = Figure(
            name=f"{leg.tag} inverters hold",
            value=seconds_to_trip(times, points),
            unit="s",
            formula="line through (x² − 1, t) of the datasheet's points, x = load ÷ rating",
            inputs=(asked, leg.continuous_va, *(Given(f"{x:.2f} times", t, "s") for x, t in points)),
            source="inverter datasheet; inverse-time overload",
            limit="" if spec.overload else "only the surge is known: type more points from the datasheet",
        )
        tags = tuple(unit.tag for unit in units_on(design.job.inverters, leg.tag))
        found.append(
            Limit(
                what=f"{leg.tag} inverters",
                tags=tags,
                asked=asked,
                stands=leg.continuous_va,
                seconds=seconds,
                why="overload",
            )
        )
    return found


def overload_points(design: Design) -> tuple[tuple[float, float], ...]:
    """Typed points and the surge, as times the rating and seconds, rising; points that would not fall in time are left
    out.
    """
    spec = design.job.inverters.spec
    points = {point.times: point.seconds for point in spec.overload}
    surge = spec.surge_va / spec.continuous_va
    if surge > 1:
        points.setdefault(surge, spec.surge_s)
    kept: list[tuple[float, float]] = []
    for times, seconds in sorted(points.items()):
        if not kept or seconds <= kept[-1][1]:
            kept.append((times, seconds))
    return tuple(kept) or ((1.0 + 1e-6, spec.surge_s),)


def _bank_limits(design: Design, bank_a: Figure) -> list[Limit]:
    spec, bank = design.job.bank.spec, design.bank
    over = bank_a.value > bank.discharge_limit_a.value
    seconds = 0.0 if bank_a.value > bank.peak_limit_a.value else spec.peak_s if over else math.inf
    given = (bank_a, bank.discharge_limit_a, bank.peak_limit_a, Given("Peak lasts", spec.peak_s, "s"))
    hold = Figure(
        name="The packs hold",
        value=seconds,
        unit="s",
        formula="for ever up to the limit, the peak's seconds above it, none above the peak",
        inputs=given,
        source="pack datasheet",
    )
    tags = tuple(pack.tag for pack in design.job.bank.packs)
    return [
        Limit(
            what="packs' BMS",
            tags=tags,
            asked=bank_a,
            stands=bank.discharge_limit_a,
            seconds=hold,
            why="discharge limit",
        )
    ]


def _neutral(design: Design, va: dict[str, complex]) -> list[Limit]:
    """Neutral of two legs against its rating; a cable too hot has no trip of its own, so no time is promised."""
    stated = design.job.inverters
    lines = LINES[stated.stacking]
    if len(lines) < 2 or stated.stacking == "independent":
        return []
    phases = line_phasors(stated)
    amps = star_currents(phases, [va[line] for line in lines])  # what hangs across lines leaves the neutral alone
    asked = Figure(
        name="Current in the neutral",
        value=abs(sum(amps)),
        unit="A",
        formula="−Σ I of all lines",
        inputs=tuple(Given(f"On {line}", abs(va[line]), "VA") for line in lines),
        source=TEXTBOOK,
    )
    stands = Figure(
        name="Neutral is rated",
        value=stated.neutral_a,
        unit="A",
        formula="as stated",
        inputs=(),
        source="stated in the job",
    )
    hold = Figure(
        name="The neutral holds",
        value=math.inf if asked.value <= stated.neutral_a else 0.0,
        unit="s",
        formula="never above its rating",
        inputs=(asked, stands),
        source=PRACTICE,
    )
    return [Limit(what="neutral", tags=(), asked=asked, stands=stands, seconds=hold, why="no breaker guards it")]


def _start(design: Design, loads: tuple[Load, ...], legs: tuple[Figure, ...]) -> Figure:
    """The worst start while all others run: one motor's extra on its leg, as share of the surge."""
    best = Figure(
        name="Worst start", value=0.0, unit="1", formula="no load with a start surge", inputs=(), source=TEXTBOOK
    )
    for load in loads:
        feed = design.brief.feeds[load.tag]
        for leg, running in zip(design.inverters.legs, legs, strict=True):
            if load.start_multiple <= 1 or not part_on(leg.tag, feed) or not leg.surge_va.value:
                continue
            extra = start_extra_va(load) * part_on(leg.tag, feed)
            share = (running.value + extra) / leg.surge_va.value
            if share > best.value:
                best = Figure(
                    name="Worst start, share of surge",
                    value=share,
                    unit="1",
                    formula="(running + running power × (start multiple − 1)) ÷ surge",
                    inputs=(running, Given("Extra at the start", extra, "VA"), leg.surge_va),
                    source=TEXTBOOK,
                    limit=f"{load.name} starts last, on {leg.tag}",
                )
    return best


def _at_source(design: Design, source: Source, loads: tuple[Load, ...], dc_w: float) -> AtSource:
    """Each line gives up to the limit, the inverters add the rest from the bank; what a line has to spare feeds the DC
    loads.
    """
    row = next(one for one in design.sources if one.tag == source.tag)
    dead = tuple(load.tag for load in loads if load.tag in row.dead)
    legs: dict[str, complex] = {leg.tag: 0j for leg in design.inverters.legs}
    for load in loads:
        feed = design.brief.feeds[load.tag]
        for name in legs:
            if load.tag not in dead:
                legs[name] += _va(load) * part_on(name, feed)
    ac_w = sum(power.real for power in legs.values())
    lack = lacking(row.conductors, {"L1" if name == "AC" else name: power for name, power in legs.items()})
    adds_va = {leg.tag: lack.adds_va.get("L1" if leg.tag == "AC" else leg.tag, 0.0) for leg in design.inverters.legs}
    hold = math.inf
    points = overload_points(design)
    for leg in design.inverters.legs:
        if adds_va[leg.tag] > 0 and leg.units:
            hold = min(
                hold,
                seconds_to_trip(adds_va[leg.tag] / leg.continuous_va.value, points) if leg.continuous_va.value else 0.0,
            )
    loss_w = _losses_w(design, {line: va for line, va in adds_va.items() if va > 0})
    efficiency = design.job.inverters.spec.peak_efficiency
    added_w = lack.adds_w
    for_dc_w = min(dc_w / efficiency, lack.spare_w if row.accepted else 0.0)
    ac, dc, beyond = (
        Given("AC running", ac_w, "W"),
        Given("DC at the bank", dc_w, "W"),
        Given("AC beyond the lines", added_w, "W"),
    )
    gives = Figure(
        name=f"{source.name} gives",
        value=ac_w - added_w + for_dc_w,
        unit="W",
        formula="AC within the limit of each line + DC through the chargers, as far as there is to spare",
        inputs=(ac, beyond, row.continuous_w, dc, Given("Efficiency", efficiency, "1")),
        source=TEXTBOOK,
    )
    adds = Figure(
        name=f"Bank adds at {source.name}",
        value=added_w + loss_w + dc_w - for_dc_w * efficiency,
        unit="W",
        formula="AC beyond the lines + inverter losses + DC the source leaves",
        inputs=(beyond, Given("Inverter losses", loss_w, "W"), dc),
        source=TEXTBOOK,
    )
    held = Figure(
        name=f"Inverters hold at {source.name}",
        value=hold,
        unit="s",
        formula="overload of what each leg's inverters add",
        inputs=(beyond, *(Given(f"{x:.2f} times", t, "s") for x, t in points)),
        source="inverter datasheet; inverse-time overload",
    )
    return AtSource(
        tag=source.tag,
        gives_w=gives,
        bank_adds_w=adds,
        lasts_h=_lasts(f"Lasts at {source.name}", design, adds),
        inverters_hold=held,
        dead=dead,
    )
