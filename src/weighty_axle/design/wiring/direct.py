"""The DC side behind the bars: circuits, panels and bars at their own worst minute, with drop and copper."""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import NamedTuple

from msgspec import Struct

from weighty_axle.design.bank.packs import BankRatings
from weighty_axle.design.brief.day import BriefResult, when
from weighty_axle.design.brief.draws import DC_VOLTS
from weighty_axle.design.cables import HouseCables
from weighty_axle.design.charging.converters import BAR_V
from weighty_axle.design.conductors import ohm_per_m
from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.design.wiring.choices import ambient_factor, bundle_factor
from weighty_axle.design.wiring.in_place import Laid, in_place
from weighty_axle.job.models.brief import Load
from weighty_axle.job.models.charging import Converter
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.wiring import DcCircuit, DcPanel, Wiring
from weighty_axle.job.systems import bar_of, bar_tag, circuit_bar, fed_by, load_bar
from weighty_axle.physics.loads.daytime import summed
from weighty_axle.reference.tables import ampacity_tables


class DcCircuitResult(Struct, frozen=True, kw_only=True):
    """A DC circuit with its loads, on the bar it hangs on as switches stand."""

    tag: str
    name: str
    bar: str
    panel: str
    loads: tuple[str, ...]
    current_a: Figure
    start_a: Figure
    ampacity_a: Figure
    length_m: Figure
    drop_share: Figure


class DcPanelResult(Struct, frozen=True, kw_only=True):
    """A DC panel: its feeder at its own worst minute, ways taken and free."""

    tag: str
    name: str
    bar: str
    current_a: Figure
    ampacity_a: Figure
    length_m: Figure
    drop_share: Figure
    ways_taken: int
    ways_free: int


class BarResult(Struct, frozen=True, kw_only=True):
    """A DC bar of this system: what its loads draw at their worst minute, and what converters give where these feed
    it (None: it has the bank).
    """

    tag: str
    name: str
    volts: int
    demand_a: Figure
    given_a: Figure | None
    energy_wh: Figure


class DirectResult(Struct, frozen=True, kw_only=True):
    """DC circuits, panels and bars of one system."""

    circuits: tuple[DcCircuitResult, ...]
    panels: tuple[DcPanelResult, ...]
    bars: tuple[BarResult, ...]

    @property
    def wires(self) -> tuple[DcCircuitResult | DcPanelResult, ...]:
        """Circuits and panels alike: each has copper and a current."""
        return (*self.circuits, *self.panels)


class _Worst(NamedTuple):
    """The most some loads draw at one time [W], and when: in words, and as kind of day's profile and minute."""

    watts: float
    words: str
    at: tuple[str, int] | None = None


class Drawn(Struct, frozen=True, kw_only=True):
    """What DC circuits, panels and bars of a system carry, whatever their copper is. By tag: the bar each hangs on, the
    loads of a circuit, and currents; `low_v` is the lowest working voltage of each bar. `worst_at` are the minutes
    (profile, minute) at which any of them is at its most, each once.
    """

    bar: dict[str, str]
    loads: dict[str, tuple[str, ...]]
    current_a: dict[str, Figure]
    start_a: dict[str, Figure]
    low_v: dict[str, float]
    bars: tuple[BarResult, ...]
    worst_at: tuple[tuple[str, int], ...]


def drawn(
    whole: Job, loads: tuple[Load, ...], bar: str, bank_class: int, brief: BriefResult, ratings: BankRatings
) -> Drawn:
    """What every DC circuit, panel and bar draws that the bank of `bar` feeds.

    Source: sums of what was painted; textbook relations.
    """
    side = _Side(whole, loads, bar, bank_class, brief, ratings)
    circuits = {one.tag: circuit_bar(whole, one) for one in whole.dc.circuits}
    circuits = {tag: on for tag, on in circuits.items() if fed_by(whole, on) == bar}
    panels = {one.tag: side.bar_of_panel(one) for one in whole.dc.panels}
    panels = {tag: on for tag, on in panels.items() if fed_by(whole, on) == bar}
    fed = tuple(one.tag for one in whole.bars if one.bank is None and fed_by(whole, one.tag) == bar)
    of_circuit = {tag: tuple(load.tag for load in side.loads if load.circuit == tag) for tag in circuits}
    currents = {tag: side.current(f"{tag} current", of_circuit[tag], on) for tag, on in circuits.items()}
    starts = {tag: side.start(tag, currents[tag], on) for tag, on in circuits.items()}
    for tag, on in panels.items():
        inside = {circuit.tag for circuit in whole.dc.circuits if circuit.panel == tag}
        behind = (load.tag for load in side.loads if load.circuit in inside)
        currents[tag] = side.current(f"{tag} feeder current", behind, on)
    hung = circuits | panels
    bars = tuple(side.bar(tag) for tag in (bar, *fed))
    return Drawn(
        bar=hung,
        loads=of_circuit,
        current_a=currents,
        start_a=starts,
        low_v={on: side.low_v(on) for on in dict.fromkeys(hung.values())},
        bars=bars,
        worst_at=tuple(side.worst_at),
    )


def direct(whole: Job, wiring: Wiring, drawn: Drawn, house: HouseCables, air: dict[str, float]) -> DirectResult:
    """Every DC circuit and panel of a system with its copper; `house` says how long each is and which ways it goes
    through, `air` how warm these are.

    Source: textbook relations; ampacity tables of reference/.
    """
    circuits = [one for one in whole.dc.circuits if one.tag in drawn.bar]
    panels = [one for one in whole.dc.panels if one.tag in drawn.bar]
    wires: list[DcCircuit | DcPanel] = [*circuits, *panels]
    laid = Laid(air, {})
    copper = {
        one.tag: _copper(in_place(wiring, house.ways.get(one.tag, ()), laid), one, drawn, house.lengths_m[one.tag])
        for one in wires
    }
    taken = [one.panel for one in whole.dc.circuits]
    return DirectResult(
        circuits=tuple(
            DcCircuitResult(
                tag=one.tag,
                name=one.name,
                bar=drawn.bar[one.tag],
                panel=one.panel,
                loads=drawn.loads[one.tag],
                current_a=drawn.current_a[one.tag],
                start_a=drawn.start_a[one.tag],
                ampacity_a=copper[one.tag][0],
                length_m=house.lengths_m[one.tag],
                drop_share=copper[one.tag][1],
            )
            for one in circuits
        ),
        panels=tuple(
            DcPanelResult(
                tag=one.tag,
                name=one.name,
                bar=drawn.bar[one.tag],
                current_a=drawn.current_a[one.tag],
                ampacity_a=copper[one.tag][0],
                length_m=house.lengths_m[one.tag],
                drop_share=copper[one.tag][1],
                ways_taken=taken.count(one.tag),
                ways_free=one.ways - taken.count(one.tag),
            )
            for one in panels
        ),
        bars=drawn.bars,
    )


class _Side:
    """The DC side while it is worked out."""

    def __init__(
        self, whole: Job, loads: tuple[Load, ...], own: str, bank_class: int, brief: BriefResult, ratings: BankRatings
    ) -> None:
        self.whole, self.own, self.bank_class, self.brief, self.ratings = whole, own, bank_class, brief, ratings
        self.loads = tuple(load for load in loads if load.supply in DC_VOLTS)
        self.worst_at: dict[tuple[str, int], None] = {}

    # ---- parts ----

    def start(self, tag: str, current: Figure, bar: str) -> Figure:
        """What a circuit draws while its hardest load starts."""
        own = (load for load in self.loads if load.circuit == tag)
        start_w = max((load.running_w * (load.start_multiple - 1) for load in own), default=0.0)
        return Figure(
            name=f"{tag} start",
            value=current.value + start_w / self.low_v(bar),
            unit="A",
            formula="current + largest start of one above its running ÷ lowest voltage",
            inputs=(current, Given("Largest start above running", start_w, "W"), Given("Lowest", self.low_v(bar), "V")),
            source=TEXTBOOK,
        )

    def bar_of_panel(self, one: DcPanel) -> str:
        switch = next((switch for switch in self.whole.dc.switches if switch.feeds == one.tag), None)
        return switch.now if switch is not None else bar_tag(self.whole, one.bar)

    def bar(self, tag: str) -> BarResult:
        stated = bar_of(self.whole, tag)
        own = tuple(load for load in self.loads if load_bar(self.whole, load) == tag)
        feeding = tuple(one for one in self.whole.converters if bar_tag(self.whole, one.end) == tag)
        name = stated.name if stated is not None else self.whole.wiring.board.name
        return BarResult(
            tag=tag,
            name=name,
            volts=stated.volts if stated is not None else self.bank_class,
            demand_a=self.current(f"{tag} DC loads together", (load.tag for load in own), tag),
            given_a=None if tag == self.own else _given(tag, feeding, self.low_v(tag)),
            energy_wh=self._energy(tag, own),
        )

    def _energy(self, tag: str, own: tuple[Load, ...]) -> Figure:
        """Energy a day of what hangs on a bar, on the design day."""
        day = self.brief.days[self.brief.design_day]
        profile = self.brief.profiles[day.profile]
        given = tuple(Given(load.name, profile.by_load_wh.get(load.tag, 0.0), "Wh") for load in own)
        return Figure.total(
            name=f"Energy on {tag} a day",
            unit="Wh",
            formula="Σ running power × count × level × duty × season × hours + standby",
            inputs=given,
            source=TEXTBOOK,
            limit=day.name,
        )

    # ---- sums ----

    def low_v(self, bar: str) -> float:
        """Lowest working voltage of a bar [V]: of the bank on its own bar, else what converters hold."""
        if bar == self.own:
            return self.ratings.lowest_working_v.value
        held = [
            one.spec.output_v
            for one in self.whole.converters
            if bar_tag(self.whole, one.end) == bar and one.spec.output_v is not None
        ]
        stated = bar_of(self.whole, bar)
        return min(held, default=BAR_V[stated.volts if stated is not None else self.bank_class][0])

    def _worst(self, tags: Iterable[str]) -> _Worst:
        """The most that loads draw together on any kind of day, at themselves."""
        wanted, best = set(tags), _Worst(0.0, "nothing painted")
        for profile in self.brief.profiles.values():
            rows = [row for row in profile.rows if row.tag in wanted]
            stretches = [
                (0, span.start_min, span.end_min, row.full_w * row.at_load_share * span.level)
                for row in rows
                for span in row.spans
            ]
            if not stretches:
                continue
            steps = summed(1, stretches)
            at = max(range(len(steps.values[0])), key=steps.values[0].__getitem__)
            if steps.values[0][at] > best.watts:
                minute = steps.times_min[at]
                best = _Worst(steps.values[0][at], when(self.brief, profile, minute), (profile.key, minute))
        return best

    def current(self, name: str, tags: Iterable[str], bar: str) -> Figure:
        """What loads draw together at their worst minute."""
        worst = self._worst(tags)
        if worst.at is not None:
            self.worst_at[worst.at] = None
        return Figure.quotient(
            name=name,
            unit="A",
            formula="power of what is painted at its worst minute ÷ lowest working voltage",
            inputs=(Given("Together", worst.watts, "W"), Given("Lowest working voltage", self.low_v(bar), "V")),
            source=TEXTBOOK,
            limit=worst.words,
        )


def _copper(stated: Wiring, one: DcCircuit | DcPanel, drawn: Drawn, length: Figure) -> tuple[Figure, Figure]:
    """What the wire of a circuit or feeder may carry, and its drop."""
    current, nominal = drawn.current_a[one.tag], drawn.low_v[drawn.bar[one.tag]]
    metre = Given(f"Resistance per metre at {stated.insulation_c} °C", ohm_per_m(one.size, stated.insulation_c), "ohm")
    drop = Figure(
        name=f"{one.tag} drop",
        value=2 * length.value * metre.value * current.value / nominal,
        unit="1",
        formula="2 × length × resistance per metre × current ÷ voltage",
        inputs=(length, metre, current, Given("Voltage", nominal, "V")),
        source=TEXTBOOK,
        limit="copper only",
    )
    return wire_ampacity(stated, one.tag, one.size), drop


def wire_ampacity(stated: Wiring, tag: str, size: str) -> Figure:
    """What one conductor of a size may carry as the job lays cables; not a number for a size its table does not have.

    Source: ampacity tables of reference/.
    """
    table = ampacity_tables()[stated.ampacity_table]
    row = next((row for row in table.rows if row.size == size and stated.insulation_c in row.amps), None)
    each = Given("Table value", row.amps[stated.insulation_c] if row is not None else math.nan, "A")
    air = Given("Ambient factor", ambient_factor(table, stated.insulation_c, stated.ambient_c), "ratio")
    bundle = Given("Factor of the bundle", bundle_factor(table, stated.runs_together, 1), "ratio")
    terminal = table.terminal_a(row, stated.terminals_c) if row is not None else None
    allowed = (Given("Terminals allow", terminal, "A"),) if terminal is not None else ()
    return Figure(
        name=f"{tag} ampacity",
        value=min(each.value * air.value * bundle.value, *(one.value for one in allowed), math.inf),
        unit="A",
        formula="table value × ambient factor × bundle factor, at most what terminals allow",
        inputs=(each, air, bundle, *allowed),
        source=f"{table.cited}; {table.bundle_source}, recalled",
        limit=size if row is not None else f"{size} is not in the job's table",
    )


def _given(tag: str, feeding: tuple[Converter, ...], low_v: float) -> Figure:
    """What converters give to a bar together at its voltage."""
    each = tuple(
        Given(
            one.tag,
            min(
                one.spec.output_a if one.spec.output_a is not None else math.inf,
                one.spec.output_w / low_v if one.spec.output_w is not None else math.inf,
            ),
            "A",
        )
        for one in feeding
    )
    return Figure.total(
        name=f"{tag} given by converters",
        unit="A",
        formula="Σ output of the converters that feed it",
        inputs=each,
        source="converter datasheet",
    )
