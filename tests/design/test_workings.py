"""Workings are true: every figure can be worked out again from the inputs it shows, by a formula written here a second
time.
"""

from __future__ import annotations

import cmath
import math
import re

import numpy as np
import pytest
from msgspec.structs import replace

from tests import plants
from weighty_axle.demos import demo
from weighty_axle.design.derive import derive
from weighty_axle.job.edits.bank import set_pack_count
from weighty_axle.job.edits.edit import set_value
from weighty_axle.job.edits.roof import add_remote
from weighty_axle.job.models.vehicle import Trailer
from weighty_axle.job.stated import Clear
from weighty_axle.reference.first_job import first_job
from weighty_axle.reference.vehicle_types import vehicle_types

COPPER_PER_K = 0.00393  # IEC 60028
AIR_KG_PER_M3 = 1.225  # ISA, sea level


def product(*values):
    return math.prod(values)


def total(*values):
    return math.fsum(values)


def quotient(over, under):
    return over / under if under else math.inf


def difference(a, b):
    return a - b


def e12(ohm):
    """The preferred value not above: the twelfth root of ten, rounded as the series is (IEC 60063)."""
    series = (1.0, 1.2, 1.5, 1.8, 2.2, 2.7, 3.3, 3.9, 4.7, 5.6, 6.8, 8.2)
    return max(step * 10.0**ten for step in series for ten in range(-1, 4) if step * 10.0**ten <= ohm * (1 + 1e-12))


def pairs(*values):
    return sum(a * b for a, b in zip(values[::2], values[1::2], strict=True))


def asked(units, each, efficiency, dc_w, volts, *others):
    return (units * each / efficiency + dc_w + sum(others)) / volts


def split(v2_of, *given):
    """Currents of two lines and what hangs across them: the line voltage, then of each line active and reactive power
    and angle, then what is across.

    `v2_of` tells the second line's voltage over the first's; None takes the angles shown.
    """
    volts, (w1, var1, turn1, w2, var2, turn2), parts = given[0], given[1:7], complex(*given[7:])
    v1 = volts * cmath.exp(1j * math.radians(turn1))
    v2 = volts * cmath.exp(1j * math.radians(turn2)) if v2_of is None else v2_of * v1
    across = (parts / (v1 - v2)).conjugate() if abs(v1 - v2) > 1 else 0j
    return (complex(w1, var1) / v1).conjugate() + across, (complex(w2, var2) / v2).conjugate() - across


def swing(*given):
    """Active power and the swing of instantaneous power about it, by sampling a period: amplitude of v(t) i(t) at twice
    the frequency.
    """
    if len(given) < 3:
        return 0.0, 0.0
    volts, per_line = given[0], [given[at : at + 3] for at in range(1, len(given) - 2, 3)]
    shared = complex(*given[-2:]) / max(1, len(per_line))
    total = np.zeros(360)
    for w, var, turn in per_line:
        va, phase = complex(w, var) + shared, math.radians(turn)
        t = np.arange(360) * 2 * math.pi / 360
        amps = abs(va) / volts
        total += 2 * volts * amps * np.cos(t + phase) * np.cos(t + phase - cmath.phase(va))
    return total.mean(), 2 * abs(np.fft.rfft(total)[2]) / len(total)


def triples(values, of):
    return sum(of(*values[at : at + 3]) for at in range(0, len(values), 3))


def sagged(volts, ohm, watts, *_others):
    return volts - ohm * (volts - math.sqrt(volts**2 - 4 * ohm * watts)) / (2 * ohm)


def hot(count, voc, beta, vmp, cell, gamma):
    return count * min(vmp + voc * beta * (cell - 25), vmp * (1 + gamma * (cell - 25)))


def drop(length, ohm_20, celsius, amps, count, volts):
    return 2 * length * ohm_20 * (1 + COPPER_PER_K * (celsius - 20)) * amps / count / volts


# Figure (tags left out) -> its value from the values of its inputs, in the order they are shown.
FORMULAS = {
    "heat.bays[].loss_w": total,
    "heat.bays[].allowed_c": lambda *each: min(each),
    "brief.days[].supply_energy_wh[]": total,
    "brief.days[].ac_energy_wh": total,
    "brief.days[].dc_energy_wh": total,
    "brief.days[].bank_energy_wh": total,
    "brief.days[].peak_ac_w": total,
    "brief.energy_per_day_wh": total,
    "brief.days[].no_load_energy_wh": lambda units, watts: units * watts * 24,
    "itinerary.stays[].energy_wh": pairs,
    "itinerary.stays[].energy_per_day_wh": quotient,
    "itinerary.planned_days": total,
    "itinerary.energy_wh": total,
    "bank.nominal_v": product,
    "bank.max_v": product,
    "bank.lowest_working_v": product,
    "bank.capacity_ah": product,
    "bank.nominal_energy_wh": product,
    "bank.usable_energy_wh": product,
    "bank.equivalent_12v_ah": lambda wh: wh / 12.8,
    "bank.prospective_a": quotient,
    "bank.mass_kg": product,
    "bank.charge_limit_a": lambda n, each, spread: n * each / spread,
    "bank.discharge_limit_a": lambda n, each, spread: n * each / spread,
    "bank.peak_limit_a": lambda n, each, spread: n * each / spread,
    "bank.one_pack_out_a": lambda _n, each, part=math.inf: each / part,
    "bank.days": quotient,
    "bank.one_pack_out_charge_a": lambda each, part=1.0: each / part,
    "bank.least_resistance_ohm": lambda n, each, series: each * series / n,
    "bank.continuous_a": asked,
    "bank.surge_a": asked,
    "bank.at_surge_v": sagged,
    "bank.c_rate": quotient,
    "voltages.choices[].continuous_a": quotient,
    "voltages.choices[].surge_a": quotient,
    "voltages.choices[].loss_w": product,
    "voltages.choices[].drop_share": lambda length, ohm, amps, count, volts: 2 * length * ohm * amps / count / volts,
    "voltages.choices[].copper_kg": lambda density, mm2, count, length: density * mm2 * 1e-6 * count * 2 * length,
    "cold.usable_wh[]": lambda wh, part, _cells: wh * part,
    "cold.usable_coldest_wh": lambda wh, part, _cells: wh * part,
    "cold.skin_w_per_k": lambda per_k, area, thick: per_k * area / thick,
    "cold.heater_w": lambda per_k, kept, low: per_k * max(0.0, kept - low),
    "cold.heater_day_wh": lambda watts: 24 * watts,
    "inverters.legs[].continuous_va": lambda n, va, bay, full, per_c: n * va * (1 - per_c * max(0.0, bay - full)),
    "inverters.legs[].surge_va": product,
    "inverters.legs[].worst_va": math.hypot,
    "inverters.legs[].start_va": total,
    "inverters.sides[].load_va": math.hypot,
    "inverters.sides[].start_va": total,
    "inverters.sides[].surge_va": product,
    "inverters.sides[].continuous_va": lambda n, va, bay, full, per_c: n * va * (1 - per_c * max(0.0, bay - full)),
    "inverters.active_w": lambda *g: swing(*g)[0],
    "inverters.pulsating_va": lambda *g: swing(*g)[1],
    "inverters.effective_va": lambda *g: math.hypot(swing(*g)[0], swing(*g)[1] / math.sqrt(2)),
    "inverters.currents.lines_a[0]": lambda *g: abs(split(None, *g)[0]),
    "inverters.currents.lines_a[1]": lambda *g: abs(split(None, *g)[1]),
    "inverters.currents.pair_a": lambda *g: abs(complex(*g[-2:])) / (2 * g[0]),
    "inverters.currents.neutral_a": lambda *g: abs(sum(split(None, *g))),
    "inverters.currents.neutral_split_a": lambda *g: abs(sum(split(-1, *g))),
    "inverters.currents.neutral_in_phase_a": lambda *g: abs(sum(split(1, *g))),
    "inverters.currents.between_lines_v": lambda volts: 2 * volts,
    "inverters.currents.leg_balance": lambda *va: max(va) / sum(va) if any(va) else 1 / 2,
    "sources[].continuous_w": lambda limit, to_set, volts, lines: min(limit, to_set) * volts * lines,
    "sources[].inlet_v": lambda volts, amps, ohm: volts - amps * ohm,
    "sources[].bank_adds_w": lambda *g: triples(
        g, lambda asked, gives, watts: watts * max(0.0, 1 - gives / asked) if asked else 0.0
    ),
    "sources[].peak_w": total,
    "sources[].bank_adds_va[]": difference,
    "sources[].bank_lasts_h": lambda wh, adds, share, dc: wh / (adds / share + dc) if adds else math.inf,
    "sources[].unit_limits[].each_a": lambda amps, units: math.floor(amps / units * 10 + 1e-6) / 10,
    "sources[].charge_left_a": lambda spare, share, volts, most: min(most, spare * share / volts),
    "sources[].full_h": lambda wh, day: 24 * wh / day if day > 0 else math.inf,
    "panels.circuits[].running_a": quotient,
    "panels.circuits[].drop_share": lambda length, ohm, amps, volts: 2 * length * ohm * amps / volts,
    "panels.panels[].feeder_a": total,
    "panels.panels[].neutral_a": total,
    "panels.panels[].breakers_a": total,
    "panels.panels[].drop_share": lambda length, ohm, amps, volts: 2 * length * ohm * amps / volts,
    "panels.relays[].passes_a": quotient,
    "ripple.mean_a": lambda va, share, volts: va / share / volts,
    "ripple.swing_a": lambda va, share, volts: va / share / volts,
    "ripple.effective_a": lambda va, share, volts: va / share / volts,
    "ripple.bank_v": lambda peak, ohm: 2 * peak * ohm,
    "ripple.inverter_v": lambda at_bank, peak, main, lead, units: at_bank + 2 * peak * (main + lead / units),
    "ripple.allowed_v": lambda volts: 0.05 * volts,
    "storage.alive_w": total,
    "storage.month_wh": lambda watts: 730 * watts,
    "storage.month_share": quotient,
    "storage.awake_month_wh": lambda *w: 730 * sum(w),
    "storage.lasts_days": lambda wh, watts: quotient(wh, 24 * watts),
    "roof.strings[].cold_voc_v": max,
    "roof.strings[].cold_margin_v": difference,
    "roof.strings[].hot_vmp_v": hot,
    "roof.strings[].cold_voc_linear_v": lambda *g: triples(
        g[:-1], lambda n, voc, beta: n * voc * (1 + beta * (g[-1] - 25))
    ),
    "roof.strings[].cold_voc_code_v": lambda *g: triples(g[:-2], lambda n, voc, _beta: n * voc * g[-2]),
    "roof.controllers[].design_isc_a": lambda *amps: 1.25 * sum(amps),
    "roof.controllers[].output_a": lambda watts, volts, most: min(most, watts / volts),
    "roof.controllers[].start_v": total,
    "roof.controllers[].run_v": total,
    "roof.strings[].hot_voc_v": lambda *g: triples(g[:-1], lambda n, voc, beta: n * voc * (1 + beta * (g[-1] - 25))),
    "roof.strings[].dawn_voc_v": lambda *g: triples(g[:-1], lambda n, voc, beta: n * voc * (1 + beta * (g[-1] - 25))),
    "remote[].hot_voc_v": lambda n, each, _cells: n * each,
    "remote[].dawn_voc_v": lambda n, each, _cells: n * each,
    "roof.noon_low_w": product,
    "roof.noon_high_w": product,
    "roof.stand_off_m": lambda crown, half, far, near: crown * (far**2 - near**2) / half**2,
    "remote[].rated_w": product,
    "remote[].cold_voc_v": product,
    "remote[].hot_vmp_v": lambda n, each, _cells: n * each,
    "remote[].isc_a": lambda isc, side: 1.25 * isc * side,
    "remote[].drop_share": lambda length, ohm, amps, volts: 2 * length * ohm * amps / volts,
    "protection[].isolator_v": lambda *volts: max(volts),
    "protection[].isolator_a": total,
    "protection[].back_a": lambda *amps: 1.25 * sum(amps),
    "protection[].cable.drop_share": lambda length, ohm, amps, volts: length * ohm * amps / volts,
    "protection[].cable.carries_a": lambda table, _air, factor: table * min(1.0, factor),
    "fixings.lift_n": lambda speed, _pressure, share, area: AIR_KG_PER_M3 / 2 * speed**2 * share * area,
    "fixings.pull_n": lambda lift, weight, safety, count: max(0.0, lift - weight) * safety / count,
    "fixings.needed_count": lambda lift, weight, safety, each: max(
        4, math.ceil(max(0.0, lift - weight) * safety / each - 1e-9)
    ),
    "fixings.foot_kg": quotient,
    "charging.mixes[].parts[]": None,
    "charging.mixes[].total_a": total,
    "charging.worst_a": total,
    "charging.into_bank_a": min,
    "charging.safe_limit_a": lambda all_in, one_out: math.floor(min(all_in, one_out) * (1 + 1e-5)),
    "cold.days": lambda wh, day, heater: wh / (day + heater),
    "cold.usable_stored_wh": lambda wh, part, _cells: wh * part,
    "cold.stored_c": lambda _kept, low: low,
    "cold.asleep_w": lambda _skin, _kept, _air: 0.0,
    "ends[].gives_a": lambda *rated: 0.0 if not rated else rated[0] if rated[0] < 100 else rated[0] / rated[1],
    "ends[].takes_a": None,
    "brief.days[].beside_energy_wh": None,
    "direct.circuits[].current_a": quotient,
    "direct.circuits[].start_a": lambda current, extra, low: current + extra / low,
    "direct.circuits[].ampacity_a": lambda table, air, bundle, terminal=math.inf: min(table * air * bundle, terminal),
    "direct.circuits[].drop_share": lambda length, metre, amps, volts: 2 * length * metre * amps / volts,
    "direct.panels[].current_a": quotient,
    "direct.panels[].ampacity_a": lambda table, air, bundle, terminal=math.inf: min(table * air * bundle, terminal),
    "direct.panels[].drop_share": lambda length, metre, amps, volts: 2 * length * metre * amps / volts,
    "direct.bars[].demand_a": quotient,
    "direct.bars[].given_a": total,
    "direct.bars[].energy_wh": total,
    "feeds_in[].current_a": lambda *given: given[0] if len(given) == 2 else sum(given),
    "feeds_in[].length_m": lambda *given: given[0] if len(given) == 1 else sum(given[:3]) + 2 * given[3],
    "feeds_in[].drop_share": lambda length, metre, amps, count, volts: 2 * length * metre * amps / count / volts,
    "place.combination_kg": lambda gross, trailer, coupling: gross + trailer - coupling,
    "charging.cold_limit_a": product,
    "source_states.held_to_a": lambda *limits: min(limits),
    "source_states.worst_a": total,
    "source_states.told[].told_a": lambda most, ratio, _held: (
        most if ratio > 1 - 1e-9 else math.floor(most * ratio + 1e-6)
    ),
    "budgets[].spare.lowest_v": lambda *volts: min(volts),
    "budgets[].spare.vehicle_a": lambda _volts, *own: sum(own),  # no job here has DC loads on an alternator's bar
    "budgets[].spare.gives_a[]": total,
    "budgets[].spare.spare_a[]": lambda gives, vehicle, margin: gives - vehicle - margin,
    "budgets[].chargers[].takes_a": lambda watts, volts, ohm, most=math.inf: min(
        most, (volts - math.sqrt(volts**2 - 4 * ohm * watts)) / (2 * ohm) if ohm else watts / volts
    ),
    "budgets[].chargers[].device_v": lambda volts, amps, ohm: volts - amps * ohm,
    "budgets[].chargers[].drop_share": lambda volts, at: (volts - at) / volts,
    "budgets[].asked_a": total,
    "detections[].running_high_v": total,
    "detections[].running_low_v": lambda holds, sags, sag_s, after_s: holds if after_s >= sag_s else sags,
    "detections[].loaded_low_v": difference,
    "detections[].resting_high_v": lambda cells, rest, surface: cells * (rest + surface),
    "detections[].resting_loaded_v": lambda rest, amps, ohm, drop: rest - amps * ohm - drop,
    "detections[].drop_v": product,
    "starting[].float_v": product,
    "starting[].highest_v": product,
    "generators[].gives_w": lambda set_a, to_set_a, volts, lines: min(set_a, to_set_a) * volts * lines,
    "generators[].charge_w": lambda gives, ac, efficiency, count, each: max(
        0.0, min(count * each, (gives - ac) * efficiency)
    ),
    "generators[].load_share": lambda charge, efficiency, ac, rated: (charge / efficiency + ac) / rated,
    "generators[].fuel_l_per_h": lambda part, _rated, full, half: half + (full - half) * (2 * part - 1),
    "generators[].fuel_l_per_kwh": lambda fuel, charge, ac: fuel / (charge + ac) * 1000,
    "generators[].run_h": lambda between, usable, charge, dc: between * usable / (charge - dc),
    "generators[].run_l": product,
    "generators[].day_h": lambda need, charge, saved: need / (charge + saved),
    "generators[].day_l": product,
    "generators[].open_h": lambda start, end: 24 - (end - start) % 24,
    "generators[].night_share": quotient,
    "low_side.own_w": total,
    "low_side.bars[].demand_a": quotient,
    "low_side.bars[].given_a": total,
    "low_side.bars[].start_a": total,
    "low_side.bars[].peak_a": total,
    "place.axles[].load_kg": total,
    "place.axles[].least_kg": total,
    "place.axles[].margin_kg": difference,
    "place.axles[].spread_kg": lambda soft, stiff: abs(soft - stiff) / 2,
    "place.coupling_least_share": quotient,
    "place.front_least_share": quotient,
    "place.payload_kg": difference,
    "holds.holds[].mass_kg": total,
    "holds.holds[].forward_n": product,
    "holds.holds[].sideways_n": product,
    "holds.holds[].up_n": product,
    "holds.holds[].shear_n": quotient,
    "place.added_kg": total,
    "place.gross_kg": total,
    "place.gross_margin_kg": difference,
    "place.right_minus_left_kg": lambda track, mass, centre: 2 * mass * centre / track,
    "place.coupling_share": quotient,
    "wiring.runs[].prospective_a": quotient,
    "wiring.runs[].ampacity_a": lambda table, factor, bundle, _insulation, _air, count, terminal=math.inf: (
        min(table * factor * bundle, terminal) * count
    ),
    "wiring.runs[].drop_share": drop,
    "wiring.runs[].loss_w": product,
    "wiring.worst_drop_share": total,
    "flow.ways[].most_a": quotient,
    "flow.ways[].drop_share": lambda source, end: abs(source - end) / source,
    "flow.ways[].heat_w": product,
    "guards.guards[].near_a": lambda volts, bank, path: volts / (bank + path),
    "guards.guards[].far_a": lambda volts, inside, path, *more: min(
        volts / (inside + path + more[-1]), *more[:-1], 9e9
    ),
    "guards.guards[].heat_share": lambda amps, seconds, k, area: amps**2 * seconds / (k * area) ** 2,
    "loops[].loop_ohm": total,
    "loops[].on_inverters_a": lambda most, volts, loop: min(most, volts / loop if loop else most),
    "loops[].on_shore_a": lambda volts, supply, loop: volts / (supply + loop),
    "loops[].at_once_a": product,
    "precharge.capacitors_mf": total,
    "precharge.resistor_ohm": lambda time, farad: e12(time / 3 / farad * 1000),
    "precharge.filled_s": lambda ohm, farad, *_: ohm * farad / 1000 * math.log(20),
    "precharge.held_s": total,
    "precharge.left_v": difference,
    "precharge.energy_j": lambda volts, farad, ohm, seconds: (
        farad / 2000 * volts**2 * (1 - math.exp(-2000 * seconds / (ohm * farad)))
    ),
    "precharge.start_w": lambda volts, ohm: volts**2 / ohm,
    "flow.worst_drop_share": lambda *drops: max(drops),
    "settings.bms_high_v": product,
}
# Figures whose inputs are more than fits a working, looked up in a table, or worked out again elsewhere: where they are
# checked.
ELSEWHERE = {
    "signals[].length_m": "test_signals",
    "guards.guards[].opens_s": "test_guards",
    "precharge.peak_a": "test_precharge",
    "precharge.peak_without_a": "test_precharge",
    "precharge.highest_without_v": "test_precharge",
    "heat.bays[].needed_m3_h": "test_heat",
    "heat.bays[].moved_m3_h": "test_heat",
    "heat.bays[].settles_c": "test_heat",
    "heat.bays[].peak_c": "test_heat",
    "clear.tight[].there_mm": "test_clear",
    "clear.hidden[].depth_m": "test_clear",
    "house.cables[].length_m": "test_ways",
    "house.lengths_m[]": "test_ways",
    "cables[].length_m": "test_ways",
    "direct.circuits[].length_m": "test_ways",
    "direct.panels[].length_m": "test_ways",
    "brief.days[].converter_energy_wh": "test_brief",
    "brief.days[].inverter_loss_energy_wh": "test_brief",
    "itinerary.off_grid_days": "test_brief",
    "itinerary.longest_off_grid_days": "test_brief",
    "itinerary.driven_h": "test_brief",
    "bank.spread_share": "test_bank",
    "bank.resistance_ohm": "test_bank",
    "voltages.choices[].fuse_a": "test_bank",
    "voltages.choices[].prospective_a": "test_bank",
    "cold.coldest_c": "test_bank",
    "sources[].recommended_limit_a": "below",
    "sources[].net_day_wh": "test_ac_side",
    "panels.circuits[].copper_a": "test_ac_side",
    "panels.panels[].copper_a": "test_ac_side",
    "roof.controllers[].rated_w": "below",
    "roof.rated_w": "below",
    "roof.placed_w": "below",
    "roof.mass_kg": "below",
    "protection[].cable.length_m": "test_roof_safety",
    "protection[].fuse_a": "test_roof_safety",
    "fixings.roof_load_kg_per_m2": "test_roof",
    "place.axles[].added_kg": "below",
    "room.near[].gap_m": "test_room",
    "holds.holds[].pull_n": "test_holds",
    "holds.holds[].use_share": "test_holds",
    "place.axles[].right_kg": "test_laden",
    "place.axles[].left_kg": "test_laden",
    "feeds_in[].fuse_a": "test_plant",
    "budgets[].cable_w": "test_budget",
    "low_side.bars[].efficiency_share": "test_budget",
    "beside[].full_w": "test_plant",
    "beside[].surge_w": "test_plant",
    "beside[].shore_a": "test_plant",
    "wiring.runs[].length_m": "test_design",
    "wiring.runs[].current_a": "test_design",
    "wiring.runs[].fuse_a": "test_design",
    "settings.points[].computed": "test_steps",
    "settings.ladder[].computed": "test_steps",
}


def _jobs(clinic, puppet, library):
    """Every type's first job, the demos as they are, and changed so that what is nothing there is something."""

    def v(job, **to):
        for path, value in to.items():
            job = set_value(path.replace("__", "."), value, "").apply(job)
        return job

    yield from (first_job(kind) for kind in vehicle_types().rows)
    yield clinic
    placed = demo("eye-clinic")
    zones = tuple(replace(one, keep_m=5.0) for one in placed.vehicle.zones)
    vehicle = replace(clinic.vehicle, zones=zones)
    outlets = tuple(one for one in placed.outlets if one.start == "DB1")
    yield replace(clinic, holds=placed.holds, ladings=placed.ladings, vehicle=vehicle, outlets=outlets)
    yield v(clinic, inverters__spec__clear=Clear(above_m=0.9), vehicle__bays=placed.vehicle.bays)
    yield puppet
    yield library
    yield v(
        add_remote("CC1").apply(set_pack_count(4).apply(clinic)),
        roof__crown_m=0.08,
        charging__system_limit_a=140.0,
        site__bay_high_c=46.0,
    )
    yield v(
        add_remote("CC1").apply(puppet),
        roof__module__voc_per_c=-0.0045,
        wiring__ambient_c=48.0,
        site__record_low_c=-4.0,
    )
    yield v(
        plants.staged(puppet),
        vehicle__trailer=Trailer(name="Stage trailer", mass_kg=900.0, coupling_kg=60.0, coupling_x_m=8.0),
    )
    yield plants.transfer(puppet)
    yield plants.two_groups(puppet)
    yield v(library, bank__box__insulation_mm=20.0, roof__crown_m=0.05, site__design_high_c=41.0)


@pytest.fixture(scope="module")
def all_figures(request):
    found = []
    for job in _jobs(*(request.getfixturevalue(name) for name in ("clinic", "puppet", "library_bus"))):
        design = derive(job)
        for one in (design, *design.others):
            found += [(re.sub(r"\[[^\]]*\]", "[]", path), path, figure, one.job) for path, figure in one.figures()]
    return found


def _formula(plain, path):
    return FORMULAS.get(re.sub(r".*(inverters\.currents\.lines_a\[\d\])", r"\1", path)) or FORMULAS.get(plain)


def test_every_figure_is_worked_out_twice(all_figures):
    """A figure that is new needs a formula here, or a word on where it is checked."""
    plain = {name for name, _, _, _ in all_figures} - {"inverters.currents.lines_a[]"}
    known = {re.sub(r"lines_a\[\d\]", "lines_a[]", name) for name in FORMULAS} | ELSEWHERE.keys()
    assert plain - known == set() and known - plain - {"inverters.currents.lines_a[]", "protection[].fuse_a"} == set()


@pytest.mark.parametrize("name", [name for name, formula in FORMULAS.items() if formula is not None])
def test_a_figure_follows_from_the_inputs_it_shows(all_figures, name):
    seen = 0
    for plain, path, figure, job in all_figures:
        if name not in (plain, path):
            continue
        if (
            "currents" in name
            and len([one for one in figure.inputs if "reactive" in one.name]) != 3
            and "leg_balance" not in name
            and "between" not in name
        ):
            continue
        if figure.limit == "the inverters, as they are set, do not let it through" or (
            name == "roof.strings[].hot_vmp_v" and len(figure.inputs) != 6
        ):
            continue
        if figure.formula in ("no module goes along", "live in no state"):
            assert figure.value == 0 and not figure.inputs
            continue
        if math.isnan(figure.value):
            assert figure.limit.endswith("none"), "without a conductor there is nothing to tell"
            continue
        values = [one.value for one in figure.inputs]
        assert figure.value == pytest.approx(FORMULAS[name](*values), rel=1e-9, abs=1e-9), (
            job.name,
            path,
            figure.formula,
            values,
        )
        seen += 1
    assert seen, "no demo has it"


def test_sums_by_count(all_figures):
    """Counts stand in the names of the inputs, as `12 × Module 440 W`."""
    seen = 0
    for plain, path, figure, _ in all_figures:
        if plain in ("roof.controllers[].rated_w", "roof.rated_w", "roof.placed_w", "roof.mass_kg"):
            assert figure.value == pytest.approx(
                sum(int(one.name.split(" × ")[0]) * one.value for one in figure.inputs)
            ), path
            seen += 1
    assert seen > 10


def test_limits_to_set(all_figures):
    """Least of the rungs less what hangs before the inverters, rounded down to a tenth of an ampere, never up."""
    for plain, path, figure, _ in all_figures:
        if plain == "sources[].recommended_limit_a":
            rungs = [one.value for one in figure.inputs if one.name.endswith(", good for")]
            before = next(one.value for one in figure.inputs if one.name == "Drawn before the inverters")
            least = max(0.1, min(rungs) - before)
            assert least - 0.1 < figure.value <= least + 1e-9 and figure.value * 10 == pytest.approx(
                round(figure.value * 10)
            ), path


def test_axles_by_moments(all_figures):
    """Statics a second time: the sum of loads and the moment about the front of the body are those of the added
    mass.
    """
    for job in {id(job): job for _, _, _, job in all_figures}.values():
        axles = [figure for plain, _, figure, own in all_figures if plain == "place.axles[].added_kg" and own is job]
        mass, centre = axles[0].inputs[0].value, axles[0].inputs[1].value
        assert sum(one.value for one in axles) == pytest.approx(mass)
        assert sum(one.value * axle.x_m for one, axle in zip(axles, job.vehicle.axles, strict=True)) == pytest.approx(
            mass * centre
        )
