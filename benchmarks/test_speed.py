"""Speed, as ratios in one run: `pytest benchmarks`. The figures to reach stand beside each check."""

from __future__ import annotations

import gc
import os
import statistics
import subprocess
import sys
import time
from itertools import cycle

import pytest

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

# Each prints the moment (of the machine's steady clock) when everything of the first picture is painted.
BARE = """
import time
from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QApplication, QWidget
application = QApplication([])
def painted():
    print(time.perf_counter())
    application.quit()
class Window(QWidget):
    def paintEvent(self, event):
        super().paintEvent(event)
        QTimer.singleShot(0, painted)
window = Window()
window.resize(1280, 800)
window.show()
application.exec()
"""

FULL = """
import sys
from weighty_axle.cli import import_before_qt
import_before_qt()  # as the program does
sys.argv = ["weighty-axle", "demo", "eye-clinic"]
from weighty_axle.desk.frame import window as module
def painted(window):
    import resource, time
    print(time.perf_counter(), resource.getrusage(resource.RUSAGE_SELF).ru_maxrss)
    window.close()
def paintEvent(self, event):
    from PySide6.QtCore import QTimer
    QTimer.singleShot(0, lambda: painted(self))
module.Window.paintEvent = paintEvent
from weighty_axle.cli import main
main()
"""


def _first_paint(script: str) -> tuple[float, int]:
    """Seconds from starting the process to the first picture, and memory then [KiB]."""
    start = time.perf_counter()
    done = subprocess.run([sys.executable, "-c", script], check=True, capture_output=True, text=True)
    moment, *memory = done.stdout.split()
    return float(moment) - start, int(memory[0]) if memory else 0


def _seconds(*command: str) -> tuple[float, str]:
    start = time.perf_counter()
    done = subprocess.run([sys.executable, *command], check=True, capture_output=True, text=True)
    return time.perf_counter() - start, done.stdout


def test_start_to_first_paint_against_a_bare_window(tmp_path, monkeypatch):
    """Goal: at most 1.9 times a bare window's, and under 250 MB, with the demo open.

    Not reached: 2.4 to 3.3, by the machine (counted in instructions 2.4). Qt's own enumerations, which any program with
    a key or an alignment pays for, are 0.25 of it, msgspec 0.15.
    """
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path))
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path))
    monkeypatch.delenv("PYTHONDONTWRITEBYTECODE", raising=False)  # an installed program has its bytecode
    _first_paint(FULL)
    bare, full, memory = [], [], 0
    for _ in range(11):
        bare.append(_first_paint(BARE)[0])
        seconds, memory = _first_paint(FULL)
        full.append(seconds)
    ratio = statistics.median(full) / statistics.median(bare)
    print(
        f"\nfirst paint: {statistics.median(full):.3f} s, bare {statistics.median(bare):.3f} s, ratio {ratio:.2f}; "
        f"{memory / 1024:.0f} MB"
    )
    assert ratio <= 3.6, "slower than it was"
    assert memory < 250 * 1024


def test_derive_from_a_cold_process_against_python_itself():
    """Under 1.5 s."""
    cold = statistics.median(_seconds("-m", "weighty_axle", "derive", "demo:eye-clinic", "--json")[0] for _ in range(5))
    bare = statistics.median(_seconds("-c", "pass")[0] for _ in range(5))
    print(f"\nderive, cold: {cold:.3f} s, {cold / bare:.1f} times an empty Python")
    assert cold < 1.5


def _pace() -> float:
    """Seconds of a fixed piece of plain Python: how fast this machine is just now (it drifts by 2x, within one run)."""
    start = time.perf_counter()
    sum(number * number for number in range(20_000))
    return time.perf_counter() - start


def _against_pace(once, rounds: int) -> tuple[float, float]:
    """Median seconds of `once`, and the median of its ratio to the pace just after it."""
    seconds, ratios = [], []
    for _ in range(rounds):
        start = time.perf_counter()
        once()
        seconds.append(time.perf_counter() - start)
        ratios.append(seconds[-1] / _pace())
    return statistics.median(seconds), statistics.median(ratios)


def _many_loads():
    """80 loads x 4 kinds of day: three stretches each, half of them cycling, a quarter motors."""
    import random

    from msgspec.structs import replace

    from weighty_axle import demos
    from weighty_axle.job.edits.brief import painted
    from weighty_axle.job.models.brief import Load

    dice, job = random.Random(1), demos.demo("library-bus")

    def day():
        spans = ()
        for _ in range(3):
            start = 5 * dice.randrange(260)
            spans = painted(spans, start, min(1440, start + 5 * dice.randrange(2, 40)), 1.0)
        return spans

    loads = tuple(
        Load(
            tag=f"LX{n}",
            name=f"Load {n}",
            group=f"Group {n % 6}",
            supply=("L1", "L2", "DC_12")[n % 3],
            running_w=50.0 + n,
            power_factor=0.9,
            start_multiple=3.0 if n % 4 == 0 else 1.0,
            duty=0.5 if n % 2 else 1.0,
            patterns={kind.tag: day() for kind in job.day_kinds},
        )
        for n in range(80)
    )
    return replace(job, loads=loads, stays=())


def test_a_stroke_re_derives_its_own_day(benchmark):
    """80 loads x 4 kinds of day: what a stroke re-derives, against all of it."""
    from weighty_axle.design.derive import Deriver
    from weighty_axle.job.edits.brief import paint

    job, deriver = _many_loads(), Deriver()
    deriver.derive(job)
    strokes = cycle([paint(job.loads[3], "VILLAGE", 300, 305 + 5 * n, 1.0).apply(job) for n in range(1, 200)])
    benchmark.pedantic(lambda: deriver.derive(next(strokes)), rounds=20, iterations=1, warmup_rounds=5)
    stroke, ratio = _against_pace(lambda: deriver.derive(next(strokes)), 150)
    whole, all_ratio = _against_pace(lambda: Deriver().derive(job), 30)
    print(f"\nderived after a stroke {stroke * 1000:.1f} ms, {ratio:.1f} times the pace; afresh {whole * 1000:.1f} ms")
    # Goal for the largest job: under 50 ms where plain Python sums 20,000 squares in 1 ms. Afresh 60 times.
    assert ratio < 20 and all_ratio < 80


def test_run_together_against_derivation(benchmark):
    """80 loads: an answer under 5 ms."""
    from weighty_axle.answers.brief.run_together import run_together
    from weighty_axle.design.derive import derive

    design = derive(_many_loads())
    tags = tuple(load.tag for load in design.job.loads)
    benchmark(run_together, design, tags)
    assert statistics.median(benchmark.stats.stats.data) < 0.005


def test_a_stroke_over_eighty_loads_within_a_frame(window, benchmark, tmp_path):
    """Every mouse move: edit, derive, judge, drawn days, and the repaint of all on show."""
    from PySide6.QtWidgets import QApplication

    from weighty_axle.job.edits.brief import paint
    from weighty_axle.job.files import store

    path = tmp_path / "many.axle"
    store.save(_many_loads(), path)
    window.open_name(str(path))
    window.go("brief")
    day = window.bench.view("brief").day
    day.silhouette.ready = True
    job = window.session.shown.job
    wipe = paint(job.loads[3], "VILLAGE", 0, 1440, 0.0, "stroke")
    strokes = cycle([wipe] + [paint(job.loads[3], "VILLAGE", 300, 305 + 5 * n, 1.0, "stroke") for n in range(1, 200)])
    QApplication.processEvents()

    def once():
        assert window.session.apply(next(strokes)) is None
        QApplication.processEvents()

    benchmark.pedantic(once, rounds=20, iterations=1, warmup_rounds=5)
    stroke, ratio = _against_pace(once, 150)
    print(f"\nstroke to painted {stroke * 1000:.1f} ms, {ratio:.1f} times the pace")
    # Goal: 16 ms, a frame, where the pace is 0.8 ms: 20 times. Not reached: 28 to 38, by the machine.
    assert ratio < 45


def test_legs_of_sixty_circuits_balanced_with_proof():
    """Goal: sixty circuits over six ruling steps balanced with proof within 200 ms; median of five draws, on two
    lines.
    """
    import numpy as np

    from weighty_axle.physics.search.balance import best_balance, item

    seconds = []
    for seed in range(5):
        dice = np.random.default_rng(seed)
        items = [
            item([f"C{n}"], [list(dice.uniform(50, 1500, 6) * np.exp(0.3j * dice.random()))], [0], 2) for n in range(60)
        ]
        start = time.perf_counter()
        found = best_balance(items, np.zeros((2, 6), dtype=np.complex128), angles_deg=[0, 180])
        seconds.append(time.perf_counter() - start)
        assert found.proven
    print(
        f"\nlegs of 60 circuits: median {statistics.median(seconds) * 1000:.0f} ms, worst {max(seconds) * 1000:.0f} ms"
    )
    assert statistics.median(seconds) < 0.2


def test_a_phasor_solution_behind_impedances(benchmark):
    """Goal: lines, feeder, neutral and six steady loads within 1 ms."""
    from weighty_axle.physics.electric.phasors import Drawn, WireBranch, complex_power, network

    branches = [
        WireBranch("earth", "L1", 0.1, 120),
        WireBranch("earth", "L2", 0.1, -120),
        WireBranch("N", "earth", 0.1),
    ]
    branches += [WireBranch(one, f"{one}'", 0.05) for one in ("L1", "L2", "N")]
    drawn = [
        Drawn(a, b, complex_power(700 + 90 * n, 0.9), 120)
        for n, (a, b) in enumerate([("L1", "N"), ("L2", "N"), ("L1'", "N'"), ("L2'", "N'")])
    ]
    drawn += [Drawn("L1", "L2", complex_power(1800, 1.0), 240), Drawn("L1'", "L2'", complex_power(900, 0.8), 240)]
    benchmark(network, branches, drawn, ground="earth")
    assert statistics.median(benchmark.stats.stats.data) < 0.001


def test_states_of_five_sources_four_settings_three_positions(benchmark):
    """Goal: every state of 5 sources and nothing, 4 ways the inverters are, and 3 selector positions within 20 ms."""
    from msgspec.structs import replace

    from weighty_axle import demos
    from weighty_axle.design.derive import derive
    from weighty_axle.design.inverters.states import states

    job = demos.demo("library-bus")
    more = tuple(
        replace(job.inverters.sources[0], tag=f"PX{n}", name=f"Pedestal {n}")
        for n in range(5 - len(job.inverters.sources))
    )
    design = derive(replace(job, inverters=replace(job.inverters, sources=(*job.inverters.sources, *more))))
    found = benchmark(states, design.ac, design.circuits, design.job.inverters)
    assert len(found.states) + found.shut_out == 6 * 4 * 3
    assert statistics.median(benchmark.stats.stats.data) < 0.02


def test_a_crowded_roof_packed():
    """Goal: 12 m x 2.5 m with 15 obstacles within one module of the bound in under 3 s."""
    import random

    from weighty_axle.physics.search.packing import Area, RectangleKind, packed

    dice, blocked = random.Random(4), []
    for _ in range(15):
        wide, deep = dice.choice([(0.4, 0.4), (0.3, 0.3), (0.9, 0.7)])
        x, y = dice.uniform(0, 12 - wide), dice.uniform(-1.25, 1.25 - deep)
        blocked.append((x, x + wide, y, y + deep))
    start = time.perf_counter()
    found = packed(Area((0.0, 12.0, -1.25, 1.25), tuple(blocked), 0.02), [RectangleKind("module", 1.722, 1.134, 1.0)])
    seconds = time.perf_counter() - start
    print(f"\npacked: {found.packing.worth:.0f} of at most {found.bound:.2f} in {seconds:.2f} s")
    assert found.bound - found.packing.worth < 1 and seconds < 3


def test_a_year_of_shade_against_the_library_once_an_hour():
    """Goal: every daylight hour of a year, 20 modules, 4 wirings, under 4 s; and as a ratio to one single-diode
    solution of pvlib an hour.
    """
    import numpy as np
    import pvlib

    from weighty_axle.physics.solar import shadows, sun
    from weighty_axle.physics.solar.array_power import LEVELS, ModuleKind, SkyLight, year_of_power_w
    from weighty_axle.physics.solar.single_diode import fit

    diode = fit(voc_v=37.1, isc_a=13.8, vmp_v=31.0, imp_a=12.9, voc_per_c=-0.0027, isc_per_c=0.0005)
    start = time.perf_counter()
    day, hour = np.repeat(np.arange(1, 366), 24), np.tile(np.arange(24) + 0.5, 365)
    where = sun.position(latitude_deg=46.2, longitude_deg=0.0, day=day, utc_h=hour)
    up = where.elevation_deg > 3
    where, day = sun.SunPosition(where.elevation_deg[up], where.azimuth_deg[up]), day[up]
    clear = sun.clear_sky(elevation_deg=where.elevation_deg, day=day, height_m=25, turbidity=3)
    along, across = shadows.away_from_sun(
        elevation_deg=where.elevation_deg, azimuth_deg=where.azimuth_deg, heading_deg=30.0
    )
    prisms = [shadows.Prism(2.0 + 2.2 * n, 2.9 + 2.2 * n, -0.4, 0.4, 0.28) for n in range(4)]
    levels = np.zeros((len(day), 20, 3), dtype=np.int64)
    for module in range(20):
        x, y = 0.3 + (module % 10) * 1.15, -1.0 if module < 10 else 0.1
        grid = np.meshgrid(np.linspace(x, x + 1.1, 8), np.linspace(y, y + 0.9, 12))
        points = shadows.Points(grid[0].ravel(), grid[1].ravel(), np.repeat(np.arange(3), 32))
        levels[:, module] = np.rint(
            shadows.section_shares(points, shadows.shaded(points, prisms, along, across), 3, 4) * LEVELS
        )
    cells = sun.cell_c(air_c=15, irradiance_w_per_m2=clear.global_w_per_m2, rise_c=33)
    sky = SkyLight(clear.global_w_per_m2 - clear.diffuse_w_per_m2, clear.diffuse_w_per_m2, cells)
    ways = [
        [[list(range(20))]],
        [[[n] for n in range(20)]],
        [[list(range(10)), list(range(10, 20))]],
        [[list(range(10))], [list(range(10, 20))]],
    ]
    year_of_power_w([ModuleKind(diode, 3)], np.zeros(20, dtype=np.int64), sky, levels, ways)
    ours = time.perf_counter() - start
    start = time.perf_counter()
    for amps in np.linspace(1, 13, 400):
        pvlib.pvsystem.singlediode(amps, diode.saturation_a, diode.series_ohm, diode.shunt_ohm, diode.nnsvth_v)
    theirs = (time.perf_counter() - start) / 400 * len(day)
    print(
        f"\nyear of shade: {ours:.2f} s for {len(day)} hours x 60 sections x 4 wirings, {ours / theirs:.2f} of one "
        f"library solution an hour ({theirs:.2f} s)"
    )
    assert ours < 4


@pytest.fixture
def crowded(window):
    """40 small modules in four rows and 60 obstacles along the middle and the edges: crowded, but nothing lies on
    anything.
    """
    from msgspec.structs import replace

    from weighty_axle.job.edits.edit import Edit
    from weighty_axle.job.models.roof import Module, Obstacle

    job = window.session.shown.job
    roof = job.roof
    rows = (-0.85, -0.4, 0.4, 0.85)
    modules = tuple(
        Module(tag=f"MX{n}", x_m=roof.start_m + 0.75 + 0.95 * (n % 10), y_m=rows[n // 10], string=f"S{1 + n // 10}")
        for n in range(40)
    )
    obstacles = tuple(
        Obstacle(
            tag=f"OX{n}",
            name=f"Thing {n}",
            x_m=roof.start_m + 0.3 + 0.45 * (n % 20),
            y_m=(-1.2, 0.0, 1.2)[n // 20],
            length_m=0.1,
            width_m=0.1,
            height_m=0.2,
        )
        for n in range(60)
    )
    small = replace(roof.module, length_m=0.9, width_m=0.4)
    crowd = Edit(
        "",
        lambda job: replace(job, roof=replace(job.roof, module=small, modules=modules, obstacles=obstacles, lanes=())),
    )
    assert window.session.apply(crowd) is None
    assert window.session.shown.design.roof.clashes == ()
    return window


def test_a_drag_and_the_shadow_slider_on_a_crowded_roof(crowded):
    """Goals: a move of one of 40 modules among 60 obstacles painted within 16.7 ms, and a step of the shadow slider
    within 16 ms; as ratios to the pace.
    """
    from PySide6.QtCore import QPointF, Qt
    from PySide6.QtGui import QMouseEvent
    from PySide6.QtTest import QTest
    from PySide6.QtWidgets import QApplication

    crowded.go("roof")
    view = crowded.bench.view("roof")
    QApplication.processEvents()

    plan = view.leaf.plan
    start = next(rect.center() for rect, tag in plan.areas if tag == "MX7")
    QTest.mousePress(plan, Qt.MouseButton.LeftButton, pos=start.toPoint())
    # Back and forth by so much that no step is held by the snapping: each is a new job, judged and painted.
    steps = cycle((*range(0, 200, 20), *range(200, 0, -20)))

    def drag():
        before, at = crowded.session.shown.job, start + QPointF(next(steps), 5)
        move = QMouseEvent(
            QMouseEvent.Type.MouseMove,
            at,
            plan.mapToGlobal(at),
            Qt.MouseButton.LeftButton,
            Qt.MouseButton.LeftButton,
            Qt.KeyboardModifier.NoModifier,
        )
        plan.mouseMoveEvent(move)
        plan.repaint()
        assert crowded.session.shown.job is not before

    moved, ratio = _against_pace(drag, 60)
    QTest.mouseRelease(plan, Qt.MouseButton.LeftButton, pos=start.toPoint())
    view.turn_to("Shade")
    QApplication.processEvents()
    quarters = cycle(range(24, 72))

    def slide():
        view.leaf.sliders["Hour of the sun"].setValue(next(quarters))
        view.leaf.plan.repaint()

    slid, slide_ratio = _against_pace(slide, 60)
    print(
        f"\ndrag {moved * 1000:.1f} ms, {ratio:.1f} times the pace; slider {slid * 1000:.1f} ms, {slide_ratio:.1f} "
        "times the pace"
    )
    assert ratio < 24 and slide_ratio < 5


def test_sharing_of_sixteen_packs_and_of_every_way(benchmark):
    """16 packs under 1 ms in any way of linking; all six ways under 10 ms (where plain Python sums 20,000 squares in 1
    ms).
    """
    from weighty_axle import demos
    from weighty_axle.design.bank.links import TAKE_OFF_WORDS, PackState, sharing

    bank = demos.demo("eye-clinic").bank
    packs = tuple(PackState(tag=f"BP{n + 1}", resistance_factor=1.0, out=False) for n in range(16))
    benchmark(sharing, bank.spec, 1, packs, bank.links, "opposite_ends")
    ratios = {
        way: _against_pace(lambda way=way: sharing(bank.spec, 1, packs, bank.links, way), 60)[1]
        for way in TAKE_OFF_WORDS
    }
    print("\n16 packs, times the pace: " + ", ".join(f"{way} {ratio:.2f}" for way, ratio in ratios.items()))
    assert max(ratios.values()) < 1.0 and sum(ratios.values()) < 10


@pytest.fixture
def window(tmp_path):
    from weighty_axle.desk.app import make_application, settle_memory
    from weighty_axle.desk.frame.window import Window
    from weighty_axle.desk.kit.theme import apply_look
    from weighty_axle.desk.work.preferences import Preferences

    application = make_application()
    apply_look(application, "light", 1.0)
    made = Window(Preferences(safety_read=True), tmp_path / "journal")
    made.open_name("demo:eye-clinic")
    made.show()
    application.processEvents()
    settle_memory()  # as the program does
    yield made
    gc.unfreeze()
    made.session.close()
    made.session = None
    made.close()


def _edits(step, job):
    from weighty_axle.job.edits.bank import set_pack_count
    from weighty_axle.job.edits.brief import paint
    from weighty_axle.job.edits.edit import move, set_value
    from weighty_axle.job.edits.roof import move_on_roof

    lens_edger = job.loads[5]
    return {
        "brief": [paint(lens_edger, "CLINIC", 1200, 1260, 1.0), paint(lens_edger, "CLINIC", 1200, 1260, 0.0)],
        "bank": [set_pack_count(7), set_pack_count(6)],
        "roof": [move_on_roof("PV1", 1.36, -0.577), move_on_roof("PV1", 1.35, -0.577)],
        "place": [move(("BP1",), dx_m=0.01), move(("BP1",), dx_m=-0.01)],
        "wiring": [set_value("wiring.ambient_c", 45.0, "Air"), set_value("wiring.ambient_c", 40.0, "Air")],
        "charging": [
            set_value("charging.alternators[AL1].vehicle_a", 46.0, "Vehicle"),
            set_value("charging.alternators[AL1].vehicle_a", 45.0, "Vehicle"),
        ],
    }[step]


@pytest.mark.parametrize("step", ["brief", "bank", "roof", "place", "wiring"])
def test_edit_to_new_findings_and_painted_tell_line(window, step, benchmark):
    """Goal: median 10 ms and 95th percentile 33 ms where plain Python sums 20,000 squares in 0.8 ms; as ratios to that,
    so that they hold on any machine: edit, derive, judge and repaint of what changed.
    """
    from PySide6.QtWidgets import QApplication

    window.go(step)
    QApplication.processEvents()
    edits = cycle(_edits(step, window.session.shown.job))

    def once():
        assert window.session.apply(next(edits)) is None
        QApplication.processEvents()

    benchmark.pedantic(once, rounds=20, iterations=1, warmup_rounds=5)
    ratios = []
    for _ in range(200):
        start = time.perf_counter()
        once()
        seconds = time.perf_counter() - start
        ratios.append(seconds / _pace())
    ratios.sort()
    print(f"\n{step}: edit to painted {ratios[100]:.1f} times the pace, 95 of 100 under {ratios[190]:.1f}")
    # The bank, which solves six ways of linking, is the slowest: 36 times; the brief 25, the roof 19. Not reached.
    assert ratios[100] < 42 and ratios[190] < 90


@pytest.mark.parametrize("leaf", ["Mix", "Filling", "Budget", "Engine", "Low voltage", "Generator"])
def test_an_edit_of_the_alternator_answers_within_a_frame(window, leaf):
    """Goal: 16 ms where plain Python sums 20,000 squares in 0.8 ms, 20 times the pace, on every leaf of the step."""
    from PySide6.QtWidgets import QApplication

    from weighty_axle.job.edits.edit import WHOLE, Edit

    window.go("charging")
    window.bench.turn_to(leaf)
    QApplication.processEvents()
    edits = cycle(
        [
            Edit(one.label, one.apply, one.merge, one.path, WHOLE)
            for one in _edits("charging", window.session.shown.whole)
        ]
    )
    ratios = []
    for count in range(120):
        start = time.perf_counter()
        assert window.session.apply(next(edits)) is None
        QApplication.processEvents()
        seconds = time.perf_counter() - start
        if count >= 20:
            ratios.append(seconds / _pace())
    ratios.sort()
    print(f"\n{leaf}: an edit of the alternator {ratios[50]:.1f} times the pace, 95 of 100 under {ratios[95]:.1f}")
    assert ratios[50] < 30


def test_a_filling_curve_and_every_mix(benchmark):
    """Goals: a curve of twelve hours under 10 ms, six sources at three engine speeds with and without sun under 5."""
    from msgspec.structs import replace

    from weighty_axle.answers.charging.filling import filling, state_named
    from weighty_axle.demos import demo
    from weighty_axle.design.charging.states import states_of_sources
    from weighty_axle.design.derive import _GETTERS, Deriver
    from weighty_axle.design.table import TABLE

    job = demo("eye-clinic")
    sources = tuple(replace(one, tag=f"{one.tag}{letter}") for one in job.inverters.sources for letter in ("", "B"))[:6]
    job = replace(job, inverters=replace(job.inverters, sources=sources), stays=())
    deriver = Deriver()
    design = deriver.derive(job)
    row = next(one for one in TABLE if one.name == "source_states")
    parts = deriver._kept["source_states"][0]
    assert len(parts) == len(_GETTERS[row.name])
    state = state_named(design, "engine at cruise")
    assert state is not None
    pace = _pace()
    curves = min(_timed(lambda: filling(design, state, 0.2)) for _ in range(20)) / pace
    mixes = min(_timed(lambda: states_of_sources(*parts)) for _ in range(20)) / pace
    print(f"\na filling curve {curves:.1f} times the pace, {len(design.source_states.states)} states {mixes:.1f}")
    assert curves < 12.5 and mixes < 6.3
    benchmark.pedantic(lambda: filling(design, state, 0.2), rounds=20, iterations=1)


def _timed(do):
    start = time.perf_counter()
    do()
    return time.perf_counter() - start


def test_a_drag_in_place_of_sixty_items_and_a_hundred_and_twenty_cables(window):
    """Goals: every step answered and painted in under 33 ms at the 95th percentile, the long section in under 8, where
    to put the bank in under a second; as ratios to the pace (0.8 ms where these goals were set).
    """
    from msgspec.structs import replace
    from PySide6.QtCore import QPointF, Qt
    from PySide6.QtGui import QMouseEvent
    from PySide6.QtTest import QTest
    from PySide6.QtWidgets import QApplication

    from weighty_axle.answers.place.ways_filled import all_cables
    from weighty_axle.answers.place.where import where
    from weighty_axle.desk.app import settle_memory
    from weighty_axle.job.edits.edit import Edit
    from weighty_axle.job.models.place import Fitting, Outlet
    from weighty_axle.job.stated import Place, Size

    box = Size(length_m=0.2, width_m=0.2, height_m=0.3)
    fittings = tuple(
        Fitting(
            tag=f"FX{n}", name=f"Cabinet {n}", mass_kg=5.0, place=Place(x_m=1.0 + 0.28 * n, y_m=-0.5, z_m=2.3), size=box
        )
        for n in range(38)
    )
    outlets = tuple(
        Outlet(
            tag=f"OX{n}",
            name=f"Light {n}",
            kind="light",
            wall="ceiling",
            place=Place(x_m=1.0 + 0.12 * n, y_m=0.4, z_m=3.4),
            start="MAIN" if n % 2 else "DB1",
        )
        for n in range(86)
    )

    def crowd(job):
        return replace(job, fittings=(*job.fittings, *fittings), outlets=(*job.outlets, *outlets))

    assert window.session.apply(Edit("", crowd, system="*")) is None
    design = window.session.shown.design
    assert len(design.items) >= 60 and len(all_cables(design)) >= 120
    window.go("place")
    drawing = window.bench.view("place").leaf.drawing
    drawing.grab()
    start = drawing.panes()[1].at((6.2, 0.55, 0.0))
    QTest.mousePress(drawing, Qt.MouseButton.LeftButton, pos=start.toPoint())
    steps = cycle((*range(0, 60, 3), *range(60, 0, -3)))

    def drag():
        at = start + QPointF(-next(steps), 0)
        move = QMouseEvent(
            QMouseEvent.Type.MouseMove,
            at,
            drawing.mapToGlobal(at),
            Qt.MouseButton.LeftButton,
            Qt.MouseButton.LeftButton,
            Qt.KeyboardModifier.NoModifier,
        )
        drawing.mouseMoveEvent(move)
        QApplication.processEvents()

    for _ in range(5):
        drag()
    gc.collect()
    settle_memory()  # as the program does once it has started
    rounds = []
    for _ in range(3):  # the middle one counts: another program may pass by during any of them
        ratios = []
        for _ in range(80):
            began = time.perf_counter()
            drag()
            ratios.append((time.perf_counter() - began) / _pace())
        ratios.sort()
        rounds.append((ratios[75], ratios[40]))
    gc.unfreeze()
    most, median = sorted(rounds)[1]
    QTest.mouseRelease(drawing, Qt.MouseButton.LeftButton, pos=start.toPoint())
    window.go("bank")
    QApplication.processEvents()
    strip = window.bench.strip
    painted, paint_ratio = _against_pace(strip.repaint, 40)
    found, where_ratio = _against_pace(lambda: where(design, "bank", lambda _share, _words: None), 3)
    print(
        f"\ndrag in Place {median:.1f} times the pace, 95 of 100 under {most:.1f}; "
        f"strip {painted * 1000:.1f} ms, {paint_ratio:.1f}; where {found:.2f} s, {where_ratio:.0f}"
    )
    assert most < 52 and paint_ratio < 10 and where_ratio < 1250


def test_three_hundred_dc_branches_are_solved_and_all_states_of_the_demos(window):
    """Goals: 300 branches with loads of constant power in under 2 ms, all states of a demo in under 5 ms, the tree
    redrawn after an edit in under 33 ms; as ratios to the pace (0.8 ms where these goals were set). Beside a general
    power-flow library that is given the same branches anew, 50 times asked.
    """
    import pandapower
    from PySide6.QtWidgets import QApplication

    from weighty_axle.demos import demo
    from weighty_axle.design.derive import Deriver
    from weighty_axle.design.table import TABLE
    from weighty_axle.job.edits.edit import set_value
    from weighty_axle.physics.electric.network import Branch, Network, settle

    branches = [Branch("0", "bank", 1e-6, 50.0), Branch("bank", "s0", 0.001)]
    branches += [Branch(f"s{at}", f"s{at + 1}", 5e-6) for at in range(19)]
    watts = {}
    panel = 0
    while len(branches) < 300:
        branches.append(Branch(f"s{panel % 20}", f"p{panel}", 0.01))
        for at in range(min(5, 300 - len(branches))):
            branches.append(Branch(f"p{panel}", f"p{panel}c{at}", 0.08))
            watts[f"p{panel}c{at}"] = 30.0
        panel += 1

    def ours():
        assert not settle(Network(branches, "0"), drawn_w=watts, drawn_a={}, within_v=1e-5).collapsed

    def theirs():
        net = pandapower.create_empty_network(sn_mva=0.01)
        nodes = list(dict.fromkeys(node for one in branches[1:] for node in (one.start, one.end)))
        at = dict(zip(nodes, pandapower.create_buses(net, len(nodes), vn_kv=0.05), strict=True))
        pandapower.create_ext_grid(net, at["bank"])
        starts = [at[one.start] for one in branches[1:]]
        ends = [at[one.end] for one in branches[1:]]
        ohms = [one.ohm for one in branches[1:]]
        pandapower.create_lines_from_parameters(net, starts, ends, 1, ohms, 1e-9, 0, 1)
        pandapower.create_loads(net, [at[node] for node in watts], [power / 1e6 for power in watts.values()])
        pandapower.runpp(net, init="flat", tolerance_mva=1e-9, numba=False)
        assert net.converged
        return net.res_bus.vm_pu.min() * 50

    # The library's bank has no resistance: 1 µohm at some 120 A.
    found = settle(Network(branches, "0"), drawn_w=watts, drawn_a={}, within_v=1e-5)
    assert min(found.solution.node_v[node] for node in watts) == pytest.approx(theirs(), abs=5e-4)
    alone, ratio = _against_pace(ours, 40)
    engine, engine_ratio = _against_pace(theirs, 5)
    function = next(row.function for row in TABLE if row.name == "flow")
    states = []
    for name in ("eye-clinic", "library-bus"):
        deriver = Deriver()
        deriver.derive(demo(name))
        parts = deriver._kept["flow"][0]
        states.append(_against_pace(lambda parts=parts: function(*parts), 20)[1])
    window.go("wiring")
    window.bench.turn_to("Tree")
    QApplication.processEvents()
    lengths = cycle((1.4, 1.6))

    def edit():
        assert window.session.apply(set_value("wiring.main_lead_m", next(lengths), "Main lead")) is None
        QApplication.processEvents()

    edit()
    redrawn, redrawn_ratio = _against_pace(edit, 25)
    print(
        f"\n300 branches {alone * 1000:.2f} ms, {ratio:.1f} times the pace; a library {engine * 1000:.1f} ms, "
        f"{engine_ratio / ratio:.0f} times as long; demos {states[0]:.1f} and {states[1]:.1f} times; "
        f"the tree after an edit {redrawn * 1000:.0f} ms, {redrawn_ratio:.0f} times"
    )
    assert ratio < 2.5 and max(states) < 6.2 and redrawn_ratio < 41
    assert engine_ratio > 50 * ratio


def test_a_year_is_lived_and_thousands_are_swept():
    """Ratios in one run: an hourly year compiled against a tight plain loop (300 asked) and side by side on NumPy (20
    asked), a sweep on all cores against the same on NumPy (12 asked), the year of one plane against a general library's
    model chain (8 asked).
    """
    import warnings
    from concurrent.futures import ThreadPoolExecutor

    import numpy as np
    import pandas
    from tests.physics import test_year as world

    from weighty_axle.answers.year.lived import fast_kernel
    from weighty_axle.answers.year.sweep import WORKERS
    from weighty_axle.physics.solar import sun
    from weighty_axle.physics.year import columns as at
    from weighty_axle.physics.year.across import across

    fast = fast_kernel()
    year, one = world.arrays(days=365, plug=True), world.candidate()
    many = np.array([world.candidate(SUN_SCALE=scale) for scale in np.linspace(0.1, 3, 2000)])
    nothing, sums = np.zeros((0, at.STEP_COLUMNS)), np.zeros((2000, at.SUM_COLUMNS))

    def timed(work, times):
        work()
        return min(_once(work) for _ in range(times))

    # In turn, for the machine's own pace drifts: the middle of rounds.
    rounds = []
    for _ in range(9):
        plain = timed(lambda: world._plain_days(year, one), 1)
        rounds.append((plain / timed(lambda: fast.live(year, one, nothing, sums[0]), 30), plain))
    times_plain, plain_s = sorted(rounds)[4]
    fast_s = plain_s / times_plain
    across_s = timed(lambda: across(year, many, sums), 1)

    def swept():
        parts = np.array_split(np.arange(2000), 8 * WORKERS)
        with ThreadPoolExecutor(max_workers=WORKERS) as pool:
            list(pool.map(lambda rows: fast.many(year, many[rows], sums[rows]), parts))

    swept_s = timed(swept, 2)

    from pvlib import location, modelchain, pvsystem
    from pvlib.temperature import TEMPERATURE_MODEL_PARAMETERS

    place = location.Location(46.0, 8.0, altitude=300)
    mount = pvsystem.FixedMount(surface_tilt=30, surface_azimuth=180)
    array = pvsystem.Array(
        mount,
        module_parameters={"pdc0": 400, "gamma_pdc": -0.0035},
        temperature_model_parameters=TEMPERATURE_MODEL_PARAMETERS["sapm"]["open_rack_glass_polymer"],
    )
    system = pvsystem.PVSystem([array], inverter_parameters={"pdc0": 400})
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        chain = modelchain.ModelChain(system, place, aoi_model="no_loss", spectral_model="no_loss")
        times = pandas.date_range("2025-01-01 00:30", periods=8760, freq="1h", tz="UTC")
        sky = place.get_clearsky(times, linke_turbidity=3.0)

        def theirs():
            chain.run_model(sky)

        chain_s = timed(theirs, 2)
    day, hour = np.repeat(np.arange(1, 366), 24), np.tile(np.arange(24) + 0.5, 365)

    def ours():
        where = sun.position(latitude_deg=46.0, longitude_deg=8.0, day=day, utc_h=hour)
        clear = sun.clear_sky(elevation_deg=where.elevation_deg, day=day, height_m=300.0, turbidity=3.0)
        beam, diffuse = sun.plane_of_array_w_per_m2(clear, where, tilt_deg=30, surface_azimuth_deg=180, albedo=0.25)
        light = beam + diffuse
        cells = sun.cell_c(air_c=20.0, irradiance_w_per_m2=light, rise_c=30.0)
        return 400 * light / 1000 * (1 - 0.0035 * (cells - 25))

    plane_s = timed(ours, 5)
    theirs_kwh = float(chain.results.dc.sum()) / 1000
    assert float(ours().sum()) / 1000 == pytest.approx(theirs_kwh, rel=0.06), "the same plane, models named above"
    print(
        f"\na year hour by hour {1000 * fast_s:.2f} ms, {plain_s / fast_s:.0f} times a plain loop; on NumPy "
        f"{plain_s / (across_s / 2000):.0f} times; 2000 designs {swept_s:.2f} s, {across_s / swept_s:.1f} times NumPy; "
        f"a plane's year {1000 * plane_s:.1f} ms, {chain_s / plane_s:.0f} times a model chain"
    )
    assert times_plain > 250 and plain_s > 17 * across_s / 2000 and across_s > 10 * swept_s
    assert chain_s > 8 * plane_s


def test_whole_designs_are_proposed():
    """Goal: all three for the coach in 10 s and the first in 3 where the pace is 0.8 ms."""
    from weighty_axle import demos
    from weighty_axle.answers.year.lived import fast_kernel
    from weighty_axle.studies.propose import propose

    fast_kernel()
    list(propose(demos.demo("puppet-theatre")))
    pace = statistics.median(_pace() for _ in range(50))
    start, seconds = time.perf_counter(), []
    for one in propose(demos.demo("eye-clinic")):
        assert not one.stops
        seconds.append(time.perf_counter() - start)
    pace = statistics.median((pace, *(_pace() for _ in range(50))))
    print(f"\nproposals of the coach: {', '.join(f'{one:.1f}' for one in seconds)} s; {seconds[-1] / pace:.0f} times")
    assert len(seconds) == 3 and seconds[0] < 3750 * pace and seconds[-1] < 12_500 * pace


def _once(work):
    from time import perf_counter

    start = perf_counter()
    work()
    return perf_counter() - start


def test_cuts_are_nested_tasks_levelled_and_the_pack_written(tmp_path):
    """Goals: 120 cuts over 8 conductors nested to the proven optimum, or to a metre, within 3 s; 150 tasks and 4 people
    levelled within 2 % of the bound within 5 s; the whole pack of the coach within 10 s.
    """
    import random
    from datetime import date

    from weighty_axle.demos import demo
    from weighty_axle.design.derive import derive
    from weighty_axle.exports.pack import write_pack
    from weighty_axle.physics.search.cutting import nested
    from weighty_axle.physics.search.scheduling import Work, levelled
    from weighty_axle.rules.judge import judge

    dice = random.Random(3)
    kinds = [[round(dice.uniform(0.4, 9.0), 2) for _ in range(15)] for _ in range(8)]
    nested([1.0], (), 2.0)  # the library is imported
    start = time.perf_counter()
    found = []
    for left, cuts in zip(range(8, 0, -1), kinds, strict=True):  # shared out as answers.cuts.reels does
        share_s = max(0.0, start + 3.0 - time.perf_counter()) / left
        found.append(nested(cuts, (3.2, 1.7, 6.0), 25.0, 0.002, 1.0, share_s))
    cut_s = time.perf_counter() - start
    gap = sum(one.bought_m + one.scrap_m - one.bound_m for one in found)

    skills = [(0, 1, 2), (0, 1, 2), (0, 1, 2, 3), (1, 3), (2, 3)]
    works = [
        Work(
            dice.randint(1, 24),
            tuple({dice.randrange(max(0, at - 25), at) for _ in range(dice.randint(0, 2))} if at else ()),
            dice.choice(skills),
            dice.choice((0, 0, 0, 0, dice.randint(0, 200))),
        )
        for at in range(150)
    ]
    away = [[(160, 192)], [], [(0, 64)], [(64, 96), (300, 332)]]
    start = time.perf_counter()
    plan = levelled(works, away, 16, 4.5)
    plan_s = time.perf_counter() - start

    design = derive(demo("eye-clinic"))
    findings = judge(design)
    start = time.perf_counter()
    write_pack(design, findings, tmp_path, today=date(2027, 3, 1), system="metric")
    pack_s = time.perf_counter() - start
    print(
        f"\n120 cuts over 8 conductors {cut_s:.1f} s, {sum(one.proven for one in found)} of 8 proven, gap {gap:.2f} m; "
        f"150 tasks {plan_s:.1f} s, end {plan.end} against {plan.bound}; the coach's pack {pack_s:.1f} s"
    )
    assert cut_s < 3.5 and (all(one.proven for one in found) or gap < 1.0)
    assert plan_s < 6 and plan.end <= 1.02 * plan.bound
    assert pack_s < 15
