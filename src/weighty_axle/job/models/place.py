"""What sits in the vehicle and has weight beside the system's own parts."""

from weighty_axle.job.stated import Kilograms, Name, Place, Size, Stated, Tag


class Fitting(Stated, frozen=True, kw_only=True):
    """Anything else that adds weight: a tank, a desk, a cabinet."""

    tag: Tag
    name: Name
    mass_kg: Kilograms
    place: Place
    size: Size
