"""The working drawing by mouse alone and by keyboard alone: bays opened, rest, frame, turn, boards, first fix."""

from __future__ import annotations

import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from tests.desk.driving import area, drag, press, retype
from weighty_axle.desk.kit.fields import Entry
from weighty_axle.job.edits.bank import set_pack_count

KEY = Qt.Key
SHIFT = Qt.KeyboardModifier.ShiftModifier


@pytest.fixture
def place(open_window):
    window = open_window("demo:eye-clinic")
    window.go("place")
    leaf = window.bench.view("place").leaf
    leaf.drawing.setFocus()
    return window, leaf


def _item(window, tag):
    return next(one for one in window.session.shown.design.items if one.tag == tag)


def _open(leaf, bay):
    leaf.bays.setCurrentIndex(leaf.bays.findData(bay))
    leaf.bays.activated.emit(leaf.bays.currentIndex())
    leaf.drawing.grab()


def test_in_an_opened_bay_a_thing_moves_in_all_three_directions_and_rests_on_the_floor(place):
    window, leaf = place
    _open(leaf, "B2")
    drawing = leaf.drawing
    scale = {one.view: one.scale for one in drawing.panes()}
    before = _item(window, "INV1").place
    start = area(drawing, "side INV1")
    drag(drawing, start, start + QPointF(0, 0.06 * scale["side"]))
    assert _item(window, "INV1").place.z_m == pytest.approx(0.42), "it comes to rest on the floor of the bay"
    start = area(drawing, "top INV1")
    drag(drawing, start, start + QPointF(0, 0.31 * scale["top"]))
    assert _item(window, "INV1").place.y_m < before.y_m - 0.2
    assert _item(window, "INV1").place.x_m == pytest.approx(before.x_m), "and stays where it was along"
    start = area(drawing, "end INV1")
    drag(drawing, start, start + QPointF(0, -0.33 * scale["end"]))
    assert _item(window, "INV1").place.z_m > 0.6


def test_a_frame_and_shift_choose_several_that_move_and_turn_as_one(place):
    window, leaf = place
    _open(leaf, "B2")
    drawing = leaf.drawing
    top = next(one for one in drawing.panes() if one.view == "top")
    drag(drawing, top.at((5.12, 1.2, 0.0)), top.at((6.3, 0.6, 0.0)))
    assert set(window.session.selection) == {"INV1", "INV2"}
    QTest.mouseClick(drawing, Qt.MouseButton.LeftButton, SHIFT, area(drawing, "top DB1").toPoint())
    assert set(window.session.selection) == {"INV1", "INV2", "DB1"}
    press(leaf, "Turn")
    assert _item(window, "DB1").turn_deg == 90 and _item(window, "INV1").turn_deg == 90
    assert len(window.session.undo_steps()) == 1
    window.session.undo()
    press(leaf, "Build as one")
    board = window.session.shown.whole.assemblies[-1]
    assert set(board.items) == {"INV1", "INV2", "DB1"}
    window.session.select()
    before = {tag: _item(window, tag).place.y_m for tag in board.items}
    start = area(drawing, "top INV2")
    drag(drawing, start, start + QPointF(0, 0.2 * top.scale))
    moved = {round(before[tag] - _item(window, tag).place.y_m, 3) for tag in board.items}
    assert len(moved) == 1 and moved != {0.0}, "the board moves as one"
    window.session.select("INV2")
    press(leaf, "Take apart")
    assert board.tag not in {one.tag for one in window.session.shown.whole.assemblies}


def test_by_keys_alone_a_thing_is_chosen_turned_and_hung_under_the_ceiling(place):
    window, leaf = place
    drawing = leaf.drawing
    while "INV1" not in window.session.selection:
        QTest.keyClick(drawing, KEY.Key_N)
    QTest.keyClick(drawing, KEY.Key_B)
    assert drawing.bay == "B2"
    for key, axis, value in (
        (KEY.Key_F, "z_m", 0.42),
        (KEY.Key_C, "z_m", 1.4 - 0.24),
        (KEY.Key_R, "y_m", 1.275 - 0.165),
    ):
        QTest.keyClick(drawing, key)
        assert getattr(_item(window, "INV1").place, axis) == pytest.approx(value)
    QTest.keyClick(drawing, KEY.Key_Right, SHIFT)
    assert _item(window, "INV1").place.x_m == pytest.approx(5.55)
    QTest.keyClick(drawing, KEY.Key_T)
    assert _item(window, "INV1").size.length_m == pytest.approx(0.33)
    QTest.keyClick(drawing, KEY.Key_Escape)
    assert drawing.bay == ""


def test_the_wheel_looks_nearer_where_the_hand_is(place):
    _, leaf = place
    drawing = leaf.drawing
    at = area(drawing, "top FT2")
    point = drawing.panes()[1]
    metres = point.shift(at.x() - point.area.center().x(), at.y() - point.area.center().y())
    where = (point.middle[0] + metres[0], point.middle[1] + metres[1], 0.0)
    for _ in range(3):
        QApplication.sendEvent(
            drawing,
            QWheelEvent(
                at,
                drawing.mapToGlobal(at),
                QPoint(),
                QPoint(0, 120),
                Qt.MouseButton.NoButton,
                Qt.KeyboardModifier.NoModifier,
                Qt.ScrollPhase.NoScrollPhase,
                False,
            ),
        )
    now = drawing.panes()[1]
    assert now.scale == pytest.approx(point.scale * 1.2**3)
    assert now.at(where).x() == pytest.approx(at.x(), abs=0.5) and now.at(where).y() == pytest.approx(at.y(), abs=0.5)
    press(leaf, "All of it")
    assert drawing.panes()[1].scale == pytest.approx(point.scale)


def test_an_overloaded_axle_is_told_while_dragging(place):
    """The finding is there before the hand lets go."""
    window, leaf = place
    drawing = leaf.drawing
    start = area(drawing, "top BP1")
    scale = drawing.panes()[0].scale
    QTest.mousePress(drawing, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, start.toPoint())
    QTest.mouseMove(drawing, (start + QPointF(-3.6 * scale, 0)).toPoint())
    QApplication.processEvents()
    assert "place.axle-over-plate" in {one.rule.id for one in window.session.shown.findings}
    drawing.grab()  # with distances
    QTest.mouseRelease(drawing, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, start.toPoint())


def test_first_fix_by_hand_wall_by_wall(place):
    window, leaf = place
    window.bench.turn_to("First fix")
    leaf = window.bench.view("place").leaf
    drawing = leaf.drawing
    leaf.turn("left")
    drawing.grab()
    press(leaf, "Add an outlet here")
    made = window.session.shown.whole.outlets[-1]
    assert made.wall == "left" and made.place.y_m == pytest.approx(-1.275)
    drawing.setFocus()
    QTest.keyClick(drawing, KEY.Key_Right, SHIFT)
    assert window.session.shown.whole.outlets[-1].place.x_m == pytest.approx(made.place.x_m - 0.1), "front at the right"
    drawing.grab()
    _, scale, _ = drawing._frame()
    start = area(drawing, made.tag)
    drag(drawing, start, start + QPointF(0, -0.5 * scale))
    assert window.session.shown.whole.outlets[-1].place.z_m == pytest.approx(made.place.z_m + 0.5, abs=0.03)
    press(leaf, "Close this wall")
    assert window.session.shown.whole.closed[0].wall == "left"
    QTest.keyClick(drawing, KEY.Key_Up)
    assert "place.behind-closed-wall" in {one.rule.id for one in window.session.shown.findings}
    press(leaf, "Open this wall")
    assert not window.session.shown.whole.closed
    press(leaf, "Remove it")
    assert made.tag not in {one.tag for one in window.session.shown.whole.outlets}


def test_every_cable_stands_in_ways_with_its_length(place):
    window, _ = place
    window.bench.turn_to("Ways")
    leaf = window.bench.view("place").leaf
    cells = [[leaf.cables.index(row, column).data() for column in range(6)] for row in range(leaf.cables.rowCount())]
    main = next(row for row in cells if row[0] == "W-MAIN")
    assert main[3] == "WW1" and main[4].startswith("3.08")
    leaf.way_table.selectRow(0)
    assert {"WW1", "W-MAIN"} <= set(window.session.selection)


@pytest.mark.parametrize("what", ["bank", "inverters"])
def test_where_it_should_go_is_answered_in_the_background_and_taken_at_one_press(place, qtbot, what):
    window, _ = place
    window.bench.turn_to("Where")
    leaf = window.bench.view("place").leaf
    leaf.what.setCurrentIndex(leaf.what.findData(what))
    press(leaf, "Put it there")
    assert "Ask first" in leaf.said.text()
    press(leaf, "Where should it go?")
    qtbot.waitUntil(lambda: leaf.model.rowCount() > 0, timeout=20_000)
    leaf.table.selectRow(1)
    chosen = leaf.model.record(1)
    press(leaf, "Put it there")
    assert window.session.shown.design.items != ()
    worst = min(window.session.shown.design.place.axles, key=lambda one: one.margin_kg.value / one.limit_kg)
    assert worst.margin_kg.value == pytest.approx(chosen.margin_kg.value)
    assert len(window.session.undo_steps()) == 1
    assert window.session.apply(set_pack_count(7)) is None
    assert leaf.model.rowCount() == 0, "what was worked out for six packs is no answer for seven"


def test_heat_is_drawn_and_a_smaller_fan_makes_it_warmer(place):
    window, _ = place
    window.bench.turn_to("Heat")
    leaf = window.bench.view("place").leaf
    leaf.table.selectRow(0)
    before = leaf.chart.bay().peak_c.value
    leaf.chart.grab()
    assert leaf.model.setData(leaf.model.index(0, 4), "40", Qt.ItemDataRole.EditRole)
    assert leaf.chart.bay().peak_c.value > before
    assert "place.fan-too-small" in {one.rule.id for one in window.session.shown.findings}


def test_a_length_is_measured_and_forgotten_again(place):
    """Typed it wins; emptied the drawing is back."""
    window, _ = place
    window.go("inverters")
    window.bench.turn_to("Panels")
    leaf = window.bench.view("inverters").leaf
    window.session.select("CK1")
    drawn = window.session.shown.design.house.lengths_m["CK1"].value
    entry = next(one for one in leaf.findChildren(Entry) if one.placeholderText() == "drawn, or 5 m")
    retype(entry, "9.5 m")
    assert window.session.shown.design.house.lengths_m["CK1"].value == 9.5
    entry.clear()
    QTest.keyClick(entry, KEY.Key_Return)
    assert window.session.shown.design.house.lengths_m["CK1"].value == pytest.approx(drawn)
    window.go("place")
    window.bench.turn_to("First fix")
    model = window.bench.view("place").leaf.model
    for text, length in (("3.3 m", 3.3), ("", by_outlet(window, "OU1"))):
        assert model.setData(model.index(0, 10), text, Qt.ItemDataRole.EditRole)
        assert by_outlet(window, "OU1") == pytest.approx(length)


def by_outlet(window, tag):
    return next(one.length_m.value for one in window.session.shown.design.house.cables if one.tag == tag)
