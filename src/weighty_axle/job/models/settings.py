"""What the installer chooses of the set points."""

from typing import Annotated, Literal

from msgspec import Meta, field

from weighty_axle.job.stated import Stated

FullCharge = Literal["gentle", "brim"]


SetPoint = Annotated[float, Meta(ge=0, le=10000)]
"""A set point of the installer's own."""


class Settings(Stated, frozen=True, kw_only=True):
    """How full the bank is charged, and set points the installer chose against the computed ones (by key)."""

    full_charge: Annotated[FullCharge, Meta(title="Full charge")]
    own_values: Annotated[dict[str, SetPoint], Meta(title="Own set points", description="by key")] = field(
        default_factory=dict
    )
