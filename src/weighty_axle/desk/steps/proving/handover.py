"""Handover: who hands over to whom, what is open, and the papers."""

from __future__ import annotations

from functools import partial

from weighty_axle.answers.first_power.check import Check
from weighty_axle.answers.first_power.checks import checks
from weighty_axle.answers.proving.trials import trials
from weighty_axle.answers.settings.sheet import all_settings
from weighty_axle.desk.kit.fields import Field, Fields
from weighty_axle.desk.kit.leaves import Leaf, TwoLines
from weighty_axle.desk.kit.records import Column, Records, table_view
from weighty_axle.desk.kit.run_card import VERDICT_WORDS
from weighty_axle.desk.text import tr
from weighty_axle.desk.work.session import Session, Shown
from weighty_axle.units import System

FIELDS = (
    Field("Handed over by", "proving.handover.by", str),
    Field("Licence", "proving.handover.licence", str, help="of who is answerable for mains voltage"),
    Field("Taken over by", "proving.handover.to", str),
    Field("On", "proving.handover.on", str, help="year-month-day"),
    Field("Left open", "proving.handover.left_open", str, wide=2, help="what both know is still to be done"),
)
_OPEN = (
    Column("", lambda row: tr(VERDICT_WORDS[row.verdict]), None),
    Column("What", lambda row: row.thing, None),
    Column("It says", lambda row: row.says or tr("not done"), None),
)


class HandoverLeaf(Leaf):
    """Names, the press for the papers, all that is open or not as it should be."""

    def __init__(self, session: Session, system: System) -> None:
        super().__init__(session, system)
        self.fields = Fields(session, system, FIELDS, 3, whole=True)
        self.column.addWidget(self.fields)
        self.row_of(("Write the handover …", partial(self.wants.emit, "handover out")))
        self.told = TwoLines(bold=True)
        self.column.addWidget(self.told)
        self.model = Records(session, system, _OPEN, self.told.setText, self)
        self.table = table_view(self.model, tr("What is open"), wide=2)
        self.column.addWidget(self.table, 1)
        self.follow(self.table, self.model, lambda row: row.tags[0] if row.tags else "")

    def show_shown(self, shown: Shown) -> None:
        self.fields.show_shown(shown)
        every: tuple[Check, ...] = (*all_settings(shown.house), *checks(shown.house), *trials(shown.house))
        # What is wrong before what is only open.
        left = sorted((one for one in every if not one.done), key=lambda one: one.verdict == "open")
        self.model.put(tuple(left))
        stops = sum(one.rule.severity == "stop" for one in shown.findings)
        said = tr("{done} of {all} settings, checks and tests are good; {stops} findings at Stop.").format(
            done=len(every) - len(left), all=len(every), stops=stops
        )
        ready = not left and not stops
        self.told.setText(f"{said} {tr('It may be handed over.') if ready else ''}".strip())
