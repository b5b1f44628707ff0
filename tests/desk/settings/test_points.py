"""Set points in the real window: own values typed, the computed ones back, the ladder in order."""

from __future__ import annotations

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from tests.desk.driving import area, choose, leaf
from weighty_axle import demos


def rows(part):
    return [part.model.record(at) for at in range(part.model.rowCount())]


@pytest.mark.parametrize("name", demos.names())
def test_own_values_are_typed_over_the_computed_ones_and_cleared_again(open_window, name):
    window = open_window(f"demo:{name}")
    part = leaf(window, "settings", "Set points")
    before = window.session.shown.whole
    for at, point in enumerate(rows(part)):
        if point.own:
            continue
        value = point.computed.value * 0.99
        index = part.model.index(at, 2)
        assert not part.model.setData(index, "a lot") and window.session.shown.whole == before
        problem_free = part.model.setData(index, f"{value:.4f} {point.computed.unit}")
        own = rows(part)[at]
        if problem_free:
            assert own.value == pytest.approx(value, abs=1e-4) and own.own
            assert own.computed.value == pytest.approx(point.computed.value) or point.key == "system_charge_a"
            assert part.model.setData(index, "")
            assert rows(part)[at].value == pytest.approx(point.computed.value) or point.key == "system_charge_a"
        window.session.undo(window.session.undo_steps().__len__())
        assert window.session.shown.whole == before


def test_the_ladder_opens_workings_and_a_rung_out_of_order_is_a_finding(open_window):
    window = open_window("demo:eye-clinic")
    part = leaf(window, "settings", "Set points")
    opened = []
    part.ladder.opened.connect(opened.append)
    part.ladder.grab()
    rungs = window.session.shown.design.settings.ladder
    assert [one.value for one in rungs] == sorted(one.value for one in rungs)
    QTest.mouseClick(part.ladder, Qt.MouseButton.LeftButton, pos=area(part.ladder, rungs[0].key).toPoint())
    assert opened and opened[0] is rungs[0].computed
    at = next(at for at, one in enumerate(rows(part)) if one.key == rungs[0].key)
    assert part.model.setData(part.model.index(at, 2), f"{rungs[1].value + 0.2:.2f}")
    assert any(
        one.rule.id.startswith("settings.") and one.rule.severity == "stop" for one in window.session.shown.findings
    )
    assert not part.ladder.grab().isNull()
    gentle = {one.key: one.computed.value for one in rows(part)}
    choose(part, "Full charge", "brim" if window.session.shown.job.settings.full_charge == "gentle" else "gentle")
    assert {one.key: one.computed.value for one in rows(part)} != gentle
