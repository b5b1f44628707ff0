"""Earth: conductors by the codes' tables, loops by hand, what inverters give, and one place for each bond."""

from __future__ import annotations

import pytest

from tests.building import changed
from weighty_axle.answers.wiring.bonding import bonds
from weighty_axle.demos import demo
from weighty_axle.design.conductors import conductor_area_mm2, ohm_per_m
from weighty_axle.design.derive import derive
from weighty_axle.design.wiring.earthing import earth_size


@pytest.mark.parametrize(
    ("practice", "guard", "line", "earth"),
    [
        ("north_american", 15, "14 AWG", "14 AWG"),
        ("north_american", 20, "12 AWG", "12 AWG"),
        ("north_american", 50, "6 AWG", "10 AWG"),
        ("north_american", 100, "3 AWG", "8 AWG"),
        ("north_american", 200, "3/0 AWG", "6 AWG"),
        ("international", 16, "2.5 mm2", "2.5 mm2"),
        ("international", 100, "25 mm2", "16 mm2"),
        ("international", 125, "35 mm2", "16 mm2"),
        ("international", 200, "70 mm2", "35 mm2"),
        ("international", 250, "95 mm2", "50 mm2"),
    ],
)
def test_earth_conductors_are_those_of_the_codes(practice, guard, line, earth):
    """NEC (NFPA 70) 2023 table 250.122; IEC 60364-5-54 table 54.7 (S, 16, S/2); recalled."""
    assert earth_size(practice, guard, line) == earth


def test_a_loop_is_the_sum_of_its_copper_and_an_inverter_gives_no_more_than_its_surge(puppet):
    design = derive(puppet)
    one = next(loop for loop in design.loops if loop.tag == "CK2")
    panel = design.ac.panels[0]
    feeder = design.house.lengths_m[panel.tag].value * 2 * ohm_per_m(panel.size, 70)
    own = design.house.lengths_m["CK2"].value * 2 * ohm_per_m("2.5 mm2", 70)
    assert one.loop_ohm.value == pytest.approx(feeder + own)
    spec = puppet.inverters.spec
    assert one.on_inverters_a.value == pytest.approx(spec.surge_va / spec.ac_v)
    assert one.at_once_a.value == 10 * one.breaker_a and not one.trips and one.guarded
    source = min(
        (s for s in puppet.inverters.sources if s.kind == "shore"),
        key=lambda s: s.volts / (s.loop_ohm + one.loop_ohm.value),
    )
    assert one.on_shore_a.value == pytest.approx(source.volts / (source.loop_ohm + feeder + own))


def test_units_side_by_side_on_a_line_give_more_and_a_long_loop_less(clinic):
    alone = derive(clinic).loops[0]
    far = derive(changed(clinic, **{f"ac__circuits[{alone.tag}]__length_m": 60.0})).loops[0]
    assert far.loop_ohm.value > alone.loop_ohm.value and far.on_shore_a.value < alone.on_shore_a.value
    assert far.on_inverters_a.value <= alone.on_inverters_a.value


@pytest.mark.parametrize("name", ["eye-clinic", "puppet-theatre", "library-bus"])
def test_each_bond_has_its_one_place(name):
    design = derive(demo(name))
    found = bonds(design)
    whats = [one.what for one in found]
    assert len(whats) == len(set(whats)) and whats.count("AC earth") == 1
    assert sum(one.what.startswith("DC negative") for one in found) == 1
    main = design.wiring.main.chosen
    dc = next(one for one in found if one.what.startswith("DC negative"))
    assert conductor_area_mm2(dc.size) >= max(16.0, conductor_area_mm2(main.size) * main.count / 2) - 0.1
    assert {f"case of {unit.tag}" for unit in design.job.inverters.units} <= set(whats)
