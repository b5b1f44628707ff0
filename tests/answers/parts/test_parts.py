"""The parts list against a count by hand, and against the design by another route."""

from __future__ import annotations

from collections import Counter
from datetime import date

import pytest
from msgspec.structs import replace

from weighty_axle import demos
from weighty_axle.answers.cuts.conductors import cuts
from weighty_axle.answers.cuts.reels import nest
from weighty_axle.answers.parts.listing import parts_list
from weighty_axle.answers.parts.needed import needs
from weighty_axle.answers.year.cost import bill
from weighty_axle.design.derive import derive
from weighty_axle.job.edits.bank import set_pack_count
from weighty_axle.job.edits.build import set_part
from weighty_axle.job.edits.year import set_price
from weighty_axle.job.files.stock import Stock

DAY = date(2027, 3, 1)

# Counted by hand from the puppet theatre's job: four packs on a bar by a lead per pole (two lugs each), the main run,
# one inverter, one controller, four bonds; a feeder and five circuits of three cores; two strings of three
# modules, each with one gap wider than the modules' own leads; a cord.
BY_HAND = {
    "Heated block 24 V 200 Ah": 4,
    "Module 400 W, 108 half cells": 6,
    "lug 70 mm2 × M8": 4 * 2 * 2 + 4,
    "lug 50 mm2 × M8": 4,
    "lug 25 mm2 × M6": 4,
    "lug 35 mm2 × M8": 2,
    "lug 25 mm2 × M8": 2,
    "lug 6 mm2 × M8": 4,
    "ferrule 6 mm2": 3 * 2,
    "ferrule 1.5 mm2": 3 * 2,
    "ferrule 2.5 mm2": 4 * 3 * 2,
    "ferrule 10 AWG": 2 * 2,
    "PV plug and socket, a pair": (2 * 2 + 2 * 2) / 2,
    "roof gland M12": 4,
    "gland M12": 4,
    "gland M16": 2,
    "gland M20": 8,
    "gland M25": 2,
    "stud boot, red": 4 * 2 + 3 * 2,
    "stud boot, black": 4 * 2 + 3 * 2,
    "nut M8": 4 * 2 * 2 + 4 + 4 + 4 * 2,
    "spring washer M6": 4,
    "holder, knife blade, 250 V": 3,
    "AC breaker 16 A, 1 pole": 4,
    "plug of the cord of IN1": 1,
    "cable label": 36 * 2,
}


def test_the_hardware_of_the_puppet_theatre_is_what_a_hand_counts(puppet):
    listed = {one.part: one.wanted.value for one in parts_list(derive(puppet), DAY).lines}
    assert {part: listed.get(part) for part in BY_HAND} == BY_HAND


@pytest.mark.parametrize("name", demos.names())
def test_nothing_is_listed_twice_and_nothing_of_the_tree_is_forgotten(name):
    design = derive(demos.demo(name))
    listed = parts_list(design, DAY)
    assert len({one.part for one in listed.lines}) == len(listed.lines)
    lines = {one.part: one for one in listed.lines}
    # Each conductor once, in one line of its kind.
    tags = Counter(tag for one in listed.lines if one.kind == "conductor" for tag in one.of)
    assert set(tags.values()) == {1} and set(tags) == {cut.tag for cut in cuts(design)}
    # Lugs by the tree: both poles, both ends, as many as lie side by side; small ends of circuits are ferrules.
    ways = [way for way in design.tree.ways if way.kind != "bar"]
    small = {"circuit"}
    of_tree = sum(4 * way.count for way in ways if way.kind not in small)
    own = {cut.tag for cut in cuts(design) if cut.carries == "DC" and cut.turn != "alike"}
    own = {tag for tag in own if tag.split(" ")[0] in {way.tag.split(" ")[0] for way in ways if way.kind not in small}}
    lugs = sum(need.many for need in needs(design) if need.kind == "lug" and need.of in own)
    assert lugs == of_tree
    # One guard for each way that has one, whichever system it is of.
    guards = Counter(need.of for need in needs(design) if need.kind == "guard" and "holder" not in need.part)
    mains = [tag for tag in guards if tag.endswith("W-MAIN")]
    assert all(guards[tag] == 1 for tag in mains) and "W-MAIN" in mains
    # What is bought of every conductor is what comes off its reels.
    for kind in nest(design, Stock(), longest_s=6.0):
        assert lines[kind.words].to_buy.value == pytest.approx(kind.bought_m.value, abs=0.01), kind.words


def test_one_pack_more_asks_for_its_leads_lugs_and_labels(puppet):
    before, after = (
        {one.part: one.wanted.value for one in parts_list(derive(job), DAY).lines}
        for job in (puppet, set_pack_count(5).apply(puppet))
    )
    more = {part: after[part] - before.get(part, 0.0) for part in after if after[part] != before.get(part, 0.0)}
    assert more["Heated block 24 V 200 Ah"] == 1 and more["lug 70 mm2 × M8"] == 4 and more["nut M8"] == 4
    grown = parts_list(derive(set_pack_count(5).apply(puppet)), DAY)
    assert "BL5 +" in grown.line("70 mm2 conductor, red").of
    assert more["cable label"] == 2 * 3  # two leads and one piece of the data chain


def test_spares_packs_prices_and_what_is_bought_already(puppet):
    ferrule = parts_list(derive(puppet), DAY).line("ferrule 1.5 mm2")
    assert (ferrule.wanted.value, ferrule.to_buy.value, ferrule.pack_of) == (6, 100, 100)
    job = set_price("ferrule 1.5 mm2", 0.05).apply(puppet)
    job = set_part("ferrule 1.5 mm2", pack_of=20.0, spare_share=0.5).apply(job)
    job = set_part("lug 70 mm2 × M8", status="ordered", count=16.0, due="2027-02-20").apply(job)
    job = set_part("lug 150 mm2 × M12", status="here", count=2.0).apply(job)
    listed = parts_list(derive(job), DAY)
    assert listed.line("ferrule 1.5 mm2").to_buy.value == 20  # 6 and half of it, in whole packs
    assert listed.cost.value == pytest.approx(20 * 0.05) and "have no price" in listed.cost.limit
    lug = listed.line("lug 70 mm2 × M8")
    assert lug.late and "16 ordered, 20 wanted now: order 4 more" in lug.differs
    assert [one.part for one in listed.left_over] == ["lug 150 mm2 × M12"]
    assert bill(derive(job)).total.value == pytest.approx(6 * 0.05)  # a design is compared without spares


def test_what_was_on_board_is_not_bought(clinic):
    job = demos.demo("eye-clinic")
    old = next(bar for bar in job.bars if bar.bank is not None)
    wanted = {need.of for need in needs(derive(job))}
    assert not wanted & {old.tag, *(pack.tag for pack in old.bank.packs)}
    new = replace(old, bank=replace(old.bank, role="house"))
    bars = tuple(new if bar.tag == old.tag else bar for bar in job.bars)
    assert {need.of for need in needs(derive(replace(job, bars=bars)))} >= {old.tag, old.bank.packs[0].tag}
