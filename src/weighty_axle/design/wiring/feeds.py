"""Feeds of converters where no bank's runs reach: a shared cable from a bar with the leads that leave it, each by
itself from the vehicle's own bar, and from converters to bars they feed.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

from msgspec import Struct

from weighty_axle.design.charging.converters import ConverterEnd, input_w, output_a, rated, volts_of
from weighty_axle.design.conductors import ohm_per_m
from weighty_axle.design.figures import TEXTBOOK, Figure, Given
from weighty_axle.design.lengths import length, measured
from weighty_axle.design.ways import Ways
from weighty_axle.design.wiring.choices import ConductorChoice, choice_name, conductor_choices
from weighty_axle.design.wiring.in_place import Laid, in_place, ways_on
from weighty_axle.design.wiring.runs import LOAD_FACTOR, WiringResult
from weighty_axle.job.models.charging import VEHICLE, Converter
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.parts import Practice
from weighty_axle.job.models.wiring import Fitted, Wiring
from weighty_axle.job.stated import Place
from weighty_axle.job.systems import HOUSE, System, bar_of, bar_tag, fed_by
from weighty_axle.physics.electric.protection import next_rating_a
from weighty_axle.reference import tables
from weighty_axle.units import conductor_words


class FeedRun(Struct, frozen=True, kw_only=True):
    """A two-wire feed with its fuse; `length_m` is None where nothing says how long it is: then nothing is chosen.

    `fused_at` are the ends that can deliver current, where a fuse stands; `loop_ohm` is the resistance of what was
    chosen, out and back, 0 where nothing was.
    """

    tag: str
    start: str
    end: str
    converters: tuple[str, ...]
    current_a: Figure
    fuse_a: Figure
    fused_at: tuple[str, ...]
    high_v: float
    length_m: Figure | None
    chosen: ConductorChoice | None
    drop_share: Figure | None
    loop_ohm: float
    fitted: Fitted | None


def feeds(
    whole: Job, wiring: Wiring, system: System, fitted: tuple[Fitted, ...], ways: Ways, air: dict[str, float]
) -> tuple[FeedRun, ...]:
    """Feeds of a system: shared cables from its bar, those from the vehicle's own bar where it is the house, those to a
    fed bar from what feeds it. `fitted` is the protection chosen or found already.

    Source: converter datasheets; ampacity tables of reference/.
    """
    if system.shares_bank:
        return ()
    made = _Feeds(whole, wiring, {one.run: one for one in fitted if one.kind != "switch"}, ways, air)
    return tuple(made.of(system))


def cable_ohms(feeds: tuple[FeedRun, ...], wiring: WiringResult, ends: tuple[ConverterEnd, ...]) -> dict[str, float]:
    """Resistance of every cable to a converter that was chosen, out and back [ohm], by its tag."""
    found = {feed.tag: feed.loop_ohm for feed in feeds if feed.loop_ohm}
    own = {f"W-{end.converter.tag}" for end in ends}
    for run in wiring.runs:
        if run.tag in own and run.chosen is not None and run.current_a.value:
            found[run.tag] = run.chosen.drop_v / run.current_a.value
    return found


class _Feeds:
    """The feeds while they are worked out."""

    def __init__(self, whole: Job, wiring: Wiring, known: dict[str, Fitted], ways: Ways, air: dict[str, float]) -> None:
        self.whole, self.wiring, self.known, self.ways, self.air = whole, wiring, known, ways, air

    def of(self, system: System) -> Iterator[FeedRun]:
        starts = (VEHICLE, system.bar) if system.key == HOUSE else (system.bar,)
        shared: dict[tuple[str, str], list[Converter]] = {}
        for one in self.whole.converters:
            start = bar_tag(self.whole, one.start)
            if start in starts and (one.feed or start == VEHICLE):
                shared.setdefault((start, one.feed or f"{one.tag} feed"), []).append(one)
        for (start, name), several in shared.items():
            yield from self._from_bar(start, name, tuple(several))
        for one in self.whole.converters:
            end = bar_tag(self.whole, one.end)
            stated = bar_of(self.whole, end)
            if stated is not None and stated.bank is None and fed_by(self.whole, end) == system.bar:
                yield self._to_bar(one, end, stated.place)

    def _from_bar(self, start: str, name: str, several: tuple[Converter, ...]) -> Iterator[FeedRun]:
        low, high = volts_of(self.whole, start)
        takes = {
            one.tag: Given(
                one.tag,
                min(input_w(self.whole, one, bar_tag(self.whole, one.end)) / low, one.spec.input_a or math.inf),
                "A",
            )
            for one in several
        }
        limit = f"{low:.1f} V at {'the vehicle’s bar' if start == VEHICLE else start}"
        current = Figure.total(
            name=f"{name} current",
            unit="A",
            formula="Σ of what the converters on it take at the lowest voltage",
            inputs=tuple(takes.values()),
            source="converter datasheet",
            limit=limit,
        )
        lengths = [one.feed_m for one in several if one.feed_m is not None]
        board = self._board(start)
        found = (
            measured(name, max(lengths))
            if lengths
            else length(name, None, board, several[0].place, self.ways)
            if board is not None
            else None
        )
        ends = " ".join(one.tag for one in several)
        back = any(one.both_ways for one in several)
        laid = self._laid(board, several[0].place)
        there = (start, ends) if back else (start,)
        yield self._feed(name, start, ends, several, current, found, (low, high), there, laid)
        for one in several if several[0].feed else ():
            if one.branch_m is None:
                continue
            own = Figure.total(
                name=f"{one.tag} branch current",
                unit="A",
                formula="what it takes at the lowest voltage",
                inputs=(takes[one.tag],),
                source="converter datasheet",
                limit=limit,
            )
            tag = f"{one.tag} branch"
            ends_of = (name, one.tag) if one.both_ways else (name,)
            length_of = measured(tag, one.branch_m)
            yield self._feed(tag, name, one.tag, (one,), own, length_of, (low, high), ends_of, self.wiring)

    def _laid(self, one: Place | None, other: Place) -> Wiring:
        """The wiring in the warmest air of the ways between two places."""
        path = self.ways.path(one, other, "dc") if one is not None else None
        return in_place(self.wiring, ways_on(path), Laid(self.air, {}))

    def _board(self, bar: str) -> Place | None:
        stated = bar_of(self.whole, bar)
        if stated is not None:
            return stated.place
        return None if bar == VEHICLE else self.whole.wiring.board.place

    def _to_bar(self, one: Converter, end: str, place: Place) -> FeedRun:
        low, high = volts_of(self.whole, end)
        held = one.spec.output_v or low
        current = Figure(
            name=f"{one.tag} output current",
            value=output_a(one.spec, held),
            unit="A",
            formula="rated output; what is rated in watts ÷ the voltage it holds",
            inputs=(*rated(one.spec), Given("Voltage it holds", held, "V")),
            source="converter datasheet",
        )
        tag = f"{one.tag} to {end}"
        # Its own output, and that of others which feed the same bar.
        others = any(bar_tag(self.whole, other.end) == end for other in self.whole.converters if other is not one)
        there = (one.tag, end) if others or one.both_ways else (one.tag,)
        one_way = length(tag, one.lead_m, one.place, place, self.ways)
        laid = self._laid(one.place, place)
        return self._feed(tag, one.tag, end, (one,), current, one_way, (held, high), there, laid)

    def _feed(
        self,
        tag: str,
        start: str,
        end: str,
        several: tuple[Converter, ...],
        current: Figure,
        one_way: Figure | None,
        volts: tuple[float, float],
        fused_at: tuple[str, ...],
        laid: Wiring,
    ) -> FeedRun:
        fitted = self.known.get(tag)
        fuse = _fuse(tag, current, self.whole.practice, fitted, several)
        chosen = drop = None
        loop = 0.0
        if one_way is not None:
            table = tables.ampacity_tables()[laid.ampacity_table]
            needed = current.value * LOAD_FACTOR
            choices = conductor_choices(laid, table, one_way.value, current.value, fuse.value, volts[0], needed)
            chosen = next((one for one in choices if not one.against), None)
            if chosen is not None:
                drop = _drop(tag, self.wiring.insulation_c, chosen, one_way, current, volts[0])
                loop = drop.value * volts[0] / current.value if current.value else 0.0
        return FeedRun(
            tag=tag,
            start=start,
            end=end,
            converters=tuple(one.tag for one in several),
            current_a=current,
            fuse_a=fuse,
            fused_at=fused_at,
            high_v=volts[1],
            length_m=one_way,
            chosen=chosen,
            drop_share=drop,
            loop_ohm=loop,
            fitted=fitted,
        )


def _fuse(
    tag: str, current: Figure, practice: Practice, fitted: Fitted | None, several: tuple[Converter, ...]
) -> Figure:
    """What is fitted, what the datasheet asks for at the output of one converter, or the next standard rating."""
    ratings = tables.fuse_ratings(practice)
    needed = current.value * LOAD_FACTOR
    asked = several[0].spec.fuse_a if len(several) == 1 and tag.startswith(f"{several[0].tag} to ") else None
    if fitted is not None:
        value, formula, source = fitted.amps, "as fitted", fitted.name
    elif asked is not None:
        value, formula, source = asked, "as the datasheet asks", "converter datasheet"
    else:
        value = next_rating_a(needed, ratings.amps) if needed <= max(ratings.amps) else needed
        formula, source = (
            "current × factor, next standard rating",
            f"{ratings.source} (recalled; check against your copy)",
        )
    return Figure(
        name=f"{tag} fuse",
        value=value,
        unit="A",
        formula=formula,
        inputs=(current, Given("Factor", LOAD_FACTOR, "ratio")),
        source=source,
    )


def _drop(tag: str, celsius: int, chosen: ConductorChoice, one_way: Figure, current: Figure, volts: float) -> Figure:
    metre = Given(f"Resistance per metre at {celsius} °C", ohm_per_m(chosen.size, celsius), "ohm")
    return Figure(
        name=f"{tag} drop",
        value=2 * one_way.value * metre.value * current.value / chosen.count / volts,
        unit="1",
        formula="2 × length × resistance per metre × current ÷ conductors ÷ voltage",
        inputs=(
            one_way,
            metre,
            current,
            Given("Conductors in parallel", chosen.count, "count"),
            Given("Voltage", volts, "V"),
        ),
        source=TEXTBOOK,
        limit=f"copper only; with {conductor_words(choice_name(chosen))}",
    )
