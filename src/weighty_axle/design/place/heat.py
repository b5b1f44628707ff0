"""Heat in bays: what every unit loses into the air around it, what a fan carries away, how warm it gets on the worst
day, and what that takes from the inverters.
"""

from __future__ import annotations

import math
from typing import NamedTuple

from msgspec import Struct

from weighty_axle.design.brief.profiles import Profile
from weighty_axle.design.figures import PRACTICE, TEXTBOOK, Figure, Given
from weighty_axle.design.place.losses import BayLoad, Source
from weighty_axle.job.models.brief import DayKind, Stay
from weighty_axle.job.models.vehicle import Site, Vehicle
from weighty_axle.physics.body.air import carried_w_per_k, density_kg_m3, flow_needed_m3_h, left_of_rise
from weighty_axle.physics.loads.daytime import DAY_MIN

CONTROLLER_EFFICIENCY = 0.97
"""Source: common practice, no source."""
SWING_K = 12.0
"""Coolest night under the hottest afternoon. Source: common practice, no source."""
SUN_RISE_K = 18.0
"""How much warmer the sun makes the skin of one side seem: absorbed share 0.6 × 600 W/m² ÷ 20 W/(m² K).
Source: sol-air temperature, textbook; values common practice, no source.
"""
STEP_MIN = 10
CAPACITY_J_KGK = 800.0
"""Of what stands in a bay. Source: between metals and cells, common practice, no source."""
SETTLED_K = 0.05
REPEATS_K = 1e-6
STEPS = range(0, DAY_MIN, STEP_MIN)
"""Minutes at which a day is worked out."""
_HALF = 0.5
"""Share of their rating at which units of other systems are taken all day."""


class BayDay(NamedTuple):
    """A bay through a kind of day, in steps of ten minutes: its air [degC], and whether its fan runs."""

    curve_c: tuple[float, ...]
    fan_on: tuple[bool, ...]
    kind: str


class BayHeat(Struct, frozen=True, kw_only=True):
    """A bay's heat: loss at full load, air it asks for, what its fan moves there, where it settles at full load, and
    its worst day in steps of ten minutes.
    """

    tag: str
    name: str
    stated: bool
    loss_w: Figure
    allowed_c: Figure
    needed_m3_h: Figure
    moved_m3_h: Figure | None
    settles_c: Figure
    peak_c: Figure
    curve_c: tuple[float, ...]
    outside_c: tuple[float, ...]
    fan_on: tuple[bool, ...]
    hot: tuple[str, ...]


class HeatResult(Struct, frozen=True, kw_only=True):
    """Every bay in which anything loses heat; the air that the inverters of the system are counted in: as stated, or as
    worked out where that is warmer.
    """

    bays: tuple[BayHeat, ...]
    bay_c: float


def heat(
    loads: tuple[BayLoad, ...],
    vehicle: Vehicle,
    site: Site,
    stays: tuple[Stay, ...],
    controllers_w: dict[str, float],
    day_kinds: tuple[DayKind, ...],
    bay_days: dict[tuple[str, str], BayDay],
) -> HeatResult:
    """Every bay at full load, and through the worst kind of day.

    `controllers_w` is what each controller gives at noon, `bay_days` days by bay and kind. Source: textbook heat
    balance; physics.body.air.
    """
    height_m = _height_m(site, stays)
    names = {kind.tag: kind.name for kind in day_kinds}
    bays = tuple(
        _Bay(load, vehicle.width_m, site.design_high_c, height_m, controllers_w).result(
            site.bay_high_c, [day for (tag, _), day in bay_days.items() if tag == load.bay.tag], names
        )
        for load in loads
    )
    own = [
        heat.peak_c.value
        for heat, load in zip(bays, loads, strict=True)
        if heat.stated and any(one.kind == "inverter" and one.own for one in load.sources)
    ]
    # What the installer counts on is never undercut by a fan that is only hoped for.
    return HeatResult(bays=bays, bay_c=max([site.bay_high_c, *own]))


BayPiece = tuple[BayLoad, float, float, float, dict[str, float], tuple[float, float], Profile]


def bay_pieces(
    loads: tuple[BayLoad, ...],
    vehicle: Vehicle,
    site: Site,
    stays: tuple[Stay, ...],
    profiles: dict[str, Profile],
    controllers_w: dict[str, float],
) -> dict[tuple[str, str], BayPiece]:
    """What a hot day in a bay is made from, by bay and kind of day. The hottest is one of summer; a kind of day that is
    not lived then does not count.
    """
    longest = sorted(stays, key=lambda one: one.driven_h)
    driven = {stay.day_kind: (stay.driven_from_h, stay.driven_h) for stay in longest}
    hot = [one for one in profiles.values() if "summer" in one.seasons] or list(profiles.values())
    at = (vehicle.width_m, site.design_high_c, _height_m(site, stays), controllers_w)
    return {
        (load.bay.tag, one.key): (load, *at, driven.get(one.kind, (8.0, 0.0)), one) for load in loads for one in hot
    }


def bay_day(
    load: BayLoad,
    width_m: float,
    high_c: float,
    height_m: float,
    controllers_w: dict[str, float],
    driven: tuple[float, float],
    profile: Profile,
) -> BayDay:
    """A bay through a hot day: walls, sun on one side, a fan by its thermostat.

    Source: first-order warming, textbook; physics.body.air.
    """
    return _Bay(load, width_m, high_c, height_m, controllers_w).day(profile, driven)


def _height_m(site: Site, stays: tuple[Stay, ...]) -> float:
    """Where the air is thinnest: home or the highest stay."""
    return max((site.height_m, *(stay.height_m for stay in stays)))


def outside_c(high_c: float, minute: float) -> float:
    """Air outside through the hottest day, hottest at three in the afternoon [degC]."""
    return high_c - SWING_K / 2 + _swing_k(minute)


def _swing_k(minute: float) -> float:
    return SWING_K / 2 * math.cos(2 * math.pi * (minute - 900) / DAY_MIN)


_SWING = tuple(map(_swing_k, STEPS))
"""Air outside over the mean of the day, step by step [K]."""
_SUN = tuple(max(0.0, math.sin(math.pi * (minute - 360) / 720)) for minute in STEPS)
"""Shares of noon's sun, step by step."""


class _Bay:
    """One bay while it is worked out."""

    def __init__(
        self, load: BayLoad, wide: float, high_c: float, height_m: float, controllers_w: dict[str, float]
    ) -> None:
        self.load, self.high_c, self.height_m, self.controllers_w = load, high_c, height_m, controllers_w
        bay = load.bay
        long, high = bay.end_m - bay.start_m, bay.top_m - bay.bottom_m
        self.area_m2 = 2 * (long * high + long * wide + wide * high)
        self.sunlit_share = long * high / self.area_m2
        self.walls_w_k = bay.wall_w_per_m2k * self.area_m2
        air = bay.air
        self.density = density_kg_m3(height_m=height_m, air_c=high_c)
        # What the walls give to is the air outside, one side of it warmed by the sun.
        self.outside_c = tuple(high_c - SWING_K / 2 + swing for swing in _SWING)
        sun_k = self.sunlit_share * SUN_RISE_K
        self.around_c = tuple(out + sun_k * sun for out, sun in zip(self.outside_c, _SUN, strict=True))
        self.fan_w_k = carried_w_per_k(flow_m3_h=air.fan_m3_per_h, density_kg_m3=self.density) if air else 0.0

    def _controller_w(self, source: Source) -> float:
        return sum(self.controllers_w.get(tag, 0.0) for tag in source.tags) * (1 / CONTROLLER_EFFICIENCY - 1)

    def _full_w(self, at_c: float) -> float:
        """Everything at full load, inverters as far as the air lets them [W]."""
        total = 0.0
        for one in self.load.sources:
            if one.kind == "controller":
                total += self._controller_w(one)
            elif one.curve is not None:
                total += len(one.tags) * one.curve.loss_w(one.rated_w * _left(one, at_c))
            else:
                total += len(one.tags) * one.full_w
        return total

    def _lost_w(self, ac_w: list[float], driven: tuple[float, float]) -> list[float]:
        """What is lost through a day by all but the inverters, whatever the temperature [W]."""
        start, hours = driven
        lost = [0.0] * len(STEPS)
        for one in self.load.sources:
            full_w = len(one.tags) * one.full_w
            if one.kind == "controller":
                noon_w = self._controller_w(one)
                each = [noon_w * sun for sun in _SUN]
            elif one.curve is not None:
                continue
            elif one.kind == "engine":
                each = [full_w if 0 <= minute / 60 - start < hours else 0.0 for minute in STEPS]
            elif one.kind == "converter":
                each = [full_w * _HALF] * len(STEPS)
            else:
                each = [full_w * min(1.0, drawn / one.rated_w) ** 2 if one.rated_w else 0.0 for drawn in ac_w]
            lost = [total + more for total, more in zip(lost, each, strict=True)]
        return lost

    def _inverting_w(self, inverters: list[Source], ac_w: float, at_c: float) -> float:
        """What inverters lose beside loads of so much, as far as the air lets them carry these [W]."""
        total = 0.0
        for one in inverters:
            if one.curve is not None:
                total += len(one.tags) * one.curve.loss_w(min(_each_w(one, ac_w), one.rated_w * _left(one, at_c)))
        return total

    def result(self, counted_c: float, days: list[BayDay], names: dict[str, str]) -> BayHeat:
        """Figures of the bay."""
        bay, air = self.load.bay, self.load.bay.air
        loss = self._loss()
        allowed = self._allowed(counted_c)
        rise = Figure(
            name=f"{bay.name}, air it asks for",
            value=flow_needed_m3_h(heat_w=loss.value, rise_k=allowed.value - self.high_c, density_kg_m3=self.density),
            unit="m3/h",
            formula="3600 × loss ÷ (density × 1006 J/(kg K) × (warmest it may get − hottest outside))",
            inputs=(
                loss,
                allowed,
                Given("Hottest outside", self.high_c, "degC"),
                Given(f"Density at {self.height_m:.0f} m", self.density, "kg/m3"),
            ),
            source="textbook heat balance; ISO 2533 standard atmosphere (recalled)",
            limit="walls not counted on",
        )
        moved = None
        if air is not None:
            moved = Figure(
                name=f"{bay.name}, air its fan moves",
                value=air.fan_m3_per_h,
                unit="m3/h",
                formula="as stated; a fan moves the same volume in thin air, and less heat with it",
                inputs=(Given("Heat for each degree", self.fan_w_k, "W/K"),),
                source="fan's datasheet",
            )
        none = BayDay((self.high_c,), (False,), "no day")
        curve, fans, words = max(days, key=lambda one: max(one.curve_c), default=none)
        at = max(range(len(curve)), key=curve.__getitem__)
        minute = at * STEP_MIN
        peak = Figure(
            name=f"{bay.name}, warmest",
            value=curve[at],
            unit="degC",
            formula="heat balance in steps of ten minutes: losses, walls, sun on one side, fan by its thermostat",
            inputs=(
                Given("Outside then", outside_c(self.high_c, minute), "degC"),
                Given("Walls for each degree", self.walls_w_k, "W/K"),
                Given("Fan for each degree", self.fan_w_k, "W/K"),
                Given("What stands in it", self.load.mass_kg, "kg"),
            ),
            source=TEXTBOOK,
            limit=f"{names.get(words, words)}, {minute // 60:02d}:{minute % 60:02d}",
        )
        return BayHeat(
            tag=bay.tag,
            name=bay.name,
            stated=air is not None,
            loss_w=loss,
            allowed_c=allowed,
            needed_m3_h=rise,
            moved_m3_h=moved,
            settles_c=self._settles(),
            peak_c=peak,
            curve_c=curve,
            outside_c=self.outside_c,
            fan_on=fans,
            hot=tuple(tag for one in self.load.sources for tag in one.tags),
        )

    def _loss(self) -> Figure:
        parts = []
        for one in self.load.sources:
            each = self._controller_w(one) if one.kind == "controller" else len(one.tags) * one.full_w
            parts.append(Given(" ".join(one.tags), each, "W"))
        return Figure.total(
            name=f"{self.load.bay.name}, lost at full load",
            unit="W",
            formula="Σ what every unit loses at its full load; controllers at noon, 97 %",
            inputs=tuple(parts),
            source="datasheets; " + PRACTICE,
        )

    def _allowed(self, counted_c: float) -> Figure:
        """The warmest air the design counts on and the packs are charged in."""
        known = [Given("Hottest bay, as stated", counted_c, "degC")]
        if math.isfinite(self.load.packs_to_c):
            known.append(Given("Packs charge up to", self.load.packs_to_c, "degC"))
        return Figure.least(
            name=f"{self.load.bay.name}, may get",
            unit="degC",
            formula="least of what the design counts on and what its packs stand",
            inputs=tuple(known),
            source="as stated; datasheets",
        )

    def _settles(self) -> Figure:
        """Where it settles with everything at full load: derating lowers the loss, that the temperature.

        The loss never rises with the temperature, so that there is one such place, and halving finds it.
        """
        around = self.high_c + self.sunlit_share * SUN_RISE_K

        def gains(at_c: float) -> float:
            # The fan brings in air from outside, the walls give to what the sun warms.
            given = self.walls_w_k * (at_c - around) + self.fan_w_k * (at_c - self.high_c)
            return self._full_w(at_c) - given

        low, high = self.high_c, around + self._full_w(-math.inf) / (self.walls_w_k + self.fan_w_k)
        while high - low > SETTLED_K:
            middle = (low + high) / 2
            low, high = (middle, high) if gains(middle) > 0 else (low, middle)
        return Figure(
            name=f"{self.load.bay.name} settles at",
            value=high,
            unit="degC",
            formula="(losses + walls × what is around + fan × outside) ÷ (walls + fan), where derating and heat agree",
            inputs=(
                Given("Lost then", self._full_w(high), "W"),
                Given("Walls for each degree", self.walls_w_k, "W/K"),
                Given("Around, in the sun", around, "degC"),
                Given("Fan for each degree", self.fan_w_k, "W/K"),
                Given("Outside", self.high_c, "degC"),
            ),
            source=TEXTBOOK,
            limit="everything at full load for hours",
        )

    def day(self, profile: Profile, driven: tuple[float, float]) -> BayDay:
        """Temperatures of such a day that ends as it began, or of the third in a row, and when the fan runs."""
        air = self.load.bay.air
        ac_w = _mean_ac_w(profile)
        lost = self._lost_w(ac_w, driven)
        # Of its own system they are off on a day without loads.
        inverters = [one for one in self.load.sources if one.curve is not None and (profile.idle_wh or not one.own)]
        carried_to_c = [min((_carries_to_c(one, drawn) for one in inverters), default=math.inf) for drawn in ac_w]
        cool = [total + self._inverting_w(inverters, drawn, -math.inf) for total, drawn in zip(lost, ac_w, strict=True)]
        capacity_j_k = max(1.0, self.load.mass_kg) * CAPACITY_J_KGK
        walls_w_k, on = self.walls_w_k, False
        still, blown = (
            (loss_w_k, left_of_rise(loss_w_k, capacity_j_k=capacity_j_k, seconds=STEP_MIN * 60))
            for loss_w_k in (walls_w_k, walls_w_k + self.fan_w_k)
        )
        at = self.around_c[0]
        curve: list[float] = []
        fans: list[bool] = []
        for _ in range(3):
            began, curve, fans = at, [], []
            for step, (out, around) in enumerate(zip(self.outside_c, self.around_c, strict=True)):
                if air is not None:
                    on = at >= air.on_c or (on and at > air.off_c)
                loss_w_k, kept = blown if on else still
                # Inverters from whose loads the air takes nothing lose the same whatever the temperature.
                heat_w = cool[step]
                if at > carried_to_c[step]:
                    heat_w = lost[step] + self._inverting_w(inverters, ac_w[step], at)
                ends = (walls_w_k * around + (loss_w_k - walls_w_k) * out + heat_w) / loss_w_k
                at = ends + (at - ends) * kept
                curve.append(at)
                fans.append(on)
            if abs(at - began) < REPEATS_K:
                break
        return BayDay(tuple(curve), tuple(fans), profile.kind)


def _each_w(source: Source, ac_w: float) -> float:
    """What each unit of an inverter is asked to carry [W]."""
    return ac_w / source.units if source.own else _HALF * source.rated_w


def _carries_to_c(source: Source, ac_w: float) -> float:
    """Up to which air an inverter carries what is asked of it [degC]."""
    spare = 1 - _each_w(source, ac_w) / source.rated_w
    if spare < 0:
        return -math.inf
    return source.full_to_c + spare / source.derate_per_c if source.derate_per_c else math.inf


def _left(source: Source, at_c: float) -> float:
    """Share of its rating an inverter gives in air of a temperature."""
    return max(0.0, 1 - source.derate_per_c * max(0.0, at_c - source.full_to_c))


def _mean_ac_w(profile: Profile) -> list[float]:
    """AC power of a day in steps of ten minutes [W]."""
    times, values = profile.mean_w.times_min, profile.mean_w.values
    totals = [sum(channel[step] for channel in values[:-1]) for step in range(len(times) - 1)]
    found, step = [], 0
    for minute in STEPS:
        while times[step + 1] <= minute:
            step += 1
        found.append(totals[step])
    return found
