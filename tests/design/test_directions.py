"""Which way answers must go when one thing stated grows: laws that hold for every job, whatever the formulas say
inside.

An answer that turns back somewhere between the smallest and the largest value hides a slip in a table, a limit or a
sign. Source of the directions: textbook relations (Ohm, Joule, Arrhenius-like derating, statics) and common practice,
no source.
"""

from __future__ import annotations

import itertools

import numpy as np
import pytest

from tests import jobs
from weighty_axle.design.derive import Deriver
from weighty_axle.job.edits.bank import set_pack_count
from weighty_axle.job.edits.edit import set_value
from weighty_axle.job.edits.roof import add_remote

# What is stated, the values it takes, the answers that rise with it, the answers that fall. Each answer must move over
# the whole range.
LAWS = {
    "colder record low": (
        "puppet-theatre",
        "site.record_low_c",
        np.linspace(-55, 10, 14),
        ("roof.strings[S1].cold_margin_v",),
        ("roof.strings[S1].cold_voc_v", "protection[0].isolator_v"),
    ),
    "hotter summers": (
        "puppet-theatre",
        "site.design_high_c",
        np.linspace(15, 55, 9),
        (),
        ("roof.strings[S1].hot_vmp_v", "sources[GEN1].recommended_limit_a"),
    ),
    "higher home": (
        "puppet-theatre",
        "site.height_m",
        np.linspace(0, 4000, 9),
        ("sources[GEN1].bank_adds_w",),
        ("sources[GEN1].continuous_w", "sources[GEN1].bank_lasts_h", "sources[GEN1].recommended_limit_a"),
    ),
    "hotter bay": (
        "eye-clinic",
        "site.bay_high_c",
        np.linspace(20, 60, 9),
        (),
        ("inverters.legs[L1].continuous_va", "inverters.legs[L2].continuous_va"),
    ),
    "hotter cable": (
        "puppet-theatre",
        "wiring.ambient_c",
        np.linspace(30, 40, 6),
        (),
        ("wiring.runs[W-MAIN].ampacity_a",),
    ),
    "longer main lead": (
        "puppet-theatre",
        "wiring.main_lead_m",
        np.linspace(0.5, 4.0, 8),
        ("wiring.runs[W-MAIN].loss_w", "wiring.runs[W-MAIN].length_m"),
        ("wiring.runs[W-INV1].prospective_a",),
    ),
    "packs of more resistance": (
        "eye-clinic",
        "bank.spec.resistance_ohm",
        np.geomspace(0.002, 0.05, 8),
        ("bank.resistance_ohm", "bank.least_resistance_ohm", "ripple.bank_v"),
        ("bank.prospective_a", "bank.at_surge_v"),
    ),
    "larger packs": (
        "eye-clinic",
        "bank.spec.capacity_ah",
        np.linspace(50, 300, 6),
        ("bank.usable_energy_wh", "bank.days", "storage.lasts_days", "cold.usable_coldest_wh", "sources[P50].full_h"),
        ("bank.c_rate", "storage.month_share"),
    ),
    "more of the bank used": (
        "eye-clinic",
        "bank.usable_share",
        np.linspace(0.5, 1.0, 6),
        ("bank.usable_energy_wh", "bank.days", "cold.usable_wh[-10]", "sources[P15].bank_lasts_h"),
        (),
    ),
    "thicker walls of the bank's box": (
        "eye-clinic",
        "bank.box.insulation_mm",
        np.linspace(5, 100, 6),
        (),
        ("cold.skin_w_per_k", "cold.heater_w", "cold.heater_day_wh"),
    ),
    "one load grows": (
        "puppet-theatre",
        "loads[LD1].running_w",
        np.linspace(50, 2400, 9),
        (
            "brief.energy_per_day_wh",
            "brief.days[SHOW].peak_ac_w",
            "inverters.legs[AC].worst_va",
            "panels.circuits[CK1].running_a",
            "panels.circuits[CK1].drop_share",
            "panels.panels[MAIN].feeder_a",
            "sources[GEN1].bank_adds_w",
            "brief.days[SHOW].inverter_loss_energy_wh",
        ),
        ("bank.days", "sources[GEN1].bank_lasts_h", "sources[P10].net_day_wh", "sources[P10].charge_left_a"),
    ),
    "thirstier inverters": (
        "puppet-theatre",
        "inverters.spec.no_load_w",
        np.linspace(5, 80, 6),
        ("brief.days[SHOW].no_load_energy_wh", "brief.energy_per_day_wh"),
        ("bank.days",),
    ),
    "stronger inverters": (
        "eye-clinic",
        "inverters.spec.surge_va",
        np.linspace(5000, 16000, 6),
        ("bank.surge_a", "inverters.legs[L1].surge_va"),
        ("bank.at_surge_v",),
    ),
    "a source of more amperes": (
        "puppet-theatre",
        "inverters.sources[P10].amps",
        np.linspace(2, 10, 9),
        ("sources[P10].continuous_w", "sources[P10].charge_left_a", "sources[P10].net_day_wh"),
        ("sources[P10].bank_adds_w", "sources[P10].full_h"),
    ),
    "a higher limit set at a source": (
        "puppet-theatre",
        "inverters.sources[P10].limit_a",
        np.linspace(2, 12, 6),
        ("sources[P10].continuous_w", "sources[P10].charge_left_a"),
        ("sources[P10].inlet_v", "sources[P10].full_h"),
    ),
    "a longer circuit": (
        "eye-clinic",
        "ac.circuits[CK4].length_m",
        np.linspace(1, 40, 6),
        ("panels.circuits[CK4].drop_share",),
        (),
    ),
    "a longer feeder": (
        "eye-clinic",
        "ac.panels[LAB].length_m",
        np.linspace(1, 40, 6),
        ("panels.panels[LAB].drop_share",),
        (),
    ),
    "more current of the modules": (
        "puppet-theatre",
        "roof.module.isc_a",
        np.linspace(13.5, 18, 6),
        ("roof.controllers[CC1].design_isc_a", "protection[0].isolator_a", "protection[0].back_a"),
        (),
    ),
    "hotter roofs": ("puppet-theatre", "roof.rise_c", np.linspace(10, 60, 6), (), ("roof.strings[S1].hot_vmp_v",)),
    "faster roads": (
        "puppet-theatre",
        "roof.fixing.speed_km_per_h",
        np.linspace(60, 160, 8),
        ("fixings.lift_n", "fixings.pull_n", "fixings.needed_count"),
        (),
    ),
    "stronger screws": (
        "puppet-theatre",
        "roof.fixing.allowed_n",
        np.linspace(200, 2000, 8),
        (),
        ("fixings.needed_count",),
    ),
    "heavier modules": (
        "puppet-theatre",
        "roof.module.mass_kg",
        np.linspace(15, 35, 5),
        ("roof.mass_kg", "fixings.foot_kg", "fixings.roof_load_kg_per_m2", "place.gross_kg"),
        ("fixings.pull_n", "place.gross_margin_kg"),
    ),
    "a heavier fitting in front": (
        "eye-clinic",
        "fittings[TK1].mass_kg",
        np.linspace(0, 900, 7),
        ("place.axles[A1].load_kg", "place.gross_kg"),
        ("place.axles[A1].margin_kg", "place.gross_margin_kg"),
    ),
    "the fitting moves back": (
        "eye-clinic",
        "fittings[TK1].place.x_m",
        np.linspace(2, 12, 6),
        ("place.axles[A2].load_kg", "place.axles[A3].load_kg"),
        ("place.axles[A1].load_kg",),
    ),
    "more kept alive in storage": (
        "puppet-theatre",
        "ac.storage.pack_w",
        np.linspace(0, 5, 6),
        ("storage.alive_w", "storage.month_wh", "storage.month_share"),
        ("storage.lasts_days",),
    ),
    "more strings elsewhere": (
        "eye-clinic with an array",
        "roof.remote[RA1].parallel",
        np.arange(1, 9),
        (
            "remote[RA1].rated_w",
            "remote[RA1].isc_a",
            "remote[RA1].drop_share",
            "roof.controllers[CC1].design_isc_a",
            "protection[0].isolator_a",
            "protection[0].back_a",
        ),
        (),
    ),
    "stronger modules elsewhere": (
        "eye-clinic with an array",
        "roof.remote[RA1].module.pmp_w",
        np.linspace(20, 78, 6),
        ("remote[RA1].rated_w", "charging.worst_a", "charging.into_bank_a", "wiring.runs[W-MAIN].current_a"),
        (),
    ),
    "a longer way to the array": (
        "puppet-theatre with an array",
        "roof.remote[RA1].cable_m",
        np.linspace(2, 60, 7),
        ("remote[RA1].drop_share",),
        (),
    ),
    "a more crowned roof": ("puppet-theatre", "roof.crown_m", np.linspace(0, 0.2, 6), ("roof.stand_off_m",), ()),
    "a stronger headwind": (
        "puppet-theatre",
        "roof.fixing.headwind_km_per_h",
        np.linspace(0, 90, 7),
        ("fixings.lift_n", "fixings.pull_n"),
        (),
    ),
    "wider modules": (
        "puppet-theatre",
        "roof.module.width_m",
        np.linspace(0.8, 1.2, 5),
        ("fixings.lift_n", "fixings.pull_n"),
        ("fixings.roof_load_kg_per_m2",),
    ),
    "stronger chargers": (
        "eye-clinic",
        "inverters.spec.charge_a",
        np.linspace(20, 140, 7),
        ("charging.worst_a", "panels.relays[0].passes_a"),
        (),
    ),
    "an alternator that spares more": (
        "eye-clinic",
        "charging.alternators[AL1].hot_share",
        np.linspace(0.4, 0.8, 5),
        ("budgets[VEHICLE].spare.spare_a[slow]", "budgets[VEHICLE].spare.spare_a[cruise]"),
        (),
    ),
    "a wider track": ("eye-clinic", "vehicle.track_m", np.linspace(1.8, 2.3, 6), (), ("place.right_minus_left_kg",)),
    "a motor that starts harder": (
        "puppet-theatre",
        "loads[LD3].start_multiple",
        np.linspace(1, 9, 9),
        ("inverters.legs[AC].start_va",),
        (),
    ),
    "better inverters": (
        "eye-clinic",
        "inverters.spec.full_load_efficiency",
        np.linspace(0.8, 0.93, 6),
        (),
        (
            "brief.days[CLINIC].inverter_loss_energy_wh",
            "bank.continuous_a",
            "bank.surge_a",
            "ripple.swing_a",
            "brief.energy_per_day_wh",
        ),
    ),
    "a limit on all charging": (
        "eye-clinic",
        "charging.system_limit_a",
        np.linspace(50, 320, 6),
        ("charging.into_bank_a",),
        (),
    ),
    "a stronger alternator charger": (
        "eye-clinic",
        "converters[ALT1].spec.output_w",
        np.linspace(300, 2000, 6),
        ("charging.worst_a",),
        (),
    ),
}


def _answers(name, path, values, wanted):
    deriver, found = Deriver(), []
    demo = jobs.plain(name.removesuffix(" with an array"))
    job = add_remote(demo.roof.controllers[0].tag).apply(demo) if name.endswith("array") else demo
    for value in values:
        figures = dict(deriver.derive(set_value(path, value.item(), "").apply(job)).figures())
        found.append([figures[one].value for one in wanted])
    return np.array(found)


@pytest.mark.parametrize("law", LAWS)
def test_answers_go_the_way_they_must(law):
    name, path, values, rising, falling = LAWS[law]
    answers = _answers(name, path, values, (*rising, *falling))
    for at, figure in enumerate((*rising, *falling)):
        column = answers[:, at] * (1 if figure in rising else -1)
        steps = np.diff(column)[np.isfinite(np.diff(column))]
        assert (steps >= -1e-9 * np.abs(column[np.isfinite(column)]).max()).all(), (figure, answers[:, at])
        assert column[-1] > column[0], (figure, "does not answer at all")


def test_more_packs_give_more_of_everything_and_a_worse_short_circuit(clinic):
    figures = [dict(Deriver().derive(set_pack_count(count).apply(clinic)).figures()) for count in range(1, 13)]
    for path in (
        "bank.usable_energy_wh",
        "bank.days",
        "bank.discharge_limit_a",
        "bank.charge_limit_a",
        "bank.prospective_a",
        "bank.mass_kg",
        "place.gross_kg",
    ):
        values = [one[path].value for one in figures]
        assert all(more > less for less, more in itertools.pairwise(values)), path
    resistances = [one["bank.resistance_ohm"].value for one in figures]
    assert all(more <= less for less, more in itertools.pairwise(resistances))
