"""The window as a user has it: by mouse and by keyboard."""

from __future__ import annotations

import re
from itertools import groupby

import pytest
from PySide6.QtCore import QMimeData, QPointF, Qt, QUrl
from PySide6.QtGui import QDropEvent, QKeySequence
from PySide6.QtTest import QAbstractItemModelTester, QTest
from PySide6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QComboBox,
    QFileDialog,
    QLabel,
    QLineEdit,
    QMessageBox,
    QTableView,
    QWidget,
)

from tests.desk.driving import area, drag, entry, leaf, press, retype
from weighty_axle.desk.frame.tell_line import tells
from weighty_axle.desk.kit.painting import Canvas
from weighty_axle.desk.kit.theme import LOOKS
from weighty_axle.desk.steps.brief.ribbons import ROW, TOP
from weighty_axle.desk.work import preferences
from weighty_axle.job.edits.edit import set_value, value_at
from weighty_axle.job.files import journal, store
from weighty_axle.steps import STEPS, shortcut

KEY = Qt.Key


@pytest.mark.parametrize("name", ["demo:eye-clinic", "demo:puppet-theatre", "demo:library-bus"])
@pytest.mark.parametrize("look", ["light", "dark"])
def test_every_step_shows_and_every_control_has_a_name(open_window, name, look):
    window = open_window(name, look=look)
    for index, step in enumerate(one.key for one in STEPS):
        QTest.keySequence(window, QKeySequence(shortcut(index)))
        assert window.bench.step == step
        view = window.bench.view(step)
        assert view.isVisible()
        for name in view.leaf_names:
            view.turn_to(name)
            assert not view.grab().toImage().isNull()
        assert not window.grab().toImage().isNull()
        for control in view.findChildren(QWidget):
            if isinstance(control, QLineEdit | QComboBox | QTableView | Canvas) and not control.parent().inherits(
                "QComboBox"
            ):
                assert control.accessibleName(), f"{control} on {step}"
            if (
                isinstance(control, QAbstractButton)
                and control.isVisible()
                and not control.inherits("QTableCornerButton")
            ):
                assert control.text() or control.accessibleName() or control.inherits("QToolButton"), (
                    f"{control} on {step}"
                )


def test_painting_a_ribbon_moves_energy_tell_line_and_undo(window):
    ribbons = window.bench.view("brief").day.ribbons
    before = window.session.shown.design.brief.energy_per_day_wh.value
    y = TOP + ROW * 5.5  # sixth row: lens edger
    drag(ribbons, QPointF(ribbons._x(1140), y), QPointF(ribbons._x(1320), y))
    design = window.session.shown.design
    span = design.job.loads[5].patterns["CLINIC"][-1]
    assert (span.start_min, span.end_min) == (pytest.approx(1140, abs=5), pytest.approx(1320, abs=5))
    assert design.brief.energy_per_day_wh.value > before + 1000
    assert window.session.shown.before.brief.energy_per_day_wh.value == before
    assert len(window.session.undo_steps()) == 1, "a drag is one step"
    drag(ribbons, QPointF(ribbons._x(1200), y), QPointF(ribbons._x(1260), y), Qt.MouseButton.RightButton)
    assert len(window.session.shown.job.loads[5].patterns["CLINIC"]) == 4
    QTest.keyClick(window, KEY.Key_Z, Qt.KeyboardModifier.ControlModifier)
    QTest.keyClick(window, KEY.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert window.session.shown.design.brief.energy_per_day_wh.value == before
    QTest.keyClick(window, KEY.Key_Z, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    assert window.session.shown.design.brief.energy_per_day_wh.value > before


def test_ribbons_by_keyboard(window):
    ribbons = window.bench.view("brief").day.ribbons
    ribbons.setFocus()
    QTest.keyClick(ribbons, KEY.Key_Down)
    QTest.keyClick(ribbons, KEY.Key_Down)
    assert window.session.selection == ("LD2",)
    for _ in range(4):
        QTest.keyClick(ribbons, KEY.Key_Left)
    for _ in range(3):
        QTest.keyClick(ribbons, KEY.Key_Left, Qt.KeyboardModifier.ShiftModifier)
    QTest.keyClick(ribbons, KEY.Key_Space)
    first = window.session.shown.job.loads[1].patterns["CLINIC"][0]
    assert (first.start_min, first.end_min, first.level) == (8 * 60 - 105, 8 * 60 - 45, 1.0)
    QTest.keyClick(ribbons, KEY.Key_Minus)
    assert window.session.shown.job.loads[1].patterns["CLINIC"][0].level == 0.9
    QTest.keyClick(ribbons, KEY.Key_Space)
    assert window.session.shown.job.loads[1].patterns["CLINIC"][0].start_min > 400


def test_loads_are_added_edited_and_removed(window):
    view = window.bench.view("brief")
    count = len(window.session.shown.job.loads)
    press(view, "Add a load")
    finder = view.day._finder
    QTest.keyClicks(finder._entry, "empty load")
    QTest.keyClick(finder._entry, KEY.Key_Return)
    assert len(window.session.shown.job.loads) == count + 1 and window.session.selection == ("LD13",)
    retype(entry(view, "Running, each"), "2*0.6 kW")
    assert window.session.shown.job.loads[-1].running_w == 1200
    assert "brief.leg-open" in {one.rule.id for one in window.session.shown.findings}
    press(view, "Remove")
    assert len(window.session.shown.job.loads) == count


def test_a_stop_goes_with_one_press_and_comes_back_with_undo(window):
    window.go("charging")
    card, *others = window.bench.findings.cards()
    assert card.finding.rule.id == "charging.sum-over-bank"
    assert all(one.finding.rule.severity != "stop" for one in others)
    press(card, "Limit all charging to 249 A")
    assert window.session.shown.job.charging.system_limit_a == 249
    assert len(window.bench.findings.cards()) == len(others)
    assert window.session.undo_label == "Limit all charging to 249 A"
    QTest.keyClick(window, KEY.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert window.bench.findings.cards()[0].finding.rule.id == "charging.sum-over-bank"
    QTest.mouseClick(card, Qt.MouseButton.LeftButton)
    window.go("wiring")
    window.bench.turn_to("Runs")
    QTest.mouseClick(window.bench.findings.cards()[0], Qt.MouseButton.LeftButton)
    assert "W-INV1" in window.session.selection, "a finding lights up what it concerns"


def test_dragging_the_bank_moves_the_axles_in_one_step(window):
    window.go("place")
    drawing = window.bench.view("place").leaf.drawing
    start = area(drawing, "top BP1")
    scale = drawing.panes()[0].scale
    before = window.session.shown.design.place
    drag(drawing, start, start + QPointF(-1.5 * scale, 0))
    after = window.session.shown.design.place
    shift = 282 * 1.5 / (0.63 * 9.3 + 0.37 * 10.65 - 2.75)
    assert after.axles[0].load_kg.value - before.axles[0].load_kg.value == pytest.approx(shift, rel=0.02)
    assert len(window.session.undo_steps()) == 1
    assert window.session.shown.job.bank.packs[5].place.x_m < 7.0, "all packs move together"
    window.session.undo()
    assert window.session.shown.design.place == before or window.session.shown.design.place.axles == before.axles


def test_nudging_items_and_modules_by_keys(window):
    window.go("place")
    drawing = window.bench.view("place").leaf.drawing
    drawing.setFocus()
    window.session.select("DB1")
    for key, axis, change in ((KEY.Key_Left, "x_m", -0.01), (KEY.Key_Up, "y_m", 0.01), (KEY.Key_PageUp, "z_m", 0.01)):
        old = getattr(window.session.shown.job.wiring.board.place, axis)
        QTest.keyClick(drawing, key)
        assert getattr(window.session.shown.job.wiring.board.place, axis) == pytest.approx(old + change)
    window.go("roof")
    plan = window.bench.view("roof").leaf.plan
    plan.setFocus()
    QTest.keyClick(plan, KEY.Key_N)
    assert window.session.selection == ("PV1",)
    QTest.keyClick(plan, KEY.Key_Left, Qt.KeyboardModifier.ShiftModifier)
    assert window.session.shown.job.roof.modules[0].x_m == pytest.approx(1.25)
    QTest.keyClick(plan, KEY.Key_T)
    assert window.session.shown.job.roof.modules[0].turned
    assert "roof.clash" in {one.rule.id for one in window.session.shown.findings}


def test_roof_by_mouse_and_presses(window):
    window.go("roof")
    view = window.bench.view("roof").leaf
    drag(view.plan, area(view.plan, "PV1"), area(view.plan, "PV1") + QPointF(-6, 3))
    assert window.session.shown.job.roof.modules[0].x_m < 1.35
    press(view, "Add a module")
    assert len(window.session.shown.job.roof.modules) == 12 and "no room" in view._said.text(), "this roof is full"
    window.session.apply(set_value("roof.modules[PV12]", None, ""))
    press(view, "Add a module")
    assert len(window.session.shown.job.roof.modules) == 12 and not view._said.text()
    assert window.session.selection == ("PV12",)
    assert "roof.unequal-strings" in {one.rule.id for one in window.session.shown.findings}
    press(view, "Remove")
    assert len(window.session.shown.job.roof.modules) == 11
    QTest.mouseClick(view.chart, Qt.MouseButton.LeftButton, pos=area(view.chart, "S2").toPoint())
    assert window.session.selection == ("S2",)


def test_obstacles_are_added_moved_sized_and_removed(window):
    window.go("roof")
    view = window.bench.view("roof").leaf
    press(view, "Add an obstacle")
    assert window.session.selection == ("OB1",)
    assert "roof.clash" in {one.rule.id for one in window.session.shown.findings}
    retype(entry(view, "Along"), "8 in")
    assert window.session.shown.job.roof.obstacles[-1].length_m == pytest.approx(0.2032)
    retype(entry(view, "Obstacle"), "Aerial")
    scale = view.plan._scale()[0]
    drag(view.plan, area(view.plan, "OB1"), area(view.plan, "OB1") + QPointF(0.5 * scale, 0))
    moved = window.session.shown.job.roof.obstacles[-1]
    assert moved.name == "Aerial" and moved.x_m == pytest.approx(6.92 + 0.5, abs=0.1)
    view.plan.setFocus()
    QTest.keyClick(view.plan, KEY.Key_Up)
    assert window.session.shown.job.roof.obstacles[-1].y_m == pytest.approx(moved.y_m + 0.01)
    press(view, "Remove")
    assert len(window.session.shown.job.roof.obstacles) == 2


def test_bank_by_presses_and_choice(window):
    window.go("bank")
    view = window.bench.view("bank")
    days = window.session.shown.design.bank.days.value
    press(view, "One pack more")
    assert window.session.shown.design.bank.days.value == pytest.approx(days * 7 / 6)
    choice = next(one for one in view.findChildren(QComboBox) if one.accessibleName() == "Pack type")
    index = choice.findText("Wall cabinet 48 V 280 Ah")
    choice.setCurrentIndex(index)
    choice.activated.emit(index)
    assert window.session.shown.design.bank.capacity_ah.value == 7 * 280
    assert window.session.undo_label == "Bank of Wall cabinet 48 V 280 Ah"


def test_a_conductor_chosen_by_hand_is_judged_and_given_back(window):
    window.go("wiring")
    window.bench.turn_to("Runs")
    view = window.bench.view("wiring").leaf
    window.session.select("W-INV1")
    QTest.mouseClick(view.chart, Qt.MouseButton.LeftButton, pos=area(view.chart, "1").toPoint())
    assert "wiring.fuse-over-ampacity" in {one.rule.id for one in window.session.shown.findings}
    press(window.bench.view("wiring"), "Use the computed size")
    assert window.session.shown.job.wiring.conductors == {}


def test_an_own_conductor_is_typed_as_people_write_it(window):
    window.go("wiring")
    window.bench.turn_to("Runs")
    window.session.select("W-INV2")
    line = entry(window.bench.view("wiring"), "Own size, this run")
    retype(line, "1/0")
    assert window.session.shown.job.wiring.conductors == {"W-INV2": "1/0 AWG"}
    retype(line, "fat")
    assert "not a conductor size" in line.accessibleDescription() and line.text() == "fat"
    QTest.keyClick(line, KEY.Key_Escape)
    retype(line, "3 AWG")
    assert "wiring.unknown-size" in {one.rule.id for one in window.session.shown.findings}
    line.clear()
    QTest.keyClick(line, KEY.Key_Return)
    assert window.session.shown.job.wiring.conductors == {}


def test_workings_are_copied_as_plain_lines(window):
    window.bench.open_figure(window.session.shown.design.bank.days)
    press(window.bench.workings, "Copy")
    text = QApplication.clipboard().text().replace("\u00a0", " ")
    assert text.startswith("Days without sun or hook-up: 0.94 days") and "Source: textbook relation" in text


def test_fields_take_units_and_keep_what_is_wrong(window):
    window.go("vehicle")
    view = window.bench.view("vehicle")
    line = entry(view, "Length")
    retype(line, "45 ft")
    assert window.session.shown.job.vehicle.length_m == pytest.approx(13.716)
    assert line.toolTip() == "typed: 45 ft"
    for text, words in (("45 kg", "not a length"), ("900 m", "at most 60"), ("", "Type a length")):
        job = window.session.shown.job
        retype(line, text) if text else (line.clear(), QTest.keyClick(line, KEY.Key_Return))
        assert line.text() == text, "what was typed stays"
        assert words in line.accessibleDescription()
        assert window.session.shown.job is job, "the job never holds it"
    QTest.keyClick(line, KEY.Key_Escape)
    assert line.text() == "13.716\u00a0m" and line.objectName() != "wrong"
    window.go("charging")
    limit = entry(window.bench.view("charging"), "System charge limit")
    retype(limit, "280")
    assert window.session.shown.job.charging.system_limit_a == 280
    limit.clear()
    QTest.keyClick(limit, KEY.Key_Return)
    assert window.session.shown.job.charging.system_limit_a is None


def test_tables_edit_by_rows_and_refuse_in_a_sentence(window):
    for step in ("vehicle", "settings"):
        window.go(step)
        view = window.bench.view(step)
        QAbstractItemModelTester(getattr(view, "leaf", view).model, QAbstractItemModelTester.FailureReportingMode.Fatal)
    axles = window.bench.view("vehicle").leaf.model
    assert axles.setData(axles.index(0, 4), "6.2 t")
    assert window.session.shown.job.vehicle.axles[0].weighed_kg == 6200
    assert not axles.setData(axles.index(0, 3), "50 %")
    assert "100 %" in window.bench.view("vehicle").leaf._said.text()
    points = window.bench.view("settings").leaf.model
    row = next(i for i in range(points.rowCount()) if points.record(i).key == "float_v")
    assert points.setData(points.index(row, 2), "53.2 V")
    assert window.session.shown.job.settings.own_values == {"float_v": 53.2}
    assert not points.setData(points.index(row, 2), "53 kg")
    assert points.setData(points.index(row, 2), "54 V")
    assert window.session.shown.job.settings.own_values == {}


def test_workings_open_from_the_tell_line_and_lead_on(window):
    tell = window.bench.tell
    QTest.mouseClick(tell, Qt.MouseButton.LeftButton, pos=area(tell, "1").toPoint())
    panel = window.bench.workings
    assert panel.isVisible()
    text = panel._text.toPlainText()
    assert "Days without sun or hook-up" in text and "usable energy ÷" in text and "Source" in text
    panel._text.anchorClicked.emit(QUrl("figure:0"))
    assert "Bank energy, usable: 27.6" in panel._text.toPlainText()
    press(panel, "Pin")
    press(panel, "Back")
    assert "Days without" in panel._text.toPlainText() and "Pinned" in panel._text.toPlainText()
    window.session.apply(set_value("bank.usable_share", 0.5, "Usable share"))
    assert "15.4" in panel._text.toPlainText(), "workings follow the job"
    press(panel, "Close")
    assert not panel.isVisible()
    window.bench.open_figure(window.session.shown.design.wiring.runs[0].drop_share)
    assert "4/0" in panel._text.toPlainText()
    window.session.apply(set_value("wiring.conductors[W-MAIN]", "2 x 4/0 AWG", "Double"))
    assert "2 × 4/0" in panel._text.toPlainText().replace("\u00a0", " "), "also when another conductor carries it"
    tell.setFocus()
    QTest.keyClick(tell, KEY.Key_Right)
    QTest.keyClick(tell, KEY.Key_Return)
    assert panel.isVisible()


def test_every_figure_and_command_can_be_found(window):
    QTest.keyClick(window, KEY.Key_K, Qt.KeyboardModifier.ControlModifier)
    palette = window.palette_list
    assert palette.isVisible()
    commands = {one.words for one in window.commands()}
    assert {f"Workings: {figure.name}" for _, figure in window.session.shown.design.figures()} <= commands
    QTest.keyClicks(palette._entry, "go bank")
    QTest.keyClick(palette._entry, KEY.Key_Return)
    assert window.bench.step == "bank" and not palette.isVisible()
    palette.open("put right limit all")
    QTest.keyClick(palette._entry, KEY.Key_Return)
    assert window.session.shown.job.charging.system_limit_a == 249
    palette.open("find db1")
    QTest.keyClick(palette._entry, KEY.Key_Return)
    assert window.session.selection == ("DB1",)
    palette.open()
    QTest.keyClick(palette._entry, KEY.Key_Escape)
    assert not palette.isVisible()


def test_the_job_menu_takes_several_steps_back(window):
    for n in range(3):
        window.session.apply(set_value("notes", f"note {n}", f"Note {n}"))
    menu = {one.words: one for one in window._menu()}
    assert [words for words in menu if words.startswith("Undo")] == ["Undo: Note 2", "Undo: Note 1", "Undo: Note 0"]
    assert {"Save", "Print the pack…", "Look: night (dark)"} <= set(menu)
    window.go("inverters")
    groups = [one.menu for one in window._menu()]
    assert groups.count("print") > 1 and len([group for group, _ in groupby(groups)]) == len(set(groups)) > 4, (
        "each group stands together"
    )
    menu["Undo: Note 1"].do()
    assert window.session.shown.job.notes == "note 0" and window.session.redo_label == "Note 1"


@pytest.mark.parametrize(
    ("step", "turn", "name", "text", "path", "value"),
    [
        ("wiring", "Runs", "Runs in one bundle", "3", "wiring.runs_together", 3),
        ("charging", "Budget", "Its most, as a current", "18 A", "converters[ALT1].spec.output_a", 18.0),
        ("charging", "Budget", "Its most, as a power", "0.9 kW", "converters[ALT1].spec.output_w", 900.0),
        ("roof", "Strings", "Starts this far over the bank", "8 V", "roof.controllers[CC1].spec.start_margin_v", 8.0),
        ("roof", "Strings", "Runs this far over the bank", "2 V", "roof.controllers[CC1].spec.run_margin_v", 2.0),
        ("roof", "Strings", "Starts only from", "120 V", "roof.controllers[CC1].spec.start_v", 120.0),
    ],
)
def test_what_a_datasheet_states_is_typed_where_it_counts(window, step, turn, name, text, path, value):
    window.go(step)
    view = window.bench.view(step)
    if turn:
        view.turn_to(turn)
    retype(entry(view, name), text)
    assert value_at(window.session.shown.job, path) == value
    window.session.undo()
    entry(view, name).clear()
    QTest.keyClick(entry(view, name), KEY.Key_Return)
    assert entry(view, name).objectName() == "wrong" or value_at(window.session.shown.job, path) is None, (
        "empty is refused, or means not stated"
    )


def test_an_alternator_charger_states_one_output_at_least(window):
    amps = entry(leaf(window, "charging", "Budget"), "Its most, as a current")
    amps.clear()
    QTest.keyClick(amps, KEY.Key_Return)
    assert amps.objectName() == "wrong" and "needs an output in A or in W" in amps.accessibleDescription()
    assert window.session.shown.job.converters[0].spec.output_a == 17


def test_the_strip_selects_and_folds(window):
    strip = window.bench.strip
    QTest.mouseClick(strip, Qt.MouseButton.LeftButton, pos=area(strip, "BP1").toPoint())
    assert window.session.selection[0].startswith("BP")
    strip.setFocus()
    QTest.keyClick(strip, KEY.Key_Right)
    assert window.session.selection[0] in {item.tag for item in window.session.shown.design.items}
    QTest.keyClick(window, KEY.Key_F9)
    assert not strip.isVisible()
    QTest.keyClick(window, KEY.Key_F9)
    window.go("place")
    assert not strip.isVisible(), "on Place the working drawing takes its room"


def test_save_reopen_recent_and_drop(open_window, tmp_path, monkeypatch):
    window = open_window()
    path = tmp_path / "clinic.axle"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "clinic"), ""))
    window.session.apply(set_value("name", "Saved clinic", "Name"))
    assert window.session.dirty and window.windowTitle().startswith("Saved clinic *")
    QTest.keyClick(window, KEY.Key_S, Qt.KeyboardModifier.ControlModifier)
    window.jobs.wait()
    assert store.load(path).name == "Saved clinic" and not window.session.dirty
    assert preferences.load().recent == (str(path),)
    window.session.apply(set_value("name", "Changed", "Name"))
    answers = iter([QMessageBox.StandardButton.Cancel, QMessageBox.StandardButton.Discard])
    monkeypatch.setattr(QMessageBox, "question", lambda *_: next(answers))
    window.open_name("demo:puppet-theatre")
    assert window.session.shown.job.name == "Changed", "cancel keeps the job"
    mime = QMimeData()
    mime.setUrls([QUrl.fromLocalFile(str(path))])
    window.dropEvent(
        QDropEvent(
            QPointF(5, 5), Qt.DropAction.CopyAction, mime, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
        )
    )
    assert window.session.shown.job.name == "Saved clinic"
    path.write_text("{")
    window.open_name(str(path))
    assert "cannot be opened" in window.notice.text.text() and window.session.shown.job.name == "Saved clinic"


def test_a_save_that_fails_is_said_and_loses_nothing(window, tmp_path):
    window.session.apply(set_value("name", "Precious", "Name"))
    window.jobs._save_to(tmp_path / "no" / "such" / "folder.axle")
    window.jobs.wait()
    assert "was not saved" in window.notice.text.text()
    assert window.session.dirty and window.session.shown.job.name == "Precious"


def test_the_pack_is_written_in_the_background_and_can_be_cancelled(window, qtbot, tmp_path):
    window.files.write_pack(tmp_path / "pack")
    qtbot.waitUntil(lambda: window.files._task is None, timeout=20_000)
    assert (tmp_path / "pack" / "pack.pdf").exists() and "pack.pdf" in window.notice.text.text()
    window.files.write_pack(tmp_path / "second")
    window.files._task.cancel()
    qtbot.waitUntil(lambda: window.files._task is None, timeout=20_000)
    assert "cancelled" in window.notice.text.text()
    (tmp_path / "file").write_text("")
    window.files.write_pack(tmp_path / "file")
    qtbot.waitUntil(lambda: window.files._task is None, timeout=20_000)
    assert "not done" in window.notice.text.text()


def test_first_start_shows_the_cautions_and_offers_demos(open_window):
    window = open_window(None, safety_read=False)
    texts = " ".join(label.text() for label in window.findChildren(QLabel))
    assert "cannot be switched off" in texts and "does not approve" in texts
    press(window, "I have read this")
    assert preferences.load().safety_read
    press(window, "Thistledown Puppet Theatre")
    assert window.session.shown.job.name == "Thistledown Puppet Theatre"
    window.jobs.new_like("eye-clinic")
    assert window.session.shown.job.name == "New job" and window.session.path is None


def test_look_text_size_and_units_change_without_losing_the_job(window):
    window.go("bank")
    window.session.apply(set_value("bank.days_wanted", 2.0, "Days wanted"))
    window.set_look("dark")
    window.set_text_scale(1.2)
    window.set_units("us")
    QApplication.processEvents()
    assert window.bench.step == "bank" and window.session.undo_label == "Days wanted"
    window.go("vehicle")
    assert entry(window.bench.view("vehicle"), "Length").text() == "44.9475\u00a0ft"
    retype(entry(window.bench.view("vehicle"), "Length"), "46")
    assert window.session.shown.job.vehicle.length_m == pytest.approx(46 * 0.3048)
    kept = preferences.load()
    assert (kept.look, kept.text_scale, kept.units) == ("dark", 1.2, "us")
    assert window.grab().width() >= 1024


def _luminance(colour: str) -> float:
    parts = [int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5)]
    linear = [part / 12.92 if part <= 0.04045 else ((part + 0.055) / 1.055) ** 2.4 for part in parts]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


@pytest.mark.parametrize("name", LOOKS)
def test_text_contrast(name):
    """WCAG 2.2 success criterion 1.4.3: 4.5 to 1 for text, by its relative luminance formula."""
    look = LOOKS[name]
    pairs = [
        (text, ground) for text in ("ink", "muted", "live", "check", "stop") for ground in ("paper", "panel", "rail")
    ]
    pairs += [("ink", ground) for ground in ("live_soft", "check_soft", "stop_soft", "note_soft", "track")]
    pairs += [
        ("live", "check_soft"),
        ("live", "stop_soft"),
        ("live", "note_soft"),
        ("live", "live_soft"),
        ("muted", "stop_soft"),
        ("muted", "check_soft"),
        ("muted", "note_soft"),
        ("check", "check_soft"),
        ("stop", "stop_soft"),
    ]
    for text, ground in pairs:
        light, dark = sorted((_luminance(getattr(look, text)), _luminance(getattr(look, ground))), reverse=True)
        assert (light + 0.05) / (dark + 0.05) >= 4.5, (text, ground, round((light + 0.05) / (dark + 0.05), 2))


@pytest.mark.logs_errors
def test_an_unexpected_error_is_told_and_logged(window, tmp_path):
    from weighty_axle.desk.app import _Hook

    try:
        raise RuntimeError("nobody expected this")
    except RuntimeError as error:
        _Hook(window)(type(error), error, error.__traceback__)
    assert "Something went wrong" in window.notice.text.text()
    log = (tmp_path / "state" / "weighty-axle" / "errors.log").read_text()
    assert re.search("nobody expected this", log)


def test_500_steps_can_be_undone(window):
    start = window.session.shown.job
    for n in range(520):
        window.session.apply(set_value("bank.days_wanted", 1.0 + n / 100 + 0.01, f"Days {n}"))
    assert len(window.session.undo_steps()) >= 500
    for _ in range(520):
        window.session.undo()
    assert window.session.shown.job == start and not window.session.dirty


def test_tell_line_shows_the_change_of_the_last_step(window):
    window.session.apply(set_value("bank.usable_share", 0.45, "Usable share"))
    now, before = (tells(one)[1].figure.value for one in (window.session.shown.design, window.session.shown.before))
    assert now == pytest.approx(before / 2)
    window.bench.tell.grab()
    QApplication.processEvents()


def test_recovery_is_offered_and_can_be_kept_or_dropped(open_window, clinic, tmp_path):
    saved = tmp_path / "clinic.axle"
    store.save(clinic, saved)
    root = tmp_path / "elsewhere"
    for keep in (True, False):
        left = journal.Journal(root)
        changed = set_value("name", "Half done", "").apply(clinic)
        left.record(changed, journal.Header(str(saved), 3, "Name the job", 1.7e9))
        left._let_go()
        window = open_window(None)
        window.jobs.offer_recovery(journal.left_behind(root))
        assert window.session.shown.job.name == "Half done" and window.session.dirty
        assert "3 edits" in window.notice.text.text()
        press(window, "Keep" if keep else "Go back to what was saved")
        assert window.session.shown.job.name == ("Half done" if keep else clinic.name)
        assert journal.left_behind(root) == []
