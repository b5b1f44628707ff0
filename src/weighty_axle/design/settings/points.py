"""Step Settings: set points of bank, inverters and controllers, in the order they must keep."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping

from msgspec import Struct

from weighty_axle.design.bank.packs import BankRatings
from weighty_axle.design.charging.states import Told
from weighty_axle.design.figures import PRACTICE, Figure, Given, over
from weighty_axle.design.inverters.sources import SourceRow
from weighty_axle.job.models.bank import PackSpec
from weighty_axle.job.models.charging import Charging
from weighty_axle.job.models.inverters import Inverters
from weighty_axle.job.models.roof import Controller
from weighty_axle.job.models.settings import FullCharge, Settings
from weighty_axle.reference.cells import CELL_POINTS


def full_cell_v(full_charge: FullCharge, pack: PackSpec) -> float:
    """Voltage of a full cell of these packs in a school of charging [V]."""
    return CELL_POINTS[pack.chemistry].full(full_charge)


class SetPoint(Struct, frozen=True, kw_only=True):
    """One setting of one unit. `value` is what is entered; it differs from `computed` when the installer chose so."""

    key: str
    unit_tag: str
    name: str
    computed: Figure
    value: float
    why: str

    @property
    def own(self) -> bool:
        """Whether the installer's own value stands."""
        return self.value != self.computed.value


class SettingsResult(Struct, frozen=True, kw_only=True):
    """Set points by unit, and the ladder of voltages from the lowest up."""

    points: tuple[SetPoint, ...]
    ladder: tuple[SetPoint, ...]
    bms_high_v: Figure


LADDER = ("cut_out_v", "alarm_v", "restart_v", "rebulk_v", "float_v", "absorption_v")


Setting = tuple[str, str, Figure, str]
"""Key, tag of the unit, figure, why."""


def settings(
    stated: Settings,
    charging: Charging,
    pack: PackSpec,
    inverters: Inverters,
    controllers: tuple[Controller, ...],
    bank: BankRatings,
    safe_limit: Figure,
    ladder: tuple[SourceRow, ...],
    told: tuple[Told, ...],
) -> SettingsResult:
    """Set points rounded to what units accept (0.1 V, 1 A). `told` is what each unit may give with all others at work:
    that is what is set where units do not keep to one limit by themselves.

    Source: common practice, no source; limits from datasheets.
    """
    held_a = {} if charging.one_limit else _held(inverters, controllers, safe_limit, told)
    made = (
        *_voltages(stated, pack, bank),
        *_currents(inverters, controllers, safe_limit, held_a),
        *source_limits(ladder, inverters),
        *_monitor(stated, pack, bank),
    )
    own = dict(stated.own_values)
    if charging.system_limit_a is not None:
        own["system_charge_a"] = charging.system_limit_a
    points = {
        key: SetPoint(
            key=key, unit_tag=unit, name=figure.name, computed=figure, value=own.get(key, figure.value), why=why
        )
        for key, unit, figure, why in made
    }
    highest = pack.cell_max_v
    high = Figure.product(
        name="Most the packs stand",
        unit="V",
        formula="cells in series × highest cell voltage",
        inputs=(Given("Cells in series", bank.cells, "count"), Given("Highest cell voltage", highest, "V")),
        source="pack datasheet",
    )
    return SettingsResult(points=tuple(points.values()), ladder=tuple(points[key] for key in LADDER), bms_high_v=high)


def _cell_volts(bank: BankRatings, name: str, cell_v: float) -> Figure:
    given = (Given("Cells in series", bank.cells, "count"), Given("Cell voltage", cell_v, "V"))
    return Figure(
        name=name,
        value=round(bank.cells * cell_v, 1),
        unit="V",
        formula="cells in series × cell voltage, to 0.1 V",
        inputs=given,
        source=PRACTICE,
    )


def _voltages(stated: Settings, pack: PackSpec, bank: BankRatings) -> Iterator[Setting]:
    brim = "brim: quick balancing" if pack.managed else "brim: full sooner, more gas and water"
    school = "gentle: long life" if stated.full_charge == "gentle" else brim
    before = "the BMS does" if pack.managed else "the cells are drained too deep"
    cell = CELL_POINTS[pack.chemistry]
    for key, name, cell_v, why in (
        ("cut_out_v", "Low-voltage cut-out", cell.cut_out, f"stops before {before}, under load"),
        ("alarm_v", "Low-voltage alarm", cell.alarm, "time to act before the cut-out"),
        ("restart_v", "Restart after cut-out", cell.restart, "clear of the bank's rebound at rest"),
        ("rebulk_v", "Charging starts again", cell.rebulk, "low enough not to cycle at the top"),
        ("float_v", "Float", cell.float_, "holds without wearing"),
        ("absorption_v", "Full charge", cell.full(stated.full_charge), school),
    ):
        yield key, "inverters", _cell_volts(bank, name, cell_v), why


def _held(
    inverters: Inverters, controllers: tuple[Controller, ...], safe_limit: Figure, told: tuple[Told, ...]
) -> dict[str, float]:
    """What units are held to by their own settings; none where the sum of all ratings stays under the limit anyway."""
    rated = {unit.tag: inverters.spec.charge_a for unit in inverters.units}
    rated |= {one.tag: one.spec.output_a for one in controllers}
    together = sum(rated.get(one.tag, one.most_a) for one in told)
    return {one.tag: one.told_a.value for one in told} if over(together, safe_limit.value) else {}


def _currents(
    inverters: Inverters, controllers: tuple[Controller, ...], safe_limit: Figure, held_a: Mapping[str, float]
) -> Iterator[Setting]:
    count, rating = len(inverters.units), inverters.spec.charge_a
    yield (
        "system_charge_a",
        "system",
        safe_limit,
        "all sources together stay under the bank's limit, with any one pack out too",
    )
    if count:
        share = Given("Safe limit ÷ units", safe_limit.value / count, "A")
        units = [held_a[unit.tag] for unit in inverters.units if unit.tag in held_a]
        yield (
            "inverter_charge_a",
            "inverters",
            *_charge("Charge current of each inverter", Given("Charger rating", rating, "A"), share, units),
        )
    for one in controllers:
        own = [held_a[one.tag]] if one.tag in held_a else []
        rated, limit = Given("Controller rating", one.spec.output_a, "A"), Given("Safe limit", safe_limit.value, "A")
        yield f"{one.tag}_charge_a", one.tag, *_charge(f"{one.tag} charge current", rated, limit, own)


def _charge(name: str, rating: Given, limit: Given, held_a: list[float]) -> tuple[Figure, str]:
    """Current a unit is set to, and why: what it may give alone, or what the sum of all leaves it."""
    alone = float(math.floor(min(rating.value, limit.value)))
    # 55 A that came out as 54.999… of a division are 55 A.
    held = float(math.floor(min(held_a) + 1e-6)) if held_a else alone
    if held < alone:
        why = f"with everything at work the sum stays under the bank's limit; {alone:g} A where all keep to one limit"
    else:
        why = "with this, all together stay under the bank's limit, or keep to one limit by themselves"
    figure = Figure(
        name=name,
        value=min(held, alone),
        unit="A",
        formula="the smallest of rating, safe limit and what is left by the others, down to 1 A",
        inputs=(rating, limit, *(Given("Left by the others", amps, "A") for amps in held_a[:1])),
        source=PRACTICE,
    )
    return figure, why


def source_limits(ladder: tuple[SourceRow, ...], inverters: Inverters) -> Iterator[Setting]:
    """What to set in each unit at every place to plug in, position by position: units on one line take the sum."""
    for source, row in zip(inverters.sources, ladder, strict=True):
        for at, one in enumerate(row.unit_limits):
            line = Given("Limit of the line", min(source.limit_a, row.recommended_limit_a.value), "A")
            count = Given("Units on one line", one.units, "count")
            figure = Figure(
                name=f"Input limit at {source.name}" + (f", {one.position}" if one.position else ""),
                value=math.floor(line.value / one.units * 10 + 1e-6) / 10,
                unit="A",
                formula="limit of the line ÷ units on it, rounded down to 0.1 A",
                inputs=(line, count),
                source=PRACTICE,
            )
            yield (
                f"{source.tag}_limit_a" + (f"_{at + 1}" if at else ""),
                "inverters",
                figure,
                "units on one line take the sum of their limits; change it with the place",
            )


def _monitor(stated: Settings, pack: PackSpec, bank: BankRatings) -> Iterator[Setting]:
    capacity = bank.capacity_ah
    yield (
        "monitor_capacity_ah",
        "monitor",
        Figure(
            name="Capacity in the monitor",
            value=capacity.value,
            unit="Ah",
            formula="bank capacity",
            inputs=(capacity,),
            source=PRACTICE,
        ),
        "counting starts from the true size",
    )
    charged = _cell_volts(bank, "Charged voltage in the monitor", full_cell_v(stated.full_charge, pack) - 0.03)
    yield "monitor_charged_v", "monitor", charged, "a little under full charge, so that it is reached every time"
    tail = CELL_POINTS[pack.chemistry].tail_share
    at_full = Figure(
        name="Tail current in the monitor",
        value=float(round(capacity.value * tail)),
        unit="A",
        formula="share of the capacity, to 1 A",
        inputs=(capacity, Given("Share", tail, "1")),
        source=PRACTICE,
    )
    usual = "2 to 4 % is usual for LFP" if pack.managed else "1 to 2 % is usual for lead-acid"
    yield "monitor_tail_a", "monitor", at_full, usual
