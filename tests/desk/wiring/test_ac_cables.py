"""The table of AC cables: cord, feeder and circuit typed each at its own field; what nobody states is refused."""

from __future__ import annotations

from PySide6.QtCore import Qt

from tests.desk.driving import leaf


def test_cord_feeder_and_circuit_are_typed_where_they_are_stated(open_window):
    window = open_window("demo:puppet-theatre")
    part = leaf(window, "wiring", "AC cables")
    rows = {row.conductor.tag: at for at, row in enumerate(part.model._rows)}
    wire, length = 3, 4
    for tag, column, typed in (
        ("CORD-IN1", length, "82 ft"),
        ("CORD-IN1", wire, "4 mm2"),
        ("MAIN", wire, "10 mm2"),
        ("CK2", length, "9 m"),
    ):
        assert part.model.setData(part.model.index(rows[tag], column), typed, Qt.ItemDataRole.EditRole), tag
    ac = window.session.shown.whole.ac
    assert round(ac.inlets[0].cord_m, 2) == 24.99 and ac.inlets[0].cord_size == "4 mm2"
    assert ac.panels[0].size == "10 mm2"
    assert next(one for one in ac.circuits if one.tag == "CK2").length_m == 9.0
    assert not part.model.setData(part.model.index(rows["MAIN"], wire), " ", Qt.ItemDataRole.EditRole)
    assert part.said.text()


def test_what_no_inlet_states_is_refused_in_a_sentence(open_window, puppet, tmp_path):
    from tests.building import changed
    from weighty_axle.job.files.store import save

    path = tmp_path / "plain.axle"
    save(changed(puppet, ac__inlets=(), ac__inverters_fed_from=""), path)
    window = open_window(str(path))
    part = leaf(window, "wiring", "AC cables")
    before = window.session.shown.whole
    assert not part.model.setData(part.model.index(0, 4), "9 m", Qt.ItemDataRole.EditRole)
    assert part.said.text().endswith(".") and window.session.shown.whole is before
