"""Settings sheets, readings taken in and the handover in the window: as an installer does them, one hand free."""

from __future__ import annotations

import csv

import pypdf
import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from tests.desk.driving import entry, leaf, press, retype
from weighty_axle.answers.proving.trials import trials
from weighty_axle.desk.work.hand_work import HAND_FILES, write_handover_folder


def _row(part, key):
    return next(at for at in range(part.model.rowCount()) if part.model.record(at).key == key)


def _rules(window):
    return {one.rule.id for one in window.session.shown.findings}


def test_a_unit_is_entered_read_back_and_changed_with_a_reason(open_window):
    window = open_window("demo:puppet-theatre")
    part = leaf(window, "settings", "Sheets")
    part.initials.setText("OF")
    press(part, "All of this unit")
    assert "Choose a unit" in part.said.text() and not window.session.shown.whole.proving.entries
    part.which.setCurrentIndex(part.which.findData("CC1"))
    assert {part.model.record(at).group for at in range(part.model.rowCount())} == {"CC1"}
    press(part, "All of this unit")
    assert all(part.model.record(at).done for at in range(part.model.rowCount()))
    assert part.told.text().startswith(f"{part.model.rowCount()} of")
    press(part, "All of this unit")
    assert "Nothing of CC1 is open" in part.said.text()

    row = _row(part, "CC1 absorption_v")
    assert not part.model.setData(part.model.index(row, 3), "28.8") and "say why" in part.said.text()
    part.why.setText("customer wants it full")
    assert part.model.setData(part.model.index(row, 3), "28.8")
    assert "settings.entered-dangerous" in _rules(window)
    part.table.selectRow(row)
    assert "28.8 V stands in it" in part.means.text() and "lead-acid" in part.means.text()
    part.why.setText("")
    press(part, "It is so")
    assert "say why" in part.said.text()
    part.why.setText("put back")
    press(part, "It is so")
    assert part.model.record(row).done and "settings.entered-dangerous" not in _rules(window)

    told = leaf(window, "settings", "Changes")
    assert [told.model.record(at).entry.why for at in range(told.model.rowCount())] == [
        "customer wants it full",
        "put back",
    ]
    window.session.undo(3)
    assert not window.session.shown.whole.proving.entries and "Nothing was changed" in told.told.text()


def test_only_what_is_open_goes_on_with_return_and_the_unit_stays_chosen(open_window):
    window = open_window("demo:puppet-theatre", look="dark")
    part = leaf(window, "settings", "Sheets")
    part.which.setCurrentIndex(part.which.findData("MON"))
    part.open_only.setChecked(True)
    count = part.model.rowCount()
    part.table.selectRow(0)
    part.table.setFocus()
    QTest.keyClick(part.table, Qt.Key.Key_Return)
    assert part.model.rowCount() == count - 1 and part.which.currentData() == "MON"
    assert not part.model.setData(part.model.index(0, 3), "x" * 61) and "too long" in part.said.text()
    assert part.model.setData(part.model.index(0, 3), "full")
    assert "settings.entered-asked" in _rules(window)
    press_row = part.model.record(0)
    part.table.selectRow(0)
    press(part, "Open again")
    assert part.model.record(0).key == press_row.key and not part.model.record(0).entries


@pytest.mark.parametrize("ending", [".pdf", ".csv"])
@pytest.mark.parametrize("wanted", ["settings out", "tests out"])
def test_sheets_and_tests_are_written(open_window, qtbot, tmp_path, wanted, ending):
    window = open_window("demo:puppet-theatre")
    path = tmp_path / f"out{ending}"
    window.files.write_work_file(HAND_FILES[wanted], path)
    qtbot.waitUntil(lambda: path.exists() and window.files._task is None, timeout=20_000)
    words = "Equalising" if wanted == "settings out" else "current of the main run"
    text = (
        " ".join(page.extract_text() for page in pypdf.PdfReader(path).pages)
        if ending == ".pdf"
        else path.read_text("utf-8-sig")
    )
    assert words in " ".join(text.split())


def test_readings_are_taken_in_from_a_table_whole_or_not_at_all(open_window, qtbot, tmp_path):
    window = open_window("demo:puppet-theatre")
    part = leaf(window, "proving", "Acceptance")
    path = tmp_path / "read.csv"

    def take(*rows):
        with path.open("w", newline="") as file:
            csv.writer(file).writerows([("key", "read"), *rows])
        window.files.read_readings(path)
        qtbot.waitUntil(lambda: window.files._task is None, timeout=20_000)

    take(("hot", "12"), ("AC volts", "many"), ("NOBODY", "1"))
    assert not window.session.shown.whole.proving.trials
    take(("hot", "12"), ("AC volts", "231"), ("CC1 equalise", "off"), ("BP1 voltage", "26.2"))
    proving = window.session.shown.whole.proving
    assert (len(proving.trials), len(proving.entries), len(proving.readings)) == (2, 1, 1)
    assert part.model.record(_row(part, "hot")).done
    window.session.undo()
    assert not window.session.shown.whole.proving.trials


def test_a_clear_sky_stands_in_for_a_meter(open_window):
    window = open_window("demo:puppet-theatre")
    part = leaf(window, "proving", "Acceptance")
    assert part.model.record(_row(part, "S1 amps")).wanted is None
    for words, text in (("or clear sky on", "2027-06-21"), ("at, by the sun", "12")):
        retype(entry(part, words), text)
    assert part.model.record(_row(part, "S1 amps")).wanted.value > 8


def test_the_handover_says_what_is_open_and_is_written(open_window, qtbot, tmp_path):
    window = open_window("demo:puppet-theatre")
    part = leaf(window, "proving", "Handover")
    assert part.told.text().startswith("0 of") and part.model.rowCount() > 80
    sheet = leaf(window, "settings", "Sheets")
    sheet.which.setCurrentIndex(sheet.which.findData("CC1"))
    assert sheet.model.setData(sheet.model.index(_row(sheet, "CC1 equalise"), 3), "on")
    part = leaf(window, "proving", "Handover")
    assert part.model.record(0).key == "CC1 equalise", "what is wrong stands before what is only open"
    window.files.write_print(write_handover_folder)(tmp_path / "papers")
    qtbot.waitUntil(lambda: window.files._task is None, timeout=30_000)
    assert (tmp_path / "papers" / "handover.pdf").exists()
    assert len(trials(window.session.shown.house)) > 20
