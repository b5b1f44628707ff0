"""Live readings in the window: a simulated plant started here, read, its settings read back and put right."""

from __future__ import annotations

import socket

import pytest
from PySide6.QtWidgets import QFileDialog

from tests.desk.driving import leaf, press
from weighty_axle.desk.steps.proving import live as live_leaf


@pytest.fixture
def part(open_window, qtbot):
    window = open_window("demo:puppet-theatre")
    made = leaf(window, "proving", "Live")
    made.clock.setInterval(100)
    made.window_ = window
    yield made
    made.stop()
    qtbot.waitUntil(lambda: not made._busy, timeout=8000)


def _plant(part, words):
    part.fault.setCurrentIndex(next(at for at in range(part.fault.count()) if words in part.fault.itemText(at)))
    press(part, "Simulated plant here")


def test_a_washer_is_found_live_and_recorded(part, qtbot, tmp_path, monkeypatch):
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "log.csv"), ""))
    _plant(part, "washer")
    qtbot.waitUntil(lambda: part.model.rowCount() > 4, timeout=8000)
    bad = [part.model.record(at) for at in range(part.model.rowCount()) if part.model.record(at).verdict == "bad"]
    assert [one.key for one in bad] == ["W-MAIN"] and "mΩ more" in part.told.text()
    part.table.selectRow([part.model.record(at).key for at in range(part.model.rowCount())].index("W-MAIN"))
    assert "mΩ more" in part.means.text()
    press(part, "Record …")
    qtbot.waitUntil(lambda: (tmp_path / "log.csv").exists(), timeout=8000)
    assert (tmp_path / "log.csv").read_text().startswith("time,bank_v")
    press(part, "Stop")
    assert part.server is None and not part.clock.isActive() and "Nothing is read" in part.told.text()


def test_settings_come_back_as_findings_and_are_put_right_after_a_question(part, qtbot, monkeypatch):
    press(part, "Read the settings back")
    assert "Read something first" in part.told.text()
    press(part, "Put settings right …")
    assert "Only a simulated plant" in part.told.text()
    _plant(part, "equalising is on: CC1")
    qtbot.waitUntil(lambda: part.model.rowCount() > 4, timeout=8000)
    part.clock.stop()
    qtbot.waitUntil(lambda: not part._busy, timeout=8000)
    press(part, "Read the settings back")
    qtbot.waitUntil(lambda: "2 differ" in part.told.text(), timeout=8000)
    findings = {one.rule.id for one in part.window_.session.shown.findings}
    assert "settings.entered-dangerous" in findings
    asked = []
    monkeypatch.setattr(live_leaf, "agrees", lambda _parent, question: not asked.append(question))
    press(part, "Put settings right …")
    qtbot.waitUntil(lambda: "0 differ" in part.told.text(), timeout=8000)
    assert len(asked) == 1 and asked[0].startswith("Write into CC1: ") and "Equalising: off" in asked[0]
    assert part.server.plant.stands["CC1 equalise"] == "off"
    assert "settings.entered-dangerous" not in {one.rule.id for one in part.window_.session.shown.findings}


def test_nobody_there_and_another_machine_are_told_and_asked(part, qtbot, monkeypatch):
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        part.port.setValue(free.getsockname()[1])
    press(part, "Read")
    qtbot.waitUntil(lambda: "nobody answers" in part.told.text(), timeout=8000)
    press(part, "Stop")
    asked = []
    monkeypatch.setattr(live_leaf, "agrees", lambda _parent, question: bool(asked.append(question)))
    part.host.setText("10.9.8.7")
    press(part, "Read")
    assert len(asked) == 1 and "another machine" in asked[0] and part.reader is None
