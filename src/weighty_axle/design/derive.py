"""derive(job) -> Design: every step in the order of the work, each recomputed only when what it reads has changed."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, fields
from typing import Any, TypeVar

from weighty_axle.design.bank import BankResult, bank
from weighty_axle.design.brief import BriefResult, brief
from weighty_axle.design.charging import ChargingResult, charging
from weighty_axle.design.figures import Figure, figures_in
from weighty_axle.design.inverters import InvertersResult, inverters
from weighty_axle.design.place import PlaceResult, place
from weighty_axle.design.roof import RoofResult, roof
from weighty_axle.design.settings import FULL_CELL_V, SettingsResult, settings
from weighty_axle.design.wiring import WiringResult, wiring
from weighty_axle.job.model import Item, Job, placed_items

Result = TypeVar("Result")


@dataclass(frozen=True, slots=True)
class Design:
    """Everything that follows from one job."""

    job: Job
    items: tuple[Item, ...]
    brief: BriefResult
    bank: BankResult
    inverters: InvertersResult
    roof: RoofResult
    charging: ChargingResult
    place: PlaceResult
    wiring: WiringResult
    settings: SettingsResult

    def figures(self) -> Iterator[tuple[str, Figure]]:
        """Every figure with its path, such as `bank.usable_energy_wh`."""
        for one in fields(self):
            if one.name not in ("job", "items"):
                yield from figures_in(getattr(self, one.name), one.name)


class Deriver:
    """Keeps the last result of each step with the very objects it was made from; nothing else is cached."""

    def __init__(self) -> None:
        self._kept: dict[Callable[..., Any], tuple[tuple[Any, ...], Any]] = {}

    def _once(self, step: Callable[..., Result], *parts: Any) -> Result:
        kept = self._kept.get(step)
        if kept is not None and all(old is new for old, new in zip(kept[0], parts, strict=True)):
            result: Result = kept[1]
            return result
        result = step(*parts)
        self._kept[step] = (parts, result)
        return result

    def derive(self, job: Job) -> Design:
        """Design of a job.

        Raises: ValueError only for a job that job.checks would refuse.
        """
        do, stated = self._once, job
        all_items = do(placed_items, stated.bank, stated.inverters, stated.roof, stated.charging, stated.wiring, stated.fittings)
        day = do(brief, stated.loads, stated.day_kinds, stated.inverters, stated.wiring.converter_efficiency)
        battery = do(bank, stated.bank, stated.inverters, day)
        legs = do(inverters, stated.inverters, stated.loads, stated.practice, stated.site.bay_high_c, day, battery)
        array = do(roof, stated.roof, stated.site, battery, FULL_CELL_V[stated.settings.full_charge])
        sources = do(charging, stated.charging, stated.inverters, battery, array)
        axles = do(place, stated.vehicle, all_items, stated.roof)
        runs = do(wiring, stated.wiring, stated.practice, stated.bank.packs, stated.inverters, stated.roof, stated.charging, battery, sources)
        points = do(settings, stated.settings, stated.charging.system_limit_a, stated.bank, stated.inverters, stated.roof, battery, sources)
        return Design(job, all_items, day, battery, legs, array, sources, axles, runs, points)


def derive(job: Job) -> Design:
    """Design of a job, computed afresh."""
    return Deriver().derive(job)
