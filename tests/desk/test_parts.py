"""Single parts of the desk: session, background work, find or do, fields, fonts."""

from __future__ import annotations

import threading

import pytest
from PySide6.QtCore import QObject
from PySide6.QtGui import QFontInfo, QImage, QPainter
from PySide6.QtWidgets import QApplication, QLabel

from weighty_axle.desk.kit.painting import bar, severity_mark, words
from weighty_axle.desk.kit.theme import apply_look, scaled
from weighty_axle.desk.work import preferences
from weighty_axle.desk.work.background import Background, Task
from weighty_axle.desk.work.commands import Command, matches
from weighty_axle.desk.work.session import Session
from weighty_axle.job.edits.edit import Edit, move, set_value
from weighty_axle.job.files import journal


@pytest.fixture
def session(qapp, clinic, tmp_path):
    made = Session(clinic, None, tmp_path / "journal")
    yield made
    made.close()


def test_edits_in_a_row_with_one_key_are_one_step(session):
    for dx in (0.1, 0.1, 0.1):
        session.apply(move(("DB1",), dx_m=dx, merge="drag 1"))
    session.apply(move(("DB1",), dx_m=0.1, merge="drag 2"))
    assert session.undo_steps() == ("Move DB1", "Move DB1")
    session.undo()
    session.undo()
    session.redo()
    assert session.shown.job.wiring.board.place.x_m == pytest.approx(6.5)
    assert session.redo_label == "Move DB1"
    session.apply(set_value("name", "Other", "Name"))
    assert session.redo_label == "", "a new edit ends redo"


def test_refused_edits_change_nothing_and_say_why(session):
    seen = []
    session.changed.connect(seen.append)
    before = session.shown
    assert "at least 0" in session.apply(set_value("loads[LD1].running_w", -1.0, ""))
    assert session.apply(set_value("loads[LD99].running_w", 1.0, "")) == "This job has no loads LD99 any more."
    assert session.apply(Edit("nothing", lambda job: job)) is None
    assert session.shown is before and not seen and session.undo_label == ""


def test_the_journal_always_ends_with_the_newest_edit(session, tmp_path):
    for n in range(200):
        session.apply(set_value("notes", f"edit {n}", f"Edit {n}"))
    session.flush()
    (folder,) = (one for one in (tmp_path / "journal").iterdir() if one.is_dir())
    last = journal._whole(folder, list(journal._records(folder)))
    assert last.job.notes == "edit 199" and last.header.last_edit == "Edit 199" and last.header.unsaved_edits == 200


def test_a_disk_that_is_full_is_reported_and_recovers(session, monkeypatch):
    def full(*_):
        raise OSError(28, "No space left on device")

    with monkeypatch.context() as broken:
        broken.setattr(journal.Journal, "record", full)
        session.apply(set_value("notes", "lost?", "Note"))
        session.flush()
        assert session.autosave_problem == "No space left on device"
    session.apply(set_value("notes", "kept", "Note"))
    session.flush()
    assert session.autosave_problem == ""


@pytest.fixture
def background(qapp):
    made = Background(QObject())
    yield made
    made.close()


def test_work_comes_back_on_the_windows_thread(background, qtbot):
    here, seen = threading.get_ident(), []

    class Receiver(QObject):
        def take(self, result):
            seen.append((result, threading.get_ident()))

    owner = Receiver()
    task = Task("count", lambda progress: (progress(0.5, "half"), threading.get_ident())[1], owner)
    task.finished.connect(owner.take)
    background.start(task)
    qtbot.waitUntil(lambda: bool(seen), timeout=5000)
    assert seen[0][0] != here and seen[0][1] == here


@pytest.mark.parametrize(("error", "words_"), [(OSError(28, "No space left", "x"), "No space left"), (None, "")])
def test_work_that_fails_or_is_cancelled_says_so(background, qtbot, error, words_):
    started = threading.Event()

    def work(progress):
        started.set()
        if error is not None:
            raise error
        while True:
            progress(0.1, "going on")

    owner, told = QObject(), []
    task = Task("fail", work, owner)
    task.failed.connect(told.append)
    background.start(task)
    assert started.wait(5)
    if error is None:
        task.cancel()
    qtbot.waitUntil(lambda: bool(told), timeout=5000)
    assert words_ in told[0] and (told[0] == "") == (error is None)


def test_find_or_do_wants_every_part_and_puts_beginnings_first():
    commands = [
        Command(words_, "", lambda: None) for words_ in ("Go to Bank", "Workings: Bank energy", "Bank up", "Save")
    ]
    assert [one.words for one in matches("bank", commands)] == ["Bank up", "Go to Bank", "Workings: Bank energy"]
    assert [one.words for one in matches("work BANK", commands)] == ["Workings: Bank energy"]
    assert matches("nothing such", commands) == [] and len(matches("", commands)) == 4


def test_the_shipped_font_is_the_one_on_screen(qapp):
    apply_look(qapp, "light", 1.0)
    assert QFontInfo(QApplication.font()).family() == "B612"
    assert scaled(14, bold=True).bold() and scaled(14).pointSizeF() > scaled(9).pointSizeF()
    small = scaled(9).pointSizeF()
    apply_look(qapp, "light", 1.5)
    assert scaled(9).pointSizeF() == pytest.approx(1.5 * small)
    apply_look(qapp, "light", 1.0)


@pytest.mark.parametrize("text", ["{", "[]", '{"look": "pink"}', '{"text_scale": 40}', '{"recent": 7}'])
def test_damaged_preferences_give_the_defaults(text):
    path = preferences._file()
    path.parent.mkdir(parents=True, exist_ok=True)
    path.write_text(text)
    assert preferences.load() == preferences.Preferences()


def _picture(paint) -> QImage:
    image = QImage(120, 40, QImage.Format.Format_RGB32)
    image.fill(0xFFFFFF)
    painter = QPainter(image)
    paint(painter)
    painter.end()
    return image.convertToFormat(QImage.Format.Format_Grayscale8)


def test_severities_and_surplus_show_without_colour(qapp):
    """In greys the three marks have three outlines, and a bar over its limit is not the bar at it."""
    from PySide6.QtCore import QPointF, QRectF

    apply_look(qapp, "light", 1.0)
    marks = [
        _picture(lambda painter, one=one: severity_mark(painter, QPointF(20, 20), one, 14))
        for one in ("stop", "check", "note")
    ]
    covered = [
        {(x, y) for x in range(40) for y in range(40) if image.pixelColor(x, y).lightness() < 200} for image in marks
    ]
    assert all(len(one ^ other) > 40 for one in covered for other in covered if one is not other)
    at, over = (
        _picture(lambda painter, share=share: bar(painter, QRectF(5, 10, 100, 14), share, "#5a6675", limit_share=0.5))
        for share in (0.5, 0.8)
    )
    band = [{over.pixelColor(x, y).lightness() for y in range(11, 23)} for x in range(60, 80)]
    assert max(len(one) for one in band) >= 2, "the surplus is hatched"
    assert at != over


def test_long_text_ends_in_dots_inside_its_box(qapp):
    from PySide6.QtCore import QRectF

    apply_look(qapp, "light", 1.0)
    image = _picture(lambda painter: words(painter, QRectF(0, 0, 60, 40), "a very long name that cannot fit", size=9))
    ink = [x for x in range(120) for y in range(40) if image.pixelColor(x, y).lightness() < 128]
    assert ink and max(ink) <= 62


def test_labels_have_tones_not_sheets(window):
    """Per-label style sheets are slow; tones are one rule."""
    assert not [label for label in window.findChildren(QLabel) if label.styleSheet()]
