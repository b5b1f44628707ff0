"""Checks before power and cards: from the design's own parts, readings judged, slips of the hand asked about."""

from __future__ import annotations

import math

import pypdf
import pytest
from msgspec.structs import replace

from weighty_axle import demos
from weighty_axle.answers.first_power.cards import cards
from weighty_axle.answers.first_power.check import judged
from weighty_axle.answers.first_power.checks import GROUPS, checks, missing
from weighty_axle.answers.plan.torques import joints_due
from weighty_axle.cli import main
from weighty_axle.design.derive import derive
from weighty_axle.job.edits.build import tightened
from weighty_axle.job.edits.edit import set_value
from weighty_axle.job.edits.proving import read
from weighty_axle.job.models.build import Torque
from weighty_axle.job.models.proving import Reading


@pytest.mark.parametrize("name", demos.names())
def test_every_pack_circuit_run_and_string_is_checked_once(name):
    design = derive(demos.demo(name))
    found = checks(design)
    assert len({one.key for one in found}) == len(found)
    order = [GROUPS.index(one.group) for one in found]
    assert order == sorted(order)
    named = {tag for one in found for tag in one.tags}
    for own in (design, *design.others):
        assert {one.tag for one in own.circuits if own.job.inverters.units} <= named
        assert {one.tag for one in own.roof.strings if one.modules} <= named
        assert {pack.tag for pack in own.job.bank.packs} <= named
    assert all(one.verdict == "open" for one in found)


@pytest.mark.parametrize(
    ("value", "verdict", "words"),
    [
        (25.9, "good", ""),
        (-25.9, "bad", "swapped"),
        (2.59, "asked", "one place too far to the left"),
        (259.0, "asked", "one place too far to the right"),
        (25900.0, "asked", "in thousandths"),
        (0.0259, "asked", "in thousands"),
        (18.0, "bad", "switched off by its own electronics"),
        (None, "open", ""),
    ],
)
def test_a_reading_is_judged_and_a_slip_is_asked_about(puppet, value, verdict, words):
    job = read(Reading(check="BP1 voltage", value=value), "BP1").apply(puppet) if value is not None else puppet
    one = next(each for each in checks(derive(job)) if each.key == "BP1 voltage")
    assert one.verdict == verdict and words in one.says


@pytest.mark.parametrize(("value", "verdict"), [(0.5, "bad"), (1.0, "good"), (500.0, "good"), (0.0, "bad")])
def test_isolation_has_a_least_and_no_most(value, verdict):
    """IEC 60364-6 table 6A, recalled: 1 MΩ at 500 V direct."""
    assert judged(value, 1.0, math.inf, "MΩ", "a nicked cable")[0] == verdict


@pytest.mark.parametrize(("air_c", "sun"), [(25.0, 0.0), (-10.0, 0.0), (30.0, 900.0)])
def test_an_array_s_open_voltage_follows_air_and_sun(puppet, air_c, sun):
    """Voc falls by its coefficient with the cells' warmth; at 25 °C cells it is the datasheet's times the modules."""
    job = set_value("proving.sun_w_per_m2", sun, "").apply(set_value("proving.air_c", air_c, "").apply(puppet))
    one = next(each for each in checks(derive(job)) if each.key == "S1 open")
    spec, count = puppet.roof.module, sum(module.string == "S1" for module in puppet.roof.modules)
    cells = air_c + 27.0 * (sun / 900.0)
    assert one.wanted.value == pytest.approx(count * spec.voc_v * (1 + spec.voc_per_c * (cells - 25)))
    assert one.low < one.wanted.value < one.high


def test_joints_stand_in_the_way_until_each_is_written_down(puppet):
    job = puppet
    for due in joints_due(derive(puppet)):
        job = tightened(Torque(end=due.key, torque_nm=due.wanted_nm)).apply(job)
    assert next(one for one in checks(derive(job)) if one.key == "joints").done
    last = joints_due(derive(puppet))[-1]
    off = tightened(Torque(end=last.key, torque_nm=2 * last.wanted_nm)).apply(job)
    assert "off their value" in next(one for one in checks(derive(off)) if one.key == "joints").says


def test_all_done_leaves_nothing_missing(puppet):
    job = puppet
    for due in joints_due(derive(puppet)):
        job = tightened(Torque(end=due.key, torque_nm=due.wanted_nm)).apply(job)
    for one in checks(derive(puppet)):
        value = None if one.low is None else one.wanted.value if one.wanted is not None else one.low * 5
        job = read(Reading(check=one.key, value=value), "").apply(job)
    assert missing(derive(job)) == ()


# ---- cards ----


@pytest.mark.parametrize("name", demos.names())
def test_the_order_of_the_cards_is_the_trade_s(name):
    """Packs, main switch, inverters, controllers before their modules, converters, breakers; down the other way round.
    Common practice, no source.
    """
    design = derive(demos.demo(name))
    by_key = {one.key: [step.tag for step in one.steps] for one in cards(design)}
    up, down = by_key["start"], by_key["stop"]
    board = design.job.wiring.board.tag
    packs = [pack.tag for pack in design.job.bank.packs]
    # Groups that share the bank are switched with it.
    sides = [design, *(one for one in design.others if one.system.shares_bank)]
    units = [unit.tag for one in sides for unit in one.job.inverters.units]
    circuits = [one.tag for side in sides for one in side.circuits]
    strings = [one.tag for one in design.roof.strings if one.modules]
    controllers = [one.tag for one in design.job.roof.controllers if not one.unit]
    first, last = up.index, lambda tag: len(up) - 1 - up[::-1].index(tag)
    assert all(first(pack) < first(board) for pack in packs)
    assert all(last(board) < first(unit) for unit in units)
    assert all(first(unit) < first(one) for unit in units for one in controllers)
    assert all(first(one) < first(string) for one in controllers for string in strings)
    assert circuits and all(first(string) < first(one) for string in strings for one in circuits)
    panels = [one.tag for side in sides for one in side.ac.panels]
    assert set(panels) <= set(up) and set(panels) <= set(down)
    assert all(down.index(string) < down.index(one) for one in controllers for string in strings)
    assert all(down.index(one) < down.index(board) for one in (*controllers, *units))
    assert all(down.index(board) < down.index(pack) for pack in packs)
    assert {"storage", "waking", "emergency"} <= set(by_key)


def test_the_pre_charge_step_says_how_long_and_without_one_how_large_the_spark_is(clinic):
    job = set_value("wiring.board.precharge", True, "").apply(clinic)
    design = derive(job)
    step = next(one for one in cards(design)[0].steps if "pre-charge" in one.do)
    assert f"{design.precharge.held_s.value:.3g}"[:3] in step.do
    bare = set_value("wiring.board.precharge", False, "").apply(clinic)
    step = next(one for one in cards(derive(bare))[0].steps if "there is no pre-charge" in one.do)
    assert f"{derive(bare).precharge.peak_without_a.value:.0f}"[:1] in step.do


def test_cards_are_printed_one_side_each(tmp_path, capsys):
    path = tmp_path / "cards.pdf"
    assert main(["cards", "demo:puppet-theatre", "-o", str(path)]) == 0
    texts = [page.extract_text() for page in pypdf.PdfReader(path).pages]
    assert len(texts) >= len(cards(derive(demos.demo("puppet-theatre"))))
    assert "Starting up" in texts[0] and any("Emergency" in text for text in texts)


def test_a_job_without_inverters_or_modules_has_its_cards(puppet):
    bare = replace(
        puppet,
        inverters=replace(puppet.inverters, units=(), sources=()),
        roof=replace(puppet.roof, modules=(), strings=(), controllers=()),
        loads=(),
    )
    assert all(one.steps for one in cards(derive(bare))) and checks(derive(bare))
