"""The DC wiring as stated: the board, conductors by their table, fuses by their kind."""

from typing import Annotated, Literal

from msgspec import Meta, field

from weighty_axle.job.stated import Celsius, Efficiency, Extent, Kilograms, Name, Place, Size, Stated, Tag

AmpacityKey = Literal["enclosed_awg", "small_craft_awg", "small_craft_mm2"]


FuseKey = Literal["blade_32", "bolt_strip_32", "stud_block_58", "bolt_strip_80", "knife_blade_250", "fast_cylinder_125"]


InsulationClass = Literal[60, 70, 75, 90, 105]


class Board(Stated, frozen=True, kw_only=True):
    """The DC distribution board with the bus bars: where every lead meets."""

    tag: Tag
    name: Name = "DC board"
    place: Place
    size: Size
    mass_kg: Kilograms


class Wiring(Stated, frozen=True, kw_only=True):
    """Choices for the main DC runs. `conductors` holds the installer's own choice of size by run tag.

    `runs_together` is how many two-wire runs lie in one conduit or bundle; `terminals_c` is what the units' terminals
    are made for (empty: as usual).
    """

    board: Board
    main_lead_m: Extent | None = None
    ampacity_table: AmpacityKey
    insulation_c: InsulationClass
    ambient_c: Celsius
    runs_together: Annotated[int, Meta(ge=1, le=16)] = 1
    terminals_c: InsulationClass | None = None
    main_fuse: FuseKey
    branch_fuse: FuseKey
    drop_allowed: Annotated[float, Meta(ge=0.001, le=0.2)]
    converter_efficiency: Efficiency
    conductors: dict[str, Name] = field(default_factory=dict)
