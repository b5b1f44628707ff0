"""What sits in the vehicle and has weight beside the system's own parts."""

from typing import Annotated, Literal

from msgspec import Meta

from weighty_axle.job.stated import Kilograms, Name, Place, Size, Stated, Tag, Text


class Fitting(Stated, frozen=True, kw_only=True):
    """Anything else that adds weight: a tank, a desk, a cabinet."""

    tag: Tag
    name: Annotated[Name, Meta(title="Name")]
    mass_kg: Annotated[Kilograms, Meta(title="Mass")]
    place: Annotated[Place, Meta(title="Place")]
    size: Annotated[Size, Meta(title="Outer size")]


class Lading(Stated, frozen=True, kw_only=True):
    """What comes and goes: water, fuel, passengers, tools. `weighed_kg` of it was on board on the weighbridge.

    `takes_from` names what fills it: waste water is full only once the fresh water is gone.
    """

    tag: Tag
    name: Annotated[Name, Meta(title="Name")]
    kind: Annotated[
        Literal["water", "waste_water", "fuel", "passengers", "tools", "other"], Meta(title="Kind of lading")
    ] = "other"
    empty_kg: Annotated[Kilograms, Meta(title="Least", description="of it on board")] = 0.0
    full_kg: Annotated[Kilograms, Meta(title="Most", description="of it on board")]
    weighed_kg: Annotated[Kilograms, Meta(title="Weighed with", description="on board on the weighbridge")] = 0.0
    takes_from: Annotated[Text, Meta(title="Fills from", description="another lading; empty: by itself")] = ""
    place: Annotated[Place, Meta(title="Place", description="of its middle")]


class Removed(Stated, frozen=True, kw_only=True):
    """Old equipment that leaves the vehicle: what it weighed, and where it stood."""

    tag: Tag
    name: Annotated[Name, Meta(title="Name")]
    mass_kg: Annotated[Kilograms, Meta(title="Mass", description="that leaves")]
    place: Annotated[Place, Meta(title="Stood at")]
