"""What sits in the vehicle and has weight beside the system's own parts."""

from typing import Annotated

from msgspec import Meta

from weighty_axle.job.stated import Kilograms, Name, Place, Size, Stated, Tag


class Fitting(Stated, frozen=True, kw_only=True):
    """Anything else that adds weight: a tank, a desk, a cabinet."""

    tag: Tag
    name: Annotated[Name, Meta(title="Name")]
    mass_kg: Annotated[Kilograms, Meta(title="Mass")]
    place: Annotated[Place, Meta(title="Place")]
    size: Annotated[Size, Meta(title="Outer size")]


class Removed(Stated, frozen=True, kw_only=True):
    """Old equipment that leaves the vehicle: what it weighed, and where it stood."""

    tag: Tag
    name: Annotated[Name, Meta(title="Name")]
    mass_kg: Annotated[Kilograms, Meta(title="Mass", description="that leaves")]
    place: Annotated[Place, Meta(title="Stood at")]
