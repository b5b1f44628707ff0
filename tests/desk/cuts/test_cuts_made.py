"""Cuts in the real window: ticked off, off which reel, the shop's stock, labels, boards."""

from __future__ import annotations

from collections import Counter

import pytest
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest

from tests.building import v
from tests.desk.driving import area, choose, drag, entry, leaf, press, retype
from weighty_axle import demos
from weighty_axle.answers.cuts.conductors import cuts
from weighty_axle.answers.plan.board import board_plans
from weighty_axle.design.derive import derive
from weighty_axle.desk.work.days import today
from weighty_axle.exports.drawings.marks import Words
from weighty_axle.job.edits.build import cut_made
from weighty_axle.job.edits.edit import set_value
from weighty_axle.job.files import store
from weighty_axle.job.files.stock import read_stock, stock_file
from weighty_axle.job.models.build import CutDone

KEY = Qt.Key


def rows(part):
    return [part.model.record(at) for at in range(part.model.rowCount())]


def rules(window):
    return {one.rule.id for one in window.session.shown.findings}


@pytest.fixture(autouse=True)
def own_stock(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    assert tmp_path in stock_file().parents


def test_conductors_are_ticked_off_and_one_that_grew_is_told(open_window):
    window = open_window("demo:puppet-theatre")
    part = leaf(window, "cuts", "List")
    all_cuts = cuts(window.session.shown.house)
    assert [one.cut.tag for one in rows(part)] == [one.tag for one in all_cuts]
    press(part, "It is cut")
    assert part.said.text() == "Select a conductor first."
    part.initials.setText("OF")
    part.search.setText("W-MAIN")
    part.table.selectRow(0)
    one = rows(part)[0].cut
    press(part, "It is cut")
    (done,) = window.session.shown.whole.build.cuts
    assert (done.conductor, done.length_m, done.by, done.on) == (one.tag, one.cut_m.value, "OF", today().isoformat())
    part.search.clear()
    part.open_only.setChecked(True)
    assert one.tag not in {row.cut.tag for row in rows(part)} and len(rows(part)) == len(all_cuts) - 1
    # The bank moves a metre away: what was cut is too short, and is to be cut again.
    window.session.apply(set_value("wiring.main_lead_m", one.cut_m.value + 1.0, "Main lead"))
    grown = next(row for row in rows(part) if row.cut.tag == one.tag)
    assert f"cut at {done.length_m:g} m" in grown.differs and "cuts.differs" in rules(window)
    part.table.selectRow(next(at for at, row in enumerate(rows(part)) if row.cut.tag == one.tag))
    assert "keep the short one" in part.told.text()
    press(part, "It is not")
    assert not window.session.shown.whole.build.cuts and "cuts.differs" not in rules(window)


def test_reels_are_cut_by_pointer_and_keys_and_what_is_cut_is_off_the_bars(open_window, qtbot):
    window = open_window("demo:puppet-theatre")
    part = leaf(window, "cuts", "Reels")
    assert not part.chart.known and not part.settled, "nothing is said to be left before it is known"
    qtbot.waitUntil(lambda: bool(part.chart.kinds) and not part.chart.grab().isNull(), timeout=60_000)
    count = len(cuts(window.session.shown.house))
    assert f"{count} conductors to cut" in part.said.text() and part.chart.known and part.settled
    press(part, "It is cut")
    assert part.said.text() == "Select a cut first."
    spot = part.chart.spots[0]
    QTest.mouseClick(part.chart, Qt.MouseButton.LeftButton, pos=spot.rect.center().toPoint())
    assert part.chart.at == spot.piece.tag and spot.reel.name in part.said.text()
    QTest.keyClick(part.chart, KEY.Key_Right)
    second = part.chart.chosen
    assert second.piece.tag == part.chart.spots[1].piece.tag and second.piece.tag in part.chart.accessibleDescription()
    QTest.keyClick(part.chart, KEY.Key_Space)
    (done,) = window.session.shown.whole.build.cuts
    assert done.conductor == second.piece.tag and done.piece == second.reel.name
    qtbot.waitUntil(lambda: f"{count - 1} conductors to cut" in part.said.text(), timeout=60_000)
    # Every bar holds its cuts with a saw cut between, and no more than its piece.
    kerf = window.session.shown.whole.build.kerf_mm / 1000
    for kind in part.chart.kinds:
        for use in kind.reels:
            assert sum(piece.cut_m + kerf for piece in use.off) - kerf <= use.length_m + 1e-6


def test_the_shops_stock_is_kept_beside_the_job_and_booked_once(open_window):
    window = open_window("demo:puppet-theatre")
    part = leaf(window, "cuts", "Stock")
    press(part, "Take what was cut off the stock")
    assert "Nothing was cut" in part.said.text()
    press(part, "Take the selected piece out")
    assert part.said.text() == "Select a piece first."
    one = next(cut for cut in cuts(window.session.shown.house) if cut.cut_m.value < 4)
    at = part._kinds.index(one.kind)
    choose(part, "Conductor of the piece", part.kind.itemText(at))
    window.session.apply(set_value("build.slack_share", 0.12, "Slack"))
    assert part.kind.currentIndex() == at, "an edit leaves the choice alone"
    part.length.setValue(9.0)
    press(part, "Put it in")
    press(part, "Put it in")
    assert [row.length_m for row in rows(part)] == [9.0, 9.0] and len({row.name for row in rows(part)}) == 2
    name = rows(part)[0].name
    assert [piece.name for piece in read_stock(stock_file()).pieces] == [row.name for row in rows(part)]
    done = CutDone(
        conductor=one.tag,
        size=one.sold_as,
        colour=one.colour,
        length_m=2.5,
        on=today().isoformat(),
        by="OF",
        piece=name,
    )
    assert window.session.apply(cut_made(done)) is None
    assert "1 conductors are cut and not yet taken off" in part.told.text()
    press(part, "Take what was cut off the stock")
    kerf = window.session.shown.whole.build.kerf_mm / 1000
    left = {piece.name: piece.length_m for piece in read_stock(stock_file()).pieces}
    assert left[name] == pytest.approx(9.0 - 2.5 - kerf, abs=1e-3)
    press(part, "Take what was cut off the stock")
    assert "Nothing was cut" in part.said.text()
    assert {piece.name: piece.length_m for piece in read_stock(stock_file()).pieces} == left
    part.table.selectRow(1)
    press(part, "Take the selected piece out")
    assert len(rows(part)) == 1
    stock_file().write_text("no stock at all")
    press(part, "Put it in")
    assert part.said.text() and stock_file().read_text() == "no stock at all"


def test_every_conductor_has_a_label_at_each_end_as_drawn(open_window, qtbot):
    window = open_window("demo:puppet-theatre")
    part = leaf(window, "cuts", "Labels")
    qtbot.waitUntil(lambda: bool(part.sheet.sheets), timeout=30_000)
    said = Counter(mark.text for sheet in part.sheet.sheets for mark in sheet.marks if isinstance(mark, Words))
    for cut in cuts(window.session.shown.house):
        for end in (cut.start, cut.end):
            words = end.label.split(" → ")
            assert all(any(part in text for text in said) for part in words), end.label
    pages = len(part.sheet.sheets)
    assert f"page 1 of {pages}" in part.told.text() and not part.sheet.grab().isNull()
    for _ in range(pages + 2):
        press(part, "Page after")
    assert f"page {pages} of {pages}" in part.told.text()
    QTest.keyClick(part.sheet, KEY.Key_PageUp)
    assert part.sheet.page == max(0, pages - 2)
    # Another sheet, laid out anew; a size no sheet can have is refused at the field.
    line = entry(part, "Own label, wide, mm")
    retype(line, "9000")
    assert window.session.shown.whole.build.labels.wide_mm != 9000
    retype(line, "60")
    assert window.session.shown.whole.build.labels.wide_mm == 60


def test_a_board_is_laid_out_dragged_nudged_and_told_where_it_fails(open_window, tmp_path):
    job = demos.demo("eye-clinic")
    board = board_plans(derive(job))[0]
    store.save(v(job, "name", "Board"), tmp_path / "board.axle")
    window = open_window(None)
    window.open_name(str(tmp_path / "board.axle"))
    part = leaf(window, "cuts", "Board")
    assert part.board.tag == board.tag and board.name in part.which.currentText()
    press(part, "State its holes")
    assert "Select a unit" in part.told.text()
    press(part, "Lay out")
    laid = part.board
    assert not laid.faults
    unit = laid.units[0]
    drawing = part.drawing
    drawing.grab()
    start = area(drawing, unit.tag)
    drag(drawing, start, start + QPointF(20 * drawing.scale, 0))
    moved = next(one for one in part.board.units if one.tag == unit.tag)
    assert moved.x_mm == pytest.approx(unit.x_mm + 20, abs=2) and moved.y_mm == pytest.approx(unit.y_mm, abs=2)
    QTest.keyClick(drawing, KEY.Key_Up)
    higher = next(one for one in part.board.units if one.tag == unit.tag)
    assert higher.y_mm > moved.y_mm and higher.x_mm == moved.x_mm
    window.session.undo(2)
    assert next(one for one in part.board.units if one.tag == unit.tag) == unit
    other = laid.units[1]
    drag(drawing, area(drawing, unit.tag), area(drawing, other.tag))
    assert any("lie over one another" in fault for fault in part.board.faults) and "plan.board-fault" in rules(window)
    assert "lie over one another" in part.told.text()
    press(part, "State its holes")
    assert any(mount.type == unit.name for mount in window.session.shown.whole.build.mounts)
