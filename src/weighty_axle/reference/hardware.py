"""Tables of what joins and guards conductors: studs, shrink, glands, contacts, curves, earths, signal leads."""

from __future__ import annotations

import functools
from typing import Literal

import msgspec

from weighty_axle.job.models.build import LabelSize
from weighty_axle.job.models.parts import Practice
from weighty_axle.job.models.wiring import SignalKind, StudSize
from weighty_axle.reference.tables import Table, read_table


class FuseCurve(msgspec.Struct, frozen=True):
    """A kind of fuse, or a breaker: (times the rating, least time until it melts, most until it has opened) [s]."""

    kind: str
    points: tuple[tuple[float, float, float], ...]

    @property
    def melts(self) -> tuple[tuple[float, float], ...]:
        """Least time it takes."""
        return tuple((times, least) for times, least, _ in self.points)

    @property
    def opens(self) -> tuple[tuple[float, float], ...]:
        """Most time it takes."""
        return tuple((times, most) for times, _, most in self.points)


@functools.cache
def fuse_curves() -> dict[str, FuseCurve]:
    """Time and current of kinds of fuse, and of a breaker, by key."""
    table: Table[FuseCurve] = read_table("fuse_curves.json", Table[FuseCurve])
    return {row.kind: row for row in table.rows}


class Stud(msgspec.Struct, frozen=True):
    """A stud: its lug's hole, torque on a terminal (copper, brass) and on steel, the largest conductor that has a
    lug for it, what it carries.
    """

    stud: StudSize
    hole_mm: float
    torque_nm: float
    steel_nm: float
    largest_mm2: float
    carries_a: float


@functools.cache
def studs() -> Table[Stud]:
    """Studs, thinnest first."""
    table: Table[Stud] = read_table("studs.json", Table[Stud])
    return table


class Shrink(msgspec.Struct, frozen=True):
    """A size of adhesive heat shrink."""

    supplied_mm: float
    shrunk_mm: float


@functools.cache
def shrinks() -> Table[Shrink]:
    """Heat shrink, thinnest first."""
    table: Table[Shrink] = read_table("shrink.json", Table[Shrink])
    return table


class Gland(msgspec.Struct, frozen=True):
    """A cable gland with the cable it holds."""

    thread: str
    least_mm: float
    most_mm: float


@functools.cache
def glands() -> Table[Gland]:
    """Cable glands, smallest first."""
    table: Table[Gland] = read_table("glands.json", Table[Gland])
    return table


class SignalLead(msgspec.Struct, frozen=True):
    """A kind of signal lead: its cable, how long it may be, and the fuse it has at its source."""

    kind: SignalKind
    name: str
    cable: str
    outer_mm: float
    longest_m: float
    fuse_a: float | None


@functools.cache
def signal_leads() -> dict[str, SignalLead]:
    """Kinds of signal leads by key."""
    table: Table[SignalLead] = read_table("signal_leads.json", Table[SignalLead])
    return {row.kind: row for row in table.rows}


class Earth(msgspec.Struct, frozen=True):
    """The earth conductor of what is guarded by so much at most."""

    most_a: float
    size: str


@functools.cache
def earths() -> Table[Earth]:
    """Earth conductors of the North American practice, rising."""
    table: Table[Earth] = read_table("earths.json", Table[Earth])
    return table


class CordRow(msgspec.Struct, frozen=True):
    """A flexible cord: the largest rating of an inlet it takes with up to two loaded conductors, and with three [A]."""

    practice: Practice
    size: str
    amps: float
    three_a: float


@functools.cache
def cords() -> Table[CordRow]:
    """Flexible cords by practice, thinnest first."""
    table: Table[CordRow] = read_table("cords.json", Table[CordRow])
    return table


class Conduit(msgspec.Struct, frozen=True):
    """A conduit by the name it is bought under."""

    practice: Practice
    name: str
    inside_mm: float


@functools.cache
def conduits() -> Table[Conduit]:
    """Conduits by practice, narrowest first."""
    table: Table[Conduit] = read_table("conduits.json", Table[Conduit])
    return table


class Contact(msgspec.Struct, frozen=True):
    """What a part loses at its rated current [mV]: a kind of fuse by its key, a breaker, a switch, a shunt."""

    part: str
    mv: float


@functools.cache
def contacts() -> Table[Contact]:
    """Losses of fuses, breakers, switches and shunts at their rated current."""
    table: Table[Contact] = read_table("contacts.json", Table[Contact])
    return table


class UsualPart(msgspec.Struct, frozen=True):
    """How a kind of part is bought: spares on top, sold by how many, days from order."""

    kind: str
    spare_share: float
    least_spare: float
    pack_of: float
    lead_days: int


@functools.cache
def usual_parts() -> dict[str, UsualPart]:
    """How parts are bought, by kind."""
    table: Table[UsualPart] = read_table("usual_parts.json", Table[UsualPart])
    return {row.kind: row for row in table.rows}


class LabelSheet(msgspec.Struct, frozen=True):
    """A sheet of labels: how many, how large, where the first is, how far from one to the next."""

    key: LabelSize
    name: str
    page: Literal["A4", "Letter"]
    across: int
    down: int
    wide_mm: float
    high_mm: float
    left_mm: float
    top_mm: float
    step_x_mm: float
    step_y_mm: float


@functools.cache
def label_sheets() -> dict[str, LabelSheet]:
    """Label sheets by key."""
    table: Table[LabelSheet] = read_table("label_sheets.json", Table[LabelSheet])
    return {row.key: row for row in table.rows}
