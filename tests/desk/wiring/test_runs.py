"""Runs, pre-charge, feeds and bonds in the real window."""

from __future__ import annotations

import math

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from tests.desk.driving import choose, entry, leaf, press, retype
from weighty_axle.design.wiring.precharge import PrechargeResult

KEY = Qt.Key


def rows(part, model="model"):
    found = getattr(part, model)
    return [found.record(at) for at in range(found.rowCount())]


def column(model, name):
    return next(
        n
        for n in range(model.columnCount())
        if str(model.headerData(n, Qt.Orientation.Horizontal, Qt.ItemDataRole.DisplayRole)).startswith(name)
    )


def rules(window):
    return {one.rule.id for one in window.session.shown.findings}


def test_a_run_is_given_a_conductor_of_its_own_and_the_computed_one_back(open_window):
    window = open_window("demo:puppet-theatre")
    part = leaf(window, "wiring", "Runs")
    part.grab()
    QTest.keyClick(part.tree, KEY.Key_Down)
    QTest.keyClick(part.tree, KEY.Key_Up)
    run = part.tree.chosen()
    computed = run.chosen
    assert not part.computed.isEnabled()
    line = entry(part, "Own size, this run")
    retype(line, "thick")
    assert part.tree.chosen().chosen == computed, "what is no conductor changes nothing"
    retype(line, "10 mm2")
    thin = part.tree.chosen()
    assert thin.own_choice and part.computed.isEnabled()
    assert thin.drop_share.value > run.drop_share.value and thin.ampacity_a.value < run.ampacity_a.value
    assert "wiring" in {one.rule.step for one in window.session.shown.findings if run.tag in one.tags}
    press(part, "Use the computed size")
    assert part.tree.chosen().chosen == computed and not part.computed.isEnabled()
    # A candidate chosen by keys is stated like a typed one.
    part.chart.grab()
    QTest.keyClick(part.chart, KEY.Key_Up)  # from the first round to the last, the thickest
    QTest.keyClick(part.chart, KEY.Key_Space)
    bigger = part.tree.chosen()
    assert bigger.own_choice and bigger.chosen != computed
    assert bigger.drop_share.value < run.drop_share.value and bigger.ampacity_a.value > run.ampacity_a.value
    window.session.undo()
    # Hotter air around: less ampacity, by the table's own correction, in every run.
    before = {one.tag: one.ampacity_a.value for one in window.session.shown.design.wiring.runs}
    retype(entry(part, "Air around"), "55")
    after = {one.tag: one.ampacity_a.value for one in window.session.shown.design.wiring.runs}
    same = [tag for tag in before if tag in after]
    assert same and window.session.shown.job.wiring.ambient_c == 55
    retype(entry(part, "Drop allowed"), "0")
    assert window.session.shown.job.wiring.drop_allowed > 0


def test_pre_charge_follows_its_resistor_as_an_rc_does(open_window):
    window = open_window("demo:eye-clinic")
    part = leaf(window, "wiring", "Pre-charge")
    one: PrechargeResult = window.session.shown.design.precharge
    assert not part.chart.grab().isNull() and one.fitted
    retype(entry(part, "Resistor"), "100")
    hundred = window.session.shown.design.precharge
    retype(entry(part, "Resistor"), "50")
    fifty = window.session.shown.design.precharge
    assert (hundred.resistor_ohm.value, fifty.resistor_ohm.value) == (100, 50)
    assert hundred.filled_s.value > 1.9 * fifty.filled_s.value  # in proportion, but for what stands by
    assert math.isfinite(fifty.filled_s.value) and fifty.peak_a.value < fifty.peak_without_a.value
    part.chart.grab()
    assert {figure.name for _, figure in part.chart.figures} >= {fifty.filled_s.name, fifty.peak_a.name}
    # A standby load that takes all the resistor gives holds the capacitors down: told, drawn and a finding.
    retype(entry(part, "Standby"), "200")
    held = window.session.shown.design.precharge
    assert held.pinned or not math.isfinite(held.filled_s.value)
    assert not part.chart.grab().isNull() and any("precharge" in one for one in rules(window))
    choose(part, "Pre-charge", False)
    assert not window.session.shown.design.precharge.fitted
    assert not part.chart.grab().isNull()


def test_feeds_are_measured_in_the_table_and_a_fuse_only_where_one_is_fitted(open_window):
    window = open_window("demo:eye-clinic")
    part = leaf(window, "wiring", "Feeds")
    at = next(at for at, one in enumerate(rows(part)) if one.length_m is not None)
    feed = rows(part)[at]
    part.table.selectRow(at)
    assert window.session.selection == tuple(feed.converters)
    length, fuse = column(part.model, "One way"), column(part.model, "Fuse")
    assert part.model.setData(part.model.index(at, length), f"{feed.length_m.value * 2} m")
    longer = rows(part)[at]
    assert longer.length_m.value == pytest.approx(2 * feed.length_m.value)
    if longer.chosen == feed.chosen:
        assert longer.drop_share.value == pytest.approx(2 * feed.drop_share.value, rel=0.2)
    bare = next((at for at, one in enumerate(rows(part)) if one.fitted is None), None)
    if bare is not None:
        before = window.session.shown.whole
        assert not part.model.setData(part.model.index(bare, fuse), "30")
        assert "State what is fitted" in part.said.text() and window.session.shown.whole is before
    assert not part.model.setData(part.model.index(at, length), "far") and part.said.text()


def test_every_circuits_loop_is_told_and_the_chassis_bond_is_stated(open_window):
    window = open_window("demo:puppet-theatre")
    part = leaf(window, "wiring", "AC and bonding")
    loops = rows(part)
    assert {one.tag for one in loops} == {one.tag for one in window.session.shown.design.circuits}
    for at, one in enumerate(loops):
        part.table.selectRow(at)
        assert window.session.selection[0] == one.tag
        shore_a = one.on_shore_a.value if one.on_shore_a is not None else math.inf
        assert one.guarded or one.trips == (min(one.on_inverters_a.value, shore_a) >= one.at_once_a.value)
    bonds = rows(part, "plan")
    assert bonds
    retype(entry(part, "DC negative meets the chassis at"), "frame rail, rear")
    assert any("frame rail, rear" in (one.start, one.end) for one in rows(part, "plan"))
    window.session.undo()
    assert [one.what for one in rows(part, "plan")] == [one.what for one in bonds]
