"""Wire ways: shortest paths against a general graph library, lengths and fill by hand, what a changed wall says."""

from __future__ import annotations

import itertools
import math
import random

import networkx
import pytest
from msgspec.structs import replace

from tests.building import told, v
from weighty_axle.answers.place.ways_filled import all_cables, ways_filled
from weighty_axle.demos import demo
from weighty_axle.design.derive import derive
from weighty_axle.design.ways import BEND_M, Ways, apart_m
from weighty_axle.exports.drawings.walls import WALLS, from_wall, on_wall
from weighty_axle.job.checks.whole import problems
from weighty_axle.job.edits.edit import move
from weighty_axle.job.edits.place import close_wall, open_wall, put_outlet
from weighty_axle.job.edits.sheet import remove_entry
from weighty_axle.job.models.vehicle import Bay, WireWay
from weighty_axle.job.stated import Place
from weighty_axle.physics.search.paths import shortest_from


def _place(x, y, z):
    return Place(x_m=float(x), y_m=float(y), z_m=float(z))


@pytest.mark.parametrize("seed", range(8))
def test_shortest_paths_against_a_graph_library(seed):
    """networkx's own Dijkstra on random graphs, some of them in pieces."""
    dice = random.Random(seed)
    graph = networkx.gnp_random_graph(14, 0.18, seed=seed)
    for a, b in graph.edges:
        graph.edges[a, b]["weight"] = dice.uniform(0.01, 5)
    beside = {node: [(other, graph.edges[node, other]["weight"]) for other in graph[node]] for node in graph}
    found, before = shortest_from(0, beside)
    assert found == pytest.approx(networkx.single_source_dijkstra_path_length(graph, 0))
    for node in found:
        way = [node]
        while way[-1] != 0:
            way.append(before[way[-1]])
        assert networkx.path_weight(graph, way, "weight") == pytest.approx(found[node])


def test_a_negative_distance_is_refused():
    with pytest.raises(ValueError, match="negative"):
        shortest_from(0, {0: [(1, -1.0)]})


@pytest.mark.parametrize("seed", range(6))
def test_the_way_of_a_cable_against_a_graph_of_places(clinic, seed):
    """The same vehicle as a graph of places in networkx: mouths joined through ways and within their spaces."""
    dice = random.Random(seed)
    bays = tuple(
        Bay(tag=f"B{n}", name=f"Bay {n}", start_m=2.0 * n, end_m=2.0 * n + 1.8, bottom_m=0.4, top_m=1.4)
        for n in range(1, 6)
    )
    ways = tuple(
        WireWay(
            tag=f"WW{n}",
            name=f"Way {n}",
            start=f"B{dice.randint(1, 5)}",
            end=dice.choice(["ROOF", "LIVING", "B1", "B3", "B5"]),
            length_m=round(dice.uniform(0.2, 4), 2),
            zone="bay",
            clear_mm=50.0,
            only=dice.choice([(), ("dc",), ("pv", "data")]),
            start_at=_place(dice.uniform(2, 12), dice.uniform(-1, 1), 0.6),
        )
        for n in range(9)
    )
    vehicle = replace(clinic.vehicle, bays=bays, ways=ways)
    made = Ways(vehicle)
    for kind, one, other in itertools.product(
        ("dc", "pv"), (_place(2.5, 0.3, 0.5), _place(6.5, -0.4, 0.6)), (_place(10.7, 0.2, 0.5), _place(6.0, 0, 2.0))
    ):
        graph = networkx.Graph()
        at = {"from": (made.space_of(one), one), "to": (made.space_of(other), other)}
        open_mouths = [
            (n, mouth) for n, mouth in enumerate(made.mouths) if not mouth.way.only or kind in mouth.way.only
        ]
        at |= {n: (mouth.space, mouth.place) for n, mouth in open_mouths}
        graph.add_nodes_from(at)
        for (a, (space, place)), (b, (its, there)) in itertools.combinations(at.items(), 2):
            if space == its:
                graph.add_edge(a, b, weight=apart_m(place, there))
        for (a, mouth), (b, back) in itertools.pairwise(open_mouths):
            if mouth.way is back.way:
                far = mouth.way.length_m + 2 * BEND_M
                graph.add_edge(a, b, weight=min(far, graph.get_edge_data(a, b, {"weight": math.inf})["weight"]))
        path = made.path(one, other, kind)
        if networkx.has_path(graph, "from", "to"):
            assert path is not None
            assert path.total_m == pytest.approx(networkx.shortest_path_length(graph, "from", "to", "weight"))
        else:
            assert path is None


def test_a_length_by_hand_and_a_moved_item_changes_size_and_drop():
    """Main run of the demo: bank's middle (7.51, 0.72, 0.45) to the grommet (6.8, 0.7, 0.9): 0.71 + 0.02 + 0.45;
    0.15 through it; two bends of 0.05; from (6.7, 0.7, 0.9) to the board (6.2, 0.55, 0.5): 0.5 + 0.15 + 0.4; 0.3 at
    each end.
    """
    job = demo("eye-clinic")
    design = derive(job)
    assert design.wiring.main.length_m.value == pytest.approx(1.18 + 0.15 + 0.10 + 1.05 + 0.6)
    away = derive(move(("DB1",), dx_m=-0.9).apply(job))
    assert away.wiring.main.length_m.value == pytest.approx(design.wiring.main.length_m.value + 0.9)
    assert away.wiring.main.drop_share.value > design.wiring.main.drop_share.value
    assert derive(v(job, "wiring.main_lead_m", 2.0)).wiring.main.length_m.formula == "measured"


def test_circuits_reach_their_farthest_outlet_along_its_chain():
    """CK1's second socket hangs on the first; a stated length wins."""
    job = demo("eye-clinic")
    design = derive(job)
    by = {one.tag: one.length_m.value for one in design.house.cables}
    assert design.house.lengths_m["CK1"].value == pytest.approx(by["OU1"] + by["OU2"])
    farther = derive(put_outlet("OU2", _place(12.8, 1.275, 1.75), "").apply(job))
    assert farther.house.lengths_m["CK1"].value == pytest.approx(design.house.lengths_m["CK1"].value + 4.0)
    drops = [
        next(one for one in each.panels.circuits if one.tag == "CK1").drop_share.value for each in (design, farther)
    ]
    assert drops[1] > 1.5 * drops[0]
    assert derive(v(job, "ac.circuits[CK1].length_m", 9.0)).house.lengths_m["CK1"].value == 9.0


def test_fill_by_hand_and_every_cable_in_its_ways():
    """Grommets of 110 mm: main run of two 20.0 mm, three feeds of two 11.8 mm, the bank's data lead of
    6 mm, the shunt's supply of 5.5 mm."""
    found = {one.way.tag: one for one in ways_filled(derive(demo("eye-clinic")))}
    assert found["WW1"].fill_share.value == pytest.approx((2 * 20.0**2 + 6 * 11.8**2 + 6.0**2 + 5.5**2) / 110**2)
    assert found["WW1"].allowed_share == 0.40
    assert found["WW6"].allowed_share == 0.31


def test_without_ways_nothing_is_said_and_lengths_go_straight(clinic):
    assert not clinic.vehicle.ways
    cables = all_cables(derive(clinic))
    assert cables
    assert all(one.path is not None and not one.path.ways for one in cables)
    assert not told(clinic, "place.no-way")


@pytest.mark.parametrize("wall", WALLS)
def test_a_face_there_and_back(clinic, wall):
    """A place on a face comes back the same; a face of another size than the vehicle's would not."""
    place = from_wall(clinic.vehicle, wall, 1.1, 0.6)
    assert on_wall(clinic.vehicle, wall, place) == pytest.approx((1.1, 0.6))


CHANGES = {
    "has moved": lambda job: put_outlet("OU1", _place(7.9, 1.275, 1.75), "").apply(job),
    "serves something else": lambda job: v(job, "outlets[OU1].serves", ("CK7",)),
    "has gone": lambda job: remove_entry("outlets[OU2]", "OU2").on(job),
    "is new": lambda job: replace(job, outlets=(*job.outlets, replace(job.outlets[0], tag="OU99"))),
}


@pytest.mark.parametrize("words", CHANGES)
def test_what_changes_behind_a_closed_wall_is_said(words):
    job = close_wall("right", "2026-03-02").apply(demo("eye-clinic"))
    assert not _behind(job)
    changed = CHANGES[words](job)
    assert [one.values["change"] for one in _behind(changed)] == [words]
    assert not _behind(open_wall("right").apply(changed))


def _behind(job):
    return told(job, "place.behind-closed-wall")


@pytest.mark.parametrize(
    ("path", "value", "words"),
    [
        ("outlets[OU1].start", "NOWHERE", "no item, panel or outlet"),
        ("outlets[OU1].start", "OU2", "come from itself"),
        ("outlets[OU1].start", "OU1", "come from itself"),
        ("vehicle.ways[WW1].end", "B9", "no bay B9"),
    ],
)
def test_what_cannot_be_is_refused_with_a_sentence(path, value, words):
    assert any(words in one.message for one in problems(v(demo("eye-clinic"), path, value)))
