"""Parts in the real window: ordered, counted, priced, late."""

from __future__ import annotations

from datetime import date, timedelta

import pytest
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest

from tests.desk.driving import choose, leaf, press
from weighty_axle.answers.parts.needed import needs
from weighty_axle.desk.steps.parts.arrivals import _HEAD, _ROW
from weighty_axle.desk.work.days import today
from weighty_axle.job.models.build import Status

KEY = Qt.Key
STATUSES: tuple[Status, ...] = ("ordered", "here", "fitted")


def _row(part, name):
    """The row of a part, selected."""
    at = next(at for at in range(part.model.rowCount()) if part.model.record(at).part == name)
    part.table.selectRow(at)
    return at


def _stated(window, name):
    return next((one for one in window.session.shown.whole.build.parts if one.part == name), None)


def test_a_part_goes_from_order_to_bench_and_what_it_is_for_is_told(open_window):
    window = open_window("demo:puppet-theatre")
    part = leaf(window, "parts", "List")
    press(part, "Ordered")
    assert part.said.text() == "Select a part first."
    lugs = [one for one in needs(window.session.shown.house) if one.kind == "lug"]
    name = lugs[0].part
    own = [one.of for one in lugs if one.part == name]
    part.search.setText(name)
    at = _row(part, name)
    assert part.model.record(at).wanted.value == len(own)
    assert all(tag in part.told.text() for tag in dict.fromkeys(own[:14]))
    for words, status in zip(("Ordered", "Here", "Fitted"), STATUSES, strict=True):
        press(part, words)
        assert _stated(window, name).status == status
        assert _stated(window, name).count == part.model.record(_row(part, name)).to_buy.value
    window.session.undo(3)
    before = _stated(window, name)
    assert before is None or before.status == "to_order"


@pytest.mark.parametrize(
    ("column", "typed", "field", "value"),
    [
        ("Counted", "7", "count", 7.0),
        ("Comes", "2027-05-04", "due", "2027-05-04"),
        ("Supplier", "Harbour Street Tools", "supplier", "Harbour Street Tools"),
        ("Pack", "25", "pack_of", 25.0),
        ("Status", "here", "status", "here"),
    ],
)
def test_a_cell_of_the_list_states_its_field_and_bad_text_changes_nothing(open_window, column, typed, field, value):
    window = open_window("demo:puppet-theatre")
    part = leaf(window, "parts", "List")
    name = next(one.part for one in needs(window.session.shown.house) if one.kind == "lug")
    at = _row(part, name)
    model = part.model
    columns = [
        model.headerData(n, Qt.Orientation.Horizontal, Qt.ItemDataRole.DisplayRole) for n in range(model.columnCount())
    ]
    where = next(n for n, said in enumerate(columns) if str(said).split(",")[0] == column)
    before = window.session.shown.whole
    if column != "Supplier":
        assert not model.setData(model.index(at, where), "soon")
        assert window.session.shown.whole is before and part.said.text()
    assert model.setData(model.index(at, where), typed)
    assert getattr(_stated(window, name), field) == value
    window.session.undo()
    assert window.session.shown.whole == before


def test_a_price_is_of_the_part_wherever_it_stands_and_the_sum_follows(open_window):
    window = open_window("demo:puppet-theatre")
    part = leaf(window, "parts", "List")
    name = next(one.part for one in needs(window.session.shown.house) if one.kind == "lug")
    at = _row(part, name)
    line = part.model.record(at)
    before = part._listed.cost.value
    part.model.setData(part.model.index(at, 4), "12.5")
    after = part.model.record(_row(part, name))
    assert after.price == 12.5 and after.total == pytest.approx(12.5 * after.to_buy.value)
    assert part._listed.cost.value - before == pytest.approx(after.total - (line.total or 0.0))
    assert not part.model.setData(part.model.index(at, 4), "-1") and "0 or more" in part.said.text()


def test_the_list_is_searched_by_part_tag_and_kind(open_window):
    window = open_window("demo:puppet-theatre")
    part = leaf(window, "parts", "List")
    all_rows = part.model.rowCount()
    part.search.setText("inv1")
    rows = [part.model.record(at) for at in range(part.model.rowCount())]
    assert 0 < len(rows) < all_rows
    assert all("inv1" in one.part.lower() or any("inv1" in tag.lower() for tag in one.of) for one in rows)
    part.search.clear()
    choose(part, "Kind", "lug")
    assert {part.model.record(at).kind for at in range(part.model.rowCount())} == {"lug"}


def test_a_late_part_tells_what_it_holds_up_and_is_accepted(open_window, qtbot):
    window = open_window("demo:puppet-theatre")
    part = leaf(window, "parts", "Arrivals")
    qtbot.waitUntil(lambda: bool(part.chart.rows), timeout=20_000)
    assert f"{len(part.chart.rows)} parts are not here" in part.told.text()
    packs = window.session.shown.house.job.bank.spec.name
    at = next(at for at, one in enumerate(part.chart.rows) if one.line.part == packs)
    point = QPointF(40, _HEAD + (at + 0.5) * _ROW).toPoint()
    QTest.mouseClick(part.chart, Qt.MouseButton.LeftButton, pos=point)
    assert part.chart.chosen.line.part == packs and packs in part.told.text()
    QTest.keyClick(part.chart, KEY.Key_Down)
    QTest.keyClick(part.chart, KEY.Key_Up)
    assert part.chart.chosen.line.part == packs
    comes = part.chart.chosen.comes
    part.days.setValue(21)
    press(part, "What now?")
    qtbot.waitUntil(lambda: part.late is not None, timeout=60_000)
    late = part.late
    moved = (late.after.ends - late.before.ends).days
    assert 0 < moved <= 21 + 3  # no further than the parcel, over weekends
    assert f"The end moves by {moved} days to {late.after.ends.isoformat()}" in part.told.text()
    assert f"It holds up {len(late.held)} tasks" in part.told.text()
    assert {one.task.key for one in late.held} == {
        f"place {pack.tag}" for pack in window.session.shown.house.job.bank.packs
    }
    # Whoever is not held up does what was done before, by the same person.
    before = {one.task.key: one for one in late.before.planned}
    free = [one for one in late.after.planned if one.starts == before[one.task.key].starts]
    assert free and all(one.who == before[one.task.key].who for one in free)
    press(part, "It is so")
    assert date.fromisoformat(_stated(window, packs).due) == comes + timedelta(days=21)
    assert comes >= today()
    at = part.chart.at
    press(part, "Here")
    assert _stated(window, packs).status == "here" and not _stated(window, packs).due
    qtbot.waitUntil(lambda: packs not in {one.line.part for one in part.chart.rows}, timeout=20_000)
    assert at >= 0 and not part.chart.grab().isNull()
