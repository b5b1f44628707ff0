"""Acceptance tests: predictions by another route, a planted joint found by its milliohm, bands, repeats."""

from __future__ import annotations

import pypdf
import pytest
from msgspec.structs import replace

from weighty_axle import demos
from weighty_axle.answers.brief.run_together import run_together
from weighty_axle.answers.proving.lesson import lesson
from weighty_axle.answers.proving.step_load import step_load
from weighty_axle.answers.proving.trials import GROUPS, repeats, trials
from weighty_axle.cli import main
from weighty_axle.design.brief.profiles import loss_curve
from weighty_axle.design.derive import derive
from weighty_axle.job.edits.edit import set_value
from weighty_axle.job.edits.proving import tried, untried
from weighty_axle.job.models.proving import Reading
from weighty_axle.units import show


@pytest.mark.parametrize("name", demos.names())
def test_tests_are_in_order_and_each_has_one_key(name):
    found = trials(derive(demos.demo(name)))
    assert len({one.key for one in found}) == len(found) > 15
    order = [GROUPS.index(one.group) for one in found]
    assert order == sorted(order) and all(one.verdict == "open" for one in found)


@pytest.mark.parametrize("watts", [500.0, 1500.0, 3000.0])
def test_a_step_load_closes_its_energy_and_follows_ohm_s_law(puppet, watts):
    """Bank's power = load + inverter's loss + what copper and contacts lose; the bank sags by its own resistance."""
    design = derive(puppet)
    step = step_load(design, watts)
    rest = design.bank.nominal_v.value
    assert step.bank_v == pytest.approx(rest - step.main_a * design.bank.resistance_ohm.value, rel=1e-6)
    lost = sum(at.amps * (at.start_v - at.end_v) for at in step.ways.values())
    unit = step.ways["W-INV1"]
    asked = watts + loss_curve(puppet.inverters).loss_w(watts)
    assert unit.amps * unit.end_v == pytest.approx(asked, rel=1e-5)
    assert step.bank_v * step.main_a == pytest.approx(asked + lost, rel=1e-5)
    # Common practice, no source: about 1 kW on AC shows about 20 A at 48 V, so about 40 at 24.
    assert step.main_a == pytest.approx(watts / 24, rel=0.16)


def test_a_bank_read_fuller_draws_less_current(puppet):
    full = set_value("proving.rest_v", 27.0, "").apply(puppet)
    assert step_load(derive(full), 3000.0).main_a < step_load(derive(puppet), 3000.0).main_a


@pytest.mark.parametrize("extra_ohm", [0.001, 0.004])
def test_a_planted_joint_is_told_by_its_milliohm_and_its_heat(puppet, extra_ohm):
    """What the meter would read with so much more in the run: predicted drop + current × resistance."""
    design = derive(puppet)
    one = next(each for each in trials(design) if each.key == "W-MAIN drop")
    amps = step_load(design, 3000.0).main_a
    read = round(one.wanted.value + amps * extra_ohm * 1000)
    job = tried(Reading(check=one.key, value=read), "").apply(puppet)
    told = next(each for each in trials(derive(job)) if each.key == one.key)
    assert told.verdict == "bad"
    assert float(told.says.split(":")[1].split("mΩ")[0]) == pytest.approx(extra_ohm * 1000, rel=0.06)
    assert float(told.says.split(",")[1].split("W")[0]) == pytest.approx(amps**2 * extra_ohm, rel=0.06)


@pytest.mark.parametrize(
    ("key", "good", "bad"),
    [
        ("3000 W amps", 135.0, 90.0),
        ("3000 W bank", 25.4, 23.0),
        ("W-MAIN drop", 150.0, 400.0),
        ("BP1 share", 33.0, 20.0),
        ("MAIN RCD", 22.0, 350.0),
        ("hot", 12.0, 45.0),
        ("DC1 volts", 13.6, 12.1),
        ("AC volts", 229.0, 190.0),
    ],
)
def test_readings_within_the_band_are_good_and_others_are_told(puppet, key, good, bad):
    for value, verdict in ((good, "good"), (bad, "bad")):
        job = tried(Reading(check=key, value=value), "").apply(demos.demo("puppet-theatre"))
        one = next(each for each in trials(derive(job)) if each.key == key)
        assert one.verdict == verdict and bool(one.says) == (verdict == "bad")


def test_arrays_wait_for_the_sun_and_are_then_judged(puppet):
    one = next(each for each in trials(derive(puppet)) if each.key == "S1 amps")
    assert one.verdict == "open" and "cannot be judged" in one.says
    job = set_value("proving.sun_w_per_m2", 640.0, "").apply(puppet)
    one = next(each for each in trials(derive(job)) if each.key == "S1 amps")
    assert one.wanted.value == pytest.approx(puppet.roof.module.imp_a * 0.64)
    low = tried(Reading(check="S1 amps", value=one.wanted.value / 2), "").apply(job)
    assert next(each for each in trials(derive(low)) if each.key == "S1 amps").verdict == "bad"


def test_repeats_are_kept_and_the_last_counts(puppet):
    job = puppet
    for value in (400.0, 180.0):
        job = tried(Reading(check="W-MAIN drop", value=value), "").apply(job)
    design = derive(job)
    assert [one.value for one in repeats(design, "W-MAIN drop")] == [400.0, 180.0]
    assert next(one for one in trials(design) if one.key == "W-MAIN drop").verdict == "good"
    again = derive(untried("W-MAIN drop", "").apply(job))
    assert next(one for one in trials(again) if one.key == "W-MAIN drop").verdict == "bad"


# ---- lesson ----


@pytest.mark.parametrize("name", demos.names())
def test_the_lesson_speaks_of_the_owner_s_own_loads_and_numbers(name):
    design = derive(demos.demo(name))
    said = {one.title: " ".join(one.lines) for one in lesson(design)}
    assert any(load.name in said["What may run together"] for load in design.job.loads)
    for source in design.job.inverters.sources:
        assert source.name in said["A place to plug in that you do not know"]
    most = max(one.cold_voc_v.value for one in design.roof.strings if one.modules)
    assert f"{most:.0f}" in said["On the roof"]
    assert show(step_load(design, 1000.0).main_a, "A") in said["A good day and a bad one"]


def test_what_the_lesson_lets_run_together_gives_nothing_to_give_way(clinic):
    design = derive(clinic)
    lines = lesson(design)[0].lines
    together = next(line for line in lines if line.startswith("Together they may"))
    tags = tuple(load.tag for load in design.job.loads if load.name in together)
    assert len(tags) > 1 and run_together(design, tags).first is None
    waits = next(line for line in lines if line.startswith("Then wait"))
    left = tuple(load.tag for load in design.job.loads if load.name in waits)
    assert all(run_together(design, (*tags, tag)).first is not None for tag in left)


def test_the_owner_s_page_is_printed(tmp_path, puppet):
    path = tmp_path / "owner.pdf"
    assert main(["card", "demo:puppet-theatre", "-o", str(path), "--lesson"]) == 0
    text = " ".join(page.extract_text() for page in pypdf.PdfReader(path).pages)
    assert "What may run together" in text and "Whom to call" in text
    bare = replace(puppet, loads=(), inverters=replace(puppet.inverters, units=(), sources=()))
    assert lesson(derive(bare))
