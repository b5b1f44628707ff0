from __future__ import annotations

from msgspec.structs import replace

from tests.building import APART
from weighty_axle.design.derive import derive
from weighty_axle.design.inverters.selectors import accepted_at, change_order
from weighty_axle.job.edits.inverters import set_stacking


def test_the_card_speaks_of_the_position_turned_to(library_bus):
    selector = library_bus.ac.selectors[0]
    to_split = " ".join(
        change_order(selector, "Split-phase", set_stacking("legs_in_phase").apply(library_bus).inverters)
    )
    assert "120/240 V" in to_split and "line to line" in to_split
    to_phase = " ".join(change_order(selector, "In phase", library_bus.inverters))
    assert "0 V between lines" in to_phase
    generator = replace(APART, tag="GEN", name="Generator", kind="generator")
    steps = change_order(selector, "In phase", replace(library_bus.inverters, sources=(generator,)))
    assert next(at for at, step in enumerate(steps) if "generator" in step) < next(
        at for at, step in enumerate(steps) if step.startswith("Unplug")
    )
    design = derive(library_bus)
    assert accepted_at(design.states, selector, "Split-phase", library_bus.inverters.sources)[0].startswith("50 A")
    assert accepted_at(design.states, selector, "Off", library_bus.inverters.sources) == ()
