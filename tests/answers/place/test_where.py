"""Where should it go: what is quick is what a whole design says, and only what fits is proposed, best first."""

from __future__ import annotations

import itertools

import pytest
from msgspec.structs import replace

from tests.building import v
from weighty_axle.answers.place.where import _Search, cost, where
from weighty_axle.demos import demo
from weighty_axle.design.derive import derive
from weighty_axle.job.edits.edit import move
from weighty_axle.job.models.vehicle import Axle


def _quiet(_share, _words):
    return None


@pytest.mark.parametrize(
    ("name", "what"), list(itertools.product(("eye-clinic", "puppet-theatre"), ("bank", "inverters")))
)
def test_what_is_worked_out_quickly_is_what_a_whole_design_says(name, what):
    """Axles and sides of every tenth candidate, by moments here and by a whole design there."""
    design = derive(demo(name))
    search = _Search(design, what)
    spots = [spot for bay in design.job.vehicle.bays for spot in search.spots(bay, len(search.moved))]
    assert spots
    for spot in spots[:: max(1, len(spots) // 8)]:
        one = search.judged((spot,))
        made = derive(search.edit(one).on(design.whole))
        left = min(axle.margin_kg.value / axle.limit_kg for axle in made.place.axles)
        assert one.used[0] == pytest.approx(max(0.0, 1 - left / 0.1), abs=1e-6)
        side = abs(made.place.right_minus_left_kg.value) / (0.04 * made.place.gross_kg.value)
        assert one.used[1] == pytest.approx(side, abs=1e-6)
        tags = {item.tag for item in search.moved}
        assert not [pair for pair in made.place.clashes if tags & set(pair)]
        assert not tags & set(made.place.outside)


@pytest.mark.parametrize("what", ["bank", "inverters"])
def test_what_is_proposed_is_ranked_by_what_whole_designs_say(what):
    job = demo("library-bus")
    design = derive(job)
    best = where(design, what, _quiet)[0]
    tags = tuple(pack.tag for pack in job.bank.packs) if what == "bank" else tuple(u.tag for u in job.inverters.units)
    assert best.used == pytest.approx(_used(derive(best.edit.on(design.whole)), what, best), rel=1e-6)
    found = where(design, what, _quiet)
    assert [cost(one.used) for one in found] == sorted(cost(one.used) for one in found)
    assert len({one.words for one in found}) == len(found), "no arrangement twice"
    for one in found:
        placed = {item.tag: item for item in derive(one.edit.on(design.whole)).items}
        assert {tag for tag in placed if placed[tag].place != _item(design, tag).place} <= set(tags)


def _item(design, tag):
    return next(item for item in design.items if item.tag == tag)


def _used(made, what, best):
    tightest = min(axle.margin_kg.value / axle.limit_kg for axle in made.place.axles)
    drop = made.wiring.worst_drop_share if what == "inverters" else made.wiring.main.drop_share
    return (
        max(0.0, 1 - tightest / 0.1),
        abs(made.place.right_minus_left_kg.value) / (0.04 * made.place.gross_kg.value),
        drop.value / made.job.wiring.drop_allowed,
        *best.used[3:],
    )


def test_a_heavy_bank_goes_to_the_axle_that_has_room():
    """With an eighth of a tonne less on the rear axle's plate the bank is proposed farther to the front."""
    job = demo("library-bus")
    before = where(derive(job), "bank", _quiet)[0]
    rear: Axle = max(job.vehicle.axles, key=lambda one: one.x_m)
    load = next(one.load_kg.value for one in derive(job).place.axles if one.tag == rear.tag)
    tight = v(job, f"vehicle.axles[{rear.tag}].limit_kg", round(load) - 150.0)
    after = where(derive(tight), "bank", _quiet)[0]

    def middle(proposal, whole):
        packs = proposal.edit.on(whole).bank.packs
        return sum(pack.place.x_m for pack in packs) / len(packs)

    assert after.margin_kg.value > 0
    assert middle(after, tight) <= middle(before, job)


def test_an_engine_bay_and_a_door_too_small_are_no_places():
    job = demo("eye-clinic")
    assert not any("Engine" in one.words for one in where(derive(job), "bank", _quiet))
    bays = tuple(replace(bay, door_m=0.3, door_high_m=0.1) for bay in job.vehicle.bays)
    assert where(derive(replace(job, vehicle=replace(job.vehicle, bays=bays))), "bank", _quiet) == ()


def test_a_bank_that_fits_in_no_bay_whole_is_split_in_two():
    """Bays so short that three packs go into each: six go into two."""
    job = demo("eye-clinic")
    tags = tuple(pack.tag for pack in job.bank.packs)
    bays = tuple(
        replace(bay, end_m=bay.start_m + 0.5, top_m=bay.bottom_m + 0.2) if bay.tag != "ENG" else bay
        for bay in job.vehicle.bays
    )
    job = replace(job, vehicle=replace(job.vehicle, bays=bays))
    job = move(tuple(item.tag for item in derive(job).items if item.tag not in tags), dz_m=1.5).apply(job)
    found = where(derive(job), "bank", _quiet)
    assert found and all(" and " in one.words for one in found)
    packs = found[0].edit.on(job).bank.packs
    assert len({pack.place for pack in packs}) == 6


def test_another_system_is_judged_by_its_own_cable():
    """The vehicle's own batteries on their bar: the length told is that of their main run."""
    house = derive(demo("eye-clinic"))
    other = next(one for one in house.others if one.system.key == "DBV")
    found = where(other, "bank", _quiet)
    assert found
    made = derive(found[0].edit.on(other.whole))
    own = next(one for one in made.others if one.system.key == "DBV")
    assert found[0].lead_m.value == own.wiring.main.length_m.value
