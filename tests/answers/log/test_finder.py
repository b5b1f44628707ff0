"""The fault finder: every cause planted in the simulated plant is found from what a customer says, by its own
measurements; Bayes' rule against a plain count; limits that keep a joint cool.
"""

from __future__ import annotations

import itertools
import math

import pytest

from weighty_axle import demos
from weighty_axle.answers.log.finder.cause import SYMPTOMS
from weighty_axle.answers.log.finder.causes import CAUSES
from weighty_axle.answers.log.finder.finder import OTHER_SHARE, RELIABLE, Answer, Finder, places
from weighty_axle.answers.log.finder.interim import ALLOWED_JOINT_W, repair
from weighty_axle.answers.log.finder.measure import GOOD
from weighty_axle.answers.proving.trials import trials
from weighty_axle.design.derive import derive
from weighty_axle.design.wiring.runs import MAIN_RUN
from weighty_axle.plant.faults import EVERY, Fault
from weighty_axle.plant.measuring import acceptance
from weighty_axle.plant.probing import Probe

MOST_MEASUREMENTS = 20


@pytest.fixture(scope="module")
def finders():
    return {name: Finder(derive(demos.demo(name))) for name in demos.names()}


def led(finder, symptom, *faults):
    """The search as somebody makes it who always does what stands first."""
    probe, answers = Probe(finder.design, *faults), ()
    hunt = finder.hunt(symptom)
    while hunt.found is None and hunt.next and len(answers) < MOST_MEASUREMENTS:
        measure = hunt.next[0].measure
        value = probe.reading(measure) if measure.unit else None
        answers += (Answer(measure=measure.key, outcome=probe.outcome(measure), reading=value),)
        hunt = finder.hunt(symptom, answers)
    return hunt


def test_forty_causes_and_more_behind_fifteen_symptoms_and_more_all_of_them_plantable():
    assert len(CAUSES) >= 40 and len(SYMPTOMS) >= 15 and set(CAUSES) == set(EVERY)
    assert {symptom for one in CAUSES.values() for symptom in one.behind} == set(SYMPTOMS)


@pytest.mark.parametrize("kind", CAUSES)
def test_each_cause_is_found_from_each_symptom_it_has(finders, kind):
    """In the demo with most places for it, at its first and last place."""
    name = max(demos.names(), key=lambda one: len(finders[one].places[kind]))
    finder = finders[name]
    where = finder.places[kind]
    assert where and set(where) == set(EVERY[kind].places(finder.design))
    for symptom, place in itertools.product(CAUSES[kind].behind, dict.fromkeys((where[0], where[-1]))):
        hunt = led(finder, symptom, Fault(kind, place))
        first = hunt.suspects[0]
        assert (first.key, first.place) == (kind, place), (
            symptom,
            [(one.measure, one.outcome) for one in hunt.answers],
        )
        assert hunt.found is not None and hunt.answers
        made = repair(finder.design, hunt, first, finder.measures)
        assert made.interim and made.mend and made.parts and made.proof
        assert "{" not in made.interim + made.mend + "".join(made.proof)


BESIDE = [(name, own.system.key) for name in demos.names() for own in derive(demos.demo(name)).others]


@pytest.mark.parametrize(("name", "key"), BESIDE)
def test_each_cause_in_each_system_beside_the_house_is_found_by_its_own_numbers(name, key):
    """Starting and kept banks are measured with a load on their bars; a group that shares a bank leaves what belongs to
    the bank to the bank's own system.
    """
    own = next(one for one in derive(demos.demo(name)).others if one.system.key == key)
    finder = Finder(own)
    board, fuse_a = own.job.wiring.board.tag, next(way.fuse_a for way in own.tree.ways if way.tag == MAIN_RUN)
    assert finder.symptoms and all(finder.hunt(one).suspects for one in finder.symptoms)
    assert set(finder.symptoms) < set(SYMPTOMS)
    for kind, where in finder.places.items():
        if kind != "unequal pack" or len(own.job.bank.packs) > 1:  # one that is alone has none to compare it with
            assert set(where) == set(EVERY[kind].places(own)), kind
        for symptom, place in itertools.product(CAUSES[kind].behind, dict.fromkeys((*where[:1], *where[-1:]))):
            hunt = led(finder, symptom, Fault(kind, place))
            assert (hunt.suspects[0].key, hunt.suspects[0].place) == (kind, place), symptom
            made = repair(own, hunt, hunt.suspects[0], finder.measures)
            if not own.job.inverters.units:
                assert "AC" not in made.interim
    if own.system.shares_bank:
        assert not finder.places["pack lug"] and not finder.places["dirty array"] and finder.places["fan blocked"]
    else:
        drop = finder.measures[f"drop {MAIN_RUN}"]
        assert f"on the bars of {board}" in drop.do and drop.amps <= fuse_a
        root = next(one for one in own.tree.roots if not one.converters)
        main = next(way for way in root.ways if way.tag == MAIN_RUN)
        assert drop.expected == pytest.approx(1000 * sum(part.ohm for part in main.parts) * drop.amps)


def test_energy_closes_with_a_load_on_the_bars(finders):
    plant = Probe(finders["library-bus"].design).loaded
    plant.bars_a = 40.0
    before = plant.energy.taken
    plant.run(60.0)
    assert plant.energy.taken - before > 60 * 40 * 0.9 * plant.flow.bar_v and plant.energy.error_share < 1e-6


def test_a_plant_without_a_fault_leads_to_no_proof(finders):
    for name, symptom in itertools.product(("puppet-theatre", "eye-clinic"), ("hot", "half sun", "packs apart")):
        assert led(finders[name], symptom).found is None


def test_probabilities_are_those_of_bayes_counted_plainly(finders):
    """Another route: joint weights of all suspects written out and divided by their sum."""
    finder = finders["puppet-theatre"]
    answers = (
        Answer(measure=f"drop {MAIN_RUN}", outcome="high"),
        Answer(measure=f"plus {MAIN_RUN}", outcome="high"),
        Answer(measure=f"fuse {MAIN_RUN}", outcome=GOOD),
    )
    weights = {}
    for key, cause in CAUSES.items():
        where = finder.places[key]
        for place in where if cause.behind.get("hot") else ():
            weight = cause.behind["hot"] / len(where)
            shown = {one.format(p=place, c="", s=""): out for one, out in cause.shows.items()}
            for answer in answers:
                fits = shown.get(answer.measure, GOOD).split("|")
                count = len(finder.measures[answer.measure].outcomes)
                weight *= RELIABLE / len(fits) if answer.outcome in fits else (1 - RELIABLE) / (count - len(fits))
            weights[key, place] = weight
    weights["other", ""] = OTHER_SHARE * sum(
        cause.behind["hot"] for key, cause in CAUSES.items() if cause.behind.get("hot") and finder.places[key]
    )
    for answer in answers:
        count = len(finder.measures[answer.measure].outcomes)
        weights["other", ""] *= RELIABLE if answer.outcome == GOOD else (1 - RELIABLE) / (count - 1)
    hunt = finder.hunt("hot", answers)
    for one in hunt.suspects:
        assert one.probability == pytest.approx(weights[one.key, one.place] / sum(weights.values()), rel=1e-12)
    assert sum(one.probability for one in hunt.suspects) == pytest.approx(1.0)
    turned = {(one.key, one.place): one.probability for one in finder.hunt("hot", answers[::-1]).suspects}
    assert turned == pytest.approx({(one.key, one.place): one.probability for one in hunt.suspects})


def test_the_next_measurement_tells_most_a_minute_and_pointing_at_a_place_helps(finders):
    finder = finders["eye-clinic"]
    hunt = finder.hunt("hot")
    rates = [one.bit_per_min for one in hunt.next]
    assert rates == sorted(rates, reverse=True) and all(
        0 <= one.tells_bit <= math.log2(len(one.measure.outcomes)) for one in hunt.next
    )
    near = finder.hunt("hot", near="INV2")
    assert near.suspects[0].place == "W-INV2"
    assert "W-INV2" in near.next[0].measure.about


def test_a_hot_fuse_joint_is_led_from_call_to_proof(finders):
    """The whole way: a hot holder, the meter where it is told, the limit that keeps it cool, and the test that
    proves it.
    """
    finder = finders["eye-clinic"]
    fault = Fault("fuse joint", MAIN_RUN)
    hunt = led(finder, "hot", fault)
    assert (hunt.found.key, hunt.found.place) == ("fuse joint", MAIN_RUN) and len(hunt.answers) <= 5
    measure = finder.measures[f"fuse {MAIN_RUN}"]
    assert "lug to lug" in measure.do and f"more than {measure.high:.0f} mV" in measure.do
    made = repair(finder.design, hunt, hunt.found, finder.measures)
    limit = made.figures[0]
    # Heat by Joule: at the limit the joint makes what it may, at what the plant really has.
    ohm = Probe(finder.design, fault).loaded.joint_ohm(MAIN_RUN)
    assert limit.value**2 * ohm == pytest.approx(ALLOWED_JOINT_W, rel=0.1)
    assert f"{limit.value:.1f}\u00a0A" in made.interim
    # The proof is an acceptance test that fails with the fault and holds once it is mended.
    keys = {one.rpartition(", ")[2].rstrip(")") for one in made.proof}
    assert keys == {f"{MAIN_RUN} drop", "hot"}
    for faults, good in (((fault,), False), ((), True)):
        job, readings = acceptance(finder.design, faults)
        known = {one.key: one for one in trials(derive(job))}
        drop = known[f"{MAIN_RUN} drop"]
        assert (float(readings[f"{MAIN_RUN} drop"]) <= drop.high) == good


def test_a_job_without_inverters_sun_or_packs_by_side_has_a_finder_all_the_same(finders):
    from weighty_axle.reference.first_job import first_job
    from weighty_axle.reference.vehicle_types import vehicle_types

    for kind in vehicle_types().rows:
        finder = Finder(derive(first_job(kind)))
        for symptom in SYMPTOMS:
            hunt = finder.hunt(symptom)
            assert not hunt.suspects or sum(one.probability for one in hunt.suspects) == pytest.approx(1.0)
    known = places(finder.design)
    assert set(known) == set(CAUSES)
