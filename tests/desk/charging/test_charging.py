"""Charging in the window: a customer's four questions from an empty job, and every leaf's own presses."""

from __future__ import annotations

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from tests.desk.driving import area, choose, entry, leaf, press, retype
from weighty_axle.desk.kit.painting import Canvas


def _figure(part, name):
    """A figure of a leaf's rows by its name."""
    return next(
        one.figure
        for one in part.findChildren(type(part.figures._buttons[0]))
        if one.figure is not None and one.isVisible() and one.figure.name == name
    )


def test_the_four_questions_of_a_customer(hands, qtbot, tmp_path):
    """A touring choir's coach, 48 V, from an empty job: can the alternator stand it, will driving fill it, how long on
    that pedestal, does the generator have to run today; each with its working.
    """
    own = hands("coach-3", "Bank: 48 V", "AC: 120/240 V split-phase")
    own.load("Stage lamps", "L1", 900, (9, 19))
    window = own.window
    # Can the alternator stand it? 200 A x 0.6 - 40 A = 80 A hot; one charger of 20 A x 57.6 V / 0.92 / 28 V = 45 A.
    budget = leaf(window, "charging", "Budget")
    press(budget, "Add an alternator")
    for name, text in (("Nameplate", "200 A"), ("Hot and slow", "60 %"), ("Vehicle takes", "40 A"), ("Holds", "28 V")):
        retype(entry(budget, name), text)
    tag = own.add("converters", start="VEHICLE", end="")
    own.take_type(f"converters[{tag}].spec", "Charger 24 to 48 V 20 A")
    budget = leaf(window, "charging", "Budget")
    (found,) = own.house.budgets
    assert found.asked_a.value == pytest.approx(20 * 57.6 / 0.92 / 28, rel=1e-3)
    assert found.spare.spare_a["slow"].value == pytest.approx(80.0)
    assert "charging.alternator-over" not in own.rules() and "charging.alternator-idle" in own.rules()
    budget.chart.grab()
    point = next(rect.center() for rect, figure in budget.chart.figures if figure is found.spare.spare_a["slow"])
    QTest.mouseDClick(budget.chart, Qt.MouseButton.LeftButton, pos=point.toPoint())
    assert window.bench.workings.isVisible(), "the number opens"
    QTest.mouseClick(budget.chart, Qt.MouseButton.LeftButton, pos=area(budget.chart, tag).toPoint())
    assert budget.chart.off == {tag}, "one charger off"
    # Will driving fill it? 20 A for three hours against a day of 9 kWh and more: no, and by how much.
    stay = own.add("stays", place="Choir festival", days=3, driven_h="3")
    filling = leaf(window, "charging", "Filling")
    choose(filling, "State of the sources", "engine at cruise")
    drive = _figure(filling, "Time to fill, engine at cruise")
    bank = own.house.bank
    assert drive.value == pytest.approx(0.8 * bank.capacity_ah.value / 0.995 / 20, rel=0.02)
    filling.stay.setCurrentIndex(filling.stay.findText(f"{stay} Choir festival"))
    filling.stay.activated.emit(filling.stay.currentIndex())
    day = filling.day.result
    assert day.engine_wh.value == pytest.approx(3 * 20 * bank.nominal_v.value, rel=1e-6)
    assert day.change_wh.value < 0 and (
        "lower than it began" in filling.words.text() or "empty" in filling.words.text()
    )
    # How long on that pedestal? With the day's mean loads on, from a third.
    source = "P30"
    filling = leaf(window, "charging", "Filling")
    choose(filling, "State of the sources", source)
    off = _figure(filling, f"Time to fill, {source}").value
    choose(filling, "Loads meanwhile", "the day's mean loads on")
    retype(entry(filling, "From"), "33 %")
    assert off * 0.5 < _figure(filling, f"Time to fill, {source}").value, "loads take their part"
    retype(entry(filling, "From"), "120 %")
    assert entry(filling, "From").objectName() == "wrong", "a charge lies between none and all"
    # Does the generator have to run today?
    generator = leaf(window, "charging", "Generator")
    press(generator, "Add a generator")
    retype(entry(generator, "Rating, VA"), "3000")
    retype(entry(generator, "Charge at midnight"), "25 %")
    assert "must run" in generator.said.text() and sum(generator.chart.day.on) > 0
    hours = generator.chart.day.hours_h
    assert hours.value == sum(generator.chart.day.on) / 4 and hours.inputs
    retype(entry(generator, "Charge at midnight"), "95 %")
    retype(entry(generator, "Starts below"), "5 %")
    assert "need not run" in generator.said.text() or "runs empty" in generator.said.text()
    own.ends(tmp_path)


def test_engine_leaf_sets_what_works(open_window):
    window = open_window("demo:eye-clinic")
    part = leaf(window, "charging", "Engine")
    choose(part, "Sees the engine by", "voltage")
    retype(entry(part, "Off below"), "24 V")
    retype(entry(part, "On above"), "25 V")
    assert "empties the starting battery" in part.verdict.text()
    assert "charging.engine-hunts" in {one.rule.id for one in window.session.shown.findings}
    press(part, "Set what works")
    assert part.chart.shown.verdict == "works" and "tell the engine" in part.verdict.text()
    press(part, "All alike")
    converters = [one for one in window.session.shown.whole.converters if one.works == "engine"]
    assert len({(one.senses, one.on_v, one.off_v) for one in converters}) == 1
    press(part, "By a wire")
    assert part.chart.shown.senses == "wire"
    QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert part.chart.shown.senses == "voltage"


def test_mix_gives_way_in_the_order_that_is_pressed(open_window, qtbot):
    window = open_window("demo:eye-clinic")
    part = leaf(window, "charging", "Mix")
    qtbot.waitUntil(lambda: bool(part.chart.hours), timeout=10_000)
    assert "INV1 44 A of 70 A" in part.told.text().replace("\u00a0", " ")
    QTest.mouseClick(part.order[4], Qt.MouseButton.LeftButton)
    assert window.session.shown.job.charging.gives_way == ("shore", "generator", "converters", "sun", "engine")
    for _ in range(3):
        QTest.mouseClick(part.order[0], Qt.MouseButton.LeftButton)
    assert window.session.shown.job.charging.gives_way[0] == "sun"
    assert "CC1 29 A of 55 A" in part.told.text().replace("\u00a0", " ")
    choose(part, "Plugged in", "")
    assert all(not one.plug for one in part.chart.states())
    part.chart.grab()
    QTest.mouseClick(part.chart, Qt.MouseButton.LeftButton, pos=area(part.chart, "0").toPoint())
    assert window.bench.workings.isVisible()


def test_stages_are_added_stood_by_and_taken_back(open_window, qtbot):
    window = open_window("demo:library-bus")
    part = leaf(window, "charging", "Stages")
    qtbot.waitUntil(lambda: len(part.strip.stages) == 2, timeout=10_000)
    first, second = part.strip.stages
    assert second.before == ("DC2 goes in", "DS1 from DBO to DBN") and not first.refused
    QTest.mouseClick(part.strip, Qt.MouseButton.LeftButton, pos=area(part.strip, "SG1").toPoint())
    press(part, "Stand like this")
    assert window.session.shown.whole.dc.switches[0].now == "DBO"
    press(part, "Add a stage")
    assert len(window.session.shown.whole.stages) == 3 and window.bench.sheet.path == "stages[SG3]"
    qtbot.waitUntil(lambda: len(part.strip.stages) == 3, timeout=10_000)
    assert part.strip.stages[2].bars


def test_low_voltage_says_what_stays_alive(open_window):
    window = open_window("demo:library-bus")
    part = leaf(window, "charging", "Low voltage")
    assert "nothing on DC stays alive" in part.dropped.text() and "more" in part.dropped.text()
    assert all(canvas.accessibleName() for canvas in part.findChildren(Canvas))
