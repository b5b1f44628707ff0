"""Open data as somebody else reads it, without the program: sums close, curves obey textbook relations, nothing is
said twice or left out.
"""

from __future__ import annotations

import itertools
import json
import math
from collections import Counter
from datetime import date, datetime

import numpy as np
import pytest

from weighty_axle import demos
from weighty_axle.cli import main

NAMES = demos.names()


@pytest.fixture(scope="module")
def told():
    """What a command prints of a demo as JSON; each is run once."""
    import contextlib
    import io

    kept = {}

    def run(*command):
        if command not in kept:
            out = io.StringIO()
            with contextlib.redirect_stdout(out):
                main([*command, "--json"])
            kept[command] = json.loads(out.getvalue())
        return kept[command]

    return run


@pytest.mark.parametrize("name", NAMES)
def test_every_cut_comes_off_one_piece_and_pieces_add_up(told, name):
    data = told("cuts", f"demo:{name}")
    kerf = demos.demo(name).build.kerf_mm / 1000
    least = demos.demo(name).build.least_useful_m
    wanted = {one["tag"]: one for one in data["cuts"]}
    assert len(wanted) == len(data["cuts"])
    off = [(kind, piece, cut) for kind in data["reels"] for piece in kind["pieces"] for cut in piece["cuts"]]
    assert Counter(cut["tag"] for _, _, cut in off).most_common(1)[0][1] == 1
    open_cuts = {tag for tag, one in wanted.items() if one["cut_on"] is None}
    assert {cut["tag"] for _, _, cut in off} == open_cuts - {t for t in open_cuts if _on_no_reel(data, wanted[t])}
    for kind, _, cut in off:
        one = wanted[cut["tag"]]
        assert (one["conductor"], one["colour"]) == (kind["conductor"], kind["colour"])
        assert cut["cut_m"] == pytest.approx(one["cut_m"])
    for kind in data["reels"]:
        for piece in kind["pieces"]:
            used = sum(cut["cut_m"] for cut in piece["cuts"])
            saws = len(piece["cuts"])
            assert piece["length_m"] - used - saws * kerf - 1e-6 <= piece["left_m"] <= piece["length_m"] - used + 1e-6
            assert piece["kept"] == (piece["left_m"] >= least - 1e-9) or piece["left_m"] < 1e-6
        bought = sum(
            piece["length_m"] - (piece["left_m"] if piece["kept"] else 0) for piece in kind["pieces"] if piece["new"]
        )
        assert kind["bought_m"] <= sum(piece["length_m"] for piece in kind["pieces"] if piece["new"]) + 1e-6
        assert bought <= kind["bought_m"] + 1e-6
        if kind["proven"]:
            assert kind["gap_m"] == pytest.approx(0.0, abs=0.01)


def _on_no_reel(data, cut):
    return any(kind["problem"] for kind in data["reels"] if kind["conductor"] == cut["conductor"])


@pytest.mark.parametrize("name", NAMES)
def test_tasks_keep_their_order_people_do_one_thing_at_a_time_and_parts_are_here(told, name):
    data, parts = told("plan", f"demo:{name}"), told("parts", f"demo:{name}")
    tasks = {one["key"]: one for one in data["tasks"]}
    when = {
        key: (datetime.fromisoformat(one["starts"]), datetime.fromisoformat(one["ends"])) for key, one in tasks.items()
    }
    skills = {one["tag"]: one["skills"] for one in data["workers"]}
    due = {one["part"]: one["due"] for one in parts["parts"] if one["status"] == "ordered" and one["due"]}
    for key, one in tasks.items():
        assert when[key][0] < when[key][1]
        assert not skills[one["who"]] or one["skill"] in skills[one["who"]]
        assert all(when[before][1] <= when[key][0] for before in one["after"] if before in when and not one["done"])
        if one["waits_for"] in due:
            assert when[key][0].date() >= date.fromisoformat(due[one["waits_for"]])
    for who in skills:
        own = sorted(when[key] for key, one in tasks.items() if one["who"] == who and not one["done"])
        # Work in two stretches may hold another task between them; no two begin at once.
        assert all(one[0] < other[0] for one, other in itertools.pairwise(own))
        hours = sum(one["hours_h"] for one in tasks.values() if one["who"] == who)
        days = {day for one in own for day in (one[0].date(), one[1].date())}
        assert hours <= 8.0 * (max(days) - min(days)).days + 8.0 if days else True
    assert max(ends for key, (_, ends) in when.items() if not tasks[key]["done"]).date().isoformat() == data["ends"]
    assert data["no_plan_ends_before"] <= data["ends"] and any(one["critical"] for one in tasks.values())


@pytest.mark.parametrize("name", NAMES)
def test_the_sum_of_parts_is_the_sum_of_its_lines(told, name):
    data = told("parts", f"demo:{name}")
    lines = data["parts"]
    assert len({one["part"] for one in lines}) == len(lines)
    priced = [one["price"] * one["to_buy"] for one in lines if one["price"] is not None]
    assert data["cost"] == pytest.approx(sum(priced), rel=1e-9)
    assert data["mass_kg"] == pytest.approx(
        sum(one["mass_kg"] * one["wanted"] for one in lines if one["mass_kg"]), rel=1e-6
    )
    for one in lines:
        assert one["to_buy"] >= one["wanted"] - 1e-9 or one["unit"] == "m", one["part"]
        assert one["for"], "a part for nothing"
    # Lugs in the parts list are the lugs at the ends of the cut list.
    ends = Counter(end["with"] for cut in told("cuts", f"demo:{name}")["cuts"] for end in (cut["start"], cut["end"]))
    for one in lines:
        if one["kind"] == "lug":
            assert one["wanted"] == ends[one["part"]], one["part"]


@pytest.mark.parametrize("name", NAMES)
def test_every_conductor_has_two_labels_and_every_code_is_its_own(told, name):
    labels, cut_list = told("labels", f"demo:{name}"), told("cuts", f"demo:{name}")["cuts"]
    cable = Counter(one["tag"] for one in labels if one["kind"] == "cable")
    assert cable == {one["tag"]: 2 for one in cut_list}
    codes = [one["code"] for one in labels if one["kind"] == "cable"]
    assert len(set(codes)) == len(codes), "each end is known by its code"
    things = {one["code"].split("/")[1] for one in labels if one["kind"] != "cable" and one["code"]}
    assert things <= {one["tag"].replace(" ", "-") for one in labels if one["kind"] != "cable"}
    assert all(one["lines"] and one["lines"][0] for one in labels)


def test_holes_lie_on_their_plate_and_inside_their_units_outline(told):
    for board in told("board", "demo:eye-clinic"):
        assert board["holes"] and board["mass_kg"] > 0
        for hole in board["holes"]:
            reach = hole["hole_mm"] / 2
            assert (
                reach <= hole["x_mm"] <= board["wide_mm"] - reach and reach <= hole["y_mm"] <= board["high_mm"] - reach
            )
        spots = [(hole["x_mm"], hole["y_mm"]) for hole in board["holes"]]
        assert len(set(spots)) == len(spots)
        x, y = board["middle_mm"]
        assert 0 < x < board["wide_mm"] and 0 < y < board["high_mm"]


@pytest.mark.parametrize("name", NAMES)
def test_a_filling_curve_is_the_integral_of_its_current(told, name):
    """Charge and energy by the trapezoid rule; the state of charge by the charge; no more than the source gives."""
    bank_ah = {}
    for state in told("fill", f"demo:{name}")["states"][:6]:
        (one,) = told("fill", f"demo:{name}", "--mix", state["mix"])["states"]
        hours, amps, volts, soc = (np.array(one[key]) for key in ("time_h", "current_a", "voltage_v", "soc"))
        assert np.all(np.diff(hours) > 0) and np.all(np.diff(soc) >= -1e-12)
        assert np.trapezoid(amps, hours) == pytest.approx(one["charge_ah"], rel=0.01)
        assert np.trapezoid(amps * volts, hours) == pytest.approx(one["energy_wh"], rel=0.01)
        assert amps.max() <= one["source_a"] + 1e-6
        if one["ended"] == "full":
            # Full by its tail of current: within half a percent of all that goes in.
            assert 0.995 <= soc[-1] <= 1.0 and one["hours_h"] == pytest.approx(hours[-1])
        gained = soc[-1] - soc[0]
        if gained > 0.1:
            bank_ah[state["mix"]] = one["charge_ah"] / gained
    assert bank_ah
    assert max(bank_ah.values()) == pytest.approx(min(bank_ah.values()), rel=0.02), "one bank, whatever fills it"


@pytest.mark.parametrize("name", NAMES)
def test_a_pre_charge_is_a_capacitor_behind_a_resistor(told, name):
    """V = V_end (1 - exp(-t / RC)) where nothing stands by; the energy is that of the capacitors."""
    for bar, one in told("precharge", f"demo:{name}").items():
        farad, ohm = one["capacitors_mf"] / 1000, one["resistor_ohm"]
        times, volts, amps = (np.array(one[key]) for key in ("time_s", "voltage_v", "current_a"))
        if not one["pinned"]:
            free = one["ends_v"] * -np.expm1(-times / (ohm * farad))
            assert volts == pytest.approx(free, rel=1e-3, abs=1e-3), bar
        assert amps[0] == pytest.approx(one["start_w"] / (amps[0] * ohm), rel=1e-6)
        assert np.all(np.diff(volts) > -1e-9) and np.all(np.diff(amps) < 1e-9)
        assert one["peak_a"] <= one["peak_without_a"] * (1 + 1e-9)
        source_v = volts[0] + amps[0] * ohm
        assert one["energy_j"] <= 0.5 * farad * source_v**2 * 1.06 and one["highest_without_v"] <= 2 * source_v + 1e-6
        assert math.isclose(one["left_v"], 0.05 * source_v, rel_tol=1e-6) or one["held_s"] != one["filled_s"]


def test_a_years_months_are_its_totals_and_what_comes_in_goes_out(told):
    data = told("year", "demo:puppet-theatre", "--step", "60")
    totals = {key: one["value"] for key, one in data["totals"].items()}
    assert totals["missing_share"] == pytest.approx(totals["missing_wh"] / totals["asked_wh"])
    months = data["months"]
    assert len(months) == 12
    for key in set(months[0]) & set(totals):
        if key.endswith("_wh"):
            assert sum(one[key] for one in months) == pytest.approx(totals[key], rel=1e-6, abs=1.0), key


@pytest.mark.parametrize(("name", "bar"), [("eye-clinic", "DBV"), ("library-bus", "DBO"), ("puppet-theatre", "DBS")])
def test_cards_of_a_lead_acid_bank_are_not_those_of_a_lithium_one(told, name, bar):
    """Lead-acid cells are stored full, have no switch and no poisonous smoke but acid and gas: common practice, no
    source.
    """
    cards = {one["key"]: one["steps"] for one in told("cards", f"demo:{name}")}
    own = {key.removeprefix(f"{bar} "): steps for key, steps in cards.items() if key.startswith(f"{bar} ")}
    said = {key: json.dumps(steps) for key, steps in own.items()}
    assert "charge the bank full" in said["storage"] and "half" not in own["storage"][0]["do"]
    assert not any("lithium" in text or "electronics" in text or "switch the pack" in text for text in said.values())
    assert "acid" in said["emergency"]
    # No switch is stated on these bars: none is told to be turned.
    assert not any("main switch" in text for text in said.values()) and "minus last" in said["start"]
    assert "open the main switch" in json.dumps(cards["emergency"])
    assert "about half" in json.dumps(cards["storage"]) and "lithium" in json.dumps(cards["emergency"])


@pytest.mark.parametrize("name", NAMES)
@pytest.mark.parametrize("command", ["tests", "settings", "cards"])
def test_sheets_say_each_thing_once_with_a_band_that_holds_what_is_predicted(told, command, name):
    data = told(command, f"demo:{name}")
    lists = data.values() if isinstance(data, dict) else [data]
    for some in lists:
        keys = [one["key"] for one in some]
        assert keys and len(set(keys)) == len(keys)
        for one in some:
            low, high, predicted = (one.get(key) for key in ("low", "high", "predicted"))
            if low is not None and high is not None:
                assert low <= high, one["key"]
                if predicted is not None:
                    assert low - 1e-9 <= predicted <= high + 1e-9, one["key"]
            for step in one.get("steps", ()):
                assert step["do"] and (step["see"] or one["key"].endswith("emergency")), (one["key"], step)
