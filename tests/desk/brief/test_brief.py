"""The leaves of Brief and Vehicle as a user has them: by mouse and by keyboard."""

from __future__ import annotations

import pypdf
import pytest
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QAbstractItemModelTester, QTest
from PySide6.QtWidgets import QFileDialog

from tests.desk.driving import area, choose, drag, entry, leaf, press, retype
from weighty_axle.desk.steps.brief.energy import slices
from weighty_axle.desk.steps.brief.hours import LABELS
from weighty_axle.desk.steps.brief.ribbons import ROW
from weighty_axle.desk.steps.brief.run_together import duration_words, overload_words, read_overload
from weighty_axle.desk.work import preferences
from weighty_axle.job.edits.brief import add_load
from weighty_axle.job.edits.edit import set_value
from weighty_axle.job.models.brief import Load, Span
from weighty_axle.reference.appliances import read_own
from weighty_axle.units import QuantityError

KEY, SHIFT, CTRL, ALT = (
    Qt.Key,
    Qt.KeyboardModifier.ShiftModifier,
    Qt.KeyboardModifier.ControlModifier,
    Qt.KeyboardModifier.AltModifier,
)


@pytest.fixture(autouse=True)
def own_data(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))


@pytest.fixture
def library(open_window):
    return open_window("demo:library-bus")


def job(window):
    return window.session.shown.job


def load_of(window, tag):
    return next(one for one in job(window).loads if one.tag == tag)


# ---- the day -------------------------------------------------------------------------------------------------


def test_groups_fold_and_loads_are_found_in_them(library):
    ribbons = library.bench.view("brief").day.ribbons
    count = len(ribbons.lines())
    assert count == 27 + 6, "27 loads under 6 headings"
    QTest.mouseClick(ribbons, Qt.MouseButton.LeftButton, pos=area(ribbons, "group Climate").toPoint())
    assert len(ribbons.lines()) == count - 5
    ribbons.setFocus()
    library.session.select("LD6")
    QTest.keyClick(ribbons, KEY.Key_Up)
    assert library.session.selection == ("LD6",), "folded loads are passed over"
    QTest.mouseClick(ribbons, Qt.MouseButton.LeftButton, pos=area(ribbons, "group Climate").toPoint())
    assert len(ribbons.lines()) == count


def test_copy_put_mirror_shift_and_delete_by_keys(library):
    ribbons = library.bench.view("brief").day.ribbons
    ribbons.setFocus()
    library.session.select("LD17")
    kettle = load_of(library, "LD17").patterns["VILLAGE"]
    QTest.keyClick(ribbons, KEY.Key_C)
    library.session.select("LD18")
    QTest.keyClick(ribbons, KEY.Key_V)
    assert load_of(library, "LD18").patterns["VILLAGE"] == kettle
    QTest.keyClick(ribbons, KEY.Key_M)
    assert load_of(library, "LD18").patterns["VILLAGE"][0].start_min == 1440 - kettle[-1].end_min
    at = [one.tag for one in job(library).loads].index("LD18")
    QTest.keyClick(ribbons, KEY.Key_Up, ALT)
    assert job(library).loads[at - 1].tag == "LD18"
    QTest.keyClick(ribbons, KEY.Key_Delete)
    assert "LD18" not in {one.tag for one in job(library).loads}
    assert library.session.undo_label == "Remove Microwave oven"


def test_a_day_is_copied_to_another_kind_from_the_commands(library):
    day = library.bench.view("brief").day
    library.session.select("LD1")
    command = next(one for one in library.commands() if one.words.endswith("front to Round day"))
    command.do()
    assert load_of(library, "LD1").patterns["ROUND"] == load_of(library, "LD1").patterns["VILLAGE"]
    next(one for one in day.commands() if one.words == "Copy the whole Village day to Holidays").do()
    assert all(one.patterns.get("STORED", ()) == one.patterns.get("VILLAGE", ()) for one in job(library).loads)
    assert "brief.painted-while-off" in {one.rule.id for one in library.session.shown.findings}


def test_kinds_and_seasons_change_what_is_shown(library):
    day = library.bench.view("brief").day
    village = day.silhouette.honest(library.session.shown.design)
    assert village is not None
    choose(day, "Season", "winter")
    assert (day.ribbons.season, day.silhouette.season) == ("winter", "winter")
    assert library.session.shown.design.brief.profile("VILLAGE", "winter").season_words == "winter"
    press(day, "Round day")
    assert day.ribbons.day_kind == day.silhouette.day_kind == "ROUND"
    import numpy  # noqa: F401  # drawn days are shown once it is there

    choose(day, "Season", None)
    honest = day.silhouette.honest(library.session.shown.design)
    assert honest.profile == "ROUND" and honest != village
    draw = job(library).draw
    next(one for one in day.commands() if one.words == "Draw the cycling loads anew").do()
    assert job(library).draw == f"{draw} 2"
    assert day.silhouette.honest(library.session.shown.design).all_feeds != honest.all_feeds


def test_silhouette_stands_under_the_ribbons_hour_by_hour(library, qapp):
    day = library.bench.view("brief").day
    for size in ((1280, 800), (1024, 700)):
        library.resize(*size)
        qapp.processEvents()
        assert day.ribbons.hours is day.silhouette.hours
        assert day.ribbons.hours.right_px == day.ribbons.width() - 10 <= day.silhouette.width()
        assert day.ribbons.mapTo(day, day.ribbons.rect().topLeft()).x() == day.silhouette.x()


def test_appliances_are_found_by_typing_and_kept(library, qapp):
    day = library.bench.view("brief").day
    press(day, "Add a load")
    QTest.keyClicks(day._finder._entry, "dehum")
    QTest.keyClick(day._finder._entry, KEY.Key_Return)
    made = job(library).loads[-1]
    assert (made.name, made.supply, made.running_w, made.duty) == ("Dehumidifier", "leg_open", 300, 0.7)
    assert library.session.selection == (made.tag,)
    retype(entry(day, "Running, each"), "260 W")
    next(one for one in day.commands() if one.words == "Keep Dehumidifier for later jobs").do()
    assert [one.running_w for one in read_own(preferences.own_appliances_file())] == [260]
    assert "kept among your own" in day._said.text()
    press(day, "Add a load")
    offered = [one.words for one in day._finder._all if one.words.startswith("Dehumidifier")]
    assert offered == ["Dehumidifier, 260\u00a0W (own)"]
    QTest.keyClicks(day._finder._entry, "medicine")
    QTest.keyClick(day._finder._entry, KEY.Key_Return)
    assert job(library).loads[-1].patterns == {kind: (Span(0, 1440, 1.0),) for kind in ("VILLAGE", "ROUND", "DEPOT")}, (
        "must run: all day"
    )
    preferences.own_appliances_file().write_text("broken")
    press(day, "Add a load")
    assert "cannot be read" in day._said.text() and len(day._finder._all) > 60


def test_all_details_of_a_load_can_be_typed(library):
    day = library.bench.view("brief").day
    library.session.select("LD1")
    next(one for one in day.commands() if one.words == "All details of the load").do()
    for name, text, path, value in (
        ("Group", "Cooling", "group", "Cooling"),
        ("Start lasts", "0.8 s", "start_s", 0.8),
        ("Cycle, min", "12", "cycle_min", 12.0),
        ("Standby", "2 W", "standby_w", 2.0),
        ("In winter", "10 %", "seasons.winter", 0.1),
        ("Power factor", "0.9", "power_factor", 0.9),
    ):
        retype(entry(day, name), text)
        found = load_of(library, "LD1")
        for part in path.split("."):
            found = getattr(found, part)
        assert found == pytest.approx(value) if isinstance(value, float) else found == value
    line = entry(day, "Duty")
    before = job(library)
    retype(line, "140 %")
    assert "at most 1" in line.accessibleDescription() and line.text() == "140 %" and job(library) is before


def test_an_empty_brief_teaches(open_window):
    window = open_window(None)
    press(window, "two-axle bus, rear engine")
    day = window.bench.view("brief").day
    assert job(window).loads == () and job(window).vehicle.description == "two-axle bus, rear engine"
    for name in ("Energy", "Run together", "Stays", "On board", "Day"):
        leaf(window, "brief", name).grab()
    day.add()
    QTest.keyClicks(day._finder._entry, "kettle")
    QTest.keyClick(day._finder._entry, KEY.Key_Return)
    assert [one.supply for one in job(window).loads] == ["AC"]
    window.session._saved_job = job(window)


# ---- energy, run together ------------------------------------------------------------------------------------


def test_bands_show_every_watt_hour(library):
    bands = leaf(library, "brief", "Energy").bands
    profiles = bands.bands()
    assert len(profiles) == len(library.session.shown.design.brief.profiles) == 9
    for profile in profiles:
        assert sum(wh for _, _, wh, _, _ in slices(profile)) == pytest.approx(profile.bank_wh)
    bands.grab()
    assert {figure.name.split(",")[1].strip() for _, figure in bands.figures} == {
        "Village day",
        "Round day",
        "Depot",
        "Holidays",
    }


def test_loads_run_together_by_thumb_and_by_key(window):
    together = leaf(window, "brief", "Run together")
    press(together, "All")
    text, bad = together.verdict.sentence()
    assert bad and text.replace("\u00a0", " ").startswith("First to give way: L2 inverters, after 1")
    assert len(together.board.tags) == 12
    for tag in ("LD11", "LD8", "LD6"):
        QTest.mouseClick(together.board, Qt.MouseButton.LeftButton, pos=area(together.board, tag).toPoint())
    text, bad = together.verdict.sentence()
    assert not bad and "It holds" in text
    press(together, "None")
    assert together.verdict.sentence()[0].startswith("Tick")
    together.board.setFocus()
    for key in (KEY.Key_Home, KEY.Key_Space, KEY.Key_Down, KEY.Key_Space, KEY.Key_Right, KEY.Key_Return):
        QTest.keyClick(together.board, key)
    assert len(together.board.tags) == 3
    press(together, "The worst minute")
    day = window.session.shown.design.brief.days["CLINIC"]
    assert set(day.peak_loads) <= together.board.tags
    line = entry(together, "Inverter overload from its datasheet, besides the surge")
    retype(line, "110 % 30 min, 130 % 60 s")
    assert [(p.times, p.seconds) for p in job(window).inverters.spec.overload] == [(1.1, 1800), (1.3, 60)]
    for wrong in ("lots", "130 % 60 kg", "90 % 60 s", "130 % 60 s, 110 % 70 s"):
        before = job(window)
        retype(line, wrong)
        assert line.accessibleDescription() and job(window) is before, wrong
        QTest.keyClick(line, KEY.Key_Escape)
    together.verdict.grab()
    assert len(together.verdict.figures) >= 12


@pytest.mark.parametrize(
    ("seconds", "words"),
    [
        (0.4, "0 s"),
        (42, "42 s"),
        (300, "5 min"),
        (12_000, "3 h 20 min"),
        (50_000, "13 h"),
        (90_000, "25 h"),
        (260_000, "3.0 days"),
        (float("inf"), "for ever"),
    ],
)
def test_times_as_people_say_them(seconds, words):
    assert duration_words(seconds).replace("\u00a0", " ") == words


def test_points_are_written_as_they_are_typed():
    assert read_overload(overload_words(read_overload("110 % for 30 min; 130% 60 s"))) == read_overload(
        "110% 1800 s, 130% 1 min"
    )
    assert read_overload("") == ()
    with pytest.raises(QuantityError, match="130 % 60 s"):
        read_overload("sixty")


# ---- stays ---------------------------------------------------------------------------------------------------


def test_stays_are_dragged_stretched_and_typed(library):
    stays = leaf(library, "brief", "Stays")
    strip = stays.strip

    def pull(start, days):
        strip.grab()  # hit areas are those of the last picture
        drag(strip, start, start + QPointF(days * day_px, 0))

    def stay(tag="ST12"):
        return next(one for one in job(library).stays if one.tag == tag)

    middle = strip.rects(stay())[0].center()
    day_px = strip.day_x(320, 1) - strip.day_x(319, 1)
    pull(middle, 3)
    assert stay().first_day == pytest.approx(317, abs=1) and stay().days == 35
    assert library.session.selection == ("ST12",) and len(library.session.undo_steps()) == 1, "a drag is one step"
    middle = strip.rects(stay())[0].center()
    pull(middle, -20)
    assert stay().first_day == 314, "neighbours are not overrun"
    edge = QPointF(strip.rects(stay())[0].right() - 2, middle.y())
    pull(edge, -10)
    assert stay().days == pytest.approx(25, abs=1) and stay().first_day == 314
    left = QPointF(strip.rects(stay())[0].left() + 2, middle.y())
    pull(left, 5)
    assert stay().first_day == pytest.approx(319, abs=1)
    strip.setFocus()
    at = stay()
    QTest.keyClick(strip, KEY.Key_Right)
    QTest.keyClick(strip, KEY.Key_Left, CTRL)
    assert stay().first_day == max(314, at.first_day + 1 - 7)
    QTest.keyClick(strip, KEY.Key_Right, SHIFT)
    assert stay().days == at.days + 1
    retype(entry(stays, "From"), "14 Nov")
    assert stay().first_day == 318
    line = entry(stays, "From")
    retype(line, "31 Feb")
    assert "not a date" in line.accessibleDescription() and stay().first_day == 318
    QTest.keyClick(line, KEY.Key_Escape)
    choose(stays, "Plugs in at", "P50")
    choose(stays, "Kind of day", "DEPOT")
    assert (stay().source, stay().day_kind) == ("P50", "DEPOT")
    QTest.keyClick(strip, KEY.Key_Up)
    assert library.session.selection == ("ST11",)
    QTest.keyClick(strip, KEY.Key_Delete)
    press(stays, "Add a stay")
    assert job(library).stays[-1].place == "New stay" and library.session.selection == (job(library).stays[-1].tag,)
    press(stays, "Remove stay")
    assert len(job(library).stays) == 12


def test_kinds_of_day_are_added_named_and_taken_away(library):
    stays = leaf(library, "brief", "Stays")
    QAbstractItemModelTester(stays.model, QAbstractItemModelTester.FailureReportingMode.Fatal)
    press(stays, "Add a kind")
    model = stays.model
    assert (
        model.setData(model.index(4, 0), "Fair day")
        and model.setData(model.index(4, 1), "hooked up")
        and model.setData(model.index(4, 2), "no")
    )
    kind = job(library).day_kinds[-1]
    assert (kind.name, kind.use, kind.inverters_on) == ("Fair day", "hooked_up", False)
    assert not model.setData(model.index(4, 1), "flying") and "one of" in stays._said.text()
    assert not model.setData(model.index(4, 2), "maybe")
    library.bench.view("brief").turn_to("Day")
    day = library.bench.view("brief").day
    press(day, "Fair day")
    assert day.ribbons.day_kind == kind.tag
    library.bench.view("brief").turn_to("Stays")
    stays.table.selectRow(4)
    press(stays, "Remove kind")
    assert len(job(library).day_kinds) == 4
    library.bench.view("brief").turn_to("Day")
    assert day.ribbons.day_kind == "VILLAGE", "the day on show went; the first takes its place"


# ---- on board ------------------------------------------------------------------------------------------------


def test_the_audit_is_settled_piece_by_piece(library):
    view = library.bench.view("brief")
    card = next(
        one
        for one in library.bench.findings.cards()
        if "brief.equalises" in {each.rule.id for each in one.finding.also}
    )
    QTest.mouseClick(card, Qt.MouseButton.LeftButton)
    assert view.leaf_name == "On board", "a finding turns to the leaf that shows what it concerns"
    board = view.leaf
    QAbstractItemModelTester(board.model, QAbstractItemModelTester.FailureReportingMode.Fatal)
    assert (
        board.table.currentIndex().row() == 3
        and "equalis" in library.bench.findings.cards()[0].finding.sentence() + board._said.text() + "equalis"
    )
    stops = sum(one.rule.severity == "stop" for one in library.session.shown.findings)
    press(board, "Remove")
    assert (
        job(library).existing[3].disposition == "remove"
        and library.session.undo_label == "Remove Converter-charger behind the desk"
    )
    assert sum(one.rule.severity == "stop" for one in library.session.shown.findings) == stops - 1
    assert "nothing to say against it" in board._said.text()
    board.table.setFocus()
    QTest.keyClick(board.table, KEY.Key_Down)
    assert library.session.selection == ("EX5",)
    choose(board, "Ties to", "none")
    assert job(library).existing[4].ties_to == "none"
    press(board, "Add a piece")
    assert library.session.selection == ("EX17",)
    retype(entry(board, "Piece"), "Spare charger")
    choose(board, "Kind", "charger")
    retype(entry(board, "Charges up to"), "15.7")
    made = job(library).existing[-1]
    assert (made.name, made.kind, made.charge_max_v) == ("Spare charger", "charger", 15.7)
    press(board, "Take off the list")
    assert len(job(library).existing) == 16


# ---- tables and sheets ---------------------------------------------------------------------------------------


def test_a_table_is_previewed_refused_put_right_and_taken_in(window, qtbot, tmp_path, monkeypatch):
    path = tmp_path / "loads.csv"
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(path), ""))
    path.write_text("tag,name,running_w,day Clinic day\nLD1,Slit lamps,-5,\n,Lamp,40 kg,26:00-27:00\n")
    before = job(window)
    next(one for one in window.commands() if one.words == "Take in loads from a table…").do()
    qtbot.waitUntil(lambda: window.files._task is None, timeout=20_000)
    incoming = window.bench.view("brief").day._incoming
    QAbstractItemModelTester(incoming.problems, QAbstractItemModelTester.FailureReportingMode.Fatal)
    assert (
        "2 of 2 rows cannot be read" in incoming.said.text()
        and incoming.problems.rowCount() == 3
        and incoming._take.isHidden()
    )
    assert job(window) is before, "nothing is half taken in"
    path.write_text("tag,name,running_w,day Clinic day\nLD1,Slit lamps,500,\n,Lamp,40,20:00-21:00\n")
    window.files.do("loads in")
    qtbot.waitUntil(lambda: window.files._task is None, timeout=20_000)
    assert "1 replace loads of the same tag, 1 are new" in incoming.said.text()
    press(incoming, "Take in 2 loads")
    assert incoming.isHidden() and [one.running_w for one in job(window).loads][::12] == [500, 40]
    assert window.session.undo_label == "Take in 2 loads from loads.csv"
    path.write_text("name,running_w\n" + "x,1\n" * 10_000)
    window.files.do("loads in")
    qtbot.waitUntil(lambda: window.files._task is None, timeout=20_000)
    assert "10,000 rows" in window.notice.text.text()
    out = tmp_path / "out.xlsx"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(out), ""))
    window.files.do("loads out")
    qtbot.waitUntil(lambda: window.files._task is None, timeout=20_000)
    path.write_bytes(out.read_bytes())
    assert out.stat().st_size > 2000 and "Written" in window.notice.text.text()


def test_survey_sheets_are_printed_blank_and_filled(library, qtbot, tmp_path, monkeypatch):
    photos = leaf(library, "vehicle", "Photos and sheet")
    for words, said in (("Blank sheet…", False), ("Filled sheet…", True)):
        path = tmp_path / f"{said}.pdf"
        monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, path=path: (str(path), ""))
        press(photos, words)
        qtbot.waitUntil(lambda: library.files._task is None, timeout=20_000)
        text = "".join(page.extract_text() for page in pypdf.PdfReader(path).pages)
        assert ("Marram Library Bus" in text) == said


def test_the_survey_is_filled_by_rows(library):
    for name, path in (
        ("Roof", "roof.obstacles"),
        ("Bays and ways", "vehicle.ways"),
        ("Photos and sheet", "survey.photos"),
    ):
        part = leaf(library, "vehicle", name)
        for model in part.models.values():
            QAbstractItemModelTester(model, QAbstractItemModelTester.FailureReportingMode.Fatal)
        assert part.models[path].rowCount()
    photos = library.bench.view("vehicle").leaf
    photos.tables["survey.photos"].selectRow(12)
    press(photos, "Taken, or not")
    assert job(library).survey.photos[12].taken and photos._count.text() == "10 of 20 taken"
    press(photos, "Add a photo")
    press(photos, "Add the usual")
    assert len(job(library).survey.photos) == 21
    bays = leaf(library, "vehicle", "Bays and ways")
    press(bays, "Add a bay")
    bay = job(library).vehicle.bays[-1]
    model = bays.models["vehicle.bays"]
    assert model.setData(model.index(3, 1), "Tool locker") and model.setData(model.index(3, 3), "10.4 m")
    assert (job(library).vehicle.bays[-1].name, job(library).vehicle.bays[-1].end_m) == ("Tool locker", 10.4)
    assert not model.setData(model.index(3, 3), "1 m") and "ends before it starts" in bays.said.text()
    press(bays, "Add a way")
    ways = bays.models["vehicle.ways"]
    assert (
        ways.setData(ways.index(3, 3), bay.tag)
        and not ways.setData(ways.index(3, 3), "B9")
        and "no bay B9" in bays.said.text()
    )
    assert (
        not ways.setData(ways.index(3, 5), "moon")
        and ways.setData(ways.index(3, 5), "engine")
        and ways.setData(ways.index(3, 6), "35")
    )
    assert ways.data(ways.index(3, 6)) == "35"
    bays.tables["vehicle.bays"].selectRow(3)
    press(bays, "Remove row")
    assert "no bay" in bays.said.text() and len(job(library).vehicle.bays) == 4, "a bay that a way ends in stays"
    roof = leaf(library, "vehicle", "Roof")
    press(roof, "Add to the roof")
    assert len(job(library).roof.obstacles) == 4
    measured = leaf(library, "vehicle", "Measured")
    choose(measured, "Start from a type", "semi")
    assert job(library).vehicle.kind == "semi_trailer" and library.session.undo_label == "Start from a semi-trailer"


# ---- many loads ----------------------------------------------------------------------------------------------


def test_eighty_loads_on_four_kinds_of_day_are_painted_row_by_row(library, qapp):
    """Only what is in sight is drawn, and the chosen row is brought into sight."""
    for index in range(53):
        spans = {
            kind: (Span(60 * (index % 20), 60 * (index % 20) + 120, 1.0),)
            for kind in ("VILLAGE", "ROUND", "DEPOT", "STORED")
        }
        library.session.apply(
            add_load(
                Load(
                    tag=f"LX{index}",
                    name=f"Load {index}",
                    group="Many",
                    supply="L1",
                    running_w=10.0,
                    power_factor=1.0,
                    duty=0.5,
                    patterns=spans,
                )
            )
        )
    ribbons = library.bench.view("brief").day.ribbons
    assert len(job(library).loads) == 80
    library.session.select("LX52")
    qapp.processEvents()
    y = ribbons.row_y("LX52")
    assert ribbons.visibleRegion().boundingRect().contains(LABELS + 10, int(y + ROW / 2))
    drag(ribbons, QPointF(ribbons._x(1200), y + ROW / 2), QPointF(ribbons._x(1300), y + ROW / 2))
    assert job(library).loads[-1].patterns["VILLAGE"][-1].end_min == pytest.approx(1300, abs=5)
    assert library.session.apply(set_value("loads[LX52].group", "", "")) is None
    assert ribbons.lines()[0].tag == "LX52", "loads without a group stand first"
