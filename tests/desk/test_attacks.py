"""The window under attack, in small: random use, generated jobs on every leaf, pictures that fail, files that others
change.
"""

from __future__ import annotations

import os
import shutil
import sys
import time

import pytest
from msgspec.structs import replace
from PySide6.QtCore import SIGNAL, QEvent, QPointF, Qt
from PySide6.QtGui import QMouseEvent
from PySide6.QtWidgets import QApplication, QFileDialog, QLabel, QMessageBox, QPushButton

from tests.attacks.hands import Hands
from tests.attacks.jobs import accepted
from tests.attacks.leaves import show_everything
from weighty_axle.desk.frame.window import Window
from weighty_axle.desk.work import preferences
from weighty_axle.desk.work.job_files import when_words
from weighty_axle.job.edits.edit import set_value
from weighty_axle.job.files import journal, store
from weighty_axle.steps import STEPS

BUTTONS = QMessageBox.StandardButton


def press(window, words):
    next(one for one in window.findChildren(QPushButton) if one.isVisible() and words in one.text()).click()


@pytest.fixture
def no_dialogs(monkeypatch):
    for name in ("getSaveFileName", "getOpenFileName"):
        monkeypatch.setattr(QFileDialog, name, lambda *_: ("", ""))
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *_: "")
    monkeypatch.setattr(QMessageBox, "question", lambda *_: BUTTONS.Discard)


@pytest.mark.parametrize("seed", [1, 2])
def test_fifteen_seconds_of_random_use_end_as_they_began(window, no_dialogs, seed):
    """Errors in slots and while painting, and warnings of Qt, fail the test by themselves."""
    hands = Hands(window, seed)
    hands.go(seconds=15)
    assert len(hands.done) > 120 and len(set(hands.done)) > 50
    assert window.session is not None and window.grab().width() >= 1024


@pytest.mark.parametrize("seed", [101, 103, 104])
def test_every_leaf_shows_a_generated_job(window, no_dialogs, seed):
    shown = [name for name, _ in show_everything(window, accepted(seed))]
    assert len(shown) > 30


# ---- pictures ------------------------------------------------------------------------------------------------


def test_a_picture_that_fails_says_so_in_its_place_and_the_rest_goes_on(window, monkeypatch):
    told = []
    monkeypatch.setattr(sys, "excepthook", lambda _kind, error, _trace: told.append(error))
    strip = window.bench.strip
    monkeypatch.setattr(strip, "draw", lambda _painter: 1 / 0)
    sound, broken = window.bench.tell.grab().toImage(), strip.grab().toImage()
    assert [type(one) for one in told] == [ZeroDivisionError]
    monkeypatch.undo()
    assert strip.grab().toImage() != broken, "and paints again once it can"
    assert window.bench.tell.grab().toImage() == sound


def test_undo_while_a_ribbon_is_held(window):
    """The load under the hand goes with the undo; the hand goes on."""
    load = replace(window.session.shown.job.loads[0], tag="Z1", name="Short-lived", circuit="", group="")
    window.session.apply(set_value("loads", (load, *window.session.shown.job.loads), "Add"))
    ribbons = window.bench.view("brief").day.ribbons
    ribbons.grab()
    y = ribbons.row_y("Z1") + 8
    for kind, x in ((QEvent.Type.MouseButtonPress, 320), (QEvent.Type.MouseMove, 400)):
        point = QPointF(x, y)
        QApplication.sendEvent(
            ribbons,
            QMouseEvent(
                kind,
                point,
                ribbons.mapToGlobal(point),
                Qt.MouseButton.LeftButton,
                Qt.MouseButton.LeftButton,
                Qt.KeyboardModifier.NoModifier,
            ),
        )
    window.session.undo(10)
    assert all(one.tag != "Z1" for one in window.session.shown.job.loads)
    ribbons.grab()
    point = QPointF(420, y)
    QApplication.sendEvent(
        ribbons,
        QMouseEvent(
            QEvent.Type.MouseMove,
            point,
            ribbons.mapToGlobal(point),
            Qt.MouseButton.NoButton,
            Qt.MouseButton.LeftButton,
            Qt.KeyboardModifier.NoModifier,
        ),
    )
    assert all(one.tag != "Z1" for one in window.session.shown.job.loads)


def test_a_vehicle_type_changed_and_painted_at_once(window):
    from weighty_axle.reference.vehicle_types import take_type, vehicle_types

    for kind in vehicle_types().rows:
        window.session.apply(take_type(kind))
        window.bench.strip.repaint()
        window.session.undo()
        window.bench.strip.repaint()


@pytest.mark.logs_errors
def test_an_edit_that_cannot_be_worked_out_changes_nothing_and_says_so(window, monkeypatch):
    before, steps = window.session.shown, window.session.undo_steps()
    monkeypatch.setattr("weighty_axle.desk.work.session.judge", lambda _design: 1 / 0)
    refused = window.session.apply(set_value("notes", "x", "Note"))
    assert "cannot be worked out" in refused and window.session.shown is before and window.session.undo_steps() == steps


# ---- looks ---------------------------------------------------------------------------------------------------


def test_a_change_of_look_keeps_the_leaf_and_what_is_being_said(window, qtbot):
    window.go("roof")
    window.bench.turn_to("Shade")
    answered = []
    window.say("An offer not yet answered.", (("Take it", lambda: answered.append(1)),))
    old = window.bench
    window.set_look("dark")
    window.set_text_scale(1.3)
    qtbot.waitUntil(lambda: window.bench not in (old, None), timeout=5000)
    assert window.bench.step == "roof" and window.bench.leaf_name == "Shade"
    press(window.notice, "Take it")
    assert answered == [1]


def test_callbacks_go_with_their_views(window, qtbot):
    """However often everything is made anew, the session tells the same number of listeners."""

    def listeners():
        for step in (one.key for one in STEPS):
            window.go(step)
        QApplication.processEvents()
        return [
            window.session.receivers(SIGNAL(name))
            for name in ("changed(PyObject)", "selected(PyObject)", "file_changed()")
        ]

    before, widgets = listeners(), len(QApplication.allWidgets())
    for look in ("dark", "light", "dark"):
        old = window.bench
        window.set_look(look)
        qtbot.waitUntil(lambda old=old: window.bench not in (old, None), timeout=5000)
    assert listeners() == before and min(before) > 0
    assert len(QApplication.allWidgets()) <= widgets + 5


def test_names_are_shown_letter_by_letter(open_window, tmp_path, puppet):
    job = replace(puppet, name="<b>Bus</b> & Co", vehicle=replace(puppet.vehicle, description="<img src=x> R&D"))
    store.save(job, tmp_path / "j.axle")
    window = open_window(str(tmp_path / "j.axle"))
    for step in ("brief", "vehicle", "bank", "inverters", "roof", "charging", "place", "wiring", "settings"):
        window.go(step)
    labels = window.findChildren(QLabel)
    assert len(labels) > 60 and all(one.textFormat() == Qt.TextFormat.PlainText for one in labels)
    assert any(one.text() == "<b>Bus</b> & Co" for one in labels)
    window.session.apply(set_value("notes", "x", "Note of R&D <b>"))
    assert (
        window.bar._undo.text() == "Undo: Note of R&&D <b>"
        and window.bar._undo.toolTip() == "<qt>Note of R&amp;D &lt;b&gt;</qt>"
    )


# ---- files ---------------------------------------------------------------------------------------------------


@pytest.fixture
def saved(open_window, tmp_path, puppet):
    path = tmp_path / "bus.axle"
    store.save(puppet, path)
    return open_window(str(path)), path


@pytest.mark.parametrize("answer", ["Save mine as", "Open theirs", "Replace theirs"])
def test_a_file_changed_by_another_window_is_noticed_before_it_is_overwritten(saved, puppet, answer):
    window, path = saved
    theirs = replace(puppet, notes="theirs")
    store.save(theirs, path)
    window.session.apply(set_value("notes", "mine", "Note"))
    window.save()
    window.jobs.wait()
    assert (
        "changed by another program" in window.notice.text.text()
        and store.load(path) == theirs
        and window.session.dirty
    )
    press(window.notice, answer)
    window.jobs.wait()
    beside = path.with_name("bus (2).axle")
    if answer == "Save mine as":
        assert store.load(path) == theirs and store.load(beside).notes == "mine" and window.session.path == beside
    elif answer == "Open theirs":
        assert window.session.shown.job == theirs and store.load(path) == theirs
        (aside,) = (preferences.state_folder() / "set-aside").iterdir()
        assert store.load(aside).notes == "mine" and aside.name in window.notice.text.text(), "nothing is lost"
    else:
        assert store.load(path).notes == "mine" and store.load(path.with_name("bus.axle~")) == theirs


def test_saving_never_holds_the_window_and_what_is_edited_meanwhile_goes_too(saved, monkeypatch):
    window, path = saved
    real = store.save

    def slow(job, to, **more):
        time.sleep(0.4)
        return real(job, to, **more)

    monkeypatch.setattr(store, "save", slow)
    window.session.apply(set_value("notes", "one", "Note"))
    began = time.monotonic()
    window.save()
    window.session.apply(set_value("notes", "two", "Note"))
    window.save()
    assert time.monotonic() - began < 0.35 and window.session.dirty
    window.jobs.wait()
    assert store.load(path).notes == "two" and not window.session.dirty


def test_a_file_whose_name_no_encoding_has_is_opened_saved_and_recovered(open_window, tmp_path, puppet):
    path = tmp_path / os.fsdecode(b"th\xe9\xe2tre.axle")
    store.save(puppet, path)
    window = open_window(str(path))
    window.session.apply(set_value("notes", "mine", "Note"))
    window.session.flush()
    assert window.session.autosave_problem == ""
    window.save()
    window.jobs.wait()
    assert store.load(path).notes == "mine" and not window.session.dirty
    window.open_name(preferences.load().recent[0])
    assert window.session.path == path


def test_a_first_save_killed_before_it_could_say_so_is_not_offered(open_window, tmp_path, clinic):
    """The journal knows where the job is about to be, before it is there."""
    window, root = open_window(), tmp_path / "state" / "weighty-axle" / "journal"
    window.session.apply(set_value("notes", "mine", "Note"))
    window.session.save_work(tmp_path / "new.axle")()
    (folder,) = (one for one in root.iterdir() if one.is_dir())
    left = tmp_path / "left" / folder.name
    shutil.copytree(folder, left)
    assert journal.left_behind(left.parent) == [] and not left.exists()


@pytest.mark.parametrize("typed", ["bus", "bus 1.2"])
@pytest.mark.parametrize("agreed", [True, False])
def test_an_ending_that_is_added_is_asked_about_before_it_overwrites(saved, tmp_path, monkeypatch, typed, agreed):
    window, _ = saved
    there = tmp_path / f"{typed}.axle"
    store.save(replace(window.session.shown.job, notes="was here"), there)
    asked = []
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / typed), ""))
    monkeypatch.setattr(
        QMessageBox,
        "question",
        lambda _window, _title, text, *_: (asked.append(text), BUTTONS.Yes if agreed else BUTTONS.No)[1],
    )
    window.session.apply(set_value("notes", "mine", "Note"))
    window.jobs.save_as()
    window.jobs.wait()
    assert there.name in asked[0] and store.load(there).notes == ("mine" if agreed else "was here")


def test_a_name_nothing_can_have_gets_a_sentence(saved, tmp_path, monkeypatch):
    window, _ = saved
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / ("x" * 300)), ""))
    window.session.apply(set_value("notes", "mine", "Note"))
    window.jobs.save_as()
    window.jobs.wait()
    assert "not saved: File name too long" in window.notice.text.text() and window.session.dirty


def test_the_pack_asks_before_it_writes_over_another_jobs(saved, qtbot, tmp_path, monkeypatch):
    window, _ = saved
    (tmp_path / "pack.pdf").write_text("of another job")
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *_: str(tmp_path))
    asked = []
    monkeypatch.setattr(QMessageBox, "question", lambda _window, _title, text, *_: (asked.append(text), BUTTONS.No)[1])
    window.print_pack()
    assert "pack.pdf" in asked[0] and (tmp_path / "pack.pdf").read_text() == "of another job"
    window.files.write_pack(tmp_path)
    qtbot.waitUntil(lambda: window.files._task is None, timeout=20_000)
    assert "another job" in window.notice.text.text()


def test_a_card_of_no_selector_is_said(saved, qtbot, tmp_path):
    window, _ = saved
    window.files.write_selector_card(tmp_path / "card.pdf")
    qtbot.waitUntil(lambda: window.files._task is None, timeout=20_000)
    assert "no selector" in window.notice.text.text() and not (tmp_path / "card.pdf").exists()


# ---- the journal ---------------------------------------------------------------------------------------------


def test_a_home_that_cannot_be_written_is_said_and_edits_go_on(qapp, qtbot, tmp_path):
    (tmp_path / "state").write_text("a file where the folder should be")
    window = Window(preferences.Preferences(safety_read=True), tmp_path / "state" / "journal")
    qtbot.addWidget(window)
    window.open_name("demo:puppet-theatre")
    window.show()
    window.session.apply(set_value("notes", "x", "Note"))
    qtbot.waitUntil(lambda: "not being kept safe" in window.notice.text.text(), timeout=8000)
    (tmp_path / "state").unlink()
    qtbot.waitUntil(lambda: "kept safe on disk again" in window.notice.text.text(), timeout=12_000)
    window.session.flush()
    (folder,) = (one for one in (tmp_path / "state" / "journal").iterdir() if one.is_dir())
    assert list(journal._records(folder))[-1][0].last_edit == "Note", "without another edit"
    window.session._saved_job = window.session.shown.job


@pytest.mark.logs_errors
def test_a_job_that_cannot_be_worked_out_is_told_and_put_aside(open_window, tmp_path, puppet, monkeypatch):
    window, root = open_window(None), tmp_path / "left" / "journal"
    kept = journal.Journal(root)
    kept.record(puppet, journal.Header("x" * 5000, 2, "Edit " + "y" * 500, 1e300))
    kept._let_go()
    with monkeypatch.context() as broken:
        broken.setattr("weighty_axle.desk.work.session.judge", lambda _design: 1 / 0)
        store.save(puppet, tmp_path / "j.axle")
        window.open_name(str(tmp_path / "j.axle"))
        assert "cannot be worked out" in window.notice.text.text() and window.session is None
        window.jobs.offer_recovery(journal.left_behind(root))
    assert "put aside" in window.notice.text.text() and window.session is None and journal.left_behind(root) == []
    (aside,) = (root.parent / "set-aside").iterdir()
    assert store.load(aside) == puppet


@pytest.mark.parametrize("answer", ["save", "discard"])
def test_recovered_work_that_was_saved_or_not_wanted_is_not_offered_again(
    open_window, tmp_path, puppet, monkeypatch, answer
):
    window, root, path = open_window(None), tmp_path / "left", tmp_path / "j.axle"
    store.save(puppet, path)
    kept = journal.Journal(root)
    kept.record(
        replace(puppet, notes="recovered"),
        journal.Header(str(path), 2, "Edit", 1e9, bases=(journal.digest_of(puppet),)),
    )
    kept._let_go()
    window.jobs.offer_recovery(journal.left_behind(root))
    window.session.apply(set_value("notes", "gone on", "Note"))
    monkeypatch.setattr(QMessageBox, "question", lambda *_: BUTTONS.Discard)
    if answer == "save":
        window.save()
    assert window.jobs.may_leave() and journal.left_behind(root) == []
    assert store.load(path).notes == ("gone on" if answer == "save" else puppet.notes)


def test_recovered_work_with_odd_words_is_offered(open_window, tmp_path, puppet):
    window, root = open_window(None), tmp_path / "left"
    kept = journal.Journal(root)
    kept.record(puppet, journal.Header("x" * 5000, 2, "Edit " + "y" * 500, 1e300))
    kept._let_go()
    window.jobs.offer_recovery(journal.left_behind(root))
    assert "an unknown time" in window.notice.text.text() and len(window.notice.text.text()) < 300
    press(window.notice, "Go back")
    assert window.session is None and when_words(-1e300) == "an unknown time"
