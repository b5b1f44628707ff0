"""Lights in one go: typed, built, undone; and what cannot be read is said in a sentence."""

from __future__ import annotations

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from tests.desk.driving import leaf, press
from weighty_axle.job.checks.whole import problems
from weighty_axle.job.edits.wiring import Lights, read_lights


@pytest.mark.parametrize(
    ("text", "asked"),
    [
        ("12 lights of 4 W on 3 switches", Lights(12, 4.0, 3)),
        ("1 light on 1 switch", Lights(1, 5.0, 1)),
        (" 7 Lights of 2,5 W on 2 switches ", Lights(7, 2.5, 2)),
    ],
)
def test_what_people_type_is_read(text, asked):
    assert read_lights(text) == asked


@pytest.mark.parametrize(
    "text",
    [
        "",
        "lights",
        "2 lights on 3 switches",
        "0 lights on 0 switches",
        "900 lights on 2 switches",
        "3 lights of 999 W on 1 switch",
    ],
)
def test_what_cannot_be_read_is_said(text):
    with pytest.raises(ValueError, match=r"\.$"):
        read_lights(text)


def test_twelve_lights_on_three_switches_are_circuits_loads_and_one_step_back(open_window):
    window = open_window("demo:library-bus")
    part = leaf(window, "wiring", "House circuits")
    before = window.session.shown.whole
    QTest.keyClicks(part.quick, "twelve")
    press(part, "Add the lights")
    assert "Say it like" in part.said.text() and window.session.shown.whole is before
    part.quick.clear()
    QTest.keyClicks(part.quick, "13 lights of 4 W on 3 switches")
    QTest.keyClick(part.quick, Qt.Key.Key_Return)
    now = window.session.shown.whole
    made = now.dc.circuits[len(before.dc.circuits) :]
    assert [one.switch for one in made] == ["switch 1", "switch 2", "switch 3"] and problems(now) == []
    assert {one.panel for one in made} == {"DP1"}
    counts = [load.count for load in now.loads if load.circuit in {one.tag for one in made}]
    assert sorted(counts) == [4, 4, 5]
    lit = {way.tag: way.current_a.value for way in window.session.shown.design.direct.circuits}
    assert all(lit[one.tag] == pytest.approx(count * 4.0 / 13.2) for one, count in zip(made, counts, strict=True))
    window.session.undo()
    assert window.session.shown.whole.dc == before.dc
