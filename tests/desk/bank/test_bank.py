"""The leaves of Bank as a user has them."""

from __future__ import annotations

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QAbstractItemModelTester, QTest

from tests.desk.driving import area, choose, entry, leaf, press, retype
from weighty_axle.design.bank.links import TAKE_OFF_WORDS
from weighty_axle.desk.steps.bank.links import WAYS, every_way

KEY = Qt.Key


def bank(window):
    return window.session.shown.job.bank


def test_one_press_changes_how_the_packs_are_linked(window):
    links = leaf(window, "bank", "Links")
    assert set(WAYS) == set(TAKE_OFF_WORDS)
    for way in WAYS[::-1]:
        before = window.session.shown.design.bank.discharge_limit_a.value
        QTest.mouseClick(links.take_offs, Qt.MouseButton.LeftButton, pos=area(links.take_offs, way).toPoint())
        design = window.session.shown.design
        assert design.job.bank.links.take_off == way
        assert design.bank.sharing == every_way(bank(window), links_known=True)[way], "the tile said what comes"
        assert way == "same_end" or design.bank.discharge_limit_a.value != before
        links.linked.grab()
    links.take_offs.setFocus()
    QTest.keyClick(links.take_offs, KEY.Key_Right)
    assert bank(window).links.take_off == "groups" and window.session.undo_label.startswith("Link the packs by groups")


def test_the_slider_loads_the_bank_and_the_limits_follow(window):
    links = leaf(window, "bank", "Links")
    design = window.session.shown.design
    assert links.linked.load_a == round(design.bank.continuous_a.value), "it begins at full load"
    links.slider.setFocus()
    QTest.keyClick(links.slider, KEY.Key_End)
    assert links.linked.load_a == links.slider.maximum() > design.bank.discharge_limit_a.value
    assert links._load.text().replace("\u00a0", " ") == f"At {links.slider.maximum()} A"
    links.linked.grab()
    window.session.apply(window.session.shown.findings[0].remedy)
    assert links.slider.value() == links.slider.maximum(), "an edit leaves the slider where it stands"


def test_a_pack_is_taken_out_and_put_back(window):
    links = leaf(window, "bank", "Links")
    energy = window.session.shown.design.bank.usable_energy_wh.value
    QTest.mouseClick(links.linked, Qt.MouseButton.LeftButton, pos=area(links.linked, "BP4").toPoint())
    assert window.session.selection == ("BP4",)
    press(links, "Take BP4 out")
    assert window.session.shown.design.bank.usable_energy_wh.value == pytest.approx(energy * 5 / 6)
    assert "bank.pack-out" in {one.rule.id for one in window.session.shown.findings}
    press(links, "Put BP4 back")
    assert window.session.shown.design.bank.usable_energy_wh.value == energy
    links.linked.setFocus()
    QTest.keyClick(links.linked, KEY.Key_Right)
    assert window.session.selection == ("BP5",)
    for tag in ("BP1", "BP2", "BP3", "BP5", "BP6"):
        window.session.select(tag)
        press(links, f"Take {tag} out")
    window.session.select("BP4")
    press(links, "Take BP4 out")
    assert not bank(window).packs[3].out, "the last string stays"


def test_links_are_typed_as_people_write_them(window):
    links = leaf(window, "bank", "Links")
    retype(entry(links, "Links and leads"), "4/0")
    retype(entry(links, "Lead"), "2 ft")
    retype(entry(links, "Lug"), "50*0.001 mohm")
    stated = bank(window).links
    assert (stated.size, stated.lead_m, stated.lug_ohm) == ("4/0 AWG", pytest.approx(0.6096), pytest.approx(5e-5))
    line = entry(links, "Links and leads")
    retype(line, "thick")
    assert "not a conductor size" in line.accessibleDescription() and bank(window).links.size == "4/0 AWG"


@pytest.mark.parametrize("name", ["demo:eye-clinic", "demo:puppet-theatre"])
def test_three_conductors_to_one_scale(open_window, name):
    window = open_window(name)
    conductors = leaf(window, "bank", "Why 48 V").conductors
    conductors.grab()
    assert len(conductors.figures) == 21, "seven figures a voltage, each with its workings"
    QTest.mouseDClick(conductors, Qt.MouseButton.LeftButton, pos=conductors.figures[0][0].center().toPoint())
    assert "Bank current, full load at 12 V" in window.bench.workings._text.toPlainText()


def test_measured_packs_are_judged_before_they_are_joined(window):
    join = leaf(window, "bank", "Joining")
    QAbstractItemModelTester(join.model, QAbstractItemModelTester.FailureReportingMode.Fatal)
    assert join._sentence.text().startswith("Measure each pack")
    for row, text in enumerate(("52.9 V", "53,0", "53.05", "53000 mV", "49.5")):
        assert join.model.setData(join.model.index(row, 1), text)
    assert bank(window).packs[3].open_v == 53.0
    assert "BP5 not" in join._sentence.text() and join.model.data(join.model.index(4, 4)).startswith("charge it alone")
    assert "bank.join-apart" in {one.rule.id for one in window.session.shown.findings}
    join.curve.grab()
    retype(entry(join, "Current allowed while joining"), "250 A")
    assert "BP5 not" not in join._sentence.text()
    assert not join.model.setData(join.model.index(0, 1), "53 kg") and "not a voltage" in join._said.text()
    assert join.model.setData(join.model.index(0, 1), "") is True and bank(window).packs[0].open_v is None
    assert join.model.setData(join.model.index(1, 6), "1") and "bank.address-twice" in {
        one.rule.id for one in window.session.shown.findings
    }
    assert not join.model.setData(join.model.index(1, 6), "one") and join.model.setData(join.model.index(1, 6), "–")
    assert join.model.setData(join.model.index(2, 5), "1.5") and bank(window).packs[2].resistance_factor == 1.5


def test_cold_room_and_datasheet(window):
    cold = leaf(window, "bank", "Cold")
    press(cold, "yes")
    assert not bank(window).spec.heated and "nothing holds it" in cold._said.text()
    retype(entry(cold, "Heater in the box"), "0.2 kW")
    assert "the heater holds it" in cold._said.text()
    cold.chart.grab()
    assert len(cold.chart.figures) == 5
    room = leaf(window, "bank", "Room")
    for model in room.models:
        QAbstractItemModelTester(model, QAbstractItemModelTester.FailureReportingMode.Fatal)
    assert (
        room._more.text() == "Room for 2 more; first to run out: ways on the bars." and room.models[0].rowCount() == 6
    )
    room.chain.grab()
    sheet = leaf(window, "bank", "Datasheet")
    retype(entry(sheet, "Capacity"), "20 Ah")
    retype(entry(sheet, "Energy on the label"), "5.12 kWh")
    assert (
        "swapped" in sheet._slips.text() and "label says" in sheet._slips.text() and "kg per kWh" in sheet._slips.text()
    )
    assert bank(window).spec.capacity_ah == 20, "asked, not refused"
    choose(sheet, "Chemistry", "nmc")
    assert "bank.set-points-lfp" in {one.rule.id for one in window.session.shown.findings}
