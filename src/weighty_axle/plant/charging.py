"""What charges in the plant: sun, shore, engine, each up to its current and its voltage."""

from __future__ import annotations

from typing import TYPE_CHECKING

from weighty_axle.answers.settings.setting import number_of
from weighty_axle.job.models.roof import spec_of

if TYPE_CHECKING:
    from weighty_axle.plant.plant import Plant

PATH_SHARE = 0.95
"""What is left of an array's power behind cables and controller. Source: common practice, no source."""


def charging(
    plant: Plant, volts: float, ohm: float, load_a: float, shore_w: float
) -> tuple[dict[str, float], dict[str, float]]:
    """What the sun could put in and what each charger does [A]: all it has until its voltage is reached; the highest
    goes on alone.
    """
    most = dict(sun_a(plant, volts))
    sun = dict(most)
    stack = plant.job.inverters
    charging = [unit for unit in stack.units if plant.at[unit.tag] != "off" and unit.tag not in plant.tripped]
    for unit in charging:
        if shore_w > 0:
            dc_w = shore_w / len(charging) * stack.spec.charge_share
            most[unit.tag] = min(most_a(plant, unit.tag, stack.spec.charge_a), dc_w / volts)
    most |= engine_a(plant)
    if _too_cold(plant, sum(most.values())):
        return dict.fromkeys(sun, 0.0), {}
    given: dict[str, float] = {}
    so_far = 0.0
    for tag in sorted(most, key=lambda tag: (-full_v(plant, tag), tag)):
        room = max(0.0, (full_v(plant, tag) - volts) / ohm + load_a - so_far)
        if plant.stands.get(f"{tag} mode") == "supply":
            room = most[tag]
        given[tag] = min(most[tag], room)
        so_far += given[tag]
    return {tag: given[tag] for tag in sun}, {tag: amps for tag, amps in given.items() if amps > 0}


def _too_cold(plant: Plant, amps: float) -> bool:
    """Whether the packs' electronics let nothing in; it is told once."""
    coldest = min((one.cells_c for one in plant.live()), default=20.0)
    if coldest >= plant.packs.charge_low_c or amps <= 0:
        plant.tripped.pop("cold", None)
        return False
    if "cold" not in plant.tripped:
        plant.tripped["cold"] = "cold"
        what = f"cells of {coldest:.0f} °C: their electronics let no charge in"
        plant.tell("bank", what, "lithium is hurt by charging in the cold: warm the bank first", False)
    return True


def full_v(plant: Plant, tag: str) -> float:
    """Voltage a charger holds at the end of charging: what stands in it [V]."""
    volts = number_of(plant.stands.get(f"{tag} absorption_v", ""))
    return volts if volts is not None else plant.design.bank.max_v.value


def most_a(plant: Plant, tag: str, rated_a: float) -> float:
    """What a charger may give by its rating and what stands in it [A]."""
    amps = number_of(plant.stands.get(f"{tag} charge_a", ""))
    return min(rated_a, amps) if amps is not None else rated_a


def sun_a(plant: Plant, volts: float) -> dict[str, float]:
    """What every controller with the bank on its battery side could put in [A]."""
    roof, cells_c = plant.job.roof, plant.design.whole.proving.air_c + 0.03 * plant.sun_w_per_m2
    found: dict[str, float] = {}
    for one in roof.controllers:
        watts = sum(
            string_w(plant, string.tag, cells_c) for string in plant.design.roof.strings if string.controller == one.tag
        )
        if plant.battery_at(one.tag) and watts > 0 and one.tag not in plant.off_places:
            found[one.tag] = min(most_a(plant, one.tag, one.spec.output_a), watts * PATH_SHARE / volts)
    return found


def string_w(plant: Plant, tag: str, cells_c: float) -> float:
    """What a string gives at its best [W]."""
    if plant.at.get(tag) != "on" or tag in plant.off_places:
        return 0.0
    string = next(one for one in plant.design.roof.strings if one.tag == tag)
    specs = [spec_of(plant.job.roof, one) for one in plant.job.roof.modules if one.tag in string.modules]
    light = plant.sun_w_per_m2 * plant.light_share.get(tag, 1.0) * plant.light_share.get(string.controller, 1.0)
    return sum(one.vmp_v * one.imp_a * light / 1000 * (1 + one.pmp_per_c * (cells_c - 25)) for one in specs)


def engine_a(plant: Plant) -> dict[str, float]:
    """What every charger that is on and sees the engine puts in at its speed [A]."""
    engine = plant.at.get("engine", "off")
    found: dict[str, float] = {}
    for state in plant.design.source_states.states:
        if state.engine == engine and engine != "off" and not state.sun and not state.plug:
            for part in state.parts:
                for unit in part.units:
                    share = plant.engine_share.get(unit.tag, 1.0)
                    if plant.at.get(unit.tag) == "on" and share > 0:
                        found[unit.tag] = share * most_a(plant, unit.tag, unit.amps)
    return found
