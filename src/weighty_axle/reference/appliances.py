"""The appliance library: what ships, and what an installer keeps for later jobs."""

from __future__ import annotations

import functools
from pathlib import Path
from typing import Literal

import msgspec

from weighty_axle.job.models.brief import ALL_YEAR, Load, Pattern, Seasons, Supply
from weighty_axle.job.models.inverters import LINES, Inverters, line_v
from weighty_axle.reference.own_file import read_kept, write_kept
from weighty_axle.reference.tables import Table

AppliancesSupply = Literal["AC", "AC_240", "DC_12", "DC_24", "DC_48"]
SeasonWord = Literal["all_year", "winter", "summer"]
SEASON_SHARES: dict[SeasonWord, Seasons] = {
    "all_year": ALL_YEAR,
    "winter": Seasons(winter=1.0, spring=0.5, summer=0.0, autumn=0.5),
    "summer": Seasons(winter=0.0, spring=0.3, summer=1.0, autumn=0.3),
}
"""Share of its duty a heating or cooling load keeps in each season. Source: an assumption, to be edited per load."""


class Appliance(msgspec.Struct, frozen=True, kw_only=True):
    """An appliance with values to start from; `note` says where they come from."""

    name: str
    group: str
    supply: AppliancesSupply
    running_w: float
    power_factor: float
    start_multiple: float
    start_s: float
    duty: float
    cycle_min: float
    standby_w: float
    season: SeasonWord
    must_run: bool
    note: str


@functools.cache
def appliances() -> Table[Appliance]:
    """Appliances that ship with the program."""
    raw = (Path(__file__).parent / "appliances.json").read_bytes()
    table: Table[Appliance] = msgspec.json.decode(raw, type=Table[Appliance], strict=False)
    return table


def load_of(one: Appliance, tag: str, inverters: Inverters, patterns: dict[str, Pattern]) -> Load:
    """A load made from an appliance; with several lines its leg stays open, and 240 V ones hang across two legs of 120
    V.
    """
    supply: Supply = "leg_open" if len(LINES[inverters.stacking]) > 1 else "AC"
    supplies: dict[AppliancesSupply, Supply] = {
        "AC": supply,
        "AC_240": "L1+L2" if supply == "leg_open" and line_v(inverters) < 150 else supply,
    }
    return Load(
        tag=tag,
        name=one.name,
        group=one.group,
        supply=supplies.get(one.supply, one.supply),  # type: ignore[arg-type]  # the DC supplies are spelled alike
        running_w=one.running_w,
        power_factor=one.power_factor,
        start_multiple=one.start_multiple,
        start_s=one.start_s,
        duty=one.duty,
        cycle_min=one.cycle_min,
        standby_w=one.standby_w,
        must_run=one.must_run,
        seasons=SEASON_SHARES[one.season],
        patterns=patterns,
        note=one.note,
    )


def appliance_of(load: Load) -> Appliance:
    """A library entry made from a load."""
    season: SeasonWord = next((word for word, shares in SEASON_SHARES.items() if shares == load.seasons), "all_year")
    supply: AppliancesSupply = (
        "AC_240" if load.supply == "L1+L2" else load.supply if load.supply in ("DC_12", "DC_24", "DC_48") else "AC"
    )
    return Appliance(
        name=load.name,
        group=load.group,
        supply=supply,
        running_w=load.running_w,
        power_factor=load.power_factor,
        start_multiple=load.start_multiple,
        start_s=load.start_s,
        duty=load.duty,
        cycle_min=load.cycle_min,
        standby_w=load.standby_w,
        season=season,
        must_run=load.must_run,
        note=load.note or "own addition",
    )


def read_own(path: Path) -> tuple[Appliance, ...]:
    """Own additions kept in a file; none when there is no file. Raises ValueError when it is damaged."""
    return read_kept(path, Appliance, "appliances")


def keep_own(path: Path, one: Appliance) -> None:
    """Keep an addition; one of the same name is replaced. Raises OSError, ValueError."""
    write_kept(path, (*(other for other in read_own(path) if other.name != one.name), one))
