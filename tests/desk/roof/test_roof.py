"""The leaves of step Roof, driven as a person does."""

from __future__ import annotations

import random

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QAbstractItemModelTester, QTest

from tests.desk.driving import area, choose, drag, entry, leaf, press, retype, send_move
from weighty_axle.design.brief.seasons import MONTH_DAYS
from weighty_axle.desk.steps.roof.plan import RoofPlan
from weighty_axle.desk.work.preferences import own_types_file
from weighty_axle.job.edits.edit import set_value
from weighty_axle.job.edits.roof import add_lane, add_remote, move_on_roof

KEY = Qt.Key


@pytest.fixture(autouse=True)
def own_data(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))


def of_types(part, text):
    part.show_types()
    next(one for one in part.types.menu().actions() if one.text() == text).trigger()


def roof(window):
    return window.session.shown.job.roof


def module(window, tag):
    return next(one for one in roof(window).modules if one.tag == tag)


def click(canvas, tag, *modifiers):
    QTest.mouseClick(canvas, Qt.MouseButton.LeftButton, *modifiers, pos=area(canvas, tag).toPoint())


# ---- plan ----


@pytest.mark.parametrize("seed", range(4))
def test_the_kept_picture_is_never_an_old_one(window, qapp, seed):
    """After any edit, choice, drag, ghost, undo or size the plan looks as one that is painted for the first time."""
    dice = random.Random(seed)
    plan = leaf(window, "roof", "Plan").plan
    session = window.session
    tags = [one.tag for one in (*roof(window).modules, *roof(window).obstacles)]

    def drag_one():
        plan.ghosts = None
        start = area(plan, dice.choice([one.tag for one in roof(window).modules]))
        drag(plan, start, start + QPoint(dice.randint(-60, 60), dice.randint(-20, 20)).toPointF(), steps=3)

    deeds = (
        drag_one,
        lambda: session.select(*dice.sample(tags, 2)),
        lambda: session.select("S1"),
        lambda: session.select(),
        session.undo,
        session.redo,
        lambda: session.apply(
            set_value(f"roof.modules[{roof(window).modules[0].tag}].string", dice.choice(["", "S2", "S4"]), "")
        ),
        lambda: session.apply(
            set_value(f"roof.obstacles[{roof(window).obstacles[0].tag}].service_m", dice.choice([0.0, 0.4]), "")
        ),
        lambda: session.apply(set_value("roof.fixing.member_pitch_m", dice.choice([0.0, 0.6]), "")),
        lambda: session.apply(set_value("roof.crown_m", dice.choice([0.0, 0.05]), "")),
        lambda: session.apply(add_lane()),
        lambda: setattr(plan, "ghosts", dice.choice([None, roof(window).modules[:3]])),
        lambda: window.resize(dice.choice([1280, 1180]), 800),
    )
    for _ in range(14):
        deed = dice.choice(deeds)
        deed()
        for _ in range(3):
            qapp.processEvents()
        fresh = RoofPlan(session, "metric", plan.parentWidget())
        fresh.ghosts = plan.ghosts
        fresh.resize(plan.size())
        plan.clearFocus()
        assert plan.grab().toImage() == fresh.grab().toImage(), deed
        assert plan.areas == fresh.areas
        fresh.deleteLater()


def test_plans_are_seen_from_above_and_not_from_below(window):
    """Front at the left, so the right side is up; front to the north, the morning sun stands at the right and throws
    shadows to the left, down on the plan.
    """
    plan = leaf(window, "roof", "Plan").plan
    plan.grab()
    heights = {tag: rect.center().y() for rect, tag in plan.areas}
    across = {one.tag: one.y_m for one in (*roof(window).modules, *roof(window).obstacles)}
    order = sorted(across, key=lambda tag: across[tag])
    assert across[order[0]] < 0 < across[order[-1]] and [round(heights[tag], 6) for tag in order] == sorted(
        (round(heights[tag], 6) for tag in order), reverse=True
    )
    start = area(plan, "PV7")
    before = module(window, "PV7").y_m
    drag(plan, start, start + QPoint(0, -30).toPointF())
    assert module(window, "PV7").y_m > before, "up is to the right"
    window.session.undo()
    window.session.select("PV7")
    plan.setFocus()
    QTest.keyClick(plan, KEY.Key_Up)
    assert module(window, "PV7").y_m == pytest.approx(before + 0.01)
    part = leaf(window, "roof", "Shade")
    for quarter, sign in ((36, 1), (60, -1)):
        part.sliders["Hour of the sun"].setValue(quarter)
        part.plan.grab()
        foot = area(part.plan, roof(window).obstacles[0].tag)
        tip = max(
            (part.plan._point(x, y) for x, y in part.plan.shadows[0]), key=lambda point: abs(point.y() - foot.y())
        )
        assert (tip.y() - foot.y()) * sign > 0
    window.go("place")
    drawing = window.bench.view("place").leaf.drawing
    drawing.grab()
    tops = {tag.removeprefix("top "): rect.center().y() for rect, tag in drawing.areas if tag.startswith("top ")}
    right, left = (find(window.session.shown.design.items, key=lambda one: one.place.y_m) for find in (max, min))
    assert right.place.y_m > left.place.y_m and tops[right.tag] < tops[left.tag]


def test_what_a_drag_shows_is_what_it_leaves(window):
    """Half-way through a drag the rest of the roof stands as it does after it, and what is under the pointer moves with
    it.
    """
    plan = leaf(window, "roof", "Plan").plan
    start = area(plan, "PV7")
    before = {tag: rect for rect, tag in plan.areas}
    QTest.mousePress(plan, Qt.MouseButton.LeftButton, pos=start.toPoint())
    send_move(plan, start + QPoint(-70, 14).toPointF(), Qt.MouseButton.LeftButton)
    plan.grab()
    during = {tag: rect for rect, tag in plan.areas}
    moved = {tag for tag, rect in during.items() if rect != before[tag]}
    assert moved == {"PV7"} and during["PV7"].x() < before["PV7"].x() - 40
    assert window.session.shown.design.roof.clashes, "it lies on its neighbours, and they are told at once"
    QTest.mouseRelease(plan, Qt.MouseButton.LeftButton, pos=start.toPoint() + QPoint(-70, 14))
    plan.grab()
    assert {tag: rect for rect, tag in plan.areas} == during


def test_several_modules_are_chosen_moved_and_lined_up(window):
    plan = leaf(window, "roof", "Plan").plan
    click(plan, "PV1")
    click(plan, "PV4", Qt.KeyboardModifier.ControlModifier)
    click(plan, "PV5", Qt.KeyboardModifier.ControlModifier)
    assert window.session.selection == ("PV1", "PV4", "PV5")
    before = {tag: module(window, tag).y_m for tag in ("PV1", "PV4", "PV5")}
    plan.setFocus()
    QTest.keyClick(plan, KEY.Key_Up, Qt.KeyboardModifier.ShiftModifier)
    assert {tag: module(window, tag).y_m for tag in before} == pytest.approx(
        {tag: y + 0.1 for tag, y in before.items()}
    )
    start = area(plan, "PV4")
    drag(plan, start, start + QPoint(0, 8).toPointF())
    assert module(window, "PV5").y_m < before["PV5"] + 0.1, "all of them go along"
    QTest.keyClick(plan, KEY.Key_R)
    assert len({module(window, tag).y_m for tag in before}) == 1
    QTest.keyClick(plan, KEY.Key_L)
    assert len({module(window, tag).x_m for tag in before}) == 1 and window.session.undo_label == "Align 3 modules"
    for _ in range(2):
        window.session.undo()
    click(plan, "PV4", Qt.KeyboardModifier.ControlModifier)
    assert window.session.selection == ("PV1", "PV5")
    QTest.mouseClick(plan, Qt.MouseButton.LeftButton, pos=QPoint(3, 3))
    assert window.session.selection == ()


@pytest.mark.parametrize("along", [0.02, -0.03])
@pytest.mark.parametrize("across", [0.03, -0.02])
def test_a_dragged_module_lines_up_with_its_neighbours_both_ways(window, along, across):
    plan = leaf(window, "roof", "Plan").plan
    left = (module(window, "PV1").x_m, module(window, "PV1").y_m)
    window.session.apply(move_on_roof("PV1", left[0] + along, left[1] + across))
    plan.grab()
    start = area(plan, "PV1")
    drag(plan, start, start + QPoint(1, 0).toPointF())
    assert (module(window, "PV1").x_m, module(window, "PV1").y_m) == pytest.approx(left, abs=0.004)
    drag(plan, area(plan, "PV1"), start + QPoint(60, -40).toPointF())
    assert module(window, "PV1").y_m > left[1] + 0.3, "far from everything it goes where it is put"


def test_lanes_and_room_to_work_are_kept_and_given_up_for_a_reason(window):
    part = leaf(window, "roof", "Plan")
    press(part, "Add a lane")
    assert part.lane_fields.isVisible() and roof(window).lanes[0].tag == "LN1"
    retype(entry(part, "From the front"), "1.5 m")
    assert "roof.room-taken" in {one.rule.id for one in window.session.shown.findings}
    window.session.select("LN1")
    part.plan.setFocus()
    QTest.keyClick(part.plan, KEY.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    assert roof(window).lanes[0].x_m == pytest.approx(1.6)
    press(part, "Remove")
    assert not roof(window).lanes
    click(part.plan, "AC1")
    reason = entry(part, "Given up, because")
    reason.clear()
    QTest.keyClick(reason, KEY.Key_Return)
    taken = {one.tags[0] for one in window.session.shown.findings if one.rule.id == "roof.room-taken"}
    assert taken and window.session.shown.design.roof.taken


def test_taper_crown_and_overhang_are_drawn_and_told(window):
    part = leaf(window, "roof", "Plan")
    for name, text, value in (("Wide in front", "2 m", 2.0), ("Crown", "80 mm", 0.08), ("Over the edge", "5 cm", 0.05)):
        retype(entry(part, name), text)
        assert {
            "Wide in front": roof(window).front_width_m,
            "Crown": roof(window).crown_m,
            "Over the edge": roof(window).overhang_m,
        }[name] == value
    assert window.session.shown.design.roof.strays and window.session.shown.design.roof.stand_off_m.value > 0.05
    start = area(part.plan, "PV1")
    drag(part.plan, start, start + QPoint(12, 0).toPointF())
    assert not part.plan.grab().toImage().isNull()


# ---- fill ----


def test_the_roof_is_filled_looked_at_and_taken(window, qtbot):
    part = leaf(window, "roof", "Fill")
    assert not part.presses["Take this layout"].isEnabled()
    press(part, "Fill the roof")
    qtbot.waitUntil(lambda: part.model.rowCount() == 3, timeout=60_000)
    QAbstractItemModelTester(part.model, QAbstractItemModelTester.FailureReportingMode.Fatal)
    assert part.plan.ghosts is not None and "gives up" in part.chosen.text()
    part.table.selectRow(1)
    wanted = part.model.record(1)
    assert part.plan.ghosts == wanted.modules
    press(part, "Take this layout")
    assert roof(window).modules == wanted.modules and "has changed since" in part.sentence.text()
    assert "roof.unassigned" in {one.rule.id for one in window.session.shown.findings}
    window.session.undo()
    assert len(roof(window).modules) == 12


def test_module_types_come_in_from_a_table_or_not_at_all(window, tmp_path):
    part = leaf(window, "roof", "Fill")
    path = tmp_path / "types.csv"
    head = "Type,Length,Width,Pmax,Voc,Isc,Vmp,Imp,beta Voc,gamma Pmp\n"
    path.write_text(head + "Long one,2.278,1.134,550,49.8,13.98,41.9,13.13,-0.27,-0.35\n")
    part.read_table(path)
    assert [one.name for one in roof(window).more_modules] == ["Long one"] and part._said.text() == ""
    path.write_text(head + "Odd one,2.278,1.134,550,49.8,13.98,51.9,13.13,-0.27,-0.35\n")
    part.read_table(path)
    assert "row 2: Vmp must be below Voc" in part._said.text() and len(roof(window).more_modules) == 1
    of_types(part, "Keep this job's for later jobs")
    window.session.undo()
    assert not roof(window).more_modules
    of_types(part, "Add Long one")
    assert [one.name for one in roof(window).more_modules] == ["Long one"]
    own_types_file().write_text("broken")
    part.show_types()
    assert "cannot be read" in part._said.text() and "Add Long one" not in {
        one.text() for one in part.types.menu().actions()
    }


# ---- strings ----


def test_strings_are_clicked_and_ranked(window, qtbot):
    part = leaf(window, "roof", "Strings")
    choose(part, "Clicks go to string", "clicks go to S1 → CC1")
    click(part.plan, "PV1")
    assert module(window, "PV1").string == "" and window.session.undo_label == "PV1 on S1"
    click(part.plan, "PV1")
    assert window.session.shown.design.roof.strings[0].modules[-1] == "PV1", "in again at the end of the rope"
    window.session.select("PV2")
    part.plan.setFocus()
    QTest.keyClick(part.plan, KEY.Key_Space)
    assert module(window, "PV2").string == ""
    choose(part, "Clicks go to string", "new string → CC2")
    assert roof(window).strings[-1].tag == "S5" and part.which.currentData() == "S5"
    click(part.plan, "PV2")
    assert module(window, "PV2").string == "S5"
    press(part, "Remove string")
    assert module(window, "PV2").string == "" and len(roof(window).strings) == 4
    press(part, "Rank ways to string")
    qtbot.waitUntil(lambda: part.model.rowCount() > 2, timeout=30_000)
    QAbstractItemModelTester(part.model, QAbstractItemModelTester.FailureReportingMode.Fatal)
    press(part, "String it this way")
    assert all(one.string for one in roof(window).modules) and window.session.undo_label.startswith(
        "String the roof CC1: 2 × 3"
    )
    press(part, "On other controllers")
    qtbot.waitUntil(lambda: part.model.record(0).controllers is not None, timeout=30_000)
    press(part, "String it this way")
    assert len(roof(window).controllers) == 1 and "1 × Controller" in window.session.undo_label


# ---- shade and yield ----


def test_a_quiet_answer_comes_also_when_one_looked_away_meanwhile(window, qtbot):
    part = leaf(window, "roof", "Shade")
    window.go("bank")
    QTest.qWait(600)
    assert part.day.result is None, "nothing is worked out for what nobody sees"
    window.go("roof")
    qtbot.waitUntil(lambda: part.day.result is not None)


def test_a_datasheet_no_curve_fits_is_told_in_a_sentence(window, qtbot):
    window.session.apply(set_value("roof.module.imp_a", 1.333, ""))
    part = leaf(window, "roof", "Shade")
    qtbot.waitUntil(lambda: "look at the datasheet" in part.sentence.text())
    part.sentence.setText("")
    press(part, "Compare wirings through the year")
    qtbot.waitUntil(lambda: "Imp 1.333 A" in part.sentence.text(), timeout=20_000)
    assert part.day.result is None and part.chart.result is None


def test_shadows_follow_the_slider_and_the_year_is_told(window, qtbot):
    part = leaf(window, "roof", "Shade")
    qtbot.waitUntil(lambda: part.day.result is not None)
    summer = part.day.result.lost_share.value
    part.sliders["Day"].setValue(20)
    qtbot.waitUntil(lambda: part.day.result.lost_share.value != summer)
    assert part.day.result.lost_share.value > summer, "low sun, long shadows"
    part.sliders["Day"].setValue(172)
    seen = set()
    for quarter in (24, 36, 48, 60, 79):
        part.sliders["Hour of the sun"].setValue(quarter)
        seen.add(part.plan.shadows)
    assert len(seen) == 5 and "sun" in part.labels["Hour of the sun"].text()
    part.sliders["Hour of the sun"].setValue(17)
    part.sliders["Day"].setValue(355)
    assert part.plan.shadows == () and "the sun is down" in part.labels["Hour of the sun"].text()
    part.sliders["Front points to"].setValue(90)
    part.sliders["Front points to"].sliderReleased.emit()
    assert roof(window).heading_deg == 90
    press(part, "Compare wirings through the year")
    qtbot.waitUntil(lambda: part.chart.result is not None, timeout=60_000)
    assert part.sentence.text() == part.chart.result.sentence and not part.chart.grab().toImage().isNull()
    window.session.apply(set_value("roof.losses.shade", 1.0, ""))
    assert any(one.rule.id == "roof.shade-uncounted" for one in window.session.shown.findings)
    press(part, "Count this shade in the yield")
    strung = next(one for one in part.chart.result.ways if one.name == "as it is strung")
    assert roof(window).losses.shade == pytest.approx(1 - strung.lost_share.value, abs=6e-4)
    assert part.sentence.text() == part.chart.result.sentence, "what is counted does not make the comparison old"
    assert not any(one.rule.id == "roof.shade-uncounted" for one in window.session.shown.findings)
    window.session.apply(set_value("roof.rise_c", 30.0, ""))
    assert "compare again" in part.sentence.text() and not part.presses["Count this shade in the yield"].isEnabled()


def test_yield_by_place_and_weather_file(open_window, qtbot, tmp_path):
    window = open_window("demo:library-bus")
    part = leaf(window, "roof", "Yield")
    at_home = part.chart.result.year_wh.value
    choose(part, "Place", part.place.itemText(1))
    assert part.chart.result.place.name == part.place.itemText(1)
    choose(part, "Place", part.place.itemText(0))
    lines = ["LOCATION,Bright Field,-,-,-,0,36,-80,-5,270", *["-"] * 7]
    lines += [
        f"2001,{month + 1},{day + 1},{hour + 1},0,-,12,0,0,0,{beyond},0,0,{0.7 * beyond}"
        for month in range(12)
        for day in range(MONTH_DAYS[month])
        for hour, beyond in enumerate([0] * 8 + [800] * 8 + [0] * 8)
    ]
    lines[100] = lines[100].replace(",12,0", ",99.9,0", 1)
    (tmp_path / "field.epw").write_text("\n".join(lines))
    part.read(tmp_path / "field.epw")
    qtbot.waitUntil(lambda: roof(window).sky.source.startswith("Bright Field"), timeout=20_000)
    assert "1 hours without values were left out." in part._said.text()
    assert roof(window).sky.clearness == (0.7,) * 12 and part.chart.result.year_wh.value > 1.2 * at_home
    (tmp_path / "bad.epw").write_text("nothing")
    part.read(tmp_path / "bad.epw")
    qtbot.waitUntil(lambda: "neither EPW nor TMY3" in part._said.text(), timeout=20_000)
    retype(entry(part, "After dirt"), "50 %")
    assert roof(window).losses.soiling == 0.5


# ---- fixings and elsewhere ----


def test_fixings_and_protection(window):
    part = leaf(window, "roof", "Fixings")
    assert part.model.rowCount() == 2 and "142 V DC" in part.labels.text()
    part.table.selectRow(1)
    assert "CC2" in part.labels.text()
    retype(entry(part, "Fixings each"), "2")
    assert "roof.fixing-pull" in {one.rule.id for one in window.session.shown.findings}
    retype(entry(part, "Members every"), "0.5 m")
    assert window.session.shown.design.fixings.members_m and not part.plan.grab().toImage().isNull()


def test_arrays_elsewhere(open_window):
    window = open_window("demo:library-bus")
    part = leaf(window, "roof", "Elsewhere")
    assert not part.take.isEnabled()
    press(part, "Add an array")
    one = roof(window).remote[0]
    assert (one.tag, one.controller) == ("RA1", roof(window).controllers[-1].tag)
    retype(entry(part, "In series"), "3")
    retype(entry(part, "Of"), "6 mm2")
    choose(part, "Where", "trailer roof")
    choose(part, "Present at a stay, or not", window.session.shown.job.stays[0].place)
    assert roof(window).remote[0].stays == (window.session.shown.job.stays[0].tag,)
    assert (roof(window).remote[0].series, roof(window).remote[0].size, roof(window).remote[0].where) == (
        3,
        "6 mm2",
        "trailer",
    )
    choose(part, "Present at a stay, or not", "✓ " + window.session.shown.job.stays[0].place)
    assert roof(window).remote[0].stays == ()
    press(part, "Remove array")
    assert not roof(window).remote


@pytest.mark.parametrize(
    "edit", [add_lane(), add_remote("CC1"), set_value("roof.modules", (), ""), set_value("roof.front_width_m", 1.5, "")]
)
def test_every_leaf_stands_odd_roofs(window, edit):
    assert window.session.apply(edit) is None
    for name in ("Plan", "Fill", "Strings", "Shade", "Yield", "Fixings", "Elsewhere"):
        assert not leaf(window, "roof", name).grab().toImage().isNull()
