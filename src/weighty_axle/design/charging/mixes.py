"""What all sources together push into the bank."""

from __future__ import annotations

import math

from msgspec import Struct
from msgspec.structs import replace

from weighty_axle.design.bank.packs import BankRatings
from weighty_axle.design.beside import Beside
from weighty_axle.design.charging.converters import ConverterEnd
from weighty_axle.design.charging.outlets import ac_chargers, plugged_chargers
from weighty_axle.design.charging.paths import ChargerLoad
from weighty_axle.design.figures import PRACTICE, SAME, TEXTBOOK, Figure, Given
from weighty_axle.design.inverters.sources import SourceRow
from weighty_axle.design.roof.elsewhere import RemoteResult
from weighty_axle.design.roof.strings import RoofResult
from weighty_axle.job.models.bank import PackSpec
from weighty_axle.job.models.brief import Load
from weighty_axle.job.models.charging import Charging
from weighty_axle.job.models.inverters import Inverters
from weighty_axle.job.models.roof import Roof


class Mix(Struct, frozen=True, kw_only=True):
    """Sources that can charge at one time, and their sum."""

    name: str
    parts: tuple[Figure, ...]
    total_a: Figure


class ChargingResult(Struct, frozen=True, kw_only=True):
    """The mixes of sources against the bank: what it takes whole, with one pack out, and at its coldest."""

    mixes: tuple[Mix, ...]
    worst_a: Figure
    into_bank_a: Figure
    safe_limit_a: Figure
    cold_limit_a: Figure


def charging(
    stated: Charging,
    inverters: Inverters,
    ladder: tuple[SourceRow, ...],
    bank: BankRatings,
    roof: RoofResult,
    remote: tuple[RemoteResult, ...],
    stated_roof: Roof,
    stacks: tuple[Inverters, ...],
    ends: tuple[ConverterEnd, ...],
    beside: tuple[Beside, ...],
    direct_a: Figure | None,
    loads: tuple[Load, ...],
    chargers: tuple[ChargerLoad, ...],
    bar: str,
    coldest_c: Figure,
    packs: PackSpec,
) -> ChargingResult:
    """Sum of charge sources against the bank's limit; arrays elsewhere are all set up at once, on the road those on a
    trailer.

    `stacks` are all inverters on the bar, `ends` the converters at it, `beside` what else hangs on the bank, `direct_a`
    an alternator straight on it, `chargers` those on the AC side of the whole job.

    Source: textbook relations; datasheets.
    """
    sun = _sun(roof, stated_roof, stacks)
    held = _held_back(stacks, sun)
    shore = _with_beside(_shore(inverters, ladder, bank), beside)
    outlets = ac_chargers(loads, chargers, bar, bank)
    plugged = (shore, *(one for one in (plugged_chargers(outlets),) if one.value > 0))
    engine_ends = tuple(end for end in ends if end.by_engine and end.gives_a.value)
    engine = Figure.total(
        name="Alternator",
        unit="A",
        formula="Σ of the chargers that work while the engine runs",
        inputs=(*(end.gives_a for end in engine_ends), *((direct_a,) if direct_a is not None else ())),
        source="converter datasheet",
    )
    carried = Figure.total(
        name="Converters",
        unit="A",
        formula="Σ of the converters that carry into this bar without the engine",
        inputs=(
            *(end.gives_a for end in ends if not end.by_engine and end.gives_a.value),
            *(one.gives_a for one in outlets if one.always),
        ),
        source="converter datasheet",
    )
    set_up = _elsewhere("Arrays elsewhere", remote, stated_roof, roof, bank)
    towed_tags = {array.tag for array in stated_roof.remote if array.where == "trailer"}
    towed = _elsewhere(
        "Arrays on the trailer", tuple(array for array in remote if array.tag in towed_tags), stated_roof, roof, bank
    )
    parked, driving = ((one,) if one.value > 0 else () for one in (set_up, towed))
    always = (carried,) if carried.value > 0 else ()
    mixes = [_mix("Parked in sun", sun, *parked, *always)]
    if inverters.units or len(plugged) > 1:
        mixes += [
            _mix("Hooked up, night", *plugged, *always),
            _mix("Hooked up in sun", sun, *parked, *plugged, *held, *always),
        ]
    if engine.value > 0:
        mixes += [
            _mix("Driving in sun", sun, *driving, engine, *always),
            _mix("Hooked up, engine running", sun, *parked, *plugged, *held, engine, *always),
        ]
    worst = max((mix.total_a for mix in mixes), key=lambda one: one.value)
    limit = Given("System charge limit", stated.system_limit_a if stated.system_limit_a is not None else math.inf, "A")
    return ChargingResult(
        mixes=tuple(mixes),
        worst_a=worst,
        into_bank_a=Figure.least(
            name="Charge into the bank, worst case",
            unit="A",
            formula="largest sum of sources, at most the system charge limit",
            inputs=(worst, limit),
            source=TEXTBOOK,
        ),
        safe_limit_a=Figure(
            name="Safe system charge limit",
            value=float(math.floor(min(bank.charge_limit_a.value, bank.one_pack_out_charge_a.value) * (1 + SAME))),
            unit="A",
            formula="the lower of the bank's charge limit with every pack in and with any one out, rounded down",
            inputs=(bank.charge_limit_a, bank.one_pack_out_charge_a),
            source=PRACTICE,
        ),
        cold_limit_a=_cold_limit(bank, packs, coldest_c),
    )


def _elsewhere(
    name: str, arrays: tuple[RemoteResult, ...], stated: Roof, roof: RoofResult, bank: BankRatings
) -> Figure:
    """What arrays elsewhere add to what the roof alone makes the controllers give, each still at most its rating."""
    added = []
    for controller, alone in zip(stated.controllers, roof.controllers, strict=True):
        rated_w = sum(array.rated_w.value for array in arrays if array.controller == controller.tag)
        both_a = min(controller.spec.output_a, (alone.rated_w.value + rated_w) / bank.lowest_working_v.value)
        added.append(Given(f"Added at {controller.tag}", both_a - alone.output_a.value, "A"))
    return Figure(
        name=name,
        value=sum(one.value for one in added),
        unit="A",
        formula=(
            "Σ (rated power of roof and arrays ÷ lowest working voltage, at most the controller's rating) − output "
            "with the roof alone"
        ),
        inputs=(*added, *(array.rated_w for array in arrays), bank.lowest_working_v),
        source=TEXTBOOK,
        limit="all set up at once",
    )


def _mix(name: str, *parts: Figure) -> Mix:
    return Mix(
        name=name,
        parts=parts,
        total_a=Figure.total(
            name=f"Charge current, {name.lower()}",
            unit="A",
            formula="sum of the sources",
            inputs=parts,
            source=TEXTBOOK,
        ),
    )


def _sun(roof: RoofResult, stated: Roof, stacks: tuple[Inverters, ...]) -> Figure:
    """What all controllers give; inputs built into one inverter at most what that shares among them."""
    of_unit = {one.tag: one.unit for one in stated.controllers}
    shares = {unit.tag: stack.spec.solar_charge_a for stack in stacks for unit in stack.units}
    parts: list[Figure] = [one.output_a for one in roof.controllers if not of_unit[one.tag]]
    for unit in dict.fromkeys(tag for tag in of_unit.values() if tag):
        inputs = tuple(one.output_a for one in roof.controllers if of_unit[one.tag] == unit)
        most = shares.get(unit)
        parts.append(
            Figure(
                name=f"Solar inputs of {unit}",
                value=min(sum(one.value for one in inputs), most if most is not None else math.inf),
                unit="A",
                formula="Σ of its inputs, at most what they share",
                inputs=(*inputs, *((Given("They share", most, "A"),) if most is not None else ())),
                source="inverter datasheet",
            )
        )
    return Figure.total(
        name="Sun", unit="A", formula="Σ output of the controllers", inputs=tuple(parts), source=TEXTBOOK
    )


def _held_back(stacks: tuple[Inverters, ...], sun: Figure) -> tuple[Figure, ...]:
    """What inverters with solar inputs hold back when charger and inputs together would pass what they share."""
    by_name = {part.name: part.value for part in sun.inputs}
    over = []
    for stack in stacks:
        most = stack.spec.dc_charge_a
        for unit in stack.units if most is not None else ():
            more = by_name.get(f"Solar inputs of {unit.tag}", 0.0) + stack.spec.charge_a - (most or 0.0)
            if more > 0:
                over.append(Given(f"{unit.tag} holds back", -more, "A"))
    if not over:
        return ()
    return (
        Figure.total(
            name="Held back",
            unit="A",
            formula="−(solar inputs + charger − what they share) of each inverter",
            inputs=tuple(over),
            source="inverter datasheet",
        ),
    )


def _with_beside(own: Figure, beside: tuple[Beside, ...]) -> Figure:
    """Shore charging of these inverters and of other groups on the same bank."""
    others = tuple(one.shore_a for one in beside if one.shore_a is not None)
    if not others:
        return own
    return Figure.total(
        name="Shore",
        unit="A",
        formula="Σ of all groups of inverter-chargers on this bank",
        inputs=(replace(own, name="Shore, first group"), *others),
        source="inverter datasheet",
    )


def _shore(inverters: Inverters, ladder: tuple[SourceRow, ...], bank: BankRatings) -> Figure:
    """What the inverter-chargers put into the bank, as far as any socket lets them; at the lowest working voltage that
    is most.
    """
    spec, units = inverters.spec, Given("Units", len(inverters.units), "count")
    rating = Given("Charger rating of one", spec.charge_a, "A")
    rated = units.value * rating.value
    if not ladder:
        return Figure(
            name="Shore",
            value=rated,
            unit="A",
            formula="inverter-chargers × charger rating",
            inputs=(units, rating),
            source="inverter datasheet",
            limit="no source is stated yet",
        )
    stated = {source.tag: source for source in inverters.sources}
    given = {
        row.tag: min(stated[row.tag].limit_a, stated[row.tag].amps) * stated[row.tag].volts * row.lines_own
        for row in ladder
    }
    best = max(given, key=lambda tag: given[tag])
    power, efficiency = (
        Given(f"Let through at {stated[best].name}", given[best], "W"),
        Given("Efficiency, power factor counted", spec.charge_share, "1"),
    )
    socket_a = power.value * efficiency.value / bank.lowest_working_v.value
    return Figure(
        name="Shore",
        value=min(rated, socket_a),
        unit="A",
        formula=(
            "inverter-chargers × charger rating, at most the strongest source × efficiency ÷ lowest working voltage"
        ),
        inputs=(units, rating, power, efficiency, bank.lowest_working_v),
        source="inverter datasheet",
        limit=stated[best].name if socket_a < rated else "",
    )


def _cold_limit(bank: BankRatings, spec: PackSpec, coldest: Figure) -> Figure:
    """What the bank takes with its cells as cold as they get."""
    low, cool = Given("No charging below", spec.charge_low_c, "degC"), Given("Less below", spec.charge_cool_c, "degC")
    share = spec.charge_cool_a / spec.charge_a if spec.charge_cool_a is not None else 1.0
    part = 0.0 if coldest.value < spec.charge_low_c else share if coldest.value < spec.charge_cool_c else 1.0
    return Figure.product(
        name="Charge limit at the coldest",
        unit="A",
        formula="charge limit × what the datasheet leaves of it at that temperature",
        inputs=(bank.charge_limit_a, Given("Left of it", part, "1")),
        source="pack datasheet",
        limit=f"cells at {coldest.value:.0f} °C; no charging below {low.value:.0f} °C, less below {cool.value:.0f} °C",
    )
