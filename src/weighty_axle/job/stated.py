"""The words every statement is made of: bounded numbers with their units, places and sizes.

Every number's unit stands in its name. Bounds are wide plausibility limits (a file that breaks them is damaged or
hostile): what is divided by has a smallest size that a thing can have, so that nothing overflows; judgement about
good and bad values belongs to the rules. Along the vehicle `x_m` counts from the front of
the body to the rear, across it `y_m` counts from the centre line to the right (kerb or verge side as built, positive
right), up it `z_m` counts from the ground. A place is the centre of an item in x and y and its underside in z.
"""

from typing import Annotated

from msgspec import Meta, Struct

Text = Annotated[str, Meta(max_length=2000)]
Name = Annotated[str, Meta(min_length=1, max_length=80, pattern=r"[^\s\x00-\x1f\x7f]")]
Tag = Annotated[str, Meta(min_length=1, max_length=12, pattern=r"^[A-Za-z][A-Za-z0-9_-]*$(?!\n)")]
"""A letter, then letters, digits, _ and -: no point, which parts a thing from its line in `IN1.L1`, and no line break
at its end.
"""
Metres = Annotated[float, Meta(ge=-40, le=60)]
Extent = Annotated[float, Meta(ge=0.001, le=60)]
Outline = Annotated[float, Meta(ge=0.5, le=60)]
Kilograms = Annotated[float, Meta(ge=0, le=100_000)]
Watts = Annotated[float, Meta(ge=0, le=1_000_000)]
Volts = Annotated[float, Meta(ge=0.1, le=2000)]
CellVolts = Annotated[float, Meta(ge=0.5, le=10)]
Amperes = Annotated[float, Meta(ge=0, le=10_000)]
Ohms = Annotated[float, Meta(ge=1e-6, le=100)]
Celsius = Annotated[float, Meta(ge=-60, le=150)]
LEAST_LEVEL = 0.0001
PositiveShare = Annotated[float, Meta(ge=LEAST_LEVEL, le=1)]
CountedShare = Annotated[float, Meta(ge=0.01, le=1)]
Share = Annotated[float, Meta(ge=0, le=1)]
Efficiency = Annotated[float, Meta(ge=0.3, le=0.999)]
Coefficient = Annotated[float, Meta(ge=-0.02, le=-0.00001)]
Minute = Annotated[int, Meta(ge=0, le=1440)]


class Stated(Struct, frozen=True, forbid_unknown_fields=True):
    """Base of everything stated: frozen, named fields, unknown fields refused."""


class Place(Stated, frozen=True, kw_only=True):
    """Where an item sits: centre along and across, underside above ground."""

    x_m: Annotated[Metres, Meta(title="Along", description="from the front of the body to the item's middle")]
    y_m: Annotated[
        Metres, Meta(title="Across", description="from the centre line to the item's middle, to the right positive")
    ]
    z_m: Annotated[Metres, Meta(title="Up", description="from the ground to the item's underside")]


class Size(Stated, frozen=True, kw_only=True):
    """Outer box of an item along, across and up the vehicle."""

    length_m: Annotated[Extent, Meta(title="Length", description="along the vehicle")]
    width_m: Annotated[Extent, Meta(title="Width", description="across the vehicle")]
    height_m: Annotated[Extent, Meta(title="Height", description="up")]
