"""A plant that runs: started by the book, under load and sun, with the faults somebody names; served until stopped."""

from __future__ import annotations

import time
from pathlib import Path

from weighty_axle.design.table import Design
from weighty_axle.exports.tables.cells import csv_bytes
from weighty_axle.job.files.disk import replacing
from weighty_axle.plant.faults import KINDS, Fault, faults_of
from weighty_axle.plant.measuring import acceptance
from weighty_axle.plant.plant import Plant
from weighty_axle.plant.server import PlantServer

LOAD_SHARE, SUN = 0.5, 700.0
"""What a running plant carries of the inverters' rating, and the sun on it [W/m2]."""


def running(design: Design, faults: tuple[Fault, ...] = ()) -> Plant:
    """A plant that has been started by the book, with half of its load on and the sun out."""
    plant = Plant(design, faults)
    for key, control in plant.controls.items():
        if control.group == "Bank":
            plant.turn(key, "on")
    plant.cap_v = plant.packs.behind(plant.packs.strings)[0]
    for key, control in plant.controls.items():
        if key not in ("pre-charge", "plug", "engine") and control.group not in ("Bank", "Outside"):
            plant.turn(key, control.up)
    stack = design.job.inverters
    plant.heater_w = LOAD_SHARE * stack.spec.continuous_va * len(stack.units)
    plant.sun_w_per_m2 = SUN
    plant.run(1.0)
    return plant


def fault_named(design: Design, name: str) -> Fault:
    """A fault by its kind, or kind and place: 'bad joint', 'dead string S2'.

    Raises: RuntimeError with a sentence.
    """
    possible = faults_of(design)
    found = next((one for one in possible if name in (one.kind, f"{one.kind} {one.place}")), None)
    if found is not None:
        return found
    kinds = ", ".join(kind for kind in KINDS if any(one.kind == kind for one in possible))
    raise RuntimeError(f"There is no fault {name!r} here; there are: {kinds}.")


def write_readings(design: Design, faults: list[str], path: Path) -> Path:
    """What meters show in the acceptance tests of such a plant, and what its units say: for `diagnose`, or to practise.

    Raises: OSError; RuntimeError with a sentence.
    """
    _, readings = acceptance(design, tuple(fault_named(design, one) for one in faults))
    with replacing(path) as file:
        file.write(csv_bytes(("key", "read"), list(readings.items())))
    return path


def serve(design: Design, port: int, faults: list[str], speed: float, seconds: float | None) -> int:
    """Serve a running plant until it is interrupted, or for some seconds; returns the exit status.

    Raises: RuntimeError with a sentence.
    """
    if not 0 < speed <= 1000:
        raise RuntimeError("The speed is between 0 and 1000.")
    if not 0 <= port <= 65535:
        raise RuntimeError("A port is between 0 and 65535.")
    server = PlantServer(running(design, tuple(fault_named(design, one) for one in faults)), port, speed)
    found = server.start()
    print(f"The simulated plant of {design.whole.name} answers on 127.0.0.1, port {found}. Ctrl+C ends it.", flush=True)
    until = time.monotonic() + seconds if seconds is not None else None
    try:
        while until is None or time.monotonic() < until:
            time.sleep(0.1)
    except KeyboardInterrupt:
        print()
    finally:
        server.stop()
    return 0
