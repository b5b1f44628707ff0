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

    start_min: Annotated[Minute, Meta(title="From")]
    end_min: Annotated[Minute, Meta(title="To")]
    level: Annotated[PositiveShare, Meta(title="Level")]


class DayKind(Stated, frozen=True, kw_only=True):
    """A kind of day the vehicle has."""

    tag: Tag
    name: Annotated[Name, Meta(title="Name")]
    inverters_on: Annotated[bool, Meta(title="Inverters on")] = True
    use: Annotated[DayUse, Meta(title="Use")] = "parked"


class Stay(Stated, frozen=True, kw_only=True):
    """Days in a row at one place.

    `first_day` counts from 1 January in a year of 365 days; `source` is empty without hook-up.
    """

    tag: Tag
    place: Annotated[Name, Meta(title="Where")]
    latitude_deg: Annotated[float, Meta(ge=-90, le=90, title="Latitude", description="north positive")]
    longitude_deg: Annotated[float, Meta(ge=-180, le=180, title="Longitude", description="east positive")]
    height_m: Annotated[float, Meta(ge=-430, le=6000, title="Height", description="above the sea")]
    first_day: Annotated[int, Meta(ge=1, le=365, title="First day", description="counted from 1 January")]
    days: Annotated[int, Meta(ge=1, le=365, title="Days")]
    day_kind: Annotated[Tag, Meta(title="Kind of day")]
    source: Annotated[Text, Meta(title="Hook-up", description="empty: none")] = ""
    driven_h: Annotated[float, Meta(ge=0, le=24, title="Driven", description="a day")] = 0.0
    driven_from_h: Annotated[float, Meta(ge=0, le=24, title="Driven from", description="hour of the day")] = 8.0


class Seasons(Stated, frozen=True, kw_only=True):
    """Share of its duty that a load keeps in each season; 0: it does not run then."""

    winter: Annotated[Share, Meta(title="In winter", description="share of its duty")] = 1.0
    spring: Annotated[Share, Meta(title="In spring", description="share of its duty")] = 1.0
    summer: Annotated[Share, Meta(title="In summer", description="share of its duty")] = 1.0
    autumn: Annotated[Share, Meta(title="In autumn", description="share of its duty")] = 1.0


ALL_YEAR = Seasons()


Pattern = Annotated[tuple[Span, ...], Meta(max_length=288)]


class Load(Stated, frozen=True, kw_only=True):
    """Something that uses power. `running_w` is for one; `duty` is the share of painted time it really draws.

    A load with a duty under 1 switches on and off in cycles of `cycle_min`. It keeps drawing its start for `start_s`.
    One that need not run `waits` when energy is short. On a
    `circuit` (empty: one of its own) it takes that circuit's leg. `charges` names the DC bar it
    is a charger of, and `charge_a` is what it puts there at most.
    """

    tag: Tag
    name: Annotated[Name, Meta(title="Name")]
    group: Annotated[str, Meta(max_length=40, title="Group")] = ""
    supply: Annotated[Supply, Meta(title="Supply")]
    count: Annotated[int, Meta(ge=1, le=500, title="How many")] = 1
    running_w: Annotated[Watts, Meta(title="Running", description="one of them")]
    power_factor: Annotated[CountedShare, Meta(title="Power factor")]
    start_multiple: Annotated[float, Meta(ge=1, le=12, title="Start", description="times running")] = 1.0
    start_s: Annotated[float, Meta(ge=0, le=600, title="Start lasts")] = 0.0
    duty: Annotated[PositiveShare, Meta(title="Duty", description="share of painted time it really draws")] = 1.0
    cycle_min: Annotated[float, Meta(ge=1, le=720, title="Cycle", description="on and off")] = 20.0
    standby_w: Annotated[Watts, Meta(title="Standby", description="one of them")] = 0.0
    must_run: Annotated[bool, Meta(title="Must run")] = False
    waits: Annotated[
        int, Meta(ge=1, le=3, title="Waits", description="when energy is short: 1 at first, 3 at last")
    ] = 2
    circuit: Annotated[Text, Meta(title="Circuit", description="AC or DC; empty: one of its own")] = ""
    on: Annotated[
        Text, Meta(title="On", description="a DC bar or inverter group beside the first; empty: as its circuit says")
    ] = ""
    charges: Annotated[
        Text, Meta(title="Charges", description="a DC bar: it is a charger of that bar; empty: it is none")
    ] = ""
    charge_a: Annotated[
        Annotated[float, Meta(ge=0.1, le=1000)] | None,
        Meta(title="Charges with", description="into its bar; empty: 90 % of its power"),
    ] = None
    seasons: Annotated[Seasons, Meta(title="Seasons")] = ALL_YEAR
    note: Annotated[Text, Meta(title="Note")] = ""
    patterns: Annotated[dict[str, Pattern], Meta(title="Days", description="painted on the Brief")] = field(
        default_factory=dict
    )


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
    name: Annotated[Name, Meta(title="Name")]
    kind: Annotated[ExistingKind, Meta(title="Kind")]
    nominal_v: Annotated[Volts, Meta(title="Nominal")]
    fed_from: Annotated[FedFrom, Meta(title="Fed from")] = "none"
    ties_to: Annotated[TiesTo, Meta(title="Ties to")] = "none"
    chemistry: Annotated[Literal["none", "lead_acid", "lithium"], Meta(title="Chemistry")] = "none"
    capacity_ah: Annotated[float, Meta(ge=0, le=5000, title="Capacity")] = 0.0
    charge_max_v: Annotated[Volts | None, Meta(title="Charges up to", description="equalising included")] = None
    equalises: Annotated[bool, Meta(title="Equalises")] = False
    rated_v: Annotated[Volts | None, Meta(title="Breaks up to", description="of a breaker or switch")] = None
    fused: Annotated[bool, Meta(title="Fused", description="at the end that delivers current")] = True
    can_reprogram: Annotated[bool, Meta(title="Can be reprogrammed")] = False
    also_v: Annotated[Volts | None, Meta(title="Can be set to", description="another voltage")] = None
    disposition: Annotated[Disposition, Meta(title="What becomes of it")] = "undecided"
    note: Annotated[Text, Meta(title="Note")] = ""
