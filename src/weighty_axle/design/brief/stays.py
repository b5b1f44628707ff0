"""The year's stays: days of each kind, nights with and without hook-up, energy and hours driven."""

from __future__ import annotations

from msgspec import Struct

from weighty_axle.design.brief.day import BriefResult
from weighty_axle.design.brief.seasons import season_days
from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.job.models.brief import YEAR_DAYS, DayKind, Stay
from weighty_axle.job.models.inverters import Source


class StayResult(Struct, frozen=True, kw_only=True):
    """One stay: what it takes from the bank or the hook-up."""

    tag: str
    hooked_up: bool
    energy_wh: Figure
    energy_per_day_wh: Figure


class ItineraryResult(Struct, frozen=True, kw_only=True):
    """All stays of a year."""

    stays: tuple[StayResult, ...]
    days_of_kind: dict[str, int]
    planned_days: Figure
    off_grid_days: Figure
    longest_off_grid_days: Figure
    driven_h: Figure
    energy_wh: Figure


def itinerary(
    stays: tuple[Stay, ...], day_kinds: tuple[DayKind, ...], sources: tuple[Source, ...], brief: BriefResult
) -> ItineraryResult:
    """Sums over the year's stays.

    Stays that follow one another day by day without hook-up count as one stretch, from one year into the next.

    Source: sums of what was stated.
    """
    plugs = {source.tag for source in sources}
    uses = {kind.tag: kind.use for kind in day_kinds}
    ordered = sorted(stays, key=lambda stay: stay.first_day)
    results = tuple(_stay(stay, stay.source in plugs, brief) for stay in ordered)
    days = {kind.tag: sum(stay.days for stay in stays if stay.day_kind == kind.tag) for kind in day_kinds}
    without = [stay for stay in ordered if stay.source not in plugs and uses[stay.day_kind] != "stored"]
    off_grid, longest, run, last_end = sum(stay.days for stay in without), 0, 0, 0
    # Twice round: a run may go on over 31 December.
    for start, days_there in [(stay.first_day + YEAR_DAYS * year, stay.days) for year in (0, 1) for stay in without]:
        run = (run if start == last_end else 0) + days_there
        longest, last_end = max(longest, run), start + days_there
    longest = min(longest, YEAR_DAYS, off_grid)
    given = tuple(Given(f"{stay.place}, days", stay.days, "count") for stay in ordered)
    return ItineraryResult(
        stays=results,
        days_of_kind=days,
        planned_days=Figure(
            name="Days planned",
            value=sum(stay.days for stay in stays),
            unit="days",
            formula="Σ days of all stays",
            inputs=given,
            source=TEXTBOOK,
            limit=f"of {YEAR_DAYS}",
        ),
        off_grid_days=Figure(
            name="Days without hook-up",
            value=off_grid,
            unit="days",
            formula="Σ days of stays without a source, storage left out",
            inputs=given,
            source=TEXTBOOK,
        ),
        longest_off_grid_days=Figure(
            name="Longest without hook-up",
            value=longest,
            unit="days",
            formula="longest run of such days in a row, over 31 December too",
            inputs=given,
            source=TEXTBOOK,
        ),
        driven_h=Figure(
            name="Hours driven in the year",
            value=sum(stay.days * stay.driven_h for stay in stays),
            unit="h",
            formula="Σ days × hours driven a day",
            inputs=given,
            source=TEXTBOOK,
        ),
        energy_wh=Figure.total(
            name="Energy of the year's stays",
            unit="Wh",
            formula="Σ energy of the stays",
            inputs=tuple(result.energy_wh for result in results),
            source=TEXTBOOK,
        ),
    )


def _stay(stay: Stay, hooked_up: bool, brief: BriefResult) -> StayResult:
    by_season = {
        season: (days, brief.profile(stay.day_kind, season).bank_wh) for season, days in season_days(stay).items()
    }
    total = sum(days * wh for days, wh in by_season.values())
    inputs = tuple(
        given
        for season, (days, wh) in by_season.items()
        for given in (Given(f"Days in {season}", days, "count"), Given(f"A day in {season}", wh, "Wh"))
    )
    energy = Figure(
        name=f"Energy at {stay.place}",
        value=total,
        unit="Wh",
        formula="Σ days in each season × energy of such a day",
        inputs=inputs,
        source=TEXTBOOK,
    )
    per_day = Figure.quotient(
        name=f"Energy a day at {stay.place}",
        unit="Wh",
        formula="energy ÷ days",
        inputs=(energy, Given("Days", stay.days, "count")),
        source=TEXTBOOK,
    )
    return StayResult(tag=stay.tag, hooked_up=hooked_up, energy_wh=energy, energy_per_day_wh=per_day)
