"""The table of signal leads: a length typed states the lead; one more is added and undone."""

from __future__ import annotations

from PySide6.QtCore import Qt

from tests.desk.driving import leaf, press


def test_a_typed_length_states_the_lead_and_one_more_is_added(open_window):
    window = open_window("demo:eye-clinic")
    part = leaf(window, "wiring", "Signals")
    before = part.model.rowCount()
    row = next(at for at in range(before) if part.model.record(at).tag == "VS-CC1")
    assert part.model.setData(part.model.index(row, 5), "2.5", Qt.ItemDataRole.EditRole)
    probe, stated = window.session.shown.whole.signals
    assert (stated.kind, stated.start, stated.end, stated.measured_m) == ("sense", "DB1", "CC1", 2.5)
    assert part.model.rowCount() == before
    press(part, "Add a signal lead")
    assert part.model.rowCount() == before + 1
    window.session.undo()
    window.session.undo()
    assert window.session.shown.whole.signals == (probe,)
