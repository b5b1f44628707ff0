"""The main DC runs with conductor by ampacity and drop, fuse by rating, voltage and breaking capacity."""

from __future__ import annotations

import math

from msgspec import Struct

from weighty_axle.design.bank.packs import BankRatings
from weighty_axle.design.charging.converters import ConverterEnd
from weighty_axle.design.conductors import conductor_ohm_per_km, least_ohm_per_km
from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Figure, Given
from weighty_axle.design.lengths import length
from weighty_axle.design.ways import Ways, apart_m
from weighty_axle.design.wiring.choices import (
    ConductorChoice,
    ambient_factor,
    bundle_factor,
    choice_name,
    conductor_choices,
)
from weighty_axle.design.wiring.in_place import Laid, in_place, runs_in_ways, ways_on
from weighty_axle.design.wiring.leads import inverter_current
from weighty_axle.job.models.bank import Pack
from weighty_axle.job.models.charging import Converter
from weighty_axle.job.models.inverters import Inverters
from weighty_axle.job.models.parts import Practice
from weighty_axle.job.models.roof import Controller
from weighty_axle.job.models.wiring import Board, Fitted, Wiring
from weighty_axle.job.stated import Place
from weighty_axle.physics.electric.batteries import prospective_current_a
from weighty_axle.physics.electric.protection import next_rating_a
from weighty_axle.reference import tables
from weighty_axle.reference.tables import AmpacityTable, FuseKind
from weighty_axle.units import conductor_words

MAIN_RUN = "W-MAIN"
"""Tag of the run from the bank to the board."""


LOAD_FACTOR = 1.25
"""Fuse over continuous current of loads. Source: NEC 210.20/215.3 (125 %), recalled; kept for both practices."""


CHARGER_FACTOR = 1.2
"""Fuse over output of a charger that limits itself (50 A sits on 60 A). Source: common practice, no source."""


class Run(Struct, frozen=True, kw_only=True):
    """One two-wire DC run from where the current comes from to where it goes."""

    tag: str
    start: str
    end: str
    length_m: Figure
    current_a: Figure
    fuse_a: Figure
    fuse_kind: FuseKind
    prospective_a: Figure
    candidates: tuple[ConductorChoice, ...]
    chosen: ConductorChoice | None
    own_choice: bool
    ampacity_a: Figure
    drop_share: Figure
    loss_w: Figure
    fitted: Fitted | None


class WiringResult(Struct, frozen=True, kw_only=True):
    """All main runs; the worst path is the main run plus one inverter's lead."""

    runs: tuple[Run, ...]
    worst_drop_share: Figure
    worst_drop_run: str

    @property
    def main(self) -> Run:
        """The run from the bank to the board."""
        return next(run for run in self.runs if run.tag == MAIN_RUN)


class _Ask(Struct, frozen=True, kw_only=True):
    """What a run must carry, before anything is chosen."""

    tag: str
    start: str
    end: str
    measured_m: float | None
    places: tuple[Place, Place]
    current: Figure
    factor: float


def busiest(continuous_a: Figure, into_bank_a: Figure, ends: tuple[ConverterEnd, ...]) -> Figure:
    """The largest of what the main run carries into the bank and out of it: at full load, and with what takes from the
    bar while the engine runs on top.

    Source: sums; an alternator is taken to come in at the battery's posts, as a vehicle's own cable does.
    """
    # What works without the engine is part of the full load already (`design.sharing`).
    taken = tuple(end.takes_a for end in ends if end.by_engine and end.takes_a.value)
    most = Figure.total(
        name="Out of the bank while the engine runs",
        unit="A",
        formula="at full load + Σ chargers that work by the engine",
        inputs=(continuous_a, *taken),
        source=TEXTBOOK,
        limit="an alternator comes in at the battery's posts: the main run carries all of it",
    )
    return max(continuous_a, into_bank_a, *((most,) if taken else ()), key=lambda one: one.value)


def wiring(
    stated: Wiring,
    practice: Practice,
    packs: tuple[Pack, ...],
    stacks: tuple[Inverters, ...],
    controllers: tuple[Controller, ...],
    ends: tuple[ConverterEnd, ...],
    bank: BankRatings,
    busiest: Figure,
    fitted: tuple[Fitted, ...],
    ways: Ways,
    air: dict[str, float],
) -> WiringResult:
    """Conductors and fuses of the main runs; `busiest` is the larger of full inverter load and all charging together,
    `stacks` are all inverters on the bar, `fitted` the protection chosen or found already.

    Source: ampacity tables of reference/, physics.conductors; see docs/methods.md.
    """
    table = tables.ampacity_tables()[stated.ampacity_table]
    asks = _asks(stated, packs, stacks, controllers, ends, bank, busiest, ways)
    known = {one.run: one for one in fitted if one.kind != "switch"}
    laid = Laid(air, runs_in_ways([ways.path(*ask.places, "dc") for ask in asks]))
    main = _run(asks[0], stated, table, practice, bank, stated.main_fuse, bank.least_resistance_ohm, known, ways, laid)
    behind_main = bank.least_resistance_ohm.value + _loop_ohm(main)
    board = Figure(
        name="Resistance to the board",
        value=behind_main,
        unit="ohm",
        formula="bank + main run, out and back",
        inputs=(bank.least_resistance_ohm, main.length_m),
        source=TEXTBOOK,
    )
    branches = tuple(
        _run(ask, stated, table, practice, bank, stated.branch_fuse, board, known, ways, laid) for ask in asks[1:]
    )
    units = {unit.tag for stack in stacks for unit in stack.units}
    worst = max(
        (run for run in branches if run.end in units),
        key=lambda run: math.inf if math.isnan(run.drop_share.value) else run.drop_share.value,
        default=None,
    )
    total = Figure.total(
        name="Worst drop to an inverter",
        unit="1",
        formula="drop of the main run + drop of the inverter's lead",
        inputs=(main.drop_share, *((worst.drop_share,) if worst is not None else ())),
        source=TEXTBOOK,
        limit=f"bank to {worst.end}, all inverters at full load; copper only" if worst is not None else "no inverters",
    )
    return WiringResult(
        runs=(main, *branches), worst_drop_share=total, worst_drop_run=worst.end if worst is not None else MAIN_RUN
    )


def _asks(
    stated: Wiring,
    packs: tuple[Pack, ...],
    stacks: tuple[Inverters, ...],
    controllers: tuple[Controller, ...],
    ends: tuple[ConverterEnd, ...],
    bank: BankRatings,
    busiest: Figure,
    ways: Ways,
) -> list[_Ask]:
    board = stated.board.place
    low = bank.lowest_working_v
    asks = [
        _Ask(
            tag=MAIN_RUN,
            start="bank",
            end=stated.board.tag,
            measured_m=stated.main_lead_m,
            places=(bank_end(packs, board, ways), board),
            current=busiest,
            factor=LOAD_FACTOR,
        )
    ]
    for stack in stacks:
        each = inverter_current(stack, low)
        asks += [
            _Ask(
                tag=f"W-{unit.tag}",
                start=stated.board.tag,
                end=unit.tag,
                measured_m=unit.lead_m,
                places=(board, unit.place),
                current=each,
                factor=LOAD_FACTOR,
            )
            for unit in stack.units
        ]
    for controller in controllers:
        if controller.unit:  # built into an inverter, whose lead carries both
            continue
        rating = controller.spec.output_a
        figure = Figure(
            name=f"{controller.tag} rated output",
            value=rating,
            unit="A",
            formula="controller's rating",
            inputs=(Given("Rating", rating, "A"),),
            source="controller datasheet",
        )
        asks.append(_charging_ask(controller, stated.board, figure))
    for end in ends:
        if end.converter.feed and end.starts_here:  # it hangs on a shared cable
            continue
        taken = end.takes_a.value > end.gives_a.value
        current, factor = (end.takes_a, LOAD_FACTOR) if taken else (end.gives_a, CHARGER_FACTOR)
        asks.append(_charging_ask(end.converter, stated.board, current, factor))
    return asks


def _charging_ask(end: Controller | Converter, board: Board, current: Figure, factor: float = CHARGER_FACTOR) -> _Ask:
    """What a run from the board to what charges asks for."""
    return _Ask(
        tag=f"W-{end.tag}",
        start=board.tag,
        end=end.tag,
        measured_m=end.lead_m,
        places=(board.place, end.place),
        current=current,
        factor=factor,
    )


def bank_end(packs: tuple[Pack, ...], board: Place, ways: Ways) -> Place:
    """Where the main run starts: the middle of the packs; of a bank in several spaces, the pack farthest off."""
    if len({ways.space_of(pack.place) for pack in packs}) > 1:
        paths = ((pack.place, ways.path(pack.place, board, "dc")) for pack in packs)
        return max(paths, key=lambda one: one[1].total_m if one[1] is not None else apart_m(one[0], board))[0]
    return Place(
        **{axis: sum(getattr(pack.place, axis) for pack in packs) / len(packs) for axis in ("x_m", "y_m", "z_m")}
    )


def _run(
    ask: _Ask,
    stated: Wiring,
    table: AmpacityTable,
    practice: Practice,
    bank: BankRatings,
    fuse_kind: str,
    upstream: Figure,
    known: dict[str, Fitted],
    ways: Ways,
    laid: Laid,
) -> Run:
    one_way = length(ask.tag, ask.measured_m, *ask.places, ways)
    stated = in_place(stated, ways_on(ways.path(*ask.places, "dc")), laid)
    ratings = tables.fuse_ratings(practice)
    needed = Figure.product(
        name=f"{ask.tag} fuse, at least",
        unit="A",
        formula="current × factor",
        inputs=(ask.current, Given("Factor", ask.factor, "ratio")),
        source="NEC 210.20/215.3 (recalled)" if ask.factor == LOAD_FACTOR else PRACTICE,
    )
    try:
        rating = next_rating_a(needed.value, ratings.amps)
    except ValueError:
        # Beyond the largest standard fuse: wiring.no-standard-fuse says so.
        rating = needed.value
    fitted = known.get(ask.tag)
    fuse = Figure(
        name=f"{ask.tag} fuse",
        value=rating if fitted is None else fitted.amps,
        unit="A",
        formula="next standard rating" if fitted is None else "as fitted",
        inputs=(needed,),
        source=f"{ratings.source} (recalled; check against your copy)" if fitted is None else fitted.name,
    )
    candidates = conductor_choices(
        stated, table, one_way.value, ask.current.value, fuse.value, bank.nominal_v.value, needed.value
    )
    own = stated.conductors.get(ask.tag)
    chosen = (
        _named(own, candidates) if own else next((candidate for candidate in candidates if not candidate.against), None)
    )
    kind = tables.fuse_kinds()[fuse_kind]
    prospective = Figure(
        name=f"{ask.tag} short-circuit current",
        value=prospective_current_a(open_circuit_v=bank.max_v.value, resistance_ohm=upstream.value),
        unit="A",
        formula="highest voltage ÷ resistance up to the fuse",
        inputs=(bank.max_v, upstream),
        source=TEXTBOOK,
        limit="the BMS is not counted on",
    )
    ampacity, drop, loss = _of_chosen(ask, chosen, table, stated, one_way, bank)
    return Run(
        tag=ask.tag,
        start=ask.start,
        end=ask.end,
        length_m=one_way,
        current_a=ask.current,
        fuse_a=fuse,
        fuse_kind=kind,
        prospective_a=prospective,
        candidates=candidates,
        chosen=chosen,
        own_choice=own is not None,
        ampacity_a=ampacity,
        drop_share=drop,
        loss_w=loss,
        fitted=fitted,
    )


def _named(own: str, candidates: tuple[ConductorChoice, ...]) -> ConductorChoice | None:
    """Candidate of a choice such as `4/0 AWG` or `2 x 70 mm2`."""
    return next((candidate for candidate in candidates if choice_name(candidate) == own), None)


def _of_chosen(
    ask: _Ask, chosen: ConductorChoice | None, table: AmpacityTable, stated: Wiring, one_way: Figure, bank: BankRatings
) -> tuple[Figure, Figure, Figure]:
    """Ampacity, drop and loss of the chosen conductor with their workings; without a conductor there is no drop to
    tell.
    """
    one = chosen or ConductorChoice(
        size="none",
        count=1,
        ampacity_a=0.0,
        drop_v=math.nan,
        drop_share=math.nan,
        loss_w=math.nan,
        copper_kg=0.0,
        against="",
    )
    row = next((row for row in table.rows if row.size == one.size), None)
    terminal_a = table.terminal_a(row, stated.terminals_c) if row is not None else None
    table_a = row.amps[stated.insulation_c] if row is not None else 0.0
    factor, bundle = (
        ambient_factor(table, stated.insulation_c, stated.ambient_c),
        bundle_factor(table, stated.runs_together, one.count),
    )
    terminals = (Given("Terminals allow", terminal_a, "A"),) if terminal_a is not None else ()
    words = f"with {conductor_words(choice_name(one))}"
    if one.next_up:
        words += "; its fuse is the next rating above, as permitted (NEC 240.4(B))"
    if terminal_a is not None and terminal_a < table_a * factor * bundle:
        words += "; the terminals' temperature limits"
    ampacity = Figure(
        name=f"{ask.tag} ampacity",
        value=one.ampacity_a,
        unit="A",
        formula="table value × ambient factor × bundle factor, at most what terminals allow × conductors",
        inputs=(
            Given("Table value", table_a, "A"),
            Given("Ambient factor", factor, "ratio"),
            Given("Factor of the bundle", bundle, "ratio"),
            Given("Insulation", stated.insulation_c, "degC"),
            Given("Air", stated.ambient_c, "degC"),
            Given("Conductors in parallel", one.count, "count"),
            *terminals,
        ),
        source=f"{table.cited}; {table.bundle_source}, recalled",
        limit=words,
    )
    ohm_km = Given("Conductor at 20 °C", conductor_ohm_per_km(one.size) / 1000 if chosen else 0.0, "ohm per m")
    drop = Figure(
        name=f"{ask.tag} drop",
        value=one.drop_share,
        unit="1",
        formula="2 × length × resistance at insulation temperature × current ÷ conductors ÷ nominal voltage",
        inputs=(
            one_way,
            ohm_km,
            Given("Conductor temperature", stated.insulation_c, "degC"),
            ask.current,
            Given("Conductors in parallel", one.count, "count"),
            bank.nominal_v,
        ),
        source="IEC 60228:2004 table 3 (recalled)" if one.size.endswith("mm2") else "ASTM B258 + 2 % strand lay",
        limit=f"copper only: lugs, fuse, switch and shunt come on top; with {conductor_words(choice_name(one))}",
    )
    loss = Figure(
        name=f"{ask.tag} loss",
        value=one.loss_w,
        unit="W",
        formula="drop × nominal voltage × current",
        inputs=(drop, bank.nominal_v, ask.current),
        source=TEXTBOOK,
    )
    return ampacity, drop, loss


def _loop_ohm(run: Run) -> float:
    """Least resistance of a run, out and back: cold, of full area.

    Without a conductor none is counted on: the fault current at the bank itself.
    """
    if run.chosen is None:
        return 0.0
    return least_ohm_per_km(run.chosen.size) / 1000 * 2 * run.length_m.value / run.chosen.count
