from __future__ import annotations

import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from tests.building import v
from weighty_axle.design.derive import derive
from weighty_axle.job.models.roof import String
from weighty_axle.rules.judge import judge


@pytest.mark.parametrize(
    ("start_margin", "start_v", "told"),
    [(5.0, None, None), (9.0, None, "roof.start-never"), (5.0, 30.0, "roof.start-never"), (20.0, 18.0, None)],
)
def test_starting_and_going_on_are_two_things(puppet, start_margin, start_v, told):
    """The commonest array of a 12 V class bank, one module of 36 cells: common practice, no source.

    By hand: it opens at 21.4 V at 31 °C and starts a full bank of 14.0 V with 5 V over it; on hot cells its peak is at
    14.9 V and it is open at 18.9 V: it goes on, beside its peak, and nothing is a Stop.
    """
    module = replace(
        puppet.roof.module,
        voc_v=21.8,
        vmp_v=17.8,
        isc_a=9.6,
        imp_a=9.0,
        pmp_w=160.0,
        voc_per_c=-0.0030,
        pmp_per_c=-0.0040,
    )
    bank = replace(puppet.bank, spec=replace(puppet.bank.spec, cells_in_series=4))
    spec = replace(puppet.roof.controllers[0].spec, start_margin_v=start_margin, start_v=start_v)
    roof = replace(
        puppet.roof,
        module=module,
        more_modules=(),
        modules=(replace(puppet.roof.modules[0], string="S1", kind=""),),
        strings=(puppet.roof.strings[0],),
        controllers=(replace(puppet.roof.controllers[0], spec=spec),),
        remote=(),
    )
    design = derive(replace(puppet, bank=bank, roof=roof))
    (string,) = design.roof.strings
    assert (string.dawn_voc_v.value, string.hot_voc_v.value, string.hot_vmp_v.value) == pytest.approx(
        (21.41, 19.25, 15.03), abs=0.01
    )
    stops = [one.rule.id for one in judge(design) if one.rule.severity == "stop" and one.rule.id.startswith("roof.")]
    assert stops == ([told] if told else [])


@pytest.mark.parametrize("record_low_c", [-45.0, -30.0, -10.0, 5.0])
@pytest.mark.parametrize("max_pv_v", [100.0, 150.0, 250.0, 450.0])
def test_counts_in_series_by_trying_every_one(clinic, record_low_c, max_pv_v):
    """A count is inside exactly when neither the cold nor the hot rule speaks of the string made that long."""
    job = v(v(clinic, "site.record_low_c", record_low_c), "roof.controllers[CC1].spec.max_pv_v", max_pv_v)
    window = derive(job).roof.controllers[0]
    strings = tuple(String(tag=f"S{at}", controller="CC1") for at in (1,))
    for count in range(1, len(job.roof.modules) + 1):
        modules = tuple(replace(one, string="S1" if at < count else "") for at, one in enumerate(job.roof.modules))
        design = derive(replace(job, roof=replace(job.roof, strings=strings, modules=modules)))
        (string,) = design.roof.strings
        stands = string.cold_voc_v.value <= min(max_pv_v, job.roof.module.system_limit_v)
        starts = string.hot_vmp_v.value >= window.run_v.value and string.dawn_voc_v.value >= window.start_v.value
        assert stands == (count <= window.most_in_series) and starts == (count >= window.fewest_in_series), count
        fired = {one.rule.id for one in judge(design)}
        assert ("roof.cold-over-controller" in fired) == (string.cold_voc_v.value > max_pv_v)


@settings(max_examples=20)
@given(low=st.floats(-55, 20), colder=st.floats(0.1, 20))
@example(low=-40.0, colder=2.0)  # where the code's table ends
def test_colder_never_means_less_voltage(clinic, low, colder):
    warm, cold = (derive(v(clinic, "site.record_low_c", at)).roof.strings[0] for at in (low, max(-60.0, low - colder)))
    assert cold.cold_voc_v.value >= warm.cold_voc_v.value - 1e-9
    assert warm.cold_voc_v.value >= max(warm.cold_voc_linear_v.value, warm.cold_voc_code_v.value) - 1e-9
