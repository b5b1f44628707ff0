"""Asleep: one switch, what stays alive behind it, how long the bank lasts; and whether the inverters' switches can be
reached.
"""

from __future__ import annotations

from weighty_axle.design.inverters.asleep import Sleeper
from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.figures import FigureRow
from weighty_axle.desk.kit.leaves import Leaf, TwoLines
from weighty_axle.desk.kit.records import Column, Records, SaidLine, table_view
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.job.edits.edit import Edit, set_value
from weighty_axle.job.models.inverters import Inverter
from weighty_axle.units import NUMBER, POWER, QuantityError, System, show

FIELDS = (
    Field("The one switch", "ac.storage.switch", str, wide=3),
    Field("Stored, months", "ac.storage.months", NUMBER),
    Field("Each pack's BMS", "ac.storage.pack_w", POWER),
    Field("Each controller", "ac.storage.controller_w", POWER),
    Field("Remote switch for all inverters", "inverters.remote_switch", bool, wide=2),
)


def yes_or_no(text: str) -> bool:
    """Whether a typed word means yes. Raises QuantityError for any other word."""
    if text.lower() not in ("yes", "no", "y", "n", "1", "0", tr("yes"), tr("no")):
        raise QuantityError(tr("Say yes or no."))
    return text.lower() in ("yes", "y", "1", tr("yes"))


class AsleepLeaf(Leaf):
    """Fields, sentence, what takes power, switches in reach."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.fields = Fields(session, system, FIELDS, len(FIELDS))
        self.column.addWidget(self.fields)
        self.sentence = TwoLines(bold=True)
        self.column.addWidget(self.sentence)
        self._said = SaidLine()
        columns = (
            Column("What", lambda row: row.name, None),
            Column("Tag", lambda row: row.tag, None),
            Column("Takes", lambda row: row.watts, POWER),
            Column("In a month", lambda row: show(row.watts * 730, "Wh"), None),
            Column("Stays alive", lambda row: tr("yes") if row.alive else tr("no"), None, self._alive),
            Column("Why", lambda row: row.why, None),
        )
        self.model = Records(session, system, columns, self._said.setText, self)
        self.table = table_view(self.model, tr("What takes power while the vehicle sleeps"), wide=0)
        self.column.addWidget(self.table, 3)
        units = (
            Column("Inverter", lambda row: row.tag, None),
            Column("On", lambda row: row.leg, None),
            Column("Own switch within reach", lambda row: tr("yes") if row.reachable else tr("no"), None, self._reach),
            Column("Its relay bonds the neutral", lambda row: tr("yes") if row.bonds else tr("no"), None, self._bonds),
        )
        self.units = Records(session, system, units, self._said.setText, self)
        self.unit_table = table_view(self.units, tr("Switches of the inverters"), wide=3)
        self.column.addWidget(self.unit_table, 1)
        self.column.addWidget(self._said)
        self.figures = FigureRow(system)
        self.column.addWidget(self.figures)
        self.listen(self.figures)

    def _alive(self, row: Sleeper, text: str) -> Edit:
        alive = self.session.shown.job.ac.storage.alive
        if not self.session.shown.job.ac.storage.switch:
            raise QuantityError(tr("Name the one switch first: without it everything stays alive."))
        if any(pack.tag == row.tag for pack in self.session.shown.job.bank.packs):
            raise QuantityError(tr("A pack's BMS is before every switch; it always takes its own."))
        others = tuple(tag for tag in alive if tag != row.tag)
        if yes_or_no(text):
            return set_value("ac.storage.alive", (*others, row.tag), f"Keep {row.name} alive asleep")
        return set_value("ac.storage.alive", others, f"{row.name} off asleep")

    def _reach(self, row: Inverter, text: str) -> Edit:
        return set_value(
            f"inverters.units[{row.tag}].reachable", yes_or_no(text), f"Switch of {row.tag} within reach: {text}"
        )

    def _bonds(self, row: Inverter, text: str) -> Edit:
        return set_value(f"inverters.units[{row.tag}].bonds", yes_or_no(text), f"{row.tag} bonds the neutral: {text}")

    def show_shown(self, shown: Shown) -> None:
        self.fields.show_shown(shown)
        result = shown.design.storage
        self.model.put(result.sleepers)
        self.units.put(shown.job.inverters.units)
        switch = shown.job.ac.storage.switch
        lasts, awake = show(result.lasts_days.value, "days"), show(result.awake_month_wh.value, "Wh")
        if switch:
            text = tr(
                "{switch} off: the bank lasts {lasts}. Left on, everything here would take {awake} a month."
            ).format(switch=switch, lasts=lasts, awake=awake)
        else:
            text = tr("No switch puts the vehicle to sleep: {awake} a month goes, and the bank lasts {lasts}.").format(
                awake=awake, lasts=lasts
            )
        self.sentence.setText(text)
        self.figures.put(
            (result.alive_w, result.month_wh, result.month_share, result.lasts_days, result.awake_month_wh)
        )
