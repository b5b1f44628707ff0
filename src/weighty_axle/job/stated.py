"""The words every statement is made of: bounded numbers with their units, places and sizes.

Every number's unit stands in its name. Bounds are wide plausibility limits (a file that breaks them is damaged or
hostile): what is divided by has a smallest size that a thing can have, so that nothing overflows; judgement about
good and bad values belongs to the rules. Along the vehicle `x_m` counts from the front of
the body to the rear, across it `y_m` counts from the centre line to the right (kerb or verge side as built, positive
right), up it `z_m` counts from the ground. A place is the centre of an item in x and y and its underside in z.
"""

from typing import Annotated, Literal, cast

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
_Room = Annotated[float, Meta(ge=0, le=5)]
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


Turn = Literal[0, 90, 180, 270]
"""How far a thing is turned, seen from above, against the clock [deg]."""


Face = Literal["none", "front", "rear", "left", "right", "above"]
"""A face of a thing that is not turned: its front towards the front of the vehicle."""


class Clear(Stated, frozen=True, kw_only=True):
    """Room a datasheet wants kept free at each face, and in front of its terminals to work at them; faces as it stands
    when it is not turned.
    """

    front_m: Annotated[_Room, Meta(title="In front", description="kept free towards the front")] = 0.0
    rear_m: Annotated[_Room, Meta(title="Behind", description="kept free towards the rear")] = 0.0
    left_m: Annotated[_Room, Meta(title="Left", description="kept free")] = 0.0
    right_m: Annotated[_Room, Meta(title="Right", description="kept free")] = 0.0
    above_m: Annotated[_Room, Meta(title="Above", description="kept free")] = 0.0
    below_m: Annotated[_Room, Meta(title="Below", description="kept free")] = 0.0
    service: Annotated[Face, Meta(title="Terminals at", description="the face that is worked at")] = "none"
    service_m: Annotated[_Room, Meta(title="Room to work", description="in front of the terminals")] = 0.4


def turned_size(size: Size, turn_deg: int) -> Size:
    """Outer box of a thing that is turned."""
    if turn_deg % 180 == 0:
        return size
    return Size(length_m=size.width_m, width_m=size.length_m, height_m=size.height_m)


_ROUND = ("front", "left", "rear", "right")
"""Faces in the order they come to stand in when a thing is turned: what was in front is then at the left."""


def turned_clear(clear: Clear, turn_deg: int) -> Clear:
    """Room kept at the faces of a thing that is turned, as they are in the vehicle."""
    by = turn_deg // 90 % 4
    if not by or clear == _NOTHING:
        return clear
    kept = {f"{_ROUND[(at + by) % 4]}_m": getattr(clear, f"{face}_m") for at, face in enumerate(_ROUND)}
    service = clear.service
    if service in _ROUND:
        service = cast(Face, _ROUND[(_ROUND.index(service) + by) % 4])
    return Clear(**kept, above_m=clear.above_m, below_m=clear.below_m, service=service, service_m=clear.service_m)


_NOTHING = Clear()
