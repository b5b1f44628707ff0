"""Before power: check after check with what should be read; a reading is judged as it is typed."""

from __future__ import annotations

from weighty_axle.answers.first_power.check import Check
from weighty_axle.answers.first_power.checks import GROUPS, checks
from weighty_axle.design.table import Design
from weighty_axle.desk.kit.fields import Field
from weighty_axle.desk.kit.run_card import CLEAR_SKY, RunCardLeaf
from weighty_axle.job.edits.edit import Edit
from weighty_axle.job.edits.proving import read, unread
from weighty_axle.job.models.proving import Reading
from weighty_axle.units import NUMBER, TEMPERATURE


class BeforeLeaf(RunCardLeaf):
    """Air and sun, presses, what stands in the way, the checks."""

    groups = GROUPS
    fields_shown = (
        Field("Air now", "proving.air_c", TEMPERATURE),
        Field("Sun now, W/m²", "proving.sun_w_per_m2", NUMBER, help="on the modules, by an irradiance meter"),
        *CLEAR_SKY,
    )
    all_good = "The start-up card may be taken up."

    def found(self, house: Design) -> tuple[Check, ...]:
        return checks(house)

    def write_down(self, reading: Reading) -> Edit:
        return read(reading, reading.check)

    def take_away(self, one: Check) -> Edit:
        return unread(one.key, one.key)

    def refused(self, one: Check) -> str:
        return "Joints are written down one by one in the step Plan." if one.key == "joints" else ""
