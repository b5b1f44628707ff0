"""What the installer chooses of the set points."""

from typing import Annotated, Literal

from msgspec import Meta, field

from weighty_axle.job.stated import Stated

FullCharge = Literal["gentle", "brim"]


class Settings(Stated, frozen=True, kw_only=True):
    """How full the bank is charged, and set points the installer chose against the computed ones (by key)."""

    full_charge: FullCharge
    own_values: dict[str, Annotated[float, Meta(ge=0, le=10_000)]] = field(default_factory=dict)
