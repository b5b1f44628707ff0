"""The table of answers in the order of the work, and the Design they make."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any, NamedTuple

from msgspec import Struct

from weighty_axle.design.bank.cold import ColdResult, cold
from weighty_axle.design.bank.links import in_service, pack_states
from weighty_axle.design.bank.packs import BankResult, bank, bank_ratings
from weighty_axle.design.beside import Beside
from weighty_axle.design.brief.day import BriefResult, brief
from weighty_axle.design.brief.draws import dc_shares, draws_of, feeds_of, voltage_class
from weighty_axle.design.brief.equipment import EquipmentResult, equipment
from weighty_axle.design.brief.profiles import loss_curve, profile, profile_pieces
from weighty_axle.design.brief.seasons import seasons_lived
from weighty_axle.design.brief.stays import ItineraryResult, itinerary
from weighty_axle.design.cables import Cable, HouseCables, house_cables
from weighty_axle.design.charging.budget import Budget, Spare, budgets, loads_on_alternators, spares
from weighty_axle.design.charging.converters import ConverterEnd, direct_alternators, ends_at
from weighty_axle.design.charging.engine import Detection, detections
from weighty_axle.design.charging.generators import GeneratorRun, generator_runs
from weighty_axle.design.charging.mixes import ChargingResult, charging
from weighty_axle.design.charging.paths import Way, charged, charger_loads, feeding, rounds
from weighty_axle.design.charging.starting import Starting, starting
from weighty_axle.design.charging.states import StatesOfSources, states_of_sources
from weighty_axle.design.figures import Figure, figures_in
from weighty_axle.design.inverters.ac_wiring import AcWiring, LiveCircuit, ac_wiring, before_loads, live_circuits
from weighty_axle.design.inverters.asleep import StorageResult, storage
from weighty_axle.design.inverters.duty import duty_pieces, duty_sums, motors_of, painted
from weighty_axle.design.inverters.duty_cases import duty_cases
from weighty_axle.design.inverters.ladder import before_current, supplies
from weighty_axle.design.inverters.legs import InvertersResult, inverters
from weighty_axle.design.inverters.panels import PanelsResult, circuit_pieces, group_sums, members_of, panels
from weighty_axle.design.inverters.source_days import source_day
from weighty_axle.design.inverters.sources import SourceRow, source_pieces, sources
from weighty_axle.design.inverters.state import StatesResult
from weighty_axle.design.inverters.states import states
from weighty_axle.design.place.axles import PlaceResult, place
from weighty_axle.design.place.clear import ClearResult, clearances
from weighty_axle.design.place.heat import HeatResult, bay_day, bay_pieces, heat
from weighty_axle.design.place.holds import HoldsResult, holds
from weighty_axle.design.place.losses import bay_loads, noon_w
from weighty_axle.design.place.room import Room, room
from weighty_axle.design.roof.elsewhere import RemoteResult, remote
from weighty_axle.design.roof.fixings import FixingResult, fixings
from weighty_axle.design.roof.protection import InputProtection, pv_protection
from weighty_axle.design.roof.strings import RoofResult, roof
from weighty_axle.design.settings.points import SettingsResult, full_cell_v, settings
from weighty_axle.design.ways import Ways, ways_of
from weighty_axle.design.wiring.direct import DirectResult, direct, drawn
from weighty_axle.design.wiring.earthing import FaultLoop, fault_loops
from weighty_axle.design.wiring.feeds import FeedRun, cable_ohms, feeds
from weighty_axle.design.wiring.flow import FlowResult, flow
from weighty_axle.design.wiring.guards import GuardsResult, guards
from weighty_axle.design.wiring.in_place import air_in_ways
from weighty_axle.design.wiring.laid import laid
from weighty_axle.design.wiring.leads import stacks_at
from weighty_axle.design.wiring.low_side import LowSide, low_side
from weighty_axle.design.wiring.precharge import PrechargeResult, precharge
from weighty_axle.design.wiring.ripple import RippleResult, ripple
from weighty_axle.design.wiring.runs import WiringResult, busiest, wiring
from weighty_axle.design.wiring.signals import LaidSignal, signals
from weighty_axle.design.wiring.tree import DcTree, dc_tree
from weighty_axle.design.wiring.voltage import VoltagesResult, voltages
from weighty_axle.job.models.document import Item, Job, placed_items
from weighty_axle.job.systems import System


class Design(Struct, frozen=True, kw_only=True):
    """Everything that follows from one system of a job, and from the others beside it.

    `job` is the system seen as a job of its own, `whole` what was stated; `others` are the designs of the other
    systems, empty where there is one only. Answers of the table below that have a place here are shown; the others are
    on the way to them.
    """

    system: System
    job: Job
    whole: Job
    others: tuple[Design, ...] = ()
    ends: tuple[ConverterEnd, ...]
    beside: tuple[Beside, ...]
    items: tuple[Item, ...]
    ways: Ways
    house: HouseCables
    brief: BriefResult
    itinerary: ItineraryResult
    equipment: EquipmentResult
    direct: DirectResult
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
    spares: tuple[Spare, ...]
    charging: ChargingResult
    source_states: StatesOfSources
    rounds: tuple[tuple[Way, ...], ...]
    generators: tuple[GeneratorRun, ...]
    heat: HeatResult
    room: Room
    clear: ClearResult
    holds: HoldsResult
    place: PlaceResult
    wiring: WiringResult
    tree: DcTree
    flow: FlowResult
    precharge: PrechargeResult | None
    guards: GuardsResult
    signals: tuple[LaidSignal, ...]
    loops: tuple[FaultLoop, ...]
    feeds_in: tuple[FeedRun, ...]
    cables: tuple[Cable, ...]
    budgets: tuple[Budget, ...]
    detections: tuple[Detection, ...]
    starting: tuple[Starting, ...]
    low_side: LowSide
    settings: SettingsResult

    @property
    def switched(self) -> bool:
        """Whether its bar has a main switch: the house's always, chosen yet or not; another where one is stated."""
        return not self.system.key or self.system.shares_bank or self.job.wiring.board.main_switch_a is not None

    def of_system(self, key: str) -> Design | None:
        """The design of a system by its key; None where there is none."""
        return next((one for one in (self, *self.others) if one.system.key == key), None)

    def figures(self, beside: Design | None = None) -> Iterator[tuple[str, Figure]]:
        """Every figure with its path, such as `bank.usable_energy_wh`; `beside`: without those of answers that are the
        very same in another design.
        """
        for name in self.__struct_fields__:
            if name not in _NO_FIGURES and (beside is None or getattr(self, name) is not getattr(beside, name)):
                yield from figures_in(getattr(self, name), name)


_NO_FIGURES = frozenset(
    ("system", "job", "whole", "others", "items", "ways", "ac", "circuits", "states", "rounds", "spares", "tree")
)
"""Answers without figures, or whose figures stand in another."""


class Answer(NamedTuple):
    """An answer: its name, what works it out, and the paths it reads, in the order the function takes them."""

    name: str
    function: Callable[..., Any]
    reads: tuple[str, ...]


class Each(NamedTuple):
    """Answers made piece by piece, a dict by key.

    `pieces` names the answer that says, by key, what the function takes.
    """

    name: str
    function: Callable[..., Any]
    pieces: str


TABLE: tuple[Answer | Each, ...] = (
    Answer(
        "items",
        placed_items,
        (
            "whole.bank",
            "whole.inverters",
            "whole.roof.controllers",
            "whole.converters",
            "whole.wiring.board",
            "whole.bars",
            "whole.groups",
            "whole.fittings",
        ),
    ),
    # How cables can go: what is drawn says how long they are.
    Answer("ways", ways_of, ("job.vehicle",)),
    Answer(
        "house",
        house_cables,
        (
            "items",
            "ways",
            "whole.outlets",
            "whole.ac",
            "whole.groups",
            "whole.inverters",
            "whole.dc",
            "whole.wiring.board",
        ),
    ),
    # The bank alone, before anyone asks anything of it.
    Answer("in_service", in_service, ("job.bank.packs",)),
    Answer("pack_states", pack_states, ("in_service",)),
    Answer(
        "ratings",
        bank_ratings,
        ("job.bank.spec", "job.bank.series", "pack_states", "job.bank.usable_share", "job.bank.links"),
    ),
    Answer("bank_class", voltage_class, ("ratings.nominal_v.value",)),
    # What must run, kind of day by kind of day: a ribbon painted on one leaves the sums of the others as they are.
    Answer("ac", ac_wiring, ("job.ac", "job.inverters", "job.practice")),
    Answer(
        "charger_loads",
        charger_loads,
        ("whole.loads", "whole.groups", "whole.ac", "whole.inverters", "whole.wiring.board.tag"),
    ),
    Answer("feeding", feeding, ("plant", "charger_loads", "system")),
    Answer("feeds", feeds_of, ("job.loads", "job.ac", "job.inverters")),
    Answer("loss", loss_curve, ("job.inverters",)),
    Answer("before", before_loads, ("job.ac", "job.loads", "ac")),
    Answer("lived", seasons_lived, ("job.stays", "job.day_kinds")),
    Answer("dc_shares", dc_shares, ("job.loads", "plant", "bank_class", "job.wiring.board.tag")),
    Answer("draws", draws_of, ("job.loads", "feeds", "dc_shares")),
    Answer(
        "day_pieces",
        profile_pieces,
        ("job.day_kinds", "job.loads", "lived", "draws", "before", "job.inverters", "loss", "beside"),
    ),
    Each("profiles", profile, "day_pieces"),
    Answer("brief", brief, ("profiles", "job.loads", "job.day_kinds", "feeds", "job.inverters", "loss")),
    Answer("itinerary", itinerary, ("job.stays", "job.day_kinds", "job.inverters.sources", "brief")),
    Answer("drawn", drawn, ("plant", "job.loads", "job.wiring.board.tag", "bank_class", "brief", "ratings")),
    Answer("equipment", equipment, ("job.existing", "job.vehicle.kind", "bank_class")),
    Answer("bank", bank, ("ratings", "job.inverters", "brief", "beside")),
    # The AC side: what can be live, and what every conductor then carries at its own worst minute.
    Answer(
        "circuits", live_circuits, ("ac", "job.ac", "job.loads", "feeds", "job.inverters", "feeding", "job.practice")
    ),
    Answer("states", states, ("ac", "circuits", "job.inverters")),
    Answer("cases", duty_cases, ("ac", "circuits", "states", "job.inverters.sources")),
    Answer("motors", motors_of, ("job.loads",)),
    Answer("duty_pieces", duty_pieces, ("profiles", "cases", "motors", "ac")),
    Each("duty", duty_sums, "duty_pieces"),
    Answer("painted", painted, ("cases", "profiles", "duty", "brief")),
    Answer(
        "bay_loads",
        bay_loads,
        (
            "whole.vehicle",
            "items",
            "job.inverters",
            "whole.inverters",
            "whole.groups",
            "whole.converters",
            "job.bank",
            "ratings",
        ),
    ),
    Answer("noon_w", noon_w, ("whole.roof",)),
    Answer("bay_pieces", bay_pieces, ("bay_loads", "whole.vehicle", "job.site", "job.stays", "profiles", "noon_w")),
    Each("bay_days", bay_day, "bay_pieces"),
    Answer(
        "heat", heat, ("bay_loads", "whole.vehicle", "job.site", "job.stays", "noon_w", "job.day_kinds", "bay_days")
    ),
    Answer("inverters", inverters, ("job.inverters", "job.loads", "heat.bay_c", "states", "painted")),
    Answer("before_a", before_current, ("circuits", "ac", "job.loads", "job.inverters")),
    Answer(
        "ladder", supplies, ("job.inverters", "job.ac", "job.practice", "job.site", "job.stays", "states", "before_a")
    ),
    Answer("source_pieces", source_pieces, ("ladder", "job.stays", "brief")),
    Each("source_days", source_day, "source_pieces"),
    Answer("sources", sources, ("job.inverters", "job.ac", "ladder", "source_days", "brief", "ratings")),
    Answer("members", members_of, ("circuits",)),
    Answer("circuit_pieces", circuit_pieces, ("profiles", "members")),
    Each("circuit_sums", group_sums, "circuit_pieces"),
    Answer("panels", panels, ("ac", "circuits", "circuit_sums", "painted", "job.inverters", "job.practice", "house")),
    # The bank in the cold and asleep.
    Answer("cold", cold, ("job.bank", "job.site", "job.roof.sky", "ratings", "brief.energy_per_day_wh")),
    Answer("ends", ends_at, ("plant", "job.wiring.board.tag", "ratings")),
    Answer(
        "storage",
        storage,
        (
            "job.ac.storage",
            "job.loads",
            "job.inverters",
            "job.bank.packs",
            "job.bank.spec",
            "job.roof.controllers",
            "plant",
            "job.wiring.board.tag",
            "ratings",
            "cold",
        ),
    ),
    # The sun.
    Answer("full_cell_v", full_cell_v, ("job.settings.full_charge", "job.bank.spec")),
    Answer("roof", roof, ("job.roof", "job.site", "ratings", "full_cell_v", "whole.roof")),
    Answer("remote", remote, ("job.roof", "job.site")),
    Answer("protection", pv_protection, ("job.roof", "roof", "remote", "job.wiring.ampacity_table")),
    Answer("fixings", fixings, ("job.roof",)),
    # Charging, weight, copper, set points.
    Answer("stacks", stacks_at, ("plant", "system", "job.inverters")),
    Answer("direct_a", direct_alternators, ("job.charging", "job.wiring.board.tag", "job.bank.spec")),
    Answer("on_alternators", loads_on_alternators, ("plant", "whole.loads")),
    Answer("spares", spares, ("plant", "on_alternators")),
    Answer("charged", charged, ("job.loads",)),
    Answer(
        "charging",
        charging,
        (
            "job.charging",
            "job.inverters",
            "sources",
            "ratings",
            "roof",
            "remote",
            "job.roof",
            "stacks",
            "ends",
            "beside",
            "direct_a",
            "charged",
            "charger_loads",
            "job.wiring.board.tag",
            "cold.coldest_c",
            "job.bank.spec",
        ),
    ),
    Answer(
        "source_states",
        states_of_sources,
        (
            "plant",
            "job.charging",
            "job.inverters",
            "sources",
            "ratings",
            "ends",
            "spares",
            "beside",
            "charging",
            "charged",
            "charger_loads",
            "job.wiring.board.tag",
            "job.bank.spec.chemistry",
        ),
    ),
    Answer("rounds", rounds, ("plant", "charger_loads")),
    Answer("generators", generator_runs, ("job.inverters", "sources", "ratings", "brief")),
    Answer("room", room, ("whole.vehicle", "items")),
    Answer("clear", clearances, ("whole.vehicle", "items", "whole.assemblies")),
    Answer("holds", holds, ("whole.vehicle", "items", "whole.holds")),
    Answer("place", place, ("whole.vehicle", "items", "whole.roof", "whole.removed", "whole.ladings")),
    Answer("air", air_in_ways, ("job.vehicle", "heat", "job.site")),
    Answer("direct", direct, ("plant", "job.wiring", "drawn", "house", "air")),
    Answer("feeds_in", feeds, ("plant", "job.wiring", "system", "whole.fitted", "ways", "air")),
    Answer("busiest", busiest, ("bank.continuous_a", "charging.into_bank_a", "ends")),
    Answer(
        "wiring",
        wiring,
        (
            "job.wiring",
            "job.practice",
            "job.bank.packs",
            "stacks",
            "job.roof.controllers",
            "ends",
            "ratings",
            "busiest",
            "whole.fitted",
            "ways",
            "air",
        ),
    ),
    Answer(
        "tree",
        dc_tree,
        ("system", "plant", "whole.fitted", "job.wiring", "job.bank.links", "wiring", "feeds_in", "direct"),
    ),
    Answer(
        "flow",
        flow,
        (
            "plant",
            "tree",
            "stacks",
            "job.roof.controllers",
            "ends",
            "source_states",
            "ratings",
            "direct",
            "drawn",
            "brief",
            "job.loads",
        ),
    ),
    Answer("guards", guards, ("plant", "tree", "job.wiring", "ratings", "job.roof.controllers", "whole.fitted")),
    Answer("precharge", precharge, ("job.wiring.board", "stacks", "ratings", "tree")),
    Answer(
        "signals",
        signals,
        (
            "system",
            "whole.signals",
            "whole.outlets",
            "items",
            "ways",
            "job.bank",
            "job.inverters",
            "job.roof.controllers",
            "job.wiring.board",
        ),
    ),
    Answer("loops", fault_loops, ("ac", "circuits", "house", "job.inverters", "job.practice")),
    Answer("cable_ohms", cable_ohms, ("feeds_in", "wiring", "ends")),
    Answer(
        "cables", laid, ("system", "job.wiring", "wiring", "feeds_in", "job.roof", "job.bank.packs", "items", "ways")
    ),
    Answer("budgets", budgets, ("plant", "spares", "cable_ohms", "system")),
    Answer("detections", detections, ("plant", "budgets")),
    Answer("starting", starting, ("plant", "detections")),
    Answer("low_side", low_side, ("plant", "direct", "whole.loads", "system")),
    Answer(
        "settings",
        settings,
        (
            "job.settings",
            "job.charging",
            "job.bank.spec",
            "job.inverters",
            "job.roof.controllers",
            "ratings",
            "charging.safe_limit_a",
            "sources",
            "source_states.told",
        ),
    ),
    Answer("voltages", voltages, ("job.wiring", "job.practice", "bank", "wiring")),
    Answer("ripple", ripple, ("inverters", "job.inverters", "ratings", "wiring")),
)
"""Every answer there is without being asked, in the order of the work: each reads the job and answers above it, never
answers on demand (arrangements, shade, honest peaks ...), which are functions of the Design.
"""
