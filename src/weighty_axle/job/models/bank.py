"""The bank as stated: packs by their datasheet, how they are linked, the box they sit in."""

from typing import Annotated, Literal

from msgspec import Meta

from weighty_axle.job.stated import (
    CellVolts,
    Celsius,
    CountedShare,
    Extent,
    Kilograms,
    Name,
    Place,
    Size,
    Stated,
    Tag,
    Volts,
    Watts,
)


class PackSpec(Stated, frozen=True, kw_only=True):
    """One battery pack as its datasheet states it.

    Resistance is the whole pack's, terminal to terminal; `energy_wh` is the label's.
    """

    name: Name
    cells_in_series: Annotated[int, Meta(ge=1, le=32)]
    cell_nominal_v: CellVolts
    cell_max_v: CellVolts
    cell_min_v: CellVolts
    capacity_ah: Annotated[float, Meta(ge=0.5, le=5000)]
    charge_a: Annotated[float, Meta(ge=0.1, le=5000)]
    discharge_a: Annotated[float, Meta(ge=0.1, le=5000)]
    peak_a: Annotated[float, Meta(ge=0.1, le=10_000)]
    peak_s: Annotated[float, Meta(ge=0.001, le=600)]
    resistance_ohm: Annotated[float, Meta(ge=1e-5, le=1)]
    mass_kg: Kilograms
    size: Size
    series_limit: Annotated[int, Meta(ge=1, le=16)]
    parallel_limit: Annotated[int, Meta(ge=1, le=64)]
    heated: bool
    chemistry: Literal["lfp", "nmc"] = "lfp"
    energy_wh: Annotated[float, Meta(ge=1, le=1_000_000)] | None = None
    charge_low_c: Celsius = 0.0
    charge_high_c: Celsius = 45.0
    discharge_low_c: Celsius = -20.0
    discharge_high_c: Celsius = 55.0
    fuse_a: Annotated[float, Meta(ge=0.1, le=5000)] | None = None


TakeOff = Literal["same_end", "opposite_ends", "middle", "bar_equal", "bar_unequal", "groups"]


# ---- bank ----------------------------------------------------------------------------------------------------


class Pack(Stated, frozen=True, kw_only=True):
    """One pack in its place.

    `resistance_factor` is its resistance over the datasheet's (age, unlike cells); `out` takes it out of service.
    `open_v` is the open-circuit voltage measured before joining, `address` what its switches say (empty: in the order
    of the packs).
    """

    tag: Tag
    place: Place
    resistance_factor: Annotated[float, Meta(ge=0.2, le=10)] = 1.0
    out: bool = False
    open_v: Volts | None = None
    address: Annotated[int, Meta(ge=0, le=255)] | None = None


class Links(Stated, frozen=True, kw_only=True):
    """How packs are linked.

    `size` is the conductor of links and leads; lengths are of one conductor; a lead to a bar has a length per pole.
    """

    take_off: TakeOff = "bar_equal"
    size: Name = "70 mm2"
    link_m: Extent = 0.25
    lead_m: Extent = 0.6
    lead_step_m: Annotated[float, Meta(ge=0, le=10)] = 0.3
    lug_ohm: Annotated[float, Meta(ge=1e-6, le=0.1)] = 0.00003
    bar_mm2: Annotated[float, Meta(ge=5, le=5000)] = 300.0
    bar_pitch_m: Annotated[float, Meta(ge=0.005, le=2)] = 0.06
    bar_ways: Annotated[int, Meta(ge=1, le=64)] = 8
    group_size: Annotated[int, Meta(ge=1, le=16)] = 2


class Box(Stated, frozen=True, kw_only=True):
    """The insulated box the packs stand in: its skin, what it is kept at, and the heater's rating.

    `inside`: it stands in the living space, whose air does not fall under `inside_low_c` while the vehicle is used;
    `heats_asleep`: the heater goes on while the vehicle is stored.
    """

    area_m2: Annotated[float, Meta(ge=0.01, le=100)] = 4.0
    insulation_mm: Annotated[float, Meta(ge=0.1, le=500)] = 30.0
    conductivity_w_per_mk: Annotated[float, Meta(ge=0.001, le=2)] = 0.035
    keep_c: Celsius = 8.0
    heater_w: Watts = 0.0
    inside: bool = False
    inside_low_c: Celsius = 10.0
    heats_asleep: bool = False


class Bank(Stated, frozen=True, kw_only=True):
    """All packs acting as one battery; packs are named string by string.

    `join_a` is the current allowed while joining (empty: a pack's charge limit).
    """

    spec: PackSpec
    series: Annotated[int, Meta(ge=1, le=16)]
    packs: Annotated[tuple[Pack, ...], Meta(min_length=1, max_length=64)]
    usable_share: CountedShare
    days_wanted: Annotated[float, Meta(ge=0.01, le=30)]
    links: Links = Links()
    box: Box = Box()
    join_a: Annotated[float, Meta(ge=0.1, le=5000)] | None = None
