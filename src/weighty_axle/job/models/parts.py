"""Parts of a job that make a design; the rest is the survey, which all variants share."""

from typing import Annotated, Literal

from msgspec import Meta

from weighty_axle.job.models.bank import Bank
from weighty_axle.job.models.charging import Charging, Converter
from weighty_axle.job.models.inverters import AcSide, Group, Inverters
from weighty_axle.job.models.place import MOST_HOLDS, Assembly, ClosedWall, Fitting, Hold, Outlet
from weighty_axle.job.models.roof import Roof
from weighty_axle.job.models.settings import Settings
from weighty_axle.job.models.wiring import Bar, DcSide, Fitted, FoundStack, Signal, Wiring
from weighty_axle.job.stated import Stated

Practice = Literal["north_american", "international"]


class DesignParts(Stated, frozen=True, kw_only=True):
    """Everything a design is made of."""

    practice: Annotated[Practice, Meta(title="Practice", description="rules and sizes of the trade where it is built")]
    bank: Annotated[Bank, Meta(title="Bank")]
    inverters: Annotated[Inverters, Meta(title="Inverters")]
    ac: Annotated[AcSide, Meta(title="AC side")] = AcSide()
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


DESIGN_PARTS = DesignParts.__struct_fields__
