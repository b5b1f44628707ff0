"""What guards every way: short-circuit currents at both its ends, how long its fuse takes, what its conductor stands,
and whether the fuse above opens with it.
"""

from __future__ import annotations

import math
from typing import NamedTuple

from msgspec import Struct

from weighty_axle.design.bank.packs import BankRatings
from weighty_axle.design.charging.converters import output_a
from weighty_axle.design.conductors import conductor_area_mm2
from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Figure, Given
from weighty_axle.design.wiring.flow import source_v
from weighty_axle.design.wiring.tree import DcTree, Root, TreeWay
from weighty_axle.job.models.charging import Converter
from weighty_axle.job.models.document import Job
from weighty_axle.job.models.roof import Controller
from weighty_axle.job.models.wiring import Fitted, Wiring
from weighty_axle.physics.electric.fuses import LONGEST_ADIABATIC_S, opens_s, withstand_k
from weighty_axle.reference import hardware

SHORT_C = {60: 160.0, 70: 160.0, 75: 160.0, 90: 250.0, 105: 160.0}
"""What insulation stands for the moment of a short, by its class [degC]; 105 is a plasticised kind.

Source: IEC 60364-5-54 table A.54.1 (recalled); 105: common practice, no source.
"""


FAULT_OHM = 0.002
"""What a short at the far end is taken to resist itself at its least current [ohm].

Source: common practice, no source.
"""


class FusedEnd(NamedTuple):
    """An end of a way where a fuse belongs, and why."""

    at: str
    why: str


class Guard(Struct, frozen=True, kw_only=True):
    """What guards a way. `melts` and `opens` are its fuse's curve: (times the rating, least or most seconds).

    `near_a` is the most that can flow into a short right behind the fuse (None where converters limit it), `far_a` the
    least into one at the end; `heat_share` is what a short lets through over what the conductor stands. `above` is the
    way whose fuse is next, `selective_to_a` the current up to which that one stays closed: infinite where it always
    does, None where there is none above.
    """

    tag: str
    kind: str
    rated_a: float
    size: str
    count: int
    melts: tuple[tuple[float, float], ...]
    opens: tuple[tuple[float, float], ...]
    near_a: Figure | None
    far_a: Figure
    opens_s: Figure
    heat_share: Figure
    withstand_a2s: float
    above: str
    selective_to_a: float | None
    fused_at: tuple[FusedEnd, ...]


class GuardsResult(Struct, frozen=True, kw_only=True):
    """Guards of all ways of a system that has a bank."""

    guards: tuple[Guard, ...]


def guards(
    whole: Job,
    tree: DcTree,
    stated: Wiring,
    ratings: BankRatings,
    controllers: tuple[Controller, ...],
    fitted: tuple[Fitted, ...],
) -> GuardsResult:
    """What guards every way of a system.

    Source: reference/fuse_curves.json; adiabatic withstand IEC 60364-5-54; sums of resistances along the way.
    """
    made = _Guards(whole, tree, stated, ratings, controllers, fitted)
    return GuardsResult(
        guards=tuple(made.of(root, way) for root in tree.roots for way in root.ways if way.kind != "bar")
    )


class _Guards:
    """The guards while they are worked out."""

    def __init__(
        self,
        whole: Job,
        tree: DcTree,
        stated: Wiring,
        ratings: BankRatings,
        controllers: tuple[Controller, ...],
        fitted: tuple[Fitted, ...],
    ) -> None:
        self.whole, self.tree, self.ratings = whole, tree, ratings
        self.k = withstand_k(stated.insulation_c, SHORT_C[stated.insulation_c])
        self.insulation_c = stated.insulation_c
        self.controllers = {f"W-{one.tag}" for one in controllers if not one.unit}
        self.typed = {one.run: one for one in fitted if one.kind != "switch" and one.curve}
        self.ways = {way.tag: way for way in tree.ways}
        self.converters: dict[str, Converter] = {one.tag: one for one in whole.converters}

    def of(self, root: Root, way: TreeWay) -> Guard:
        """One way's guard."""
        typed = self.typed.get(way.tag)
        curve = hardware.fuse_curves()[way.fuse_kind]
        own = tuple((point.times, point.seconds) for point in typed.curve) if typed is not None else ()
        melts, opens = own or curve.melts, own or curve.opens
        near, far = self._near(root, way), self._far(root, way)
        taken = Figure(
            name=f"{way.tag}: fuse opens on a short at its end after",
            value=opens_s(opens, rated_a=way.fuse_a, current_a=far.value),
            unit="s",
            formula="its curve at the least short-circuit current, the most time it takes",
            inputs=(far, Given("Rating", way.fuse_a, "A")),
            source="as typed" if own else _CURVES,
        )
        above = self.ways.get(way.above)
        return Guard(
            tag=way.tag,
            kind=way.fuse_kind,
            rated_a=way.fuse_a,
            size=way.size,
            count=way.count,
            melts=melts,
            opens=opens,
            near_a=near,
            far_a=far,
            opens_s=taken,
            heat_share=self._heat(way, opens, near or far, taken, own != ()),
            withstand_a2s=(self.k * _area(way)) ** 2,
            above=above.tag if above is not None else "",
            selective_to_a=self._selective(way, above, opens, near or far) if above is not None else None,
            fused_at=self._ends(root, way),
        )

    # ---- short-circuit currents ----

    def _path(self, way: TreeWay) -> list[TreeWay]:
        """The ways above one, and the bar between them as one number is left out: it is next to nothing."""
        found: list[TreeWay] = []
        at = self.ways.get(way.above)
        while at is not None:
            found.append(at)
            at = self.ways.get(at.above)
        return found

    def _near(self, root: Root, way: TreeWay) -> Figure | None:
        if root.converters:
            return None
        path = sum(one.least_ohm for one in self._path(way))
        return Figure(
            name=f"{way.tag}: short right behind its fuse",
            value=self.ratings.max_v.value / (self.ratings.least_resistance_ohm.value + path),
            unit="A",
            formula="highest voltage ÷ (bank + conductors as far as the fuse, cold)",
            inputs=(
                self.ratings.max_v,
                self.ratings.least_resistance_ohm,
                Given("Conductors as far as the fuse", path, "ohm"),
            ),
            source=TEXTBOOK,
            limit="the electronics of packs are not counted on",
        )

    def _far(self, root: Root, way: TreeWay) -> Figure:
        """The least that flows into a short at the end: everything hot, the bank low; converters give their peak."""
        path = way.ohm + sum(one.ohm for one in self._path(way))
        volts = source_v(root, self.whole, self.ratings)
        inside = 0.0 if root.converters else self.ratings.resistance_ohm.value
        through = Given("Source", inside, "ohm")
        given = [Given("Voltage", volts, "V"), through, Given("Conductors, fuses, lugs, hot", path, "ohm")]
        amps = volts / (inside + path + FAULT_OHM)
        limit = "the bank at its lowest"
        if root.converters:
            most = sum(
                self.converters[tag].spec.peak_a or output_a(self.converters[tag].spec, volts)
                for tag in root.converters
            )
            given.append(Given("Converters give at most", most, "A"))
            amps, limit = min(amps, most), "converters limit it" if most < amps else limit
        return Figure(
            name=f"{way.tag}: short at its end, least",
            value=amps,
            unit="A",
            formula="voltage ÷ (source + conductors + the short itself), at most what converters give",
            inputs=(*given, Given("The short itself", FAULT_OHM, "ohm")),
            source=TEXTBOOK,
            limit=limit,
        )

    # ---- heat and selectivity ----

    def _heat(
        self, way: TreeWay, opens: tuple[tuple[float, float], ...], near: Figure, taken: Figure, typed: bool
    ) -> Figure:
        """What a short lets through over what the conductor stands: at the worse of both ends."""
        # After five seconds it cools as fast as it heats; a fuse that takes longer is told by `opens_s`.
        worst: Given | Figure = near
        seconds = min(LONGEST_ADIABATIC_S, opens_s(opens, rated_a=way.fuse_a, current_a=near.value))
        far, at_far_s = taken.inputs[0], min(LONGEST_ADIABATIC_S, taken.value)
        if far.value**2 * at_far_s > near.value**2 * seconds:
            worst, seconds = far, at_far_s
        given = (
            worst,
            Given("Its fuse takes", seconds, "s"),
            Given("k", self.k, "ratio"),
            Given("Area", _area(way), "mm2"),
        )
        return Figure(
            name=f"{way.tag}: heat of a short over what its conductor stands",
            value=worst.value**2 * seconds / (self.k * _area(way)) ** 2 if _area(way) else math.inf,
            unit="1",
            formula="current² × time ÷ (k × area)²",
            inputs=given,
            source=f"IEC 60364-4-43 434.5.2 (recalled); {'as typed' if typed else _CURVES}",
            limit=f"copper from {self.insulation_c} to {SHORT_C[self.insulation_c]:.0f} °C",
        )

    def _selective(self, way: TreeWay, above: TreeWay, opens: tuple[tuple[float, float], ...], near: Figure) -> float:
        """Up to which current this one has opened before the one above begins to melt."""
        over = self.typed.get(above.tag)
        melts = (
            tuple((point.times, point.seconds) for point in over.curve)
            if over is not None
            else hardware.fuse_curves()[above.fuse_kind].melts
        )
        low, high = way.fuse_a * opens[0][0], max(near.value, way.fuse_a * opens[0][0])
        corners = {way.fuse_a * times for times, _ in opens} | {above.fuse_a * times for times, _ in melts}
        before: tuple[float, float] | None = None
        for amps in sorted({low, high, *(one for one in corners if low < one < high)}):
            own = opens_s(opens, rated_a=way.fuse_a, current_a=amps)
            theirs = opens_s(melts, rated_a=above.fuse_a, current_a=amps)
            lead = math.log(theirs / own) if math.isfinite(theirs) else math.inf
            if lead <= 0:
                # Between two corners both curves are straight on logarithmic scales, and so is what lies between them.
                if before is None or math.isinf(before[1]):
                    return amps
                return float(before[0] * (amps / before[0]) ** (before[1] / (before[1] - lead)))
            before = (amps, lead)
        return math.inf

    # ---- ends ----

    def _ends(self, root: Root, way: TreeWay) -> tuple[FusedEnd, ...]:
        """Ends that can deliver current into a short of the way, and why."""
        first = "bank" if way.kind == "main" else way.start
        by = "the bank can deliver there" if not root.converters else "what its converter gives comes from there"
        ends = [FusedEnd(first if way.kind == "main" else way.above or first, by)]
        one = self.converters.get(way.end.removeprefix("W-").removesuffix(" branch").split(" to ")[0])
        if way.tag in self.controllers:
            ends.append(FusedEnd(way.end.removeprefix("W-"), _NOT_NEEDED_SUN))
        elif one is not None and one.both_ways:
            ends.append(FusedEnd(one.tag, "the bank at its other side can deliver too"))
        return tuple(ends)


_NOT_NEEDED_SUN = "none: the array gives no more than the cable carries"
_CURVES = f"reference/fuse_curves.json (recalled, typical); {PRACTICE}"


def _area(way: TreeWay) -> float:
    """Copper of a way [mm2]; none where no table has its size."""
    try:
        return conductor_area_mm2(way.size) * way.count
    except ValueError:
        return 0.0
