"""The step Year in the window: the year is lived in the background, turned through, and follows every edit."""

from __future__ import annotations

import numpy as np
import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from tests.desk.driving import entry, leaf, press, retype
from weighty_axle.answers.year.events import events
from weighty_axle.answers.year.lived import live
from weighty_axle.answers.year.result import year_result
from weighty_axle.desk.steps.year import sweep as sweep_leaf
from weighty_axle.desk.steps.year import weathers as weathers_leaf
from weighty_axle.desk.steps.year.carpet import QUANTITIES, values_of


@pytest.fixture
def course(open_window, qtbot):
    window = open_window("demo:puppet-theatre")
    part = leaf(window, "year", "Course")
    qtbot.waitUntil(lambda: part.carpet.year is not None, timeout=60_000)
    return window, part


def test_the_carpet_shows_the_year_that_is_lived_without_a_window(course):
    window, part = course
    year = live(window.session.shown.design)
    assert (part.carpet.year.series == year.series).all()
    told = events(year)
    assert part.carpet.events == told and len(told) > 20
    part.carpet.grab()
    part.day.grab()
    assert [figure.figure.value for figure in part.figures._buttons if figure.isVisible()][:2] == [
        year_result(year).missing_share.value,
        year_result(year).sun_wh.value,
    ]


def test_events_and_days_are_turned_to_by_keys_and_presses(course):
    _, part = course
    days = [one.day for one in part.carpet.events]
    press(part, "Next event")
    assert part.carpet.day == next(day for day in days if day > 1)
    assert part.sentence.text().startswith(part.carpet.events[days.index(part.carpet.day)].words)
    before = part.carpet.day
    QTest.keyClick(part.carpet, Qt.Key.Key_Right, Qt.KeyboardModifier.ControlModifier)
    assert part.carpet.day == part.day.day == before + 7
    press(part, "Event before")
    assert part.carpet.day < before + 7
    QTest.mouseClick(part.carpet, Qt.MouseButton.LeftButton, pos=part.carpet.area.center().toPoint())
    assert part.carpet.day == pytest.approx(183, abs=2)
    for at, quantity in enumerate(QUANTITIES):
        part.choice.setCurrentIndex(at)
        assert np.isfinite(values_of(part.carpet.year, quantity.key)).all()
        part.carpet.grab()


def test_another_weather_and_what_is_kept_back_live_the_year_anew(course, qtbot):
    window, part = course
    before = part.carpet.year
    retype(entry(part, "Weather drawn"), "a wet one")
    assert window.session.shown.whole.year.seed == "a wet one"
    qtbot.waitUntil(lambda: part.carpet.year is not before, timeout=60_000)
    assert not (part.carpet.year.weather.clear_share == before.weather.clear_share).all()
    window.session.undo()
    assert window.session.shown.whole.year.seed == "one year"


def test_many_years_are_lived_in_the_background_and_said_to_be_old_after_an_edit(open_window, qtbot, monkeypatch):
    monkeypatch.setattr(weathers_leaf, "weathers", lambda design, progress: _few(design, progress))
    window = open_window("demo:puppet-theatre")
    part = leaf(window, "year", "Weathers")
    press(part, "Live 200 years")
    qtbot.waitUntil(lambda: part.spread.result is not None, timeout=60_000)
    assert "6 years" in part.said.text() and "generator runs" in part.sentences.text()
    part.spread.grab()
    from weighty_axle.job.edits.edit import set_value

    window.session.apply(set_value("year.seed", "another", "Another weather"))
    assert "changed" in part.said.text()


def _few(design, progress):
    from weighty_axle.answers.year.weathers import weathers

    return weathers(design, years=6, progress=progress)


def test_months_and_loads_stand_in_tables(open_window, qtbot):
    window = open_window("demo:library-bus")
    part = leaf(window, "year", "Months")
    qtbot.waitUntil(lambda: part.months.rowCount() == 12, timeout=60_000)
    assert part.loads.rowCount() == len(window.session.shown.job.loads)
    missing = [part.loads.record(row).missing_wh for row in range(part.loads.rowCount())]
    assert missing == sorted(missing, reverse=True) and missing[0] > 0


def test_a_price_is_typed_summed_and_undone(open_window):
    window = open_window("demo:library-bus")
    part = leaf(window, "year", "Prices")
    rows = [part.model.record(row).kind for row in range(part.model.rowCount())]
    index = part.model.index(rows.index("pack"), 4)
    assert part.model.setData(index, "900", Qt.ItemDataRole.EditRole)
    assert not part.model.setData(index, "-1", Qt.ItemDataRole.EditRole) and part.said.text()
    total = next(one.figure for one in part.figures._buttons)
    assert total.value == 900.0 * len(window.session.shown.whole.bank.packs)
    assert part.model.setData(index, "", Qt.ItemDataRole.EditRole)
    assert window.session.shown.whole.year.prices == ()
    window.session.undo()
    assert window.session.shown.whole.year.prices[0].amount == 900.0


def test_a_sweep_shows_what_it_has_so_far_goes_on_after_a_cancel_and_opens_a_mix(open_window, qtbot, monkeypatch):
    monkeypatch.setattr("weighty_axle.answers.year.sweep.CHUNK", 4)
    monkeypatch.setattr(sweep_leaf, "_LOOK_S", 0.0)
    window = open_window("demo:puppet-theatre")
    part = leaf(window, "year", "Sweep")
    press(part, "Make the design so")
    assert "choose one" in part.told.text()
    press(part, "Live every mix")
    qtbot.waitUntil(lambda: len(part.chart.points) > 4, timeout=60_000)
    part._task.cancel()
    qtbot.waitUntil(lambda: part._task is None, timeout=60_000)
    some = int(part._so_far.done.sum())
    if not part._so_far.whole:
        assert "go" in part.said.text()
        press(part, "Live every mix")
        qtbot.waitUntil(lambda: part._task is None, timeout=60_000)
    assert part._so_far.whole and len(part.chart.points) >= some and "efficient" in part.said.text()
    QTest.keyClick(part.chart, Qt.Key.Key_Right)
    assert part.chart.chosen is part.chart.efficient[0] and "missing" in part.told.text()
    part.chart.choose(next(one for one in part.chart.points if one.packs == 3 and one.modules == 6))
    part.chart.grab()
    press(part, "Make the design so")
    assert len(window.session.shown.whole.bank.packs) == 3 and "changed" in part.said.text()
    window.session.undo()
    assert len(window.session.shown.whole.bank.packs) == 4
    part.axis.setCurrentIndex(1)
    assert part.chart.by_cost


def test_what_would_fix_it_is_found_and_made_with_one_press(open_window, qtbot):
    window = open_window("demo:puppet-theatre")
    part = leaf(window, "year", "Fix")
    press(part, "Make this change")
    assert part.said.text()
    press(part, "Find what would fix it")
    qtbot.waitUntil(lambda: part.model.rowCount() > 0, timeout=60_000)
    assert "wanted" in part.sentence.text()
    first = part.model.record(0)
    before = window.session.shown.whole
    press(part, "Make this change")
    assert window.session.shown.whole == first.edit.on(before) and "changed" in part.sentence.text()


def test_designs_stand_side_by_side_and_are_turned_to(open_window, qtbot):
    window = open_window("demo:puppet-theatre")
    part = leaf(window, "year", "Variants")
    press(part, "Keep a copy")
    part._compare_school(next(at for at in range(part.school.count()) if part.school.itemData(at) == "full"))
    qtbot.waitUntil(lambda: part.model.rowCount() == 3, timeout=60_000)
    press(part, "Turn to it")
    assert "Choose another" in part.said.text()
    part.table.selectRow(2)
    assert "gentle" in part.told.text()
    press(part, "Turn to it")
    whole = window.session.shown.whole
    assert whole.design_name == "Charged to the brim" and whole.settings.full_charge == "brim"
    qtbot.waitUntil(lambda: part.model.record(0).name == "Charged to the brim", timeout=60_000)
    part.table.selectRow(1)
    index = next(at for at in range(part.part.count()) if part.part.itemData(at) == "Settings")
    part._take(index)
    assert window.session.shown.whole.settings.full_charge == "gentle"
    part._compare_school(next(at for at in range(part.school.count()) if part.school.itemData(at) == "stacking"))
    assert part.said.text().endswith(".")
    press(part, "Drop it")
    assert len(window.session.shown.whole.variants) == 1
    for _ in range(5):
        window.session.undo()
    assert window.session.shown.whole.variants == ()


def test_three_designs_are_proposed_with_their_reasons_and_one_is_gone_on_with(open_window, qtbot):
    window = open_window("demo:puppet-theatre")
    part = leaf(window, "year", "Proposals")
    press(part, "Go on with it")
    assert part.said.text().endswith(".")
    press(part, "Propose three designs")
    qtbot.waitUntil(lambda: part._task is None and part.model.rowCount() == 3, timeout=120_000)
    assert part.reasons.count() >= 5 and "Three levels" in part.sentence.text()
    press(part, "Put it beside this one")
    part.table.selectRow(1)
    press(part, "Go on with it")
    whole = window.session.shown.whole
    assert whole.design_name == "Comfortable" and [one.name for one in whole.variants] == ["Enough", "First design"]
    assert not [one for one in window.session.shown.findings if one.rule.severity == "stop"]
    for _ in range(3):
        window.session.undo()
    assert window.session.shown.whole.variants == ()


def test_measured_hours_are_lived_in_told_and_given_back(course, qtbot, tmp_path):
    from pathlib import Path

    import pvlib

    _, part = course
    drawn = part.carpet.year
    part.read(tmp_path / "none.epw")
    qtbot.waitUntil(lambda: part._task is None, timeout=60_000)
    assert "none.epw" in part.sentence.text() and part.carpet.year is drawn
    part.read(Path(pvlib.__file__).parent / "data" / "723170TYA.CSV")
    qtbot.waitUntil(lambda: part.carpet.year is not drawn, timeout=60_000)
    assert "Measured at" in part.sentence.text() and "km from" in part.sentence.text()
    part._choose_weather(0)
    qtbot.waitUntil(lambda: (part.carpet.year.series == drawn.series).all(), timeout=60_000)
