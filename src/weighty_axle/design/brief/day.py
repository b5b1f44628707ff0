"""The brief: energy per day of every kind of day, where it goes, and the highest power at one time."""

from __future__ import annotations

from collections.abc import Iterator

from msgspec import Struct

from weighty_axle.design.brief.draws import DC_CHANNEL, DC_VOLTS
from weighty_axle.design.brief.profiles import Profile, running_at
from weighty_axle.design.brief.seasons import SEASONS
from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Figure, Given
from weighty_axle.job.models.brief import DayKind, Load, Season
from weighty_axle.job.models.inverters import Inverters
from weighty_axle.physics.electric.converters import LossCurve


class Day(Struct, frozen=True, kw_only=True):
    """One kind of day in the season that takes most from the bank."""

    tag: str
    name: str
    profile: str
    supply_energy_wh: dict[str, Figure]
    ac_energy_wh: Figure
    dc_energy_wh: Figure
    converter_energy_wh: Figure
    beside_energy_wh: Figure
    no_load_energy_wh: Figure
    inverter_loss_energy_wh: Figure
    bank_energy_wh: Figure
    peak_ac_w: Figure
    peak_at_min: int
    peak_loads: tuple[str, ...]


class BriefResult(Struct, frozen=True, kw_only=True):
    """All kinds of day; the design day is the one without hook-up that takes most from the bank.

    `seasonal` leads to profiles.
    """

    days: dict[str, Day]
    profiles: dict[str, Profile]
    seasonal: dict[str, dict[Season, str]]
    design_day: str
    energy_per_day_wh: Figure
    feeds: dict[str, str]
    curve: LossCurve

    def profile(self, kind: str, season: Season | None = None) -> Profile:
        """Profile of a kind of day in a season, or in the season that takes most."""
        return self.profiles[self.seasonal[kind][season] if season else self.days[kind].profile]


def brief(
    profiles: dict[str, Profile],
    loads: tuple[Load, ...],
    day_kinds: tuple[DayKind, ...],
    feeds: dict[str, str],
    inverters: Inverters,
    curve: LossCurve,
) -> BriefResult:
    """Energy and coincident power of every kind of day.

    Source: sums of what was painted; loss curve of physics.converters.
    """
    seasonal: dict[str, dict[Season, str]] = {kind.tag: {} for kind in day_kinds}
    for one in profiles.values():
        seasonal[one.kind].update(dict.fromkeys(one.seasons, one.key))
    for kind in seasonal.values():
        # A season the kind is not lived in shows its neighbour's sums rather than nothing.
        spare = next(iter(kind.values()))
        for season in SEASONS:
            kind.setdefault(season, spare)
    named = {load.tag: load for load in loads}
    units = len(inverters.units)
    days = {
        kind.tag: _day(
            max((one for one in profiles.values() if one.kind == kind.tag), key=lambda one: one.bank_wh),
            kind,
            named,
            curve,
            units,
        )
        for kind in day_kinds
    }
    off_grid = [days[kind.tag] for kind in day_kinds if kind.use != "hooked_up"] or list(days.values())
    design_day = max(off_grid, key=lambda day: day.bank_energy_wh.value)
    return BriefResult(
        days=days,
        profiles=profiles,
        seasonal=seasonal,
        design_day=design_day.tag,
        energy_per_day_wh=design_day.bank_energy_wh,
        feeds=feeds,
        curve=curve,
    )


def when(brief: BriefResult, profile: Profile, minute: int) -> str:
    """Kind of day, season where it matters, and time, as a phrase."""
    season = f", {profile.season_words}" if profile.season_words else ""
    return f"{brief.days[profile.kind].name}{season}, {clock(minute)}"


def clock(minute: int) -> str:
    """Time of day as people write it."""
    return f"{minute // 60:02d}:{minute % 60:02d}"


def _day(profile: Profile, kind: DayKind, named: dict[str, Load], curve: LossCurve, units: int) -> Day:
    name = f"{kind.name}, {profile.season_words}" if profile.season_words else kind.name
    totals = [sum(powers[:DC_CHANNEL]) for powers in zip(*profile.running_w.values, strict=True)]
    at = max(range(len(totals)), key=totals.__getitem__)
    start = profile.running_w.times_min[at]
    together = [(row, power) for row, power in running_at(profile, start) if row.channel < DC_CHANNEL]
    standby_w = totals[at] - sum(power for _, power in together)
    supplies = {supply: _supply_energy(name, supply, profile, named) for supply in profile.by_supply_wh}
    energies = dict(_energies(name, profile, supplies, curve, units if kind.inverters_on else 0))
    return Day(
        tag=kind.tag,
        name=kind.name,
        profile=profile.key,
        supply_energy_wh=supplies,
        **energies,
        peak_ac_w=Figure(
            name=f"Highest AC power together, {name}",
            value=totals[at],
            unit="W",
            formula="largest sum of all painted AC loads at their full running power",
            inputs=tuple(Given(named[row.tag].name, power, "W") for row, power in together)
            + ((Given("On standby", standby_w, "W"),) if standby_w > 1e-9 else ()),
            source=TEXTBOOK,
            limit="duty is not counted on: all may run in the same minute",
        ),
        peak_at_min=start,
        peak_loads=tuple(row.tag for row, _ in together),
    )


def _supply_energy(name: str, supply: str, profile: Profile, named: dict[str, Load]) -> Figure:
    given = tuple(
        Given(named[row.tag].name, profile.by_load_wh[row.tag], "Wh") for row in profile.rows if row.supply == supply
    )
    return Figure(
        name=f"Loads on {SUPPLY_WORDS[supply]}, {name}",
        value=profile.by_supply_wh[supply],
        unit="Wh",
        formula="Σ running power × count × level × duty × season × hours + standby",
        inputs=given,
        source=TEXTBOOK,
    )


SUPPLY_WORDS = {
    "leg_open": "Leg open",
    "L1": "L1",
    "L2": "L2",
    "L3": "L3",
    "L1+L2": "240 V",
    "L1+L2+L3": "Three-phase",
    "AC": "AC",
    "DC_12": "12 V DC",
    "DC_24": "24 V DC",
    "DC_48": "48 V DC",
}


def _energies(
    name: str, profile: Profile, supplies: dict[str, Figure], curve: LossCurve, units: int
) -> Iterator[tuple[str, Figure]]:
    ac_fed = tuple(one for supply, one in supplies.items() if supply not in DC_VOLTS)
    dc_fed = tuple(one for supply, one in supplies.items() if supply in DC_VOLTS)
    ac = Figure.total(name=f"AC loads, {name}", unit="Wh", formula="Σ of every feed", inputs=ac_fed, source=TEXTBOOK)
    dc = Figure.total(name=f"DC loads, {name}", unit="Wh", formula="Σ of every feed", inputs=dc_fed, source=TEXTBOOK)
    converter = Figure(
        name=f"Converters, {name}",
        value=profile.converter_wh,
        unit="Wh",
        formula="Σ DC energy of another voltage × (1 ÷ converter efficiency − 1)",
        inputs=(dc,),
        source=TEXTBOOK,
    )
    no_load = Figure(
        name=f"Inverters idling, {name}",
        value=profile.idle_wh,
        unit="Wh",
        formula="units × no-load power × 24 h",
        inputs=(Given("Units on", units, "count"), Given("No-load power of one", curve.p0_w, "W")),
        source=TEXTBOOK,
    )
    loss = Figure(
        name=f"Inverters converting, {name}",
        value=profile.converting_wh,
        unit="Wh",
        formula="Σ (r1 S + r2 S²) × hours, S the apparent power of one unit",
        inputs=(Given("r1", curve.r1, "ratio"), Given("r2 × 1 kW", curve.r2_per_w * 1000, "ratio")),
        source=TEXTBOOK,
    )
    yield "ac_energy_wh", ac
    yield "dc_energy_wh", dc
    yield "converter_energy_wh", converter
    others = Figure(
        name=f"Others on the bank, {name}",
        value=profile.beside_wh,
        unit="Wh",
        formula="Σ power of other inverter groups and converters to other bars × hours",
        inputs=(),
        source=TEXTBOOK,
    )
    yield "beside_energy_wh", others
    beside = (others,) if profile.beside_wh else ()
    yield "no_load_energy_wh", no_load
    yield "inverter_loss_energy_wh", loss
    yield (
        "bank_energy_wh",
        Figure(
            name=f"Energy out of the bank, {name}",
            value=profile.bank_wh,
            unit="Wh",
            formula="AC loads + DC loads + converters + idling + converting" + (" + others" if beside else ""),
            inputs=(ac, dc, converter, no_load, loss, *beside),
            source=TEXTBOOK + "; no-load in every sum: " + PRACTICE,
        ),
    )
