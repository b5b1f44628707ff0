"""The tree by mouse and by keys: states, ways, a bad joint, and that it follows what is dragged in Place."""

from __future__ import annotations

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from tests.desk.driving import area, leaf
from weighty_axle.job.edits.edit import move


def test_the_tree_is_walked_by_mouse_and_keys_and_a_joint_goes_bad(open_window, qapp):
    window = open_window("demo:library-bus")
    part = leaf(window, "wiring", "Tree")
    assert part.model.record(0).name == "each way at its own worst"
    assert "none in W-MAIN" in part.told.text(), "what is told stands there before anything is pressed"
    qapp.processEvents()
    part.picture.grab()
    QTest.mouseClick(part.picture, Qt.MouseButton.LeftButton, pos=area(part.picture, "W-INV1").toPoint())
    assert part.picture.chosen().tag == "W-INV1"
    QTest.keyClick(part.picture, Qt.Key.Key_Down)
    assert part.picture.chosen().tag == "W-INV2"
    QTest.keyClick(part.slider, Qt.Key.Key_End)
    assert "20.0 mΩ in W-INV2" in part.told.text()
    heat = part.picture.joint.heat_w
    assert heat.value == pytest.approx(heat.inputs[0].value ** 2 * 0.02, rel=1e-9)
    full = next(at for at, row in enumerate(part.model._rows) if row.key.startswith("full"))
    part.table.selectRow(full)
    assert part.picture.state is part.model.record(full).state
    part.picture.grab()
    part.slider.setValue(0)
    assert part.picture.joint is None and "none in W-INV2" in part.told.text()


def test_what_is_dragged_in_place_is_solved_again_at_once(open_window):
    window = open_window("demo:library-bus")
    part = leaf(window, "wiring", "Tree")
    before = {one.tag: one.drop_share.value for one in window.session.shown.design.flow.ways}
    assert window.session.apply(move(("INV1",), dx_m=-0.5)) is None
    after = {one.tag: one.drop_share.value for one in window.session.shown.design.flow.ways}
    assert after["W-INV1"] > before["W-INV1"]
    part.picture.grab()
