"""What must run: loads and their days, kinds of day, the year's stays, and equipment already on board."""

from typing import Annotated, Literal

from msgspec import Meta, field

from weighty_axle.job.stated import CountedShare, Minute, Name, PositiveShare, Share, Stated, Tag, Text, Volts, Watts

MOST_LOADS = 400


YEAR_DAYS = 365


Supply = Literal["leg_open", "L1", "L2", "L3", "L1+L2", "L1+L2+L3", "AC", "DC_12", "DC_24", "DC_48"]


Season = Literal["winter", "spring", "summer", "autumn"]


DayUse = Literal["parked", "driving", "hooked_up", "stored"]


# ---- loads and days -----------------------------------------------------------------------------------------


class Span(Stated, frozen=True, array_like=True):
    """A stretch of the day at one level: [start minute, end minute, level 0 to 1]."""

    start_min: Minute
    end_min: Minute
    level: PositiveShare


class DayKind(Stated, frozen=True, kw_only=True):
    """A kind of day the vehicle has."""

    tag: Tag
    name: Name
    inverters_on: bool = True
    use: DayUse = "parked"


class Stay(Stated, frozen=True, kw_only=True):
    """Days in a row at one place.

    `first_day` counts from 1 January in a year of 365 days; `source` is empty without hook-up.
    """

    tag: Tag
    place: Name
    latitude_deg: Annotated[float, Meta(ge=-90, le=90)]
    longitude_deg: Annotated[float, Meta(ge=-180, le=180)]
    height_m: Annotated[float, Meta(ge=-430, le=6000)]
    first_day: Annotated[int, Meta(ge=1, le=365)]
    days: Annotated[int, Meta(ge=1, le=365)]
    day_kind: Tag
    source: Text = ""
    driven_h: Annotated[float, Meta(ge=0, le=24)] = 0.0


class Seasons(Stated, frozen=True, kw_only=True):
    """Share of its duty that a load keeps in each season; 0: it does not run then."""

    winter: Share = 1.0
    spring: Share = 1.0
    summer: Share = 1.0
    autumn: Share = 1.0


ALL_YEAR = Seasons()


Pattern = Annotated[tuple[Span, ...], Meta(max_length=288)]


class Load(Stated, frozen=True, kw_only=True):
    """Something that uses power. `running_w` is for one; `duty` is the share of painted time it really draws.

    A load with a duty under 1 switches on and off in cycles of `cycle_min`. It keeps drawing its start for `start_s`.
    On a `circuit` (empty: one of its own) it takes that circuit's leg. `charges_bank`: it is a charger of the house
    bank.
    """

    tag: Tag
    name: Name
    group: Annotated[str, Meta(max_length=40)] = ""
    supply: Supply
    count: Annotated[int, Meta(ge=1, le=500)] = 1
    running_w: Watts
    power_factor: CountedShare
    start_multiple: Annotated[float, Meta(ge=1, le=12)] = 1.0
    start_s: Annotated[float, Meta(ge=0, le=600)] = 0.0
    duty: PositiveShare = 1.0
    cycle_min: Annotated[float, Meta(ge=1, le=720)] = 20.0
    standby_w: Watts = 0.0
    must_run: bool = False
    circuit: Text = ""
    charges_bank: bool = False
    seasons: Seasons = ALL_YEAR
    note: Text = ""
    patterns: dict[str, Pattern] = field(default_factory=dict)


ExistingKind = Literal[
    "battery",
    "charger",
    "alternator_link",
    "battery_link",
    "tow_wire",
    "solar_controller",
    "inverter",
    "generator",
    "starter",
    "breaker",
    "loads",
    "other",
]


FedFrom = Literal[
    "none", "shore", "inverter", "alternator", "tow_vehicle", "modules", "starter_battery", "house_battery", "generator"
]


TiesTo = Literal["none", "house_bank", "starter_battery", "other_battery", "loads"]


Disposition = Literal["undecided", "keep", "reprogram", "isolate", "replace", "remove"]


class Existing(Stated, frozen=True, kw_only=True):
    """Electrical equipment found on board, and what is to become of it.

    `charge_max_v` is the highest voltage a charger reaches (equalising included), `rated_v` what a breaker or switch
    may break; both empty where they do not apply. `also_v` is another voltage a controller or charger can be set to.
    `fused` says whether its cable is fused at the end that delivers current.
    """

    tag: Tag
    name: Name
    kind: ExistingKind
    nominal_v: Volts
    fed_from: FedFrom = "none"
    ties_to: TiesTo = "none"
    chemistry: Literal["none", "lead_acid", "lithium"] = "none"
    capacity_ah: Annotated[float, Meta(ge=0, le=5000)] = 0.0
    charge_max_v: Volts | None = None
    equalises: bool = False
    rated_v: Volts | None = None
    fused: bool = True
    can_reprogram: bool = False
    also_v: Volts | None = None
    disposition: Disposition = "undecided"
    note: Text = ""
