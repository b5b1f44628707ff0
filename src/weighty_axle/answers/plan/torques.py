"""Every joint that is to be tightened, with what was written down of it."""

from __future__ import annotations

from collections.abc import Iterator

from msgspec import Struct

from weighty_axle.answers.cuts.conductors import cuts
from weighty_axle.answers.cuts.cut import Cut
from weighty_axle.answers.wiring.joints import stud_row
from weighty_axle.design.table import Design
from weighty_axle.job.models.build import Torque
from weighty_axle.job.models.wiring import StudSize

OFF_SHARE = 0.10
"""A record so far from what is wanted is asked about. Source: ISO 6789-1 class of click wrenches ±4 to 6 %, recalled;
with the reading, common practice, no source.
"""


class JointDue(Struct, frozen=True, kw_only=True):
    """A joint: its key as records name it, where it is, its stud and torque, and the record where there is one."""

    key: str
    at: str
    way: str
    about: tuple[str, ...]
    stud: StudSize
    wanted_nm: float
    record: Torque | None

    @property
    def off(self) -> bool:
        """Whether it was tightened to something else than is wanted."""
        return self.record is not None and abs(self.record.torque_nm - self.wanted_nm) > OFF_SHARE * self.wanted_nm


def joints_due(design: Design) -> tuple[JointDue, ...]:
    """Every joint on a stud once: conductors side by side share it.

    Source: the cut list; torque by the stud, reference/studs.json: the value on the part wins.
    """
    records = {one.end: one for one in design.whole.build.torques}
    seen: dict[str, JointDue] = {}
    for cut, which in _ends(cuts(design)):
        end = cut.start if which == "start" else cut.end
        if end.stud is None:
            continue
        pole = "+" if "+" in cut.tag else "−" if "−" in cut.tag else ""
        key = f"{cut.tag.split(' ' + pole)[0] if pole else cut.tag} {which}{f' {pole}' if pole else ''}"
        if key not in seen:
            seen[key] = JointDue(
                key=key,
                at=end.at,
                way=cut.way,
                about=cut.about,
                stud=end.stud,
                wanted_nm=stud_row(end.stud).torque_nm,
                record=records.get(key),
            )
    return tuple(seen.values())


def _ends(made: tuple[Cut, ...]) -> Iterator[tuple[Cut, str]]:
    for cut in made:
        yield cut, "start"
        yield cut, "end"
