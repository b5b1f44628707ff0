"""The table of ends: a stud typed, given back, and one noted as found."""

from __future__ import annotations

from PySide6.QtCore import Qt

from tests.desk.driving import leaf, press


def test_a_stud_is_typed_given_back_and_noted_as_found(open_window):
    window = open_window("demo:puppet-theatre")
    part = leaf(window, "wiring", "Joints")
    window.session.select("W-INV1")
    rows = [one.key for one in part.model._rows]
    index = part.model.index(rows.index("W-INV1 end"), 3)
    assert part.model.setData(index, "m12", Qt.ItemDataRole.EditRole)
    assert window.session.shown.whole.wiring.studs == {"W-INV1 end": "M12"}
    assert not part.model.setData(part.model.index(rows.index("W-INV1 end"), 3), "M7", Qt.ItemDataRole.EditRole)
    assert part.said.text()
    part.model.setData(part.model.index(rows.index("W-INV1 end"), 3), "", Qt.ItemDataRole.EditRole)
    assert window.session.shown.whole.wiring.studs == {}
    part.table.selectRow(rows.index("W-INV1 start"))
    press(part, "Note a stud as found")
    (found,) = window.session.shown.whole.stacks
    assert (found.way, found.end, found.order[:3]) == ("W-INV1", "start", ("bar", "fuse", "lug"))
    part.stack.grab()
    part.bar.grab()
