"""The AC side of the plant: what loads ask, what a place to plug in gives, who switches off."""

from __future__ import annotations

from typing import TYPE_CHECKING

from weighty_axle.answers.settings.setting import number_of
from weighty_axle.design.brief.profiles import loss_curve
from weighty_axle.job.models.inverters import LINES, line_v
from weighty_axle.physics.electric.overload import seconds_to_trip
from weighty_axle.plant.charging import most_a
from weighty_axle.plant.faults import AWAKE_W, LEFT_ON_W

if TYPE_CHECKING:
    from weighty_axle.plant.plant import Plant

BREAKER_HOLDS, BREAKER_S = 1.13, 30.0
"""A breaker holds up to so many times its rating (IEC 60898-1, recalled); above, this much heat opens it. Source:
judgement.
"""
LOW = "low voltage"
"""Why an inverter stopped that may come back by itself."""
RUNNING_SHARE = 0.2
"""Of what hangs on a circuit that is closed, so much runs. Source: judgement."""


def alternating(plant: Plant, dt_s: float) -> tuple[float, dict[str, float]]:
    """What the place plugged into may give for charging, and what each inverter has to make."""
    stack = plant.job.inverters
    on = [unit for unit in stack.units if plant.at[unit.tag] == "on" and unit.tag not in plant.tripped]
    wanted = wanted_w(plant)
    plug = plant.at.get("plug", "nothing")
    if plug != "nothing" and "plug" not in plant.tripped:
        source = plant.source(plug)
        limit = line_limit_a(plant, plug)
        lines = min(source.legs, len(LINES[stack.stacking]))
        most = limit * source.volts * max(1, lines)
        asks = sum(wanted.values())
        over = min(most, asks + charger_w(plant)) / (source.amps * source.volts * max(1, lines))
        if over > 1.05:
            plant.hot_s["plug"] = plant.hot_s.get("plug", 0.0) + dt_s
            if plant.hot_s["plug"] > 60:
                plant.tripped["plug"] = "overload"
                plant.tell("plug", "the breaker ashore trips", "the limit of another place is set", False)
        left = max(0.0, most - asks)
        helped = max(0.0, asks - most)
        each = helped / len(on) if on else 0.0
        return min(left, charger_w(plant)), {unit.tag: each for unit in on}
    _panel_breaker(plant, sum(wanted.values()), dt_s)
    made = {unit.tag: wanted.get(unit.tag, 0.0) for unit in on}
    for unit in on:
        _overload(plant, unit.tag, made[unit.tag], dt_s)
    return 0.0, {tag: watts for tag, watts in made.items() if tag not in plant.tripped}


def _panel_breaker(plant: Plant, watts: float, dt_s: float) -> None:
    """The first panel's breaker: at a third over its rating it opens within a minute.

    Source: common practice, no source; a breaker's own curve is steeper.
    """
    stack = plant.job.inverters
    panel = next(iter(plant.design.ac.panels), None)
    if panel is None or not stack.units or plant.at[panel.tag] != "on":
        return
    amps = watts / line_v(stack) / len(LINES[stack.stacking])
    times = amps / panel.breaker_a
    heat = plant.hot_s.get(panel.tag, 0.0)
    plant.hot_s[panel.tag] = max(0.0, heat + dt_s * (times**2 - BREAKER_HOLDS**2))
    if plant.hot_s[panel.tag] > BREAKER_S:
        plant.hot_s[panel.tag] = 0.0
        plant.at[panel.tag] = "off"
        plant.heater_w = 0.0  # the test load hangs behind it
        plant.tell(panel.tag, f"its breaker of {panel.breaker_a:g} A opens at {amps:.0f} A", "too much is on", False)


def line_limit_a(plant: Plant, plug: str) -> float:
    """What units on one line of a place take together by what stands in them [A]."""
    first = plant.job.inverters.units[0].tag if plant.job.inverters.units else ""
    said = number_of(plant.stands.get(f"{first} {plug} limit", ""))
    row = next((one for one in plant.design.sources if one.tag == plug), None)
    if said is None or row is None or not row.unit_limits:
        return plant.source(plug).limit_a
    return said * row.unit_limits[0].units


def charger_w(plant: Plant) -> float:
    """What the inverters' chargers would take all together [W]."""
    stack = plant.job.inverters
    there = [unit for unit in stack.units if plant.at[unit.tag] != "off" and unit.tag not in plant.tripped]
    return sum(most_a(plant, unit.tag, stack.spec.charge_a) for unit in there) * plant.design.bank.max_v.value


def wanted_w(plant: Plant) -> dict[str, float]:
    """What loads ask of each inverter [W]: test heaters shared alike, circuits by their line."""
    units = plant.job.inverters.units
    if not units:
        return {}
    panels = {panel.tag for panel in plant.design.ac.panels if plant.at[panel.tag] == "on"}
    by_line: dict[str, float] = {}
    for one in plant.design.circuits:
        if plant.at[one.tag] != "on" or (one.circuit.panel or next(iter(panels), "")) not in panels:
            continue
        watts = RUNNING_SHARE * sum(load.running_w * load.count for load in plant.job.loads if load.circuit == one.tag)
        for line in one.circuit.leg.split("+"):
            by_line[line] = by_line.get(line, 0.0) + watts / len(one.circuit.leg.split("+"))
    asked = {unit.tag: plant.heater_w / len(units) for unit in units}
    for line, watts in by_line.items():
        there = [unit for unit in units if line in unit.leg.split("+")] or list(units)
        for unit in there:
            asked[unit.tag] += watts / len(there)
    return asked


def _overload(plant: Plant, tag: str, watts: float, dt_s: float) -> None:
    spec = plant.job.inverters.spec
    points = sorted(
        {(spec.surge_va / spec.continuous_va, spec.surge_s), *((p.times, p.seconds) for p in spec.overload)}
    )
    times = watts / spec.continuous_va
    if times <= 1:
        plant.hot_s[tag] = max(0.0, plant.hot_s.get(tag, 0.0) - dt_s / 60)
        return
    stands = seconds_to_trip(times, [one for one in points if one[0] > 1]) if points[-1][0] > 1 else 0.0
    plant.hot_s[tag] = plant.hot_s.get(tag, 0.0) + (dt_s / stands if stands else 1.0)
    if plant.hot_s[tag] >= 1:
        plant.tripped[tag] = "overload"
        plant.tell(tag, f"switches off at {times:.1f} times its rating", "more was asked of it than it stands", False)


def drawn_w(plant: Plant, ac_w: dict[str, float], volts: float) -> dict[str, float]:
    """What is taken at the ends of ways [W]."""
    curve = loss_curve(plant.job.inverters) if plant.job.inverters.units else None
    found: dict[str, float] = {}
    for unit in plant.job.inverters.units:
        if plant.at[unit.tag] == "on" and unit.tag not in plant.tripped:
            watts = ac_w.get(unit.tag, 0.0)
            assert curve is not None
            awake_w = AWAKE_W if plant.has("no sleep", unit.tag) else 0.0
            awake_w += LEFT_ON_W if plant.has("left on") and unit is plant.job.inverters.units[0] else 0.0
            found[f"W-{unit.tag}"] = watts + curve.loss_w(watts) + awake_w
    for end in plant.design.ends:
        one = end.converter
        if end.starts_here and plant.at[one.tag] == "on" and not end.by_engine:
            found[f"W-{one.tag}"] = max(1.0, one.spec.own_w)
    for unit in plant.job.inverters.units:
        if f"W-{unit.tag}" in found and _cut_out(plant, unit.tag, volts):
            del found[f"W-{unit.tag}"]
    return found


def _cut_out(plant: Plant, tag: str, rest_v: float) -> bool:
    """Whether an inverter stops by what it sees at its own terminals."""
    way = plant.flow.ways.get(f"W-{tag}")
    seen = way.end_v if way is not None else rest_v
    low = number_of(plant.stands.get(f"{tag} cut_out_v", ""))
    if low is None or seen >= low:
        return False
    plant.tripped[tag] = LOW
    plant.tell(tag, f"stops at {seen:.1f} V", "its cut-out, as it sees the bank under load", False)
    return True


def come_back(plant: Plant) -> None:
    """Inverters that stopped by their cut-out begin again over their restart."""
    for unit in plant.job.inverters.units:
        if plant.tripped.get(unit.tag) != LOW:
            continue
        way = plant.flow.ways.get(f"W-{unit.tag}")
        back = number_of(plant.stands.get(f"{unit.tag} restart_v", ""))
        if way is not None and back is not None and way.end_v > back:
            del plant.tripped[unit.tag]
            what = f"comes back at {way.end_v:.1f} V"
            plant.tell(unit.tag, what, "its restart: without the load it sees more", False)
