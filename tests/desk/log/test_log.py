"""Step Log in the window: entries, a recording, a fault found, a unit swapped, states, services, the fleet."""

from __future__ import annotations

from datetime import date
from pathlib import Path

import pypdf
import pytest
from PIL import Image
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from tests.desk.driving import area, choose, leaf, press
from weighty_axle import demos
from weighty_axle.answers.log.finder.cause import SYMPTOMS
from weighty_axle.desk.frame.fleet import FleetWindow, natural
from weighty_axle.desk.work.hand_work import HAND_FILES
from weighty_axle.job.edits.edit import set_value
from weighty_axle.job.files.store import encode, load, save
from weighty_axle.plant.faults import Fault
from weighty_axle.plant.probing import Probe
from weighty_axle.plant.recording import Planted, planted_year, write_year

MAIN = "W-MAIN"


def rows(part, model="model"):
    found = getattr(part, model)
    return [found.record(at) for at in range(found.rowCount())]


def rules(window):
    return {one.rule.id for one in window.session.shown.findings}


def test_what_happened_is_written_searched_and_mended(open_window, qtbot, tmp_path):
    window = open_window("demo:puppet-theatre")
    part = leaf(window, "log", "Entries")
    part.initials.setText("OF")
    press(part, "Write it")
    assert "Write what happened" in part.said.text() and not rows(part)
    choose(part, "Kind of entry", "fault")
    part.words.setFocus()
    QTest.keyClicks(part.words, "INV1 hums, and DB1 is warm.")
    QTest.keyClick(part.words, Qt.Key.Key_Return)
    entry = window.session.shown.whole.log.entries[0]
    assert entry.about == ("INV1", "DB1") and entry.by == "OF" and entry.on == date.today().isoformat()
    assert "log.fault-open" in rules(window) and "1 faults open" in part.told.text()
    choose(part, "Kind of entry", "reading")
    part.words.setText("Bank at rest BP1")
    part.amount.setText("26,1 V")
    press(part, "Write it")
    assert rows(part)[0].words == "Bank at rest BP1: 26.1 V"
    part.amount.setText("lots")
    press(part, "Write it")
    assert "no number" in part.said.text() and part.amount.text() == "lots"
    part.amount.clear()

    QTest.keyClicks(part.search, "fault inv1")
    assert [one.kind for one in rows(part)] == ["fault"] and part.told.text().startswith("1 of 2")
    QTest.mouseClick(part.line, Qt.MouseButton.LeftButton, pos=area(part.line, "0").toPoint())
    assert part.chosen.kind == "fault"
    press(part, "Mended")
    assert "log.fault-open" not in rules(window)
    part.search.clear()
    file = HAND_FILES["log out"]
    for name in ("log.pdf", "log.csv"):
        file.write(window.session.shown, file.word, tmp_path / name, lambda _share, _words: None)
    page = pypdf.PdfReader(tmp_path / "log.pdf").pages[0].extract_text()
    assert (
        "INV1 hums" in page
        and "Bank at rest BP1" in page
        and "INV1 hums" in (tmp_path / "log.csv").read_text("utf-8-sig")
    )
    assert part.model.setData(part.model.index(0, 0), "2026-05-04")
    assert not part.model.setData(part.model.index(0, 0), "yesterday") and "2027-03-01" in part.said.text()
    picture = tmp_path / "joint.png"
    Image.new("RGB", (40, 30), "red").save(picture)
    part.photos.take(picture)
    qtbot.waitUntil(lambda: len(window.session.shown.whole.log.entries) == 3)
    assert window.session.shown.whole.log.entries[-1].photo
    part.table.selectRow(next(at for at, one in enumerate(rows(part)) if one.photo))
    assert part.picture.isVisible()
    press(part, "Away")
    window.session.undo(6)
    assert not window.session.shown.whole.log.entries


def test_a_recording_is_mapped_once_read_and_its_drift_becomes_a_fault(open_window, qtbot, tmp_path):
    window = open_window("demo:puppet-theatre")
    design = window.session.shown.house
    year = planted_year(design, (Planted(date(2027, 2, 15), Fault("bad joint", MAIN)),), seed="short")
    path = tmp_path / "log.csv"
    cut = 70 * 1440
    columns = {("Torsion" if name == "Bars V" else name): one[:cut:5] for name, one in year.columns.items()}
    write_year(year._replace(t_s=year.t_s[:cut:5], columns=columns), path)
    part = leaf(window, "log", "Recorded")
    part.open(path)
    qtbot.waitUntil(lambda: part.map is not None, timeout=20_000)
    assert "11 of 13 columns are known" in part.said.text() and part.columns_press.isChecked()
    at = next(at for at, one in enumerate(rows(part, "mapped")) if one.column.heading == "Torsion")
    part.columns_table.selectRow(at)
    choose(part, "What the chosen column is", "bar_v")
    assert rows(part, "mapped")[at].column.quantity == "bar_v"
    assert not part.mapped.setData(part.mapped.index(1, 3), "NONE") and "no NONE" in part.said.text()
    press(part, "Read it")
    qtbot.waitUntil(lambda: bool(rows(part)), timeout=40_000)
    drift = rows(part)[0]
    assert drift.kind == "drift" and drift.trace.key == f"drop {MAIN}"
    assert abs((drift.drift.on - date(2027, 2, 15)).days) < 8
    assert not part.chart.grab().isNull() and part.chart.trace is drift.trace
    press(part, "Into the log")
    entry = window.session.shown.whole.log.entries[-1]
    assert entry.kind == "fault" and entry.on == drift.on and entry.about == ("DB1",)
    assert "log.fault-open" in rules(window) and "log.about-gone" not in rules(window)
    # The second time the columns are known by their headings, and it is read at once.
    assert window.session.shown.whole.log.maps
    part.model.put(())
    part.open(path)
    qtbot.waitUntil(lambda: bool(rows(part)), timeout=40_000)
    # What was told beside one system's model does not stay beside another's.
    window.session.show_system("DBS")
    qtbot.waitUntil(lambda: not rows(part), timeout=10_000)
    assert "read log.csv again" in part.said.text() and part.chart.trace is None and not part.told.text()
    window.session.show_system("")
    part.read()
    qtbot.waitUntil(lambda: bool(rows(part)), timeout=40_000)
    (tmp_path / "empty.csv").write_text("")
    part.open(tmp_path / "empty.csv")
    qtbot.waitUntil(lambda: "is empty" in part.said.text(), timeout=10_000)


def test_a_hot_joint_is_led_from_the_call_to_its_proof(open_window, qtbot):
    window = open_window("demo:eye-clinic")
    part = leaf(window, "log", "Find")
    qtbot.waitUntil(lambda: part.finder is not None, timeout=20_000)
    choose(part, "What is wrong", "hot")
    part.begin()
    probe = Probe(part.finder.design, Fault("fuse joint", MAIN))
    while part.hunt.found is None:
        measure = part.chosen
        if measure.unit:
            part.reading.setText(f"{probe.reading(measure):.1f} {measure.unit}")
            press(part, "Take it")
        else:
            words = next(one.words for one in measure.outcomes if one.key == probe.outcome(measure))
            press(part.outcomes, words)
    assert part.hunt.found.key == "fuse joint" and not part.suspects.grab().isNull()
    assert "As good as proved: a face of the fuse in W-MAIN" in part.follows.text()
    assert "Keep W-MAIN under" in part.follows.text() and "Proof: W-MAIN at 10000 W" in part.follows.text()
    said = len(part.hunt.answers)
    press(part, "One back")
    assert len(part.hunt.answers) == said - 1 and part.hunt.found is None
    part.reading.setText("warm")
    part.take_reading()
    assert len(part.hunt.answers) == said - 1
    press(part, "Into the log")
    entry = window.session.shown.whole.log.entries[-1]
    assert entry.kind == "fault" and SYMPTOMS["hot"] in entry.words and "log.fault-open" in rules(window)
    assert entry.about == ("DB1",) and "log.about-gone" not in rules(window)  # not the panel called MAIN
    press(part, "Anew")
    assert not part.hunt.answers


def test_the_finder_is_of_the_system_that_is_worked_on(open_window, qtbot):
    window = open_window("demo:library-bus")
    part = leaf(window, "log", "Find")
    qtbot.waitUntil(lambda: part.finder is not None, timeout=20_000)
    assert tuple(part.symptom.itemData(at) for at in range(part.symptom.count())) == part.finder.symptoms
    window.session.show_system("DBO")
    qtbot.waitUntil(lambda: part.finder.design.system.key == "DBO", timeout=20_000)
    offered = {part.symptom.itemData(at) for at in range(part.symptom.count())}
    assert "hot" in offered and "half sun" not in offered
    choose(part, "What is wrong", "hot")
    part.begin()
    assert "on the bars of DBO" in part.do.text()
    press(part, "Into the log")
    assert window.session.shown.whole.log.entries[-1].about == ("DBO",)


def test_a_unit_is_swapped_with_its_short_leads_told_and_all_of_it_undone_at_once(open_window, qtbot):
    window = open_window("demo:puppet-theatre")
    before = window.session.shown.whole
    part = leaf(window, "log", "Swap")
    choose(part, "Unit", "CC1")
    part.places["x_m"].setText("1.2")
    part.places["x_m"].editingFinished.emit()

    def compared():
        return part.found is not None and part.found.tag == "CC1" and any(one.short_m for one in part.found.leads)

    qtbot.waitUntil(compared, timeout=20_000)
    short = [one for one in part.found.leads if one.short_m]
    assert f"{len(short)} of {len(part.found.leads)} leads are too short" in part.said.text()
    assert any(one.what == "must change" and "too short" in one.name for one in rows(part))
    press(part, "Swap it")
    job = window.session.shown.whole
    assert job.roof.controllers[0].spec == part.found.new and job.roof.controllers[0].place.x_m == 1.2
    assert [one.name for one in job.log.states] == ["Before CC1 was swapped"] and job.log.entries[-1].kind == "parts"
    window.session.undo()
    assert window.session.shown.whole == before
    part.places["x_m"].setText("far")
    part.places["x_m"].editingFinished.emit()
    assert "three numbers" in part.said.text()


def test_a_state_is_recorded_compared_looked_at_and_put_back(open_window, qtbot, monkeypatch):
    started = []
    monkeypatch.setattr("weighty_axle.desk.steps.log.states.open_beside", lambda path: started.append(path) or True)
    window = open_window("demo:puppet-theatre")
    part = leaf(window, "log", "States")
    part.name.setText("As handed over")
    press(part, "Record the handover")
    before = window.session.shown.whole
    window.session.apply(set_value("bank.usable_share", 0.6, "Usable"))
    qtbot.waitUntil(lambda: any(one.name == "bank.usable_share" for one in rows(part, "lines")), timeout=20_000)
    kinds = {one.what for one in rows(part, "lines")}
    assert {"stated", "moved"} <= kinds and "1 stated differently" in part.said.text()
    press(part, "Look at it")
    qtbot.waitUntil(lambda: bool(started), timeout=20_000)
    assert load(started[0]).bank == before.bank
    press(part, "Let it go")
    assert "kept for good" in part.said.text()
    press(part, "Put it back")
    job = window.session.shown.whole
    assert job.bank == before.bank and [one.name for one in job.log.states][-1].startswith("Before “As handed over”")
    window.session.undo()
    assert window.session.shown.whole.bank.usable_share == 0.6


def test_services_are_stated_done_and_written_for_calendars(open_window, tmp_path):
    window = open_window("demo:puppet-theatre")
    part = leaf(window, "log", "Services")
    part.name.setText("Tighten every joint")
    part.months.setValue(6)
    press(part, "Add")
    assert rows(part)[0].on is None and "1 of 1" in part.told.text()
    part.table.selectRow(0)
    press(part, "Done today")
    assert rows(part)[0].days in range(180, 186)
    assert not part.model.setData(part.model.index(0, 1), "often") and "1 to 240" in part.said.text()
    assert part.model.setData(part.model.index(0, 3), "DB1 BP1")
    assert window.session.shown.whole.log.services[0].about == ("DB1", "BP1")
    file = HAND_FILES["services out"]
    made = file.write(window.session.shown, file.word, tmp_path / "s.ics", lambda _share, _words: None)
    assert b"Tighten every joint" in Path(made).read_bytes()
    part.table.selectRow(0)
    press(part, "Away")
    assert not rows(part)


@pytest.mark.qt_log_ignore("This plugin does not support")  # a second window, without a display
def test_a_folder_is_shown_at_once_read_beside_the_window_asked_and_opened(open_window, qtbot, tmp_path):
    window = open_window(None)
    home = tmp_path / "jobs"
    home.mkdir()
    for name in demos.names():
        save(demos.demo(name), home / f"{name}.axle")
    window.show_fleet()
    fleet = window.findChild(FleetWindow)
    fleet.look_at(home)
    qtbot.waitUntil(lambda: len(fleet.model.rows) == 3, timeout=10_000)
    assert [one.name for one in fleet.model.rows] == sorted(demos.names()) and "still to be read" in fleet.said.text()
    qtbot.waitUntil(lambda: all(one.stops is not None for one in fleet.all.values()), timeout=60_000)
    fleet._take_arrived()
    QTest.keyClicks(fleet.ask, "puppet")
    assert [one.name for one in fleet.model.rows] == ["Thistledown Puppet Theatre"]
    assert fleet.said.text().startswith("1 of 3")
    fleet.write_calendar(tmp_path / "s.ics")
    fleet.write_pages(tmp_path / "f.pdf")
    qtbot.waitUntil(lambda: (tmp_path / "s.ics").exists() and (tmp_path / "f.pdf").exists(), timeout=20_000)
    fleet.table.selectRow(0)
    press(fleet, "Open")
    assert window.session.shown.whole.name == "Thistledown Puppet Theatre"
    fleet.ask.clear()
    fleet.sort_by(8)
    assert [one.file.name for one in fleet.model.rows] == sorted(f"{name}.axle" for name in demos.names())
    assert sorted(["v10", "v9", "V1"], key=natural) == ["V1", "v9", "v10"]
    fleet.look_at(tmp_path / "nowhere")
    qtbot.waitUntil(lambda: "nowhere" in fleet.said.text(), timeout=10_000)
    assert not fleet.model.rows
    fleet.close()


def test_a_damaged_file_offers_what_can_be_saved_of_it(open_window, qtbot, tmp_path):
    path = tmp_path / "torn.json"
    text = encode(demos.demo("puppet-theatre"))
    path.write_bytes(text[: len(text) * 2 // 3])
    torn = path.read_bytes()
    window = open_window(None)
    window.open_name(str(path))
    assert window.session is None
    press(window, "Save what can be saved")
    qtbot.waitUntil(lambda: window.session is not None, timeout=20_000)
    job = window.session.shown.whole
    assert job.bank == demos.demo("puppet-theatre").bank and window.session.path is None
    assert "log.fault-open" in rules(window) and path.read_bytes() == torn
    path.write_text("nothing of a job")
    window.jobs.open_file(path)
    press(window, "Save what can be saved")
    qtbot.waitUntil(lambda: "whole enough" in window.notice.text.text(), timeout=8_000)
