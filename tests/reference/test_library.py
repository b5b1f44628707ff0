"""Generic parts, names of fields, and every way to combine them."""

from __future__ import annotations

import pkgutil
import typing
from importlib import import_module
from itertools import product

import msgspec
import pytest

from weighty_axle.design import table as table_module
from weighty_axle.design.derive import derive
from weighty_axle.job import models, stated
from weighty_axle.job.checks.whole import problems
from weighty_axle.job.edits.bank import set_pack
from weighty_axle.job.edits.edit import set_value
from weighty_axle.job.edits.inverters import STACKING_WORDS, set_stacking
from weighty_axle.job.models.inverters import LINES
from weighty_axle.reference import tables
from weighty_axle.reference.cells import CELL_POINTS
from weighty_axle.rules.judge import judge

SUFFIXES = (
    "_nm",
    "_w_per_m2",
    "_m",
    "_kg",
    "_v",
    "_a",
    "_w",
    "_va",
    "_wh",
    "_ah",
    "_ohm",
    "_c",
    "_s",
    "_rpm",
    "_l_per_h",
    "_min",
    "_h",
    "_mm",
    "_m2",
    "_w_per_mk",
    "_w_per_m2k",
    "_db",
    "_deg",
    "_mm2",
    "_ma",
    "_per_c",
    "_per_km",
    "_n",
    "_uf",
    "_j",
)
PLAIN = {  # shares, ratios, counts and times of the weight need no unit
    "hold_forward_g",
    "hold_sideways_g",
    "hold_up_g",
    "share",
    "slack_share",
    "value",
    "count",
    "spare_share",
    "pack_of",
    "load_share",
    "idle_share",
    "ratio",
    "start_below",
    "stop_above",
    "level",
    "duty",
    "power_factor",
    "charge_power_factor",
    "start_multiple",
    "usable_share",
    "hot_share",
    "peak_efficiency",
    "full_load_efficiency",
    "efficiency",
    "converter_efficiency",
    "drop_allowed",
    "days_wanted",
    "derate_per_c",
    "amps",
    "volts",
    "own_values",
    "factor",
    "winter",
    "spring",
    "summer",
    "autumn",
    "times",
    "seconds",
    "resistance_factor",
    "continuous_share",
    "months",
    "clearness",
    "soiling",
    "lift_coefficient",
    "wiring",
    "turbidity",
    "albedo",
    "scale",
    "controller",
    "mismatch",
    "safety",
    "shade",
    "amount",
    "reserve_share",
    "most_unmet_share",
}


def _floats(struct):
    for field in msgspec.structs.fields(struct):
        hint = typing.get_type_hints(struct, include_extras=False)[field.name]
        if hint is float or float in typing.get_args(hint):
            yield field.name


def _structs():
    modules = [import_module(f"{models.__name__}.{info.name}") for info in pkgutil.iter_modules(models.__path__)]
    found = {
        one
        for module in modules
        for one in vars(module).values()
        if isinstance(one, type) and issubclass(one, stated.Stated)
    }
    return [
        *sorted(found, key=lambda one: one.__name__),
        tables.Conductor,
        tables.FuseKind,
        tables.UsualSource,
        tables.VocCorrection,
        table_module.BankResult,
    ]


@pytest.mark.parametrize("struct", _structs(), ids=lambda one: one.__name__)
def test_every_stated_number_says_its_unit(struct):
    for name in _floats(struct):
        assert name.endswith(SUFFIXES) or name in PLAIN, f"{struct.__name__}.{name}"


@pytest.mark.parametrize("spec", tables.packs().rows, ids=lambda one: one.name)
def test_every_generic_pack_makes_a_bank(clinic, puppet, spec):
    """Wh per kg of LFP packs lies between 70 and 160, of lead-acid between 30 and 50; C-rates at or below 1 but for
    peaks: common practice, no source.
    """
    energy = spec.cells_in_series * spec.cell_nominal_v * spec.capacity_ah
    low, high = (70, 160) if spec.chemistry == "lfp" else (30, 50)
    assert low < energy / spec.mass_kg < high
    assert max(spec.charge_a, spec.discharge_a) <= spec.capacity_ah <= 2.1 * max(spec.charge_a, spec.discharge_a)
    for job in (clinic, puppet):
        changed = set_pack(spec, 1).apply(job)
        assert problems(changed) == []
        found = {one.rule.id for one in judge(derive(changed))}
        fits = (
            job.inverters.spec.dc_min_v <= spec.cells_in_series * CELL_POINTS[spec.chemistry].cut_out
            and spec.cells_in_series * spec.cell_max_v <= job.inverters.spec.dc_max_v
        )
        assert bool(found & {"bank.over-inverter-voltage", "bank.under-inverter-voltage"}) != fits


@pytest.mark.parametrize("spec", tables.inverters().rows, ids=lambda one: one.name)
def test_every_generic_inverter_has_a_sound_loss_curve(clinic, spec):
    job = set_value("inverters.spec", spec, "").apply(clinic)
    assert problems(job) == []
    curve = derive(job).brief.curve
    assert curve.r2_per_w > 0 and curve.loss_w(spec.continuous_va) < 0.15 * spec.continuous_va
    assert all(curve.loss_w(share * spec.continuous_va) > 0 for share in (0, 0.05, 0.1, 0.3, 1))


@pytest.mark.parametrize("spec", tables.modules().rows, ids=lambda one: one.name)
def test_every_generic_module_is_consistent(puppet, spec):
    """Vmp x Imp is the rated power within 1 %, fill factor 0.70 to 0.85, 190 to 230 W per m2: common practice, no
    source.
    """
    assert spec.vmp_v * spec.imp_a == pytest.approx(spec.pmp_w, rel=0.01)
    assert 0.70 < spec.pmp_w / (spec.voc_v * spec.isc_a) < 0.85
    assert 190 < spec.pmp_w / (spec.length_m * spec.width_m) < 230
    assert problems(set_value("roof.module", spec, "").apply(puppet)) == []


@pytest.mark.parametrize(
    ("stacking", "practice", "school"),
    list(product(STACKING_WORDS, ("north_american", "international"), ("gentle", "brim"))),
)
def test_every_stacking_practice_and_school_derives_and_reads(clinic, puppet, stacking, practice, school):
    for job in (clinic, puppet):
        for path, value in (("practice", practice), ("settings.full_charge", school)):
            job = set_value(path, value, "").apply(job)
        job = set_stacking(stacking).apply(job)
        assert problems(job) == []
        design = derive(job)
        for system in ("metric", "us"):
            assert all(one.sentence(system).endswith((".", "?")) for one in judge(design))
        assert (design.inverters.currents is not None) == (len(LINES[stacking]) > 1)
        assert {unit.leg for unit in job.inverters.units} <= (
            {"L1+L2"} if stacking == "one_two_legs" else set(LINES[stacking])
        )


@pytest.mark.parametrize("count", [1, 2, 8])
def test_fuses_and_conductors_meet_in_every_insulation_class(clinic, count):
    """Wherever a conductor is chosen, current <= fuse <= ampacity holds; wherever none is, the rule says so."""
    for table, insulation in product(tables.ampacity_tables(), (60, 70, 75, 90, 105)):
        job = clinic
        for path, value in (
            ("wiring.ampacity_table", table),
            ("wiring.insulation_c", insulation),
            ("wiring.main_lead_m", 1.5 * count),
        ):
            job = set_value(path, value, "").apply(job)
        design = derive(job)
        without = {run.tag for run in design.wiring.runs if run.chosen is None}
        said = {
            tag for one in judge(design) if one.rule.id in ("wiring.no-conductor", "wiring.hot-air") for tag in one.tags
        }
        assert without <= said
        for run in design.wiring.runs:
            if run.chosen is not None:
                assert run.current_a.value <= run.fuse_a.value
                assert run.chosen.next_up or run.fuse_a.value <= run.ampacity_a.value
