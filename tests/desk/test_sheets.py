"""Sheets and systems in the real window: opened by key and press, followed, filled, refused, removed, undone."""

from __future__ import annotations

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from tests import jobs, plants
from tests.desk.driving import KEY, choose, entry, press, retype
from weighty_axle import demos
from weighty_axle.design.plainest import addable
from weighty_axle.desk.work.preferences import own_types_file
from weighty_axle.job.edits.bank import set_pack_count
from weighty_axle.job.edits.edit import set_value, value_at
from weighty_axle.job.models.log import LogEntry, Service
from weighty_axle.job.models.year import Price
from weighty_axle.job.sheets import sheet_of
from weighty_axle.job.systems import part_of, systems
from weighty_axle.reference.own_types import read_own
from weighty_axle.units import LENGTH, typed


@pytest.fixture
def window(open_window, monkeypatch, tmp_path):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    return open_window("demo:eye-clinic")


def test_a_sheet_opens_by_key_follows_the_selection_and_says_what_is_refused(window):
    window.session.select("CC1")
    QTest.keyClick(window.bench, KEY.Key_F2)
    sheet = window.bench.sheet
    assert sheet.isVisible() and sheet.path == "roof.controllers[CC1]"
    window.session.select("DK2")
    assert sheet.path == "dc.circuits[DK2]"
    retype(entry(sheet, "Fuse"), "25 A")
    assert (
        window.session.shown.whole.dc.circuits[1].fuse_a == 25 and window.session.undo_label.endswith("25.0") is False
    )
    retype(entry(sheet, "Fuse"), "-3 A")
    assert (
        entry(sheet, "Fuse").objectName() == "wrong" and "at least 0.1" in entry(sheet, "Fuse").accessibleDescription()
    )
    retype(entry(sheet, "Fuse"), "20 A")
    press(sheet, "Up")
    assert sheet.path == "dc"
    press(sheet, "Up")
    assert sheet.path == "" and sheet.title.text() == "The whole job"


def test_a_datasheet_changes_every_part_of_its_type_and_is_kept(window):
    sheet = window.bench.sheet
    sheet.open_path("converters[ALT2].spec")
    retype(entry(sheet, "Output in A"), "18 A")
    assert [one.spec.output_a for one in window.session.shown.whole.converters[:3]] == [18.0] * 3
    window.session.undo()
    assert [one.spec.output_a for one in window.session.shown.whole.converters[:3]] == [17.0] * 3
    press(sheet, "Keep")
    assert [one.name for one in read_own(own_types_file()).converters] == ["Alternator charger 24 to 48 V, 17 A"]
    choose(sheet, "From the list", "Charger 24 to 48 V 8 A")
    chargers = [one.spec.name for one in window.session.shown.whole.converters[:3]]
    assert chargers[1] == "Charger 24 to 48 V 8 A" != chargers[0] == chargers[2], "another type is for this one"


def test_what_goes_takes_along_what_names_it(window):
    sheet = window.bench.sheet
    for path, gone in (("dc.circuits[DK1]", "DK1"), ("dc.panels[DP1]", "DP1"), ("bars[DB12]", "DB12")):
        sheet.open_path(path)
        press(sheet, "Remove")
        assert not sheet.said.isVisible(), sheet.said.text()
        assert gone not in {
            one.tag for one in (*window.session.shown.whole.dc.circuits, *window.session.shown.whole.bars)
        }
    assert all(load.circuit != "DK1" for load in window.session.shown.whole.loads)
    assert all(one.end != "DB12" for one in window.session.shown.whole.converters)
    window.session.undo(3)
    assert window.session.shown.whole.bars[1].tag == "DB12"


def test_systems_are_chosen_on_the_rail_and_edits_go_where_they_belong(open_window):
    window = open_window(None)
    job = plants.staged(jobs.plain("puppet-theatre"))
    assert window.start(job, None)
    rail = window.bench.rail
    assert [rail.system.itemText(at) for at in range(rail.system.count())] == ["House", "Old 12 V bar"]
    choose(rail, "System on show", "DB12")
    assert window.session.shown.design.system.key == "DB12"
    window.go("bank")
    retype(entry(window.bench.view("bank"), "Usable share"), "40 %")
    whole = window.session.shown.whole
    assert whole.bars[0].bank.usable_share == 0.4 and whole.bank.usable_share == job.bank.usable_share
    # A new load of the bar gets a tag nothing else in the whole job has.
    window.go("brief")
    loads = {load.tag for load in whole.loads}
    press(window.bench.view("brief"), "Add a load")
    QTest.keyClicks(window.bench.view("brief").day._finder._entry, "laptop")
    QTest.keyClick(window.bench.view("brief").day._finder._entry, KEY.Key_Return)
    assert len({load.tag for load in window.session.shown.whole.loads} - loads) == 1
    assert window.session.undo_label
    window.session.undo(2)
    assert window.session.shown.whole == job and window.session.shown.design.system.key == "DB12"
    window.bench.sheet.open_path("bars[DB12]")
    QTest.mouseClick(window.bench.sheet._remove, Qt.MouseButton.LeftButton)
    assert window.session.shown.design.system.key == "" and not rail.system.isVisible()


def test_three_questions_shape_a_new_job(open_window):
    window = open_window(None)
    window.jobs.new_from_type("coach-3")
    note = window.bench.beginning
    QTest.qWait(20)
    assert note.isVisible() and window.session.shown.whole.inverters.stacking == "split_phase"
    for words in ("Practice: International", "Bank: 24 V", "AC: three-phase"):
        QTest.mouseClick(note.presses[words], Qt.MouseButton.LeftButton)
    whole = window.session.shown.whole
    assert (whole.practice, len(whole.inverters.units), whole.inverters.stacking) == ("international", 3, "three_phase")
    assert whole.bank.spec.cells_in_series == 8 and whole.wiring.ampacity_table == "small_craft_mm2"
    QTest.mouseClick(note.presses["Bank: decide later"], Qt.MouseButton.LeftButton)
    assert not note.isVisible() and window.bench.leaf_name == "Why 48 V"
    window.session.undo(3)
    assert window.session.shown.whole.practice == "north_american"


def test_the_questions_stand_while_their_answers_take_nothing_away(open_window, qtbot):
    window = open_window(None)
    window.jobs.new_from_type("coach-3")
    session, old = window.session, window.bench
    window.set_look("dark")
    qtbot.waitUntil(lambda: window.bench not in (None, old) and window.bench.beginning.isVisible())
    note = window.bench.beginning
    QTest.mouseClick(note.presses["Bank: 12 V"], Qt.MouseButton.LeftButton)
    session.apply(set_value("vehicle.description", "The lending coach", ""))
    assert note.isVisible() and note.presses["Bank: 12 V"].isChecked()
    session.apply(set_pack_count(6))
    assert not note.isVisible(), "an answer would take the packs away"
    session.undo(3)
    assert note.isVisible() and note.presses["Bank: 48 V"].isChecked()


@pytest.mark.parametrize("name", ["eye-clinic", "library-bus"])
def test_whatever_system_is_on_show_everything_can_be_placed(open_window, name):
    """Items stand in one vehicle: those of other systems are shown, typed and moved like one's own."""
    window = open_window(f"demo:{name}")
    session, job = window.session, window.session.shown.whole
    assert job.bars or job.groups
    places = {item.tag: item.place for item in session.shown.design.items}
    for one in systems(job):
        session.show_system(one.key)
        window.bench.show_step("place")
        leaf = window.bench.views["place"].leaf
        for tag, place in places.items():
            session.select(tag)
            along = leaf.fields.entries[0]
            assert along.isEnabled() and along.text() == typed(place.x_m, LENGTH, "metric"), (one.key, tag)
            retype(along, f"{place.x_m + 0.5:.3f} m")
            QTest.keyClick(leaf.drawing, KEY.Key_Left)
            now = next(item.place for item in session.shown.design.items if item.tag == tag)
            assert now.x_m == pytest.approx(place.x_m + 0.49, abs=1e-3), (one.key, tag)
            session.undo(2)
    (*_, last) = (part_of(job, one.key).bank for one in systems(job))
    tags = tuple(pack.tag for pack in last.packs)
    session.show_system("")
    assert leaf.drawing._group(tags[0], False) == tags and leaf.drawing._group(tags[0], True) == tags[:1]


def _lists(value, path=""):
    """Every list a sheet of a value shows, with its field, one entry of each list deep."""
    for field in sheet_of(type(value)):
        own, at = getattr(value, field.name), f"{path}.{field.name}" if path else field.name
        if field.form == "entries":
            yield at, field, own
            if own:
                yield from _lists(own[0], f"{at}[{getattr(own[0], 'tag', 0)}]")
        elif field.form == "part" and own is not None:
            yield from _lists(own, at)


@pytest.mark.parametrize("demo", demos.names())
def test_to_every_list_of_every_sheet_something_is_added_or_nothing_is_offered(
    open_window, monkeypatch, tmp_path, demo
):
    """What is added may be refused in a sentence where it would contradict what is stated; it is never an error."""
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    window = open_window(f"demo:{demo}")
    sheet, session, added = window.bench.sheet, window.session, set()
    before = session.shown.whole
    for path, field, own in _lists(before):
        owner = path.rpartition(".")[0]
        sheet.open_path(owner)
        key = f"add {path}"
        if field.part is None or not addable(field.part):
            assert key not in sheet.presses, path
        elif key in sheet.presses:
            QTest.mouseClick(sheet.presses[key], Qt.MouseButton.LeftButton)
            if session.shown.whole is before:
                assert sheet.said.text(), path
            else:
                added.add(field.part)
                assert len(value_at(session.shown.whole, path)) == len(own) + 1
                session.undo()
                assert session.shown.whole == before, path
    assert {Service, LogEntry, Price} <= added and len(added) > 30
