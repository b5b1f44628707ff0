"""Speed of the simulated plant: `pytest benchmarks/test_plant.py`. The figures to reach stand beside each check."""

from __future__ import annotations

import time

from weighty_axle import demos
from weighty_axle.design.derive import derive
from weighty_axle.plant.beside import beside
from weighty_axle.plant.reader import Reader
from weighty_axle.plant.registers import image, read
from weighty_axle.plant.server import PlantServer
from weighty_axle.plant.serving import running


def test_a_second_of_the_plant_passes_in_under_a_millisecond():
    plant = running(derive(demos.demo("eye-clinic")))
    plant.run(60)
    began = time.process_time()
    plant.run(600)
    each_ms = (time.process_time() - began) / 600 * 1000
    print(f"a second of the plant: {each_ms:.2f} ms")
    assert each_ms < 1.0


def test_a_live_view_costs_under_a_twentieth_of_a_core():
    """What one reading a second costs: asked over the wire, taken apart, set beside predictions."""
    design = derive(demos.demo("eye-clinic"))
    server = PlantServer(running(design))
    reader = Reader("127.0.0.1", server.start())
    reader.all()
    began = time.process_time()
    for _ in range(10):
        found = beside(design, reader.all())
    each_ms = (time.process_time() - began) / 10 * 1000
    began = time.perf_counter()
    registers = image(server.plant)
    beside(design, read(registers, with_settings=False))
    own_ms = (time.perf_counter() - began) * 1000
    reader.close()
    server.stop()
    print(
        f"a reading of {len(found)} points, both ends of the wire: {each_ms:.1f} ms; the window's part {own_ms:.1f} ms"
    )
    assert each_ms < 50 and own_ms < 50
