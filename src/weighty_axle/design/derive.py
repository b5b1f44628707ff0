"""derive(job) -> Design: every step in the order of the work, each recomputed only when what it reads has changed."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any, TypeVar

from msgspec import Struct

from weighty_axle.design.bank.cold import ColdResult, cold
from weighty_axle.design.bank.links import pack_states
from weighty_axle.design.bank.packs import BankResult, bank, bank_ratings
from weighty_axle.design.bank.voltage import VoltagesResult, voltages
from weighty_axle.design.brief.day import BriefResult, Profile, brief, draws_of, feeds_of, loss_curve, profile, rows_of, seasons_alike, voltage_class
from weighty_axle.design.brief.equipment import EquipmentResult, equipment
from weighty_axle.design.brief.seasons import seasons_lived
from weighty_axle.design.brief.stays import ItineraryResult, itinerary
from weighty_axle.design.charging.mixes import ChargingResult, charging
from weighty_axle.design.figures import Figure, figures_in
from weighty_axle.design.inverters.ac_wiring import AcWiring, LiveCircuit, ac_wiring, before_loads, live_circuits
from weighty_axle.design.inverters.asleep import StorageResult, storage
from weighty_axle.design.inverters.duty import Painted, duty_cases, duty_sums, motors_of
from weighty_axle.design.inverters.legs import InvertersResult, inverters
from weighty_axle.design.inverters.panels import PanelsResult, group_sums, members_of, panels
from weighty_axle.design.inverters.ripple import RippleResult, ripple
from weighty_axle.design.inverters.source_days import source_day
from weighty_axle.design.inverters.sources import SourceRow, before_current, source_kinds, sources, supplies
from weighty_axle.design.inverters.states import StatesResult, states
from weighty_axle.design.place.axles import PlaceResult, place
from weighty_axle.design.roof.elsewhere import RemoteResult, remote
from weighty_axle.design.roof.fixings import FixingResult, fixings
from weighty_axle.design.roof.protection import InputProtection, pv_protection
from weighty_axle.design.roof.strings import RoofResult, roof
from weighty_axle.design.settings.points import FULL_CELL_V, SettingsResult, settings
from weighty_axle.design.wiring.runs import WiringResult, wiring
from weighty_axle.job.models.document import Item, Job, placed_items

Result = TypeVar("Result")


class Design(Struct, frozen=True):
    """Everything that follows from one job."""

    job: Job
    items: tuple[Item, ...]
    brief: BriefResult
    itinerary: ItineraryResult
    equipment: EquipmentResult
    bank: BankResult
    voltages: VoltagesResult
    cold: ColdResult
    inverters: InvertersResult
    sources: tuple[SourceRow, ...]
    ac: AcWiring
    circuits: tuple[LiveCircuit, ...]
    panels: PanelsResult
    states: StatesResult
    ripple: RippleResult
    storage: StorageResult
    roof: RoofResult
    remote: tuple[RemoteResult, ...]
    protection: tuple[InputProtection, ...]
    fixings: FixingResult
    charging: ChargingResult
    place: PlaceResult
    wiring: WiringResult
    settings: SettingsResult

    def figures(self) -> Iterator[tuple[str, Figure]]:
        """Every figure with its path, such as `bank.usable_energy_wh`."""
        for name in self.__struct_fields__:
            if name not in ("job", "items", "ac", "circuits", "states"):
                yield from figures_in(getattr(self, name), name)


def _same(old: Any, new: Any) -> bool:
    """Whether a part is unchanged: the very object, a figure of the same value and working, or a tuple of equal parts made again."""
    return old is new or (isinstance(new, Figure | tuple | str | float | int) and bool(old == new))


class Deriver:
    """Keeps the last result of each step with the very objects it was made from; nothing else is cached."""

    def __init__(self) -> None:
        self._kept: dict[Any, tuple[tuple[Any, ...], Any]] = {}

    def _once(self, step: Callable[..., Result], *parts: Any, part_of: str = "") -> Result:
        """Result of a step; `part_of` tells apart the parts of a step that is made in pieces."""
        name = (step, part_of)
        kept = self._kept.get(name)
        if kept is not None and all(_same(old, new) for old, new in zip(kept[0], parts, strict=True)):
            result: Result = kept[1]
            return result
        result = step(*parts)
        self._kept[name] = (parts, result)
        return result

    def derive(self, job: Job) -> Design:
        """Design of a job.

        Raises: ValueError only for a job that job.checks would refuse.
        """
        do, stated = self._once, job
        all_items = do(placed_items, stated.bank, stated.inverters, stated.roof, stated.charging, stated.wiring, stated.fittings)
        in_service = tuple((pack.tag, pack.resistance_factor, pack.out) for pack in stated.bank.packs)
        packs = do(pack_states, in_service)
        ratings = do(bank_ratings, stated.bank.spec, stated.bank.series, packs, stated.bank.usable_share, stated.bank.links)
        day = self._brief(job, voltage_class(ratings.nominal_v.value))
        year = do(itinerary, stated.stays, stated.day_kinds, stated.inverters.sources, day)
        audit = do(equipment, stated.existing, stated.vehicle.kind, voltage_class(ratings.nominal_v.value))
        battery = do(bank, ratings, stated.inverters, day)
        wired = do(ac_wiring, stated.ac, stated.inverters)
        circuits = do(live_circuits, stated.ac, stated.loads, day.feeds, stated.inverters)
        table = do(states, wired, circuits, stated.inverters)
        cases = do(duty_cases, wired, circuits, table, stated.inverters.sources)
        motors = do(motors_of, stated.loads)
        profiles = tuple(day.profiles.values())
        painted = do(
            Painted, cases, tuple((one, do(duty_sums, one, cases.groups, motors, len(wired.lines), part_of=one.key)) for one in profiles), day
        )
        legs = do(inverters, stated.inverters, stated.loads, stated.site.bay_high_c, table, painted)
        before_a = do(before_current, circuits, wired, stated.loads, stated.inverters)
        ladder = do(supplies, stated.inverters, stated.ac, stated.practice, stated.site, stated.stays, table, before_a)
        at_sources = tuple(
            tuple(
                do(source_day, one, supply.conductors, supply.lines, supply.across, part_of=f"{supply.source.tag} {one.key}")
                for one in profiles if one.kind in source_kinds(supply.source, stated.stays, day)
            )
            for supply in ladder
        )  # fmt: skip
        plugged = do(sources, stated.inverters, stated.ac, ladder, at_sources, day, ratings)
        groups = do(members_of, circuits)
        sums = tuple((one.key, do(group_sums, one, groups, part_of=one.key)) for one in profiles)
        boards = do(panels, wired, circuits, sums, painted, stated.inverters, stated.practice)
        winter = do(cold, stated.bank, stated.site, stated.roof.sky, ratings, day.energy_per_day_wh)
        asleep = do(storage, stated.ac.storage, stated.loads, stated.inverters, stated.bank.packs, stated.roof.controllers, ratings, winter)
        array = do(roof, stated.roof, stated.site, ratings, FULL_CELL_V[stated.settings.full_charge])
        away = do(remote, stated.roof, stated.site)
        guards = do(pv_protection, stated.roof, array, away, stated.wiring.ampacity_table)
        held = do(fixings, stated.roof)
        charge = do(charging, stated.charging, stated.inverters, plugged, ratings, array, away, stated.roof)
        axles = do(place, stated.vehicle, all_items, stated.roof)
        busiest = max(battery.continuous_a, charge.into_bank_a, key=lambda one: one.value)
        runs = do(
            wiring, stated.wiring, stated.practice, stated.bank.packs, stated.inverters, stated.roof.controllers, stated.charging, ratings, busiest
        )
        points = do(
            settings,
            stated.settings,
            stated.charging.system_limit_a,
            stated.bank.spec,
            stated.inverters,
            stated.roof.controllers,
            ratings,
            charge.safe_limit_a,
            plugged,
        )
        choice = do(voltages, stated.wiring, stated.practice, battery, runs)
        swing = do(ripple, legs, stated.inverters, ratings, runs)
        return Design(
            job, all_items, day, year, audit, battery, choice, winter, legs, plugged, wired, circuits, boards, table, swing, asleep, array, away, guards, held, charge, axles,
            runs, points,
        )  # fmt: skip

    def _brief(self, job: Job, bank_class: int) -> BriefResult:
        """Step Brief in pieces: a ribbon painted on one kind of day leaves the sums of the others as they are."""
        do = self._once
        feeds, curve = do(feeds_of, job.loads, job.ac, job.inverters), do(loss_curve, job.inverters)
        before = do(before_loads, job.ac, job.loads, do(ac_wiring, job.ac, job.inverters))
        lived = do(seasons_lived, job.stays, job.day_kinds)
        draws = do(draws_of, job.loads, feeds, bank_class, job.wiring.converter_efficiency)
        profiles: list[Profile] = []
        for kind in job.day_kinds:
            groups = seasons_alike(job.loads, kind, lived[kind.tag])
            for seasons in groups:
                key = kind.tag if len(groups) == 1 else f"{kind.tag} {seasons[0]}"
                rows = rows_of(draws, kind, seasons[0], before)
                profiles.append(do(profile, key, kind, seasons, rows, job.inverters, curve, part_of=key))
        return do(brief, tuple(profiles), job.loads, job.day_kinds, feeds, job.inverters, curve)


def derive(job: Job) -> Design:
    """Design of a job, computed afresh."""
    return Deriver().derive(job)
