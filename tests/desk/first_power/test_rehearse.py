"""Rehearsing in the window: levers by mouse and keys, what happened, points, the meter, the result in the job."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from tests.desk.driving import area, leaf, press
from weighty_axle.plant.rehearsal import LESSONS


def _click(part, key, button=Qt.MouseButton.LeftButton):
    part.board.grab()
    QTest.mouseClick(part.board, button, pos=area(part.board, key).toPoint())


def test_levers_turn_and_what_follows_is_told_and_kept(open_window):
    window = open_window("demo:eye-clinic")
    part = leaf(window, "first_power", "Rehearse")
    part.clock.stop()
    _click(part, "BP1")
    _click(part, "main")
    assert part.going.plant.at["BP1"] == part.going.plant.at["main"] == "on"
    assert "pitted contacts" in part.events.record(0).what and part.lost.rowCount() >= 2
    assert "findings at Stop" in part.said.text() and f"{part.going.points} points" in part.told.text()
    _click(part, "main", Qt.MouseButton.RightButton)
    assert part.going.plant.at["main"] == "off"
    part.board.setFocus()
    QTest.keyClick(part.board, Qt.Key.Key_Left)
    QTest.keyClick(part.board, Qt.Key.Key_Space)
    assert part.going.plant.at["pre-charge"] == "on" and "pre-charge" in part.board.accessibleDescription()
    press(part, "A minute on")
    assert part.going.plant.cap_v > 45
    press(part, "Finish and keep")
    (kept,) = window.session.shown.whole.proving.rehearsed
    assert f"{kept.points} (" in part.before.text() and "Done before" in part.before.text()
    assert kept.lesson == "start" and kept.points == part.going.points and kept.lost
    assert part.going.plant.at["pre-charge"] == "on", "keeping the result does not begin again"
    press(part, "Begin again")
    assert part.going.plant.at["BP1"] == "off" and not part.going.plant.events


def test_a_hidden_joint_is_measured_and_named(open_window):
    window = open_window("demo:puppet-theatre", look="dark")
    part = leaf(window, "first_power", "Rehearse")
    part.clock.stop()
    press(part, "That is it")
    assert "Nothing is hidden" in part.said.text()
    part.lesson.setCurrentIndex([one.key for one in LESSONS].index("joint"))
    part.red.setCurrentText("bank +")
    part.black.setCurrentText("bars +")
    assert float(part.meter.text().split()[0]) > 0.02
    part.red.setCurrentText("clamp W-MAIN")
    assert part.meter.text().endswith("A")
    right = next(
        at for at in range(part.guessed.count()) if tuple(part.guessed.itemData(at)) == tuple(part.going.hidden)
    )
    part.guessed.setCurrentIndex((right + 1) % part.guessed.count())
    press(part, "That is it")
    assert part.going.points == 90 and "measure again" in part.said.text()
    part.guessed.setCurrentIndex(right)
    press(part, "That is it")
    assert part.said.text() == "That is it." and part.going.points == 90
    before = part.going.plant.time_s
    part._tick()
    assert part.going.plant.time_s > before
