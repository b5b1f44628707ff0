"""Volts, amps and watts of every way of the DC side, state by state: which state is the worst for which way."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from typing import NamedTuple, TypeVar

from msgspec import Struct

from weighty_axle.design.bank.packs import BankRatings
from weighty_axle.design.brief.day import BriefResult, when
from weighty_axle.design.brief.draws import DC_VOLTS
from weighty_axle.design.brief.profiles import Profile
from weighty_axle.design.charging.converters import BAR_V, ConverterEnd
from weighty_axle.design.charging.states import SourceState, StatesOfSources
from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.design.wiring import direct as side
from weighty_axle.design.wiring.direct import DirectResult
from weighty_axle.design.wiring.tree import DcTree, Root, TreeWay
from weighty_axle.job.models.brief import Load
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.inverters import Inverters
from weighty_axle.job.models.roof import Controller
from weighty_axle.job.systems import bar_of, bar_tag, load_bar
from weighty_axle.physics.electric.network import Branch, Network, Settled, settle

GROUND = "ground"
"""Node the voltages are told against: the negative of what feeds."""
STIFF_OHM = 1e-6
"""What stands between a source that holds its voltage and its terminal: the solution wants a branch."""
_WITHIN_V = 1e-5
NIGHT_MIN = 3 * 60
"""Minute of the day that stands for the night."""


class Drawn(NamedTuple):
    """What is taken out of the ends of ways in a state: power that is taken whatever the voltage [W], by way; current
    put in by what charges [A], by way; what hangs on the first stud of a bar without a way of its own [W], by bar.
    """

    watts: dict[str, float]
    charged_a: dict[str, float]
    loose_w: dict[str, float]


class AtWay(NamedTuple):
    """A way in a state: its current, away from the source, and the voltage where it starts and where it ends."""

    amps: float
    start_v: float
    end_v: float

    @property
    def watts(self) -> float:
        """Turned into heat in it [W]."""
        return self.amps * (self.start_v - self.end_v)


class DcState(Struct, frozen=True, kw_only=True):
    """One state, solved. `charges`: current flows into the bank. Where there is no working point, `collapsed` names the
    bars; `passes` and `residual_v` are of the last solution.
    """

    key: str
    name: str
    charges: bool
    source_v: dict[str, float]
    ways: dict[str, AtWay]
    collapsed: tuple[str, ...]
    passes: int
    residual_v: float

    @property
    def lost_w(self) -> float:
        """Turned into heat in all ways [W]."""
        return sum(way.watts for way in self.ways.values())


class WayFlow(Struct, frozen=True, kw_only=True):
    """A way at its own worst but for the surge of seconds: current, drop from the source to its end, its own heat, each
    in the state that it names.

    `told` is false where something on its path is not known: then the figures are of what is.
    """

    tag: str
    told: bool
    most_a: Figure
    drop_share: Figure
    heat_w: Figure


class FlowResult(Struct, frozen=True, kw_only=True):
    """Every state that can be worst for something, and every way at its worst."""

    states: tuple[DcState, ...]
    ways: tuple[WayFlow, ...]
    worst_drop_share: Figure
    worst_way: str


def flow(
    whole: Job,
    tree: DcTree,
    stacks: tuple[Inverters, ...],
    controllers: tuple[Controller, ...],
    ends: tuple[ConverterEnd, ...],
    sources: StatesOfSources,
    ratings: BankRatings,
    direct: DirectResult,
    drawn: side.Drawn,
    brief: BriefResult,
    loads: tuple[Load, ...],
) -> FlowResult:
    """The DC side solved in every state that can be the worst for one of its ways: the inverters at full load in every
    painted minute that is a DC load's own worst, at their surge, the busiest painted minute, the night, and every set
    of charging that no other outdoes.

    Source: nodal analysis, physics.electric.network; loads take constant power.
    """
    made = _Flow(whole, tree, stacks, controllers, ends, ratings, direct)
    states = tuple(made.states(sources, brief, loads, drawn.worst_at)) if tree.roots else ()
    ways = tuple(made.worst(way, states) for way in tree.ways if way.kind != "bar") if states else ()
    drops = [one for one in ways if one.told]
    worst = max(drops, key=lambda one: one.drop_share.value, default=None)
    return FlowResult(
        states=states,
        ways=ways,
        worst_drop_share=Figure.largest(
            name="Worst drop of the DC side",
            unit="1",
            formula="the largest drop of all ways",
            inputs=(worst.drop_share,) if worst is not None else (Given("Nothing", 0.0, "1"),),
            source=TEXTBOOK,
            limit=f"{worst.tag}: {worst.drop_share.limit}" if worst is not None else "no ways",
        ),
        worst_way=worst.tag if worst is not None else "",
    )


def network_of(root: Root, source_ohm: float, joint_ohm: Mapping[str, float]) -> Network:
    """The network of a bar behind a source of 1 V. `joint_ohm` is added to ways by tag: a joint that has gone bad.

    Source: nodal analysis.
    """
    sources = dict.fromkeys(way.start for way in root.ways if _first(way, root))
    branches = [Branch(GROUND, node, source_ohm, 1.0) for node in sources]
    branches += [Branch(way.start, way.end, max(way.ohm, STIFF_OHM) + joint_ohm.get(way.tag, 0.0)) for way in root.ways]
    return Network(branches, GROUND)


def solved(root: Root, network: Network, drawn: Drawn, source_v: float) -> Settled:
    """One bar with what is drawn from it; loads take constant power."""
    first = f"{root.bar} 1"
    there = any(way.start == first or way.end == first for way in root.ways)
    watts = {way.end: drawn.watts[way.tag] for way in root.ways if drawn.watts.get(way.tag)}
    if there and drawn.loose_w.get(root.bar):
        watts[first] = watts.get(first, 0.0) + drawn.loose_w[root.bar]
    amps = {way.end: -drawn.charged_a[way.tag] for way in root.ways if drawn.charged_a.get(way.tag)}
    if there and drawn.charged_a.get(root.bar):
        amps[first] = amps.get(first, 0.0) - drawn.charged_a[root.bar]
    forces = [one.emf_v * source_v for one in network.branches]
    return settle(network, drawn_w=watts, drawn_a=amps, emf_v=forces, within_v=_WITHIN_V)


def source_v(root: Root, whole: Job, ratings: BankRatings) -> float:
    """What a bar is held at where converters feed it; else the bank's lowest working voltage [V]."""
    if not root.converters:
        return ratings.lowest_working_v.value
    held = [one.spec.output_v for one in whole.converters if one.tag in root.converters]
    stated = bar_of(whole, root.bar)
    usual = BAR_V[stated.volts][0] if stated is not None else ratings.lowest_working_v.value
    return min((volts for volts in held if volts is not None), default=usual)


def _first(way: TreeWay, root: Root) -> bool:
    """Whether a way begins at a source."""
    return way.kind == "main" or (way.kind == "feed" and way.start in root.converters)


class _Flow:
    """The states while they are solved."""

    def __init__(
        self,
        whole: Job,
        tree: DcTree,
        stacks: tuple[Inverters, ...],
        controllers: tuple[Controller, ...],
        ends: tuple[ConverterEnd, ...],
        ratings: BankRatings,
        direct: DirectResult,
    ) -> None:
        self.whole, self.tree, self.ends = whole, tree, ends
        self.ratings, self.direct = ratings, direct
        self.units = tuple((unit.tag, stack.spec) for stack in stacks for unit in stack.units)
        self.built_in = {one.tag: one.unit for one in controllers if one.unit}
        self.tags = {way.tag for way in tree.ways}
        self.specs = {one.tag: one.spec for one in whole.converters}
        self.fed = {root.bar: root for root in tree.roots[1:]}
        self.networks: dict[tuple[str, float], Network] = {}

    # ---- what is drawn ----

    def states(
        self,
        sources: StatesOfSources,
        brief: BriefResult,
        loads: tuple[Load, ...],
        worst_at: tuple[tuple[str, int], ...],
    ) -> Iterator[DcState]:
        """The painted minutes that nothing outdoes with the inverters at full load and at their surge, the busiest
        minute and the night as painted, then charging.
        """
        low = self.ratings.lowest_working_v.value
        full = {f"W-{tag}": spec.continuous_va / spec.full_load_efficiency for tag, spec in self.units}
        surge = {f"W-{tag}": spec.surge_va / spec.full_load_efficiency for tag, spec in self.units}
        # Converters to other banks take what they can at the same time; what hangs on a fed bar is solved with it.
        taken = self._to_others(low)
        full, surge = full | taken, surge | taken
        minutes = [
            ((brief.profiles[key], minute), self._at(brief.profiles[key], minute, loads, full))
            for key, minute in worst_at
        ]
        busy = ["inverters"] * bool(self.units) + ["converters to other banks"] * bool(taken)
        said = " and ".join(busy) + " at full load" * bool(busy)
        most = _undone(minutes, lambda one: one[1].watts | one[1].loose_w)
        for (profile, minute), drawn in most:
            words = ", ".join(one for one in (said, when(brief, profile, minute)) if one)
            yield self._state(f"full {profile.key} {minute}", words, low, STIFF_OHM, drawn)
        if not most:
            yield self._state("full", said or "nothing painted", low, STIFF_OHM, Drawn(full, {}, {}))
        if self.units:
            rest_v, inside = self.ratings.nominal_v.value, self.ratings.resistance_ohm.value
            beside = max(
                (drawn for _, drawn in most), key=lambda one: sum(one.loose_w.values()), default=Drawn({}, {}, {})
            )
            yield self._state(
                "surge", "inverters at their surge", rest_v, inside, beside._replace(watts=beside.watts | surge)
            )
        steps = (
            (watts, profile, start)
            for profile in brief.profiles.values()
            for watts, start in zip(profile.bank_w, profile.mean_w.times_min, strict=False)
        )
        _, profile, minute = max(steps, key=lambda one: one[0])
        for key, at in (("busiest", minute), ("night", NIGHT_MIN)):
            yield self._state(key, when(brief, profile, at), low, STIFF_OHM, self._at(profile, at, loads, None))
        each = [({unit.tag: unit.most_a for part in one.parts for unit in part.units}, one) for one in sources.states]
        for _, state in _undone([one for one in each if any(one[0].values())], lambda one: one[0]):
            yield self._charging(state, sources)

    def _to_others(self, low_v: float) -> dict[str, float]:
        """What converters from this bar to other banks and to the vehicle take at their most [W], by way."""
        found: dict[str, float] = {}
        for end in self.ends:
            tag = self._way_to(end.converter.tag)
            if end.takes_a.value and tag and end.other not in self.fed:
                found[tag] = found.get(tag, 0.0) + end.takes_a.value * low_v
        return found

    def _at(
        self, profile: Profile, minute: int, loads: tuple[Load, ...], inverters_w: dict[str, float] | None
    ) -> Drawn:
        """What a painted minute takes: DC loads where they hang, and what the inverters take by way, or where that is
        not given the rest that is painted, shared alike.
        """
        own = {
            row.tag: row.standby_w
            + sum(
                row.full_w * row.at_load_share * span.level
                for span in row.spans
                if span.start_min <= minute < span.end_min
            )
            for row in profile.rows
        }
        watts = {one.tag: sum(own.get(tag, 0.0) for tag in one.loads) for one in self.direct.circuits}
        loose = self._loose(own, loads)
        if inverters_w is None:
            step = max(at for at, start in enumerate(profile.mean_w.times_min[:-1]) if start <= minute)
            left = max(0.0, profile.bank_w[step] - sum(watts.values()) - sum(loose.values()))
            # More than their rating they do not carry for long: it is a source's, or they switch off.
            most = {f"W-{tag}": spec.continuous_va / spec.full_load_efficiency for tag, spec in self.units}
            inverters_w = {tag: min(left / len(self.units), rated) for tag, rated in most.items()}
        return Drawn(watts | inverters_w, {}, loose)

    def _loose(self, watts: Mapping[str, float], loads: tuple[Load, ...]) -> dict[str, float]:
        """What hangs on bars without a circuit [W], by bar."""
        named = {one.tag for one in self.direct.circuits}
        found: dict[str, float] = {}
        for load in loads:
            if load.supply in DC_VOLTS and load.circuit not in named and load.tag in watts:
                bar = load_bar(self.whole, load)
                found[bar] = found.get(bar, 0.0) + watts[load.tag]
        return found

    def _charging(self, state: SourceState, sources: StatesOfSources) -> DcState:
        """What charges, as it is told; loads off, so that all of it flows into the bank."""
        kept = sources.given_way(state)
        bar = self.tree.roots[0].bar
        charged: dict[str, float] = {}
        for part in state.parts:
            share = kept[part.kind] / part.most_a if part.most_a else 0.0
            for unit in part.units:
                tag = f"W-{self.built_in.get(unit.tag, unit.tag)}"
                key = tag if tag in self.tags else bar
                charged[key] = charged.get(key, 0.0) + unit.most_a * share
        volts = self.ratings.nominal_v.value
        name = (
            f"charging: {state.name}" if state.plug or state.sun or state.engine != "off" else "charging by converters"
        )
        return self._state(f"charge {state.name}", name, volts, STIFF_OHM, Drawn({}, charged, {}))

    # ---- solving ----

    def _network(self, root: Root, source_ohm: float) -> Network:
        """Eliminated once, for every state."""
        key = (root.bar, source_ohm)
        if key not in self.networks:
            self.networks[key] = network_of(root, source_ohm, {})
        return self.networks[key]

    def _state(self, key: str, name: str, held_v: float, source_ohm: float, drawn: Drawn) -> DcState:
        charges = bool(drawn.charged_a)
        watts, loose = dict(drawn.watts), dict(drawn.loose_w)
        found: dict[str, AtWay] = {}
        volts, collapsed, passes, residual = {self.tree.roots[0].bar: held_v}, list[str](), 0, 0.0
        # Bars that converters hold come first, those fed by another such bar before that one: their power is drawn.
        for root in (*reversed(self.tree.roots[1:]), self.tree.roots[0]):
            own = root.bar in self.fed
            if own and charges:
                continue
            held = source_v(root, self.whole, self.ratings) if own else held_v
            volts[root.bar] = held
            network = self._network(root, STIFF_OHM if own else source_ohm)
            done = solved(root, network, Drawn(watts, drawn.charged_a, loose), held)
            nodes = done.solution.node_v
            amps = done.solution.branch_a[len(done.solution.branch_a) - len(root.ways) :]
            for way, carried in zip(root.ways, amps, strict=True):
                found[way.tag] = AtWay(carried, nodes[way.start], nodes[way.end])
            passes, residual = max(passes, done.passes), max(residual, done.residual_v)
            if done.collapsed:
                collapsed.append(root.bar)
            if own:
                self._through(root, found, held, watts, loose)
        return DcState(
            key=key,
            name=name,
            charges=charges,
            source_v=volts,
            ways=found,
            collapsed=tuple(collapsed),
            passes=passes,
            residual_v=residual,
        )

    def _through(
        self, root: Root, found: dict[str, AtWay], held: float, watts: dict[str, float], loose: dict[str, float]
    ) -> None:
        """What the converters of a bar take from theirs, on their way or on its first stud."""
        for way in root.ways:
            if way.start in root.converters:
                one = next(one for one in self.whole.converters if one.tag == way.start)
                taken = found[way.tag].amps * held / one.spec.efficiency + one.spec.own_w
                tag = self._way_to(one.tag)
                if tag:
                    watts[tag] = watts.get(tag, 0.0) + taken
                else:
                    bar = bar_tag(self.whole, one.start)
                    loose[bar] = loose.get(bar, 0.0) + taken

    def _way_to(self, converter: str) -> str:
        """The way that a converter takes from: its own lead, its branch of a shared cable, or that cable."""
        for tag in (f"W-{converter}", f"{converter} branch", f"{converter} feed"):
            if tag in self.tags:
                return tag
        one = next(one for one in self.whole.converters if one.tag == converter)
        return one.feed if one.feed in self.tags else ""

    # ---- worst ----

    def worst(self, way: TreeWay, states: tuple[DcState, ...]) -> WayFlow:
        """A way at its own worst, each of its figures in its own state."""
        there = [(state, state.ways[way.tag]) for state in states if way.tag in state.ways]
        # A surge lasts seconds: nothing that is judged by warmth counts it.
        lasting = [one for one in there if one[0].key != "surge"]
        most, at_most = max(lasting, key=lambda one: abs(one[1].amps))
        low, at_low = max(lasting, key=lambda one: abs(one[0].source_v[way.bar] - one[1].end_v))
        source_v = low.source_v[way.bar]
        amps = Figure.quotient(
            name=f"{way.tag} current",
            unit="A",
            formula="voltage over it ÷ its resistance, both poles with fuse, switch and lugs",
            inputs=(
                Given("Voltage over it", at_most.start_v - at_most.end_v, "V"),
                Given("Its resistance", max(way.ohm, STIFF_OHM), "ohm"),
            ),
            source=_SOLVED,
            limit=most.name,
        )
        drop = Figure(
            name=f"{way.tag} drop from the source",
            value=abs(source_v - at_low.end_v) / source_v,
            unit="1",
            formula="|voltage of the source − voltage at its end| ÷ voltage of the source",
            inputs=(Given("Source", source_v, "V"), Given("At its end", at_low.end_v, "V")),
            source=_SOLVED,
            limit=low.name,
        )
        hot, at_hot = max(lasting, key=lambda one: one[1].watts)
        heat = Figure.product(
            name=f"{way.tag} heat",
            unit="W",
            formula="current × voltage over it",
            inputs=(Given("Current", at_hot.amps, "A"), Given("Voltage over it", at_hot.start_v - at_hot.end_v, "V")),
            source=_SOLVED,
            limit=hot.name,
        )
        return WayFlow(tag=way.tag, told=self._told(way), most_a=amps, drop_share=drop, heat_w=heat)

    def _told(self, way: TreeWay) -> bool:
        by_tag = {one.tag: one for one in self.tree.ways}
        at: TreeWay | None = way
        while at is not None:
            if not at.known:
                return False
            at = by_tag.get(at.above)
        return True


_SOLVED = f"{TEXTBOOK} (nodal analysis); reference/contacts.json"


_Kept = TypeVar("_Kept")


def _undone(those: list[_Kept], asks: Callable[[_Kept], Mapping[str, float]]) -> list[_Kept]:
    """Those that no other outdoes: that ask for more somewhere than any that asks for as much everywhere else."""
    found: list[_Kept] = []
    for one in those:
        own = asks(one)
        if not any(_outdoes(asks(other), own) for other in found):
            found = [other for other in found if not _outdoes(own, asks(other))]
            found.append(one)
    return found


def _outdoes(one: Mapping[str, float], other: Mapping[str, float]) -> bool:
    """Whether something asks for at least as much everywhere."""
    return all(one.get(tag, 0.0) >= amount for tag, amount in other.items())
