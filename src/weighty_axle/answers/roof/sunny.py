"""Where the vehicle stands in the sun."""

from __future__ import annotations

from msgspec import Struct

from weighty_axle.design.table import Design


class SunnyPlace(Struct, frozen=True, kw_only=True):
    """Where the vehicle stands."""

    name: str
    latitude_deg: float
    longitude_deg: float
    height_m: float


def home(design: Design) -> SunnyPlace:
    """The site the job belongs to."""
    site = design.job.site
    return SunnyPlace(
        name=site.home, latitude_deg=site.latitude_deg, longitude_deg=site.longitude_deg, height_m=site.height_m
    )
