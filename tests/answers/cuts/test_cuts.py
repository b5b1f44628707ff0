"""Cut lengths, reels and the shop's stock: every conductor once, nothing longer than its piece, nothing lost."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from weighty_axle import demos
from weighty_axle.answers.cuts.conductors import cuts
from weighty_axle.answers.cuts.labels import labels, plain
from weighty_axle.answers.cuts.reels import booked_into, in_no_design, nest, states
from weighty_axle.answers.plan.torques import joints_due
from weighty_axle.answers.wiring.schedule import schedule
from weighty_axle.design.derive import derive
from weighty_axle.design.wiring.choices import choice_name
from weighty_axle.job.edits.build import cut_made, cuts_booked, set_reel
from weighty_axle.job.edits.edit import set_value
from weighty_axle.job.files.stock import Stock, StockPiece
from weighty_axle.job.models.build import CutDone


@pytest.mark.parametrize("name", demos.names())
def test_every_scheduled_conductor_is_cut_and_every_cut_comes_off_one_piece(name):
    design = derive(demos.demo(name))
    made = cuts(design)
    assert len({cut.tag for cut in made}) == len(made)
    for own in (design, *design.others):
        if own.job.bank.role == "house":
            known = {cut.tag.removeprefix(f"{own.system.key} ") for cut in made} | {cut.way for cut in made}
            assert {one.tag for one in schedule(own)} <= known
    on = [piece.tag for kind in nest(design, Stock(), longest_s=4.0) for use in kind.reels for piece in use.off]
    assert sorted(on) == sorted(cut.tag for cut in made)
    for kind in nest(design, Stock(), longest_s=4.0):
        for use in kind.reels:
            lost = (len(use.off) - 1) * design.whole.build.kerf_mm / 1000
            assert sum(piece.cut_m for piece in use.off) + lost <= use.length_m + 2e-3 * len(use.off)


def test_a_cut_is_its_route_with_slack_and_both_ends(puppet):
    job = set_value("build.slack_share", 0.1, "").apply(set_value("build.end_m", 0.2, "").apply(puppet))
    design = derive(job)
    run = design.wiring.main
    both = [cut for cut in cuts(design) if cut.way == run.tag]
    assert [cut.colour for cut in both] == ["red", "black"]
    for cut in both:
        assert cut.cut_m.value == pytest.approx(run.length_m.value * 1.1 + 2 * 0.2, abs=1e-3)
        assert cut.start.fitting == f"lug {run.chosen.size} × {cut.start.stud}"
    lead = next(cut for cut in cuts(design) if cut.words.startswith("lead of"))
    assert lead.cut_m.value == puppet.bank.links.lead_m  # what is stated as a conductor has its ends already


def test_labels_name_both_ends_and_their_codes_are_unlike(puppet):
    found = labels(derive(puppet))
    cables = [one for one in found if one.kind == "cable"]
    assert len(cables) == 2 * len(cuts(derive(puppet)))
    assert len({one.code for one in cables}) == len(cables)
    assert {one.lines[1] for one in cables if one.tag == "W-INV1 +"} == {"to stud DB1 2 +", "to INV1 +"}
    assert all(one.code == one.code.upper() and one.code.isascii() for one in found)
    assert plain("Łódź + −") == "-D---P--N".strip("-") or plain("Łódź + −").isascii()
    assert any("live in daylight" in one.lines[0] for one in found)


def test_every_stud_is_tightened_once_though_conductors_share_it(puppet):
    run = next(run for run in derive(puppet).wiring.runs if run.tag == "W-INV1")
    two = next(choice_name(one) for one in run.candidates if one.count == 2)
    job = set_value("wiring.conductors[W-INV1]", two, "").apply(puppet)
    due = joints_due(derive(job))
    assert [one.key for one in due if one.way == "W-INV1"] == [
        "W-INV1 start +",
        "W-INV1 end +",
        "W-INV1 start −",
        "W-INV1 end −",
    ]
    assert sum(cut.way == "W-INV1" for cut in cuts(derive(job))) == 4


# ---- what is cut, and the stock ----


def done(design, tag, piece, **more):
    cut = next(cut for cut in cuts(design) if cut.tag == tag)
    fields = {"conductor": tag, "size": cut.sold_as, "colour": cut.colour, "length_m": cut.cut_m.value, "piece": piece}
    return CutDone(**(fields | more))


def test_what_is_cut_is_not_cut_again_unless_the_design_differs(puppet):
    design = derive(puppet)
    job = cut_made(done(design, "W-INV1 +", "new reel 1")).apply(puppet)
    job = cut_made(done(design, "W-CC1 +", "new reel 1", length_m=0.4)).apply(job)
    job = cut_made(CutDone(conductor="W-OLD +", size="25 mm2 conductor", colour="red", length_m=3.0)).apply(job)
    found = {one.cut.tag: one for one in states(derive(job))}
    assert not found["W-INV1 +"].to_cut and not found["W-INV1 +"].differs
    assert found["W-CC1 +"].to_cut and "cut at 0.4 m" in found["W-CC1 +"].differs
    assert [one.conductor for one in in_no_design(derive(job), cuts(derive(job)))] == ["W-OLD +"]
    thicker = set_value("wiring.conductors[W-INV1]", "70 mm2", "").apply(job)
    changed = next(one for one in states(derive(thicker)) if one.cut.tag == "W-INV1 +")
    assert "cut of 50 mm2 conductor, red; now 70 mm2 conductor, red" in changed.differs
    on = [piece.tag for kind in nest(derive(job), Stock()) for use in kind.reels for piece in use.off]
    assert "W-INV1 +" not in on and "W-CC1 +" in on


def test_a_reel_that_is_begun_is_used_up_before_a_new_one_and_goes_into_the_stock(puppet):
    roof = "10 AWG roof cable"
    job = set_reel(roof, 12.0).apply(puppet)
    design = derive(job)
    first = next(kind for kind in nest(design, Stock()) if (kind.sold_as, kind.colour) == (roof, "red"))
    piece = first.reels[0].off[0]
    job = cut_made(done(design, piece.tag, first.reels[0].name)).apply(job)
    again = next(kind for kind in nest(derive(job), Stock()) if (kind.sold_as, kind.colour) == (roof, "red"))
    left = 12.0 - piece.cut_m - 0.002
    assert not again.reels[0].new and again.reels[0].length_m == pytest.approx(left, abs=2e-3)
    assert again.bought_m.value == 0.0
    stock = booked_into(Stock(), job.build.cuts, job.build, job.name)
    assert [one.length_m for one in stock.pieces] == [pytest.approx(left, abs=2e-3)]
    after = cuts_booked().apply(job)
    assert booked_into(stock, after.build.cuts, after.build, after.name) == stock  # taken off once
    # Another job of the shop takes it off such a piece where that saves a reel.
    lying = Stock(pieces=(replace(stock.pieces[0], length_m=20.0),))
    other = next(kind for kind in nest(derive(puppet), lying) if (kind.sold_as, kind.colour) == (roof, "red"))
    assert [use.name for use in other.reels] == [stock.pieces[0].name] and other.bought_m.value == 0


def test_short_rests_leave_the_stock_and_a_reel_too_short_is_told(puppet):
    piece = StockPiece(name="rest", conductor="10 AWG roof cable", colour="red", length_m=6.5)
    design = derive(puppet)
    cut = done(design, "S1 +", "rest")
    assert booked_into(Stock(pieces=(piece,)), (cut,), puppet.build, "x").pieces == ()
    short = derive(replace(puppet, build=replace(puppet.build, reel_m=3.0)))
    told = [kind for kind in nest(short, Stock()) if kind.problem]
    assert told and all("a reel of" in kind.problem and not kind.reels for kind in told)
