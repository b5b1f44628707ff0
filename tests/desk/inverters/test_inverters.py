"""The leaves of step Inverters, driven as a person does."""

from __future__ import annotations

import pypdf
import pytest
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QAbstractItemModelTester, QTest

from tests.desk.driving import area, choose, drag, entry, leaf, press, retype
from weighty_axle.answers.inverters.panel_proposals import circuits_for_loads
from weighty_axle.design.derive import derive
from weighty_axle.job.edits.edit import set_value
from weighty_axle.job.edits.inverters import set_arrangement, set_stacking
from weighty_axle.job.models.brief import Load, Span
from weighty_axle.job.models.inverters import Circuit

KEY = Qt.Key


def job(window):
    return window.session.shown.job


def circuit(window, tag):
    return next(one for one in job(window).ac.circuits if one.tag == tag)


# ---- legs ----


def test_circuits_move_between_legs_by_drag_and_keys(window):
    beam = leaf(window, "inverters", "Legs").beam
    start = area(beam, "CK7")
    drag(beam, start, QPointF(40, start.y()))
    assert circuit(window, "CK7").leg == "L1"
    assert next(load.supply for load in job(window).loads if load.tag == "LD11") == "L1", (
        "what is on the circuit goes along"
    )
    beam.setFocus()
    window.session.select("CK7")
    QTest.keyClick(beam, KEY.Key_Right)
    assert circuit(window, "CK7").leg == "L2"
    QTest.keyClick(beam, KEY.Key_P)
    assert circuit(window, "CK7").pinned and window.session.undo_label == "Pin Staff corner"
    across = area(beam, "CK2")
    drag(beam, across, QPointF(40, across.y()))
    assert circuit(window, "CK2").leg == "L1+L2", "what hangs across both stays"


def test_three_lines_and_one_are_drawn_and_moved_too(open_window):
    window = open_window("demo:puppet-theatre")
    part = leaf(window, "inverters", "Legs")
    assert not part.balance.isVisible()
    window.session.apply(set_arrangement(job(window).inverters.spec, 3, "three_phase"))
    assert part.balance.isVisible()
    beam = part.beam
    beam.repaint()
    start = area(beam, "CK5")
    drag(beam, start, QPointF(beam.width() - 40 if start.x() < beam.width() / 2 else 40, start.y()))
    assert circuit(window, "CK5").leg in ("L1", "L3")


def test_balance_for_me_says_what_it_did_and_why_nothing_is_better(open_window, qtbot):
    window = open_window("demo:library-bus")
    part = leaf(window, "inverters", "Legs")
    before = max(leg.worst_va.value for leg in window.session.shown.design.inverters.legs)
    press(part, "Balance for me")
    qtbot.waitUntil(lambda: "Proof" in part.said.text(), timeout=20_000)
    assert max(leg.worst_va.value for leg in window.session.shown.design.inverters.legs) < before
    assert window.session.undo_label == "Balance the legs" and "every one of" in part.said.text()
    assert not window.notice.isVisible(), "the notice of the work goes by itself"
    press(part, "Balance for me")
    qtbot.waitUntil(lambda: "Nothing moves" in part.said.text(), timeout=20_000)
    part.balance_legs()
    window.session.apply(set_value("name", "Other", ""))
    qtbot.waitUntil(lambda: "has changed meanwhile" in part.said.text(), timeout=20_000)


# ---- sources ----


def test_sources_are_added_changed_and_removed(window):
    assert window.session.apply(set_value("stays", (), "No stays")) is None  # these hold on to their sources
    part = leaf(window, "inverters", "Sources")
    QAbstractItemModelTester(part.model, QAbstractItemModelTester.FailureReportingMode.Fatal)
    part.table.selectRow(2)
    press(part, "Remove source")
    assert [one.tag for one in job(window).inverters.sources] == ["P50", "P30"]
    choose(part, "Add a usual source", "7 kVA generator, 120/240 V")
    made = job(window).inverters.sources[-1]
    assert (made.tag, made.limit_a, made.bonded, made.generator.rated_va) == ("GEN7", 24, False, 7000)
    assert "inverters.no-bond" in {one.rule.id for one in window.session.shown.findings}
    retype(entry(part, "Rated"), "3 kVA")
    row = next(one for one in window.session.shown.design.sources if one.tag == "GEN7")
    assert row.weakest.name == "generator"
    choose(part, "Kind", "socket")
    assert job(window).inverters.sources[-1].generator is None
    for _ in range(3):
        part.table.selectRow(0)
        press(part, "Remove source")
    assert not job(window).inverters.sources and part.ladder.tag == "" and not part.fields.isVisible()
    for _ in range(3):
        window.session.undo()
    limits = part.model
    assert limits.setData(limits.index(0, 4), "45 A") and job(window).inverters.sources[0].limit_a == 45
    assert not limits.setData(limits.index(0, 4), "45 V") and "current" in part._said.text()


def test_the_card_for_the_inlet_door(window, qtbot, tmp_path):
    window.files.write_inlet_card(tmp_path / "card.pdf")
    qtbot.waitUntil(lambda: (tmp_path / "card.pdf").exists() and window.files._task is None, timeout=20_000)
    text = " ".join(
        " ".join(page.extract_text() for page in pypdf.PdfReader(tmp_path / "card.pdf").pages).split()
    ).replace("\u00a0", " ")
    for words in ("Before plugging in", "30 A pedestal by adapter 24 A", "Autoclave", "licensed trades outrank it"):
        assert words in text, words


# ---- panels ----


def test_circuits_are_made_changed_and_loaded(open_window):
    window = open_window("demo:library-bus")
    part = leaf(window, "inverters", "Panels")
    QAbstractItemModelTester(part.model, QAbstractItemModelTester.FailureReportingMode.Fatal)
    part.table.selectRow(0)
    assert not part.model.setData(part.model.index(0, 3), "15 A") and "no circuit yet" in part._said.text()
    press(part, "A circuit for every load")
    assert len(job(window).ac.circuits) == 13 and not part.presses["A circuit for every load"].isEnabled()
    part.table.selectRow(1)
    tag = part.model.record(1)[0].tag
    assert part.model.setData(part.model.index(1, 3), "15 A") and circuit(window, tag).breaker_a == 15
    retype(entry(part, "Wire"), "14 AWG")
    assert circuit(window, tag).size == "14 AWG"
    choose(part, "Leg", "L1")
    assert circuit(window, tag).leg == "L1"
    choose(part, "Put a load on this circuit", "Kettle")
    assert next(load.circuit for load in job(window).loads if load.name == "Kettle") == tag
    press(part, "Add a circuit")
    assert (
        job(window).ac.circuits[-1].name == "New circuit"
        and part.table.currentIndex().row() == part.model.rowCount() - 1
    )
    press(part, "Remove")
    assert len(job(window).ac.circuits) == 13


def test_a_circuit_too_many_and_one_where_none_can_be_shown_are_told(open_window):
    window = open_window("demo:library-bus")
    part = leaf(window, "inverters", "Panels")
    own = job(window).ac.circuits
    many = tuple(Circuit(tag=f"CX{at}", name=f"Many {at}") for at in range(200 - len(own)))
    window.session.apply(set_value("ac.circuits", (*own, *many), "Many circuits"))
    before = window.session.shown.whole
    press(part, "Add a circuit")
    assert window.session.shown.whole is before and part._said.text()
    window.session.undo()
    window.session.show_system("DBO")  # a bar without inverters
    press(part, "Add a circuit")
    window.session.show_system("")
    press(part, "Add a circuit")
    assert part.model.record(part.table.currentIndex().row())[0].name == "New circuit"


def test_the_way_in_is_chosen_by_press_and_key_and_its_parts_changed(window):
    part = leaf(window, "inverters", "Panels")
    QTest.mouseClick(part.way, Qt.MouseButton.LeftButton, pos=area(part.way, "LAB").toPoint())
    assert part.panel_fields.isVisible() and entry(part, "Its breaker").text().startswith("40")
    retype(entry(part, "Its breaker"), "15 A")
    assert "inverters.feeder-over" in {one.rule.id for one in window.session.shown.findings}
    choose(part, "Fed from", "Shore inlet, left rear")
    assert window.session.shown.design.ac.before == ("LAB",)
    choose(part, "Fed from", "Workshop panel")
    assert job(window).ac.panels[1].fed_from == "IN1", "a ring is refused"
    part.way.setFocus()
    window.session.select("IN1")
    QTest.keyClick(part.way, KEY.Key_Right)
    assert window.session.selection != ("IN1",)
    press(part, "Add an inlet")
    window.session.select("IN2")
    assert part.inlet_fields.isVisible() and not part.panel_fields.isVisible()
    press(part, "Remove")
    assert [one.tag for one in job(window).ac.inlets] == ["IN1"]


# ---- states and selectors ----


def test_states_are_told_row_by_row(open_window):
    window = open_window("demo:library-bus")
    part = leaf(window, "inverters", "States")
    assert "40 states, 8 more made impossible by interlocks" in part.sentence.text()
    window.session.apply(set_value("ac.selectors[SEL1].interlocked", False, ""))
    assert "48 states; something is wrong in 3" in part.sentence.text()
    press(part, "Only what is wrong")
    assert len(part.table.rows) == 3
    part.table.setFocus()
    QTest.keyClick(part.table, KEY.Key_Down)
    assert "while the inverters are set" in part.detail.text() and window.session.selection == ("SEL1",)
    QTest.mouseClick(part.table, Qt.MouseButton.LeftButton, pos=area(part.table, "0").toPoint())
    assert part.table.at == 0
    window.session.undo()
    assert "Nothing is wrong" not in part.sentence.text() and part.table.chosen is None


def test_every_state_says_what_is_live_in_it(open_window):
    """Down through all of them by keyboard: dark ones say so, live ones name what feeds each panel, and a sound one
    claims no more than its bond.
    """
    window = open_window("demo:library-bus")
    part = leaf(window, "inverters", "States")
    part.table.choose(0)
    part.table.setFocus()
    seen = {"live": 0, "dark": 0}
    for at, state in enumerate(window.session.shown.design.states.states):
        assert part.table.at == at and part.table.chosen == state
        told = part.detail.text()
        live = [panel for panel in state.panels if panel.lines]
        seen["live" if live else "dark"] += 1
        assert ("Nothing is live here" in told) == (not live) and ("one bond" in told) == bool(live)
        assert all(f"{panel.tag} by {', '.join(panel.fed_by)}" in told for panel in live) and all(
            len(panel.bonds) == 1 for panel in live
        )
        assert told.casefold().startswith(state.words.casefold())
        QTest.keyClick(part.table, KEY.Key_Down)
    assert seen["live"] > 20 and seen["dark"] > 10


def test_a_selector_is_designed_contact_by_contact(open_window, qtbot, tmp_path):
    window = open_window("demo:puppet-theatre")
    part = leaf(window, "inverters", "Selectors")
    choose(part, "Add a selector", "a stacking selector")
    assert "two or more inverters" in part._said.text() and not job(window).ac.selectors
    choose(part, "Add a selector", "a bypass selector")
    made = job(window).ac.selectors[0]
    assert [one.name for one in made.positions] == ["Inverters", "Off", "Shore straight"] and job(window).ac.panels[
        0
    ].fed_from == "SEL1"
    chart = part.chart
    QTest.mouseClick(chart, Qt.MouseButton.LeftButton, pos=area(chart, "0 2").toPoint())
    assert len(job(window).ac.selectors[0].positions[2].contacts) == 2
    assert any(
        one.danger == "paralleled" or one.danger == "pins_live"
        for state in window.session.shown.design.states.states
        for one in state.hazards
    )
    chart.setFocus()
    QTest.keyClick(chart, KEY.Key_Space)
    assert len(job(window).ac.selectors[0].positions[2].contacts) == 1, "Space opens what the press closed"
    for key in (KEY.Key_Down, KEY.Key_Left):
        QTest.keyClick(chart, key)
    QTest.mouseClick(chart, Qt.MouseButton.LeftButton, pos=area(chart, "head 1").toPoint())
    assert job(window).ac.selectors[0].now == "Off"
    choose(part, "Contact from", "IN1.L1")
    choose(part, "Contact to", "INV1.in")
    press(part, "Add this contact")
    assert any(str(one.end) == "INV1.in" for one in job(window).ac.selectors[0].positions[1].contacts)
    press(part, "Add this contact")
    assert "not joined by a contact yet" in part._said.text()
    choose(part, "Change to", "Shore straight")
    assert part.order.text().startswith("1. Switch off the AC breakers") and "Shore straight" in part.order.text()
    press(part, "Add a position")
    assert job(window).ac.selectors[0].positions[-1].name == "1"
    window.files.write_selector_card(tmp_path / "card.pdf")
    qtbot.waitUntil(lambda: (tmp_path / "card.pdf").exists() and window.files._task is None, timeout=20_000)
    text = " ".join(page.extract_text() for page in pypdf.PdfReader(tmp_path / "card.pdf").pages)
    assert "Bypass selector" in text and "closed" in text and "To Shore straight" in text
    press(part, "Remove selector")
    assert not job(window).ac.selectors and job(window).ac.panels[0].fed_from == "INVERTERS"
    choose(part, "Add a selector", "one of my own")
    assert job(window).ac.selectors[0].now == "Off"
    choose(part, "Where it stands asks for", "where it stands asks for single")
    assert job(window).ac.selectors[0].positions[1].stacking == "single"


# ---- size and sleep ----


def test_arrangements_are_compared_and_used(window, qtbot):
    part = leaf(window, "inverters", "Size")
    press(part, "Compare arrangements")
    qtbot.waitUntil(lambda: part.model.rowCount() > 5, timeout=30_000)
    QAbstractItemModelTester(part.model, QAbstractItemModelTester.FailureReportingMode.Fatal)
    assert part.model.record(0).now and not part.use.isEnabled() and "2 × Inverter-charger" in part.chosen.text()
    at = next(row for row in range(part.model.rowCount()) if part.model.record(row).stacking == "one_two_legs")
    part.table.selectRow(at)
    press(part, "Use this arrangement")
    assert job(window).inverters.stacking == "one_two_legs" and {unit.leg for unit in job(window).inverters.units} == {
        "L1+L2"
    }
    assert "compare again" in part.sentence.text()


def test_comparing_can_be_cancelled(window, qtbot):
    part = leaf(window, "inverters", "Size")
    part.start()
    part._task.cancel()
    qtbot.waitUntil(lambda: part._task is None, timeout=30_000)
    assert part.model.rowCount() == 0 and part._said.text() == "Cancelled."


def test_what_stays_alive_asleep(window):
    part = leaf(window, "inverters", "Sleep")
    rows = {part.model.record(row).tag: row for row in range(part.model.rowCount())}
    assert "Main isolator, bay 2 off" in part.sentence.text()
    lasts = window.session.shown.design.storage.lasts_days.value
    assert part.model.setData(part.model.index(rows["LD7"], 4), "no")
    assert window.session.shown.design.storage.lasts_days.value > 5 * lasts
    assert part.model.setData(part.model.index(rows["INV1"], 4), "yes") and job(window).ac.storage.alive == ("INV1",)
    for row, text, words in (
        ("INV2", "perhaps", "yes or no"),
        (job(window).bank.packs[0].tag, "no", "before every switch"),
    ):
        assert not part.model.setData(part.model.index(rows[row], 4), text) and words in part._said.text()
    line = entry(part, "The one switch")
    line.clear()
    QTest.keyClick(line, KEY.Key_Return)
    assert "No switch puts the vehicle to sleep" in part.sentence.text()
    assert not part.model.setData(
        part.model.index(rows["LD7"], 4), "yes" if not part.model.record(rows["LD7"]).alive else "no"
    )
    assert part.units.setData(part.units.index(0, 2), "no") and not job(window).inverters.units[0].reachable
    assert part.units.setData(part.units.index(0, 3), "no")
    assert "inverters.no-bond" in {one.rule.id for one in window.session.shown.findings}


@pytest.mark.parametrize(
    "stacking", ["parallel", "legs_in_phase", "one_two_legs", "independent", "three_phase", "single"]
)
def test_every_leaf_stands_every_stacking(window, stacking):
    """With sixty circuits, in every stacking, each leaf draws."""
    spans = {"CLINIC": (Span(600, 700, 1.0),)}
    many = tuple(
        Load(tag=f"X{n}", name=f"Load {n}", supply="leg_open", running_w=100.0 + n, power_factor=0.9, patterns=spans)
        for n in range(60)
    )
    window.session.apply(set_value("loads", (*job(window).loads, *many), ""))
    window.session.apply(circuits_for_loads(derive(job(window))))
    assert window.session.apply(set_stacking(stacking)) is None
    for name in ("Legs", "Sources", "Panels", "States", "Selectors", "Size", "Sleep"):
        part = leaf(window, "inverters", name)
        assert not part.grab().toImage().isNull()
    legs = leaf(window, "inverters", "Legs").beam
    legs.repaint()
    assert len(legs.areas) >= 40


def test_the_chosen_source_stays_in_sight(open_window, qapp):
    """A generator's own fields take room from the table; the row that was clicked is still there to see."""
    window = open_window("demo:puppet-theatre")
    window.resize(1280, 800)
    part = leaf(window, "inverters", "Sources")
    for row in (3, 0, 3, 2, 3):
        part.table.setCurrentIndex(part.model.index(row, 0))
        qapp.processEvents()
        assert part.table.viewport().rect().contains(part.table.visualRect(part.table.currentIndex()).center()), row
        assert part.generator.isVisible() == (row == 3)
        assert window.bench._areas["inverters"].verticalScrollBar().maximum() == 0
