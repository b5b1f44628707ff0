"""Every leaf of every step: random use, names for screen readers, US units, the night look, and undo of all of it."""

from __future__ import annotations

import random
from types import SimpleNamespace

import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QAbstractButton, QComboBox, QLineEdit, QMenu, QTableView, QWidget

from tests.desk.driving import area, drag, entry, leaf, press, retype, send_move
from weighty_axle.desk.frame.workbench import view_class
from weighty_axle.desk.kit.fields import Entry
from weighty_axle.desk.kit.painting import Canvas
from weighty_axle.desk.work.background import Task
from weighty_axle.job.checks.whole import problems
from weighty_axle.job.edits.edit import set_value
from weighty_axle.job.edits.roof import add_remote
from weighty_axle.job.files.store import decode, encode
from weighty_axle.job.models.brief import Span
from weighty_axle.steps import STEPS

KEY = Qt.Key
LEAVES = [
    (step.key, name)
    for step in STEPS
    for name, _ in view_class(step).leaf_classes
    if len(view_class(step).leaf_classes) > 1
]


STEPS_WITH_LEAVES = list(dict.fromkeys(step for step, _ in LEAVES))


@pytest.fixture(autouse=True)
def own_data(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))


def test_leaves_are_many_and_named_apart():
    assert len(LEAVES) == len(set(LEAVES)) >= 29


@pytest.mark.parametrize("step", STEPS_WITH_LEAVES)
def test_columns_that_fit_their_contents_cut_none(open_window, qapp, step):
    window = open_window("demo:library-bus")
    window.go(step)
    for name in window.bench.view(step).leaf_names:
        window.bench.turn_to(name)
        qapp.processEvents()
        for table in window.bench.view(step).leaf.findChildren(QTableView):
            header = table.horizontalHeader()
            for column in range(table.model().columnCount()):
                if header.sectionResizeMode(column) == header.ResizeMode.ResizeToContents and table.isVisible():
                    needed = min(table.sizeHintForColumn(column), header.maximumSectionSize())
                    assert header.sectionSize(column) >= needed, name


@pytest.mark.parametrize("step", STEPS_WITH_LEAVES)
def test_every_control_of_a_leaf_has_a_name_and_tab_reaches_it(open_window, step):
    window = open_window("demo:library-bus")
    for name in window.bench.view(step).leaf_names:
        _names_and_focus(window, leaf(window, step, name))


def _names_and_focus(window, part):
    for control in part.findChildren(QWidget):
        if isinstance(control, QLineEdit | QComboBox | QTableView | Canvas) and not control.parent().inherits(
            "QComboBox"
        ):
            assert control.accessibleName(), control
        if isinstance(control, QAbstractButton) and control.isVisible() and not control.inherits("QTableCornerButton"):
            assert control.text() or control.accessibleName() or control.inherits("QToolButton"), control
    canvases = [one for one in part.findChildren(Canvas) if one.focusPolicy() & Qt.FocusPolicy.TabFocus]
    for canvas in canvases:
        canvas.setFocus(Qt.FocusReason.TabFocusReason)
        assert window.focusWidget() is canvas
        assert not canvas.grab().toImage().isNull(), "drawn with its focus ring"


@pytest.mark.parametrize(("step", "name"), LEAVES)
def test_a_monkey_breaks_nothing_and_undo_takes_all_of_it_back(open_window, qapp, step, name):
    """Random presses, drags, wheel and keys: the job stays sound and can be saved, and undo leads back to the start."""
    window = open_window("demo:library-bus")
    part = leaf(window, step, name)
    start, dice = window.session.shown.job, random.Random(f"{step} {name}")
    keys = (
        KEY.Key_Up,
        KEY.Key_Down,
        KEY.Key_Left,
        KEY.Key_Right,
        KEY.Key_Space,
        KEY.Key_M,
        KEY.Key_C,
        KEY.Key_V,
        KEY.Key_Plus,
        KEY.Key_Minus,
        KEY.Key_Home,
    )
    for _ in range(16):
        canvases = [one for one in part.findChildren(Canvas) if one.isVisible()]
        if canvases and dice.random() < 0.75:
            canvas = dice.choice(canvases)
            canvas.grab()
            a, b = (QPointF(dice.uniform(0, canvas.width()), dice.uniform(0, canvas.height())) for _ in range(2))
            if dice.random() < 0.5:
                drag(canvas, a, b, dice.choice((Qt.MouseButton.LeftButton, Qt.MouseButton.RightButton)), steps=3)
            else:
                canvas.setFocus()
                for _ in range(3):
                    modifier = dice.choice(
                        (
                            Qt.KeyboardModifier.NoModifier,
                            Qt.KeyboardModifier.ShiftModifier,
                            Qt.KeyboardModifier.AltModifier,
                        )
                    )
                    QTest.keyClick(canvas, dice.choice(keys), modifier)
        else:
            lines = [one for one in part.findChildren(Entry) if one.isVisible() and one.isEnabled()]
            if lines:
                retype(
                    dice.choice(lines), dice.choice(("1", "-3", "0.5", "12 V", "7 kg", "90 %", "a b c", "1e9", "2/0"))
                )
        qapp.processEvents()
        assert problems(window.session.shown.job) == []
    assert decode(encode(window.session.shown.job)) == window.session.shown.job
    while window.session.undo_label:
        window.session.undo()
    assert window.session.shown.job == start and not window.session.dirty


@pytest.mark.parametrize("look", ["light", "dark"])
def test_leaves_in_us_units(open_window, look):
    window = open_window("demo:library-bus", units="us", look=look)
    measured = leaf(window, "vehicle", "Measured")
    assert (
        entry(measured, "Length").text() == "34.7769\u00a0ft"
        and entry(measured, "Record low").text() == "−14.8\u00a0°F"
    )
    bays = leaf(window, "vehicle", "Bays and ways").models["vehicle.bays"]
    assert bays.data(bays.index(1, 2)).replace("\u00a0", " ") == "11.2 ft"
    assert bays.setData(bays.index(1, 2), "11 ft") and window.session.shown.job.vehicle.bays[
        1
    ].start_m == pytest.approx(3.3528)
    cold = leaf(window, "bank", "Cold")
    retype(entry(cold, "Kept at"), "50")
    assert window.session.shown.job.bank.box.keep_c == pytest.approx(10)
    for step, name in LEAVES:
        assert not leaf(window, step, name).grab().toImage().isNull()


def test_leaves_turn_by_keys_and_by_commands(window):
    window.go("brief")
    view = window.bench.view("brief")
    view.setFocus()
    for expected in ("Energy", "Run together", "Stays", "On board", "Day"):
        view._turn_by(1)
        assert view.leaf_name == expected
    view._turn_by(-1)
    assert view.leaf_name == "On board"
    next(one for one in window.commands() if one.words == "Turn to Energy").do()
    assert view.leaf_name == "Energy"
    made = dict(view.leaves)
    for name in made:
        view.turn_to(name)
    assert view.leaves == made, "a leaf is made once"


def test_selecting_a_thing_turns_to_the_leaf_that_shows_it(open_window):
    window = open_window("demo:library-bus")
    view = window.bench.view("brief")
    for tag, name in (
        ("EX4", "On board"),
        ("ST3", "Stays"),
        ("LD9", "Day"),
        ("BP1", "Day"),
        ("ST1", "Stays"),
        ("LD2", "Day"),
    ):
        window.session.select(tag)
        assert view.leaf_name == name, tag
    view.turn_to("Run together")
    window.session.select("LD5")
    assert view.leaf_name == "Run together", "a tick board keeps what it is doing"
    view.turn_to("Energy")
    window.session.select("LD6")
    assert view.leaf_name == "Day"


@pytest.mark.qt_log_ignore("This plugin does not support")
def test_the_day_menu_offers_what_find_or_do_offers(window):
    day = window.bench.view("brief").day
    press(day, "More…")
    menu = day.findChild(QMenu)
    offered = [action.text().partition("\t")[0] for action in menu.actions()]
    assert {one.words for one in day.commands()} <= set(offered) and "Take in loads from a table…" in offered
    menu.close()
    next(one for one in day.commands() if one.words == "Look closer").do()
    assert day.ribbons.hours.last_min - day.ribbons.hours.first_min == 720
    next(one for one in day.commands() if one.words == "Look at the whole day").do()
    assert day.ribbons.hours.last_min == 1440


def test_a_drag_shows_its_times_and_the_pointer_tells_the_minute(window):
    ribbons = window.bench.view("brief").day.ribbons
    y = ribbons.row_y("LD3") + 10
    QTest.mousePress(ribbons, Qt.MouseButton.LeftButton, pos=QPointF(ribbons._x(600), y).toPoint())
    plain = ribbons.grab().toImage()
    ribbons._drag_to = 720
    assert ribbons.grab().toImage() != plain, "10:00–12:00 stands beside the stroke"
    QTest.mouseRelease(ribbons, Qt.MouseButton.LeftButton, pos=QPointF(ribbons._x(720), y).toPoint())
    assert ribbons._drag is None
    QTest.mouseMove(ribbons, QPointF(ribbons._x(905), y).toPoint())

    send_move(ribbons, QPointF(ribbons._x(905), y), Qt.MouseButton.NoButton)
    assert ribbons.toolTip() == "Autoclave, 15:05"


def test_zoomed_ribbons_paint_where_the_pointer_is(window):
    ribbons = window.bench.view("brief").day.ribbons
    ribbons.zoom(0.25, 20 * 60)
    y = ribbons.row_y("LD6") + 10
    drag(ribbons, QPointF(ribbons._x(19 * 60), y), QPointF(ribbons._x(20 * 60 + 5), y))
    assert Span(1140, 1205, 1.0) in window.session.shown.job.loads[5].patterns["CLINIC"]


def test_out_of_season_loads_are_hollow_and_say_so(open_window):
    window = open_window("demo:library-bus")
    day = window.bench.view("brief").day
    solid = day.ribbons.grab().toImage()
    day.season.setCurrentIndex(day.season.findData("winter"))
    day.season.activated.emit(day.season.currentIndex())
    assert day.ribbons.grab().toImage() != solid
    design = window.session.shown.design
    assert (
        day.silhouette.day_kind == "VILLAGE"
        and design.brief.profile("VILLAGE", "winter").bank_wh < design.brief.profile("VILLAGE").bank_wh
    )


def test_honest_peaks_come_once_numpy_is_there(open_window, qtbot, monkeypatch):
    later = []
    monkeypatch.setattr("weighty_axle.desk.steps.brief.day.sys", SimpleNamespace(modules={}))  # as at a cold start
    monkeypatch.setattr(
        "weighty_axle.desk.steps.brief.day.QTimer",
        SimpleNamespace(singleShot=lambda ms, _owner, do: later.append(do) if ms else None),
    )
    window = open_window("demo:library-bus")
    day = window.bench.view("brief").day
    silhouette = day.silhouette
    mine = lambda: [one for one in later if getattr(one, "__self__", None) is day]  # noqa: E731
    qtbot.waitUntil(lambda: bool(mine()), timeout=10_000)
    assert silhouette.honest(window.session.shown.design) is None, "the first screen does not wait for it"
    silhouette.grab()
    assert len(mine()) == 1, "asked for once, however often it is painted"
    mine()[0]()
    qtbot.waitUntil(lambda: silhouette.ready, timeout=10_000)
    assert (
        silhouette.honest(window.session.shown.design) is not None
        and silhouette.peak(window.session.shown.design) is None
    )
    # The hand rests: the peak is worked out in the background.
    qtbot.waitUntil(lambda: silhouette.peak(window.session.shown.design) is not None, timeout=20_000)
    assert (
        silhouette.peak(window.session.shown.design).value
        <= window.session.shown.design.brief.days["VILLAGE"].peak_ac_w.value
    )


def test_two_works_with_files_do_not_run_at_once(window, qtbot, tmp_path):
    window.files.write_loads(tmp_path / "one.csv")
    running = window.files._task
    window.files.write_loads(tmp_path / "two.csv")
    assert window.files._task is running and isinstance(running, Task)
    qtbot.waitUntil(lambda: window.files._task is None, timeout=20_000)
    assert (tmp_path / "one.csv").exists() and not (tmp_path / "two.csv").exists()
    window.files.write_loads(tmp_path / "none" / "three.csv")
    qtbot.waitUntil(lambda: window.files._task is None, timeout=20_000)
    assert "not done" in window.notice.text.text() and "three.csv" in window.notice.text.text()


@pytest.mark.parametrize(
    ("demo", "step", "name", "tags"),
    [
        ("puppet-theatre", "inverters", "Sources", ("P16", "GEN1", "P10")),
        ("eye-clinic", "inverters", "Panels", ("CK7", "CK2", "CK5")),
        ("eye-clinic", "roof", "Elsewhere", ("RA3", "RA1", "RA2")),
        ("eye-clinic", "roof", "Fixings", ("CC2", "CC1", "CC2")),
    ],
)
def test_tables_turn_to_what_is_selected_elsewhere(open_window, demo, step, name, tags):
    """A finding, the strip or another instrument names it: its row is chosen, and everything under the table is about
    it.
    """
    window = open_window(f"demo:{demo}")
    for controller in ("CC1", "CC2", "CC2") if name == "Elsewhere" else ():
        window.session.apply(add_remote(controller))
    for at in range(3) if name == "Elsewhere" else ():
        window.session.apply(set_value(f"roof.remote[RA{at + 1}].name", f"Array {at + 1}", ""))
    part = leaf(window, step, name)
    told = []
    for tag in tags:
        window.session.select("nothing of the kind", tag)
        record = part.model.record(part.table.currentIndex().row())
        if name == "Fixings":
            about = part.labels.text()
            assert record.controller == tag and tag in about
        else:
            about = entry(part, "Circuit" if name == "Panels" else "Name").text()
            assert (record[0].tag, record[0].name) == (tag, about)
        told.append(about)
    assert len(set(told)) == len(set(tags))
    window.session.select("nothing of the kind")
    assert tags[-1] in str(part.model.record(part.table.currentIndex().row())), (
        "what is not in the table leaves it as it is"
    )


@pytest.mark.parametrize("name", ["Sources", "Panels"])
def test_a_finding_pressed_shows_its_row(open_window, name):
    window = open_window("demo:eye-clinic")
    part = leaf(window, "inverters", name)
    shown = 0
    for card in window.bench.findings.cards():
        QTest.mouseClick(card, Qt.MouseButton.LeftButton, pos=card.rect().topLeft() + QPoint(60, 12))
        rows = {part.model.record(row)[0].tag: row for row in range(part.model.rowCount())}
        wanted = [rows[tag] for tag in card.finding.tags if tag in rows]
        assert not wanted or part.table.currentIndex().row() == min(wanted)
        shown += bool(wanted)
    assert shown


def test_the_year_is_full_and_says_so(open_window):
    window = open_window("demo:library-bus")
    stays = leaf(window, "brief", "Stays")
    for _ in range(3):
        press(stays, "Add a stay")
    count = len(window.session.shown.job.stays)
    while sum(stay.days for stay in window.session.shown.job.stays) < 365:
        press(stays, "Add a stay")
        assert len(window.session.shown.job.stays) > count
        count = len(window.session.shown.job.stays)
    press(stays, "Add a stay")
    assert len(window.session.shown.job.stays) == count and "year is full" in stays._said.text()
    line = entry(stays, "Days")
    retype(line, "0")
    assert "at least a day" in line.accessibleDescription()


def test_a_refused_choice_goes_back_and_typed_text_stays(window):
    """One string of packs: the last one in service cannot be taken out; a load's name cannot be empty."""
    day = window.bench.view("brief").day
    line = entry(day, "Name")
    before = window.session.shown.job
    line.setFocus()
    line.clear()
    QTest.keyClick(line, KEY.Key_Return)
    assert (
        "must not be empty" in line.accessibleDescription() and line.text() == "" and window.session.shown.job is before
    )
    QTest.keyClick(line, KEY.Key_Escape)
    assert line.text() == before.loads[0].name
    assert window.session.apply(set_value("bank.series", 4, "")) is not None
    tick = leaf(window, "brief", "Run together").board
    assert area(tick, "LD1") is not None
