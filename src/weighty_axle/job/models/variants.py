"""Variants: several designs over one survey, each whole, with a name of its own."""

from typing import Annotated, Literal

from msgspec import Meta

from weighty_axle.job.models.bank import Bank
from weighty_axle.job.models.brief import Supply
from weighty_axle.job.models.charging import Charging, Converter
from weighty_axle.job.models.inverters import AcSide, Group, Inverters
from weighty_axle.job.models.place import MOST_HOLDS, Assembly, ClosedWall, Fitting, Hold, Outlet
from weighty_axle.job.models.roof import Roof
from weighty_axle.job.models.settings import Settings
from weighty_axle.job.models.wiring import Bar, DcSide, Fitted, FoundStack, Signal, Wiring
from weighty_axle.job.stated import Name, Stated, Tag, Text


class FedAs(Stated, frozen=True, kw_only=True):
    """How a design feeds a load: its supply, circuit, bar or group, and what it charges."""

    load: Annotated[Tag, Meta(title="Load")]
    supply: Annotated[Supply, Meta(title="Supply")]
    circuit: Annotated[Text, Meta(title="Circuit")] = ""
    on: Annotated[Text, Meta(title="On")] = ""
    charges: Annotated[Text, Meta(title="Charges")] = ""


class Variant(Stated, frozen=True, kw_only=True):
    """A design beside the one that is worked on: everything a design is made of, and how it feeds the loads."""

    name: Annotated[Name, Meta(title="Name")]
    why: Annotated[Text, Meta(title="Why", description="what it is to show")] = ""
    practice: Annotated[Literal["north_american", "international"], Meta(title="Practice")]
    bank: Annotated[Bank, Meta(title="Bank")]
    inverters: Annotated[Inverters, Meta(title="Inverters")]
    ac: Annotated[AcSide, Meta(title="AC side")]
    roof: Annotated[Roof, Meta(title="Roof")]
    charging: Annotated[Charging, Meta(title="Charging")]
    wiring: Annotated[Wiring, Meta(title="DC wiring")]
    settings: Annotated[Settings, Meta(title="Settings")]
    bars: Annotated[tuple[Bar, ...], Meta(max_length=6, title="DC bars beside the house bar")] = ()
    groups: Annotated[tuple[Group, ...], Meta(max_length=6, title="Inverter groups beside the first")] = ()
    converters: Annotated[tuple[Converter, ...], Meta(max_length=24, title="Converters and DC chargers")] = ()
    dc: Annotated[DcSide, Meta(title="DC panels and circuits")] = DcSide()
    fitted: Annotated[tuple[Fitted, ...], Meta(max_length=200, title="Fitted protection")] = ()
    signals: Annotated[tuple[Signal, ...], Meta(max_length=100, title="Signal leads")] = ()
    stacks: Annotated[tuple[FoundStack, ...], Meta(max_length=200, title="Studs as found")] = ()
    fittings: Annotated[tuple[Fitting, ...], Meta(max_length=200, title="Fittings")] = ()
    holds: Annotated[tuple[Hold, ...], Meta(max_length=MOST_HOLDS, title="Fixings")] = ()
    assemblies: Annotated[tuple[Assembly, ...], Meta(max_length=24, title="Built on the bench")] = ()
    outlets: Annotated[tuple[Outlet, ...], Meta(max_length=200, title="Where cables come out")] = ()
    closed: Annotated[tuple[ClosedWall, ...], Meta(max_length=6, title="Closed walls")] = ()
    feeds: Annotated[tuple[FedAs, ...], Meta(max_length=400, title="Loads fed so")] = ()


DESIGN_PARTS = tuple(name for name in Variant.__struct_fields__ if name not in ("name", "why", "feeds"))
"""Parts of a job that make a design; the rest is the survey, which all variants share."""
