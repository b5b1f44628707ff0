"""The DC side solved: against sums along paths, energy, symmetry and the plants of other shapes."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from tests import plants
from tests.building import changed
from weighty_axle.demos import demo
from weighty_axle.design.derive import derive
from weighty_axle.design.wiring.flow import STIFF_OHM, network_of
from weighty_axle.job.models.wiring import Fitted
from weighty_axle.rules.judge import judge


def _way(design, tag):
    return next(one for one in design.flow.ways if one.tag == tag)


def _state(design, key):
    return next(one for one in design.flow.states if one.key.startswith(key))


@pytest.mark.parametrize("name", ["eye-clinic", "puppet-theatre", "library-bus"])
def test_what_the_source_gives_is_what_is_drawn_and_what_is_lost(name):
    """Energy balance, bar by bar and state by state: the inverters' ends take what they ask for, and nothing is drawn
    but at ends of ways and on the first stud.
    """
    design = derive(demo(name))
    for state in design.flow.states:
        assert not state.collapsed and state.residual_v < 1e-4
        for root in design.tree.roots:
            ways = [(one, state.ways[one.tag]) for one in root.ways if one.tag in state.ways]
            if not ways:
                continue
            net: dict[str, float] = {}
            volts = {}
            for one, at in ways:
                net[one.end] = net.get(one.end, 0.0) + at.amps
                net[one.start] = net.get(one.start, 0.0) - at.amps
                volts |= {one.start: at.start_v, one.end: at.end_v}
            sources = {one.start for one, _ in ways if one.kind == "main" or one.start in root.converters}
            passed = {one.start for one, _ in ways} - sources - {f"{root.bar} 1"}
            assert all(abs(net[node]) < 1e-2 for node in passed - {one.end for one, _ in ways if one.kind == "feed"})
            given = -sum(net[node] * volts[node] for node in sources)
            drawn = sum(amps * volts[node] for node, amps in net.items() if node not in sources)
            assert given == pytest.approx(drawn + sum(at.watts for _, at in ways), rel=1e-5, abs=1e-3)


def test_the_drop_is_the_sum_of_the_parts_on_the_way(clinic):
    """By hand: every resistance on the way times its current."""
    design = derive(clinic)
    state, unit = _state(design, "full"), design.job.inverters.units[0].tag
    ways = {one.tag: one for one in design.tree.ways}
    main, lead = ways["W-MAIN"], ways[f"W-{unit}"]
    segments = [one for one in design.tree.ways if one.kind == "bar" and one.bar == main.bar]
    till = int(lead.start.rsplit(" ", 1)[1])
    drop = main.ohm * state.ways["W-MAIN"].amps + lead.ohm * state.ways[lead.tag].amps
    drop += sum(one.ohm * state.ways[one.tag].amps for one in segments[: till - 1])
    assert state.source_v[main.bar] - state.ways[lead.tag].end_v == pytest.approx(drop, rel=1e-3)
    watts = design.job.inverters.spec.continuous_va / design.job.inverters.spec.full_load_efficiency
    assert state.ways[lead.tag].amps * state.ways[lead.tag].end_v == pytest.approx(watts, rel=1e-4)


def test_units_alike_on_leads_alike_share_alike_and_a_longer_lead_costs(clinic):
    alike = changed(clinic, **{f"inverters__units[{one.tag}]__lead_m": 1.5 for one in clinic.inverters.units})
    one, other = (f"W-{unit.tag}" for unit in clinic.inverters.units[:2])
    state = _state(derive(alike), "full")
    assert state.ways[one].amps == pytest.approx(state.ways[other].amps, rel=1e-4)
    longer = derive(changed(alike, **{f"inverters__units[{clinic.inverters.units[0].tag}]__lead_m": 4.0}))
    assert _way(longer, one).drop_share.value > _way(longer, other).drop_share.value


def test_a_panel_behind_a_converter_is_told_from_the_bar_it_hangs_on():
    """The converter holds its output: what its input sees is what hangs on it, its losses and its own draw."""
    job = demo("library-bus")
    design = derive(job)
    root = design.tree.roots[1]
    state = _state(design, "full")
    feed = next(way for way in root.ways if way.start in root.converters)
    spec = next(one.spec for one in job.converters if one.tag == feed.start)
    taken = state.source_v[root.bar] * state.ways[feed.tag].amps / spec.efficiency + spec.own_w
    lead = state.ways[f"W-{feed.start}"]
    assert lead.amps * lead.end_v == pytest.approx(taken, rel=1e-3)
    circuit = next(way for way in root.ways if way.kind == "circuit")
    assert state.source_v[root.bar] > state.ways[circuit.above].end_v > state.ways[circuit.tag].end_v


def test_charging_lifts_the_ends_of_leads_and_flows_into_the_bank(puppet):
    state = _state(derive(puppet), "charge")
    assert state.charges and state.ways["W-MAIN"].amps < 0
    assert state.ways["W-CC1"].end_v > state.source_v["DB1"]


def test_more_power_than_copper_can_bring_is_told_as_a_collapse(puppet):
    job = changed(puppet, **{"inverters__units[INV1]__lead_m": 300.0, "wiring__conductors[W-INV1]": "4 mm2"})
    design = derive(job)
    assert any(state.collapsed == ("DB1",) for state in design.flow.states)


@pytest.mark.parametrize("kind", ["switch", "breaker"])
def test_what_is_fitted_stands_in_the_way(puppet, kind):
    fitted = Fitted(tag="FT1", name="As found", run="W-INV1", kind=kind, amps=200.0, dc_v=80.0)
    before, after = derive(puppet).tree, derive(replace(puppet, fitted=(fitted,))).tree
    ohm = {one.tag: one.ohm for one in before.ways}
    assert all((one.ohm != ohm[one.tag]) == (one.tag == "W-INV1") for one in after.ways)


def test_a_bad_joint_makes_heat_and_takes_volts(puppet):
    design = derive(puppet)
    root = design.tree.roots[0]
    good = network_of(root, STIFF_OHM, {}).solve({"W-INV1": 100.0})
    bad = network_of(root, STIFF_OHM, {"W-INV1": 0.004}).solve({"W-INV1": 100.0})
    assert good.node_v["W-INV1"] - bad.node_v["W-INV1"] == pytest.approx(0.4, rel=1e-4)


@pytest.mark.parametrize("shape", [plants.staged, plants.transfer, plants.two_groups])
def test_plants_of_other_shapes_are_solved_too(puppet, shape):
    design = derive(shape(puppet))
    for one in (design, *design.others):
        tags = [way.tag for way in one.tree.ways]
        assert len(tags) == len(set(tags))
        assert {way.tag for way in one.flow.ways} == {way.tag for way in one.tree.ways if way.kind != "bar"}


def test_relays_and_either_or_switches_take_their_part(puppet):
    job = plants.staged(puppet)
    circuits = tuple(replace(one, relay_a=30.0) if one.tag == "DK1" else one for one in job.dc.circuits)
    trees = [one.tree for one in derive(replace(job, dc=replace(job.dc, circuits=circuits))).others]
    ways = {way.tag: way for tree in trees for way in tree.ways}
    assert [part.words for part in ways["DK1"].parts if part.kind == "switch"] == ["relay"]
    assert [part.words for part in ways["DP1"].parts if part.kind == "switch"] == ["Either-or switch"]
    # 30 mV at the rating (typical, recalled).
    assert next(part.ohm for part in ways["DK1"].parts if part.kind == "switch") == pytest.approx(0.030 / 30)


@pytest.mark.parametrize("other", [lambda _job: demo("puppet-theatre"), plants.transfer], ids=["kept", "both ways"])
def test_converters_to_other_banks_load_the_bar_they_take_from(puppet, other):
    """Their leads carry what they can take at the lowest voltage, at the same time as the inverters' full load."""
    design = derive(other(puppet))
    taking = [end for end in design.ends if end.takes_a.value]
    state = _state(design, "full")
    assert taking
    for end in taking:
        at = state.ways[f"W-{end.converter.tag}"]
        assert at.amps * at.end_v == pytest.approx(end.takes_a.value * design.bank.lowest_working_v.value, rel=1e-4)


def test_the_run_of_a_vehicle_battery_carries_what_takes_from_it_while_the_engine_runs():
    """By hand: three chargers of 17 A into 57.6 V, 92 % of it kept, out of twelve lead cells at their lowest; what is
    left of the alternator's comes through the battery's own posts.
    """
    battery = derive(demo("eye-clinic")).of_system("DBV")
    main, lowest_v = battery.wiring.runs[0], battery.bank.lowest_working_v.value
    assert main.current_a.value == pytest.approx(3 * 17 * 57.6 / 0.92 / lowest_v)
    assert main.fuse_a.value >= 1.25 * main.current_a.value
    # Solved, with its own drop, it draws a little more and still less than its fuse.
    assert main.current_a.value < _way(battery, "W-MAIN").most_a.value < main.fuse_a.value
    assert "converters" in _way(battery, "W-MAIN").most_a.limit


def test_what_is_carried_back_is_asked_of_bank_links_and_main_run_alike(puppet):
    """Against the same job with a converter that carries one way only, and what the converter takes at its end."""
    job = plants.transfer(puppet)
    one_way = replace(job, converters=tuple(replace(one, both_ways=False) for one in job.converters))
    own, without = (next(one for one in derive(each).others if not one.system.shares_bank) for each in (job, one_way))
    end = next(one for one in own.ends if one.converter.both_ways and not one.starts_here)
    more_a = own.bank.continuous_a.value - without.bank.continuous_a.value
    assert more_a == pytest.approx(end.takes_a.value) and more_a > 10
    assert own.wiring.runs[0].current_a.value == max(own.bank.continuous_a.value, own.charging.into_bank_a.value)


@pytest.mark.parametrize("shape", plants.SHAPES)
@pytest.mark.parametrize("name", ["puppet", "clinic"])
def test_a_run_is_sized_for_all_that_the_solved_network_draws_through_it(request, name, shape):
    """By another route: what was added up when a run was chosen, against every state of the whole network. Constant
    powers draw the more, the less volts reach them: within the fuse's 25 %.
    """
    design = derive(plants.SHAPES[shape](request.getfixturevalue(name)))
    for own in (design, *design.others):
        solved = {way.tag: way for way in own.flow.ways if way.told}
        for run in own.wiring.runs:
            if run.tag in solved and run.fitted is None and run.drop_share.value < 0.1:
                assert abs(solved[run.tag].most_a.value) <= run.fuse_a.value, (own.system.key, run.tag)


def test_an_inverter_draws_no_more_than_its_rating_whatever_is_painted(puppet):
    """Loads beyond it are a source's, or switch it off: its lead is not condemned for them."""
    loads = tuple(replace(one, running_w=one.running_w * 20) for one in puppet.loads)
    design = derive(replace(puppet, loads=loads))
    spec, low_v = design.job.inverters.spec, design.bank.lowest_working_v.value
    rated_a = spec.continuous_va / spec.full_load_efficiency / low_v
    for state in design.flow.states:
        at = state.ways["W-INV1"]
        assert state.key == "surge" or at.amps * at.end_v <= rated_a * low_v * (1 + 1e-6)
    assert "wiring.opens-in-use" not in {one.rule.id for one in judge(design)}
