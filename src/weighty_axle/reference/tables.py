"""Thin typed loaders of the tables beside this file. A value outside a table raises; nothing is extrapolated."""

from __future__ import annotations

import functools
from pathlib import Path
from typing import Any, Generic, Literal, TypeVar

import msgspec

from weighty_axle.job.models.bank import Chemistry, PackSpec
from weighty_axle.job.models.charging import ConverterSpec
from weighty_axle.job.models.document import Practice
from weighty_axle.job.models.inverters import Generator, InverterSpec
from weighty_axle.job.models.roof import ControllerSpec, ModuleSpec
from weighty_axle.job.models.wiring import SignalKind, StudSize

RowType = TypeVar("RowType")


class Table(msgspec.Struct, Generic[RowType], frozen=True):
    """A table with its source; `recalled` marks values written from memory, to be checked against one's own copy."""

    title: str
    source: str
    recalled: bool
    rows: tuple[RowType, ...]

    @property
    def cited(self) -> str:
        """Source as a working states it."""
        return f"{self.source}{' (recalled; check against your copy)' if self.recalled else ''}"


class Conductor(msgspec.Struct, frozen=True):
    """One conductor size with its largest resistance at 20 degC."""

    size: str
    area_mm2: float
    ohm_per_km: float


class AmpacityRow(msgspec.Struct, frozen=True):
    """Allowed current of one size by insulation temperature class."""

    size: str
    amps: dict[int, float]


class AmpacityTable(Table[AmpacityRow], frozen=True):
    """Allowed currents at a stated air temperature.

    `enclosed`: conductors lie in one enclosure. `bundles` are (most loaded conductors together, factor), rising;
    `terminals_c` is what terminals stand where nothing is stated (None: the practice sets no such limit).
    """

    key: str
    practice: Practice
    ambient_c: float
    enclosed: bool
    terminals_c: int | None
    bundles: tuple[tuple[int, float], ...]
    bundle_source: str

    def bundle_factor(self, loaded: int) -> float:
        """Share of the table's current that so many loaded conductors together may each carry.

        Raises ValueError beyond the table.
        """
        for most, factor in self.bundles:
            if loaded <= most:
                return factor
        raise ValueError(f"{loaded} loaded conductors together are beyond the table of {self.bundles[-1][0]}")

    def terminal_a(self, row: AmpacityRow, terminals_c: int | None) -> float | None:
        """What terminals of a temperature allow on a size: the table's value of the highest class that they stand; None
        where nothing limits.
        """
        limit = terminals_c or self.terminals_c
        classes = [one for one in row.amps if limit is not None and one <= limit]
        return row.amps[max(classes)] if classes else None


class FuseRatings(msgspec.Struct, frozen=True):
    """Standard ratings of one practice."""

    practice: Practice
    amps: tuple[float, ...]
    source: str
    recalled: bool


class FuseKind(msgspec.Struct, frozen=True):
    """A kind of fuse: the DC voltage and prospective current it can break, and the largest rating made."""

    key: str
    name: str
    volts: float
    breaks_a: float
    largest_a: float


class UsualSource(msgspec.Struct, frozen=True):
    """A usual place to plug in."""

    practice: Practice
    tag: str
    name: str
    kind: Literal["shore", "generator"]
    volts: float
    legs: int
    legs_in_phase: bool
    amps: float
    bonded: bool
    rcd_ma: float
    loop_ohm: float = 0.3
    generator: Generator | None = None


class AcConductor(msgspec.Struct, frozen=True):
    """The largest breaker on an AC conductor of one size."""

    practice: Practice
    size: str
    amps: float


class OpenCircuit(msgspec.Struct, frozen=True):
    """Open-circuit voltage of a cell [V] over state of charge, both rising; `empty_v` and `full_v` are what 0 and 100 %
    mean.

    `error_v` is what straight lines between the points may be off the curve they were taken from.
    """

    chemistry: Chemistry
    soc: tuple[float, ...]
    cell_v: tuple[float, ...]
    empty_v: float
    full_v: float
    error_v: float


class ColdCapacity(msgspec.Struct, frozen=True):
    """Share of the capacity at cell temperatures [degC], rising."""

    chemistry: Chemistry
    cell_c: tuple[float, ...]
    share: tuple[float, ...]


class Isolator(msgspec.Struct, frozen=True):
    """A kind of main isolator: the highest DC voltage and current it is made for."""

    name: str
    volts: float
    amps: float


class Bolt(msgspec.Struct, frozen=True):
    """A bolt with its large washer and the hole it needs."""

    size: str
    diameter_mm: float
    stress_mm2: float
    washer_mm: float
    hole_mm: float


class BoltGrade(msgspec.Struct, frozen=True):
    """A bolt's strength, and the share of it that counts in shear."""

    name: str
    strength_mpa: float
    shear_share: float


class HoldFactors(msgspec.Struct, frozen=True):
    """What fixings are asked to hold in vehicles of a class, up to a gross weight."""

    driven: bool
    carries_people: bool
    most_kg: float
    words: str
    forward_g: float
    sideways_g: float
    up_g: float


class VocCorrection(msgspec.Struct, frozen=True):
    """Voltage factor for module temperatures from `from_c` (coldest) to `to_c`."""

    from_c: float
    to_c: float
    factor: float


def _read(name: str, kind: Any) -> Any:
    return msgspec.json.decode((Path(__file__).parent / name).read_bytes(), type=kind, strict=False)


@functools.cache
def iec_conductors() -> Table[Conductor]:
    """Copper class 5 sizes in mm2."""
    table: Table[Conductor] = _read("conductors_iec.json", Table[Conductor])
    return table


@functools.cache
def ampacity_tables() -> dict[str, AmpacityTable]:
    """Ampacity tables by key."""
    names = ("ampacity_small_craft_awg.json", "ampacity_enclosed_awg.json", "ampacity_small_craft_mm2.json")
    tables: list[AmpacityTable] = [_read(name, AmpacityTable) for name in names]
    return {table.key: table for table in tables}


class _FuseTable(msgspec.Struct, frozen=True):
    title: str
    rows: tuple[FuseRatings, ...]


@functools.cache
def fuse_ratings(practice: Practice) -> FuseRatings:
    """Standard fuse ratings of a practice, rising."""
    table: _FuseTable = _read("fuse_ratings.json", _FuseTable)
    return next(row for row in table.rows if row.practice == practice)


@functools.cache
def fuse_kinds() -> dict[str, FuseKind]:
    """Kinds of fuse by key."""
    table: Table[FuseKind] = _read("fuse_kinds.json", Table[FuseKind])
    return {row.key: row for row in table.rows}


@functools.cache
def usual_sources() -> Table[UsualSource]:
    """Usual pedestals, sockets and generators of both practices."""
    table: Table[UsualSource] = _read("sources.json", Table[UsualSource])
    return table


@functools.cache
def ac_conductors() -> Table[AcConductor]:
    """AC copper of both practices with the breaker it may have, rising."""
    table: Table[AcConductor] = _read("ac_conductors.json", Table[AcConductor])
    return table


@functools.cache
def voc_corrections() -> Table[VocCorrection]:
    """The code's cold correction for crystalline modules."""
    table: Table[VocCorrection] = _read("voc_correction.json", Table[VocCorrection])
    return table


@functools.cache
def open_circuit() -> Table[OpenCircuit]:
    """Open-circuit voltage of cells by chemistry."""
    table: Table[OpenCircuit] = _read("open_circuit.json", Table[OpenCircuit])
    return table


@functools.cache
def cold_capacity() -> Table[ColdCapacity]:
    """Capacity in the cold by chemistry."""
    table: Table[ColdCapacity] = _read("cold_capacity.json", Table[ColdCapacity])
    return table


@functools.cache
def isolators() -> Table[Isolator]:
    """Kinds of main isolator."""
    table: Table[Isolator] = _read("isolators.json", Table[Isolator])
    return table


@functools.cache
def bolts() -> Table[Bolt]:
    """Bolts by size."""
    table: Table[Bolt] = _read("bolts.json", Table[Bolt])
    return table


@functools.cache
def bolt_grades() -> Table[BoltGrade]:
    """Grades of bolts."""
    table: Table[BoltGrade] = _read("bolt_grades.json", Table[BoltGrade])
    return table


@functools.cache
def hold_factors() -> Table[HoldFactors]:
    """What fixings are asked to hold, by class of vehicle."""
    table: Table[HoldFactors] = _read("hold_factors.json", Table[HoldFactors])
    return table


@functools.cache
def packs() -> Table[PackSpec]:
    """Generic packs."""
    table: Table[PackSpec] = _read("packs.json", Table[PackSpec])
    return table


class CableOuter(msgspec.Struct, frozen=True):
    """How thick one insulated conductor of an area is."""

    area_mm2: float
    outer_mm: float


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
    table: Table[FuseCurve] = _read("fuse_curves.json", Table[FuseCurve])
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
    table: Table[Stud] = _read("studs.json", Table[Stud])
    return table


class Shrink(msgspec.Struct, frozen=True):
    """A size of adhesive heat shrink."""

    supplied_mm: float
    shrunk_mm: float


@functools.cache
def shrinks() -> Table[Shrink]:
    """Heat shrink, thinnest first."""
    table: Table[Shrink] = _read("shrink.json", Table[Shrink])
    return table


class Gland(msgspec.Struct, frozen=True):
    """A cable gland with the cable it holds."""

    thread: str
    least_mm: float
    most_mm: float


@functools.cache
def glands() -> Table[Gland]:
    """Cable glands, smallest first."""
    table: Table[Gland] = _read("glands.json", Table[Gland])
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
    table: Table[SignalLead] = _read("signal_leads.json", Table[SignalLead])
    return {row.kind: row for row in table.rows}


class Earth(msgspec.Struct, frozen=True):
    """The earth conductor of what is guarded by so much at most."""

    most_a: float
    size: str


@functools.cache
def earths() -> Table[Earth]:
    """Earth conductors of the North American practice, rising."""
    table: Table[Earth] = _read("earths.json", Table[Earth])
    return table


class Contact(msgspec.Struct, frozen=True):
    """What a part loses at its rated current [mV]: a kind of fuse by its key, a breaker, a switch, a shunt."""

    part: str
    mv: float


@functools.cache
def contacts() -> Table[Contact]:
    """Losses of fuses, breakers, switches and shunts at their rated current."""
    table: Table[Contact] = _read("contacts.json", Table[Contact])
    return table


@functools.cache
def cable_outer() -> Table[CableOuter]:
    """Outer diameters of insulated conductors, thinnest first."""
    table: Table[CableOuter] = _read("cable_outer.json", Table[CableOuter])
    return table


@functools.cache
def inverters() -> Table[InverterSpec]:
    """Generic inverter-chargers."""
    table: Table[InverterSpec] = _read("inverters.json", Table[InverterSpec])
    return table


@functools.cache
def modules() -> Table[ModuleSpec]:
    """Generic modules."""
    table: Table[ModuleSpec] = _read("modules.json", Table[ModuleSpec])
    return table


@functools.cache
def converters() -> Table[ConverterSpec]:
    """Generic DC-DC converters and chargers to start from."""
    table: Table[ConverterSpec] = _read("converters.json", Table[ConverterSpec])
    return table


@functools.cache
def controllers() -> Table[ControllerSpec]:
    """Generic charge controllers."""
    table: Table[ControllerSpec] = _read("controllers.json", Table[ControllerSpec])
    return table


def voc_factor(cell_c: float) -> float:
    """Correction factor at a module temperature, 1 from 25 degC up.

    Raises: ValueError below the table's coldest row.
    Source: NEC table 690.7(A), recalled.
    """
    if cell_c >= 25:
        return 1.0
    for row in voc_corrections().rows:
        # Rows are whole degrees; between two rows the colder one holds.
        if cell_c >= row.from_c:
            return row.factor
    raise ValueError(
        f"record low {cell_c:g} degC is below the correction table, which ends at "
        f"{voc_corrections().rows[-1].from_c:g} degC"
    )
