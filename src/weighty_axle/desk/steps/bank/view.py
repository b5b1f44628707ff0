"""Bank: packs as they are linked, and what is asked against what they allow; voltage, joining, cold, room and
datasheet.
"""

from __future__ import annotations

from weighty_axle.desk.kit.leaves import StepView


class BankView(StepView):
    """The leaves of the bank."""

    leaf_classes = (
        ("Links", "linking.BankLeaf"),
        ("Why 48 V", "voltage.VoltageLeaf"),
        ("Joining", "joining.JoinLeaf"),
        ("Cold", "cold.ColdLeaf"),
        ("Room", "room.RoomLeaf"),
        ("Datasheet", "datasheet.DatasheetLeaf"),
    )
