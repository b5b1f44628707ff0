"""Place in the real window: where a thing should go, how warm bays get, what lies in ways, where cables come out."""

from __future__ import annotations

from datetime import date

import pytest
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest

from tests.desk.driving import area, choose, drag, leaf, press

KEY, SHIFT = Qt.Key, Qt.KeyboardModifier.ShiftModifier


def rows(part, model="model"):
    found = getattr(part, model)
    return [found.record(at) for at in range(found.rowCount())]


def column(model, name):
    said = [
        str(model.headerData(n, Qt.Orientation.Horizontal, Qt.ItemDataRole.DisplayRole)).split(",")[0]
        for n in range(model.columnCount())
    ]
    return said.index(name)


def test_where_should_it_go_is_answered_and_taken_with_one_press(open_window, qtbot):
    window = open_window("demo:puppet-theatre")
    part = leaf(window, "place", "Where")
    press(part, "Put it there")
    assert "Ask first" in part.said.text()
    choose(part, "What is to be placed", "bank")
    press(part, "Where should it go?")
    qtbot.waitUntil(lambda: bool(rows(part)), timeout=60_000)
    best = rows(part)[0]
    assert part.said.text() == best.reason and part.figures.isVisible()
    at = next(at for at, one in enumerate(rows(part)) if not one.now)
    part.table.selectRow(at)
    wanted = rows(part)[at]
    before = window.session.shown.whole
    press(part, "Put it there")
    design = window.session.shown.design
    tightest = min(design.place.axles, key=lambda axle: axle.margin_kg.value / axle.limit_kg)
    assert tightest.margin_kg.value == pytest.approx(wanted.margin_kg.value)
    assert design.place.right_minus_left_kg.value == pytest.approx(wanted.side_kg.value)
    assert rows(part), "moving what was asked about leaves the answer"
    window.session.undo()
    assert window.session.shown.whole == before
    press_more = leaf(window, "bank", "Links")
    press(press_more, "One pack more")
    assert not rows(leaf(window, "place", "Where")), "another bank: another question"


def test_a_fan_typed_at_a_bay_cools_it_as_its_chart_tells(open_window):
    window = open_window("demo:library-bus")
    part = leaf(window, "place", "Heat")
    model = part.model
    at = next(at for at, one in enumerate(rows(part)) if one.tag == "B2")
    part.table.selectRow(at)
    assert part.chart.bay().tag == "B2" and window.session.selection == ("B2",)
    before, fan = rows(part)[at], column(model, "Fan")
    assert before.moved_m3_h is None and not part.chart.grab().isNull()
    for typed in ("much", "-5"):
        assert not model.setData(model.index(at, fan), typed) and part.said.text()
    assert model.setData(model.index(at, fan), "400")
    after = rows(part)[at]
    assert after.moved_m3_h.value == 400 and after.peak_c.value < before.peak_c.value
    # At its warmest the bay is no warmer than the losses then would make it for good.
    assert after.peak_c.value <= after.settles_c.value + 1e-6
    assert part.chart.grab() is not None and any(figure is after.peak_c for _, figure in part.chart.figures)
    window.session.undo()
    assert rows(part)[at].moved_m3_h is None


def test_a_way_made_longer_lengthens_every_cable_in_it_and_nothing_else(open_window):
    window = open_window("demo:eye-clinic")
    part = leaf(window, "place", "Ways")
    at = next(at for at, one in enumerate(rows(part, "ways")) if one.cables)
    own = rows(part, "ways")[at]
    part.way_table.selectRow(at)
    assert window.session.selection == (own.way.tag, *(one.tag for one in own.cables))
    lengths = {one.tag: one.length_m for one in rows(part, "cables")}
    where = column(part.ways, "Length")
    assert not part.ways.setData(part.ways.index(at, where), "long") and part.said.text()
    assert part.ways.setData(part.ways.index(at, where), f"{own.way.length_m + 0.5} m")
    now = {one.tag: one.length_m for one in rows(part, "cables")}
    through = {
        one.tag
        for one in rows(part, "cables")
        if one.path is not None and own.way.tag in [w.tag for w in one.path.ways]
    }
    for tag, length in now.items():
        if tag in through and length.formula != "measured":
            assert length.value == pytest.approx(lengths[tag].value + 0.5), tag
        elif tag in lengths and tag not in {one.tag for one in own.cables}:
            assert length.value == pytest.approx(lengths[tag].value), tag
    assert through
    filled = rows(part, "ways")[at]
    assert filled.fill_share.value == pytest.approx(own.fill_share.value)
    clear = column(part.ways, "Clear")
    assert part.ways.setData(part.ways.index(at, clear), str(own.way.clear_mm * 2))
    assert rows(part, "ways")[at].fill_share.value == pytest.approx(own.fill_share.value / 4, rel=1e-6)
    part.table.selectRow(0)
    first = rows(part, "cables")[0]
    assert set(window.session.selection) == {first.tag, first.start, first.end}


def test_an_outlet_is_put_dragged_nudged_and_remembered_behind_a_closed_wall(open_window):
    window = open_window("demo:eye-clinic")
    part = leaf(window, "place", "First fix")
    count = len(rows(part))
    press(part, "Left")
    press(part, "Add an outlet here")
    made = rows(part)[-1]
    assert len(rows(part)) == count + 1 and made.wall == "left" and window.session.selection == (made.tag,)
    drawing = part.drawing
    drawing.grab()
    start = area(drawing, made.tag)
    view, scale, _ = drawing._frame()
    drag(drawing, start, start + QPointF(0.5 * scale, -0.2 * scale))
    moved = rows(part)[-1]
    assert abs(moved.place.x_m - made.place.x_m) == pytest.approx(0.5, abs=0.05)
    assert moved.place.z_m - made.place.z_m == pytest.approx(0.2, abs=0.05)
    assert moved.place.y_m == made.place.y_m
    QTest.keyClick(drawing, KEY.Key_Up)
    QTest.keyClick(drawing, KEY.Key_Up, SHIFT)
    assert rows(part)[-1].place.z_m == pytest.approx(moved.place.z_m + 0.11)
    # Never off its wall, however far it is dragged.
    drawing.grab()
    drag(drawing, area(drawing, made.tag), area(drawing, made.tag) + QPointF(0, -4000))
    assert rows(part)[-1].place.z_m <= view.bottom_m + view.high_m + 1e-6
    window.session.undo(3)
    press(part, "Close this wall")
    (closed,) = [one for one in window.session.shown.whole.closed if one.wall == "left"]
    assert closed.closed_on == date.today().isoformat() and "Open this wall" in {
        b.text() for b in part.presses.values()
    }
    along = column(part.model, "Along")
    assert part.model.setData(part.model.index(count, along), f"{rows(part)[count].place.x_m + 0.4:.2f}")
    ids = {one.rule.id for one in window.session.shown.findings if made.tag in one.tags}
    assert any("wall" in one or "closed" in one for one in ids), "what changed behind the wall is told"
    press(part, "Open this wall")
    assert not any(one.wall == "left" for one in window.session.shown.whole.closed)
    part.table.selectRow(count)
    press(part, "Remove it")
    assert len(rows(part)) == count
