from __future__ import annotations

import math

import pytest
from msgspec.structs import replace

from tests.building import told, v
from weighty_axle.design.conductors import SUN_CABLE_C, ohm_per_m
from weighty_axle.design.derive import derive
from weighty_axle.design.roof.geometry import rope_m
from weighty_axle.design.roof.protection import STRING_FUSES_A, sun_cable_a
from weighty_axle.job.edits.roof import add_remote
from weighty_axle.job.models.roof import String


@pytest.mark.parametrize(
    ("size", "table_a"), [("14 AWG", 25), ("12 AWG", 30), ("10 AWG", 40), ("8 AWG", 55), ("6 AWG", 75), ("2 AWG", 130)]
)
def test_cable_in_the_sun_against_the_code(size, table_a):
    """NEC (NFPA 70) 2023: table 310.16, copper, 90 °C, × 0.58 of table 310.15(B)(1)(1) for 66-70 °C. Recalled."""
    assert sun_cable_a(size, "enclosed_awg").value == pytest.approx(table_a * 0.58, rel=0.006)


@pytest.mark.parametrize(
    ("size", "ohm_per_1000_ft"),
    [("18 AWG", 7.95), ("14 AWG", 3.14), ("12 AWG", 1.98), ("10 AWG", 1.24), ("6 AWG", 0.491), ("4/0 AWG", 0.0608)],
)
def test_hot_copper_against_the_code(size, ohm_per_1000_ft):
    """NEC (NFPA 70) 2023 chapter 9 table 8, stranded uncoated copper at 75 °C. Recalled."""
    assert ohm_per_m(size, 75.0) * 304.8 == pytest.approx(ohm_per_1000_ft, rel=0.02)


@pytest.mark.parametrize("size", ["thick", "4.2 mm2", "10", "AWG 10", ""])
def test_a_size_in_no_table_is_never_judged_in_silence(puppet, size):
    """A drop of nothing would look good: the rule stops at it, on the roof and on the way to it."""
    job = add_remote("CC1").apply(puppet)
    assert not told(job, "roof.cable-unknown")
    assert math.isnan(ohm_per_m(size)) and sun_cable_a(size, "small_craft_awg") is None
    if size:
        assert [one.rule.severity for one in told(v(puppet, "roof.cable", size), "roof.cable-unknown")] == ["stop"]
        (far,) = told(v(job, "roof.remote[RA1].size", size), "roof.cable-unknown")
        assert far.tags == ("RA1",) and size in far.sentence()


@pytest.mark.parametrize("size", ["10 AWG", "6 mm2", "4 mm2", "14 AWG"])
def test_what_the_roof_cable_loses_is_what_heats_it(clinic, size):
    """Energy: share lost × volts × amps of the string = I² R of its loop, its metres counted out and back."""
    design = derive(v(clinic, "roof.cable", size))
    for guard in design.protection:
        own = [one for one in design.roof.strings if one.controller == guard.controller]
        length = max(rope_m(clinic.roof, guard.controller, one.modules) for one in own)
        spec, count = clinic.roof.module, len(own[0].modules)
        heat_w = spec.imp_a**2 * length * ohm_per_m(size, SUN_CABLE_C)
        assert guard.cable.drop_share.value * count * spec.vmp_v * spec.imp_a == pytest.approx(heat_w)
        assert guard.cable.length_m.value == length > 0


@pytest.mark.parametrize(
    ("parallel", "size", "small"),
    [(1, "14 AWG", True), (1, "10 AWG", False), (2, "10 AWG", True), (2, "6 AWG", False), (4, "6 AWG", True)],
)
def test_cables_to_arrays_elsewhere_carry_what_they_must(puppet, parallel, size, small):
    """1.56 × Isc of all strings side by side (NEC 690.8(B), recalled) in the sun: 13.9 A asks for 21.7 A, of two 43.4
    A.
    """
    job = v(v(add_remote("CC1").apply(puppet), "roof.remote[RA1].parallel", parallel), "roof.remote[RA1].size", size)
    assert bool([one for one in told(job, "roof.cable-small") if one.tags == ("RA1",)]) is small


def _with_strings(job, count):
    """The clinic's roof with so many alike strings of one module on its first controller."""
    tag = job.roof.controllers[0].tag
    strings = tuple(String(tag=f"S{at + 1}", controller=tag) for at in range(count))
    modules = tuple(
        replace(one, string=f"S{at + 1}" if at < count else "")
        for at, one in enumerate(replace(one, string="") for one in job.roof.modules)
    )
    return replace(job, roof=replace(job.roof, strings=strings, modules=modules))


@pytest.mark.parametrize("count", range(1, 7))
@pytest.mark.parametrize("reverse_a", [15.0, 20.0, 25.0, 30.0])
def test_string_fuses_where_the_others_could_burn_a_module(clinic, count, reverse_a):
    """Fault: all other strings feed one.

    NEC 690.9(A), (B), recalled; ratings IEC 60269-6, recalled. Never asked for with one or two alike strings under the
    limit.
    """
    job = v(_with_strings(clinic, count), "roof.module.reverse_a", reverse_a)
    (guard,) = derive(job).protection
    isc = job.roof.module.isc_a
    fed_a = sum(1.25 * isc for _ in range(count - 1))
    assert guard.back_a.value == pytest.approx(fed_a)
    assert (guard.fuse_a is not None) == (fed_a > reverse_a)
    if guard.fuse_a is not None:
        rating = guard.fuse_a.value
        assert rating in STRING_FUSES_A and rating >= 1.56 * isc
        assert not [one for one in STRING_FUSES_A if 1.56 * isc <= one < rating], "no smaller one would do"
        assert bool(guard.fuse_a.limit) == (rating > reverse_a), (
            "a fuse above the module's own limit protects nothing, and it is said"
        )
