"""Lading and fixing in the window: water that is added moves the axles, what is loose is held, and back again."""

from __future__ import annotations

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from tests.desk.driving import leaf, press
from weighty_axle.job.edits.edit import value_at
from weighty_axle.job.edits.sheet import set_stated


def _type_into(view, row, heading, text, model=None):
    model = model or view.model
    column = next(
        at
        for at in range(model.columnCount())
        if model.headerData(at, Qt.Orientation.Horizontal, Qt.ItemDataRole.DisplayRole) == heading
    )
    return model.setData(model.index(row, column), text, Qt.ItemDataRole.EditRole)


def test_water_is_added_and_the_axles_answer(open_window):
    """Fresh water 1.5 m behind the front axle: what it adds by moments, at its axle's own worst state."""
    window = open_window("demo:puppet-theatre")
    view = leaf(window, "place", "Lading")
    before = {one.tag: one.load_kg.value for one in window.session.shown.design.place.axles}
    press(view, "Add what comes and goes")
    row = view.model.rowCount() - 1
    for heading, text in (("Most", "250 kg"), ("Along", "2.0 m")):
        assert _type_into(view, row, heading, text)
    design = window.session.shown.design
    after = {one.tag: one.load_kg.value for one in design.place.axles}
    assert sum(after.values()) - sum(before.values()) == pytest.approx(250.0)
    assert all(
        "Fresh water full" in one.load_kg.limit for one in design.place.axles if after[one.tag] > before[one.tag]
    )
    view.chart.grab()
    assert {figure.name for _, figure in view.chart.figures} >= {f"{tag} load" for tag in after}


def test_what_is_loose_is_held_and_weak_bolts_are_made_enough(open_window):
    window = open_window("demo:puppet-theatre")
    view = leaf(window, "place", "Fixing")
    loose = window.session.shown.design.holds.loose
    assert loose and all(tag in view.asked.text() for tag in loose)
    press(view, "Hold what is loose")
    assert window.session.shown.design.holds.loose == () and "Nothing is loose" in view.asked.text()
    assert view.model.rowCount() == len(loose)
    # One of them in plywood, in a class that asks for far more.
    tag = window.session.shown.whole.holds[0].tag
    path = f"holds[{tag}]"
    row = next(at for at in range(view.model.rowCount()) if view.model.record(at).hold.tag == tag)
    view.table.setCurrentIndex(view.model.index(row, 0))
    window.session.apply(set_stated("vehicle.hold_forward_g", 50.0, "Fixings hold, forward"))
    window.session.apply(set_stated(f"{path}.into", "plywood", "Into"))
    assert window.session.shown.design.holds.holds[tag].use_share.value > 1
    press(view, "Enough bolts for this one")
    assert window.session.shown.design.holds.holds[tag].use_share.value <= 1
    assert value_at(window.session.shown.whole, f"{path}.bolt") in ("M8", "M10", "M12")
    for _ in range(4):
        QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert window.session.shown.design.holds.loose == loose


def test_what_is_kept_away_from_is_surveyed_and_found(open_window):
    """A gas locker is added at the survey and put where an inverter stands: a Stop, until it is moved away."""
    window = open_window("demo:puppet-theatre")
    view = leaf(window, "vehicle", "Bays and ways")
    press(view, "Add one")
    model = view.models["vehicle.zones"]
    inverter = next(one for one in window.session.shown.design.items if one.tag == "INV1").place
    for heading, value in (("Along", inverter.x_m), ("Across", inverter.y_m), ("Up", inverter.z_m)):
        assert _type_into(view, 0, heading, f"{value} m", model)
    assert "INV1" in {one.tag for one in window.session.shown.design.room.near}
    assert _type_into(view, 0, "Along", f"{inverter.x_m + 3} m", model)
    assert "INV1" not in {one.tag for one in window.session.shown.design.room.near}
    _type_into(view, 0, "Kind", "smoke", model)
    assert "Kind is one of: gas, fuel" in view.said.text()
    assert window.session.shown.whole.vehicle.zones[0].kind == "gas"
