"""First power in the window: a reading typed is judged, what is open stands in the way, cards go step by step."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QLabel, QLineEdit

from tests.desk.driving import leaf, press
from weighty_axle.desk.work.prints import write_lesson_page


def _row(part, key):
    return next(at for at in range(part.model.rowCount()) if part.model.record(at).key == key)


def test_readings_are_typed_ticked_and_judged(open_window):
    window = open_window("demo:puppet-theatre")
    part = leaf(window, "first_power", "Before power")
    part.initials.setText("OF")
    row = _row(part, "BP1 voltage")
    assert part.model.setData(part.model.index(row, 3), "-26.1")
    assert any(one.rule.id == "first_power.reading-bad" for one in window.session.shown.findings)
    part.table.selectRow(row)
    assert "swapped" in part.means.text()
    assert part.model.setData(part.model.index(row, 3), "26.1")
    assert part.model.record(row).verdict == "good" and part.model.record(row).reading.by == "OF"
    press(part, "It is so")
    assert "judged at once" in part.said.text()
    tick = _row(part, "tools out")
    assert not part.model.setData(part.model.index(tick, 3), "5") and "ticked off" in part.said.text()
    part.table.selectRow(tick)
    press(part, "It is so")
    assert part.model.record(tick).done and part.table.currentIndex().row() == tick + 1
    part.open_only.setChecked(True)
    assert "tools out" not in {part.model.record(at).key for at in range(part.model.rowCount())}
    assert part.told.text().startswith("2 of")
    window.session.undo()
    assert part.told.text().startswith("1 of")


def test_return_goes_from_reading_to_reading_and_ticks_what_is_only_seen(open_window):
    window = open_window("demo:puppet-theatre", look="dark")
    part = leaf(window, "first_power", "Before power")
    row = _row(part, "BP1 voltage")
    part.table.setCurrentIndex(part.model.index(row, 3))
    part.table.setFocus()
    for volts in ("26.1", "26.2"):
        QTest.keyClick(part.table, Qt.Key.Key_Return)
        cell = part.table.findChild(QLineEdit)
        QTest.keyClicks(cell, volts)
        QTest.keyClick(cell, Qt.Key.Key_Return)
        QTest.qWait(20)
    assert [part.model.record(at).reading.value for at in (row, row + 1)] == [26.1, 26.2]
    assert part.table.currentIndex().row() == row + 2
    tick = _row(part, "tools out")
    part.table.setCurrentIndex(part.model.index(tick, 3))
    QTest.keyClick(part.table, Qt.Key.Key_Return)
    assert part.model.record(tick).done and part.table.currentIndex().row() == tick + 1


def test_a_card_goes_step_by_step_and_says_what_stands_in_its_way(open_window):
    window = open_window("demo:puppet-theatre", look="dark")
    part = leaf(window, "first_power", "Cards")
    assert "checks before power are open" in part.blocked.text()
    first = part.do.text()
    press(part, "Done, next")
    QTest.keyClick(part.step, Qt.Key.Key_Return)
    assert part.at == 2 and part.do.text() and part.count.text().startswith("Step 3 of")
    QTest.keyClick(part.step, Qt.Key.Key_Left)
    press(part, "Back")
    assert part.at == 0 and part.do.text() == first
    part.which.setCurrentIndex(1)
    assert part.blocked.isHidden() and part.at == 0


def test_a_test_is_measured_judged_and_repeated(open_window):
    window = open_window("demo:puppet-theatre")
    part = leaf(window, "proving", "Acceptance")
    row = _row(part, "W-MAIN drop")
    part.table.selectRow(row)
    assert part.model.setData(part.model.index(row, 3), "800")
    part.chart.grab()
    assert "mΩ more than its parts have" in part.means.text()
    assert any(one.rule.id == "proving.out-of-band" for one in window.session.shown.findings)
    assert part.model.setData(part.model.index(row, 3), "190")
    assert part.model.record(row).done
    assert part.table.currentIndex().row() == row + 1, "a good reading goes on to the next by itself"
    part.table.selectRow(row)
    assert len(part.chart.before) == 2
    part.chart.grab()
    press(part, "Open again")
    assert part.model.record(row).verdict == "bad"
    window.session.undo(3)
    assert part.model.record(row).verdict == "open"


def test_the_owner_s_page_follows_the_job_and_is_printed(open_window, qtbot, tmp_path):
    window = open_window("demo:puppet-theatre")
    part = leaf(window, "proving", "Lesson")
    said = " ".join(label.text() for label in part.page.findChildren(QLabel))
    assert "What may run together" in said and "Kettle" in said
    window.files.write_print(write_lesson_page)(tmp_path / "owner.pdf")
    qtbot.waitUntil(lambda: (tmp_path / "owner.pdf").exists() and window.files._task is None, timeout=20_000)
