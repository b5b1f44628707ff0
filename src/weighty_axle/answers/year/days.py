"""The year day by day: where the vehicle stands, what kind of day it has, what it is plugged in to."""

from __future__ import annotations

from msgspec import Struct

from weighty_axle.answers.roof.sunny import SunnyPlace, home
from weighty_axle.design.brief.seasons import season_of
from weighty_axle.design.table import Design
from weighty_axle.job.models.brief import YEAR_DAYS, Season, Stay


class YearDay(Struct, frozen=True, kw_only=True):
    """One day. `stay` is None for a day that nobody has planned: it stands at home, and `kind` is empty where no kind
    of day is stored. `source` is what it is plugged in to; empty: nothing.
    """

    day: int
    stay: Stay | None
    place: SunnyPlace
    kind: str
    season: Season
    source: str


def days_of(design: Design) -> tuple[YearDay, ...]:
    """Every day of the year from 1 January."""
    job = design.job
    taken = {day: stay for stay in job.stays for day in range(stay.first_day, stay.first_day + stay.days)}
    otherwise = idle_kind(design)
    plugs = {row.tag for row in design.sources if row.accepted}
    at_home = home(design)
    places = {stay.tag: _place(stay) for stay in job.stays}
    return tuple(
        YearDay(
            day=day,
            stay=stay,
            place=places[stay.tag] if stay is not None else at_home,
            kind=stay.day_kind if stay is not None else otherwise,
            season=season_of(day, (places[stay.tag] if stay is not None else at_home).latitude_deg),
            source=stay.source if stay is not None and stay.source in plugs else "",
        )
        for day in range(1, YEAR_DAYS + 1)
        for stay in (taken.get(day),)
    )


def idle_kind(design: Design) -> str:
    """Kind of day of what no stay plans: stored where there is such a kind, else nothing runs; without any stays the
    design day, all year.
    """
    if not design.job.stays:
        return design.brief.design_day
    return next((kind.tag for kind in design.job.day_kinds if kind.use == "stored"), "")


def plan_notes(design: Design) -> tuple[str, ...]:
    """Days that nobody has planned, in a sentence."""
    if design.system.shares_bank:
        return ("This group shares its bank: the year of the bank, with all that hangs on it, is the house's.",)
    idle = YEAR_DAYS - sum(stay.days for stay in design.job.stays)
    if not design.job.stays:
        name = design.brief.days[design.brief.design_day].name
        return (f"No stays are stated: every day is taken as {name}, at {design.job.site.home}.",)
    if idle:
        what = "stored at home" if idle_kind(design) else "at home with nothing running"
        return (f"{idle} days are in no stay: they are taken as {what}.",)
    return ()


def _place(stay: Stay) -> SunnyPlace:
    return SunnyPlace(
        name=stay.place, latitude_deg=stay.latitude_deg, longitude_deg=stay.longitude_deg, height_m=stay.height_m
    )
