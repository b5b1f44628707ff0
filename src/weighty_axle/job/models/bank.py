"""The bank as stated: packs by their datasheet, how they are linked, the box they sit in."""

from typing import Annotated, Literal

from msgspec import Meta

from weighty_axle.job.stated import (
    CellVolts,
    Celsius,
    Clear,
    CountedShare,
    Extent,
    Kilograms,
    Name,
    Place,
    Size,
    Stated,
    Tag,
    Turn,
    Volts,
    Watts,
)

Chemistry = Literal["lfp", "nmc", "flooded", "agm"]


class PackSpec(Stated, frozen=True, kw_only=True):
    """One battery pack as its datasheet states it.

    Resistance is the whole pack's, terminal to terminal; `energy_wh` is the label's.
    """

    name: Annotated[Name, Meta(title="Type", description="as the job calls it")]
    cells_in_series: Annotated[int, Meta(ge=1, le=32, description="cells one after another in a pack")]
    cell_nominal_v: Annotated[CellVolts, Meta(title="Cell, nominal", description="label voltage divided by the cells")]
    cell_max_v: Annotated[
        CellVolts, Meta(title="Cell, highest", description="where the battery's own electronics stop charging")
    ]
    cell_min_v: Annotated[
        CellVolts, Meta(title="Cell, lowest", description="where the battery's own electronics stop discharging")
    ]
    capacity_ah: Annotated[float, Meta(ge=0.5, le=5000, title="Capacity", description="of one pack")]
    charge_a: Annotated[float, Meta(ge=0.1, le=5000, title="Charge, most", description="continuous")]
    discharge_a: Annotated[float, Meta(ge=0.1, le=5000, title="Discharge, most", description="continuous")]
    peak_a: Annotated[float, Meta(ge=0.1, le=10000, title="Peak", description="for the time beside it")]
    peak_s: Annotated[float, Meta(ge=0.001, le=600, title="Peak lasts", description="until the pack switches off")]
    resistance_ohm: Annotated[
        float, Meta(ge=1e-05, le=1, title="Resistance", description="of the whole pack, terminal to terminal")
    ]
    mass_kg: Annotated[Kilograms, Meta(title="Mass", description="of one pack")]
    size: Annotated[Size, Meta(title="Outer size", description="terminals included")]
    series_limit: Annotated[int, Meta(ge=1, le=16, title="Most in series", description="as the datasheet allows")]
    parallel_limit: Annotated[int, Meta(ge=1, le=64, title="Most side by side", description="as the datasheet allows")]
    heated: Annotated[bool, Meta(title="Heated", description="has a heater of its own")]
    chemistry: Annotated[Chemistry, Meta(title="Chemistry", description="of the cells")] = "lfp"
    energy_wh: Annotated[
        Annotated[float, Meta(ge=1, le=1000000)] | None,
        Meta(title="Energy on the label", description="empty: voltage times capacity"),
    ] = None
    charge_low_c: Annotated[Celsius, Meta(title="Charge from", description="coldest cells that may be charged")] = 0.0
    charge_high_c: Annotated[Celsius, Meta(title="Charge up to", description="warmest cells that may be charged")] = (
        45.0
    )
    charge_cool_c: Annotated[Celsius, Meta(title="Charge less below", description="cells cooler than this")] = 5.0
    charge_cool_a: Annotated[
        Annotated[float, Meta(ge=0.1, le=5000)] | None,
        Meta(title="Charge, most, cool", description="below that; empty: the datasheet says nothing"),
    ] = None
    discharge_low_c: Annotated[
        Celsius, Meta(title="Discharge from", description="coldest cells that may be discharged")
    ] = -20.0
    discharge_high_c: Annotated[
        Celsius, Meta(title="Discharge up to", description="warmest cells that may be discharged")
    ] = 55.0
    fuse_a: Annotated[
        Annotated[float, Meta(ge=0.1, le=5000)] | None,
        Meta(title="Fuse inside", description="in the pack; empty: there is none"),
    ] = None
    clear: Annotated[Clear, Meta(title="Room kept", description="free at its faces")] = Clear()

    @property
    def managed(self) -> bool:
        """Whether a pack has electronics that watch its cells, and a switch."""
        return self.chemistry in ("lfp", "nmc")


Role = Literal["house", "starting", "kept", "trial"]


TakeOff = Literal["same_end", "opposite_ends", "middle", "bar_equal", "bar_unequal", "groups"]


# ---- bank ----------------------------------------------------------------------------------------------------


class Pack(Stated, frozen=True, kw_only=True):
    """One pack in its place.

    `resistance_factor` is its resistance over the datasheet's (age, unlike cells); `out` takes it out of service.
    `open_v` is the open-circuit voltage measured before joining, `address` what its switches say (empty: in the order
    of the packs).
    """

    tag: Tag
    place: Annotated[Place, Meta(title="Place")]
    resistance_factor: Annotated[
        float, Meta(ge=0.2, le=10, title="Resistance over datasheet", description="for age and unlike cells")
    ] = 1.0
    out: Annotated[bool, Meta(title="Out of service", description="taken out, the rest goes on")] = False
    open_v: Annotated[Volts | None, Meta(title="Voltage before joining", description="measured open")] = None
    address: Annotated[
        Annotated[int, Meta(ge=0, le=255)] | None,
        Meta(title="Address", description="as its switches are set; empty: in order"),
    ] = None
    turn_deg: Annotated[Turn, Meta(title="Turned", description="seen from above, against the clock")] = 0


class Links(Stated, frozen=True, kw_only=True):
    """How packs are linked.

    `size` is the conductor of links and leads; lengths are of one conductor; a lead to a bar has a length per pole.
    """

    take_off: Annotated[
        TakeOff, Meta(title="Taken off at", description="where the two leads leave the row of packs")
    ] = "bar_equal"
    size: Annotated[Name, Meta(title="Conductor", description="of links and leads")] = "70 mm2"
    link_m: Annotated[Extent, Meta(title="Link", description="one conductor between two packs")] = 0.25
    lead_m: Annotated[Extent, Meta(title="Lead", description="of the first pack to the bar, one pole")] = 0.6
    lead_step_m: Annotated[float, Meta(ge=0, le=10, title="Longer by", description="each further pack's lead")] = 0.3
    lug_ohm: Annotated[float, Meta(ge=1e-06, le=0.1, title="Lug", description="each crimp with its bolt")] = 0.00003
    bar_mm2: Annotated[float, Meta(ge=5, le=5000, title="Bar section", description="of the bus bar")] = 300.0
    bar_pitch_m: Annotated[float, Meta(ge=0.005, le=2, title="Bar pitch", description="from stud to stud")] = 0.06
    bar_ways: Annotated[int, Meta(ge=1, le=64, title="Ways of the bar", description="studs it has")] = 8
    group_size: Annotated[
        int, Meta(ge=1, le=16, title="Packs in a group", description="where packs are linked in groups")
    ] = 2


class Box(Stated, frozen=True, kw_only=True):
    """The insulated box the packs stand in: its skin, what it is kept at, and the heater's rating.

    `inside`: it stands in the living space, whose air does not fall under `inside_low_c` while the vehicle is used;
    `heats_asleep`: the heater goes on while the vehicle is stored.
    """

    area_m2: Annotated[float, Meta(ge=0.01, le=100, title="Skin", description="of the box, all sides")] = 4.0
    insulation_mm: Annotated[float, Meta(ge=0.1, le=500, title="Insulation", description="thickness")] = 30.0
    conductivity_w_per_mk: Annotated[
        float, Meta(ge=0.001, le=2, title="Conductivity", description="of the insulation")
    ] = 0.035
    keep_c: Annotated[Celsius, Meta(title="Kept at", description="what the heater holds")] = 8.0
    heater_w: Annotated[Watts, Meta(title="Heater", description="rating; 0: there is none")] = 0.0
    inside: Annotated[
        bool, Meta(title="In the living space", description="its air is kept from frost while in use")
    ] = False
    inside_low_c: Annotated[Celsius, Meta(title="Lowest air there", description="while the vehicle is used")] = 10.0
    heats_asleep: Annotated[
        bool, Meta(title="Heats when stored", description="the heater goes on while the vehicle sleeps")
    ] = False


class Bank(Stated, frozen=True, kw_only=True):
    """All packs acting as one battery; packs are named string by string.

    `join_a` is the current allowed while joining (empty: a pack's charge limit).
    """

    role: Annotated[Role, Meta(title="Role", description="kept: it was there and stays")] = "house"
    spec: Annotated[PackSpec, Meta(title="Pack datasheet")]
    series: Annotated[int, Meta(ge=1, le=16, title="In series", description="packs one after another in a string")]
    packs: Annotated[tuple[Pack, ...], Meta(min_length=1, max_length=64, title="Packs", description="string by string")]
    usable_share: Annotated[
        CountedShare, Meta(title="Usable", description="share of the capacity that is planned with")
    ]
    days_wanted: Annotated[float, Meta(ge=0.01, le=30, title="Days wanted", description="without any charging")]
    balanced: Annotated[bool, Meta(title="Balancer", description="evens out the blocks in series of every string")] = (
        False
    )
    links: Annotated[Links, Meta(title="Links")] = Links()
    box: Annotated[Box, Meta(title="Box")] = Box()
    join_a: Annotated[
        Annotated[float, Meta(ge=0.1, le=5000)] | None,
        Meta(title="While joining, most", description="empty: a pack's charge limit"),
    ] = None
