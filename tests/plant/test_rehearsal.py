"""Rehearsal: the card by heart gives a hundred, every slip its reason; hidden faults are found by meter."""

from __future__ import annotations

import functools

import pytest

from weighty_axle import demos
from weighty_axle.design.derive import derive
from weighty_axle.job.checks.whole import problems
from weighty_axle.job.edits.proving import rehearsed
from weighty_axle.job.files.store import load, save
from weighty_axle.job.models.proving import Rehearsed
from weighty_axle.plant.faults import Fault
from weighty_axle.plant.rehearsal import LESSONS, Rehearsal, clamps_of, points_of, wanted_order

BY_KEY = {one.key: one for one in LESSONS}


@functools.cache
def design_of(name):
    return derive(demos.demo(name))


def by_the_card(going):
    for key, position in going.order:
        going.turn(key, position)
        going.plant.run(20 if key == "pre-charge" else 1)
    going.finished = True
    return going


@pytest.mark.parametrize("name", ["eye-clinic"])
@pytest.mark.parametrize("key", ["start", "sun start", "stop"])
def test_the_card_by_heart_gives_a_hundred(name, key):
    going = by_the_card(Rehearsal(design_of(name), BY_KEY[key]))
    assert (going.points, going.lost) == (100, ())
    live = going.plant.at["main"] == "on"
    assert live == (key != "stop") and bool(going.plant.live()) == live


@pytest.mark.parametrize("name", ["puppet-theatre", "library-bus"])
def test_a_vehicle_without_pre_charge_punishes_the_best_of_cards(name):
    """What the card itself warns of: there is no pre-charge, and closing hurts the contacts."""
    going = by_the_card(Rehearsal(design_of(name), BY_KEY["start"]))
    assert going.points < 100 and any("closed onto" in one.why for one in going.lost)


def test_every_slip_has_its_reason_and_its_price():
    going = Rehearsal(design_of("eye-clinic"), BY_KEY["sun start"])
    going.turn("BP1", "on")
    going.turn("S1", "on")
    going.turn("main", "on")
    why = [one.why for one in going.lost]
    assert any("nowhere to put it" in one and "before the battery" in one for one in why)
    assert any("S1 on came before BP2 on" in one for one in why)
    assert any("not filled through the pre-charge" in one for one in why)
    before = going.points
    going.finished = True
    assert going.points < before and any("INV1 was not turned on" in one.why for one in going.lost)


def test_work_on_bars_that_are_still_live_costs_most():
    going = Rehearsal(design_of("eye-clinic"), BY_KEY["stop"])
    for key, position in going.order:
        if key != "main" and not key.startswith("BP"):
            going.turn(key, position)
    assert going.points == 100
    going.finished = True
    assert any("hands would go in there" in one.why for one in going.lost) and going.points < 80


def test_a_bank_is_not_put_to_sleep_full():
    for minutes, good in ((0, False), (25, True)):
        going = Rehearsal(design_of("eye-clinic"), BY_KEY["storage"])
        going.plant.run(60 * minutes)
        by_the_card(going)
        assert (going.points == 100) == good, going.lost
        assert good or any("full it ages fast" in one.why for one in going.lost)


def test_switches_of_one_kind_may_go_in_any_order():
    going = Rehearsal(design_of("eye-clinic"), BY_KEY["start"])
    steps = list(going.order)
    packs = [step for step in steps if step[0].startswith("BP")]
    for key, position in [*reversed(packs), *steps[len(packs) :]]:
        going.turn(key, position)
        going.plant.run(20 if key == "pre-charge" else 1)
    assert going.points == 100


@pytest.mark.parametrize("seed", range(4))
@pytest.mark.parametrize("key", ["joint", "sun", "packs"])
def test_a_hidden_fault_is_found_by_meter_and_a_guess_costs(key, seed):
    design = design_of("eye-clinic")
    going = Rehearsal(design, BY_KEY[key], seed)
    sound = Rehearsal(design, BY_KEY[key]._replace(hidden=()), seed)
    volts, fine = points_of(going.plant), points_of(sound.plant)
    amps, usual = clamps_of(going.plant), clamps_of(sound.plant)
    place = going.hidden.place
    if key == "joint":
        # The drop from the bank to the bars, or from the bars to the unit, is what a sound plant does not have.
        ends = ("bank +", "bars +") if place == "W-MAIN" else ("bars +", f"{place.removeprefix('W-')} +")
        more = (volts[ends[0]] - volts[ends[1]]) - (fine[ends[0]] - fine[ends[1]])
        assert more == pytest.approx(amps[place] * going.plant.joint_ohm(place), rel=0.1) and more > 0.05
    elif key == "sun":
        controller = next(one.controller for one in design.roof.strings if one.tag == place)
        assert abs(amps[f"W-{controller}"]) < 0.85 * abs(usual[f"W-{controller}"])
        assert (volts[f"{place} open"] == 0) == (going.hidden.kind == "dead string")
    else:
        assert amps[place] < 0.6 * usual[place]
    other = Fault(going.hidden.kind, "nowhere")
    assert not going.guess(other) and going.points == 90
    assert going.guess(going.hidden) and going.points == 90
    assert Rehearsal(design, BY_KEY[key], seed).hidden == going.hidden, "the same seed hides the same fault"


def test_to_another_place_under_load_hurts_and_without_it_does_not():
    for calm in (False, True):
        going = Rehearsal(design_of("eye-clinic"), BY_KEY["shore"])
        assert going.plant.at["plug"] != "nothing" and going.plant.flow.shore_w > 0
        if calm:
            going.plant.heater_w = 0.0
            for key in ("INV1", "INV2", "MAIN"):
                going.turn(key, "off")
            going.plant.run(2)
        going.turn("plug", "nothing")
        assert (going.points == 100) == calm, going.lost


def test_results_are_kept_in_the_job_and_orders_follow_the_cards(tmp_path):
    job = demos.demo("puppet-theatre")
    kept = rehearsed(Rehearsed(lesson="start", by="AP", on="2027-03-01", points=85, lost=("why",)), "Starting").apply(
        job
    )
    assert problems(kept) == []
    save(kept, tmp_path / "j.axle")
    assert load(tmp_path / "j.axle").proving.rehearsed == kept.proving.rehearsed
    for name in demos.names():
        up, down = (wanted_order(design_of(name), card) for card in ("start", "stop"))
        assert up[0][1] == "on" and up.index(("main", "on")) > up.index((up[0][0], "on"))
        assert down.index(("main", "off")) < len(down) - 1
        assert wanted_order(design_of(name), "nothing") == ()
