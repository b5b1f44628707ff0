"""Thin typed loaders of the tables beside this file. A value outside a table raises; nothing is extrapolated."""

from __future__ import annotations

import functools
from pathlib import Path
from typing import Any, Generic, Literal, TypeVar

import msgspec

from weighty_axle.job.models.bank import Chemistry, PackSpec
from weighty_axle.job.models.charging import ConverterSpec
from weighty_axle.job.models.inverters import Generator, InverterSpec
from weighty_axle.job.models.parts import Practice
from weighty_axle.job.models.roof import ControllerSpec, ModuleSpec

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


def read_table(name: str, kind: Any) -> Any:
    """A table beside this file by the name of its file, as its kind."""
    return msgspec.json.decode((Path(__file__).parent / name).read_bytes(), type=kind, strict=False)


@functools.cache
def iec_conductors() -> Table[Conductor]:
    """Copper class 5 sizes in mm2."""
    table: Table[Conductor] = read_table("conductors_iec.json", Table[Conductor])
    return table


@functools.cache
def ampacity_tables() -> dict[str, AmpacityTable]:
    """Ampacity tables by key."""
    names = ("ampacity_small_craft_awg.json", "ampacity_enclosed_awg.json", "ampacity_small_craft_mm2.json")
    tables: list[AmpacityTable] = [read_table(name, AmpacityTable) for name in names]
    return {table.key: table for table in tables}


class _FuseTable(msgspec.Struct, frozen=True):
    title: str
    rows: tuple[FuseRatings, ...]


@functools.cache
def fuse_ratings(practice: Practice) -> FuseRatings:
    """Standard fuse ratings of a practice, rising."""
    table: _FuseTable = read_table("fuse_ratings.json", _FuseTable)
    return next(row for row in table.rows if row.practice == practice)


@functools.cache
def fuse_kinds() -> dict[str, FuseKind]:
    """Kinds of fuse by key."""
    table: Table[FuseKind] = read_table("fuse_kinds.json", Table[FuseKind])
    return {row.key: row for row in table.rows}


@functools.cache
def usual_sources() -> Table[UsualSource]:
    """Usual pedestals, sockets and generators of both practices."""
    table: Table[UsualSource] = read_table("sources.json", Table[UsualSource])
    return table


@functools.cache
def ac_conductors() -> Table[AcConductor]:
    """AC copper of both practices with the breaker it may have, rising."""
    table: Table[AcConductor] = read_table("ac_conductors.json", Table[AcConductor])
    return table


@functools.cache
def voc_corrections() -> Table[VocCorrection]:
    """The code's cold correction for crystalline modules."""
    table: Table[VocCorrection] = read_table("voc_correction.json", Table[VocCorrection])
    return table


@functools.cache
def open_circuit() -> Table[OpenCircuit]:
    """Open-circuit voltage of cells by chemistry."""
    table: Table[OpenCircuit] = read_table("open_circuit.json", Table[OpenCircuit])
    return table


@functools.cache
def cold_capacity() -> Table[ColdCapacity]:
    """Capacity in the cold by chemistry."""
    table: Table[ColdCapacity] = read_table("cold_capacity.json", Table[ColdCapacity])
    return table


class BankLife(msgspec.Struct, frozen=True):
    """How long a bank lasts, from and to: full cycles, and years whatever is asked of it."""

    chemistry: Chemistry
    cycles: tuple[float, float]
    years: tuple[float, float]


@functools.cache
def bank_lives() -> Table[BankLife]:
    """How long banks last, by chemistry."""
    table: Table[BankLife] = read_table("bank_life.json", Table[BankLife])
    return table


@functools.cache
def isolators() -> Table[Isolator]:
    """Kinds of main isolator."""
    table: Table[Isolator] = read_table("isolators.json", Table[Isolator])
    return table


@functools.cache
def bolts() -> Table[Bolt]:
    """Bolts by size."""
    table: Table[Bolt] = read_table("bolts.json", Table[Bolt])
    return table


@functools.cache
def bolt_grades() -> Table[BoltGrade]:
    """Grades of bolts."""
    table: Table[BoltGrade] = read_table("bolt_grades.json", Table[BoltGrade])
    return table


@functools.cache
def hold_factors() -> Table[HoldFactors]:
    """What fixings are asked to hold, by class of vehicle."""
    table: Table[HoldFactors] = read_table("hold_factors.json", Table[HoldFactors])
    return table


@functools.cache
def packs() -> Table[PackSpec]:
    """Generic packs."""
    table: Table[PackSpec] = read_table("packs.json", Table[PackSpec])
    return table


class CableOuter(msgspec.Struct, frozen=True):
    """How thick one insulated conductor of an area is."""

    area_mm2: float
    outer_mm: float


@functools.cache
def cable_outer() -> Table[CableOuter]:
    """Outer diameters of insulated conductors, thinnest first."""
    table: Table[CableOuter] = read_table("cable_outer.json", Table[CableOuter])
    return table


@functools.cache
def inverters() -> Table[InverterSpec]:
    """Generic inverter-chargers."""
    table: Table[InverterSpec] = read_table("inverters.json", Table[InverterSpec])
    return table


@functools.cache
def modules() -> Table[ModuleSpec]:
    """Generic modules."""
    table: Table[ModuleSpec] = read_table("modules.json", Table[ModuleSpec])
    return table


@functools.cache
def converters() -> Table[ConverterSpec]:
    """Generic DC-DC converters and chargers to start from."""
    table: Table[ConverterSpec] = read_table("converters.json", Table[ConverterSpec])
    return table


@functools.cache
def controllers() -> Table[ControllerSpec]:
    """Generic charge controllers."""
    table: Table[ControllerSpec] = read_table("controllers.json", Table[ControllerSpec])
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
